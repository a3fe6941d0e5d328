"""The air and the sun the house is designed for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from murvan.model.job import Climate, Indoor, Site
from murvan.physics import air, sun
from murvan.physics.air import Air

Array = NDArray[np.float64]

DAILY_FRACTION = np.array(
    [
        0.88,
        0.92,
        0.95,
        0.98,
        1.00,
        0.98,
        0.91,
        0.74,
        0.55,
        0.38,
        0.23,
        0.13,
        0.05,
        0.00,
        0.00,
        0.06,
        0.14,
        0.24,
        0.39,
        0.50,
        0.59,
        0.68,
        0.75,
        0.82,
    ]
)
"""Share of the daily range below the maximum, hours 1 to 24; ASHRAE Fundamentals ch. 14, from memory."""
DESIGN_DAY = 202
"""21 July."""


@dataclass(frozen=True)
class Conditions:
    """Design air states at site pressure, and the clear sky of the design day by hour 1..24."""

    pressure_pa: float
    density_kg_m3: float
    sensible_factor: float
    """W per m3/s and kelvin at site density."""
    latent_factor: float
    """W per m3/s and kg/kg."""
    indoor_heating: Air
    indoor_cooling: Air
    outdoor_winter: Air
    outdoor_summer: Air
    heating_difference_k: float
    cooling_difference_k: float
    moisture_difference: float
    daily_range_k: float
    hourly_outdoor_c: Array
    sun_altitude_deg: Array
    sun_azimuth_deg: Array
    beam_w_m2: Array
    diffuse_w_m2: Array
    latitude_deg: float


def conditions(site: Site, climate: Climate, indoor: Indoor) -> Conditions:
    """Design conditions of a place. Air density is that of indoor air at the site's pressure."""
    pressure = air.pressure_at(site.altitude_m)
    inside_h = air.from_relative_humidity(indoor.heating_c, 0.35, pressure)
    inside_c = air.from_relative_humidity(indoor.cooling_c, indoor.cooling_rh, pressure)
    outside_w = air.from_relative_humidity(climate.winter_c, 0.8, pressure)
    outside_s = air.from_wet_bulb(climate.summer_c, climate.summer_wet_bulb_c, pressure)
    # the trade's 1.08 rests on 0.075 lb/ft3; scale it by the site's pressure
    density = 1.2014 * pressure / 101325.0
    hours = np.arange(1, 25, dtype=float)
    altitude, azimuth = sun.position(site.latitude_deg, DESIGN_DAY, hours)
    beam, diffuse = sun.clear_sky(altitude, DESIGN_DAY, climate.taub, climate.taud)
    return Conditions(
        pressure_pa=pressure,
        density_kg_m3=density,
        sensible_factor=air.sensible_factor(density),
        latent_factor=air.latent_factor(density),
        indoor_heating=inside_h,
        indoor_cooling=inside_c,
        outdoor_winter=outside_w,
        outdoor_summer=outside_s,
        heating_difference_k=indoor.heating_c - climate.winter_c,
        cooling_difference_k=climate.summer_c - indoor.cooling_c,
        moisture_difference=max(outside_s.humidity_ratio - inside_c.humidity_ratio, 0.0),
        daily_range_k=climate.daily_range_k,
        hourly_outdoor_c=climate.summer_c - climate.daily_range_k * DAILY_FRACTION,
        sun_altitude_deg=altitude,
        sun_azimuth_deg=azimuth,
        beam_w_m2=beam,
        diffuse_w_m2=diffuse,
        latitude_deg=site.latitude_deg,
    )


@dataclass(frozen=True)
class FaceSun:
    """Sun on planes facing `facing_deg`, W/m2 by (hour, face), and at each face's peak hour."""

    beam: Array
    diffuse: Array
    cos_incidence: Array
    peak_hour: NDArray[np.intp]
    peak_beam: Array
    peak_diffuse: Array


def sun_on(c: Conditions, facing_deg: Array, tilt_deg: Array | float = 90.0) -> FaceSun:
    """Clear-sky irradiance of the design day on planes; `facing_deg` true compass directions."""
    beam, diffuse, cos_i = sun.plane_irradiance(
        c.sun_altitude_deg[:, None],
        c.sun_azimuth_deg[:, None],
        c.beam_w_m2[:, None],
        c.diffuse_w_m2[:, None],
        np.asarray(tilt_deg),
        facing_deg[None, :],
    )
    peak = np.argmax(beam + diffuse, axis=0)
    columns = np.arange(len(facing_deg))
    return FaceSun(beam, diffuse, cos_i, peak, beam[peak, columns], diffuse[peak, columns])
