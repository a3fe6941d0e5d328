"""The house cut through its ducts: the plan with the line, what is cut as a table, and the section at one scale both ways. The
line is drawn and dragged, and so is the level of a duct."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from math import atan2, degrees, dist, hypot
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from murvan.app import paint
from murvan.app.latest import Latest
from murvan.app.stations.base import Canvas, View
from murvan.design.drawing import RISES_M
from murvan.design.lay import set_level
from murvan.design.parts import size_text
from murvan.design.space import Block, DeckCut, DuctCut, Ends, RoomCut, Section, blocks, busiest, section
from murvan.model.design import DuctRun
from murvan.model.job import Point
from murvan.model.routes import LaidRun

SHARE = 0.47
"""Of the page that plan and table take."""
PLAN_SHARE = 0.6
NEAR_PX, DRAG_PX = 9.0, 6.0
SNAP_M = 0.005
BREAK_PX = 30.0
MOST_PX_PER_M = 230.0
ROUND_DUCT_M, ROUND_UP_M, MOST_EMPTY_M = 0.18, 0.1, 0.5
"""What is shown beside what is cut, over and under it, and the longest empty stretch that is not taken out."""
NAME_M = 0.28
"""What of a room is shown under its ceiling, so that its name goes there."""
WALL_M, BOARD_M, JOIST_M = 0.11, 0.018, 0.038
ROW_PX = 30.0


class Cutting:
    """The line as it stands, and the hand on it."""

    def __init__(self) -> None:
        self.ends: Ends | None = None
        """None: where most ducts are cut."""
        self._cuts: Latest[Section] = Latest()
        self.hand = SectionHand(self)

    def line(self, view: View) -> Ends | None:
        """Where the house is cut; None without ducts."""
        return self.ends or busiest(view.r.job, view.r.laid)

    def cut(self, view: View) -> Section | None:
        """The house cut there; kept while nothing changes."""
        ends = self.line(view)
        if ends is None:
            return None
        return self._cuts.of((view.r.laid, view.r.job, ends), lambda: section(view.r.job, view.r.laid, ends))

    def across(self, view: View, run: LaidRun) -> None:
        """Cut across a run in the middle of its longest leg, from side to side of the house."""
        a, b = max(zip(run.path_m, run.path_m[1:], strict=False), key=lambda ab: dist(*ab))
        x, y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
        low, high = _bounds(view)
        level = abs(b[0] - a[0]) >= abs(b[1] - a[1])
        self.ends = ((x, low[1]), (x, high[1])) if level else ((low[0], y), (high[0], y))

    def step(self, view: View, by: int) -> None:
        """The line moved square to itself by a joist's spacing, or a foot where none is said."""
        ends = self.line(view)
        if ends is None:
            return
        (ax, ay), (bx, by_) = ends
        long = dist(*ends)
        nx, ny = -(by_ - ay) / long, (bx - ax) / long
        far = STEP_M * by * (1 if nx + ny > 0 else -1)
        self.ends = ((ax + nx * far, ay + ny * far), (bx + nx * far, by_ + ny * far))


STEP_M = 0.2032
"""Half a bay of joists at 16 in."""


def _bounds(view: View) -> tuple[Point, Point]:
    """The corners of the house with a hand's width round it."""
    xs, ys = zip(*(q for r in view.job.rooms for q in r.outline_m), strict=True)
    return (min(xs) - 0.4, min(ys) - 0.4), (max(xs) + 0.4, max(ys) + 0.4)


# ---- where things are on the page -----------------------------------------------------------------------------


class PlanMap(NamedTuple):
    """The plan at the upper left: px per m, and where its origin lies."""

    scale: float
    x: float
    y: float

    @staticmethod
    def of(view: View, page: QRectF) -> PlanMap:
        low, high = _bounds(view)
        r = plan_rect(page)
        k = min(r.width() / (high[0] - low[0]), r.height() / (high[1] - low[1]))
        cx, cy = (low[0] + high[0]) / 2, (low[1] + high[1]) / 2
        return PlanMap(k, r.center().x() - cx * k, r.center().y() - cy * k)

    def px(self, p: Point) -> QPointF:
        return QPointF(self.x + p[0] * self.scale, self.y + p[1] * self.scale)

    def at(self, q: QPointF) -> Point:
        return round((q.x() - self.x) / self.scale, 3), round((q.y() - self.y) / self.scale, 3)


def plan_rect(page: QRectF) -> QRectF:
    return QRectF(page.left() + 26, page.top() + 14, page.width() * PLAN_SHARE - 40, page.height() * SHARE - 28)


def table_rect(page: QRectF) -> QRectF:
    left = page.left() + page.width() * PLAN_SHARE + 6
    return QRectF(left, page.top() + 6, page.right() - left - 12, page.height() * SHARE - 12)


