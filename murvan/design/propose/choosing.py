"""Which unit goes in each place of a scheme: one with an outdoor unit of its own, or heads that share one."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import ceil, isfinite

import numpy as np

from murvan.catalog import known_units, readable_own_units
from murvan.design.limits import carries
from murvan.design.propose.schemes import Scheme, ServedPlace
from murvan.design.results import Results, SystemResults
from murvan.design.units.cost import yearly_cost
from murvan.design.units.equipment import Candidate, evaluate
from murvan.design.units.hung import on_outdoor
from murvan.model.edit import replace
from murvan.model.equipment import MultiUnit, Unit
from murvan.model.job import Job

YEARS = 15
"""Over which the price of the units is spread when proposals are ranked; Murvan default."""
LEAST_SHARE = 0.9
MOST_TOGETHER = 8
"""Places that are tried on one outdoor unit."""


@dataclass(frozen=True)
class Picked:
    """The units of a scheme, in the order of its places."""

    units: tuple[tuple[Unit, float], ...]
    """With the heat kit of each, kW."""
    room_heat_w: tuple[float, ...] = ()
    """Of heaters in the rooms of each, for what neither it nor its kit brings."""
    shared: tuple[tuple[MultiUnit, tuple[int, ...]], ...] = ()
    """Outdoor units with several ports, and which places hang on each."""


def pick(
    job: Job, scheme: Scheme, bare: Results, units: dict[str, Unit], multis: dict[str, MultiUnit]
) -> Picked | None:
    """Units for every place; None where none of a kind is known."""
    systems = list(bare.systems.values())
    if scheme.shared:
        return _on_shared(scheme, bare, systems, units, multis)
    picked = []
    for place, s in zip(scheme.places, systems, strict=True):
        unit = choose(place, s, units, job)
        if unit is None:
            return None
        picked.append((unit, _kit(unit, s)))
    return Picked(tuple(picked))


def choose(place: ServedPlace, s: SystemResults, catalogue: dict[str, Unit], job: Job) -> Unit | None:
    """The smallest size that carries the rooms, and of that size what costs least to buy and run; the largest where
    none carries them. One without a heat kit carries their heat too, where one that is not too large does. None where no unit
    of the kind is known."""
    offered = [u for u in catalogue.values() if place.takes(u)]
    if not offered:
        return None
    weighed = [s.equipment.measure(u) for u in offered]
    heat_w = s.loads.house_heating_w
    least = LEAST_SHARE + (DUCTS_UNKNOWN if place.kind == "ducted" and not s.design.runs else 0.0)
    cool = [x for x in weighed if _cools(x, least) and not x.total_share > x.limits[1]] or [
        x for x in weighed if _cools(x)
    ]
    enough = [x for x in cool if x.unit.kind != "furnace_coil" or carries(x.heating_w, heat_w)]
    if not enough:
        return max(weighed, key=lambda x: (x.total_w, x.heating_w)).unit
    right = [x for x in enough if not x.total_share > x.limits[1]]
    warm = [x for x in right if x.unit.takes_kit or carries(x.heating_w, heat_w)]
    best = warm or right or enough
    size = min(x.unit.nominal_w for x in best)
    return min((x for x in best if x.unit.nominal_w <= size), key=lambda x: life_cost(x, job)).unit


def mean_price(rise: float, years: int) -> float:
    """Mean price over some years against the first one's, where it rises by a share of itself a year."""
    return sum((1 + rise) ** k for k in range(years)) / years


HEATER_STEP_W = 250.0
"""Electric heaters come in steps of that; common practice."""


def room_heat_w(short_w: float) -> float:
    """Of electric heaters that bring what is missing. [W]"""
    return ceil(short_w / HEATER_STEP_W - 1e-9) * HEATER_STEP_W if short_w > 1.0 else 0.0


DUCTS_UNKNOWN = 0.05
"""Of the load, kept for what ducts that are not laid yet lose beyond what is usual; Murvan default."""


def _cools(x: Candidate, least: float = LEAST_SHARE) -> bool:
    """Whether it carries the cooling, or there is none to carry."""
    return all(share >= least or not isfinite(share) for share in (x.total_share, x.sensible_share))


def life_cost(x: Candidate, job: Job) -> float:
    """Price spread over the years, and a year's energy, in the job's money a year."""
    cost = yearly_cost(x, job.energy)
    return x.unit.price / YEARS + (cost.year if cost is not None else 0.0)


def _kit(unit: Unit, s: SystemResults) -> float:
    """The smallest heat kit that makes up what the unit is short of; the largest where none does."""
    short_w = s.equipment.measure(unit).backup_w
    if short_w <= 0 or not unit.takes_kit:
        return 0.0
    return min((k for k in unit.heater_kw if k * 1000 >= short_w), default=max(unit.heater_kw))


