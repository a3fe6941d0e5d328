"""Flat patterns: folded numerically they close and are the piece; areas, lengths and holes against sums done here."""

import unittest
from math import atan2, cos, hypot, pi, radians, sqrt, tan

import numpy as np

from murvan.design.metal.develop import patterns
from murvan.design.metal.solids import Hole, box, cap, elbow, gored, pipe, square_to_round, transition
from murvan.model.shop import Shop
from tests.design.metal.folding import as_it_stands, folded, net_m2, solid_m2

CLOSE_M = 0.4e-3
PLAIN = Shop(slip_m=0, drive_m=0, end_m=0, lock_pocket_m=0, lock_flange_m=0, hem_m=0)


def any_solid(chance):
    """Seeded: a piece of any kind and size that a house may have."""
    w, h, v, g = chance.uniform(0.1, 0.8, 4)
    long, dx, dy = chance.uniform(0.15, 0.9), *chance.uniform(-0.2, 0.2, 2)
    kind = chance.choice(["box", "transition", "transition", "round", "pipe", "elbow", "square", "gored", "cap"])
    if kind == "box":
        return box(w, h, long)
    if kind == "transition":
        return transition((w, h), (v, g), long, (dx, dy))
    if kind == "round":
        return square_to_round((w, h), chance.uniform(0.1, 0.6), long, (dx, dy))
    if kind == "pipe":
        return pipe(v, long)
    if kind == "elbow":
        return elbow(w, h, chance.uniform(0.05, 0.6), chance.uniform(20, 90))
    if kind == "square":
        return elbow(w, h, 0.0)
    if kind == "gored":
        d = chance.uniform(0.1, 0.5)
        return gored(d, d * chance.uniform(0.75, 2.0), int(chance.integers(3, 6)), chance.uniform(30, 90))
    return cap(w, h)


class Closes(unittest.TestCase):
    def test_a_thousand_pieces_fold_to_what_they_are(self):
        chance = np.random.default_rng(13)
        worst = 0.0
        for _ in range(1000):
            solid = any_solid(chance)
            for pattern, sheet in zip(patterns(solid, PLAIN), solid.sheets, strict=True):
                stands = [solid.points[list(solid.facets[k])] for k in sheet.facets]
                worst = max(worst, as_it_stands(folded(pattern), stands))
        self.assertLess(worst, CLOSE_M)

    def test_seams_close_by_the_pattern_alone(self):
        """The first and the last edge of a wrap come together."""
        for solid in (transition((0.5, 0.3), (0.3, 0.25), 0.4, (0.1, 0.05)), square_to_round((0.4, 0.3), 0.25, 0.3)):
            (pattern,) = patterns(solid, PLAIN)
            space = folded(pattern)
            seam = solid.sheets[0].seam[0]
            found = [
                space[n][list(solid.facets[k]).index(point)]
                for n, k in enumerate(solid.sheets[0].facets)
                for point in seam
                if {*seam} <= {*solid.facets[k]}
            ]
            self.assertEqual(len(found), 4)
            self.assertLess(np.linalg.norm(found[0] - found[2]), CLOSE_M)
            self.assertLess(np.linalg.norm(found[1] - found[3]), CLOSE_M)


