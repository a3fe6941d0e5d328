"""Runs at their design flow: size, speed, friction, pressure by path, damper, static budget, sizes one can buy."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import pi

import numpy as np

from murvan.arrays import Array
from murvan.design.ducts.airflow import Airflow
from murvan.design.ducts.parting import junctions_of
from murvan.design.units.unit_design import UnitDesign
from murvan.design.units.unit_losses import fan_curve, unit_losses
from murvan.kinds.fittings import FITTINGS
from murvan.model.design import IndoorUnit
from murvan.model.equipment import Unit
from murvan.model.job import DuctRun, Fitting, Register
from murvan.model.routes import LaidRun, path_length_m
from murvan.physics import ductflow
from murvan.physics.constants import FLOAT_TINY
from murvan.physics.junctions import Junctions, Way
from murvan.units import FPM

VELOCITY_LIMIT = {
    ("supply", "trunk"): (700 * FPM, 900 * FPM),
    ("supply", "branch"): (600 * FPM, 900 * FPM),
    ("supply", "flex"): (600 * FPM, 700 * FPM),
    ("return", "trunk"): (600 * FPM, 700 * FPM),
    ("return", "branch"): (400 * FPM, 700 * FPM),
    ("return", "flex"): (400 * FPM, 700 * FPM),
    ("fresh", "branch"): (700 * FPM, 900 * FPM),
    ("fresh", "flex"): (600 * FPM, 700 * FPM),
    ("fresh", "trunk"): (700 * FPM, 900 * FPM),
}
"""Recommended and highest velocity, m/s; from memory."""
PROFILE_FACTOR = {"quiet": 0.8, "balanced": 1.0, "compact": 1.15}
REGISTER_LOSS, GRILLE_LOSS = 1.0, 0.9
"""Loss coefficients on the velocity in the free area, from memory."""
ZONE_DAMPER_LOSS = 0.2
SPARE = 0.9
"""Share of a blower's pressure that ducts are sized to; common practice."""


@dataclass(frozen=True)
class RunResult:
    """One run at design flow, SI."""

    run: LaidRun
    flow_m3_s: float
    length_m: float
    area_m2: float
    equivalent_m: float
    """Round diameter of the same friction."""
    velocity_m_s: float
    velocity_limit_m_s: float
    velocity_max_m_s: float
    friction_pa_m: float
    velocity_pa: float
    """Its speed pressure, what coefficients count on."""
    fitting_c: float
    """All fittings, the way through its first joint included."""
    parting_c: float
    """The way through its first joint alone: off its trunk, or straight on past branches; by how the air splits."""
    way: Way | None
    """That way; None where it starts at a plenum or where nothing parts."""
    damper_c: float
    fitting_pa: float
    friction_pa: float
    damper_pa: float
    equivalent_length_m: float
    """Fittings as metres of this duct: C D / f."""
    path_pa: float
    """All losses from the plenum to the room (or back), this run's branch included, dampers open."""
    excess_pa: float
    """What the damper has to take to match the longest path; 0 on the longest."""
    balanced_damper: float | None
    """Opening, 0..1; None without a damper."""
    ends_in: str | None

    @property
    def pressure_drop_pa(self) -> float:
        """Friction, fittings and damper, Pa."""
        return self.friction_pa + self.fitting_pa + self.damper_pa

    @property
    def kind(self) -> str:
        """'trunk', 'branch' or 'flex'."""
        return run_kind(self.run)

    def acts_like_m(self, fitting: Fitting) -> float:
        """Length of straight duct that loses what all fittings of one kind do."""
        kind = FITTINGS[fitting.kind]
        if kind.branch_deg is not None:
            return self.parting_acts_like_m
        return self._length_m(fitting.count * kind.loss_at(fitting.ratio))

    @property
    def parting_acts_like_m(self) -> float:
        """Length of straight duct that loses what the way through its first joint does; below 0 where air is drawn along."""
        return self._length_m(self.parting_c)

    def _length_m(self, c: float) -> float:
        return c * self.velocity_pa / self.friction_pa_m if self.friction_pa_m > 0 else 0.0


