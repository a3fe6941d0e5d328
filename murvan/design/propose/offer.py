"""Units for each way to serve a house, what each comes to, and the best first."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields, replace
from typing import Any

from murvan.catalog import known_multis, known_units, readable_own_multis, readable_own_units
from murvan.design.limits import carries
from murvan.design.propose import wording
from murvan.design.propose.choosing import YEARS, mean_price, pick, room_heat_w
from murvan.design.propose.drafting import draft
from murvan.design.propose.joining import most_share, with_small_joined
from murvan.design.propose.schemes import Scheme, SchemeKind, schemes
from murvan.design.propose.summing import Summary, summary
from murvan.design.results import Results, SystemResults
from murvan.design.solve import solve
from murvan.design.units.siting import Surroundings, surroundings
from murvan.design.zones.plans import zone_plans
from murvan.model.design import Design
from murvan.model.design_edit import free_name
from murvan.model.edit import changed
from murvan.model.job import Job

Step = Callable[[int, int], bool]
UNITS = 3
"""The station whose judgements a proposal answers for: units, outdoor units, heads, lines."""
FEW = 3
"""Outdoor units beside a house that are no trouble; common practice."""
MOST = 5
"""Designs that are shown side by side."""


@dataclass(frozen=True)
class Proposal(Summary):
    """A complete design for the house with what it comes to."""

    kind: SchemeKind
    reasons: tuple[str, ...]
    gives_up: tuple[str, ...]
    fails: tuple[tuple[str, str], ...]
    """What the punch list finds to fail with its units, by rule and in SI words."""
    energy_rises: float
    """Mean price of energy over those years against today's."""
    ties: tuple[str, ...] = ()
    """Names of others that a tenth of what things or energy cost would put on its other side."""

    @property
    def rank(self) -> tuple[int, bool, float]:
        """What fails least first, then units that carry their rooms, then what it costs to buy over its years and to run."""
        short = any(x.verdict in ("small", "latent") for _, x in self.chosen)
        return len(self.fails), short, self.cost_at(1.0, 1.0)

    def cost_at(self, things: float, energy: float) -> float:
        """To put in over its years, and to run, a year, with both at so many times their prices."""
        return things * self.cost_in / YEARS + energy * self.energy_rises * (self.cost_year or 0.0)


def proposals(job: Job, step: Step = lambda done, of: True) -> tuple[Proposal, ...]:
    """Designs for a house, the best first and no more than five; none for a house without rooms or where no unit of a kind
    is known.

    Args:
        step: Told how many ways have been worked out, and of how many; when it says False nothing is offered.
    """
    return _best(list(every_way(job, step)))


def every_way(
    job: Job, step: Step = lambda done, of: True, kinds: tuple[SchemeKind, ...] = ()
) -> tuple[Proposal, ...]:
    """Every way to serve a house, worked out, the best first; also such as fail.

    Args:
        step: As for `proposals`.
        kinds: Those that are wanted; (): all.
    """
    if not job.rooms:
        return ()
    site, base = surroundings(job), solve(job)
    ways = [
        x
        for x in schemes(job, site, base.loads.heating_w.tolist(), base.loads.sensible_w.tolist())
        if not kinds or x.kind in kinds
    ]
    found = []
    for k, scheme in enumerate(ways):
        if not step(k, len(ways)):
            return ()
        one = _proposal(site, scheme, base)
        if one is not None:
            found.append(one)
    return tuple(sorted(found, key=lambda x: x.rank)) if step(len(ways), len(ways)) else ()


def _best(found: list[Proposal]) -> tuple[Proposal, ...]:
    """The best first; what fails alone where nothing else is to be had. Of heads one way to hang them: each outdoor unit stands
    in someone's way, so many of them share."""
    least = min((len(x.fails) for x in found), default=0)
    found = [x for x in found if len(x.fails) == least]
    heads = [x for x in found if x.kind in ("heads", "shared")]
    heads.sort(key=lambda x: (x.rank[0], (x.kind == "heads") == (len(x.chosen) > FEW)))
    best = sorted((x for x in found if x not in heads[1:]), key=lambda x: x.rank)[:MOST]
    return tuple(replace(x, ties=tuple(_ties(x, best))) for x in best)


