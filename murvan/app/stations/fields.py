"""Fields of the cards: what is declared of a record or a part of the job, with its value and its edit."""

from __future__ import annotations

import dataclasses
from typing import Any

from murvan.app.stations.base import Field_, View
from murvan.app.stations.field_edits import Edit, set_part, set_whole_job
from murvan.app.stations.field_table import PARTS, RECORDS, SUBS, WHOLE, Declared
from murvan.design.loads import people_said
from murvan.model import Job, Room, replace
from murvan.model.edit import changed, part_named
from murvan.model.relations import name_of


def _field(d: Declared, key: str, holder: Any, name: str, put: Edit, undo: str, instead: dict[str, Any]) -> Field_:
    made = Field_(key, d.label, d.kind, d.value(holder, name), put, undo, d.options, d.width, d.optional)
    return dataclasses.replace(made, **instead)


def of(collection: str, record: Any, name: str, **instead: Any) -> Field_:
    """A field of a record as a card shows it; `instead` holds what this card says otherwise."""
    d = RECORDS[collection][name]
    put, undo = d.put(collection, record.id, name), d.undo.format(name_of(record))[:80]
    return _field(d, f"{record.id}.{d.key}", record, name, put, undo, instead)


def people_field(view: View, room: Room) -> Field_:
    """People in a room: as said, or how many there are by default while nobody has said it of any room."""
    field = of("rooms", room, "people")
    if people_said(view.job):
        return field
    i = next(k for k, r in enumerate(view.job.rooms) if r.id == room.id)
    return dataclasses.replace(field, label="People, default", value=float(view.r.gains.people[i].max()))


def of_many(collection: str, record: Any, name: str, ids: tuple[str, ...], **instead: Any) -> Field_:
    """A field of a record that is set on several of its kind at once."""
    d = RECORDS[collection][name]
    one = of(collection, record, name, **instead)
    if len(ids) == 1 and ids[0] == record.id:
        return one

    def put(job: Job, value: float | str) -> Job:
        for item in ids:
            job = d.put(collection, item, name)(job, value)
        return job

    return dataclasses.replace(one, apply=put, name=f"{d.undo.format(f'{len(ids)} runs')}"[:80])


def of_part(job: Job, part: str, name: str, **instead: Any) -> Field_:
    """A field of a single part of the job, such as the climate."""
    d = PARTS[part][name]
    return _field(d, d.key, part_named(job, part), name, d.edit or set_part(part, name), d.undo, instead)


def of_job(job: Job, name: str, **instead: Any) -> Field_:
    """A field of the job itself."""
    d = WHOLE[name]
    return _field(d, d.key, job, name, d.edit or set_whole_job(name), d.undo, instead)


def of_sub(collection: str, record: Any, part: str, name: str, usual: Any = None, **instead: Any) -> Field_:
    """A field of a part of a record, such as a unit's filter; `usual` stands in for a part that is not there yet."""
    d = SUBS[collection, part][name]

    def edit(job: Job, value: float | str) -> Job:
        own = next(x for x in part_named(job, collection) if x.id == record.id)
        now = getattr(own, part) or usual
        return replace(job, collection, record.id, **{part: changed(now, name_of(own), **{name: value})})

    undo = d.undo.format(name_of(record))[:80]
    return _field(d, f"{record.id}.{d.key}", getattr(record, part) or usual, name, edit, undo, instead)
