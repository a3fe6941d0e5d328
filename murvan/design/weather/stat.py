"""The statistics that come with a year of weather (STAT): a report in words and tables set apart by tabs.

Its columns are found by their names, as written in the row `Design Stat` above each row of values. The layout is the
common one of these reports, from memory.
"""

from __future__ import annotations

import math
import re

from murvan.design.weather.place import Weather, check_place, checked
from murvan.model.errors import JobFileError

PLACE = re.compile(r"^\s*Location\s+--\s+(.+?)\s*$", re.I)
WHERE = re.compile(r"\{\s*([NS])\s*(\d+)\D+(\d+)?\D*\}\s*\{\s*([EW])\s*(\d+)\D+(\d+)?\D*\}", re.I)
ZONE = re.compile(r"\{\s*GMT\s*([+-]?\d+(?:\.\d+)?)\s*Hours?\s*\}", re.I)
HEIGHT = re.compile(r"^\s*Elevation\s+--\s*(-?[\d.]+)\s*m\s+(above|below)", re.I)
HEATING = {"99": "DB990", "99.6": "DB996"}
COOLING = {"1": "DB010", "0.4": "DB004"}


def parse_stat(text: str, label: str = "The file") -> Weather:
    """Design conditions of a statistics report.

    Raises:
        JobFileError: the place or a row of design values is missing, or a value is no number; the text says where.
    """
    lines = text.splitlines()
    place = next((m[1] for line in lines if (m := PLACE.match(line))), "")
    spot = next((m for line in lines if (m := WHERE.search(line))), None)
    if spot is None:
        raise JobFileError(f"{label} has no place in it (a line like {{N 40° 30'}} {{W 90° 15'}}).")
    height = next((m for line in lines if (m := HEIGHT.match(line))), None)
    if height is None:
        raise JobFileError(f"{label} has no height (a line like Elevation -- 120m above sea level).")
    cold, hot = _row(lines, "Heating", label), _row(lines, "Cooling", label)
    months = _monthly(lines)
    hottest = int(hot.value("HottestMonth")) if hot.has("HottestMonth") else 7
    dry = {k: hot.value(c) for k, c in COOLING.items()}
    latitude = _degrees(spot[1].upper() == "S", spot[2], spot[3])
    longitude = _degrees(spot[4].upper() == "W", spot[5], spot[6])
    altitude = float(height[1]) * (-1 if height[2].lower() == "below" else 1)
    check_place(label, latitude, longitude, altitude)
    found = Weather(
        place=place[:200],
        source=f"{label}, design values as given",
        latitude_deg=latitude,
        longitude_deg=longitude,
        altitude_m=altitude,
        time_zone_h=_zone(lines),
        winter_c={k: cold.value(c) for k, c in HEATING.items()},
        summer_c=dry,
        wet_bulb_c={k: min(hot.value(f"WB_{c}"), dry[k]) for k, c in COOLING.items()},
        daily_range_k=hot.value("DBR"),
        month_mean_c=months.get("daily avg", ()),
        taub=_of_month(months.get("taub", ()), hottest),
        taud=_of_month(months.get("taud", ()), hottest),
    )
    return checked(found, label)


def _zone(lines: list[str]) -> float | None:
    """Hours ahead of Greenwich; None where the file does not say so."""
    found = next((m for line in lines if (m := ZONE.search(line))), None)
    zone = float(found[1]) if found else None
    return zone if zone is not None and -12 <= zone <= 14 else None


def _degrees(negative: bool, whole: str, minutes: str | None) -> float:
    value = float(whole) + float(minutes or 0) / 60
    return -value if negative else value


class _Values:
    """A row of design values under the row of their names."""

    def __init__(self, names: list[str], cells: list[str], line: int, label: str) -> None:
        self.cells = dict(zip(names, cells, strict=False))
        self.line, self.label, self.row = line, label, cells[0]

    def has(self, name: str) -> bool:
        return name in self.cells

    def value(self, name: str) -> float:
        try:
            found = float(self.cells[name])
            if not math.isfinite(found):
                raise ValueError(name)
            return found
        except KeyError:
            raise JobFileError(f"{self.label}, line {self.line}: the row {self.row} has no {name}.") from None
        except ValueError:
            text = self.cells[name]
            raise JobFileError(f"{self.label}, line {self.line}: {name} is no number ({text}).") from None


def _row(lines: list[str], what: str, label: str) -> _Values:
    names: list[str] = []
    for k, line in enumerate(lines):
        cells = [c.strip() for c in line.strip().split("\t")]
        if cells[0] == "Design Stat":
            names = cells
        elif cells[0] == what and names:
            return _Values(names, cells, k + 1, label)
    raise JobFileError(f"{label} has no row of {what} design values.")


def _monthly(lines: list[str]) -> dict[str, tuple[float, ...]]:
    """The first row of twelve values of each name: mean dry bulb and the optical depths of a clear sky."""
    out: dict[str, tuple[float, ...]] = {}
    for line in lines:
        cells = [c.strip() for c in line.strip().split("\t")]
        name = cells[0].partition("(")[0].strip().lower()
        if name not in ("daily avg", "taub", "taud") or name in out:
            continue
        try:
            values = tuple(float(c) for c in cells[1:13])
        except ValueError:
            continue
        if len(values) == 12 and all(map(math.isfinite, values)):
            out[name] = values
    return out


def _of_month(values: tuple[float, ...], month: int) -> float | None:
    return values[month - 1] if len(values) == 12 and 1 <= month <= 12 else None
