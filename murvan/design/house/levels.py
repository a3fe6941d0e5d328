"""Heights: storeys over each other, sloped ceilings, what lies over ceilings and under floors."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import atan, degrees, hypot, sqrt

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Point as At
from shapely.geometry import Polygon, box
from shapely.ops import unary_union

from murvan.design.house.geometry import OpeningFace, RoofPart, shape_of
from murvan.model.house import floor_heights
from murvan.model.job import Job, MechanicalPlace, Opening, Patch, Point, Room, Slope, Space, Storey

AT_GRADE_M = 1.3
"""A floor no higher than this over the ground stands on it or on a crawl space; common practice."""
BELOW_GRADE_M = 0.3
"""A floor deeper than this counts as below grade and has no slab edge."""
CEILINGS = ("attic", "roof")
FLOORS = ("slab", "crawl", "basement", "outdoors", "garage", "below")
Outline = tuple[Point, ...]


def overlap_share(a: tuple[float, float], b: tuple[float, float]) -> float:
    """Share of the height range a that lies beside b."""
    return max(min(a[1], b[1]) - max(a[0], b[0]), 0.0) / max(a[1] - a[0], 1e-9)


# ---- sloped ceilings ------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class RoofShape:
    """A sloped ceiling over one room."""

    axis: int
    low: float
    """Where the room begins along the axis, m on the plan."""
    high: float
    """Where it ends along the axis, m on the plan."""
    slope: Slope
    volume_m3: float
    sloped_m2: float
    """True area along the slope."""
    flat_m2: float
    sides_m2: tuple[tuple[float, float], ...] = ()
    """Sloped area by the direction it falls to on the plan, degrees clockwise from its top."""

    def height_at(self, p: Point) -> float:
        """Ceiling height over a point of the plan, m."""
        d = self._from_low(p[self.axis])
        return min(self.slope.high_m, self.slope.low_m + self.slope.pitch * max(d, 0.0))

    def _from_low(self, c: float) -> float:
        s = self.slope.low_side
        return c - self.low if s == "start" else self.high - c if s == "end" else min(c - self.low, self.high - c)

    def breaks(self) -> list[float]:
        """Coordinates along the axis, m, between which the height is linear."""
        run = (self.slope.high_m - self.slope.low_m) / self.slope.pitch
        ridge = (self.low + self.high) / 2
        marks = {"start": [self.low + run], "end": [self.high - run]}.get(
            self.slope.low_side, [self.low + run, ridge, self.high - run]
        )
        if self.slope.low_side == "both" and 2 * run <= self.high - self.low:
            marks.remove(ridge)  # flat there
        return [m for m in sorted(marks) if self.low < m < self.high]

    def mean_height(self, a: Point, b: Point) -> float:
        """Mean ceiling height along a wall from a to b, m, exact."""
        ca, cb = a[self.axis], b[self.axis]
        stops = [0.0, 1.0]
        if abs(cb - ca) > 1e-9:
            stops += [(m - ca) / (cb - ca) for m in self.breaks() if min(ca, cb) < m < max(ca, cb)]
        stops.sort()
        at = [self.height_at((a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t)) for t in stops]
        return sum((t1 - t0) * (h0 + h1) / 2 for t0, t1, h0, h1 in zip(stops, stops[1:], at, at[1:], strict=False))

    def along(self, a: Point, b: Point, base: float) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Places from a to b, 0 to 1, between which the ceiling runs straight, and its height there over `base`; beyond the
        room it goes on as it ends."""
        ca, cb = a[self.axis], b[self.axis]
        stops = {0.0, 1.0}
        if abs(cb - ca) > 1e-9:
            marks = (self.low, *self.breaks(), self.high)
            stops |= {(m - ca) / (cb - ca) for m in marks if min(ca, cb) < m < max(ca, cb)}
        t = np.array(sorted(stops))
        points = [(a[0] + (b[0] - a[0]) * x, a[1] + (b[1] - a[1]) * x) for x in t.tolist()]
        return t, base + np.array([self.height_at(q) for q in points])

    def is_low_wall(self, a: Point, b: Point) -> bool:
        """Whether a wall runs along a low side."""
        if abs(b[self.axis] - a[self.axis]) > 0.1:
            return False
        near = {"start": (self.low,), "end": (self.high,)}.get(self.slope.low_side, (self.low, self.high))
        return any(abs(a[self.axis] - m) < 0.1 for m in near)

    def falls_to(self, p: Point) -> float:
        """Direction on the plan the roof over a point looks to, degrees clockwise from the plan's top."""
        start = self.slope.low_side == "start" or (
            self.slope.low_side == "both" and p[self.axis] < (self.low + self.high) / 2
        )
        if self.axis == 0:
            return 270.0 if start else 90.0
        return 0.0 if start else 180.0


