"""The checks of outdoor units: where they stand, who hears them, and what several units share."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import partial
from math import dist

import shapely
from shapely.geometry import Point as At
from shapely.geometry import Polygon

from murvan.design import limits
from murvan.design.arithmetic import Quantity
from murvan.design.finding import Hit, rule
from murvan.design.house.geometry import shape_of
from murvan.design.punch.saying import changer, chosen, named, q
from murvan.design.results import Results
from murvan.design.study.heard import each, together
from murvan.design.units.equipment import goes_here
from murvan.design.units.siting import ground_storey, sound_at
from murvan.model.equipment import Machine
from murvan.model.house import floor_heights
from murvan.model.record import Ref
from murvan.model.unit_edit import with_box


@rule("outdoor-loud", 3, "look", Quantity("sound", limits.QUIET_DBA), Quantity("feet", 1.0))
def outdoor_loud(results: Results, most_dba: float, _at_m: float) -> Iterator[Hit]:
    """Outdoor unit heard in a bedroom.

    Basis: {0} at the window, free field from the maker's sound at {1}; common practice, the local bylaw decides
    Why: People sleep badly, neighbours complain.
    Remedy: Another side of the house, farther off, or a quieter unit.

    Outdoor units that are louder than `most_dba` at a bedroom window.
    """
    for o, heard in each(results.job, results):
        if heard.sound_dba > most_dba:
            first = next(x.id for x in results.job.design.indoor_units if x.outdoor == o.id)
            yield Hit(
                Ref("indoor_unit", first),
                "Outdoor unit",
                f"is heard at the window of {heard.room.name} with {{0}} from {{1}} away, limit {{2}}",
                (q("sound", heard.sound_dba), q("feet", heard.distance_m), q("sound", most_dba)),
                q("sound", heard.sound_dba),
                q("sound", most_dba),
            )


@rule("outdoor-inside", 3, "fails")
def outdoor_inside(results: Results) -> Iterator[Hit]:
    """Outdoor unit not outdoors.

    Basis: geometry
    Why: It needs free air on all sides.
    Remedy: Place it outside (Equipment, Rooms, O).
    """
    job, lowest = results.job, ground_storey(results.job) if results.job.storeys else ""
    places = [(r.name, r.outline_m) for r in job.rooms if r.storey == lowest]
    places += [(s.name, s.outline_m) for s in job.spaces if s.storey == lowest]
    places += [(k.name, k.outline_m) for k in job.keep_clear if k.storey == lowest]
    for o in job.design.outdoor_units:
        at = o.position_m
        inside = next((n for n, line in places if at and shapely.contains_xy(Polygon(line), *at)), None)
        first = next((x.id for x in job.design.indoor_units if x.outdoor == o.id), None)
        if inside is not None and first is not None:
            yield Hit(Ref("indoor_unit", first), "Outdoor unit", f"stands in {inside}")


@rule("outdoor-stand", 3, "look")
def outdoor_stand(results: Results) -> Iterator[Hit]:
    """Outdoor unit too low.

    Basis: what snow or water reaches, as typed
    Why: Buried, it ices up and stops.
    Remedy: A higher stand, or brackets on the wall.
    """
    d, snow = results.job.design, results.job.services.snow_m
    for o in d.outdoor_units:
        first = next((x for x in d.indoor_units if x.outdoor == o.id), None)
        if first is not None and snow > o.stand_m:
            yield Hit(
                Ref("indoor_unit", first.id),
                "Outdoor unit" if len(d.outdoor_units) == 1 else f"Outdoor unit of {first.tag}",
                "stands {0} over the ground, snow or water reaches {1}",
                (q("size", o.stand_m), q("size", snow)),
                q("size", o.stand_m),
                q("size", snow),
                changer("outdoor_units", o.id, stand_m=min(snow + STAND_OVER_M, 5.0)),
                "Set it on a higher stand",
            )


@rule("outdoor-chorus", 3, "look", Quantity("sound", limits.QUIET_DBA))
def heard_together(results: Results, most_dba: float) -> Iterator[Hit]:
    """Outdoor units heard together.

    Basis: {0} at the window, levels of all of them added; common practice, the local bylaw decides
    Why: Each alone is quiet enough, all of them are not.
    Remedy: Spread them over the sides of the house, or hang heads on a shared one.
    """
    heard = together(results.job, results)
    alone = max((x.sound_dba for _, x in each(results.job, results)), default=0.0)
    if heard is not None and heard.sound_dba > most_dba >= alone:
        first = results.job.design.indoor_units[0].id
        have, most = q("sound", heard.sound_dba), q("sound", most_dba)
        words = f"are heard together at the window of {heard.room.name} with {{0}}, limit {{1}}"
        yield Hit(Ref("indoor_unit", first), "Outdoor units", words, (have, most), have, most)


STAND_OVER_M = 0.1


@rule("outdoor-near", 3, "look", Quantity("size", 0.15))
def outdoor_near(results: Results, air_m: float) -> Iterator[Hit]:
    """Outdoor unit without air.

    Basis: {0} behind it and between two; common practice, the maker's plate decides
    Why: It breathes its own air and loses capacity.
    Remedy: Move it away from the wall, or from the next one.

    Outdoor units with less than `air_m` between them and a wall of the house, or each other.
    """
    job = results.job
    lowest = ground_storey(job) if job.storeys else ""
    walls = [shape_of(r.outline_m) for r in job.rooms if r.storey == lowest]
    placed = [(o, s) for o in job.design.outdoor_units if o.position_m for s in _units_of(results, o.id)]
    for k, (o, unit) in enumerate(placed):
        at, half = At(o.position_m), min(unit.width_m, unit.depth_m) / 2
        gaps = [w.distance(at) - half for w in walls if not w.contains(at)]
        gaps += [dist(o.position_m or (0, 0), p.position_m or (0, 0)) - half - half for p, _ in placed[:k]]
        gap = max(min(gaps, default=9.0), 0.0)
        first = next(x for x in job.design.indoor_units if x.outdoor == o.id)
        if gap < air_m * 0.99:
            yield Hit(
                Ref("indoor_unit", first.id),
                f"Outdoor unit of {first.tag}" if len(placed) > 1 else "Outdoor unit",
                "has {0} of air beside it, at least {1}",
                (q("size", gap), q("size", air_m)),
                q("size", gap),
                q("size", air_m),
            )


def _units_of(results: Results, outdoor: str) -> Sequence[Machine]:
    """The machine that stands outdoors: shared, or that of its indoor unit."""
    if outdoor in results.outdoors:
        return [results.outdoors[outdoor].unit]
    return [s.unit for s in results.systems.values() if s.design.indoor.outdoor == outdoor and s.unit is not None][:1]


@rule("outdoor-neighbour", 3, "look", Quantity("sound", limits.QUIET_DBA))
def neighbour_hears(results: Results, most_dba: float) -> Iterator[Hit]:
    """Outdoor unit heard next door.

    Basis: {0} at the neighbour's window, free field from the maker's sound; common practice, the local bylaw
        decides
    Why: Neighbours complain, and may have it moved.
    Remedy: Another side of the house, farther off, or a quieter unit.

    Outdoor units that are louder than `most_dba` at the neighbour's window.
    """
    for o in results.job.design.outdoor_units:
        for unit in _units_of(results, o.id):
            loud = sound_at(unit.sound_dba, o.neighbour_m) if o.neighbour_m is not None else 0.0
            if loud > most_dba:
                first = next(x.id for x in results.job.design.indoor_units if x.outdoor == o.id)
                yield Hit(
                    Ref("indoor_unit", first),
                    "Outdoor unit",
                    "is heard at the neighbour's with {0}, limit {1}",
                    (q("sound", loud), q("sound", most_dba)),
                    q("sound", loud),
                    q("sound", most_dba),
                )


@rule("drain-up", 3, "look")
def drains_up(results: Results) -> Iterator[Hit]:
    """Drain that runs uphill.

    Basis: geometry
    Why: Water stands in the pan and comes through.
    Remedy: A condensate pump with its float switch.
    """
    floor = floor_heights(results.job.storeys)
    for s, x in chosen(results):
        own = s.design.indoor
        if x.unit.kind != "packaged" and own.drain == "gravity" and floor.get(own.storey or "", 0.0) < -0.5:
            yield Hit(
                Ref("indoor_unit", own.id),
                named(results, s, "Drain"),
                "runs uphill: the floor lies {0} below the ground",
                (q("feet", -floor[own.storey or ""]),),
                fix=changer("indoor_units", own.id, drain="pump"),
                fix_label="Fit a pump",
            )


@rule("panel-full", 3, "look")
def panel_full(results: Results) -> Iterator[Hit]:
    """Panel without a space.

    Basis: free double-pole spaces as typed; a licensed electrician and the local code decide
    Why: The unit can't be connected as the panel stands.
    Remedy: A sub-panel or a larger service.
    """
    free = results.job.services.panel_spaces
    d = results.job.design
    picked = [s for s in results.systems.values() if s.unit is not None]
    if free is None or not picked:
        return
    needed = len({s.design.indoor.outdoor or s.design.id for s in picked})
    needed += sum((x.heater_kw > 0) + (x.room_heat_w > 0) for x in d.indoor_units)
    if needed > free:
        have, most = q("number", needed, 0), q("number", free, 0)
        yield Hit(
            Ref("indoor_unit", picked[0].design.id),
            "The panel",
            "has {1} free spaces, {0} circuits are needed",
            (have, most),
            have,
            most,
        )


@rule("outdoor-several", 3, "fails")
def several_on_one(results: Results) -> Iterator[Hit]:
    """Units that don't go on their outdoor unit.

    Basis: maker's data
    Why: There is no port for their line, or no common refrigerant and wiring.
    Remedy: Choose an outdoor unit with ports of the same maker, or one for each.
    """
    d = results.job.design
    for o in d.outdoor_units:
        hung = [x for x in d.indoor_units if x.outdoor == o.id]
        if len(hung) > 1 and o.id not in results.outdoors:
            tags = ", ".join(x.tag for x in hung[:4])
            yield Hit(
                Ref("indoor_unit", hung[0].id),
                "One outdoor unit",
                f"carries {len(hung)} units and has no ports: {tags}",
            )
    for x in results.outdoors.values():
        for u, c in x.hung:
            if not goes_here(c.unit, u.indoor, x.unit):
                yield Hit(Ref("indoor_unit", u.id), u.indoor.tag, f"{c.unit.name} does not go on {x.unit.name}")


@rule("outdoor-ports", 3, "fails")
def ports_short(results: Results) -> Iterator[Hit]:
    """Outdoor unit short of ports.

    Basis: maker's data
    Why: A unit without a port is not connected.
    Remedy: An outdoor unit with more ports, a branch box, or a second one.
    """
    for x in results.outdoors.values():
        first = Ref("indoor_unit", x.hung[0][0].id) if x.hung else Ref("house", x.outdoor.id)
        if len(x.hung) > x.ports:
            have, most = q("number", len(x.hung), 0), q("number", x.ports, 0)
            yield Hit(first, x.unit.name, "carries {0} units on {1} ports", (have, most), have, most)
        if x.unit.feeds != "ports" and not x.boxes and x.hung:
            box = x.unit.feeds.replace("_", " ")
            yield Hit(
                first,
                x.unit.name,
                f"needs a {box} and none is planned",
                fix=partial(with_box, outdoor_id=x.outdoor.id, kind=x.unit.feeds, ports=x.unit.ports),
                fix_label=f"Plan a {box}",
                severity="look",
            )


@rule("outdoor-connected", 3, "fails")
def connected_share(results: Results) -> Iterator[Hit]:
    """Units connected out of the maker's range.

    Basis: maker's data
    Why: Too little and it can't run low enough; too much and no room gets its part.
    Remedy: Another size outdoors, or other heads.
    """
    for x in results.outdoors.values():
        low, high = x.unit.connected
        if x.hung and not low <= x.connected_share <= high:
            text = "carries {0} of its size in units, the maker allows {1} to {2}"
            operands = (q("percent", x.connected_share), q("percent", low), q("percent", high))
            limit = operands[1] if x.connected_share < low else operands[2]
            yield Hit(Ref("indoor_unit", x.hung[0][0].id), x.unit.name, text, operands, operands[0], limit)


@rule("outdoor-short", 3, "fails", Quantity("percent", 0.9))
def shared_short(results: Results, least: float) -> Iterator[Hit]:
    """Outdoor unit short when all call.

    Basis: {0} of the load of its rooms at the hour they ask for most together; all of the heat at design
    Why: On the design day some rooms don't hold.
    Remedy: The next size outdoors, or a second outdoor unit.

    Outdoor units that carry less than the share `least` of what their rooms ask for together, in either season.
    """
    for x in results.outdoors.values():
        backup_w = sum(c.heater_w for _, c in x.hung)
        for have, need, share, season in (
            (x.cooling_w, x.coincident_w, least, "cools"),
            (x.heating_w + backup_w, x.heating_load_w, 1 - limits.ROUNDED, "heats"),
        ):
            if x.hung and need > 0 and have < share * need:
                text = f"{season} {{0}} of {{1}} that its rooms ask for at the same hour"
                operands = (q("kpower", have), q("kpower", need))
                yield Hit(Ref("indoor_unit", x.hung[0][0].id), x.unit.name, text, operands, *operands)


@rule("outdoor-lines", 3, "fails")
def lines_together(results: Results) -> Iterator[Hit]:
    """Lines together beyond the maker's limit.

    Basis: maker's data
    Why: Oil stays in the lines and capacity drops.
    Remedy: Move the outdoor unit nearer, or take two.
    """
    for x in results.outdoors.values():
        if x.line_m > x.unit.line_total_m:
            operands = (q("length", x.line_m, 0), q("length", x.unit.line_total_m, 0))
            text = "has {0} of line in all, the maker allows {1}"
            yield Hit(Ref("indoor_unit", x.hung[0][0].id), x.unit.name, text, operands, *operands)
