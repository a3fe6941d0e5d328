"""Design conditions from weather files: an hourly year (EPW) or design days (DDY).

Percentiles, ranges and bins are derived here from the hours of one typical year; the long record of a weather
service, and the local code's table, go before them.
"""

from __future__ import annotations

import csv
import io
import re
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from murvan.model.edit import changed
from murvan.model.errors import JobFileError, JobValueError
from murvan.model.job import Climate, DesignPoint, Job
from murvan.physics import air

Array = NDArray[np.float64]

HOURS_OF_YEAR = (8760, 8784)
MAX_BYTES = 16 * 1024 * 1024
BIN_STEP_K = 2.5
COINCIDENT_K = 0.6
"""Hours within this of the design dry bulb make its mean coincident wet bulb, by the line through them."""
COLUMNS = {"dry_c": 6, "dew_c": 7, "rh": 8, "pressure_pa": 9, "wind_m_s": 21}
LIMITS = {
    "dry_c": (-70.0, 70.0, "dry bulb"),
    "dew_c": (-90.0, 60.0, "dew point"),
    "rh": (0.0, 110.0, "relative humidity"),
    "pressure_pa": (31000.0, 120000.0, "pressure"),
    "wind_m_s": (0.0, 60.0, "wind"),
}
MISSING = {"dry_c": 99.9, "dew_c": 99.9, "rh": 999.0, "pressure_pa": 999999.0, "wind_m_s": 999.0}
MOST_MISSING = 0.02
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
    month_mean_c: tuple[float, ...] = ()
    month_range_k: tuple[float, ...] = ()
    month_summer_c: tuple[float, ...] = ()
    """Dry bulb that 2 % of each month's hours pass."""
    ground_c: float | None = None
    ground_swing_k: float | None = None
    taub: float | None = None
    taud: float | None = None
    wind_winter_m_s: float | None = None
    wind_summer_m_s: float | None = None
    missing_hours: int = 0
    notes: tuple[str, ...] = field(default=())


# ---- EPW ------------------------------------------------------------------------------------------------------


def read_weather(path: str | Path) -> Weather:
    """Read an EPW or a DDY file by its ending.

    Raises:
        JobFileError: it can't be read; the text names the line.
    """
    file = Path(path)
    try:
        size = file.stat().st_size
        if size > MAX_BYTES:
            raise JobFileError(f"{file.name} is {size / 1e6:.0f} MB; a weather file has one year, about 2 MB.")
        text = file.read_bytes().decode("utf-8", errors="replace")
    except OSError as exc:
        raise JobFileError(f"Can't read {file.name}: {exc.strerror}.") from None
    if file.suffix.lower() in (".ddy", ".stat", ".idf"):
        return parse_ddy(text, file.name)
    return parse_epw(text, file.name)


def parse_epw(text: str, label: str = "The file") -> Weather:
    """An hourly year. Raises JobFileError; the text names the line."""
    lines = [line for line in text.splitlines() if line.strip()]
    if not lines or not lines[0].upper().startswith("LOCATION"):
        raise JobFileError(f"{label} is not an hourly weather file: its first line is not LOCATION.")
    place, latitude, longitude, altitude = _location(lines[0], label)
    head = next((k for k, line in enumerate(lines) if line.upper().startswith("DATA PERIODS")), None)
    if head is None:
        raise JobFileError(f"{label}: the line DATA PERIODS is missing, so its hours can't be found.")
    data, months, gone = _hours(lines[head + 1 :], head + 2, label)
    return _derived(place, latitude, longitude, altitude, data, months, gone, lines, label)


def _location(line: str, label: str) -> tuple[str, float, float, float]:
    cells = next(csv.reader(io.StringIO(line)))
    try:
        place = ", ".join(c.strip() for c in cells[1:4] if c.strip() and c.strip() != "-")
        return place[:200], float(cells[6]), float(cells[7]), float(cells[9])
    except (IndexError, ValueError):
        raise JobFileError(f"{label}, line 1: LOCATION has no latitude, longitude and height.") from None


