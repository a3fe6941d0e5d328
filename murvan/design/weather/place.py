"""What a weather file says of a place, and how a job takes it.

Percentiles, ranges and bins are derived here from the hours of one typical year; the long record of a weather
service, and the local code's table, go before them.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from murvan.model.edit import changed
from murvan.model.errors import JobFileError, JobValueError
from murvan.model.job import Climate, DesignPoint, Job

BIN_STEP_K = 2.5
HEATING_SHARES = {"99": 1.0, "99.6": 0.4}
COOLING_SHARES = {"1": 99.0, "0.4": 99.6}
MONTH_SHARE = 98.0
"""Share of a month's hours below its design dry bulb; ASHRAE's monthly 2 %."""
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


@dataclass(frozen=True)
class Weather:
    """What a weather file says of a place, SI."""

    place: str
    source: str
    latitude_deg: float
    longitude_deg: float
    altitude_m: float
    winter_c: dict[str, float]
    """Heating dry bulb by share of the year that is warmer: '99', '99.6'."""
    summer_c: dict[str, float]
    """Cooling dry bulb by share of the year that is hotter: '1', '0.4'."""
    wet_bulb_c: dict[str, float]
    """Mean wet bulb that comes with the cooling dry bulb."""
    daily_range_k: float
    bin_start_c: float = -30.0
    bin_hours: tuple[float, ...] = ()
    """h a year, by bin."""
    month_mean_c: tuple[float, ...] = ()
    month_range_k: tuple[float, ...] = ()
    month_summer_c: tuple[float, ...] = ()
    """Dry bulb that 2 % of each month's hours pass."""
    ground_c: float | None = None
    ground_swing_k: float | None = None
    taub: float | None = None
    """Clear-sky optical depth, beam."""
    taud: float | None = None
    """Clear-sky optical depth, diffuse."""
    wind_winter_m_s: float | None = None
    wind_summer_m_s: float | None = None
    missing_hours: int = 0
    time_zone_h: float | None = None
    notes: tuple[str, ...] = field(default=())


def check_place(where: str, latitude_deg: float, longitude_deg: float, altitude_m: float) -> None:
    """Refuse a place that is none. Raises JobFileError, `where` first."""
    for value, least, most, words in (
        (latitude_deg, -90, 90, "latitude"),
        (longitude_deg, -180, 180, "longitude"),
        (altitude_m, -450, 5500, "height"),
    ):
        if not least <= value <= most:
            raise JobFileError(f"{where}: a {words} of {value:g} can't be.")


LIMITS = {
    "winter_c": ("heating dry bulb", -70.0, 30.0),
    "summer_c": ("cooling dry bulb", -10.0, 55.0),
    "wet_bulb_c": ("wet bulb", -30.0, 40.0),
    "daily_range_k": ("daily range", 0.0, 60.0),
    "month_mean_c": ("monthly mean", -70.0, 60.0),
    "month_range_k": ("monthly range", 0.0, 60.0),
    "month_summer_c": ("monthly design dry bulb", -70.0, 60.0),
    "ground_c": ("ground temperature", -30.0, 45.0),
    "ground_swing_k": ("swing of the ground", 0.0, 60.0),
    "wind_winter_m_s": ("winter wind", 0.0, 60.0),
    "wind_summer_m_s": ("summer wind", 0.0, 60.0),
}
"""What design weather can be; beyond it a file is damaged, or marks what it lacks by an odd number."""


def checked(weather: Weather, label: str) -> Weather:
    """The weather, once all of its values can be. Raises JobFileError."""
    for name, (words, low, high) in LIMITS.items():
        given = getattr(weather, name)
        values = given.values() if isinstance(given, dict) else given if isinstance(given, tuple) else (given,)
        for v in values:
            if v is not None and not low <= v <= high:
                raise JobFileError(f"{label}: a {words} of {v:g} can't be.")
    return weather


