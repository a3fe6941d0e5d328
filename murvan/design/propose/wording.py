"""What speaks for a proposal and against it, by its figures."""

from __future__ import annotations

from collections.abc import Iterator
from math import inf, isfinite

from murvan.design.limits import QUIET_DBA, carries
from murvan.design.propose.schemes import Scheme
from murvan.design.propose.summing import Summary
from murvan.design.results import Results
from murvan.design.study.heard import loudest
from murvan.design.study.how_sure import DRAWS
from murvan.design.units.equipment import Candidate
from murvan.model.job import Job
from murvan.units import Units, text

STRAINED = ("filter-fast", "blower-static", "blower-flow", "duct-fast")
"""Findings that another unit brings on the ducts that stay."""


def reasons(job: Job, scheme: Scheme, chosen: tuple[Candidate, ...], r: Results) -> Iterator[str]:
    """What speaks for it."""
    cooling = sum(s.loads.house_cooling_w for s in r.systems.values())
    heating = sum(s.loads.house_heating_w for s in r.systems.values())
    yield f"carries {_percent(sum(x.total_w for x in chosen), cooling)} of the cooling of the rooms it serves"
    if heating > 0:
        have = sum(x.heating_w for x in chosen)
        rest = "" if carries(have, heating) else "; electric heat brings the rest"
        yield f"gives {_percent(have, heating)} of their heat at design{rest}"
    if any(p.heat_share < 1 for p in scheme.places):
        yield "heats as today; nothing is taken out"
    under = [p.role for p in scheme.places if p.kind == "floor"]
    if under:
        yield f"floor units under the glass in {_listed(under[:4])}, where no wall is free"
    if not scheme.remedies:
        yield "every room is served"
    drying = min((x.latent_share for x in chosen if isfinite(x.latent_share)), default=inf)
    if drying >= 1 and isfinite(drying):
        yield "dries the air at design"
    if scheme.keeps_ducts:
        yield _ducts(r)
    if scheme.zones:
        yield f"{_listed([name for name, _ in scheme.zones])} each have a thermostat"
    for x in r.outdoors.values():
        yield f"{x.unit.name} carries {len(x.hung)} heads on {x.ports} ports, {x.connected_share * 100:.0f} % connected"


def _ducts(r: Results) -> str:
    """How the ducts that stay do with this unit."""
    short = sum(f.rule.id == "room-air" for f in r.findings)
    if r.predicted_m3_s is None:
        return "the ducts as drawn stay"
    words = "every room gets its air" if not short else f"{short} room{'s are' if short > 1 else ' is'} short of air"
    return f"the ducts as drawn stay: {words} by the air circuit"


def gives_up(
    job: Job, scheme: Scheme, chosen: tuple[Candidate, ...], r: Results, drifting: tuple[str, ...]
) -> Iterator[str]:
    """What speaks against it in this house. `drifting`: rooms that its thermostats don't hold."""
    if any(p.kind == "ducted" for p in scheme.places) and not scheme.keeps_ducts:
        yield "needs ducts and a way for them"
    if scheme.keeps_ducts:
        strained = dict.fromkeys(f.rule.name.lower() for f in r.findings if f.rule.id in STRAINED)
        if strained:
            yield f"with the ducts and filter as drawn: {', '.join(strained)}"
    heaters = [x for x in job.design.indoor_units if x.room_heat_w > 0]
    if heaters:
        kw = sum(x.room_heat_w for x in heaters) / 1000
        yield f"{kw:.1f} kW of electric heaters in the rooms of {_listed([x.tag for x in heaters][:4])}, on circuits of their own"
    pumps = sum(x.drain == "pump" for x in job.design.indoor_units)
    if pumps:
        yield f"{pumps} drain{'s' if pumps > 1 else ''} by a pump"
    yield from _unserved(job, scheme)
    big = [x for x in chosen if x.total_share > x.limits[1]]
    if big:
        hours = max((x.season.in_state("cooling_cycling") for x in big), default=0.0)
        often = f", up to {hours:.0f} h a year" if isfinite(hours) and hours >= 1 else ""
        which = "the unit is" if len(chosen) == 1 else f"{len(big)} of {len(chosen)} units are"
        yield f"{which} larger than the rooms need and will go on and off{often}"
    if any(p.heat_share < 1 for p in scheme.places):
        yield "the present heat goes on ageing and burning what it burns"
    small = [p.role for p, x in zip(scheme.places, chosen, strict=True) if x.verdict == "small"]
    if small:
        yield f"no unit known is large enough for {_listed(small[:4])}"
    if any(x.verdict == "latent" for x in chosen):
        yield "dries less than the moisture load at design"
    yield from _zoned(scheme, chosen, r)
    if len(chosen) > 1:
        yield f"{len(chosen)} indoor units to buy, place and clean"
        outdoors = len(job.design.outdoor_units)
        if outdoors > 1:
            yield f"{outdoors} outdoor units beside the house, each with its circuit"
    if drifting:
        many = f"{len(drifting)} rooms drift" if len(drifting) > 1 else "one room drifts"
        yield f"{many} from what the thermostat holds on the design days: {_listed(list(drifting[:4]))}{' …' if len(drifting) > 4 else ''}"
    worst = loudest(job, r)
    if worst is not None and worst.sound_dba > QUIET_DBA:
        yield f"{worst.sound_dba:.0f} dBA at the window of {worst.room.name}"


