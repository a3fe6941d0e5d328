"""Walls of the house by what lies beyond them, all sides of a storey against all others at once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array, distinct
from murvan.design.house.geometry import (
    SHORT_M,
    TOUCH_M,
    OpeningFace,
    WallPart,
    wall_at,
    wall_facing_deg,
    wall_length_m,
)
from murvan.design.house.levels import RoofShape, overlap_share, roof_shape
from murvan.model.house import floor_heights
from murvan.model.job import Job, Opening, Point, Room, Space, Storey, WallOverride, signed_area

LEAST_SHARE = 0.08
"""Part of a wall's height below which a neighbour on another level does not count."""


@dataclass(frozen=True)
class Stretch:
    """A part of a wall's length with one thing beyond it, `share` of its height."""

    start_m: float
    length_m: float
    other: str
    neighbour: str | None
    share: float = 1.0


@dataclass(frozen=True)
class _Sides:
    """All sides of rooms and spaces as arrays: ends (n, 2), owner, heights."""

    a: Array
    b: Array
    owner: NDArray[np.int64]
    """Index of the room, or -1 - index of the space."""
    wall: NDArray[np.int64]
    low: Array
    """m over grade, (n,)."""
    high: Array
    """m over grade, (n,)."""
    storey: NDArray[np.int64]
    clockwise: NDArray[np.bool_]
    """Way round its outline runs: which side of a wall is outward."""


def _sides(
    rooms: tuple[Room, ...], heights: tuple[float, ...], spaces: tuple[Space, ...], storeys: tuple[Storey, ...]
) -> _Sides:
    z = floor_heights(storeys)
    order = {s.id: k for k, s in enumerate(storeys)}
    tall = {s.id: s.height_m for s in storeys}
    items = [(i, r.outline_m, z[r.storey], heights[i], order[r.storey]) for i, r in enumerate(rooms)]
    items += [(-1 - i, s.outline_m, z[s.storey], tall[s.storey], order[s.storey]) for i, s in enumerate(spaces)]
    rows = [
        (*o[k], *o[(k + 1) % len(o)], owner, k, low, low + high, level, signed_area(o) > 0)
        for owner, o, low, high, level in items
        for k in range(len(o))
    ]
    table = np.array(rows, float).reshape(-1, 10)
    return _Sides(
        table[:, 0:2],
        table[:, 2:4],
        table[:, 4].astype(np.int64),
        table[:, 5].astype(np.int64),
        table[:, 6],
        table[:, 7],
        table[:, 8].astype(np.int64),
        table[:, 9].astype(bool),
    )


def _meetings(s: _Sides) -> list[tuple[int, int, float, float, float]]:
    """(side, other side, from, to, apart) wherever a room's side runs along another's within TOUCH_M."""
    out: list[tuple[int, int, float, float, float]] = []
    for level in distinct(s.storey):
        mine = np.flatnonzero((s.storey == level) & (s.owner >= 0))
        if not len(mine):
            continue
        beside = (s.storey == level) | (
            np.minimum(s.high, s.high[mine].max()) - np.maximum(s.low, s.low[mine].min()) > 0.2
        )
        out += _meetings_of(s, mine, np.flatnonzero(beside))
    return out


