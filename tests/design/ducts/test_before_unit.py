"""A house before its unit is chosen: its air, how warm that is in winter, what leaks of the return bring; ducts in garages."""

import unittest

import numpy as np

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.ducts.duct_heat import IN_SPACE, space_round
from murvan.model import Space, insert, replace_part
from murvan.model.edit import changed
from murvan.model.job import Design, Existing
from murvan.model.routes import LaidRun
from murvan.physics.constants import TON_W
from murvan.units import CFM
from tests.houses import box, demo


def bare(key="demo"):
    """A sample without a unit, registers and ducts."""
    return changed(demo_job(key), "", design=Design())


class AirBeforeAUnit(unittest.TestCase):
    def test_it_carries_the_sensible_load_at_the_site_s_air(self):
        r = solve(bare())
        c, s = r.conditions, r.main
        fall = c.indoor_cooling.temperature_c - 12.8
        wants = s.loads.house_sensible_w / (c.density_kg_m3 * 1006.0 * fall)
        self.assertAlmostEqual(s.airflow.total_m3_s / wants, 1.0, delta=2e-3)

    def test_thin_air_takes_more_of_it(self):
        low = solve(bare())
        job = bare()
        high = solve(replace_part(job, "site", altitude_m=2500.0))
        self.assertGreater(high.main.airflow.total_m3_s, low.main.airflow.total_m3_s * 1.2)

    def test_never_less_than_the_rule_of_thumb(self):
        wet = replace_part(bare(), "indoor", moisture_rate=5.0)
        r = solve(wet)
        rule = r.main.loads.house_cooling_w / TON_W * 400 * CFM
        self.assertGreaterEqual(r.main.airflow.total_m3_s, rule * (1 - 1e-9))

    def test_indoors_near_the_coil_s_air_stays_finite(self):
        r = solve(replace_part(bare(), "indoor", cooling_c=12.0))
        self.assertTrue(np.isfinite(r.main.airflow.total_m3_s))


class WinterAir(unittest.TestCase):
    def attic(self, **energy):
        job = bare("bungalow")
        job = changed(job, "", storeys=tuple(changed(s, "", duct_place="attic") for s in job.storeys), existing=())
        return replace_part(job, "energy", **energy)

    def test_where_fuel_is_burnt_it_is_a_furnace_s(self):
        pump = solve(self.attic(present="electric")).duct_heat.heating
        furnace = solve(self.attic(present="gas")).duct_heat.heating
        # hotter air loses more of itself along a run, but less of what it gives: 54 against 39 degC
        self.assertGreater(float(np.abs(pump - furnace).max()), 0.01)

    def test_the_survey_says_so_too(self):
        job = self.attic(present="unknown")
        found = changed(job, "", existing=(Existing(id="e1", name="Boiler plate", fuel="oil"),))
        gas = solve(self.attic(present="gas")).duct_heat.heating
        np.testing.assert_allclose(solve(found).duct_heat.heating, gas)


class ReturnLeaks(unittest.TestCase):
    def test_moisture_comes_with_them_without_runs(self):
        job = bare("bungalow")
        job = changed(job, "", storeys=tuple(changed(s, "", duct_place="attic") for s in job.storeys))
        r = solve(job)
        leak = job.design.air.duct_leakage / 2
        c = r.conditions
        by_hand = leak * r.main.airflow.total_m3_s * c.latent_factor * c.moisture_difference
        # the air in hand is that before the ducts' own load
        self.assertAlmostEqual(float(r.duct_heat.latent_w.sum()) / by_hand, 1.0, delta=0.35)
        inside = changed(job, "", storeys=tuple(changed(s, "", duct_place="inside") for s in job.storeys))
        self.assertEqual(float(solve(inside).duct_heat.latent_w.sum()), 0.0)


class InAGarage(unittest.TestCase):
    def test_a_run_takes_the_space_it_lies_in(self):
        porch = Space(id="porch", name="Porch", storey="g", kind="porch", outline_m=square(-3, 0))
        garage = Space(id="garage", name="Garage", storey="g", outline_m=square(6, 0))
        job = insert(insert(box(6, 4), "spaces", porch), "spaces", garage)
        u = solve(job).main.design
        run = LaidRun.model_construct(lies_in="garage", path_m=((6.5, 1.0), (7.0, 1.0)))
        self.assertEqual(space_round(u, run), IN_SPACE + "garage")
        self.assertEqual(
            space_round(u, LaidRun.model_construct(lies_in="garage", path_m=((-2.0, 1.0),))), IN_SPACE + "porch"
        )
        self.assertEqual(space_round(u, LaidRun.model_construct(lies_in="garage", path_m=((50.0, 1.0),))), "garage")
        self.assertEqual(space_round(u, LaidRun.model_construct(lies_in="attic", path_m=((7.0, 1.0),))), "attic")

    def test_without_runs_a_garage_goes_before_a_porch(self):
        porch = Space(id="porch", name="P", storey="g", kind="porch", outline_m=square(-3, 0), u_shell_w_m2k=8.0)
        garage = Space(id="garage", name="G", storey="g", outline_m=square(6, 0), u_shell_w_m2k=0.3)
        job = changed(box(6, 4), "", storeys=tuple(changed(s, "", duct_place="garage") for s in box(6, 4).storeys))
        one = solve(insert(insert(job, "spaces", porch), "spaces", garage)).duct_heat.heating
        other = solve(insert(insert(job, "spaces", garage), "spaces", porch)).duct_heat.heating
        np.testing.assert_allclose(one, other, rtol=1e-9)


def square(x, y):
    return ((x, y), (x + 3, y), (x + 3, y + 3), (x, y + 3))


class OfTheDemo(unittest.TestCase):
    def test_a_unit_that_is_chosen_keeps_its_own_air(self):
        r = solve(demo())
        self.assertEqual(r.main.airflow.total_m3_s, r.main.design.indoor.flow_m3_s or r.main.unit.rated_flow_m3_s)


if __name__ == "__main__":
    unittest.main()
