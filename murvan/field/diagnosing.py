"""A job's readings fitted: what the window and the command line ask for."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from murvan.design.results import Results
from murvan.field.balance import WITHIN, Balance, balance
from murvan.field.built import Built, has_ducts
from murvan.field.fit import LEAST_READINGS, Fitted, Said, fit
from murvan.field.next_reading import Next, next_reading, splitting
from murvan.field.places import Key, Place
from murvan.field.tracks import Tracks, tracks
from murvan.field.verdict import latest
from murvan.field.visit import read_at
from murvan.model.job import AS_FOUND, HouseState, Job, Reading


@dataclass(frozen=True)
class House:
    """A design as it may be built, with all its faults solved at every place."""

    built: Built
    tracks: Tracks


@dataclass(frozen=True)
class Diagnosis:
    """What the readings say, and what to read next."""

    fitted: Fitted
    next: Next | None
    splits: Next | None
    """The reading that tells the first suspect from its group."""
    designed: dict[Key, float]
    """By place, what a house as designed shows there, SI."""
    balance: Balance | None
    """Moves of dampers; None with fewer than two registers read."""
    simulated: bool
    """Whether any reading behind it is."""


def house(r: Results, cancelled: Callable[[], bool] = lambda: False, kept: House | None = None) -> House | None:
    """In all states in which it was read; None when cancelled, or where no unit has ducts with supply and return.

    Args:
        kept: the same house in some states, which are not solved again.
    """
    if not has_ducts(r):
        return None
    built = kept.built if kept is not None else Built(r)
    by_key: dict[Key, Place] = {}
    faces = {x.state.of_air for x in latest(r.job).values() if x.at.kind == "register"} | {AS_FOUND}
    for state in filter(built.can_stand, states(r.job)):
        for p in read_at(built, state):
            # registers are hooded as the house is found; otherwise only where somebody did
            if p.at.kind == "run" and built.runs[p.at.id].parent and p.at.id not in sections(r.job):
                continue
            if p.at.kind not in ("register", "run") or state.of_air in faces:
                by_key.setdefault(p.key, p)
    old = [k for k, p in enumerate(kept.tracks.places) if p.key in by_key] if kept is not None else []
    have = kept.tracks.at(old) if kept is not None and old else None
    known = {p.key for p in have.places} if have is not None else set()
    new = tuple(p for key, p in by_key.items() if key not in known)
    found = tracks(built, new, cancelled) if new else None
    if new and found is None:
        return None
    whole = found if have is None else have if found is None else have.beside(found)
    return House(built, whole) if whole is not None else None


def states(job: Job) -> tuple[HouseState, ...]:
    """All states in which a job has readings; among them one with the house as found."""
    own = tuple(dict.fromkeys(r.state for r in latest(job).values()))
    return own if any(x.of_air == AS_FOUND for x in own) else (AS_FOUND, *own)


def sections(job: Job) -> frozenset[str]:
    """Runs that were traversed."""
    return frozenset(x.at.id for x in latest(job).values() if x.at.kind == "run")


def said(job: Job, places: tuple[Place, ...], phase: str = "after") -> tuple[Said, ...]:
    """The readings that count, see `verdict.latest`."""
    last = latest(job, phase)
    return tuple(Said(p, x.value, x.uncertainty) for p in places if (x := last.get(p.key)) is not None)


def enough(job: Job) -> bool:
    """Whether there are readings enough to say anything."""
    return len(latest(job)) >= LEAST_READINGS


def diagnose(h: House, job: Job) -> Diagnosis | None:
    """None where there are too few readings."""
    own = said(job, h.tracks.places)
    fitted = fit(h.built, h.tracks, own)
    if fitted is None:
        return None
    last = latest(job)
    simulated = any(last[x.place.key].simulated for x in own)
    places, read = h.tracks.places, [x.place for x in own]
    splits = splitting(fitted, fitted.suspects[0], places, read) if fitted.suspects else None
    designed = {p.key: float(v) for p, v in zip(places, h.tracks.base, strict=True)}
    return Diagnosis(fitted, next_reading(fitted, places, read), splits, designed, balanced(h, job), simulated)


def balanced(h: House, job: Job, within: float = WITHIN) -> Balance | None:
    """Moves of dampers by the readings that count; None with fewer than two registers read."""
    read = {p.at.id: x.value for p, x in _registers(h, job)}
    supply = {x.id for x in job.design.registers if x.side == "supply"}
    design = {i: q for i, q in h.built.r.airflow.register_m3_s.items() if i in supply}
    return balance(h.built, design, read, within)


def _registers(h: House, job: Job) -> Iterator[tuple[Place, Reading]]:
    last = latest(job)
    for p in h.tracks.places:
        if p.quantity == "flow" and p.state.of_air == AS_FOUND and (x := last.get(p.key)) is not None:
            yield p, x
