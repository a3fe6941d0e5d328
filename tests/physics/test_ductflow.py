"""Duct flow: derivatives, limits, inverses."""

import unittest

import numpy as np

from murvan.physics import ductflow as d


class TestFriction(unittest.TestCase):
    def test_derivative_against_differences(self):
        re = np.array([500.0, 2500.0, 3500.0, 5e3, 2e4, 3e5, 5e6])
        rough = np.array([1e-4, 1e-3, 5e-3, 1e-3, 6e-4, 5e-3, 1e-5])
        _, slope = d.friction_factor(re, rough)
        h = re * 1e-6
        up, down = d.friction_factor(re + h, rough)[0], d.friction_factor(re - h, rough)[0]
        np.testing.assert_allclose(slope, (up - down) / (2 * h), rtol=2e-4)

    def test_laminar_is_64_over_re(self):
        self.assertAlmostEqual(float(d.friction_factor(np.array(1000.0), np.array(1e-3))[0]), 0.064)

    def test_no_jump_at_the_joins(self):
        for at in (2300.0, 4000.0):
            a = float(d.friction_factor(np.array(at * (1 - 1e-9)), np.array(1e-3))[0])
            b = float(d.friction_factor(np.array(at * (1 + 1e-9)), np.array(1e-3))[0])
            self.assertAlmostEqual(a, b, places=6)

    def test_pressure_rises_with_flow(self):
        q = np.linspace(0.001, 0.5, 400)
        p = d.friction_pa_per_m(q, np.asarray(0.0324), np.asarray(0.203), np.asarray(9e-5))
        self.assertTrue((np.diff(p) > 0).all())

    def test_flex_check_values(self):
        m = d.flex_multiplier(np.asarray(6 * 0.0254), np.array([0.96, 0.85, 0.70]))
        np.testing.assert_allclose(m, [2.09, 5.09, 9.17], atol=0.005)

    def test_equivalent_diameters(self):
        self.assertAlmostEqual(float(d.rectangular_equivalent_m(np.asarray(8.0), np.asarray(30.0))), 16.1, delta=0.05)
        self.assertAlmostEqual(float(d.oval_equivalent_m(np.asarray(0.2), np.asarray(0.2))), 0.2, delta=0.002)


class TestFittings(unittest.TestCase):
    def test_damper_opens_and_shuts(self):
        c = d.damper_coefficient(np.linspace(0, 1, 50))
        self.assertTrue((np.diff(c) < 0).all())
        self.assertAlmostEqual(float(d.damper_coefficient(np.asarray(1.0))), 0.2)

    def test_damper_inverse(self):
        for opening in (0.0, 0.05, 0.3, 0.55, 0.8):
            c = float(d.damper_coefficient(np.asarray(opening)))
            self.assertAlmostEqual(d.damper_opening(c), opening, places=6)
        self.assertEqual(d.damper_opening(0.0), 1.0)

    def test_throw_grows_with_flow_and_shrinks_with_area(self):
        self.assertGreater(d.throw_m(0.05, 0.04, 3.8, 4), d.throw_m(0.03, 0.04, 3.8, 4))
        self.assertGreater(d.throw_m(0.05, 0.02, 3.8, 4), d.throw_m(0.05, 0.04, 3.8, 4))
        # sidewall, by hand: 5.7 x (0.05/0.02) x sqrt(0.02) / 0.254
        self.assertAlmostEqual(d.throw_m(0.05, 0.02, 5.7), 5.7 * 2.5 * 0.02**0.5 / 0.254)

    def test_orifice(self):
        # 100 in2 at 3 Pa: 1.07 x 100 x sqrt 3 = 185 cfm
        self.assertAlmostEqual(d.orifice_constant(100 * 0.0254**2) * 3.0**0.5 / (0.3048**3 / 60), 185.3, delta=0.1)
