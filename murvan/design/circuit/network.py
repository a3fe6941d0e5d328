"""The air circuit of a house solved: every register, test hole and room, doors open and shut."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from murvan.arrays import Array
from murvan.design.circuit.frame import AirSystem, Layout, UnitLayout, build, damped
from murvan.design.circuit.leaks import OUTDOORS
from murvan.design.circuit.situations import DOORS_SHUT, USUAL, Situation, alone
from murvan.design.circuit.zone_branches import beyond_dampers, closed_k, past_shut, with_bypasses
from murvan.design.house.geometry import Geometry
from murvan.design.house.passages import halls
from murvan.design.units.unit_losses import UnitLosses
from murvan.model.job import Job
from murvan.physics.circuit import Circuit
from murvan.physics.network import NetworkSolution, solve

BACKDRAFT_K = 1e9
"""Pa per (m3/s)2 of the flap of an exhaust fan that stands."""
EXHAUST_START_M3_S = 0.03


@dataclass(frozen=True)
class Blower:
    """One unit in the solved circuit; arrays by situation."""

    flow_m3_s: Array
    external_static_pa: Array
    statics_pa: dict[str, float]
    """Static pressure at the test holes, clean filter, doors open."""
    power_w: float
    losses: UnitLosses


@dataclass(frozen=True)
class Leaking:
    """What the ducts of a unit leak, m3/s."""

    supply: float
    """m3/s."""
    back: float
    """Into the return."""
    outside: float
    """Of both, what goes out of the shell or comes from there."""


@dataclass(frozen=True)
class Network:
    """The answer. Arrays are (situation, ...), in the order of the layout's."""

    layout: Layout
    circuit: Circuit
    solution: NetworkSolution
    blowers: dict[str, Blower]
    """By indoor unit."""
    register_m3_s: dict[str, float]
    run_m3_s: dict[str, float]
    room_m3_s: dict[str, float]
    room_pressure_pa: dict[str, float]
    """Room over what its way to the hall leads into, doors shut; 0 in the hall."""
    house_pressure_pa: float
    """Of the house against the outdoors, from its ventilation and leaks."""
    leaks: dict[str, Leaking]
    """What the ducts of each unit leak, doors open."""
    bypass_m3_s: dict[str, Array]
    """What goes back through the bypass of each unit that has one, by situation."""

    @property
    def converged(self) -> bool:
        """Whether the circuit closed; without that none of it is shown."""
        return self.solution.converged


TOLERANCE_PA = 1e-10
"""So near that the house's pressures agree to 1e-9 Pa from wherever the search starts."""


def situation_k(circuit: Circuit, layout: Layout) -> Array:
    """Quadratic coefficients by situation, (situation, branch)."""
    k = np.repeat(circuit.k[None, :], len(layout.situations), axis=0)
    for row, state in zip(k, layout.situations, strict=True):
        doors = {layout.door_branch[i] for i in state.shut if i in layout.door_branch}
        for branch, value in layout.shut_k.items():
            if state.doors_shut or branch in doors:
                row[branch] = value
        for zone in state.closed:
            for branch, more in layout.closed_k.get(zone, ()):
                row[branch] += more
        if state.loaded:
            for unit in layout.units.values():
                row[unit.filter_branch] += unit.losses.loaded_k - unit.losses.filter_k
    for branch, runs in layout.exhaust.values():
        k[:, branch] += (1 - runs) * BACKDRAFT_K
    return k


def network(
    job: Job,
    geometry: Geometry,
    parts: Sequence[AirSystem],
    density: float,
    before: Network | None = None,
    states: tuple[Situation, ...] | None = None,
    tolerance_pa: float = TOLERANCE_PA,
) -> Network | None:
    """Solve all situations of a house in one batch; None while no unit has supply and return.

    Args:
        parts: the units with a blower; one without supply and return is left out.
        before: an earlier solution; the search starts there when the ducts join as they did.
        states: situations to solve for, the first one doors open and filters clean; None: the usual ones.
    """
    whole = [x for x in parts if x.complete]
    if not whole:
        return None
    return _answered(job, whole, *build(job, geometry, whole, density, states or USUAL), before, tolerance_pa)


