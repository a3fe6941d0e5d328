"""Ways to part a house into zones: not at all, by storey, by the way its glass looks, by use, by what holds best; judged by how
its rooms hold on a hot and a cold design day, with peaks, thermostats and dampers."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from math import hypot

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import LineString
from shapely.geometry import Point as At

from murvan.design.drawing.openings import facing
from murvan.design.house.geometry import opening_line, shape_of
from murvan.design.house.walls import Stretch
from murvan.design.results import Results
from murvan.design.units.siting import along_walls, surroundings
from murvan.design.zones.holding import Held, held, house_of
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
    thermostat: str = ""
    """Id of the room in which its thermostat holds its rooms best; '' where that was not asked."""


@dataclass(frozen=True)
class ZonePlan:
    """One way to part the house."""

    key: str
    name: str
    zones: tuple[ZonePeak, ...]
    """None: the house is not parted."""
    over: float
    """Sum of the zones' own peaks over the house's: what runs at different hours."""
    dampers: int
    """Runs that would carry one."""
    passed: tuple[str, ...]
    """Rooms whose air would come past every damper, by name."""
    out: tuple[str, ...]
    """Rooms that don't hold, by name."""
    out_kh: float
    """By how much and how long, kelvin times hours of a hot and a cold design day, all rooms."""
    drift_k: float
    """Of the room that goes farthest from its thermostat's temperature, warmer positive."""

    @property
    def least(self) -> float:
        """Share of the smallest zone at the house's worst hour; 1 where it is not parted."""
        return min((z.coincident for z in self.zones), default=1.0)

    @property
    def parts(self) -> Parts:
        """Zones by name, with the ids of their rooms."""
        return tuple((z.name, z.rooms) for z in self.zones)

    @property
    def thermostats(self) -> tuple[str, ...]:
        """By zone the room in which its thermostat hangs."""
        return tuple(z.thermostat for z in self.zones)


NONE = "none"


def zone_plans(r: Results, moves: bool = True) -> tuple[ZonePlan, ...]:
    """The ways that this house allows, the best first; none twice, and none of them where there is nothing to part.

    Args:
        moves: Whether rooms are tried in other zones one by one; it takes most of the time.
    """
    if len(r.job.rooms) < 2:
        return ()
    judge = _Judge(r)
    seen: set[frozenset[frozenset[str]]] = set()
    out = []
    for key, name, parts in _ways(r.job):
        own = judge.by_unit(parts)
        alike = frozenset(frozenset(rooms) for _, rooms in own)
        if len(parts) > 1 and own and alike not in seen:
            seen.add(alike)
            plan = judge.plan(key, name, own)
            if plan.least >= LEAST_SHARE or key == "storey":
                out.append(plan)
    if not out:
        return ()
    best = min(x.out_kh for x in out)
    fits = [x for p in (out if moves else ()) if (x := judge.moved(p)) is not None and x.out_kh < best * (1 - WORTH)]
    out += [min(fits, key=lambda x: x.out_kh)] if fits else []
    return tuple(sorted((judge.plan(NONE, "Not parted", ()), *out), key=_order))


DAMPER_KH, SMALL_KH, LEAST_ZONE = 4.0, 200.0, 0.3
"""What a damper with its share of the panel, and a zone smaller than that share of the house, has to be worth in kelvin times hours
of rooms that hold; Murvan's weights."""


def _order(x: ZonePlan) -> tuple[int, float]:
    small = max(LEAST_ZONE - x.least, 0.0) * SMALL_KH
    return len(x.passed), x.out_kh + DAMPER_KH * (x.dampers or len(x.zones)) + small


def rooms_that_drift(r: Results) -> tuple[str, ...]:
    """Names of the rooms that the thermostats of a design don't hold: one for each zone, for what of a unit is in none, for each
    head; rooms that no unit serves are left out."""
    judge = _Judge(r)
    zoned = {i for z in r.job.design.zones for i in z.rooms}
    rest = tuple(
        ("", tuple(i for i in s.design.serves if i not in zoned)) for s in r.systems.values() if s.unit is not None
    )
    parts = (*((z.name, z.rooms) for z in r.job.design.zones), *rest)
    parts = tuple(x for x in parts if x[1])
    if not parts:
        return ()
    bad, served = judge.hung(parts)[1].out, {i for _, rooms in parts for i in rooms}
    kept = [x.id in served and x.use not in UNFELT for x in r.job.rooms]
    return tuple(x.name for x, out, here in zip(r.job.rooms, bad, kept, strict=True) if out and here)


