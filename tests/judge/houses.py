"""Ten houses drawn for the judge, and random ones. All invented."""

from __future__ import annotations

import random
from collections.abc import Callable

from murvan.catalog import climates
from murvan.design.drawing.openings import place_opening, spot_at
from murvan.design.house.assemblies import stand_on
from murvan.model import Job, Room, Storey
from murvan.model.edit import changed
from murvan.model.house import Exhaust, Furniture, KeepClear, MechanicalPlace, Obstacle, Slope, Structure, Transfer
from tests.houses import FT, box, many_rooms

Plan = tuple[tuple[str, str, float, float, float, float], ...]
"""Name, use, and left, top, right, bottom on the plan, ft."""
TRUSSES, JOISTS = Structure(kind="trusses", runs="y", depth_m=0.4, spacing_m=0.61), Structure(runs="y", depth_m=0.24)
WEBS = Structure(kind="open_web", runs="y", depth_m=0.356, spacing_m=0.488)


def _rooms(storey: str, plan: Plan, slope: dict[str, Slope] | None = None) -> list[Room]:
    out = []
    for name, use, x0, y0, x1, y1 in plan:
        outline = tuple((x * FT, y * FT) for x, y in ((x0, y0), (x1, y0), (x1, y1), (x0, y1)))
        more = {"slope": slope[name]} if slope and name in slope else {}
        new = f"{storey}-{name.lower().replace(' ', '')}"
        out.append(Room(id=new, name=name, storey=storey, outline_m=outline, use=use, **more))  # type: ignore[arg-type]
    return out


def _house(storeys: tuple[Storey, ...], rooms: list[Room], ground: str = "slab", places: tuple = ()) -> Job:
    """Windows in every outside wall longer than five feet, a door from every room to a room beside it."""
    job = box(
        storeys=storeys, rooms=tuple(rooms), openings=(), places=places, climate=next(iter(climates().values()))
    )
    job = stand_on(job, ground)
    for room in rooms:
        o = room.outline_m
        door = False
        for (x0, y0), (x1, y1) in zip(o, o[1:] + o[:1], strict=True):
            spot = spot_at(job, room.storey, ((x0 + x1) / 2, (y0 + y1) / 2))
            if spot is None or spot.length_m < 5 * FT:
                continue
            inside = spot.beyond == "heated"
            if inside and door:
                continue
            try:
                job = place_opening(job, spot, "door" if inside else "window").job
                door |= inside
            except ValueError:
                continue
    return job


RANCH: Plan = (
    ("Living", "living", 0, 0, 20, 16),
    ("Kitchen", "kitchen", 20, 0, 34, 16),
    ("Hall", "hall", 0, 16, 52, 20),
    ("Utility", "utility", 34, 0, 42, 16),
    ("Bath", "bath", 42, 0, 52, 16),
    ("Bedroom 1", "bedroom", 0, 20, 18, 33),
    ("Bedroom 2", "bedroom", 18, 20, 35, 33),
    ("Bedroom 3", "bedroom", 35, 20, 52, 33),
)
UP: Plan = (
    ("Bedroom 1", "bedroom", 0, 0, 16, 14),
    ("Bedroom 2", "bedroom", 16, 0, 32, 14),
    ("Landing", "landing", 0, 14, 32, 18),
    ("Bedroom 3", "bedroom", 0, 18, 18, 30),
    ("Bath", "bath", 18, 18, 32, 30),
)
DOWN: Plan = (
    ("Living", "living", 0, 0, 20, 14),
    ("Kitchen", "kitchen", 20, 0, 32, 14),
    ("Hall", "hall", 0, 14, 32, 18),
    ("Dining", "dining", 0, 18, 20, 30),
    ("Utility", "utility", 20, 18, 32, 30),
)
CELLAR: Plan = (("Cellar", "other", 0, 0, 32, 18), ("Boiler", "utility", 0, 18, 32, 30))


def _shift(plan: Plan, dx: float, dy: float) -> Plan:
    return tuple((n, u, a + dx, b + dy, c + dx, d + dy) for n, u, a, b, c, d in plan)


