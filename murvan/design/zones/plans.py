"""Ways to part a house into zones: by storey, by the way its glass looks, by use; with peaks, thermostats and dampers."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import hypot

import numpy as np
from shapely.geometry import LineString
from shapely.geometry import Point as At

from murvan.design.drawing.openings import facing
from murvan.design.house.geometry import opening_line, shape_of
from murvan.design.house.walls import Stretch
from murvan.design.results import Results
from murvan.design.units.siting import along_walls, surroundings
from murvan.model.design import Zone
from murvan.model.edit import changed, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import DuctRun, Job, Point, Room
from murvan.model.routes import parents

Parts = tuple[tuple[str, tuple[str, ...]], ...]
"""Zones by name, with the ids of their rooms."""
SLEEP = ("bedroom", "bath")
PASSED = ("hall", "landing", "bath", "powder", "utility")
"""Rooms that follow their neighbours: a thermostat does not hang there, and their glass decides nothing."""
LEAST_SHARE = 0.2
"""Of the house's peak, what a zone that is proposed has at least; common practice."""


@dataclass(frozen=True)
class ZonePeak:
    """What a zone asks for in cooling."""

    name: str
    rooms: tuple[str, ...]
    peak_w: float
    """At its own worst hour, sensible."""
    hour: int
    month: int
    coincident: float
    """Its part of the house's load at the house's worst hour."""


@dataclass(frozen=True)
class ZonePlan:
    """One way to part the house."""

    key: str
    name: str
    zones: tuple[ZonePeak, ...]
    over: float
    """Sum of the zones' own peaks over the house's: what runs at different hours."""
    dampers: int
    """Runs that would carry one."""
    passed: tuple[str, ...]
    """Rooms whose air would come past every damper, by name."""


def zone_plans(r: Results) -> tuple[ZonePlan, ...]:
    """The ways that this house allows, the one with the most to gain for the fewest dampers first; none twice."""
    seen: set[frozenset[tuple[str, ...]]] = set()
    out = []
    for key, name, parts in _ways(r.job):
        alike = frozenset(tuple(sorted(rooms)) for _, rooms in parts)
        if len(parts) > 1 and alike not in seen:
            seen.add(alike)
            plan = _plan(r, key, name, parts)
            if min(z.coincident for z in plan.zones) >= LEAST_SHARE or key == "storey":
                out.append(plan)
    return tuple(sorted(out, key=lambda x: (len(x.passed), x.dampers - GAIN * (x.over - 1))))


GAIN = 100.0
"""Dampers that a way is worth more whose zones' peaks add up to twice the house's; Murvan's weight."""


def peaks(r: Results, parts: Parts) -> tuple[ZonePeak, ...]:
    """What zones ask for, from the rooms' hours on the design days."""
    by_hour = r.loads.parts_by_hour_w.sum(axis=2)  # (month, room, 24)
    whole = by_hour.sum(axis=1)
    m, h = np.unravel_index(int(np.argmax(whole)), whole.shape)
    ids = {x.id: k for k, x in enumerate(r.job.rooms)}
    out = []
    for name, rooms in parts:
        own = by_hour[:, [ids[i] for i in rooms]].sum(axis=1)
        a, b = np.unravel_index(int(np.argmax(own)), own.shape)
        share = float(own[m, h] / whole[m, h]) if whole[m, h] > 0 else 0.0
        out.append(ZonePeak(name, rooms, float(own[a, b]), int(b) + 1, int(r.loads.months[a]), share))
    return tuple(out)


def _plan(r: Results, key: str, name: str, parts: Parts) -> ZonePlan:
    zones = peaks(r, parts)
    house = float(r.loads.parts_by_hour_w.sum(axis=(1, 2)).max(initial=0.0))
    at, passed = damper_places(r.job, parts)
    names = {x.id: x.name for x in r.job.rooms}
    over = sum(z.peak_w for z in zones) / house if house > 0 else 1.0
    return ZonePlan(key, name, zones, over, len(at), tuple(names[i] for i in passed))


