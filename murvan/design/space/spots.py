"""Where a ducted unit could stand: places that the survey has for equipment, else utility rooms and halls, at a wall, off doors, with
its return and room to work."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon

from murvan.design.house.geometry import opening_line
from murvan.design.house.levels import below_grade
from murvan.design.limits import SERVICE_M
from murvan.design.space.duct_places import run_below
from murvan.design.space.obstacles import between
from murvan.design.space.standing import (
    Stand,
    Turn,
    Way,
    base_m,
    cabinet,
    fine,
    flat,
    footprint,
    misfits,
    place_here,
    return_beside,
    stand,
    to_work_in,
)
from murvan.model.design import IndoorUnit
from murvan.model.edit import changed
from murvan.model.equipment import Unit
from murvan.model.job import Job, Point

TURNED: dict[int, Turn] = {0: 90, 90: 180, 180: 270, 270: 0}


def usual_way(job: Job, storey: str, at: Point, unit: Unit | None) -> Way:
    """Lying in attics and crawl spaces and where it is made to, downwards over ducts under the floor, else upwards."""
    if flat(unit):
        return "right"
    place = place_here(job, storey, at)
    if place is not None and place.kind in ("attic", "crawl"):
        return "right"
    here = next((s for s in job.storeys if s.id == storey), None)
    cellar = here is None or (place is not None and place.kind == "basement") or below_grade(job, here.id)
    return "downflow" if not cellar and here is not None and run_below(job, here) else "upflow"


STEP_M, MOST_STEPS = 0.1, 120
"""Between places that are tried, and how many of them there are at most along each side."""


def suggested(job: Job, unit_id: str, storey: str | None = None) -> Iterator[IndoorUnit]:
    """Where a ducted unit could stand, the place where it goes in first: places that the survey has for equipment, closets
    and basements first; then utility rooms and halls, and without any of them a room of the lowest storey.

    Args:
        storey: On which alone; None: on any.
    """
    own = next(x for x in job.design.indoor_units if x.id == unit_id)
    order = ("closet", "basement", "room", "garage", "attic", "crawl")
    here = [p for p in job.places if not p.boxes_ducts]
    spots = [(p.storey, p.outline_m) for p in sorted(here, key=lambda p: order.index(p.kind))]
    for use in ("utility", "hall", "landing"):
        spots += [(r.storey, r.outline_m) for r in job.rooms if r.use == use]
    spots += [(r.storey, r.outline_m) for r in job.rooms[:1] if not spots]
    tight = []
    for level, outline in (x for x in spots if storey in (None, x[0])):
        found, stands = _best_in(job, own, level, outline)
        if not stands or any(True for _ in misfits(job, found, cabinet(job, found))):
            tight.append(found)
        else:
            yield found
    yield from tight


def _best_in(job: Job, own: IndoorUnit, storey: str, outline: tuple[Point, ...]) -> tuple[IndoorUnit, bool]:
    """The unit in an outline where it goes in with its return and room to work, in a surveyed place nearest to its middle, in a
    room at a wall and off its doors; and whether it does: else it stands in the middle."""
    shape = Polygon(outline)
    middle = shape.representative_point()
    first: Point = fine((middle.x, middle.y))
    start = changed(
        own,
        own.tag,
        storey=storey,
        position_m=first,
        way=usual_way(job, storey, first, cabinet(job, own)),
        turn_deg=0,
    )
    unit, place = cabinet(job, own), place_here(job, storey, first)
    surveyed = place is not None
    to_work = to_work_in(job, place) if place is not None else shape
    x0, y0, x1, y1 = shape.bounds
    step = max(STEP_M, max(x1 - x0, y1 - y0) / MOST_STEPS)
    grid = np.stack(np.meshgrid(np.arange(x0, x1, step), np.arange(y0, y1, step)), axis=-1).reshape(-1, 2)
    far = np.hypot(*(grid - np.array(first)).T)
    if not surveyed:
        far = 0.2 * far + shapely.distance(shape.exterior, shapely.points(grid))
    grid = np.vstack([[first], grid[np.argsort(far, kind="stable")]])
    house = _walls_of(job, storey).union(shape)
    centre: Point = (house.centroid.x, house.centroid.y)
    base = base_m(job, start)
    tall = next((s.height_m for s in job.storeys if s.id == storey), STANDS_M) if start.way in UPRIGHT else STANDS_M
    free = [x.shape for x in between(job, storey, base, base + tall)]
    above = place is not None and place.kind in ("attic", "crawl")
    free += (
        Polygon(k.outline_m) for k in job.keep_clear if k.storey == storey and (not above or k.reason == "hatch")
    )
    free += () if surveyed else _doorways(job, storey)
    free += _other_units(job, own.id, storey)
    for round_it, work_m in ((shape, SERVICE_M), (house, SERVICE_M), (shape, 0.0), (house, 0.0)):
        room = _Room(shape, round_it, to_work, tuple(free), centre)
        for one in _standing(start, unit, grid, room, work_m):
            if not any(True for _ in misfits(job, one, unit, work_m)):
                return one, True
    return start, False


class _Room(NamedTuple):
    """Where a unit may stand, where its return beside it may, where whoever works on it stands, and what of the floor is kept
    free."""

    unit: Polygon
    beside: Polygon
    to_work: Polygon
    free: tuple[Polygon, ...]
    middle: Point
    """Of the house: the return stands towards it rather than at a wall, where its ducts would go past the unit."""


def _walls_of(job: Job, storey: str) -> Polygon:
    """Within the outside walls of a storey, with its places for equipment."""
    outlines = [r.outline_m for r in job.rooms if r.storey == storey]
    outlines += [p.outline_m for p in job.places if p.storey == storey and not p.boxes_ducts]
    return shapely.union_all([Polygon(o).buffer(IN_WALL_M) for o in outlines])


IN_WALL_M = 0.05


def _other_units(job: Job, unit_id: str, storey: str) -> Iterator[Polygon]:
    """Where other ducted units stand on a storey, with the return beside each."""
    for u in job.design.indoor_units:
        if u.id != unit_id and u.kind == "ducted" and u.storey == storey:
            x = stand(u, cabinet(job, u))
            yield footprint(x)
            if x.out == (0.0, 0.0):
                yield return_beside(x)


def _doorways(job: Job, storey: str) -> Iterator[Polygon]:
    """Where the doors of a storey are walked through."""
    rooms = {r.id: r for r in job.rooms if r.storey == storey}
    for o in job.openings:
        if o.room in rooms and o.kind not in ("window", "skylight"):
            yield LineString(opening_line(o, rooms[o.room])).buffer(DOOR_M)


UPRIGHT = ("upflow", "downflow")
STANDS_M = 0.8
"""Height of a unit that lies, before it is known."""
DOOR_M = 0.6
"""Floor before a door that nothing stands on."""


def _standing(
    start: IndoorUnit, unit: Unit | None, grid: NDArray[np.float64], room: _Room, work_m: float
) -> Iterator[IndoorUnit]:
    """The unit at the first places (n, 2) of which it covers nothing outside its room, turned each way."""
    inside, beside, to_work = (p.buffer(1e-3) for p in (room.unit, room.beside, room.to_work))
    for p in (inside, beside, to_work):
        shapely.prepare(p)
    for first in range(0, len(grid), AT_ONCE):
        here = grid[first : first + AT_ONCE]
        yield from _standing_at(start, unit, here, (inside, beside, to_work), room, work_m)


def _standing_at(
    start: IndoorUnit,
    unit: Unit | None,
    grid: NDArray[np.float64],
    within: tuple[Polygon, Polygon, Polygon],
    room: _Room,
    work_m: float,
) -> Iterator[IndoorUnit]:
    """The same at some of the places; `within`: for the unit, its return, whoever works on it."""
    inside, beside, to_work = within
    found: list[tuple[int, float, IndoorUnit]] = []
    for turn in TURNED:
        turned = start.model_copy(update={"turn_deg": turn})
        x = stand(turned, unit)
        ok = shapely.contains(inside, _boxes(grid, x, footprint(x)))
        ok &= shapely.contains(to_work, _boxes(grid, x, footprint(x, work_m)))
        if x.out == (0.0, 0.0):
            ok &= shapely.contains(beside, _boxes(grid, x, return_beside(x)))
        body = _boxes(grid, x, footprint(x))
        for kept in room.free:
            ok &= ~shapely.intersects(kept, body)
            if x.out == (0.0, 0.0):
                ok &= ~shapely.intersects(kept, _boxes(grid, x, return_beside(x)))
        for k in np.flatnonzero(ok)[:TRIED]:
            at = fine((float(grid[k][0]), float(grid[k][1])))
            back = return_beside(x).centroid if x.out == (0.0, 0.0) else None
            side = (back.x - x.at[0], back.y - x.at[1]) if back is not None else (0.0, 0.0)
            to = (room.middle[0] - at[0], room.middle[1] - at[1])
            inwards = side[0] * to[0] + side[1] * to[1]
            rank = int(k) + (AWAY if inwards < 0 else 0)
            found.append((rank, -inwards, turned.model_copy(update={"position_m": at})))
    yield from (one for *_, one in sorted(found, key=lambda f: f[:2]))


AWAY = 250
"""Places that one with its return at the wall comes after: about a step of three feet all round."""
AT_ONCE = 500
"""Places that are looked at together, the likeliest first."""


def _boxes(grid: NDArray[np.float64], x: Stand, as_it_stands: Polygon) -> NDArray[np.object_]:
    """A rectangle of a unit with its middle at each of some places, (n,)."""
    low, high = np.array(as_it_stands.bounds).reshape(2, 2) - np.array(x.at)
    boxes: NDArray[np.object_] = shapely.box(*(grid + low).T, *(grid + high).T)
    return boxes


TRIED = 12
"""Places of each turn that are judged by their headroom too."""


def best_spot(job: Job, unit_id: str, storey: str | None) -> IndoorUnit | None:
    """A ducted unit where it goes in best, on a storey or on any; None where there is no such place on it."""
    return next(suggested(job, unit_id, storey), None)
