"""The checks of outdoor units: where they stand, who hears them, and what several units share."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import partial
from math import dist

import shapely
from shapely.geometry import Point as At
from shapely.geometry import Polygon

from murvan.design.finding import Hit
from murvan.design.punch.saying import changer, chosen, named, q
from murvan.design.results import Results
from murvan.design.study.heard import each
from murvan.design.units.equipment import goes_here
from murvan.design.units.siting import ground_storey, sound_at
from murvan.model.equipment import Machine
from murvan.model.house import floor_heights
from murvan.model.record import Ref
from murvan.model.unit_edit import with_box


def outdoor_loud(results: Results, most_dba: float, _at_m: float) -> Iterator[Hit]:
    """Outdoor units that are louder than `most_dba` at a bedroom window."""
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


def outdoor_inside(results: Results) -> Iterator[Hit]:
    """Outdoor units inside the house, in a garage or on floor to keep clear."""
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


def outdoor_stand(results: Results) -> Iterator[Hit]:
    """Outdoor units whose feet lie under the snow or the water."""
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


STAND_OVER_M = 0.1


def outdoor_near(results: Results, air_m: float) -> Iterator[Hit]:
    """Outdoor units with less than `air_m` between them and a wall of the house, or each other."""
    job = results.job
    lowest = ground_storey(job) if job.storeys else ""
    walls = [Polygon(r.outline_m) for r in job.rooms if r.storey == lowest]
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


def neighbour_hears(results: Results, most_dba: float) -> Iterator[Hit]:
    """Outdoor units that are louder than `most_dba` at the neighbour's window."""
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


def drains_up(results: Results) -> Iterator[Hit]:
    """Units below the ground whose water is to run away by itself."""
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


def panel_full(results: Results) -> Iterator[Hit]:
    """More circuits than the panel has free spaces."""
    free = results.job.services.panel_spaces
    d = results.job.design
    picked = [s for s in results.systems.values() if s.unit is not None]
    if free is None or not picked:
        return
    needed = len({s.design.indoor.outdoor or s.design.id for s in picked})
    needed += sum(x.heater_kw > 0 for x in d.indoor_units)
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


def several_on_one(results: Results) -> Iterator[Hit]:
    """Outdoor units with several indoor units but no ports, and indoor units that don't go on the one they hang on."""
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


def ports_short(results: Results) -> Iterator[Hit]:
    """Outdoor units with more indoor units than ports, or without the box their line needs."""
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


def connected_share(results: Results) -> Iterator[Hit]:
    """What hangs on an outdoor unit, by nominal size, outside the maker's range."""
    for x in results.outdoors.values():
        low, high = x.unit.connected
        if x.hung and not low <= x.connected_share <= high:
            text = "carries {0} of its size in units, the maker allows {1} to {2}"
            operands = (q("percent", x.connected_share), q("percent", low), q("percent", high))
            limit = operands[1] if x.connected_share < low else operands[2]
            yield Hit(Ref("indoor_unit", x.hung[0][0].id), x.unit.name, text, operands, operands[0], limit)


def shared_short(results: Results, least: float) -> Iterator[Hit]:
    """Outdoor units that carry less than the share `least` of what their rooms ask for together, in either season."""
    for x in results.outdoors.values():
        backup_w = sum(u.indoor.heater_kw * 1000 for u, c in x.hung if c.unit.takes_kit)
        for have, need, share, season in (
            (x.cooling_w, x.coincident_w, least, "cools"),
            (x.heating_w + backup_w, x.heating_load_w, 0.999, "heats"),
        ):
            if x.hung and need > 0 and have < share * need:
                text = f"{season} {{0}} of {{1}} that its rooms ask for at the same hour"
                operands = (q("kpower", have), q("kpower", need))
                yield Hit(Ref("indoor_unit", x.hung[0][0].id), x.unit.name, text, operands, *operands)


def lines_together(results: Results) -> Iterator[Hit]:
    """Lines of one outdoor unit that are longer together than the maker allows."""
    for x in results.outdoors.values():
        if x.line_m > x.unit.line_total_m:
            operands = (q("length", x.line_m, 0), q("length", x.unit.line_total_m, 0))
            text = "has {0} of line in all, the maker allows {1}"
            yield Hit(Ref("indoor_unit", x.hung[0][0].id), x.unit.name, text, operands, *operands)
