"""Air that leaves a unit: how cold off its coil, how warm off its burner, its heat pump and its heater, at any flow of air."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import NamedTuple

from murvan.design.results import SystemResults
from murvan.design.sameness import Once
from murvan.design.units.capacity import by_table, cooling_capacity, entering_air, heating_capacity
from murvan.design.units.equipment import Candidate
from murvan.design.weather.conditions import Conditions
from murvan.model.design import Ventilator
from murvan.model.equipment import Unit
from murvan.physics import air
from murvan.physics.air import Air

FREEZE_C = 0.0
"""A coil whose surface is colder ices up."""
MARGIN_K = 2.0
"""What its surface stays over that; common practice."""
LEAST_OFF_C = 7.22
"""Air off the coil, 45 °F: low limits cut out at 45 to 50, from memory."""
FURNACE_RISE_K = 39.0
"""70 °F over the air that enters a furnace or an electric heater; common practice, the label goes before it."""
PUMP_RISE_K = 28.0
"""50 °F over the air that enters a heat pump's coil: beyond, its high-pressure limit is near; common practice."""
MILD_C = 8.33
"""Outdoors, 47 °F, where a heat pump's rating stands and it gives a lot."""
MOST_BACK = 0.9
"""Share of air that goes round and round at most: what a solve finds for a bypass is less."""


@dataclass(frozen=True)
class CoilAt:
    """The coil on the cooling design day at one air flow, at full capacity and as low as it goes, degC."""

    leaving_c: float
    leaving_low_c: float
    surface_c: float
    """Mean, by its bypass factor."""
    surface_low_c: float


@dataclass(frozen=True)
class Rise:
    """What one source of heat warms the air by, and what it may."""

    what: str
    rise_k: float
    most_k: float

    @property
    def hot(self) -> bool:
        """Whether it is too much."""
        return self.rise_k > self.most_k


def ices(coil: CoilAt) -> bool:
    """Whether a coil ices up even turned down."""
    return coil.surface_low_c < FREEZE_C + MARGIN_K


def coil_at(c: Conditions, s: SystemResults, flow_m3_s: float, back: float = 0.0) -> CoilAt | None:
    """Air off the coil where a share of it comes straight back: it enters that much colder and drier, until both agree."""
    x: Candidate | None = s.equipment.chosen
    if x is None or flow_m3_s <= 0 or x.total_w <= 0:
        return None
    asked = (x, c, s.design.ventilators, s.duct_heat.return_rise_k, flow_m3_s, back)
    return COILS.of(f"{flow_m3_s} {back}", asked, _coil_at)


COILS = Once(64)
"""Several rules ask for the same coil."""


def _coil_at(
    x: Candidate, c: Conditions, fans: tuple[Ventilator, ...], rise_k: float, flow_m3_s: float, back: float
) -> CoilAt:
    table = x.unit.cooling
    returning = entering_air(c, fans, flow_m3_s, rise_k)
    entering, fall = returning, 0.0
    usual: _Took | None = None
    for _ in range(ROUNDS if back > 0 else 1):
        took = _taken(x.unit, c, entering, flow_m3_s, usual)
        usual = usual or took
        fall = took.sensible / (air.sensible_factor(c.density_kg_m3) * flow_m3_s)
        dried = (took.total - took.sensible) / (air.latent_factor(c.density_kg_m3) * flow_m3_s)
        # what comes back has been through the coil: the mix is colder by back / (1 - back) of its fall
        share = back / (1 - back)
        cold = returning.temperature_c - share * fall
        dry = max(returning.humidity_ratio - share * dried, LEAST_RATIO)
        # a step of 1 / (1 + share): the fall answers a colder mix by nearly as much, which would swing
        t = entering.temperature_c + (cold - entering.temperature_c) / (1 + share)
        w = entering.humidity_ratio + (dry - entering.humidity_ratio) / (1 + share)
        entering = air.from_humidity_ratio(t, w, c.pressure_pa)
    at, through = entering.temperature_c, 1 - table.bypass_factor
    low = fall * table.min_fraction
    return CoilAt(at - fall, at - low, at - fall / through, at - low / through)


class _Took(NamedTuple):
    """What a coil takes out of air, W, and how much wetter that air is than air at the coil's surface."""

    total: float
    sensible: float
    wetter: float


def _taken(unit: Unit, c: Conditions, entering: Air, flow_m3_s: float, usual: _Took | None) -> _Took:
    """By the maker's table where the air is as usual. Under its lowest wet bulb the total goes on falling as there; air that is
    drier than `usual` gives so much less moisture, and the coil cools it that much more."""
    out, t = c.outdoor_summer.temperature_c, unit.cooling
    total, sensible, _ = cooling_capacity(unit, out, entering, flow_m3_s, c.density_kg_m3)
    low = t.wet_bulb_c[0]
    if entering.wet_bulb_c < low:
        edge, beside = by_table(unit, out, low)[0], by_table(unit, out, low + 1.0)[0]
        total *= max(1 + (entering.wet_bulb_c - low) * (beside - edge) / edge, LEAST_TOTAL)
    sensible = min(sensible, total)
    through = air.sensible_factor(c.density_kg_m3) * flow_m3_s * (1 - t.bypass_factor)
    surface = max(entering.temperature_c - sensible / through, COLDEST_C)
    held = air.from_relative_humidity(surface, 1.0, c.pressure_pa).humidity_ratio
    wetter = max(entering.humidity_ratio - held, LEAST_RATIO)
    if usual is not None:
        moisture = (usual.total - usual.sensible) * min(wetter / usual.wetter, 1.0)
        sensible = max(sensible, total - moisture)
    return _Took(total, min(sensible, total), wetter)


LEAST_TOTAL = 0.3
"""Of a coil's total at the lowest wet bulb of its table, what it takes at least; common practice."""
COLDEST_C = -60.0
ROUNDS = 12
LEAST_RATIO = 1e-4


def rises(c: Conditions, s: SystemResults, flow_m3_s: float, back: float = 0.0) -> Iterator[Rise]:
    """Each source of heat of a unit at its lowest stage; what comes back by a bypass is warmed again.

    An electric heater is on beside the heat pump on the winter design night.
    """
    x = s.equipment.chosen
    if x is None or flow_m3_s <= 0:
        return
    unit, passing = x.unit, c.sensible_factor * flow_m3_s * (1 - back)
    if unit.furnace_output_w is not None:
        share = 1.0 if unit.fuel == "electric" else c.burner_share
        yield Rise("furnace", unit.furnace_output_w * unit.furnace_min_fraction * share / passing, FURNACE_RISE_K)
    if unit.heating is not None:
        lowest = float(heating_capacity(unit, MILD_C, c.density_kg_m3)[1][0])
        yield Rise("heat pump", lowest / passing, PUMP_RISE_K)
    kit_w = x.heater_w - s.design.indoor.room_heat_w
    if kit_w > 0:
        beside = float(heating_capacity(unit, c.outdoor_winter.temperature_c, c.density_kg_m3)[1][0])
        own = beside if unit.heating is not None else 0.0
        yield Rise("heater", (kit_w + own) / passing, FURNACE_RISE_K)
