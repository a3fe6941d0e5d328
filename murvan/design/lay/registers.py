"""Registers of a ducted unit: how many, which size and kind, and where; placed all at once, or one by hand."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, dist, isfinite
from typing import Literal, NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString
from shapely.geometry import Point as At

from murvan.catalog.registers import face_of
from murvan.design.drawing.rooms import Drawn
from murvan.design.drawing.things import room_at
from murvan.design.house.geometry import opening_line, shape_of
from murvan.design.house.levels import roof_shape
from murvan.design.house.passages import ways as passages
from murvan.design.lay.pieces import bay_middle, named
from murvan.design.results import Results
from murvan.design.space.duct_levels import levels
from murvan.design.space.duct_places import UNDER, run_below
from murvan.design.space.duct_spaces import under_vault
from murvan.design.space.solids import blocks
from murvan.design.units.siting import Surroundings, along_walls, surroundings
from murvan.kinds.registers import LAID, REGISTERS
from murvan.model.design import Register
from murvan.model.edit import changed, free_id, insert, make, replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.house import Structure
from murvan.model.job import Job, Point, Room, Storey
from murvan.model.unit_edit import served_rooms
from murvan.units import CFM, FPM, INCH

MOST_M3_S = 130 * CFM
"""Air that one register brings; more is shared out. Common practice."""
FACE_M_S = {"quiet": 350 * FPM, "balanced": 500 * FPM, "compact": 600 * FPM}
"""Face speed that a register is sized for, by practice; common practice."""
STEP_M = 0.2
CLEAR_M = 0.12
"""Of a face's middle from the room's edge."""
LEAST_W = 60.0
"""Rooms that need less are served by those beside them; common practice."""
NEAR_PEOPLE_M = 1.2
APART_M = 1.2
NO_RETURN = ("bath", "powder", "kitchen", "utility")
"""Rooms whose air must not go back to the others."""


class Spots(NamedTuple):
    """Places along the walls of a room."""

    at: NDArray[np.float64]
    outside: NDArray[np.bool_]
    glass: NDArray[np.bool_]
    """Before a window."""
    door: NDArray[np.bool_]
    people: NDArray[np.bool_]


def lay_registers(r: Results, unit_id: str, interior: bool | None = None) -> Job:
    """The job with registers in every room that a ducted unit serves and that has none of it, and with a return grille a
    storey where it has none.

    Perimeter school: under or before the glass, which meets the heat and cold where they come in. Compact practice takes
    the interior school: short runs to the wall nearest the unit, for tight houses.

    Args:
        interior: Which school; None: by practice.

    Raises:
        JobValueError: the unit is not ducted, or serves no room with air to bring.
    """
    job = r.job
    unit = next((x for x in job.design.indoor_units if x.id == unit_id), None)
    if unit is None or unit.kind != "ducted":
        raise JobValueError("Registers belong to a ducted unit; take one in hand.")
    air = dict(zip((x.id for x in job.rooms), r.systems[unit_id].airflow.design_m3_s, strict=True))
    site = surroundings(job)
    there = {x.room for x in job.design.registers if x.indoor == unit_id and x.side == "supply"}
    rooms = [x for x in job.rooms if x.id in served_rooms(job, unit)]
    needy = [x for x in rooms if x.id not in there and _wanted(r, x.id) > LEAST_W]
    if not needy and not there:
        raise JobValueError(f"{unit.tag} serves no room that needs air.")
    whole = sum(_wanted(r, x.id) for x in rooms) or 1.0
    total = r.systems[unit_id].airflow.total_m3_s
    for room in needy:
        flow = float(air[room.id]) or total * _wanted(r, room.id) / whole
        inner = job.design.air.velocity_profile == "compact" if interior is None else interior
        job = _supplies(job, site, room, unit_id, flow, inner)
    return _grilles(job, site, rooms, unit_id, total)


def _wanted(r: Results, room: str) -> float:
    """What decides a room's share of the air, W."""
    k = [x.id for x in r.job.rooms].index(room)
    return float(max(r.loads.sensible_w[k], r.loads.heating_w[k]))


def _supplies(job: Job, site: Surroundings, room: Room, unit: str, flow: float, interior: bool) -> Job:
    n = max(ceil(flow / MOST_M3_S), 1)
    kind = kind_here(job, room)
    if REGISTERS[kind].fed == "above" and not _flat_ceiling(job, room):
        kind = LAID["wall"]
    for at in _places(job, site, room, kind, n, unit, interior):
        job = _added(job, room, at, "supply", kind, unit, flow / n)
    return job


