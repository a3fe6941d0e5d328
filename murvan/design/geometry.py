"""What the plan encloses: floor areas, walls by what lies beyond them, openings, ceilings and floors.

Walls are found by laying every room's sides against those of the other rooms and spaces of the storey; where
two run along each other within 0.25 m they are one wall. What is left over faces the outdoors.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from math import atan2, degrees, hypot

import shapely
from shapely.geometry import Polygon

from murvan.model.job import Job, Opening, Room, Space, Storey, signed_area

TOUCH_M = 0.25
SHORT_M = 0.02
COMPASS = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")


@dataclass(frozen=True)
class WallPart:
    """A stretch of one room's wall with a single thing beyond it."""

    room: int
    wall: int
    start_m: float
    length_m: float
    other: str
    """'outdoors', 'garage' or 'heated'."""
    neighbour: str | None
    facing_deg: float
    gross_area_m2: float
    net_area_m2: float
    construction: str | None

    @property
    def compass(self) -> str:
        return compass(self.facing_deg)


@dataclass(frozen=True)
class OpeningFace:
    """An opening with the room it belongs to and where it looks."""

    index: int
    room: int
    facing_deg: float
    area_m2: float
    other: str


@dataclass(frozen=True)
class Geometry:
    """Measures of the house; tuples are indexed by the order of `job.rooms`."""

    storeys: tuple[Storey, ...]
    area_m2: tuple[float, ...]
    height_m: tuple[float, ...]
    volume_m3: tuple[float, ...]
    walls: tuple[WallPart, ...]
    openings: tuple[OpeningFace, ...]
    ceiling_attic_m2: tuple[float, ...]
    ceiling_roof_m2: tuple[float, ...]
    floor_slab_m2: tuple[float, ...]
    floor_crawl_m2: tuple[float, ...]
    floor_outdoors_m2: tuple[float, ...]
    edge_m: tuple[float, ...]
    """Exposed slab edge."""
    centre_m: tuple[tuple[float, float], ...]

    @property
    def total_area_m2(self) -> float:
        return sum(self.area_m2)

    @property
    def total_volume_m3(self) -> float:
        return sum(self.volume_m3)

    @cached_property
    def exposed_wall_m2(self) -> tuple[float, ...]:
        """Gross wall to the outdoors or a garage, by room."""
        out = [0.0] * len(self.area_m2)
        for w in self.walls:
            if w.other != "heated":
                out[w.room] += w.gross_area_m2
        return tuple(out)


def compass(facing_deg: float) -> str:
    """The nearest of eight directions."""
    return COMPASS[int((facing_deg % 360) / 45 + 0.5) % 8]


def wall_points(
    outline: tuple[tuple[float, float], ...], wall: int
) -> tuple[tuple[float, float], tuple[float, float]]:
    """Both ends of a wall, in outline order."""
    return outline[wall], outline[(wall + 1) % len(outline)]


def wall_length_m(outline: tuple[tuple[float, float], ...], wall: int) -> float:
    (x0, y0), (x1, y1) = wall_points(outline, wall)
    return hypot(x1 - x0, y1 - y0)


def wall_facing_deg(outline: tuple[tuple[float, float], ...], wall: int, north_deg: float = 0.0) -> float:
    """Compass direction of the wall's outward side, clockwise from north."""
    (x0, y0), (x1, y1) = wall_points(outline, wall)
    dx, dy = x1 - x0, y1 - y0
    nx, ny = (dy, -dx) if signed_area(outline) > 0 else (-dy, dx)
    return (degrees(atan2(nx, -ny)) - north_deg) % 360


def room_height_m(room: Room, storeys: dict[str, Storey]) -> float:
    return room.height_m if room.height_m is not None else storeys[room.storey].height_m


