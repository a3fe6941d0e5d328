"""What fittings take of the legs they stand on, and the straight duct that is left between them.

A straight goes through every tap: it begins and ends at what turns, changes size or shuts it, whichever runs it passes on its
way. What fittings take and what is straight add up to the length of the runs, or a fitting has no room and says so.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import dist, hypot, radians, sqrt, tan
from typing import Literal, NamedTuple

from murvan.design.ducts.runs import order, run_length_m
from murvan.kinds.fittings import FITTINGS, FittingKind
from murvan.model.design import DuctRun
from murvan.model.job import Fitting
from murvan.model.routes import BEND_DEG, LaidRun, Way, turn_deg, upright
from murvan.units import INCH

THROAT_LEG_M = 2 * INCH
"""Beyond the turn of a square elbow on each side, so that its throat takes a slip; common practice."""
TAPER = {"supply": 2.0, "return": 4.0, "fresh": 4.0}
"""A transition is so many times as long as its sides come in, 12 in at least: air that spreads, as towards the unit in a return,
wants a slow one; common practice."""
LEAST_TRANSITION_M = 12 * INCH
PAST_TAP_M = 2 * INCH
"""A trunk goes on beyond the hole of its last tap before it changes its size; common practice."""
ZONE_DAMPER_M = 12 * INCH
"""Length of a motorised damper with its collars, in the longest straight of its run; common practice."""
NIPPLE_M, PIPE_NIPPLE_M = 6 * INCH, 2 * INCH
"""Flat duct and pipe that are shorter are no piece of their own: a fitting beside them is longer by it; common practice."""


class Standing(NamedTuple):
    """A fitting as it stands on its run."""

    kind: str
    ratio: float
    upright: bool
    """It turns up or down: in the height of a flat duct, not in its width."""
    takes_m: float
    """Of all legs that it stands on."""
    longer_m: float = 0.0
    """Made longer for want of a straight of its own beside it."""


Side = Literal["left", "right", "top", "bottom"]
"""Of a duct, as one looks along it away from the unit."""


class Tap(NamedTuple):
    """A hole in a straight."""

    tag: str
    at_m: float
    """Its middle, from the straight's start."""
    side: Side
    size_m: tuple[float, ...]
    """One diameter, or across the duct and along it."""

    @property
    def half_m(self) -> float:
        """Half of its length along the duct."""
        return self.size_m[-1] / 2


class Straight(NamedTuple):
    """Straight duct between two fittings."""

    length_m: float
    taps: tuple[Tap, ...] = ()


class Fit(NamedTuple):
    """A run between its joints."""

    straights: tuple[Straight, ...]
    """That begin in it, outwards."""
    fittings: tuple[Standing, ...]
    """Outwards."""
    lacks_m: float = 0.0
    """What its fittings take beyond the legs they stand on."""
    past_m: float = 0.0
    """What its straights go on beyond its end, past the holes of the last taps."""


def fits(runs: tuple[LaidRun, ...]) -> dict[str, Fit]:
    """Straights and fittings of all runs of a unit, by run."""
    return _Fitter(runs).all()


def long_m(over: DuctRun, run: DuctRun) -> float:
    """How long the transition is from a run to the one that goes on from it."""
    comes_in = max(abs(x - y) / 2 for x, y in zip(sides_m(over), sides_m(run), strict=True))
    return max(TAPER[run.side] * comes_in, LEAST_TRANSITION_M)


def sides_m(run: DuctRun) -> tuple[float, float]:
    """Width and height, or the diameter twice."""
    d = run.diameter_m or 0.0
    return (d, d) if run.shape == "round" else (run.width_m or 0.0, run.height_m or 0.0)


def turn_m(kind: FittingKind, ratio: float, size_m: float) -> float:
    """What a turn takes of the leg on either side of its corner.

    Args:
        ratio: Centre-line radius over the size that it turns in.
        size_m: Diameter, or that of width and height which it turns in.
    """
    if kind.form in ("square", "vanes"):
        return size_m / 2 + THROAT_LEG_M
    return ratio * size_m * tan(radians(90.0 if kind.turns else 45.0) / 2)


def wye_m(diameter_m: float, neck_m: float) -> float:
    """How far a wye of 45 degrees stands out from the wall of its round trunk."""
    return (diameter_m + neck_m) / sqrt(2)


class _Open:
    """A straight that is still being followed."""

    def __init__(self, owner: LaidRun, after: int | None) -> None:
        self.owner, self.after = owner, after
        """`after`: which of the owner's fittings stands before it."""
        self.length_m, self.taps, self.goes_on = 0.0, list[Tap](), False
        self.turns = False
        """It ends in a turn, or in a register."""


class _Leg(NamedTuple):
    way: Way
    length_m: float