def kind_here(job: Job, room: Room) -> str:
    """In the floor over a basement, a crawl space or its own storey's joists; else in the ceiling where ducts run above, or
    high in the wall."""
    storey = next(s for s in job.storeys if s.id == room.storey)
    if storey.duct_place in UNDER and room.floor == storey.duct_place:
        return LAID["below"]
    if room.floor == "auto" and run_below(job, storey):
        return LAID["below"]
    return LAID["above" if storey.duct_place == "attic" or storey.ceiling_space_m > 0 else "wall"]


def _places(job: Job, site: Surroundings, room: Room, kind: str, n: int, unit: str, interior: bool) -> list[Point]:
    """Where the supply registers of a room go, as far from each other as from what is in the way."""
    spots = _spots(job, site, room, kind)
    if spots is None:
        c = shape_of(room.outline_m).representative_point()
        return [(round(c.x, 3), round(c.y, 3))]
    own = next(x for x in job.design.indoor_units if x.id == unit)
    way = np.hypot(*(spots.at - np.array(own.position_m)).T)
    middle = np.array(shape_of(room.outline_m).centroid.coords[0])
    off = np.hypot(*(spots.at - middle).T)
    cost = 100.0 * spots.people + 60.0 * spots.door
    if REGISTERS[kind].fed == "above":
        over = _over_m(job, room)
        cost = cost + NO_WAY * np.array([under_vault(room, tuple(q), over) for q in spots.at.tolist()])
    elif room.slope is not None and not _flat_ceiling(job, room):
        cost = cost + NO_WAY * spots.outside  # through the wall of a room with an attic
    if interior or REGISTERS[kind].inner_wall:
        cost = cost + 20.0 * spots.outside + way
    else:
        cost = cost + 40.0 * ~spots.outside + 12.0 * ~spots.glass + 0.2 * off
    if own.storey == room.storey:
        cost = cost + IN_UNIT * shapely.intersects_xy(_stands_here(job, unit), spots.at[:, 0], spots.at[:, 1])
    out: list[Point] = []
    for _ in range(n):
        k = int(np.argmin(cost))
        at = (float(spots.at[k][0]), float(spots.at[k][1]))
        out.append(_snapped(job, room, at, kind))
        near = np.hypot(*(spots.at - np.array(at)).T)
        cost = cost + np.where(near < APART_M, 200.0, 0.0) + 8.0 * np.clip(3.0 - near, 0.0, None)
    return out


def _stands_here(job: Job, unit: str) -> shapely.Geometry:
    """Where a unit and its plenums stand on the plan, with what a duct needs beside them."""
    boxes = [shapely.box(*b.low[:2], *b.high[:2]) for b in blocks(job) if b.owner == unit]
    return shapely.union_all(boxes).buffer(BESIDE_M)


IN_UNIT = 150.0
"""What a place costs to which a duct would have to go past its own plenums."""
NO_WAY = 1000.0
"""What a place costs that no duct leads to."""


def _over_m(job: Job, room: Room) -> float:
    """How high over its floor ducts lie over a room."""
    return levels(job, next(s for s in job.storeys if s.id == room.storey)).over


def _flat_ceiling(job: Job, room: Room) -> bool:
    """Whether a part of its ceiling has an attic over it: flat, under the ducts there and wide enough for a face."""
    shape = roof_shape(room)
    if shape is None:
        return True
    if shape.slope.high_m > _over_m(job, room):
        return False
    run = (shape.slope.high_m - shape.slope.low_m) / shape.slope.pitch
    sides = 2 if shape.slope.low_side == "both" else 1
    return shape.high - shape.low - sides * run > FACE_M


FACE_M = 0.3


def _spots(job: Job, site: Surroundings, room: Room, kind: str) -> Spots | None:
    off = REGISTERS[kind].off_wall_m
    shape = shape_of(room.outline_m)
    walls = [w for w in along_walls(job, room, site.beyond, STEP_M) if w[3] > 0.25]
    points = [(on[0] - out[0] * off, on[1] - out[1] * off) for on, out, _, _ in walls]
    keep = [k for k, q in enumerate(points) if shape.contains(At(q))]
    if not keep:
        return None
    at = np.array([points[k] for k in keep])
    on_wall = shapely.points(np.array([walls[k][0] for k in keep]))
    glass, door, people = (np.zeros(len(keep), bool) for _ in range(3))
    for o in (x for x in job.openings if x.room == room.id and x.kind != "skylight"):
        near = shapely.distance(on_wall, LineString(opening_line(o, room))) < 0.05
        glass |= near & (o.kind == "window")
        door |= near & (o.kind != "window")
    for f in (x for x in job.furniture if x.room == room.id and x.kind not in ("desk", "table")):
        people |= np.hypot(*(at - np.array(f.position_m)).T) < NEAR_PEOPLE_M
    return Spots(at, np.array([walls[k][2] == "outdoors" for k in keep]), glass, door, people)


