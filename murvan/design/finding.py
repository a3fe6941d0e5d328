"""A rule of the punch list, and what it finds."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from murvan.design.arithmetic import Quantity
from murvan.model.job import Job
from murvan.units import Units

if TYPE_CHECKING:
    from murvan.design.solve import Results

Severity = Literal["fails", "look"]


@dataclass(frozen=True)
class Rule:
    """One judgement. `check` yields what it finds."""

    id: str
    station: int
    severity: Severity
    name: str
    basis: str
    why: str
    remedy: str
    check: Callable[[Results], Iterator[Hit]]


@dataclass(frozen=True)
class Hit:
    """Where a rule found something; `text` holds {0}, {1} for the operands."""

    kind: str
    id: str
    place: str
    text: str
    operands: tuple[Quantity, ...] = ()
    measured: Quantity | None = None
    limit: Quantity | None = None
    fix: Callable[[Job], Job] | None = None
    fix_label: str = ""
    severity: Severity | None = None
    why: str = ""
    """The reason of this one, in place of the rule's."""


@dataclass(frozen=True)
class Finding:
    """One line of the punch list."""

    rule: Rule
    hit: Hit

    @property
    def severity(self) -> Severity:
        return self.hit.severity or self.rule.severity

    @property
    def why(self) -> str:
        return self.hit.why or self.rule.why

    def text(self, units: Units) -> str:
        """'Bedroom 2 north reads 40 cfm of 64'."""
        return f"{self.hit.place} {self.hit.text.format(*(o.text(units) for o in self.hit.operands))}".strip()
