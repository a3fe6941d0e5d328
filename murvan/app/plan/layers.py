"""What the plan draws, from the ground up. Each layer takes the painter and the view and changes nothing."""

from __future__ import annotations

from math import atan2, cos, degrees, hypot, pi, sin
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPainterPathStroker, QPen, QPolygonF

from murvan.app import paint
from murvan.app.plan.labels import around
from murvan.design.build import size_text
from murvan.design.ducts import run_kind
from murvan.design.geometry import wall_points
from murvan.model.job import DuctRun, Opening, signed_area
from murvan.units import FOOT

if TYPE_CHECKING:
    from murvan.app.plan.view import PlanView

OUTER_M, INNER_M = 0.55 * FOOT, 0.36 * FOOT


def polygon(view: PlanView, outline: tuple[tuple[float, float], ...]) -> QPolygonF:
    return QPolygonF([view.to_px(*pt) for pt in outline])


def grid(p: QPainter, v: PlanView) -> None:
    """Dots of an empty sheet."""
    p.setPen(QPen(v.theme("rule"), 2))
    for x in range(20, v.width(), 36):
        for y in range(20, v.height(), 36):
            p.drawPoint(x, y)


def spaces(p: QPainter, v: PlanView) -> None:
    """Garage on its storey; dashed roof on the storeys above."""
    t = v.theme
    for s in v.job.spaces:
        here = s.storey == v.storey
        pen = QPen(t("outline"), 3 if here else 1)
        if not here:
            pen.setStyle(Qt.PenStyle.DashLine)
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        shape = polygon(v, s.outline_m)
        p.drawPolygon(shape)
        c = shape.boundingRect().center()
        if here:
            paint.text(p, c.x(), c.y(), s.name, 13, 600, t("ink3"), "c")
            paint.text(p, c.x(), c.y() + 16, "not heated", 12, 500, t("ink3"), "c")
        else:
            paint.text(p, c.x(), c.y(), f"{s.name} roof", 12, 500, t("ink3"), "c")
            paint.text(p, c.x(), c.y() + 15, "below", 12, 500, t("ink3"), "c")


def rooms(p: QPainter, v: PlanView) -> None:
    """Room fills; the selected room is tinted."""
    p.setPen(Qt.PenStyle.NoPen)
    for r in v.rooms():
        fill = v.lens.fills.get(r.id)
        if fill is None and r.id == v.selected_room and v.lens.text_at != "ducts":
            fill = v.theme("select_soft")
        if fill is not None:
            p.setBrush(fill)
            p.drawPolygon(polygon(v, r.outline_m))


def walls(p: QPainter, v: PlanView) -> None:
    """Partitions thin, outer walls thick, garage side umber where the lens asks for it."""
    t, g = v.theme, v.measures
    if g is None:
        for r in v.rooms():
            p.setPen(QPen(t("wall"), 3))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPolygon(polygon(v, r.outline_m))
        return
    index = {r.id: i for i, r in enumerate(v.job.rooms)}
    here = {index[r.id] for r in v.rooms()}
    for outer in (False, True):
        for part in g.walls:
            if part.room not in here or (part.other == "heated") == outer:
                continue
            room = v.job.rooms[part.room]
            a, b = wall_points(room.outline_m, part.wall)
            length = hypot(b[0] - a[0], b[1] - a[1])
            ux, uy = (b[0] - a[0]) / length, (b[1] - a[1]) / length
            s, e = part.start_m, part.start_m + part.length_m
            thick = (OUTER_M if outer else INNER_M) * v.scale
            color = (
                t("garage") if part.other == "garage" and v.lens.garage_walls else t("wall") if outer else t("inner")
            )
            pen = QPen(
                color,
                max(thick, 1.5),
                Qt.PenStyle.SolidLine,
                Qt.PenCapStyle.SquareCap if outer else Qt.PenCapStyle.FlatCap,
            )
            p.setPen(pen)
            p.drawLine(v.to_px(a[0] + ux * s, a[1] + uy * s), v.to_px(a[0] + ux * e, a[1] + uy * e))


