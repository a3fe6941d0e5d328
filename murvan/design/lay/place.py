"""Placing a ducted unit: its plenums come along, and the ducts that start there; where it could stand."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon

from murvan.design.drawing.rooms import Drawn
from murvan.design.house.geometry import opening_line
from murvan.design.house.levels import below_grade
from murvan.design.lay.moving import move_joint
from murvan.design.limits import SERVICE_M
from murvan.design.space.duct_places import run_below
from murvan.design.space.standing import (
    Stand,
    Turn,
    Way,
    cabinet,
    clear_of,
    fine,
    flat,
    footprint,
    misfits,
    place_here,
    plenum_at,
    plenums_of,
    return_beside,
    stand,
)
from murvan.model.design import IndoorUnit, Plenum
from murvan.model.edit import changed, replace, with_design
from murvan.model.equipment import Unit
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Point

# ---- placing --------------------------------------------------------------------------------------------------


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


def placed_unit(
    job: Job,
    unit_id: str,
    storey: str,
    at: Point,
    flow_m3_s: float | None = None,
    way: Way | None = None,
    turn: Turn | None = None,
) -> Drawn:
    """The job with a ducted unit at a place, lying as it does there; its plenums come or go along, and the ducts at them.

    Args:
        flow_m3_s: Its air; None: as rated.
        way: None: as it lies, or as usual there when it had no place.
        turn: None: as it looks.

    Raises:
        JobValueError: it is not a ducted unit.
    """
    own = next((x for x in job.design.indoor_units if x.id == unit_id), None)
    if own is None or own.kind != "ducted":
        raise JobValueError("Plenums belong to a ducted unit; take one in hand first.")
    new = own.storey is None
    changes = {
        "storey": storey,
        "position_m": fine(at),
        "way": way or (usual_way(job, storey, at, cabinet(job, own)) if new else own.way),
        "turn_deg": own.turn_deg if turn is None else turn,
    }
    job = replace(job, "indoor_units", unit_id, **changes)
    now = next(x for x in job.design.indoor_units if x.id == unit_id)
    air = usual_air_m3_s(own, job) if flow_m3_s is None else flow_m3_s
    job = _with_plenums(job, own, now, air)
    tight = any(True for _ in misfits(job, now, cabinet(job, own)))
    return Drawn(job, "indoor_unit", unit_id, "It does not go in here (punch list)" if tight else "")


def _with_plenums(job: Job, before: IndoorUnit, now: IndoorUnit, flow_m3_s: float) -> Job:
    """The job with the plenums of a unit where it stands now; the ducts that start there follow."""
    unit = cabinet(job, now)
    have = {p.side: p for p in job.design.plenums if p.indoor == now.id}
    fresh = [p for p in plenums_of(now, unit, flow_m3_s, clear_of(job, now)) if p.side not in have]
    job = with_design(job, plenums=(*job.design.plenums, *fresh))
    as_it_stood = (now.way, now.turn_deg) == (before.way, before.turn_deg) and before.storey is not None
    by = (now.position_m[0] - before.position_m[0], now.position_m[1] - before.position_m[1])
    for _side, box in have.items():
        if as_it_stood:
            to = fine((box.position_m[0] + by[0], box.position_m[1] + by[1]))
        else:
            to = plenum_at(now, unit, box)
        job = _moved_plenum(job, box, to, now.storey or "")
    return job


def _moved_plenum(job: Job, box: Plenum, to: Point, storey: str) -> Job:
    """The job with a plenum elsewhere; joints at it go along."""
    by = (to[0] - box.position_m[0], to[1] - box.position_m[1])
    if by == (0.0, 0.0):
        return job
    ends = {r.end for r in job.design.runs}
    roots = {r.start for r in job.design.runs if r.indoor == box.indoor and r.side == box.side} - ends
    for joint in [j for j in job.design.joints if j.id in roots]:
        x, y = joint.position_m
        job = move_joint(job, joint.id, (x + by[0], y + by[1]))
    moved = tuple(changed(p, "Plenum", position_m=to) if p.id == box.id else p for p in job.design.plenums)
    return with_design(job, plenums=moved)


def turned_unit(job: Job, unit_id: str) -> Drawn:
    """The job with a ducted unit turned by a quarter. Raises JobValueError."""
    own = next((x for x in job.design.indoor_units if x.id == unit_id), None)
    if own is None or own.storey is None:
        raise JobValueError("The unit has no place yet: press U, then on the plan.")
    turn = TURNED[own.turn_deg]
    return placed_unit(job, unit_id, own.storey, own.position_m, None, own.way, turn)


TURNED: dict[int, Turn] = {0: 90, 90: 180, 180: 270, 270: 0}


STEP_M, MOST_STEPS = 0.1, 120
"""Between places that are tried, and how many of them there are at most along each side."""


def usual_air_m3_s(indoor: IndoorUnit, job: Job) -> float:
    """The air of a unit before its rooms are worked out: as typed, else as it is rated; 0: not known."""
    unit = cabinet(job, indoor)
    return indoor.flow_m3_s or (unit.rated_flow_m3_s if unit is not None else 0.0)


def suggested(job: Job, unit_id: str) -> Iterator[IndoorUnit]:
    """Where a ducted unit could stand, the place where it goes in first: places that the survey has for equipment, closets
    and basements first; without any, utility rooms and halls, then any room of the lowest storey."""
    own = next(x for x in job.design.indoor_units if x.id == unit_id)
    order = ("closet", "basement", "room", "garage", "attic", "crawl")
    here = [p for p in job.places if not p.boxes_ducts]
    spots = [(p.storey, p.outline_m) for p in sorted(here, key=lambda p: order.index(p.kind))]
    if not spots:
        for use in ("utility", "hall", "landing"):
            spots += [(r.storey, r.outline_m) for r in job.rooms if r.use == use]
        spots += [(r.storey, r.outline_m) for r in job.rooms[:1] if not spots]
    found = [_best_in(job, own, storey, outline) for storey, outline in spots]
    yield from sorted(found, key=lambda x: any(True for _ in misfits(job, x, cabinet(job, x))))


def _best_in(job: Job, own: IndoorUnit, storey: str, outline: tuple[Point, ...]) -> IndoorUnit:
    """The unit in an outline where it goes in with its return and room to work: in a surveyed place nearest to its middle, in a
    room at a wall and off its doors."""
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
    unit, surveyed = cabinet(job, own), place_here(job, storey, first) is not None
    x0, y0, x1, y1 = shape.bounds
    step = max(STEP_M, max(x1 - x0, y1 - y0) / MOST_STEPS)
    grid = np.stack(np.meshgrid(np.arange(x0, x1, step), np.arange(y0, y1, step)), axis=-1).reshape(-1, 2)
    far = np.hypot(*(grid - np.array(first)).T)
    if not surveyed:
        far = 0.2 * far + shapely.distance(shape.exterior, shapely.points(grid))
    grid = np.vstack([[first], grid[np.argsort(far, kind="stable")]])
    house = _walls_of(job, storey).union(shape)
    for round_it, work_m in ((shape, SERVICE_M), (house, SERVICE_M), (shape, 0.0), (house, 0.0)):
        room = _Room(shape, round_it, () if surveyed else tuple(_kept_free(job, storey)))
        for one in _standing(start, unit, grid, room, work_m):
            if not any(True for _ in misfits(job, one, unit, work_m)):
                return one
    return start


class _Room(NamedTuple):
    """Where a unit may stand, where its return beside it may, and what of the floor is kept free."""

    unit: Polygon
    beside: Polygon
    free: tuple[Polygon, ...]


def _walls_of(job: Job, storey: str) -> Polygon:
    """Within the outside walls of a storey, with its places for equipment."""
    outlines = [r.outline_m for r in job.rooms if r.storey == storey]
    outlines += [p.outline_m for p in job.places if p.storey == storey and not p.boxes_ducts]
    return shapely.union_all([Polygon(o).buffer(IN_WALL_M) for o in outlines])


IN_WALL_M = 0.05


def _kept_free(job: Job, storey: str) -> Iterator[Polygon]:
    """Floor of a storey that is kept free, and where its doors are walked through."""
    yield from (Polygon(k.outline_m) for k in job.keep_clear if k.storey == storey)
    rooms = {r.id: r for r in job.rooms if r.storey == storey}
    for o in job.openings:
        if o.room in rooms and o.kind not in ("window", "skylight"):
            yield LineString(opening_line(o, rooms[o.room])).buffer(DOOR_M)


DOOR_M = 0.6
"""Floor before a door that nothing stands on."""


def _standing(
    start: IndoorUnit, unit: Unit | None, grid: NDArray[np.float64], room: _Room, work_m: float
) -> Iterator[IndoorUnit]:
    """The unit at the first places (n, 2) of which it covers nothing outside its room, turned each way."""
    inside, beside = room.unit.buffer(1e-3), room.beside.buffer(1e-3)
    found: list[tuple[int, IndoorUnit]] = []
    for turn in TURNED:
        turned = start.model_copy(update={"turn_deg": turn})
        x = stand(turned, unit)
        ok = shapely.contains(inside, _boxes(grid, x, footprint(x, work_m)))
        if x.out == (0.0, 0.0):
            ok &= shapely.contains(beside, _boxes(grid, x, return_beside(x)))
        body = _boxes(grid, x, footprint(x))
        for kept in room.free:
            ok &= ~shapely.intersects(kept, body)
        for k in np.flatnonzero(ok)[:TRIED]:
            at = fine((float(grid[k][0]), float(grid[k][1])))
            found.append((int(k), turned.model_copy(update={"position_m": at})))
    yield from (one for _, one in sorted(found, key=lambda f: f[0]))


def _boxes(grid: NDArray[np.float64], x: Stand, as_it_stands: Polygon) -> NDArray[np.object_]:
    """A rectangle of a unit with its middle at each of some places, (n,)."""
    low, high = np.array(as_it_stands.bounds).reshape(2, 2) - np.array(x.at)
    boxes: NDArray[np.object_] = shapely.box(*(grid + low).T, *(grid + high).T)
    return boxes


TRIED = 12
"""Places of each turn that are judged by their headroom too."""


def place_unit(job: Job, unit_id: str, flow_m3_s: float | None = None) -> Job:
    """The job with a unit that has no place yet where it goes in: in a place that the survey has for equipment, else in a
    utility room or a hall. One without plenums has none either: a design that was offered said but its storey."""
    unit = next(x for x in job.design.indoor_units if x.id == unit_id)
    upright = flat(cabinet(job, unit)) and unit.way in ("upflow", "downflow")
    stands = unit.storey is not None and any(p.indoor == unit_id for p in job.design.plenums)
    if not job.rooms or (stands and not upright):
        return job
    found = list(suggested(job, unit_id))
    anywhere = found[0] if unit.storey is None or not unit.rooms else None
    best = anywhere or next((x for x in found if x.storey == unit.storey), None)
    if best is None:
        best = changed(unit, unit.tag, way=usual_way(job, unit.storey or "", unit.position_m, cabinet(job, unit)))
    turn, way = best.turn_deg, best.way
    return placed_unit(job, unit_id, best.storey or "", best.position_m, flow_m3_s, way, turn).job
