"""Units and rooms in the real window: heads hung, moved, given rooms by mouse and by keys, undone, saved and opened."""

import unittest

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from murvan.model.unit_edit import served_rooms
from tests.app.base import WindowTest

LEFT, NO = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


class TestRooms(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.go(3)
        self.window.set_lens(2)
        self.settle()

    @property
    def job(self):
        return self.window.document.job

    @property
    def units(self):
        return self.job.design.indoor_units

    def served(self, k):
        return served_rooms(self.job, self.units[k])

    def spot(self, room, dx=0, dy=0):
        return self.window.plan.sheet.shape(room).centre.toPoint() + QPoint(dx, dy)

    def press(self, room, dx=0, dy=0):
        QTest.mouseClick(self.window.plan, LEFT, NO, self.spot(room, dx, dy))
        self.settle()

    def key(self, k):
        QTest.keyClick(self.window.plan, k)
        self.settle()

    def head_in(self, room):
        self.window.plan.setFocus()
        self.key(Qt.Key.Key_H)
        self.press(room, -30, 12)
        self.key(Qt.Key.Key_V)

    def test_a_head_hangs_at_the_wall_and_serves_its_room(self):
        self.head_in("study")
        self.assertEqual(len(self.units), 2)
        self.assertEqual((self.units[1].kind, self.units[1].rooms), ("wall", ("study",)))
        self.assertNotIn("study", self.served(0))
        self.assertEqual(self.window.card.spec.title, "Study head")
        self.window.command("edit.undo")
        self.settle()
        self.assertEqual(len(self.units), 1)

    def test_it_takes_what_is_open_to_the_room(self):
        self.head_in("living")
        self.assertGreaterEqual(set(self.served(1)), {"living", "kitchen"})
        self.head_in("kitchen")
        self.assertEqual(self.served(2), ("kitchen",))

    def test_a_room_dragged_to_a_units_number(self):
        self.head_in("study")
        at = self.window.plan.sheet.to_px(*self.units[1].position_m).toPoint()
        self.drag(self.window.plan, self.spot("utility", 0, 20), at)
        self.assertIn("utility", self.served(1))
        self.drag(self.window.plan, self.spot("utility", 0, 20), self.spot("kitchen"))
        self.assertIn("utility", self.served(0))

    def test_a_unit_dragged_along(self):
        self.head_in("study")
        before = self.units[1].position_m
        at = self.window.plan.sheet.to_px(*before).toPoint()
        self.drag(self.window.plan, at, self.spot("study", 0, 30))
        self.assertNotEqual(self.units[1].position_m, before)
        self.assertEqual(self.units[1].rooms, ("study",))

    def test_rooms_passed_over_go_to_the_unit_in_hand_and_come_off_again(self):
        self.head_in("study")
        self.window.select("indoor_unit", self.units[1].id)
        self.key(Qt.Key.Key_S)
        self.drag(self.window.plan, self.spot("dining"), self.spot("kitchen"))
        self.assertEqual(set(self.served(1)), {"study", "dining", "kitchen"})
        self.press("dining")
        self.assertNotIn("dining", {r for k in range(2) for r in self.served(k)})

    def test_a_row_dragged_onto_another(self):
        self.head_in("study")
        rows = {row.key[1]: rect for rect, row in self.window.ledger._lines() if row.key and row.key[0] == "room"}
        a, b = (rows[k].center().toPoint() for k in ("utility", "study"))
        QTest.mousePress(self.window.ledger, LEFT, NO, a)
        QTest.mouseRelease(self.window.ledger, LEFT, NO, b)
        self.settle()
        self.assertEqual(set(self.served(1)), {"study", "utility"})
        self.window.command("edit.undo")
        self.settle()
        self.assertEqual(self.served(1), ("study",))

    def test_by_keys_alone(self):
        self.head_in("study")
        self.window.select("room", "utility")
        self.window.plan.setFocus()
        self.key(Qt.Key.Key_Space)
        self.assertIn("utility", self.served(1))
        self.key(Qt.Key.Key_Space)
        self.assertNotIn("utility", self.served(0) + self.served(1))
        self.key(Qt.Key.Key_Comma)
        self.key(Qt.Key.Key_Delete)
        self.assertEqual(len(self.units), 1)

    def test_the_last_unit_stays_and_it_is_said(self):
        self.window.plan.setFocus()
        self.key(Qt.Key.Key_Delete)
        self.assertEqual(len(self.units), 1)
        self.assertIn("the only unit", self.window.status.message)

    def test_outside_the_rooms_nothing_hangs(self):
        self.key(Qt.Key.Key_H)
        QTest.mouseClick(self.window.plan, LEFT, NO, QPoint(6, 6))
        self.settle()
        self.assertEqual(len(self.units), 1)
        self.assertIn("press inside", self.window.status.message)

    def test_the_outdoor_unit_is_placed_and_moved(self):
        self.head_in("study")
        self.window.select("indoor_unit", self.units[1].id)
        self.key(Qt.Key.Key_O)
        QTest.mouseClick(self.window.plan, LEFT, NO, self.spot("study", 150, -20))
        self.settle()
        outdoor = next(x for x in self.job.design.outdoor_units if x.id == self.units[1].outdoor)
        self.assertIsNotNone(outdoor.position_m)
        at = self.window.plan.sheet.to_px(*outdoor.position_m).toPoint()
        self.drag(self.window.plan, at, at + QPoint(20, 30))
        moved = next(x for x in self.job.design.outdoor_units if x.id == self.units[1].outdoor)
        self.assertNotEqual(moved.position_m, outdoor.position_m)

    def test_two_heads_on_one_outdoor_unit_by_the_card(self):
        self.head_in("study")
        self.head_in("utility")
        self.choose("unit.outdoor", self.units[1].outdoor)
        self.assertEqual(self.units[1].outdoor, self.units[2].outdoor)
        self.choose("unit.multi", "wexley-m18")
        for k in (1, 2):
            self.window.select("indoor_unit", self.units[k].id)
            self.settle()
            self.choose("unit.unit", "wexley-w6")
        x = self.window.view().r.outdoors[self.units[1].outdoor]
        self.assertEqual((len(x.hung), x.ports), (2, 2))
        self.assertIn("Ports", self.words())
        path = self.folder / "heads.murvan"
        self.window.document.save(path)
        before = self.job.design
        self.window.doing.files.open_path(str(path))
        self.settle()
        self.assertEqual(self.job.design, before)

    def choose(self, key, value):
        field = next(f for f in self.fields() if f.key == key)
        self.assertIn(value, [v for v, _ in field.options])
        self.assertTrue(self.window.apply_field(field, value))
        self.settle()

    def fields(self):
        return [f for s in self.window.card.spec.sections for f in getattr(s, "fields", ())]

    def words(self):
        return " ".join(r.label for s in self.window.card.spec.sections for r in getattr(s, "rows", ()))

    def test_a_bend_dragged_into_the_line_and_out_again(self):
        sheet = self.window.plan.sheet
        outdoor = sheet.to_px(*self.job.design.outdoor_units[0].position_m).toPoint()
        unit = sheet.to_px(*self.units[0].position_m).toPoint()
        before = self.window.view().line.length_m
        self.drag(
            self.window.plan,
            QPoint(unit.x(), (unit.y() + outdoor.y()) // 2),
            QPoint(unit.x() - 120, outdoor.y() - 60),
        )
        line = next(x for x in self.job.design.lines if x.indoor == self.units[0].id)
        self.assertEqual(len(line.route_m), 1)
        self.assertGreater(self.window.view().line.length_m, 0.5 * before)
        bend = sheet.to_px(*line.route_m[0][:2]).toPoint()
        self.drag(self.window.plan, bend, bend + QPoint(40, 10))
        moved = next(x for x in self.job.design.lines if x.indoor == self.units[0].id)
        self.assertNotEqual(moved.route_m, line.route_m)
        self.assertEqual(len(moved.route_m), 1)
        bend = sheet.to_px(*moved.route_m[0][:2]).toPoint()
        self.drag(self.window.plan, bend, QPoint((unit.x() + outdoor.x()) // 2, (unit.y() + outdoor.y()) // 2))
        self.assertEqual(next(x for x in self.job.design.lines if x.indoor == self.units[0].id).route_m, ())

    def test_both_measures_and_themes(self):
        self.head_in("study")
        for units, dark in (("si", True), ("ip", False), ("si", False)):
            self.window.prefs.set(units=units, dark=dark)
            self.settle()
            self.window.select("room", "study")
            self.window.select("indoor_unit", self.units[1].id)
            self.settle()
            self.assertFalse(self.window.grab().isNull())

    def test_another_ducted_unit_gets_the_room_selected(self):
        self.window.select("room", "study")
        self.window.plan.setFocus()
        self.key(Qt.Key.Key_D)
        self.assertEqual((self.units[1].kind, self.served(1)), ("ducted", ("study",)))

    def test_a_unit_with_ducts_does_not_become_a_head(self):
        field = next(f for f in self.fields() if f.key == "unit.kind")
        self.window.apply_field(field, "wall")
        self.settle()
        self.assertIn("has ducts", self.window.status.message)
        self.assertEqual(self.units[0].kind, "ducted")


if __name__ == "__main__":
    unittest.main()
