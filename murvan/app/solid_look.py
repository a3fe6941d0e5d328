"""A piece as it stands, turned with the mouse: its facets shaded, corners and collars in ink, its three measures along it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import cos, radians

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPixmap, QPolygonF

from murvan.app import paint
from murvan.app.latest import Latest
from murvan.app.painters import drawing
from murvan.app.solid_eye import Eye
from murvan.app.theme import Theme
from murvan.arrays import Array
from murvan.design.metal import Hole, Planes, Solid, loop_edges

SHARP_DEG = 15.0
"""A bend of less is rolled: no line stands there."""
LIGHT = np.array([-0.35, -0.55, 0.75]) / np.linalg.norm([-0.35, -0.55, 0.75])
COLLAR_M = 0.06
"""How far collars are drawn to stand out."""
MARGIN = 26.0
Words = Callable[[float], str]
"""A length in the user's units."""


@dataclass(frozen=True, eq=False)
class Shape:
    """What of a solid does not depend on where it is seen from."""

    solid: Solid
    normals: Array
    """Of every facet, outwards, (f, 3)."""
    middles: Array
    """Of every facet, (f, 3)."""
    edges: tuple[tuple[tuple[int, int], ...], ...]
    """By facet, its edges that show: open ones, and those between facets at an angle."""
    collars: tuple[tuple[int, Array, Array], ...]
    """Facet of a hole, the ring round it and the ring of its collar's end."""

    @staticmethod
    def of(solid: Solid) -> Shape:
        """Of a solid."""
        found = Planes.of(solid).normal
        normals = np.array([found[k] for k in range(len(solid.facets))])
        middles = np.array([solid.points[list(f)].mean(axis=0) for f in solid.facets])
        collars = []
        for h in solid.holes:
            ring = _ring(solid, h, normals[h.facet])
            collars.append((h.facet, ring, ring + COLLAR_M * normals[h.facet]))
        return Shape(solid, normals, middles, _edges(solid, normals), tuple(collars))


_SHAPES: Latest[Shape] = Latest()
_KEPT: Latest[QPixmap] = Latest()


def draw(p: QPainter, r: QRectF, t: Theme, solid: Solid, eye: Eye, words: Words) -> None:
    """As large as it goes; kept, so that a part of it painted again is the same to the point."""
    ratio = paint.device_ratio(p)
    key = (solid, t, r.width(), r.height(), ratio, eye.turn_deg, eye.tilt_deg, words(1.0))

    def make() -> QPixmap:
        picture = QPixmap(round(r.width() * ratio), round(r.height() * ratio))
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        with drawing(picture) as inner:
            _draw(
                inner,
                QRectF(0, 0, r.width(), r.height()),
                t,
                _SHAPES.of((solid,), lambda: Shape.of(solid)),
                eye,
                words,
            )
        return picture

    p.drawPixmap(round(r.left()), round(r.top()), _KEPT.of(key, make))


class _Seen:
    """From space to the picture. It keeps its size while it turns: a ball round the piece always goes in."""

    def __init__(self, r: QRectF, points: Array, eye: Eye) -> None:
        self.axes = eye.axes()
        low, high = points.min(axis=0), points.max(axis=0)
        self.middle = (low + high) / 2
        self.scale = (min(r.width(), r.height() * 1.12) - 2 * MARGIN) / max(float(np.linalg.norm(high - low)), 1e-6)
        self.at = r.center()

    def turned(self, points: Array) -> Array:
        return np.asarray((points - self.middle) @ self.axes.T)

    def px(self, points: Array) -> list[QPointF]:
        seen = self.turned(points)
        cx, cy, k = self.at.x(), self.at.y(), self.scale
        return [QPointF(cx + x * k, cy - z * k) for x, z in seen[:, [0, 2]].tolist()]


def _draw(p: QPainter, r: QRectF, t: Theme, x: Shape, eye: Eye, words: Words) -> None:
    """What lies behind first."""
    v, s = _Seen(r, x.solid.points, eye), x.solid
    at = v.px(s.points)
    towards = (x.normals @ v.axes.T)[:, 1] < 0
    depth = v.turned(x.middles)[:, 1]
    for facet, ring, end in x.collars:
        if not towards[facet]:
            _collar(p, t, v, ring, end)
    shade = np.abs(x.normals @ LIGHT)
    fills = [_shaded(t, float(a), bool(b)) for a, b in zip(shade, towards, strict=True)]
    for k in np.argsort(-depth).tolist():
        p.setPen(QPen(fills[k], 0.6))
        p.setBrush(fills[k])
        p.drawPolygon(QPolygonF([at[i] for i in s.facets[k]]))
        p.setPen(QPen(t("ink") if towards[k] else t("ink2"), 1.1 if towards[k] else 0.8))
        for a, b in x.edges[k]:
            p.drawLine(at[a], at[b])
    for facet, ring, end in sorted(x.collars, key=lambda c: -float(v.turned(c[1].mean(axis=0)[None])[0, 1])):
        if towards[facet]:
            _collar(p, t, v, ring, end)
    _measures(p, t, v, s, words)


