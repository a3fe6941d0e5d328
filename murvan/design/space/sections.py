"""The house cut by an upright plane along a line on the plan: rooms, what carries their floors and ceilings, units, plenums and
ducts as they are met, with the height that each duct needs and has there."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import dist
from typing import Literal, NamedTuple

import numpy as np
from shapely import LineString
from shapely.geometry import Polygon

from murvan.design.house.geometry import shape_of
from murvan.design.house.levels import ground_floor, headroom_m, stands_on
from murvan.design.space.clashes import Leg, clashes, legs_of
from murvan.design.space.duct_levels import JOISTS_M
from murvan.design.space.duct_spaces import lie_at
from murvan.design.space.duct_ways import first_joist_m
from murvan.design.space.obstacles import Prism, prisms, struck
from murvan.design.space.solids import Block, RoomSolid, blocks, room_solids
from murvan.model.house import Storey, Structure, floor_heights
from murvan.model.job import Job, Point
from murvan.model.routes import LaidRun

Ends = tuple[Point, Point]
Span = tuple[float, float]
How = Literal["across", "along", "upright"]
Deck = Literal["between", "ceiling", "floor", "slab"]
SLAB_M = 0.1
"""Thickness of a slab; common practice."""
ALONG = 0.25
"""A duct that is cut at less than the sine of this lies along the line."""
ROOF_POINTS = 13


class RoomCut(NamedTuple):
    """A room from where to where along the line, with its ceiling as (along, height) points."""

    room: str
    name: str
    storey: str
    span: Span
    floor_m: float
    ceiling: tuple[Point, ...]


class DeckCut(NamedTuple):
    """What carries a floor or a ceiling: from underside to top."""

    kind: Deck
    span: Span
    low_m: float
    high_m: float
    structure: Structure | None
    """None: nobody said."""
    members: tuple[float, ...]
    """Middles of the joists or trusses that are cut across, along the line."""

    @property
    def members_m(self) -> Span:
        """From underside to top of what carries it: joists hang under the floor they carry, or lie on the ceiling."""
        deep = min(self.structure.depth_m if self.structure is not None else 0.0, self.high_m - self.low_m)
        return (self.low_m, self.low_m + deep) if self.kind == "ceiling" else (self.high_m - deep, self.high_m)


class BlockCut(NamedTuple):
    """A cabinet or plenum."""

    block: Block
    span: Span


class ObstacleCut(NamedTuple):
    """A beam, a post, a pipe or a drain."""

    solid: Prism
    span: Span


class DuctCut(NamedTuple):
    """A duct as the plane meets it."""

    run: LaidRun
    how: How
    at_m: float
    """Its middle along the line."""
    width_m: float
    """Of its metal as it is seen, wider where it is cut aslant."""
    low_m: float
    high_m: float
    wrap_m: float
    """Thickness of its insulation."""
    free_m: float | None
    """Clear height where it lies; None: as much as anybody wants, or not known."""
    words: str
    """What is clear."""

    @property
    def needs_m(self) -> float:
        """Height with its insulation."""
        return self.high_m - self.low_m + 2 * self.wrap_m

    @property
    def left_m(self) -> float | None:
        """What is left over; below 0 it does not go in. None where nothing limits it, or it does not lie level."""
        return self.free_m - self.needs_m if self.free_m is not None and self.how != "upright" else None


@dataclass(frozen=True)
class Section:
    """All that the plane meets; heights over the ground outside, places along the line from its first end, m."""

    ends: Ends
    rooms: tuple[RoomCut, ...]
    decks: tuple[DeckCut, ...]
    blocks: tuple[BlockCut, ...]
    obstacles: tuple[ObstacleCut, ...]
    ducts: tuple[DuctCut, ...]
    roofs: tuple[tuple[Point, ...], ...]
    """Undersides of roofs over attics."""
    in_each_other: frozenset[str]
    """Runs that want the place of another or of an obstacle, anywhere on their way."""

    @property
    def length_m(self) -> float:
        return dist(*self.ends)


class _Line:
    """The line, and what of it lies in an outline."""

    def __init__(self, ends: Ends) -> None:
        (ax, ay), (bx, by) = ends
        self.start, self.length = (ax, ay), dist(*ends)
        self.way = ((bx - ax) / self.length, (by - ay) / self.length)
        self.string = LineString(ends)

    def along(self, p: Point) -> float:
        return (p[0] - self.start[0]) * self.way[0] + (p[1] - self.start[1]) * self.way[1]

    def across(self, p: Point) -> float:
        return (p[1] - self.start[1]) * self.way[0] - (p[0] - self.start[0]) * self.way[1]

    def point(self, s: float) -> Point:
        return self.start[0] + s * self.way[0], self.start[1] + s * self.way[1]

    def chords(self, shape: Polygon) -> Iterator[Span]:
        met = self.string.intersection(shape)
        for part in getattr(met, "geoms", [met]):
            if part.length > 1e-3:
                a, b = (self.along(p) for p in (part.coords[0], part.coords[-1]))
                yield (min(a, b), max(a, b))


def section(job: Job, runs: tuple[LaidRun, ...], ends: Ends) -> Section:
    """The house and its ducts cut along a line.

    Args:
        runs: As they lie (`laid_runs`).

    Raises:
        ValueError: the line has no length.
    """
    if dist(*ends) < 1e-6:
        raise ValueError("a section line needs two ends")
    line, solids = _Line(ends), tuple(room_solids(job))
    legs = legs_of(runs, job.design.joints, job.storeys)
    cut = [(x, span) for x in solids for span in line.chords(shape_of(x.room.outline_m))]
    rooms = tuple(_room(line, x, span) for x, span in cut)
    return Section(
        ends,
        rooms,
        tuple(d for x, span in cut for d in _decks(job, line, x, span, cut)),
        tuple(_blocks(job, line)),
        tuple(ObstacleCut(x, span) for x in prisms(job) for span in line.chords(x.shape)),
        tuple(sorted(_ducts(job, line, legs), key=lambda x: x.at_m)),
        tuple(_roofs(job, line)),
        frozenset(
            (*(r.id for c in clashes(legs) for r in (c.one, c.other)), *(x.run.id for x in struck(legs, prisms(job))))
        ),
    )


def busiest(job: Job, runs: tuple[LaidRun, ...]) -> Ends | None:
    """The line along x or y, from side to side of the house, that cuts most ducts; None where there are none."""
    corners = np.array([q for r in job.rooms for q in r.outline_m])
    legs = [x for x in legs_of(runs, job.design.joints, job.storeys) if x.a != x.b]
    if not len(corners) or not legs:
        return None
    low, high = corners.min(axis=0) - MARGIN_M, corners.max(axis=0) + MARGIN_M
    a, b = np.array([x.a for x in legs]), np.array([x.b for x in legs])
    found: list[tuple[int, float, Ends]] = []
    for axis in (0, 1):
        other = 1 - axis
        first, last = np.minimum(a, b)[:, other], np.maximum(a, b)[:, other]
        stops = np.unique(np.concatenate([first, last]))
        at = (stops[1:] + stops[:-1]) / 2
        count = ((first < at[:, None]) & (last > at[:, None])).sum(axis=1)
        if len(at):
            k = int(np.argmax(count))
            one, two = [0.0, 0.0], [0.0, 0.0]
            one[axis], two[axis], one[other], two[other] = float(low[axis]), float(high[axis]), at[k], at[k]
            found.append((int(count[k]), -axis, ((one[0], float(one[1])), (float(two[0]), float(two[1])))))
    return max(found, key=lambda x: x[:2])[2] if found else None


MARGIN_M = 0.4


# ---- house ----------------------------------------------------------------------------------------------------


def _room(line: _Line, x: RoomSolid, span: Span) -> RoomCut:
    stops = [span[0], span[1]]
    if x.roof is not None and abs(line.way[x.roof.axis]) > 1e-6:
        turns = ((v - line.start[x.roof.axis]) / line.way[x.roof.axis] for v in x.roof.breaks())
        stops += [s for s in turns if span[0] < s < span[1]]
    ceiling = tuple((s, x.ceiling_at(line.point(s))) for s in sorted({round(s, 6) for s in stops}))
    return RoomCut(x.room.id, x.room.name, x.room.storey, span, x.floor_m, ceiling)


def _decks(job: Job, line: _Line, x: RoomSolid, span: Span, every: list[tuple[RoomSolid, Span]]) -> Iterator[DeckCut]:
    """Over a room, between it and what stands on it; under it where nothing does."""
    order = [s.id for s in job.storeys]
    n = order.index(x.room.storey)
    here = job.storeys[n]
    upper = job.storeys[n + 1] if n + 1 < len(order) else None
    over = [(o, s) for o, s in every if upper is not None and o.room.storey == upper.id]
    under = [(o, s) for o, s in every if n and o.room.storey == order[n - 1]]
    top = x.floor_m + x.high_m
    for o, part in ((o, p) for o, s in over for p in _shared(span, s)):
        s = here.ceiling_structure or (upper.floor_structure if upper is not None else None)
        yield _deck(job, line, here, "between", part, (top, o.floor_m), s)
    if x.roof is None:
        for part in _without(span, [s for _, s in over]):
            s = here.ceiling_structure
            yield _deck(job, line, here, "ceiling", part, (top, top + (s.depth_m if s is not None else JOISTS_M)), s)
    for part in _without(span, [s for _, s in under]):
        stands = x.room.floor if x.room.floor != "auto" else stands_on(x.floor_m, ground_floor(job))
        if stands in ("slab", "below"):
            yield DeckCut("slab", part, x.floor_m - SLAB_M, x.floor_m, None, ())
        else:
            s = here.floor_structure
            deep = s.depth_m if s is not None else JOISTS_M
            yield _deck(job, line, here, "floor", part, (x.floor_m - deep, x.floor_m), s)


def _deck(job: Job, line: _Line, storey: Storey, kind: Deck, span: Span, z: Span, s: Structure | None) -> DeckCut:
    if s is not None and s.kind == "slab":
        return DeckCut("slab", span, z[0], z[1], s, ())
    return DeckCut(kind, span, z[0], z[1], s, tuple(_members(job, line, storey, span, s)) if s is not None else ())


def _members(job: Job, line: _Line, storey: Storey, span: Span, s: Structure) -> Iterator[float]:
    """Where joists are cut, counted as everywhere from the storey's upper left corner."""
    axis = 1 if s.runs == "x" else 0
    if abs(line.way[axis]) < ALONG:
        return
    first = first_joist_m(job, storey.id, s)
    ends = sorted((line.point(v)[axis] - first) / s.spacing_m for v in span)
    for k in range(int(np.ceil(ends[0] - 1e-9)), int(np.floor(ends[1] + 1e-9)) + 1):
        yield (first + k * s.spacing_m - line.start[axis]) / line.way[axis]


