"""Strokes of walls: a new one across a room, one moved across its length, a stretch bumped out."""

from __future__ import annotations

from math import hypot
from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter

from murvan.app.plan.gestures.base import Gesture, Stroke, caught_mark, dimension, ghost, grabs, tool
from murvan.app.plan.gestures.rooms import LEAST_M, FromCaught, possible
from murvan.app.plan.sheet import Sheet
from murvan.design.drawing import (
    Drawn,
    Outline,
    Snap,
    SnapField,
    bump_out,
    inward_sign,
    move_wall,
    moving_walls,
    reach_across,
    split_room,
    spot_at,
    wall_line,
)
from murvan.design.house import wall_points
from murvan.model.errors import JobError
from murvan.model.job import Job, Point


def _with(p: Point, axis: int, value: float) -> Point:
    return (round(value, 5), p[1]) if axis == 0 else (p[0], round(value, 5))


def _outline(job: Job, kind: str, item: str) -> Outline | None:
    items = job.rooms if kind == "room" else job.spaces
    return next((x.outline_m for x in items if x.id == item), None)  # type: ignore[attr-defined]


@tool("split", "Drag a new wall across a room")
class NewWall(FromCaught):
    """A stroke across a room that cuts it in two."""

    fields = ("from the wall",)

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
        ghost(p, self.view, (a, b), possible(self) or not self.moved, False)
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


@grabs
class WallDrag(Gesture):
    """A wall moved across its length; the neighbours follow, with Alt only this one moves."""

    fields = ("across the room",)
    stays_open = False

    @classmethod
    def grab(cls, view: Sheet, at: QPointF, kind: str, item: str) -> WallDrag | None:
        room, _, wall = item.rpartition("/")
        return cls(view, at, room, int(wall)) if kind == "wall" else None

    def __init__(self, view: Sheet, at: QPointF, room: str, wall: int) -> None:
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


@tool("bump", "Drag along a wall and away from it")
class BumpOut(Gesture):
    """A stretch of a wall pushed out or in: press on the wall, drag along it and away from it."""

    fields = ("width", "depth")

    @classmethod
    def begin(cls, view: Sheet, at: QPointF, **more: Any) -> BumpOut | str:
        spot = spot_at(view.present_job, view.storey, view.to_m(at), 12 / view.scale)
        return cls(view, at, spot.room.id, spot.wall) if spot is not None else "Press on a wall to bump it out"

    def __init__(self, view: Sheet, at: QPointF, room: str, wall: int) -> None:
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
        ghost(p, self.view, (point(s, 0), point(s, out), point(e, out), point(e, 0)), possible(self))
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
