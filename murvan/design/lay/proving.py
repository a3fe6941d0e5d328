"""From ducts as they are drawn to ducts that carry their air: insulation, depth, tap, filter, sizes and dampers."""

from __future__ import annotations

from math import ceil, sqrt

from murvan.design.ducts.duct_sizes import jacket_m
from murvan.design.ducts.runs import rate_of
from murvan.design.lay.sizing import size_and_balance
from murvan.design.limits import FACE_LIMIT, FLATTEST, WORKABLE_PA_M
from murvan.design.punch.rules import found_by
from murvan.design.results import Results
from murvan.design.solve import solve
from murvan.design.space.duct_ways import bay_of
from murvan.design.study.balancing import balanced
from murvan.design.units.unit_losses import fan_curve
from murvan.model.edit import Change, all_changed, changed, replace, with_design
from murvan.model.job import Job
from murvan.units import INCH

ENOUGH = 0.95


def bare_inside(r: Results) -> Job:
    """Metal ducts inside the shell without wrap, whatever the others of their storey have: in a joist space every inch counts."""
    lies = {x.id: x.lies_in for x in r.laid}
    runs = tuple(
        changed(x, x.tag, insulation_r_m2k_w=0.0) if lies[x.id] == "inside" and not x.made_of.bends else x
        for x in r.job.design.runs
    )
    return with_design(r.job, runs=runs)


def flattened(job: Job, r: Results) -> Job:
    """Rectangular ducts as deep as there is room for where they lie, up to `DEEPEST_M`: the nearer to a square, the less sheet
    and loss, and the sooner they go between joists. Their width follows when they are sized. `r`: of the same ducts."""
    runs = []
    lies = {x.id: x for x in r.laid}
    for run in job.design.runs:
        if run.shape == "rectangular" and run.height_m is not None:
            clear, air = lies[run.id].clear, r.runs[run.id]
            square = sqrt(air.flow_m3_s / air.velocity_limit_m_s)
            wanted = max(min(square, DEEPEST_M), run.height_m) if lies[run.id].lies_in in DEEP_IN else run.height_m
            if clear is not None and bay_of(job, lies[run.id]) is not None:
                wanted = DEEPEST_M  # no wider than need be between two joists
            if clear is not None:
                least = square / sqrt(FLATTEST)
                room = max(clear[1] - jacket_m(run) - INCH, FLATTEST_M, least)
                wanted = min(wanted, ceil(room / INCH - 1e-6) * INCH)
            run = changed(
                run, run.tag, height_m=round(wanted / INCH / 2) * 2 * INCH if wanted > run.height_m else wanted
            )
        runs.append(run)
    return with_design(job, runs=tuple(runs))


DEEPEST_M = 12 * INCH
DEEP_IN = ("attic",)
"""Where no headroom is lost by a deep duct."""
FLATTEST_M = 4 * INCH
"""Least depth; common practice."""


def with_pressure(r: Results, unit_id: str) -> Results:
    """The same at the lowest tap that leaves a workable friction rate; at the one that leaves most where none does. The
    filter is as large as its air wants. Without an air circuit."""
    unit = next(x for x in r.job.design.indoor_units if x.id == unit_id)
    s = r.systems[unit_id]
    job = r.job
    face = s.airflow.total_m3_s / FACE_LIMIT["filter"]
    if unit.filter.width_m * unit.filter.height_m < face:
        wide, high = next((f for f in FILTERS_M if f[0] * f[1] >= face), FILTERS_M[-1])
        bigger = changed(unit.filter, "Filter", width_m=wide, height_m=high)
        job = replace(job, "indoor_units", unit_id, filter=bigger)
    if s.unit is None:
        return r
    r = solve(job, r, air=False)
    s = r.systems[unit_id]
    assert s.unit is not None
    density, flow = r.conditions.density_kg_m3, s.airflow.total_m3_s
    taps = range(1, len(s.unit.blower.taps_m3_s) + 1)
    rates = [rate_of(s.ducts, fan_curve(s.unit, k, density).single(flow)[0]) for k in taps]
    good = next((k for k, rate in enumerate(rates) if rate >= WORKABLE_PA_M), None)
    tap = 1 + (good if good is not None else rates.index(max(rates)))
    return solve(replace(job, "indoor_units", unit_id, tap=tap), r, air=False)


