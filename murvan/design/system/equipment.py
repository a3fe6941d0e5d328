"""The unit at this house: capacity at its own conditions, share of the loads, balance point, hours, size limits."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.loads.components import COLUMN
from murvan.design.loads.peaks import Loads
from murvan.design.system.unit_design import UnitDesign
from murvan.design.weather.conditions import Conditions
from murvan.model.design import Ventilator
from murvan.model.equipment import Unit
from murvan.model.job import Climate
from murvan.physics import air
from murvan.physics.air import Air
from murvan.physics.constants import STANDARD_DENSITY_KG_M3

Array = NDArray[np.float64]

SIZE_LIMITS = {"single": (0.90, 1.15), "two": (0.90, 1.20), "variable": (0.90, 1.30)}
"""Total cooling capacity over load; published size-limit standard for residential equipment, from memory."""
FURNACE_LIMITS = (1.0, 1.4)


@dataclass(frozen=True)
class Candidate:
    """One unit against the loads. Powers in W; shares as fractions of the load (nan without a load)."""

    unit: Unit
    flow_m3_s: float
    entering: Air
    total_w: float
    sensible_w: float
    latent_w: float
    heating_w: float
    total_share: float
    sensible_share: float
    latent_share: float
    heating_share: float
    balance_c: float | None
    """Outdoor temperature at which the heat pump just carries the house; None: it carries all of it, or none."""
    backup_w: float
    backup_hours: float
    cycling_hours: float
    heating_kwh: float
    backup_kwh: float
    cooling_kwh: float
    limits: tuple[float, float]
    verdict: str
    """'fits', 'small', 'big', 'latent', 'heat'."""


@dataclass(frozen=True)
class Equipment:
    """The chosen unit, its rivals, and the load lines of the house."""

    chosen: Candidate | None
    no_load_c: float
    """Outdoor temperature at which the house needs neither heat nor cooling."""
    rivals: tuple[Unit, ...]
    weigh: Callable[[Unit], Candidate] = field(repr=False, compare=False)

    @cached_property
    def candidates(self) -> tuple[Candidate, ...]:
        """All units, the best first. Worked out when first asked for: only one station compares them."""
        chosen = self.chosen
        every = (chosen if chosen and u.id == chosen.unit.id else self.weigh(u) for u in self.rivals)
        return tuple(sorted(every, key=_rank))

    @property
    def fitting(self) -> tuple[Candidate, ...]:
        """Those that carry the whole house within their limits."""
        return tuple(x for x in self.candidates if x.verdict == "fits" and x.unit.kind != "wall")


ORDER = ("fits", "latent", "heat", "big", "small")


def _rank(x: Candidate) -> tuple[bool, int, float]:
    """A unit of one room comes after those of a house; then by verdict, then by how near the load it is."""
    off = abs(x.total_share - 1) if x.total_share == x.total_share else 9.0
    return x.unit.kind == "wall", ORDER.index(x.verdict), off


def cooling_capacity(
    unit: Unit, outdoor_c: float, entering: Air, flow_m3_s: float, density_kg_m3: float = STANDARD_DENSITY_KG_M3
) -> tuple[float, float, float]:
    """Total, sensible [W] and power [W] by bilinear interpolation of the maker's table.

    Air flow and altitude enter together as mass flow against the rated mass flow of standard air; sensible
    capacity moves with the entering dry bulb through the coil's bypass factor. Outside the table its edge holds.
    """
    t = unit.cooling
    row, column = _between(t.outdoor_c, outdoor_c), _between(t.wet_bulb_c, entering.wet_bulb_c)
    total, sensible, power = (_bilinear(x, row, column) for x in (t.total_w, t.sensible_w, t.power_w))
    mass = flow_m3_s * density_kg_m3 / (unit.rated_flow_m3_s * STANDARD_DENSITY_KG_M3)
    total *= mass**t.flow_exponent_total
    sensible = sensible * mass**t.flow_exponent_sensible
    sensible += (
        air.sensible_factor(density_kg_m3)
        * flow_m3_s
        * (1 - t.bypass_factor)
        * (entering.temperature_c - t.dry_bulb_c)
    )
    return total, float(min(max(sensible, 0.0), total)), power


def heating_capacity(
    unit: Unit, outdoor_c: Array | float, density_kg_m3: float = STANDARD_DENSITY_KG_M3, burner_share: float = 1.0
) -> tuple[Array, Array, Array]:
    """Highest and lowest heating capacity and power [W] at outdoor temperatures; a furnace gives its output times
    `burner_share`, what altitude leaves of it."""
    outdoor = np.atleast_1d(np.asarray(outdoor_c, float))
    if unit.heating is None:
        output = np.full(outdoor.shape, (unit.furnace_output_w or 0.0) * burner_share)
        return output, output, np.zeros(outdoor.shape)
    t = unit.heating
    at = np.asarray(t.outdoor_c)
    scale = (density_kg_m3 / STANDARD_DENSITY_KG_M3) ** unit.cooling.flow_exponent_total
    highest, lowest, power = (np.interp(outdoor, at, np.asarray(x)) for x in (t.max_w, t.min_w, t.power_w))
    # below the unit's own limit the compressor is off
    on = outdoor >= unit.low_ambient_c
    return highest * scale * on, lowest * scale * on, power * on


def _between(grid: tuple[float, ...], at: float) -> tuple[int, float]:
    """Lower neighbour and share of the upper one; beyond the ends the end holds."""
    k = min(max(bisect_right(grid, at) - 1, 0), len(grid) - 2)
    return k, min(max((at - grid[k]) / (grid[k + 1] - grid[k]), 0.0), 1.0)


def _bilinear(table: tuple[tuple[float, ...], ...], row: tuple[int, float], column: tuple[int, float]) -> float:
    (i, u), (j, v) = row, column
    low = table[i][j] + v * (table[i][j + 1] - table[i][j])
    high = table[i + 1][j] + v * (table[i + 1][j + 1] - table[i + 1][j])
    return low + u * (high - low)


def entering_air(conditions: Conditions, ventilators: tuple[Ventilator, ...], flow_m3_s: float) -> Air:
    """Return air mixed with the fresh air that comes in before the coil, in cooling."""
    inside, outside = conditions.indoor_cooling, conditions.outdoor_summer
    coming = [v for v in ventilators if v.kind in ("erv", "hrv", "supply") and v.flow_m3_s > 0]
    fresh_m3_s = sum(v.flow_m3_s for v in coming)
    if fresh_m3_s <= 0:
        return inside
    sensible, latent = (
        sum(v.flow_m3_s * getattr(v, k) for v in coming) / fresh_m3_s
        for k in ("sensible_recovery", "latent_recovery")
    )
    t = outside.temperature_c + sensible * (inside.temperature_c - outside.temperature_c)
    w = outside.humidity_ratio + latent * (inside.humidity_ratio - outside.humidity_ratio)
    fresh = air.from_humidity_ratio(t, w, conditions.pressure_pa)
    return air.mix(inside, fresh, min(fresh_m3_s / flow_m3_s, 1.0))


def no_load_temperature(conditions: Conditions, loads: Loads) -> float:
    """Outdoor temperature at which people and appliances alone hold the house: indoor - gains / UA."""
    ua = loads.house_heating_w / conditions.heating_difference_k if conditions.heating_difference_k > 0 else 1.0
    inner = loads.parts_by_hour_w[0][:, [COLUMN["people"], COLUMN["appliances"]]]
    gains = float(inner.sum(axis=(0, 1)).mean())
    return conditions.indoor_heating.temperature_c - gains / max(ua, 1.0)


def evaluate(unit: Unit, unit_design: UnitDesign, conditions: Conditions, loads: Loads) -> Candidate:
    """One unit of the catalogue in the place of `u` against the loads of the rooms served."""
    climate, indoor = unit_design.climate, unit_design.indoor
    flow = indoor.flow_m3_s if indoor.flow_m3_s and unit.id == indoor.unit else unit.rated_flow_m3_s
    entering = entering_air(conditions, unit_design.ventilators, flow)
    total, sensible, _ = cooling_capacity(unit, climate.summer_c, entering, flow, conditions.density_kg_m3)
    heating = float(heating_capacity(unit, climate.winter_c, conditions.density_kg_m3, conditions.burner_share)[0][0])
    heat_load = loads.house_heating_w
    off = no_load_temperature(conditions, loads)
    balance = _balance(unit, conditions, heat_load, climate.winter_c, off)
    short_hours, cycling, kwh, backup_kwh, cool_kwh = _season(unit, climate, conditions, loads, off)
    shares = (
        _share(total, loads.house_cooling_w),
        _share(sensible, loads.house_sensible_w),
        _share(total - sensible, loads.house_latent_w),
        _share(heating, heat_load),
    )
    limits = SIZE_LIMITS[unit.stages]
    heater = indoor.heater_kw * 1000 if unit.kind == "heat_pump" else 0.0
    verdict = _verdict(unit, shares, limits, heating + heater, heat_load)
    return Candidate(
        unit,
        flow,
        entering,
        total,
        sensible,
        total - sensible,
        heating,
        *shares,
        balance,
        max(heat_load - heating, 0.0),
        short_hours,
        cycling,
        kwh,
        backup_kwh,
        cool_kwh,
        limits,
        verdict,
    )


def _share(capacity: float, load: float) -> float:
    return capacity / load if load > 0 else float("nan")


def _verdict(
    unit: Unit, shares: tuple[float, ...], limits: tuple[float, float], heat: float, heat_load: float
) -> str:
    total, sensible, latent, _ = shares
    if total < limits[0] or sensible < limits[0]:
        return "small"
    if total > limits[1]:
        return "big"
    if latent < 1.0:
        return "latent"
    if unit.kind == "furnace_coil":
        ratio = heat / heat_load if heat_load > 0 else float("nan")
        if not FURNACE_LIMITS[0] <= ratio <= FURNACE_LIMITS[1]:
            return "heat"
    elif heat < 0.999 * heat_load:
        return "heat"
    return "fits"


def load_line(conditions: Conditions, loads: Loads, off_c: float, outdoor_c: Array) -> tuple[Array, Array]:
    """Heating and cooling need [W] over outdoor temperature: straight from nothing at `off_c` to the design load."""
    winter, summer = conditions.outdoor_winter.temperature_c, conditions.outdoor_summer.temperature_c
    heat = loads.house_heating_w * np.clip((off_c - outdoor_c) / max(off_c - winter, 0.1), 0, None)
    cool = loads.house_cooling_w * np.clip((outdoor_c - off_c) / max(summer - off_c, 0.1), 0, None)
    return heat, cool


@dataclass(frozen=True)
class Curves:
    """What a unit can do and the house needs over the outdoor temperature: degC and W, arrays of the same length."""

    low_c: float
    high_c: float
    heat_c: Array
    most_heat_w: Array
    least_heat_w: Array
    heat_need_w: Array
    cool_c: Array
    most_cool_w: Array
    least_cool_w: Array
    cool_need_w: Array

    @property
    def highest_w(self) -> float:
        """The most that it can do, W."""
        return max(float(x.max(initial=0.0)) for x in (self.most_heat_w, self.most_cool_w))


COLDEST_C, WARMEST_C = -18.0, 38.0
"""The temperatures that curves go to at least."""


def curves(candidate: Candidate, off_c: float, conditions: Conditions, loads: Loads) -> Curves:
    """A unit against the house from well below its winter to well above its summer design day.

    Args:
        off_c: Outdoor temperature at which the house needs neither heat nor cold.
    """
    low_c = min(conditions.outdoor_winter.temperature_c - 8, COLDEST_C)
    high_c = max(conditions.outdoor_summer.temperature_c + 5, WARMEST_C)
    heat_c, cool_c = np.linspace(low_c, off_c, 60), np.linspace(off_c, high_c, 40)
    unit, density = candidate.unit, conditions.density_kg_m3
    most, least, _ = heating_capacity(unit, heat_c, density, conditions.burner_share)
    entering, flow = candidate.entering, candidate.flow_m3_s
    cool = np.array([cooling_capacity(unit, float(x), entering, flow, density)[0] for x in cool_c])
    return Curves(
        *(low_c, high_c, heat_c, most, least, load_line(conditions, loads, off_c, heat_c)[0]),
        *(cool_c, cool, cool * unit.cooling.min_fraction, load_line(conditions, loads, off_c, cool_c)[1]),
    )


def _balance(unit: Unit, c: Conditions, heat_load: float, winter_c: float, off_c: float) -> float | None:
    if heat_load <= 0 or unit.heating is None:
        return None

    low = min(winter_c, unit.low_ambient_c) - 10.0
    inside = [t for t in unit.heating.outdoor_c if low < t < off_c]
    points = np.array([low, *inside, unit.low_ambient_c, off_c])
    points.sort()
    need = heat_load * (off_c - points) / max(off_c - winter_c, 0.1)
    spare = heating_capacity(unit, points, c.density_kg_m3, c.burner_share)[0] - need
    short = np.flatnonzero(spare < 0)
    if len(short) == 0:
        return None
    # both lines are straight between the points, so the crossing is exact
    k = int(short[-1])
    if k == len(points) - 1:
        return float(off_c)
    share = -spare[k] / (spare[k + 1] - spare[k])
    return float(points[k] + share * (points[k + 1] - points[k]))


def _season(
    unit: Unit, climate: Climate, c: Conditions, loads: Loads, off_c: float
) -> tuple[float, float, float, float, float]:
    """Hours short, hours cycling, compressor and backup kWh heating, kWh cooling."""
    hours = np.asarray(climate.bin_hours, float)
    if len(hours) == 0:
        return (float("nan"), float("nan"), float("nan"), float("nan"), float("nan"))
    t: Array = np.asarray(climate.bin_start_c + climate.bin_step_k * (np.arange(len(hours)) + 0.5), float)
    heat, cool = load_line(c, loads, off_c, t)
    highest, lowest, power = heating_capacity(unit, t, c.density_kg_m3, c.burner_share)
    carried = np.minimum(heat, highest)
    run = np.divide(carried, highest, out=np.zeros_like(carried), where=highest > 0)
    backup = heat - carried
    cooling = _cooling_over(unit, t, c)
    cool_run = np.minimum(np.divide(cool, cooling[:, 0], out=np.zeros_like(cool), where=cooling[:, 0] > 0), 1)
    cool_low = cooling[:, 0] * unit.cooling.min_fraction
    cycles = ((heat > 0) & (heat < lowest)) | ((cool > 0) & (cool < cool_low))
    return (
        float(hours[backup > 1].sum()),
        float(hours[cycles].sum()),
        float((hours * run * power).sum() / 1000),
        float((hours * backup).sum() / 1000),
        float((hours * cool_run * cooling[:, 2]).sum() / 1000),
    )


def _cooling_over(unit: Unit, t: Array, c: Conditions) -> Array:
    """Total, sensible and power over outdoor temperatures; straight between the table's own rows."""
    rows = np.array(
        [
            cooling_capacity(unit, x, c.indoor_cooling, unit.rated_flow_m3_s, c.density_kg_m3)
            for x in unit.cooling.outdoor_c
        ]
    )
    return np.stack([np.interp(t, unit.cooling.outdoor_c, rows[:, k]) for k in range(3)], axis=1)


