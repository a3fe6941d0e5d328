"""How a ducted unit stands: which way it lies, its footprint and room to work, its plenums, and whether it goes in there."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, NamedTuple

import shapely
from shapely.geometry import Polygon
from shapely.geometry import box as rectangle

from murvan.catalog import known_units, readable_own_units
from murvan.design.house.geometry import shape_of
from murvan.design.house.levels import below_grade, headroom_m
from murvan.design.limits import SERVICE_M
from murvan.design.space.duct_levels import JOISTS_M, over_joists_m
from murvan.design.space.duct_places import run_below
from murvan.design.space.plenum_faces import FRONT, air_way, plan_size
from murvan.design.space.plenum_size import opening_m, school_of, section, usual_length_m
from murvan.model.design import IndoorUnit, Plenum
from murvan.model.equipment import Unit
from murvan.model.house import MechanicalPlace
from murvan.model.job import Job, Point

Way = Literal["upflow", "downflow", "left", "right"]
Turn = Literal[0, 90, 180, 270]
USUAL_M = (0.45, 0.55, 1.2)
"""Width, depth and height of a cabinet that is not picked yet; common practice."""


class Stand(NamedTuple):
    """How a unit stands: middle and half sides of its footprint on the plan, its height, and where its air goes."""

    at: Point
    half: Point
    high_m: float
    front: Point
    out: Point
    """From its middle towards its outlet on the plan; (0, 0) where that is over or under it."""


class Misfit(NamedTuple):
    """What does not go in, with what it needs and what there is, m."""

    words: str
    need_m: float
    has_m: float


def cabinet(job: Job, indoor: IndoorUnit) -> Unit | None:
    """The unit picked, of the catalogue, the job or this machine."""
    return known_units(job.units, readable_own_units()).get(indoor.unit or "")


def stand(indoor: IndoorUnit, unit: Unit | None) -> Stand:
    """How a unit stands where it is; one that lies has its length along the air."""
    wide, deep, tall = (unit.width_m, unit.depth_m, unit.height_m) if unit is not None else USUAL_M
    if flat(unit) and indoor.way in ("left", "right"):  # made to lie: its air goes along its depth
        wide, deep, tall = tall, wide, deep
    front = FRONT[indoor.turn_deg]
    right: Point = (front[1], -front[0])
    if indoor.way in ("upflow", "downflow"):
        along, high, out = wide, tall, (0.0, 0.0)
    else:
        along, high = tall, wide
        sign = 1.0 if indoor.way == "right" else -1.0
        out = (sign * right[0], sign * right[1])
    half = (along / 2, deep / 2) if front[0] == 0 else (deep / 2, along / 2)
    return Stand(indoor.position_m, half, high, front, out)


def flat(unit: Unit | None) -> bool:
    """Whether a unit is made to hang flat under a ceiling."""
    return unit is not None and unit.kind == "slim_ducted"


def footprint(x: Stand, work_m: float = 0.0) -> Polygon:
    """What it covers on the plan, with room to work before it."""
    (cx, cy), (hx, hy), f = x.at, x.half, x.front
    more = (f[0] * work_m, f[1] * work_m)
    return rectangle(
        cx - hx + min(more[0], 0), cy - hy + min(more[1], 0), cx + hx + max(more[0], 0), cy + hy + max(more[1], 0)
    )


def return_beside(x: Stand) -> Polygon:
    """About what the return beside an upright unit covers on the plan, before its ducts are known."""
    (cx, cy), (hx, hy), half = x.at, x.half, RETURN_M / 2
    lx, ly = -x.front[1], x.front[0]
    mx, my = cx + lx * (hx + half), cy + ly * (hy + half)
    wide, deep = (half, hy) if lx else (hx, half)
    return rectangle(mx - wide, my - deep, mx + wide, my + deep)


RETURN_M = 0.45
"""Width of a return beside a unit that is made room for."""


def place_here(job: Job, storey: str | None, at: Point) -> MechanicalPlace | None:
    """The surveyed place for equipment at a point; the smallest where several lie over each other."""
    here = [
        p
        for p in job.places
        if p.storey == storey and not p.boxes_ducts and shapely.contains_xy(shape_of(p.outline_m), *at)
    ]
    return min(here, key=lambda p: shape_of(p.outline_m).area, default=None)


def misfits(job: Job, indoor: IndoorUnit, unit: Unit | None, work_m: float = SERVICE_M) -> Iterator[Misfit]:
    """By how much a unit does not go into the surveyed place it stands in; nothing where it goes in or none is surveyed."""
    place = place_here(job, indoor.storey, indoor.position_m)
    if place is None or unit is None:
        return
    x = stand(indoor, unit)
    corners = list(footprint(x).exterior.coords)[:-1]
    clear = min(
        headroom_m(place, c) for c in (x.at, *corners) if shapely.intersects_xy(shape_of(place.outline_m), *c)
    )
    if x.high_m > clear:
        yield Misfit(f"is {{0}} high, {place.name} is clear {{1}}", x.high_m, clear)
    yield from _too_wide(place, to_work_in(job, place), x, work_m)


BEFORE = ("closet", "room")
"""Places that open to the room they are in: whoever works on the unit stands there."""


def to_work_in(job: Job, place: MechanicalPlace) -> Polygon:
    """Where whoever works on a unit in a place may stand: in it, and before it in its room."""
    outline = shape_of(place.outline_m)
    if place.kind not in BEFORE:
        return outline
    rooms = [shape_of(r.outline_m) for r in job.rooms if r.storey == place.storey]
    at = outline.representative_point()
    return shapely.union_all([outline, *(r for r in rooms if r.contains(at))])


def _too_wide(place: MechanicalPlace, to_work: Polygon, x: Stand, work_m: float) -> Iterator[Misfit]:
    """Sides of the footprint that stick out of a place, and of its room to work that stick out of where that is."""
    outline = shape_of(place.outline_m)
    need = footprint(x, work_m)
    if outline.buffer(1e-3).contains(footprint(x)) and to_work.buffer(1e-3).contains(need):
        return
    body = footprint(x)
    if not outline.buffer(1e-3).contains(body):
        over = _sticks_out_m(body, outline)
        yield Misfit(f"sticks out of {place.name} by {{0}}", over, 0.0)
        return
    yield Misfit(
        f"wants {{0}} to work before it, {place.name} leaves {{1}}",
        work_m,
        max(work_m - _sticks_out_m(need, to_work), 0.0),
    )


def _sticks_out_m(inner: Polygon, outline: Polygon) -> float:
    """How far a rectangle reaches out of an outline at most."""
    return float(max(outline.distance(shapely.Point(c)) for c in inner.exterior.coords))


def base_m(job: Job, indoor: IndoorUnit) -> float:
    """Height of what a unit stands on over its storey's floor: in an attic on its joists, in a crawl space or under-floor
    basement that far below."""
    place = place_here(job, indoor.storey, indoor.position_m)
    if place is None or place.kind not in ("attic", "crawl", "basement"):
        return _hung_m(job, indoor)
    if place.kind == "basement" and below_grade(job, place.storey):
        return 0.0  # the storey is the basement
    if place.kind != "attic":
        return -place.clear_m
    return next(s.height_m + over_joists_m(s) for s in job.storeys if s.id == indoor.storey)


def _hung_m(job: Job, indoor: IndoorUnit) -> float:
    """Of what stands on the floor 0; a flat unit that lies hangs under the ceiling, or under the floor where the ducts run."""
    unit, storey = cabinet(job, indoor), next((s for s in job.storeys if s.id == indoor.storey), None)
    if unit is None or storey is None or not flat(unit) or indoor.way not in ("left", "right"):
        return 0.0
    s = storey.floor_structure
    under = storey.height_m
    if storey.duct_place == "crawl" and run_below(job, storey):
        under = -(s.depth_m if s is not None else JOISTS_M)
    return under - unit.height_m - HANGER_M


HANGER_M = 0.02
"""Over a unit that hangs: rods and rubber."""


def plenum_span_m(job: Job, indoor: IndoorUnit, box: Plenum) -> tuple[float, float]:
    """From where to where a plenum stands upright, over its unit's floor."""
    way, base, high = air_way(indoor, box.side), base_m(job, indoor), stand(indoor, cabinet(job, indoor)).high_m
    if way[2] == 0:
        return base + (high - box.depth_m) / 2, base + (high + box.depth_m) / 2
    if way[2] < 0:
        return base - box.height_m, base
    foot = base + (high if box.side == "supply" else 0.0)
    return foot, foot + box.height_m


