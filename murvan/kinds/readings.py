"""What can be read on site, where at a unit, and with what."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from murvan.kinds.table import Table
from murvan.units import CFM


@dataclass(frozen=True)
class Quantity:
    """Something that is measured; limits in SI."""

    id: str
    name: str
    shown_as: str
    """The kind of figure that it is shown and typed as."""
    least: float
    most: float


QUANTITIES = Table(
    "quantity",
    Quantity("flow", "Air flow", "flow", 0, 20),
    Quantity("static", "Static", "pressure3", -3000, 3000),
    Quantity("temperature", "Temperature", "temperature1", -60, 120),
    Quantity("power", "Power", "watts", 0, 100000),
    Quantity("wet_bulb", "Wet bulb", "temperature1", -40, 60),
    Quantity("line_pressure", "Line pressure", "psi", 0, 4_500_000),
    Quantity("co", "Carbon monoxide", "ppm", 0, 0.05),
    Quantity("pressure", "Pressure", "pascal", -300, 300),
    Quantity("vacuum", "Vacuum", "microns", 0, 110_000),
    Quantity("leakage", "Leakage", "flow", 0, 20),
)


@dataclass(frozen=True)
class Hole:
    """Where a hole is drilled at a unit."""

    id: str
    name: str
    short: str
    """Where the quantity has no other there to be told from."""
    of: Literal["indoor_unit", "register"] = "indoor_unit"
    """What it belongs to; of a register, in the duct that ends in it."""
    along: float = 0.0
    """How far along that duct it is drilled, a share."""
    side: int = 1
    """Of the room's pressure, on which its static lies while the blower runs: 1 above, -1 below."""


HOLES = Table(
    "test hole",
    Hole("return", "return before the filter", "return", side=-1),
    Hole("after_filter", "after the filter", "after the filter", side=-1),
    Hole("before_heater", "after the blower, before the coil", "before the coil"),
    Hole("supply", "supply plenum", "supply"),
    Hole("vapour_line", "vapour line at the outdoor unit", "vapour line"),
    Hole("liquid_line", "liquid line at the outdoor unit", "liquid line"),
    Hole("flue", "in the flue", "flue"),
    Hole("room", "in the room of the appliance", "its room"),
    Hole("draft", "flue against the room", "draft"),
    Hole("depression", "house against outdoors, fans and dryer on", "house against outdoors"),
    Hole("hold_start", "lines under nitrogen, at the start", "start of the hold"),
    Hole("hold_end", "lines under nitrogen, at the end", "end of the hold"),
    Hole("vacuum_shut", "valve just shut", "valve just shut"),
    Hole("vacuum_5", "five minutes after", "five minutes after"),
    Hole("vacuum_10", "ten minutes after", "ten minutes after"),
    Hole("damper", "past the damper", "past the damper", "register", 0.25),
    Hole("boot", "at the boot", "at the boot", "register", 0.78),
)


@dataclass(frozen=True)
class Point:
    """One quantity at one hole, by the word that files call it."""

    id: str
    hole: str
    quantity: str
    proves: Literal["air", "capacity", "charge", "combustion", "lines"] = "air"
    """What it is read for."""

    @property
    def name(self) -> str:
        """Where it is, as short as the quantity lets it be."""
        hole = HOLES[self.hole]
        return hole.name if self.quantity == "static" else hole.short


POINTS = Table(
    "place",
    Point("static-return", "return", "static"),
    Point("static-after-filter", "after_filter", "static"),
    Point("static-before-coil", "before_heater", "static"),
    Point("static-supply", "supply", "static"),
    Point("temp-return", "return", "temperature"),
    Point("temp-supply", "supply", "temperature"),
    Point("wet-return", "return", "wet_bulb", "capacity"),
    Point("wet-supply", "supply", "wet_bulb", "capacity"),
    Point("vapour-pressure", "vapour_line", "line_pressure", "charge"),
    Point("vapour-line", "vapour_line", "temperature", "charge"),
    Point("liquid-pressure", "liquid_line", "line_pressure", "charge"),
    Point("liquid-line", "liquid_line", "temperature", "charge"),
    Point("co-flue", "flue", "co", "combustion"),
    Point("co-room", "room", "co", "combustion"),
    Point("draft", "draft", "pressure", "combustion"),
    Point("depression", "depression", "pressure", "combustion"),
    Point("hold-start", "hold_start", "line_pressure", "lines"),
    Point("hold-end", "hold_end", "line_pressure", "lines"),
    Point("vacuum-shut", "vacuum_shut", "vacuum", "lines"),
    Point("vacuum-5", "vacuum_5", "vacuum", "lines"),
    Point("vacuum-10", "vacuum_10", "vacuum", "lines"),
)


@dataclass(frozen=True)
class Instrument:
    """What a quantity is read with."""

    id: str
    name: str
    quantity: str
    uncertainty: float
    """Standard, a share of the value."""
    step: float
    """What it shows in, SI."""
    least: float
    most: float
    """Its range, SI."""


INSTRUMENTS = Table(
    "instrument",
    Instrument("hood", "Flow hood 1", "flow", 0.03, CFM, 0.0, 1.2),
    Instrument("manometer", "Manometer", "static", 0.02, 0.25, -1500.0, 1500.0),
    Instrument("thermometer", "Thermometer", "temperature", 0.01, 0.1, -40.0, 110.0),
    Instrument("psychrometer", "Psychrometer", "wet_bulb", 0.01, 0.1, -20.0, 60.0),
    Instrument("gauges", "Gauges", "line_pressure", 0.01, 7000.0, 0.0, 4_000_000.0),
    Instrument("analyser", "Combustion analyser", "co", 0.05, 1e-6, 0.0, 0.01),
    Instrument("gauge", "Micromanometer", "pressure", 0.03, 0.1, -250.0, 250.0),
    Instrument("micron", "Micron gauge", "vacuum", 0.05, 0.13, 0.0, 3400.0),
    Instrument("meter", "Power meter", "power", 0.02, 1.0, 0.0, 25000.0),
)
"""Errors as makers state them, from memory."""
READS = {x.quantity: x for x in INSTRUMENTS.values()}
"""The instrument that reads each quantity."""
