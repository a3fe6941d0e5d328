"""A visit to a virtual house: a design built with faults, no two houses alike, read by instruments with their errors. Seeded."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from murvan.design.results import Results
from murvan.field.built import IN_DUCTS, Built, has_ducts
from murvan.field.places import Key, Place, head_holes, places, standing
from murvan.field.shows import line_shows, wet_bulb_c
from murvan.field.spots import Spot, change, kept_to, possible_steps, spots
from murvan.field.state import Change
from murvan.field.unlike import LEAST, drawn, scatter
from murvan.field.verdict import head_air_c
from murvan.kinds.faults import FAULTS
from murvan.kinds.readings import POINTS, QUANTITIES, READS
from murvan.model.errors import JobValueError
from murvan.model.job import AS_FOUND, HouseState, Job, Reading
from murvan.units import short

Fault = tuple[Spot, float]
"""Where, and how much."""
MODELLED = ("static", "temperature", "power")
UNIT_HOLES = tuple(x.hole for x in POINTS.values() if x.proves == "air")
"""What of a unit the air circuit and its maker's table tell."""
FARTHEST = 2.5
"""Standard deviations that one reading scatters at most."""


class Visit:
    """A house as it was built. The same seed gives the same house and the same readings.

    Raises ValueError: it has neither a unit with ducts, supply and return nor a head that is picked.
    """

    def __init__(self, r: Results, built: Built | None, faults: Sequence[Fault] = (), seed: int = 1) -> None:
        self.r = r
        self._built = built
        self._chance = np.random.default_rng((seed, 2))
        self._shown = dict(_heads(r))
        if built is not None:
            self._house = drawn(built, np.random.default_rng((seed, 1)))
            whole = Change()
            for spot, amount in faults:
                whole = whole + change(built, spot, amount)
            self._change = self._house.of(built, whole)
            self._read(read_at(built))
        if not self._shown:
            raise ValueError("a virtual house needs a unit, a supply and a return")

    def _read(self, own: Sequence[Place]) -> None:
        """What instruments show but for their noise."""
        assert self._built is not None
        shown = self._built.predicted(own, [self._change], self._house.built)[0]
        if not np.isfinite(shown).all():
            raise ValueError("with these faults the air of the house can't be worked out")
        for p, v in zip(own, shown.tolist(), strict=True):
            self._shown[p.key] = v * (self._house.power[p.at.id] if p.quantity == "power" else 1.0)

    def shown(self, place: Place) -> float:
        """What its instrument shows there but for its noise, SI. Raises KeyError for a place that is not read."""
        if place.key not in self._shown and self._built is not None and self._built.can_stand(place.state):
            self._read([p for p in read_at(self._built, place.state) if p.key == place.key])
        if place.key not in self._shown and self._built is not None and place.at.id in self._built.units:
            self._shown[place.key] = self._proof(self._built, place)
        if place.key not in self._shown and place.quantity == "temperature":
            return self._shown[replace(place, state=AS_FOUND).key]
        return self._shown[place.key]

    def _proof(self, b: Built, place: Place) -> float:
        """What shows of capacity and charge. Raises KeyError: nothing is shown so."""
        unit, state = place.at.id, place.state
        holes_ = {(p.hole, p.quantity): p for p in read_at(b, state) if p.at.id == unit}
        back, out = (self.shown(holes_[h, "temperature"]) for h in ("return", "supply"))
        flow = float(
            b.of(state).solved([self._change], self._house.built(b.of(state).circuit))[0][
                0, b.layout.units[unit].blower_branch
            ]
        )
        left = self._change.capacity.get(unit, 1.0)
        if place.quantity == "wet_bulb":
            return wet_bulb_c(self.r, unit, state, place.hole == "return", back, out, flow, left)
        return line_shows(self.r, place, out, left / self._house.capacity[unit])

    def take(self, place: Place, reading_id: str, taken: str = "", person: str = "") -> Reading:
        """One simulated reading: what is there, the instrument's noise, its resolution. Raises KeyError as `shown`."""
        own = READS[place.quantity]
        noise = np.clip(self._chance.standard_normal(2), -FARTHEST, FARTHEST)
        value = float(self.shown(place) * (1 + own.uncertainty * noise[0]) + LEAST[place.quantity] * noise[1])
        of = QUANTITIES[place.quantity]
        return Reading(
            id=reading_id,
            at=place.at,
            hole=place.hole,
            quantity=place.quantity,
            value=min(max(round(round(value / own.step) * own.step, 7), of.least), of.most),
            instrument=own.name,
            simulated=True,
            taken=taken,
            person=person,
            layout=self.r.job.design.layout,
            uncertainty=own.uncertainty,
            state=place.state,
        )


def _heads(r: Results) -> Iterator[tuple[Key, float]]:
    """The air of heads."""
    for unit in (x for x in r.job.design.indoor_units if x.kind != "ducted"):
        for p in head_holes(r.job, unit):
            if unit.id in r.systems and (air := head_air_c(p, r)) is not None:
                yield p.key, air


