"""Design days of a place (DDY): objects of comma-separated fields, chosen by the share in their names."""

from __future__ import annotations

import re
from dataclasses import dataclass

from murvan.design.weather.place import COOLING_SHARES, HEATING_SHARES, Weather, check_place, checked
from murvan.model.errors import JobFileError

NAME, KIND, DRY, RANGE, WET_IS, WET, WIND, TAUB, TAUD = 1, 4, 5, 6, 9, 10, 16, 24, 25
"""Fields of a design day that are read."""
WORDS = {DRY: "dry bulb", RANGE: "daily range"}


@dataclass(frozen=True)
class _Object:
    """One object of the file, and the line it starts on."""

    cells: tuple[str, ...]
    line: int

    def number(self, at: int) -> float | None:
        try:
            return float(self.cells[at])
        except (IndexError, ValueError):
            return None

    def needed(self, at: int, label: str, what: str) -> float:
        value = self.number(at)
        if value is None:
            written = self.cells[at] if at < len(self.cells) and self.cells[at] else "empty"
            raise JobFileError(f"{label}, line {self.line}, {self.cells[NAME]}: {what} is no number ({written}).")
        return value


def parse_ddy(text: str, label: str = "The file") -> Weather:
    """Design days of a place.

    Raises:
        JobFileError: no location, no winter or summer design day, or a value that is no number; the text says which.
    """
    objects = _objects(text)
    where = next((o for o in objects if o.cells[0].lower() == "site:location" and len(o.cells) >= 6), None)
    days = [o for o in objects if o.cells[0].lower() == "sizingperiod:designday" and len(o.cells) > WIND]
    if where is None:
        raise JobFileError(f"{label} has no place in it (Site:Location).")
    winter = [d for d in days if d.cells[KIND].lower() == "winterdesignday"]
    summer = [d for d in days if d.cells[KIND].lower() == "summerdesignday"]
    if not winter:
        raise JobFileError(f"{label} has no winter design day.")
    if not summer:
        raise JobFileError(f"{label} has no summer design day.")
    return checked(_from_days(where, winter, summer, label), label)


def _objects(text: str) -> list[_Object]:
    found, line = [], 1
    bare = "\n".join(x.partition("!")[0] for x in text.splitlines())
    for part in bare.split(";"):
        if part.strip():
            start = line + part[: len(part) - len(part.lstrip())].count("\n")
            found.append(_Object(tuple(c.strip() for c in part.replace("\n", " ").split(",")), start))
        line += part.count("\n")
    return found


def _share(day: _Object) -> str:
    found = re.search(r"(?<![\d.])(\d*\.?\d+)\s*%", day.cells[NAME])
    return f"{float(found[1]):g}" if found else ""


def _from_days(where: _Object, winter: list[_Object], summer: list[_Object], label: str) -> Weather:
    def dry(day: _Object) -> float:
        return day.needed(DRY, label, WORDS[DRY])

    heating = {k: _pick(winter, k, [dry(d) for d in winter], 1) for k in HEATING_SHARES}
    humid = [d for d in summer if d.cells[WET_IS].lower().startswith("wetbulb")] or summer
    cooling = {k: _pick(humid, k, [dry(d) for d in humid], -1) for k in COOLING_SHARES}
    main = cooling["1"]
    latitude, longitude, height = (
        where.needed(at, label, words) for at, words in ((2, "latitude"), (3, "longitude"), (5, "height"))
    )
    check_place(f"{label}, line {where.line}", latitude, longitude, height)
    zone = where.number(4)
    return Weather(
        place=where.cells[1][:200],
        source=f"{label}, design days as given",
        latitude_deg=latitude,
        longitude_deg=longitude,
        altitude_m=height,
        time_zone_h=zone if zone is not None and -12 <= zone <= 14 else None,
        winter_c={k: dry(d) for k, d in heating.items()},
        summer_c={k: dry(d) for k, d in cooling.items()},
        wet_bulb_c={k: _wet(d, dry(d)) for k, d in cooling.items()},
        daily_range_k=main.needed(RANGE, label, WORDS[RANGE]),
        taub=main.number(TAUB),
        taud=main.number(TAUD),
        wind_winter_m_s=heating["99"].number(WIND),
        wind_summer_m_s=main.number(WIND),
    )


def _wet(day: _Object, dry_c: float) -> float:
    """The wet bulb as given, else 8 K under the dry bulb."""
    given = day.number(WET)
    return min(dry_c - 8.0 if given is None else given, dry_c)


def _pick(days: list[_Object], share: str, dry_c: list[float], mild: int) -> _Object:
    """The design day named for a share; without one, the mildest of its kind."""
    named = [d for d in days if _share(d) == share and " db" in d.cells[NAME].lower().replace("=>", " ")]
    named = named or [d for d in days if _share(d) == share]
    return named[0] if named else days[max(range(len(days)), key=lambda k: mild * dry_c[k])]