def section_rect(page: QRectF) -> QRectF:
    top = page.top() + page.height() * SHARE + 34
    return QRectF(page.left() + 74, top, page.width() - 94, page.bottom() - top - 30)


@dataclass(frozen=True)
class Folded:
    """A scale with empty stretches taken out."""

    kept: tuple[tuple[float, float], ...]
    """What is shown, m, in order."""
    px_per_m: float
    start: float
    """Where the first stretch begins, px."""
    sign: int = 1

    def px(self, m: float) -> float:
        """Where a place lies; within what is taken out, in its break."""
        at = self.start
        last = self.kept[0][0]
        if m < last:
            return at + self.sign * (m - last) * self.px_per_m
        for low, high in self.kept:
            if m < low:
                return at - self.sign * BREAK_PX * (low - m) / max(low - last, 1e-9)
            if m <= high:
                return at + self.sign * (m - low) * self.px_per_m
            at += self.sign * ((high - low) * self.px_per_m + BREAK_PX)
            last = high
        return at - self.sign * BREAK_PX + self.sign * (m - last) * self.px_per_m

    @property
    def breaks(self) -> Iterator[tuple[float, float]]:
        """Where each break lies, px, and what it takes out, m."""
        for (_, a), (b, _) in zip(self.kept, self.kept[1:], strict=False):
            yield (self.px(a) + self.px(b)) / 2, b - a


class Page(NamedTuple):
    """The section's two scales: along the line, and up."""

    along: Folded
    up: Folded
    rect: QRectF

    @staticmethod
    def of(x: Section, page: QRectF, run: str | None) -> Page:
        """As large as it goes; one level of ducts is shown, that of the run in hand."""
        r, shown = section_rect(page), at_level(x, run)
        xs, zs = tuple(_kept_along(x, shown)), tuple(_kept_up(x, shown))
        wide, tall = sum(b - a for a, b in xs), sum(b - a for a, b in zs)
        k = min(
            (r.width() - BREAK_PX * (len(xs) - 1)) / max(wide, 1e-6),
            (r.height() - BREAK_PX * (len(zs) - 1)) / max(tall, 1e-6),
            MOST_PX_PER_M,
        )
        left = r.left() + (r.width() - wide * k - BREAK_PX * (len(xs) - 1)) / 2
        foot = r.bottom() - (r.height() - tall * k - BREAK_PX * (len(zs) - 1)) / 2
        return Page(Folded(xs, k, left), Folded(zs, k, foot, -1), r)

    def rect_of(self, s0: float, s1: float, z0: float, z1: float) -> QRectF:
        x0, x1, y0, y1 = self.along.px(s0), self.along.px(s1), self.up.px(z1), self.up.px(z0)
        return QRectF(x0, y0, x1 - x0, y1 - y0)

    def duct(self, d: DuctCut) -> QRectF:
        """Its metal."""
        return self.rect_of(d.at_m - d.width_m / 2, d.at_m + d.width_m / 2, d.low_m, d.high_m)


def _merged(spans: Iterable[tuple[float, float]], gap: float) -> Iterator[tuple[float, float]]:
    at: tuple[float, float] | None = None
    for low, high in sorted(spans):
        if at is None:
            at = (low, high)
        elif low - at[1] <= gap:
            at = (at[0], max(at[1], high))
        else:
            yield at
            at = (low, high)
    if at is not None:
        yield at


def at_level(x: Section, run: str | None) -> list[DuctCut]:
    """The ducts that lie level where the run in hand does, or where most do; all of them where none lies level."""
    level = [d for d in x.ducts if d.how != "upright"]
    if not level:
        return list(x.ducts)
    bands = list(_merged(((d.low_m, d.high_m) for d in level), MOST_EMPTY_M))

    def within(band: tuple[float, float]) -> list[DuctCut]:
        return [d for d in level if band[0] <= d.low_m and d.high_m <= band[1]]

    return max((within(b) for b in bands), key=lambda ds: (any(d.run.id == run for d in ds), len(ds)))


def _kept_along(x: Section, shown: list[DuctCut]) -> Iterator[tuple[float, float]]:
    low, high = min((d.low_m for d in shown), default=0.0), max((d.high_m for d in shown), default=0.0)
    spans = [
        (b.span[0] - ROUND_UP_M, b.span[1] + ROUND_UP_M)
        for b in x.blocks
        if b.block.low[2] < high and b.block.high[2] > low
    ]
    for d in (d for d in x.ducts if d in shown or (d.low_m < high and d.high_m > low)):
        half = d.width_m / 2 + d.wrap_m + ROUND_DUCT_M
        if d.how == "along" and d.width_m > 2 * MOST_EMPTY_M:
            ends = (d.at_m - d.width_m / 2, d.at_m + d.width_m / 2)
            spans += [(e - ROUND_DUCT_M, e + ROUND_DUCT_M) for e in ends]
        else:
            spans.append((d.at_m - half, d.at_m + half))
    return _merged(spans or [(0.0, x.length_m)], MOST_EMPTY_M)


