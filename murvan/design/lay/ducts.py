"""Ducts from a placed unit to its registers and grilles: a trunk with branches, or a run of its own for each register."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from itertools import count
from math import ceil, pi, sqrt
from typing import Literal

from murvan.design.lay.pieces import ROUND_M, TRUNK_M, face_towards, level_m, made_of, storey_of, towards_m
from murvan.design.lay.place import placed_unit, suggested
from murvan.design.limits import DOOR_LIMIT_PA, FACE_LIMIT, FLATTEST
from murvan.design.results import Results
from murvan.design.solve import solve
from murvan.design.system.duct_sizes import jacket_m
from murvan.design.system.jump import with_jumps
from murvan.design.system.sizing import size_and_balance
from murvan.design.system.standing import cabinet, plenums_of
from murvan.model.design import DuctRun, Face, IndoorUnit, Joint, Plenum, Register
from murvan.model.edit import changed, replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.house import Storey
from murvan.model.job import Job, Point
from murvan.units import INCH

Scheme = Literal["trunk", "radial"]
NAMES: dict[Scheme, str] = {"trunk": "Trunk and branches", "radial": "A run for each register"}
RETURN_M = (16 * INCH, 10 * INCH)
"""Before they are sized."""
SAME_M = 0.3
"""Branches that leave a trunk this close together leave at one place."""


@dataclass(frozen=True)
class Layout:
    """One way to bring the air, sized, balanced and proved by the air circuit."""

    name: str
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
    tight: int
    """Runs that don't go into the space they lie in."""
    why: str

    @property
    def rank(self) -> tuple[bool, int, int, float]:
        """Within the blower's limit first, then fewest rooms short, fewest runs that don't go in, then least metal."""
        return self.static_pa > self.limit_pa, len(self.short), self.tight, self.metal_m2 + 0.15 * self.flex_m


ENOUGH = 0.95


def layouts(r: Results, unit_id: str) -> tuple[Layout, ...]:
    """Ducts for a unit's registers, the best first; what was drawn for it before is replaced.

    Raises:
        JobValueError: the unit is not ducted or not picked, has no registers, or its blower has no pressure left.
    """
    unit = _ready(r.job, unit_id)
    made = [_proved(r, unit, scheme) for scheme in NAMES]
    return tuple(sorted(made, key=lambda x: x.rank))


def _ready(job: Job, unit_id: str) -> IndoorUnit:
    unit = next((x for x in job.design.indoor_units if x.id == unit_id), None)
    if unit is None or unit.kind != "ducted":
        raise JobValueError("Ducts belong to a ducted unit; take one in hand.")
    if unit.unit is None:
        raise JobValueError(f"Pick a unit for {unit.tag} first (Equipment).")
    sides = {x.side for x in job.design.registers if x.indoor == unit_id}
    if "supply" not in sides:
        raise JobValueError(f"{unit.tag} has no registers yet: press L on Air.")
    if "return" not in sides:
        raise JobValueError(f"{unit.tag} has no return grille yet: press L or G on Air.")
    return unit


def _proved(r: Results, unit: IndoorUnit, scheme: Scheme) -> Layout:
    flow = r.systems[unit.id].airflow.total_m3_s
    drawn = solve(draw(place_unit(r.job, unit.id, flow), unit.id, scheme, flow), r)
    drawn = _with_pressure(solve(_flattened(drawn), drawn), unit.id)
    job = size_and_balance(drawn)
    found = solve(job, drawn)
    jumped: tuple[str, ...] = ()
    if found.network is not None:
        job, jumped = with_jumps(job, found.network, DOOR_LIMIT_PA)
        found = solve(job, found) if jumped else found
    s = found.systems[unit.id]
    runs = [x for x in s.ducts.runs.values() if x.run.side != "fresh"]
    flex = sum(x.length_m for x in runs if x.run.material == "flex")
    metal = sum(_around_m(x.run) * x.length_m for x in runs if x.run.material != "flex")
    predicted = found.predicted_m3_s or {}
    short = tuple(
        room.name
        for k, room in enumerate(job.rooms)
        if s.airflow.served[k] and predicted.get(room.id, 0.0) < ENOUGH * float(s.airflow.design_m3_s[k])
    )
    static = float(s.blower.external_static_pa[0]) if s.blower is not None else float("inf")
    limit = s.unit.blower.limit_pa if s.unit is not None else 0.0
    fittings = sum(p.count for x in runs for p in x.run.pieces)
    tight = sum(f.rule.id == "duct-depth" for f in found.findings)
    why = _why(scheme, short, tight, jumped)
    return Layout(NAMES[scheme], scheme, job, found, static, limit, metal, flex, fittings, short, tight, why)


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
    taps = range(1, len(s.unit.blower.taps_m3_s) + 1) if s.unit is not None else ()
    tried = [solve(replace(job, "indoor_units", unit_id, tap=k), r) for k in taps]
    rates = [x.systems[unit_id].ducts.friction_rate_pa_m for x in tried]
    if not tried:
        return r
    good = next((k for k, rate in enumerate(rates) if rate >= WORKABLE_PA_M), None)
    return tried[good if good is not None else rates.index(max(rates))]


