"""What a year costs on the card of Equipment: prices and today's system typed, emptied, undone."""

from __future__ import annotations

import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox

from murvan.design.units.cost import yearly_cost
from tests.app.base import WindowTest


class TestYear(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.go(3)
        self.settle()

    def type_field(self, key, text):
        field = self.field(key)
        field.setFocus()
        field.selectAll()
        QTest.keyClick(field, Qt.Key.Key_Delete)
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.settle()

    def choose(self, key, words):
        box = self.field(key)
        self.assertIsInstance(box, QComboBox)
        box.setCurrentIndex(box.findText(words))
        box.activated.emit(box.currentIndex())
        self.settle()

    def cost(self):
        return yearly_cost(self.window._view.s.equipment.chosen, self.job.energy)

    def test_prices_and_todays_system(self):
        before = self.cost().year
        self.type_field("energy.electric", "0.32")
        self.assertAlmostEqual(self.cost().year / before, 2, places=6)
        self.assertIsNone(self.cost().present_year)
        self.choose("energy.present", "Propane")
        self.type_field("energy.propane", "2.50")
        self.assertAlmostEqual(self.job.energy.propane_per_kwh, 2.5 / 26.816, places=5)
        self.type_field("energy.efficiency", "0.7")
        self.assertEqual(self.job.energy.present_efficiency, 0.7)
        self.type_field("energy.efficiency", "")
        self.assertIsNone(self.job.energy.present_efficiency)
        self.type_field("energy.cost_in", "14,000")
        self.assertEqual(self.job.energy.cost_in, 14000)
        self.window.prefs.set(units="si")
        self.settle()
        self.type_field("energy.propane", "0.70")
        self.assertAlmostEqual(self.job.energy.propane_per_kwh, 0.7 * 3.785411784 / 26.816, places=4)

    def test_the_coils_air_in_a_lens_of_its_own(self):
        first = self.window.page.grab().toImage()
        self.window.plan.setFocus()
        self.window.command("view.lens")
        self.settle()
        self.assertEqual(self.window.station.lens(self.window._view).name, "Coil air")
        second = self.window.page.grab().toImage()
        self.assertNotEqual(first, second)
        for units in ("si", "ip"):
            self.window.prefs.set(units=units, dark=units == "si")
            self.settle()
        self.window.doing.files.open_demo("bungalow")
        self.window.go(3)
        self.settle()
        self.assertFalse(self.window.page.grab().toImage().isNull())

    def test_what_cant_be_is_refused(self):
        self.type_field("energy.electric", "-1")
        self.assertEqual(self.job.energy.electric_per_kwh, 0.16)
        self.assertIn("lectric", self.window.status.message)

    def test_lock_out_typed_emptied_and_undone(self):
        system = self.job.design.systems[0].id
        self.assertEqual(self.window._view.s.equipment.chosen.lockout_c, None)
        self.type_field(f"{system}.lockout", "32")
        self.assertAlmostEqual(self.job.design.systems[0].lockout_c, 0)
        self.assertEqual(self.window._view.s.equipment.chosen.heating_w, 0)
        self.type_field(f"{system}.lockout", "")
        self.assertIsNone(self.job.design.systems[0].lockout_c)
        self.window.command("edit.undo")
        self.settle()
        self.assertAlmostEqual(self.job.design.systems[0].lockout_c, 0)


if __name__ == "__main__":
    unittest.main()
