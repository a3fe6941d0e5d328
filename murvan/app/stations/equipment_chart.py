"""Capacity against load over the outdoor temperature, with the hours of the year below it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from murvan.app import paint
from murvan.app.stations.base import View
from murvan.design.system.equipment import Candidate, cooling_capacity, heating_capacity, load_line


def capacity(p: QPainter, r: QRectF, view: View, x: Candidate) -> None:
    """Capacity and load over outdoor temperature, balance point, and the hours of the year."""
    t, c, ld, e, job = view.theme, view.r.conditions, view.s.loads, view.s.equipment, view.job
    paint.text(
        p,
        r.left(),
        r.top() + 22,
        f"{x.unit.maker} {x.unit.name} against the house",
        16,
        700,
        t("ink"),
        width=r.width(),
    )
    paint.text(
        p,
        r.left(),
        r.top() + 42,
        f"Capacity and load by outdoor temperature, {view.unit('kpower')}",
        12,
        500,
        t("ink2"),
        width=r.width(),
    )
    _legend(p, r, view)
    plot = QRectF(r.left() + 34, r.top() + 92, r.width() - 40, r.height() - 92 - 110)
    low_c = min(job.climate.winter_c - 8, -18.0)
    high_c = max(job.climate.summer_c + 5, 38.0)
    cool_t = np.linspace(e.no_load_c, high_c, 40)
    heat_t = np.linspace(low_c, e.no_load_c, 60)
    hi, lo, _ = heating_capacity(x.unit, heat_t, c.density_kg_m3, c.burner_share)
    cool_rows = np.array(
        [cooling_capacity(x.unit, float(v), x.entering, x.flow_m3_s, c.density_kg_m3)[0] for v in cool_t]
    )
    need_h, _ = load_line(c, ld, e.no_load_c, heat_t)
    _, need_c = load_line(c, ld, e.no_load_c, cool_t)
    top = (
        max(float(hi.max(initial=0)), float(cool_rows.max(initial=0)), ld.house_heating_w, ld.house_cooling_w) * 1.12
    )

    def at(temp: float, watts: float) -> QPointF:
        return QPointF(
            plot.left() + (temp - low_c) / (high_c - low_c) * plot.width(),
            plot.bottom() - watts / top * plot.height(),
        )

    _grid(p, plot, view, top)
    p.save()
    p.setClipRect(plot.adjusted(-1, -20, 1, 2))
    _area(
        p,
        [at(a, b) for a, b in zip(heat_t, hi, strict=True)],
        [at(a, b) for a, b in zip(heat_t, lo, strict=True)],
        t("heat1"),
    )
    _area(
        p,
        [at(a, b) for a, b in zip(cool_t, cool_rows, strict=True)],
        [at(a, b * x.unit.cooling.min_fraction) for a, b in zip(cool_t, cool_rows, strict=True)],
        t("load1"),
    )
    _shortfall(p, view, heat_t, need_h, hi, at)
    _line(p, [at(a, b) for a, b in zip(heat_t, hi, strict=True)], QPen(t("heating"), 3))
    _line(p, [at(a, b) for a, b in zip(heat_t, lo, strict=True)], QPen(t("heating"), 1.8, Qt.PenStyle.DashLine))
    _line(p, [at(a, b) for a, b in zip(cool_t, cool_rows, strict=True)], QPen(t("cooling"), 3))
    _line(
        p,
        [at(a, b * x.unit.cooling.min_fraction) for a, b in zip(cool_t, cool_rows, strict=True)],
        QPen(t("cooling"), 1.8, Qt.PenStyle.DashLine),
    )
    inside = heat_t >= job.climate.winter_c
    _line(p, [at(a, b) for a, b, k in zip(heat_t, need_h, inside, strict=True) if k], QPen(t("ink"), 3))
    inside_c = cool_t <= job.climate.summer_c
    _line(p, [at(a, b) for a, b, k in zip(cool_t, need_c, inside_c, strict=True) if k], QPen(t("ink"), 3))
    p.restore()
    for temp, word, load in (
        (job.climate.winter_c, "design", ld.house_heating_w),
        (job.climate.summer_c, "design", ld.house_cooling_w),
    ):
        a, b = at(temp, top), at(temp, 0)
        p.setPen(QPen(t("ink"), 1.4, Qt.PenStyle.DotLine))
        p.drawLine(QPointF(a.x(), plot.top() - 4), b)
        _flag(p, view, QPointF(a.x(), plot.top() - 13), f"{word} {view.text('temperature', temp, 0)}", False, plot)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("ink"))
        p.drawEllipse(at(temp, load), 5, 5)
    taken = QRectF()
    if x.balance_c is not None and low_c < x.balance_c < e.no_load_c:
        m = at(x.balance_c, float(np.interp(x.balance_c, heat_t, need_h)))
        p.setPen(QPen(t("ink"), 1.4))
        p.drawLine(m, QPointF(m.x(), plot.bottom()))
        p.setBrush(t("select"))
        p.setPen(QPen(t("ink"), 1.8))
        p.drawEllipse(m, 8, 8)
        words = f"balance {view.text('temperature', x.balance_c, 0)}"
        taken = _flag(p, view, QPointF(m.x() + 66, m.y() - 14), words, True, plot)
    _words(p, view, plot, at, heat_t, hi, lo, cool_t, cool_rows, x, taken)
    _bins(p, QRectF(plot.left(), plot.bottom() + 26, plot.width(), 46), view, x, low_c, high_c)
    _axis(p, plot, view, low_c, high_c, r)


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


def _shortfall(
    p: QPainter,
    view: View,
    temps: np.ndarray,
    need: np.ndarray,
    hi: np.ndarray,
    at: Callable[[float, float], QPointF],
) -> None:
    """Hatch between the load and what the unit can do, down to the design temperature."""
    keep = (need > hi) & (temps >= view.job.climate.winter_c)
    if not keep.any():
        return
    a, b, c = temps[keep], need[keep], hi[keep]
    path = QPainterPath()
    path.addPolygon(
        QPolygonF(
            [
                *(at(x, y) for x, y in zip(a, b, strict=True)),
                *(at(x, y) for x, y in zip(a[::-1], c[::-1], strict=True)),
            ]
        )
    )
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


def _words(
    p: QPainter,
    view: View,
    plot: QRectF,
    at: Callable[[float, float], QPointF],
    heat_t: np.ndarray,
    hi: np.ndarray,
    lo: np.ndarray,
    cool_t: np.ndarray,
    cool: np.ndarray,
    x: Candidate,
    taken: QRectF,
) -> None:
    """Lines named where they run, clear of the balance point's flag."""
    t = view.theme
    half = paint.text_width("heating, flat out", 12.5, 600) / 2
    curve = [at(a, b) for a, b in zip(heat_t, hi, strict=True)]
    for share, above in ((0.72, True), (0.86, True), (0.72, False), (0.5, False)):
        x0 = curve[int(len(curve) * share)].x()
        along = [q.y() for q in curve if abs(q.x() - x0) <= half]
        y0 = min(along) - 6 if above else max(along) + 16
        if not taken.intersects(QRectF(x0 - half, y0 - 13, 2 * half, 17)):
            break
    paint.text(p, x0, y0, "heating, flat out", 12.5, 600, t("heating"), "c")
    a = at(heat_t[int(len(heat_t) * 0.5)], lo[int(len(heat_t) * 0.5)])
    if x.unit.stages != "single":
        paint.text(p, a.x(), a.y() + 16, "turned down", 12.5, 600, t("heating"), "c")
    a = at(cool_t[14], cool[14])
    paint.text(p, min(a.x(), plot.right() - 60), a.y() - 10, "cooling, flat out", 12.5, 600, t("cooling"), "c")
    winter, summer = view.job.climate.winter_c, view.job.climate.summer_c
    off = view.s.equipment.no_load_c
    a = at(winter + 0.42 * (off - winter), 0.58 * view.s.loads.house_heating_w)
    paint.text(p, a.x() - 10, a.y() + 12, "house", 12.5, 600, t("ink"), "r")
    a = at(off + 0.6 * (summer - off), 0.6 * view.s.loads.house_cooling_w)
    paint.text(p, a.x() - 8, a.y(), "house", 12.5, 600, t("ink"), "r")
    if x.backup_w > 100:
        a = at(winter, (x.heating_w + view.s.loads.house_heating_w) / 2)
        paint.text(p, a.x() - 6, a.y() - 4, "backup", 12.5, 600, t("heating"), "r")
        paint.text(p, a.x() - 6, a.y() + 11, view.num("kpower", x.backup_w), 12.5, 700, t("heating"), "r")


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
