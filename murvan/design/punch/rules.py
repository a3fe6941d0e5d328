"""The punch list: every judgement is a rule with a limit and where the limit comes from."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import cast

from murvan.design import limits
from murvan.design.arithmetic import Quantity
from murvan.design.finding import Finding, Hit, Rule
from murvan.design.house.geometry import Geometry
from murvan.design.memo import Memo, Reads
from murvan.design.punch import checks, house_checks, load_checks, plenum_checks
from murvan.design.punch.air_rules import AIR_RULES
from murvan.design.punch.duct_rules import DUCT_RULES
from murvan.design.punch.unit_rules import UNIT_RULES
from murvan.design.results import Results
from murvan.design.weather import fits
from murvan.model.job import Job
from murvan.model.record import Ref
from murvan.units import CFM, INCH

PLAN = Reads(
    "rule", "storeys", "spaces", "openings", rooms=("id", "name", "storey", "outline_m", "slope", "height_m")
)
REGISTERS = Reads("rule", rooms=("id", "name", "outline_m"), design=("registers",))

BATH = Quantity("flow", 50 * CFM)
"""A bath's fan on demand, ASHRAE 62.2."""
WRAP = Quantity("r_value", limits.ATTIC_R, 0)

RULES: tuple[Rule, ...] = (
    Rule(
        "opening-fits",
        1,
        "fails",
        "Opening larger than its wall",
        "geometry",
        "A wrong opening makes wrong loads.",
        "Correct its size or place.",
        checks.overlap,
        reads=PLAN,
    ),
    Rule(
        "rooms-overlap",
        1,
        "fails",
        "Rooms over each other",
        "geometry",
        "Floor and walls would count twice.",
        "Cut one back, or drag its wall.",
        house_checks.rooms_overlap,
        reads=PLAN,
    ),
    Rule(
        "room-gap",
        1,
        "look",
        "Gap between rooms",
        "slits up to {0} are a slip of the hand, wider ones a chase or a court",
        "A wall that should be shared counts as two outside ones.",
        "Drag the wall until it catches the other room.",
        house_checks.gaps_between,
        (Quantity("length", 0.7),),
        reads=PLAN,
    ),
    Rule(
        "openings-collide",
        1,
        "fails",
        "Openings over each other",
        "geometry",
        "The wall would lose its area twice.",
        "Slide one along.",
        house_checks.openings_collide,
        reads=PLAN,
    ),
    Rule(
        "window-inside",
        1,
        "fails",
        "Window on an inside wall",
        "geometry",
        "Sun and loss are counted where there are none.",
        "Put it on an outside wall.",
        house_checks.window_inside,
        reads=PLAN,
    ),
    Rule(
        "glass-share",
        1,
        "look",
        "Share of glass out of the ordinary",
        "up to {0} of a room's floor, {1} to {2} of the house's; common practice",
        "A slip in a size hides here; a bedroom's window is a way out too.",
        "Measure the glass again.",
        house_checks.glass_share,
        (Quantity("percent", 0.45), Quantity("percent", 0.05), Quantity("percent", 0.35)),
    ),
    Rule(
        "assembly-missing",
        1,
        "fails",
        "Surface without an assembly",
        "geometry",
        "The loads would rest on a stand-in.",
        "Choose an assembly in the house's card (H).",
        house_checks.makeup_missing,
    ),
    Rule(
        "north-unknown",
        1,
        "look",
        "North not set",
        "common practice",
        "Sun on the glass decides the cooling load and its hour.",
        "Set north in the house's card (H).",
        house_checks.north_unknown,
    ),
    Rule(
        "area-differs",
        1,
        "look",
        "Area unlike the papers",
        "{0}, common practice",
        "One of the two is wrong by a room.",
        "Measure again, or correct the papers' figure.",
        house_checks.area_differs,
        (Quantity("percent", 0.03),),
    ),
    Rule(
        "shell-assumed",
        1,
        "look",
        "Shell assumed",
        "common practice",
        "Assumed assemblies can be off by half.",
        "Look into the attic, behind an outlet, at the rim; then set the assemblies.",
        house_checks.shell_assumed,
    ),
    Rule(
        "said-otherwise",
        1,
        "look",
        "Wall said otherwise than drawn",
        "geometry",
        "The load follows what was said, not the plan.",
        "Move the room, or take the wall as drawn.",
        house_checks.said_otherwise,
    ),
    Rule(
        "unit-in-the-way",
        1,
        "fails",
        "Unit on floor to keep clear",
        "common practice; local code",
        "Nobody could reach the panel, filter or hatch.",
        "Move the unit, or the floor to keep clear.",
        house_checks.unit_in_the_way,
    ),
    Rule(
        "register-outside",
        1,
        "look",
        "Register outside its room",
        "a register in a wall lies up to {0} outside the room's line",
        "A wall has moved past it: its throw and its run are no longer true.",
        "Move the register, or the wall back.",
        house_checks.register_outside,
        (Quantity("length", 0.3),),
        reads=REGISTERS,
    ),
    Rule(
        "room-unserved",
        4,
        "fails",
        "Room without a register",
        "rooms that need more than {0}; common practice",
        "Air does not go through walls.",
        "Give it a register and a run.",
        checks.unserved,
        (Quantity("power", 60),),
    ),
    *UNIT_RULES,
    Rule(
        "network-open",
        5,
        "fails",
        "Air circuit without an answer",
        "network solve",
        "Something in it is far out of the ordinary, so its flows can't be worked out.",
        "Look for a tiny duct, a shut damper or an odd fitting, and put it right.",
        checks.network_open,
    ),
    Rule(
        "blower-static",
        5,
        "fails",
        "Static over the blower's limit",
        "maker's blower table",
        "The blower starves or howls.",
        "Larger filter, larger return, larger ducts.",
        checks.blower_static,
    ),
    Rule(
        "blower-flow",
        5,
        "look",
        "Blower off its design flow",
        "network solve, {0}",
        "Capacity and every room's air move with it.",
        "Change the tap, or the ducts.",
        checks.blower_flow,
        (Quantity("percent", limits.BALANCE_SHARE),),
    ),
    Rule(
        "filter-fast",
        3,
        "look",
        "Filter face too fast",
        "filter face velocity up to {0}, common practice",
        "A fast filter is loud, leaks dust and starves the blower.",
        "Fit a larger filter or a second grille.",
        checks.filter_fast,
        (Quantity("velocity", limits.FACE_LIMIT["filter"]),),
    ),
    Rule(
        "register-fast",
        4,
        "look",
        "Register too fast",
        "face velocity limits, common practice",
        "Fast faces are heard.",
        "Larger face or a second register.",
        checks.register_fast,
    ),
    Rule(
        "duct-fast",
        5,
        "look",
        "Duct too fast",
        "velocity limits, common practice",
        "Fast air is loud and eats the static.",
        "Take the next size up.",
        checks.duct_fast,
    ),
    Rule(
        "duct-brisk",
        5,
        "look",
        "Duct faster than quiet practice",
        "recommended velocities, less a fifth; common practice",
        "It is heard in a quiet room at night.",
        "Take the next size up, or choose a usual practice on the card of Ducts.",
        checks.duct_brisk,
        profiles=("quiet",),
    ),
    Rule(
        "duct-friction",
        5,
        "look",
        "Duct too tight",
        "up to {0}, common practice",
        "It takes the pressure that other runs need.",
        "Take the next size up.",
        checks.duct_friction,
        (Quantity("friction", 0.18 * 249.08891 / 30.48),),
    ),
    Rule(
        "room-air",
        5,
        "fails",
        "Room short of air",
        "network solve, {0} and {1}",
        "The room will not hold its temperature.",
        "Open its damper, close the others, or enlarge the run.",
        checks.room_air,
        (Quantity("percent", limits.BALANCE_SHARE), Quantity("flow", limits.BALANCE_M3_S)),
    ),
    Rule(
        "methods-apart",
        2,
        "look",
        "Two methods disagree",
        "{0}, common practice",
        "One of them takes something for granted that this house does not do.",
        "See the reason, and check what was entered there.",
        load_checks.methods_apart,
        (Quantity("percent", limits.METHODS_ALIKE),),
    ),
    Rule(
        "weather-outside",
        2,
        "look",
        "Many hours beyond the design weather",
        "{0} of the year, common practice; the local code's table goes first",
        "The unit and its backup are worked out for weather that is milder than the place's.",
        "Type the place's own 99 and 1 % values, read its weather file, or take the climate that fits (Loads, Climate).",
        load_checks.weather_outside,
        (Quantity("percent", fits.MOST_OUTSIDE),),
    ),
    Rule(
        "weather-wet-bulb",
        2,
        "look",
        "Wet bulb of another place",
        "the climate the design values began from",
        "Moisture loads and the unit's capacity go by it.",
        "Type the mean coincident wet bulb that belongs to the dry bulb (Loads, Climate).",
        load_checks.weather_wet_bulb,
    ),
    Rule(
        "weather-stretched",
        2,
        "look",
        "Hours stretched from another climate",
        "{0}, Murvan default",
        "Backup hours, costs and the ground follow the hours: they may be half or twice as many.",
        "Take the climate whose winter and summer lie as far apart, or read the place's weather file.",
        load_checks.weather_stretched,
        (Quantity("percent", fits.STRETCHED),),
    ),
    Rule(
        "room-swings",
        2,
        "look",
        "Room peaks at another hour than its zone",
        "{0} of its own peak, loads under {1} left out; common practice",
        "One thermostat can't hold it: too warm in its own hours, or too cold in the others.",
        "A zone of its own, blinds or an overhang, or air by its own damper.",
        load_checks.rooms_swing,
        (Quantity("percent", 0.7), Quantity("power", 290.0)),
    ),
    Rule(
        "kitchen-exhaust",
        4,
        "look",
        "Kitchen without exhaust",
        "ASHRAE 62.2, {0} on demand or {1} changes of the kitchen's air an hour all day",
        "Grease, moisture and fumes stay in the house.",
        "Fit a hood that blows outside.",
        checks.kitchen_hood,
        (Quantity("flow", 100 * CFM), Quantity("number", 5.0)),
    ),
    Rule(
        "bath-exhaust",
        4,
        "fails",
        "Bath without exhaust",
        "ASHRAE 62.2, {0} on demand or {1} all day",
        "Moisture rots the room and fails inspection.",
        "Fit a fan with a hard pipe to the outside.",
        checks.bath_fan,
        (BATH, Quantity("flow", 20 * CFM)),
    ),
    Rule(
        "toilet-air",
        4,
        "look",
        "Toilet room without air",
        "residential building code: a window that opens or a fan; the local code decides",
        "Smells stay, and an inspector may want one or the other.",
        "A window that opens, or a fan to the outside.",
        checks.toilet_air,
        (BATH,),
    ),
    Rule(
        "whole-house-air",
        4,
        "look",
        "Whole-house ventilation",
        "ASHRAE 62.2",
        "Stale air, failed inspection.",
        "Plan a ventilator or raise its flow.",
        checks.ventilation,
    ),
    Rule(
        "takeoff-end",
        5,
        "look",
        "Take-off too near the plenum's end",
        "cushion of {0} to {1}, common practice",
        "The last take-off then robs the others.",
        "Move it back from the end.",
        plenum_checks.takeoff_end,
        (Quantity("size", limits.CUSHION_M), Quantity("size", 12 * INCH)),
    ),
    Rule(
        "flex-turn",
        5,
        "look",
        "Turn made in flex at a boot",
        "fitting coefficients, ASHRAE Fundamentals, duct design",
        "Flex folds at the boot and chokes the run.",
        "Hard elbow, straight boot.",
        checks.flex_turn,
    ),
    Rule(
        "door-pressure",
        4,
        "look",
        "Room pressure with the door shut",
        "{0}, common practice",
        "The room loses its supply and the house pulls in outdoor air.",
        "Undercut, transfer grille or jump duct.",
        checks.door_pressure,
        (Quantity("pascal", limits.DOOR_LIMIT_PA, 0),),
    ),
    Rule(
        "duct-depth",
        5,
        "fails",
        "Duct deeper than its space",
        "geometry",
        "It does not go in.",
        "Flatter duct, two runs, or another way round.",
        checks.too_deep,
    ),
    Rule(
        "duct-sweats",
        5,
        "look",
        "Supply duct that sweats",
        "jacket at the dew point",
        "Water drips on the ceiling.",
        "Wrap it to {0} with a sealed jacket.",
        checks.sweats,
        (WRAP,),
    ),
    Rule(
        "attic-wrap",
        5,
        "look",
        "Thin wrap in the attic",
        "energy code, ducts in attics; the local code decides",
        "Heat lost, heat gained.",
        "Wrap to {0}.",
        checks.attic_r,
        (WRAP,),
    ),
    Rule(
        "plenum-small",
        5,
        "look",
        "Plenum too small",
        "speed of its air, and the unit's own opening; common practice",
        "Fast air passes the first take-offs by.",
        "Wider plenum.",
        plenum_checks.plenum_small,
    ),
    Rule(
        "return-missing",
        5,
        "fails",
        "No return",
        "common practice",
        "What does not come back can't go out.",
        "Lay a return.",
        checks.return_missing,
    ),
    *DUCT_RULES,
    *AIR_RULES,
)


