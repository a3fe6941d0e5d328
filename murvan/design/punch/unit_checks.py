"""The checks of units: their size, their lines, where heads hang, and what several share outdoors."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache, partial
from math import dist

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as At

from murvan.design import limits
from murvan.design.arithmetic import Quantity
from murvan.design.finding import Hit, Severity, rule
from murvan.design.house.geometry import WallPart, shape_of, wall_at
from murvan.design.house.open_rooms import LIVED_IN, open_groups, remedy
from murvan.design.limits import carries
from murvan.design.punch.saying import changer, chosen, named, q
from murvan.design.results import Results, SystemResults
from murvan.design.space.standing import misfits
from murvan.design.units.equipment import Candidate
from murvan.model.record import Point, Ref
from murvan.model.unit_edit import release_rooms


def _share(r: Results, s: SystemResults, x: Candidate, text: str, share: float, limit: float, why: str = "") -> Hit:
    have, least = q("percent", share), q("percent", limit)
    mild: Severity | None = "look" if limits.near(share, limit) else None
    at = Ref("indoor_unit", s.design.id)
    return Hit(at, named(r, s, x.unit.name), text, (have, least), have, least, severity=mild, why=why)


def _short(x: Candidate) -> str:
    """What too small a unit does in this house."""
    hours = x.season.in_state("cooling_short")
    return f"Flat out and short {hours:.0f} hours a year; rooms warm up." if hours >= 1 else ""


def _cycles(x: Candidate) -> str:
    """What too large a unit does in this house."""
    hours, of = x.season.in_state("cooling_cycling"), x.season.in_state("cooling", "cooling_cycling")
    if not hours >= 1:
        return ""
    return f"Goes on and off in {hours:.0f} of {of:.0f} hours of cooling; short runs dry little."


@rule("unit-size", 3, "fails")
def unit_size(results: Results) -> Iterator[Hit]:
    """Unit too big or too small.

    Basis: the job's size limits (Equipment, Size limits); for heads their lowest speed, Murvan default
    Why: Too small never gets there; too big cycles and does not dry.
    Remedy: Pick another candidate.
    """
    for s, x in chosen(results):
        if s.loads.house_cooling_w <= 0:
            continue
        low, high = x.limits
        if x.total_share < low:
            yield _share(results, s, x, "cools {0} of the load, at least {1}", x.total_share, low, _short(x))
        if x.total_share > high:
            yield _share(results, s, x, "cools {0} of the load, at most {1}", x.total_share, high, _cycles(x))


@rule("sensible-short", 3, "fails")
def sensible_short(results: Results) -> Iterator[Hit]:
    """Sensible capacity short.

    Basis: the job's size limits (Equipment, Size limits)
    Why: The house warms on the design day.
    Remedy: Pick a unit with more sensible capacity or more air.
    """
    for s, x in chosen(results):
        if x.sensible_share < x.limits[0]:
            yield _share(results, s, x, "carries {0} of the sensible load", x.sensible_share, x.limits[0])


@rule("latent-short", 3, "look")
def latent_short(results: Results) -> Iterator[Hit]:
    """Latent capacity short.

    Basis: the job's size limits (Equipment, Size limits)
    Why: Rooms stay clammy.
    Remedy: Less air over the coil, or a unit that dries more.
    """
    for s, x in chosen(results):
        if x.latent_share < x.sizing.latent:
            yield _share(results, s, x, "dries {0} of the latent load", x.latent_share, x.sizing.latent)


@rule("heat-short", 3, "fails")
def heat_short(results: Results) -> Iterator[Hit]:
    """Heat short at design.

    Basis: common practice
    Why: Rooms cool down on the coldest night.
    Remedy: Fit backup heat or a larger unit.
    """
    for s, x in chosen(results):
        have, need = x.heating_w + x.heater_w, s.loads.house_heating_w
        if carries(have, need):
            continue
        sizes = [k for k in x.unit.heater_kw if k * 1000 >= need - x.heating_w]
        fix = changer("indoor_units", s.design.id, heater_kw=float(sizes[0])) if sizes else None
        yield Hit(
            Ref("indoor_unit", s.design.id),
            named(results, s, x.unit.name),
            "with its backup heats {0} of {1} at design",
            (q("kpower", have), q("kpower", need)),
            q("kpower", have),
            q("kpower", need),
            fix,
            f"Fit a {sizes[0]:g} kW heater" if sizes else "",
        )


@rule("backup-large", 3, "look")
def backup_large(results: Results) -> Iterator[Hit]:
    """Backup heat larger than needed.

    Basis: the job's size limits (Equipment, Size limits)
    Why: It takes a large circuit and heats in bursts.
    Remedy: The smallest kit that makes up what the heat pump lacks.
    """
    for s, x in chosen(results):
        need = s.loads.house_heating_w
        smaller = [k for k in x.unit.heater_kw if k * 1000 < x.heater_w and x.heating_w + k * 1000 >= need]
        if x.heater_w > 0 and need > 0 and x.heating_w + x.heater_w > x.sizing.backup * need and smaller:
            have, most = q("percent", (x.heating_w + x.heater_w) / need), q("percent", x.sizing.backup)
            yield Hit(
                Ref("indoor_unit", s.design.id),
                named(results, s, x.unit.name),
                "with its backup gives {0} of the heat at design, at most {1}",
                (have, most),
                have,
                most,
                changer("indoor_units", s.design.id, heater_kw=float(smaller[0])),
                f"Fit a {smaller[0]:g} kW heater",
            )


@rule("heat-held", 3, "fails")
def heat_held(results: Results) -> Iterator[Hit]:
    """Short of heat by a lock-out.

    Basis: hours of outdoor temperature and the maker's table
    Why: Neither compressor nor backup carries the house then.
    Remedy: Let the backup on at a higher temperature, or a larger unit.
    """
    for s, x in chosen(results):
        hours = x.season.in_state("heating_short")
        if hours >= 1:
            yield Hit(
                Ref("indoor_unit", s.design.id),
                named(results, s, x.unit.name),
                "is short of heat {0} a year, {1}: its backup is kept off",
                (q("hours", hours), q("kwh", x.season.year("short_kwh"))),
                q("hours", hours),
                q("hours", 0.0),
            )


@rule("line-long", 3, "fails")
def line_long(results: Results) -> Iterator[Hit]:
    """Line set beyond the maker's limit.

    Basis: maker's data
    Why: Oil stays in the line and capacity drops.
    Remedy: Move the outdoor unit nearer.
    """
    for s, x in chosen(results):
        line = s.design.line
        if x.unit.kind in ("furnace_coil", "packaged"):
            continue
        for text, have, most, places in (
            ("lifts {0}, the maker allows {1}", line.lift_m, x.unit.line_max_lift_m, None),
            ("is {0} long, the maker allows {1}", line.length_m, x.unit.line_max_m, 0),
        ):
            if have > most:
                operands = (q("length", have, places), q("length", most, places))
                yield Hit(
                    Ref("indoor_unit", s.design.id),
                    named(results, s, "Line set"),
                    text,
                    operands,
                    q("length", have),
                    q("length", most),
                )


def _heads(r: Results) -> Iterator[tuple[SystemResults, Candidate]]:
    return ((s, x) for s, x in chosen(r) if s.design.indoor.kind != "ducted")


# ---- rooms and heads ----


@rule("room-no-unit", 3, "fails", Quantity("power", 60.0))
def room_without_unit(results: Results, worth_w: float) -> Iterator[Hit]:
    """Room that no unit serves.

    Basis: rooms to live in that need more than {0}; common practice
    Why: It has neither heat nor cold of its own.
    Remedy: Give it to a unit (Equipment, Rooms), or give it heat of its own.

    Rooms to live in that need more than `worth_w` watts and that no unit serves, in a design that shares rooms out.
    """
    if not any(x.rooms for x in results.job.design.indoor_units):
        return
    served = np.any([s.airflow.share > 0 for s in results.systems.values()], axis=0)
    for i, room in enumerate(results.job.rooms):
        need = float(max(results.loads.heating_w[i], results.loads.sensible_w[i]))
        if not served[i] and room.use in LIVED_IN and need > worth_w:
            yield Hit(
                Ref("room", room.id),
                room.name,
                "needs {0} and no unit serves it",
                (q("power", need),),
                q("power", need),
                q("power", 0),
                why=f"What helps: {remedy(room)}.",
            )


@rule("unit-idle", 3, "look")
def idle(results: Results) -> Iterator[Hit]:
    """Unit that serves no room.

    Basis: common practice
    Why: It is bought and placed for nothing.
    Remedy: Give it rooms (Equipment, Rooms), or take it away.
    """
    for s in results.systems.values():
        if len(results.systems) > 1 and not s.design.serves and results.job.rooms:
            yield Hit(Ref("indoor_unit", s.design.id), s.design.indoor.tag, "serves no room")


@rule("head-wall", 3, "fails")
def through_wall(results: Results) -> Iterator[Hit]:
    """Head behind a wall.

    Basis: rooms that an archway joins count as one; common practice
    Why: A closed room is not served through its wall.
    Remedy: A head of its own, a slim ducted unit, or a transfer fan.
    """
    job = results.job
    for s in results.systems.values():
        own = s.design.indoor
        if own.kind == "ducted" or not own.rooms:
            continue
        groups = open_groups(job)
        hangs = _hangs_in(s)
        together = next((g for g in groups if hangs in {r.id for r in g}), ())
        beside = {r.id for r in together}
        for room in (r for r in job.rooms if r.id in own.rooms and r.id not in beside and together):
            yield Hit(
                Ref("room", room.id),
                room.name,
                f"is given to {own.tag}, which hangs behind a wall",
                fix=partial(release_rooms, rooms=(room.id,)),
                fix_label="Serve it by no unit",
                why=f"A closed room is not served through its wall. What helps: {remedy(room)}.",
            )
        if not together:
            yield Hit(Ref("indoor_unit", own.id), own.tag, "hangs in none of the rooms")


def _hangs_in(s: SystemResults) -> str | None:
    own = s.design.indoor
    here = (r for r in s.design.rooms if r.storey == own.storey)
    return next((r.id for r in here if shapely.contains_xy(_shape(r.outline_m), *own.position_m)), None)


@lru_cache(maxsize=1024)
def _shape(outline: tuple[Point, ...]) -> Polygon:
    """A room with a little of its walls: heads hang at them."""
    return Polygon(outline).buffer(0.05)


@rule("head-closet", 3, "fails", Quantity("area", 4.0))
def in_closet(results: Results, least_m2: float) -> Iterator[Hit]:
    """Head in a closet.

    Basis: rooms under {0} that are not to live in; common practice
    Why: Its air goes round in circles and it stops.
    Remedy: Hang it in the room it serves.

    Heads in a closet, or in a room smaller than `least_m2` that is not to live in.
    """
    job, area = results.job, dict(zip((r.id for r in results.job.rooms), results.geometry.area_m2, strict=True))
    rooms = {r.id: r for r in job.rooms}
    for s, _ in _heads(results):
        own = s.design.indoor
        inside = (p for p in job.places if p.storey == own.storey and p.kind == "closet")
        room = rooms.get(_hangs_in(s) or "")
        small = room is not None and room.use not in LIVED_IN and area[room.id] < least_m2
        closet = next((p.name for p in inside if shape_of(p.outline_m).contains(At(own.position_m))), None)
        if closet or (small and room is not None):
            yield Hit(Ref("indoor_unit", own.id), own.tag, f"hangs in {closet or (room.name if room else '')}")


@rule("head-draught", 3, "look", Quantity("feet", 1.2))
def on_people(results: Results, near_m: float) -> Iterator[Hit]:
    """Head over a bed or seat.

    Basis: {0} and more from where people sit and lie; common practice
    Why: Cold air falls on whoever sits there.
    Remedy: Hang it on another wall, or move the bed.

    Heads that hang within `near_m` of a bed or seat.
    """
    job = results.job
    for s, _ in _heads(results):
        own = s.design.indoor
        room = _hangs_in(s)
        seats = [f for f in job.furniture if f.room == room and f.kind not in ("desk", "table")]
        seat = min(seats, key=lambda f: dist(f.position_m, own.position_m), default=None)
        if seat is not None and (apart := dist(seat.position_m, own.position_m)) < near_m:
            yield Hit(
                Ref("indoor_unit", own.id),
                own.tag,
                f"hangs {{0}} from the {seat.kind.replace('_', ' ')}",
                (q("feet", apart),),
                q("feet", apart),
                q("feet", near_m),
            )


@rule("cassette-fits", 3, "fails", Quantity("size", 0.0381))
def cassette_fits(results: Results, wood_m: float) -> Iterator[Hit]:
    """Cassette that does not go into the ceiling.

    Basis: maker's size against the ceiling; joists {0} thick
    Why: It does not go in without cutting a joist.
    Remedy: A one-way cassette along the joists, a wall head, or a slim ducted unit.

    Cassettes deeper than it is above the ceiling, or wider than between joists of thickness `wood_m`.
    """
    storeys = {x.id: x for x in results.job.storeys}
    for s, x in _heads(results):
        storey = storeys.get(s.design.indoor.storey or "")
        if s.design.indoor.kind != "ceiling" or storey is None:
            continue
        above = storey.ceiling_structure
        clear = max(storey.ceiling_space_m, above.depth_m if above else 0.0)
        if 0 < clear < x.unit.height_m:
            yield _too_much(s, "is {0} deep, above the ceiling are {1}", x.unit.height_m, clear)
        if above is None or above.kind not in ("joists", "i_joists"):
            continue
        between, narrow = above.spacing_m - wood_m, min(x.unit.width_m, x.unit.depth_m)
        if narrow > between:
            yield _too_much(s, "is {0} wide, between the joists are {1}", narrow, between)


@rule("cassette-access", 3, "look")
def cassette_access(results: Results) -> Iterator[Hit]:
    """Cassette without access.

    Basis: geometry
    Why: Its pump and its joints are reached through the ceiling alone.
    Remedy: Plan an access panel beside it, or a wall head.
    """
    ids, over = [r.id for r in results.job.rooms], results.geometry.ceilings_m2
    for s, _ in _heads(results):
        room = _hangs_in(s)
        if s.design.indoor.kind == "ceiling" and room is not None:
            k = ids.index(room)
            if sum(over[what][k] for what in over) <= 0:
                yield Hit(Ref("indoor_unit", s.design.id), s.design.indoor.tag, "has a heated room over it")


@rule("unit-place", 3, "fails", Quantity("size", limits.SERVICE_M))
def in_its_place(results: Results, service_m: float) -> Iterator[Hit]:
    """Unit that does not go into its place.

    Basis: maker's size and {0} to work before it; common practice, the maker and the local code decide
    Why: It does not go in, or nobody can change its filter.
    Remedy: A smaller unit, another way up, or another place.

    Ducted units that with `service_m` to work before them don't go into the place they stand in.
    """
    for s, x in chosen(results):
        own, unit = s.design.indoor, x.unit
        if own.kind != "ducted" or unit.kind in ("packaged", "slim_ducted"):
            continue
        for m in misfits(results.job, own, unit, service_m):
            yield _placed(s, m.words, m.need_m, m.has_m)


def _placed(s: SystemResults, text: str, have_m: float, most_m: float) -> Hit:
    have, most = q("size", have_m), q("size", most_m)
    return Hit(Ref("indoor_unit", s.design.id), s.design.indoor.tag, text, (have, most), have, most)


@rule("slim-fits", 3, "fails")
def slim_fits(results: Results) -> Iterator[Hit]:
    """Slim unit that does not go in.

    Basis: maker's size against the clear height
    Why: It does not go in, or nobody can reach it.
    Remedy: A flatter unit, a soffit, or another place.
    """
    storeys = {x.id: x for x in results.job.storeys}
    for s, x in chosen(results):
        own = s.design.indoor
        storey = storeys.get(own.storey or "")
        if x.unit.kind != "slim_ducted" or storey is None:
            continue
        places = (p for p in results.job.places if p.storey == storey.id and p.kind != "chase")
        place = next((p for p in places if shapely.contains_xy(shape_of(p.outline_m), *own.position_m)), None)
        clear = place.clear_m if place is not None else storey.ceiling_space_m
        if 0 < clear < x.unit.height_m:
            yield _too_much(s, "is {0} deep, clear are {1}", x.unit.height_m, clear)


@rule("head-way", 3, "look")
def no_way_out(results: Results) -> Iterator[Hit]:
    """Head without a way outside.

    Basis: the wall it hangs on; common practice
    Why: Lines in a chase and a drain uphill are what fails first.
    Remedy: An outside wall, or a pump with a way for it.
    """
    walls: dict[int, list[WallPart]] = {}
    for part in results.geometry.walls:
        walls.setdefault(part.room, []).append(part)
    ids = [r.id for r in results.job.rooms]
    for s, _ in _heads(results):
        own, room = s.design.indoor, _hangs_in(s)
        if own.kind == "ceiling" or own.drain == "pump" or room is None:
            continue
        k = ids.index(room)
        at = At(own.position_m)
        lines = [(_stretch(results.job.rooms[k].outline_m, w).distance(at), w.other) for w in walls.get(k, [])]
        if lines and min(lines)[1] not in ("outdoors", "garage"):
            yield Hit(
                Ref("indoor_unit", own.id),
                own.tag,
                "hangs on an inside wall: its line and drain have to go through the house",
                fix=changer("indoor_units", own.id, drain="pump"),
                fix_label="Drain it by a pump",
            )


def _stretch(outline: tuple[Point, ...], w: WallPart) -> LineString:
    return LineString(wall_at(outline, w.wall, w.start_m, w.start_m + w.length_m))


def _too_much(s: SystemResults, text: str, have_m: float, most_m: float) -> Hit:
    have, most = q("size1", have_m), q("size1", most_m)
    return Hit(Ref("indoor_unit", s.design.id), s.design.indoor.tag, text, (have, most), have, most)
