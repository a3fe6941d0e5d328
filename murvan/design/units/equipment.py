"""The unit at this house: capacity at its own conditions, share of the loads, balance point, hours, size limits."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

import numpy as np

from murvan.arrays import Array
from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.limits import carries
from murvan.design.loads.peaks import Loads
from murvan.design.units.capacity import (
    cooling_capacity,
    entering_air,
    heating_capacity,
    load_line,
    no_load_temperature,
    off_below,
)
from murvan.design.units.hung import as_hung
from murvan.design.units.season import Season, season
from murvan.design.units.unit_design import UnitDesign
from murvan.design.weather.conditions import Conditions
from murvan.design.weather.fits import moved_here
from murvan.model.design import IndoorUnit
from murvan.model.equipment import HEADS, IN_ROOM, MultiUnit, Unit
from murvan.model.job import Climate
from murvan.model.limits_set import SizeLimits
from murvan.physics.air import Air

DRY_SHARE, COLD_TO_WARM, DEGREE_BASE_C = 0.95, 2.0, 18.3333
"""Sensible share of the cooling load, and heating over cooling degree days on 65 °F, from which on winters count as cold
and summers as dry; published size-limit standard, from memory."""


def cold_and_dry(climate: Climate, loads: Loads) -> bool:
    """Whether heating decides the size here: hardly any moisture, and far more degree days of heating than of cooling."""
    if loads.house_cooling_w <= 0 or loads.house_sensible_w < DRY_SHARE * loads.house_cooling_w:
        return False
    hours = np.asarray(climate.bin_hours, float)
    off = climate.bin_start_c + climate.bin_step_k * (np.arange(len(hours)) + 0.5) - DEGREE_BASE_C
    heating, cooling = (float((hours * np.maximum(x, 0)).sum()) for x in (-off, off))
    return heating >= COLD_TO_WARM * cooling > 0 or (heating > 0 and cooling == 0)


def electric_w(indoor: IndoorUnit, unit: Unit) -> float:
    """Electric heat beside a unit: its own kit, and heaters in its rooms. [W]"""
    return (indoor.heater_kw * 1000 if unit.takes_kit else 0.0) + indoor.room_heat_w


def size_limits(unit: Unit, sizing: SizeLimits, climate: Climate, loads: Loads) -> tuple[float, float]:
    """Total cooling over load that a unit may have here, with what a heat pump is allowed where it is cold and dry."""
    low, high = sizing.of(unit)
    if unit.heating is not None and sizing.cold_dry_w > 0 and cold_and_dry(climate, loads):
        high = max(high, high + sizing.cold_dry_w / loads.house_cooling_w)
    return low, high


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
    heater_w: float
    """Of the backup that is fitted."""
    run_year: Callable[[Climate], Season] = field(compare=False, repr=False)
    climate: Climate = field(compare=False, repr=False)
    limits: tuple[float, float]
    """Least and most total over the cooling load."""
    sizing: SizeLimits
    verdict: str
    """'fits', 'small', 'big', 'latent', 'heat'."""
    lockout_c: float | None = None
    """Outdoor temperature below which the compressor is kept off."""
    next_size: bool = False
    """Larger than its limit, and allowed: its maker makes none between."""

    @cached_property
    def season(self) -> Season:
        """Its year in this house; worked out when first asked for, since most that are weighed are not asked."""
        return self.run_year(self.climate)

    @cached_property
    def backup_range_kwh(self) -> tuple[float, float] | None:
        """Least and most backup of a year by the hours of every typical climate moved to the same design values; None
        where the hours are the place's own."""
        if not self.climate.moved:
            return None
        found = [self.run_year(x).year("backup_kwh") for x in (self.climate, *moved_here(self.climate))]
        return min(found), max(found)

    @property
    def backup_hours(self) -> float:
        """Hours a year in which the compressor needs help or is kept off; nan without bins."""
        return self.season.in_state("helped", "locked")

    @property
    def cycling_hours(self) -> float:
        """Hours a year of going on and off, both seasons; nan without bins."""
        return self.season.in_state("cycling", "cooling_cycling")


