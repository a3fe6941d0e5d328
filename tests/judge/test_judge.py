"""The judge, short: drawn houses whose automatic layouts have nothing wrong by its rules; `./run judge` does all of them."""

import unittest

from murvan.design import solve
from murvan.design.lay import whole_layouts
from murvan.design.propose import proposals, taken_up
from murvan.model import replace
from murvan.model.edit import changed, with_design
from tests.judge.houses import DRAWN
from tests.judge.offers import offer_judged
from tests.judge.rules import judged


class Judged(unittest.TestCase):
    def test_every_layout_of_some_houses_is_clean(self):
        for name in ("ranch", "half_storey"):
            found = whole_layouts(DRAWN[name]())
            self.assertTrue(found, name)
            for x in found:
                self.assertEqual(judged(x.results), {}, (name, x.scheme))

    def test_every_proposal_of_some_houses_gives_what_it_promises(self):
        heated = []
        for name in ("crawl", "split_level"):
            job = DRAWN[name]()
            found = proposals(job)
            self.assertTrue(found, name)
            for p in found:
                up = taken_up(job, p)
                self.assertEqual(offer_judged(solve(up)), {}, (name, p.kind))
                heated += [up] if any(u.heater_kw > 0 for u in up.design.indoor_units) else []
        cold = max(heated, key=lambda x: sum(u.heater_kw for u in x.design.indoor_units))
        units = tuple(changed(u, u.tag, heater_kw=0.0) for u in cold.design.indoor_units)
        bare = with_design(cold, indoor_units=units)
        self.assertIn("capacity", offer_judged(solve(bare)), "the judge sees a heat kit that is missing")

    def test_the_judge_sees_what_is_spoilt(self):
        """So that a clean sheet means something: a run moved into another, a register without air, dampers shut."""
        best = whole_layouts(DRAWN["crawl"]())[0]
        self.assertEqual(judged(best.results), {})
        d = best.job.design
        shut = with_design(
            best.job, runs=tuple(changed(r, r.tag, damper=0.3) if r.damper is not None else r for r in d.runs)
        )
        self.assertIn("air", judged(solve(shut)))
        first = next(r for r in best.results.laid if r.parent is None and r.side == "supply")
        at = next(j for j in d.joints if j.id == first.start)
        moved = replace(best.job, "joints", at.id, height_m=at.height_m - 2.5)
        self.assertIn("misses plenum", judged(solve(moved)))
        sunk = with_design(
            best.job, joints=tuple(changed(j, j.id, height_m=0.0 if j.height_m < 0 else j.height_m) for j in d.joints)
        )
        same = judged(solve(sunk))
        self.assertTrue({"in a room", "duct in duct", "misses plenum"} & set(same), same)
