"""What if: the house with other glass, insulation, air tightness; and which measure helps most.

Every figure comes from solving the changed house anew, not from a rule.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from murvan.arrays import Array
from murvan.catalog import known_units, readable_own_units
from murvan.design.house.surfaces import assembly
from murvan.design.results import Need, Results
from murvan.design.solve import need
from murvan.design.space.duct_spaces import lay
from murvan.design.units.capacity import cooling_capacity, heating_capacity, load_line
from murvan.design.units.capacity import no_load_temperature as no_load
from murvan.design.units.equipment import Candidate, evaluate
from murvan.design.units.unit_design import UnitDesign, unit_designs
from murvan.model.edit import changed, replace_part, with_design
from murvan.model.equipment import Unit
from murvan.model.errors import JobValueError
from murvan.model.job import Alternative, Construction, Glazing, Job, Layer
from murvan.units import R_IP

# ---- the house changed ----------------------------------------------------------------------------------------


def apply(job: Job, alternative: Alternative) -> Job:
    """The job with an alternative carried out. Raises JobValueError."""
    after = job
    for step in (_constructions, _glass, _openings, _ducts):
        after = step(after, alternative)
    changes: dict[str, Any] = {}
    if alternative.ach50 is not None:
        changes["leakage"] = changed(after.leakage, "Leakage", ach50=alternative.ach50, measured=False)
    if alternative.recovery is not None:
        found = tuple(
            changed(v, "Ventilation", sensible_recovery=alternative.recovery) for v in after.design.ventilators
        )
        after = with_design(after, ventilators=found)
    wanted = {k: getattr(alternative, k) for k in ("cooling_c", "heating_c") if getattr(alternative, k) is not None}
    if wanted:
        changes["indoor"] = changed(after.indoor, "Indoor", **wanted)
    return changed(after, after.name, **changes) if changes else after


def _roles(job: Job, *roles: str) -> set[str]:
    return {x for r in roles if (x := getattr(job, f"{r}_construction")) is not None}


def _constructions(job: Job, a: Alternative) -> Job:
    over = _roles(job, "ceiling", "roof") | {r.ceiling_construction for r in job.rooms if r.ceiling_construction}
    walls = _roles(job, "wall", "knee") | {w.construction for w in job.wall_overrides if w.construction}
    floors = {c.id for c in _floors(job)}
    out = []
    for c in job.constructions:
        if a.attic_r_m2k_w is not None and c.id in over and c.kind in ("ceiling", "roof"):
            out.append(_up_to(c, a.attic_r_m2k_w))
        elif a.wall_add_r_m2k_w is not None and c.id in walls and c.kind == "wall":
            out.append(_more(c, a.wall_add_r_m2k_w))
        elif a.floor_add_r_m2k_w is not None and c.id in floors:
            out.append(_more(c, a.floor_add_r_m2k_w))
        else:
            out.append(c)
    same = all(x is y for x, y in zip(out, job.constructions, strict=True))
    return job if same else changed(job, job.name, constructions=tuple(out))


def _up_to(c: Construction, r_m2k_w: float) -> Construction:
    added, out = 0.0, c
    for _ in range(8):  # bay and stud lie side by side, so the layer counts for a little more than itself
        missing = r_m2k_w - 1 / assembly(out).u_w_m2k
        if abs(missing) < 1e-9 or added + missing < 0.01:
            break
        added += missing
        out = _more(c, added)
    return out


def _more(c: Construction, r_m2k_w: float) -> Construction:
    layer = Layer(name="Added insulation", thickness_m=max(round(r_m2k_w * 0.04, 4), 0.005), r_m2k_w=r_m2k_w)
    return changed(c, c.name, layers=(layer, *c.layers))


def _glass(job: Job, a: Alternative) -> Job:
    if a.glass_u_w_m2k is None and a.glass_shgc is None:
        return job

    def new(glazing: Glazing) -> Glazing:
        return changed(
            glazing,
            glazing.name,
            u_w_m2k=glazing.u_w_m2k if a.glass_u_w_m2k is None else a.glass_u_w_m2k,
            shgc=glazing.shgc if a.glass_shgc is None else a.glass_shgc,
        )

    used = {o.glazing for o in job.openings if o.kind in ("window", "skylight")}
    return changed(job, job.name, glazings=tuple(new(g) if g.id in used else g for g in job.glazings))


def _openings(job: Job, a: Alternative) -> Job:
    if a.blinds is None and a.overhang_m is None:
        return job
    out = []
    for o in job.openings:
        fields: dict[str, Any] = {}
        if o.kind == "window" and a.blinds is not None:
            fields["blinds"] = a.blinds
        if o.kind == "window" and a.overhang_m is not None and o.overhang_m < a.overhang_m:
            fields["overhang_m"] = a.overhang_m
        out.append(changed(o, o.tag, **fields) if fields else o)
    return changed(job, job.name, openings=tuple(out))


def _outside(job: Job) -> set[str]:
    """Runs that lie outside the shell."""
    return {r.id for r in lay(job) if r.lies_in != "inside"}


def _ducts(job: Job, a: Alternative) -> Job:
    after = job
    if a.duct_r_m2k_w is not None:
        outside = _outside(job)
        runs = tuple(
            changed(r, f"Run {r.tag}", insulation_r_m2k_w=a.duct_r_m2k_w)
            if r.id in outside and r.insulation_r_m2k_w < a.duct_r_m2k_w
            else r
            for r in job.design.runs
        )
        after = with_design(after, runs=runs)
    if a.duct_leakage is not None:
        after = replace_part(after, "air", duct_leakage=a.duct_leakage)
    return after


# ---- what comes of it -----------------------------------------------------------------------------------------


@dataclass(frozen=True, eq=False)
class Outcome:
    """A house and what it needs."""

    alternative: Alternative | None
    """None: the house as it is."""
    heating_w: float
    cooling_w: float
    rooms_cooling_w: Array
    rooms_heating_w: Array
    unit: Unit | None
    """The smallest unit of the catalogue that fits, of the chosen one's kind."""
    chosen: Candidate | None
    """The job's own unit against this house."""
    run_hours: float
    """Hours a year the job's own unit, or the fitting one, runs at full output; nan without hours by temperature."""
    trouble: str = ""

    @property
    def kwh(self) -> float:
        """Electricity of the job's own unit, kWh a year."""
        x = self.chosen
        return (
            sum(x.season.year(k) for k in ("power_kwh", "backup_kwh", "cool_power_kwh"))
            if x is not None
            else float("nan")
        )


