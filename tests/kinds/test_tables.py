"""Tables of kinds: an unknown one is an error, and whatever differs by kind comes from its record."""

import unittest

from pydantic import TypeAdapter

from murvan.design import solve
from murvan.design.ducts.hangers import hanger_of
from murvan.design.metal.pieces import shop_pieces
from murvan.design.parts.cut_list import buy_list
from murvan.kinds.duct_materials import DUCT_MATERIALS, PLAIN
from murvan.kinds.fittings import FITTINGS
from murvan.kinds.readings import HOLES, POINTS, QUANTITIES, READS
from murvan.kinds.registers import LAID, REGISTERS
from murvan.kinds.table import Table, UnknownKindError
from murvan.model import replace
from murvan.model.design import DuctRun
from murvan.model.errors import JobError
from murvan.model.shop import Shop
from tests.houses import demo

TABLES = (DUCT_MATERIALS, FITTINGS, REGISTERS, QUANTITIES, HOLES, POINTS)


def of(material, run="SA1", **more):
    """The demo with a run of another material, solved."""
    return solve(replace(demo(), "runs", run, material=material, **more))


class TestTables(unittest.TestCase):
    def test_an_unknown_kind_is_an_error_that_names_what_there_is(self):
        for table in TABLES:
            with self.assertRaisesRegex(UnknownKindError, f"no {table.what} “brass”; known are {next(iter(table))}"):
                table["brass"]

    def test_a_model_refuses_it_in_words(self):
        with self.assertRaisesRegex(JobError, "SA1, material must be one of .*galvanised.*, not 'brass'"):
            replace(demo(), "runs", "SA1", material="brass")
        with self.assertRaisesRegex(JobError, "kind must be one of .*sidewall"):
            replace(demo(), "registers", demo().design.registers[0].id, kind="porthole")

    def test_two_of_one_id_are_refused(self):
        with self.assertRaisesRegex(ValueError, "one id"):
            Table("thing", PLAIN, PLAIN)

    def test_the_schema_names_every_kind(self):
        schema = TypeAdapter(DuctRun).json_schema()
        self.assertEqual(schema["properties"]["material"]["enum"], list(DUCT_MATERIALS))


