"""Capacity against load over the outdoor temperature, with the hours of the year below it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from murvan.app import paint
from murvan.app.stations.base import View
from murvan.design.system.equipment import Candidate, Curves

Array = NDArray[np.float64]


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
    _design_points(p, view, k)
    taken = _balance(p, view, k, x)
    _words(p, view, k, x, taken)
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


def _design_points(p: QPainter, view: View, k: Chart) -> None:
    t, climate, ld = view.theme, view.job.climate, view.s.loads
    for temp, load in ((climate.winter_c, ld.house_heating_w), (climate.summer_c, ld.house_cooling_w)):
        foot = k.at(temp, 0)
        p.setPen(QPen(t("ink"), 1.4, Qt.PenStyle.DotLine))
        p.drawLine(QPointF(foot.x(), k.plot.top() - 4), foot)
        words = f"design {view.text('temperature', temp, 0)}"
        _flag(p, view, QPointF(foot.x(), k.plot.top() - 13), words, False, k.plot)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("ink"))
        if load > 0:
            p.drawEllipse(k.at(temp, load), 5, 5)


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


def _words(p: QPainter, view: View, k: Chart, x: Candidate, taken: QRectF) -> None:
    """Lines named where they run, clear of the balance point's flag and of each other."""
    t = view.theme
    if bool((k.x.most_heat_w > 0).any()):
        _heating_words(p, view, k, taken)
    a = k.at(k.x.cool_c[14], k.x.most_cool_w[14])
    paint.text(p, min(a.x(), k.plot.right() - 60), a.y() - 10, "cooling, flat out", 12.5, 600, t("cooling"), "c")
    houses = _house_words(p, view, k)
    if x.unit.stages != "single" and bool((k.x.most_heat_w > 0).any()):
        _turned_down(p, view, k, houses)
    if x.backup_w > 100:
        a = k.at(view.job.climate.winter_c, (x.heating_w + view.s.loads.house_heating_w) / 2)
        paint.text(p, a.x() - 6, a.y() - 4, "backup", 12.5, 600, t("heating"), "r")
        paint.text(p, a.x() - 6, a.y() + 11, view.num("kpower", x.backup_w), 12.5, 700, t("heating"), "r")


def _heating_words(p: QPainter, view: View, k: Chart, taken: QRectF) -> None:
    """The upper heating line named, clear of the balance point's flag."""
    half = paint.text_width("heating, flat out", 12.5, 600) / 2
    curve = k.along(k.x.heat_c, k.x.most_heat_w)
    for share, above in ((0.72, True), (0.86, True), (0.72, False), (0.5, False)):
        x0 = curve[int(len(curve) * share)].x()
        along = [q.y() for q in curve if abs(q.x() - x0) <= half]
        y0 = min(along) - 6 if above else max(along) + 16
        if not taken.intersects(QRectF(x0 - half, y0 - 13, 2 * half, 17)):
            break
    paint.text(p, x0, y0, "heating, flat out", 12.5, 600, view.theme("heating"), "c")


def _house_words(p: QPainter, view: View, k: Chart) -> list[QRectF]:
    """The house's lines named; returns where."""
    climate, ld, off = view.job.climate, view.s.loads, view.s.equipment.no_load_c
    heat = k.at(climate.winter_c + 0.42 * (off - climate.winter_c), 0.58 * ld.house_heating_w) + QPointF(-10, 12)
    cool = k.at(off + 0.6 * (climate.summer_c - off), 0.6 * ld.house_cooling_w) - QPointF(8, 0)
    w = paint.text_width("house", 12.5, 600)
    shown = ((heat, ld.house_heating_w), (cool, ld.house_cooling_w))
    for at in (q for q, load in shown if load > 0):
        paint.text(p, at.x(), at.y(), "house", 12.5, 600, view.theme("ink"), "r")
    return [QRectF(at.x() - w, at.y() - 12, w, 16) for at in (heat, cool)]


def _turned_down(p: QPainter, view: View, k: Chart, taken: list[QRectF]) -> None:
    """The lower line named below it, where no other word stands."""
    half = paint.text_width("turned down", 12.5, 600) / 2
    for share in (0.5, 0.3, 0.7, 0.15, 0.85):
        i = int(len(k.x.heat_c) * share)
        a = k.at(k.x.heat_c[i], k.x.least_heat_w[i])
        if not any(r.intersects(QRectF(a.x() - half, a.y() + 4, 2 * half, 16)) for r in taken):
            break
    paint.text(p, a.x(), a.y() + 16, "turned down", 12.5, 600, view.theme("heating"), "c")


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