def roof_shape(room: Room) -> RoofShape | None:
    """The room's sloped ceiling worked out; None when it is flat."""
    return _roof_shape(room.outline_m, room.slope) if room.slope is not None else None


def headroom_m(place: MechanicalPlace, at: Point) -> float:
    """Clear height over a point of a mechanical place, under the slope too."""
    if place.slope is None:
        return place.clear_m
    return min(_roof_shape(place.outline_m, place.slope).height_at(at), place.clear_m)


@lru_cache(maxsize=512)
def _roof_shape(outline: Outline, slope: Slope) -> RoofShape:
    axis = 0 if slope.rises == "x" else 1
    values = [p[axis] for p in outline]
    bare = RoofShape(axis, min(values), max(values), slope, 0.0, 0.0, 0.0)
    edges = [bare.low, *bare.breaks(), bare.high]
    volume = sloped = flat = 0.0
    sides: dict[float, float] = {}
    shape = Polygon(outline)
    far = 1e4
    for a, b in zip(edges, edges[1:], strict=False):
        strip = box(a, -far, b, far) if axis == 0 else box(-far, a, far, b)
        part = shape.intersection(strip)
        if part.area <= 0:
            continue
        c = part.centroid
        h = bare.height_at((c.x, c.y))
        volume += part.area * h
        middle = (a + b) / 2
        level = bare._from_low(middle) * slope.pitch + slope.low_m >= slope.high_m - 1e-9
        if level:
            flat += part.area
        else:
            along = part.area * sqrt(1 + slope.pitch**2)
            sloped += along
            side = bare.falls_to((middle, middle))
            sides[side] = sides.get(side, 0.0) + along
    return RoofShape(axis, bare.low, bare.high, slope, volume, sloped, flat, tuple(sides.items()))


# ---- over and under -------------------------------------------------------------------------------------------


def ceilings(
    rooms: tuple[Room, ...],
    storeys: tuple[Storey, ...],
    areas: tuple[float, ...],
    shapes: list[RoofShape | None],
    patches: tuple[Patch, ...],
) -> dict[str, list[float]]:
    """Ceiling by what lies over it, m2 by room. What has a room over it is left out."""
    out: dict[str, list[float]] = {k: [0.0] * len(rooms) for k in CEILINGS}
    neighbours = _other_levels(rooms, storeys, +1)
    for i, (room, area, shape) in enumerate(zip(rooms, areas, shapes, strict=True)):
        rest, special = _apart(room, patches, "ceiling")
        over = _shared(rest, neighbours[room.storey])
        whole = float(rest.area)
        free = max(whole - over, 0.0) if room.ceiling == "auto" else (0.0 if room.ceiling == "heated" else whole)
        free = free if free > 0.02 * area else 0.0
        mine = dict.fromkeys(CEILINGS, 0.0)
        if shape is not None:
            mine["roof"] = shape.sloped_m2 * free / area
            mine["roof" if room.ceiling == "roof" else "attic"] += shape.flat_m2 * free / area
        else:
            mine["roof" if room.ceiling == "roof" else "attic"] = free
        for k in CEILINGS:
            out[k][i] = mine[k] + special.get(k, 0.0)
    return out


def roof_parts(shapes: list[RoofShape | None], roof_m2: list[float], north_deg: float) -> tuple[RoofPart, ...]:
    """Ceilings that are the roof, by where they look and how steep they are; `roof_m2` is by room."""
    out = []
    for i, (shape, area) in enumerate(zip(shapes, roof_m2, strict=True)):
        sloped = min(shape.sloped_m2, area) if shape is not None else 0.0
        if shape is not None and sloped > 0:
            tilt = degrees(atan(shape.slope.pitch))
            for falls, side in shape.sides_m2:
                out.append(RoofPart(i, (falls - north_deg) % 360, tilt, sloped * side / shape.sloped_m2))
        if area - sloped > 1e-9:
            out.append(RoofPart(i, 180.0, 0.0, area - sloped))
    return tuple(out)


