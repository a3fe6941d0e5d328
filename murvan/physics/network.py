"""The air circuit: branches between nodes, solved for every flow and pressure at once.

A branch loses

    dP(Q) = friction(Q) + k Q |Q| + (|Q|/c)^(1/n) sign Q + junction(Q, Qc) - fan(Q) - head

and flows into each node sum to zero. Newton on branch flows and node pressures together: with the flows
linearised, the pressures follow from one system (A J^-1 A^T) p = r; J is diagonal but for what a way through a
junction loses by the flow Qc of its trunk. Every derivative is analytic. Flows satisfy continuity exactly after the
first step. Batched: a leading axis of scenarios solves in one call. Large circuits use a sparse factorisation.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from murvan.arrays import Array, Index
from murvan.physics.constants import STANDARD_DENSITY_KG_M3, VISCOSITY_PA_S
from murvan.physics.ductflow import RE_TURBULENT, friction_factor, rough_terms
from murvan.physics.junctions import Junctions

DENSE_LIMIT, DEEPEST = 160, 40
"""Nodes, and ways through junctions one behind another, from which on a sparse factorisation is sooner done."""
FEW = 6
_LEAK_START_PA = 4.0
"""A first guess of a leak is kept to what this drives through it."""
_LEAK_DIRECT_STEPS = (1, 2, 3)
"""Steps that set leaks from the pressures found: small beside the ducts' flows, they are right sooner than by Newton."""
_GOOD_PA = 1e-6
_FLOW_TOLERANCE = 100.0
_MASS_SHARE, _MASS_LEAST = 1e-9, 1e-3
"""Of the largest flow, what may be missing at a node, and the flow in m3/s that counts at least."""
_STALLS = 3
"""Steps that gained little after which rounding is taken to let the mismatch come no nearer."""
_SLOPE_FLOOR = 1e-2
"""Least slope of a loss: an open door hardly resists, and flows that are too free lose their sums to rounding."""
_LEAST_SLOPE = 0.4
_CAREFUL_AFTER = 8
"""Full steps mostly close by then; those after it go no further than the loss along them falls."""
_LINE_TRIALS = 12
_LINE_NEAR = 0.1
_KEPT_BELOW_PA, _KEPT_GAIN = 1e-4, 0.03
"""Mismatch from which on a tangent is kept for the next step, as long as each brings it down to this share."""


@dataclass(frozen=True)
class FanCurve:
    """Pressure rise [Pa] over flow [m3/s] as a monotone piecewise cubic, straight beyond its ends."""

    flow: Array
    rise: Array
    slope: Array

    @staticmethod
    def through(flow_m3_s: Array, rise_pa: Array) -> FanCurve:
        """Monotone (Fritsch-Carlson) cubic through points sorted by flow; rise must fall with flow."""
        q, p = np.asarray(flow_m3_s, float), np.asarray(rise_pa, float)
        if len(q) < 2 or np.any(np.diff(q) <= 0) or np.any(np.diff(p) >= 0):
            raise ValueError("a blower curve needs rising flow and falling pressure")
        d = np.diff(p) / np.diff(q)
        m = np.concatenate([[d[0]], np.where(d[1:] * d[:-1] > 0, 2 * d[1:] * d[:-1] / (d[1:] + d[:-1]), 0), [d[-1]]])
        return FanCurve(q, p, m)

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
        return _incidence(self)

    @cached_property
    def banded(self) -> _Order | None:
        """The order in which its pressures are a narrow band; None where they are not, or are but few."""
        if self.nodes < FEW:
            return None
        order = _Order(self)
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
        """How much pressures (n,) fall along each branch, (m,)."""
        a, b = self._outer
        whole = np.append(pressure, 0.0)
        return np.asarray(whole[a] - whole[b])

    @cached_property
    def together(self) -> _Together:
        """The pattern of a large circuit's flows and pressures together."""
        return _Together(self)


class IslandError(ValueError):
    """A part of a circuit that nothing joins to the outdoors."""


@dataclass(frozen=True)
class DuctTerms:
    """Constants of the friction of each branch, (m,)."""

    re_per_q: Array
    relative_roughness: Array
    rough: tuple[Array, Array]
    base: Array
    least_re: Array
    """Where nothing rubs the Reynolds number is kept in the range that is worked out soonest."""