def _meetings_of(
    s: _Sides, mine: NDArray[np.intp], others: NDArray[np.intp]
) -> list[tuple[int, int, float, float, float]]:
    a = s.a[mine]
    d = s.b[mine] - a
    length = np.hypot(d[:, 0], d[:, 1])
    u = d / np.maximum(length, 1e-9)[:, None]
    c, e = s.a[others] - a[:, None, :], s.b[others] - a[:, None, :]
    ux, uy = u[:, None, 0], u[:, None, 1]
    near = (np.abs(c[..., 1] * ux - c[..., 0] * uy) <= TOUCH_M) & (np.abs(e[..., 1] * ux - e[..., 0] * uy) <= TOUCH_M)
    near &= s.owner[others][None, :] != s.owner[mine][:, None]
    # walls that look the same way are not the two sides of one, however near they lie
    along = d[:, None, 0] * (e - c)[..., 0] + d[:, None, 1] * (e - c)[..., 1] > 0
    near &= along ^ (s.clockwise[mine][:, None] == s.clockwise[others][None, :])
    i, j = np.nonzero(near)
    tc = c[i, j, 0] * u[i, 0] + c[i, j, 1] * u[i, 1]
    te = e[i, j, 0] * u[i, 0] + e[i, j, 1] * u[i, 1]
    start = np.maximum(np.minimum(tc, te), 0.0)
    end = np.minimum(np.maximum(tc, te), length[i])
    apart = np.abs(c[i, j, 1] * u[i, 0] - c[i, j, 0] * u[i, 1])
    keep = end - start > SHORT_M
    return [
        (int(mine[p]), int(others[q]), float(x), float(y), float(z))
        for p, q, x, y, z in zip(i[keep], j[keep], start[keep], end[keep], apart[keep], strict=True)
    ]


class Cover(NamedTuple):
    """What lies beside a part of a wall."""

    start: float
    """m from the first corner of the wall."""
    end: float
    """m from the first corner of the wall."""
    kind: str
    name: str
    apart: float
    """m from it."""
    shared: Callable[[float, float], float]
    """Share of the wall's area from one place of it to another that it lies beside."""
    above: str
    """What the wall sees over it."""


def _profile(shape: RoofShape | None, p: Point, q: Point, base: float, top: float) -> tuple[Array, Array]:
    """Places along a wall, 0 to 1, between which its top runs straight, and how high that is there."""
    if shape is None:
        return np.array([0.0, 1.0]), np.array([top, top])
    return shape.along(p, q, base)


def _beside(
    lows: tuple[float, float], mine: tuple[Array, Array], its: tuple[Array, Array], a: float, b: float
) -> float:
    """Share of the area of a wall from a to b (0 to 1) that another one lies beside; tops run straight between their places,
    so that it is exact."""
    stops = distinct(np.array([a, b]), *(t[(t > a) & (t < b)] for t, _ in (mine, its)))
    foot = max(lows)

    def tops(t: Array) -> tuple[Array, Array]:
        return np.interp(t, *mine), np.interp(t, *its)

    crossing = []
    for one, two in ((0, 1), (0, None), (1, None)):
        over = tops(stops)
        apart = over[one] - (over[two] if two is not None else foot)
        turns = np.flatnonzero(apart[:-1] * apart[1:] < 0)
        crossing.append(
            stops[turns] + (stops[turns + 1] - stops[turns]) * apart[turns] / (apart[turns] - apart[turns + 1])
        )
    stops = distinct(stops, *crossing)
    own, other = tops(stops)
    both = np.maximum(np.minimum(own, other) - foot, 0.0)
    whole = float(np.trapezoid(own - lows[0], stops))
    return float(np.trapezoid(both, stops)) / whole if whole > 1e-9 else 0.0


def all_stretches(
    rooms: tuple[Room, ...], heights: tuple[float, ...], spaces: tuple[Space, ...], storeys: tuple[Storey, ...]
) -> dict[tuple[int, int], list[Stretch]]:
    """What lies beyond each wall, by (room index, wall)."""
    if not rooms:
        return {}
    s = _sides(rooms, heights, spaces, storeys)
    cover: dict[int, list[Cover]] = {}
    length = np.hypot(*(s.b - s.a).T)
    shapes = [roof_shape(r) for r in rooms]
    for i, j, start, end, apart in _meetings(s):
        owner = int(s.owner[j])
        kind, name = ("heated", rooms[owner].id) if owner >= 0 else ("garage", spaces[-1 - owner].id)
        mine, its = shapes[int(s.owner[i])], shapes[owner] if owner >= 0 else None
        above = "attic" if s.storey[i] == s.storey[j] and its is None and kind == "heated" else "outdoors"
        shared = _shares(s, i, j, float(length[i]), mine, its)
        if shared(start, end) >= LEAST_SHARE:
            cover.setdefault(i, []).append(Cover(start, end, kind, name, apart, shared, above))
    out: dict[tuple[int, int], list[Stretch]] = {}
    for i in np.flatnonzero(s.owner >= 0).tolist():
        key = (int(s.owner[i]), int(s.wall[i]))
        out[key] = _cut(float(length[i]), cover.get(i, []))
    return out


