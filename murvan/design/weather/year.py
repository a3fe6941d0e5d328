"""A place month by month: mean days, and the sun of a clear day on the faces of a house."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from murvan.arrays import Array
from murvan.design.weather.conditions import design_days, sun_on
from murvan.model.job import Climate, Site

FACES = (("S", 180.0, 90.0), ("W", 270.0, 90.0), ("E", 90.0, 90.0), ("level", 0.0, 0.0))
"""Name, facing and tilt of the planes that the year is told for."""


def month_means(climate: Climate, hottest: int) -> tuple[Array, Array, bool]:
    """Mean, degC, and mean daily range, K, of each month, (12,); False when estimated from the ground."""
    if climate.month_mean_c:
        ranges = climate.month_range_k or (climate.daily_range_k,) * 12
        return np.array(climate.month_mean_c), np.array(ranges), True
    m = np.arange(1, 13)
    means = climate.ground_c + climate.ground_swing_k * np.cos(2 * np.pi * (m - hottest) / 12)
    return means, np.full(12, climate.daily_range_k), False


@lru_cache(maxsize=8)
def month_sun(site: Site, climate: Climate) -> Array:
    """Highest irradiance of the 21st on the faces of FACES, W/m2, and the noon sun's height, degrees, (12, 5)."""
    out = np.zeros((12, len(FACES) + 1))
    facing, tilt = np.array([f for _, f, _ in FACES]), np.array([t for _, _, t in FACES])
    for day in design_days(site, climate, tuple(range(1, 13))):
        x = sun_on(day, facing, tilt)
        out[day.month - 1, :-1] = (x.beam + x.diffuse).max(axis=0)
        out[day.month - 1, -1] = day.sun_altitude_deg.max()
    return out