def climate_of(weather: Weather, heating: str = "99", cooling: str = "1", before: Climate | None = None) -> Climate:
    """The design weather for a choice of shares; what the file does not say stays as it was."""
    base = before or Climate()
    return changed(
        base,
        "Climate",
        name=weather.place or "From a file",
        source=weather.source[:300],
        winter_c=round(weather.winter_c[heating], 3),
        summer_c=round(weather.summer_c[cooling], 3),
        summer_wet_bulb_c=round(min(weather.wet_bulb_c[cooling], weather.summer_c[cooling]), 3),
        daily_range_k=round(min(weather.daily_range_k, 30.0), 3),
        wind_winter_m_s=round(weather.wind_winter_m_s, 3)
        if weather.wind_winter_m_s is not None
        else base.wind_winter_m_s,
        wind_summer_m_s=round(weather.wind_summer_m_s, 3)
        if weather.wind_summer_m_s is not None
        else base.wind_summer_m_s,
        ground_c=round(weather.ground_c, 3) if weather.ground_c is not None else base.ground_c,
        ground_swing_k=round(min(weather.ground_swing_k, 30.0), 3)
        if weather.ground_swing_k is not None
        else base.ground_swing_k,
        taub=weather.taub if weather.taub is not None and 0.1 <= weather.taub <= 1.5 else base.taub,
        taud=weather.taud if weather.taud is not None and 1.0 <= weather.taud <= 3.5 else base.taud,
        bin_start_c=weather.bin_start_c if weather.bin_hours else base.bin_start_c,
        bin_step_k=BIN_STEP_K if weather.bin_hours else base.bin_step_k,
        bin_hours=weather.bin_hours or base.bin_hours,
        points=points_of(weather),
        moved=False,
        hourly_c=(),
        **{k: _twelve(getattr(weather, k)) for k in ("month_summer_c", "month_mean_c", "month_range_k")},
    )


def _twelve(values: tuple[float, ...]) -> tuple[float, ...]:
    """Monthly values if there is a whole year of them."""
    return tuple(round(x, 2) for x in values) if len(values) == 12 else ()


def points_of(weather: Weather) -> tuple[DesignPoint, ...]:
    """The design values a file offers to choose from."""
    cold = (DesignPoint(share="99" if k == "99" else "99.6", dry_c=round(v, 3)) for k, v in weather.winter_c.items())
    hot = (
        DesignPoint(
            share="1" if k == "1" else "0.4", dry_c=round(v, 3), wet_bulb_c=round(min(weather.wet_bulb_c[k], v), 3)
        )
        for k, v in weather.summer_c.items()
    )
    return (*cold, *hot)


def choose(climate: Climate, share: str) -> Climate:
    """The climate with another of its design points: '99', '99.6' in winter, '1', '0.4' in summer.

    Raises:
        JobValueError: the climate does not offer it.
    """
    point = next((p for p in climate.points if p.share == share), None)
    if point is None:
        raise JobValueError(f"{climate.name} has no {share} % value; read a weather file or type the temperature.")
    cold, hot = _anchors(climate)
    if share in HEATING_SHARES:
        back = _moved(climate, _anchor(climate, HEATING_SHARES, point.dry_c), hot)
        return changed(back, "Climate", winter_c=point.dry_c)
    back = _moved(climate, cold, _anchor(climate, COOLING_SHARES, point.dry_c))
    return _summer(back, point.dry_c, point.wet_bulb_c)


def with_winter(climate: Climate, dry_c: float) -> Climate:
    """The climate with a typed winter design dry bulb; its hours, months and ground move along. Raises JobValueError."""
    if dry_c == climate.winter_c:
        return climate
    return changed(_moved(climate, dry_c, _anchors(climate)[1]), "Climate", winter_c=dry_c)


def with_summer(climate: Climate, dry_c: float, wet_bulb_c: float | None = None) -> Climate:
    """The climate with a typed summer design dry bulb; its hours, months, ground and 24 hourly values move along. Raises
    JobValueError."""
    if dry_c == climate.summer_c:
        return climate
    return _summer(_moved(climate, _anchors(climate)[0], dry_c), dry_c, wet_bulb_c)


