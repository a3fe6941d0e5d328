"""Where heads hang: at the wall that suits a room, clear of glass and of people, with a short way outside for the line."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString
from shapely.geometry import Point as At

from murvan.design.drawing.rooms import Drawn
from murvan.design.drawing.things import room_at
from murvan.design.house.geometry import opening_line, shape_of
from murvan.design.house.open_rooms import open_groups
from murvan.design.units.siting import Surroundings, along_walls
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Point, Room
from murvan.model.unit_edit import IndoorKind, add_unit

OFF_WALL_M = 0.15
"""Of a head's middle from its wall: half its depth."""
STEP_M = 0.3
NEAR_PEOPLE_M = 1.5
HALF_M = 0.5
"""Half the width a head takes along its wall."""
FLOOR_UNIT_M = 0.65
"""Height of a floor unit with air over it."""


def hang_head(job: Job, storey: str, at: Point, kind: IndoorKind = "wall") -> Drawn:
    """A head where it was pressed, serving that room and those that are open to it and have no head yet.

    Raises:
        JobValueError: no room is there.
    """
    room = room_at(job, storey, at)
    if room is None:
        raise JobValueError("A head hangs in a room; press inside one.")
    together = next(g for g in open_groups(job) if room.id in {r.id for r in g})
    if any(x.kind != "ducted" and {r.id for r in together} & set(x.rooms) for x in job.design.indoor_units):
        together = (room,)  # another head beside one that is there
    place = at_wall(room, at) if kind in ("wall", "floor") else at
    made, new = add_unit(job, kind, storey, place, tuple(r.id for r in together), room.name)
    return Drawn(made, "indoor_unit", new)


def at_wall(room: Room, at: Point) -> Point:
    """The place at the nearest wall."""
    shape = shape_of(room.outline_m)
    inner = shape.buffer(-OFF_WALL_M)
    edge = (inner if not inner.is_empty else shape).boundary
    p = edge.interpolate(edge.project(At(at)))
    return (round(p.x, 3), round(p.y, 3))


def on_outside_wall(x: Surroundings, room: Room, at: Point) -> bool:
    """Whether the wall nearest to a place has the outdoors behind it."""
    walls = list(along_walls(x.job, room, x.beyond, STEP_M))
    nearest = min(walls, key=lambda w: (w[0][0] - at[0]) ** 2 + (w[0][1] - at[1]) ** 2, default=None)
    return nearest is not None and nearest[2] == "outdoors"


def best_spot(x: Surroundings, room: Room, kind: IndoorKind) -> Point:
    """Where a unit of a kind hangs by itself: a cassette in the middle, a floor unit under glass, a wall head on an outside
    wall beside the glass; a ducted unit in the middle until it is placed."""
    shape = shape_of(room.outline_m)
    middle = shape.centroid if shape.contains(shape.centroid) else shape.representative_point()
    at_middle = (round(middle.x, 3), round(middle.y, 3))
    walls = _walls(x, room)
    if kind in ("ceiling", "ducted") or walls is None:
        return at_middle
    off = np.hypot(*(walls.spots - np.array(at_middle)).T)
    wrong = walls.covered if kind == "wall" else ~walls.covered
    best = int(np.argmin(1000 * walls.near + 100 * wrong + 50 * walls.inside - 10 * walls.corner + off))
    return (round(float(walls.spots[best][0]), 3), round(float(walls.spots[best][1]), 3))


def head_kind(x: Surroundings, room: Room) -> IndoorKind:
    """A wall head where an outside wall has room for one beside its glass; under glass a floor unit, where the sill is
    high enough for it; common practice."""
    walls = _walls(x, room)
    if walls is None or bool((~walls.inside & ~walls.covered & ~walls.near).any()):
        return "wall"
    sills = [o.sill_m for o in x.job.openings if o.room == room.id and o.kind == "window"]
    under = bool((~walls.inside & walls.covered & ~walls.near).any())
    return "floor" if under and sills and max(sills) >= FLOOR_UNIT_M else "wall"


@dataclass(frozen=True)
class _Walls:
    """Places along the walls of a room: where, and what speaks for and against each."""

    spots: NDArray[np.float64]
    covered: NDArray[np.bool_]
    """By glass or a door."""
    near: NDArray[np.bool_]
    """Where people sit or lie."""
    inside: NDArray[np.bool_]
    """An inside wall."""
    corner: NDArray[np.float64]
    """To the nearer corner, m, up to 1."""


def _walls(x: Surroundings, room: Room) -> _Walls | None:
    job = x.job
    walls = [w for w in along_walls(job, room, x.beyond, STEP_M) if w[3] >= 2 * OFF_WALL_M]
    if not walls:
        return None
    spots = np.array([(on[0] - out[0] * OFF_WALL_M, on[1] - out[1] * OFF_WALL_M) for on, out, _, _ in walls])
    at = shapely.points(spots)
    covered, near = np.zeros(len(walls), bool), np.zeros(len(walls), bool)
    for o in job.openings:
        if o.room == room.id and o.kind != "skylight":
            covered |= shapely.distance(at, LineString(opening_line(o, room))) < OFF_WALL_M + HALF_M
    for f in job.furniture:
        if f.room == room.id and f.kind not in ("desk", "table"):
            near |= np.hypot(*(spots - np.array(f.position_m)).T) < NEAR_PEOPLE_M
    inside = np.array([other != "outdoors" for _, _, other, _ in walls])
    return _Walls(spots, covered, near, inside, np.array([min(c, 1.0) for *_, c in walls]))
