"""Power over the compressor's speed, backup by stage, lock-outs of both, and frost; worked by hand beside each."""

import unittest
from types import SimpleNamespace as At

import numpy as np

from murvan.catalog import units
from murvan.design import solve
from murvan.design.units.capacity import heating_capacity
from murvan.design.units.equipment import backup_stages
from murvan.design.units.season import season
from murvan.model import Climate, replace, replace_part
from murvan.model.edit import changed
from murvan.physics.constants import STANDARD_DENSITY_KG_M3
from tests.houses import demo, demo_results

UNIT = units()["orvane-vh-30"]


def year(unit, load_w, outdoor_c, **locks):
    """One hour at one temperature: a house that loses `load_w` there."""
    c = At(
        density_kg_m3=STANDARD_DENSITY_KG_M3,
        burner_share=1.0,
        indoor_cooling=demo_results().conditions.indoor_cooling,
        outdoor_winter=At(temperature_c=outdoor_c),
        outdoor_summer=At(temperature_c=35.0),
    )
    climate = Climate(bin_start_c=outdoor_c - 1, bin_step_k=2.0, bin_hours=(1.0,))
    loads = At(house_heating_w=load_w, whole_heating_w=load_w, house_cooling_w=0.0)
    return season(unit, climate, c, loads, 18.0, **locks)


def with_heat(unit, **fields):
    return unit.model_copy(update={"heating": unit.heating.model_copy(update=fields)})


class TestSpeed(unittest.TestCase):
    def setUp(self):
        self.unit = with_heat(UNIT, min_power_fraction=0.2)
        most, least, power = (float(x[0]) for x in heating_capacity(self.unit, 5.0))
        self.most, self.least, self.power = most, least, power

    def taken(self, load):
        return float(year(self.unit, load, 5.0).power_kwh[0]) * 1000

    def test_at_both_ends_it_is_the_makers(self):
        self.assertAlmostEqual(self.taken(self.most), self.power, 3)
        self.assertAlmostEqual(self.taken(self.least), 0.2 * self.power, 3)

    def test_halfway_between_it_is_halfway(self):
        self.assertAlmostEqual(self.taken((self.most + self.least) / 2), 0.6 * self.power, 3)

    def test_below_the_lowest_it_goes_on_and_off(self):
        """A quarter of the lowest speed: it runs 1 / (1 - 0.2 x 3/4) as long; AHRI 210/240, from memory."""
        self.assertAlmostEqual(self.taken(self.least / 4), 0.05 * self.power / 0.85, 3)

    def test_as_scipy_has_it(self):
        from scipy.interpolate import interp1d

        line = interp1d([0, self.least, self.most], [0, 0.2 * self.power, self.power])
        for load in np.linspace(10, self.most, 17):
            longer = 1 - 0.2 * (1 - min(load / self.least, 1))
            self.assertAlmostEqual(self.taken(float(load)), float(line(load)) / longer, 3)

    def test_without_a_figure_it_goes_by_its_stages(self):
        """At the lowest speed a variable one takes 0.8 of what its capacity alone would; Murvan default."""
        x = float(year(UNIT, self.least, 5.0).power_kwh[0]) * 1000
        self.assertEqual(UNIT.stages, "variable")
        self.assertAlmostEqual(x, 0.8 * self.least / self.most * self.power, 3)
        single = UNIT.model_copy(
            update={"stages": "single", "heating": UNIT.heating.model_copy(update={"min_w": UNIT.heating.max_w})}
        )
        half = float(year(single, self.most / 2, 5.0).power_kwh[0]) * 1000
        self.assertAlmostEqual(half, self.power / 2 / (1 - 0.2 / 2), 3)
        self.assertGreater(half, float(year(UNIT, self.most / 2, 5.0).power_kwh[0]) * 1000)


