"""Windows, doors and archways put on walls and moved along them; the list of usual sizes."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot
from typing import Literal

from murvan.design.drawing.outlines import along_wall
from murvan.design.drawing.rooms import Drawn
from murvan.design.drawing.turning import next_tag
from murvan.design.house.geometry import wall_facing_deg, wall_length_m, wall_points
from murvan.design.house.walls import stretches
from murvan.model.edit import changed, free_id, make, remove, replace
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Opening, Point, Room

FT, INCH = 0.3048, 0.0254
OpeningKind = Literal["window", "door", "archway"]


@dataclass(frozen=True)
class Size:
    """A usual size: width, height, sill, m."""

    width_m: float
    height_m: float
    sill_m: float

    @property
    def key(self) -> str:
        """What tells it from other sizes in a choice."""
        return f"{self.width_m:.4f}x{self.height_m:.4f}"


def _size(width_in: float, height_in: float, head_in: float = 82.0) -> Size:
    return Size(width_in * INCH, height_in * INCH, max(head_in - height_in, 0.0) * INCH)


SIZES: dict[str, tuple[Size, ...]] = {
    "window": (
        _size(24, 36),
        _size(24, 48),
        _size(30, 48),
        _size(36, 36),
        _size(36, 48),
        _size(36, 60),
        _size(48, 36),
        _size(48, 48),
        _size(48, 60),
        _size(60, 48),
        _size(60, 60),
        _size(72, 48),
        _size(72, 60),
        _size(72, 80),
    ),
    "door": (_size(24, 80), _size(28, 80), _size(30, 80), _size(32, 80), _size(36, 80), _size(60, 80), _size(72, 80)),
    "archway": (_size(36, 80), _size(48, 80), _size(60, 80), _size(72, 80)),
    "skylight": (_size(22, 28), _size(22, 46), _size(30, 46), _size(46, 46)),
}
"""Heads of windows at 82 in over the floor, beside those of doors; common practice."""
FIRST = {"window": SIZES["window"][4], "door": SIZES["door"][4], "archway": SIZES["archway"][1]}
INSIDE_DOOR = SIZES["door"][2]
WALL_REACH_M = 0.8


@dataclass(frozen=True)
class Spot:
    """A place on a wall: the room, its wall, the distance from the wall's first corner, what lies beyond."""

    room: Room
    wall: int
    along_m: float
    length_m: float
    beyond: str


def spot_at(job: Job, storey: str, at: Point, reach_m: float = WALL_REACH_M) -> Spot | None:
    """The wall nearest to a point; of two rooms that share it, the one the point lies in."""
    best: tuple[float, Room, int, float, float] | None = None
    for room in job.rooms:
        if room.storey != storey:
            continue
        for wall in range(len(room.outline_m)):
            found = along_wall(room.outline_m, wall, at)
            if found is None or found[1] > reach_m:
                continue
            cost = found[1] - (0.01 if inner_side(room, wall, at) else 0.0)
            if best is None or cost < best[0]:
                best = (cost, room, wall, *found)
    if best is None:
        return None
    _, room, wall, along, off = best
    length = wall_length_m(room.outline_m, wall)
    along = min(max(along, 0.0), length)
    return Spot(room, wall, along, length, beyond(job, room, wall, along))


def inner_side(room: Room, wall: int, at: Point) -> bool:
    """Whether a point lies on the room's side of its wall."""
    from murvan.design.drawing.walls import inward_sign, wall_line

    return wall_line(room.outline_m, wall).off(at) * inward_sign(room.outline_m, wall) > 0


def beyond(job: Job, room: Room, wall: int, along_m: float) -> str:
    """'outdoors', 'garage' or 'heated' at a place on a wall."""
    for part in stretches(room, wall, job):
        if part.start_m <= along_m <= part.start_m + part.length_m:
            return part.other
    return "outdoors"


