"""Rooms, a storey or the whole house moved, turned, mirrored; a storey copied up."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from murvan.design.drawing.rooms import next_room
from murvan.design.space.plenum_faces import air_way, side_of, side_size
from murvan.model.design import Design, IndoorUnit, Joint, Plenum
from murvan.model.edit import changed, free_id, in_designs, make
from murvan.model.errors import JobValueError
from murvan.model.job import Furniture, Job, Opening, Point, Room, Slope, Storey, Structure

Move = Callable[[Point], Point]
QUARTER = ("north", "east", "south", "west")


OTHER_HAND = {"left": "right", "right": "left"}


@dataclass(frozen=True)
class Turn:
    """A motion of the plan: where points go, and what it does to directions."""

    move: Move
    quarters: int = 0
    """Quarter turns clockwise."""
    mirror: int | None = None
    """0: left and right change places, 1: top and bottom."""

    def slope(self, s: Slope | None) -> Slope | None:
        """A sloped ceiling after the turn."""
        if s is None:
            return None
        rises, side = s.rises, s.low_side
        other: dict[Any, Any] = {"start": "end", "end": "start", "both": "both"}
        for _ in range(self.quarters % 4):
            # clockwise on the plan: x becomes y, y becomes minus x
            rises, side = ("y", side) if rises == "x" else ("x", other[side])
        if self.mirror is not None and rises == "xy"[self.mirror]:
            side = other[side]
        return changed(s, "", rises=rises, low_side=side)

    def structure(self, s: Structure | None) -> Structure | None:
        """Joists after the turn."""
        if s is None or self.quarters % 2 == 0:
            return s
        return changed(s, "", runs="y" if s.runs == "x" else "x")

    def angle(self, degrees: float) -> float:
        """A thing's own turn after it, degrees clockwise in -180..180."""
        turned_ = degrees + 90.0 * self.quarters
        if self.mirror is not None:
            turned_ = -turned_ if self.mirror == 0 else 180.0 - turned_
        return (turned_ + 180.0) % 360.0 - 180.0

    def face(self, face: str | None) -> str | None:
        """The plenum face that a face becomes."""
        if face not in QUARTER:
            return face
        k = (QUARTER.index(face) + self.quarters) % 4
        if self.mirror is not None and k % 2 == 1 - self.mirror:
            k = (k + 2) % 4
        return QUARTER[k]

    def moved(self, record: Any) -> Any:
        """A record with every place and direction in it moved along."""
        changes: dict[str, Any] = {}
        for field in ("outline_m", "corners_m"):
            if hasattr(record, field):
                changes[field] = tuple(self.move(p) for p in getattr(record, field))
        if getattr(record, "position_m", None) is not None:
            changes["position_m"] = self.move(record.position_m)
        if getattr(record, "slope", None) is not None:
            changes["slope"] = self.slope(record.slope)
        if hasattr(record, "face") and record.face in QUARTER:
            changes["face"] = self.face(record.face)
        if isinstance(record, Furniture):
            changes["turn_deg"] = self.angle(record.turn_deg)
        if isinstance(record, IndoorUnit):
            changes["turn_deg"] = round(self.angle(record.turn_deg)) % 360
            if self.mirror is not None:
                changes["way"] = OTHER_HAND.get(record.way, record.way)
        return changed(record, "", **changes) if changes else record


def shift(dx: float, dy: float) -> Turn:
    """Moves by metres to the plan's east and south."""
    return Turn(lambda p: (round(p[0] + dx, 5), round(p[1] + dy, 5)))


def turn(about: Point, quarters: int) -> Turn:
    """Clockwise on the plan about a point."""
    c, s = ((1, 0), (0, 1), (-1, 0), (0, -1))[quarters % 4]

    def move(p: Point) -> Point:
        x, y = p[0] - about[0], p[1] - about[1]
        return (round(about[0] + x * c - y * s, 5), round(about[1] + x * s + y * c, 5))

    return Turn(move, quarters % 4)


def mirror(about: Point, axis: int) -> Turn:
    """Left and right change places (axis 0), or top and bottom (axis 1)."""

    def move(p: Point) -> Point:
        return (round(2 * about[0] - p[0], 5), p[1]) if axis == 0 else (p[0], round(2 * about[1] - p[1], 5))

    return Turn(move, mirror=axis)