def repicked(r: Results, unit_id: str, job: Job) -> Job:
    """A job with another unit of the same kind where the ducts that were laid since make it too large or too small, and with the
    heat kit and the heaters that it needs with them.

    Args:
        r: Of the house with its ducts.
    """
    s = r.systems[unit_id]
    own = s.unit
    if own is None:
        return job
    place = ServedPlace(
        s.design.indoor.tag, "ducted", (own.kind,), (), "", own.fuel, STAGES_LIKE.get(own.stages, STAGES)
    )
    catalogue = known_units(job.units, readable_own_units())
    unit = choose(place, s, catalogue, job) or own
    x = s.equipment.measure(unit)
    kit = _kit(unit, s)
    left_w = s.loads.house_heating_w - x.heating_w - kit * 1000
    heaters = (
        room_heat_w(left_w)
        if s.design.indoor.heat_share == 1 and not carries(x.heating_w + kit * 1000, s.loads.house_heating_w)
        else 0.0
    )
    tap = min(3, len(unit.blower.taps_m3_s))
    return replace(job, "indoor_units", unit_id, unit=unit.id, heater_kw=kit, room_heat_w=heaters, tap=tap)


STAGES = ("single", "two", "variable")
STAGES_LIKE = {"two": ("two", "variable"), "variable": ("two", "variable")}
"""What a unit with stages is replaced by: zones may hang on them."""


# ---- heads on shared outdoor units ----


def _on_shared(
    scheme: Scheme, bare: Results, systems: list[SystemResults], units: dict[str, Unit], multis: dict[str, MultiUnit]
) -> Picked | None:
    """The heads and outdoor units of one maker that cost least and carry their rooms; None where no maker has them."""
    best: tuple[bool, float, Picked] | None = None
    for maker in dict.fromkeys(m.maker for m in multis.values()):
        heads = [_head(place, s, units, maker) for place, s in zip(scheme.places, systems, strict=True)]
        if any(h is None for h in heads):
            continue
        known = [h for h in heads if h is not None]
        for groups in _groupings(scheme, bare.job):
            found = [
                _outdoor(g, known, systems, bare, [m for m in multis.values() if m.maker == maker]) for g in groups
            ]
            if any(x is None for x in found):
                continue
            outdoors = [(m, g) for (m, _), g in zip((x for x in found if x is not None), groups, strict=True)]
            short = not all(ok for _, ok in (x for x in found if x is not None))
            price = sum(m.price for m, _ in outdoors) + sum(h.price_indoor or 0.0 for h in known)
            made = Picked(tuple((h, 0.0) for h in known), shared=tuple(outdoors))
            if best is None or (short, price) < best[:2]:
                best = (short, price, made)
    return best[2] if best is not None else None


def _head(place: ServedPlace, s: SystemResults, units: dict[str, Unit], maker: str) -> Unit | None:
    """The smallest of a maker that carries the place's rooms by itself in both seasons; where none of the right size heats
    them, the one that heats most; the largest where none cools them."""
    offered = [u for u in units.values() if place.takes(u) and u.on_several and u.maker == maker]
    weighed = sorted((s.equipment.measure(u) for u in offered), key=lambda x: x.unit.nominal_w)
    heat_w = s.loads.house_heating_w
    enough = [x for x in weighed if _cools(x)]
    right = [x for x in enough if not x.total_share > x.limits[1]]
    warm = next((x for x in right if carries(x.heating_w, heat_w)), None) or max(
        right, key=lambda x: x.heating_w, default=None
    )
    return warm.unit if warm is not None else next((x.unit for x in enough), weighed[-1].unit if weighed else None)


def _groupings(scheme: Scheme, job: Job) -> Iterator[list[tuple[int, ...]]]:
    """Ways to share places out among outdoor units: all on one, one a storey, two halves, pairs and threes in order."""
    every = tuple(range(len(scheme.places)))
    storey = {r.id: r.storey for r in job.rooms}
    by_storey = [tuple(k for k in every if storey[scheme.places[k].rooms[0]] == s.id) for s in job.storeys]
    ways = [[every], [g for g in by_storey if g]]
    ways += [[every[k : k + n] for k in range(0, len(every), n)] for n in (-(-len(every) // 2), 4, 3, 2) if n > 0]
    seen = set()
    for way in ways:
        if tuple(way) not in seen and all(2 <= len(g) <= MOST_TOGETHER for g in way):
            seen.add(tuple(way))
            yield way


def _outdoor(
    group: tuple[int, ...], heads: list[Unit], systems: list[SystemResults], bare: Results, multis: list[MultiUnit]
) -> tuple[MultiUnit, bool] | None:
    """The smallest outdoor unit for some places, and whether it carries them in both seasons."""
    connected = sum(heads[k].nominal_w for k in group)
    rooms = {r for k in group for r in systems[k].design.serves}
    loads = bare.loads.of_rooms(np.array([float(r.id in rooms) for r in bare.job.rooms]))
    fitting = []
    for m in sorted(multis, key=lambda m: m.nominal_w):
        low, high = m.connected
        if m.ports < len(group) or not low <= connected / m.nominal_w <= high:
            continue
        weighed = [
            evaluate(
                on_outdoor(heads[k], m, connected, systems[k].design.line.length_m),
                systems[k].design,
                bare.conditions,
                systems[k].loads,
            )
            for k in group
        ]
        cools = sum(x.total_w for x in weighed) >= LEAST_SHARE * loads.house_cooling_w
        heats = carries(sum(x.heating_w for x in weighed), loads.house_heating_w)
        fitting.append((m, cools and heats))
        if cools and heats:
            break
    return next((x for x in fitting if x[1]), fitting[-1] if fitting else None)
