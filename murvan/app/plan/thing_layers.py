"""How furniture, areas, skylights and surveyed things are drawn, and where they are hit."""

from __future__ import annotations

from math import cos, hypot, radians, sin

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen
from shapely.geometry import LineString, Polygon

from murvan.app import paint
from murvan.app.plan.labels import around
from murvan.app.plan.sheet import Sheet
from murvan.design.drawing import FURNITURE_M, Outline, boxed
from murvan.design.house import roof_shape
from murvan.model.job import Furniture, Opening

AREA_COLLECTIONS = (("patch", "patches"), ("place", "places"), ("keep", "keep_clear"), ("obstacle", "obstacles"))
AREA_COLOR = {"patch": "sun", "place": "fresh", "keep": "fails", "obstacle": "ink2"}


def distance(a: QPointF, b: QPointF) -> float:
    return hypot(a.x() - b.x(), a.y() - b.y())


def furniture_outline(x: Furniture) -> Outline:
    w, d = FURNITURE_M[x.kind]
    return boxed(x.position_m, w, d, x.turn_deg)


def furniture(p: QPainter, v: Sheet) -> None:
    """Beds and seats, thin: head end with a pillow."""
    t = v.theme
    rooms = {r.id for r in v.rooms()}
    for x in v.job.furniture:
        if x.room not in rooms:
            continue
        w, d = FURNITURE_M[x.kind]
        chosen = v.selection is not None and v.selection.id == x.id
        faint = not v.lens.survey and not chosen
        p.setPen(QPen(t("ink") if chosen else t("rule") if faint else t("inner"), 1.6 if chosen else 1.1))
        p.setBrush(t("select") if chosen else Qt.BrushStyle.NoBrush if faint else t("panel"))
        shape = v.polygon(furniture_outline(x))
        p.drawPolygon(shape)
        v.labels.avoid(shape.boundingRect())
        p.setBrush(Qt.BrushStyle.NoBrush if faint else t("paper"))
        if x.kind in ("bed", "single_bed", "crib"):
            for k in (-1, 1) if x.kind == "bed" else (0,):
                pillow = boxed(
                    _off(x, k * w * 0.24, -d * 0.38), w * (0.4 if x.kind == "bed" else 0.7), d * 0.15, x.turn_deg
                )
                p.drawPolygon(v.polygon(pillow))
        elif x.kind in ("sofa", "chair"):
            p.drawPolygon(v.polygon(boxed(_off(x, 0, -d * 0.38), w, d * 0.24, x.turn_deg)))
    p.setBrush(Qt.BrushStyle.NoBrush)


def _off(x: Furniture, right: float, down: float) -> tuple[float, float]:
    c, s = cos(radians(x.turn_deg)), sin(radians(x.turn_deg))
    return (x.position_m[0] + right * c - down * s, x.position_m[1] + right * s + down * c)


def skylight_outline(o: Opening) -> Outline:
    assert o.position_m is not None
    return boxed(o.position_m, o.width_m, o.height_m, 0.0)


def skylights(p: QPainter, v: Sheet) -> None:
    """A dashed pane with a cross: it lies overhead."""
    t = v.theme
    for o in v.openings():
        if o.kind != "skylight" or o.position_m is None:
            continue
        chosen = v.selection is not None and v.selection.id == o.id
        pen = QPen(t("ink") if chosen else t("glass"), 2.4 if chosen else 1.6, Qt.PenStyle.DashLine)
        p.setPen(pen)
        fill = QColor(t("select") if chosen else t("glass"))
        fill.setAlpha(60)
        p.setBrush(fill)
        shape = v.polygon(skylight_outline(o))
        p.drawPolygon(shape)
        p.drawLine(shape.at(0), shape.at(2))
        p.drawLine(shape.at(1), shape.at(3))
        v.labels.avoid(shape.boundingRect())
    p.setBrush(Qt.BrushStyle.NoBrush)


