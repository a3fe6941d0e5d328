"""Ways to serve a house: which rooms hang on which unit, of which kind. No capacities yet."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from murvan.design.house.open_rooms import LIVED_IN, open_groups, remedy
from murvan.design.house.today import FUELS, fuel_here
from murvan.design.units.hanging import head_kind
from murvan.design.units.siting import Surroundings, surroundings
from murvan.model.equipment import HEADS, Unit
from murvan.model.job import Job, Room, Storey
from murvan.model.record import signed_area
from murvan.model.unit_edit import HEAD_WORDS, IndoorKind

SchemeKind = Literal["ducted", "zoned", "furnace", "kept", "storeys", "heads", "shared", "mixed", "multi", "parts"]
LEAST_SLEEPING = 2


@dataclass(frozen=True)
class ServedPlace:
    """One indoor unit to be chosen: what the design calls it, its kind, the kinds of the catalogue, its rooms."""

    tag: str
    kind: IndoorKind
    of: tuple[str, ...]
    rooms: tuple[str, ...]
    role: str
    fuel: str | None = None
    stages: tuple[str, ...] = ("single", "two", "variable")
    heat_share: float = 1.0
    """Of the heat of its rooms."""

    def takes(self, unit: Unit) -> bool:
        """Whether a unit of the catalogue can be put here."""
        return unit.kind in self.of and unit.stages in self.stages and self.fuel in (None, unit.fuel)


@dataclass(frozen=True)
class Scheme:
    """One way to serve the house."""

    kind: SchemeKind
    name: str
    places: tuple[ServedPlace, ...]
    remedies: dict[str, str] = field(default_factory=dict)
    """Rooms that no unit serves, and what to do about each."""
    zones: tuple[tuple[str, tuple[str, ...]], ...] = ()
    """Names and rooms, where one system is split by dampers."""
    shared: bool = False
    """Its heads hang on outdoor units with several ports."""
    keeps_ducts: bool = False
    """The ducts that are drawn stay."""


def schemes(
    job: Job, site: Surroundings | None = None, heating_w: Sequence[float] = (), sensible_w: Sequence[float] = ()
) -> tuple[Scheme, ...]:
    """The ways that this house allows, none of them twice.

    Args:
        site: Of the job; where it is worked out already.
        heating_w, sensible_w: Loads by room at their own peaks; (): not known.
    """
    loads = {r.id: (h, c) for r, h, c in zip(job.rooms, heating_w, sensible_w, strict=False)}
    return tuple(_schemes(job, site or surroundings(job), loads))


def _schemes(job: Job, site: Surroundings, loads: Mapping[str, tuple[float, float]]) -> Iterator[Scheme]:
    every = tuple(r.id for r in job.rooms)
    if not every:
        return
    keeps = ducts_stay(job)
    kept = ", ducts as drawn" if keeps else ""
    one = ServedPlace("Unit", "ducted", ("heat_pump",), every, "whole house")
    dampers = keeps and any(x.zone_damper for x in job.design.runs)
    if not dampers:
        yield Scheme("ducted", f"One ducted heat pump{kept}", (one,), keeps_ducts=keeps)
    zones = tuple((z.name, z.rooms) for z in job.design.zones) if dampers else zones_of(job)
    if zones:
        staged = replace(one, stages=("two", "variable"))
        also = kept if dampers else ""
        yield Scheme("zoned", f"Ducted with {len(zones)} zones{also}", (staged,), zones=zones, keeps_ducts=dampers)
    fuel = fuel_here(job)
    if fuel is not None:
        place = ServedPlace("Furnace", "ducted", ("furnace_coil",), every, "whole house", fuel)
        yield Scheme("furnace", f"{fuel.capitalize()} furnace with coil{kept}", (place,), keeps_ducts=keeps)
    if job.energy.present in (*FUELS, "electric"):
        cooler = ServedPlace("Cooling", "ducted", ("air_conditioner",), every, "whole house", heat_share=0.0)
        yield Scheme("kept", f"Cooling added, {job.energy.present} heat kept{kept}", (cooler,), keeps_ducts=keeps)
    storeys = [s for s in job.storeys if any(r.storey == s.id for r in job.rooms)]
    if len(storeys) > 1:
        places = tuple(
            ServedPlace(
                s.name,
                "ducted",
                ("heat_pump", "slim_ducted"),
                tuple(r.id for r in job.rooms if r.storey == s.id),
                s.name,
            )
            for s in storeys
        )
        yield Scheme("storeys", "A ducted system each storey", places)
    groups = [part for g in open_groups(job) for part in _by_head(g, loads)]
    lived = [g for g in groups if any(r.use in LIVED_IN for r in g) and _area_m2(g) >= CLOSET_M2]
    heads = tuple(_head(g, site) for g in lived)
    if heads:
        yield Scheme("heads", "Heads, each with its outdoor unit", heads, unserved(job, heads))
    if len(heads) > 1:
        yield Scheme("shared", "Heads on shared outdoor units", heads, unserved(job, heads), shared=True)
    mixed = _mixed(job, lived, site)
    if mixed is not None:
        yield mixed
    if mixed is not None and len(mixed.places) > 1:
        yield replace(mixed, kind="multi", name="Slim ducted and heads on shared outdoor units", shared=True)
    for n in PARTS:
        parts = parts_of(job, n)
        if len(parts) == n:
            places = tuple(
                ServedPlace(name, "ducted", ("heat_pump", "slim_ducted"), tuple(r.id for r in rooms), name)
                for name, rooms in parts
            )
            yield Scheme("parts", f"{('Two', 'Three')[n - 2]} ducted systems, side by side", places)


def _by_head(group: tuple[Room, ...], loads: Mapping[str, tuple[float, float]]) -> Iterator[tuple[Room, ...]]:
    """Rooms that are open to each other, in those that one head serves, that with the largest load first: what a room of
    `BEYOND_W` needs does not come through an archway by itself."""
    most = max(group, key=lambda r: max(loads.get(r.id, (0.0, 0.0))))
    alone = [
        r
        for r in group
        if r is not most
        and r.use in LIVED_IN
        and any(have > much for have, much in zip(loads.get(r.id, (0.0, 0.0)), BEYOND_W, strict=True))
    ]
    first = (most,) if most.use in LIVED_IN else ()
    yield (*first, *(r for r in group if r not in alone and r not in first))
    yield from ((r,) for r in alone)


BEYOND_W = (1500.0, 1000.0)
"""Heat and sensible cooling of a room that an archway carries with 5 K between its sides, W; see `study.doors_shut`."""
CLOSET_M2 = 4.0
"""Smaller rooms are closets and larders: no head hangs there; common practice."""


def _area_m2(rooms: tuple[Room, ...]) -> float:
    return sum(abs(signed_area(r.outline_m)) for r in rooms)


PARTS = (2, 3)
"""Ducted systems on one storey that are tried: larger houses than one unit carries are split, by wings or by sides."""
SPLIT_M2 = 170.0
"""Smaller houses are not split; common practice."""


def parts_of(job: Job, n: int) -> list[tuple[str, tuple[Room, ...]]]:
    """Rooms of a house of one storey in parts beside each other along its longer side, of about the same floor, open rooms
    together; none for a small house or one of several storeys."""
    groups = [g for g in open_groups(job) if g]
    rooms = [r for g in groups for r in g]
    if len({r.storey for r in rooms}) != 1 or _area_m2(tuple(rooms)) < SPLIT_M2 or len(groups) < n:
        return []
    spread = [max(v) - min(v) for v in zip(*(q for r in rooms for q in r.outline_m), strict=True)]
    axis = 0 if spread[0] >= spread[1] else 1
    groups.sort(key=lambda g: _middle(g, axis))
    whole, done = _area_m2(tuple(rooms)), 0.0
    parts: list[list[Room]] = [[] for _ in range(n)]
    for g in groups:
        area = _area_m2(g)
        parts[min(int((done + area / 2) / whole * n), n - 1)].extend(g)
        done += area
    names = (("Left", "Middle", "Right"), ("Upper", "Middle", "Lower"))[axis]
    sides = (names[0], names[2]) if n == 2 else names
    return [(f"{side} side", tuple(p)) for side, p in zip(sides, parts, strict=True) if p]


def _middle(rooms: tuple[Room, ...], axis: int) -> float:
    at = [q[axis] for r in rooms for q in r.outline_m]
    return sum(at) / len(at)


def ducts_stay(job: Job) -> bool:
    """Whether one ducted unit with its ducts is drawn, on which another can be put."""
    d = job.design
    return len(d.indoor_units) == 1 and d.indoor_units[0].kind == "ducted" and bool(d.runs)


def zones_of(job: Job) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """Zones for one system: a storey each, or where people sleep and where they live; none for a small house."""
    storeys = [(s.name, tuple(r.id for r in job.rooms if r.storey == s.id)) for s in job.storeys]
    storeys = [x for x in storeys if x[1]]
    if len(storeys) > 1:
        return tuple(storeys)
    sleeping = tuple(r.id for r in job.rooms if r.use in ("bedroom", "bath"))
    living = tuple(r.id for r in job.rooms if r.id not in sleeping)
    beds = sum(r.use == "bedroom" for r in job.rooms)
    return (("Living", living), ("Sleeping", sleeping)) if beds >= LEAST_SLEEPING and living else ()


def _head(rooms: tuple[Room, ...], site: Surroundings) -> ServedPlace:
    first = next((r for r in rooms if r.use in LIVED_IN), rooms[0])
    kind = head_kind(site, first)
    tag = f"{first.name} {HEAD_WORDS[kind]}"[:60]
    return ServedPlace(tag, kind, tuple(HEADS[kind]), tuple(r.id for r in rooms), first.name)


def unserved(job: Job, places: tuple[ServedPlace, ...]) -> dict[str, str]:
    """Rooms that no unit of some places serves, and what to do about each."""
    served = {r for p in places for r in p.rooms}
    return {r.id: remedy(r) for r in job.rooms if r.id not in served}


def slim_place(storey: Storey, role: str, rooms: tuple[str, ...]) -> ServedPlace:
    """A slim ducted unit for some rooms of a storey."""
    return ServedPlace(f"{storey.name} {role}"[:60], "ducted", ("slim_ducted",), rooms, role)


def _mixed(job: Job, lived: list[tuple[Room, ...]], site: Surroundings) -> Scheme | None:
    """Bedrooms with their baths and halls on a slim ducted unit a storey, heads in the other rooms lived in."""
    places: list[ServedPlace] = []
    taken: set[str] = set()
    for storey in job.storeys:
        own = [r for r in job.rooms if r.storey == storey.id]
        if sum(r.use == "bedroom" for r in own) >= LEAST_SLEEPING:
            rooms = tuple(r.id for r in own if r.use in ("bedroom", "bath", "powder", "hall", "landing"))
            taken |= set(rooms)
            places.append(slim_place(storey, "bedrooms", rooms))
    if not places:
        return None
    rest = [tuple(r for r in g if r.id not in taken) for g in lived]
    places += [_head(g, site) for g in rest if any(r.use in LIVED_IN for r in g)]
    if all(p.kind == "ducted" for p in places):
        return None
    return Scheme("mixed", "Slim ducted and heads", tuple(places), unserved(job, tuple(places)))