# ---- plenums --------------------------------------------------------------------------------------------------


def plenums_of(
    indoor: IndoorUnit, unit: Unit | None, flow_m3_s: float, clear_m: float | None = None, off_m: float = 0.0
) -> Iterator[Plenum]:
    """The plenums of a unit as it stands: at both ends of one that lies; over or under an upright one, with its return
    beside it.

    Args:
        clear_m: Clear height for those of a unit that lies.
        off_m: How far the return stands off what is beside it.
    """
    school = school_of(unit)
    lies = indoor.way in ("left", "right")
    for side in ("supply", "return"):
        opening = opening_m(unit) if side == "supply" else (0.0, 0.0)
        across = section(flow_m3_s, school, opening, clear_m=clear_m if lies else None)
        made = Plenum(
            id=f"plenum-{side}-{indoor.id}"[:40],
            indoor=indoor.id,
            side=side,  # type: ignore[arg-type]
            width_m=across.width_m,
            depth_m=across.depth_m,
            height_m=usual_length_m(unit),
            position_m=indoor.position_m,
            school=school,
        )
        if side == "supply" and not lies:  # one wider than the unit would stand in its return
            off_m = max(off_m, _over_side_m(indoor, unit, made))
        yield made.model_copy(update={"position_m": plenum_at(indoor, unit, made, off_m)})


