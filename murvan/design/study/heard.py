"""How loud the outdoor units of a design are where people sleep."""

from __future__ import annotations

from collections.abc import Iterator

from murvan.design.results import Results
from murvan.design.units.siting import Heard, at_bedroom
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


def loudest(job: Job, r: Results) -> Heard | None:
    """The one that is heard most."""
    return max((x for _, x in each(job, r)), key=lambda x: x.sound_dba, default=None)
