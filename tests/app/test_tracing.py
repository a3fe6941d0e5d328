"""Pictures, PDFs and DXFs taken under the plan in the real window, put to scale, traced, saved and opened again."""

from __future__ import annotations

import unittest
from unittest import mock

import ezdxf
from PyQt6.QtCore import QPoint, QSizeF, Qt
from PyQt6.QtGui import QColor, QImage, QPageSize, QPainter, QPdfWriter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog
from shapely.geometry import Polygon

from murvan.app import pictures
from murvan.model import load_job
from tests.app.base import WindowTest
from tests.houses import FT, demo

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


class TraceTest(WindowTest):
    open_demo = False

    def setUp(self):
        super().setUp()
        pictures.forget_images()
        self.window.command("file.new")
        self.settle()
        self.window.plan.setFocus()

    def picture(self, name="plan.png", size=(900, 600)):
        """A sheet with a rectangle of 600 by 300 px drawn on it."""
        image = QImage(*size, QImage.Format.Format_RGB32)
        image.fill(QColor("white"))
        p = QPainter(image)
        p.setPen(QColor("black"))
        p.drawRect(100, 100, 600, 300)
        p.end()
        path = self.folder / name
        image.save(str(path))
        return path

    def pdf(self, pages=3):
        path = self.folder / "plan.pdf"
        writer = QPdfWriter(str(path))
        writer.setPageSize(QPageSize(QSizeF(200, 150), QPageSize.Unit.Millimeter))
        p = QPainter(writer)
        for k in range(pages):
            p.drawRect(500, 500, 2000 + 500 * k, 1500)
            if k + 1 < pages:
                writer.newPage()
        p.end()
        return path

    def dxf(self, closed=True):
        document = ezdxf.new("R2010", setup=False)
        document.header["$INSUNITS"] = 2
        space = document.modelspace()
        for r in demo().rooms:
            if r.storey == "ground":
                points = [(x / FT, -y / FT) for x, y in r.outline_m]
                if closed:
                    space.add_lwpolyline(points, close=True)
                    c = Polygon(points).representative_point()
                    space.add_text(r.name).set_placement((c.x, c.y))
                else:
                    space.add_line(points[0], points[1])
        path = self.folder / "plan.dxf"
        document.saveas(path)
        return path

    def take(self, path):
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(path), "")):
            self.window.plan.setFocus()
            self.key("i", Qt.KeyboardModifier.ControlModifier)
        self.settle()

    def px(self, x, y):
        """Where a pixel of the picture lies on the screen."""
        u = self.job.underlays[0]
        return self.at_m(u.position_m[0] + x * u.m_per_px, u.position_m[1] + y * u.m_per_px)


