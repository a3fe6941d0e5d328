"""Vanes, racks, saddles and shop habits: folded, against true lengths worked out here, and against the surfaces they meet."""

import unittest
from math import cos, hypot, pi, radians, sin, sqrt

import numpy as np

from murvan.design.metal.develop import mirrored, patterns, template
from murvan.design.metal.inner import RAIL_M, VANE_RADIUS_M, rack, saddle, saddle_hole, vaned, vanes
from murvan.design.metal.pieces import shop_pieces
from murvan.design.metal.solids import Hole, box, pipe, square_to_round, transition
from murvan.design.parts.cut_list import as_cut
from murvan.design.solve import solve
from murvan.documents.hanging_plan import piece_schedule
from murvan.model import replace
from murvan.model.shop import Shop
from tests.design.metal.folding import as_it_stands, folded, net_m2
from tests.houses import INCH, demo, demo_results

PLAIN = Shop(slip_m=0, drive_m=0, end_m=0, lock_pocket_m=0, lock_flange_m=0, hem_m=0)


def folds(test, solid, shop=PLAIN):
    for pattern, sheet in zip(patterns(solid, shop), solid.sheets, strict=True):
        stands = [solid.points[list(solid.facets[k])] for k in sheet.facets]
        test.assertLess(as_it_stands(folded(pattern), stands), 0.4e-3, sheet.name)


class Vanes(unittest.TestCase):
    def test_they_fold_and_are_as_long_as_their_arc(self):
        chance = np.random.default_rng(4)
        for _ in range(60):
            w, h = chance.uniform(0.15, 0.8, 2)
            solid = vaned(w, h)
            folds(self, solid)
            by_name = {p.name: p for p in patterns(solid, PLAIN)}
            self.assertAlmostEqual(net_m2(by_name["vane"]), pi / 2 * VANE_RADIUS_M * h, 6)
            rail = by_name["vane rail"]
            self.assertAlmostEqual(net_m2(rail), RAIL_M * (w * sqrt(2) - RAIL_M), 6)
            self.assertLessEqual(float(solid.points[:, [0, 2]].max()), w + 1e-9)
            self.assertEqual(rail.count, 2)
            self.assertEqual(by_name["vane"].count, vanes(w))

    def test_how_many(self):
        self.assertEqual(vanes(14 * INCH), 12)  # 19.8 in of rail, one every 1.5 in, none at its ends

    def test_a_rack_has_its_slot_in_a_side(self):
        solid = rack(0.5, 0.6)
        folds(self, solid)
        (p,) = patterns(solid, PLAIN)
        (slot,) = p.holes
        self.assertLess(slot.size_m[1], 5 * INCH)
        self.assertAlmostEqual(slot.from_edges_m[0], 0.3)
        self.assertTrue(p.outline.exterior.is_valid)
        self.assertGreater(RAIL_M, 0)


