"""A traverse over the plan: the duct's section with its points, where the probe stands, the mean and its doubt as they come in."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.overlays import OverSheet
from murvan.field.traverse import TOOLS, Grid, Tool, Traverse, traverse, velocity_m_s
from murvan.units import UnitError, Units, number, parse, text, unit

MOST_POINT = 60.0
"""m/s, beyond which no duct of a house blows."""


@dataclass(frozen=True)
class Section:
    """What is traversed."""

    title: str
    grid: Grid
    predicted_m3_s: float | None
    density_kg_m3: float


class TraverseSheet(OverSheet):
    """Type a figure, Enter goes on; arrows choose a point, Tab the tool; Enter at the end keeps the flow."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName("Traverse")
        self.section: Section | None = None
        self.units: Units = "ip"
        self.tool: Tool = TOOLS["pitot"]
        self.figures: list[float | None] = []
        """What the tool showed at each point, SI."""
        self.at, self.typed, self.said = 0, "", ""
        self._keep: Callable[[Traverse, list[float], Tool], None] = lambda *_: None
        self._hits: list[tuple[QRectF, int]] = []
        self._buttons: list[tuple[QRectF, str]] = []

    def begin(self, section: Section, units: Units, keep: Callable[[Traverse, list[float], Tool], None]) -> None:
        """Open for a section; `keep` gets what the points come to."""
        self.section, self.units, self._keep = section, units, keep
        self.figures = [None] * len(section.grid.points)
        self.at, self.typed, self.said = 0, "", ""
        self.open_sheet()

    @property
    def velocities(self) -> list[float | None]:
        """By point, m/s."""
        s = self.section
        if s is None:
            return []
        return [None if x is None else velocity_m_s(self.tool, x, s.density_kg_m3) for x in self.figures]

    @property
    def found(self) -> Traverse | None:
        return traverse(self.section.grid, self.velocities, self.tool) if self.section is not None else None

    def spot(self, k: int) -> QRectF:
        """Where a point is clicked."""
        return next((r for r, n in self._hits if n == k), QRectF())

    def button(self, what: str) -> QRectF:
        return next((r for r, n in self._buttons if n == what), QRectF())

    # ---- typing -----------------------------------------------------------------------------------------------------

    def take(self) -> None:
        """Keep what is typed and go on; with nothing typed and all read, keep the flow."""
        if not self.typed:
            if all(x is not None for x in self.figures):
                self.keep()
            else:
                self._step(1, empty=True)
            return
        try:
            value = parse(self.tool.reads, self.typed, self.units)
        except UnitError as exc:
            self.said = str(exc)
            self.update()
            return
        s = self.section
        if s is None or abs(velocity_m_s(self.tool, value, s.density_kg_m3)) > MOST_POINT:
            self.said = f"{text(self.tool.reads, value, self.units)} is no air of a duct"
            self.update()
            return
        self.figures[self.at], self.typed, self.said = value, "", ""
        self._step(1, empty=True)

    def _step(self, by: int, empty: bool = False) -> None:
        n = len(self.figures)
        self.at = (self.at + by) % n
        if empty:
            left = [k for k in range(n) if self.figures[(self.at + k) % n] is None]
            self.at = (self.at + left[0]) % n if left else (self.at - by) % n
        self.update()

    def choose_tool(self, tool: str) -> None:
        """Another tool: what was read with the last one is dropped, it shows something else."""
        if TOOLS[tool] is not self.tool:
            self.tool, self.figures, self.at = TOOLS[tool], [None] * len(self.figures), 0
            self.typed = self.said = ""
            self.update()

    def keep(self) -> None:
        """What the points come to becomes a reading."""
        found = self.found
        if found is None:
            self.said = "Read two points at least"
            self.update()
            return
        points = [v for v in self.velocities if v is not None]
        self.close_sheet()
        self._keep(found, points, self.tool)

    # ---- painting ---------------------------------------------------------------------------------------------------

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            if self.section is not None:
                self._paint_all(p, self.section)

    def _paint_all(self, p: QPainter, s: Section) -> None:
        t, g, found = self.theme, s.grid, self.found
        self.frame(p, f"Traverse of {s.title}", "leaves the duct as it is")
        self._hits, self._buttons = [], []
        x = 22.0
        for tool in TOOLS.values():
            w = paint.text_width(tool.name, 12.5, 600) + 22
            r = QRectF(x, 58, w, 26)
            on = tool is self.tool
            paint.rounded(p, r, t("ink") if on else t("paper"), t("ink"), 4, 1.2)
            paint.text(p, r.center().x(), r.top() + 17.5, tool.name, 12.5, 600, t("paper") if on else t("ink"), "c")
            self._buttons.append((r, tool.id))
            x = r.right() + 6
        paint.text(p, x + 8, 75, "Tab changes the tool", 11.5, 500, t("ink2"))
        area = QRectF(26, 102, self.width() * 0.6 - 40, self.height() - 160)
        self._draw_section(p, area, g, found)
        self._draw_side(p, self.width() * 0.6 + 10, s, found)

    def _draw_section(self, p: QPainter, area: QRectF, g: Grid, found: Traverse | None) -> None:
        t = self.theme
        scale = min(area.width() / g.width_m, area.height() / g.height_m)
        box = QRectF(0, 0, g.width_m * scale, g.height_m * scale)
        box.moveCenter(area.center())
        p.setPen(QPen(t("ink"), 2.4))
        p.setBrush(t("panel"))
        p.drawEllipse(box) if g.round else p.drawRect(box)
        odd = found.odd if found is not None else ()
        for k, (x, y) in enumerate(g.points):
            c = QPointF(box.left() + x * scale, box.top() + y * scale)
            read, here = self.figures[k] is not None, k == self.at
            p.setPen(QPen(t("fails") if k in odd else t("ink"), 2.4 if here else 1.4))
            p.setBrush(t("select") if here else t("fails") if k in odd else t("ink") if read else t("paper"))
            p.drawEllipse(c, 7 if here else 5, 7 if here else 5)
            value = self.figures[k]
            if value is not None and not g.round:
                paint.text(p, c.x(), c.y() - 9, number(self.tool.reads, value, self.units), 10.5, 600, t("ink2"), "c")
            self._hits.append((QRectF(c.x() - 9, c.y() - 9, 18, 18), k))
        size = text("side", g.width_m, self.units) + ("" if g.round else f" × {text('side', g.height_m, self.units)}")
        paint.text(p, box.center().x(), box.bottom() + 20, size, 12, 500, t("ink2"), "c")

    def _draw_side(self, p: QPainter, x: float, s: Section, found: Traverse | None) -> None:
        t, g = self.theme, s.grid
        deep, other = g.depth_m(self.at)
        paint.text(p, x, 120, f"Point {self.at + 1} of {len(g.points)}", 13, 700, t("ink"))
        where = f"{text('side', deep, self.units)} from the near wall"
        second = f"on the diameter at {other:.0f}°" if g.round else f"{text('side', other, self.units)} from the top"
        paint.text(p, x, 138, where, 12.5, 500, t("ink2"))
        paint.text(p, x, 155, second, 12.5, 500, t("ink2"))
        field = QRectF(x, 166, self.width() - x - 24, 38)
        paint.rounded(p, field, t("paper"), t("fails") if self.said else t("ink"), 4, 1.6)
        value = self.figures[self.at]
        shown = self.typed or ("" if value is None else number(self.tool.reads, value, self.units))
        paint.text(p, field.left() + 12, field.top() + 25, shown or "–", 17, 700, t("ink") if shown else t("ink3"))
        paint.text(
            p, field.right() - 12, field.top() + 24, unit(self.tool.reads, self.units), 12.5, 500, t("ink2"), "r"
        )
        y = field.bottom() + 18
        for line in paint.wrap(self.said, 12, field.width()) if self.said else ():
            paint.text(p, x, y, line, 12, 600, t("fails"))
            y += 16
        y = max(y, 240.0)
        self._figures(p, x, y, s, found)
        words = "Keep the flow" if found is not None else "Type the first point"
        r = QRectF(x, self.height() - 60, field.width(), 38)
        paint.rounded(p, r, t("select") if found is not None else t("paper"), t("ink"), 4, 1.6)
        whole = all(v is not None for v in self.figures)
        paint.text(p, r.left() + 14, r.top() + 24, words, 13, 700, t("on_select") if found is not None else t("ink3"))
        if whole:
            paint.text(p, r.right() - 12, r.top() + 24, "Enter", 12, 600, t("on_select"), "r")
        self._buttons.append((r, "keep"))

    def _figures(self, p: QPainter, x: float, y: float, s: Section, found: Traverse | None) -> None:
        t = self.theme
        if found is None:
            paint.text(p, x, y, "Mean and flow come with the second point", 12.5, 500, t("ink2"))
            return
        w = paint.text(p, x, y + 24, number("flow", found.flow_m3_s, self.units), 30, 700, t("ink"))
        paint.text(
            p, x + w + 6, y + 24, f"{unit('flow', self.units)} ± {found.share * 100:.1f} %", 13, 600, t("ink2")
        )
        rows = [f"mean {text('velocity', found.mean_m_s, self.units)} of {found.count} points"]
        if s.predicted_m3_s:
            off = found.flow_m3_s / s.predicted_m3_s * 100
            rows.append(f"{text('flow', s.predicted_m3_s, self.units)} predicted; {off:.0f} % of it")
        for k, row in enumerate(rows):
            paint.text(p, x, y + 46 + 17 * k, row, 12.5, 500, t("ink2"))
        y += 46 + 17 * len(rows) + 8
        if found.odd:
            names = ", ".join(str(k + 1) for k in found.odd[:6])
            words = f"Point{'s' if len(found.odd) > 1 else ''} {names} off: read again"
            paint.mark(p, "look", x + 6, y - 4, t, 6)
            paint.text(p, x + 20, y, words, 12.5, 600, t("ink"), width=self.width() - x - 46)
            y += 19
        if found.poor(s.grid):
            paint.mark(p, "look", x + 6, y - 4, t, 6)
            paint.text(
                p,
                x + 20,
                y,
                "Much of it stands still: a straighter place",
                12.5,
                600,
                t("ink"),
                width=self.width() - x - 46,
            )

    # ---- hands ------------------------------------------------------------------------------------------------------

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        what = next((n for r, n in self._buttons if r.contains(e.position())), "")
        if what == "keep":
            self.keep()
        elif what:
            self.choose_tool(what)
        else:
            hit = next((k for r, k in self._hits if r.contains(e.position())), None)
            if hit is not None:
                self.at, self.typed, self.said = hit, "", ""
                self.update()

    def event(self, e: QEvent | None) -> bool:
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.ShortcutOverride and e.key() != Qt.Key.Key_Escape:
            e.accept()
            return True
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.KeyPress and e.key() == Qt.Key.Key_Tab:
            own = list(TOOLS)
            self.choose_tool(own[(own.index(self.tool.id) + 1) % len(own)])
            return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is None:
            return
        key, ch = e.key(), e.text()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.take()
        elif key == Qt.Key.Key_Backspace:
            if self.typed:
                self.typed = self.typed[:-1]
            else:
                self.figures[self.at] = None
            self.update()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._step(1 if key == Qt.Key.Key_Right else -1)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.section is not None:
            self._step(self.section.grid.lines[0] * (1 if key == Qt.Key.Key_Down else -1))
        elif ch and (ch.isdigit() or ch in ".,-"):
            self.typed, self.said = (self.typed + ch)[:12], ""
            self.update()
        else:
            super().keyPressEvent(e)
