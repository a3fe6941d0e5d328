"""Plenums: size across and along the air, both schools, what is held; take-offs on their faces and what is wrong there."""

import unittest
from functools import lru_cache

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from murvan.design.drawing.things import room_at
from murvan.design.drawing.turning import mirror_house, rotate_house
from murvan.design.ducts.plenums import freed_plenum, held_plenum, moved_take_off, placed_anew, sized_plenum
from murvan.design.lay.place import placed_unit
from murvan.design.solve import solve
from murvan.design.space.plenum_faces import (
    EDGE_M,
    HANDLE_M,
    UP,
    Hole,
    air_way,
    between_m,
    goes_in,
    on_side,
    plan_size,
    side_of,
    side_size,
    troubles,
)
from murvan.design.space.plenum_size import LEAST_M, SHORT_M, section, sized
from murvan.model import replace
from murvan.model.design import IndoorUnit, Plenum
from murvan.model.errors import JobValueError
from murvan.units import CFM, FPM, INCH
from tests.houses import demo, demo_results


def hole(tag, size_in, flow=0.1, handle=False, along=None, end=None):
    return Hole(tag, (size_in * INCH, size_in * INCH), flow, handle, along, end)


def box(**changes):
    made = {"id": "p", "indoor": "u", "side": "supply", "position_m": (0, 0)}
    return Plenum(**{**made, "width_m": 20 * INCH, "depth_m": 20 * INCH, "height_m": 24 * INCH, **changes})


class TestSection(unittest.TestCase):
    """1,200 cfm: 800 fpm want 1.5 ft2, 500 fpm 2.4 ft2; common practice."""

    def test_central_and_slim(self):
        flow = 1200 * CFM
        for school, speed in (("central", 800 * FPM), ("fan_coil", 500 * FPM)):
            x = section(flow, school)
            self.assertGreaterEqual(x.width_m * x.depth_m, flow / speed - 1e-9)
            self.assertLess(x.width_m * x.depth_m, flow / speed + 2 * INCH * x.width_m)
            self.assertEqual(x.by, "air")

    def test_never_smaller_than_the_units_opening(self):
        x = section(300 * CFM, "central", (0.48, 0.434))
        self.assertEqual(x.by, "outlet")
        self.assertGreaterEqual(x.width_m, 0.48)
        self.assertGreaterEqual(x.depth_m, 0.434)

    def test_what_is_held_stays_and_the_rest_adapts(self):
        flow = 1200 * CFM
        x = section(flow, "central", held=(12 * INCH, None))
        self.assertEqual(x.width_m, 12 * INCH)
        self.assertGreaterEqual(x.width_m * x.depth_m, flow / (800 * FPM) - 1e-9)
        y = section(flow, "central", held=(None, 10 * INCH))
        self.assertAlmostEqual(y.width_m, 22 * INCH)  # 1.5 ft2 over 10 in is 21.6 in
        both = section(flow, "central", held=(0.2, 0.2))
        self.assertEqual((both.width_m, both.depth_m, both.by), (0.2, 0.2, "held"))

    def test_a_low_place_makes_it_flat_and_wide(self):
        x = section(1200 * CFM, "central", clear_m=9.4 * INCH)
        self.assertAlmostEqual(x.depth_m, 9 * INCH)
        self.assertAlmostEqual(x.width_m, 24 * INCH)

    @given(st.floats(0, 2), st.sampled_from(("central", "fan_coil")), st.floats(0, 0.8), st.floats(0, 0.8))
    @settings(max_examples=200, deadline=None)
    def test_any_air_finds_room(self, flow, school, w, d):
        x = section(flow, school, (w, d))
        self.assertGreaterEqual(x.width_m * x.depth_m, flow / (800 * FPM) - 1e-9)
        self.assertGreaterEqual(min(x.width_m, x.depth_m), LEAST_M - 1e-9)
        self.assertGreaterEqual(x.width_m, w - 1e-6)
        self.assertGreaterEqual(x.depth_m, d - 1e-6)


