"""The house cut through its ducts: the plan with the line, what is cut as a table, and the section at one scale both ways. The
line is drawn and dragged, and so is the level of a duct."""

from __future__ import annotations

from dataclasses import dataclass
from math import dist, hypot

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter

from murvan.app import paint
from murvan.app.latest import Latest
from murvan.app.stations.base import Canvas, View
from murvan.app.stations.ducts.section_drawn import Lifted, draw_page
from murvan.app.stations.ducts.section_page import Page, PlanMap, bounds, plan_rect, row_at
from murvan.design.lay import set_level
from murvan.design.space import DuctCut, Ends, Section, busiest, section
from murvan.model.routes import LaidRun

NEAR_PX, DRAG_PX = 9.0, 6.0
SNAP_M = 0.005


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
        low, high = bounds(view)
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

    @property
    def lifted(self) -> Lifted | None:
        """The run whose level is dragged, and by how much, m."""
        h = self.held
        return (h.duct.run.id, h.by_m) if h is not None and h.duct is not None else None

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
        draw_page(p, r, view, x, cutting.hand.lifted)

    return Canvas(draw, hand=cutting.hand)
