"""Where something can be read: registers, units, the test holes of those with ducts, the air of heads."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from murvan.kinds.readings import HOLES, POINTS, QUANTITIES
from murvan.model.job import AS_FOUND, DuctRun, HouseState, IndoorUnit, Job, Reading, Ref, Room

Proves = Literal["air", "capacity", "charge", "combustion", "lines"]
Key = tuple[Ref, str | None, str, HouseState]
"""What tells readings of one place, in one state of the house, from all others."""


BESIDES: tuple[Proves, ...] = ("charge", "combustion", "lines")
BY_HEAT = ("temperature", "wet_bulb", "line_pressure")


@dataclass(frozen=True)
class Place:
    """A register, a test hole of a unit, the unit itself, or a room, in one state of the house."""

    at: Ref
    hole: str | None
    quantity: str
    """What is read there unless something else is said."""
    word: str
    """How a file names it."""
    short: str
    """Its name where it is plain of what and at which unit."""
    name: str

    state: HouseState = AS_FOUND

    @property
    def key(self) -> Key:
        return _key(self.at, self.hole, self.quantity, self.state)


def key_of(reading: Reading) -> Key:
    """The key of the place that was read."""
    return _key(reading.at, reading.hole, reading.quantity, reading.state)


def _key(at: Ref, hole: str | None, quantity: str, state: HouseState) -> Key:
    """What units do, and the weather, tell apart what goes by heat; all else only goes by how air moves."""
    return at, hole, quantity, state if quantity in BY_HEAT else state.of_air


def standing(place: Place, state: HouseState, job: Job) -> Place:
    """A place while the house stands otherwise."""
    if state == AS_FOUND:
        return place
    words = state_words(job, state.of_air)
    return replace(place, state=state, name=f"{place.name}, {words}" if words else place.name)


def state_words(job: Job, state: HouseState) -> str:
    """'doors shut, filter out, Upper alone, cooling'; '' as found."""
    tags = {z.id: z.name for z in job.design.zones}
    calling = " and ".join(tags.get(z, z) for z in state.calling)
    parts = (
        "doors shut" if state.doors == "shut" else "",
        "filter out" if state.filter == "out" else "",
        f"{calling} alone" if calling else "",
        state.mode if state.mode != "fan" else "blower alone",
    )
    return ", ".join(x for x in parts if x)


def register_place(register_id: str, tag: str) -> Place:
    return Place(Ref("register", register_id), None, "flow", register_id, tag, tag)


def power_place(unit: IndoorUnit) -> Place:
    """Where the power of a unit is read."""
    return Place(Ref("indoor_unit", unit.id), None, "power", unit.id, "power", f"Power, {unit.tag}")


def duct_holes(job: Job, run: DuctRun) -> Iterator[Place]:
    """Holes in a duct that ends in a register: what is read there tells damper, duct and boot apart."""
    face = next((x for x in job.design.registers if x.id == run.register_id), None)
    if face is None or run.side != "supply":
        return
    for hole in (x for x in HOLES.values() if x.of == "register"):
        if hole.id != "damper" or run.damper is not None:
            word = f"{face.id}.{hole.id}"
            name = f"Static in {run.tag}, {hole.name}"
            yield Place(Ref("register", face.id), hole.id, "static", word, f"{run.tag} {hole.short}", name)


def holes(job: Job, unit: IndoorUnit, proves: Proves = "air") -> tuple[Place, ...]:
    """The test holes of a unit; with several units their words and names say whose they are."""
    first = unit.id == job.design.indoor_units[0].id
    before, of = ("", "") if first else (f"{unit.id}.", f", {unit.tag}")
    at = Ref("indoor_unit", unit.id)
    return tuple(
        Place(at, x.hole, x.quantity, before + x.id, x.name, f"{QUANTITIES[x.quantity].name}, {x.name}{of}")
        for x in POINTS.values()
        if x.proves == proves
    )


def run_place(run: DuctRun) -> Place:
    """The air of a duct by a traverse of its section."""
    return Place(Ref("run", run.id), None, "flow", f"{run.id}.traverse", run.tag, f"Traverse of {run.tag}")


def room_place(room: Room) -> Place:
    """The pressure of a room over what lies beyond its door, doors shut."""
    at = Ref("room", room.id)
    return Place(at, None, "static", f"{room.id}.pressure", room.name, f"Pressure of {room.name} over the hall")


def proof_places(job: Job, unit: IndoorUnit) -> tuple[Place, ...]:
    """Where capacity, charge, combustion and lines of a unit are read, besides its air."""
    wet = holes(job, unit, "capacity") if unit.kind == "ducted" else ()
    return (*wet, *(p for which in BESIDES for p in holes(job, unit, which)))


def head_holes(job: Job, unit: IndoorUnit) -> tuple[Place, ...]:
    """Where the air of a head is read: what it draws in and what it blows out."""
    return tuple(x for x in holes(job, unit) if x.quantity == "temperature")


def places(job: Job) -> dict[str, Place]:
    """Every place of the design that is worked on, by its word."""
    design = job.design
    faces = (register_place(x.id, x.tag) for x in design.registers)
    units = (power_place(x) for x in design.indoor_units)
    drilled = (p for x in design.indoor_units for p in (holes if x.kind == "ducted" else head_holes)(job, x))
    in_ducts = (p for x in design.runs for p in duct_holes(job, x))
    rooms = (room_place(x) for x in job.rooms)
    sections = (run_place(x) for x in design.runs)
    proofs = (p for x in design.indoor_units for p in proof_places(job, x))
    return {x.word: x for x in (*units, *drilled, *faces, *in_ducts, *rooms, *sections, *proofs)}
