"""Hangers and straps of a run: which kind its size and material want, how far apart, and where they go."""

from __future__ import annotations

from math import ceil, hypot

from murvan.design.ducts.runs import run_length_m
from murvan.kinds.duct_materials import Hanger
from murvan.model.record import Point
from murvan.model.routes import RISER_M, LaidRun


def hanger_of(run: LaidRun) -> Hanger:
    """What holds a run."""
    is_round, rises = run.shape == "round", abs(run.rise_m) >= RISER_M
    return run.made_of.hanging.of(is_round, max(run.width_m or 0.0, run.height_m or 0.0), rises)


def hanger_count(run: LaidRun) -> int:
    """How many hold a run."""
    return max(1, ceil(run_length_m(run) / hanger_of(run).spacing_m - 1e-6))


def places(run: LaidRun) -> tuple[Point, ...]:
    """Where they go on the plan, evenly along the run; all at its end where it only rises."""
    legs = list(zip(run.path_m, run.path_m[1:], strict=False))
    long = [hypot(b[0] - a[0], b[1] - a[1]) for a, b in legs]
    n, whole = hanger_count(run), sum(long)
    if whole <= 0:
        return (run.path_m[-1],) * min(n, 1) if run.path_m else ()
    out = []
    for k in range(n):
        left = (k + 0.5) / n * whole
        for (a, b), length in zip(legs, long, strict=True):
            if left <= length and length > 0:
                t = left / length
                out.append((a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])))
                break
            left -= length
    return tuple(out)
