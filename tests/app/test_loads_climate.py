"""The climate view of Loads: charts, choice of design values, typed days, weather files, undo."""

from __future__ import annotations

import unittest
from unittest import mock

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from murvan.app.stations.base import Arith
from murvan.app.stations.loads.climate import _boxes, _plot, set_hours, set_months
from murvan.app.stations.start import draft_job
from murvan.design.weather.place import chosen
from murvan.model import JobValueError
from tests.app.base import WindowTest
from tests.houses import demo
from tools.demo.weather import FILE


class ClimateView(WindowTest):
    def setUp(self):
        super().setUp()
        self.station(2)
        self.window.set_lens(3)
        self.settle()

    def test_the_months_stand_in_the_table_with_those_looked_at(self):
        rows = self.window.ledger.ledger.rows
        self.assertEqual(len(rows), 12)
        looked = [r.cells[0].text for r in rows if r.cells[1].text]
        self.assertEqual(looked, ["July", "August", "September", "October"])

    def test_a_month_of_the_chart_is_picked(self):
        from PyQt6.QtCore import QRectF

        year = _plot(_boxes(QRectF(self.window.page.rect()))[0])
        self.click(self.window.page, QPointF(year.left() + year.width() * 9.5 / 12, year.center().y()))
        self.settle()
        self.assertEqual(self.window.station.month_index(self.view), 3)
        self.assertFalse(self.window.page.grab().isNull())

    def test_the_share_of_the_hours_is_chosen_and_undone(self):
        self.choose("climate.winter_share", "99.6")
        self.assertEqual(chosen(self.job.climate)[0], "99.6")
        self.assertLess(self.job.climate.winter_c, demo().climate.winter_c - 2)
        self.choose("climate.summer_share", "0.4")
        self.assertGreater(self.job.climate.summer_c, demo().climate.summer_c + 1)
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, demo())

    def test_a_typical_climate_to_start_with(self):
        self.choose("climate.typical", "Hot, dry")
        self.assertEqual(self.job.climate.name, "Hot, dry")
        self.assertIn("replace by your local", self.card.hero_note)

    def test_typed_values_offer_the_climate_that_fits_and_it_is_taken(self):
        self.choose("climate.typical", "Hot, humid")
        self.window.card.apply(self.window.card._edits["climate.winter"].spec, -14.4)
        self.window.card.apply(self.window.card._edits["climate.summer"].spec, 33.9)
        self.settle()
        labels = [f.label for s in self.window.card.spec.sections for f in getattr(s, "fields", ())]
        self.assertIn("Wet bulb: type the local one", labels)
        button = next(b for k, b in self.window.card._buttons.items() if k == "fits")
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        self.settle()
        self.assertNotEqual(self.job.climate.name, "Hot, humid")
        self.assertAlmostEqual(self.job.climate.winter_c, -14.4, 6)
        self.assertNotIn("fits", self.window.card._buttons)

    def test_the_lens_is_left_by_the_rail(self):
        self.click(self.window.rail, self.window.rail.target("lens", "0").center())
        self.settle()
        self.assertTrue(self.window.plan.isVisible())

    def test_the_shipped_weather_file_is_opened_by_its_button(self):
        self.choose("climate.typical", "Very cold")
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(FILE), "")):
            self.button("weather")
        self.settle()
        self.assertEqual(self.job.climate.winter_c, demo().climate.winter_c)
        self.assertEqual(self.job.climate.bin_hours, demo().climate.bin_hours)

    def test_months_are_typed_by_number_or_name_and_wrong_ones_refused(self):
        self.type_into("climate.months", "jun, 7 September")
        self.assertEqual(self.job.design_day.months, (6, 7, 9))
        self.assertEqual(self.view.r.loads.months, (7, 6, 9))
        with self.assertRaisesRegex(JobValueError, "'13' is no month"):
            set_months(demo(), "7, 13")
        self.assertEqual(set_months(self.job, "").design_day.months, ())

    def test_a_day_typed_hour_by_hour(self):
        hours = " ".join(str(70 + abs(12 - abs(h - 15))) for h in range(1, 25))
        self.type_into("climate.hours", hours)
        self.assertEqual(len(self.job.climate.hourly_c), 24)
        self.assertAlmostEqual(max(self.job.climate.hourly_c), self.job.climate.summer_c)
        self.type_into("climate.summer", "90")
        self.assertAlmostEqual(max(self.job.climate.hourly_c), self.job.climate.summer_c)
        with self.assertRaisesRegex(JobValueError, "here are 3"):
            set_hours(demo(), "70 80 90", self.view)
        with self.assertRaisesRegex(JobValueError, "24 hourly values"):
            set_hours(demo(), " ".join(["warm"] * 24), self.view)
        self.assertEqual(set_hours(self.job, "by range", self.view).climate.hourly_c, ())

    def test_the_air_of_the_place_shows_its_arithmetic(self):
        a = next(s.arithmetic for s in self.card.sections if isinstance(s, Arith))
        self.assertEqual(a.title, "Air of the place")
        self.assertAlmostEqual(a.result.value, self.view.r.conditions.moisture_difference, delta=1e-4)

    def test_a_climate_without_months_says_that_they_are_estimated(self):
        self.choose("climate.typical", "Mixed, dry")
        self.assertIn("≈", self.window.ledger.ledger.rows[0].cells[3].text)
        self.assertFalse(self.window.page.grab().isNull())

    def test_it_is_there_for_an_empty_job(self):
        self.window.document.stack.setClean()
        self.window.command("file.new")
        self.settle()
        self.window.go(2)
        self.settle()
        self.assertTrue(self.window.page.isVisible())
        self.type_into("climate.winter", "5")
        self.assertAlmostEqual(self.job.climate.winter_c, -15.0)
        self.assertFalse(self.window.grab().isNull())


class BeforeTheFirstRoom(WindowTest):
    open_demo = False

    def test_the_weather_can_be_set_by_the_cards_button_or_the_rail(self):
        self.window.document.open_job(draft_job(), None)
        self.settle()
        self.station(2)
        self.assertEqual(self.card.title, "Not yet")
        self.button("climate")
        self.settle()
        self.assertEqual(self.window.station.lenses[self.window.station.lens_index], "Climate")
        self.type_into("climate.winter", "-10")
        self.assertAlmostEqual(self.job.climate.winter_c, -23.333, places=2)
        rail = self.window.rail
        self.click(rail, rail.target("lens", "0").center().toPoint())
        self.settle()
        self.assertEqual(self.card.title, "Not yet")
        self.click(rail, rail.target("lens", "3").center().toPoint())
        self.settle()
        self.assertEqual(self.card.title, self.job.climate.name)


if __name__ == "__main__":
    unittest.main()
