"""What the pointer catches while ducts are drawn: faces, plenums, joints and runs, their lines, bays between joists."""

from __future__ import annotations

from dataclasses import dataclass
from math import dist
from typing import Literal

import numpy as np

from murvan.arrays import Array
from murvan.design.lay.pieces import bay_middle, bays, usual_level_m
from murvan.model.job import Job, Plenum, Point
from murvan.model.routes import LaidRun

CaughtKind = Literal["", "plenum", "joint", "run", "register"]


@dataclass(frozen=True)
class Anchor:
    """An end or a corner of a duct that is drawn."""

    at: Point
    kind: CaughtKind = ""
    """What it hangs on; '' in the open."""
    id: str = ""
    words: str = ""
    lined: tuple[Point, ...] = ()
    """What it stands in line with."""

    @property
    def on_duct(self) -> bool:
        """Whether a run can start here."""
        return self.kind in ("plenum", "joint", "run")


class DuctField:
    """Everything of one unit on one storey that a duct can start from, end in or line up with."""

    def __init__(self, job: Job, runs: tuple[LaidRun, ...], unit: str, storey: str) -> None:
        d = job.design
        self.job = job
        self.storey = next((s for s in job.storeys if s.id == storey), None)
        self.unit = unit
        rooms = {r.id: r.storey for r in job.rooms}
        served = {r.register_id for r in d.runs}
        own = [x for x in d.registers if x.indoor == unit and rooms[x.room] == storey]
        self.registers = [x for x in own if x.id not in served]
        self.lines = [x.position_m for x in own]
        self.runs = [r for r in runs if r.indoor == unit and r.storey == storey and r.side != "fresh"]
        ends = {r.end for r in self.runs} | {r.start for r in self.runs if r.parent is not None}
        faces = {r.end for r in d.runs if r.register_id is not None}
        self.joints = [j for j in d.joints if j.id in ends - faces]
        home = next((x.storey for x in d.indoor_units if x.id == unit), None)
        self.plenums = [p for p in d.plenums if p.indoor == unit and home == storey]
        self.lines += [j.position_m for j in self.joints] + [p.position_m for p in self.plenums]

    def catch(
        self, at: Point, reach_m: float, grid_m: float, origin: Point | None = None, free: bool = False
    ) -> Anchor:
        """What is meant by a point: a face, a plenum, a joint, a place on a run; else a place in line with the last corner,
        with what could be met, or between two joists.

        Args:
            at: On the plan, m.
            reach_m: How near is near.
            grid_m: Step in the open.
            origin: The corner before; what is open lies square to it.
            free: Anywhere, at any angle.
        """
        thing = self._thing(at, reach_m)
        if thing is not None:
            return thing
        on = self._on_run(at, reach_m, origin)
        if on is not None:
            return on
        if free:
            return Anchor(at)
        if origin is None:
            return self._square(at, at, reach_m, grid_m, (0, 1))
        axis = 0 if abs(at[0] - origin[0]) >= abs(at[1] - origin[1]) else 1
        level: Point = (at[0], origin[1]) if axis == 0 else (origin[0], at[1])
        return self._square(level, origin, reach_m, grid_m, (axis,))

    def _thing(self, at: Point, reach: float) -> Anchor | None:
        near = [(dist(x.position_m, at), x) for x in self.registers]
        best = min(near, key=lambda n: n[0], default=None)
        if best is not None and best[0] <= 1.4 * reach:
            return Anchor(best[1].position_m, "register", best[1].id, best[1].tag)
        for p in self.plenums:
            if _within(p, at, reach / 2):
                return Anchor(p.position_m, "plenum", p.id, f"{p.side} plenum")
        joints = [(dist(j.position_m, at), j) for j in self.joints]
        hit = min(joints, key=lambda n: n[0], default=None)
        if hit is not None and hit[0] <= reach:
            return Anchor(hit[1].position_m, "joint", hit[1].id, "joint")
        return None

    def _on_run(self, at: Point, reach: float, origin: Point | None) -> Anchor | None:
        """The nearest place on a run; square under the last corner where that is near."""
        best: tuple[float, LaidRun, Point] | None = None
        for r in self.runs:
            q, apart = nearest(r.path_m, at)
            half = (r.diameter_m or r.width_m or 0.0) / 2
            if apart <= max(half, reach) and (best is None or apart < best[0]):
                best = (apart, r, q)
        if best is None:
            return None
        _, run, q = best
        for line in ([origin] if origin is not None else []) + [x.position_m for x in self.registers]:
            for foot in _feet(run.path_m, line):
                if dist(foot, q) <= reach:
                    return Anchor(foot, "run", run.id, f"on {run.tag}", (line,))
        return Anchor(_rounded(q), "run", run.id, f"on {run.tag}")

    def _square(self, at: Point, origin: Point, reach: float, grid: float, axes: tuple[int, ...]) -> Anchor:
        value = [at[0], at[1]]
        words, lined = "", []
        for axis in axes:
            near = [(abs(q[axis] - at[axis]), q) for q in self.lines]
            best = min(near, key=lambda n: n[0], default=None)
            middle = self._bay(axis, at[axis])
            if best is not None and best[0] <= reach:
                value[axis] = best[1][axis]
                lined.append(best[1])
            elif middle is not None and abs(middle - at[axis]) <= reach:
                value[axis], words = middle, "between joists"
            else:
                value[axis] = origin[axis] + round((at[axis] - origin[axis]) / grid) * grid
        return Anchor(_rounded((value[0], value[1])), "", "", words, tuple(lined))

    def _bay(self, axis: int, value: float) -> float | None:
        """The middle of the nearest bay between joists that lie across an axis."""
        if self.storey is None or not any(r.storey == self.storey.id for r in self.job.rooms):
            return None
        s = bays(self.storey, usual_level_m(self.job, self.unit, self.storey, "supply"))
        if s is None or (s.runs == "x") == (axis == 0):
            return None
        return bay_middle(self.job, self.storey, s, value)


