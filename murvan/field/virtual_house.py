"""A virtual installed house: the design's air circuit with seeded faults, read by simulated instruments."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from murvan.design.circuit import USUAL, AirSystem, Network, build, read, situation_k
from murvan.design.results import Results
from murvan.design.units import fan_curve
from murvan.field.places import Place
from murvan.kinds.readings import READS
from murvan.model.job import Reading
from murvan.physics.network import solve


@dataclass(frozen=True)
class Fault:
    """Something that is not as designed. `factor` multiplies the part's resistance; a tap fault takes one off."""

    kind: Literal["kinked_flex", "damper_shut", "loaded_filter", "low_tap"]
    place: str = ""
    """The run; of filter and blower the unit, the first with ducts where none is named."""
    factor: float = 2.0


class VirtualHouse:
    """The house as built. Seeded: the same seed gives the same readings."""

    def __init__(self, results: Results, faults: tuple[Fault, ...] = (), seed: int = 1) -> None:
        self.units = {k: s for k, s in results.systems.items() if s.unit is not None and s.blower is not None}
        if not self.units:
            raise ValueError("a virtual house needs a unit, a supply and a return")
        self.results = results
        self.faults = faults
        self._random = np.random.default_rng(seed)
        self.truth = self._solve(np.random.default_rng((seed, 1)))

    def _solve(self, chance: np.random.Generator) -> Network:
        r = self.results
        density = r.conditions.density_kg_m3
        parts = [AirSystem(s.design, s.unit, {}, {}, s.airflow.total_m3_s) for s in self.units.values() if s.unit]
        circuit, layout = build(r.job, r.geometry, parts, density, USUAL)
        k, scale = circuit.k.copy(), circuit.friction_scale.copy()
        fans = circuit.fans
        for f in self.faults:
            own = self.units.get(f.place) or next(iter(self.units.values()))
            place = layout.units[own.design.id]
            if f.kind == "loaded_filter":
                k[place.filter_branch] *= f.factor
            elif f.kind == "low_tap":
                assert own.unit is not None
                slow = fan_curve(own.unit, max(own.design.indoor.tap - 1, 1), density)
                fans = tuple((b, slow if b == place.blower_branch else c) for b, c in fans)
            else:
                branch = layout.run_branch[f.place]
                k[branch] *= f.factor
                if f.kind == "kinked_flex":
                    scale[branch] *= f.factor
        # no two houses leak and drag alike: a few per cent on every run
        runs = list(layout.run_branch.values())
        wobble = np.ones(len(k))
        wobble[runs] += 0.04 * chance.standard_normal(len(runs))
        built = replace(circuit, k=k * wobble, friction_scale=scale, fans=fans)
        solution = solve(built, k=situation_k(built, layout), injection=layout.injection, head=layout.head)
        return read(r.job, parts, built, layout, solution)

    def true_value(self, place: Place) -> float:
        """What a perfect instrument would show there, SI. Raises KeyError for a place that the house has not."""
        if place.hole is None:
            return self.truth.register_m3_s[place.at.id]
        own, blower = self.units[place.at.id], self.truth.blowers[place.at.id]
        if place.quantity == "static":
            return blower.statics_pa[place.hole]
        indoor = self.results.job.indoor.heating_c
        if place.hole != "supply":
            return indoor
        gain = own.equipment.chosen.heating_w if own.equipment.chosen else 0.0
        return indoor + gain / (self.results.conditions.sensible_factor * float(blower.flow_m3_s[0]))

    def take(self, place: Place, reading_id: str, taken: str = "", person: str = "") -> Reading:
        """One simulated reading: the truth, the instrument's noise, its resolution. Raises KeyError like `true_value`."""
        own = READS[place.quantity]
        noise = 1 + own.uncertainty * float(np.clip(self._random.standard_normal(), -2, 2))
        value = self.true_value(place) * noise
        return Reading(
            id=reading_id,
            at=place.at,
            hole=place.hole,
            quantity=place.quantity,
            value=round(round(value / own.step) * own.step, 7),
            instrument=own.name,
            simulated=True,
            taken=taken,
            person=person,
            layout=self.results.job.design.layout,
            uncertainty=own.uncertainty,
        )
