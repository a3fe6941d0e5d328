"""Capacity against load over the outdoor temperature, with the hours of the year below it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from murvan.app import paint
from murvan.app.plan.labels import Labels, around
from murvan.app.stations.base import View
from murvan.arrays import Array
from murvan.design.units import Candidate, Curves


@dataclass(frozen=True)
class Chart:
    """The curves and where they are drawn."""

    plot: QRectF
    x: Curves
    top_w: float

    def at(self, temperature_c: float, watts: float) -> QPointF:
        share = (temperature_c - self.x.low_c) / (self.x.high_c - self.x.low_c)
        return QPointF(
            self.plot.left() + share * self.plot.width(), self.plot.bottom() - watts / self.top_w * self.plot.height()
        )

    def along(self, temperatures_c: Array, watts: Array) -> list[QPointF]:
        return [self.at(a, b) for a, b in zip(temperatures_c, watts, strict=True)]


def capacity(p: QPainter, r: QRectF, view: View, x: Candidate, found: Curves) -> None:
    """Capacity and load over outdoor temperature, balance point, and the hours of the year."""
    _titles(p, r, view, x)
    _legend(p, r, view)
    plot = QRectF(r.left() + 34, r.top() + 92, r.width() - 40, r.height() - 92 - 110)
    ld = view.s.loads
    k = Chart(plot, found, max(found.highest_w, ld.house_heating_w, ld.house_cooling_w) * 1.12)
    _grid(p, plot, view, k.top_w)
    _curves(p, view, k)
    flags = _design_points(p, view, k)
    flags.append(_balance(p, view, k, x))
    _words(p, view, k, x, flags)
    _bins(p, QRectF(plot.left(), plot.bottom() + 26, plot.width(), 46), view, x, found.low_c, found.high_c)
    _axis(p, plot, view, found.low_c, found.high_c, r)


def _titles(p: QPainter, r: QRectF, view: View, x: Candidate) -> None:
    t = view.theme
    title = f"{x.unit.maker} {x.unit.name} against the house"
    below = f"Capacity and load by outdoor temperature, {view.unit('kpower')}"
    paint.text(p, r.left(), r.top() + 22, title, 16, 700, t("ink"), width=r.width())
    paint.text(p, r.left(), r.top() + 42, below, 12, 500, t("ink2"), width=r.width())


def _curves(p: QPainter, view: View, k: Chart) -> None:
    """What the unit can do, from turned down to flat out, and what the house needs up to its design days."""
    t, climate, dash = view.theme, view.job.climate, Qt.PenStyle.DashLine
    p.save()
    p.setClipRect(k.plot.adjusted(-1, -20, 1, 2))
    heats = bool((k.x.most_heat_w > 0).any())
    if heats:
        _area(p, k.along(k.x.heat_c, k.x.most_heat_w), k.along(k.x.heat_c, k.x.least_heat_w), t("heat1"))
    _area(p, k.along(k.x.cool_c, k.x.most_cool_w), k.along(k.x.cool_c, k.x.least_cool_w), t("load1"))
    _shortfall(p, view, k)
    if heats:
        _line(p, k.along(k.x.heat_c, k.x.most_heat_w), QPen(t("heating"), 3))
        _line(p, k.along(k.x.heat_c, k.x.least_heat_w), QPen(t("heating"), 1.8, dash))
    _line(p, k.along(k.x.cool_c, k.x.most_cool_w), QPen(t("cooling"), 3))
    _line(p, k.along(k.x.cool_c, k.x.least_cool_w), QPen(t("cooling"), 1.8, dash))
    cold, warm = k.x.heat_c >= climate.winter_c, k.x.cool_c <= climate.summer_c
    if view.s.loads.house_heating_w > 0:
        _line(p, k.along(k.x.heat_c[cold], k.x.heat_need_w[cold]), QPen(t("ink"), 3))
    _line(p, k.along(k.x.cool_c[warm], k.x.cool_need_w[warm]), QPen(t("ink"), 3))
    p.restore()


def _design_points(p: QPainter, view: View, k: Chart) -> list[QRectF]:
    """The design days; returns where their flags stand."""
    out = []
    t, climate, ld = view.theme, view.job.climate, view.s.loads
    for temp, load in ((climate.winter_c, ld.house_heating_w), (climate.summer_c, ld.house_cooling_w)):
        foot = k.at(temp, 0)
        p.setPen(QPen(t("ink"), 1.4, Qt.PenStyle.DotLine))
        p.drawLine(QPointF(foot.x(), k.plot.top() - 4), foot)
        words = f"design {view.text('temperature', temp, 0)}"
        out.append(_flag(p, view, QPointF(foot.x(), k.plot.top() - 13), words, False, k.plot))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("ink"))
        if load > 0:
            p.drawEllipse(k.at(temp, load), 5, 5)
    return out


def _balance(p: QPainter, view: View, k: Chart, x: Candidate) -> QRectF:
    """The balance point; returns where its flag stands."""
    t = view.theme
    if x.balance_c is None or not k.x.low_c < x.balance_c < view.s.equipment.no_load_c:
        return QRectF()
    m = k.at(x.balance_c, float(np.interp(x.balance_c, k.x.heat_c, k.x.heat_need_w)))
    p.setPen(QPen(t("ink"), 1.4))
    p.drawLine(m, QPointF(m.x(), k.plot.bottom()))
    p.setBrush(t("select"))
    p.setPen(QPen(t("ink"), 1.8))
    p.drawEllipse(m, 8, 8)
    words = f"balance {view.text('temperature', x.balance_c, 0)}"
    return _flag(p, view, QPointF(m.x() + 66, m.y() - 14), words, True, k.plot)


def _legend(p: QPainter, r: QRectF, view: View) -> None:
    t = view.theme
    y, xx = r.top() + 52, r.left()
    for fill, word, hatched in (
        ("heat1", "can heat", None),
        ("load1", "can cool", None),
        ("paper", "electric backup", "heating"),
    ):
        box = QRectF(xx, y, 15, 12)
        p.setPen(QPen(t("outline"), 1))
        p.setBrush(t(fill))
        p.drawRect(box)
        if hatched:
            paint.hatch(p, box, t(hatched), 4, 1.3)
        xx += 21 + paint.text(p, xx + 21, y + 10.5, word, 12, 500, t("ink")) + 16


def _grid(p: QPainter, plot: QRectF, view: View, top_w: float) -> None:
    t = view.theme
    top = top_w / (1000 if view.units == "si" else 293.0711)
    if top <= 0 or not np.isfinite(top):
        return
    step = next(s * 10.0**k for k in range(12) for s in (1, 2, 5) if top / (s * 10.0**k) <= 6)
    v = 0.0
    while v <= top:
        y = plot.bottom() - v / top * plot.height()
        p.setPen(QPen(t("rule") if v else t("ink"), 1))
        p.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))
        paint.text(p, plot.left() - 8, y + 4.5, f"{v:,.0f}", 12, 500, t("ink2"), "r")
        v += step


def _area(p: QPainter, upper: list[QPointF], lower: list[QPointF], color: QColor) -> None:
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(color)
    p.drawPolygon(QPolygonF([*upper, *reversed(lower)]))


def _line(p: QPainter, points: list[QPointF], pen: QPen) -> None:
    p.setPen(pen)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPolyline(QPolygonF(points))


def _shortfall(p: QPainter, view: View, k: Chart) -> None:
    """Hatch between the load and what the unit can do, down to the design temperature."""
    keep = (k.x.heat_need_w > k.x.most_heat_w) & (k.x.heat_c >= view.job.climate.winter_c)
    if not keep.any():
        return
    path = QPainterPath()
    need, have = k.along(k.x.heat_c[keep], k.x.heat_need_w[keep]), k.along(k.x.heat_c[keep], k.x.most_heat_w[keep])
    path.addPolygon(QPolygonF([*need, *reversed(have)]))
    p.save()
    p.setClipPath(path, Qt.ClipOperation.IntersectClip)
    paint.hatch(p, path.boundingRect(), view.theme("heating"), 6, 1.4)
    p.restore()


def _flag(p: QPainter, view: View, c: QPointF, text: str, answer: bool, within: QRectF) -> QRectF:
    """A text in a box about a point, kept within a rectangle; returns the box."""
    t = view.theme
    w = paint.text_width(text, 12, 600) + 14
    x = min(max(c.x() - w / 2, within.left() - 20), within.right() - w + 6)
    box = QRectF(x, c.y() - 9, w, 18)
    paint.rounded(p, box, t("select") if answer else t("paper"), t("ink") if answer else t("outline"), 3, 1.2)
    paint.text(
        p,
        box.center().x(),
        box.center().y() + 4.4,
        text,
        12,
        700 if answer else 600,
        t("on_select") if answer else t("ink"),
        "c",
    )
    return box


class _Names:
    """Names of the chart's lines, each near its own line and over no line, flag or other name."""

    def __init__(self, p: QPainter, view: View, k: Chart, flags: list[QRectF]) -> None:
        self.p, self.theme = p, view.theme
        self.labels = Labels(k.plot.adjusted(2, 2, -2, -2))
        for flag in flags:
            self.labels.block(flag)

    def clear_of(self, points: list[QPointF]) -> None:
        """Keep names off a line."""
        self.labels.avoid_line(points, 5.0)

    def put(self, words: tuple[str, ...], along: list[QPointF], shares: tuple[float, ...], color: QColor) -> None:
        """A name beside a line, as near to the first of some shares of its way as it goes; left out where none is free."""
        if not along:
            return
        size = QSizeF(max(paint.text_width(w, 12.5, 600) for w in words) + 4, 15.0 * len(words))
        spots = [around(along[min(int(len(along) * x), len(along) - 1)], size, 3.0, 3) for x in shares]
        r = self.labels.place(size, np.concatenate(spots), worst=COVERED)
        if r is None:
            return
        for n, line in enumerate(words):
            paint.text(self.p, r.center().x(), r.top() + 11.5 + 15 * n, line, 12.5, 600, color, "c")


