"""The page of designs side by side: figures of a solve, words of this house, texts within their column."""

import unittest
from io import BytesIO

from pypdf import PdfReader
from reportlab.pdfgen.canvas import Canvas

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.propose import as_option, every_way, proposals, taken_up
from murvan.design.propose.summing import summary
from murvan.design.propose.wording import figures
from murvan.documents.ink import fonts
from murvan.documents.options_sheet import options_pages, remarks
from murvan.documents.pages import sheet_size, write_pages
from murvan.documents.pdf import write_pdf
from murvan.field import verdict
from murvan.model import replace_part
from murvan.model.edit import changed
from murvan.units import text
from tests.houses import demo


def with_options(job, many):
    for p in proposals(job)[:many]:
        job = as_option(job, p)
    return job


def pages(job, units="ip"):
    fonts()
    r, out = solve(job), BytesIO()
    sheets = options_pages(r, units)
    if not sheets:
        return []
    write_pages(r, sheets, out, units)
    return [p.extract_text() for p in PdfReader(BytesIO(out.getvalue())).pages]


def heights(sheet, units):
    """Where the texts of a page stand."""
    fonts()
    found = []

    class Watched(Canvas):
        def drawString(self, x, y, *a, **k):  # noqa: N802
            found.append(y)
            return super().drawString(x, y, *a, **k)

    sheet.draw(Watched(BytesIO(), pagesize=sheet_size(units)), *sheet_size(units))
    return found


class TestPage(unittest.TestCase):
    def test_nothing_to_compare_no_page(self):
        self.assertEqual(pages(changed(demo(), options=())), [])

    def test_every_design_with_the_figures_of_its_own_solve(self):
        job = with_options(changed(demo_job("bungalow"), options=()), 3)
        for units in ("ip", "si"):
            words = " ".join(pages(job, units)[0].split())
            for option in job.options:
                x = summary(solve(changed(job, design=option, options=())))
                self.assertIn(text("money", x.cost_year, units), words)
                self.assertIn(f"{x.cooling_w / x.cooling_load_w * 100:.0f} %", words)
            self.assertIn("licensed electrician", words)

    def test_what_is_offered_and_what_is_kept_come_to_the_same(self):
        for p in proposals(demo()):
            kept = summary(solve(changed(demo(), design=p.design, options=())))
            self.assertAlmostEqual(kept.cost_year, p.cost_year)
            self.assertAlmostEqual(kept.backup_w, p.backup_w)
            self.assertEqual(
                (kept.cost_in, kept.remedies, kept.circuit_words), (p.cost_in, p.remedies, p.circuit_words)
            )

    def test_five_designs_take_two_pages(self):
        job = with_options(changed(demo(), options=()), 4)
        self.assertEqual(len(pages(job)), 2)

    def test_rebate_and_payback(self):
        job = replace_part(replace_part(demo(), "energy", present="oil"), "energy", rebate=1500.0)
        x = next(p for p in proposals(job) if p.payback_years)
        self.assertAlmostEqual(x.payback_years, (x.cost_in - 1500) / x.saves_year)
        labels = [label for label, _ in figures(x, "ip")]
        self.assertIn("Rebate, as typed", labels)
        self.assertIn("Paid back", labels)

    def test_remarks_name_rooms_without_a_unit(self):
        heads = every_way(demo(), kinds=("shared",))[0]
        self.assertTrue(any("Bath" in words for words in remarks(demo(), heads)))

    def test_nothing_runs_into_the_note(self):
        for which in ("demo", "bungalow", "narrow"):
            job = with_options(changed(demo_job(which), options=()), 4)
            for units in ("ip", "si"):
                body = [y for y in heights(options_pages(solve(job), units)[0], units) if y > 62.5]
                self.assertGreater(min(body), 66, (which, units))

    def test_a_shared_outdoor_unit_has_its_sheet(self):
        heads = every_way(demo(), kinds=("shared",))[0]
        r = solve(taken_up(demo(), heads))
        out = BytesIO()
        write_pdf(r, verdict(r.job, r), out, "ip")
        words = " ".join(" ".join(p.extract_text().split()) for p in PdfReader(BytesIO(out.getvalue())).pages)
        for x in r.outdoors.values():
            self.assertIn(f"Outdoor unit {x.unit.name}", words)
            self.assertIn(text("power", x.coincident_w, "ip"), words)
            self.assertIn(f"MCA {x.unit.mca_a:g} A", words)

    def test_long_names_stay_in_their_column(self):
        job = changed(demo(), options=(), design=changed(demo().design, name="A very long name of a design " * 6))
        self.assertEqual(len(pages(with_options(job, 2))), 1)


if __name__ == "__main__":
    unittest.main()