@dataclass(frozen=True)
class BudgetPart:
    """One piece of the static bar."""

    group: str
    """'return', 'unit' or 'supply'."""
    name: str
    pressure_pa: float


@dataclass(frozen=True)
class Ducts:
    """All runs at design flow and the static budget of the longest path."""

    runs: dict[str, RunResult]
    longest_supply: tuple[str, ...]
    longest_return: tuple[str, ...]
    budget: tuple[BudgetPart, ...]
    total_pa: float
    available_pa: float
    """What the blower makes at design flow on its set tap."""
    limit_pa: float
    friction_rate_pa_m: float
    """Available pressure over the longest effective length: the rate to size by."""


def run_kind(run: DuctRun) -> str:
    """'flex', or a hard 'branch' to a register, or a 'trunk'."""
    if run.made_of.bends:
        return "flex"
    return "branch" if run.register_id else "trunk"


def run_length_m(run: LaidRun) -> float:
    """As measured, else along the path, with its rise."""
    return run.length_m if run.length_m is not None else path_length_m(run.path_m, run.rise_m)


def run_area_m2(run: DuctRun) -> float:
    """True inside area."""
    if run.shape == "round":
        return pi * (run.diameter_m or 0) ** 2 / 4
    w, h = run.width_m or 0, run.height_m or 0
    if run.shape == "rectangular":
        return w * h
    small, large = min(w, h), max(w, h)
    return pi * small**2 / 4 + small * (large - small)


def run_equivalent_m(run: DuctRun) -> float:
    """Round diameter with the same friction at the same flow; for friction only."""
    if run.shape == "round":
        return run.diameter_m or 0.0
    w, h = run.width_m or 0, run.height_m or 0
    if run.shape == "rectangular":
        return float(ductflow.rectangular_equivalent_m(np.asarray(w), np.asarray(h)))
    return float(ductflow.oval_equivalent_m(np.asarray(max(w, h)), np.asarray(min(w, h))))


def run_perimeter_m(run: DuctRun) -> float:
    """Sheet around a run, m."""
    if run.shape == "round":
        return pi * (run.diameter_m or 0)
    w, h = run.width_m or 0, run.height_m or 0
    if run.shape == "rectangular":
        return 2 * (w + h)
    return pi * min(w, h) + 2 * abs(w - h)


def friction_scale(run: DuctRun) -> float:
    """Friction over that of the plain duct: flex that is not fully stretched."""
    if not run.made_of.bends:
        return 1.0
    return float(ductflow.flex_multiplier(np.asarray(run_equivalent_m(run)), np.asarray(run.stretched)))


def fitting_coefficient(run: LaidRun) -> float:
    """Sum of loss coefficients on the run's own velocity pressure, without balancing damper and way off its trunk."""
    total = sum(f.count * FITTINGS[f.kind].loss_at(f.ratio) for f in run.pieces)
    return total + (ZONE_DAMPER_LOSS if run.zone_damper else 0.0)


def register_k(register: Register, density: float) -> float:
    """Pa per (m3/s)2 of a register or grille."""
    area = register.width_m * register.height_m * register.free_area
    c = register.loss or (REGISTER_LOSS if register.side == "supply" else GRILLE_LOSS)
    return c * 0.5 * density / area**2


def order(runs: tuple[LaidRun, ...]) -> list[LaidRun]:
    """Parents before children."""
    by_id = {r.id: r for r in runs}
    done: dict[str, LaidRun] = {}

    def visit(run: LaidRun) -> None:
        if run.id in done:
            return
        if run.parent is not None:
            visit(by_id[run.parent])
        done[run.id] = run

    for r in runs:
        visit(r)
    return list(done.values())


@dataclass(frozen=True, eq=False)
class RunTree:
    """How runs hang together and what of them faces their surroundings, whatever flows."""

    order: tuple[int, ...]
    """Places of the runs, parents before children."""
    parent: tuple[int, ...]
    """Place of each run's parent; -1 at a plenum."""
    surface_m2: Array
    """Inside surface of each run."""
    side_m2: Array
    """Surface of all runs of its side."""


