"""Choosing a unit of the catalogue for a place in the design."""

from __future__ import annotations

from murvan.catalog import known_multis, known_units, multi_units, readable_own_multis, readable_own_units
from murvan.catalog import units as shipped
from murvan.model.edit import changed, insert, replace
from murvan.model.equipment import Unit
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


def pick_outdoor(job: Job, outdoor_id: str, unit: str | None) -> Job:
    """The job with an outdoor unit of the catalogue that several units hang on; None for one that comes with its unit."""
    if unit is not None and unit not in {*multi_units(), *(x.id for x in job.multi_units)}:
        # the job carries what is not on every machine
        job = insert(job, "multi_units", known_multis(job.multi_units, readable_own_multis())[unit])
    return replace(job, "outdoor_units", outdoor_id, unit=unit)


def weigh_own(job: Job, system_id: str, own: Unit) -> Job:
    """Put a unit of the user's own, or its edited form, among those that a job carries and a system weighs."""
    if any(x.id == own.id for x in job.units):
        units = tuple(own if x.id == own.id else x for x in job.units)
        job = changed(job, units=units)
    weighed = next(x for x in job.design.systems if x.id == system_id).candidates
    if len(weighed) > 1 and own.id not in weighed:
        job = replace(job, "systems", system_id, candidates=(*weighed, own.id))
        job = job if any(x.id == own.id for x in job.units) else insert(job, "units", own)
    return job
