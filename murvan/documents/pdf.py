"""The PDF set: cover, loads, unit, duct plans, schedules, air balance, punch list.

Pages are planned first and drawn after, so that every header can say 'sheet 3 of 9'. Letter for IP, A4 for SI,
landscape. Texts are measured; what does not fit its column is wrapped, never clipped.
"""

from __future__ import annotations

from datetime import date
from io import BytesIO
from math import isfinite, nan
from pathlib import Path

from reportlab.pdfgen.canvas import Canvas

from murvan.catalog.own_shop import own_shop
from murvan.design.house import assumptions
from murvan.design.limits import carries, within
from murvan.design.results import Results, SystemResults
from murvan.design.units import Candidate, Shared, yearly_cost
from murvan.documents.hanging_plan import hanging_drawer, piece_schedule
from murvan.documents.head_plan import HEAD_NOTE, START_NOTE, head_drawer, head_schedule, start_up_schedule
from murvan.documents.house_sheet import cover_plans, house_drawer, opening_schedule, zone_schedule
from murvan.documents.ink import INK, INK2, MARGIN, MARKS, RULE, fit, fonts, heading, paragraph, width, wrap
from murvan.documents.options_sheet import options_pages
from murvan.documents.pages import Page, conditions, sheet_size, signature_lines, table_pages, write_pages
from murvan.documents.plan_sheet import plan_drawer
from murvan.documents.proof_sheet import (
    CAPACITY_NOTE,
    CHARGE_NOTE,
    RECORD_NOTE,
    capacity_schedule,
    charge_schedule,
    record_schedule,
)
from murvan.documents.schedules import (
    balance_schedule,
    balancing_schedule,
    buy_schedule,
    component_schedule,
    duct_schedule,
    finding_schedule,
    load_schedule,
    register_schedule,
)
from murvan.field.proven import proven
from murvan.field.verdict import GOOD, Verdict
from murvan.model.equipment import KIND_WORDS, STAGE_WORDS, Unit
from murvan.model.job import Energy
from murvan.model.linesets import SOURCE_WORDS
from murvan.units import Units, text

CAUTIONS = (
    "The local code and licensed trades decide. This set supports their work; it replaces neither a permit nor an inspection.",
    "Electrical figures (MCA, MOP) are information only: a licensed electrician sizes conductors and protection.",
    "Refrigerant and nitrogen under pressure: certified hands, eye protection, ventilated rooms.",
    "Fuel appliances: after any change of air tightness or exhaust, test for back-drafting and carbon monoxide.",
    "Attics and crawl spaces: heat, nails, fibre dust (respirator). Old duct wrap may hold asbestos: have it tested before touching it.",
)


def write_pdf(r: Results, v: Verdict, target: Path | BytesIO, units: Units, today: date | None = None) -> int:
    """Write the set; returns the number of pages. `target` is a path or a buffer."""
    fonts()
    return write_pages(r, plan_pages(r, v, units, sheet_size(units)), target, units, today)


