"""Every field that can be typed, declared once: its label, kind, choices and undo step.

Bounds are those of the model, which refuses what lies outside in words.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, cast, get_args

from murvan.app.stations.field_choices import (
    ASSUMED,
    BYPASSES,
    CANVAS,
    CLOCKS,
    CONDITIONS,
    DUCT_PLACES,
    DUCT_SHAPES,
    FRONTS,
    FUELS,
    HELD,
    MATERIALS,
    OBSTACLE_KINDS,
    OVER,
    REASONS,
    REGISTER_KINDS,
    RETURNS,
    SCHOOLS,
    SHELTERS,
    UNDER,
    UNIT_WAYS,
    USES,
    WAYS_BACK,
    Options,
    words,
)
from murvan.app.stations.field_edits import (
    Edit,
    Put,
    set_bedrooms,
    set_clock,
    set_emptied,
    set_face,
    set_in,
    set_limit,
    set_looked_at,
    set_measured,
    set_north,
    set_number,
    set_or_none,
    set_seismic,
    set_shape,
    set_size,
    set_way,
    set_whole,
    set_year,
    set_yes,
)
from murvan.design.drawing import (
    CEILINGS,
    FURNITURE_M,
    ceiling_form,
    rename_room,
    set_ceiling_form,
    set_use,
    set_width,
)
from murvan.design.weather import daily_range, time_zone_h
from murvan.model.edit import replace_part
from murvan.model.house import ExistingKind
from murvan.model.job import RoomUse


def _damper(run: Any) -> float:
    return 1.0 if run.damper is None else float(run.damper)


@dataclass(frozen=True)
class Declared:
    """A field as the user meets it; `undo` may hold {} for the record's name."""

    key: str
    label: str
    kind: str = "text"
    undo: str = ""
    options: Options = ()
    width: int = 1
    put: Put = set_in
    shown: Callable[[Any], float | str | None] | None = None
    """The value on the card, where it is not the field as it stands."""
    edit: Edit | None = None
    """How a field of the job or of a single part of it is set, where that is not by its value alone."""
    optional: bool = False
    """Whether it may be left empty."""

    def value(self, holder: Any, name: str) -> float | str | None:
        """What the card shows; whole numbers as any other figure."""
        found: float | str | None = self.shown(holder) if self.shown else getattr(holder, name)
        return float(found) if isinstance(found, int) else found