def _ways(job: Job) -> Iterator[tuple[str, str, Parts]]:
    every = job.rooms
    storeys = tuple((s.name, tuple(x.id for x in every if x.storey == s.id)) for s in job.storeys)
    storeys = tuple(x for x in storeys if x[1])
    yield "storey", "By storey", storeys
    beds = tuple(x.id for x in every if x.use in SLEEP)
    rest = tuple(x.id for x in every if x.id not in beds)
    if beds and rest:
        yield "use", "By use", (("Living", rest), ("Sleeping", beds))
    sides = _by_sun(job)
    if sides:
        yield "exposure", "By exposure", sides
    if len(storeys) > 1:
        mixed: list[tuple[str, tuple[str, ...]]] = []
        for name, rooms in storeys:
            asleep = tuple(i for i in rooms if i in beds)
            awake = tuple(i for i in rooms if i not in beds)
            lived = any(x.use not in PASSED for x in every if x.id in awake)
            parted = asleep and lived
            mixed += [(f"{name} living", awake), (f"{name} sleeping", asleep)] if parted else [(name, rooms)]
        yield "both", "By storey and use", tuple(mixed)


EAST_WEST = ("Morning side", "Evening side")


def _by_sun(job: Job) -> Parts:
    """Rooms with the morning's glass and rooms with the evening's; those without glass follow the rooms near them."""
    sides: dict[str, int] = {}
    for room in job.rooms:
        glass = [0.0, 0.0]
        for o in job.openings:
            if o.room == room.id and (o.kind == "window" or (o.glazing is not None and o.kind != "skylight")):
                east = float(np.sin(np.radians(facing(job, o))))
                glass[int(east < 0)] += o.width_m * o.height_m * abs(east)
        if room.use not in PASSED and abs(glass[0] - glass[1]) > 0.3 * sum(glass) > 0:
            sides[room.id] = int(glass[1] > glass[0])
    if len(set(sides.values())) < 2:
        return ()
    middles = {x.id: shape_of(x.outline_m).centroid for x in job.rooms}
    for room in job.rooms:
        if room.id not in sides:
            fixed = [i for i in sides if _storey(job, i) == room.storey] or list(sides)
            near = min(fixed, key=lambda i: middles[i].distance(middles[room.id]))
            sides = {**sides, room.id: sides[near]}
    return tuple((name, tuple(x.id for x in job.rooms if sides[x.id] == k)) for k, name in enumerate(EAST_WEST))


def _storey(job: Job, room: str) -> str:
    return next(x.storey for x in job.rooms if x.id == room)


# ---- dampers and thermostats ----------------------------------------------------------------------------------


def next_plan(r: Results) -> ZonePlan:
    """The best way to part the house, or the one after the one it is parted by. Raises JobValueError: there is no other."""
    plans = zone_plans(r)
    now = {frozenset(z.rooms) for z in r.job.design.zones if z.rooms}
    at = next((k for k, p in enumerate(plans) if {frozenset(z.rooms) for z in p.zones} == now), -1)
    if not plans or (len(plans) == 1 and at == 0):
        raise JobValueError("There is no other way to part this house.")
    return plans[(at + 1) % len(plans)]


def damper_places(job: Job, parts: Parts) -> tuple[dict[str, str], tuple[str, ...]]:
    """Where dampers go: the run nearest to the unit beyond which there is air of one zone alone, by the zone's name; and the
    rooms in no zone whose air passes every damper."""
    zone_of = {room: name for name, rooms in parts for room in rooms}
    rooms_of = _rooms_beyond(job)
    above = parents(job.design.runs)

    def alone(run: DuctRun) -> str | None:
        names = {zone_of.get(i) for i in rooms_of.get(run.id, ())}
        return next(iter(names)) if len(names) == 1 else None

    runs = {x.id: x for x in job.design.runs if x.side == "supply"}
    own = {i: alone(x) for i, x in runs.items()}
    at: dict[str, str] = {}
    for i, name in own.items():
        over = above.get(i)
        if name is not None and (over is None or own.get(over) is None):
            at[i] = name
    served = {i for run in at for i in rooms_of[run]}
    supplied = {i for beyond in rooms_of.values() for i in beyond}
    return at, tuple(i for i in zone_of if i in supplied and i not in served)