def plan_pages(r: Results, v: Verdict, units: Units, size: tuple[float, float]) -> list[Page]:
    pages = [Page("Your house", lambda c, w, h: _cover(c, w, h, r, v, units))]
    pages += table_pages(
        load_schedule(r),
        units,
        size,
        "Each room at its own highest hour by the heat balance, the house at its own; heating steady. Every figure's arithmetic is in the job.",
    )
    pages += table_pages(component_schedule(r), units, size, conditions(r, units))
    if len(r.job.design.zones) > 1:
        pages += table_pages(zone_schedule(r, units), units, size, "Each zone at its own highest hour.")
    for s in r.job.storeys:
        if any(x.storey == s.id for x in r.job.rooms):
            pages.append(Page(f"Plan, {s.name.lower()}", house_drawer(r, s.id, units)))
    if r.job.openings:
        pages += table_pages(opening_schedule(r, units), units, size)
    pages += [_unit_page(r, x, units) for x in _sized(r)]
    pages += [_outdoor_page(x, units) for x in r.outdoors.values()]
    if v.heads:
        with_heads = {u.storey for u in r.job.design.indoor_units if u.id in v.heads}
        for s in (s for s in r.job.storeys if s.id in with_heads):
            pages.append(Page(f"Heads, {s.name.lower()}", head_drawer(r, s.id, units)))
        pages += table_pages(head_schedule(r, units), units, size, HEAD_NOTE)
        pages += table_pages(start_up_schedule(r, v), units, size, START_NOTE)
        if not r.job.design.runs:
            pages += table_pages(buy_schedule(r, units, own_shop()), units, size)
            pages += table_pages(piece_schedule(r, units, own_shop()), units, size)
    pages += options_pages(r, units)
    if r.job.design.runs:
        for s in r.job.storeys:
            pages.append(Page(f"Duct plan, {s.name.lower()}", plan_drawer(r, s.id, units)))
        pages += table_pages(duct_schedule(r, units), units, size)
        pages += table_pages(register_schedule(r, units), units, size)
        order = balancing_schedule(r)
        if order.rows:
            pages += table_pages(order, units, size, BALANCING)
        pages += table_pages(balance_schedule(r, v), units, size, _balance_note(v, units))
        pages += table_pages(buy_schedule(r, units, own_shop()), units, size)
        for s in r.job.storeys:
            if any(x.storey == s.id for x in r.laid):
                pages.append(Page(f"Hanging plan, {s.name.lower()}", hanging_drawer(r, s.id, units)))
        pages += table_pages(piece_schedule(r, units, own_shop()), units, size, HANGING)
    shown = proven(r.job, r)
    if shown.proofs:
        pages += table_pages(capacity_schedule(shown), units, size, CAPACITY_NOTE)
    if shown.charges:
        pages += table_pages(charge_schedule(shown), units, size, CHARGE_NOTE)
    if shown.records:
        pages += table_pages(record_schedule(shown, units), units, size, RECORD_NOTE)
    pages += table_pages(finding_schedule(r, units), units, size) if r.findings else []
    return pages


BALANCING = (
    "Start with all dampers open. Predicted by the air circuit, filter clean, inside doors open. Set one damper a step and go on when its face shows "
    "'Then'; faces set before gain a little from those after, as 'At the end' has it."
)


HANGING = (
    "Hangers stand as bars across the ducts on the hanging plans; the underside is over its storey's floor. Flat patterns, nested sheets and their list are "
    "the shop set (Build, F)."
)


def _balance_note(v: Verdict, units: Units) -> str:
    note = f"{within(GOOD).worked_with_units(units)}."
    return f"{note} Simulated readings come from a virtual house, not from instruments." if v.simulated else note


WHY_END = 96.0
"""Above the signatures and what is said of simulated readings."""


def _fitted(lines: list[str], room: float, height: float) -> tuple[float, list[str]]:
    """Sentences at the size at which they go into a column: 11, or as much smaller as it takes.

    What does not go in at 7 is left out before the last sentence, and said.
    """
    for size in (11.0, 10.0, 9.0, 8.0, 7.0):
        if _column(lines, size, room) <= height:
            return size, lines
    for n in range(len(lines) - 2, -1, -1):
        few = [*lines[:n], f"{len(lines) - 1 - n} more on the sheets that follow.", *lines[-1:]]
        if _column(few, size, room) <= height:
            break
    return size, few


def _column(lines: list[str], size: float, room: float) -> float:
    rows = sum(len(wrap(f"•  {x}", size, room, "Inter")) for x in lines)
    return rows * size * 1.38 + len(lines) * 0.36 * size