class TestSized(unittest.TestCase):
    def test_longer_before_wider(self):
        many = {"front": [hole(f"A{k}", 7, 0.05 + k / 100) for k in range(4)]}
        x = sized(box(), 400 * CFM, None, many)
        self.assertGreater(x.height_m, SHORT_M)
        self.assertTrue(goes_in(many["front"], *side_size(x, "front")))

    def test_a_held_length_makes_it_wider(self):
        many = {"front": [hole(f"A{k}", 7) for k in range(4)]}
        x = sized(box(held=("height_m",), height_m=0.5), 400 * CFM, None, many)
        self.assertEqual(x.height_m, 0.5)
        self.assertTrue(goes_in(many["front"], *side_size(x, "front")))

    def test_all_held_stays_as_it_is(self):
        x = box(held=("width_m", "depth_m", "height_m"))
        self.assertEqual(sized(x, 2000 * CFM, None, {"front": [hole("A", 30)]}), x)


class TestFaces(unittest.TestCase):
    def test_air_and_sides_of_units_that_stand_and_lie(self):
        def unit(way, turn=0):
            return IndoorUnit(id="u", tag="U", system="s", way=way, turn_deg=turn)

        self.assertEqual(air_way(unit("upflow"), "supply"), UP)
        self.assertEqual(air_way(unit("downflow"), "supply"), (0, 0, -1))
        self.assertEqual(air_way(unit("right"), "supply"), (1, 0, 0))
        self.assertEqual(air_way(unit("left"), "supply"), (-1, 0, 0))
        self.assertEqual(air_way(unit("right"), "return"), (-1, 0, 0))
        self.assertEqual(side_of("south", UP), "front")
        self.assertEqual(side_of("south", (0, 0, -1)), "back")
        east = (1, 0, 0)
        self.assertEqual(
            [side_of(f, east) for f in ("east", "west", "north", "south", "top")],
            ["cap", None, "right", "left", "back"],
        )
        self.assertEqual(plan_size(box(height_m=0.9, width_m=0.5), east), (0.9, 0.5))
        self.assertEqual(plan_size(box(width_m=0.5, depth_m=0.4), UP), (0.5, 0.4))

    def test_every_side_is_one_face_and_they_turn_together(self):
        for air in (UP, (0, 0, -1), (1, 0, 0), (0, 1, 0), (-1, 0, 0), (0, -1, 0)):
            sides = [s for f in ("north", "east", "south", "west", "top") if (s := side_of(f, air))]
            self.assertEqual(len(sides), len(set(sides)))
            self.assertIn("cap", sides)

    def test_the_last_row_leaves_its_cushion_and_the_largest_is_nearest(self):
        holes = [hole("big", 10, 0.3), hole("small", 6, 0.05), hole("mid", 9, 0.2)]
        placed = {x.hole.tag: x for x in on_side(holes, 14 * INCH, 48 * INCH)}
        self.assertLess(placed["big"].up_m, placed["mid"].up_m)
        self.assertLess(placed["mid"].up_m, placed["small"].up_m)
        self.assertAlmostEqual(48 * INCH - placed["small"].up_m - 3 * INCH, 6 * INCH)
        self.assertEqual(list(troubles(list(placed.values()), 14 * INCH, 48 * INCH)), [])

    def test_a_handle_gets_room(self):
        a, b = on_side([hole("a", 6, 0.1, True), hole("b", 6, 0.2)], 18 * INCH, 24 * INCH)
        self.assertGreaterEqual(between_m(a, b), HANDLE_M)
        end = 8 * INCH
        pair = [hole("a", 6, 0.1, True, 4 * INCH, end), hole("b", 6, 0.2, False, 11 * INCH, end)]
        near = on_side(pair, 18 * INCH, 24 * INCH)
        self.assertEqual([t.kind for t in troubles(near, 18 * INCH, 24 * INCH)], ["handle"])

    def test_what_is_wrong_is_told_by_its_distance(self):
        wide, tall = 20 * INCH, 24 * INCH

        def kinds(*holes):
            return [
                (t.kind, round(t.have_m / INCH, 2)) for t in troubles(on_side(list(holes), wide, tall), wide, tall)
            ]

        self.assertEqual(kinds(hole("a", 8, along=4.2 * INCH, end=7 * INCH)), [("edge", 0.2)])
        self.assertEqual(kinds(hole("a", 8, end=2 * INCH)), [("end", 2.0)])
        self.assertEqual(kinds(hole("a", 8, end=15 * INCH)), [("outlet", 1.0)])
        over = kinds(hole("a", 8, along=6 * INCH, end=8 * INCH), hole("b", 8, along=10 * INCH, end=8 * INCH))
        self.assertEqual(over, [("overlap", -4.0)])

    @given(st.lists(st.integers(4, 14), min_size=1, max_size=6), st.integers(10, 40), st.integers(12, 60))
    @settings(max_examples=300, deadline=None)
    def test_what_goes_in_lies_apart_and_on_the_face(self, sizes, wide, tall):
        holes = [hole(f"h{k}", s, s / 100) for k, s in enumerate(sizes)]
        w, h = wide * INCH, tall * INCH
        if goes_in(holes, w, h):
            placed = on_side(holes, w, h)
            for k, a in enumerate(placed):
                r = a.hole.size_m[0] / 2
                self.assertGreaterEqual(min(a.along_m, w - a.along_m, a.up_m, h - a.up_m) - r, EDGE_M - 1e-6)
                for b in placed[k + 1 :]:
                    self.assertGreaterEqual(between_m(a, b), EDGE_M - 1e-6)
        roomy_w, roomy_h = max(sizes) * INCH + 4 * INCH, sum(sizes) * INCH + len(sizes) * 2 * INCH + 12 * INCH
        self.assertTrue(goes_in(holes, roomy_w, roomy_h))


