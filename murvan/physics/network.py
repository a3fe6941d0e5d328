"""The air circuit: branches between nodes, solved for every flow and pressure at once.

A branch loses

    dP(Q) = friction(Q) + k Q |Q| + (|Q|/c)^(1/n) sign Q + junction(Q, Qc) - fan(Q) - head

and flows into each node sum to zero. Newton on branch flows and node pressures together: with the flows
linearised, the pressures follow from one system (A J^-1 A^T) p = r; J is diagonal but for what a way through a
junction loses by the flow Qc of its trunk. Every derivative is analytic. Flows satisfy continuity exactly after the
first step. Batched: a leading axis of scenarios solves in one call. Large circuits use a sparse factorisation.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from murvan.arrays import Array, Index, distinct
from murvan.physics.circuit import Circuit
from murvan.physics.ductflow import friction_factor
from murvan.physics.tangent import Tangent, tangent_of, wanted_at

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


_KEPT_BELOW_PA, _KEPT_GAIN = 1e-3, 0.12
"""Mismatch from which on a tangent is kept for the next step, as long as each brings it down to this share."""


class IslandError(ValueError):
    """A part of a circuit that nothing joins to the outdoors."""


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
    pressure = np.zeros((*kk.shape[:-1], c.nodes))
    drop = np.full(kk.shape, np.inf)
    worst, worst_before, stalls = np.inf, np.inf, 0
    tangent: Tangent | None = None
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
            tangent = tangent_of(c, d, cross)
        left = _open(mismatch, d, worst, tolerance_pa)
        settled = worst < _GOOD_PA and stalls + (worst > 0.5 * worst_before) >= _STALLS
        if not len(left) or settled or (flow.ndim > 1 and len(left) < len(flow)):
            astray = _astray(c, flow, forced)
            left, settled = distinct(left, astray), settled and not len(astray)
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
        drop = c.dropped(pressure)
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
        missing = wanted_at(c.incidence, flow, forced)
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
