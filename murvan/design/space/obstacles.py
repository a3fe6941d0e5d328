"""Beams, posts, pipes and drains as solids of the house: what ducts and units go round."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from shapely.geometry import Polygon

from murvan.design.house.geometry import shape_of
from murvan.design.space.clashes import Leg, meetings
from murvan.kinds.obstacles import OBSTACLES
from murvan.model.house import Obstacle, floor_heights
from murvan.model.job import Job, Point
from murvan.model.routes import LaidRun


class Prism(NamedTuple):
    """An obstacle on the plan, and from where to where it reaches over the ground, m."""

    obstacle: Obstacle
    shape: Polygon
    low_m: float
    high_m: float


def prisms(job: Job) -> Iterator[Prism]:
    """All obstacles of a house."""
    floor = floor_heights(job.storeys)
    for x in job.obstacles:
        low = floor[x.storey] + x.low_m
        yield Prism(x, shape_of(x.outline_m), low, low + x.high_m)


def between(job: Job, storey: str, low_m: float, high_m: float) -> Iterator[Prism]:
    """What stands or hangs between two heights over a storey's floor, of whatever storey it was surveyed on."""
    if job.obstacles:
        floor = floor_heights(job.storeys)[storey]
        yield from (x for x in prisms(job) if x.low_m < floor + high_m and x.high_m > floor + low_m)


class Struck(NamedTuple):
    """A run that wants the place of an obstacle."""

    run: LaidRun
    obstacle: Obstacle
    at: Point


def struck(legs: tuple[Leg, ...], solids: Iterable[Prism]) -> Iterator[Struck]:
    """Every run that goes through an obstacle, once for each."""
    for x in solids:
        yield from (Struck(leg.run, x.obstacle, at) for leg, at in meetings(legs, x.shape, x.low_m, x.high_m))


def called(x: Obstacle) -> str:
    """An obstacle by its name, with its kind where that does not say it."""
    kind = OBSTACLES[x.kind].name
    return x.name if kind.split()[0].lower() in x.name.lower() or x.kind == "other" else f"{x.name} ({kind.lower()})"
