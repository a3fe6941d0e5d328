"""Which rooms air goes between by itself, which are to have heat and cold of their own, and what helps those without."""

from __future__ import annotations

from murvan.design.house.passages import ways
from murvan.model.job import Job, Room

LIVED_IN = ("living", "dining", "kitchen", "bedroom", "study", "other")
"""Uses of rooms that are to have heat and cold of their own."""
REMEDIES = {
    "bath": "electric heat of its own",
    "powder": "electric heat of its own",
    "bedroom": "a head of its own, or a slim ducted unit with its neighbours",
    "hall": "through the doors that stand open; a transfer fan where they are shut",
    "landing": "through the doors that stand open; a transfer fan where they are shut",
    "utility": "the present heat left as it is, or electric heat",
}
REMEDY_ELSE = "a transfer fan from the room beside it, or electric heat"


def remedy(room: Room) -> str:
    """What to do about a room that no unit serves; common practice."""
    return REMEDIES.get(room.use, REMEDY_ELSE)


def open_groups(job: Job) -> tuple[tuple[Room, ...], ...]:
    """Rooms that archways join, each with those it is open to; the others alone. In the order of the plan."""
    group = {r.id: r.id for r in job.rooms}
    found = ways(job)
    for way in (*found.home.values(), *found.others):
        if way.opening is not None and way.opening.kind == "archway":
            old, new = group[way.beyond], group[way.room]
            group = {k: new if v == old else v for k, v in group.items()}
    return tuple(
        tuple(r for r in job.rooms if group[r.id] == first) for first in dict.fromkeys(group[r.id] for r in job.rooms)
    )