@dataclass(frozen=True)
class Equipment:
    """The chosen unit, its rivals, and the load lines of the house."""

    chosen: Candidate | None
    no_load_c: float
    """Outdoor temperature at which the house needs neither heat nor cooling."""
    rivals: tuple[Unit, ...]
    weigh: Callable[[Unit], Candidate] = field(repr=False, compare=False)
    measure: Callable[[Unit], Candidate] = field(repr=False, compare=False)
    """As `weigh`, without asking whether a size between is made."""

    @cached_property
    def candidates(self) -> tuple[Candidate, ...]:
        """All units, the best first. Worked out when first asked for: only one station compares them."""
        chosen = self.chosen
        every = (chosen if chosen and u.id == chosen.unit.id else self.weigh(u) for u in self.rivals)
        return tuple(sorted(every, key=_rank))

    @property
    def fitting(self) -> tuple[Candidate, ...]:
        """Those that carry the whole house within their limits."""
        return tuple(x for x in self.candidates if x.verdict == "fits")


def _odd(x: Candidate) -> bool:
    """Whether it brings no heat though some is asked of it, or brings heat though none is."""
    asked = x.heating_share == x.heating_share
    return (x.unit.kind == "air_conditioner") == asked


ORDER = {"fits": 0, "latent": 1, "heat": 2, "big": 3, "small": 3}


def _rank(x: Candidate) -> tuple[bool, int, bool, float, float]:
    """A head comes after ducted units; then by verdict, heat of its own first, how near the load it is, and the heat it
    gives."""
    off = abs(x.total_share - 1) if x.total_share == x.total_share else 9.0
    if x.sensible_share < x.limits[0]:
        off = max(off, x.limits[0] - x.sensible_share)
    return x.unit.kind in IN_ROOM, ORDER[x.verdict], _odd(x), round(off, 2), -x.heating_w


def evaluate(
    unit: Unit, unit_design: UnitDesign, conditions: Conditions, loads: Loads, return_rise_k: float = 0.0
) -> Candidate:
    """One unit of the catalogue in the place of `u` against the loads of the rooms served."""
    climate, indoor = unit_design.climate, unit_design.indoor
    flow = indoor.flow_m3_s if indoor.flow_m3_s and unit.id == indoor.unit else unit.rated_flow_m3_s
    entering = entering_air(conditions, unit_design.ventilators, flow, return_rise_k)
    total, sensible, _ = cooling_capacity(unit, climate.summer_c, entering, flow, conditions.density_kg_m3)
    lockout = unit_design.system.lockout_c
    coldest = heating_capacity(unit, climate.winter_c, conditions.density_kg_m3, conditions.burner_share, lockout)
    heating = float(coldest[0][0])
    heat_load = loads.house_heating_w
    off = no_load_temperature(conditions, loads)
    balance = _balance(unit, conditions, heat_load, climate.winter_c, off, lockout)
    shares = (
        _share(total, loads.house_cooling_w),
        _share(sensible, loads.house_sensible_w),
        _share(total - sensible, loads.house_latent_w),
        _share(heating, heat_load),
    )
    sizing = unit_design.sizing
    limits = size_limits(unit, sizing, climate, loads)
    heater = electric_w(indoor, unit)
    verdict = _verdict(unit, shares, limits, sizing, heating + heater, heat_load)
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
        heater,
        partial(_year, unit, conditions, loads, off, lockout, unit_design.system.heater_lockout_c),
        climate,
        limits,
        sizing,
        verdict,
        lockout,
    )


def _year(
    unit: Unit,
    conditions: Conditions,
    loads: Loads,
    off_c: float,
    lockout_c: float | None,
    heater_lockout_c: float | None,
    climate: Climate,
) -> Season:
    return season(unit, climate, conditions, loads, off_c, lockout_c, heater_lockout_c)


def _share(capacity: float, load: float) -> float:
    return capacity / load if load > 0 else float("nan")


