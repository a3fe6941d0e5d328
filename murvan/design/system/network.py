"""The whole air circuit of a job, solved: every register, test hole and room, doors open and shut.

Nodes: the rooms, the return plenum, after the filter, the blower's outlet, the supply plenum, and the end of
every run. Rooms leak to the outdoors and open into their storey's hall through doors; halls join by the stairs.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

import numpy as np
from numpy.typing import NDArray

from murvan.catalog import Unit
from murvan.design.house.geometry import TOUCH_M, Geometry, wall_length_m, wall_points
from murvan.design.system import ducts as duct
from murvan.design.system.unit_losses import UnitLosses, fan_curve, unit_losses
from murvan.model.job import Job, Opening, Point, Room
from murvan.physics import ductflow
from murvan.physics.constants import FLOAT_TINY
from murvan.physics.heat import LEAK_EXPONENT
from murvan.physics.network import Circuit, FanCurve, NetworkSolution, solve

Array = NDArray[np.float64]

OPEN_DOOR_M2, ARCHWAY_M2, STAIRS_M2 = 1.6, 2.5, 2.0
OPENING_C = 0.6
SCENARIOS = ("clean", "doors_shut", "loaded_filter")
HALL_USES = ("hall", "landing")


@dataclass(frozen=True)
class Layout:
    """Where the job's things sit in the circuit."""

    room: dict[str, int]
    run_branch: dict[str, int]
    run_node: dict[str, int]
    register_branch: dict[str, int]
    door_branch: dict[str, int]
    shut_k: dict[int, float]
    filter_branch: int
    blower_branch: int
    heater_branch: int
    return_node: int
    after_filter: int
    outlet_node: int
    supply_node: int
    losses: UnitLosses
    scenario_injection: Array


@dataclass(frozen=True)
class Network:
    """The answer. Arrays are (scenario, ...), scenarios as in SCENARIOS."""

    layout: Layout
    circuit: Circuit
    solution: NetworkSolution
    register_m3_s: dict[str, float]
    run_m3_s: dict[str, float]
    room_m3_s: dict[str, float]
    blower_m3_s: Array
    external_static_pa: Array
    statics_pa: dict[str, float]
    """Static pressure at the test holes, clean filter, doors open."""
    room_pressure_pa: dict[str, float]
    """Room over its hall, doors shut."""
    house_pressure_pa: float
    blower_power_w: float

    @property
    def converged(self) -> bool:
        return self.solution.converged


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

    def circuit(self, fan: tuple[int, FanCurve], density: float) -> Circuit:
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
            fans=(fan,),
            density_kg_m3=density,
        )


def opening_k(area_m2: float, density: float) -> float:
    """Pa per (m3/s)2 of a large opening, discharge 0.6."""
    return 0.5 * density / (OPENING_C * area_m2) ** 2


TOLERANCE_PA = 1e-10
"""So near that the house's pressures agree to 1e-9 Pa from wherever the search starts."""
DOOR_CRACKS_M2 = 2e-4
"""What a shut door leaks about its edges; common practice."""


def shut_door_k(undercut_m: float, door_width_m: float, transfer_m2: float) -> float:
    """Pa per (m3/s)2 of a shut door: undercut and transfer opening side by side; common practice."""
    constant = ductflow.orifice_constant(undercut_m * door_width_m + transfer_m2 + DOOR_CRACKS_M2)
    return 1 / constant**2


def halls(job: Job) -> dict[str, str]:
    """The hub room of each storey: its hall or landing, or else its largest room."""
    out: dict[str, str] = {}
    for storey in job.storeys:
        own = [r for r in job.rooms if r.storey == storey.id]
        hall = next((r for r in own if r.use in HALL_USES), own[0] if own else None)
        if hall:
            out[storey.id] = hall.id
    return out


def build(job: Job, g: Geometry, unit: Unit, density: float) -> tuple[Circuit, Layout]:
    """The circuit of a job and where things are in it."""
    b = _Builder()
    room = {r.id: b.node() for r in job.rooms}
    rp, af, bo, sp = (b.node() for _ in range(4))
    losses = unit_losses(unit, job.system, density)
    filter_branch = b.branch(rp, af, k=losses.filter_k + FLOAT_TINY)
    blower = b.branch(af, bo)
    heater = b.branch(bo, sp, k=losses.heater_k + losses.coil_k + FLOAT_TINY)
    run_branch, run_node, register_branch = _add_runs(b, job, room, rp, sp, density)
    door_branch, shut = _add_doors(b, job, room, density)
    _add_leaks(b, job, g, room)
    injection = np.zeros((len(SCENARIOS), b.nodes))
    v = job.ventilation
    if v.flow_m3_s > 0 and v.kind in ("erv", "hrv"):
        _inject_ventilator(injection, job, room, rp, v.flow_m3_s)
    elif v.flow_m3_s > 0 and v.kind == "supply":
        injection[:, rp] += v.flow_m3_s
    elif v.flow_m3_s > 0 and v.kind == "exhaust":
        _draw_out(injection, job, room, v.flow_m3_s)
    for r in job.rooms:
        if r.exhaust and r.exhaust.continuous:
            injection[:, room[r.id]] -= r.exhaust.flow_m3_s
    layout = Layout(
        room,
        run_branch,
        run_node,
        register_branch,
        door_branch,
        shut,
        filter_branch,
        blower,
        heater,
        rp,
        af,
        bo,
        sp,
        losses,
        injection,
    )
    return b.circuit((blower, fan_curve(unit, job.system.tap, density)), density), layout


