"""Leakage by a blower door's flow and by class."""

from __future__ import annotations

import unittest

from murvan.design import solve
from murvan.design.house.leakage import CLASSES, by_class, by_flow, class_of, flow50_m3_s
from murvan.model import JobValueError
from murvan.model.edit import changed
from tests.houses import CFM, box, demo, demo_results


class Told(unittest.TestCase):
    def test_flow_against_the_definition(self):
        """Air changes are flow over volume: 60 m3 at 7 an hour are 420 m3/h."""
        job = changed(box(6, 4), "", leakage=changed(box().leakage, "", ach50=7.0))
        g = solve(job).geometry
        self.assertAlmostEqual(g.total_volume_m3, 60.0)
        self.assertAlmostEqual(flow50_m3_s(job, g), 420 / 3600)
        back = by_flow(job, g, 210 / 3600)
        self.assertAlmostEqual(back.leakage.ach50, 3.5)
        self.assertTrue(back.leakage.measured)

    def test_a_blower_door_of_the_demo(self):
        g = demo_results().geometry
        job = by_flow(demo(), g, 1500 * CFM)
        self.assertAlmostEqual(job.leakage.ach50, 1500 * 60 / (g.total_volume_m3 / 0.3048**3), places=6)
        self.assertLess(solve(job).loads.house_heating_w, demo_results().loads.house_heating_w)

    def test_what_no_house_has_is_refused(self):
        g = demo_results().geometry
        for flow, words in ((0.0, "0 air changes"), (100.0, "air changes an hour at 50 Pa; a house has")):
            with self.subTest(flow), self.assertRaisesRegex(JobValueError, words):
                by_flow(demo(), g, flow)
        empty = changed(box(), "", rooms=(), openings=())
        with self.assertRaisesRegex(JobValueError, "Draw the rooms first"):
            by_flow(empty, solve(empty).geometry, 0.1)

    def test_classes(self):
        for key, (_, value) in CLASSES.items():
            job = by_class(demo(), key)
            self.assertEqual((job.leakage.ach50, job.leakage.measured, class_of(job)), (value, False, key))
        self.assertIs(by_class(demo(), ""), demo())
        self.assertEqual(class_of(demo()), "")
        with self.assertRaises(JobValueError):
            by_class(demo(), "airtight")

    def test_tighter_classes_leak_less(self):
        found = [solve(by_class(demo(), k)).factors.air.infiltration_winter_m3_s for k in CLASSES]
        self.assertEqual(found, sorted(found))


if __name__ == "__main__":
    unittest.main()
