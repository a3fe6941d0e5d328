"""Taking a record away takes along, clears or refuses just what the table of relations says."""

import unittest
from typing import get_args

from murvan.demo import demo_job
from murvan.model import InUseError, Job, Zone, insert, remove, replace
from murvan.model.edit import changed
from murvan.model.job import COLLECTIONS, Reading
from murvan.model.relations import RELATIONS, key_of, users
from tests.houses import demo

ID_PATTERN = Zone.model_json_schema()["properties"]["id"]["pattern"]
SAMPLES = ("demo", "bungalow", "narrow")


def state(job):
    """(collection, key) to record, single parts under their own name."""
    out = {}
    for name in Job.model_fields:
        value = getattr(job, name)
        if isinstance(value, tuple) and all(key_of(x) is not None for x in value):
            out |= {(name, key_of(x)): x for x in value}
        else:
            out[name, None] = value
    return out


class EveryRecord(unittest.TestCase):
    def check(self, job, collection, item):
        """The job without the item and what hangs on it; every other record as it was but for cleared references."""
        try:
            after = remove(job, collection, item, with_dependents=True)
        except InUseError:
            self.assertIn("refuse", {r.on_delete for r in RELATIONS}, item)
            return
        before, now = state(job), state(after)
        gone = before.keys() - now.keys()
        self.assertEqual(now.keys() - before.keys(), set())
        self.assertIn((collection, item), gone)
        for owner, key in gone - {(collection, item)}:
            hangs = [
                r
                for r in RELATIONS
                if r.owner == owner
                and r.on_delete == "take"
                and (r.target, getattr(before[owner, key], r.field)) in gone
            ]
            self.assertTrue(hangs, f"{owner} {key} went with {collection} {item}")
        for at, record in now.items():
            if record == before[at]:
                continue
            fields = [f for f in type(record).model_fields if getattr(record, f) != getattr(before[at], f)]
            for f in fields:
                relation = next(r for r in RELATIONS if (r.owner, r.field) == (at[0], f))
                self.assertEqual(relation.on_delete, "clear")
                self.assertIsNone(getattr(record, f))
                self.assertIn((relation.target, getattr(before[at], f)), gone)

    def test_with_what_hangs_on_it(self):
        for name in SAMPLES:
            job = demo_job(name)
            for collection in COLLECTIONS:
                for x in getattr(job, collection):
                    with self.subTest(f"{name}: {collection} {x.id}"):
                        self.check(job, collection, x.id)

    def test_alone(self):
        for name in SAMPLES:
            job = demo_job(name)
            for collection in COLLECTIONS:
                for x in getattr(job, collection):
                    with self.subTest(f"{name}: {collection} {x.id}"):
                        used = [r for r, _ in users(job, collection, x.id) if not r.loose]
                        if used:
                            with self.assertRaises(InUseError):
                                remove(job, collection, x.id)
                            continue
                        before, after = state(job), state(remove(job, collection, x.id))
                        self.assertEqual(before.keys() - after.keys(), {(collection, x.id)})
                        self.assertTrue(all(after[k] is before[k] or after[k] == before[k] for k in after))


class ByName(unittest.TestCase):
    def test_a_zone_goes_and_its_rooms_stay(self):
        job = insert(demo(), "zones", Zone(id="attic", name="Attic"))
        job = replace(job, "rooms", "bed2", zone="attic")
        after = remove(job, "zones", "attic", with_dependents=True)
        self.assertEqual(len(after.rooms), len(job.rooms))
        self.assertIsNone(next(r for r in after.rooms if r.id == "bed2").zone)

    def test_a_run_goes_and_the_register_of_its_id_and_its_readings_stay(self):
        job = demo()
        self.assertIn("B4", {r.id for r in job.registers} & {r.id for r in job.runs})
        job = changed(job, "Demo", readings=(Reading(id="x", place="B4", quantity="flow", value=0.03),))
        after = remove(job, "runs", "B4", with_dependents=True)
        self.assertIn("B4", {r.id for r in after.registers})
        self.assertEqual(after.readings, job.readings)
        self.assertEqual(remove(job, "registers", "B4", with_dependents=True).readings, ())

    def test_a_common_assembly_in_use_is_refused_in_words(self):
        job = demo()
        with self.assertRaisesRegex(InUseError, "still used by the common wall"):
            remove(job, "constructions", job.wall_construction, with_dependents=True)

    def test_the_table_knows_every_reference_of_the_records(self):
        """A field of the kind Id is the record's own, or stands in the table."""
        known = {(r.owner, r.field) for r in RELATIONS}
        owners = {"": Job} | {
            c: get_args(Job.model_fields[c].annotation)[0] for c in (*COLLECTIONS, "wall_overrides", "plenums")
        }
        for name, field in Job.model_fields.items():
            if hasattr(field.annotation, "model_fields"):
                owners[name] = field.annotation
        for owner, kind in owners.items():
            for name, field in kind.model_json_schema()["properties"].items():
                patterns = {x.get("pattern") for x in (field, *field.get("anyOf", ()))}
                if ID_PATTERN in patterns and name not in ("id", "unit"):
                    self.assertIn((owner, name), known)


if __name__ == "__main__":
    unittest.main()
