"""What is wrong by all readings at once: single faults, pairs, none, and what to read next."""

import unittest

import numpy as np

from murvan.design import solve
from murvan.field import diagnose, diagnosis_data, house, readings_csv, visited
from murvan.field.diagnosing import enough
from murvan.field.explained import explain
from murvan.field.fit import Said, fit
from murvan.field.next_reading import doubt, next_reading
from murvan.field.visit import Visit, parse_fault
from murvan.model import JobValueError, insert, with_design
from tests.field.fitted import fit_of, fitted_house, names, said_of
from tests.houses import box, demo
from tests.taken import import_csv

DRAWS = 6
PLAIN = (
    ("kink:B2", ("kink", "B2")),
    ("damper:A3:0.3", ("damper", "A3")),
    ("boot:B7:0.15", ("boot", "B7")),
    ("boot_off:B2", ("boot_off", "B2")),
    ("filter", ("filter", "Unit")),
    ("filter_missing", ("filter_missing", "Unit")),
    ("coil", ("coil", "Unit")),
    ("wheel", ("wheel", "Unit")),
    ("tap::-2", ("tap", "Unit")),
    ("return", ("return", "RT1")),
    ("return_leak", ("return_leak", "Unit")),
    ("plenum_leak", ("plenum_leak", "Unit")),
    ("flex", ("flex", "Unit")),
    ("heater_on", ("heater_on", "Unit")),
    ("hood_bias", ("hood_bias", "")),
)


class TestSingles(unittest.TestCase):
    def test_each_is_named_in_most_draws(self):
        h = fitted_house()
        for text, wanted in PLAIN:
            with self.subTest(text):
                right = sum(names(fit_of(h, text, seed=100 + k), wanted) for k in range(DRAWS))
                self.assertGreaterEqual(right, DRAWS - 1, text)

    def test_a_house_as_designed_accuses_nobody(self):
        h = fitted_house()
        quiet = sum(fit_of(h, seed=300 + k).nothing_wrong for k in range(20))
        self.assertGreaterEqual(quiet, 18)

    def test_a_quick_visit_sees_what_unit_and_plenums_show(self):
        h = fitted_house()
        for text, wanted in (("filter", "filter"), ("coil", "coil"), ("filter_missing", "filter_missing")):
            f = fit_of(h, text, seed=7, quick=True)
            self.assertEqual(f.suspects[0].spot.kind.id, wanted)
            self.assertEqual(len(f.residuals), 7)

    def test_the_amount_is_near_what_it_was(self):
        f = fit_of(fitted_house(), "filter::4", seed=5)
        self.assertAlmostEqual(f.suspects[0].amount, 4.0, delta=0.8)
        f = fit_of(fitted_house(), "kink:B4:4", seed=5)
        kink = next(s for s in f.suspects if s.spot.kind.id == "kink")
        self.assertAlmostEqual(np.log(kink.amount / 4.0), 0, delta=0.5)


class TestPairs(unittest.TestCase):
    def test_both_stand_among_the_first_three(self):
        h = fitted_house()
        right = 0
        cases = (("kink:B2", "filter::4"), ("damper:A4:0.25", "tap::-2"), ("coil::3", "boot_off:B7"))
        for one, two in cases:
            for k in range(2):
                f = fit_of(h, one, two, seed=40 + k)
                three = [x for s in f.suspects[:3] for x in (s.spot, *s.group)]
                kinds = {(x.kind.id, x.name) for x in three}
                wanted = {(one.split(":")[0]), (two.split(":")[0])}
                right += wanted <= {kind for kind, _ in kinds}
        self.assertGreaterEqual(right, 5)


class TestSaid(unittest.TestCase):
    def test_shares_are_of_one_whole(self):
        f = fit_of(fitted_house(), "kink:B4:3", seed=2)
        self.assertTrue(all(0 <= s.share <= 1 for s in f.suspects))
        self.assertAlmostEqual(float(f.belief.share.sum()), 1.0)
        self.assertLess(f.nothing + f.other, 0.5)

    def test_too_few_readings_say_nothing(self):
        h = fitted_house()
        self.assertIsNone(fit(h.built, h.tracks, said_of(h, (), 1)[:2]))
        job = with_design(demo(), readings=demo().design.readings[:2])
        self.assertFalse(enough(job))
        self.assertIsNone(diagnose(h, job))

    def test_readings_off_beyond_every_fault_are_not_on_the_list(self):
        """Every second register reads double, every other one half: no fault of one house does that."""
        h = fitted_house()
        said = [
            Said(x.place, x.value * (2 if k % 2 else 0.5), x.share) if x.place.quantity == "flow" else x
            for k, x in enumerate(said_of(h, (), 1))
        ]
        f = fit(h.built, h.tracks, said)
        self.assertTrue(f.unknown)
        self.assertGreater(f.misfit, 3)

    def test_the_demos_kink_is_found_by_its_own_readings(self):
        found = diagnose(fitted_house(), demo())
        self.assertTrue(found.simulated)
        self.assertTrue(names(found.fitted, ("kink", "B4")))

    def test_its_arithmetic_multiplies_out(self):
        f = fit_of(fitted_house(), "filter", seed=3)
        said = explain(f, f.suspects[0])
        before, after, last = (x.result.value for x in said.lines)
        self.assertAlmostEqual(last, 1 - after / before, places=9)
        self.assertIn(f"{len(f.residuals)} readings", said.lines[0].label)

    def test_as_data(self):
        h = house(solve(demo()))
        data = diagnosis_data(h, diagnose(h, demo()))
        top = data["suspects"][0]
        self.assertEqual((top["fault"], top["where"]), ("kink", "B4"))
        self.assertIn("boot", top["group"])
        self.assertEqual(len(data["residuals"]), 19)
        self.assertFalse(data["nothing_wrong"])
        self.assertTrue(data["not_told_apart"])
        self.assertIsNotNone(data["best_next"])


