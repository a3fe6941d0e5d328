"""Moist air against CoolProp's humid-air functions and PsychroLib."""

import unittest

import psychrolib
from CoolProp.HumidAirProp import HAPropsSI

from murvan.physics import air

STATES = ((24.0, 0.5, 0.0), (33.0, 0.4, 0.0), (-12.8, 0.8, 300.0), (10.0, 0.9, 1600.0), (40.0, 0.2, 2000.0))


class TestMoistAir(unittest.TestCase):
    def test_against_coolprop(self):
        for t, rh, altitude in STATES:
            with self.subTest(t=t, rh=rh, altitude=altitude):
                p = air.pressure_at(altitude)
                a = air.from_relative_humidity(t, rh, p)
                args = ("T", t + 273.15, "R", rh, "P", p)
                # real-gas humid air against ideal: ratio within 1 %, wet bulb and dew point within 0.15 K
                self.assertAlmostEqual(a.humidity_ratio / HAPropsSI("W", *args), 1, delta=0.01)
                self.assertAlmostEqual(a.wet_bulb_c, HAPropsSI("B", *args) - 273.15, delta=0.15)
                self.assertAlmostEqual(a.dew_point_c, HAPropsSI("D", *args) - 273.15, delta=0.2)
                self.assertAlmostEqual(a.density_kg_m3 * HAPropsSI("Vha", *args), 1, delta=0.002)

    def test_enthalpy_difference_against_coolprop(self):
        a, b = air.from_relative_humidity(24, 0.5), air.from_relative_humidity(12.8, 0.95)
        ours = a.enthalpy_j_kg - b.enthalpy_j_kg
        theirs = HAPropsSI("H", "T", 297.15, "R", 0.5, "P", 101325) - HAPropsSI(
            "H", "T", 285.95, "R", 0.95, "P", 101325
        )
        self.assertAlmostEqual(ours / theirs, 1, delta=0.01)

    def test_against_psychrolib(self):
        psychrolib.SetUnitSystem(psychrolib.SI)
        a = air.from_wet_bulb(33.0, 24.0)
        self.assertAlmostEqual(a.humidity_ratio, psychrolib.GetHumRatioFromTWetBulb(33.0, 24.0, 101325), places=9)
        self.assertAlmostEqual(
            a.dew_point_c, psychrolib.GetTDewPointFromHumRatio(33.0, a.humidity_ratio, 101325), places=6
        )

    def test_trade_factors_at_sea_level(self):
        """1.08 and 0.68 at 0.075 lb/ft3, common practice."""
        cfm, btu_h = 0.3048**3 / 60, 0.29307107017
        self.assertAlmostEqual(air.sensible_factor(1.2014) * cfm / btu_h / 1.8, 1.08, delta=0.005)
        self.assertAlmostEqual(air.latent_factor(1.2014) * cfm / btu_h / 7000, 0.69, delta=0.012)
