"""What stands in the house: areas, furniture, what is there, skylights, ceilings that slope, headroom."""

from __future__ import annotations

import unittest

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.drawing.things import (
    AREAS,
    CEILINGS,
    FURNITURE_M,
    add_area,
    add_existing,
    add_furniture,
    add_skylight,
    ceiling_form,
    move_thing,
    room_at,
    set_ceiling_form,
    set_slope,
    standing_area_m2,
)
from murvan.design.house.levels import headroom_m
from murvan.model import JobValueError, MechanicalPlace, Slope
from murvan.model.edit import changed, remove
from tests.houses import box, demo, two_rooms


def rect(x, y, w, d):
    return ((x, y), (x + w, y), (x + w, y + d), (x, y + d))


class Areas(unittest.TestCase):
    def test_each_kind_goes_into_its_collection_with_a_name_of_its_own(self):
        job = two_rooms()
        for kind, (collection, _, name) in AREAS.items():
            more = {"low_m": 2.0, "high_m": 0.2} if kind == "obstacle" else {}
            first = add_area(job, kind, "g", rect(0, 0, 1, 1), more=more)
            second = add_area(first.job, kind, "g", rect(2, 0, 1, 1), more=more)
            items = getattr(second.job, collection)
            self.assertEqual([x.name for x in items], [name, f"{name} 2"])
            self.assertEqual((second.kind, second.id), (kind, items[1].id))

    def test_an_outline_of_nothing_is_refused(self):
        with self.assertRaisesRegex(JobValueError, "Clear"):
            add_area(two_rooms(), "keep", "g", ((0, 0), (1, 0), (2, 0)))

    def test_a_storey_takes_its_things_with_it(self):
        job = demo_job("narrow")
        after = remove(job, "storeys", "half", with_dependents=True)
        self.assertFalse([x for x in (*after.places, *after.keep_clear) if x.storey == "half"])
        rooms = {r.id for r in after.rooms}
        self.assertTrue(all(f.room in rooms for f in after.furniture))


class Furniture(unittest.TestCase):
    def test_it_belongs_to_the_room_it_stands_in(self):
        drawn = add_furniture(two_rooms(), "g", (6.0, 2.0), "bed", 90.0)
        bed = drawn.job.furniture[0]
        self.assertEqual((bed.room, bed.kind, bed.turn_deg), ("b", "bed", 90.0))

    def test_outside_it_is_refused(self):
        with self.assertRaisesRegex(JobValueError, "stands in a room"):
            add_furniture(two_rooms(), "g", (60.0, 2.0))

    def test_moved_over_a_wall_it_changes_rooms_and_outside_it_does_not_go(self):
        job = add_furniture(two_rooms(), "g", (3.0, 2.0)).job
        item = job.furniture[0].id
        self.assertEqual(move_thing(job, "furniture", item, 3.0, 0.0).furniture[0].room, "b")
        with self.assertRaisesRegex(JobValueError, "inside one"):
            move_thing(job, "furniture", item, 30.0, 0.0)
        with self.assertRaisesRegex(JobValueError, "not on the plan"):
            move_thing(job, "furniture", "nothing", 1.0, 0.0)

    def test_sizes_are_those_of_furniture(self):
        for kind, (w, d) in FURNITURE_M.items():
            with self.subTest(kind):
                self.assertTrue(0.6 < w < 2.5 and 0.6 < d < 2.5)

    def test_a_room_that_goes_takes_its_furniture(self):
        job = add_furniture(two_rooms(), "g", (6.0, 2.0)).job
        self.assertEqual(remove(job, "rooms", "b", with_dependents=True).furniture, ())


class Existing(unittest.TestCase):
    def test_it_may_stand_outside_too(self):
        inside = add_existing(two_rooms(), "g", (2.0, 2.0), "water_heater").job.existing[0]
        outside = add_existing(two_rooms(), "g", (50.0, 2.0), "condenser").job.existing[0]
        self.assertEqual((inside.room, inside.name), ("a", "Water heater"))
        self.assertEqual((outside.room, outside.storey), (None, "g"))

    def test_moved_it_takes_the_room_it_comes_to(self):
        job = add_existing(two_rooms(), "g", (2.0, 2.0)).job
        self.assertEqual(move_thing(job, "existing", "old1", 4.0, 0.0).existing[0].room, "b")
        self.assertIsNone(move_thing(job, "existing", "old1", 40.0, 0.0).existing[0].room)


