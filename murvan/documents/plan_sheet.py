"""The duct plan as a sheet: one storey with walls, openings, ducts to scale, registers, and a table of its runs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from math import hypot

from reportlab.lib.colors import Color, HexColor
from reportlab.pdfgen.canvas import Canvas

from murvan.design.drawing import UnitShape, bars, longest_leg, round_about, swing, unit_shapes, wall_lines
from murvan.design.ducts import damper_words, run_kind
from murvan.design.house import opening_line
from murvan.design.parts import size_text
from murvan.design.results import Results
from murvan.documents.ink import FRESH, INK, INK2, LABEL_ROOM, MARGIN, RETURN, RULE, STRIPE, SUPPLY, fit, width, wrap
from murvan.model.job import Opening, Room
from murvan.model.routes import LaidRun
from murvan.units import FOOT, Units, number, text, unit

Point = tuple[float, float]
Box = tuple[float, float, float, float]
WHITE = HexColor("#FFFFFF")
COLORS = {"supply": SUPPLY, "return": RETURN, "fresh": FRESH}
TOP, TABLE_ROW = 50.0, 13.0
CORNER = 74.0
"""Room for north and scale below the plan."""


def plan_drawer(r: Results, storey: str, units: Units) -> Callable[[Canvas, float, float], None]:
    """A function that draws the sheet of one storey."""
    return lambda c, w, h: StoreyPlan(c, w, h, r, storey, units).draw()


def storey_drawer(c: Canvas, r: Results, storey: str, box: Box, bounds: Box) -> StoreyPlan:
    """A storey's walls and openings to scale in a box of the page (left, bottom, right, top); `bounds` are of the plan, m."""
    plan = StoreyPlan(c, 0.0, 0.0, r, storey, "ip")
    x0, y0, x1, y1 = bounds
    plan.own, plan.taken = [], []
    plan.x0, plan.y0 = x0, y0
    plan.k = min((box[2] - box[0]) / max(x1 - x0, 0.1), (box[3] - box[1]) / max(y1 - y0, 0.1))
    plan.left = box[0] + (box[2] - box[0] - plan.k * (x1 - x0)) / 2
    plan.top, plan.bottom, plan.w = box[3], box[3] - plan.k * (y1 - y0), box[2] + MARGIN
    return plan


@dataclass
class StoreySheet:
    """A page of one storey: canvas, its size in points, and what is drawn."""

    c: Canvas
    w: float
    h: float
    r: Results
    storey: str
    units: Units