def stack_storeys(rooms: tuple[Room, ...], storeys: tuple[Storey, ...]) -> int:
    """Storeys with rooms whose middle stands over the ground outside, at least one."""
    used, z = {r.storey for r in rooms}, floor_heights(storeys)
    return max(sum(1 for s in storeys if s.id in used and z[s.id] + s.height_m / 2 > 0), 1)


def over_spaces(
    rooms: tuple[Room, ...], storeys: tuple[Storey, ...], spaces: tuple[Space, ...], garage_m2: list[float]
) -> dict[str, list[float]]:
    """Floor over each garage or porch, m2 by room: `garage_m2` shared out by what lies below; where nothing does but
    the floor was said to be over a garage, it is the nearest one."""
    out = {s.id: [0.0] * len(rooms) for s in spaces}
    order = {s.id: i for i, s in enumerate(storeys)}
    for i, (room, area) in enumerate(zip(rooms, garage_m2, strict=True)):
        if area <= 0 or not spaces:
            continue
        shape = shape_of(room.outline_m)
        below = {s.id: _shared(shape, (s.outline_m,)) for s in spaces if order[s.storey] <= order[room.storey]}
        whole = sum(below.values())
        if whole > 0.01:
            for name, part in below.items():
                out[name][i] = area * part / whole
        else:
            nearest = min(spaces, key=lambda s: shape_of(s.outline_m).distance(shape))
            out[nearest.id][i] = area
    return out


def floors(
    rooms: tuple[Room, ...],
    storeys: tuple[Storey, ...],
    spaces: tuple[Space, ...],
    areas: tuple[float, ...],
    job: Job,
) -> dict[str, list[float]]:
    """Floor by what lies under it, m2 by room. What has a room under it is left out."""
    z = floor_heights(storeys)
    ground = ground_floor(job)
    neighbours = _other_levels(rooms, storeys, -1)
    out: dict[str, list[float]] = {k: [0.0] * len(rooms) for k in FLOORS}
    for i, (room, area) in enumerate(zip(rooms, areas, strict=True)):
        rest, special = _apart(room, job.patches, "floor")
        mine = dict.fromkeys(FLOORS, 0.0)
        if room.floor == "auto":
            free = max(float(rest.area) - _shared(rest, neighbours[room.storey]), 0.0)
            free = free if free > 0.02 * area else 0.0
            kind = stands_on(z[room.storey], ground)
            if kind == "outdoors":
                mine["garage"] = min(_shared(rest, _spaces_under(room, storeys, spaces)), free)
                free -= mine["garage"]
            mine[kind] = free
        elif room.floor != "heated":
            mine[room.floor] = float(rest.area)
        for k in FLOORS:
            out[k][i] = mine[k] + special.get(k, 0.0)
    return out


def ground_floor(job: Job) -> str:
    """What a floor at grade stands on: as chosen, else a crawl space when the common floor is a raised one."""
    if job.foundation != "auto":
        return job.foundation
    common = next((c for c in job.constructions if c.id == job.floor_construction), None)
    return "crawl" if common is not None and common.kind == "floor" else "slab"


def stands_on(floor_m: float, ground: str) -> str:
    """What a floor at a height over the ground stands on where no room is under it: 'below' grade, `ground`, or 'outdoors'."""
    return "below" if floor_m < -BELOW_GRADE_M else ground if floor_m <= AT_GRADE_M else "outdoors"


def below_grade(job: Job, storey: str) -> bool:
    """Whether a storey's floor lies below grade: a basement."""
    return stands_on(floor_heights(job.storeys)[storey], "") == "below"


def _apart(room: Room, patches: tuple[Patch, ...], face: str) -> tuple[Polygon, dict[str, float]]:
    """The part of a room that no patch speaks of, and the area each patch gives to what lies beyond it."""
    rest = shape_of(room.outline_m)
    special: dict[str, float] = {}
    for patch in patches:
        if patch.face != face or patch.storey != room.storey:
            continue
        shape = shape_of(patch.outline_m)
        shared = float(rest.intersection(shape).area)
        if shared > 0.01:
            special[patch.beyond] = special.get(patch.beyond, 0.0) + shared
            rest = rest.difference(shape)
    return rest, special


