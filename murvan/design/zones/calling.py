"""Every combination of zones that call, in one batch: what each room gets, the static, the air off the coil and furnace."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import combinations
from typing import NamedTuple

from murvan.design.circuit.frame import AirSystem
from murvan.design.circuit.network import NEAR_PA, Network, in_states, network
from murvan.design.circuit.situations import Situation
from murvan.design.ducts.terminals import Terminal, terminals
from murvan.design.limits import exceeds
from murvan.design.results import Results, SystemResults
from murvan.design.study.leaving import FREEZE_C, LEAST_OFF_C, MARGIN_K, MOST_BACK, CoilAt, Rise, coil_at, ices, rises
from murvan.design.units.unit_design import UnitDesign
from murvan.model.errors import JobValueError
from murvan.model.job import Zone

MOST_ZONES = 8
LOUD_NC = 35.0
"""Where the registers of the zones that call are heard; common practice."""
SHUT_M3_S = 1e-3
"""What a bypass lets by on its seat."""
MOST_BYPASS = 0.25
"""Of the blower's air that a bypass may take; common practice."""
SMALL_SHARE = 0.3
"""Of the design air, what a zone has at least with a unit of one stage; common practice."""


@dataclass(frozen=True)
class ZoneCall:
    """One combination of zones that call."""

    zones: tuple[str, ...]
    flow_m3_s: float
    """Of the blower."""
    static_pa: float
    bypass_m3_s: float
    """What goes back to the return without having been in a room."""
    tap: int
    """Of the blower."""
    rooms_m3_s: dict[str, float]
    runs_m3_s: dict[str, float]
    faces: dict[str, Terminal]
    """Registers and grilles at their flows."""
    door_pa: dict[str, float]
    """Rooms over the hall, doors shut."""
    coil: CoilAt | None
    """None without cooling."""
    rises: tuple[Rise, ...]
    """Of each source of heat at its lowest stage."""
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
    zones = r.damped_zones
    if not zones:
        raise JobValueError("No zone has a damper in the ducts: press N on Ducts to put one in, or P on Air, Zones.")
    if len(zones) > MOST_ZONES:
        raise JobValueError(f"{len(zones)} zones are more combinations than are tried; up to {MOST_ZONES} are.")
    calls = [c for n in range(len(zones), 0, -1) for c in combinations(zones, n)]
    return tuple(_call(r, at, c) for at, c in zip(_answers(r, calls), calls, strict=True))


class _At(NamedTuple):
    """Where a combination is found: the circuit, its rows with doors open and shut, the tap of its blower."""

    network: Network
    row: int
    shut_row: int
    tap: int


def _answers(r: Results, calls: list[Zones]) -> list[_At]:
    """Each combination at the tap that its unit takes: as it is set, or the lowest that gives the zones their air."""
    every = frozenset(z.id for z in r.damped_zones)
    closed = [every - {z.id for z in c} for c in calls]
    found: dict[int, _At] = {}
    before = r.network
    for tap in _taps(r, calls):
        left = [k for k in range(len(calls)) if k not in found]
        if not left:
            break
        states = [Situation(f"call {k}", closed=closed[k]) for k in left]
        shut = [replace(x, key=f"shut {x.key}", doors_shut=True) for x in states]
        n = _solved(r, (*states, *shut), before, tap)
        usual = owner(r, calls[0]).design.indoor.tap
        for row, k in enumerate(left):
            if tap is None or tap == usual or _enough(r, n, calls[k], row):
                found[k] = _At(n, row, row + len(left), tap or usual)
    return [found[k] for k in range(len(calls))]


Zones = tuple[Zone, ...]


def _taps(r: Results, calls: list[Zones]) -> tuple[int | None, ...]:
    """Taps to try, from the lowest up to the one that is set; None: the unit stays as it is set."""
    indoor = owner(r, calls[0]).design.indoor
    return tuple(range(1, indoor.tap + 1)) if indoor.turns_down and indoor.tap > 1 else (None,)


ENOUGH = 0.9
"""Of the air that zones are designed for, what a lower tap has to give them."""


def _enough(r: Results, n: Network, zones: Zones, row: int) -> bool:
    """Whether zones get their air; with all of them the tap stays as it is set."""
    if len(zones) == len(r.damped_zones):
        return False
    served = {i for z in zones for i in z.rooms}
    faces = [x.id for x in r.job.design.registers if x.side == "supply" and x.room in served]
    q = n.solution.flow_m3_s[row]
    got = sum(float(q[n.layout.register_branch[i]]) for i in faces if i in n.layout.register_branch)
    return got >= ENOUGH * asked_m3_s(r, zones)


