"""What an edit would replace, listed over the plan before it is done."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.overlays import OverSheet


class AskSheet(OverSheet):
    """Lines of what goes; Enter does it, Esc leaves everything as it is."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName("What it replaces")
        self.title, self.does = "", ""
        self.lines: tuple[str, ...] = ()
        self._go: Callable[[], None] = lambda: None
        self._hits: list[tuple[QRectF, str]] = []

    def ask(self, title: str, does: str, lines: tuple[str, ...], go: Callable[[], None]) -> None:
        """List `lines` and do `go` on Enter; at once where there is nothing to list.

        Args:
            title: What is asked, as a sentence.
            does: What the main button says.
        """
        if not lines:
            go()
            return
        self.title, self.does, self.lines, self._go = title, does, lines, go
        self.setAccessibleDescription("; ".join(lines))
        self.open_sheet()

    def target(self, what: str) -> QRectF:
        """Where the button that goes on ('go') or leaves ('leave') lies."""
        return next((r for r, name in self._hits if name == what), QRectF())

    def take(self) -> None:
        """Go on with it."""
        self.close_sheet()
        self._go()

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        t = self.theme
        self.frame(p, self.title, "leaves everything as it is")
        y = 74.0 - self.offset
        for line in self.lines:
            paint.mark(p, "look", 30, y - 5, t)
            for k, part in enumerate(paint.wrap(line, 13.5, self.width() - 80)):
                paint.text(p, 46, y + 17 * k, part, 13.5, 600, t("ink"))
            y += 17 * len(paint.wrap(line, 13.5, self.width() - 80)) + 10
        y += 10
        self._hits = []
        x = 20.0
        for name, label, key in (("go", self.does, "Enter"), ("leave", "Leave it as it is", "Esc")):
            w = paint.text_width(f"{label}   {key}", 13, 600) + 36
            r = QRectF(x, y, w, 32)
            main = name == "go"
            paint.rounded(p, r, t("select") if main else t("paper"), t("ink"), 4, 1.4)
            ink = t("on_select") if main else t("ink")
            paint.text(p, r.left() + 14, r.center().y() + 4.8, label, 13, 600, ink)
            paint.text(p, r.right() - 12, r.center().y() + 4.5, key, 12, 600, ink, "r")
            self._hits.append((r, name))
            x = r.right() + 10
        self.content = y + 50 + self.offset
        self.thumb(p)

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        name = next((n for r, n in self._hits if e is not None and r.contains(e.position())), "")
        if name == "go":
            self.take()
        elif name == "leave":
            self.close_sheet()

    def event(self, e: QEvent | None) -> bool:
        enter = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.ShortcutOverride and e.key() in enter:
            e.accept()
            return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        if e is not None and e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.take()
            return
        super().keyPressEvent(e)
