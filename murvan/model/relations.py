"""What refers to what in a job, and what becomes of it when what it refers to is taken away: one table for all."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

OnDelete = Literal["take", "clear", "refuse"]


@dataclass(frozen=True)
class Relation:
    """A field that holds the id of a record of the collection `target`.

    `owner` is the collection of the records with the field, the name of a single part of the job, or '' for the job
    itself. `on_delete` is what becomes of the referring record: taken along, its field cleared, or the deletion refused.
    A `loose` one may point to something else too and is not checked.
    """

    owner: str
    field: str
    target: str
    on_delete: OnDelete
    words: str = ""
    loose: bool = False

    def records(self, job: Any) -> tuple[Any, ...]:
        """The records that have the field."""
        found = getattr(job, self.owner) if self.owner else job
        return found if isinstance(found, tuple) else (found,)

    def said(self, record: Any) -> str:
        """A reference in the user's words, such as 'G1, glazing'."""
        if not self.owner or key_of(record) is None:
            return self.words
        return f"{name_of(record)}, {self.words or self.field}"


ROLES = ("wall", "partition", "ceiling", "floor", "door", "roof", "raised", "basement", "knee")
OF_A_STOREY = ("rooms", "runs", "spaces", "patches", "places", "keep_clear", "underlays", "existing")
OF_A_ROOM = ("openings", "registers", "wall_overrides", "furniture", "existing", "appliances")

RELATIONS: tuple[Relation, ...] = (
    *(Relation("", f"{x}_construction", "constructions", "refuse", f"the common {x}") for x in ROLES),
    *(Relation(x, "storey", "storeys", "take") for x in OF_A_STOREY),
    Relation("system", "storey", "storeys", "clear", "the unit's storey"),
    Relation("ventilation", "storey", "storeys", "clear", "the ventilator's storey"),
    *(Relation(x, "room", "rooms", "take") for x in OF_A_ROOM),
    Relation("rooms", "zone", "zones", "clear"),
    Relation("runs", "zone_damper", "zones", "clear", "zone damper"),
    Relation("rooms", "floor_construction", "constructions", "clear", "floor"),
    Relation("rooms", "ceiling_construction", "constructions", "clear", "ceiling"),
    Relation("openings", "construction", "constructions", "clear"),
    Relation("wall_overrides", "construction", "constructions", "clear"),
    Relation("openings", "glazing", "glazings", "refuse"),
    Relation("runs", "parent", "runs", "take"),
    Relation("runs", "register_id", "registers", "take", "register"),
    Relation("readings", "place", "registers", "take", loose=True),
)


def broken(job: Any) -> Iterator[str]:
    """Every reference to something that is not in the job, in words."""
    known = {c: {x.id for x in getattr(job, c)} for c in {r.target for r in RELATIONS}}
    for relation in RELATIONS:
        if relation.loose:
            continue
        field, ids = relation.field, known[relation.target]
        for record in relation.records(job):
            wanted = getattr(record, field)
            if wanted is not None and wanted not in ids:
                yield f"{relation.said(record)} refers to '{wanted}', which is not in the job"


def users(job: Any, collection: str, item_id: str) -> Iterator[tuple[Relation, Any]]:
    """What refers to a record, with the relation by which it does."""
    for relation in RELATIONS:
        if relation.target == collection:
            for record in relation.records(job):
                if getattr(record, relation.field) == item_id:
                    yield relation, record


def key_of(record: Any) -> str | None:
    """What tells a record from the others of its collection; None for a single part of the job."""
    found = getattr(record, "id", None)
    if found is not None:
        return str(found)
    return f"{record.room}/{record.wall}" if hasattr(record, "wall") else None


def name_of(record: Any) -> str:
    """What a user calls a record."""
    for key in ("name", "tag", "id"):
        value = getattr(record, key, None)
        if value:
            return str(value)
    if hasattr(record, "wall"):
        return f"wall {record.wall} of {record.room}"
    return type(record).__name__
