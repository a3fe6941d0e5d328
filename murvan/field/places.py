"""Where something can be read: registers, units, and the test holes of those with ducts."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.model.design import Hole
from murvan.model.job import IndoorUnit, Job, Ref

HOLES: tuple[tuple[str, Hole, str, str], ...] = (
    ("static-return", "return", "static", "return before the filter"),
    ("static-after-filter", "after_filter", "static", "after the filter"),
    ("static-supply", "supply", "static", "supply plenum"),
    ("temp-return", "return", "temperature", "return"),
    ("temp-supply", "supply", "temperature", "supply"),
)
"""Word in a file, hole, what is read there, name."""


@dataclass(frozen=True)
class Place:
    """A register, a test hole of a unit, or the unit itself."""

    at: Ref
    hole: Hole | None
    quantity: str
    """What is read there unless something else is said."""
    word: str
    """How a file names it."""
    short: str
    """Its name where it is plain of what and at which unit."""
    name: str

    @property
    def key(self) -> tuple[Ref, Hole | None, str]:
        """What tells its readings from those of other places."""
        return (self.at, self.hole, self.quantity)


def register_place(register_id: str, tag: str) -> Place:
    return Place(Ref("register", register_id), None, "flow", register_id, tag, tag)


def holes(job: Job, unit: IndoorUnit) -> tuple[Place, ...]:
    """The test holes of a unit; with several units their words and names say whose they are."""
    first = unit.id == job.design.indoor_units[0].id
    before, of = ("", "") if first else (f"{unit.id}.", f", {unit.tag}")
    at = Ref("indoor_unit", unit.id)
    return tuple(
        Place(at, hole, quantity, before + word, short, f"{quantity.capitalize()}, {short}{of}")
        for word, hole, quantity, short in HOLES
    )


def places(job: Job) -> dict[str, Place]:
    """Every place of the design that is worked on, by its word."""
    design = job.design
    faces = (register_place(x.id, x.tag) for x in design.registers)
    units = (Place(Ref("indoor_unit", x.id), None, "power", x.id, x.tag, x.tag) for x in design.indoor_units)
    ducted = (x for x in design.indoor_units if x.kind == "ducted")
    return {x.word: x for x in (*units, *(p for unit in ducted for p in holes(job, unit)), *faces)}
