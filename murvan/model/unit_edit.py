"""Edits of the units of a design: more of them, the rooms they serve, where they stand and what they hang on."""

from __future__ import annotations

from typing import Literal

from murvan.model.design import Box, Design, IndoorUnit, OutdoorUnit, System
from murvan.model.design_edit import with_line
from murvan.model.edit import changed, free_id, insert, make, remove, replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import Job
from murvan.model.record import Point

IndoorKind = Literal["ducted", "wall", "floor", "ceiling"]
HEAD_WORDS: dict[str, str] = {"ducted": "unit", "wall": "head", "floor": "floor head", "ceiling": "ceiling head"}
"""What a unit of a kind is called after its room."""
OWN = "own"
"""An outdoor unit of its own."""


def served_rooms(job: Job, indoor: IndoorUnit) -> tuple[str, ...]:
    """The rooms of a unit: those named; else, beside other units, those of its registers; else the house. A head serves
    those named alone."""
    wanted = set(indoor.rooms)
    if indoor.kind == "ducted" and not wanted and len(job.design.indoor_units) > 1:
        wanted = {x.room for x in job.design.registers if x.side == "supply" and x.indoor == indoor.id}
    elif indoor.kind == "ducted" and not wanted:
        return tuple(r.id for r in job.rooms)
    return tuple(r.id for r in job.rooms if r.id in wanted)


def add_unit(
    job: Job, kind: IndoorKind, storey: str, at: Point, rooms: tuple[str, ...], name: str = ""
) -> tuple[Job, str]:
    """The job with one more indoor unit and an outdoor unit of its own, and the new id; the rooms become its own.

    Args:
        name: What it is called after; the name of a room.

    Raises:
        JobValueError: another unit would be left without a room.
    """
    d = _named_rooms(job).design
    words = f"{name} {HEAD_WORDS[kind]}" if name else HEAD_WORDS[kind].capitalize()
    tag = _free_tag(d, words)
    system = System(id=free_id("system", {x.id for x in d.systems}), name=tag)
    outdoor = OutdoorUnit(id=free_id("outdoor", {x.id for x in d.outdoor_units}), system=system.id)
    new = make(
        IndoorUnit,
        tag,
        id=free_id("unit", {x.id for x in d.indoor_units}),
        tag=tag,
        system=system.id,
        kind=kind,
        outdoor=outdoor.id,
        storey=storey,
        position_m=at,
    )
    more = with_design(
        job,
        systems=(*d.systems, system),
        outdoor_units=(*d.outdoor_units, outdoor),
        indoor_units=(*d.indoor_units, new),
    )
    return (give_rooms(more, new.id, rooms) if rooms else more), new.id


def give_rooms(job: Job, unit_id: str, rooms: tuple[str, ...]) -> Job:
    """The job with rooms served by one unit and by no other.

    Raises:
        JobValueError: a unit with registers would be left without a room.
    """
    return _shared_out(job, unit_id, rooms)


def release_rooms(job: Job, rooms: tuple[str, ...]) -> Job:
    """The job with rooms that no unit serves. Raises JobValueError as `give_rooms`."""
    if len(job.design.indoor_units) == 1 and not set(served_rooms(job, job.design.indoor_units[0])) - set(rooms):
        raise JobValueError("The only unit serves the whole house; add another, or give this one rooms of its own.")
    return _shared_out(job, "", rooms)


def _shared_out(job: Job, unit_id: str, rooms: tuple[str, ...]) -> Job:
    d = _named_rooms(job).design
    ducted = {x.indoor for x in d.registers if x.side == "supply"}
    units = []
    for unit in d.indoor_units:
        own = tuple(r for r in unit.rooms if r not in rooms)
        if unit.id == unit_id:
            own = tuple(r.id for r in job.rooms if r.id in (*unit.rooms, *rooms))
        elif unit.rooms and not own and unit.id in ducted:
            raise JobValueError(f"{unit.tag} would serve no room at all; take the unit away instead.")
        units.append(changed(unit, rooms=own) if own != unit.rooms else unit)
    return with_design(job, indoor_units=tuple(units))


def _named_rooms(job: Job) -> Job:
    """The job with the rooms of every unit named, so that another unit changes none of them."""
    units = tuple(x if x.rooms else changed(x, rooms=served_rooms(job, x)) for x in job.design.indoor_units)
    return with_design(job, indoor_units=units)


def take_away_unit(job: Job, unit_id: str) -> Job:
    """The job without a unit, its ducts and its line; its rooms are then served by none, or by the last one left.

    Raises:
        JobValueError: it is the only one.
    """
    d = job.design
    if len(d.indoor_units) == 1:
        raise JobValueError(
            f"{d.indoor_units[0].tag} is the only unit; a design has at least one. Pick another instead."
        )
    return _tidied(remove(_named_rooms(job), "indoor_units", unit_id, with_dependents=True))


