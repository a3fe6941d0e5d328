"""Heat through the shell against sums worked by hand."""

import math
import unittest

from murvan.physics import heat

R = 0.1761101838
CFM = 0.3048**3 / 60


class TestHeat(unittest.TestCase):
    def test_parallel_path(self):
        # 77 % at R 15.72, 23 % at R 7.10: U = .77/15.72 + .23/7.10
        self.assertAlmostEqual(heat.parallel_path_u(15.72, 7.10, 0.23), 0.77 / 15.72 + 0.23 / 7.10)

    def test_below_grade_wall_by_hand(self):
        k, r, z2 = 1.4, 1.5, 2.0
        a = 2 * k * r / math.pi
        expected = 2 * k / (math.pi * z2) * (math.log(z2 + a) - math.log(a))
        self.assertAlmostEqual(heat.below_grade_wall_u(0, z2, r, k), expected)

    def test_deeper_wall_loses_less(self):
        self.assertLess(heat.below_grade_wall_u(1, 2, 1.0), heat.below_grade_wall_u(0, 1, 1.0))

    def test_below_grade_floor_by_hand(self):
        k, r, w, z = 1.4, 0.2, 7.0, 2.0
        a = k * r / math.pi
        expected = 2 * k / (math.pi * w) * (math.log(w / 2 + z / 2 + a) - math.log(z / 2 + a))
        self.assertAlmostEqual(heat.below_grade_floor_u(w, z, r, k), expected)

    def test_leakage_check_value(self):
        # 1,500 cfm50, two storeys, shelter class 4: about 149 cfm at 39 K and 6.7 m/s (from memory)
        area = heat.leakage_area_cm2(1500 * CFM)
        self.assertAlmostEqual(heat.leakage_flow_m3_s(area, 39, 6.7, 2, "sheltered") / CFM, 149, delta=1)

    def test_leakage_grows_with_cold_wind_and_height(self):
        base = heat.leakage_flow_m3_s(500, 20, 4, 1, "typical")
        self.assertGreater(heat.leakage_flow_m3_s(500, 30, 4, 1, "typical"), base)
        self.assertGreater(heat.leakage_flow_m3_s(500, 20, 6, 1, "typical"), base)
        self.assertGreater(heat.leakage_flow_m3_s(500, 20, 4, 3, "typical"), base)
        self.assertLess(heat.leakage_flow_m3_s(500, 20, 4, 1, "sheltered"), base)

    def test_combined_air(self):
        self.assertEqual(heat.combined_air_m3_s(0.1, 0.0, 0.05), 0.15000000000000002)
        self.assertEqual(heat.combined_air_m3_s(0.01, 0.1, 0.0), 0.1)
        self.assertAlmostEqual(heat.combined_air_m3_s(0.1, 0.1, 0.0), 0.15)

    def test_sweat_check_values(self):
        from murvan.physics import air

        dew70 = air.from_relative_humidity((85 - 32) / 1.8, 0.70).dew_point_c
        dew85 = air.from_relative_humidity((85 - 32) / 1.8, 0.85).dew_point_c
        self.assertAlmostEqual(heat.sweat_resistance((55 - 32) / 1.8, (85 - 32) / 1.8, dew70, 0.68), 1.2, delta=0.02)
        self.assertAlmostEqual(heat.sweat_resistance((52 - 32) / 1.8, (85 - 32) / 1.8, dew85, 0.68), 3.8, delta=0.03)
        self.assertEqual(heat.sweat_resistance(20, 30, 15, 0.12), 0.0)
        self.assertEqual(heat.sweat_resistance(12, 20, 21, 0.12), math.inf)

    def test_temperature_kept_along_a_duct(self):
        """A duct cut in pieces keeps the product; none of UA keeps all."""
        self.assertEqual(float(heat.temperature_kept(0.0, 100.0)), 1.0)
        whole = heat.temperature_kept(0.7 * 0.56 * 10, 120.0)
        self.assertAlmostEqual(float(whole), math.exp(-0.7 * 0.56 * 10 / 120))
        self.assertAlmostEqual(float(heat.temperature_kept(0.7 * 0.56 * 5, 120.0)) ** 2, float(whole))
