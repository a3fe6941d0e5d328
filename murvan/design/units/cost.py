"""What a year with a unit costs, against what heats and cools the house today."""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite
from typing import Literal

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.units.capacity import heating_capacity
from murvan.design.units.equipment import Candidate
from murvan.model.job import Energy

USUAL_EFFICIENCY = {"electric": 1.0, "heat_pump": 2.5, "gas": 0.8, "propane": 0.8, "oil": 0.8}
"""Of a present system that nobody has read the plate of; Murvan default, editable."""
FUEL_WORDS = {"electric": "electricity", "gas": "gas", "propane": "propane", "oil": "oil"}
LEAVES_OUT = (
    "Leaves out upkeep, rebates, loans, price changes, hot water, and what keeping the present system would cost."
)


@dataclass(frozen=True)
class CostPart:
    """One thing that is paid for: kWh of electricity or heat content, its price, and what it was divided by first."""

    name: str
    fuel: Literal["electric", "gas", "propane", "oil"]
    need_kwh: float
    per_kwh: float
    efficiency: float = 1.0
    """Heat or cold a unit of energy gives."""

    @property
    def kwh(self) -> float:
        """What is bought, kWh a year."""
        return self.need_kwh / self.efficiency

    @property
    def cost(self) -> float:
        """A year, in the job's money."""
        return self.kwh * self.per_kwh


@dataclass(frozen=True)
class Cost:
    """A year by its parts, the same for the present system, and what the new one costs to put in."""

    parts: tuple[CostPart, ...]
    present: tuple[CostPart, ...]
    cost_in: float
    """In the job's money."""
    installed: bool
    """Whether `cost_in` was typed, or is the unit's price alone."""
    rebate: float = 0.0

    @property
    def year(self) -> float:
        """What the new system takes."""
        return sum(x.cost for x in self.parts)

    @property
    def present_year(self) -> float | None:
        """What the present one takes; None where it is not known."""
        return sum(x.cost for x in self.present) if self.present else None

    @property
    def saved(self) -> float | None:
        """A year; negative where the new one costs more."""
        return None if self.present_year is None else self.present_year - self.year

    @property
    def payback_years(self) -> float | None:
        """Simple payback; None where nothing is saved."""
        return self.to_pay / self.saved if self.saved is not None and self.saved > 1 else None

    @property
    def to_pay(self) -> float:
        """What is left of the cost in once the rebate has come."""
        return max(self.cost_in - self.rebate, 0.0)


def yearly_cost(x: Candidate, energy: Energy) -> Cost | None:
    """What a year with a unit costs. None without hours by temperature."""
    s = x.season
    if not isfinite(s.year("heat_kwh")):
        return None
    heats = "heat pump" if x.unit.heating is not None else "electric furnace"
    electric = (
        (heats, s.year("power_kwh")),
        ("backup heat", s.year("backup_kwh")),
        ("cooling", s.year("cool_power_kwh")),
    )
    parts = [CostPart(name, "electric", kwh, energy.electric_per_kwh) for name, kwh in electric if kwh > 0]
    if s.year("fuel_kwh") > 0:
        fuel = x.unit.fuel or "gas"
        parts.insert(0, CostPart(FUEL_WORDS[fuel], fuel, s.year("fuel_kwh"), price(energy, fuel)))
    if s.year("kept_kwh") > 0 and energy.present != "unknown":
        parts.append(_today("heat that is kept", s.year("kept_kwh"), energy))
    installed = energy.cost_in is not None
    return Cost(
        tuple(parts),
        _present(x, energy),
        energy.cost_in if energy.cost_in is not None else x.unit.price,
        installed,
        energy.rebate,
    )


def price(energy: Energy, fuel: str) -> float:
    """Of a kWh of heat content."""
    return float(getattr(energy, f"{fuel}_per_kwh"))


def _present(x: Candidate, energy: Energy) -> tuple[CostPart, ...]:
    """The same house with what is there today; nothing where that is not known."""
    if energy.present == "unknown":
        return ()
    parts = [_today("heat today", x.season.year("heat_kwh") + x.season.year("kept_kwh"), energy)]
    if energy.present_cooling is not None:
        cold = x.season.year("cool_kwh")
        parts.append(CostPart("cooling today", "electric", cold, energy.electric_per_kwh, energy.present_cooling))
    return tuple(parts)


