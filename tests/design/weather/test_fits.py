"""Typed design values: hours beyond them, the wet bulb that is still another place's, the climate that fits, the range."""

import unittest

from murvan.catalog import climates
from murvan.design import solve
from murvan.design.weather.fits import better, hours_outside, moved_here, stretch, wet_bulb_kept
from murvan.design.weather.place import with_summer, with_winter
from murvan.model import replace_part
from murvan.model.edit import changed
from tests.houses import demo


def f(fahrenheit):
    return (fahrenheit - 32) / 1.8


def typed(name="Very cold", winter=6, summer=93):
    return with_summer(with_winter(climates()[name], f(winter)), f(summer))


def rules(climate):
    return {x.rule.id: x for x in solve(changed(demo(), "", climate=climate)).findings}


class Outside(unittest.TestCase):
    def test_counts_hours_and_parts_of_a_bin(self):
        c = changed(climates()["Cold, humid"], "", bin_start_c=-5.0, bin_step_k=10.0, bin_hours=(100.0, 700.0, 200.0))
        c = changed(c, "", winter_c=0.0, summer_c=23.0, summer_wet_bulb_c=15.0)
        cold, hot = hours_outside(c)
        self.assertAlmostEqual(cold, 50 / 1000)
        # from 23 to 25 of the last bin's 15 to 25: a fifth of 200 h
        self.assertAlmostEqual(hot, 0.2 * 200 / 1000)

    def test_the_shipped_places_are_within(self):
        for c in climates().values():
            self.assertFalse({"weather-outside", "weather-wet-bulb", "weather-stretched"} & rules(c).keys(), c.name)

    def test_many_hours_beyond_are_a_finding(self):
        c = climates()["Cold, humid"]
        milder = changed(c, "", winter_c=c.winter_c + 12.0)
        found = rules(milder)["weather-outside"]
        self.assertIn("colder than the winter design", found.text("ip"))
        self.assertGreater(hours_outside(milder)[0], 0.02)
        none = changed(milder, "", bin_hours=())
        self.assertEqual(hours_outside(none), (0.0, 0.0))


class WetBulb(unittest.TestCase):
    def test_it_is_asked_until_it_is_typed(self):
        c = typed()
        self.assertTrue(wet_bulb_kept(c))
        self.assertIn("gave the wet bulb", rules(c)["weather-wet-bulb"].text("si"))
        job = replace_part(changed(demo(), "", climate=c), "climate", summer_wet_bulb_c=22.3)
        self.assertFalse(wet_bulb_kept(job.climate))


class Fits(unittest.TestCase):
    def test_the_climate_whose_spread_is_nearest_is_offered_and_taken(self):
        c = typed("Hot, humid")
        spread = f(93) - f(6)
        own = {n: x.summer_c - x.winter_c for n, x in climates().items()}
        best = min(own, key=lambda n: abs(spread / own[n] - 1))
        found = better(c)
        self.assertEqual(found.name, best)
        self.assertAlmostEqual(stretch(c), spread / own["Hot, humid"] - 1, 6)
        self.assertEqual((found.winter_c, found.summer_c), (c.winter_c, c.summer_c))
        after = rules(c)["weather-stretched"].hit.fix(changed(demo(), "", climate=c)).climate
        self.assertIsNone(better(after))

    def test_what_fits_is_left_alone(self):
        self.assertIsNone(better(climates()["Mixed, humid"]))
        near = with_winter(climates()["Mixed, humid"], climates()["Mixed, humid"].winter_c + 1.0)
        self.assertIsNone(better(near))

    def test_the_range_is_that_of_every_place_moved_here(self):
        c = typed("Very cold")
        job = changed(demo(), "", climate=c)
        x = solve(job).main.equipment.chosen
        low, high = x.backup_range_kwh
        own = x.season.year("backup_kwh")
        self.assertTrue(low <= own <= high)
        self.assertGreater(high, low * 1.2)
        every = [x.run_year(m).year("backup_kwh") for m in moved_here(c)]
        self.assertAlmostEqual(max([own, *every]), high)
        self.assertIsNone(solve(demo()).main.equipment.chosen.backup_range_kwh)


if __name__ == "__main__":
    unittest.main()
