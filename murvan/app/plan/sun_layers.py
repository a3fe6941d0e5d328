"""The sun on the plan: lit floor behind the windows, and its path in a compass."""

from __future__ import annotations

from functools import lru_cache
from math import cos, radians, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen, QPixmap, QPolygonF

from murvan.app import paint
from murvan.app.painters import drawing
from murvan.app.plan.sheet import Sheet
from murvan.app.theme import Theme
from murvan.design.loads import Patch
from murvan.design.weather import Day

RADIUS = 46.0
STRONG = 700.0
"""W/m2 of beam that is drawn at full strength."""


def lit_floor(p: QPainter, v: Sheet, lit: tuple[Patch, ...]) -> None:
    """Sun on the floor, its edge stronger where the beam is."""
    sun = v.theme("sun")
    p.setBrush(QBrush(sun, Qt.BrushStyle.BDiagPattern))
    for x in lit:
        p.setPen(QPen(sun, 1 + 2 * min(x.beam_w_m2 / STRONG, 1.0)))
        p.drawPolygon(QPolygonF([v.to_px(*at) for at in x.outline_m]))


def compass_box(v: Sheet) -> QRectF:
    """Where the sun's path stands, in the lower right corner."""
    side = 2 * RADIUS + 32
    return QRectF(v.width() - side - 8, v.height() - side - 8, side, side)


@lru_cache(maxsize=8)
def _sky(t: Theme, days: tuple[Day, ...], shown: int, north: float, side: float, ratio: float) -> QPixmap:
    """The compass with the sun's ways of the months, which stay as the hour moves."""
    picture = QPixmap(round(side * ratio), round(side * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    with drawing(picture) as p:
        _draw_sky(p, t, days, shown, north, side)
    return picture


def _draw_sky(p: QPainter, t: Theme, days: tuple[Day, ...], shown: int, north: float, side: float) -> None:
    c = QPointF(side / 2, side / 2)
    back = QColor(t("paper"))
    back.setAlphaF(0.88)
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(back)
    p.drawEllipse(c, RADIUS + 15, RADIUS + 15)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(t("rule"), 1))
    for share in (1 / 3, 2 / 3):
        p.drawEllipse(c, RADIUS * share, RADIUS * share)
    p.setPen(QPen(t("ink2"), 1.2))
    p.drawEllipse(c, RADIUS, RADIUS)
    for k, letter in enumerate("NESW"):
        at = _at(c, 90.0 * k, -11.0, north)
        paint.text(p, at.x(), at.y() + 4, letter, 11.5, 700 if k == 0 else 600, t("ink"), "c")
    for k, day in enumerate(days):
        up = [h for h in range(24) if day.sun_altitude_deg[h] > 0]
        line = QPolygonF([_sun(c, day, h, north) for h in up])
        p.setPen(QPen(t("sun") if k == shown else t("rule"), 2.4 if k == shown else 1.2))
        p.drawPolyline(line)


def sun_path(p: QPainter, v: Sheet, days: tuple[Day, ...], shown: int, hour: int) -> None:
    """The sun's way over the sky for the months looked at; the horizon is the ring, the zenith its middle."""
    t, box, north = v.theme, compass_box(v), v.job.site.north_deg
    p.drawPixmap(box.topLeft(), _sky(t, days, shown, north, box.width(), paint.device_ratio(p)))
    c = box.center()
    day = days[shown]
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(t("sun"))
    for h in (8, 11, 14, 17):
        if day.sun_altitude_deg[h] > 0:
            p.drawEllipse(_sun(c, day, h, north), 2.4, 2.4)
    if day.sun_altitude_deg[hour - 1] > 0:
        at = _sun(c, day, hour - 1, north)
        p.setPen(QPen(t("ink"), 1.2))
        p.drawLine(c, at)
        p.setBrush(t("sun"))
        p.drawEllipse(at, 6, 6)


def _at(c: QPointF, azimuth: float, altitude: float, north: float) -> QPointF:
    r, a = RADIUS * (90 - altitude) / 90, radians(azimuth + north)
    return QPointF(c.x() + r * sin(a), c.y() - r * cos(a))


def _sun(c: QPointF, day: Day, h: int, north: float) -> QPointF:
    return _at(c, float(day.sun_azimuth_deg[h]), float(day.sun_altitude_deg[h]), north)