def _rooms_beyond(job: Job) -> dict[str, set[str]]:
    """By supply run the rooms whose air goes through it."""
    room = {x.id: x.room for x in job.design.registers}
    above = parents(job.design.runs)
    out: dict[str, set[str]] = {x.id: set() for x in job.design.runs if x.side == "supply"}
    for run in job.design.runs:
        at: str | None = run.id if run.register_id in room and run.side == "supply" else None
        while at is not None:
            out[at].add(room[run.register_id or ""])
            at = above.get(at)
    return {i: x for i, x in out.items() if x}


def with_zones(job: Job, parts: Parts) -> Job:
    """The job parted into zones, a damper and a thermostat for each. Raises JobValueError."""
    ids = {name: str(k) for k, (name, _) in enumerate(parts, 1)}
    zones: tuple[Zone, ...] = ()
    for name, rooms in parts:
        zones = (*zones, _with_thermostat(job, Zone(id=ids[name], name=name, rooms=rooms), zones))
    return with_dampers(job, zones)


def with_dampers(job: Job, zones: tuple[Zone, ...]) -> Job:
    """The job with zones, a damper for every one where its air goes alone, and none elsewhere. Raises JobValueError."""
    at, _ = damper_places(job, tuple((z.id, z.rooms) for z in zones))
    runs = tuple(
        x if x.zone_damper == at.get(x.id) else changed(x, x.tag, zone_damper=at.get(x.id)) for x in job.design.runs
    )
    return with_design(job, zones=zones, runs=runs)


WALL_M = 0.05
FROM_WINDOW_M, FROM_REGISTER_M = 0.9, 1.5
"""A thermostat hangs no nearer to a window or a supply register; common practice."""
STEP_M = 0.25


def _with_thermostat(job: Job, zone: Zone, others: tuple[Zone, ...]) -> Zone:
    found = thermostat_place(job, zone, others)
    if found is None:
        return zone
    return changed(zone, zone.name, storey=found[0], position_m=found[1])


def thermostat_place(job: Job, zone: Zone, others: tuple[Zone, ...] = ()) -> tuple[str, Point] | None:
    """Storey and place on an inside wall of the room most lived in: away from registers, glass, outside doors and the
    thermostats of others."""
    own = [x for x in job.rooms if x.id in zone.rooms]
    if not own:
        return None
    room = min(own, key=lambda x: (LIVED.index(x.use) if x.use in LIVED else len(LIVED), -shape_of(x.outline_m).area))
    taken = [z.position_m for z in others if z.position_m is not None and z.storey == room.storey and z.id != zone.id]
    spots = list(_wall_spots(job, room, surroundings(job).beyond, taken))
    if not spots:
        middle = shape_of(room.outline_m).representative_point()
        return room.storey, (round(middle.x, 3), round(middle.y, 3))
    return room.storey, max(spots, key=lambda s: s[1])[0]


LIVED = ("living", "dining", "study", "hall", "landing", "bedroom", "kitchen", "other")
"""Where a thermostat hangs best, in turn; common practice."""


def _wall_spots(
    job: Job, room: Room, beyond: dict[tuple[str, int], list[Stretch]], taken: list[Point]
) -> Iterator[tuple[Point, float]]:
    """Places along the inside walls of a room, with how far each is from what would fool it."""
    near = [LineString(opening_line(o, room)) for o in job.openings if o.room == room.id and o.kind != "skylight"]
    faces = [x.position_m for x in job.design.registers if x.room == room.id and x.side == "supply"]
    for on, out, other, corner in along_walls(job, room, beyond, STEP_M):
        if other != "heated" or corner < STEP_M:
            continue
        at = (round(on[0] - out[0] * WALL_M, 3), round(on[1] - out[1] * WALL_M, 3))
        free = [line.distance(At(at)) for line in near] + [hypot(at[0] - x, at[1] - y) for x, y in (*faces, *taken)]
        yield at, min(free, default=FAR_M)


FAR_M = 9.0
