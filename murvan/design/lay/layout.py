"""One way to bring the air: what it comes to, what is wrong with it, and how it ranks."""

from __future__ import annotations

import dataclasses
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, Literal

from murvan.design.ducts.boxing import taken_m2
from murvan.design.ducts.runs import run_perimeter_m
from murvan.design.lay.pieces import storey_of
from murvan.design.lay.proving import short_of
from murvan.design.parts import Cost, duct_cost
from murvan.design.results import Results
from murvan.kinds.registers import REGISTERS
from murvan.model.design_edit import free_name
from murvan.model.edit import changed, free_id
from murvan.model.job import Job

Scheme = Literal["trunk", "tree", "twin", "radial", "interior"]


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
    fails: int
    """What the punch list finds to fail on its ducts, plenums and registers; those among it."""
    unreached: tuple[tuple[str, str], ...]
    """Rooms, by id, that no duct can be brought to, and what stands in the way."""
    heat_w: float
    """Lost outside the shell on the design night."""
    loudest_nc: float | None
    """Of its registers and grilles; None where none says."""
    loud: int
    """Registers that are heard."""
    price: Cost
    """Of the ducts with all that goes with them, by the prices of the job."""
    taken_m2: float
    """Of rooms: floor of chases, ceiling of soffits that have to be framed."""
    why: str

    @property
    def rank(self) -> tuple[bool, int, int, int, int, bool, float]:
        """Within the blower's limit first, then fewest rooms without ducts, fewest ducts, plenums and registers that fail, fewest
        rooms short, fewest registers that are heard; registers left where they are before such as are moved, then what it costs."""
        over, moved = self.static_pa > self.limit_pa, self.scheme == "interior"
        return over, len(self.unreached), self.fails, len(self.short), self.loud, moved, self.worth

    @property
    def good(self) -> bool:
        """Whether it is within its blower's limit, reaches every room with its air and nothing of it fails."""
        return not any(self.rank[:4])

    @property
    def worth(self) -> float:
        """Its price, and what lost heat and room taken are worth, in the money of the job."""
        return self.price.money + HEAT_MONEY * self.heat_w + ROOM_MONEY * self.taken_m2


HEAT_MONEY, ROOM_MONEY = 1.0, 400.0
"""What a watt lost on the design night over the years and a square metre of room are worth; Murvan default."""


def kept_layout(job: Job, x: Layout) -> Job:
    """The job with a layout among the designs set aside, under a name of its own. Raises JobValueError."""
    designs = (job.design, *job.options)
    names = {d.name for d in designs}
    new = free_id("layout", {d.id for d in designs})
    name = free_name(job, x.name) if x.name in names else x.name
    kept = changed(x.job.design, name, id=new, name=name, note=x.why[:2000])
    return changed(job, job.name, options=(*job.options, kept))


def same(a: Layout, b: Layout) -> bool:
    """Whether two ways came out alike."""
    return abs(a.metal_m2 - b.metal_m2) < 1e-6 and abs(a.flex_m - b.flex_m) < 1e-6 and a.fittings == b.fittings


def offered(made: Iterable[Layout]) -> tuple[Layout, ...]:
    """The best first; such as fail only where nothing else is to be had, and then no worse than the best of them."""
    best = sorted(made, key=lambda x: x.rank)
    return tuple(x for x in best if x.good or (not best[0].good and x.rank[:4] == best[0].rank[:4]))


def judged(
    found: Results, unit: str, scheme: Scheme, unreached: tuple[tuple[str, str], ...], jumped: tuple[str, ...]
) -> Layout:
    """What a way comes to."""
    s = found.systems[unit]
    short = short_of(found, unit)
    static = float(s.blower.external_static_pa[0]) if s.blower is not None else float("inf")
    fails = _fails(found)
    return Layout(
        name=NAMES[scheme],
        unit=unit,
        scheme=scheme,
        short=short,
        unreached=unreached,
        static_pa=static,
        limit_pa=s.unit.blower.limit_pa if s.unit is not None else 0.0,
        loudest_nc=max((t.noise_nc for t in s.terminals.values() if t.noise_nc is not None), default=None),
        why=_why(scheme, short, jumped, unreached, fails),
        **_sums(found, (unit,)),
    )


def _sums(found: Results, units: tuple[str, ...]) -> dict[str, Any]:
    """What a layout says of the whole house, and of the ducts of some of its units."""
    metal, flex, fittings = _bought(found, units)
    return {
        "job": found.job,
        "results": found,
        "metal_m2": metal,
        "flex_m": flex,
        "fittings": fittings,
        "clashes": _counted(found, "duct-clash"),
        "tight": _counted(found, "duct-depth"),
        "loud": _counted(found, "register-loud"),
        "fails": sum(_fails(found).values()),
        "heat_w": _heat_w(found, units),
        "price": _price(found, units),
        "taken_m2": sum(taken_m2(x) for x in found.laid),
    }


OF_DUCTS = ("run", "plenum", "register")


def _fails(found: Results) -> Counter[str]:
    """How often rules of the punch list fail on ducts, plenums and registers, by their names."""
    return Counter(f.rule.name for f in found.findings if f.severity == "fails" and f.hit.at.kind in OF_DUCTS)


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


def _price(found: Results, units: tuple[str, ...]) -> Cost:
    return duct_cost((p for u in units for p in found.systems[u].cuts.pieces), found.job.prices)


def _heat_w(found: Results, units: tuple[str, ...]) -> float:
    heat = (x for u in units for x in found.systems[u].duct_heat.runs.values())
    return sum(x.heating_w for x in heat if x.place not in SHELTERED)


def of_the_house(x: Layout, others: tuple[Layout, ...]) -> Layout:
    """A layout with those of further units that were laid round it, one after the other: what all of them come to."""
    found = others[-1].results
    units = tuple(found.systems)
    tags = {u.id: u.tag for u in found.job.design.indoor_units}
    words = "".join(f" {tags[o.unit]}: {o.why}" for o in others)
    return dataclasses.replace(
        x,
        short=(*x.short, *(room for o in others for room in o.short)),
        unreached=(*x.unreached, *(u for o in others for u in o.unreached)),
        loudest_nc=max((o.loudest_nc for o in (x, *others) if o.loudest_nc is not None), default=None),
        why=f"{x.why}{words}",
        **_sums(found, units),
    )


def with_zones_held(x: Layout, found: Results, how: str) -> Layout:
    """A layout with what keeps its zones within the blower's limit. `how`: in words."""
    why = f"{x.why} With one zone calling: {how[0].lower()}{how[1:]}."
    return dataclasses.replace(x, why=why, **_sums(found, tuple(found.systems)))


SHELTERED = ("inside", "basement")
"""Where the heat of ducts is not lost to the house."""


def in_the_way(job: Job, missed: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
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


def _why(
    scheme: Scheme,
    short: tuple[str, ...],
    jumped: tuple[str, ...],
    unreached: tuple[tuple[str, str], ...],
    fails: Counter[str],
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
    if fails:
        said = (f"{name}{f', {n} times' if n > 1 else ''}" for name, n in fails.most_common())
        rest += f" It fails by the punch list: {'; '.join(said)}."
    return words + rest
