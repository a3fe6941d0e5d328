"""Pieces at the unit: the unit, what joins it to its plenums, its line, its drain, what holds and controls it."""

from __future__ import annotations

from collections.abc import Iterator

from murvan.design.ducts.straights import LEAST_TRANSITION_M, TAPER
from murvan.design.parts.cut_piece import Draft, of_material
from murvan.design.units.unit_design import UnitDesign
from murvan.kinds.duct_materials import PLAIN
from murvan.model.equipment import Unit
from murvan.model.job import Plenum, Ref
from murvan.model.unit_edit import HEAD_WORDS
from murvan.units import FOOT, INCH

PAN_M = 3 * INCH
"""By how much a pan is larger all round; common practice, the local code decides."""
CORNERS = 4


def unit_storey(u: UnitDesign) -> str:
    """Where the unit is, else the lowest storey."""
    return u.indoor.storey or (u.storeys[0].id if u.storeys else "")


def unit_drafts(u: UnitDesign, unit: Unit | None) -> Iterator[Draft]:
    """The unit, its filter, and the boxes on its line."""
    storey, of = unit_storey(u), Ref("indoor_unit", u.id)
    if unit is not None:
        size = (unit.width_m, unit.depth_m)
        head = u.indoor.kind != "ducted"
        where = HEAD_WORDS[u.indoor.kind] if head else "air handler"
        named = f"{unit.maker} {unit.name}"
        yield Draft(
            of,
            "",
            named,
            size,
            "Equipment",
            where,
            storey,
            "Unit",
            weight_kg=unit.weight_kg,
            priced="head" if head else "indoor",
        )
        if u.indoor.room_heat_w > 0:
            kw = u.indoor.room_heat_w / 1000
            heaters = Draft(
                of, "room_heat", "Electric heaters in its rooms, kW", (), "Equipment", where, storey, "Unit"
            )
            yield heaters._replace(quantity=kw, priced="heater")
        if not head:  # a head has its own filter in its casing
            size = (u.indoor.filter.width_m, u.indoor.filter.height_m)
            yield Draft(of, "filter", "Filter", size, "Equipment", "return drop", storey, "Trim", priced="part")
            yield from _beside(u, unit, of, storey)
        elif u.outdoor is not None:
            yield from _of_head(u, of, storey)
    for box in u.boxes:
        what = f"{box.kind.replace('_', ' ').capitalize()}, {box.ports} ports"
        at = Ref("box", box.id)
        yield Draft(at, "", what, (), "Equipment", "refrigerant line", box.storey or storey, "Rough-in")


def _of_head(u: UnitDesign, of: Ref, storey: str) -> Iterator[Draft]:
    """What a head is hung and joined with; its outdoor unit with what that stands on, once for all that hang on it."""

    def part(key: str, what: str, where: str, stage: str, length: float = 0.0, priced: str = "part") -> Draft:
        return Draft(of, key, what, (), "Unit's parts", where, storey, stage, length_m=length, priced=priced)  # type: ignore[arg-type]

    bracket = {"wall": "Wall plate", "ceiling": f"Hanging rods, {CORNERS}", "floor": "Floor brackets"}[u.indoor.kind]
    yield part("bracket", bracket, u.indoor.tag, "Rough-in")
    yield part("sleeve", "Wall sleeve with seal", "outside wall", "Rough-in")
    yield part("line", "Line set, insulated", f"outdoor unit to {u.indoor.tag}", "Rough-in", u.line_m, "line_set")
    yield part("cover", "Line cover outdoors", "outside wall", "Trim", OUTDOORS_M)
    way = "by pump" if u.indoor.drain == "pump" else "by its own fall"
    yield part("drain", "Drain, trap", way, "Rough-in")
    if u.indoor.drain == "pump":
        yield part("pump", "Drain pump with float switch", u.indoor.tag, "Unit")
    yield part("cable", "Cable to the outdoor unit", "with the line", "Rough-in", u.line_m)
    if u.first_on_outdoor:
        heads = f", {len(u.beside) + 1} heads" if u.beside else ""
        yield part("outdoor", f"Outdoor unit{heads}", "outdoors", "Unit", priced="outdoor")
        yield part("stand", "Pad or bracket", "outdoor unit", "Rough-in")
        yield part("disconnect", "Disconnect", "outdoor unit, by electrician", "Unit", priced="circuit")


OUTDOORS_M = 3.0
"""Of a line in its cover on the outside wall; common practice."""


def _beside(u: UnitDesign, unit: Unit, of: Ref, storey: str) -> Iterator[Draft]:
    """Line, drain, pan, switches, disconnects and stand of a ducted unit; its thermostats and bypass."""

    def part(key: str, what: str, where: str, stage: str, size: tuple[float, ...] = (), length: float = 0.0) -> Draft:
        priced = PRICED_AS.get(key.partition("-")[0], "part")
        return Draft(of, key, what, size, "Unit's parts", where, storey, stage, length_m=length, priced=priced)  # type: ignore[arg-type]

    if u.line_m > 0:
        yield part("line", "Line set", "outdoor unit to coil", "Rough-in", length=u.line_m)
    way = "coil, by pump" if u.indoor.drain == "pump" else "coil, by its own fall"
    yield part("drain", "Drain, trap, clean-out", way, "Rough-in")
    if _over_rooms(u):
        pan = (unit.width_m + 2 * PAN_M, unit.depth_m + 2 * PAN_M)
        yield part("pan", "Secondary pan", "under the unit", "Rough-in", pan)
        yield part("switch2", "Float switch in the pan", "under the unit", "Unit")
    yield part("switch", "Float switch", "drain", "Unit")
    yield part("disconnect", "Disconnect", "air handler, by electrician", "Unit")
    if u.line_m > 0:
        yield part("disconnect2", "Disconnect", "outdoor unit, by electrician", "Unit")
        yield part("stand", "Stand", "outdoor unit", "Rough-in")
    if u.indoor.way in ("left", "right"):
        yield part("hung", f"Hanging rods, {CORNERS} with spring", "corners of the unit", "Unit")
    if u.seismic:
        yield part("brace", f"Seismic braces, {CORNERS}", "corners of the unit", "Unit")
    zones = dict.fromkeys(r.zone_damper for r in u.runs if r.zone_damper)
    for z in zones:
        yield part(f"stat-{z}", f"Thermostat of zone {z}", "inside wall", "Trim")
    if len(zones) > 1:
        yield part("panel", f"Zone panel, {len(zones)} zones", "air handler", "Unit")
    own = u.indoor.bypass
    if own is not None:
        yield part("bypass", "Bypass duct and damper", "plenum to plenum", "Unit", (own.diameter_m,))


