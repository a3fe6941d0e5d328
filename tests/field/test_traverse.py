"""Positions, mean and doubt of a traverse, against the rules' point tables and profiles integrated by hand."""

import unittest

import numpy as np
from scipy.integrate import dblquad, quad

from murvan.field.traverse import TOOLS, grid_of, traverse, velocity_m_s
from murvan.model import DuctRun
from tests.field.profiles import true_profile

PITOT, VANE, WIRE = (TOOLS[x] for x in ("pitot", "vane", "hot_wire"))


def run(**more):
    return DuctRun(id="r", tag="R", indoor="u", side="supply", start="a", end="b", storey="s", **more)


def box(w, h):
    return grid_of(run(shape="rectangular", width_m=w, height_m=h))


def pipe(d):
    return grid_of(run(shape="round", diameter_m=d))


class TestPositions(unittest.TestCase):
    def test_rectangular_by_the_published_table(self):
        """ASHRAE Standard 111, log-Tchebycheff, 5 to 7 lines a side, from memory."""
        g = box(0.5, 0.3)
        self.assertEqual((g.lines, len(g.points)), ((5, 5), 25))
        self.assertTrue(np.allclose([p[0] / 0.5 for p in g.points[:5]], (0.074, 0.288, 0.5, 0.712, 0.926)))
        self.assertTrue(np.allclose([p[1] / 0.3 for p in g.points[::5]], (0.074, 0.288, 0.5, 0.712, 0.926)))
        self.assertEqual(box(0.8, 0.3).lines, (6, 5))
        self.assertEqual(box(1.0, 0.85).lines, (7, 6))

    def test_round_by_the_published_table(self):
        """Log-linear on three diameters, 6, 8 or 10 points, from memory."""
        g = pipe(0.2)
        self.assertEqual(g.lines, (6, 3))
        depths = [g.depth_m(k)[0] / 0.2 for k in range(6)]
        self.assertTrue(np.allclose(depths, (0.032, 0.135, 0.321, 0.679, 0.865, 0.968)))
        self.assertEqual([g.depth_m(k)[1] for k in (0, 6, 12)], [0.0, 60.0, 120.0])
        self.assertEqual((pipe(0.3).lines[0], pipe(0.7).lines[0]), (8, 10))

    def test_both_walls_are_alike(self):
        for g in (box(0.5, 0.3), box(1.0, 0.95), pipe(0.3)):
            centre = np.array((g.width_m, g.height_m)) / 2
            pts = np.array(g.points) - centre
            self.assertTrue(np.allclose(np.sort(pts, axis=0), np.sort(-pts, axis=0), atol=2e-3 * g.width_m))
            self.assertTrue((np.abs(pts) < centre).all())


class TestMean(unittest.TestCase):
    def test_the_points_give_the_mean_of_a_turbulent_profile(self):
        """1/7 power law: its mean integrated by SciPy; the rules hold within 1.5 %."""
        for g in (box(0.5, 0.3), box(0.9, 0.4), pipe(0.2), pipe(0.4)):
            t = traverse(g, true_profile(g, 0.3).tolist(), PITOT)
            self.assertAlmostEqual(t.flow_m3_s / 0.3, 1, delta=0.015)
        mean = quad(lambda r: 2 * r * (1 - r) ** (1 / 7), 0, 1)[0]
        g = pipe(0.2)
        peak = true_profile(g, 0.3).max() / (0.3 / g.area_m2)
        self.assertLess(peak, 1 / mean + 0.01)
        flat = dblquad(lambda y, x: ((1 - x) * (1 - y)) ** (1 / 7), 0, 1, 0, 1)[0]
        self.assertAlmostEqual(flat, (7 / 8) ** 2, places=6)

    def test_a_pitot_tube_s_pressure(self):
        """4005 sqrt(in wc) fpm in standard air (common practice)."""
        fpm = velocity_m_s(PITOT, 0.1 * 249.08891, 1.2) / 0.00508
        self.assertAlmostEqual(fpm, 4005 * 0.1**0.5, delta=4)
        self.assertLess(velocity_m_s(PITOT, -5.0, 1.2), 0)
        self.assertEqual(velocity_m_s(VANE, 4.0, 1.0), 4.0)
        self.assertAlmostEqual(velocity_m_s(WIRE, 4.0, 1.0), 4.8, delta=0.02)

    def test_its_doubt_falls_as_points_come_in(self):
        g, v = box(0.5, 0.3), None
        v = true_profile(g, 0.3) * (1 + 0.03 * np.random.default_rng(3).standard_normal(25))
        shares = [traverse(g, [*v[:n].tolist(), *[None] * (25 - n)], VANE).share for n in (5, 15, 25)]
        self.assertGreater(shares[0], shares[1])
        self.assertGreater(shares[1], shares[2])
        self.assertLess(shares[2], 0.06)
        self.assertIsNone(traverse(g, [3.0, *[None] * 24], VANE))

    def test_the_doubt_is_honest(self):
        """200 traverses of true profiles: the flow is within two standard doubts in nine of ten and more."""
        g, chance = box(0.5, 0.3), np.random.default_rng(5)
        inside = 0
        for _ in range(200):
            own = 1 + VANE.own * chance.standard_normal()
            v = true_profile(g, 0.3) * own * (1 + VANE.doubt * chance.standard_normal(25))
            t = traverse(g, v.tolist(), VANE)
            inside += abs(t.flow_m3_s / 0.3 - 1) < 2 * t.share
        self.assertGreater(inside, 180)

    def test_a_bad_point_is_named(self):
        for g in (box(0.5, 0.3), pipe(0.3)):
            v = true_profile(g, 0.4).tolist()
            self.assertEqual(traverse(g, v, PITOT).odd, ())
            v[7] *= 0.4
            self.assertEqual(traverse(g, v, PITOT).odd, (7,))

    def test_a_place_where_much_of_it_stands_still_is_poor(self):
        g = box(0.5, 0.3)
        v = [0.1] * 10 + [6.0] * 15
        self.assertTrue(traverse(g, v, PITOT).poor(g))
        self.assertFalse(traverse(g, true_profile(g, 0.3).tolist(), PITOT).poor(g))


if __name__ == "__main__":
    unittest.main()
