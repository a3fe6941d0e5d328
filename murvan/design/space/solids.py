"""The house and its equipment as solids: rooms as prisms from floor to ceiling, units and plenums as boxes; ducts are the legs
of `clashes`. Heights are over the ground outside, m."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, NamedTuple

from murvan.design.house.levels import RoofShape, roof_shape
from murvan.design.space.plenum_faces import air_way, plan_size
from murvan.design.space.standing import base_m, cabinet, plenum_span_m, stand
from murvan.model.house import Room, floor_heights
from murvan.model.job import Job, Point
from murvan.model.record import Ref

Spot = tuple[float, float, float]


class RoomSolid(NamedTuple):
    """A room from its floor to its ceiling."""

    room: Room
    floor_m: float
    high_m: float
    """Of a level ceiling over the floor."""
    roof: RoofShape | None
    """Where the ceiling slopes."""

    def ceiling_at(self, p: Point) -> float:
        """Height of its ceiling over a place of the plan, over the ground."""
        return self.floor_m + (self.roof.height_at(p) if self.roof is not None else self.high_m)


class Block(NamedTuple):
    """A cabinet or a plenum, square to the plan."""

    kind: Literal["unit", "supply", "return"]
    of: Ref
    owner: str
    """Id of the indoor unit."""
    name: str
    low: Spot
    high: Spot


def room_solids(job: Job) -> Iterator[RoomSolid]:
    """All rooms."""
    floor, storey = floor_heights(job.storeys), {s.id: s for s in job.storeys}
    for r in job.rooms:
        yield RoomSolid(r, floor[r.storey], r.height_m or storey[r.storey].height_m, roof_shape(r))


def blocks(job: Job) -> Iterator[Block]:
    """Ducted units that stand somewhere, and their plenums."""
    floor = floor_heights(job.storeys)
    for u in job.design.indoor_units:
        if u.kind != "ducted" or u.storey is None:
            continue
        x, foot = stand(u, cabinet(job, u)), floor[u.storey]
        low, (cx, cy), (hx, hy) = foot + base_m(job, u), x.at, x.half
        at = Ref("indoor_unit", u.id)
        yield Block("unit", at, u.id, u.tag, (cx - hx, cy - hy, low), (cx + hx, cy + hy, low + x.high_m))
        for p in (p for p in job.design.plenums if p.indoor == u.id):
            (px, py), (wide, deep) = p.position_m, plan_size(p, air_way(u, p.side))
            z0, z1 = plenum_span_m(job, u, p)
            name = f"{u.tag}, {p.side} plenum"
            lo, hi = (px - wide / 2, py - deep / 2, foot + z0), (px + wide / 2, py + deep / 2, foot + z1)
            yield Block(p.side, Ref("plenum", p.side), u.id, name, lo, hi)
