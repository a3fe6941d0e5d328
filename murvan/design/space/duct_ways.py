"""What stands in the way of ducts in a house: floor that is kept clear, skylights, beams, posts and pipes, joists that lie across."""

from __future__ import annotations

import shapely
from shapely.geometry import Polygon

from murvan.design.house.geometry import shape_of
from murvan.design.house.levels import ground_floor, next_storey
from murvan.design.space.duct_levels import levels
from murvan.design.space.obstacles import Prism, between
from murvan.model.house import Storey, Structure
from murvan.model.job import Job
from murvan.model.routes import LaidRun

BLOCKS: dict[str, tuple[str, ...]] = {
    "panel": ("soffit", "chase"),
    "filter": ("chase",),
    "hatch": ("over", "soffit", "chase"),
    "flue": ("over", "under", "soffit", "chase"),
    "stairs": ("under", "soffit", "chase"),
    "other": ("chase",),
}
"""What floor to keep clear blocks over and under it, by its reason."""


def blocked(job: Job, storey: str, level: str) -> list[tuple[str, Polygon]]:
    """What ducts of a level go round, by name: floor to keep clear, skylights.

    Args:
        level: 'over' the ceiling, 'under' the floor, 'soffit' below the ceiling, or 'chase' up through the rooms.
    """
    through = _through(job, storey, level)
    out = [
        (x.name, shape_of(x.outline_m))
        for x in job.keep_clear
        if (x.storey == storey and level in BLOCKS[x.reason]) or (x.storey == through and x.reason == "stairs")
    ]
    if level in ("over", "soffit"):
        rooms = {r.id for r in job.rooms if r.storey == storey}
        for o in job.openings:
            if o.kind == "skylight" and o.room in rooms and o.position_m is not None:
                x, y = o.position_m
                half = max(o.width_m, o.height_m) / 2  # which way it lies is not drawn
                out.append((o.tag, shapely.box(x - half, y - half, x + half, y + half)))
    return out


def gone_round(job: Job, storey: str, level: str) -> list[Polygon]:
    """All that ducts of a level are laid round: what is blocked, and beams, posts and pipes with what a duct needs beside them."""
    stands = (x.shape.buffer(HALF_M, join_style="mitre") for x in standing_in(job, storey, level))
    return [*(shape for _, shape in blocked(job, storey, level)), *stands]


HALF_M = 0.15
"""Half of the height and width that a duct is given in passing something."""


def standing_in(job: Job, storey_id: str, level: str) -> list[Prism]:
    """Beams, posts, pipes and drains in the way of ducts of a level; see `blocked`."""
    if not job.obstacles:
        return []
    storey = next(s for s in job.storeys if s.id == storey_id)
    if level == "chase":
        return list(between(job, storey_id, 0.0, storey.height_m))
    at = levels(job, storey)
    middle = {"over": at.over, "under": at.under, "soffit": at.soffit}[level]
    return list(between(job, storey_id, middle - HALF_M, middle + HALF_M))


def first_joist_m(job: Job, storey: str, s: Structure) -> float:
    """Where across them the joists of a storey are counted from: its upper left corner."""
    axis = 1 if s.runs == "x" else 0
    return min(q[axis] for r in job.rooms if r.storey == storey for q in r.outline_m)


def joists(job: Job, storey_id: str, level: str) -> Structure | None:
    """Joists between which a duct of a level lies and that it can't cross; none where there are none, or where it can:
    in trusses with open webs, over the joists of an attic, under those of a basement or crawl space."""
    order = [s.id for s in job.storeys]
    k = order.index(storey_id)
    storey = job.storeys[k]
    if level == "over":
        s, free = _overhead(job, storey)
    elif level == "under":
        s, free = _underfoot(job, storey, k == 0)
    else:
        return None
    return None if free or s is None or s.kind not in ("joists", "i_joists") else s


def bay_of(job: Job, r: LaidRun) -> Structure | None:
    """The joists between which a run lies; none where it crosses them, or there are none."""
    if r.lies_in != "inside" or r.framed:
        return None
    return joists(job, r.storey, "under" if r.level_m <= 0 else "over")


def _through(job: Job, storey: str, level: str) -> str:
    """The storey whose stairs go up through a level; '' where none do."""
    if level == "over" and next_storey(job, storey, +1) is not None:
        return storey
    below = next_storey(job, storey, -1) if level == "under" else None
    return below.id if below is not None else ""


def _overhead(job: Job, storey: Storey) -> tuple[Structure | None, bool]:
    above = next_storey(job, storey.id, +1)
    over = above.floor_structure if above is not None else None
    # under the joists of a cellar there is room
    return (
        storey.ceiling_structure or over,
        above is None or storey.ceiling_space_m > 0 or storey.duct_place == "basement",
    )


def _underfoot(job: Job, storey: Storey, lowest: bool) -> tuple[Structure | None, bool]:
    below = next_storey(job, storey.id, -1)
    s = storey.floor_structure or (below.ceiling_structure if below is not None else None)
    free = storey.duct_place in ("crawl", "basement") or (lowest and ground_floor(job) in ("crawl", "basement"))
    if below is not None:
        free = free or below.duct_place == "basement" or below.ceiling_space_m > 0
    return s, free
