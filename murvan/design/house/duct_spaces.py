"""What a joint of duct lies in: over a ceiling, in an attic, under a floor, in a soffit or a chase; and how high it is
clear there. All of it follows from the house.
"""

from __future__ import annotations

from typing import TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray

from murvan.design.house.levels import ground_floor, headroom_m
from murvan.model.house import MechanicalPlace, Room, Space, Storey
from murvan.model.job import Job, Joint
from murvan.model.routes import LaidRun, Lies, laid_runs

AT_CEILING_M = 0.05
"""What ends this little below a ceiling or over a floor lies in it."""
SOFFIT_M = 0.75
"""How far a soffit hangs below a ceiling at most; common practice."""


def duct_spaces(job: Job) -> dict[str, Lies]:
    """What every joint of the design that is worked on lies in, by its id."""
    joints = job.design.joints
    if not joints:
        return {}
    at = np.array([j.position_m for j in joints])
    rooms, garages = _covering(job.rooms, at), _covering(job.spaces, at)
    attics = _covering(tuple(x for x in job.places if x.kind == "attic"), at)
    under = _covering(tuple(x for x in job.places if x.kind in ("crawl", "basement")), at)
    order = {s.id: k for k, s in enumerate(job.storeys)}
    out = {}
    for k, joint in enumerate(joints):
        storey = job.storeys[order[joint.storey]]
        here = _on(rooms[k], storey.id)
        if joint.height_m >= _ceiling_m(here, storey) - AT_CEILING_M:
            upper = job.storeys[order[storey.id] + 1].id if order[storey.id] + 1 < len(job.storeys) else ""
            out[joint.id] = _over(joint, storey, bool(_on(rooms[k], upper)), here, garages[k], attics[k])
        elif joint.height_m <= AT_CEILING_M:
            lower = job.storeys[order[storey.id] - 1].id if order[storey.id] else ""
            out[joint.id] = _beneath(job, joint, bool(_on(rooms[k], lower)), here, under[k])
        else:
            out[joint.id] = _beside(joint, _ceiling_m(here, storey), here, garages[k])
    return out


def lay(job: Job) -> tuple[LaidRun, ...]:
    """All runs of the design that is worked on as they lie in the house; see `laid_runs`."""
    return laid_runs(job.design, job.storeys, spaces=duct_spaces(job))


T = TypeVar("T", Room, Space, MechanicalPlace)


def _covering(things: tuple[T, ...], at: NDArray[np.float64]) -> list[list[T]]:
    """By point (n, 2), what stands over or under it on the plan."""
    out: list[list[T]] = [[] for _ in at]
    for thing in things:
        for k in np.flatnonzero(shapely.intersects_xy(shapely.polygons(thing.outline_m), at[:, 0], at[:, 1])):
            out[int(k)].append(thing)
    return out


def _on(rooms: list[Room], storey: str) -> Room | None:
    return next((x for x in rooms if x.storey == storey), None)


def _ceiling_m(room: Room | None, storey: Storey) -> float:
    return room.height_m if room is not None and room.height_m is not None else storey.height_m


def _over(
    joint: Joint,
    storey: Storey,
    room_above: bool,
    here: Room | None,
    garages: list[Space],
    attics: list[MechanicalPlace],
) -> Lies:
    depth = storey.ceiling_space_m or (storey.ceiling_structure.depth_m if storey.ceiling_structure else 0.0)
    if room_above:
        return Lies("inside", "space", depth or None)
    if here is None and any(x.storey == storey.id for x in garages):
        return Lies("garage", "garage", None)
    heights = [headroom_m(x, joint.position_m) for x in attics]
    return Lies("attic", "clear height in the attic", min(heights) if heights else depth or None)


def _beneath(job: Job, joint: Joint, room_below: bool, here: Room | None, under: list[MechanicalPlace]) -> Lies:
    if room_below:
        return Lies("inside", "space", None)
    heights = [headroom_m(x, joint.position_m) for x in under]
    clear = min(heights) if heights else None
    kind = here.floor if here is not None and here.floor != "auto" else ground_floor(job)
    if kind == "basement":
        return Lies("basement", "clear height in the basement", clear)
    if kind == "crawl":
        return Lies("crawl", "clear height in the crawl space", clear)
    return Lies("garage", "garage", None) if kind == "garage" else Lies("inside", "space", None)


def _beside(joint: Joint, ceiling_m: float, here: Room | None, garages: list[Space]) -> Lies:
    if here is None and any(x.storey == joint.storey for x in garages):
        return Lies("garage", "garage", None)
    return Lies("inside", "soffit" if joint.height_m >= ceiling_m - SOFFIT_M else "chase", None)