COVERED = 900.0
"""Cost of a place from which on a name would cover a line or another name."""


def _words(p: QPainter, view: View, k: Chart, x: Candidate, flags: list[QRectF]) -> None:
    """Lines named where they run, clear of lines, flags and each other."""
    t, climate, ld, c = view.theme, view.job.climate, view.s.loads, k.x
    heats, names = bool((c.most_heat_w > 0).any()), _Names(p, view, k, flags)
    cold, warm = c.heat_c >= climate.winter_c, c.cool_c <= climate.summer_c
    most_heat, least_heat = k.along(c.heat_c, c.most_heat_w), k.along(c.heat_c, c.least_heat_w)
    most_cool, least_cool = k.along(c.cool_c, c.most_cool_w), k.along(c.cool_c, c.least_cool_w)
    need_heat, need_cool = k.along(c.heat_c[cold], c.heat_need_w[cold]), k.along(c.cool_c[warm], c.cool_need_w[warm])
    for curve in (*((most_heat, least_heat) if heats else ()), most_cool, least_cool, need_heat, need_cool):
        names.clear_of(curve)
    for day_c in (climate.winter_c, climate.summer_c):
        names.clear_of([k.at(day_c, 0), k.at(day_c, k.top_w)])
    if x.backup_w > 100:
        at = k.at(climate.winter_c, (x.heating_w + ld.house_heating_w) / 2)
        backup = ("backup", view.num("kpower", x.backup_w))
        names.put(
            backup, [at + QPointF(-4, 0), at + QPointF(-4, 22), at + QPointF(-4, -22)], (0.0, 0.4, 0.8), t("heating")
        )
    names.put(("cooling, flat out",), most_cool, (0.4, 0.55, 0.3, 0.7), t("cooling"))
    if heats:
        names.put(("heating, flat out",), most_heat, (0.72, 0.86, 0.5, 0.3), t("heating"))
        if x.unit.stages != "single":
            names.put(("turned down",), least_heat, (0.5, 0.3, 0.7, 0.15, 0.85), t("heating"))
    if ld.house_heating_w > 0:
        names.put(("house",), need_heat, (0.35, 0.2, 0.5, 0.65), t("ink"))
    if ld.house_cooling_w > 0:
        names.put(("house",), need_cool, (0.5, 0.65, 0.35, 0.8), t("ink"))


