"""Every tool by real mouse and keys: done, undone, done again, saved, opened, and compared as whole jobs."""

from __future__ import annotations

import unittest

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from murvan.app.commands import COMMANDS
from murvan.model import load_job
from tests.app.base import WindowTest
from tests.houses import FT

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
STROKES = {
    # tool: (letter, storey, from ft, to ft, name of the step, collection that changes)
    "room": ("r", "upper", (46, 2), (56, 12), "Draw Room 13", "rooms"),
    "split": ("s", "ground", (8, 0), (8, 15), "Split room", "rooms"),
    "bump": ("b", "ground", (1, 25.9), (11, 28), "Bump out", "rooms"),
    "window": ("w", "ground", (1.5, 0), (1.5, 0), "Place window", "openings"),
    "door": ("d", "ground", (22, 14.8), (22, 14.8), "Place door", "openings"),
    "archway": ("a", "ground", (17, 3), (17, 3), "Place archway", "openings"),
    "skylight": ("k", "upper", (35, 5), (35, 5), "Place skylight", "openings"),
    "garage": ("g", "upper", (46, 2), (56, 12), "Draw garage", "spaces"),
    "furniture": ("f", "ground", (5, 5), (5, 9), "Place a bed", "furniture"),
    "place": ("n", "ground", (30, 17), (34, 20), "Draw equipment", "places"),
    "keep": ("c", "ground", (38, 20), (42, 24), "Draw clear", "keep_clear"),
    "obstacle": ("i", "ground", (38, 20), (42, 21), "Draw a beam or pipe", "obstacles"),
    "existing": ("e", "ground", (20, 5), (20, 5), "Note what is there", "existing"),
    "patch": ("o", "ground", (1, 1), (6, 6), "Draw bay", "patches"),
}
DRAGS = {
    # what is grabbed with V: (storey, from ft, to ft, step, collection)
    "wall": ("ground", (13.8, 17), (12, 17), "Move wall", "rooms"),
    "window": ("ground", (8.5, 0), (12, 0), "Move G3", "openings"),
    "garage": ("ground", (51, 10), (53, 12), "Move garage", "spaces"),
}


