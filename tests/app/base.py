"""Drives the real window: clicks, keys, drags, and what the user then sees."""

from __future__ import annotations

import os
import sys
import tempfile
import threading
import time
import unittest
from pathlib import Path
from unittest import mock

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QCoreApplication, QEvent, QPoint, QPointF, Qt  # noqa: E402
from PyQt6.QtTest import QTest  # noqa: E402
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QPushButton  # noqa: E402

from murvan.app.guard import guard  # noqa: E402
from murvan.app.main import application  # noqa: E402
from murvan.app.window import MainWindow  # noqa: E402
from murvan.design.loads import balance  # noqa: E402
from murvan.design.metal import pieces  # noqa: E402
from murvan.documents import pdf, schedules  # noqa: E402
from murvan.model.edit import changed  # noqa: E402
from murvan.model.job import Design  # noqa: E402
from murvan.physics import network  # noqa: E402

HEAVY = (
    (network, "_newton"),
    (balance, "balance"),
    (pieces, "_solid"),
    (pdf, "write_pdf"),
    (schedules, "write_xlsx"),
)
"""What takes long: the circuit, the heat balance, sheet metal, papers."""


def _of_the_window(frame):
    """Whether a call comes from the window, and not from a test or the command line."""
    while frame is not None:
        name = frame.f_globals.get("__name__", "")
        if name.startswith("tests."):
            return False
        if name.startswith("murvan.app."):
            return True
        frame = frame.f_back
    return False


