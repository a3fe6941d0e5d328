"""Ways to serve a house: which rooms hang on which unit, of which kind. No capacities yet."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Literal

from murvan.design.system.network import room_beyond
from murvan.model.job import Job, Room

SchemeKind = Literal["ducted", "furnace", "storeys", "heads", "mixed"]
LIVED_IN = ("living", "dining", "kitchen", "bedroom", "study", "other")
"""Uses of rooms that are to have heat and cold of their own."""
FUELS = ("gas", "propane", "oil")
LEAST_SLEEPING = 2
REMEDIES = {
    "bath": "electric heat of its own",
    "powder": "electric heat of its own",
    "bedroom": "a head of its own, or a slim ducted unit with its neighbours",
    "hall": "through the doors that stand open; a transfer fan where they are shut",
    "landing": "through the doors that stand open; a transfer fan where they are shut",
    "utility": "the present heat left as it is, or electric heat",
}
REMEDY_ELSE = "a transfer fan from the room beside it, or electric heat"


@dataclass(frozen=True)
class Place:
    """One indoor unit to be chosen: what the design calls it, its kind, the kinds of the catalogue, its rooms."""

    tag: str
    kind: Literal["ducted", "wall"]
    of: tuple[str, ...]
    rooms: tuple[str, ...]
    role: str
    fuel: str | None = None


@dataclass(frozen=True)
class Scheme:
    """One way to serve the house."""

    kind: SchemeKind
    name: str
    places: tuple[Place, ...]
    remedies: dict[str, str] = field(default_factory=dict)
    """Rooms that no unit serves, and what to do about each."""


def schemes(job: Job) -> tuple[Scheme, ...]:
    """The ways that this house allows, none of them twice."""
    return tuple(_schemes(job))


def _schemes(job: Job) -> Iterator[Scheme]:
    every = tuple(r.id for r in job.rooms)
    if not every:
        return
    yield Scheme("ducted", "One ducted heat pump", (Place("Unit", "ducted", ("heat_pump",), every, "whole house"),))
    fuel = fuel_here(job)
    if fuel is not None:
        place = Place("Furnace", "ducted", ("furnace_coil",), every, "whole house", fuel)
        yield Scheme("furnace", f"{fuel.capitalize()} furnace with coil", (place,))
    storeys = [s for s in job.storeys if any(r.storey == s.id for r in job.rooms)]
    if len(storeys) > 1:
        places = tuple(
            Place(
                s.name,
                "ducted",
                ("heat_pump", "slim_ducted"),
                tuple(r.id for r in job.rooms if r.storey == s.id),
                s.name,
            )
            for s in storeys
        )
        yield Scheme("storeys", "A ducted system each storey", places)
    groups = open_groups(job)
    lived = [g for g in groups if any(r.use in LIVED_IN for r in g)]
    heads = tuple(_head(g) for g in lived)
    if heads:
        yield Scheme("heads", "Heads by room", heads, _unserved(job, heads))
    mixed = _mixed(job, lived)
    if mixed is not None:
        yield mixed


def fuel_here(job: Job) -> str | None:
    """The fuel that is burnt in the house today, by what was typed or noted in the survey."""
    noted = [job.energy.present, *(x.fuel for x in job.existing)]
    return next((f for f in noted if f in FUELS), None)


def open_groups(job: Job) -> tuple[tuple[Room, ...], ...]:
    """Rooms that archways join, each with those it is open to; the others alone. In the order of the plan."""
    rooms = {r.id: r for r in job.rooms}
    group = {r.id: r.id for r in job.rooms}
    for o in job.openings:
        if o.kind != "archway" or o.room not in rooms:
            continue
        beyond = room_beyond(o, rooms[o.room], job)
        if beyond is not None:
            old, new = group[beyond], group[o.room]
            group = {k: new if v == old else v for k, v in group.items()}
    return tuple(
        tuple(r for r in job.rooms if group[r.id] == first) for first in dict.fromkeys(group[r.id] for r in job.rooms)
    )


def _head(rooms: tuple[Room, ...]) -> Place:
    name = next((r.name for r in rooms if r.use in LIVED_IN), rooms[0].name)
    return Place(f"{name} head"[:60], "wall", ("wall",), tuple(r.id for r in rooms), name)


def _unserved(job: Job, places: tuple[Place, ...]) -> dict[str, str]:
    served = {r for p in places for r in p.rooms}
    return {r.id: REMEDIES.get(r.use, REMEDY_ELSE) for r in job.rooms if r.id not in served}


def _mixed(job: Job, lived: list[tuple[Room, ...]]) -> Scheme | None:
    """Bedrooms with their baths and halls on a slim ducted unit a storey, heads in the other rooms lived in."""
    places: list[Place] = []
    taken: set[str] = set()
    for storey in job.storeys:
        own = [r for r in job.rooms if r.storey == storey.id]
        if sum(r.use == "bedroom" for r in own) >= LEAST_SLEEPING:
            rooms = tuple(r.id for r in own if r.use in ("bedroom", "bath", "powder", "hall", "landing"))
            taken |= set(rooms)
            places.append(Place(f"{storey.name} bedrooms"[:60], "ducted", ("slim_ducted",), rooms, "bedrooms"))
    if not places:
        return None
    rest = [tuple(r for r in g if r.id not in taken) for g in lived]
    places += [_head(g) for g in rest if any(r.use in LIVED_IN for r in g)]
    if all(p.kind == "ducted" for p in places):
        return None
    return Scheme("mixed", "Slim ducted bedrooms, heads elsewhere", tuple(places), _unserved(job, tuple(places)))
