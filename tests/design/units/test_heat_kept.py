"""Heat that is kept beside a unit: boiler, stove or furnace by its share."""

import unittest

import numpy as np

from murvan.design import solve
from murvan.design.propose import proposals
from murvan.design.units.cost import explain_cost, explain_power, yearly_cost
from murvan.model import replace, replace_part
from murvan.model.edit import changed
from tests.houses import demo, demo_results

OWN = demo().design.indoor_units[0].id


def kept(share, **energy):
    job = replace(demo(), "indoor_units", OWN, heat_share=1 - share)
    return solve(replace_part(job, "energy", **energy) if energy else job)


class TestKept(unittest.TestCase):
    def test_half_of_the_heat_is_asked_for(self):
        whole, half = demo_results().main, kept(0.5).main
        self.assertAlmostEqual(half.loads.house_heating_w, whole.loads.house_heating_w / 2)
        self.assertAlmostEqual(half.loads.house_cooling_w, whole.loads.house_cooling_w)
        a, b = whole.equipment, half.equipment
        self.assertEqual(a.no_load_c, b.no_load_c)
        self.assertAlmostEqual(b.chosen.heating_share, 2 * a.chosen.heating_share)
        self.assertLess(b.chosen.balance_c, a.chosen.balance_c)

    def test_the_year_adds_up(self):
        whole, part = demo_results().main.equipment.chosen.season, kept(0.3).main.equipment.chosen.season
        np.testing.assert_allclose(part.heat_kwh + part.kept_kwh, whole.heat_kwh)
        np.testing.assert_allclose(part.kept_kwh, 0.3 * whole.heat_kwh)
        self.assertEqual(whole.year("kept_kwh"), 0.0)

    def test_all_kept_nothing_is_asked_and_cooling_alone_fits(self):
        r = kept(1.0)
        self.assertEqual(r.main.loads.house_heating_w, 0.0)
        self.assertFalse([f for f in r.findings if f.rule.id == "heat-short"])
        r = solve(replace(r.job, "systems", r.job.design.systems[0].id, candidates=()))
        x = next(c for c in r.main.equipment.candidates if c.unit.kind == "air_conditioner" and c.verdict == "fits")
        self.assertIsNone(x.balance_c)
        self.assertEqual(x.backup_w, 0.0)

    def test_kept_heat_is_paid_at_todays_price(self):
        r = kept(0.4, present="gas", present_efficiency=0.8, gas_per_kwh=0.05)
        x, energy = r.main.equipment.chosen, r.job.energy
        part = next(p for p in yearly_cost(x, energy).parts if p.name == "heat that is kept")
        self.assertAlmostEqual(part.cost, x.season.year("kept_kwh") / 0.8 * 0.05)
        today = yearly_cost(x, energy).present[0]
        self.assertAlmostEqual(today.need_kwh, x.season.year("kept_kwh") + x.season.year("heat_kwh"))

    def test_not_known_what_heats_today_is_said(self):
        r = kept(0.4, present="unknown")
        self.assertIn("not counted", " ".join(map(str, explain_cost(r.main.equipment.chosen, r.job.energy).sources)))

    def test_a_house_with_gas_is_offered_cooling_alone(self):
        self.assertNotIn("kept", [p.kind for p in proposals(replace_part(demo(), "energy", present="unknown"))])
        job = replace_part(demo(), "energy", present="gas")
        p = next((p for p in proposals(job) if p.kind == "kept"), None)
        self.assertIsNotNone(p)
        self.assertEqual(p.chosen[0][1].unit.kind, "air_conditioner")
        self.assertEqual((p.heating_load_w, p.backup_w), (0.0, 0.0))
        self.assertGreater(p.cost_year, 0)


class TestPower(unittest.TestCase):
    """43 A at 230 V of resistance heat against 5 A after; common practice."""

    def test_amps_by_volts(self):
        job = replace_part(demo(), "energy", present_volts=230.0, present_amps=43.0)
        x = solve(job).main.equipment.chosen
        lines = explain_power(x, job.energy, 1.2).lines
        self.assertAlmostEqual(lines[0].result.value, 9890.0)
        self.assertEqual(lines[0].worked("ip"), "230 × 43.0 × 1.00")
        after = changed(job.energy, present_amps=5.0)
        self.assertAlmostEqual(explain_power(x, after, 1.2).lines[0].result.value, 1150.0)
        self.assertAlmostEqual(lines[2].result.value, lines[0].result.value - lines[1].result.value)

    def test_unmeasured_says_nothing(self):
        self.assertIsNone(explain_power(demo_results().main.equipment.chosen, demo().energy, 1.2))


if __name__ == "__main__":
    unittest.main()
