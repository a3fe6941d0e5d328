"""What a unit puts into its air at full output, by its maker's table."""

from __future__ import annotations

from murvan.design.results import Results
from murvan.design.units import cooling_capacity, heating_capacity
from murvan.model.job import HouseState


def sensible_w(r: Results, unit: str, state: HouseState, flow_m3_s: float | None = None) -> float:
    """Sensible heat into the air of a unit, W, below zero where it cools; 0 of one that is not picked. Weather that nobody noted is
    that of design, and a season that nobody noted is winter.

    Args:
        flow_m3_s: its air; None: as designed.
    """
    s, c = r.systems.get(unit), r.conditions
    chosen = s.equipment.chosen if s is not None else None
    if chosen is None or state.mode == "fan":
        return 0.0
    if state.mode == "cooling":
        if state.outdoor_c is None and flow_m3_s is None:
            return -chosen.sensible_w
        out = chosen.climate.summer_c if state.outdoor_c is None else state.outdoor_c
        flow = chosen.flow_m3_s if flow_m3_s is None else flow_m3_s
        return -cooling_capacity(chosen.unit, out, chosen.entering, flow, c.density_kg_m3)[1]
    if state.outdoor_c is None:
        return chosen.heating_w
    most, _, _ = heating_capacity(chosen.unit, state.outdoor_c, c.density_kg_m3, c.burner_share, chosen.lockout_c)
    return float(most[0])
