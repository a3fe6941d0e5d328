"""Runs the stages in order, each only when something it reads has changed."""

from __future__ import annotations

from dataclasses import dataclass, fields
from functools import cached_property, partial
from typing import Any

import numpy as np

from murvan.catalog import known_multis, known_units, readable_own
from murvan.design.circuit import frame, network
from murvan.design.circuit.situations import USUAL
from murvan.design.ducts import airflow, duct_heat, plenums, terminals
from murvan.design.ducts import runs as ducts
from murvan.design.finding import Finding
from murvan.design.house import measuring
from murvan.design.house.geometry import Geometry
from murvan.design.house.today import fuel_here
from murvan.design.loads import answers, balance, gains
from murvan.design.loads import factors as load_factors
from murvan.design.loads import peaks as loads
from murvan.design.memo import Cache, Late, Memo, Reads
from murvan.design.parts import cut_list as build
from murvan.design.punch.rules import findings
from murvan.design.results import Demand, Need, Results, SystemResults
from murvan.design.space.duct_spaces import duct_spaces
from murvan.design.units import equipment
from murvan.design.units.hung import as_hung
from murvan.design.units.outdoor import Shared, shared
from murvan.design.units.unit_design import UnitDesign, unit_designs
from murvan.design.watched import Kept
from murvan.design.weather import conditions
from murvan.model.design import Design
from murvan.model.equipment import MultiUnit, Unit
from murvan.model.job import Job
from murvan.model.routes import LaidRun, Lies, laid_runs
from murvan.physics.circuit import Circuit
from murvan.physics.constants import CFM_M3_S, TON_W

FALLBACK_FLOW_PER_W = 400 * CFM_M3_S / TON_W
"""Until a unit is chosen, at least: 400 cfm a ton of cooling load, common practice."""
LEAST_FALL_K = 6.0
"""What a coil cools the air by at least."""


# ---- what each stage reads ----

ASSEMBLIES = ("constructions", "glazings", "ceiling_construction", "floor_construction", "door_construction")
MORE_ASSEMBLIES = ("roof_construction", "raised_construction", "basement_construction", "wall_construction")
OPENING_SHAPE = ("id", "kind", "room", "wall", "offset_m", "width_m", "height_m", "inside", "position_m", "tilt_deg")
RUN_HEAT = ("id", "side", "parent", "lies_in", "path_m", "rise_m", "length_m", "register_id", "r_m2k_w")
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
GAINS = Reads("gains", "rooms", "appliances", "bedrooms", indoor=("moisture_rate",))
SHELL = Reads(
    "shell",
    *(*ASSEMBLIES, *MORE_ASSEMBLIES, "leakage", "openings", "climate", "design_day", "spaces", "storeys"),
    rooms=("id", "storey", "floor_construction", "ceiling_construction", "exhaust"),
    site=("shielding",),
    design=("ventilators",),
)
FACTORS = Reads("factors")
ANSWERS = Reads(
    "answers",
    *(*ASSEMBLIES, *MORE_ASSEMBLIES, "partition_construction", "knee_construction"),
    *("openings", "spaces", "storeys", "climate", "design_day"),
    rooms=("id", "ceiling_construction", "floor_construction", "slope"),
)
BALANCE = Reads("balance")
FACTORS_DUCTS = Reads("factors with ducts")
BARE_LOADS = Reads("loads at the rooms", "rooms", "design_day", design=("zones",))
LOADS = Reads("loads", "rooms", "design_day", design=("zones",))

DUCT_SPACES = Reads(
    "duct spaces",
    *("storeys", "spaces", "places", "foundation", "floor_construction"),
    design=("joints",),
    rooms=("storey", "outline_m", "height_m", "floor", "slope"),
    constructions=("id", "kind"),
)
CATALOGUE = Reads("catalogue", "units")
MULTIS = Reads("outdoor units of the catalogue", "multi_units")
LAID = Reads("fittings", "storeys", design=("joints", "runs"))

# of one unit

