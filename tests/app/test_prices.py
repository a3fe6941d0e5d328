"""The lens Prices on Build: a price typed, undone, kept, taken and read from a file, as the user sees it."""

import tempfile
from pathlib import Path

from murvan.catalog import own_prices, prices_csv
from murvan.design.parts import cost_of
from murvan.kinds.prices import PRICES
from murvan.model.prices import PriceBook, PriceItem
from tests.app.base import WindowTest


class PricesLens(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.go(6)
        self.window.set_lens(self.window.station.lenses.index("Prices"))
        self.settle()

    def total(self):
        return cost_of(self.window.view().r.cuts.pieces, self.job.prices).money

    def test_a_line_a_price_and_the_sum_of_them(self):
        ledger = self.window.station.ledger(self.window.view())
        cells = [[c.text for c in r.cells] for r in ledger.rows]
        names = [c[0] for c in cells]
        self.assertLessEqual({"Galvanised duct", "Flex", "Fitting", "Register, grille", "Zone damper"}, set(names))
        sums = sum(float(c[7].replace(",", "")) for c in cells)
        shown = float(ledger.total.cells[7].text.replace(",", ""))
        self.assertLess(abs(sums - shown), len(cells))
        self.assertAlmostEqual(shown, self.total(), delta=0.51)

    def test_a_price_is_typed_in_the_users_units_and_undone(self):
        before = self.total()
        self.window.select("price", "flex")
        self.settle()
        self.type_into("prices.flex.money", "10")
        self.assertAlmostEqual(self.job.prices.of("flex").money, 10 / 0.3048, 3)
        self.assertEqual(self.job.prices.name, "Own prices")
        self.assertGreater(self.total(), before)
        self.assertEqual(self.window.document.stack.undoText(), "Change a price")
        self.window.document.stack.undo()
        self.settle()
        self.assertEqual(self.job.prices, PriceBook())
        self.assertAlmostEqual(self.total(), before)

    def test_what_is_no_price_is_refused_in_words(self):
        self.window.select("price", "flex")
        self.settle()
        self.type_into("prices.flex.money", "-4")
        self.assertEqual(self.job.prices, PriceBook())

    def test_kept_for_other_jobs_and_taken_again(self):
        self.assertIsNone(own_prices())
        self.window.select("price", "labour")
        self.settle()
        self.type_into("prices.labour.money", "120")
        self.key("k")
        self.assertEqual(own_prices().hour, 120.0)
        self.window.document.stack.undo()
        self.settle()
        self.assertEqual(self.job.prices.hour, PRICES["labour"].money)
        self.key("K", modifier=self.shift())
        self.settle()
        self.assertEqual(self.job.prices.hour, 120.0)

    def shift(self):
        from PyQt6.QtCore import Qt

        return Qt.KeyboardModifier.ShiftModifier

    def test_a_file_with_faults_changes_nothing_and_a_good_one_is_taken(self):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "shop.csv"
            file.write_text("id,money,hours\nflex,ten,0\ngold,1,1\n", "utf-8")
            self.assertFalse(self.window.doing.prices.read_file(str(file)))
            self.assertIn("Line 2, money: 'ten'", self.window.status.message)
            self.assertIn("stay as they were", self.window.status.message)
            self.assertEqual(self.job.prices, PriceBook())
            book = PriceBook(items=(PriceItem(id="register", money=30.0, hours=0.5),))
            file.write_text(prices_csv(book, "ip"), "utf-8")
            self.assertTrue(self.window.doing.prices.read_file(str(file)))
            self.settle()
            self.assertEqual(self.job.prices.of("register").money, 30.0)
            self.assertEqual(self.job.prices.name, "shop")
