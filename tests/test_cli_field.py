"""`murvan visit`, `diagnose` and `instruments` as typed."""

import contextlib
import io
import json
import re
import signal
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from murvan.cli import main
from murvan.field.instruments import Instrument
from murvan.field.places import places
from tests.houses import demo

ROOT = Path(__file__).parents[1]


class TestField(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def run_(self, *args, code=0):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            self.assertEqual(main(list(args)), code, err.getvalue())
        return out.getvalue() if code == 0 else err.getvalue()

    def diagnosed(self, *faults, seed="6", quick=()):
        file, out = self.folder / "r.csv", self.folder / "d.json"
        self.run_(
            "visit", "demo", *(x for f in faults for x in ("--fault", f)), "--seed", seed, "--out", str(file), *quick
        )
        self.run_("diagnose", "demo", "--readings", str(file), "--json", str(out))
        return json.loads(out.read_text("utf-8"))

    def test_a_visit_is_read_and_its_fault_named(self):
        data = self.diagnosed("filter::4")
        top = data["suspects"][0]
        self.assertEqual((top["fault"], top["where"]), ("filter", "Unit"))
        self.assertGreater(top["share"], 0.9)
        self.assertTrue(data["simulated"])
        self.assertEqual(len(data["residuals"]), 41)
        self.assertTrue(data["best_next"]["enough"])

    def test_no_fault_is_nothing_wrong(self):
        data = self.diagnosed()
        self.assertTrue(data["nothing_wrong"])
        self.assertLess(data["misfit"], 1.6)

    def test_two_faults_stand_in_the_first_three(self):
        data = self.diagnosed("kink:B2:5", "coil::4")
        named = {x["fault"] for x in data["suspects"][:3]}
        self.assertLessEqual({"kink", "coil"}, named | set(data["suspects"][0]["group"]))

    def test_a_quick_visit_leaves_registers_out(self):
        data = self.diagnosed("filter::5", quick=("--quick",))
        self.assertEqual(len(data["residuals"]), 7)
        self.assertEqual(data["suspects"][0]["fault"], "filter")

    def test_the_same_seed_reads_the_same(self):
        one = self.run_("visit", "demo", "--fault", "tap::-2", "--seed", "9")
        self.assertEqual(one, self.run_("visit", "demo", "--fault", "tap::-2", "--seed", "9"))
        self.assertNotEqual(one, self.run_("visit", "demo", "--fault", "tap::-2", "--seed", "10"))
        self.assertTrue(all(row.split(",")[6] == "yes" for row in one.splitlines()[1:]))

    def test_which_damper_next(self):
        file, out = self.folder / "r.csv", self.folder / "b.json"
        self.run_("visit", "demo", "--fault", "damper:B7:0.5", "--seed", "6", "--out", str(file))
        self.run_("balance", "demo", "--readings", str(file), "--json", str(out))
        data = json.loads(out.read_text("utf-8"))
        self.assertLessEqual(len(data["moves"]), 15)
        self.assertLessEqual(data["worst"], 0.1)
        said = self.run_("balance", "demo", "--readings", str(file), "--units", "si")
        self.assertRegex(said, r"1  close \w+ until it reads \d+ L/s, now \d+ L/s")
        self.assertIn("from 1 to 50", self.run_("balance", "demo", "--within", "0", code=2))

    def test_kinds_are_listed_and_words_told(self):
        self.assertIn("boot_off", self.run_("visit", "--kinds"))
        self.assertIn("From simulated readings", self.run_("diagnose", "demo"))
        self.assertIn("name a job", self.run_("visit", code=2))
        self.assertIn("no fault “rust”", self.run_("visit", "demo", "--fault", "rust", code=2))
        empty = self.folder / "e.csv"
        empty.write_text("place,value\nA1,55\n", "utf-8")
        self.assertIn("fewer than three readings", self.run_("diagnose", "demo", "--readings", str(empty), code=2))

    def test_instruments_serve_until_they_are_stopped(self):
        what = "instruments --simulate demo --fault kink:B4:5 --port 0"
        with subprocess.Popen(
            [sys.executable, "-m", "murvan", *what.split()],
            stdout=subprocess.PIPE,
            text=True,
            cwd=ROOT,
            # as a shell starts what runs beside it
            preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_IGN),
        ) as running:
            try:
                said = running.stdout.readline()
                with Instrument(re.search(r"127\.0\.0\.1:\d+", said).group(0)) as line:
                    reading = line.read(demo(), places(demo())["B4"], "m1")
                running.send_signal(signal.SIGINT)
                self.assertEqual(running.wait(10), 0)
            finally:
                running.kill()
        self.assertLess(reading.value, 0.022)
        self.assertTrue(reading.simulated)
        self.assertIn("shares", self.run_("instruments", "--simulate", "demo", "--drop", "2", code=2))
