"""Typed design values take the hours, the months and the ground with them, and choosing the place's own brings them back."""

import unittest

import numpy as np

from murvan.catalog import climates
from murvan.design import solve
from murvan.design.weather.place import choose, with_summer, with_winter
from murvan.documents.pages import conditions
from murvan.model import JobValueError
from murvan.model.edit import changed
from tests.houses import demo


def f(fahrenheit):
    return (fahrenheit - 32) / 1.8


def typed(climate):
    return with_summer(with_winter(climate, f(6)), f(93))


def colder_than(climate, limit):
    centres = climate.bin_start_c + climate.bin_step_k * (np.arange(len(climate.bin_hours)) + 0.5)
    return float(np.asarray(climate.bin_hours)[centres < limit].sum())


class Typed(unittest.TestCase):
    def test_hours_follow_from_any_climate(self):
        """Backup hours at 6 and 93 F lie within a factor of two and a half of each other; they were four times apart by
        the hours of another place."""
        found = {}
        for name, c in climates().items():
            r = solve(changed(demo(), "", climate=typed(c)))
            found[name] = r.main.equipment.chosen.backup_hours
        self.assertLess(max(found.values()) / min(found.values()), 2.5, found)

    def test_as_many_hours_are_colder_than_the_typed_value_as_were_than_the_old_one(self):
        for c in climates().values():
            d = typed(c)
            self.assertAlmostEqual(colder_than(d, d.winter_c), colder_than(c, c.winter_c), delta=1e-6)
            self.assertEqual(sum(d.bin_hours), sum(c.bin_hours))

    def test_the_ground_moves_as_the_air_does(self):
        c = climates()["Very cold"]
        d = typed(c)
        scale = (d.summer_c - d.winter_c) / (c.summer_c - c.winter_c)
        self.assertAlmostEqual(d.ground_c, d.winter_c + scale * (c.ground_c - c.winter_c), places=4)
        self.assertAlmostEqual(d.ground_swing_k, scale * c.ground_swing_k, places=4)

    def test_it_is_said_and_goes_when_the_places_own_values_are_chosen(self):
        c = climates()["Cold, humid"]
        d = typed(c)
        self.assertTrue(d.moved)
        self.assertIn("moved to the typed design values", conditions(solve(changed(demo(), "", climate=d)), "ip"))
        back = choose(choose(d, "99"), "1")
        self.assertFalse(back.moved)
        self.assertAlmostEqual(back.bin_start_c, c.bin_start_c, places=4)
        self.assertAlmostEqual(back.ground_c, c.ground_c, places=4)

    def test_choosing_between_the_places_own_values_moves_nothing(self):
        c = climates()["Cold, humid"]
        d = choose(choose(c, "99.6"), "0.4")
        self.assertEqual(
            (d.bin_start_c, d.bin_step_k, d.ground_c, d.moved), (c.bin_start_c, c.bin_step_k, c.ground_c, False)
        )

    def test_values_too_near_each_other_are_refused_in_words(self):
        with self.assertRaisesRegex(JobValueError, "too near"):
            with_winter(climates()["Cold, humid"], 29.0)


if __name__ == "__main__":
    unittest.main()
