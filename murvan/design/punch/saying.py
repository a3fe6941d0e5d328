"""What checks share: figures, the names of units, and edits that mend."""

from __future__ import annotations

from collections.abc import Iterator

from murvan.design.arithmetic import Quantity
from murvan.design.limits import ATTIC_R
from murvan.design.results import Results, SystemResults
from murvan.design.units.equipment import Candidate
from murvan.model.edit import Change

WRAP = Quantity("r_value", ATTIC_R, 0)


def q(kind: str, value: float, decimals: int | None = None) -> Quantity:
    """A figure of a finding, SI."""
    return Quantity(kind, value, decimals)


def changer(collection: str, item: str, **changes: object) -> Change:
    """An edit of one record."""
    return Change(collection, item, tuple(changes.items()))


def named(r: Results, s: SystemResults, words: str) -> str:
    """What is said of a unit, with its tag where there are several."""
    return words if len(r.systems) == 1 else f"{s.design.indoor.tag}: {words}"


def chosen(r: Results) -> Iterator[tuple[SystemResults, Candidate]]:
    """Every unit that has been chosen, at its loads."""
    for s in r.systems.values():
        if s.equipment.chosen is not None:
            yield s, s.equipment.chosen
