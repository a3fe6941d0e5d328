"""What ducts lose where they part and join, by how the air splits.

Crane, Technical Paper 410 (2009), after Idelchik's Handbook of Hydraulic Resistance: tees and wyes of 90 and 45 degrees,
branch and straight way, diverging and converging. In total pressure; a branch that hardly draws is at the static pressure
of its trunk. Each loss is a quadratic form of the two speeds times a factor of the split x = Q/Qc,

    dP = rho/2 g(x) (a vc^2 + b v vc + c v^2),   g(x) = max(min(g0 + g1 x + g3 x^2, s0 + s1 x), g2),

v and Q of the run itself, vc and Qc of the run that carries all air. Where the tables of the source jump at a split, the
factor goes on without a step, at most 0.04 from them.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from math import cos, radians

import numpy as np

from murvan.arrays import Array, Index, distinct

_NONE = 1e-9
NO_LIMIT = 1e9
BACKWARD_C = 1.0
"""Of air that goes the other way through a branch than it was laid for, on its own velocity pressure."""


@dataclass(frozen=True)
class Way:
    """One way through a junction: the coefficients of its loss."""

    a: float
    b: float
    c: float
    g: tuple[float, float, float] = (1.0, 0.0, 0.0)
    backward_c: float = 0.0
    square: float = 0.0
    """Of the factor, what goes by the square of the split."""
    steep: tuple[float, float] = (NO_LIMIT, 0.0)
    """The line that the factor does not go over."""

    def factor(self, split: float) -> float:
        """The factor at a share of the trunk's air."""
        g0, g1, g2 = self.g
        line = min(g0 + g1 * split + self.square * split**2, self.steep[0] + self.steep[1] * split)
        return max(line, g2)


def diverging_branch(angle_deg: float, area_ratio: float) -> Way:
    """Out of a trunk. `area_ratio`: branch over trunk."""
    if angle_deg < 75:
        g = (1.1, -0.7, 0.85) if area_ratio <= 0.35 else (1.0, -0.6, 0.6)
        return Way(1.0, -2 * cos(radians(angle_deg)), 1.0, g, BACKWARD_C)
    c = 1.0 if area_ratio <= 4 / 9 else 0.3
    return Way(1.0, 0.0, c, backward_c=BACKWARD_C, square=0.3 if area_ratio > 2 / 3 else 0.0)


def diverging_straight(area_ratio: float, branches_ratio: float) -> Way:
    """Straight on past a branch. `area_ratio`: the run over the trunk before; `branches_ratio`: all branches over it.

    Past wide branches that take less than half of the air some pressure is regained: the factor is below 0 there.
    """
    r = area_ratio
    if branches_ratio <= 0.4:
        return Way(1.0, -2 * r, r * r, (0.4, 0.0, 0.0))
    return Way(1.0, -2 * r, r * r, (0.3, -0.6, -2.0), steep=(2.0, -4.0))


def converging_branch(angle_deg: float, area_ratio: float) -> Way:
    """Into a trunk. `area_ratio`: branch over trunk."""
    r = area_ratio
    side = 2 * cos(radians(angle_deg)) if angle_deg < 75 else 0.0
    g = (1.0, 0.0, 0.0) if r <= 0.35 else (0.9, -0.9, 0.55)
    return Way(-1.0, 4 * r, 1 - 2 * r * r - side * r, g, BACKWARD_C)


def converging_straight(angle_deg: float, area_ratio: float, branches_ratio: float) -> Way:
    """Straight on where a branch joins. Ratios as in `diverging_straight`."""
    r = area_ratio
    if angle_deg < 75:
        side = 2 * cos(radians(angle_deg)) / branches_ratio
        return Way(1 - side, 2 * side * r, -r * r * (1 + side))
    return Way(0.55, 0.45 * r, -r * r)