class TestNext(unittest.TestCase):
    def next(self, f, h, said):
        return next_reading(f, h.tracks.places, [x.place for x in said])

    def test_with_a_fault_that_is_plain_it_says_enough(self):
        h = fitted_house()
        said = said_of(h, ("filter::5",), 3)
        n = self.next(fit(h.built, h.tracks, said), h, said)
        self.assertTrue(n.enough)
        self.assertEqual(n.look.spot.kind.id, "filter")

    def test_without_a_fault_it_asks_for_nothing(self):
        h = fitted_house()
        for seed in (302, 303, 304):
            said = said_of(h, (), seed)
            self.assertIsNone(self.next(fit(h.built, h.tracks, said), h, said), seed)

    def test_the_reading_it_asks_for_takes_doubt_away(self):
        """A low hood or a low tap: after statics and a few registers, read on as told until it says enough."""
        h = fitted_house()
        every = said_of(h, ("kink:B7:5",), 9)
        have = [x for x in every if x.place.quantity == "static"]
        visit = Visit(h.built.r, h.built, [parse_fault(h.built, "kink:B7:5")], 9)
        for _ in range(14):
            f = fit(h.built, h.tracks, have)
            n = self.next(f, h, have)
            if n is None or n.place is None or n.enough:
                break
            more = visit.take(n.place, "x")
            have.append(Said(n.place, more.value, more.uncertainty))
        f = fit(h.built, h.tracks, have)
        whole = fit(h.built, h.tracks, every)
        self.assertTrue(names(f, ("kink", "B7")))
        self.assertLess(len(have), len(every))
        self.assertLess(doubt(f.belief.share), doubt(whole.belief.share) + 1.5)


class TestSplitting(unittest.TestCase):
    def test_holes_in_the_duct_tell_kink_damper_and_boot_apart(self):
        """Flows can't: all three only resist. Past the damper the static says before or after it, at the boot the same."""
        h = fitted_house()
        for text, kind in (("kink:B4:4", "kink"), ("damper:B4:0.3", "damper"), ("boot:B4:0.12", "boot")):
            own = said_of(h, (text,), 21)
            b = h.built
            visit = Visit(b.r, b, [parse_fault(b, text)], 21)
            holes = [p for p in h.tracks.places if p.at.id == "B4" and p.hole is not None]
            self.assertEqual(len(holes), 2)
            more = [Said(p, visit.take(p, "x").value, 0.02) for p in holes]
            f = fit(b, h.tracks, [*own, *more])
            self.assertEqual((f.suspects[0].spot.kind.id, f.suspects[0].spot.name), (kind, "B4"))
            self.assertGreater(f.suspects[0].share, 0.8, text)

    def test_the_group_is_told_by_a_hole_in_its_duct(self):
        found = diagnose(fitted_house(), demo())
        self.assertIn(found.splits.place.word, ("B4.damper", "B4.boot"))
        self.assertGreater(found.splits.bits, 0.3)


class TestVisits(unittest.TestCase):
    def test_readings_go_out_and_come_back_as_csv(self):
        h = fitted_house()
        job = with_design(demo(), readings=())
        made = insert(job, "readings", *visited(h.built, [], 3))
        again = import_csv(job, readings_csv(made, "si"), "si")
        self.assertEqual(len(again), len(made.design.readings))
        for a, b in zip(made.design.readings, again, strict=True):
            self.assertEqual((a.at, a.hole, a.quantity, a.uncertainty), (b.at, b.hole, b.quantity, b.uncertainty))
            self.assertTrue(b.simulated)

    def test_semicolons_with_commas_in_figures(self):
        rows = import_csv(
            with_design(demo(), readings=()), "place;value;unit\nA1;27,5;L/s\nstatic-supply;15,2;Pa\n", "si"
        )
        self.assertAlmostEqual(rows[0].value, 0.0275)
        self.assertAlmostEqual(rows[1].value, 15.2)
        with self.assertRaisesRegex(JobValueError, "Line 2, value"):
            import_csv(demo(), "place;value\nA1;zwei\n", "si")

    def test_a_house_without_ducts_has_nothing_to_fit(self):
        self.assertIsNone(house(solve(box())))
