"""The PDF set: cover, loads, unit, duct plans, schedules, air balance, punch list.

Pages are planned first and drawn after, so that every header can say 'sheet 3 of 9'. Letter for IP, A4 for SI,
landscape. Texts are measured; what does not fit its column is wrapped, never clipped.
"""

from __future__ import annotations

from datetime import date
from io import BytesIO
from pathlib import Path

from reportlab.pdfgen.canvas import Canvas

from murvan.design.makeups import assumptions
from murvan.design.solve import Results
from murvan.documents.ink import INK, INK2, MARGIN, MARKS, RULE, fit, fonts, paragraph, width
from murvan.documents.pages import Page, conditions, sheet_size, table_pages, write_pages
from murvan.documents.plan_sheet import plan_drawer
from murvan.documents.schedules import (
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
    if r.equipment.chosen is not None:
        pages.append(Page("Unit", lambda c, w, h: _unit(c, w, h, r, units)))
    if r.job.runs:
        for s in r.job.storeys:
            pages.append(Page(f"Duct plan, {s.name.lower()}", plan_drawer(r, s.id, units)))
        pages += table_pages(duct_schedule(r, units), units, size)
        pages += table_pages(register_schedule(r, units), units, size)
        pages += table_pages(
            balance_schedule(r, v), units, size, "Good within 10 % or 5 cfm of design, to look at within 20 %."
        )
        pages += table_pages(buy_schedule(r, units), units, size)
    pages += table_pages(finding_schedule(r, units), units, size) if r.findings else []
    return pages


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
        "Capacity from the maker's table at this house's outdoor design temperature and entering air, corrected for air flow and altitude. Size limits of the published standard for residential equipment; the local code decides.",
        9,
        w - 2 * MARGIN,
        color=INK2,
    )
