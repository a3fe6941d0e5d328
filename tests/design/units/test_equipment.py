"""Capacity by interpolation, balance point, seasons, size limits."""

import unittest

import numpy as np
import psychrolib

from murvan.catalog import units
from murvan.design import solve
from murvan.design.units import equipment as e
from murvan.design.units.capacity import entering_air
from murvan.model import replace, replace_part, with_design
from murvan.model.edit import changed
from murvan.model.limits_set import PUBLISHED
from murvan.physics import air
from tests.houses import demo, demo_results, set_unit

RATED = air.from_wet_bulb((80 - 32) / 1.8, (67 - 32) / 1.8)


class TestCapacity(unittest.TestCase):
    def setUp(self):
        self.unit = units()["orvane-vh-36"]

    def test_no_air_leaves_beyond_saturation_at_altitude_either(self):
        """By PsychroLib, over all units, three altitudes and four entering states; thin air is cooled farther."""
        psychrolib.SetUnitSystem(psychrolib.SI)
        for altitude in (0.0, 1500.0, 3000.0):
            p = air.pressure_at(altitude)
            for u in units().values():
                for dry, wet in ((26.7, 19.4), (24.0, 17.0), (29.0, 24.0), (26.7, 15.0)):
                    entering = air.from_wet_bulb(dry, wet, p)
                    density = 1.2 * p / 101325
                    total, sensible, _ = e.cooling_capacity(u, 30.0, entering, u.rated_flow_m3_s, density)
                    mass = u.rated_flow_m3_s * density
                    left = entering.enthalpy_j_kg - total * (1 + entering.humidity_ratio) / mass
                    leaving = dry - sensible / (air.sensible_factor(density) * u.rated_flow_m3_s)
                    ratio = psychrolib.GetHumRatioFromEnthalpyAndTDryBulb(max(left, 0), leaving) if left > 0 else 0
                    self.assertLessEqual(ratio, 1.001 * psychrolib.GetSatHumRatio(leaving, p), (u.id, altitude, dry))

    def test_table_point_comes_back(self):
        t = self.unit.cooling
        total, sensible, power = e.cooling_capacity(self.unit, (95 - 32) / 1.8, RATED, self.unit.rated_flow_m3_s)
        i, j = 3, 3
        self.assertAlmostEqual(total / t.total_w[i][j], 1, places=3)
        self.assertAlmostEqual(sensible / t.sensible_w[i][j], 1, delta=0.01)
        self.assertAlmostEqual(power / t.power_w[i][j], 1, places=3)

    def test_halfway_between_rows(self):
        t = self.unit.cooling
        mid = (t.outdoor_c[2] + t.outdoor_c[3]) / 2
        entering = air.from_wet_bulb(t.dry_bulb_c, t.wet_bulb_c[1])
        total, _, _ = e.cooling_capacity(self.unit, mid, entering, self.unit.rated_flow_m3_s)
        self.assertAlmostEqual(total, (t.total_w[2][1] + t.total_w[3][1]) / 2, delta=2)

    def test_hotter_outdoors_less_capacity_wetter_indoors_more(self):
        q = self.unit.rated_flow_m3_s
        self.assertLess(
            e.cooling_capacity(self.unit, 44, RATED, q)[0], e.cooling_capacity(self.unit, 30, RATED, q)[0]
        )
        dry = air.from_wet_bulb(26.7, 15.0)
        self.assertLess(e.cooling_capacity(self.unit, 35, dry, q)[0], e.cooling_capacity(self.unit, 35, RATED, q)[0])

    def test_altitude_takes_capacity(self):
        q = self.unit.rated_flow_m3_s
        self.assertLess(
            e.cooling_capacity(self.unit, 35, RATED, q, 1.0)[0], e.cooling_capacity(self.unit, 35, RATED, q)[0]
        )

    def test_sensible_never_above_total(self):
        for u in units().values():
            for wet in (10.0, 14.0, 17.0, 22.0):
                total, sensible, _ = e.cooling_capacity(u, 35, air.from_wet_bulb(26.7, wet), u.rated_flow_m3_s * 1.3)
                self.assertLessEqual(sensible, total)

    def test_below_its_own_limit_the_heat_pump_is_off(self):
        high, low, power = e.heating_capacity(self.unit, np.array([self.unit.low_ambient_c - 1, 0.0]))
        self.assertEqual((high[0], low[0], power[0]), (0, 0, 0))
        self.assertGreater(high[1], low[1])

    def test_furnace_gives_its_output_at_any_temperature(self):
        high, _, _ = e.heating_capacity(units()["brundel-f60-3"], np.array([-30.0, 10.0]))
        self.assertEqual(high[0], high[1])


class TestCurves(unittest.TestCase):
    def test_they_cross_at_the_balance_point_and_meet_the_loads_at_design(self):
        r = demo_results()
        x, off = r.main.equipment.chosen, r.main.equipment.no_load_c
        k = e.curves(x, off, r.conditions, r.main.loads)
        spare = np.interp(x.balance_c, k.heat_c, k.most_heat_w) - np.interp(x.balance_c, k.heat_c, k.heat_need_w)
        self.assertLess(abs(spare), 0.01 * r.main.loads.house_heating_w)
        winter, summer = r.conditions.outdoor_winter.temperature_c, r.conditions.outdoor_summer.temperature_c
        self.assertAlmostEqual(np.interp(winter, k.heat_c, k.heat_need_w) / r.main.loads.house_heating_w, 1, places=6)
        self.assertAlmostEqual(np.interp(summer, k.cool_c, k.cool_need_w) / r.main.loads.house_cooling_w, 1, places=6)
        self.assertAlmostEqual(float(np.interp(summer, k.cool_c, k.most_cool_w)) / x.total_w, 1, delta=0.01)
        self.assertTrue((k.least_heat_w <= k.most_heat_w).all() and (k.least_cool_w <= k.most_cool_w).all())
        self.assertLess(k.low_c, winter)
        self.assertGreater(k.high_c, summer)


