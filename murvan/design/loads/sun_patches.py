"""Where the sun lies on the floors at an hour: through every window past its overhang, cut by the room's walls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import Polygon

from murvan.design.drawing.outlines import SLIVER_M
from murvan.design.house.geometry import Geometry, opening_line, shape_of
from murvan.design.loads.factors import overhang_shade
from murvan.design.weather.conditions import Day, sun_on
from murvan.model.job import Job, Opening, Point, Room

LEAST_BEAM = 25.0
"""W/m2 on the glass below which nothing is seen."""
LEAST_ALTITUDE = 2.0
LEAST_PATCH_M2 = 0.05


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


class FloorSun:
    """The sun through a storey's windows and skylights on one day; what holds for every hour is worked out once."""

    def __init__(self, job: Job, g: Geometry, day: Day, storey: str) -> None:
        rooms = {r.id: r for r in job.rooms if r.storey == storey}
        faces = [f for f in g.openings if job.openings[f.index].room in rooms]
        faces = [f for f in faces if job.openings[f.index].kind in ("window", "skylight")]
        self._job, self._day = job, day
        self._openings = [job.openings[f.index] for f in faces]
        self._rooms = [rooms[o.room] for o in self._openings]
        if not faces:
            return
        on_glass = sun_on(day, np.array([f.facing_deg for f in faces]), np.array([f.tilt_deg for f in faces]))
        self._beam = on_glass.beam * np.array([o.sun_summer for o in self._openings])
        self._shaded = np.stack([overhang_shade(day, job.openings[f.index], f) for f in faces], axis=1)
        self._height = next(s.height_m for s in job.storeys if s.id == storey)
        floors = {i: shape_of(r.outline_m) for i, r in rooms.items()}
        self._floors = np.array([floors[r.id] for r in self._rooms], dtype=object)

    def at(self, hour: int) -> tuple[Patch, ...]:
        """Every sunlit patch at hour 1..24."""
        altitude = float(self._day.sun_altitude_deg[hour - 1])
        if altitude < LEAST_ALTITUDE or not self._openings:
            return ()
        lit = np.flatnonzero(self._beam[hour - 1] >= LEAST_BEAM)
        if not len(lit):
            return ()
        corners = np.array([self._corners(int(k), hour) for k in lit])
        away = np.array(sun_direction(self._job, self._day, hour)) / np.tan(np.deg2rad(altitude))
        shapes = shapely.polygons(corners[:, :, :2] - corners[:, :, 2:] * away)
        crossed = ~shapely.is_valid(shapes)
        shapes[crossed] = shapely.buffer(shapes[crossed], 0)
        pieces, owner = shapely.get_parts(shapely.intersection(shapes, self._floors[lit]), return_index=True)
        seen = (shapely.area(pieces) > LEAST_PATCH_M2) & ~shapely.is_empty(shapely.buffer(pieces, -SLIVER_M))
        return tuple(
            self._patch(int(lit[k]), piece, hour) for piece, k in zip(pieces[seen], owner[seen], strict=True)
        )

    def _corners(self, k: int, hour: int) -> list[tuple[float, float, float]]:
        o, room = self._openings[k], self._rooms[k]
        if o.kind == "skylight":
            return _level(o, room, self._height)
        return _upright(o, room, float(self._shaded[hour - 1, k]))

    def _patch(self, k: int, piece: Polygon, hour: int) -> Patch:
        outline = tuple(
            (float(x), float(y)) for x, y in shapely.get_coordinates(shapely.get_exterior_ring(piece))[:-1]
        )
        return Patch(self._openings[k].id, self._rooms[k].id, outline, float(self._beam[hour - 1, k]))


def _upright(o: Opening, room: Room, shaded: float) -> list[tuple[float, float, float]]:
    """Corners of a window's sunlit part: x, y, height over the floor."""
    p, q = opening_line(o, room)
    low, high = o.sill_m, o.sill_m + o.height_m * (1 - shaded)
    return [(*at, z) for at, z in ((p, low), (q, low), (q, high), (p, high))]


def _level(o: Opening, room: Room, storey_height: float) -> list[tuple[float, float, float]]:
    """Corners of a skylight in the ceiling."""
    x, y = o.position_m or (0.0, 0.0)
    w, h, z = o.width_m / 2, o.height_m / 2, room.height_m or storey_height
    return [(x - w, y - h, z), (x + w, y - h, z), (x + w, y + h, z), (x - w, y + h, z)]
