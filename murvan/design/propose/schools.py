"""What to do with air that zones which are shut don't take: every school tried on this house, and which one Murvan would take."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from math import ceil, pi, sqrt

from murvan.design.ducts.duct_sizes import next_size
from murvan.design.results import Results, SystemResults
from murvan.design.solve import solve
from murvan.design.zones.calling import COLD, ICES, ICES_FULL, OVER_LIMIT, ZoneCall, asked_m3_s, owner, zone_calls
from murvan.model.design import Bypass, Zone
from murvan.model.edit import changed, replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import DuctRun, Job
from murvan.units import FPM, INCH

BYPASS_SPEED = 1000 * FPM
"""In a bypass that takes all it has to; common practice."""
OPENS_OVER = 1.1
"""Set pressure of a bypass over what stands there while all zones call, so that it is shut then; common practice."""
STOPS = (0.15, 0.25, 0.35, 0.5)
"""Openings tried for stops and for the zone that takes the rest."""


@dataclass(frozen=True)
class School:
    """One way, as it would be in this job."""

    key: str
    name: str
    job: Job
    calls: tuple[ZoneCall, ...]
    bypass_m: float | None
    """Diameter of its bypass."""
    stop: float | None
    """Opening that dampers keep."""
    wasted_by_call: tuple[float, ...]
    """Of the blower's air, what goes back unused or to zones that don't call, as a share, by combination."""
    trouble: str = ""
    """Why it can't be done here."""

    @property
    def wasted(self) -> float:
        """Of the combination that wastes most."""
        return max(self.wasted_by_call, default=0.0)

    @property
    def failing(self) -> tuple[ZoneCall, ...]:
        """Combinations in which something is wrong."""
        return tuple(x for x in self.calls if x.findings)

    @property
    def amiss(self) -> int:
        """Combinations in which something is wrong or most of the air goes elsewhere."""
        return sum(bool(x.findings) or w > ASTRAY for x, w in zip(self.calls, self.wasted_by_call, strict=True))

    @property
    def wrong(self) -> tuple[tuple[str, int], ...]:
        """What is wrong, each once with the number of combinations."""
        counts: dict[str, int] = {}
        for call in self.calls:
            for words in call.findings:
                counts[words] = counts.get(words, 0) + 1
        return tuple(counts.items())

    @property
    def coldest_c(self) -> float | None:
        """Coil surface at full capacity of the coldest combination."""
        return min((x.coil.surface_c for x in self.calls if x.coil is not None), default=None)


def schools(r: Results, cancelled: Callable[[], bool] = lambda: False) -> tuple[School, ...] | None:
    """Every school on this house, the one that Murvan would take first; None when cancelled.

    Raises:
        JobValueError: there are no zones with dampers, or the air can't be worked out.
    """
    if not r.damped_zones:
        raise JobValueError("No zone has a damper in the ducts: press N on Ducts to put one in, or P on Air, Zones.")
    s = owner(r, r.damped_zones)
    out = []
    for make in (_plain, _turned_down, _stops, _dumped, _larger, _barometric, _modulating):
        if cancelled():
            return None
        out.append(make(r, s))
    return tuple(sorted(out, key=_rank))


def plainest(r: Results) -> School:
    """The least wrong of the ways that need nothing but dampers and the unit as it is. Raises like `schools`."""
    s = owner(r, r.damped_zones)
    return min((_plain(r, s), _turned_down(r, s), _stops(r, s)), key=_rank)


def _rank(x: School) -> tuple[float, ...]:
    """Those that can be done, the least wrong in all combinations together, the least waste, the least to build."""
    wrong = sum(HARD if words in HARD_WORDS else 1.0 for c in x.calls for words in c.findings)
    astray = sum(w > ASTRAY for w in x.wasted_by_call)
    return (float(bool(x.trouble)), wrong + astray, round(x.wasted, 1), ORDER.index(x.key))


HARD, HARD_WORDS = 3.0, (OVER_LIMIT, ICES, ICES_FULL, COLD)
"""What breaks a unit weighs more than what is heard or felt; Murvan's weight."""
ASTRAY = 0.4
"""Share of the blower's air that goes elsewhere from which on a zone is one in name only; common practice."""


ORDER = ("plain", "turns_down", "larger", "stops", "dump", "barometric", "modulating")
"""The least to build and to go wrong first."""


def why(best: School, plain: School) -> Iterator[str]:
    """Why Murvan would take a school, in short sentences."""
    if best.trouble:
        yield "None of them can be done here."
        return
    n, before, after = len(best.calls), len(plain.failing), len(best.failing)
    if best.key == "plain":
        yield "Nothing else does better here." if before else "With dampers alone every combination works."
        return
    yield f"Dampers alone: {before} of {n} combinations wrong."
    yield f"{best.name}: {after} of {n}." if after else f"{best.name}: all work."
    if best.wasted > ASTRAY:
        yield "It costs air: rooms that don't call get some."


def _made(
    r: Results, key: str, name: str, job: Job, bypass: Bypass | None = None, stop: float | None = None
) -> School:
    calls = zone_calls(solve(job, r))
    width = bypass.diameter_m if bypass is not None else None
    return School(key, name, job, calls, width, stop, tuple(_wasted(r, x) for x in calls))


def _wasted(r: Results, x: ZoneCall) -> float:
    """Share of the blower's air that does not go to the zones that call."""
    calling = {i for z in r.job.design.zones if z.id in x.zones for i in z.rooms}
    zoned = {i for z in r.damped_zones for i in z.rooms}
    astray = sum(v for i, v in x.rooms_m3_s.items() if i in zoned - calling)
    return (astray + x.bypass_m3_s) / max(x.flow_m3_s, 1e-9)