def areas(p: QPainter, v: Sheet) -> None:
    """Patches, equipment places and floor to keep clear, hatched, with their names."""
    t = v.theme
    for kind, collection in (c for c in AREA_COLLECTIONS if c[0] != "obstacle"):
        for x in getattr(v.job, collection):
            if x.storey != v.storey:
                continue
            color = t(AREA_COLOR[kind])
            chosen = v.selection is not None and v.selection.id == x.id
            soft = QColor(color)
            soft.setAlpha(70)
            shape = v.polygon(x.outline_m)
            style = Qt.BrushStyle.BDiagPattern if kind == "keep" else Qt.BrushStyle.FDiagPattern
            p.setBrush(QBrush(soft, style))
            p.setPen(QPen(t("ink") if chosen else color, 2.4 if chosen else 1.4, Qt.PenStyle.DashLine))
            p.drawPolygon(shape)
    p.setBrush(Qt.BrushStyle.NoBrush)


def boxings(p: QPainter, v: Sheet) -> None:
    """Soffits and chases that are drawn, dashed; a chase with a cross."""
    t = v.theme
    for x in v.job.places:
        if x.storey != v.storey or not x.boxes_ducts:
            continue
        chosen = v.selection is not None and v.selection.id == x.id
        fill = QColor(t("select") if chosen else t("sun"))
        fill.setAlpha(110 if chosen else 50)
        shape = v.polygon(x.outline_m)
        p.setBrush(fill)
        p.setPen(QPen(t("ink") if chosen else t("ink2"), 2.0 if chosen else 1.4, Qt.PenStyle.DashLine))
        p.drawPolygon(shape)
        if x.kind == "chase" and shape.count() >= 4:
            p.drawLine(shape.at(0), shape.at(2))
            p.drawLine(shape.at(1), shape.at(3))
    p.setBrush(Qt.BrushStyle.NoBrush)


def obstacles(p: QPainter, v: Sheet) -> None:
    """Beams, posts, pipes and drains of the storey, grey: ducts go round them."""
    t = v.theme
    for x in (o for o in v.job.obstacles if o.storey == v.storey):
        chosen = v.selection is not None and v.selection.id == x.id
        fill = QColor(t("select") if chosen else t("ink3"))
        fill.setAlpha(190 if chosen else 90)
        p.setBrush(fill)
        p.setPen(QPen(t("ink2"), 1.0))
        p.drawPolygon(v.polygon(x.outline_m))
    p.setBrush(Qt.BrushStyle.NoBrush)


def obstacle_at(v: Sheet, at: QPointF) -> tuple[str, str] | None:
    """The beam or pipe under a point, or so near that a finger means it."""
    for x in (o for o in v.job.obstacles if o.storey == v.storey):
        if v.polygon(x.outline_m).boundingRect().adjusted(-4, -4, 4, 4).contains(at):
            return ("obstacle", x.id)
    return None


def boxing_at(v: Sheet, at: QPointF) -> tuple[str, str] | None:
    """The soffit or chase under a point."""
    for x in v.job.places:
        inside = v.polygon(x.outline_m).containsPoint(at, Qt.FillRule.OddEvenFill)
        if x.storey == v.storey and x.boxes_ducts and inside:
            return ("place", x.id)
    return None


def area_names(p: QPainter, v: Sheet) -> None:
    """The areas' names where they cover nothing, with a line to them from outside."""
    for kind, collection in AREA_COLLECTIONS:
        for x in getattr(v.job, collection):
            if x.storey == v.storey:
                box = v.polygon(x.outline_m).boundingRect()
                _tag(p, v, box.center(), x.name, v.theme(AREA_COLOR[kind]), x.id, "", box)


def _tag(
    p: QPainter, v: Sheet, at: QPointF, name: str, edge: QColor, item: str, mark: str, home: QRectF | None = None
) -> None:
    """A name in a frame near a point: on it if that is free, else beside it with a line to it."""
    t = v.theme
    chosen = v.selection is not None and v.selection.id == item
    name = paint.elided(name, 12, 600, 150)
    size = QSizeF(paint.text_width(name, 12, 600) + (28 if mark else 10), 18)
    spots = np.concatenate([np.array([[at.x(), at.y()]]), around(at, size, 10.0)])
    far = np.hypot(spots[:, 0] - at.x(), spots[:, 1] - at.y())
    r = v.labels.place(size, spots, extra=NEARNESS * far)
    if r is None:
        return
    TAGS[item] = r
    if not r.contains(at) and not (home is not None and home.contains(r.center())):
        p.setPen(QPen(edge, 1.2))
        p.drawLine(at, r.center())
        p.setBrush(edge)
        p.drawEllipse(at, 3, 3)
    paint.rounded(
        p, r, t("select") if chosen else t("paper"), t("ink") if chosen else edge, 4, 1.6 if chosen else 1.0
    )
    left = r.left() + 5
    if mark:
        paint.mark(p, mark, r.left() + 11, r.center().y(), t, 5.5)
        left += 17
    paint.text(p, left, r.bottom() - 5, name, 12, 600, t("on_select") if chosen else t("ink"))


