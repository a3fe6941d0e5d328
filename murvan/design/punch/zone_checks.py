"""Checks of zones: what each asks of the unit when it calls alone, its thermostat, its dampers."""

from __future__ import annotations

from collections.abc import Iterator
from math import hypot
from typing import NamedTuple

from shapely.geometry import LineString, Point

from murvan.design.arithmetic import Quantity
from murvan.design.circuit.situations import calls_alone
from murvan.design.drawing.things import room_at
from murvan.design.finding import Hit, rule
from murvan.design.house.geometry import opening_line, shape_of
from murvan.design.limits import exceeds
from murvan.design.punch.saying import q
from murvan.design.results import Results, SystemResults
from murvan.design.space.standing import place_here
from murvan.design.study.leaving import FREEZE_C, LEAST_OFF_C, MARGIN_K, MOST_BACK, coil_at, ices, rises
from murvan.design.zones.calling import MOST_BYPASS, asked_m3_s, owner, small_share
from murvan.design.zones.plans import FROM_REGISTER_M, FROM_WINDOW_M
from murvan.model.design import Zone
from murvan.model.record import Ref
from murvan.model.routes import LaidRun

WET = ("bath", "powder", "utility")
REACH_M = 1.2
"""From a unit as far as a hand gets to a damper; common practice."""


@rule("zone-wet", 5, "look")
def wet_zone(results: Results) -> Iterator[Hit]:
    """Zone of baths alone.

    Basis: common practice
    Why: It calls for little air and often: the unit runs against shut dampers.
    Remedy: Put its rooms in the zone beside.
    """
    use = {r.id: r.use for r in results.job.rooms}
    for z in results.job.design.zones:
        if z.rooms and all(use.get(i) in WET for i in z.rooms):
            yield Hit(Ref("room", z.rooms[0]), f"Zone {z.name}", "has only baths and laundries")


@rule("zone-past", 5, "look")
def past_its_damper(results: Results) -> Iterator[Hit]:
    """Room past its zone's damper.

    Basis: the duct tree
    Why: It gets air when its zone does not call, and none of its own when it does.
    Remedy: Feed it from behind the damper, or put it in the zone that feeds it.
    """
    runs = {r.id: r for r in results.laid}
    faces = {r.register_id: r for r in results.laid if r.register_id and r.side == "supply"}
    names = {r.id: r.name for r in results.job.rooms}
    for z in results.job.design.zones:
        if all(r.zone_damper != z.id for r in results.laid):
            continue
        past = []
        for x in results.job.design.registers:
            at: LaidRun | None = faces.get(x.id)
            if x.room not in z.rooms or at is None:
                continue
            while at is not None and at.zone_damper != z.id:
                at = runs.get(at.parent or "")
            if at is None:
                past.append(names[x.room])
        if past:
            room = next(i for i in z.rooms if names[i] == past[0])
            verb = "get" if len(dict.fromkeys(past)) > 1 else "gets"
            yield Hit(
                Ref("room", room), f"Zone {z.name}", f"{' and '.join(dict.fromkeys(past))} {verb} air past its damper"
            )


def _place(z: Zone) -> Ref:
    return Ref("room", z.rooms[0]) if z.rooms else Ref("house", "zones")


class _Alone(NamedTuple):
    """A zone that calls alone: its unit, and what its blower and its bypass then move."""

    zone: Zone
    s: SystemResults
    flow_m3_s: float
    static_pa: float
    back: float
    """Share of the air that goes back by the bypass."""


def _alone(r: Results) -> Iterator[_Alone]:
    """Every zone with dampers, calling alone."""
    n = r.alone
    if n is None:
        return
    keys = [x.key for x in n.layout.situations]
    for z in r.damped_zones:
        s, row = owner(r, (z,)), keys.index(calls_alone(z.id))
        if s.design.id in n.blowers:
            blower = n.blowers[s.design.id]
            flow = float(blower.flow_m3_s[row])
            bypass = float(n.bypass_m3_s[s.design.id][row]) if s.design.id in n.bypass_m3_s else 0.0
            back = min(bypass / max(flow, 1e-9), MOST_BACK)
            yield _Alone(z, s, flow, float(blower.external_static_pa[row]), back)


@rule("zone-static", 5, "fails")
def zone_static(results: Results) -> Iterator[Hit]:
    """Too much static with one zone.

    Basis: the blower's own limit
    Why: The blower works past what it is made for; dampers whistle.
    Remedy: Let the blower turn down, a stop on the other dampers, larger ducts to it (Air, Zones).
    """
    for z, s, _, static, _ in _alone(results):
        limit = s.ducts.limit_pa
        if limit > 0 and exceeds(static, limit) and not s.design.indoor.turns_down:
            have, most = q("pressure", static), q("pressure", limit)
            words = "calls alone against {0} of static, the blower is good for {1}"
            yield Hit(_place(z), f"Zone {z.name}", words, (have, most), have, most)


