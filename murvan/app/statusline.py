"""The line at the bottom: what is to settle, undo, units, saved."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from murvan.app import paint
from murvan.app.document import JobDocument
from murvan.app.guard import painting
from murvan.app.repaint import Shown, repaint
from murvan.app.stations.base import View
from murvan.app.theme import LIGHT, Theme
from murvan.demo import BY_KEY
from murvan.units import Units

HEIGHT = 26
MESSAGE_MS = 9000


class StatusLine(QWidget):
    """Shows the worst finding, or a message for a few seconds."""

    punch_wanted = pyqtSignal()
    worst_wanted = pyqtSignal()
    units_wanted = pyqtSignal(str)
    keys_wanted = pyqtSignal()
    undo_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(HEIGHT)
        self.setAccessibleName("Status")
        self.theme: Theme = LIGHT
        self.mark, self.count, self.worst = "none", "", ""
        self.undo_text, self.saved_text, self.saved_ok = "", "", True
        self.units: Units = "ip"
        self.message = self.message_mark = ""
        self._hits: list[tuple[QRectF, str]] = []
        self._shown: Shown | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._clear)

    def say(self, message: str) -> None:
        """Show a message until the next one or for a few seconds."""
        self._show(message, "look")

    def tell(self, message: str) -> None:
        """Something was done as asked."""
        self._show(message, "good")

    def hint(self, message: str) -> None:
        """Show what can be done now: no mark, it asks for nothing. Without words it takes back a hint, not what was said."""
        if message or not self.message_mark:
            self._show(message, "")

    def clear(self) -> None:
        """Another job is open: whatever was said is over."""
        self._show("", "")

    def _show(self, message: str, mark: str) -> None:
        self.message, self.message_mark = message, mark
        self.setToolTip(message)
        self._timer.start(MESSAGE_MS)
        self.update()

    def settle(self) -> None:
        """A refusal is over with the next edit that is taken."""
        if self.message_mark == "look":
            self._clear()

    def _clear(self) -> None:
        self.message = ""
        self.setToolTip("")
        self.update()

    def show_state(self, view: View | None, document: JobDocument, units: Units) -> None:
        """What is to settle, what can be undone, and whether it is saved."""
        findings = view.r.findings if view else ()
        n = len(findings)
        worst = view.v.worst if view else None
        self.count, self.worst, self.mark = "", "", "none"
        if view is not None and (n or worst):
            self.count = f"{n} to settle" if n else "Readings off"
            self.mark = "fails" if view.v.fails or any(f.severity == "fails" for f in findings) else "look"
            if findings and findings[0].severity == "fails" or worst is None:
                self.worst = f"worst: {findings[0].text(view.units)}" if findings else ""
            else:
                self.worst = f"worst: {worst.tag} reads {view.num('flow', worst.measured)} of {view.text('flow', worst.design)}"
        elif view is not None:
            self.count, self.mark, self.worst = "Nothing to settle", "good", ""
        stack = document.stack
        self.undo_text = f"Undo: {stack.undoText()}" if stack.canUndo() else ""
        job = document.job
        self.saved_ok = not document.modified
        self.saved_text = (
            ""
            if job is None
            else "Unsaved"
            if document.modified
            else "Saved"
            if document.path
            else "Sample house"
            if document.label in BY_KEY
            else "Not saved yet"
        )
        self.units = units
        self.refresh()

    def refresh(self) -> None:
        """Paint again if anything shown has changed."""
        saved = (self.undo_text, self.saved_text, self.saved_ok, self.units)
        now = Shown((self.theme, self.mark, self.count, self.worst, saved))
        self._shown = repaint(self, self._shown, now)

    def target(self, name: str) -> QRectF:
        return next((r for r, n in self._hits if n == name), QRectF())

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        t = self.theme
        p.fillRect(self.rect(), t("chrome"))
        p.setPen(QPen(t("outline"), 1))
        p.drawLine(0, 0, self.width(), 0)
        self._hits = []
        right = self._right(p, t)
        if self.message:
            x = 12.0
            if self.message_mark:
                paint.mark(p, self.message_mark, 16, 13, t, 6.5)
                x = 30.0
            weight = 600 if self.message_mark else 500
            paint.text(p, x, 17.5, self.message, 13, weight, t("ink"), width=right - x - 10)
            return
        x = 10.0
        if self.count:
            paint.mark(p, self.mark, 16, 13, t, 6.5)
            w = paint.text(p, 30, 17.5, self.count, 13, 700, t("ink"))
            x = 30 + w + 8
            x += paint.key_cap(p, x, 5, "!", t) + 10
            self._hits.append((QRectF(0, 0, x - 8, HEIGHT), "punch"))
            w = paint.text(p, x, 17.5, self.worst, 13, 500, t("ink"), width=right - x - 16)
            self._hits.append((QRectF(x, 0, w, HEIGHT), "worst"))

    def _right(self, p: QPainter, t: Theme) -> float:
        x = self.width() - 14.0
        w = paint.text_width(self.saved_text, 12.5, 500)
        paint.text(p, x, 17.5, self.saved_text, 12.5, 500, t("ink2"), "r")
        x -= w + 10
        if self.saved_text:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(t("good") if self.saved_ok else t("look"))
            p.drawEllipse(QRectF(x - 3, 10, 7, 7))
        x -= 16
        for name, label in (("si", "SI"), ("ip", "IP")):
            r = QRectF(x - 33, 4, 33, 18)
            on = self.units == name
            paint.rounded(p, r, t("ink") if on else t("paper"), t("outline"), 3)
            paint.text(p, r.center().x(), 17.2, label, 12, 700 if on else 500, t("on_ink") if on else t("ink2"), "c")
            self._hits.append((r, name))
            x -= 33
        x -= 8
        paint.text(p, x, 17.5, "Units", 12.5, 500, t("ink2"), "r")
        x -= paint.text_width("Units", 12.5, 500) + 18
        paint.text(p, x, 17.5, "keys", 12.5, 500, t("ink2"), "r")
        w = paint.text_width("keys", 12.5, 500)
        k = paint.key_cap(p, x - w - 6, 5, "?", t, "r")
        self._hits.append((QRectF(x - w - 6 - k, 0, w + k + 6, HEIGHT), "keys"))
        x -= w + k + 26
        if self.undo_text:
            w = paint.text_width(paint.elided(self.undo_text, 12.5, 500, 220), 12.5, 500)
            paint.text(p, x, 17.5, self.undo_text, 12.5, 500, t("ink2"), "r", 220)
            self._hits.append((QRectF(x - w, 0, w, HEIGHT), "undo"))
            x -= w + 14
        return x

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        name = next((n for r, n in self._hits if r.contains(e.position())), "")
        if name == "punch":
            self.punch_wanted.emit()
        elif name == "worst":
            self.worst_wanted.emit()
        elif name == "keys":
            self.keys_wanted.emit()
        elif name == "undo":
            self.undo_wanted.emit()
        elif name in ("ip", "si"):
            self.units_wanted.emit(name)
