"""The lens How sure of Equipment: the designs of the job in 500 houses that are each as this one may be."""

from __future__ import annotations

from collections.abc import Callable
from math import ceil

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPen

from murvan.app import paint
from murvan.app.stations.base import Button, Buttons, Canvas, Card, Cell, Ledger, List_, ListRow, Picture, View
from murvan.app.stations.told import Rooms, Told, named, rooms_table, state
from murvan.design.propose import Surely
from murvan.design.study import DRAWS, Sure

NAME = "How sure"
NAMES_PX, HEAD_PX, ROW_PX = 112.0, 62.0, 58.0
WANTED = 0.95
"""Of the houses, in which a design should hold; Murvan default."""
Found = tuple[Surely, ...] | None
"""None: still worked out."""


def _mark(holds: int) -> str:
    return "good" if holds >= WANTED * DRAWS else "look" if holds >= 0.8 * DRAWS else "fails"


def canvas(view: View, found: Found) -> Canvas:
    return Canvas(lambda p, r: _columns(p, r, view, found))


def _columns(p: QPainter, r: QRectF, view: View, found: Found) -> None:
    t = view.theme
    p.fillRect(r, t("paper"))
    if not found:
        words = (
            "Drawing 500 houses …"
            if found is None
            else "No unit is picked yet: P proposes designs, K picks a candidate"
        )
        paint.text(p, r.center().x(), r.center().y(), words, 14, 600, t("ink2"), "c")
        return
    wide = min((r.width() - NAMES_PX - 16) / len(found), 250.0)
    rows = _rows(view, found)
    for k, x in enumerate(found):
        left = r.left() + NAMES_PX + k * wide
        box = QRectF(left, r.top() + 4, wide - 8, HEAD_PX + len(rows) * ROW_PX)
        if k == 0:
            soft = QColor(t("select"))
            soft.setAlpha(40)
            p.fillRect(box, soft)
            p.setPen(QPen(t("ink"), 1.4))
            p.drawRect(box)
            p.fillRect(QRectF(box.left(), box.top(), box.width(), 24), t("select"))
        paint.text(
            p, left + 8, r.top() + 21, x.name, 13, 700, t("on_select") if k == 0 else t("ink"), width=wide - 20
        )
        fails = sum(f.severity == "fails" for f in x.results.findings)
        paint.mark(p, "fails" if fails else "good", left + 15, r.top() + 44, t, 6.5)
        words = f"{fails} to settle" if fails else "nothing fails"
        paint.text(p, left + 28, r.top() + 48, words, 12.5, 500, t("ink"), width=wide - 44)
    for n, row in enumerate(rows):
        y = r.top() + HEAD_PX + 8 + n * ROW_PX
        paint.text(p, r.left() + 8, y + 14, row.name, 13, 700, t("ink"))
        paint.text(p, r.left() + 8, y + 30, row.note, 11.5, 500, t("ink2"), width=NAMES_PX - 12)
        p.setPen(QPen(t("rule"), 1))
        p.drawLine(QPointF(r.left() + 4, y - 5), QPointF(r.left() + NAMES_PX + len(found) * wide - 8, y - 5))
        for k, cell in enumerate(row.cells):
            _cell(p, view, QRectF(r.left() + NAMES_PX + k * wide + 8, y, wide - 24, ROW_PX - 8), row, cell)
    top = r.top() + HEAD_PX + len(rows) * ROW_PX + 18
    if r.bottom() - top > 50:
        _to_measure(p, QRectF(r.left() + 8, top, r.width() - 24, r.bottom() - top), view, found[0].sure)


class _Cell:
    """One figure of one design: in words, its best guess, and between what it lies."""

    def __init__(self, words: str, note: str, at: float, low: float, high: float, color: str = "ink2") -> None:
        self.words, self.note, self.at, self.low, self.high, self.color = words, note, at, low, high, color


class _Row:
    def __init__(self, name: str, note: str, cells: list[_Cell]) -> None:
        self.name, self.note, self.cells = name, note, cells

    @property
    def most(self) -> float:
        return max([c.high for c in self.cells] + [c.at for c in self.cells] + [1e-9])


