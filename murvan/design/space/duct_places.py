"""Where the ducts of a storey run: as it is said, and as they lie; one fact for headers, registers, levels and rules."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise
from math import dist

from murvan.design.house.levels import ground_floor, stands_on
from murvan.model.edit import changed
from murvan.model.house import Storey, floor_heights
from murvan.model.job import Job
from murvan.model.routes import LaidRun

PLACE_WORDS = {
    "inside": "inside the shell",
    "attic": "in the attic",
    "crawl": "in the crawl space",
    "basement": "in the basement",
    "garage": "in the garage",
}
UNDER = ("crawl", "basement")
"""Places under a floor."""


def beneath(job: Job, storey_id: str) -> str:
    """What the rooms of a storey stand on: 'slab', 'crawl', 'basement', or 'rooms'."""
    order = [s.id for s in job.storeys]
    k = order.index(storey_id)
    if k and any(r.storey == order[k - 1] for r in job.rooms):
        return "rooms"
    return ground_floor(job)


def run_below(job: Job, storey: Storey) -> bool:
    """Whether the ducts of a storey run under its floor."""
    order = [s.id for s in job.storeys]
    k = order.index(storey.id)
    if k and job.storeys[k - 1].duct_place == "basement":
        return True  # trunks hang in the basement below
    sunk = stands_on(floor_heights(job.storeys)[storey.id], "") == "below"  # ducts of a basement hang in it
    return not sunk and storey.duct_place in UNDER and storey.duct_place == beneath(job, storey.id)


def places_offered(job: Job) -> tuple[str, ...]:
    """Where the ducts of a house may run: under its floor where there is room, over the top storey, or inside."""
    below = ground_floor(job)
    return (*((below,) if below in UNDER else ()), "attic", "inside")


def run_in(job: Job, place: str) -> Job:
    """The job with its ducts in one place: under the lowest storey, over the top one, or all inside; others run inside."""
    at = {"attic": len(job.storeys) - 1}.get(place, 0 if place in UNDER else -1)
    storeys = tuple(changed(s, s.name, duct_place=place if k == at else "inside") for k, s in enumerate(job.storeys))
    return changed(job, job.name, storeys=storeys)


def said_place(job: Job) -> str:
    """The place that `run_in` would have to be given for what the storeys say."""
    return next((s.duct_place for s in job.storeys if s.duct_place != "inside"), "inside")


def lie_in(storey_id: str, runs: Iterable[LaidRun]) -> str | None:
    """Where most of the supply ducts of a storey lie, by length; None without ducts there."""
    metres: dict[str, float] = {}
    for run in runs:
        if run.storey == storey_id and run.side == "supply":
            long = sum(dist(a, b) for a, b in pairwise(run.path_m))
            metres[run.lies_in] = metres.get(run.lies_in, 0.0) + long
    return max(metres, key=lambda k: metres[k]) if metres else None
