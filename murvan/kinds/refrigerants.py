"""Refrigerants that a charge can be judged with."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.kinds.table import Table


@dataclass(frozen=True)
class Refrigerant:
    """A refrigerant as its plate calls it."""

    id: str
    fluid: str
    """What CoolProp calls it."""


REFRIGERANTS = Table(
    "refrigerant",
    Refrigerant("R-410A", "R410A"),
    Refrigerant("R-32", "R32"),
    Refrigerant("R-454B", "R454B.mix"),
    Refrigerant("R-22", "R22"),
)
