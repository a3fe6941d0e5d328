"""What a joint of duct lies in: over a ceiling, in an attic, under a floor, in a soffit or a chase; and how high it is
clear there. All of it follows from the house.
"""

from __future__ import annotations

from typing import NamedTuple, TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray

from murvan.design.house.geometry import shape_of
from murvan.design.house.levels import ground_floor, headroom_m, roof_shape, stands_on
from murvan.design.space.duct_levels import over_joists_m
from murvan.model.house import STRUCTURE_M, MechanicalPlace, Room, Space, Storey, floor_heights
from murvan.model.job import Job, Point
from murvan.model.routes import CHASE, SOFFIT, LaidRun, Lies, laid_runs

SLAB, VAULT = Lies("inside", "the slab or the soil under it", 0.0), Lies("inside", "the roof over the vault", 0.0)
OPEN_AIR = Lies("inside", "the open air under the floor", 0.0)
"""No places for ducts: nothing is clear there."""
AT_CEILING_M = 0.05
"""What ends this little below a ceiling or over a floor lies in it."""
SOFFIT_M = 0.75
"""How far a soffit hangs below a ceiling at most; common practice."""


def duct_spaces(job: Job) -> dict[str, Lies]:
    """What every joint of the design that is worked on lies in, by its id."""
    joints = job.design.joints
    found = lie_at(job, [(j.storey, j.position_m, j.height_m) for j in joints])
    return {j.id: x for j, x in zip(joints, found, strict=True)}


def lies_at(
    job: Job, storey: str, at: NDArray[np.float64], height_m: float
) -> tuple[NDArray[np.str_], NDArray[np.float64]]:
    """What lies at places (n, 2) of a storey at one height over its floor: the kind of place, and its clear height; NaN
    where that is not known or as much as anybody wants."""
    around = _around(job, at)
    found = [_lies(job, around, k, storey, height_m, (x, y)) for k, (x, y) in enumerate(at.tolist())]
    return np.array([x.place for x in found]), np.array([np.nan if x.clear_m is None else x.clear_m for x in found])


def lie_at(job: Job, spots: list[tuple[str, Point, float]]) -> tuple[Lies, ...]:
    """What lies at places, each a storey, a place of its plan and a height over its floor."""
    if not spots:
        return ()
    around = _around(job, np.array([at for _, at, _ in spots]))
    return tuple(_lies(job, around, k, storey, height, at) for k, (storey, at, height) in enumerate(spots))


class _Around(NamedTuple):
    """By point, what stands over or under it."""

    rooms: list[list[Room]]
    garages: list[list[Space]]
    attics: list[list[MechanicalPlace]]
    under: list[list[MechanicalPlace]]
    boxed: list[list[MechanicalPlace]]
    """Soffits and chases."""


def _around(job: Job, at: NDArray[np.float64]) -> _Around:
    return _Around(
        _covering(job.rooms, at),
        _covering(job.spaces, at),
        _covering(tuple(x for x in job.places if x.kind == "attic"), at),
        _covering(tuple(x for x in job.places if x.kind in ("crawl", "basement")), at),
        _covering(tuple(x for x in job.places if x.boxes_ducts), at),
    )


def _lies(job: Job, around: _Around, k: int, storey_id: str, height_m: float, at: Point) -> Lies:
    """What lies at one of the places."""
    found = _lies_by_height(job, around, k, storey_id, height_m, at)
    return found._replace(in_chase=True) if any(x.kind == "chase" for x in around.boxed[k]) else found


def _lies_by_height(job: Job, around: _Around, k: int, storey_id: str, height_m: float, at: Point) -> Lies:
    order, rooms = [s.id for s in job.storeys], around.rooms[k]
    n = order.index(storey_id)
    storey, here = job.storeys[n], _on(rooms, storey_id)
    if height_m >= _ceiling_m(here, storey) - AT_CEILING_M:
        above = any(order.index(x.storey) > n for x in rooms)
        return _over(at, storey, height_m, above, here, around.garages[k], around.attics[k])
    if height_m <= AT_CEILING_M:
        below = any(order.index(x.storey) < n for x in rooms)
        return _beneath(job, at, storey, below, here, around.under[k])
    boxed = [x for x in around.boxed[k] if x.storey == storey_id]
    return _beside(storey, height_m, _ceiling_m(here, storey), here, around.garages[k], boxed)


