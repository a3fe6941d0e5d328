"""Air through the coil against CoolProp, and where a table ends."""

import math
import unittest
from dataclasses import replace

import CoolProp.HumidAirProp as cool
import psychrolib

from murvan.design import solve
from murvan.design.units.coil import SHOWN_C, beyond_table, coil_air, explain_leaving, leaving_air
from murvan.model import replace as model_replace
from murvan.model import replace_part
from murvan.physics import air
from murvan.physics.constants import STANDARD_PRESSURE_PA
from tests.arith import misses
from tests.houses import demo, demo_results


class TestLeaving(unittest.TestCase):
    def setUp(self):
        r = demo_results()
        self.c, self.units = r.conditions, r.main.equipment.candidates

    def test_total_is_the_enthalpy_difference_of_coolprop_within_half_a_percent(self):
        for x in self.units:
            out, c = leaving_air(x, self.c), self.c
            dry_kg_s = x.flow_m3_s * c.density_kg_m3 / (1 + x.entering.humidity_ratio)
            h = [
                cool.HAPropsSI("Hda", "T", a.temperature_c + 273.15, "W", a.humidity_ratio, "P", c.pressure_pa)
                for a in (x.entering, out)
            ]
            self.assertAlmostEqual(dry_kg_s * (h[0] - h[1]) / x.total_w, 1, delta=0.005, msg=x.unit.name)

    def test_it_is_colder_and_no_wetter_than_what_enters(self):
        for x in self.units:
            out = leaving_air(x, self.c)
            self.assertLess(out.temperature_c, x.entering.temperature_c)
            self.assertLessEqual(out.humidity_ratio, x.entering.humidity_ratio + 1e-9)
            self.assertLessEqual(out.relative_humidity, 1.0)

    def test_saturated_where_it_could_not_hold_the_water(self):
        x = self.units[0]
        dry = replace(x, sensible_w=x.total_w * 1.0, total_w=x.total_w * 0.8)
        out = leaving_air(dry, self.c)
        self.assertAlmostEqual(out.relative_humidity, 1.0, places=4)
        enthalpy = x.entering.enthalpy_j_kg - dry.total_w / (
            x.flow_m3_s * self.c.density_kg_m3 / (1 + x.entering.humidity_ratio)
        )
        self.assertAlmostEqual(out.enthalpy_j_kg, enthalpy, delta=5)

    def test_enthalpy_there_and_back(self):
        for t, rh in ((12.0, 0.9), (27.0, 0.5), (35.0, 0.2)):
            a = air.from_relative_humidity(t, rh)
            self.assertAlmostEqual(air.from_enthalpy(t, a.enthalpy_j_kg).humidity_ratio, a.humidity_ratio, places=9)

    def test_any_air_flow_that_can_be_typed_gives_a_state(self):
        job = demo()
        own = job.design.indoor_units[0].id
        for flow in (1e-6, 1e-3, 0.02, 0.1, 1.0, 5.0):
            x = solve(model_replace(job, "indoor_units", own, flow_m3_s=flow)).main.equipment.chosen
            for unit in (x, replace(x, total_w=x.total_w * 50), replace(x, sensible_w=x.sensible_w * 50)):
                out = leaving_air(unit, self.c)
                figures = (out.temperature_c, out.humidity_ratio, out.wet_bulb_c, out.dew_point_c, out.enthalpy_j_kg)
                self.assertTrue(all(math.isfinite(v) for v in figures), (flow, figures))
                self.assertTrue(coil_air(unit, self.c).humidity)
                explain_leaving(unit, self.c)

    def test_curves_are_psychrolibs(self):
        found = coil_air(self.units[0], self.c)
        rh, ratios = found.humidity[2]
        self.assertEqual(ratios[40], psychrolib.GetHumRatioFromRelHum(SHOWN_C[40], rh, self.c.pressure_pa))
        self.assertEqual(
            air.humidity_curve([20.0], 1.0, STANDARD_PRESSURE_PA)[0], psychrolib.GetSatHumRatio(20.0, 101325)
        )

    def test_lines_multiply_out(self):
        for x in self.units:
            for line in explain_leaving(x, self.c).lines:
                for measure in ("ip", "si"):
                    self.assertEqual(misses(line, measure), "", line)


class TestBeyond(unittest.TestCase):
    def test_nothing_in_the_demo(self):
        r = demo_results()
        self.assertEqual(beyond_table(r.main.equipment.chosen, r.conditions), ())

    def test_each_side_is_named(self):
        hot = solve(replace_part(demo(), "climate", summer_c=49.0, summer_wet_bulb_c=24.0))
        (b,) = beyond_table(hot.main.equipment.chosen, hot.conditions)
        self.assertEqual((b.what, b.here_c, round(b.edge_c, 1)), ("Outdoors, cooling", 49.0, 46.1))
        dry = solve(replace_part(demo(), "indoor", cooling_rh=0.2))
        (b,) = beyond_table(dry.main.equipment.chosen, dry.conditions)
        self.assertEqual(b.what, "Entering wet bulb")
        self.assertLess(b.here_c, b.edge_c)
        x = dry.main.equipment.chosen
        cold = replace(x, unit=x.unit.model_copy(update={"low_ambient_c": -40.0}))
        winter = solve(replace_part(demo(), "climate", winter_c=-30.0)).conditions
        self.assertIn("Outdoors, heating", [b.what for b in beyond_table(cold, winter)])
