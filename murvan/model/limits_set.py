"""How large a unit may be for its load: a set of limits by kind that a job goes by, with its basis."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from murvan.model.equipment import IN_ROOM, Unit
from murvan.model.record import Id, Name, Record

Share = Annotated[float, Field(ge=0.1, le=5)]


class SizeLimits(Record):
    """Shares of the load at the design conditions."""

    id: Id = "published"
    name: Name = "Published standard"
    basis: Name = "published size-limit standard for residential equipment"
    least: Share = 0.90
    """Total and sensible cooling, every kind."""
    single: Share = 1.15
    """Most total cooling of a unit with one speed."""
    two: Share = 1.20
    variable: Share = 1.30
    latent: Share = 1.00
    """Least moisture taken out."""
    furnace_least: Share = 1.0
    furnace: Share = 1.4
    backup: Share = 1.75
    """Most backup heat with the heat pump's own, over the heating load."""
    next_size: bool = True
    """A larger one is allowed where its maker makes none between."""
    cold_dry_w: float = Field(4396.07, ge=0, le=20000)
    """Cooling a heat pump may have beyond its limit where winters are cold and summers dry."""

    @model_validator(mode="after")
    def _in_order(self) -> SizeLimits:
        for name in ("single", "two", "variable"):
            if getattr(self, name) < self.least:
                raise ValueError(f"the most for {name} speed lies below the least of {self.least * 100:.0f} %")
        if self.furnace < self.furnace_least:
            raise ValueError(f"the most for a furnace lies below its least of {self.furnace_least * 100:.0f} %")
        return self

    def of(self, unit: Unit) -> tuple[float, float]:
        """Total cooling over load that a unit may have. A head may be as large as its lowest speed still is no more than
        the load; Murvan default."""
        high: float = getattr(self, unit.stages)
        return self.least, max(high, 1 / unit.cooling.min_fraction) if unit.kind in IN_ROOM else high


PUBLISHED = SizeLimits()
TIGHT = SizeLimits(
    id="tight",
    name="Tight",
    basis="Murvan default, editable",
    least=0.95,
    single=1.10,
    two=1.15,
    variable=1.20,
    furnace=1.25,
    backup=1.25,
    next_size=False,
    cold_dry_w=0.0,
)
SHIPPED = (PUBLISHED, TIGHT)
