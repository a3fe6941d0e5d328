"""An hourly year of weather (EPW): its design conditions, ranges, bins and ground."""

from __future__ import annotations

import csv
import io
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.design.weather.place import (
    BIN_STEP_K,
    COOLING_SHARES,
    HEATING_SHARES,
    MONTH_SHARE,
    Weather,
    check_place,
    checked,
)
from murvan.model.errors import JobFileError
from murvan.physics import air

HOURS_OF_YEAR = (8760, 8784)
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


def parse_epw(text: str, label: str = "The file") -> Weather:
    """An hourly year. Raises JobFileError; the text names the line."""
    lines = text.rstrip().splitlines()
    if not lines or not lines[0].upper().startswith("LOCATION"):
        raise JobFileError(f"{label} is not an hourly weather file: its first line is not LOCATION.")
    place, latitude, longitude, altitude, zone = _location(lines[0], label)
    check_place(f"{label}, line 1", latitude, longitude, altitude)
    head = next((k for k, line in enumerate(lines) if line.upper().startswith("DATA PERIODS")), None)
    if head is None:
        raise JobFileError(f"{label}: the line DATA PERIODS is missing, so its hours can't be found.")
    data, months, gone = _hours(lines[head + 1 :], head + 2, label)
    weather = _derived(place, latitude, longitude, altitude, data, months, gone, lines, label)
    return checked(replace(weather, time_zone_h=zone), label)


def _location(line: str, label: str) -> tuple[str, float, float, float, float | None]:
    cells = next(csv.reader(io.StringIO(line)))
    try:
        place = ", ".join(c.strip() for c in cells[1:4] if c.strip() and c.strip() != "-")
        return place[:200], float(cells[6]), float(cells[7]), float(cells[9]), _zone(cells[8])
    except (IndexError, ValueError):
        raise JobFileError(f"{label}, line 1: LOCATION has no latitude, longitude and height.") from None


def _zone(cell: str) -> float | None:
    """Hours ahead of Greenwich; None where the file does not say so."""
    try:
        zone = float(cell)
    except ValueError:
        return None
    return zone if -12 <= zone <= 14 else None


def _hours(lines: list[str], first: int, label: str) -> tuple[dict[str, Array], NDArray[np.int64], int]:
    """Columns of the hourly lines; gaps of missing values are filled from their neighbours."""
    n = len(lines)
    if n and n % 2 == 0 and any(n % year == 0 and n > year for year in HOURS_OF_YEAR):
        each = next(n // year for year in HOURS_OF_YEAR if n % year == 0)
        raise JobFileError(f"{label} has {each} values an hour after line {first - 1}; one an hour can be read.")
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
        except (IndexError, ValueError, OverflowError):
            raise JobFileError(f"{label}, line {first + k}: {_wrong_in(cells)}.") from None
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


def _wrong_in(cells: list[str]) -> str:
    """What keeps a line from being an hour of weather."""
    for column, words in ((1, "month"), *((c, LIMITS[name][2]) for name, c in COLUMNS.items())):
        if column >= len(cells):
            return f"it has {len(cells)} values and no {words}"
        try:
            float(cells[column])
        except ValueError:
            return f"the {words} is no number ({cells[column].strip()[:30] or 'empty'})"
    return "it can't be read as one hour of weather"


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
        notes.append(
            "1 hour had a gap, filled from its neighbours"
            if gone == 1
            else f"{gone:,} hours had gaps, filled from their neighbours"
        )
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
