"""What the wet bulbs and the refrigerant lines of a virtual house show: simple estimates of Murvan's, for training alone."""

from __future__ import annotations

from murvan.design.results import Results
from murvan.design.units import cooling_capacity
from murvan.field.places import Place
from murvan.kinds.refrigerants import REFRIGERANTS
from murvan.model.job import HouseState
from murvan.physics import air
from murvan.physics.refrigerant import pressure_pa

WINTER_RH = 0.35
COIL_K, LOST_COIL_K = 5.0, 12.0
"""By how much the coil boils below the air that leaves it, and more by the share of capacity that low charge takes."""
SUPERHEAT_K, LOST_SUPERHEAT_K = 6.0, 24.0
CONDENSES_K, LOST_CONDENSES_K = 13.0, 6.0
"""By how much it condenses above the weather, and less with low charge."""
SUBCOOLING_K, LOST_SUBCOOLING = 5.5, 2.2


def wet_bulb_c(
    r: Results,
    unit: str,
    state: HouseState,
    is_return: bool,
    back_c: float,
    out_c: float,
    flow_m3_s: float,
    left: float,
) -> float:
    """Wet bulb before or after the coil; `left` is the share of its capacity."""
    c, s = r.conditions, r.systems[unit]
    cools = state.mode == "cooling"
    entering = air.from_relative_humidity(back_c, r.job.indoor.cooling_rh if cools else WINTER_RH, c.pressure_pa)
    if is_return:
        return entering.wet_bulb_c
    chosen = s.equipment.chosen
    if not cools or chosen is None:
        return air.from_humidity_ratio(out_c, entering.humidity_ratio, c.pressure_pa).wet_bulb_c
    outdoor = state.outdoor_c if state.outdoor_c is not None else chosen.climate.summer_c
    total = left * cooling_capacity(chosen.unit, outdoor, entering, flow_m3_s, c.density_kg_m3)[0]
    dry = flow_m3_s * c.density_kg_m3 / (1 + entering.humidity_ratio)
    leaving = air.from_enthalpy(out_c, entering.enthalpy_j_kg - total / dry, c.pressure_pa)
    return min(leaving.wet_bulb_c, out_c)


def line_shows(r: Results, place: Place, out_c: float, left: float) -> float:
    """Gauge pressure or temperature of a line in cooling; `left` is the share of capacity that the charge leaves. Raises KeyError: the
    plate's refrigerant is not known, or it does not cool."""
    unit = next(u for u in r.job.design.indoor_units if u.id == place.at.id)
    refrigerant, state = unit.plate.refrigerant, place.state
    if refrigerant is None or state.mode != "cooling" or place.hole not in ("vapour_line", "liquid_line"):
        raise KeyError(place.word)
    lost = min(max(1 - left, 0.0), 0.6)
    outdoor = state.outdoor_c if state.outdoor_c is not None else r.job.climate.summer_c
    boils = out_c - COIL_K - LOST_COIL_K * lost
    condenses = outdoor + CONDENSES_K - LOST_CONDENSES_K * lost
    vapour = place.hole == "vapour_line"
    if place.quantity == "line_pressure":
        return (
            pressure_pa(REFRIGERANTS[refrigerant].fluid, boils if vapour else condenses, vapour)
            - r.conditions.pressure_pa
        )
    if vapour:
        return boils + SUPERHEAT_K + LOST_SUPERHEAT_K * lost
    wanted = unit.plate.subcooling_k if unit.plate.subcooling_k is not None else SUBCOOLING_K
    return condenses - wanted * max(1 - LOST_SUBCOOLING * lost, 0.0)
