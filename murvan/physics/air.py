"""Moist air. PsychroLib does the psychrometrics; this module fixes its unit system once and adds density."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import psychrolib

from murvan.physics.constants import CP_AIR_J_KGK, H_FG_J_KG, STANDARD_PRESSURE_PA

psychrolib.SetUnitSystem(psychrolib.SI)
COLDEST_C, WARMEST_C, DRY = -60.0, 120.0, 1e-6
"""What the formulas are trusted with; air beyond them stands at their edge."""


@dataclass(frozen=True)
class Air:
    """Moist air at one state: degC, Pa, kg/kg dry air, kg/m3, J/kg dry air."""

    temperature_c: float
    pressure_pa: float
    humidity_ratio: float
    density_kg_m3: float
    enthalpy_j_kg: float
    dew_point_c: float
    wet_bulb_c: float
    relative_humidity: float
    """0..1."""


def pressure_at(altitude_m: float) -> float:
    """Standard atmosphere pressure [Pa] at an altitude [m]; ASHRAE Fundamentals ch. 1 eq. 3."""
    return float(psychrolib.GetStandardAtmPressure(altitude_m))


@lru_cache(maxsize=256)
def from_relative_humidity(temperature_c: float, rh: float, pressure_pa: float = STANDARD_PRESSURE_PA) -> Air:
    """Moist air from dry bulb [degC] and relative humidity [0..1]."""
    ratio = psychrolib.GetHumRatioFromRelHum(temperature_c, rh, pressure_pa)
    return _state(temperature_c, ratio, pressure_pa)


@lru_cache(maxsize=256)
def from_wet_bulb(temperature_c: float, wet_bulb_c: float, pressure_pa: float = STANDARD_PRESSURE_PA) -> Air:
    """Moist air from dry bulb and wet bulb [degC]; wet bulb at or below dry bulb."""
    ratio = psychrolib.GetHumRatioFromTWetBulb(temperature_c, wet_bulb_c, pressure_pa)
    return _state(temperature_c, ratio, pressure_pa)


@lru_cache(maxsize=256)
def from_humidity_ratio(temperature_c: float, ratio: float, pressure_pa: float = STANDARD_PRESSURE_PA) -> Air:
    """Moist air from dry bulb [degC] and humidity ratio [kg/kg]."""
    return _state(temperature_c, ratio, pressure_pa)


def from_enthalpy(temperature_c: float, enthalpy_j_kg: float, pressure_pa: float = STANDARD_PRESSURE_PA) -> Air:
    """Moist air from dry bulb [degC] and enthalpy [J/kg dry air]; what can't be vapour at that dry bulb has no place in
    it, and the air is saturated at the enthalpy instead; what would be less than dry is dry."""
    temperature_c = min(max(temperature_c, COLDEST_C), WARMEST_C)
    if enthalpy_j_kg <= psychrolib.GetMoistAirEnthalpy(temperature_c, DRY):
        return _state(temperature_c, DRY, pressure_pa)
    ratio = psychrolib.GetHumRatioFromEnthalpyAndTDryBulb(enthalpy_j_kg, temperature_c)
    if ratio <= psychrolib.GetSatHumRatio(temperature_c, pressure_pa):
        return _state(temperature_c, max(ratio, DRY), pressure_pa)
    t = saturated_c(enthalpy_j_kg, pressure_pa, temperature_c)
    return _state(t, psychrolib.GetSatHumRatio(t, pressure_pa), pressure_pa)


def saturated_c(enthalpy_j_kg: float, pressure_pa: float, near_c: float = 10.0) -> float:
    """Temperature [degC] of saturated air of an enthalpy [J/kg dry air]; air of that enthalpy is nowhere colder.

    Args:
        near_c: A dry bulb above which it lies by no more than 60 K.
    """
    low, high = COLDEST_C, max(near_c, 0.0) + 60.0
    for _ in range(50):  # SciPy's solver would cost every start its import
        t = (low + high) / 2
        above = psychrolib.GetSatAirEnthalpy(t, pressure_pa) > enthalpy_j_kg
        low, high = (low, t) if above else (t, high)
    return t


def holds(temperature_c: float, enthalpy_j_kg: float, pressure_pa: float) -> bool:
    """Whether air of a dry bulb can have an enthalpy without being beyond saturation."""
    t = min(max(temperature_c, COLDEST_C), WARMEST_C)
    ratio = max(psychrolib.GetHumRatioFromEnthalpyAndTDryBulb(enthalpy_j_kg, t), 0.0) if enthalpy_j_kg > 0 else 0.0
    return bool(ratio <= psychrolib.GetSatHumRatio(t, pressure_pa))


def humidity_curve(temperatures_c: Sequence[float], rh: float, pressure_pa: float) -> list[float]:
    """Humidity ratio [kg/kg] at one relative humidity [0..1] over dry bulbs [degC]."""
    return [float(psychrolib.GetHumRatioFromRelHum(t, rh, pressure_pa)) for t in temperatures_c]


def _state(temperature_c: float, ratio: float, pressure_pa: float) -> Air:
    volume = psychrolib.GetMoistAirVolume(temperature_c, ratio, pressure_pa)
    rh = min(1.0, psychrolib.GetRelHumFromHumRatio(temperature_c, ratio, pressure_pa))
    return Air(
        temperature_c=temperature_c,
        pressure_pa=pressure_pa,
        humidity_ratio=ratio,
        density_kg_m3=(1 + ratio) / volume,
        enthalpy_j_kg=float(psychrolib.GetMoistAirEnthalpy(temperature_c, ratio)),
        dew_point_c=float(psychrolib.GetTDewPointFromHumRatio(temperature_c, ratio, pressure_pa)),
        wet_bulb_c=float(psychrolib.GetTWetBulbFromHumRatio(temperature_c, ratio, pressure_pa)),
        relative_humidity=float(rh),
    )


def sensible_factor(density_kg_m3: float) -> float:
    """W carried per m3/s and kelvin: density times specific heat."""
    return density_kg_m3 * CP_AIR_J_KGK


def latent_factor(density_kg_m3: float) -> float:
    """W carried per m3/s and kg/kg of humidity ratio."""
    return density_kg_m3 * H_FG_J_KG


def mix(first: Air, second: Air, share_second: float) -> Air:
    """Two streams mixed; `share_second` by mass of dry air, 0..1."""
    t = first.temperature_c + share_second * (second.temperature_c - first.temperature_c)
    w = first.humidity_ratio + share_second * (second.humidity_ratio - first.humidity_ratio)
    return from_humidity_ratio(t, w, first.pressure_pa)