def set_network(
    job: Job, parts: Sequence[AirSystem], bare: tuple[Circuit, Layout], before: Network | None
) -> Network | None:
    """As `network` in the usual situations, of a skeleton that is there."""
    whole = [x for x in parts if x.complete]
    if not whole:
        return None
    circuit = damped(*bare, (r for x in whole for r in x.design.runs))
    return _answered(job, whole, circuit, bare[1], before, TOLERANCE_PA)


def _answered(
    job: Job,
    whole: Sequence[AirSystem],
    circuit: Circuit,
    layout: Layout,
    before: Network | None,
    tolerance_pa: float,
) -> Network:
    """All situations of a circuit in one batch."""
    k, running = situation_k(circuit, layout), _running(whole, layout)
    closed = [x.closed for x in layout.situations]

    def solved(k: Array, head: Array | None, first: Array) -> NetworkSolution:
        return solve(
            circuit,
            k=k,
            first_flow=first,
            injection=layout.injection,
            head=head,
            running=running,
            tolerance_pa=tolerance_pa,
        )

    first = _first_flow(circuit, layout, whole, before)
    if before is None or before.layout.situations != layout.situations:
        first = past_shut(first, closed, layout.closed_k, layout.closed_beyond)
    solution = solved(k, layout.head, first)
    if layout.bypasses and solution.converged:
        solution = with_bypasses(circuit, layout.bypasses, k, layout.head, solution, solved)
    return read(job, whole, circuit, layout, solution)


NEAR_PA = 1e-6
"""So near that flows of registers agree to 1e-7 m3/s; nearer, only open doors with next to no air in them still move."""


def in_states(
    job: Job, parts: Sequence[AirSystem], n: Network, states: tuple[Situation, ...], before: Network | None = None
) -> Network:
    """A solved circuit in other states, dampers of zones and doors alone: fans and weather are as usual. The search starts from
    `before` where that is of the same states."""
    whole, rows = [x for x in parts if x.complete], len(states)
    designs = [x.design for x in whole]
    layout = replace(
        n.layout,
        situations=states,
        injection=np.repeat(n.layout.injection[:1], rows, axis=0),
        closed_k=closed_k(job, designs, n.layout.run_branch, n.circuit.density_kg_m3),
        closed_beyond=beyond_dampers(designs, n.layout.run_branch, n.layout.register_branch),
        exhaust={i: (at, np.repeat(runs[:1], rows)) for i, (at, runs) in n.layout.exhaust.items()},
    )
    same = before is not None and before.layout.situations == states
    return _answered(job, whole, n.circuit, layout, before if same else n, NEAR_PA)


def zones_alone(job: Job, parts: Sequence[AirSystem], n: Network, before: Network | None = None) -> Network | None:
    """Each zone of several with dampers calling alone; None where there are no such zones, or where it does not close."""
    states = alone(zones_with_dampers(job, [x for x in parts if x.complete]))
    found = in_states(job, parts, n, states, before) if states else None
    return found if found is not None and found.converged else None


def zones_with_dampers(job: Job, parts: Sequence[AirSystem]) -> tuple[str, ...]:
    """Ids of the zones that have a damper in the ducts, in the design's order."""
    have = {r.zone_damper for p in parts for r in p.design.runs}
    return tuple(z.id for z in job.design.zones if z.id in have)


def _running(parts: Sequence[AirSystem], layout: Layout) -> Array | None:
    """Whether each blower and exhaust fan runs, (situation, fan); None where all always do."""
    blowers = [[float(p.design.id not in x.still) for p in parts] for x in layout.situations]
    whole = np.column_stack([np.array(blowers), *(runs for _, runs in layout.exhaust.values())])
    return None if whole.all() else whole


