"""The plan widget: pointer, keys and pictures of one storey. What lies on it is the sheet's, what is drawn the layers'."""

from __future__ import annotations

from math import hypot

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSizeF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.plan import drawing, picking
from murvan.app.plan.gestures.base import TOOLS, length_text
from murvan.app.plan.hand import Hand
from murvan.app.plan.lens import Lens
from murvan.app.plan.sheet import Sheet
from murvan.app.theme import Theme
from murvan.design import Results
from murvan.model import Job
from murvan.model.record import Ref

REST_MS = 70


class PlanView(QWidget):
    """Shows a job's storey through a `Lens`."""

    picked = pyqtSignal(str, str)
    measured = pyqtSignal(str)
    scaled = pyqtSignal(float)
    """Pixels a metre, when they have changed."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Plan")
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.sheet = Sheet()
        self.hand = Hand(self.sheet, self)
        self.hand.moved.connect(self.update)
        self.hand.took.connect(self._took)
        self._picture: QPixmap | None = None
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self.redraw)
        self._fit_next = True
        self._drag: QPointF | None = None
        self._hover: tuple[str, str] | None = None
        self._tape: tuple[QPointF, QPointF] | None = None

    # ---- the hand ----

    @property
    def tool(self) -> str:
        return self.hand.tool

    @tool.setter
    def tool(self, name: str) -> None:
        self.hand.take(name)

    def _took(self, tool: str) -> None:
        self.setCursor(Qt.CursorShape.CrossCursor if tool in TOOLS else Qt.CursorShape.ArrowCursor)
        self.redraw()

    # ---- what is shown ----

    def show_job(
        self,
        job: Job,
        results: Results | None,
        storey: str,
        lens: Lens,
        selection: Ref | None,
        selected_room: str | None,
    ) -> None:
        before = self.sheet.job
        new_shape = job.rooms != before.rooms or job.spaces != before.spaces
        self.sheet.show(job, results, storey, lens, selection, selected_room)
        if self._fit_next and self.sheet.outlines() and not self.hand.busy:
            self.fit()
            self._fit_next = False
        elif new_shape and not self.hand.busy and self.sheet.outgrown():
            self.fit()
        if self.hand.busy and self._picture is not None:
            self._glide()  # the stroke's ghost shows the new walls meanwhile
        else:
            self.redraw()

    @property
    def theme(self) -> Theme:
        return self.sheet.theme

    @theme.setter
    def theme(self, theme: Theme) -> None:
        self.sheet.theme = theme

    # ---- the view ----

    def fit_next(self) -> None:
        """Fit as soon as there is something on the plan; until then an empty sheet a house goes on."""
        self._fit_next = True
        self.fit()

    def clear(self) -> None:
        """An empty sheet for a new job; the first room does not make it jump."""
        self.sheet.clear()
        self.fit()
        self._fit_next = False

    def fit(self) -> None:
        """The whole house in view."""
        self.sheet.fit()
        self.scaled.emit(self.sheet.scale)
        self.redraw()

    def zoom(self, factor: float, about: QPointF) -> None:
        self.sheet.zoom(factor, about)
        self.scaled.emit(self.sheet.scale)
        self._glide()

    def pan(self, by: QPointF) -> None:
        self.sheet.pan(by)
        self._glide()

    def _glide(self) -> None:
        """While the view moves the last picture moves with it; it is drawn anew once the hand rests."""
        self._rest.start()
        self.update()

    # ---- events ----

    def paintEvent(self, _: QPaintEvent | None) -> None:
        ratio = self.devicePixelRatioF()
        if self._picture is None or self._picture.devicePixelRatioF() != ratio:
            self._picture = QPixmap(self.size() * ratio)
            self._picture.setDevicePixelRatio(ratio)
            with painting(self._picture) as inner:
                drawing.draw(inner, self.sheet, self.hand)
            self.sheet.drawn_at = (QPointF(self.sheet.origin), self.sheet.scale)
        with painting(self) as p:
            self._draw_picture(p, self._picture)
            self._draw_hover(p)
            self._draw_tape(p)
            self.hand.paint(p)

    def _draw_picture(self, p: QPainter, picture: QPixmap) -> None:
        v = self.sheet
        if v.as_drawn:
            p.drawPixmap(0, 0, picture)
            return
        at, scale = v.drawn_at
        p.fillRect(self.rect(), v.theme("paper"))
        k = v.scale / scale
        p.save()
        p.translate(v.origin - at * k)
        p.scale(k, k)
        p.drawPixmap(0, 0, picture)
        p.restore()

    def redraw(self) -> None:
        """Draw the plan anew at the next paint; the pointer's marks alone need only `update`."""
        self._picture = None
        self.update()

    def _draw_hover(self, p: QPainter) -> None:
        v = self.sheet
        if self._hover is None or self._hover[0] != "room" or not v.has_room(self._hover[1]):
            return
        p.setPen(QPen(v.theme("outline"), 1.5, Qt.PenStyle.DotLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolygon(v.shape(self._hover[1]).polygon)

    def _draw_tape(self, p: QPainter) -> None:
        if self._tape is None:
            return
        (a, b), t = self._tape, self.sheet.theme
        p.setPen(QPen(t("on_select"), 4))
        p.drawLine(a, b)
        p.setPen(QPen(t("select"), 2))
        p.drawLine(a, b)
        label = length_text(self.sheet, self._tape_m(a, b))
        c = (a + b) / 2
        w = paint.text_width(label, 13, 700) + 14
        r = QRectF(c.x() - w / 2, c.y() - 24, w, 20)
        paint.rounded(p, r, t("select"), t("on_select"), 3)
        paint.text(p, c.x(), r.bottom() - 5, label, 13, 700, t("on_select"), "c")

    def _tape_m(self, a: QPointF, b: QPointF) -> float:
        return hypot(b.x() - a.x(), b.y() - a.y()) / self.sheet.scale

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        self.sheet.size = QSizeF(self.size())
        self.redraw()
        if self.sheet.fitted and self.hand.busy:
            self._fit_next = True  # a stroke keeps its ground
        elif self.sheet.fitted:
            self.fit()

    def wheelEvent(self, e: QWheelEvent | None) -> None:
        if e is not None:
            self.zoom(1.15 ** (e.angleDelta().y() / 120), e.position())

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        if e.button() == Qt.MouseButton.RightButton:
            self.hand.escape()
            return
        if e.button() == Qt.MouseButton.MiddleButton or (
            e.button() == Qt.MouseButton.LeftButton and e.modifiers() & Qt.KeyboardModifier.ShiftModifier
        ):
            self._drag = e.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        elif e.button() == Qt.MouseButton.LeftButton and self.tool == "measure":
            self._tape = (e.position(), e.position())
            self.update()
        elif e.button() == Qt.MouseButton.LeftButton and not self.hand.press(e.position(), e.modifiers()):
            hit = picking.hit(self.sheet, e.position())
            if hit:
                self.picked.emit(*hit)
            if self.hand.gesture is None:
                self._drag = e.position()

    def mouseDoubleClickEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and not self.hand.double():
            self.mousePressEvent(e)

    def mouseMoveEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        if self._drag is not None:
            self.pan(e.position() - self._drag)
            self._drag = e.position()
        elif self._tape is not None and e.buttons() & Qt.MouseButton.LeftButton:
            a, b = self._tape[0], e.position()
            if not e.modifiers() & Qt.KeyboardModifier.AltModifier:  # straight along the plan unless Alt is held
                b = QPointF(b.x(), a.y()) if abs(b.x() - a.x()) > abs(b.y() - a.y()) else QPointF(a.x(), b.y())
            self._tape = (a, b)
            self.update()
        elif self.hand.move(e.position(), e.modifiers(), bool(e.buttons() & Qt.MouseButton.LeftButton)):
            self._hover = None
        else:
            hit = picking.hit(self.sheet, e.position())
            if hit != self._hover:
                self._hover = hit
                self.update()

    def mouseReleaseEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and e.button() == Qt.MouseButton.LeftButton and self._drag is None:
            self.hand.release(e.position(), e.modifiers())
        if self._drag is not None:
            self._drag = None
            self.setCursor(Qt.CursorShape.ArrowCursor)
        if self._tape is not None:
            a, b = self._tape
            self.measured.emit(self.sheet.number("feet", self._tape_m(a, b)))

    def leaveEvent(self, _: object) -> None:
        self._hover = None
        self.hand.leave()

    def event(self, e: QEvent | None) -> bool:
        """Keys that belong to a stroke come before the window's shortcuts."""
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.ShortcutOverride and self.hand.wants(e):
            e.accept()
            return True
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.KeyPress and self.hand.wants(e) and self.hand.key(e):
            e.accept()
            return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is not None and e.key() == Qt.Key.Key_Escape and self._tape is not None:
            self.clear_tape()
            return
        super().keyPressEvent(e)

    def clear_tape(self) -> None:
        self._tape = None
        self.update()
