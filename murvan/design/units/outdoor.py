"""An outdoor unit that several indoor units hang on: what it gives them together, and what it is asked for."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.loads.peaks import Loads
from murvan.design.units.capacity import by_table, mass_share
from murvan.design.units.equipment import Candidate
from murvan.design.units.unit_design import UnitDesign
from murvan.design.weather.conditions import Conditions
from murvan.model.design import Box, OutdoorUnit
from murvan.model.equipment import MultiUnit


@dataclass(frozen=True)
class Shared:
    """One outdoor unit with what hangs on it. Powers in W, all at the design conditions."""

    outdoor: OutdoorUnit
    unit: MultiUnit
    """Of the catalogue."""
    hung: tuple[tuple[UnitDesign, Candidate], ...]
    """Indoor units that have been chosen."""
    needs_w: tuple[float, ...]
    """Cooling of each one's rooms at their own peak."""
    boxes: tuple[Box, ...]
    connected_w: float
    """Nominal sizes together."""
    coincident_w: float
    """Cooling of all its rooms at the hour at which they ask for most together."""
    heating_load_w: float

    @property
    def peaks_w(self) -> float:
        """The units' own peaks added up."""
        return sum(self.needs_w)

    @property
    def connected_share(self) -> float:
        """Over the outdoor unit's own nominal size."""
        return self.connected_w / self.unit.nominal_w

    @property
    def ports(self) -> int:
        """Indoor units that find a port: on it, or on its boxes where it has none of its own."""
        if self.unit.feeds == "ports" or not self.boxes:
            return self.unit.ports
        return min(sum(b.ports for b in self.boxes), self.unit.ports)

    @property
    def cooling_w(self) -> float:
        """Of all units together while all call."""
        return sum(x.total_w for _, x in self.hung)

    @property
    def heating_w(self) -> float:
        """Of all units together while all call."""
        return sum(x.heating_w for _, x in self.hung)

    @property
    def line_m(self) -> float:
        """All lines together."""
        return sum(u.line.length_m for u, _ in self.hung)

    @property
    def extra_charge_kg(self) -> float:
        """Refrigerant to add for all lines together."""
        return self.unit.extra_charge_kg(self.line_m)


def shared(
    outdoor: OutdoorUnit,
    unit: MultiUnit,
    hung: tuple[tuple[UnitDesign, Candidate], ...],
    boxes: tuple[Box, ...],
    loads: Loads,
    own: tuple[Loads, ...],
) -> Shared:
    """What hangs on an outdoor unit, together.

    Args:
        loads: Of all its rooms together.
        own: Of each unit's rooms, in the order of `hung`.
    """
    return Shared(
        outdoor,
        unit,
        hung,
        tuple(x.house_cooling_w for x in own),
        boxes,
        sum(x.unit.nominal_w for _, x in hung),
        loads.house_cooling_w,
        sum(x.house_heating_w for x in own),
    )


def explain_part(x: Candidate, s: Shared, c: Conditions) -> Arithmetic:
    """What a head gets of the outdoor unit that it shares, while all call."""
    q, unit = Quantity, x.unit
    table = by_table(unit, c.outdoor_summer.temperature_c, x.entering.wet_bulb_c)[0]
    air = mass_share(unit, x.flow_m3_s, c.density_kg_m3) ** unit.cooling.flow_exponent_total
    part = unit.nominal_w / s.connected_w
    lines = (
        Line(
            "its part",
            "{0} ÷ {1}",
            (q("power", unit.nominal_w), q("power", s.connected_w)),
            q("percent", part),
            adds=False,
        ),
        Line("by both tables", "", (), q("power", table), adds=False),
        Line("cools", "{0} × {1}", (q("power", table), q("decimal4", air)), q("power", x.total_w), True),
    )
    both = (
        "At each point of its table the smaller of its own capacity and its part of the outdoor unit's, less the line"
    )
    return Arithmetic("Part of the outdoor unit", lines, (both, "× air flow and altitude, by the maker's exponent"))