@dataclass(frozen=True, eq=False)
class Effect:
    """What one measure alone does to the house."""

    measure: Measure
    outcome: Outcome
    cooling_w: float
    """Less than as it is."""
    heating_w: float


@dataclass(frozen=True, eq=False)
class Study:
    """The house as it is, its alternatives side by side, and single measures by their effect."""

    job: Job
    now: Outcome
    alternatives: tuple[Outcome, ...]
    ranking: tuple[Effect, ...]


def outcome(found: Need, alternative: Alternative | None = None) -> Outcome:
    """Loads, the unit that fits and its hours; the first unit of the design stands for the house."""
    u = unit_designs(found.job, found.laid)[0]
    x, c = found.loads, found.conditions
    catalogue = known_units(found.job.units, readable_own_units())
    own = catalogue.get(u.indoor.unit or "")
    kinds = {own.kind} if own is not None else {"heat_pump"}
    chosen = evaluate(own, u, c, x) if own is not None else None
    unit = _smallest(found, u, [k for k in catalogue.values() if k.kind in kinds])
    runs = _run_hours(found, own or unit, u.system.lockout_c)
    return Outcome(alternative, x.house_heating_w, x.house_cooling_w, x.cooling_w, x.heating_w, unit, chosen, runs)


def _smallest(found: Need, u: UnitDesign, offered: list[Unit]) -> Unit | None:
    """The smallest unit whose cooling fits; backup heat can be added to any."""
    load = found.loads.house_cooling_w
    likely = [x for x in offered if 0.75 * load < x.nominal_w < 1.7 * load]
    for x in sorted(likely, key=lambda x: x.nominal_w):
        if evaluate(x, u, found.conditions, found.loads).verdict in ("fits", "heat"):
            return x
    return None


def _run_hours(found: Need, unit: Unit | None, lockout_c: float | None) -> float:
    job = found.job
    hours = np.asarray(job.climate.bin_hours, float)
    if unit is None or not len(hours):
        return float("nan")
    climate, c = job.climate, found.conditions
    t: Array = np.asarray(climate.bin_start_c + climate.bin_step_k * (np.arange(len(hours)) + 0.5), float)
    heat, cool = load_line(c, found.loads, no_load(c, found.loads), t)
    can_heat = heating_capacity(unit, t, c.density_kg_m3, c.burner_share, lockout_c)[0]
    rows = [
        cooling_capacity(unit, x, c.indoor_cooling, unit.rated_flow_m3_s, c.density_kg_m3)[0]
        for x in unit.cooling.outdoor_c
    ]
    can_cool = np.interp(t, unit.cooling.outdoor_c, rows)
    share = _part(heat, can_heat) + _part(cool, can_cool)
    return float((hours * np.minimum(share, 1)).sum())


