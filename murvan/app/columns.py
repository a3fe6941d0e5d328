"""Ways to do a thing side by side on a sheet over the plan: each a column with a small plan, figures and buttons."""

from __future__ import annotations

from math import ceil
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

TOP, ROW = 56.0, 18.5
PLAN, WORDS = (118.0, 330.0), 122.0
"""Height of the small plans, least and most; what the words below need."""
NARROWEST = 138.0
"""No way but the one in hand is narrower, px."""
WIDEST = 440.0
"""A figure stands so near its label that the eye finds it, px."""
T = TypeVar("T")


CAPTION = 14.0
"""Below each storey of a small plan, for its name."""


class SmallPlan:
    """Where a house lies on a small picture of all its storeys, beside or below each other, whichever is larger."""

    def __init__(self, job: Job, r: QRectF) -> None:
        points = [q for room in job.rooms for q in room.outline_m]
        xs, ys = [q[0] for q in points], [q[1] for q in points]
        self.storeys: list[Storey] = [s for s in job.storeys if any(room.storey == s.id for room in job.rooms)]
        self.x0, self.y0 = min(xs), min(ys)
        wide, deep = max(max(xs) - self.x0, 0.1), max(max(ys) - self.y0, 0.1)
        n = max(len(self.storeys), 1)

        def scale(columns: int) -> float:
            rows = ceil(n / columns)
            return min((r.width() / columns - 6) / wide, (r.height() / rows - CAPTION) / deep)

        self.columns = max(range(1, n + 1), key=scale)
        self.scale = max(scale(self.columns), 0.1)
        self.each, self.down = r.width() / self.columns, deep * self.scale + CAPTION
        self.left, self.top = r.left(), r.top()
        self.height = ceil(n / self.columns) * self.down

    def at(self, storey: int, x: float, y: float) -> QPointF:
        row, column = divmod(storey, self.columns)
        return QPointF(
            self.left + self.each * column + (x - self.x0) * self.scale,
            self.top + self.down * row + (y - self.y0) * self.scale,
        )

    def name_at(self, storey: int) -> QPointF:
        """Where a storey's name begins, below it."""
        row, column = divmod(storey, self.columns)
        return QPointF(self.left + self.each * column, self.top + self.down * (row + 1) - 2)

    def polygon(self, storey: int, outline: tuple[tuple[float, float], ...]) -> QPolygonF:
        return QPolygonF([self.at(storey, x, y) for x, y in outline])


class ColumnSheet(ChoiceSheet, Generic[T]):
    """The ways, the best first; one is taken up or kept as an option."""

    take = pyqtSignal(int)
    keep = pyqtSignal(int)
    whole = "column"
    in_hand = 0.36
    """Share of the sheet that the way in hand takes."""
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
        lowest, left = 0.0, 12.0
        for k, x in enumerate(self.found):
            wide = self._wide(k)
            box = QRectF(left, TOP - 4, wide, self.height() - TOP - 8)
            left += wide
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
        idle = self._idle()
        figures = [row for row in self.figures(x) if row[0] not in idle]
        free = self.height() - TOP - 46 - 22 - ROW * len(figures) - 78 - WORDS
        y += self.plan(p, QRectF(box.left(), y, box.width(), min(max(free, PLAN[0]), PLAN[1])), x, job) + 22
        for label, value in figures:
            used = paint.text(p, box.right(), y, value, 12.5, 700, t("ink"), "r")
            paint.text(p, box.left(), y, label, 12, 500, t("ink2"), width=box.width() - used - 8)
            y += ROW
        return self.words(p, box, self._buttons(p, box, k, y - 12), x)

    def _wide(self, k: int) -> float:
        """The one in hand is wide enough for its plan to be read; the others share what is left."""
        total, n = self.width() - 24.0, len(self.found)
        chosen = max(total / n, min(self.in_hand * total, total - (n - 1) * NARROWEST))
        return min(chosen if k == self.index or n == 1 else (total - chosen) / (n - 1), WIDEST)

    def _idle(self) -> set[str]:
        """Lines that say 'none' of every way: they tell nothing apart."""
        rows = [dict(self.figures(x)) for x in self.found]
        return {label for label in rows[0] if all(r.get(label) == "none" for r in rows)} if rows else set()

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