RECORDS: dict[str, dict[str, Declared]] = {
    "systems": {
        "lockout_c": Declared(
            "lockout", "Compressor off below", "temperature", "Change lock-out", put=set_or_none, optional=True
        ),
        "heater_lockout_c": Declared(
            "heater_lockout",
            "Backup off above",
            "temperature",
            "Change backup's lock-out",
            put=set_or_none,
            optional=True,
        ),
    },
    "rooms": {
        "name": Declared(
            "name", "Name", "text", "Rename room", put=lambda _, i, __: lambda job, v: rename_room(job, i, str(v))
        ),
        "use": Declared(
            "use",
            "Use",
            "text",
            "Change use",
            USES,
            put=lambda _, i, __: lambda job, v: set_use(job, i, cast(RoomUse, v)),
        ),
        "height_m": Declared("height", "Ceiling height", "feet", "Change ceiling height"),
        "ceiling": Declared("over", "Over the ceiling", "text", "Change ceiling", OVER),
        "floor": Declared("under", "Under the floor", "text", "Change floor", UNDER),
        "slope": Declared(
            "form",
            "Shape of the ceiling",
            "text",
            "Change the ceiling's shape",
            CEILINGS,
            2,
            lambda _, i, __: lambda job, v: set_ceiling_form(job, i, str(v)),
            ceiling_form,
        ),
        "people": Declared("people", "People at peak", "people", "Change people in {}"),
        "appliances_w": Declared("appliances", "Own appliances", "power", "Change appliances in {}"),
        "people_from": Declared("from", "People there from", "hour", "Change hours in {}", put=set_whole),
        "people_to": Declared("to", "to", "hour", "Change hours in {}", put=set_whole),
    },
    "openings": {
        "width_m": Declared(
            "width",
            "Width",
            "feet",
            "Change width of {}",
            put=lambda _, i, __: lambda job, v: set_width(job, i, float(v)),
        ),
        "height_m": Declared("height", "Height", "feet", "Change height of {}"),
        "sill_m": Declared("sill", "Sill", "feet", "Change sill of {}"),
        "overhang_m": Declared("overhang", "Overhang", "feet", "Change overhang of {}"),
        "overhang_gap_m": Declared("gap", "Overhang over the head", "feet", "Change overhang of {}"),
        "sun_summer": Declared("summer", "Sun past trees", "percent", "Change shade of {}"),
        "blinds": Declared("blinds", "Blinds let in", "percent", "Change blinds of {}"),
        "tilt_deg": Declared("tilt", "Tilt", "angle", "Change tilt of {}"),
    },
    "spaces": {
        "name": Declared("name", "Name", "text", "Rename space"),
        "kind": Declared("kind", "Kind", "text", "Change kind of space", words(("garage", "porch"))),
        "u_shell_w_m2k": Declared("u", "U of its shell", "u_factor", "Change shell of {}"),
        "air_changes_h": Declared("air", "Air changes", "per_hour", "Change air of the space"),
    },
    "constructions": {
        "name": Declared("name", "Name", "text", "Rename assembly", width=2),
        "framing_fraction": Declared("framing", "Wood in its face", "percent", "Change framing", put=set_looked_at),
        "absorptance": Declared("sun", "Takes of the sun", "percent", "Change absorptance", put=set_looked_at),
        "edge_f_w_mk": Declared("edge", "Edge", "edge_f", "Change edge loss", put=set_looked_at),
    },
    "storeys": {
        "name": Declared("name", "Name", "text", "Rename storey"),
        "height_m": Declared("high", "Ceiling height", "feet", "Change ceiling height of {}"),
        "floor_m": Declared("z", "Floor over the ground", "feet", "Set floor"),
        "ceiling_space_m": Declared("space", "Clear over the ceiling", "feet", "Change clear height over {}"),
        "duct_place": Declared("place", "Its ducts run", "text", "Set place of ducts", DUCT_PLACES),
    },
    "patches": {"name": Declared("name", "Name", "text", "Rename part", width=2)},
    "places": {
        "name": Declared("name", "Name", "text", "Rename place", width=2),
        "kind": Declared(
            "kind",
            "Kind",
            "text",
            "Change place",
            words(("attic", "basement", "crawl", "closet", "garage", "room", "soffit", "chase")),
        ),
        "clear_m": Declared("clear", "Clear height", "feet", "Change height"),
    },
    "keep_clear": {
        "name": Declared("name", "Name", "text", "Rename", width=2),
        "reason": Declared("reason", "For", "text", "Change reason", REASONS, 2),
        "open_wide_m": Declared(
            "open_wide", "Hatch opens, wide", "size", "Measure the hatch", put=set_or_none, optional=True
        ),
        "open_long_m": Declared(
            "open_long", "Hatch opens, long", "size", "Measure the hatch", put=set_or_none, optional=True
        ),
    },
    "obstacles": {
        "name": Declared("name", "Name", "text", "Rename", width=2),
        "kind": Declared("kind", "Kind", "text", "Change kind of {}", OBSTACLE_KINDS, 2),
        "high_m": Declared("high", "High", "size", "Measure {}"),
        "low_m": Declared("low", "Underside over the floor", "feet", "Measure {}"),
    },
    "furniture": {
        "kind": Declared("kind", "Kind", "text", "Change furniture", words(tuple(FURNITURE_M))),
        "turn_deg": Declared("turn", "Turned by", "angle", "Turn it"),
    },
    "existing": {
        "name": Declared("name", "Name", "text", "Note {}", width=2),
        "kind": Declared("kind", "Kind", "text", "Note {}", words(get_args(ExistingKind))),
        "condition": Declared("condition", "Condition", "text", "Note {}", CONDITIONS),
        "nameplate": Declared("nameplate", "Nameplate, word for word", "text", "Note {}", width=2),
        "year": Declared(
            "year", "Year", "text", "Note {}", put=set_year, shown=lambda x: "" if x.year is None else str(x.year)
        ),
        "width_m": Declared("width_m", "Width", "size1", "Note {}"),
        "height_m": Declared("height_m", "Height", "size1", "Note {}"),
        "depth_m": Declared("depth_m", "Depth", "size1", "Note {}"),
        "diameter_m": Declared("diameter_m", "Diameter", "size1", "Note {}"),
        "fuel": Declared("fuel", "Fuel", "text", "Note {}", FUELS),
        "output_w": Declared("output_w", "Output", "power", "Note {}"),
        "flow_m3_s": Declared("flow_m3_s", "Air", "flow", "Note {}"),
        "note": Declared("note", "Note", "text", "Note {}", width=2),
    },
    "appliances": {
        "name": Declared("name", "Name", "text", "Change {}", width=2),
        "count": Declared("count", "How many", "number", "Change {}", put=set_whole),
        "radiant": Declared("radiant", "Given off as radiation", "percent", "Change {}"),
        "sensible_w": Declared("sensible_w", "Heat, each", "power", "Change {}"),
        "latent_w": Declared("latent_w", "Moisture, each", "power", "Change {}"),
        "from_hour": Declared("from", "On from", "hour", "Change {}", put=set_whole),
        "to_hour": Declared("to", "to", "hour", "Change {}", put=set_whole),
    },
    "underlays": {
        "name": Declared("name", "Name", "text", "Rename the picture", width=2),
        "opacity": Declared("opacity", "Strength", "percent", "Change the picture's strength"),
        "turn_deg": Declared("turn", "Turned by", "angle", "Turn the picture"),
    },
    "registers": {
        "tag": Declared("tag", "Name", "text", "Name {}", width=2),
        "kind": Declared("kind", "Kind", "text", "Change kind of {}", REGISTER_KINDS),
        "width_m": Declared("width", "Width", "size", "Change width of {}"),
        "height_m": Declared("height", "Height", "size", "Change height of {}"),
        "free_area": Declared("free", "Free area", "percent", "Change free area of {}"),
        "item": Declared("item", "Of the catalogue", "text", "Choose {}", width=2, put=set_face),
        "loss": Declared("loss", "Loss coefficient", "decimal", "Change loss of {}", put=set_or_none, optional=True),
        "throw_k": Declared("throw", "Throw K", "decimal", "Change throw of {}", put=set_or_none, optional=True),
        "noise_nc": Declared(
            "noise", "NC at 500 fpm", "decimal", "Change noise of {}", put=set_or_none, optional=True
        ),
        "share": Declared("share", "Part of the room's air", "decimal", "Change air of {}"),
    },
    "outdoor_units": {
        "stand_m": Declared("stand", "Outdoors, stand", "size", "Change the stand"),
        "neighbour_m": Declared(
            "neighbour",
            "To neighbour's window",
            "feet",
            "Change the way to the neighbour",
            put=set_or_none,
            optional=True,
        ),
    },
    "indoor_units": {
        "drain": Declared("drain", "Drain", "text", "Change the drain", (("gravity", "by itself"), ("pump", "pump"))),
        "way": Declared("way", "Air goes", "text", "Change how {} lies", UNIT_WAYS, put=set_way),
        "turn_deg": Declared(
            "turn", "Front looks", "text", "Turn {}", FRONTS, put=set_way, shown=lambda x: str(x.turn_deg)
        ),
        "tag": Declared("tag", "Name", "text", "Name {}"),
        "heat_share": Declared("heat_share", "Its part of the heat", "percent", "Change its part of the heat"),
        "heater_kw": Declared(
            "heater",
            "Backup heater",
            "text",
            "Change backup heater",
            put=set_number,
            shown=lambda x: str(float(x.heater_kw)),
        ),
        "room_heat_w": Declared("room_heat", "Heaters in its rooms", "electric", "Change the heaters in its rooms"),
        "flow_m3_s": Declared("flow", "Air, design", "flow", "Change design air"),
        "tap": Declared("tap", "Blower tap", "text", "Change blower tap", put=set_whole, shown=lambda x: str(x.tap)),
    },
    "alternatives": {"name": Declared("name", "Name", "text", "Name the alternative", width=2)},
    "zones": {
        "name": Declared("name", "Zone", "text", "Rename {}"),
        "least": Declared("least", "Keeps open", "percent", "Stop of the dampers of {}"),
    },
    "plenums": {
        "school": Declared("school", "Speed in it", "text", "Change speed in the plenum", SCHOOLS),
        "canvas": Declared(
            "canvas",
            "At the unit",
            "text",
            "Join the plenum",
            CANVAS,
            put=set_yes,
            shown=lambda x: "yes" if x.canvas else "no",
        ),
    },
    "runs": {
        "diameter_m": Declared(
            "size",
            "Size",
            "text",
            "Change size of {}",
            put=set_size,
            shown=lambda x: None if x.diameter_m is None else f"{x.diameter_m:.4f}",
        ),
        "width_m": Declared("width", "Width", "size", "Change width of {}", put=set_size),
        "height_m": Declared("height", "Height", "size", "Change height of {}", put=set_size),
        "held": Declared(
            "held", "Sizing", "text", "Hold size of {}", HELD, put=set_yes, shown=lambda x: "yes" if x.held else "no"
        ),
        "shape": Declared("shape", "Shape", "text", "Change shape of {}", DUCT_SHAPES, put=set_shape),
        "material": Declared("material", "Material", "text", "Change material of {}", MATERIALS),
        "damper": Declared("damper", "Damper open", "percent", "Set damper of {}", shown=_damper),
        "insulation_r_m2k_w": Declared("wrap", "Insulation R", "r_value", "Change insulation of {}"),
        "stretched": Declared("stretched", "Stretched", "percent", "Change stretch of {}"),
    },
}