@dataclass(frozen=True)
class NetworkSolution:
    """Flows [m3/s] (..., m), node pressures [Pa] (..., n), steps taken, worst mismatch [Pa], and whether it closed."""

    flow_m3_s: Array
    pressure_pa: Array
    iterations: int = field(compare=False)
    residual_pa: float = field(compare=False)
    converged: bool


def branch_loss(c: Circuit, flow: Array, k: Array | None = None, running: Array | None = None) -> tuple[Array, Array]:
    """Pressure lost along each branch [Pa] and its derivative to its own flow; shape (..., m). `running` (..., fans) as in
    `solve`."""
    loss, slope, _ = _branch_loss(c, flow, k, running)
    return loss, slope


def _branch_loss(
    c: Circuit, flow: Array, k: Array | None, running: Array | None
) -> tuple[Array, Array, Array | None]:
    """As `branch_loss`, and the derivative of each way through a junction to the flow of its trunk."""
    size = np.abs(flow)
    kk = c.k if k is None else k
    ducts = c.ducts
    re = np.maximum(size * ducts.re_per_q, ducts.least_re)
    f, df = friction_factor(re, ducts.relative_roughness, ducts.rough)
    whole = kk + f * ducts.base
    loss = whole * size * flow
    slope = size * (2 * whole + df * re * ducts.base)
    leaks = c.leaks
    if leaks is not None:
        ratio = size[..., leaks] / c.power_c[leaks]
        steep = ratio ** (1 / c.power_n - 1)
        loss[..., leaks] += np.sign(flow[..., leaks]) * steep * ratio
        slope[..., leaks] += steep / (c.power_n * c.power_c[leaks])
    for place, (index, curve) in enumerate(c.fans):
        rise, drise = curve.single(float(flow[index])) if flow.ndim == 1 else curve(flow[..., index])
        if running is not None:
            rise, drise = rise * running[..., place], drise * running[..., place]
        loss[..., index] -= rise
        slope[..., index] -= drise
    if c.junctions is None:
        return loss, slope, None
    lost, own, common = c.junctions.loss(flow)
    at = c.junctions.own
    loss[..., at] += lost
    # air that regains pressure may do so over a stretch without friction: kept above zero, Newton stays a descent
    plain = slope[..., at]
    slope[..., at] = np.maximum(plain + own, _LEAST_SLOPE * plain)
    return loss, slope, common


def solve(
    c: Circuit,
    *,
    k: Array | None = None,
    first_flow: Array | None = None,
    tolerance_pa: float = 1e-8,
    most_steps: int = 80,
    injection: Array | None = None,
    head: Array | None = None,
    running: Array | None = None,
) -> NetworkSolution:
    """Solve the circuit.

    Args:
        c: The circuit.
        k: Quadratic coefficients by scenario, shape (s, m); one scenario when left out.
        first_flow: A guess (m,) or (s, m), m3/s.
        injection: Forced air into the nodes, (n,) or (s, n), m3/s; the circuit's own when left out.
        head: Pressure that acts along each branch from outside, such as the stack's or the wind's on a leak, (m,) or
            (s, m), Pa.
        running: Whether each fan runs, (s, fans), 1 or 0; all do when left out. One that stands still lets air through
            against the branch's own resistance.
        tolerance_pa: Largest pressure mismatch accepted; 1e-6 Pa where rounding lets it come no nearer. A
            hundred times that number in m3/s is the most that another step may move a flow.
        most_steps: Give up after so many steps; `converged` is then False.

    Raises:
        IslandError: some nodes join nothing that leads outdoors.
    """
    if c.islands:
        raise IslandError(f"nothing joins node {', '.join(map(str, c.islands[:5]))} to the outdoors")
    limits = (tolerance_pa, most_steps)
    found = _newton(c, k, first_flow, injection, head, running, *limits)
    if found.converged or c.junctions is None:
        return found
    # without what is lost where ducts part the flows minimise a convex sum: from there it is near
    near = _newton(replace(c, junctions=None), k, first_flow, injection, head, running, *limits)
    return _newton(c, k, near.flow_m3_s, injection, head, running, *limits) if near.converged else found


