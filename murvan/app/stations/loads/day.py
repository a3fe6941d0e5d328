"""The design day at the Loads station: the strip of 24 hours, and how peaks and methods compare."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.stations.base import List_, ListRow, Strip, View, room_index
from murvan.design.explain import MONTH_WORDS, Apart, room_apart, thumb_w
from murvan.design.limits import METHODS_ALIKE
from murvan.design.loads import COLUMN, COMPONENT_WORDS, COMPONENTS, Peak


def when(month: int, hour: int) -> str:
    """'15:00, 21 Aug'."""
    return f"{hour}:00, 21 {MONTH_WORDS[month - 1][:3]}"


def percent(share: float) -> str:
    return f"{share:.0%}".replace("%", " %")


def peaks(view: View, i: int) -> List_:
    """The room at its own highest hour, its zone's and the house's, and by load factors."""
    ld, room = view.r.loads, view.job.rooms[i]
    own, factors = float(ld.sensible_w[i]), float(view.r.factors.sensible_w[i])
    parts = ld.sensible_parts[i]
    driver = COMPONENT_WORDS[COMPONENTS[int(parts.argmax())]].lower() if own > 1 else "nothing"

    def at(peak: Peak) -> str:
        return view.num("power", max(float(ld.rooms_by_hour_w[ld.at(peak.month), i, peak.hour - 1]), 0.0))

    unit = view.unit("power")
    zone = next((p for z, p in zip(view.job.design.zones, ld.zones, strict=True) if room.id in z.rooms), None)
    label = f"Own, {when(int(ld.peak_month[i]), int(ld.peak_hour[i]))}"
    rows = [ListRow(label, view.num("power", own), unit, second=f"most of it {driver}", bold=True)]
    if zone is not None:
        rows.append(ListRow(f"{zone.name}, {when(zone.month, zone.hour)}", at(zone), unit))
    rows.append(ListRow(f"House, {when(ld.house.month, ld.house.hour)}", at(ld.house), unit))
    rows.append(ListRow("By load factors", view.num("power", factors), unit, second=why_apart(room_apart(view.r, i))))
    return List_("When it peaks", "sensible", tuple(rows))


def why_apart(apart: Apart | None) -> str:
    """The difference of the methods in words."""
    if apart is None:
        return ""
    share, side = percent(abs(apart.share)), apart.side
    if abs(apart.share) <= METHODS_ALIKE:
        return f"{share} {side} the balance"
    return f"{share} {side}, most by {COMPONENT_WORDS[apart.component].lower()}"


def methods(view: View) -> List_:
    """The house by three methods; only the first is used."""
    ld, f = view.r.loads, view.r.factors
    thumb = thumb_w(view.r)
    unit = view.unit("kpower")
    total = ld.house_cooling_w

    def row(label: str, watts: float, second: str, bold: bool = False) -> ListRow:
        return ListRow(label, view.num("kpower", watts), unit, second=second, bold=bold)

    def apart(watts: float) -> str:
        return f"{percent(abs(watts / total - 1))} {'above' if watts > total else 'below'}" if total > 1 else ""

    rooms = float(ld.cooling_w.sum())
    factors = f.house_sensible_w + f.house_latent_w
    return List_(
        "The house, three ways",
        "sensible + latent",
        (
            row(f"Heat balance, {when(ld.house.month, ld.house.hour)}", total, "the design load", True),
            row("Sum of all rooms' peaks", rooms, f"{apart(rooms)}: rooms do not peak together"),
            row("Load factors", factors, f"{apart(factors)}: second opinion"),
            row("Rule of thumb", thumb, f"{apart(thumb)}: floor per ton, never used"),
        ),
    )


def day_strip(view: View, month: int, take_month: Callable[[View, int], None]) -> Strip:
    """The house's 24 hours on the day shown, stacked by component."""
    ld = view.r.loads
    whole = ld.house_by_hour_w
    if not view.job.rooms or float(whole.max(initial=0.0)) <= 0:
        return Strip("Design day", "–", ("nothing to cool",), lambda p, r: None)
    i = room_index(view)

    def draw(p: QPainter, r: QRectF) -> None:
        _day(p, r, view, i, month)

    def click(x: float, y: float, r: QRectF) -> None:
        picked = _month_at(view, x, y, r)
        if picked:
            take_month(view, picked)
        else:
            view.act.set_hour(min(max(int((x - r.left() - 14) / (r.width() - 14) * 24) + 1, 1), 24))

    return Strip(
        f"House peak, 21 {MONTH_WORDS[ld.house.month - 1][:3]}",
        f"{ld.house.hour}:00",
        (
            f"{view.text('kpower', ld.house_sensible_w)} sensible",
            f"factors say {view.num('kpower', view.r.factors.house_sensible_w)}",
        ),
        lambda p, r: _hours(p, r, view),
        keys=("[", "]"),
        click=click,
        still=draw,
        still_key=(ld, month, i, view.units),
    )


GROUPS: tuple[tuple[str, tuple[str, ...], str], ...] = (
    ("Glass", tuple(c for c in COMPONENTS if c.startswith("glass")), "sun"),
    ("Roof", ("ceiling",), "load4"),
    ("Walls, doors", ("walls", "doors", "garage"), "load3"),
    ("Floor", ("floor",), "garage"),
    ("Outdoor air", ("leakage", "fresh_air"), "load2"),
    ("People, appliances", ("people", "appliances"), "inner"),
)
"""Components of the hour chart, from the ground up."""


