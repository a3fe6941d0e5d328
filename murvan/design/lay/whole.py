"""From a house to its ducts in one go: a ducted unit where there is none, and layouts for it."""

from __future__ import annotations

from murvan.design.lay.ducts import layouts
from murvan.design.lay.layout import Layout, of_the_house, offered, with_zones_held
from murvan.design.lay.place import place_unit, placed_unit, usual_air_m3_s
from murvan.design.propose import every_way, plainest, repicked, take_up, taken_up
from murvan.design.solve import solve
from murvan.model.edit import replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Point


def with_ducted(job: Job) -> Job:
    """The job with a ducted unit that is picked: its own, or that of the best ducted design that is offered; its zones stay.

    Raises:
        JobValueError: no ducted design can be offered.
    """
    if any(x.kind == "ducted" and x.unit is not None for x in job.design.indoor_units):
        return job
    best = next(iter(every_way(job, kinds=("ducted", "zoned", "furnace"))), None)
    if best is None:
        raise JobValueError(f"{job.name} has no rooms to serve by ducts.")
    done = taken_up(job, best)
    return with_design(done, zones=job.design.zones) if len(job.design.zones) > 1 else done


def whole_layouts(job: Job, place: tuple[Point, str] | None = None) -> tuple[Layout, ...]:
    """Layouts for the first ducted unit of a job, each with the best for its other ducted units in turn; the best first.

    Args:
        place: Where the unit is put first, and on which storey.

    Raises:
        JobValueError: there is no such storey, or no unit or register can be placed.
    """
    given = any(x.kind == "ducted" and x.unit is not None for x in job.design.indoor_units)
    job = with_ducted(job)
    unit = next(x for x in job.design.indoor_units if x.kind == "ducted" and x.unit is not None)
    if not given:  # a proposal stands where its rooms are; where it goes in is found here
        job = replace(job, "indoor_units", unit.id, storey=None)
    if place is not None:
        at, storey = place
        if storey not in {s.id for s in job.storeys}:
            raise JobValueError(f"There is no storey '{storey}'; there are {', '.join(s.id for s in job.storeys)}.")
        job = placed_unit(job, unit.id, storey, at, usual_air_m3_s(unit, job)).job
    job = place_unit(job, unit.id, usual_air_m3_s(unit, job))
    if not given:
        job = _with_right_unit(job, unit.id)
    others = [x.id for x in job.design.indoor_units if x.kind == "ducted" and x.unit is not None and x.id != unit.id]
    for other in others:  # ducts of the first go round the plenums of all
        own = next(x for x in job.design.indoor_units if x.id == other)
        job = place_unit(job, other, usual_air_m3_s(own, job))
    found = tuple(_zones_held(x) for x in layouts(solve(job), unit.id))
    return offered(_with(x, others) for x in found) if others else found


def _with_right_unit(job: Job, unit: str) -> Job:
    """The job with a unit as the loads with its ducts want it: it was chosen before anybody knew what these lose."""
    probe = layouts(solve(job), unit, lambda k, of: False)[0]
    return repicked(probe.results, unit, job) if _unit_fails(probe) else job


def _unit_fails(x: Layout) -> bool:
    return any(f.rule.id in UNIT_RULES for f in x.results.findings)


UNIT_RULES = ("unit-size", "sensible-short", "heat-short")


def _zones_held(x: Layout) -> Layout:
    """A layout whose zones may call alone: with the least that is needed for it, where that is anything."""
    if not any(f.rule.id in ALONE for f in x.results.findings):
        return x
    school = plainest(x.results)
    job = take_up(x.job, school)
    return with_zones_held(x, solve(job, x.results), school.name) if job != x.job else x


ALONE = ("zone-static", "zone-ices")
"""What breaks a unit when one zone calls."""
WAYS_OF_OTHERS = 2
"""How many ways are tried for each further unit."""


def _with(x: Layout, others: list[str]) -> Layout:
    """A layout of one unit with the ducts of others laid round it."""
    done: list[Layout] = []
    for unit in others:
        before = done[-1].results if done else x.results
        done.append(layouts(before, unit, lambda k, _: k < WAYS_OF_OTHERS)[0])
    return of_the_house(x, tuple(done))