@rule("zone-small", 5, "look")
def zone_small(results: Results) -> Iterator[Hit]:
    """Zone smaller than the lowest stage.

    Basis: the unit's lowest stage, 30 % with one stage; common practice
    Why: The unit starts and stops; it heats and cools, but dries little and wears.
    Remedy: Join it with a zone beside, or a unit that turns down further.
    """
    for z, s, *_ in _alone(results):
        share, least = asked_m3_s(results, (z,)) / max(s.airflow.total_m3_s, 1e-9), small_share(s)
        if 0 < share < least:
            have, want = q("percent", share), q("percent", least)
            words = "takes {0} of the air, the unit's lowest stage wants {1}"
            yield Hit(_place(z), f"Zone {z.name}", words, (have, want), have, want)


@rule("zone-bypass", 5, "look", Quantity("percent", MOST_BYPASS))
def zone_bypass(results: Results, most: float) -> Iterator[Hit]:
    """Bypass takes too much.

    Basis: {0} of the blower's air, common practice
    Why: The same air goes round: the coil gets colder, a furnace hotter.
    Remedy: Larger ducts to the smallest zone, or let the blower turn down.
    """
    for z, _, _, _, share in _alone(results):
        if share > most:
            have, limit = q("percent", share), q("percent", most)
            words = "calls alone and {0} of the air goes back through the bypass, at most {1}"
            yield Hit(_place(z), f"Zone {z.name}", words, (have, limit), have, limit)


@rule("zone-ices", 5, "fails", Quantity("temperature1", FREEZE_C + MARGIN_K))
def zone_ices(results: Results, margin_k: float) -> Iterator[Hit]:
    """Coil ices with one zone.

    Basis: its mean surface, {0} and colder; common practice
    Why: Ice shuts the coil, and liquid may reach the compressor.
    Remedy: More air to the zone, a stop on the other dampers, no bypass.
    """
    for z, s, flow, _, back in _alone(results):
        coil = coil_at(results.conditions, s, flow, back)
        if coil is not None and ices(coil):
            have, limit = q("temperature1", coil.surface_low_c), q("temperature1", margin_k)
            words = "calls alone and the coil's surface gets {0} even turned down, {1} is safe"
            yield Hit(_place(z), f"Zone {z.name}", words, (have, limit), have, limit)


def _blown(r: Results) -> Iterator[tuple[SystemResults, float, float]]:
    """Units with ducts, what their blower moves as all call, and the share of it that goes back by a bypass."""
    n = r.network
    for s in r.systems.values() if n is not None else ():
        if n is not None and s.design.indoor.kind == "ducted" and s.design.id in n.blowers:
            flow = float(n.blowers[s.design.id].flow_m3_s[0])
            bypass = float(n.bypass_m3_s[s.design.id][0]) if s.design.id in n.bypass_m3_s else 0.0
            yield s, flow, min(bypass / max(flow, 1e-9), MOST_BACK)


@rule("coil-cold", 5, "look", Quantity("temperature1", LEAST_OFF_C))
def coil_cold(results: Results, least_c: float) -> Iterator[Hit]:
    """Air off the coil too cold.

    Basis: {0}, where low limits cut out; common practice, the maker's data go first
    Why: The unit stops on its low limit, ducts sweat, and the coil is near ice.
    Remedy: More air over the coil: a higher tap, larger ducts or filter; a smaller unit; to a zone, a stop on the
        other dampers.
    """
    least = q("temperature1", least_c)
    for s, flow, back in _blown(results):
        coil = coil_at(results.conditions, s, flow, back)
        if coil is not None and coil.leaving_low_c < least_c:
            have, at = q("temperature1", coil.leaving_low_c), q("flow", flow)
            words = "gives {0} off its coil at {1}, its low limit may cut out under {2}"
            yield Hit(Ref("indoor_unit", s.design.id), s.design.indoor.tag, words, (have, at, least), have, least)
    for z, s, flow, _, back in _alone(results):
        coil = coil_at(results.conditions, s, flow, back)
        if coil is not None and coil.leaving_low_c < least_c and not ices(coil):
            have = q("temperature1", coil.leaving_low_c)
            words = (
                "calls alone and the air off the coil gets {0} even turned down, its low limit may cut out under {1}"
            )
            yield Hit(_place(z), f"Zone {z.name}", words, (have, least), have, least)


