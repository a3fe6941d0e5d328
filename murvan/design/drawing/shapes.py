"""What a plan shows, as shapes in m on the plan, made once: the screen and the paper are two pens that draw them."""

from __future__ import annotations

from collections.abc import Iterator
from math import atan2, degrees, dist, hypot
from typing import NamedTuple

from murvan.design.house.geometry import Geometry, inward, opening_line, wall_at
from murvan.design.space.plenum_faces import air_way, plan_size
from murvan.design.space.standing import Stand, cabinet, footprint, stand
from murvan.model.design import IndoorUnit
from murvan.model.job import Job, Opening, Plenum, Room

Point = tuple[float, float]
Line = tuple[Point, ...]
RISES_M = 2.0
"""What climbs further than this goes through a floor."""


class WallLine(NamedTuple):
    """A stretch of a wall's middle line."""

    ends: Line
    outer: bool
    garage: bool


def wall_lines(job: Job, geometry: Geometry, storey: str) -> Iterator[WallLine]:
    """The walls of a storey: partitions first, so that outer walls lie over them."""
    here = {i for i, r in enumerate(job.rooms) if r.storey == storey}
    for outer in (False, True):
        for w in geometry.walls:
            if w.room in here and (w.other != "heated") == outer:
                ends = wall_at(job.rooms[w.room].outline_m, w.wall, w.start_m, w.start_m + w.length_m)
                yield WallLine(ends, outer, w.other == "garage")


class Swing(NamedTuple):
    """A door's leaf and the arc its edge runs; angles in degrees, counterclockwise from right as seen."""

    hinge: Point
    tip: Point
    start_deg: float
    sweep_deg: float


def swing(o: Opening, room: Room) -> Swing:
    """How a door opens into its room."""
    (ax, ay), (bx, by) = opening_line(o, room)
    nx, ny = inward(room.outline_m, o.wall)
    tip = (ax + nx * o.width_m, ay + ny * o.width_m)
    start, end = degrees(atan2(ay - tip[1], tip[0] - ax)), degrees(atan2(ay - by, bx - ax))
    return Swing((ax, ay), tip, start, (end - start + 180) % 360 - 180)


class Box(NamedTuple):
    """A plenum from above: its middle, and its size across and up the plan."""

    plenum: Plenum
    middle: Point
    width_m: float
    height_m: float


class UnitShape(NamedTuple):
    """An air handler from above."""

    unit: IndoorUnit
    cabinet: Stand | None
    """None for what hangs in a room."""
    boxes: tuple[Box, ...]

    @property
    def outline(self) -> Line:
        return tuple(footprint(self.cabinet).exterior.coords) if self.cabinet is not None else ()

    @property
    def front(self) -> Line:
        """The side it is worked at."""
        x = self.cabinet
        if x is None:
            return ()
        (hx, hy), (fx, fy) = x.half, x.front
        mx, my = x.at[0] + fx * hx, x.at[1] + fy * hy
        return tuple((mx + s * fy * hx, my + s * fx * hy) for s in (-1, 1))


def unit_shapes(job: Job, storey: str) -> Iterator[UnitShape]:
    """The indoor units of a storey with their plenums."""
    for unit in job.design.indoor_units:
        if unit.storey != storey:
            continue
        boxes = tuple(
            Box(b, b.position_m, *plan_size(b, air_way(unit, b.side)))
            for b in job.design.plenums
            if b.indoor == unit.id
        )
        yield UnitShape(unit, stand(unit, cabinet(job, unit)) if unit.kind == "ducted" else None, boxes)


def round_about(a: Point, b: Point, off: float) -> Line:
    """From a to b round what stands between them, `off` to its side; in any units."""
    x, y = b[1] - a[1], a[0] - b[0]
    long = max(hypot(x, y), 1e-6)
    dx, dy = x / long * off, y / long * off
    return a, (a[0] + dx, a[1] + dy), (b[0] + dx, b[1] + dy), b


def longest_leg(points: Line) -> tuple[Point, Point]:
    """The longest straight part of a line."""
    return max(zip(points, points[1:], strict=False), key=lambda ab: dist(*ab))


def bars(left: float, right: float, step: float) -> Iterator[float]:
    """Where the bars of a grille stand between its edges; in any units."""
    at = left + step
    while at < right - step / 2:
        yield at
        at += step
