"""Mistakes of the tape and the hand are found, named in words, and mended where Murvan can."""

from __future__ import annotations

import unittest

from shapely.geometry import Polygon

from murvan.design import solve
from murvan.design.drawing.pace import PaceRow, add_row
from murvan.design.drawing.turning import move_rooms, shift
from murvan.design.drawing.walls import move_wall
from murvan.design.house.assemblies import assume
from murvan.design.punch.house_checks import gaps, overlaps
from murvan.model import KeepClear, Opening, Room, WallOverride, with_design
from murvan.model.edit import changed, replace, replace_part
from tests.houses import FT, box, demo, two_rooms


def rect(x, y, w, d):
    return ((x, y), (x + w, y), (x + w, y + d), (x, y + d))


def found(job, rule):
    return [f for f in solve(job).findings if f.rule.id == rule]


def north(job):
    return changed(job, "", site=changed(job.site, north_known=True))


class Plan(unittest.TestCase):
    def test_the_demo_has_none_of_these(self):
        mine = [f.text("ip") for f in solve(demo()).findings if f.rule.station == 1]
        self.assertEqual(mine, [])

    def test_rooms_over_each_other_and_one_cut_back(self):
        job = move_rooms(two_rooms(), {"b"}, shift(-0.5, 0.0))
        hit = found(job, "rooms-overlap")[0]
        self.assertEqual(hit.text("si"), "East and West lie over each other by 2.0 m²")
        mended = hit.hit.fix(job)
        self.assertEqual(found(mended, "rooms-overlap"), [])
        self.assertAlmostEqual(Polygon(mended.rooms[1].outline_m).area, 18.0)

    def test_a_sliver_is_no_overlap(self):
        self.assertEqual(overlaps((rect(0, 0, 4, 4), rect(3.99, 0, 4, 4))), ())

    def test_a_gap_between_rooms(self):
        job = move_rooms(two_rooms(), {"b"}, shift(0.5, 0.0))
        self.assertIn("a gap of", found(job, "room-gap")[0].text("si"))
        self.assertEqual(found(move_rooms(two_rooms(), {"b"}, shift(0.12, 0.0)), "room-gap"), [], "a drawn wall")
        self.assertEqual(found(move_rooms(two_rooms(), {"b"}, shift(3.0, 0.0)), "room-gap"), [], "rooms apart")

    def test_an_l_shape_and_a_court_are_no_gaps(self):
        ell = ((0, 0), (8, 0), (8, 3), (3, 3), (3, 8), (0, 8))
        self.assertEqual(gaps((ell, rect(8, 0, 3, 3)), 0.7), ())
        ring = (rect(0, 0, 9, 3), rect(0, 6, 9, 3), rect(0, 3, 3, 3), rect(6, 3, 3, 3))
        self.assertEqual(gaps(ring, 0.7), ())

    def test_a_wall_said_to_be_outside_with_a_room_beyond(self):
        job = changed(two_rooms(), "", wall_overrides=(WallOverride(room="a", wall=1, other_side="outdoors"),))
        hit = found(job, "said-otherwise")[0]
        self.assertIn("to East", hit.text("ip"))
        self.assertEqual(hit.hit.fix(job).wall_overrides, ())

    def test_a_wall_said_to_be_inside_with_nothing_beyond(self):
        job = changed(two_rooms(), "", wall_overrides=(WallOverride(room="a", wall=0, other_side="heated"),))
        self.assertIn("none is drawn", found(job, "said-otherwise")[0].text("ip"))

    def test_a_paced_flat_alone_is_not_held_against_the_plan(self):
        job = add_row(changed(box(), "", rooms=(), openings=()), "g", PaceRow("Flat", 6, 5, None, "S")).job
        self.assertEqual(found(job, "said-otherwise"), [])


