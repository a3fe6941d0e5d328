"""The room list in the real window: typed cell by cell, arranged, dragged, CSV in and out, undone."""

from __future__ import annotations

import unittest
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog

from murvan.design.drawing.pace import COLUMNS, from_csv, rows_of
from murvan.model import load_job
from tests.app.base import WindowTest
from tests.houses import FT

LEFT = Qt.MouseButton.LeftButton
ROOMS = (
    ("Living", "17", "15", "n w", {"glass_n": "27", "glass_w": "45"}),
    ("Study", "16", "11", "n e", {"glass_n": "22.5"}),
    ("Kitchen", "17", "11", "s w", {"glass_s": "17.5"}),
    ("Utility", "16' 6", "11", "s e", {}),
)


class PaceTest(WindowTest):
    open_demo = False

    def setUp(self):
        super().setUp()
        self.window.command("file.new")
        self.settle()
        self.window.plan.setFocus()
        self.key("t")
        self.sheet = self.window.pace
        self.assertTrue(self.sheet.isVisible())

    def cell(self, row, column, text):
        table = self.sheet.table
        table.setFocus()
        table.setCurrentIndex(self.sheet.cell(row, column))
        if text:
            QTest.keyClicks(table, text[0])
            editor = QApplication.focusWidget()
            QTest.keyClicks(editor, text[1:])
        else:
            table.edit(self.sheet.cell(row, column))
            editor = QApplication.focusWidget()
            editor.selectAll()
            QTest.keyClick(editor, Qt.Key.Key_Delete)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.settle()

    def shown(self, row, column):
        return self.sheet.table.item(row, COLUMNS.index(column)).text()

    def type_house(self):
        for k, (name, length, width, outside, glass) in enumerate(ROOMS):
            self.cell(k, "name", name)
            self.cell(k, "length", length)
            self.cell(k, "width", width)
            self.cell(k, "outside", outside)
            for side, area in glass.items():
                self.cell(k, side, area)


class Typing(PaceTest):
    def test_a_house_typed_line_by_line(self):
        self.type_house()
        self.assertEqual([r.name for r in self.job.rooms], [r[0] for r in ROOMS])
        self.assertEqual([r.use for r in self.job.rooms], ["living", "study", "kitchen", "utility"])
        self.assertEqual(self.shown(3, "length"), "16′ 6″")
        self.assertEqual(self.shown(0, "outside"), "N W")
        self.assertEqual(self.sheet.table.rowCount(), 5)
        self.assertNotEqual(self.headline(2).figure, "–")

    def test_letters_go_into_the_cells_and_not_to_commands(self):
        self.cell(0, "name", "Room with W and 3")
        self.assertEqual(self.window.station_number, 1)
        self.assertEqual(self.window.plan.tool, "select")
        self.assertEqual(self.shown(0, "name"), "Room with W and 3")

    def test_every_cell_is_one_step_with_a_name(self):
        self.type_house()
        stack = self.window.document.stack
        self.assertEqual(stack.text(0), "Pace Living")
        self.assertEqual(stack.undoText(), "Utility, outside")
        end = self.job
        while stack.canUndo():
            stack.undo()
        self.settle()
        self.assertEqual(self.job.rooms, ())
        self.assertEqual(self.sheet.table.rowCount(), 1)
        while stack.canRedo():
            stack.redo()
        self.settle()
        self.assertEqual(self.job, end)

    def test_arranged_and_dragged_into_place(self):
        self.type_house()
        QTest.mouseClick(self.sheet.buttons_by_key["arrange"], LEFT)
        self.settle()
        living, study = self.job.rooms[0].outline_m, self.job.rooms[1].outline_m
        self.assertEqual(living[0], (0.0, 0.0))
        self.assertAlmostEqual(study[0][0], 17 * FT, places=4)
        QTest.keyClick(self.sheet.table, Qt.Key.Key_Escape)
        self.settle()
        self.assertFalse(self.sheet.isVisible())
        self.window.select("room", self.job.rooms[3].id)
        self.settle()
        at = self.at_room(self.job.rooms[3].id)
        before = self.job.rooms[3].outline_m
        self.drag(self.window.plan, at, self.at_room(self.job.rooms[3].id, 30, 60))
        self.assertNotEqual(self.job.rooms[3].outline_m, before)
        self.assertEqual(self.window.document.stack.undoText(), "Move Utility")

    def test_wrong_cells_say_so_and_stay_as_they_were(self):
        self.type_house()
        before = self.job
        for column, text, words in (
            ("length", "abc", "Living, length: Can't read"),
            ("length", "0", "a length of 0′ 0″ can't be"),
            ("outside", "x", "“X” is none of them"),
            ("glass_n", "900", "does not go into its north wall of 17′ 0″"),
            ("glass_n", "-4", "less than nothing"),
            ("height", "0", "height"),
            ("name", "", "name"),
        ):
            with self.subTest(column=column, text=text):
                self.cell(0, column, text)
                self.assertIn(words, self.window.status.message)
                self.assertIs(self.job, before)
        self.assertEqual(self.shown(0, "length"), "17′ 0″")

    def test_units_change_the_figures_and_not_the_house(self):
        self.type_house()
        before = self.job
        self.window.command("view.units")
        self.settle()
        self.assertEqual(self.shown(0, "length"), "5.18")
        self.assertIn("m", self.sheet.table.horizontalHeaderItem(1).text())
        self.assertIs(self.job, before)

    def test_saved_and_opened_again_it_is_the_same_house(self):
        self.type_house()
        path = self.folder / "paced.murvan"
        self.window.document.save(path)
        self.assertEqual(load_job(path), self.job)
        self.assertEqual(rows_of(load_job(path), self.window.storey), rows_of(self.job, self.window.storey))


class Csv(PaceTest):
    def test_out_and_in_again(self):
        self.type_house()
        path = self.folder / "rooms.csv"
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            QTest.mouseClick(self.sheet.buttons_by_key["export"], LEFT)
            self.settle()
        rows = from_csv(path.read_text("utf-8"), "ip")
        self.assertEqual([r.name for r in rows], [r[0] for r in ROOMS])
        heat = self.headline(2).second
        self.window.document.stack.setClean()
        self.window.command("file.new")
        self.settle()
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(path), "")):
            self.window.command("house.pace_import")
        self.settle()
        self.assertEqual(len(self.job.rooms), 4)
        self.assertEqual(self.headline(2).second, heat)
        self.assertEqual(self.window.document.stack.undoText(), "Take 4 rooms")

    def test_a_missing_column_is_named_and_nothing_is_taken(self):
        path = self.folder / "bad.csv"
        path.write_text("name,length\nDen,4\n", "utf-8")
        before = self.job
        self.assertFalse(self.window.doing.house.import_rooms(str(path)))
        self.assertIn("bad.csv: The list has no column “width”", self.window.status.message)
        self.assertIs(self.job, before)

    def test_what_is_no_text_is_said(self):
        path = self.folder / "bad.csv"
        path.write_bytes(b"\xff\xfe\x00\x81")
        self.assertFalse(self.window.doing.house.import_rooms(str(path)))
        self.assertIn("Can't read bad.csv", self.window.status.message)


if __name__ == "__main__":
    unittest.main()
