"""Every combination of zones that call, in one batch: what each room gets, the static, the air off the coil and furnace."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import combinations

from murvan.design.results import Results, SystemResults
from murvan.design.system.capacity import cooling_capacity, entering_air
from murvan.design.system.equipment import Candidate
from murvan.design.system.network import Network, Part, network
from murvan.design.system.situations import Situation
from murvan.design.system.terminals import Terminal, terminals
from murvan.model.errors import JobValueError
from murvan.model.job import Zone
from murvan.physics import air
from murvan.physics.constants import CP_AIR_J_KGK

MOST_ZONES = 8
FREEZE_C = 0.0
"""A coil whose surface is colder ices up."""
MARGIN_K = 2.0
"""What its surface stays over that; common practice."""
MOST_RISE_K = 39.0
"""Of a furnace, 70 °F; common practice, its own label goes before it."""
LOUD_NC = 35.0
"""Where the registers of the zones that call are heard; common practice."""
SMALL_SHARE = 0.3
"""Of the design air: a zone with less gives a blower too little to work into; common practice."""


@dataclass(frozen=True)
class CoilAt:
    """The coil on the cooling design day at one air flow, at full capacity and as low as it goes, degC."""

    leaving_c: float
    leaving_low_c: float
    surface_c: float
    """Mean, by its bypass factor."""
    surface_low_c: float


@dataclass(frozen=True)
class ZoneCall:
    """One combination of zones that call."""

    zones: tuple[str, ...]
    flow_m3_s: float
    """Of the blower."""
    static_pa: float
    rooms_m3_s: dict[str, float]
    faces: dict[str, Terminal]
    """Registers and grilles at their flows."""
    door_pa: dict[str, float]
    """Rooms over the hall, doors shut."""
    coil: CoilAt | None
    """None without cooling."""
    rise_k: float | None
    """Of a furnace at its lowest stage."""
    findings: tuple[str, ...]

    @property
    def loudest_nc(self) -> float | None:
        """Of the registers that are open."""
        return max((t.noise_nc for t in self.faces.values() if t.noise_nc is not None), default=None)


def zone_calls(r: Results) -> tuple[ZoneCall, ...]:
    """All combinations, all zones first, then fewer and fewer.

    Raises:
        JobValueError: there are no zones with dampers, or too many to try them all, or the circuit is not complete.
    """
    zones = damped(r)
    if not zones:
        raise JobValueError("No zone has a damper in the ducts: press N on Ducts to put one in.")
    if len(zones) > MOST_ZONES:
        raise JobValueError(f"{len(zones)} zones are more combinations than are tried; up to {MOST_ZONES} are.")
    calls = [c for n in range(len(zones), 0, -1) for c in combinations(zones, n)]
    every = frozenset(z.id for z in zones)
    states = [Situation(f"call {k}", closed=every - {z.id for z in c}) for k, c in enumerate(calls)]
    shut = [Situation(f"shut {k}", doors_shut=True, closed=x.closed) for k, x in enumerate(states)]
    opened = _solved(r, tuple(states), r.network)
    closed = _solved(r, tuple(shut), opened)
    return tuple(_call(r, opened, closed, c, k) for k, c in enumerate(calls))


def damped(r: Results) -> tuple[Zone, ...]:
    """Zones that have a damper in the ducts."""
    dampers = {x.zone_damper for x in r.job.design.runs}
    return tuple(z for z in r.job.design.zones if z.id in dampers)


def _solved(r: Results, states: tuple[Situation, ...], before: Network | None) -> Network:
    parts = [
        Part.of(s.design, s.unit, s.ducts, s.airflow)
        for s in r.systems.values()
        if s.unit is not None and s.design.runs
    ]
    found = network(r.job, r.geometry, parts, r.conditions.density_kg_m3, before, states)
    if found is None:
        raise JobValueError("The air can't be worked out yet: it takes a unit with supply and return.")
    if not found.converged:
        raise JobValueError("The air circuit does not close with these zones.")
    return found


def _call(r: Results, n: Network, shut: Network, zones: tuple[Zone, ...], row: int) -> ZoneCall:
    """One combination: doors open in `n`, shut in `shut`."""
    s = _owner(r, zones)
    q, p = n.solution.flow_m3_s[row], shut.solution.pressure_pa[row]
    flows = {i: float(q[branch]) for i, branch in n.layout.register_branch.items()}
    rooms = {x.id: 0.0 for x in r.job.rooms}
    for face in r.job.design.registers:
        if face.side == "supply" and face.id in flows:
            rooms[face.room] += flows[face.id]
    blower = n.blowers[s.design.id]
    flow, static = float(blower.flow_m3_s[row]), float(blower.external_static_pa[row])
    open_ = {i: max(v, 0.0) for i, v in flows.items()}
    faces = terminals(s.design.registers, r.job.rooms, open_, r.conditions.density_kg_m3)
    c = n.circuit
    doors = {i: float(p[c.start[b]] - p[c.end[b]]) for i, b in n.layout.door_branch.items() if b in n.layout.shut_k}
    ids, coil, rise = tuple(z.id for z in zones), _coil(r, s, flow), _rise_k(r, s, flow)
    made = ZoneCall(ids, flow, static, rooms, faces, doors, coil, rise, ())
    return replace(made, findings=tuple(_findings(r, s, made, zones)))


def _owner(r: Results, zones: tuple[Zone, ...]) -> SystemResults:
    """The unit whose ducts have the dampers of these zones."""
    ids = {z.id for z in zones}
    indoor = next(x.indoor for x in r.job.design.runs if x.zone_damper in ids)
    return r.systems[indoor]


def _coil(r: Results, s: SystemResults, flow_m3_s: float) -> CoilAt | None:
    x: Candidate | None = s.equipment.chosen
    if x is None or flow_m3_s <= 0 or x.total_w <= 0:
        return None
    c, table = r.conditions, x.unit.cooling
    entering = entering_air(c, s.design.ventilators, flow_m3_s, s.duct_heat.return_rise_k)
    _, sensible, _ = cooling_capacity(x.unit, c.outdoor_summer.temperature_c, entering, flow_m3_s, c.density_kg_m3)
    fall = sensible / (air.sensible_factor(c.density_kg_m3) * flow_m3_s)
    at, through = entering.temperature_c, 1 - table.bypass_factor
    low = fall * table.min_fraction
    return CoilAt(at - fall, at - low, at - fall / through, at - low / through)


def _rise_k(r: Results, s: SystemResults, flow_m3_s: float) -> float | None:
    """Of a furnace at its lowest stage."""
    unit = s.unit
    if unit is None or unit.furnace_output_w is None or flow_m3_s <= 0:
        return None
    output = unit.furnace_output_w * unit.furnace_min_fraction
    return float(output / (r.conditions.density_kg_m3 * CP_AIR_J_KGK * flow_m3_s))


def _findings(r: Results, s: SystemResults, x: ZoneCall, zones: tuple[Zone, ...]) -> Iterator[str]:
    """What is wrong with a combination, in words; figures stand in the call itself."""
    limit = s.ducts.limit_pa
    design = s.airflow.total_m3_s
    if 0 < limit * 1.005 < x.static_pa:
        yield "static over the blower's limit"
    if x.coil is not None and x.coil.surface_c < FREEZE_C + MARGIN_K:
        ices = x.coil.surface_low_c < FREEZE_C + MARGIN_K
        yield "coil ices even turned down" if ices else "coil ices at full capacity: it has to turn down"
    if x.rise_k is not None and x.rise_k > MOST_RISE_K:
        yield "air off the furnace too hot at its lowest stage"
    if x.loudest_nc is not None and x.loudest_nc > LOUD_NC:
        yield "registers are heard"
    if any(t.face_velocity_m_s > t.limit_m_s * 1.25 for t in x.faces.values()):
        yield "registers far over their face speed"
    served = {i for z in zones for i in z.rooms}
    asked = sum(float(v) for room, v in zip(r.job.rooms, r.room_m3_s, strict=True) if room.id in served)
    if len(zones) < len(damped(r)) and 0 < asked < SMALL_SHARE * design:
        yield "so small a zone gives the blower too little to work into"
    if all(room.use in ("bath", "powder") for room in r.job.rooms if room.id in served):
        yield "zone of baths alone"
