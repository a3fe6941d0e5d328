"""Equipment as its maker describes it, in an open form: see `docs/catalogue.md`. A job carries the user's own units."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from murvan.model.record import Id, Name, Record
from murvan.units import BTU_H

OUTDOOR_C, WET_BULB_C = (-60.0, 65.0), (0.0, 40.0)
"""Temperatures that a table can be of; beyond them it is in another measure."""
Fuel = Literal["electric", "gas", "propane", "oil"]
UnitKind = Literal[
    "heat_pump", "air_conditioner", "furnace_coil", "packaged", "slim_ducted", "wall", "floor", "ceiling1", "ceiling4"
]
KIND_WORDS: dict[UnitKind, str] = {
    "heat_pump": "heat pump",
    "air_conditioner": "cooling only",
    "furnace_coil": "furnace with coil",
    "packaged": "packaged heat pump",
    "slim_ducted": "slim ducted",
    "wall": "wall unit",
    "floor": "floor unit",
    "ceiling1": "one-way cassette",
    "ceiling4": "four-way cassette",
}
HEADS: dict[str, tuple[UnitKind, ...]] = {"wall": ("wall",), "floor": ("floor",), "ceiling": ("ceiling1", "ceiling4")}
"""Kinds of the catalogue that hang in a room, by how the design says they hang."""
IN_ROOM = tuple(k for kinds in HEADS.values() for k in kinds)
STAGE_WORDS = {"single": "single speed", "two": "two speeds", "variable": "variable speed"}
SAME = 1 + 1e-6
RISE_SHARE = 0.02
"""A maker's rounding; cooling that rises more with outdoor heat is a slip."""
STATIC_PA, MOST_FLOW_M3_S = (0.0, 2000.0), 5.0
MOST_POWER = 1.5
"""Power over capacity; more is a slip of columns."""
FROST_C = (-8.4, 5.0)
"""Outdoor temperatures at which a coil frosts."""
FAR = 2.0
"""Btu/h for W is 3.4 times."""


def _rises(x: Sequence[float]) -> bool:
    return all(b > a for a, b in pairwise(x))


def _temperature(c: float) -> str:
    return f"{c * 1.8 + 32:.0f} °F ({c:.1f} °C)"


def _power(w: float) -> str:
    return f"{w / BTU_H:,.0f} Btu/h ({w:,.0f} W)"


def _no_temperature(x: float, within: tuple[float, float]) -> str:
    return f"{x:g} is no temperature of this table, {within[0]:g} to {within[1]:g} °C; is it in °F?"


Grid = Sequence[Sequence[float]]


@dataclass(frozen=True)
class Trouble:
    """What no maker's table can say: its row and column, which of total, sensible and power (0 to 2), and words."""

    row: int
    column: int
    of: int
    text: str


def cooling_troubles(
    outdoor_c: Sequence[float], wet_bulb_c: Sequence[float], total_w: Grid, sensible_w: Grid, power_w: Grid
) -> Iterator[Trouble]:
    """What is wrong with a cooling table, cell by cell: outdoor rows by wet-bulb columns, degC and W."""
    for i, x in enumerate(outdoor_c):
        if not OUTDOOR_C[0] <= x <= OUTDOOR_C[1]:
            yield Trouble(i, 0, 0, _no_temperature(x, OUTDOOR_C))
    for j, x in enumerate(wet_bulb_c):
        if not WET_BULB_C[0] <= x <= WET_BULB_C[1]:
            yield Trouble(0, j, 0, _no_temperature(x, WET_BULB_C))
    for i, outdoor in enumerate(outdoor_c):
        for j, wet in enumerate(wet_bulb_c):
            values = [x[i][j] for x in (total_w, sensible_w, power_w)]
            total, sensible, _ = values
            cell = f"at {_temperature(outdoor)} outdoors and {_temperature(wet)} wet bulb"
            if min(values) <= 0:
                yield Trouble(i, j, values.index(min(values)), f"{cell} a capacity or power is not above 0")
            elif sensible > total * SAME:
                yield Trouble(i, j, 1, f"{cell} sensible {_power(sensible)} is above total {_power(total)}")
            elif values[2] > total * MOST_POWER:
                yield Trouble(
                    i, j, 2, f"{cell} the power {values[2]:,.0f} W is far above what it cools, {total:,.0f} W"
                )
            elif i and total > total_w[i - 1][j] * (1 + RISE_SHARE):
                rise = f"from {_power(total_w[i - 1][j])} to {_power(total)}"
                yield Trouble(i, j, 0, f"{cell} cooling rises with outdoor heat, {rise}")