"""By collection and field."""


SUBS: dict[tuple[str, str], dict[str, Declared]] = {
    ("indoor_units", "filter"): {
        "width_m": Declared("filter.width", "Filter width", "size", "Change filter width"),
        "height_m": Declared("filter.height", "Filter height", "size", "Change filter height"),
    },
    ("indoor_units", "bypass"): {
        "kind": Declared("bypass.kind", "Bypass", "text", "Change the bypass", BYPASSES),
        "diameter_m": Declared("bypass.size", "Its size", "size", "Change the bypass"),
        "opens_pa": Declared("bypass.opens", "Opens at", "pressure", "Change the bypass"),
    },
    ("rooms", "transfer"): {
        "kind": Declared("way", "Return path", "text", "Change return path of {}", WAYS_BACK),
        "area_m2": Declared("area", "Free area", "small_area", "Change transfer area of {}"),
        "undercut_m": Declared("undercut", "Undercut", "gap", "Change undercut of {}"),
    },
}


"""By collection and part of its records, and field."""


WHOLE: dict[str, Declared] = {
    "typed_area_m2": Declared("house.area", "Area by the papers", "area", "Set area by the papers"),
    "bedrooms": Declared("house.bedrooms", "Bedrooms", "number", "Set bedrooms", edit=set_bedrooms),
    "company": Declared("sheet.company", "Company", "text", "Change company", width=2, optional=True),
    "client": Declared("sheet.client", "Client", "text", "Change client", optional=True),
    "number": Declared("sheet.number", "Job number", "text", "Change job number", optional=True),
    "town": Declared("sheet.town", "Town", "text", "Change town", optional=True),
}