def _newton(
    c: Circuit,
    k: Array | None,
    first_flow: Array | None,
    injection: Array | None,
    head: Array | None,
    running: Array | None,
    tolerance_pa: float,
    most_steps: int,
    first_step: int = 0,
) -> NetworkSolution:
    forced = c.injection_m3_s if injection is None else injection
    kk = c.k if k is None else np.asarray(k, float)
    flow = (
        np.full(kk.shape, 0.02) if first_flow is None else np.broadcast_to(first_flow, kk.shape).astype(float).copy()
    )
    leaks = c.leaks
    if leaks is not None and not first_step:
        # from above, a leak's flow loses but two thirds a step
        most = c.power_c[leaks] * _LEAK_START_PA**c.power_n
        flow[..., leaks] = np.clip(flow[..., leaks], -most, most)
    incidence = c.incidence
    pressure = np.zeros((*kk.shape[:-1], c.nodes))
    drop = np.full(kk.shape, np.inf)
    worst, worst_before, stalls = np.inf, np.inf, 0
    tangent: _Tangent | None = None
    for step in range(first_step, most_steps):
        loss, slope, cross = _branch_loss(c, flow, kk, running)
        mismatch = np.abs(loss - drop)
        worst = float(mismatch.max())
        if (
            tangent is None
            or not tangent.dear
            or step > _CAREFUL_AFTER
            or worst > _KEPT_BELOW_PA
            or worst > _KEPT_GAIN * worst_before
        ):
            d = 1 / np.maximum(slope, _SLOPE_FLOOR)
            tangent = _tangent(c, d, cross)
        left = _open(mismatch, d, worst, tolerance_pa)
        settled = worst < _GOOD_PA and stalls + (worst > 0.5 * worst_before) >= _STALLS
        if not len(left) or settled or (flow.ndim > 1 and len(left) < len(flow)):
            astray = _astray(c, flow, forced)
            left, settled = np.union1d(left, astray), settled and not len(astray)
        closed = not len(left)
        if flow.ndim > 1 and 0 < len(left) <= len(flow) // 2:
            # most scenarios have closed: the others go on alone
            forced_, head_, running_ = (_rows(x, left) for x in (injection, head, running))
            rest = _newton(c, kk[left], flow[left], forced_, head_, running_, tolerance_pa, most_steps, step)
            flow[left], pressure[left] = rest.flow_m3_s, rest.pressure_pa
            return NetworkSolution(flow, pressure, rest.iterations, rest.residual_pa, rest.converged)
        stalls += worst > 0.5 * worst_before
        if closed or settled:
            return NetworkSolution(flow, pressure, step, worst, True)
        # continuity of the new flows q + d (drop - loss) at every node gives the pressures
        pressure, move = tangent.step(flow, loss if head is None else loss - head, forced)
        drop = c.dropped(pressure) if pressure.ndim == 1 else np.asarray(pressure @ incidence)
        if head is not None:
            drop = drop + head
        if step > _CAREFUL_AFTER:
            move *= _share_of_step(c, flow, move, kk, head, running)
        flow += move
        if leaks is not None and step in _LEAK_DIRECT_STEPS:
            p = drop[..., leaks]
            flow[..., leaks] = c.power_c[leaks] * np.sign(p) * np.abs(p) ** c.power_n
        worst_before = worst
    return NetworkSolution(flow, pressure, most_steps, worst, False)


_ALL = np.zeros(1, np.intp)
_NONE = np.zeros(0, np.intp)


def _open(mismatch: Array, d: Array, worst: float, tolerance_pa: float) -> Index:
    """Scenarios that have not closed; without scenarios one place or none."""
    if mismatch.ndim == 1 and worst >= tolerance_pa:
        return _ALL
    rows = np.atleast_1d(mismatch.max(-1)) < tolerance_pa
    if rows.any():
        # an open door hardly resists: a small mismatch there can still be some flow
        rows &= np.atleast_1d((d * mismatch).max(-1)) < _FLOW_TOLERANCE * tolerance_pa
    return _NONE if rows.all() else np.flatnonzero(~rows)


def _astray(c: Circuit, flow: Array, forced: Array | None) -> Index:
    """Scenarios in which some node gets more air than leaves it, as where a leak was set by its pressure just now: however
    small the mismatch of pressures, they have not closed. Without scenarios one place or none."""
    if flow.ndim == 1:
        missing = -c.gathered(flow) if forced is None else forced - c.gathered(flow)
    else:
        missing = _wanted(c.incidence, flow, forced)
    off = np.abs(missing).max(-1, initial=0.0)
    most = _MASS_SHARE * np.maximum(np.abs(flow).max(-1, initial=0.0), _MASS_LEAST)
    return np.flatnonzero(np.atleast_1d(off > most))


