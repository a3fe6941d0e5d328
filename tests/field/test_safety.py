"""Combustion, pressure hold and vacuum: limits and words; values common practice."""

import unittest

from murvan.catalog import units
from murvan.design import solve
from murvan.documents.proof_sheet import record_schedule
from murvan.field import read_csv, readings_csv
from murvan.field.places import places, standing
from murvan.field.protocol import visit_to
from murvan.field.proven import proven
from murvan.field.safety import STOP, records
from murvan.model import HouseState, Reading, with_design
from murvan.units import parse
from tests.field.test_states import bare
from tests.houses import demo_results, set_unit


class TestRecords(unittest.TestCase):
    def of(self, words, states=None):
        job = bare()
        own = []
        for k, (word, value) in enumerate(words.items()):
            p = standing(places(job)[word], (states or {}).get(word, HouseState()), job)
            own.append(Reading(id=f"m{k}", at=p.at, hole=p.hole, quantity=p.quantity, value=value, state=p.state))
        return records(with_design(job, readings=tuple(own)), demo_results())

    def test_carbon_monoxide(self):
        for word, ppm, mark in (
            ("co-flue", 50, "good"),
            ("co-flue", 150, "look"),
            ("co-flue", 450, "fails"),
            ("co-room", 3, "good"),
            ("co-room", 12, "look"),
            ("co-room", 40, "fails"),
        ):
            with self.subTest(f"{word} {ppm}"):
                (x,) = self.of({word: ppm * 1e-6})
                self.assertEqual(x.mark, mark)
                self.assertEqual(STOP in x.says, mark == "fails")

    def test_draft_and_the_house(self):
        self.assertEqual([x.mark for x in self.of({"draft": -5.0})], ["good"])
        self.assertIn("Stop, it spills", self.of({"draft": 0.5})[0].says)
        self.assertEqual([self.of({"depression": p})[0].mark for p in (-1.0, -4.0, -6.0)], ["good", "look", "fails"])

    def test_a_hold_counts_its_temperature(self):
        """p2 = p1 T2 / T1, absolute: 500 psi at 70 F are 485.5 psi at 55 F at sea level."""
        psi = 6894.757293
        warm, cold = HouseState(outdoor_c=21.1), HouseState(outdoor_c=12.8)
        states = {"hold-start": warm, "hold-end": cold}
        (x,) = self.of({"hold-start": 500 * psi, "hold-end": 485.5 * psi}, states)
        self.assertEqual(x.mark, "good")
        (x,) = self.of({"hold-start": 500 * psi, "hold-end": 470 * psi}, states)
        self.assertEqual((x.mark, "leaks" in x.says), ("fails", True))
        (x,) = self.of({"hold-start": 500 * psi, "hold-end": 485.5 * psi})
        self.assertEqual(x.mark, "none")

    def test_a_vacuum_by_its_curve(self):
        def microns(*values):
            words = ("vacuum-shut", "vacuum-5", "vacuum-10")
            return self.of({w: v * 0.13332237 for w, v in zip(words, values, strict=False) if v is not None})[0]

        self.assertIn("not deep enough", microns(800).says)
        self.assertIn("ten minutes", microns(300).says)
        self.assertEqual(microns(300, 500, 600).says, "dry and tight")
        self.assertIn("moisture", microns(300, 1400, 1600).says)
        self.assertIn("leaks", microns(300, 1400, 2600).says)
        self.assertIn("five minutes too", microns(300, None, 1800).says)

    def test_figures_in_both_units_on_paper_and_back(self):
        self.assertAlmostEqual(parse("microns", "500", "ip"), 66.66, delta=0.02)
        job = bare()
        taken = read_csv(job, "place,value,unit\nco-flue,150,ppm\nvacuum-shut,300,microns\ndraft,-4,Pa\n", "ip")
        self.assertEqual(taken.faults, ())
        job = with_design(job, readings=taken.readings)
        again = read_csv(with_design(job, readings=()), readings_csv(job, "si"), "si").readings
        for a, b in zip(taken.readings, again, strict=True):
            self.assertAlmostEqual(a.value, b.value, delta=0.01 * abs(a.value))
        table = record_schedule(proven(job, demo_results()), "ip")
        self.assertEqual(len(table.rows), 3)
        self.assertTrue(any("150 ppm" in str(row[2]) for row in table.rows))

    def test_only_what_burns_has_the_step(self):
        self.assertFalse(any(x.short == "Combustion" for x in visit_to(demo_results()).steps))
        furnace = next(
            u.id for u in units().values() if u.kind == "furnace_coil" and u.fuel not in (None, "electric")
        )
        steps = visit_to(solve(set_unit(bare(), unit=furnace))).steps
        self.assertTrue(any(x.short == "Combustion" for x in steps))


if __name__ == "__main__":
    unittest.main()
