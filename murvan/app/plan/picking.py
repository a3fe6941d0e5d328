"""What lies under a point of the plan."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt

from murvan.app.plan import duct_layers, thing_layers, unit_layers, zone_layers
from murvan.app.plan.sheet import Sheet, underlay_outline
from murvan.design.drawing import Outline
from murvan.design.house import wall_points

PICK_PX = 7.0
REGISTER_PX = 10.0
Hit = tuple[str, str]
"""Kind and id."""


def hit(v: Sheet, at: QPointF) -> Hit | None:
    """The topmost thing under a point: tag, register, run, opening, wall, room."""
    if v.lens.unit:
        room = v.room_at(at)
        line = ("line", v.lens.unit) if unit_layers.on_pipe(v, at) else None
        return unit_layers.hit(v, at) or line or (("room", room) if room is not None else None)
    if v.lens.zones or v.lens.door_calls:
        zone, room = zone_layers.hit(v, at), v.room_at(at)
        door = opening_at(v, at) if v.lens.door_calls else None
        if door is not None and door[1] in v.lens.door_calls:
            return ("call", v.lens.door_calls[door[1]])
        return ("thermostat", zone) if zone is not None else ("room", room) if room is not None else None
    found = _tag(v, at) or _register(v, at) or _run(v, at)
    if found is None and v.lens.dimensions:
        found = thing_layers.hit(v, at, v.lens.survey)
    found = found or opening_at(v, at) or _wall(v, at)
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
    found = _unit(v, at) if v.lens.takes_ducts else None
    run = duct_layers.run_at(v, at) if found is None else None
    if run is not None:
        return ("run", run)
    return found or (thing_layers.boxing_at(v, at) if v.lens.boxes else None) or thing_layers.obstacle_at(v, at)


def _unit(v: Sheet, at: QPointF) -> Hit | None:
    """The cabinet of a ducted unit, or its plenums."""
    return next((("indoor_unit", i) for i, box in duct_layers.cabinets(v) if box.contains(at)), None)


def opening_at(v: Sheet, at: QPointF) -> Hit | None:
    """The window or door under a point."""
    for o in v.openings():
        if o.kind not in ("archway", "skylight") and unit_layers.leg_at(list(v.ends(o)[:2]), at)[1] < PICK_PX:
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
            if unit_layers.leg_at([v.to_px(*a), v.to_px(*b)], at)[1] < PICK_PX:
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