WORKABLE_PA_M = 0.08 * 249.08891 / 30.48
"""0.08 in wc/100 ft; common practice."""
FILTERS_M = tuple(
    (a * INCH, b * INCH) for a, b in ((20, 20), (20, 25), (24, 24), (25, 25), (30, 24), (36, 24), (40, 25))
)
"""Filters that are stocked; common practice."""


def _around_m(run: DuctRun) -> float:
    if run.shape == "round":
        return pi * (run.diameter_m or 0.0)
    return 2 * ((run.width_m or 0.0) + (run.height_m or 0.0))


def _why(scheme: Scheme, short: tuple[str, ...], tight: int, jumped: tuple[str, ...]) -> str:
    words = {
        "trunk": "One trunk along the house carries the air and short branches leave it where the rooms are.",
        "radial": "Every register has its own run from the plenum, so that each is balanced there.",
    }[scheme]
    rest = f" Short of air: {', '.join(short[:5])}." if short else " Every room gets at least 95 % of its air."
    if jumped:
        rest += f" Jump ducts let the air back from {', '.join(jumped)} when the door is shut."
    if tight:
        rest += f" {tight} run{'s are' if tight > 1 else ' is'} deeper than the space there (punch list)."
    return words + rest


def place_unit(job: Job, unit_id: str, flow_m3_s: float | None = None) -> Job:
    """The job with a unit that has no place yet where it goes in: in a place that the survey has for equipment, else in a
    utility room or a hall."""
    unit = next(x for x in job.design.indoor_units if x.id == unit_id)
    if unit.storey is not None or not job.rooms:
        return job
    best = next(suggested(job, unit_id))
    turn, way = best.turn_deg, best.way
    return placed_unit(job, unit_id, best.storey or "", best.position_m, flow_m3_s, way, turn).job


# ---- drawing --------------------------------------------------------------------------------------------------


@dataclass
class _Sheet:
    """What has been drawn so far."""

    job: Job
    unit: IndoorUnit
    plenums: tuple[Plenum, ...]
    joints: list[Joint] = field(default_factory=list)
    runs: list[DuctRun] = field(default_factory=list)
    number: Iterator[int] = field(default_factory=lambda: count(1))

    def joint(self, storey: str, at: Point, height_m: float, face: Face | None = None) -> str:
        new = f"{self.unit.id}-j{next(self.number)}"
        where = (round(at[0], 3), round(at[1], 3))
        self.joints.append(
            Joint(
                id=new, storey=storey, position_m=where, height_m=round(height_m, 3), face=face, face_from_end_m=None
            )
        )
        return new

    def root(self, storey: Storey, at: Point, height_m: float, face: Face) -> str:
        """Where a tree leaves its plenum: at its level, or on the unit's storey and up or down from there."""
        home = next((s for s in self.job.storeys if s.id == self.unit.storey), storey)
        height = height_m if home.id == storey.id else towards_m(self.job, home, storey)
        return self.joint(home.id, at, height, face)

    def run(
        self, tag: str, side: Literal["supply", "return"], start: str, end: str, storey: str, **more: object
    ) -> str:
        new = f"{self.unit.id}-{tag}"
        fields: dict[str, object] = {"shape": "round", "diameter_m": ROUND_M, "damper": None, **more}
        self.runs.append(
            DuctRun.model_validate(
                {
                    "id": new,
                    "tag": tag,
                    "indoor": self.unit.id,
                    "side": side,
                    "start": start,
                    "end": end,
                    "storey": storey,
                    **fields,
                }
            )
        )
        return new


def draw(job: Job, unit_id: str, scheme: Scheme, flow_m3_s: float) -> Job:
    """The job with plenums and ducts of a unit drawn anew, not sized yet."""
    unit = next(x for x in job.design.indoor_units if x.id == unit_id)
    sheet = _Sheet(job, unit, tuple(plenums_of(unit, cabinet(job, unit), flow_m3_s)))
    registers = [x for x in job.design.registers if x.indoor == unit_id]
    supply = [x for x in registers if x.side == "supply"]
    _DRAW[scheme](sheet, supply)
    for k, x in enumerate((x for x in registers if x.side == "return"), 1):
        _home_run(sheet, x, "return", f"RT{k}", rect=RETURN_M)
    d = job.design
    keep_runs = tuple(x for x in d.runs if x.indoor != unit_id)
    used = {j for x in keep_runs for j in (x.start, x.end)}
    return with_design(
        job,
        plenums=(*(x for x in d.plenums if x.indoor != unit_id), *sheet.plenums),
        joints=(*(j for j in d.joints if j.id in used), *sheet.joints),
        runs=(*keep_runs, *sheet.runs),
        readings=tuple(x for x in d.readings if x.at.kind != "run"),
        ticks=tuple(t for t in d.ticks if t.at.kind not in ("run", "plenum")),
    )


