"""The cut and buy list: every piece once, in the order in which it goes up; hangers, flex boxes, parts at the unit, carries."""

import unittest
from math import ceil

from hypothesis import given, settings
from hypothesis import strategies as st

from murvan.design import solve
from murvan.design.ducts.hangers import hanger_count, hanger_of, places
from murvan.design.ducts.straights import fits
from murvan.design.lay.place import placed_unit
from murvan.design.parts import cut_list as build
from murvan.design.parts import cut_piece
from murvan.kinds.duct_materials import BAND, CLAMP, PAIR, PLAIN, SADDLE, UNDER
from murvan.model import Ref, Tick, insert, replace, replace_part, with_design
from murvan.model.house import KeepClear
from murvan.model.job import Fitting
from murvan.model.routes import LaidRun
from murvan.model.shop import Shop
from tests.houses import INCH, box, demo, demo_job, demo_results


class TestCutList(unittest.TestCase):
    def test_numbers_run_from_one(self):
        self.assertEqual(
            [p.number for p in demo_results().cuts.pieces], list(range(1, len(demo_results().cuts.pieces) + 1))
        )

    def test_ids_are_unique(self):
        ids = [p.id for p in demo_results().cuts.pieces]
        self.assertEqual(len(ids), len(set(ids)))

    def test_all_registers_and_flex_are_on_it(self):
        pieces = demo_results().cuts.pieces
        self.assertEqual(sum(p.section == "Registers" for p in pieces), len(demo().design.registers))

    def test_sheet_lengths_add_up(self):
        pieces = [p for p in demo_results().cuts.pieces if p.what.startswith("Duct") and p.run == "SA1"]
        # by hand, in: the run, on through the joint with SA2 and 5 in past its tap, less collar, elbow and zone damper
        runs = demo_results().runs
        whole = (runs["SA1"].length_m + runs["SA2"].length_m) / INCH + (3 + 2)
        self.assertAlmostEqual(sum(p.length_m for p in pieces) / INCH, whole - 4 - 2 * (14 / 2 + 2) - 12)
        self.assertTrue(all(p.length_m <= PLAIN.joint_m * 1.06 for p in pieces))

    def test_ticks_count(self):
        job = with_design(
            demo(),
            ticks=(
                Tick(at=Ref("indoor_unit", "unit1"), part="filter", day="Mon"),
                Tick(at=Ref("run", "B4"), part="boot", day="Tue"),
            ),
        )
        self.assertEqual(solve(job).cuts.done, 2)

    def test_buy_list_counts_everything(self):
        cuts = demo_results().cuts
        rows = build.buy_list(cuts)
        self.assertAlmostEqual(
            sum(x.count for x in rows if x.section != "Flex"),
            sum(p.quantity for p in cuts.pieces if p.section != "Flex"),
        )
        for name in ("length_m", "weight_kg", "area_m2"):
            self.assertAlmostEqual(sum(getattr(x, name) for x in rows), sum(getattr(p, name) for p in cuts.pieces))

    def test_weight_of_a_duct_by_hand(self):
        p = next(p for p in demo_results().cuts.pieces if p.what.startswith("Duct") and p.run == "SA1")
        self.assertAlmostEqual(p.weight_kg, p.length_m * 44 * INCH * 4.42)

    def test_gauge(self):
        self.assertEqual((PLAIN.gauge(0.3, Shop().light_to_m), PLAIN.gauge(0.5, Shop().light_to_m)), (26, 24))

    def test_job_without_ducts_has_no_sundries(self):
        self.assertEqual(solve(box()).cuts.pieces, ())


class Order(unittest.TestCase):
    def test_rough_in_first_and_trim_last(self):
        for name in ("demo", "bungalow", "narrow"):
            stages = [cut_piece.STAGES.index(p.stage) for p in solve(demo_job(name)).cuts.pieces]
            self.assertEqual(stages, sorted(stages))

    def test_within_a_stage_by_storey(self):
        order = [s.id for s in demo().storeys]
        branches = [order.index(p.storey) for p in demo_results().cuts.pieces if p.stage == "Branches"]
        self.assertEqual(branches, sorted(branches))

    def test_a_run_that_carries_others_is_trunk(self):
        for p in demo_results().cuts.pieces:
            if p.run in ("SA1", "SB1") and p.section == "Sheet metal":
                self.assertEqual(p.stage, "Trunk")
            if p.run == "A1" and p.section == "Flex":
                self.assertEqual(p.stage, "Branches")

    def test_the_odd_piece_is_named_and_is_what_is_left(self):
        pieces = [p for p in demo_results().cuts.pieces if p.run == "SA1" and p.part in ("s1", "s2", "s3")]
        self.assertEqual([p.what for p in pieces[:-1]], ["Duct"] * (len(pieces) - 1))
        self.assertEqual(pieces[-1].what, "Duct, odd piece")
        self.assertTrue(all(abs(p.length_m - PLAIN.joint_m) < 1e-9 for p in pieces[:-1]))


