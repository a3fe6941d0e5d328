"""An unheated basement: its winter balance by hand, what it does to floors, ducts and the design day."""

from __future__ import annotations

import math
import tempfile
import unittest
from pathlib import Path

import numpy as np

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.house.assemblies import assume, stand_on
from murvan.design.house.underfloor import BASEMENT, CRAWL, WALL_R, WALL_U
from murvan.design.loads.balance import balance
from murvan.design.loads.components import COLUMN
from murvan.model import JobError, load_job, replace_part, save_job, with_design
from murvan.model.edit import changed, replace
from tests.houses import box
from tests.march import March, plain


def over(job=None, **fields):
    """A house of 6 x 4 m with the assemblies of its time, over an unheated basement."""
    return changed(assume(job or box(6, 4), "1970s", "frame", "basement"), "", **fields)


class Winter(unittest.TestCase):
    def test_against_the_balance_by_hand(self):
        """Latta-Boileau from ASHRAE ch. 18 eq. 38 and 39, written out again here."""
        job = over(basement_construction=None)
        r = solve(job)
        c = r.conditions
        indoor, outdoor = c.indoor_heating.temperature_c, c.outdoor_winter.temperature_c
        floor = next(s for s in r.factors.surfaces if s.kind == "basement")
        self.assertAlmostEqual(floor.area_m2, 24.0, places=6)
        edge, deep, k = 20.0, BASEMENT.deep_m, 1.4
        offset = 2 * k * WALL_R / math.pi
        wall = 2 * k / (math.pi * deep) * (math.log(deep + offset) - math.log(offset))
        offset = k * BASEMENT.floor_r / math.pi
        slab = 2 * k / (math.pi * 4.0) * (math.log(2.0 + deep / 2 + offset) - math.log(deep / 2 + offset))
        up = 24.0 * floor.u_w_m2k
        out = (
            edge * BASEMENT.above_m * WALL_U
            + 24 * BASEMENT.height_m * BASEMENT.changes_h / 3600 * c.density_kg_m3 * 1006.0
        )
        down = edge * deep * wall + 24 * slab
        ground = job.climate.ground_c - job.climate.ground_swing_k
        by_hand = (up * indoor + out * outdoor + down * ground) / (up + out + down)
        self.assertAlmostEqual(r.factors.spaces.under_winter_c["basement"], by_hand, delta=0.02)
        self.assertAlmostEqual(floor.heating_w, up * (indoor - by_hand), delta=1.0)
        self.assertGreater(by_hand, outdoor + 5)

    def test_a_vented_crawl_space_against_the_balance_by_hand(self):
        job = changed(over(), "", foundation="crawl", basement_construction=None)
        r = solve(job)
        c, k, deep = r.conditions, 1.4, CRAWL.deep_m
        floor = next(s for s in r.factors.surfaces if s.kind == "crawl")
        offset = 2 * k * WALL_R / math.pi
        wall = 2 * k / (math.pi * deep) * (math.log(deep + offset) - math.log(offset))
        offset = k * CRAWL.floor_r / math.pi
        soil = 2 * k / (math.pi * 4.0) * (math.log(2.0 + deep / 2 + offset) - math.log(deep / 2 + offset))
        up = 24.0 * floor.u_w_m2k
        out = 20.0 * CRAWL.above_m * WALL_U + 24 * CRAWL.height_m * CRAWL.changes_h / 3600 * c.density_kg_m3 * 1006.0
        down = 20.0 * deep * wall + 24 * soil
        ground = job.climate.ground_c - job.climate.ground_swing_k
        indoor, outdoor = c.indoor_heating.temperature_c, c.outdoor_winter.temperature_c
        by_hand = (up * indoor + out * outdoor + down * ground) / (up + out + down)
        self.assertAlmostEqual(r.factors.spaces.under_winter_c["crawl"], by_hand, delta=0.02)
        self.assertAlmostEqual(floor.heating_w, up * (indoor - by_hand), delta=1.0)
        self.assertTrue(outdoor < by_hand < indoor - 5)

    def test_a_floor_over_it_loses_less_than_one_over_a_vented_crawl_space(self):
        cellar = solve(over())
        crawl = solve(changed(over(), "", foundation="crawl"))
        k = COLUMN["floor"]
        self.assertLess(cellar.loads.heating_parts[0, k], 0.95 * crawl.loads.heating_parts[0, k])
        floor = next(s for s in crawl.factors.surfaces if s.kind == "crawl")
        over_outdoors = floor.area_m2 * floor.u_w_m2k * crawl.conditions.heating_difference_k
        self.assertLess(crawl.loads.heating_parts[0, k], 0.9 * over_outdoors)
        self.assertGreater(cellar.loads.heating_parts[0, k], 0)

    def test_no_slab_edge_over_a_basement(self):
        self.assertEqual(solve(over()).geometry.edge_m, (0.0,))
        self.assertAlmostEqual(solve(over()).geometry.under_edge_m["basement"][0], 20.0)


