"""The book of prices: defaults, what is typed, CSV with every fault told, and what is kept on the machine."""

import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from murvan.catalog import CatalogError, keep_prices, own_prices, prices_csv, prices_from_csv
from murvan.catalog.price_book import prices_file
from murvan.kinds.prices import PRICES
from murvan.model.edit import replace_part
from murvan.model.errors import JobValueError
from murvan.model.job import Job
from murvan.model.prices import PriceBook, PriceItem


class Book(unittest.TestCase):
    def test_what_is_not_typed_is_the_default(self):
        book = PriceBook(items=(PriceItem(id="flex", money=12.0, hours=0.2),))
        self.assertEqual((book.of("flex").money, book.of("flex").hours), (12.0, 0.2))
        self.assertEqual(book.of("board"), PRICES["board"])
        self.assertEqual(book.hour, PRICES["labour"].money)

    def test_what_no_book_may_hold(self):
        flex = {"id": "flex", "money": 1.0, "hours": 0.0}
        with self.assertRaisesRegex(JobValueError, "stands twice"):
            replace_part(Job(name="x"), "prices", items=(flex, flex))
        for wrong in ({**flex, "id": "gold"}, {**flex, "money": -1.0}, {**flex, "hours": float("nan")}):
            with self.assertRaises(JobValueError):
                replace_part(Job(name="x"), "prices", items=(wrong,))


class Csv(unittest.TestCase):
    def test_out_and_in_again(self):
        book = PriceBook(name="Shop", rise=0.035, items=(PriceItem(id="flex", money=12.25, hours=0.2),))
        back = prices_from_csv(prices_csv(book), "Shop")
        self.assertEqual(back.rise, 0.035)
        for kind in PRICES:
            self.assertAlmostEqual(back.of(kind).money, book.of(kind).money, 3)
            self.assertAlmostEqual(back.of(kind).hours, book.of(kind).hours, 5)

    def test_in_inch_pound_units_too(self):
        """12 $/ft is 39.37 $/m: 12 / 0.3048."""
        back = prices_from_csv("id,per,money,hours\nflex,ft,12,0.03\nboard,ft2,2,0.01\n", "x")
        self.assertAlmostEqual(back.of("flex").money, 12 / 0.3048)
        self.assertAlmostEqual(back.of("board").hours, 0.01 / 0.3048**2)
        again = prices_from_csv(prices_csv(back, "ip"), "x")
        self.assertAlmostEqual(again.of("flex").money, 12 / 0.3048, 4)
        with self.assertRaisesRegex(CatalogError, "Line 2, per: 'lb' is not what Flex is counted in: m or ft"):
            prices_from_csv("id,per,money,hours\nflex,lb,12,0.03\n", "x")

    def test_semicolons_with_decimal_commas(self):
        back = prices_from_csv("\ufeffid;money;hours\nflex;12,5;0,25\n", "x")
        self.assertEqual((back.of("flex").money, back.of("flex").hours), (12.5, 0.25))

    def test_every_fault_by_its_cell(self):
        text = "id,money,hours\nflex,twelve,0.1\ngold,1,1\nboard,5,many\nwrap,1,1\nwrap,2,2\nfitting,-4,0\n"
        with self.assertRaises(CatalogError) as found:
            prices_from_csv(text, "x")
        said = str(found.exception).splitlines()
        self.assertEqual(len(said), 5)
        for words in (
            "Line 2, money: 'twelve'",
            "Line 3, id: 'gold'",
            "Line 4, hours: 'many'",
            "Line 6, id: 'wrap' stands twice",
        ):
            self.assertTrue(any(words in x for x in said), (words, said))
        self.assertTrue(any(x.startswith("Line 7") for x in said), said)

    def test_no_book_at_all(self):
        for text in ("", "a,b\n1,2\n"):
            with self.assertRaisesRegex(CatalogError, "no column"):
                prices_from_csv(text, "x")


class Kept(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.enterContext(mock.patch.dict(os.environ, {"MURVAN_HOME": folder.name}))

    def test_kept_and_read_again(self):
        self.assertIsNone(own_prices())
        book = PriceBook(name="Shop", items=(PriceItem(id="flex", money=12.0, hours=0.2),))
        self.assertEqual(keep_prices(book), "")
        self.assertEqual(own_prices(), book)

    def test_what_cant_be_read_is_set_aside(self):
        prices_file().parent.mkdir(parents=True, exist_ok=True)
        prices_file().write_text("{")
        self.assertIsNone(own_prices())
        self.assertIn("prices.json can't be read", keep_prices(PriceBook()))
        self.assertEqual(Path(f"{prices_file()}.unreadable").read_text(), "{")


if __name__ == "__main__":
    unittest.main()
