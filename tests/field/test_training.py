"""Cases of training: seeded, the clock, what is right, and the review."""

import unittest
from datetime import date

from murvan.design import solve
from murvan.field import Built, house
from murvan.field.fit import fit
from murvan.field.next_reading import next_reading
from murvan.field.places import places, standing
from murvan.field.training import (
    CALL_BACK,
    EASY,
    GRADES,
    LADDER,
    OTHER_STOREY,
    Answer,
    Case,
    Training,
    faults_of,
    fresh,
    minutes_between,
    review,
)
from murvan.model import HouseState
from tests.houses import demo


class TestCases(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.job = fresh(demo())
        cls.r = solve(cls.job)
        cls.b = Built(cls.r)
        cls.house = house(cls.r)

    def test_a_seed_is_one_house_to_everybody(self):
        for case in (Case(1, 5), Case(3, 5)):
            one, two = (Training(self.r, case) for _ in range(2))
            self.assertEqual(one.truth, two.truth)
            p = standing(places(self.job)["B4"], self.job.design.stands, self.job)
            self.assertEqual(one.read(self.job, p, "x"), two.read(self.job, p, "x"))
            self.assertTrue(one.visit.take(p, "y").simulated)
        self.assertNotEqual(faults_of(self.b, Case(1, 5)), faults_of(self.b, Case(1, 6)))

    def test_a_day_has_its_case(self):
        week = [Case.of_day(date(2026, 11, 30 + d) if d < 1 else date(2026, 12, d)) for d in range(7)]
        self.assertEqual([c.grade for c in week], [1, 1, 2, 2, 3, 3, 2])
        self.assertEqual(len({c.seed for c in week}), 7)

    def test_grades(self):
        drawn = {g: [faults_of(self.b, Case(g, k)) for k in range(60)] for g in GRADES}
        for g, cases in drawn.items():
            self.assertTrue(any(not c for c in cases), g)  # now and then nothing is wrong
        self.assertTrue(all(len(c) <= 1 and all(s.kind.id in EASY for s, _ in c) for c in drawn[1]))
        self.assertTrue(any(s.kind.id not in EASY for c in drawn[2] for s, _ in c))
        self.assertEqual({len(c) for c in drawn[3]}, {0, 2})
        with self.assertRaises(ValueError):
            faults_of(self.b, Case(4, 1))

    def test_the_clock_counts_walks_ladders_and_doors(self):
        known = places(self.job)
        near = minutes_between(self.job, known["B4"], known["B3"])
        self.assertEqual(minutes_between(self.job, None, known["B4"]), 0.0)
        self.assertEqual(minutes_between(self.job, known["B4"], known["A1"]), OTHER_STOREY)
        self.assertEqual(minutes_between(self.job, known["B4"], known["B4.boot"]), LADDER)
        shut = standing(known["bed1.pressure"], HouseState(doors="shut"), self.job)
        self.assertGreater(minutes_between(self.job, known["B4"], shut), near + 2)
        t = Training(self.r, Case(1, 3))
        t.read(self.job, known["B4"], "x")
        first = t.minutes
        t.read(self.job, known["B4"], "y")
        self.assertGreater(t.minutes, first)

    def read_all(self, case, words):
        t = Training(self.r, case)
        for k, word in enumerate(words):
            t.read(self.job, standing(places(self.job)[word], self.job.design.stands, self.job), f"m{k}")
        return t

    def test_right_and_wrong(self):
        case = next(
            Case(1, k) for k in range(40) if [s.kind.id for s, _ in faults_of(self.b, Case(1, k))] == ["filter"]
        )
        t = self.read_all(case, ("static-return", "static-after-filter", "static-before-coil", "static-supply", "B4"))
        key = t.truth[0][0].key
        good = review(t, self.house, [Answer(*key)])
        self.assertTrue(good.solved)
        self.assertGreater(good.read[-1].share, 0.8)
        bad = review(t, self.house, [Answer("kink", "B4")])
        self.assertFalse(bad.solved)
        self.assertEqual((bad.right, bad.wrong), (0, 1))
        self.assertGreater(bad.cost - good.cost, CALL_BACK - 1)
        self.assertLess(bad.points, good.points)
        silent = review(t, self.house, [Answer("", "")])
        self.assertEqual((silent.right, silent.wrong, silent.solved), (0, 0, False))

    def test_a_reading_that_tells_nothing_is_needless(self):
        case = next(
            Case(1, k) for k in range(40) if [s.kind.id for s, _ in faults_of(self.b, Case(1, k))] == ["filter"]
        )
        words = ("static-return", "static-after-filter", "static-before-coil", "static-supply", "B1", "B2")
        x = review(self.read_all(case, words), self.house, [])
        self.assertEqual([r.place.word for r in x.needless][-2:], ["B1", "B2"])

    def test_an_expert_who_follows_next_solves_plain_cases(self):
        solved = 0
        for seed in range(10):
            t = self.read_all(
                Case(1, seed), ("static-return", "static-after-filter", "static-before-coil", "static-supply")
            )
            top = None
            for k in range(14):
                said = list({s.place.key: s for s, _ in t.taken}.values())
                f = fit(self.house.built, self.house.tracks, said)
                top = None if f.nothing_wrong else f.suspects[0]
                n = next_reading(f, self.house.tracks.places, [s.place for s in said])
                if n is None or n.place is None:
                    break
                t.read(self.job, n.place, f"n{k}")
            answers = [Answer(*top.spot.key)] if top is not None else [Answer("", "")]
            solved += review(t, self.house, answers).solved
        self.assertGreaterEqual(solved, 6)


if __name__ == "__main__":
    unittest.main()
