"""500 houses: spreads by what is known, sums by hand, and what a measurement leaves."""

import unittest

import numpy as np

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.loads import COLUMN
from murvan.design.propose import side_by_side
from murvan.design.study import DRAWS, band, sure
from murvan.design.study.how_sure import ALL, SEED
from murvan.model.edit import changed, replace


def spread_of(x, name):
    return next(d.spread for d in x.doubts if d.id == name)


class Spreads(unittest.TestCase):
    def test_what_is_measured_is_known_better(self):
        job = demo_job("narrow")
        self.assertFalse(job.leakage.measured)
        blown = changed(job, job.name, leakage=changed(job.leakage, "Leakage", measured=True))
        before, after = sure(solve(job)), sure(solve(blown))
        self.assertGreater(spread_of(before, "leakage"), spread_of(after, "leakage"))
        wide = [np.ptp(band(x.heating_w)) for x in (before, after)]
        self.assertLess(wide[1], wide[0])
        said = next(m for m in before.measures if m.doubt.id == "leakage")
        self.assertAlmostEqual(said.leaves_w, wide[1], delta=0.02 * wide[0])
        self.assertNotIn("leakage", {m.doubt.id for m in after.measures})

    def test_measurements_stand_by_what_they_take_a_minute(self):
        x = sure(solve(demo_job("narrow")))
        wide = np.ptp(band(x.heating_w))
        gain = [(wide - m.leaves_w) / m.doubt.minutes for m in x.measures]
        self.assertEqual(gain, sorted(gain, reverse=True))

    def test_a_draw_by_hand(self):
        """The load of one house is the sum of its parts, each times its own factor."""
        r = solve(demo_job("bungalow"))
        x = sure(r)
        z = np.random.default_rng(SEED).standard_normal((len(ALL), DRAWS))
        parts = r.loads.heating_parts.sum(axis=0)
        for k in (0, 17, 499):
            by_hand = sum(
                parts[COLUMN[c]] * np.exp(d.spread * z[ALL.index(d.id), k]) for d in x.doubts for c in d.parts
            )
            by_hand += parts.sum() - sum(parts[COLUMN[c]] for d in x.doubts for c in d.parts)
            self.assertAlmostEqual(x.heating_w[k], by_hand, 6)
        middle = np.median(x.heating_w)
        self.assertAlmostEqual(middle / r.loads.whole_heating_w, 1.0, delta=0.03)

    def test_the_houses_are_the_same_for_every_design(self):
        job = demo_job("bungalow")
        bigger = replace(job, "indoor_units", job.design.indoor_units[0].id, room_heat_w=3000.0)
        a, b = sure(solve(job)), sure(solve(bigger))
        self.assertTrue(np.allclose(a.heating_w, b.heating_w))
        unit = job.design.indoor_units[0].id
        self.assertTrue((b.unit_holds[unit] >= a.unit_holds[unit]).all(), "more heat holds in no fewer houses")
        self.assertGreaterEqual(b.holds, a.holds)

    def test_a_house_without_a_unit_holds_in_none(self):
        job = demo_job("bungalow")
        bare = replace(job, "indoor_units", job.design.indoor_units[0].id, unit=None)
        x = sure(solve(bare))
        self.assertEqual((x.holds, x.unit_holds), (0, {}))


class SideBySide(unittest.TestCase):
    def test_designs_with_their_bands(self):
        job = demo_job("narrow")
        other = changed(job.design, "Other", id="other", name="Other")
        job = changed(job, job.name, options=(other,))
        one, two = side_by_side(job, solve(job))
        self.assertEqual(one.name, job.design.name)
        self.assertEqual(two.name, "Other")
        self.assertAlmostEqual(one.sums.cost_in, two.sums.cost_in)
        for x in (one, two):
            low, high = x.put_in
            self.assertLess(low, x.sums.cost_in)
            self.assertGreater(high, x.sums.cost_in)
            self.assertLess(x.bill[0], x.sums.cost_year)
            self.assertGreater(x.bill[1], x.sums.cost_year)
            self.assertAlmostEqual(x.years, x.sums.cost_in + 15 * x.rises * x.sums.cost_year)

    def test_the_sum_by_hand_of_a_rising_price(self):
        job = demo_job("narrow")
        (x,) = side_by_side(job, solve(job))
        rise = job.prices.rise
        self.assertAlmostEqual(x.rises, sum((1 + rise) ** k for k in range(15)) / 15)


if __name__ == "__main__":
    unittest.main()
