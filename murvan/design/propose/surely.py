"""The designs of a job side by side, each with how sure its figures are."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from murvan.arrays import Array
from murvan.design.propose.choosing import YEARS, mean_price
from murvan.design.propose.summing import Summary, summary
from murvan.design.results import Results
from murvan.design.solve import solve
from murvan.design.study.how_sure import PRICE, SEED, Sure, band, sure
from murvan.model.edit import changed
from murvan.model.job import Job

MOST = 4
"""Designs that are shown side by side."""


@dataclass(frozen=True)
class Surely:
    """One design with its figures and their bands; money of the job."""

    id: str
    name: str
    results: Results
    sums: Summary
    sure: Sure
    put_in: tuple[float, float]
    """Nine in ten, of what it costs to put in."""
    bill: tuple[float, float] | None
    """Of a year's energy; None where no weather or price says."""
    rises: float
    """Mean price of energy over the years against today's."""

    @property
    def years(self) -> float | None:
        """To put in, and its energy over the years that an installation is counted for."""
        year = self.sums.cost_year
        return None if year is None else self.sums.cost_in + YEARS * self.rises * year


def side_by_side(job: Job, base: Results) -> tuple[Surely, ...]:
    """The design worked on first, then those set aside that have units."""
    out = []
    for design in (job.design, *job.options)[:MOST]:
        r = base if design is job.design else solve(changed(job, design=design, options=()), base)
        if any(s.equipment.chosen is not None for s in r.systems.values()):
            out.append(_surely(r, design.id, design.name))
    return tuple(out)


def _surely(r: Results, id: str, name: str) -> Surely:
    sums, found = summary(r), sure(r)
    chance = np.random.default_rng(SEED + 1).standard_normal(len(found.heating_w))
    put_in = band(sums.cost_in * np.exp(PRICE * chance))
    return Surely(id, name, r, sums, found, put_in, _bill(r, sums, found), mean_price(r.job.prices.rise, YEARS))


def _bill(r: Results, sums: Summary, found: Sure) -> tuple[float, float] | None:
    """A year's energy goes with the loads: heating's part with that of the design night, cooling's with that of the design day."""
    if sums.cost_year is None:
        return None
    seasons = [s.equipment.chosen.season for s in r.systems.values() if s.equipment.chosen is not None]
    cool = sum(x.year("cool_power_kwh") for x in seasons)
    whole = sum(x.electric_kwh for x in seasons) + sum(x.year("fuel_kwh") for x in seasons)
    part = cool / whole if whole > 0 else 0.0
    heat_by, cool_by = (
        _against(found.heating_w, r.loads.whole_heating_w),
        _against(found.cooling_w, r.loads.house_cooling_w),
    )
    return band(sums.cost_year * ((1 - part) * heat_by + part * cool_by))


def _against(values: Array, figure: float) -> Array:
    return values / figure if figure > 0 else np.ones_like(values)