class Pictures(TraceTest):
    def test_a_picture_is_put_to_scale_by_two_points_and_a_typed_length(self):
        self.take(self.picture())
        self.assertEqual(self.window.plan.tool, "scale")
        plan = self.window.plan
        a, b = self.px(100, 100), self.px(700, 100)
        QTest.mousePress(plan, LEFT, NONE, a)
        QTest.mouseMove(plan, (a + b) / 2)
        QTest.mouseMove(plan, b)
        QTest.mouseRelease(plan, LEFT, NONE, b)
        QTest.keyClicks(plan, "30'")
        QTest.keyClick(plan, Qt.Key.Key_Return)
        self.settle()
        self.assertAlmostEqual(600 * self.job.underlays[0].m_per_px, 30 * FT, delta=0.05)
        self.assertEqual(self.window.document.stack.undoText(), "Set the picture's scale")
        self.assertIn("to scale", self.card.mark_text)

    def test_two_clicks_do_as_well_as_a_drag(self):
        self.take(self.picture())
        plan = self.window.plan
        self.click(plan, self.px(100, 100))
        QTest.mouseMove(plan, self.px(700, 100))
        self.click(plan, self.px(700, 100))
        QTest.mouseMove(plan, self.px(300, 300))
        QTest.keyClicks(plan, "10 m")
        QTest.keyClick(plan, Qt.Key.Key_Return)
        self.settle()
        self.assertAlmostEqual(600 * self.job.underlays[0].m_per_px, 10.0, delta=0.1)

    def test_a_room_is_drawn_over_it(self):
        self.take(self.picture())
        self.key("r")
        self.drag(self.window.plan, self.px(100, 100), self.px(700, 400))
        self.assertEqual(len(self.job.rooms), 1)
        self.assertEqual(len(self.job.underlays), 1)

    def test_it_is_moved_hidden_and_taken_away(self):
        self.take(self.picture())
        self.key("u")
        before = self.job.underlays[0].position_m
        self.drag(self.window.plan, self.px(300, 300), self.px(300, 300) + QPoint(60, 0))
        self.assertGreater(self.job.underlays[0].position_m[0], before[0])
        self.choose(f"{self.job.underlays[0].id}.shown", "no")
        self.assertFalse(self.job.underlays[0].shown)
        self.window.select("underlay", self.job.underlays[0].id)
        self.window.command("house.remove")
        self.settle()
        self.assertEqual(self.job.underlays, ())

    def test_it_is_saved_in_the_job_and_is_there_again_elsewhere(self):
        self.take(self.picture())
        path = self.folder / "traced.murvan"
        self.window.document.save(path)
        self.assertEqual(load_job(path), self.job)
        name = self.job.underlays[0].file
        for file in pictures.folder().iterdir():
            file.unlink()
        pictures.forget_images()
        self.assertIsNone(pictures.page_image(name, 1))
        self.assertTrue(self.window.doing.files.open_path(path))
        self.settle()
        self.assertIsNotNone(pictures.page_image(name, 1))

    def test_a_plain_json_says_that_it_has_no_pictures(self):
        self.take(self.picture())
        self.window.document.save(self.folder / "traced.json")
        self.assertIn("only in .murvan", self.window.status.message)

    def test_a_page_of_a_pdf_is_chosen(self):
        self.take(self.pdf())
        self.assertIn("page 1 of 3", self.window.status.message)
        u = self.job.underlays[0]
        self.assertGreater(u.width_px, 1000)
        self.window.select("underlay", u.id)
        self.settle()
        self.choose(f"{u.id}.page", "2")
        self.assertEqual(self.job.underlays[0].page, 2)
        self.assertFalse(pictures.page_image(u.file, 2).isNull())

    def test_what_can_not_lie_under_the_plan_is_said(self):
        before = self.job
        big = self.folder / "big.png"
        with big.open("wb") as out:
            out.truncate(40 * 1000 * 1000)
        torn = self.folder / "torn.png"
        torn.write_bytes(self.picture().read_bytes()[:200])
        fake = self.folder / "fake.pdf"
        fake.write_bytes(b"%PDF-1.4 nothing")
        for path, words in (
            (big, "big.png is 40 MB"),
            (torn, "torn.png is not a PNG"),
            (fake, "fake.pdf is not a PDF"),
        ):
            with self.subTest(path.name):
                self.take(path)
                self.assertIn(words, self.window.status.message)
                self.assertIs(self.job, before)

    def test_without_a_picture_the_tools_say_so(self):
        self.key("l")
        self.click(self.window.plan, QPoint(300, 200))
        self.assertIn("no picture", self.window.status.message)


class Drawings(TraceTest):
    def test_closed_polylines_turn_into_rooms_in_one_step(self):
        self.take(self.dxf())
        names = {r.name for r in self.job.rooms}
        self.assertEqual(names, {r.name for r in demo().rooms if r.storey == "ground"})
        self.assertEqual(self.window.document.stack.undoText(), "Trace plan.dxf")
        self.assertEqual(self.window.document.stack.count(), 1)
        for r in self.job.rooms:
            wanted = next(x for x in demo().rooms if x.name == r.name)
            self.assertLess(Polygon(r.outline_m).symmetric_difference(Polygon(wanted.outline_m)).area, 0.01, r.name)
        self.window.document.stack.undo()
        self.settle()
        self.assertEqual((self.job.rooms, self.job.underlays), ((), ()))

    def test_a_drawing_without_closed_shapes_lies_under_the_plan(self):
        self.take(self.dxf(closed=False))
        self.assertEqual(self.job.rooms, ())
        self.assertEqual(len(self.job.underlays), 1)
        self.assertIn("no closed shape", self.window.status.message)

    def test_a_broken_drawing_changes_nothing(self):
        path = self.folder / "plan.dxf"
        path.write_bytes(b"\x00\x01broken")
        before = self.job
        self.take(path)
        self.assertIn("plan.dxf", self.window.status.message)
        self.assertIs(self.job, before)


if __name__ == "__main__":
    unittest.main()
