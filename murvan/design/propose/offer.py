"""Units for each way to serve a house, what each comes to, and the best first."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import inf, isfinite

from murvan.catalog import known_units, readable_own_units
from murvan.design.propose.schemes import Place, Scheme, SchemeKind, schemes
from murvan.design.results import Results, SystemResults
from murvan.design.solve import solve
from murvan.design.system.cost import Cost, yearly_cost
from murvan.design.system.equipment import Candidate
from murvan.model.design import Design, IndoorUnit, OutdoorUnit, System
from murvan.model.design_edit import free_name
from murvan.model.edit import changed
from murvan.model.equipment import Unit
from murvan.model.job import Job

Step = Callable[[int, int], bool]
YEARS = 15
"""Over which the price of the units is spread when proposals are ranked."""
ENOUGH = 0.999
LEAST_SHARE = 0.9


@dataclass(frozen=True)
class Proposal:
    """A complete design for the house with what it comes to. Powers in W."""

    name: str
    kind: SchemeKind
    design: Design
    chosen: tuple[tuple[Place, Candidate], ...]
    remedies: dict[str, str]
    cooling_load_w: float
    sensible_load_w: float
    heating_load_w: float
    """Of the rooms served, each unit's together."""
    unserved_w: float
    """Heat of the rooms that no unit serves."""
    unserved_kwh: float
    """Their heat in a year, counted as electric; nan without hours by temperature."""
    cost_year: float | None
    saves_year: float | None
    """Against what heats and cools the house today; None where that is not known or a room is not served."""
    reasons: tuple[str, ...]
    gives_up: tuple[str, ...]

    @property
    def cooling_w(self) -> float:
        """Total capacity at the cooling design day."""
        return sum(x.total_w for _, x in self.chosen)

    @property
    def sensible_w(self) -> float:
        """Sensible capacity at the cooling design day."""
        return sum(x.sensible_w for _, x in self.chosen)

    @property
    def heating_w(self) -> float:
        """Capacity at the heating design temperature, backup left out."""
        return sum(x.heating_w for _, x in self.chosen)

    @property
    def backup_w(self) -> float:
        """What electric heat has to carry there, rooms without a unit with it."""
        return sum(x.backup_w for _, x in self.chosen) + self.unserved_w

    @property
    def kwh_year(self) -> float:
        """Electricity; nan without hours by temperature."""
        return sum(x.season.electric_kwh for _, x in self.chosen) + self.unserved_kwh

    @property
    def cost_in(self) -> float:
        """Price of the units alone."""
        return sum(x.unit.price for _, x in self.chosen)

    @property
    def rank(self) -> tuple[bool, float]:
        """Units that carry their rooms first; then what it costs to buy over its years and to run."""
        short = any(x.verdict in ("small", "latent") for _, x in self.chosen)
        return short, self.cost_in / YEARS + (self.cost_year or 0.0)


def proposals(job: Job, step: Step = lambda done, of: True) -> tuple[Proposal, ...]:
    """Designs for a house, the best first; none for a house without rooms or where no unit of a kind is known.

    Args:
        step: Told how many ways have been worked out, and of how many; when it says False nothing is offered.
    """
    ways, found = schemes(job), []
    for k, scheme in enumerate(ways):
        if not step(k, len(ways)):
            return ()
        one = _proposal(job, scheme)
        if one is not None:
            found.append(one)
    return tuple(sorted(found, key=lambda x: x.rank)) if step(len(ways), len(ways)) else ()