def _summer(climate: Climate, dry_c: float, wet_bulb_c: float | None) -> Climate:
    step = dry_c - climate.summer_c
    wet = min(climate.summer_wet_bulb_c, dry_c) if wet_bulb_c is None else wet_bulb_c
    return changed(
        climate, "Climate", summer_c=dry_c, summer_wet_bulb_c=wet, hourly_c=tuple(x + step for x in climate.hourly_c)
    )


LEAST_SPAN_K = 5.0
"""Winter and summer design values nearer to each other than this tell no climate apart."""


def _anchors(climate: Climate) -> tuple[float, float]:
    """What the hours at hand stand for: the 99 and 1 % values of the place, or what was typed in their stead."""
    cold, hot = chosen(climate)
    return (
        _anchor(climate, HEATING_SHARES, climate.winter_c) if cold else climate.winter_c,
        _anchor(climate, COOLING_SHARES, climate.summer_c) if hot else climate.summer_c,
    )


def _anchor(climate: Climate, shares: dict[str, float], otherwise: float) -> float:
    """The place's own value for the first of the shares it has."""
    return next((p.dry_c for k in shares for p in climate.points if p.share == k), otherwise)


def _moved(climate: Climate, cold_c: float, hot_c: float) -> Climate:
    """Hours, months and ground moved from the values they stand for to others: T' = cold' + scale (T - cold).

    Raises:
        JobValueError: the two lie so near or so far that no climate is like that.
    """
    was_cold, was_hot = _anchors(climate)
    if (cold_c, hot_c) == (was_cold, was_hot) or was_hot - was_cold < LEAST_SPAN_K:
        return climate
    if hot_c - cold_c < LEAST_SPAN_K:
        raise JobValueError(
            "Summer and winter design temperatures are too near each other; type the other one first."
        )
    scale = (hot_c - cold_c) / (was_hot - was_cold)

    def to(values: tuple[float, ...]) -> tuple[float, ...]:
        return tuple(round(cold_c + scale * (t - was_cold), 6) for t in values)

    (start,), (ground,) = to((climate.bin_start_c,)), to((climate.ground_c,))
    try:
        moved = changed(
            climate,
            "Climate",
            bin_start_c=start,
            bin_step_k=climate.bin_step_k * scale,
            ground_c=ground,
            ground_swing_k=climate.ground_swing_k * scale,
            month_summer_c=to(climate.month_summer_c),
            month_mean_c=to(climate.month_mean_c),
        )
    except JobValueError:
        raise JobValueError(
            f"{climate.name} can't be moved that far; take a climate nearer to the place, then type the design values."
        ) from None
    home = abs(_anchor(moved, HEATING_SHARES, cold_c) - cold_c) < 1e-9
    home = home and abs(_anchor(moved, COOLING_SHARES, hot_c) - hot_c) < 1e-9
    return changed(moved, "Climate", moved=bool(moved.points or moved.bin_hours) and not (moved.points and home))


MOVED = "hours, months and ground moved to the typed design values"


def chosen(climate: Climate) -> tuple[str, str]:
    """Which shares the design values stand for, '' where they were typed."""
    cold = next((p.share for p in climate.points if p.share in HEATING_SHARES and p.dry_c == climate.winter_c), "")
    hot = next((p.share for p in climate.points if p.share in COOLING_SHARES and p.dry_c == climate.summer_c), "")
    return cold, hot


def take_weather(job: Job, weather: Weather, heating: str = "99", cooling: str = "1") -> Job:
    """The job with the place and weather of a file. Raises JobValueError."""
    site = changed(
        job.site,
        "Site",
        place=weather.place or job.site.place,
        latitude_deg=weather.latitude_deg,
        longitude_deg=weather.longitude_deg,
        altitude_m=weather.altitude_m,
        time_zone_h=weather.time_zone_h
        if weather.time_zone_h is not None and -12 <= weather.time_zone_h <= 14
        else None,
    )
    return changed(job, job.name, site=site, climate=climate_of(weather, heating, cooling, job.climate))
