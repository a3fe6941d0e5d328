"""Readings in by CSV, typed, simulated; the verdict; suspects."""

import unittest

from murvan.design import solve
from murvan.field import Visit, parse_fault, readings_csv, verdict, virtual_house
from murvan.field.places import places
from murvan.field.readings import next_id
from murvan.field.verdict import explain, judge
from murvan.model import JobValueError, Reading, Ref, insert, with_design
from tests.field.fitted import fitted_house
from tests.houses import CFM, box, demo, demo_results
from tests.taken import import_csv


def bare():
    return with_design(demo(), readings=())


def at(word):
    return places(demo())[word]


class TestCsv(unittest.TestCase):
    def test_names_ids_and_units(self):
        text = "place,value,unit\nA1,58,cfm\nA4 Dining,50,L/s\nstatic-supply,0.06,in wc\ntemp-supply,95,°F\n"
        rows = import_csv(bare(), text, "ip")
        self.assertEqual([(r.at.id, r.hole) for r in rows[:2]], [("A1", None), ("A4", None)])
        self.assertEqual({(r.at, r.hole) for r in rows[2:]}, {(Ref("indoor_unit", "unit1"), "supply")})
        self.assertAlmostEqual(rows[0].value / CFM, 58)
        self.assertAlmostEqual(rows[1].value, 0.05)
        self.assertAlmostEqual(rows[2].value, 14.945, places=2)
        self.assertAlmostEqual(rows[3].value, 35)
        self.assertEqual([r.quantity for r in rows], ["flow", "flow", "static", "temperature"])

    def test_value_without_unit_follows_the_setting(self):
        self.assertAlmostEqual(import_csv(bare(), "place,value\nA1,58\n", "ip")[0].value / CFM, 58)
        self.assertAlmostEqual(import_csv(bare(), "place,value\nA1,58\n", "si")[0].value, 0.058)

    def test_out_and_in_again(self):
        text = readings_csv(demo(), "si")
        again = import_csv(bare(), text, "si")
        kept = demo().design.readings
        self.assertEqual([(r.at, r.hole, r.quantity) for r in again], [(r.at, r.hole, r.quantity) for r in kept])
        for a, b in zip(again, kept, strict=True):
            self.assertAlmostEqual(a.value, b.value, delta=1e-4 * max(1, abs(b.value)))

    def test_byte_order_mark_blank_lines_and_capitals(self):
        rows = import_csv(bare(), "﻿Place,VALUE\n\nA1,58\n,\n", "ip")
        self.assertEqual(len(rows), 1)

    def test_refusals_name_line_and_column(self):
        cases = {
            "place,reading\nA1,5\n": "no column “value”",
            "place,value\n": "no readings",
            "place,value\nZ9,5\n": "Line 2: there is no register",
            "place,value\nA1,5\nA2,many\n": "Line 3, value",
            "place,value\nA1,-5\n": "Line 2, value: a flow of .* can't be read",
            "place,value,phase\nA1,5,during\n": "after or before",
            "place,value,quantity\nA1,5,smell\n": "not one of",
            "": "no column",
            "place,value,unit\nA1,5,kg\n": "Line 2, value",
        }
        for text, words in cases.items():
            with self.subTest(text), self.assertRaisesRegex(JobValueError, words):
                import_csv(bare(), text, "ip")

    def test_ids_stay_unique(self):
        job = insert(demo(), "readings", *import_csv(demo(), "place,value\nA1,58\nA2,60\n", "ip"))
        self.assertEqual(len({r.id for r in job.design.readings}), len(job.design.readings))
        self.assertNotIn(next_id(job), {r.id for r in job.design.readings})