def _proposal(job: Job, scheme: Scheme) -> Proposal | None:
    bare = solve(changed(job, design=_design(job, scheme)))
    catalogue = known_units(job.units, readable_own_units())
    picked = []
    for place, s in zip(scheme.places, bare.systems.values(), strict=True):
        unit = choose(place, s, catalogue, job)
        if unit is None:
            return None
        picked.append((unit, _kit(unit, s)))
    design = _design(job, scheme, picked)
    r = solve(changed(job, design=design), bare)
    chosen = tuple(
        (place, x)
        for place, s in zip(scheme.places, r.systems.values(), strict=True)
        if (x := s.equipment.chosen) is not None
    )
    costs = [c for _, x in chosen if (c := yearly_cost(x, job.energy)) is not None]
    loads = [s.loads for s in r.systems.values()]
    heating_w = sum(x.house_heating_w for x in loads)
    left_w = sum(float(w) for w, room in zip(r.loads.heating_w, job.rooms, strict=True) if room.id in scheme.remedies)
    heat_kwh = sum(x.season.year("heat_kwh") for _, x in chosen)
    left_kwh = left_w * heat_kwh / heating_w if heating_w > 0 else 0.0
    made = Proposal(
        scheme.name,
        scheme.kind,
        design,
        chosen,
        scheme.remedies,
        sum(x.house_cooling_w for x in loads),
        sum(x.house_sensible_w for x in loads),
        heating_w,
        left_w,
        left_kwh,
        sum(c.year for c in costs) + left_kwh * job.energy.electric_per_kwh if len(costs) == len(chosen) else None,
        _saves(costs) if len(costs) == len(chosen) and not scheme.remedies else None,
        (),
        _gives_up(job, scheme, chosen),
    )
    return replace(made, reasons=_reasons(made, r))


def choose(place: Place, s: SystemResults, catalogue: dict[str, Unit], job: Job) -> Unit | None:
    """The smallest size that carries the rooms, and of that size what costs least to buy and run; the largest where
    none carries them. None where no unit of the kind is known."""
    offered = [u for u in catalogue.values() if u.kind in place.of and place.fuel in (None, u.fuel)]
    if not offered:
        return None
    weighed = [s.equipment.weigh(u) for u in offered]
    heat_w = s.loads.house_heating_w
    enough = [x for x in weighed if _cools(x) and (x.unit.kind != "furnace_coil" or x.heating_w >= ENOUGH * heat_w)]
    if not enough:
        return max(weighed, key=lambda x: (x.total_w, x.heating_w)).unit
    size = min(x.unit.nominal_w for x in enough)
    return min((x for x in enough if x.unit.nominal_w <= size), key=lambda x: _life_cost(x, job)).unit


def _cools(x: Candidate) -> bool:
    """Whether it carries the cooling, or there is none to carry."""
    return all(share >= LEAST_SHARE or not isfinite(share) for share in (x.total_share, x.sensible_share))


def _saves(costs: list[Cost]) -> float | None:
    known = [c.saved for c in costs if c.saved is not None]
    return sum(known) if len(known) == len(costs) else None


def _life_cost(x: Candidate, job: Job) -> float:
    cost = yearly_cost(x, job.energy)
    return x.unit.price / YEARS + (cost.year if cost is not None else 0.0)


def _kit(unit: Unit, s: SystemResults) -> float:
    """The smallest heat kit that makes up what the unit is short of; the largest where none does."""
    short_w = s.equipment.weigh(unit).backup_w
    if short_w <= 0 or not unit.takes_kit:
        return 0.0
    return min((k for k in unit.heater_kw if k * 1000 >= short_w), default=max(unit.heater_kw))


def _design(job: Job, scheme: Scheme, picked: list[tuple[Unit, float]] | None = None) -> Design:
    """The records of a scheme: a system, an outdoor and an indoor unit a place; the ventilation stays."""
    systems, outdoor, indoor = [], [], []
    middles = {r.id: _middle(r.outline_m) for r in job.rooms}
    storeys = {r.id: r.storey for r in job.rooms}
    for k, place in enumerate(scheme.places, 1):
        unit, kit = picked[k - 1] if picked else (None, 0.0)
        systems.append(System(id=f"system{k}", name=place.tag))
        outdoor.append(OutdoorUnit(id=f"outdoor{k}", system=f"system{k}"))
        whole = len(scheme.places) == 1
        indoor.append(
            IndoorUnit(
                id=f"unit{k}",
                tag=place.tag,
                system=f"system{k}",
                kind=place.kind,
                unit=unit.id if unit else None,
                outdoor=f"outdoor{k}",
                storey=storeys[place.rooms[0]],
                position_m=middles[place.rooms[0]],
                rooms=() if whole else place.rooms,
                heater_kw=kit,
                tap=min(3, len(unit.blower.taps_m3_s)) if unit else 1,
            )
        )
    fans = tuple(changed(v, v.id, indoor=None) for v in job.design.ventilators)
    return Design(
        id="proposal",
        name=scheme.name,
        air=job.design.air,
        systems=tuple(systems),
        outdoor_units=tuple(outdoor),
        indoor_units=tuple(indoor),
        ventilators=fans,
    )


