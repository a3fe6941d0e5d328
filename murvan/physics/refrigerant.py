"""Saturation of refrigerants, by CoolProp; they are named as it names them."""

from __future__ import annotations

from functools import lru_cache

LEAST_PA, MOST_PA = 1.0e5, 4.2e6
"""Absolute, what a house's system can stand at."""


@lru_cache(maxsize=512)
def bubble_c(fluid: str, pressure_pa: float) -> float:
    """Temperature [degC] at which its liquid begins to boil at an absolute pressure [Pa]. Raises ValueError out of its range."""
    return _at(fluid, pressure_pa, 0)


@lru_cache(maxsize=512)
def dew_c(fluid: str, pressure_pa: float) -> float:
    """Temperature [degC] at which its vapour begins to condense at an absolute pressure [Pa]. Raises ValueError out of its range."""
    return _at(fluid, pressure_pa, 1)


@lru_cache(maxsize=512)
def pressure_pa(fluid: str, temperature_c: float, vapour: bool) -> float:
    """Absolute pressure [Pa] at which it is saturated. Raises ValueError out of its range."""
    from CoolProp.CoolProp import PropsSI

    return float(PropsSI("P", "T", temperature_c + 273.15, "Q", 1 if vapour else 0, fluid))


def _at(fluid: str, pressure: float, quality: int) -> float:
    if not LEAST_PA <= pressure <= MOST_PA:
        raise ValueError(f"{fluid} is not judged at {pressure:.0f} Pa")
    from CoolProp.CoolProp import PropsSI

    return float(PropsSI("T", "P", pressure, "Q", quality, fluid)) - 273.15