def _shared(a: Span, b: Span) -> Iterator[Span]:
    low, high = max(a[0], b[0]), min(a[1], b[1])
    if high - low > 1e-3:
        yield low, high


def _without(span: Span, taken: list[Span]) -> Iterator[Span]:
    """The parts of a span that none of some others cover."""
    at = span[0]
    for low, high in sorted(taken):
        if low - at > 1e-3:
            yield at, min(low, span[1])
        at = max(at, high)
        if at >= span[1]:
            return
    if span[1] - at > 1e-3:
        yield at, span[1]


def _roofs(job: Job, line: _Line) -> Iterator[tuple[Point, ...]]:
    floor, storey = floor_heights(job.storeys), {s.id: s for s in job.storeys}
    for p in (p for p in job.places if p.kind == "attic"):
        foot = floor[p.storey] + storey[p.storey].height_m
        for a, b in line.chords(shape_of(p.outline_m)):
            stops = np.linspace(a, b, ROOF_POINTS).tolist()
            yield tuple((s, foot + headroom_m(p, line.point(s))) for s in stops)


# ---- equipment and ducts --------------------------------------------------------------------------------------


def _blocks(job: Job, line: _Line) -> Iterator[BlockCut]:
    for b in blocks(job):
        (x0, y0, _), (x1, y1, _) = b.low, b.high
        for span in line.chords(Polygon([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])):
            yield BlockCut(b, span)


