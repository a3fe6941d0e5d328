"""What the plan draws, from the ground up. Each layer takes the painter and the view and changes neither job nor lens."""

from __future__ import annotations

from math import hypot

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app import paint, pictures
from murvan.app.plan.labels import Labels
from murvan.app.plan.sheet import Sheet
from murvan.design.drawing import swing, wall_lines
from murvan.design.house import Geometry, wall_points
from murvan.model.job import Opening, signed_area
from murvan.units import FOOT

EMPTY_WAYS = (
    ("R", "room by its corners"),
    ("P", "room corner by corner"),
    ("Ctrl+I", "picture, DXF or room list"),
    ("Ctrl+E", "open the sample house"),
)

ELSEWHERE = (("1", "go and draw the house"), ("Ctrl+E", "open the sample house"))
"""The same at other stations."""

OUTER_M, INNER_M = 0.55 * FOOT, 0.36 * FOOT


def grid(p: QPainter, v: Sheet, words: bool) -> None:
    """Dots of an empty sheet, and how to begin."""
    p.setPen(QPen(v.theme("rule"), 2))
    for x in range(20, int(v.width()), 36):
        for y in range(20, int(v.height()), 36):
            p.drawPoint(x, y)
    if not words:
        return
    t = v.theme
    cx, cy = v.width() / 2, v.height() / 2
    p.fillRect(QRectF(cx - 230, cy - 60, 460, 112), t("paper"))
    title = "Drag the first room, or drop a plan picture here" if v.editable else "No rooms yet"
    paint.text(p, cx, cy - 26, title, 20, 700, t("ink"), "c")
    for k, (key, what) in enumerate(EMPTY_WAYS if v.editable else ELSEWHERE):
        left, base = cx - 190 + 215 * (k % 2), cy + 2 + 26 * (k // 2)
        w = paint.key_cap(p, left, base - 13, key, t)
        paint.text(p, left + w + 8, base, what, 13, 500, t("ink2"))


def empty_storey(p: QPainter, v: Sheet) -> None:
    """What to do on a storey without rooms."""
    name = next((s.name for s in v.job.storeys if s.id == v.storey), "This storey")
    at = QPointF(v.width() / 2, v.height() / 2)
    for k, (line, weight) in enumerate(
        ((f"{name} has no rooms yet", 700), ("R draws one over the storey below, Ctrl+PgUp there copies it", 500))
    ):
        paint.text(p, at.x(), at.y() + 22 * k, line, 14, weight, v.theme("ink2"), "c", v.width() - 24)


def storey_below(p: QPainter, v: Sheet) -> None:
    """The rooms of the storey below, thin, to draw on top of them."""
    ids = [s.id for s in v.job.storeys]
    at = ids.index(v.storey) if v.storey in ids else 0
    if at == 0:
        return
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(v.theme("rule"), 1.4))
    for r in v.job.rooms:
        if r.storey == ids[at - 1]:
            p.drawPolygon(v.polygon(r.outline_m))


def underlays(p: QPainter, v: Sheet) -> None:
    """The picture to trace, under everything."""
    for u in v.present_job.underlays:
        if u.storey != v.storey or not u.shown:
            continue
        picture = pictures.pixmap(u.file, u.page, v.theme.dark)
        at = v.to_px(*u.position_m)
        k = u.m_per_px * v.scale
        p.save()
        p.translate(at)
        p.rotate(u.turn_deg)
        if picture is None:
            p.setPen(QPen(v.theme("look"), 1.5, Qt.PenStyle.DashLine))
            p.drawRect(QRectF(0, 0, u.width_px * k, u.height_px * k))
            paint.text(p, 10, 20, f"{u.name} is not in the job file", 13, 600, v.theme("ink"))
        else:
            p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            p.setOpacity(u.opacity)
            p.drawPixmap(QRectF(0, 0, u.width_px * k, u.height_px * k), picture, QRectF(picture.rect()))
        p.restore()


