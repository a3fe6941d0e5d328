"""Pure edits: old job in, new job out, sharing all that did not change."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from murvan.model.design import Design
from murvan.model.errors import InUseError, JobValueError
from murvan.model.job import Job
from murvan.model.relations import HOUSE, WORKED_ON, Relation, key_of, name_of, part_of, parts, users
from murvan.model.words import first_problem

M = TypeVar("M", bound=BaseModel)


def changed(record: M, where: str = "", **changes: Any) -> M:
    """A validated copy of `record` with `changes`.

    Raises:
        JobValueError: a value is refused; the text names `where` and the field.
    """
    raw = {**record.__dict__, **changes}
    try:
        return type(record).model_validate(raw)
    except ValidationError as exc:
        raise JobValueError(first_problem(exc, raw, where or name_of(record))) from None


def make(kind: type[M], where: str, /, **fields: Any) -> M:
    """A new record. Raises JobValueError; the text names `where` and the field."""
    try:
        return kind.model_validate(fields)
    except ValidationError as exc:
        raise JobValueError(first_problem(exc, fields, where)) from None


def with_design(job: Job, **changes: Any) -> Job:
    """The job with fields of the design that is worked on changed. Raises JobValueError."""
    return changed(job, job.name, design=changed(job.design, job.design.name, **changes))


def id_of(words: str) -> str:
    """Words as an id: what an id may not hold becomes a dash."""
    return re.sub(r"[^A-Za-z0-9_.-]+", "-", words)[:48] or "-"


def free_id(stem: str, taken: set[str], first: int = 1) -> str:
    """'line1', 'line2', the first from `first` on that is free."""
    k = first
    while f"{stem}{k}" in taken:
        k += 1
    return f"{stem}{k}"


def in_designs(job: Job, edit: Callable[[Design], Design]) -> dict[str, Any]:
    """The fields of a job when every design, also those set aside, is edited: for `changed`."""
    return {"design": edit(job.design), "options": tuple(edit(x) for x in job.options)}


def _with(job: Job, name: str, value: Any) -> Job:
    return with_design(job, **{name: value}) if part_of(job, name) else changed(job, job.name, **{name: value})


def part_named(job: Job, name: str) -> Any:
    """A collection or single part of the house or the design worked on."""
    return getattr(parts(job)[part_of(job, name)], name)


def replace(job: Job, collection: str, item_id: str, **changes: Any) -> Job:
    """The job with one record of `collection` changed, of the house or the design worked on. Raises JobValueError."""
    items = part_named(job, collection)
    if all(i.id != item_id for i in items):
        raise JobValueError(f"There is no '{item_id}' among the {collection.replace('_', ' ')}.")
    return _with(job, collection, tuple(changed(i, **changes) if i.id == item_id else i for i in items))


@dataclass(frozen=True)
class Change:
    """An edit of one record, which knows what it changes: many of them are one edit."""

    collection: str
    item: str
    fields: tuple[tuple[str, Any], ...]

    def __call__(self, job: Job) -> Job:
        return replace(job, self.collection, self.item, **dict(self.fields))


def all_changed(job: Job, changes: Iterable[Change]) -> Job:
    """The job with all of some changes; the last one of a field counts. Raises JobValueError like `replace`."""
    wanted: dict[str, dict[str, dict[str, Any]]] = {}
    for x in changes:
        wanted.setdefault(x.collection, {}).setdefault(x.item, {}).update(x.fields)
    for collection, by_id in wanted.items():
        items = tuple(changed(i, **by_id[i.id]) if i.id in by_id else i for i in part_named(job, collection))
        job = _with(job, collection, items)
    return job


def replace_part(job: Job, part: str, **changes: Any) -> Job:
    """The job with a single part (`climate`, `indoor`, `air`, ...) changed. Raises JobValueError."""
    return _with(job, part, changed(part_named(job, part), part.replace("_", " ").capitalize(), **changes))


def insert(job: Job, collection: str, *records: BaseModel) -> Job:
    """The job with records added at the end of `collection`. Raises JobValueError."""
    return _with(job, collection, part_named(job, collection) + records)


def remove(job: Job, collection: str, item_id: str, *, with_dependents: bool = False) -> Job:
    """The job without one record; with `with_dependents`, also without what hangs on it.

    What is taken along, and what only loses its reference, is said in `relations`. What is of the house goes from every
    design, also from those set aside.

    Raises:
        InUseError: another record still refers to it and `with_dependents` is off, or that one can't do without.
    """
    record = next((i for i in part_named(job, collection) if i.id == item_id), None)
    if record is None:
        raise JobValueError(f"There is no '{item_id}' among the {collection.replace('_', ' ')}.")
    first = (part_of(job, collection), collection, item_id)
    gone, todo = {first}, [first]
    cleared: dict[tuple[int, str, str | None], dict[Relation, set[str]]] = {}
    while todo:
        part, name, item = todo.pop()
        for relation, at, user in users(job, name, item, part):
            key = key_of(user)
            if relation.on_delete == "refuse" or not with_dependents:
                raise InUseError(f"{name_of(record)} is still used by {_user(job, relation, at, user)}.")
            if relation.on_delete == "clear":
                cleared.setdefault((at, relation.owner, key), {}).setdefault(relation, set()).add(item)
            elif with_dependents and key is not None and (at, relation.owner, key) not in gone:
                gone.add((at, relation.owner, key))
                todo.append((at, relation.owner, key))
    return _without(job, gone, cleared)


def _user(job: Job, relation: Relation, part: int, user: Any) -> str:
    if not relation.owner or key_of(user) is None:
        return relation.words
    aside = f" in {parts(job)[part].name}, set aside" if part > WORKED_ON else ""
    return f"{name_of(user)}{aside}"


def _without(
    job: Job, gone: set[tuple[int, str, str]], cleared: dict[tuple[int, str, str | None], dict[Relation, set[str]]]
) -> Job:
    """The job once records have gone and others have lost a reference."""
    every = list(parts(job))
    for k, part in enumerate(every):
        names = {c for at, c, _ in gone if at == k} | {c for at, c, _ in cleared if at == k}
        changes = {}
        for name in names:
            before = getattr(part, name)
            after = []
            for record in before if isinstance(before, tuple) else (before,):
                key = key_of(record)
                if key is not None and (k, name, key) in gone:
                    continue
                lost = cleared.get((k, name, key), {})
                fields = {r.field: r.without(record, ids) for r, ids in lost.items()}
                after.append(changed(record, name_of(record), **fields) if fields else record)
            changes[name] = tuple(after) if isinstance(before, tuple) else after[0]
        if k == HOUSE:
            house = changes
        elif changes:
            every[k] = changed(part, part.name, **changes)
    return changed(job, job.name, **house, design=every[WORKED_ON], options=tuple(every[WORKED_ON + 1 :]))
