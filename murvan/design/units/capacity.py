"""What a unit gives at a house's own conditions, and what the house needs over the outdoor temperature."""

from __future__ import annotations

from bisect import bisect_right

import numpy as np

from murvan.arrays import Array
from murvan.design.loads.components import COLUMN
from murvan.design.loads.peaks import Loads
from murvan.design.weather.conditions import Conditions
from murvan.model.design import Ventilator
from murvan.model.equipment import FROST_C, Unit
from murvan.physics import air
from murvan.physics.air import Air
from murvan.physics.constants import STANDARD_DENSITY_KG_M3


def cooling_capacity(
    unit: Unit, outdoor_c: float, entering: Air, flow_m3_s: float, density_kg_m3: float = STANDARD_DENSITY_KG_M3
) -> tuple[float, float, float]:
    """Total, sensible [W] and power [W] by bilinear interpolation of the maker's table.

    Air flow and altitude enter together as mass flow against the rated mass flow of standard air; sensible
    capacity moves with the entering dry bulb through the coil's bypass factor, and ends where the air leaves saturated. Outside
    the table its edge holds.
    """
    t = unit.cooling
    total, sensible, power = by_table(unit, outdoor_c, entering.wet_bulb_c)
    mass = mass_share(unit, flow_m3_s, density_kg_m3)
    total *= mass**t.flow_exponent_total
    sensible = sensible * mass**t.flow_exponent_sensible
    sensible += (
        air.sensible_factor(density_kg_m3)
        * flow_m3_s
        * (1 - t.bypass_factor)
        * (entering.temperature_c - t.dry_bulb_c)
    )
    sensible = min(_wet(entering, total, sensible, flow_m3_s, density_kg_m3), total)
    return total, float(max(sensible, 0.0)), power


def _wet(entering: Air, total_w: float, sensible_w: float, flow_m3_s: float, density_kg_m3: float) -> float:
    """Sensible capacity, no more than leaves the air saturated at the enthalpy that the total one leaves."""
    factor = air.sensible_factor(density_kg_m3) * flow_m3_s
    left = entering.enthalpy_j_kg - total_w * (1 + entering.humidity_ratio) / (flow_m3_s * density_kg_m3)
    leaving_c = entering.temperature_c - sensible_w / factor
    if air.holds(leaving_c, left, entering.pressure_pa):
        return sensible_w
    return factor * (entering.temperature_c - air.saturated_c(left, entering.pressure_pa, entering.temperature_c))


def by_table(unit: Unit, outdoor_c: float, wet_bulb_c: float) -> tuple[float, float, float]:
    """Total, sensible and power [W] by the maker's cooling table alone."""
    t = unit.cooling
    row, column = _between(t.outdoor_c, outdoor_c), _between(t.wet_bulb_c, wet_bulb_c)
    total, sensible, power = (_bilinear(x, row, column) for x in (t.total_w, t.sensible_w, t.power_w))
    return total, sensible, power


def mass_share(unit: Unit, flow_m3_s: float, density_kg_m3: float) -> float:
    """Mass flow over the rated one of standard air."""
    return flow_m3_s * density_kg_m3 / (unit.rated_flow_m3_s * STANDARD_DENSITY_KG_M3)


def heating_capacity(
    unit: Unit,
    outdoor_c: Array | float,
    density_kg_m3: float = STANDARD_DENSITY_KG_M3,
    burner_share: float = 1.0,
    lockout_c: float | None = None,
) -> tuple[Array, Array, Array]:
    """Highest and lowest heating capacity and power [W] at outdoor temperatures; a furnace gives its output times
    `burner_share`, what altitude leaves of it. A compressor is off below its own limit and below `lockout_c`."""
    outdoor = np.atleast_1d(np.asarray(outdoor_c, float))
    if unit.heating is None:
        share = 1.0 if unit.fuel == "electric" else burner_share
        output = np.full(outdoor.shape, (unit.furnace_output_w or 0.0) * share)
        return output, output * unit.furnace_min_fraction, np.zeros(outdoor.shape)
    t = unit.heating
    at = np.asarray(t.outdoor_c)
    scale = (density_kg_m3 / STANDARD_DENSITY_KG_M3) ** unit.cooling.flow_exponent_total
    frost = np.where((at >= FROST_C[0]) & (at <= FROST_C[1]), t.defrost_share, 1.0)
    highest, lowest = (np.interp(outdoor, at, np.asarray(x) * frost) for x in (t.max_w, t.min_w))
    power = np.interp(outdoor, at, np.asarray(t.power_w))
    on = outdoor >= off_below(unit, lockout_c)
    return highest * scale * on, lowest * scale * on, power * on


