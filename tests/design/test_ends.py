"""What once ended Murvan, hung it or lost the rest: odd places, odd tags, blanks as large as their sheet, rules that fail."""

import contextlib
import io
import os
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
import shapely

from murvan import cli
from murvan.catalog import CatalogError, units_in
from murvan.design import RULES, solve
from murvan.design.drawing.trace import read_dxf
from murvan.design.lay import layouts
from murvan.design.lay.ducts import draw
from murvan.design.lay.place import place_unit, placed_unit
from murvan.design.metal import pieces
from murvan.design.metal.develop import _strip
from murvan.design.metal.nesting import nested
from murvan.design.metal.pieces import shop_pieces
from murvan.design.punch import rules
from murvan.model import JobFileError, JobValueError, Storey, replace, with_design
from murvan.model.edit import changed, id_of
from murvan.model.shop import Shop
from murvan.physics.periodic import Slab, decrement, sealed, through
from tests.design.lay.test_registers import laid
from tests.houses import INCH, box, demo, demo_results


class Layout(unittest.TestCase):
    def test_a_unit_on_a_storey_without_rooms_is_said(self):
        job = laid("bungalow")
        attic = Storey(id="loft", name="Loft", height_m=2.2)
        job = changed(job, job.name, storeys=(*job.storeys, attic))
        job = placed_unit(job, job.design.indoor_units[0].id, "loft", (5.0, 4.0), 0.4).job
        with self.assertRaisesRegex(JobValueError, "stands on Loft, where no room is drawn"):
            layouts(solve(job), job.design.indoor_units[0].id)

    def test_tags_in_any_writing_are_laid_and_drawn(self):
        job = laid("bungalow")
        odd = iter(("Küche", "R/1", "S#1", "Ä", "Ö", "№ 7", "客厅", "a b", "x" * 60))
        registers = tuple(changed(x, x.tag, tag=next(odd, x.tag)) for x in job.design.registers)
        job = with_design(job, registers=registers)
        unit = job.design.indoor_units[0]
        job = place_unit(job, unit.id, 0.4)
        drawn, missed = draw(job, unit.id, "trunk", 0.4)
        self.assertEqual(missed, ())
        tags = {r.tag for r in drawn.design.runs}
        self.assertTrue({"Küche", "R/1", "S#1"} & tags)
        self.assertEqual(len({r.id for r in drawn.design.runs}), len(drawn.design.runs))

    def test_words_as_ids(self):
        self.assertEqual(
            [id_of(x) for x in ("R/1", "S#1", "Küche", "", "A4.2")], ["R-1", "S-1", "K-che", "-", "A4.2"]
        )


class Metal(unittest.TestCase):
    def test_a_blank_as_large_as_its_sheet_goes_on_it(self):
        """26 x 8 in and 46 in long: 48.00 in of blank."""
        exact = [x for x in shop_pieces(demo_results(), Shop()) if x.patterns][:1]
        p = exact[0].patterns[0]
        for wide, high in ((48 * INCH, 96 * INCH), (48 * INCH, 40 * INCH), (96.0 * INCH, 48.0 * INCH)):
            made = mock.Mock(wraps=p)
            made.size_m, made.outline, made.count = (wide, high), shapely.box(0, 0, wide, high), 1
            one = mock.Mock()
            one.patterns, one.piece.gauge, one.piece.number, one.piece.what = (made,), 26, 1, "Duct"
            one.piece.material = "galvanised"
            found = nested([one], ((48 * INCH, 96 * INCH), (48 * INCH, 120 * INCH)))
            self.assertEqual(sum(len(s.placed) for s in found.sheets), 1)
            self.assertEqual(found.too_large, ())

    def test_a_strip_that_falls_in_two_is_one_piece(self):
        from murvan.design.metal.develop import _Half

        points = [(0.0, 0.0), (0.02, 0.0), (0.02, 0.02), (0.0, 0.02), (0.0, 0.005)]
        chain = []
        for a, b in zip(points, points[1:], strict=False):
            half = mock.Mock(spec=_Half)
            half.a, half.b = np.array(a), np.array(b)
            chain.append(half)
        for wide in (0.005, 0.012, 0.02, 0.05):
            found = _strip(chain, wide)
            self.assertEqual(found.geom_type, "Polygon")

    def test_one_piece_that_fails_leaves_the_others(self):
        real = pieces._solid
        first = []

        def solid(piece, known):
            if not first:
                first.append(piece)
                raise ValueError("folded through itself")
            return real(piece, known)

        with mock.patch.object(pieces, "_solid", solid):
            found = shop_pieces(demo_results(), Shop())
        self.assertIn("no pattern: it could not be laid flat", found[0].bought)
        self.assertGreater(sum(bool(x.patterns) for x in found), 20)


