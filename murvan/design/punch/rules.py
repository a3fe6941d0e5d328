"""The punch list: every judgement is a rule with a limit and where the limit comes from."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from murvan.design.finding import DECLARED, Finding, Hit, Rule
from murvan.design.punch import (
    air_checks,
    build_checks,
    checks,
    duct_checks,
    head_checks,
    house_checks,
    load_checks,
    outdoor_checks,
    plenum_checks,
    space_checks,
    unit_checks,
    zone_checks,
)
from murvan.design.results import Results
from murvan.design.watched import Kept
from murvan.model.record import Ref

CHECKS = (
    *(house_checks, load_checks, checks, plenum_checks, unit_checks),
    *(outdoor_checks, duct_checks, air_checks, head_checks, space_checks, zone_checks, build_checks),
)
"""In the order in which their findings stand on the list."""
RULES: tuple[Rule, ...] = tuple(r for m in CHECKS for r in DECLARED if r.check.__module__ == m.__name__)


def findings(results: Results, kept: Kept) -> tuple[Finding, ...]:
    """All findings, what fails first, then by station; `kept` are those of before, which stand while nothing they asked for
    has changed."""
    mine = [rule for rule in RULES if results.job.design.air.velocity_profile in rule.profiles]
    out = [x for rule in mine for x in _found(rule, results, kept)]
    return tuple(sorted(out, key=lambda f: (f.severity != "fails", f.rule.station)))


def found_by(results: Results, *ids: str) -> Iterator[Finding]:
    """What some rules find, without the rest of the list."""
    for rule in (r for r in RULES if r.id in ids and results.job.design.air.velocity_profile in r.profiles):
        yield from (Finding(rule, hit) for hit in rule.judge(results))


def _found(rule: Rule, r: Results, kept: Kept) -> tuple[Finding, ...]:
    """What a rule finds; one that fails on this house is reported, and the others stand."""
    try:
        return kept(rule.id, r, lambda seen: (Finding(rule, hit) for hit in rule.judge(seen)))
    except Exception as trouble:
        words = f"could not be judged ({type(trouble).__name__}: {trouble})"[:300].replace("{", "(").replace("}", ")")
        hit = Hit(Ref("house", rule.id), f"“{rule.name}”", words)
        return (Finding(replace(NOT_JUDGED, station=rule.station), hit),)


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
