"""What refers to what in a job, and what becomes of it when what it refers to is taken away: one table for all."""

from __future__ import annotations

from collections.abc import Hashable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal, cast

OnDelete = Literal["take", "clear", "refuse"]


@dataclass(frozen=True)
class Relation:
    """A field that holds the id of a record of the collection `target`, or with `many` a tuple of them.

    `owner` is the collection of the records with the field, the name of a single part, or '' for the job itself.
    `on_delete` is what becomes of the referring record: taken along, its field cleared, or the deletion refused.
    """

    owner: str
    field: str
    target: str
    on_delete: OnDelete
    words: str = ""
    many: bool = False
    kind: str = ""
    """The field holds a `Ref`; the relation is about those of this kind."""
    via: str = ""
    """The field of the target that is named in place of its id: a run goes with the one that ends where it starts."""

    def records(self, part: Any) -> tuple[Any, ...]:
        """The records of the house or of a design that have the field."""
        found = getattr(part, self.owner) if self.owner else part
        return found if isinstance(found, tuple) else (found,)

    def ids(self, record: Any) -> tuple[str, ...]:
        """What a record refers to by this field."""
        found = getattr(record, self.field)
        if self.kind:
            return (found.id,) if found.kind == self.kind else ()
        if self.many:
            return tuple(found)
        return () if found is None else (found,)

    def named(self, part: Any, item_id: str) -> str:
        """How a record of the target is referred to."""
        if not self.via:
            return item_id
        return next((str(getattr(x, self.via)) for x in getattr(part, self.target) if x.id == item_id), item_id)

    def without(self, record: Any, ids: set[str]) -> Any:
        """The field of a record once what it refers to has gone."""
        return tuple(x for x in getattr(record, self.field) if x not in ids) if self.many else None

    def said(self, record: Any) -> str:
        """A reference in the user's words, such as 'G1, glazing'."""
        if not self.owner or key_of(record) is None:
            return self.words
        return f"{name_of(record)}, {self.words or self.field}"


ROLES = ("wall", "partition", "ceiling", "floor", "door", "roof", "raised", "basement", "knee")
OF_A_STOREY = ("rooms", "spaces", "patches", "places", "keep_clear", "obstacles", "underlays", "existing", "runs")
OF_A_ROOM = ("openings", "wall_overrides", "furniture", "existing", "appliances", "registers")
OF_A_UNIT = ("lines", "plenums", "runs", "registers")
MEASURED = {"register": "registers", "indoor_unit": "indoor_units", "room": "rooms", "run": "runs"}
HUNG = {"run": "runs", "register": "registers", "plenum": "plenums", "indoor_unit": "indoor_units", "box": "boxes"}
"""What a reading or a tick may be of: kind of the `Ref`, and where such records stand."""

RELATIONS: tuple[Relation, ...] = (
    *(Relation("", f"{x}_construction", "constructions", "refuse", f"the common {x}") for x in ROLES),
    *(Relation(x, "storey", "storeys", "take") for x in OF_A_STOREY),
    *(Relation(x, "room", "rooms", "take") for x in OF_A_ROOM),
    Relation("rooms", "floor_construction", "constructions", "clear", "floor"),
    Relation("rooms", "ceiling_construction", "constructions", "clear", "ceiling"),
    Relation("openings", "construction", "constructions", "clear"),
    Relation("wall_overrides", "construction", "constructions", "clear"),
    Relation("openings", "glazing", "glazings", "refuse"),
    *(Relation("readings", "at", c, "take", "place", kind=k) for k, c in MEASURED.items()),
    *(Relation("ticks", "at", c, "take", "piece", kind=k) for k, c in HUNG.items()),
    Relation("outdoor_units", "system", "systems", "take"),
    Relation("indoor_units", "system", "systems", "take"),
    Relation("indoor_units", "outdoor", "outdoor_units", "clear", "outdoor unit"),
    Relation("boxes", "outdoor", "outdoor_units", "take", "outdoor unit"),
    Relation("boxes", "storey", "storeys", "clear"),
    Relation("lines", "box", "boxes", "clear"),
    Relation("indoor_units", "storey", "storeys", "clear"),
    Relation("indoor_units", "rooms", "rooms", "clear", many=True),
    *(Relation(x, "indoor", "indoor_units", "take", "unit") for x in OF_A_UNIT),
    Relation("ventilators", "indoor", "indoor_units", "clear", "unit"),
    Relation("ventilators", "storey", "storeys", "clear"),
    Relation("zones", "rooms", "rooms", "clear", many=True),
    Relation("zones", "storey", "storeys", "clear", "thermostat"),
    Relation("runs", "zone_damper", "zones", "clear", "zone damper"),
    Relation("stands", "calling", "zones", "clear", many=True),
    Relation("joints", "storey", "storeys", "take"),
    Relation("runs", "start", "joints", "take"),
    Relation("runs", "end", "joints", "take"),
    Relation("runs", "start", "runs", "take", via="end"),
    Relation("runs", "register_id", "registers", "take", "register"),
)


