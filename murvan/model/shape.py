"""Edits of the plan's shape that keep neighbours together."""

from __future__ import annotations

from math import hypot
from typing import Any

from murvan.model.edit import changed
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Point

SAME_M = 0.02


def set_wall_length(job: Job, room_id: str, wall: int, length_m: float) -> Job:
    """Give a wall another length: its far end moves, and every corner of the storey on that line moves along.

    Raises:
        JobValueError: the wall is slanting, or a room would vanish or cross itself.
    """
    room = next((r for r in job.rooms if r.id == room_id), None)
    if room is None or not 0 <= wall < len(room.outline_m):
        raise JobValueError(f"There is no wall {wall} in {room_id}.")
    if length_m <= 0.1:
        raise JobValueError(f"{room.name}: a wall must be longer than ", ("feet", 0.1), ".")
    a, b = room.outline_m[wall], room.outline_m[(wall + 1) % len(room.outline_m)]
    axis = 0 if abs(b[0] - a[0]) >= abs(b[1] - a[1]) else 1
    if abs(b[1 - axis] - a[1 - axis]) > SAME_M:
        raise JobValueError(f"{room.name}: a slanting wall can't be given a length here.")
    now = hypot(b[0] - a[0], b[1] - a[1])
    move = (length_m - now) * (1 if b[axis] > a[axis] else -1)
    return move_line(job, room.storey, axis, b[axis], b[axis] + move)


def move_line(job: Job, storey: str, axis: int, at_m: float, to_m: float) -> Job:
    """Move every corner of a storey's rooms and spaces that lies on a plan line (axis 0: x, 1: y)."""

    def moved(pt: Point) -> Point:
        if abs(pt[axis] - at_m) > SAME_M:
            return pt
        return (to_m, pt[1]) if axis == 0 else (pt[0], to_m)

    def shifted(item: Any) -> Any:
        outline = tuple(moved(pt) for pt in item.outline_m)
        return item if item.storey != storey or outline == item.outline_m else changed(item, outline_m=outline)

    return changed(
        job, job.name, rooms=tuple(shifted(r) for r in job.rooms), spaces=tuple(shifted(s) for s in job.spaces)
    )