@dataclass
class StoreyPlan(StoreySheet):
    names: list[tuple[str, Point, float]] = field(default_factory=list)
    columns: tuple[float, ...] = (0, 34, 86, 116, 152, 194)
    """Where the columns of its table begin."""
    legend: str = "widths to scale"

    def draw(self) -> None:
        job = self.r.job
        self.own = [self.r.runs[run.id].run for run in job.design.runs if run.storey == self.storey]
        self.taken: list[Box] = []
        self._place()
        self._spaces()
        self._walls()
        for o in job.openings:
            if self.room(o.room).storey == self.storey:
                self._opening(o)
        for run in sorted(self.own, key=lambda run: run_kind(run) == "trunk"):
            self._run(run)
        self._unit()
        self._registers()
        self._labels()
        self._corner()
        self._table()

    def walls_and_openings(self) -> None:
        """The house alone."""
        self._spaces()
        self._walls()
        for o in self.r.job.openings:
            if self.room(o.room).storey == self.storey:
                self._opening(o)

    def fill(self, outline: Sequence[Point], color: Color) -> None:
        path = self.c.beginPath()
        for k, p in enumerate(self.page(outline)):
            (path.moveTo if k == 0 else path.lineTo)(*p)
        path.close()
        self.c.setFillColor(color)
        self.c.drawPath(path, fill=1, stroke=0)

    def keep_label(self, name: str, at_m: Point, across_m: float) -> None:
        """A name to be written by `labels`, over the walls, in a room that wide."""
        self.names.append((name, at_m, across_m))

    def labels(self) -> None:
        for name, at_m, across_m in self.names:
            x, y = self.at(*at_m)
            size = 10.0
            while width(name, size, "Inter-Semi") > across_m * self.k - 6 and size > 4.5:
                size -= 0.5
            self.c.setFillColor(INK)
            self.c.setFont("Inter-Semi", size)
            self.c.drawCentredString(x, y - 3, name)

    # ---- where things are ----

    def _place(self) -> None:
        job = self.r.job
        outlines = [*(q.outline_m for q in job.rooms), *(q.outline_m for q in job.spaces)]
        xs, ys = [x for o in outlines for x, _ in o], [y for o in outlines for _, y in o]
        self.x0, self.y0 = min(xs), min(ys)
        rows = -(-len(self.own) // 3) + 1
        self.table_h = rows * TABLE_ROW + 8
        high = self.h - MARGIN - TOP - self.table_h - CORNER - 44
        self.k = min((self.w - 2 * MARGIN - 16) / (max(xs) - self.x0), max(high, 120.0) / (max(ys) - self.y0))
        self.left = MARGIN + (self.w - 2 * MARGIN - self.k * (max(xs) - self.x0)) / 2
        self.top = self.h - MARGIN - TOP
        self.bottom = self.top - self.k * (max(ys) - self.y0)

    def at(self, x: float, y: float) -> Point:
        return self.left + (x - self.x0) * self.k, self.top - (y - self.y0) * self.k

    def page(self, line: Sequence[Point]) -> list[Point]:
        """A line of the plan on the page."""
        return [self.at(*p) for p in line]

    def room(self, room_id: str) -> Room:
        return next(q for q in self.r.job.rooms if q.id == room_id)

    # ---- the house ----

    def _spaces(self) -> None:
        for s in self.r.job.spaces:
            if s.storey != self.storey:
                continue
            points = self.page(s.outline_m)
            polyline(self.c, [*points, points[0]], INK2, 1)
            cx, cy = (sum(p[k] for p in points) / len(points) for k in (0, 1))
            self.c.setFont("Inter", 9)
            self.c.setFillColor(INK2)
            self.c.drawCentredString(cx, cy, s.name)

    def _walls(self) -> None:
        for w in wall_lines(self.r.job, self.r.geometry, self.storey):
            polyline(self.c, self.page(w.ends), INK if w.outer else INK2, 4.0 if w.outer else 2.0)

    def _opening(self, o: Opening) -> None:
        if o.kind == "skylight":
            return
        room = self.room(o.room)
        ends = self.page(opening_line(o, room))
        polyline(self.c, ends, WHITE, 2.6 if o.kind == "window" else 4.6, butt=True)
        if o.kind == "window":
            polyline(self.c, ends, INK, 0.6)
        elif o.kind == "door":
            x, leaf = swing(o, room), o.width_m * self.k
            (px, py), tip = self.page((x.hinge, x.tip))
            polyline(self.c, [(px, py), tip], INK2, 0.8)
            self.c.setLineWidth(0.6)
            self.c.arc(px - leaf, py - leaf, px + leaf, py + leaf, x.start_deg, x.sweep_deg)

    # ---- the air ----

    def _run(self, run: LaidRun) -> None:
        size = max(((run.diameter_m if run.shape == "round" else run.width_m) or 0.15) * self.k, 3)
        points = self.page(run.path_m)
        polyline(self.c, points, INK, size + 1.4)
        polyline(self.c, points, COLORS[run.side], size)

    def _unit(self) -> None:
        c, design = self.c, self.r.job.design
        for one in unit_shapes(self.r.job, self.storey):
            if not one.unit.unit:
                continue
            self._bypass(one)
            for b in one.boxes:
                (cx, cy), w, h = self.at(*b.middle), b.width_m * self.k, b.height_m * self.k
                c.setFillColor(SUPPLY if b.plenum.side == "supply" else HexColor("#EBD3EA"))
                c.setStrokeColor(INK)
                c.setLineWidth(1.2)
                c.rect(cx - w / 2, cy - h / 2, w, h, fill=1)
                self.taken.append((cx - w / 2, cy - h / 2, cx + w / 2, cy + h / 2))
            name = "Air handler" if one.unit.kind == "ducted" else one.unit.tag
            self._label(name, 7.5, "Inter-Semi", *self.at(*one.unit.position_m), RULE)
        for v in design.ventilators:
            if not v.position_m or v.storey != self.storey or v.kind == "none":
                continue
            x, y = self.at(*v.position_m)
            c.setFillColor(WHITE)
            c.setStrokeColor(INK)
            c.rect(x - 15, y - 10, 30, 20, fill=1)
            c.setFillColor(INK)
            c.setFont("Inter-Bold", 8)
            c.drawCentredString(x, y - 3, v.kind.upper())
            self.taken.append((x - 16, y - 11, x + 16, y + 11))

    def _bypass(self, x: UnitShape) -> None:
        if x.unit.bypass is None or len(x.boxes) != 2:
            return
        a, b = self.page([q.middle for q in x.boxes])
        line = round_about(a, b, 22 if a[0] > b[0] else -22)
        polyline(self.c, line, SUPPLY, 2.4)
        (ax, ay), (bx, by) = line[1:3]
        size = size_text((x.unit.bypass.diameter_m,), self.units)
        self._label(f"Bypass {size}", 7.5, "Inter-Semi", (ax + bx) / 2, (ay + by) / 2, RULE)

    def _registers(self) -> None:
        c = self.c
        for x in self.r.job.design.registers:
            if self.room(x.room).storey != self.storey:
                continue
            cx, cy = self.at(*x.position_m)
            half = 5.5
            c.setFillColor(WHITE)
            c.setStrokeColor(INK if x.side == "supply" else RETURN)
            c.setLineWidth(1.1)
            c.rect(cx - half, cy - half, 2 * half, 2 * half, fill=1)
            if x.side == "supply":
                c.line(cx - half, cy - half, cx + half, cy + half)
                c.line(cx - half, cy + half, cx + half, cy - half)
            else:
                for at in bars(cx - half, cx + half, 2.2):
                    c.line(at, cy - half + 1.5, at, cy + half - 1.5)
            self.taken.append((cx - 7, cy - 7, cx + 7, cy + 7))

    # ---- texts ----

    def _labels(self) -> None:
        for i, room in enumerate(self.r.job.rooms):
            if room.storey == self.storey:
                name = f"{room.name}  {text('flow', float(self.r.room_m3_s[i]), self.units)}"
                self._label(name, 9.5, "Inter-Bold", *self.at(*self.r.geometry.centre_m[i]), None)
        for run in self.own:
            label = self._run_label(run)
            if label:
                self._label(label, 7.5, "Inter-Semi", *self._longest_middle(run), RULE)

    def _run_label(self, run: LaidRun) -> str:
        """What stands at a run; '' for none."""
        if run.side == "fresh" or (not run.register_id and self._length(run) < 60):
            return ""
        return f"{run.tag}  {size_of(run, self.units)}"

    def _longest_middle(self, run: LaidRun) -> Point:
        """The middle of a run's longest stretch on the page."""
        a, b = longest_leg(tuple(self.page(run.path_m)))
        return (a[0] + b[0]) / 2, (a[1] + b[1]) / 2

    def _length(self, run: LaidRun) -> float:
        points = self.page(run.path_m)
        return sum(hypot(b[0] - a[0], b[1] - a[1]) for a, b in zip(points, points[1:], strict=False))

    def _label(self, s: str, size: float, font: str, x: float, y: float, edge: Color | None) -> None:
        """A text on white at the first place near (x, y) where it covers no other text."""
        c = self.c
        lines = wrap(s, size, LABEL_ROOM, font)
        half_w = max(width(line, size, font) for line in lines) / 2 + 3
        half_h = size * (0.75 + 0.62 * (len(lines) - 1))
        boxes = []
        for px, py in _spots(x, y):
            px = min(max(px, MARGIN + half_w), self.w - MARGIN - half_w)
            boxes.append((px - half_w, py - half_h, px + half_w, py + half_h))
        free = (
            a
            for a in boxes
            if not any(a[0] < b[2] and a[2] > b[0] and a[1] < b[3] and a[3] > b[1] for b in self.taken)
        )
        best = next(free, boxes[0])
        self.taken.append(best)
        c.setFillColor(WHITE)
        c.setStrokeColor(edge or WHITE)
        c.setLineWidth(0.6)
        c.rect(best[0], best[1], best[2] - best[0], best[3] - best[1], stroke=1 if edge else 0, fill=1)
        c.setFillColor(INK)
        c.setFont(font, size)
        for k, line in enumerate(lines):
            c.drawString(best[0] + 3, best[3] - size * (1.1 + 1.24 * k), line)

    def _corner(self) -> None:
        """North, a scale, and what the colours mean."""
        c, y = self.c, self.bottom - 40
        c.saveState()
        c.translate(MARGIN + 16, y)
        c.rotate(-self.r.job.site.north_deg)
        c.setStrokeColor(INK)
        c.setFillColor(INK)
        arrow = c.beginPath()
        for k, (px, py) in enumerate(((0, 15), (5, -4), (0, -1), (-5, -4))):
            (arrow.moveTo if k == 0 else arrow.lineTo)(px, py)
        arrow.close()
        c.drawPath(arrow, fill=1, stroke=0)
        c.setFont("Inter-Bold", 8)
        c.drawCentredString(0, -15, "N")
        c.restoreState()
        step = 4 * FOOT if self.units == "ip" else 1.0
        left = MARGIN + 48
        c.rect(left, y - 3, step * self.k, 5, fill=1)
        c.rect(left + step * self.k, y - 3, step * self.k, 5, fill=0)
        c.setFont("Inter", 8)
        for k, s in enumerate(("0", "4", "8 ft") if self.units == "ip" else ("0", "1", "2 m")):
            c.drawString(left + k * step * self.k - 2, y - 14, s)
        x = left + 2 * step * self.k + 50
        for name, color in (("supply", SUPPLY), ("return", RETURN), ("fresh air", FRESH)):
            c.setFillColor(color)
            c.rect(x, y - 3, 22, 7, stroke=0, fill=1)
            c.setFillColor(INK)
            c.drawString(x + 27, y - 2.5, name)
            x += 34 + width(name, 8) + 18
        c.drawString(x, y - 2.5, f"{self.legend}, sizes: {unit('size', self.units)}")

    def _table(self) -> None:
        """Runs of this storey in three columns."""
        c = self.c
        column = (self.w - 2 * MARGIN) / 3
        per = -(-len(self.own) // 3)
        y0 = self.bottom - CORNER
        for k in range(3):
            part = self.own[k * per : (k + 1) * per]
            if not part:
                continue
            x = MARGIN + k * column
            xs = tuple(x + dx for dx in self.columns)
            for head, left in zip(self._heads(), xs, strict=True):
                fit(c, left, y0, head, 8, "Inter-Semi", 44, INK2)
            for n, run in enumerate(part):
                y = y0 - TABLE_ROW * (n + 1)
                if n % 2 == 0:
                    c.setFillColor(STRIPE)
                    c.rect(x - 3, y - 3.4, column - 10, TABLE_ROW, stroke=0, fill=1)
                self._table_row(run, xs, y)

    def _heads(self) -> tuple[str, ...]:
        return (
            "Run",
            f"Size {unit('size', self.units)}",
            unit("flow", self.units),
            unit("length", self.units),
            "Level",
            "Damper",
        )

    def _cells(self, run: LaidRun) -> tuple[str, ...]:
        x = self.r.runs[run.id]
        return (
            run.tag,
            size_of(run, self.units),
            number("flow", x.flow_m3_s, self.units),
            number("length", x.length_m, self.units),
            text("feet", run.level_m, self.units),
            damper_words(run.damper),
        )

    def _table_row(self, run: LaidRun, xs: Sequence[float], y: float) -> None:
        cells = self._cells(run)
        for k, (cell, left) in enumerate(zip(cells, xs, strict=True)):
            room = (xs[k + 1] if k < 5 else left + 44) - left - 4
            fit(self.c, left, y, cell, 8.5, "Inter-Bold" if k == 0 else "Inter", room)


def size_of(run: LaidRun, units: Units) -> str:
    """'7' or '14 × 8'."""
    round_ = run.shape == "round"
    return size_text((run.diameter_m or 0,) if round_ else (run.width_m or 0, run.height_m or 0), units)


def _spots(x: float, y: float) -> list[Point]:
    out = [(x, y)]
    for d in (10, 16, 24, 34, 46, 62):
        wide, slant = d * 1.6, d * 1.4
        out += [(x, y + d), (x, y - d), (x + wide, y), (x - wide, y)]
        out += [
            (x + slant, y + d * 0.8),
            (x - slant, y - d * 0.8),
            (x + slant, y - d * 0.8),
            (x - slant, y + d * 0.8),
        ]
    return out


def polyline(c: Canvas, points: Sequence[Point], color: Color, line: float, butt: bool = False) -> None:
    """A line through points of the page."""
    c.setStrokeColor(color)
    c.setLineWidth(line)
    c.setLineCap(0 if butt else 1 if line > 2.6 and len(points) > 2 else 0)
    c.setLineJoin(1)
    path = c.beginPath()
    path.moveTo(*points[0])
    for p in points[1:]:
        path.lineTo(*p)
    c.drawPath(path)
    c.setLineCap(0)
