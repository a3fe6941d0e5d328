"""The load report: every line adds up to what it says, in both units, on odd houses, and reads back from the PDF."""

from __future__ import annotations

import io
import re
import unittest

from pypdf import PdfReader

from murvan.design import solve
from murvan.documents.load_report import cooling_lines, heating_lines, source_schedule, write_load_report
from murvan.model.edit import changed
from tests.houses import box, demo, demo_results

BTU_H = 0.29307107017


def rooms_of(s):
    """Room name to its rows, the room's own first."""
    out, at = {}, None
    for row in s.rows:
        if row[0]:
            at = out[row[0]] = []
        at.append(row)
    return out


class Heating(unittest.TestCase):
    def test_parts_make_rooms_and_rooms_the_house(self):
        r = demo_results()
        s = heating_lines(r, "ip")
        rooms = rooms_of(s)
        self.assertEqual(list(rooms), [x.name for x in demo().rooms])
        for rows in rooms.values():
            self.assertAlmostEqual(sum(x[5] for x in rows[1:] if x[1]), rows[0][5], delta=1.0)
        self.assertAlmostEqual(sum(rows[0][5] for rows in rooms.values()), s.total[5], places=6)
        self.assertAlmostEqual(s.total[5], r.loads.house_heating_w)

    def test_a_wall_can_be_worked_again_from_what_is_printed(self):
        rows = rooms_of(heating_lines(demo_results(), "ip"))["Living"]
        line = next(x for x in rows if x[2] == "W wall")
        found = re.fullmatch(r"([\d.]+) ft² × ([\d.]+) Btu/h·ft²·°F × ([\d.]+) °F", line[3])
        area, u, dt = (float(x) for x in found.groups())
        self.assertAlmostEqual(area * u * dt, float(line[4].removesuffix(" Btu/h").replace(",", "")), delta=5)


class Cooling(unittest.TestCase):
    def test_parts_make_rooms_at_their_own_hour(self):
        r = demo_results()
        s = cooling_lines(r, "si")
        for i, (name, rows) in enumerate(rooms_of(s).items()):
            with self.subTest(name):
                self.assertIn(f"{int(r.loads.peak_hour[i])}:00", rows[0][3])
                for column in (5, 6):
                    total = sum(x[column] for x in rows[1:] if x[1])
                    self.assertAlmostEqual(total, rows[0][column], delta=1.0)
        self.assertEqual(s.total[5:], (r.loads.house_sensible_w, r.loads.house_latent_w))

    def test_pieces_make_their_part(self):
        rows = rooms_of(cooling_lines(demo_results(), "si"))["Living"]
        sums, at = {}, None
        for x in rows[1:]:
            at = x[1] or at
            if x[4].endswith(" W"):
                sums[at] = sums.get(at, 0.0) + float(x[4].removesuffix(" W").replace(",", "").replace("−", "-"))
        wanted = {x[1]: x[5] for x in rows[1:] if x[1]}
        for part in ("Glass, west", "Walls", "People", "Leakage"):
            self.assertAlmostEqual(sums[part], wanted[part], delta=2.5, msg=part)


class Pdf(unittest.TestCase):
    def read(self, r, units):
        out = io.BytesIO()
        n = write_load_report(r, out, units)
        reader = PdfReader(out)
        self.assertEqual(len(reader.pages), n)
        return "\n".join(p.extract_text() for p in reader.pages)

    def test_rooms_methods_and_sources_are_in_it(self):
        text = self.read(demo_results(), "ip")
        for words in ("Heating, line by line", "Cooling, line by line", "Living", "heat balance", "Load factors"):
            self.assertIn(words.lower(), text.lower())
        self.assertIn("licensed trades decide", text)
        self.assertIn(f"{demo_results().loads.house_heating_w / BTU_H:,.0f}", text)

    def test_odd_houses(self):
        for job in (changed(box(), "", rooms=(), openings=()), box(6, 4, openings=())):
            for units in ("ip", "si"):
                self.assertNotRegex(self.read(solve(job), units).lower(), r"\b(nan|inf)\b")

    def test_sources_stand_once(self):
        rows = source_schedule(demo_results(), "ip").rows
        self.assertEqual(len(rows), len(set(rows)))
        self.assertTrue(any("ASHRAE" in x[0] for x in rows))


if __name__ == "__main__":
    unittest.main()
