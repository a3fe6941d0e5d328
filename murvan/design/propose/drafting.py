"""The records of a scheme: systems, outdoor and indoor units with their places, zones; ducts that are there may stay."""

from __future__ import annotations

from typing import Any

from murvan.design.house.levels import in_room
from murvan.design.propose.choosing import Picked
from murvan.design.propose.schemes import Scheme, ServedPlace
from murvan.design.space.spots import best_spot as best_stand
from murvan.design.units.hanging import best_spot, on_outside_wall
from murvan.design.units.siting import Surroundings, outdoor_spot
from murvan.model.design import Box, Design, IndoorUnit, OutdoorUnit, RefrigerantLine, System, Zone
from murvan.model.edit import changed
from murvan.model.house import floor_heights
from murvan.model.job import Job
from murvan.model.unit_edit import BOX_M


def draft(x: Surroundings, scheme: Scheme, picked: Picked | None = None) -> Design:
    """The design of a scheme; its units are not chosen yet without `picked`. The ventilation stays."""
    job = x.job
    if scheme.keeps_ducts:
        return _in_place(job, scheme, picked)
    groups = [(m, g) for m, g in picked.shared] if picked and picked.shared else []
    hung = {k: (m, n) for n, (m, g) in enumerate(groups) for k in g}
    spots = _spots(x, scheme)
    systems, indoor, boxes, lines = [], [], [], []
    outdoor: list[OutdoorUnit] = []
    for k, place in enumerate(scheme.places):
        unit, kit = picked.units[k] if picked else (None, 0.0)
        n = hung[k][1] if k in hung else k
        first = k not in hung or groups[n][1][0] == k
        if first:
            multi = hung[k][0] if k in hung else None
            name = multi.name if multi is not None else place.tag
            systems.append(System(id=f"system{n + 1}", name=name))
            outdoor.append(_outdoor(x, outdoor, multi.id if multi is not None else None, spots[k]))
            if multi is not None and multi.feeds != "ports":
                boxes.append(_box(n, multi.feeds, multi.ports, _storey(job, place), spots[k]))
        if k in hung and hung[k][0].feeds != "ports":
            lines.append(RefrigerantLine(id=f"line{k + 1}", indoor=f"unit{k + 1}", box=f"box{n + 1}"))
        whole = len(scheme.places) == 1 and place.kind == "ducted"
        indoor.append(
            IndoorUnit(
                id=f"unit{k + 1}",
                tag=place.tag,
                system=f"system{n + 1}",
                kind=place.kind,
                unit=unit.id if unit else None,
                outdoor=f"outdoor{n + 1}",
                storey=_storey(job, place),
                position_m=spots[k],
                rooms=() if whole else place.rooms,
                heater_kw=kit,
                room_heat_w=picked.room_heat_w[k] if picked and picked.room_heat_w else 0.0,
                drain="gravity" if _runs_off(x, place, spots[k]) else "pump",
                heat_share=place.heat_share,
                tap=min(3, len(unit.blower.taps_m3_s)) if unit else 1,
            )
        )
    fans = tuple(changed(v, v.id, indoor=None) for v in job.design.ventilators)
    made = Design(
        id="proposal",
        name=scheme.name,
        air=job.design.air,
        systems=tuple(systems),
        outdoor_units=tuple(outdoor),
        indoor_units=tuple(indoor),
        boxes=tuple(boxes),
        lines=tuple(lines),
        zones=_zones(scheme),
        ventilators=fans,
    )
    return _well_placed(job, made) if picked else made


def _well_placed(job: Job, design: Design) -> Design:
    """The design with each ducted unit where it goes in, one after the other: the whole house's on any storey, others on the one
    of their rooms."""
    own = {u.id: u for u in design.indoor_units if u.kind == "ducted"}
    at: dict[str, IndoorUnit] = {i: u.model_copy(update={"storey": None}) for i, u in own.items()}
    for i, u in own.items():
        now = tuple(at.get(x.id, x) for x in design.indoor_units)
        bare = changed(job, design=design.model_copy(update={"indoor_units": now}))
        at[i] = best_stand(bare, i, u.storey if u.rooms else None) or u
    return changed(design, design.name, indoor_units=tuple(at.get(x.id, x) for x in design.indoor_units))


def _in_place(job: Job, scheme: Scheme, picked: Picked | None) -> Design:
    """The design worked on with another unit on its ducts; what was measured and hung was of the old one."""
    unit, kit = picked.units[0] if picked else (None, 0.0)
    own = job.design.indoor_units[0]
    fields: dict[str, Any] = {"unit": unit.id if unit else None, "heater_kw": kit, "flow_m3_s": None}
    fields["heat_share"] = scheme.places[0].heat_share
    fields["room_heat_w"] = picked.room_heat_w[0] if picked and picked.room_heat_w else 0.0
    if unit is not None:
        fields["tap"] = min(own.tap, len(unit.blower.taps_m3_s))
    return changed(
        job.design,
        scheme.name,
        id="proposal",
        name=scheme.name,
        note="",
        systems=tuple(changed(x, candidates=(), lockout_c=None) for x in job.design.systems),
        indoor_units=(changed(own, **fields),),
        layout=job.design.layout + 1,
        ticks=(),
    )


def _zones(scheme: Scheme) -> tuple[Zone, ...]:
    return tuple(Zone(id=f"zone{k}", name=name, rooms=rooms) for k, (name, rooms) in enumerate(scheme.zones, 1))


def _runs_off(x: Surroundings, place: ServedPlace, at: tuple[float, float]) -> bool:
    """Whether water gets outside by itself: from above the ground, and from heads at an outside wall."""
    storey = _storey(x.job, place)
    if floor_heights(x.job.storeys)[storey] < -0.5:
        return False
    room = next((r for r in x.job.rooms if r.storey == storey and in_room(r, at)), None)
    return place.kind == "ducted" or room is None or on_outside_wall(x, room, at)


def _storey(job: Job, place: ServedPlace) -> str:
    return next(r.storey for r in job.rooms if r.id == place.rooms[0])


def _spots(x: Surroundings, scheme: Scheme) -> list[tuple[float, float]]:
    """Where each indoor unit stands or hangs: ducted ones in a place for equipment where the survey has one."""
    job = x.job
    rooms = {r.id: r for r in job.rooms}
    out = []
    for place in scheme.places:
        first = next((rooms[r] for r in place.rooms if rooms[r].name == place.role), rooms[place.rooms[0]])
        own = (p for p in job.places if p.storey == first.storey and not p.boxes_ducts)
        surveyed = next(own, None) if place.kind == "ducted" else None
        if surveyed is not None:
            xs, ys = zip(*surveyed.outline_m, strict=True)
            out.append((sum(xs) / len(xs), sum(ys) / len(ys)))
        else:
            out.append(best_spot(x, first, place.kind))
    return out


def _outdoor(x: Surroundings, there: list[OutdoorUnit], unit: str | None, near: tuple[float, float]) -> OutdoorUnit:
    n = len(there)
    at = outdoor_spot(x, near, [o.position_m for o in there if o.position_m is not None])
    return OutdoorUnit(id=f"outdoor{n + 1}", system=f"system{n + 1}", unit=unit, position_m=at)


def _box(n: int, kind: Any, ports: int, storey: str, at: tuple[float, float]) -> Box:
    return Box(
        id=f"box{n + 1}",
        outdoor=f"outdoor{n + 1}",
        kind=kind,
        ports=ports,
        storey=storey,
        position_m=at,
        height_m=BOX_M,
    )