def _snapped(job: Job, room: Room, at: Point, kind: str) -> Point:
    """Between two joists of what the face is cut into; as it is in a wall or without joists."""
    storey = next(s for s in job.storeys if s.id == room.storey)
    structure = {"below": storey.floor_structure, "above": storey.ceiling_structure}.get(REGISTERS[kind].fed)
    best = at
    if structure is not None and structure.kind in ("joists", "i_joists", "trusses"):
        inner = shape_of(room.outline_m).buffer(-CLEAR_M)
        best = next((q for q in _between(job, storey, structure, at) if inner.contains(At(q))), at)
    return (round(best[0], 3), round(best[1], 3))


def _between(job: Job, storey: Storey, s: Structure, at: Point) -> Iterator[Point]:
    """The middles of the nearest bays."""
    axis = 1 if s.runs == "x" else 0
    for step in (0, 1, -1):
        middle = bay_middle(job, storey, s, at[axis], step)
        yield (at[0], middle) if axis == 1 else (middle, at[1])


# ---- returns ----


def _grilles(job: Job, site: Surroundings, rooms: list[Room], unit: str, total: float) -> Job:
    """Return grilles for the rooms of a unit that have none near: central, a storey, or a room, as the design has it."""
    there = {x.room for x in job.design.registers if x.indoor == unit and x.side == "return"}
    for group, share in _groups(job, rooms, there):
        may = [x for x in group if x.use not in NO_RETURN]
        halls = [x for x in may if x.use in ("hall", "landing")]
        best = max(halls or may, key=_area, default=None)
        if best is not None:
            job = _grille(job, site, best, unit, total * share)
    if rooms and not any(x.indoor == unit and x.side == "return" for x in job.design.registers):
        # a house of nothing but baths and kitchens has to take its air back somewhere
        job = _grille(job, site, max(rooms, key=_area), unit, total)
    return job


def _groups(job: Job, rooms: list[Room], there: set[str]) -> list[tuple[list[Room], float]]:
    """Rooms that share a grille which is not there yet, with their part of the air."""
    n = max(len(rooms), 1)
    storey_of = {x.id: x.storey for x in job.rooms}
    has_one = {storey_of[i] for i in there}
    ways_ = job.design.air.returns
    if ways_ == "central":
        home = next((s.id for s in job.storeys if any(x.storey == s.id and x.use == "hall" for x in rooms)), None)
        here = [x for x in rooms if home is None or x.storey == home]
        return [] if there or not here else [(here, 1.0)]
    storeys = [s for s in job.storeys if any(x.storey == s.id for x in rooms)]
    shared = [([x for x in rooms if x.storey == s.id], s.id) for s in storeys if s.id not in has_one]
    out = [(group, len(group) / n) for group, _ in shared]
    if ways_ == "room":
        doors = {i for i, way in passages(job).home.items() if way.door is not None}
        closed = [x for x in rooms if x.id in doors and x.use not in NO_RETURN and x.id not in there]
        out = [(group, max(len(group) - sum(x in closed for x in group), 1) / n) for group, _ in shared]
        out += [([x], 1 / n) for x in closed]
    return out


def _area(room: Room) -> float:
    return float(shape_of(room.outline_m).area)


def _grille(job: Job, site: Surroundings, room: Room, unit: str, flow_m3_s: float) -> Job:
    """A return grille in a room, at the inside wall nearest to the unit."""
    spots = _spots(job, site, room, LAID["return"])
    own = next(x for x in job.design.indoor_units if x.id == unit)
    at: Point = shape_of(room.outline_m).representative_point().coords[0]
    if spots is not None:
        outlets = {p.side: p.position_m for p in job.design.plenums if p.indoor == unit}
        outlet = outlets.get("return", own.position_m)
        cost = 60.0 * spots.door + 20.0 * spots.outside + np.hypot(*(spots.at - np.array(outlet)).T)
        for x in (
            x for x in job.design.registers if x.room == room.id
        ):  # it would take that one's air, and its duct's place
            cost = cost + 200.0 * (np.hypot(*(spots.at - np.array(x.position_m)).T) < APART_M)
        for x in (x for x in job.design.registers if x.indoor == unit and x.side == "return" and x.room != room.id):
            # on another storey: both ducts would leave one place of the plenum
            cost = cost + BESIDE_OTHER * (np.hypot(*(spots.at - np.array(x.position_m)).T) < APART_M)
        if own.storey == room.storey:  # no duct comes down where the unit stands or lies
            cost = cost + 100.0 * shapely.intersects_xy(_stands_here(job, unit), spots.at[:, 0], spots.at[:, 1])
        at = tuple(spots.at[int(np.argmin(cost))])
    return _added(job, room, (round(at[0], 3), round(at[1], 3)), "return", LAID["return"], unit, flow_m3_s)


BESIDE_OTHER = 50.0
"""What a place under or over another storey's grille costs."""
BESIDE_M = 0.3
"""How far from a unit that lies a grille is cut into the ceiling."""


