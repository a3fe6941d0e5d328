"""Documents: JSON to its schema, schedules, and a PDF in which nothing is clipped."""

import csv
import io
import json
import tempfile
import unittest
from datetime import date
from pathlib import Path

import pypdf

from murvan.design import solve
from murvan.design.units.cost import yearly_cost
from murvan.documents.ink import fonts, wrap
from murvan.documents.pdf import _fitted, plan_pages, sheet_size, why, write_pdf
from murvan.documents.results_json import results_data
from murvan.documents.schedules import Schedule, all_schedules, csv_text, load_schedule, write_csv, write_xlsx
from murvan.field import verdict
from murvan.model import IndoorUnit, insert, replace, replace_part
from murvan.model.edit import changed
from murvan.units import BTU_H
from tests.design.test_several_units import house
from tests.houses import box, demo, demo_results, set_unit

LONG = (
    "The house of the very long name at the far end of the very long lane beyond the old mill and the second bridge"
)


def long_job():
    job = changed(demo(), "Demo", name=LONG, town="Brindlewick-under-the-Hill-and-over-the-Water", company=LONG)
    for r in job.rooms[:4]:
        job = replace(job, "rooms", r.id, name=f"{r.name} {LONG[:70]}")
    return job


class TestResultsJson(unittest.TestCase):
    def test_schema(self):
        import jsonschema

        schema = json.loads((Path(__file__).parents[2] / "docs" / "results.schema.json").read_text("utf-8"))
        for job in (demo(), box(), set_unit(demo(), unit=None)):
            r = solve(job)
            data = json.loads(json.dumps(results_data(r, verdict(job, r)), allow_nan=False))
            jsonschema.validate(data, schema)

    def test_figures_are_those_of_the_solve(self):
        r = demo_results()
        data = results_data(r, verdict(demo(), r))
        self.assertEqual(data["house"]["heating_w"], r.loads.house_heating_w)
        self.assertEqual(len(data["rooms"]), 12)
        self.assertAlmostEqual(sum(x["heating_w"] for x in data["rooms"]), data["house"]["heating_w"])
        self.assertAlmostEqual(
            data["systems"][0]["blower"]["flow_m3_s"],
            sum(x["predicted_flow_m3_s"] for x in data["registers"] if x["side"] == "supply")
            + r.network.leaks["unit1"].supply,
        )
        self.assertEqual(len(data["duct_runs"]), len(demo().design.runs))
        self.assertEqual(len(data["findings"]), len(r.findings))


class TestSchedules(unittest.TestCase):
    def test_csv_reads_back_as_numbers(self):
        r = demo_results()
        for units in ("ip", "si"):
            for s in all_schedules(r, verdict(demo(), r), units):
                rows = list(csv.reader(io.StringIO(csv_text(s, units))))
                self.assertEqual(len(rows), 1 + len(s.rows) + (s.total is not None))
                self.assertEqual({len(x) for x in rows}, {len(s.columns)})
                for row in rows[1:]:
                    for cell, (_, kind) in zip(row, s.columns, strict=True):
                        if kind != "text" and cell:
                            float(cell)

    def test_total_row_is_the_house(self):
        """Floor, latent, heating and air add up; sensible is what the house needs at its own peak, so less."""
        s = load_schedule(demo_results())
        for k in (2, 4, 7, 8):
            self.assertAlmostEqual(sum(row[k] for row in s.rows), s.total[k], places=6)
        self.assertLess(s.total[3], sum(row[3] for row in s.rows))
        self.assertAlmostEqual(s.total[3] + s.total[4], s.total[5], places=6)
        self.assertRegex(s.total[6], r"^\d+:00 (Jul|Aug|Sep|Oct)$")

    def test_a_text_can_not_become_a_formula(self):
        s = Schedule("x", "X", (("What", "text"),), (("=1+1",), ("@cmd",), ("-danger",)))
        self.assertTrue(all(line.startswith("'") for line in csv_text(s, "ip").splitlines()[1:]))

    def test_files(self):
        from openpyxl import load_workbook

        r = demo_results()
        with tempfile.TemporaryDirectory() as folder:
            schedules = all_schedules(r, verdict(demo(), r), "si")
            paths = write_csv(schedules, Path(folder) / "new", "si")
            self.assertEqual(len(paths), 8)
            write_xlsx(schedules, Path(folder) / "x.xlsx", "si")
            book = load_workbook(Path(folder) / "x.xlsx")
            self.assertEqual(book.sheetnames, [s.title for s in schedules])
            sheet = book["Room loads"]
            self.assertEqual(sheet.cell(1, 8).value, "Heating W")
            self.assertAlmostEqual(sheet.cell(2, 8).value, float(r.loads.heating_w[0]), delta=1)


