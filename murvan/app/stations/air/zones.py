"""Zones: every combination that calls in one table, and on the plan what each room then gets."""

from __future__ import annotations

from collections.abc import Iterator

from murvan.app.plan.air_layers import moving
from murvan.app.plan.lens import Legend, Lens
from murvan.app.plan.zone_layers import thermostats
from murvan.app.stations.base import Button, Buttons, Card, Cell, Field_, Fields, Ledger, List_, ListRow, View
from murvan.app.stations.common import on_storey
from murvan.app.stations.fields import of, of_sub
from murvan.app.stations.told import Told, table
from murvan.design import propose
from murvan.design.explain import MONTH_WORDS
from murvan.design.zones import (
    BATHS,
    BURSTS,
    COLD,
    COLD_FULL,
    FAST,
    HEARD,
    HOT,
    ICES,
    ICES_FULL,
    MUCH_BYPASS,
    OVER_LIMIT,
    SHUT_M3_S,
    ZoneCall,
    ZonePlan,
    parted,
)
from murvan.model.design import IndoorUnit
from murvan.model.job import Job

NAME = "Zones"
SAME_K = 0.05
STILL_M3_S = 0.5e-3
"""A room that gets less stands still."""


def study_of(view: View) -> propose.ZoneStudy | None:
    """What is known of the zones of this state of the job; None until it is worked out."""
    found = view.figures.zones
    return found if found is not None and found.job is view.job else None


def answer(view: View) -> tuple[ZoneCall, ...] | str:
    """All combinations, or why there are none."""
    found = study_of(view)
    if found is None:
        return "Working out every combination of zones"
    return found.calls or found.trouble


def key_of(call: ZoneCall) -> str:
    return "+".join(call.zones)


def chosen(calls: tuple[ZoneCall, ...] | str, key: str | None) -> ZoneCall | None:
    """The combination selected, else the first."""
    if isinstance(calls, str):
        return None
    return next((x for x in calls if key_of(x) == key), calls[0])


def toggled(calls: tuple[ZoneCall, ...] | str, call: ZoneCall | None, zone: str) -> str:
    """The key of the combination with one zone the other way; the same one where none would call."""
    if isinstance(calls, str) or call is None:
        return ""
    wanted = frozenset(call.zones) ^ {zone}
    found = next((x for x in calls if frozenset(x.zones) == wanted), call)
    return key_of(found)


def names(view: View, call: ZoneCall) -> str:
    """'Ground + Upper'."""
    known = {z.id: z.name for z in view.job.design.zones}
    return " + ".join(known[i] for i in call.zones)


def look(view: View, out: Lens, call: ZoneCall | None) -> None:
    """What every room gets, and a tint on those whose zone calls."""
    out.legend_title = "Zones"
    out.legend = (Legend("fill", "supply_soft", "calls"), Legend("fill", "paper", "does not"))
    calling = {i for z in view.job.design.zones if call is not None and z.id in call.zones for i in z.rooms}
    out.zones = True
    out.calling = frozenset(call.zones) if call is not None else frozenset()
    if call is not None and view.r.network is not None:
        out.overlay = (*out.overlay, moving(call.runs_m3_s, view.r.network.run_m3_s))
    out.overlay = (*out.overlay, thermostats)
    out.note = (names(view, call) if call is not None else "Zones", "as it calls", view.unit("flow"))
    zone_name = {i: z.name for z in view.job.design.zones for i in z.rooms}
    out.plates = frozenset(r.id for _, r in on_storey(view))
    for _, r in on_storey(view):
        lines: list[tuple[str, str, float, int, str]] = [(r.name, "", 13, 600, "")]
        if call is not None:
            flow = call.rooms_m3_s.get(r.id, 0.0)
            past = flow > STILL_M3_S and r.id not in calling
            lines.append((view.num("flow", flow), "", 22, 700, "ink"))
            if past:
                lines.append(("past its damper", "", 12.5, 500, "look"))
            if r.id in calling:
                out.fills[r.id] = view.theme("supply_soft")
        lines.append((zone_name.get(r.id, "no zone"), "", 12, 500, "ink2"))
        out.room_text[r.id] = lines


