"""The command line as a user runs it."""

import contextlib
import io
import json
import os
import subprocess
import sys
import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

from murvan.catalog import multi_units
from murvan.catalog import units as shipped
from murvan.cli import main
from murvan.model import Job, load_job, save_job
from tests.design.weather.test_weather import epw
from tests.houses import demo


def run(*args):
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        try:
            status = main(list(args))
        except SystemExit as exc:  # --help and --version leave this way
            status = exc.code
    return status, out.getvalue(), err.getvalue()


class TestCommands(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_solve_to_file_and_to_output(self):
        status, _, err = run("solve", "demo", "--json", str(self.folder / "r.json"))
        self.assertEqual((status, err), (0, ""))
        data = json.loads((self.folder / "r.json").read_text("utf-8"))
        self.assertAlmostEqual(data["house"]["floor_area_m2"], 212.56, places=1)
        status, out, _ = run("solve", "demo")
        self.assertEqual(json.loads(out)["rooms"], data["rooms"])

    def test_saved_job_gives_the_same(self):
        save_job(demo(), self.folder / "a.murvan")
        self.assertEqual(run("solve", str(self.folder / "a.murvan"))[1], run("solve", "demo")[1])

    def test_units_listed_written_checked_and_added(self):
        home = mock.patch.dict(os.environ, MURVAN_HOME=str(self.folder / "home"))
        home.start()
        self.addCleanup(home.stop)
        status, out, _ = run("units", "--kind", "wall")
        n = sum(u.kind == "wall" for u in shipped().values())
        self.assertEqual((status, len(out.splitlines())), (0, n))
        self.assertIn("wexley-w9  Wexley W9 wall · wall unit, variable speed · cools 9,001 Btu/h", out)
        self.assertIn("2,638 W", run("units", "--kind", "wall", "--units", "si")[1])
        sheet, data = self.folder / "u.csv", self.folder / "u.json"
        self.assertEqual(run("units", "--kind", "wall", "--csv", str(sheet), "--json", str(data))[0], 0)
        status, _, err = run("units", "--add", str(sheet))
        self.assertEqual(status, 2)
        self.assertIn("the id 'wexley-w9' is that of a shipped unit", err)
        text = sheet.read_text("utf-8").replace("wexley-w", "mine-w").replace("tavvin-t", "mine-t")
        sheet.write_text(text, "utf-8")
        status, out, _ = run("units", "--add", str(sheet))
        self.assertEqual((status, len(out.splitlines())), (0, n))
        self.assertIn("Added Wexley W12 wall", out)
        self.assertEqual(run("units", "--kind", "wall")[1].count("your own"), n)
        data.write_text(data.read_text("utf-8").replace('"nominal_w": 2638.0', '"nominal_w": -1'), "utf-8")
        status, _, err = run("units", "--add", str(data))
        self.assertEqual(status, 2)
        self.assertIn("W9 wall, nominal capacity", err)
        self.assertEqual(run("units", "--add", str(self.folder / "none.csv"))[0], 2)
        sheet.write_bytes(b"\xff\xfe\x00")
        self.assertIn("not a text file", run("units", "--add", str(sheet))[2])
        self.assertEqual(run("units", "--kind", "wall")[1].count("your own"), n)

    def test_outdoor_units_with_ports_listed_and_added(self):
        home = mock.patch.dict(os.environ, MURVAN_HOME=str(self.folder / "home"))
        home.start()
        self.addCleanup(home.stop)
        status, out, _ = run("units", "--kind", "outdoor")
        self.assertEqual((status, len(out.splitlines())), (0, len(multi_units())))
        self.assertIn("wexley-m24  Wexley M24 3-port · outdoor unit with 3 ports · cools 24,001 Btu/h", out)
        data = self.folder / "m.json"
        self.assertEqual(run("units", "--kind", "outdoor", "--json", str(data))[0], 0)
        self.assertIn("shipped unit", run("units", "--add", str(data))[2])
        data.write_text(data.read_text("utf-8").replace("wexley-m", "mine-m").replace("tavvin-o", "mine-o"), "utf-8")
        self.assertIn("Added Wexley M24 3-port", run("units", "--add", str(data))[1])
        self.assertEqual(run("units", "--kind", "outdoor")[1].count("your own"), len(multi_units()))
        sheet = self.folder / "m.csv"
        self.assertEqual(run("units", "--kind", "outdoor", "--csv", str(sheet))[0], 0)
        sheet.write_text(sheet.read_text("utf-8").replace("wexley-m", "own-m").replace("tavvin-o", "own-o"), "utf-8")
        self.assertIn("Added Wexley M24 3-port", run("units", "--add", str(sheet))[1])
        self.assertEqual(run("units", "--kind", "outdoor")[1].count("your own"), 2 * len(multi_units()))

    def test_layout(self):
        out, job = self.folder / "l.json", self.folder / "ducts.murvan"
        status, said, _ = run("layout", "bungalow", "--json", str(out), "--take", "1", "--out", str(job))
        self.assertEqual(status, 0)
        found = json.loads(out.read_text("utf-8"))["layouts"]
        self.assertIn(f"Took {found[0]['name']}", said)
        self.assertTrue(load_job(job).design.runs)
        self.assertIn("1  ", run("layout", "narrow")[1])
        self.assertEqual(run("layout", "bungalow", "--place", "2.0,2.0,ground")[0], 0)
        for args, words in (
            (("--take", "9", "--out", str(job)), "there are"),
            (("--take", "1"), "go together"),
            (("--place", "here"), "wants X,Y,STOREY"),
            (("--place", "1,1,attic"), "no storey 'attic'"),
        ):
            status, _, err = run("layout", "bungalow", *args)
            self.assertEqual(status, 2)
            self.assertIn(words, err)
        save_job(Job(name="Empty"), self.folder / "e.murvan")
        self.assertEqual(run("layout", str(self.folder / "e.murvan"))[0], 2)

    def test_section(self):
        file = self.folder / "cut.svg"
        status, said, _ = run("section", "demo", "--at", "x=4.0", "--svg", str(file), "--units", "si")
        self.assertEqual(status, 0)
        self.assertIn("<svg", file.read_text("utf-8"))
        self.assertTrue(any("mm" in line for line in said.splitlines()), said)
        self.assertIn("<svg", run("section", "demo", "--at", "1,1,9,1", "--svg", "-")[1])
        for at in ("x=north", "z=3", "1,2", "x=400", "1,1,1,1"):
            status, _, err = run("section", "demo", "--at", at)
            self.assertEqual((status, err.count("\n")), (2, 1), at)

    def test_prices(self):
        status, said, _ = run("prices", "demo", "--units", "si")
        self.assertEqual(status, 0)
        rows = [line.split() for line in said.splitlines()]
        together = next(r for r in rows if r[0] == "Together")
        money, hours, whole = (float(x.replace(",", "")) for x in (together[1], together[2], together[4]))
        self.assertAlmostEqual(money + 95 * hours, whole, delta=6)
        book, job = self.folder / "book.csv", self.folder / "priced.murvan"
        self.assertEqual(run("prices", "demo", "--csv", str(book))[0], 0)
        text = book.read_text("utf-8").replace("labour,Labour,hour,95", "labour,Labour,hour,120")
        book.write_text(text, "utf-8")
        self.assertEqual(run("prices", "demo", "--take", str(book), "--out", str(job))[0], 0)
        self.assertEqual(load_job(job).prices.hour, 120.0)
        book.write_text("id,money,hours\nflex,ten,0\n", "utf-8")
        status, _, err = run("prices", "demo", "--take", str(book), "--out", str(job))
        self.assertEqual(status, 2)
        self.assertIn("Line 2, money: 'ten' is no number", err)
        self.assertEqual(run("prices", "demo", "--take", str(book))[0], 2)

    def test_propose(self):
        out, job = self.folder / "p.json", self.folder / "taken.murvan"
        status, said, _ = run("propose", "demo", "--json", str(out), "--take", "2", "--out", str(job))
        self.assertEqual(status, 0)
        found = json.loads(out.read_text("utf-8"))["proposals"]
        self.assertIn(f"Took up {found[1]['name']}", said)
        taken = load_job(job)
        self.assertEqual(taken.design.name, found[1]["name"])
        self.assertEqual([u.unit for u in taken.design.indoor_units], [u["unit"] for u in found[1]["units"]])
        self.assertEqual(taken.options[0], demo().design)
        self.assertIn("1  ", run("propose", "narrow")[1])
        for args, words in (
            (("--take", "9", "--out", str(job)), "there are"),
            (("--take", "1"), "go together"),
            (("--out", str(job)), "go together"),
            (("--json", ""), "empty name"),
        ):
            status, _, err = run("propose", "demo", *args)
            self.assertEqual(status, 2)
            self.assertIn(words, err)
        save_job(Job(name="Empty"), self.folder / "e.murvan")
        self.assertIn("no rooms to serve", run("propose", str(self.folder / "e.murvan"))[2])

    def test_load_report(self):
        status, out, _ = run("report", "bungalow", "--loads", str(self.folder / "l.pdf"))
        self.assertEqual((status, (self.folder / "l.pdf").read_bytes()[:5]), (0, b"%PDF-"))
        self.assertIn("l.pdf", out)
        status, _, err = run("report", "demo")
        self.assertEqual(status, 2)
        self.assertIn("--loads", err)

    def test_report_export_import_check(self):
        self.assertEqual(run("report", "demo", "--pdf", str(self.folder / "r.pdf"), "--units", "si")[0], 0)
        self.assertTrue((self.folder / "r.pdf").read_bytes().startswith(b"%PDF"))
        self.assertEqual(
            run("export", "demo", "--csv", str(self.folder / "c"), "--xlsx", str(self.folder / "x.xlsx"))[0], 0
        )
        self.assertEqual(len(list((self.folder / "c").glob("*.csv"))), 8)
        (self.folder / "r.csv").write_text("place,value\nA1,58\n")
        self.assertEqual(
            run("import", "demo", str(self.folder / "r.csv"), "--out", str(self.folder / "n.murvan"))[0], 0
        )
        self.assertEqual(len(load_job(self.folder / "n.murvan").design.readings), len(demo().design.readings) + 1)
        status, out, _ = run("check", "demo")
        self.assertEqual(status, 1)
        self.assertIn("Bath has no exhaust fan", out)

    def test_climate_of_a_weather_file(self):
        path = self.folder / "b.epw"
        path.write_text(epw(), "utf-8")
        status, out, _ = run("climate", str(path), "--units", "si")
        self.assertEqual(status, 0)
        self.assertIn("heating 99 %", out)
        self.assertIn("in all 8,760 h", out)
        self.assertIn("120", out.splitlines()[0])
        self.assertRegex(out, r"Jul: -?\d+\.\d °C, \d+\.\d K, \d+\.\d °C")
        self.assertEqual(run("climate", str(path), "--json", str(self.folder / "w.json"))[0], 0)
        raw = json.loads((self.folder / "w.json").read_text("utf-8"))
        self.assertEqual((raw["bin_step_k"], sum(raw["bin_hours"])), (2.5, 8760))
        self.assertIn("40.5", run("climate", str(path), "--json", "-")[1])
        path.write_text("no weather", "utf-8")
        status, _, err = run("climate", str(path))
        self.assertEqual(status, 2)
        self.assertIn("not LOCATION", err)

    def test_the_other_demos(self):
        for name in ("bungalow", "narrow"):
            status, out, _ = run("solve", name)
            self.assertEqual(status, 0)
            self.assertEqual(len(json.loads(out)["house"]["hourly_sensible_w"]), 24)

    def test_demo_saved(self):
        self.assertEqual(run("demo", "--save", str(self.folder / "d.murvan"))[0], 0)
        self.assertEqual(load_job(self.folder / "d.murvan"), demo())

    def test_wrong_input_is_one_line_exit_2_and_writes_nothing(self):
        (self.folder / "empty.murvan").write_bytes(b"")
        (self.folder / "text.json").write_text("hello")
        save_job(demo(), self.folder / "whole.murvan")
        whole = (self.folder / "whole.murvan").read_bytes()
        (self.folder / "cut.murvan").write_bytes(whole[: len(whole) // 2])
        with zipfile.ZipFile(self.folder / "names.murvan", "w") as z:
            z.writestr("../job.json", "{}")
        with zipfile.ZipFile(self.folder / "big.murvan", "w", zipfile.ZIP_DEFLATED) as z:
            z.writestr("job.json", b" " * 70_000_000)
        (self.folder / "bad.csv").write_text("a,b\n1,2\n")
        before = sorted(p.name for p in self.folder.iterdir())
        out = str(self.folder / "out.json")
        calls = [
            *(
                ("solve", str(self.folder / n), "--json", out)
                for n in ("none.murvan", "empty.murvan", "text.json", "cut.murvan", "names.murvan", "big.murvan")
            ),
            ("solve", str(self.folder), "--json", out),
            ("report", "demo", "--pdf", str(self.folder / "no" / "x.pdf")),
            ("export", "demo"),
            ("import", "demo", str(self.folder / "bad.csv"), "--out", out),
            ("import", "demo", str(self.folder / "bad.csv")),
            ("solve",),
            ("nonsense",),
            ("solve", "demo", "--color"),
            ("open", str(self.folder / "empty.murvan")),
            ("report", "demo", "--pdf", str(self.folder / "x.pdf"), "--units", "metric"),
        ]
        for call in calls:
            with self.subTest(call):
                status, printed, err = run(*call)
                self.assertEqual(status, 2)
                self.assertEqual(printed, "")
                self.assertEqual(len(err.strip().splitlines()), 1, err)
                self.assertTrue(err.startswith("murvan: "))
        self.assertEqual(sorted(p.name for p in self.folder.iterdir()), before)

    def test_as_a_process(self):
        done = subprocess.run(
            [sys.executable, "-m", "murvan", "solve", str(self.folder / "none")], capture_output=True, text=True
        )
        self.assertEqual(done.returncode, 2)
        self.assertNotIn("Traceback", done.stderr)
        done = subprocess.run([sys.executable, "-m", "murvan", "--version"], capture_output=True, text=True)
        self.assertEqual(done.returncode, 0)
        self.assertIn("Murvan", done.stdout)