class Bought(unittest.TestCase):
    def row(self, what, r=None):
        return next(x for x in build.buy_list((r or demo_results()).cuts) if x.what.startswith(what))

    def test_flex_by_the_box_of_25_feet_cut_longer_than_it_lies(self):
        runs = [x for x in demo_results().runs.values() if x.run.material == "flex"]
        rows = [x for x in build.buy_list(demo_results().cuts) if x.section == "Flex"]
        cut = {r.run.id: fits(demo_results().main.design.runs)[r.run.id].straights[0].length_m for r in runs}
        self.assertAlmostEqual(sum(x.length_m for x in rows), sum(cut[x.run.id] / x.run.stretched for x in runs))
        for x in rows:
            self.assertEqual(x.count, ceil(x.length_m / 7.62))

    def test_hangers_by_kind_with_a_tenth_to_spare(self):
        runs = [x.run for x in demo_results().runs.values()]
        for kind in (SADDLE, PAIR):
            n = sum(hanger_count(r) for r in runs if hanger_of(r) == kind)
            self.assertEqual(self.row(kind.what).count, ceil(n * 1.1))

    def test_at_the_unit(self):
        what = {p.what: p for p in demo_results().cuts.pieces}
        line = what["Line set"]
        self.assertAlmostEqual(line.length_m, demo_results().main.design.line.length_m)
        for name in ("Float switch", "Stand", "Zone panel, 2 zones", "Canvas, supply"):
            self.assertIn(name, what)
        self.assertNotIn("Secondary pan", what)
        self.assertNotIn("Seismic braces, 4", what)

    def test_a_unit_hung_over_rooms_has_pan_rods_and_straps(self):
        job = placed_unit(demo(), "unit1", "upper", (11.0, 5.3), None, "right", 0).job
        what = {p.what: p for p in solve(replace_part(job, "site", seismic=True)).cuts.pieces}
        unit = demo_results().main.unit
        self.assertAlmostEqual(what["Secondary pan"].size[0], unit.width_m + 6 * INCH)
        for name in ("Float switch in the pan", "Hanging rods, 4 with spring", "Corner straps, supply"):
            self.assertIn(name, what)
        self.assertIn("Seismic braces, 4", what)

    def test_without_canvas(self):
        box_ = demo().design.plenums[0]
        what = [p.what for p in solve(replace(demo(), "plenums", box_.id, canvas=False)).cuts.pieces]
        self.assertNotIn(f"Canvas, {box_.side}", what)

    def test_sheet_is_weighed_by_its_area(self):
        for p in demo_results().cuts.pieces:
            if p.gauge:
                self.assertAlmostEqual(p.weight_kg, p.area_m2 * PLAIN.weighs_kg_m2(p.gauge))


class Hangers(unittest.TestCase):
    def laid(self, **more):
        made = dict.fromkeys(LaidRun.model_fields)
        made |= {"tag": "X", "path_m": ((0.0, 0.0), (6.0, 0.0), (6.0, 4.0)), "rise_m": 0.0, "material": "galvanised"}
        return LaidRun.model_construct(**{**made, "shape": "round", "diameter_m": 0.2, **more})

    def test_by_size_and_material(self):
        flat = {"shape": "rectangular", "diameter_m": None, "height_m": 0.2}
        self.assertEqual(hanger_of(self.laid(material="flex")), SADDLE)
        self.assertEqual(hanger_of(self.laid()), BAND)
        self.assertEqual(hanger_of(self.laid(**flat, width_m=0.35)), PAIR)
        self.assertEqual(hanger_of(self.laid(**flat, width_m=0.6)), UNDER)
        self.assertEqual(hanger_of(self.laid(rise_m=2.7)), CLAMP)

    @given(st.floats(0.1, 40), st.sampled_from(("flex", "galvanised")))
    @settings(max_examples=60, deadline=None)
    def test_none_is_farther_from_the_next_than_allowed(self, long, material):
        run = self.laid(path_m=((0.0, 0.0), (long, 0.0)), material=material)
        at = [x for x, _ in places(run)]
        ends = [0.0, *at, long]
        self.assertEqual(len(at), hanger_count(run))
        self.assertLessEqual(
            max(b - a for a, b in zip(at, at[1:], strict=False)) if len(at) > 1 else 0,
            hanger_of(run).spacing_m + 1e-9,
        )
        self.assertLessEqual(max(ends[1], long - ends[-2]), hanger_of(run).spacing_m / 2 + 1e-9)

    def test_they_go_round_the_corner(self):
        at = places(self.laid(material="flex"))
        self.assertEqual(len(at), 9)  # 10 m by 1.22 m
        self.assertTrue(all(y == 0 or x == 6.0 for x, y in at))


class Carry(unittest.TestCase):
    def found(self, wide, long):
        job = demo_job("bungalow")
        hatch = KeepClear(
            id="h1",
            name="Crawl hatch",
            storey=job.storeys[0].id,
            outline_m=((0, 0), (1, 0), (1, 1), (0, 1)),
            reason="hatch",
            open_wide_m=wide,
            open_long_m=long,
        )
        return [f for f in solve(insert(job, "keep_clear", hatch)).findings if f.rule.id == "carry"]

    def test_what_does_not_go_through_is_named(self):
        small = self.found(0.3, 0.4)
        self.assertTrue(small)
        self.assertIn("Crawl hatch", small[0].text("ip"))
        self.assertEqual(self.found(0.9, 1.2), [])

    def test_fittings_that_have_no_room_are_named(self):
        """A grille 0.12 m from the riser that feeds it: two elbows want the place of one."""
        two = (Fitting(kind="wye"), Fitting(kind="elbow_vanes", count=2))
        crowded = solve(replace(demo(), "runs", "R2", fittings=two))
        (hit,) = [f for f in crowded.findings if f.rule.id == "fitting-room"]
        # in: the wye takes 12/2 + 4, each elbow 10/2 + 2 on a leg: 10 + 7 of the 18 up, 7 + 7 of the 4.8 along
        self.assertEqual(hit.text("ip"), "R2 wants 9 in more than its legs have")
        self.assertNotIn("fitting-room", {f.rule.id for f in demo_results().findings})

    def test_nothing_is_judged_without_a_measured_hatch(self):
        self.assertEqual(self.found(None, None), [])


if __name__ == "__main__":
    unittest.main()
