"""The air circuit as arrays: branches between nodes, what each loses by, and its blowers."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np

from murvan.arrays import Array, Index, distinct
from murvan.physics.constants import STANDARD_DENSITY_KG_M3, VISCOSITY_PA_S
from murvan.physics.ductflow import RE_TURBULENT, rough_terms
from murvan.physics.junctions import Junctions
from murvan.physics.orders import WIDEST, Order, Together

DENSE_LIMIT, DEEPEST = 160, 40
"""Nodes, and ways through junctions one behind another, from which on a sparse factorisation is sooner done."""


FEW = 6


@dataclass(frozen=True)
class FanCurve:
    """Pressure rise [Pa] over flow [m3/s] as a monotone piecewise cubic, straight beyond its ends."""

    flow: Array
    rise: Array
    slope: Array
    """Pa per m3/s."""

    @staticmethod
    def through(flow_m3_s: Array, rise_pa: Array) -> FanCurve:
        """Monotone (Fritsch-Carlson) cubic through points sorted by flow; rise must fall with flow."""
        q, p = np.asarray(flow_m3_s, float), np.asarray(rise_pa, float)
        if len(q) < 2 or np.any(np.diff(q) <= 0) or np.any(np.diff(p) >= 0):
            raise ValueError("a blower curve needs rising flow and falling pressure")
        d = np.diff(p) / np.diff(q)
        m = np.concatenate([[d[0]], np.where(d[1:] * d[:-1] > 0, 2 * d[1:] * d[:-1] / (d[1:] + d[:-1]), 0), [d[-1]]])
        return FanCurve(q, p, m)

    def slowed(self, air: float) -> FanCurve:
        """One that moves so much of its air at every rise."""
        return FanCurve(self.flow * air, self.rise, self.slope / air)

    def __call__(self, flow: Array) -> tuple[Array, Array]:
        """Rise and its derivative to flow, any shape."""
        if np.ndim(flow) == 1 and len(flow) <= FEW:
            pairs = np.array([self.single(q) for q in flow.tolist()])
            return pairs[:, 0], pairs[:, 1]
        i = np.clip(np.searchsorted(self.flow, flow) - 1, 0, len(self.flow) - 2)
        q0, h = self.flow[i], self.flow[i + 1] - self.flow[i]
        t = (flow - q0) / h
        p0, p1, m0, m1 = self.rise[i], self.rise[i + 1], self.slope[i] * h, self.slope[i + 1] * h
        a, b = 2 * p0 + m0 - 2 * p1 + m1, -3 * p0 - 2 * m0 + 3 * p1 - m1
        value = p0 + t * (m0 + t * (b + t * a))
        slope = (m0 + t * (2 * b + 3 * a * t)) / h
        low, high = flow < self.flow[0], flow > self.flow[-1]
        value = np.where(low, self.rise[0] + self.slope[0] * (flow - self.flow[0]), value)
        value = np.where(high, self.rise[-1] + self.slope[-1] * (flow - self.flow[-1]), value)
        slope = np.where(low, self.slope[0], np.where(high, self.slope[-1], slope))
        return value, slope

    @cached_property
    def _points(self) -> tuple[list[float], list[float], list[float]]:
        return self.flow.tolist(), self.rise.tolist(), self.slope.tolist()

    def single(self, q: float) -> tuple[float, float]:
        """Rise and its derivative for one flow, without the cost of arrays."""
        flow, rise, slope = self._points
        if q < flow[0]:
            return rise[0] + slope[0] * (q - flow[0]), slope[0]
        if q > flow[-1]:
            return rise[-1] + slope[-1] * (q - flow[-1]), slope[-1]
        i = min(max(bisect_left(flow, q) - 1, 0), len(flow) - 2)
        h = flow[i + 1] - flow[i]
        t = (q - flow[i]) / h
        p0, p1, m0, m1 = rise[i], rise[i + 1], slope[i] * h, slope[i + 1] * h
        a, b = 2 * p0 + m0 - 2 * p1 + m1, -3 * p0 - 2 * m0 + 3 * p1 - m1
        return p0 + t * (m0 + t * (b + t * a)), (m0 + t * (2 * b + 3 * a * t)) / h


@dataclass(frozen=True)
class Circuit:
    """A network of `m` branches and `n` free nodes. Arrays of length m; -1 as a node is the outdoors at 0 Pa.

    `friction_scale` multiplies friction (flex); `k` [Pa s2/m6] covers fittings, dampers and registers; a
    branch with `power_c` > 0 is a leak Q = c dP^n; `fans` gives branch index and curve; `injection_m3_s` (n,)
    is air brought into a node by force, such as an exhaust fan (negative) or a ventilator.
    """

    start: Index
    end: Index
    nodes: int
    length_m: Array
    area_m2: Array
    hydraulic_m: Array
    roughness_m: Array
    friction_scale: Array
    k: Array
    power_c: Array
    power_n: float = 0.65
    fans: tuple[tuple[int, FanCurve], ...] = ()
    injection_m3_s: Array | None = None
    density_kg_m3: float = STANDARD_DENSITY_KG_M3
    junctions: Junctions | None = None

    def with_k(self, k: Array) -> Circuit:
        """The same with other quadratic coefficients; what does not go by them is not worked out again."""
        _ = self.ducts, self.leaks, self.islands, self.incidence
        made = replace(self, k=k)
        made.__dict__.update({name: x for name, x in self.__dict__.items() if name not in made.__dict__})
        return made

    @cached_property
    def ducts(self) -> DuctTerms:
        """Friction's constants of every branch, nothing where there is no length: cheaper than picking some out."""
        hydraulic, area = self.hydraulic_m, self.area_m2
        return DuctTerms(
            re_per_q=self.density_kg_m3 * hydraulic / (VISCOSITY_PA_S * area),
            relative_roughness=self.roughness_m / hydraulic,
            rough=rough_terms(self.roughness_m / hydraulic),
            base=self.friction_scale * self.length_m / hydraulic * 0.5 * self.density_kg_m3 / area**2,
            least_re=np.where(self.length_m > 0, 0.0, RE_TURBULENT),
        )

    @cached_property
    def leaks(self) -> Index | slice | None:
        """The branches that are leaks, as a slice where they stand together; None without any."""
        found = np.flatnonzero(self.power_c > 0)
        if not len(found):
            return None
        first, last = int(found[0]), int(found[-1])
        return slice(first, last + 1) if last - first + 1 == len(found) else found

    @cached_property
    def islands(self) -> tuple[int, ...]:
        """Nodes from which nothing leads outdoors, so that their pressure is not determined."""
        root = list(range(self.nodes + 1))  # the last one is the outdoors

        def top(n: int) -> int:
            while root[n] != n:
                root[n] = root[root[n]]
                n = root[n]
            return n

        for a, b in zip(self.start.tolist(), self.end.tolist(), strict=True):
            root[top(a if a >= 0 else self.nodes)] = top(b if b >= 0 else self.nodes)
        outdoors = top(self.nodes)
        return tuple(n for n in range(self.nodes) if top(n) != outdoors)

    @cached_property
    def incidence(self) -> Any:
        """Node by branch matrix, +1 where the branch leaves; sparse for a large circuit."""
        return incidence_of(self)

    @cached_property
    def banded(self) -> Order | None:
        """The order in which its pressures are a narrow band; None where they are not, or are but few."""
        if self.nodes < FEW:
            return None
        order = Order(self.start, self.end, self.nodes)
        return order if order.width <= WIDEST else None

    @cached_property
    def _outer(self) -> tuple[Index, Index]:
        return np.where(self.start < 0, self.nodes, self.start), np.where(self.end < 0, self.nodes, self.end)

    def gathered(self, flow: Array) -> Array:
        """What flows (m,) take out of each node less what they bring, (n,)."""
        a, b = self._outer
        n = self.nodes + 1
        return np.asarray(np.bincount(a, flow, n) - np.bincount(b, flow, n))[:-1]

    def dropped(self, pressure: Array) -> Array:
        """How much pressures (..., n) fall along each branch, (..., m)."""
        a, b = self._outer
        whole = np.concatenate([pressure, np.zeros((*pressure.shape[:-1], 1))], axis=-1)
        return np.asarray(whole[..., a] - whole[..., b])

    @cached_property
    def _stamps(self) -> tuple[Index, Index, Array, Index]:
        """Where in the flattened node matrix each branch counts, by place: the places, then branch and sign of every entry, and
        where the entries of each place begin."""
        both = (self.start >= 0) & (self.end >= 0)
        m, n = np.arange(len(self.start)), self.nodes
        a, b = self.start, self.end
        rows = ((a, a, 1.0), (b, b, 1.0), (a, b, -1.0), (b, a, -1.0))
        held = [(a >= 0) & (b >= 0) if sign > 0 else both for a, b, sign in rows]
        at = np.concatenate([(a * n + b)[k] for (a, b, _), k in zip(rows, held, strict=True)])
        branch = np.concatenate([m[k] for k in held])
        sign = np.concatenate([np.full(int(k.sum()), x) for (_, _, x), k in zip(rows, held, strict=True)])
        order = np.argsort(at, kind="stable")
        places, first = distinct(at), np.flatnonzero(np.diff(at[order], prepend=-1))
        return places, branch[order], sign[order], first

    def stamped(self, d: Array) -> Array:
        """A D A^T of branches that conduct `d` (..., m), (..., n, n)."""
        at, branch, sign, first = self._stamps
        flat = np.zeros((*d.shape[:-1], self.nodes**2))
        flat[..., at] = np.add.reduceat(d[..., branch] * sign, first, axis=-1)
        return flat.reshape(*d.shape[:-1], self.nodes, self.nodes)

    @cached_property
    def met_incidence(self) -> Array:
        """Node by branch, of those branches alone that ways through junctions lead through or from."""
        assert self.junctions is not None
        return np.ascontiguousarray(self.incidence[:, self.junctions.met])

    @cached_property
    def together(self) -> Together:
        """The pattern of a large circuit's flows and pressures together."""
        assert self.junctions is not None
        return Together(len(self.start), self.incidence, self.junctions)


@dataclass(frozen=True)
class DuctTerms:
    """Constants of the friction of each branch, (m,)."""

    re_per_q: Array
    relative_roughness: Array
    """Roughness over hydraulic diameter."""
    rough: tuple[Array, Array]
    base: Array
    least_re: Array
    """Where nothing rubs the Reynolds number is kept in the range that is worked out soonest."""


def incidence_of(c: Circuit) -> Any:
    """Node by branch matrix, +1 where the branch leaves."""
    m = len(c.start)
    if c.nodes > DENSE_LIMIT or (c.junctions is not None and len(c.junctions.levels) > DEEPEST):
        from scipy import sparse

        rows = np.concatenate([c.start, c.end])
        cols = np.concatenate([np.arange(m), np.arange(m)])
        vals = np.concatenate([np.ones(m), -np.ones(m)])
        keep = rows >= 0
        return sparse.csc_matrix((vals[keep], (rows[keep], cols[keep])), shape=(c.nodes, m))
    a = np.zeros((c.nodes, m))
    for j, (s, e) in enumerate(zip(c.start.tolist(), c.end.tolist(), strict=True)):
        if s >= 0:
            a[s, j] += 1
        if e >= 0:
            a[e, j] -= 1
    return a
