"""Ducts from a placed unit to its registers and grilles: a trunk with branches, or a run of its own for each register."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from math import ceil, sqrt
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from shapely import Point as ShapelyPoint
from shapely import Polygon
from shapely.geometry import box as rectangle

from murvan.design.circuit.jump import with_jumps
from murvan.design.ducts.boxing import taken_m2
from murvan.design.ducts.duct_sizes import jacket_m
from murvan.design.ducts.plenums import at_faces, roomy_plenums
from murvan.design.ducts.runs import rate_of, run_perimeter_m
from murvan.design.lay.pieces import Side, storey_of
from murvan.design.lay.place import placed_unit, suggested, usual_way
from murvan.design.lay.registers import lay_registers
from murvan.design.lay.routing import Lain, Terminal, grown, lain, taken
from murvan.design.lay.sizing import size_and_balance
from murvan.design.lay.space import Space, allowed
from murvan.design.lay.squaring import square
from murvan.design.lay.trees import DuctSheet, lay_tree
from murvan.design.limits import DOOR_LIMIT_PA, FACE_LIMIT, FLATTEST, WORKABLE_PA_M
from murvan.design.results import Results
from murvan.design.solve import solve
from murvan.design.space.clashes import clashes, legs_of
from murvan.design.space.duct_spaces import lay as lay_as_they_are
from murvan.design.space.plenum_faces import air_way, plan_size
from murvan.design.space.solids import blocks
from murvan.design.space.standing import cabinet, clear_of, flat, plenums_of
from murvan.design.study.balancing import balanced
from murvan.design.units.unit_losses import fan_curve
from murvan.design.zones.plans import with_dampers
from murvan.kinds.registers import REGISTERS
from murvan.model.design import IndoorUnit, Plenum, Reading, Register
from murvan.model.design_edit import free_name
from murvan.model.edit import changed, free_id, replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Point, Ref
from murvan.units import INCH

Scheme = Literal["trunk", "tree", "twin", "radial", "interior"]
Spaces = dict[tuple[Point, ...], Space]
NAMES: dict[Scheme, str] = {
    "trunk": "Trunk and branches",
    "tree": "Shortest tree",
    "twin": "Twin trunks",
    "radial": "A run for each register",
    "interior": "Short, interior registers",
}


@dataclass(frozen=True)
class Layout:
    """One way to bring the air, sized, balanced and proved by the air circuit."""

    name: str
    unit: str
    """Id of the unit it is for; the first of several."""
    scheme: Scheme
    job: Job
    results: Results
    static_pa: float
    limit_pa: float
    metal_m2: float
    flex_m: float
    fittings: int
    short: tuple[str, ...]
    """Names of rooms that get less than 95 % of their air."""
    clashes: int
    """Pairs of runs that want the same place."""
    tight: int
    """Runs that don't go into the space they lie in."""
    unreached: tuple[tuple[str, str], ...]
    """Rooms, by id, that no duct can be brought to, and what stands in the way."""
    heat_w: float
    """Lost outside the shell on the design night."""
    loudest_nc: float | None
    """Of its registers and grilles; None where none says."""
    loud: int
    """Registers that are heard."""
    taken_m2: float
    """Of rooms: floor of chases, ceiling of soffits that have to be framed."""
    why: str

    @property
    def rank(self) -> tuple[bool, int, int, int, int, bool, float]:
        """Within the blower's limit first, then fewest rooms without ducts, fewest runs that want one place or do not go in,
        fewest rooms short, fewest registers that are heard; registers left where they are before such as are moved, then what it costs."""
        over, moved = self.static_pa > self.limit_pa, self.scheme == "interior"
        return over, len(self.unreached), self.clashes + self.tight, len(self.short), self.loud, moved, self.cost_m2

    @property
    def cost_m2(self) -> float:
        """Metal, and what flex, lost heat and room taken are worth as such."""
        return self.metal_m2 + FLEX_M2 * self.flex_m + HEAT_M2 * self.heat_w + TAKEN_M2 * self.taken_m2


