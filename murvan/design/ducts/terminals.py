"""Registers and grilles: face speed, pressure, throw against the distance to the wall."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import log10

from murvan.catalog.registers import usual_noise_nc
from murvan.design.ducts.runs import register_k
from murvan.design.limits import FACE_LIMIT
from murvan.kinds.registers import REGISTERS
from murvan.model.design import Filter
from murvan.model.job import Register, Room
from murvan.physics.ductflow import throw_m


@dataclass(frozen=True)
class Terminal:
    """One register at its design flow."""

    register: Register
    flow_m3_s: float
    face_velocity_m_s: float
    limit_m_s: float
    pressure_pa: float
    throw_m: float
    wall_m: float
    """Distance it blows: to the wall across of one in a wall, up to a seated head of one in the floor, the mean of the four
    directions of one in the ceiling."""
    noise_nc: float | None
    """NC at its flow; None: no air."""


def terminals(
    registers: tuple[Register, ...], rooms: tuple[Room, ...], flows: dict[str, float], density: float
) -> dict[str, Terminal]:
    """Every register at its design flow."""
    by_id = {r.id: r.outline_m for r in rooms}
    out = {}
    for x in registers:
        flow = flows.get(x.id, 0.0)
        area = x.width_m * x.height_m * x.free_area
        kind = REGISTERS[x.kind]
        limit = FACE_LIMIT["filter" if kind.filters else x.side]
        throw = throw_m(flow, area, x.throw_k or kind.throw_k, kind.ways) if x.side == "supply" else 0.0
        out[x.id] = Terminal(
            x,
            flow,
            flow / (x.width_m * x.height_m),
            limit,
            register_k(x, density) * flow**2,
            throw,
            _blows_m(x, by_id[x.room]) if x.side == "supply" else 0.0,
            _noise_nc(x, flow / area),
        )
    return out


NOISE_M_S, NOISE_M2 = 2.54, 0.0258064
"""Speed and face (500 fpm, 10 by 4 in) at which the noise of a face is told."""


def _noise_nc(x: Register, speed_m_s: float) -> float | None:
    """NC by the fifth power of the speed and by the face: 50 lg(v/v0) + 10 lg(A/A0); common practice."""
    if speed_m_s <= 0:
        return None
    told = usual_noise_nc(x.kind, x.width_m, x.height_m) if x.noise_nc is None else x.noise_nc
    return max(told + 50 * log10(speed_m_s / NOISE_M_S) + 10 * log10(x.width_m * x.height_m / NOISE_M2), 0.0)


UP_M = 1.8
"""The height that air from the floor has to reach; common practice."""


def _blows_m(x: Register, outline: tuple[tuple[float, float], ...]) -> float:
    """Distance to what a register blows at."""
    blows = REGISTERS[x.kind].blows
    if blows == "up":
        return UP_M
    found = _ways(outline, x.position_m)
    if blows == "across" and len(found) == 4:
        nearest = min(range(4), key=lambda k: found[k])
        return found[nearest ^ 1]  # ways stand in pairs: along x, along y
    return sum(found) / len(found) if found else 0.0


@lru_cache(maxsize=1024)
def _ways(outline: tuple[tuple[float, float], ...], at: tuple[float, float]) -> tuple[float, ...]:
    """Distances to the walls to the right, the left, down and up the plan; without those that meet none."""
    x, y = at
    best = [float("inf")] * 4
    for (x0, y0), (x1, y1) in zip(outline, outline[1:] + outline[:1], strict=True):
        if (y0 > y) != (y1 > y):
            d = x0 + (y - y0) * (x1 - x0) / (y1 - y0) - x
            best[d < 0] = min(best[d < 0], abs(d))
        if (x0 > x) != (x1 > x):
            d = y0 + (x - x0) * (y1 - y0) / (x1 - x0) - y
            best[2 + (d < 0)] = min(best[2 + (d < 0)], abs(d))
    return tuple(b for b in best if b < float("inf"))


def filter_velocity_m_s(filter: Filter, flow_m3_s: float) -> float:
    """Air speed over the filter's face."""
    return flow_m3_s / (filter.width_m * filter.height_m)