def run_tree(runs: tuple[LaidRun, ...]) -> RunTree:
    """The tree of runs, in their order."""
    place = {r.id: k for k, r in enumerate(runs)}
    surface = np.array([run_perimeter_m(r) * run_length_m(r) for r in runs])
    whole = {
        name: sum(s for s, r in zip(surface, runs, strict=True) if r.side == name) for name in {r.side for r in runs}
    }
    side = np.array([whole[r.side] for r in runs])
    parent = tuple(place[r.parent] if r.parent is not None else -1 for r in runs)
    return RunTree(tuple(place[r.id] for r in order(runs)), parent, surface, side)


def design_flows(
    runs: tuple[LaidRun, ...], tree: RunTree, registers: dict[str, float], fresh_m3_s: float
) -> dict[str, float]:
    """Flow of each run from the registers it ends in, m3/s."""
    flows = [0.0] * len(runs)
    for k in reversed(tree.order):
        r, parent = runs[k], tree.parent[k]
        if r.register_id:
            flows[k] += registers.get(r.register_id, 0.0)
        elif r.side == "fresh":
            flows[k] = fresh_m3_s
        if parent >= 0:
            flows[parent] += flows[k]
    return dict(zip((r.id for r in runs), flows, strict=True))


def ducts(
    unit_design: UnitDesign, unit: Unit | None, air: Airflow, density: float, tree: RunTree, shapes: RunShapes
) -> Ducts:
    """Work out every run of a unit at its design flow; `tree` and `shapes` are those of its runs."""
    runs, indoor, profile = unit_design.runs, unit_design.indoor, unit_design.air.velocity_profile
    by_register = {x.id: x for x in unit_design.registers}
    flows = design_flows(runs, tree, air.register_m3_s, unit_design.fresh_m3_s)
    base = _losses(runs, shapes, flows, density)
    ordered = [runs[k] for k in tree.order]
    path, ends = _paths(ordered, base, by_register, air, density)
    side_of = {r.id: r.side for r in runs}
    longest = {
        side: max((v for k, v in path.items() if ends[k] and side_of[k] == side), default=0.0)
        for side in ("supply", "return")
    }
    results = {}
    for r in ordered:
        results[r.id] = _result(
            r,
            flows[r.id],
            base[r.id],
            shapes.ways.get(r.id),
            path[r.id],
            longest.get(r.side, 0.0),
            ends[r.id],
            profile,
            density,
        )
    supply_chain = _chain(runs, path, ends, "supply")
    return_chain = _chain(runs, path, ends, "return")
    budget = _budget(results, by_register, supply_chain, return_chain, indoor, unit, air, density)
    total = sum(b.pressure_pa for b in budget)
    available, limit = 0.0, 0.0
    if unit is not None:
        available = fan_curve(unit, indoor.tap, density).single(air.total_m3_s)[0]
        limit = unit.blower.limit_pa
    found = Ducts(results, supply_chain, return_chain, budget, total, available, limit, 0.0)
    return replace(found, friction_rate_pa_m=rate_of(found, available))


def fixed_pa(d: Ducts) -> float:
    """Pressure of the longest path that is not lost in ducts."""
    return sum(b.pressure_pa for b in d.budget if b.name not in DUCT_PARTS)


def duct_pa(d: Ducts) -> float:
    """Pressure that the ducts of the longest path lose with their dampers open."""
    return sum(b.pressure_pa for b in d.budget if b.name in DUCT_PARTS and b.name != "damper")


def rate_of(d: Ducts, available_pa: float) -> float:
    """Friction rate that a blower's pressure at design flow leaves, Pa/m; 0 where it leaves none.

    Sized to what the blower makes within its limit, less a tenth for what the drawing does not show.
    """
    chain = (*d.longest_supply, *d.longest_return)
    effective = sum(d.runs[i].length_m + d.runs[i].equivalent_length_m for i in chain)
    usable = max(min(available_pa, d.limit_pa) * SPARE - fixed_pa(d), 0.0)
    return usable / effective if effective > 0 else 0.0