def _cover(c: Canvas, w: float, h: float, r: Results, v: Verdict, units: Units) -> None:
    """What the owner reads: the house, its figures, why this design, and where to sign."""
    y = h - MARGIN - 74
    size = 34.0
    while width(r.job.name, size, "Inter-Bold") > w - 2 * MARGIN and size > 12:
        size -= 1
    c.setFont("Inter-Bold", size)
    c.setFillColor(INK)
    c.drawString(MARGIN, y, r.job.name)
    c.setFont("Inter", 14)
    c.setFillColor(INK2)
    c.drawString(MARGIN, y - 22, ", ".join(x for x in (r.job.town, r.job.client and f"for {r.job.client}") if x))
    _figures(c, w, y - 64, r, units)
    half = (w - 2 * MARGIN) / 2 - 14
    top = y - 108
    heading(c, MARGIN, top, "Why this design")
    yy = top - 19
    size, lines = _fitted(why(r, v, units), half, yy - WHY_END)
    for line in lines:
        yy = paragraph(c, MARGIN, yy, f"•  {line}", size, half) - 0.36 * size
    cover_plans(c, r, (MARGIN + half + 28, 150.0, w - MARGIN, top + 12))
    heading(c, MARGIN + half + 28, 136, "Cautions", 8.5)
    yy = 125.0
    for line in CAUTIONS:
        yy = paragraph(c, MARGIN + half + 28, yy, f"•  {line}", 6.8, half) - 0.5
    if v.simulated:
        said = "Readings in this set are simulated: they come from a virtual house, not from instruments."
        fit(c, MARGIN, 78, said, 9, "Inter-Semi", half, MARKS["fails"])
    signature_lines(c, MARGIN, 58, half, ("Designed by", "Owner"))


def _figures(c: Canvas, w: float, y: float, r: Results, units: Units) -> None:
    """The house in four or five large figures."""
    sized, climate = _sized(r), r.job.climate
    figures = [
        (text("area", r.geometry.total_area_m2, units, 0), "heated floor"),
        (
            text("kpower", r.loads.house_cooling_w, units),
            f"cooling at {text('temperature', climate.summer_c, units)}",
        ),
        (
            text("kpower", r.loads.house_heating_w, units),
            f"heating at {text('temperature', climate.winter_c, units)}",
        ),
    ]
    for s in sized[:1]:
        x, b = s.equipment.chosen, s.blower
        if x is not None:
            figures.append((text("tons", x.unit.nominal_w, units), f"{x.unit.maker} {x.unit.name}"))
        if b is not None:
            static = text("pressure", float(b.external_static_pa[0]), units)
            figures.append((text("flow", float(b.flow_m3_s[0]), units), f"at {static}, predicted"))
    column = (w - 2 * MARGIN) / len(figures)
    for k, (value, note) in enumerate(figures):
        left = MARGIN + k * column
        fit(c, left, y, value, 21, "Inter-Bold", column - 10)
        fit(c, left, y - 16, note, 10, "Inter", column - 10, INK2)


def _unit_page(r: Results, s: SystemResults, units: Units) -> Page:
    title = "Unit" if len(r.systems) == 1 else f"Unit {s.design.indoor.tag}"
    return Page(title, lambda c, w, h: _unit(c, w, h, s, r.job.energy, units))


def _outdoor_page(x: Shared, units: Units) -> Page:
    return Page(f"Outdoor unit {x.unit.name}", lambda c, w, h: _outdoor(c, w, h, x, units))


