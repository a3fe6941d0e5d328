"""What the air meets inside the unit: filter, coil, heater; outside the blower's table, or already in it.

A maker's table holds what it was tested with, and that is never taken off twice. Tables and rated drops are of standard air;
at a place's density pressures go with it at the same flow.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from murvan.model.design import IndoorUnit
from murvan.model.equipment import Unit
from murvan.physics.circuit import FanCurve
from murvan.physics.constants import STANDARD_DENSITY_KG_M3

DRY_COIL = 0.75
"""Pressure of a dry coil against the wet one; common practice."""
LOADED_FACTOR = 2.0
"""Pressure of a loaded filter against a clean one; common practice."""
FILTER_RATED_M_S = 1.5


@dataclass(frozen=True)
class UnitLosses:
    """Pa per (m3/s)2 at the site's density."""

    filter_k: float
    """Clean filter outside the table."""
    loaded_k: float
    """The same when it is due to be changed."""
    coil_k: float
    heater_k: float
    inside_k: float
    """What is in the table: the blower works against it, the ducts do not see it."""


def unit_losses(unit: Unit | None, indoor: IndoorUnit, density_kg_m3: float) -> UnitLosses:
    """Losses of a unit with the filter and heater that are set, wet coil; without a unit only the filter."""
    air = density_kg_m3 / STANDARD_DENSITY_KG_M3
    face = indoor.filter.width_m * indoor.filter.height_m
    clean = air * indoor.filter.clean_pa / (FILTER_RATED_M_S * face) ** 2
    loading = (max(indoor.filter.load, LOADED_FACTOR) - 1) * clean
    if unit is None:
        return UnitLosses(clean, clean + loading, 0.0, 0.0, 0.0)
    tested = set(unit.blower.tested_with)
    rated = unit.rated_flow_m3_s**2
    wet = air * unit.coil_pa / rated
    heater = air * unit.heater_pa / rated if indoor.heater_kw > 0 else 0.0
    coil_in = wet if "wet_coil" in tested else DRY_COIL * wet if "dry_coil" in tested else 0.0
    filter_in = clean if "filter" in tested else 0.0
    heater_in = heater if "heater" in tested else 0.0
    outside = clean - filter_in
    return UnitLosses(outside, outside + loading, wet - coil_in, heater - heater_in, coil_in + filter_in + heater_in)


EXHAUST_RATED_PA = 62.3
"""Exhaust fans and hoods are rated at 0.25 in wc, what their duct, cap and grille take; common practice."""
EXHAUST_SHARES = ((0.0, 2.2), (1.0, 1.0), (1.6, 0.0))
"""Flow over the rated one, and pressure over the rated one: a small centrifugal fan; common practice."""


def exhaust_curve(rated_m3_s: float) -> FanCurve:
    """An exhaust fan of a rated flow."""
    flow, rise = np.array(EXHAUST_SHARES).T
    return FanCurve.through(flow * rated_m3_s, rise * EXHAUST_RATED_PA)


def exhaust_k(rated_m3_s: float) -> float:
    """Pa per (m3/s)2 of its duct: at the rated flow it takes all that the fan makes, so that it draws that from a house at
    the pressure of the outdoors."""
    return EXHAUST_RATED_PA / rated_m3_s**2


def fan_curve(unit: Unit, tap: int, density_kg_m3: float) -> FanCurve:
    """The blower on one tap at a density; taps beyond the table take its last row."""
    rows = unit.blower.taps_m3_s
    flow = np.array(rows[min(tap, len(rows)) - 1])
    rise = np.array(unit.blower.static_pa) * density_kg_m3 / STANDARD_DENSITY_KG_M3
    return FanCurve.through(flow[::-1], rise[::-1])