def _verdict(
    unit: Unit,
    shares: tuple[float, ...],
    limits: tuple[float, float],
    sizing: SizeLimits,
    heat: float,
    heat_load: float,
) -> str:
    total, sensible, latent, _ = shares
    if total < limits[0] or sensible < limits[0]:
        return "small"
    if total > limits[1]:
        return "big"
    if latent < sizing.latent:
        return "latent"
    if heat_load <= 0:
        return "fits"
    if unit.kind == "furnace_coil":
        ratio = heat / heat_load
        if not sizing.furnace_least <= ratio <= sizing.furnace:
            return "heat"
    elif not carries(heat, heat_load):
        return "heat"
    return "fits"


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
    most, least, _ = heating_capacity(unit, heat_c, density, conditions.burner_share, candidate.lockout_c)
    entering, flow = candidate.entering, candidate.flow_m3_s
    cool = np.array([cooling_capacity(unit, float(x), entering, flow, density)[0] for x in cool_c])
    return Curves(
        *(low_c, high_c, heat_c, most, least, load_line(conditions, loads, off_c, heat_c)[0]),
        *(cool_c, cool, cool * unit.cooling.min_fraction, load_line(conditions, loads, off_c, cool_c)[1]),
    )


def _balance(
    unit: Unit,
    c: Conditions,
    heat_load: float,
    winter_c: float,
    off_c: float,
    lockout_c: float | None,
    helped_w: float = 0.0,
) -> float | None:
    """Outdoor temperature below which the unit, with `helped_w` beside it, no longer carries the house."""
    if heat_load <= 0 or unit.heating is None:
        return None
    floor = off_below(unit, lockout_c)
    if floor >= off_c and helped_w <= 0:
        return float(off_c)
    floor = min(floor, off_c)
    low = min(winter_c, floor) - 10.0
    inside = [t for t in unit.heating.outdoor_c if low < t < off_c]
    points = np.array([low, *inside, np.nextafter(floor, low), floor, off_c])
    points.sort()
    need = heat_load * (off_c - points) / max(off_c - winter_c, 0.1)
    spare = heating_capacity(unit, points, c.density_kg_m3, c.burner_share, lockout_c)[0] + helped_w - need
    short = np.flatnonzero(spare < 0)
    if len(short) == 0:
        return None
    # both lines are straight between the points, so the crossing is exact
    k = int(short[-1])
    if k == len(points) - 1:
        return float(off_c)
    share = -spare[k] / (spare[k + 1] - spare[k])
    return float(points[k] + share * (points[k + 1] - points[k]))


def _next_smaller(unit: Unit, catalogue: dict[str, Unit]) -> Unit | None:
    """The next size down of the same maker, kind and speeds; None where it is the smallest."""
    family = ("maker", "kind", "stages", "fuel", "furnace_output_w")
    same = [
        u
        for u in catalogue.values()
        if u.nominal_w < unit.nominal_w and all(getattr(u, k) == getattr(unit, k) for k in family)
    ]
    return max(same, key=lambda u: u.nominal_w, default=None)


def _allowed(x: Candidate) -> Candidate:
    """A unit over its limit as the next size that is made: judged again up to what it has."""
    limits = (x.limits[0], x.total_share)
    shares = (x.total_share, x.sensible_share, x.latent_share, x.heating_share)
    need_w = x.heating_w / x.heating_share if x.heating_share > 0 else x.backup_w
    verdict = _verdict(x.unit, shares, limits, x.sizing, x.heating_w + x.heater_w, need_w)
    return replace(x, limits=limits, verdict=verdict, next_size=True)


def goes_here(unit: Unit, indoor: IndoorUnit, outdoor: MultiUnit | None) -> bool:
    """Whether a unit can be put in a place: of its kind, and on an outdoor unit with several ports of the same maker."""
    kinds = HEADS.get(indoor.kind)
    if (unit.kind not in kinds) if kinds else (unit.kind in IN_ROOM):
        return False
    return outdoor is None or (unit.on_several and unit.maker == outdoor.maker)


STAGE_W = 5000.0
"""An element of an electric heat kit; common practice."""


