"""A virtual installed house: the design's air circuit with seeded faults, read by simulated instruments."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from murvan.design.results import Results
from murvan.design.system.network import Network, Part, build, read, situation_k
from murvan.design.system.unit_losses import fan_curve
from murvan.field.readings import HOLE_KEYS
from murvan.model.job import Reading
from murvan.physics.network import solve
from murvan.units import CFM

INSTRUMENTS = {"flow": ("Flow hood 1", 0.03), "static": ("Manometer", 0.02), "temperature": ("Thermometer", 0.01)}
"""Name and standard uncertainty of a simulated reading."""


@dataclass(frozen=True)
class Fault:
    """Something that is not as designed. `factor` multiplies the part's resistance; a tap fault takes one off."""

    kind: Literal["kinked_flex", "damper_shut", "loaded_filter", "low_tap"]
    place: str = ""
    factor: float = 2.0


class VirtualHouse:
    """The house as built. Seeded: the same seed gives the same readings."""

    def __init__(self, results: Results, faults: tuple[Fault, ...] = (), seed: int = 1) -> None:
        self.unit = results.main
        if self.unit.unit is None or self.unit.blower is None:
            raise ValueError("a virtual house needs a unit, a supply and a return")
        self.results = results
        self.faults = faults
        self._random = np.random.default_rng(seed)
        self.truth = self._solve()

    def _solve(self) -> Network:
        r = self.results
        density = r.conditions.density_kg_m3
        parts = [
            Part(s.design, s.unit, {}, {}, s.airflow.total_m3_s)
            for s in r.systems.values()
            if s.unit is not None and s.blower is not None
        ]
        circuit, layout = build(r.job, r.geometry, parts, density)
        own, place = self.unit.design, layout.units[self.unit.design.id]
        k, scale = circuit.k.copy(), circuit.friction_scale.copy()
        fans = circuit.fans
        for f in self.faults:
            if f.kind == "loaded_filter":
                k[place.filter_branch] *= f.factor
            elif f.kind == "low_tap":
                assert self.unit.unit is not None
                slow = fan_curve(self.unit.unit, max(own.indoor.tap - 1, 1), density)
                fans = tuple((b, slow if b == place.blower_branch else c) for b, c in fans)
            else:
                branch = layout.run_branch[f.place]
                k[branch] *= f.factor
                if f.kind == "kinked_flex":
                    scale[branch] *= f.factor
        # no two houses leak and drag alike: a few per cent on every run
        wobble = 1 + 0.04 * self._random.standard_normal(len(k))
        built = replace(circuit, k=k * wobble, friction_scale=scale, fans=fans)
        solution = solve(built, k=situation_k(built, layout), injection=layout.injection)
        return read(r.job, parts, built, layout, solution)

    def true_value(self, place: str) -> float:
        """What a perfect instrument would show there, SI. Raises KeyError for an unknown place."""
        if place in HOLE_KEYS:
            return self.truth.blowers[self.unit.design.id].statics_pa[HOLE_KEYS[place]]
        if place == "temp-return":
            return self.results.job.indoor.heating_c
        if place == "temp-supply":
            unit = self.unit.equipment.chosen
            gain = unit.heating_w if unit else 0.0
            flow = float(self.truth.blowers[self.unit.design.id].flow_m3_s[0])
            return self.results.job.indoor.heating_c + gain / (self.results.conditions.sensible_factor * flow)
        return self.truth.register_m3_s[place]

    def take(self, place: str, reading_id: str, taken: str = "", person: str = "") -> Reading:
        """One simulated reading: the truth, the instrument's noise, its resolution."""
        quantity = "temperature" if place.startswith("temp") else "static" if place in HOLE_KEYS else "flow"
        name, sigma = INSTRUMENTS[quantity]
        noise = 1 + sigma * float(np.clip(self._random.standard_normal(), -2, 2))
        value = self.true_value(place) * noise
        step = {"flow": CFM, "static": 0.25, "temperature": 0.1}[quantity]
        return Reading(
            id=reading_id,
            place=place,
            quantity=quantity,
            value=round(round(value / step) * step, 7),  # type: ignore[arg-type]
            instrument=name,
            simulated=True,
            taken=taken,
            person=person,
            uncertainty=sigma,
        )
