"""What laying the ducts of a unit anew replaces, in words, before it is done."""

from __future__ import annotations

from murvan.design.study.balancing import unconnected
from murvan.design.zones.plans import damper_places
from murvan.model.job import Job

MOST = 6
"""Names that are listed; the rest is counted."""


def replaced_by_laying(job: Job, unit_id: str) -> tuple[str, ...]:
    """One sentence for each kind of thing that goes or changes; nothing where the unit has no ducts yet.

    Args:
        unit_id: The ducted unit whose ducts are laid.
    """
    d = job.design
    runs = [r for r in d.runs if r.indoor == unit_id]
    if not runs:
        return ()
    unit = next(x for x in d.indoor_units if x.id == unit_id)
    out = [f"{_count(len(runs), 'run')} of {unit.tag}, with levels, corners and dampers"]
    ids = {r.id for r in runs}
    held = [r.tag for r in runs if r.held]
    if held:
        out.append(f"{_count(len(held), 'size')} held by hand: {_names(held)}")
    typed = [r.tag for r in runs if r.length_m is not None or r.fittings is not None]
    if typed:
        out.append(f"{_count(len(typed), 'typed length or fitting', 'typed lengths or fittings')}: {_names(typed)}")
    plenums = [p for p in d.plenums if p.indoor == unit_id]
    if plenums:
        out.append(f"{_count(len(plenums), 'plenum')}, with the sides and take-offs set by hand")
    dampers = [r.tag for r in runs if r.zone_damper]
    if dampers:
        out.append(
            f"{_count(len(dampers), 'zone damper')} ({_names(dampers)}): laid again where each zone's air goes alone"
        )
    elif d.zones and damper_places(job, tuple((z.id, z.rooms) for z in d.zones))[0]:
        out.append(f"{_count(len(d.zones), 'zone')} without a damper: each gets one where its air goes alone")
    hung = [t for t in d.ticks if (t.at.kind == "run" and t.at.id in ids) or t.at.kind == "plenum"]
    if hung:
        out.append(f"{_count(len(hung), 'piece')} ticked as hung")
    now = [x for x in d.readings if x.layout == d.layout]
    if now:
        out.append(f"{_count(len(now), 'reading')}: kept as history of the ducts they were taken of")
    bare = [x.tag.split()[0] for x in unconnected(job) if x.indoor == unit_id]
    if bare:
        out.append(f"{_count(len(bare), 'register')} without a run get one: {_names(bare)}")
    return tuple(out)


def _count(n: int, one: str, many: str = "") -> str:
    return f"{n} {one if n == 1 else many or one + 's'}"


def _names(tags: list[str]) -> str:
    more = f" and {len(tags) - MOST} more" if len(tags) > MOST else ""
    return ", ".join(tags[:MOST]) + more
