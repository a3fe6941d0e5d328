"""Charge by superheat and subcooling, once the air is proven. Licensed hands; the plate and the local code decide.

Superheat is the vapour line over the dew point at its pressure, subcooling the bubble point over the liquid line. A valve is charged to the
plate's subcooling; a fixed orifice to a superheat of (3 x indoor wet bulb - 80 - outdoors) / 2 in degrees F, not under 5 (from memory).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.results import Results
from murvan.field.capacity import unit_flow
from murvan.field.verdict import Latest, latest
from murvan.kinds.refrigerants import REFRIGERANTS
from murvan.model.job import HouseState, IndoorUnit, Job, Reading
from murvan.physics.refrigerant import bubble_c, dew_c

F = 1 / 1.8
NEAR_K = 3 * F
"""Of subcooling, and twice that of superheat, that are as meant: common practice."""
VALVE_SUPERHEAT_K = (5 * F, 20 * F)
"""Of one with a valve, common practice."""
LEAST_ORIFICE_K = 5 * F
AIR_WITHIN = 0.15
"""Of its design air, within which a charge can be judged."""
LEAST_OUTDOOR_C = 12.8
"""Below, nothing is charged by these figures: common practice."""
CAUTION = (
    "Refrigerant under pressure: licensed hands, gauges and eyes protected. The plate and the local code decide."
)


@dataclass(frozen=True)
class Charge:
    """What the lines of one unit say."""

    unit: str
    tag: str
    refrigerant: str
    valve: bool
    superheat_k: float | None
    subcooling_k: float | None
    wanted_superheat_k: float | None
    """Of an orifice."""
    wanted_subcooling_k: float | None
    saturated: tuple[float | None, float | None]
    """Dew point of the vapour's pressure, bubble point of the liquid's, degC."""
    lines_c: tuple[float | None, float | None]
    says: str
    """What they come to, or why nothing is judged."""
    mark: str
    simulated: bool


def charges(job: Job, r: Results) -> tuple[Charge, ...]:
    """Of every unit whose lines were read in cooling."""
    last = latest(job)
    return tuple(x for u in job.design.indoor_units for x in _of_unit(job, r, u, last))


def _of_unit(job: Job, r: Results, u: IndoorUnit, last: Latest) -> Iterator[Charge]:
    own = {
        (x.hole or "", x.quantity): x
        for x in last.values()
        if x.at.kind == "indoor_unit"
        and x.at.id == u.id
        and x.hole in ("vapour_line", "liquid_line")
        and x.state.mode == "cooling"
    }
    if not own:
        return
    state = next(iter(own.values())).state
    plate = u.plate
    vapour, liquid = (_saturated(r, plate.refrigerant, own, hole) for hole in ("vapour_line", "liquid_line"))
    lines = tuple(
        x.value if (x := own.get((h, "temperature"))) is not None else None for h in ("vapour_line", "liquid_line")
    )
    superheat = lines[0] - vapour if lines[0] is not None and vapour is not None else None
    subcooling = liquid - lines[1] if lines[1] is not None and liquid is not None else None
    valve = plate.metering == "valve"
    wanted = None if valve else _orifice_k(_wet_bulb(u, last, state), state.outdoor_c)
    held = _held(r, u, last, state)
    mark, says = ("none", held) if held else _judged(valve, superheat, subcooling, wanted, plate.subcooling_k)
    yield Charge(
        u.id,
        u.tag,
        plate.refrigerant or "",
        valve,
        superheat,
        subcooling,
        wanted,
        plate.subcooling_k if valve else None,
        (vapour, liquid),
        (lines[0], lines[1]),
        says,
        mark,
        any(x.simulated for x in own.values()),
    )


def _saturated(r: Results, refrigerant: str | None, own: dict[tuple[str, str], Reading], hole: str) -> float | None:
    """Dew point of vapour, bubble point of liquid; None where it is not read or out of range."""
    pressure = own.get((hole, "line_pressure"))
    if pressure is None or refrigerant is None:
        return None
    try:
        return (dew_c if hole == "vapour_line" else bubble_c)(
            REFRIGERANTS[refrigerant].fluid, pressure.value + r.conditions.pressure_pa
        )
    except ValueError:
        return None


def _wet_bulb(u: IndoorUnit, last: Latest, state: HouseState) -> float | None:
    return next(
        (
            x.value
            for x in last.values()
            if (x.at.id, x.hole, x.quantity, x.state) == (u.id, "return", "wet_bulb", state)
        ),
        None,
    )


def _orifice_k(wet_bulb_c: float | None, outdoor_c: float | None) -> float | None:
    """Superheat of a fixed orifice; None while its air is not read."""
    if wet_bulb_c is None or outdoor_c is None:
        return None
    fahrenheit = (3 * (wet_bulb_c / F + 32) - 80 - (outdoor_c / F + 32)) / 2
    return max(fahrenheit * F, LEAST_ORIFICE_K)


def _held(r: Results, u: IndoorUnit, last: Latest, state: HouseState) -> str:
    """Why the charge is not judged yet."""
    if u.plate.refrigerant is None:
        return "Say which refrigerant its plate names"
    if state.outdoor_c is None:
        return "Note the outdoor temperature"
    if state.outdoor_c < LEAST_OUTDOOR_C:
        return "Too cold outdoors to judge a charge by these figures"
    if u.kind != "ducted":
        return ""
    flow = unit_flow(r, u.id, last)
    if flow is None or not flow.read:
        return "Air first: read its registers, or its returns"
    design = r.systems[u.id].airflow.total_m3_s
    if abs(flow.m3_s / design - 1) > AIR_WITHIN:
        return f"Air first: {flow.m3_s / design * 100:.0f} % of its design air"
    return ""


def _judged(
    valve: bool, superheat: float | None, subcooling: float | None, wanted: float | None, plate_k: float | None
) -> tuple[str, str]:
    if valve:
        return _of_valve(superheat, subcooling, plate_k)
    if superheat is None:
        return "none", "Read pressure and temperature of the vapour line"
    if wanted is None:
        return "none", "Read the wet bulb of the return"
    off = superheat - wanted
    if abs(off) <= 2 * NEAR_K:
        return "good", "as its air and weather want it"
    return ("fails", "high: low charge, or its circuit is restricted") if off > 0 else ("fails", "low: overcharged")


def _of_valve(superheat: float | None, subcooling: float | None, plate_k: float | None) -> tuple[str, str]:
    if subcooling is None or superheat is None:
        return "none", "Read pressure and temperature of both lines"
    if plate_k is None:
        return "none", "Type the subcooling of its plate"
    low, high = (x for x in VALVE_SUPERHEAT_K)
    off = subcooling - plate_k
    if superheat < low:
        return "fails", "little superheat: the valve floods, look at its bulb"
    if off < -NEAR_K:
        return "fails", "little subcooling: low charge" if superheat > low else "little subcooling"
    if superheat > high:
        return "fails", "much superheat with enough subcooling: restricted, or the valve starves"
    if off > NEAR_K:
        return "look", "much subcooling: overcharged, or air in the circuit"
    return "good", "as the plate wants it"


def explain_charge(x: Charge) -> Arithmetic:
    """Both differences step by step."""
    q = Quantity
    lines = []
    if x.superheat_k is not None and x.lines_c[0] is not None and x.saturated[0] is not None:
        lines.append(
            Line(
                "superheat",
                "{0} − {1}",
                (q("temperature1", x.lines_c[0]), q("temperature1", x.saturated[0])),
                q("difference", x.superheat_k),
            )
        )
    if x.subcooling_k is not None and x.lines_c[1] is not None and x.saturated[1] is not None:
        lines.append(
            Line(
                "subcooling",
                "{0} − {1}",
                (q("temperature1", x.saturated[1]), q("temperature1", x.lines_c[1])),
                q("difference", x.subcooling_k),
                True,
            )
        )
    return Arithmetic(
        "Charge", tuple(lines), (f"Saturation of {x.refrigerant}: CoolProp" if x.refrigerant else "", CAUTION)
    )
