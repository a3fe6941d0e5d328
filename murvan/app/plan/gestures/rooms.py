"""Strokes that make and change rooms: rectangle, polygon, new wall, wall, whole room, joining."""

from __future__ import annotations

from collections.abc import Callable
from math import atan2, cos, hypot, pi, sin
from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPen

from murvan.app.plan.gestures.base import (
    Gesture,
    Stroke,
    caught_mark,
    dimension,
    ghost,
    grabs,
    length_text,
    pill,
    tool,
)
from murvan.app.plan.sheet import Sheet
from murvan.design.drawing import (
    Drawn,
    Outline,
    Snap,
    SnapField,
    draw_room,
    draw_space,
    join_rooms,
    move_rooms,
    next_room,
    settle_overrides,
    shift,
)
from murvan.model.job import Job, Point

LEAST_M = 0.25


class FromCaught(Gesture):
    """A stroke that begins at the point the pointer catches."""

    @classmethod
    def before(cls, p: QPainter, v: Sheet, at: QPointF, snap: Callable[[], Snap], **more: Any) -> None:
        cross_hair(p, v, snap())

    def __init__(self, view: Sheet, at: QPointF) -> None:
        super().__init__(view, at)
        self.field = SnapField(self.job, self.storey)
        self.first = self.caught(self.field, at)
        self.snap = self.first


@tool("room", "Drag a room from corner to corner; over another room it takes what is free")
class Rectangle(FromCaught):
    """From corner to corner; Tab goes from the length across to the one down."""

    fields = ("across", "down")
    space = False

    def follow(self) -> None:
        self.snap = self.caught(self.field, self.at_px, self.first.at)

    def corner(self) -> Point:
        """The far corner: typed lengths go the way the pointer went, right and down while it has not moved."""
        out = list(self.snap.at)
        way = (self.at_px - self.pressed_px) if self.moved else QPointF()
        for k, back in enumerate((way.x() < 0, way.y() < 0)):
            typed = self.lengths.value(k)
            if typed is not None:
                out[k] = self.first.at[k] + (-typed if back else typed)
        return (round(out[0], 5), round(out[1], 5))

    def outline(self) -> Outline:
        (x0, y0), (x1, y1) = self.first.at, self.corner()
        return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))

    def stroke(self) -> Stroke | None:
        (x0, y0), (x1, y1) = self.first.at, self.corner()
        if abs(x1 - x0) < LEAST_M or abs(y1 - y0) < LEAST_M:
            return None
        outline, storey = self.outline(), self.storey
        if self.space:
            return Stroke("Draw garage", lambda job: draw_space(job, storey, outline))
        return Stroke(f"Draw {next_room(self.job)[1]}", lambda job: draw_room(job, storey, outline))

    def paint(self, p: QPainter) -> None:
        o = self.outline()
        ghost(p, self.view, o, possible(self))
        (x0, y0), (x1, y1) = self.first.at, self.corner()
        left, right, top, bottom = min(x0, x1), max(x0, x1), min(y0, y1), max(y0, y1)
        dimension(p, self.view, (left, top), (right, top), 16, self.lengths.texts[0], self.lengths.at == 0)
        dimension(p, self.view, (left, bottom), (left, top), 16, self.lengths.texts[1], self.lengths.at == 1)
        if not self.lengths.typed:
            caught_mark(p, self.view, self.snap)

    def hint(self) -> str:
        return "Type a length, Tab for the other one, Enter or release to keep, Esc to drop"


@tool("garage", "Drag the garage from corner to corner")
class GarageRectangle(Rectangle):
    """A garage or porch, drawn like a room."""

    space = True


def possible(gesture: Gesture) -> bool:
    """Whether the stroke could be kept as it is now."""
    return not gesture.trouble


