"""What heat passes between the rooms of a house: through partitions, floors and shut doors, and with air through open doorways.

Air through an open doorway goes both ways at once and follows from the difference in temperature: V = C W/3 (g dT/T)^.5 H^1.5
(Brown and Solvason 1962, from memory).
"""

from __future__ import annotations

import numpy as np
import shapely

from murvan.arrays import Array
from murvan.design.house.geometry import shape_of
from murvan.design.house.levels import next_storey
from murvan.design.house.passages import Passage
from murvan.model.job import Job

DOORWAY_C = 0.6
"""Of discharge at a doorway; Brown and Solvason 1962, from memory."""
GRAVITY = 9.81
AIR_J_KGK = 1006.0
PARTITION_W_M2K, DOOR_W_M2K, FLOOR_W_M2K = 2.0, 2.2, 1.5
"""Studs with board on both sides, a hollow door, joists between board and floor, with their films; from memory."""
TOUCH_M = 0.2
"""Walls of rooms nearer to each other than this are one."""
DOOR_M2 = 1.8
"""A leaf, where nothing is drawn."""


def doorway_w_k(size: float, difference_k: float, density_kg_m3: float) -> float:
    """What a doorway passes a kelvin, W/K. `size`: W H^1.5, m2.5."""
    return density_kg_m3 * AIR_J_KGK * DOORWAY_C / 3 * size * float(np.sqrt(GRAVITY * difference_k / 293.0))


Doorway = tuple[int, int, float]
"""Two rooms, and W H^1.5 of the way between them."""


def joined(job: Job, still: Array, passages: tuple[Passage, ...], shut: bool) -> tuple[Array, tuple[Doorway, ...]]:
    """Conductance between rooms, (rooms, rooms), W/K, and the doorways that are open."""
    index = {x.id: k for k, x in enumerate(job.rooms)}
    tall = {s.id: s.height_m for s in job.storeys}
    g, open_ways = still.copy(), []
    for p in passages:
        a, b = index[p.room], index[p.beyond]
        if shut and (p.door is not None or p.opening is None):
            area = p.opening.width_m * p.opening.height_m if p.opening is not None else DOOR_M2
            g[a, b] = g[b, a] = g[a, b] + DOOR_W_M2K * area
            continue
        wide, high = (p.opening.width_m, p.opening.height_m) if p.opening is not None else (DOOR_M2 / 2.0, 2.0)
        high = min(high, tall[job.rooms[a].storey])
        open_ways.append((a, b, wide * high**1.5))
    return g, tuple(open_ways)


def partitions(job: Job) -> Array:
    """Conductance through partitions and floors between rooms, (rooms, rooms), W/K."""
    n = len(job.rooms)
    out = np.zeros((n, n))
    shapes = [shape_of(x.outline_m) for x in job.rooms]
    tall = {s.id: s.height_m for s in job.storeys}
    upper = {s.id: x.id for s in job.storeys if (x := next_storey(job, s.id, +1)) is not None}
    for k, a in enumerate(job.rooms):
        edge = shapes[k].buffer(TOUCH_M)
        for m, b in enumerate(job.rooms):
            if m > k and a.storey == b.storey:
                long = edge.intersection(shapes[m].exterior).length - 2 * TOUCH_M
                value = PARTITION_W_M2K * max(long, 0.0) * tall[a.storey]
            elif upper.get(a.storey) == b.storey:
                value = FLOOR_W_M2K * float(shapely.intersection(shapes[k], shapes[m]).area)
            else:
                continue
            out[k, m] = out[m, k] = value
    return out
