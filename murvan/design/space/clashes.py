"""Ducts as they lie in space, and where two of them want the same place.

Every straight leg of a run is its rectangle on the plan between two heights. What meets at a joint may touch there.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from math import dist, hypot
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import box as rectangle

from murvan.design.space.solids import Block
from murvan.model.design import Joint
from murvan.model.house import Storey, floor_heights
from murvan.model.job import Point
from murvan.model.routes import LaidRun

TOUCH_M2, TOUCH_M = 0.002, 0.02
"""Ducts that share no more than this on the plan, or upright, only touch: sheet gives way."""
LEVEL_M = 0.05
"""A rise of less is within a joint."""
AT_JOINT_M = 0.05
"""What a fitting takes beyond the half width of the larger duct."""


class Leg(NamedTuple):
    """A straight part of a run, m; upright where both ends are at one place of the plan."""

    run: LaidRun
    a: Point
    b: Point
    low_m: float
    """Of its underside over the ground."""
    high_m: float
    half_m: float
    """Half of its width on the plan, across its way."""
    foot_m: Point
    """Of one that is upright: half of what it covers along x and y."""


class Clash(NamedTuple):
    """Two runs that want the same place, and about where."""

    one: LaidRun
    other: LaidRun
    at: Point


def legs_of(runs: tuple[LaidRun, ...], joints: tuple[Joint, ...], storeys: tuple[Storey, ...]) -> tuple[Leg, ...]:
    """All legs; a run that changes its level does so where it starts."""
    floor, by_id = floor_heights(storeys), {j.id: j for j in joints}
    onward: dict[str, list[LaidRun]] = {}
    for run in runs:
        onward.setdefault(run.start, []).append(run)
    out = []
    for run in runs:
        a, b = by_id[run.start], by_id[run.end]
        z0, z1 = floor[a.storey] + a.height_m, floor[b.storey] + b.height_m
        wide = (run.diameter_m or run.width_m or 0.0) / 2
        high = (run.diameter_m or run.height_m or 0.0) / 2
        if abs(z1 - z0) > LEVEL_M:
            foot = _foot(_level_way(run, onward), wide, high)
            at = run.path_m[0]
            out.append(Leg(run, at, at, min(z0, z1) - high, max(z0, z1) + high, max(foot), foot))
        for p, q in zip(run.path_m, run.path_m[1:], strict=False):
            if dist(p, q) > 0:
                out.append(Leg(run, p, q, z1 - high, z1 + high, wide, (wide, wide)))
    return tuple(out)


def _level_way(run: LaidRun, onward: dict[str, list[LaidRun]]) -> Point | None:
    """Which way a riser goes on the plan where it turns level: its own first leg, else that of what goes on from it."""
    for one in (run, *onward.get(run.end, ())):
        for a, b in zip(one.path_m, one.path_m[1:], strict=False):
            if dist(a, b) > AT_JOINT_M:
                return (b[0] - a[0], b[1] - a[1])
    return None


def _foot(way: Point | None, wide: float, high: float) -> Point:
    """Half of what a riser covers along x and y: its width lies across the way it turns to, so that its elbow turns in its height;
    its larger side both ways where it turns nowhere."""
    if way is None:
        return (max(wide, high),) * 2
    return (high, wide) if abs(way[0]) >= abs(way[1]) else (wide, high)


def clashes(legs: tuple[Leg, ...]) -> Iterator[Clash]:
    """Every two runs that lie in each other, once."""
    if len(legs) < 2:
        return
    shapes = _all_on_plan(legs)
    tree = shapely.STRtree(shapes)
    i, k = tree.query(shapes, predicate="intersects")
    low, high = np.array([x.low_m for x in legs]), np.array([x.high_m for x in legs])
    deep = np.minimum(high[i], high[k]) - np.maximum(low[i], low[k])
    keep = (i < k) & (deep > TOUCH_M)
    seen = set()
    for m, n in zip(i[keep].tolist(), k[keep].tolist(), strict=True):
        a, b = legs[m], legs[n]
        pair = (a.run.id, b.run.id)
        if a.run.id == b.run.id or pair in seen:
            continue
        shared = shapely.intersection(*_apart(a, b, shapes[m], shapes[n]))
        if shared.area > TOUCH_M2:
            seen.add(pair)
            yield Clash(a.run, b.run, (float(shared.centroid.x), float(shared.centroid.y)))


def _all_on_plan(legs: Sequence[Leg]) -> NDArray[np.object_]:
    """What each covers on the plan."""
    a, b = np.array([x.a for x in legs]), np.array([x.b for x in legs])
    way = b - a
    long = np.hypot(*way.T)[:, None]
    side = np.column_stack([-way[:, 1], way[:, 0]]) / np.maximum(long, 1e-12) * np.array([[x.half_m] for x in legs])
    corners = np.stack([a + side, b + side, b - side, a - side], axis=1)
    foot = np.array([x.foot_m for x in legs])[:, None] * np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
    found: NDArray[np.object_] = shapely.polygons(np.where(long[:, None] > 0, corners, a[:, None] + foot))
    return found


def _apart(a: Leg, b: Leg, one: shapely.Polygon, other: shapely.Polygon) -> tuple[shapely.Polygon, shapely.Polygon]:
    """Both without what the joint where they meet takes."""
    meet = {a.run.start, a.run.end} & {b.run.start, b.run.end}
    off = hypot(a.half_m, b.half_m) + AT_JOINT_M
    for joint in meet:
        at = a.run.path_m[0] if a.run.start == joint else a.run.path_m[-1]
        hole = shapely.Point(at).buffer(off)
        one, other = one.difference(hole), other.difference(hole)
    beside = a.run.parent is None and b.run.parent is None and _of(a) == _of(b)
    if not meet and beside:  # side by side at their plenum
        hole = shapely.Point(a.run.path_m[0]).buffer(off)
        one, other = one.difference(hole), other.difference(hole)
    return one, other


def _of(x: Leg) -> tuple[str, str]:
    return x.run.indoor, x.run.side


class Pierced(NamedTuple):
    """A run that goes through a unit or a plenum."""

    run: LaidRun
    block: Block
    at: Point


def pierced(legs: tuple[Leg, ...], blocks: Iterable[Block]) -> Iterator[Pierced]:
    """Every run that wants the place of a unit, or of a plenum that it does not start from, once each."""
    for block in blocks:
        on_plan = rectangle(*block.low[:2], *block.high[:2])
        others = tuple(x for x in legs if _of(x) != (block.owner, block.kind))
        yield from (Pierced(x.run, block, at) for x, at in meetings(others, on_plan, block.low[2], block.high[2]))


def meetings(
    legs: tuple[Leg, ...], on_plan: shapely.Polygon, low_m: float, high_m: float
) -> Iterator[tuple[Leg, Point]]:
    """Where runs go through what stands on an outline between two heights over the ground, each run once."""
    seen = set()
    level = [x for x in legs if min(x.high_m, high_m) - max(x.low_m, low_m) > TOUCH_M]
    for x, shape in zip(level, _all_on_plan(level) if level else (), strict=True):
        if x.run.id in seen:
            continue
        shared = shape.intersection(on_plan)
        if shared.area > TOUCH_M2 and _deep(shared) > PIERCED_M:
            seen.add(x.run.id)
            yield x, (float(shared.centroid.x), float(shared.centroid.y))


PIERCED_M = 0.03
"""A duct that reaches no further into a box only touches it."""


def _deep(shape: shapely.Geometry) -> float:
    x0, y0, x1, y1 = shape.bounds
    return float(min(x1 - x0, y1 - y0))