class Punch(unittest.TestCase):
    def test_a_hall_over_its_limit_is_a_finding(self):
        r = demo_results()
        hall = next(x.id for x in r.job.rooms if x.use == "hall")
        n = r.network
        high = mock.Mock(wraps=n, room_pressure_pa={**n.room_pressure_pa, hall: 5.0})
        rule = next(x for x in RULES if x.id == "door-pressure")
        seen = mock.Mock(network=high, job=r.job)
        hits = list(rule.judge(seen))
        self.assertIn(hall, {h.at.id for h in hits})

    def test_a_rule_that_fails_is_reported_and_the_rest_stands(self):
        def broken(*_):
            raise KeyError("room 7")
            yield

        plain = {f.rule.id for f in solve(demo()).findings}
        bad = rules.replace(RULES[0], check=broken, limits=())
        with mock.patch.object(rules, "RULES", (bad, *RULES[1:])):
            found = solve(changed(demo(), "demo", bedrooms=demo().bedrooms)).findings
        (told,) = (f for f in found if f.rule.id == "not-judged")
        self.assertIn("could not be judged (KeyError", told.text("ip"))
        self.assertEqual({f.rule.id for f in found} - {"not-judged"}, plain - {RULES[0].id})


class Command(unittest.TestCase):
    def run_(self, *args):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            try:
                code = cli.main(list(args))
            except SystemExit as stop:
                code = int(stop.code or 0)
        return code, out.getvalue(), err.getvalue()

    def test_every_command_says_in_a_line_that_a_job_can_t_be_computed(self):
        def ends(*_, **__):
            raise FloatingPointError("overflow")

        with tempfile.TemporaryDirectory() as folder:
            for target, args in (
                ("murvan.design.solve", ("solve", "demo")),
                ("murvan.design.solve", ("zones", "demo")),
                ("murvan.design.solve", ("patterns", "demo", "--out", folder)),
                ("murvan.design.lay.whole_layouts", ("layout", "demo")),
                ("murvan.design.propose.proposals", ("propose", "demo")),
            ):
                with mock.patch(target, ends):
                    code, _, err = self.run_(*args)
                self.assertEqual((code, len(err.strip().splitlines())), (2, 1), (args, err))
                self.assertIn("can't be computed (FloatingPointError", err)

    def test_units_nested_deep_are_refused_in_a_line(self):
        with tempfile.TemporaryDirectory() as folder:
            deep = Path(folder) / "deep.json"
            deep.write_text("[" * 200000 + "]" * 200000)
            os.environ["MURVAN_HOME"] = folder
            with self.assertRaises(CatalogError):
                units_in(deep)
            code, _, err = self.run_("units", "--add", str(deep))
            self.assertEqual((code, len(err.strip().splitlines())), (2, 1), err)


class Thick(unittest.TestCase):
    def test_two_thousand_layers_stay_finite(self):
        brick = Slab(0.12, 180e3)
        for n in (1, 20, 200, 2000):
            with np.errstate(all="raise", under="ignore"):
                wall, back = through((brick,) * n), sealed((brick,) * n)
            for x in (wall.inner, wall.across, wall.outer, back.inner):
                self.assertTrue(np.isfinite(x).all(), n)
            self.assertAlmostEqual(wall.across[0].real, 1 / (0.12 * n), places=9)
        factor, lag = decrement(through((brick,) * 2000))
        self.assertTrue(0 <= factor < 1e-12 and np.isfinite(lag))

    def test_many_thin_layers_are_one_thick_one(self):
        one = through((Slab(0.6, 900e3),))
        many = through((Slab(0.6 / 50, 900e3 / 50),) * 50)
        np.testing.assert_allclose(many.inner, one.inner, rtol=1e-9)
        np.testing.assert_allclose(many.across, one.across, rtol=1e-9)

    def test_a_house_of_thick_walls_is_answered(self):
        job = box()
        wall = next(c for c in job.constructions if c.id == job.wall_construction)
        thick = replace(job, "constructions", wall.id, layers=wall.layers * 400)
        self.assertTrue(np.isfinite(solve(thick).loads.house_cooling_w))


class Dxf(unittest.TestCase):
    def test_blocks_in_blocks_end_soon(self):
        import ezdxf

        with tempfile.TemporaryDirectory() as folder:
            doc = ezdxf.new()
            last = doc.blocks.new("B0")
            for k in range(40):
                last.add_line((0, 0), (1, k))
            for n in range(1, 7):
                block = doc.blocks.new(f"B{n}")
                for k in range(40):
                    block.add_blockref(f"B{n - 1}", (k, 0))
            doc.modelspace().add_blockref("B6", (0, 0))
            file = Path(folder) / "deep.dxf"
            doc.saveas(file)
            began = time.monotonic()
            with self.assertRaises(JobFileError):
                read_dxf(file)
            self.assertLess(time.monotonic() - began, 12)


if __name__ == "__main__":
    unittest.main()
