"""Where heads blow: how far their air reaches against the wall across, and who sits or lies in it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import acos, degrees, dist, exp, hypot, log, sqrt
from typing import NamedTuple

from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as At

from murvan.design.drawing.things import room_at
from murvan.design.house.geometry import shape_of
from murvan.design.results import Results
from murvan.kinds.registers import REGISTERS
from murvan.model.equipment import Unit
from murvan.model.job import Furniture, Job, Point
from murvan.physics.ductflow import throw_m

SLOT_M = {"wall": 0.075, "floor": 0.06, "ceiling": 0.05}
"""Height of the gap that a head of a kind blows from; common practice."""
SLOT_WIDE = 0.8
"""Of the head's width; common practice."""
WAYS = {"wall": 1, "floor": 1, "ceiling": 4}
"""Into how many jets its air parts."""
HALF_DEG = 20.0
"""Beside the middle of a jet that its air is felt: it spreads by 11 degrees to either side, and blades sway; common practice."""
AT_WALL_M = 0.6
"""A head nearer to a wall than this hangs at it."""


class Felt(NamedTuple):
    """Furniture in a head's air."""

    seat: Furniture
    away_m: float
    speed_m_s: float
    """Of the air they feel."""


@dataclass(frozen=True)
class Blow:
    """The air of one head at its rated flow."""

    unit: str
    tag: str
    room: str
    at: Point
    way: Point | None
    """Where it blows on the plan; None: round about."""
    flow_m3_s: float
    speed_m_s: float
    """At the head."""
    slot_m2: float
    reach_m: float
    """To where it has slowed to 50 fpm."""
    across_m: float
    """To the wall across; the farthest corner where it blows round about."""
    felt: tuple[Felt, ...]


def blows(r: Results) -> Iterator[Blow]:
    """All heads that hang in a room and are picked."""
    job = r.job
    for s in r.systems.values():
        own = s.design.indoor
        if own.kind == "ducted" or s.unit is None or own.storey is None:
            continue
        room = room_at(job, own.storey, own.position_m)
        if room is None:
            continue
        shape = shape_of(room.outline_m)
        way = None if own.kind == "ceiling" else way_off(shape, own.position_m)
        yield _blow(job, s.unit, own.id, own.tag, own.kind, room.id, shape, own.position_m, way)


def way_off(shape: Polygon, at: Point) -> Point | None:
    """Away from the nearest wall of a room, square to it; None where none is near."""
    edge = shape.exterior
    if edge.distance(At(at)) > AT_WALL_M:
        return None
    corners = list(edge.coords)
    a, b = min(zip(corners, corners[1:], strict=False), key=lambda w: LineString(w).distance(At(at)))
    long = dist(a, b)
    normal = ((b[1] - a[1]) / long, (a[0] - b[0]) / long)
    inside = shape.contains(At(at[0] + 0.3 * normal[0], at[1] + 0.3 * normal[1]))
    return normal if inside else (-normal[0], -normal[1])


def _blow(
    job: Job, unit: Unit, unit_id: str, tag: str, kind: str, room: str, shape: Polygon, at: Point, way: Point | None
) -> Blow:
    ways, flow = WAYS[kind], unit.rated_flow_m3_s
    slot = SLOT_WIDE * unit.width_m * SLOT_M[kind] * ways
    reach = throw_m(flow, slot, REGISTERS["sidewall"].throw_k, ways)
    speed = flow / slot
    if way is None:
        across = max(dist(at, q) for q in shape.exterior.coords)
    else:
        line = LineString([at, (at[0] + 100 * way[0], at[1] + 100 * way[1])])
        across = float(line.intersection(shape).length)
    jet = _Jet(HIGH_M[kind], speed, slot / ways, reach)
    found = (_felt(f, at, way, jet) for f in job.furniture if f.room == room and f.kind not in ("desk", "table"))
    return Blow(
        unit_id, tag, room, at, way, flow, speed, slot, reach, across, tuple(x for x in found if x is not None)
    )


class _Jet(NamedTuple):
    """Air as it leaves a head."""

    high_m: float
    speed_m_s: float
    slot_m2: float
    """Of one way."""
    reach_m: float

    def fallen_m(self, away_m: float) -> float:
        """How far cold air has come down; Koestel 1955, from memory."""
        size = sqrt(self.slot_m2)
        archimedes = GRAVITY * COLDER_K / 293.0 * size / self.speed_m_s**2
        return 0.42 * archimedes / REGISTERS["sidewall"].throw_k * (away_m / size) ** 3 * size


def _felt(f: Furniture, at: Point, way: Point | None, jet: _Jet) -> Felt | None:
    dx, dy = f.position_m[0] - at[0], f.position_m[1] - at[1]
    away = max(hypot(dx, dy), 0.1)
    if way is not None:
        off = degrees(acos(max(-1.0, min(1.0, (dx * way[0] + dy * way[1]) / away))))
        if off > HALF_DEG:
            return None
    over = jet.high_m - jet.fallen_m(away) - HEAD_M
    middle = min(FELT_M_S * jet.reach_m / away, jet.speed_m_s)
    return Felt(f, away, middle * exp(-log(2) * (max(over, 0.0) / (SPREAD * away)) ** 2))


FELT_M_S = 0.254
"""50 fpm, what a reach is counted to."""
HIGH_M = {"wall": 2.1, "ceiling": 2.3, "floor": 0.6}
"""Over the floor, where a head of a kind blows; common practice."""
HEAD_M = 1.1
"""Of those who sit, over the floor; ASHRAE 55, from memory."""
SPREAD = 0.11
"""From the middle of a jet to where its air is half as fast, of the way it has come; from memory."""
COLDER_K = 10.0
"""Than the room, in cooling; common practice."""
GRAVITY = 9.81
