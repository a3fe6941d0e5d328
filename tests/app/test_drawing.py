"""Drawing the house by mouse and keyboard in the real window: strokes, typed lengths, undo, save, reopen."""

from __future__ import annotations

import json
import unittest
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from shapely.geometry import Polygon

from murvan.design.drawing.outlines import opening_line
from murvan.model import load_job
from tests.app.base import WindowTest
from tests.houses import FT, INCH

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


class DrawTest(WindowTest):
    """Counts what the hand does: presses of the button, keys."""

    open_demo = False

    def setUp(self):
        super().setUp()
        self.presses = self.keys = 0
        self.window.command("file.new")
        self.settle()
        self.window.plan.setFocus()

    def tool(self, letter):
        target = QApplication.focusWidget() or self.window.plan
        if target is not self.window.plan:
            target = self.window.plan
            target.setFocus()
        self.keys += 1
        self.key(letter)

    def press(self, x_ft, y_ft):
        self.presses += 1
        at = self.at_m(x_ft * FT, y_ft * FT)
        QTest.mouseMove(self.window.plan, at)
        QTest.mousePress(self.window.plan, LEFT, NONE, at)

    def move(self, x_ft, y_ft):
        QTest.mouseMove(self.window.plan, self.at_m(x_ft * FT, y_ft * FT))
        self.app.processEvents()

    def release(self, x_ft, y_ft):
        QTest.mouseRelease(self.window.plan, LEFT, NONE, self.at_m(x_ft * FT, y_ft * FT))
        self.settle()

    def type(self, text):
        self.keys += len(text)
        QTest.keyClicks(self.window.plan, text)

    def hit(self, key):
        self.keys += 1
        QTest.keyClick(QApplication.focusWidget() or self.window, key)
        self.settle()

    def stroke(self, x0, y0, x1, y1):
        self.press(x0, y0)
        self.move((x0 + x1) / 2, (y0 + y1) / 2)
        self.move(x1, y1)
        self.release(x1, y1)

    def room(self, x0, y0, x1, y1, name, across="", down=""):
        """Drag a room, type its lengths, let go, name it."""
        self.press(x0, y0)
        self.move((x0 + x1) / 2, (y0 + y1) / 2)
        self.move(x1, y1)
        if across:
            self.type(across)
        if down:
            self.hit(Qt.Key.Key_Tab)
            self.type(down)
        self.release(x1, y1)
        if name:
            self.name(name)

    def name(self, name):
        field = QApplication.focusWidget()
        self.assertIsNotNone(field, "a new room asks for its name")
        self.assertTrue(field.objectName().endswith(".name"), field.objectName())
        self.keys += len(name)
        QTest.keyClicks(field, name)
        self.hit(Qt.Key.Key_Return)

    def named(self, name):
        return next(r for r in self.job.rooms if r.name == name)


def polygon_ft(outline_m):
    return Polygon([(x / FT, y / FT) for x, y in outline_m])


