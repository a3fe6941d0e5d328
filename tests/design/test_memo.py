"""A change of any field of any record gives the figures of a fresh solve: no stage keeps what it should not."""

import os
import random
import unittest
from collections.abc import Callable, Iterator

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.memo import Memo, Reads
from murvan.model import JobError, replace
from murvan.model.edit import changed
from murvan.model.record import Record
from tests.design.test_solve import STAGES, same, stage

SHARE = float(os.environ.get("MURVAN_EVERY_FIELD", "0.03"))
"""Share of all changes tried in one run; 1 tries all of them."""


def other(value: object) -> Iterator[object]:
    """A few values near a value that a field may take instead."""
    if isinstance(value, bool):
        yield not value
    elif isinstance(value, (int, float)):
        yield from (value * 1.07 + 0.01, value * 0.9, value + 1)
    elif value is None:
        yield from (0.5, "2")
    elif isinstance(value, str):
        yield f"{value}x"


def changes(record: Record) -> Iterator[tuple[str, Callable[[], Record]]]:
    """(what, the record with one field of it or of one within it changed), for every field of every record."""
    for name in type(record).model_fields:
        value = getattr(record, name)
        if isinstance(value, Record):
            for what, make in changes(value):
                yield f"{name}.{what}", lambda name=name, make=make: changed(record, "", **{name: make()})
        elif isinstance(value, tuple) and value and all(isinstance(x, Record) for x in value):
            for k, x in enumerate(value):
                for what, make in changes(x):
                    yield (
                        f"{name}[{k}].{what}",
                        lambda name=name, make=make, k=k, v=value: changed(
                            record, "", **{name: (*v[:k], make(), *v[k + 1 :])}
                        ),
                    )
        elif name == "outline_m":
            yield name, lambda v=value: changed(record, "", outline_m=tuple((x * 1.01, y) for x, y in v))
        elif name != "id":
            for v in other(value):
                yield name, lambda name=name, v=v: changed(record, "", **{name: v})


class Reading(unittest.TestCase):
    def test_a_stage_gets_at_nothing_but_what_it_says(self):
        reads = Reads("trial", "storeys", rooms=("id", "height_m"), site=("north_deg",))
        part = reads.part(demo_job())
        self.assertEqual([r.id for r in part.rooms], [r.id for r in demo_job().rooms])
        self.assertEqual(part.site.north_deg, demo_job().site.north_deg)
        for reach in (lambda: part.openings, lambda: part.rooms[0].outline_m, lambda: part.site.latitude_deg):
            with self.assertRaisesRegex(AttributeError, "the stage trial does not say that it reads"):
                reach()

    def test_it_runs_again_only_for_what_it_reads(self):
        reads, ran = Reads("trial", "storeys", rooms=("id", "height_m")), []
        job, memo = demo_job(), Memo({})
        memo(reads, job, lambda part: ran.append("first"))
        for name, change, runs in (
            ("another name", {"name": "Parlour"}, 0),
            ("another height", {"height_m": 2.61}, 1),
        ):
            with self.subTest(name):
                before = len(ran)
                Memo(memo.new)(reads, replace(job, "rooms", "living", **change), lambda part: ran.append(1))
                self.assertEqual(len(ran) - before, runs)


class EveryField(unittest.TestCase):
    def test_a_kept_solve_is_a_fresh_one(self):
        chance, tried = random.Random(7), 0
        for name in ("demo", "bungalow", "narrow"):
            job = demo_job(name)
            base = solve(job, solve(job, watch=True).complete(), watch=True).complete()
            for what, make in changes(job):
                if chance.random() > SHARE:
                    continue
                try:
                    after = make()
                except JobError:
                    continue
                tried += 1
                with self.subTest(f"{name}: {what}"):
                    kept, fresh = solve(after, base, watch=True), solve(after)
                    for x in STAGES:
                        self.assertTrue(x == "answers" or same(stage(fresh, x), stage(kept, x)), x)
                    self.assertEqual([f.text("si") for f in fresh.findings], [f.text("si") for f in kept.findings])
        self.assertGreater(tried, 2500 * SHARE)


if __name__ == "__main__":
    unittest.main()