FLEX_M2, HEAT_M2, TAKEN_M2 = 0.15, 0.01, 5.0
"""Sheet that a metre of flex, a watt lost on the design night and a square metre of room are worth; common practice."""
ENOUGH = 0.95


def layouts(r: Results, unit_id: str, step: Callable[[int, int], bool] = lambda k, of: True) -> tuple[Layout, ...]:
    """Ducts for a unit in up to five ways, the best first; what was drawn for it before is replaced. It is placed, and its
    registers and grilles are laid, where they are missing.

    Args:
        step: Told how many ways are done, and of how many; False stops the search with what there is.

    Raises:
        JobValueError: the unit is not ducted or not picked, no register can be laid, or its blower has no pressure left.
    """
    unit = _ready(r.job, unit_id)
    stands = place_unit(r.job, unit_id, r.systems[unit_id].airflow.total_m3_s)
    r = solve(stands, r) if stands is not r.job else r
    unit = next(x for x in r.job.design.indoor_units if x.id == unit_id)
    if {x.side for x in r.job.design.registers if x.indoor == unit_id} != {"supply", "return"}:
        r = solve(lay_registers(r, unit_id), r)
    made: list[Layout] = []
    spaces: Spaces = {}
    trouble: JobValueError | None = None
    for k, scheme in enumerate(NAMES):
        try:
            one = _clear_of_itself(r, unit, scheme, spaces)
        except JobValueError as exc:  # one way may need more pressure than there is where another does not
            trouble = exc
        else:
            if all(not _same(one, x) for x in made):
                made.append(one)
        if not step(k + 1, len(NAMES)):
            break
    if not made and trouble is not None:
        raise trouble
    best = sorted(made, key=lambda x: x.rank)
    # two ducts in one place are offered to nobody who can have ducts that go in
    return tuple(x for x in best if not x.clashes or best[0].clashes)


def kept_layout(job: Job, x: Layout) -> Job:
    """The job with a layout among the designs set aside, under a name of its own. Raises JobValueError."""
    designs = (job.design, *job.options)
    names = {d.name for d in designs}
    new = free_id("layout", {d.id for d in designs})
    name = free_name(job, x.name) if x.name in names else x.name
    kept = changed(x.job.design, name, id=new, name=name, note=x.why[:2000])
    return changed(job, job.name, options=(*job.options, kept))


def _same(a: Layout, b: Layout) -> bool:
    """Whether two ways came out alike."""
    return abs(a.metal_m2 - b.metal_m2) < 1e-6 and abs(a.flex_m - b.flex_m) < 1e-6 and a.fittings == b.fittings


def _ready(job: Job, unit_id: str) -> IndoorUnit:
    unit = next((x for x in job.design.indoor_units if x.id == unit_id), None)
    if unit is None or unit.kind != "ducted":
        raise JobValueError("Ducts belong to a ducted unit; take one in hand.")
    if unit.unit is None:
        raise JobValueError(f"Pick a unit for {unit.tag} first (Equipment).")
    return unit


AGAIN = 3
"""How often a way is laid anew that has ducts in each other; one run for each register has too many to undo."""


def _clear_of_itself(r: Results, unit: IndoorUnit, scheme: Scheme, spaces: Spaces) -> Layout:
    """A way, laid anew round the places where ducts would lie in each other: the fewest of those that were tried."""
    avoid: tuple[Point, ...] = ()
    best = one = _proved(r, unit, scheme, spaces, avoid)
    for _ in range(AGAIN if scheme != "radial" else 0):
        if not one.clashes:
            break
        d = one.job.design
        avoid += tuple(x.at for x in clashes(legs_of(one.results.laid, d.joints, one.job.storeys)))
        one = _proved(r, unit, scheme, spaces, avoid)
        best = min(best, one, key=lambda x: x.rank)
    return best