class TestMaterials(unittest.TestCase):
    def pieces(self, results, run="SA1"):
        return [p for p in results.cuts.pieces if p.run == run and p.form]

    def test_what_is_not_sheet_has_no_gauge_seam_or_pattern(self):
        for m in DUCT_MATERIALS.values():
            r = of(m.id)
            mine = [p for p in self.pieces(r) if p.material == m.id]
            self.assertEqual({p.gauge is None for p in mine}, {m.sheet is None}, m.id)
            shop = [x for x in shop_pieces(r, Shop()) if x.piece.run == "SA1" and x.piece.material == m.id]
            self.assertEqual(bool(shop), m.sheet is not None, m.id)
            self.assertEqual(
                any(x.patterns for x in shop if x.piece.form == "straight"), m.section == PLAIN.section, m.id
            )

    def test_fittings_of_flex_are_of_sheet(self):
        made = {p.material for p in self.pieces(of("flex")) if p.form != "straight"}
        self.assertEqual(made, {"galvanised"})

    def test_a_run_is_cut_by_the_length_its_material_comes_in(self):
        for m in (x for x in DUCT_MATERIALS.values() if not x.bends):
            straight = [p for p in self.pieces(of(m.id)) if p.form == "straight"]
            self.assertTrue(all(p.length_m <= m.joint_m * 1.05 + 1e-9 for p in straight), m.id)
            self.assertEqual({p.section for p in straight}, {m.section})

    def test_weight_is_its_own(self):
        """Of 1.38 kg/m2, .020 in aluminium at 2,700 kg/m3; of 4.42 kg/m2, 26 gauge steel."""
        weigh = {}
        for m in ("galvanised", "aluminium"):
            straights = [p for p in self.pieces(of(m)) if p.form == "straight"]
            weigh[m] = sum(p.weight_kg for p in straights) / sum(p.length_m for p in straights)
        self.assertAlmostEqual(weigh["aluminium"] / weigh["galvanised"], 1.38 / 4.42, 2)

    def test_friction_is_its_own(self):
        rate = {m: of(m).runs["SA1"].friction_pa_m for m in ("plastic", "aluminium", "galvanised", "board")}
        self.assertEqual(sorted(rate, key=rate.get), ["plastic", "aluminium", "galvanised", "board"])

    def test_board_insulates_by_itself(self):
        """Bare board, R-4.3, loses what metal wrapped so does."""
        attic = {"insulation_r_m2k_w": 0.0, "place": "attic"}
        board, metal = of("board", **attic), of("galvanised", **attic | {"insulation_r_m2k_w": 0.757})
        bare = of("galvanised", **attic)
        lost = [r.duct_heat.heating.sum() for r in (bare, metal, board)]
        self.assertGreater(lost[0], lost[1])
        self.assertAlmostEqual(lost[1], lost[2], delta=0.02 * (lost[0] - lost[1]))

    def test_hangers_and_sealing_follow(self):
        r = of("board")
        self.assertEqual(hanger_of(r.runs["SA1"].run), DUCT_MATERIALS["board"].hanging.flat)
        self.assertTrue(any(x.what.startswith("Closure tape") for x in buy_list(r.cuts)))

    def test_metals_are_nested_apart(self):
        from murvan.design.metal.nesting import nested

        sheets = nested(shop_pieces(of("aluminium"), Shop())).sheets
        self.assertEqual({s.metal for s in sheets}, {"galvanised steel", "aluminium"})

    def test_where_it_may_not_be_is_found_and_mended(self):
        for material, words in (("plastic", "is plastic in the attic"), ("board", "carries fresh air")):
            run = "SA1" if material == "plastic" else "F1"
            more = (
                {}
                if material == "plastic"
                else {"shape": "rectangular", "width_m": 0.2, "height_m": 0.15, "diameter_m": None}
            )
            r = of(material, run, place="attic", **more)
            (f,) = (f for f in r.findings if f.rule.id == "duct-material")
            self.assertIn(words, f.text("ip"))
            self.assertEqual(f.severity, "fails")
            after = solve(f.hit.fix(r.job))
            self.assertEqual([f for f in after.findings if f.rule.id == "duct-material"], [])

    def test_long_flex_and_a_shape_that_nobody_makes(self):
        long = of("flex", length_m=9.0)
        (f,) = (f for f in long.findings if f.rule.id == "duct-material")
        self.assertIn("29.5 ft of flex, 25.0 ft at most", f.text("ip"))
        self.assertIn("9.00 m of flex, 7.62 m at most", f.text("si"))
        flat = of("snap_lock")
        (f,) = (f for f in flat.findings if f.rule.id == "duct-material")
        self.assertIn("is rectangular; snap-lock pipe is to be had round", f.text("ip"))


class TestFittings(unittest.TestCase):
    def test_elbow_table_and_between(self):
        """ASHRAE duct fitting data, from memory."""
        loss = FITTINGS["elbow"].loss_at
        self.assertEqual((loss(1.0), loss(9.0), loss(0.1)), (0.22, 0.13, 0.33))
        self.assertAlmostEqual(loss(1.25), 0.185)
        self.assertEqual(FITTINGS["elbow_gored"].loss_at(1.5), 0.27)

    def test_flex_turn_costs_more_than_a_hard_elbow_with_its_boot(self):
        hard = FITTINGS["elbow"].loss_at(1.0) + FITTINGS["boot"].loss_at()
        self.assertGreater(FITTINGS["boot_flex_turn"].loss_at(), hard)

    def test_each_has_a_loss_or_parts_the_air(self):
        for f in FITTINGS.values():
            self.assertEqual(f.loss is None, f.branch_deg is not None, f.id)
            self.assertNotEqual(f.first, f.at_end, f.id)


class TestRegisters(unittest.TestCase):
    def test_every_kind_is_solved_drawn_and_sized(self):
        x = next(r for r in demo().design.registers if r.side == "supply")
        from murvan.design.lay.registers import stock_size

        for kind in REGISTERS.values():
            t = solve(replace(demo(), "registers", x.id, kind=kind.id, throw_k=None, noise_nc=None)).terminals[x.id]
            self.assertGreater(t.throw_m, 0)
            self.assertIsNotNone(t.noise_nc)
            self.assertIn(tuple(round(v / 0.0254, 4) for v in stock_size(kind.id, 0.04, "balanced")), kind.sizes_in)

    def test_laying_has_one_kind_for_every_way(self):
        self.assertEqual(set(LAID), {"below", "above", "wall", "return"})


class TestReadings(unittest.TestCase):
    def test_points_name_holes_and_quantities_that_there_are(self):
        for p in POINTS.values():
            self.assertIn(p.quantity, READS)
            self.assertTrue(HOLES[p.hole].name)
            self.assertTrue(QUANTITIES[p.quantity].shown_as)


if __name__ == "__main__":
    unittest.main()
