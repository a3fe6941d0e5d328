"""Air through the coil in cooling at design: from the rooms and outdoors to what leaves, and where the table ends."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.units.equipment import Candidate
from murvan.design.weather.conditions import Conditions
from murvan.model.equipment import Unit
from murvan.physics import air
from murvan.physics.air import Air

CURVES = (0.2, 0.4, 0.6, 0.8, 1.0)
SHOWN_C = tuple(5.0 + 0.5 * k for k in range(75))
"""Dry bulbs of a psychrometric picture, 41 to 108 °F."""
SLACK_K = 0.05


State = Air
"""What a picture shows of air."""


@dataclass(frozen=True)
class CoilAir:
    """States of the air, and the curves of relative humidity behind them: humidity ratios over `dry_bulb_c`."""

    room: Air
    outdoors: Air
    entering: Air
    leaving: Air
    dry_bulb_c: tuple[float, ...]
    humidity: tuple[tuple[float, tuple[float, ...]], ...]


def coil_air(x: Candidate, c: Conditions) -> CoilAir:
    """What a unit makes of its entering air on the cooling design day."""
    curves = ((rh, tuple(air.humidity_curve(SHOWN_C, rh, c.pressure_pa))) for rh in CURVES)
    return CoilAir(c.indoor_cooling, c.outdoor_summer, x.entering, leaving_air(x, c), SHOWN_C, tuple(curves))


def leaving_air(x: Candidate, c: Conditions) -> Air:
    """Air after the coil: dry bulb by the sensible capacity, enthalpy by the total one; saturated where it can't hold more."""
    e = x.entering
    dry_kg_s = x.flow_m3_s * c.density_kg_m3 / (1 + e.humidity_ratio)
    t = e.temperature_c - x.sensible_w / (air.sensible_factor(c.density_kg_m3) * x.flow_m3_s)
    return air.from_enthalpy(t, e.enthalpy_j_kg - x.total_w / dry_kg_s, c.pressure_pa)


@dataclass(frozen=True)
class Beyond:
    """A condition of this house that the maker's table does not reach; the table's edge stands for it."""

    what: str
    here_c: float
    edge_c: float


def beyond_table(x: Candidate, c: Conditions) -> tuple[Beyond, ...]:
    """Where a unit is asked outside its data at design."""
    return tuple(_beyond(x.unit, x.entering, c))


def _beyond(unit: Unit, entering: Air, c: Conditions) -> Iterator[Beyond]:
    t = unit.cooling
    asked = [
        ("Outdoors, cooling", c.outdoor_summer.temperature_c, t.outdoor_c),
        ("Entering wet bulb", entering.wet_bulb_c, t.wet_bulb_c),
    ]
    winter = c.outdoor_winter.temperature_c
    if unit.heating is not None and winter >= unit.low_ambient_c:
        asked.append(("Outdoors, heating", winter, unit.heating.outdoor_c))
    for what, here, grid in asked:
        for edge in (grid[0], grid[-1]):
            if (here < edge - SLACK_K and edge == grid[0]) or (here > edge + SLACK_K and edge == grid[-1]):
                yield Beyond(what, here, edge)


def explain_leaving(x: Candidate, c: Conditions) -> Arithmetic:
    """How the air leaves the coil."""
    q, e, out = Quantity, x.entering, leaving_air(x, c)
    factor = air.sensible_factor(c.density_kg_m3)
    fall = x.sensible_w / (factor * x.flow_m3_s)
    lines = (
        Line(
            "falls by",
            "{0} ÷ ({1} × {2})",
            (q("power", x.sensible_w), q("air_factor", factor), q("flow", x.flow_m3_s)),
            q("difference", fall),
            adds=False,
        ),
        Line("leaves dry bulb", "", (), q("temperature1", out.temperature_c), True),
        Line("leaves wet bulb", "", (), q("temperature1", out.wet_bulb_c), adds=False),
        Line(
            "water taken, gr/lb or g/kg",
            "{0} − {1}",
            (q("moisture", e.humidity_ratio), q("moisture", out.humidity_ratio)),
            q("moisture", e.humidity_ratio - out.humidity_ratio),
            adds=False,
        ),
    )
    source = "Wet bulb from the enthalpy that is left after the total capacity, over the mass of dry air"
    return Arithmetic("Through the coil", lines, (source,))
