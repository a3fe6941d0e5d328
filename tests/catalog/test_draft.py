"""A unit typed and pasted: what a maker's table looks like goes in, what is wrong is told at its cell."""

import unittest

from murvan.catalog import units
from murvan.catalog.draft import FIELDS, HEADINGS, draft_of, headings
from murvan.catalog.draft_check import problems, unit_of
from murvan.catalog.draft_paste import pasted

TAKEN = frozenset(units())
TOTAL = "EDB 80\t63\t67\t71\n82\t24.6\t26.0\t27.5\n95\t23.0\t24.3\t25.7\n105\t21.4\t22.6\t23.9\n"
SENSIBLE = TOTAL.replace("24.6\t26.0\t27.5", "20.0\t17.6\t14.1").replace("23.0\t24.3\t25.7", "19.4\t17.0\t13.6")
SENSIBLE = SENSIBLE.replace("21.4\t22.6\t23.9", "18.8\t16.4\t13.0")
POWER = "OD\\WB\t63\t67\t71\n82\t1.50\t1.52\t1.54\n95\t1.80\t1.82\t1.85\n105\t2.05\t2.08\t2.11\n"


def shipped(i="quellin-c1", units_="ip"):
    return draft_of(units()[i], units_, TAKEN)


def row_of(label):
    return next(k for k, f in enumerate(FIELDS) if f.label == label)


class TestThereAndBack(unittest.TestCase):
    def test_every_shipped_unit_makes_itself_again(self):
        for u in units().values():
            for measure in ("ip", "si"):
                draft = shipped(u.id, measure)
                self.assertEqual([p.text for p in problems(draft)], [], (u.id, measure))
                made = unit_of(draft)
                self.assertEqual((made.id, made.name, made.kind), (f"own-{u.id}", f"{u.name} copy", u.kind))
                self.assertAlmostEqual(made.nominal_w, u.nominal_w, delta=0.6)
                self.assertAlmostEqual(made.cooling.outdoor_c[1], u.cooling.outdoor_c[1], delta=0.3)
                self.assertAlmostEqual(made.cooling.sensible_w[1][2], u.cooling.sensible_w[1][2], delta=0.6)
                self.assertAlmostEqual(made.blower.taps_m3_s[0][2], u.blower.taps_m3_s[0][2], delta=5e-4)
                self.assertEqual(made.blower.tested_with, u.blower.tested_with)
                self.assertEqual(made.heater_kw, u.heater_kw)
                self.assertEqual(made.heating is None, u.heating is None)

    def test_an_own_unit_keeps_its_id(self):
        mine = unit_of(shipped())
        again = draft_of(mine, "si", TAKEN)
        self.assertEqual((again.id, unit_of(again).name), (mine.id, mine.name))
        self.assertEqual(draft_of(units()["quellin-c1"], "ip", TAKEN | {mine.id}).id, "own-quellin-c1-2")

    def test_headings_carry_the_measure(self):
        self.assertEqual(headings(shipped(), "heating")[:2], ["Outdoors, °F", "Highest, Btu/h"])
        self.assertEqual(headings(shipped(units_="si"), "blower")[:2], ["Static, Pa", "Tap 1, L/s"])