def _outdoor(c: Canvas, w: float, h: float, x: Shared, units: Units) -> None:
    """An outdoor unit with several ports: what hangs on it, and what all need together."""
    y = h - MARGIN - 60
    fit(c, MARGIN, y, f"{x.unit.maker} {x.unit.name}, {x.unit.ports} ports", 15, "Inter-Bold", w - 2 * MARGIN)
    low, high = (f"{v * 100:.0f} %" for v in x.unit.connected)

    def share(have: float, need: float) -> str:
        return _percent(have / need if need > 0 else nan)

    rows: list[ROW] = [
        (
            f"{u.indoor.tag}, {k.unit.name}",
            text("power", k.total_w, units),
            text("power", need, units),
            _percent(k.total_share),
            "",
        )
        for (u, k), need in zip(x.hung, x.needs_w, strict=True)
    ]
    rows += [
        ("Ports taken", str(len(x.hung)), f"of {x.ports}", "", ""),
        (
            "Connected, by nominal size",
            text("power", x.connected_w, units),
            "",
            share(x.connected_w, x.unit.nominal_w),
            f"{low} to {high}",
        ),
        (
            "Cooling when all call",
            text("power", x.cooling_w, units),
            text("power", x.coincident_w, units),
            share(x.cooling_w, x.coincident_w),
            "90 % and more",
        ),
        ("The rooms at their own hours", "", text("power", x.peaks_w, units), "", ""),
        (
            "Heating when all call",
            text("power", x.heating_w, units),
            text("power", x.heating_load_w, units),
            share(x.heating_w, x.heating_load_w),
            "100 %, or backup",
        ),
        (
            "All lines together",
            text("length", x.line_m, units),
            f"maker allows {text('length', x.unit.line_total_m, units)}",
            "",
            "",
        ),
        (
            "Refrigerant to add, plate decides",
            text("charge", x.extra_charge_kg, units),
            f"over {text('length', x.unit.line_factory_m, units)} of line",
            "",
            "",
        ),
        ("Electrical, information only", f"MCA {x.unit.mca_a:g} A", f"MOP {x.unit.mop_a:g} A", "", ""),
    ]
    y = _unit_table(c, w, y - 30, rows)
    basis = (
        "While all call, each unit gets its part of the outdoor unit's capacity by nominal size and no more than its own table says; "
        "the maker's combination table goes before it. The rooms are taken together at the hour at which they need most."
    )
    paragraph(c, MARGIN, y - 34, basis, 9, w - 2 * MARGIN, color=INK2)


def _percent(share: float) -> str:
    return f"{share * 100:.0f} %" if isfinite(share) else "–"


def _sized(r: Results) -> list[SystemResults]:
    """The units that have been chosen."""
    return [s for s in r.systems.values() if s.equipment.chosen is not None]


def why(r: Results, v: Verdict, units: Units) -> list[str]:
    """Sentences that this job bears, and no other."""
    job = r.job
    out = [f"Today: {job.existing_heat}."] if job.existing_heat else []
    sized = _sized(r)
    in_rooms = [s for s in sized if s.design.indoor.kind != "ducted"]
    grouped = in_rooms if len(in_rooms) > 2 else []
    for s in (x for x in sized if x not in grouped):
        out += _unit_words(s, units, "" if len(r.systems) == 1 else " of its rooms")
    if grouped:
        out.append(_room_units_words(grouped))
    out += _zone_words(r)
    how = {
        "erv": "through an ERV",
        "hrv": "through an HRV",
        "exhaust": "drawn in by an exhaust fan",
        "supply": "blown in",
    }
    for fresh in (x for x in job.design.ventilators if x.kind != "none" and x.flow_m3_s > 0):
        out.append(f"{text('flow', fresh.flow_m3_s, units)} of fresh air all year, {how[fresh.kind]}.")
    if v.read:
        made = "simulated readings" if v.simulated else "read"
        out.append(f"{v.read} of {v.count} registers, {made}: {v.good} good, {v.look} to look at, {v.fails} fail.")
    said = assumptions(job)
    if said:
        out.append(f"Assumed, not looked at: {'; '.join(said)}.")
    fails = sum(f.severity == "fails" for f in r.findings)
    n = len(r.findings)
    out.append(
        f"{n} to settle on the punch list, {fails} of them fail." if n else "Nothing is left on the punch list."
    )
    return out