NEARNESS = 14.0
"""What a pixel away from the thing costs its tag: it rather lies on a wall than far off."""
TAGS: dict[str, QRectF] = {}
"""Where the tags were drawn last, to be hit."""


def existing(p: QPainter, v: Sheet) -> None:
    """What the survey found: a tag with a name, a mark by its condition."""
    t = v.theme
    marks = {"good": "good", "worn": "look", "broken": "fails", "unknown": "none"}
    for x in v.job.existing:
        if x.storey != v.storey or x.position_m is None:
            continue
        _tag(p, v, v.to_px(*x.position_m), x.name, t("ink"), x.id, marks[x.condition])


def hit(v: Sheet, at: QPointF, survey: bool) -> tuple[str, str] | None:
    """The thing under a point: what the survey found, furniture, a skylight; areas with the survey lens."""

    def within(outline: Outline) -> bool:
        return v.polygon(outline).containsPoint(at, Qt.FillRule.OddEvenFill)

    if survey:
        for x in v.job.existing:
            if x.storey != v.storey or x.position_m is None:
                continue
            if TAGS.get(x.id, QRectF()).contains(at) or distance(v.to_px(*x.position_m), at) < 8:
                return ("existing", x.id)
    rooms = {r.id for r in v.rooms()}
    for f in reversed(v.job.furniture):
        if f.room in rooms and within(furniture_outline(f)):
            return ("furniture", f.id)
    for o in v.openings():
        if o.kind == "skylight" and within(skylight_outline(o)):
            return ("opening", o.id)
    if survey:
        near = obstacle_at(v, at)
        if near is not None:
            return near
        for kind, collection in reversed(AREA_COLLECTIONS):
            for x in getattr(v.job, collection):
                if x.storey == v.storey and (within(x.outline_m) or TAGS.get(x.id, QRectF()).contains(at)):
                    return (kind, x.id)
    return None


def outline_of(v: Sheet, kind: str, item: str) -> Outline | None:
    """The outline of a thing that may be dragged."""
    job = v.present_job
    if kind == "furniture":
        return next((furniture_outline(x) for x in job.furniture if x.id == item), None)
    if kind == "skylight":
        return next((skylight_outline(o) for o in job.openings if o.id == item), None)
    if kind == "existing":
        thing = next((x for x in job.existing if x.id == item), None)
        return boxed(thing.position_m, 0.6, 0.4, 0.0) if thing is not None and thing.position_m else None
    collection = {**dict(AREA_COLLECTIONS), "space": "spaces"}.get(kind)
    if collection is None:
        return None
    return next((x.outline_m for x in getattr(job, collection) if x.id == item), None)


def slopes(p: QPainter, v: Sheet) -> None:
    """Where ceilings begin to slope, dashed, and the way they rise."""
    t = v.theme
    for room in v.rooms():
        shape = roof_shape(room)
        if shape is None:
            continue
        outline = Polygon(room.outline_m)
        for at in shape.breaks():
            line = LineString([(at, -1e3), (at, 1e3)] if shape.axis == 0 else [(-1e3, at), (1e3, at)])
            cut = outline.intersection(line)
            for piece in getattr(cut, "geoms", [cut]):
                if piece.length > 0.05:
                    (x0, y0), (x1, y1) = piece.coords[0], piece.coords[-1]
                    p.setPen(QPen(t("cooling"), 1.4, Qt.PenStyle.DashLine))
                    p.drawLine(v.to_px(x0, y0), v.to_px(x1, y1))
                    v.labels.avoid_line([v.to_px(x0, y0), v.to_px(x1, y1)], 3.0)