@rule("heat-hot", 5, "look")
def heat_hot(results: Results) -> Iterator[Hit]:
    """Air off the heat too hot.

    Basis: the rise of a furnace, a heater and a heat pump; common practice, the label goes first
    Why: Its limit opens and it starts and stops; a heat pump's compressor trips on high pressure.
    Remedy: More air: a higher tap, larger ducts or filter; a smaller heater; to a zone, a stop on the other
        dampers, no bypass.
    """
    c = results.conditions
    every = [(Ref("indoor_unit", s.design.id), s.design.indoor.tag, s, f, b) for s, f, b in _blown(results)]
    every += [(_place(z), f"Zone {z.name} alone", s, f, b) for z, s, f, _, b in _alone(results)]
    for at, where, s, flow, back in every:
        for x in rises(c, s, flow, back):
            if x.hot:
                have, most = q("difference", x.rise_k), q("difference", x.most_k)
                words = f"has {{0}} of air, its {x.what} warms it by {{1}}, at most {{2}}"
                yield Hit(at, where, words, (q("flow", flow), have, most), have, most)


@rule("thermostat-none", 4, "look")
def no_thermostat(results: Results) -> Iterator[Hit]:
    """Thermostat without a place.

    Basis: one a zone
    Why: The electrician does not know where to lead the cable.
    Remedy: Place it: Y on Air, Zones.
    """
    zones = results.damped_zones
    if len(zones) > 1:
        for z in zones:
            if z.position_m is None:
                yield Hit(_place(z), f"Zone {z.name}", "has no thermostat placed yet")


@rule("thermostat-fooled", 4, "look", Quantity("length", FROM_WINDOW_M), Quantity("length", FROM_REGISTER_M))
def thermostat_fooled(results: Results, glass: float, register: float) -> Iterator[Hit]:
    """Thermostat where it is fooled.

    Basis: {0} from a window, {1} from a register; common practice
    Why: It feels the sun or the register, not the room.
    Remedy: Hang it on an inside wall, away from both.
    """
    job = results.job
    for z in results.damped_zones:
        if z.position_m is None or z.storey is None:
            continue
        room = room_at(job, z.storey, z.position_m)
        where = f"Thermostat of {z.name}"
        if room is None or room.id not in z.rooms:
            yield Hit(_place(z), where, "hangs in no room of its zone")
            continue
        at = Point(z.position_m)
        panes = [o for o in job.openings if o.room == room.id and o.kind == "window"]
        near = min((LineString(opening_line(o, room)).distance(at) for o in panes), default=None)
        if near is not None and near < glass:
            have, want = q("length", near), q("length", glass)
            yield Hit(
                Ref("room", room.id),
                where,
                "hangs {0} from a window, the sun reaches it within {1}",
                (have, want),
                have,
                want,
            )
        for x in job.design.registers:
            if x.side == "supply" and x.room == room.id:
                apart = hypot(x.position_m[0] - z.position_m[0], x.position_m[1] - z.position_m[1])
                if apart < register:
                    have, want = q("length", apart), q("length", register)
                    words = f"hangs {{0}} from register {x.tag}, its air is felt within {{1}}"
                    yield Hit(Ref("room", room.id), where, words, (have, want), have, want)
                    break


@rule("damper-access", 5, "look")
def damper_access(results: Results) -> Iterator[Hit]:
    """Zone damper out of reach.

    Basis: a hatch or an open space at it; common practice, the local code decides
    Why: Its motor fails one day, and the ceiling has to be opened.
    Remedy: An access panel there, or the damper nearer to the unit.
    """
    for run in results.laid:
        if run.zone_damper and not _reached(results, run):
            yield Hit(
                Ref("run", run.id), f"Zone damper in {run.tag}", "lies over a closed ceiling: no hand gets to it"
            )


def _reached(r: Results, run: LaidRun) -> bool:
    """Open where ducts lie in an attic, crawl space, basement or garage; else at the unit, or in a place for equipment."""
    if run.lies_in != "inside":
        return True
    home = next(x for x in r.job.design.indoor_units if x.id == run.indoor)
    at = run.path_m[0]
    if hypot(at[0] - home.position_m[0], at[1] - home.position_m[1]) <= REACH_M and run.parent is None:
        return True
    if place_here(r.job, run.storey, at) is not None:
        return True
    return any(k.reason == "hatch" and shape_of(k.outline_m).distance(Point(at)) < REACH_M for k in r.job.keep_clear)
