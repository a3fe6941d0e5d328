"""Build: a piece's flat pattern on its card, and the shop set written from the window."""

from __future__ import annotations

import tempfile
from pathlib import Path
from unittest.mock import patch

from murvan.app.stations.base import List_, Picture
from murvan.catalog.own_shop import own_shop, shop_file
from murvan.model.shop import Shop
from tests.app.base import WindowTest


class Patterns(WindowTest):
    def setUp(self):
        super().setUp()
        self.key("6")
        self.settle()

    def card_of(self, what):
        piece = next(p for p in self.view.r.cuts.pieces if p.what == what)
        self.window.select("piece", piece.id)
        self.settle()
        return self.window.card.spec

    def sections(self, what, title):
        return [s for s in self.card_of(what).sections if getattr(s, "title", "") == title]

    def test_a_plenum_shows_its_sheets_and_its_holes(self):
        (picture,) = self.sections("Supply plenum", "Flat pattern")
        self.assertIsInstance(picture, Picture)
        (stands,) = self.sections("Supply plenum", "As it stands")
        self.assertEqual(len(stands.shows[0].holes), 4)
        (holes,) = self.sections("Supply plenum", "Holes, to the middle")
        self.assertEqual({r.label for r in holes.rows}, {"Hole SA1", "Hole P1", "Hole P2", "Hole SB1"})

    def test_what_is_bought_says_so_and_what_is_no_sheet_says_nothing(self):
        (bought,) = self.sections("Hand damper", "Flat pattern")
        self.assertIsInstance(bought, List_)
        self.assertEqual(bought.rows[0].note or bought.rows[0].value, "bought: damper")
        flex = next(p.what for p in self.view.r.cuts.pieces if p.section == "Flex")
        self.assertEqual(self.sections(flex, "Flat pattern") + self.sections("Hand damper", "As it stands"), [])

    def test_both_measures_and_themes_draw(self):
        for what in ("Supply plenum", "Elbow with vanes", "Boot", "Take-off, 45°", "Transition"):
            self.card_of(what)
            self.window.command("view.units")
            self.window.command("view.theme")
            self.settle()
            self.assertFalse(self.window.grab().isNull())

    def test_f_writes_the_shop_set(self):
        with (
            tempfile.TemporaryDirectory() as folder,
            patch("murvan.app.actions.shop.QFileDialog.getExistingDirectory", return_value=folder),
        ):
            self.window.plan.setFocus()
            self.key("f")
            self.settle()
            self.assertIn("flat patterns", self.window.status.message)
            self.assertTrue((Path(folder) / "pieces.csv").exists())
            self.assertTrue((Path(folder) / "patterns.pdf").exists())
            self.assertGreater(len(list(Path(folder).glob("*.dxf"))), 20)

    def test_the_shop_s_habits_are_kept_on_the_machine(self):
        card = self.card_of("Duct")
        field = next(f for s in card.sections for f in getattr(s, "fields", ()) if f.key == "shop.hem_m")
        self.assertTrue(self.window.card.apply(field, 0.02))
        self.settle()
        self.assertEqual(own_shop().hem_m, 0.02)
        self.assertFalse(self.window.document.modified, "the job has not changed")
        self.assertFalse(self.window.card.apply(field, 9.0))
        self.assertEqual(own_shop().hem_m, 0.02)
        pick = next(
            f for s in self.window.card.spec.sections for f in getattr(s, "fields", ()) if f.key == "shop.painted"
        )
        pick.pick("inside")
        self.settle()
        picture = next(s for s in self.window.card.spec.sections if getattr(s, "title", "") == "Flat pattern")
        self.assertIn("inside up", picture.note)

    def test_habits_that_can_t_be_read_are_murvan_s(self):
        shop_file().parent.mkdir(parents=True, exist_ok=True)
        shop_file().write_text("{no json", "utf-8")
        self.assertEqual(own_shop(), Shop())

    def test_without_ducts_it_is_said(self):
        from murvan.model import with_design

        self.window.edit("Bare", lambda job: with_design(job, runs=(), joints=(), plenums=(), readings=(), ticks=()))
        self.settle()
        self.window.command("build.patterns")
        self.assertIn("lay the ducts first", self.window.status.message)
