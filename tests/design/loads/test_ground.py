"""The ground in summer: it stores the day's heat and, unless asked, takes none away; then it is the winter's ground."""

import unittest

import numpy as np

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.loads.components import COLUMN
from murvan.design.loads.response import Response
from murvan.model.edit import changed, replace_part
from murvan.model.job import Design
from tests.houses import box


def mean_load(job):
    return float(solve(job).loads.house_by_hour_w[0].mean())


class NoCredit(unittest.TestCase):
    def test_a_slab_takes_no_heat_on_the_mean_of_the_day(self):
        """Against the same box on a floor through which nothing can go: a room of the same make underneath."""
        job = box(6, 4)
        heated = changed(job, "", rooms=(changed(job.rooms[0], floor="heated"),))
        self.assertAlmostEqual(mean_load(job), mean_load(heated), delta=1e-6 * mean_load(job))
        floor = solve(job).loads.parts_by_hour_w[0, 0, COLUMN["floor"]]
        self.assertLess(np.abs(floor).max(), 1e-9)

    def test_crawl_space_and_basement_soil_take_none_either(self):
        for key in ("bungalow", "narrow"):
            with_ = changed(demo_job(key), "", design=Design())  # ducts in a crawl space would see its ground
            without = replace_part(with_, "design_day", ground_credit=True)
            colder = changed(with_, "", climate=changed(with_.climate, "", ground_c=with_.climate.ground_c - 4))
            self.assertAlmostEqual(mean_load(colder), mean_load(with_), delta=1e-6 * mean_load(with_))
            self.assertLess(mean_load(without), mean_load(with_))


class Credit(unittest.TestCase):
    def test_the_conductance_is_that_of_the_winter(self):
        """A room all on its slab edge: what a kelvin of ground gives is F P, but for the radiant node between."""
        job = replace_part(box(6, 4), "design_day", ground_credit=True)
        r = solve(job)
        slab = next(s for s in r.factors.surfaces if s.kind == "slab edge")
        answer = Response(r.answers, 0)
        labels = [f.label for f in answer.rows.faces if f.zone < 0]
        found = float(answer.faces[labels.index("slab"), 0].real)
        self.assertAlmostEqual(found, slab.area_m2 * slab.u_w_m2k, delta=0.12 * found)

    def test_it_follows_the_month(self):
        place = solve(replace_part(box(6, 4), "design_day", ground_credit=True)).answers.place
        july, october = place.ground_c[0], place.ground_c[3]
        climate = box().climate
        self.assertAlmostEqual(july, climate.ground_c + climate.ground_swing_k)
        self.assertAlmostEqual(october, climate.ground_c, delta=1e-9)


if __name__ == "__main__":
    unittest.main()
