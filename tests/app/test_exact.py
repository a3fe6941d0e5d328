"""What the screen says is so: the scale bar by its pixels, a ghost where it lands, the window inside the screen."""

import unittest

from PyQt6.QtCore import QMargins, QPoint, QPointF, QRect, QSize, Qt
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest

from murvan.app.fit_screen import frame_of, inside, settle
from murvan.app.plan.gestures.openings import offset_at, size_for
from murvan.app.sidebar import RAIL_WIDTH, SCALE_LEFT, scale_bar
from murvan.design.drawing.openings import spot_at
from murvan.design.drawing.snap import grid_step_m
from tests.app.base import WindowTest
from tests.app.test_drawing import DrawTest
from tests.houses import FT


class ScaleBar(WindowTest):
    def drawn_px(self):
        """Length of the bar as painted: from its dark half's first pixel to the frame's last one."""
        rail = self.window.rail
        picture = rail.grab().toImage()
        ratio = picture.width() / rail.width()
        y = int((rail.scale_rect().top() + 2) * ratio)
        panel = self.window.prefs.theme("panel")
        dark = [
            x / ratio
            for x in range(int((SCALE_LEFT - 2) * ratio), picture.width())
            if QColor(picture.pixel(x, y)).lightness() < panel.lightness() - 70
        ]
        return max(dark) - min(dark) + 1

    def test_its_length_is_what_its_label_says_at_every_zoom(self):
        plan, rail = self.window.plan, self.window.rail
        for units in ("ip", "si"):
            self.window.prefs.set(units=units)
            self.settle()
            for factor in (1.0, 1.7, 0.5, 0.35, 6.0, 0.1):
                plan.zoom(factor, QPointF(300, 200))
                self.settle()
                half_m, labels = scale_bar(plan.sheet.scale, units == "si")
                self.assertAlmostEqual(self.drawn_px(), 2 * half_m * plan.sheet.scale, delta=2.0)
                value, unit = labels[2].split()
                metres = float(value) * {"ft": FT, "in": FT / 12, "m": 1.0}[unit]
                self.assertAlmostEqual(metres, 2 * half_m, places=9)
                self.assertLess(rail.scale_rect().right(), RAIL_WIDTH)

    def test_it_follows_the_wheel(self):
        before = self.window.rail.px_per_m
        self.window.plan.zoom(1.3, QPointF(300, 200))
        self.assertAlmostEqual(self.window.rail.px_per_m, before * 1.3)


class Ghost(DrawTest):
    def test_a_window_lands_where_its_ghost_stands(self):
        self.tool("r")
        self.room(2, 2, 21.3, 15, "Living", "19 4", "13 2")
        self.tool("w")
        v = self.window.plan.sheet
        for x in (4.13, 8.61, 13.07, 17.4):
            at = self.at_m(x * FT, 2 * FT)
            spot = spot_at(self.job, v.storey, v.to_m(QPointF(at)))
            like = next((o for o in reversed(self.job.openings) if o.kind == "window"), None)
            width = size_for("window", spot, like).width_m
            shown = offset_at(self.job, spot, width, grid_step_m(v.scale, False))
            QTest.mouseMove(self.window.plan, at)
            self.app.processEvents()
            self.press(x, 2)
            self.release(x, 2)
            made = self.job.openings[-1]
            self.assertAlmostEqual(made.offset_m, shown, places=5)

    def test_the_ghost_as_painted_is_the_opening_as_painted(self):
        """The yellow of the ghost before the press against the wall's gap after it."""
        self.tool("r")
        self.room(2, 2, 22, 15, "Living")
        self.tool("w")
        at = self.at_m(8.61 * FT, 2 * FT)
        QTest.mouseMove(self.window.plan, at)
        self.app.processEvents()
        picture = self.window.plan.grab().toImage()
        row = [QColor(picture.pixel(x, at.y())) for x in range(picture.width())]
        yellow = [x for x, c in enumerate(row) if c.red() > 150 and c.green() > 120 and c.blue() < 100]
        self.assertTrue(yellow)
        self.press(8.61, 2)
        self.release(8.61, 2)
        o = next(x for x in self.window.plan.sheet.openings() if x.id == self.job.openings[-1].id)
        a, b, _ = self.window.plan.sheet.ends(o)
        self.assertAlmostEqual(min(yellow), min(a.x(), b.x()), delta=2.5)
        self.assertAlmostEqual(max(yellow), max(a.x(), b.x()), delta=2.5)

    def test_the_plan_keeps_its_ground_in_the_middle_of_a_stroke(self):
        plan = self.window.plan
        self.tool("r")
        self.room(2, 2, 14, 14, "One")
        plan.fit()
        self.tool("r")
        self.press(14, 2)
        self.move(20, 9)
        before = (plan.sheet.scale, QPointF(plan.sheet.origin))
        self.window.resize(1280, 700)
        self.app.processEvents()
        self.assertEqual((plan.sheet.scale, plan.sheet.origin), before)
        self.hit(Qt.Key.Key_Escape)


class OnTheScreen(unittest.TestCase):
    FRAME = QMargins(1, 37, 1, 1)

    def test_the_frame_lies_inside_what_the_desktop_leaves(self):
        for wide, high, panel in ((1280, 800, 0), (1280, 800, 28), (1366, 768, 40), (1920, 1080, 32), (1280, 720, 0)):
            room = QRect(0, panel, wide, high - panel)
            area = inside(room, self.FRAME, QSize(1280, 800), QSize(1000, 600))
            self.assertTrue(room.contains(area.marginsAdded(self.FRAME)), (wide, high, panel, area))
            self.assertGreaterEqual(area.height(), min(800, high - panel - 38))

    def test_on_a_screen_too_small_the_upper_left_corner_stays_in_sight(self):
        area = inside(QRect(0, 0, 900, 500), self.FRAME, QSize(1280, 800), QSize(1000, 600))
        self.assertEqual((area.topLeft(), area.size()), (QPoint(1, 37), QSize(1000, 600)))


class Settled(WindowTest):
    open_demo = False

    def test_a_window_that_sticks_out_is_taken_back(self):
        screen = self.window.screen().availableGeometry()
        self.window.setGeometry(screen.left() + 200, screen.top() + 120, screen.width(), max(screen.height(), 600))
        self.settle()
        settle(self.window)
        self.settle()
        frame = self.window.geometry().marginsAdded(frame_of(self.window))
        if screen.width() >= 1000 and screen.height() >= 600:
            self.assertTrue(screen.contains(frame), (screen, frame))


if __name__ == "__main__":
    unittest.main()
