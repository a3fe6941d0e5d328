"""How loud the outdoor units of a design are where people sleep."""

from __future__ import annotations

from collections.abc import Iterator
from math import log10

from murvan.design.results import Results
from murvan.design.units.siting import Heard, at_bedroom, at_windows, sound_at
from murvan.model.design import OutdoorUnit
from murvan.model.job import Job


def each(job: Job, r: Results) -> Iterator[tuple[OutdoorUnit, Heard]]:
    """Every outdoor unit that has a place and a unit, at the bedroom window nearest to it."""
    for o in job.design.outdoor_units:
        hung = (s.unit for s in r.systems.values() if s.design.indoor.outdoor == o.id and s.unit is not None)
        unit = next(hung, None)
        if o.position_m is not None and unit is not None:
            heard = at_bedroom(job, o.position_m, unit.sound_dba)
            if heard is not None:
                yield o, heard


def together(job: Job, r: Results) -> Heard | None:
    """All outdoor units at the bedroom window that hears most of them, levels added: L = 10 log of the sum of 10^(L/10); None with
    fewer than two."""
    units = {s.design.indoor.outdoor: s.unit for s in reversed(r.systems.values()) if s.unit is not None}
    placed = [
        (o.position_m, units[o.id].sound_dba)
        for o in job.design.outdoor_units
        if o.position_m is not None and o.id in units
    ]
    if len(placed) < 2:
        return None
    found = []
    for o, room, apart in at_windows(job, [at for at, _ in placed]):
        levels = [sound_at(dba, d) for d, (_, dba) in zip(apart, placed, strict=True)]
        found.append(Heard(o, room, apart[0], 10 * log10(sum(10 ** (x / 10) for x in levels))))
    return max(found, key=lambda x: x.sound_dba, default=None)


def loudest(job: Job, r: Results) -> Heard | None:
    """The one that is heard most."""
    return max((x for _, x in each(job, r)), key=lambda x: x.sound_dba, default=None)
