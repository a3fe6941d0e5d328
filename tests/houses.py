"""Small houses for the tests."""

from __future__ import annotations

from functools import lru_cache

from murvan.catalog import assemblies, climates
from murvan.demo import demo_job
from murvan.design import Results, solve
from murvan.design.drawing.openings import place_opening, spot_at
from murvan.design.drawing.rooms import draw_room
from murvan.design.house.passages import ways
from murvan.model import Climate, Job, Opening, Room, Site, Storey, Ventilator, make, replace, with_design
from murvan.model.design_edit import with_line
from murvan.model.edit import changed
from murvan.model.job import DuctRun, Joint
from murvan.model.routes import joined

CFM = 0.3048**3 / 60
FT, INCH, BTU_H = 0.3048, 0.0254, 0.29307107017


def box(width: float = 6.0, depth: float = 4.0, **more: object) -> Job:
    """One room on a slab under an attic, one south window."""
    constructions, glazings = assemblies()
    room = Room(id="a", name="Room A", storey="g", outline_m=((0, 0), (width, 0), (width, depth), (0, depth)))
    window = Opening(
        id="w",
        tag="G1",
        kind="window",
        room="a",
        wall=2,
        offset_m=1.0,
        width_m=2.0,
        height_m=1.5,
        sill_m=0.9,
        glazing="glass-034",
    )
    fields: dict[str, object] = {
        "name": "Box",
        "site": Site(latitude_deg=40),
        "climate": Climate(bin_hours=(100.0,) * 30),
        "storeys": (Storey(id="g", name="Ground", height_m=2.5),),
        "rooms": (room,),
        "openings": (window,),
        "constructions": tuple(constructions.values()),
        "glazings": tuple(glazings.values()),
        "wall_construction": "wall-2x4-r13",
        "partition_construction": "partition-2x4",
        "ceiling_construction": "ceiling-r31",
        "floor_construction": "slab-r5",
        "door_construction": "door-wood",
    }
    return Job.model_validate({**fields, **more})


def two_rooms() -> Job:
    """Two rooms side by side sharing a wall at x = 4."""
    job = box()
    a = Room(id="a", name="West", storey="g", outline_m=((0, 0), (4, 0), (4, 4), (0, 4)))
    b = Room(id="b", name="East", storey="g", outline_m=((4, 0), (9, 0), (9, 4), (4, 4)))
    return Job.model_validate({**{k: getattr(job, k) for k in Job.model_fields}, "rooms": (a, b), "openings": ()})


def many_rooms(across: int, down: int) -> Job:
    """A storey of boxes with windows along two sides."""
    job = box(rooms=(), openings=(), climate=next(iter(climates().values())))
    for r in range(down):
        for c in range(across):
            x, y = c * 3.5, r * 4.0
            job = draw_room(job, "g", ((x, y), (x + 3.5, y), (x + 3.5, y + 4), (x, y + 4))).job
    for c in range(across):
        for y in (0.0, down * 4.0):
            spot = spot_at(job, "g", (c * 3.5 + 1.7, y))
            assert spot is not None
            job = place_opening(job, spot, "window").job
    return job


@lru_cache(maxsize=1)
def demo() -> Job:
    return demo_job()


@lru_cache(maxsize=1)
def demo_results() -> Results:
    return solve(demo())


FILTER = {"filter_width_m": "width_m", "filter_height_m": "height_m", "filter_pa": "clean_pa", "filter_load": "load"}


def set_unit(job, **fields):
    """The job with fields of its first indoor unit, its filter, its system's candidates or its line changed."""
    indoor = job.design.indoor_units[0]
    if "candidates" in fields:
        job = replace(job, "systems", indoor.system, candidates=fields.pop("candidates"))
    line = {k[5:]: fields.pop(k) for k in ("line_length_m", "line_lift_m") if k in fields}
    if line:
        job = with_line(job, indoor.id, **line)
    sieve = {FILTER[k]: fields.pop(k) for k in tuple(fields) if k in FILTER}
    if sieve:
        fields["filter"] = changed(indoor.filter, "Filter", **sieve)
    return replace(job, "indoor_units", indoor.id, **fields) if fields else job


def fan(job, **fields):
    """The job with one ventilator of these fields, or without any."""
    made = (make(Ventilator, "Ventilator", id="ventilator1", **fields),) if fields else ()
    return with_design(job, ventilators=made)


def doors_of(job: Job) -> dict[str, Opening]:
    """By room, the door that shuts it off from the hall; none where it is open to it."""
    return {i: x.door for i, x in ways(job).home.items() if x.door is not None}


def lay(storeys, *drafts):
    """Joints and runs of runs that name a parent and a path, as fields of a design."""
    joints, runs = joined([dict(d) for d in drafts], [s.model_dump() for s in storeys], None)
    return {
        "joints": tuple(Joint.model_validate(x) for x in joints),
        "runs": tuple(DuctRun.model_validate(x) for x in runs),
    }


def u_house() -> Job:
    """21 rooms of one storey round a court, some of them a pace wide; feet."""
    rooms: list[Room] = []

    def add(name: str, x0: float, y0: float, x1: float, y1: float, use: str) -> None:
        at = tuple((x * FT, y * FT) for x, y in ((x0, y0), (x1, y0), (x1, y1), (x0, y1)))
        rooms.append(Room(id=f"r{len(rooms)}", name=name, storey="g", use=use, outline_m=at))

    west = (("Primary bedroom", 14, "bedroom"), ("Primary bathroom", 9, "bath"), ("Walk-in closet", 6, "other"))
    west += (("Linen closet", 4, "other"), ("Hall west", 10, "hall"), ("Study", 12, "study"), ("Sewing", 11, "other"))
    east = (("Bedroom 2", 12, "bedroom"), ("Bedroom 3", 12, "bedroom"), ("Shared bathroom", 8, "bath"))
    east += (("Cloakroom", 5, "other"), ("Laundry", 9, "utility"), ("Pantry", 6, "other"), ("Larder", 14, "other"))
    south = (
        ("Entrance hall", 6, "hall"),
        ("Living", 12, "living"),
        ("Dining", 8, "dining"),
        ("Kitchen", 6, "kitchen"),
    )
    south += (("Breakfast", 4, "living"), ("Powder room", 3, "powder"), ("Mud room", 3, "other"))
    for left, wing in ((0.0, west), (56.0, east)):
        y = 0.0
        for name, deep, use in wing:
            add(name, left, y, left + 14, y + deep, use)
            y += deep
    x = 14.0
    for name, wide, use in south:
        add(name, x, 46, x + wide, 66, use)
        x += wide
    return changed(box(), "U house", name="U house", rooms=tuple(rooms), openings=())