def ranch() -> Job:
    """Trusses over a slab."""
    g = Storey(id="g", name="Ground", height_m=8 * FT, duct_place="attic", ceiling_structure=TRUSSES)
    return _house((g,), _rooms("g", RANCH))


def two_storeys() -> Job:
    """Over a basement with a slab."""
    b = Storey(
        id="b", name="Basement", height_m=7.5 * FT, floor_m=-8.5 * FT, duct_place="basement", ceiling_structure=JOISTS
    )
    g = Storey(id="g", name="Ground", height_m=8 * FT, floor_m=0.3, ceiling_structure=JOISTS)
    u = Storey(id="u", name="Upper", height_m=8 * FT, duct_place="attic")
    return _house((b, g, u), [*_rooms("b", CELLAR), *_rooms("g", DOWN), *_rooms("u", UP)])


def crawl() -> Job:
    g = Storey(id="g", name="Ground", height_m=8 * FT, floor_m=0.6, duct_place="crawl", floor_structure=JOISTS)
    return _house((g,), _rooms("g", RANCH), "crawl")


def two_wings() -> Job:
    """An L on a slab."""
    g = Storey(id="g", name="Ground", height_m=9 * FT, duct_place="attic", ceiling_structure=JOISTS)
    wing: Plan = (
        ("Studio", "living", 52, 16, 72, 33),
        ("Guest", "bedroom", 52, 33, 72, 50),
        ("Guest bath", "bath", 35, 33, 52, 45),
    )
    return _house((g,), _rooms("g", (*RANCH, *wing)))


def row_house() -> Job:
    """Three storeys and a flat roof: no attic, webs between."""
    storeys = tuple(
        Storey(id=i, name=n, height_m=8.5 * FT, ceiling_structure=WEBS, ceiling_space_m=0.3)
        for i, n in (("g", "Ground"), ("m", "Middle"), ("t", "Top"))
    )
    deep: Plan = (
        ("Front", "living", 0, 0, 16, 16),
        ("Stair", "hall", 0, 16, 16, 22),
        ("Back", "kitchen", 0, 22, 10, 36),
        ("Store", "utility", 10, 22, 16, 36),
    )
    beds: Plan = (
        ("Bed front", "bedroom", 0, 0, 16, 16),
        ("Stair", "landing", 0, 16, 16, 22),
        ("Bed back", "bedroom", 0, 22, 16, 36),
    )
    return _house(storeys, [*_rooms("g", deep), *_rooms("m", beds), *_rooms("t", beds)])


def half_storey() -> Job:
    """Knee walls under the roof."""
    g = Storey(id="g", name="Ground", height_m=8 * FT, ceiling_structure=JOISTS)
    h = Storey(id="h", name="Half", height_m=7.5 * FT, duct_place="attic")
    slope = Slope(rises="y", low_m=1.2, high_m=2.2, pitch=1.0, knee=True)
    up: Plan = (
        ("Loft", "bedroom", 0, 4, 16, 26),
        ("Landing", "landing", 16, 4, 22, 26),
        ("Nook", "bedroom", 22, 4, 32, 26),
    )
    return _house((g, h), [*_rooms("g", DOWN), *_rooms("h", up, dict.fromkeys(("Loft", "Landing", "Nook"), slope))])


def split_level() -> Job:
    """A wing three feet below the other."""
    low = Storey(id="l", name="Low wing", height_m=8 * FT, floor_m=-3 * FT, duct_place="attic")
    high = Storey(
        id="h", name="High wing", height_m=8 * FT, floor_m=0.3, duct_place="attic", ceiling_structure=JOISTS
    )
    return _house((low, high), [*_rooms("l", UP), *_rooms("h", _shift(DOWN, 32, 0))])


def vaulted() -> Job:
    """A living room under a vault beside rooms with an attic."""
    g = Storey(id="g", name="Ground", height_m=8 * FT, duct_place="attic", ceiling_structure=JOISTS)
    vault = {"Living": Slope(rises="y", low_m=2.44, high_m=3.9, pitch=0.6)}
    return _house((g,), _rooms("g", RANCH, vault))