def _proved(r: Results, unit: IndoorUnit, scheme: Scheme, spaces: Spaces, avoid: tuple[Point, ...]) -> Layout:
    flow = r.systems[unit.id].airflow.total_m3_s
    job = r.job
    if scheme == "interior":
        job = _with_interior(solve(job, r), unit.id)
    job, missed = draw(job, unit.id, scheme, flow, spaces, avoid)
    if job.design.zones:
        job = with_dampers(job, job.design.zones)
    drawn = solve(job, r)
    drawn = solve(_bare_inside(drawn), drawn)
    # wrapped before they are sized: what ducts lose on the way decides how much air goes by them
    drawn = _with_pressure(_wrapped(solve(_flattened(drawn), drawn)), unit.id)
    found = _lowest_tap(_sized(drawn, unit.id), unit.id)
    job = found.job
    boxes = roomy_plenums(job, found.laid, {i: x.flow_m3_s for i, x in found.runs.items()})
    standing = at_faces(with_design(job, plenums=boxes))
    if standing != job:
        job = standing
        found = solve(job, found)
    jumped: tuple[str, ...] = ()
    if found.network is not None:
        job, jumped = with_jumps(job, found.network, DOOR_LIMIT_PA)
        found = solve(job, found) if jumped else found
    wrapped = _wrapped(found)
    if wrapped is not found:
        found = solve(balanced(wrapped), wrapped)
    return _judged(found, unit.id, scheme, _in_the_way(found.job, missed), jumped)


def _judged(
    found: Results, unit: str, scheme: Scheme, unreached: tuple[tuple[str, str], ...], jumped: tuple[str, ...]
) -> Layout:
    """What a way comes to."""
    s = found.systems[unit]
    short = _short_of(found, unit)
    static = float(s.blower.external_static_pa[0]) if s.blower is not None else float("inf")
    metal, flex, fittings = _bought(found, (unit,))
    clash, tight, loud = (_counted(found, rule) for rule in COUNTED)
    return Layout(
        name=NAMES[scheme],
        unit=unit,
        scheme=scheme,
        job=found.job,
        results=found,
        static_pa=static,
        limit_pa=s.unit.blower.limit_pa if s.unit is not None else 0.0,
        metal_m2=metal,
        flex_m=flex,
        fittings=fittings,
        short=short,
        clashes=clash,
        tight=tight,
        unreached=unreached,
        heat_w=_heat_w(found, (unit,)),
        loudest_nc=max((t.noise_nc for t in s.terminals.values() if t.noise_nc is not None), default=None),
        loud=loud,
        taken_m2=sum(taken_m2(x) for x in found.laid),
        why=_why(scheme, short, clash, tight, jumped, unreached),
    )


COUNTED = ("duct-clash", "duct-depth", "register-loud")


def _counted(found: Results, rule: str) -> int:
    return sum(f.rule.id == rule for f in found.findings)


def _bought(found: Results, units: tuple[str, ...]) -> tuple[float, float, int]:
    """Sheet, m2, flex, m, and fittings of the ducts of some units."""
    runs = [x for u in units for x in found.systems[u].ducts.runs.values() if x.run.side != "fresh"]
    metal = sum(run_perimeter_m(x.run) * x.length_m for x in runs if not x.run.made_of.bends)
    return (
        metal,
        sum(x.length_m for x in runs if x.run.made_of.bends),
        sum(p.count for x in runs for p in x.run.pieces),
    )


def _heat_w(found: Results, units: tuple[str, ...]) -> float:
    heat = (x for u in units for x in found.systems[u].duct_heat.runs.values())
    return sum(x.heating_w for x in heat if x.place not in SHELTERED)


