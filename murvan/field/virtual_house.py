"""A virtual installed house: the design's air circuit with seeded faults, read by simulated instruments."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from murvan.design.solve import Results
from murvan.design.system.network import Network, build, read, scenario_k
from murvan.design.system.unit_losses import fan_curve
from murvan.field.readings import HOLE_KEYS
from murvan.model.job import Reading
from murvan.physics.network import solve

CFM = 0.3048**3 / 60
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
        if results.unit is None or results.network is None:
            raise ValueError("a virtual house needs a unit, a supply and a return")
        self.results = results
        self.faults = faults
        self._random = np.random.default_rng(seed)
        self.truth = self._solve()

    def _solve(self) -> Network:
        r = self.results
        job, unit = r.job, r.unit
        assert unit is not None
        circuit, layout = build(job, r.geometry, unit, r.conditions.density_kg_m3)
        k, scale = circuit.k.copy(), circuit.friction_scale.copy()
        fans = circuit.fans
        for f in self.faults:
            if f.kind == "loaded_filter":
                k[layout.filter_branch] *= f.factor
            elif f.kind == "low_tap":
                fans = (
                    (layout.blower_branch, fan_curve(unit, max(job.system.tap - 1, 1), r.conditions.density_kg_m3)),
                )
            else:
                branch = layout.run_branch[f.place]
                k[branch] *= f.factor
                if f.kind == "kinked_flex":
                    scale[branch] *= f.factor
        # no two houses leak and drag alike: a few per cent on every run
        wobble = 1 + 0.04 * self._random.standard_normal(len(k))
        built = replace(circuit, k=k * wobble, friction_scale=scale, fans=fans)
        solution = solve(built, k=scenario_k(built, layout), injection=layout.scenario_injection)
        return read(job, unit, built, layout, solution)

    def true_value(self, place: str) -> float:
        """What a perfect instrument would show there, SI. Raises KeyError for an unknown place."""
        if place in HOLE_KEYS:
            return self.truth.statics_pa[HOLE_KEYS[place]]
        if place == "temp-return":
            return self.results.job.indoor.heating_c
        if place == "temp-supply":
            unit = self.results.equipment.chosen
            gain = unit.heating_w if unit else 0.0
            flow = float(self.truth.blower_m3_s[0])
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