def lay(job: Job) -> tuple[LaidRun, ...]:
    """All runs of the design that is worked on as they lie in the house; see `laid_runs`."""
    return laid_runs(job.design, job.storeys, spaces=duct_spaces(job))


T = TypeVar("T", Room, Space, MechanicalPlace)


def _covering(things: tuple[T, ...], at: NDArray[np.float64]) -> list[list[T]]:
    """By point (n, 2), what stands over or under it on the plan."""
    out: list[list[T]] = [[] for _ in at]
    for thing in things:
        for k in np.flatnonzero(shapely.intersects_xy(shapely.polygons(thing.outline_m), at[:, 0], at[:, 1])):
            out[int(k)].append(thing)
    return out


def _on(rooms: list[Room], storey: str) -> Room | None:
    return next((x for x in rooms if x.storey == storey), None)


def _ceiling_m(room: Room | None, storey: Storey) -> float:
    return room.height_m if room is not None and room.height_m is not None else storey.height_m


def _over(
    at: Point,
    storey: Storey,
    height_m: float,
    room_above: bool,
    here: Room | None,
    garages: list[Space],
    attics: list[MechanicalPlace],
) -> Lies:
    if not room_above and here is not None and under_vault(here, at, height_m):
        return VAULT
    depth = storey.ceiling_space_m or (storey.ceiling_structure.depth_m if storey.ceiling_structure else 0.0)
    if room_above:
        if storey.duct_place == "basement":  # ducts hang under the joists of a cellar
            return Lies("basement", "space", None)
        return Lies("inside", "space", depth or None)
    if here is None and any(x.storey == storey.id for x in garages):
        return Lies("garage", "garage", None)
    heights = [headroom_m(x, at) for x in attics]
    # ducts lie over the joists of an attic: neither their depth nor a height measured between them limits anything there
    typed = storey.ceiling_space_m if storey.ceiling_space_m > over_joists_m(storey, STRUCTURE_M) else None
    return Lies("attic", "clear height in the attic", min(heights) if heights else typed)


def under_vault(room: Room, at: Point, height_m: float) -> bool:
    """Whether what lies so high over the floor is in the room or in the roof that is its ceiling. At a wall a duct comes down
    in it."""
    inside = shape_of(room.outline_m).exterior.distance(shapely.Point(at)) > IN_WALL_M
    return under_roof(room, at, height_m) and bool(inside)


def under_roof(room: Room, at: Point, height_m: float) -> bool:
    """Whether the ceiling there is sloped, without a flat part over it that lies lower than this."""
    shape = roof_shape(room)
    if shape is None:
        return False
    return shape.slope.high_m > height_m or shape.height_at(at) < shape.slope.high_m - AT_CEILING_M


IN_WALL_M = 0.2


def _beneath(
    job: Job, at: Point, storey: Storey, room_below: bool, here: Room | None, under: list[MechanicalPlace]
) -> Lies:
    if room_below:
        return Lies("inside", "space", None)
    heights = [headroom_m(x, at) for x in under]
    clear = min(heights) if heights else None
    kind = stands_on(floor_heights(job.storeys)[storey.id], ground_floor(job))
    if here is not None and here.floor != "auto":
        kind = here.floor
    if kind == "basement":
        return Lies("basement", "clear height in the basement", clear)
    if kind == "crawl":
        return Lies("crawl", "clear height in the crawl space", clear)
    other = {"garage": Lies("garage", "garage", None), "heated": Lies("inside", "space", None), "outdoors": OPEN_AIR}
    return other.get(kind, SLAB)


def _beside(
    storey: Storey,
    height_m: float,
    ceiling_m: float,
    here: Room | None,
    garages: list[Space],
    boxed: list[MechanicalPlace],
) -> Lies:
    for x in boxed:
        if x.kind == "soffit" and height_m >= ceiling_m - x.clear_m:
            return Lies("inside", f"clear height in {x.name}", x.clear_m)
    if here is None and any(x.storey == storey.id for x in garages):
        return Lies("garage", "garage", None)
    if storey.duct_place == "basement" and height_m >= ceiling_m - SOFFIT_M:
        return Lies("basement", "space", None)  # hung under its joists
    return Lies("inside", SOFFIT if height_m >= ceiling_m - SOFFIT_M else CHASE, None)