UNDAMPED = (*(x for x in LaidRun.model_fields if x != "damper"), "made_of", "has_damper", "r_m2k_w")
"""All of a run but how far its balancing damper is open."""
RUN_SHAPES = Reads("run shapes", runs=UNDAMPED)
RUN_TREE = Reads("run tree", runs=RUN_HEAT + RUN_SIZE)
UNIT_LOADS = Reads("loads of a unit", indoor=("heat_share",))
FIRST_AIR = Reads("air before ducts", "rooms", "registers", "fresh_m3_s", indoor=("flow_m3_s",))
DUCT_HEAT = Reads(
    "duct heat",
    *("id", "rooms", "storeys", "spaces", "fresh_m3_s"),
    runs=RUN_HEAT + RUN_SIZE,
    registers=("id", "room", "side", "share"),
    air=("duct_allowance", "duct_leakage"),
    indoor=("kind",),
)
DUCTS_TOGETHER = Reads("ducts together")
HUNG = Reads("unit as it hangs", "outdoor", "line_m", "beside")
EQUIPMENT = Reads("equipment", "system", "indoor", "ventilators", "climate", "sizing", "outdoor", "line_m", "beside")
AIRFLOW = Reads("airflow", "rooms", "registers", "fresh_m3_s")
TERMINALS = Reads("terminals", "registers", "rooms")
DUCTS = Reads("ducts", "runs", "registers", "indoor", "fresh_m3_s", air=("velocity_profile",))
PLENUMS = Reads("plenums", "plenums", runs=UNDAMPED, indoor=("way", "turn_deg"))
BUILD = Reads(
    "build",
    *("ticks", "boxes", "plenums", "registers", "storeys", "indoor", "id", "line_m", "seismic"),
    *("outdoor", "beside", "first_on_outdoor"),
    runs=UNDAMPED,
    rooms=("id", "name", "storey"),
)

# of the house with all its units

NETWORK = Reads(
    "network",
    *("storeys", "leakage", "keep_clear"),
    rooms=("id", "storey", "use", "exhaust", "transfer", "outline_m"),
    openings=("id", "kind", "inside", "room", "wall", "offset_m", "width_m", "height_m"),
)
BARE_NETWORK = Reads("network without dampers", *NETWORK.whole, **NETWORK.some)
ALONE = Reads(
    "zones alone", rooms=NETWORK.some["rooms"], openings=NETWORK.some["openings"], design=("zones",), storeys=("id",)
)
SKELETON = Reads(
    "circuit of a unit without dampers",
    *("id", "registers", "ventilators", "fresh_m3_s", "air"),
    runs=UNDAMPED,
    indoor=("tap", "filter", "heater_kw", "bypass"),
)
CIRCUIT = Reads(
    "circuit of a unit",
    *("id", "runs", "registers", "ventilators", "fresh_m3_s", "air"),
    plenums=("side", "width_m", "depth_m"),
    indoor=("tap", "filter", "heater_kw", "bypass"),
)


@dataclass(frozen=True)
class _Unit:
    """One unit on its way through the stages."""

    design: UnitDesign
    unit: Unit | None
    share: tuple[float, ...]
    """Of each room's load."""
    tree: ducts.RunTree
    first: airflow.Airflow
    duct_heat: duct_heat.DuctHeat

    @property
    def id(self) -> str:
        return self.design.id


def demand(job: Job, previous: Results | None = None) -> Demand:
    """What a job's house asks for at its rooms; `previous` makes it faster, never different."""
    return _demand(job, Memo(previous.cache if previous else {}), previous)


def need(job: Job, previous: Results | None = None) -> Need:
    """The demand and what the ducts of its units add."""
    memo = Memo(previous.cache if previous else {})
    return _need(memo, _demand(job, memo, previous), previous)[0]


def _demand(job: Job, memo: Memo, previous: Results | None) -> Demand:
    g = memo(GEOMETRY, job, measuring.measure)
    c = memo(CONDITIONS, job, _conditions)
    who = memo(GAINS, job, gains.gains, g)
    shell = memo(SHELL, job, load_factors.factors, g, c)
    bare = memo(FACTORS, job, lambda _, shell, who: shell.with_gains(who), shell, who)
    before = previous.answers if previous is not None else None
    surfaces = memo(ANSWERS, job, answers.answers, g, c, extra=(before,))
    day = memo(BALANCE, job, lambda _, *x: balance.balance(*x), surfaces, who, bare.air)
    return Demand(job, g, c, who, bare, surfaces, day)


def _need(memo: Memo, x: Demand, previous: Results | None) -> tuple[Need, tuple[_Unit, ...]]:
    """What the units have to give, and the units so far."""
    job = x.job
    r = memo(BARE_LOADS, job, loads.loads, x.gains, x.bare, x.balance)
    before = previous.laid if previous is not None else ()
    laid = memo(LAID, job, _laid, memo(DUCT_SPACES, job, duct_spaces), extra=(before,))
    designs = unit_designs(job, laid)
    many = [sum(room.id in u.serves for u in designs) for room in job.rooms]
    parts = tuple(_ducted(memo, u, x, r, many) for u in designs)
    taken = memo(DUCTS_TOGETHER, job, _together, *((p.duct_heat, p.first) for p in parts), of=len(parts))
    opinion = memo(FACTORS_DUCTS, job, _with_ducts, x.bare, taken)
    full = memo(LOADS, job, loads.loads, x.gains, x.bare, x.balance, taken)
    return Need(**_fields(x), factors=opinion, laid=laid, duct_heat=taken, loads=full), parts


