"""Rooms too small for the smallest head: a slim ducted unit serves them together with others of their storey."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from murvan.design.propose.choosing import Picked
from murvan.design.propose.schemes import Scheme, ServedPlace, slim_place, unserved
from murvan.design.results import Results
from murvan.model.job import Job

MOST_SHARE = 2.5
"""Of its rooms' cooling, what a unit may have where there is a smaller way. Common practice."""
MOST_HEAD = 4.0
"""The same for a head where there is none: what the best turn down to. Common practice."""


def most_share(kind: str) -> float:
    """Of its rooms' cooling, what a unit of a kind may have at most."""
    return MOST_SHARE if kind == "ducted" else MOST_HEAD


def with_small_joined(job: Job, scheme: Scheme, picked: Picked, bare: Results) -> Scheme | None:
    """The scheme with the rooms of heads that are too large for them on the slim ducted unit of their storey, or on one of their
    own where there are several; None where nothing changes.

    Args:
        bare: Of the house with the scheme's units, not chosen yet.
    """
    if scheme.kind not in ("mixed", "multi"):
        return None
    too_large = [
        place.kind != "ducted" and s.equipment.measure(unit).total_share > MOST_SHARE
        for place, (unit, _), s in zip(scheme.places, picked.units, bare.systems.values(), strict=True)
    ]
    places = tuple(_places(job, scheme, too_large))
    if len(places) == len(scheme.places):
        return None
    return replace(scheme, places=places, remedies=unserved(job, places))


def _places(job: Job, scheme: Scheme, too_large: list[bool]) -> Iterator[ServedPlace]:
    storey_of = {r.id: r.storey for r in job.rooms}
    small: dict[str, list[ServedPlace]] = {}
    for p, large in zip(scheme.places, too_large, strict=True):
        if large:
            small.setdefault(storey_of[p.rooms[0]], []).append(p)
    for p, large in zip(scheme.places, too_large, strict=True):
        if p.kind == "ducted":
            more = small.pop(storey_of[p.rooms[0]], [])
            yield replace(p, rooms=(*p.rooms, *(r for q in more for r in q.rooms)))
        elif not large:
            yield p
    for storey in (s for s in job.storeys if s.id in small):
        if len(small[storey.id]) > 1:
            yield slim_place(storey, "small rooms", tuple(r for q in small[storey.id] for r in q.rooms))
        else:
            yield from small[storey.id]
