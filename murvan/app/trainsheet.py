"""Training over the plan: which case to begin, and how it went."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

from PyQt6.QtCore import QEvent, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from murvan.app import paint
from murvan.app.guard import painting
from murvan.app.overlays import OverSheet
from murvan.field.training import GRADES, Case, Review

ROW = 46.0


class TrainSheet(OverSheet):
    """Begin: keys 1 to 4 or a click. Review: Enter or Esc ends the case."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName("Training")
        self.review: Review | None = None
        self.cases: tuple[tuple[str, str, Case], ...] = ()
        self._go: Callable[[Case], None] = lambda _: None
        self._end: Callable[[], None] = lambda: None
        self._hits: list[tuple[QRectF, int]] = []

    def begin(self, today: date, seed: int, go: Callable[[Case], None]) -> None:
        """Offer today's case, and one of each grade."""
        day = Case.of_day(today)
        own = [(f"Today's case, {today:%d %b}", GRADES[day.grade], day)]
        own += [(f"Grade {n}", words, Case(n, seed)) for n, words in GRADES.items()]
        self.cases, self.review, self._go = tuple(own), None, go
        self.setAccessibleDescription("; ".join(f"{name}: {words}" for name, words, _ in own))
        self.open_sheet()

    def show_review(self, review: Review, end: Callable[[], None]) -> None:
        self.review, self._end = review, end
        self.setAccessibleDescription(verdict_words(review))
        self.open_sheet()

    def target(self, k: int) -> QRectF:
        """Where the case of that place is clicked."""
        return next((r for r, n in self._hits if n == k), QRectF())

    def take(self, k: int) -> None:
        if 0 <= k < len(self.cases):
            self.hide()
            self._go(self.cases[k][2])

    def close_sheet(self) -> None:
        reviewed, self.review = self.review, None
        super().close_sheet()
        if reviewed is not None:
            self._end()

    def paintEvent(self, _: QPaintEvent | None) -> None:
        with painting(self) as p:
            if self.review is None:
                self._paint_choice(p)
            else:
                self._paint_review(p, self.review)

    def _paint_choice(self, p: QPainter) -> None:
        t = self.theme
        self.frame(p, "Training on this house", "leaves everything as it is")
        words = (
            "The house was built with something wrong, or with nothing. Read it, name it; the clock counts every reading, "
            "walk and ladder. A copy of this job is opened without its readings; the suspects stay hidden."
        )
        y = 70.0
        for k, line in enumerate(paint.wrap(words, 13, self.width() - 46)):
            paint.text(p, 22, y + 17 * k, line, 13, 500, t("ink2"))
        y += 17 * len(paint.wrap(words, 13, self.width() - 46)) + 8
        self._hits = []
        for k, (name, what, _) in enumerate(self.cases):
            r = QRectF(20, y + k * (ROW + 8), self.width() - 40, ROW)
            paint.rounded(p, r, t("select") if k == 0 else t("paper"), t("ink"), 4, 1.4)
            ink = t("on_select") if k == 0 else t("ink")
            paint.key_cap(p, r.left() + 12, r.top() + 15, str(k + 1), t)
            paint.text(p, r.left() + 42, r.top() + 19, name, 13.5, 700, ink)
            paint.text(p, r.left() + 42, r.top() + 36, what, 12, 500, ink)
            self._hits.append((r, k))
        self.content = y + len(self.cases) * (ROW + 8) + 20

    def _paint_review(self, p: QPainter, x: Review) -> None:
        t = self.theme
        self.frame(p, f"{x.case.name}: {x.points} points", "ends the case")
        y = 76.0 - self.offset
        for words, weight in (
            (verdict_words(x), 700),
            (truth_words(x), 600),
            (f"{x.minutes:.0f} min on site, {len(x.read)} readings, {len(x.needless)} of them needless", 500),
            (f"It cost $ {x.cost:,.0f}" + ("" if x.solved else ", with the call-back"), 500),
        ):
            paint.mark(p, "good" if x.solved else "fails", 30, y - 5, t) if weight == 700 else None
            for line in paint.wrap(words, 13.5, self.width() - 80):
                paint.text(p, 46, y, line, 13.5, weight, t("ink"))
                y += 18
            y += 4
        y += 8
        paint.text(p, 46, y, "Belief in what was really wrong, after each reading", 12, 500, t("ink2"))
        y += 8
        left, wide = self.width() * 0.5, self.width() * 0.5 - 130
        for k, r in enumerate(x.read, 1):
            y += 21
            paint.text(p, 46, y, f"{k}  {r.place.name}", 12.5, 500, t("ink"), width=left - 60)
            bar = QRectF(left, y - 10, wide, 11)
            p.fillRect(bar, t("track"))
            p.fillRect(QRectF(bar.left(), bar.top(), bar.width() * r.share, bar.height()), t("ink"))
            said = "needless" if r in x.needless else f"{r.minutes:.1f} min"
            paint.text(p, self.width() - 22, y, said, 12, 500, t("ink2"), "r")
        self.content = y + 40 + self.offset
        self.thumb(p)

    def mousePressEvent(self, e: QMouseEvent | None) -> None:
        if e is not None and self.review is None:
            self.take(next((k for r, k in self._hits if r.contains(e.position())), -1))

    def event(self, e: QEvent | None) -> bool:
        own = (Qt.Key.Key_1, Qt.Key.Key_2, Qt.Key.Key_3, Qt.Key.Key_4, Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.ShortcutOverride and e.key() in own:
            e.accept()
            return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        key = e.key() if e is not None else 0
        if self.review is not None and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.close_sheet()
        elif self.review is None and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.take(0)
        elif self.review is None and Qt.Key.Key_1 <= key <= Qt.Key.Key_4:
            self.take(key - Qt.Key.Key_1)
        else:
            super().keyPressEvent(e)


def verdict_words(x: Review) -> str:
    """Whether it was found."""
    n = len(x.truth)
    if x.solved:
        return "Right: nothing was wrong" if not n else "Right: both were found" if n == 2 else "Right: it was found"
    missed = f"{n - x.right} of {n} not found" if x.right < n else ""
    return ", ".join(w for w in (missed, f"{x.wrong} named that was not there" if x.wrong else "") if w).capitalize()


def truth_words(x: Review) -> str:
    """What was wrong."""
    if not x.truth:
        return "The house was as designed"
    said = []
    for spot, amount in x.truth:
        words = spot.amount_words(amount)
        said.append(f"{spot.title} ({words})" if words else spot.title)
    return "; ".join(said)