@tool("polygon", "Click the first corner of the room")
class Polygon(FromCaught):
    """Corner after corner; Enter, a double click or the first corner closes it."""

    fields = ("length",)
    by_clicks = True

    def __init__(self, view: Sheet, at: QPointF) -> None:
        super().__init__(view, at)
        self.points: list[Point] = [self.first.at]
        self.closing = False

    def follow(self) -> None:
        first = self.view.to_px(*self.points[0])
        self.closing = len(self.points) > 2 and _distance(first, self.at_px) < 10
        if self.closing:
            self.snap = Snap(self.points[0], "first corner closes the room", (), True)
            return
        last = self.points[-1]
        self.snap = self.caught(self.field, self.at_px, last, tuple(self.points))
        if not self.free and not self.snap.corner:
            self.snap = self._straight(self.snap, last)

    def _straight(self, snap: Snap, last: Point) -> Snap:
        """Level, upright or at 45 degrees when the pointer is nearly so."""
        x, y = self.view.to_m(self.at_px)
        dx, dy = x - last[0], y - last[1]
        length = hypot(dx, dy)
        if length < 1e-6:
            return snap
        angle = atan2(dy, dx)
        nearest = round(angle / (pi / 4)) * (pi / 4)
        if abs(angle - nearest) > 0.12:
            return snap
        if abs(sin(nearest)) < 1e-9:
            return Snap((snap.at[0], last[1]), snap.words, snap.guides)
        if abs(cos(nearest)) < 1e-9:
            return Snap((last[0], snap.at[1]), snap.words, snap.guides)
        side = round(max(abs(dx), abs(dy)) / self.grid_m) * self.grid_m
        way = (1 if cos(nearest) > 0 else -1, 1 if sin(nearest) > 0 else -1)
        return Snap((round(last[0] + way[0] * side, 5), round(last[1] + way[1] * side, 5)), "45°")

    def next_point(self) -> Point:
        typed = self.lengths.value(0)
        last = self.points[-1]
        if typed is None:
            return self.snap.at
        dx, dy = self.snap.at[0] - last[0], self.snap.at[1] - last[1]
        length = hypot(dx, dy)
        if length < 1e-9:
            return last
        return (round(last[0] + dx / length * typed, 5), round(last[1] + dy / length * typed, 5))

    def press_again(self) -> bool:
        if self.closing:
            return True
        self._add()
        return False

    def _add(self) -> None:
        point = self.next_point()
        if hypot(point[0] - self.points[-1][0], point[1] - self.points[-1][1]) > 0.02:
            self.points.append(point)
        self.lengths.clear()

    def enter(self) -> bool:
        if self.lengths.typed:
            self._add()
            return False
        return len(self.points) > 2

    def double(self) -> bool:
        return len(self.points) > 2

    def back(self) -> bool:
        """Take the last corner back; False when only the first is left."""
        if len(self.points) < 2:
            return False
        self.points.pop()
        return True

    def stroke(self) -> Stroke | None:
        if len(self.points) < 3:
            return None
        outline, storey = tuple(self.points), self.storey
        return Stroke(f"Draw {next_room(self.job)[1]}", lambda job: draw_room(job, storey, outline))

    def paint(self, p: QPainter) -> None:
        at = self.next_point()
        if len(self.points) > 2:
            ghost(p, self.view, tuple(self.points), possible(self))
        ghost(p, self.view, (*self.points, at), True, False)
        for a, b in zip(self.points, self.points[1:], strict=False):
            dimension(p, self.view, a, b, 16)
        if not self.closing:
            dimension(p, self.view, self.points[-1], at, 16, self.lengths.texts[0], True)
        caught_mark(p, self.view, self.snap if not self.lengths.typed else Snap(at))

    def hint(self) -> str:
        return "Click or type a length and Enter for each corner; Enter closes, Backspace takes one back, Esc drops"


def _distance(a: QPointF, b: QPointF) -> float:
    return hypot(a.x() - b.x(), a.y() - b.y())