def _inject_ventilator(injection: Array, job: Job, room: dict[str, int], rp: int, flow: float) -> None:
    """Balanced: in at the return plenum, out of the baths, or the halls without one."""
    injection[:, rp] += flow
    _draw_out(injection, job, room, flow)


def _draw_out(injection: Array, job: Job, room: dict[str, int], flow: float) -> None:
    """Out of the baths, or of all rooms in a house without one."""
    stale = [r.id for r in job.rooms if r.use in ("bath", "powder", "utility")] or [r.id for r in job.rooms]
    for i in stale:
        injection[:, room[i]] -= flow / len(stale)


def _add_runs(
    b: _Builder, job: Job, room: dict[str, int], rp: int, sp: int, density: float
) -> tuple[dict[str, int], dict[str, int], dict[str, int]]:
    registers = {r.id: r for r in job.registers}
    branch: dict[str, int] = {}
    node: dict[str, int] = {}
    face: dict[str, int] = {}
    for run in duct.order(job.runs):
        if run.side == "fresh":
            continue
        plenum = sp if run.side == "supply" else rp
        inner = node[run.parent] if run.parent else plenum
        outer = node[run.id] = b.node()
        area, equivalent = duct.run_area_m2(run), duct.run_equivalent_m(run)
        c = duct.fitting_coefficient(run)
        if run.damper is not None:
            c += float(ductflow.damper_coefficient(np.asarray(run.damper)))
        ends = (inner, outer) if run.side == "supply" else (outer, inner)
        branch[run.id] = b.branch(
            *ends,
            length=max(duct.run_length_m(run), 0.05),
            area=float(np.pi * equivalent**2 / 4),
            hydraulic=equivalent,
            rough=ductflow.ROUGHNESS_M[run.material],
            scale=duct.friction_scale(run),
            k=c * 0.5 * density / area**2,
        )
        if run.register_id:
            register = registers[run.register_id]
            at = room[register.room]
            ends = (outer, at) if run.side == "supply" else (at, outer)
            face[register.id] = b.branch(*ends, k=duct.register_k(register, density))
    return branch, node, face


def doors_of(job: Job) -> dict[str, Opening]:
    """The inside door that shuts each room off: a door counts for the rooms on both of its sides, whoever owns it."""
    rooms = {r.id: r for r in job.rooms}
    hubs = set(halls(job).values())
    out: dict[str, Opening] = {}
    for o in job.openings:
        if not o.inside or o.kind != "door":
            continue
        beyond = room_beyond(o, rooms[o.room], job)
        for mine, other in ((o.room, beyond), (beyond, o.room)):
            # of several doors the one to the hall decides; the hall itself is shut off by none
            if mine and mine not in hubs and (mine not in out or other in hubs):
                out[mine] = o
    return out


def room_beyond(o: Opening, room: Room, job: Job) -> str | None:
    """The room on the other side of an inside opening, by the plan."""
    (x0, y0), (x1, y1) = wall_points(room.outline_m, o.wall)
    t = (o.offset_m + o.width_m / 2) / max(wall_length_m(room.outline_m, o.wall), 1e-9)
    at = (x0 + (x1 - x0) * t, y0 + (y1 - y0) * t)
    near = [
        (_apart(at, *wall_points(r.outline_m, k)), r.id)
        for r in job.rooms
        if r.id != room.id and r.storey == room.storey
        for k in range(len(r.outline_m))
    ]
    distance, found = min(near, default=(1.0, ""))
    return found if found and distance <= TOUCH_M else None


