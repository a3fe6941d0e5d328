"""Where the pointer lands: corners, walls, alignments and a grid, each named after what it catches."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from murvan.arrays import Array
from murvan.model.job import Job, Point

IP_GRID_M = (0.0254, 0.0762, 0.1524, 0.3048, 0.6096)
SI_GRID_M = (0.01, 0.05, 0.1, 0.25, 0.5)
LEAST_GRID_PX = 5.0


def grid_step_m(px_per_m: float, metric: bool) -> float:
    """The finest usual step that is still wide enough on the screen to aim at."""
    steps = SI_GRID_M if metric else IP_GRID_M
    return next((s for s in steps if s * px_per_m >= LEAST_GRID_PX), steps[-1])


@dataclass(frozen=True)
class Guide:
    """A line to draw from what was caught to the pointer."""

    start: Point
    end: Point


@dataclass(frozen=True)
class Snap:
    """The point meant, what it was caught by in words, and the guides that show it."""

    at: Point
    words: str = ""
    guides: tuple[Guide, ...] = ()
    corner: bool = False


class SnapField:
    """All corners and walls of a storey that a stroke may catch.

    Args:
        skip: ids of rooms that move along with the pointer and must not catch it.
    """

    def __init__(self, job: Job, storey: str, skip: frozenset[str] = frozenset()) -> None:
        owners = [(r.name, r.outline_m) for r in job.rooms if r.storey == storey and r.id not in skip]
        owners += [(s.name, s.outline_m) for s in job.spaces if s.storey == storey and s.id not in skip]
        below = _below(job, storey)
        owners += [(f"{r.name} below", r.outline_m) for r in job.rooms if r.storey == below and r.id not in skip]
        self.names = [name for name, o in owners for _ in o]
        self.corners: Array = np.array([p for _, o in owners for p in o], float).reshape(-1, 2)
        self.ends: Array = np.array([q for _, o in owners for q in (*o[1:], o[0])], float).reshape(-1, 2)

    @cached_property
    def _walls(self) -> tuple[Array, Array]:
        d = self.ends - self.corners
        length = np.hypot(d[:, 0], d[:, 1])
        return d / np.maximum(length, 1e-9)[:, None], length

    def snap(
        self, at: Point, reach_m: float, grid_m: float, origin: Point | None = None, extra: tuple[Point, ...] = ()
    ) -> Snap:
        """Catch a point: a corner first, then a wall, then lines through corners and `extra`, then the grid.

        The grid counts from `origin`, where the stroke began, so that lengths come out round.
        """
        corner = self._corner(at, reach_m)
        if corner is not None:
            return corner
        wall = self._wall(at, reach_m)
        x, gx, nx = self._align(at, 0, reach_m, extra)
        y, gy, ny = self._align(at, 1, reach_m, extra)
        if wall is not None:
            return self._on_wall(wall, at, x, y, grid_m, origin, (nx, ny), (gx, gy))
        o = origin or (0.0, 0.0)
        px = x if x is not None else _round(at[0], o[0], grid_m)
        py = y if y is not None else _round(at[1], o[1], grid_m)
        guides = tuple(Guide(g, (px, py)) for g in (gx, gy) if g is not None)
        words = " and ".join(dict.fromkeys(f"in line with {n}" for n in (nx, ny) if n))
        return Snap((px, py), words, guides)

    def _corner(self, at: Point, reach: float) -> Snap | None:
        if not len(self.corners):
            return None
        d = np.hypot(self.corners[:, 0] - at[0], self.corners[:, 1] - at[1])
        k = int(np.argmin(d))
        if d[k] > reach:
            return None
        return Snap(_point(self.corners[k]), f"corner of {self.names[k]}", (), True)

    def _wall(self, at: Point, reach: float) -> int | None:
        if not len(self.corners):
            return None
        u, length = self._walls
        rel = np.array(at) - self.corners
        along = rel[:, 0] * u[:, 0] + rel[:, 1] * u[:, 1]
        off = np.abs(rel[:, 1] * u[:, 0] - rel[:, 0] * u[:, 1])
        off = np.where((along >= 0) & (along <= length), off, np.inf)
        k = int(np.argmin(off))
        return k if off[k] <= reach else None

    def _align(
        self, at: Point, axis: int, reach: float, extra: tuple[Point, ...]
    ) -> tuple[float | None, Point | None, str]:
        best, guide, name = reach, None, ""
        if len(self.corners):
            d = np.abs(self.corners[:, axis] - at[axis])
            near = d <= d.min() + 1e-6
            if d.min() <= reach:
                away = np.where(near, np.abs(self.corners[:, 1 - axis] - at[1 - axis]), np.inf)
                k = int(np.argmin(away))
                best, guide, name = float(d[k]), _point(self.corners[k]), self.names[k]
        for p in extra:
            if abs(p[axis] - at[axis]) < best:
                best, guide, name = abs(p[axis] - at[axis]), p, "the first corner"
        return (guide[axis] if guide else None), guide, name

    def _on_wall(
        self,
        k: int,
        at: Point,
        x: float | None,
        y: float | None,
        grid: float,
        origin: Point | None,
        names: tuple[str, str],
        guides: tuple[Point | None, Point | None],
    ) -> Snap:
        """On a wall the pointer slides along it; a line through a corner across the wall stops it."""
        a, u = self.corners[k], self._walls[0][k]
        words = f"wall of {self.names[k]}"
        along = float((at[0] - a[0]) * u[0] + (at[1] - a[1]) * u[1])
        axis = 0 if abs(u[0]) > abs(u[1]) else 1
        stop, caught = (x, y)[axis], guides[axis]
        shown: tuple[Guide, ...] = ()
        if stop is not None and caught is not None and abs(u[axis]) > 0.3:
            along = (stop - a[axis]) / u[axis]
            words += f", in line with {names[axis]}"
            shown = (Guide(caught, _point(a + u * along)),)
        else:
            start = float((origin[axis] - a[axis]) / u[axis]) if origin and abs(u[axis]) > 0.3 else 0.0
            along = start + round((along - start) / grid) * grid
        along = min(max(along, 0.0), float(self._walls[1][k]))
        return Snap(_point(a + u * along), words, shown)


def _below(job: Job, storey: str) -> str | None:
    ids = [s.id for s in job.storeys]
    at = ids.index(storey) if storey in ids else 0
    return ids[at - 1] if at > 0 else None


def _round(value: float, origin: float, step: float) -> float:
    return round(origin + round((value - origin) / step) * step, 5)


def _point(p: Array) -> Point:
    return (round(float(p[0]), 5), round(float(p[1]), 5))