def _catalogue(memo: Memo, job: Job) -> dict[str, Unit]:
    """Every unit there is for a job, by id."""
    return memo(CATALOGUE, job, lambda part, own: known_units(part.units, own), memo.once("own", readable_own)[0])


def _multis(memo: Memo, job: Job) -> dict[str, MultiUnit]:
    """Every outdoor unit with several ports there is for a job, by id."""
    return memo(MULTIS, job, lambda part, own: known_multis(part.multi_units, own), memo.once("own", readable_own)[1])


def _ducted(memo: Memo, u: UnitDesign, x: Demand, r: loads.Loads, many: list[int]) -> _Unit:
    """A unit up to what its ducts take, at the air the rooms would get without their losses."""
    known, multis = _catalogue(memo, x.job), _multis(memo, x.job)
    picked = known.get(u.indoor.unit or "")
    unit = (
        memo(HUNG, u, lambda part, one, *all_: as_hung(one, part, *all_), picked, known, multis, of=u.id)
        if picked is not None
        else None
    )
    share = tuple(1 / k if room.id in u.serves else 0.0 for room, k in zip(u.rooms, many, strict=True))
    own = memo(UNIT_LOADS, u, _of_rooms, r, share, of=f"{u.id} bare")
    tree = memo(RUN_TREE, u, lambda part: ducts.run_tree(part.runs), of=u.id)
    first = memo(FIRST_AIR, u, _airflow, r, share, _total_flow(u, unit, own, x.conditions), of=u.id)
    kind = unit.kind if unit else "furnace_coil" if fuel_here(x.job) else "heat_pump"
    heat = memo(DUCT_HEAT, u, _duct_heat, tree, first, x.conditions, x.bare, x.balance, r, kind, of=u.id)
    return _Unit(u, unit, share, tree, first, heat)


def solve(job: Job, previous: Results | None = None, watch: bool = False, air: bool = True) -> Results:
    """Compute a job. `previous` results of an earlier state of the same job make it faster, never different.

    Args:
        watch: Its rules are judged in a row of states that follow each other, as in a window: what a rule asked of the state
            before decides whether it is judged anew. Only one such row may go on from the same results.
        air: False leaves out the air circuit: laying draws and sizes many ways before it asks what air they carry.
    """
    memo = Memo(previous.cache if previous else {})
    x, parts = _need(memo, _demand(job, memo, previous), previous)
    density = x.conditions.density_kg_m3
    systems = {p.id: _system(memo, p, x) for p in parts}
    blown = [s for s in systems.values() if air and s.unit is not None and s.design.runs]
    # the last solution is only where the search starts from; of design flows the leaks are made, in the circuit without dampers
    before = previous.network if previous is not None else None
    n = memo(
        NETWORK,
        job,
        _network,
        x.geometry,
        density,
        *(s.unit for s in blown),
        _skeleton(memo, job, blown, x, density),
        also=tuple((CIRCUIT, s.design) for s in blown),
        extra=(blown, before),
    )
    good = n if n is None or n.converged else None
    alone: Late[network.Network | None] = Late(lambda: None)
    if good is not None and len(job.design.zones) > 1:
        alone = memo.late(
            ALONE,
            job,
            _zones_alone,
            *(s.unit for s in blown),
            good,
            also=tuple((CIRCUIT, s.design) for s in blown),
            extra=(blown, previous.late_alone.known if previous is not None else None),
        )
    if good is not None:
        systems = {i: _blown(s, good) for i, s in systems.items()}
    return Results(
        **_fields(x),
        systems=systems,
        outdoors=_outdoors(memo, x, parts, systems),
        network=good,
        late_alone=alone,
        network_open=n is not None and not n.converged,
        judge=_Judge(memo.new, _kept(previous) if watch else None),
        cache=memo.new,
    )