def set_kind(job: Job, unit_id: str, kind: str) -> Job:
    """The job with a unit of another kind; what was picked for the old kind is picked no longer.

    Raises:
        JobValueError: it has ducts and would hang in a room.
    """
    unit = next(x for x in job.design.indoor_units if x.id == unit_id)
    if kind != "ducted" and unit_id in {x.indoor for x in job.design.runs} | {x.indoor for x in job.design.registers}:
        raise JobValueError(f"{unit.tag} has ducts; take it away and hang a head instead.")
    return replace(job, "indoor_units", unit_id, kind=kind, unit=unit.unit if kind == unit.kind else None)


def hang_on(job: Job, unit_id: str, outdoor_id: str) -> Job:
    """The job with a unit on another outdoor unit, or with `OWN` on one of its own; an empty one goes.

    Raises:
        JobValueError: there is no such outdoor unit.
    """
    d = job.design
    unit = next(x for x in d.indoor_units if x.id == unit_id)
    lines = tuple(changed(x, x.id, box=None) if x.indoor == unit_id else x for x in d.lines)
    if outdoor_id != OWN:
        wanted = next((x for x in d.outdoor_units if x.id == outdoor_id), None)
        if wanted is None:
            raise JobValueError(f"There is no outdoor unit '{outdoor_id}'.")
        moved = changed(unit, outdoor=wanted.id, system=wanted.system, port=None)
        systems, outdoor_units = d.systems, d.outdoor_units
    elif any(x.outdoor == unit.outdoor for x in d.indoor_units if x.id != unit_id) or unit.outdoor is None:
        system = System(id=free_id("system", {x.id for x in d.systems}), name=unit.tag)
        outdoor = OutdoorUnit(id=free_id("outdoor", {x.id for x in d.outdoor_units}), system=system.id)
        moved = changed(unit, outdoor=outdoor.id, system=system.id, port=None)
        systems, outdoor_units = (*d.systems, system), (*d.outdoor_units, outdoor)
    else:
        return job
    units = tuple(moved if x.id == unit_id else x for x in d.indoor_units)
    return _tidied(with_design(job, lines=lines, systems=systems, outdoor_units=outdoor_units, indoor_units=units))


def outdoor_at(job: Job, unit_id: str, at: Point) -> Job:
    """The job with the outdoor unit of a unit at a place; one is made where it has none. Raises JobValueError."""
    unit = next((x for x in job.design.indoor_units if x.id == unit_id), None)
    if unit is None:
        raise JobValueError("Take a unit in hand first.")
    if unit.outdoor is None:
        job = hang_on(job, unit_id, OWN)
        unit = next(x for x in job.design.indoor_units if x.id == unit_id)
    return replace(job, "outdoor_units", str(unit.outdoor), position_m=at)


def with_box(job: Job, outdoor_id: str, kind: Literal["branch_box", "header"], ports: int) -> Job:
    """The job with a box that shares the line of an outdoor unit out; its units' lines then come from it."""
    d = job.design
    hung = [x for x in d.indoor_units if x.outdoor == outdoor_id]
    first = hung[0]
    box = Box(
        id=free_id("box", {b.id for b in d.boxes}),
        outdoor=outdoor_id,
        kind=kind,
        ports=ports,
        storey=first.storey,
        position_m=first.position_m,
        height_m=BOX_M,
    )
    job = insert(job, "boxes", box)
    for unit in hung:
        job = with_line(job, unit.id, box=box.id)
    return job


BOX_M = 2.6
"""Height of a box over the floor until it is placed: above the ceiling; Murvan default."""


def _tidied(job: Job) -> Job:
    """Without outdoor units and systems that nothing hangs on."""
    d = job.design
    hung = {x.outdoor for x in d.indoor_units}
    outdoor = tuple(x for x in d.outdoor_units if x.id in hung)
    boxes = tuple(b for b in d.boxes if b.outdoor in hung)
    kept = {b.id for b in boxes}
    ticks = tuple(t for t in d.ticks if t.at.kind != "box" or t.at.id in kept)
    systems = {x.system for x in d.indoor_units} | {x.system for x in outdoor}
    return with_design(
        job, outdoor_units=outdoor, boxes=boxes, ticks=ticks, systems=tuple(s for s in d.systems if s.id in systems)
    )


def _free_tag(design: Design, tag: str) -> str:
    tags, k, stem = {x.tag for x in design.indoor_units}, 2, tag[:54]
    tag = stem
    while tag in tags:
        tag, k = f"{stem} {k}", k + 1
    return tag
