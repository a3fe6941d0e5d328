"""Strokes that make and change rooms: rectangle, polygon, new wall, wall, whole room, joining."""

from __future__ import annotations

from math import atan2, cos, hypot, pi, sin
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPen

from murvan.app.plan.gestures.base import Gesture, Stroke, caught_mark, dimension, ghost, length_text, pill
from murvan.design.house.drawing.outlines import Outline
from murvan.design.house.drawing.pace import settle_overrides
from murvan.design.house.drawing.rooms import Drawn, draw_room, draw_space, next_room, split_room
from murvan.design.house.drawing.snap import Snap, SnapField
from murvan.design.house.drawing.turning import move_rooms, shift
from murvan.design.house.drawing.walls import bump_out, inward_sign, move_wall, moving_walls, reach_across, wall_line
from murvan.design.house.geometry import wall_points
from murvan.model.errors import JobError
from murvan.model.job import Job, Point

if TYPE_CHECKING:
    from murvan.app.plan.view import PlanView

LEAST_M = 0.25


class Rectangle(Gesture):
    """From corner to corner; Tab goes from the length across to the one down."""

    fields = ("across", "down")
    space = False

    def __init__(self, view: PlanView, at: QPointF) -> None:
        super().__init__(view, at)
        self.field = SnapField(self.job, self.storey)
        self.first = self.caught(self.field, at)
        self.snap = self.first

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
        ghost(p, self.view, o, _possible(self))
        (x0, y0), (x1, y1) = self.first.at, self.corner()
        left, right, top, bottom = min(x0, x1), max(x0, x1), min(y0, y1), max(y0, y1)
        dimension(p, self.view, (left, top), (right, top), 16, self.lengths.texts[0], self.lengths.at == 0)
        dimension(p, self.view, (left, bottom), (left, top), 16, self.lengths.texts[1], self.lengths.at == 1)
        if not self.lengths.typed:
            caught_mark(p, self.view, self.snap)

    def hint(self) -> str:
        return "Type a length, Tab for the other one, Enter or release to keep, Esc to drop"


class GarageRectangle(Rectangle):
    """A garage or porch, drawn like a room."""

    space = True


def _possible(gesture: Gesture) -> bool:
    """Whether the stroke could be kept as it is now."""
    return not gesture.view.stroke_trouble


class Polygon(Gesture):
    """Corner after corner; Enter, a double click or the first corner closes it."""

    fields = ("length",)

    def __init__(self, view: PlanView, at: QPointF) -> None:
        super().__init__(view, at)
        self.field = SnapField(self.job, self.storey)
        self.snap = self.caught(self.field, at)
        self.points: list[Point] = [self.snap.at]
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

    def drop_last(self) -> bool:
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
            ghost(p, self.view, tuple(self.points), _possible(self))
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