def opening_ends(v: PlanView, o: Opening) -> tuple[QPointF, QPointF, QPointF]:
    """Both ends on the plan in px and the unit vector into the room."""
    room = v.room(o.room)
    a, b = wall_points(room.outline_m, o.wall)
    length = max(hypot(b[0] - a[0], b[1] - a[1]), 1e-6)
    ux, uy = (b[0] - a[0]) / length, (b[1] - a[1]) / length
    turn = 1 if signed_area(room.outline_m) > 0 else -1
    inward = QPointF(-uy * turn, ux * turn)
    s, e = o.offset_m, o.offset_m + o.width_m
    return v.to_px(a[0] + ux * s, a[1] + uy * s), v.to_px(a[0] + ux * e, a[1] + uy * e), inward


def openings(p: QPainter, v: PlanView) -> None:
    """Windows as three lines in a gap, doors with their swing, archways as gaps."""
    for o in v.openings():
        a, b, inward = opening_ends(v, o)
        inside = o.inside or o.kind == "archway"
        thick = (INNER_M if inside else OUTER_M) * v.scale
        if o.kind == "window":
            _window(p, v, a, b, thick)
        else:
            _gap(p, v, o, a, b, thick, inward)
            if o.kind == "door":
                _swing(p, v, a, b, inward)


