"""What a list of pieces costs by a book of prices: material and labour, a line a price."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import NamedTuple

from murvan.design.parts.cut_list import Piece
from murvan.kinds.duct_materials import SECTIONS as DUCT_SECTIONS
from murvan.kinds.prices import PRICES, PriceKind
from murvan.model.prices import PriceBook

OF_DUCTS = (*DUCT_SECTIONS, "Fittings", "Registers", "Framing", "Sundries")
"""Sections of the shopping list that a layout pays for."""


class PriceLine(NamedTuple):
    """So many of one thing."""

    price: PriceKind
    quantity: float
    """By what its price is counted in: kg, m, m2 or pieces."""

    @property
    def material(self) -> float:
        """Money."""
        return self.price.money * self.quantity

    @property
    def hours(self) -> float:
        """Of one installer."""
        return self.price.hours * self.quantity


@dataclass(frozen=True)
class Cost:
    """What pieces come to."""

    lines: tuple[PriceLine, ...]
    hour: float
    """What an hour of labour costs."""

    @property
    def material(self) -> float:
        """Money."""
        return sum(x.material for x in self.lines)

    @property
    def hours(self) -> float:
        """Of one installer."""
        return sum(x.hours for x in self.lines)

    @property
    def money(self) -> float:
        """Material and labour."""
        return self.material + self.hour * self.hours


def cost_of(pieces: Iterable[Piece], book: PriceBook) -> Cost:
    """What pieces cost by a book of prices, in the order of the book."""
    sums: dict[str, float] = {}
    for p in pieces:
        for kind, quantity in _paid_for(p):
            sums[kind] = sums.get(kind, 0.0) + quantity
    return Cost(tuple(PriceLine(book.of(k), sums[k]) for k in PRICES if k in sums), book.hour)


def duct_cost(pieces: Iterable[Piece], book: PriceBook) -> Cost:
    """What ducts with all that goes with them cost; without the equipment and its parts."""
    return cost_of((p for p in pieces if p.section in OF_DUCTS), book)


def _paid_for(p: Piece) -> Iterator[tuple[str, float]]:
    """What a piece is paid for as, and how many of it."""
    if p.priced:
        yield p.priced, _quantity(p, PRICES[p.priced])
    if p.material:
        yield p.material, _quantity(p, PRICES[p.material])


def _quantity(p: Piece, price: PriceKind) -> float:
    if price.per == "m2":  # a frame is boarded on two sides
        return sum(p.size) * p.length_m if price.id == "framing" else p.area_m2
    return {"kg": p.weight_kg, "m": p.length_m}.get(price.per, p.quantity)