class Skylights(unittest.TestCase):
    def test_the_next_is_like_the_last(self):
        job = add_skylight(box(6, 4), "g", (2.0, 2.0)).job
        job = changed(
            job,
            "",
            openings=tuple(
                changed(o, width_m=1.1, height_m=1.3) if o.kind == "skylight" else o for o in job.openings
            ),
        )
        again = add_skylight(job, "g", (4.0, 2.0)).job.openings[-1]
        self.assertEqual((again.width_m, again.height_m, again.tag), (1.1, 1.3, "S2"))

    def test_it_needs_a_room_below(self):
        with self.assertRaisesRegex(JobValueError, "inside a room"):
            add_skylight(box(6, 4), "g", (20.0, 2.0))

    def test_moved_to_another_room_it_lights_that_one(self):
        job = add_skylight(two_rooms(), "g", (2.0, 2.0)).job
        moved = move_thing(job, "skylight", job.openings[-1].id, 4.0, 0.0)
        self.assertEqual(moved.openings[-1].room, "b")
        column = [f.room for f in solve(moved).geometry.openings]
        self.assertEqual(column, [1])


class Ceilings(unittest.TestCase):
    def test_every_form_can_be_set_and_is_told_again(self):
        for form, _ in CEILINGS:
            with self.subTest(form):
                job = set_ceiling_form(box(6, 4), "a", form)
                self.assertEqual(ceiling_form(job.rooms[0]), form)
                self.assertGreater(solve(job).geometry.volume_m3[0], 10)

    def test_it_rises_across_the_short_way(self):
        self.assertEqual(set_ceiling_form(box(6, 4), "a", "half").rooms[0].slope.rises, "y")
        self.assertEqual(set_ceiling_form(box(3, 7), "a", "half").rooms[0].slope.rises, "x")

    def test_measures_are_changed_and_refused_with_the_rooms_name(self):
        job = set_ceiling_form(box(6, 4), "a", "half")
        self.assertEqual(set_slope(job, "a", pitch=0.5).rooms[0].slope.pitch, 0.5)
        with self.assertRaisesRegex(JobValueError, "Room A, ceiling"):
            set_slope(job, "a", pitch=0.0)
        with self.assertRaisesRegex(JobValueError, "flat ceiling"):
            set_slope(box(6, 4), "a", pitch=0.5)


class Headroom(unittest.TestCase):
    def place(self, slope=None, clear=2.4):
        return MechanicalPlace(
            id="p", name="Eaves", storey="g", outline_m=rect(0, 0, 4, 3), kind="attic", clear_m=clear, slope=slope
        )

    def test_without_a_slope_it_is_the_same_everywhere(self):
        self.assertEqual(headroom_m(self.place(), (1.0, 1.0)), 2.4)
        self.assertAlmostEqual(standing_area_m2(self.place(), 1.7), 12.0)
        self.assertEqual(standing_area_m2(self.place(clear=1.5), 1.7), 0.0)

    def test_under_a_slope_by_hand(self):
        # 0.5 m at x = 0, rising one for one: 1.7 m from x = 1.2 on, capped at 2.4 m
        slope = Slope(rises="x", low_side="start", low_m=0.5, high_m=3.0, pitch=1.0)
        place = self.place(slope)
        self.assertAlmostEqual(headroom_m(place, (1.0, 1.0)), 1.5)
        self.assertAlmostEqual(headroom_m(place, (3.9, 1.0)), 2.4)
        self.assertAlmostEqual(standing_area_m2(place, 1.7), 2.8 * 3.0, delta=0.2)

    def test_low_on_both_sides(self):
        slope = Slope(rises="x", low_side="both", low_m=0.5, high_m=3.0, pitch=1.0)
        self.assertAlmostEqual(standing_area_m2(self.place(slope), 1.7), 1.6 * 3.0, delta=0.2)
        self.assertEqual(standing_area_m2(self.place(slope), 2.6), 0.0)


class Finding(unittest.TestCase):
    def test_the_room_at_a_point(self):
        self.assertEqual(room_at(demo(), "ground", (1.0, 1.0)).id, "living")
        self.assertEqual(room_at(demo(), "upper", (1.0, 1.0)).id, "bed2")
        self.assertIsNone(room_at(demo(), "ground", (-3.0, 1.0)))


if __name__ == "__main__":
    unittest.main()
