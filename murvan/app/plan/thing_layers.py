"""How furniture, areas, skylights and surveyed things are drawn, and where they are hit."""

from __future__ import annotations

from math import cos, radians, sin
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen

from murvan.app import paint
from murvan.app.plan.layers import polygon
from murvan.design.drawing.outlines import Outline, boxed
from murvan.design.drawing.things import FURNITURE_M
from murvan.model.job import Furniture, Opening

if TYPE_CHECKING:
    from murvan.app.plan.view import PlanView

AREA_COLLECTIONS = (("patch", "patches"), ("place", "places"), ("keep", "keep_clear"))
AREA_COLOR = {"patch": "sun", "place": "fresh", "keep": "fails"}


def furniture_outline(x: Furniture) -> Outline:
    w, d = FURNITURE_M[x.kind]
    return boxed(x.position_m, w, d, x.turn_deg)


def furniture(p: QPainter, v: PlanView) -> None:
    """Beds and seats, thin: head end with a pillow."""
    t = v.theme
    rooms = {r.id for r in v.rooms()}
    for x in v.job.furniture:
        if x.room not in rooms:
            continue
        w, d = FURNITURE_M[x.kind]
        chosen = v.selection is not None and v.selection.id == x.id
        p.setPen(QPen(t("ink") if chosen else t("inner"), 1.6 if chosen else 1.1))
        fill = QColor(t("select") if chosen else t("panel"))
        p.setBrush(fill)
        shape = polygon(v, furniture_outline(x))
        p.drawPolygon(shape)
        v.labels.avoid(shape.boundingRect())
        p.setBrush(t("paper"))
        if x.kind in ("bed", "single_bed", "crib"):
            for k in (-1, 1) if x.kind == "bed" else (0,):
                pillow = boxed(
                    _off(x, k * w * 0.24, -d * 0.38), w * (0.4 if x.kind == "bed" else 0.7), d * 0.15, x.turn_deg
                )
                p.drawPolygon(polygon(v, pillow))
        elif x.kind in ("sofa", "chair"):
            p.drawPolygon(polygon(v, boxed(_off(x, 0, -d * 0.38), w, d * 0.24, x.turn_deg)))
    p.setBrush(Qt.BrushStyle.NoBrush)


def _off(x: Furniture, right: float, down: float) -> tuple[float, float]:
    c, s = cos(radians(x.turn_deg)), sin(radians(x.turn_deg))
    return (x.position_m[0] + right * c - down * s, x.position_m[1] + right * s + down * c)


def skylight_outline(o: Opening) -> Outline:
    assert o.position_m is not None
    return boxed(o.position_m, o.width_m, o.height_m, 0.0)


def skylights(p: QPainter, v: PlanView) -> None:
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
        shape = polygon(v, skylight_outline(o))
        p.drawPolygon(shape)
        p.drawLine(shape.at(0), shape.at(2))
        p.drawLine(shape.at(1), shape.at(3))
        v.labels.avoid(shape.boundingRect())
    p.setBrush(Qt.BrushStyle.NoBrush)


def areas(p: QPainter, v: PlanView) -> None:
    """Patches, equipment places and floor to keep clear, hatched, with their names."""
    t = v.theme
    for kind, collection in AREA_COLLECTIONS:
        for x in getattr(v.job, collection):
            if x.storey != v.storey:
                continue
            color = t(AREA_COLOR[kind])
            chosen = v.selection is not None and v.selection.id == x.id
            soft = QColor(color)
            soft.setAlpha(70)
            shape = polygon(v, x.outline_m)
            style = Qt.BrushStyle.BDiagPattern if kind == "keep" else Qt.BrushStyle.FDiagPattern
            p.setBrush(QBrush(soft, style))
            p.setPen(QPen(t("ink") if chosen else color, 2.4 if chosen else 1.4, Qt.PenStyle.DashLine))
            p.drawPolygon(shape)
            box = shape.boundingRect()
            name = paint.elided(x.name, 12, 600, max(box.width() - 8, 110))
            w = paint.text_width(name, 12, 600) + 8
            r = QRectF(box.center().x() - w / 2, box.bottom() - 22, w, 17)
            paint.rounded(p, r, t("paper"), color, 3)
            paint.text(p, r.center().x(), r.bottom() - 4.5, name, 12, 600, t("ink"), "c")
            v.labels.block(r)
    p.setBrush(Qt.BrushStyle.NoBrush)


def existing(p: QPainter, v: PlanView) -> None:
    """What the survey found: a tag with a name, a mark by its condition."""
    t = v.theme
    marks = {"good": "good", "worn": "look", "broken": "fails", "unknown": "none"}
    for x in v.job.existing:
        if x.storey != v.storey or x.position_m is None:
            continue
        at = v.to_px(*x.position_m)
        w = paint.text_width(x.name, 12, 600) + 30
        r = QRectF(at.x() - w / 2, at.y() - 10, w, 20)
        chosen = v.selection is not None and v.selection.id == x.id
        paint.rounded(p, r, t("select") if chosen else t("paper"), t("ink"), 4, 1.6 if chosen else 1.0)
        paint.mark(p, marks[x.condition], r.left() + 12, r.center().y(), t, 5.5)
        paint.text(p, r.left() + 23, r.bottom() - 5.5, x.name, 12, 600, t("on_select") if chosen else t("ink"))
        v.labels.block(r)


def hit(v: PlanView, at: QPointF, survey: bool) -> tuple[str, str] | None:
    """The thing under a point: what the survey found, furniture, a skylight; areas with the survey lens."""

    def within(outline: Outline) -> bool:
        return polygon(v, outline).containsPoint(at, Qt.FillRule.OddEvenFill)

    if survey:
        for x in v.job.existing:
            if x.storey == v.storey and x.position_m is not None:
                c = v.to_px(*x.position_m)
                if abs(c.y() - at.y()) < 11 and abs(c.x() - at.x()) < paint.text_width(x.name, 12, 600) / 2 + 15:
                    return ("existing", x.id)
    rooms = {r.id for r in v.rooms()}
    for f in reversed(v.job.furniture):
        if f.room in rooms and within(furniture_outline(f)):
            return ("furniture", f.id)
    for o in v.openings():
        if o.kind == "skylight" and within(skylight_outline(o)):
            return ("opening", o.id)
    if survey:
        for kind, collection in reversed(AREA_COLLECTIONS):
            for x in getattr(v.job, collection):
                if x.storey == v.storey and within(x.outline_m):
                    return (kind, x.id)
    return None


def outline_of(v: PlanView, kind: str, item: str) -> Outline | None:
    """The outline of a thing that may be dragged."""
    job = v.present_job
    if kind == "furniture":
        return next((furniture_outline(x) for x in job.furniture if x.id == item), None)
    if kind == "existing":
        thing = next((x for x in job.existing if x.id == item), None)
        return boxed(thing.position_m, 0.6, 0.4, 0.0) if thing is not None and thing.position_m else None
    collection = {**dict(AREA_COLLECTIONS), "space": "spaces"}.get(kind)
    if collection is None:
        return None
    return next((x.outline_m for x in getattr(job, collection) if x.id == item), None)
