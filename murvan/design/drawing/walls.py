"""Walls dragged across their length: the neighbours follow, openings stay where they were."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

from murvan.design.drawing.outlines import Outline, along_wall, tidy, with_rooms
from murvan.design.house.geometry import TOUCH_M, wall_length_m, wall_points
from murvan.model.edit import changed
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Opening, Point, Room, Space, signed_area

FLAT = 0.05
"""Sine below which two walls count as parallel."""
GAP_M = 0.05


@dataclass(frozen=True)
class WallLine:
    """An endless line on the plan: a point, the direction along and the normal."""

    at: Point
    along: Point
    normal: Point

    def off(self, p: Point) -> float:
        """Distance of a point from the line, m, positive along its normal."""
        return (p[0] - self.at[0]) * self.normal[0] + (p[1] - self.at[1]) * self.normal[1]

    def on(self, p: Point) -> float:
        """How far along the line a point lies from its start, m."""
        return (p[0] - self.at[0]) * self.along[0] + (p[1] - self.at[1]) * self.along[1]


def wall_line(outline: Outline, wall: int) -> WallLine:
    """The line of a wall; the normal points to the right of its direction."""
    a, b = wall_points(outline, wall)
    length = max(hypot(b[0] - a[0], b[1] - a[1]), 1e-9)
    ux, uy = (b[0] - a[0]) / length, (b[1] - a[1]) / length
    return WallLine(a, (ux, uy), (-uy, ux))


Owner = tuple[str, str]
"""('room' or 'space', id)."""


def moving_walls(job: Job, room_id: str, wall: int, alone: bool = False) -> dict[Owner, set[int]]:
    """The walls that move with one: those on the same line that touch it or each other, of any room and space."""
    room = _room(job, room_id)
    if not 0 <= wall < len(room.outline_m):
        raise JobValueError(f"{room.name} has no wall {wall + 1}.")
    chosen: dict[Owner, set[int]] = {("room", room_id): {wall}}
    if alone:
        return chosen
    line = wall_line(room.outline_m, wall)
    on_line = []
    for owner, outline in _outlines(job, room.storey):
        for k in range(len(outline)):
            a, b = wall_points(outline, k)
            if abs(line.off(a)) <= TOUCH_M and abs(line.off(b)) <= TOUCH_M:
                s, e = sorted((line.on(a), line.on(b)))
                if e - s > 0.02:
                    on_line.append((s, e, owner, k))
    low, high = 0.0, wall_length_m(room.outline_m, wall)
    grown = True
    while grown:
        grown = False
        for s, e, owner, k in on_line:
            touches = s < high - GAP_M and e > low + GAP_M
            if touches and k not in chosen.get(owner, set()):
                chosen.setdefault(owner, set()).add(k)
                low, high, grown = min(low, s), max(high, e), True
    return chosen


def _outlines(job: Job, storey: str) -> list[tuple[Owner, Outline]]:
    return [
        *((("room", r.id), r.outline_m) for r in job.rooms if r.storey == storey),
        *((("space", s.id), s.outline_m) for s in job.spaces if s.storey == storey),
    ]


def move_wall(job: Job, room_id: str, wall: int, by_m: float, alone: bool = False) -> Job:
    """Shift a wall along its normal (positive: to the right of its direction).

    With it go all walls on its line that touch it, in neighbours, too; `alone` moves only this room's own.

    Raises:
        JobValueError: a room would vanish or turn inside out.
    """
    moving = moving_walls(job, room_id, wall, alone)
    line = wall_line(_room(job, room_id).outline_m, wall)
    rooms = {r.id: r for r in job.rooms}
    spaces = {s.id: s for s in job.spaces}
    openings = {o.id: o for o in job.openings}
    for (kind, item), walls in moving.items():
        if kind == "space":
            spaces[item] = _shifted_space(spaces[item], walls, line, by_m)
            continue
        old = rooms[item]
        outline = _shifted(old.name, old.outline_m, walls, line, by_m)
        for o in job.openings:
            if o.room == item:
                openings[o.id] = _kept(o, old.outline_m, outline, o.wall in walls)
        rooms[item] = changed(old, outline_m=outline)
    return changed(
        job, job.name, rooms=tuple(rooms.values()), spaces=tuple(spaces.values()), openings=tuple(openings.values())
    )


def _shifted_space(space: Space, walls: set[int], line: WallLine, by: float) -> Space:
    return changed(space, outline_m=_shifted(space.name, space.outline_m, walls, line, by))


def _shifted(name: str, outline: Outline, walls: set[int], line: WallLine, by: float) -> Outline:
    """The outline with some walls moved; corners slide along the walls that stay."""
    n = len(outline)
    out = []
    for i, p in enumerate(outline):
        before, after = (i - 1) % n in walls, i in walls
        if not before and not after:
            out.append(p)
            continue
        slide = line.normal if before and after else _direction(outline, i if before else (i - 1) % n)
        across = slide[0] * line.normal[0] + slide[1] * line.normal[1]
        if abs(across) < 0.2:
            slide, across = line.normal, 1.0
        out.append((round(p[0] + slide[0] * by / across, 5), round(p[1] + slide[1] * by / across, 5)))
    result = tuple(out)
    _still_a_room(name, outline, result)
    return result


def _direction(outline: Outline, wall: int) -> Point:
    a, b = wall_points(outline, wall)
    length = max(hypot(b[0] - a[0], b[1] - a[1]), 1e-9)
    return ((b[0] - a[0]) / length, (b[1] - a[1]) / length)


def _still_a_room(name: str, before: Outline, after: Outline) -> None:
    """Raises JobValueError when a wall has shrunk to nothing or turned round."""
    for k in range(len(before)):
        a, b = wall_points(before, k)
        c, d = wall_points(after, k)
        if hypot(b[0] - a[0], b[1] - a[1]) < 0.01:
            continue
        ahead = (d[0] - c[0]) * (b[0] - a[0]) + (d[1] - c[1]) * (b[1] - a[1])
        if ahead <= 0 or hypot(d[0] - c[0], d[1] - c[1]) < 0.1:
            raise JobValueError(f"{name} would vanish; stop before its wall meets the other one.")
    tidy(after, name)


def _kept(o: Opening, before: Outline, after: Outline, rides: bool) -> Opening:
    """The opening at its old place along the wall; on a wall that moves it rides along."""
    a0, a1 = before[o.wall], after[o.wall]
    ux, uy = _direction(before, o.wall)
    offset = o.offset_m - ((a1[0] - a0[0]) * ux + (a1[1] - a0[1]) * uy)
    if rides and abs((a1[0] - a0[0]) * ux + (a1[1] - a0[1]) * uy) < 1e-6:
        offset = o.offset_m
    room = wall_length_m(after, o.wall) - o.width_m
    offset = min(max(offset, 0.0), max(room, 0.0))
    return o if abs(offset - o.offset_m) < 1e-6 else changed(o, offset_m=round(offset, 5))


def reach_across(job: Job, room_id: str, wall: int) -> tuple[float, int] | None:
    """What a tape reads across the room at this wall: length of an adjoining straight wall, and its index."""
    outline = _room(job, room_id).outline_m
    n = len(outline)
    line = wall_line(outline, wall)
    sides = []
    for k in ((wall - 1) % n, (wall + 1) % n):
        d = _direction(outline, k)
        if abs(d[0] * line.normal[0] + d[1] * line.normal[1]) > 0.7:
            sides.append((wall_length_m(outline, k), k))
    return max(sides) if sides else None


def inward_sign(outline: Outline, wall: int) -> int:
    """+1 when the wall's normal points into the room."""
    return 1 if signed_area(outline) > 0 else -1