def _bare(job: Job, s: SystemResults) -> Job:
    """The job without bypass and stops, its blower as it is set."""
    job = replace(job, "indoor_units", s.design.id, bypass=None, turns_down=False)
    return with_design(job, zones=tuple(changed(z, z.name, least=0.0) for z in job.design.zones))


def _plain(r: Results, s: SystemResults) -> School:
    return _made(r, "plain", "Dampers alone", _bare(r.job, s))


def _turned_down(r: Results, s: SystemResults) -> School:
    name = "Blower turns down"
    unit = s.unit
    if unit is None or unit.stages == "single":
        return _cant("turns_down", name, r.job, "its unit has one stage")
    if s.design.indoor.tap < 2:
        return _cant("turns_down", name, r.job, "its blower is on its lowest tap")
    return _made(r, "turns_down", name, replace(_bare(r.job, s), "indoor_units", s.design.id, turns_down=True))


def _cant(key: str, name: str, job: Job, words: str) -> School:
    return School(key, name, job, (), None, None, (), words)


def _stops(r: Results, s: SystemResults) -> School:
    """Every damper keeps the least opening with which nothing is wrong, or the widest that is tried."""
    bare = _bare(r.job, s)

    def with_stop(least: float) -> Job:
        return with_design(bare, zones=tuple(changed(z, z.name, least=least) for z in bare.design.zones))

    return _first_good(r, "stops", "Stop on every damper", with_stop)


def _dumped(r: Results, s: SystemResults) -> School:
    """The zone with the most air keeps its dampers open a little, so that the others find room."""
    bare = _bare(r.job, s)
    most = max(r.damped_zones, key=lambda z: asked_m3_s(r, (z,)))
    return _first_good(
        r, "dump", f"{most.name} takes the rest", lambda least: replace(bare, "zones", most.id, least=least)
    )


def _first_good(r: Results, key: str, name: str, make: Callable[[float], Job]) -> School:
    found = None
    for least in STOPS:
        found = _made(r, key, name, make(least), stop=least)
        if not found.failing:
            break
    assert found is not None
    return found


def _larger(r: Results, s: SystemResults) -> School:
    """Every run of the smallest zone a size up, twice."""
    small = smallest(r)
    job = _bare(r.job, s)
    faces = {x.id for x in job.design.registers if x.room in small.rooms and x.side == "supply"}
    runs = tuple(_up(_up(x)) if x.register_id in faces else x for x in job.design.runs)
    return _made(r, "larger", f"Larger ducts to {small.name}", with_design(job, runs=runs))


def _up(run: DuctRun) -> DuctRun:
    return changed(run, run.tag, **next_size(run))


def smallest(r: Results) -> Zone:
    """The zone with the least air."""
    return min(r.damped_zones, key=lambda z: asked_m3_s(r, (z,)))


def bypass_for(r: Results, s: SystemResults) -> Bypass:
    """A bypass for what the smallest zone leaves of the blower's air, that is shut while all zones call."""
    all_of_it = s.airflow.total_m3_s
    left = max(all_of_it - asked_m3_s(r, (smallest(r),)), 0.0)
    wide = ceil(sqrt(4 * left / BYPASS_SPEED / pi) / INCH) * INCH
    return Bypass(diameter_m=min(max(wide, 6 * INCH), 20 * INCH), opens_pa=max(_across_pa(r, s) * OPENS_OVER, 5.0))


def _across_pa(r: Results, s: SystemResults) -> float:
    """From the supply plenum to the return while all zones call."""
    n = r.network
    if n is None or s.design.id not in n.layout.units:
        return 50.0
    at, p = n.layout.units[s.design.id], n.solution.pressure_pa[0]
    return float(p[at.supply_node] - p[at.return_node])


def _barometric(r: Results, s: SystemResults) -> School:
    return _bypassed(r, s, "barometric", "Bypass, weighted blade")


def _modulating(r: Results, s: SystemResults) -> School:
    return _bypassed(r, s, "modulating", "Bypass with a motor")


def _bypassed(r: Results, s: SystemResults, kind: str, name: str) -> School:
    bare = _bare(r.job, s)
    own = changed(bypass_for(r, s), name, kind=kind)
    return _made(r, kind, name, replace(bare, "indoor_units", s.design.id, bypass=own), own)


def take_up(job: Job, x: School) -> Job:
    """The job with what a school puts in. Raises JobValueError where it can't be done."""
    if x.trouble:
        raise JobValueError(f"{x.name}: {x.trouble}.")
    units = {u.id: u for u in x.job.design.indoor_units}
    least = {z.id: z.least for z in x.job.design.zones}
    sizes = {r.id: r for r in x.job.design.runs}
    return with_design(
        job,
        indoor_units=tuple(
            changed(u, u.tag, bypass=units[u.id].bypass, turns_down=units[u.id].turns_down) if u.id in units else u
            for u in job.design.indoor_units
        ),
        zones=tuple(changed(z, z.name, least=least.get(z.id, 0.0)) for z in job.design.zones),
        runs=tuple(_sized_as(r, sizes.get(r.id)) for r in job.design.runs),
    )


SIZE = ("diameter_m", "width_m", "height_m")


def _sized_as(run: DuctRun, other: DuctRun | None) -> DuctRun:
    if other is None or all(getattr(run, k) == getattr(other, k) for k in SIZE):
        return run
    return changed(run, run.tag, **{k: getattr(other, k) for k in SIZE})