def _kept_up(x: Section, shown: list[DuctCut]) -> Iterator[tuple[float, float]]:
    spans = [(d.low_m - d.wrap_m - ROUND_UP_M, d.high_m + d.wrap_m + ROUND_UP_M) for d in shown]
    for deck in x.decks:
        low, high = deck.low_m - ROUND_UP_M, deck.high_m + ROUND_UP_M
        if not shown or any(low < b and high > a for a, b in spans[: len(shown)]):
            spans.append((low if deck.kind in ("floor", "slab") else deck.low_m - NAME_M, high))
    if not spans:
        spans = [(r.floor_m - ROUND_UP_M, r.ceiling[0][1] + ROUND_UP_M) for r in x.rooms] or [(0.0, 3.0)]
    return _merged(spans, MOST_EMPTY_M / 2)


# ---- the hand -------------------------------------------------------------------------------------------------


@dataclass
class _Held:
    what: str
    """'new', 'line', 'first', 'second' or 'duct'."""
    start: QPointF
    ends: Ends
    duct: DuctCut | None = None
    by_m: float = 0.0
    moved: bool = False


class SectionHand:
    """Takes hold of the line on the plan and of ducts in the section."""

    def __init__(self, cutting: Cutting) -> None:
        self.cutting = cutting
        self.view: View | None = None
        self.held: _Held | None = None

    def press(self, at: QPointF, page: QRectF) -> bool:
        view = self.view
        x = self.cutting.cut(view) if view is not None else None
        if view is None or x is None:
            return False
        row = row_at(view, x, at, page)
        if row is not None:
            view.act.select("run", row.run.id)
            return False
        if plan_rect(page).adjusted(-20, -12, 14, 12).contains(at):
            self.held = _on_line(PlanMap.of(view, page), x.ends, at)
            return True
        p = Page.of(x, page, view.selected("run"))
        for d in sorted(x.ducts, key=lambda d: d.how == "along"):
            if p.duct(d).adjusted(-3, -3, 3, 3).contains(at):
                view.act.select("run", d.run.id)
                if d.how != "upright" and d.run.side != "fresh":
                    self.held = _Held("duct", at, x.ends, d)
                    return True
                return False
        return False

    def move(self, at: QPointF, page: QRectF) -> None:
        h, view = self.held, self.view
        if h is None or view is None:
            return
        h.moved = h.moved or (at - h.start).manhattanLength() > DRAG_PX
        if not h.moved:
            return
        if h.what == "duct":
            x = self.cutting.cut(view)
            if x is not None:
                h.by_m = (
                    round(
                        (h.start.y() - at.y())
                        / Page.of(x, page, h.duct.run.id if h.duct else None).up.px_per_m
                        / SNAP_M
                    )
                    * SNAP_M
                )
            return
        m = PlanMap.of(view, page)
        to, frm = m.at(at), m.at(h.start)
        a, b = h.ends
        if h.what == "new":
            ends = (frm, to)
        elif h.what == "line":
            by = (to[0] - frm[0], to[1] - frm[1])
            ends = ((a[0] + by[0], a[1] + by[1]), (b[0] + by[0], b[1] + by[1]))
        else:
            ends = (to, b) if h.what == "first" else (a, to)
        if dist(*ends) > LEAST_M:
            self.cutting.ends = ends if h.what == "line" else _square(ends, h.what == "first")

    def release(self) -> None:
        h, view, self.held = self.held, self.view, None
        if h is None or view is None:
            return
        if h.what == "duct" and h.duct is not None and h.by_m:
            run, by = h.duct.run, h.by_m
            view.act.edit(
                f"Level of {run.tag}"[:80], lambda job: set_level(job, [run.id], round(run.level_m + by, 3))
            )
        elif h.what == "new" and not h.moved:
            self.cutting.ends = h.ends
        if h.what != "duct":
            s = view.selection
            view.act.select(*((s.kind, s.id) if s is not None else ("house", "house")))

    def let_be(self) -> bool:
        held, self.held = self.held, None
        if held is not None:
            self.cutting.ends = held.ends
        return held is not None


LEAST_M = 0.3
SQUARE = 0.14


def _square(ends: Ends, first_moves: bool) -> Ends:
    """A line nearly along x or y, exactly so."""
    (ax, ay), (bx, by) = ends
    if abs(by - ay) < SQUARE * abs(bx - ax):
        return ((ax, by), (bx, by)) if first_moves else ((ax, ay), (bx, ay))
    if abs(bx - ax) < SQUARE * abs(by - ay):
        return ((bx, ay), (bx, by)) if first_moves else ((ax, ay), (ax, by))
    return ends


