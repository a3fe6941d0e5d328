"""Flat patterns on paper: one page each to scale with dimensions, and tiles at full size to be pasted together."""

from __future__ import annotations

from fractions import Fraction
from math import ceil
from pathlib import Path

from reportlab.lib.pagesizes import A4, LETTER, landscape, portrait
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from murvan.documents.ink import INK, INK2, fonts
from murvan.documents.patterns import MM, Named, bend_words, corners, drawn_bends, edge_words
from murvan.units import Units

MARGIN_MM = 12.0
LAP_MM = 10.0
"""What neighbouring tiles share."""
MOST_TILES = 60
"""A sheet that wants more is marked out by its dimensions, and so is straight duct."""
FONT, BOLD = "Inter", "Inter-Semi"


def page_mm(units: Units) -> tuple[float, float]:
    """Letter or A4, upright."""
    w, h = portrait(LETTER if units == "ip" else A4)
    return float(w / mm), float(h / mm)


def tiles(x: Named, units: Units) -> tuple[int, int]:
    """Columns and rows of pages that a pattern takes at full size."""
    page = page_mm(units)
    found = []
    for k in (0, 1):
        step = page[k] - 2 * MARGIN_MM - LAP_MM
        found.append(max(1, ceil((x.pattern.size_m[k] * MM - LAP_MM) / step)))
    return found[0], found[1]


def write_pdf(patterns: tuple[Named, ...], target: Path, units: Units) -> int:
    """All patterns: each to scale, then at full size where that goes on few enough pages; returns how many pages."""
    fonts()
    canvas = Canvas(str(target))
    canvas.setTitle("Flat patterns")
    canvas.setCreator("Murvan")
    pages = 0
    for x in patterns:
        _scaled(canvas, x, units)
        pages += 1
        across, up = tiles(x, units)
        if across * up <= MOST_TILES and not x.words.startswith("Duct,"):
            for row in range(up):
                for column in range(across):
                    _tile(canvas, x, (column, row), (across, up), units)
                    pages += 1
    canvas.save()
    return pages


def _scaled(canvas: Canvas, x: Named, units: Units) -> None:
    """The whole pattern on one page with its sizes, bends and holes."""
    w, h = (float(v) for v in landscape(LETTER if units == "ip" else A4))
    canvas.setPageSize((w, h))
    canvas.setFont(BOLD, 13)
    canvas.setFillColor(INK)
    canvas.drawString(MARGIN_MM * mm, h - 16 * mm, x.title[:110])
    wide, high = x.pattern.size_m
    notes = [*_notes(x, units)]
    top = 22 * mm + 5 * mm * len(notes)
    canvas.setFont(FONT, 9)
    for k, words in enumerate(notes):
        canvas.drawString(MARGIN_MM * mm, h - (22 + 5 * k) * mm, words)
    room = (w - 60 * mm, h - top - 40 * mm)
    scale = min(room[0] / wide, room[1] / high)
    canvas.saveState()
    canvas.translate(30 * mm, 26 * mm)
    _draw(canvas, x, scale)
    canvas.setFont(FONT, 8.5)
    for b in drawn_bends(x.pattern):
        if b.between[1] >= 0:
            at = [(s + e) / 2 * scale for s, e in zip(b.start_m, b.end_m, strict=True)]
            canvas.drawString(at[0] + 2, at[1], bend_words(b))
    for hole in x.pattern.holes:
        canvas.drawCentredString(hole.at_m[0] * scale, hole.at_m[1] * scale, hole.name)
    for words, (px, py) in x.pattern.names:
        canvas.drawCentredString(px * scale, py * scale, words)
    canvas.setFont(FONT, 6.5)
    canvas.setFillColor(INK2)
    for words, (px, py) in edge_words(x.pattern):
        canvas.drawCentredString(px * scale, py * scale - 2, words)
    canvas.setFillColor(INK)
    canvas.restoreState()
    canvas.setFont(FONT, 8.5)
    for k, angle in ((0, 0), (1, 90)):
        canvas.saveState()
        canvas.translate(30 * mm, 26 * mm)
        canvas.rotate(angle)
        side = -1 if k == 0 else 1
        for low, up in _spans(x, k):
            if (up - low) * scale > 26:
                canvas.drawCentredString((low + up) / 2 * scale, side * 4 * mm - 3, size_words(up - low, units))
            for line in (low, up):
                canvas.line(line * scale, side * 2 * mm, line * scale, side * 6 * mm)
        canvas.drawCentredString(
            (wide, high)[k] / 2 * scale, side * 9 * mm - 3, f"{size_words((wide, high)[k], units)} whole"
        )
        canvas.restoreState()
    canvas.setFillColor(INK2)
    canvas.drawString(
        MARGIN_MM * mm,
        9 * mm,
        f"scale 1 : {72 / 0.0254 / scale:.1f} · {'inside' if x.pattern.inside_up else 'outside'} of the piece up; dashed: bends",
    )
    canvas.showPage()


