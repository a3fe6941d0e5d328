"""A piece as it stands, seen from before and above: its facets shaded, its corners and holes in ink."""

from __future__ import annotations

from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPixmap, QPolygonF

from murvan.app import paint
from murvan.app.latest import Latest
from murvan.app.painters import drawing
from murvan.app.theme import Theme
from murvan.design.metal.develop import Planes
from murvan.design.metal.solids import Edge, Hole, Solid, loop_edges

Array = NDArray[np.float64]
TURN_DEG, TILT_DEG = 28.0, 24.0
SHARP_DEG = 15.0
"""A bend of less is rolled: no line stands there."""
LIGHT = np.array([-0.35, -0.55, 0.75])


_KEPT: Latest[QPixmap] = Latest()


def draw(p: QPainter, r: QRectF, t: Theme, solid: Solid) -> None:
    """As large as it goes; kept, so that a part of it painted again is the same to the point."""
    ratio = paint.device_ratio(p)
    key = (solid, t, r.width(), r.height(), ratio)

    def make() -> QPixmap:
        picture = QPixmap(round(r.width() * ratio), round(r.height() * ratio))
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        with drawing(picture) as inner:
            _draw(inner, QRectF(0, 0, r.width(), r.height()), t, solid)
        return picture

    p.drawPixmap(round(r.left()), round(r.top()), _KEPT.of(key, make))


def _draw(p: QPainter, r: QRectF, t: Theme, solid: Solid) -> None:
    """What lies behind first."""
    turn = _turned(TURN_DEG, TILT_DEG)
    seen = solid.points @ turn.T
    low, high = seen[:, [0, 2]].min(axis=0), seen[:, [0, 2]].max(axis=0)
    wide, tall = np.maximum(high - low, 1e-6)
    scale = min((r.width() - 16) / wide, (r.height() - 16) / tall)
    left, foot = r.left() + (r.width() - wide * scale) / 2, r.top() + (r.height() + tall * scale) / 2

    def at(q: Array) -> QPointF:
        return QPointF(left + float(q[0] - low[0]) * scale, foot - float(q[2] - low[1]) * scale)

    found = Planes.of(solid).normal
    normals = np.array([found[k] for k in range(len(solid.facets))])
    depth = np.array([seen[list(f), 1].mean() for f in solid.facets])
    lines = _corners(solid, normals)
    for k in np.argsort(-depth).tolist():
        facet = solid.facets[k]
        towards = float((normals[k] @ turn.T)[1]) < 0
        shade = abs(float(normals[k] @ LIGHT) / float(np.linalg.norm(LIGHT)))
        fill = _shaded(t, shade, towards)
        p.setPen(QPen(fill, 0.6))
        p.setBrush(fill)
        p.drawPolygon(QPolygonF([at(seen[i]) for i in facet]))
        if towards:
            p.setBrush(t("paper"))
            p.setPen(QPen(t("ink"), 1.0))
            for h in (h for h in solid.holes if h.facet == k):
                p.drawPolygon(QPolygonF([at(q) for q in _hole(solid, h, normals[k]) @ turn.T]))
        p.setPen(QPen(t("ink") if towards else t("ink2"), 1.1 if towards else 0.8))
        for a, b in (e for e in loop_edges(facet) if e in lines):
            p.drawLine(at(seen[a]), at(seen[b]))


def _turned(turn_deg: float, tilt_deg: float) -> Array:
    """To x right, y away, z up as it is seen."""
    a, b = radians(turn_deg), radians(tilt_deg)
    about = np.array([[cos(a), sin(a), 0.0], [-sin(a), cos(a), 0.0], [0.0, 0.0, 1.0]])
    tilt = np.array([[1.0, 0.0, 0.0], [0.0, cos(b), -sin(b)], [0.0, sin(b), cos(b)]])
    return np.asarray(tilt @ about)


def _corners(solid: Solid, normals: Array) -> set[Edge]:
    """Edges that show: open ones, and those between facets at an angle."""
    owners: dict[Edge, list[int]] = {}
    for k, facet in enumerate(solid.facets):
        for e in loop_edges(facet):
            owners.setdefault(e, []).append(k)
    flat = cos(radians(SHARP_DEG))
    return {e for e, own in owners.items() if len(own) < 2 or float(normals[own[0]] @ normals[own[1]]) < flat}


def _shaded(t: Theme, shade: float, towards: bool) -> QColor:
    """Of the sheet in the light; the inside darker."""
    steel = t("outline") if t.dark else t("panel") if towards else t("chrome")
    return steel.darker(round(100 + 45 * (1 - shade)) if towards else 125)


def _hole(solid: Solid, h: Hole, normal: Array) -> Array:
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
