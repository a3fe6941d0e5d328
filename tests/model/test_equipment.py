"""A maker's table is checked at the cell, and what is refused names it."""

import json
import random
import unittest
from importlib import resources

import numpy as np
from pydantic import ValidationError

from murvan.catalog import units
from murvan.design import solve
from murvan.documents.results_json import results_data
from murvan.field import verdict
from murvan.model.edit import changed, replace
from murvan.model.equipment import KIND_WORDS, STAGE_WORDS, Unit
from murvan.model.words import first_problem
from murvan.units import text
from tests.houses import demo


def raw(kind="heat_pump"):
    text = resources.files("murvan.catalog").joinpath("data", "equipment.json").read_text("utf-8")
    return next(u for u in json.loads(text)["units"] if u["kind"] == kind)


def refused(change):
    own = raw()
    change(own)
    try:
        Unit.model_validate(own)
    except ValidationError as exc:
        return first_problem(exc, own, own["name"])
    return ""


class TestCells(unittest.TestCase):
    def test_sensible_and_total_swapped(self):
        def swap(u):
            u["cooling"]["total_w"], u["cooling"]["sensible_w"] = u["cooling"]["sensible_w"], u["cooling"]["total_w"]

        self.assertRegex(
            refused(swap),
            r"VH-24: at 65 °F \(18\.3 °C\) outdoors and 57 °F \(13\.9 °C\) wet bulb sensible 23,346 Btu/h \(6,842 W\) is above",
        )

    def test_cooling_that_rises_with_heat(self):
        self.assertRegex(
            refused(lambda u: u["cooling"]["total_w"].reverse() or u["cooling"]["sensible_w"].reverse()),
            r"cooling rises with outdoor heat, from 17,835 Btu/h \(5,227 W\) to 18,937 Btu/h \(5,550 W\)",
        )

    def test_small_rounding_of_the_maker_is_taken(self):
        self.assertEqual(refused(lambda u: u["cooling"]["total_w"][1].__setitem__(0, 6900)), "")

    def test_negative_capacity(self):
        self.assertIn("not above 0", refused(lambda u: u["cooling"]["total_w"][2].__setitem__(1, -5)))
        self.assertIn("below 0", refused(lambda u: u["heating"]["power_w"].__setitem__(1, -5)))

    def test_fahrenheit_where_celsius_is_meant(self):
        def hot(u):
            u["cooling"]["outdoor_c"] = [65, 75, 82, 95, 105, 115]

        self.assertRegex(refused(hot), r"VH-24: 75 is no temperature of this table.*is it in °F\?")
        self.assertIn("°F", refused(lambda u: u["heating"].update(outdoor_c=[-13, 5, 17, 35, 47, 70])))

    def test_table_in_another_measure_than_the_nominal(self):
        self.assertIn("are the units mixed up?", refused(lambda u: u.update(nominal_w=24000)))

    def test_lowest_above_highest(self):
        self.assertIn("the lowest capacity", refused(lambda u: u["heating"]["min_w"].__setitem__(0, 9000)))

    def test_gap(self):
        self.assertIn("one row an outdoor", refused(lambda u: u["cooling"]["power_w"][3].pop()))

    def test_blower_that_does_not_fall(self):
        self.assertIn("falling flow", refused(lambda u: u["blower"]["taps_m3_s"][1].reverse()))

    def test_every_shipped_unit_passes_and_has_words(self):
        for u in units().values():
            self.assertEqual(Unit.model_validate(u.model_dump()), u)
            self.assertTrue(KIND_WORDS[u.kind] and STAGE_WORDS[u.stages])


class TestNothingSlipsThrough(unittest.TestCase):
    """What the model accepts, the solve answers in finite figures."""

    def spoilt(self, chance):
        own = raw(chance.choice(["heat_pump", "furnace_coil", "slim_ducted", "wall"]))
        for _ in range(chance.randint(1, 3)):
            where, key = chance.choice([(own, k) for k in own] + [(own["cooling"], k) for k in own["cooling"]])
            while isinstance(where[key], (list, dict)) and where[key]:
                where = where[key]
                key = chance.choice(list(where)) if isinstance(where, dict) else chance.randrange(len(where))
            if isinstance(where[key], (int, float)):
                where[key] = chance.choice([0, -1, 1e-9, 1e9, where[key] * 2, where[key] / 3, -where[key], 1])
        return own

    def test_random_slips(self):
        job = demo()
        indoor = job.design.indoor_units[0].id
        chance, accepted = random.Random(7), 0
        previous = solve(job)
        for _ in range(400):
            try:
                unit = Unit.model_validate({**self.spoilt(chance), "id": "spoilt"})
            except ValidationError:
                continue
            accepted += 1
            own = changed(job, units=(unit,))
            previous = solve(replace(own, "indoor_units", indoor, unit="spoilt", flow_m3_s=None, tap=1), previous)
            x = previous.main.equipment.chosen
            figures = (
                x.total_w,
                x.sensible_w,
                x.heating_w,
                x.backup_w,
                x.season.electric_kwh,
                x.season.year("fuel_kwh"),
            )
            self.assertTrue(np.isfinite(figures).all(), (unit, figures))
            json.dumps(results_data(previous, verdict(previous.job, previous)), allow_nan=False)
        self.assertGreater(accepted, 60)


class TestCharge(unittest.TestCase):
    def test_a_long_line_needs_more(self):
        """80 ft of line, 15 ft of it charged for, .60 oz/ft: 39 oz; common practice."""
        own = Unit.model_validate(
            {**raw(), "line_factory_m": 15 * 0.3048, "line_charge_kg_m": 0.6 * 0.028349523125 / 0.3048}
        )
        self.assertAlmostEqual(own.extra_charge_kg(80 * 0.3048) / 0.028349523125, 39.0, places=6)
        self.assertEqual(own.extra_charge_kg(10 * 0.3048), 0.0)
        self.assertEqual(text("charge", own.extra_charge_kg(80 * 0.3048), "ip"), "39.0 oz")