def _system(memo: Memo, p: _Unit, x: Need) -> SystemResults:
    """One unit's stages at the loads with ducts."""
    u, unit, density = p.design, p.unit, x.conditions.density_kg_m3
    own = memo(UNIT_LOADS, u, _of_rooms, x.loads, p.share, of=u.id)
    known = _catalogue(memo, x.job), _multis(memo, x.job)
    e = memo(EQUIPMENT, u, _equipment, *known, x.conditions, own, p.duct_heat, of=u.id)
    total = _total_flow(u, unit, own, x.conditions)
    a = memo(AIRFLOW, u, _airflow, x.loads, p.share, total, of=u.id)
    t = memo(TERMINALS, u, _terminals, a.register_m3_s, density, of=u.id)
    shapes = memo(RUN_SHAPES, u, lambda part: ducts.run_shapes(part.runs), of=u.id)
    d = memo(DUCTS, u, ducts.ducts, unit, a, density, p.tree, shapes, of=u.id)
    flows = tuple(d.runs[r.id].flow_m3_s for r in u.runs)
    box = memo(PLENUMS, u, plenums.plenums, flows, total, unit, of=u.id)
    cuts = memo.late(BUILD, u, build.cut_list, unit, of=u.id)
    return SystemResults(u, unit, own, p.duct_heat, e, a, t, d, box, cuts, None)


def _outdoors(memo: Memo, x: Need, parts: tuple[_Unit, ...], systems: dict[str, SystemResults]) -> dict[str, Shared]:
    """The outdoor units that others share, by their id in the design."""
    multis, out = _multis(memo, x.job), {}
    share = {p.id: np.array(p.share) for p in parts}
    for o in x.job.design.outdoor_units:
        mine = [s for s in systems.values() if s.design.indoor.outdoor == o.id]
        hung = tuple((s.design, s.equipment.chosen) for s in mine if s.equipment.chosen is not None)
        if o.unit in multis and mine:
            together = x.loads.of_rooms(np.minimum(sum(share[s.design.id] for s in mine), 1.0))
            boxes = tuple(b for b in x.job.design.boxes if b.outdoor == o.id)
            asked = tuple(s.loads for s in mine if s.equipment.chosen is not None)
            key = (o, multis[o.unit], boxes, x.loads, *(y for s in mine for y in (s.equipment, s.loads, *_hangs(s))))
            out[o.id] = memo.keep(
                f"outdoor {o.id}", key, partial(shared, o, multis[o.unit], hung, boxes, together, asked)
            )
    return memo.keep("outdoor units", (*out, *out.values()), lambda: out)  # the same while all of them are


def _hangs(s: SystemResults) -> tuple[Any, ...]:
    """What an outdoor unit reads of the design of one that hangs on it."""
    d = s.design
    return d.indoor, d.line.length_m, d.serves, d.beside


def _blown(s: SystemResults, n: network.Network) -> SystemResults:
    return SystemResults(**{**_fields(s), "blower": n.blowers.get(s.design.id)})


KEPT = "\0kept"


def _kept(previous: Results | None) -> Kept | None:
    """What rules asked of the results before."""
    found = previous.cache.get(KEPT) if previous is not None else None
    return found[1] if found is not None else None


class _Judge:
    """Judges results by all rules, once; what rules ask is kept for the next in the row."""

    def __init__(self, cache: Cache, before: Kept | None) -> None:
        self.cache, self.before = cache, before
        if before is not None:
            cache[KEPT] = ((), before)

    def __call__(self, r: Results) -> tuple[Finding, ...]:
        kept = Kept(OPENED, self.before)
        self.cache[KEPT], self.before = ((), kept), None
        for name in DERIVED:
            # the same object as before where nothing it is made of has changed
            (r.__dict__[name],) = kept(f"all {name}", r, partial(_derived, name))
        return findings(r, kept)


def _derived(name: str, seen: Any) -> tuple[Any]:
    return (getattr(Results, name).func(seen),)


DERIVED = tuple(k for k, x in vars(Results).items() if isinstance(x, cached_property) and k != "findings")
OPENED = (Results, SystemResults, UnitDesign, Job, Design)
"""Kinds of records that checks look into."""


def _fields(x: Any) -> dict[str, Any]:
    return {f.name: getattr(x, f.name) for f in fields(x)}


# ---- stages whose functions take records, not the job ----


def _conditions(job: Job) -> conditions.Conditions:
    return conditions.conditions(job.site, job.climate, job.indoor, job.design_day.months)


def _with_ducts(_: Job, f: load_factors.Factors, dh: duct_heat.DuctHeat) -> load_factors.Factors:
    return f.with_ducts(dh.heating, dh.cooling[0].max(axis=1, initial=0.0), dh.latent_w)


def _laid(job: Job, spaces: dict[str, Lies], before: tuple[LaidRun, ...]) -> tuple[LaidRun, ...]:
    return laid_runs(job.design, job.storeys, before, spaces)