class CoolingTable(Record):
    """Full-speed cooling by outdoor dry bulb (rows) and entering wet bulb (columns), at rated air flow.

    Sensible capacity is given at an entering dry bulb of `dry_bulb_c` and moves with the difference to it.
    """

    outdoor_c: tuple[float, ...] = Field(min_length=2)
    wet_bulb_c: tuple[float, ...] = Field(min_length=2)
    dry_bulb_c: float = Field(26.6667, ge=10, le=45)
    total_w: tuple[tuple[float, ...], ...]
    sensible_w: tuple[tuple[float, ...], ...]
    power_w: tuple[tuple[float, ...], ...]
    min_fraction: float = Field(1.0, gt=0, le=1)
    """Capacity at the lowest speed over that at the highest."""
    min_power_fraction: float | None = Field(None, gt=0, le=1)
    """Power at the lowest speed over that at the highest; none: as the capacity."""
    bypass_factor: float = Field(0.12, ge=0, lt=1)
    flow_exponent_total: float = Field(0.12, ge=0, le=1)
    """Of capacity over the ratio of air flow to the rated one."""
    flow_exponent_sensible: float = Field(0.35, ge=0, le=1)
    """Of capacity over the ratio of air flow to the rated one."""

    @model_validator(mode="after")
    def _rectangular(self) -> CoolingTable:
        for table in (self.total_w, self.sensible_w, self.power_w):
            if len(table) != len(self.outdoor_c) or any(len(r) != len(self.wet_bulb_c) for r in table):
                raise ValueError("a cooling table needs one row an outdoor and one column a wet-bulb temperature")
        if not (_rises(self.outdoor_c) and _rises(self.wet_bulb_c)):
            raise ValueError("the temperatures of a cooling table must rise")
        for trouble in cooling_troubles(self.outdoor_c, self.wet_bulb_c, self.total_w, self.sensible_w, self.power_w):
            raise ValueError(trouble.text)
        return self


class HeatingTable(Record):
    """Heating over outdoor dry bulb at highest and lowest speed, and power at the highest."""

    outdoor_c: tuple[float, ...] = Field(min_length=2)
    max_w: tuple[float, ...]
    min_w: tuple[float, ...]
    power_w: tuple[float, ...]
    min_power_fraction: float | None = Field(None, gt=0, le=1)
    """Power at the lowest speed over that at the highest; none: as the capacity."""
    defrost_share: float = Field(1.0, gt=0, le=1)
    """What frost leaves of the capacities between 17 and 41 °F (-8 and 5 °C); 1: it is in them already."""

    @model_validator(mode="after")
    def _same_length(self) -> HeatingTable:
        if len({len(self.outdoor_c), len(self.max_w), len(self.min_w), len(self.power_w)}) != 1:
            raise ValueError("a heating table needs as many capacities and powers as temperatures")
        if not _rises(self.outdoor_c):
            raise ValueError("the temperatures of a heating table must rise")
        for x in self.outdoor_c:
            if not OUTDOOR_C[0] <= x <= OUTDOOR_C[1]:
                raise ValueError(_no_temperature(x, OUTDOOR_C))
        for at, most, least, power in zip(self.outdoor_c, self.max_w, self.min_w, self.power_w, strict=True):
            if min(most, least, power) < 0:
                raise ValueError(f"at {_temperature(at)} outdoors a capacity or power is below 0")
            if power > max(most, MOST_POWER) * MOST_POWER:
                raise ValueError(
                    f"at {_temperature(at)} outdoors the power {power:,.0f} W is far above {_power(most)}"
                )
            if least > most * SAME:
                words = f"the lowest capacity {_power(least)} is above the highest {_power(most)}"
                raise ValueError(f"at {_temperature(at)} outdoors {words}")
        return self


class Blower(Record):
    """Flow [m3/s] by external static [Pa], one row a tap. `tested_with` is already inside the table."""

    kind: Literal["fixed_torque", "constant_airflow", "psc"]
    static_pa: tuple[float, ...] = Field(min_length=3)
    taps_m3_s: tuple[tuple[float, ...], ...] = Field(min_length=1)
    limit_pa: float = Field(gt=0)
    tested_with: tuple[Literal["wet_coil", "dry_coil", "filter", "heater"], ...] = ()
    efficiency: float = Field(0.45, gt=0, le=0.9)
    """Air power over electric power, 0..1."""

    @model_validator(mode="after")
    def _falls(self) -> Blower:
        if not _rises(self.static_pa) or not STATIC_PA[0] <= self.static_pa[0] <= self.static_pa[-1] <= STATIC_PA[1]:
            raise ValueError(
                f"the static pressures of a blower table must rise, {STATIC_PA[0]:g} to {STATIC_PA[1]:g} Pa"
            )
        for row in self.taps_m3_s:
            if len(row) != len(self.static_pa) or not _rises(row[::-1]):
                raise ValueError("every blower tap needs one falling flow a static pressure")
            if row[-1] < 0 or row[0] > MOST_FLOW_M3_S:
                raise ValueError(f"the air of a blower tap lies within 0 and {MOST_FLOW_M3_S:g} m3/s")
        return self


