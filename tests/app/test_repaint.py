"""What is on the screen after partial paints is what a paint of everything would show."""

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication

from murvan.model import replace, replace_part, with_design
from tests.app.base import WindowTest
from tests.houses import set_unit

EDGES = 12
"""Points that may differ: the edge of a hatch falls otherwise where a paint is clipped; a digit is more than that."""

EDITS = {
    "people": lambda j: replace(j, "rooms", "living", people=6.0),
    "a name": lambda j: replace(j, "rooms", "living", name="Parlour with a long name"),
    "a window": lambda j: replace(j, "openings", "G1", width_m=0.5),
    "a damper": lambda j: replace(j, "runs", "A4", damper=0.3),
    "a size": lambda j: replace(j, "runs", "A2", diameter_m=0.1),
    "a register": lambda j: replace(j, "registers", "A3", width_m=0.15),
    "leakage": lambda j: replace_part(j, "leakage", ach50=9.0),
    "a tick": lambda j: with_design(j, ticks=j.design.ticks[1:]),
    "no unit": lambda j: set_unit(j, unit=None),
}


def pixels(picture):
    image = picture.toImage().convertToFormat(QImage.Format.Format_RGB32)
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    return np.frombuffer(bits, np.uint8).reshape(image.height(), -1, 4)[:, : image.width(), :3].copy()


class Repaint(WindowTest):
    def setUp(self):
        flash = QApplication.cursorFlashTime()
        QApplication.setCursorFlashTime(0)
        self.addCleanup(QApplication.setCursorFlashTime, flash)
        super().setUp()

    def same(self, what):
        """The screen as it is against everything drawn anew, nothing kept."""
        self.settle(0.1)
        QApplication.sendPostedEvents()  # a bar of the card that comes or goes is laid out by an event of its own
        self.settle(0.0)
        shown = pixels(self.window.screen().grabWindow(int(self.window.winId())))
        plan = self.window.plan
        plan.sheet.kept.clear()
        plan._picture = self.window.strip._kept = None
        differ = (shown != pixels(self.window.grab())).any(axis=2)
        if differ.sum() > EDGES:
            y, x = np.argwhere(differ).T
            self.fail(f"{what}: {differ.sum()} points differ, x {x.min()} to {x.max()}, y {y.min()} to {y.max()}")

    def test_nothing_is_laid_out_anew_where_nothing_moved(self):
        shown = []
        before = self.window._show_station
        self.window._show_station = lambda view: (shown.append(view), before(view))
        for station in range(1, 9):
            self.window.go(station)
            self.settle()
            del shown[:]
            self.window.refresh()
            self.assertEqual(shown, [], f"station {station}")
        self.window.set_hour(15)
        self.assertTrue(shown)

    def test_after_every_kind_of_edit_at_every_station(self):
        for number in (1, 2, 3, 4, 5, 6, 7):
            self.window.go(number)
            self.same(f"station {number}")
            for name, edit in list(EDITS.items()).__iter__():
                self.window.edit(name, edit)
                self.same(f"station {number}, {name}")
                self.window.document.stack.undo()
            self.same(f"station {number}, all undone")

    def test_after_what_changes_the_view(self):
        for number in (2, 5, 7):
            self.window.go(number)
            for name, act in {
                "SI": lambda: self.window.prefs.set(units="si"),
                "dark": lambda: self.window.prefs.set(dark=True),
                "upper": lambda: self.window.set_storey("upper"),
                "pan": lambda: self.window.plan.pan(QPointF(30, 20)),
                "zoom": lambda: self.window.plan.zoom(1.3, QPointF(300, 200)),
                "lens": lambda: self.window.set_lens(1),
                "glove": lambda: self.window.prefs.set(glove=True),
                "small": lambda: self.window.resize(1100, 700),
                "room": lambda: self.window.document.select("room", "bed2"),
                "back": lambda: self.window.prefs.set(units="ip", dark=False, glove=False),
            }.items():
                act()
                self.settle(0.4)
                self.same(f"station {number}, {name}")
            self.window.resize(1280, 800)
            self.window.set_storey("ground")
            self.window.set_lens(0)


if __name__ == "__main__":
    import unittest

    unittest.main()
