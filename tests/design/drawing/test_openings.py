"""Openings on walls, and what the pointer catches."""

from __future__ import annotations

import unittest

from murvan.design import solve
from murvan.design.drawing.openings import (
    SIZES,
    place_opening,
    set_offset,
    set_size,
    set_width,
    slide_opening,
    spot_at,
)
from murvan.design.drawing.snap import SnapField, grid_step_m
from murvan.design.drawing.turning import add_storey
from murvan.model import JobValueError
from tests.houses import INCH, box, demo, two_rooms


class Place(unittest.TestCase):
    def test_the_wall_under_the_pointer(self):
        spot = spot_at(two_rooms(), "g", (2.0, 0.2))
        self.assertEqual((spot.room.id, spot.wall, spot.along_m, spot.beyond), ("a", 0, 2.0, "outdoors"))

    def test_of_a_shared_wall_the_side_of_the_pointer_counts(self):
        self.assertEqual(spot_at(two_rooms(), "g", (3.9, 2)).room.id, "a")
        self.assertEqual(spot_at(two_rooms(), "g", (4.1, 2)).room.id, "b")
        self.assertEqual(spot_at(two_rooms(), "g", (4.1, 2)).beyond, "heated")

    def test_nothing_in_the_middle_of_a_room(self):
        self.assertIsNone(spot_at(two_rooms(), "g", (2, 2)))

    def test_a_window_is_centred_where_it_was_dropped(self):
        drawn = place_opening(two_rooms(), spot_at(two_rooms(), "g", (2, 0)), "window")
        o = drawn.job.openings[0]
        self.assertAlmostEqual(o.offset_m + o.width_m / 2, 2.0)
        self.assertEqual((o.tag, o.inside), ("G1", False))
        self.assertTrue(o.glazing)
        self.assertAlmostEqual(o.sill_m + o.height_m, 82 * INCH, msg="heads line up with the doors'")
        self.assertGreater(solve(drawn.job).loads.house_sensible_w, solve(two_rooms()).loads.house_sensible_w)

    def test_near_a_corner_it_is_moved_in(self):
        o = place_opening(two_rooms(), spot_at(two_rooms(), "g", (0.1, 0)), "window").job.openings[0]
        self.assertEqual(o.offset_m, 0.0)

    def test_beside_another_it_keeps_clear(self):
        job = place_opening(two_rooms(), spot_at(two_rooms(), "g", (1.5, 0)), "window").job
        job = place_opening(job, spot_at(job, "g", (1.6, 0)), "window").job
        a, b = sorted(job.openings, key=lambda o: o.offset_m)
        self.assertGreaterEqual(b.offset_m, a.offset_m + a.width_m - 1e-6)

    def test_a_full_wall_says_so(self):
        job = two_rooms()
        for _ in range(3):
            job = place_opening(job, spot_at(job, "g", (2, 0)), "window").job
        with self.assertRaisesRegex(JobValueError, "West: no room is left"):
            place_opening(job, spot_at(job, "g", (2, 0)), "window")

    def test_windows_go_out_and_archways_in(self):
        with self.assertRaisesRegex(JobValueError, "needs an outside wall"):
            place_opening(two_rooms(), spot_at(two_rooms(), "g", (3.9, 2)), "window")
        with self.assertRaisesRegex(JobValueError, "joins two rooms"):
            place_opening(two_rooms(), spot_at(two_rooms(), "g", (2, 0)), "archway")

    def test_a_door_between_rooms_is_an_inside_door(self):
        inner = place_opening(two_rooms(), spot_at(two_rooms(), "g", (3.9, 2)), "door").job.openings[0]
        outer = place_opening(two_rooms(), spot_at(two_rooms(), "g", (2, 0)), "door").job.openings[0]
        self.assertEqual((inner.inside, outer.inside), (True, False))
        self.assertLess(inner.width_m, outer.width_m)

    def test_new_windows_take_the_glazing_most_used(self):
        job = demo()
        o = place_opening(job, spot_at(job, "ground", (1.0, 0.0)), "window").job.openings[-1]
        used = [x.glazing for x in job.openings if x.glazing]
        self.assertEqual(o.glazing, max(set(used), key=used.count))

    def test_an_exact_place(self):
        o = place_opening(two_rooms(), spot_at(two_rooms(), "g", (2, 0)), "window", exact_m=0.4).job.openings[0]
        self.assertEqual(o.offset_m, 0.4)