def _unit_words(s: SystemResults, units: Units, whose: str) -> list[str]:
    x = s.equipment.chosen
    assert x is not None
    need, heater_kw = s.loads.house_heating_w, s.design.indoor.heater_kw
    heater_w = heater_kw * 1000
    first = f"The {x.unit.maker} {x.unit.name} covers {_percent(x.total_share)} of the cooling load{whose}"
    kept = 1 - s.design.indoor.heat_share
    beside = [f"The heat that is kept carries {kept * 100:.0f} % of the heating{whose}."] if kept > 0 else []
    if need <= 0:
        return [f"{first}.", *beside]
    first += f" and {_percent(x.heating_share)} of the heating load at the design temperatures"
    if x.unit.kind == "furnace_coil" or x.heating_w >= need:
        return [f"{first}.", *beside]
    if heater_w <= 0:
        rest = f"nothing carries the {text('kpower', need - x.heating_w, units)} that are left"
    elif carries(x.heating_w + heater_w, need):
        rest = f"electric backup of {heater_kw:g} kW carries the rest"
    else:
        rest = f"with electric backup of {heater_kw:g} kW it is still short"
    out = [f"{first}; {rest}."]
    if x.balance_c is not None:
        out.append(f"Down to {text('temperature', x.balance_c, units)} outdoors it heats the house alone.")
    return out + beside


def _room_units_words(units: list[SystemResults]) -> str:
    """Units that hang in the rooms they serve, together."""
    chosen = [x for s in units if (x := s.equipment.chosen) is not None]
    enough = sum(x.verdict == "fits" for x in chosen)
    makes = dict.fromkeys(f"{x.unit.maker} {x.unit.name}" for x in chosen)
    which = "All of them are" if enough == len(chosen) else f"{enough} of them are" if enough else "None of them is"
    return f"{len(units)} units hang in the rooms they serve: {', '.join(makes)}. {which} of the right size."


def _zone_words(r: Results) -> list[str]:
    zones = [z for z in r.job.design.zones if z.rooms]
    damped = [z for z in zones if any(run.zone_damper == z.id for run in r.job.design.runs)]
    if len(zones) < 2:
        return []
    if len(damped) == len(zones):
        return [f"{len(zones)} zones, each with its own damper and thermostat."]
    return [f"{len(zones)} zones are planned; dampers are drawn for {len(damped)} of them."]


def _heat_rows(s: SystemResults, x: Candidate, units: Units) -> list[tuple[str, str, str, str, str]]:
    need = text("power", s.loads.house_heating_w, units)
    share = f"{x.heating_share * 100:.0f} %" if x.heating_share == x.heating_share else "–"
    if x.unit.kind == "furnace_coil":
        low, high = x.sizing.furnace_least, x.sizing.furnace
        wanted = f"{low * 100:.0f} to {high * 100:.0f} %"
        return [("Heating", text("power", x.heating_w, units), need, share, wanted)]
    heater = s.design.indoor.heater_kw
    fills = "with backup 100 %" if heater > 0 else "100 %, no backup is fitted"
    rows = [("Heating, heat pump alone", text("power", x.heating_w, units), need, share, fills)]
    if heater > 0 or x.backup_w > 0:
        rows.append(("Backup heater", f"{heater:g} kW", f"{x.backup_w / 1000:.1f} kW short", "", ""))
    if x.balance_c is not None:
        rows.append(("Balance point", text("temperature", x.balance_c, units), "", "", ""))
    if x.backup_hours == x.backup_hours:
        rows.append(
            ("Hours a year with backup", f"{x.backup_hours:.0f} h", f"{x.season.year('backup_kwh'):.0f} kWh", "", "")
        )
    return rows


ROW = tuple[str, str, str, str, str]


def _unit(c: Canvas, w: float, h: float, s: SystemResults, energy: Energy, units: Units) -> None:
    x = s.equipment.chosen
    assert x is not None
    u, y = x.unit, h - MARGIN - 60
    name = f"{u.maker} {u.name}, {KIND_WORDS[u.kind]}, {STAGE_WORDS[u.stages]}"
    fit(c, MARGIN, y, name, 15, "Inter-Bold", w - 2 * MARGIN)
    y = _unit_table(c, w, y - 30, _unit_rows(s, x, energy, units))
    allowed = " This one is the next size that its maker makes." if x.next_size else ""
    basis = (
        "Capacity from the maker's table at this house's outdoor design temperature and entering air, corrected for "
        f"air flow, line length and altitude. Size limits: {x.sizing.basis}; the local code decides.{allowed} "
        "The year by hours of outdoor temperature and the maker's table; prices as typed, else Murvan default, editable."
    )
    paragraph(c, MARGIN, y - 34, basis, 9, w - 2 * MARGIN, color=INK2)