def spaces(p: QPainter, v: Sheet) -> None:
    """Garage on its storey; dashed roof on the storeys above."""
    t = v.theme
    order = {x.id: k for k, x in enumerate(v.job.storeys)}
    for s in v.job.spaces:
        here = s.storey == v.storey
        if order.get(s.storey, 0) > order.get(v.storey, 0):
            continue  # nothing of it is to be seen from below
        pen = QPen(t("outline"), 3 if here else 1)
        if not here:
            pen.setStyle(Qt.PenStyle.DashLine)
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        shape = v.polygon(s.outline_m)
        p.drawPolygon(shape)
        c = shape.boundingRect().center()
        if not here and v.room_at(c) is not None:
            continue  # a room stands over it
        first, second = (s.name, "not heated") if here else (f"{s.name} roof", "below")
        paint.text(p, c.x(), c.y(), first, 13 if here else 12, 600 if here else 500, t("ink3"), "c")
        paint.text(p, c.x(), c.y() + 16, second, 12, 500, t("ink3"), "c")
        half = max(paint.text_width(first, 13, 600), paint.text_width(second, 12, 500)) / 2
        v.labels.block(QRectF(c.x() - half, c.y() - 13, 2 * half, 34))


def rooms(p: QPainter, v: Sheet) -> None:
    """Room fills; the selected room is tinted."""
    p.setPen(Qt.PenStyle.NoPen)
    for r in v.rooms():
        fill = v.lens.fills.get(r.id)
        if fill is None and r.id == v.selected_room and v.lens.text_at != "ducts":
            fill = v.theme("select_soft")
        if fill is not None:
            p.setBrush(fill)
            p.drawPolygon(v.polygon(r.outline_m))


def walls(p: QPainter, v: Sheet) -> None:
    """Partitions thin, outer walls thick, garage side umber where the lens asks for it."""
    t, g = v.theme, v.measures
    if g is None:
        for r in v.rooms():
            p.setPen(QPen(t("wall"), 3))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPolygon(v.polygon(r.outline_m))
        return
    outlines = tuple((r.id, r.storey, r.outline_m) for r in v.job.rooms)
    key = (g, outlines, v.storey, v.scale, v.origin.x(), v.origin.y(), t, v.lens.garage_walls)
    strokes, off = v.kept["walls"].of(key, lambda: _wall_strokes(v, g))
    v.labels.avoid_rows(off)
    for pen, lines in strokes:
        p.setPen(pen)
        p.drawLines(*lines)


Strokes = tuple[tuple[QPen, list[QLineF]], ...]


def _wall_strokes(v: Sheet, g: Geometry) -> tuple[Strokes, NDArray[np.float64]]:
    """Partitions first, walls over them; and the lines that labels stay off."""
    t, off = v.theme, Labels(QRectF())
    out: dict[tuple[bool, bool], tuple[QPen, list[QLineF]]] = {}
    for w in wall_lines(v.job, g, v.storey):
        thick, garage = (OUTER_M if w.outer else INNER_M) * v.scale, w.garage and v.lens.garage_walls
        if (w.outer, garage) not in out:
            color = t("garage") if garage else t("wall") if w.outer else t("inner")
            cap = Qt.PenCapStyle.SquareCap if w.outer else Qt.PenCapStyle.FlatCap
            out[w.outer, garage] = (QPen(color, max(thick, 1.5), Qt.PenStyle.SolidLine, cap), [])
        ends = [v.to_px(*q) for q in w.ends]
        out[w.outer, garage][1].append(QLineF(*ends))
        off.avoid_line(ends, max(thick, 4.0))
    return tuple(out.values()), off.soft_rows(0)


