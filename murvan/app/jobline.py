"""The job line: a plenum with the job's name, and a trunk that steps down past eight take-offs."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeySequence, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QMenu, QWidget

from murvan.app import paint
from murvan.app.commands import COMMANDS
from murvan.app.guard import painting
from murvan.app.stations.base import Headline
from murvan.app.theme import LIGHT, Theme

HEIGHT = 86
PLENUM = 180.0
BELOW = 35
"""Below the trunk and its boots, where a cell's own figures stand."""


class JobLine(QWidget):
    """Shows every station's headline; a click or 1 to 8 goes there."""

    picked = pyqtSignal(int)
    menu_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(HEIGHT)
        self.setMouseTracking(True)
        self.setAccessibleName("Job line")
        self.theme: Theme = LIGHT
        self.title, self.subtitle = "No job open", "shell to signed sheet"
        self.names: list[str] = []
        self.headlines: list[Headline] = []
        self.active = 0
        self.reached = 0
        self.stale = self.digits_type = False
        """Figures of an earlier job; digits type figures, so that stations go by Alt with a digit."""
        self._hover = -1

    def cell_rect(self, station: int) -> QRectF:
        """The area of station 1..8."""
        width = (self.width() - PLENUM) / 8
        return QRectF(PLENUM + (station - 1) * width, 0, width, HEIGHT)

    def show_line(
        self, title: str, subtitle: str, headlines: list[Headline], active: int, reached: int, stale: bool
    ) -> None:
        """Take new headlines; only the cells that changed are drawn again."""
        frame = (title, subtitle, active, reached, stale)
        if frame != (self.title, self.subtitle, self.active, self.reached, self.stale) or len(self.headlines) != 8:
            self.update()
        else:
            for i, (old, new) in enumerate(zip(self.headlines, headlines, strict=True), 1):
                if old != new:
                    self.update(self.cell_rect(i).adjusted(0, BELOW, 0, 0).toAlignedRect())
        self.title, self.subtitle, self.active, self.reached, self.stale = frame
        self.headlines = headlines

    def paintEvent(self, e: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p, e)

    def _paint_all(self, p: QPainter, e: QPaintEvent | None) -> None:
        t = self.theme
        p.fillRect(self.rect(), t("chrome"))
        if e is None or e.rect().top() < BELOW:
            self._trunk(p, t)
            self._plenum(p)
        for i, h in enumerate(self.headlines, 1):
            if e is None or self.cell_rect(i).intersects(QRectF(e.rect())):
                self._cell(p, t, i, h)
        p.setPen(QPen(t("outline"), 1))
        active = self.cell_rect(self.active) if self.active else QRectF()
        y = HEIGHT - 0.5
        p.drawLine(QPointF(PLENUM, y), QPointF(active.left() if self.active else self.width(), y))
        if self.active:
            p.drawLine(QPointF(active.right() - 1, y), QPointF(self.width(), y))

    def _plenum(self, p: QPainter) -> None:
        p.fillRect(QRectF(0, 0, PLENUM, HEIGHT), self.theme("plenum"))
        white = QColor("#FFFFFF")
        p.fillRect(QRectF(14, 15, 7, 24), white)
        p.fillRect(QRectF(23.5, 15, 16, 7), QColor("#FFD60A"))
        p.fillRect(QRectF(23.5, 24.5, 11.5, 7), white)
        p.fillRect(QRectF(23.5, 34, 8, 5), white)
        paint.text(p, 46, 34, "Murvan", 19, 700, white)
        box = QRectF(PLENUM - 44, 14, 34, 22)
        paint.rounded(p, box, None, QColor("#C3CED2"), 3)
        paint.text(p, box.center().x(), box.center().y() + 4.5, "File", 12, 600, white, "c")
        paint.text(p, 14, 62, self.title, 13, 600, white, width=PLENUM - 24)
        paint.text(p, 14, 77, self.subtitle, 12, 500, QColor("#C3CED2"), width=PLENUM - 24)

    def _trunk(self, p: QPainter, t: Theme) -> None:
        width = (self.width() - PLENUM) / 8
        top, full = 2.0, 22.0
        solid_to = PLENUM + width * (self.reached - 0.35) if self.reached else PLENUM
        end = self.width() - 14.0

        upper, lower = [], []
        for k in range(8):
            x0, x1 = PLENUM + k * width, min(PLENUM + (k + 1) * width, end)
            step = min(k, 1) * 2.0 + k * 0.2
            upper += [QPointF(x0 + (26 if k else 0), top + k * 11.0 / 7), QPointF(x1, top + k * 11.0 / 7)]
            lower += [QPointF(x0, top + 4 + full - step), QPointF(x1, top + 4 + full - step)]
        shape = QPolygonF([*upper, *reversed(lower)])
        p.save()
        p.setPen(QPen(t("steel"), 1.4))
        p.setBrush(t("paper"))
        p.drawPolygon(shape)
        p.setClipRect(QRectF(PLENUM, 0, max(solid_to - PLENUM, 0), HEIGHT))
        p.setBrush(t("steel"))
        p.setPen(Qt.PenStyle.NoPen)
        p.drawPolygon(shape)
        p.restore()
        for k in range(8):
            x = PLENUM + k * width
            solid = k + 1 <= self.reached
            boot = QPolygonF(
                [
                    QPointF(x + 5, top + 21.5),
                    QPointF(x + 53, top + 21.5),
                    QPointF(x + 42, top + 32),
                    QPointF(x + 16, top + 32),
                ]
            )
            on = k + 1 == self.active
            p.setPen(QPen(t("steel") if not on else t("ink"), 1.2))
            p.setBrush(t("select") if on else t("steel") if solid else t("paper"))
            p.drawPolygon(boot)
            color = t("on_ink") if solid else t("ink")
            y = top + 17 + k * 0.62
            key, size = (f"Alt+{k + 1}", 11) if self.digits_type else (str(k + 1), 12)
            paint.text(p, x + 28, y, key, size, 700, color, "c")
            if solid:
                p.setPen(QPen(color, 1.8))
                for j in range(3):
                    cx = x + 62 + j * 11
                    p.drawPolyline(QPolygonF([QPointF(cx, y - 9), QPointF(cx + 6, y - 4.5), QPointF(cx, y)]))

    def _cell(self, p: QPainter, t: Theme, station: int, h: Headline) -> None:
        r = self.cell_rect(station)
        if station == self.active:
            box = QRectF(r.left() + 1.5, 33.5, r.width() - 5, HEIGHT - 32)
            p.setPen(QPen(t("ink"), 1.4))
            p.setBrush(t("paper"))
            p.drawRect(box)
            boot = QPolygonF(
                [
                    QPointF(r.left() + 5, 23.5),
                    QPointF(r.left() + 53, 23.5),
                    QPointF(r.left() + 42, 34),
                    QPointF(r.left() + 16, 34),
                ]
            )
            p.setBrush(t("select"))
            p.drawPolygon(boot)
        elif station == self._hover:
            p.fillRect(QRectF(r.left() + 2, 35, r.width() - 6, HEIGHT - 36), t("panel"))
        x, room = r.left() + 10, r.width() - 16
        paint.mark(p, h.mark, x + 7, 45, t)
        paint.text(p, x + 20, 50, self.names[station - 1], 14, 600, t("ink"), width=room - 20)
        color = t("ink3") if self.stale else t("ink")
        w = paint.text_width(h.figure, 15, 700)
        paint.text(p, x, 66, h.figure, 15, 700, color, width=room)
        if h.unit:
            paint.text(p, x + w + 4, 66, h.unit, 12, 500, t("ink2"), width=room - w - 4)
        paint.text(p, x, 81, h.second, 11.5, 500, t("ink2"), width=room)

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        at = next((i for i in range(1, 9) if self.cell_rect(i).contains(e.position())), -1)
        if at != self._hover:
            self._hover = at
            self.update()
            h = self.headlines[at - 1] if 0 < at <= len(self.headlines) else None
            self.setToolTip(
                f"{self.names[at - 1]} ({'Alt+' if self.digits_type else ''}{at}): {h.figure} {h.unit}, {h.second}"
                if h
                else "File menu"
                if e.position().x() < PLENUM
                else ""
            )

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None or e.button() != Qt.MouseButton.LeftButton:
            return
        if e.position().x() < PLENUM:
            self.menu_wanted.emit()
            return
        for i in range(1, 9):
            if self.cell_rect(i).contains(e.position()):
                self.picked.emit(i)

    def open_menu(self, has_job: bool, run: Callable[[str], None]) -> None:
        """The menu of the button File."""
        menu = QMenu(self)
        for c in COMMANDS:
            if c.group in ("Job", "Edit", "View", "Show") and (c.when == "always" or has_job) and not c.station:
                action = menu.addAction(c.name)
                if action is not None:
                    action.setShortcut(QKeySequence(c.keys[0]))
                    action.setShortcutVisibleInContextMenu(True)
                    action.triggered.connect(lambda _=False, i=c.id: run(i))
                if c.id in ("file.recover", "file.close", "file.csv", "file.quit", "edit.card", "view.glove"):
                    menu.addSeparator()
        menu.exec(self.mapToGlobal(QPoint(10, 84)))
