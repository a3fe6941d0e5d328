"""A painted page in place of the plan, for stations that need the whole canvas."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from murvan.app.guard import painting
from murvan.app.stations.base import Canvas, Hand
from murvan.app.theme import LIGHT, Theme


class PageView(QWidget):
    """Draws a `Canvas`."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Page")
        self.theme: Theme = LIGHT
        self.canvas: Canvas | None = None
        self._held: Hand | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        p.fillRect(self.rect(), self.theme("paper"))
        if self.canvas is not None:
            self.canvas.paint(p, QRectF(self.rect()))

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        c = self.canvas
        if e is None or c is None or e.button() != Qt.MouseButton.LeftButton:
            return
        if c.hand is not None and c.hand.press(e.position(), QRectF(self.rect())):
            self._held = c.hand
            self.update()
        elif c.click is not None:
            c.click(e.position().x(), e.position().y(), QRectF(self.rect()))

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and self._held is not None:
            self._held.move(e.position(), QRectF(self.rect()))
            self.update()

    def mouseReleaseEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and self._held is not None:
            held, self._held = self._held, None
            held.release()
            self.update()

    def let_be(self) -> bool:
        """Put what is held back; whether something was."""
        held, self._held = self._held, None
        self.update()
        return held is not None and held.let_be()
