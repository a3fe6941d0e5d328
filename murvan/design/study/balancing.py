"""Balancing dampers set by the air circuit, and the order in which they are set on site with the flow to expect at each."""

from __future__ import annotations

from collections.abc import Iterator
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
from murvan.physics.heat import LEAK_EXPONENT
from murvan.physics.network import branch_loss
from murvan.physics.network import solve as solve_circuit

ROUNDS = 14
PATIENT, TOLD = 6, 0.2
"""From which round on what a face falls short by is held against it, and how much of it."""
NEAR = 0.003
"""Share of its air to which a face is brought before its damper is rounded to a percent."""
LEAST = 0.02
"""Smallest opening that a damper is set to; less is shut."""
LEAST_C, MOST_C = float(ductflow.DAMPER_C[0]), float(ductflow.damper_coefficient(np.asarray(LEAST)))
OVER = 0.03
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
    chains: tuple[NDArray[np.intp], ...]
    """Branches of the runs from the plenum to each, its own with them."""
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
        tuple(np.array([n.layout.run_branch[i] for i in _chain(r, x)], np.intp) for x in runs),
        np.array([sides_of.index((x.indoor, x.side)) for x in runs], np.intp),
    )


def _chain(r: Results, run: LaidRun) -> Iterator[str]:
    """A run and those between it and its plenum."""
    at: str | None = run.id
    while at is not None:
        yield at
        at = r.runs[at].run.parent


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

    Where that is more than that (`OVER`) beyond their air, all of them are held to it; not where registers have no run yet, whose
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
        run.id: max(_percent(ductflow.damper_opening(float(x)), much > 1 + OVER / 2), LEAST)
        for run, x, much in zip(leaves.runs, c, share, strict=True)
    }
    runs = tuple(changed(x, x.tag, damper=opening[x.id]) if x.id in opening else x for x in job.design.runs)
    return with_design(job, runs=runs)


def _percent(opening: float, down: bool) -> float:
    """An opening as it can be set: to a percent, the lower one where there is air to spare."""
    return float(np.floor(opening * 100 + 1e-6) / 100) if down else round(opening, 2)


def _settled(n: Network, leaves: _Leaves, c: Array, held: NDArray[np.bool_]) -> tuple[Array, Array] | None:
    """Damper coefficients at which all faces of a side of a unit get the same share of their air, and those shares: the hardest
    with its damper open, but for faces that are `held` to their design air. None where the circuit does not close.

    With all flows of a side in proportion every way's loss is known; what the hardest loses more than another is that one's
    damper to take. How much all get follows from the blower, so that a few rounds do.
    """
    base = situation_k(n.circuit, n.layout)[0]
    base[leaves.branch] += (LEAST_C - leaves.c) * leaves.pressure_of_c
    more, before = np.zeros(len(c)), (np.zeros(len(c)), np.ones(len(c)))
    share, told = np.ones(len(c)), np.zeros(len(c))
    for n_round in range(ROUNDS):
        k = base.copy()
        k[leaves.branch] += (c - LEAST_C) * leaves.pressure_of_c
        found = _flows(n, k)
        if found is None:
            return None
        flow, pressure = found
        share = np.maximum(flow[leaves.face], 1e-6) / leaves.want_m3_s
        common = _by_group(leaves, share * leaves.want_m3_s) / _by_group(leaves, leaves.want_m3_s)
        goal = np.where(held, 1.0, common)
        if float(np.abs(share / goal - 1).max()) < NEAR:
            break
        level = _level(n, leaves, flow, pressure, goal, base)
        # where air parts a small flow may settle lower than its losses say: what a face falls short by counts as lost too
        if n_round >= PATIENT:
            told += TOLD * (1 - np.minimum(share / goal, 1.0) ** 2) * np.abs(level)
        level = level + told
        spare = np.array([level[leaves.group == g].max() for g in leaves.groups])[leaves.group] - level
        if held.any():
            more, before = _held_back(more, before, common, spare, held)
        c = np.clip(
            LEAST_C + (spare + more) / (leaves.pressure_of_c * (goal * leaves.want_m3_s) ** 2), LEAST_C, MOST_C
        )
    return c, share


def _by_group(leaves: _Leaves, values: Array) -> Array:
    """The sum over its side of a unit, for each."""
    return np.asarray(np.bincount(leaves.group, values, len(leaves.groups)), float)[leaves.group]


def _level(n: Network, leaves: _Leaves, flow: Array, pressure: Array, goal: Array, base: Array) -> Array:
    """Pressure that each way takes between its plenum and the house, with all flows of its side in proportion, Pa."""
    wanted = flow.copy()
    wanted[leaves.face] = goal * leaves.want_m3_s
    change = wanted[leaves.face] - flow[leaves.face]
    for x, chain in zip(change, leaves.chains, strict=True):
        wanted[chain] += x
    loss, _ = branch_loss(n.circuit, wanted, base)
    lost = np.array([loss[chain].sum() for chain in leaves.chains]) + loss[leaves.face]
    c = n.circuit
    room = np.where(leaves.back, c.start[leaves.face], c.end[leaves.face])
    # what a room stands at goes with the air that has to leave it by its leaks
    stands = pressure[room] * np.clip(wanted[leaves.face] / np.maximum(flow[leaves.face], 1e-6), 0.3, 6) ** (
        1 / LEAK_EXPONENT
    )
    # from the plenum to the room a supply falls by what it loses; a return from the room to the plenum
    return np.asarray(np.where(leaves.back, lost - stands, lost + stands))


def _held_back(
    more: Array, before: tuple[Array, Array], common: Array, spare: Array, held: NDArray[np.bool_]
) -> tuple[Array, tuple[Array, Array]]:
    """What all dampers of a side take beside that, so that it gets no more than its air: secant on the share it gets."""
    was, got = before
    slope = np.where(np.abs(more - was) > 1e-6, (common - got) / np.where(more != was, more - was, 1.0), 0.0)
    first = np.maximum(spare.max(initial=0.0), 10.0) * (common**2 - 1)
    step = np.where(slope < 0, (1 - common) / np.where(slope < 0, slope, 1.0), first)
    return np.where(held, np.maximum(more + step, 0.0), 0.0), (more, common)


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