def low_attic() -> Job:
    g = Storey(id="g", name="Ground", height_m=8 * FT, duct_place="attic", ceiling_structure=JOISTS)
    outline = tuple((x * FT, y * FT) for x, y in ((0, 0), (52, 0), (52, 33), (0, 33)))
    attic = MechanicalPlace(
        id="attic",
        name="Attic",
        storey="g",
        outline_m=outline,
        kind="attic",
        clear_m=1.3,
        slope=Slope(rises="y", low_m=0.2, high_m=1.3, pitch=0.25),
    )
    return _house((g,), _rooms("g", RANCH), places=(attic,))


def forty() -> Job:
    return changed(many_rooms(8, 5), "Forty rooms", name="Forty rooms")


DRAWN: dict[str, Callable[[], Job]] = {
    f.__name__: f
    for f in (ranch, two_storeys, crawl, two_wings, row_house, half_storey, split_level, vaulted, low_attic, forty)
}


def at_random(seed: int) -> Job:
    """One of the drawn ones stretched, and surveyed at random, every field that laying reads."""
    chance = random.Random(seed)
    name = chance.choice([n for n in DRAWN if n != "forty"])
    job = DRAWN[name]()
    kx, ky = chance.uniform(0.75, 1.3), chance.uniform(0.75, 1.3)
    rooms = tuple(changed(r, r.name, outline_m=tuple((x * kx, y * ky) for x, y in r.outline_m)) for r in job.rooms)
    places = tuple(changed(p, p.name, outline_m=tuple((x * kx, y * ky) for x, y in p.outline_m)) for p in job.places)
    storeys = tuple(_surveyed_storey(s, chance) for s in job.storeys)
    scaled = {r.id: (kx, ky) for r in rooms}
    openings = tuple(
        changed(o, o.tag, offset_m=o.offset_m * (scaled[o.room][o.wall % 2]), width_m=min(o.width_m, 0.75))
        for o in job.openings
    )
    job = changed(
        job, job.name, name=f"random {seed} {name}", rooms=rooms, places=places, storeys=storeys, openings=openings
    )
    return _surveyed(job, chance)


STRUCTURES = (None, TRUSSES, JOISTS, WEBS, Structure(kind="i_joists", runs="x", depth_m=0.3), Structure(runs="x"))


def _surveyed_storey(s: Storey, chance: random.Random) -> Storey:
    more = {"ceiling_structure": chance.choice(STRUCTURES), "height_m": chance.uniform(2.3, 2.9)}
    if chance.random() < 0.3:
        more["ceiling_space_m"] = chance.uniform(0.2, 0.5)
    if s.floor_structure is not None:
        more["floor_structure"] = chance.choice(STRUCTURES[1:])
    return changed(s, s.name, **more)


def _surveyed(job: Job, chance: random.Random) -> Job:
    """Rooms of another height, places for equipment and ducts, floor that is kept clear, beds and sofas, appliances, fans."""
    rooms = tuple(_surveyed_room(r, chance) for r in job.rooms)
    places, clear, furniture = list(job.places), [], []
    for r in rooms:
        (x0, y0), (x1, y1) = (f(zip(*r.outline_m, strict=True)) for f in (_least, _most))
        at = (chance.uniform(x0 + 0.4, x1 - 0.4), chance.uniform(y0 + 0.4, y1 - 0.4))
        what = chance.random()
        if r.use in ("utility", "hall", "other") and what < 0.3:
            wide, deep = min(x1 - x0, chance.uniform(0.9, 1.6)), min(y1 - y0, chance.uniform(0.9, 1.6))
            kind = chance.choice(("closet", "room"))
            spot = box_at(x0, y0, x0 + wide, y0 + deep)
            places.append(MechanicalPlace(id=f"c-{r.id}", name="Closet", storey=r.storey, outline_m=spot, kind=kind))
        elif r.use in ("hall", "landing") and what < 0.6:
            spot = box_at(x0, y0, x1, min(y0 + 0.6, y1))
            deep = chance.uniform(0.25, 0.45)
            places.append(
                MechanicalPlace(
                    id=f"s-{r.id}", name="Soffit", storey=r.storey, outline_m=spot, kind="soffit", clear_m=deep
                )
            )
        if chance.random() < 0.15:
            reason = chance.choice(("panel", "hatch", "flue", "other"))
            spot = box_at(at[0] - 0.3, at[1] - 0.3, at[0] + 0.3, at[1] + 0.3)
            clear.append(KeepClear(id=f"k-{r.id}", name=reason, storey=r.storey, outline_m=spot, reason=reason))
        if r.use in ("bedroom", "living", "study"):
            kind = {"bedroom": "bed", "living": "sofa", "study": "desk"}[r.use]
            furniture.append(
                Furniture(id=f"f-{r.id}", kind=kind, room=r.id, position_m=at, turn_deg=90.0 * chance.randrange(4))
            )
    return changed(
        job,
        job.name,
        rooms=rooms,
        places=tuple(places),
        keep_clear=tuple(clear),
        obstacles=_beams(job, random.Random(chance.random())),
        furniture=tuple(furniture),
        climate=chance.choice(list(climates().values())),
        bedrooms=sum(r.use == "bedroom" for r in rooms),
    )


