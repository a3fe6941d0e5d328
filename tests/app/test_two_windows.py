"""Two windows on one job: neither overwrites what the other saved; both are kept and it is said."""

import tempfile
import unittest
from pathlib import Path

from murvan.app.document import JobDocument, beside
from murvan.model import replace
from murvan.model.files import load_job, save_job
from tests.app.base import application
from tests.houses import demo


class TwoWindows(unittest.TestCase):
    def setUp(self):
        self.app = application()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "house.murvan"
        save_job(demo(), self.path)
        self.one, self.two = JobDocument(), JobDocument()
        self.said = []
        for d in (self.one, self.two):
            self.addCleanup(d.shut_down)
            d.open_path(self.path)
            d.message.connect(self.said.append)

    def name(self, document, name):
        document.edit("Rename", lambda job: replace(job, "rooms", job.rooms[0].id, name=name))

    def test_the_second_one_is_saved_beside_and_both_are_kept(self):
        self.name(self.one, "Parlour")
        self.name(self.two, "Snug")
        self.one.save()
        self.two.save()
        self.assertEqual(load_job(self.path).rooms[0].name, "Parlour")
        other = self.path.with_name("house, yours.murvan")
        self.assertEqual(load_job(other).rooms[0].name, "Snug")
        self.assertEqual(self.two.path, other)
        self.assertIn("house.murvan has changed on disk since: it is kept", self.said[-1])

    def test_going_on_in_either_saves_its_own(self):
        self.name(self.one, "Parlour")
        self.name(self.two, "Snug")
        self.one.save()
        self.two.save()
        self.name(self.one, "Parlour 2")
        self.name(self.two, "Snug 2")
        self.one.save()
        self.two.save()
        self.assertEqual(load_job(self.path).rooms[0].name, "Parlour 2")
        self.assertEqual(load_job(self.two.path).rooms[0].name, "Snug 2")
        self.assertEqual(len(list(self.path.parent.glob("*.murvan"))), 2)

    def test_alone_it_saves_where_it_was(self):
        self.name(self.one, "A")
        self.one.save()
        self.name(self.one, "B")
        self.one.save()
        self.assertEqual(load_job(self.path).rooms[0].name, "B")
        self.assertEqual(self.said, [])

    def test_a_file_that_went_is_written_again(self):
        self.path.unlink()
        self.one.save()
        self.assertTrue(self.path.exists())

    def test_names_beside_are_free(self):
        beside(self.path).write_text("x")
        self.assertEqual(beside(self.path).name, "house, yours 2.murvan")


if __name__ == "__main__":
    unittest.main()