class DesignDay(unittest.TestCase):
    def test_it_is_cool_and_even(self):
        r = solve(over())
        cellar = r.balance.buffer_c("basement")[0]
        self.assertLess(cellar.max(), r.conditions.outdoor_summer.temperature_c - 5)
        self.assertLess(np.ptp(cellar), 3)

    def test_the_whole_against_the_march_in_time(self):
        job = plain(over())
        r = solve(job)
        marched, air = March(job, r.geometry, r.conditions, r.gains, cells=12).run(24, 60, 1e-7)
        ours = balance(r.answers, r.gains)
        self.assertLess(np.abs(ours.parts_w[0].sum(axis=1) - marched).max(), 3e-4 * np.abs(marched).max())
        self.assertLess(np.abs(ours.buffers_c[0] - air).max(), 0.002)

    def test_ducts_in_it_lie_between_the_house_and_the_attic(self):
        found = {}
        for place in ("inside", "basement", "attic"):
            base = changed(demo_job(), "", foundation="basement")
            job = with_design(base, runs=tuple(changed(x, "", place=place) for x in base.design.runs))
            found[place] = solve(job).loads.heating_parts[:, COLUMN["ducts"]].sum()
        self.assertAlmostEqual(found["inside"], 0.0, delta=1.0)
        self.assertGreater(found["basement"], 50)
        self.assertLess(found["basement"], found["attic"])

    def test_what_leaks_there_is_lost_as_in_no_heated_basement(self):
        base = replace_part(changed(demo_job(), "", foundation="basement"), "air", duct_leakage=0.2)
        job = with_design(base, runs=tuple(changed(x, "", place="basement") for x in base.design.runs))
        tight = replace_part(job, "air", duct_leakage=0.0)
        slab = changed(job, "", foundation="slab")
        k = COLUMN["ducts"]
        leaky, sealed = (solve(x).loads.heating_parts[:, k].sum() for x in (job, tight))
        self.assertGreater(leaky, sealed + 500)
        self.assertAlmostEqual(solve(slab).loads.heating_parts[:, k].sum(), 0.0, delta=1.0)


class Choice(unittest.TestCase):
    def test_a_house_put_on_one_gets_a_floor_over_it(self):
        job = stand_on(box(6, 4), "basement")
        made = next(c for c in job.constructions if c.id == job.raised_construction)
        self.assertEqual((job.foundation, made.kind, made.assumed), ("basement", "floor", True))
        own = changed(job, "", raised_construction=made.id)
        self.assertEqual(stand_on(own, "crawl").raised_construction, made.id)
        self.assertIsNone(stand_on(box(6, 4), "slab").raised_construction)

    def test_a_room_or_a_part_may_lie_over_one(self):
        job = assume(box(6, 4), "1970s", "frame", "slab")
        one = replace(job, "rooms", job.rooms[0].id, floor="basement")
        g = solve(one).geometry
        self.assertEqual((g.floors_m2["basement"], g.floors_m2["slab"]), ((24.0,), (0.0,)))

    def test_auto_is_as_before(self):
        self.assertEqual(solve(box(6, 4)).geometry.floors_m2["slab"], (24.0,))
        self.assertEqual(solve(changed(box(6, 4), "", foundation="slab")).geometry.floors_m2["slab"], (24.0,))

    def test_an_edit_of_it_is_solved(self):
        before = solve(changed(over(), "", foundation="slab"))
        after = solve(over(), before)
        np.testing.assert_allclose(after.loads.heating_w, solve(over()).loads.heating_w)
        np.testing.assert_allclose(after.balance.parts_w, solve(over()).balance.parts_w, atol=1e-9)

    def test_it_is_saved_and_an_unknown_one_refused(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.murvan"
            save_job(over(), path)
            self.assertEqual(load_job(path).foundation, "basement")
        with self.assertRaises(JobError):
            changed(box(), "House", foundation="stilts")


if __name__ == "__main__":
    unittest.main()
