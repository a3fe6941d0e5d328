"""What pieces cost: by hand from the list of pieces, and what a layout says."""

import unittest

from murvan.design import solve
from murvan.design.parts import cost_of, duct_cost
from murvan.kinds.prices import PRICES
from murvan.model.prices import PriceBook, PriceItem
from tests.houses import demo


class Cost(unittest.TestCase):
    def setUp(self):
        self.pieces = solve(demo()).cuts.pieces

    def test_by_hand(self):
        found = {x.price.id: x for x in cost_of(self.pieces, PriceBook()).lines}
        flex = sum(p.length_m for p in self.pieces if p.material == "flex")
        self.assertAlmostEqual(found["flex"].quantity, flex)
        self.assertAlmostEqual(found["flex"].material, flex * PRICES["flex"].money)
        faces = sum(p.section == "Registers" for p in self.pieces)
        self.assertEqual(found["register"].quantity, faces)
        self.assertAlmostEqual(found["register"].hours, faces * PRICES["register"].hours)
        sheet = sum(p.weight_kg for p in self.pieces if p.material == "galvanised")
        self.assertAlmostEqual(found["galvanised"].quantity, sheet)
        self.assertEqual(found["zone_damper"].quantity, 2)
        self.assertEqual(found["thermostat"].quantity, 2)

    def test_together_is_material_and_labour(self):
        found = cost_of(self.pieces, PriceBook())
        self.assertAlmostEqual(
            found.money, sum(x.price.money * x.quantity + 95.0 * x.price.hours * x.quantity for x in found.lines)
        )

    def test_ducts_leave_out_the_unit_and_its_parts(self):
        ids = {x.price.id for x in duct_cost(self.pieces, PriceBook()).lines}
        self.assertFalse(ids & {"indoor", "line_set", "circuit", "thermostat", "part"})
        self.assertLessEqual({"galvanised", "flex", "fitting", "register", "damper", "wrap", "hanger"}, ids)

    def test_a_typed_price_counts(self):
        before = cost_of(self.pieces, PriceBook())
        book = PriceBook(items=(PriceItem(id="register", money=124.0, hours=0.4),))
        after = cost_of(self.pieces, book)
        faces = sum(p.section == "Registers" for p in self.pieces)
        self.assertAlmostEqual(after.money - before.money, 100.0 * faces)

    def test_every_piece_is_paid_for(self):
        for p in self.pieces:
            self.assertTrue(p.priced or p.material, p.what)
        self.assertEqual(cost_of((self.pieces[0]._replace(priced="", material=""),), PriceBook()).lines, ())


if __name__ == "__main__":
    unittest.main()