def centre(job: Job, rooms: set[str] | None = None) -> Point:
    """Middle of the box round some rooms, or round everything."""
    points = [p for r in job.rooms if rooms is None or r.id in rooms for p in r.outline_m]
    if rooms is None:
        points += [p for s in job.spaces for p in s.outline_m]
    if not points:
        raise JobValueError("There is nothing on the plan to turn.")
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)


IN_ROOMS = ("openings", "furniture", "existing")
"""What belongs to a room and has a place of its own on the plan."""


def move_rooms(job: Job, rooms: set[str], how: Turn) -> Job:
    """Some rooms at another place, with what stands in them; ends of runs at their registers follow.

    Raises:
        JobValueError: there is no such room, or a corner would leave the sheet.
    """
    known = {r.id for r in job.rooms}
    if not rooms or not rooms <= known:
        raise JobValueError("Pick a room first.")
    in_rooms = {name: tuple(how.moved(x) if x.room in rooms else x for x in getattr(job, name)) for name in IN_ROOMS}
    return changed(
        job,
        job.name,
        rooms=tuple(how.moved(r) if r.id in rooms else r for r in job.rooms),
        **in_designs(job, lambda d: _registers_moved(d, rooms, how)),
        **in_rooms,
    )


def _registers_moved(design: Design, rooms: set[str], how: Turn) -> Design:
    """Registers go with their rooms, and the joints at them follow."""
    registers = tuple(how.moved(x) if x.room in rooms else x for x in design.registers)
    new = {x.id: x.position_m for x in registers}
    old = {x.id: x.position_m for x in design.registers}

    at = {run.end: run.register_id for run in design.runs if run.register_id is not None}

    def followed(joint: Joint) -> Joint:
        x = at.get(joint.id)
        if x is None or new[x] == old[x] or not _near(joint.position_m, old[x]):
            return joint
        return changed(joint, "Joint", position_m=new[x])

    return changed(design, design.name, registers=registers, joints=tuple(followed(j) for j in design.joints))


def _near(a: Point, b: Point) -> bool:
    return abs(a[0] - b[0]) < 0.05 and abs(a[1] - b[1]) < 0.05


ON_PLAN = ("rooms", "spaces", "openings", "patches", "places", "keep_clear", "obstacles", "furniture", "existing")


def move_house(job: Job, how: Turn) -> Job:
    """Everything on the plan at another place: rooms, ducts, units, what stands in the house."""
    changes: dict[str, Any] = {name: tuple(how.moved(x) for x in getattr(job, name)) for name in ON_PLAN}
    storeys = tuple(
        changed(
            s,
            s.name,
            floor_structure=how.structure(s.floor_structure),
            ceiling_structure=how.structure(s.ceiling_structure),
        )
        for s in job.storeys
    )
    return changed(job, job.name, storeys=storeys, **in_designs(job, lambda d: _design_moved(d, how)), **changes)


def _design_moved(design: Design, how: Turn) -> Design:
    """What is designed, along with the house; a unit that has not been placed yet stays out of it."""
    changes: dict[str, Any] = {name: tuple(how.moved(x) for x in getattr(design, name)) for name in DESIGNED}
    units = tuple(how.moved(x) if x.storey else x for x in design.indoor_units)
    changes["plenums"] = tuple(_box_turned(design, x, how) for x in changes["plenums"])
    if how.mirror is not None:
        changes["joints"] = tuple(_hole_mirrored(design, x) for x in changes["joints"])
    return changed(design, design.name, indoor_units=units, **changes)


DESIGNED = ("outdoor_units", "ventilators", "zones", "plenums", "joints", "runs", "registers")


def _box_turned(design: Design, box: Plenum, how: Turn) -> Plenum:
    """A plenum that stands shows its depth where it showed its width after a quarter turn; one that lies goes with its unit."""
    unit = next(u for u in design.indoor_units if u.id == box.indoor)
    if how.quarters % 2 == 0 or air_way(unit, box.side)[2] == 0:
        return box
    other = {"width_m": "depth_m", "depth_m": "width_m"}
    held = tuple(other.get(k, k) for k in box.held)
    return changed(box, "Plenum", width_m=box.depth_m, depth_m=box.width_m, held=held)


def _hole_mirrored(design: Design, joint: Joint) -> Joint:
    """A take-off that is held on its face, as far from the other edge."""
    run = next((r for r in design.runs if r.start == joint.id), None)
    before = next(j for j in design.joints if j.id == joint.id)
    if joint.face_along_m is None or before.face is None or run is None:
        return joint
    box = next((p for p in design.plenums if p.indoor == run.indoor and p.side == run.side), None)
    unit = next(u for u in design.indoor_units if u.id == run.indoor)
    side = side_of(before.face, air_way(unit, run.side)) if box is not None else None
    if box is None or side is None:
        return joint
    return changed(joint, "Joint", face_along_m=max(side_size(box, side)[0] - joint.face_along_m, 0.0))


