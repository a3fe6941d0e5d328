"""Faces of a plenum: which side of the box each is, how holes are placed on them, and what is wrong with where they are.

A plenum stands on its inlet with the air going up through it: width and depth are across the air, height along it. One on a
unit that lies lies with it: its width is level, its depth upright, its height along the floor.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal, NamedTuple

from murvan.design.limits import CUSHION_M
from murvan.model.design import DuctRun, Face, IndoorUnit, Plenum
from murvan.units import INCH

Side = Literal["front", "right", "back", "left", "cap"]
AirWay = tuple[int, int, int]
"""Which way the air goes through: to the right and down on the plan, and up."""
UP: AirWay = (0, 0, 1)
FACES: tuple[Face, ...] = ("west", "north", "east", "south", "top")
COMPASS: dict[Face, tuple[int, int]] = {"north": (0, -1), "south": (0, 1), "east": (1, 0), "west": (-1, 0)}
FRONT: dict[int, tuple[int, int]] = {0: (0, 1), 90: (-1, 0), 180: (0, -1), 270: (1, 0)}
"""Where the front of a unit looks on the plan (down the plan is +y)."""

GAP_M = 1.5 * INCH
"""Metal between two holes, and to the edge; common practice."""
EDGE_M = 0.5 * INCH
"""Least metal beside a hole; common practice."""
FLANGE_M = 1 * INCH
"""Metal beside a hole that a box is sized for, so that the collar's flange lies on it; common practice."""
HANDLE_M = 2 * INCH
"""More beside a collar with a damper, for its handle; common practice."""
FIRST_M = 4 * INCH
"""From the unit's outlet to the first hole, so that its air does not shoot into it; common practice."""


def air_way(indoor: IndoorUnit, side: str) -> AirWay:
    """Which way the air goes through a plenum of a unit, outwards from it; a return beside an upright one stands up."""
    if indoor.way in ("upflow", "downflow"):
        return (0, 0, -1) if indoor.way == "downflow" and side == "supply" else UP
    fx, fy = FRONT[indoor.turn_deg]
    sign = (1 if indoor.way == "right" else -1) * (1 if side == "supply" else -1)
    return (sign * fy, -sign * fx, 0)


def side_of(face: Face, air: AirWay) -> Side | None:
    """The side of the box that looks that way; None: the unit is there."""
    if air[2]:
        upright: dict[Face, Side] = {"south": "front", "east": "right", "north": "back", "west": "left", "top": "cap"}
        swapped: dict[Face, Side] = {**upright, "south": "back", "north": "front"}
        return upright[face] if air[2] > 0 else swapped[face]
    if face == "top":
        return "back"
    looks, out = COMPASS[face], (air[0], air[1])
    if looks == out:
        return "cap"
    if looks == (-out[0], -out[1]):
        return None
    return "right" if looks == (out[1], -out[0]) else "left"


def side_size(box: Plenum, side: Side) -> tuple[float, float]:
    """Width across the air and length along it of a side; of the cap the box's width and depth, m."""
    if side == "cap":
        return box.width_m, box.depth_m
    return (box.depth_m if side in ("left", "right") else box.width_m), box.height_m


def plan_size(box: Plenum, air: AirWay) -> tuple[float, float]:
    """What it covers on the plan, m."""
    if air[2]:
        return box.width_m, box.depth_m
    return (box.height_m, box.width_m) if air[0] else (box.width_m, box.height_m)


def collar_m(run: DuctRun) -> tuple[float, float]:
    """Width and height of the hole for a run."""
    return run.diameter_m or run.width_m or 0.1, run.diameter_m or run.height_m or 0.1


class Hole(NamedTuple):
    """A hole that wants a place on a side."""

    tag: str
    size_m: tuple[float, float]
    flow_m3_s: float
    handle: bool
    """A damper's handle needs room beside it."""
    along_m: float | None
    """Of its middle from the side's left edge, where it is held."""
    from_end_m: float | None
    """Of its edge from the far end, where it is held."""


class Placed(NamedTuple):
    """Where a hole is: its middle from the left edge and from the foot of its side, m."""

    hole: Hole
    along_m: float
    up_m: float


def gap_m(a: Hole, b: Hole) -> float:
    """Metal between two holes."""
    return GAP_M + (HANDLE_M if a.handle or b.handle else 0.0)


def rows(holes: list[Hole], wide_m: float) -> list[list[Hole]]:
    """Holes side by side in as few rows as they go into, the least air first: that row is farthest from the unit."""
    out: list[list[Hole]] = []
    for h in sorted(holes, key=lambda x: (x.flow_m3_s, x.tag)):
        if out and row_m([*out[-1], h]) <= wide_m + 1e-9:
            out[-1].append(h)
        else:
            out.append([h])
    return out