def _other_levels(rooms: tuple[Room, ...], storeys: tuple[Storey, ...], step: int) -> dict[str, tuple[Outline, ...]]:
    """By storey, the outlines of all rooms on higher (+1) or lower (-1) storeys."""
    order = {s.id: i for i, s in enumerate(storeys)}
    return {s.id: tuple(r.outline_m for r in rooms if (order[r.storey] - order[s.id]) * step > 0) for s in storeys}


def _spaces_under(room: Room, storeys: tuple[Storey, ...], spaces: tuple[Space, ...]) -> tuple[Outline, ...]:
    order = {s.id: i for i, s in enumerate(storeys)}
    return tuple(s.outline_m for s in spaces if order[s.storey] < order[room.storey])


def _shared(shape: Polygon, others: tuple[Outline, ...]) -> float:
    return float(shape.intersection(_union(others)).area) if others else 0.0


def next_storey(job: Job, storey: str, step: int) -> Storey | None:
    """The storey nearest above or below with rooms over or under those of one; wings beside it are passed over."""
    n = [s.id for s in job.storeys].index(storey)
    own = _outlines(job, storey)
    on = job.storeys[n + 1 :] if step > 0 else job.storeys[:n][::-1]
    return next((s for s in on if _overlap(own, _outlines(job, s.id))), None)


def _outlines(job: Job, storey: str) -> tuple[Outline, ...]:
    return tuple(r.outline_m for r in job.rooms if r.storey == storey)


@lru_cache(maxsize=256)
def _overlap(a: tuple[Outline, ...], b: tuple[Outline, ...]) -> bool:
    return bool(a and b and _union(a).intersection(_union(b)).area > OVER_M2)


OVER_M2 = 0.5
"""Rooms that share less floor than this stand beside each other."""


@lru_cache(maxsize=64)
def _union(outlines: tuple[Outline, ...]) -> Polygon:
    return unary_union([Polygon(o) for o in outlines])


def footprint_width(rooms: list[Room]) -> float:
    """Shorter side of the box round some rooms, m; 0 without any."""
    points = [p for r in rooms for p in r.outline_m]
    if not points:
        return 0.0
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(max(xs) - min(xs), max(ys) - min(ys))


# ---- skylights ------------------------------------------------------------------------------------------------


def skylights(
    rooms: tuple[Room, ...], openings: tuple[Opening, ...], up: dict[str, list[float]], north_deg: float
) -> list[OpeningFace]:
    """Skylights as faces; their area is taken off the ceiling they lie in."""
    index = {r.id: i for i, r in enumerate(rooms)}
    out = []
    for k, o in enumerate(openings):
        if o.kind != "skylight" or o.position_m is None or o.room not in index:
            continue
        i = index[o.room]
        area = o.width_m * o.height_m
        facing, tilt = sky_plane(rooms[i], o)
        for kind in ("roof", "attic"):
            if up[kind][i] > 0:
                up[kind][i] = max(up[kind][i] - area, 0.0)
                break
        out.append(OpeningFace(k, i, (facing - north_deg) % 360, area, "outdoors", tilt))
    return out


def sky_plane(room: Room, opening: Opening) -> tuple[float, float]:
    """(direction from the plan's top, tilt from level) of a skylight, degrees."""
    shape = roof_shape(room)
    if shape is None or opening.position_m is None:
        return 180.0, opening.tilt_deg
    return shape.falls_to(opening.position_m), degrees(atan(shape.slope.pitch))


def in_room(room: Room, at: Point) -> bool:
    """Whether a point lies in a room or within 5 cm of its walls."""
    return bool(shapely.dwithin(_floor(room.outline_m), At(at), 0.05))


@lru_cache(maxsize=1024)
def _floor(outline: tuple[Point, ...]) -> Polygon:
    shape = Polygon(outline)
    shapely.prepare(shape)
    return shape


def distance(a: Point, b: Point) -> float:
    """Between two points of the plan, m."""
    return hypot(b[0] - a[0], b[1] - a[1])
