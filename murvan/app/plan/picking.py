"""What lies under a point of the plan."""

from __future__ import annotations

from math import hypot

from PyQt6.QtCore import QPointF, Qt

from murvan.app.plan import duct_layers, thing_layers, unit_layers
from murvan.app.plan.sheet import Sheet, underlay_outline
from murvan.design.house.drawing.outlines import Outline
from murvan.design.house.geometry import wall_points

PICK_PX = 7.0
REGISTER_PX = 10.0
RUN_PX = 3.0
"""Beyond the edge of a duct."""
Hit = tuple[str, str]
"""Kind and id."""


def hit(v: Sheet, at: QPointF) -> Hit | None:
    """The topmost thing under a point: tag, register, run, opening, wall, room."""
    if v.lens.unit:
        room = v.room_at(at)
        line = ("line", v.lens.unit) if unit_layers.on_pipe(v, at) else None
        return unit_layers.hit(v, at) or line or (("room", room) if room is not None else None)
    found = _tag(v, at) or _register(v, at) or _run(v, at)
    if found is None and v.lens.dimensions:
        found = thing_layers.hit(v, at, v.lens.survey)
    found = found or _opening(v, at) or _wall(v, at)
    if found is not None:
        return found
    room = v.room_at(at)
    if room is not None:
        return ("room", room)
    return _beside(v, at) if v.lens.dimensions else None


def _tag(v: Sheet, at: QPointF) -> Hit | None:
    if not v.as_drawn:
        return None
    return next(((kind, i) for r, kind, i in reversed(v.tag_hits) if r.contains(at)), None)


def _register(v: Sheet, at: QPointF) -> Hit | None:
    for x in v.registers():
        c = v.to_px(*x.position_m)
        if abs(c.x() - at.x()) < REGISTER_PX and abs(c.y() - at.y()) < REGISTER_PX:
            return ("register", x.id)
    return None


def _run(v: Sheet, at: QPointF) -> Hit | None:
    if not v.lens.ducts:
        return None
    near = ((_to_line(at, duct_layers.run_points(v, r)) - duct_layers.run_width_px(v, r) / 2, r.id) for r in v.runs())
    best = min(near, default=None)
    return ("run", best[1]) if best is not None and best[0] < RUN_PX else None


def _opening(v: Sheet, at: QPointF) -> Hit | None:
    for o in v.openings():
        if o.kind not in ("archway", "skylight") and _to_line(at, list(v.ends(o)[:2])) < PICK_PX:
            return ("opening", o.id)
    return None


def _wall(v: Sheet, at: QPointF) -> Hit | None:
    """On a shared wall the room under the pointer wins; outside the house any does."""
    if not v.lens.dimensions:
        return None
    inside = v.room_at(at)
    for r in v.rooms():
        if inside is not None and inside != r.id:
            continue
        for k in range(len(r.outline_m)):
            a, b = wall_points(r.outline_m, k)
            if _to_line(at, [v.to_px(*a), v.to_px(*b)]) < PICK_PX:
                return ("wall", f"{r.id}/{k}")
    return None


def _beside(v: Sheet, at: QPointF) -> Hit | None:
    """What lies outside the rooms: a garage, or the picture under the plan."""
    for s in v.job.spaces:
        if s.storey == v.storey and _covers(v, s.outline_m, at):
            return ("space", s.id)
    for u in v.job.underlays:
        if u.storey == v.storey and u.shown and _covers(v, underlay_outline(u), at):
            return ("underlay", u.id)
    return None


def _covers(v: Sheet, outline: Outline, at: QPointF) -> bool:
    return v.polygon(outline).containsPoint(at, Qt.FillRule.OddEvenFill)


def _to_line(at: QPointF, points: list[QPointF]) -> float:
    """Distance from a point to a polyline, px."""
    best = float("inf")
    for a, b in zip(points, points[1:], strict=False):
        d = b - a
        length = d.x() ** 2 + d.y() ** 2
        u = 0.0 if length == 0 else min(max(((at.x() - a.x()) * d.x() + (at.y() - a.y()) * d.y()) / length, 0), 1)
        q = a + d * u
        best = min(best, hypot(at.x() - q.x(), at.y() - q.y()))
    return best
