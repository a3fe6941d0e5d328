"""What would you put in, in the real window: offered, taken up, kept, undone, followed by the house."""

from __future__ import annotations

import time
import unittest
from unittest import mock

from PyQt6.QtCore import Qt

from murvan.app.actions import offering
from murvan.model import replace_part
from tests.app.base import WindowTest


class TestOffers(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.go(3)
        self.settle()
        self.sheet = self.window.offers

    def ask(self):
        self.window.plan.setFocus()
        self.key("p")
        self.assertTrue(self.sheet.isVisible())
        self.found()

    def until(self, so):
        end = time.monotonic() + 30
        while not so():
            self.assertLess(time.monotonic(), end, self.sheet.says)
            self.settle(0.02)

    def found(self):
        self.until(lambda: self.sheet.found and self.sheet.job is self.job)
        self.sheet.grab()  # the buttons lie where they were painted

    def test_taken_up_by_mouse_in_one_step(self):
        before = self.job
        self.ask()
        self.assertGreaterEqual(len(self.sheet.found), 3)
        p = self.sheet.found[1]
        self.click(self.sheet, self.sheet.target("take", 1).center())
        self.assertFalse(self.sheet.isVisible())
        self.assertEqual(self.job.design.name, p.name)
        self.assertEqual(self.job.options[-1], before.design)
        r = self.window._view.r
        self.assertAlmostEqual(sum(s.equipment.chosen.total_w for s in r.systems.values()), p.cooling_w, places=6)
        self.window.command("edit.undo")
        self.settle()
        self.assertEqual(self.job, before)

    def test_by_keys_and_kept_as_an_option(self):
        self.ask()
        self.key(Qt.Key.Key_Right)
        self.key(Qt.Key.Key_Right)
        self.key(Qt.Key.Key_Left)
        self.assertEqual(self.sheet.index, 1)
        name, design = self.sheet.found[1].name, self.job.design
        self.key("o")
        self.assertTrue(self.sheet.isVisible())
        self.assertEqual((self.job.design, self.job.options[-1].name), (design, name))
        self.key("o")
        self.assertEqual([x.name for x in self.job.options[-2:]], [name, f"{name} 2"])
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.job.design.name, f"{name} 3")
        self.assertFalse(self.sheet.isVisible())

    def test_a_changed_house_is_worked_out_anew(self):
        self.ask()
        old = self.sheet.found[0].cooling_load_w
        self.window.document.edit("Hotter", lambda j: replace_part(j, "climate", summer_c=40.0))
        self.settle()
        self.found()
        self.assertGreater(self.sheet.found[0].cooling_load_w, old)

    def test_both_measures_and_themes_and_every_sample(self):
        for demo in ("narrow", "bungalow"):
            self.window.doing.files.open_demo(demo)
            self.window.go(3)
            self.settle()
            self.ask()
            first = self.sheet.grab().toImage()
            self.window.prefs.set(units="si", dark=True)
            self.settle()
            self.assertNotEqual(first, self.sheet.grab().toImage())
            self.window.prefs.set(units="ip", dark=False)
            self.key(Qt.Key.Key_Escape)
            self.assertFalse(self.sheet.isVisible())

    def test_an_empty_house_is_said_and_nothing_is_offered(self):
        self.window.command("file.new")
        self.settle()
        self.window.doing.offering.propose()
        self.until(lambda: "Nothing to offer" in self.sheet.says)
        self.sheet.grab()
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.job.options, ())

    def test_esc_stops_what_is_under_way(self):
        begun = []

        def slow(job, step):
            while step(len(begun), 9):
                begun.append(1)
                time.sleep(0.01)
            return ()

        with mock.patch.object(offering.proposing, "proposals", slow):
            self.window.doing.offering.propose()
            self.until(lambda: "Esc stops" in self.sheet.says)
            self.sheet.close_sheet()
            self.assertFalse(self.window.doing.offering.searcher.busy)
        n = len(begun)
        self.settle(0.1)
        self.assertEqual(len(begun), n)
        self.ask()

    def test_a_failure_is_told_and_the_job_stays(self):
        before = self.job

        def broken(job, step):
            raise ValueError("no such thing")

        with mock.patch.object(offering.proposing, "proposals", broken):
            self.window.doing.offering.propose()
            self.until(lambda: "No design could be worked out" in self.sheet.says)
        self.assertIs(self.job, before)


if __name__ == "__main__":
    unittest.main()
