"""A house on a crawl space from the start page to a printed set: registers, ducts and headers say one thing."""

from __future__ import annotations

import tempfile
from pathlib import Path
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from murvan.app.stations.readings_targets import target
from murvan.design.space.duct_places import lie_in, said_place
from murvan.documents.schedules import register_schedule
from murvan.field.places import key_of
from tests.app.test_drawing import DrawTest
from tests.app.test_pacesheet import PaceTest

CTRL = Qt.KeyboardModifier.ControlModifier


class OnACrawlSpace:
    """What the house must be like, however it was entered."""

    size = (1280, 800)

    def start(self):
        """From the start page by its card: on a crawl space, ducts under the floor."""
        self.window.command("file.close")
        self.window.resize(*self.size)
        self.settle()
        self.choose("new.ground", "crawl")
        self.assertEqual(self.field("new.ducts").currentData(), "crawl")
        offered = {self.field("new.ducts").itemData(k) for k in range(self.field("new.ducts").count())}
        self.assertEqual(offered, {"crawl", "attic", "inside"})
        button = next(b for b in self.window.card._buttons.values())
        at = button.mapTo(self.window, button.rect().center())
        self.assertTrue(self.window.rect().contains(at), "Start the job is in the window")
        self.assertTrue(button.visibleRegion().contains(button.rect().center()))
        self.button("start")
        self.assertEqual((self.job.foundation, said_place(self.job)), ("crawl", "crawl"))

    def design(self):
        """A unit, registers and ducts by keys."""
        self.key("3", Qt.KeyboardModifier.AltModifier)
        self.key(Qt.Key.Key_Down)
        self.key("k")
        self.assertIsNotNone(self.job.design.indoor_units[0].unit)
        self.key("5", Qt.KeyboardModifier.AltModifier)
        self.key("l")
        if self.window.asking.isVisible():
            self.key(Qt.Key.Key_Return)
        self.assertGreater(len(self.job.design.runs), 3, self.window.status.message)

    def one_fact(self):
        storey = self.job.storeys[0].id
        supply = {x.kind for x in self.job.design.registers if x.side == "supply"}
        self.assertEqual(supply, {"floor"})
        self.assertEqual(lie_in(storey, self.view.r.laid), "crawl")
        self.assertEqual(self.window.plan.sheet.lens.note[0], "In the crawl space")
        levels = [run.level_m for run in self.view.r.laid if run.side == "supply"]
        self.assertTrue(all(z < 0.05 for z in levels), levels)
        kinds = {row[2] for row in register_schedule(self.view.r, "ip").rows if str(row[0])[0] != "R"}
        self.assertNotIn("ceiling", kinds)
        self.assertEqual([f for f in self.view.r.findings if f.rule.id in ("duct-place", "register-run")], [])

    def read_and_print(self):
        self.key("7", Qt.KeyboardModifier.AltModifier)
        wanted = []
        for k in range(20):
            here = target(self.view)
            if here.measured is not None:
                break
            wanted.append(here.place.key)
            for ch in (
                f"{60 + k}"
                if here.kind != "pressure3"
                else "0.1"
                if here.name[:6] in ("Supply", "After ") and "filter" not in here.name
                else "-0.1"
            ):
                self.key(ch)
            self.key(Qt.Key.Key_Return)
        got = [key_of(r) for r in self.job.design.readings]
        self.assertEqual(got, wanted)
        with tempfile.TemporaryDirectory() as folder:
            name = str(Path(folder) / "set.pdf")
            with mock.patch("murvan.app.actions.working.QFileDialog.getSaveFileName", return_value=(name, "")):
                self.key("p", CTRL)
                for _ in range(600):
                    self.settle(0.02)
                    if Path(name).is_file():
                        break
            self.assertGreater(Path(name).stat().st_size, 20000)


class ByMouse(OnACrawlSpace, DrawTest):
    def test_from_empty_to_a_printed_set(self):
        self.start()
        self.tool("r")
        self.room(2, 2, 14, 14, "Bedroom 1")
        self.room(14, 2, 20, 14, "Hall")
        self.room(20, 2, 32, 14, "Bedroom 2")
        self.room(2, 14, 20, 30, "Living")
        self.room(20, 14, 32, 30, "Kitchen")
        self.tool("d")
        for x, y in ((14, 8), (20, 8), (17, 14), (26, 14)):
            self.press(x, y)
            self.release(x, y)
        self.tool("w")
        for x, y in ((8, 2), (26, 2), (8, 30), (26, 30)):
            self.press(x, y)
            self.release(x, y)
        self.hit(Qt.Key.Key_Escape)
        self.design()
        self.one_fact()
        self.read_and_print()


class ByMouse720(ByMouse):
    size = (1280, 720)


class ByKeys(OnACrawlSpace, PaceTest):
    """The rooms paced out and typed into the room list; no button of the mouse but for the start."""

    def test_from_empty_to_a_printed_set(self):
        self.start()
        self.window.plan.setFocus()
        self.key("t")
        self.type_house()
        QTest.keyClick(self.sheet, Qt.Key.Key_Escape)
        self.settle()
        self.window.plan.setFocus()
        self.design()
        self.one_fact()
        self.read_and_print()