class TestPaste(unittest.TestCase):
    def test_three_cross_tables_make_a_unit(self):
        draft = pasted(shipped(), "cooling", 0, 2, TOTAL)
        self.assertIn("table of total by wet bulb", draft.said)
        self.assertIn("was in thousands: times 1000", draft.said)
        self.assertEqual(len(draft.cooling), 9)
        self.assertIn("Cooling, line 1, sensible: is missing.", [p.text for p in problems(draft)])
        draft = pasted(draft, "cooling", 3, 3, SENSIBLE)
        draft = pasted(draft, "cooling", 3, 4, POWER)
        draft = draft.with_cell("data", row_of("Nominal cooling"), 1, "2 ton")
        self.assertEqual([p.text for p in problems(draft)], [])
        made = unit_of(draft)
        self.assertEqual(made.cooling.total_w[1][1], 24300 * 0.29307107017)
        self.assertEqual(made.cooling.power_w[2], (2050.0, 2080.0, 2110.0))
        self.assertAlmostEqual(made.cooling.outdoor_c[1], 35)
        self.assertAlmostEqual(made.nominal_w, 7033.7, delta=0.1)

    def test_headings_say_the_columns_whatever_their_order(self):
        text = "EWB\tODB\tSHC MBH\tTC MBH\tkW\n63\t82\t20.0\t24.6\t1.5\n67\t82\t17.6\t26\t1.52\n63\t95\t19.4\t23\t1.8\n67\t95\t17\t24.3\t1.82\n"
        draft = pasted(shipped(), "cooling", 4, 1, text)
        self.assertEqual(draft.cooling[0], ("82", "63", "24600", "20000", "1500"))
        draft = draft.with_cell("data", row_of("Nominal cooling"), 1, "24000")
        self.assertEqual(problems(draft), ())

    def test_a_csv_and_a_plain_list(self):
        draft = pasted(shipped(), "heating", 0, 0, "47,26000,9000,1900\n17,17000,8000,1700\n")
        self.assertEqual(draft.heating, (("47", "26000", "9000", "1900"), ("17", "17000", "8000", "1700")))
        self.assertEqual(problems(draft), ())
        self.assertAlmostEqual(unit_of(draft).heating.outdoor_c[0], -8.3333, places=3)
        one = pasted(draft, "heating", 1, 2, "8,100\t1,650\n")
        self.assertEqual(one.heating[1], ("17", "17000", "8,100", "1,650"))
        self.assertEqual(problems(one), ())

    def test_blower_by_taps(self):
        text = "ESP\tLow\tMed\tHigh\n0.1\t700\t800\t900\n0.3\t650\t750\t860\n0.5\t580\t690\t800\n"
        draft = pasted(shipped(), "blower", 2, 1, text)
        self.assertEqual((len(draft.blower), len(draft.blower[0])), (3, 4))
        self.assertEqual(problems(draft), ())
        self.assertEqual(len(unit_of(draft).blower.taps_m3_s), 3)

    def test_data_takes_a_column(self):
        draft = pasted(shipped(), "data", 0, 1, "Own\nShed 18")
        self.assertEqual((draft.data[0][1], draft.data[1][1]), ("Own", "Shed 18"))
        self.assertEqual(pasted(draft, "data", 0, 1, "\n \n"), draft)

    def test_odd_pastes_never_raise(self):
        for text in (
            "",
            "\t\t",
            "a",
            "1",
            ";;;\n;;;",
            '"',
            "\x00",
            "1\t2\n3",
            "x\ty\n" * 900,
            "nan\tinf\n1e999\t5",
            "–\t…",
        ):
            for part in HEADINGS:
                for row, column in ((0, 0), (1, 1), (400, 0)):
                    draft = pasted(shipped(), part, row, min(column, 1), text)
                    self.assertIsInstance(problems(draft), tuple)