def _on_line(m: PlanMap, ends: Ends, at: QPointF) -> _Held:
    """What of the line is taken hold of; a new one where none is near."""
    a, b = m.px(ends[0]), m.px(ends[1])
    for what, end in (("first", a), ("second", b)):
        if hypot(at.x() - end.x(), at.y() - end.y()) < NEAR_PX + 3:
            return _Held(what, at, ends)
    way = b - a
    long = max(hypot(way.x(), way.y()), 1e-6)
    s = ((at.x() - a.x()) * way.x() + (at.y() - a.y()) * way.y()) / long
    off = abs((at.x() - a.x()) * way.y() - (at.y() - a.y()) * way.x()) / long
    return _Held("line" if 0 < s < long and off < NEAR_PX else "new", at, ends)


# ---- painting -------------------------------------------------------------------------------------------------


def canvas(view: View, cutting: Cutting) -> Canvas:
    """The page."""
    cutting.hand.view = view

    def draw(p: QPainter, r: QRectF) -> None:
        x = cutting.cut(view)
        if x is None:
            paint.text(
                p,
                r.center().x(),
                r.center().y(),
                "no ducts to cut yet: lay them (L)",
                14,
                500,
                view.theme("ink2"),
                "c",
            )
            return
        _page(p, r, view, x, cutting.hand.held)

    return Canvas(draw, hand=cutting.hand)


def _page(p: QPainter, r: QRectF, view: View, x: Section, held: _Held | None) -> None:
    _plan(p, r, view, x)
    _table(p, r, view, x)
    t, top = view.theme, r.top() + r.height() * SHARE
    p.setPen(QPen(t("rule"), 1))
    p.drawLine(QPointF(r.left(), top), QPointF(r.right(), top))
    w = paint.text(p, r.left() + 16, top + 21, "Section S – S", 14, 700, t("ink"))
    note = f"looking {looks(x.ends)}, one scale both ways, heights over the ground"
    paint.text(p, r.left() + 26 + w, top + 21, note, 12.5, 500, t("ink2"), width=r.width() - w - 250)
    paint.text(p, r.right() - 12, top + 21, "drag a duct up or down", 12.5, 500, t("ink2"), "r")
    _section(p, r, view, x, held)


COMPASS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")


def looks(ends: Ends) -> str:
    """Where one looks with the first end at the left, as the plan is turned."""
    (ax, ay), (bx, by) = ends
    turn = degrees(atan2(by - ay, bx - ax)) % 360
    return COMPASS[round(turn / 45) % 8]


def clear_words(d: DuctCut) -> str:
    """'joist or ceiling space', 'clear height in the attic'."""
    return "joist or ceiling space" if d.words == "space" else d.words


def ink_of(d: DuctRun) -> str:
    return {"supply": "supply", "return": "return"}.get(d.side, "fresh")


def mark_of(x: Section, d: DuctCut) -> str:
    """'fails' where it does not go in or shares its place with another, else 'good'; 'none' where nothing says."""
    if d.run.id in x.in_each_other or (d.left_m is not None and d.left_m < 0):
        return "fails"
    return "none" if d.left_m is None else "good"


def _plan(p: QPainter, page: QRectF, view: View, x: Section) -> None:
    t, m = view.theme, PlanMap.of(view, page)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    for room in (r for r in view.job.rooms if r.storey == view.storey):
        outline = QPolygonF([m.px(q) for q in room.outline_m])
        p.setPen(QPen(t("inner"), 1.4))
        p.setBrush(t("paper"))
        p.drawPolygon(outline)
        box = outline.boundingRect()
        paint.text(p, box.left() + 6, box.top() + 15, room.name, 11.5, 500, t("ink3"), width=box.width() - 10)
    for b in blocks(view.r.job):
        _block_on_plan(p, view, m, b)
    joints = {j.id: j for j in view.r.job.design.joints}
    for run in view.r.laid:
        if run.storey == view.storey or joints[run.end].storey == view.storey:
            _run_on_plan(p, view, m, run)
    _line_on_plan(p, view, m, x)


def _block_on_plan(p: QPainter, view: View, m: PlanMap, b: Block) -> None:
    t = view.theme
    unit = next((u for u in view.r.job.design.indoor_units if u.id == b.of.id or b.kind != "unit"), None)
    if unit is None or unit.storey != view.storey:
        return
    p.setPen(QPen(t("ink"), 1))
    p.setBrush(t("steel") if b.kind == "unit" else t(f"{b.kind}_soft"))
    p.drawRect(QRectF(m.px(b.low[:2]), m.px(b.high[:2])))


