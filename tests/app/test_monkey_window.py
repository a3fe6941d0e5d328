"""A short turn of the monkey at the window; `./run monkey SECONDS SEED` plays longer on a real screen."""

import os
import tempfile
import unittest

from tests.monkey import play


class Short(unittest.TestCase):
    def test_two_seeds(self):
        for seed in (1, 2):
            with tempfile.TemporaryDirectory() as home, self.subTest(seed):
                os.environ["MURVAN_HOME"] = home
                found = [x for x in play(seed, 20.0, turns=220) if ", slow: " not in x]  # a busy machine is slow
                self.assertEqual([x[-900:] for x in found], [])


if __name__ == "__main__":
    unittest.main()
