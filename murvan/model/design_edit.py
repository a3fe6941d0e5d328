"""Edits of designs: zones, ventilators, lines, and whole designs set aside and taken up."""

from __future__ import annotations

import re
from typing import Any, TypeVar

from murvan.model.design import Design, RefrigerantLine, Ventilator
from murvan.model.edit import changed, free_id, insert, make, replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import Job

T = TypeVar("T", RefrigerantLine, Ventilator)


def zone_of(design: Design, room_id: str) -> str | None:
    """The zone a room is in."""
    return next((z.id for z in design.zones if room_id in z.rooms), None)


def put_in_zone(job: Job, room_ids: tuple[str, ...], zone_id: str | None) -> Job:
    """The job with rooms in another zone of the design worked on, or in none. Raises JobValueError."""
    if zone_id is not None and all(z.id != zone_id for z in job.design.zones):
        raise JobValueError(f"There is no zone '{zone_id}'.")
    zones = []
    for z in job.design.zones:
        rooms = tuple(x for x in z.rooms if x not in room_ids)
        zones.append(changed(z, z.name, rooms=(*rooms, *room_ids) if z.id == zone_id else rooms))
    return with_design(job, zones=tuple(zones))


def with_ventilator(job: Job, **fields: Any) -> Job:
    """The job with its first ventilator changed, or with one. Raises JobValueError."""
    if job.design.ventilators:
        return replace(job, "ventilators", job.design.ventilators[0].id, **fields)
    return insert(job, "ventilators", make(Ventilator, "Ventilator", id="ventilator1", **fields))


def with_line(job: Job, indoor_id: str, **fields: Any) -> Job:
    """The job with the refrigerant line of a unit changed, or with one. Raises JobValueError."""
    own = next((x for x in job.design.lines if x.indoor == indoor_id), None)
    if own is not None:
        return replace(job, "lines", own.id, **fields)
    new = free_id("line", {x.id for x in job.design.lines})
    return insert(job, "lines", make(RefrigerantLine, "RefrigerantLine", id=new, indoor=indoor_id, **fields))


def free_name(job: Job, name: str) -> str:
    """'Design 2', the first that no design has."""
    names = {x.name for x in (job.design, *job.options)}
    stem, k = re.sub(r" \d+$", "", name)[:190], 2
    while f"{stem} {k}" in names:
        k += 1
    return f"{stem} {k}"


# ---- whole designs --------------------------------------------------------------------------------------------


def set_aside(job: Job, name: str) -> Job:
    """A copy of the design worked on is kept under a name; work goes on where it was. Raises JobValueError."""
    kept = changed(job.design, name, id=_free_design(job), name=name)
    return changed(job, job.name, options=(*job.options, kept))


def take_up(job: Job, option_id: str) -> Job:
    """An option is worked on; what was worked on takes its place among the options. Raises JobValueError."""
    wanted = _option(job, option_id)
    options = tuple(job.design if x is wanted else x for x in job.options)
    return changed(job, job.name, design=wanted, options=options)


def duplicate_option(job: Job, option_id: str, name: str) -> Job:
    """Another option like this one. Raises JobValueError."""
    twin = changed(_option(job, option_id), name, id=_free_design(job), name=name)
    return changed(job, job.name, options=(*job.options, twin))


def delete_option(job: Job, option_id: str) -> Job:
    """The job without an option. Raises JobValueError."""
    gone = _option(job, option_id)
    return changed(job, job.name, options=tuple(x for x in job.options if x is not gone))


def rename_option(job: Job, option_id: str, **fields: Any) -> Job:
    """An option, or the design worked on, with another name or note. Raises JobValueError."""
    if option_id == job.design.id:
        return with_design(job, **fields)
    options = tuple(changed(x, x.name, **fields) if x.id == option_id else x for x in job.options)
    return changed(job, job.name, options=options)


def _option(job: Job, option_id: str) -> Design:
    found = next((x for x in job.options if x.id == option_id), None)
    if found is None:
        raise JobValueError(f"There is no option '{option_id}'.")
    return found


def _free_design(job: Job) -> str:
    return free_id("design", {job.design.id, *(x.id for x in job.options)})