@lru_cache(maxsize=1)
def lying():
    """The demo with its unit laid down."""
    return solve(placed_unit(demo(), "unit1", "ground", (11.0, 5.3), None, "right", 0).job)


class TestInTheDemo(unittest.TestCase):
    def supply(self, r=None):
        return next(x for x in (r or demo_results()).main.plenums if x.plenum.side == "supply")

    def test_a_take_off_moved_stays_and_goes_home_again(self):
        x = self.supply()
        t = next(t for t in x.take_offs if t.run.tag == "P2")
        job = moved_take_off(demo(), t.run.start, "west", 0.2, 0.25)
        now = next(o for o in self.supply(solve(job)).take_offs if o.run.tag == "P2")
        self.assertEqual((now.face, now.side), ("west", "left"))
        np.testing.assert_allclose((now.along_m, now.from_end_m), (0.2, 0.25))
        back = self.supply(solve(placed_anew(job, self.supply(solve(job)))))
        self.assertTrue(all(o.run.face_along_m is None for o in back.take_offs))
        self.assertEqual([w for _, w in back.troubles if w.kind in ("edge", "overlap")], [])

    def test_held_sides_stay_when_it_is_sized(self):
        x = self.supply()
        job = held_plenum(demo(), x.plenum.id, "width_m", 0.7)
        r = solve(job)
        made = next(p for p in sized_plenum(job, self.supply(r), r.laid).design.plenums if p.id == x.plenum.id)
        self.assertEqual((made.width_m, made.held), (0.7, ("width_m",)))
        free = freed_plenum(job, x.plenum.id, "width_m")
        made = next(p for p in sized_plenum(free, self.supply(r), r.laid).design.plenums if p.id == x.plenum.id)
        self.assertNotEqual(made.width_m, 0.7)
        self.assertGreaterEqual(made.width_m * made.depth_m, x.wanted_area_m2 - 1e-9)

    def test_no_box_is_that_large(self):
        with self.assertRaises(JobValueError):
            held_plenum(demo(), self.supply().plenum.id, "width_m", 9.0)

    def test_the_fix_of_a_finding_settles_it(self):
        near = self.supply().plenum.height_m - 0.2
        job = moved_take_off(
            demo(), next(t for t in self.supply().take_offs if t.run.tag == "P2").run.start, "east", None, near
        )
        rules = {f.rule.id for f in solve(job).findings}
        self.assertIn("takeoff-outlet", rules)
        job = replace(demo(), "plenums", self.supply().plenum.id, width_m=0.2)
        r = solve(job)
        found = next(f for f in r.findings if f.rule.id == "plenum-small")
        self.assertNotIn("plenum-small", {f.rule.id for f in solve(found.hit.fix(job)).findings})

    def test_a_handle_without_room_is_found(self):
        x = self.supply()
        tags = {t.run.tag: t.run for t in x.take_offs}
        job = replace(demo(), "runs", tags["P1"].id, damper=0.8)
        job = moved_take_off(job, tags["P1"].start, "east", 0.2, 0.2)
        job = moved_take_off(job, tags["P2"].start, "east", 0.2 + 6.5 * INCH + 1.2 * INCH, 0.2)
        self.assertIn("takeoff-handle", {f.rule.id for f in solve(job).findings})

    def test_they_turn_and_are_mirrored_with_the_house(self):
        x = self.supply()
        t = next(t for t in x.take_offs if t.run.tag == "P2")
        job = moved_take_off(held_plenum(demo(), x.plenum.id, "width_m", 0.6), t.run.start, "east", 0.15, 0.3)
        round_ = job
        for _ in range(4):
            round_ = rotate_house(round_)
        self.assertEqual(
            [p.model_dump(exclude={"position_m"}) for p in round_.design.plenums],
            [p.model_dump(exclude={"position_m"}) for p in job.design.plenums],
        )
        turned = self.supply(solve(rotate_house(job)))
        self.assertEqual((turned.plenum.depth_m, turned.plenum.held), (0.6, ("depth_m",)))
        (p2,) = (o for o in turned.take_offs if o.run.tag == "P2")
        np.testing.assert_allclose((p2.along_m, p2.from_end_m), (0.15, 0.3))
        self.assertEqual([o.face for o in turned.take_offs if o.run.tag == "P2"], ["south"])
        mirrored = self.supply(solve(mirror_house(job)))
        (o,) = (o for o in mirrored.take_offs if o.run.tag == "P2")
        self.assertEqual(o.face, "west")
        self.assertAlmostEqual(o.along_m, mirrored.plenum.depth_m - 0.15)
        for z in rotate_house(job).design.zones:
            room = room_at(rotate_house(job), z.storey, z.position_m)
            self.assertIn(room.id, z.rooms)

    def test_a_unit_laid_down_has_its_boxes_at_its_ends(self):
        r = lying()
        supply = self.supply(r)
        self.assertEqual(supply.air, (1, 0, 0))
        unit = r.job.design.indoor_units[0]
        self.assertGreater(supply.plenum.position_m[0], unit.position_m[0])
        longer = held_plenum(r.job, supply.plenum.id, "height_m", supply.plenum.height_m + 0.4)
        moved = next(p for p in longer.design.plenums if p.id == supply.plenum.id)
        self.assertAlmostEqual(moved.position_m[0], supply.plenum.position_m[0] + 0.2, 3)
        # what left by the west face would leave into the unit
        job = moved_take_off(r.job, supply.take_offs[0].run.start, "west", None, None)
        again = solve(job)
        self.assertEqual(self.supply(again).blind, (supply.take_offs[0].run.tag,))
        self.assertIn("takeoff-fit", {f.rule.id for f in again.findings})


if __name__ == "__main__":
    unittest.main()