def _legs(run: LaidRun) -> list[_Leg]:
    """Its legs outwards; as long together as the run."""
    out = [_Leg((0.0, 0.0, run.rise_m), abs(run.rise_m))] if run.rise_m and upright(run.path_m, run.rise_m) else []
    flat = [(a, b) for a, b in zip(run.path_m, run.path_m[1:], strict=False) if a != b]
    out += [_Leg((b[0] - a[0], b[1] - a[1], 0.0), dist(a, b)) for a, b in flat]
    more = run_length_m(run) - sum(x.length_m for x in out)
    if out and more:  # set over on its way, or measured
        k = max(range(len(out)), key=lambda i: out[i].length_m)
        out[k] = out[k]._replace(length_m=out[k].length_m + more)
    return out or [_Leg((0.0, 0.0, -1.0), run_length_m(run))]


def _singly(pieces: tuple[Fitting, ...]) -> Iterator[Fitting]:
    for f in pieces:
        yield from [f] * f.count


def _turns(f: Fitting) -> bool:
    return FITTINGS[f.kind].turns or f.kind == "bend45"


class _Fitter:
    """Goes along all runs of a unit from their plenums outwards."""

    def __init__(self, runs: tuple[LaidRun, ...]) -> None:
        self.by_id = {r.id: r for r in runs}
        self.straights: dict[str, list[_Open]] = {r.id: [] for r in runs}
        self.fittings: dict[str, list[Standing]] = {r.id: [] for r in runs}
        self.end: dict[str, tuple[_Open, float, Way]] = {}
        """By run: the straight at its end, how far from the straight's start that is, which way it goes there."""
        self.half: dict[str, float] = {}
        """By joint, half of the largest hole that is cut there."""
        for r in runs:
            if r.parent and any(FITTINGS[f.kind].branch_deg is not None for f in r.pieces):
                self.half[r.start] = max(self.half.get(r.start, 0.0), sides_m(r)[0] / 2)

    def all(self) -> dict[str, Fit]:
        for r in order(tuple(self.by_id.values())):
            self._run(r)
        return {i: self._fit(i) for i in self.by_id}

    def _run(self, r: LaidRun) -> None:
        legs, pieces = _legs(r), list(_singly(r.pieces))
        if self._on_trunk(r, pieces):
            return
        first = [f for f in pieces if FITTINGS[f.kind].first]
        turns = [f for f in pieces if _turns(f)]
        at = self._begin(r, legs[0].way, first, turns)
        at.length_m += legs[0].length_m
        for a, b in zip(legs, legs[1:], strict=False):
            if turns and turn_deg(a.way, b.way) > BEND_DEG:
                at = self._corner(r, r, at, turns.pop(0), bool(a.way[2] or b.way[2]))
            at.length_m += b.length_m
        for f in turns:  # up or down into its register
            size = 0.0 if r.made_of.bends else turn_m(FITTINGS[f.kind], f.ratio, sides_m(r)[1])
            self._stand(r, f, True, (at, size))
        for f in pieces:
            if f not in first and not _turns(f):
                self._stand(r, f, False, (at, _neck_m(FITTINGS[f.kind], r) if legs[-1].way[2] else 0.0))
        if r.zone_damper and self.straights[r.id]:
            max(self.straights[r.id], key=lambda x: x.length_m).length_m -= ZONE_DAMPER_M
        self.end[r.id] = (at, at.length_m, legs[-1].way)

    def _on_trunk(self, r: LaidRun, pieces: list[Fitting]) -> bool:
        """Whether a register sits right on its trunk: nothing of it is straight, its hole is in the trunk's flat side."""
        over = self.by_id.get(r.parent or "")
        if over is None or not r.register_id or run_length_m(r) >= sides_m(over)[0] / 2:
            return False
        before = self.end.get(over.id)
        if before is not None:
            wide, high = sides_m(r)
            size = (wide,) if r.shape == "round" else (wide, high)
            before[0].taps.append(Tap(r.tag, before[1], "bottom" if r.level_m > 0 else "top", size))
        at = _Open(r, None)
        for f in pieces:
            self._stand(r, f, False, (at, 0.0))
        self.fittings[r.id][0] = self.fittings[r.id][0]._replace(takes_m=run_length_m(r))
        self.end[r.id] = (at, 0.0, (0.0, 0.0, -1.0))
        return True

    def _begin(self, r: LaidRun, way: Way, first: list[Fitting], turns: list[Fitting]) -> _Open:
        """The straight that a run starts with; its parent's where nothing stands between them."""
        over = self.by_id.get(r.parent or "")
        before = self.end.get(over.id) if over is not None else None
        if over is not None and before is not None and not first:
            angle = turn_deg(before[2], way)
            if turns and angle > BEND_DEG:
                return self._corner(r, over, before[0], turns.pop(0), bool(way[2] or before[2][2]))
            if not before[0].goes_on and _alike(over, r):
                before[0].goes_on = True
                return before[0]
        at = self._open(r)
        for f in first:
            self._first(r, at, f, way)
            at.after = len(self.fittings[r.id]) - 1
        return at

    def _open(self, r: LaidRun, after: int | None = None) -> _Open:
        at = _Open(r, after)
        self.straights[r.id].append(at)
        return at

    def _corner(self, r: LaidRun, over: LaidRun, before: _Open, f: Fitting, up: bool) -> _Open:
        """A turn between the straight before it, of `over`, and a new one."""
        if r.made_of.bends and over is r:
            return before
        takes = turn_m(FITTINGS[f.kind], f.ratio, sides_m(r)[1 if up else 0])
        before.turns = True
        at = self._open(r, len(self.fittings[r.id]))
        self._stand(r, f, up, (before, takes), (at, takes))
        return at

    def _first(self, r: LaidRun, at: _Open, f: Fitting, way: Way) -> None:
        """What stands where a run begins."""
        kind, over = FITTINGS[f.kind], self.by_id.get(r.parent or "")
        if over is None:
            self._stand(r, f, False, (at, _neck_m(kind, r)))
            return
        before = self.end.get(over.id)
        if kind.branch_deg is not None:
            if before is not None:
                before[0].taps.append(_tap(kind, r, before[1], before[2], way))
            self._stand(r, f, False, (at, self._off(over, way) + _out_m(kind, r, over)))
        elif kind.form == "transition":
            past = self.half[r.start] + PAST_TAP_M if r.start in self.half and before is not None else 0.0
            if before is not None:
                before[0].length_m += past
            at.length_m -= past
            self._stand(r, f, False, (at, long_m(over, r)))
        else:
            self._stand(r, f, False, (at, _neck_m(kind, r)))

    def _off(self, over: LaidRun, way: Way) -> float:
        """From the middle of a trunk to the side that a branch leaves by."""
        wide, high = sides_m(over)
        return (high if abs(way[2]) > hypot(way[0], way[1]) else wide) / 2

    def _stand(self, r: LaidRun, f: Fitting, up: bool, *takes: tuple[_Open, float]) -> None:
        for at, length in takes:
            at.length_m -= length
        self.fittings[r.id].append(Standing(f.kind, f.ratio, up, sum(x for _, x in takes)))

    def _fit(self, i: str) -> Fit:
        """What is too short to be a piece goes to the fitting before it, else to the first of its run."""
        made, lacks, past, out = list(self.fittings[i]), 0.0, 0.0, []
        for x in self.straights[i]:
            more = max((t.at_m + t.half_m + PAST_TAP_M - x.length_m for t in x.taps), default=0.0)
            if more > 0 and x.length_m > 0 and not x.turns:
                past, x.length_m = past + more, x.length_m + more
            least = PIPE_NIPPLE_M if x.owner.shape == "round" else NIPPLE_M
            if x.length_m >= least or x.owner.made_of.bends or (x.length_m > 0 and not made):
                out.append(Straight(x.length_m, tuple(x.taps)))
            elif x.length_m > 0:
                k = x.after or 0
                made[k] = made[k]._replace(longer_m=made[k].longer_m + x.length_m)
            else:
                lacks -= x.length_m
        return Fit(tuple(out), tuple(made), lacks, past)


