"""Runs the stages in order. A stage whose inputs are the same objects as last time is not run again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, fields, replace
from typing import Any, TypeVar, cast

from murvan.catalog import Unit, units
from murvan.design.house import geometry, measuring
from murvan.design.loads import balance, gains
from murvan.design.loads import factors as load_factors
from murvan.design.loads import peaks as loads
from murvan.design.punch.finding import Finding
from murvan.design.punch.rules import findings
from murvan.design.system import airflow, build, duct_heat, ducts, equipment, network, plenums, terminals
from murvan.design.weather import conditions
from murvan.model.job import Job
from murvan.physics.constants import CFM_M3_S, TON_W

T = TypeVar("T")
FALLBACK_FLOW_PER_W = 400 * CFM_M3_S / TON_W
"""Until a unit is chosen: 400 cfm a ton of cooling load, common practice."""


@dataclass(frozen=True)
class Demand:
    """What a house needs: the stages up to its loads, in order."""

    job: Job
    geometry: geometry.Geometry
    conditions: conditions.Conditions
    gains: gains.Gains
    factors: load_factors.Factors
    """Heating, and cooling by load factors: the second opinion."""
    balance: balance.Balance
    duct_heat: duct_heat.DuctHeat
    loads: loads.Loads


@dataclass(frozen=True)
class Results(Demand):
    """Everything Murvan computes of a job, one attribute a stage."""

    equipment: equipment.Equipment
    unit: Unit | None
    airflow: airflow.Airflow
    terminals: dict[str, terminals.Terminal]
    ducts: ducts.Ducts
    network: network.Network | None
    """None without a unit, supply and return, and where it could not be solved."""
    network_open: bool
    """The air circuit was solved as far as it goes and does not close: no figure of it may be shown."""
    plenums: tuple[plenums.PlenumDesign, ...]
    cuts: build.CutList
    findings: tuple[Finding, ...]
    cache: dict[str, tuple[tuple[Any, ...], Any]] = field(repr=False, compare=False, default_factory=dict)


class _Memo:
    """Calls a stage, or takes its last result when every input is the same object or an equal number."""

    def __init__(self, previous: Results | None) -> None:
        self.old = previous.cache if previous else {}
        self.new: dict[str, tuple[tuple[Any, ...], Any]] = {}
        self.ran: list[str] = []

    def __call__(self, name: str, function: Callable[..., T], *inputs: Any, extra: tuple[Any, ...] = ()) -> T:
        """`extra` is passed on after `inputs` but does not count as an input."""
        before = self.old.get(name)
        if (
            before
            and len(before[0]) == len(inputs)
            and all(_same(a, b) for a, b in zip(before[0], inputs, strict=True))
        ):
            self.new[name] = (inputs, before[1])
            return cast(T, before[1])
        self.ran.append(name)
        result = function(*inputs, *extra)
        self.new[name] = (inputs, result)
        return result


class Shapes(tuple[Any, ...]):
    """What a stage needs of some records, compared by value: a new name moves no wall, a damper warms no duct."""

    @staticmethod
    def of(job: Job) -> Shapes:
        """Rooms, for geometry."""
        return Shapes((r.id, r.storey, r.outline_m, r.height_m, r.ceiling, r.floor, r.slope) for r in job.rooms)

    @staticmethod
    def openings(job: Job) -> Shapes:
        """Openings, for geometry: other blinds or glass move nothing."""
        fields = ("id", "kind", "room", "wall", "offset_m", "width_m", "height_m", "inside", "position_m", "tilt_deg")
        return Shapes(tuple(getattr(o, f) for f in fields) for o in job.openings)

    @staticmethod
    def air(job: Job) -> Shapes:
        """Rooms and the doors between them, for the air's ways."""
        rooms = [(r.id, r.storey, r.use, r.exhaust, r.transfer, r.outline_m) for r in job.rooms]
        doors = (o for o in job.openings if o.inside and o.kind == "door")
        return Shapes((*rooms, *((o.room, o.wall, o.offset_m, o.width_m) for o in doors)))

    @staticmethod
    def ducts(job: Job) -> Shapes:
        """Runs and registers, for the heat they take."""
        size = ("shape", "diameter_m", "width_m", "height_m", "insulation_r_m2k_w")
        fields = ("id", "side", "parent", "place", "path_m", "rise_m", "register_id", *size)
        runs = [tuple(getattr(r, f) for f in fields) for r in job.runs]
        return Shapes((*runs, *((x.id, x.room, x.side, x.share) for x in job.registers)))