"""Of the job itself, by field."""


PARTS: dict[str, dict[str, Declared]] = {
    "energy": {
        "electric_per_kwh": Declared("energy.electric", "Electricity", "kwh_price", "Change price of electricity"),
        "gas_per_kwh": Declared("energy.gas", "Gas", "gas_price", "Change price of gas"),
        "propane_per_kwh": Declared("energy.propane", "Propane", "propane_price", "Change price of propane"),
        "oil_per_kwh": Declared("energy.oil", "Oil", "oil_price", "Change price of oil"),
        "present": Declared(
            "energy.present",
            "Heats today",
            "text",
            "Change what heats today",
            (
                ("unknown", "not known"),
                ("electric", "Electric heat"),
                ("heat_pump", "Heat pump"),
                ("gas", "Gas"),
                ("propane", "Propane"),
                ("oil", "Oil"),
            ),
        ),
        "present_efficiency": Declared(
            "energy.efficiency",
            "AFUE or COP",
            "decimal",
            "Change efficiency of today's heat",
            edit=set_emptied("energy", "present_efficiency"),
            optional=True,
        ),
        "present_cooling": Declared(
            "energy.cooling",
            "Cools today, COP",
            "decimal",
            "Change today's cooling",
            edit=set_emptied("energy", "present_cooling"),
            optional=True,
        ),
        "cost_in": Declared(
            "energy.cost_in",
            "Cost in, installed",
            "money",
            "Change cost of the new system",
            edit=set_emptied("energy", "cost_in"),
            optional=True,
        ),
        "rebate": Declared("energy.rebate", "Rebate", "money", "Change the rebate"),
        "present_volts": Declared(
            "energy.volts",
            "Volts, measured",
            "volts",
            "Change measured volts",
            edit=set_emptied("energy", "present_volts"),
            optional=True,
        ),
        "present_amps": Declared(
            "energy.amps",
            "Amps, measured",
            "amps",
            "Change measured amps",
            edit=set_emptied("energy", "present_amps"),
            optional=True,
        ),
        "power_factor": Declared("energy.factor", "Power factor", "decimal", "Change power factor"),
    },
    "services": {
        "snow_m": Declared("services.snow", "Snow or flood, up to", "size", "Change the snow"),
        "panel_spaces": Declared(
            "services.panel",
            "Free breaker spaces",
            "number",
            "Change the panel",
            edit=lambda job, value: replace_part(
                job, "services", panel_spaces=None if value == "" else round(float(value))
            ),
            optional=True,
        ),
    },
    "sizing": {
        "name": Declared("sizing.name", "Name", "text", "Name the size limits", edit=set_limit("name")),
        "basis": Declared("sizing.basis", "Basis", "text", "Say where the limits come from", edit=set_limit("basis")),
        **{
            k: Declared(f"sizing.{k}", label, "percent", "Change size limit", edit=set_limit(k))
            for k, label in (
                ("least", "Cooling, at least"),
                ("latent", "Moisture, at least"),
                ("single", "Single speed, up to"),
                ("two", "Two speeds, up to"),
                ("variable", "Variable, up to"),
                ("furnace_least", "Furnace, at least"),
                ("furnace", "Furnace, up to"),
                ("backup", "With backup, up to"),
            )
        },
        "next_size": Declared(
            "sizing.next",
            "Next size made",
            "text",
            "Change size limit",
            (("yes", "allowed"), ("no", "not allowed")),
            shown=lambda x: "yes" if x.next_size else "no",
            edit=lambda job, value: set_limit("next_size")(job, value == "yes"),
        ),
        "cold_dry_w": Declared(
            "sizing.cold", "More where cold, dry", "power", "Change size limit", edit=set_limit("cold_dry_w")
        ),
    },
    "indoor": {
        "cooling_c": Declared(
            "indoor.cooling", "Indoor, cooling", "temperature", "Change indoor cooling temperature"
        ),
        "heating_c": Declared(
            "indoor.heating", "Indoor, heating", "temperature", "Change indoor heating temperature"
        ),
        "fresh_air": Declared("vent.rate", "Fresh air by floor", "text", "Change the rate of fresh air"),
    },
    "air": {
        "velocity_profile": Declared(
            "air.profile",
            "Practice",
            "text",
            "Change practice",
            (("quiet", "Quiet first"), ("balanced", "Balanced"), ("compact", "Compact")),
        ),
        "returns": Declared("air.returns", "Returns, laid", "text", "Change returns", RETURNS),
        "duct_leakage": Declared("air.leakage", "Ducts leak, all", "percent", "Change duct leakage"),
        "duct_allowance": Declared("air.allowance", "Ducts, without runs", "percent", "Change duct allowance"),
    },
    "climate": {
        "name": Declared("climate.name", "Name", "text", "Name the climate", width=2),
        "ground_c": Declared("climate.ground", "Ground, yearly mean", "temperature", "Change ground temperature"),
        "ground_swing_k": Declared("climate.swing", "Ground, swing", "difference", "Change the ground's swing"),
        "wind_winter_m_s": Declared("climate.wind_w", "Wind", "wind", "Change winter wind"),
        "summer_wet_bulb_c": Declared("climate.wet", "Wet bulb with it", "temperature", "Change summer wet bulb"),
        "daily_range_k": Declared(
            "climate.range", "Daily range", "difference", "Change daily range", shown=daily_range
        ),
        "wind_summer_m_s": Declared("climate.wind_s", "Wind", "wind", "Change summer wind"),
        "taub": Declared("climate.taub", "Clear sky, tau b", "decimal", "Change tau b"),
        "taud": Declared("climate.taud", "Clear sky, tau d", "decimal", "Change tau d"),
    },
    "site": {
        "latitude_deg": Declared("site.latitude", "Latitude", "angle", "Change latitude"),
        "longitude_deg": Declared("site.longitude", "Longitude, east", "angle", "Change longitude"),
        "time_zone_h": Declared(
            "site.zone", "Clock, from Greenwich", "hours", "Change the time zone", shown=time_zone_h
        ),
        "north_deg": Declared("house.north", "North, clockwise", "angle", "Set north", edit=set_north),
        "shielding": Declared("house.shielding", "Wind shelter", "text", "Set shelter", SHELTERS),
        "summer_time": Declared(
            "site.summer_time",
            "Clock in summer",
            "text",
            "Change the clock in summer",
            CLOCKS,
            shown=lambda x: "ahead" if x.summer_time else "same",
            edit=set_clock,
        ),
        "seismic": Declared(
            "site.seismic",
            "Braced for quakes",
            "text",
            "Say whether units are braced",
            (("yes", "yes"), ("no", "no")),
            shown=lambda x: "yes" if x.seismic else "no",
            edit=set_seismic,
        ),
        "altitude_m": Declared("site.altitude", "Altitude", "length", "Change altitude"),
    },
    "leakage": {
        "ach50": Declared("leakage.ach50", "Leakage, ACH50", "per_hour", "Change air leakage"),
        "measured": Declared(
            "house.measured",
            "Leakage is",
            "text",
            "Say how leakage is known",
            ASSUMED,
            shown=lambda x: "yes" if x.measured else "no",
            edit=set_measured,
        ),
    },
    "design_day": {
        "setback_k": Declared("day.setback", "Night setback", "difference", "Change night setback"),
        "recovery_h": Declared("day.recovery", "Back within", "hours", "Change recovery time"),
    },
}


"""By part of the job and field."""
