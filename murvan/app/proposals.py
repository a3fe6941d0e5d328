"""What would you put in? Complete designs side by side, on a sheet over the plan."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.overlays import ChoiceSheet
from murvan.design.propose.offer import Proposal
from murvan.design.propose.wording import figures
from murvan.model import Job
from murvan.units import Units

FILLS = ("supply", "cooling", "return", "sun", "fresh", "heating", "stale", "garage")
"""One a unit, in turn."""
TOP, PLAN, ROW = 56.0, 118.0, 20.0


class ProposalSheet(ChoiceSheet):
    """Each design a column: what serves which room, what it gives, what it costs and gives up."""

    take = pyqtSignal(int)
    keep = pyqtSignal(int)
    whole = "column"

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName("What would you put in")
        self.units: Units = "ip"
        self.job: Job | None = None
        self.found: tuple[Proposal, ...] = ()
        self.says = ""

    def wait(self, job: Job, words: str) -> None:
        """Say what is under way."""
        if job is not self.job:
            self.found = ()
        self.job, self.says = job, words
        self.update()

    def show_found(self, job: Job, found: tuple[Proposal, ...], units: Units) -> None:
        """Show the designs of a job."""
        self.job, self.found, self.units = job, found, units
        self.says = "" if found else "Nothing to offer: the house has no rooms"
        self.index = min(self.index, max(len(found) - 1, 0))
        self.update()

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            self._paint_all(p)

    def _paint_all(self, p: QPainter) -> None:
        note = "the best first: least to buy over 15 years and to run" if self.found else ""
        self.frame(p, "What would you put in?", note)
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

    def _column(self, p: QPainter, box: QRectF, k: int, x: Proposal) -> float:
        t, job = self.theme, self.job
        assert job is not None
        y = box.top() + 20 - self.offset
        for line in paint.wrap(f"{k + 1}  {x.name}", 14.5, box.width())[:2]:
            paint.text(p, box.left(), y, line, 14.5, 700, t("ink"))
            y += 18
        y = box.top() + 46 - self.offset
        y += self._plan(p, QRectF(box.left(), y, box.width(), PLAN), x, job) + 22
        for label, value in figures(x, self.units):
            used = paint.text(p, box.right(), y, value, 12.5, 700, t("ink"), "r")
            paint.text(p, box.left(), y, label, 12, 500, t("ink2"), width=box.width() - used - 8)
            y += ROW
        y = self._buttons(p, box, k, y - 12)
        for n, (place, chosen) in enumerate(x.chosen):
            p.setBrush(t(FILLS[n % len(FILLS)]))
            p.setPen(QPen(t("outline"), 1))
            p.drawRect(QRectF(box.left(), y - 9, 10, 10))
            words = f"{chosen.unit.name}, {place.role}"
            paint.text(p, box.left() + 16, y, words, 12, 600, t("ink"), width=box.width() - 16)
            y += 17
        for m in x.outdoors:
            paint.text(p, box.left() + 16, y, f"outdoors {m.name}", 12, 600, t("ink"), width=box.width() - 16)
            y += 17
        for head, lines in (("For it", x.reasons), ("Gives up", x.gives_up)):
            y += 8
            paint.text(p, box.left(), y, head, 12, 700, t("ink"))
            y += 16
            for words in lines:
                for line in paint.wrap(words, 11.5, box.width()):
                    paint.text(p, box.left(), y, line, 11.5, 500, t("ink2"))
                    y += 14
                y += 3
        return y

    def _buttons(self, p: QPainter, box: QRectF, k: int, y: float) -> float:
        """What can be done with a design; returns where the next line stands."""
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

    def _plan(self, p: QPainter, r: QRectF, x: Proposal, job: Job) -> float:
        """Every storey small, each room in the colour of its unit, a room without one grey; returns its height."""
        t = self.theme
        storeys = [s for s in job.storeys if any(room.storey == s.id for room in job.rooms)]
        points = [q for room in job.rooms for q in room.outline_m]
        xs, ys = [q[0] for q in points], [q[1] for q in points]
        wide, deep = max(xs) - min(xs), max(ys) - min(ys)
        each = r.width() / max(len(storeys), 1)
        scale = min((each - 6) / max(wide, 0.1), r.height() / max(deep, 0.1))
        for n, s in enumerate(storeys):
            left = r.left() + each * n
            for room in job.rooms:
                if room.storey != s.id:
                    continue
                shape = QPolygonF(
                    [
                        QPointF(left + (a - min(xs)) * scale, r.top() + (b - min(ys)) * scale)
                        for a, b in room.outline_m
                    ]
                )
                k = x.serving(room.id)
                p.setPen(QPen(t("paper"), 1.4))
                p.setBrush(t("track") if k is None else t(FILLS[k % len(FILLS)]))
                p.drawPolygon(shape)
            words = s.name
            paint.text(p, left, r.top() + deep * scale + 13, words, 11, 500, t("ink2"), width=each - 6)
        return deep * scale + 13

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
        """Choose the next design, or the one before."""
        self.index = max(0, min(self.index + by, len(self.found) - 1))
        self.update()

    def do(self, what: str) -> None:
        """One of the buttons of the chosen design."""
        if self.found:
            (self.take if what == "take" else self.keep).emit(self.index)
