"""Every field that can be typed changes a figure, a line of a schedule or the shop's list; or its name is on the list of notes."""

from __future__ import annotations

import json
import unittest
from collections.abc import Iterator
from typing import Any

from murvan.app.stations.field_table import PARTS, RECORDS, SUBS, WHOLE
from murvan.app.stations.fields import of, of_job, of_part, of_sub
from murvan.demo import BY_KEY, demo_job
from murvan.design import Results, solve
from murvan.documents.results_json import results_data
from murvan.documents.schedules import all_schedules, csv_text
from murvan.field.verdict import verdict
from murvan.model import Job, JobError
from murvan.model.design import Bypass
from murvan.model.edit import part_named

NOTES = frozenset[str]()
"""Said on sheets and shown on the plan, and nothing is worked out from them."""

DRAWN = frozenset[str]()
"""They decide where something lies or what is drawn: tested where that is."""


def answers(r: Results) -> str:
    """All that the job's figures come to, in words and numbers."""
    v = verdict(r.job, r)
    tables = [csv_text(s, "si") for s in all_schedules(r, v, "si")]
    cut = [repr(r.cuts)]
    years = [repr(s.equipment.chosen) for s in r.systems.values()]
    seasons = [repr(s.equipment.chosen.season) for s in r.systems.values() if s.equipment.chosen is not None]
    return json.dumps(results_data(r, v), default=str) + "".join((*tables, *cut, *years, *seasons))


def others(field: Any) -> Iterator[Any]:
    """Values a hand might type instead."""
    if field.options:
        yield from (v for v, _ in field.options if v != field.value)
    elif field.kind == "text":
        yield from ("Another word", "")
    else:
        now = float(field.value) if field.value not in (None, "") else 0.0
        yield from (now * 1.3 + 0.05, now * 0.6, 2.0, 1.0, 12.0, round(now) + 1.0)


def changes(r: Results, before: str, field: Any) -> bool | None:
    """Whether typing into a field changes an answer; None where nothing that was tried was taken."""
    tried = None
    for value in others(field):
        try:
            after = field.apply(r.job, value)
        except JobError:
            continue
        if after == r.job:
            continue
        tried = tried or False
        if answers(solve(after, r)) != before:
            return True
    return tried


def fields_of(job: Job) -> Iterator[tuple[str, Any]]:
    for part, names in PARTS.items():
        yield from ((f"{part}.{name}", of_part(job, part, name)) for name in names)
    yield from ((name, of_job(job, name)) for name in WHOLE)
    for collection, names in RECORDS.items():
        for record in part_named(job, collection)[:4]:
            yield from ((f"{collection}.{name}", of(collection, record, name)) for name in names)
    for (collection, part), names in SUBS.items():
        for record in part_named(job, collection)[:3]:
            usual = Bypass(diameter_m=0.25, opens_pa=40.0) if part == "bypass" else None
            if getattr(record, part) is not None or usual is not None:
                yield from (
                    (f"{collection}.{part}.{name}", of_sub(collection, record, part, name, usual)) for name in names
                )


class EveryFieldCounts(unittest.TestCase):
    def test_each_changes_a_figure_or_is_a_note(self) -> None:
        left = {name: False for name, _ in fields_of(demo_job("demo"))}
        for key in BY_KEY:
            r = solve(demo_job(key))
            before = answers(r)
            for name, field in fields_of(r.job):
                if left.get(name) is True or name in NOTES | DRAWN:
                    continue
                left[name] = left.get(name, False) or bool(changes(r, before, field))
        idle = {name for name, found in left.items() if not found} - NOTES - DRAWN
        self.assertEqual(idle, set(), "typed, and nothing comes of it")


if __name__ == "__main__":
    unittest.main()