class Change(unittest.TestCase):
    def test_sliding_stops_at_the_corner_and_at_others(self):
        job = box(6, 4)
        self.assertEqual(slide_opening(job, "w", (9.0, 4.0)).openings[0].offset_m, 0.0)
        self.assertEqual(slide_opening(job, "w", (-3.0, 4.0)).openings[0].offset_m, 4.0)

    def test_a_typed_place_beyond_the_wall_is_refused(self):
        self.assertEqual(set_offset(box(6, 4), "w", 3.5).openings[0].offset_m, 3.5)
        with self.assertRaisesRegex(JobValueError, "at most 4.00 m along"):
            set_offset(box(6, 4), "w", 4.5)

    def test_wider_about_the_middle(self):
        o = set_width(box(6, 4), "w", 2.4).openings[0]
        self.assertAlmostEqual(o.offset_m, 0.8)
        with self.assertRaisesRegex(JobValueError, "wider than its wall"):
            set_width(box(6, 4), "w", 7)

    def test_a_size_from_the_list(self):
        size = SIZES["window"][0]
        o = set_size(box(6, 4), "w", size.key).openings[0]
        self.assertEqual((o.width_m, o.height_m), (size.width_m, size.height_m))
        self.assertEqual(set_size(box(6, 4), "w", "odd"), box(6, 4))

    def test_sizes_are_usual_and_different(self):
        for kind, sizes in SIZES.items():
            with self.subTest(kind):
                self.assertEqual(len({s.key for s in sizes}), len(sizes))
                self.assertTrue(all(0.5 < s.width_m < 2 and 0.6 < s.height_m < 2.2 for s in sizes))


class Snapping(unittest.TestCase):
    def setUp(self):
        self.field = SnapField(two_rooms(), "g")

    def test_a_corner_first(self):
        snap = self.field.snap((4.1, 0.08), 0.2, 0.1)
        self.assertEqual((snap.at, snap.corner), ((4.0, 0.0), True))
        self.assertIn("corner of", snap.words)

    def test_then_a_wall_at_round_lengths_along_it(self):
        snap = self.field.snap((2.03, 4.12), 0.2, 0.25)
        self.assertEqual(snap.at, (2.0, 4.0))
        self.assertEqual(snap.words, "wall of West")

    def test_then_in_line_with_a_corner(self):
        snap = self.field.snap((9.06, 7.13), 0.2, 0.25)
        self.assertEqual(snap.at, (9.0, 7.25))
        self.assertEqual(snap.words, "in line with East")
        self.assertEqual(snap.guides[0].start[0], 9.0)

    def test_in_line_with_two(self):
        self.assertEqual(self.field.snap((9.06, 4.1), 0.2, 0.25).at, (9.0, 4.0))

    def test_the_grid_counts_from_where_the_stroke_began(self):
        snap = self.field.snap((12.3, 8.3), 0.1, 0.5, origin=(10.1, 6.2))
        self.assertEqual(snap.at, (12.1, 8.2))
        self.assertEqual(snap.words, "")

    def test_what_moves_along_does_not_catch(self):
        field = SnapField(two_rooms(), "g", frozenset({"a", "b"}))
        self.assertEqual(field.snap((4.1, 0.08), 0.2, 0.5).at, (4.0, 0.0))
        self.assertEqual(field.snap((4.1, 0.08), 0.2, 0.5).words, "")

    def test_the_storey_below_catches(self):
        job, top = add_storey(two_rooms())
        self.assertEqual(SnapField(job, top).snap((4.03, 0.02), 0.2, 0.1).words, "corner of West below")

    def test_steps_are_usual_ones_and_wide_enough_to_aim(self):
        self.assertAlmostEqual(grid_step_m(46, False), 6 * INCH)
        self.assertAlmostEqual(grid_step_m(46, True), 0.25)
        self.assertAlmostEqual(grid_step_m(400, False), INCH)


if __name__ == "__main__":
    unittest.main()