def backup_stages(
    x: Candidate, e: Equipment, conditions: Conditions, loads: Loads
) -> tuple[tuple[float, float], ...]:
    """The stages of the backup that is fitted: power so far [W], and the outdoor temperature below which the last of them
    is needed [degC]; those that are never needed are left out."""
    out, before = [], 0.0
    while before < x.heater_w and x.unit.heating is not None:
        upto = min(before + STAGE_W, x.heater_w)
        winter = conditions.outdoor_winter.temperature_c
        below = _balance(x.unit, conditions, loads.house_heating_w, winter, e.no_load_c, x.lockout_c, before)
        if below is None:
            break
        out.append((upto, below))
        before = upto
    return tuple(out)


def equipment(
    unit_design: UnitDesign,
    catalogue: dict[str, Unit],
    multis: dict[str, MultiUnit],
    conditions: Conditions,
    loads: Loads,
    return_rise_k: float = 0.0,
) -> Equipment:
    """The chosen unit, and those to weigh it against: what the system names, or all that can hang in its place."""
    candidates, own = unit_design.system.candidates, unit_design.indoor.unit
    named = [*candidates, *(i for i in (own,) if i)]
    shared = multis.get(unit_design.outdoor.unit or "") if unit_design.outdoor is not None else None
    offered = [i for i, u in catalogue.items() if goes_here(u, unit_design.indoor, shared) or i == own]
    ids = [i for i in dict.fromkeys(named) if i in catalogue] if len(candidates) > 1 and shared is None else offered

    def bare(unit: Unit) -> Candidate:
        return evaluate(as_hung(unit, unit_design, catalogue, multis), unit_design, conditions, loads, return_rise_k)

    def weigh(unit: Unit) -> Candidate:
        found = bare(unit)
        if found.verdict != "big" or not unit_design.sizing.next_size:
            return found
        smaller = _next_smaller(unit, catalogue)
        return _allowed(found) if smaller is not None and bare(smaller).verdict == "small" else found

    chosen = catalogue.get(own or "")
    return Equipment(
        weigh(chosen) if chosen else None,
        no_load_temperature(conditions, loads),
        tuple(catalogue[i] for i in ids),
        weigh,
        bare,
    )


def explain_capacity(candidate: Candidate, conditions: Conditions, loads: Loads) -> Arithmetic:
    """Capacity at the design conditions against the load; nothing of heat where none is asked."""
    q, x = Quantity, candidate
    asked = [
        ("total", x.total_w, loads.house_cooling_w, x.total_share),
        ("sensible", x.sensible_w, loads.house_sensible_w, x.sensible_share),
        ("latent", x.latent_w, loads.house_latent_w, x.latent_share),
        ("heat", x.heating_w, loads.house_heating_w, x.heating_share),
    ]
    known = [a for a in asked if a[2] > 0]
    lines = tuple(
        Line(name, "{0} ÷ {1}", (q("power", have), q("power", need)), q("percent", share), k == len(known) - 1)
        for k, (name, have, need, share) in enumerate(known)
    )
    source = Line(
        "",
        "Maker's table at outdoor {0}, entering {1} dry and {2} wet bulb, corrected for air flow and altitude, no drier than saturated air lets it be",
        (
            q("temperature", conditions.outdoor_summer.temperature_c, 0),
            q("temperature1", x.entering.temperature_c),
            q("temperature1", x.entering.wet_bulb_c),
        ),
        None,
    )
    return Arithmetic("Capacity here", lines, (source,))


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
    house, unit = q("kpower", loads.house_heating_w), q("kpower", candidate.heating_w)
    spare = candidate.heating_w - loads.house_heating_w
    if candidate.backup_w > 0:
        lines.append(Line("short at design", "{0} − {1}", (house, unit), q("kpower", candidate.backup_w)))
        in_kw = (q("kpower", candidate.backup_w), q("kw_of", 1.0))
        lines.append(Line("in kW", "{0} ÷ {1}", in_kw, q("electric", candidate.backup_w)))
    elif spare >= 0:
        lines.append(Line("to spare at design", "{0} − {1}", (unit, house), q("kpower", spare)))
    return Arithmetic(
        "Balance point",
        tuple(lines),
        ("Unit: maker's heating table · House: Loads, straight line to no heat at indoor − gains ÷ loss per degree",),
    )
