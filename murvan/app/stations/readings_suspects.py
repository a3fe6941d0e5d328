"""What the readings say, on the card: suspects by their share, those that can't be told apart in one group with the reading that
splits them, what to do next, and how far readings are off with and without the first one."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QPainter

from murvan.app import paint
from murvan.app.stations.base import Arith, List_, ListRow, Picture, Section, View
from murvan.app.stations.readings_keys import place_key
from murvan.field import Diagnosis
from murvan.field.explained import explain
from murvan.field.fit import LEAST_SHARE, Group
from murvan.field.next_reading import Next
from murvan.field.spots import Spot
from murvan.kinds.readings import QUANTITIES

SHOWN = 3
MENDED_FIRST = 0.5
"""Share of a suspect and its group from which it is mended before anything is balanced."""
MOVES_SHOWN = 3
MOST_OFF = 6.0
"""Standard deviations that the picture of residuals reaches at least, both ways."""


def suspect_sections(view: View) -> list[Section]:
    """Nothing while there are too few readings."""
    d = view.figures.diagnosis
    if d is None:
        return []
    f = d.fitted
    rows = [row for k, g in enumerate(f.groups()[:SHOWN]) for row in _rows(view, d, g, k == 0)]
    if f.nothing >= LEAST_SHARE or f.nothing_wrong:
        rows.insert(
            0 if f.nothing_wrong else len(rows), _whole("As designed, nothing wrong", f.nothing, f.nothing_wrong)
        )
    if f.other >= LEAST_SHARE:
        rows.append(_whole("Something not on the list", f.other, f.unknown))
    out: list[Section] = [
        List_(f"Suspects, by {len(f.residuals)} readings", "simulated" if d.simulated else "", tuple(rows))
    ]
    if d.next is not None:
        out.append(List_("Next", "", (_next(view, d.next),)))
    if (moves := _moves(view, d)) is not None:
        out.append(moves)
    out.append(_residuals(view, d))
    if f.suspects and not f.nothing_wrong:
        out.append(Arith(explain(f, f.suspects[0])))
    return out


def _rows(view: View, d: Diagnosis, g: Group, first: bool) -> Iterator[ListRow]:
    if len(g.of) == 1:
        s = g.of[0]
        amount = s.spot.amount_words(s.amount)
        yield ListRow(
            f"1  {_upper(s.spot.brief)}" if first else _upper(s.spot.brief),
            _percent(s.share),
            second=amount,
            bar=s.share,
            selected=first,
        )
        return
    head = f"{g.place}, one of these" if g.place else "One of these"
    yield ListRow(head, _percent(g.share), bar=g.share, bold=True, selected=first)
    for k, s in enumerate(g.of, 1):
        words = s.spot.kind.brief if g.place else s.spot.brief
        yield ListRow(f"{k}  {words}" if first else f"    {words}", _percent(s.share), bar=s.share)
    if first and d.splits is not None and d.splits.place is not None:
        yield ListRow(
            d.splits.place.name,
            f"{d.splits.minutes:.0f} min",
            key=place_key(d.splits.place),
            second=_tells(view, d.splits),
        )


def _tells(view: View, n: Next) -> str:
    """'0.052 kinked flex, 0.021 damper partly shut'."""
    assert n.place is not None
    kind = QUANTITIES[n.place.quantity].shown_as
    told = ", ".join(f"{view.num(kind, value)} {_brief(spot)}" for spot, value in n.parts)
    return f"{told}; {view.unit(kind)}"


def _brief(spot: Spot | None) -> str:
    return spot.kind.brief if spot is not None else "as designed"


def _whole(words: str, share: float, first: bool) -> ListRow:
    return ListRow(words, _percent(share), bar=share, selected=first, bold=first)


def _next(view: View, n: Next) -> ListRow:
    minutes = f"{n.minutes:.0f} min"
    if n.place is not None:
        return ListRow(f"Read {n.place.name}", minutes, key=place_key(n.place), second=_tells(view, n))
    assert n.look is not None
    words = n.look.spot.kind.to_try
    second = f"{_upper(n.look.spot.brief)}; then read again" if n.enough else _upper(n.look.spot.brief)
    return ListRow(f"Enough: {words[:1].lower()}{words[1:]}" if n.enough else words, minutes, second=second)


def _moves(view: View, d: Diagnosis) -> List_ | None:
    """Which damper next; nothing while a fault is to be mended first, or with nothing to move."""
    first = d.fitted.suspects[0] if d.fitted.suspects else None
    if d.balance is None or not d.balance.moves or (first is not None and first.share_of_group >= MENDED_FIRST):
        return None
    rows = [
        ListRow(
            f"{'Close' if m.closes else 'Open'} {m.tag} until it reads",
            view.text("flow", m.reads_m3_s),
            second=f"now {view.text('flow', m.now_m3_s)}, about {m.opening * 100:.0f} % open then",
            key=("register", m.register),
        )
        for m in d.balance.moves[:MOVES_SHOWN]
    ]
    left = len(d.balance.moves) - len(rows)
    ends = f"then within {d.balance.worst * 100:.0f} %"
    return List_("Balance", f"{left} more, {ends}" if left else ends, tuple(rows))


def _percent(share: float) -> str:
    return f"{share * 100:.0f} %"


def _upper(words: str) -> str:
    return words[:1].upper() + words[1:]


# ---- residuals --------------------------------------------------------------------------------------------------------


def _residuals(view: View, d: Diagnosis) -> Picture:
    """Readings less model, in what they scatter: as designed, and with the likeliest explanation."""
    note = "○ as designed  ● explained"
    return Picture("Off, in scatters", note, 104, lambda p, r: _draw(p, r, view, d), d.fitted)


def _draw(p: QPainter, r: QRectF, view: View, d: Diagnosis) -> None:
    t, rows = view.theme, d.fitted.residuals
    most = max([MOST_OFF, *(abs(x.off) for x in rows), *(abs(x.off_designed) for x in rows)])
    left, right, top, foot = r.left() + 22, r.right() - 4, r.top() + 6, r.bottom() - 18
    step = (right - left) / max(len(rows), 1)

    def y(off: float) -> float:
        return (top + foot) / 2 - off / most * (foot - top) / 2

    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.fillRect(QRectF(left, y(1), right - left, y(-1) - y(1)), t("good_soft"))
    for off in (most, 0.0, -most):
        paint.text(p, left - 5, y(off) + 4, f"{off:+.0f}" if off else "0", 10.5, 500, t("ink3"), "r")
        _line(p, left, y(off), right, y(off), t("outline"))
    for k, x in enumerate(rows):
        at = left + step * (k + 0.5)
        _line(p, at, y(x.off_designed), at, y(x.off), t("ink3"))
        for off, filled in ((x.off_designed, False), (x.off, True)):
            p.setPen(t("fails") if abs(off) > 3 else t("ink"))
            p.setBrush((t("fails") if abs(off) > 3 else t("ink")) if filled else t("paper"))
            p.drawEllipse(QPointF(at, y(off)), 2.8, 2.8)
    by = [x for x in rows if x.place.quantity == "flow"]
    words = f"{len(by)} flows" if len(by) == len(rows) else f"{len(by)} flows, {len(rows) - len(by)} at the unit"
    paint.text(p, left, r.bottom() - 3, words, 10.5, 500, t("ink3"))
    worst = max(rows, key=lambda x: abs(x.off_designed))
    if abs(worst.off_designed) > 3:
        paint.text(p, right, r.bottom() - 3, f"farthest: {worst.place.short}", 10.5, 500, t("ink3"), "r")


def _line(p: QPainter, x0: float, y0: float, x1: float, y1: float, color: QColor) -> None:
    p.setPen(color)
    p.drawLine(QPointF(x0, y0), QPointF(x1, y1))
