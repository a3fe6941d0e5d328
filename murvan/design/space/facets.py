"""The ducts, plenums and units of a design as facets in space, and the rooms round them as lines: what a look at the whole
system draws. Long ducts are parted, so that far facets can be painted before near ones."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, dist

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.design.space.clashes import Leg, legs_of
from murvan.design.space.obstacles import prisms
from murvan.design.space.solids import blocks, room_solids
from murvan.model.job import Job
from murvan.model.record import Ref
from murvan.model.routes import LaidRun

PART_M = 1.2
"""No facet of a duct is longer."""
SIDES = 8
"""Of a round duct, as it is drawn."""


@dataclass(frozen=True, eq=False)
class Faces:
    """Facets of four corners; what has more is several."""

    corners: Array
    """(f, 4, 3), m over the ground."""
    normals: Array
    """Outwards, (f, 3)."""
    of: NDArray[np.intp]
    """Which of `things` each is of, (f,)."""
    things: tuple[tuple[str, Ref], ...]
    """'supply', 'return', 'fresh', 'unit', 'supply plenum', 'return plenum' or 'obstacle', and what it is."""
    lines: Array
    """Edges of rooms, (n, 2, 3)."""
    storeys: tuple[str, ...]
    """Of the lines, by line."""


def faces(job: Job, runs: tuple[LaidRun, ...]) -> Faces:
    """All that stands in a house and belongs to its heating and cooling.

    Args:
        runs: As they lie (`laid_runs`).
    """
    quads: list[Array] = []
    of: list[int] = []
    things: list[tuple[str, Ref]] = []
    for b in blocks(job):
        things.append((b.kind if b.kind == "unit" else f"{b.kind} plenum", b.of))
        low, high = np.array(b.low), np.array(b.high)
        quads.append(_box((low + high) / 2, np.diag((high - low) / 2)))
        of += [len(things) - 1] * 6
    for x in prisms(job):
        things.append(("obstacle", Ref("obstacle", x.obstacle.id)))
        made = _prism(np.array(x.shape.exterior.coords)[:-1], x.low_m, x.high_m)
        quads.append(made)
        of += [len(things) - 1] * len(made)
    at = {r.id: len(things) + k for k, r in enumerate(runs)}
    things += [(r.side, Ref("run", r.id)) for r in runs]
    for leg in legs_of(runs, job.design.joints, job.storeys):
        made = _leg(leg)
        quads.append(made)
        of += [at[leg.run.id]] * len(made)
    corners = np.concatenate(quads) if quads else np.zeros((0, 4, 3))
    lines, storeys = _edges(job)
    return Faces(corners, _normals(corners), np.array(of, np.intp), tuple(things), lines, storeys)


def _normals(corners: Array) -> Array:
    out = np.cross(corners[:, 2] - corners[:, 0], corners[:, 3] - corners[:, 1])
    return np.asarray(out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-12))


BOX = (
    ((1, -1, -1), (1, 1, -1), (1, 1, 1), (1, -1, 1)),
    ((-1, 1, -1), (-1, -1, -1), (-1, -1, 1), (-1, 1, 1)),
    ((1, 1, -1), (-1, 1, -1), (-1, 1, 1), (1, 1, 1)),
    ((-1, -1, -1), (1, -1, -1), (1, -1, 1), (-1, -1, 1)),
    ((-1, -1, 1), (1, -1, 1), (1, 1, 1), (-1, 1, 1)),
    ((-1, 1, -1), (1, 1, -1), (1, -1, -1), (-1, -1, -1)),
)
"""Corners of the six sides, seen from outside against the clock."""


def _box(middle: Array, axes: Array) -> Array:
    """The sides of a box, (6, 4, 3); `axes` are its three half lengths as rows, right-handed."""
    return np.asarray(middle + np.array(BOX, float) @ axes)


def _leg(x: Leg) -> Array:
    """A straight part of a duct, parted along its way, (f, 4, 3)."""
    low, high = (x.low_m, x.high_m) if x.a == x.b else ((x.low_m + x.high_m) / 2,) * 2
    tall = (x.high_m - x.low_m) / 2
    if x.a == x.b:
        way, over, across, half = np.array([0, 0, 1.0]), np.array([0, 1.0, 0]), np.array([1.0, 0, 0]), x.foot_m[0]
        start, end = np.array([*x.a, low]), np.array([*x.a, high])
        deep = x.foot_m[1]
    else:
        (ax, ay), (bx, by) = x.a, x.b
        way = np.array([bx - ax, by - ay, 0]) / dist(x.a, x.b)
        across, over, half, deep = np.array([-way[1], way[0], 0]), np.array([0, 0, 1.0]), x.half_m, tall
        # as far beyond its corner as it is wide, so that an elbow is whole
        start, end = np.array([ax, ay, low]) - way * half * 0.9, np.array([bx, by, low]) + way * half * 0.9
    n = max(ceil(float(np.linalg.norm(end - start)) / PART_M), 1)
    stops = start + np.linspace(0, 1, n + 1)[:, None] * (end - start)
    if x.run.shape == "round":
        turn = np.linspace(0, 2 * np.pi, SIDES + 1)
        ring = half * (np.outer(np.cos(turn), across) + np.outer(np.sin(turn), over))
    else:
        ring = np.array(
            [a * half * across + b * deep * over for a, b in ((1, -1), (1, 1), (-1, 1), (-1, -1), (1, -1))]
        )
    if float(np.cross(ring[0], ring[1]) @ way) < 0:
        ring = ring[::-1]
    walls = [
        (p + ring[k], p + ring[k + 1], q + ring[k + 1], q + ring[k])
        for p, q in zip(stops, stops[1:], strict=False)
        for k in range(len(ring) - 1)
    ]
    ends = [c for p, r in ((stops[0], ring[::-1]), (stops[-1], ring)) for c in _lid(p + r)]
    return np.array([*walls, *ends])


def _prism(ring: Array, low: float, high: float) -> Array:
    """The sides, underside and top of an outline between two heights, (f, 4, 3)."""
    x, y = ring.T
    area = float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum())
    foot = np.column_stack([ring if area > 0 else ring[::-1], np.full(len(ring), low)])
    head = foot + np.array([0.0, 0.0, high - low])
    n = len(foot)
    walls = [(foot[k], foot[(k + 1) % n], head[(k + 1) % n], head[k]) for k in range(n)]
    lids = [c for r in (foot[::-1], head) for c in _lid(np.vstack([r, r[:1]]))]
    return np.array([*walls, *lids])


def _lid(ring: Array) -> list[tuple[Array, ...]]:
    """A ring's inside as facets of four corners."""
    return [(ring[0], ring[k], ring[k + 1], ring[min(k + 2, len(ring) - 1)]) for k in range(1, len(ring) - 2, 2)]


def _edges(job: Job) -> tuple[Array, tuple[str, ...]]:
    """Outlines of rooms at floor and ceiling, and their corners."""
    out: list[Array] = []
    storeys: list[str] = []
    for x in room_solids(job):
        ring = np.array(x.room.outline_m)
        low = np.column_stack([ring, np.full(len(ring), x.floor_m)])
        high = np.column_stack([ring, [x.ceiling_at((float(a), float(b))) for a, b in ring]])
        mine = [np.stack([z, np.roll(z, -1, axis=0)], axis=1) for z in (low, high)] + [np.stack([low, high], axis=1)]
        out += mine
        storeys += [x.room.storey] * sum(len(m) for m in mine)
    return (np.concatenate(out) if out else np.zeros((0, 2, 3))), tuple(storeys)