class Sums(unittest.TestCase):
    def net(self, solid):
        return sum(net_m2(p) for p in patterns(solid, PLAIN))

    def test_areas(self):
        self.assertAlmostEqual(self.net(box(0.5, 0.4, 0.6)), 2 * (0.5 + 0.4) * 0.6 + 0.5 * 0.4)
        self.assertAlmostEqual(self.net(transition((0.4, 0.2), (0.4, 0.2), 1.5)), 2 * 0.6 * 1.5)
        self.assertAlmostEqual(self.net(pipe(0.2, 1.5)), pi * 0.2 * 1.5)
        heel, throat = radians(90) * 0.5, radians(90) * 0.1
        cheeks = 2 * (pi / 4) * (0.5**2 - 0.1**2)
        self.assertAlmostEqual(self.net(elbow(0.4, 0.2, 0.1)), cheeks + 0.2 * (heel + throat), delta=1e-3)
        # of a mitred elbow the length at its middle counts: (n - 1) tan of half a step, twice
        long = 2 * 3 * 0.375 * tan(radians(15))
        self.assertAlmostEqual(self.net(gored(0.25, 0.375, 4)), pi * 0.25 * long, 6)

    def test_every_area_is_that_of_the_piece(self):
        chance = np.random.default_rng(5)
        for _ in range(60):
            solid = any_solid(chance)
            self.assertAlmostEqual(self.net(solid), solid_m2(solid), 9)

    def test_slants_of_an_offset_transition(self):
        """By Pythagoras: the front of 20 to 12 in over 16 in, its foot at 0 and its head 2 in in."""
        (p,) = patterns(transition((0.50, 0.30), (0.30, 0.20), 0.40, (0.05, -0.03)), PLAIN)
        front = p.facets[0]
        left = hypot((0.5 - 0.3) / 2 + 0.05, hypot((0.3 - 0.2) / 2 - 0.03, 0.4))
        right = hypot((0.5 - 0.3) / 2 - 0.05, hypot((0.3 - 0.2) / 2 - 0.03, 0.4))
        lengths = [float(np.linalg.norm(front[(k + 1) % 4] - front[k])) for k in range(4)]
        np.testing.assert_allclose(lengths, [0.5, right, 0.3, left], atol=1e-12)

    def test_true_lengths_of_a_square_to_round(self):
        """From a corner of a 12 in square to a 10 in circle over it, 12 in up: to the quarter point and to the eighth, by hand."""
        inch, n = 0.0254, 12
        (p,) = patterns(square_to_round((12 * inch, 12 * inch), 10 * inch, 12 * inch), PLAIN)
        r = 5 * (pi / 48) / np.sin(pi / 48)
        quarter = sqrt(6**2 + (6 - r) ** 2 + 12**2)
        eighth = sqrt(2 * (6 - r * cos(pi / 4)) ** 2 + 12**2)
        cone = p.facets[1 : n + 1]  # from the front to the right
        first = np.linalg.norm(cone[0][2] - cone[0][0]) / inch
        middle = np.linalg.norm(cone[n // 2][2] - cone[n // 2][0]) / inch
        self.assertAlmostEqual(first, quarter, 9)
        self.assertAlmostEqual(middle, eighth, 9)
        round_end = sum(
            np.linalg.norm(f[2] - f[1]) for f in p.facets if len(f) == 3 and np.linalg.norm(f[2] - f[1]) < 0.02
        )
        self.assertAlmostEqual(round_end, pi * 10 * inch, 9)

    def test_bends_of_a_box_are_square_and_those_of_a_straight_cap_none(self):
        wrap, top = patterns(box(0.5, 0.4, 0.6), PLAIN)
        self.assertEqual([round(b.angle_deg) for b in wrap.bends], [90, 90, 90])
        self.assertEqual(top.bends, ())

    def test_the_angle_of_a_taper(self):
        """Both sides of a 1 in 4 taper lean by atan 1/4; the bend between them by their planes' angle."""
        (p,) = patterns(transition((0.4, 0.4), (0.2, 0.2), 0.4), PLAIN)
        lean = atan2(0.1, 0.4)
        wanted = np.degrees(np.arccos(np.sin(lean) ** 2))
        for bend in p.bends:
            self.assertAlmostEqual(bend.angle_deg, wanted, 6)


class Added(unittest.TestCase):
    def test_a_box_by_hand(self):
        """Wrap: twice width and depth, a pocket and a flange at the seam, slips below, a lock for the cap above."""
        shop = Shop()
        wrap, top = patterns(box(0.5, 0.4, 0.6), shop)
        wide = 2 * (0.5 + 0.4) + shop.lock_pocket_m + shop.lock_flange_m
        np.testing.assert_allclose(wrap.size_m, (wide, 0.6 + shop.end_m + shop.lock_pocket_m), atol=1e-6)
        np.testing.assert_allclose(
            top.size_m, (0.5 + 2 * shop.lock_flange_m, 0.4 + 2 * shop.lock_flange_m), atol=1e-6
        )

    def test_nothing_added_is_nothing_added(self):
        wrap, _ = patterns(box(0.5, 0.4, 0.6), PLAIN)
        self.assertAlmostEqual(wrap.outline.area, net_m2(wrap), 9)

    def test_what_is_added_holds_on_in_one_piece(self):
        chance = np.random.default_rng(3)
        for _ in range(150):
            for p in patterns(any_solid(chance), Shop()):
                self.assertEqual(p.outline.geom_type, "Polygon", p.name)
                self.assertTrue(p.outline.is_valid)
                self.assertGreater(p.outline.area, net_m2(p))

    def test_holes_where_they_were_asked_for(self):
        holes = [("front", Hole(0, 0.15, 0.35, (0.2,), "S1")), ("right", Hole(0, 0.2, 0.3, (0.15, 0.1), "T1"))]
        wrap, top = patterns(box(0.5, 0.4, 0.6, holes), PLAIN)
        one, two = wrap.holes
        self.assertEqual((one.name, one.size_m, one.from_edges_m), ("S1", (0.2,), (0.15, 0.35)))
        np.testing.assert_allclose(one.at_m, (0.15, 0.35), atol=1e-6)
        np.testing.assert_allclose(two.at_m, (0.5 + 0.2, 0.3), atol=1e-6)
        self.assertEqual(top.holes, ())
        cut = pi * 0.1**2 + 0.15 * 0.1
        self.assertAlmostEqual(wrap.outline.area, 1.08 - cut, 4)
        self.assertAlmostEqual(solid_m2(box(0.5, 0.4, 0.6, holes)), 1.28 - cut, 9)


if __name__ == "__main__":
    unittest.main()