def _outlet(sheet: _Sheet, side: str) -> Point:
    return next(p.position_m for p in sheet.plenums if p.side == side)


def _home_run(
    sheet: _Sheet, x: Register, side: Literal["supply", "return"], tag: str, rect: tuple[float, float] | None = None
) -> None:
    """One run from the plenum to a face, along the walls."""
    storey, start = storey_of(sheet.job, x), _outlet(sheet, side)
    height = level_m(x, storey)
    first = sheet.root(storey, start, height, face_towards(start, x.position_m))
    last = sheet.joint(storey.id, x.position_m, height)
    corner = (x.position_m[0], start[1])
    corners = [corner] if min(abs(corner[0] - start[0]), abs(corner[1] - x.position_m[1])) > 0.05 else []
    shape: dict[str, object] = {}
    if rect is not None:
        shape = {"shape": "rectangular", "diameter_m": None, "width_m": rect[0], "height_m": rect[1]}
    sheet.run(
        tag,
        side,
        first,
        last,
        storey.id,
        corners_m=corners,
        register_id=x.id,
        damper=1.0 if side == "supply" else None,
        **{**made_of(storey), **({"material": "galvanised"} if rect is not None else {}), **shape},
    )


def _radial(sheet: _Sheet, registers: list[Register]) -> None:
    for k, x in enumerate(registers, 1):
        _home_run(sheet, x, "supply", f"{x.tag.split()[0]}" if _tags_differ(registers) else f"D{k}")


def _tags_differ(registers: list[Register]) -> bool:
    return len({x.tag.split()[0] for x in registers}) == len(registers)


def _trunks(sheet: _Sheet, registers: list[Register]) -> None:
    """At each level a trunk along the longer way, both ways from the unit, and a branch square to it for each face."""
    names = {x.id: (x.tag.split()[0] if _tags_differ(registers) else f"D{k}") for k, x in enumerate(registers, 1)}
    levels: dict[tuple[str, float], list[Register]] = {}
    for x in registers:
        storey = storey_of(sheet.job, x)
        levels.setdefault((storey.id, level_m(x, storey)), []).append(x)
    for k, ((storey_id, height), here) in enumerate(levels.items(), 1):
        start = _outlet(sheet, "supply")
        xs, ys = [q.position_m[0] for q in here], [q.position_m[1] for q in here]
        axis = 0 if max(xs) - min(xs) >= max(ys) - min(ys) else 1
        for arm, sign in (("a", 1), ("b", -1)):
            side = [
                q
                for q in here
                if (q.position_m[axis] - start[axis]) * sign > 0 or (arm == "a" and q.position_m[axis] == start[axis])
            ]
            if side:
                _arm(sheet, f"T{k}{arm}", storey_id, height, (axis, sign), side, names)


def _arm(
    sheet: _Sheet,
    tag: str,
    storey_id: str,
    height: float,
    way: tuple[int, int],
    registers: list[Register],
    names: dict[str, str],
) -> None:
    """A trunk one way from the plenum, with its branches in their order."""
    axis, sign = way
    start = _outlet(sheet, "supply")
    ordered = sorted(registers, key=lambda q: abs(q.position_m[axis] - start[axis]))
    faces: tuple[Face, Face] = ("east", "west") if axis == 0 else ("south", "north")
    at = sheet.root(storey_of(sheet.job, ordered[0]), start, height, faces[0] if sign > 0 else faces[1])
    wrapped = made_of(storey_of(sheet.job, ordered[0]))["insulation_r_m2k_w"]
    here, n = start[axis], 0
    for k, x in enumerate(ordered):
        place = x.position_m[axis]
        if k == 0 or abs(place - here) > SAME_M:
            n += 1
            point = (place, start[1]) if axis == 0 else (start[0], place)
            end = sheet.joint(storey_id, point, height)
            sheet.run(
                f"{tag}{n}",
                "supply",
                at,
                end,
                storey_id,
                shape="rectangular",
                diameter_m=None,
                width_m=TRUNK_M[0],
                height_m=TRUNK_M[1],
                insulation_r_m2k_w=wrapped,
            )
            at, here = end, place
        _branch(sheet, x, at, storey_id, height, names[x.id])


def _branch(sheet: _Sheet, x: Register, start: str, storey_id: str, height: float, tag: str) -> None:
    end = sheet.joint(storey_id, x.position_m, height)
    from_ = next(j for j in sheet.joints if j.id == start).position_m
    corner = (x.position_m[0], from_[1])
    straight = abs(from_[0] - x.position_m[0]) < 0.02 or abs(from_[1] - x.position_m[1]) < 0.02
    sheet.run(
        tag,
        "supply",
        start,
        end,
        storey_id,
        corners_m=[] if straight else [corner],
        register_id=x.id,
        damper=1.0,
        **made_of(storey_of(sheet.job, x)),
    )


_DRAW: dict[Scheme, Callable[[_Sheet, list[Register]], None]] = {"trunk": _trunks, "radial": _radial}