def _run_on_plan(p: QPainter, view: View, m: PlanMap, run: LaidRun) -> None:
    t, on = view.theme, view.selected("run") == run.id
    wide = max((run.diameter_m or run.width_m or 0.1) * m.scale, 3.0)
    path = [m.px(q) for q in run.path_m]
    for pen in ((t("ink"), wide + 4), (t("select"), wide + 1)) if on else ((t(ink_of(run)), wide),):
        p.setPen(QPen(*pen, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap, Qt.PenJoinStyle.MiterJoin))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolyline(QPolygonF(path))
    if abs(run.rise_m) > RISES_M:
        p.setPen(QPen(t("ink"), 1))
        p.setBrush(t(ink_of(run)))
        p.drawRect(QRectF(path[0].x() - wide / 2, path[0].y() - wide / 2, wide, wide))


def _line_on_plan(p: QPainter, view: View, m: PlanMap, x: Section) -> None:
    t = view.theme
    a, b = m.px(x.ends[0]), m.px(x.ends[1])
    p.setPen(QPen(t("ink"), 1.6, Qt.PenStyle.DashDotLine))
    p.drawLine(a, b)
    way = (b - a) / max(hypot((b - a).x(), (b - a).y()), 1e-6)
    look = QPointF(way.y(), -way.x())
    for d in x.ducts:
        c = a + way * d.at_m * m.scale
        bad = mark_of(x, d) == "fails"
        p.setPen(QPen(t("fails") if bad else t("ink"), 1.2))
        p.setBrush(t("fails") if bad else t("paper"))
        p.drawEllipse(c, 3.2, 3.2)
    for end in (a, b):
        p.setPen(QPen(t("ink"), 1.6))
        p.drawLine(end + look * 9, end + look * 20)
        tip = end + look * 23
        p.setBrush(t("ink"))
        p.drawPolygon(QPolygonF([tip, tip - look * 7 + way * 4, tip - look * 7 - way * 4]))
        p.setBrush(t("select"))
        p.drawEllipse(end, 9, 9)
        paint.text(p, end.x(), end.y() + 4.5, "S", 12, 700, t("on_select"), "c")


# ---- table ----------------------------------------------------------------------------------------------------


def rows(x: Section, page: QRectF) -> tuple[list[DuctCut], int]:
    """What the table lists, once a run, tightest first where not all go in; and how many do not."""
    once: dict[str, DuctCut] = {}
    for d in x.ducts:
        was = once.get(d.run.id)
        if was is None or (was.how == "upright" and d.how != "upright"):
            once[d.run.id] = d
    every = list(once.values())
    room = max(int((table_rect(page).height() - 62) / ROW_PX), 1)
    if len(every) > room:
        every.sort(key=lambda d: d.left_m if d.left_m is not None else 1e9)
    return every[:room], max(len(every) - room, 0)