def openings(p: QPainter, v: Sheet) -> None:
    """Windows as three lines in a gap, doors with their swing, archways as gaps."""
    outlines = tuple((r.id, r.storey, r.outline_m) for r in v.job.rooms)
    key = (v.job.openings, outlines, v.storey, v.scale, v.origin.x(), v.origin.y(), v.theme, v.lens.tags)
    for pen, lines in v.kept["windows"].of(key, lambda: _window_strokes(v)):
        p.setPen(pen)
        p.drawLines(*lines)
    for o in v.openings():
        if o.kind in ("door", "archway"):
            a, b, inward = v.ends(o)
            inside = o.inside or o.kind == "archway"
            _gap(p, v, o, a, b, (INNER_M if inside else OUTER_M) * v.scale, inward)
            if o.kind == "door":
                _swing(p, v, o)


def _window_strokes(v: Sheet) -> Strokes:
    """The gap's edge, the gap, two thin lines in it."""
    t, solid, flat = v.theme, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap
    out: dict[float, tuple[list[QLineF], list[QLineF]]] = {}
    for o in v.openings():
        if o.kind != "window":
            continue
        a, b, _ = v.ends(o)
        thick = (INNER_M if o.inside else OUTER_M) * v.scale
        d = b - a
        n = QPointF(-d.y(), d.x()) / max(hypot(d.x(), d.y()), 1e-6) * thick / 6
        whole, thin = out.setdefault(thick, ([], []))
        whole.append(QLineF(a, b))
        thin += [QLineF(a + n, b + n), QLineF(a - n, b - n)]
    strokes: list[tuple[QPen, list[QLineF]]] = []
    for thick, (whole, thin) in out.items():
        strokes += [
            (QPen(t("wall"), thick + 2, solid, flat), whole),
            (QPen(t("glass") if v.lens.tags else t("paper"), thick, solid, flat), whole),
            (QPen(t("paper") if v.lens.tags else t("wall"), 1), thin),
        ]
    return tuple(strokes)


def _gap(p: QPainter, v: Sheet, o: Opening, a: QPointF, b: QPointF, thick: float, inward: QPointF) -> None:
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


def _swing(p: QPainter, v: Sheet, o: Opening) -> None:
    x = swing(o, v.room(o.room))
    hinge, leaf, b = v.to_px(*x.hinge), v.to_px(*x.tip), v.ends(o)[1]
    w = o.width_m * v.scale
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(v.theme("inner"), 1.2))
    p.drawLine(hinge, leaf)
    v.labels.avoid(QRectF(leaf, b).normalized().united(QRectF(hinge, leaf).normalized()))
    p.drawArc(QRectF(hinge.x() - w, hinge.y() - w, 2 * w, 2 * w), int(x.start_deg * 16), int(x.sweep_deg * 16))


def sun_bars(p: QPainter, v: Sheet) -> None:
    """Bars outside each window, as deep as the sun on it."""
    for o in v.openings():
        depth = v.lens.sun.get(o.id, 0.0)
        if depth <= 0.01 or o.kind == "skylight":
            continue
        a, b, inward = v.ends(o)
        off = OUTER_M / 2 * v.scale + 2
        d = 4 + 17 * depth
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(v.theme("sun"))
        p.drawPolygon(QPolygonF([a - inward * off, b - inward * off, b - inward * (off + d), a - inward * (off + d)]))


def selection(p: QPainter, v: Sheet) -> None:
    """Yellow on an ink edge about the selected room, wall or opening."""
    t, s = v.theme, v.selection
    if s is None:
        return
    p.setBrush(Qt.BrushStyle.NoBrush)
    join = Qt.PenJoinStyle.MiterJoin
    if s.kind == "room" and v.has_room(s.id) and v.room(s.id).storey == v.storey and v.lens.text_at != "ducts":
        room = v.room(s.id)
        shape = v.polygon(_inset(room.outline_m, OUTER_M / 2 + 3.5 / v.scale))
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
        if o is not None and o.kind != "skylight":
            ends = v.ends(o)[:2]
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