def ledger(view: View, calls: tuple[ZoneCall, ...] | str) -> Ledger:
    """A row for every combination."""
    limit = view.r.systems[owner_of(view).id].ducts.limit_pa

    def static(x: ZoneCall) -> Cell:
        return Cell(view.num("pressure", x.static_pa), color="fails" if x.static_pa > limit > 0 else "")

    columns: tuple[Told[ZoneCall], ...] = (
        Told("Zones that call", 210, lambda x: names(view, x), align="l", bold=True),
        Told("Blower", 84, lambda x: x.flow_m3_s, "flow", bold=True),
        Told("Static", 90, static, "pressure"),
        Told("Bypass", 84, lambda x: x.bypass_m3_s if x.bypass_m3_s > SHUT_M3_S else None, "flow"),
        Told(
            "Off the coil",
            104,
            lambda x: x.coil.leaving_c if x.coil else None,
            "temperature1",
            unit=view.unit("temperature"),
        ),
        Told(
            "Coil", 84, lambda x: x.coil.surface_c if x.coil else None, "temperature1", unit=view.unit("temperature")
        ),
        Told("Doors", 74, lambda x: max(x.door_pa.values(), default=None), "pascal", unit="Pa"),
        Told("Loudest", 86, lambda x: f"{x.loudest_nc:.0f}" if x.loudest_nc is not None else "–", unit="NC"),
        Told("", 28, lambda x: Cell(mark="look" if x.findings else "good")),
    )
    found = () if isinstance(calls, str) else calls
    return table(view, columns, ((("zone_call", key_of(x)), x) for x in found))


def card(view: View, calls: tuple[ZoneCall, ...] | str, call: ZoneCall | None) -> Card:
    """One combination: what is wrong with it, the unit, the doors; then the zones and what is done with air left over."""
    if call is None:
        return Card("Zones", "Not judged", "none", hero_note=str(calls), sections=(*_zones(view), _buttons(view)))
    wrong = tuple(ListRow(words[:1].upper() + words[1:], "", mark="look") for words in call.findings)
    return Card(
        "Zones that call",
        names(view, call),
        "look" if call.findings else "good",
        hero=((view.num("flow", call.flow_m3_s), view.unit("flow"), "ink"),),
        hero_note=_through(view, call),
        sections=(
            *((List_("What is wrong", "", wrong),) if wrong else ()),
            *_not_so(view),
            List_("Unit", "on the cooling design day", tuple(_unit_rows(view, call))),
            *_doors(view, call),
            *_zones(view),
            *_schools(view),
            _buttons(view),
        ),
    )


def _through(view: View, call: ZoneCall) -> str:
    """What the blower does, and what goes round."""
    if owner_of(view).bypass is None:
        return f"through the blower on tap {call.tap}; no bypass"
    back = view.text("flow", call.bypass_m3_s) if call.bypass_m3_s > SHUT_M3_S else "nothing"
    return f"through the blower on tap {call.tap}; {back} back by the bypass"


def owner_of(view: View) -> IndoorUnit:
    """The unit whose ducts have the dampers, else the one in hand."""
    have = {r.indoor for r in view.job.design.runs if r.zone_damper}
    return next((u for u in view.job.design.indoor_units if u.id in have), view.indoor)


def _unit_rows(view: View, call: ZoneCall) -> Iterator[ListRow]:
    limit = view.r.systems[owner_of(view).id].ducts.limit_pa
    yield ListRow("Static", view.text("pressure", call.static_pa), f"limit {view.num('pressure', limit)}")
    if call.coil is not None:
        c = call.coil
        yield ListRow("Off the coil, full", view.text("temperature1", c.leaving_c))
        turns = c.leaving_low_c > c.leaving_c + SAME_K
        if turns:
            yield ListRow("turned down", view.text("temperature1", c.leaving_low_c))
        yield ListRow("Coil's surface, full", view.text("temperature1", c.surface_c))
        if turns:
            yield ListRow("turned down", view.text("temperature1", c.surface_low_c))
    for x in call.rises:
        most = f"at most {view.num('difference', x.most_k)}"
        yield ListRow(f"Rise, {x.what}", view.text("difference", x.rise_k), most)