class Saddles(unittest.TestCase):
    """The foot of the branch lies on the trunk's wall, and over the hole."""

    def foot(self, d, trunk, deg):
        """Points of the saddle's foot in the trunk's axes: along, across, height over its highest line."""
        solid = saddle(d, trunk, deg, 2 * d)
        x, y, s = solid.points[: len(solid.points) // 2].T
        a = radians(deg)
        return -x * sin(a) + s * cos(a), y, s * sin(a) + x * cos(a)

    def test_on_the_wall(self):
        for d, trunk, deg in ((0.15, 0.15, 45), (0.15, 0.3, 45), (0.2, 0.25, 90), (0.1, 0.5, 60)):
            _, y, z = self.foot(d, trunk, deg)
            radius = np.hypot(y, z + trunk / 2)
            self.assertLess(np.abs(radius - trunk / 2).max(), 2e-3)

    def test_folds_and_its_longest_and_shortest_lines_are_true(self):
        chance = np.random.default_rng(8)
        for _ in range(60):
            trunk = chance.uniform(0.15, 0.6)
            d, deg = trunk * chance.uniform(0.4, 1.0), chance.uniform(35, 90)
            long = d * 2 + 0.1
            solid = saddle(d, trunk, deg, long)
            folds(self, solid)
            n = len(solid.points) // 2
            lines = long - solid.points[:n, 2]
            a = radians(deg)
            self.assertAlmostEqual(lines.max() - lines[0], lines.max() - (long - d / 2 * cos(a) / sin(a)), 2)

    def test_straight_off_an_equal_trunk_by_hand(self):
        """90 degrees, as wide as the trunk: at the sides the foot is a radius lower than at the crown."""
        _, y, z = self.foot(0.2, 0.2, 90)
        self.assertAlmostEqual(float(z[np.argmax(np.abs(y))]), -0.1, 2)
        self.assertAlmostEqual(float(z[np.argmin(np.abs(y))]), 0.0, 4)

    def test_the_hole_is_as_long_and_as_wide_as_the_foot(self):
        for d, trunk, deg in ((0.15, 0.3, 45), (0.2, 0.25, 90)):
            hole = saddle_hole(d, trunk, deg)
            along, y, _ = self.foot(d, trunk, deg)
            self.assertAlmostEqual(np.ptp(hole[:, 0]), np.ptp(along), 2)
            half = trunk / 2 * np.arcsin(min(d / trunk, 1.0))
            self.assertAlmostEqual(float(hole[:, 1].max()), half, 4)
            self.assertEqual(template(hole).count, 0)

    def test_a_wye_of_round_pipe_is_a_saddle_with_its_hole(self):
        job = demo()
        runs = {r.tag: r for r in job.design.runs}
        for tag, d in (("RT1", 0.4), ("R2", 0.3)):
            size = {"shape": "round", "diameter_m": d, "width_m": None, "height_m": None}
            job = replace(job, "runs", runs[tag].id, **size)
        (x,) = (x for x in shop_pieces(solve(job), Shop()) if x.piece.what == "Wye" and x.piece.run == runs["R2"].id)
        self.assertEqual([p.name for p in x.patterns], ["saddle", "hole in the trunk"])

    def test_a_wye_on_a_flat_trunk_is_a_tap(self):
        found = [x for x in shop_pieces(demo_results(), Shop()) if x.piece.what == "Wye"]
        self.assertTrue(found)
        for x in found:
            self.assertEqual([p.name for p in x.patterns], ["wrap"])


class Habits(unittest.TestCase):
    def test_slips_on_the_long_sides_and_drives_on_the_short(self):
        (p,) = patterns(transition((0.5, 0.2), (0.5, 0.2), 0.6), Shop())
        kinds = {e.kind for e in p.edgings}
        self.assertEqual(kinds, {"slip", "drive", "pocket", "lock"})
        for e in p.edgings:
            xs, ys = zip(*e.outline_m, strict=True)
            long = max(np.ptp(xs), np.ptp(ys))
            if e.kind in ("slip", "drive"):
                self.assertAlmostEqual(long, 0.5 if e.kind == "slip" else 0.2, 3)

    def test_a_square_to_round_has_a_round_end(self):
        (p,) = patterns(square_to_round((0.4, 0.3), 0.25, 0.3), Shop())
        self.assertIn("end", {e.kind for e in p.edgings})
        (q,) = patterns(pipe(0.2, 1.0), Shop(end_m=0.03))
        self.assertAlmostEqual(max(q.size_m), 1.06, 3)

    def test_flanges_all_round(self):
        (p,) = patterns(transition((0.5, 0.2), (0.5, 0.2), 0.6), Shop(joint="flange", flange_m=0.03))
        self.assertEqual({e.kind for e in p.edgings}, {"flange", "pocket", "lock"})
        self.assertAlmostEqual(p.size_m[1], 0.66, 3)

    def test_the_inside_up_is_the_mirror_and_folds_to_the_same(self):
        holes = (("front", Hole(0, 0.1, 0.3, (0.15,), "A")), ("right", Hole(0, 0.2, 0.2, (0.1, 0.05), "B")))
        solid = box(0.5, 0.4, 0.6, holes)
        out, back = (patterns(solid, Shop(painted=side))[0] for side in ("outside", "inside"))
        self.assertAlmostEqual(out.outline.area, back.outline.area)
        self.assertEqual(sorted(b.angle_deg for b in out.bends), sorted(-b.angle_deg for b in back.bends))
        a, b = out.holes[0], back.holes[0]
        self.assertAlmostEqual(a.from_edges_m[0] + b.from_edges_m[0], 0.5)
        self.assertAlmostEqual(a.from_edges_m[1], b.from_edges_m[1])
        self.assertTrue(back.inside_up)
        again = mirrored(back)
        self.assertAlmostEqual(again.outline.symmetric_difference(out.outline).area, 0.0, 9)
        # seen from inside it is bent the other way to the same box: distances between corners stay
        for facets in (folded(out), folded(back)):
            corner = facets[0][0], facets[2][0]
            self.assertAlmostEqual(float(np.linalg.norm(corner[0] - corner[1])), hypot(0.5, 0.4), 6)

    def test_the_shop_s_gauge_is_on_every_list(self):
        r = demo_results()
        shop = Shop(light_to_m=0.3)
        for p in as_cut(r.cuts, shop).pieces:
            if p.gauge:
                self.assertEqual(p.gauge, 26 if max(p.size) <= 0.3 else 24, p.what)
                self.assertAlmostEqual(p.weight_kg, p.area_m2 * p.kg_m2)
        self.assertEqual(
            {x.piece.gauge for x in shop_pieces(r, shop) if x.piece.size and max(x.piece.size) > 0.3 and x.patterns},
            {24},
        )
        self.assertIs(as_cut(r.cuts, Shop()), r.cuts)
        words = {row[0]: row[4] for row in piece_schedule(r, "si", shop).rows}
        trunk = next(p for p in r.cuts.pieces if p.run == "SA1" and p.what.startswith("Duct"))
        self.assertEqual(words[str(trunk.number)], "24 ga")

    def test_lined_ducts_are_cut_larger(self):
        run = next(r for r in demo().design.runs if r.tag == "SA3")
        job = replace(demo(), "runs", run.id, material="lined")

        def area(shop):
            found = shop_pieces(solve(job), shop)
            x = next(x for x in found if x.piece.run == run.id and x.piece.form == "straight")
            return sum(net_m2(p) for p in x.patterns) / x.piece.length_m

        around = 2 * (run.width_m + run.height_m)
        self.assertAlmostEqual(area(Shop(lining_m=0)), around)
        self.assertAlmostEqual(area(Shop(lining_m=1 * INCH)), around + 8 * INCH)


if __name__ == "__main__":
    unittest.main()
