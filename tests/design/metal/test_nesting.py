"""Nested sheets: every pattern once, inside its sheet, clear of the others; what is larger than a sheet is cut in halves."""

import unittest
from collections import Counter

from shapely.geometry import box as rectangle

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.metal.develop import patterns
from murvan.design.metal.nesting import KERF_MM, nested
from murvan.design.metal.pieces import goes_on_stock, shop_pieces
from murvan.design.metal.solids import halved, transition
from murvan.model.shop import Shop
from tests.design.metal.folding import as_it_stands, folded

PLAIN = Shop(slip_m=0, drive_m=0, end_m=0, lock_pocket_m=0, lock_flange_m=0, hem_m=0)


class OfTheSamples(unittest.TestCase):
    def test_each_once_inside_and_clear(self):
        for which in ("demo", "bungalow", "narrow"):
            pieces = shop_pieces(solve(demo_job(which)), Shop())
            found = nested(pieces)
            self.assertEqual(found.too_large, ())
            wanted = Counter((x.piece.number, p.name) for x in pieces for p in x.patterns for _ in range(p.count))
            self.assertEqual(Counter((x.number, x.pattern.name) for s in found.sheets for x in s.placed), wanted)
            for sheet in found.sheets:
                whole = rectangle(0, 0, *sheet.size_m).buffer(1e-6)
                for k, x in enumerate(sheet.placed):
                    self.assertTrue(whole.covers(x.outline), (which, x.number))
                    for y in sheet.placed[k + 1 :]:
                        self.assertGreaterEqual(x.outline.distance(y.outline), KERF_MM / 1000 - 1e-6)
            self.assertLess(found.waste, 0.35)
            cut = sum(p.outline.area * p.count for x in pieces for p in x.patterns)
            stock = sum(s.size_m[0] * s.size_m[1] for s in found.sheets)
            self.assertAlmostEqual(found.waste, 1 - cut / stock, 9)

    def test_gauges_do_not_mix(self):
        pieces = shop_pieces(solve(demo_job("demo")), Shop())
        gauge = {x.piece.number: x.piece.gauge for x in pieces}
        for sheet in nested(pieces).sheets:
            self.assertEqual({gauge[x.number] for x in sheet.placed}, {sheet.gauge})

    def test_nothing_is_nothing(self):
        self.assertEqual((nested(()).sheets, nested(()).waste), ((), 0.0))


class Halves(unittest.TestCase):
    def test_a_duct_larger_than_a_sheet_is_bent_from_two(self):
        solid = transition((0.55, 0.3), (0.55, 0.3), 1.5)
        (whole,) = patterns(solid, Shop())
        self.assertFalse(goes_on_stock(whole))
        two = patterns(halved(solid), Shop())
        self.assertEqual([p.name for p in two], ["half 1", "half 2"])
        self.assertTrue(all(goes_on_stock(p) for p in two))
        shop = Shop()
        added = [p.size_m[0] - 0.85 for p in two]
        self.assertAlmostEqual(sorted(added)[0], 2 * shop.lock_flange_m, 6)
        self.assertAlmostEqual(sorted(added)[1], 2 * shop.lock_pocket_m, 6)

    def test_halves_fold_to_what_they_are(self):
        solid = halved(transition((0.5, 0.3), (0.3, 0.25), 0.4, (0.1, 0.05)))
        for pattern, sheet in zip(patterns(solid, PLAIN), solid.sheets, strict=True):
            stands = [solid.points[list(solid.facets[k])] for k in sheet.facets]
            self.assertLess(as_it_stands(folded(pattern), stands), 0.4e-3)


if __name__ == "__main__":
    unittest.main()