def sized(r: Results, unit_id: str) -> Results:
    """The same sized and balanced; ducts that came out so large that they hardly leave a workable rate once more on the next
    tap."""
    while True:
        found = solve(size_and_balance(r), r)
        s, tap = found.systems[unit_id], next(x.tap for x in r.job.design.indoor_units if x.id == unit_id)
        taps = len(s.unit.blower.taps_m3_s) if s.unit is not None else 0
        if s.ducts.friction_rate_pa_m >= WORKABLE_PA_M or tap >= taps:
            return found
        r = solve(replace(r.job, "indoor_units", unit_id, tap=tap + 1), r)


def wrapped(r: Results) -> Results:
    """The same with as much insulation as keeps the ducts dry, and as the attic wants."""
    fixes = [f.hit.fix for f in found_by(r, "duct-sweats", "attic-wrap")]
    job = all_changed(r.job, (x for x in fixes if isinstance(x, Change)))
    return solve(job, r) if job != r.job else r


def lowest_tap(r: Results, unit_id: str) -> Results:
    """The same on the lowest tap on which every room still gets its air, balanced there: what a higher one makes is burnt in
    dampers."""
    while True:
        tap = next(x.tap for x in r.job.design.indoor_units if x.id == unit_id) - 1
        if tap < 1 or r.network is None:
            return r
        tried = solve(replace(r.job, "indoor_units", unit_id, tap=tap), r)
        tried = solve(balanced(tried), tried)
        if short_of(tried, unit_id):
            return r
        r = tried


FILTERS_M = tuple(
    (a * INCH, b * INCH) for a, b in ((20, 20), (20, 25), (24, 24), (25, 25), (30, 24), (36, 24), (40, 25))
)
"""Filters that are stocked; common practice."""


def opened(r: Results, unit_id: str) -> Results:
    """The same with a little more air where the lowest tap gives more than is asked for, so that the hardest damper stands open
    and every room has its share of it; as it was where that takes too much, or the air was typed."""
    if next(x.flow_m3_s for x in r.job.design.indoor_units if x.id == unit_id) is not None or _stands_open(
        r, unit_id
    ):
        return r
    flow = r.systems[unit_id].airflow.total_m3_s
    for more in MORE_AIR:
        tried = solve(replace(r.job, "indoor_units", unit_id, flow_m3_s=round(flow * more, 4)), r)
        tried = solve(balanced(tried), tried)
        if short_of(tried, unit_id):
            return r
        if _stands_open(tried, unit_id):
            return tried
    return r


MORE_AIR = (1.03, 1.06, 1.09, 1.12)
"""Of the air asked for, as a blower on its lowest tap that will do gives it."""
OPEN = 0.995
"""A damper that stands wide open."""


def _stands_open(r: Results, unit_id: str) -> bool:
    """Whether a supply damper of a unit does, or it has none."""
    own = [x.damper for x in r.systems[unit_id].design.runs if x.side == "supply" and x.damper is not None]
    return not own or max(own) >= OPEN


def short_of(r: Results, unit_id: str) -> tuple[str, ...]:
    """Names of the rooms of a unit that get less than 95 % of their air."""
    s, predicted = r.systems[unit_id], r.predicted_m3_s or {}
    return tuple(
        room.name
        for k, room in enumerate(r.job.rooms)
        if s.airflow.served[k] and predicted.get(room.id, 0.0) < ENOUGH * float(s.airflow.design_m3_s[k])
    )