def _bins(p: QPainter, r: QRectF, view: View, x: Candidate, low_c: float, high_c: float) -> None:
    """Hours of the year by outdoor temperature; deep where backup helps."""
    t, cl = view.theme, view.job.climate
    hours = np.array(cl.bin_hours)
    if len(hours) == 0:
        paint.text(p, r.left(), r.bottom(), "no hours by temperature in this climate", 12, 500, t("ink2"))
        return
    top = float(hours.max())
    off = view.s.equipment.no_load_c
    for k, h in enumerate(hours):
        a = cl.bin_start_c + k * cl.bin_step_k
        mid = a + cl.bin_step_k / 2
        if not low_c <= a < high_c - 0.1:
            continue
        x0 = r.left() + (a - low_c) / (high_c - low_c) * r.width()
        w = cl.bin_step_k / (high_c - low_c) * r.width()
        hgt = (r.height() - 4) * h / top
        short = x.balance_c is not None and mid < x.balance_c
        p.fillRect(
            QRectF(x0, r.bottom() - hgt, w - 1.5, hgt),
            t("heating") if short else t("heat2") if mid < off else t("load2"),
        )
    p.setPen(QPen(t("ink"), 1))
    p.drawLine(QPointF(r.left(), r.bottom()), QPointF(r.right(), r.bottom()))


def _axis(p: QPainter, plot: QRectF, view: View, low_c: float, high_c: float, r: QRectF) -> None:
    t = view.theme
    y = plot.bottom() + 16
    ip = view.units == "ip"
    step = 10 if ip else 5
    v = -60
    while v <= 130:
        c = (v - 32) / 1.8 if ip else float(v)
        if low_c <= c <= high_c:
            paint.text(
                p, plot.left() + (c - low_c) / (high_c - low_c) * plot.width(), y, str(v), 12, 500, t("ink2"), "c"
            )
        v += step
    x = view.s.equipment
    shown = next((k for k in x.candidates if k.unit.id == view.selected("unit")), x.chosen)
    yy = plot.bottom() + 92
    xx = r.left()
    xx += paint.text(p, xx, yy, "Hours a year:", 12.5, 700, t("ink")) + 12
    if shown is not None:
        xx += (
            paint.value_unit(
                p, xx, yy, view.num("hours", shown.backup_hours), "backup helps", 12.5, 700, t("heating"), t("ink")
            )
            + 16
        )
        paint.value_unit(
            p, xx, yy, view.num("hours", shown.cycling_hours), "cycles on and off", 12.5, 700, t("ink"), t("ink")
        )
    paint.text(p, r.right() + 8, yy, f"{view.unit('temperature')} outdoors", 12, 500, t("ink2"), "r")