def free_offset(job: Job, spot: Spot, width_m: float, moving: str | None = None) -> float:
    """The offset nearest to the spot's middle at which the width is clear of the wall's ends and other openings.

    Raises:
        JobValueError: the wall has no such place.
    """
    taken = sorted(
        (o.offset_m, o.offset_m + o.width_m)
        for o in job.openings
        if o.room == spot.room.id and o.wall == spot.wall and o.id != moving
    )
    wanted = spot.along_m - width_m / 2
    edges = [0.0, *(x for pair in taken for x in pair), spot.length_m]
    best: float | None = None
    for low, high in zip(edges[::2], edges[1::2], strict=True):
        if high - low >= width_m - 1e-6:
            x = min(max(wanted, low), high - width_m)
            if best is None or abs(x - wanted) < abs(best - wanted):
                best = x
    if best is None:
        raise JobValueError(
            f"{spot.room.name}: no room is left for it on this wall of ", ("feet", spot.length_m), "."
        )
    return round(max(best, 0.0), 5)


def place_opening(
    job: Job,
    spot: Spot,
    kind: OpeningKind,
    size: Size | None = None,
    like: Opening | None = None,
    exact_m: float | None = None,
) -> Drawn:
    """A window, door or archway on a wall, its middle at the spot, or its near end `exact_m` from the wall's start.

    Raises:
        JobValueError: a window on an inside wall, an archway on an outside one, or no room on the wall.
    """
    inside = spot.beyond == "heated"
    if kind == "window" and inside:
        raise JobValueError(f"A window needs an outside wall; this one of {spot.room.name} has a room behind it.")
    if kind == "archway" and not inside:
        raise JobValueError(f"An archway joins two rooms; this wall of {spot.room.name} is an outside one.")
    size = size or (INSIDE_DOOR if kind == "door" and inside else FIRST[kind])
    width = min(size.width_m, spot.length_m)
    offset = free_offset(job, spot, width) if exact_m is None else exact_m
    new = make(
        Opening,
        f"{spot.room.name}, new {kind}",
        id=free_id("op", {o.id for o in job.openings}),
        tag=next_tag(list(job.openings), kind),
        kind=kind,
        room=spot.room.id,
        wall=spot.wall,
        offset_m=max(offset, 0.0),
        width_m=width,
        height_m=size.height_m,
        sill_m=size.sill_m if kind == "window" else 0.0,
        glazing=usual_glazing(job, like) if kind == "window" else None,
        inside=inside,
        overhang_m=like.overhang_m if like and kind == "window" else 0.0,
        blinds=like.blinds if like and kind == "window" else 1.0,
    )
    return Drawn(changed(job, job.name, openings=(*job.openings, new)), "opening", new.id)


def last_like(job: Job, kind: str) -> Opening | None:
    """The opening of a kind that was put in last: the next one is like it."""
    return next((o for o in reversed(job.openings) if o.kind == kind), None)


def usual_glazing(job: Job, like: Opening | None) -> str | None:
    """Glazing of a new opening: that of the one it is like, else the one most windows have; None in a job without glazings."""
    if like is not None and like.glazing:
        return like.glazing
    used = [o.glazing for o in job.openings if o.kind == "window" and o.glazing]
    if used:
        return max(set(used), key=used.count)
    return job.glazings[0].id if job.glazings else None


def slide_opening(job: Job, opening_id: str, at: Point) -> Job:
    """Move an opening along its wall so that its middle comes nearest to a point; others stay clear of it.

    Raises:
        JobValueError: there is no such opening.
    """
    o, room = _opening(job, opening_id)
    a, b = wall_points(room.outline_m, o.wall)
    length = max(hypot(b[0] - a[0], b[1] - a[1]), 1e-9)
    along = ((at[0] - a[0]) * (b[0] - a[0]) + (at[1] - a[1]) * (b[1] - a[1])) / length
    spot = Spot(room, o.wall, min(max(along, 0.0), length), length, "")
    return replace(job, "openings", opening_id, offset_m=free_offset(job, spot, min(o.width_m, length), opening_id))


def reads_from_start(outline: tuple[Point, ...], wall: int) -> bool:
    """Whether the wall's first corner is its left, or else its upper, end on the plan."""
    a, b = wall_points(outline, wall)
    return b[0] > a[0] if abs(b[0] - a[0]) >= abs(b[1] - a[1]) else b[1] > a[1]


