"""Training: a virtual house with faults that nobody tells, a clock that every reading costs, and a review of what each one told.

A case is a grade and a seed; the same seed gives the same house to everybody. The case of a day goes by its date.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import NamedTuple

import numpy as np

from murvan.design.results import Results
from murvan.field.built import Built
from murvan.field.diagnosing import House
from murvan.field.fit import Said, fit
from murvan.field.next_reading import doubt, minutes
from murvan.field.places import Place
from murvan.field.spots import Spot, kept_to, possible_steps, spots
from murvan.field.visit import Fault, Visit
from murvan.model.edit import with_design
from murvan.model.job import HouseState, Job, Reading

SAME_STOREY, OTHER_STOREY, LADDER = 0.5, 1.5, 1.0
"""Minutes to walk to the next place, and up a ladder to a hole in a duct; common practice."""
STATE = {"doors": 3.0, "filter": 2.0, "calling": 4.0, "mode": 12.0}
"""Minutes to have the house stand otherwise, by what changes."""
LOOK_COST, HOUR_COST, CALL_BACK = 6.0, 95.0, 260.0
"""Minutes of a look in vain; money of an hour on site and of coming again: Murvan defaults."""
TOLD = 0.05
"""Doubt, bits, that a reading takes away at least not to be needless."""
NONE_OF = 0.08
"""How often nothing is wrong at all."""
EASY = ("kink", "damper", "boot", "boot_off", "filter", "filter_missing", "tap", "return", "coil", "joint_open")
HARD = ("hood_bias", "gauge_bias", "swap", "door")
GRADES = {
    1: "One plain fault",
    2: "One fault of any kind, weaker ones too",
    3: "Two faults, or an instrument that reads off",
}


@dataclass(frozen=True)
class Case:
    """A house to be read."""

    grade: int
    seed: int

    @staticmethod
    def of_day(day: date) -> Case:
        """The case of a day: easier early in the week."""
        return Case((1, 1, 2, 2, 3, 3, 2)[day.weekday()], day.toordinal())

    @property
    def name(self) -> str:
        return f"Case {self.grade}-{self.seed}"


def faults_of(b: Built, case: Case) -> tuple[Fault, ...]:
    """What is wrong; nothing now and then. Raises ValueError: there is no such grade."""
    if case.grade not in GRADES:
        raise ValueError(f"grades are {', '.join(map(str, GRADES))}")
    chance = np.random.default_rng((case.seed, case.grade, 7))
    if chance.random() < NONE_OF:
        return ()
    every = list(spots(b))
    if case.grade == 1:
        every = [s for s in every if s.kind.id in EASY]
    first = _drawn(b, every, case.grade, chance)
    if case.grade < 3:
        return (first,)
    hard = [s for s in every if s.kind.id in HARD]
    others = [s for s in every if s.where != first[0].where and s.kind.id in EASY]
    return first, _drawn(b, hard if hard and chance.random() < 0.5 else others or every, case.grade, chance)


def _drawn(b: Built, own: Sequence[Spot], grade: int, chance: np.random.Generator) -> Fault:
    """One by how often its kind is met, and an amount; of grade one no weak ones."""
    kinds = sorted({s.kind.id for s in own})
    often = np.array([next(s.kind.often for s in own if s.kind.id == k) for k in kinds])
    kind = kinds[int(chance.choice(len(kinds), p=often / often.sum()))]
    places = [s for s in own if s.kind.id == kind]
    spot = places[int(chance.integers(len(places)))]
    k, known = spot.kind, possible_steps(b, spot)
    if known:
        return spot, float(known[int(chance.integers(len(known)))])
    share = float(np.clip(chance.normal(0.6, 0.25), 0.35 if grade == 1 else 0.0, 1.0))
    amount = kept_to(b, spot, min(k.low * (k.high / k.low) ** share, k.most))
    return spot, 2 - amount if k.both_ways and chance.random() < 0.5 else amount


class Answer(NamedTuple):
    """What the learner says is wrong."""

    kind: str
    """'' where nothing is."""
    where: str


@dataclass(frozen=True)
class Read:
    """A reading that was taken, with what it cost and told."""

    place: Place
    minutes: float
    told: float
    """Doubt that it took away, bits; below zero where it raised some."""
    share: float
    """Belief in what is really wrong after it."""


@dataclass(frozen=True)
class Review:
    """How a case went."""

    case: Case
    truth: tuple[Fault, ...]
    answers: tuple[Answer, ...]
    read: tuple[Read, ...]
    right: int
    """Faults that were named."""
    wrong: int
    """Answers that name what is not there."""

    @property
    def minutes(self) -> float:
        return sum(x.minutes for x in self.read) + LOOK_COST * self.wrong

    @property
    def needless(self) -> tuple[Read, ...]:
        """Readings that told next to nothing."""
        return tuple(x for x in self.read if x.told < TOLD)

    @property
    def solved(self) -> bool:
        return self.right == len(self.truth) and self.wrong == 0

    @property
    def cost(self) -> float:
        """Time on site, and coming again for what was not found."""
        return self.minutes / 60 * HOUR_COST + (0.0 if self.solved else CALL_BACK)

    @property
    def points(self) -> int:
        """Of a hundred: what was found, less for time beyond a quarter of an hour a fault and for needless readings."""
        found = 1.0 if not self.truth else self.right / len(self.truth)
        late = max(self.minutes - 15.0 * max(len(self.truth), 1), 0.0)
        points = 100 * found - 25 * self.wrong - 0.5 * late - 2 * len(self.needless)
        return round(min(max(points, 0.0), 100.0))


class Training:
    """A case under way: a house that answers, and its clock."""

    def __init__(self, r: Results, case: Case) -> None:
        self.case, self.built = case, Built(r)
        self.truth = faults_of(self.built, case)
        self.visit = Visit(r, self.built, self.truth, case.seed)
        self.taken: list[tuple[Said, float]] = []
        """Readings in their order, each with its minutes."""

    @property
    def minutes(self) -> float:
        return sum(x for _, x in self.taken)

    def read(self, job: Job, place: Place, reading_id: str, when: str = "") -> Reading:
        """What the house shows there; the clock goes on. Raises KeyError as `Visit.shown`."""
        reading = self.visit.take(place, reading_id, when)
        before = self.taken[-1][0].place if self.taken else None
        spent = minutes_between(job, before, place) + minutes(place)
        self.taken.append((Said(place, reading.value, reading.uncertainty), spent))
        return reading


def minutes_between(job: Job, before: Place | None, place: Place) -> float:
    """To walk there, up the ladder, and to have the house stand so."""
    if before is None:
        return 0.0
    walk = (
        0.0 if before.at == place.at else SAME_STOREY if _storey(job, before) == _storey(job, place) else OTHER_STOREY
    )
    a, b = before.state, place.state
    changed = sum(cost for name, cost in STATE.items() if getattr(a, name) != getattr(b, name))
    return walk + changed + (LADDER if place.at.kind == "register" and place.hole is not None else 0.0)


def _storey(job: Job, place: Place) -> str | None:
    rooms = {x.id: x.storey for x in job.rooms}
    if place.at.kind == "room":
        return rooms.get(place.at.id)
    if place.at.kind == "register":
        return next((rooms[x.room] for x in job.design.registers if x.id == place.at.id), None)
    return next((u.storey for u in job.design.indoor_units if u.id == place.at.id), None)


def review(t: Training, h: House, answers: Sequence[Answer]) -> Review:
    """What each reading told, and what of the truth was named."""
    keys = {s.key for s, _ in t.truth}
    named = [a for a in answers if a.kind]
    right = {(a.kind, a.where) for a in named} & keys
    wrong = sum((a.kind, a.where) not in keys for a in named)
    return Review(t.case, t.truth, tuple(answers), _falls(t, h, keys), len(right), wrong)


def _falls(t: Training, h: House, truth: set[tuple[str, str]]) -> tuple[Read, ...]:
    """How belief went with every reading."""
    before: float | None = None
    out = []
    known = {p.key for p in h.tracks.places}
    for k, (x, spent) in enumerate(t.taken):
        so_far = list({s.place.key: s for s, _ in t.taken[: k + 1] if s.place.key in known}.values())
        fitted = fit(h.built, h.tracks, so_far)
        if fitted is None:
            out.append(Read(x.place, spent, 1.0, 0.0))
            continue
        now = doubt(fitted.belief.share)
        shares = {s.spot.key: s.share for s in fitted.suspects}
        share = fitted.nothing if not truth else min(1.0, sum(shares.get(key, 0.0) for key in truth) / len(truth))
        out.append(Read(x.place, spent, 1.0 if before is None else before - now, float(share)))
        before = now
    return tuple(out)


def answer_choices(b: Built) -> dict[str, list[Spot]]:
    """What can be named, by the kind of fault."""
    out: dict[str, list[Spot]] = {}
    for s in spots(b):
        out.setdefault(s.kind.id, []).append(s)
    return out


def fresh(job: Job) -> Job:
    """The job as a learner finds it: no reading, the house as found."""
    return with_design(job, readings=(), stands=HouseState(mode="heating"), skipped=())
