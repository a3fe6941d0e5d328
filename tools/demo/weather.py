"""The invented weather of Brindlewick: a year of hours, made from waves and a seeded noise, written as an EPW file.

Its tails are bent so that the percentiles are those of the demo's design weather.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from murvan.demo import demo_path
from murvan.physics import air

Array = NDArray[np.float64]

FILE = demo_path().with_name("brindlewick.epw")
SEED = 2214
LATITUDE, LONGITUDE, ALTITUDE = 40.0, -90.0, 90.0
DAYS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)
ANCHORS = ((0.4, -15.6), (1.0, -12.7778), (25.0, 1.9), (50.0, 11.9), (75.0, 21.0), (99.0, 33.3333), (99.6, 34.5))
"""Percent of the hours below, degC."""
MISSING = "9999"


def dry_bulb() -> Array:
    """8760 hourly dry bulbs, degC."""
    hours = np.arange(8760)
    day, hour = hours / 24, hours % 24
    season = 11.9 - 12.8 * np.cos(2 * np.pi * (day - 20) / 365)
    swing = 4.4 + 1.8 * np.sin(2 * np.pi * (day - 105) / 365)
    fronts = np.zeros(366)
    noise = np.random.RandomState(SEED).standard_normal(366)
    for k in range(1, 366):
        fronts[k] = 0.72 * fronts[k - 1] + 3.4 * noise[k]
    weather = np.interp(day, np.arange(366), fronts)
    raw = season + weather - swing * np.cos(2 * np.pi * (hour - 3) / 24)
    marks, wanted = zip(*ANCHORS, strict=True)
    have = np.percentile(raw, marks)
    low, high = float(raw.min()), float(raw.max())
    x = np.concatenate([[low], have, [high]])
    y = np.concatenate([[wanted[0] + low - have[0]], wanted, [wanted[-1] + 0.6 * (high - have[-1])]])
    return np.asarray(np.round(np.interp(raw, x, y), 1))


def humidity(dry_c: Array, pressure_pa: float) -> Array:
    """Relative humidity, percent: the air of the season, dried by heat and never over saturation."""
    day = np.arange(8760) / 24
    season = 2.2 - 12.4 * np.cos(2 * np.pi * (day - 24) / 365)
    daily = np.repeat(dry_c.reshape(365, 24).min(axis=1), 24)
    dew = np.minimum(np.minimum(season + 6.6, 20.3), np.minimum(daily - 0.4, dry_c))
    vapour = np.exp(17.625 * dew / (243.04 + dew)) / np.exp(17.625 * dry_c / (243.04 + dry_c))
    return np.asarray(np.round(np.clip(100 * vapour, 12, 100)))


def epw_text() -> str:
    """The file as text."""
    pressure = air.pressure_at(ALTITUDE)
    dry = dry_bulb()
    rh = humidity(dry, pressure)
    dew = 243.04 * (np.log(rh / 100) + 17.625 * dry / (243.04 + dry))
    dew = dew / (17.625 - np.log(rh / 100) - 17.625 * dry / (243.04 + dry))
    noise = np.random.RandomState(SEED + 1).standard_normal(8760)
    wind = np.round(np.clip(5.1 + 1.65 * np.cos(2 * np.pi * np.arange(8760) / 8760) + 1.5 * noise, 0.3, 17), 1)
    rows = []
    month = np.repeat(np.arange(1, 13), np.array(DAYS) * 24)
    date = np.concatenate([np.repeat(np.arange(1, n + 1), 24) for n in DAYS])
    for k in range(8760):
        cells = [1999, month[k], date[k], k % 24 + 1, 0, "?9", f"{dry[k]:.1f}", f"{dew[k]:.1f}", f"{rh[k]:.0f}"]
        cells += [f"{pressure:.0f}", *[MISSING] * 10, 270, f"{wind[k]:.1f}", *[99] * 2, *[9999] * 2, *[99] * 8, 9]
        rows.append(",".join(str(c) for c in cells))
    return "\n".join((*_heading(), *rows)) + "\n"


def _heading() -> list[str]:
    ground = [round(11.9 - 8.5 * np.cos(2 * np.pi * (m - 1.2) / 12), 1) for m in range(12)]
    return [
        f"LOCATION,Brindlewick,-,-,Invented,000000,{LATITUDE:.2f},{LONGITUDE:.2f},-6.0,{ALTITUDE:.1f}",
        "DESIGN CONDITIONS,0",
        "TYPICAL/EXTREME PERIODS,0",
        "GROUND TEMPERATURES,1,0.5,,,," + ",".join(str(x) for x in ground),
        "HOLIDAYS/DAYLIGHT SAVINGS,No,0,0,0",
        "COMMENTS 1,Invented weather of an invented town: for trying Murvan, not for design",
        "COMMENTS 2,",
        "DATA PERIODS,1,1,Data,Friday,1/1,12/31",
    ]


def write() -> Path:
    """Write the shipped file."""
    FILE.write_text(epw_text(), "utf-8")
    return FILE