def _today(name: str, heat_kwh: float, energy: Energy) -> CostPart:
    """Heat by what heats the house today."""
    fuel: Literal["electric", "gas", "propane", "oil"] = "electric"
    if energy.present in ("gas", "propane", "oil"):
        fuel = energy.present
    return CostPart(
        name, fuel, heat_kwh, price(energy, fuel), energy.present_efficiency or USUAL_EFFICIENCY[energy.present]
    )


def _line(part: CostPart) -> Line:
    kind = "kwh" if part.fuel == "electric" else part.fuel
    q = Quantity(kind, part.need_kwh), Quantity(f"{kind}_price", part.per_kwh), Quantity("decimal", part.efficiency)
    divided = part.efficiency != 1
    return Line(part.name, "{0} ÷ {2} × {1}" if divided else "{0} × {1}", q, Quantity("money", part.cost))


def explain_cost(x: Candidate, energy: Energy) -> Arithmetic | None:
    """The year in lines that multiply out; None without hours by temperature."""
    c = yearly_cost(x, energy)
    if c is None:
        return None
    lines = [*map(_line, c.parts), Line("a year", "", (), Quantity("money", c.year), True)]
    note: list[str | Line] = [
        "Hours by outdoor temperature × load line ÷ the maker's data · prices as typed, else Murvan default, editable"
    ]
    if x.season.year("kept_kwh") > 0 and energy.present == "unknown":
        note.append("The heat that is kept is not counted: say what heats today.")
    if c.present_year is not None and c.saved is not None:
        lines += [
            Line(part.label, part.expression, part.operands, part.result, False, False)
            for part in map(_line, c.present)
        ]
        both = Quantity("money", c.present_year), Quantity("money", c.year)
        lines.append(Line("saves a year", "{0} − {1}", both, Quantity("money", c.saved), False, False))
        if c.payback_years is not None:
            what = "cost in" if c.installed else "unit alone"
            if c.rebate > 0:
                q = Quantity("money", c.cost_in), Quantity("money", c.rebate)
                lines.append(Line(f"{what} − rebate", "{0} − {1}", q, Quantity("money", c.to_pay), False, False))
                what = "what is left"
            q = Quantity("money", c.to_pay), Quantity("money", c.saved)
            lines.append(Line(f"{what} ÷ saving", "{0} ÷ {1}", q, Quantity("years", c.payback_years), False, False))
        note.append(LEAVES_OUT.replace(" rebates,", "") if c.rebate > 0 else LEAVES_OUT)
    return Arithmetic("A year", tuple(lines), tuple(note))


RATED_C = 8.3333
"""47 °F, where a heat pump's heating is rated."""


def explain_power(x: Candidate, energy: Energy, density_kg_m3: float) -> Arithmetic | None:
    """The electricity that the present system takes while it runs, as measured, against this unit; None unmeasured."""
    volts, amps, factor = energy.present_volts, energy.present_amps, energy.power_factor
    if volts is None or amps is None:
        return None
    today = volts * amps * factor
    measured = Quantity("volts", volts), Quantity("amps", amps), Quantity("decimal", factor)
    lines = [Line("today", "{0} × {1} × {2}", measured, Quantity("watts", today), True)]
    after = float(heating_capacity(x.unit, RATED_C, density_kg_m3)[2][0]) if x.unit.heating is not None else 0.0
    if after > 0:
        lines.append(Line("this unit, heating", "", (), Quantity("watts", after), False, False))
        q = Quantity("watts", today), Quantity("watts", after)
        lines.append(Line("less while it runs", "{0} − {1}", q, Quantity("watts", today - after), False, False))
    return Arithmetic(
        "Power while it runs",
        tuple(lines),
        (
            "Measured volts × amps × power factor: 1 for resistance heat, about 0.9 for a compressor",
            Line("", "This unit: maker's table, flat out at {0}", (Quantity("temperature", RATED_C, 0),), None),
        ),
    )
