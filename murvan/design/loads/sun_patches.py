"""Where the sun lies on the floors at an hour: through every window past its overhang, cut by the room's walls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from shapely.geometry import Polygon

from murvan.design.house.drawing.outlines import polygons
from murvan.design.house.geometry import Geometry, wall_points
from murvan.design.loads.factors import overhang_shade
from murvan.design.weather.conditions import Day, sun_on
from murvan.model.job import Job, Opening, Point, Room

LEAST_BEAM = 25.0
"""W/m2 on the glass below which nothing is seen."""
LEAST_ALTITUDE = 2.0


@dataclass(frozen=True)
class Patch:
    """Sunlit floor behind one opening, plan metres."""

    opening: str
    room: str
    outline_m: tuple[Point, ...]
    beam_w_m2: float
    """Beam on the glass, trees and neighbours taken off."""


def sun_direction(job: Job, day: Day, hour: int) -> tuple[float, float]:
    """Unit vector on the plan, x east and y south of the plan, from the house towards the sun."""
    turned = np.deg2rad(float(day.sun_azimuth_deg[hour - 1]) + job.site.north_deg)
    return float(np.sin(turned)), float(-np.cos(turned))


def patches(job: Job, g: Geometry, day: Day, hour: int, storey: str) -> tuple[Patch, ...]:
    """Every sunlit patch on a storey's floors at hour 1..24."""
    altitude = float(day.sun_altitude_deg[hour - 1])
    if altitude < LEAST_ALTITUDE:
        return ()
    rooms = {r.id: r for r in job.rooms if r.storey == storey}
    faces = [
        f
        for f in g.openings
        if job.openings[f.index].room in rooms and job.openings[f.index].kind in ("window", "skylight")
    ]
    if not faces:
        return ()
    x = sun_on(day, np.array([f.facing_deg for f in faces]), np.array([f.tilt_deg for f in faces]))
    sx, sy = sun_direction(job, day, hour)
    reach = 1 / np.tan(np.deg2rad(altitude))
    heights = {s.id: s.height_m for s in job.storeys}
    out = []
    for k, f in enumerate(faces):
        o = job.openings[f.index]
        beam = float(x.beam[hour - 1, k]) * o.sun_summer
        if beam < LEAST_BEAM:
            continue
        room = rooms[o.room]
        corners = (
            _level(o, room, heights[storey])
            if o.kind == "skylight"
            else _upright(o, room, float(overhang_shade(day, o, f)[hour - 1]))
        )
        thrown = [(px - sx * z * reach, py - sy * z * reach) for px, py, z in corners]
        shape = Polygon(thrown)
        lit = (shape if shape.is_valid else shape.buffer(0)).intersection(Polygon(room.outline_m))
        out += [
            Patch(o.id, room.id, tuple((float(a), float(b)) for a, b in p.exterior.coords[:-1]), beam)
            for p in polygons(lit)
            if p.area > 0.005
        ]
    return tuple(out)


def _upright(o: Opening, room: Room, shaded: float) -> list[tuple[float, float, float]]:
    """Corners of a window's sunlit part: x, y, height over the floor."""
    a, b = wall_points(room.outline_m, o.wall)
    length = max(float(np.hypot(b[0] - a[0], b[1] - a[1])), 1e-9)
    ux, uy = (b[0] - a[0]) / length, (b[1] - a[1]) / length
    low, high = o.sill_m, o.sill_m + o.height_m * (1 - shaded)
    p, q = o.offset_m, o.offset_m + o.width_m
    return [(a[0] + ux * s, a[1] + uy * s, z) for s, z in ((p, low), (q, low), (q, high), (p, high))]


def _level(o: Opening, room: Room, storey_height: float) -> list[tuple[float, float, float]]:
    """Corners of a skylight in the ceiling."""
    x, y = o.position_m or (0.0, 0.0)
    w, h, z = o.width_m / 2, o.height_m / 2, room.height_m or storey_height
    return [(x - w, y - h, z), (x + w, y - h, z), (x + w, y + h, z), (x - w, y + h, z)]
