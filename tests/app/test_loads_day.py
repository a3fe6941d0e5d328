"""The design day at the Loads station: hours, peaks, both methods beside each other, weather files taken and undone."""

from __future__ import annotations

import unittest
from unittest import mock

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QFileDialog

from murvan.app.stations.base import List_
from tests.app.base import WindowTest
from tests.design.weather.test_weather import ALL, ddy, epw


class Day(WindowTest):
    def setUp(self):
        super().setUp()
        self.station(2)
        self.window.select("room", "living")
        self.settle()

    def listed(self, title):
        return next(s for s in self.card.sections if isinstance(s, List_) and s.title == title).rows

    def test_the_peaks_of_room_zone_and_house_stand_beside_each_other(self):
        own, zone, house, factors = self.listed("When it peaks")
        ld = self.view.r.loads
        self.assertIn(f"{ld.peak_hour[0]}:00", own.label)
        self.assertIn("glass, west", own.second)
        self.assertIn("Ground", zone.label)
        self.assertIn(f"House, {ld.house.hour}:00", house.label)
        self.assertEqual(factors.value, self.view.num("power", float(self.view.r.factors.sensible_w[0])))
        self.assertIn("%", factors.second)
        self.assertLessEqual(float(house.value.replace(",", "")), float(own.value.replace(",", "")))

    def test_the_house_three_ways(self):
        balance, rooms, factors, thumb = self.listed("The house, three ways")
        self.assertEqual(balance.value, self.view.num("kpower", self.view.r.loads.house_cooling_w))
        self.assertIn("do not peak together", rooms.second)
        self.assertIn("second opinion", factors.second)
        self.assertIn("never used", thumb.second)

    def test_the_strip_tells_peak_hour_and_both_figures(self):
        strip = self.window.strip.strip
        self.assertEqual(strip.hero, f"{self.view.r.loads.house.hour}:00")
        self.assertIn("sensible", strip.lines[0])
        self.assertIn("factors say", strip.lines[1])

    def test_a_tab_of_the_strip_shows_another_month(self):
        strip = self.window.strip
        self.window.set_lens(2)
        self.click(strip, QPointF(strip.chart_rect().right() - 10, 14))
        self.settle()
        self.assertEqual(self.window.station.month_index(self.view), 3)
        self.assertIn("21 October", self.window.plan.sheet.lens.note[0])
        self.assertEqual(self.window.hour, self.view.r.loads.house.hour)

    def test_the_hour_is_scrubbed_by_keys_and_by_a_click(self):
        before = self.window.hour
        self.key("[")
        self.assertEqual(self.window.hour, before - 1)
        self.key("]")
        strip = self.window.strip
        self.click(strip, QPointF(strip.width() - 40, strip.height() / 2))
        self.assertNotEqual(self.window.hour, before)

    def test_the_lens_hour_shows_the_rooms_at_that_hour(self):
        self.window.set_lens(2)
        self.window.set_hour(16)
        self.settle()
        month = self.window.station.month_index(self.view)
        shown = self.window.plan.sheet.lens.room_text["living"][1][0]
        self.assertEqual(shown, self.view.num("power", float(self.view.r.loads.rooms_by_hour_w[month, 0, 15])))

    def test_blinds_bring_the_peak_down_and_undo_brings_it_back(self):
        before = self.view.r.loads.sensible_w[0]
        self.type_into("living.blinds", "40")
        self.assertLess(self.view.r.loads.sensible_w[0], 0.85 * before)
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertAlmostEqual(self.view.r.loads.sensible_w[0], before)

    def test_the_ledger_has_the_peak_hours(self):
        row = next(r for r in self.window.ledger.ledger.rows if r.key == ("room", "living"))
        column = [c.title for c in self.window.ledger.ledger.columns].index("Peak hour")
        self.assertEqual(row.cells[column].text, f"{self.view.r.loads.peak_hour[0]}:00 Jul")

    def test_an_empty_house_has_no_day(self):
        self.window.document.stack.setClean()
        self.window.command("file.new")
        self.settle()
        self.window.go(2)
        self.settle()
        self.assertFalse(self.window.grab().isNull())


class Weather(WindowTest):
    def take(self, name, text):
        path = self.folder / name
        path.write_text(text, "utf-8")
        self.window.go(2)
        self.window.plan.setFocus()
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(path), "")):
            self.key("i", Qt.KeyboardModifier.ControlModifier)
        self.settle()

    def test_an_hourly_year_gives_the_design_weather(self):
        before = self.job
        self.take("brindlewick.epw", epw())
        self.assertNotEqual(self.job.climate.winter_c, before.climate.winter_c)
        self.assertEqual(sum(self.job.climate.bin_hours), 8760)
        self.assertEqual(self.job.site.latitude_deg, 40.5)
        self.assertIn("Brindlewick, BW, Nowhere", self.window.status.message)
        self.assertIn("Take weather of", self.window.document.stack.undoText())
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, before)

    def test_design_days_too(self):
        self.take("b.ddy", ddy(ALL))
        self.assertEqual((self.job.climate.winter_c, self.job.climate.summer_c), (-13.4, 32.6))

    def test_a_broken_file_says_its_line_and_changes_nothing(self):
        before = self.job
        self.take("b.epw", "\n".join(epw().splitlines()[:5000]))
        self.assertIn("a year has 8,760", self.window.status.message)
        self.assertIs(self.job, before)


if __name__ == "__main__":
    unittest.main()