class TestProblems(unittest.TestCase):
    def only(self, draft, part, row, column, words):
        found = problems(draft)
        self.assertTrue(found)
        self.assertEqual((found[0].part, found[0].row, found[0].column), (part, row, column), found[0])
        self.assertIn(words, found[0].text)

    def test_cells(self):
        d = shipped()
        self.only(d.with_cell("cooling", 2, 2, "abc"), "cooling", 2, 2, "Cooling, line 3, total")
        self.only(d.with_cell("cooling", 2, 2, "-5"), "cooling", 2, 2, "not above 0")
        self.only(d.with_cell("cooling", 2, 3, "99000"), "cooling", 2, 3, "is above total")
        self.only(d.with_cell("cooling", 7, 2, "60000"), "cooling", 7, 2, "rises with outdoor heat")
        self.only(d.with_cell("cooling", 1, 1, d.cooling[0][1]), "cooling", 0, 0, "stands twice")
        self.only(
            d.with_cells("cooling", d.cooling[1:]),
            "cooling",
            -1,
            0,
            "there is no line at 65 outdoors and 57 °F wet bulb",
        )
        self.only(d.with_cells("cooling", ()), "cooling", -1, 0, "at least two outdoor")
        self.only(d.with_cell("blower", 3, 2, "5000"), "blower", 3, 2, "the air must fall")
        self.only(d.with_cell("blower", 3, 0, "0.1"), "blower", 3, 0, "must rise")
        self.only(d.with_cells("blower", ()), "blower", -1, 0, "at least three")
        self.only(d.with_cell("heating", 0, 2, "90000"), "heating", 0, 2, "the lowest is above")
        self.only(d.with_cell("heating", 1, 0, d.heating[0][0]), "heating", 1, 0, "stands twice")
        self.only(d.with_cell("heating", 1, 3, "99000"), "heating", -1, 0, "far above")
        self.only(d.with_cell("cooling", 2, 4, "99000"), "cooling", 2, 4, "far above what it cools")

    def test_data(self):
        d = shipped()
        at = row_of("Nominal cooling")
        self.only(d.with_cell("data", at, 1, ""), "data", at, 1, "Nominal cooling: is missing")
        self.only(d.with_cell("data", at, 1, "lots"), "data", at, 1, "Nominal cooling")
        self.only(d.with_cell("data", 2, 1, "boiler"), "data", 2, 1, "choose one of heat pump")
        kits = row_of("Heat kits, kW")
        self.only(d.with_cell("data", kits, 1, "5, x"), "data", kits, 1, "Heat kits")
        limit = row_of("Highest static")
        self.only(d.with_cell("data", limit, 1, "-1"), "data", limit, 1, "must be above 0")
        low = row_of("Lowest speed, cooling")
        self.only(d.with_cell("data", low, 1, "300"), "data", low, 1, "at most")
        with_ = row_of("Blower tested with")
        self.only(d.with_cell("data", with_, 1, "the cat"), "data", with_, 1, "must be one of")

    def test_nominal_in_another_measure(self):
        found = problems(shipped().with_cell("data", row_of("Nominal cooling"), 1, "5275"))
        self.assertIn("are the units mixed up?", found[0].text)

    def test_a_new_line_and_an_emptied_one(self):
        d = shipped().with_cell("heating", 6, 0, "75")
        self.assertEqual(len(d.heating), 7)
        self.assertEqual(len(d.with_cell("heating", 6, 0, "").heating), 6)


class TestUnlikely(unittest.TestCase):
    """What is possible for a machine and yet a slip of the hand is told at its cell, all of it at once."""

    def told(self, draft):
        return {(p.part, p.row, p.column): p.text for p in problems(draft)}

    def with_value(self, draft, label, text):
        k = row_of(label)
        return draft.with_cells("data", tuple((n, text) if i == k else (n, v) for i, (n, v) in enumerate(draft.data)))

    def test_every_slip_at_once(self):
        draft = shipped("wexley-w12")
        draft = self.with_value(draft, "MOP, amps", "5")
        draft = self.with_value(draft, "Rated air flow", "40")
        cooling = [list(r) for r in draft.cooling]
        cooling[0][4] = str(float(cooling[0][4].replace(",", "")) / 3)
        draft = draft.with_cells("cooling", tuple(tuple(r) for r in cooling))
        heating = [list(r) for r in draft.heating]
        heating[0][1] = heating[-1][1]
        draft = draft.with_cells("heating", tuple(tuple(r) for r in heating))
        told = self.told(draft)
        words = " ".join(told.values())
        for slip in ("below the MCA", "no air for what it cools", "COP of", "rises as it gets colder"):
            self.assertIn(slip, words)
        self.assertIn(("data", row_of("MOP, amps"), 1), told)
        self.assertIn(("data", row_of("Rated air flow"), 1), told)
        self.assertIn(("cooling", 0, 4), told)
        self.assertIn(("heating", 0, 1), told)
