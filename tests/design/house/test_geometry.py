"""Areas, shared walls and exposures against figures from the plan."""

import unittest

from shapely.geometry import Polygon

from murvan.design.house.geometry import compass, wall_facing_deg
from murvan.design.house.measuring import measure
from murvan.model import Room, Site, Storey, replace
from murvan.model.edit import changed
from tests.houses import FT, box, demo, demo_results, two_rooms


def measured(job):
    return measure(job)


class TestDemoHouse(unittest.TestCase):
    def setUp(self):
        self.g = demo_results().geometry

    def test_floor_area_is_2288(self):
        self.assertAlmostEqual(self.g.total_area_m2 / FT**2, 2288, delta=0.3)

    def test_areas_against_shapely(self):
        for room, area in zip(demo().rooms, self.g.area_m2, strict=True):
            self.assertAlmostEqual(area, Polygon(room.outline_m).area, places=9)

    def test_living_has_288_ft2_outside(self):
        self.assertAlmostEqual(self.g.exposed_wall_m2[0] / FT**2, 32 * 9, delta=0.1)

    def test_study_east_wall_is_part_outdoors_part_garage(self):
        study = next(i for i, r in enumerate(demo().rooms) if r.id == "study")
        east = sorted(
            (w.other, round(w.length_m / FT, 2)) for w in self.g.walls if w.room == study and w.compass == "E"
        )
        self.assertEqual(east, [("garage", 5.5), ("outdoors", 5.5)])

    def test_upper_rooms_see_no_garage(self):
        upper = {i for i, r in enumerate(demo().rooms) if r.storey == "upper"}
        self.assertFalse([w for w in self.g.walls if w.room in upper and w.other == "garage"])

    def test_perimeter_closes(self):
        ground = {i for i, r in enumerate(demo().rooms) if r.storey == "ground"}
        outside = sum(w.length_m for w in self.g.walls if w.room in ground and w.other != "heated")
        self.assertAlmostEqual(outside / FT, 2 * (44 + 26), delta=0.05)

    def test_ceilings_and_floors(self):
        for i, r in enumerate(demo().rooms):
            ground = r.storey == "ground"
            self.assertEqual(self.g.ceilings_m2["attic"][i] == 0, ground, r.name)
            self.assertEqual(self.g.floors_m2["slab"][i] > 0, ground, r.name)
            self.assertEqual(self.g.floors_m2["outdoors"][i], 0)

    def test_net_wall_is_gross_less_openings(self):
        west = next(w for w in self.g.walls if w.room == 0 and w.compass == "W")
        self.assertAlmostEqual(west.net_area_m2 / FT**2, 135 - 45, delta=0.1)

    def test_label_points_lie_inside(self):
        from shapely.geometry import Point

        for room, at in zip(demo().rooms, self.g.centre_m, strict=True):
            self.assertTrue(Polygon(room.outline_m).contains(Point(at)), room.name)


class TestFacing(unittest.TestCase):
    def test_both_turns_of_the_outline(self):
        square = ((0, 0), (4, 0), (4, 3), (0, 3))
        self.assertEqual([compass(wall_facing_deg(square, k)) for k in range(4)], ["N", "E", "S", "W"])
        back = tuple(reversed(square))
        self.assertEqual({compass(wall_facing_deg(back, k)) for k in range(4)}, {"N", "E", "S", "W"})
        self.assertEqual(compass(wall_facing_deg(back, 0)), "S")

    def test_north_turns_the_house(self):
        self.assertAlmostEqual(wall_facing_deg(((0, 0), (4, 0), (4, 3)), 0, north_deg=90), 270)

    def test_site_north_reaches_the_walls(self):
        job = changed(box(), "Box", site=Site(north_deg=90))
        self.assertEqual({w.compass for w in measured(job).walls}, {"N", "E", "S", "W"})
        self.assertEqual(next(w.compass for w in measured(job).walls if w.wall == 0), "W")


class TestOddHouses(unittest.TestCase):
    def test_shared_wall_is_heated_on_both_sides(self):
        g = measured(two_rooms())
        self.assertEqual([(w.room, w.wall) for w in g.walls if w.other == "heated"], [(0, 1), (1, 3)])

    def test_walls_drawn_a_hand_apart_still_touch(self):
        job = two_rooms()
        job = replace(job, "rooms", "b", outline_m=((4.12, 0), (9, 0), (9, 4), (4.12, 4)))
        self.assertEqual(sum(w.other == "heated" for w in measured(job).walls), 2)

    def test_rooms_apart_do_not(self):
        job = replace(two_rooms(), "rooms", "b", outline_m=((5, 0), (9, 0), (9, 4), (5, 4)))
        self.assertEqual(sum(w.other == "heated" for w in measured(job).walls), 0)

    def test_bump_out_over_outdoors(self):
        upper = Room(id="u", name="Up", storey="u", outline_m=((0, 0), (8, 0), (8, 4), (0, 4)))
        job = box()
        job = changed(
            job, "Box", storeys=(*job.storeys, Storey(id="u", name="U", height_m=2.4)), rooms=(*job.rooms, upper)
        )
        g = measured(job)
        self.assertAlmostEqual(g.floors_m2["outdoors"][1], 8.0)
        self.assertAlmostEqual(g.ceilings_m2["attic"][1], 32.0)
        self.assertEqual(g.ceilings_m2["attic"][0], 0.0)

    def test_override_of_the_other_side(self):
        from murvan.model import WallOverride

        job = changed(
            box(),
            "Box",
            wall_overrides=(WallOverride(room="a", wall=0, other_side="heated", construction="wall-2x6-r21"),),
        )
        north = next(w for w in measured(job).walls if w.wall == 0)
        self.assertEqual((north.other, north.construction), ("heated", "wall-2x6-r21"))

    def test_job_without_rooms(self):
        job = changed(box(), "Box", rooms=(), openings=())
        self.assertEqual(measured(job).total_area_m2, 0)

    def test_inside_door_takes_no_wall_away(self):
        g = demo_results().geometry
        inside = {o.id for o in demo().openings if o.inside}
        self.assertFalse({demo().openings[f.index].id for f in g.openings} & inside)
