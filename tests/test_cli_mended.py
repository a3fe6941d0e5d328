"""The command line at its edges: pipes, plain terminals, names, displays, jobs that can't be computed."""

import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from murvan import cli
from murvan.demo import demo_job
from murvan.model.files import save_job

ROOT = Path(__file__).parents[1]


def run(*args, **env):
    clean = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    return subprocess.run(
        [sys.executable, "-m", "murvan", *args],
        capture_output=True,
        env={**clean, "PYTHONPATH": str(ROOT), **env},
        timeout=60,
    )


class Edges(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.job = Path(folder.name) / "a.murvan"
        save_job(demo_job(), self.job)
        self.before = self.job.read_bytes()

    def refused(self, *args, words):
        with mock.patch("sys.stderr") as err:
            self.assertEqual(cli.main(args), 2)
        said = "".join(c.args[0] for c in err.write.call_args_list)
        self.assertIn(words, said)
        self.assertEqual(said.strip().count("\n"), 0)
        self.assertEqual(self.job.read_bytes(), self.before)

    def test_outputs_onto_the_job_itself(self):
        link = self.job.with_name("link.json")
        link.symlink_to(self.job)
        for args in (
            ("solve", str(self.job), "--json", str(self.job)),
            ("solve", str(self.job), "--json", str(link)),
            ("report", str(self.job), "--pdf", str(self.job)),
            ("export", str(self.job), "--xlsx", str(self.job)),
        ):
            self.refused(*args, words="the job itself")
        self.refused("report", str(self.job), "--pdf", "x.pdf", "--loads", "x.pdf", words="what --pdf names")

    def test_empty_names(self):
        for args in (
            ("solve", str(self.job), "--json", ""),
            ("report", str(self.job), "--pdf", ""),
            ("export", str(self.job), "--xlsx", " "),
            ("import", str(self.job), os.devnull, "--out", ""),
        ):
            with self.subTest(args[0]), mock.patch("sys.stderr"):
                self.assertEqual(cli.main(args), 2)

    def test_a_closed_pipe_ends_quietly(self):
        command = f"{sys.executable} -m murvan solve {self.job} | head -c 10"
        done = subprocess.run(command, shell=True, capture_output=True, env={**os.environ, "PYTHONPATH": str(ROOT)})
        self.assertEqual(done.stderr, b"")

    def test_a_terminal_that_knows_ascii_only(self):
        done = run("check", str(self.job), "--units", "si", PYTHONIOENCODING="ascii", LC_ALL="C")
        self.assertEqual(done.stderr, b"")
        self.assertEqual(done.returncode, 1)

    def test_no_display(self):
        done = run("open", "demo")
        self.assertEqual((done.returncode, done.stderr.count(b"\n")), (2, 1))
        self.assertIn(b"no display", done.stderr)

    def test_a_job_that_cannot_be_computed(self):
        with mock.patch("murvan.design.solve", side_effect=ArithmeticError("no way")):
            self.refused("check", str(self.job), words="can't be computed")

    def test_devices_and_modes(self):
        self.assertEqual(cli.main(["solve", str(self.job), "--json", os.devnull]), 0)
        out = self.job.with_name("out.json")
        out.write_text("")
        out.chmod(0o600)
        self.assertEqual(cli.main(["solve", str(self.job), "--json", str(out)]), 0)
        self.assertEqual(out.stat().st_mode & 0o777, 0o600)
        out.chmod(0o400)
        with mock.patch("sys.stderr"):
            self.assertEqual(cli.main(["solve", str(self.job), "--json", str(out)]), 2)


if __name__ == "__main__":
    unittest.main()
