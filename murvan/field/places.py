"""Where something can be read: registers, units, and the test holes of those with ducts."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.kinds.readings import POINTS, QUANTITIES
from murvan.model.job import IndoorUnit, Job, Ref


@dataclass(frozen=True)
class Place:
    """A register, a test hole of a unit, or the unit itself."""

    at: Ref
    hole: str | None
    quantity: str
    """What is read there unless something else is said."""
    word: str
    """How a file names it."""
    short: str
    """Its name where it is plain of what and at which unit."""
    name: str

    @property
    def key(self) -> tuple[Ref, str | None, str]:
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
        Place(at, x.hole, x.quantity, before + x.id, x.name, f"{QUANTITIES[x.quantity].name}, {x.name}{of}")
        for x in POINTS.values()
    )


def places(job: Job) -> dict[str, Place]:
    """Every place of the design that is worked on, by its word."""
    design = job.design
    faces = (register_place(x.id, x.tag) for x in design.registers)
    units = (Place(Ref("indoor_unit", x.id), None, "power", x.id, x.tag, x.tag) for x in design.indoor_units)
    ducted = (x for x in design.indoor_units if x.kind == "ducted")
    return {x.word: x for x in (*units, *(p for unit in ducted for p in holes(job, unit)), *faces)}
