"""How sure the loads are: the house drawn many times within what is known of it, and what that leaves of a design.

What nobody measured may be other than it stands in the job: leakage, insulation, glass, ducts, how people live, and what a unit gives
against its table. Each is drawn lognormally about the figure in the job, by a spread that goes by whether it was measured, typed after a
look, or assumed by age. The same draws stand for every design of a job, so that designs differ by what they are alone.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from murvan.arrays import Array
from murvan.design.loads import COLUMN, COMPONENTS
from murvan.design.results import Results

DRAWS, SEED = 500, 20
BAND = (5.0, 95.0)
"""Nine in ten lie between, percent."""
HELD_HEAT, HELD_COOL = 0.98, 0.9
"""Of what a house asks for, what a unit has to give so that it holds: a little short is hardly felt on the design night, in summer
as much less as sizing lets be; common practice."""
TABLE, PRICE = 0.05, 0.12
"""Spread of a unit against its maker's table, and of what an installation costs; Murvan default."""


@dataclass(frozen=True)
class Doubt:
    """Something that is not known for sure, with its spread as a share of the figure; Murvan default."""

    id: str
    name: str
    parts: tuple[str, ...]
    """Components of the loads that go by it."""
    spread: float
    measured: float
    """Spread after it is measured."""
    how: str
    """What measures it; '': nothing does."""
    minutes: float
    said: str
    """'measured', 'as looked at' or 'assumed by age'."""


def doubts(r: Results) -> tuple[Doubt, ...]:
    """What is not known of a house."""
    job = r.job
    assumed = {c.id for c in job.constructions if c.assumed}

    def of(*roles: str, more: tuple[str | None, ...] = ()) -> bool:
        used = {getattr(job, f"{x}_construction") for x in roles} | set(more)
        return bool(used & assumed)

    walls = of("wall", "knee", more=tuple(w.construction for w in job.wall_overrides))
    over = of("ceiling", "roof", more=tuple(x.ceiling_construction for x in job.rooms))
    under = of("floor", "raised", "basement", more=tuple(x.floor_construction for x in job.rooms))
    blown = job.leakage.measured
    tested = any(x.quantity == "leakage" and not x.simulated for x in job.design.readings)
    glass = tuple(c for c in COMPONENTS if c.startswith("glass"))
    every = (
        Doubt(
            "leakage", "Leakage", ("leakage",), 0.05 if blown else 0.3, 0.05, "Blower door", 40, _said(blown, True)
        ),
        _built("walls", "Walls", ("walls", "garage", "doors"), walls, "Open a wall at a socket", 15),
        _built("ceilings", "Ceilings", ("ceiling",), over, "Look into the attic, three places", 10),
        _built("floors", "Floors", ("floor",), under, "Look under the floor", 10),
        Doubt("glass", "Glass", glass, 0.1, 0.04, "Read a window's label", 10, "as looked at"),
        Doubt("ducts", "Ducts", ("ducts",), 0.1 if tested else 0.35, 0.1, "Duct test", 45, _said(tested, False)),
        Doubt("living", "How people live", ("people", "appliances"), 0.3, 0.3, "", 0, "as usual"),
    )
    worth = (x for x in every if _moves(r, x) > 0)
    return tuple(worth)


def _said(measured: bool, assumed: bool) -> str:
    return "measured" if measured else "assumed by age" if assumed else "as looked at"


def _built(id: str, name: str, parts: tuple[str, ...], assumed: bool, how: str, minutes: float) -> Doubt:
    return Doubt(id, name, parts, 0.22 if assumed else 0.08, 0.08, how, minutes, _said(False, assumed))


def _moves(r: Results, x: Doubt) -> float:
    columns = [COLUMN[c] for c in x.parts]
    heat = np.abs(r.loads.heating_parts[:, columns]).sum()
    return float(heat + np.abs(r.loads.house.parts_w[columns]).sum())


