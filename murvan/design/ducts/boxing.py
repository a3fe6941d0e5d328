"""Soffits and chases: what ducts in rooms are boxed in, how much room they want there, and whether one that is drawn has it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from shapely.geometry import LineString, Point, Polygon

from murvan.design.ducts.duct_sizes import jacket_m
from murvan.design.ducts.runs import run_length_m
from murvan.design.house.geometry import shape_of
from murvan.design.space.duct_spaces import AT_CEILING_M
from murvan.model.house import MechanicalPlace
from murvan.model.job import DuctRun, Job
from murvan.model.routes import CHASE, RISER_M, LaidRun
from murvan.units import INCH

ROUND_IT_M = 1 * INCH
"""Clear on each side of a duct in its frame; common practice."""


def outside_m(run: DuctRun) -> tuple[float, float]:
    """Width and height of a run over its insulation, m."""
    more = jacket_m(run)
    if run.shape == "round":
        return (run.diameter_m or 0.0) + more, (run.diameter_m or 0.0) + more
    return (run.width_m or 0.0) + more, (run.height_m or 0.0) + more


def frame_m(run: DuctRun) -> tuple[float, float]:
    """Clear width and height of the frame that a run of its own wants, m."""
    w, h = outside_m(run)
    return w + 2 * ROUND_IT_M, h + 2 * ROUND_IT_M


def taken_m2(run: LaidRun) -> float:
    """Of a room that the frame round a run takes: floor of a chase, ceiling of a soffit; 0 where nothing is framed."""
    wide, high = frame_m(run)
    if run.framed == CHASE:
        return wide * high
    return wide * run_length_m(run) if run.framed else 0.0


@dataclass(frozen=True)
class Boxed:
    """A soffit or chase that is drawn, and what lies in it."""

    place: MechanicalPlace
    runs: tuple[LaidRun, ...]
    clear_m: tuple[float, float]
    """Inside: of a chase both sides of its floor, the longer first; of a soffit its width and its height."""
    want_m: tuple[float, float]
    """The same, as the ducts in it want side by side."""

    @property
    def fits(self) -> bool:
        """Whether all go in."""
        return all(want <= have + 1e-6 for want, have in zip(self.want_m, self.clear_m, strict=True))


def boxed(job: Job, laid: Iterable[LaidRun]) -> Iterator[Boxed]:
    """Every soffit and chase of a job with the ducts in it."""
    runs = tuple(laid)
    for place in job.places:
        if place.boxes_ducts:
            shape = shape_of(place.outline_m)
            inside = tuple(r for r in runs if _lies_in(job, place, shape, r))
            yield Boxed(place, inside, _clear(place, shape), _want(place, inside))


def _lies_in(job: Job, place: MechanicalPlace, shape: Polygon, run: LaidRun) -> bool:
    rises = abs(run.rise_m) >= RISER_M
    if run.storey != place.storey or rises != (place.kind == "chase"):
        return False
    if rises:
        return bool(shape.intersects(Point(run.path_m[-1])))
    ceiling = next(s.height_m for s in job.storeys if s.id == place.storey)
    within = ceiling - place.clear_m - AT_CEILING_M <= run.level_m < ceiling - AT_CEILING_M
    return within and shape.intersection(LineString(run.path_m)).length > ROUND_IT_M


def _clear(place: MechanicalPlace, shape: Polygon) -> tuple[float, float]:
    x0, y0, x1, y1 = shape.bounds
    sides = sorted((x1 - x0, y1 - y0))
    return (sides[1], sides[0]) if place.kind == "chase" else (sides[0], place.clear_m)


def _want(place: MechanicalPlace, runs: tuple[LaidRun, ...]) -> tuple[float, float]:
    """Side by side; of runs that follow one another in a soffit the widest counts."""
    sizes = [frame_m(r) for r in _abreast(runs)] if place.kind == "soffit" else [frame_m(r) for r in runs]
    if not sizes:
        return 0.0, 0.0
    if place.kind == "chase":
        sizes = [(max(x), min(x)) for x in sizes]
        one_deep = max(h for _, h in sizes)
        return sum(w for w, _ in sizes), one_deep
    return sum(w for w, _ in sizes), max(h for _, h in sizes)


def _abreast(runs: tuple[LaidRun, ...]) -> list[LaidRun]:
    """The widest run of every line of runs that follow one another."""
    ids = {r.id for r in runs}
    out: dict[str, LaidRun] = {}
    over = {r.id: r.parent for r in runs}
    for r in runs:
        at = r.id
        while over.get(at) in ids:
            at = str(over[at])
        if at not in out or outside_m(r) > outside_m(out[at]):
            out[at] = r
    return list(out.values())
