"""Which way each run takes through the joint it starts from: off the trunk, straight on, or neither."""

from __future__ import annotations

import numpy as np

from murvan.kinds.fittings import FITTINGS
from murvan.model.routes import LaidRun
from murvan.physics.junctions import (
    Junctions,
    Way,
    converging_branch,
    converging_straight,
    diverging_branch,
    diverging_straight,
)


def branch_deg(run: LaidRun) -> float | None:
    """Angle at which a run leaves its trunk; None where it goes straight on, or starts at a plenum."""
    if not run.parent:
        return None
    angles = (FITTINGS[f.kind].branch_deg for f in run.pieces)
    return next((deg for deg in angles if deg is not None), None)


def junctions_of(
    runs: tuple[LaidRun, ...], area_m2: list[float], place: dict[str, int], density_kg_m3: float
) -> Junctions:
    """The ways of runs through their joints.

    Args:
        runs: of one unit or several.
        area_m2: of each run, in their order.
        place: where each run's flow stands; a run that is not there takes no part.
        density_kg_m3: of the air.
    """
    area = dict(zip((r.id for r in runs), area_m2, strict=True))
    off = {r.id: branch_deg(r) for r in runs}
    beside: dict[str, list[str]] = {}
    for r in runs:
        if r.parent and off[r.id] is not None and r.side != "fresh":
            beside.setdefault(r.parent, []).append(r.id)
    found: list[tuple[int, int, float, float, Way]] = []
    for r in runs:
        if r.parent is None or r.id not in place or r.side == "fresh" or r.parent not in beside:
            continue
        trunk = area[r.parent]
        way = _way(
            r.side, area[r.id] / trunk, off[r.id], [(area[i] / trunk, off[i] or 0.0) for i in beside[r.parent]]
        )
        found.append((place[r.id], place[r.parent], area[r.id], trunk, way))
    return Junctions(
        np.array([x[0] for x in found], np.intp),
        np.array([x[1] for x in found], np.intp),
        np.array([x[2] for x in found]),
        np.array([x[3] for x in found]),
        tuple(x[4] for x in found),
        density_kg_m3,
    )


def _way(side: str, ratio: float, angle: float | None, beside: list[tuple[float, float]]) -> Way:
    supply = side == "supply"
    if angle is not None:
        return diverging_branch(angle, ratio) if supply else converging_branch(angle, ratio)
    branches = sum(x for x, _ in beside)
    if supply:
        return diverging_straight(ratio, branches)
    return converging_straight(max(deg for _, deg in beside), ratio, branches)
