"""Refrigerant lines and drains of a design, one row for each indoor unit: what is run, charged and let out."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from murvan.design.results import Results
from murvan.model.linesets import Source


@dataclass(frozen=True)
class LineRow:
    """The line and the drain of one indoor unit."""

    unit: str
    tag: str
    of: str
    """Outdoor unit by its tag, and what it is."""
    length_m: float
    length_from: Source
    lift_m: float
    longest_m: float
    highest_m: float
    liquid_m: float
    suction_m: float
    factory_m: float
    """Length that the charge it comes with is for; with a shared outdoor unit of all its lines together."""
    charge_kg_m: float
    charge_kg: float | None
    """To add; None: counted once, at the shared outdoor unit."""
    drain: str
    """'gravity' or 'pump'."""

    @property
    def within(self) -> bool:
        """Whether it is no longer and lifts no higher than the maker allows."""
        return self.length_m <= self.longest_m and self.lift_m <= self.highest_m


def line_rows(r: Results) -> Iterator[LineRow]:
    """All units that are picked and have a refrigerant line."""
    letters = {o.id: chr(ord("A") + k % 26) for k, o in enumerate(r.job.design.outdoor_units)}
    for s in r.systems.values():
        unit, own = s.unit, s.design.indoor
        if unit is None or own.outdoor is None:
            continue
        shared = r.outdoors.get(own.outdoor)
        machine = shared.unit if shared is not None else unit
        line = s.design.line
        yield LineRow(
            own.id,
            own.tag,
            f"{letters[own.outdoor]}, {machine.maker} {machine.name}",
            line.length_m,
            line.length_from,
            line.lift_m,
            machine.line_max_m,
            machine.line_max_lift_m,
            unit.line_liquid_m,
            unit.line_suction_m,
            machine.line_factory_m,
            machine.line_charge_kg_m,
            None if shared is not None else machine.extra_charge_kg(line.length_m),
            own.drain,
        )