def _unit_rows(s: SystemResults, x: Candidate, energy: Energy, units: Units) -> list[ROW]:
    u, ld, (low, high) = x.unit, s.loads, x.limits

    def against(what: str, have_w: float, need_w: float, share: float, limit: str) -> ROW:
        return what, text("power", have_w, units), text("power", need_w, units), _percent(share), limit

    line = f"Line set{SOURCE_WORDS[s.design.line.length_from]}"
    length, most = (text("length", m, units) for m in (s.design.line.length_m, u.line_max_m))
    limit = f"static limit {text('pressure', u.blower.limit_pa, units)}"
    return [
        against(
            "Cooling, total", x.total_w, ld.house_cooling_w, x.total_share, f"{low * 100:.0f} to {high * 100:.0f} %"
        ),
        against(
            "Cooling, sensible", x.sensible_w, ld.house_sensible_w, x.sensible_share, f"{low * 100:.0f} % and more"
        ),
        against(
            "Cooling, latent",
            x.latent_w,
            ld.house_latent_w,
            x.latent_share,
            f"{x.sizing.latent * 100:.0f} % and more",
        ),
        *_heat_rows(s, x, units),
        ("Air, design", text("flow", s.airflow.total_m3_s, units), limit, "", ""),
        (line, length, f"maker allows {most}", "", ""),
        *_charge_rows(s, u, units),
        ("Electrical, information only", f"MCA {u.mca_a:g} A", f"MOP {u.mop_a:g} A", "", ""),
        *_year_rows(x, energy, units),
    ]


def _charge_rows(s: SystemResults, u: Unit, units: Units) -> list[ROW]:
    extra = u.extra_charge_kg(s.design.line.length_m) if u.kind != "furnace_coil" else 0.0
    if extra <= 0:
        return []
    over = f"over {text('length', u.line_factory_m, units)} of line"
    return [("Refrigerant to add, plate decides", text("charge", extra, units), over, "", "")]


def _year_rows(x: Candidate, energy: Energy, units: Units) -> list[ROW]:
    """Energy and cost of a year, where the weather has hours by temperature."""
    cost = yearly_cost(x, energy)
    if cost is None:
        return []
    burnt = x.season.year("fuel_kwh")
    fuel = text(x.unit.fuel or "gas", burnt, units) if burnt > 0 else ""
    today = "" if cost.present_year is None else f"{text('money', cost.present_year, units)} as it is heated today"
    return [
        ("Energy a year", text("kwh", x.season.electric_kwh, units), fuel, "", ""),
        ("Cost a year", text("money", cost.year, units), today, "", ""),
    ]


def _unit_table(c: Canvas, w: float, y: float, rows: list[ROW]) -> float:
    """Rows under their heads; returns where the last one stands."""
    xs = (MARGIN, MARGIN + 210, MARGIN + 330, MARGIN + 470, MARGIN + 540)
    for head, left in zip(("", "Unit here", "House needs", "Share", "Limit"), xs, strict=True):
        c.setFont("Inter-Semi", 9)
        c.setFillColor(INK2)
        c.drawString(left, y, head)
    for row in rows:
        y -= 20
        c.setStrokeColor(RULE)
        c.setLineWidth(0.5)
        c.line(MARGIN, y - 6, w - MARGIN, y - 6)
        for k, (cell, left) in enumerate(zip(row, xs, strict=True)):
            room = (xs[k + 1] if k < 4 else w - MARGIN) - left - 8
            fit(c, left, y, cell, 10.5, "Inter-Bold" if k == 1 else "Inter", room)
    return y