HOUSE, WORKED_ON = 0, 1
"""Places in `parts` of the house and of the design that is worked on."""


def parts(job: Any) -> tuple[Any, ...]:
    """The house, the design that is worked on, and those set aside."""
    return (job, job.design, *job.options)


def part_of(job: Any, collection: str) -> int:
    """Where edits of a collection go: the house, or the design that is worked on."""
    return WORKED_ON if collection in type(job.design).model_fields else HOUSE


def _kind(part: Any) -> Hashable:
    return cast(Hashable, type(part))


@lru_cache
def of_part(kind: Any) -> tuple[Relation, ...]:
    """The relations whose owners stand in a part of this class."""
    whole = "design" in kind.model_fields
    return tuple(r for r in RELATIONS if (r.owner in kind.model_fields if r.owner else whole))


@lru_cache
def within(kind: Any) -> tuple[tuple[Relation, ...], tuple[Relation, ...]]:
    """Of those that are checked, the ones that point into the same part, and the ones that point out of it."""
    mine = tuple(r for r in of_part(kind) if not r.via)
    inside = tuple(r for r in mine if r.target in kind.model_fields)
    return inside, tuple(r for r in mine if r not in inside)


def broken(part: Any) -> Iterator[str]:
    """Every reference of the house or of a design to something that is not in it, in words."""
    inside, _ = within(_kind(part))
    known = {c: {x.id for x in getattr(part, c)} for c in {r.target for r in inside}}
    yield from _broken(part, inside, known, "")
    for owner, kinds in (("readings", MEASURED), ("ticks", HUNG)):
        for record in getattr(part, owner, ()):
            if record.at.kind not in kinds:
                yield f"{record.id} is of a {record.at.kind}; allowed are {', '.join(kinds)}"


def broken_designs(job: Any) -> Iterator[str]:
    """Every reference of the designs to something that is not in the house, in words."""
    _, out = within(_kind(job.design))
    known = {c: {x.id for x in getattr(job, c)} for c in {r.target for r in out}}
    for k, design in enumerate((job.design, *job.options)):
        yield from _broken(design, out, known, f" of {design.name}" if k else "")


def _broken(part: Any, relations: tuple[Relation, ...], known: dict[str, set[str]], where: str) -> Iterator[str]:
    for relation in relations:
        ids = known[relation.target]
        for record in relation.records(part):
            for wanted in relation.ids(record):
                if wanted not in ids:
                    yield f"{relation.said(record)}{where} refers to '{wanted}', which is not in the job"


def users(job: Any, collection: str, item_id: str, part: int | None = None) -> Iterator[tuple[Relation, int, Any]]:
    """What refers to a record, with the relation by which it does and the place in `parts` where it stands.

    A record of the house may be referred to from every design, one of a design from that design alone. `part` is where
    the record stands.
    """
    at = part_of(job, collection) if part is None else part
    for k, owner in enumerate(parts(job)):
        if at not in (HOUSE, k):
            continue
        for relation in of_part(_kind(owner)):
            if relation.target != collection:
                continue
            wanted = relation.named(owner, item_id)
            for record in relation.records(owner):
                if wanted in relation.ids(record):
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
