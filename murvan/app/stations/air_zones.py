"""Zones: every combination that calls in one table, and on the plan what each room then gets."""

from __future__ import annotations

from murvan.app.plan.lens import Legend, Lens
from murvan.app.stations.base import Card, Cell, Column, Ledger, List_, ListRow, Row, View
from murvan.app.stations.common import on_storey
from murvan.design.zoning import ZoneCall, zone_calls
from murvan.model.errors import JobValueError

NAME = "Zones"
STILL_M3_S = 0.5e-3
"""A room that gets less stands still."""


def answer(view: View) -> tuple[ZoneCall, ...] | str:
    """All combinations, or why there are none."""
    try:
        return zone_calls(view.r)
    except JobValueError as exc:
        return str(exc)


def key_of(call: ZoneCall) -> str:
    return "+".join(call.zones)


def chosen(calls: tuple[ZoneCall, ...] | str, key: str | None) -> ZoneCall | None:
    """The combination selected, else the first."""
    if isinstance(calls, str):
        return None
    return next((x for x in calls if key_of(x) == key), calls[0])


def names(view: View, call: ZoneCall) -> str:
    """'Ground + Upper'."""
    known = {z.id: z.name for z in view.job.design.zones}
    return " + ".join(known[i] for i in call.zones)


def look(view: View, out: Lens, call: ZoneCall | None) -> None:
    """What every room gets, and a tint on those whose zone calls."""
    out.legend_title = "Zones"
    out.legend = (Legend("fill", "supply_soft", "calls"), Legend("fill", "paper", "does not"))
    calling = {i for z in view.job.design.zones if call is not None and z.id in call.zones for i in z.rooms}
    out.note = (names(view, call) if call is not None else "Zones", "as it calls", view.unit("flow"))
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
        out.room_text[r.id] = lines


def ledger(view: View, calls: tuple[ZoneCall, ...] | str) -> Ledger:
    """A row for every combination."""
    columns = (
        Column("Zones that call", "", 210, "l"),
        Column("Blower", view.unit("flow"), 84),
        Column("Static", view.unit("pressure"), 90),
        Column("Off the coil", view.unit("temperature"), 104),
        Column("Coil", view.unit("temperature"), 84),
        Column("Doors", "Pa", 74),
        Column("Loudest", "NC", 86),
        Column("", "", 28),
    )
    return Ledger(columns, tuple(_row(view, x) for x in calls) if not isinstance(calls, str) else ())


def _row(view: View, x: ZoneCall) -> Row:
    over = x.static_pa > view.s.ducts.limit_pa > 0
    coil = x.coil
    cells = (
        Cell(names(view, x), True),
        Cell(view.num("flow", x.flow_m3_s), True),
        Cell(view.num("pressure", x.static_pa), color="fails" if over else ""),
        Cell(view.num("temperature1", coil.leaving_c if coil else None)),
        Cell(view.num("temperature1", coil.surface_c if coil else None)),
        Cell(view.num("pascal", max(x.door_pa.values(), default=None))),
        Cell(f"{x.loudest_nc:.0f}" if x.loudest_nc is not None else "–"),
        Cell(mark="look" if x.findings else "good"),
    )
    return Row(("zone_call", key_of(x)), cells)


def card(view: View, calls: tuple[ZoneCall, ...] | str, call: ZoneCall | None) -> Card:
    """One combination: blower, coil, furnace, and what is wrong with it."""
    if call is None:
        return Card("Zones", "Not judged", "none", hero_note=str(calls))
    rows = [
        ListRow(
            "Static", view.text("pressure", call.static_pa), f"limit {view.num('pressure', view.s.ducts.limit_pa)}"
        )
    ]
    if call.coil is not None:
        c = call.coil
        rows += [
            ListRow("Off the coil, full", view.text("temperature1", c.leaving_c)),
            ListRow("turned down", view.text("temperature1", c.leaving_low_c)),
            ListRow("Coil's surface, full", view.text("temperature1", c.surface_c)),
            ListRow("turned down", view.text("temperature1", c.surface_low_c)),
        ]
    if call.rise_k is not None:
        rows.append(ListRow("Furnace rise, lowest", view.text("difference", call.rise_k)))
    doors = sorted(call.door_pa.items(), key=lambda x: -abs(x[1]))[:5]
    rooms = {r.id: r.name for r in view.job.rooms}
    wrong = tuple(ListRow(words[:1].upper() + words[1:], "", mark="look") for words in call.findings)
    sections = [List_("Unit", "on the cooling design day", tuple(rows))]
    if doors:
        sections.append(
            List_(
                "Doors shut", "Pa over the hall", tuple(ListRow(rooms[i], view.num("pascal", pa)) for i, pa in doors)
            )
        )
    if wrong:
        sections.insert(0, List_("What is wrong", "", wrong))
    return Card(
        "Zones that call",
        names(view, call),
        "look" if call.findings else "good",
        hero=((view.num("flow", call.flow_m3_s), view.unit("flow"), "ink"),),
        hero_note="through the blower; no bypass is drawn",
        sections=tuple(sections),
    )