def _doors(view: View, call: ZoneCall) -> tuple[List_, ...]:
    rooms = {r.id: r.name for r in view.job.rooms}
    doors = sorted(call.door_pa.items(), key=lambda x: -abs(x[1]))[:5]
    rows = tuple(ListRow(rooms[i], view.num("pascal", pa)) for i, pa in doors)
    return (List_("Doors shut", "Pa over the hall", rows),) if rows else ()


def _zones(view: View) -> Iterator[Fields | List_]:
    """How the house is parted, what each zone asks for, and what can be changed."""
    found = study_of(view)
    if found is None:
        return
    parts = {frozenset(frozenset(z.rooms) for z in p.zones): p for p in found.plans}
    now = parts.get(frozenset(frozenset(z.rooms) for z in view.job.design.zones if z.rooms))
    options = tuple((p.key, _plan_words(p)) for p in found.plans)
    other = () if now is not None else (("", "as drawn" if found.now else "not parted yet"),)

    def put(job: Job, value: float | str) -> Job:
        plan = next((p for p in found.plans if p.key == value), None)
        return job if plan is None else parted(job, plan.parts, plan.thermostats)

    fields = []
    if options:
        shown = (*other, *options)
        fields.append(
            Field_("zones.parted", "House parted", "text", now.key if now else "", put, "Part the house", shown, 2)
        )
    for z in view.job.design.zones:
        fields += [
            of("zones", z, "name", label=f"Zone {z.id}"),
            of("zones", z, "least", label="Its dampers keep open"),
        ]
    if fields:
        yield Fields("Change it", tuple(fields))
    if now is not None and now.out:
        worst = f"up to {view.text('difference', now.drift_k)} off"
        yield List_("Rooms that don't hold", worst, tuple(ListRow(name, "") for name in now.out[:6]))
    rows = tuple(
        ListRow(
            z.name,
            view.text("power", z.peak_w),
            f"{z.coincident * 100:.0f} % of the house",
            second=f"its own peak in {MONTH_WORDS[z.month - 1]} at {z.hour}:00, {len(z.rooms)} rooms",
        )
        for z in found.now
    )
    if rows:
        yield List_("Zones, sensible cooling", "", rows)


def _plan_words(p: ZonePlan) -> str:
    holds = (
        f"{len(p.out)} rooms don't hold" if len(p.out) > 1 else "1 room does not hold" if p.out else "all rooms hold"
    )
    if not p.zones:
        return f"{p.name}: {holds}"
    passed = f", {len(p.passed)} past" if p.passed else ""
    dampers = f"{p.dampers} damper{'s' if p.dampers != 1 else ''}"
    return f"{p.name}: {holds}, {dampers}{passed}"


def _schools(view: View) -> tuple[List_ | Fields, ...]:
    """Every way to deal with air that is left over, with its verdict; Murvan's own first."""
    found = study_of(view)
    if found is None or found.schools is None:
        return (List_("Air left over", "", (ListRow("Trying every way on this house", ""),)),)
    if not found.schools:
        return ()
    if found.instead:
        return (_taken(view, tuple(x for x in found.schools if x.key == "plain")),)
    best, plain = found.schools[0], next(x for x in found.schools if x.key == "plain")
    rows = []
    for k, x in enumerate(found.schools):
        n = len(x.failing)
        verdict = "can't" if x.trouble else "works" if not n else f"{n} of {len(x.calls)} wrong"
        mark = "none" if x.trouble else "look" if n or x.wasted > propose.ASTRAY else "good"
        rows.append(ListRow(x.name, verdict, mark=mark, bold=k == 0, second=_says(view, x)))

    return (
        List_("Air left over", "Murvan would take the first", tuple(rows)),
        List_("Why", "", tuple(ListRow(x, "") for x in propose.why(best, plain))),
        _taken(view, tuple(x for x in found.schools if not x.trouble)),
    )


