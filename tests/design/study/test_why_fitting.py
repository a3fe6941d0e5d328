"""Another fitting in a place: pressure by its coefficient, air by a whole solve of the job with it."""

import unittest

from murvan.design import solve
from murvan.design.study.why_fitting import _off_trunk_pa, instead
from murvan.model import replace
from murvan.model.design import Fitting
from tests.houses import demo, demo_results


class Instead(unittest.TestCase):
    def one(self, tag, other):
        return next(i for i in instead(demo_results(), demo_results().runs[tag]) if i.other == other)

    def test_a_hard_elbow_before_the_boot_by_hand(self):
        """2.0 against 0.22 + 0.75 on the run's velocity pressure."""
        x = demo_results().runs["B1"]
        self.assertAlmostEqual(self.one("B1", "hard elbow, straight boot").saves_pa, (2.0 - 0.97) * x.velocity_pa)

    def test_its_air_is_that_of_a_job_with_it(self):
        run = next(r for r in demo_results().laid if r.tag == "B1")
        pieces = [
            Fitting(kind=f.kind, ratio=f.ratio, count=f.count) for f in run.pieces if f.kind != "boot_flex_turn"
        ]
        made = (*pieces, Fitting(kind="elbow", ratio=1.0), Fitting(kind="boot"))
        after = solve(replace(demo(), "runs", run.id, fittings=made)).network.run_m3_s[run.id]
        before = demo_results().network.run_m3_s[run.id]
        found = self.one("B1", "hard elbow, straight boot")
        self.assertAlmostEqual(found.brings_m3_s, after - before, 6)
        self.assertGreater(found.brings_m3_s, 0)

    def test_the_way_off_the_trunk_is_that_of_the_run(self):
        n = 0
        for x in demo_results().runs.values():
            if (
                x.way is not None
                and x.run.side == "supply"
                and any(f.kind.startswith("takeoff") for f in x.run.pieces)
            ):
                n += 1
                self.assertAlmostEqual(_off_trunk_pa(demo_results(), x, x.run), x.parting_c * x.velocity_pa, 6)
        self.assertGreater(n, 4)

    def test_straight_off_costs_more_than_at_45(self):
        self.assertLess(self.one("A1", "straight off").saves_pa, 0)
        self.assertLess(self.one("A1", "straight off").brings_m3_s, 0)

    def test_what_saves_most_stands_first(self):
        for x in demo_results().runs.values():
            found = [i.saves_pa for i in instead(demo_results(), x)]
            self.assertEqual(found, sorted(found, reverse=True))


if __name__ == "__main__":
    unittest.main()
