"""The air circuit: laws it must keep, and curves."""

import unittest
from dataclasses import replace
from unittest import mock

import numpy as np

from murvan.physics import circuit as circuit_module
from murvan.physics import network as n
from murvan.physics.circuit import Circuit, FanCurve


def curve():
    return FanCurve.through(np.array([0.2, 0.35, 0.45, 0.5]), np.array([200.0, 150.0, 100.0, 50.0]))


def ring(branches: int = 3, k: float = 900.0) -> Circuit:
    """A fan from a return to a supply node, `branches` ducts in parallel back to it."""
    m = branches + 1
    ones = np.ones(m)
    return Circuit(
        start=np.array([0] + [1] * branches),
        end=np.array([1] + [0] * branches),
        nodes=2,
        length_m=np.array([0.0] + [10.0] * branches),
        area_m2=ones * 0.0324,
        hydraulic_m=ones * 0.203,
        roughness_m=ones * 9e-5,
        friction_scale=ones,
        k=np.array([0.0] + [k * (j + 1) for j in range(branches)]),
        power_c=np.zeros(m),
        fans=((0, curve()),),
    )


def with_leak(c: Circuit) -> Circuit:
    """The same, with node 0 open to the outdoors through a leak, so that pressures are fixed."""
    grow = lambda a, v: np.append(a, v)  # noqa: E731
    return replace(
        c,
        start=grow(c.start, 0),
        end=grow(c.end, -1),
        length_m=grow(c.length_m, 0.0),
        area_m2=grow(c.area_m2, 1.0),
        hydraulic_m=grow(c.hydraulic_m, 1.0),
        roughness_m=grow(c.roughness_m, 1e-4),
        friction_scale=grow(c.friction_scale, 1.0),
        k=grow(c.k, 0.0),
        power_c=grow(c.power_c, 0.02),
    )


class TestFanCurve(unittest.TestCase):
    def test_goes_through_its_points_and_falls(self):
        c = curve()
        rise, slope = c(c.flow)
        np.testing.assert_allclose(rise, c.rise)
        q = np.linspace(0.05, 0.6, 200)
        self.assertTrue((np.diff(c(q)[0]) < 0).all())

    def test_one_flow_is_like_many(self):
        c = curve()
        q = np.linspace(0.1, 0.6, 41)
        rise, slope = c(q)
        for k, x in enumerate(q):
            one = c(np.asarray(x))
            self.assertAlmostEqual(float(one[0]), float(rise[k]), places=9)
            self.assertAlmostEqual(float(one[1]), float(slope[k]), places=9)

    def test_slope_against_differences(self):
        c = curve()
        q = np.linspace(0.1, 0.6, 37)
        np.testing.assert_allclose(c(q)[1], (c(q + 1e-7)[0] - c(q - 1e-7)[0]) / 2e-7, rtol=1e-4)

    def test_rising_curve_is_refused(self):
        with self.assertRaises(ValueError):
            FanCurve.through(np.array([0.1, 0.2]), np.array([10.0, 20.0]))


class TestSolve(unittest.TestCase):
    def test_air_is_neither_made_nor_lost(self):
        c = with_leak(ring())
        s = n.solve(c, tolerance_pa=1e-10)
        self.assertTrue(s.converged)
        self.assertAlmostEqual(float(s.flow_m3_s[0]), float(s.flow_m3_s[1:4].sum()), places=12)
        self.assertAlmostEqual(float(s.flow_m3_s[4]), 0.0, places=6)

    def test_every_branch_loses_what_its_nodes_differ(self):
        c = with_leak(ring())
        s = n.solve(c)
        loss, _ = n.branch_loss(c, s.flow_m3_s.copy())
        p = np.append(s.pressure_pa, 0.0)
        np.testing.assert_allclose(loss, p[c.start] - p[c.end], atol=1e-6)

    def test_more_resistance_less_air_and_the_others_get_more(self):
        c = with_leak(ring())
        before = n.solve(c).flow_m3_s
        k = c.k.copy()
        k[2] *= 8
        after = n.solve(replace(c, k=k)).flow_m3_s
        self.assertLess(after[2], before[2])
        self.assertGreater(after[1], before[1])
        self.assertGreater(after[3], before[3])
        self.assertLess(after[0], before[0])

    def test_batch_equals_one_by_one(self):
        c = with_leak(ring())
        k = np.stack([c.k, c.k * 2, c.k * 5])
        together = n.solve(c, k=k)
        for j in range(3):
            np.testing.assert_allclose(together.flow_m3_s[j], n.solve(c, k=k[j]).flow_m3_s, atol=1e-8)

    def test_warm_start_gives_the_same(self):
        c = with_leak(ring(6))
        cold = n.solve(c)
        warm = n.solve(c, first_flow=cold.flow_m3_s * 1.1)
        np.testing.assert_allclose(warm.flow_m3_s, cold.flow_m3_s, atol=1e-8)
        self.assertLessEqual(warm.iterations, cold.iterations)

    def test_injection_goes_out_through_the_leak(self):
        c = with_leak(ring())
        s = n.solve(c, injection=np.array([0.03, 0.0]))
        self.assertAlmostEqual(float(s.flow_m3_s[4]), 0.03, places=10)
        self.assertGreater(float(s.pressure_pa[0]), 0)

    def test_sparse_equals_dense(self):
        c = with_leak(ring(40))
        dense = n.solve(c)
        with mock.patch.object(circuit_module, "DENSE_LIMIT", 1):
            again = replace(c)
            sparse = n.solve(again)
            batch = n.solve(again, k=np.stack([c.k, c.k * 2]))
        np.testing.assert_allclose(sparse.flow_m3_s, dense.flow_m3_s, atol=1e-9)
        np.testing.assert_allclose(batch.flow_m3_s[0], dense.flow_m3_s, atol=1e-9)

    def test_giving_up_is_said(self):
        s = n.solve(with_leak(ring()), most_steps=1)
        self.assertFalse(s.converged)

    def test_slopes_against_differences(self):
        c = with_leak(ring())
        q = np.array([0.3, 0.05, 0.1, 0.15, 0.004])
        _, slope = n.branch_loss(c, q.copy())
        h = 1e-7
        up, _ = n.branch_loss(c, q + h)
        down, _ = n.branch_loss(c, q - h)
        np.testing.assert_allclose(slope, (up - down) / (2 * h), rtol=1e-3)


class Islands(unittest.TestCase):
    def test_what_nothing_joins_to_the_outdoors_is_named(self):
        one = np.ones(3)
        c = Circuit(
            start=np.array([0, 1, 2]),
            end=np.array([-1, 2, 1]),
            nodes=3,
            length_m=0 * one,
            area_m2=one,
            hydraulic_m=one,
            roughness_m=1e-4 * one,
            friction_scale=one,
            k=one,
            power_c=0 * one,
        )
        self.assertEqual(c.islands, (1, 2))
        with self.assertRaisesRegex(n.IslandError, "node 1, 2 to the outdoors"):
            n.solve(c)