class TestFrost(unittest.TestCase):
    def test_only_where_it_frosts(self):
        frosty = with_heat(UNIT, defrost_share=0.9)
        at = np.array(UNIT.heating.outdoor_c)
        share = heating_capacity(frosty, at)[0] / heating_capacity(UNIT, at)[0]
        np.testing.assert_allclose(share, [0.9 if -8.4 <= t <= 5 else 1.0 for t in at])
        np.testing.assert_allclose(heating_capacity(frosty, at)[2], heating_capacity(UNIT, at)[2])


class TestLocks(unittest.TestCase):
    def test_backup_kept_off_leaves_it_cold(self):
        most = float(heating_capacity(UNIT, -10.0)[0][0])
        x = year(UNIT, most + 2000, -10.0, heater_lockout_c=-15.0)
        self.assertEqual(x.state, ("heating_short",))
        self.assertAlmostEqual(float(x.short_kwh[0]), 2.0)
        self.assertEqual(float(x.backup_kwh[0]), 0.0)
        on = year(UNIT, most + 2000, -10.0, heater_lockout_c=-5.0)
        self.assertEqual((on.state, float(on.short_kwh[0])), (("helped",), 0.0))
        self.assertAlmostEqual(float(on.backup_kwh[0]), 2.0)

    def test_found_and_mended(self):
        job = replace(demo(), "systems", demo().design.systems[0].id, heater_lockout_c=-20.0)
        hits = [f for f in solve(job).findings if f.rule.id == "heat-held"]
        self.assertEqual(len(hits), 1)
        self.assertFalse([f for f in demo_results().findings if f.rule.id == "heat-held"])

    def test_energy_is_carried_or_short(self):
        job = replace(demo(), "systems", demo().design.systems[0].id, heater_lockout_c=-3.0, lockout_c=-6.0)
        x = solve(job).main.equipment.chosen.season
        whole = demo_results().main.equipment.chosen.season
        self.assertAlmostEqual(x.year("heat_kwh"), whole.year("heat_kwh"))
        self.assertGreater(x.year("short_kwh"), 0)
        self.assertGreater(x.year("backup_kwh"), 0)


class TestStages(unittest.TestCase):
    def stages(self, heater_kw, **changes):
        job = replace(demo(), "indoor_units", demo().design.indoor_units[0].id, heater_kw=heater_kw)
        r = solve(replace_part(job, "climate", **changes) if changes else job)
        s = r.main
        return s.equipment.chosen, backup_stages(s.equipment.chosen, s.equipment, r.conditions, s.loads), r

    def test_the_first_comes_on_at_the_balance_point(self):
        x, found, _ = self.stages(10.0)
        self.assertEqual([w for w, _ in found], [5000.0, 10000.0])
        self.assertAlmostEqual(found[0][1], x.balance_c)

    def test_each_where_those_before_no_longer_do(self):
        x, found, r = self.stages(10.0)
        s = r.main
        below = found[1][1]
        winter = r.conditions.outdoor_winter.temperature_c
        need = s.loads.house_heating_w * (s.equipment.no_load_c - below) / (s.equipment.no_load_c - winter)
        have = float(heating_capacity(x.unit, below, r.conditions.density_kg_m3)[0][0]) + 5000
        self.assertAlmostEqual(have, need, 3)

    def test_none_fitted_none_told(self):
        self.assertEqual(self.stages(0.0)[1], ())

    def test_a_furnace_has_none(self):
        job = replace(demo(), "indoor_units", demo().design.indoor_units[0].id, unit="brundel-f60-3")
        s = solve(job).main
        self.assertEqual(backup_stages(s.equipment.chosen, s.equipment, solve(job).conditions, s.loads), ())

    def test_compressor_locked_out_above_all_need(self):
        job = replace(demo(), "systems", demo().design.systems[0].id, lockout_c=29.0)
        s = solve(changed(job)).main
        found = backup_stages(s.equipment.chosen, s.equipment, solve(job).conditions, s.loads)
        self.assertTrue(all(np.isfinite(t) for _, t in found))


if __name__ == "__main__":
    unittest.main()