@dataclass(frozen=True)
class Junctions:
    """Ways through the junctions of a circuit, arrays (w,).

    `own` and `common` are branches of the circuit; flows count outwards from the unit's plenum in a supply and towards it
    in a return, so both are above zero when the blower runs.
    """

    own: Index
    common: Index
    own_m2: Array
    common_m2: Array
    ways: tuple[Way, ...]
    density_kg_m3: float

    @cached_property
    def _table(self) -> tuple[Array, ...]:
        rows = np.array([(w.a, w.b, w.c, *w.g, w.backward_c, w.square, *w.steep) for w in self.ways]).reshape(-1, 10)
        a, b, c, g0, g1, g2, back, square, s0, s1 = rows.T
        half = 0.5 * self.density_kg_m3
        # on flows instead of speeds, so that a step costs no divisions
        by_common, by_own = 1 / self.common_m2, 1 / self.own_m2
        return (
            half * a * by_common**2,
            half * b * by_common * by_own,
            half * c * by_own**2,
            g0,
            g1,
            g2,
            half * back * by_own**2,
            square,
            s0,
            s1,
        )

    @cached_property
    def levels(self) -> tuple[tuple[Index, Index, Index], ...]:
        """The ways from the unit outwards, those whose trunk comes first: their places, their own and their common
        branches. Each place is a slice where they stand together."""
        own = self.own.tolist()
        trunk = dict(zip(own, self.common.tolist(), strict=True))
        depth = []
        for at in own:
            n = 0
            while trunk[at] in trunk:
                at, n = trunk[at], n + 1
            depth.append(n)
        found = [np.flatnonzero(np.array(depth) == n) for n in range(max(depth, default=-1) + 1)]
        return tuple((k, self.own[k], self.common[k]) for k in found)

    @cached_property
    def met(self) -> Index:
        """The branches that ways lead through or from."""
        return distinct(self.own, self.common)

    def through(self, share: Array) -> Array:
        """What of each branch that is met reaches those behind it, (..., met, met), where a way (..., ways) passes on so much
        of its trunk's: the inverse of one and what is passed on, (1 - s)(1 + s²)(1 + s⁴)..., which ends with the longest
        chain of ways."""
        own, common = np.searchsorted(self.met, self.own), np.searchsorted(self.met, self.common)
        passed = np.zeros((*share.shape[:-1], len(self.met), len(self.met)))
        passed[..., own, common] = share
        one = np.eye(len(self.met))
        out, reach = one - passed, 2
        while reach <= len(self.levels):
            passed = passed @ passed
            out, reach = out @ (one + passed), 2 * reach
        return np.asarray(out)

    def loss(self, flow: Array) -> tuple[Array, Array, Array]:
        """Loss of each way [Pa] and its derivatives to its own flow and to the common one; `flow` (..., branches) m3/s.

        Air that comes from elsewhere than the trunk, or goes backward, loses its own velocity pressure in a branch.
        """
        a, b, c, g0, g1, g2, back, square, s0, s1 = self._table
        q = flow[..., self.own]
        w = np.maximum(flow[..., self.common], _NONE)
        u = np.minimum(np.maximum(q, 0.0), w)
        x = u / w
        line, rise = g0 + x * (g1 + square * x), g1 + 2 * square * x
        steep = s0 + s1 * x
        line, rise = np.where(steep < line, steep, line), np.where(steep < line, s1, rise)
        factor = np.maximum(line, g2)
        by_common, by_own = a * w, c * u
        cross = b * w + by_own
        lost = by_common * w + u * cross
        bend = (line > g2) * rise * lost / w
        own = bend + factor * (cross + by_own)
        common = factor * (2 * by_common + b * u) - bend * x
        lost *= factor
        outside = u != q
        if outside.any():
            lost += back * (q * np.abs(q) - u * u)
            own = np.where(outside, 2 * back * np.abs(q), own)
            # where the branch carries more than the trunk, the split stays 1 whatever the trunk does
            more = q > w
            at_one = 2 * factor * (a + b + c) * w - 2 * back * w
            common = np.where(more, np.where(flow[..., self.common] > _NONE, at_one, 0.0), common)
        return lost, own, common
