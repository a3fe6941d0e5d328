"""Taking a record away takes along, clears or refuses just what the table of relations says."""

import json
import unittest
from typing import get_args

from murvan.demo import demo_job
from murvan.model import Design, InUseError, Job, JobError, JobValueError, Ref, Zone, insert, remove, with_design
from murvan.model.design import COLLECTIONS as DESIGN_COLLECTIONS
from murvan.model.design_edit import put_in_zone, set_aside, zone_of
from murvan.model.edit import changed
from murvan.model.files import job_from_raw, job_text
from murvan.model.job import COLLECTIONS as HOUSE_COLLECTIONS
from murvan.model.job import Reading
from murvan.model.relations import RELATIONS, key_of, part_of, parts, users
from tests.houses import demo

ID_PATTERN = Zone.model_json_schema()["properties"]["id"]["pattern"]
SAMPLES = ("demo", "bungalow", "narrow")
EVERY = (*HOUSE_COLLECTIONS, *DESIGN_COLLECTIONS)


def state(job):
    """(part, collection, key) to record, single parts under their own name."""
    out = {}
    for k, part in enumerate(parts(job)):
        for name in type(part).model_fields:
            value = getattr(part, name)
            if name in ("design", "options"):
                continue
            if isinstance(value, tuple) and all(key_of(x) is not None for x in value):
                out |= {(k, name, key_of(x)): x for x in value}
            else:
                out[k, name, None] = value
    return out


def named(relation, before, gone):
    """What has gone, as the relation names it."""
    return {(c, getattr(before[k, c, i], relation.via)) for k, c, i in gone if c == relation.target}


def records(job, collection):
    return getattr(parts(job)[part_of(job, collection)], collection)


def samples():
    """Every sample, and the demo with the same design set aside."""
    for name in SAMPLES:
        yield name, demo_job(name)
    yield "with an option", set_aside(demo(), "As it was")


class EveryRecord(unittest.TestCase):
    def check(self, job, collection, item):
        """The job without the item and what hangs on it; every other record as it was but for cleared references."""
        try:
            after = remove(job, collection, item, with_dependents=True)
        except InUseError:
            self.assertIn("refuse", {r.on_delete for r in RELATIONS if r.target == collection}, item)
            return
        except JobValueError as exc:  # a design keeps a unit
            self.assertIn(collection, ("systems", "indoor_units"))
            self.assertIn("at least one indoor unit", str(exc))
            return
        before, now = state(job), state(after)
        gone = before.keys() - now.keys()
        lost = {(c, k) for _, c, k in gone}
        first = (part_of(job, collection), collection, item)
        self.assertEqual(now.keys() - before.keys(), set())
        self.assertIn(first, gone)
        for at, owner, key in gone - {first}:
            record = before[at, owner, key]
            hangs = [
                r
                for r in RELATIONS
                if r.owner == owner
                and r.on_delete == "take"
                and any((r.target, x) in (named(r, before, gone) if r.via else lost) for x in r.ids(record))
            ]
            self.assertTrue(hangs, f"{owner} {key} went with {collection} {item}")
        for at, record in now.items():
            if record == before[at]:
                continue
            for f in (f for f in type(record).model_fields if getattr(record, f) != getattr(before[at], f)):
                relation = next(r for r in RELATIONS if (r.owner, r.field) == (at[1], f))
                self.assertEqual(relation.on_delete, "clear")
                missing = set(relation.ids(before[at])) - set(relation.ids(record))
                self.assertTrue(missing and all((relation.target, x) in lost for x in missing))

    def test_with_what_hangs_on_it(self):
        for name, job in samples():
            for collection in EVERY:
                for x in records(job, collection):
                    with self.subTest(f"{name}: {collection} {x.id}"):
                        self.check(job, collection, x.id)

    def test_alone(self):
        for name, job in samples():
            for collection in EVERY:
                for x in records(job, collection):
                    with self.subTest(f"{name}: {collection} {x.id}"):
                        used = list(users(job, collection, x.id))
                        if used:
                            with self.assertRaises(InUseError):
                                remove(job, collection, x.id)
                            continue
                        if collection == "indoor_units":
                            with self.assertRaisesRegex(JobValueError, "at least one indoor unit"):
                                remove(job, collection, x.id)
                            continue
                        before, after = state(job), state(remove(job, collection, x.id))
                        self.assertEqual(before.keys() - after.keys(), {(part_of(job, collection), collection, x.id)})
                        self.assertTrue(all(after[k] is before[k] or after[k] == before[k] for k in after))


def places(raw, path=()):
    """Every place in raw data, of lists their first two."""
    steps = raw.items() if isinstance(raw, dict) else list(enumerate(raw))[:2] if isinstance(raw, list) else ()
    for step, inner in steps:
        yield (*path, step)
        yield from places(inner, (*path, step))


def put(raw, path, value):
    """The data with a value in a place, the rest shared."""
    if not path:
        return value
    out = dict(raw) if isinstance(raw, dict) else list(raw)
    out[path[0]] = put(raw[path[0]], path[1:], value)
    return out


