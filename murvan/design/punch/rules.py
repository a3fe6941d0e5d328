"""The punch list: every judgement is a rule with a limit and where the limit comes from."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import cast

from murvan.design.finding import DECLARED, Finding, Hit, Rule
from murvan.design.house.geometry import Geometry
from murvan.design.memo import Memo
from murvan.design.punch import (
    air_checks,
    build_checks,
    checks,
    duct_checks,
    house_checks,
    load_checks,
    outdoor_checks,
    plenum_checks,
    unit_checks,
    zone_checks,
)
from murvan.design.results import Results
from murvan.model.job import Job
from murvan.model.record import Ref

CHECKS = (
    *(house_checks, load_checks, checks, plenum_checks, unit_checks),
    *(outdoor_checks, duct_checks, air_checks, zone_checks, build_checks),
)
"""In the order in which their findings stand on the list."""
RULES: tuple[Rule, ...] = tuple(r for m in CHECKS for r in DECLARED if r.check.__module__ == m.__name__)


@dataclass(frozen=True)
class _Plan:
    """All that a rule about the plan alone can get at."""

    job: Job
    geometry: Geometry


def findings(results: Results, memo: Memo) -> tuple[Finding, ...]:
    """All findings, what fails first, then by station."""
    mine = [rule for rule in RULES if results.job.design.air.velocity_profile in rule.profiles]
    out = [x for rule in mine for x in _found(rule, results, memo)]
    return tuple(sorted(out, key=lambda f: (f.severity != "fails", f.rule.station)))


def _found(rule: Rule, r: Results, memo: Memo) -> list[Finding]:
    """What a rule finds; one that fails on this house is reported, and the others stand."""
    try:
        return [Finding(rule, hit) for hit in _judged(rule, r, memo)]
    except Exception as trouble:
        words = f"could not be judged ({type(trouble).__name__}: {trouble})"[:300].replace("{", "(").replace("}", ")")
        return [
            Finding(replace(NOT_JUDGED, station=rule.station), Hit(Ref("house", rule.id), f"“{rule.name}”", words))
        ]


def _nothing(_: Results) -> Iterator[Hit]:
    yield from ()


NOT_JUDGED = Rule(
    "not-judged",
    1,
    "look",
    "Rule that could not be judged",
    "geometry",
    "Nothing judged is not a pass.",
    "Look at this yourself, and tell Murvan's makers with the job.",
    _nothing,
)
"""Stands for a rule that failed on a house."""


def _judged(rule: Rule, r: Results, memo: Memo) -> Iterable[Hit]:
    if rule.reads is None:
        return rule.judge(r)

    def look(job: Job, geometry: Geometry) -> tuple[Hit, ...]:
        return tuple(rule.judge(cast("Results", _Plan(job, geometry))))

    return memo(rule.reads, r.job, look, r.geometry, of=rule.id)
