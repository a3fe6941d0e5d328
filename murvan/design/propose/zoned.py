"""Zones as they are shown: combinations of calls, ways to part the house and what to do with the air left over."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from murvan.design.propose.instead import instead
from murvan.design.propose.schools import School, schools
from murvan.design.results import Results
from murvan.design.zones.calling import ZoneCall, zone_calls
from murvan.design.zones.plans import ZonePeak, ZonePlan, peaks, zone_plans
from murvan.model.errors import JobValueError
from murvan.model.job import Job


@dataclass(frozen=True)
class ZoneStudy:
    """What is known of the zones of a job."""

    job: Job
    calls: tuple[ZoneCall, ...]
    trouble: str
    """Why there are no combinations."""
    now: tuple[ZonePeak, ...]
    """What the zones as they are ask for."""
    plans: tuple[ZonePlan, ...]
    schools: tuple[School, ...] | None
    """None until they are worked out."""
    instead: tuple[str, ...] = ()
    """Where no school serves: what would."""


def zone_study(r: Results, cancelled: Callable[[], bool] = lambda: False) -> Iterator[ZoneStudy]:
    """What is found at once, then all of it; nothing more once it is cancelled."""
    calls: tuple[ZoneCall, ...] = ()
    trouble = ""
    try:
        calls = zone_calls(r)
    except JobValueError as exc:
        trouble = str(exc)
    now = peaks(r, tuple((z.name, z.rooms) for z in r.job.design.zones if z.rooms))
    first = ZoneStudy(r.job, calls, trouble, now, zone_plans(r), None if calls else ())
    yield first
    if not calls or cancelled():
        return
    try:
        found = schools(r, cancelled)
    except JobValueError:
        found = ()
    if found is not None:
        yield replace(first, schools=found, instead=instead(r, found, cancelled))
