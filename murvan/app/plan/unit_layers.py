"""Indoor and outdoor units on the plan: badges, the rooms they serve, and their refrigerant lines."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.plan.sheet import Sheet
from murvan.model.linesets import laid_line
from murvan.model.unit_edit import served_rooms

SIZE = 22.0
REACH = 14.0
WAIT = QPointF(22, 12)


class Badge(NamedTuple):
    """A unit on the storey shown."""

    at: QPointF
    kind: str
    """'indoor_unit' or 'outdoor_unit'."""
    id: str
    text: str


def badges(v: Sheet) -> list[Badge]:
    """Units of the storey shown, outdoor units on the lowest one; those without a place wait at the edge of the sheet."""
    d, out, waiting = v.job.design, [], 0
    for k, unit in enumerate(d.indoor_units, 1):
        if unit.storey is None:
            waiting += 1
            out.append(Badge(QPointF(WAIT.x(), WAIT.y() + (SIZE + 6) * waiting), "indoor_unit", unit.id, str(k)))
        elif unit.storey == v.storey:
            out.append(Badge(v.to_px(*unit.position_m), "indoor_unit", unit.id, str(k)))
    if v.job.storeys and v.storey == v.job.storeys[0].id:
        for k, outdoor in enumerate(d.outdoor_units):
            if outdoor.position_m is not None:
                out.append(Badge(v.to_px(*outdoor.position_m), "outdoor_unit", outdoor.id, chr(ord("A") + k % 26)))
    return out


def hit(v: Sheet, at: QPointF) -> tuple[str, str] | None:
    """The badge under a point."""
    near = ((abs(b.at.x() - at.x()) + abs(b.at.y() - at.y()), b) for b in badges(v))
    best = min(near, key=lambda x: x[0], default=None)
    return (best[1].kind, best[1].id) if best is not None and best[0] < REACH else None


def pipe(v: Sheet, unit_id: str) -> list[QPointF]:
    """The refrigerant line of a unit on the storey shown, along the walls while no bends are drawn; empty without one."""
    d = v.job.design
    unit = next((x for x in d.indoor_units if x.id == unit_id), None)
    if unit is None or unit.storey != v.storey:
        return []
    path = [(x, y) for x, y, _ in laid_line(d, unit, v.job.storeys).path_m]
    if len(path) == 2:  # no bends were drawn: along the walls
        path.insert(1, (path[1][0], path[0][1]))
    return [v.to_px(*q) for q in path]


def on_pipe(v: Sheet, at: QPointF) -> bool:
    """Whether a point lies on the line of the unit in hand, off its ends."""
    path = pipe(v, v.lens.unit)
    if len(path) < 2 or min((at - path[0]).manhattanLength(), (at - path[-1]).manhattanLength()) < REACH:
        return False
    return leg_at(path, at)[1] < NEAR_PIPE


NEAR_PIPE = 6.0


def leg_at(path: list[QPointF], at: QPointF) -> tuple[int, float]:
    """The leg of a polyline nearest to a point, and how far it is, px."""
    found = []
    for k, (a, b) in enumerate(zip(path, path[1:], strict=False)):
        d = b - a
        length = d.x() ** 2 + d.y() ** 2
        u = 0.0 if length == 0 else min(max(((at.x() - a.x()) * d.x() + (at.y() - a.y()) * d.y()) / length, 0.0), 1.0)
        off = at - (a + d * u)
        found.append(((off.x() ** 2 + off.y() ** 2) ** 0.5, k))
    best = min(found, default=(float("inf"), 0))
    return best[1], best[0]


def units_to_rooms(p: QPainter, v: Sheet) -> None:
    """Lines from the unit in hand to its rooms, refrigerant lines, and a badge for each unit."""
    t = v.theme
    here = badges(v)
    _pipes(p, v)
    chosen = next((b for b in here if b.kind == "indoor_unit" and b.id == v.lens.unit), None)
    unit = next((x for x in v.job.design.indoor_units if x.id == v.lens.unit), None)
    if any(x.storey is None for x in v.job.design.indoor_units):
        paint.text(p, WAIT.x() - 12, WAIT.y() + 4, "to place", 12, 500, t("ink2"))
    if chosen is not None and unit is not None and unit.storey is not None and len(v.job.design.indoor_units) > 1:
        p.setPen(QPen(t("ink"), 1.4, Qt.PenStyle.DotLine))
        for room in served_rooms(v.job, unit):
            if v.room(room).storey == v.storey and not v.inside(v.room(room), chosen.at):
                p.drawLine(chosen.at, v.shape(room).centre)
    for b in here:
        badge(p, v, b, b.id == v.lens.unit)
        v.labels.block(QRectF(b.at.x() - SIZE / 2 - 2, b.at.y() - SIZE / 2 - 2, SIZE + 4, SIZE + 4))


def _pipes(p: QPainter, v: Sheet) -> None:
    t = v.theme
    for unit in v.job.design.indoor_units:
        line = QPolygonF(pipe(v, unit.id))
        if line.count() < 2:
            continue
        mine = unit.id == v.lens.unit
        for color, width in (("paper", 4.0 if mine else 2.5), ("cooling", 2.2 if mine else 1.0)):
            p.setPen(QPen(t(color), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap, Qt.PenJoinStyle.MiterJoin))
            p.drawPolyline(line)
        v.labels.avoid_line([line.at(k) for k in range(line.count())], 4.0)


def badge(p: QPainter, v: Sheet, b: Badge, chosen: bool) -> None:
    """A number indoors, a letter outdoors."""
    t = v.theme
    r = QRectF(b.at.x() - SIZE / 2, b.at.y() - SIZE / 2, SIZE, SIZE)
    fill, ink = (t("select"), t("on_select")) if chosen else (t("ink"), t("on_ink"))
    if b.kind == "outdoor_unit":
        fill, ink = t("cooling"), QColor("#FFFFFF") if not t.dark else t("paper")
    paint.rounded(p, r, fill, t("ink") if chosen else t("paper"), 3 if b.kind == "indoor_unit" else SIZE / 2, 1.5)
    paint.text(p, b.at.x(), b.at.y() + 5, b.text, 14, 700, ink, "c")
