"""Runs the stages in order, each only when something it reads has changed."""

from __future__ import annotations

from dataclasses import dataclass, field, fields, replace

from murvan.catalog import Unit, units
from murvan.design.house import geometry, measuring
from murvan.design.loads import answers, balance, gains
from murvan.design.loads import factors as load_factors
from murvan.design.loads import peaks as loads
from murvan.design.loads.outdoor_air import OutdoorAir
from murvan.design.memo import Cache, Memo, Reads
from murvan.design.punch.finding import Finding
from murvan.design.punch.rules import findings
from murvan.design.system import airflow, build, duct_heat, ducts, equipment, network, plenums, terminals
from murvan.design.weather import conditions
from murvan.model.job import Job
from murvan.physics.constants import CFM_M3_S, TON_W

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
    answers: answers.Answers
    """What surfaces do with what acts on them."""
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
    cache: Cache = field(repr=False, compare=False, default_factory=dict)


# ---- what each stage reads ----

ASSEMBLIES = ("constructions", "glazings", "ceiling_construction", "floor_construction", "door_construction")
MORE_ASSEMBLIES = ("roof_construction", "raised_construction", "basement_construction", "wall_construction")
OPENING_SHAPE = ("id", "kind", "room", "wall", "offset_m", "width_m", "height_m", "inside", "position_m", "tilt_deg")
RUN_HEAT = ("id", "side", "parent", "place", "path_m", "rise_m", "register_id", "insulation_r_m2k_w")
RUN_SIZE = ("shape", "diameter_m", "width_m", "height_m")

GEOMETRY = Reads(
    "geometry",
    *("storeys", "spaces", "wall_overrides", "wall_construction", "partition_construction", "basement_construction"),
    *("knee_construction", "floor_construction", "foundation", "constructions", "patches"),
    # other blinds or glass move nothing
    openings=OPENING_SHAPE,
    rooms=("id", "storey", "outline_m", "height_m", "ceiling", "floor", "slope"),
    site=("north_deg",),
)
CONDITIONS = Reads("conditions", "site", "climate", "indoor", design_day=("months",))
GAINS = Reads("gains", "rooms", "appliances", "bedrooms", air=("moisture_rate",))
SHELL = Reads(
    "shell",
    *(
        *ASSEMBLIES,
        *MORE_ASSEMBLIES,
        "leakage",
        "ventilation",
        "openings",
        "climate",
        "design_day",
        "spaces",
        "storeys",
    ),
    rooms=("id", "storey", "floor_construction", "ceiling_construction", "exhaust"),
    site=("shielding",),
)
FACTORS = Reads("factors")
ANSWERS = Reads(
    "answers",
    *(*ASSEMBLIES, *MORE_ASSEMBLIES, "partition_construction", "knee_construction"),
    *("openings", "spaces", "storeys", "climate", "design_day"),
    rooms=("id", "ceiling_construction", "floor_construction", "slope"),
)
BALANCE = Reads("balance", ventilation=("sensible_recovery",))
DUCT_HEAT = Reads(
    "duct heat",
    *("rooms", "storeys", "spaces", "zones", "design_day"),
    runs=RUN_HEAT + RUN_SIZE,
    registers=("id", "room", "side", "share"),
    air=("duct_allowance", "duct_leakage"),
    system=("flow_m3_s",),
)
FACTORS_DUCTS = Reads("factors with ducts")
LOADS = Reads("loads", "rooms", "zones", "design_day")
EQUIPMENT = Reads("equipment", "system", "ventilation", "climate")
AIRFLOW = Reads("airflow", "rooms", "registers")
TERMINALS = Reads("terminals", "registers", "rooms")
RUN_TREE = Reads("run tree", runs=RUN_HEAT + RUN_SIZE)
RUN_SHAPES = Reads("run shapes", "runs")
DUCTS = Reads("ducts", "runs", "registers", "system", air=("velocity_profile",))
NETWORK = Reads(
    "network",
    *("storeys", "system", "runs", "registers", "plenums", "leakage", "ventilation"),
    rooms=("id", "storey", "use", "exhaust", "transfer", "outline_m"),
    openings=("kind", "inside", "room", "wall", "offset_m", "width_m"),
)
PLENUMS = Reads("plenums", "plenums", "runs")
BUILD = Reads("build", *("runs", "build", "plenums", "registers", "storeys", "system"), rooms=("id", "name"))


def demand(job: Job, previous: Results | None = None) -> Demand:
    """Only the loads of a job; `previous` makes it faster, never different."""
    memo = Memo(previous.cache if previous else {})
    return _demand(job, memo, previous, _tree(job, memo))


