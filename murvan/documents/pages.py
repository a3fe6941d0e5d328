"""Pages that every PDF shares: the head of a sheet, and schedules over as many sheets as they need."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from io import BytesIO
from pathlib import Path

from reportlab.lib.pagesizes import A4, LETTER, landscape
from reportlab.pdfgen.canvas import Canvas

from murvan.design.explain import months_words
from murvan.design.results import Results
from murvan.design.weather import MOVED
from murvan.documents.ink import (
    CHROME,
    INK,
    INK2,
    MARGIN,
    MARKS,
    ROW,
    STRIPE,
    YELLOW,
    fit,
    fonts,
    paragraph,
    width,
    wrap,
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
        if s.total is not None and k == len(rows) - 1 and k - at > 1:
            k -= 1  # a total never stands alone on its page
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
    """pt."""
    top: float
    """pt."""
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
