"""Sizes every run of a job, sets its dampers, and proves it with the air circuit."""

from __future__ import annotations

from collections.abc import Mapping

from murvan.design.ducts import duct_sizes
from murvan.design.ducts.runs import SPARE, Ducts, duct_pa, fixed_pa, run_area_m2
from murvan.design.limits import SHORT_OF_AIR, SLOWEST_M_S
from murvan.design.results import Results
from murvan.design.solve import solve
from murvan.design.space.duct_spaces import lay
from murvan.design.study.balancing import balanced, unconnected
from murvan.model.edit import changed, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import DuctRun, Job
from murvan.model.routes import LaidRun

TRIES, GAINS = 8, 1.005
"""Rounds of taking short rooms' runs up a size, each a whole solve, as long as the shortest room gains by so much."""


def size_and_balance(results: Results) -> Job:
    """The job with every run sized at its friction rate and its dampers set; rooms that then come out short get their
    run a size up while its air stays fast enough. Rooms with a register that no run leads to are short for want of it, and
    make nothing larger.

    Raises:
        JobValueError: the blower has no pressure left for ducts, so there is no rate to size by.
    """
    sized = {i: s.ducts for i, s in results.systems.items() if s.design.runs}
    if results.job.design.air.friction_rate_pa_m is None and any(d.friction_rate_pa_m <= 0 for d in sized.values()):
        raise JobValueError(
            "The blower has no pressure left for ducts: filter, heater and grilles take all of it. Choose a larger filter, "
            "another tap or another unit, or type a friction rate; nothing was changed."
        )
    job = _least_metal(results, sized)
    found = solve(job, results)
    worst = 0.0
    for _ in range(TRIES):
        job = balanced(found)
        found = solve(job, found)
        short = _short(found)
        if not short or min(short.values()) < worst * GAINS:
            return job
        worst = min(short.values())
        larger = _up(found, set(short))
        if larger == job:
            return job
        job, found = larger, solve(larger, found)
    return job


def _least_metal(results: Results, sized: Mapping[str, Ducts]) -> Job:
    """Every run at the friction rate, which is raised while the ducts leave much of the pressure unused: sizes in stock are
    larger than what the rate asks for."""
    rates = {i: min(d.friction_rate_pa_m, MOST_PA_M) for i, d in sized.items()}
    job = duct_sizes.size_all(results.job, sized, rates)
    if results.job.design.air.friction_rate_pa_m is not None:
        return job
    found = solve(job, results, air=False)
    for _ in range(FINER):
        rates = {i: min(rate * _room_left(found.systems[i].ducts), MOST_PA_M) for i, rate in rates.items()}
        tried = duct_sizes.size_all(results.job, sized, rates)
        after = solve(tried, found, air=False)
        if tried == job or any(_room_left(after.systems[i].ducts) < 1 for i in rates):
            break
        job, found = tried, after
    return job


FINER = 4
MOST_PA_M = 0.17 * 249.08891 / 30.48
"""Friction rate that ducts are sized to at most, where a blower has much to spare: 0.17 in wc/100 ft; common practice."""


def _room_left(d: Ducts) -> float:
    """Pressure that the ducts may take over what they do, at most half as much again."""
    fixed = fixed_pa(d)
    used = max(duct_pa(d), 1e-3)
    return min((SPARE * min(d.available_pa, d.limit_pa) - fixed) / used, 1.5)


def _short(r: Results) -> dict[str, float]:
    """Rooms that get less than they should, with the share of it that they get."""
    predicted = r.predicted_m3_s
    if predicted is None:
        return {}
    flows = zip(r.job.rooms, r.room_m3_s, strict=True)
    bare = {x.room for x in unconnected(r.job)}
    return {
        room.id: predicted[room.id] / float(want)
        for room, want in flows
        if room.id not in bare and predicted[room.id] < SHORT_OF_AIR * float(want)
    }


def _up(found: Results, rooms: set[str]) -> Job:
    """Every supply run to these rooms, and what feeds it, one size up where its air is not too slow then."""
    job = found.job
    faces = {x.id for x in job.design.registers if x.room in rooms and x.side == "supply"}
    by_id = {r.id: r for r in lay(job)}
    wanted: set[str] = set()
    for r in by_id.values():
        at: LaidRun | None = r if r.register_id in faces else None
        while at is not None:
            wanted.add(at.id)
            at = by_id.get(at.parent or "")

    def larger(run: DuctRun) -> DuctRun:
        if run.id not in wanted or run.held:
            return run
        step = duct_sizes.next_size(run)
        made = changed(run, run.tag, **step) if step else run
        return made if found.runs[run.id].flow_m3_s >= SLOWEST_M_S * run_area_m2(made) else run

    return with_design(job, runs=tuple(larger(r) for r in job.design.runs))
