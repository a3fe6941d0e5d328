"""Designs set aside and taken up, zones, ventilators and lines, as pure edits."""

import unittest

from murvan.model import JobValueError
from murvan.model.design_edit import (
    delete_option,
    duplicate_option,
    free_name,
    put_in_zone,
    rename_option,
    set_aside,
    take_up,
    with_line,
    with_ventilator,
    zone_of,
)
from tests.houses import box, demo, set_unit


class Options(unittest.TestCase):
    def test_set_aside_and_taken_up_again(self):
        job = set_aside(demo(), "As quoted")
        changed = set_unit(job, unit="torrow-cx-42")
        back = take_up(changed, job.options[0].id)
        self.assertEqual(back.design.indoor_units, demo().design.indoor_units)
        self.assertEqual(back.options[0].indoor_units[0].unit, "torrow-cx-42")
        self.assertEqual(back.rooms, demo().rooms)
        self.assertEqual({x.id for x in (back.design, *back.options)}, {"design1", "design2"})

    def test_copies_have_ids_and_names_of_their_own(self):
        job = set_aside(demo(), "A")
        for _ in range(3):
            job = duplicate_option(job, job.options[0].id, free_name(job, "A"))
        self.assertEqual([x.name for x in job.options], ["A", "A 2", "A 3", "A 4"])
        self.assertEqual(len({x.id for x in (job.design, *job.options)}), 5)
        self.assertEqual(len(delete_option(job, job.options[1].id).options), 3)

    def test_names_and_notes(self):
        job = rename_option(set_aside(demo(), "A"), "design1", name="One unit", note="dear")
        self.assertEqual((job.design.name, job.design.note), ("One unit", "dear"))
        job = rename_option(job, job.options[0].id, name="Two units")
        self.assertEqual(job.options[0].name, "Two units")
        with self.assertRaisesRegex(JobValueError, "name"):
            rename_option(job, "design1", name="")

    def test_an_option_that_is_not_there(self):
        for edit in (take_up, delete_option, lambda j, i: duplicate_option(j, i, "x")):
            with self.assertRaisesRegex(JobValueError, "no option 'design9'"):
                edit(demo(), "design9")


class Parts(unittest.TestCase):
    def test_a_room_is_in_one_zone(self):
        job = put_in_zone(demo(), ("living", "bed1"), "2")
        self.assertEqual([zone_of(job.design, x) for x in ("living", "bed1", "kitchen")], ["2", "2", "1"])
        self.assertIsNone(zone_of(put_in_zone(job, ("bed1",), None).design, "bed1"))
        with self.assertRaisesRegex(JobValueError, "no zone '7'"):
            put_in_zone(job, ("bed1",), "7")

    def test_a_ventilator_or_a_line_is_made_when_there_is_none(self):
        job = with_ventilator(with_line(box(), "unit1", length_m=12.0), kind="erv", flow_m3_s=0.03)
        self.assertEqual((job.design.lines[0].length_m, job.design.ventilators[0].kind), (12.0, "erv"))
        again = with_line(with_ventilator(job, flow_m3_s=0.04), "unit1", lift_m=3.0)
        self.assertEqual((len(again.design.lines), len(again.design.ventilators)), (1, 1))
        self.assertEqual((again.design.lines[0].lift_m, again.design.ventilators[0].flow_m3_s), (3.0, 0.04))


if __name__ == "__main__":
    unittest.main()
