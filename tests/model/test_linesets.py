"""Refrigerant lines: lengths and lifts from where they go, boxes and their ports."""

import unittest

from murvan.model import (
    Box,
    IndoorUnit,
    InUseError,
    JobValueError,
    OutdoorUnit,
    insert,
    make,
    remove,
    replace,
    with_design,
)
from murvan.model.design import RefrigerantLine
from murvan.model.design_edit import with_line
from murvan.model.linesets import USUAL_LENGTH_M, USUAL_LIFT_M, VALVES_M, laid_line
from tests.houses import box


def lying(job, unit="unit1"):
    own = next(x for x in job.design.indoor_units if x.id == unit)
    return laid_line(job.design, own, job.storeys)


def placed(**fields):
    """A box of a house with a unit 3 m east and 2 m south of its outdoor unit."""
    job = with_design(box(), outdoor_units=(OutdoorUnit(id="o", system="system1", position_m=(-1.0, 1.0)),))
    return replace(job, "indoor_units", "unit1", outdoor="o", storey="g", position_m=(2.0, 3.0), **fields)


class Lines(unittest.TestCase):
    def test_without_a_place_it_is_the_usual_one(self):
        x = lying(box())
        self.assertEqual((x.length_m, x.lift_m), (USUAL_LENGTH_M, USUAL_LIFT_M))
        self.assertEqual((x.length_from, x.lift_from, x.path_m), ("usual", "usual", ()))

    def test_without_bends_it_goes_square(self):
        x = lying(placed())
        self.assertAlmostEqual(x.length_m, 3.0 + 2.0 + (1.0 - VALVES_M))
        self.assertAlmostEqual(x.lift_m, 1.0 - VALVES_M)
        self.assertEqual(x.length_from, "drawn")

    def test_a_route_over_the_attic(self):
        """Up 4 m less the valves, 3 m along and 4 m across on the slant, down to 1 m."""
        job = with_line(placed(), "unit1", route_m=((-1.0, 1.0, 4.0), (2.0, 5.0, 4.0), (2.0, 3.0, 4.0)))
        x = lying(job)
        self.assertAlmostEqual(x.length_m, (4.0 - VALVES_M) + 5.0 + 2.0 + 3.0)
        self.assertAlmostEqual(x.lift_m, 4.0 - VALVES_M)

    def test_what_was_measured_wins_one_by_one(self):
        x = lying(with_line(placed(), "unit1", length_m=11.0))
        self.assertEqual((x.length_m, x.length_from, x.lift_from), (11.0, "measured", "drawn"))
        self.assertAlmostEqual(x.lift_m, 0.7)
        again = lying(with_line(with_line(placed(), "unit1", length_m=11.0), "unit1", length_m=None))
        self.assertEqual(again.length_from, "drawn")

    def test_from_a_box_in_the_attic(self):
        job = insert(
            placed(), "boxes", make(Box, "", id="b", outdoor="o", storey="g", position_m=(2.0, 0.0), height_m=3.0)
        )
        x = lying(with_line(job, "unit1", box="b"))
        self.assertAlmostEqual(x.length_m, 3.0 + 2.0)
        self.assertAlmostEqual(x.lift_m, 2.0)

    def test_a_wall_unit_hangs_higher(self):
        self.assertGreater(lying(placed(kind="wall")).lift_m, lying(placed(kind="floor")).lift_m + 1.5)
        self.assertAlmostEqual(lying(placed(kind="ceiling")).lift_m, box().storeys[0].height_m - VALVES_M)


class Ports(unittest.TestCase):
    def setUp(self):
        job = insert(
            placed(), "indoor_units", IndoorUnit(id="u2", tag="Second", system="system1", outdoor="o", kind="wall")
        )
        self.job = insert(job, "boxes", Box(id="b", outdoor="o", ports=2))

    def refused(self, words, job, collection, item, **fields):
        with self.assertRaisesRegex(JobValueError, words):
            replace(job, collection, item, **fields)

    def test_one_unit_a_port(self):
        job = replace(self.job, "indoor_units", "unit1", port=1)
        self.refused("Second and Unit are on the same port 1", job, "indoor_units", "u2", port=1)
        apart = with_line(replace(job, "indoor_units", "u2", port=2), "u2", box="b")
        replace(apart, "indoor_units", "u2", port=1)  # of the box, another port 1

    def test_a_box_has_its_ports(self):
        job = with_line(self.job, "u2", box="b")
        self.refused("port 3 of a box with 2", job, "indoor_units", "u2", port=3)

    def test_a_port_is_of_something(self):
        self.refused("no outdoor unit", self.job, "indoor_units", "u2", port=1, outdoor=None)

    def test_a_box_of_another_unit_is_refused(self):
        job = insert(self.job, "outdoor_units", OutdoorUnit(id="o2", system="system1"))
        job = insert(job, "boxes", Box(id="b2", outdoor="o2"))
        with self.assertRaisesRegex(JobValueError, "another outdoor unit"):
            with_line(job, "u2", box="b2")

    def test_what_is_not_there_is_refused_in_words(self):
        job = with_line(self.job, "u2", box="b")
        line = job.design.lines[0].id
        self.refused("refers to 'nobody'", job, "lines", line, indoor="nobody")
        self.refused("refers to 'nothing'", job, "lines", line, box="nothing")
        self.refused("refers to 'gone'", job, "indoor_units", "u2", outdoor="gone", port=1)

    def test_two_lines_of_a_unit_are_refused(self):
        job = with_line(self.job, "u2")
        with self.assertRaisesRegex(JobValueError, "two refrigerant lines"):
            insert(job, "lines", RefrigerantLine(id="x", indoor="u2"))

    def test_a_box_goes_and_the_line_stays(self):
        job = with_line(self.job, "u2", box="b", length_m=4.0)
        with self.assertRaises(InUseError):
            remove(job, "boxes", "b")
        after = remove(job, "boxes", "b", with_dependents=True)
        self.assertEqual((after.design.lines[0].box, after.design.lines[0].length_m), (None, 4.0))
        self.assertEqual(remove(job, "outdoor_units", "o", with_dependents=True).design.boxes, ())


if __name__ == "__main__":
    unittest.main()