def _beams(job: Job, chance: random.Random) -> tuple[Obstacle, ...]:
    """A girder across the lowest storey with its posts, a soil stack through it, a drain along it; each in some houses."""
    s = job.storeys[0]
    corners = [q for r in job.rooms if r.storey == s.id for q in r.outline_m]
    (x0, y0), (x1, y1) = _least(zip(*corners, strict=True)), _most(zip(*corners, strict=True))
    hangs = job.foundation == "crawl" and s.floor_structure is not None
    top = -s.floor_structure.depth_m if hangs and s.floor_structure is not None else s.height_m
    found = []

    def put(kind: str, low: float, high: float, spot: tuple[tuple[float, float], ...]) -> None:
        n = f"o{len(found)}"
        found.append(
            Obstacle(id=n, name=f"{kind} {n}", storey=s.id, outline_m=spot, kind=kind, low_m=low, high_m=high)
        )

    at, deep = chance.uniform(y0 + 1.5, y1 - 1.5), chance.uniform(0.15, 0.3)
    if chance.random() < 0.35:
        put("beam", top - deep, deep, box_at(x0, at - 0.07, x1, at + 0.07))
        for k in (1, 2):
            x = x0 + (x1 - x0) * k / 3
            low = top - deep - 1.0 if hangs else 0.0
            put("post", low, top - deep - low, box_at(x - 0.05, at - 0.05, x + 0.05, at + 0.05))
    if chance.random() < 0.2:
        x = chance.uniform(x0 + 1, x1 - 1)
        put("drain", top - 0.2, 0.11, box_at(x, y0 + 1, x + 0.11, chance.uniform(y0 + 2, y1 - 1)))
    if chance.random() < 0.3:
        x, y = chance.uniform(x0 + 0.5, x1 - 0.5), chance.uniform(y0 + 0.5, y1 - 0.5)
        put("stack", 0.0, s.height_m, box_at(x, y, x + 0.1, y + 0.1))
    return tuple(found)


def _least(values):  # type: ignore[no-untyped-def]
    return tuple(min(v) for v in values)


def _most(values):  # type: ignore[no-untyped-def]
    return tuple(max(v) for v in values)


def box_at(x0: float, y0: float, x1: float, y1: float) -> tuple[tuple[float, float], ...]:
    """A rectangle as an outline."""
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def _surveyed_room(r: Room, chance: random.Random) -> Room:
    more: dict[str, object] = {"people": float(chance.randrange(3))}
    if r.slope is None and chance.random() < 0.1:
        more["height_m"] = chance.uniform(2.2, 2.5)
    if r.use in ("bath", "kitchen"):
        more["exhaust"] = Exhaust(flow_m3_s=chance.uniform(0.02, 0.05))
    if chance.random() < 0.2:
        more["transfer"] = Transfer(kind="undercut", undercut_m=chance.uniform(0.0, 0.03))
    return changed(r, r.name, **more)
