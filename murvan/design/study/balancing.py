"""Balancing dampers set by the air circuit, and the order in which they are set on site with the flow to expect at each."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.design.circuit.network import Network, situation_k
from murvan.design.ducts import runs as duct
from murvan.design.ducts.duct_sizes import balance_dampers
from murvan.design.results import Results
from murvan.model.edit import changed, with_design
from murvan.model.job import Job, Register
from murvan.model.routes import LaidRun
from murvan.physics import ductflow
from murvan.physics.network import solve as solve_circuit

ROUNDS = 14
NEAR = 0.003
"""Share of its air to which a face is brought before its damper is rounded to a percent."""
PUSH = 6.0
LEAST = 0.02
"""Smallest opening that a damper is set to; less is shut."""
LEAST_C, MOST_C = float(ductflow.DAMPER_C[0]), float(ductflow.damper_coefficient(np.asarray(LEAST)))
OVER = 0.05
"""Share by which all faces may get more than their air, so that the hardest one's damper stands open."""


@dataclass(frozen=True)
class _Leaves:
    """Runs with a damper that end in a face, as arrays (n,)."""

    runs: tuple[LaidRun, ...]
    branch: NDArray[np.intp]
    face: NDArray[np.intp]
    back: NDArray[np.bool_]
    """Whether it is of the return."""
    want_m3_s: Array
    pressure_of_c: Array
    """Pa per (m3/s)2 of a loss coefficient of 1."""
    c: Array
    """Damper coefficient as it is."""
    group: NDArray[np.intp]
    """Which are balanced against each other: a side of a unit."""

    @property
    def groups(self) -> range:
        return range(int(self.group.max()) + 1)


def _leaves(r: Results, n: Network, sides: tuple[str, ...]) -> _Leaves | None:
    found = [
        (x.run, s.airflow.register_m3_s.get(x.run.register_id or "", 0.0))
        for s in r.systems.values()
        for x in s.ducts.runs.values()
        if x.run.side in sides and x.run.damper is not None and x.run.register_id in n.layout.register_branch
    ]
    found = [(run, want) for run, want in found if want > 0]
    if not found:
        return None
    runs = tuple(run for run, _ in found)
    sides_of = list(dict.fromkeys((x.indoor, x.side) for x in runs))
    density = n.circuit.density_kg_m3
    return _Leaves(
        runs,
        np.array([n.layout.run_branch[x.id] for x in runs]),
        np.array([n.layout.register_branch[x.register_id or ""] for x in runs]),
        np.array([x.side == "return" for x in runs]),
        np.array([want for _, want in found]),
        np.array([0.5 * density / duct.run_area_m2(x) ** 2 for x in runs]),
        ductflow.damper_coefficient(np.array([x.damper for x in runs])),
        np.array([sides_of.index((x.indoor, x.side)) for x in runs], np.intp),
    )


def _flows(n: Network, k: Array) -> tuple[Array, Array] | None:
    """Flows and node pressures with other resistances, doors open and filters clean; None where that does not close."""
    head = n.layout.head[0] if n.layout.head is not None else None
    found = solve_circuit(
        n.circuit, k=k, first_flow=n.solution.flow_m3_s[0], injection=n.layout.injection[0], head=head
    )
    return (found.flow_m3_s, found.pressure_pa) if found.converged else None


def unconnected(job: Job) -> tuple[Register, ...]:
    """Registers and grilles of units with ducts that no run leads to."""
    on_a_run, ducted = {r.register_id for r in job.design.runs}, {r.indoor for r in job.design.runs}
    return tuple(x for x in job.design.registers if x.indoor in ducted and x.id not in on_a_run)


def balanced(r: Results, job: Job | None = None) -> Job:
    """The job with every balancing damper where the air circuit brings all faces of a unit to the same share of their design
    air, the hardest one with its damper open.

    Where that is more than a twentieth beyond their air, all of them are held to it; not where registers have no run yet, whose
    air has to go by the others meanwhile.
    Without an air circuit dampers follow from the pressures of the paths.

    Args:
        job: Where the dampers are set; None: the job that was solved.
    """
    job = job or r.job
    n = r.network
    leaves = _leaves(r, n, ("supply", "return")) if n is not None else None
    if n is None or leaves is None:
        return balance_dampers(job, r.runs)
    held, c = np.zeros(len(leaves.runs), bool), np.clip(leaves.c, LEAST_C, MOST_C)
    for _ in range(2):
        found = _settled(n, leaves, c, held)
        if found is None:
            return balance_dampers(job, r.runs)
        c, share = found
        beyond = [
            (leaves.group == g) & ~leaves.back & (share[leaves.group == g].mean() > 1 + OVER) for g in leaves.groups
        ]
        held = held | np.logical_or.reduce(beyond)
        if unconnected(job) or not held.any():
            break
    opening = {
        run.id: round(max(ductflow.damper_opening(float(x)), LEAST), 2) for run, x in zip(leaves.runs, c, strict=True)
    }
    runs = tuple(changed(x, x.tag, damper=opening[x.id]) if x.id in opening else x for x in job.design.runs)
    return with_design(job, runs=runs)