def row_m(row: list[Hole]) -> float:
    """Width that a row takes, metal beside it as well."""
    between = sum(gap_m(a, b) for a, b in zip(row, row[1:], strict=False))
    return sum(h.size_m[0] for h in row) + between + 2 * GAP_M


def long_m(found: list[list[Hole]]) -> float:
    """Length along the air that rows take, from the first hole to the last."""
    return sum(max(h.size_m[1] for h in row) for row in found) + sum(
        _rows_gap_m(a, b) for a, b in zip(found, found[1:], strict=False)
    )


def _rows_gap_m(a: list[Hole], b: list[Hole]) -> float:
    """Metal between two rows."""
    return max(gap_m(x, y) for x in a for y in b)


def on_side(holes: list[Hole], wide_m: float, tall_m: float, cap: bool = False) -> list[Placed]:
    """Places of holes on a side: the last row leaves a cushion before the far end, the rows follow towards the unit. What is
    held stays; what does not go in lies over its neighbour or over the edge. On a cap they stand about its middle."""
    found = rows(holes, wide_m)
    taken = long_m(found)
    foot = (tall_m - taken) / 2
    if not cap and taken <= tall_m:
        foot = max(min(tall_m - CUSHION_M - taken, tall_m - EDGE_M - taken), min(FIRST_M, tall_m - EDGE_M - taken))
    at: dict[int, Placed] = {}
    for n, row in reversed(list(enumerate(found))):
        high = max(h.size_m[1] for h in row)
        spare = (wide_m - row_m(row)) / (len(row) + 1)
        left = GAP_M + spare
        for k, h in enumerate(row):
            along = left + h.size_m[0] / 2
            up = foot + high / 2
            if h.along_m is not None:
                along = h.along_m
            if h.from_end_m is not None:
                up = tall_m - h.from_end_m - h.size_m[1] / 2
            at[id(h)] = Placed(h, along, up)
            if k + 1 < len(row):
                left += h.size_m[0] + gap_m(h, row[k + 1]) + spare
        foot += high + (_rows_gap_m(row, found[n - 1]) if n else 0.0)
    return [at[id(h)] for h in holes]


@dataclass(frozen=True)
class Trouble:
    """What is wrong with where holes are on a side."""

    kind: Literal["edge", "overlap", "handle", "end", "outlet"]
    tags: tuple[str, ...]
    have_m: float
    need_m: float


def troubles(placed: list[Placed], wide_m: float, tall_m: float, cap: bool = False) -> Iterator[Trouble]:
    """What is wrong on a side, the worst first."""
    for k, a in enumerate(placed):
        beside = min(a.along_m - a.hole.size_m[0] / 2, wide_m - a.along_m - a.hole.size_m[0] / 2)
        to_end = tall_m - a.up_m - a.hole.size_m[1] / 2
        to_foot = a.up_m - a.hole.size_m[1] / 2
        least = min(beside, to_end, to_foot)
        if least < EDGE_M - 1e-6:
            yield Trouble("edge", (a.hole.tag,), least, EDGE_M)
        for b in placed[k + 1 :]:
            yield from _between(a, b)
        if cap or least < EDGE_M - 1e-6:
            continue
        if to_end < 0.99 * CUSHION_M:
            yield Trouble("end", (a.hole.tag,), to_end, CUSHION_M)
        if to_foot < 0.99 * FIRST_M:
            yield Trouble("outlet", (a.hole.tag,), to_foot, FIRST_M)


def _between(a: Placed, b: Placed) -> Iterator[Trouble]:
    apart = between_m(a, b)
    if apart < EDGE_M - 1e-6:
        yield Trouble("overlap", (a.hole.tag, b.hole.tag), apart, EDGE_M)
    elif (a.hole.handle or b.hole.handle) and apart < HANDLE_M - 1e-6:
        yield Trouble("handle", (a.hole.tag, b.hole.tag), apart, HANDLE_M)


def between_m(a: Placed, b: Placed) -> float:
    """Metal between two holes along the nearer way round them, less than 0 where they lie over each other."""
    dx = abs(a.along_m - b.along_m) - (a.hole.size_m[0] + b.hole.size_m[0]) / 2
    dy = abs(a.up_m - b.up_m) - (a.hole.size_m[1] + b.hole.size_m[1]) / 2
    return max(dx, dy)


def goes_in(holes: list[Hole], wide_m: float, tall_m: float, cap: bool = False) -> bool:
    """Whether holes lie on a side with metal between them, and a flange's width to its edges."""
    placed = on_side(holes, wide_m, tall_m, cap)
    if any(t.kind in ("edge", "overlap") for t in troubles(placed, wide_m, tall_m, cap)):
        return False
    return all(min(x.along_m, wide_m - x.along_m) - x.hole.size_m[0] / 2 >= FLANGE_M - 1e-6 for x in placed)
