"""Outlines of rooms: tidied, cut and joined with shapely; openings and overrides stay where they were."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, hypot, radians, sin
from typing import Any

from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from murvan.design.house.geometry import TOUCH_M, opening_line, shape_of, wall_length_m, wall_points
from murvan.design.house.levels import in_room
from murvan.model.design import Design
from murvan.model.edit import changed, in_designs
from murvan.model.errors import JobValueError
from murvan.model.job import (
    Appliance,
    Existing,
    Job,
    Opening,
    Point,
    Room,
    WallOverride,
    outline_crosses_itself,
    signed_area,
)

Outline = tuple[Point, ...]

LEAST_AREA_M2 = 0.2
"""A broom cupboard of 45 by 45 cm; what is smaller is a slip of the hand."""
SAME_M = 0.005
SLIVER_M = 0.04


def tidy(outline: Outline, what: str = "The room", least_m2: float = LEAST_AREA_M2) -> Outline:
    """Corners without doubles and without points in the middle of a straight wall, clockwise on the plan.

    Raises:
        JobValueError: fewer than three corners are left, it crosses itself, or it encloses next to nothing.
    """
    points = [(round(float(x), 4), round(float(y), 4)) for x, y in outline]
    while True:
        n = len(points)
        drop = next((i for i in range(n) if _needless(points[i - 1], points[i], points[(i + 1) % n])), None)
        if drop is None or n < 3:
            break
        del points[drop]
    if len(points) < 3:
        raise JobValueError(f"{what}: its corners lie on one line; a room needs at least three walls.")
    if outline_crosses_itself(tuple(points)):
        raise JobValueError(f"{what}: its walls cross or touch each other; go round the room in one turn.")
    area = signed_area(tuple(points))
    if abs(area) < least_m2:
        raise JobValueError(f"{what}: it would enclose only ", ("area", abs(area)), "; too small for a room.")
    if area < 0:
        points.reverse()
    first = min(range(len(points)), key=lambda i: (round(points[i][1], 2), points[i][0]))
    return tuple(points[first:] + points[:first])


def _needless(a: Point, b: Point, c: Point) -> bool:
    """Whether b is the same as a, or in the middle of the straight wall from a to c."""
    if hypot(b[0] - a[0], b[1] - a[1]) < SAME_M:
        return True
    length = hypot(c[0] - a[0], c[1] - a[1])
    if length < SAME_M:
        return True  # a spike that goes out and comes back
    off = abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / length
    return off < SAME_M / 2


def polygons(shape: BaseGeometry) -> list[Polygon]:
    """The polygons of a shapely result, largest first, slivers left out."""
    parts = list(shape.geoms) if isinstance(shape, MultiPolygon) else [shape]
    parts = [p for part in parts for p in (part.geoms if hasattr(part, "geoms") else [part])]
    found = [p for p in parts if isinstance(p, Polygon) and p.area >= LEAST_AREA_M2 / 4]
    found = [p for p in found if not p.buffer(-SLIVER_M).is_empty]
    return sorted(found, key=lambda p: -p.area)


def outline_of(polygon: Polygon, what: str = "The room") -> Outline:
    """The polygon as an outline. Raises JobValueError when it has a hole."""
    if any(Polygon(ring).area > LEAST_AREA_M2 for ring in polygon.interiors):
        raise JobValueError(f"{what} would run right round another room; split it into parts first.")
    return tidy(tuple((float(x), float(y)) for x, y in list(polygon.exterior.coords)[:-1]), what)


@dataclass(frozen=True)
class Placed:
    """A job with rooms of new shapes, and the openings that found no wall any more."""

    job: Job
    lost: tuple[Opening, ...]


def with_rooms(job: Job, rooms: tuple[Room, ...]) -> Placed:
    """The job with other rooms: openings, overrides and what stands in the rooms keep their place on the plan.

    An opening of a room that has changed goes to the nearest parallel wall within 0.25 m of where it was; its own
    room first. A room that is gone gives its registers, furniture and appliances to the room that now lies there.

    Raises:
        JobValueError: a register's or a piece of furniture's room is gone and no room lies there.
    """
    old = {r.id: r for r in job.rooms}
    new = {r.id: r for r in rooms}
    touched = {i for i, r in old.items() if i not in new or new[i].outline_m != r.outline_m}
    openings, lost = [], []
    for o in job.openings:
        placed = _placed(o, old[o.room], rooms) if o.room in touched else o
        openings.append(placed) if placed else lost.append(o)
    overrides = [w for w in job.wall_overrides if w.room not in touched]
    for w in job.wall_overrides:
        if w.room in touched:
            overrides += _moved_override(w, old[w.room], rooms)
    gone = {i: r for i, r in old.items() if i not in new}
    after = changed(
        job,
        job.name,
        rooms=rooms,
        openings=tuple(openings),
        wall_overrides=tuple(overrides),
        **{name: _rehomed(getattr(job, name), gone, rooms) for name in IN_ROOMS},
        **in_designs(job, lambda d: _design_rehomed(d, gone, rooms)),
    )
    return Placed(after, tuple(lost))


def _design_rehomed(d: Design, gone: dict[str, Room], rooms: tuple[Room, ...]) -> Design:
    """A design once rooms have gone: their registers are of the rooms that lie there now."""
    if not gone:
        return d

    def left(record: Any) -> Any:
        kept = tuple(x for x in record.rooms if x not in gone)
        return changed(record, "", rooms=kept) if kept != record.rooms else record

    return changed(
        d,
        d.name,
        registers=_rehomed(d.registers, gone, rooms),
        zones=tuple(left(z) for z in d.zones),
        indoor_units=tuple(left(x) for x in d.indoor_units),
    )


IN_ROOMS = ("furniture", "existing", "appliances")


def _rehomed(items: tuple[Any, ...], gone: dict[str, Room], rooms: tuple[Room, ...]) -> tuple[Any, ...]:
    """Things of rooms that are gone, given to the rooms that lie there now."""
    out = []
    for x in items:
        if x.room not in gone:
            out.append(x)
            continue
        before = gone[x.room]
        at = getattr(x, "position_m", None) or tuple(shape_of(before.outline_m).representative_point().coords[0])
        home = next((r for r in rooms if r.storey == before.storey and _holds(r, at)), None)
        if home is not None:
            out.append(changed(x, room=home.id))
        elif isinstance(x, Existing):
            out.append(changed(x, room=None))
        elif not isinstance(x, Appliance):
            what = getattr(x, "tag", None) or f"The {x.kind.replace('_', ' ')} in {before.name}"
            raise JobValueError(f"{what} would be left without a room; move it first.")
    return tuple(out)


def _holds(room: Room, at: Point) -> bool:
    return in_room(room, at)


def _placed(o: Opening, home: Room, rooms: tuple[Room, ...]) -> Opening | None:
    if o.wall < 0 or o.wall >= len(home.outline_m):
        return None
    p, q = opening_line(o, home)
    middle = ((p[0] + q[0]) / 2, (p[1] + q[1]) / 2)
    best: tuple[float, str, int, float] | None = None
    for room in rooms:
        if room.storey != home.storey:
            continue
        for wall in range(len(room.outline_m)):
            found = along_wall(room.outline_m, wall, middle)
            if found is None or not _parallel(room.outline_m, wall, p, q):
                continue
            at, off = found
            cost = off + (0.0 if room.id == o.room else 0.5)
            if off <= TOUCH_M and (best is None or cost < best[0]):
                best = (cost, room.id, wall, at)
    if best is None:
        return None
    _, room_id, wall, at = best
    length = wall_length_m(next(r.outline_m for r in rooms if r.id == room_id), wall)
    if o.width_m > length:
        return None
    offset = min(max(at - o.width_m / 2, 0.0), length - o.width_m)
    return changed(o, room=room_id, wall=wall, offset_m=round(offset, 5))


def along_wall(outline: Outline, wall: int, at: Point) -> tuple[float, float] | None:
    """(distance along the wall, distance off it), m, of a point that lies beside the wall; None beyond its ends."""
    a, b = wall_points(outline, wall)
    length = hypot(b[0] - a[0], b[1] - a[1])
    if length < 1e-6:
        return None
    ux, uy = (b[0] - a[0]) / length, (b[1] - a[1]) / length
    along = (at[0] - a[0]) * ux + (at[1] - a[1]) * uy
    off = abs((at[0] - a[0]) * -uy + (at[1] - a[1]) * ux)
    return (along, off) if -0.01 <= along <= length + 0.01 else None


def _parallel(outline: Outline, wall: int, p: Point, q: Point) -> bool:
    a, b = wall_points(outline, wall)
    wx, wy, ox, oy = b[0] - a[0], b[1] - a[1], q[0] - p[0], q[1] - p[1]
    both = hypot(wx, wy) * hypot(ox, oy)
    return both > 1e-9 and abs(wx * oy - wy * ox) / both < 0.05


def _moved_override(w: WallOverride, home: Room, rooms: tuple[Room, ...]) -> list[WallOverride]:
    """The override on the walls of the same room that now lie where its wall was."""
    if w.wall >= len(home.outline_m):
        return []
    a, b = wall_points(home.outline_m, w.wall)
    out = []
    for room in rooms:
        if room.id != w.room:
            continue
        for wall in range(len(room.outline_m)):
            c, d = wall_points(room.outline_m, wall)
            found = along_wall(home.outline_m, w.wall, ((c[0] + d[0]) / 2, (c[1] + d[1]) / 2))
            if found and found[1] < TOUCH_M and _parallel(room.outline_m, wall, a, b):
                out.append(changed(w, wall=wall))
    return out


def boxed(at: Point, width: float, depth: float, turn_deg: float) -> tuple[Point, ...]:
    """Corners of a rectangle about its middle, turned clockwise on a plan with y down."""
    c, s = cos(radians(turn_deg)), sin(radians(turn_deg))
    corners = ((-width / 2, -depth / 2), (width / 2, -depth / 2), (width / 2, depth / 2), (-width / 2, depth / 2))
    return tuple((at[0] + x * c - y * s, at[1] + x * s + y * c) for x, y in corners)