def equipment(unit_design: UnitDesign, catalogue: dict[str, Unit], conditions: Conditions, loads: Loads) -> Equipment:
    """The chosen unit, and the units to weigh it against: those the system names, or the whole catalogue."""
    candidates, own = unit_design.system.candidates, unit_design.indoor.unit
    named = [*candidates, *(i for i in (own,) if i)]
    ids = dict.fromkeys(i for i in named if i in catalogue) if len(candidates) > 1 else catalogue

    def weigh(unit: Unit) -> Candidate:
        return evaluate(unit, unit_design, conditions, loads)

    chosen = catalogue.get(own or "")
    return Equipment(
        weigh(chosen) if chosen else None,
        no_load_temperature(conditions, loads),
        tuple(catalogue[i] for i in ids),
        weigh,
    )


def explain_capacity(candidate: Candidate, conditions: Conditions, loads: Loads) -> Arithmetic:
    """Capacity at the design conditions against the load."""
    q = Quantity
    return Arithmetic(
        "Capacity here",
        (
            Line(
                "total",
                "{0} ÷ {1}",
                (q("power", candidate.total_w), q("power", loads.house_cooling_w)),
                q("percent", candidate.total_share),
            ),
            Line(
                "sensible",
                "{0} ÷ {1}",
                (q("power", candidate.sensible_w), q("power", loads.house_sensible_w)),
                q("percent", candidate.sensible_share),
            ),
            Line(
                "latent",
                "{0} ÷ {1}",
                (q("power", candidate.latent_w), q("power", loads.house_latent_w)),
                q("percent", candidate.latent_share),
            ),
            Line(
                "heat",
                "{0} ÷ {1}",
                (q("power", candidate.heating_w), q("power", loads.house_heating_w)),
                q("percent", candidate.heating_share),
                True,
            ),
        ),
        (
            Line(
                "",
                "Maker's table at outdoor {0}, entering {1} dry and {2} wet bulb, corrected for air flow and altitude",
                (
                    q("temperature", conditions.outdoor_summer.temperature_c, 0),
                    q("temperature1", candidate.entering.temperature_c),
                    q("temperature1", candidate.entering.wet_bulb_c),
                ),
                None,
            ),
        ),
    )


