"""Losses where ducts part and join, against `fluids` (Crane TP 410, 2009), and their slopes against differences."""

import unittest

import numpy as np
from fluids import fittings as crane

from murvan.physics import junctions as n

AREAS = (0.1, 0.2, 0.3, 0.4, 0.6, 0.8)
SPLITS = (0.02, 0.1, 0.25, 0.37, 0.5, 0.63, 0.8, 0.97)
JUMP = 0.045
"""What the source's tables jump by at a split, at most, as a share."""


def coefficient(way: n.Way, ratio: float, share: float) -> float:
    """On the speed pressure of the trunk: a run of `ratio` of its area with `share` of its air."""
    trunk = 0.06
    at = n.Junctions(np.array([1]), np.array([0]), np.array([ratio * trunk]), np.array([trunk]), (way,), 1.2)
    flow = np.array([0.2, 0.2 * share])
    return float(at.loss(flow)[0][0] / (0.6 * (0.2 / trunk) ** 2))


def near(test: unittest.TestCase, ours: float, theirs: float, of: tuple[float, float, float]) -> None:
    test.assertLessEqual(abs(ours - theirs), 1e-3 * abs(theirs) + JUMP * max(1.0, abs(theirs)), of)


class AgainstCrane(unittest.TestCase):
    def test_branches_out_of_a_trunk(self):
        for deg in (45.0, 90.0):
            for r in AREAS:
                for x in SPLITS:
                    theirs = crane.K_branch_diverging_Crane(1.0, r**0.5, 1 - x, x, deg)
                    if deg == 90.0:
                        self.assertAlmostEqual(coefficient(n.diverging_branch(deg, r), r, x), theirs, 9, (r, x))
                    near(self, coefficient(n.diverging_branch(deg, r), r, x), theirs, (deg, r, x))

    def test_branches_into_a_trunk(self):
        for deg in (45.0, 90.0):
            for r in AREAS:
                for x in SPLITS:
                    theirs = crane.K_branch_converging_Crane(1.0, r**0.5, 1 - x, x, deg)
                    near(self, coefficient(n.converging_branch(deg, r), r, x), theirs, (deg, r, x))

    def test_straight_on_past_a_branch(self):
        """Past wide branches the source lets some pressure be regained, down to -0.07 of the trunk's speed pressure."""
        least = 0.0
        for r in AREAS:
            for x in SPLITS:
                theirs = crane.K_run_diverging_Crane(1.0, r**0.5, 1 - x, x)
                least = min(least, theirs)
                self.assertAlmostEqual(coefficient(n.diverging_straight(1.0, r), 1.0, 1 - x), theirs, 9)
        self.assertLess(least, -0.06)

    def test_straight_on_where_a_branch_joins(self):
        for deg in (45.0, 90.0):
            for r in AREAS:
                for x in SPLITS:
                    theirs = crane.K_run_converging_Crane(1.0, r**0.5, 1 - x, x, deg)
                    near(self, coefficient(n.converging_straight(deg, 1.0, r), 1.0, 1 - x), theirs, (deg, r, x))

    def test_a_branch_as_fast_as_its_trunk_loses_least_by_45_degrees(self):
        """By hand: 0.95 (1 + 1 - 2 cos 45) at a fifth of the air through a fifth of the area."""
        self.assertAlmostEqual(
            coefficient(n.diverging_branch(45.0, 0.2), 0.2, 0.2), (1.1 - 0.7 * 0.2) * (2 - 2**0.5), 9
        )
        self.assertAlmostEqual(coefficient(n.diverging_branch(90.0, 0.2), 0.2, 0.2), 2.0, 9)


class Slopes(unittest.TestCase):
    def setUp(self):
        ways = (
            n.diverging_branch(45.0, 0.3),
            n.diverging_straight(0.8, 0.6),
            n.converging_branch(45.0, 0.5),
            n.converging_straight(90.0, 0.9, 0.3),
            n.diverging_branch(90.0, 0.8),
        )
        own, trunk = np.array([0.3, 0.8, 0.5, 0.9, 0.8]) * 0.06, np.full(5, 0.06)
        self.at = n.Junctions(np.arange(1, 6), np.zeros(5, np.intp), own, trunk, ways, 1.2)

    def test_against_differences(self):
        for shares in (
            (0.2, 0.3, 0.3, 0.6, 0.4),
            (0.8, 0.9, 0.5, 0.1, 0.9),
            (-0.2, -0.1, -0.3, -0.4, -0.1),
            (1.3, 1.2, 1.4, 1.1, 1.5),
        ):
            flow, h = 0.2 * np.array([1.0, *shares]), 1e-7
            _, own, common = self.at.loss(flow)
            for k in range(5):
                up, down = flow.copy(), flow.copy()
                up[k + 1], down[k + 1] = flow[k + 1] + h, flow[k + 1] - h
                found = (self.at.loss(up)[0][k] - self.at.loss(down)[0][k]) / (2 * h)
                self.assertAlmostEqual(found, own[k], delta=1e-5 * max(1, abs(own[k])))
            up, down = flow.copy(), flow.copy()
            up[0], down[0] = flow[0] + h, flow[0] - h
            found = (self.at.loss(up)[0] - self.at.loss(down)[0]) / (2 * h)
            np.testing.assert_allclose(found, common, rtol=1e-5, atol=1e-5)

    def test_nothing_jumps_when_a_branch_stands_still_or_the_trunk_does(self):
        for share in (0.0, 1.0):
            flow = 0.2 * np.array([1.0, *[share] * 5])
            before, after = flow.copy(), flow.copy()
            before[1:] -= 1e-9
            after[1:] += 1e-9
            np.testing.assert_allclose(self.at.loss(before)[0], self.at.loss(after)[0], atol=1e-6)
        still, hardly = np.array([0.0, *[0.1] * 5]), np.array([1e-7, *[0.1] * 5])
        np.testing.assert_allclose(self.at.loss(still)[0], self.at.loss(hardly)[0], atol=1e-4)

    def test_a_branch_that_draws_nothing_is_at_the_static_pressure_of_its_trunk(self):
        """It lies below the trunk's total pressure by a speed pressure, nearly."""
        flow = np.array([0.2, 0.0, 0.2, 0.0, 0.2, 0.0])
        speed = 0.6 * (0.2 / 0.06) ** 2
        lost = self.at.loss(flow)[0]
        self.assertAlmostEqual(lost[0] / speed, 1.1)
        self.assertAlmostEqual(lost[2] / speed, -0.9)

    def test_levels_go_from_the_unit_outwards(self):
        """Branches 2 and 3 leave 1, which leaves 0; 5 leaves 3."""
        way = n.diverging_branch(45.0, 0.3)
        at = n.Junctions(np.array([5, 2, 1, 3]), np.array([3, 1, 0, 1]), np.ones(4), np.ones(4), (way,) * 4, 1.2)
        self.assertEqual([own.tolist() for _, own, _ in at.levels], [[1], [2, 3], [5]])

    def test_many_at_once_are_as_one_by_one(self):
        flows = np.random.default_rng(3).uniform(-0.1, 0.3, (6, 6))
        for many, row in zip(zip(*self.at.loss(flows), strict=True), flows, strict=True):
            for a, b in zip(many, self.at.loss(row), strict=True):
                np.testing.assert_array_equal(a, b)


if __name__ == "__main__":
    unittest.main()