PRICES_MOVE = (0.9, 1.0, 1.1)
"""By how much prices may be off before an order of proposals means something; Murvan default."""


def _ties(x: Proposal, others: list[Proposal]) -> Iterator[str]:
    """Proposals that come before or after one by less than their prices are known."""
    for y in others:
        if y is not x and x.rank[:2] == y.rank[:2]:
            gaps = [x.cost_at(a, b) - y.cost_at(a, b) for a in PRICES_MOVE for b in PRICES_MOVE]
            if min(gaps) <= 0 <= max(gaps):
                yield y.name


def _proposal(site: Surroundings, scheme: Scheme, base: Results) -> Proposal | None:
    job = site.job
    bare = solve(changed(job, design=draft(site, scheme)), base)
    if scheme.zones and not scheme.keeps_ducts:
        scheme = _zoned_best(scheme, bare)
        bare = solve(changed(job, design=draft(site, scheme)), bare)
    multis = known_multis(job.multi_units, readable_own_multis())
    picked = pick(job, scheme, bare, known_units(job.units, readable_own_units()), multis)
    if picked is None:
        return None
    joined = with_small_joined(job, scheme, picked, bare)
    if joined is not None:
        return _proposal(site, joined, base) if any(p.kind != "ducted" for p in joined.places) else None
    made = changed(job, design=draft(site, scheme, picked))
    r = solve(made, bare)
    heaters = tuple(room_heat_w(_heat_missing_w(s)) for s in r.systems.values())
    if any(heaters):
        picked = replace(picked, room_heat_w=heaters)
        made = changed(job, design=draft(site, scheme, picked))
        r = solve(made, r)
    chosen = tuple(x for s in r.systems.values() if (x := s.equipment.chosen) is not None)
    sums = summary(r, scheme.places)
    return Proposal(
        **{f.name: getattr(sums, f.name) for f in fields(sums)},
        kind=scheme.kind,
        reasons=tuple(wording.reasons(job, scheme, chosen, r)),
        gives_up=tuple(wording.gives_up(made, scheme, chosen, r, sums.drifting)),
        energy_rises=mean_price(job.prices.rise, YEARS),
        fails=(
            *((f.rule.id, f.text("si")) for f in r.findings if f.severity == "fails" and f.rule.station == UNITS),
            *_too_idle(r),
        ),
    )


def _zoned_best(scheme: Scheme, bare: Results) -> Scheme:
    """The scheme with the zones whose rooms hold best for what they cost."""
    plan = next((p for p in zone_plans(bare, moves=False) if p.zones), None)
    if plan is None:
        return scheme
    return replace(scheme, name=f"Ducted with {len(plan.zones)} zones", zones=plan.parts)


def _too_idle(r: Results) -> Iterator[tuple[str, str]]:
    """Units that are far too large for their rooms, whatever they turn down to."""
    for s in r.systems.values():
        x, most = s.equipment.chosen, most_share(s.design.indoor.kind)
        if x is not None and x.total_share > most:
            words = f"{s.design.indoor.tag} cools {x.total_share * 100:.0f} % of what its rooms need, at most {most * 100:.0f} %"
            yield "unit-large", words


def _heat_missing_w(s: SystemResults) -> float:
    """Heat at design that neither a unit nor its kit brings; 0 where something else carries what it leaves. [W]"""
    x = s.equipment.chosen
    if x is None or s.design.indoor.heat_share < 1 or carries(x.heating_w + x.heater_w, s.loads.house_heating_w):
        return 0.0
    return s.loads.house_heating_w - x.heating_w - x.heater_w


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
