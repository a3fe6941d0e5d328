"""A unit as it works where it hangs: at the end of its line, and on an outdoor unit that it shares with others."""

from __future__ import annotations

import numpy as np

from murvan.arrays import Array
from murvan.design.units.unit_design import UnitDesign
from murvan.model.equipment import CoolingTable, HeatingTable, MultiUnit, Unit


def as_hung(unit: Unit, u: UnitDesign, catalogue: dict[str, Unit], multis: dict[str, MultiUnit]) -> Unit:
    """A unit of the catalogue in the place of `u`; the unit itself where that changes nothing."""
    shared = multis.get(u.outdoor.unit or "") if u.outdoor is not None else None
    if shared is None:
        return at_end_of_line(unit, u.line_m)
    beside_w = sum(catalogue[i].nominal_w for i in u.beside if i in catalogue)
    return on_outdoor(unit, shared, unit.nominal_w + beside_w, u.line_m)


def at_end_of_line(unit: Unit, line_m: float) -> Unit:
    """A unit less what a long line takes; the unit itself where it takes nothing."""
    share = unit.line_share(line_m)
    if share == 1:
        return unit
    share = max(share, LEAST_SHARE)
    c, h = unit.cooling, unit.heating
    cooling = c.model_copy(update={k: _table(np.asarray(getattr(c, k)) * share) for k in ("total_w", "sensible_w")})
    heating = h and h.model_copy(update={k: _row(np.asarray(getattr(h, k)) * share) for k in ("max_w", "min_w")})
    return unit.model_copy(update={"cooling": cooling, "heating": heating})


LEAST_SHARE = 0.1
"""However long a line is; beyond the maker's limit it is found anyway."""


def on_outdoor(head: Unit, outdoor: MultiUnit, connected_w: float, line_m: float) -> Unit:
    """A head as it works on an outdoor unit with several ports while all that hang there call.

    It gives its part of the outdoor unit's capacity by nominal size, and no more than its own table says. Alone it runs
    no lower than the outdoor unit's lowest speed. Air side, moisture and size are its own; common practice, the maker's
    combination table goes before it.

    Args:
        connected_w: Nominal size of all that hangs on it, this one with it.
        line_m: Its line; what that takes is the outdoor unit's data.
    """
    part = head.nominal_w / max(connected_w, head.nominal_w) * max(outdoor.line_share(line_m), LEAST_SHARE)
    cooling, alone = _cooling(head.cooling, outdoor.cooling, part)
    lowest = outdoor.nominal_w * outdoor.cooling.min_fraction
    lowest_share = float(min(max(lowest / alone, 0.01), 1.0))
    power_share = _power_share(outdoor.cooling.min_power_fraction, outdoor.cooling.min_fraction, lowest_share)
    heating = _heating(head.heating, outdoor.heating, part)
    return head.model_copy(
        update={
            "cooling": cooling.model_copy(update={"min_fraction": lowest_share, "min_power_fraction": power_share}),
            "heating": heating,
            "stages": "variable" if outdoor.cooling.min_fraction < 1 else head.stages,
            "line_charge_kg_m": 0.0,  # what all lines together take is the outdoor unit's
            "price": head.price_indoor if head.price_indoor is not None else head.price,
            **{k: getattr(outdoor, k) for k in OF_OUTDOOR},
        }
    )


OF_OUTDOOR = ("mca_a", "mop_a", "low_ambient_c", "line_max_m", "line_max_lift_m", "line_loss_m", "sound_dba")


def _cooling(own: CoolingTable, outdoor: CoolingTable, part: float) -> tuple[CoolingTable, float]:
    """The table in the head's own rows and columns, and its highest total."""
    total, power = (_on_grid(outdoor, name, own) for name in ("total_w", "power_w"))
    mine, sensible = np.asarray(own.total_w), np.asarray(own.sensible_w)
    given = np.minimum(mine, total * part)
    table = {"total_w": given, "sensible_w": sensible * given / mine, "power_w": power * given / total}
    return own.model_copy(update={k: _table(v) for k, v in table.items()}), float(given.max())


def _on_grid(t: CoolingTable, name: str, own: CoolingTable) -> Array:
    """A table at the outdoor and wet-bulb temperatures of another; beyond its ends the end holds."""
    values = np.asarray(getattr(t, name), float)
    wet = np.array([np.interp(own.wet_bulb_c, t.wet_bulb_c, row) for row in values])
    return np.array([np.interp(own.outdoor_c, t.outdoor_c, wet[:, k]) for k in range(wet.shape[1])]).T


def _heating(own: HeatingTable | None, outdoor: HeatingTable | None, part: float) -> HeatingTable | None:
    """The head's part of the outdoor unit's heat; none where either has none."""
    if own is None or outdoor is None:
        return None
    at = np.asarray(own.outdoor_c)
    most, least, power = (
        np.interp(at, outdoor.outdoor_c, getattr(outdoor, k)) for k in ("max_w", "min_w", "power_w")
    )
    given = np.minimum(np.asarray(own.max_w), most * part)
    share = np.divide(given, most, out=np.zeros_like(given), where=most > 0)
    low = np.minimum(least, given)
    made = {"max_w": given, "min_w": low, "power_w": power * share}
    whole, mine = (float(_over(a, b).mean()) for a, b in ((least, most), (low, given)))
    power_share = _power_share(outdoor.min_power_fraction, whole, mine)
    tables = {k: _row(v) for k, v in made.items()}
    return own.model_copy(
        update={**tables, "min_power_fraction": power_share, "defrost_share": outdoor.defrost_share}
    )


def _over(a: Array, b: Array) -> Array:
    return np.divide(a, b, out=np.ones_like(a), where=b > 0)


def _power_share(power: float | None, capacity: float, mine: float) -> float | None:
    """Power at the lowest speed over full for one head: as the outdoor unit's stands to its capacity there."""
    return None if power is None else float(min(power / max(capacity, 0.01) * mine, 1.0))


def _table(x: Array) -> tuple[tuple[float, ...], ...]:
    return tuple(_row(row) for row in x)


def _row(x: Array) -> tuple[float, ...]:
    return tuple(float(v) for v in x)
