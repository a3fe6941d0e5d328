"""A year with a unit: how it runs in each bin of outdoor temperature, and the energy that takes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.design.loads.peaks import Loads
from murvan.design.units.capacity import cooling_capacity, heat_line, heating_capacity, load_line
from murvan.design.weather.conditions import Conditions
from murvan.model.equipment import Unit
from murvan.model.job import Climate

STATES = (
    *("idle", "steady", "cycling", "helped", "locked", "heating_short"),
    *("cooling", "cooling_cycling", "cooling_short"),
)
"""What a unit does in a bin: nothing; heats without stopping, or on and off; heats with backup; is off while backup heats;
heats too little because backup is kept off; cools without stopping, on and off, or flat out and not enough."""
LEAST_W = 1.0


@dataclass(frozen=True)
class Season:
    """One value a bin of the year, coldest first; energies in kWh. Empty arrays without bins."""

    outdoor_c: Array
    hours: Array
    """h a year, (bins,)."""
    state: tuple[str, ...]
    heat_kwh: Array
    """What the house needs of it."""
    kept_kwh: Array
    """What other heat that is kept gives."""
    power_kwh: Array
    """Electricity of the compressor or the electric furnace in heating."""
    backup_kwh: Array
    short_kwh: Array
    """What is left cold because backup is kept off."""
    fuel_kwh: Array
    """Heat content burnt."""
    cool_kwh: Array
    """What the house needs taken away."""
    cool_power_kwh: Array

    def in_state(self, *states: str) -> float:
        """Hours a year; nan without bins."""
        return (
            float(sum(h for h, s in zip(self.hours, self.state, strict=True) if s in states))
            if self.state
            else np.nan
        )

    @property
    def electric_kwh(self) -> float:
        """All electricity of a year; nan without bins."""
        return sum(self.year(k) for k in ("power_kwh", "backup_kwh", "cool_power_kwh"))

    def year(self, name: str) -> float:
        """Sum of one of the energies, kWh; nan without bins."""
        return float(getattr(self, name).sum()) if self.state else np.nan


def season(
    unit: Unit,
    climate: Climate,
    c: Conditions,
    loads: Loads,
    off_c: float,
    lockout_c: float | None = None,
    heater_lockout_c: float | None = None,
) -> Season:
    """The year of a unit in this house by the bins of its weather. `off_c`: where the house needs neither heat nor cold."""
    hours = np.asarray(climate.bin_hours, float)
    t: Array = np.asarray(climate.bin_start_c + climate.bin_step_k * (np.arange(len(hours)) + 0.5), float)
    heat, cool = load_line(c, loads, off_c, t)
    highest, lowest, power = heating_capacity(unit, t, c.density_kg_m3, c.burner_share, lockout_c)
    carried = np.minimum(heat, highest)
    speeds = unit.heating.min_power_fraction if unit.heating is not None else None
    run = _run(carried, lowest, highest, speeds, unit.stages)
    taken = carried / (unit.furnace_efficiency or 1.0) if unit.heating is None else run * power
    held = t > (np.inf if heater_lockout_c is None else heater_lockout_c)
    burns = unit.heating is None and unit.fuel != "electric"
    can_cool, _, cool_power = _cooling_over(unit, t, c).T if len(t) else np.zeros((3, 0))
    least_cool = can_cool * unit.cooling.min_fraction
    states = _states(heat, cool, (lowest, highest), (least_cool, can_cool), held)
    kwh = hours / 1000
    whole = heat_line(loads.whole_heating_w, c, off_c, t)
    return Season(
        t,
        hours,
        tuple(STATES[k] for k in states),
        heat * kwh,
        (whole - heat) * kwh,
        taken * kwh * (not burns),
        (heat - carried) * kwh * ~held,
        (heat - carried) * kwh * held,
        taken * kwh * burns,
        cool * kwh,
        _run(np.minimum(cool, can_cool), least_cool, can_cool, unit.cooling.min_power_fraction, unit.stages)
        * cool_power
        * kwh,
    )


AT_LEAST = {"single": 1.0, "two": 0.95, "variable": 0.8}
"""Power at the lowest speed over what it would be by capacity alone, where no maker says: large coils serve a small flow. Murvan
default, from memory."""
CYCLING = 0.2
"""Loss of a unit that goes on and off: it runs 1 / (1 - CYCLING (1 - x)) as long as x of its capacity asks for; AHRI 210/240, from
memory."""


def _run(load: Array, least: Array, most: Array, at_least: float | None, stages: str) -> Array:
    """Power over that at the highest speed: straight between the lowest and the highest speed, on and off below."""
    low = np.full(load.shape, at_least) if at_least is not None else _over(least, most) * AT_LEAST[stages]
    between = _over(np.clip(load - least, 0, None), most - least)
    asked = np.minimum(_over(load, least), 1)
    return np.where(load < least, low * asked / (1 - CYCLING * (1 - asked)), low + (1 - low) * np.minimum(between, 1))


def _over(a: Array, b: Array) -> Array:
    return np.divide(a, b, out=np.zeros_like(a), where=b > 0)


def _states(
    heat: Array, cool: Array, heats: tuple[Array, Array], cools: tuple[Array, Array], held: NDArray[np.bool_]
) -> list[int]:
    """Which of STATES each bin is in; `held`: backup is kept off."""
    which = (
        (heat > 0) & (heat - heats[1] > LEAST_W) & held,
        (heat > 0) & (heats[1] <= 0),
        (heat > 0) & (heat - heats[1] > LEAST_W),
        (heat > 0) & (heat < heats[0]),
        heat > 0,
        (cool > 0) & (cool > cools[1] + LEAST_W),
        (cool > 0) & (cool < cools[0]),
        cool > 0,
    )
    names = ("heating_short", "locked", "helped", "cycling", "steady", "cooling_short", "cooling_cycling", "cooling")
    found = np.select(which, [STATES.index(n) for n in names], STATES.index("idle"))
    return [int(k) for k in found]


def _cooling_over(unit: Unit, t: Array, c: Conditions) -> Array:
    """Total, sensible and power over outdoor temperatures; straight between the table's own rows."""
    rows = np.array(
        [
            cooling_capacity(unit, x, c.indoor_cooling, unit.rated_flow_m3_s, c.density_kg_m3)
            for x in unit.cooling.outdoor_c
        ]
    )
    return np.stack([np.interp(t, unit.cooling.outdoor_c, rows[:, k]) for k in range(3)], axis=1)