def _shares(
    s: _Sides, i: int, j: int, length: float, mine: RoofShape | None, its: RoofShape | None
) -> Callable[[float, float], float]:
    """How much of one side lies beside another, from one place along it to another."""
    if mine is None and its is None:
        flat = 1.0 if s.storey[i] == s.storey[j] else overlap_share((s.low[i], s.high[i]), (s.low[j], s.high[j]))
        even = 1.0 if flat > WHOLE else flat
        return lambda a, b: even
    p, q = ((float(x), float(y)) for x, y in (s.a[i], s.b[i]))
    own = _profile(mine, p, q, float(s.low[i]), float(s.high[i]))
    other = _profile(its, p, q, float(s.low[j]), float(s.high[j]))
    lows = (float(s.low[i]), float(s.low[j]))

    def share(a: float, b: float) -> float:
        found = _beside(lows, own, other, a / length, b / length)
        return 1.0 if found > WHOLE else found

    return share


WHOLE = 0.95
"""Share of a wall from which on it counts as whole."""


def _cut(length: float, cover: list[Cover]) -> list[Stretch]:
    """A wall cut where its neighbours change."""
    if length < SHORT_M:
        return []
    cover = sorted(cover, key=lambda c: (-c.shared(c.start, c.end), c.kind != "heated", c.apart))
    cuts = sorted({0.0, length, *(x for c in cover for x in (c.start, c.end))})
    out: list[Stretch] = []
    for s, e in zip(cuts, cuts[1:], strict=False):
        if e - s < SHORT_M:
            continue
        middle = (s + e) / 2
        hits = [c for c in cover if c.start <= middle <= c.end]
        if not hits:
            found = [Stretch(s, e - s, "outdoors", None)]
        elif hits[0].shared(s, e) >= 1.0:
            found = [Stretch(s, e - s, hits[0].kind, hits[0].name)]
        else:
            found = _shared(s, e - s, hits)
        last = out[-1] if out else None
        if (
            last is not None
            and len(found) == 1
            and (last.other, last.neighbour, last.share) == (found[0].other, found[0].neighbour, found[0].share)
            and abs(last.start_m + last.length_m - s) < 2 * SHORT_M
        ):
            out[-1] = Stretch(last.start_m, e - last.start_m, last.other, last.neighbour, last.share)
        else:
            out += found
    return out


def _shared(start: float, length: float, hits: list[Cover]) -> list[Stretch]:
    """A stretch beside neighbours on other levels: each takes its share of the height, the rest is outdoors."""
    out, left = [], 1.0
    for c in hits:
        share = min(c.shared(start, start + length), left)
        if share >= LEAST_SHARE:
            out.append(Stretch(start, length, c.kind, c.name, share))
            left -= share
    if left >= LEAST_SHARE or not out:
        out.append(Stretch(start, length, hits[0].above if len(hits) == 1 else "outdoors", None, left))
    return out


def stretches(room: Room, wall: int, job: Job) -> list[Stretch]:
    """What lies beyond one wall of a room that may not be in the job yet; same storey only."""
    rooms = (room, *(r for r in job.rooms if r.id != room.id and r.storey == room.storey))
    spaces = tuple(s for s in job.spaces if s.storey == room.storey)
    storey = next((s for s in job.storeys if s.id == room.storey), None)
    if storey is None:
        return []
    return all_stretches(rooms, (storey.height_m,) * len(rooms), spaces, (storey,)).get((0, wall), [])


# ---- wall parts -----------------------------------------------------------------------------------------------