class TestVerdict(unittest.TestCase):
    def test_tolerance(self):
        self.assertEqual(judge(100 * CFM, 110 * CFM), "good")
        self.assertEqual(judge(100 * CFM, 111 * CFM), "look")
        self.assertEqual(judge(100 * CFM, 79 * CFM), "fails")
        self.assertEqual(judge(30 * CFM, 34.9 * CFM), "good")
        self.assertEqual(judge(30 * CFM, 39.0 * CFM), "look")
        self.assertEqual(judge(30 * CFM, None), "none")

    def test_demo(self):
        v = verdict(demo(), demo_results())
        self.assertEqual((v.read, v.count, v.fails), (12, 15, 1))
        self.assertEqual(v.worst.register, "B4")
        self.assertEqual(v.registers["B4"].mark, "fails")
        self.assertEqual(v.registers["A1"].mark, "none")
        self.assertEqual(v.mark, "fails")
        self.assertAlmostEqual(explain(v.registers["B4"]).result.value, v.registers["B4"].share)

    def test_later_reading_counts(self):
        job = insert(
            demo(),
            "readings",
            Reading(
                id="late",
                at=Ref("register", "B4"),
                quantity="flow",
                value=demo_results().main.airflow.register_m3_s["B4"],
            ),
        )
        self.assertEqual(verdict(job, demo_results()).registers["B4"].mark, "good")

    def test_reading_from_before_does_not_count_as_after(self):
        job = insert(
            bare(), "readings", Reading(id="b", at=Ref("register", "B4"), quantity="flow", value=0.02, phase="before")
        )
        self.assertEqual(verdict(job, demo_results()).read, 0)

    def test_nothing_read(self):
        v = verdict(bare(), demo_results())
        self.assertEqual((v.mark, v.read, v.worst), ("none", 0, None))
        self.assertEqual(verdict(box(), solve(box())).count, 0)


class TestVirtualHouse(unittest.TestCase):
    def shown(self, word, *faults, seed=3):
        b = fitted_house().built
        return Visit(b.r, b, [parse_fault(b, x) for x in faults], seed).shown(at(word))

    def test_seed_repeats(self):
        def values(seed):
            house = virtual_house(demo_results(), (), seed)
            return [house.take(at(p), "x").value for p in ("A1", "B4", "static-supply", "temp-supply")]

        self.assertEqual(values(5), values(5))
        self.assertNotEqual(values(5), values(6))

    def test_a_kink_takes_air_from_its_register_only(self):
        self.assertLess(self.shown("B4", "kink:B4:4"), 0.7 * self.shown("B4"))
        self.assertGreater(self.shown("B2", "kink:B4:4"), self.shown("B2"))

    def test_other_faults(self):
        self.assertLess(self.shown("static-after-filter", "filter::3"), self.shown("static-after-filter"))
        self.assertLess(self.shown("A4", "tap::-1"), self.shown("A4"))
        self.assertLess(self.shown("A4", "damper:A4:0.3"), 0.8 * self.shown("A4"))
        self.assertGreater(self.shown("unit1", "heater_on"), 5000 + self.shown("unit1"))
        self.assertLess(self.shown("temp-supply", "charge::0.6"), self.shown("temp-supply"))

    def test_readings_are_labelled_simulated(self):
        r = virtual_house(demo_results()).take(at("A1"), "x", "Mon", "ks")
        self.assertTrue(r.simulated)
        self.assertEqual((r.instrument, r.quantity, r.person), ("Flow hood 1", "flow", "ks"))

    def test_instrument_noise_is_small(self):
        house = virtual_house(demo_results())
        for _ in range(20):
            self.assertAlmostEqual(house.take(at("A4"), "x").value / house.shown(at("A4")), 1, delta=0.12)

    def test_needs_a_whole_system(self):
        with self.assertRaises(ValueError):
            virtual_house(solve(box()))


class TestFaultsAsTyped(unittest.TestCase):
    def test_where_is_a_tag_an_id_or_what_shows_most(self):
        b = fitted_house().built
        self.assertEqual(parse_fault(b, "kink:b4")[0].where, "B4")
        self.assertEqual(parse_fault(b, "swap:B7+A4")[0].where, "A4+B7")
        self.assertEqual(parse_fault(b, "filter:Unit:2.5"), parse_fault(b, "filter::2.5"))
        self.assertIn(parse_fault(b, "boot")[0].name, [x.id for x in demo().design.registers])

    def test_what_is_wrong_is_said(self):
        b = fitted_house().built
        for text, words in (
            ("brass", "no fault “brass”; known are kink"),
            ("kink:Z9", "no “Z9” for the fault “kink”; known are A1"),
            ("kink:B4:x", "“x” of kink is no number"),
            ("kink:B4:nan", "amount of kink is nan"),
            ("damper:B4:2", "share left open is meant"),
            ("tap::7", r"-3, -2, -1, \+1 are meant"),
            ("bypass", "no place for the fault “bypass”"),
        ):
            with self.assertRaisesRegex(JobValueError, words):
                parse_fault(b, text)
