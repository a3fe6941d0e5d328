"""Figures that explain themselves. The card, the report and the tests read the same lines."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.units import Units
from murvan.units import number as _number
from murvan.units import text as _text


@dataclass(frozen=True)
class Quantity:
    """A number in SI with the kind that says how it is shown."""

    kind: str
    value: float
    decimals: int | None = None

    def text(self, units: Units) -> str:
        """The figure with its unit, '52 cfm'."""
        return _text(self.kind, self.value, units, self.decimals)

    def number(self, units: Units) -> str:
        """The figure alone, '52'."""
        return _number(self.kind, self.value, units, self.decimals)


@dataclass(frozen=True)
class Line:
    """One step: `expression` holds {0}, {1}, ... for the operands; `result` is what they give."""

    label: str
    expression: str
    operands: tuple[Quantity, ...]
    result: Quantity | None
    bold: bool = False
    adds: bool = True
    """Whether the result is one of the parts that sum up to the bold line; else it only tells how a part came about."""

    def worked(self, units: Units) -> str:
        """The expression with its numbers in the user's units."""
        return self.expression.format(
            *(o.text(units) if o.kind == "percent" else o.number(units) for o in self.operands)
        )

    def worked_with_units(self, units: Units) -> str:
        """The same with the unit behind every number."""
        return self.expression.format(*(o.text(units) for o in self.operands))


@dataclass(frozen=True)
class Arithmetic:
    """How a figure came about, and from where."""

    title: str
    lines: tuple[Line, ...]
    sources: tuple[str | Line, ...] = ()
    """Texts; a `Line` where the text holds numbers."""

    def source_texts(self, units: Units) -> list[str]:
        """Sources with their numbers in the user's units."""
        return [
            s if isinstance(s, str) else s.expression.format(*(o.text(units) for o in s.operands))
            for s in self.sources
        ]

    @property
    def result(self) -> Quantity | None:
        """The last line's result."""
        return self.lines[-1].result if self.lines else None
