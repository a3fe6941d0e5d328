"""A painted page in place of the plan, for stations that need the whole canvas."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from murvan.app.guard import painting
from murvan.app.stations.base import Canvas
from murvan.app.theme import LIGHT, Theme


class PageView(QWidget):
    """Draws a `Canvas`."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Page")
        self.theme: Theme = LIGHT
        self.canvas: Canvas | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        p.fillRect(self.rect(), self.theme("paper"))
        if self.canvas is not None:
            self.canvas.paint(p, QRectF(self.rect()))

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and self.canvas is not None and self.canvas.click is not None:
            self.canvas.click(e.position().x(), e.position().y(), QRectF(self.rect()))