class TestPdf(unittest.TestCase):
    def make(self, job, units):
        from pypdf import PdfReader

        r = solve(job)
        out = io.BytesIO()
        n = write_pdf(r, verdict(job, r), out, units, date(2026, 6, 5))
        reader = PdfReader(io.BytesIO(out.getvalue()))
        self.assertEqual(len(reader.pages), n)
        return reader, n

    def test_every_sheet_has_name_date_and_number(self):
        for units in ("ip", "si"):
            reader, n = self.make(demo(), units)
            for k, page in enumerate(reader.pages, 1):
                text = page.extract_text()
                self.assertIn("17 Sorrel Lane", text)
                self.assertIn("5 Jun 2026", text)
                self.assertIn(f"sheet {k} of {n}", text)

    def test_what_the_set_holds(self):
        reader, _ = self.make(demo(), "ip")
        whole = "\n".join(p.extract_text() for p in reader.pages)
        for words in (
            "Cautions",
            "Room loads",
            "Duct plan, ground",
            "Duct plan, upper",
            "Duct schedule",
            "Register schedule",
            "Air balance",
            "Punch list",
            "Cut and buy list",
            "licensed",
            "simulated",
            "B4 Bedroom 2 north",
            f"{demo_results().loads.house_heating_w / BTU_H:,.0f}",
        ):
            self.assertIn(words, whole)

    def test_the_house_its_openings_and_its_zones_have_sheets(self):
        for units in ("ip", "si"):
            reader, _ = self.make(demo(), units)
            pages = [p.extract_text() for p in reader.pages]
            whole = "\n".join(pages)
            zones = next(t for t in pages if "\nZones\n" in t)
            for words in ("Ground\nLiving, Dining", "SA1", "Upper\nBedroom 1"):
                self.assertIn(words, zones)
            plan = next(t for t in pages if "\nPlan, ground\n" in t)
            for words in (
                "G1",
                "Living",
                "Kitchen",
                "Dimensions from face to face",
                "58′ 0″" if units == "ip" else "17.68",
            ):
                self.assertIn(words, plan)
            self.assertNotIn("ft2·°F", whole)
            self.assertNotIn("from memory", whole.lower())

    def test_units_as_chosen(self):
        ip, si = (self.make(demo(), u)[0] for u in ("ip", "si"))
        self.assertIn("cfm", ip.pages[1].extract_text())
        self.assertNotIn("cfm", si.pages[1].extract_text())
        self.assertAlmostEqual(float(ip.pages[0].mediabox.width), 792, delta=1)
        self.assertAlmostEqual(float(si.pages[0].mediabox.width), 842, delta=1)

    def test_nothing_leaves_the_page(self):
        for job in (demo(), long_job()):
            for units in ("ip", "si"):
                reader, _ = self.make(job, units)
                for page in reader.pages:
                    width, height = float(page.mediabox.width), float(page.mediabox.height)

                    def visit(text, cm, tm, font, size, width=width, height=height):
                        if text.strip():
                            x, y = tm[4] + cm[4], tm[5] + cm[5]
                            self.assertTrue(
                                20 <= x <= width - 20 and 15 <= y <= height - 15, f"{text!r} at {x:.0f},{y:.0f}"
                            )

                    page.extract_text(visitor_text=visit)

    def test_bare_job(self):
        reader, n = self.make(box(), "ip")
        self.assertGreaterEqual(n, 2)
        self.assertIn("Box", reader.pages[0].extract_text())

    def test_long_tables_go_over_pages(self):
        r = demo_results()
        pages = plan_pages(r, verdict(demo(), r), "ip", sheet_size("ip"))
        titles = [p.title for p in pages]
        self.assertIn("Cut and buy list, page 2", titles)
        self.assertEqual(len(titles), len(set(titles)))

    def test_wrap_breaks_even_a_word_too_long(self):
        from murvan.documents.ink import fonts, width, wrap

        fonts()
        for line in wrap("short and " + "x" * 300, 9, 120):
            self.assertLessEqual(width(line, 9), 120)
        self.assertEqual(wrap("", 9, 100), [""])


class Cover(unittest.TestCase):
    def test_many_units_in_rooms_are_told_of_together_and_all_sentences_fit(self):
        fonts()
        job = house()
        heads = (
            IndoorUnit(id=f"h{k}", tag=f"Head {k}", kind="wall", system="system3", unit="wexley-w9", rooms=(r.id,))
            for k, r in enumerate(job.rooms)
        )
        r = solve(insert(job, "indoor_units", *heads))
        lines = why(r, verdict(r.job, r), "ip")
        together = [x for x in lines if "hang in the rooms they serve" in x]
        self.assertEqual(len(together), 1)
        self.assertIn(f"{len(job.rooms) + 2} units", together[0])
        for many in (lines, lines * 2, lines * 9):
            size, kept = _fitted(many, 340.0, 330.0)
            rows = sum(len(wrap(f"•  {x}", size, 340.0, "Inter")) for x in kept)
            self.assertLessEqual(rows * size * 1.38 + len(kept) * 0.36 * size, 330.0)
            self.assertEqual(kept[-1], many[-1])
        self.assertIn("more on the sheets that follow", kept[-2])
        self.assertEqual(_fitted(lines[:2], 340.0, 330.0), (11.0, lines[:2]))


class TestYearOnTheSheet(unittest.TestCase):
    def pages(self, job, units):
        r = solve(job)
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "a.pdf"
            write_pdf(r, verdict(job, r), file, units)
            return " ".join(" ".join(p.extract_text().split()) for p in pypdf.PdfReader(file).pages), r

    def test_energy_and_cost_as_computed_and_today_only_where_it_is_known(self):
        said, r = self.pages(demo(), "ip")
        x = r.main.equipment.chosen
        self.assertIn(f"Energy a year {x.season.electric_kwh:,.0f} kWh", said)
        self.assertIn(f"Cost a year ${yearly_cost(x, demo().energy).year:,.0f}", said)
        self.assertNotIn("heated today", said)
        self.assertIn("Refrigerant to add, plate decides 6.6 oz", said)
        said, r = self.pages(replace_part(demo(), "energy", present="oil"), "si")
        cost = yearly_cost(r.main.equipment.chosen, r.job.energy)
        self.assertIn(f"${cost.present_year:,.0f} as it is heated today", said)

    def test_nothing_of_a_year_without_hours(self):
        said, _ = self.pages(replace_part(demo(), "climate", bin_hours=()), "ip")
        self.assertNotIn("Energy a year", said)