def virtual_house(r: Results, faults: Sequence[str] = (), seed: int = 1) -> Visit:
    """A house built to a design with faults as `parse_fault` takes them. Raises ValueError as `Visit`, JobValueError as that."""
    if not has_ducts(r):
        return Visit(r, None, (), seed)
    built = Built(r)
    return Visit(r, built, [parse_fault(built, x) for x in faults], seed)


def read_at(b: Built, state: HouseState = AS_FOUND) -> tuple[Place, ...]:
    """Where a house is read in a state: faces on its ducts, the holes and the power of its units, the pressures of rooms while doors
    are shut. Holes in ducts are read as the house is found."""
    return tuple(standing(p, state, b.job) for p in places(b.job).values() if is_read(b, p, state))


def is_read(b: Built, p: Place, state: HouseState) -> bool:
    """Whether the circuit tells what is read at a place in a state."""
    if p.at.kind == "run":
        return p.at.id in b.runs
    if p.at.kind == "room":
        return state.doors == "shut" and b.layout.door_branch.get(p.at.id) in b.layout.shut_k
    if p.at.kind == "register":
        if p.hole is None:
            return p.at.id in b.layout.register_branch
        return p.at.id in b.run_to and state.of_air == AS_FOUND
    return p.at.id in b.units and p.quantity in MODELLED and p.hole in (*UNIT_HOLES, None)


def usual(p: Place) -> bool:
    """Whether every full visit reads it: ducts are drilled and traversed where that tells something."""
    return p.hole not in IN_DUCTS and p.at.kind != "run"


# ---- faults as typed --------------------------------------------------------------------------------------------------


def parse_fault(b: Built, text: str) -> Fault:
    """A fault as KIND[:WHERE[:AMOUNT]]. Where is a tag or an id of a run, a register, a unit or a room, two with a + between for
    readings taken for each other; where none is said, the place where it shows most.

    Raises JobValueError: there is no such kind or place, or the amount is no number in its range.
    """
    kind, _, rest = text.partition(":")
    where, _, amount = rest.partition(":")
    if kind not in FAULTS:
        raise JobValueError(f"There is no fault “{short(kind)}”; known are {', '.join(FAULTS)}.")
    own = [s for s in spots(b) if s.kind.id == kind]
    if not own:
        raise JobValueError(f"This house has no place for the fault “{kind}”.")
    spot = _spot(b.job, own, where, kind) if where else _plainest(b, own)
    return spot, _amount(b, spot, amount)


def _plainest(b: Built, own: Sequence[Spot]) -> Spot:
    """The place where a fault shows most."""
    at = read_at(b)
    rows = b.predicted(at, [Change(), *(change(b, s, _usual(b, s)) for s in own)])
    off = ((rows[1:] - rows[0]) / scatter(at, rows[0])) ** 2
    return own[int(np.argmax(np.nan_to_num(off.sum(axis=1))))]


def _usual(b: Built, spot: Spot) -> float:
    """Its amount when none is said: of steps the first that the unit has."""
    known = possible_steps(b, spot)
    return kept_to(b, spot, spot.kind.usual) if not known or spot.kind.usual in known else known[-1]


def _spot(job: Job, own: Sequence[Spot], where: str, kind: str) -> Spot:
    tags = {x.tag.casefold(): x.id for x in job.design.registers} | {
        x.id.casefold(): x.id for x in job.design.registers
    }
    run_of = {x.register_id: x.id for x in job.design.runs if x.register_id}
    ids = [tags.get(w.strip().casefold(), w.strip()) for w in where.split("+")]
    wanted = {where.casefold(), "+".join(ids).casefold(), "+".join(reversed(ids)).casefold()}
    wanted |= {run_of.get(i, i).casefold() for i in ids} if len(ids) == 1 else set()
    for s in own:
        if {s.where.casefold(), s.name.casefold()} & wanted:
            return s
    known = ", ".join(s.name for s in own[:12])
    raise JobValueError(f"There is no “{short(where)}” for the fault “{kind}”; known are {known}.")


def _amount(b: Built, spot: Spot, text: str) -> float:
    if not text:
        return _usual(b, spot)
    try:
        amount = float(text)
    except ValueError:
        raise JobValueError(f"The amount “{short(text)}” of {spot.kind.id} is no number.") from None
    known = possible_steps(b, spot)
    if spot.kind.steps and amount not in known:
        steps = ", ".join(f"{x:+g}" for x in known)
        raise JobValueError(f"The amount of {spot.kind.id} is {amount:g}; {steps} are meant.")
    if not spot.kind.steps and not 0 < amount <= min(spot.kind.most if not spot.kind.both_ways else 2.0, 1000.0):
        raise JobValueError(f"The amount of {spot.kind.id} is {amount:g}; {spot.kind.amount} is meant.")
    return amount
