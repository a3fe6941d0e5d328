"""Typed design values against the place whose hours they took over: hours outside them, the wet bulb, a place that fits better."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from murvan.catalog import climates
from murvan.design.weather.place import COOLING_SHARES, HEATING_SHARES, chosen, with_summer, with_winter
from murvan.model.edit import changed
from murvan.model.errors import JobValueError
from murvan.model.job import Climate

MOST_OUTSIDE = 0.02
"""Share of the year's hours that may lie outside a design value: values of 99 and 1 % leave half as many. Common practice."""
STRETCHED = 0.10
"""From which on hours that were spread or pressed to typed values are another climate's; Murvan default."""


def hours_outside(climate: Climate) -> tuple[float, float]:
    """Shares of the year's hours colder than the winter and hotter than the summer design value; none without hours."""
    hours = np.asarray(climate.bin_hours, float)
    if not hours.sum() > 0:
        return 0.0, 0.0
    edges = climate.bin_start_c + climate.bin_step_k * np.arange(len(hours))
    under = np.clip((climate.winter_c - edges) / climate.bin_step_k, 0, 1)
    over = np.clip((edges + climate.bin_step_k - climate.summer_c) / climate.bin_step_k, 0, 1)
    return float(under @ hours / hours.sum()), float(over @ hours / hours.sum())


def wet_bulb_kept(climate: Climate) -> bool:
    """Whether the summer dry bulb was typed while the wet bulb is still that of the place it began from."""
    own = [p.wet_bulb_c for p in climate.points if p.share in COOLING_SHARES and p.wet_bulb_c is not None]
    clipped = [min(x, climate.summer_c) for x in own]
    return bool(own) and not chosen(climate)[1] and climate.summer_wet_bulb_c in (*own, *clipped)


def stretch(climate: Climate) -> float:
    """How far the hours were spread from the place's own, as a share; 0 where they were not moved."""
    by = {p.share: p.dry_c for p in climate.points}
    cold = next((by[k] for k in HEATING_SHARES if k in by), None)
    hot = next((by[k] for k in COOLING_SHARES if k in by), None)
    if not climate.moved or cold is None or hot is None or hot - cold <= 0:
        return 0.0
    return (climate.summer_c - climate.winter_c) / (hot - cold) - 1


def better(climate: Climate, most: float = STRETCHED) -> Climate | None:
    """The typical climate whose own spread fits typed values best, moved to them; None where the one in hand does."""
    now = abs(stretch(climate))
    if now <= most:
        return None
    found = [x for x in moved_here(climate) if x.name != climate.name]
    best = min(found, key=lambda x: abs(stretch(x)), default=None)
    return best if best is not None and abs(stretch(best)) < now - most / 2 else None


@lru_cache(maxsize=8)
def moved_here(climate: Climate) -> tuple[Climate, ...]:
    """Every typical climate moved to the design values of `climate`, as far as it can be; a typed wet bulb stays."""
    out = []
    for x in climates().values():
        wet = x.summer_wet_bulb_c if wet_bulb_kept(climate) else climate.summer_wet_bulb_c
        try:
            moved = with_summer(with_winter(x, climate.winter_c), climate.summer_c, min(wet, climate.summer_c))
        except JobValueError:
            continue
        kept = {k: getattr(climate, k) for k in ("wind_winter_m_s", "wind_summer_m_s", "hourly_c")}
        out.append(changed(moved, "Climate", **kept))
    return tuple(out)