def _same(a: Any, b: Any) -> bool:
    if a is b:
        return True
    if isinstance(a, Shapes) and isinstance(b, Shapes):
        return tuple.__eq__(a, b)
    if isinstance(a, tuple) and isinstance(b, tuple):  # validation makes new tuples of the same records
        return len(a) == len(b) and all(x is y for x, y in zip(a, b, strict=True))
    return isinstance(a, (int, float, str)) and type(a) is type(b) and a == b


def demand(job: Job, previous: Results | None = None) -> Demand:
    """Only the loads of a job; `previous` makes it faster, never different."""
    return _demand(job, _Memo(previous), previous)


def _demand(job: Job, memo: _Memo, previous: Results | None) -> Demand:
    g = memo(
        "geometry",
        lambda *_: measuring.measure(job.rooms, job.storeys, job.openings, job.spaces, job),
        Shapes.of(job),
        job.storeys,
        Shapes.openings(job),
        job.spaces,
        job.wall_overrides,
        job.wall_construction,
        job.partition_construction,
        job.basement_construction,
        job.knee_construction,
        job.floor_construction,
        job.foundation,
        job.constructions,
        job.patches,
        job.site.north_deg,
    )
    c = memo("conditions", conditions.conditions, job.site, job.climate, job.indoor, job.design_day.months)
    who = memo(
        "gains", lambda g, *_: gains.gains(job, g), g, job.rooms, job.appliances, job.bedrooms, job.air.moisture_rate
    )
    shell = memo(
        "shell",
        lambda g, c, *_: load_factors.factors(job, g, c),
        g,
        c,
        job.constructions,
        job.glazings,
        job.leakage,
        job.ventilation,
        job.ceiling_construction,
        job.floor_construction,
        job.door_construction,
        job.roof_construction,
        job.raised_construction,
        job.basement_construction,
        Shapes((r.id, r.storey, r.floor_construction, r.ceiling_construction, r.exhaust) for r in job.rooms),
        job.openings,
        job.site.shielding,
        job.climate,
        job.design_day,
    )
    bare = memo("factors", lambda shell, who: shell.with_gains(who), shell, who)
    day = memo(
        "balance",
        lambda g, c, who, air, *_: balance.balance(
            job, g, c, who, air, previous.balance if previous is not None else None
        ),
        g,
        c,
        who,
        bare.air,
        job.constructions,
        job.glazings,
        job.ventilation,
        job.ceiling_construction,
        job.floor_construction,
        job.door_construction,
        job.roof_construction,
        job.raised_construction,
        job.basement_construction,
        job.rooms,
        job.openings,
        job.spaces,
        job.climate,
        job.design_day,
    )
    unit, fresh = units().get(job.system.unit or ""), _fresh(job)
    dh = memo(
        "duct heat",
        lambda who, f, day, *_: _duct_heat(job, c, who, f, day, unit, fresh),
        who,
        bare,
        day,
        c,
        job.rooms,
        job.storeys,
        Shapes.ducts(job),
        job.spaces,
        job.air.duct_allowance,
        job.air.duct_leakage,
        unit,
        fresh,
        job.system.flow_m3_s,
    )
    opinion = memo(
        "factors with ducts",
        lambda f, dh: f.with_ducts(dh.heating, dh.cooling[0].max(axis=1, initial=0.0), dh.latent_w),
        bare,
        dh,
    )
    r = memo(
        "loads",
        lambda who, f, day, dh, *_: loads.loads(job, who, f, day, dh),
        who,
        bare,
        day,
        dh,
        job.rooms,
        job.zones,
        job.design_day,
    )
    return Demand(job, g, c, who, opinion, day, dh, r)