def measure(
    rooms: tuple[Room, ...],
    storeys: tuple[Storey, ...],
    openings: tuple[Opening, ...],
    spaces: tuple[Space, ...],
    job: Job,
) -> Geometry:
    """Measure the house. `job` is read only for the common constructions, overrides and north."""
    by_id = {s.id: s for s in storeys}
    heights = tuple(room_height_m(r, by_id) for r in rooms)
    areas = tuple(abs(signed_area(r.outline_m)) for r in rooms)
    parts, faces = _walls(rooms, heights, openings, spaces, job)
    up = _ceilings(rooms, storeys, areas)
    down = _floors(rooms, storeys, areas)
    edges = [0.0] * len(rooms)
    for p in parts:
        if down["slab"][p.room] > 0 and p.other == "outdoors":
            edges[p.room] += p.length_m
    return Geometry(
        storeys=storeys,
        area_m2=areas,
        height_m=heights,
        volume_m3=tuple(a * h for a, h in zip(areas, heights, strict=True)),
        walls=tuple(parts),
        openings=tuple(faces),
        ceiling_attic_m2=up["attic"],
        ceiling_roof_m2=up["roof"],
        floor_slab_m2=down["slab"],
        floor_crawl_m2=down["crawl"],
        floor_outdoors_m2=down["outdoors"],
        edge_m=tuple(edges),
        centre_m=tuple(_label_point(r) for r in rooms),
    )


def _label_point(room: Room) -> tuple[float, float]:
    """A point well inside the room: its centroid, or a representative point for L and U shapes."""
    shape = Polygon(room.outline_m)
    c = shape.centroid
    box = shape.minimum_rotated_rectangle.area
    if shape.contains(c) and shape.area > 0.9 * box:
        return (c.x, c.y)
    p = shapely.maximum_inscribed_circle(shape).coords[0]
    return (float(p[0]), float(p[1]))


def _walls(
    rooms: tuple[Room, ...],
    heights: tuple[float, ...],
    openings: tuple[Opening, ...],
    spaces: tuple[Space, ...],
    job: Job,
) -> tuple[list[WallPart], list[OpeningFace]]:
    overrides = {(o.room, o.wall): o for o in job.wall_overrides}
    north = job.site.north_deg
    by_wall: dict[tuple[str, int], list[int]] = {}
    for i, o in enumerate(openings):
        by_wall.setdefault((o.room, o.wall), []).append(i)
    parts: list[WallPart] = []
    faces: list[OpeningFace] = []
    for i, room in enumerate(rooms):
        for wall in range(len(room.outline_m)):
            facing = wall_facing_deg(room.outline_m, wall, north)
            override = overrides.get((room.id, wall))
            parts_of = stretches(room, wall, rooms, spaces)
            if override and override.other_side != "auto":
                parts_of = [(0.0, wall_length_m(room.outline_m, wall), override.other_side, None)]
            mine = by_wall.get((room.id, wall), [])
            taken = [0.0] * len(parts_of)
            for index in mine:
                opening = openings[index]
                if opening.inside or opening.kind == "archway":
                    continue
                middle = opening.offset_m + opening.width_m / 2
                at = next((k for k, s in enumerate(parts_of) if s[0] <= middle <= s[0] + s[1]), None)
                if at is None:
                    continue
                taken[at] += opening.width_m * opening.height_m
                faces.append(OpeningFace(index, i, facing, opening.width_m * opening.height_m, parts_of[at][2]))
            for k, (start, length, other, neighbour) in enumerate(parts_of):
                gross = length * heights[i]
                own = override.construction if override else None
                parts.append(
                    WallPart(
                        i,
                        wall,
                        start,
                        length,
                        other,
                        neighbour,
                        facing,
                        gross,
                        max(gross - taken[k], 0.0),
                        own or (job.partition_construction if other == "heated" else job.wall_construction),
                    )
                )
    return parts, faces


