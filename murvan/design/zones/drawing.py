"""Zones drawn by hand: rooms that join a zone or make one, thermostats placed, a way to part the house taken up."""

from __future__ import annotations

from collections.abc import Sequence

from murvan.design.drawing.rooms import Drawn
from murvan.design.drawing.things import room_at
from murvan.design.zones.plans import Parts, damper_places, thermostat_place, with_dampers, with_zones
from murvan.model.design import Zone
from murvan.model.design_edit import put_in_zone, zone_of
from murvan.model.edit import changed, free_id, insert, replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Point


def join_zone(job: Job, rooms: tuple[str, ...], alone: bool) -> Drawn:
    """Rooms put into the zone of the first one, or into a zone of their own.

    Args:
        alone: They make a new zone; so they do where the first one is in none.

    Raises:
        JobValueError: no room.
    """
    if not rooms:
        raise JobValueError("Zones are made of rooms; press inside one.")
    own = zone_of(job.design, rooms[0])
    by_rule = placed_by_rule(job)
    if alone or own is None:
        own = free_id("", {z.id for z in job.design.zones})
        name = next(r.name for r in job.rooms if r.id == rooms[0])
        job = insert(job, "zones", Zone(id=own, name=_free(job, name)))
    job = put_in_zone(job, rooms, own)
    zones = tuple(_hung(job, z) for z in job.design.zones if z.rooms)
    if by_rule:
        job = with_dampers(job, zones)
    else:
        left = {z.id for z in zones}
        runs = tuple(
            changed(r, r.tag, zone_damper=None) if r.zone_damper and r.zone_damper not in left else r
            for r in job.design.runs
        )
        job = with_design(job, zones=zones, runs=runs)
    zone = next(z for z in job.design.zones if z.id == own)
    return Drawn(job, "room", rooms[0], f"{zone.name}: {len(zone.rooms)} room{'s' if len(zone.rooms) > 1 else ''}")


def _free(job: Job, name: str) -> str:
    names = {z.name for z in job.design.zones}
    tries = (name, *(f"{name} {k}" for k in range(2, 99)))
    return next(x for x in tries if x not in names)[:60]


def _hung(job: Job, zone: Zone) -> Zone:
    """A zone whose thermostat hangs in one of its rooms: moved where its room went elsewhere."""
    if zone.position_m is not None and zone.storey is not None:
        room = room_at(job, zone.storey, zone.position_m)
        if room is not None and room.id in zone.rooms:
            return zone
    found = thermostat_place(job, zone, job.design.zones)
    return zone if found is None else changed(zone, zone.name, storey=found[0], position_m=found[1])


def placed_by_rule(job: Job) -> bool:
    """Whether every zone damper is where Murvan puts it, so that it may be placed anew."""
    at, _ = damper_places(job, tuple((z.id, z.rooms) for z in job.design.zones))
    now = {r.id: r.zone_damper for r in job.design.runs if r.zone_damper}
    return not now or now == at


def thermostat_at(job: Job, storey: str, at: Point, zone_id: str | None = None) -> Drawn:
    """A thermostat where it was pressed: that of the room's zone.

    Args:
        zone_id: The one that is moved; None: of the room there.

    Raises:
        JobValueError: no room, or a room in no zone, or one of another zone.
    """
    room = room_at(job, storey, at)
    if room is None:
        raise JobValueError("A thermostat hangs in a room; press inside one.")
    own = zone_of(job.design, room.id)
    if own is None:
        raise JobValueError(f"{room.name} is in no zone yet: drag zones with Z first.")
    if zone_id is not None and own != zone_id:
        names = {z.id: z.name for z in job.design.zones}
        raise JobValueError(
            f"{room.name} is in {names[own]}: the thermostat of {names[zone_id]} hangs in its own rooms."
        )
    return Drawn(replace(job, "zones", own, storey=storey, position_m=at), "room", room.id)


def parted(job: Job, parts: Parts, rooms_of: Sequence[str] = ()) -> Job:
    """The job parted into zones anew, thermostats and dampers placed; stops and bypass of the old zones go with them.

    Args:
        parts: none: one thermostat for all.
        rooms_of: By zone the room of its thermostat, see `with_zones`.

    Raises:
        JobValueError: a zone can't be so.
    """
    units = tuple(changed(x, x.tag, bypass=None, turns_down=False) for x in job.design.indoor_units)
    return with_zones(with_design(job, indoor_units=units), parts, rooms_of)