def _first_flow(circuit: Circuit, layout: Layout, parts: Sequence[AirSystem], before: Network | None) -> Array:
    if before is not None and before.solution.converged:
        old = before.circuit
        alike = np.array_equal(old.start, circuit.start) and np.array_equal(old.end, circuit.end)
        if alike:
            same = len(before.layout.situations) == len(layout.situations)
            return before.solution.flow_m3_s if same else before.solution.flow_m3_s[0]
    first = np.full(len(circuit.start), 0.01)
    for part in parts:
        for x, branches in ((part.runs_m3_s, layout.run_branch), (part.registers_m3_s, layout.register_branch)):
            for i, flow in x.items():
                if i in branches:
                    first[branches[i]] = max(flow, 0.002)
        at = layout.units[part.design.id]
        first[[at.filter_branch, at.blower_branch, at.heater_branch]] = part.total_m3_s
    first[[branch for branch, _ in layout.exhaust.values()]] = EXHAUST_START_M3_S
    return first


def read(
    job: Job, parts: Sequence[AirSystem], circuit: Circuit, layout: Layout, solution: NetworkSolution
) -> Network:
    """Name the figures of a solved circuit; a fresh-air run carries what the ventilator is set to."""
    q, p = solution.flow_m3_s, solution.pressure_pa
    registers = {i: float(q[0, branch]) for i, branch in layout.register_branch.items()}
    rooms: dict[str, float] = {r.id: 0.0 for r in job.rooms}
    runs = {i: float(q[0, x]) for i, x in layout.run_branch.items()}
    for part in parts:
        for x in part.design.registers:
            if x.side == "supply" and x.id in registers:
                rooms[x.room] += registers[x.id]
        runs |= {r.id: part.design.fresh_m3_s for r in part.design.runs if r.side == "fresh"}
    hubs = halls(job)
    shut = next((k for k, x in enumerate(layout.situations) if x.key == DOORS_SHUT), 0)
    return Network(
        layout,
        circuit,
        solution,
        {part.design.id: _blower(part, layout.units[part.design.id], circuit, solution) for part in parts},
        registers,
        runs,
        rooms,
        {r.id: _over_its_door(circuit, layout, p[shut], r.id) for r in job.rooms},
        float(p[0, layout.room[next(iter(hubs.values()))]]),
        {i: _leaking(circuit, found, q[0]) for i, found in layout.duct_leaks.items()},
        {i: np.maximum(q[:, branch], 0.0) for i, (branch, _, _) in layout.bypasses.items()},
    )


def _leaking(c: Circuit, found: list[tuple[int, str]], flow: Array) -> Leaking:
    by = {"supply": 0.0, "return": 0.0}
    outside = 0.0
    for branch, side in found:
        by[side] += float(flow[branch])
        if OUTDOORS in (c.start[branch], c.end[branch]):
            outside += float(flow[branch])
    return Leaking(by["supply"], by["return"], outside)


def _over_its_door(circuit: Circuit, layout: Layout, p: Array, room: str) -> float:
    at = layout.door_branch.get(room)
    return 0.0 if at is None else float(p[circuit.start[at]] - p[circuit.end[at]])


def _blower(part: AirSystem, at: UnitLayout, circuit: Circuit, solution: NetworkSolution) -> Blower:
    p, flow = solution.pressure_pa, solution.flow_m3_s[:, at.blower_branch]
    rise = p[:, at.outlet_node] - p[:, at.after_filter]

    def speed_pa(side: str) -> float:
        box = next((x for x in part.design.plenums if x.side == side), None)
        return 0.5 * circuit.density_kg_m3 * float(flow[0] / (box.width_m * box.depth_m)) ** 2 if box else 0.0

    over, under = speed_pa("supply"), speed_pa("return")
    statics = {
        "return": float(p[0, at.return_node]) - under,
        "after_filter": float(p[0, at.after_filter]) - under,
        "before_heater": float(p[0, at.outlet_node]) - over,
        "supply": float(p[0, at.supply_node]) - over,
    }
    power = float(flow[0] * (rise[0] + at.losses.inside_k * flow[0] ** 2) / part.unit.blower.efficiency)
    return Blower(flow, rise, statics, power, at.losses)
