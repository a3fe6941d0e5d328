"""An exception anywhere in the window: it is told calmly, written down, the job is kept, and the window works on."""

import contextlib
import gc
import sys
import threading
import weakref
from unittest import mock

from PyQt6.QtCore import QPoint, QTimer
from PyQt6.QtTest import QTest

from murvan.app.guard import log_file
from murvan.app.main import get_ready_aside
from murvan.units import UnitError, parse
from tests.app.base import WindowTest


class Told(WindowTest):
    def take_reports(self):
        found, self.guard.reports[:] = list(self.guard.reports), []
        return found

    def edited(self):
        self.window.document.edit("Name it", lambda j: type(j).model_validate({**dict(j), "name": "Kept house"}))
        self.settle()

    def test_in_a_slot(self):
        self.edited()

        def broken():
            raise RuntimeError("a slot that breaks")

        QTimer.singleShot(0, broken)
        self.settle(0.05)
        sheet = self.window.trouble
        self.assertTrue(sheet.isVisible())
        self.window.grab()
        self.assertIn("a slot that breaks", sheet.line)
        self.assertIn("put aside", sheet.kept)
        (aside,) = (self.folder / "home" / "autosave").glob("*.json")
        self.assertIn("Kept house", aside.read_text("utf-8"))
        self.assertIn("a slot that breaks", log_file().read_text("utf-8"))
        self.assertEqual(len(self.take_reports()), 1)
        self.click(sheet, sheet.button("on").center())
        self.assertFalse(sheet.isVisible())
        self.station(3)
        self.assertEqual(self.window.station_number, 3)

    def test_in_a_paint(self):
        with mock.patch.object(type(self.window.ledger), "_heading", side_effect=ValueError("no heading")):
            self.window.ledger.repaint()
            self.window.ledger.repaint()
        self.settle(0.05)
        self.assertEqual(len(self.take_reports()), 1)
        self.window.ledger.repaint()
        self.window.grab()

    def test_what_is_loaded_aside_is_there_and_is_no_trouble(self):
        get_ready_aside().join(30)
        self.assertIn("murvan.design.lay.ducts", sys.modules)
        self.settle()

    def test_in_a_thread(self):
        def broken():
            raise RuntimeError("a thread that breaks")

        t = threading.Thread(target=broken)
        t.start()
        t.join()
        self.settle(0.05)
        self.assertIn("a thread that breaks", self.window.trouble.line)
        self.assertEqual(len(self.take_reports()), 1)


class Strokes(WindowTest):
    def test_a_length_that_cannot_be_read_keeps_nothing_alive(self):
        class Thing:
            pass

        def typed(text):
            thing = Thing()
            alive = weakref.ref(thing)
            with contextlib.suppress(UnitError):
                parse("feet", text, "ip")
            return alive

        gc.collect()
        self.assertFalse(gc.isenabled(), "the collector runs in the window's thread alone")
        for text in ("420 c", "5 kg", "1e", "12ft m", "3 zz"):
            self.assertIsNone(typed(text)(), text)

    def test_odd_lengths_in_the_middle_of_a_stroke_leave_no_painter_open(self):
        plan = self.window.plan
        self.window.doing.views.take_tool("room")
        QTest.mousePress(plan, self_button(), pos=QPoint(620, 60))
        QTest.mouseMove(plan, QPoint(700, 120))
        for character in "420 c":
            QTest.keyClicks(plan, character)
            plan.repaint()
        self.assertIn("420 c", plan.hand.gesture.lengths.trouble)
        self.window.resize(1200, 760)
        self.settle()
        QTest.keyClicks(plan, "m")
        plan.repaint()
        self.assertAlmostEqual(plan.hand.gesture.lengths.value(plan.hand.gesture.lengths.at), 4.2)
        plan.hand.drop()
        QTest.mouseRelease(plan, self_button(), pos=QPoint(700, 120))
        self.settle()


def self_button():
    from PyQt6.QtCore import Qt

    return Qt.MouseButton.LeftButton