@dataclass(frozen=True)
class _Plan:
    """All that a rule about the plan alone can get at."""

    job: Job
    geometry: Geometry


def findings(results: Results, memo: Memo) -> tuple[Finding, ...]:
    """All findings, what fails first, then by station."""
    mine = [rule for rule in RULES if results.job.design.air.velocity_profile in rule.profiles]
    out = [x for rule in mine for x in _found(rule, results, memo)]
    return tuple(sorted(out, key=lambda f: (f.severity != "fails", f.rule.station)))


def _found(rule: Rule, r: Results, memo: Memo) -> list[Finding]:
    """What a rule finds; one that fails on this house is reported, and the others stand."""
    try:
        return [Finding(rule, hit) for hit in _judged(rule, r, memo)]
    except Exception as trouble:
        words = f"could not be judged ({type(trouble).__name__}: {trouble})"[:300].replace("{", "(").replace("}", ")")
        return [
            Finding(replace(NOT_JUDGED, station=rule.station), Hit(Ref("house", rule.id), f"“{rule.name}”", words))
        ]


def _nothing(_: Results) -> Iterator[Hit]:
    yield from ()


NOT_JUDGED = Rule(
    "not-judged",
    1,
    "look",
    "Rule that could not be judged",
    "geometry",
    "Nothing judged is not a pass.",
    "Look at this yourself, and tell Murvan's makers with the job.",
    _nothing,
)
"""Stands for a rule that failed on a house."""


def _judged(rule: Rule, r: Results, memo: Memo) -> Iterable[Hit]:
    if rule.reads is None:
        return rule.judge(r)

    def look(job: Job, geometry: Geometry) -> tuple[Hit, ...]:
        return tuple(rule.judge(cast("Results", _Plan(job, geometry))))

    return memo(rule.reads, r.job, look, r.geometry, of=rule.id)