def _unserved(job: Job, scheme: Scheme) -> Iterator[str]:
    rooms = [r for r in job.rooms if r.id in scheme.remedies]
    if rooms:
        many = f"{len(rooms)} rooms have" if len(rooms) > 1 else "one room has"
        names = ", ".join(r.name for r in rooms[:6]) + (" …" if len(rooms) > 6 else "")
        yield f"{many} no unit: {names}; their heat is counted as electric"


def _zoned(scheme: Scheme, chosen: tuple[Candidate, ...], r: Results) -> Iterator[str]:
    """What zones take: dampers, and the smallest zone against the lowest speed."""
    if not scheme.zones:
        return
    ids = [x.id for x in r.job.rooms]
    needs = {
        name: sum(float(r.loads.sensible_w[ids.index(i)]) for i in rooms if i in ids) for name, rooms in scheme.zones
    }
    smallest = min(needs, key=lambda k: needs[k])
    lowest = chosen[0].sensible_w * chosen[0].unit.cooling.min_fraction
    if needs[smallest] < lowest:
        share = needs[smallest] / lowest * 100
        yield f"{smallest} alone asks for {share:.0f} % of the lowest speed: it will go on and off there"


def _listed(names: list[str]) -> str:
    return ", ".join(names[:-1]) + (f" and {names[-1]}" if len(names) > 1 else names[0] if names else "")


def _percent(have: float, need: float) -> str:
    return f"{have / need * 100:.0f} %" if need > 0 else "all"


def figures(x: Summary, units: Units) -> list[tuple[str, str]]:
    """The figures of a design, each with what it is."""
    out = [
        ("Cooling", _share(x.cooling_w, x.cooling_load_w)),
        ("Heat at design", _share(x.heating_w, x.heating_load_w)),
        ("Electric heat", text("electric", x.backup_w, units)),
        ("Electricity", text("kwh", x.kwh_year, units) if isfinite(x.kwh_year) else "–"),
        ("Cost a year", text("money", x.cost_year, units) if x.cost_year is not None else "–"),
        ("Put in", text("money", x.cost_in, units)),
        ("units of it", text("money", x.units_money, units)),
    ]
    out.append((f"Holds, of {DRAWS} houses", str(x.holds)))
    out.append(("Rooms that drift", str(len(x.drifting)) if x.drifting else "none"))
    if x.rebate > 0:
        out.append(("Rebate, as typed", text("money", x.rebate, units)))
    if x.saves_year is not None:
        out.append(("Saves a year", text("money", x.saves_year, units)))
    if x.payback_years is not None:
        out.append(("Paid back", text("years", x.payback_years, units)))
    out.append(("Circuits, MCA", x.circuit_words))
    out.append(("Sound outdoors", f"{x.sound_dba:.0f} dBA"))
    if x.heard is not None:
        out.append(("Bedroom window", f"{x.heard.sound_dba:.0f} dBA"))
    return out


def _share(have: float, need: float) -> str:
    return f"{have / need * 100:.0f} %" if need > 0 else "no load"