def _of_rooms(u: UnitDesign, r: loads.Loads, share: tuple[float, ...]) -> loads.Loads:
    return r.of_rooms(np.array(share), u.indoor.heat_share)


def _equipment(
    u: UnitDesign,
    known: dict[str, Unit],
    multis: dict[str, MultiUnit],
    c: conditions.Conditions,
    own: loads.Loads,
    dh: duct_heat.DuctHeat,
) -> equipment.Equipment:
    return equipment.equipment(u, known, multis, c, own, dh.return_rise_k)


def _airflow(u: UnitDesign, r: loads.Loads, share: tuple[float, ...], total_m3_s: float) -> airflow.Airflow:
    return airflow.airflow(u.rooms, u.registers, r, np.array(share), total_m3_s, u.fresh_m3_s)


def _terminals(u: UnitDesign, flows: dict[str, float], density: float) -> dict[str, terminals.Terminal]:
    return terminals.terminals(u.registers, u.rooms, flows, density)


def _duct_heat(
    u: UnitDesign,
    tree: ducts.RunTree,
    first: airflow.Airflow,
    c: conditions.Conditions,
    f: load_factors.Factors,
    day: balance.Balance,
    r: loads.Loads,
    kind: str,
) -> duct_heat.DuctHeat:
    if u.indoor.kind != "ducted":
        return duct_heat.without_ducts(u, c)
    if not u.runs:
        return duct_heat.allowance(u, first, c, duct_heat.surroundings(u, c, day, f), kind)
    flows = ducts.design_flows(u.runs, tree, first.register_m3_s, u.fresh_m3_s)
    return duct_heat.duct_heat(u, tree, flows, first, c, day, f, (r.at(r.house.month), r.house.hour), kind)


def _together(_: Job, *parts: tuple[duct_heat.DuctHeat, airflow.Airflow]) -> duct_heat.DuctHeat:
    """Each room's ducts by the air that the units bring it."""
    air = np.array([a.design_m3_s for _, a in parts])
    whole = air.sum(axis=0)
    return duct_heat.together([x for x, _ in parts], np.divide(air, whole, out=np.zeros_like(air), where=whole > 0))


def _total_flow(u: UnitDesign, unit: Unit | None, r: loads.Loads, c: conditions.Conditions) -> float:
    """As typed, else the unit's; before there is one, what carries the sensible load, and no less than the rule of thumb."""
    if u.indoor.flow_m3_s is not None:
        return u.indoor.flow_m3_s
    if unit is not None:
        return unit.rated_flow_m3_s
    fall = max(c.indoor_cooling.temperature_c - duct_heat.COLD_C, LEAST_FALL_K)
    return max(r.house_sensible_w / (c.sensible_factor * fall), r.house_cooling_w * FALLBACK_FLOW_PER_W)


def _skeleton(memo: Memo, job: Job, blown: list[SystemResults], x: Need, density: float) -> Any:
    """The circuit without its balancing dampers; what they are set to moves nothing of it."""
    if not blown:
        return None
    also = tuple((SKELETON, s.design) for s in blown)
    flows = tuple(s.airflow.total_m3_s for s in blown)
    return memo(BARE_NETWORK, job, _bare, x.geometry, density, flows, *(s.unit for s in blown), also=also)


def _bare(
    job: Job, designs: tuple[UnitDesign, ...], g: Geometry, density: float, flows: tuple[float, ...], *units: Unit
) -> tuple[Circuit, frame.Layout]:
    parts = [frame.AirSystem(u, unit, {}, {}, flow) for u, unit, flow in zip(designs, units, flows, strict=True)]
    return frame.skeleton(job, g, [p for p in parts if p.complete], density, USUAL)


def _network(
    job: Job, designs: tuple[UnitDesign, ...], g: Geometry, density: float, *rest: Any
) -> network.Network | None:
    """The units of the catalogue in their order, the circuit without dampers, then where the search starts, and from what."""
    *chosen, bare, blown, before = rest
    return network.set_network(job, _parts(designs, chosen, blown), bare, before) if bare is not None else None


def _zones_alone(job: Job, designs: tuple[UnitDesign, ...], *rest: Any) -> network.Network | None:
    """The units of the catalogue in their order, then the solved circuit, and where the search starts."""
    *chosen, found, blown, before = rest
    return network.zones_alone(job, _parts(designs, chosen, blown), found, before)


def _parts(designs: tuple[UnitDesign, ...], chosen: list[Any], blown: list[Any]) -> list[frame.AirSystem]:
    return [
        frame.AirSystem.of(u, unit, s.ducts, s.airflow) for u, unit, s in zip(designs, chosen, blown, strict=True)
    ]