def asked_m3_s(r: Results, zones: Zones) -> float:
    """Design air that the unit with these zones' dampers brings their rooms; another unit's is not counted."""
    served, own = {i for z in zones for i in z.rooms}, owner(r, zones).airflow.design_m3_s
    return sum(float(v) for room, v in zip(r.job.rooms, own, strict=True) if room.id in served)


def _solved(r: Results, states: tuple[Situation, ...], before: Network | None, tap: int | None = None) -> Network:
    """All states in one batch, the blowers at a tap; None: as they are set."""
    parts = [
        AirSystem.of(_at_tap(s.design, tap), s.unit, s.ducts, s.airflow)
        for s in r.systems.values()
        if s.unit is not None and s.design.runs
    ]
    if tap is None and r.network is not None:
        found: Network | None = in_states(r.job, parts, r.network, states)
    else:
        found = network(r.job, r.geometry, parts, r.conditions.density_kg_m3, before, states, NEAR_PA)
    if found is None:
        raise JobValueError("The air can't be worked out yet: it takes a unit with supply and return.")
    if not found.converged:
        raise JobValueError("The air circuit does not close with these zones.")
    return found


def _at_tap(u: UnitDesign, tap: int | None) -> UnitDesign:
    if tap is None or not u.indoor.turns_down:
        return u
    return replace(u, indoor=u.indoor.model_copy(update={"tap": tap}))


def _call(r: Results, at: _At, zones: Zones) -> ZoneCall:
    """One combination."""
    s = owner(r, zones)
    n, row = at.network, at.row
    q, p = n.solution.flow_m3_s[row], n.solution.pressure_pa[at.shut_row]
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
    bypass = float(n.bypass_m3_s[s.design.id][row]) if s.design.id in n.bypass_m3_s else 0.0
    ids, back = tuple(z.id for z in zones), min(bypass / max(flow, 1e-9), MOST_BACK)
    coil, warm = coil_at(r.conditions, s, flow, back), tuple(rises(r.conditions, s, flow, back))
    runs = {i: float(q[branch]) for i, branch in n.layout.run_branch.items()}
    made = ZoneCall(ids, flow, static, bypass, at.tap, rooms, runs, faces, doors, coil, warm, ())
    return replace(made, findings=tuple(_findings(r, s, made, zones)))


def owner(r: Results, zones: tuple[Zone, ...]) -> SystemResults:
    """The unit whose ducts have the dampers of these zones."""
    ids = {z.id for z in zones}
    indoor = next(x.indoor for x in r.job.design.runs if x.zone_damper in ids)
    return r.systems[indoor]


OVER_LIMIT = "static over the blower's limit"
ICES = "coil ices even turned down"
COLD = "air off the coil under its cut-out even turned down: it takes more air"
COLD_FULL = "air off the coil under its cut-out at full capacity: it has to turn down, or more air"
HOT = "air off the furnace, heat pump or heater too hot at its lowest stage"
HEARD = "registers are heard"
FAST = "registers far over their face speed"
MUCH_BYPASS = "bypass takes more than a quarter of the blower's air"
BURSTS = "zones smaller than the unit's lowest stage: it runs in short bursts"
BATHS = "zone of baths alone"
ICES_FULL = "coil ices at full capacity: it has to turn down"


def small_share(s: SystemResults) -> float:
    """Of the design air, what zones that call have at least: the unit's lowest stage where that is less."""
    unit = s.unit
    return SMALL_SHARE if unit is None else min(SMALL_SHARE, unit.cooling.min_fraction)


def _findings(r: Results, s: SystemResults, x: ZoneCall, zones: tuple[Zone, ...]) -> Iterator[str]:
    """What is wrong with a combination, in words; figures stand in the call itself."""
    limit = s.ducts.limit_pa
    design = s.airflow.total_m3_s
    if limit > 0 and exceeds(x.static_pa, limit):
        yield OVER_LIMIT
    if x.coil is not None and x.coil.surface_c < FREEZE_C + MARGIN_K:
        yield ICES if ices(x.coil) else ICES_FULL
    elif x.coil is not None and x.coil.leaving_c < LEAST_OFF_C:
        yield COLD if x.coil.leaving_low_c < LEAST_OFF_C else COLD_FULL
    if any(w.hot for w in x.rises):
        yield HOT
    if x.loudest_nc is not None and x.loudest_nc > LOUD_NC:
        yield HEARD
    if any(t.face_velocity_m_s > t.limit_m_s * 1.25 for t in x.faces.values()):
        yield FAST
    if x.flow_m3_s > 0 and x.bypass_m3_s > MOST_BYPASS * x.flow_m3_s:
        yield MUCH_BYPASS
    served = {i for z in zones for i in z.rooms}
    asked = asked_m3_s(r, zones)
    if len(zones) < len(r.damped_zones) and 0 < asked < small_share(s) * design:
        yield BURSTS
    if all(room.use in ("bath", "powder") for room in r.job.rooms if room.id in served):
        yield BATHS