class DemoGroundFloor(DrawTest):
    def test_it_is_drawn_from_its_dimensions_within_a_quarter_inch(self):
        raw = json.loads((Path(__file__).parents[2] / "tools" / "demo" / "sample-house.json").read_text("utf-8"))
        self.tool("r")
        self.room(0, 0, 16.4, 14.2, "Living", "17", "15")
        self.room(0, 15, 14, 26, "Dining", "14", "11")
        self.room(14, 15, 29, 26, "Kitchen", "15", "")
        self.room(29, 15, 44, 26, "Utility", "15", "")
        self.room(28, 0, 44, 11, "Study", "16", "11")
        self.room(17, 0, 44, 15, "Hall", "", "")
        self.tool("g")
        self.room(44, 5.5, 58, 26, "", "14", "20' 6")
        self.openings(raw)
        self.same_as(raw)
        print(f"\nground floor of the demo: {self.presses} presses of the button, {self.keys} keys", flush=True)
        self.assertLess(self.presses, 40)
        self.assertLess(self.keys, 260)

    def openings(self, raw):
        rooms = {r["id"]: r for r in raw["rooms"]}
        self.tool("w")
        for win in raw["windows"]:
            room = rooms[win["room"]]
            if room["storey"] != "ground":
                continue
            xs, ys = [p[0] for p in room["polygon_ft"]], [p[1] for p in room["polygon_ft"]]
            middle = win["start_ft"] + win["width_ft"] / 2
            at = {"W": (min(xs), middle), "E": (max(xs), middle), "N": (middle, min(ys)), "S": (middle, max(ys))}[
                win["side"]
            ]
            self.press(*at)
            self.release(*at)
            self.settle()
            opening = self.job.openings[-1]
            self.typed(f"{opening.id}.width", str(win["width_ft"]))
            self.typed(f"{opening.id}.height", str(win["height_ft"]))
            low = min(ys) if win["side"] in "WE" else min(xs)
            start = win["start_ft"] - low
            self.typed(f"{opening.id}.offset", f"{start:.4f}")

    def typed(self, key, text):
        self.keys += min(len(text), 5) + 2
        self.type_into(key, text)

    def same_as(self, raw):
        quarter = 0.25 / 12
        names = {r["id"]: r["name"] for r in raw["rooms"]}
        for r in raw["rooms"]:
            if r["storey"] != "ground":
                continue
            with self.subTest(r["name"]):
                drawn, wanted = polygon_ft(self.named(r["name"]).outline_m), Polygon(r["polygon_ft"])
                self.assertLess(drawn.hausdorff_distance(wanted), quarter)
        for win in raw["windows"]:
            if names[win["room"]] not in {r.name for r in self.job.rooms}:
                continue
            with self.subTest(win["tag"]):
                found = [
                    o
                    for o in self.job.openings
                    if o.kind == "window"
                    and o.room == self.named(names[win["room"]]).id
                    and self.spans(o, win, quarter)
                ]
                self.assertEqual(len(found), 1)
        garage = Polygon([(44, 5.5), (58, 5.5), (58, 26), (44, 26)])
        self.assertLess(polygon_ft(self.job.spaces[0].outline_m).hausdorff_distance(garage), quarter)

    def spans(self, o, win, tolerance):
        room = next(r for r in self.job.rooms if r.id == o.room)
        (ax, ay), (bx, by) = opening_line(o, room)
        axis = 1 if win["side"] in "WE" else 0
        if (abs(bx - ax) > abs(by - ay)) != (axis == 0):
            return False
        low = min((ax, ay)[axis], (bx, by)[axis]) / FT
        return (
            abs(low - win["start_ft"]) < tolerance
            and abs(o.width_m / FT - win["width_ft"]) < tolerance
            and abs(o.height_m / FT - win["height_ft"]) < tolerance
        )


