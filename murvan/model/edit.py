"""Pure edits: old job in, new job out, sharing all that did not change."""

from __future__ import annotations

from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from murvan.model.errors import InUseError, JobValueError
from murvan.model.job import Job
from murvan.model.relations import Relation, key_of, name_of, users
from murvan.model.words import first_problem

M = TypeVar("M", bound=BaseModel)


def changed(record: M, where: str = "", **changes: Any) -> M:
    """A validated copy of `record` with `changes`.

    Raises:
        JobValueError: a value is refused; the text names `where` and the field.
    """
    raw = {**{k: getattr(record, k) for k in type(record).model_fields}, **changes}
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


def replace(job: Job, collection: str, item_id: str, **changes: Any) -> Job:
    """The job with one record of `collection` changed. Raises JobValueError."""
    items = getattr(job, collection)
    if all(i.id != item_id for i in items):
        raise JobValueError(f"There is no '{item_id}' among the {collection}.")
    new = tuple(changed(i, **changes) if i.id == item_id else i for i in items)
    return changed(job, job.name, **{collection: new})


def replace_part(job: Job, part: str, **changes: Any) -> Job:
    """The job with a single part (`climate`, `indoor`, `system`, ...) changed. Raises JobValueError."""
    return changed(
        job, job.name, **{part: changed(getattr(job, part), part.replace("_", " ").capitalize(), **changes)}
    )


def insert(job: Job, collection: str, *records: BaseModel) -> Job:
    """The job with records added at the end of `collection`. Raises JobValueError."""
    return changed(job, job.name, **{collection: getattr(job, collection) + records})


def remove(job: Job, collection: str, item_id: str, *, with_dependents: bool = False) -> Job:
    """The job without one record; with `with_dependents`, also without what hangs on it.

    What is taken along, and what only loses its reference, is said in `relations`.

    Raises:
        InUseError: another record still refers to it and `with_dependents` is off, or that one can't do without.
    """
    record = next((i for i in getattr(job, collection) if i.id == item_id), None)
    if record is None:
        raise JobValueError(f"There is no '{item_id}' among the {collection}.")
    gone, todo = {(collection, item_id)}, [(collection, item_id)]
    cleared: set[tuple[str, str | None, str]] = set()
    while todo:
        at = todo.pop()
        for relation, user in users(job, *at):
            key = key_of(user)
            if relation.on_delete == "refuse" or (not with_dependents and not relation.loose):
                raise InUseError(f"{name_of(record)} is still used by {_user(relation, user)}.")
            if relation.on_delete == "clear":
                cleared.add((relation.owner, key, relation.field))
            elif with_dependents and key is not None and (relation.owner, key) not in gone:
                gone.add((relation.owner, key))
                todo.append((relation.owner, key))
    return changed(job, job.name, **_without(job, gone, cleared))


def _user(relation: Relation, user: Any) -> str:
    return name_of(user) if relation.owner and key_of(user) is not None else relation.words


def _without(job: Job, gone: set[tuple[str, str]], cleared: set[tuple[str, str | None, str]]) -> dict[str, Any]:
    """The fields of the job that change when records go and others lose a reference."""
    changes: dict[str, Any] = {}
    for name in {c for c, _ in gone} | {c for c, _, _ in cleared}:
        before = getattr(job, name)
        kept = before if isinstance(before, tuple) else (before,)
        after = []
        for record in kept:
            key = key_of(record)
            if key is not None and (name, key) in gone:
                continue
            fields = {f: None for c, k, f in cleared if (c, k) == (name, key)}
            after.append(changed(record, name_of(record), **fields) if fields else record)
        changes[name] = tuple(after) if isinstance(before, tuple) else after[0]
    return changes
