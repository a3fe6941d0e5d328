"""The ground in summer: it stores the day's heat and, unless asked, takes none away; then it is the winter's ground."""

import unittest

import numpy as np

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.loads.components import COLUMN
from murvan.design.loads.response import Response
from murvan.design.weather.conditions import GROUND_SHARE
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
        # the year's mean, 55 % of the swing, a month late: August is the warmest
        self.assertAlmostEqual(july, climate.ground_c + 0.55 * climate.ground_swing_k * np.cos(np.pi / 6))
        self.assertAlmostEqual(october, climate.ground_c + 0.55 * climate.ground_swing_k * 0.5)

    def test_the_share_of_the_swing_is_that_of_iso_13370(self):
        """A slab of 12 by 9 m on clay (1.5 W/mK, 2.2 m) and sand (2.0, 3.2), bare and with R-10: its formulas, from memory."""
        area, perimeter = 108.0, 42.0
        for conductivity, depth in ((1.5, 2.2), (2.0, 3.2)):
            for r in (0.0, 1.76):
                dt = 0.3 + conductivity * (0.17 + r + 0.04)
                b = area / (0.5 * perimeter)
                steady = area * 2 * conductivity / (np.pi * b + dt) * np.log(np.pi * b / dt + 1)
                if dt >= b:
                    steady = area * conductivity / (0.457 * b + dt)
                periodic = 0.37 * perimeter * conductivity * np.log(depth / dt + 1)
                self.assertAlmostEqual(periodic / steady, GROUND_SHARE, delta=0.15)

    def test_a_hot_place_s_slab_gives_little(self):
        """Indoors 23.9, ground 21 and a swing of 7 K: (21 + .55 x 7 cos 30 - 23.9) a kelvin instead of (28 - 23.9)."""
        job = box(6, 4)
        job = changed(job, "", climate=changed(job.climate, "", ground_c=21.0, ground_swing_k=7.0))
        with_ = solve(replace_part(job, "design_day", ground_credit=True))
        beyond = with_.answers.place.ground_c[0] - with_.conditions.indoor_cooling.temperature_c
        self.assertAlmostEqual(beyond, 21 + 0.55 * 7 * np.cos(np.pi / 6) - 23.8888889, 6)
        self.assertLess(abs(beyond), 0.2 * (28.0 - 23.8888889))


if __name__ == "__main__":
    unittest.main()