TAB = 38.0


def _month_at(view: View, x: float, y: float, r: QRectF) -> int | None:
    """Month whose tab lies at a point of the strip."""
    months = view.r.loads.months
    k = int((x - (r.right() - TAB * len(months))) // TAB)
    return months[k] if 4 <= y <= 23 and 0 <= k < len(months) else None


def _plot(r: QRectF) -> tuple[QRectF, float, float]:
    """The chart without its scale, and the heights of its top and its ground."""
    return r.adjusted(14, 0, 0, 0), 32.0, r.bottom() - 16


def _hours(p: QPainter, r: QRectF, view: View) -> None:
    """The hour shown, and the numbers of the hours."""
    t = view.theme
    r, _, _ = _plot(r)
    step = r.width() / 24
    for h in range(24):
        left, on = r.left() + h * step, h + 1 == view.hour
        if on:
            p.fillRect(QRectF(left, 27, step, r.height() - 27), t("select"))
        if (h + 1) % 3 == 0 or on:
            color = t("on_select") if on else t("ink2")
            paint.text(p, left + step / 2, r.bottom() - 3, str(h + 1), 11.5, 700 if on else 500, color, "c")


def _day(p: QPainter, r: QRectF, view: View, room: int, month: int) -> None:
    """24 bars of the house's sensible load by component, its total, and when the selected room peaks."""
    t, ld = view.theme, view.r.loads
    _tabs(p, r, view, month)
    _key(p, r, view, month)
    r, top, bottom = _plot(r)
    parts = _groups(view, month)
    highest = max(float(np.maximum(ld.parts_by_hour_w.sum(axis=1), 0).sum(axis=1).max()), 1.0)
    step = r.width() / 24
    p.setPen(QPen(t("rule"), 1))
    for share in (0.5, 1.0):
        y = bottom - (bottom - top) * share
        p.drawLine(int(r.left()), int(y), int(r.right()), int(y))
        label = view.num("kpower", highest * share, 0 if view.units == "ip" else 1)
        paint.text(p, r.left() - 4, y + 4, label, 11, 500, t("ink3"), "r")
    whole = ld.house_by_hour_w[month]
    own = int(ld.peak_hour[room]) if int(ld.peak_month[room]) == ld.months[month] else 0
    tall = (bottom - top) * np.maximum([values for _, values, _ in parts], 0.0) / highest
    upper = bottom - np.cumsum(tall, axis=0)
    lefts = r.left() + step * np.arange(24)
    p.setPen(Qt.PenStyle.NoPen)
    for (_, _, role), tops, heights in zip(parts, upper.tolist(), tall.tolist(), strict=True):
        p.setBrush(t(role))
        bars = zip(lefts.tolist(), tops, heights, strict=True)
        p.drawRects(*(QRectF(x + 3, y, step - 6, h) for x, y, h in bars))
    totals = (bottom - top) * np.maximum(whole, 0.0) / highest
    line = QPolygonF([QPointF(x + step / 2, bottom - y) for x, y in zip(lefts, totals, strict=True)])
    if own:
        left = r.left() + (own - 1) * step
        p.setPen(QPen(t("ink"), 2))
        p.drawLine(QPointF(left + 2, bottom + 2), QPointF(left + step - 2, bottom + 2))
    p.setBrush(Qt.BrushStyle.NoBrush)
    for color, width in ((t("paper"), 4.5), (t("ink"), 2.2)):
        p.setPen(QPen(color, width))
        p.drawPolyline(line)
    p.setPen(QPen(t("ink"), 1))
    p.drawLine(int(r.left()), int(bottom), int(r.right()), int(bottom))


def _groups(view: View, month: int) -> list[tuple[str, np.ndarray, str]]:
    """(name, 24 values, colour role) of the stacked parts."""
    day = view.r.loads.parts_by_hour_w[month]
    return [(n, day[:, [COLUMN[c] for c in cs]].sum(axis=(0, 1)), role) for n, cs, role in GROUPS]


def _tabs(p: QPainter, r: QRectF, view: View, month: int) -> None:
    """The months looked at; a click shows that day."""
    t, months = view.theme, view.r.loads.months
    for k, m in enumerate(months):
        box = QRectF(r.right() - TAB * (len(months) - k), 5, TAB - 3, 18)
        on = k == month
        paint.rounded(p, box, t("select") if on else t("paper"), t("outline"), 3)
        color = t("on_select") if on else t("ink2")
        paint.text(p, box.center().x(), 18, MONTH_WORDS[m - 1][:3], 12, 700 if on else 500, color, "c")


def _key(p: QPainter, r: QRectF, view: View, month: int) -> None:
    """What the colours are, as far as there is room."""
    t = view.theme
    end = r.right() - TAB * len(view.r.loads.months) - 10
    x = r.left()
    for name, values, role in _groups(view, month):
        need = 17 + paint.text_width(name, 12, 500) + 10
        if x + need > end or float(np.maximum(values, 0).max()) <= 0:
            continue
        p.fillRect(QRectF(x, 8, 11, 11), t(role))
        paint.text(p, x + 16, 18, name, 12, 500, t("ink2"))
        x += need
