"""The ledger: header, this storey's rows, the other storeys, the total."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QRegion, QWheelEvent
from PyQt6.QtWidgets import QToolTip, QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.repaint import Shown, repaint
from murvan.app.stations.base import Cell, Column, Ledger, Row
from murvan.app.theme import LIGHT, Theme

HEADER, TOTAL = 24, 24


class LedgerView(QWidget):
    """Draws a `Ledger`; a click selects the row's thing."""

    picked = pyqtSignal(str, str)
    storey_wanted = pyqtSignal(str)
    dropped = pyqtSignal(str, str, str, str)
    """A row was dragged onto another: kind and id of both."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Ledger")
        self.theme: Theme = LIGHT
        self.ledger: Ledger | None = None
        self.selected: tuple[str, str] | None = None
        self.row_height = 20
        self.first = 0
        self.stale = False
        self._held: tuple[str, str] | None = None
        self.setMouseTracking(True)
        self._hover: tuple[str, str] | None = None
        self._shown: Shown | None = None

    def show_ledger(self, ledger: Ledger | None, selected: tuple[str, str] | None) -> None:
        self.ledger, moved = ledger, selected != self.selected
        self.selected = selected
        if moved and ledger is not None:
            keys = [r.key for r in ledger.rows]
            if selected in keys:
                at = keys.index(selected)
                if not self.first <= at < self.first + self._visible():
                    self.first = max(0, at - self._visible() + 1)
        self._clamp()
        self._shown = repaint(self, self._shown, self._now())

    def _now(self) -> Shown:
        """Rows and total, and what all of them depend on."""
        x = self.ledger
        frame = (self.theme, self.stale, self.row_height, self.first, self.size(), self.selected, x is None)
        if x is None:
            return Shown(frame)
        lines = [*self._lines(), *([(self.total_rect(), x.total)] if x.total is not None else [])]
        columns = self._columns()
        keys = tuple(row.key for _, row in lines)
        parts = [
            (_cell_rect(rect, left, width), _painted(cell))
            for rect, row in lines
            for (left, width, _), cell in zip(columns, row.cells, strict=False)
        ]
        return Shown((*frame, x.columns, len(x.rows), keys), parts)

    def _visible(self) -> int:
        tail = (len(self.ledger.other) if self.ledger else 0) * self.row_height
        return max(1, int((self.height() - HEADER - TOTAL - tail) // self.row_height))

    def _clamp(self) -> None:
        n = len(self.ledger.rows) if self.ledger else 0
        self.first = max(0, min(self.first, n - self._visible()))

    def row_rect(self, key: tuple[str, str]) -> QRectF:
        """Where a row lies on the widget; empty when it is not in view."""
        for rect, row in self._lines():
            if row.key == key:
                return rect
        return QRectF()

    def _lines(self) -> list[tuple[QRectF, Row]]:
        if self.ledger is None:
            return []
        out = []
        y = float(HEADER)
        for row in self.ledger.rows[self.first : self.first + self._visible()]:
            out.append((QRectF(0, y, self.width(), self.row_height), row))
            y += self.row_height
        bottom = self.height() - TOTAL - self.row_height * len(self.ledger.other)
        for k, row in enumerate(self.ledger.other):
            out.append((QRectF(0, bottom + k * self.row_height, self.width(), self.row_height), row))
        return out

    def _columns(self) -> list[tuple[float, float, Column]]:
        """Left, width and column, stretched to the widget."""
        assert self.ledger is not None
        columns = self.ledger.columns
        scale = (self.width() - 28) / sum(c.width for c in columns)
        x, out = 14.0, []
        for k, c in enumerate(columns):
            gap = 12.0 if k and c.align == "l" else 0.0  # room after a right-aligned neighbour
            out.append((x + gap, c.width * scale - gap, c))
            x += c.width * scale
        return out

    def paintEvent(self, e: QPaintEvent | None) -> None:
        with painting(self, False) as p:
            self._paint_all(p, e.region() if e is not None else QRegion(self.rect()))

    def _paint_all(self, p: QPainter, part: QRegion) -> None:
        t = self.theme
        p.fillRect(self.rect(), t("paper"))
        p.fillRect(QRectF(0, 0, self.width(), HEADER), t("chrome"))
        if self.ledger is None:
            return
        columns = self._columns()
        for x, w, c in columns if part.intersects(QRect(0, 0, self.width(), HEADER)) else ():
            self._heading(p, t, x, w, c)
        shown = self.ledger.rows[self.first : self.first + self._visible()]
        for k, (rect, row) in enumerate(self._lines()):
            if not part.intersects(rect.toAlignedRect()):
                continue
            other = k >= len(shown)
            chosen = row.key is not None and row.key == self.selected
            if chosen:
                p.fillRect(rect, t("select"))
            elif row.key is not None and row.key == self._hover:
                p.fillRect(rect, t("select_soft"))
            elif k % 2 and not other:
                p.fillRect(rect, t("stripe"))
            if other and k == len(shown):
                p.setPen(QPen(t("outline"), 1))
                p.drawLine(rect.topLeft(), rect.topRight())
            self._row(p, t, rect, row, columns, chosen, other, part=part)
        if self.ledger.total is not None:
            rect = self.total_rect()
            chosen = self.ledger.total.key is not None and self.ledger.total.key == self.selected
            p.fillRect(rect, t("select" if chosen else "chrome"))
            p.setPen(QPen(t("ink"), 2))
            p.drawLine(rect.topLeft(), rect.topRight())
            self._row(p, t, rect, self.ledger.total, columns, chosen, False, True, part=part)
        if len(self.ledger.rows) > self._visible():
            self._scroll_hint(p, t)

    def event(self, e: QEvent | None) -> bool:
        """A text that is cut can be read where the pointer rests."""
        if isinstance(e, QHelpEvent) and e.type() == QEvent.Type.ToolTip:
            QToolTip.showText(e.globalPos(), self.cut_text(e.pos().toPointF()), self)
            return True
        return super().event(e)

    def cut_text(self, at: QPointF) -> str:
        """The whole text of the cell at a place, '' when it is all to be seen."""
        if self.ledger is None:
            return ""
        for x, w, c in self._columns() if at.y() < HEADER else ():
            if x <= at.x() <= x + w and paint.text_width(c.title, 12, 600) > w + 8:
                return c.title
        lines = [*self._lines(), *([(self.total_rect(), self.ledger.total)] if self.ledger.total else [])]
        for rect, row in lines:
            if not rect.contains(at):
                continue
            for (x, w, _), cell in zip(self._columns(), row.cells, strict=False):
                if x <= at.x() <= x + w and paint.text_width(cell.text, 13, 700 if cell.bold else 500) > w - 4:
                    return cell.text
        return ""

    def _scroll_hint(self, p: QPainter, t: Theme) -> None:
        n, v = len(self.ledger.rows) if self.ledger else 1, self._visible()
        whole = v * self.row_height
        y = HEADER + whole * self.first / n
        p.fillRect(QRectF(self.width() - 5, y, 3, whole * v / n), t("outline"))

    def _heading(self, p: QPainter, t: Theme, x: float, w: float, c: Column) -> None:
        wt = paint.text_width(c.title, 12, 600)
        wu = paint.text_width(c.unit, 11.5, 500) + 4 if c.unit else 0.0
        if wt + wu > w - 4:
            wu = 0.0
        left = x if c.align == "l" else x + w - wt - wu if c.align == "r" else x + (w - wt - wu) / 2
        paint.text(p, left, 17, c.title, 12, 600, t("ink"), width=w + 8)
        if wu:
            paint.text(p, left + wt + 4, 17, c.unit, 11.5, 500, t("ink2"))

    def _row(
        self,
        p: QPainter,
        t: Theme,
        rect: QRectF,
        row: Row,
        columns: list[tuple[float, float, Column]],
        chosen: bool,
        faint: bool,
        total: bool = False,
        *,
        part: QRegion,
    ) -> None:
        base = t("on_select") if chosen else t("ink3") if self.stale else t("ink2") if faint else t("ink")
        for (x, w, c), cell in zip(columns, row.cells, strict=False):
            if part.intersects(_cell_rect(rect, x, w).toAlignedRect()):
                self._cell(p, t, QRectF(x, rect.top(), w, rect.height()), cell, c, base, chosen, total)

    def _cell(
        self, p: QPainter, t: Theme, r: QRectF, cell: Cell, c: Column, base: QColor, chosen: bool, total: bool
    ) -> None:
        middle = r.center().y()
        if cell.mark:
            paint.mark(p, cell.mark, r.right() - 8 if c.align == "r" else r.center().x(), middle, t, 6.5)
        if cell.centre_bar is not None:
            self._centre_bar(p, t, r, cell)
        elif cell.bar is not None:
            box = QRectF(r.left() + 6, middle - 4.5, r.width() - 12, 9)
            paint.bar(p, box, cell.bar, t(cell.bar_color), t, cell.tick, cell.band)
        if cell.chips:
            self._chips(p, t, r, cell, chosen)
        if cell.text:
            color = t(cell.color) if cell.color and not chosen else base
            weight = 700 if cell.bold or total else 500
            x = r.left() if c.align == "l" else r.right() if c.align == "r" else r.center().x()
            paint.text(
                p, x, middle + 4.7, cell.text, 13, weight, color, c.align, r.width() + (4 if c.align == "r" else -4)
            )

    def _centre_bar(self, p: QPainter, t: Theme, r: QRectF, cell: Cell) -> None:
        """Deviation about the middle: -0.5 .. 0.5 of the width is -50 % .. +50 %."""
        box = QRectF(r.left() + 6, r.center().y() - 5, r.width() - 12, 10)
        p.fillRect(box, t("track"))
        middle = box.center().x()
        p.fillRect(QRectF(middle - box.width() * 0.1, box.top(), box.width() * 0.2, box.height()), t("band"))
        w = max(-0.5, min(0.5, cell.centre_bar or 0.0)) * box.width()
        p.fillRect(
            QRectF(middle if w > 0 else middle + w, box.top() + 2, abs(w), box.height() - 4), t(cell.bar_color)
        )
        p.fillRect(QRectF(middle - 1, box.top() - 2, 2, box.height() + 4), t("ink"))

    def _chips(self, p: QPainter, t: Theme, r: QRectF, cell: Cell, chosen: bool) -> None:
        x = r.left()
        for label, on in cell.chips:
            box = QRectF(x, r.center().y() - 7, 15, 14)
            if on:
                p.fillRect(box, t("on_select") if chosen else t("ink"))
                paint.text(
                    p,
                    box.center().x(),
                    box.center().y() + 4,
                    label,
                    10.5,
                    700,
                    t("select") if chosen else t("on_ink"),
                    "c",
                )
            else:
                paint.text(
                    p,
                    box.center().x(),
                    box.center().y() + 2,
                    "·",
                    13,
                    700,
                    t("on_select") if chosen else t("ink3"),
                    "c",
                )
            x += 17

    def total_rect(self) -> QRectF:
        return QRectF(0, self.height() - TOTAL, self.width(), TOTAL)

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None or e.button() != Qt.MouseButton.LeftButton:
            return
        total = self.ledger.total if self.ledger is not None else None
        if total is not None and total.key is not None and self.total_rect().contains(e.position()):
            self.picked.emit(*total.key)
            return
        for rect, row in self._lines():
            if rect.contains(e.position()) and row.key is not None:
                if row.key[0] == "storey":
                    self.storey_wanted.emit(row.key[1])
                else:
                    self._held = row.key
                    self.picked.emit(*row.key)
                return

    def mouseReleaseEvent(self, e: QMouseEvent | None) -> None:
        held, self._held = self._held, None
        if e is None or held is None:
            return
        over = next((row.key for rect, row in self._lines() if rect.contains(e.position())), None)
        if over is not None and over != held:
            self.dropped.emit(*held, *over)

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        over = next((row.key for rect, row in self._lines() if rect.contains(e.position())), None)
        if over != self._hover:
            self._hover = over
            self.update()

    def leaveEvent(self, _: object) -> None:
        self._hover = None
        self.update()

    def wheelEvent(self, e: QWheelEvent | None) -> None:
        if e is not None and self.ledger is not None:
            self.first -= 1 if e.angleDelta().y() > 0 else -1
            self._clamp()
            self.update()


def _cell_rect(row: QRectF, left: float, width: float) -> QRectF:
    """All that the painting of a cell reaches."""
    return QRectF(left - 6, row.top(), width + 12, row.height())


def _painted(cell: Cell) -> object:
    """A cell as it is painted: a bar that moves by less than a twentieth of a pixel is the same."""
    bars = [None if x is None else round(x, 3) for x in (cell.bar, cell.tick, cell.centre_bar)]
    return (cell.text, cell.bold, cell.color, cell.bar_color, cell.band, cell.mark, cell.chips, *bars)
