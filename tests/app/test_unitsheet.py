"""A unit of the user's own in the real window: pasted, typed, mended, kept, picked, saved and opened elsewhere."""

from __future__ import annotations

import unittest
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog

from murvan.catalog import own_file, own_units, units, units_csv
from murvan.catalog.draft import FIELDS
from murvan.model import load_job
from tests.app.base import WindowTest
from tests.catalog.test_draft import POWER, SENSIBLE, TOTAL

CONTROL = Qt.KeyboardModifier.ControlModifier
LEFT = Qt.MouseButton.LeftButton


def row_of(path):
    return next(k for k, f in enumerate(FIELDS) if f.path == path)


class UnitSheetTest(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.go(3)
        self.settle()
        self.key("t")
        self.sheet = self.window.own_unit
        self.assertTrue(self.sheet.isVisible())

    def type_cell(self, part, row, column, text):
        table = self.sheet.tables[part]
        table.setFocus()
        table.setCurrentCell(row, column)
        QTest.keyClicks(table, text[0])
        editor = QApplication.focusWidget()
        QTest.keyClicks(editor, text[1:])
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.settle()

    def paste(self, part, row, column, text):
        board = QGuiApplication.clipboard()
        board.setText(text)
        table = self.sheet.tables[part]
        table.setFocus()
        table.setCurrentCell(row, column)
        QTest.keyClick(table, Qt.Key.Key_V, CONTROL)
        self.settle()

    def press(self, key):
        QTest.mouseClick(self.sheet.buttons_by_key[key], LEFT)
        self.settle()

    def paste_all(self):
        for column, text in ((2, TOTAL), (3, SENSIBLE), (4, POWER)):
            self.paste("cooling", 0, column, text)
        self.type_cell("data", row_of("name"), 1, "Shed 24")
        self.type_cell("data", row_of("nominal_w"), 1, "2 ton")


class TestOwnUnit(UnitSheetTest):
    def test_pasted_kept_picked_saved_and_opened_without_it(self):
        self.paste_all()
        self.assertEqual(self.sheet.wrong, ())
        self.press("keep")
        (mine,) = own_units()
        self.assertEqual((mine.name, mine.cooling.power_w[2][2]), ("Shed 24", 2110.0))
        self.assertIn("Kept", self.window.status.message)
        QTest.keyClick(self.sheet.tables["data"], Qt.Key.Key_Escape)
        self.assertFalse(self.sheet.isVisible())
        names = [x.unit.name for x in self.window._view.s.equipment.candidates]
        self.assertIn("Shed 24", names)
        self.assertIn("Shed 24", self.window.card.spec.title)
        self.window.command("equipment.pick")
        self.settle()
        self.assertEqual(self.job.design.indoor_units[0].unit, mine.id)
        path = self.folder / "own.murvan"
        self.window.document.save(path)
        own_file().unlink()
        self.assertEqual(load_job(path).units, (mine,))
        self.window.document.open_path(path)
        self.settle()
        self.assertEqual(self.window._view.s.equipment.chosen.unit, mine)

    def test_what_is_wrong_is_told_at_its_cell_and_nothing_is_kept(self):
        self.paste("cooling", 0, 2, TOTAL)
        self.paste("cooling", 0, 3, TOTAL.replace("24.6", "99"))
        self.paste("cooling", 0, 4, POWER)
        (p, *_) = self.sheet.wrong
        self.assertEqual((p.part, p.row, p.column), ("cooling", 0, 3))
        self.assertIn("is above total", p.text)
        item = self.sheet.tables["cooling"].item(0, 3)
        self.assertEqual(item.background().color(), self.window.prefs.theme("fails_soft"))
        self.assertFalse(self.sheet.buttons_by_key["keep"].isEnabled())
        QTest.keyClick(self.sheet.tables["cooling"], Qt.Key.Key_Return, CONTROL)
        self.settle()
        self.assertEqual(own_units(), ())
        self.assertIn("is above total", self.window.status.message)

    def test_undo_is_of_the_sheet_and_not_of_the_job(self):
        before = self.job
        table = self.sheet.tables["cooling"]
        was = table.item(0, 2).text()
        self.type_cell("cooling", 0, 2, "5000")
        self.assertEqual(table.item(0, 2).text(), "5000")
        QTest.keyClick(table, Qt.Key.Key_Z, CONTROL)
        self.assertEqual(table.item(0, 2).text(), was)
        self.assertIs(self.job, before)

    def test_closing_loses_nothing_and_starting_over_does(self):
        self.type_cell("data", row_of("maker"), 1, "Own")
        self.press("close")
        self.key("t")
        self.assertEqual(self.sheet.tables["data"].item(row_of("maker"), 1).text(), "Own")
        self.press("restart")
        self.assertNotEqual(self.sheet.tables["data"].item(row_of("maker"), 1).text(), "Own")

    def test_another_station_job_or_measure_meets_it_open(self):
        self.type_cell("data", row_of("maker"), 1, "Own")
        self.window.prefs.set(units="si")
        self.settle()
        self.assertEqual(self.sheet.tables["cooling"].horizontalHeaderItem(0).text(), "Outdoors, °F")
        self.assertEqual(self.sheet.draft.data[row_of("maker")][1], "Own")
        self.window.document.close_job()
        self.settle()
        self.window.command("equipment.own_keep")
        self.settle()
        self.window.doing.files.open_demo("bungalow")
        self.settle()
        self.window.go(2)
        self.settle()
        self.assertFalse(self.sheet.isVisible())

    def test_letters_go_to_the_cells(self):
        self.type_cell("data", row_of("maker"), 1, "kvmrt")
        self.assertEqual(self.sheet.draft.data[row_of("maker")][1], "kvmrt")
        self.assertTrue(self.sheet.isVisible())

    def test_kind_is_chosen_from_a_list(self):
        box = self.sheet.tables["data"].cellWidget(row_of("stages"), 1)
        self.assertIsInstance(box, QComboBox)
        box.setCurrentText("single speed")
        box.textActivated.emit("single speed")
        self.assertEqual(self.sheet.draft.data[row_of("stages")][1], "single speed")

    def test_copy_and_clear(self):
        table = self.sheet.tables["heating"]
        QTest.mouseClick(self.sheet.tabs["heating"], LEFT)
        table.setCurrentCell(0, 0)
        table.selectRow(0)
        table.setFocus()
        QTest.keyClick(table, Qt.Key.Key_C, CONTROL)
        copied = QGuiApplication.clipboard().text()
        self.assertEqual(copied, "\t".join(self.sheet.draft.heating[0]))
        n = len(self.sheet.draft.heating)
        QTest.keyClick(table, Qt.Key.Key_Delete)
        self.assertEqual(len(self.sheet.draft.heating), n - 1)

    def test_an_edit_of_a_kept_unit_reaches_the_job_and_can_be_undone(self):
        self.paste_all()
        self.press("keep")
        self.press("close")
        self.window.command("equipment.pick")
        self.settle()
        self.key("t")
        self.assertEqual(self.sheet.draft.id, own_units()[0].id)
        self.type_cell("data", row_of("price"), 1, "4321")
        self.press("keep")
        self.assertEqual(self.job.units[0].price, 4321)
        self.assertEqual(own_units()[0].price, 4321)
        self.window.command("edit.undo")
        self.settle()
        self.assertNotEqual(self.job.units[0].price, 4321)

    def test_forgotten_units_stay_in_jobs_that_carry_them(self):
        self.press("forget")
        self.assertIn("not among your own", self.window.status.message)
        self.paste_all()
        self.press("keep")
        self.press("close")
        self.window.command("equipment.pick")
        self.settle()
        self.key("t")
        self.press("forget")
        self.settle()
        self.assertEqual(own_units(), ())
        self.assertEqual(self.window._view.s.equipment.chosen.unit.name, "Shed 24")

    def test_files_in_and_out(self):
        path = self.folder / "u.csv"
        text = units_csv((units()["wexley-w9"],), "ip")
        path.write_text(text.replace("total_btu_h,sensible_btu_h", "sensible_btu_h,total_btu_h"), "utf-8")
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(path), "")):
            self.press("import")
            self.assertIn("is above total", self.window.status.message)
            path.write_text(text.replace("wexley-w9", "mine-9"), "utf-8")
            self.press("import")
        self.assertEqual([u.id for u in own_units()], ["mine-9"])
        self.assertIn("Took 1 unit", self.window.status.message)
        self.press("restart")
        out = self.folder / "out.csv"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(out), "")):
            self.press("export")
        self.assertIn("mine-9,unit,maker,Wexley", out.read_text("utf-8"))


class TestInSi(UnitSheetTest):
    def setUp(self):
        super().setUp()
        self.press("close")
        self.window.prefs.set(units="si", dark=True)
        self.key("t")

    def test_headings_and_figures_in_si(self):
        table = self.sheet.tables["cooling"]
        self.assertEqual(table.horizontalHeaderItem(0).text(), "Outdoors, °C")
        self.paste("heating", 0, 0, "8,7.5,2.5,1.9\n-8,5.0,2.2,1.7\n")
        self.assertEqual(self.sheet.draft.heating[0], ("8", "7500", "2500", "1900"))
        self.assertEqual(self.sheet.wrong, ())


if __name__ == "__main__":
    unittest.main()
