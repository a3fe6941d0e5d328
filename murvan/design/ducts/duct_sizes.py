"""Sizes of ducts: the smallest one that keeps friction rate and velocity, the next one up, and dampers that balance."""

from __future__ import annotations

from collections.abc import Mapping
from math import pi

import numpy as np

from murvan.arrays import Array
from murvan.design.ducts.parting import branch_deg
from murvan.design.ducts.runs import (
    PROFILE_FACTOR,
    VELOCITY_LIMIT,
    Ducts,
    RunResult,
    run_area_m2,
    run_equivalent_m,
    run_kind,
    run_perimeter_m,
)
from murvan.design.limits import FLATTEST, ROUNDED, SLOWEST_M_S, exceeds
from murvan.kinds.duct_materials import DUCT_MATERIALS
from murvan.model.edit import changed, with_design
from murvan.model.job import DuctRun, Job
from murvan.model.routes import parents
from murvan.physics import ductflow
from murvan.units import INCH

ROUND_SIZES_IN = (4, 5, 6, 7, 8, 9, 10, 12, 14, 16, 18, 20)
RECT_SIZES_IN = (6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30)
ROUND_SIZES_M, RECT_SIZES_M = (np.array(x) * INCH for x in (ROUND_SIZES_IN, RECT_SIZES_IN))


def size_for(run: DuctRun, flow_m3_s: float, rate_pa_m: float, profile: str, depth_m: float = 0.0) -> DuctRun:
    """The run with the smallest size one can buy that keeps the friction rate and the recommended velocity, and whose air
    is not so slow that it loses its heat.

    Args:
        run: The run; its shape, material and, for rectangles, its height are kept where they fit.
        flow_m3_s: Design flow.
        rate_pa_m: Friction rate to keep.
        profile: 'quiet', 'balanced' or 'compact'.
        depth_m: Clear depth of its space; 0 when unknown.
    """
    most = VELOCITY_LIMIT[(run.side, run_kind(run))][0] * PROFILE_FACTOR[profile]

    def judged(area: Array, equivalent: Array) -> tuple[list[bool], list[bool]]:
        """Of each size, whether it keeps friction and speed, and whether its air is too slow."""
        rough = np.asarray(run.made_of.roughness_m)
        rate = ductflow.friction_pa_per_m(np.asarray(flow_m3_s), pi * equivalent**2 / 4, equivalent, rough)
        if run.made_of.bends:
            rate = rate * ductflow.flex_multiplier(equivalent, np.asarray(run.stretched))
        return ((rate <= rate_pa_m) & (flow_m3_s / area <= most)).tolist(), (flow_m3_s < SLOWEST_M_S * area).tolist()

    if run.shape == "round":
        fits, slow = judged(pi * ROUND_SIZES_M**2 / 4, ROUND_SIZES_M)
        last = len(ROUND_SIZES_M) - 1
        k = next(k for k in range(last + 1) if k == last or fits[k] or slow[k + 1])
        return changed(run, diameter_m=float(ROUND_SIZES_M[k]))
    height = run.height_m or 8 * INCH
    if depth_m:
        allowed = [s for s in RECT_SIZES_M.tolist() if s <= depth_m - 2 * INCH]
        height = min(height, allowed[-1] if allowed else 6 * INCH)
    widths = RECT_SIZES_M[height * 0.99 <= RECT_SIZES_M]
    if not len(widths):
        return changed(run, width_m=float(RECT_SIZES_M[-1]), height_m=height)
    fits, slow = judged(*_areas(run.shape, widths, height))
    k = len(widths) - 1
    for smaller in range(k, -1, -1):
        if not fits[smaller] and not slow[k]:
            break
        k = smaller
    return changed(run, width_m=float(widths[k]), height_m=height)


def _areas(shape: str, width_m: Array, height_m: float) -> tuple[Array, Array]:
    """True areas, m2, and equivalent diameters, m, of rectangles or flat ovals of one height."""
    if shape == "rectangular":
        return width_m * height_m, ductflow.rectangular_equivalent_m(width_m, np.asarray(height_m))
    small, large = np.minimum(width_m, height_m), np.maximum(width_m, height_m)
    return pi * small**2 / 4 + small * (large - small), ductflow.oval_equivalent_m(large, small)


def next_size(run: DuctRun) -> dict[str, float]:
    """The next size one can buy, as changes of the run; none when it is the largest, or would be too flat."""
    if run.shape == "round":
        larger = [s * INCH for s in ROUND_SIZES_IN if s * INCH > (run.diameter_m or 0) * 1.001]
        return {"diameter_m": larger[0]} if larger else {}
    larger = [s * INCH for s in RECT_SIZES_IN if s * INCH > (run.width_m or 0) * 1.001]
    return {"width_m": larger[0]} if larger and not _flat(changed(run, run.tag, width_m=larger[0])) else {}


