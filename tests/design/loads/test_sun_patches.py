"""Sun on the floor against the shadow of a pole by hand."""

from __future__ import annotations

import unittest
from math import tan

import numpy as np
from shapely.geometry import Polygon

from murvan.design import solve
from murvan.design.loads.sun_patches import FloorSun, sun_direction
from murvan.model import Opening, replace_part
from murvan.model.edit import changed
from tests.houses import box, demo, demo_results


def lit(job, hour, month=0):
    r = solve(job)
    return FloorSun(job, r.geometry, r.conditions.days[month], "g").at(hour), r.conditions.days[month]


def facing(degrees):
    """The box with its window in the wall that looks there."""
    base = box().openings[0]
    for wall in range(4):
        job = box(openings=(changed(base, wall=wall),))
        if solve(job).geometry.openings[0].facing_deg == degrees:
            return job
    raise AssertionError(degrees)


class Patches(unittest.TestCase):
    def test_a_south_window_at_noon(self):
        """Depth from the wall is height over tan of the sun's altitude, from sill to head."""
        job = facing(180.0)
        (found,), day = lit(job, 13)  # summer time: the sun is all but in the south
        o = job.openings[0]
        reach = np.cos(np.deg2rad(day.sun_azimuth_deg[12] - 180)) / tan(np.deg2rad(day.sun_altitude_deg[12]))
        wall = max(y for _, y in job.rooms[0].outline_m)
        depths = sorted(wall - y for _, y in found.outline_m)
        self.assertAlmostEqual(depths[0], o.sill_m * reach, places=2)
        self.assertAlmostEqual(depths[-1], (o.sill_m + o.height_m) * reach, places=2)
        self.assertAlmostEqual(Polygon(found.outline_m).area, o.width_m * o.height_m * reach, places=2)

    def test_the_autumn_sun_reaches_deeper(self):
        job = facing(180.0)
        area = [sum(Polygon(p.outline_m).area for p in lit(job, 12, m)[0]) for m in (0, 3)]
        self.assertGreater(area[1], 2 * area[0])

    def test_west_in_the_afternoon_only(self):
        job = facing(270.0)
        self.assertEqual(lit(job, 9)[0], ())
        self.assertEqual(len(lit(job, 17)[0]), 1)

    def test_night_and_rooms_elsewhere(self):
        self.assertEqual(lit(facing(180.0), 2)[0], ())
        r = demo_results()
        self.assertEqual(FloorSun(demo(), r.geometry, r.conditions.days[0], "nowhere").at(12), ())

    def test_it_stays_within_its_room(self):
        r = demo_results()
        for storey in ("ground", "upper"):
            sun = FloorSun(demo(), r.geometry, r.conditions.days[3], storey)
            for hour in (7, 10, 13, 16, 18):
                for p in sun.at(hour):
                    room = next(x for x in demo().rooms if x.id == p.room)
                    self.assertLess(Polygon(p.outline_m).difference(Polygon(room.outline_m).buffer(1e-6)).area, 1e-6)

    def test_an_overhang_cuts_the_far_part_off(self):
        job = facing(180.0)
        o = changed(job.openings[0], overhang_m=0.8)
        shaded = changed(job, "", openings=(o,))
        a, b = (sum(Polygon(p.outline_m).area for p in lit(x, 12)[0]) for x in (job, shaded))
        self.assertLess(b, 0.7 * a)

    def test_turning_north_turns_the_sun_on_the_plan(self):
        day = demo_results().conditions.days[0]
        sx, sy = sun_direction(demo(), day, 13)
        self.assertGreater(sy, 0.95)  # south is down
        turned = replace_part(demo(), "site", north_deg=90.0)
        self.assertLess(sun_direction(turned, day, 13)[0], -0.95)  # then it is at the left
        self.assertAlmostEqual(sx**2 + sy**2, 1.0)

    def test_a_skylight_throws_its_light_down(self):
        sky = Opening(
            id="s",
            tag="S1",
            kind="skylight",
            room="a",
            wall=0,
            offset_m=0,
            width_m=0.6,
            height_m=0.9,
            glazing="glass-034",
            position_m=(3.0, 3.2),
        )
        (found,), day = lit(box(openings=(sky,)), 13)
        shift = 2.4384 / tan(np.deg2rad(day.sun_altitude_deg[12]))
        centre = Polygon(found.outline_m).centroid
        self.assertAlmostEqual(3.2 - centre.y, shift, delta=0.2)


if __name__ == "__main__":
    unittest.main()
