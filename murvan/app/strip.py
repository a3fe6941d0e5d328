"""The strip below the plan: one figure and the station's chart."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.painters import drawing
from murvan.app.stations.base import Strip
from murvan.app.theme import LIGHT, Theme

HEIGHT = 98
LEFT = 144.0


class StripView(QWidget):
    """Draws a `Strip`."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(HEIGHT)
        self.setAccessibleName("Strip")
        self.theme: Theme = LIGHT
        self.strip: Strip | None = None
        self._kept: tuple[tuple[object, ...], QPixmap] | None = None
        self.stale = False

    def chart_rect(self) -> QRectF:
        left = LEFT if self.strip is not None and self.strip.label else 8.0
        return QRectF(left, 0, self.width() - left - 14, HEIGHT)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        t = self.theme
        p.fillRect(self.rect(), t("panel"))
        p.setPen(QPen(t("outline"), 1))
        p.drawLine(0, 0, self.width(), 0)
        if self.strip is None:
            return
        s = self.strip
        if s.label:
            paint.text(p, 12, 20, s.label, 12, 500, t("ink2"), width=LEFT - 18)
            w = paint.text(p, 12, 49, s.hero, 27, 700, t("ink3") if self.stale else t("ink"))
            if s.hero_unit:
                paint.text(p, 12 + w + 5, 49, s.hero_unit, 12.5, 500, t("ink2"))
            for k, line in enumerate(s.lines):
                paint.text(
                    p,
                    12,
                    66 + 15 * k,
                    line,
                    12,
                    600 if k == 0 else 500,
                    t("ink") if k == 0 else t("ink2"),
                    width=LEFT - 18,
                )
        p.save()
        s.paint(p, self.chart_rect())
        p.restore()
        if s.still is not None:
            p.drawPixmap(0, 0, self._still_picture(s, s.still))

    def _still_picture(self, s: Strip, draw: Callable[[QPainter, QRectF], None]) -> QPixmap:
        """The part of the chart that does not move, drawn once."""
        scale = self.devicePixelRatioF()
        key = (s.still_key, self.size(), scale, self.theme)
        if self._kept is None or self._kept[0] != key:
            picture = QPixmap(round(self.width() * scale), round(HEIGHT * scale))
            picture.setDevicePixelRatio(scale)
            picture.fill(Qt.GlobalColor.transparent)
            with drawing(picture) as p:
                draw(p, self.chart_rect())
            self._kept = (key, picture)
        return self._kept[1]

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and e.button() == Qt.MouseButton.LeftButton and self.strip and self.strip.click:
            self.strip.click(e.position().x(), e.position().y(), self.chart_rect())

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and e.buttons() & Qt.MouseButton.LeftButton and self.strip and self.strip.click:
            self.strip.click(e.position().x(), e.position().y(), self.chart_rect())
