"""Moving a wall moves its neighbours."""

import unittest

from murvan.design.drawing.walls import set_wall_length
from murvan.design.house.geometry import wall_length_m
from murvan.model import JobValueError
from murvan.model.edit import changed
from murvan.model.job import signed_area
from tests.houses import FT, demo, two_rooms


class TestWallLength(unittest.TestCase):
    def test_neighbour_follows(self):
        job = set_wall_length(two_rooms(), "a", 0, 5.0)
        west, east = job.rooms
        self.assertAlmostEqual(abs(signed_area(west.outline_m)), 20)
        self.assertAlmostEqual(abs(signed_area(east.outline_m)), 16)
        self.assertIn((5.0, 0.0), east.outline_m)

    def test_far_end_moves_not_the_near_one(self):
        job = set_wall_length(two_rooms(), "b", 0, 6.0)
        self.assertEqual(job.rooms[1].outline_m[0], (4.0, 0.0))
        self.assertEqual(job.rooms[1].outline_m[1], (10.0, 0.0))
        self.assertIs(job.rooms[0], job.rooms[0])

    def test_demo_living_north_wall(self):
        job = set_wall_length(demo(), "living", 0, 18 * FT)
        living = next(r for r in job.rooms if r.id == "living")
        self.assertAlmostEqual(wall_length_m(living.outline_m, 0), 18 * FT, places=6)
        upper = next(r for r in job.rooms if r.id == "bed2")
        self.assertEqual(upper, next(r for r in demo().rooms if r.id == "bed2"))

    def test_a_wall_that_would_swallow_a_room_is_refused(self):
        with self.assertRaisesRegex(JobValueError, "East"):
            set_wall_length(two_rooms(), "a", 0, 9.0)

    def test_windows_beyond_the_corner_stay_on_the_plan(self):
        job = set_wall_length(demo(), "living", 2, 18 * FT)  # the south wall: its far end is the west corner
        window = next(o for o in job.openings if o.tag == "G3")
        self.assertAlmostEqual(window.offset_m, 6.5 * FT, places=4)

    def test_a_wall_that_runs_on_is_refused(self):
        job = changed(
            two_rooms(),
            "",
            rooms=(changed(two_rooms().rooms[0], outline_m=((0, 0), (2, 0), (4, 0), (4, 4), (0, 4))),),
        )
        with self.assertRaisesRegex(JobValueError, "runs on into the next"):
            set_wall_length(job, "a", 0, 3.0)

    def test_too_short(self):
        with self.assertRaisesRegex(JobValueError, "longer than"):
            set_wall_length(two_rooms(), "a", 0, 0.0)

    def test_unknown_wall(self):
        with self.assertRaises(JobValueError):
            set_wall_length(two_rooms(), "a", 11, 3.0)
