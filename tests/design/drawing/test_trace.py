"""Drawings written by ezdxf traced back into rooms; underlays put to scale."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path
from unittest import mock

import ezdxf
from shapely.geometry import Polygon

from murvan.design import solve
from murvan.design.drawing.trace import lay_under, read_dxf, rescale, rooms_from, shift_underlay
from murvan.model import JobValueError, Underlay
from murvan.model.edit import changed
from murvan.model.errors import JobFileError
from tests.houses import FT, box, demo


def empty():
    return changed(box(), "", rooms=(), openings=())


class Dxf(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "plan.dxf"

    def write(self, draw, units=6):
        document = ezdxf.new("R2010", setup=False)
        document.header["$INSUNITS"] = units
        draw(document)
        document.saveas(self.path)
        return read_dxf(self.path)

    def ground_floor(self, scale=1.0, units=6, names=True):
        """The ground floor of the demo as closed polylines, y up, away from the origin."""
        rooms = [r for r in demo().rooms if r.storey == "ground"]

        def draw(document):
            space = document.modelspace()
            for r in rooms:
                points = [(100 + x / scale, 50 - y / scale) for x, y in r.outline_m]
                space.add_lwpolyline(points, close=True)
                if names:
                    c = Polygon(points).representative_point()
                    space.add_text(r.name.upper()).set_placement((c.x, c.y))

        return self.write(draw, units)

    def test_the_ground_floor_comes_back(self):
        drawn = rooms_from(empty(), "g", self.ground_floor())
        wanted = {r.name: Polygon(r.outline_m) for r in demo().rooms if r.storey == "ground"}
        found = {r.name: Polygon(r.outline_m) for r in drawn.job.rooms}
        self.assertEqual(set(found), set(wanted))
        for name, polygon in wanted.items():
            self.assertLess(found[name].symmetric_difference(polygon).area, 1e-3, name)
        self.assertEqual({r.name: r.use for r in drawn.job.rooms}["Kitchen"], "kitchen")
        self.assertIn("6 rooms", drawn.say)

    def test_walls_between_traced_rooms_are_shared(self):
        g = solve(rooms_from(empty(), "g", self.ground_floor()).job).geometry
        outside = sum(w.length_m for w in g.walls if w.other == "outdoors")
        self.assertAlmostEqual(outside, 2 * (44 + 26) * FT, places=2)

    def test_units_of_the_file_count(self):
        for code, unit in ((1, 0.0254), (2, FT), (4, 0.001), (5, 0.01)):
            with self.subTest(code):
                drawing = self.ground_floor(unit, code)
                self.assertAlmostEqual(drawing.size_m[0], 44 * FT, places=2)
                self.assertTrue(drawing.unit_known)

    def test_without_units_the_likely_one_is_taken_and_said(self):
        for unit in (0.0254, 0.001, 1.0):
            with self.subTest(unit):
                drawing = self.ground_floor(unit, 0)
                self.assertAlmostEqual(drawing.size_m[0], 44 * FT, places=2)
                self.assertIn("check a length", rooms_from(empty(), "g", drawing).say)

    def test_the_outline_of_the_house_is_no_room(self):
        def draw(document):
            space = document.modelspace()
            space.add_lwpolyline([(0, 0), (10, 0), (10, 6), (0, 6)], close=True)
            space.add_lwpolyline([(0, 0), (4, 0), (4, 6), (0, 6)], close=True)
            space.add_lwpolyline([(4, 0), (10, 0), (10, 6), (4, 6), (4, 0)])
            space.add_lwpolyline([(4, 0), (10, 0), (10, 6), (4, 6), (4, 0)])

        job = rooms_from(empty(), "g", self.write(draw)).job
        self.assertEqual(sorted(round(Polygon(r.outline_m).area) for r in job.rooms), [24, 36])

    def test_blocks_and_arcs(self):
        def draw(document):
            block = document.blocks.new("ROOM")
            block.add_lwpolyline([(0, 0, 0, 0, 0), (4, 0, 0, 0, 1.0), (4, 4, 0, 0, 0), (0, 4, 0, 0, 0)], close=True)
            document.modelspace().add_blockref("ROOM", (10, 10))

        job = rooms_from(empty(), "g", self.write(draw)).job
        self.assertAlmostEqual(Polygon(job.rooms[0].outline_m).area, 16 + 3.14159 * 2, delta=0.2)

    def test_lines_alone_make_no_room_but_can_be_traced(self):
        drawing = self.write(lambda d: d.modelspace().add_line((0, 0), (9, 0)))
        self.assertEqual(len(drawing.lines), 1)
        with self.assertRaisesRegex(JobValueError, "no closed shape of a room's size"):
            rooms_from(empty(), "g", drawing)

    def test_rooms_that_are_there_already_are_said(self):
        drawing = self.ground_floor()
        job = rooms_from(empty(), "g", drawing).job
        with self.assertRaisesRegex(JobValueError, "here already"):
            rooms_from(job, "g", drawing)

    def test_what_is_no_drawing_is_refused(self):
        for content in (b"", b"nonsense\nlines\n", b"\x00\xff" * 50):
            with self.subTest(content[:8]):
                self.path.write_bytes(content)
                with self.assertRaisesRegex(JobFileError, "plan.dxf( is not a DXF|: nothing)"):
                    read_dxf(self.path)
        self.path.unlink()
        with self.assertRaisesRegex(JobFileError, "Can't read plan.dxf"):
            read_dxf(self.path)

    def test_whatever_the_library_ends_with_is_a_refusal_in_words(self):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "plan.dxf"
            ezdxf.new().saveas(file)
            for trouble in (AssertionError(type), RecursionError(), EOFError()):
                with mock.patch("ezdxf.recover.readfile", side_effect=trouble):
                    with self.assertRaisesRegex(JobFileError, "plan.dxf is not a DXF drawing, or it is damaged"):
                        read_dxf(file)

    def test_an_empty_drawing_is_said(self):
        with self.assertRaisesRegex(JobFileError, "nothing is drawn"):
            self.write(lambda d: None)


class Underlays(unittest.TestCase):
    def job(self):
        under = Underlay(id="under1", name="Plan", storey="g", file="plans/a.png", width_px=1000, height_px=800)
        return lay_under(box(), under).job

    def test_two_points_and_a_length_put_it_to_scale(self):
        job = rescale(self.job(), "under1", (1.0, 2.0), (4.0, 6.0), 10.0)
        u = job.underlays[0]
        self.assertAlmostEqual(u.m_per_px, 0.02)
        # the picture's point under the first one stays there
        before = ((1.0 - 0.0) / 0.01, (2.0 - 0.0) / 0.01)
        self.assertAlmostEqual(u.position_m[0] + before[0] * u.m_per_px, 1.0)
        self.assertAlmostEqual(u.position_m[1] + before[1] * u.m_per_px, 2.0)

    def test_impossible_scales_are_refused(self):
        for a, b, length, words in (
            ((1, 1), (1, 1), 3.0, "two points are one"),
            ((1, 1), (2, 1), 0.0, "can't be told"),
            ((1, 1), (2, 1), -3.0, "can't be told"),
        ):
            with self.subTest(words), self.assertRaisesRegex(JobValueError, words):
                rescale(self.job(), "under1", a, b, length)
        with self.assertRaisesRegex(JobValueError, "no picture"):
            rescale(box(), "under1", (0, 0), (1, 0), 1.0)

    def test_it_moves_and_a_newer_one_takes_its_place(self):
        job = shift_underlay(self.job(), "under1", 1.0, -0.5)
        self.assertEqual(job.underlays[0].position_m, (1.0, -0.5))
        newer = Underlay(id="under2", name="Other", storey="g", file="plans/b.png", width_px=10, height_px=10)
        self.assertEqual([u.shown for u in lay_under(job, newer).job.underlays], [False, True])


if __name__ == "__main__":
    unittest.main()
