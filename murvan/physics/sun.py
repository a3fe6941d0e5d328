"""Sun position and ASHRAE clear sky, vectorised over hours and surfaces."""

from __future__ import annotations

import numpy as np

from murvan.arrays import Array
from murvan.physics.constants import SOLAR_CONSTANT_W_M2

INCIDENCE_DEG = np.array([0.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0])
INCIDENCE_RATIO = np.array([1.0, 0.97, 0.93, 0.84, 0.66, 0.34, 0.0])
DIFFUSE_RATIO = 0.87
GROUND_REFLECTANCE = 0.2


def day_angle(day_of_year: int) -> float:
    """Angle of the year, rad. Counted so that noon of a day in these decades lies within 0.2 degrees of declination."""
    return 2 * np.pi * day_of_year / 365.0


def declination_deg(day_of_year: int) -> float:
    """Solar declination at noon; Spencer's series."""
    b = day_angle(day_of_year)
    radians = (
        0.006918
        - 0.399912 * np.cos(b)
        + 0.070257 * np.sin(b)
        - 0.006758 * np.cos(2 * b)
        + 0.000907 * np.sin(2 * b)
        - 0.002697 * np.cos(3 * b)
        + 0.00148 * np.sin(3 * b)
    )
    return float(np.rad2deg(radians))


def equation_of_time_min(day_of_year: int) -> float:
    """How far a sundial runs ahead of a clock on the zone's own meridian, minutes; Spencer's series."""
    b = day_angle(day_of_year)
    return float(
        229.2
        * (
            0.000075
            + 0.001868 * np.cos(b)
            - 0.032077 * np.sin(b)
            - 0.014615 * np.cos(2 * b)
            - 0.04089 * np.sin(2 * b)
        )
    )


def solar_hours(
    clock_hour: Array, day_of_year: int, longitude_deg: float, time_zone_h: float, summer_time: bool
) -> Array:
    """Sun time at hours of the clock: 12 when the sun stands highest; ASHRAE Fundamentals ch. 14.

    Args:
        clock_hour: any shape, 0..24.
        longitude_deg: east positive.
        time_zone_h: of standard time, hours ahead of Greenwich.
        summer_time: the clock is one hour ahead of standard time.
    """
    standard = np.asarray(clock_hour, float) - (1.0 if summer_time else 0.0)
    return np.asarray(standard + longitude_deg / 15.0 - time_zone_h + equation_of_time_min(day_of_year) / 60.0)


def extraterrestrial_w_m2(day_of_year: int) -> float:
    """Normal irradiance outside the atmosphere; ASHRAE Fundamentals ch. 14 eq. 4."""
    return float(SOLAR_CONSTANT_W_M2 * (1 + 0.033 * np.cos(np.deg2rad(360.0 * (day_of_year - 3) / 365.0))))


def position(latitude_deg: float, day_of_year: int, solar_hour: Array) -> tuple[Array, Array]:
    """Altitude and azimuth of the sun [deg]; azimuth clockwise from north. `solar_hour` any shape."""
    lat = np.deg2rad(latitude_deg)
    dec = np.deg2rad(declination_deg(day_of_year))
    hour = np.deg2rad(15.0 * (solar_hour - 12.0))
    sin_alt = np.cos(lat) * np.cos(dec) * np.cos(hour) + np.sin(lat) * np.sin(dec)
    altitude = np.arcsin(np.clip(sin_alt, -1, 1))
    east = np.cos(dec) * np.sin(hour)
    south = np.cos(hour) * np.cos(dec) * np.sin(lat) - np.sin(dec) * np.cos(lat)
    azimuth = np.rad2deg(np.arctan2(east, south)) + 180.0
    return np.rad2deg(altitude), np.mod(azimuth, 360.0)


def clear_sky(altitude_deg: Array, day_of_year: int, taub: float, taud: float) -> tuple[Array, Array]:
    """Beam normal and diffuse horizontal irradiance [W/m2]; ASHRAE tau model, coefficients from memory."""
    up = altitude_deg > 0.5
    alt = np.where(up, altitude_deg, 1.0)
    mass = 1 / (np.sin(np.deg2rad(alt)) + 0.50572 * (6.07995 + alt) ** -1.6364)
    ab = 1.454 - 0.406 * taub - 0.268 * taud + 0.021 * taub * taud
    ad = 0.507 + 0.205 * taub - 0.080 * taud - 0.190 * taub * taud
    e0 = extraterrestrial_w_m2(day_of_year)
    beam = e0 * np.exp(-taub * mass**ab)
    diffuse = e0 * np.exp(-taud * mass**ad)
    return np.where(up, beam, 0.0), np.where(up, diffuse, 0.0)


def incidence_cos(altitude_deg: Array, azimuth_deg: Array, tilt_deg: Array, facing_deg: Array) -> Array:
    """Cosine of the incidence angle, -1 to 1, negative when the sun is behind; arguments broadcast."""
    alt, gamma = np.deg2rad(altitude_deg), np.deg2rad(azimuth_deg - facing_deg)
    tilt = np.deg2rad(tilt_deg)
    return np.asarray(np.cos(alt) * np.cos(gamma) * np.sin(tilt) + np.sin(alt) * np.cos(tilt), float)


def plane_irradiance(
    altitude_deg: Array, azimuth_deg: Array, beam: Array, diffuse: Array, tilt_deg: Array, facing_deg: Array
) -> tuple[Array, Array, Array]:
    """Beam and diffuse-with-ground irradiance [W/m2] on a plane, and the cosine of incidence. Broadcasts."""
    cos_i = incidence_cos(altitude_deg, azimuth_deg, tilt_deg, facing_deg)
    tilt = np.deg2rad(tilt_deg)
    ratio = np.maximum(0.45, 0.55 + 0.437 * cos_i + 0.313 * cos_i**2)
    sky = diffuse * np.where(tilt > np.pi / 2, ratio * np.sin(tilt), ratio * np.sin(tilt) + np.cos(tilt))
    sky = np.where(tilt < 1e-6, diffuse, sky)
    horizontal = beam * np.maximum(np.sin(np.deg2rad(altitude_deg)), 0) + diffuse
    ground = horizontal * GROUND_REFLECTANCE * (1 - np.cos(tilt)) / 2
    return np.asarray(beam * np.maximum(cos_i, 0)), np.asarray(sky + ground), cos_i


def incidence_ratio(cos_incidence: Array) -> Array:
    """Share, 0 to 1, of normal-incidence solar gain left at an angle; table of the domain notes."""
    angle = np.rad2deg(np.arccos(np.clip(cos_incidence, 0, 1)))
    return np.asarray(np.interp(angle, INCIDENCE_DEG, INCIDENCE_RATIO), float)


def glass_gain_factor(beam_on_plane: Array, diffuse_on_plane: Array, cos_incidence: Array) -> Array:
    """W/m2 to multiply by SHGC: beam by the incidence ratio, diffuse by 0.87."""
    return np.asarray(beam_on_plane * incidence_ratio(cos_incidence) + diffuse_on_plane * DIFFUSE_RATIO)
