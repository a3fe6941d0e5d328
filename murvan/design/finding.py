"""A rule of the punch list, and what it finds."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from inspect import cleandoc
from typing import Any, Literal, TypeVar, get_args

from murvan.design.arithmetic import Quantity
from murvan.model.design import Profile
from murvan.model.job import Job
from murvan.model.record import Ref
from murvan.units import Units

Severity = Literal["fails", "look"]


@dataclass(frozen=True)
class Rule:
    """One judgement. `check` is given the results and the values of `limits`, and yields what it finds."""

    id: str
    station: int
    severity: Severity
    name: str
    basis: str
    why: str
    remedy: str
    check: Callable[..., Iterator[Hit]]
    limits: tuple[Quantity, ...] = ()
    """What it judges by, where that does not come from a maker or follows from the house; {0}, {1} in its words."""
    profiles: tuple[Profile, ...] = get_args(Profile)
    """The practice profiles that it belongs to."""

    def basis_text(self, units: Units) -> str:
        """The basis with its figures in the user's units."""
        return self.basis.format(*(q.text(units) for q in self.limits))

    def remedy_text(self, units: Units) -> str:
        """What to do about it, the same way."""
        return self.remedy.format(*(q.text(units) for q in self.limits))

    def judge(self, results: Any) -> Iterator[Hit]:
        """What it finds."""
        return self.check(results, *(q.value for q in self.limits))


@dataclass(frozen=True)
class Hit:
    """Where a rule found something; `text` holds {0}, {1} for the operands."""

    at: Ref
    place: str
    text: str
    operands: tuple[Quantity, ...] = ()
    measured: Quantity | None = None
    limit: Quantity | None = None
    fix: Callable[[Job], Job] | None = None
    fix_label: str = ""
    """May hold {0} for `fix_figures`."""
    fix_figures: tuple[Quantity, ...] = ()
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
        """'fails' or 'look': its own, else the rule's."""
        return self.hit.severity or self.rule.severity

    @property
    def why(self) -> str:
        """Its own reason, else the rule's."""
        return self.hit.why or self.rule.why

    def fix_text(self, units: Units) -> str:
        """'Add a 50 cfm fan'; '' without a remedy that Murvan can do."""
        return self.hit.fix_label.format(*(q.text(units) for q in self.hit.fix_figures))

    def text(self, units: Units) -> str:
        """'Bedroom 2 north reads 40 cfm of 64'."""
        return f"{self.hit.place} {self.hit.text.format(*(o.text(units) for o in self.hit.operands))}".strip()


DECLARED: list[Rule] = []
"""Every rule in the order in which its module declares it."""
PARTS = re.compile(r"(.*?)\.\n\nBasis: (.*?)\nWhy: (.*?)\nRemedy: (.*?)(?:\n\n.*)?", re.DOTALL)
Check = TypeVar("Check", bound=Callable[..., Iterator[Hit]])


def rule(
    id: str, station: int, severity: Severity, *limits: Quantity, profiles: tuple[Profile, ...] = get_args(Profile)
) -> Callable[[Check], Check]:
    """Declares a check as a rule of the punch list; its docstring holds name, basis, why and remedy, as they are read there."""

    def declare(check: Check) -> Check:
        said = PARTS.fullmatch(cleandoc(check.__doc__ or ""))
        if said is None:
            raise ValueError(f"the rule {id} does not say its name, basis, why and remedy")
        name, basis, why, remedy = (" ".join(words.split()) for words in said.groups())
        DECLARED.append(Rule(id, station, severity, name, basis, why, remedy, check, limits, profiles))
        return check

    return declare