def _middle(outline: tuple[tuple[float, float], ...]) -> tuple[float, float]:
    x, y = zip(*outline, strict=True)
    return sum(x) / len(x), sum(y) / len(y)


def _reasons(p: Proposal, r: Results) -> tuple[str, ...]:
    """What speaks for it, by its figures."""
    out = [f"carries {_percent(p.cooling_w, p.cooling_load_w)} of the cooling of the rooms it serves"]
    if p.heating_load_w > 0:
        alone = _percent(p.heating_w, p.heating_load_w)
        rest = "" if p.heating_w >= ENOUGH * p.heating_load_w else "; electric heat brings the rest"
        out.append(f"gives {alone} of their heat at design{rest}")
    if not p.remedies:
        out.append("every room is served")
    drying = min((x.latent_share for _, x in p.chosen if isfinite(x.latent_share)), default=inf)
    if drying >= 1 and isfinite(drying):
        out.append("dries the air at design")
    return tuple(out)


def _percent(have: float, need: float) -> str:
    return f"{have / need * 100:.0f} %" if need > 0 else "all"


def _gives_up(job: Job, scheme: Scheme, chosen: tuple[tuple[Place, Candidate], ...]) -> tuple[str, ...]:
    """What speaks against it in this house."""
    out = []
    if any(p.kind == "ducted" for p in scheme.places):
        out.append("needs ducts and a way for them")
    rooms = {r.id: r for r in job.rooms}
    unserved = [rooms[i] for i in scheme.remedies]
    if unserved:
        many = f"{len(unserved)} rooms have" if len(unserved) > 1 else "one room has"
        names = ", ".join(r.name for r in unserved[:6]) + (" …" if len(unserved) > 6 else "")
        out.append(f"{many} no unit: {names}; their heat is counted as electric")
    big = [x for _, x in chosen if x.total_share > x.limits[1]]
    if big:
        which = "the unit is larger than its rooms need and will go on and off"
        if len(chosen) > 1:
            which = f"{len(big)} of {len(chosen)} units are larger than their rooms need and will go on and off"
        out.append(which)
    small = [p.role for p, x in chosen if x.verdict == "small"]
    if small:
        out.append(f"no unit known is large enough for {', '.join(small[:4])}")
    if len(chosen) > 1:
        out.append(f"{len(chosen)} units to buy, place and clean")
    elif len(job.storeys) > 1:
        out.append("one thermostat for all storeys unless it is zoned")
    return tuple(out)


def served(p: Proposal, room: str) -> int | None:
    """The number of the unit that serves a room; None for none."""
    return next((k for k, (place, _) in enumerate(p.chosen) if room in place.rooms), None)


def taken_up(job: Job, p: Proposal) -> Job:
    """The job with a proposal worked on, and what was worked on set aside."""
    return changed(job, design=_own(job, p), options=(*job.options, job.design), units=_carried(job, p))


def as_option(job: Job, p: Proposal) -> Job:
    """The job with a proposal among the designs set aside."""
    return changed(job, options=(*job.options, _own(job, p)), units=_carried(job, p))


def _own(job: Job, p: Proposal) -> Design:
    """The proposal's design under an id and a name of its own."""
    designs = (job.design, *job.options)
    ids, names = {x.id for x in designs}, {x.name for x in designs}
    new = next(i for i in (f"proposal{k}" for k in range(1, 1000)) if i not in ids)
    return changed(p.design, p.name, id=new, name=free_name(job, p.name) if p.name in names else p.name)


def _carried(job: Job, p: Proposal) -> tuple[Unit, ...]:
    """The job's own units with those of the proposal that are not on every machine."""
    known = {x.id for x in job.units}
    own = {x.id: x for x in readable_own_units() if x.id not in known}
    return (*job.units, *(own[i] for i in dict.fromkeys(x.unit.id for _, x in p.chosen) if i in own))
