"""Every field that can be typed: it exists, its choices are taken, and it says the same on every card."""

import unittest
from typing import get_args

from murvan.app.stations.field_table import PARTS, RECORDS, SUBS, WHOLE
from murvan.app.stations.fields import of, of_job, of_part, of_sub
from murvan.demo import BY_KEY, demo_job
from murvan.model import Job, JobError, Transfer
from murvan.model.design import Bypass, Design
from murvan.model.edit import part_named
from murvan.units import unit

OTHER = {"hour", "text", "people", "number", "decimal"}


def record_kind(collection: str) -> type:
    holder = Job if collection in Job.model_fields else Design
    return get_args(holder.model_fields[collection].annotation)[0]


def samples() -> list[Job]:
    return [demo_job(key) for key in BY_KEY]


class TestDeclared(unittest.TestCase):
    def test_each_is_a_field_of_its_record_with_a_unit(self) -> None:
        for collection, fields in RECORDS.items():
            model = record_kind(collection).model_fields
            for name, d in fields.items():
                with self.subTest(f"{collection}.{name}"):
                    self.assertIn(name, model)
                    self.assertTrue(d.label and d.undo)
                    if d.kind not in OTHER:
                        unit(d.kind, "ip")
                        unit(d.kind, "si")

    def test_no_two_of_a_record_share_a_key(self) -> None:
        for collection, fields in RECORDS.items():
            keys = [d.key for d in fields.values()]
            self.assertEqual(len(keys), len(set(keys)), collection)
        keys = [d.key for fields in (*PARTS.values(), WHOLE) for d in fields.values()]
        self.assertEqual(len(keys), len(set(keys)))

    def test_what_is_shown_can_be_typed_again_without_a_change(self) -> None:
        tried = 0
        for job in samples():
            for collection, fields in RECORDS.items():
                for record in part_named(job, collection):
                    for name in fields:
                        field = of(collection, record, name)
                        assert field.apply is not None
                        if field.value is None or collection == "constructions":
                            continue
                        again = field.apply(job, field.value)
                        now = next(x for x in part_named(again, collection) if x.id == record.id)
                        with self.subTest(f"{job.name}: {field.key}"):
                            self.assertEqual(of(collection, now, name).value, field.value)
                            tried += 1
        self.assertGreater(tried, 1200)

    def test_every_choice_is_taken_or_refused_in_words(self) -> None:
        taken = 0
        for job in samples():
            for collection, fields in RECORDS.items():
                for record in part_named(job, collection)[:4]:
                    for name in fields:
                        field = of(collection, record, name)
                        assert field.apply is not None
                        for value, _ in field.options:
                            try:
                                after = field.apply(job, value)
                            except JobError as refusal:
                                self.assertTrue(str(refusal))
                                continue
                            now = next(x for x in part_named(after, collection) if x.id == record.id)
                            with self.subTest(f"{job.name}: {field.key} {value}"):
                                self.assertEqual(of(collection, now, name).value, value)
                                taken += 1
        self.assertGreater(taken, 150)

    def test_the_parts_of_a_job(self) -> None:
        job = demo_job("demo")
        for part, fields in PARTS.items():
            for name, d in fields.items():
                field = of_part(job, part, name)
                assert field.apply is not None
                with self.subTest(d.key):
                    if field.value is not None:
                        again = field.apply(job, field.value)
                        self.assertEqual(of_part(again, part, name).value, field.value)

    def test_the_job_itself(self) -> None:
        job = demo_job("demo")
        for name in WHOLE:
            field = of_job(job, name)
            assert field.apply is not None
            with self.subTest(name):
                self.assertIn(name, Job.model_fields)
                if field.value is not None:
                    self.assertEqual(getattr(field.apply(job, field.value), name), getattr(job, name))
        area = of_job(job, "typed_area_m2").apply
        assert area is not None
        self.assertEqual(area(job, 200.0).typed_area_m2, 200.0)

    def test_parts_of_records(self) -> None:
        usual = {"transfer": Transfer(), "bypass": Bypass(diameter_m=0.25, opens_pa=40.0)}
        for job in samples():
            for (collection, part), fields in SUBS.items():
                for record in part_named(job, collection)[:3]:
                    for name in fields:
                        field = of_sub(collection, record, part, name, usual.get(part))
                        assert field.apply is not None and field.value is not None
                        value = field.options[-1][0] if field.options else float(field.value) * 1.5 + 0.01
                        after = field.apply(job, value)
                        now = next(x for x in part_named(after, collection) if x.id == record.id)
                        with self.subTest(f"{job.name}: {field.key}"):
                            self.assertEqual(getattr(getattr(now, part), name), value)

    def test_an_assembly_that_is_typed_into_counts_as_looked_at(self) -> None:
        job = demo_job("demo")
        c = next(x for x in job.constructions if x.framing_fraction)
        field = of("constructions", c, "framing_fraction")
        assert field.apply is not None
        after = field.apply(job, 0.21)
        now = next(x for x in after.constructions if x.id == c.id)
        self.assertFalse(now.assumed)
        self.assertEqual(now.framing_fraction, 0.21)

    def test_a_card_may_say_one_thing_otherwise(self) -> None:
        job = demo_job("demo")
        field = of("rooms", job.rooms[0], "height_m", label="Height", key="here")
        self.assertEqual((field.label, field.key, field.kind), ("Height", "here", "feet"))


if __name__ == "__main__":
    unittest.main()