def row_at(view: View, x: Section, at: QPointF, page: QRectF) -> DuctCut | None:
    r = table_rect(page)
    listed, _ = rows(x, page)
    k = int((at.y() - r.top() - 42) // ROW_PX)
    return listed[k] if r.contains(at) and 0 <= k < len(listed) and at.y() > r.top() + 42 else None


def size_of(view: View, run: LaidRun) -> str:
    """'6', '14 × 8'."""
    size = (run.diameter_m or 0.0,) if run.shape == "round" else (run.width_m or 0.0, run.height_m or 0.0)
    return size_text(size, view.units)


def _table(p: QPainter, page: QRectF, view: View, x: Section) -> None:
    t, r = view.theme, table_rect(page)
    listed, more = rows(x, page)
    paint.text(p, r.left() + 4, r.top() + 17, "Cut by S – S", 13.5, 700, t("ink"))
    paint.text(p, r.right() - 4, r.top() + 17, f"{view.unit('size1')}, with insulation", 12, 500, t("ink2"), "r")
    ends = [r.right() - 108, r.right() - 68, r.right() - 26]
    for word, at in zip(("needs", "free", "left"), ends, strict=True):
        paint.text(p, at, r.top() + 36, word, 11.5, 500, t("ink2"), "r")
    paint.text(p, r.left() + 4, r.top() + 36, "Duct", 11.5, 500, t("ink2"))
    most = max([d.free_m or 0 for d in listed] + [d.needs_m for d in listed] + [0.1])
    for k, d in enumerate(listed):
        box = QRectF(r.left(), r.top() + 42 + k * ROW_PX, r.width(), ROW_PX)
        _row(p, view, x, d, box, ends, most)
    if more:
        paint.text(p, r.left() + 4, r.bottom() - 2, f"and {more} more, no tighter", 11.5, 500, t("ink2"))
    elif not listed:
        paint.text(p, r.left() + 4, r.top() + 62, "no duct is cut here: drag the line", 12.5, 500, t("ink2"))


def _row(p: QPainter, view: View, x: Section, d: DuctCut, box: QRectF, ends: list[float], most: float) -> None:
    t, y = view.theme, box.top() + 14
    on, mark = view.selected("run") == d.run.id, mark_of(x, d)
    if on:
        p.fillRect(box, t("select_soft") if t.dark else t("select"))
    ink = t("on_select") if on and not t.dark else t("ink")
    w = paint.text(p, box.left() + 4, y, d.run.tag, 12.5, 700, ink)
    how = "" if d.how == "across" else f", {d.how}"
    words = f"{size_of(view, d.run)}{how}"
    paint.text(p, box.left() + 12 + w, y, words, 11.5, 500, ink, width=ends[0] - box.left() - w - 62)
    left = d.left_m
    values = (
        view.num("size1", d.needs_m) if d.how != "upright" else "–",
        "any" if left is None and d.how != "upright" else view.num("size1", d.free_m) if left is not None else "–",
        view.num("size1", left) if left is not None else "",
    )
    for value, at in zip(values, ends, strict=True):
        paint.text(
            p, at, y, value, 12.5, 600, t("fails") if mark == "fails" and at == ends[-1] and not on else ink, "r"
        )
    if mark != "none":
        paint.mark(p, mark, box.right() - 11, y - 4, t, 6)
    bar = QRectF(box.left() + 4, box.top() + 20, box.width() - 34, 4)
    p.fillRect(bar, t("track"))
    if d.how != "upright":
        wide = bar.width() * min(d.needs_m / most, 1.0)
        p.fillRect(QRectF(bar.left(), bar.top(), wide, 4), t(ink_of(d.run)))
        if left is not None and left < 0 and d.free_m is not None:
            free = bar.width() * d.free_m / most
            p.fillRect(QRectF(bar.left() + free, bar.top(), wide - free, 4), t("fails"))
        if d.free_m is not None and left is not None:
            post = bar.left() + bar.width() * min(d.free_m / most, 1.0)
            p.fillRect(QRectF(post - 1, bar.top() - 3, 2, 10), ink)


# ---- the section ----------------------------------------------------------------------------------------------


def _section(p: QPainter, page: QRectF, view: View, x: Section, held: _Held | None) -> None:
    t, g = view.theme, Page.of(x, page, view.selected("run"))
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setClipRect(
        QRectF(
            g.rect.left() - 8, top := g.up.px(g.up.kept[-1][1]), g.rect.width() + 16, g.up.px(g.up.kept[0][0]) - top
        )
    )
    wood = QColor(t("garage"))
    _rooms(p, view, x, g)
    for deck in x.decks:
        _deck(p, t("ink3"), wood, g, deck)
    for roof in x.roofs:
        p.setPen(QPen(wood, 3))
        p.drawPolyline(QPolygonF([QPointF(g.along.px(s), g.up.px(z)) for s, z in roof]))
    for b in x.blocks:
        box = g.rect_of(*b.span, b.block.low[2], b.block.high[2])
        p.setPen(QPen(t("ink"), 1.4))
        p.setBrush(t("steel") if b.block.kind == "unit" else t(f"{b.block.kind}_soft"))
        p.drawRect(box)
    lifted = held.duct if held is not None and held.what == "duct" else None
    for d in sorted(x.ducts, key=lambda d: (d.how != "along", view.selected("run") == d.run.id)):
        moved = held.by_m if held is not None and lifted is not None and d.run.id == lifted.run.id else 0.0
        _duct(p, view, x, g, d, moved)
    p.restore()
    _breaks(p, view, g)
    _names(p, view, x, g)
    _heights(p, view, x, g)
    chosen = next((d for d in x.ducts if view.selected("run") == d.run.id and d.how == "across"), None)
    if chosen is not None:
        _measured(p, view, g, chosen, held.by_m if held is not None and lifted is not None else 0.0)
    _scale_bar(p, view, g)


def _rooms(p: QPainter, view: View, x: Section, g: Page) -> None:
    t = view.theme
    for r in x.rooms:
        top = [QPointF(g.along.px(s), g.up.px(z)) for s, z in r.ceiling]
        foot = [
            QPointF(g.along.px(r.span[1]), g.up.px(r.floor_m)),
            QPointF(g.along.px(r.span[0]), g.up.px(r.floor_m)),
        ]
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("panel"))
        p.drawPolygon(QPolygonF([*top, *foot]))
        p.setPen(QPen(t("ink2"), 1.6))
        p.drawPolyline(QPolygonF(top))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("inner"))
        for s, z in (r.ceiling[0], r.ceiling[-1]):
            p.drawRect(g.rect_of(s - WALL_M / 2, s + WALL_M / 2, r.floor_m, z))