def shown_offset(job: Job, opening: Opening) -> float:
    """Distance of an opening from its wall's left, or else upper, end on the plan, m."""
    _, room = _opening(job, opening.id)
    if reads_from_start(room.outline_m, opening.wall):
        return opening.offset_m
    return wall_length_m(room.outline_m, opening.wall) - opening.offset_m - opening.width_m


def set_shown_offset(job: Job, opening_id: str, offset_m: float) -> Job:
    """Put an opening at a distance from its wall's left, or else upper, end. Raises JobValueError."""
    o, room = _opening(job, opening_id)
    if reads_from_start(room.outline_m, o.wall):
        return set_offset(job, opening_id, offset_m)
    length = wall_length_m(room.outline_m, o.wall)
    room_left = length - o.width_m
    if offset_m < 0 or offset_m > room_left + 1e-6:
        return set_offset(job, opening_id, room_left + 1.0)  # says what is wrong
    return set_offset(job, opening_id, max(room_left - offset_m, 0.0))


def set_offset(job: Job, opening_id: str, offset_m: float) -> Job:
    """Put an opening's near end at a distance from its wall's first corner.

    Raises:
        JobValueError: it would stand over the wall's end.
    """
    o, room = _opening(job, opening_id)
    length = wall_length_m(room.outline_m, o.wall)
    if offset_m < 0 or offset_m + o.width_m > length + 1e-6:
        raise JobValueError(
            f"{room.name} {o.tag}: the wall is ",
            ("feet", length),
            " long, so it can start at most ",
            ("feet", max(length - o.width_m, 0.0)),
            " along.",
        )
    return replace(job, "openings", opening_id, offset_m=round(offset_m, 5))


def set_size(job: Job, opening_id: str, key: str) -> Job:
    """Give an opening one of the usual sizes. Raises JobValueError."""
    o, _ = _opening(job, opening_id)
    size = next((s for s in SIZES[o.kind] if s.key == key), None)
    if size is None:
        return job
    sill = size.sill_m if o.kind == "window" else 0.0
    return set_width(
        replace(job, "openings", opening_id, height_m=size.height_m, sill_m=sill), opening_id, size.width_m
    )


def set_width(job: Job, opening_id: str, width_m: float) -> Job:
    """Another width about the same middle, moved in from the wall's ends where it must.

    Raises:
        JobValueError: it is wider than its wall.
    """
    o, room = _opening(job, opening_id)
    if o.kind == "skylight":
        return replace(job, "openings", opening_id, width_m=width_m)
    length = wall_length_m(room.outline_m, o.wall)
    if width_m > length + 1e-6:
        raise JobValueError(
            f"{room.name} {o.tag}: ", ("feet", width_m), " is wider than its wall of ", ("feet", length), "."
        )
    offset = min(max(o.offset_m + (o.width_m - width_m) / 2, 0.0), max(length - width_m, 0.0))
    return replace(job, "openings", opening_id, width_m=width_m, offset_m=round(offset, 5))


def remove_opening(job: Job, opening_id: str) -> Drawn:
    """The plan without an opening; its room is selected after it. Raises JobValueError."""
    o, _ = _opening(job, opening_id)
    return Drawn(remove(job, "openings", opening_id), "room", o.room)


def facing(job: Job, opening: Opening) -> float:
    """Compass direction an opening looks to, degrees clockwise from north."""
    _, room = _opening(job, opening.id)
    return wall_facing_deg(room.outline_m, opening.wall, job.site.north_deg)


def _opening(job: Job, opening_id: str) -> tuple[Opening, Room]:
    o = next((x for x in job.openings if x.id == opening_id), None)
    if o is None:
        raise JobValueError(f"There is no opening '{opening_id}' on the plan.")
    return o, next(r for r in job.rooms if r.id == o.room)


__all__ = ["SIZES", "Size", "Spot", "place_opening", "set_offset", "slide_opening", "spot_at"]