def _hours(lines: list[str], first: int, label: str) -> tuple[dict[str, Array], NDArray[np.int64], int]:
    """Columns of the hourly lines; gaps of missing values are filled from their neighbours."""
    n = len(lines)
    if n not in HOURS_OF_YEAR:
        raise JobFileError(
            f"{label} has {n:,} hours after line {first - 1}; a year has 8,760. It is cut short, or has more than a year."
        )
    out = {name: np.zeros(n) for name in COLUMNS}
    months = np.zeros(n, np.int64)
    gone = 0
    for k, line in enumerate(lines):
        cells = line.split(",")
        try:
            months[k] = int(cells[1])
            for name, column in COLUMNS.items():
                out[name][k] = float(cells[column])
        except (IndexError, ValueError):
            raise JobFileError(f"{label}, line {first + k}: it can't be read as one hour of weather.") from None
    for name, values in out.items():
        bad = np.isclose(values, MISSING[name]) | ~np.isfinite(values)
        gone = max(gone, int(bad.sum()))
        if bad.mean() > MOST_MISSING:
            raise JobFileError(f"{label}: the {LIMITS[name][2]} is missing in {int(bad.sum()):,} hours, too many.")
        if bad.any():
            values[bad] = np.interp(np.flatnonzero(bad), np.flatnonzero(~bad), values[~bad])
        low, high, words = LIMITS[name]
        wrong = np.flatnonzero((values < low) | (values > high))
        if len(wrong):
            at = int(wrong[0])
            raise JobFileError(f"{label}, line {first + at}: a {words} of {values[at]:g} can't be.")
    if not ((months >= 1) & (months <= 12)).all():
        at = int(np.flatnonzero((months < 1) | (months > 12))[0])
        raise JobFileError(f"{label}, line {first + at}: there is no month {months[at]}.")
    return out, months, gone


def _derived(
    place: str,
    latitude: float,
    longitude: float,
    altitude: float,
    data: dict[str, Array],
    months: NDArray[np.int64],
    gone: int,
    lines: list[str],
    label: str,
) -> Weather:
    dry = data["dry_c"]
    summer = {k: float(np.percentile(dry, q)) for k, q in COOLING_SHARES.items()}
    days = len(dry) // 24
    by_day = dry[: days * 24].reshape(days, 24)
    day_month = months[: days * 24].reshape(days, 24)[:, 12]
    present = [m for m in range(1, 13) if (day_month == m).any()]
    means = tuple(float(by_day[day_month == m].mean()) for m in present)
    ranges = tuple(float(np.ptp(by_day[day_month == m], axis=1).mean()) for m in present)
    tops = tuple(float(np.percentile(dry[months == m], MONTH_SHARE)) for m in present)
    start = float(np.floor(dry.min() / BIN_STEP_K) * BIN_STEP_K)
    edges = np.arange(start, dry.max() + 2 * BIN_STEP_K, BIN_STEP_K)
    hours, _ = np.histogram(dry, edges)
    cold = dry <= np.percentile(dry, 1.0)
    hot = dry >= summer["1"]
    ground = _ground(lines)
    notes = ["percentiles, range and bins from one typical year, not from the long record"]
    if gone:
        notes.append(f"{gone} hours had gaps and were filled from their neighbours")
    return Weather(
        place=place,
        source=f"{label}, {'; '.join(notes)}",
        latitude_deg=latitude,
        longitude_deg=longitude,
        altitude_m=altitude,
        winter_c={k: float(np.percentile(dry, q)) for k, q in HEATING_SHARES.items()},
        summer_c=summer,
        wet_bulb_c={k: _coincident(data, t) for k, t in summer.items()},
        daily_range_k=ranges[int(np.argmax(means))],
        bin_start_c=start,
        bin_hours=tuple(float(x) for x in hours),
        month_mean_c=means,
        month_range_k=ranges,
        month_summer_c=tops,
        ground_c=ground[0] if ground else float(dry.mean()),
        ground_swing_k=ground[1] if ground else (max(means) - min(means)) / 2,
        wind_winter_m_s=float(data["wind_m_s"][cold].mean()),
        wind_summer_m_s=float(data["wind_m_s"][hot].mean()),
        missing_hours=gone,
        notes=tuple(notes),
    )


