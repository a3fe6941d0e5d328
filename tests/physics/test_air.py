"""Moist air: consistency of the wrapper."""

import unittest

from murvan.physics import air


class TestAir(unittest.TestCase):
    def test_three_ways_to_the_same_air(self):
        a = air.from_relative_humidity(24.0, 0.5)
        b = air.from_wet_bulb(24.0, a.wet_bulb_c)
        c = air.from_humidity_ratio(24.0, a.humidity_ratio)
        for other in (b, c):
            self.assertAlmostEqual(other.relative_humidity, 0.5, places=3)
            self.assertAlmostEqual(other.enthalpy_j_kg, a.enthalpy_j_kg, delta=20)

    def test_saturated_air_has_one_temperature(self):
        a = air.from_relative_humidity(15.0, 1.0)
        self.assertAlmostEqual(a.wet_bulb_c, 15.0, places=2)
        self.assertAlmostEqual(a.dew_point_c, 15.0, places=2)

    def test_mix_lies_between(self):
        a, b = air.from_relative_humidity(24, 0.5), air.from_relative_humidity(35, 0.4)
        m = air.mix(a, b, 0.25)
        self.assertAlmostEqual(m.temperature_c, 26.75)
        self.assertAlmostEqual(m.humidity_ratio, 0.75 * a.humidity_ratio + 0.25 * b.humidity_ratio)

    def test_altitude_thins_the_air(self):
        self.assertLess(air.pressure_at(1600), 0.84 * air.pressure_at(0))
        self.assertAlmostEqual(air.sensible_factor(1.2014), 1.2014 * 1006)
