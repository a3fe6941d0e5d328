"""The air and the sun the house is designed for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.model.job import Climate, Indoor, Site
from murvan.physics import air, heat, sun
from murvan.physics.air import Air
from murvan.physics.constants import STANDARD_DENSITY_KG_M3

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
DAY_21 = (21, 52, 80, 111, 141, 172, 202, 233, 264, 294, 325, 355)
"""The 21st of each month as a day of the year."""
AFTER = 3
"""Months after the hottest that are looked at too: low autumn sun on south glass."""
MONTH_DROP = 0.55
"""Design dry bulb falls over the year by this share of the fall of the mean; common practice, where a place has no
monthly values."""


@dataclass(frozen=True, eq=False)
class Day:
    """A clear day of one month by hour 1..24 of the clock."""

    month: int
    outdoor_c: Array
    sun_altitude_deg: Array
    sun_azimuth_deg: Array
    beam_w_m2: Array
    diffuse_w_m2: Array
    summer_time: bool = False
    """The clock is an hour ahead of standard time."""


SUMMER_TIME_NORTH = range(3, 11)
"""Months on whose 21st clocks are ahead: March to October, and the others of that kind south of the equator."""


def time_zone_h(site: Site) -> float:
    """Standard time of a place, hours ahead of Greenwich: as given, else the full hour nearest its longitude."""
    return site.time_zone_h if site.time_zone_h is not None else float(round(site.longitude_deg / 15.0))


def is_summer_time(site: Site, month: int) -> bool:
    """Whether clocks are ahead on the 21st of a month."""
    if not site.summer_time:
        return False
    ahead = month in SUMMER_TIME_NORTH
    return ahead if site.latitude_deg >= 0 else not 4 <= month <= 9


def clock_words(site: Site, month: int) -> str:
    """'summer time, UTC-5'."""
    ahead = is_summer_time(site, month)
    hours = time_zone_h(site) + (1 if ahead else 0)
    sign = "−" if hours < 0 else "+"
    return f"{'summer' if ahead else 'standard'} time, UTC{sign}{abs(hours):g}"


def hottest_month(latitude_deg: float) -> int:
    """July, or January south of the equator."""
    return 7 if latitude_deg >= 0 else 1


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
    """kg/kg, outdoors over indoors in summer."""
    daily_range_k: float
    hourly_outdoor_c: Array
    sun_altitude_deg: Array
    sun_azimuth_deg: Array
    beam_w_m2: Array
    diffuse_w_m2: Array
    latitude_deg: float
    burner_share: float
    """What altitude leaves of a burner's output."""
    days: tuple[Day, ...]
    """The months looked at for the highest cooling load, the design month first."""

    @property
    def density_share(self) -> float:
        """Density of the air here over that of standard air."""
        return self.density_kg_m3 / STANDARD_DENSITY_KG_M3


def ground_c(climate: Climate, month: int, hottest: int) -> float:
    """What a floor or wall on the ground feels beyond it in a month, degC: the year's mean, and of the swing the share that
    comes through, a month late."""
    late = 2 * np.pi * (month - hottest - GROUND_LAG_MONTHS) / 12
    return float(climate.ground_c + GROUND_SHARE * climate.ground_swing_k * np.cos(late))


GROUND_SHARE, GROUND_LAG_MONTHS = 0.55, 1
"""Of the year's swing against its mean, by the conductances of ISO 13370: external periodic over steady, .40 to .65 for a
house's slab, insulated and bare; its annex A: the heat flow of slabs and basements comes a month late."""


def month_maximum(climate: Climate, month: int, hottest: int) -> float:
    """Design dry bulb of a month, degC: the summer one in the hottest; else the climate's own, or estimated from the
    yearly swing of the ground."""
    if month == hottest:
        return climate.summer_c
    if climate.month_summer_c:
        return min(climate.month_summer_c[month - 1], climate.summer_c)
    fall = climate.ground_swing_k * (1 - np.cos(2 * np.pi * (month - hottest) / 12))
    return float(climate.summer_c - MONTH_DROP * fall)


def design_days(site: Site, climate: Climate, months: tuple[int, ...] = ()) -> tuple[Day, ...]:
    """The design month and the others asked for; none: the three after it."""
    hottest = hottest_month(site.latitude_deg)
    wanted = months or tuple((hottest + k - 1) % 12 + 1 for k in range(1, AFTER + 1))
    return tuple(_day(site, climate, m, hottest) for m in (hottest, *sorted(set(wanted) - {hottest})))


def _day(site: Site, climate: Climate, month: int, hottest: int) -> Day:
    hours = np.arange(1, 25, dtype=float)
    number = DAY_21[month - 1]
    ahead = is_summer_time(site, month)
    sundial = sun.solar_hours(hours, number, site.longitude_deg, time_zone_h(site), ahead)
    altitude, azimuth = sun.position(site.latitude_deg, number, sundial)
    beam, diffuse = sun.clear_sky(altitude, number, climate.taub, climate.taud)
    top = month_maximum(climate, month, hottest)
    if climate.hourly_c:
        outdoor = np.array(climate.hourly_c) - climate.summer_c + top
    else:
        outdoor = top - climate.daily_range_k * DAILY_FRACTION
    return Day(month, outdoor, altitude, azimuth, beam, diffuse, ahead)


def daily_range(climate: Climate) -> float:
    """Range of the design day, K: by its 24 values if given."""
    return max(climate.hourly_c) - min(climate.hourly_c) if climate.hourly_c else climate.daily_range_k


def conditions(site: Site, climate: Climate, indoor: Indoor, months: tuple[int, ...] = ()) -> Conditions:
    """Design conditions of a place. Air density is that of indoor air at the site's pressure."""
    pressure = air.pressure_at(site.altitude_m)
    inside_h = air.from_relative_humidity(indoor.heating_c, 0.35, pressure)
    inside_c = air.from_relative_humidity(indoor.cooling_c, indoor.cooling_rh, pressure)
    outside_w = air.from_relative_humidity(climate.winter_c, 0.8, pressure)
    outside_s = air.from_wet_bulb(climate.summer_c, climate.summer_wet_bulb_c, pressure)
    # the trade's 1.08 rests on 0.075 lb/ft3; scale it by the site's pressure
    density = STANDARD_DENSITY_KG_M3 * pressure / 101325.0
    days = design_days(site, climate, months)
    first = days[0]
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
        daily_range_k=daily_range(climate),
        hourly_outdoor_c=first.outdoor_c,
        sun_altitude_deg=first.sun_altitude_deg,
        sun_azimuth_deg=first.sun_azimuth_deg,
        beam_w_m2=first.beam_w_m2,
        diffuse_w_m2=first.diffuse_w_m2,
        latitude_deg=site.latitude_deg,
        burner_share=heat.burner_share(site.altitude_m),
        days=days,
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


def sun_on(c: Conditions | Day, facing_deg: Array, tilt_deg: Array | float = 90.0) -> FaceSun:
    """Clear-sky irradiance of a design day on planes; `facing_deg` true compass directions."""
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
