"""A traverse of a duct: where the probe stands, what the points come to, how sure that is, and which point is odd.

Rectangular ducts by log-Tchebycheff, round ones by log-linear on three diameters (ISO 3966 and ASHRAE Standard 111; positions from memory). With
these positions every point counts alike: the mean velocity is the plain mean.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np

from murvan.arrays import Array
from murvan.design.ducts import run_area_m2
from murvan.model.design import DuctRun
from murvan.physics.constants import STANDARD_DENSITY_KG_M3

TCHEBYCHEFF = {
    5: (0.074, 0.288, 0.5, 0.712, 0.926),
    6: (0.061, 0.235, 0.437, 0.563, 0.765, 0.939),
    7: (0.053, 0.203, 0.366, 0.5, 0.634, 0.797, 0.947),
}
LOG_LINEAR = {
    6: (0.032, 0.135, 0.321, 0.679, 0.865, 0.968),
    8: (0.021, 0.117, 0.184, 0.345, 0.655, 0.816, 0.883, 0.979),
    10: (0.019, 0.077, 0.153, 0.217, 0.361, 0.639, 0.783, 0.847, 0.923, 0.981),
}
"""Shares of a side, or of the diameter, from one wall."""
DIAMETERS = 3
LINES_M = ((0.762, 5), (0.914, 6), (99.0, 7))
"""Lines across a side up to a length, common practice: 30 and 36 in."""
ROUND_M = ((0.25, 6), (0.6, 8), (99.0, 10))
"""Points on a diameter up to a size."""
RULE = 0.01
"""Standard doubt of the rule itself, a share, from memory."""
STRAIGHT = 0.02
"""Of a place with little straight duct before it: common practice."""
ODD = 3.5
"""Robust standard deviations from what its neighbours say, from which a point is odd."""
LEAST_SPREAD = 0.05
"""Of the mean, what points scatter at least."""
SLOW, SLOW_MOST = 0.1, 0.25
"""A share of the fastest, below which a point is slow, and how many may be: beyond, the place is poor (common practice)."""


@dataclass(frozen=True)
class Tool:
    """What a point is read with."""

    id: str
    name: str
    reads: str
    """Kind of figure that it shows."""
    doubt: float
    """Standard, a share of a velocity, of one point."""
    own: float
    """Of all its points alike."""
    standard_air: bool = False
    """Whether it shows velocity as of standard air: what it loses heat by is mass."""


TOOLS = {
    x.id: x
    for x in (
        Tool("pitot", "Pitot tube", "pressure3", 0.02, 0.01),
        Tool("vane", "Vane anemometer", "velocity", 0.03, 0.02),
        Tool("hot_wire", "Hot wire", "velocity", 0.03, 0.025, True),
    )
}


@dataclass(frozen=True)
class Grid:
    """Where the probe stands in a duct."""

    round: bool
    width_m: float
    """Or the diameter."""
    height_m: float
    area_m2: float
    points: tuple[tuple[float, float], ...]
    """From the left wall and from the top, m, in the order in which they are read."""
    lines: tuple[int, int]
    """Points across, and lines down; of a round duct points on a diameter, and diameters."""

    def along(self, k: int) -> tuple[int, int]:
        """Line and place on it of a point, both from 0."""
        return divmod(k, self.lines[0])

    def depth_m(self, k: int) -> tuple[float, float]:
        """How deep the probe stands from two walls: of a round duct along its diameter, and which diameter, degrees."""
        line, place = self.along(k)
        if not self.round:
            return self.points[k]
        return LOG_LINEAR[self.lines[0]][place] * self.width_m, line * 180.0 / DIAMETERS


def grid_of(run: DuctRun) -> Grid:
    """The points of a run's section. An oval one is read as the rectangle about it, its area its own."""
    area = run_area_m2(run)
    if run.shape == "round":
        d = run.diameter_m or 0.0
        n = next(n for most, n in ROUND_M if d <= most)
        own = [
            (d / 2 + (share - 0.5) * d * cos(radians(a)), d / 2 + (share - 0.5) * d * sin(radians(a)))
            for a in np.arange(DIAMETERS) * 180.0 / DIAMETERS
            for share in LOG_LINEAR[n]
        ]
        return Grid(True, d, d, area, tuple(own), (n, DIAMETERS))
    w, h = run.width_m or 0.0, run.height_m or 0.0
    across, down = (next(n for most, n in LINES_M if side <= most) for side in (w, h))
    own = [(x * w, y * h) for y in TCHEBYCHEFF[down] for x in TCHEBYCHEFF[across]]
    return Grid(False, w, h, area, tuple(own), (across, down))


@dataclass(frozen=True)
class Traverse:
    """What the points so far come to."""

    count: int
    mean_m_s: float
    flow_m3_s: float
    share: float
    """Standard doubt of the flow."""
    odd: tuple[int, ...]
    """Points that do not go with their neighbours."""
    slow: int
    """Points next to still; beyond a quarter of all the place is poor."""

    def poor(self, grid: Grid) -> bool:
        return self.count == len(grid.points) and self.slow > SLOW_MOST * self.count


def velocity_m_s(tool: Tool, figure: float, density_kg_m3: float) -> float:
    """A point's velocity by what the tool shows, SI: a pitot tube's pressure by v = sqrt(2 p / rho), against the air where below zero."""
    if tool.reads != "velocity":
        return float(np.sign(figure) * np.sqrt(2 * abs(figure) / density_kg_m3))
    return figure * STANDARD_DENSITY_KG_M3 / density_kg_m3 if tool.standard_air else figure


def traverse(grid: Grid, velocities: Sequence[float | None], tool: Tool) -> Traverse | None:
    """Mean and doubt of the points that are read; None of fewer than two.

    Doubt: of each point by the tool and by how points scatter about a smooth profile, over the root of their number; of those that lack by how
    much all scatter; of the tool's own gain, the rule and the place.
    """
    at = [k for k, v in enumerate(velocities) if v is not None]
    if len(at) < 2:
        return None
    v = np.array([velocities[k] for k in at], float)
    mean, n, every = float(v.mean()), len(at), len(grid.points)
    off = _off(grid, at, v)
    scale = max(1.4826 * float(np.median(np.abs(off))), LEAST_SPREAD * abs(mean), 1e-6)
    odd = tuple(at[i] for i in np.flatnonzero(np.abs(off) > ODD * scale)) if n >= 6 else ()
    point = float(np.hypot(tool.doubt * abs(mean), np.std(off)))
    lacking = float(v.std()) * np.sqrt((every - n) / every) if n < every else 0.0
    random = np.hypot(point, lacking) / np.sqrt(n) / max(abs(mean), 1e-9)
    share = float(np.sqrt(random**2 + tool.own**2 + RULE**2 + STRAIGHT**2))
    slow = int((v < SLOW * v.max(initial=0.0)).sum())
    return Traverse(n, mean, mean * grid.area_m2, min(share, 1.0), odd, slow)


def _off(grid: Grid, at: Sequence[int], v: Array) -> Array:
    """Each point less what a smooth profile says there: a paraboloid through the others, or their mean where they are few."""
    x, y = (np.array([grid.points[k] for k in at]) / (grid.width_m, grid.height_m) - 0.5).T
    basis = np.column_stack([np.ones_like(x), x, y, x * x, y * y, x * y])
    if len(at) < 10:
        return np.asarray(v - (v.sum() - v) / max(len(v) - 1, 1))
    hat = basis @ np.linalg.pinv(basis)
    rest = v - hat @ v
    # as if the point itself had not been in the fit
    return np.asarray(rest / np.maximum(1 - np.diag(hat), 0.1))