class WindowTest(unittest.TestCase):
    """A window of its own for every test, with an empty home folder; errors in slots fail the test."""

    open_demo = True

    def setUp(self):
        self.app = application()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        os.environ["MURVAN_HOME"] = str(self.folder / "home")
        self.guard = guard()  # the product's own hooks; the test fails on any report
        self.guard.reports.clear()
        self.guard.warnings.clear()
        self.guard._last.clear()
        self.heavy = []
        self._watch_thread()
        self.window = MainWindow()
        self.addCleanup(self._close)
        self.window.resize(1280, 800)
        self.window.show()
        QTest.qWaitForWindowExposed(self.window)
        self.window.activateWindow()
        if self.open_demo:
            self.window.doing.files.open_demo()
        self.window.plan.setFocus()
        self.settle()

    def _watch_thread(self):
        """What computes in the window's thread, asked for by the window itself, fails the test."""
        for module, name in HEAVY:
            real = getattr(module, name)

            def watched(*args, _real=real, _name=f"{module.__name__}.{name}", **more):
                if threading.current_thread() is threading.main_thread() and _of_the_window(sys._getframe(1)):
                    self.heavy.append(_name)
                return _real(*args, **more)

            patch = mock.patch.object(module, name, watched)
            patch.start()
            self.addCleanup(patch.stop)

    def _close(self):
        self.window.document.stack.setClean()
        self.window.document._recovered = False
        self.window.close()
        self.window.deleteLater()
        self.app.processEvents()
        left = [t.name for t in threading.enumerate() if t.name == "murvan-solve"]
        self.assertEqual(left, [])
        self.assertEqual(self.troubles, [], "errors in the window's slots")
        self.assertEqual(self.heavy, [], "worked out in the window's thread")
        self.assertEqual([w for w in self.guard.warnings if "QPainter" in w or "QBackingStore" in w], [])

    @property
    def troubles(self):
        return self.guard.reports

    # ---- doing ----

    def open_bare(self, which):
        """A sample as it was surveyed, before anything is designed for it."""
        self.window.doing.files.open_demo(which)
        self.settle()
        self.window.edit("As surveyed", lambda job: changed(job, job.name, design=Design(), options=()))
        self.window.document.stack.clear()
        self.settle()

    def zones_found(self):
        """Wait until what the lens Zones shows belongs to the job."""
        for _ in range(500):
            found = self.window.document.figures.zones
            if found is not None and found.job is self.window.document.job and found.schools is not None:
                return
            self.settle(0.02)
        self.fail("the zones are not worked out")

    def settle(self, seconds: float = 0.0):
        """Let the window work until its figures belong to its job."""
        end, limit = time.monotonic() + seconds, time.monotonic() + 20
        while True:
            self.app.processEvents()
            now = time.monotonic()
            if self.window.document.settled and not self.window.resting and now >= end:
                self.app.processEvents()
                # without a running loop nothing else deletes what waits for it
                QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
                return
            if now > limit:
                self.fail("the window does not settle")
            time.sleep(0.002)

    def key(self, key, modifier=Qt.KeyboardModifier.NoModifier):
        target = QApplication.focusWidget() or self.window
        if isinstance(key, str):
            QTest.keyClicks(target, key, modifier)
        else:
            QTest.keyClick(target, key, modifier)
        self.settle()

    def click(self, widget, at):
        point = at.toPoint() if isinstance(at, QPointF) else at
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, point)
        self.settle()

    def drag(self, widget, start, end, button=Qt.MouseButton.LeftButton, modifier=Qt.KeyboardModifier.NoModifier):
        QTest.mousePress(widget, button, modifier, start)
        for k in (1, 2, 3, 4):
            QTest.mouseMove(
                widget, QPoint(start.x() + (end.x() - start.x()) * k // 4, start.y() + (end.y() - start.y()) * k // 4)
            )
            self.app.processEvents()
        QTest.mouseRelease(widget, button, modifier, end)
        self.settle()

    def station(self, number):
        """Click the station's cell in the job line."""
        self.click(self.window.jobline, self.window.jobline.cell_rect(number).center())
        self.assertEqual(self.window.station_number, number)

    def row(self, kind, item):
        """Click a row of the ledger."""
        rect = self.window.ledger.row_rect((kind, item))
        self.assertFalse(rect.isEmpty(), f"no row {kind} {item}")
        self.click(self.window.ledger, rect.center())

    def field(self, key):
        for _ in range(2):
            for kind in (QLineEdit, QComboBox):
                for w in self.window.card.findChildren(kind, f"field.{key}"):
                    if not w.isHidden():  # a hidden one waits to be deleted
                        return w
            if not self.window.card.unfolded:  # a full card keeps some behind =
                self.window.command("show.arithmetic")
        self.fail(f"no field {key} on the card {self.window.card.spec.title}")

    def type_into(self, key, text, enter=True):
        """Type in a field of the card, and press Enter."""
        edit = self.field(key)
        edit.setFocus()
        edit.selectAll()
        if not text:
            QTest.keyClick(edit, Qt.Key.Key_Delete)
        elif text.isascii():
            QTest.keyClicks(edit, text)
        else:
            edit.insert(text)  # the test library types ASCII only
        if enter:
            QTest.keyClick(edit, Qt.Key.Key_Return)
        self.settle()

    def choose(self, key, value):
        """Pick a value of a choice as a user would: focus, then the arrow keys and Enter on the list."""
        combo = self.field(key)
        k = combo.findData(value)
        self.assertGreaterEqual(k, 0, f"{value} is not offered")
        combo.setCurrentIndex(k)
        combo.activated.emit(k)
        self.settle()

    def button(self, key):
        found = [b for b in self.window.card.findChildren(QPushButton, f"button.{key}") if not b.isHidden()]
        self.assertTrue(found, f"no button {key} on the card {self.window.card.spec.title}")
        b = found[0]
        self.click(b, b.rect().center())

    # ---- seeing ----

    @property
    def job(self):
        return self.window.document.job

    @property
    def view(self):
        return self.window._view

    @property
    def card(self):
        return self.window.card.spec

    def headline(self, station):
        return self.window.jobline.headlines[station - 1]

    def at_room(self, room_id, dx=0.0, dy=0.0):
        c = self.window.plan.sheet.shape(room_id).centre
        return QPoint(int(c.x() + dx), int(c.y() + dy))

    def at_opening(self, opening_id):
        o = next(x for x in self.window.plan.sheet.openings() if x.id == opening_id)
        a, b, _ = self.window.plan.sheet.ends(o)
        return ((a + b) / 2).toPoint()

    def at_m(self, x, y):
        return self.window.plan.sheet.to_px(x, y).toPoint()