Body = Annotated[float, Field(gt=0, le=5)]


class Machine(Record):
    """What a compressor's maker says of it, whatever it blows through."""

    id: Id
    maker: Name
    name: Name
    nominal_w: float = Field(gt=0, le=200000)
    cooling: CoolingTable
    heating: HeatingTable | None = None
    low_ambient_c: float = Field(-20.0, ge=-60, le=30)
    mca_a: float = Field(ge=0, le=400)
    mop_a: float = Field(ge=0, le=400)
    line_liquid_m: float = Field(0.009525, gt=0, le=0.1)
    line_suction_m: float = Field(0.01905, gt=0, le=0.1)
    line_factory_m: float = Field(4.572, ge=0, le=500)
    """Line that its charge is for."""
    line_charge_kg_m: float = Field(0.0558, ge=0, le=2)
    line_max_m: float = Field(30.0, gt=0, le=300)
    line_max_lift_m: float = Field(15.0, ge=0, le=200)
    line_loss_m: float = Field(0.0, ge=0, le=0.02)
    """Share of the capacity lost a metre of line beyond what it is charged for."""
    width_m: Body
    depth_m: Body
    height_m: Body
    weight_kg: float = Field(gt=0, le=2000)
    sound_dba: float = Field(ge=0, le=130)
    """dBA at 1 m."""
    price: float = Field(ge=0, le=10000000)
    """In the job's money."""

    @model_validator(mode="after")
    def _of_one_measure(self) -> Machine:
        highest = max(max(row) for row in self.cooling.total_w)
        if not self.nominal_w / FAR <= highest <= self.nominal_w * FAR:
            raise ValueError(
                f"the table cools up to {_power(highest)}, far from the nominal {_power(self.nominal_w)}; "
                "are the units mixed up?"
            )
        return self

    def extra_charge_kg(self, line_m: float) -> float:
        """Refrigerant to add for a line longer than it is charged for."""
        return max(line_m - self.line_factory_m, 0.0) * self.line_charge_kg_m

    def line_share(self, line_m: float) -> float:
        """What a line leaves of the capacity."""
        return max(1 - self.line_loss_m * max(line_m - self.line_factory_m, 0.0), 0.0)


class Unit(Machine):
    """One piece of equipment with its maker's data: an air handler, a furnace or a head, with the outdoor unit that it
    comes with."""

    kind: UnitKind
    stages: Literal["single", "two", "variable"]
    rated_flow_m3_s: float = Field(gt=0, le=5)
    furnace_output_w: float | None = Field(None, gt=0, le=200000)
    furnace_efficiency: float | None = Field(None, gt=0, le=1)
    """AFUE."""
    furnace_min_fraction: float = Field(1.0, gt=0, le=1)
    """Lowest stage over the highest."""
    fuel: Fuel | None = None
    """What a furnace burns."""
    blower: Blower
    coil_pa: float = Field(0.0, ge=0, le=1000)
    heater_pa: float = Field(0.0, ge=0, le=1000)
    heater_kw: tuple[Annotated[float, Field(gt=0, le=60)], ...] = Field((), max_length=20)
    outlet_width_m: Body
    outlet_depth_m: Body
    wheel_diameter_m: Body
    price_indoor: float | None = Field(None, ge=0, le=10000000)
    """Without its outdoor unit, where it is also sold for an outdoor unit with several ports."""

    @property
    def takes_kit(self) -> bool:
        """Whether an electric heat kit can be put in."""
        return bool(self.heater_kw)

    @property
    def on_several(self) -> bool:
        """Whether it can hang on an outdoor unit with others."""
        return self.price_indoor is not None


class MultiUnit(Machine):
    """An outdoor unit that several indoor units hang on."""

    ports: int = Field(ge=2, le=16)
    """Indoor units that go on it, through boxes where it has no ports of its own."""
    feeds: Literal["ports", "branch_box", "header"] = "ports"
    """How its line is shared out."""
    connected: tuple[Annotated[float, Field(gt=0, le=3)], Annotated[float, Field(gt=0, le=3)]] = (0.5, 1.3)
    """Nominal size of all that hangs on it together, least and most, over its own."""
    line_total_m: float = Field(60.0, gt=0, le=1000)
    """All lines together."""