class NewWall(Gesture):
    """A stroke across a room that cuts it in two."""

    fields = ("from the wall",)

    def __init__(self, view: PlanView, at: QPointF) -> None:
        super().__init__(view, at)
        self.field = SnapField(self.job, self.storey)
        self.first = self.caught(self.field, at)
        self.snap = self.first

    def follow(self) -> None:
        snap = self.caught(self.field, self.at_px, self.first.at)
        if not self.free:
            x, y = self.view.to_m(self.at_px)
            level = abs(x - self.first.at[0]) >= abs(y - self.first.at[1])
            at = (snap.at[0], self.first.at[1]) if level else (self.first.at[0], snap.at[1])
            snap = Snap(at, snap.words, snap.guides)
        self.snap = snap

    def ends(self) -> tuple[Point, Point]:
        """Both ends; a typed length counts from the room's left or upper wall."""
        a, b = self.first.at, self.snap.at
        typed = self.lengths.value(0)
        room = self._room()
        if typed is None or room is None:
            return a, b
        axis = 1 if abs(b[0] - a[0]) >= abs(b[1] - a[1]) else 0
        start = min(p[axis] for p in room)
        return (
            (_with(a, axis, start + typed), _with(b, axis, start + typed))
            if abs(a[axis] - b[axis]) < 1e-6
            else (a, b)
        )

    def _room(self) -> Outline | None:
        a, b = self.first.at, self.snap.at
        middle = self.view.to_px((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
        return next((r.outline_m for r in self.view.rooms_of(self.job) if self.view.inside(r, middle)), None)

    def stroke(self) -> Stroke | None:
        a, b = self.ends()
        if hypot(b[0] - a[0], b[1] - a[1]) < LEAST_M:
            return None
        storey = self.storey
        return Stroke("Split room", lambda job: split_room(job, storey, a, b))

    def paint(self, p: QPainter) -> None:
        a, b = self.ends()
        ghost(p, self.view, (a, b), _possible(self) or not self.moved, False)
        room = self._room()
        if room is not None:
            axis = 1 if abs(b[0] - a[0]) >= abs(b[1] - a[1]) else 0
            low, high = min(q[axis] for q in room), max(q[axis] for q in room)
            middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
            dimension(p, self.view, _with(middle, axis, low), middle, 0, self.lengths.texts[0], True)
            dimension(p, self.view, middle, _with(middle, axis, high), 0)
        if not self.lengths.typed:
            caught_mark(p, self.view, self.snap)

    def hint(self) -> str:
        return "Draw from wall to wall; a typed length counts from the room's left or upper wall"


def _with(p: Point, axis: int, value: float) -> Point:
    return (round(value, 5), p[1]) if axis == 0 else (p[0], round(value, 5))


class WallDrag(Gesture):
    """A wall moved across its length; the neighbours follow, with Alt only this one moves."""

    fields = ("across the room",)
    stays_open = False

    def __init__(self, view: PlanView, at: QPointF, room: str, wall: int) -> None:
        super().__init__(view, at)
        self.room, self.wall = room, wall
        owner = next(r for r in self.job.rooms if r.id == room)
        self.line = wall_line(owner.outline_m, wall)
        self.inward = inward_sign(owner.outline_m, wall)
        self.across = reach_across(self.job, room, wall)
        self.field = SnapField(self.job, self.storey, frozenset())
        self.start_m = view.to_m(at)
        self.by = 0.0
        self._moved_job: tuple[tuple[float, bool], Job | None] = ((0.0, False), self.job)
        self._moving: dict[bool, list[tuple[str, str]]] = {}

    def follow(self) -> None:
        x, y = self.view.to_m(self.at_px)
        by = self.line.off((x, y)) - self.line.off(self.start_m)
        self.snap = Snap((x, y))
        if self.free:
            self.by = round(by, 3)
            return
        base = self.line.off(self.line.at)
        target = self._alignment(base + by)
        if target is not None:
            self.by = target - base
            return
        across = self.across[0] if self.across else 0.0
        grid = self.grid_m
        new = round((across - by * self.inward) / grid) * grid
        self.by = (across - new) * self.inward

    def _alignment(self, off: float) -> float | None:
        """A line through other corners that the wall comes near to."""
        f = self.field
        if not len(f.corners):
            return None
        n, at = self.line.normal, self.line.at
        offs = (f.corners[:, 0] - at[0]) * n[0] + (f.corners[:, 1] - at[1]) * n[1]
        other = np.abs(offs) > 0.02
        if not other.any():
            return None
        gaps = np.where(other, np.abs(offs - off), np.inf)
        k = int(np.argmin(gaps))
        if gaps[k] > self.reach_m:
            return None
        corner = (float(f.corners[k][0]), float(f.corners[k][1]))
        x, y = self.view.to_m(self.at_px)
        self.snap = Snap((x, y), f"in line with {f.names[k]}", ())
        self.snap = Snap(corner, f"in line with {f.names[k]}", ())
        return float(offs[k])

    def shift(self) -> float:
        typed = self.lengths.value(0)
        if typed is None or self.across is None:
            return self.by
        return (self.across[0] - typed) * self.inward

    def _as_moved(self) -> Job | None:
        """The job with the wall where it is now; None where it can't go. Worked out once a place."""
        key = (self.shift(), self.free)
        if self._moved_job[0] != key:
            try:
                job = move_wall(self.job, self.room, self.wall, *key)
            except JobError:
                job = None
            self._moved_job = (key, job)
        return self._moved_job[1]

    def stroke(self) -> Stroke | None:
        by, room, wall, alone = self.shift(), self.room, self.wall, self.free
        if abs(by) < 1e-4:
            return None
        return Stroke("Move wall", lambda job: Drawn(move_wall(job, room, wall, by, alone), "wall", f"{room}/{wall}"))

    def paint(self, p: QPainter) -> None:
        v, job = self.view, self._as_moved()
        if self.free not in self._moving:
            self._moving[self.free] = list(moving_walls(self.job, self.room, self.wall, self.free))
        outlines = [
            o for kind, item in self._moving[self.free] if (o := _outline(job or self.job, kind, item)) is not None
        ]
        for o in outlines:
            ghost(p, v, o, job is not None)
        owner = _outline(job or self.job, "room", self.room)
        if owner is not None and self.across is not None:
            a, b = wall_points(owner, self.across[1])
            dimension(p, v, a, b, 14 * self.inward, self.lengths.texts[0], True)
        if self.snap.words:
            caught_mark(p, v, self.snap)

    def hint(self) -> str:
        return "Neighbours follow; Alt moves this wall alone; type what the tape shall read across the room"


def _outline(job: Job, kind: str, item: str) -> Outline | None:
    items = job.rooms if kind == "room" else job.spaces
    return next((x.outline_m for x in items if x.id == item), None)  # type: ignore[attr-defined]


class RoomDrag(Gesture):
    """A whole room moved; its corners catch those of the others."""

    fields = ("right", "down")
    stays_open = False

    def __init__(self, view: PlanView, at: QPointF, room: str) -> None:
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


class BumpOut(Gesture):
    """A stretch of a wall pushed out or in: press on the wall, drag along it and away from it."""

    fields = ("width", "depth")

    def __init__(self, view: PlanView, at: QPointF, room: str, wall: int) -> None:
        super().__init__(view, at)
        self.room, self.wall = room, wall
        outline = next(r.outline_m for r in self.job.rooms if r.id == room)
        self.line = wall_line(outline, wall)
        self.out = -inward_sign(outline, wall)
        self.start = self._grid(self.line.on(view.to_m(at)))

    def _grid(self, value: float) -> float:
        return value if self.free else round(value / self.grid_m) * self.grid_m

    def measures(self) -> tuple[float, float, float]:
        """From, to and depth: typed or by the pointer."""
        x, y = self.view.to_m(self.at_px)
        to = self._grid(self.line.on((x, y)))
        depth = self._grid(self.line.off((x, y)) * self.out)
        width, typed = self.lengths.value(0), self.lengths.value(1)
        if width is not None:
            to = self.start + (width if to >= self.start else -width)
        if typed is not None:
            depth = typed if depth >= 0 else -typed
        return self.start, to, depth

    def stroke(self) -> Stroke | None:
        s, e, depth = self.measures()
        if abs(e - s) < 0.1 or abs(depth) < 0.02:
            return None
        room, wall = self.room, self.wall
        return Stroke("Bump out", lambda job: Drawn(bump_out(job, room, wall, s, e, depth), "room", room))

    def paint(self, p: QPainter) -> None:
        s, e, depth = self.measures()
        at = self.line.at

        def point(along: float, off: float) -> Point:
            u, n = self.line.along, self.line.normal
            return (at[0] + u[0] * along + n[0] * off, at[1] + u[1] * along + n[1] * off)

        out = depth * self.out
        ghost(p, self.view, (point(s, 0), point(s, out), point(e, out), point(e, 0)), _possible(self))
        side = 16.0 if self.out > 0 else -16.0
        dimension(
            p,
            self.view,
            point(s, out),
            point(e, out),
            -side * (1 if e > s else -1) * (1 if depth >= 0 else -1),
            self.lengths.texts[0],
            self.lengths.at == 0,
        )
        dimension(p, self.view, point(e, 0), point(e, out), 16, self.lengths.texts[1], self.lengths.at == 1)

    def hint(self) -> str:
        return "Drag along the wall and away from it; type the width, Tab, the depth"


class Hover:
    """The mark that shows what a press would catch."""

    def __init__(self, view: PlanView) -> None:
        self.view = view
        self._key: tuple[int, str] | None = None
        self._field: SnapField | None = None

    def at(self, at: QPointF, free: bool) -> Snap:
        v = self.view
        job = v.present_job
        if self._key != (id(job.rooms), v.storey) or self._field is None:
            self._key, self._field = (id(job.rooms), v.storey), SnapField(job, v.storey)
        from murvan.app.plan.gestures.base import REACH_PX
        from murvan.design.house.drawing.snap import grid_step_m

        x, y = v.to_m(at)
        if free:
            return Snap((x, y))
        return self._field.snap((x, y), REACH_PX / v.scale, grid_step_m(v.scale, v.units == "si"))


def cross_hair(p: QPainter, v: PlanView, at: QPointF) -> None:
    """Thin lines through the pointer over the whole plan while a room is being started."""
    p.setPen(QPen(v.theme("rule"), 1, Qt.PenStyle.DashLine))
    p.drawLine(QPointF(0, at.y()), QPointF(v.width(), at.y()))
    p.drawLine(QPointF(at.x(), 0), QPointF(at.x(), v.height()))
