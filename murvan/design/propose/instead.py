"""Where no way to deal with the air left over serves: that the unit is not to be zoned so, and what would."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from murvan.design.propose.schools import School, plainest
from murvan.design.results import Results
from murvan.design.solve import solve
from murvan.design.zones.calling import asked_m3_s, owner
from murvan.design.zones.drawing import parted
from murvan.model.errors import JobValueError
from murvan.model.job import Zone

MOST_WRONG = 0.5
"""Share of the combinations that may stay wrong with the best way; common practice."""
WITHOUT = "One thermostat for this unit: its dampers set once by hand"
EACH_ITS_OWN = "A unit for each zone: Equipment; or heads in the small ones"


def serves(found: tuple[School, ...]) -> bool:
    """Whether the first of the ways leaves most combinations right."""
    best = found[0]
    return not best.trouble and best.amiss <= MOST_WRONG * len(best.calls)


def instead(r: Results, found: tuple[School, ...], cancelled: Callable[[], bool] = lambda: False) -> tuple[str, ...]:
    """What would serve, 'what: how', each tried where it can be; nothing where the zones serve as they are."""
    if not found or serves(found):
        return ()
    return (*_joined(r, cancelled), *_lower(r), EACH_ITS_OWN, WITHOUT)


def _joined(r: Results, cancelled: Callable[[], bool]) -> Iterator[str]:
    """The smallest zone with each other one, where there are more than two; only what was tried and serves."""
    zones = sorted(r.damped_zones, key=lambda z: asked_m3_s(r, (z,)))
    for other in zones[1:] if len(zones) > 2 else ():
        if cancelled():
            return
        words = f"{zones[0].name} and {other.name} as one zone"
        try:
            best = plainest(solve(parted(r.job, _groups(r, zones[0], other)), r))
        except JobValueError:
            continue
        if serves((best,)):
            n = best.amiss
            yield f"{words}: {f'{n} of {len(best.calls)} wrong' if n else 'all work'}, {best.name.lower()}"
            return


def _groups(r: Results, a: Zone, b: Zone) -> tuple[tuple[str, tuple[str, ...]], ...]:
    rest = ((z.name, z.rooms) for z in r.job.design.zones if z.id not in (a.id, b.id) and z.rooms)
    return ((f"{b.name} + {a.name}", (*b.rooms, *a.rooms)), *rest)


def _lower(r: Results) -> Iterator[str]:
    """The stage that the smallest zone wants of a unit, where this one's is higher."""
    zones = r.damped_zones
    s = owner(r, zones)
    small = min(zones, key=lambda z: asked_m3_s(r, (z,)))
    share = asked_m3_s(r, (small,)) / max(s.airflow.total_m3_s, 1e-9)
    if s.unit is not None and 0 < share < s.unit.cooling.min_fraction:
        low = f"this one's lowest stage is {s.unit.cooling.min_fraction * 100:.0f} %"
        yield f"A unit that turns down to {share * 100:.0f} %: as {small.name}; {low}"
