"""What things cost a contractor: kept on the machine, carried by the job. What is not typed is Murvan's default."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from murvan.kinds.prices import PRICES, PriceKind
from murvan.model.record import Name, Record

Money = Annotated[float, Field(ge=0, le=10000000)]


class PriceItem(Record):
    """A price that was typed."""

    id: Annotated[str, PRICES]
    money: Money
    """Material for one."""
    hours: float = Field(ge=0, le=1000)
    """Of one installer for one."""


class PriceBook(Record):
    """Prices by what they are for."""

    name: Name = "Murvan default, editable"
    rise: float = Field(0.02, ge=-0.1, le=0.2)
    """Of energy, a year."""
    items: tuple[PriceItem, ...] = Field((), max_length=200)

    @model_validator(mode="after")
    def _once(self) -> PriceBook:
        seen = [x.id for x in self.items]
        twice = next((x for x in seen if seen.count(x) > 1), None)
        if twice is not None:
            raise ValueError(f"the price of '{twice}' stands twice")
        return self

    def of(self, kind: str) -> PriceKind:
        """As typed, else as Murvan has it. Raises KeyError for what has no price."""
        own = next((x for x in self.items if x.id == kind), None)
        usual = PRICES[kind]
        return usual if own is None else PriceKind(kind, usual.name, usual.per, own.money, own.hours)

    @property
    def hour(self) -> float:
        """What an hour of labour costs."""
        return self.of("labour").money