def explain_balance(candidate: Candidate, e: Equipment, conditions: Conditions, loads: Loads) -> Arithmetic:
    """Balance point and backup."""
    q = Quantity
    winter = conditions.outdoor_winter.temperature_c
    lines = []
    if candidate.balance_c is not None:
        need = loads.house_heating_w * (e.no_load_c - candidate.balance_c) / max(e.no_load_c - winter, 0.1)
        lines.append(
            Line(
                "house at balance",
                "{0} × ({1} − {2}) ÷ ({1} − {3})",
                (
                    q("kpower", loads.house_heating_w),
                    q("temperature", e.no_load_c),
                    q("temperature", candidate.balance_c),
                    q("temperature", winter),
                ),
                q("kpower", need),
            )
        )
        lines.append(Line("Balance, where they meet", "", (), q("temperature", candidate.balance_c), True))
    lines.append(
        Line(
            "short at design",
            "{0} − {1}",
            (q("kpower", loads.house_heating_w), q("kpower", candidate.heating_w)),
            q("kpower", candidate.backup_w),
        )
    )
    lines.append(
        Line(
            "in kW",
            "{0} ÷ {1}",
            (q("kpower", candidate.backup_w), q("kw_of", 1.0)),
            q("electric", candidate.backup_w),
        )
    )
    return Arithmetic(
        "Balance point",
        tuple(lines),
        ("Unit: maker's heating table · House: Loads, straight line to no heat at indoor − gains ÷ loss per degree",),
    )
