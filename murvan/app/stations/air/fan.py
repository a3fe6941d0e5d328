"""The blower table of Air: flow by tap under a static scale, with where it works."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.stations.base import View
from murvan.design.limits import ROUNDED, exceeds
from murvan.model.equipment import Blower


def fan_table(p: QPainter, r: QRectF, view: View) -> None:
    """Blower flow by tap under a static scale, with where it works."""
    unit = view.s.unit
    assert unit is not None
    statics = unit.blower.static_pa
    left, right = r.left() + 52, r.right() - 150

    def x_of(pa: float) -> float:
        return left + (pa - statics[0]) / (statics[-1] - statics[0]) * (right - left - 20) + 10

    _fan_scale(p, r, view, unit.blower, x_of, (left, right))
    taps = len(unit.blower.taps_m3_s)
    near = {max(1, min(k, taps)) for k in (view.indoor.tap + 1, view.indoor.tap, view.indoor.tap - 1)}
    for k, tap in enumerate(sorted(near, reverse=True)):
        _fan_row(p, r, view, unit.blower, x_of, tap, 58 + 17 * k)


XOf = Callable[[float], float]


def _fan_scale(p: QPainter, r: QRectF, view: View, fan: Blower, x_of: XOf, ends: tuple[float, float]) -> None:
    """The static scale with the limit, and where the blower works with a clean and a loaded filter."""
    t, b, limit = view.theme, view.s.blower, fan.limit_pa
    left, right = ends
    paint.text(p, r.left(), 38, "Tap", 12, 500, t("ink2"))
    paint.text(p, r.left(), 18, view.unit("pressure"), 12, 500, t("ink2"))
    for end, color, width in ((x_of(limit), "ink", 3), (right, "outline", 1)):
        p.setPen(QPen(t(color), width))
        p.drawLine(QPointF(left, 24), QPointF(end, 24))
    for s in fan.static_pa:
        paint.text(p, x_of(s), 38, view.num("pressure", s), 12, 500, t("ink2"), "c")
    p.fillRect(QRectF(x_of(limit) - 1, 12, 3, 20), t("ink"))
    loaded = f"loaded {view.num('pressure', float(b.external_static_pa[2]))}" if b is not None else ""
    # the two stand beside each other where their places are near
    free = x_of(float(b.external_static_pa[2])) + paint.text_width(loaded, 12, 600) + 20 if b is not None else 0.0
    paint.text(p, max(x_of(limit) + 8, free), 17, f"limit {view.num('pressure', limit)}", 12, 600, t("ink"))
    paint.text(p, r.right(), 38, f"here, {view.unit('flow')}", 12, 500, t("ink2"), "r")
    for k, word, fill, weight, align, off in (
        (0, "clean", "select", 700, "r", -10),
        (2, "loaded", "paper", 600, "l", 10),
    ):
        if b is None:
            return
        static = float(b.external_static_pa[k])
        x = x_of(static)
        p.setPen(QPen(t("ink"), 1.4))
        p.setBrush(t(fill))
        p.drawPolygon(QPolygonF([QPointF(x - 6, 10), QPointF(x + 6, 10), QPointF(x, 22)]))
        paint.text(p, x + off, 17, f"{word} {view.num('pressure', static)}", 12, weight, t("ink"), align)


def _fan_row(p: QPainter, r: QRectF, view: View, fan: Blower, x_of: XOf, tap: int, y: float) -> None:
    """Flow of one tap by static; the tap in use with where it works."""
    t, b, on = view.theme, view.s.blower, tap == view.indoor.tap
    if on:
        p.fillRect(QRectF(r.left() - 6, y - 13, r.width() + 10, 17), t("select"))
    ink = t("on_select") if on else t("ink")
    paint.text(p, r.left(), y, str(tap), 12.5, 700, ink)
    for s, q in zip(fan.static_pa, fan.taps_m3_s[tap - 1], strict=True):
        beyond = exceeds(s, fan.limit_pa, ROUNDED)
        paint.text(p, x_of(s), y, view.num("flow", q), 12, 500, ink if on or not beyond else t("ink3"), "c")
    if on and b is not None:
        here = f"{view.num('flow', float(b.flow_m3_s[0]))} at {view.num('pressure', float(b.external_static_pa[0]))}"
        paint.text(p, r.right(), y, here, 12.5, 700, ink, "r")