def _coincident(data: dict[str, Array], dry_c: float) -> float:
    """Mean wet bulb of the hours near a dry bulb."""
    near = np.flatnonzero(np.abs(data["dry_c"] - dry_c) <= COINCIDENT_K)
    if not len(near):
        near = np.array([int(np.argmin(np.abs(data["dry_c"] - dry_c)))])
    values = []
    for k in near[:400]:
        rh = min(max(float(data["rh"][k]) / 100, 0.01), 1.0)
        state = air.from_relative_humidity(float(data["dry_c"][k]), rh, float(data["pressure_pa"][k]))
        values.append(state.wet_bulb_c)
    dry = data["dry_c"][near[:400]]
    if np.ptp(dry) < 0.1:
        return float(np.mean(values))
    # cooler hours are more frequent: the line through them is read at the design value itself
    _, at = np.polyfit(dry - dry_c, values, 1)
    return float(at)


def _ground(lines: list[str]) -> tuple[float, float] | None:
    """(mean, swing) of the shallowest ground temperatures in the heading, if there are any."""
    line = next((x for x in lines[:12] if x.upper().startswith("GROUND TEMPERATURES")), None)
    if line is None:
        return None
    cells = [c.strip() for c in line.split(",")]
    try:
        monthly = [float(c) for c in cells[6:18]]
    except ValueError:
        return None
    if len(monthly) < 12 or not all(-40 < x < 45 for x in monthly):
        return None
    return float(np.mean(monthly)), (max(monthly) - min(monthly)) / 2


# ---- DDY ------------------------------------------------------------------------------------------------------


def parse_ddy(text: str, label: str = "The file") -> Weather:
    """Design days of a place, chosen by the share in their names.

    Raises:
        JobFileError: no location, or no winter or summer design day; the text says which.
    """
    objects = _objects(text)
    where = next((o for o in objects if o[0].lower() == "site:location" and len(o) >= 6), None)
    days = [o for o in objects if o[0].lower() == "sizingperiod:designday" and len(o) >= 17]
    if where is None:
        raise JobFileError(f"{label} has no place in it (Site:Location).")
    winter = [d for d in days if d[4].lower() == "winterdesignday"]
    summer = [d for d in days if d[4].lower() == "summerdesignday"]
    if not winter:
        raise JobFileError(f"{label} has no winter design day.")
    if not summer:
        raise JobFileError(f"{label} has no summer design day.")
    try:
        return _from_days(where, winter, summer, label)
    except (ValueError, IndexError):
        raise JobFileError(f"{label}: a design day has a value that is no number.") from None


def _objects(text: str) -> list[list[str]]:
    bare = "\n".join(line.partition("!")[0] for line in text.splitlines())
    return [[c.strip() for c in part.replace("\n", " ").split(",")] for part in bare.split(";") if part.strip()]


def _share(day: list[str]) -> str:
    found = re.search(r"(?<![\d.])(\d*\.?\d+)\s*%", day[1])
    return f"{float(found[1]):g}" if found else ""


def _from_days(where: list[str], winter: list[list[str]], summer: list[list[str]], label: str) -> Weather:
    heating = {k: _pick(winter, k, min) for k in HEATING_SHARES}
    cooling = {
        k: _pick([d for d in summer if d[9].lower().startswith("wetbulb")] or summer, k, max) for k in COOLING_SHARES
    }
    main = cooling["1"]
    tau = [_number(main, 24), _number(main, 25)]
    return Weather(
        place=where[1][:200],
        source=f"{label}, design days as given",
        latitude_deg=float(where[2]),
        longitude_deg=float(where[3]),
        altitude_m=float(where[5]),
        winter_c={k: float(d[5]) for k, d in heating.items()},
        summer_c={k: float(d[5]) for k, d in cooling.items()},
        wet_bulb_c={k: min(_number(d, 10) or float(d[5]) - 8.0, float(d[5])) for k, d in cooling.items()},
        daily_range_k=float(main[6]),
        taub=tau[0],
        taud=tau[1],
        wind_winter_m_s=_number(heating["99"], 16),
        wind_summer_m_s=_number(main, 16),
    )


def _pick(days: list[list[str]], share: str, extreme: object) -> list[str]:
    """The design day named for a share; without one, the mildest of its kind."""
    named = [d for d in days if _share(d) == share and " db" in d[1].lower().replace("=>", " ")]
    named = named or [d for d in days if _share(d) == share]
    if named:
        return named[0]
    choose = max if extreme is min else min
    return choose(days, key=lambda d: float(d[5]))


