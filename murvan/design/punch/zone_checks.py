"""Checks of zones: what each asks of the unit when it calls alone, its thermostat, its dampers."""

from __future__ import annotations

from collections.abc import Iterator
from math import hypot
from typing import NamedTuple

from shapely.geometry import LineString, Point, Polygon

from murvan.design.circuit.situations import calls_alone
from murvan.design.drawing.outlines import opening_line
from murvan.design.drawing.things import room_at
from murvan.design.finding import Hit
from murvan.design.punch.saying import q
from murvan.design.results import Results, SystemResults
from murvan.design.space.standing import place_here
from murvan.design.study.leaving import MOST_BACK, coil_at, ices, rises
from murvan.design.zones.calling import asked_m3_s, damped, owner, small_share
from murvan.model.design import Zone
from murvan.model.record import Ref
from murvan.model.routes import LaidRun

WET = ("bath", "powder", "utility")
REACH_M = 1.2
"""From a unit as far as a hand gets to a damper; common practice."""


def wet_zone(results: Results) -> Iterator[Hit]:
    """Zones of nothing but baths and laundries, to which a unit can't run alone."""
    use = {r.id: r.use for r in results.job.rooms}
    for z in results.job.design.zones:
        if z.rooms and all(use.get(i) in WET for i in z.rooms):
            yield Hit(Ref("room", z.rooms[0]), f"Zone {z.name}", "has only baths and laundries")


def past_its_damper(results: Results) -> Iterator[Hit]:
    """Rooms of a zone with dampers whose air comes another way."""
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
    for z in damped(r):
        s, row = owner(r, (z,)), keys.index(calls_alone(z.id))
        if s.design.id in n.blowers:
            blower = n.blowers[s.design.id]
            flow = float(blower.flow_m3_s[row])
            bypass = float(n.bypass_m3_s[s.design.id][row]) if s.design.id in n.bypass_m3_s else 0.0
            back = min(bypass / max(flow, 1e-9), MOST_BACK)
            yield _Alone(z, s, flow, float(blower.external_static_pa[row]), back)


def zone_static(results: Results) -> Iterator[Hit]:
    """Zones that alone press the blower over its limit."""
    for z, s, _, static, _ in _alone(results):
        limit = s.ducts.limit_pa
        if 0 < limit * 1.005 < static and not s.design.indoor.turns_down:
            have, most = q("pressure", static), q("pressure", limit)
            words = "calls alone against {0} of static, the blower is good for {1}"
            yield Hit(_place(z), f"Zone {z.name}", words, (have, most), have, most)


def zone_small(results: Results) -> Iterator[Hit]:
    """Zones with less air than the unit's lowest stage wants."""
    for z, s, *_ in _alone(results):
        share, least = asked_m3_s(results, (z,)) / max(s.airflow.total_m3_s, 1e-9), small_share(s)
        if 0 < share < least:
            have, want = q("percent", share), q("percent", least)
            words = "takes {0} of the air, the unit's lowest stage wants {1}"
            yield Hit(_place(z), f"Zone {z.name}", words, (have, want), have, want)


def zone_bypass(results: Results, most: float) -> Iterator[Hit]:
    """Zones that alone send too much air back through the bypass."""
    for z, _, _, _, share in _alone(results):
        if share > most:
            have, limit = q("percent", share), q("percent", most)
            words = "calls alone and {0} of the air goes back through the bypass, at most {1}"
            yield Hit(_place(z), f"Zone {z.name}", words, (have, limit), have, limit)


def zone_ices(results: Results, margin_k: float) -> Iterator[Hit]:
    """Zones that alone leave the coil so little air that it ices even turned down."""
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


def coil_cold(results: Results, least_c: float) -> Iterator[Hit]:
    """Units whose coil cools the air that their ducts let through below a low limit's cut-out."""
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


def heat_hot(results: Results) -> Iterator[Hit]:
    """Units, and zones that call alone, that warm too little air too much."""
    c = results.conditions
    every = [(Ref("indoor_unit", s.design.id), s.design.indoor.tag, s, f, b) for s, f, b in _blown(results)]
    every += [(_place(z), f"Zone {z.name} alone", s, f, b) for z, s, f, _, b in _alone(results)]
    for at, where, s, flow, back in every:
        for x in rises(c, s, flow, back):
            if x.hot:
                have, most = q("difference", x.rise_k), q("difference", x.most_k)
                words = f"has {{0}} of air, its {x.what} warms it by {{1}}, at most {{2}}"
                yield Hit(at, where, words, (q("flow", flow), have, most), have, most)


def no_thermostat(results: Results) -> Iterator[Hit]:
    """Zones with dampers whose thermostat has no place yet."""
    zones = damped(results)
    if len(zones) > 1:
        for z in zones:
            if z.position_m is None:
                yield Hit(_place(z), f"Zone {z.name}", "has no thermostat placed yet")


def thermostat_fooled(results: Results, glass: float, register: float) -> Iterator[Hit]:
    """Thermostats in the sun, in a register's air, or out of their zone."""
    job = results.job
    for z in damped(results):
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


def damper_access(results: Results) -> Iterator[Hit]:
    """Zone dampers over a closed ceiling, away from the unit and from every place for equipment."""
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
    return any(k.reason == "hatch" and Polygon(k.outline_m).distance(Point(at)) < REACH_M for k in r.job.keep_clear)
