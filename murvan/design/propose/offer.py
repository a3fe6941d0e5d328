"""Units for each way to serve a house, what each comes to, and the best first."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from murvan.catalog import known_multis, known_units, readable_own_multis, readable_own_units
from murvan.design.propose import wording
from murvan.design.propose.choosing import YEARS, pick
from murvan.design.propose.drafting import draft
from murvan.design.propose.schemes import Place, Scheme, SchemeKind, schemes
from murvan.design.results import Results
from murvan.design.solve import solve
from murvan.design.system.cost import Cost, yearly_cost
from murvan.design.system.equipment import Candidate
from murvan.design.system.heard import loudest
from murvan.design.system.siting import Heard, Surroundings, surroundings
from murvan.model.design import Design
from murvan.model.design_edit import free_name
from murvan.model.edit import changed
from murvan.model.equipment import Machine, MultiUnit
from murvan.model.job import Job

Step = Callable[[int, int], bool]
FEW = 3
"""Outdoor units beside a house that are no trouble; common practice."""
MOST = 5
"""Designs that are shown side by side."""


@dataclass(frozen=True)
class Proposal:
    """A complete design for the house with what it comes to. Powers in W."""

    name: str
    kind: SchemeKind
    design: Design
    chosen: tuple[tuple[Place, Candidate], ...]
    outdoors: tuple[MultiUnit, ...]
    """Outdoor units that several share."""
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
    heard: Heard | None
    """At the bedroom window that hears its outdoor units most; None without one, or without a place for them."""
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
        return sum(x.unit.price for _, x in self.chosen) + sum(m.price for m in self.outdoors)

    @property
    def circuits(self) -> tuple[Machine, ...]:
        """What has an electrical circuit of its own outdoors, or indoors where nothing is shared."""
        own = {x.id for x in self.design.outdoor_units if x.unit is None}
        alone = [x.unit for (_, x), i in zip(self.chosen, self.design.indoor_units, strict=True) if i.outdoor in own]
        return (*self.outdoors, *alone)

    @property
    def sound_dba(self) -> float:
        """The loudest outdoors, by its maker."""
        return max((x.sound_dba for x in self.circuits), default=0.0)

    @property
    def rank(self) -> tuple[bool, float]:
        """Units that carry their rooms first; then what it costs to buy over its years and to run."""
        short = any(x.verdict in ("small", "latent") for _, x in self.chosen)
        return short, self.cost_in / YEARS + (self.cost_year or 0.0)


def proposals(job: Job, step: Step = lambda done, of: True) -> tuple[Proposal, ...]:
    """Designs for a house, the best first and no more than five; none for a house without rooms or where no unit of a kind
    is known.

    Args:
        step: Told how many ways have been worked out, and of how many; when it says False nothing is offered.
    """
    ways, found = schemes(job), []
    if not ways:
        return ()
    site, base = surroundings(job), solve(job)
    for k, scheme in enumerate(ways):
        if not step(k, len(ways)):
            return ()
        one = _proposal(site, scheme, base)
        if one is not None:
            found.append(one)
    return _best(found) if step(len(ways), len(ways)) else ()


def _best(found: list[Proposal]) -> tuple[Proposal, ...]:
    """The best first; of heads one way to hang them: each outdoor unit stands in someone's way, so many of them share."""
    heads = [x for x in found if x.kind in ("heads", "shared")]
    heads.sort(key=lambda x: (x.rank[0], (x.kind == "heads") == (len(x.chosen) > FEW)))
    return tuple(sorted((x for x in found if x not in heads[1:]), key=lambda x: x.rank))[:MOST]


def _proposal(site: Surroundings, scheme: Scheme, base: Results) -> Proposal | None:
    job = site.job
    bare = solve(changed(job, design=draft(site, scheme)), base)
    multis = known_multis(job.multi_units, readable_own_multis())
    picked = pick(job, scheme, bare, known_units(job.units, readable_own_units()), multis)
    if picked is None:
        return None
    made = changed(job, design=draft(site, scheme, picked))
    r = solve(made, bare)
    chosen = tuple(x for s in r.systems.values() if (x := s.equipment.chosen) is not None)
    costs = [c for x in chosen if (c := yearly_cost(x, job.energy)) is not None]
    loads = [s.loads for s in r.systems.values()]
    heating_w = sum(x.house_heating_w for x in loads)
    left_w = sum(float(w) for w, room in zip(r.loads.heating_w, job.rooms, strict=True) if room.id in scheme.remedies)
    heat_kwh = sum(x.season.year("heat_kwh") for x in chosen)
    left_kwh = left_w * heat_kwh / heating_w if heating_w > 0 else 0.0
    known = len(costs) == len(chosen)
    return Proposal(
        scheme.name,
        scheme.kind,
        made.design,
        tuple(zip(scheme.places, chosen, strict=True)),
        tuple(m for m, _ in picked.shared),
        scheme.remedies,
        sum(x.house_cooling_w for x in loads),
        sum(x.house_sensible_w for x in loads),
        heating_w,
        left_w,
        left_kwh,
        sum(c.year for c in costs) + left_kwh * job.energy.electric_per_kwh if known else None,
        _saves(costs) if known and not scheme.remedies else None,
        loudest(made, r),
        tuple(wording.reasons(job, scheme, chosen, r)),
        tuple(wording.gives_up(made, scheme, chosen, r)),
    )


def _saves(costs: list[Cost]) -> float | None:
    known = [c.saved for c in costs if c.saved is not None]
    return sum(known) if len(known) == len(costs) else None


def served(p: Proposal, room: str) -> int | None:
    """The number of the unit that serves a room; None for none."""
    return next((k for k, (place, _) in enumerate(p.chosen) if room in place.rooms), None)


def taken_up(job: Job, p: Proposal) -> Job:
    """The job with a proposal worked on, and what was worked on set aside."""
    return changed(job, design=_own(job, p), options=(*job.options, job.design), **_carried(job, p))


def as_option(job: Job, p: Proposal) -> Job:
    """The job with a proposal among the designs set aside."""
    return changed(job, options=(*job.options, _own(job, p)), **_carried(job, p))


def _own(job: Job, p: Proposal) -> Design:
    """The proposal's design under an id and a name of its own."""
    designs = (job.design, *job.options)
    ids, names = {x.id for x in designs}, {x.name for x in designs}
    new = next(i for i in (f"proposal{k}" for k in range(1, 1000)) if i not in ids)
    return changed(p.design, p.name, id=new, name=free_name(job, p.name) if p.name in names else p.name)


def _carried(job: Job, p: Proposal) -> dict[str, Any]:
    """The job's own units with those of the proposal that are not on every machine."""
    known = {x.id for x in (*job.units, *job.multi_units)}
    own = {x.id: x for x in readable_own_units() if x.id not in known}
    multis = {x.id: x for x in readable_own_multis() if x.id not in known}
    return {
        "units": (*job.units, *(own[i] for i in dict.fromkeys(x.unit.id for _, x in p.chosen) if i in own)),
        "multi_units": (*job.multi_units, *(multis[x.id] for x in dict.fromkeys(p.outdoors) if x.id in multis)),
    }
