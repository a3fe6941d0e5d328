"""A few hundred broken files and kills, seeded; the campaign in full is `./run fuzz N`."""

import unittest

from tests.fuzz import KINDS, kills, troubles

COUNT = {"EPW": 8, "job JSON": 60, "job zip": 40, "DXF": 40}


class Broken(unittest.TestCase):
    def test_every_kind_of_file_is_taken_or_refused_in_words(self):
        for kind in KINDS:
            with self.subTest(kind):
                self.assertEqual(list(troubles(kind, COUNT.get(kind, 80), 3)), [])

    def test_a_killed_save_loses_nothing(self):
        self.assertEqual(list(kills(6, 1)), [])


if __name__ == "__main__":
    unittest.main()