def _settled(n: Network, leaves: _Leaves, c: Array, held: NDArray[np.bool_]) -> tuple[Array, Array] | None:
    """Damper coefficients at which all faces of a side of a unit get the same share of their air, and those shares: the hardest
    with its damper open, but for faces that are `held` to their design air. None where the circuit does not close."""
    base = situation_k(n.circuit, n.layout)[0]
    base[leaves.branch] -= leaves.c * leaves.pressure_of_c
    first, last = np.where(leaves.back, leaves.face, leaves.branch), np.where(leaves.back, leaves.branch, leaves.face)
    push, before = np.ones(len(c)), np.zeros(len(c))
    share = np.ones(len(c))
    for _ in range(ROUNDS):
        k = base.copy()
        k[leaves.branch] += c * leaves.pressure_of_c
        found = _flows(n, k)
        if found is None:
            return None
        flow, pressure = found
        q = np.maximum(flow[leaves.face], 1e-6)
        share = q / leaves.want_m3_s
        open_ = c <= LEAST_C * 1.001
        goal = np.ones(len(c))
        for g in leaves.groups:
            mine = leaves.group == g
            goal[mine] = _goal(share, open_, mine)
        goal = np.where(held, np.minimum(goal, 1.0), goal)
        off = np.where(open_, np.maximum(share / goal - 1, 0.0), np.abs(share / goal - 1))
        shut = [not (open_ | held)[leaves.group == g].any() for g in leaves.groups]
        if float(off.max()) < NEAR and not any(shut):
            break
        common = np.ones(len(c))
        for g in leaves.groups:
            mine = leaves.group == g
            common[mine] = float((share / goal)[mine].mean())
        common = np.where(held, common, 1.0)
        push, before = _push(push, before, common - 1), common - 1
        over = pressure[n.circuit.start[first]] - pressure[n.circuit.end[last]]
        whole = np.maximum(over, 1e-3) / q**2
        wanted = share / goal * common ** (push - 1)
        c = np.clip(c + whole * (wanted**2 - 1) / leaves.pressure_of_c, LEAST_C, MOST_C)
        c = _opened(leaves, c, goal, held)
    return c, share


def _opened(leaves: _Leaves, c: Array, goal: Array, held: NDArray[np.bool_]) -> Array:
    """The same with as much taken off every damper of a side as the one with least over it has: it stands open, and shares stay
    as they are."""
    per_c = leaves.pressure_of_c * (goal * leaves.want_m3_s) ** 2
    spare = (c - LEAST_C) * per_c
    out = c.copy()
    for g in leaves.groups:
        mine = (leaves.group == g) & ~held
        if mine.any():
            out[mine] -= spare[mine].min() / per_c[mine]
    return np.maximum(out, LEAST_C)


def _push(push: Array, before: Array, now: Array) -> Array:
    """How far to go against what all faces have in common: a blower gives way when all dampers are turned alike, so a round
    takes but part of it off; as much as the round before told."""
    told = np.abs(before) > NEAR / 2
    left = np.where(told, now / np.where(told, before, 1.0), 1.0)
    return np.where(left < 0.95, np.clip(push / np.where(left < 0.95, 1 - left, 1.0), 1.0, PUSH), push)


def _goal(share: Array, open_: NDArray[np.bool_], side: NDArray[np.bool_]) -> float:
    """The share of its air that every face of a side is brought to: that of the hardest whose damper is open."""
    return float(share[side & open_].min()) if (side & open_).any() else float(share[side].max())


@dataclass(frozen=True)
class Step:
    """One damper set on site."""

    run: str
    tag: str
    register: str
    opening: float
    """0..1."""
    before_m3_s: float
    """At its face with its damper still open and those before it set."""
    expect_m3_s: float
    """Just after it is set; those after it are still open."""
    end_m3_s: float
    """When all are set."""
    design_m3_s: float


def steps(r: Results) -> tuple[Step, ...]:
    """The order in which dampers are set, the one that takes most air beyond its own first: all start open."""
    n = r.network
    leaves = _leaves(r, n, ("supply",)) if n is not None else None
    if n is None or leaves is None:
        return ()
    base = situation_k(n.circuit, n.layout)[0]
    open_c = float(ductflow.DAMPER_C[0])
    k = base.copy()
    k[leaves.branch] += (open_c - leaves.c) * leaves.pressure_of_c
    started, ended = _flows(n, k), _flows(n, base)
    if started is None or ended is None:
        return ()
    flow = started[0]
    out: list[Step] = []
    order = np.argsort(-(flow[leaves.face] / leaves.want_m3_s))
    for i in order.tolist():
        run = leaves.runs[i]
        before = float(flow[leaves.face[i]])
        k[leaves.branch[i]] += (leaves.c[i] - open_c) * leaves.pressure_of_c[i]
        found = _flows(n, k)
        flow = found[0] if found is not None else flow
        after, end = float(flow[leaves.face[i]]), float(ended[0][leaves.face[i]])
        want = float(leaves.want_m3_s[i])
        out.append(Step(run.id, run.tag, run.register_id or "", run.damper or 0.0, before, after, end, want))
    return tuple(out)
