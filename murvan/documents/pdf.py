"""The PDF set: cover, loads, unit, duct plans, schedules, air balance, punch list.

Pages are planned first and drawn after, so that every header can say 'sheet 3 of 9'. Letter for IP, A4 for SI,
landscape. Texts are measured; what does not fit its column is wrapped, never clipped.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from io import BytesIO
from pathlib import Path

from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.pdfgen.canvas import Canvas

from murvan.design.explain_day import months_words
from murvan.design.makeups import assumptions
from murvan.design.solve import Results
from murvan.documents.ink import (
    CHROME,
    INK,
    INK2,
    MARGIN,
    MARKS,
    ROW,
    RULE,
    STRIPE,
    YELLOW,
    fit,
    fonts,
    paragraph,
    width,
    wrap,
)
from murvan.documents.plan_sheet import plan_drawer
from murvan.documents.schedules import (
    Schedule,
    balance_schedule,
    buy_schedule,
    component_schedule,
    duct_schedule,
    finding_schedule,
    load_schedule,
    register_schedule,
)
from murvan.field.verdict import Verdict
from murvan.units import Units, text

CAUTIONS = (
    "The local code and licensed trades decide. This set supports their work; it replaces neither a permit nor an inspection.",
    "Electrical figures (MCA, MOP) are information only: a licensed electrician sizes conductors and protection.",
    "Refrigerant and nitrogen under pressure: certified hands, eye protection, ventilated rooms.",
    "Fuel appliances: after any change of air tightness or exhaust, test for back-drafting and carbon monoxide.",
    "Attics and crawl spaces: heat, nails, fibre dust (respirator). Old duct wrap may hold asbestos: have it tested before touching it.",
)


@dataclass(frozen=True)
class Page:
    """A planned page."""

    title: str
    draw: Callable[[Canvas, float, float], None]


def sheet_size(units: Units) -> tuple[float, float]:
    """Landscape letter for IP, A4 for SI, points."""
    w, h = landscape(LETTER if units == "ip" else A4)
    return float(w), float(h)


def write_pdf(r: Results, v: Verdict, target: Path | BytesIO, units: Units, today: date | None = None) -> int:
    """Write the set; returns the number of pages. `target` is a path or a buffer."""
    fonts()
    size = sheet_size(units)
    pages = plan_pages(r, v, units, size)
    canvas = Canvas(str(target) if isinstance(target, Path) else target, pagesize=size)
    canvas.setTitle(f"{r.job.name}, {r.job.town}")
    canvas.setAuthor(r.job.company or "Murvan")
    canvas.setCreator("Murvan")
    day = (today or date.today()).strftime("%d %b %Y").lstrip("0")
    for k, page in enumerate(pages, 1):
        _frame(canvas, r, page.title, k, len(pages), size, day)
        page.draw(canvas, *size)
        canvas.showPage()
    canvas.save()
    return len(pages)


def plan_pages(r: Results, v: Verdict, units: Units, size: tuple[float, float]) -> list[Page]:
    pages = [Page("Your house", lambda c, w, h: _cover(c, w, h, r, v, units))]
    pages += _table_pages(
        load_schedule(r),
        units,
        size,
        "Each room at its own highest hour by the heat balance, the house at its own; heating steady. Every figure's arithmetic is in the job.",
    )
    pages += _table_pages(component_schedule(r), units, size, CONDITIONS.format(*_conditions(r, units)))
    if r.equipment.chosen is not None:
        pages.append(Page("Unit", lambda c, w, h: _unit(c, w, h, r, units)))
    if r.job.runs:
        for s in r.job.storeys:
            pages.append(Page(f"Duct plan, {s.name.lower()}", plan_drawer(r, s.id, units)))
        pages += _table_pages(duct_schedule(r, units), units, size)
        pages += _table_pages(register_schedule(r, units), units, size)
        pages += _table_pages(
            balance_schedule(r, v), units, size, "Good within 10 % or 5 cfm of design, to look at within 20 %."
        )
        pages += _table_pages(buy_schedule(r, units), units, size)
    pages += _table_pages(finding_schedule(r, units), units, size) if r.findings else []
    return pages


CONDITIONS = (
    "Indoors {0} heating, {1} and {2} % cooling. Outdoors {3} in winter; {4} with {5} wet bulb and a daily range of {6} in "
    "summer. {7} air changes at 50 Pa. Weather: {8}. Cooling by the heat balance of clear design days, 21 {9}."
)


def _conditions(r: Results, units: Units) -> tuple[str, ...]:
    job = r.job
    climate = job.climate
    return (
        text("temperature", job.indoor.heating_c, units),
        text("temperature", job.indoor.cooling_c, units),
        f"{job.indoor.cooling_rh * 100:.0f}",
        text("temperature", climate.winter_c, units),
        text("temperature", climate.summer_c, units),
        text("temperature", climate.summer_wet_bulb_c, units),
        text("difference", climate.daily_range_k, units),
        f"{job.leakage.ach50:g}",
        f"{climate.name}, {climate.source}" if climate.source else climate.name,
        months_words(r.loads.months),
    )


def _frame(c: Canvas, r: Results, title: str, k: int, n: int, size: tuple[float, float], day: str) -> None:
    w, h = size
    top = h - MARGIN
    c.setFillColor(INK)
    c.rect(MARGIN, top - 24, 6, 24, stroke=0, fill=1)
    c.rect(MARGIN + 14, top - 14, 9, 6, stroke=0, fill=1)
    c.setFillColor(YELLOW)
    c.setStrokeColor(INK)
    c.rect(MARGIN + 8, top - 6, 16, 6, stroke=0, fill=1)
    c.setFillColor(INK)
    c.rect(MARGIN + 8, top - 14, 12, 6, stroke=0, fill=1)
    c.rect(MARGIN + 8, top - 24, 6, 6, stroke=0, fill=1)
    name = r.job.company or "Murvan"
    fit(c, MARGIN + 36, top - 10, name, 12, "Inter-Bold", w * 0.45)
    fit(c, MARGIN + 36, top - 24, r.job.town, 8.5, "Inter", w * 0.45, INK2)
    c.setFillColor(INK)
    c.setFont("Inter-Bold", 16)
    c.drawRightString(w - MARGIN, top - 11, title)
    line = f"{r.job.name}{' · job ' + r.job.number if r.job.number else ''} · {day} · sheet {k} of {n}"
    size_ = 8.5
    while width(line, size_) > w * 0.5 and size_ > 5:
        size_ -= 0.5
    c.setFont("Inter", size_)
    c.setFillColor(INK2)
    c.drawRightString(w - MARGIN, top - 24, line)
    c.setStrokeColor(INK)
    c.setLineWidth(1.4)
    c.line(MARGIN, top - 32, w - MARGIN, top - 32)
    c.setFont("Inter", 7)
    c.setFillColor(INK2)
    c.drawString(MARGIN, 22, "Made with Murvan. The local code and licensed trades decide.")


def _cover(c: Canvas, w: float, h: float, r: Results, v: Verdict, units: Units) -> None:
    y = h - MARGIN - 82
    size = 30.0
    while width(r.job.name, size, "Inter-Bold") > w - 2 * MARGIN and size > 12:
        size -= 1
    c.setFont("Inter-Bold", size)
    c.setFillColor(INK)
    c.drawString(MARGIN, y, r.job.name)
    c.setFont("Inter", 13)
    c.setFillColor(INK2)
    c.drawString(MARGIN, y - 20, ", ".join(x for x in (r.job.town, r.job.client) if x))
    x = r.equipment.chosen
    figures = [
        (text("area", r.geometry.total_area_m2, units, 0), "heated floor"),
        (
            text("kpower", r.loads.house_cooling_w, units),
            f"cooling at {text('temperature', r.job.climate.summer_c, units)}",
        ),
        (
            text("kpower", r.loads.house_heating_w, units),
            f"heating at {text('temperature', r.job.climate.winter_c, units)}",
        ),
    ]
    if x is not None:
        figures.append((text("tons", x.unit.nominal_w, units), f"{x.unit.maker} {x.unit.name}"))
    if r.network is not None:
        figures.append(
            (
                text("flow", float(r.network.blower_m3_s[0]), units),
                f"at {text('pressure', float(r.network.external_static_pa[0]), units)}",
            )
        )
    column = (w - 2 * MARGIN) / len(figures)
    for k, (value, note) in enumerate(figures):
        left = MARGIN + k * column
        fit(c, left, y - 72, value, 19, "Inter-Bold", column - 10)
        fit(c, left, y - 87, note, 9, "Inter", column - 10, INK2)
    y -= 124
    half = (w - 2 * MARGIN) / 2 - 14
    c.setFont("Inter-Bold", 11)
    c.setFillColor(INK)
    c.drawString(MARGIN, y, "Why this design")
    yy = y - 18
    for line in _why(r, v, units):
        yy = paragraph(c, MARGIN, yy, f"•  {line}", 9.5, half) - 3
    c.setFont("Inter-Bold", 11)
    c.setFillColor(INK)
    c.drawString(MARGIN + half + 28, y, "Cautions")
    yy = y - 18
    for line in CAUTIONS:
        yy = paragraph(c, MARGIN + half + 28, yy, f"•  {line}", 9, half) - 3
    if any(q.simulated for q in r.job.readings):
        fit(
            c,
            MARGIN,
            44,
            "Readings in this set are simulated: they come from a virtual house, not from instruments.",
            9,
            "Inter-Semi",
            w - 2 * MARGIN,
            MARKS["fails"],
        )


def _why(r: Results, v: Verdict, units: Units) -> list[str]:
    out = []
    if r.job.existing_heat:
        out.append(f"Today: {r.job.existing_heat}.")
    x = r.equipment.chosen
    if x is not None:
        out.append(
            f"The {x.unit.maker} {x.unit.name} covers {x.total_share * 100:.0f} % of the cooling load and {x.heating_share * 100:.0f} % of the heating load at the design temperatures; electric backup of {r.job.system.heater_kw:g} kW carries the rest."
        )
        if x.balance_c is not None:
            out.append(f"Down to {text('temperature', x.balance_c, units)} outdoors it heats the house alone.")
    if r.job.zones:
        out.append(f"{len(r.job.zones)} zones, each with its own damper and thermostat.")
    fresh = r.job.ventilation
    if fresh.kind != "none":
        out.append(f"{text('flow', fresh.flow_m3_s, units)} of fresh air all year through an {fresh.kind.upper()}.")
    if v.read:
        out.append(f"{v.read} of {v.count} registers read: {v.good} good, {v.look} to look at, {v.fails} fail.")
    said = assumptions(r.job)
    if said:
        out.append(f"Assumed, not looked at: {'; '.join(said)}.")
    fails = sum(f.severity == "fails" for f in r.findings)
    out.append(
        f"{len(r.findings)} points on the punch list, {fails} of them fail."
        if r.findings
        else "Nothing is left on the punch list."
    )
    return out


def _unit(c: Canvas, w: float, h: float, r: Results, units: Units) -> None:
    x = r.equipment.chosen
    assert x is not None
    u = x.unit
    y = h - MARGIN - 60
    fit(
        c,
        MARGIN,
        y,
        f"{u.maker} {u.name}, {u.kind.replace('_', ' ')}, {u.stages} speed",
        15,
        "Inter-Bold",
        w - 2 * MARGIN,
    )
    rows = [
        (
            "Cooling, total",
            text("power", x.total_w, units),
            text("power", r.loads.house_cooling_w, units),
            f"{x.total_share * 100:.0f} %",
            f"{x.limits[0] * 100:.0f} to {x.limits[1] * 100:.0f} %",
        ),
        (
            "Cooling, sensible",
            text("power", x.sensible_w, units),
            text("power", r.loads.house_sensible_w, units),
            f"{x.sensible_share * 100:.0f} %",
            "90 % and more",
        ),
        (
            "Cooling, latent",
            text("power", x.latent_w, units),
            text("power", r.loads.house_latent_w, units),
            f"{x.latent_share * 100:.0f} %",
            "100 % and more",
        ),
        (
            "Heating, heat pump alone",
            text("power", x.heating_w, units),
            text("power", r.loads.house_heating_w, units),
            f"{x.heating_share * 100:.0f} %",
            "backup fills the rest",
        ),
        ("Backup heater", f"{r.job.system.heater_kw:g} kW", f"{x.backup_w / 1000:.1f} kW short", "", ""),
        ("Balance point", text("temperature", x.balance_c, units), "", "", ""),
        (
            "Hours a year with backup",
            f"{x.backup_hours:.0f} h" if x.backup_hours == x.backup_hours else "–",
            f"{x.backup_kwh:.0f} kWh" if x.backup_kwh == x.backup_kwh else "",
            "",
            "",
        ),
        (
            "Air, design",
            text("flow", r.airflow.total_m3_s, units),
            f"static limit {text('pressure', u.blower.limit_pa, units)}",
            "",
            "",
        ),
        (
            "Line set",
            text("length", r.job.system.line_length_m, units),
            f"maker allows {text('length', u.line_max_m, units)}",
            "",
            "",
        ),
        ("Electrical, information only", f"MCA {u.mca_a:g} A", f"MOP {u.mop_a:g} A", "", ""),
    ]
    y -= 30
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
            fit(
                c,
                left,
                y,
                cell,
                10.5,
                "Inter-Bold" if k == 1 else "Inter",
                (xs[k + 1] if k < 4 else w - MARGIN) - left - 8,
            )
    paragraph(
        c,
        MARGIN,
        y - 34,
        "Capacity from the maker's table at this house's outdoor design temperature and entering air, corrected for air flow and altitude. Size limits from memory of the published standard; the local code decides.",
        9,
        w - 2 * MARGIN,
        color=INK2,
    )


# ---- tables ---------------------------------------------------------------------------------------------------


def _columns(s: Schedule, rows: list[list[str]], head: list[str], room: float) -> list[float]:
    """Column widths: what the content wants, wide text columns giving way first."""
    want = []
    for k in range(len(head)):
        cells = [row[k] for row in rows]
        want.append(
            max([width(x, 8.5, "Inter-Bold") for x in cells] + [min(width(head[k], 8, "Inter-Semi"), 80.0)]) + 10
        )
    total = sum(want)
    if total <= room:
        spare = (room - total) / len(want)
        return [x + min(spare, 40) for x in want]
    least = [min(x, 52.0) for x in want]
    flexible = [x - m for x, m in zip(want, least, strict=True)]
    over = total - room
    share = min(over / max(sum(flexible), 1e-6), 1.0)
    return [x - f * share for x, f in zip(want, flexible, strict=True)]


def _table_pages(s: Schedule, units: Units, size: tuple[float, float], footnote: str = "") -> list[Page]:
    """A schedule over as many pages as it needs."""
    w, h = size
    fonts()
    head, rows = s.heading(units), s.texts(units)
    columns = _columns(s, rows, head, w - 2 * MARGIN)
    wrapped = [[wrap(cell, 8.5, columns[k] - 8) for k, cell in enumerate(row)] for row in rows]
    heads = [wrap(x, 8, columns[k] - 8, "Inter-Semi") for k, x in enumerate(head)]
    head_h = 11.0 * max(len(x) for x in heads) + 8
    top, bottom = h - MARGIN - 48, 60.0
    pages: list[Page] = []
    at = 0
    while at < len(rows) or not pages:
        y, k = top - head_h, at
        while k < len(rows):
            need = ROW + 11.0 * (max(len(x) for x in wrapped[k]) - 1)
            if y - need < bottom and k > at:
                break
            y -= need
            k += 1
        last = k >= len(rows)
        title = s.title + (f", page {len(pages) + 1}" if pages else "")
        part = _TablePart(
            s, heads, wrapped[at:k], columns, top, head_h, at, last and s.total is not None, footnote if last else ""
        )
        pages.append(Page(title, part.draw))
        at = max(k, at + 1)
    return pages


@dataclass(frozen=True)
class _TablePart:
    """The rows of a table that go on one page."""

    s: Schedule
    heads: list[list[str]]
    rows: list[list[list[str]]]
    columns: list[float]
    top: float
    head_h: float
    first: int
    total: bool
    footnote: str

    def draw(self, c: Canvas, w: float, h: float) -> None:
        _table(c, self)


def _table(c: Canvas, part: _TablePart) -> None:
    s, heads, rows, columns, top, head_h = part.s, part.heads, part.rows, part.columns, part.top, part.head_h
    first, total, footnote = part.first, part.total, part.footnote
    right = MARGIN + sum(columns)
    c.setFillColor(CHROME)
    c.rect(MARGIN, top - head_h, right - MARGIN, head_h, stroke=0, fill=1)
    x = MARGIN
    for k, lines in enumerate(heads):
        c.setFont("Inter-Semi", 8)
        c.setFillColor(INK)
        for n, line in enumerate(lines):
            _cell(c, line, x, top - 12 - 11 * n, columns[k], s.columns[k][1], "Inter-Semi", 8)
        x += columns[k]
    y = top - head_h
    for n, row in enumerate(rows):
        height = ROW + 11.0 * (max(len(cell) for cell in row) - 1)
        final = total and n == len(rows) - 1
        if (first + n) % 2 and not final:
            c.setFillColor(STRIPE)
            c.rect(MARGIN, y - height, right - MARGIN, height, stroke=0, fill=1)
        if final:
            c.setStrokeColor(INK)
            c.setLineWidth(1.2)
            c.line(MARGIN, y, right, y)
        x = MARGIN
        for k, cell in enumerate(row):
            for m, line in enumerate(cell):
                kind = s.columns[k][1]
                color = MARKS.get(line, INK) if s.columns[k][0] in ("Verdict", "Mark") else INK
                c.setFillColor(color)
                _cell(
                    c, line, x, y - 10.5 - 11 * m, columns[k], kind, "Inter-Bold" if final or k == 0 else "Inter", 8.5
                )
            x += columns[k]
        y -= height
    if footnote:
        paragraph(c, MARGIN, y - 16, footnote, 8, right - MARGIN, color=INK2)


def _cell(c: Canvas, s: str, x: float, y: float, w: float, kind: str, font: str, size: float) -> None:
    c.setFont(font, size)
    if kind == "text":
        c.drawString(x + 4, y, s)
    else:
        c.drawRightString(x + w - 4, y, s)
