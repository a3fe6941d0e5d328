"""What a visit reads, in which order; the field sheet and its way back; figures that are asked about."""

import csv
import io
import math
import unittest

from murvan.design import solve
from murvan.documents.field_sheet import field_schedule, write_field_sheet
from murvan.field import Built, read_csv, readings_csv, visit_to
from murvan.field.places import places
from murvan.field.protocol import now_at, read_of, stands_for
from murvan.field.readings import sheet_csv
from murvan.field.visit import Visit
from murvan.model import HouseState, JobValueError, insert, with_design
from tests.field.test_states import bare
from tests.houses import box, demo, demo_job, demo_results
from tests.taken import import_csv


class TestOrder(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.r = demo_results()
        cls.visit = visit_to(cls.r)

    def test_a_quick_visit_takes_ten_minutes_at_the_unit(self):
        quick = self.visit.steps[: self.visit.quick]
        self.assertLessEqual(sum(x.minutes for x in quick), 10)
        self.assertEqual({p.at.kind for x in quick for p in x.places}, {"indoor_unit"})
        self.assertEqual([len(x.places) for x in quick], [4, 2, 1])

    def test_a_full_one_reads_every_face_once_then_other_states(self):
        own = self.visit.steps
        flows = [p.at.id for x in own for p in x.places if p.quantity == "flow"]
        self.assertEqual(sorted(flows), sorted(x.id for x in self.r.job.design.registers))
        self.assertEqual(len({p.key for x in own for p in x.places}), sum(len(x.places) for x in own))
        states = [x.state for x in own]
        self.assertLess(
            max(k for k, s in enumerate(states) if s == HouseState()), states.index(HouseState(doors="shut"))
        )
        self.assertIn("cooling", {s.mode for s in states})
        self.assertEqual({s.calling for s in states} - {()}, {("1",), ("2",)})
        self.assertTrue(all(b.first for a, b in zip(own, own[1:], strict=False) if a.state != b.state))

    def test_the_crew_walks_to_the_nearest(self):
        at = {x.id: x.position_m for x in self.r.job.design.registers}
        step = next(x for x in self.visit.steps if x.id == "flow-upper")
        way = [at[p.at.id] for p in step.places]
        for k in range(len(way) - 2):
            nearest = min(math.dist(way[k], q) for q in way[k + 1 :])
            self.assertAlmostEqual(math.dist(way[k], way[k + 1]), nearest)

    def test_houses_without_zones_or_without_ducts(self):
        bungalow = visit_to(solve(demo_job("bungalow")))
        self.assertFalse(any(x.state.calling for x in bungalow.steps))
        self.assertEqual(visit_to(solve(box())).steps, ())

    def test_what_is_read_counts_for_its_step_alone(self):
        job, shut = bare(), next(x for x in self.visit.steps if x.state.doors == "shut")
        visit = Visit(self.r, Built(self.r), (), 1)
        job = insert(job, "readings", *(visit.take(p, f"m{k}") for k, p in enumerate(shut.places[:3])))
        self.assertEqual(len(read_of(shut, job)), 3)
        self.assertEqual(
            [len(read_of(x, job)) for x in self.visit.steps if x is not shut], [0] * (len(self.visit.steps) - 1)
        )

    def test_how_the_house_is_to_stand(self):
        warm = HouseState(mode="cooling", outdoor_c=28.0)
        cold = HouseState(mode="heating", outdoor_c=1.0)
        statics, cooling = self.visit.steps[0], next(x for x in self.visit.steps if x.state.mode == "cooling")
        self.assertTrue(stands_for(statics, cold))
        self.assertFalse(stands_for(statics, warm))
        self.assertFalse(stands_for(cooling, cold))
        self.assertEqual(now_at(statics, cold), cold)
        self.assertEqual(now_at(cooling, cold), HouseState(mode="cooling"))
        self.assertTrue(stands_for(cooling, now_at(cooling, cold)))


class TestSheet(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.r = demo_results()
        cls.visit = visit_to(cls.r)

    def filled(self, units, parted=","):
        """The CSV sheet with a figure in every line, as somebody types it."""
        text = sheet_csv(self.visit.steps, HouseState(mode="heating", outdoor_c=2.0), units)
        rows = list(csv.DictReader(io.StringIO(text)))
        for k, row in enumerate(rows):
            row["value"] = {
                "flow": 40,
                "static": -5 if "return" in row["place"] or "filter" in row["place"] else 5,
            }.get(row["quantity"], 30 + k % 3)
            if row["quantity"] == "static" and units == "ip":
                row["value"] = row["value"] / 100
        out = io.StringIO()
        writer = csv.DictWriter(out, rows[0].keys(), delimiter=parted)
        writer.writeheader()
        if parted == ";":
            rows = [
                {**r, "value": str(r["value"]).replace(".", ","), "outdoor": r["outdoor"].replace(".", ",")}
                for r in rows
            ]
        writer.writerows(rows)
        return out.getvalue(), rows

    def test_it_comes_back_with_every_state(self):
        for units, parted in (("ip", ","), ("si", ";")):
            with self.subTest(units):
                text, rows = self.filled(units, parted)
                taken = read_csv(bare(), text, units)
                self.assertEqual((len(taken.readings), taken.faults), (len(rows), ()))
                job = insert(bare(), "readings", *taken.readings)
                for step in self.visit.steps:
                    self.assertEqual(len(read_of(step, job)), len(step.places), step.name)
                again = import_csv(bare(), readings_csv(job, units), units)
                self.assertEqual([x.state for x in again], [x.state for x in taken.readings])

    def test_lines_left_empty_were_not_read(self):
        text = sheet_csv(self.visit.steps, HouseState(), "ip")
        with self.assertRaisesRegex(JobValueError, "no readings below"):
            read_csv(bare(), text, "ip")
        some = text.replace("A1,flow,", "A1,flow,55", 1)
        self.assertEqual([x.at.id for x in read_csv(bare(), some, "ip").readings], ["A1"])

    def test_on_paper(self):
        table = field_schedule(self.visit, self.visit.steps, "ip")
        self.assertEqual(len(table.rows), 1 + sum(len(x.places) for x in self.visit.steps))
        self.assertIn("Static, supply plenum", [row[2] for row in table.rows])
        b4 = next(row for row in table.rows if str(row[2]).startswith("B4"))
        self.assertEqual(b4[3], "60 cfm")
        self.assertGreaterEqual(write_field_sheet(self.r, self.visit, self.visit.steps, io.BytesIO(), "si"), 2)


class TestAsked(unittest.TestCase):
    HEAD = "place,value,unit,sure,doors,mode\n"

    def taken(self, lines, units="ip"):
        return read_csv(bare(), self.HEAD + lines, units, demo_results())

    def test_a_file_tells_all_its_faults_at_once(self):
        taken = self.taken("A1,60\nA2,xx\nZ9,5\nA3,60,cfm,,ajar\nA4,60,cfm,,,frost\n")
        self.assertEqual(len(taken.readings), 1)
        self.assertEqual([x.split(":")[0].split(",")[0] for x in taken.faults], [f"Line {k}" for k in (3, 4, 5, 6)])
        self.assertIn("cooling, fan or heating is meant", taken.faults[-1])
        with self.assertRaisesRegex(JobValueError, "Line 3.*Line 4.*Line 5.*Line 6"):
            import_csv(bare(), self.HEAD + "A1,60\nA2,xx\nZ9,5\nA3,60,cfm,,ajar\nA4,60,cfm,,,frost\n", "ip")

    def test_signs_ranges_and_units(self):
        for line, words in (
            ("static-supply,-0.07,in wc", "the tube on the other port"),
            ("static-return,0.04,in wc", "lies below the room"),
            ("B4.boot,-0.05,in wc", "lies above the room"),
            ("static-supply,0.0002,in wc", ""),
            ("static-supply,7,in wc", "out of what a manometer reads"),
            ("B4,3000,cfm", "out of what a flow hood reads"),
            ("temp-supply,105,C", "no air of a house"),
            ("static-supply,0.06,in wc", ""),
            ("temp-supply,105,F", ""),
            ("B4,20,cfm", ""),
        ):
            with self.subTest(line):
                told = self.taken(line + "\n").told
                self.assertEqual(len(told), bool(words), told)
                if words:
                    self.assertIn(words, told[0])
                    self.assertTrue(told[0].startswith("Line 2, "))

    def test_flows_in_another_unit_are_seen_in_the_whole_file(self):
        flows = {i: q for i, q in demo_results().network.register_m3_s.items() if i.startswith("B")}
        litres = "".join(f"{i},{q * 1000:.1f}\n" for i, q in flows.items())
        self.assertIn("as if they were L/s and not cfm", self.taken(litres).told[0])
        self.assertEqual(self.taken(litres, "si").told, ())
        few = "".join(f"{i},{q * 1000:.1f}\n" for i, q in list(flows.items())[:3])
        self.assertEqual(self.taken(few).told, ())

    def test_sure_settles_it_and_the_rest_may_be_taken(self):
        lines = "static-supply,-0.07,in wc,{}\nA1,60,cfm\n"
        self.assertEqual(len(self.taken(lines.format("")).plain), 1)
        settled = self.taken(lines.format("yes"))
        self.assertEqual((settled.told, len(settled.plain)), ((), 2))

    def test_a_file_is_not_told_without_end(self):
        taken = self.taken("".join(f"Z{k},5\n" for k in range(60)))
        self.assertEqual(len(taken.told), 21)
        self.assertEqual(taken.told[-1], "and 40 more")

    def test_places_are_all_words_that_come_back(self):
        job = with_design(demo(), readings=())
        for word in places(job):
            self.assertEqual(read_csv(job, f"place,value\n{word},1\n", "si").faults, (), word)


if __name__ == "__main__":
    unittest.main()