class TestEntering(unittest.TestCase):
    def test_a_warm_return_warms_the_air_before_the_coil(self):
        c = demo_results().conditions
        bare, warm = entering_air(c, (), 0.5), entering_air(c, (), 0.5, 1.5)
        self.assertAlmostEqual(warm.temperature_c, bare.temperature_c + 1.5)
        self.assertAlmostEqual(warm.humidity_ratio, bare.humidity_ratio)

    def test_returns_in_the_attic_count(self):
        job = with_design(
            demo(),
            runs=tuple(changed(x, place="attic" if x.side == "return" else x.place) for x in demo().design.runs),
        )
        r = solve(job)
        self.assertGreater(r.main.duct_heat.return_rise_k, 0.1)
        inside, before = r.main.equipment.chosen.entering, demo_results().main.equipment.chosen.entering
        self.assertGreater(inside.temperature_c, before.temperature_c)


class TestCandidates(unittest.TestCase):
    def test_demo_unit_fits(self):
        x = demo_results().main.equipment.chosen
        self.assertEqual(x.verdict, "fits")
        low, high = x.limits
        self.assertTrue(low <= x.total_share <= high)
        self.assertAlmostEqual(x.total_w, x.sensible_w + x.latent_w)

    def test_balance_point_is_where_capacity_meets_load(self):
        r = demo_results()
        x = r.main.equipment.chosen
        need, _ = e.load_line(r.conditions, r.loads, r.main.equipment.no_load_c, np.array([x.balance_c]))
        have = e.heating_capacity(x.unit, x.balance_c, r.conditions.density_kg_m3)[0]
        self.assertAlmostEqual(float(need[0]), float(have[0]), delta=1)

    def test_backup_is_what_is_short_at_design(self):
        r = demo_results()
        x = r.main.equipment.chosen
        self.assertAlmostEqual(x.backup_w, r.loads.house_heating_w - x.heating_w)

    def test_bigger_heat_pump_balances_lower(self):
        found = {x.unit.id: x for x in demo_results().main.equipment.candidates}
        self.assertLess(found["orvane-vh-36"].balance_c, found["orvane-vh-30"].balance_c)
        self.assertLess(found["orvane-vh-36"].backup_hours, found["orvane-vh-30"].backup_hours)

    def test_single_speed_cycles_most(self):
        found = {x.unit.id: x for x in demo_results().main.equipment.candidates}
        self.assertGreater(found["quellin-c3"].cycling_hours, found["orvane-vh-36"].cycling_hours)

    def test_limits_follow_the_kind(self):
        found = {x.unit.id: x for x in demo_results().main.equipment.candidates}
        self.assertEqual(found["quellin-c3"].limits, (0.90, 1.15))
        self.assertEqual(found["haddle-35-t"].limits, (0.90, 1.20))
        self.assertEqual(found["quellin-c3"].verdict, "big")

    def test_a_head_may_be_as_large_as_its_lowest_speed_allows(self):
        head = units()["wexley-w9"]
        self.assertEqual(PUBLISHED.of(head), (0.9, 1 / head.cooling.min_fraction))
        self.assertEqual(PUBLISHED.of(units()["tavvin-d9"]), (0.9, 1.3))

    def test_what_is_offered_can_hang_in_the_place(self):
        bare = replace(demo(), "systems", "system1", candidates=())
        kinds = {x.unit.kind for x in solve(bare).main.equipment.candidates}
        self.assertEqual(kinds, {"heat_pump", "air_conditioner", "furnace_coil", "slim_ducted", "packaged"})
        head = replace(bare, "indoor_units", bare.design.indoor_units[0].id, kind="wall", unit=None)
        self.assertEqual({x.unit.kind for x in solve(head).main.equipment.candidates}, {"wall"})
        cassette = replace(head, "indoor_units", head.design.indoor_units[0].id, kind="ceiling")
        self.assertEqual({x.unit.kind for x in solve(cassette).main.equipment.candidates}, {"ceiling1", "ceiling4"})

    def test_hours_stay_within_the_year(self):
        for x in demo_results().main.equipment.candidates:
            self.assertLessEqual(x.backup_hours + 0, 8784)
            self.assertLessEqual(x.cycling_hours, 8784)

    def test_no_bins_gives_unknown_hours_not_zero(self):
        job = replace_part(demo(), "climate", bin_hours=())
        self.assertNotEqual(
            solve(job).main.equipment.chosen.backup_hours, solve(job).main.equipment.chosen.backup_hours
        )

    def test_fresh_air_warms_what_enters_the_coil(self):
        r = demo_results()
        self.assertGreater(r.main.equipment.chosen.entering.temperature_c, r.conditions.indoor_cooling.temperature_c)

    def test_no_unit(self):
        r = solve(set_unit(demo(), unit=None))
        self.assertIsNone(r.main.equipment.chosen)
        self.assertIsNone(r.network)

    def test_arithmetic(self):
        r = demo_results()
        x = r.main.equipment.chosen
        a = e.explain_capacity(x, r.conditions, r.loads)
        self.assertAlmostEqual(a.result.value, x.heating_share)
        b = e.explain_balance(x, r.main.equipment, r.conditions, r.loads)
        self.assertAlmostEqual(b.lines[1].result.value, x.balance_c)
        self.assertEqual(b.lines[1].result.text("ip"), f"{x.balance_c * 1.8 + 32:.0f} °F")
        self.assertIn("°F", " ".join(a.source_texts("ip")))
        self.assertIn("°C", " ".join(a.source_texts("si")))