# ---- by hand ----


def add_register(
    job: Job, storey: str, at: Point, side: Literal["supply", "return"], unit: str, flow_m3_s: float = 0.0
) -> Drawn:
    """A register or return grille where it was pressed, of the kind and size that suit.

    Args:
        flow_m3_s: Air it is to bring; 0: a usual one.

    Raises:
        JobValueError: no room is there, the unit is not ducted, or a return would draw from a bath or kitchen.
    """
    room = room_at(job, storey, at)
    if room is None:
        raise JobValueError("A register stands in a room; press inside one.")
    own = next((x for x in job.design.indoor_units if x.id == unit), None)
    if own is None or own.kind != "ducted":
        raise JobValueError("Registers belong to a ducted unit; take one in hand first.")
    if side == "return" and room.use in NO_RETURN:
        raise JobValueError(f"No return in {room.name}: its smells and moisture would go to every room.")
    kind = LAID["return"] if side == "return" else kind_here(job, room)
    flow = flow_m3_s if isfinite(flow_m3_s) and flow_m3_s > 0 else 80 * CFM
    made = _added(job, room, _snapped(job, room, at, kind), side, kind, unit, flow)
    return Drawn(made, "register", made.design.registers[-1].id)


def copy_register(job: Job, register_id: str) -> Drawn:
    """Another register like one that is there, a pace beside it in the same room. Raises JobValueError."""
    like = next((x for x in job.design.registers if x.id == register_id), None)
    if like is None:
        raise JobValueError(f"There is no register '{register_id}'.")
    room = next(r for r in job.rooms if r.id == like.room)
    x, y = like.position_m
    shape = shape_of(room.outline_m)
    beside = ((x + dx, y + dy) for dx, dy in ((0.8, 0.0), (-0.8, 0.0), (0.0, 0.8), (0.0, -0.8)))
    at = next((q for q in beside if shape.contains(At(q))), like.position_m)
    registers = job.design.registers
    tag = _tag(registers, like.side, room)
    new = changed(like, tag, id=free_id("reg", {x.id for x in registers}), tag=tag, position_m=at)
    return Drawn(insert(job, "registers", new), "register", new.id)


def _added(
    job: Job, room: Room, at: Point, side: Literal["supply", "return"], kind: str, unit: str, flow: float
) -> Job:
    wide, high = stock_size(kind, flow, job.design.air.velocity_profile)
    registers = job.design.registers
    tag = _tag(registers, side, room)
    new = make(
        Register,
        tag,
        id=free_id("reg", {x.id for x in registers}),
        tag=tag,
        room=room.id,
        indoor=unit,
        side=side,
        position_m=at,
        **_figures(kind, wide, high),
    )
    return insert(job, "registers", new)


def _figures(kind: str, wide_m: float, high_m: float) -> dict[str, object]:
    """Size and figures of a face: those of the catalogue's, where it has one of that kind and size."""
    face = face_of(kind, wide_m, high_m)
    if face is None:
        return {"kind": kind, "width_m": wide_m, "height_m": high_m}
    return face.fields


def stock_size(kind: str, flow_m3_s: float, practice: str) -> tuple[float, float]:
    """The smallest stocked face whose air is not faster than the practice wants, m; the largest where none is."""
    speed = REGISTERS[kind].sized_m_s or FACE_M_S[practice]
    sizes = REGISTERS[kind].sizes_in
    fits = (s for s in sizes if s[0] * s[1] * INCH**2 * speed >= flow_m3_s)
    wide, high = next(fits, sizes[-1])
    return wide * INCH, high * INCH


def _tag(registers: tuple[Register, ...], side: str, room: Room) -> str:
    letter = "S" if side == "supply" else "R"
    tags = {x.tag.split()[0] for x in registers}
    k = 1
    while f"{letter}{k}" in tags:
        k += 1
    return f"{letter}{k} {room.name}"[:200]


def move_register(job: Job, register_id: str, storey: str, at: Point) -> Job:
    """The job with a register elsewhere, in the room it comes to lie in; the end of its run goes with it.

    Raises:
        JobValueError: no room is there, or it is a return and the room may have none.
    """
    register = named(job.design.registers, register_id, "register")
    room = room_at(job, storey, at)
    if room is None:
        raise JobValueError("A register stands in a room.")
    if register.side == "return" and room.use in NO_RETURN and room.id != register.room:
        raise JobValueError(f"No return in {room.name}: its smells and moisture would go to every room.")
    before = register.position_m
    job = replace(job, "registers", register_id, position_m=at, room=room.id)
    ends = {x.end for x in job.design.runs if x.register_id == register_id}
    joints = tuple(
        changed(j, j.id, position_m=at) if j.id in ends and dist(j.position_m, before) < 0.5 else j
        for j in job.design.joints
    )
    return with_design(job, joints=joints)
