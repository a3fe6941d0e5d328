"""What refers to what in a job, and what becomes of it when what it refers to is taken away: one table for all."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

OnDelete = Literal["take", "clear", "refuse"]


@dataclass(frozen=True)
class Relation:
    """A field that holds the id of a record of the collection `target`, or with `many` a tuple of them.

    `owner` is the collection of the records with the field, the name of a single part, or '' for the job itself.
    `on_delete` is what becomes of the referring record: taken along, its field cleared, or the deletion refused. A `loose`
    one may point to something else too and is not checked.
    """

    owner: str
    field: str
    target: str
    on_delete: OnDelete
    words: str = ""
    loose: bool = False
    many: bool = False

    def records(self, part: Any) -> tuple[Any, ...]:
        """The records of the house or of a design that have the field."""
        found = getattr(part, self.owner) if self.owner else part
        return found if isinstance(found, tuple) else (found,)

    def ids(self, record: Any) -> tuple[str, ...]:
        """What a record refers to by this field."""
        found = getattr(record, self.field)
        if self.many:
            return tuple(found)
        return () if found is None else (found,)

    def without(self, record: Any, ids: set[str]) -> Any:
        """The field of a record once what it refers to has gone."""
        return tuple(x for x in getattr(record, self.field) if x not in ids) if self.many else None

    def said(self, record: Any) -> str:
        """A reference in the user's words, such as 'G1, glazing'."""
        if not self.owner or key_of(record) is None:
            return self.words
        return f"{name_of(record)}, {self.words or self.field}"


ROLES = ("wall", "partition", "ceiling", "floor", "door", "roof", "raised", "basement", "knee")
OF_A_STOREY = ("rooms", "spaces", "patches", "places", "keep_clear", "underlays", "existing", "runs")
OF_A_ROOM = ("openings", "wall_overrides", "furniture", "existing", "appliances", "registers")
OF_A_UNIT = ("lines", "plenums", "runs", "registers")

RELATIONS: tuple[Relation, ...] = (
    *(Relation("", f"{x}_construction", "constructions", "refuse", f"the common {x}") for x in ROLES),
    *(Relation(x, "storey", "storeys", "take") for x in OF_A_STOREY),
    *(Relation(x, "room", "rooms", "take") for x in OF_A_ROOM),
    Relation("rooms", "floor_construction", "constructions", "clear", "floor"),
    Relation("rooms", "ceiling_construction", "constructions", "clear", "ceiling"),
    Relation("openings", "construction", "constructions", "clear"),
    Relation("wall_overrides", "construction", "constructions", "clear"),
    Relation("openings", "glazing", "glazings", "refuse"),
    Relation("readings", "place", "registers", "take", loose=True),
    Relation("outdoor_units", "system", "systems", "take"),
    Relation("indoor_units", "system", "systems", "take"),
    Relation("indoor_units", "outdoor", "outdoor_units", "clear", "outdoor unit"),
    Relation("indoor_units", "storey", "storeys", "clear"),
    Relation("indoor_units", "rooms", "rooms", "clear", many=True),
    *(Relation(x, "indoor", "indoor_units", "take", "unit") for x in OF_A_UNIT),
    Relation("ventilators", "indoor", "indoor_units", "clear", "unit"),
    Relation("ventilators", "storey", "storeys", "clear"),
    Relation("zones", "rooms", "rooms", "clear", many=True),
    Relation("runs", "zone_damper", "zones", "clear", "zone damper"),
    Relation("runs", "parent", "runs", "take"),
    Relation("runs", "register_id", "registers", "take", "register"),
)


HOUSE, WORKED_ON = 0, 1
"""Places in `parts` of the house and of the design that is worked on."""


def parts(job: Any) -> tuple[Any, ...]:
    """The house, the design that is worked on, and those set aside."""
    return (job, job.design, *job.options)


def part_of(job: Any, collection: str) -> int:
    """Where edits of a collection go: the house, or the design that is worked on."""
    return WORKED_ON if hasattr(job.design, collection) else HOUSE


def broken(job: Any) -> Iterator[str]:
    """Every reference to something that is not in the job, in words."""
    house, *designs = parts(job)
    targets = {r.target for r in RELATIONS}
    known = _ids(house, targets)
    yield from _broken(house, known, "")
    for k, design in enumerate(designs):
        yield from _broken(design, known | _ids(design, targets), f" of {design.name}" if k else "")


def _ids(part: Any, collections: set[str]) -> dict[str, set[str]]:
    return {c: {x.id for x in getattr(part, c)} for c in collections if hasattr(part, c)}


def _broken(part: Any, known: dict[str, set[str]], where: str) -> Iterator[str]:
    for relation in RELATIONS:
        if relation.loose or not (hasattr(part, relation.owner) if relation.owner else hasattr(part, "design")):
            continue
        ids = known[relation.target]
        for record in relation.records(part):
            for wanted in relation.ids(record):
                if wanted not in ids:
                    yield f"{relation.said(record)}{where} refers to '{wanted}', which is not in the job"


def users(job: Any, collection: str, item_id: str, part: int | None = None) -> Iterator[tuple[Relation, int, Any]]:
    """What refers to a record, with the relation by which it does and the place in `parts` where it stands.

    A record of the house may be referred to from every design, one of a design from that design alone, and from the
    readings when it is the one worked on. `part` is where the record stands.
    """
    at = part_of(job, collection) if part is None else part
    for k, owner in enumerate(parts(job)):
        if at not in (HOUSE, k) and not (at == WORKED_ON and k == HOUSE):
            continue
        for relation in RELATIONS:
            if relation.target != collection or not (
                hasattr(owner, relation.owner) if relation.owner else k == HOUSE
            ):
                continue
            for record in relation.records(owner):
                if item_id in relation.ids(record):
                    yield relation, k, record


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