class EveryTool(WindowTest):
    def ft(self, at):
        return self.at_m(at[0] * FT, at[1] * FT)

    def tool(self, letter):
        self.window.plan.setFocus()
        self.key(letter)

    def stroke(self, a, b):
        start, end = self.ft(a), self.ft(b)
        QTest.mouseMove(self.window.plan, start)
        if a == b:
            self.click(self.window.plan, start)
        else:
            self.drag(self.window.plan, start, end)

    def there_and_back(self, before, name, collection):
        after = self.job
        same = getattr(after, collection) == getattr(before, collection)
        self.assertFalse(same, self.window.status.message)
        stack = self.window.document.stack
        self.assertEqual(stack.undoText(), name)
        self.assertEqual(stack.index(), 1, "one stroke is one step")
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, before)
        self.key("y", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, after)
        path = self.folder / "tool.murvan"
        self.window.document.save(path)
        self.assertEqual(load_job(path), after)
        self.assertTrue(self.window.doing.files.open_path(path))
        self.settle()
        self.assertEqual(self.job, after)

    def fresh(self, storey):
        self.window.document.stack.setClean()
        self.window.doing.files.open_demo()
        self.settle()
        self.window.set_storey(storey)
        self.settle()
        return self.job

    def test_strokes(self):
        for tool, (letter, storey, a, b, name, collection) in STROKES.items():
            with self.subTest(tool):
                before = self.fresh(storey)
                self.tool(letter)
                self.assertEqual(self.window.plan.tool, tool)
                self.stroke(a, b)
                self.window.plan.setFocus()
                self.there_and_back(before, name, collection)

    def test_drags(self):
        for what, (storey, a, b, name, collection) in DRAGS.items():
            with self.subTest(what):
                before = self.fresh(storey)
                self.tool("v")
                self.stroke(a, b)
                self.there_and_back(before, name, collection)

    def test_polygon_and_join(self):
        before = self.fresh("upper")
        self.tool("p")
        for at in ((46, 2), (56, 2), (56, 9), (46, 12)):
            self.stroke(at, at)
        QTest.keyClick(self.window.plan, Qt.Key.Key_Return)
        self.settle()
        self.window.plan.setFocus()
        self.there_and_back(before, "Draw Room 13", "rooms")
        before = self.fresh("ground")
        self.window.select("room", "dining")
        self.settle()
        self.tool("j")
        self.stroke((20, 20), (20, 20))
        self.there_and_back(before, "Join rooms", "rooms")

    def test_a_selected_room_and_a_skylight_are_dragged(self):
        before = self.fresh("ground")
        self.window.select("room", "study")
        self.settle()
        self.tool("v")
        self.stroke((36, 6), (39, 2))
        self.there_and_back(before, "Move Study", "rooms")
        self.fresh("upper")
        self.tool("k")
        self.stroke((35, 5), (35, 5))
        before = self.job.openings[-1].position_m
        self.tool("v")
        self.stroke((35, 5), (38, 6))
        self.assertGreater(self.job.openings[-1].position_m[0], before[0])
        self.assertEqual(self.window.document.stack.undoText(), "Move skylight")

    def test_commands_of_the_house(self):
        for command, name in (
            ("house.turn_room", "Turn room"),
            ("house.mirror_room", "Mirror room"),
            ("house.turn_house", "Turn the house"),
            ("house.mirror_house", "Mirror the house"),
            ("house.storey_up", "Copy the storey up"),
            ("house.storey_add", "Add a storey"),
            ("house.storey_below", "Add a basement"),
            ("house.remove", "Take the room away"),
        ):
            with self.subTest(command):
                before = self.fresh("ground")
                self.window.select("room", "study")
                self.settle()
                self.window.command(command)
                self.settle()
                self.window.plan.setFocus()
                collection = "storeys" if "storey" in command else "rooms"
                self.there_and_back(before, name, collection)

    def test_every_tool_is_in_the_column_or_has_its_key(self):
        for c in COMMANDS:
            if c.id.startswith("tool."):
                self.assertEqual(len(c.keys[0]), 1, c.id)

    def test_escape_in_the_middle_of_every_stroke_leaves_the_job(self):
        before = self.fresh("ground")
        for tool, (letter, _, a, b, _, _) in STROKES.items():
            with self.subTest(tool):
                self.tool(letter)
                QTest.mousePress(self.window.plan, LEFT, NONE, self.ft(a))
                QTest.mouseMove(self.window.plan, self.ft(b) + QPoint(30, 20))
                self.app.processEvents()
                QTest.keyClick(self.window.plan, Qt.Key.Key_Escape)
                QTest.mouseRelease(self.window.plan, LEFT, NONE, self.ft(b))
                self.settle()
                self.assertIs(self.job, before)
                QTest.keyClick(self.window.plan, Qt.Key.Key_Escape)
                self.assertEqual(self.window.plan.tool, "select")

    def test_another_station_in_the_middle_of_a_stroke_drops_it(self):
        before = self.fresh("ground")
        self.tool("r")
        QTest.mousePress(self.window.plan, LEFT, NONE, self.ft((46, 2)))
        QTest.mouseMove(self.window.plan, self.ft((50, 4)))
        self.app.processEvents()
        self.station(5)
        self.assertIs(self.job, before)
        self.assertIsNone(self.window.plan.hand.gesture)
        self.assertEqual(self.window.plan.tool, "select")

    def test_what_is_drawn_is_only_drawn_at_the_house(self):
        self.fresh("ground")
        self.window.go(5)
        self.settle()
        before = self.job
        self.window.plan.setFocus()
        self.drag(self.window.plan, self.ft((13.8, 20)), self.ft((10, 20)))
        self.assertIs(self.job, before)
        self.key("w")
        self.assertEqual(self.window.plan.tool, "select")


if __name__ == "__main__":
    unittest.main()
