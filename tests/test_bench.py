"""The benchmark still runs: what it measures is looked at by `./run bench`, not here."""

from __future__ import annotations

import contextlib
import io
import unittest
from unittest import mock

import bench.__main__ as whole
from bench import loads


def once(work, *_):
    """Do it once, in place of many times."""
    work()
    return 1.0


class Bench(unittest.TestCase):
    def test_each_part_of_the_core_is_measured(self):
        parts = (whole.bench_solve, whole.bench_network, loads.bench_weather, loads.bench_study)
        said = io.StringIO()
        with (
            mock.patch.object(whole, "timed", once),
            mock.patch.object(loads, "timed", once),
            contextlib.redirect_stdout(said),
        ):
            for part in parts:
                part()
            whole.bench_start(2)
        self.assertEqual(len(said.getvalue().splitlines()), 12)


if __name__ == "__main__":
    unittest.main()
