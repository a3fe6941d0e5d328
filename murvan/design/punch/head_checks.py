"""Judgements of heads where they hang: over glass, under slopes, their air and whom it meets, rooms that have none of it."""

from __future__ import annotations

from collections.abc import Iterator

from shapely.geometry import LineString
from shapely.geometry import Point as At

from murvan.design.arithmetic import Quantity
from murvan.design.drawing.things import room_at
from murvan.design.finding import Hit, rule
from murvan.design.house.geometry import opening_line
from murvan.design.house.levels import roof_shape
from murvan.design.house.open_rooms import LIVED_IN
from murvan.design.punch.saying import q
from murvan.design.results import Results
from murvan.design.study.doors_shut import bare_rooms
from murvan.design.study.head_air import AT_WALL_M, HIGH_M, blows
from murvan.model.design import IndoorUnit
from murvan.model.equipment import Unit
from murvan.model.job import Job, Opening, Point, Room
from murvan.model.record import Ref


@rule("head-draft", 4, "look", Quantity("velocity", 0.4))
def in_the_stream(results: Results, most_m_s: float) -> Iterator[Hit]:
    """Bed or seat in a head's air.

    Basis: {0} where they sit, by the jet equation and the fall of cold air; common practice
    Why: Whoever lies or sits there feels it and turns the head off.
    Remedy: Another wall, blades turned aside, or the bed moved.
    """
    for b in blows(results):
        worst = max(b.felt, key=lambda f: f.speed_m_s, default=None)
        if worst is not None and worst.speed_m_s > most_m_s:
            have, most = q("velocity", worst.speed_m_s), q("velocity", most_m_s)
            seat = worst.seat.kind.replace("_", " ")
            words = f"blows {{0}} at the {seat}, at most {{1}}"
            yield Hit(Ref("indoor_unit", b.unit), b.tag, words, (have, most), have, most)


@rule("head-short", 4, "look", Quantity("percent", 0.6))
def falls_short(results: Results, least: float) -> Iterator[Hit]:
    """Head whose air does not cross its room.

    Basis: {0} of the way to the wall across, to 50 fpm; common practice
    Why: The far end stays stale, too warm or too cold.
    Remedy: Hang it at a long wall, so that it blows the short way, or take a larger one.
    """
    for b in blows(results):
        if b.reach_m < least * b.across_m:
            have, want = q("feet", b.reach_m), q("feet", b.across_m)
            words = "reaches {0} of the {1} to the wall across"
            yield Hit(Ref("indoor_unit", b.unit), b.tag, words, (have, want), have, want)


@rule("room-adrift", 4, "look", Quantity("difference", 4.0))
def adrift(results: Results, most_k: float) -> Iterator[Hit]:
    """Room without a head that drifts off.

    Basis: at most {0} off its set temperature at design with its doors open; balance of the room, see Air, lens Doors shut
    Why: What comes through its doors does not carry it.
    Remedy: A head or a heater of its own, a slim ducted unit for it and its neighbours, or a transfer fan.
    """
    job = results.job
    rooms = {r.id: r for r in job.rooms}
    for b in bare_rooms(results):
        room = rooms[b.room]
        cold = job.indoor.heating_c - b.heating_open_c
        warm = b.cooling_open_c - job.indoor.cooling_c
        if room.use in LIVED_IN and max(cold, warm) > most_k:
            season, at = ("heating", b.heating_open_c) if cold >= warm else ("cooling", b.cooling_open_c)
            have = q("temperature", at)
            words = f"comes to {{0}} at {season} design with its doors open"
            yield Hit(Ref("room", b.room), room.name, words, (have,), have, q("difference", most_k))


@rule("head-glass", 3, "fails", Quantity("feet", HIGH_M["wall"] - 0.3))
def over_glass(results: Results, low_m: float) -> Iterator[Hit]:
    """Wall head over a window or door.

    Basis: a wall head hangs with its underside about {0} over the floor; common practice
    Why: There is no wall to screw it to, or curtains hang in its air.
    Remedy: Beside the opening, or another wall.
    """
    for own, unit, room in _hung(results, "wall"):
        for o in _at_opening(results.job, own.position_m, unit.width_m, room):
            if o.sill_m + o.height_m > low_m:
                words = f"hangs over {o.tag}, which goes up to {{0}}"
                top, low = q("feet", o.sill_m + o.height_m), q("feet", low_m)
                yield Hit(Ref("indoor_unit", own.id), own.tag, words, (top,), top, low)


@rule("head-low", 3, "fails", Quantity("feet", 2.1))
def under_a_slope(results: Results, high_m: float) -> Iterator[Hit]:
    """Wall head where the ceiling is too low.

    Basis: {0} and its own height over the floor with air over it; common practice
    Why: It does not hang there, and blows into the slope.
    Remedy: A higher wall, or a floor unit.
    """
    for own, _, room in _hung(results, "wall"):
        shape, storey = roof_shape(room), next(s for s in results.job.storeys if s.id == room.storey)
        clear = shape.height_at(own.position_m) if shape is not None else room.height_m or storey.height_m
        need = high_m + AIR_OVER_M
        if clear < need:
            have, want = q("feet", clear), q("feet", need)
            yield Hit(
                Ref("indoor_unit", own.id),
                own.tag,
                "hangs under a ceiling of {0}, at least {1}",
                (have, want),
                have,
                want,
            )


@rule("floor-sill", 3, "fails", Quantity("size", 0.05))
def under_a_sill(results: Results, air_m: float) -> Iterator[Hit]:
    """Floor unit under a low sill.

    Basis: its height and {0} of air over it; maker's size
    Why: It stands before the glass and blows at it.
    Remedy: Another wall, a lower unit, or a wall head.
    """
    for own, unit, room in _hung(results, "floor"):
        for o in _at_opening(results.job, own.position_m, unit.width_m, room):
            if o.kind == "window" and o.sill_m < unit.height_m + air_m:
                sill, need = q("size", o.sill_m), q("size", unit.height_m + air_m)
                words = f"stands under {o.tag} with its sill at {{0}}, it wants {{1}}"
                yield Hit(Ref("indoor_unit", own.id), own.tag, words, (sill, need), sill, need)


def _hung(r: Results, kind: str) -> Iterator[tuple[IndoorUnit, Unit, Room]]:
    """Heads of a kind with the room each hangs in."""
    for s in r.systems.values():
        own = s.design.indoor
        if own.kind == kind and s.unit is not None and own.storey is not None:
            room = room_at(r.job, own.storey, own.position_m)
            if room is not None:
                yield own, s.unit, room


def _at_opening(job: Job, at: Point, width_m: float, room: Room) -> Iterator[Opening]:
    """Windows and doors of the wall that something hangs at, before which it does."""
    for o in job.openings:
        if o.room != room.id or o.kind not in ("window", "door"):
            continue
        line = LineString(opening_line(o, room))
        along = float(line.distance(At(at)))
        if along < AT_WALL_M and _overlaps(line, at, width_m):
            yield o


def _overlaps(line: LineString, at: Point, width_m: float) -> bool:
    """Whether what is so wide, square to an opening's wall, hangs before it by more than a hand."""
    (ax, ay), (bx, by) = line.coords[0], line.coords[-1]
    long = line.length
    s = ((at[0] - ax) * (bx - ax) + (at[1] - ay) * (by - ay)) / max(long, 1e-9)
    return bool(min(s + width_m / 2, long) - max(s - width_m / 2, 0.0) > HAND_M)


HAND_M = 0.1
AIR_OVER_M = 0.1
"""Over a wall head, which draws its air from above; common practice."""