def walls(
    rooms: tuple[Room, ...],
    heights: tuple[float, ...],
    openings: tuple[Opening, ...],
    spaces: tuple[Space, ...],
    storeys: tuple[Storey, ...],
    job: Job,
) -> tuple[list[WallPart], list[OpeningFace]]:
    """Every wall part with its areas, and every opening in an outer wall."""
    beyond = all_stretches(rooms, heights, spaces, storeys)
    overrides = {(o.room, o.wall): o for o in job.wall_overrides}
    z = floor_heights(storeys)
    by_wall: dict[tuple[str, int], list[int]] = {}
    for i, o in enumerate(openings):
        if o.kind not in ("archway", "skylight") and not o.inside:
            by_wall.setdefault((o.room, o.wall), []).append(i)
    parts: list[WallPart] = []
    faces: list[OpeningFace] = []
    for i, room in enumerate(rooms):
        shape = roof_shape(room)
        for wall in range(len(room.outline_m)):
            own = overrides.get((room.id, wall))
            found = _overridden(beyond[(i, wall)], own, wall_length_m(room.outline_m, wall))
            facing = wall_facing_deg(room.outline_m, wall, job.site.north_deg)
            new = _parts(i, room, wall, heights[i], shape, found, facing, _grade(own, z[room.storey]), own, job)
            for k in by_wall.get((room.id, wall), []):
                face = _let_in(new, k, openings[k], i, facing)
                if face is not None:
                    faces.append(face)
            parts += new
    return parts, faces


def _overridden(found: list[Stretch], own: WallOverride | None, length: float) -> list[Stretch]:
    if own is None or own.other_side == "auto":
        return found
    beside = next((s.neighbour for s in found if s.other == own.other_side == "garage"), None)
    return [Stretch(0.0, length, {"party": "heated"}.get(own.other_side, own.other_side), beside)]


def _grade(own: WallOverride | None, floor_z: float) -> float:
    """Height of the ground outside over the wall's floor."""
    return max(own.grade_m if own is not None and own.grade_m is not None else -floor_z, 0.0)


def _parts(
    i: int,
    room: Room,
    wall: int,
    height: float,
    shape: RoofShape | None,
    found: list[Stretch],
    facing: float,
    grade: float,
    own: WallOverride | None,
    job: Job,
) -> list[WallPart]:
    out = []
    for s in found:
        p, q = wall_at(room.outline_m, wall, s.start_m, s.start_m + s.length_m)
        tall = shape.mean_height(p, q) if shape else height
        other = s.other
        if other == "outdoors" and shape and shape.slope.knee and shape.is_low_wall(p, q):
            other = "attic"
        gross = s.length_m * tall * s.share
        buried = min(grade, tall) if other == "outdoors" and grade > 0.02 else 0.0
        made = _make_up(other, own, job)
        if tall - buried > 0.02 or not buried:
            above = gross * (1 - buried / tall) if tall > 0 else 0.0
            out.append(WallPart(i, wall, s.start_m, s.length_m, other, s.neighbour, facing, above, above, made))
        if buried:
            below = gross * buried / tall
            out.append(
                WallPart(
                    i,
                    wall,
                    s.start_m,
                    s.length_m,
                    "ground",
                    None,
                    facing,
                    below,
                    below,
                    _make_up("ground", own, job),
                    (grade - buried, grade),
                )
            )
    return out


def _make_up(other: str, own: WallOverride | None, job: Job) -> str | None:
    if own is not None and own.construction:
        return own.construction
    common = {
        "heated": job.partition_construction,
        "ground": job.basement_construction or job.wall_construction,
        "attic": job.knee_construction or job.wall_construction,
    }
    return common.get(other, job.wall_construction)


def _let_in(new: list[WallPart], k: int, o: Opening, room: int, facing: float) -> OpeningFace | None:
    """Take an opening's area off the wall part it stands in."""
    middle = o.offset_m + o.width_m / 2
    order = sorted(range(len(new)), key=lambda n: new[n].other in ("heated", "ground"))
    at = next((n for n in order if new[n].start_m <= middle <= new[n].start_m + new[n].length_m), None)
    if at is None:
        return None
    part, area = new[at], o.width_m * o.height_m
    new[at] = WallPart(**{**part.__dict__, "net_area_m2": max(part.net_area_m2 - area, 0.0)})
    return OpeningFace(k, room, facing, area, part.other, neighbour=part.neighbour)
