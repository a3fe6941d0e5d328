"""Lengths typed in the middle of a stroke, pictures taken and kept: the parts below the window."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtGui import QColor, QImage  # noqa: E402

from murvan.app import pictures  # noqa: E402
from murvan.app.main import application  # noqa: E402
from murvan.app.plan.gestures.base import Lengths  # noqa: E402
from murvan.design.drawing.trace import Drawing  # noqa: E402
from murvan.model import Job, JobValueError, Storey, Underlay  # noqa: E402
from murvan.model.errors import JobFileError  # noqa: E402
from murvan.units import FOOT, INCH, said  # noqa: E402


class TypedLengths(unittest.TestCase):
    def typed(self, text, units="ip"):
        lengths = Lengths(("across", "down"), units)
        for character in text:
            lengths.type(character)
        return lengths

    def test_what_a_tape_reads(self):
        for text, metres in (("17", 17 * FOOT), ("17' 6", 17.5 * FOOT), ("4.2 m", 4.2), ("30 in", 30 * INCH)):
            with self.subTest(text):
                self.assertAlmostEqual(self.typed(text).value(0), metres)

    def test_in_metres_a_bare_number_is_metres(self):
        self.assertEqual(self.typed("4.2", "si").value(0), 4.2)

    def test_letters_of_no_unit_are_not_taken(self):
        lengths = Lengths(("across",), "ip")
        self.assertFalse(lengths.type("q"))
        self.assertFalse(lengths.type("w"))
        self.assertFalse(lengths.type(" "), "a length does not begin with a blank")
        self.assertTrue(lengths.type("1"))

    def test_without_fields_nothing_is_taken(self):
        self.assertFalse(Lengths((), "ip").type("1"))
        self.assertFalse(Lengths((), "ip").back())
        self.assertIsNone(Lengths((), "ip").value(0))

    def test_back_and_next_and_clear(self):
        lengths = self.typed("12")
        self.assertTrue(lengths.back())
        self.assertEqual(lengths.texts, ["1", ""])
        lengths.next()
        lengths.type("9")
        self.assertEqual(lengths.texts, ["1", "9"])
        lengths.next(-1)
        self.assertEqual(lengths.at, 0)
        self.assertTrue(lengths.typed)
        lengths.clear()
        self.assertFalse(lengths.typed)
        self.assertFalse(lengths.back())

    def test_what_can_not_be_read_is_said_and_follows_the_pointer(self):
        lengths = self.typed("1//2")
        self.assertIsNone(lengths.value(0))
        self.assertIn("1//2", lengths.trouble)
        self.assertEqual(self.typed("12").trouble, "")


class Refusals(unittest.TestCase):
    def test_figures_of_a_refusal_are_in_the_users_units(self):
        trouble = JobValueError("The wall is ", ("feet", 3.048), " long and has ", ("area", 1.0), ".")
        self.assertEqual(str(trouble), "The wall is 3.05 m long and has 1.00 m².")
        self.assertEqual(said(trouble, "ip"), "The wall is 10′ 0″ long and has 10.8 ft².")
        self.assertEqual(said(trouble, "si"), "The wall is 3.05 m long and has 1.0 m².")

    def test_any_other_trouble_is_said_as_it_is(self):
        self.assertEqual(said(ValueError("no place to save to"), "ip"), "no place to save to")


class Pictures(unittest.TestCase):
    def setUp(self):
        application()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        os.environ["MURVAN_HOME"] = str(self.folder / "home")
        pictures.forget_images()

    def image(self, width=60, height=40, name="a.png"):
        image = QImage(width, height, QImage.Format.Format_RGB32)
        image.fill(QColor("white"))
        path = self.folder / name
        image.save(str(path))
        return path

    def test_the_same_picture_is_kept_once(self):
        first, second = pictures.take(self.image()), pictures.take(self.image(name="b.png"))
        self.assertEqual(first, second)
        self.assertEqual(first[1:], (60, 40, 1))
        self.assertEqual(len(list(pictures.folder().iterdir())), 1)

    def test_a_very_large_one_is_made_smaller(self):
        name, width, height, _ = pictures.take(self.image(9000, 300))
        self.assertEqual((width, height), (6000, 200))
        self.assertEqual(pictures.page_image(name, 1).width(), 6000)

    def test_what_a_job_refers_to_is_found_and_what_is_gone_is_left_out(self):
        name = pictures.take(self.image())[0]
        under = [
            Underlay(id=f"u{k}", name="Plan", storey="g", file=file, width_px=60, height_px=40)
            for k, file in enumerate((name, "plans/gone.png"))
        ]
        job = Job(name="J", storeys=(Storey(id="g", name="G", height_m=2.5),), underlays=tuple(under))
        self.assertEqual(set(pictures.of_job(job)), {name})
        self.assertIsNone(pictures.pixmap("plans/gone.png", 1, False))

    def test_dark_turns_the_colours_over(self):
        name = pictures.take(self.image())[0]
        light = pictures.pixmap(name, 1, False).toImage().pixelColor(5, 5)
        dark = pictures.pixmap(name, 1, True).toImage().pixelColor(5, 5)
        self.assertEqual((light.lightness(), dark.lightness()), (255, 0))

    def test_a_drawing_becomes_a_picture_to_scale(self):
        drawing = Drawing((), (((0.0, 0.0), (10.0, 0.0), (10.0, 5.0)),), (), True)
        data, width, height, m_per_px = pictures.drawn(drawing)
        self.assertTrue(data.startswith(b"\x89PNG"))
        self.assertAlmostEqual(width * m_per_px, 10.0, delta=0.1)
        self.assertAlmostEqual(height * m_per_px, 5.0, delta=0.1)

    def test_refusals_name_the_file(self):
        big = self.folder / "big.jpg"
        with big.open("wb") as out:
            out.truncate(40_000_000)
        text = self.folder / "text.png"
        text.write_text("no picture")
        for path, words in (
            (big, "big.jpg is 40 MB"),
            (text, "text.png is not a PNG or JPEG"),
            (self.folder / "none.png", "Can't read none.png"),
        ):
            with self.subTest(path.name), self.assertRaisesRegex(JobFileError, words):
                pictures.take(path)


if __name__ == "__main__":
    unittest.main()