def _demand(job: Job, memo: Memo, previous: Results | None, tree: ducts.RunTree) -> Demand:
    unit, fresh = units().get(job.system.unit or ""), _fresh(job)
    g = memo(GEOMETRY, job, measuring.measure)
    c = memo(CONDITIONS, job, _conditions)
    who = memo(GAINS, job, gains.gains, g)
    shell = memo(SHELL, job, load_factors.factors, g, c)
    bare = memo(FACTORS, job, lambda _, shell, who: shell.with_gains(who), shell, who)
    surfaces = memo(ANSWERS, job, answers.answers, g, c, extra=(previous.answers if previous is not None else None,))
    day = memo(BALANCE, job, _balance, surfaces, who, bare.air)
    dh = memo(DUCT_HEAT, job, _duct_heat, tree, c, who, bare, day, unit, fresh)
    opinion = memo(FACTORS_DUCTS, job, _with_ducts, bare, dh)
    r = memo(LOADS, job, loads.loads, who, bare, day, dh)
    return Demand(job, g, c, who, opinion, surfaces, day, dh, r)


def solve(job: Job, previous: Results | None = None) -> Results:
    """Compute a job. `previous` results of an earlier state of the same job make it faster, never different."""
    memo = Memo(previous.cache if previous else {})
    tree = _tree(job, memo)
    need = _demand(job, memo, previous, tree)
    g, c, r = need.geometry, need.conditions, need.loads
    unit, fresh = units().get(job.system.unit or ""), _fresh(job)
    density = c.density_kg_m3
    e = memo(EQUIPMENT, job, _equipment, units(), c, r)
    total = _total_flow(job, unit, r)
    a = memo(AIRFLOW, job, _airflow, r, total, fresh)
    t = memo(TERMINALS, job, _terminals, a.register_m3_s, density)
    shapes = memo(RUN_SHAPES, job, lambda part: ducts.run_shapes(part.runs))
    d = memo(DUCTS, job, _ducts, fresh, unit, a, density, tree, shapes)
    # design flows and the last solution are only where the search starts from
    before = previous.network if previous is not None else None
    n = memo(NETWORK, job, _network, g, unit, density, extra=(d, a, before))
    p = memo(PLENUMS, job, _plenums, d, total, unit)
    cuts = memo(BUILD, job, build.cut_list, unit)
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


# ---- stages whose functions take records, not the job ----


def _tree(job: Job, memo: Memo) -> ducts.RunTree:
    return memo(RUN_TREE, job, lambda part: ducts.run_tree(part.runs))


def _conditions(job: Job) -> conditions.Conditions:
    return conditions.conditions(job.site, job.climate, job.indoor, job.design_day.months)


def _balance(job: Job, surfaces: answers.Answers, who: gains.Gains, air: OutdoorAir) -> balance.Balance:
    return balance.balance(surfaces, who, air, job.ventilation.sensible_recovery)


def _with_ducts(_: Job, f: load_factors.Factors, dh: duct_heat.DuctHeat) -> load_factors.Factors:
    return f.with_ducts(dh.heating, dh.cooling[0].max(axis=1, initial=0.0), dh.latent_w)


def _equipment(job: Job, catalogue: dict[str, Unit], c: conditions.Conditions, r: loads.Loads) -> equipment.Equipment:
    return equipment.equipment(job.system, job.ventilation, job.climate, catalogue, c, r)


def _airflow(job: Job, r: loads.Loads, total_m3_s: float, fresh_m3_s: float) -> airflow.Airflow:
    return airflow.airflow(job.rooms, job.registers, r, total_m3_s, fresh_m3_s)


def _terminals(job: Job, flows: dict[str, float], density: float) -> dict[str, terminals.Terminal]:
    return terminals.terminals(job.registers, job.rooms, flows, density)


def _ducts(
    job: Job,
    fresh: float,
    unit: Unit | None,
    a: airflow.Airflow,
    density: float,
    tree: ducts.RunTree,
    shapes: ducts.RunShapes,
) -> ducts.Ducts:
    profile = job.air.velocity_profile
    return ducts.ducts(job.runs, job.registers, job.system, profile, fresh, unit, a, density, tree, shapes)


def _plenums(job: Job, d: ducts.Ducts, total_m3_s: float, unit: Unit | None) -> tuple[plenums.PlenumDesign, ...]:
    return plenums.plenums(job.plenums, job.runs, d, total_m3_s, unit)


def _fresh(job: Job) -> float:
    """Outdoor air that enters at the unit, m3/s."""
    return job.ventilation.flow_m3_s if job.ventilation.kind in ("erv", "hrv", "supply") else 0.0


def _duct_heat(
    job: Job,
    tree: ducts.RunTree,
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
        return duct_heat.allowance(job, c, duct_heat.surroundings(job, c, day, f), kind)
    r = loads.loads(job, who, f, day)
    a = airflow.airflow(job.rooms, job.registers, r, _total_flow(job, unit, r), fresh)
    flows = ducts.design_flows(job.runs, tree, a.register_m3_s, fresh)
    peak = (r.at(r.house.month), r.house.hour)
    return duct_heat.duct_heat(job, tree, flows, a, c, day, f, peak, kind)


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
    density: float,
    d: ducts.Ducts,
    a: airflow.Airflow,
    before: network.Network | None,
) -> network.Network | None:
    if unit is None or not job.runs:
        return None
    flows = {i: x.flow_m3_s for i, x in d.runs.items()}
    return network.network(job, g, unit, density, flows, a.register_m3_s, a.total_m3_s, before)
