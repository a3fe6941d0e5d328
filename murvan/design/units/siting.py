"""Where outdoor units stand: outside a wall, off glass, bedrooms and what is kept clear; and how loud they are at windows."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from math import dist, log10
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString
from shapely.geometry import Point as At
from shapely.ops import unary_union

from murvan.design.house.geometry import opening_line, room_height_m, shape_of
from murvan.design.house.walls import Stretch, all_stretches
from murvan.model.house import floor_heights
from murvan.model.job import Job, Opening, Point, Room, signed_area

OFF_HOUSE_M = 0.75
"""Of an outdoor unit's middle from the wall: air behind it and half its depth; common practice, the maker's plate decides."""
STEP_M = 0.5
APART_M = 1.2
CROWDED = 100.0
FROM_GLASS_M = 1.0
QUIET_M = 3.0
"""From a bedroom's window, where there is a choice."""
SOUND_AT_M = 1.0
"""Distance at which a maker gives the sound."""
NEAREST_M = 0.5
FAN_M = 0.5
"""Height of its fan over the ground."""


@dataclass(frozen=True)
class Surroundings:
    """A house for siting: worked out once, asked for every unit."""

    job: Job
    beyond: dict[tuple[str, int], list[Stretch]]
    """What lies beyond each wall, by room and wall."""
    outside: tuple[Point, ...]
    """Places along the outside walls on the ground."""
    toll: NDArray[np.float64]
    """What speaks against each of them, as metres of line."""


def surroundings(job: Job) -> Surroundings:
    """What lies beyond the walls, and where outdoor units can stand."""
    storeys = {s.id: s for s in job.storeys}
    heights = tuple(room_height_m(r, storeys) for r in job.rooms)
    found = all_stretches(job.rooms, heights, job.spaces, job.storeys)
    beyond = {(job.rooms[i].id, wall): parts for (i, wall), parts in found.items()}
    lowest = ground_storey(job)
    outside = tuple(_outside(job, lowest, beyond))
    return Surroundings(job, beyond, outside, _toll(job, lowest, outside))


def _toll(job: Job, lowest: str, places: tuple[Point, ...]) -> NDArray[np.float64]:
    """Glass and doors near by, bedrooms that would hear it, floor to keep clear."""
    at = shapely.points(np.array(places).reshape(-1, 2))
    toll = np.zeros(len(places))
    for o, room in _openings(job):
        apart = shapely.distance(at, LineString(opening_line(o, room)))
        toll += np.where(apart < FROM_GLASS_M, 4.0, 0.0)
        if room.use == "bedroom":
            toll += np.where(apart < QUIET_M, 6.0, 0.0)
    for k in job.keep_clear:
        if k.storey == lowest:
            toll += np.where(shapely.contains(shape_of(k.outline_m), at), 20.0, 0.0)
    return toll


def outdoor_spot(x: Surroundings, near: Point, others: Iterable[Point] = ()) -> Point | None:
    """A place on the ground outside, as near as can be to `near`, off glass and bedrooms; None without an outside wall.

    Args:
        others: Where outdoor units stand already; it keeps its distance where the house is long enough.
    """
    if not x.outside:
        return None
    cost = x.toll + np.hypot(*(np.array(x.outside) - np.array(near)).T)
    for q in others:
        cost += np.where(np.hypot(*(np.array(x.outside) - np.array(q)).T) < APART_M, CROWDED, 0.0)
    return x.outside[int(np.argmin(cost))]


def ground_storey(job: Job) -> str:
    """The storey whose walls stand on the ground: the first that is not below it."""
    return next((s.id for s in job.storeys if s.floor_m is None or s.floor_m > -0.5), job.storeys[0].id)


def along_walls(
    job: Job, room: Room, beyond: dict[tuple[str, int], list[Stretch]], step_m: float
) -> Iterator[tuple[Point, Point, str, float]]:
    """Points along the walls of a room: where, the way out of it, what lies beyond, and how far to the nearer corner."""
    turn = 1 if signed_area(room.outline_m) > 0 else -1
    for k, (a, b) in enumerate(zip(room.outline_m, (*room.outline_m[1:], room.outline_m[0]), strict=True)):
        length = dist(a, b)
        for n in range(1, int(length / step_m) + 1):
            s = n * step_m
            if s >= length:
                continue
            u = ((b[0] - a[0]) / length, (b[1] - a[1]) / length)
            here = beyond.get((room.id, k), [])
            other = next((x.other for x in here if x.start_m <= s <= x.start_m + x.length_m), "heated")
            yield (a[0] + u[0] * s, a[1] + u[1] * s), (u[1] * turn, -u[0] * turn), other, min(s, length - s)


def _outside(job: Job, storey: str, beyond: dict[tuple[str, int], list[Stretch]]) -> Iterator[Point]:
    """Places along the outside walls, beside the house and clear of it."""
    rooms = [r for r in job.rooms if r.storey == storey]
    solid = [shape_of(r.outline_m) for r in rooms] + [shape_of(x.outline_m) for x in job.spaces if x.storey == storey]
    house = unary_union(solid).buffer(OFF_HOUSE_M - 0.05)
    for r in rooms:
        for on, out, other, _ in along_walls(job, r, beyond, STEP_M):
            at = (round(on[0] + out[0] * OFF_HOUSE_M, 3), round(on[1] + out[1] * OFF_HOUSE_M, 3))
            if other == "outdoors" and not house.contains(At(at)):
                yield at


def _openings(job: Job) -> Iterator[tuple[Opening, Room]]:
    """Windows and doors to the outside, with their rooms."""
    rooms = {r.id: r for r in job.rooms}
    return ((o, rooms[o.room]) for o in job.openings if not o.inside and o.kind in ("window", "door"))


class Heard(NamedTuple):
    """How loud an outdoor unit is at the bedroom window that hears it most."""

    opening: Opening
    room: Room
    distance_m: float
    sound_dba: float
    """At the window, dBA."""


def at_bedroom(job: Job, at: Point, sound_dba: float) -> Heard | None:
    """The bedroom window nearest to an outdoor unit; None without one.

    Free field over the ground from the maker's sound at 1 m: 6 dB less for each doubling of the distance (ISO 9613-2,
    from memory); walls that shield or reflect are left out.
    """
    found = [(apart[0], o, room) for o, room, apart in at_windows(job, [at])]
    if not found:
        return None
    apart, o, room = min(found, key=lambda x: x[0])
    return Heard(o, room, apart, sound_at(sound_dba, apart))


def at_windows(job: Job, places: Sequence[Point]) -> Iterator[tuple[Opening, Room, list[float]]]:
    """Every bedroom window, and how far outdoor units at some places are from it, m."""
    floor = floor_heights(job.storeys)
    for o, room in _openings(job):
        if room.use == "bedroom" and o.kind == "window":
            up = max(floor[room.storey] + o.sill_m + o.height_m / 2 - FAN_M, 0.0)
            line = LineString(opening_line(o, room))
            yield o, room, [max((line.distance(At(at)) ** 2 + up**2) ** 0.5, NEAREST_M) for at in places]


def sound_at(sound_dba: float, distance_m: float) -> float:
    """Sound of a unit at a distance, from the maker's at 1 m."""
    return sound_dba - 20 * log10(max(distance_m, NEAREST_M) / SOUND_AT_M)