def set_wall_length(job: Job, room_id: str, wall: int, length_m: float) -> Job:
    """Give a wall another length: its far end moves along it, and with that the wall there and its neighbours.

    Raises:
        JobValueError: it is too short, a room would vanish, or the next wall only runs on in the same line.
    """
    room = _room(job, room_id)
    n = len(room.outline_m)
    if not 0 <= wall < n:
        raise JobValueError(f"{room.name} has no wall {wall + 1}.")
    if length_m <= 0.1:
        raise JobValueError(f"{room.name}: a wall must be longer than ", ("feet", 0.1), ".")
    along = _direction(room.outline_m, wall)
    end = wall_line(room.outline_m, (wall + 1) % n)
    across = along[0] * end.normal[0] + along[1] * end.normal[1]
    if abs(across) < 0.2:
        raise JobValueError(
            f"{room.name}: this wall only runs on into the next one; drag the wall at its end instead."
        )
    by = (length_m - wall_length_m(room.outline_m, wall)) * across
    return move_wall(job, room_id, (wall + 1) % n, by)


def bump_out(job: Job, room_id: str, wall: int, from_m: float, to_m: float, depth_m: float) -> Job:
    """Push a stretch of a wall out of the room (positive depth) or into it.

    Raises:
        JobValueError: the stretch is shorter than 0.3 m, or the room would cross itself.
    """
    room = _room(job, room_id)
    s, e = sorted((from_m, to_m))
    length = wall_length_m(room.outline_m, wall)
    s, e = max(s, 0.0), min(e, length)
    if e - s < 0.3:
        raise JobValueError(f"{room.name}: a bump-out needs at least ", ("feet", 0.3), " of wall.")
    line = wall_line(room.outline_m, wall)
    out = -inward_sign(room.outline_m, wall) * depth_m

    def at(along: float, off: float) -> Point:
        return (
            round(line.at[0] + line.along[0] * along + line.normal[0] * off, 5),
            round(line.at[1] + line.along[1] * along + line.normal[1] * off, 5),
        )

    outline = (*room.outline_m[: wall + 1], at(s, 0), at(s, out), at(e, out), at(e, 0), *room.outline_m[wall + 1 :])
    shaped = changed(room, outline_m=tidy(outline, room.name))
    riding = _riding(job, room, wall, s, e)
    bare = changed(job, job.name, openings=tuple(o for o in job.openings if o not in riding))
    after = with_rooms(bare, tuple(shaped if r.id == room_id else r for r in job.rooms)).job
    moved = tuple(_on_wall(o, shaped, at(o.offset_m + o.width_m / 2, out)) for o in riding)
    order = {o.id: k for k, o in enumerate(job.openings)}
    openings = sorted((*after.openings, *moved), key=lambda o: order[o.id])
    return changed(after, job.name, openings=tuple(openings))