def _collar(p: QPainter, t: Theme, v: _Seen, ring: Array, end: Array) -> None:
    """A short stub round a hole: its far side, its near side, the opening."""
    low, high = v.px(ring), v.px(end)
    side = _shaded(t, 0.45, True)
    p.setPen(QPen(side, 0.6))
    p.setBrush(side)
    n = len(low)
    for k in range(n):
        p.drawPolygon(QPolygonF([low[k], low[(k + 1) % n], high[(k + 1) % n], high[k]]))
    p.setPen(QPen(t("ink"), 1.0))
    p.setBrush(t("paper"))
    p.drawPolygon(QPolygonF(high))


def _measures(p: QPainter, t: Theme, v: _Seen, s: Solid, words: Words) -> None:
    """Width, depth and height along the sides of its box that lie outermost."""
    low, high = s.points.min(axis=0), s.points.max(axis=0)
    for axis in range(3):
        if high[axis] - low[axis] < 1e-4:
            continue
        ends = _outer_side(v, low, high, axis)
        a, b = v.px(ends)
        mid = v.px(ends.mean(axis=0)[None])[0]
        out = QPointF(mid.x() - v.at.x(), mid.y() - v.at.y())
        size = max((out.x() ** 2 + out.y() ** 2) ** 0.5, 1e-6)
        by = QPointF(out.x() / size * 9, out.y() / size * 9)
        if (a.x() - b.x()) ** 2 + (a.y() - b.y()) ** 2 < 26**2:  # seen from its end: no room for a figure
            continue
        p.setPen(QPen(t("ink2"), 1.0))
        p.drawLine(a + by, b + by)
        for end in (a, b):
            p.drawLine(end + by * 0.4, end + by * 1.4)
        text = words(float(high[axis] - low[axis]))
        cx, cy = mid.x() + by.x() * 1.2, mid.y() + by.y() * 1.2
        wide = paint.text_width(text, 12, 600)
        align = "c" if abs(by.x()) < 4 else "l" if by.x() > 0 else "r"
        left = cx - (wide / 2 if align == "c" else 0 if align == "l" else wide)
        p.fillRect(QRectF(left - 2, cy - 7, wide + 4, 15), t("panel"))
        paint.text(p, cx, cy + 5, text, 12, 600, t("ink"), align)


def _outer_side(v: _Seen, low: Array, high: Array, axis: int) -> Array:
    """Of the four sides of a box along an axis the one farthest from its middle as it is seen, the lower ones first."""
    others = [k for k in range(3) if k != axis]
    best, far = np.stack([low, high]), -1.0
    for a in (low, high):
        for b in (low, high):
            ends = np.stack([low, high])
            ends[:, others[0]], ends[:, others[1]] = a[others[0]], b[others[1]]
            x, _, z = v.turned(ends.mean(axis=0)[None])[0].tolist()
            reach = (x * x + z * z) ** 0.5 - (0.05 * z if axis < 2 else 0.05 * x)
            if reach > far:
                best, far = ends, reach
    return best


def _edges(solid: Solid, normals: Array) -> tuple[tuple[tuple[int, int], ...], ...]:
    owners: dict[tuple[int, int], list[int]] = {}
    for k, facet in enumerate(solid.facets):
        for e in loop_edges(facet):
            owners.setdefault(e, []).append(k)
    flat = cos(radians(SHARP_DEG))
    lines = {e for e, own in owners.items() if len(own) < 2 or float(normals[own[0]] @ normals[own[1]]) < flat}
    return tuple(tuple(e for e in loop_edges(f) if e in lines) for f in solid.facets)


def _shaded(t: Theme, shade: float, towards: bool) -> QColor:
    """Of the sheet in the light; the inside darker."""
    steel = t("outline") if t.dark else t("panel") if towards else t("chrome")
    return steel.darker(round(100 + 45 * (1 - shade)) if towards else 125)


def _ring(solid: Solid, h: Hole, normal: Array) -> Array:
    """Round a hole, in space."""
    corners = solid.points[list(solid.facets[h.facet])]
    x = (corners[1] - corners[0]) / np.linalg.norm(corners[1] - corners[0])
    y = np.cross(normal, x)
    middle = corners[0] + x * h.along_m + y * h.across_m
    if len(h.size_m) == 1:
        turn = np.linspace(0, 2 * np.pi, 33)[:-1]
        return np.asarray(middle + h.size_m[0] / 2 * (np.outer(np.cos(turn), x) + np.outer(np.sin(turn), y)))
    w, d = h.size_m[0] / 2, h.size_m[1] / 2
    return np.array([middle + a * w * x + b * d * y for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))])