def solve(job: Job, previous: Results | None = None) -> Results:
    """Compute a job. `previous` results of an earlier state of the same job make it faster, never different."""
    memo = _Memo(previous)
    need = _demand(job, memo, previous)
    g, c, r = need.geometry, need.conditions, need.loads
    unit, fresh = units().get(job.system.unit or ""), _fresh(job)
    e = memo("equipment", equipment.equipment, job.system, job.ventilation, job.climate, units(), c, r)
    total = _total_flow(job, unit, r)
    a = memo("airflow", airflow.airflow, job.rooms, job.registers, r, total, fresh)
    t = memo("terminals", terminals.terminals, job.registers, job.rooms, a.register_m3_s, c.density_kg_m3)
    d = memo(
        "ducts",
        ducts.ducts,
        job.runs,
        job.registers,
        job.system,
        job.air.velocity_profile,
        fresh,
        unit,
        a,
        c.density_kg_m3,
        memo("run shapes", ducts.run_shapes, job.runs),
    )
    before = previous.network if previous is not None else None
    # design flows and the last solution are only where it starts from
    n = memo(
        "network",
        lambda *_: _network(job, g, unit, c, d, a, before),
        g,
        unit,
        Shapes.air(job),
        job.storeys,
        job.system,
        job.runs,
        job.registers,
        job.plenums,
        job.leakage,
        job.ventilation,
        c.density_kg_m3,
    )
    p = memo("plenums", plenums.plenums, job.plenums, job.runs, d, total, unit)
    cuts = memo(
        "build",
        lambda *_: build.cut_list(job, unit),
        job.runs,
        unit,
        job.build,
        job.plenums,
        job.registers,
        Shapes((x.id, x.name) for x in job.rooms),
        job.storeys,
        job.system,
    )
    stages = {x.name: getattr(need, x.name) for x in fields(need)}
    found = Results(
        **stages,
        equipment=e,
        unit=unit,
        airflow=a,
        terminals=t,
        ducts=d,
        network=n if n is None or n.converged else None,
        network_open=n is not None and not n.converged,
        plenums=p,
        cuts=cuts,
        findings=(),
        cache=memo.new,
    )
    return replace(found, findings=findings(found))


def _fresh(job: Job) -> float:
    """Outdoor air that enters at the unit, m3/s."""
    return job.ventilation.flow_m3_s if job.ventilation.kind in ("erv", "hrv", "supply") else 0.0


def _duct_heat(
    job: Job,
    c: conditions.Conditions,
    who: gains.Gains,
    f: load_factors.Factors,
    day: balance.Balance,
    unit: Unit | None,
    fresh: float,
) -> duct_heat.DuctHeat:
    """What ducts take at the air the rooms would get without their losses."""
    kind = unit.kind if unit else ""
    if not job.runs:
        return duct_heat.allowance(job, c, day, f, kind)
    r = loads.loads(job, who, f, day)
    a = airflow.airflow(job.rooms, job.registers, r, _total_flow(job, unit, r), fresh)
    flows = ducts.design_flows(job.runs, a.register_m3_s, fresh)
    peak = (r.at(r.house.month), r.house.hour)
    return duct_heat.duct_heat(job, flows, a, c, day, f, peak, kind)


def _total_flow(job: Job, unit: Unit | None, r: loads.Loads) -> float:
    if job.system.flow_m3_s is not None:
        return job.system.flow_m3_s
    if unit is not None:
        return unit.rated_flow_m3_s
    return r.house_cooling_w * FALLBACK_FLOW_PER_W


def _network(
    job: Job,
    g: geometry.Geometry,
    unit: Unit | None,
    c: conditions.Conditions,
    d: ducts.Ducts,
    a: airflow.Airflow,
    before: network.Network | None,
) -> network.Network | None:
    if unit is None or not job.runs:
        return None
    flows = {i: x.flow_m3_s for i, x in d.runs.items()}
    return network.network(job, g, unit, c.density_kg_m3, flows, a.register_m3_s, a.total_m3_s, before)