def _tap(kind: FittingKind, r: LaidRun, at_m: float, along: Way, way: Way) -> Tap:
    """The hole that a branch leaves by; what lets it off at 45 degrees begins longer, towards the unit."""
    wide, high = sides_m(r)
    size: tuple[float, ...] = (wide,) if r.shape == "round" else (high, wide)
    if kind.form in ("takeoff", "wye"):
        size, at_m = (size[0], wide + kind.neck_m), at_m - kind.neck_m / 2
    return Tap(r.tag, at_m, _side(along, way), size)


def _side(along: Way, way: Way) -> Side:
    """Which side of a duct a way leaves by; of an upright one as if it lay with its start towards the reader."""
    if abs(way[2]) > hypot(way[0], way[1]):
        return "top" if way[2] > 0 else "bottom"
    # the plan's y goes down
    return "left" if along[1] * way[0] - along[0] * way[1] > 0 else "right"


def _out_m(kind: FittingKind, r: LaidRun, over: LaidRun) -> float:
    """How far what lets a branch off stands out of its trunk's side."""
    if kind.form == "wye" and over.shape == r.shape == "round":
        return wye_m(r.diameter_m or 0.0, kind.neck_m)
    return _neck_m(kind, r)


def _neck_m(kind: FittingKind, r: LaidRun) -> float:
    """What a collar or boot takes of a run; flex slips over it."""
    return 0.0 if r.made_of.bends else kind.neck_m


def _alike(a: LaidRun, b: LaidRun) -> bool:
    """Whether one straight may go through both."""
    return (a.shape, sides_m(a), a.material, a.storey) == (b.shape, sides_m(b), b.material, b.storey) and not (
        a.made_of.bends
    )