class Strokes(DrawTest):
    def setUp(self):
        super().setUp()
        self.tool("r")
        self.room(2, 2, 16, 12, "Kitchen", "14", "10")

    def test_a_drag_alone_makes_round_lengths(self):
        self.room(16, 2, 25.93, 12.1, "Den")
        self.assertAlmostEqual(polygon_ft(self.named("Den").outline_m).area, 100, places=3)

    def test_press_and_let_go_then_type_both_lengths(self):
        self.press(16, 2)
        self.release(16, 2)
        self.assertEqual(len(self.job.rooms), 1)
        self.move(20, 5)
        self.type("12' 3\"")
        self.hit(Qt.Key.Key_Tab)
        self.type("2.5 m")
        self.hit(Qt.Key.Key_Return)
        outline = self.job.rooms[-1].outline_m
        xs, ys = [p[0] for p in outline], [p[1] for p in outline]
        self.assertAlmostEqual(max(xs) - min(xs), 12.25 * FT, places=4)
        self.assertAlmostEqual(max(ys) - min(ys), 2.5, places=4)

    def test_escape_drops_the_stroke_and_then_the_tool(self):
        before = self.job
        self.press(16, 2)
        self.move(25, 9)
        self.settle(0.1)
        self.assertTrue(self.window.document.trying)
        self.hit(Qt.Key.Key_Escape)
        self.assertIs(self.job, before)
        self.assertFalse(self.window.document.trying)
        self.release(25, 9)
        self.assertIs(self.job, before)
        self.assertEqual(self.window.plan.tool, "room")
        self.hit(Qt.Key.Key_Escape)
        self.assertEqual(self.window.plan.tool, "select")

    def test_the_loads_move_while_dragging_and_nothing_is_undoable_yet(self):
        steps = self.window.document.stack.index()
        before = self.headline(2).figure
        self.press(16, 2)
        self.move(30, 12)
        self.settle(0.2)
        self.assertNotEqual(self.headline(2).figure, before)
        self.assertEqual(self.window.document.stack.index(), steps)
        self.release(30, 12)
        self.assertEqual(self.window.document.stack.index(), steps + 1)
        self.assertEqual(self.window.document.stack.undoText(), "Draw Room 2")

    def test_a_length_that_can_not_be_read_is_said_and_nothing_is_lost(self):
        self.press(16, 2)
        self.release(16, 2)
        self.move(20, 5)
        self.type("12''5")
        self.hit(Qt.Key.Key_Return)
        self.assertIn("12''5", self.window.status.message)
        self.assertIsNotNone(self.window.plan.hand.gesture)
        for _ in range(5):
            self.hit(Qt.Key.Key_Backspace)
        self.type("9")
        self.hit(Qt.Key.Key_Return)
        self.assertEqual(len(self.job.rooms), 2)

    def test_a_room_where_one_is_says_so(self):
        self.stroke(2, 2, 16, 12)
        self.assertEqual(len(self.job.rooms), 1)
        self.assertIn("Kitchen is here already", self.window.status.message)
        self.assertIsNotNone(self.window.plan.hand.gesture, "a refused stroke stays to be mended")
        self.assertIn("Kitchen is here already", self.window.plan.hand.trouble)
        self.move(26, 12)
        self.press(26, 12)
        self.release(26, 12)
        self.assertEqual(len(self.job.rooms), 2)

    def test_click_and_type_without_moving_makes_the_room_to_the_right_and_down(self):
        self.press(15.8, 1.8)
        self.release(15.8, 1.8)
        self.type("12")
        self.hit(Qt.Key.Key_Tab)
        self.type("10")
        self.hit(Qt.Key.Key_Return)
        x0, y0, x1, y1 = polygon_ft(self.job.rooms[-1].outline_m).bounds
        for is_, wanted in zip((x0, y0, x1, y1), (16, 2, 28, 12), strict=True):
            self.assertAlmostEqual(is_, wanted, places=3)

    def test_a_letter_takes_its_tool_and_one_within_a_length_is_named(self):
        self.press(16, 2)
        self.release(16, 2)
        self.move(20, 5)
        self.type("12w")
        self.assertIn("'w'", self.window.status.message)
        for _ in range(2):
            self.hit(Qt.Key.Key_Backspace)
        self.type("w")
        self.settle()
        self.assertEqual(self.window.plan.tool, "window")
        self.assertIsNone(self.window.plan.hand.gesture)

    def test_a_garage_asks_its_name(self):
        self.tool("g")
        self.stroke(16, 2, 36, 22)
        self.name("Boat house")
        self.assertEqual([s.name for s in self.job.spaces], ["Boat house"])

    def test_corner_by_corner(self):
        self.tool("p")
        for x, y in ((16, 2), (26, 2), (26, 8), (22, 12)):
            self.press(x, y)
            self.release(x, y)
        self.move(16, 12)
        self.press(16, 12)
        self.release(16, 12)
        self.hit(Qt.Key.Key_Return)
        self.assertAlmostEqual(polygon_ft(self.job.rooms[-1].outline_m).area, 100 - 8, places=2)

    def test_corner_by_corner_with_typed_lengths_and_one_taken_back(self):
        self.tool("p")
        self.press(16, 2)
        self.release(16, 2)
        self.move(24, 2)
        self.type("10")
        self.hit(Qt.Key.Key_Return)
        self.move(26, 9)
        self.type("7")
        self.hit(Qt.Key.Key_Return)
        self.hit(Qt.Key.Key_Backspace)
        self.type("6")
        self.hit(Qt.Key.Key_Return)
        self.move(16, 8)
        self.press(16, 8)
        self.release(16, 8)
        self.move(16, 2)
        self.press(16, 2)
        self.release(16, 2)
        self.assertAlmostEqual(polygon_ft(self.job.rooms[-1].outline_m).area, 60, places=3)

    def test_a_polygon_that_crosses_itself_is_refused_in_words(self):
        self.tool("p")
        for x, y in ((20, 2), (28, 8), (28, 2), (20, 8)):
            self.press(x, y)
            self.release(x, y)
        self.hit(Qt.Key.Key_Return)
        self.assertEqual(len(self.job.rooms), 1)
        self.assertIn("cross", self.window.status.message)

    def test_a_new_wall_splits_a_room(self):
        self.tool("s")
        self.stroke(9, 2, 9, 12)
        self.assertEqual(sorted(round(polygon_ft(r.outline_m).area) for r in self.job.rooms), [70, 70])
        self.assertEqual(self.window.document.stack.undoText(), "Split room")

    def test_a_typed_length_places_the_new_wall(self):
        self.tool("s")
        self.press(9, 2)
        self.move(9, 12)
        self.type("4")
        self.hit(Qt.Key.Key_Return)
        self.assertEqual(sorted(round(polygon_ft(r.outline_m).area) for r in self.job.rooms), [40, 100])

    def test_rooms_are_joined(self):
        self.tool("s")
        self.stroke(9, 2, 9, 12)
        self.hit(Qt.Key.Key_Escape)
        self.tool("v")
        self.window.select("room", self.job.rooms[0].id)
        self.settle()
        self.tool("j")
        other = self.job.rooms[1]
        x, y = polygon_ft(other.outline_m).centroid.coords[0]
        self.press(x, y)
        self.release(x, y)
        self.assertEqual(len(self.job.rooms), 1)
        self.assertEqual(self.window.plan.tool, "select")

    def test_a_wall_is_dragged_and_the_neighbour_follows(self):
        self.room(16, 2, 26, 12, "Den", "10", "10")
        self.tool("v")
        self.stroke(15.8, 7, 18.1, 7)
        self.assertAlmostEqual(polygon_ft(self.named("Kitchen").outline_m).area, 160, delta=6)
        total = sum(polygon_ft(r.outline_m).area for r in self.job.rooms)
        self.assertAlmostEqual(total, 240, places=3)
        self.assertEqual(self.window.document.stack.undoText(), "Move wall")

    def test_the_length_across_is_typed_in_the_middle_of_a_wall_drag(self):
        self.tool("v")
        self.press(15.8, 7)
        self.move(18, 7)
        self.type("17' 6")
        self.release(18, 7)
        self.assertAlmostEqual(polygon_ft(self.named("Kitchen").outline_m).area, 175, places=3)

    def test_a_selected_room_is_dragged_and_catches_the_other(self):
        self.room(20, 2, 30, 12, "Den", "10", "10")
        self.tool("v")
        self.window.select("room", self.named("Den").id)
        self.settle()
        self.stroke(25, 5, 21.2, 5.1)
        self.assertAlmostEqual(polygon_ft(self.named("Den").outline_m).bounds[0], 16, places=3)
        self.assertAlmostEqual(polygon_ft(self.named("Den").outline_m).bounds[1], 2, places=3)

    def test_a_bump_out(self):
        self.tool("b")
        self.press(5, 11.8)
        self.move(9, 13)
        self.move(9, 14)
        self.release(9, 14)
        self.assertAlmostEqual(polygon_ft(self.named("Kitchen").outline_m).area, 140 + 8, delta=0.6)

    def test_delete_takes_the_room_and_undo_brings_it_back(self):
        before = self.job
        self.tool("v")
        self.window.select("room", self.named("Kitchen").id)
        self.settle()
        self.hit(Qt.Key.Key_Delete)
        self.assertEqual(self.job.rooms, ())
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, before)

    def test_turn_mirror_and_storeys(self):
        self.room(16, 2, 26, 7, "Den", "10", "5")
        self.window.select("room", self.named("Den").id)
        self.settle()
        self.window.command("house.turn_room")
        self.settle()
        x0, y0, x1, y1 = polygon_ft(self.named("Den").outline_m).bounds
        self.assertAlmostEqual(x1 - x0, 5, places=3)
        self.window.command("house.mirror_room")
        self.window.command("house.turn_house")
        self.settle()
        self.window.command("house.mirror_house")
        self.settle()
        count = len(self.job.rooms)
        self.window.command("house.storey_up")
        self.settle()
        self.assertEqual(len(self.job.rooms), 2 * count)
        self.assertEqual(self.window.storey, self.job.storeys[1].id)

    def test_undo_all_the_way_and_redo_gives_the_same_job_and_it_reopens(self):
        self.room(16, 2, 26, 12, "Den", "10", "10")
        self.tool("w")
        self.stroke(8, 2, 9, 2)
        self.tool("d")
        self.stroke(16, 6, 16, 7)
        self.tool("a")
        self.stroke(16, 10, 16, 10.2)
        kinds = [(o.kind, o.inside) for o in self.job.openings]
        self.assertEqual(kinds, [("window", False), ("door", True), ("archway", True)])
        end = self.job
        stack = self.window.document.stack
        names = [stack.text(k) for k in range(stack.count())]
        self.assertEqual(names[-3:], ["Place window", "Place door", "Place archway"])
        while stack.canUndo():
            stack.undo()
        self.settle()
        self.assertEqual(self.job.rooms, ())
        while stack.canRedo():
            stack.redo()
        self.settle()
        self.assertEqual(self.job, end)
        path = self.folder / "drawn.murvan"
        self.window.document.save(path)
        self.assertEqual(load_job(path), end)

    def test_saving_in_the_middle_of_a_stroke_saves_the_job_without_it(self):
        path = self.folder / "middle.murvan"
        self.window.document.save(path)
        self.press(16, 2)
        self.move(30, 12)
        self.settle(0.1)
        self.key("s", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(len(load_job(path).rooms), 1)


class Slips(DrawTest):
    def test_figures_without_a_stroke_do_not_leave_the_station(self):
        self.tool("r")
        self.type("17")
        self.settle()
        self.assertEqual(self.window.station_number, 1)
        self.assertIn("Press on the plan first", self.window.status.message)

    def test_the_right_button_drops_the_stroke_and_then_the_tool(self):
        self.tool("r")
        self.press(2, 2)
        self.move(10, 8)
        at = self.at_m(3.0, 2.0)
        QTest.mousePress(self.window.plan, Qt.MouseButton.RightButton, NONE, at)
        self.assertIsNone(self.window.plan.hand.gesture)
        self.release(10, 8)
        self.assertEqual(self.job.rooms, ())
        QTest.mousePress(self.window.plan, Qt.MouseButton.RightButton, NONE, at)
        self.assertEqual(self.window.plan.tool, "select")


class Openings(DrawTest):
    def setUp(self):
        super().setUp()
        self.tool("r")
        self.room(2, 2, 22, 12, "Living", "20", "10")

    def test_a_window_is_placed_by_a_typed_distance_from_the_corner(self):
        self.tool("w")
        self.press(8, 2)
        self.type("3' 6")
        self.release(8, 2)
        o = self.job.openings[0]
        self.assertAlmostEqual(o.offset_m, 3.5 * FT, places=4)
        self.assertEqual(self.window.document.selection.id, o.id)

    def test_on_the_south_wall_typed_distances_count_from_the_left_too(self):
        self.tool("w")
        self.press(8, 12)
        self.type("3")
        self.release(8, 12)
        room = self.job.rooms[0]
        (ax, _), (bx, _) = opening_line(self.job.openings[0], room)
        self.assertAlmostEqual(min(ax, bx), (2 + 3) * FT, places=4)

    def test_a_window_slides_along_its_wall(self):
        self.tool("w")
        self.press(8, 2)
        self.release(8, 2)
        before = self.job.openings[0].offset_m
        self.tool("v")
        o = self.job.openings[0]
        self.drag(self.window.plan, self.at_opening(o.id), self.at_opening(o.id) + QPoint(80, 0))
        self.assertGreater(self.job.openings[0].offset_m, before + 0.5)
        self.assertEqual(self.window.document.stack.undoText(), "Move G1")

    def test_a_window_in_the_air_and_one_on_an_inside_wall_are_refused(self):
        self.room(22, 2, 30, 12, "Den", "8", "10")
        self.tool("w")
        self.press(22, 7)
        self.release(22, 7)
        self.assertEqual(self.job.openings, ())
        self.assertIn("needs an outside wall", self.window.status.message)
        self.press(12, 7)
        self.release(12, 7)
        self.assertEqual(self.job.openings, ())

    def test_size_from_the_list_and_width_beyond_the_wall(self):
        self.tool("w")
        self.press(8, 2)
        self.release(8, 2)
        o = self.job.openings[0]
        self.choose(f"{o.id}.size", f"{72 * INCH:.4f}x{48 * INCH:.4f}")
        self.assertAlmostEqual(self.job.openings[0].width_m, 6 * FT, places=3)
        self.type_into(f"{o.id}.width", "30 ft")
        self.assertAlmostEqual(self.job.openings[0].width_m, 6 * FT, places=3)
        self.assertIn("wider than its wall of 20′ 0″", self.window.status.message)

    def test_the_next_window_is_like_the_last(self):
        self.tool("w")
        self.press(6, 2)
        self.release(6, 2)
        self.type_into(f"{self.job.openings[0].id}.width", "5 ft")
        self.press(16, 2)
        self.release(16, 2)
        self.assertAlmostEqual(self.job.openings[1].width_m, 5 * FT, places=4)


if __name__ == "__main__":
    unittest.main()
