"""What of a system costs money: material and the hours it takes to put it in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from murvan.kinds.table import Table
from murvan.units import FOOT, POUND, Units

Per = Literal["kg", "m", "m2", "each", "kW", "hour"]


INCH_POUND: dict[str, tuple[str, float]] = {"kg": ("lb", POUND), "m": ("ft", FOOT), "m2": ("ft2", FOOT**2)}
"""What is counted in inch-pound units instead, and how much of the SI unit one of it is."""


def counted_in(per: Per, units: Units) -> tuple[str, float]:
    """What a price is for one of in a system of units, and how much of its SI unit that is."""
    return INCH_POUND.get(per, (per, 1.0)) if units == "ip" else (per, 1.0)


@dataclass(frozen=True)
class PriceKind:
    """One thing that is paid for, by what it is counted in."""

    id: str
    name: str
    per: Per
    money: float
    """Material for one; in the money of the job. Invented, for what nobody typed."""
    hours: float
    """Of one installer for one."""


PRICES = Table(
    "price",
    PriceKind("labour", "Labour", "hour", 95.0, 0.0),
    PriceKind("galvanised", "Galvanised duct", "kg", 4.2, 0.055),
    PriceKind("lined", "Lined duct", "kg", 6.0, 0.065),
    PriceKind("aluminium", "Aluminium duct", "kg", 11.0, 0.17),
    PriceKind("spiral", "Spiral pipe", "kg", 4.8, 0.05),
    PriceKind("snap_lock", "Snap-lock pipe", "kg", 4.0, 0.07),
    PriceKind("flex", "Flex", "m", 8.5, 0.13),
    PriceKind("board", "Duct board", "m2", 24.0, 0.4),
    PriceKind("plastic", "Plastic pipe", "kg", 5.5, 0.06),
    PriceKind("fitting", "Fitting", "each", 9.0, 0.35),
    PriceKind("damper", "Hand damper", "each", 11.0, 0.15),
    PriceKind("register", "Register, grille", "each", 24.0, 0.4),
    PriceKind("wrap", "Duct wrap", "m2", 6.5, 0.12),
    PriceKind("hanger", "Hanger", "each", 2.5, 0.07),
    PriceKind("sealer", "Sealant", "each", 22.0, 0.6),
    PriceKind("screws", "Box of screws", "each", 9.0, 0.0),
    PriceKind("framing", "Framed soffit", "m2", 38.0, 0.9),
    PriceKind("part", "Small part", "each", 38.0, 0.4),
    PriceKind("indoor", "Indoor unit set", "each", 120.0, 7.0),
    PriceKind("head", "Head hung", "each", 60.0, 4.5),
    PriceKind("outdoor", "Outdoor unit set", "each", 140.0, 4.0),
    PriceKind("line_set", "Line set", "m", 19.0, 0.2),
    PriceKind("circuit", "Circuit", "each", 210.0, 3.0),
    PriceKind("heater", "Electric heat", "kW", 32.0, 0.15),
    PriceKind("zone_damper", "Zone damper", "each", 145.0, 0.8),
    PriceKind("zone_panel", "Zone panel", "each", 195.0, 1.8),
    PriceKind("thermostat", "Thermostat", "each", 95.0, 0.8),
    PriceKind("removal", "Old unit out", "each", 45.0, 4.0),
)
