"""Dampers set by the air circuit: every face gets its air; and the order on site with the flow to expect at each step."""

import unittest
from functools import cache

from murvan.design import solve
from murvan.design.study.balancing import balanced, steps
from murvan.model.edit import changed, replace, with_design
from tests.design.lay.test_registers import laid_out


@cache
def house(which="bungalow"):
    return laid_out(which)[0].results


def opened(r):
    """The same with every damper open."""
    runs = tuple(changed(x, x.tag, damper=1.0) if x.damper is not None else x for x in r.job.design.runs)
    return solve(with_design(r.job, runs=runs), r)


def shares(r):
    want = r.systems["unit1"].airflow.register_m3_s
    supply = {x.id for x in r.job.design.registers if x.side == "supply"}
    return {i: q / want[i] for i, q in r.network.register_m3_s.items() if i in supply and want[i] > 1e-3}


def widest(r):
    """The damper of the supply that is furthest open."""
    return max(x.damper for x in r.job.design.runs if x.damper is not None and x.side == "supply")


class TestBalanced(unittest.TestCase):
    def test_from_all_open_every_face_gets_its_share(self):
        for which in ("demo", "bungalow", "narrow"):
            start = opened(house(which))
            self.assertGreater(max(shares(start).values()), 1.15, which)
            done = solve(balanced(start), start)
            got = shares(done)
            self.assertLess(max(got.values()) / min(got.values()), 1.08, which)
            self.assertGreater(min(got.values()), 0.95, which)
            self.assertLess(max(got.values()), 1.06, which)
            self.assertEqual(widest(done), 1.0, which)

    def test_from_all_throttled_the_hardest_is_opened_and_nothing_is_burnt(self):
        for which in ("demo", "bungalow", "narrow"):
            r = house(which)
            runs = tuple(changed(x, x.tag, damper=0.4) if x.damper is not None else x for x in r.job.design.runs)
            throttled = solve(with_design(r.job, runs=runs), r)
            done = solve(balanced(throttled), throttled)
            self.assertEqual(widest(done), 1.0, which)
            before, after = (shares(x) for x in (r, done))
            for i in before:
                self.assertAlmostEqual(before[i], after[i], delta=0.03, msg=f"{which} {i}")

    def test_a_blower_much_too_strong_is_held_to_the_design_air(self):
        r = house("demo")
        strong = solve(replace(r.job, "indoor_units", "unit1", tap=5, flow_m3_s=0.8 * r.main.airflow.total_m3_s), r)
        got = shares(solve(balanced(strong), strong))
        self.assertAlmostEqual(sum(got.values()) / len(got), 1.0, delta=0.04)  # dampers go by whole percents
        self.assertLess(max(got.values()) / min(got.values()), 1.08)

    def test_where_the_blower_is_too_weak_all_get_the_same_share_and_the_hardest_is_open(self):
        weak = solve(replace(opened(house()).job, "indoor_units", "unit1", tap=1), house())
        done = solve(balanced(weak), weak)
        got = shares(done)
        self.assertLess(max(got.values()), 0.97)
        self.assertLess(max(got.values()) / min(got.values()), 1.06)
        self.assertEqual(max(x.damper for x in done.job.design.runs if x.damper is not None), 1.0)

    def test_balanced_again_nothing_moves_by_more_than_a_percent(self):
        once = solve(balanced(house()), house())
        twice = balanced(once)
        for a, b in zip(once.job.design.runs, twice.design.runs, strict=True):
            if a.damper is not None:
                self.assertAlmostEqual(a.damper, b.damper, delta=0.021)

    def test_without_an_air_circuit_the_paths_decide(self):
        job = with_design(
            house().job,
            registers=tuple(x for x in house().job.design.registers if x.side == "supply"),
            runs=tuple(x for x in house().job.design.runs if x.side == "supply"),
        )
        r = solve(job)
        self.assertIsNone(r.network)
        self.assertLess(min(x.damper for x in balanced(r).design.runs if x.damper is not None), 1.0)


class TestSteps(unittest.TestCase):
    def test_every_damper_once_and_the_last_step_is_the_end(self):
        found = steps(house())
        dampers = {x.id for x in house().job.design.runs if x.damper is not None and x.register_id}
        self.assertEqual({s.run for s in found}, dampers)
        self.assertEqual(len(found), len(dampers))
        last = found[-1]
        self.assertAlmostEqual(last.expect_m3_s, last.end_m3_s, 6)
        for s in found:
            self.assertAlmostEqual(s.end_m3_s, house().network.register_m3_s[s.register], 6)

    def test_closing_a_damper_takes_air_and_later_ones_give_some_back(self):
        for s in steps(house()):
            self.assertLessEqual(s.expect_m3_s, s.before_m3_s + 1e-9, s.tag)
            self.assertGreaterEqual(s.end_m3_s, s.expect_m3_s - 1e-9, s.tag)

    def test_the_one_with_most_beyond_its_own_is_first(self):
        found = steps(house())
        first = shares(opened(house()))
        self.assertEqual(found[0].register, max(first, key=first.get))


if __name__ == "__main__":
    unittest.main()
