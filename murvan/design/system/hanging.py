"""Where heads hang: at the wall that suits a room, clear of glass and of people, with a short way outside for the line."""

from __future__ import annotations

from math import dist

from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as At

from murvan.design.house.drawing.openings import beyond
from murvan.design.house.drawing.outlines import opening_line
from murvan.design.house.drawing.rooms import Drawn
from murvan.design.house.drawing.things import room_at
from murvan.design.system.open_rooms import open_groups
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


def best_spot(job: Job, room: Room, kind: IndoorKind) -> Point:
    """Where a unit of a kind hangs by itself: a cassette in the middle, a floor unit under glass, a wall head on an outside
    wall beside the glass; a ducted unit in the middle until it is placed."""
    shape = Polygon(room.outline_m)
    middle = shape.representative_point() if not shape.contains(shape.centroid) else shape.centroid
    if kind in ("ceiling", "ducted"):
        return (round(middle.x, 3), round(middle.y, 3))
    spots = list(_along_walls(job, room))
    if not spots:
        return (round(middle.x, 3), round(middle.y, 3))
    glass = [_line(room, o) for o in job.openings if o.room == room.id and o.kind != "skylight"]
    people = [f.position_m for f in job.furniture if f.room == room.id and f.kind not in ("desk", "table")]

    def cost(spot: tuple[Point, str, float]) -> tuple[float, ...]:
        at, other, corner = spot
        here = LineString([at, at])
        covered = any(g.distance(here) < OFF_WALL_M + HALF_M for g in glass)
        near = min((dist(at, x) for x in people), default=9.0) < NEAR_PEOPLE_M
        wrong = covered if kind == "wall" else not covered
        return (
            float(near),
            float(wrong),
            float(other != "outdoors"),
            -min(corner, 1.0),
            dist(at, (middle.x, middle.y)),
        )

    return min(spots, key=cost)[0]


def _line(room: Room, o: object) -> LineString:
    return LineString(opening_line(o, room))  # type: ignore[arg-type]


def _along_walls(job: Job, room: Room) -> list[tuple[Point, str, float]]:
    """Places along the walls: where, what lies beyond, and how far to the nearer corner."""
    inner = Polygon(room.outline_m).buffer(-OFF_WALL_M)
    out = []
    for k, (a, b) in enumerate(zip(room.outline_m, (*room.outline_m[1:], room.outline_m[0]), strict=True)):
        length = dist(a, b)
        for n in range(1, int(length / STEP_M)):
            t = n * STEP_M / length
            on = At(a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t)
            if inner.is_empty or inner.distance(on) > 1.5 * OFF_WALL_M:
                continue
            p = inner.exterior.interpolate(inner.exterior.project(on)) if inner.geom_type == "Polygon" else on
            other = beyond(job, room, k, n * STEP_M)
            out.append(((round(p.x, 3), round(p.y, 3)), other, min(t, 1 - t) * length))
    return out