def _within(p: Plenum, at: Point, more: float) -> bool:
    return (
        abs(at[0] - p.position_m[0]) <= p.width_m / 2 + more and abs(at[1] - p.position_m[1]) <= p.depth_m / 2 + more
    )


def nearest(path: tuple[Point, ...], at: Point) -> tuple[Point, float]:
    """The nearest place on a polyline, and how far it is, m."""
    a, d, u = _stretches(path, at)
    q = a + d * u[:, None]
    apart = np.hypot(*(q - np.array(at)).T)
    k = int(np.argmin(apart))
    return (float(q[k, 0]), float(q[k, 1])), float(apart[k])


def leg_at(path: tuple[Point, ...], at: Point) -> int:
    """Which stretch of a polyline a place is on."""
    a, d, u = _stretches(path, at)
    return int(np.argmin(np.hypot(*(a + d * u[:, None] - np.array(at)).T)))


def _stretches(path: tuple[Point, ...], at: Point) -> tuple[Array, Array, Array]:
    """Starts and spans of the stretches, and how far along each its place nearest to `at` is, 0 to 1."""
    p = np.array(path, float)
    a, d = p[:-1], np.diff(p, axis=0)
    whole = np.maximum((d**2).sum(axis=1), 1e-12)
    return a, d, np.clip(((np.array(at) - a) * d).sum(axis=1) / whole, 0.0, 1.0)


def _feet(path: tuple[Point, ...], of: Point) -> list[Point]:
    """Where the level and upright stretches of a path pass straight under, over or beside a point."""
    out: list[Point] = []
    for a, b in zip(path, path[1:], strict=False):
        for axis in (0, 1):
            low, high = min(a[axis], b[axis]), max(a[axis], b[axis])
            if abs(a[1 - axis] - b[1 - axis]) < 1e-6 and low < of[axis] < high:
                out.append((of[0], a[1]) if axis == 0 else (a[0], of[1]))
    return out


def _rounded(at: Point) -> Point:
    return (round(at[0], 4), round(at[1], 4))
