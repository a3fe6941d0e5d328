"""A piece before it has its number, and what sheet weighs."""

from __future__ import annotations

from typing import Literal, NamedTuple

from murvan.model.job import Ref
from murvan.model.shop import Shop

Stage = Literal["Rough-in", "Trunk", "Branches", "Boots", "Unit", "Trim", "Sundries"]
STAGES: tuple[Stage, ...] = ("Rough-in", "Trunk", "Branches", "Boots", "Unit", "Trim", "Sundries")
"""In the order in which they go up."""
STEEL_KG_M2 = {26: 4.42, 24: 5.64}
"""Galvanised sheet, 26 and 24 gauge; handbook sheet weights, from memory."""


def gauge_for(largest_m: float, light_to_m: float = Shop().light_to_m) -> int:
    """Sheet gauge for low-pressure house ducts: 26 up to a side, 14 in as Murvan has it, 24 beyond."""
    return 26 if largest_m <= light_to_m + NEAR_M else 24


NEAR_M = 5e-4


class Draft(NamedTuple):
    """A piece before it has its number; see `Piece`."""

    at: Ref | None
    part: str
    what: str
    size: tuple[float, ...]
    section: str
    where: str
    storey: str
    stage: Stage
    length_m: float = 0.0
    quantity: float = 1.0
    run: str | None = None
    gauge: int | None = None
    area_m2: float = 0.0
    weight_kg: float = 0.0
