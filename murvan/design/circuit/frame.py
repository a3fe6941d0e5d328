"""The circuit of a house with all its blowers, put together: its branches and nodes, and where the job's things are in it.

Nodes: the rooms; of every unit the return plenum, after the filter, the blower's outlet, the supply plenum, and the end
of every run. Rooms leak to the outdoors and open into each other where doors and archways are drawn; stairs join the storeys.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from murvan.arrays import Array
from murvan.design.circuit.leaks import OUTDOORS, ShellLeak, duct_leaks, shell_leaks, weather_pa
from murvan.design.circuit.situations import Situation
from murvan.design.circuit.zone_branches import BYPASS_SHUT_K, beyond_dampers, closed_k, wide_open_k
from murvan.design.ducts import runs as duct
from murvan.design.ducts.airflow import Airflow
from murvan.design.ducts.parting import junctions_of
from murvan.design.house.geometry import Geometry
from murvan.design.house.passages import stairs, ways
from murvan.design.units.unit_design import UnitDesign
from murvan.design.units.unit_losses import UnitLosses, exhaust_curve, exhaust_k, fan_curve, unit_losses
from murvan.model.design import Bypass, Ventilator
from murvan.model.equipment import Unit
from murvan.model.job import Job
from murvan.model.routes import LaidRun
from murvan.physics import ductflow
from murvan.physics.circuit import Circuit, FanCurve
from murvan.physics.constants import FLOAT_TINY
from murvan.physics.heat import LEAK_EXPONENT
from murvan.physics.junctions import Junctions

STAIRS_M2 = 2.0
OPENING_C = 0.6


@dataclass(frozen=True)
class AirSystem:
    """One unit in the circuit: what it is, and where the search starts."""

    design: UnitDesign
    unit: Unit
    runs_m3_s: dict[str, float]
    registers_m3_s: dict[str, float]
    total_m3_s: float

    @staticmethod
    def of(design: UnitDesign, unit: Unit, ducts: duct.Ducts, air: Airflow) -> AirSystem:
        """A unit at its design flows."""
        flows = {i: x.flow_m3_s for i, x in ducts.runs.items()}
        return AirSystem(design, unit, flows, air.register_m3_s, air.total_m3_s)

    @property
    def complete(self) -> bool:
        """It has supply and return, each to a register."""
        return {"supply", "return"} <= {r.side for r in self.design.runs if r.register_id}


@dataclass(frozen=True)
class UnitLayout:
    """Where a unit sits in the circuit."""

    filter_branch: int
    blower_branch: int
    heater_branch: int
    return_node: int
    after_filter: int
    outlet_node: int
    supply_node: int
    losses: UnitLosses


@dataclass(frozen=True)
class Layout:
    """Where the job's things sit in the circuit."""

    situations: tuple[Situation, ...]
    room: dict[str, int]
    units: dict[str, UnitLayout]
    run_branch: dict[str, int]
    register_branch: dict[str, int]
    door_branch: dict[str, int]
    shut_k: dict[int, float]
    injection: Array
    """What fans bring in at each node, (situation, node)."""
    head: Array | None
    """What stack and wind press along each branch, (situation, branch); None: they don't act."""
    duct_leaks: dict[str, list[tuple[int, str]]]
    """Branch and side of each leak of the ducts, by indoor unit."""
    closed_k: dict[str, tuple[tuple[int, float], ...]]
    """By zone, what its dampers resist with more when they are shut."""
    closed_beyond: dict[str, tuple[int, ...]]
    """By zone the branches of all runs and registers beyond its dampers."""
    bypasses: dict[str, tuple[int, Bypass, float]]
    """By indoor unit the branch of its bypass, and what that resists with when it is wide open, Pa per (m3/s)2."""
    exhaust: dict[str, tuple[int, Array]]
    """By room the branch of its exhaust fan, and whether it runs, 1 or 0, by situation; fans that never do are left out."""

    def at(self, key: str) -> int:
        """Index of a situation."""
        return next(k for k, x in enumerate(self.situations) if x.key == key)


class _Builder:
    """Collects branches, then freezes them into arrays."""

    def __init__(self) -> None:
        self.start: list[int] = []
        self.end: list[int] = []
        self.rows: list[tuple[float, ...]] = []
        self.nodes = 0

    def node(self) -> int:
        self.nodes += 1
        return self.nodes - 1

    def branch(
        self,
        start: int,
        end: int,
        *,
        length: float = 0.0,
        area: float = 1.0,
        hydraulic: float = 1.0,
        rough: float = 1e-4,
        scale: float = 1.0,
        k: float = 0.0,
        leak: float = 0.0,
    ) -> int:
        self.start.append(start)
        self.end.append(end)
        self.rows.append((length, area, hydraulic, rough, scale, k, leak))
        return len(self.start) - 1

    def circuit(self, fans: tuple[tuple[int, FanCurve], ...], density: float, parting: Junctions) -> Circuit:
        columns = np.array(self.rows).T
        length, area, hydraulic, rough, scale, k, leak = columns
        return Circuit(
            start=np.array(self.start, np.intp),
            end=np.array(self.end, np.intp),
            nodes=self.nodes,
            length_m=length,
            area_m2=area,
            hydraulic_m=hydraulic,
            roughness_m=rough,
            friction_scale=scale,
            k=k,
            power_c=leak,
            power_n=LEAK_EXPONENT,
            fans=fans,
            density_kg_m3=density,
            junctions=parting if parting.ways else None,
        )


