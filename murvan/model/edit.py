"""Pure edits: old job in, new job out, sharing all that did not change."""

from __future__ import annotations

from typing import Any, TypeVar, cast

from pydantic import BaseModel, ValidationError

from murvan.model.errors import InUseError, JobValueError
from murvan.model.job import Job
from murvan.model.words import first_problem

M = TypeVar("M", bound=BaseModel)

FOLLOWS = {
    "rooms": (
        ("openings", "room"),
        ("registers", "room"),
        ("wall_overrides", "room"),
        ("furniture", "room"),
        ("existing", "room"),
        ("appliances", "room"),
    ),
    "registers": (("runs", "register_id"),),
    "runs": (("runs", "parent"),),
    "storeys": tuple(
        (c, "storey") for c in ("rooms", "runs", "spaces", "patches", "places", "keep_clear", "underlays", "existing")
    ),
    "zones": (("rooms", "zone"), ("runs", "zone_damper")),
    "constructions": (
        ("openings", "construction"),
        ("wall_overrides", "construction"),
        ("rooms", "floor_construction"),
        ("rooms", "ceiling_construction"),
    ),
    "glazings": (("openings", "glazing"),),
}


def changed(record: M, where: str = "", **changes: Any) -> M:
    """A validated copy of `record` with `changes`.

    Raises:
        JobValueError: a value is refused; the text names `where` and the field.
    """
    raw = {**{k: getattr(record, k) for k in type(record).model_fields}, **changes}
    try:
        return type(record).model_validate(raw)
    except ValidationError as exc:
        raise JobValueError(first_problem(exc, raw, where or _name(record))) from None


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

    Raises:
        InUseError: another record still refers to it and `with_dependents` is off.
    """
    record = next((i for i in getattr(job, collection) if i.id == item_id), None)
    if record is None:
        raise JobValueError(f"There is no '{item_id}' among the {collection}.")
    gone = {(collection, item_id)}
    if not with_dependents:
        for other, key in FOLLOWS.get(collection, ()):
            users = [i for i in getattr(job, other) if getattr(i, key) == item_id]
            if users:
                raise InUseError(f"{_name(record)} is still used by {_name(users[0])}.")
    else:
        _spread(job, gone)
    changes: dict[str, Any] = {}
    for name in {c for c, _ in gone}:
        ids = {i for c, i in gone if c == name}
        changes[name] = tuple(r for r in getattr(job, name) if _key(r) not in ids)
    if with_dependents:
        dead = {i for _, i in gone}
        changes["readings"] = tuple(r for r in job.readings if r.place not in dead)
    return changed(job, job.name, **changes)


def _spread(job: Job, gone: set[tuple[str, str]]) -> None:
    """Grow `gone` by everything that refers to it."""
    todo = list(gone)
    while todo:
        collection, item_id = todo.pop()
        for other, key in FOLLOWS.get(collection, ()):
            for record in getattr(job, other):
                pair = (other, _key(record))
                if getattr(record, key) == item_id and pair not in gone:
                    gone.add(pair)
                    todo.append(pair)


def _key(record: Any) -> str:
    return cast(str, getattr(record, "id", None) or f"{record.room}/{record.wall}")


def _name(record: Any) -> str:
    for key in ("name", "tag", "id"):
        value = getattr(record, key, None)
        if value:
            return str(value)
    return type(record).__name__