def _notes(x: Named, units: Units) -> list[str]:
    """Every hole with its size and how far its middle is from two edges of its side."""
    return [
        f"Hole {h.name}: {' × '.join(size_words(s, units) for s in h.size_m)}"
        f"{' round' if len(h.size_m) == 1 else ''}, its middle {size_words(h.from_edges_m[0], units)} from the left edge of "
        f"its side and {size_words(h.from_edges_m[1], units)} from the foot"
        for h in x.pattern.holes
    ]


def _spans(x: Named, axis: int) -> list[tuple[float, float]]:
    """Between the bends that lie square to an axis, and from the outermost to the edges of the sheet."""
    other = 1 - axis
    at = {0.0, round(x.pattern.size_m[axis], 6)}
    for b in drawn_bends(x.pattern):
        if abs(b.start_m[axis] - b.end_m[axis]) < 1e-6 and abs(b.start_m[other] - b.end_m[other]) > 0.02:
            at.add(round(b.start_m[axis], 6))
    points = sorted(at)
    return [(a, b) for a, b in zip(points, points[1:], strict=False) if b - a > 1e-4]


def size_words(metres: float, units: Units) -> str:
    """As it is marked on sheet: inches and sixteenths, or mm."""
    if units == "si":
        return f"{metres * MM:.1f} mm"
    whole, parts = divmod(round(metres / 0.0254 * 16), 16)
    if not parts:
        return f"{whole} in"
    share = Fraction(parts, 16)
    return f"{whole} {share} in" if whole else f"{share} in"


def _draw(canvas: Canvas, x: Named, scale: float) -> None:
    """Cut lines whole, bends dashed, at so many points a metre."""
    canvas.setLineWidth(0.8)
    canvas.setStrokeColor(INK)
    ring(canvas, list(x.pattern.outline.exterior.coords), scale)
    for hole in x.pattern.holes:
        if len(hole.size_m) == 1:
            canvas.circle(hole.at_m[0] * scale, hole.at_m[1] * scale, hole.size_m[0] / 2 * scale)
        else:
            around = corners(hole.at_m, hole.size_m, hole.turn_deg)
            ring(canvas, [*around, around[0]], scale)
    canvas.setDash(4, 3)
    canvas.setLineWidth(0.5)
    for b in drawn_bends(x.pattern):
        canvas.line(*(v * scale for v in (*b.start_m, *b.end_m)))
    canvas.setDash()


def ring(canvas: Canvas, coords: list[tuple[float, ...]], scale: float) -> None:
    """A closed line through points in m, at so many points a metre."""
    path = canvas.beginPath()
    path.moveTo(coords[0][0] * scale, coords[0][1] * scale)
    for px, py in coords[1:]:
        path.lineTo(px * scale, py * scale)
    canvas.drawPath(path)


def _tile(canvas: Canvas, x: Named, at: tuple[int, int], of: tuple[int, int], units: Units) -> None:
    """One page at full size, with crosses where it meets its neighbours."""
    w, h = (v * mm for v in page_mm(units))
    canvas.setPageSize((w, h))
    inner = (w - 2 * MARGIN_MM * mm, h - 2 * MARGIN_MM * mm)
    step = (inner[0] - LAP_MM * mm, inner[1] - LAP_MM * mm)
    canvas.saveState()
    clip = canvas.beginPath()
    clip.rect(MARGIN_MM * mm, MARGIN_MM * mm, *inner)
    canvas.clipPath(clip, stroke=0)
    canvas.translate(MARGIN_MM * mm - at[0] * step[0], MARGIN_MM * mm - at[1] * step[1])
    _draw(canvas, x, MM * mm)
    canvas.setLineWidth(0.3)
    for column in range(of[0] + 1):
        for row in range(of[1] + 1):
            cx, cy = column * step[0] + LAP_MM / 2 * mm, row * step[1] + LAP_MM / 2 * mm
            canvas.line(cx - 3 * mm, cy, cx + 3 * mm, cy)
            canvas.line(cx, cy - 3 * mm, cx, cy + 3 * mm)
    canvas.restoreState()
    canvas.setFont(FONT, 8)
    canvas.setFillColor(INK2)
    canvas.drawString(
        MARGIN_MM * mm, 6 * mm, f"{x.title[:80]} · column {at[0] + 1} of {of[0]}, row {at[1] + 1} of {of[1]}"
    )
    canvas.drawRightString(w - MARGIN_MM * mm, 6 * mm, "full size: this line is 100 mm")
    canvas.setLineWidth(1)
    canvas.line(w - MARGIN_MM * mm - 100 * mm, 4.5 * mm, w - MARGIN_MM * mm, 4.5 * mm)
    canvas.showPage()