def opening_k(area_m2: float, density: float) -> float:
    """Pa per (m3/s)2 of a large opening, discharge 0.6."""
    return 0.5 * density / (OPENING_C * area_m2) ** 2


DOOR_CRACKS_M2 = 2e-4
"""What a shut door leaks about its edges; common practice."""


def shut_door_k(undercut_m: float, door_width_m: float, transfer_m2: float) -> float:
    """Pa per (m3/s)2 of a shut door: undercut and transfer opening side by side; common practice."""
    constant = ductflow.orifice_constant(undercut_m * door_width_m + transfer_m2 + DOOR_CRACKS_M2)
    return 1 / constant**2


def build(
    job: Job, geometry: Geometry, parts: Sequence[AirSystem], density: float, states: tuple[Situation, ...]
) -> tuple[Circuit, Layout]:
    """The circuit of a house with all its blowers, and where things are in it."""
    whole = [x for x in parts if x.complete]
    bare = skeleton(job, geometry, whole, density, states)
    return damped(bare[0], bare[1], [r for x in whole for r in x.design.runs]), bare[1]


def damped(c: Circuit, layout: Layout, runs: Iterable[LaidRun]) -> Circuit:
    """A circuit with the balancing dampers of its runs as they are set."""
    k = c.k.copy()
    for run in runs:
        if run.damper is not None and run.id in layout.run_branch:
            lost = float(ductflow.damper_coefficient(np.asarray(run.damper)))
            k[layout.run_branch[run.id]] += lost * 0.5 * c.density_kg_m3 / duct.run_area_m2(run) ** 2
    return c.with_k(k)


def skeleton(
    job: Job, geometry: Geometry, parts: Sequence[AirSystem], density: float, states: tuple[Situation, ...]
) -> tuple[Circuit, Layout]:
    """The circuit without its balancing dampers."""
    b = _Builder()
    room = {r.id: b.node() for r in job.rooms}
    units, fans = {}, []
    branch: dict[str, int] = {}
    face: dict[str, int] = {}
    leaking: dict[str, list[tuple[int, str]]] = {}
    for part in parts:
        found = units[part.design.id] = _add_unit(b, part, density)
        fans.append((found.blower_branch, fan_curve(part.unit, part.design.indoor.tap, density)))
        runs, faces, ends = _add_runs(b, part.design, room, found, density)
        branch |= runs
        face |= faces
        leaking[part.design.id] = _add_duct_leaks(b, job, part, room, ends, found)
    door_branch, shut = _add_ways(b, job, room, density)
    leaks = list(shell_leaks(job, geometry, any(x.weather for x in states)))
    shell = _add_shell(b, leaks, room)
    exhaust, drawing = _add_exhausts(b, job, room, states)
    bypasses = {}
    for part in parts:
        at, own = units[part.design.id], part.design.indoor.bypass
        if own is not None:
            branch_at = b.branch(at.supply_node, at.return_node, k=BYPASS_SHUT_K)
            bypasses[part.design.id] = (branch_at, own, wide_open_k(own, density))
    fans += drawing
    injection = np.zeros((len(states), b.nodes))
    for part in parts:
        _inject(injection, job, room, part.design.ventilators, units[part.design.id].return_node)
    head = _head(job, leaks, shell, states, density, len(b.start))
    shuts = any(x.closed for x in states)
    designs = [x.design for x in parts]
    closed = closed_k(job, designs, branch, density) if shuts else {}
    layout = Layout(
        *(states, room, units, branch, face, door_branch, shut, injection, head, leaking, closed),
        closed_beyond=beyond_dampers(designs, branch, face) if shuts else {},
        bypasses=bypasses,
        exhaust=exhaust,
    )
    laid = tuple(r for part in parts for r in part.design.runs)
    parting = junctions_of(laid, [duct.run_area_m2(r) for r in laid], branch, density)
    return b.circuit(tuple(fans), density, parting), layout


def _add_exhausts(
    b: _Builder, job: Job, room: dict[str, int], states: tuple[Situation, ...]
) -> tuple[dict[str, tuple[int, Array]], list[tuple[int, FanCurve]]]:
    """Branch of each exhaust fan that runs in some situation, and in which it does; their curves in the same order."""
    out: dict[str, tuple[int, Array]] = {}
    curves: list[tuple[int, FanCurve]] = []
    for r in job.rooms:
        if r.exhaust is not None:
            runs = np.array([float(r.exhaust.continuous or r.id in x.fans) for x in states])
            if runs.any():
                rated = r.exhaust.flow_m3_s
                at = b.branch(room[r.id], OUTDOORS, k=exhaust_k(rated))
                out[r.id] = (at, runs)
                curves.append((at, exhaust_curve(rated)))
    return out, curves