def _rows(values: Array | None, rows: Index) -> Array | None:
    """Those of some scenarios, where they differ by scenario."""
    return values[rows] if values is not None and values.ndim > 1 else values


def _share_of_step(
    c: Circuit, flow: Array, move: Array, k: Array, head: Array | None, running: Array | None
) -> Array:
    """How much of a step to go, (..., 1), at most all: to where the loss summed along it crosses zero.

    Losses rise with flow, so flows that keep continuity minimise a convex sum (the content of the circuit), and its
    slope along a step that keeps continuity rises from below zero. False position with the stale end halved; a blower
    table with a sharp knee, or a damper nearly shut, would else be stepped over to and fro.
    """

    def along(t: Array) -> Array:
        loss, _ = branch_loss(c, flow + t[..., None] * move, k, running)
        return np.asarray(((loss if head is None else loss - head) * move).sum(-1))

    low, high = np.zeros(move.shape[:-1]), np.ones(move.shape[:-1])
    at_low, at_high = along(low), along(high)
    first = np.abs(at_low)
    whole = (at_low >= 0) | (at_high <= _LINE_NEAR * first)
    share = high.copy()
    for _ in range(_LINE_TRIALS):
        if whole.all():
            break
        span = at_high - at_low
        t = np.where(whole, share, low - at_low * (high - low) / np.where(span > 0, span, 1.0))
        found = along(t)
        share, over = t, found > 0
        whole = whole | (np.abs(found) <= _LINE_NEAR * first)
        # the end that stays counts half, or the search would crawl from one side
        at_low, at_high = np.where(over, at_low / 2, found), np.where(over, found, at_high / 2)
        low, high = np.where(over, low, t), np.where(over, t, high)
    return share[..., None]


def _incidence(c: Circuit) -> Any:
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


class _Tangent:
    """The circuit with losses that are linear in the flows: what a step solves. It may stand for more steps than one."""

    dear = True
    """Whether it costs more than the losses themselves."""

    def __init__(self, c: Circuit) -> None:
        self.c = c

    def step(self, flow: Array, lost: Array, forced: Array | None) -> tuple[Array, Array]:
        """Node pressures (..., n) and how far every flow moves (..., m). `lost` is without what acts from outside."""
        raise NotImplementedError


def _tangent(c: Circuit, d: Array, cross: Array | None) -> _Tangent:
    """With slopes 1/`d` (..., m), and `cross` by the flow of its trunk in a way through a junction."""
    if cross is None and d.ndim == 1 and c.banded is not None:
        return _Banded(c, d, c.banded)
    if isinstance(c.incidence, np.ndarray):
        return _Dense(c, d, cross)
    if d.ndim > 1:
        return _Each([_Sparse(c, row, None if cross is None else cross[k]) for k, row in enumerate(d)], c)
    return _Sparse(c, d, cross)


class _Dense(_Tangent):
    """Small circuits, any number of scenarios."""

    def __init__(self, c: Circuit, d: Array, cross: Array | None) -> None:
        super().__init__(c)
        self.d = d
        # J^-1 of A^T, and of what is lost beside it: from trunk to branch
        self._through: Array | None = None
        if cross is not None and c.junctions is not None:
            self._through = c.junctions.through(d[..., c.junctions.own] * cross)
        self.columns = self._back(d[..., :, None] * c.incidence.T)
        self._matrix = c.incidence @ self.columns
        self._inverse: Array | None = None
        self._times = 0
        self._factors: Any = None

    def _back(self, values: Array) -> Array:
        """J^-1 D of some columns that are scaled already, (..., m, columns)."""
        if self._through is not None and self.c.junctions is not None:
            met = self.c.junctions.met
            values[..., met, :] = self._through @ values[..., met, :]
        return values

    def step(self, flow: Array, lost: Array, forced: Array | None) -> tuple[Array, Array]:
        back = self._back((self.d * lost)[..., None])[..., 0]
        pressure = self._solved(_wanted(self.c.incidence, flow - back, forced))
        return pressure, (self.columns @ pressure[..., None])[..., 0] - back

    def _solved(self, wanted: Array) -> Array:
        if self._matrix.ndim == 2:
            from scipy.linalg.lapack import (  # a quarter of a second to import; the window needs only batches
                dgetrf,
                dgetrs,
            )

            if self._factors is None:
                self._factors = dgetrf(self._matrix)
            lu, pivots, info = self._factors
            if info == 0:
                return np.asarray(dgetrs(lu, pivots, wanted)[0])
            return np.asarray(np.linalg.solve(self._matrix, wanted))
        self._times += 1
        if self._times == 1:
            return np.asarray(np.linalg.solve(self._matrix, wanted[..., None])[..., 0])
        if self._inverse is None:
            self._inverse = np.linalg.inv(self._matrix)
        return np.asarray((self._inverse @ wanted[..., None])[..., 0])