def _deck(p: QPainter, ink: QColor, wood: QColor, g: Page, deck: DeckCut) -> None:
    whole = g.rect_of(*deck.span, deck.low_m, deck.high_m)
    soft = QColor(wood)
    soft.setAlpha(70)
    if deck.kind == "slab":
        paint.hatch(p, whole, ink, 5, 1)
        p.setPen(QPen(ink, 1.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(whole)
        return
    p.setPen(QPen(wood, 1))
    p.setBrush(soft)
    board = max(BOARD_M * g.up.px_per_m, 2.0)
    if deck.kind != "ceiling":
        p.drawRect(QRectF(whole.left(), whole.top(), whole.width(), board))
    if deck.kind != "floor":
        p.drawRect(QRectF(whole.left(), whole.bottom() - board, whole.width(), board))
    if deck.structure is None:
        if deck.kind == "between":
            paint.hatch(p, whole, soft, 9, 1)
        return
    low, high = deck.members_m
    for m in deck.members:
        box = g.rect_of(m - JOIST_M / 2, m + JOIST_M / 2, low, high)
        if box.width() < 2:
            box = QRectF(box.center().x() - 1, box.top(), 2, box.height())
        p.drawRect(box)
        if box.width() > 5:
            p.drawLine(box.topLeft(), box.bottomRight())
            p.drawLine(box.topRight(), box.bottomLeft())
    if not deck.members:
        p.setPen(QPen(wood, 1, Qt.PenStyle.DashLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(g.rect_of(*deck.span, low, high))


def _duct(p: QPainter, view: View, x: Section, g: Page, d: DuctCut, moved_m: float) -> None:
    t, on = view.theme, view.selected("run") == d.run.id
    box = g.duct(d).translated(0, -moved_m * g.up.px_per_m)
    wrap = d.wrap_m * g.up.px_per_m
    colour = t(ink_of(d.run))
    soft = t(f"{ink_of(d.run)}_soft") if ink_of(d.run) != "fresh" else t("good_soft")
    round_ = d.run.shape == "round" and d.how == "across"
    shape = p.drawEllipse if round_ else p.drawRect
    if on:
        p.setPen(QPen(t("ink"), 1))
        p.setBrush(t("select"))
        shape(box.adjusted(-wrap - 5, -wrap - 5, wrap + 5, wrap + 5))
    if wrap > 0.5:
        p.setPen(QPen(colour, 0.8))
        p.setBrush(soft)
        shape(box.adjusted(-wrap, -wrap, wrap, wrap))
    bad = mark_of(x, d) == "fails"
    p.setPen(QPen(t("fails") if bad else t("ink"), 2.0 if bad else 1.2))
    fill = QColor(colour)
    if d.how != "across":
        fill = soft
    p.setBrush(fill)
    shape(box)
    ink = t.on(fill)
    if box.height() > 17 and box.width() > paint.text_width(d.run.tag, 12, 700) + 4:
        low = box.center().y() + (4 if box.height() < 40 else -1)
        paint.text(p, box.center().x(), low, d.run.tag, 12, 700, ink, "c")
        if box.height() >= 40 and box.width() > paint.text_width(size_of(view, d.run), 11) + 4:
            paint.text(p, box.center().x(), low + 14, size_of(view, d.run), 11, 500, ink, "c")
    else:
        paint.text(p, box.center().x(), box.top() - wrap - 4, d.run.tag, 11.5, 700, t("ink"), "c")
    if bad:
        paint.mark(p, "fails", box.right() + wrap, box.top() - wrap, t, 7)


def _measured(p: QPainter, view: View, g: Page, d: DuctCut, moved_m: float) -> None:
    """What the duct in hand needs and has, beside it, and the grip of its level."""
    t = view.theme
    box = g.duct(d).translated(0, -moved_m * g.up.px_per_m)
    wrap = d.wrap_m * g.up.px_per_m
    x = box.left() - wrap - 20
    grip = QRectF(x - 8, box.center().y() - 15, 16, 30)
    p.setPen(QPen(t("ink"), 1.2))
    p.setBrush(t("select"))
    p.drawRoundedRect(grip, 3, 3)
    for sign in (-1, 1):
        tip = QPointF(x, grip.center().y() + sign * 11)
        p.setBrush(t("on_select"))
        p.drawPolygon(QPolygonF([tip, tip + QPointF(4, -sign * 6), tip + QPointF(-4, -sign * 6)]))
    if moved_m:
        words = f"{'+' if moved_m > 0 else '–'}{view.text('size1', abs(moved_m))}"
    elif d.left_m is not None:
        words = f"{view.text('size1', d.free_m)} free"
    else:
        return
    ink = t("fails") if d.left_m is not None and d.left_m < 0 else t("ink")
    wide = paint.text_width(words, 12.5, 700) + 12
    tag = QRectF(box.right() + wrap + 10, box.center().y() - 10, wide, 20)
    if tag.right() > g.rect.right() + 8:
        tag.moveRight(grip.left() - 6)
    p.setPen(QPen(ink, 1.4))
    p.setBrush(t("paper"))
    p.drawRect(tag)
    paint.text(p, tag.center().x(), tag.center().y() + 4.5, words, 12.5, 700, ink, "c")


def _breaks(p: QPainter, view: View, g: Page) -> None:
    """What is taken out, along and up, with its length."""
    t = view.theme
    top, foot = g.up.px(g.up.kept[-1][1]), g.up.px(g.up.kept[0][0])
    for at, taken in g.along.breaks:
        p.fillRect(QRectF(at - 6, top - 2, 12, foot - top + 4), t("paper"))
        _zigzag(p, t("ink3"), [QPointF(at, top - 4), QPointF(at, foot + 4)])
        paint.text(p, at, foot + 18, view.text("length", taken), 11.5, 500, t("ink2"), "c")
    for at, taken in g.up.breaks:
        p.fillRect(QRectF(g.rect.left() - 8, at - 6, g.rect.width() + 16, 12), t("paper"))
        _zigzag(p, t("ink3"), [QPointF(g.rect.left() - 8, at), QPointF(g.rect.right() + 8, at)])
        paint.text(p, g.rect.left() - 14, at + 4, view.text("length", taken), 11.5, 500, t("ink2"), "r")


def _zigzag(p: QPainter, ink: QColor, ends: list[QPointF]) -> None:
    a, b = ends
    way = (b - a) / max(hypot((b - a).x(), (b - a).y()), 1e-6)
    side, mid = QPointF(-way.y(), way.x()), (a + b) / 2
    path = QPainterPath(a)
    for point in (mid - way * 7, mid - way * 3 + side * 5, mid + way * 3 - side * 5, mid + way * 7, b):
        path.lineTo(point)
    p.setPen(QPen(ink, 1))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(path)


def _names(p: QPainter, view: View, x: Section, g: Page) -> None:
    """Rooms by their names where they are seen: under their ceiling, else over their floor."""
    t = view.theme
    taken: list[tuple[float, float, float]] = []
    for r in x.rooms:
        place = _name_place(r, g)
        if place is None:
            continue
        left, right, y = place
        words = f"{r.name}  {view.text('length', r.ceiling[0][1] - r.floor_m)} high"
        if paint.text_width(words, 11.5) > right - left:
            words = r.name
        if right - left < 24 or any(abs(y - v) < 12 and left < b and right > a for a, b, v in taken):
            continue
        taken.append((left, right, y))
        paint.text(p, left, y, words, 11.5, 600, t("ink2"), width=right - left)


def _name_place(r: RoomCut, g: Page) -> tuple[float, float, float] | None:
    """From where to where on a line a room's name goes; None where it is not seen."""
    low, high = g.along.kept[0][0], g.along.kept[-1][1]
    a, b = max(r.span[0] + WALL_M, low), min(r.span[1] - WALL_M, high)
    shown = max(
        ((max(a, s), min(b, e)) for s, e in g.along.kept if min(b, e) > max(a, s)),
        key=lambda q: q[1] - q[0],
        default=None,
    )
    if shown is None:
        return None
    left, right = g.along.px(shown[0]) + 4, g.along.px(shown[1]) - 2
    ceiling = r.ceiling[0][1]
    for z0, z1 in g.up.kept:
        if z0 < ceiling - 0.03 and ceiling <= z1 + 0.01:
            return left, right, g.up.px(z0) - 6
        if z0 <= r.floor_m < z1 - 0.03:
            return left, right, g.up.px(r.floor_m) - 5
    return None


def _heights(p: QPainter, view: View, x: Section, g: Page) -> None:
    """Floors and ceilings at the left edge."""
    t, last = view.theme, 1e9
    levels = sorted({round(z, 3) for r in x.rooms for z in (r.floor_m, r.ceiling[0][1])})
    for z in levels:
        if not any(a - 0.01 <= z <= b + 0.01 for a, b in g.up.kept):
            continue
        y = g.up.px(z)
        p.setPen(QPen(t("ink2"), 1))
        p.drawLine(QPointF(g.rect.left() - 12, y), QPointF(g.rect.left() - 6, y))
        if last - y > 13:
            paint.text(p, g.rect.left() - 15, y + 4, view.text("length", z, 2), 11.5, 600, t("ink2"), "r")
            last = y


def _scale_bar(p: QPainter, view: View, g: Page) -> None:
    t = view.theme
    long = 0.3048 if view.units == "ip" else 0.5
    wide = long * g.along.px_per_m
    y = g.rect.bottom() + 20
    left = g.rect.right() - wide
    words = "1 ft" if view.units == "ip" else "0.5 m"
    paint.text(p, left - 6, y + 4, words, 11.5, 500, t("ink2"), "r")
    p.fillRect(QRectF(left, y - 2, wide / 2, 5), t("ink"))
    p.setPen(QPen(t("ink"), 1))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(QRectF(left, y - 2, wide, 5))
