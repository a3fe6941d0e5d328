"""A year with a unit against a case worked by hand, and what must hold for every unit and any weather."""

import unittest
from types import SimpleNamespace

import numpy as np

from murvan.catalog import units
from murvan.design import solve
from murvan.design.units import season as year
from murvan.design.units.capacity import load_line, off_below
from murvan.design.units.equipment import _balance
from murvan.model import replace, replace_part
from murvan.model.equipment import HeatingTable, Unit
from murvan.model.job import Climate
from murvan.physics import air
from murvan.physics.constants import STANDARD_DENSITY_KG_M3
from tests.houses import demo, demo_results, set_unit

AT = SimpleNamespace
OFF_C, WINTER_C = 20.0, -10.0
LOADS = AT(house_heating_w=9000.0, whole_heating_w=9000.0, house_cooling_w=6000.0)
HOUSE = AT(
    outdoor_winter=AT(temperature_c=WINTER_C),
    outdoor_summer=AT(temperature_c=35.0),
    indoor_cooling=air.from_wet_bulb(26.6667, 19.4444),
    density_kg_m3=STANDARD_DENSITY_KG_M3,
    burner_share=1.0,
)
BINS = Climate(bin_start_c=-12.5, bin_step_k=5.0, bin_hours=(100, 200, 400, 500, 50))
HEATING = HeatingTable(outdoor_c=(-20, 20), max_w=(4000, 12000), min_w=(2000, 6000), power_w=(2000, 3000))


def pump(**changes) -> Unit:
    base = units()["quellin-c1"]
    return Unit.model_validate({**base.model_dump(), "heating": HEATING, "low_ambient_c": -30.0, **changes})


def furnace(**changes) -> Unit:
    own = {"heating": None, "furnace_output_w": 20000.0, "furnace_efficiency": 0.8, "fuel": "gas", **changes}
    return pump(**own)


def of(unit, lockout_c=None, climate=BINS):
    return year.season(unit, climate, HOUSE, LOADS, OFF_C, lockout_c)


class TestByHand(unittest.TestCase):
    """Need 300 W/K x (20 - t), capacity 8000 + 200 t, power 2500 + 25 t; bins at -10, -5, 0, 5 and 10 degC."""

    def test_the_bins(self):
        s = of(pump())
        self.assertEqual(s.state, ("helped", "helped", "steady", "steady", "cycling"))
        np.testing.assert_allclose(s.heat_kwh, [900, 1500, 2400, 2250, 150])
        np.testing.assert_allclose(s.backup_kwh, [300, 100, 0, 0, 0], atol=1e-9)
        # share of the hour it runs: 1, 1, 6000/8000, 4500/9000, 3000/10000
        np.testing.assert_allclose(s.power_kwh, [225, 475, 750, 656.25, 41.25 / 0.92])
        self.assertEqual(s.in_state("helped", "locked"), 300)
        self.assertAlmostEqual(s.electric_kwh, 400 + 2147.5 - 41.25 + 41.25 / 0.92)
        self.assertEqual(s.year("fuel_kwh"), 0)

    def test_balance_where_the_lines_cross(self):
        # 300 (20 - t) = 8000 + 200 t: t = -4
        self.assertAlmostEqual(_balance(pump(), HOUSE, 9000.0, WINTER_C, OFF_C, None), -4.0)

    def test_locked_out_below_freezing(self):
        s = of(pump(), 0.0)
        self.assertEqual(s.state[:3], ("locked", "locked", "steady"))
        np.testing.assert_allclose(s.backup_kwh, [900, 1500, 0, 0, 0])
        self.assertAlmostEqual(s.year("power_kwh"), 1447.5 - 41.25 + 41.25 / 0.92)
        self.assertAlmostEqual(_balance(pump(), HOUSE, 9000.0, WINTER_C, OFF_C, 0.0), 0.0, places=6)
        self.assertEqual(_balance(pump(), HOUSE, 9000.0, WINTER_C, OFF_C, 25.0), OFF_C)

    def test_the_higher_of_both_limits_counts(self):
        self.assertEqual(off_below(pump(low_ambient_c=-5.0), -15.0), -5.0)
        self.assertEqual(of(pump(low_ambient_c=-5.0), -15.0).state[0], "locked")

    def test_a_furnace_burns_the_need_over_its_efficiency(self):
        s = of(furnace())
        self.assertAlmostEqual(s.year("fuel_kwh"), 7200 / 0.8)
        self.assertEqual((s.year("power_kwh"), s.year("backup_kwh")), (0, 0))
        self.assertEqual(set(s.state), {"cycling"})
        staged = of(furnace(furnace_min_fraction=0.2))
        self.assertEqual(staged.state, ("steady",) * 4 + ("cycling",))

    def test_an_electric_furnace_takes_electricity(self):
        s = of(furnace(fuel="electric", furnace_efficiency=1.0))
        self.assertAlmostEqual(s.year("power_kwh"), 7200)
        self.assertEqual(s.year("fuel_kwh"), 0)

    def test_hot_bins(self):
        hot = Climate(bin_start_c=22.5, bin_step_k=5.0, bin_hours=(100, 100, 100, 100))
        s = of(pump(), climate=hot)
        # the load line passes 6000 W at 35 degC; the unit gives 5275 W there: short in the last two bins
        self.assertEqual(s.state[-1], "cooling_short")
        self.assertTrue(all(x.startswith("cooling") for x in s.state))
        np.testing.assert_allclose(s.cool_kwh, [200, 400, 600, 800])


class TestAlways(unittest.TestCase):
    def test_shares_of_the_bins_add_to_one(self):
        for x in demo_results().main.equipment.candidates:
            for lockout in (None, -3.9, 30.0):
                s = year.season(
                    x.unit, demo().climate, demo_results().conditions, demo_results().main.loads, 19.0, lockout
                )
                self.assertAlmostEqual(sum(s.in_state(k) for k in year.STATES) / s.hours.sum(), 1)
                given = s.heat_kwh - s.backup_kwh
                self.assertTrue((given >= -1e-9).all() and (s.backup_kwh >= 0).all())

    def test_what_it_gives_and_backup_make_up_the_need(self):
        r = demo_results()
        x, off = r.main.equipment.chosen, r.main.equipment.no_load_c
        heat, _ = load_line(r.conditions, r.main.loads, off, x.season.outdoor_c)
        np.testing.assert_allclose(x.season.heat_kwh, heat * x.season.hours / 1000)

    def test_a_lock_out_is_seen_at_design_and_in_the_year(self):
        job = replace(demo(), "systems", "system1", lockout_c=0.0)
        x, free = solve(job).main.equipment.chosen, demo_results().main.equipment.chosen
        self.assertEqual(x.heating_w, 0.0)
        self.assertEqual(x.verdict, "heat")
        self.assertGreater(x.season.year("backup_kwh"), free.season.year("backup_kwh"))
        self.assertGreater(x.season.in_state("locked"), 0)

    def test_no_bins(self):
        x = solve(replace_part(demo(), "climate", bin_hours=())).main.equipment.chosen
        self.assertTrue(np.isnan([x.season.electric_kwh, x.backup_hours, x.cycling_hours]).all())

    def test_a_furnace_in_the_demo(self):
        x = solve(set_unit(demo(), unit="brundel-f60-3")).main.equipment.chosen
        self.assertAlmostEqual(x.season.year("fuel_kwh"), x.season.year("heat_kwh") / 0.95, delta=1)