class _Banded(_Tangent):
    """One scenario without splits, its nodes in an order in which neighbours stand near each other."""

    dear = False

    def __init__(self, c: Circuit, d: Array, order: _Order) -> None:
        super().__init__(c)
        self.d, self.order = d, order
        self._band = order.band(d)
        self._factor: Array | None = None

    def step(self, flow: Array, lost: Array, forced: Array | None) -> tuple[Array, Array]:
        from scipy.linalg.lapack import dpbtrf, dpbtrs

        if self._factor is None:
            self._factor, info = dpbtrf(self._band, lower=1)
            if info != 0:
                raise np.linalg.LinAlgError("a node of the circuit is tied to nothing")
        c, back = self.c, self.d * lost
        wanted = c.gathered(back - flow)
        if forced is not None:
            wanted = wanted + forced
        pressure = np.empty(c.nodes)
        pressure[self.order.nodes] = dpbtrs(self._factor, wanted[self.order.nodes], lower=1)[0]
        return pressure, self.d * c.dropped(pressure) - back


class _Each(_Tangent):
    """Scenarios of a large circuit one after the other."""

    def __init__(self, rows: list[_Sparse], c: Circuit) -> None:
        super().__init__(c)
        self.rows = rows

    def step(self, flow: Array, lost: Array, forced: Array | None) -> tuple[Array, Array]:
        each = [None] * len(self.rows) if forced is None else np.broadcast_to(forced, (len(self.rows), self.c.nodes))
        found = [t.step(*row) for t, *row in zip(self.rows, flow, lost, each, strict=True)]
        return np.stack([p for p, _ in found]), np.stack([move for _, move in found])


class _Sparse(_Tangent):
    """One scenario of a large circuit. Without splits the pressures alone, from a symmetric system. With them flows and
    pressures together: each way then has its trunk's flow beside its own in one row, and nothing fills in, however long the
    chain."""

    def __init__(self, c: Circuit, d: Array, cross: Array | None) -> None:
        super().__init__(c)
        self.d = d
        self._solve: Callable[[Array], Array]
        if cross is None or c.junctions is None:
            from scipy.sparse.linalg import splu

            self._solve = splu((c.incidence.multiply(d) @ c.incidence.T).tocsc(), permc_spec="MMD_AT_PLUS_A").solve
        else:
            self._solve = c.together.solver(d, d[c.junctions.own] * cross)
        self._split = cross is not None and c.junctions is not None

    def step(self, flow: Array, lost: Array, forced: Array | None) -> tuple[Array, Array]:
        c, back = self.c, self.d * lost
        if not self._split:
            pressure = np.asarray(self._solve(_wanted(c.incidence, flow - back, forced)))
            return pressure, np.asarray(self.d * (c.incidence.T @ pressure)) - back
        m = len(c.start)
        found = self._solve(np.concatenate([-back, _wanted(c.incidence, flow, forced)]))
        return np.asarray(found[m:]), np.asarray(found[:m])


def _wanted(incidence: Any, flow: Array, forced: Array | None) -> Array:
    """What is brought into each node less what leaves it, (..., n)."""
    out = -np.asarray((incidence @ flow.T).T)
    return out if forced is None else out + forced


WIDEST = 24
"""Band of a circuit beyond which its pressures are not solved as one."""


class _Order:
    """Nodes in the reverse Cuthill-McKee order, and where each branch stands in the band of the pressures' matrix."""

    def __init__(self, c: Circuit) -> None:
        self.nodes = _near_each_other(c)
        place = np.full(c.nodes + 1, -1)
        place[self.nodes] = np.arange(c.nodes)
        a, b = place[c.start], place[c.end]  # the outdoors, -1, is the last one
        joined = np.flatnonzero((a >= 0) & (b >= 0) & (a != b))
        low, high = np.minimum(a, b)[joined], np.maximum(a, b)[joined]
        self.width = int((high - low).max(initial=0))
        self._ends = [(np.flatnonzero((x >= 0) & (a != b)), x[(x >= 0) & (a != b)]) for x in (a, b)]
        self._joined, self._at = joined, (high - low) * c.nodes + low
        self._shape = (self.width + 1, c.nodes)

    def band(self, d: Array) -> Array:
        """Lower band of A D A^T, (width + 1, n)."""
        size = self._shape[0] * self._shape[1]
        out: Array = np.bincount(self._at, -d[self._joined], size).astype(float).reshape(self._shape)
        for branches, nodes in self._ends:
            out[0] += np.bincount(nodes, d[branches], self._shape[1])
        return out