UNFELT = ("utility", "other")
"""Rooms that nobody stays in."""


class _Judge:
    """Parts of one house, by how its rooms hold."""

    def __init__(self, r: Results) -> None:
        self.r, self.job = r, r.job
        self.house = house_of(r)
        self.index = {x.id: k for k, x in enumerate(r.job.rooms)}
        self.units = self._units()

    def _units(self) -> tuple[tuple[str, ...], ...]:
        """Rooms by the unit that serves them; a house without units is one."""
        served = [s.design.serves for s in self.r.systems.values() if s.design.indoor.kind == "ducted"]
        served = [x for x in served if x]
        return tuple(served) if len(served) > 1 else (tuple(self.index),)

    def by_unit(self, parts: Parts) -> Parts:
        """The zones within each unit that they part; a unit all of whose rooms are in one of them has its own thermostat."""
        out: list[tuple[str, tuple[str, ...]]] = []
        for rooms in self.units:
            mine = [(name, tuple(i for i in own if i in rooms)) for name, own in parts]
            mine = [x for x in mine if x[1]]
            out += mine if len(mine) > 1 else []
        names = [name for name, _ in out]
        return tuple((n if names.count(n) == 1 else f"{n} {k}", x) for k, (n, x) in enumerate(out, 1))

    def plan(self, key: str, name: str, parts: Parts) -> ZonePlan:
        job, every = self.job, self._with_rest(parts)
        hung, found = self.hung(every)
        names = {x.id: x.name for x in job.rooms}
        at, passed = damper_places(job, parts)
        zones = tuple(replace(z, thermostat=hung[k]) for k, z in enumerate(peaks(self.r, parts)))
        house = float(self.r.loads.house_by_hour_w.max(initial=0.0))
        over = sum(z.peak_w for z in zones) / house if house > 0 and zones else 1.0
        far = found.most_k.flat[int(np.abs(found.most_k).argmax())]
        out = tuple(x.name for x, bad in zip(job.rooms, found.out, strict=True) if bad)
        past = tuple(names[i] for i in passed)
        return ZonePlan(key, name, zones, over, len(at), past, out, found.out_kh, float(far))

    def _with_rest(self, parts: Parts) -> Parts:
        """The zones and behind them each unit that is not parted."""
        zoned = {i for _, rooms in parts for i in rooms}
        rest = tuple(("", rooms) for rooms in self.units if not zoned & set(rooms))
        return (*parts, *rest)

    def _zone_of(self, parts: Parts) -> NDArray[np.intp]:
        out = np.full(len(self.index), -1)
        for k, (_, rooms) in enumerate(parts):
            out[[self.index[i] for i in rooms]] = k
        return out

    def hung(self, parts: Parts) -> tuple[list[str], Held]:
        """By zone the room in which its thermostat holds all of its rooms best, each tried with the others as they are."""
        zone = self._zone_of(parts)
        tries = [self._rooms_for_one(rooms) for _, rooms in parts]
        now = np.array([x[0] for x in tries])
        best = held(self.house, zone[None], now[None])[0]
        for k, own in ((k, own) for k, own in enumerate(tries) if len(own) > 1):
            ways = np.repeat(now[None], len(own), 0)
            ways[:, k] = own
            found = held(self.house, np.repeat(zone[None], len(own), 0), ways)
            at = min(range(len(own)), key=lambda i: (round(found[i].out_kh, 1), i))
            now, best = ways[at], found[at]
        return [self.job.rooms[i].id for i in now], best

    def _rooms_for_one(self, rooms: tuple[str, ...]) -> list[int]:
        """Where a thermostat may hang, the room most lived in first."""
        own = [self.job.rooms[self.index[i]] for i in rooms]
        fit = [x for x in own if x.use in LIVED] or own
        return [self.index[x.id] for x in sorted(fit, key=most_lived)]

    def moved(self, plan: ZonePlan) -> ZonePlan | None:
        """A way whose rooms hold better, found by moving room after room to another zone of its unit; None where none does."""
        parts = plan.parts
        every = self._with_rest(parts)
        zone, hung = self._zone_of(every), self.hung(every)[0]
        stats = np.array([self.index[i] for i in hung])
        best = plan.out_kh
        for _ in range(MOVES):
            ways = self._moves(zone, len(parts), stats)
            if not len(ways) or best < 1.0:
                break
            found = held(self.house, ways, np.repeat(stats[None], len(ways), 0))
            at = min(range(len(found)), key=lambda i: found[i].out_kh)
            if found[at].out_kh > best * (1 - WORTH):
                break
            zone, best = ways[at], found[at].out_kh
        rooms = np.array(list(self.index))
        made = tuple((name, tuple(rooms[zone == k].tolist())) for k, (name, _) in enumerate(parts))
        out = self.plan("holds", "By what holds", made)
        return out if out.out_kh < plan.out_kh * (1 - WORTH) and out.least >= LEAST_SHARE else None

    def _moves(self, zone: NDArray[np.intp], zones: int, stats: NDArray[np.intp]) -> NDArray[np.intp]:
        """Every room but those of thermostats in every other zone of its unit, (ways, rooms)."""
        out = []
        for rooms in self.units:
            mine = [self.index[i] for i in rooms]
            for i in mine:
                for k in sorted({int(zone[m]) for m in mine} - {int(zone[i])}):
                    if i not in stats and k < zones and zone[i] < zones:
                        way = zone.copy()
                        way[i] = k
                        out.append(way)
        return np.array(out)


