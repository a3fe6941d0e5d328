"""Rooms drawn, cut, split and joined; areas against shapely and hand figures."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon
from shapely.ops import unary_union

from murvan.design import solve
from murvan.design.drawing.outlines import tidy
from murvan.design.drawing.rooms import (
    draw_room,
    draw_space,
    join_rooms,
    remove_room,
    rename_room,
    set_use,
    split_room,
    use_from_name,
)
from murvan.model import Job, JobValueError, Opening, Storey, Transfer
from murvan.model.design_edit import zone_of
from murvan.model.edit import changed, replace
from murvan.model.job import signed_area
from tests.houses import box, demo, two_rooms

GROUND = (Storey(id="g", name="Ground", height_m=2.5),)


def rect(x, y, w, d):
    return ((x, y), (x + w, y), (x + w, y + d), (x, y + d))


def empty():
    return Job(name="Empty", storeys=GROUND)


def area(job, name):
    return Polygon(next(r.outline_m for r in job.rooms if r.name == name)).area


def union(job, storey="g"):
    return unary_union([Polygon(r.outline_m) for r in job.rooms if r.storey == storey]).area


class Tidy(unittest.TestCase):
    def test_doubles_and_points_on_a_wall_go(self):
        out = tidy(((0, 0), (0, 0), (2, 0), (4, 0), (4, 3), (0, 3), (0, 1.5)))
        self.assertEqual(out, ((0, 0), (4, 0), (4, 3), (0, 3)))

    def test_a_room_drawn_backwards_is_turned_clockwise_on_the_plan(self):
        self.assertGreater(signed_area(tidy(((0, 0), (0, 3), (4, 3), (4, 0)))), 0)

    def test_what_is_no_room_is_refused_in_words(self):
        for outline, words in (
            (((0, 0), (2, 0), (4, 0)), "at least three walls"),
            (((0, 0), (4, 4), (4, 0), (0, 3)), "cross"),
            (rect(0, 0, 0.3, 0.3), "only 0.09 m²"),
        ):
            with self.subTest(words), self.assertRaisesRegex(JobValueError, words):
                tidy(outline, "Den")

    @given(st.lists(st.tuples(st.integers(-20, 20), st.integers(-20, 20)), min_size=3, max_size=12))
    @settings(max_examples=150, deadline=None)
    def test_tidying_keeps_the_area_or_refuses(self, points):
        outline = tuple((float(x), float(y)) for x, y in points)
        try:
            out = tidy(outline)
        except JobValueError:
            return
        self.assertAlmostEqual(abs(signed_area(out)), abs(signed_area(outline)), places=6)
        self.assertEqual(tidy(out), out, "tidying twice changes nothing")


class Draw(unittest.TestCase):
    def test_the_first_room(self):
        drawn = draw_room(empty(), "g", rect(1, 1, 4, 3), "Kitchen")
        self.assertEqual((drawn.kind, drawn.id), ("room", "room1"))
        self.assertAlmostEqual(area(drawn.job, "Kitchen"), 12.0)
        self.assertEqual(drawn.job.rooms[0].use, "kitchen")

    def test_over_another_room_it_takes_what_is_free(self):
        job = draw_room(empty(), "g", rect(0, 0, 4, 4), "Study").job
        drawn = draw_room(job, "g", rect(2, 0, 6, 6), "Hall")
        self.assertAlmostEqual(area(drawn.job, "Hall"), 36 - 8)
        self.assertIn("Study left free", drawn.say)
        self.assertAlmostEqual(union(drawn.job), 16 + 28)

    def test_inside_a_room_it_is_cut_out_of_it(self):
        job = draw_room(empty(), "g", rect(0, 0, 6, 4), "Bedroom").job
        drawn = draw_room(job, "g", rect(4, 3, 2, 1), "Closet")
        self.assertAlmostEqual(area(drawn.job, "Closet"), 2)
        self.assertAlmostEqual(area(drawn.job, "Bedroom"), 22)
        self.assertIn("cut out of Bedroom", drawn.say)

    def test_a_room_in_the_middle_of_another_is_refused(self):
        job = draw_room(empty(), "g", rect(0, 0, 6, 6), "Loft").job
        with self.assertRaisesRegex(JobValueError, "must reach one of its walls"):
            draw_room(job, "g", rect(2, 2, 1, 1))

    def test_a_room_that_cuts_another_in_two_is_refused(self):
        job = draw_room(empty(), "g", rect(0, 0, 6, 3), "Hall").job
        with self.assertRaisesRegex(JobValueError, "in two"):
            draw_room(job, "g", rect(2, 0, 1, 3))

    def test_the_same_room_twice_is_refused(self):
        job = draw_room(empty(), "g", rect(0, 0, 6, 3), "Hall").job
        with self.assertRaisesRegex(JobValueError, "Hall is here already"):
            draw_room(job, "g", rect(0, 0, 6, 3))

    def test_round_another_room_is_refused(self):
        job = draw_room(empty(), "g", rect(2, 2, 2, 2), "Core").job
        with self.assertRaisesRegex(JobValueError, "right round another room"):
            draw_room(job, "g", rect(0, 0, 6, 6))

    def test_openings_of_a_cut_room_keep_their_place(self):
        job = box(8, 4)  # a south window 2 m wide from x = 7 to 5
        drawn = draw_room(job, "g", rect(0, 2, 2, 2), "Bath")
        window = drawn.job.openings[0]
        before = solve(job).geometry.openings[0]
        after = solve(drawn.job).geometry.openings[0]
        self.assertEqual(window.room, "a")
        self.assertAlmostEqual(before.facing_deg, after.facing_deg)
        self.assertAlmostEqual(window.offset_m, 1.0, places=4)

    def test_a_window_goes_to_the_new_room_when_it_takes_its_wall(self):
        drawn = draw_room(box(8, 4), "g", rect(4.5, 2, 3.5, 2), "Bath")
        self.assertEqual(drawn.job.openings[0].room, drawn.id)

    def test_a_garage_takes_what_is_free(self):
        drawn = draw_space(box(6, 4), "g", rect(4, 0, 6, 4))
        self.assertAlmostEqual(Polygon(drawn.job.spaces[0].outline_m).area, 16)
        self.assertTrue(any(w.other == "garage" for w in solve(drawn.job).geometry.walls))

    def test_the_storeys_usual_zone_is_taken(self):
        job = demo()
        drawn = draw_room(job, "upper", rect(20, 0, 3, 3))
        self.assertEqual(zone_of(drawn.job.design, drawn.id), "2")


class Names(unittest.TestCase):
    def test_names_tell_uses(self):
        for name, use in (
            ("Bedroom 2", "bedroom"),
            ("Master bath", "bath"),
            ("WC", "powder"),
            ("Family room", "living"),
            ("Entry", "hall"),
            ("Home office", "study"),
            ("Laundry", "utility"),
            ("Xyzzy", None),
            ("", None),
        ):
            with self.subTest(name):
                self.assertEqual(use_from_name(name), use)

    def test_a_new_name_sets_an_open_use_and_counts_bedrooms(self):
        job = draw_room(changed(empty(), "", bedrooms=0), "g", rect(0, 0, 4, 3)).job
        job = rename_room(job, "room1", "Bedroom 1")
        self.assertEqual((job.rooms[0].use, job.bedrooms), ("bedroom", 1))
        self.assertEqual(rename_room(job, "room1", "Kitchen").rooms[0].use, "bedroom", "a chosen use stays")

    def test_a_number_of_bedrooms_that_was_typed_stays(self):
        job = draw_room(changed(empty(), "", bedrooms=5), "g", rect(0, 0, 4, 3), "Bedroom 1").job
        job = rename_room(draw_room(job, "g", rect(5, 0, 4, 3)).job, "room2", "Bedroom 2")
        self.assertEqual(job.bedrooms, 5)

    def test_an_empty_name_is_refused(self):
        with self.assertRaises(JobValueError):
            rename_room(two_rooms(), "a", "   ")


class Uses(unittest.TestCase):
    def job(self):
        return draw_room(changed(empty(), "", bedrooms=0), "g", rect(0, 0, 4, 3)).job

    def test_a_room_with_a_door_lets_its_air_back_under_it(self):
        job = set_use(self.job(), "room1", "bedroom")
        self.assertAlmostEqual(job.rooms[0].transfer.undercut_m, 0.01905)
        self.assertEqual(job.bedrooms, 1)
        open_room = set_use(job, "room1", "living")
        self.assertIsNone(open_room.rooms[0].transfer)
        self.assertEqual(open_room.bedrooms, 0)

    def test_what_was_chosen_for_a_room_stays(self):
        grille = Transfer(kind="grille", area_m2=0.05)
        job = replace(self.job(), "rooms", "room1", transfer=grille)
        self.assertEqual(set_use(job, "room1", "bath").rooms[0].transfer, grille)
        self.assertEqual(set_use(job, "room1", "living").rooms[0].transfer, grille)

    def test_a_name_brings_the_defaults_along(self):
        self.assertIsNotNone(rename_room(self.job(), "room1", "Master bath").rooms[0].transfer)
        self.assertIsNotNone(draw_room(empty(), "g", rect(0, 0, 4, 3), "Office").job.rooms[0].transfer)


class Split(unittest.TestCase):
    def test_two_parts_add_up(self):
        drawn = split_room(two_rooms(), "g", (5.5, 0.1), (5.5, 3.9))
        self.assertAlmostEqual(union(drawn.job), 36)
        self.assertAlmostEqual(area(drawn.job, "East"), 14)
        self.assertAlmostEqual(area(drawn.job, "East 2"), 6)
        self.assertEqual(drawn.id, drawn.job.rooms[-1].id)

    def test_a_slanting_cut(self):
        drawn = split_room(box(6, 4), "g", (2, 0), (4, 4))
        self.assertAlmostEqual(sum(Polygon(r.outline_m).area for r in drawn.job.rooms), 24)

    def test_windows_and_registers_stay_on_the_plan(self):
        job = demo()
        drawn = split_room(job, "ground", (2.0, 0.0), (2.0, 4.572))
        new = drawn.job.rooms[-1]
        before = {o.id: o for o in job.openings if o.room == "living"}
        self.assertTrue({o.tag for o in drawn.job.openings if o.room == new.id} >= {"G1", "G2"})
        self.assertEqual(len(drawn.job.openings) + (len(drawn.say.split(",")) if drawn.say else 0), len(job.openings))
        self.assertEqual(
            {x.id for x in drawn.job.design.registers if x.room in ("living", new.id)},
            {x.id for x in job.design.registers if x.room == "living"},
        )
        self.assertTrue(before)

    def test_a_stroke_that_ends_in_the_room_is_refused(self):
        with self.assertRaisesRegex(JobValueError, "right across"):
            split_room(box(6, 4), "g", (3, 0), (3, 2))

    def test_a_stroke_outside_is_refused(self):
        with self.assertRaisesRegex(JobValueError, "across a room"):
            split_room(box(6, 4), "g", (13, 0), (13, 2))

    def test_a_stroke_of_no_length_is_refused(self):
        with self.assertRaisesRegex(JobValueError, "from one wall"):
            split_room(box(6, 4), "g", (3, 1), (3, 1))


class Join(unittest.TestCase):
    def test_split_and_joined_is_as_before(self):
        job = box(6, 4)
        parted = split_room(job, "g", (2, 0), (2, 4)).job
        again = join_rooms(parted, "a", parted.rooms[-1].id).job
        self.assertEqual(again.rooms[0].outline_m, job.rooms[0].outline_m)
        self.assertEqual(again.openings, job.openings)

    def test_a_door_between_them_goes(self):
        job = two_rooms()
        door = Opening(
            id="d", tag="D1", kind="door", room="a", wall=1, offset_m=1, width_m=0.8, height_m=2, inside=True
        )
        job = changed(job, "", openings=(door,))
        self.assertEqual(join_rooms(job, "a", "b").job.openings, ())

    def test_rooms_drawn_with_a_wall_between_them_join(self):
        job = draw_room(empty(), "g", rect(0, 0, 4, 4), "One").job
        job = draw_room(job, "g", rect(4.12, 0, 4, 4), "Two").job
        joined = join_rooms(job, "room1", "room2").job
        self.assertEqual(len(joined.rooms), 1)
        self.assertAlmostEqual(Polygon(joined.rooms[0].outline_m).area, 8.12 * 4, places=3)

    def test_rooms_apart_or_touching_at_a_corner_are_refused(self):
        job = draw_room(empty(), "g", rect(0, 0, 4, 4), "One").job
        job = draw_room(job, "g", rect(4, 4, 4, 4), "Corner").job
        job = draw_room(job, "g", rect(20, 4, 4, 4), "Far").job
        for other in ("room2", "room3"):
            with self.subTest(other), self.assertRaisesRegex(JobValueError, "share no wall"):
                join_rooms(job, "room1", other)

    def test_itself_and_another_storey_are_refused(self):
        with self.assertRaisesRegex(JobValueError, "itself"):
            join_rooms(two_rooms(), "a", "a")
        with self.assertRaisesRegex(JobValueError, "two storeys"):
            join_rooms(demo(), "living", "bed1")

    def test_registers_of_the_room_that_is_gone_stay_in_the_joined_one(self):
        job = join_rooms(demo(), "dining", "kitchen").job
        count = sum(x.room in ("dining", "kitchen") for x in demo().design.registers)
        self.assertEqual(sum(x.room == "dining" for x in job.design.registers), count)


class Remove(unittest.TestCase):
    def test_all_that_belongs_to_the_room_goes(self):
        drawn = remove_room(demo(), "bed4")
        job = drawn.job
        self.assertFalse([x for x in job.design.registers if x.room == "bed4"])
        self.assertFalse([o for o in job.openings if o.room == "bed4"])
        self.assertEqual(job.bedrooms, demo().bedrooms - 1)
        self.assertIn("Bedroom 4 is gone", drawn.say)
        solve(job)

    def test_an_unknown_room_is_refused(self):
        with self.assertRaises(JobValueError):
            remove_room(demo(), "cellar")


if __name__ == "__main__":
    unittest.main()