PRICED_AS = {
    "line": "line_set",
    "disconnect": "circuit",
    "disconnect2": "circuit",
    "stat": "thermostat",
    "panel": "zone_panel",
    "stand": "outdoor",
}
"""What of the parts at a unit has a price of its own."""


def _over_rooms(u: UnitDesign) -> bool:
    """Whether water from the unit would come through a ceiling: it lies over one, or stands on an upper storey."""
    order = [s.id for s in u.storeys if any(r.storey == s.id for r in u.rooms)]
    at = unit_storey(u)
    return u.indoor.way in ("left", "right") or (at in order and order.index(at) > 0)


ALIKE_M = 1 * INCH
"""Sides so near each other need no transition; common practice."""


def _sheet(
    at: Ref, part: str, what: str, size: tuple[float, ...], storey: str, area_m2: float, **more: float
) -> Draft:
    """A piece of sheet at the unit."""
    draft = Draft(at, part, what, size, PLAIN.section, "at the unit", storey, "Unit", priced="fitting", **more)  # type: ignore[arg-type]
    return of_material(draft, PLAIN, area_m2)


def _into_unit(u: UnitDesign, unit: Unit | None, box: Plenum) -> Iterator[Draft]:
    """What leads from a plenum into the unit: a transition from its outlet; under a return beside it a foot with vanes; the
    rack of the filter."""
    at, storey, (w, d) = Ref("plenum", box.id), unit_storey(u), (box.width_m, box.depth_m)
    if unit is None:
        return
    if box.side == "supply":
        comes_in = max(abs(w - unit.outlet_width_m), abs(d - unit.outlet_depth_m)) / 2
        if comes_in > ALIKE_M / 2:
            long = max(TAPER["return"] * comes_in, LEAST_TRANSITION_M)
            around = unit.outlet_width_m + unit.outlet_depth_m + w + d
            yield _sheet(at, "transition", "Transition at the unit", (w, d), storey, around * long, length_m=long)
        return
    if u.indoor.way in ("upflow", "downflow"):
        # it turns towards the unit: in its width where that stands beside it on the plan, else in its depth
        dx, dy = (abs(a - b) for a, b in zip(box.position_m, u.indoor.position_m, strict=True))
        turn, across = (w, d) if dx >= dy else (d, w)
        area = 2 * turn * turn + 2 * turn * across
        yield _sheet(at, "foot", "Return foot with vanes", (turn, across), storey, area)
    f = u.indoor.filter
    yield _sheet(at, "rack", "Filter rack", (f.width_m, f.height_m), storey, 2 * (f.width_m + f.height_m) * RACK_M)


RACK_M = 5 * INCH
"""Length of a filter rack along the air; common practice."""


def plenum_drafts(u: UnitDesign, unit: Unit | None) -> Iterator[Draft]:
    """Plenums with what leads into the unit, the canvas that joins each to it and the straps at its corners."""
    for box in u.plenums:
        at, storey, side = Ref("plenum", box.id), unit_storey(u), box.side.capitalize()
        size = (box.width_m, box.depth_m)
        around, upper = 2 * (box.width_m + box.depth_m), upper_length_m(box.height_m)
        made = Draft(
            at, "", f"{side} plenum", size, PLAIN.section, "on the air handler", storey, "Unit", priced="fitting"
        )
        yield of_material(made._replace(length_m=upper), PLAIN, around * upper + box.width_m * box.depth_m)
        if upper < box.height_m:
            lower = box.height_m - upper
            drop = made._replace(part="drop", what=f"Lower {box.side} plenum", length_m=lower)
            yield of_material(drop, PLAIN, around * lower)
        yield from _into_unit(u, unit, box)
        if box.canvas:
            yield _at_plenum(box, "canvas", f"Canvas, {box.side}", storey)
        if u.indoor.way in ("left", "right"):
            yield _at_plenum(box, "straps", f"Corner straps, {box.side}", storey)


ONE_LENGTH_M = 9 * FOOT
"""A plenum longer than a sheet leaves with its seams is made in two lengths; common practice."""


def upper_length_m(height_m: float) -> float:
    """Of a plenum, the part with its cap and its take-offs: all of it, or what a sheet gives. [m]"""
    return height_m if height_m <= ONE_LENGTH_M else max(height_m - ONE_LENGTH_M, height_m / 2)


def _at_plenum(box: Plenum, part: str, what: str, storey: str) -> Draft:
    size = (box.width_m, box.depth_m)
    where = "between unit and plenum" if part == "canvas" else "plenum"
    return Draft(Ref("plenum", box.id), part, what, size, "Unit's parts", where, storey, "Unit", priced="part")
