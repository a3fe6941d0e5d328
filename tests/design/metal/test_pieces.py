"""Which pieces of a design are cut from sheet, and with which patterns."""

import unittest

import shapely

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.metal.pieces import goes_on_stock, shop_pieces
from murvan.model.edit import replace
from murvan.model.shop import Shop
from tests.design.metal.folding import net_m2
from tests.houses import INCH, box, demo, demo_results

SHOP = Shop()


class OfADesign(unittest.TestCase):
    def setUp(self):
        self.found = shop_pieces(demo_results(), SHOP)

    def of(self, what):
        return [x for x in self.found if x.piece.what == what]

    def test_every_piece_of_sheet_has_patterns_or_a_reason(self):
        for which in ("demo", "bungalow", "narrow"):
            for x in shop_pieces(solve(demo_job(which)), SHOP):
                self.assertNotEqual(bool(x.patterns), bool(x.bought), x.piece.what)
                if x.piece.what == "Duct" or x.piece.what.endswith("plenum"):
                    self.assertTrue(x.patterns, x.piece.what)

    def test_a_plenum_has_the_holes_of_its_take_offs_where_they_sit(self):
        (x,) = self.of("Supply plenum")
        box_ = next(p for p in demo_results().main.plenums if p.plenum.side == "supply")
        cut = {h.name: (h.size_m, h.from_edges_m) for p in x.patterns for h in p.holes}
        self.assertEqual(set(cut), {t.run.tag for t in box_.take_offs})
        for t in box_.take_offs:
            size, at = cut[t.run.tag]
            self.assertAlmostEqual(size[0], t.width_m)
            self.assertAlmostEqual(at[0], t.along_m)
            self.assertAlmostEqual(at[1], t.up_m)
        *wraps, cap = x.patterns
        top = {t.run.tag for t in box_.take_offs if t.side == "cap"}
        self.assertEqual({h.name for h in cap.holes}, top)
        self.assertEqual(sum(len(p.holes) for p in (*wraps, cap)), len(box_.take_offs))

    def test_a_plenum_longer_than_a_sheet_is_made_in_two_lengths(self):
        upper, lower = self.of("Return plenum")[0], self.of("Lower return plenum")[0]
        whole = next(p for p in demo_results().main.plenums if p.plenum.side == "return").plenum
        self.assertAlmostEqual(upper.piece.length_m + lower.piece.length_m, whole.height_m)
        self.assertLessEqual(max(upper.piece.length_m, lower.piece.length_m), 9 * 0.3048 + 1e-9)
        self.assertTrue(all(goes_on_stock(p) for x in (upper, lower) for p in x.patterns))
        self.assertEqual({h.name for p in upper.patterns for h in p.holes}, {"RT1"})
        self.assertEqual([h for p in lower.patterns for h in p.holes], [])

    def test_a_straight_piece_is_as_long_around_as_its_duct(self):
        x = next(x for x in self.of("Duct") if x.piece.run == "SA1")
        (p,) = x.patterns
        w, h = x.piece.size
        self.assertAlmostEqual(net_m2(p), 2 * (w + h) * x.piece.length_m)

    def test_pieces_made_alike_share_their_patterns(self):
        first = {}
        for x in self.of("Boot"):
            key = (x.patterns[0].size_m, net_m2(x.patterns[0]))
            self.assertIs(first.setdefault(key, x.patterns[0]), x.patterns[0])
        self.assertLess(len(first), len(self.of("Boot")))

    def test_a_transition_goes_from_the_trunk_s_size_to_its_own(self):
        x = next(x for x in self.of("Transition") if x.piece.run == "SA3")
        over = demo_results().runs["SA2"].run
        ends = sorted(round(s / INCH) for s in (over.width_m, x.piece.size[0]))
        front = x.patterns[0].facets[0]
        lengths = sorted(round(((front[k] - front[k - 1]) ** 2).sum() ** 0.5 / INCH, 3) for k in (1, 3))
        self.assertEqual(lengths, ends)

    def test_a_changed_size_changes_its_patterns(self):
        job = replace(demo(), "runs", "SA1", width_m=16 * INCH)

        def first(found):
            return next(x for x in found if x.piece.what.startswith("Duct") and x.piece.run == "SA1")

        other, own = first(shop_pieces(solve(job), SHOP)), first(self.found)
        self.assertNotEqual(other.patterns[0].size_m, own.patterns[0].size_m)

    def test_holes_of_taps_lie_in_the_sheet(self):
        for x in self.found:
            for p in x.patterns:
                for h in p.holes:
                    middle = shapely.Point(h.at_m)
                    self.assertTrue(p.outline.convex_hull.contains(middle), x.piece.what)
                    self.assertFalse(p.outline.contains(middle), f"{h.name} is cut out")

    def test_a_house_without_ducts_has_none(self):
        self.assertEqual(shop_pieces(solve(box()), SHOP), ())


if __name__ == "__main__":
    unittest.main()
