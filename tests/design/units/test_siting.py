"""Where units hang and stand, and how loud they are; the sound law is ISO 9613-2's free field (from memory)."""

import math
import unittest

import numpy as np
from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as At

from murvan.demo import demo_job
from murvan.design.drawing.outlines import opening_line
from murvan.design.units.hanging import best_spot, hang_head
from murvan.design.units.siting import Surroundings, at_bedroom, outdoor_spot, sound_at, surroundings
from murvan.model.errors import JobValueError
from tests.houses import box, demo


class TestSound(unittest.TestCase):
    def test_six_decibels_a_doubling(self):
        self.assertAlmostEqual(sound_at(56, 1.0), 56)
        self.assertAlmostEqual(sound_at(56, 2.0), 56 - 6.02, 2)
        self.assertAlmostEqual(sound_at(56, 10.0), 36)

    def test_nearer_than_half_a_metre_it_stays_finite(self):
        self.assertEqual(sound_at(60, 0.0), sound_at(60, 0.5))

    def test_upstairs_is_farther(self):
        job = demo()
        o = next(o for o in job.openings if next(r for r in job.rooms if r.id == o.room).use == "bedroom")
        room = next(r for r in job.rooms if r.id == o.room)
        (x, y), _ = opening_line(o, room)
        heard = at_bedroom(job, (x, y), 60)
        self.assertGreater(heard.distance_m, 2.5)
        self.assertAlmostEqual(heard.sound_dba, 60 - 20 * math.log10(heard.distance_m))

    def test_no_bedroom_nothing_heard(self):
        self.assertIsNone(at_bedroom(box(), (0, 0), 60))


class TestPlaces(unittest.TestCase):
    def test_outdoor_places_are_outside_and_off_glass_where_they_can(self):
        for which in ("demo", "bungalow", "narrow"):
            job = demo_job(which)
            x = surroundings(job)
            at = outdoor_spot(x, x.outside[0])
            self.assertFalse(any(Polygon(r.outline_m).contains(At(at)) for r in job.rooms))
            others = [at]
            for _ in range(4):
                others.append(outdoor_spot(x, at, others))
            apart = [math.dist(a, b) for k, a in enumerate(others) for b in others[:k]]
            self.assertTrue(all(d >= 1.2 for d in apart), apart)

    def test_heads_hang_off_glass_and_inside(self):
        for which in ("demo", "bungalow", "narrow"):
            job = demo_job(which)
            x = surroundings(job)
            for room in job.rooms:
                for kind in ("wall", "floor", "ceiling", "ducted"):
                    at = best_spot(x, room, kind)
                    self.assertTrue(Polygon(room.outline_m).buffer(1e-6).contains(At(at)), (room.name, kind))
            big = max(job.rooms, key=lambda r: Polygon(r.outline_m).area)
            at = At(best_spot(x, big, "wall"))
            glass = [
                LineString(opening_line(o, big)) for o in job.openings if o.room == big.id and o.kind == "window"
            ]
            self.assertTrue(all(g.distance(at) > 0.5 for g in glass))

    def test_a_floor_unit_stands_under_glass(self):
        job = box()
        at = At(best_spot(surroundings(job), job.rooms[0], "floor"))
        glass = LineString(opening_line(job.openings[0], job.rooms[0]))
        self.assertLess(glass.distance(at), 0.65)

    def test_a_house_without_outside_walls_has_no_place(self):
        self.assertIsNone(outdoor_spot(Surroundings(box(), {}, (), np.zeros(0)), (0, 0)))

    def test_a_head_needs_a_room(self):
        with self.assertRaisesRegex(JobValueError, "press inside one"):
            hang_head(box(), "g", (-5, -5))


if __name__ == "__main__":
    unittest.main()
