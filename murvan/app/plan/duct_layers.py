"""Ducts, the unit and its registers on the plan."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from math import cos, hypot, pi, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPainterPathStroker, QPen, QPixmap, QPolygonF

from murvan.app import paint
from murvan.app.painters import drawing
from murvan.app.plan.sheet import Sheet
from murvan.app.plan.unit_layers import leg_at
from murvan.design.drawing import RISES_M, Box, UnitShape, bars, round_about, unit_shapes
from murvan.design.ducts import Terminal, frame_m, run_kind
from murvan.design.limits import SERVICE_M
from murvan.design.space import Stand, footprint
from murvan.model.design import Bypass
from murvan.model.job import DuctRun
from murvan.model.routes import CHASE


def run_points(v: Sheet, run: DuctRun) -> list[QPointF]:
    return [v.to_px(*pt) for pt in v.laid(run).path_m]


def run_width_px(v: Sheet, run: DuctRun) -> float:
    w = run.diameter_m if run.shape == "round" else run.width_m
    return max((w or 0.15) * v.scale, 5.0)


RUN_PX = 3.0
"""A run is met this far beyond its edge."""


def run_at(v: Sheet, at: QPointF) -> str | None:
    """The run under a point."""
    near = ((leg_at(run_points(v, r), at)[1] - run_width_px(v, r) / 2, r.id) for r in v.runs())
    best = min(near, default=None)
    return best[1] if best is not None and best[0] < RUN_PX else None


def run_path(points: list[QPointF], round_corners: float) -> QPainterPath:
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


def ducts(p: QPainter, v: Sheet) -> None:
    """Runs with widths to scale: sheet plain, flex ribbed, chevrons with the flow; kept while they look the same."""
    faint = v.lens.ducts_faint
    chosen = v.selected_path()
    drawn = [r for r in v.runs() if run_kind(r) != "trunk"] + [r for r in v.runs() if run_kind(r) == "trunk"]
    looks = tuple((r.id in chosen, v.run_hanging(r), 0 if faint else v.run_color(r).rgba()) for r in drawn)
    ratio = paint.device_ratio(p)
    where = (v.storey, v.scale, v.origin.x(), v.origin.y(), v.width(), v.height(), ratio)
    framed = v.lens.boxes and tuple(v.laid(r).framed for r in drawn)
    key = (v.job.design.runs, v.job.design.joints, v.theme, faint, framed, looks, where)

    def make() -> QPixmap:
        picture = QPixmap(round(v.width() * ratio), round(v.height() * ratio))
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        with drawing(picture) as inner:
            _draw_ducts(inner, v, drawn, set(chosen), faint)
        return picture

    p.drawPixmap(0, 0, v.kept["ducts"].of(key, make))


FRAME_PX = 5.0


def _frames(p: QPainter, v: Sheet, drawn: list[DuctRun]) -> None:
    """What has to be framed round runs that lie in rooms: dashed at both sides, or round a riser."""
    p.setPen(QPen(v.theme("ink2"), 1.3, Qt.PenStyle.DashLine))
    p.setBrush(Qt.BrushStyle.NoBrush)
    for run in drawn:
        laid = v.laid(run)
        wide, high = frame_m(run)
        if laid.framed == CHASE:
            c, x, y = v.to_px(*laid.path_m[-1]), wide * v.scale / 2 + 2 * FRAME_PX, high * v.scale / 2 + 2 * FRAME_PX
            p.drawRect(QRectF(c.x() - x, c.y() - y, 2 * x, 2 * y))
        elif laid.framed:
            width = max(wide * v.scale, run_width_px(v, run) + 2 * FRAME_PX)
            p.drawPath(_outline(run_path(run_points(v, run), 0), width).simplified())


def _draw_ducts(p: QPainter, v: Sheet, drawn: list[DuctRun], chosen: set[str], faint: bool) -> None:
    t = v.theme
    for run in drawn:
        width = run_width_px(v, run)
        path = run_path(run_points(v, run), width * (1.2 if run.made_of.bends else 0.9))
        if run.id in chosen and not faint:
            outline = _outline(path, width + 8)
            p.setPen(QPen(t("ink"), 1.2))
            p.setBrush(t("select"))
            p.drawPath(outline.simplified())
    for run in drawn:
        _draw_run(p, v, run, faint)
    if v.lens.boxes:
        _frames(p, v, drawn)
    for run in drawn:
        if run.damper is not None and not faint:
            _damper(p, v, run)
        if run.zone_damper and not faint:
            _zone_damper(p, v, run)


def _draw_run(p: QPainter, v: Sheet, run: DuctRun, faint: bool) -> None:
    t = v.theme
    width = run_width_px(v, run)
    material = run.made_of
    path = run_path(run_points(v, run), width * (1.2 if material.bends else 0.9))
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
    rib = QColor(light)
    rib.setAlpha(90)
    if material.thick:
        p.setPen(QPen(rib, 1.0))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(_outline(path, max(width - 5, 1.0)).simplified())
    if material.ribs_px:
        # one stroke with a pen as wide as the duct and short dashes
        pen = QPen(rib, width - 2, Qt.PenStyle.CustomDashLine, Qt.PenCapStyle.FlatCap)
        pen.setDashPattern([1.0 / (width - 2), (material.ribs_px - 1) / (width - 2)])
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(path)
    _chevrons(p, path, width, run.side == "return", light)


def _chevrons(p: QPainter, path: QPainterPath, width: float, backwards: bool, color: QColor) -> None:
    length = path.length()
    every = 62.0
    n = max(1, int(length / every))
    if length < 16:
        return
    size = min(5.5, width * 0.32)
    p.setPen(QPen(color, 1.8))
    p.setBrush(Qt.BrushStyle.NoBrush)
    for k in range(n):
        chevron(p, path, (k + 0.5) / n, size, backwards)


def chevron(p: QPainter, path: QPainterPath, at: float, size: float, backwards: bool) -> None:
    """One with the flow, a part of the way along a path."""
    c = path.pointAtPercent(at)
    a = path.angleAtPercent(at) * pi / 180 + (pi if backwards else 0)
    along, n_ = QPointF(cos(a), -sin(a)), QPointF(sin(a), cos(a))
    tip = c + along * size * 0.6
    p.drawPolyline(QPolygonF([tip - along * size + n_ * size, tip, tip - along * size - n_ * size]))


def _damper(p: QPainter, v: Sheet, run: DuctRun) -> None:
    points = run_points(v, run)
    path = run_path(points, 0)
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


def zone_damper_at(v: Sheet, run: DuctRun) -> QPointF:
    """Where the zone damper of a run is drawn."""
    path = run_path(run_points(v, run), 0)
    return path.pointAtPercent(min(22.0 / max(path.length(), 1), 0.5))


def _zone_damper(p: QPainter, v: Sheet, run: DuctRun) -> None:
    c, t = zone_damper_at(v, run), v.theme
    p.setPen(QPen(t("paper"), 1))
    p.setBrush(t("ink"))
    p.drawRect(QRectF(c.x() - 8, c.y() - 8, 16, 16))
    paint.text(p, c.x(), c.y() + 4.5, run.zone_damper or "", 12, 700, t("on_ink"), "c")


def cabinets(v: Sheet) -> Iterator[tuple[str, QRectF]]:
    """Every ducted unit of the storey with its cabinet and its plenums, px."""
    for x in unit_shapes(v.job, v.storey):
        if x.cabinet is not None:
            yield x.unit.id, v.polygon(x.outline).boundingRect()
            for box in x.boxes:
                yield x.unit.id, _box(v, box)


def _box(v: Sheet, box: Box) -> QRectF:
    c, w, h = v.to_px(*box.middle), box.width_m * v.scale, box.height_m * v.scale
    return QRectF(c.x() - w / 2, c.y() - h / 2, w, h)


def work_space(p: QPainter, v: Sheet, x: Stand) -> None:
    """The room to work before a unit."""
    p.setPen(QPen(v.theme("ink2"), 1.2, Qt.PenStyle.DashLine))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPolygon(v.polygon(tuple(footprint(x, SERVICE_M).exterior.coords)))


def _cabinet(p: QPainter, v: Sheet, x: UnitShape) -> None:
    """The cabinet with a thick line at its front."""
    t = v.theme
    p.setPen(QPen(t("ink"), 1.4))
    p.setBrush(t("steel"))
    p.drawPolygon(v.polygon(x.outline))
    p.setPen(QPen(t("ink"), 4))
    p.drawLine(*(v.to_px(*q) for q in x.front))


def units(p: QPainter, v: Sheet) -> None:
    """Air handlers with their plenums, risers and ventilators."""
    t, design = v.theme, v.job.design
    for x in unit_shapes(v.job, v.storey):
        if not x.unit.unit:
            continue
        if x.cabinet is not None:
            _cabinet(p, v, x)
        if x.unit.bypass is not None and len(x.boxes) == 2:
            _bypass(p, v, x.unit.bypass, x.boxes)
        for box in x.boxes:
            c, r = v.to_px(*box.middle), _box(v, box)
            supply = box.plenum.side == "supply"
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
            v.labels.block(r)
    storey_of = {x.id: x.storey for x in design.indoor_units}
    for run in design.runs:
        lies = v.laid(run)
        if abs(lies.rise_m) > RISES_M and v.storey != storey_of[run.indoor] and run.storey == v.storey:
            c = v.to_px(*lies.path_m[0])
            r = QRectF(c.x() - 10, c.y() - 7, 20, 14)
            _crossed(p, r, t("paper"), t("ink"))
            v.labels.block(r.adjusted(-2, -2, 2, 2))
    for vent in design.ventilators:
        if not vent.position_m or vent.storey != v.storey or vent.kind == "none":
            continue
        c = v.to_px(*vent.position_m)
        r = QRectF(c.x() - 19, c.y() - 14, 38, 30)
        p.setPen(QPen(t("ink"), 1.4))
        p.setBrush(t("paper"))
        p.drawRect(r)
        paint.text(p, c.x(), c.y() - 1, vent.kind.upper(), 11.5, 700, t("ink"), "c")
        paint.text(p, c.x(), c.y() + 12, v.number("flow", vent.flow_m3_s), 11.5, 600, t("ink"), "c")
        v.labels.block(r)


BYPASS_PX = 24.0


def _bypass(p: QPainter, v: Sheet, bypass: Bypass, boxes: tuple[Box, ...]) -> None:
    """From plenum to plenum, past the unit, with its damper in the middle."""
    t, (a, b) = v.theme, (v.to_px(*x.middle) for x in boxes)
    off = BYPASS_PX + max(bypass.diameter_m * v.scale, 6.0) / 2
    line = [QPointF(*q) for q in round_about((a.x(), a.y()), (b.x(), b.y()), off)]
    path = run_path(line, 6.0)
    wide = max(bypass.diameter_m * v.scale, 5.0)
    for pen in (QPen(t("ink"), wide + 2), QPen(t("supply_soft"), wide)):
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(path)
    c = (line[1] + line[2]) / 2
    p.setPen(QPen(t("ink"), 1.4))
    p.setBrush(t("paper"))
    p.drawEllipse(c, 7.0, 7.0)
    paint.text(p, c.x(), c.y() + 4.5, "B", 11, 700, t("ink"), "c")
    v.labels.block(QRectF(c.x() - 8, c.y() - 8, 16, 16))


def _crossed(p: QPainter, r: QRectF, fill: QColor, edge: QColor) -> None:
    p.setPen(QPen(edge, 1.3))
    p.setBrush(fill)
    p.drawRect(r)
    p.drawLine(r.topLeft(), r.bottomRight())
    p.drawLine(r.topRight(), r.bottomLeft())


def registers(p: QPainter, v: Sheet) -> None:
    """Supply: crossed square; return: barred box."""
    t = v.theme
    for x in v.registers():
        c = v.to_px(*x.position_m)
        on = v.selection is not None and v.selection.kind == "register" and v.selection.id == x.id
        if x.side == "supply":
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
            for k in bars(r.left(), r.right(), 4):
                p.drawLine(QPointF(k, r.top() + 3), QPointF(k, r.bottom() - 3))
        v.labels.block(r.adjusted(-2, -2, 2, 2))


def throws(p: QPainter, v: Sheet) -> None:
    """How far the air of each supply register reaches, where the lens asks."""
    for x in v.registers() if v.lens.throws else ():
        terminal = v.terminals.get(x.id)
        if x.side == "supply" and terminal is not None and terminal.throw_m > 0:
            _throw(p, v, terminal, v.to_px(*x.position_m))


def _throw(p: QPainter, v: Sheet, terminal: Terminal, c: QPointF) -> None:
    """Two arcs in each direction at half and full throw to scale, cut by the room's walls."""
    t = v.theme
    far = terminal.throw_m * v.scale
    reach = round(far * 0.09) * 8  # in steps: labels need not move with each foot of throw
    for a in (45, 135, 225, 315):
        v.labels.avoid(QRectF(c.x() + reach * cos(a * pi / 180) - 7, c.y() + reach * sin(a * pi / 180) - 7, 14, 14))
    p.save()
    room = v.polygon(v.room(terminal.register.room).outline_m)
    corners = [room.at(k) for k in range(room.count())]
    if len(corners) == 4 and len({q.x() for q in corners}) == len({q.y() for q in corners}) == 2:
        # a rectangle is cut faster than a path
        p.setClipRect(room.boundingRect())
    else:
        clip = QPainterPath()
        clip.addPolygon(room)
        p.setClipPath(clip)
    p.setBrush(Qt.BrushStyle.NoBrush)
    if far <= KEPT_PX:
        picture = _arcs(round(far), t("supply").rgba(), paint.device_ratio(p))
        half = picture.width() / picture.devicePixelRatio() / 2
        p.drawPixmap(QPointF(c.x() - half, c.y() - half), picture)
    else:
        _draw_arcs(p, c, far, t("supply"))
    p.restore()


KEPT_PX = 160
"""Arcs up to this radius are kept as pictures; larger ones are drawn each time."""


def _draw_arcs(p: QPainter, c: QPointF, radius: float, color: QColor) -> None:
    for share, weight in ((0.5, 1.0), (1.0, 1.5)):
        r = radius * share
        p.setPen(QPen(color, weight))
        for a in (45, 135, 225, 315):
            p.drawArc(QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r), int((a - 24) * 16), 48 * 16)


@lru_cache(maxsize=256)
def _arcs(radius: int, rgba: int, ratio: float) -> QPixmap:
    """Four arcs at half and four at full throw around the middle."""
    side = 2 * radius + 6
    picture = QPixmap(round(side * ratio), round(side * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    with drawing(picture) as q:
        q.setRenderHint(QPainter.RenderHint.Antialiasing)
        _draw_arcs(q, QPointF(side / 2, side / 2), radius, QColor.fromRgba(rgba))
    return picture