def _riding(job: Job, room: Room, wall: int, s: float, e: float) -> tuple[Opening, ...]:
    """Openings that go along with a stretch of wall.

    Raises:
        JobValueError: one of them stands across the stretch's end.
    """
    out = []
    for o in job.openings:
        if o.room != room.id or o.wall != wall or o.kind == "skylight":
            continue
        low, high = o.offset_m, o.offset_m + o.width_m
        if high <= s + 1e-6 or low >= e - 1e-6:
            continue
        if low < s - 1e-6 or high > e + 1e-6:
            raise JobValueError(f"{room.name} {o.tag} stands across the end of the bump-out; move it first.")
        out.append(o)
    return tuple(out)


def _on_wall(o: Opening, room: Room, middle: Point) -> Opening:
    """The opening on the wall of the room that runs through a point."""
    found = [(k, along_wall(room.outline_m, k, middle)) for k in range(len(room.outline_m))]
    wall, (along, _) = min(((k, f) for k, f in found if f is not None), key=lambda x: x[1][1])
    length = wall_length_m(room.outline_m, wall)
    offset = min(max(along - o.width_m / 2, 0.0), max(length - o.width_m, 0.0))
    return changed(o, wall=wall, offset_m=round(offset, 5))


def _room(job: Job, room_id: str) -> Room:
    room = next((r for r in job.rooms if r.id == room_id), None)
    if room is None:
        raise JobValueError(f"There is no room '{room_id}' on the plan.")
    return room