def _head(
    job: Job, leaks: list[ShellLeak], at: list[int], states: tuple[Situation, ...], density: float, branches: int
) -> Array | None:
    if not any(x.weather for x in states):
        return None
    out = np.zeros((len(states), branches))
    for row, state in zip(out, states, strict=True):
        if state.weather:
            row[at] = weather_pa(job, leaks, state, density)
    return out


def _add_unit(b: _Builder, part: AirSystem, density: float) -> UnitLayout:
    """Filter, blower, and heater with coil, from the return plenum to the supply plenum."""
    losses = unit_losses(part.unit, part.design.indoor, density)
    back, after, outlet, supply = (b.node() for _ in range(4))
    filter_branch = b.branch(back, after, k=losses.filter_k + FLOAT_TINY)
    blower = b.branch(after, outlet)
    heater = b.branch(outlet, supply, k=losses.heater_k + losses.coil_k + FLOAT_TINY)
    return UnitLayout(filter_branch, blower, heater, back, after, outlet, supply, losses)


def _inject(injection: Array, job: Job, room: dict[str, int], ventilators: tuple[Ventilator, ...], back: int) -> None:
    """Fresh air in at the unit's return; stale air out of the baths, or of all rooms in a house without one."""
    for v in ventilators:
        if v.kind in ("erv", "hrv", "supply"):
            injection[:, back] += v.flow_m3_s
        if v.kind in ("erv", "hrv", "exhaust"):
            stale = [r.id for r in job.rooms if r.use in ("bath", "powder", "utility")] or [r.id for r in job.rooms]
            for i in stale:
                injection[:, room[i]] -= v.flow_m3_s / len(stale)


def _add_runs(
    b: _Builder, u: UnitDesign, room: dict[str, int], at: UnitLayout, density: float
) -> tuple[dict[str, int], dict[str, int], dict[str, int]]:
    """Branch of each run, and of each register; the node at each run's end."""
    registers = {r.id: r for r in u.registers}
    branch: dict[str, int] = {}
    node: dict[str, int] = {}
    face: dict[str, int] = {}
    for run in duct.order(u.runs):
        if run.side == "fresh":
            continue
        plenum = at.supply_node if run.side == "supply" else at.return_node
        inner = node[run.parent] if run.parent else plenum
        outer = node[run.id] = b.node()
        area, equivalent = duct.run_area_m2(run), duct.run_equivalent_m(run)
        ends = (inner, outer) if run.side == "supply" else (outer, inner)
        branch[run.id] = b.branch(
            *ends,
            length=max(duct.run_length_m(run), 0.05),
            area=float(np.pi * equivalent**2 / 4),
            hydraulic=equivalent,
            rough=run.made_of.roughness_m,
            scale=duct.friction_scale(run),
            k=duct.fitting_coefficient(run) * 0.5 * density / area**2,
        )
        if run.register_id:
            register = registers[run.register_id]
            here = room[register.room]
            ends = (outer, here) if run.side == "supply" else (here, outer)
            face[register.id] = b.branch(*ends, k=duct.register_k(register, density))
    return branch, face, node


def _add_ways(b: _Builder, job: Job, room: dict[str, int], density: float) -> tuple[dict[str, int], dict[int, float]]:
    """Branch of each room's way to the hall, and what each door resists with when it is shut."""
    found = ways(job)
    branch: dict[str, int] = {}
    shut: dict[int, float] = {}
    for way in (*found.home.values(), *found.others):
        at = b.branch(room[way.room], room[way.beyond], k=opening_k(way.area_m2, density))
        branch.setdefault(way.room, at)
        if way.door is not None:
            t = way.transfer
            shut[at] = shut_door_k(t.undercut_m, way.door.width_m, 0.0 if t.kind == "undercut" else t.area_m2)
    for low, high in stairs(job):
        b.branch(room[low], room[high], k=opening_k(STAIRS_M2, density))
    return branch, shut


def _add_shell(b: _Builder, leaks: list[ShellLeak], room: dict[str, int]) -> list[int]:
    """Branch of each leak of the shell."""
    return [b.branch(room[x.room], OUTDOORS, leak=x.c) for x in leaks]


def _add_duct_leaks(
    b: _Builder, job: Job, part: AirSystem, room: dict[str, int], node: dict[str, int], at: UnitLayout
) -> list[tuple[int, str]]:
    """Branch and side of each leak of the ducts: half of a run's at either end of it, joined where they lead the same way."""
    whole: dict[tuple[int, str, int], float] = {}
    for x in duct_leaks(job, part.design, part.total_m3_s):
        if x.run.id not in node or x.c <= 0:
            continue
        plenum = at.supply_node if x.run.side == "supply" else at.return_node
        beyond = OUTDOORS if x.to is None else room[x.to]
        for end in (node[x.run.parent] if x.run.parent else plenum, node[x.run.id]):
            key = (end, x.run.side, beyond)
            whole[key] = whole.get(key, 0.0) + x.c / 2
    out = []
    for (end, side, beyond), c in whole.items():
        ends = (end, beyond) if side == "supply" else (beyond, end)
        out.append((b.branch(*ends, leak=c), side))
    return out