def rotate_house(job: Job, quarters: int = 1) -> Job:
    """The whole plan turned clockwise by quarter turns. North turns along: no wall looks elsewhere after it."""
    after = move_house(job, turn(centre(job), quarters))
    north = (job.site.north_deg + 90.0 * (quarters % 4) + 180) % 360 - 180
    return changed(after, job.name, site=changed(job.site, north_deg=north))


def mirror_house(job: Job, axis: int = 0) -> Job:
    """The whole plan mirrored: what was left is right (axis 0). North stays where it is."""
    return move_house(job, mirror(centre(job), axis))


def rotate_rooms(job: Job, rooms: set[str], quarters: int = 1) -> Job:
    """Some rooms turned about their middle by quarter turns clockwise. Raises JobValueError."""
    return move_rooms(job, rooms, turn(centre(job, rooms), quarters))


def mirror_rooms(job: Job, rooms: set[str], axis: int = 0) -> Job:
    """Some rooms mirrored about their middle. Raises JobValueError."""
    return move_rooms(job, rooms, mirror(centre(job, rooms), axis))


UPPER_NAMES = ("Ground", "Upper", "Top")


def copy_storey_up(job: Job, storey: str) -> tuple[Job, str]:
    """A new storey above with the same rooms, windows and inside doors; doors to the outside stay below.

    Returns the job and the new storey's id.

    Raises:
        JobValueError: the storey has no rooms.
    """
    below = next((s for s in job.storeys if s.id == storey), None)
    rooms = [r for r in job.rooms if r.storey == storey]
    if below is None or not rooms:
        raise JobValueError("There are no rooms on this storey to copy.")
    at = job.storeys.index(below)
    names = {s.name for s in job.storeys}
    name = next((n for n in UPPER_NAMES[1:] if n not in names), f"{below.name} copy")
    above = changed(below, id=free_id("storey", {s.id for s in job.storeys}), name=name)
    storeys = (*job.storeys[: at + 1], above, *job.storeys[at + 1 :])
    after = changed(job, job.name, storeys=storeys)
    renamed: dict[str, str] = {}
    for r in rooms:
        room_id, _ = next_room(after)
        renamed[r.id] = room_id
        copy = make(
            Room,
            r.name,
            id=room_id,
            name=_copied_name(after, r.name),
            storey=above.id,
            outline_m=r.outline_m,
            use="other" if r.use in ("kitchen",) else r.use,
        )
        after = changed(after, job.name, rooms=(*after.rooms, copy))
    openings = list(after.openings)
    for o in job.openings:
        if o.room in renamed and (o.kind == "window" or o.inside or o.kind == "archway"):
            openings.append(
                changed(
                    o,
                    id=free_id("op", {x.id for x in openings}),
                    tag=next_tag(openings, o.kind),
                    room=renamed[o.room],
                )
            )
    return changed(after, job.name, openings=tuple(openings)), above.id


def add_storey(job: Job, name: str = "", below: bool = False) -> tuple[Job, str]:
    """An empty storey at the top, or at the bottom (a basement)."""
    names = {s.name for s in job.storeys}
    wanted = name or ("Basement" if below else next((n for n in UPPER_NAMES if n not in names), "Storey"))
    k, unique = 2, wanted
    while unique in names:
        unique, k = f"{wanted} {k}", k + 1
    new = Storey(id=free_id("storey", {s.id for s in job.storeys}), name=unique, height_m=2.4384)
    storeys = (new, *job.storeys) if below else (*job.storeys, new)
    return changed(job, job.name, storeys=storeys), new.id


def _copied_name(job: Job, name: str) -> str:
    names = {r.name for r in job.rooms}
    if f"{name}, up" not in names:
        return f"{name}, up"
    k = 2
    while f"{name}, up {k}" in names:
        k += 1
    return f"{name}, up {k}"


def next_tag(openings: list[Opening], kind: str) -> str:
    """The next free tag of the kind: G for glass, D for doors, W for archways, S for skylights."""
    letter = {"window": "G", "door": "D", "archway": "W", "skylight": "S"}[kind]
    tags = {o.tag for o in openings}
    k = 1
    while f"{letter}{k}" in tags:
        k += 1
    return f"{letter}{k}"
