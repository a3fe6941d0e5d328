"""A year's cost by hand, and every printed line multiplied out in both units."""

import unittest
from dataclasses import replace

from murvan.design import solve
from murvan.design.units.cost import explain_cost, yearly_cost
from murvan.model import replace_part
from murvan.units import FORMS, parse, text
from tests.arith import misses
from tests.houses import demo, demo_results, set_unit


def chosen(**energy):
    return demo_results().main.equipment.chosen, replace_part(demo(), "energy", **energy).energy


class TestCost(unittest.TestCase):
    def test_by_hand(self):
        x, e = chosen(electric_per_kwh=0.2, present="gas", present_efficiency=0.8, gas_per_kwh=0.05, cost_in=9000)
        c = yearly_cost(x, e)
        self.assertAlmostEqual(c.year, 0.2 * x.season.electric_kwh)
        self.assertAlmostEqual(c.present_year, x.season.year("heat_kwh") / 0.8 * 0.05)
        self.assertAlmostEqual(c.saved, c.present_year - c.year)
        self.assertTrue(c.installed)

    def test_nothing_of_a_present_system_nobody_named(self):
        x, e = chosen()
        c = yearly_cost(x, e)
        self.assertEqual((c.present, c.present_year, c.saved, c.payback_years), ((), None, None, None))
        self.assertFalse(c.installed)
        self.assertEqual(c.cost_in, x.unit.price)

    def test_no_payback_where_nothing_is_saved(self):
        x, e = chosen(present="gas", gas_per_kwh=0.001, cost_in=9000)
        self.assertLess(yearly_cost(x, e).saved, 0)
        self.assertIsNone(yearly_cost(x, e).payback_years)
        self.assertNotIn("÷ saving", " ".join(line.label for line in explain_cost(x, e).lines))

    def test_no_hours_no_cost(self):
        job = replace_part(demo(), "climate", bin_hours=())
        x = solve(job).main.equipment.chosen
        self.assertIsNone(yearly_cost(x, job.energy))
        self.assertIsNone(explain_cost(x, job.energy))

    def test_measures_of_fuel(self):
        # 100,000 Btu a therm is the definition; 91,500 and 138,500 Btu a gallon from memory
        self.assertEqual(text("gas", 29.3071, "ip"), "1 therm")
        self.assertEqual(text("propane", 26.816, "ip"), "1 gal")
        self.assertEqual(text("oil", 405.9, "ip"), "10 gal")
        self.assertEqual(text("oil", 405.9, "si"), "38 L")
        self.assertAlmostEqual(parse("gas_price", "1.40", "ip"), 1.40 / 29.3071, places=5)
        self.assertEqual(text("money", -1234.2, "ip"), "−$1,234")
        self.assertEqual(FORMS["kwh_price"][0].unit, "$/kWh")


class TestLines(unittest.TestCase):
    def check(self, worked):
        for line in worked.lines:
            for measure in ("ip", "si"):
                self.assertEqual(misses(line, measure), "", line)

    def test_every_line_multiplies_out_in_both_units(self):
        job = set_unit(demo(), unit="brundel-f60-3")
        furnace = solve(job).main.equipment.chosen
        for x in (demo_results().main.equipment.chosen, furnace):
            for present in ("unknown", "electric", "heat_pump", "gas", "propane", "oil"):
                for fuel in ("gas", "oil", "propane"):
                    e = replace_part(demo(), "energy", present=present, present_cooling=2.9, cost_in=12345).energy
                    self.check(explain_cost(x, e))
                    unit = x.unit.model_copy(update={"fuel": fuel}) if x is furnace else x.unit
                    self.check(explain_cost(replace(x, unit=unit), e))