DUCT_PARTS = ("return duct", "trunk", "run", "damper")
"""Parts of the budget that are lost in ducts; 'damper' is what balancing takes of the longest path."""


@dataclass(frozen=True)
class RunShapes:
    """What the losses of runs need of them whatever flows; arrays (runs,)."""

    length_m: Array
    area_m2: Array
    equivalent_m: Array
    roughness_m: Array
    friction_scale: Array
    """Friction against that of the duct stretched straight, (runs,)."""
    fitting_c: Array
    junctions: Junctions
    """In air of 1 kg/m3."""
    ways: dict[str, Way]
    """By run, where one has a way through a junction."""


def run_shapes(runs: tuple[LaidRun, ...]) -> RunShapes:
    """Lengths, sizes and coefficients of the runs, in their order."""
    area = [run_area_m2(r) for r in runs]
    junctions = junctions_of(runs, area, {r.id: k for k, r in enumerate(runs)}, 1.0)
    return RunShapes(
        np.array([run_length_m(r) for r in runs]),
        np.array(area),
        np.array([run_equivalent_m(r) for r in runs]),
        np.array([r.made_of.roughness_m for r in runs]),
        np.array([friction_scale(r) for r in runs]),
        np.array([fitting_coefficient(r) for r in runs]),
        junctions,
        {runs[k].id: way for k, way in zip(junctions.own.tolist(), junctions.ways, strict=True)},
    )


def _losses(
    runs: tuple[LaidRun, ...], s: RunShapes, flows: dict[str, float], density: float
) -> dict[str, tuple[float, ...]]:
    """Length, area, equivalent diameter, velocity, friction rate, C of fittings, of them that of its first joint, and of
    the damper, by run, vectorised."""
    if not runs:
        return {}
    flow, d = np.array([flows[r.id] for r in runs]), s.equivalent_m
    # the equivalent diameter stands for friction: flow over its own circle
    rate = s.friction_scale * ductflow.friction_pa_per_m(flow, pi * d**2 / 4, d, s.roughness_m, density)
    velocity, parting = flow / s.area_m2, np.zeros(len(runs))
    opening = np.array([np.nan if r.damper is None else r.damper for r in runs])
    damper = np.nan_to_num(ductflow.damper_coefficient(opening))
    lost, _, _ = s.junctions.loss(flow)
    parting[s.junctions.own] = lost / np.maximum(0.5 * velocity[s.junctions.own] ** 2, FLOAT_TINY)
    parting[flow <= 0] = 0.0
    columns = (s.length_m, s.area_m2, d, velocity, rate, s.fitting_c + parting, parting, damper)
    return {r.id: tuple(row) for r, row in zip(runs, np.column_stack(columns).tolist(), strict=True)}


def _paths(
    ordered: list[LaidRun],
    base: dict[str, tuple[float, ...]],
    registers: dict[str, Register],
    air: Airflow,
    density: float,
) -> tuple[dict[str, float], dict[str, str | None]]:
    """Loss from plenum to the end of each run with dampers open, and the register it ends in."""
    path: dict[str, float] = {}
    ends: dict[str, str | None] = {}
    for r in ordered:
        length, _, _, velocity, rate, c, _, damper = base[r.id]
        own = rate * length + (c + _open_damper(damper)) * 0.5 * density * velocity**2
        total = own + (path[r.parent] if r.parent else 0.0)
        if r.register_id:
            total += register_k(registers[r.register_id], density) * air.register_m3_s.get(r.register_id, 0.0) ** 2
        path[r.id] = total
        ends[r.id] = r.register_id
    return path, ends


def damper_words(opening: float | None) -> str:
    """How far a damper is open, for a table."""
    if opening is None:
        return "–"
    share = round(opening * 100)
    return "open" if share == 100 else f"{share} %" if opening > 0 else "shut"


def _open_damper(coefficient: float) -> float:
    return min(coefficient, float(ductflow.DAMPER_C[0]))