def _ducts(job: Job, line: _Line, legs: tuple[Leg, ...]) -> Iterator[DuctCut]:
    floor = floor_heights(job.storeys)
    met = [(leg, how) for leg in legs if (how := _met(line, leg)) is not None]
    spots = [(x.run.storey, line.point(how.at_m), (x.low_m + x.high_m) / 2 - floor[x.run.storey]) for x, how in met]
    for (leg, how), lies in zip(met, lie_at(job, spots), strict=True):
        run = leg.run
        known = how.how != "upright" and run.side != "fresh"
        free, words = (lies.clear_m, lies.words) if known else (None, "")
        if known and run.under_roof_m is not None:
            free, words = run.under_roof_m, "clear height under the roof"
        wrap = run.made_of.jacket_m(run.insulation_r_m2k_w) / 2
        yield DuctCut(run, how.how, how.at_m, how.width_m, leg.low_m, leg.high_m, wrap, free, words)


class _Met(NamedTuple):
    how: How
    at_m: float
    width_m: float


def _met(line: _Line, leg: Leg) -> _Met | None:
    """How a leg is met, where along the line its middle lies and how wide it is there; None where it is not."""
    s0, s1, e0, e1 = line.along(leg.a), line.along(leg.b), line.across(leg.a), line.across(leg.b)
    half = leg.half_m
    if leg.a == leg.b:
        (wx, wy), (hx, hy) = line.way, leg.foot_m
        half = half if leg.run.shape == "round" else abs(wx) * hx + abs(wy) * hy
        if abs(e0) > abs(wy) * hx + abs(wx) * hy:
            return None
        if abs(e0) > half or not -half < s0 < line.length + half:
            return None
        return _Met("upright", s0, 2 * (half if leg.run.shape != "round" else (half**2 - e0**2) ** 0.5))
    sine = abs(e1 - e0) / dist(leg.a, leg.b)
    if sine < ALONG:
        low, high = max(min(s0, s1), 0.0), min(max(s0, s1), line.length)
        near = abs((e0 + e1) / 2) < half
        return _Met("along", (low + high) / 2, high - low) if near and high - low > 1e-3 else None
    if e0 * e1 > 0 and min(abs(e0), abs(e1)) > 1e-9:
        return None
    at = s0 + (s1 - s0) * e0 / (e0 - e1)
    return _Met("across", at, 2 * half / sine) if 0 <= at <= line.length else None
