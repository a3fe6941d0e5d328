"""Wings of a house that stand beside each other on unlike floors: where ducts get from one attic to the other."""

from __future__ import annotations

from typing import NamedTuple

import shapely
from shapely import Polygon
from shapely.ops import unary_union

from murvan.design.house.geometry import shape_of
from murvan.design.space.duct_levels import levels
from murvan.model.house import floor_heights
from murvan.model.job import Job, Point

AT_WALL_M = 0.3
"""How far from the wall they share a chase stands at most."""
WALL_M = 0.3
"""Rooms nearer to each other than that share a wall."""
SHARED_M2 = 0.5


class Wing(NamedTuple):
    """Two storeys beside each other, the attic of one lower than that of the other."""

    low: str
    high: str
    strip: Polygon
    """Of the higher one, along the wall."""
    lines: tuple[Point, ...]
    """Places in it through which the grid of ducts leads."""


def wings(job: Job) -> tuple[Wing, ...]:
    """Every two storeys that share a wall and no floor, none with rooms over it where they meet."""
    shapes = {s.id: unary_union([shape_of(r.outline_m) for r in job.rooms if r.storey == s.id]) for s in job.storeys}
    used = [s for s in job.storeys if not shapes[s.id].is_empty]
    floor = floor_heights(job.storeys)
    over = {s.id: floor[s.id] + levels(job, s).over for s in used}
    found = []
    for k, a in enumerate(used):
        for b in used[k + 1 :]:
            low, high = sorted((a.id, b.id), key=lambda i: over[i])
            gap = shapes[high].distance(shapes[low])
            if gap > WALL_M or shapes[high].intersection(shapes[low]).area > SHARED_M2:
                continue
            strip = shapes[high].intersection(shapes[low].buffer(gap + AT_WALL_M, join_style="mitre"))
            if strip.area > SHARED_M2 and _under_one_roof(shapes, (low, high), over):
                found.append(Wing(low, high, strip, _middles(strip)))
    return tuple(found)


def _under_one_roof(shapes: dict[str, Polygon], pair: tuple[str, str], over: dict[str, float]) -> bool:
    """Whether nothing stands over either."""
    return not any(
        over[i] > over[own] and shapes[i].intersection(shapes[own]).area > SHARED_M2
        for own in pair
        for i in over
        if i not in pair
    )


def _middles(strip: Polygon) -> tuple[Point, ...]:
    """The middle of each part of a strip."""
    parts = [p for p in shapely.get_parts(strip) if p.area > SHARED_M2 / 2]
    return tuple((round(c.x, 3), round(c.y, 3)) for c in (p.centroid for p in parts))