def _near_each_other(c: Circuit) -> Index:
    """Reverse Cuthill-McKee order of the nodes."""
    near: list[set[int]] = [set() for _ in range(c.nodes)]
    for a, b in zip(c.start.tolist(), c.end.tolist(), strict=True):
        if a >= 0 and b >= 0 and a != b:
            near[a].add(b)
            near[b].add(a)
    out: list[int] = []
    seen = [False] * c.nodes
    for first in sorted(range(c.nodes), key=lambda n: len(near[n])):
        if seen[first]:
            continue
        queue, seen[first] = [first], True
        for n in queue:
            for other in sorted((x for x in near[n] if not seen[x]), key=lambda x: len(near[x])):
                seen[other] = True
                queue.append(other)
        out += queue
    return np.array(out[::-1], np.intp)


class _Together:
    """The matrix [1 + S, -D A^T; A, 0] of flows and pressures: its pattern and the order of its elimination once, its values
    at every step."""

    def __init__(self, c: Circuit) -> None:
        assert c.junctions is not None
        m = len(c.start)
        nodes, branches = (x.astype(np.intp) for x in c.incidence.nonzero())
        self._ties = (branches, np.asarray(c.incidence[nodes, branches]).ravel())
        self._rows = np.concatenate([np.arange(m), c.junctions.own, branches, m + nodes])
        self._columns = np.concatenate([np.arange(m), c.junctions.common, m + nodes, branches])
        self._size, self._ones = m + c.nodes, np.ones(m)
        self._order: tuple[Index, Index] | None = None
        """Of rows and of columns, in which hardly anything fills in."""
        self._symmetric = bool(np.bincount(nodes).max() > CROWD)
        self._matrix: Any = None
        self._place: Index = np.arange(len(self._rows))

    def solver(self, d: Array, share: Array) -> Callable[[Array], Array]:
        """Gives flows and pressures for a right side: `d` (m,) one over the slopes, `share` (w,) of the ways through
        junctions."""
        branches, signs = self._ties
        values = np.concatenate([self._ones, share, -d[branches] * signs, signs])
        rows, columns = self._order or self._ordered(values)
        self._matrix.data = values[self._place]
        factor = self._factor("NATURAL", self._symmetric)

        def solve(right: Array) -> Array:
            out = np.empty(self._size)
            out[columns] = factor.solve(right[rows])
            return out

        return solve

    def _factor(self, order: Any, symmetric: bool) -> Any:
        from scipy.sparse.linalg import splu

        if not symmetric:
            return splu(self._matrix, permc_spec=order)
        return splu(self._matrix, permc_spec=order, diag_pivot_thresh=0.01, options={"SymmetricMode": True})

    def _ordered(self, values: Array) -> tuple[Index, Index]:
        """Find the order that fills in least, and put the matrix into it: along long chains columns alone are put in order,
        where many branches meet rows with them."""
        same = np.arange(self._size)
        self._compressed(same, same)
        self._matrix.data = values[self._place]
        place = self._factor("MMD_AT_PLUS_A" if self._symmetric else "COLAMD", self._symmetric).perm_c.astype(np.intp)
        self._compressed(place if self._symmetric else same, place)
        self._order = (np.argsort(place) if self._symmetric else same, np.argsort(place))
        return self._order

    def _compressed(self, rows: Index, columns: Index) -> None:
        """The pattern in compressed columns with every unknown at a place of its own."""
        from scipy.sparse import csc_matrix

        # which value comes where: the matrix of their numbers tells
        numbers = np.arange(1.0, len(self._rows) + 1)
        found = csc_matrix((numbers, (rows[self._rows], columns[self._columns])), shape=(self._size, self._size))
        self._matrix, self._place = found, found.data.astype(np.intp) - 1


CROWD = 40
"""Branches that meet in a node from which on rows are ordered with columns."""
