"""At which heights ducts of a storey usually lie: in what carries the floor above or hung under it, over the chords of an attic,
under the joists of a crawl space, in a soffit. One answer for laying, drawing and the section."""

from __future__ import annotations

from typing import NamedTuple

from murvan.design.house.levels import ground_floor, next_storey, stands_on
from murvan.model.house import Storey, Structure, floor_heights
from murvan.model.job import Job

HANG_M = 0.2
"""From joists or chords to the middle of a duct that hangs under them or lies on them: half a trunk, its wrap and a strap."""
SOFFIT_M = 0.2
"""Of a duct's middle below the ceiling where it is boxed in."""
LEAST_M = 0.15
"""Room under joists, over a dropped ceiling, in which a duct goes across."""
JOISTS_M = 0.24
"""Depth of joists that nobody said; common practice."""


class Levels(NamedTuple):
    """Of a duct's middle over its storey's floor, m."""

    over: float
    """Over the ceiling, or hung under the joists of a basement."""
    soffit: float
    under: float
    """Under the floor."""


def levels(job: Job, storey: Storey) -> Levels:
    """The usual levels of a storey's ducts."""
    over = _over(job, storey, next_storey(job, storey.id, +1))
    return Levels(round(over, 3), storey.height_m - SOFFIT_M, round(_under(job, storey), 3))


def _over(job: Job, storey: Storey, upper: Storey | None) -> float:
    s = storey.ceiling_structure
    if upper is None:  # an attic: on the joists or chords, or what stands for them
        return storey.height_m + over_joists_m(storey) + HANG_M
    floor = floor_heights(job.storeys)
    top = floor[upper.id] - floor[storey.id]
    s = s or upper.floor_structure
    gap = top - storey.height_m
    if s is None:
        return storey.height_m + gap / 2
    free = gap - s.depth_m
    if crossed(s) or (free < LEAST_M and storey.duct_place != "basement"):
        return top - s.depth_m / 2
    return storey.height_m + (free / 2 if free >= LEAST_M else -HANG_M)


def over_joists_m(storey: Storey, unknown_m: float = 0.0) -> float:
    """From a ceiling under an attic to the top of what carries it, m. `unknown_m`: where nobody said."""
    return storey.ceiling_structure.depth_m if storey.ceiling_structure is not None else unknown_m


def crossed(s: Structure) -> bool:
    """Whether ducts go through what carries a floor: webs that are open."""
    return s.kind == "open_web"


def on_ground(job: Job, storey: Storey) -> bool:
    """Whether a storey's floor is a slab on the soil: no duct lies under it."""
    return next_storey(job, storey.id, -1) is None and stands_on(
        floor_heights(job.storeys)[storey.id], ground_floor(job)
    ) in ("slab", "below")


def _under(job: Job, storey: Storey) -> float:
    floor, lower = floor_heights(job.storeys), next_storey(job, storey.id, -1)
    if lower is not None:
        return floor[lower.id] + _over(job, lower, storey) - floor[storey.id]
    if on_ground(job, storey):
        return -HANG_M  # nowhere: a duct there is a finding
    s = storey.floor_structure
    return -(s.depth_m if s is not None else JOISTS_M) - HANG_M