def stretches(
    room: Room, wall: int, rooms: tuple[Room, ...], spaces: tuple[Space, ...]
) -> list[tuple[float, float, str, str | None]]:
    """Where along the wall which neighbour lies: (start, length, other side, neighbour id)."""
    a, b = wall_points(room.outline_m, wall)
    length = hypot(b[0] - a[0], b[1] - a[1])
    if length < SHORT_M:
        return []
    cover: list[tuple[float, float, str, str | None]] = []
    for other in rooms:
        if other.id != room.id and other.storey == room.storey:
            cover += [(s, e, "heated", other.id) for s, e in _overlaps(a, b, length, other.outline_m)]
    for space in spaces:
        if space.storey == room.storey:
            cover += [(s, e, "garage", space.id) for s, e in _overlaps(a, b, length, space.outline_m)]
    cuts = sorted({0.0, length, *(x for c in cover for x in c[:2])})
    out: list[tuple[float, float, str, str | None]] = []
    for s, e in zip(cuts, cuts[1:], strict=False):
        if e - s < SHORT_M:
            continue
        middle = (s + e) / 2
        hit = next((c for c in cover if c[0] <= middle <= c[1]), None)
        kind, neighbour = (hit[2], hit[3]) if hit else ("outdoors", None)
        if out and out[-1][2:] == (kind, neighbour):
            out[-1] = (out[-1][0], e - out[-1][0], kind, neighbour)
        else:
            out.append((s, e - s, kind, neighbour))
    return out


def _overlaps(
    a: tuple[float, float], b: tuple[float, float], length: float, outline: tuple[tuple[float, float], ...]
) -> list[tuple[float, float]]:
    """Stretches of a-b along which a side of `outline` runs within TOUCH_M, as distances from a."""
    ux, uy = (b[0] - a[0]) / length, (b[1] - a[1]) / length
    out = []
    n = len(outline)
    for i in range(n):
        c, d = outline[i], outline[(i + 1) % n]
        off_c = (c[0] - a[0]) * -uy + (c[1] - a[1]) * ux
        off_d = (d[0] - a[0]) * -uy + (d[1] - a[1]) * ux
        if abs(off_c) > TOUCH_M or abs(off_d) > TOUCH_M:
            continue
        t = sorted(((c[0] - a[0]) * ux + (c[1] - a[1]) * uy, (d[0] - a[0]) * ux + (d[1] - a[1]) * uy))
        s, e = max(t[0], 0.0), min(t[1], length)
        if e - s > SHORT_M:
            out.append((s, e))
    return out


def _ceilings(
    rooms: tuple[Room, ...], storeys: tuple[Storey, ...], areas: tuple[float, ...]
) -> dict[str, tuple[float, ...]]:
    covered = _cover(rooms, storeys, +1)
    attic, roof = [], []
    for room, area, over in zip(rooms, areas, covered, strict=True):
        open_area = max(area - over, 0.0) if room.ceiling == "auto" else (0.0 if room.ceiling == "heated" else area)
        open_area = open_area if open_area > 0.02 * area else 0.0
        attic.append(0.0 if room.ceiling == "roof" else open_area)
        roof.append(open_area if room.ceiling == "roof" else 0.0)
    return {"attic": tuple(attic), "roof": tuple(roof)}


def _floors(
    rooms: tuple[Room, ...], storeys: tuple[Storey, ...], areas: tuple[float, ...]
) -> dict[str, tuple[float, ...]]:
    covered = _cover(rooms, storeys, -1)
    lowest = storeys[0].id if storeys else None
    out: dict[str, list[float]] = {"slab": [], "crawl": [], "outdoors": []}
    for room, area, under in zip(rooms, areas, covered, strict=True):
        kind: str = room.floor
        share = area
        if kind == "auto":
            kind = "slab" if room.storey == lowest else "outdoors"
            share = area if room.storey == lowest else max(area - under, 0.0)
            share = share if share > 0.02 * area else 0.0
        kind = {"garage": "outdoors", "basement": "crawl"}.get(kind, kind)
        for name, values in out.items():
            values.append(share if name == kind else 0.0)
    return {k: tuple(v) for k, v in out.items()}


def _cover(rooms: tuple[Room, ...], storeys: tuple[Storey, ...], step: int) -> list[float]:
    """Area of each room that has a room directly above (+1) or below (-1)."""
    order = {s.id: i for i, s in enumerate(storeys)}
    shapes = [Polygon(r.outline_m) for r in rooms]
    out = []
    for i, room in enumerate(rooms):
        level = order[room.storey] + step
        others = [shapes[j] for j, r in enumerate(rooms) if order[r.storey] == level]
        out.append(sum(float(shapes[i].intersection(o).area) for o in others if shapes[i].intersects(o)))
    return out