@dataclass(frozen=True)
class Measure:
    """What one measurement leaves of the band of the heating load."""

    doubt: Doubt
    leaves_w: float
    """Width of the band then."""


@dataclass(frozen=True)
class Sure:
    """A design in many houses that are each as this one may be. Powers in W, arrays (draws,)."""

    doubts: tuple[Doubt, ...]
    heating_w: Array
    """Of the house."""
    cooling_w: Array
    """Total, at its own hour."""
    unit_holds: dict[str, Array]
    """By indoor unit, whether it holds its rooms in both seasons."""
    heat_given_w: Array
    """Of all units, kits and heaters."""
    measures: tuple[Measure, ...]
    """By what they take of the band a minute."""

    @cached_property
    def holds(self) -> int:
        """In how many houses every unit does."""
        if not self.unit_holds:
            return 0
        return int(np.logical_and.reduce(list(self.unit_holds.values())).sum())

    @property
    def heating_band_w(self) -> tuple[float, float]:
        return band(self.heating_w)


def band(values: Array) -> tuple[float, float]:
    """Between which nine in ten lie."""
    low, high = np.percentile(values, BAND)
    return float(low), float(high)


def sure(r: Results) -> Sure:
    """The design of a solved job in `DRAWS` houses."""
    found = doubts(r)
    z = np.random.default_rng(SEED).standard_normal((len(ALL), DRAWS))
    factors = _factors(found, z, {})
    gives = np.exp(TABLE * z[-1])
    holds, given = {}, np.zeros(DRAWS)
    for s in r.systems.values():
        chosen = s.equipment.chosen
        if chosen is None:
            continue
        x, own = s.loads, s.design.indoor
        need = x.heat_share * (x.heating_parts.sum(axis=0) @ factors)
        have = chosen.heating_w * gives + chosen.heater_w + own.room_heat_w
        total, sensible = _cooling(x.house.parts_w, x.house_latent_w, factors)
        cool = (chosen.total_w * gives >= HELD_COOL * total) & (chosen.sensible_w * gives >= HELD_COOL * sensible)
        holds[s.design.id] = (have >= HELD_HEAT * need) & cool
        given += have
    heating = r.loads.heating_parts.sum(axis=0) @ factors
    cooling, _ = _cooling(r.loads.house.parts_w, r.loads.house_latent_w, factors)
    return Sure(found, heating, cooling, holds, given, tuple(_measures(r, found, z)))


ALL = ("leakage", "walls", "ceilings", "floors", "glass", "ducts", "living", "table")
"""Rows of the draws: the same house in every design, whatever is known of it."""


def _factors(found: tuple[Doubt, ...], z: Array, known: dict[str, float]) -> Array:
    """By component and draw, (component, draws): what a part of a load is times the figure in the job.

    Args:
        known: Other spreads, by doubt.
    """
    out = np.ones((len(COMPONENTS), z.shape[1]))
    for x in found:
        spread = known.get(x.id, x.spread)
        out[[COLUMN[c] for c in x.parts]] = np.exp(spread * z[ALL.index(x.id)])
    return out


def _cooling(parts_w: Array, latent_w: float, factors: Array) -> tuple[Array, Array]:
    """Total and sensible at the house's hour; moisture goes with people."""
    sensible = parts_w @ factors
    return sensible + latent_w * factors[COLUMN["people"]], sensible


def _measures(r: Results, found: tuple[Doubt, ...], z: Array) -> list[Measure]:
    parts = r.loads.heating_parts.sum(axis=0)
    wide = _width(parts @ _factors(found, z, {}))
    out = [
        Measure(x, _width(parts @ _factors(found, z, {x.id: x.measured})))
        for x in found
        if x.how and x.spread > x.measured
    ]
    return sorted(out, key=lambda m: -(wide - m.leaves_w) / m.doubt.minutes)


def _width(values: Array) -> float:
    low, high = band(values)
    return high - low