def _apart(p: Point, a: Point, b: Point) -> float:
    """From a point to a stretch of wall, m."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    length2 = dx * dx + dy * dy
    t = min(max(((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / length2, 0.0), 1.0) if length2 > 0 else 0.0
    return hypot(p[0] - a[0] - t * dx, p[1] - a[1] - t * dy)


def _add_doors(
    b: _Builder, job: Job, room: dict[str, int], density: float
) -> tuple[dict[str, int], dict[int, float]]:
    hubs = halls(job)
    doors = doors_of(job)
    branch: dict[str, int] = {}
    shut: dict[int, float] = {}
    for r in job.rooms:
        hub = hubs[r.storey]
        if r.id == hub:
            continue
        door = doors.get(r.id)
        k = opening_k(OPEN_DOOR_M2 if door else ARCHWAY_M2, density)
        branch[r.id] = b.branch(room[r.id], room[hub], k=k)
        if door:
            t = r.transfer
            shut[branch[r.id]] = shut_door_k(
                t.undercut_m if t else 0.0127, door.width_m, t.area_m2 if t and t.kind != "undercut" else 0.0
            )
    ids = [hubs[s.id] for s in job.storeys if s.id in hubs]
    for low, high in zip(ids, ids[1:], strict=False):
        b.branch(room[low], room[high], k=opening_k(STAIRS_M2, density))
    return branch, shut


def _add_leaks(b: _Builder, job: Job, g: Geometry, room: dict[str, int]) -> None:
    flow50 = job.leakage.ach50 * g.total_volume_m3 / 3600
    wall = np.array(g.exposed_wall_m2) + 0.05 * np.array(g.area_m2)
    share = wall / wall.sum()
    for r, part in zip(job.rooms, share, strict=True):
        b.branch(room[r.id], -1, leak=float(part) * flow50 / 50**LEAK_EXPONENT)


def scenario_k(circuit: Circuit, layout: Layout) -> Array:
    """Quadratic coefficients by scenario (s, m)."""
    k = np.repeat(circuit.k[None, :], len(SCENARIOS), axis=0)
    for branch, value in layout.shut_k.items():
        k[SCENARIOS.index("doors_shut"), branch] = value
    loaded, filter_ = SCENARIOS.index("loaded_filter"), layout.filter_branch
    k[loaded, filter_] += layout.losses.loaded_k - layout.losses.filter_k
    return k


def network(
    job: Job,
    g: Geometry,
    unit: Unit,
    density: float,
    flows: dict[str, float],
    registers: dict[str, float],
    total_m3_s: float,
    before: Network | None = None,
) -> Network | None:
    """Solve all scenarios of a job in one batch; None when there is no complete supply and return yet.

    Args:
        flows, registers: design flows of runs and registers, where the search starts.
        before: an earlier solution; it starts there when the ducts join as they did.
    """
    sides = {r.side for r in job.runs if r.register_id}
    if not {"supply", "return"} <= sides:
        return None
    circuit, layout = build(job, g, unit, density)
    first = _first_flow(circuit, layout, flows, registers, total_m3_s, before)
    solution = solve(
        circuit,
        k=scenario_k(circuit, layout),
        first_flow=first,
        injection=layout.scenario_injection,
        tolerance_pa=TOLERANCE_PA,
    )
    return read(job, unit, circuit, layout, solution)


def _first_flow(
    circuit: Circuit,
    layout: Layout,
    flows: dict[str, float],
    registers: dict[str, float],
    total_m3_s: float,
    before: Network | None,
) -> Array:
    if before is not None and before.solution.converged:
        old = before.circuit
        if np.array_equal(old.start, circuit.start) and np.array_equal(old.end, circuit.end):
            return before.solution.flow_m3_s
    first = np.full(len(circuit.start), 0.01)
    for run_id, branch in layout.run_branch.items():
        first[branch] = max(flows.get(run_id, 0.0), 0.002)
    for register_id, branch in layout.register_branch.items():
        first[branch] = max(registers.get(register_id, 0.0), 0.002)
    for i in (layout.filter_branch, layout.blower_branch, layout.heater_branch):
        first[i] = total_m3_s
    return first


def read(job: Job, unit: Unit, circuit: Circuit, layout: Layout, solution: NetworkSolution) -> Network:
    """Name the figures of a solved circuit; a fresh-air run carries what the ventilator is set to."""
    q, p = solution.flow_m3_s, solution.pressure_pa
    registers = {i: float(q[0, branch]) for i, branch in layout.register_branch.items()}
    rooms: dict[str, float] = {r.id: 0.0 for r in job.rooms}
    for x in job.registers:
        if x.side == "supply" and x.id in registers:
            rooms[x.room] += registers[x.id]
    runs = {i: float(q[0, x]) for i, x in layout.run_branch.items()}
    runs |= {r.id: job.ventilation.flow_m3_s for r in job.runs if r.side == "fresh"}
    hubs = halls(job)
    shut = SCENARIOS.index("doors_shut")
    pressure = {r.id: float(p[shut, layout.room[r.id]] - p[shut, layout.room[hubs[r.storey]]]) for r in job.rooms}
    blower = q[:, layout.blower_branch]
    rise = p[:, layout.outlet_node] - p[:, layout.after_filter]
    speed = {x.side: 0.5 * circuit.density_kg_m3 * (blower[0] / (x.width_m * x.depth_m)) ** 2 for x in job.plenums}
    supply_vp, return_vp = float(speed.get("supply", 0.0)), float(speed.get("return", 0.0))
    statics = {
        "return": float(p[0, layout.return_node]) - return_vp,
        "after_filter": float(p[0, layout.after_filter]) - return_vp,
        "before_heater": float(p[0, layout.outlet_node]) - supply_vp,
        "supply": float(p[0, layout.supply_node]) - supply_vp,
    }
    power = float(blower[0] * (rise[0] + layout.losses.inside_k * blower[0] ** 2) / unit.blower.efficiency)
    return Network(
        layout,
        circuit,
        solution,
        registers,
        runs,
        rooms,
        blower,
        rise,
        statics,
        pressure,
        float(p[0, layout.room[next(iter(hubs.values()))]]),
        power,
    )