def off_below(unit: Unit, lockout_c: float | None) -> float:
    """Outdoor temperature [degC] below which the compressor does not heat."""
    return unit.low_ambient_c if lockout_c is None else max(unit.low_ambient_c, lockout_c)


def _between(grid: tuple[float, ...], at: float) -> tuple[int, float]:
    """Lower neighbour and share of the upper one; beyond the ends the end holds."""
    k = min(max(bisect_right(grid, at) - 1, 0), len(grid) - 2)
    return k, min(max((at - grid[k]) / (grid[k + 1] - grid[k]), 0.0), 1.0)


def _bilinear(table: tuple[tuple[float, ...], ...], row: tuple[int, float], column: tuple[int, float]) -> float:
    (i, u), (j, v) = row, column
    low = table[i][j] + v * (table[i][j + 1] - table[i][j])
    high = table[i + 1][j] + v * (table[i + 1][j + 1] - table[i + 1][j])
    return low + u * (high - low)


def entering_air(
    conditions: Conditions, ventilators: tuple[Ventilator, ...], flow_m3_s: float, return_rise_k: float = 0.0
) -> Air:
    """Return air, warmed by its ducts, mixed with the fresh air that comes in before the coil, in cooling."""
    inside, outside = conditions.indoor_cooling, conditions.outdoor_summer
    if return_rise_k > 0:
        warmed = inside.temperature_c + return_rise_k
        inside = air.from_humidity_ratio(warmed, inside.humidity_ratio, conditions.pressure_pa)
    coming = [v for v in ventilators if v.kind in ("erv", "hrv", "supply") and v.flow_m3_s > 0]
    fresh_m3_s = sum(v.flow_m3_s for v in coming)
    if fresh_m3_s <= 0:
        return inside
    sensible, latent = (
        sum(v.flow_m3_s * getattr(v, k) for v in coming) / fresh_m3_s
        for k in ("sensible_recovery", "latent_recovery")
    )
    t = outside.temperature_c + sensible * (inside.temperature_c - outside.temperature_c)
    w = outside.humidity_ratio + latent * (inside.humidity_ratio - outside.humidity_ratio)
    fresh = air.from_humidity_ratio(t, w, conditions.pressure_pa)
    return air.mix(inside, fresh, min(fresh_m3_s / flow_m3_s, 1.0))


def no_load_temperature(conditions: Conditions, loads: Loads) -> float:
    """Outdoor temperature, degC, at which people and appliances alone hold the house: indoor - gains / UA."""
    ua = loads.whole_heating_w / conditions.heating_difference_k if conditions.heating_difference_k > 0 else 1.0
    inner = loads.parts_by_hour_w[0][:, [COLUMN["people"], COLUMN["appliances"]]]
    gains = float(inner.sum(axis=(0, 1)).mean())
    return conditions.indoor_heating.temperature_c - gains / max(ua, 1.0)


def load_line(conditions: Conditions, loads: Loads, off_c: float, outdoor_c: Array) -> tuple[Array, Array]:
    """Heating and cooling need [W] over outdoor temperature: straight from nothing at `off_c` to the design load."""
    summer = conditions.outdoor_summer.temperature_c
    heat = heat_line(loads.house_heating_w, conditions, off_c, outdoor_c)
    cool = loads.house_cooling_w * np.clip((outdoor_c - off_c) / max(summer - off_c, 0.1), 0, None)
    return heat, cool


def heat_line(design_w: float, conditions: Conditions, off_c: float, outdoor_c: Array) -> Array:
    """Heating need [W] over outdoor temperature: straight from nothing at `off_c` to `design_w` at the winter's design."""
    winter = conditions.outdoor_winter.temperature_c
    return np.asarray(design_w * np.clip((off_c - outdoor_c) / max(off_c - winter, 0.1), 0, None))
