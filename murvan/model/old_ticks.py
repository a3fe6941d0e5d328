"""Ticks of a run's pieces that an older Murvan wrote by their place on the list, by what they are now."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from math import ceil

from murvan.kinds.fittings import FITTINGS
from murvan.model.design import Design, Tick
from murvan.model.edit import changed
from murvan.model.house import Storey
from murvan.model.job import Job
from murvan.model.routes import LaidRun, laid_runs, path_length_m

LEFT_OVER = 0.05
"""Of a joint: what was left over it had no piece of its own."""


def lifted(job: Job) -> tuple[Job, tuple[str, ...]]:
    """The job with its ticks by the names that pieces have now, and a word on it where there were older ones."""
    if not any(_by_place(t) for d in (job.design, *job.options) for t in d.ticks):
        return job, ()
    design = _named(job.design, job.storeys)
    options = tuple(_named(d, job.storeys) for d in job.options)
    words = "Ducts are cut between their fittings now, so lengths and some pieces on Build have changed; what was ticked is kept."
    return changed(job, "The job", design=design, options=options), (words,)


def _by_place(t: Tick) -> bool:
    return t.at.kind == "run" and t.part.isdigit()


def _named(d: Design, storeys: tuple[Storey, ...]) -> Design:
    parts = {r.id: list(_old_list(r)) for r in laid_runs(d, storeys)}

    def name(t: Tick) -> Tick | None:
        if not _by_place(t):
            return t
        known, k = parts.get(t.at.id, []), int(t.part)
        part = known[k] if k < len(known) else "frame"
        return None if part is None else changed(t, "", part=part)

    return changed(d, "", ticks=tuple({x.id: x for x in map(name, d.ticks) if x is not None}.values()))


def _old_list(run: LaidRun) -> Iterator[str | None]:
    """What stood at each place of a run's list; None: a bend of flex, which is no piece now."""
    kinds = [f.kind for f in run.pieces for _ in range(f.count)]
    seen: Counter[str] = Counter()

    def fitting(kind: str) -> str:
        seen[kind] += 1
        return kind if seen[kind] == 1 else f"{kind}.{seen[kind] - 1}"

    yield from (fitting(k) for k in kinds if FITTINGS[k].first)
    length = run.length_m if run.length_m is not None else path_length_m(run.path_m, run.rise_m)
    joints = 1 if run.made_of.bends else max(0, ceil(length / run.made_of.joint_m - LEFT_OVER) - 1) + 1
    yield from (f"s{k}" for k in range(joints))
    if run.has_damper:
        yield "damper"
    if run.zone_damper:
        yield "zone"
    bent = run.made_of.bends
    yield from (None if bent and k == "bend45" else fitting(k) for k in kinds if FITTINGS[k].at_end)