def _part(need: Array, able: Array) -> Array:
    return np.minimum(np.divide(need, able, out=np.ones_like(need) * (need > 0), where=able > 0), 1)


# ---- which measure first --------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Measure:
    """One thing that is done to houses."""

    key: str
    ip: str
    si: str
    fields: dict[str, float]

    def words(self, units: str) -> str:
        """What it does, in the user's units."""
        return self.ip if units == "ip" else self.si


MEASURES: tuple[Measure, ...] = (
    Measure("attic", "Ceilings to R-49", "Ceilings to 8.6 m²K/W", {"attic_r_m2k_w": 49 * R_IP}),
    Measure("walls", "R-6 over the walls", "1.1 m²K/W over the walls", {"wall_add_r_m2k_w": 6 * R_IP}),
    Measure("floors", "R-19 under floors", "3.3 m²K/W under floors", {"floor_add_r_m2k_w": 19 * R_IP}),
    Measure(
        "glass",
        "Glass U .25, sun .25",
        "Glass U 1.4, sun .25",
        {"glass_u_w_m2k": 0.25 * 5.678263337, "glass_shgc": 0.25},
    ),
    Measure("blinds", "Blinds that let in half", "Blinds that let in half", {"blinds": 0.5}),
    Measure("overhang", "2 ft overhangs", "60 cm overhangs", {"overhang_m": 0.6096}),
    Measure("air", "Air sealing to 3 per hour", "Air sealing to 3 per hour", {"ach50": 3.0}),
    Measure("duct-wrap", "Ducts to R-12", "Ducts to 2.1 m²K/W", {"duct_r_m2k_w": 12 * R_IP}),
    Measure("duct-seal", "Ducts sealed to 2 %", "Ducts sealed to 2 %", {"duct_leakage": 0.02}),
)


def measure(key: str, units: str = "ip") -> Alternative:
    """One of MEASURES as an alternative."""
    for m in MEASURES:
        if m.key == key:
            return Alternative(id=f"measure-{key}", name=m.words(units), **m.fields)  # type: ignore[arg-type]
    raise JobValueError(f"There is no measure '{key}'.")


WELL_INSULATED = 15 * R_IP
"""A floor of this or more is not offered as much again; common practice."""


def _floors(job: Job) -> list[Construction]:
    """The assemblies of raised floors that are in use."""
    used = _roles(job, "raised", "floor") | {r.floor_construction for r in job.rooms if r.floor_construction}
    return [c for c in job.constructions if c.id in used and c.kind == "floor"]


def worth_trying(job: Job, key: str) -> bool:
    """Whether a measure makes this house better at all."""
    if key == "air":
        return job.leakage.ach50 > 3.0
    if key == "glass":
        used = {o.glazing for o in job.openings if o.kind in ("window", "skylight")}
        return any(g.u_w_m2k > 1.45 or g.shgc > 0.26 for g in job.glazings if g.id in used)
    if key == "blinds":
        return any(o.kind == "window" and o.blinds > 0.5 for o in job.openings)
    if key == "floors":
        return any(1 / assembly(c).u_w_m2k < WELL_INSULATED for c in _floors(job))
    if key == "duct-wrap":
        return any(r.id in _outside(job) and r.insulation_r_m2k_w < 11.5 * R_IP for r in job.design.runs)
    if key == "duct-seal":
        return bool(job.design.runs) and job.design.air.duct_leakage > 0.02
    return True


def study(results: Results, cancelled: Callable[[], bool] = lambda: False) -> Study | None:
    """All alternatives and measures of a solved job, about 15 ms each; None when cancelled."""
    job, now = results.job, outcome(results)
    found = []
    for a in job.alternatives:
        if cancelled():
            return None
        found.append(_tried(results, a))
    effects = []
    for m in MEASURES:
        if cancelled():
            return None
        if not job.rooms or not worth_trying(job, m.key):
            continue
        x = _tried(results, measure(m.key))
        effect = Effect(m, x, now.cooling_w - x.cooling_w, now.heating_w - x.heating_w)
        if max(effect.cooling_w, effect.heating_w) > 5:
            effects.append(effect)
    effects.sort(
        key=lambda e: -(max(e.cooling_w, 0) / max(now.cooling_w, 1) + max(e.heating_w, 0) / max(now.heating_w, 1))
    )
    return Study(job, now, tuple(found), tuple(effects))


def _tried(results: Results, a: Alternative) -> Outcome:
    try:
        return outcome(need(apply(results.job, a), results), a)
    except JobValueError as exc:
        none = np.zeros(len(results.job.rooms))
        return Outcome(a, 0.0, 0.0, none, none, None, None, float("nan"), str(exc))
