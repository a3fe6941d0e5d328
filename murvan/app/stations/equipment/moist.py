"""The air through the coil on a psychrometric picture, with its states beside it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.stations.base import View
from murvan.design.units import Candidate, CoilAir, State
from murvan.units import shown

ROW = 21.0
LEAST_RATIO = 0.016
CLOSE = 0.8
"""The curve that lies too near the next one for a word of its own."""
STATES = (
    ("Outdoors", "outdoors", "sun"),
    ("Rooms", "room", "ink"),
    ("Enters", "entering", "return"),
    ("Leaves", "leaving", "supply"),
)


@dataclass(frozen=True)
class Axes:
    """Dry bulb to the right, moisture up."""

    plot: QRectF
    low_c: float
    high_c: float
    top: float
    """Humidity ratio at the upper edge, kg/kg."""

    def at(self, temperature_c: float, ratio: float) -> QPointF:
        share = (temperature_c - self.low_c) / (self.high_c - self.low_c)
        return QPointF(
            self.plot.left() + share * self.plot.width(), self.plot.bottom() - ratio / self.top * self.plot.height()
        )

    def of(self, x: State) -> QPointF:
        return self.at(x.temperature_c, x.humidity_ratio)


def moist(p: QPainter, r: QRectF, view: View, x: Candidate, found: CoilAir) -> None:
    """States and curves, and a table of what they are."""
    t = view.theme
    paint.text(p, r.left(), r.top() + 22, f"Air through the {x.unit.name}", 16, 700, t("ink"), width=r.width())
    below = f"Cooling at design, {view.text('flow', x.flow_m3_s)}; moisture {view.unit('moisture')} over dry bulb {view.unit('temperature')}"
    paint.text(p, r.left(), r.top() + 42, below, 12, 500, t("ink2"), width=r.width())
    table = 26 + ROW * len(STATES)
    plot = QRectF(r.left() + 6, r.top() + 60, r.width() - 50, r.height() - 60 - 34 - table - 14)
    airs = [getattr(found, name) for _, name, _ in STATES]
    high = max(found.dry_bulb_c[-1], *(a.temperature_c + 2 for a in airs))
    low = min(found.dry_bulb_c[0], *(a.temperature_c - 2 for a in airs))
    k = Axes(plot, low, high, max(LEAST_RATIO, *(a.humidity_ratio * 1.15 for a in airs)))
    _grid(p, view, k)
    _humidity(p, view, k, found)
    _process(p, view, k, found)
    _table(p, QRectF(r.left(), plot.bottom() + 34, r.width(), table), view, found)


def _grid(p: QPainter, view: View, k: Axes) -> None:
    t, plot = view.theme, k.plot
    p.setPen(QPen(t("ink"), 1))
    p.drawLine(plot.bottomLeft(), plot.bottomRight())
    p.drawLine(plot.bottomRight(), plot.topRight())
    for figure, at in _steps(view, "temperature", k.low_c, k.high_c):
        q = k.at(at, 0)
        p.setPen(QPen(t("rule"), 1))
        p.drawLine(QPointF(q.x(), plot.top()), q)
        paint.text(p, q.x(), plot.bottom() + 17, f"{figure:.0f}", 12, 500, t("ink2"), "c")
    for figure, at in _steps(view, "moisture", 0.0, k.top):
        q = k.at(k.high_c, at)
        p.setPen(QPen(t("rule"), 1))
        p.drawLine(QPointF(plot.left(), q.y()), q)
        paint.text(p, plot.right() + 8, q.y() + 4.5, f"{figure:.0f}", 12, 500, t("ink2"))


def _steps(view: View, kind: str, low: float, high: float) -> Iterable[tuple[float, float]]:
    """Round figures in the user's measure and where they lie, SI."""
    a, b = shown(kind, low, view.units), shown(kind, high, view.units)
    step = next(s for s in (1, 2, 5, 10, 20, 50, 100) if (b - a) / s <= 8)
    n = -(-a // step) * step
    while n <= b:
        yield n, low + (n - a) / (b - a) * (high - low)
        n += step


def _humidity(p: QPainter, view: View, k: Axes, found: CoilAir) -> None:
    t = view.theme
    p.save()
    p.setClipRect(k.plot)
    for rh, ratios in found.humidity:
        way = [k.at(c, w) for c, w in zip(found.dry_bulb_c, ratios, strict=True)]
        p.setPen(QPen(t("ink" if rh == 1 else "outline"), 2.2 if rh == 1 else 1))
        p.drawPolyline(QPolygonF(way))
        inside = [q for q in way if q.y() > k.plot.top() + 14 and q.x() < k.plot.right() - 6]
        if inside and rh != CLOSE:
            paint.text(p, inside[-1].x() - 4, inside[-1].y() - 3, f"{rh * 100:.0f} %", 11.5, 500, t("ink2"), "r")
    p.restore()


def _process(p: QPainter, view: View, k: Axes, found: CoilAir) -> None:
    t = view.theme
    p.setPen(QPen(t("outline"), 1.6, Qt.PenStyle.DashLine))
    p.drawLine(k.of(found.room), k.of(found.outdoors))
    p.setPen(QPen(t("cooling"), 3.2))
    p.drawLine(k.of(found.entering), k.of(found.leaving))
    for name, key, role in STATES:
        _dot(p, k.of(getattr(found, key)), t(role), t("paper"))
        q = k.of(getattr(found, key))
        left = key == "room"
        y = q.y() + (18 if key in ("entering", "leaving") else -9)
        paint.text(p, q.x() + (-8 if left else 8), y, name, 12.5, 700, t("ink"), "r" if left else "l")


def _dot(p: QPainter, at: QPointF, fill: QColor, edge: QColor) -> None:
    p.setBrush(fill)
    p.setPen(QPen(edge, 1.8))
    p.drawEllipse(at, 6, 6)


def _table(p: QPainter, r: QRectF, view: View, found: CoilAir) -> None:
    t = view.theme
    heads = (f"Dry {view.unit('temperature1')}", "Wet bulb", "Dew point", "Humidity", view.unit("moisture"))
    lefts = [r.left() + 108 + (r.width() - 112) * (n + 1) / len(heads) for n in range(len(heads))]
    for head, right in zip(heads, lefts, strict=True):
        paint.text(p, right, r.top() + 14, head, 12, 500, t("ink2"), "r")
    for n, (name, key, role) in enumerate(STATES):
        y = r.top() + 26 + ROW * n
        x: State = getattr(found, key)
        p.setPen(QPen(t("rule"), 1))
        p.drawLine(QPointF(r.left(), y - 4), QPointF(r.right(), y - 4))
        _dot(p, QPointF(r.left() + 9, y + 7), t(role), t("paper"))
        paint.text(p, r.left() + 22, y + 11.5, name, 13, 700, t("ink"))
        cells = (
            *(view.num("temperature1", v) for v in (x.temperature_c, x.wet_bulb_c, x.dew_point_c)),
            f"{x.relative_humidity * 100:.0f} %",
            view.num("moisture", x.humidity_ratio),
        )
        for cell, right in zip(cells, lefts, strict=True):
            paint.text(p, right, y + 11.5, cell, 13, 600, t("ink"), "r")