def same_area(run: DuctRun, shape: str) -> dict[str, float | None]:
    """The sizes of a run of another shape with about the same area, in stock: rectangles and ovals half as high as wide."""
    if shape == "round":
        wanted = (4 * run_area_m2(run) / pi) ** 0.5
        size = min(ROUND_SIZES_IN, key=lambda s: abs(s * INCH - wanted))
        return {"diameter_m": size * INCH, "width_m": None, "height_m": None}
    if run.shape != "round":
        return {}
    high = min(RECT_SIZES_IN, key=lambda s: abs(s * INCH - (run_area_m2(run) / 2) ** 0.5))
    wide = next((s for s in RECT_SIZES_IN if s * high * INCH**2 >= run_area_m2(run) * 0.99), RECT_SIZES_IN[-1])
    return {"diameter_m": None, "width_m": wide * INCH, "height_m": high * INCH}


def jacket_m(run: DuctRun) -> float:
    """What the walls and the insulation of a run add to its outside."""
    return run.made_of.jacket_m(run.insulation_r_m2k_w)


LEAST_HEIGHT_IN = 4
"""Of a flat duct; common practice."""


def goes_through(run: DuctRun, clear_m: float) -> DuctRun | None:
    """The run as a flat rigid duct that goes through a clear height with its wrap, of no more friction; None where none does
    at 4 to 1."""
    material = run.made_of.instead if run.made_of.bends else run.material
    wrap = DUCT_MATERIALS[material].jacket_m(run.insulation_r_m2k_w)
    for high in (s for s in reversed((LEAST_HEIGHT_IN, *RECT_SIZES_IN)) if s * INCH + wrap <= clear_m + 1e-9):
        for wide in (s for s in RECT_SIZES_IN if high <= s <= FLATTEST * high):
            flat = changed(
                run,
                run.tag,
                shape="rectangular",
                diameter_m=None,
                width_m=wide * INCH,
                height_m=high * INCH,
                material=material,
            )
            if run_equivalent_m(flat) >= run_equivalent_m(run) * 0.99:
                return flat
    return None


def size_all(job: Job, systems: Mapping[str, Ducts], rates_pa_m: Mapping[str, float] | None = None) -> Job:
    """The job with every run sized for its design flow at the friction rate of its unit (the job's own where it has one).

    Args:
        systems: ducts by indoor unit; runs of others stay.
        rates_pa_m: friction rate by indoor unit; None: what follows from its blower.
    """
    air = job.design.air
    storeys = {s.id: s.ceiling_space_m for s in job.storeys}

    def sized(run: DuctRun) -> DuctRun:
        d = systems.get(run.indoor)
        if d is None or run.held:
            return run
        rate = air.friction_rate_pa_m or (rates_pa_m or {}).get(run.indoor) or d.friction_rate_pa_m
        return size_for(run, d.runs[run.id].flow_m3_s, rate, air.velocity_profile, storeys.get(run.storey, 0.0))

    straight = {i for d in systems.values() for i, x in d.runs.items() if x.run.parent and branch_deg(x.run) is None}
    return with_design(job, runs=_stepped(_none_wider(tuple(sized(r) for r in job.design.runs)), straight, systems))


STEP_M2 = 0.3
"""Sheet that a transition is worth, with its joints and the work: a trunk steps down where it saves more; common practice."""


def _stepped(runs: tuple[DuctRun, ...], straight: set[str], systems: Mapping[str, Ducts]) -> tuple[DuctRun, ...]:
    """Trunks that go on straight as large as before where a step would save little."""
    by_id, over = {r.id: r for r in runs}, parents(runs)
    for i in sorted(by_id, key=lambda k: _depth(over, k)):
        run, up = by_id[i], by_id.get(over[i] or "")
        if up is None or i not in straight or run.held or run.register_id or run.shape == "round":
            continue
        if up.shape != run.shape or up.height_m != run.height_m or up.width_m == run.width_m:
            continue
        length = systems[run.indoor].runs[i].length_m
        if (run_perimeter_m(up) - run_perimeter_m(run)) * length < STEP_M2:
            by_id[i] = changed(run, run.tag, width_m=up.width_m)
    return tuple(by_id[r.id] for r in runs)


def _depth(over: Mapping[str, str | None], run: str) -> int:
    """How many runs lie between it and the plenum."""
    n, at = 0, over[run]
    while at is not None:
        n, at = n + 1, over[at]
    return n


def _flat(run: DuctRun) -> bool:
    return run.shape != "round" and exceeds(run.width_m or 0.0, FLATTEST * (run.height_m or 1.0), ROUNDED)


def _none_wider(runs: tuple[DuctRun, ...]) -> tuple[DuctRun, ...]:
    """Runs of which none is larger than the one it leaves or feeds: that one is as large as it then, of its own shape."""
    by_id = {r.id: r for r in runs}
    over = parents(runs)
    for i in sorted(by_id, key=lambda k: -_depth(over, k)):
        up = over[i]
        if up is None or by_id[up].held:
            continue
        mine, its = by_id[i], by_id[up]
        steps = next_size(its)
        while run_area_m2(its) < run_area_m2(mine) * 0.999 and steps:
            its = changed(its, its.tag, **steps)
            steps = next_size(its)
        by_id[up] = its
    return tuple(by_id[r.id] for r in runs)


def balance_dampers(job: Job, results: Mapping[str, RunResult]) -> Job:
    """The job with every balancing damper at its computed setting; `results` by run."""
    runs = tuple(
        changed(r, damper=round(max(b, 0.02), 2)) if (b := results[r.id].balanced_damper) is not None else r
        for r in job.design.runs
    )
    return with_design(job, runs=runs)
