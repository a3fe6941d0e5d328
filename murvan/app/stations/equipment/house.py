"""The house beside the capacity chart: every room's share of the cooling load, the unit and its line."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.stations.base import View
from murvan.app.stations.common import COOL_STEPS, step_fill
from murvan.model.job import Storey
from murvan.model.linesets import SOURCE_WORDS

HEADING, FOOT, GAP = 34.0, 70.0, 16.0
NARROW = 210.0
"""Width from which a storey's heading goes on one line."""
LEAST_NAME = 0.85
"""A name of which less than this would be left is not written."""


def draw(p: QPainter, r: QRectF, view: View) -> None:
    """The storeys, as large as they go beside or above one another."""
    job = view.job
    if not job.rooms:
        return
    outlines = [*(q.outline_m for q in job.rooms), *(q.outline_m for q in job.spaces)]
    xs, ys = [x for o in outlines for x, _ in o], [y for o in outlines for _, y in o]
    whole = QRectF(min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys))
    columns, scale = _arranged(r, whole, len(job.storeys))
    wide = (r.width() - 14) / columns
    rows = -(-len(job.storeys) // columns)
    tall = (r.height() - FOOT) / rows
    for k, s in enumerate(reversed(job.storeys)):
        at = QPointF(r.left() + 14 + k % columns * wide, r.top() + k // columns * tall)
        top = _heading(p, at, wide - GAP, view, s)
        _storey(p, view, s, QPointF(at.x() - whole.left() * scale, top - whole.top() * scale), scale)
    _line(p, r, view)


def _arranged(r: QRectF, whole: QRectF, storeys: int) -> tuple[int, float]:
    """Columns of storeys and pixels a metre: whichever makes the house largest."""
    best = (1, 0.0)
    for columns in range(1, storeys + 1):
        wide = (r.width() - 14) / columns - GAP
        tall = (r.height() - FOOT) / -(-storeys // columns) - (HEADING if wide >= NARROW else 2 * HEADING)
        scale = min(wide / max(whole.width(), 0.1), tall / max(whole.height(), 0.1))
        if scale > best[1]:
            best = (columns, scale)
    return best


def _heading(p: QPainter, at: QPointF, wide: float, view: View, s: Storey) -> float:
    """A storey's name and loads, on one line where there is room; returns where its plan begins."""
    t, ld = view.theme, view.r.loads
    here = [i for i, q in enumerate(view.job.rooms) if q.storey == s.id]
    cool, heat = float(ld.cooling_w[here].sum()), float(ld.heating_w[here].sum())
    x, y = at.x(), at.y() + 21
    used = paint.text(p, x, y, s.name, 13, 700, t("ink"), width=wide)
    unit = f"heat {view.unit('kpower')}"
    if wide >= NARROW:
        x += used + 12
        x += paint.value_unit(p, x, y, view.num("kpower", cool), "cool", 13, 700, t("cooling"), t("ink2")) + 10
        paint.value_unit(p, x, y, view.num("kpower", heat), unit, 13, 700, t("heating"), t("ink2"))
        return at.y() + HEADING - 4
    paint.value_unit(p, x, y + 16, view.num("kpower", cool), "cool", 13, 700, t("cooling"), t("ink2"))
    paint.value_unit(p, x, y + 32, view.num("kpower", heat), "heat", 13, 700, t("heating"), t("ink2"))
    return at.y() + 2 * HEADING - 4


def _storey(p: QPainter, view: View, s: Storey, origin: QPointF, scale: float) -> None:
    t, job, ld = view.theme, view.job, view.r.loads

    def px(x: float, y: float) -> QPointF:
        return QPointF(origin.x() + x * scale, origin.y() + y * scale)

    for space in job.spaces:
        if space.storey == s.id:
            p.setPen(QPen(t("outline"), 1))
            p.setBrush(t("panel"))
            p.drawPolygon(QPolygonF([px(a, b) for a, b in space.outline_m]))
    total = max(ld.house_cooling_w, 1.0)
    way = _way(view, s, px)
    taken = _covered(way)
    for i, room in enumerate(job.rooms):
        if room.storey != s.id:
            continue
        shape = QPolygonF([px(a, b) for a, b in room.outline_m])
        watts = float(ld.cooling_w[i])
        fill = step_fill(t, watts / view.r.geometry.area_m2[i], COOL_STEPS, "load")
        p.setPen(QPen(t("wall"), 1.6))
        p.setBrush(fill)
        p.drawPolygon(shape)
        centre = px(*view.r.geometry.centre_m[i])
        _share(p, centre, shape, room.name, f"{watts / total * 100:.0f} %", t.on(fill), taken)
    _unit(p, view, way)


def _share(
    p: QPainter, c: QPointF, shape: QPolygonF, name: str, share: str, color: QColor, taken: list[QRectF]
) -> None:
    """Name and share where they go into the room, else the share alone, else nothing; clear of the unit and its line."""
    box = shape.boundingRect()
    wide, tall = box.width() - 6, box.height() - 4
    name_w, share_w = paint.text_width(name, 12, 600), paint.text_width(share, 14, 700)
    if wide < paint.text_width(share, 12, 700) or tall < 13:
        return
    if wide >= LEAST_NAME * name_w and tall >= 30:
        at = _clear(c, QSizeF(min(max(name_w, share_w), wide), 30), shape, taken)
        if at is not None:
            paint.text(p, at.x(), at.y() - 2, name, 12, 600, color, "c", wide)
            paint.text(p, at.x(), at.y() + 14, share, 14, 700, color, "c")
            return
    elif wide >= paint.text_width(f"{name}  {share}", 12, 700) and not _hidden(c, QSizeF(wide, 14), taken):
        paint.text(p, c.x(), c.y() + 4.4, f"{name}  {share}", 12, 700, color, "c")
        return
    at = _clear(c, QSizeF(paint.text_width(share, 12, 700), 13), shape, taken) or c
    paint.text(p, at.x(), at.y() + 4.4, share, 12, 700, color, "c")


def _hidden(c: QPointF, size: QSizeF, taken: list[QRectF]) -> bool:
    """Whether a text about a point would lie under the unit or its line."""
    r = QRectF(c - QPointF(size.width() / 2, size.height() / 2), size)
    return any(r.intersects(x) for x in taken)


def _clear(c: QPointF, size: QSizeF, shape: QPolygonF, taken: list[QRectF]) -> QPointF | None:
    """The place nearest to `c` at which a text covers nothing and stays in its room; None where there is none."""
    if not _hidden(c, size, taken):
        return c
    half = QPointF(size.width() / 2, size.height() / 2)
    rows, columns = (0, -8, 8, -14, 14, -20, 20), (0, -10, 10, -20, 20, -32, 32, -44, 44)
    for dx, dy in sorted(((dx, dy) for dx in columns for dy in rows), key=lambda d: abs(d[0]) + abs(d[1])):
        at = c + QPointF(dx, dy)
        r = QRectF(at - half, size)
        corners = (r.topLeft(), r.topRight(), r.bottomLeft(), r.bottomRight())
        inside = all(shape.containsPoint(q, Qt.FillRule.OddEvenFill) for q in corners)
        if inside and not _hidden(at, size, taken):
            return at
    return None


BADGE = 18.0


def _way(view: View, s: Storey, px: Callable[[float, float], QPointF]) -> list[QPointF]:
    """The line from the outdoor to the indoor unit as it goes; the indoor unit alone while the other has no place."""
    if view.indoor.storey != s.id:
        return []
    path = [(x, y) for x, y, _ in view.line.path_m]
    if len(path) == 2:  # no bends were drawn: along the walls
        path.insert(1, (path[1][0], path[0][1]))
    return [px(x, y) for x, y in path or [view.indoor.position_m]]


def _covered(way: list[QPointF]) -> list[QRectF]:
    """What names stay clear of: the badges and the line."""
    ends = [QRectF(q.x() - BADGE / 2, q.y() - BADGE / 2, BADGE, BADGE) for q in way[:1] + way[-1:]]
    legs = [QRectF(a, b).normalized().adjusted(-3, -3, 3, 3) for a, b in zip(way, way[1:], strict=False)]
    return ends + legs


def _unit(p: QPainter, view: View, way: list[QPointF]) -> None:
    """The indoor unit and the line to the outdoor one."""
    t = view.theme
    if not way:
        return
    for color, width in (("on_select", 5), ("select", 3)):
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(t(color), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap, Qt.PenJoinStyle.MiterJoin))
        p.drawPolyline(QPolygonF(way))
    if len(way) > 1:
        _badge(p, view, way[0], "O")
    _badge(p, view, way[-1], "I")


def _badge(p: QPainter, view: View, c: QPointF, letter: str) -> None:
    t = view.theme
    box = QRectF(c.x() - 9, c.y() - 9, 18, 18)
    paint.rounded(p, box, t("on_select") if not t.dark else t("ink"), t("paper"), 3)
    paint.text(p, c.x(), c.y() + 4.5, letter, 12, 700, t("select") if not t.dark else t("on_ink"), "c")


def _line(p: QPainter, r: QRectF, view: View) -> None:
    """Whether the line set is within what the unit allows, and what the figures in the rooms are."""
    t, line, chosen = view.theme, view.line, view.s.equipment.chosen
    x, y = r.left() + 14, r.bottom() - 34
    if chosen is not None:
        unit = chosen.unit
        ok = line.length_m <= unit.line_max_m and line.lift_m <= unit.line_max_lift_m
        length, lift = view.num("length", line.length_m, 0), view.text("length", line.lift_m, 0)
        words = f"Line set {length} of {view.text('length', unit.line_max_m, 0)}, rises {lift}{SOURCE_WORDS[line.length_from]}"
        extra = unit.extra_charge_kg(line.length_m)
        if extra > 0:
            words += f" · add {view.text('charge', extra)}"
        paint.mark(p, "good" if ok else "fails", x + 8, y - 4, t, 6.5)
        parts = paint.wrap(words, 12.5, r.width() - 40)[:2]
        y += 6 if len(parts) > 1 else 0
        for k, part in enumerate(parts):
            paint.text(p, x + 22, y + 15 * (k + 1 - len(parts)), part, 12.5, 500, t("ink"), width=r.width() - 40)
    paint.text(p, x, y + 20, "Rooms show their share of the cooling load", 12, 500, t("ink2"), width=r.width() - 20)