def _rows(view: View, found: tuple[Surely, ...]) -> list[_Row]:
    def held(x: Surely) -> _Cell:
        n = x.sure.holds
        return _Cell(str(n), f"of {DRAWS}, {n / DRAWS * 100:.0f} %", n, n, n, _mark(n))

    def money(x: Surely) -> _Cell:
        low, high = x.put_in
        return _Cell(
            view.num("money", x.sums.cost_in),
            f"{view.num('money', low)} – {view.num('money', high)}",
            x.sums.cost_in,
            low,
            high,
        )

    def heat(x: Surely) -> _Cell:
        need = x.sure.heating_band_w
        gives = float(np.median(x.sure.heat_given_w))
        note = f"wants {view.num('kpower', need[0])} – {view.num('kpower', need[1])}"
        return _Cell(view.num("kpower", gives), note, gives, gives, gives, "heating" if gives >= need[1] else "look")

    def bill(x: Surely) -> _Cell:
        if x.bill is None or x.sums.cost_year is None:
            return _Cell("–", "no hours by temperature", 0, 0, 0)
        low, high = x.bill
        return _Cell(
            view.num("money", x.sums.cost_year),
            f"{view.num('money', low)} – {view.num('money', high)}",
            x.sums.cost_year,
            low,
            high,
        )

    least = min((x.years for x in found if x.years is not None), default=None)

    def years(x: Surely) -> _Cell:
        if x.years is None or least is None:
            return _Cell("–", "", 0, 0, 0)
        more = x.years - least
        return _Cell(
            view.num("money", x.years),
            "the least" if more < 1 else f"{view.num('money', more)} more",
            x.years,
            x.years,
            x.years,
        )

    return [
        _Row("Holds", f"{WANTED * DRAWS:.0f} wanted", [held(x) for x in found]),
        _Row(
            "Heat",
            f"{view.unit('kpower')} at {view.text('temperature', view.job.climate.winter_c, 0)}",
            [heat(x) for x in found],
        ),
        _Row("Put in", f"{view.unit('money')}, installed", [money(x) for x in found]),
        _Row("Bill", f"{view.unit('money')} a year", [bill(x) for x in found]),
        _Row("15 years", view.unit("money"), [years(x) for x in found]),
    ]


def _cell(p: QPainter, view: View, box: QRectF, row: _Row, c: _Cell) -> None:
    """A figure, its range in words, and a bar that fades where nobody knows."""
    t = view.theme
    paint.text(p, box.left(), box.top() + 14, c.words, 17, 700, t("ink"))
    paint.text(p, box.left(), box.top() + 29, c.note, 11.5, 500, t("ink2"), width=box.width())
    y, scale = box.top() + 35, box.width() / row.most
    p.fillRect(QRectF(box.left(), y, box.width(), 7), t("rule"))
    p.fillRect(QRectF(box.left(), y, c.low * scale, 7), t(c.color))
    if c.high > c.low:
        fade = QLinearGradient(box.left() + c.low * scale, 0, box.left() + c.high * scale, 0)
        clear = QColor(t(c.color))
        clear.setAlpha(0)
        fade.setColorAt(0.0, t(c.color))
        fade.setColorAt(1.0, clear)
        p.fillRect(QRectF(box.left() + c.low * scale, y, (c.high - c.low) * scale, 7), fade)
    p.fillRect(QRectF(box.left() + c.at * scale - 1, y - 3, 2, 13), t("ink"))


