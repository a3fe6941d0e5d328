"""What a visit reads, in which order, how the house stands then, and what that takes: as a crew walks."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from murvan.design.results import Results
from murvan.field.built import Built, has_ducts
from murvan.field.next_reading import MINUTES
from murvan.field.places import BY_HEAT, Key, Place, head_holes, holes, standing
from murvan.field.state import NOTHING
from murvan.field.verdict import Latest, latest
from murvan.field.visit import Fault, Visit, is_read, read_at, usual
from murvan.kinds.readings import READS
from murvan.model.edit import changed
from murvan.model.job import AS_FOUND, HouseState, IndoorUnit, Job, Reading, Register

Length = Literal["quick", "full"]
NEXT_ONE = {"flow": 2.0, "co": 2.0, "pressure": 2.0, "vacuum": 5.0}
"""Minutes of each further reading with the instrument in hand, 1 of all others; common practice."""
DOORS, ZONE, MODE = 3.0, 4.0, 12.0
"""Minutes to shut all doors, until a zone alone has settled, until another mode has."""


@dataclass(frozen=True)
class Step:
    """Readings that are taken one after the other with one instrument, the house as it then stands."""

    id: str
    name: str
    """'Statics, Unit', 'Flows, Upper'."""
    short: str
    """'Statics'."""
    first: str
    """What is done before, as a sentence; '' where nothing is."""
    state: HouseState
    places: tuple[Place, ...]
    minutes: float

    @property
    def instrument(self) -> str:
        return READS[self.places[0].quantity].name


@dataclass(frozen=True)
class Protocol:
    """The visit to a house: its steps, the first ones a quick visit of their own, and what its places read as designed."""

    job: Job
    steps: tuple[Step, ...]
    quick: int
    """Steps of a quick visit."""
    designed: dict[Key, float]
    """SI; nothing where the air circuit does not know."""

    @property
    def minutes(self) -> float:
        return sum(x.minutes for x in self.steps)


def visit_to(r: Results) -> Protocol:
    """The protocol of a house with what each reading is designed to be."""
    b = Built(r) if has_ducts(r) else None
    steps = protocol(r, b, "full")
    own = [p for x in steps for p in x.places]
    told = [p for p in own if b is not None and is_read(b, p, p.state)]
    known = b.as_designed(told, [NOTHING])[0].tolist() if b is not None and told else []
    designed = {p.key: v for p, v in zip(told, known, strict=True)}
    return Protocol(r.job, steps, len(protocol(r, b, "quick")), designed)


def protocol(r: Results, b: Built | None, length: Length) -> tuple[Step, ...]:
    """The steps of a visit. A quick one reads at the units alone; a full one every register and grille, then with doors shut, and each
    zone alone, then the other season.

    Args:
        b: the house as it may be built; None where no unit has ducts.
    """
    job = r.job
    out = [_step(job, f"air-{u.id}", f"Air, {u.tag}", "Air", AS_FOUND, head_holes(job, u)) for u in _heads(job)]
    if b is not None:
        out += [*_at_units(b, AS_FOUND, ""), *_burning(b)]
    if length == "full":
        out += [*_lines(r)]
        out += [*_flows(b), *_doors_shut(b), *_zones_alone(b)] if b is not None else []
        out += [*_cooling(r)]
    return tuple(x for x in out if x.places)


def _heads(job: Job) -> Iterator[IndoorUnit]:
    return (u for u in job.design.indoor_units if u.kind != "ducted")


def _at_units(
    b: Built, state: HouseState, first: str, quantities: Sequence[str] = ("static", "temperature", "power")
) -> Iterator[Step]:
    names = {"static": "Statics", "temperature": "Air", "power": "Power"}
    job, tags = b.job, {u.id: u.tag for u in b.job.design.indoor_units}
    own = read_at(b, state)
    for unit in b.units:
        for quantity in quantities:
            found = [p for p in own if p.at.id == unit and p.quantity == quantity]
            name = f"{names[quantity]}, {tags[unit]}" if len(tags) > 1 else names[quantity]
            yield _step(job, f"{quantity}-{unit}", name, names[quantity], state, found, first)
            first = ""


def _burning(b: Built) -> Iterator[Step]:
    """Combustion of what burns: in every visit, before anybody goes on."""
    units = {u.id: u for u in b.job.design.indoor_units}
    for i, s in b.units.items():
        if s.unit is not None and s.unit.furnace_output_w and s.unit.fuel not in (None, "electric"):
            own = holes(b.job, units[i], "combustion")
            first = "Burner on ten minutes; doors shut, fans and dryer on for the last one"
            yield _step(b.job, f"combustion-{i}", "Combustion", "Combustion", AS_FOUND, own, first)


def _flows(b: Built) -> Iterator[Step]:
    job = b.job
    rooms = {x.id: x for x in job.rooms}
    for storey in job.storeys:
        faces = [x for x in job.design.registers if rooms[x.room].storey == storey.id]
        known = {p.at.id: p for p in read_at(b) if p.at.kind == "register" and usual(p)}
        walked = [known[x.id] for x in _walk(job, faces) if x.id in known]
        yield _step(job, f"flow-{storey.id}", f"Flows, {storey.name.lower()}", "Flows", AS_FOUND, walked)


def _walk(job: Job, faces: Iterable[Register]) -> Iterator[Register]:
    """The nearest one first, from the unit on."""
    left, at = list(faces), job.design.indoor_units[0].position_m
    while left:
        nearest = min(left, key=lambda x: math.dist(at, x.position_m))
        left.remove(nearest)
        at = nearest.position_m
        yield nearest


def _doors_shut(b: Built) -> Iterator[Step]:
    shut = HouseState(doors="shut")
    rooms = [p for p in read_at(b, shut) if p.at.kind == "room"]
    if rooms:
        words = "Shut all inside doors"
        yield _step(b.job, "rooms", "Rooms, doors shut", "Rooms", shut, rooms, words)


def _zones_alone(b: Built) -> Iterator[Step]:
    zones = {run.zone_damper for run in b.runs.values() if run.zone_damper}
    for zone in (z for z in b.job.design.zones if z.id in zones):
        state = HouseState(calling=(zone.id,))
        if b.can_stand(state) and len(b.job.design.zones) > 1:
            first = f"Open the doors; let {zone.name} alone call"
            yield from _named(_at_units(b, state, first, ("static",)), f", {zone.name} alone", zone.id)


def _with_lines(r: Results) -> list[IndoorUnit]:
    """Units that refrigerant runs to."""
    picked = {i: s.equipment.chosen for i, s in r.systems.items()}
    return [u for u in r.job.design.indoor_units if (x := picked.get(u.id)) is not None and x.total_w > 0]


def _lines(r: Results) -> Iterator[Step]:
    """Held under nitrogen and pulled empty, before anything is let in."""
    own = _with_lines(r)
    for u in own:
        of = f", {u.tag}" if len(own) > 1 else ""
        yield _step(r.job, f"lines-{u.id}", f"Lines{of}, still empty", "Lines", AS_FOUND, holes(r.job, u, "lines"))


def _cooling(r: Results) -> Iterator[Step]:
    """The other season of those that cool: their capacity, and the charge that is read while they run."""
    job, state, own = r.job, HouseState(mode="cooling"), _with_lines(r)
    first = "Let it cool for ten minutes, all zones calling"
    for u in own:
        of = f", {u.tag}" if len(own) > 1 else ""
        air = [p for p in holes(job, u) if p.quantity == "temperature"]
        wet = holes(job, u, "capacity") if u.kind == "ducted" else ()
        yield _step(job, f"cooling-{u.id}", f"Cooling{of}", "Cooling", state, (*air, *wet), first)
        yield _step(job, f"charge-{u.id}", f"Charge{of}", "Charge", state, holes(job, u, "charge"))
        first = ""


def _named(steps: Iterable[Step], more: str, key: str) -> Iterator[Step]:
    for x in steps:
        if x.places:
            yield Step(f"{x.id}-{key}", x.name + more, x.short, x.first, x.state, x.places, x.minutes)


def _step(
    job: Job, id_: str, name: str, short: str, state: HouseState, own: Sequence[Place], first: str = ""
) -> Step:
    found = tuple(standing(p, state, job) if p.state != state else p for p in own)
    quantity = found[0].quantity if found else "static"
    minutes = MINUTES[quantity] + NEXT_ONE.get(quantity, 1.0) * (len(found) - 1)
    changes = DOORS * (state.doors == "shut") + ZONE * bool(state.calling) + MODE * bool(state.mode)
    return Step(id_, name, short, first, state, found, minutes + (changes if first else 0.0))


def visited(b: Built, faults: Sequence[Fault], seed: int, quick: bool = False) -> tuple[Reading, ...]:
    """All readings of a visit to a virtual house, at design weather: a quick one at the units alone, else all states of the house."""
    visit, c, out = Visit(b.r, b, faults, seed), b.r.conditions, []
    for step in protocol(b.r, b, "quick" if quick else "full"):
        cools = step.state.mode == "cooling"
        outdoor = (c.outdoor_summer if cools else c.outdoor_winter).temperature_c
        state = changed(step.state, "", mode="cooling" if cools else "heating", outdoor_c=round(outdoor, 1))
        out += [replace(p, state=state) for p in step.places if is_read(b, p, state)]
    return tuple(visit.take(p, f"v{n}") for n, p in enumerate(out, 1))


# ---- how far it has come ----------------------------------------------------------------------------------------------


def read_of(step: Step, job: Job, last: Latest | None = None) -> dict[str, Reading]:
    """What has been read of a step, by the word of its place."""
    found = latest(job) if last is None else last
    by_place: dict[tuple[object, ...], Reading] = {}
    for x in found.values():
        by_place[x.at, x.hole, x.quantity, x.state.of_air, x.state.mode] = x
        if x.state.mode != "cooling":
            by_place[x.at, x.hole, x.quantity, x.state.of_air, ""] = x
    flows = {(x.at, x.hole, x.quantity, x.state.of_air): x for x in found.values() if x.quantity not in BY_HEAT}
    out = {}
    for p in step.places:
        air = (p.at, p.hole, p.quantity, p.state.of_air)
        reading = by_place.get((*air, p.state.mode)) if p.quantity in BY_HEAT else flows.get(air)
        if reading is not None:
            out[p.word] = reading
    return out


def now_at(step: Step, stands: HouseState) -> HouseState:
    """How the house is to stand for a step, with what is known of the weather."""
    mode = step.state.mode or ("" if stands.mode == "cooling" else stands.mode)
    outdoor = stands.outdoor_c if step.state.mode in ("", stands.mode) else None
    return changed(step.state, "", mode=mode, outdoor_c=outdoor)


def stands_for(step: Step, stands: HouseState) -> bool:
    """Whether the house stands as a step wants it."""
    own = step.state
    return (
        own.of_air == stands.of_air
        and (own.mode in ("", stands.mode))
        and (own.mode != "" or stands.mode != "cooling")
    )