MOVES = 6
WORTH = 0.1
"""What a room that changes its zone has to make better."""


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
    if not now:  # it is not parted: the best that parts it
        plans = tuple(p for p in plans if p.zones)
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


def with_zones(job: Job, parts: Parts, rooms_of: Sequence[str] = ()) -> Job:
    """The job parted into zones, a damper and a thermostat for each. Raises JobValueError.

    Args:
        rooms_of: by zone, the room in which its thermostat hangs; none: the one most lived in.
    """
    ids = {name: str(k) for k, (name, _) in enumerate(parts, 1)}
    zones: tuple[Zone, ...] = ()
    for k, (name, rooms) in enumerate(parts):
        zone = Zone(id=ids[name], name=name, rooms=rooms)
        zones = (*zones, _with_thermostat(job, zone, zones, rooms_of[k] if rooms_of else ""))
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


def _with_thermostat(job: Job, zone: Zone, others: tuple[Zone, ...], in_room: str) -> Zone:
    found = thermostat_place(job, zone, others, in_room)
    if found is None:
        return zone
    return changed(zone, zone.name, storey=found[0], position_m=found[1])


def thermostat_place(
    job: Job, zone: Zone, others: tuple[Zone, ...] = (), in_room: str = ""
) -> tuple[str, Point] | None:
    """Storey and place on an inside wall: away from registers, glass, outside doors and the thermostats of others.

    Args:
        in_room: Where it hangs; '': in the room most lived in.
    """
    own = [x for x in job.rooms if x.id in zone.rooms]
    if not own:
        return None
    room = next((x for x in own if x.id == in_room), None) or min(own, key=most_lived)
    taken = [z.position_m for z in others if z.position_m is not None and z.storey == room.storey and z.id != zone.id]
    spots = list(_wall_spots(job, room, surroundings(job).beyond, taken))
    if not spots:
        middle = shape_of(room.outline_m).representative_point()
        return room.storey, (round(middle.x, 3), round(middle.y, 3))
    return room.storey, max(spots, key=lambda s: s[1])[0]


def most_lived(room: Room) -> tuple[int, float]:
    """In the order in which rooms take a thermostat."""
    return (LIVED.index(room.use) if room.use in LIVED else len(LIVED), -shape_of(room.outline_m).area)


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
