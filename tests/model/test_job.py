"""The records refuse what can't be."""

import unittest

from pydantic import ValidationError

from murvan.model import Climate, Design, DuctRun, Job, JobValueError, Joint, Layer, Opening, Room, Storey
from murvan.model.design_edit import with_ventilator
from murvan.model.job import outline_crosses_itself, signed_area
from tests.houses import box, demo, set_unit


class TestRecords(unittest.TestCase):
    def test_records_are_frozen(self):
        with self.assertRaises(ValidationError):
            demo().rooms[0].name = "Other"

    def test_unknown_field_is_refused(self):
        with self.assertRaises(ValidationError):
            Storey(id="g", name="G", height_m=2.5, colour="red")

    def test_not_a_number_is_refused(self):
        for value in (float("nan"), float("inf")):
            with self.assertRaises(ValidationError):
                Storey(id="g", name="G", height_m=value)

    def test_a_figure_next_to_nothing_is_refused_with_its_place(self):
        for edit, words in (
            (
                lambda: set_unit(demo(), filter_height_m=5e-324),
                "Filter, height of 4.94066e-324 is too small to be meant",
            ),
            (lambda: with_ventilator(demo(), flow_m3_s=1e-300), "air flow of 1e-300 is too small"),
        ):
            with self.subTest(words), self.assertRaisesRegex(JobValueError, words):
                edit()
        self.assertEqual(with_ventilator(demo(), flow_m3_s=0.0).design.ventilators[0].flow_m3_s, 0.0)

    def test_wet_bulb_above_dry_bulb_is_refused(self):
        with self.assertRaisesRegex(ValidationError, "wet bulb"):
            Climate(summer_c=20, summer_wet_bulb_c=25)

    def test_layer_needs_resistance(self):
        with self.assertRaisesRegex(ValidationError, "resistance"):
            Layer(name="Nothing")
        self.assertEqual(Layer(name="Foam", thickness_m=0.05, conductivity_w_mk=0.03).conductivity_w_mk, 0.03)

    def test_round_run_needs_a_diameter(self):
        with self.assertRaisesRegex(ValidationError, "diameter"):
            DuctRun(indoor="unit1", id="x", tag="X", side="supply", storey="g", start="a", end="b")

    def test_outline_that_crosses_itself_is_refused(self):
        with self.assertRaisesRegex(ValidationError, "crosses or touches itself|no area"):
            Room(id="a", name="A", storey="g", outline_m=((0, 0), (4, 4), (4, 0), (0, 3)))

    def test_outline_that_touches_itself_is_refused(self):
        """A corner on another wall, or a wall that runs back over its neighbour, makes two rooms of one."""
        pinch = ((0, 0), (4, 0), (4, 4), (2, 0), (0, 4))
        back = ((0, 0), (4, 0), (4, 4), (4, 2), (0, 2))
        for outline in (pinch, back):
            with self.subTest(outline), self.assertRaisesRegex(ValidationError, "crosses or touches itself"):
                Room(id="a", name="A", storey="g", outline_m=outline)
        doubled = ((0, 0), (4, 0), (4, 0), (4, 3), (0, 3))
        self.assertEqual(len(Room(id="a", name="A", storey="g", outline_m=doubled).outline_m), 5)

    def test_area_is_positive_clockwise_on_screen(self):
        self.assertEqual(signed_area(((0, 0), (2, 0), (2, 3), (0, 3))), 6)
        self.assertEqual(signed_area(((0, 0), (0, 3), (2, 3), (2, 0))), -6)

    def test_l_shape_does_not_cross_itself(self):
        self.assertFalse(outline_crosses_itself(((0, 0), (4, 0), (4, 2), (2, 2), (2, 4), (0, 4))))


class TestJobHangsTogether(unittest.TestCase):
    def refuse(self, pattern, **changes):
        raw = {k: getattr(box(), k) for k in Job.model_fields} | changes
        with self.assertRaisesRegex(ValidationError, pattern):
            Job.model_validate(raw)

    def test_same_id_twice(self):
        self.refuse("stands twice", rooms=box().rooms * 2)

    def test_room_on_unknown_storey(self):
        self.refuse("storey refers to 'attic'", rooms=(box().rooms[0].model_copy(update={"storey": "attic"}),))

    def test_opening_in_unknown_room(self):
        self.refuse("not in the job", openings=(box().openings[0].model_copy(update={"room": "zzz"}),))

    def test_opening_on_a_wall_that_is_not_there(self):
        self.refuse("has no wall 9", openings=(box().openings[0].model_copy(update={"wall": 9}),))

    def test_unknown_glazing(self):
        self.refuse("glazing refers to", openings=(box().openings[0].model_copy(update={"glazing": "gold"}),))

    def test_runs_in_a_ring(self):
        joints = tuple(Joint(id=x, storey="g", position_m=(k, 0), height_m=2.5) for k, x in enumerate("abc"))

        def tree(*ends):
            runs = tuple(
                DuctRun(
                    indoor="unit1", id=f"r{k}", tag=f"r{k}", side="supply", storey="g", start=a, end=b, diameter_m=0.1
                )
                for k, (a, b) in enumerate(ends)
            )
            return Design(joints=joints, runs=runs)

        self.assertEqual(len(tree("ab", "bc").runs), 2)
        for ends, words in (
            (("ab", "ba"), "leads back to itself"),
            (("ac", "bc"), "r1 and r0 end in the same joint"),
            (("aa",), "starts and ends in the same joint"),
            (("ax",), "end refers to 'x'"),
        ):
            with self.subTest(ends), self.assertRaisesRegex(ValidationError, words):
                tree(*ends)

    def test_opening_width_must_be_above_zero(self):
        with self.assertRaises(ValidationError):
            Opening(id="o", tag="o", kind="window", room="a", wall=0, offset_m=0, width_m=0, height_m=1)