class Openings(unittest.TestCase):
    def test_two_in_one_place(self):
        job = box(6, 4)
        other = changed(job.openings[0], id="w2", tag="G2", offset_m=2.0)
        hit = found(changed(job, "", openings=(*job.openings, other)), "openings-collide")[0]
        self.assertIn("G1 and G2", hit.text("ip"))
        above = changed(other, sill_m=2.4, height_m=0.1)
        self.assertEqual(found(changed(job, "", openings=(*job.openings, above)), "openings-collide"), [])

    def test_a_window_to_another_room(self):
        o = Opening(
            id="w", tag="G1", kind="window", room="a", wall=1, offset_m=1, width_m=1, height_m=1, glazing="glass-034"
        )
        self.assertEqual(len(found(changed(two_rooms(), "", openings=(o,)), "window-inside")), 1)

    def test_too_much_glass_and_a_bedroom_without_any(self):
        self.assertIn(
            "of its floor",
            found(replace(box(3, 3), "openings", "w", width_m=2.9, height_m=2.0, offset_m=0.0), "glass-share")[
                0
            ].text("ip"),
        )
        bedroom = changed(box(6, 4, openings=()), "")
        bedroom = replace(bedroom, "rooms", "a", use="bedroom")
        self.assertIn("bedroom without a window", found(bedroom, "glass-share")[0].text("ip"))

    def test_hardly_any_glass_in_a_whole_house(self):
        job = demo()
        few = changed(job, "", openings=tuple(o for o in job.openings if o.kind != "window" or o.tag == "G6"))
        self.assertTrue(any(f.hit.at.kind == "house" for f in found(few, "glass-share")))


class Shell(unittest.TestCase):
    def test_a_room_with_no_ceiling_make_up(self):
        hit = found(changed(box(), "", ceiling_construction=None), "assembly-missing")[0]
        self.assertEqual((hit.hit.at.kind, hit.hit.at.id), ("room", "a"))
        self.assertIn("no ceiling", hit.text("ip"))

    def test_walls_floor_and_glass_without_any(self):
        job = changed(box(), "", wall_construction=None, floor_construction=None)
        job = replace(job, "openings", "w", glazing=None)
        texts = " ".join(f.text("ip") for f in found(job, "assembly-missing"))
        for words in ("Outside walls", "Ground floor", "G1"):
            self.assertIn(words, texts)

    def test_north_not_set_is_mended_by_saying_so(self):
        hit = found(box(), "north-unknown")[0]
        self.assertEqual(found(hit.hit.fix(box()), "north-unknown"), [])
        self.assertEqual(found(north(box()), "north-unknown"), [])

    def test_an_area_unlike_the_papers(self):
        job = changed(demo(), "", typed_area_m2=2600 * FT * FT)
        self.assertEqual(found(job, "area-differs")[0].text("ip"), "The plan has 2,288 ft², the papers say 2,600 ft²")
        self.assertEqual(found(changed(demo(), "", typed_area_m2=2300 * FT * FT), "area-differs"), [])

    def test_an_assumed_shell(self):
        self.assertIn("assumed by age in", found(assume(box(), "1970s", "frame"), "shell-assumed")[0].text("ip"))

    def test_the_unit_on_floor_to_keep_clear(self):
        x, y = demo().design.indoor_units[0].position_m
        keep = KeepClear(
            id="k", name="Panel", storey=demo().design.indoor_units[0].storey, outline_m=rect(x - 0.5, y - 0.5, 1, 1)
        )
        self.assertEqual(len(found(changed(demo(), "", keep_clear=(keep,)), "unit-in-the-way")), 1)
        aside = changed(keep, outline_m=rect(x + 3, y, 1, 1))
        self.assertEqual(found(changed(demo(), "", keep_clear=(aside,)), "unit-in-the-way"), [])

    def test_a_register_that_a_wall_has_moved_past(self):
        job = move_wall(demo(), "study", 1, 1.2)
        self.assertEqual(found(demo(), "register-outside"), [])
        away = with_design(
            demo(),
            registers=tuple(
                changed(x, position_m=(40.0, 40.0)) if x.room == "study" else x for x in demo().design.registers
            ),
        )
        self.assertIn("outside Study", found(away, "register-outside")[0].text("ip"))
        self.assertTrue(job.rooms)

    def test_an_opening_under_a_slope_must_fit_there(self):
        from murvan.model import Slope

        job = box(6, 4)
        slope = Slope(rises="y", low_m=1.0, high_m=2.4, pitch=1.0)
        low = replace(job, "rooms", "a", slope=slope)
        self.assertEqual(len(found(low, "opening-fits")), 1)

    def test_the_names_are_said_as_they_stand_even_with_braces(self):
        job = move_rooms(two_rooms(), {"b"}, shift(-0.5, 0.0))
        job = replace(replace_part(job, "site", north_known=True), "rooms", "a", name="{0} {x}")
        self.assertIn("{0} {x}", found(job, "rooms-overlap")[0].text("ip"))
        self.assertTrue(Room)


if __name__ == "__main__":
    unittest.main()
