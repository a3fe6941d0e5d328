"""Pages that every PDF shares: the head of a sheet, and schedules over as many sheets as they need."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from io import BytesIO
from pathlib import Path
from typing import Any

from reportlab.lib.enums import TA_LEFT, TA_RIGHT
from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Paragraph, Table, TableStyle

from murvan.design.explain import months_words
from murvan.design.results import Results
from murvan.design.weather import MOVED
from murvan.documents.ink import (
    CHROME,
    INK,
    INK2,
    MARGIN,
    MARKS,
    STRIPE,
    YELLOW,
    fit,
    flowing,
    fonts,
    paragraph,
    width,
)
from murvan.documents.schedules import Schedule
from murvan.units import Units, text


@dataclass(frozen=True)
class Page:
    """A planned page."""

    title: str
    draw: Callable[[Canvas, float, float], None]


def sheet_size(units: Units) -> tuple[float, float]:
    """Landscape letter for IP, A4 for SI, points."""
    w, h = landscape(LETTER if units == "ip" else A4)
    return float(w), float(h)


def write_pages(
    r: Results, pages: Sequence[Page], target: Path | BytesIO, units: Units, today: date | None = None
) -> int:
    """Draw planned pages to a path or a buffer; returns how many."""
    fonts()
    size = sheet_size(units)
    canvas = Canvas(str(target) if isinstance(target, Path) else target, pagesize=size)
    canvas.setTitle(f"{r.job.name}, {r.job.town}")
    canvas.setAuthor(r.job.company or "Murvan")
    canvas.setCreator("Murvan")
    day = (today or date.today()).strftime("%d %b %Y").lstrip("0")
    for k, page in enumerate(pages, 1):
        frame(canvas, r, page.title, k, len(pages), size, day)
        page.draw(canvas, *size)
        canvas.showPage()
    canvas.save()
    return len(pages)


CONDITIONS = (
    "Indoors {0} heating, {1} and {2} % cooling. Outdoors {3} in winter; {4} with {5} wet bulb and a daily range of {6} in "
    "summer. {7} ACH50. Weather: {8}. Cooling by the heat balance of clear design days, 21 {9}."
)


def conditions(r: Results, units: Units) -> str:
    """What the loads are worked out for, in one paragraph."""
    job = r.job
    climate = job.climate
    return CONDITIONS.format(
        text("temperature", job.indoor.heating_c, units),
        text("temperature", job.indoor.cooling_c, units),
        f"{job.indoor.cooling_rh * 100:.0f}",
        text("temperature", climate.winter_c, units),
        text("temperature", climate.summer_c, units),
        text("temperature", climate.summer_wet_bulb_c, units),
        text("difference", climate.daily_range_k, units),
        f"{job.leakage.ach50:g}",
        ", ".join(x for x in (climate.name, climate.source, MOVED if climate.moved else "") if x),
        months_words(r.loads.months),
    )


def frame(c: Canvas, r: Results, title: str, k: int, n: int, size: tuple[float, float], day: str) -> None:
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


def table_pages(s: Schedule, units: Units, size: tuple[float, float], footnote: str = "") -> list[Page]:
    """A schedule over as many pages as it needs."""
    w, h = size
    fonts()
    room, top = w - 2 * MARGIN, h - MARGIN - 48
    pages: list[Page] = []
    left = [_table(s, units, room)]
    while left:
        part, *left = left[0].split(room, top - 60.0) or left
        title = s.title + (f", page {len(pages) + 1}" if pages else "")
        pages.append(Page(title, _drawing(part, top, "" if left else footnote)))
    return pages


def _drawing(table: Table, top: float, footnote: str) -> Callable[[Canvas, float, float], None]:
    def draw(c: Canvas, w: float, h: float) -> None:
        wide, high = table.wrap(w - 2 * MARGIN, top)
        table.drawOn(c, MARGIN, top - high)
        if footnote:
            paragraph(c, MARGIN, top - high - 16, footnote, 8, wide, color=INK2)

    return draw


SIZE, HEAD_SIZE, LEADING = 8.5, 8.0, 11.0


def _table(s: Schedule, units: Units, room: float) -> Table:
    head, rows = s.heading(units), s.texts(units)
    columns = _columns(s, rows, head, room)

    def cell(words: str, k: int, size: float, font: str) -> str | Paragraph:
        if width(words, size, font) <= columns[k] - 8:
            return words
        at = TA_LEFT if s.columns[k][1] == "text" else TA_RIGHT
        return flowing(words, size, font, LEADING / size, alignment=at, textColor=INK)

    last = len(rows) if s.total is not None else -1
    bold = "Inter-Bold"
    body = [
        [cell(x, k, SIZE, bold if k == 0 or n == last else "Inter") for k, x in enumerate(row)]
        for n, row in enumerate(rows, 1)
    ]
    look: list[tuple[Any, ...]] = [
        ("FONT", (0, 1), (-1, -1), "Inter", SIZE, LEADING),
        ("FONT", (0, 1), (0, -1), bold, SIZE, LEADING),
        ("FONT", (0, 0), (-1, 0), "Inter-Semi", HEAD_SIZE, LEADING),
        ("TEXTCOLOR", (0, 0), (-1, -1), INK),
        ("LEFTPADDING", (0, 0), (-1, -1), 4),
        ("RIGHTPADDING", (0, 0), (-1, -1), 4),
        ("TOPPADDING", (0, 0), (-1, -1), 2),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
        ("TOPPADDING", (0, 0), (-1, 0), 4),
        ("BOTTOMPADDING", (0, 0), (-1, 0), 4),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("BACKGROUND", (0, 0), (-1, 0), CHROME),
        ("ROWBACKGROUNDS", (0, 1), (-1, last - 1 if last > 0 else -1), (None, STRIPE)),
        *(("ALIGN", (k, 0), (k, -1), "LEFT" if kind == "text" else "RIGHT") for k, (_, kind) in enumerate(s.columns)),
        *(
            ("TEXTCOLOR", (k, n), (k, n), MARKS[row[k]])
            for k, (title, _) in enumerate(s.columns)
            if title in ("Verdict", "Mark")
            for n, row in enumerate(rows, 1)
            if row[k] in MARKS
        ),
    ]
    if last > 0:
        look += [("FONT", (0, last), (-1, last), bold, SIZE, LEADING), ("LINEABOVE", (0, last), (-1, last), 1.2, INK)]
    if last > 1:
        look.append(("NOSPLIT", (0, last - 1), (-1, last)))  # a total never stands alone on its page
    heads = [cell(x, k, HEAD_SIZE, "Inter-Semi") for k, x in enumerate(head)]
    return Table([heads, *body], columns, repeatRows=1, splitInRow=1, style=TableStyle(look))


def signature_lines(c: Canvas, x: float, y: float, wide: float, who: tuple[str, ...]) -> None:
    """A line to sign and one for the date for each of them, side by side."""
    column = wide / len(who)
    for k, name in enumerate(who):
        left = x + k * column
        c.setStrokeColor(INK)
        c.setLineWidth(0.8)
        c.line(left, y, left + column * 0.6 - 8, y)
        c.line(left + column * 0.6, y, left + column - 14, y)
        c.setFont("Inter", 7.5)
        c.setFillColor(INK2)
        c.drawString(left, y - 9, name)
        c.drawString(left + column * 0.6, y - 9, "Date")
