"""Choosing a unit of the catalogue for a place in the design."""

from __future__ import annotations

from murvan.catalog import known_units, readable_own_units
from murvan.catalog import units as shipped
from murvan.model.edit import insert, replace
from murvan.model.job import Job


def pick_unit(job: Job, indoor_id: str, unit: str) -> Job:
    """Choose a unit of the catalogue; air and tap go back to what it is rated for."""
    own = next(x for x in job.design.indoor_units if x.id == indoor_id)
    weighed = next(x for x in job.design.systems if x.id == own.system).candidates
    if weighed and unit not in weighed:
        job = replace(job, "systems", own.system, candidates=(*weighed, unit))
    chosen = known_units(job.units, readable_own_units())[unit]
    if chosen.id not in {*shipped(), *(x.id for x in job.units)}:
        job = insert(job, "units", chosen)  # the job carries what is not on every machine
    tap = min(own.tap, len(chosen.blower.taps_m3_s))
    return replace(job, "indoor_units", indoor_id, unit=unit, flow_m3_s=None, tap=tap)