def _window(p: QPainter, v: PlanView, a: QPointF, b: QPointF, thick: float) -> None:
    t = v.theme
    p.setPen(QPen(t("wall"), thick + 2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
    p.drawLine(a, b)
    p.setPen(
        QPen(t("paper") if not v.lens.tags else t("glass"), thick, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap)
    )
    p.drawLine(a, b)
    d = b - a
    n = QPointF(-d.y(), d.x()) / max(hypot(d.x(), d.y()), 1e-6)
    p.setPen(QPen(t("wall") if not v.lens.tags else t("paper"), 1))
    p.drawLine(a + n * thick / 6, b + n * thick / 6)
    p.drawLine(a - n * thick / 6, b - n * thick / 6)


def _gap(p: QPainter, v: PlanView, o: Opening, a: QPointF, b: QPointF, thick: float, inward: QPointF) -> None:
    fill = v.lens.fills.get(o.room) or v.theme("paper")
    if o.inside and v.lens.fills:
        # the floor goes through: half of each room's colour
        p.setPen(QPen(fill, thick / 2 + 1, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        p.drawLine(a + inward * thick / 4, b + inward * thick / 4)
        other = v.neighbour_fill(o)
        p.setPen(QPen(other or v.theme("paper"), thick / 2 + 1, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        p.drawLine(a - inward * thick / 4, b - inward * thick / 4)
        return
    p.setPen(
        QPen(v.theme("paper") if not o.inside else fill, thick + 2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap)
    )
    p.drawLine(a, b)


def _swing(p: QPainter, v: PlanView, a: QPointF, b: QPointF, inward: QPointF) -> None:
    t = v.theme
    w = hypot(b.x() - a.x(), b.y() - a.y())
    leaf = a + inward * w
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(t("inner"), 1.2))
    p.drawLine(a, leaf)
    start = degrees(atan2(-(leaf.y() - a.y()), leaf.x() - a.x()))
    end = degrees(atan2(-(b.y() - a.y()), b.x() - a.x()))
    sweep = (end - start + 180) % 360 - 180
    v.labels.avoid(QRectF(leaf, b).normalized().united(QRectF(a, leaf).normalized()))
    p.drawArc(QRectF(a.x() - w, a.y() - w, 2 * w, 2 * w), int(start * 16), int(sweep * 16))


def sun_bars(p: QPainter, v: PlanView) -> None:
    """Bars outside each window, as deep as the sun on it."""
    for o in v.openings():
        depth = v.lens.sun.get(o.id, 0.0)
        if depth <= 0.01:
            continue
        a, b, inward = opening_ends(v, o)
        off = OUTER_M / 2 * v.scale + 2
        d = 4 + 17 * depth
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(v.theme("sun"))
        p.drawPolygon(QPolygonF([a - inward * off, b - inward * off, b - inward * (off + d), a - inward * (off + d)]))


def selection(p: QPainter, v: PlanView) -> None:
    """Yellow on an ink edge about the selected room, wall or opening."""
    t, s = v.theme, v.selection
    if s is None:
        return
    p.setBrush(Qt.BrushStyle.NoBrush)
    join = Qt.PenJoinStyle.MiterJoin
    if s.kind == "room" and v.has_room(s.id) and v.room(s.id).storey == v.storey and v.lens.text_at != "ducts":
        room = v.room(s.id)
        shape = polygon(v, _inset(room.outline_m, OUTER_M / 2 + 3.5 / v.scale))
        p.setPen(QPen(t("on_select"), 6.5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.SquareCap, join))
        p.drawPolygon(shape)
        p.setPen(QPen(t("select"), 3.5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.SquareCap, join))
        p.drawPolygon(shape)
    ends = None
    if s.kind == "wall":
        room_id, _, wall = s.id.rpartition("/")
        if v.has_room(room_id) and v.room(room_id).storey == v.storey:
            a, b = wall_points(v.room(room_id).outline_m, int(wall))
            ends = v.to_px(*a), v.to_px(*b)
    if s.kind == "opening":
        o = next((x for x in v.openings() if x.id == s.id), None)
        if o is not None:
            ends = opening_ends(v, o)[:2]
    if ends:
        p.setPen(QPen(t("on_select"), 12, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        p.drawLine(*ends)
        p.setPen(QPen(t("select"), 7, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        p.drawLine(*ends)
        if s.kind == "wall":
            for e in ends:
                p.setPen(QPen(t("ink"), 1.6))
                p.setBrush(t("select"))
                p.drawRect(QRectF(e.x() - 7, e.y() - 7, 14, 14))


def _inset(outline: tuple[tuple[float, float], ...], by: float) -> tuple[tuple[float, float], ...]:
    """The outline moved inwards, corner by corner along the bisector."""
    turn = 1 if signed_area(outline) > 0 else -1
    n = len(outline)
    out = []
    for i in range(n):
        (x0, y0), (x1, y1), (x2, y2) = outline[i - 1], outline[i], outline[(i + 1) % n]
        l1, l2 = max(hypot(x1 - x0, y1 - y0), 1e-9), max(hypot(x2 - x1, y2 - y1), 1e-9)
        n1 = (-(y1 - y0) / l1 * turn, (x1 - x0) / l1 * turn)
        n2 = (-(y2 - y1) / l2 * turn, (x2 - x1) / l2 * turn)
        d = max(1 + n1[0] * n2[0] + n1[1] * n2[1], 0.3)
        out.append((x1 + by * (n1[0] + n2[0]) / d, y1 + by * (n1[1] + n2[1]) / d))
    return tuple(out)


# ---- ducts ----------------------------------------------------------------------------------------------------


def run_points(v: PlanView, run: DuctRun) -> list[QPointF]:
    return [v.to_px(*pt) for pt in run.path_m]


def run_width_px(v: PlanView, run: DuctRun) -> float:
    w = run.diameter_m if run.shape == "round" else run.width_m
    return max((w or 0.15) * v.scale, 5.0)


def _path(points: list[QPointF], round_corners: float) -> QPainterPath:
    path = QPainterPath(points[0])
    for k in range(1, len(points)):
        if k < len(points) - 1 and round_corners > 0:
            a, b, c = points[k - 1], points[k], points[k + 1]
            l1, l2 = hypot(b.x() - a.x(), b.y() - a.y()), hypot(c.x() - b.x(), c.y() - b.y())
            r = min(round_corners, l1 * 0.45, l2 * 0.45)
            if r > 1:
                path.lineTo(b + (a - b) * (r / l1))
                path.quadTo(b, b + (c - b) * (r / l2))
                continue
        path.lineTo(points[k])
    return path


def _outline(path: QPainterPath, width: float) -> QPainterPath:
    stroker = QPainterPathStroker()
    stroker.setWidth(width)
    stroker.setCapStyle(Qt.PenCapStyle.FlatCap)
    stroker.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    return stroker.createStroke(path)


def ducts(p: QPainter, v: PlanView) -> None:
    """Runs with widths to scale: sheet plain, flex ribbed, chevrons with the flow."""
    t = v.theme
    faint = v.lens.ducts_faint
    chosen = v.selected_path()
    drawn = [r for r in v.runs() if run_kind(r) != "trunk"] + [r for r in v.runs() if run_kind(r) == "trunk"]
    for run in drawn:
        width = run_width_px(v, run)
        path = _path(run_points(v, run), width * (1.2 if run_kind(run) == "flex" else 0.9))
        if run.id in chosen and not faint:
            outline = _outline(path, width + 8)
            p.setPen(QPen(t("ink"), 1.2))
            p.setBrush(t("select"))
            p.drawPath(outline.simplified())
    for run in drawn:
        _draw_run(p, v, run, faint)
    for run in drawn:
        if run.damper is not None and not faint:
            _damper(p, v, run)
        if run.zone_damper and not faint:
            _zone_damper(p, v, run)


def _draw_run(p: QPainter, v: PlanView, run: DuctRun, faint: bool) -> None:
    t = v.theme
    width = run_width_px(v, run)
    flex = run_kind(run) == "flex"
    path = _path(run_points(v, run), width * (1.2 if flex else 0.9))
    dashed = v.run_hanging(run)
    color = v.run_color(run) if not faint else t("panel")
    outline = _outline(path, width)
    pen = QPen(t("ink") if not faint else t("outline"), 1.2)
    if dashed:
        pen.setStyle(Qt.PenStyle.DashLine)
    p.setPen(pen)
    p.setBrush(color if not dashed else t("paper"))
    p.drawPath(outline.simplified())
    if faint or dashed:
        return
    light = t.on(color)
    if flex:
        rib = QColor(light)
        rib.setAlpha(90)
        # ribs: one stroke with a pen as wide as the duct and short dashes
        pen = QPen(rib, width - 2, Qt.PenStyle.CustomDashLine, Qt.PenCapStyle.FlatCap)
        pen.setDashPattern([1.0 / (width - 2), 3.0 / (width - 2)])
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(path)
    _chevrons(p, path, width, run.side == "return", light, flex)


def _chevrons(p: QPainter, path: QPainterPath, width: float, backwards: bool, color: QColor, flex: bool) -> None:
    length = path.length()
    every = 62.0
    n = max(1, int(length / every))
    if length < 16:
        return
    size = min(5.5, width * 0.32)
    p.setPen(QPen(color, 1.8))
    p.setBrush(Qt.BrushStyle.NoBrush)
    for k in range(n):
        at = (k + 0.5) / n
        c = path.pointAtPercent(at)
        a = path.angleAtPercent(at) * pi / 180 + (pi if backwards else 0)
        along, n_ = QPointF(cos(a), -sin(a)), QPointF(sin(a), cos(a))
        tip = c + along * size * 0.6
        p.drawPolyline(QPolygonF([tip - along * size + n_ * size, tip, tip - along * size - n_ * size]))


def _damper(p: QPainter, v: PlanView, run: DuctRun) -> None:
    points = run_points(v, run)
    path = _path(points, 0)
    at = min(max(14.0 / max(path.length(), 1), 0.08), 0.5)
    c = path.pointAtPercent(at)
    a = -path.angleAtPercent(at) + 90 * (1 - (run.damper or 0))
    t = v.theme
    p.save()
    p.translate(c)
    p.setPen(QPen(t("ink"), 1.4))
    p.setBrush(t("paper"))
    p.drawEllipse(QPointF(0, 0), 6.5, 6.5)
    p.rotate(a)
    p.setPen(QPen(t("ink"), 2))
    p.drawLine(QPointF(-5, 0), QPointF(5, 0))
    p.restore()


def _zone_damper(p: QPainter, v: PlanView, run: DuctRun) -> None:
    path = _path(run_points(v, run), 0)
    c = path.pointAtPercent(min(22.0 / max(path.length(), 1), 0.5))
    t = v.theme
    p.setPen(QPen(t("paper"), 1))
    p.setBrush(t("ink"))
    p.drawRect(QRectF(c.x() - 8, c.y() - 8, 16, 16))
    paint.text(p, c.x(), c.y() + 4.5, run.zone_damper or "", 12, 700, t("on_ink"), "c")


def unit(p: QPainter, v: PlanView) -> None:
    """Air handler with its plenums, riser and ventilator."""
    t, job = v.theme, v.job
    if job.system.storey == v.storey and job.system.unit:
        for box in job.plenums:
            c = v.to_px(*box.position_m)
            w, h = box.width_m * v.scale, box.depth_m * v.scale
            supply = box.side == "supply"
            r = QRectF(c.x() - w / 2, c.y() - h / 2, w, h)
            p.setPen(QPen(t("ink"), 1.4))
            p.setBrush(t("supply") if supply else t("return_soft"))
            p.drawRect(r)
            if supply:
                _crossed(p, QRectF(c.x() - 8, c.y() - 7, 16, 14), t("paper"), t("ink"))
            else:
                p.setPen(QPen(t("return"), 2))
                for k in (-4, 3):
                    p.drawPolyline(
                        QPolygonF(
                            [
                                QPointF(c.x() + k - 2, c.y() - 5),
                                QPointF(c.x() + k + 3, c.y()),
                                QPointF(c.x() + k - 2, c.y() + 5),
                            ]
                        )
                    )
            v.labels.avoid(r)
    for run in job.runs:
        if abs(run.rise_m) > 2.0 and v.storey != job.system.storey and run.storey == v.storey:
            c = v.to_px(*run.path_m[0])
            r = QRectF(c.x() - 10, c.y() - 7, 20, 14)
            _crossed(p, r, t("paper"), t("ink"))
            v.labels.block(r.adjusted(-2, -2, 2, 2))
    vent = job.ventilation
    if vent.position_m and vent.storey == v.storey and vent.kind != "none":
        c = v.to_px(*vent.position_m)
        r = QRectF(c.x() - 19, c.y() - 14, 38, 30)
        p.setPen(QPen(t("ink"), 1.4))
        p.setBrush(t("paper"))
        p.drawRect(r)
        paint.text(p, c.x(), c.y() - 1, vent.kind.upper(), 11.5, 700, t("ink"), "c")
        paint.text(p, c.x(), c.y() + 12, v.number("flow", vent.flow_m3_s), 11.5, 600, t("ink"), "c")
        v.labels.block(r)


def _crossed(p: QPainter, r: QRectF, fill: QColor, edge: QColor) -> None:
    p.setPen(QPen(edge, 1.3))
    p.setBrush(fill)
    p.drawRect(r)
    p.drawLine(r.topLeft(), r.bottomRight())
    p.drawLine(r.topRight(), r.bottomLeft())


def registers(p: QPainter, v: PlanView) -> None:
    """Supply: crossed square; return: barred box; throw arcs where the lens asks."""
    t = v.theme
    for x in v.registers():
        c = v.to_px(*x.position_m)
        on = v.selection is not None and v.selection.kind == "register" and v.selection.id == x.id
        if x.side == "supply":
            if v.lens.throws:
                _throw(p, v, x.id, c)
            half = max(min(x.width_m * v.scale / 2, 9.0), 6.5)
            r = QRectF(c.x() - half, c.y() - half, 2 * half, 2 * half)
            if on:
                p.setPen(QPen(t("on_select"), 1.2))
                p.setBrush(t("select"))
                p.drawRect(r.adjusted(-4, -4, 4, 4))
            hang = v.face_hanging(x.id)
            pen = QPen(t("ink"), 1.5)
            if hang:
                pen.setStyle(Qt.PenStyle.DashLine)
            p.setPen(pen)
            p.setBrush(t("paper"))
            p.drawRect(r)
            p.drawLine(r.topLeft(), r.bottomRight())
            p.drawLine(r.topRight(), r.bottomLeft())
            if not hang:
                p.setBrush(t("supply"))
                p.setPen(Qt.PenStyle.NoPen)
                p.drawRect(QRectF(c.x() - 3, c.y() - 3, 6, 6))
        else:
            w, h = max(x.width_m * v.scale * 0.6, 18.0), max(x.height_m * v.scale * 0.6, 16.0)
            r = QRectF(c.x() - w / 2, c.y() - h / 2, w, h)
            p.setPen(QPen(t("on_select") if on else t("ink"), 1.6))
            p.setBrush(t("select") if on else t("paper"))
            p.drawRect(r)
            p.setPen(QPen(t("return"), 1.6))
            k = r.left() + 4
            while k < r.right() - 2:
                p.drawLine(QPointF(k, r.top() + 3), QPointF(k, r.bottom() - 3))
                k += 4
        v.labels.block(r.adjusted(-2, -2, 2, 2))


def _throw(p: QPainter, v: PlanView, register: str, c: QPointF) -> None:
    """Two arcs in each direction at half and full throw, cut by the room's walls."""
    terminal = v.terminals.get(register)
    if terminal is None or terminal.throw_m <= 0:
        return
    t = v.theme
    reach = min(terminal.throw_m * v.scale, 90.0) * 0.72
    for a in (45, 135, 225, 315):
        v.labels.avoid(QRectF(c.x() + reach * cos(a * pi / 180) - 7, c.y() + reach * sin(a * pi / 180) - 7, 14, 14))
    p.save()
    clip = QPainterPath()
    clip.addPolygon(polygon(v, v.room(terminal.register.room).outline_m))
    p.setClipPath(clip)
    p.setBrush(Qt.BrushStyle.NoBrush)
    for share, weight in ((0.6, 1.0), (1.0, 1.5)):
        r = min(terminal.throw_m * share * v.scale, 90.0 * share)
        p.setPen(QPen(t("supply"), weight))
        for a in (45, 135, 225, 315):
            p.drawArc(QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r), int((a - 24) * 16), 48 * 16)
    p.restore()


def duct_labels(p: QPainter, v: PlanView) -> None:
    """Tag, size and flow of each run; on the duct where it is long and wide enough, else beside it."""
    t = v.theme
    chosen = v.selection.id if v.selection and v.selection.kind == "run" else None
    beside = []
    for run in v.runs():
        if run.side == "fresh":
            continue
        flow = v.run_flow(run)
        sizes = size_text(
            (run.diameter_m or 0,) if run.shape == "round" else (run.width_m or 0, run.height_m or 0), v.units
        )
        trunk = run_kind(run) == "trunk" or run.side == "return"
        if trunk and _label_on_duct(p, v, run, f"{sizes} · {v.number('flow', flow)}"):
            continue
        if trunk and not run.register_id:
            continue
        beside.append((run, f"{sizes} {v.unit('size')} · {v.number('flow', flow)}", v.unit("flow")))
    for run, body, unit_ in beside:
        path = _path(run_points(v, run), 0)
        tag_w = paint.text_width(run.tag, 11.5, 700) + 12
        body_w = paint.text_width(body, 12, 600) + paint.text_width(unit_, 11, 500) + 16
        size = QSizeF(tag_w + body_w, 18)
        beside_duct = run_width_px(v, run) / 2 - 2
        spots = [around(path.pointAtPercent(at), size, beside_duct, 1) for at in (0.5, 0.65, 0.35, 0.8, 0.2)]
        spots.append(around(path.pointAtPercent(1.0), size))
        r = v.labels.place(size, np.concatenate(spots))
        if r is None:
            continue
        on = run.id == chosen
        paint.rounded(p, r, t("select") if on else t("paper"), t("ink") if on else t("outline"), 3)
        p.fillRect(
            QRectF(r.left() + 1, r.top() + 1, tag_w - 1, r.height() - 2), t("on_select") if on else t("chrome")
        )
        paint.text(p, r.left() + tag_w / 2, r.top() + 13, run.tag, 11.5, 700, t("select") if on else t("ink"), "c")
        color = t("on_select") if on else t("ink")
        w = paint.text(p, r.left() + tag_w + 6, r.top() + 13, body, 12, 600, color)
        paint.text(p, r.left() + tag_w + 10 + w, r.top() + 13, unit_, 11, 500, color if on else t("ink2"))


def _label_on_duct(p: QPainter, v: PlanView, run: DuctRun, label: str) -> bool:
    width = run_width_px(v, run)
    points = run_points(v, run)
    w = paint.text_width(label, 12, 700)
    if width < 13:
        return False
    best = None
    for a, b in zip(points, points[1:], strict=False):
        flat = abs(b.y() - a.y()) < 2
        if (
            flat
            and abs(b.x() - a.x()) > w + 16
            and (best is None or abs(b.x() - a.x()) > abs(best[1].x() - best[0].x()))
        ):
            best = (a, b)
    if best is None:
        return False
    c = (best[0] + best[1]) / 2
    color = v.run_color(run)
    r = QRectF(c.x() - w / 2 - 4, c.y() - 8, w + 8, 16)
    p.fillRect(QRectF(r.left(), c.y() - width / 2 + 1, r.width(), width - 2), color)
    paint.text(p, c.x(), c.y() + 4.4, label, 12, 700, v.theme.on(color), "c")
    v.labels.block(r)
    return True


# ---- texts ----------------------------------------------------------------------------------------------------


def room_texts(p: QPainter, v: PlanView) -> None:
    """Name and figures of each room, where they cover nothing."""
    t = v.theme
    for r in v.rooms():
        lines = v.lens.room_text.get(r.id)
        shape = polygon(v, r.outline_m)
        box = shape.boundingRect()
        fill = v.lens.fills.get(r.id) or t("paper")
        auto = t.on(fill) if v.lens.fills else t("ink")
        lines = lines if lines is not None else [(r.name, "", 13.0, 600, "")]
        _block(p, v, r.id, box, shape, lines, auto)


STEPS = np.array(
    sorted(
        ((a * 0.07, b * 0.07) for a in range(-6, 7) for b in range(-6, 7)), key=lambda d: d[0] * d[0] + d[1] * d[1]
    )
)


def _spots_inside(v: PlanView, room: str, shape: QPolygonF, box: QRectF, size: QSizeF) -> NDArray[np.float64]:
    """Centres at which a text of `size` lies wholly inside the room, the room's own centre first."""
    centre = v.room_centre(room)
    at = np.array([centre.x(), centre.y()])
    centres = at + STEPS * np.array([box.width(), box.height()])
    w, h = size.width() / 2 + 4, size.height() / 2
    inside = np.ones(len(centres), bool)
    corners = [(shape.at(k).x(), shape.at(k).y()) for k in range(shape.count())]
    for dx, dy in ((-w, -h), (w, -h), (-w, h), (w, h)):
        inside &= _within(centres + np.array([dx, dy]), corners)
    return np.concatenate([at[None, :], centres[inside]])


def _within(points: NDArray[np.float64], corners: list[tuple[float, float]]) -> NDArray[np.bool_]:
    """Which points lie inside a polygon (even-odd)."""
    x, y = points[:, 0], points[:, 1]
    out = np.zeros(len(points), bool)
    for (x0, y0), (x1, y1) in zip(corners, corners[1:] + corners[:1], strict=True):
        if y0 != y1:
            out ^= ((y0 > y) != (y1 > y)) & (x < (x1 - x0) * (y - y0) / (y1 - y0) + x0)
    return out


def _block(
    p: QPainter,
    v: PlanView,
    room: str,
    box: QRectF,
    shape: QPolygonF,
    lines: list[tuple[str, str, float, int, str]],
    auto: QColor,
) -> None:
    t = v.theme
    across = v.lens.text_at in ("ducts", "row")
    widths = [
        paint.text_width(value, size, weight) + (paint.text_width(" " + unit_, 12, 500) if unit_ else 0)
        for value, unit_, size, weight, _ in lines
    ]
    heights = [size * 1.28 for _, _, size, _, _ in lines]
    if across:
        size = QSizeF(sum(widths) + 8 * (len(lines) - 1), max(heights))
    else:
        size = QSizeF(max(widths), sum(heights))
    while size.width() > box.width() - 8 and lines and lines[0][2] > 10 and not across:
        lines = [(a, b, max(c * 0.9, 9.5), d, e) for a, b, c, d, e in lines]
        widths = [
            paint.text_width(value, s, weight) + (paint.text_width(" " + u, 11, 500) if u else 0)
            for value, u, s, weight, _ in lines
        ]
        heights = [s * 1.28 for _, _, s, _, _ in lines]
        size = QSizeF(max(widths), sum(heights))
        if all(s <= 9.5 for _, _, s, _, _ in lines):
            break
    r = v.labels.place(size, _spots_inside(v, room, shape, box, size))
    if r is None:
        return
    if across:
        x = r.left()
        for (value, unit_, s, weight, role), w in zip(lines, widths, strict=True):
            color = t(role) if role else auto
            used = paint.text(p, x, r.bottom() - r.height() * 0.24, value, s, weight, color)
            if unit_:
                paint.text(p, x + used + 3, r.bottom() - r.height() * 0.24, unit_, 12, 500, auto)
            x += w + 8
        return
    y = r.top()
    for (value, unit_, s, weight, role), h in zip(lines, heights, strict=True):
        color = t(role) if role else auto
        paint.value_unit(p, r.center().x(), y + s * 0.98, value, unit_, s, weight, color, color, "c", 12)
        y += h


def note(p: QPainter, v: PlanView) -> None:
    """Two or three lines at the top right."""
    for k, line in enumerate(v.lens.note):
        paint.text(
            p,
            v.width() - 6,
            30 + 15 * k,
            line,
            12,
            600 if k == 0 else 500,
            v.theme("ink") if k == 0 else v.theme("ink2"),
            "r",
        )


def reserve_note(v: PlanView) -> None:
    if v.lens.note:
        w = max(paint.text_width(x, 12, 600) for x in v.lens.note)
        v.labels.block(QRectF(v.width() - 10 - w, 16, w + 10, 15 * len(v.lens.note) + 4))


def tags(p: QPainter, v: PlanView) -> None:
    """Window tags inside the wall."""
    t = v.theme
    for o in v.openings():
        if o.kind != "window":
            continue
        a, b, inward = opening_ends(v, o)
        w = paint.text_width(o.tag, 11.5, 600) + 10
        c = (a + b) / 2 + QPointF(inward.x() * (w / 2 + 10), inward.y() * 17)
        r = QRectF(c.x() - w / 2, c.y() - 8, w, 16)
        paint.rounded(p, r, t("paper"), t("cooling"), 3, 1.2)
        paint.text(p, c.x(), c.y() + 4, o.tag, 11.5, 600, t("cooling"), "c")
        v.labels.block(r)


def dimensions(p: QPainter, v: PlanView) -> None:
    """Wall lengths along the north and west sides, where a tape would be read."""
    t = v.theme
    outlines = [r.outline_m for r in v.rooms()]
    if not outlines:
        return
    xs = [x for o in outlines for x, _ in o]
    ys = [y for o in outlines for _, y in o]
    north = sorted({round(x, 3) for o in outlines for x, y in o if abs(y - min(ys)) < 0.05})
    west = sorted({round(y, 3) for o in outlines for x, y in o if abs(x - min(xs)) < 0.05})
    p.setPen(QPen(t("outline"), 1))
    y = v.to_px(0, min(ys)).y() - 14
    for a, b in zip(north, north[1:], strict=False):
        _dimension(p, v, QPointF(v.to_px(a, 0).x(), y), QPointF(v.to_px(b, 0).x(), y), b - a)
    x = v.to_px(min(xs), 0).x() - 14
    for a, b in zip(west, west[1:], strict=False):
        _dimension(p, v, QPointF(x, v.to_px(0, a).y()), QPointF(x, v.to_px(0, b).y()), b - a)


def _dimension(p: QPainter, v: PlanView, a: QPointF, b: QPointF, length_m: float) -> None:
    t = v.theme
    label = v.number("feet", length_m)
    w = paint.text_width(label, 12, 600) + 8
    across = abs(b.x() - a.x()) > abs(b.y() - a.y())
    room = (b.x() - a.x()) if across else (b.y() - a.y())
    p.setPen(QPen(t("outline"), 1))
    p.drawLine(a, b)
    for e in (a, b):
        p.drawLine(e + QPointF(-3, 3), e + QPointF(3, -3))
    if room < w:
        return
    c = (a + b) / 2
    p.save()
    p.translate(c)
    if not across:
        p.rotate(-90)
    p.fillRect(QRectF(-w / 2, -8, w, 16), t("paper"))
    paint.text(p, 0, 4.4, label, 12, 600, t("ink"), "c")
    p.restore()