class ByName(unittest.TestCase):
    def test_a_zone_goes_and_its_rooms_stay(self):
        job = insert(demo(), "zones", Zone(id="attic", name="Attic"))
        job = put_in_zone(job, ("bed2",), "attic")
        after = remove(job, "zones", "attic", with_dependents=True)
        self.assertEqual(len(after.rooms), len(job.rooms))
        self.assertIsNone(zone_of(after.design, "bed2"))

    def test_a_room_goes_from_every_design(self):
        job = remove(set_aside(demo(), "As it was"), "rooms", "bed2", with_dependents=True)
        for design in (job.design, *job.options):
            self.assertNotIn("bed2", {x.room for x in design.registers})
            self.assertNotIn("B3", {x.id for x in design.runs})
            self.assertIsNone(zone_of(design, "bed2"))

    def test_what_is_of_a_design_stays_in_the_others(self):
        job = remove(set_aside(demo(), "As it was"), "runs", "SA1", with_dependents=True)
        self.assertLess(len(job.design.runs), len(job.options[0].runs))
        self.assertEqual(job.options[0].runs, demo().design.runs)

    def test_an_option_that_uses_a_record_is_named(self):
        job = set_aside(demo(), "As it was")
        for collection in ("registers", "zones", "runs"):
            for x in getattr(job.design, collection):
                job = (
                    remove(job, collection, x.id, with_dependents=True)
                    if x in getattr(job.design, collection)
                    else job
                )
        with self.assertRaisesRegex(InUseError, "still used by .* in As it was, set aside"):
            remove(changed(job, "", openings=(), furniture=(), existing=(), appliances=()), "rooms", "bed2")

    def test_a_run_goes_and_the_register_of_its_id_and_its_readings_stay(self):
        job = demo()
        self.assertIn("B4", {r.id for r in job.design.registers} & {r.id for r in job.design.runs})
        job = with_design(job, readings=(Reading(id="x", at=Ref("register", "B4"), quantity="flow", value=0.03),))
        after = remove(job, "runs", "B4", with_dependents=True)
        self.assertIn("B4", {r.id for r in after.design.registers})
        self.assertEqual(after.design.readings, job.design.readings)
        self.assertNotIn(Ref("run", "B4"), {x.at for x in after.design.ticks})
        self.assertIn(Ref("register", "B4"), {x.at for x in after.design.ticks})
        self.assertEqual(remove(job, "registers", "B4", with_dependents=True).design.readings, ())

    def test_what_points_nowhere_is_refused_on_loading(self):
        reading, tick = demo().design.readings[0], demo().design.ticks[0]
        for ref, words in (
            (Ref("register", "Z9"), "refers to 'Z9'"),
            (Ref("zone", "1"), "is of a zone; allowed are"),
            (Ref("indoor_unit", "B4"), "refers to 'B4'"),
        ):
            for name, record in (("readings", reading), ("ticks", tick)):
                with self.subTest(f"{name} {ref}"), self.assertRaisesRegex(JobValueError, words):
                    with_design(demo(), **{name: (changed(record, at=ref),)})

    def test_no_value_in_any_place_ends_in_anything_but_words(self):
        """Every field of the sample, a few records of each kind, given what it can't be."""
        raw = json.loads(job_text(demo()))
        bads = (None, "", "x" * 300, [], {}, 1e300, 10**400, True, "yes", float("nan"))
        for k, path in enumerate(places(raw)):
            for bad in (bads[k % len(bads)], bads[(3 * k + 1) % len(bads)]):
                try:
                    job_from_raw(put(raw, path, bad))
                except JobError as refusal:
                    self.assertTrue(str(refusal))
                    self.assertNotRegex(str(refusal), "(?i)input should|validation|instance of")

    def test_a_common_assembly_in_use_is_refused_in_words(self):
        job = demo()
        with self.assertRaisesRegex(InUseError, "still used by the common wall"):
            remove(job, "constructions", job.wall_construction, with_dependents=True)

    def test_the_table_knows_every_reference_of_the_records(self):
        """A field of the kind Id, or a tuple of them, is the record's own, names the catalogue, or stands in the table."""
        known = {(r.owner, r.field) for r in RELATIONS}
        owners = {"": Job}
        for whole in (Job, Design):
            for name, field in whole.model_fields.items():
                kinds = (*get_args(field.annotation), field.annotation)
                found = next((k for k in kinds if hasattr(k, "model_fields")), None)
                if found is not None and found is not Design:
                    owners[name] = found
        for owner, kind in owners.items():
            for name, field in kind.model_json_schema()["properties"].items():
                each = (field, *field.get("anyOf", ()), field.get("items", {}))
                if ID_PATTERN in {x.get("pattern") for x in each} and name not in (
                    "id",
                    "unit",
                    "candidates",
                    "item",
                ):
                    self.assertIn((owner, name), known)


if __name__ == "__main__":
    unittest.main()