def _over_side_m(indoor: IndoorUnit, unit: Unit | None, box: Plenum) -> float:
    """By how much a plenum over an upright unit reaches over its side."""
    x, (wide, deep) = stand(indoor, unit), plan_size(box, air_way(indoor, box.side))
    over = wide / 2 - x.half[0] if x.front[0] == 0 else deep / 2 - x.half[1]
    return max(over, 0.0)


def clear_of(job: Job, indoor: IndoorUnit) -> float | None:
    """Clear height of the surveyed place a unit is in, m; None: none is."""
    place = place_here(job, indoor.storey, indoor.position_m)
    return headroom_m(place, indoor.position_m) if place is not None else None


def plenum_at(indoor: IndoorUnit, unit: Unit | None, box: Plenum, off_m: float = 0.0) -> Point:
    """Where the middle of a plenum is on the plan. `off_m`: of a return beside its unit, how far it stands off."""
    x = stand(indoor, unit)
    cx, cy = x.at
    wide, deep = plan_size(box, air_way(indoor, box.side))
    if x.out != (0.0, 0.0):
        along = abs(x.out[0]) * (x.half[0] + wide / 2) + abs(x.out[1]) * (x.half[1] + deep / 2)
        sign = 1.0 if box.side == "supply" else -1.0
        return fine((cx + sign * x.out[0] * along, cy + sign * x.out[1] * along))
    if box.side == "supply":
        return fine((cx, cy))
    left: Point = (-x.front[1], x.front[0])
    along = off_m + abs(left[0]) * (x.half[0] + wide / 2) + abs(left[1]) * (x.half[1] + deep / 2)
    return fine((cx + left[0] * along, cy + left[1] * along))


def fine(at: Point) -> Point:
    return (round(at[0], 3), round(at[1], 3))
