"""The benchmark still runs: what it measures is looked at by `./run bench`, not here."""

from __future__ import annotations

import contextlib
import io
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import bench.__main__ as whole
from bench import loads
from bench.history import History


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


class TestHistory(unittest.TestCase):
    def test_a_figure_that_fell_by_a_quarter_is_said(self):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "history.csv"
            for ms in (10.0, 11.0, 20.0):
                here = History(file, "a machine")
                with mock.patch("bench.history.yardstick_ms", return_value=5.0):
                    here.take("  a solve", f"{ms} ms, 3x")
                    here.take("memory", "120 MB")
                said = here.fallen()
                here.keep()
                self.assertEqual(len(said), ms == 20.0, said)
            self.assertIn("a solve: 1.82 times as long", said[0])
            self.assertEqual(History(file, "another").last(), {})
            self.assertEqual(len(file.read_text().splitlines()), 4)


if __name__ == "__main__":
    unittest.main()
