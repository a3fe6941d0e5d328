"""Edits make new jobs and leave the old one alone."""

import unittest

from murvan.model import InUseError, JobValueError, Room, insert, remove, replace, replace_part
from tests.houses import box, demo


class TestEdits(unittest.TestCase):
    def test_replace_shares_what_did_not_change(self):
        before = demo()
        after = replace(before, "rooms", "living", people=4)
        self.assertEqual(before.rooms[0].people, 2.0)
        self.assertEqual(after.rooms[0].people, 4.0)
        self.assertIs(after.rooms[1], before.rooms[1])
        self.assertIs(after.climate, before.climate)

    def test_refusal_names_the_place(self):
        with self.assertRaisesRegex(JobValueError, r"^Living, height must be above 1, not -3\.$"):
            replace(demo(), "rooms", "living", height_m=-3)
        with self.assertRaisesRegex(JobValueError, r"Climate, winter design temperature must be at least -60"):
            replace_part(demo(), "climate", winter_c=-400)

    def test_refusal_of_text_for_a_number(self):
        with self.assertRaisesRegex(JobValueError, "Living, people is not a number"):
            replace(demo(), "rooms", "living", people="many")

    def test_replace_unknown_id(self):
        with self.assertRaisesRegex(JobValueError, "no 'attic'"):
            replace(demo(), "rooms", "attic", people=1)

    def test_insert_refuses_a_second_id(self):
        with self.assertRaisesRegex(JobValueError, "stands twice"):
            insert(box(), "rooms", box().rooms[0])

    def test_insert(self):
        room = Room(id="b", name="B", storey="g", outline_m=((6, 0), (9, 0), (9, 4), (6, 4)))
        self.assertEqual([r.id for r in insert(box(), "rooms", room).rooms], ["a", "b"])

    def test_remove_in_use_is_refused(self):
        with self.assertRaisesRegex(InUseError, "Room A is still used by G1"):
            remove(box(), "rooms", "a")

    def test_remove_with_dependents_takes_everything_along(self):
        job = remove(demo(), "rooms", "bed2", with_dependents=True)
        self.assertNotIn("bed2", {r.id for r in job.rooms})
        self.assertFalse({o.room for o in job.openings} & {"bed2"})
        self.assertFalse({"B3", "B4"} & {r.id for r in job.design.registers})
        self.assertFalse({"B3", "B4"} & {r.id for r in job.design.runs})
        self.assertFalse({"B3", "B4"} & {r.at.id for r in job.design.readings})

    def test_remove_a_trunk_takes_its_branches(self):
        job = remove(demo(), "runs", "SB4", with_dependents=True)
        left = {r.id for r in job.design.runs}
        self.assertFalse({"SB4", "SB5", "SB6", "B1", "B2", "B3", "B4"} & left)
        self.assertIn("B5", left)

    def test_remove_unknown(self):
        with self.assertRaises(JobValueError):
            remove(demo(), "runs", "nope")
