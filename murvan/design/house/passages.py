"""How the rooms of a house are joined: by the doors and archways that are drawn, by stairs from storey to storey."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from heapq import heappop, heappush
from itertools import count

import numpy as np
from shapely.geometry import Polygon

from murvan.design.house.geometry import TOUCH_M, shape_of, wall_at, wall_points
from murvan.model.house import Opening, Transfer
from murvan.model.job import Job, Point
from murvan.physics.constants import FLOAT_TINY

ARCHWAY_M2 = 2.5
"""Taken where nothing is drawn between a room and the rest of its storey."""
HALL_USES = ("hall", "landing")


@dataclass(frozen=True)
class Passage:
    """A way for air between two rooms of a storey."""

    room: str
    """The one farther from the hall, where there is such a one."""
    beyond: str
    opening: Opening | None
    """None where none is drawn and one is taken for granted."""
    transfer: Transfer = field(default_factory=Transfer)
    """What lets air by when it is shut: the room's own on its way to the hall, a plain undercut elsewhere."""

    @property
    def area_m2(self) -> float:
        """Free area when it stands open."""
        return self.opening.width_m * self.opening.height_m if self.opening else ARCHWAY_M2

    @property
    def door(self) -> Opening | None:
        """What can be shut."""
        return self.opening if self.opening is not None and self.opening.kind == "door" else None


@dataclass(frozen=True)
class Ways:
    """Of a house: by room its way to the hall (the halls have none), and all others."""

    home: dict[str, Passage]
    others: tuple[Passage, ...]


def halls(job: Job) -> dict[str, str]:
    """The hub room of each storey: its hall or landing, or else its first room."""
    out: dict[str, str] = {}
    for storey in job.storeys:
        own = [r for r in job.rooms if r.storey == storey.id]
        hall = next((r for r in own if r.use in HALL_USES), own[0] if own else None)
        if hall:
            out[storey.id] = hall.id
    return out


def stairs(job: Job) -> list[tuple[str, str]]:
    """The rooms that stairs join, lower and upper, from storey to storey: those that the stairs drawn lie in most (floor to
    keep clear, for stairs), else the hubs."""
    hubs = halls(job)
    levels = [s.id for s in job.storeys if s.id in hubs]
    out = []
    for low, high in zip(levels, levels[1:], strict=False):
        drawn = [x for x in job.keep_clear if x.reason == "stairs" and x.storey in (low, high)]
        found = {(_mostly_in(job, low, x.outline_m), _mostly_in(job, high, x.outline_m)) for x in drawn}
        whole = sorted((a, b) for a, b in found if a is not None and b is not None)
        out += whole or [(hubs[low], hubs[high])]
    return out


def _mostly_in(job: Job, storey: str, outline: tuple[Point, ...]) -> str | None:
    """The room of a storey with most of an outline; None where it meets none."""
    shape = Polygon(outline)
    shares = [(shape_of(r.outline_m).intersection(shape).area, r.id) for r in job.rooms if r.storey == storey]
    most = max(shares, default=(0.0, ""))
    return most[1] if most[0] > 0 else None


def ways(job: Job) -> Ways:
    """Every way between the rooms of each storey.

    The way to the hall is the one with the fewest doors, then the fewest rooms between: an en-suite's is through its
    bedroom. Rooms with nothing drawn between them and their hall are taken as open to it.
    """
    inside = [o for o in job.openings if o.kind == "archway" or (o.inside and o.kind == "door")]
    beyond = rooms_beyond(inside, job)
    drawn = [(o.room, other, o) for o, other in zip(inside, beyond, strict=True) if other]
    home = _homeward(job, drawn)
    used = {x.opening.id for x in home.values() if x.opening is not None}
    return Ways(home, tuple(Passage(a, b, o) for a, b, o in drawn if o.id not in used))


def _homeward(job: Job, drawn: list[tuple[str, str, Opening]]) -> dict[str, Passage]:
    rooms, hubs = {r.id: r for r in job.rooms}, halls(job)
    near: dict[str, list[tuple[str, Opening]]] = {i: [] for i in rooms}
    for a, b, o in drawn:
        near[a].append((b, o))
        near[b].append((a, o))
    found: dict[str, Passage] = {}
    reached: set[str] = set()
    order = count()

    def spread(*first: str) -> None:
        """On from these, nearest first, in the order drawn."""
        edge: list[tuple[int, int, int, str, Passage | None]] = [(0, 0, next(order), i, None) for i in first]
        while edge:
            doors, steps, _, here, way = heappop(edge)
            if here in reached:
                continue
            reached.add(here)
            if way is not None:
                found[here] = way
            for there, o in near[here]:
                if there not in reached:
                    on = Passage(there, here, o, rooms[there].transfer or Transfer())
                    heappush(edge, (doors + (o.kind == "door"), steps + 1, next(order), there, on))

    spread(*hubs.values())
    for r in job.rooms:
        if r.id not in reached:
            found[r.id] = Passage(r.id, hubs[r.storey], None)
            spread(r.id)
    return found


def rooms_beyond(openings: Sequence[Opening], job: Job) -> list[str | None]:
    """For each inside opening the room on its other side, by the plan; None where there is none.

    The nearest wall of another room of the storey, within the reach by which walls are shared.
    """
    index = {r.id: k for k, r in enumerate(job.rooms)}
    names = {x.id: k for k, x in enumerate(job.storeys)}
    walls = [(k, *wall_points(r.outline_m, w)) for k, r in enumerate(job.rooms) for w in range(len(r.outline_m))]
    if not openings or not walls:
        return [None] * len(openings)
    owner = np.array([k for k, _, _ in walls])
    start, along = np.array([a for _, a, _ in walls]), np.array([np.subtract(b, a) for _, a, b in walls])
    storey = np.array([names[r.storey] for r in job.rooms])
    mine = np.array([index[o.room] for o in openings])
    at = np.array([_middle(o, job.rooms[k].outline_m) for o, k in zip(openings, mine.tolist(), strict=True)])
    from_start = at[:, None] - start
    share = (from_start * along).sum(-1) / np.maximum((along**2).sum(-1), FLOAT_TINY)
    apart = np.linalg.norm(from_start - np.clip(share, 0, 1)[..., None] * along, axis=-1)
    apart[(owner == mine[:, None]) | (storey[owner] != storey[mine][:, None])] = np.inf
    nearest = apart.argmin(axis=1)
    near = apart.min(axis=1) <= TOUCH_M
    return [job.rooms[owner[k]].id if ok else None for k, ok in zip(nearest.tolist(), near.tolist(), strict=True)]


def _middle(opening: Opening, outline: tuple[Point, ...]) -> Point:
    return wall_at(outline, opening.wall, opening.offset_m + opening.width_m / 2)[0]
