"""Registers in the real window: laid by one key, placed, dragged, copied, taken away, undone, saved."""

import unittest

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from murvan.model.edit import changed
from tests.app.base import WindowTest

LEFT, NO = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


class TestRegisters(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.document.stack.setClean()
        self.open_bare("bungalow")
        self.window.go(3)
        self.settle()
        self.key(Qt.Key.Key_K)
        self.key(Qt.Key.Key_4)

    @property
    def registers(self):
        return self.window.document.job.design.registers

    def key(self, k):
        self.window.plan.setFocus()
        QTest.keyClick(self.window.plan if self.window.plan.isVisible() else self.window.centralWidget(), k)
        self.settle()

    def spot(self, name, dx=0, dy=0):
        room = next(r.id for r in self.window.document.job.rooms if r.name == name)
        return self.window.plan.sheet.shape(room).centre.toPoint() + QPoint(dx, dy)

    def press(self, at):
        QTest.mouseClick(self.window.plan, LEFT, NO, at)
        self.settle()

    def test_one_key_lays_them_and_one_step_takes_them_back(self):
        self.assertEqual(self.registers, ())
        self.key(Qt.Key.Key_L)
        self.assertGreater(len(self.registers), 10)
        self.assertIn("laid", self.window.status.message)
        self.key(Qt.Key.Key_L)
        self.assertIn("Every room has its register", self.window.status.message)
        self.window.command("edit.undo")
        self.window.command("edit.undo")
        self.settle()
        self.assertEqual(self.registers, ())

    def test_placed_dragged_copied_and_taken_away(self):
        self.key(Qt.Key.Key_R)
        self.press(self.spot("Family", 20, 20))
        self.assertEqual(len(self.registers), 1)
        self.key(Qt.Key.Key_V)
        at = self.window.plan.sheet.to_px(*self.registers[0].position_m).toPoint()
        self.drag(self.window.plan, at, self.spot("Kitchen", 10, 0))
        self.assertEqual(
            next(r.name for r in self.window.document.job.rooms if r.id == self.registers[0].room), "Kitchen"
        )
        self.window.select("register", self.registers[0].id)
        self.key(Qt.Key.Key_C)
        self.assertEqual(len(self.registers), 2)
        self.key(Qt.Key.Key_Delete)
        self.assertEqual(len(self.registers), 1)

    def test_a_return_in_a_bath_is_refused_in_words(self):
        self.key(Qt.Key.Key_G)
        self.press(self.spot("Bath"))
        self.assertEqual(self.registers, ())
        self.assertIn("No return in Bath", self.window.status.message)
        self.key(Qt.Key.Key_Escape)
        self.press(self.spot("Hall", -40, 0))
        self.assertLessEqual(len(self.registers), 1)

    def test_a_size_typed_and_saved(self):
        self.key(Qt.Key.Key_R)
        self.press(self.spot("Family"))
        self.window.select("register", self.registers[0].id)
        self.settle()
        fields = {f.key: f for s in self.window.card.spec.sections for f in getattr(s, "fields", ())}
        key = f"{self.registers[0].id}.width"
        self.assertTrue(self.window.apply_field(fields[key], 0.3048))
        self.settle()
        path = self.folder / "r.murvan"
        self.window.document.save(path)
        before = self.registers
        self.window.doing.files.open_path(str(path))
        self.settle()
        self.assertEqual(self.registers, before)
        self.assertEqual(self.registers[0].width_m, 0.3048)

    def test_three_keys_from_a_picked_unit_to_balanced_ducts(self):
        self.key(Qt.Key.Key_L)
        self.key(Qt.Key.Key_5)
        self.key(Qt.Key.Key_L)
        job = self.window.document.job
        self.assertGreater(len(job.design.runs), 15)
        self.assertIsNotNone(self.window.view().r.network)
        self.assertIn("Every room gets at least 95 %", self.window.status.message)
        first = job.design.runs
        self.window.command("ducts.ways")
        self.settle()
        sheet = self.window.layouts
        self.assertGreaterEqual(len(sheet.found), 3)
        self.assertFalse(sheet.grab().isNull())
        QTest.keyClick(sheet, Qt.Key.Key_Right)
        QTest.keyClick(sheet, Qt.Key.Key_O)
        self.settle()
        self.assertEqual([x.name for x in self.window.document.job.options], [sheet.found[1].name])
        QTest.keyClick(sheet, Qt.Key.Key_Return)
        self.assertTrue(any("runs of" in x for x in self.window.asking.lines))
        QTest.keyClick(self.window.asking, Qt.Key.Key_Return)
        self.settle()
        self.assertFalse(sheet.isVisible())
        self.assertNotEqual(self.window.document.job.design.runs, first)
        for station in (4, 5, 6, 7, 8):
            self.window.go(station)
            self.settle()
            self.assertFalse(self.window.grab().isNull())
        for _ in range(3):
            self.window.command("edit.undo")
        self.settle()
        self.assertEqual(self.window.document.job.design.runs, ())

    def test_esc_drops_the_search_and_an_edit_meanwhile_is_kept(self):
        self.key(Qt.Key.Key_L)
        self.key(Qt.Key.Key_5)
        before = self.window.document.job
        self.window.plan.setFocus()
        QTest.keyClick(self.window.plan, Qt.Key.Key_L)
        QTest.keyClick(self.window.plan, Qt.Key.Key_Escape)
        self.settle()
        self.assertIs(self.window.document.job, before)
        self.window.command("ducts.lay")
        self.window.edit("Name it", lambda job: changed(job, job.name, name="Another name"))
        self.settle()
        self.assertEqual(self.window.document.job.name, "Another name")
        self.assertGreater(len(self.window.document.job.design.runs), 15)

    def test_ducts_without_registers_get_them_along_in_one_step(self):
        before = self.window.document.job
        self.key(Qt.Key.Key_5)
        self.window.plan.setFocus()
        self.key("l")
        self.settle()
        laid_ = self.window.document.job
        self.assertEqual({x.side for x in laid_.design.registers}, {"supply", "return"})
        self.assertEqual({r.register_id for r in laid_.design.runs} - {None}, {x.id for x in laid_.design.registers})
        self.assertEqual(self.window.document.stack.undoText(), "Lay the ducts")
        self.window.command("edit.undo")
        self.assertIs(self.window.document.job, before)

    def test_a_door_s_way_back_goes_round_in_three_presses(self):
        self.key(Qt.Key.Key_T)
        plan = self.window.plan
        door = next(o for o in self.window.document.job.openings if o.inside and o.kind == "door")
        a, b, _ = plan.sheet.ends(door)
        at = ((a + b) / 2).toPoint()
        seen = []
        for _ in range(3):
            QTest.mouseClick(plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
            self.settle()
            room = next(r for r in self.window.document.job.rooms if r.id == self.window.document.selection.id)
            seen.append((room.transfer.kind, room.transfer.area_m2 > 0))
        self.assertEqual(set(seen), {("grille", True), ("jump", True), ("undercut", False)})
        QTest.mouseClick(plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at + QPoint(40, 40))
        self.settle()
        self.assertIn("inside door", self.window.status.message)

    def test_both_measures_and_themes(self):
        self.key(Qt.Key.Key_L)
        for units, dark in (("si", True), ("ip", False)):
            self.window.prefs.set(units=units, dark=dark)
            self.settle()
            self.window.select("register", self.registers[0].id)
            self.settle()
            self.assertFalse(self.window.grab().isNull())


if __name__ == "__main__":
    unittest.main()