@grabs
class RoomDrag(Gesture):
    """A whole room moved; its corners catch those of the others."""

    fields = ("right", "down")
    stays_open = False

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> RoomDrag | None:
        selected = view.selection is not None and view.selection.id == item
        return cls(view, at, item) if kind == "room" and selected else None

    def __init__(self, view: Sheet, at: QPointF, room: str) -> None:
        super().__init__(view, at)
        self.room = room
        self.field = SnapField(self.job, self.storey, frozenset({room}))
        self.points = np.array(next(r.outline_m for r in self.job.rooms if r.id == room), float)
        self.start_m = view.to_m(at)
        self.by = (0.0, 0.0)
        self.words = ""

    def follow(self) -> None:
        x, y = self.view.to_m(self.at_px)
        raw = (x - self.start_m[0], y - self.start_m[1])
        if self.free:
            self.by, self.words = (round(raw[0], 3), round(raw[1], 3)), ""
            return
        found = [self._axis(k, raw[k]) for k in (0, 1)]
        self.by = (found[0][0], found[1][0])
        self.words = " and ".join(dict.fromkeys(f"in line with {n}" for _, n in found if n))

    def _axis(self, axis: int, by: float) -> tuple[float, str]:
        """The shift along an axis that lays a corner on another room's, or a round one."""
        others = self.field.corners
        if len(others):
            gap = others[None, :, axis] - (self.points[:, None, axis] + by)
            k = int(np.argmin(np.abs(gap)))
            least = float(gap.flat[k])
            if abs(least) <= self.reach_m:
                return round(by + least, 5), self.field.names[k % len(others)]
        grid = self.grid_m
        return round(round(by / grid) * grid, 5), ""

    def shift(self) -> Point:
        out = [self.lengths.value(k) for k in (0, 1)]
        x, y = self.view.to_m(self.at_px)
        raw = (x - self.start_m[0], y - self.start_m[1])
        return (
            self.by[0] if out[0] is None else out[0] if raw[0] >= 0 else -out[0],
            self.by[1] if out[1] is None else out[1] if raw[1] >= 0 else -out[1],
        )

    def stroke(self) -> Stroke | None:
        dx, dy = self.shift()
        if abs(dx) < 1e-4 and abs(dy) < 1e-4:
            return None
        room = self.room
        name = next(r.name for r in self.job.rooms if r.id == room)
        return Stroke(f"Move {name}", lambda job: Drawn(settled(job, room, dx, dy), "room", room))

    def paint(self, p: QPainter) -> None:
        dx, dy = self.shift()
        moved = tuple((float(x) + dx, float(y) + dy) for x, y in self.points)
        ghost(p, self.view, moved)
        c = self.view.to_px(sum(x for x, _ in moved) / len(moved), sum(y for _, y in moved) / len(moved))
        for k, (way, value) in enumerate(((("right", "left")[dx < 0], dx), (("down", "up")[dy < 0], dy))):
            shown = self.lengths.texts[k] or length_text(self.view, abs(value))
            active = self.lengths.at == k
            pill(p, self.view, c + QPointF(0, 24 * k - 12), f"{way} {shown}", bool(self.lengths.texts[k]), active)
        if self.words:
            caught_mark(p, self.view, Snap(moved[0], self.words))

    def hint(self) -> str:
        return "Corners catch those of other rooms; type how far, Tab for the other way; Alt moves freely"


def settled(job: Job, room: str, dx: float, dy: float) -> Job:
    """The room moved; what was only said of its walls goes where the plan now shows it."""
    after = move_rooms(job, {room}, shift(dx, dy))
    near = {r.id for r in after.rooms if any(w.room == r.id for w in after.wall_overrides)}
    return settle_overrides(after, near) if near else after


@tool("join", "Click the room to join to the selected one")
class JoinRoom(Gesture):
    """A click on the room that is joined to the selected one."""

    stays_open = False
    at_once = True
    then = "select"

    @classmethod
    def begin(cls, view: Sheet, at: QPointF, **more: Any) -> JoinRoom | str:
        hit, chosen = view.room_at(at), view.selected_room
        if hit is None or chosen is None:
            return "Select a room first, then click the one to join to it"
        return cls(view, at, chosen, hit)

    @classmethod
    def before(cls, p: QPainter, v: Sheet, at: QPointF, snap: Callable[[], Snap], **more: Any) -> None:
        room = v.room_at(at)
        if room is not None and room != v.selected_room:
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(v.theme("ink"), 3, Qt.PenStyle.DashLine))
            p.drawPolygon(v.polygon(v.room(room).outline_m))

    def __init__(self, view: Sheet, at: QPointF, chosen: str, other: str) -> None:
        super().__init__(view, at)
        self.chosen, self.other = chosen, other

    def stroke(self) -> Stroke | None:
        chosen, other = self.chosen, self.other
        return Stroke("Join rooms", lambda job: join_rooms(job, chosen, other))

    def paint(self, p: QPainter) -> None:
        """Nothing moves under the pointer."""


class Hover:
    """The mark that shows what a press would catch."""

    def __init__(self, view: Sheet) -> None:
        self.view = view
        self._key: tuple[int, str] | None = None
        self._field: SnapField | None = None

    def at(self, at: QPointF, free: bool) -> Snap:
        v = self.view
        job = v.present_job
        if self._key != (id(job.rooms), v.storey) or self._field is None:
            self._key, self._field = (id(job.rooms), v.storey), SnapField(job, v.storey)
        from murvan.app.plan.gestures.base import REACH_PX
        from murvan.design.drawing import grid_step_m

        x, y = v.to_m(at)
        if free:
            return Snap((x, y))
        return self._field.snap((x, y), REACH_PX / v.scale, grid_step_m(v.scale, v.units == "si"))


def cross_hair(p: QPainter, v: Sheet, snap: Snap) -> None:
    """Thin lines through what a press would catch over the whole plan, while a room is being started."""
    at = v.to_px(*snap.at)
    p.setPen(QPen(v.theme("rule"), 1, Qt.PenStyle.DashLine))
    p.drawLine(QPointF(0, at.y()), QPointF(v.width(), at.y()))
    p.drawLine(QPointF(at.x(), 0), QPointF(at.x(), v.height()))
    caught_mark(p, v, snap)
