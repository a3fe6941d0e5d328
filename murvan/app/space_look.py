"""The whole system as it stands in the house, turned with the mouse: ducts, plenums and units lit, rooms as lines."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPixmap, QPolygonF

from murvan.app import paint
from murvan.app.latest import Latest
from murvan.app.painters import drawing
from murvan.app.solid_eye import Eye
from murvan.app.theme import Theme
from murvan.arrays import Array
from murvan.design.space import Ends, Faces
from murvan.model.record import Ref

LIGHT = np.array([-0.35, 0.55, 0.75]) / np.linalg.norm([-0.35, 0.55, 0.75])
MARGIN = 12.0
NORTH_UP = np.array([1.0, -1.0, 1.0])
"""On the plan y goes down the page; in space away from the one who looks from the south."""
ROLE = {
    "supply": "supply",
    "return": "return",
    "fresh": "fresh",
    "unit": "steel",
    "supply plenum": "supply",
    "return plenum": "return",
    "obstacle": "rule",
}


class Shown(NamedTuple):
    """What of it is told apart."""

    storey: str
    """Its rooms stand out."""
    selected: Ref | None = None
    cut: Ends | None = None
    """A plane that stands in it."""


class Seen:
    """From the house to the picture. It keeps its size while it turns."""

    def __init__(self, r: QRectF, x: Faces, eye: Eye) -> None:
        self.axes = eye.axes() * NORTH_UP
        points = np.concatenate([x.corners.reshape(-1, 3), x.lines.reshape(-1, 3)])
        low, high = points.min(axis=0), points.max(axis=0)
        self.middle = (low + high) / 2
        flat, tall = float(np.hypot(*(high - low)[:2])), float(high[2] - low[2])
        tilt = np.radians(abs(eye.tilt_deg))
        up = flat * np.sin(tilt) + tall * np.cos(tilt)
        self.scale = min((r.width() - 2 * MARGIN) / max(flat, 1e-6), (r.height() - 2 * MARGIN) / max(up, 1e-6))
        self.centre = np.array([r.center().x(), r.center().y()])

    def px(self, points: Array) -> tuple[Array, Array]:
        """Places on the picture (…, 2), and how far away each lies."""
        turned = (points - self.middle) @ self.axes.T
        return self.centre + turned[..., [0, 2]] * (self.scale, -self.scale), turned[..., 1]


_KEPT: Latest[QPixmap] = Latest()


def draw(p: QPainter, r: QRectF, t: Theme, x: Faces, eye: Eye, shown: Shown) -> None:
    """As large as it goes; kept, so that a part of it painted again is the same to the point."""
    ratio = paint.device_ratio(p)
    s = shown.selected
    key: tuple[object, ...] = (
        x,
        t,
        r.width(),
        r.height(),
        ratio,
        eye.turn_deg,
        eye.tilt_deg,
        shown.storey,
        shown.cut,
    )
    key += (s.kind, s.id) if s is not None else ()

    def make() -> QPixmap:
        picture = QPixmap(round(r.width() * ratio), round(r.height() * ratio))
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        with drawing(picture) as inner:
            _draw(inner, QRectF(0, 0, r.width(), r.height()), t, x, eye, shown)
        return picture

    p.drawPixmap(round(r.left()), round(r.top()), _KEPT.of(key, make))


def picked(at: QPointF, r: QRectF, x: Faces, eye: Eye) -> Ref | None:
    """What is seen at a place of the picture; None where nothing stands."""
    if not len(x.corners):
        return None
    v = Seen(r, x, eye)
    corners, depth = v.px(x.corners)
    for k in np.argsort(depth.mean(axis=1)).tolist():
        if QPolygonF([QPointF(*c) for c in corners[k].tolist()]).containsPoint(at, Qt.FillRule.OddEvenFill):
            return x.things[int(x.of[k])][1]
    return None


def _draw(p: QPainter, r: QRectF, t: Theme, x: Faces, eye: Eye, shown: Shown) -> None:
    if not len(x.corners) and not len(x.lines):
        return
    v = Seen(r, x, eye)
    _rooms(p, t, v, x, shown.storey)
    corners, depth = v.px(x.corners)
    away = (x.normals @ v.axes.T)[:, 1]
    colours = _colours(t, x, shown.selected)
    plane = _plane(v, x, shown.cut)
    order = [k for k in np.argsort(-depth.mean(axis=1)).tolist() if away[k] < 1e-9]
    if shown.cut is not None and plane is not None:
        behind = _behind(x, shown.cut, v)
        _facets(p, (k for k in order if behind[k]), corners, colours)
        p.setPen(QPen(t("select"), 1.2, Qt.PenStyle.DashLine))
        sheet = QColor(t("select"))
        sheet.setAlpha(60)
        p.setBrush(sheet)
        p.drawPolygon(plane)
        order = [k for k in order if not behind[k]]
    _facets(p, order, corners, colours)


def _facets(p: QPainter, order: Iterable[int], corners: Array, colours: list[tuple[QColor, QPen]]) -> None:
    points = corners.tolist()
    for k in order:
        fill, pen = colours[k]
        p.setPen(pen)
        p.setBrush(fill)
        a, b, c, d = points[k]
        p.drawPolygon(QPolygonF([QPointF(*a), QPointF(*b), QPointF(*c), QPointF(*d)]))


def _rooms(p: QPainter, t: Theme, v: Seen, x: Faces, storey: str) -> None:
    ends, _ = v.px(x.lines)
    here = np.array([s == storey for s in x.storeys], bool)
    for mine, role, wide in ((~here, "rule", 0.8), (here, "outline", 1.0)):
        p.setPen(QPen(t(role), wide))
        for (ax, ay), (bx, by) in ends[mine].tolist():
            p.drawLine(QLineF(ax, ay, bx, by))


def _colours(t: Theme, x: Faces, selected: Ref | None) -> list[tuple[QColor, QPen]]:
    """Fill and edge of every facet, by how it stands in the light."""
    steps = np.rint(np.clip(0.62 + 0.38 * (x.normals * NORTH_UP) @ LIGHT, 0, 1) * LEVELS).astype(int)
    known: dict[tuple[str, bool, int], tuple[QColor, QPen]] = {}
    out = []
    on = [selected is not None and ref == selected for _, ref in x.things]
    for k, step in zip(x.of.tolist(), steps.tolist(), strict=True):
        key = (x.things[k][0], on[k], step)
        if key not in known:
            base = t("select") if on[k] else t(ROLE[key[0]])
            fill = base.lighter(125).darker(round(100 + 75 * (1 - step / LEVELS)))
            known[key] = (fill, QPen(t("ink") if on[k] else fill.darker(118), 0.7))
        out.append(known[key])
    return out


LEVELS = 24


def _corners(x: Faces, cut: Ends) -> Array:
    """Of an upright plane through the whole house."""
    points = np.concatenate([x.corners.reshape(-1, 3), x.lines.reshape(-1, 3)])
    low, high = float(points[:, 2].min()), float(points[:, 2].max())
    a, b = cut
    return np.array([[*a, low], [*b, low], [*b, high], [*a, high]])


def _plane(v: Seen, x: Faces, cut: Ends | None) -> QPolygonF | None:
    if cut is None:
        return None
    at, _ = v.px(_corners(x, cut))
    return QPolygonF([QPointF(*c) for c in at.tolist()])


def _behind(x: Faces, cut: Ends, v: Seen) -> NDArray[np.bool_]:
    """Which facets lie on the far side of a plane."""
    (ax, ay), (bx, by) = cut
    off = (x.corners.mean(axis=1)[:, :2] - (ax, ay)) @ np.array([-(by - ay), bx - ax])
    towards = np.array([-(by - ay), bx - ax, 0.0]) @ v.axes[1]
    return np.asarray(off * np.sign(towards) > 0)