def _taken(view: View, ways: tuple[propose.School, ...]) -> Fields:
    """What is in the job, and what can be put in its stead."""

    def put(job: Job, value: float | str) -> Job:
        return propose.take_up(job, next(x for x in ways if x.key == value))

    options, now, unit = tuple((x.key, x.name) for x in ways), _school_now(view), owner_of(view)
    if now not in {x.key for x in ways}:
        options = ((now, "as typed"), *options)
    fields = [Field_("zones.school", "Taken", "text", now, put, "Air that is left over", options, 2)]
    if unit.bypass is not None:
        fields += [of_sub("indoor_units", unit, "bypass", name) for name in ("kind", "diameter_m", "opens_pa")]
    return Fields("Take one", tuple(fields))


def _not_so(view: View) -> tuple[List_, ...]:
    """Where no way serves: how much stays wrong with the best of them, and what would serve."""
    found = study_of(view)
    if found is None or not found.instead or not found.schools:
        return ()
    best = found.schools[0]
    words = f"{best.amiss} of {len(best.calls)} stay wrong"
    return (
        List_("Do not zone this unit so", words, tuple(_worst(best))),
        List_(
            "What would",
            "",
            tuple(ListRow(a, "", second=b) for a, _, b in (x.partition(": ") for x in found.instead)),
        ),
    )


def _worst(best: propose.School) -> Iterator[ListRow]:
    """What stays wrong with the best way, the commonest first, and in how many combinations."""
    for words, n in sorted(best.wrong, key=lambda x: -x[1]):
        short = SHORT.get(words, words)
        yield ListRow(short[:1].upper() + short[1:], str(n), mark="look", second=words.partition(":")[0])
    astray = sum(w > propose.ASTRAY for w in best.wasted_by_call)
    if astray:
        words = f"up to {best.wasted * 100:.0f} % goes where nobody calls"
        yield ListRow("Air astray", str(astray), mark="look", second=words)


def _school_now(view: View) -> str:
    """What is in the job."""
    unit, zones = owner_of(view), view.job.design.zones
    if unit.bypass is not None:
        return str(unit.bypass.kind)
    if unit.turns_down:
        return "turns_down"
    open_ = [z for z in zones if z.least > 0]
    return "plain" if not open_ else "stops" if len(open_) == len(zones) else "dump"


def _says(view: View, x: propose.School) -> str:
    """What is put in, and what is wrong in how many combinations, in a line."""
    said = []
    if x.bypass_m is not None:
        said.append(f"{view.text('size', x.bypass_m)} round")
        if x.coldest_c is not None:
            said.append(f"coil {view.text('temperature1', x.coldest_c)}")
    if x.stop is not None:
        said.append(f"{x.stop * 100:.0f} % open")
    if x.trouble:
        said.append(x.trouble)
    said += [f"{SHORT.get(words, words)} {n}" for words, n in x.wrong[:3]]
    if x.wasted > propose.ASTRAY:
        said.append(f"{x.wasted * 100:.0f} % astray")
    return ", ".join(said) or "nothing wrong"


SHORT = {
    OVER_LIMIT: "static",
    ICES: "ice",
    ICES_FULL: "ice at full",
    COLD: "cold air",
    COLD_FULL: "cold air at full",
    HOT: "too hot",
    HEARD: "heard",
    FAST: "face speed",
    MUCH_BYPASS: "bypass",
    BURSTS: "short bursts",
    BATHS: "baths alone",
}
"""Findings in a word where many stand in a line."""


def _buttons(view: View) -> Buttons:
    return Buttons(
        (
            Button("part", "Part the house", "P", lambda: view.act.command("air.zone_plan"), True),
            Button("zone", "Drag zones", "Z", lambda: view.act.command("tool.zone")),
            Button("thermostat", "Thermostat", "Y", lambda: view.act.command("tool.thermostat")),
        )
    )
