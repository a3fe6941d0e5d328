"""The calm page after something inside Murvan went wrong."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QGuiApplication, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from murvan.app import paint
from murvan.app.guard import log_file, painting
from murvan.app.overlays import OverSheet

TITLE = "Something in Murvan did not work"


class TroubleSheet(OverSheet):
    """Says what happened, that the job is kept, and where the log is. Escape or the button goes on."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName(TITLE)
        self.line, self.report, self.kept = "", "", ""
        self._buttons: dict[str, QRectF] = {}

    def tell(self, line: str, report: str, kept: str) -> None:
        """`kept` says where the job was put aside."""
        self.line, self.report, self.kept = line, report, kept
        self.open_sheet()

    def button(self, key: str) -> QRectF:
        """Where a button lies: 'on' or 'copy'."""
        return self._buttons.get(key, QRectF())

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        t = self.theme
        self.frame(p, TITLE, "nothing is lost")
        y = 76.0
        width = self.width() - 40
        for text, size, weight, role in (
            (self.kept, 14.0, 600, "ink"),
            (
                "Go on working. What was asked for last may not have been done; look at it before you trust it.",
                13.0,
                500,
                "ink",
            ),
            (
                "If it happens again, send the log to whoever looks after Murvan here. It holds no figures of the job.",
                13.0,
                500,
                "ink2",
            ),
            (str(log_file()), 12.0, 500, "ink2"),
            (f"What happened: {self.line}", 12.0, 500, "ink3"),
        ):
            for line in paint.wrap(text, size, width):
                paint.text(p, 20, y, line, size, weight, t(role), width=width)
                y += size + 7
            y += 8
        x = 20.0
        self._buttons = {}
        for key, words, main in (("on", "Go on", True), ("copy", "Copy the report", False)):
            w = paint.text_width(words, 13, 600) + 30
            box = QRectF(x, y, w, 34)
            paint.rounded(p, box, t("select" if main else "paper"), t("ink"), 4, 1.4)
            paint.text(
                p, box.center().x(), box.center().y() + 4.5, words, 13, 600, t("on_select" if main else "ink"), "c"
            )
            self._buttons[key] = box
            x += w + 10
        p.setPen(QPen(t("rule"), 1))
        p.drawLine(QPointF(20, y - 12), QPointF(self.width() - 20, y - 12))

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is None:
            return
        if self.button("copy").contains(e.position()):
            clipboard = QGuiApplication.clipboard()
            if clipboard is not None:
                clipboard.setText(self.report)
        elif self.button("on").contains(e.position()):
            self.close_sheet()