def _to_measure(p: QPainter, r: QRectF, view: View, x: Sure) -> None:
    """What to measure next, by the band of the heat that it leaves."""
    t = view.theme
    low, high = x.heating_band_w
    wide = high - low
    paint.text(p, r.left(), r.top() + 12, "What to measure next", 12.5, 700, t("ink"))
    paint.text(
        p, r.left() + 250, r.top() + 12, f"the band of heat it leaves, {view.unit('kpower')}", 12, 500, t("ink2")
    )
    paint.text(p, r.right(), r.top() + 12, "min", 12, 500, t("ink2"), "r")
    bars = max(r.width() - 250 - 170, 60.0)
    for k, m in enumerate(x.measures[: int((r.height() - 16) // 18)]):
        y = r.top() + 31 + k * 18
        paint.text(p, r.left(), y, f"{k + 1}  {m.doubt.how}", 12.5, 600, t("ink"), width=244)
        p.fillRect(QRectF(r.left() + 250, y - 9, bars, 9), t("rule"))
        part = bars * m.leaves_w / max(wide, 1e-9)
        p.fillRect(QRectF(r.left() + 250 + (bars - part) / 2, y - 9, part, 9), t("ink2"))
        words = f"{view.num('kpower', wide)} to {view.num('kpower', m.leaves_w)}"
        paint.text(p, r.left() + 250 + bars + 10, y, words, 12, 600, t("ink"))
        paint.text(p, r.right(), y, f"{m.doubt.minutes:.0f}", 12, 500, t("ink2"), "r")
    if not x.measures:
        paint.text(p, r.left(), r.top() + 34, "Nothing left that a visit could measure", 12.5, 500, t("ink2"))


def ledger(view: View, found: Found) -> Ledger:
    """Rooms by the unit that serves each, and in how many houses that holds in every design."""
    loads = view.r.loads

    def held(x: Surely, room: str) -> int | None:
        for s in x.results.systems.values():
            if room in s.design.serves and s.design.id in x.sure.unit_holds:
                return int(x.sure.unit_holds[s.design.id].sum())
        return None

    def column(x: Surely) -> Told[Rooms]:
        def of(y: Rooms) -> Cell:
            if y.of == "house":
                return Cell(str(x.sure.holds), True)
            n = held(x, y.id) if y.of == "room" else None
            return Cell(str(n) if n is not None else "no unit" if y.of == "room" else "")

        return Told(x.name[:24], 150, of, key=x.id)

    columns = (
        named(130),
        Told("Heat", 90, lambda y: y.sum(loads.heating_w), "power"),
        Told("Cooling", 90, lambda y: y.sum(loads.cooling_w), "power"),
        *(column(x) for x in found or ()),
        state(30, lambda y: _worst(found, y.id, held)),
    )
    return rooms_table(view, columns)


def _worst(found: Found, room: str, held: Callable[[Surely, str], int | None]) -> str:
    n = held(found[0], room) if found else None
    return _mark(n) if n is not None else "none"


def card(view: View, found: Found) -> Card:
    """The design worked on: in how many houses it holds, and where it falls short."""
    if not found:
        return Card("How sure", "Drawing 500 houses" if found is None else "No unit picked", "none")
    x = found[0]
    n, low_high = x.sure.holds, x.sure.heating_band_w
    names = {u.id: u.tag for u in x.results.job.design.indoor_units}
    short = sorted(((int((ok < 1).sum()), names[i]) for i, ok in x.sure.unit_holds.items()), reverse=True)
    rows = tuple(ListRow(tag, str(k), "houses short" if k else "", "good" if not k else None) for k, tag in short[:6])
    known = tuple(ListRow(d.name, f"± {ceil(d.spread * 100)} %", d.said) for d in x.sure.doubts)
    first = x.sure.measures[0] if x.sure.measures else None
    return Card(
        f"How sure · {x.name}",
        f"{n} of {DRAWS} hold",
        _mark(n),
        {"good": "Sure enough", "look": "Look", "fails": "Too thin"}[_mark(n)],
        ((str(n), f"of {DRAWS} houses", "ink"),),
        f"each as this one may be; heat wanted {view.num('kpower', low_high[0])} to {view.text('kpower', low_high[1])}",
        (),
        (
            Picture(
                "Where it falls short",
                view.unit("kpower"),
                116,
                lambda p, r: _histogram(p, r, view, x.sure),
                shows=(n, low_high),
            ),
            List_("Units", "", rows),
            List_("What is not known", "spread, Murvan default", known, True),
            Buttons(
                (
                    Button("propose", "Other designs", "P", lambda: view.act.command("equipment.propose"), True),
                    *(
                        (
                            Button(
                                "first",
                                f"First: {first.doubt.how}",
                                "",
                                lambda: view.act.say(
                                    f"{first.doubt.how}: {first.doubt.minutes:.0f} minutes, then type it where it stands"
                                ),
                            ),
                        )
                        if first
                        else ()
                    ),
                )
            ),
        ),
    )


def _histogram(p: QPainter, r: QRectF, view: View, x: Sure) -> None:
    """The heat that the houses want, what is given as a post, those beyond in red."""
    t = view.theme
    counts, edges = np.histogram(x.heating_w, bins=24)
    gives = float(np.median(x.heat_given_w))
    low, high = min(edges[0], gives) * 0.98, max(edges[-1], gives) * 1.02
    scale = r.width() / max(high - low, 1e-9)
    tall = (r.height() - 34) / max(int(counts.max()), 1)
    for k, n in enumerate(counts):
        left, right = r.left() + (edges[k] - low) * scale, r.left() + (edges[k + 1] - low) * scale
        beyond = (edges[k] + edges[k + 1]) / 2 > gives
        p.fillRect(
            QRectF(left, r.bottom() - 18 - n * tall, right - left - 1, n * tall), t("fails") if beyond else t("inner")
        )
    at = r.left() + (gives - low) * scale
    p.setPen(QPen(t("ink"), 2))
    p.drawLine(QPointF(at, r.top() + 12), QPointF(at, r.bottom() - 18))
    side = "r" if at > r.center().x() else "l"
    paint.text(
        p,
        at + (-5 if side == "r" else 5),
        r.top() + 12,
        f"gives {view.num('kpower', gives)}",
        12,
        700,
        t("ink"),
        side,
    )
    p.setPen(QPen(t("ink2"), 1))
    p.drawLine(QPointF(r.left(), r.bottom() - 18), QPointF(r.right(), r.bottom() - 18))
    for v in (edges[0], (edges[0] + edges[-1]) / 2, edges[-1]):
        paint.text(
            p, r.left() + (v - low) * scale, r.bottom() - 4, view.num("kpower", float(v)), 11.5, 500, t("ink2"), "c"
        )