def _result(
    r: LaidRun,
    flow: float,
    base: tuple[float, ...],
    way: Way | None,
    path: float,
    longest: float,
    ends: str | None,
    profile: str,
    density: float,
) -> RunResult:
    length, area, equivalent, velocity, rate, c, parting, damper = base
    vp = 0.5 * density * velocity**2
    factor = PROFILE_FACTOR[profile]
    recommended, highest = VELOCITY_LIMIT[(r.side, run_kind(r))]
    excess = max(longest - path, 0.0) if ends else 0.0
    balanced = None
    if r.damper is not None and ends:
        balanced = (
            1.0 if excess < 0.5 or vp <= 0 else ductflow.damper_opening(float(ductflow.DAMPER_C[0]) + excess / vp)
        )
    return RunResult(
        run=r,
        flow_m3_s=flow,
        length_m=length,
        area_m2=area,
        equivalent_m=equivalent,
        velocity_m_s=velocity,
        velocity_limit_m_s=recommended * factor,
        velocity_max_m_s=highest * factor,
        friction_pa_m=rate,
        velocity_pa=vp,
        fitting_c=c,
        parting_c=parting,
        way=way,
        damper_c=damper,
        fitting_pa=c * vp,
        friction_pa=rate * length,
        damper_pa=damper * vp,
        equivalent_length_m=c * vp / rate if rate > 0 else 0.0,
        path_pa=path,
        excess_pa=excess,
        balanced_damper=balanced,
        ends_in=ends,
    )


def _chain(
    runs: tuple[LaidRun, ...], path: dict[str, float], ends: dict[str, str | None], side: str
) -> tuple[str, ...]:
    """Runs of the path with the greatest loss, from the plenum out."""
    leaves = [r for r in runs if r.side == side and ends.get(r.id)]
    if not leaves:
        return ()
    at: LaidRun | None = max(leaves, key=lambda r: path[r.id])
    by_id = {r.id: r for r in runs}
    out: list[str] = []
    while at is not None:
        out.insert(0, at.id)
        at = by_id[at.parent] if at.parent else None
    return tuple(out)


def _budget(
    results: dict[str, RunResult],
    registers: dict[str, Register],
    supply: tuple[str, ...],
    back: tuple[str, ...],
    indoor: IndoorUnit,
    unit: Unit | None,
    air: Airflow,
    density: float,
) -> tuple[BudgetPart, ...]:
    parts: list[BudgetPart] = []

    def face(chain: tuple[str, ...]) -> float:
        end = results[chain[-1]].ends_in if chain else None
        return register_k(registers[end], density) * air.register_m3_s.get(end, 0.0) ** 2 if end else 0.0

    def loss(i: str) -> float:
        r = results[i]
        return (
            r.friction_pa
            + r.fitting_pa
            + (_open_damper(1.0) * 0.5 * density * r.velocity_m_s**2 if r.run.damper is not None else 0.0)
        )

    if back:
        parts.append(BudgetPart("return", "grille", face(back)))
        parts.append(BudgetPart("return", "return duct", sum(loss(i) for i in back)))
    losses, flow2 = unit_losses(unit, indoor, density), air.total_m3_s**2
    parts.append(BudgetPart("unit", "filter", losses.filter_k * flow2))
    parts.append(BudgetPart("unit", "heater", losses.heater_k * flow2))
    parts.append(BudgetPart("unit", "coil", losses.coil_k * flow2))
    if supply:
        zone = sum(
            ZONE_DAMPER_LOSS * 0.5 * density * results[i].velocity_m_s ** 2
            for i in supply
            if results[i].run.zone_damper
        )
        if zone:
            parts.append(BudgetPart("supply", "zone", zone))
        parts.append(BudgetPart("supply", "trunk", sum(loss(i) for i in supply[:-1]) - zone))
        parts.append(BudgetPart("supply", "run", loss(supply[-1])))
        open_c = float(ductflow.DAMPER_C[0])
        shut = sum(max(results[i].damper_c - open_c, 0.0) * results[i].velocity_pa for i in supply)
        parts.append(BudgetPart("supply", "damper", shut))
        parts.append(BudgetPart("supply", "outlet", face(supply)))
    return tuple(p for p in parts if p.pressure_pa > 0.01)
