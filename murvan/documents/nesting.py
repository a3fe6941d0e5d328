"""Nested sheets as files: a DXF each, a page each, and a list of what is cut from which."""

from __future__ import annotations

import csv
from pathlib import Path

from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from murvan.design.metal import Nested, NestedSheet
from murvan.documents.ink import INK, INK2, fonts
from murvan.documents.patterns import MM, TEXT_MM, new_drawing
from murvan.documents.patterns_pdf import BOLD, FONT, ring, size_words
from murvan.units import Units


def title(k: int, x: NestedSheet, units: Units) -> str:
    """'Sheet 3, galvanised steel, 26 gauge, 10 ft x 4 ft, 84 % used'."""
    size = " × ".join(size_words(v, units) for v in x.size_m)
    return f"Sheet {k}, {x.metal}, {x.gauge} gauge, {size}, {x.used:.0%} used"


def write_nested(found: Nested, folder: Path, kinds: frozenset[str], units: Units) -> None:
    """sheets.csv, a DXF for each sheet where they are asked for, and nesting.pdf."""
    with (folder / "sheets.csv").open("w", newline="", encoding="utf-8") as out:
        rows = csv.writer(out)
        rows.writerow(
            (
                "sheet",
                "metal",
                "gauge",
                "length_mm",
                "width_mm",
                "used",
                "number",
                "piece",
                "pattern",
                "x_mm",
                "y_mm",
                "turned",
            )
        )
        for k, sheet in enumerate(found.sheets, 1):
            for x in sheet.placed:
                size = (f"{v * MM:.0f}" for v in sheet.size_m)
                at = (f"{v * MM:.0f}" for v in x.at_m)
                rows.writerow(
                    (k, sheet.metal, sheet.gauge, *size, f"{sheet.used:.3f}", x.number, x.what)
                    + (x.pattern.name, *at, int(x.turned))
                )
        for number, what, p in found.too_large:
            rows.writerow(("", "", "", "", "", "", number, what, p.name, "", "", ""))
    for k, sheet in enumerate(found.sheets, 1) if "dxf" in kinds else ():
        _dxf(sheet, folder / f"sheet-{k:02d}-{sheet.metal.split()[0]}-{sheet.gauge}ga.dxf")
    if "pdf" in kinds:
        _pdf(found, folder / "nesting.pdf", units)


def _dxf(sheet: NestedSheet, target: Path) -> None:
    drawing = new_drawing()
    space = drawing.modelspace()
    for x in sheet.placed:
        for edge in (x.outline.exterior, *x.outline.interiors):
            points = [(px * MM, py * MM) for px, py in list(edge.coords)[:-1]]
            space.add_lwpolyline(points, close=True, dxfattribs={"layer": "CUT"})
        middle = x.outline.representative_point()
        text = space.add_text(f"{x.number} {x.what}, {x.pattern.name}", height=TEXT_MM, dxfattribs={"layer": "MARK"})
        text.set_placement((middle.x * MM, middle.y * MM))
    drawing.saveas(target)


def _pdf(found: Nested, target: Path, units: Units) -> None:
    fonts()
    w, h = (float(v) for v in landscape(LETTER if units == "ip" else A4))
    canvas = Canvas(str(target), pagesize=(w, h))
    canvas.setTitle("Nested sheets")
    canvas.setCreator("Murvan")
    for k, sheet in enumerate(found.sheets, 1):
        canvas.setFillColor(INK)
        canvas.setFont(BOLD, 13)
        canvas.drawString(12 * mm, h - 16 * mm, title(k, sheet, units))
        scale = min((w - 24 * mm) / sheet.size_m[0], (h - 40 * mm) / sheet.size_m[1])
        canvas.saveState()
        canvas.translate(12 * mm, 14 * mm)
        canvas.setStrokeColor(INK2)
        canvas.rect(0, 0, sheet.size_m[0] * scale, sheet.size_m[1] * scale)
        canvas.setStrokeColor(INK)
        canvas.setFont(FONT, 8)
        for x in sheet.placed:
            for edge in (x.outline.exterior, *x.outline.interiors):
                ring(canvas, list(edge.coords), scale)
            middle = x.outline.representative_point()
            canvas.drawCentredString(middle.x * scale, middle.y * scale, f"{x.number} {x.pattern.name}")
        canvas.restoreState()
        canvas.setFont(FONT, 9)
        canvas.setFillColor(INK2)
        canvas.drawString(
            12 * mm, 8 * mm, f"sheet {k} of {len(found.sheets)}; of all stock {found.waste:.0%} is left over"
        )
        canvas.showPage()
    if found.sheets:
        canvas.save()