def of_the_house(x: Layout, others: tuple[Layout, ...]) -> Layout:
    """A layout with those of further units that were laid round it, one after the other: what all of them come to."""
    found = others[-1].results
    units = tuple(found.systems)
    metal, flex, fittings = _bought(found, units)
    clash, tight, loud = (_counted(found, rule) for rule in COUNTED)
    tags = {u.id: u.tag for u in found.job.design.indoor_units}
    words = "".join(f" {tags[o.unit]}: {o.why}" for o in others)
    return dataclasses.replace(
        x,
        job=found.job,
        results=found,
        metal_m2=metal,
        flex_m=flex,
        fittings=fittings,
        short=(*x.short, *(room for o in others for room in o.short)),
        clashes=clash,
        tight=tight,
        unreached=(*x.unreached, *(u for o in others for u in o.unreached)),
        heat_w=_heat_w(found, units),
        loudest_nc=max((o.loudest_nc for o in (x, *others) if o.loudest_nc is not None), default=None),
        loud=loud,
        taken_m2=sum(taken_m2(run) for run in found.laid),
        why=f"{x.why}{words}",
    )


SHELTERED = ("inside", "basement")
"""Where the heat of ducts is not lost to the house."""


def _in_the_way(job: Job, missed: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
    """Rooms whose face no way leads to, with what stands in the way and what would help."""
    rooms = {r.id: r for r in job.rooms}
    out = {}
    for x in (x for x in job.design.registers if x.id in missed):
        storey = storey_of(job, x)
        level = "floor" if REGISTERS[x.kind].fed == "below" else "ceiling"
        s = storey.floor_structure if level == "floor" else storey.ceiling_structure
        what = (
            "joists lie across the way" if s is not None else f"nothing above its {level} is high enough for a duct"
        )
        help_ = "a dropped ceiling in the hall, or open-web trusses" if s is not None else "another kind of register"
        out[x.room] = f"{what} to {rooms[x.room].name}; {help_} would help"
    return tuple(out.items())


def _with_interior(r: Results, unit_id: str) -> Job:
    """The job with the supply registers of a unit laid anew at the inside walls."""
    job = r.job
    kept = tuple(x for x in job.design.registers if x.indoor != unit_id or x.side == "return")
    gone = {x.id for x in job.design.registers} - {x.id for x in kept}
    job = with_design(
        job,
        registers=kept,
        runs=tuple(x for x in job.design.runs if x.register_id not in gone and x.indoor != unit_id),
        readings=_of_gone_faces(job, gone, unit_id),
        ticks=tuple(x for x in job.design.ticks if x.at.kind != "register" or x.at.id not in gone),
    )
    return lay_registers(solve(job, r), unit_id, interior=True)


def _of_gone_faces(job: Job, gone: set[str], unit_id: str) -> tuple[Reading, ...]:
    """All readings; those of registers that have gone are kept with the unit, and say where they were taken."""
    tags = {x.id: x.tag for x in job.design.registers}

    def kept(x: Reading) -> Reading:
        if x.at.kind != "register" or x.at.id not in gone:
            return x
        note = f"{x.note} Read at {tags[x.at.id]}, which has gone.".strip()[-1000:]
        return changed(x, x.id, at=Ref("indoor_unit", unit_id), note=note)

    return tuple(kept(x) for x in job.design.readings)


def _bare_inside(r: Results) -> Job:
    """Metal ducts inside the shell without wrap, whatever the others of their storey have: in a joist space every inch counts."""
    lies = {x.id: x.lies_in for x in r.laid}
    runs = tuple(
        changed(x, x.tag, insulation_r_m2k_w=0.0) if lies[x.id] == "inside" and not x.made_of.bends else x
        for x in r.job.design.runs
    )
    return with_design(r.job, runs=runs)


def _flattened(r: Results) -> Job:
    """Rectangular ducts no deeper than it is clear where they lie, as far as 4 to 1 goes; their width follows when they are
    sized."""
    runs = []
    lies = {x.id: x for x in r.laid}
    for run in r.job.design.runs:
        clear = lies[run.id].clear
        deep = run.height_m or 0.0
        if run.shape == "rectangular" and clear is not None and deep + jacket_m(run) > clear[1]:
            air = r.runs[run.id]
            least = sqrt(air.flow_m3_s / air.velocity_limit_m_s / FLATTEST)
            inches = ceil(max(clear[1] - jacket_m(run) - INCH, FLATTEST_M, least) / INCH - 1e-6)
            run = changed(run, run.tag, height_m=min(inches * INCH, deep))
        runs.append(run)
    return with_design(r.job, runs=tuple(runs))


FLATTEST_M = 4 * INCH
"""Least depth; common practice."""


def _with_pressure(r: Results, unit_id: str) -> Results:
    """The same at the lowest tap that leaves a workable friction rate; at the one that leaves most where none does. The
    filter is as large as its air wants."""
    unit = next(x for x in r.job.design.indoor_units if x.id == unit_id)
    s = r.systems[unit_id]
    job = r.job
    face = s.airflow.total_m3_s / FACE_LIMIT["filter"]
    if unit.filter.width_m * unit.filter.height_m < face:
        wide, high = next((f for f in FILTERS_M if f[0] * f[1] >= face), FILTERS_M[-1])
        bigger = changed(unit.filter, "Filter", width_m=wide, height_m=high)
        job = replace(job, "indoor_units", unit_id, filter=bigger)
    if s.unit is None:
        return r
    r = solve(job, r)
    s = r.systems[unit_id]
    assert s.unit is not None
    density, flow = r.conditions.density_kg_m3, s.airflow.total_m3_s
    taps = range(1, len(s.unit.blower.taps_m3_s) + 1)
    rates = [rate_of(s.ducts, fan_curve(s.unit, k, density).single(flow)[0]) for k in taps]
    good = next((k for k, rate in enumerate(rates) if rate >= WORKABLE_PA_M), None)
    tap = 1 + (good if good is not None else rates.index(max(rates)))
    return solve(replace(job, "indoor_units", unit_id, tap=tap), r)


def _sized(r: Results, unit_id: str) -> Results:
    """The same sized and balanced; ducts that came out so large that they hardly leave a workable rate once more on the next
    tap."""
    while True:
        found = solve(size_and_balance(r), r)
        s, tap = found.systems[unit_id], next(x.tap for x in r.job.design.indoor_units if x.id == unit_id)
        taps = len(s.unit.blower.taps_m3_s) if s.unit is not None else 0
        if s.ducts.friction_rate_pa_m >= WORKABLE_PA_M or tap >= taps:
            return found
        r = solve(replace(r.job, "indoor_units", unit_id, tap=tap + 1), r)


def _wrapped(r: Results) -> Results:
    """The same with as much insulation as keeps the ducts dry, and as the attic wants."""
    job = r.job
    for f in r.findings:
        if f.rule.id in ("duct-sweats", "attic-wrap") and f.hit.fix is not None:
            job = f.hit.fix(job)
    return solve(job, r) if job != r.job else r


def _lowest_tap(r: Results, unit_id: str) -> Results:
    """The same on the lowest tap on which every room still gets its air, balanced there: what a higher one makes is burnt in
    dampers."""
    while True:
        tap = next(x.tap for x in r.job.design.indoor_units if x.id == unit_id) - 1
        if tap < 1 or r.network is None:
            return r
        tried = solve(replace(r.job, "indoor_units", unit_id, tap=tap), r)
        tried = solve(balanced(tried), tried)
        if _short_of(tried, unit_id):
            return r
        r = tried


def _short_of(r: Results, unit_id: str) -> tuple[str, ...]:
    """Names of the rooms of a unit that get less than 95 % of their air."""
    s, predicted = r.systems[unit_id], r.predicted_m3_s or {}
    return tuple(
        room.name
        for k, room in enumerate(r.job.rooms)
        if s.airflow.served[k] and predicted.get(room.id, 0.0) < ENOUGH * float(s.airflow.design_m3_s[k])
    )


FILTERS_M = tuple(
    (a * INCH, b * INCH) for a, b in ((20, 20), (20, 25), (24, 24), (25, 25), (30, 24), (36, 24), (40, 25))
)
"""Filters that are stocked; common practice."""


def _why(
    scheme: Scheme,
    short: tuple[str, ...],
    clash: int,
    tight: int,
    jumped: tuple[str, ...],
    unreached: tuple[tuple[str, str], ...],
) -> str:
    words = {
        "trunk": "One trunk along the house carries the air and short branches leave it where the rooms are.",
        "tree": "Ducts share their way and part as late as they can.",
        "twin": "Two trunks side by side carry the air, so that branches are short.",
        "radial": "Every register has its own run from the plenum, so that each is balanced there.",
        "interior": "Registers are moved to inside walls near the unit, so that ducts are short; for a tight and well insulated house.",
    }[scheme]
    rest = f" Short of air: {', '.join(short[:5])}." if short else " Every room gets at least 95 % of its air."
    if jumped:
        rest += f" Jump ducts let the air back from {', '.join(jumped)} when the door is shut."
    if unreached:
        rest += f" No duct gets to them: {'; '.join(words for _, words in unreached[:3])}."
    if clash:
        rest += f" {clash} pair{'s' if clash > 1 else ''} of ducts want{'' if clash > 1 else 's'} the same place (punch list)."
    if tight:
        rest += f" {tight} run{'s are' if tight > 1 else ' is'} deeper than the space there (punch list)."
    return words + rest


def place_unit(job: Job, unit_id: str, flow_m3_s: float | None = None) -> Job:
    """The job with a unit that has no place yet where it goes in: in a place that the survey has for equipment, else in a
    utility room or a hall. A flat one that stands upright has none either: a design that was offered said but its storey."""
    unit = next(x for x in job.design.indoor_units if x.id == unit_id)
    upright = flat(cabinet(job, unit)) and unit.way in ("upflow", "downflow")
    if not job.rooms or (unit.storey is not None and not upright):
        return job
    found = list(suggested(job, unit_id))
    best = next((x for x in found if x.storey == unit.storey), found[0] if unit.storey is None else None)
    if best is None:
        best = changed(unit, unit.tag, way=usual_way(job, unit.storey or "", unit.position_m, cabinet(job, unit)))
    turn, way = best.turn_deg, best.way
    return placed_unit(job, unit_id, best.storey or "", best.position_m, flow_m3_s, way, turn).job


# ---- drawing --------------------------------------------------------------------------------------------------


def draw(
    job: Job,
    unit_id: str,
    scheme: Scheme,
    flow_m3_s: float,
    spaces: Spaces | None = None,
    avoid: tuple[Point, ...] = (),
) -> tuple[Job, tuple[str, ...]]:
    """The job with plenums and ducts of a unit drawn anew, not sized yet; and the faces that no way leads to, by id.

    Args:
        spaces: The allowed space by the places that it has to have, kept from one scheme to the next.
        avoid: Where supplies go round: ducts wanted one place there.
    """
    unit = next(x for x in job.design.indoor_units if x.id == unit_id)
    plenums = tuple(plenums_of(unit, cabinet(job, unit), flow_m3_s, clear_of(job, unit)))
    outlet = {p.side: p.position_m for p in plenums}
    faces = {x.id: x for x in job.design.registers if x.indoor == unit_id}
    sheet = DuctSheet(job, unit)
    missed: list[str] = []
    other = tuple(x for x in lay_as_they_are(job) if x.indoor != unit_id)
    lie = [Lain(x.a, x.b, x.low_m, x.high_m, x.half_m) for x in legs_of(other, job.design.joints, job.storeys)]
    stand = [rectangle(*b.low[:2], *b.high[:2]) for b in blocks(job) if b.owner != unit_id]
    for side in SIDES:
        mine = {i: x for i, x in faces.items() if x.side == side}
        beside = [p for p in plenums if p.side != side]
        through = (outlet[side], *(p.position_m for p in beside), *(x.position_m for x in mine.values()))
        space = spaces.get(through) if spaces is not None else None
        if space is None:
            space = allowed(job, through, outlet[side], unit.storey or "")
            if spaces is not None:
                spaces[through] = space
        root = [(k, outlet[side]) for k, x in enumerate(space.layers) if x.storey == unit.storey]
        if not root:
            raise JobValueError(_nowhere(job, unit))
        terminals = tuple(Terminal(i, tuple(_spots(job, space, x))) for i, x in mine.items())
        share = side == "return" or scheme != "radial"
        boxes = [*stand, *(_footprint(unit, p) for p in beside)]
        if side == "supply":
            boxes += [ShapelyPoint(q).buffer(ROUND_M) for q in avoid]
        shut = taken(space, lie, boxes)
        routed = grown(space, root, terminals, share, _along_trunks(space, scheme, outlet[side], mine), shut)
        square(routed.root, {i: x.position_m for i, x in mine.items()})
        lie += lain(space, routed.root, flow_m3_s)
        lay_tree(sheet, space, routed, side, mine)
        missed += routed.unreached
    d = job.design
    keep_runs = tuple(x for x in d.runs if x.indoor != unit_id)
    used = {j for x in keep_runs for j in (x.start, x.end)}
    return (
        with_design(
            job,
            plenums=(*(x for x in d.plenums if x.indoor != unit_id), *plenums),
            joints=(*(j for j in d.joints if j.id in used), *sheet.joints),
            runs=(*keep_runs, *sheet.runs),
            layout=d.layout + (len(keep_runs) < len(d.runs)),
            ticks=tuple(t for t in d.ticks if t.at.kind not in ("run", "plenum")),
        ),
        tuple(missed),
    )


ROUND_M = 0.2
"""How far round a place where ducts would meet they keep off it, with what `taken` adds."""


def _footprint(unit: IndoorUnit, box: Plenum) -> Polygon:
    """Where a plenum stands on the plan."""
    (x, y), (wide, deep) = box.position_m, plan_size(box, air_way(unit, box.side))
    return rectangle(x - wide / 2, y - deep / 2, x + wide / 2, y + deep / 2)


def _nowhere(job: Job, unit: IndoorUnit) -> str:
    """Why no duct can start at a unit."""
    storey = next((s.name for s in job.storeys if s.id == unit.storey), "no storey")
    return f"{unit.tag} stands on {storey}, where no room is drawn: draw its rooms (House), or place the unit elsewhere (U)."


SIDES: tuple[Side, ...] = ("supply", "return")


LEVELS = {"below": ("under",), "above": ("over",), "wall": ("over", "under")}
"""From where faces are met."""


def _spots(job: Job, space: Space, face: Register) -> Iterator[tuple[int, Point]]:
    """The levels at which a face is met."""
    for level in LEVELS[REGISTERS[face.kind].fed]:
        yield space.layer(storey_of(job, face).id, level), face.position_m


def _along_trunks(space: Space, scheme: Scheme, start: Point, faces: dict[str, Register]) -> NDArray[np.bool_] | None:
    """Nodes along which a scheme wants its trunks: the longer way of the faces through the outlet, or two beside it."""
    if scheme not in ("trunk", "twin", "interior") or not faces:
        return None
    at = np.array([x.position_m for x in faces.values()])
    axis = 0 if np.ptp(at[:, 0]) >= np.ptp(at[:, 1]) else 1
    across, lines = at[:, 1 - axis], space.ys if axis == 0 else space.xs
    if scheme == "twin":
        middle = float(np.median(across))
        wanted = [float(np.median(half)) for half in (across[across <= middle], across[across > middle]) if len(half)]
    else:
        wanted = [start[1 - axis]]
    cheap = np.zeros((len(space.layers), len(space.ys), len(space.xs), 2), bool)
    for value in wanted:
        k = int(np.argmin(np.abs(lines - value)))
        if axis == 0:
            cheap[:, k, :, 0] = True
        else:
            cheap[:, :, k, 1] = True
    return cheap.ravel()
