"""Ways to do a thing side by side on a sheet over the plan: each a column with a small plan, figures and buttons."""

from __future__ import annotations

from typing import Generic, TypeVar

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.overlays import ChoiceSheet
from murvan.model import Job
from murvan.model.house import Storey
from murvan.units import Units

TOP, PLAN, ROW = 56.0, 118.0, 20.0
T = TypeVar("T")


class SmallPlan:
    """Where a house lies on a small picture of all its storeys side by side."""

    def __init__(self, job: Job, r: QRectF) -> None:
        points = [q for room in job.rooms for q in room.outline_m]
        xs, ys = [q[0] for q in points], [q[1] for q in points]
        self.storeys: list[Storey] = [s for s in job.storeys if any(room.storey == s.id for room in job.rooms)]
        self.each = r.width() / max(len(self.storeys), 1)
        self.x0, self.y0 = min(xs), min(ys)
        wide, deep = max(xs) - self.x0, max(ys) - self.y0
        self.scale = min((self.each - 6) / max(wide, 0.1), r.height() / max(deep, 0.1))
        self.left, self.top = r.left(), r.top()
        self.height = deep * self.scale + 13

    def at(self, storey: int, x: float, y: float) -> QPointF:
        return QPointF(
            self.left + self.each * storey + (x - self.x0) * self.scale, self.top + (y - self.y0) * self.scale
        )

    def polygon(self, storey: int, outline: tuple[tuple[float, float], ...]) -> QPolygonF:
        return QPolygonF([self.at(storey, x, y) for x, y in outline])


class ColumnSheet(ChoiceSheet, Generic[T]):
    """The ways, the best first; one is taken up or kept as an option."""

    take = pyqtSignal(int)
    keep = pyqtSignal(int)
    whole = "column"
    title = ""
    note = ""
    nothing = ""
    """What is said when none was found."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName(self.title)
        self.units: Units = "ip"
        self.job: Job | None = None
        self.found: tuple[T, ...] = ()
        self.says = ""

    def wait(self, job: Job, words: str) -> None:
        """Say what is under way."""
        if job is not self.job:
            self.found = ()
        self.job, self.says = job, words
        self.update()

    def show_found(self, job: Job, found: tuple[T, ...], units: Units) -> None:
        """Show what was found for a job."""
        self.job, self.found, self.units = job, found, units
        self.says = "" if found else self.nothing
        self.index = min(self.index, max(len(found) - 1, 0))
        self.update()

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        self.frame(p, self.title, self.note if self.found else "")
        self._hits = []
        t = self.theme
        if self.says:
            paint.text(p, 20, TOP + 24, self.says, 14, 600, t("ink2"))
        if not self.found or self.job is None:
            return
        wide = (self.width() - 24) / len(self.found)
        lowest = 0.0
        for k, x in enumerate(self.found):
            box = QRectF(12 + wide * k, TOP - 4, wide, self.height() - TOP - 8)
            self._hits.append((box, "column", k))
            if k == self.index:
                p.fillRect(box.adjusted(2, 0, -2, 0), t("select_soft"))
            if k:
                p.setPen(QPen(t("rule"), 1))
                p.drawLine(box.topLeft(), box.bottomLeft())
            lowest = max(lowest, self._column(p, box.adjusted(10, 0, -10, 0), k, x))
        self.content = lowest + self.offset + 10
        self.thumb(p)

    def _column(self, p: QPainter, box: QRectF, k: int, x: T) -> float:
        t, job = self.theme, self.job
        assert job is not None
        y = box.top() + 20 - self.offset
        for line in paint.wrap(f"{k + 1}  {self.name_of(x)}", 14.5, box.width())[:2]:
            paint.text(p, box.left(), y, line, 14.5, 700, t("ink"))
            y += 18
        y = box.top() + 46 - self.offset
        y += self.plan(p, QRectF(box.left(), y, box.width(), PLAN), x, job) + 22
        for label, value in self.figures(x):
            used = paint.text(p, box.right(), y, value, 12.5, 700, t("ink"), "r")
            paint.text(p, box.left(), y, label, 12, 500, t("ink2"), width=box.width() - used - 8)
            y += ROW
        return self.words(p, box, self._buttons(p, box, k, y - 12), x)

    def name_of(self, x: T) -> str:
        """What a way is called."""
        raise NotImplementedError

    def plan(self, p: QPainter, r: QRectF, x: T, job: Job) -> float:
        """Draw a way small; returns how high that is."""
        raise NotImplementedError

    def figures(self, x: T) -> list[tuple[str, str]]:
        """Label and figure of each line."""
        raise NotImplementedError

    def words(self, p: QPainter, box: QRectF, y: float, x: T) -> float:
        """What is said below the buttons; returns where that ends."""
        raise NotImplementedError

    def lines(self, p: QPainter, box: QRectF, y: float, words: str) -> float:
        """A small paragraph; returns where the next one begins."""
        for line in paint.wrap(words, 11.5, box.width()):
            paint.text(p, box.left(), y, line, 11.5, 500, self.theme("ink2"))
            y += 14
        return y + 3

    def _buttons(self, p: QPainter, box: QRectF, k: int, y: float) -> float:
        """What can be done with a way; returns where the next line stands."""
        t = self.theme
        for what, label, key in (("take", "Take it up", "Enter"), ("keep", "Keep it", "O")):
            button = QRectF(box.left(), y, box.width(), 26)
            first = what == "take"
            paint.rounded(p, button, t("ink") if first else t("paper"), t("ink") if first else t("outline"), 4)
            ink = t("on_ink") if first else t("ink")
            paint.text(
                p, button.left() + 9, button.center().y() + 4.5, label, 12.5, 600, ink, width=button.width() - 60
            )
            paint.text(
                p, button.right() - 9, button.center().y() + 4.2, key, 11, 600, ink if first else t("ink2"), "r"
            )
            self._hits.insert(0, (button, what, k))
            y += 32
        return y + 14

    def event(self, e: QEvent | None) -> bool:
        own = (Qt.Key.Key_O, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if (
            isinstance(e, QKeyEvent)
            and e.type() == QEvent.Type.ShortcutOverride
            and e.key() in own
            and not e.modifiers()
        ):
            e.accept()
            return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        key = e.key() if e is not None else 0
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.step(1 if key == Qt.Key.Key_Right else -1)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.do("take")
        elif key == Qt.Key.Key_O:
            self.do("keep")
        else:
            super().keyPressEvent(e)

    def step(self, by: int) -> None:
        """Choose the next way, or the one before."""
        self.index = max(0, min(self.index + by, len(self.found) - 1))
        self.update()

    def do(self, what: str) -> None:
        """One of the buttons of the chosen way."""
        if self.found:
            (self.take if what == "take" else self.keep).emit(self.index)
