"""The hanging plan and the pieces in the order of the work, as they print."""

import unittest

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.ducts.hangers import places
from murvan.documents.hanging_plan import HangingPlan, hanging_drawer, numbers, piece_schedule
from murvan.documents.ink import fonts
from murvan.documents.pages import sheet_size
from murvan.model import replace
from murvan.model.design import Bypass
from tests.houses import INCH, demo_results


class Recorder:
    """Stands in for a page: keeps the lines and texts that are drawn."""

    def __init__(self):
        self.lines, self.texts = [], []

    def line(self, *ends):
        self.lines.append(ends)

    def drawString(self, x, y, s):  # noqa: N802
        self.texts.append(s)

    def __getattr__(self, name):
        return lambda *a, **k: self if name == "beginPath" else None


def drawn(r, storey, units="ip"):
    fonts()
    page = Recorder()
    hanging_drawer(r, storey, units)(page, *sheet_size(units))
    return page


class Plan(unittest.TestCase):
    def test_numbers_that_follow_are_drawn_together(self):
        self.assertEqual(numbers([4, 5, 6, 9, 12, 11]), "4-6, 9, 11-12")
        self.assertEqual(numbers([]), "")

    def test_every_run_with_its_pieces_and_its_hangers(self):
        for which in ("demo", "bungalow", "narrow"):
            r = solve(demo_job(which))
            for s in r.job.storeys:
                own = [x for x in r.laid if x.storey == s.id]
                if not own:
                    continue
                page = drawn(r, s.id)
                words = " ".join(page.texts)
                for run in own:
                    self.assertIn(run.tag, words)
                    mine = numbers([p.number for p in r.cuts.pieces if p.run == run.id and p.section != "Registers"])
                    if run.side != "fresh":
                        self.assertIn(f"{run.tag} {mine}", words)

    def test_a_bar_square_to_the_run_at_every_hanger(self):
        r = demo_results()
        plan = HangingPlan(Recorder(), *sheet_size("ip"), r, "ground", "ip")
        plan.own = [x for x in r.laid if x.storey == "ground"]
        plan.taken = []
        plan._place()
        run = next(x for x in plan.own if x.tag == "A1")
        plan._hang(run)
        self.assertEqual(len(plan.c.lines), len(places(run)))
        (ax, ay), (bx, by) = plan.at(*run.path_m[0]), plan.at(*run.path_m[-1])
        for x0, y0, x1, y1 in plan.c.lines:
            self.assertAlmostEqual((x1 - x0) * (bx - ax) + (y1 - y0) * (by - ay), 0.0, 4)


class Bypasses(unittest.TestCase):
    def test_it_stands_on_the_plan_with_its_size(self):
        own = Bypass(diameter_m=10 * INCH, opens_pa=40.0)
        r = solve(replace(demo_results().job, "indoor_units", "unit1", bypass=own))
        self.assertIn("Bypass 10", " ".join(drawn(r, "ground").texts))
        self.assertNotIn("Bypass", " ".join(drawn(demo_results(), "ground").texts))
        self.assertIn("Bypass duct and damper", [p.what for p in r.cuts.pieces])


class Pieces(unittest.TestCase):
    def test_all_but_sundries_in_their_order_with_their_patterns(self):
        s = piece_schedule(demo_results(), "si")
        self.assertEqual([row[0] for row in s.rows], [str(p.number) for p in demo_results().cuts.to_hang])
        by_number = {row[0]: row for row in s.rows}
        for p in demo_results().cuts.to_hang:
            pattern = by_number[str(p.number)][8]
            if p.what.startswith("Duct") or p.what.endswith("plenum"):
                self.assertRegex(pattern, r"^\d{3}$")
            if p.section == "Flex":
                self.assertEqual(pattern, "")


if __name__ == "__main__":
    unittest.main()
