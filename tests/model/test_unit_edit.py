"""Units added, hung elsewhere, taken away, and rooms given to them."""

import unittest

from murvan.model import Register, with_design
from murvan.model.edit import changed, insert, replace
from murvan.model.errors import JobValueError
from murvan.model.unit_edit import (
    OWN,
    add_unit,
    give_rooms,
    hang_on,
    release_rooms,
    served_rooms,
    take_away_unit,
    with_box,
)
from tests.houses import demo, many_rooms


def units(job):
    return {x.id: x for x in job.design.indoor_units}


class TestRooms(unittest.TestCase):
    def setUp(self):
        self.house = many_rooms(3, 1)
        self.rooms = tuple(r.id for r in self.house.rooms)
        self.job, self.head = add_unit(self.house, "wall", self.house.storeys[0].id, (1, 1), self.rooms[:1], "West")

    def test_a_head_takes_its_room_from_the_unit_of_the_house(self):
        first = self.job.design.indoor_units[0]
        self.assertEqual(first.rooms, self.rooms[1:])
        self.assertEqual(units(self.job)[self.head].rooms, self.rooms[:1])
        self.assertEqual(units(self.job)[self.head].tag, "West head")
        self.assertNotEqual(units(self.job)[self.head].system, first.system)

    def test_every_room_is_served_once_whatever_is_given(self):
        job, other = add_unit(self.job, "ducted", self.house.storeys[0].id, (1, 1), (), "")
        for unit in (self.head, other, "unit1", other):
            job = give_rooms(job, unit, self.rooms[1:])
            served = [r for x in job.design.indoor_units for r in served_rooms(job, x)]
            self.assertEqual(sorted(served), sorted(self.rooms))

    def test_released_rooms_are_of_no_unit(self):
        job = release_rooms(self.job, self.rooms[:2])
        self.assertEqual([x.rooms for x in job.design.indoor_units], [self.rooms[2:], ()])

    def test_the_only_unit_keeps_the_house(self):
        with self.assertRaisesRegex(JobValueError, "only unit serves the whole house"):
            release_rooms(self.house, self.rooms)
        with self.assertRaisesRegex(JobValueError, "is the only unit"):
            take_away_unit(self.house, "unit1")

    def test_a_unit_with_registers_is_never_left_without_a_room(self):
        job = insert(
            self.house,
            "registers",
            Register(
                id="r", tag="R", room=self.rooms[0], indoor="unit1", position_m=(1, 1), width_m=0.3, height_m=0.1
            ),
        )
        job, head = add_unit(job, "wall", self.house.storeys[0].id, (1, 1), (), "West")
        with self.assertRaisesRegex(JobValueError, "would serve no room at all"):
            give_rooms(job, head, self.rooms)

    def test_taking_away_frees_its_rooms_and_what_hung_on_nothing(self):
        job = take_away_unit(self.job, self.head)
        self.assertEqual([x.id for x in job.design.indoor_units], ["unit1"])
        self.assertEqual(job.design.indoor_units[0].rooms, self.rooms[1:])
        self.assertEqual(len(job.design.systems), 1)
        self.assertFalse([o for o in job.design.outdoor_units if o.id == units(self.job)[self.head].outdoor])

    def test_two_of_a_name_get_a_number(self):
        job, more = add_unit(self.job, "wall", self.house.storeys[0].id, (1, 1), (), "West")
        self.assertEqual(units(job)[more].tag, "West head 2")

    def test_the_ducts_go_with_their_unit(self):
        job, head = add_unit(demo(), "wall", demo().storeys[0].id, (1, 1), (demo().rooms[0].id,), "Den")
        gone = take_away_unit(job, demo().design.indoor_units[0].id)
        self.assertEqual([x.id for x in gone.design.indoor_units], [head])
        self.assertFalse(gone.design.runs or gone.design.registers or gone.design.plenums)


class TestOutdoors(unittest.TestCase):
    def setUp(self):
        house = many_rooms(3, 1)
        ids, storey = tuple(r.id for r in house.rooms), house.storeys[0].id
        job, self.a = add_unit(house, "wall", storey, (1, 1), ids[:1], "A")
        self.job, self.b = add_unit(job, "wall", storey, (1, 1), ids[1:2], "B")

    def test_on_one_outdoor_unit_and_off_again(self):
        first = units(self.job)[self.a]
        job = hang_on(self.job, self.b, first.outdoor)
        self.assertEqual(units(job)[self.b].outdoor, first.outdoor)
        self.assertEqual(units(job)[self.b].system, first.system)
        self.assertEqual(len(job.design.outdoor_units), len(self.job.design.outdoor_units) - 1)
        apart = hang_on(job, self.b, OWN)
        self.assertNotEqual(units(apart)[self.b].outdoor, first.outdoor)
        self.assertIs(hang_on(apart, self.b, OWN), apart)

    def test_no_such_outdoor_unit(self):
        with self.assertRaisesRegex(JobValueError, "no outdoor unit 'x'"):
            hang_on(self.job, self.a, "x")

    def test_a_box_takes_the_lines_and_goes_with_its_outdoor_unit(self):
        outdoor = units(self.job)[self.a].outdoor
        job = with_box(hang_on(self.job, self.b, outdoor), outdoor, "branch_box", 4)
        self.assertEqual({x.indoor for x in job.design.lines if x.box}, {self.a, self.b})
        own = hang_on(job, self.b, OWN)
        self.assertEqual({x.indoor for x in own.design.lines if x.box}, {self.a})
        self.assertFalse(take_away_unit(own, self.a).design.boxes)

    def test_a_port_is_given_up_when_moved(self):
        outdoor = units(self.job)[self.a].outdoor
        job = replace(self.job, "indoor_units", self.b, port=2)
        self.assertIsNone(units(hang_on(job, self.b, outdoor))[self.b].port)
        unit = changed(units(self.job)[self.a], outdoor=None)
        bare = with_design(
            self.job, indoor_units=tuple(unit if x.id == unit.id else x for x in self.job.design.indoor_units)
        )
        self.assertIsNotNone(units(hang_on(bare, self.a, OWN))[self.a].outdoor)


if __name__ == "__main__":
    unittest.main()
