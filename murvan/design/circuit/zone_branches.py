"""Zones in the air circuit: dampers at their stop, what lies beyond them, and bypasses as far open as their pressure lets them."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.design.ducts import runs as duct
from murvan.design.units.unit_design import UnitDesign
from murvan.model.design import Bypass
from murvan.model.job import Job
from murvan.physics import ductflow
from murvan.physics.circuit import Circuit
from murvan.physics.constants import FLOAT_TINY
from murvan.physics.network import NetworkSolution

# ---- dampers --------------------------------------------------------------------------------------------------


def closed_k(
    job: Job, designs: Sequence[UnitDesign], branch: dict[str, int], density: float
) -> dict[str, tuple[tuple[int, float], ...]]:
    """By zone, the runs with its dampers and what they resist with more when it does not call, at their stop."""
    out: dict[str, tuple[tuple[int, float], ...]] = {}
    least = {z.id: z.least for z in job.design.zones}
    for u in designs:
        for run in u.runs:
            if run.zone_damper and run.id in branch:
                shut = float(ductflow.damper_coefficient(np.asarray(least.get(run.zone_damper, 0.0))))
                more = max(shut - duct.ZONE_DAMPER_LOSS, 0.0) * 0.5 * density / duct.run_area_m2(run) ** 2
                out[run.zone_damper] = (*out.get(run.zone_damper, ()), (branch[run.id], more))
    return out


def beyond_dampers(
    designs: Sequence[UnitDesign], branch: dict[str, int], face: dict[str, int]
) -> dict[str, tuple[int, ...]]:
    """By zone the branches of runs and registers beyond its dampers."""
    out: dict[str, tuple[int, ...]] = {}
    for u in designs:
        zone: dict[str, str | None] = {}
        for run in duct.order(u.runs):
            above = zone.get(run.parent or "")
            zone[run.id] = run.zone_damper or above
            found = [branch[run.id]] if above and run.id in branch else []
            if zone[run.id] and run.register_id in face:
                found.append(face[run.register_id])
            if found and zone[run.id]:
                key = zone[run.id] or ""
                out[key] = (*out.get(key, ()), *found)
    return out


def past_shut(
    first: Array,
    closed: Sequence[frozenset[str]],
    dampers_k: dict[str, tuple[tuple[int, float], ...]],
    beyond: dict[str, tuple[int, ...]],
) -> Array:
    """The guess with next to nothing through zone dampers that are shut and beyond them: from above such a flow only halves a
    step."""
    if not any(closed):
        return first
    out = np.broadcast_to(first, (len(closed), first.shape[-1])).copy()
    for row, zones in zip(out, closed, strict=True):
        for zone in zones:
            dampers = dampers_k.get(zone, ())
            least = min((np.sqrt(USUAL_PA / max(more, FLOAT_TINY)) for _, more in dampers), default=0.0)
            for branch, more in dampers:
                row[branch] = np.sqrt(USUAL_PA / max(more, FLOAT_TINY))
            at = list(beyond.get(zone, ()))
            row[at] = np.minimum(row[at], least)
    return out


USUAL_PA = 30.0
"""What stands over a shut damper, about."""


# ---- bypasses -------------------------------------------------------------------------------------------------


BYPASS_LOSS = 3.0
"""Loss of a bypass wide open on its speed: in, out, blade and two elbows; common practice."""
BYPASS_SHUT_K = 1e8
"""Pa per (m3/s)2 of its blade on its seat."""


def wide_open_k(bypass: Bypass, density: float) -> float:
    """What a bypass resists with wide open, Pa per (m3/s)2."""
    return float(BYPASS_LOSS * 0.5 * density / (np.pi * bypass.diameter_m**2 / 4) ** 2)


BYPASS_PASSES = 6
SHUT, HOLDS, OPEN = 0, 1, 2
"""A bypass on its seat; open while a motor holds the static; as far open as its blade or its pressure lets it."""
HOLDS_SHARE = 1e-3
"""Of its resistance wide open, what a bypass that holds the static has over it."""


def with_bypasses(
    circuit: Circuit,
    bypasses: dict[str, tuple[int, Bypass, float]],
    k: Array,
    outside: Array | None,
    solution: NetworkSolution,
    solved: Callable[[Array, Array | None, Array], NetworkSolution],
) -> NetworkSolution:
    """The circuit with every bypass as it stands: a blade that is lifted takes its set pressure and its resistance, one with a
    motor holds the set pressure until it is wide open. Which it is follows from the flow and pressure found before.

    Args:
        bypasses: By unit the branch, the bypass, and what it resists with wide open.
        k: By situation and branch, (s, m), bypasses shut.
        outside: What stack and wind press along each branch, (s, m).
        solved: Solves with other `k` and `head` from a first guess.
    """
    states = {i: np.full(len(k), SHUT) for i in bypasses}
    for _ in range(BYPASS_PASSES):
        wanted = {i: _bypass_state(circuit, solution, states[i], *x) for i, x in bypasses.items()}
        if all(np.array_equal(wanted[i], states[i]) for i in states):
            break
        states = wanted
        now = k.copy()
        head = np.zeros_like(k) if outside is None else outside.copy()
        first = solution.flow_m3_s.copy()
        for i, (branch, x, wide) in bypasses.items():
            at = states[i]
            motor = x.kind == "modulating"
            now[:, branch] = np.choose(at, [BYPASS_SHUT_K, wide * HOLDS_SHARE, wide])
            head[:, branch] -= np.choose(at, [0.0, x.opens_pa, 0.0 if motor else x.opens_pa])
            first[:, branch] = np.where(at == SHUT, 1e-4, np.maximum(first[:, branch], np.sqrt(USUAL_PA / wide)))
        again = solved(now, head, first)
        if not again.converged:
            return again
        solution = again
    return solution


def _bypass_state(
    circuit: Circuit, solution: NetworkSolution, state: NDArray[np.int_], branch: int, x: Bypass, wide: float
) -> NDArray[np.int_]:
    """How a bypass stands next, by situation."""
    p, q = solution.pressure_pa, solution.flow_m3_s[:, branch]
    over = p[:, circuit.start[branch]] - p[:, circuit.end[branch]]
    opens = over > x.opens_pa
    if x.kind == "barometric":
        return np.where(state == SHUT, np.where(opens, OPEN, SHUT), np.where(q > 0, OPEN, SHUT))
    full = np.sqrt(x.opens_pa / wide)
    holding = np.where(q <= 0, SHUT, np.where(q > full, OPEN, HOLDS))
    return np.where(
        state == SHUT, np.where(opens, HOLDS, SHUT), np.where(state == HOLDS, holding, np.where(opens, OPEN, HOLDS))
    )