def _number(day: list[str], at: int) -> float | None:
    try:
        return float(day[at])
    except (IndexError, ValueError):
        return None


# ---- into a job -----------------------------------------------------------------------------------------------


def climate_of(w: Weather, heating: str = "99", cooling: str = "1", before: Climate | None = None) -> Climate:
    """The design weather for a choice of shares; what the file does not say stays as it was."""
    base = before or Climate()
    return changed(
        base,
        "Climate",
        name=w.place or "From a file",
        source=w.source[:300],
        winter_c=round(w.winter_c[heating], 3),
        summer_c=round(w.summer_c[cooling], 3),
        summer_wet_bulb_c=round(min(w.wet_bulb_c[cooling], w.summer_c[cooling]), 3),
        daily_range_k=round(min(w.daily_range_k, 30.0), 3),
        wind_winter_m_s=round(w.wind_winter_m_s, 3) if w.wind_winter_m_s is not None else base.wind_winter_m_s,
        wind_summer_m_s=round(w.wind_summer_m_s, 3) if w.wind_summer_m_s is not None else base.wind_summer_m_s,
        ground_c=round(w.ground_c, 3) if w.ground_c is not None else base.ground_c,
        ground_swing_k=round(min(w.ground_swing_k, 30.0), 3) if w.ground_swing_k is not None else base.ground_swing_k,
        taub=w.taub if w.taub is not None and 0.1 <= w.taub <= 1.5 else base.taub,
        taud=w.taud if w.taud is not None and 1.0 <= w.taud <= 3.5 else base.taud,
        bin_start_c=w.bin_start_c if w.bin_hours else base.bin_start_c,
        bin_step_k=BIN_STEP_K if w.bin_hours else base.bin_step_k,
        bin_hours=w.bin_hours or base.bin_hours,
        points=points_of(w),
        hourly_c=(),
        **{k: _twelve(getattr(w, k)) for k in ("month_summer_c", "month_mean_c", "month_range_k")},
    )


def _twelve(values: tuple[float, ...]) -> tuple[float, ...]:
    """Monthly values if there is a whole year of them."""
    return tuple(round(x, 2) for x in values) if len(values) == 12 else ()


def points_of(w: Weather) -> tuple[DesignPoint, ...]:
    """The design values a file offers to choose from."""
    cold = (DesignPoint(share="99" if k == "99" else "99.6", dry_c=round(v, 3)) for k, v in w.winter_c.items())
    hot = (
        DesignPoint(share="1" if k == "1" else "0.4", dry_c=round(v, 3), wet_bulb_c=round(min(w.wet_bulb_c[k], v), 3))
        for k, v in w.summer_c.items()
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
    if share in HEATING_SHARES:
        return changed(climate, "Climate", winter_c=point.dry_c)
    return with_summer(climate, point.dry_c, point.wet_bulb_c)


def with_summer(climate: Climate, dry_c: float, wet_bulb_c: float | None = None) -> Climate:
    """The climate with another summer design dry bulb; 24 hourly values move along. Raises JobValueError."""
    step = dry_c - climate.summer_c
    wet = climate.summer_wet_bulb_c if wet_bulb_c is None else wet_bulb_c
    return changed(
        climate, "Climate", summer_c=dry_c, summer_wet_bulb_c=wet, hourly_c=tuple(x + step for x in climate.hourly_c)
    )


def chosen(climate: Climate) -> tuple[str, str]:
    """Which shares the design values stand for, '' where they were typed."""
    cold = next((p.share for p in climate.points if p.share in HEATING_SHARES and p.dry_c == climate.winter_c), "")
    hot = next((p.share for p in climate.points if p.share in COOLING_SHARES and p.dry_c == climate.summer_c), "")
    return cold, hot


def take_weather(job: Job, w: Weather, heating: str = "99", cooling: str = "1") -> Job:
    """The job with the place and weather of a file. Raises JobValueError."""
    site = changed(
        job.site,
        "Site",
        place=w.place or job.site.place,
        latitude_deg=w.latitude_deg,
        longitude_deg=w.longitude_deg,
        altitude_m=w.altitude_m,
    )
    return changed(job, job.name, site=site, climate=climate_of(w, heating, cooling, job.climate))
