"""The demo's field work: what is hung, and a set of simulated readings with one seeded fault."""

from __future__ import annotations

from murvan.design import solve
from murvan.field import virtual_house
from murvan.field.places import places, standing
from murvan.kinds.readings import POINTS
from murvan.model.edit import with_design
from murvan.model.job import HouseState, Job, Tick
from tools.demo.sorrel_lane import design_job

SEED = 42
FAULT = "kink:B4:3"
READ = ("B1", "B2", "B3", "B4", "B5", "B6", "B7", "B8", "A3", "A4", "A5", "P2")
AT_UNIT = tuple(x.id for x in POINTS.values() if x.proves == "air")
STANDS = HouseState(mode="heating", outdoor_c=1.5)
STILL_TO_HANG = ("register-A1", "register-P1")


def finished_job() -> Job:
    """The demo as shipped."""
    job = design_job()
    pieces = solve(job).cuts.to_hang
    ticks = tuple(
        Tick(at=p.at, part=p.part, day="Tue" if p.section == "Sheet metal" else "Thu")
        for p in pieces
        if p.at is not None and p.id not in STILL_TO_HANG
    )
    job = with_design(job, ticks=ticks)
    house = virtual_house(solve(job), (FAULT,), SEED)  # as the demo's crew built it: one run is kinked
    at = {word: standing(places(job)[word], STANDS, job) for word in (*READ, *AT_UNIT, "unit1")}
    readings = [
        house.take(place, f"m{k}", taken=f"Fri {13 + k // 10}:{(10 + 4 * k) % 60:02d}", person="ks")
        for k, place in enumerate(at.values(), 1)
    ]
    return with_design(job, readings=tuple(readings), stands=STANDS)
