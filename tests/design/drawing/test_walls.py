"""Walls moved with their neighbours; the house turned and mirrored; storeys copied."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point as At
from shapely.geometry import Polygon
from shapely.ops import unary_union

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.drawing.outlines import opening_line
from murvan.design.drawing.turning import (
    add_storey,
    copy_storey_up,
    mirror_house,
    mirror_rooms,
    move_rooms,
    rotate_house,
    rotate_rooms,
    shift,
)
from murvan.design.drawing.walls import bump_out, move_wall, moving_walls, reach_across
from murvan.design.loads.components import COLUMN
from murvan.model import JobValueError, Opening
from murvan.model.edit import changed
from tests.houses import FT, box, demo, demo_results, two_rooms


def room(job, room_id):
    return next(r for r in job.rooms if r.id == room_id)


def lines(job):
    """Where every opening stands on the plan."""
    return {o.tag: tuple(round(x, 3) for p in opening_line(o, room(job, o.room)) for x in p) for o in job.openings}


def without_ducts(r):
    """Heating of the house but for its ducts: their air goes by the cooling loads, which a mirror changes."""
    return float(np.delete(r.loads.heating_parts, COLUMN["ducts"], axis=1).sum())


class MoveWall(unittest.TestCase):
    def test_the_neighbour_follows(self):
        job = move_wall(two_rooms(), "a", 1, -1.0)  # the shared wall runs south, its normal points west
        self.assertEqual(room(job, "a").outline_m[1], (5.0, 0.0))
        self.assertEqual(room(job, "b").outline_m[0], (5.0, 0.0))
        self.assertAlmostEqual(solve(job).geometry.total_area_m2, 36)

    def test_only_the_walls_that_touch_follow(self):
        moving = moving_walls(demo(), "kitchen", 3)
        self.assertEqual({item for _, item in moving}, {"kitchen", "dining"})
        across = {item for _, item in moving_walls(demo(), "living", 2)}
        self.assertIn("utility", across, "the wall along the hall is one line through the house")

    def test_alone_it_leaves_the_neighbour(self):
        job = move_wall(two_rooms(), "a", 1, 1.0, alone=True)
        self.assertEqual(room(job, "b").outline_m, room(two_rooms(), "b").outline_m)
        self.assertAlmostEqual(Polygon(room(job, "a").outline_m).area, 12)

    def test_openings_stay_where_they_were(self):
        before = demo()
        job = move_wall(before, "living", 3, 2 * FT)  # west wall of the ground floor
        moved = {o.tag for o in before.openings if o.room in ("living", "dining") and o.wall == 3}
        for tag, line in lines(before).items():
            if tag not in moved:
                self.assertEqual(lines(job)[tag], line, tag)

    def test_a_slanting_neighbour_keeps_its_direction(self):
        outline = ((0, 0), (4, 0), (6, 4), (0, 4))
        job = changed(box(6, 4), "", rooms=(changed(box().rooms[0], outline_m=outline),), openings=())
        moved = move_wall(job, "a", 2, -1.0)  # the south wall, outwards
        self.assertEqual(moved.rooms[0].outline_m[2], (6.5, 5.0))

    def test_a_room_can_not_vanish(self):
        with self.assertRaisesRegex(JobValueError, "West would vanish"):
            move_wall(two_rooms(), "a", 1, 4.5)

    def test_a_tape_across_the_room(self):
        self.assertEqual(reach_across(two_rooms(), "a", 1)[0], 4.0)

    @given(st.floats(-3.0, 3.0), st.sampled_from(["living", "dining", "kitchen", "hall", "study", "utility"]))
    @settings(max_examples=60, deadline=None)
    def test_moving_a_wall_and_back_is_as_before(self, by, room_id):
        job = changed(demo(), "", openings=())
        try:
            there = move_wall(job, room_id, 1, by)
        except JobValueError:
            return
        back = move_wall(there, room_id, 1, -by)
        for a, b in zip(back.rooms, job.rooms, strict=True):
            self.assertLess(Polygon(a.outline_m).symmetric_difference(Polygon(b.outline_m)).area, 1e-2)

    @given(st.floats(-1.5, 1.5))
    @settings(max_examples=30, deadline=None)
    def test_no_gap_and_no_overlap_opens_inside_the_house(self, by):
        job = changed(demo(), "", openings=())
        moved = move_wall(job, "kitchen", 1, by)
        ground = [Polygon(r.outline_m) for r in moved.rooms if r.storey == "ground"]
        self.assertAlmostEqual(unary_union(ground).area, sum(p.area for p in ground), places=3)
        self.assertAlmostEqual(sum(p.area for p in ground), 1144 * FT * FT, places=1)


class Corners(unittest.TestCase):
    def test_a_bump_out(self):
        job = bump_out(box(6, 4), "a", 0, 1.0, 3.0, 0.6)
        self.assertAlmostEqual(solve(job).geometry.total_area_m2, 24 + 1.2)
        into = bump_out(box(6, 4), "a", 0, 1.0, 3.0, -0.6)
        self.assertAlmostEqual(solve(into).geometry.total_area_m2, 24 - 1.2)

    def test_windows_of_the_stretch_go_out_with_it(self):
        job = bump_out(box(6, 4), "a", 2, 0.5, 3.5, 0.6)  # the south window stands from 1.0 to 3.0
        window = job.openings[0]
        (ax, ay), (bx, by) = opening_line(window, job.rooms[0])
        self.assertAlmostEqual((ay, by)[0], 4.6)
        self.assertAlmostEqual(sorted((ax, bx))[0], 3.0)
        self.assertEqual(solve(job).geometry.openings[0].facing_deg, 180.0)

    def test_a_window_across_its_end_is_named(self):
        with self.assertRaisesRegex(JobValueError, "G1 stands across the end"):
            bump_out(box(6, 4), "a", 2, 2.0, 5.0, 0.6)

    def test_too_narrow_a_bump_out_is_refused(self):
        with self.assertRaisesRegex(JobValueError, "0.30 m of wall"):
            bump_out(box(6, 4), "a", 0, 1.0, 1.1, 0.6)


class Turn(unittest.TestCase):
    def test_turning_the_house_changes_no_load(self):
        turned = rotate_house(demo())
        a, b = demo_results(), solve(turned)
        self.assertAlmostEqual(a.loads.house_heating_w, b.loads.house_heating_w, places=3)
        self.assertAlmostEqual(a.loads.house_cooling_w, b.loads.house_cooling_w, places=3)
        for x, y in zip(a.geometry.openings, b.geometry.openings, strict=True):
            self.assertAlmostEqual((x.facing_deg - y.facing_deg + 180) % 360 - 180, 0, places=6)
        turn = {"north": "east", "east": "south", "south": "west", "west": "north"}
        for before, after in zip(demo().design.joints, turned.design.joints, strict=True):
            self.assertEqual(turn.get(before.face, before.face), after.face)

    def test_four_quarter_turns_are_none(self):
        job = demo()
        for _ in range(4):
            job = rotate_house(job)
        for a, b in zip(job.rooms, demo().rooms, strict=True):
            self.assertLess(Polygon(a.outline_m).symmetric_difference(Polygon(b.outline_m)).area, 1e-3)
        self.assertEqual(job.site.north_deg, demo().site.north_deg)

    def test_mirroring_twice_is_nothing_and_once_swaps_east_and_west(self):
        once = mirror_house(demo())
        heat = without_ducts(solve(once))
        self.assertAlmostEqual(heat, without_ducts(demo_results()), places=3)
        faces = {demo().openings[f.index].tag: f.facing_deg for f in solve(once).geometry.openings}
        self.assertAlmostEqual(faces["G1"], 90.0)
        twice = mirror_house(once)
        self.assertEqual(lines(twice), lines(demo()))

    def test_a_room_moves_with_its_registers(self):
        job = move_rooms(demo(), {"study"}, shift(1.0, 0.5))
        was = {x.id: x.position_m for x in demo().design.registers if x.room == "study"}
        for x in job.design.registers:
            if x.id in was:
                self.assertAlmostEqual(x.position_m[0], was[x.id][0] + 1.0, places=4)
        self.assertEqual(room(job, "hall"), room(demo(), "hall"))

    def test_a_room_turned_and_mirrored_keeps_its_area(self):
        for job in (rotate_rooms(two_rooms(), {"b"}), mirror_rooms(two_rooms(), {"b"}, 1)):
            self.assertAlmostEqual(Polygon(room(job, "b").outline_m).area, 20)

    def test_nothing_to_turn_is_said(self):
        with self.assertRaisesRegex(JobValueError, "Pick a room"):
            move_rooms(two_rooms(), set(), shift(1, 1))
        with self.assertRaisesRegex(JobValueError, "nothing on the plan"):
            rotate_house(changed(two_rooms(), "", rooms=()))


class TurnWhole(unittest.TestCase):
    """The other two demo houses have slopes, skylights, furniture, places, structure: all of it must turn along."""

    def figures(self, job):
        r = solve(job)
        g = r.geometry
        return (
            round(r.loads.house_heating_w, 2),
            round(r.loads.house_sensible_w, 2),
            [round(v, 4) for v in g.volume_m3],
            [round(v, 4) for v in g.ceilings_m2["roof"]],
            sorted(f.rule.id for f in r.findings),
        )

    def test_a_turned_house_is_the_same_house(self):
        for key in ("bungalow", "narrow"):
            job = demo_job(key)
            for k in (1, 2, 3):
                with self.subTest(key=key, quarters=k):
                    self.assertEqual(self.figures(rotate_house(job, k)), self.figures(job))

    def test_a_house_mirrored_twice_is_the_same_house(self):
        for key in ("bungalow", "narrow"):
            for axis in (0, 1):
                with self.subTest(key=key, axis=axis):
                    once = mirror_house(demo_job(key), axis)
                    volumes = self.figures(once)[2]
                    self.assertEqual(volumes, self.figures(demo_job(key))[2])
                    again = mirror_house(once, axis)
                    self.assertEqual(self.figures(again), self.figures(demo_job(key)))
                    for a, b in zip(again.furniture, demo_job(key).furniture, strict=True):
                        self.assertAlmostEqual((a.turn_deg - b.turn_deg + 180) % 360 - 180, 0)

    def test_furniture_and_places_stay_in_their_rooms(self):
        for change in (rotate_house, mirror_house):
            job = change(demo_job("bungalow"))
            rooms = {r.id: Polygon(r.outline_m).buffer(0.01) for r in job.rooms}
            for x in (*job.furniture, *(e for e in job.existing if e.room)):
                self.assertTrue(rooms[x.room].contains(At(x.position_m)), x.id)
            for o in job.openings:
                if o.kind == "skylight":
                    self.assertTrue(rooms[o.room].contains(At(o.position_m)))

    def test_a_room_takes_its_furniture_along(self):
        job = demo_job("bungalow")
        family = next(r.id for r in job.rooms if r.name == "Family")
        moved = rotate_rooms(move_rooms(job, {family}, shift(30.0, 0.0)), {family})
        shape = Polygon(room(moved, family).outline_m).buffer(0.01)
        inside = [x for x in (*moved.furniture, *moved.openings) if x.room == family and x.position_m]
        self.assertGreater(len(inside), 2)
        self.assertTrue(all(shape.contains(At(x.position_m)) for x in inside))
        self.assertEqual(room(moved, family).slope.rises, "y")


class Storeys(unittest.TestCase):
    def test_a_copy_has_the_rooms_and_windows_but_no_door_to_the_outside(self):
        job = changed(
            two_rooms(),
            "",
            openings=(
                Opening(
                    id="w",
                    tag="G1",
                    kind="window",
                    room="a",
                    wall=0,
                    offset_m=1,
                    width_m=1,
                    height_m=1,
                    glazing="glass-034",
                ),
                Opening(id="d", tag="D1", kind="door", room="b", wall=1, offset_m=1, width_m=0.9, height_m=2),
                Opening(
                    id="i", tag="D2", kind="door", room="a", wall=1, offset_m=1, width_m=0.8, height_m=2, inside=True
                ),
            ),
        )
        copy, new = copy_storey_up(job, "g")
        up = [r for r in copy.rooms if r.storey == new]
        self.assertEqual([r.outline_m for r in up], [r.outline_m for r in job.rooms])
        self.assertEqual(sorted(o.kind for o in copy.openings if o.room in {r.id for r in up}), ["door", "window"])
        self.assertEqual(len({o.tag for o in copy.openings}), len(copy.openings))
        g = solve(copy).geometry
        self.assertAlmostEqual(sum(g.ceilings_m2["attic"][:2]), 0.0)
        self.assertAlmostEqual(sum(g.ceilings_m2["attic"][2:]), 36.0)

    def test_an_empty_storey_above_and_a_basement_below(self):
        job, top = add_storey(two_rooms())
        self.assertEqual(job.storeys[-1].id, top)
        job, low = add_storey(job, below=True)
        self.assertEqual((job.storeys[0].id, job.storeys[0].name), (low, "Basement"))

    def test_an_empty_storey_can_not_be_copied(self):
        job, top = add_storey(two_rooms())
        with self.assertRaisesRegex(JobValueError, "no rooms"):
            copy_storey_up(job, top)


if __name__ == "__main__":
    unittest.main()
