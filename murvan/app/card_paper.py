"""How the header and the sections of a card are measured and painted."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.stations.base import Arith, Bars, Button, Buttons, Card, Fields, Fold, List_, Picture, Section
from murvan.app.theme import Theme
from murvan.app.worked import Laid, lay
from murvan.units import Units

WIDTH, PAD = 330, 17
FOLD = ("fold", "")
"""What a click on the row that stands for folded sections picks."""
# how a section is measured, and how it is painted from a height on
_Kind = tuple[Callable[[Any], float], Callable[[QPainter, Theme, Any, float], None]]


def button_text(b: Button) -> str:
    """Its label with the key that does the same."""
    return f"{b.label}   {b.letter}" if b.letter else b.label


def button_width(b: Button) -> float:
    """What its words need, with air beside them."""
    return paint.text_width(button_text(b), 13, 600) + 30


def button_rows(buttons: tuple[Button, ...]) -> list[list[Button]]:
    """As many rows as it takes for every word to be read."""
    rows: list[list[Button]] = []
    left = 0.0
    for b in buttons:
        w = button_width(b)
        if not rows or left + w > WIDTH - 2 * PAD:
            rows.append([])
            left = 0.0
        rows[-1].append(b)
        left += w + 8
    return rows


BAR_BESIDE = 58.0
"""px that a bar beside a figure takes."""


class Look(Protocol):
    """What all of a card depends on."""

    theme: Theme
    units: Units
    glove: bool
    spec: Card | None
    stale: bool


class Paper:
    """Measures and paints the parts of a card."""

    def __init__(self, look: Look) -> None:
        self.look = look
        self.hits: list[tuple[QRectF, tuple[str, str]]] = []
        """What can be picked in the section painted last."""
        self._arith: dict[tuple[int, Units], Laid] = {}

    def forget(self) -> None:
        """Another card is shown: what was laid out of the last one is not needed any more."""
        self._arith = {}

    @property
    def field_height(self) -> int:
        return 40 if self.look.glove else 30

    def header_height(self) -> float:
        s = self.look.spec
        if s is None:
            return 0.0
        lines = len(self._note_lines(s))
        return 68.0 + (58.0 if s.hero else 10.0 if lines else 0.0) + 15.0 * max(lines - 1, 0)

    def _note_lines(self, s: Card) -> list[str]:
        """The note below the title, in as many lines as it needs."""
        return paint.wrap(s.hero_note, 12, WIDTH - 2 * PAD) if s.hero_note else []

    def _kind(self, s: Section) -> _Kind:
        """How a section is measured and painted. Raises TypeError for one that a card does not know."""
        kinds: dict[type, _Kind] = {
            Bars: (self._bars_height, self._paint_bars),
            Fields: (self._fields_height, self._paint_fields),
            Arith: (self._arith_height, self._paint_arith),
            List_: (self._list_height, self._paint_list),
            Picture: (self._picture_height, self._paint_picture),
            Buttons: (self._buttons_height, self._paint_buttons),
            Fold: (self._fold_height, self._paint_fold),
        }
        if type(s) not in kinds:
            raise TypeError(f"a card knows no section of the kind {type(s).__name__}")
        return kinds[type(s)]

    def section_height(self, s: Section) -> float:
        return self._kind(s)[0](s)

    def _bars_height(self, s: Bars) -> float:
        return 26 + 21 * len(s.rows) + (26 if s.total else 0)

    def _fields_height(self, s: Fields) -> float:
        rows = 0.0
        for f in s.fields:
            rows += 1 if f.width == 1 else (2 if rows % 2 == 0 else 3)
        return 22 + ((rows + 1) // 2) * (self.field_height + 22)

    def _arith_height(self, s: Arith) -> float:
        return (26 if s.main else 6) + self._arith_box(s)

    def _list_height(self, s: List_) -> float:
        return 26 + sum(36 if r.second else 22 for r in s.rows)

    def _picture_height(self, s: Picture) -> float:
        return 26 + s.height

    def _buttons_height(self, s: Buttons) -> float:
        return self.field_height + 20 + (len(button_rows(s.buttons)) - 1) * (self.field_height + 12)

    def _fold_height(self, s: Fold) -> float:
        return 26.0

    def _paint_fold(self, p: QPainter, t: Theme, s: Fold, y: float) -> None:
        self._title(p, t, y, s.words, "", "=")
        self.hits.append((QRectF(0, y - 3, WIDTH, 24), FOLD))

    def _arith_box(self, s: Arith) -> float:
        laid = self._laid(s)
        sources = len(laid.sources)
        return 14 + sum(17 * len(rows) for _, _, rows in laid.lines) + (8 + 15 * sources if sources else 0)

    def _laid(self, s: Arith) -> Laid:
        """An arithmetic in rows and wrapped sources; kept while it is shown, as it is measured and painted."""
        key = (id(s.arithmetic), self.look.units)
        if key not in self._arith:
            self._arith[key] = lay(s.arithmetic, self.look.units, WIDTH - 2 * PAD - 28)
        return self._arith[key]

    def paint_header(self, p: QPainter, t: Theme, s: Card) -> None:
        right = WIDTH - PAD
        paint.text(p, PAD, 24, s.kicker, 12, 500, t("ink2"), width=right - PAD)
        mark_w = 0.0
        if s.mark:
            w = paint.text_width(s.mark_text, 12.5, 600) if s.mark_text else 0.0
            paint.mark(p, s.mark, right - w - 10 - (8 if w else 0), 43, t)
            if s.mark_text:
                paint.text(p, right, 47.5, s.mark_text, 12.5, 600, t("ink"), "r")
            mark_w = w + 34
        paint.text(p, PAD, 50, s.title, 23, 700, t("ink"), width=right - PAD - mark_w)
        if s.hero:
            self._paint_hero(p, t, s, right)
        elif s.hero_note:
            for k, line in enumerate(self._note_lines(s)):
                paint.text(p, PAD, 68 + 15 * k, line, 12, 500, t("ink2"))

    def _paint_hero(self, p: QPainter, t: Theme, s: Card, right: float) -> None:
        x = float(PAD)
        widest = max([paint.text_width(v, 17, 700) + paint.text_width(u, 12, 500) + 5 for v, u, _ in s.side] or [0.0])
        size = 34.0
        while (
            size > 18
            and sum(paint.text_width(v, size, 700) + paint.text_width(u, 12.5, 500) + 14 for v, u, _ in s.hero)
            > right - PAD - widest - 10
        ):
            size -= 1
        for value, unit_, role in s.hero:
            color = t("ink3") if self.look.stale else t(role)
            x += paint.value_unit(p, x, 91, value, unit_, size, 700, color, t("ink2"), unit_size=12.5) + 10
        for k, (value, unit_, role) in enumerate(s.side[:2]):
            color = t("ink3") if self.look.stale else t(role)
            paint.value_unit(p, right, 74 + 21 * k, value, unit_, 17, 700, color, t("ink2"), "r", 12)
        if s.hero_note:
            for k, line in enumerate(self._note_lines(s)):
                paint.text(p, PAD, 113 + 15 * k, line, 12, 500, t("ink2"))

    def _title(self, p: QPainter, t: Theme, y: float, title: str, note: str, key: str = "") -> None:
        right = WIDTH - PAD
        kw = paint.key_cap(p, right, y, key, t, "r") + 6 if key else 0.0
        room = right - PAD - kw
        if note:
            paint.text(
                p, right - kw, y + 13, note, 12, 500, t("ink2"), "r", room - paint.text_width(title, 13, 600) - 8
            )
        paint.text(p, PAD, y + 13, title, 13, 600, t("ink"), width=room - (8 if note else 0))

    def paint_section(self, p: QPainter, t: Theme, s: Section, y: float) -> None:
        self._kind(s)[1](p, t, s, y)

    def _paint_fields(self, p: QPainter, t: Theme, s: Fields, y: float) -> None:
        first = self.look.spec is not None and next(x for x in self.look.spec.sections if isinstance(x, Fields)) is s
        self._title(p, t, y, s.title, "", "Enter" if first else "")
        self._paint_field_labels(p, t, s, y + 22)

    def _paint_picture(self, p: QPainter, t: Theme, s: Picture, y: float) -> None:
        self._title(p, t, y, s.title, s.note)
        p.save()
        s.paint(p, QRectF(PAD, y + 24, WIDTH - 2 * PAD, s.height - 4))
        p.restore()

    def _paint_buttons(self, p: QPainter, t: Theme, s: Buttons, y: float) -> None:
        """Buttons are widgets of their own."""

    def _paint_bars(self, p: QPainter, t: Theme, s: Bars, y: float) -> None:
        right = WIDTH - PAD
        self._title(p, t, y, s.title, s.note)
        y += 22
        values = max([paint.text_width(r.value, 13, 600) for r in s.rows] or [0])
        left, span = PAD + 122.0, right - values - 12 - (PAD + 122.0)
        for r in s.rows:
            rect = QRectF(PAD - 9, y, WIDTH - 2 * PAD + 18, 21)
            if r.selected:
                p.fillRect(rect, t("select"))
            color = t("on_select") if r.selected else t("ink")
            paint.text(p, PAD, y + 15, r.label, 13, 600 if r.selected else 500, color, width=118)
            w = span * max(0.0, min(r.fraction, 1.0))
            p.fillRect(QRectF(left, y + 5, w, 11), t(r.color))
            if r.hatched > 0:
                box = QRectF(left + w, y + 5, span * min(r.hatched, 1.0), 11)
                p.fillRect(box, t("load2"))
                paint.hatch(p, box, t("paper"), 5, 1.6)
            paint.text(p, right, y + 15, r.value, 13, 600, color, "r")
            if r.key:
                self.hits.append((rect, r.key))
            y += 21
        if s.total:
            p.setPen(QPen(t("ink"), 2))
            p.drawLine(QPointF(PAD, y + 3), QPointF(right, y + 3))
            name, note, value = s.total
            paint.text(p, PAD, y + 20, name, 13, 700, t("ink"), width=110)
            w = paint.text(p, right, y + 20, value, 13.5, 700, t("ink"), "r")
            paint.text(p, right - w - 12, y + 20, note, 12, 500, t("ink2"), "r", 170)

    def _paint_field_labels(self, p: QPainter, t: Theme, s: Fields, y: float) -> None:
        column = (WIDTH - 2 * PAD - 13) / 2
        at = 0
        for f in s.fields:
            if f.width == 2 and at % 2:
                at += 1
            x = PAD + (at % 2) * (column + 13)
            paint.text(
                p,
                x,
                y + (at // 2) * (self.field_height + 22) + 12,
                f.label,
                12,
                500,
                t("ink2"),
                width=column * f.width,
            )
            at += f.width

    def _paint_arith(self, p: QPainter, t: Theme, s: Arith, y: float) -> None:
        if s.main:
            self._title(p, t, y, "The arithmetic", s.arithmetic.title, "=")
            y += 24
        h = self._arith_box(s)
        box = QRectF(PAD, y, WIDTH - 2 * PAD, h)
        paint.rounded(p, box, t("paper"), t("outline"), 3)
        p.fillRect(QRectF(PAD, y + 1, 4, h - 2), t("select") if s.main else t("outline"))
        x, right = PAD + 14.0, WIDTH - PAD - 9.0
        y += 6
        laid = self._laid(s)
        for line, result, rows in laid.lines:
            weight = 700 if line.bold else 500
            figures = t("ink") if line.adds else t("ink3")
            for k, (label, body) in enumerate(rows):
                y += 17
                last = k == len(rows) - 1
                lw = (
                    paint.text(p, x, y - 4, label, 12, weight, t("ink") if line.bold else t("ink2"))
                    if label
                    else -8.0
                )
                if body:
                    paint.text(p, x + lw + 8, y - 4, body, 12, weight, figures)
                if last and result:
                    paint.text(p, right, y - 4, result, 12, 700 if line.bold else 500, figures, "r")
        if s.arithmetic.sources:
            p.setPen(QPen(t("rule"), 1))
            p.drawLine(QPointF(x, y + 5), QPointF(right, y + 5))
            y += 8
            for part in laid.sources:
                y += 15
                paint.text(p, x, y - 3, part, 11, 500, t("ink3"))

    def _paint_list(self, p: QPainter, t: Theme, s: List_, y: float) -> None:
        right = WIDTH - PAD
        self._title(p, t, y, s.title, s.note)
        y += 22
        for r in s.rows:
            h = 36 if r.second else 22
            rect = QRectF(PAD - 9, y, WIDTH - 2 * PAD + 18, h)
            if r.selected:
                p.fillRect(rect, t("select"))
            color = t("on_select") if r.selected else t("ink")
            soft = t("on_select") if r.selected else t("ink2")
            x = float(PAD)
            if r.mark:
                paint.mark(p, r.mark, PAD + 7, y + 11, t, 6.5)
                x += 21
            nw = paint.text(p, right, y + 15.5, r.note, 12, 500, soft, "r") + 10 if r.note else 0.0
            vw = paint.text_width(r.value, 13, 700)
            # a bar stands under the figure, or beside it where there is no second line
            beside = BAR_BESIDE if r.bar is not None and not r.second else 0.0
            paint.text(p, right - nw, y + 15.5, r.value, 13, 700, color, "r")
            paint.text(
                p,
                x,
                y + 15.5,
                r.label,
                13,
                700 if r.bold else 600 if r.second else 500,
                color,
                width=right - nw - max(vw, beside and 40.0) - beside - x - 8,
            )
            if r.second:
                sw = 70 if r.bar is not None else 0
                paint.text(p, x, y + 30.5, r.second, 12, 500, soft, width=right - x - sw - 4)
            if r.bar is not None:
                at = QRectF(right - 58, y + 23, 58, 6) if r.second else QRectF(right - 44 - beside + 8, y + 8, 50, 6)
                p.fillRect(at, t("track") if not r.selected else t("select_soft"))
                p.fillRect(at.adjusted(0, 0, at.width() * (min(max(r.bar, 0), 1) - 1), 0), color)
            if not r.selected and r.second:
                p.setPen(QPen(t("rule"), 1))
                p.drawLine(QPointF(PAD, y + h - 0.5), QPointF(right, y + h - 0.5))
            if r.key:
                self.hits.append((rect, r.key))
            y += h
