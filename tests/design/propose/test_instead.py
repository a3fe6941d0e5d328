"""Zones that no way of dealing with left-over air serves; two units with one of them zoned; air off coil and heat."""

import unittest

import numpy as np

from murvan.design import solve
from murvan.design.propose.instead import EACH_ITS_OWN, instead, serves
from murvan.design.propose.schools import schools
from murvan.design.propose.zoned import zone_study
from murvan.design.study.leaving import LEAST_OFF_C, coil_at, rises
from murvan.design.zones.calling import asked_m3_s, owner, zone_calls
from murvan.model import replace
from murvan.model.edit import changed, with_design
from murvan.model.unit_edit import add_unit
from tests.design.zones.test_calling import zoned
from tests.houses import demo, demo_results


def study_of(job):
    return list(zone_study(solve(job)))[-1]


class DoNotZone(unittest.TestCase):
    def test_most_wrong_or_astray_is_refused_with_what_would(self):
        x = study_of(zoned(demo(), ("bath", "utility"), ("study", "landing")))
        best = x.schools[0]
        self.assertGreater(2 * best.amiss, len(best.calls))
        self.assertIn(EACH_ITS_OWN, x.instead)
        self.assertRegex(x.instead[0], "A unit that turns down to 10 %: as Zone 1; this one's lowest stage is 32 %")

    def test_each_of_what_would_says_what_and_how(self):
        r = solve(zoned(demo(), ("bath",), ("study",), ("utility",)))
        found = instead(r, schools(r))
        self.assertGreaterEqual(len(found), 2)
        for words in found:
            self.assertRegex(words, "^.{4,60}: .+")

    def test_zones_that_work_are_left_as_they_are(self):
        x = study_of(demo())
        self.assertTrue(serves(x.schools))
        self.assertEqual(x.instead, ())

    def test_a_way_that_can_t_be_done_does_not_serve(self):
        found = schools(demo_results())
        best = found[0]
        self.assertFalse(serves((type(best)(**{**vars(best), "trouble": "its unit has one stage"}),)))


def two_units():
    """The demo with a second ducted unit that serves bedrooms of the first one's zone by ducts of its own."""
    rooms = ("bed3", "bed4")
    job, second = add_unit(demo(), "ducted", "upper", (12.0, 4.0), rooms)
    return replace(job, "indoor_units", second, unit=job.design.indoor_units[0].unit), rooms


class TwoUnits(unittest.TestCase):
    def test_what_a_zone_asks_is_of_its_own_unit(self):
        job, rooms = two_units()
        r = solve(job)
        upper = next(z for z in r.damped_zones if "bed3" in z.rooms)
        s = owner(r, (upper,))
        ids = [x.id for x in job.rooms]
        own = sum(float(s.airflow.design_m3_s[ids.index(i)]) for i in upper.rooms)
        self.assertAlmostEqual(asked_m3_s(r, (upper,)), own, 9)
        every = sum(float(r.room_m3_s[ids.index(i)]) for i in upper.rooms)
        self.assertGreater(every, own * 1.05, "the other unit's air was counted with it")
        self.assertLessEqual(asked_m3_s(r, r.damped_zones), s.airflow.total_m3_s * (1 + 1e-9))


class OffTheUnit(unittest.TestCase):
    def setUp(self):
        self.r = demo_results()
        self.c, self.s = self.r.conditions, self.r.main

    def test_a_heat_pump_s_rise_is_its_heat_over_its_air(self):
        by = {x.what: x for x in rises(self.c, self.s, 0.3)}
        unit = self.s.unit
        lowest = float(np.interp(8.33, unit.heating.outdoor_c, unit.heating.min_w))
        share = self.c.density_share**unit.cooling.flow_exponent_total
        self.assertAlmostEqual(by["heat pump"].rise_k, lowest * share / (self.c.sensible_factor * 0.3), 6)
        self.assertGreater(by["heater"].rise_k, self.s.equipment.chosen.heater_w / (self.c.sensible_factor * 0.3))

    def test_little_air_is_too_hot_and_what_comes_back_hotter(self):
        little, back = list(rises(self.c, self.s, 0.05)), list(rises(self.c, self.s, 0.05, 0.5))
        self.assertTrue(all(x.hot for x in little))
        for a, b in zip(little, back, strict=True):
            self.assertAlmostEqual(b.rise_k, 2 * a.rise_k, 9)
        self.assertFalse(any(x.hot for x in rises(self.c, self.s, 0.5)))

    def test_air_under_its_cut_out_is_a_finding_with_its_remedy(self):
        job = demo()
        unit = self.s.unit
        own = changed(unit, unit.name, id="own-single", cooling=changed(unit.cooling, "", min_fraction=1.0))
        job = with_design(
            replace(job.model_copy(update={"units": (own,)}), "indoor_units", "unit1", unit=own.id, tap=1)
        )
        small = tuple(
            changed(x, x.tag, shape="round", diameter_m=0.055, width_m=None, height_m=None)
            if x.register_id and x.side == "supply"
            else x
            for x in job.design.runs
        )
        r = solve(with_design(job, runs=small))
        flow = float(r.network.blowers["unit1"].flow_m3_s[0])
        coil = coil_at(r.conditions, r.main, flow)
        self.assertLess(coil.leaving_low_c, LEAST_OFF_C)
        found = [f for f in r.findings if f.rule.id == "coil-cold"]
        self.assertEqual(found[0].hit.at.id, "unit1")
        for f in found:
            self.assertIn("off", f.text("ip"))
            self.assertIn("More air over the coil", f.rule.remedy)

    def test_the_demo_has_neither(self):
        ids = {f.rule.id for f in self.r.findings}
        self.assertFalse(ids & {"coil-cold", "heat-hot"})


class HeardCombinations(unittest.TestCase):
    def test_noise_is_told_of_every_combination(self):
        for x in zone_calls(solve(zoned(demo(), ("bath",), ("living", "dining")))):
            self.assertIsNotNone(x.loudest_nc)


if __name__ == "__main__":
    unittest.main()
