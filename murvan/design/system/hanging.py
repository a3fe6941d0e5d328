"""Where heads hang: at the wall that suits a room, clear of glass and of people, with a short way outside for the line."""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as At

from murvan.design.house.drawing.outlines import opening_line
from murvan.design.house.drawing.rooms import Drawn
from murvan.design.house.drawing.things import room_at
from murvan.design.system.open_rooms import open_groups
from murvan.design.system.siting import Surroundings, along_walls
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Point, Room
from murvan.model.unit_edit import IndoorKind, add_unit

OFF_WALL_M = 0.15
"""Of a head's middle from its wall: half its depth."""
STEP_M = 0.3
NEAR_PEOPLE_M = 1.5
HALF_M = 0.5
"""Half the width a head takes along its wall."""


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
    shape = Polygon(room.outline_m)
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
    job, shape = x.job, Polygon(room.outline_m)
    middle = shape.centroid if shape.contains(shape.centroid) else shape.representative_point()
    at_middle = (round(middle.x, 3), round(middle.y, 3))
    walls = [w for w in along_walls(job, room, x.beyond, STEP_M) if w[3] >= 2 * OFF_WALL_M]
    if kind in ("ceiling", "ducted") or not walls:
        return at_middle
    spots = np.array([(on[0] - out[0] * OFF_WALL_M, on[1] - out[1] * OFF_WALL_M) for on, out, _, _ in walls])
    at = shapely.points(spots)
    glass = [LineString(opening_line(o, room)) for o in job.openings if o.room == room.id and o.kind != "skylight"]
    covered = np.zeros(len(walls), bool)
    for line in glass:
        covered |= shapely.distance(at, line) < OFF_WALL_M + HALF_M
    people = [f.position_m for f in job.furniture if f.room == room.id and f.kind not in ("desk", "table")]
    near = np.zeros(len(walls), bool)
    for q in people:
        near |= np.hypot(*(spots - np.array(q)).T) < NEAR_PEOPLE_M
    inside = np.array([other != "outdoors" for _, _, other, _ in walls])
    corner = np.array([min(c, 1.0) for *_, c in walls])
    off = np.hypot(*(spots - np.array(at_middle)).T)
    wrong = covered if kind == "wall" else ~covered
    best = int(np.argmin(1000 * near + 100 * wrong + 50 * inside - 10 * corner + off))
    return (round(float(spots[best][0]), 3), round(float(spots[best][1]), 3))
