"""Heights: sloped ceilings, half storeys, basements partly below grade, split levels, garages below, patches, skylights."""

from __future__ import annotations

import unittest
from math import log, pi, sqrt

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point as At
from shapely.geometry import Polygon

from murvan.design import solve
from murvan.design.house.levels import roof_shape
from murvan.design.loads.components import COLUMN
from murvan.model import JobValueError, Opening, Patch, Room, Slope, Space, Storey, Structure, WallOverride
from murvan.model.edit import changed
from murvan.model.house import floor_heights
from tests.houses import box, two_rooms


def rect(x, y, w, d):
    return ((x, y), (x + w, y), (x + w, y + d), (x, y + d))


def sloped(slope, width=6.0, depth=4.0, **more):
    job = box(width, depth)
    return changed(job, "", rooms=(changed(job.rooms[0], slope=slope, **more),), openings=())


def walls(job, other):
    return [w for w in solve(job).geometry.walls if w.other == other]


class Slopes(unittest.TestCase):
    def test_a_shed_vault_by_hand(self):
        # 4 m deep, 2 m at the north wall, pitch 0.25: 3 m at the south wall
        g = solve(sloped(Slope(rises="y", low_side="start", low_m=2.0, high_m=5.0, pitch=0.25))).geometry
        self.assertAlmostEqual(g.volume_m3[0], 6 * 4 * 2.5)
        self.assertAlmostEqual(g.ceilings_m2["roof"][0], 6 * 4 * sqrt(1 + 0.25**2))
        by = {w.compass: w.gross_area_m2 for w in g.walls}
        self.assertAlmostEqual(by["N"], 12.0)
        self.assertAlmostEqual(by["S"], 18.0)
        self.assertAlmostEqual(by["E"], 10.0)

    def test_a_gable_vault_by_hand(self):
        g = solve(sloped(Slope(rises="y", low_m=2.4, high_m=9.0, pitch=1.0))).geometry
        self.assertAlmostEqual(g.volume_m3[0], 24 * 2.4 + 6 * 0.5 * 4 * 2.0)
        gable = [w.gross_area_m2 for w in g.walls if w.compass in "EW"]
        self.assertAlmostEqual(gable[0], 4 * 2.4 + 4.0)

    def test_a_half_storey_has_knee_walls_slopes_and_a_flat_part(self):
        job = sloped(Slope(rises="y", low_m=1.2, high_m=2.2, pitch=1.0, knee=True), 6.0, 5.0)
        g = solve(job).geometry
        self.assertAlmostEqual(g.ceilings_m2["roof"][0], 2 * 6 * 1.0 * sqrt(2))
        self.assertAlmostEqual(g.ceilings_m2["attic"][0], 6 * 3.0)
        self.assertAlmostEqual(g.volume_m3[0], 6 * (3 * 2.2 + 2 * 1.7))
        knee = walls(job, "attic")
        self.assertEqual({w.compass for w in knee}, {"N", "S"})
        self.assertAlmostEqual(sum(w.gross_area_m2 for w in knee), 2 * 6 * 1.2)

    def test_a_high_side_below_the_low_one_is_refused(self):
        with self.assertRaisesRegex(JobValueError, "higher than the low side"):
            changed(Slope(), "Loft", low_m=3.0, high_m=2.0)

    @given(
        st.floats(0.3, 2.0),
        st.floats(0.5, 3.0),
        st.floats(0.1, 2.5),
        st.sampled_from(["start", "end", "both"]),
        st.sampled_from(["x", "y"]),
    )
    @settings(max_examples=40, deadline=None)
    def test_volume_against_a_fine_grid(self, low, more, pitch, side, rises):
        outline = ((0, 0), (5, 0), (5, 2), (3, 2), (3, 4), (0, 4))
        slope = Slope(rises=rises, low_side=side, low_m=low, high_m=low + more, pitch=pitch)
        room = Room(id="a", name="A", storey="g", outline_m=outline, slope=slope)
        shape = roof_shape(room)
        xs, ys = np.meshgrid(np.arange(0.025, 5, 0.05), np.arange(0.025, 4, 0.05))
        polygon = Polygon(outline)
        grid = sum(
            shape.height_at((x, y)) * 0.0025
            for x, y in zip(xs.ravel(), ys.ravel(), strict=True)
            if polygon.contains(At(x, y))
        )
        self.assertAlmostEqual(shape.volume_m3, grid, delta=0.02 * grid)


class BelowGrade(unittest.TestCase):
    def basement(self, floor=-1.5, **more):
        job = box(8, 6, openings=())
        return changed(job, "", storeys=(changed(job.storeys[0], floor_m=floor, height_m=2.4),), **more)

    def test_walls_are_cut_at_the_ground(self):
        job = self.basement()
        buried, free = walls(job, "ground"), walls(job, "outdoors")
        self.assertAlmostEqual(sum(w.gross_area_m2 for w in buried), 28 * 1.5)
        self.assertAlmostEqual(sum(w.gross_area_m2 for w in free), 28 * 0.9)
        self.assertEqual(buried[0].depth_m, (0.0, 1.5))

    def test_loss_through_them_is_that_of_latta_and_boileau_by_hand(self):
        # ASHRAE Fundamentals ch. 18 eq. 37 to 39, worked here term by term
        job = self.basement()
        r = solve(job)
        u_made = r.factors.assemblies["wall-2x4-r13"].u_w_m2k
        wall_r = 1 / u_made - 0.17 * 0.1761101838
        k = 1.4
        u_wall = 2 * k / (pi * 1.5) * (log(1.5 + 2 * k * wall_r / pi) - log(2 * k * wall_r / pi))
        ground = job.climate.ground_c - job.climate.ground_swing_k
        dt = job.indoor.heating_c - ground
        mine = [s for s in r.factors.surfaces if s.kind == "ground"]
        self.assertAlmostEqual(sum(s.heating_w for s in mine), 28 * 1.5 * u_wall * dt, places=3)
        floor = next(s for s in r.factors.surfaces if s.kind == "below")
        slab_r = 0.92 * 0.1761101838 + sum(
            x.r_m2k_w if x.r_m2k_w is not None else x.thickness_m / x.conductivity_w_mk
            for c in job.constructions
            if c.id == "slab-r5"
            for x in c.layers
        )
        off = k * slab_r / pi
        u_floor = 2 * k / (pi * 6) * (log(3 + 0.75 + off) - log(0.75 + off))
        self.assertAlmostEqual(floor.u_w_m2k, u_floor, places=6)
        self.assertAlmostEqual(floor.heating_w, 48 * u_floor * dt, places=3)

    def test_below_grade_there_is_no_cooling_and_no_slab_edge(self):
        r = solve(self.basement())
        self.assertEqual(sum(s.cooling_w for s in r.factors.surfaces if s.kind in ("ground", "below")), 0.0)
        self.assertEqual(sum(r.geometry.edge_m), 0.0)

    def test_deeper_loses_less(self):
        losses = [solve(self.basement(z)).loads.house_heating_w for z in (0.0, -0.6, -1.2, -1.8)]
        self.assertEqual(losses, sorted(losses, reverse=True))

    def test_a_walk_out_wall(self):
        job = self.basement(wall_overrides=(WallOverride(room="a", wall=2, grade_m=0.0),))
        self.assertEqual({w.compass for w in walls(job, "ground")}, {"N", "E", "W"})
        self.assertAlmostEqual(sum(w.gross_area_m2 for w in walls(job, "outdoors") if w.compass == "S"), 8 * 2.4)

    def test_wholly_below_grade(self):
        job = self.basement(-3.0)
        self.assertEqual(walls(job, "outdoors"), [])
        self.assertEqual(walls(job, "ground")[0].depth_m, (0.6000000000000001, 3.0))

    def test_a_window_over_the_ground(self):
        job = self.basement(
            openings=(
                Opening(
                    id="w",
                    tag="G1",
                    kind="window",
                    room="a",
                    wall=2,
                    offset_m=1,
                    width_m=1,
                    height_m=0.5,
                    sill_m=1.7,
                    glazing="glass-034",
                ),
            )
        )
        south = next(w for w in walls(job, "outdoors") if w.compass == "S")
        self.assertAlmostEqual(south.net_area_m2, 8 * 0.9 - 0.5)


class Levels(unittest.TestCase):
    def test_floors_stand_on_each_other(self):
        storeys = (
            Storey(id="b", name="Basement", height_m=2.2, floor_m=-1.4, ceiling_structure=Structure(depth_m=0.25)),
            Storey(id="g", name="Ground", height_m=2.5),
            Storey(id="u", name="Upper", height_m=2.4),
        )
        z = floor_heights(storeys)
        self.assertAlmostEqual(z["g"], -1.4 + 2.2 + 0.25)
        self.assertAlmostEqual(z["u"], z["g"] + 2.5 + 0.3)

    def split(self):
        """A split level: the main floor at 0.6 m beside a lower one at -0.9 m and an upper one at 1.8 m."""
        job = two_rooms()
        storeys = (
            Storey(id="l", name="Lower", height_m=2.4, floor_m=-0.9),
            Storey(id="m", name="Main", height_m=2.4, floor_m=0.6),
            Storey(id="u", name="Upper", height_m=2.4, floor_m=1.8),
        )
        rooms = (
            Room(id="m1", name="Main", storey="m", outline_m=rect(0, 0, 5, 6)),
            Room(id="l1", name="Lower", storey="l", outline_m=rect(5, 0, 5, 6)),
            Room(id="u1", name="Upper", storey="u", outline_m=rect(5, 0, 5, 6)),
        )
        return changed(job, "", storeys=storeys, rooms=rooms)

    def test_a_wall_between_levels_is_shared_by_height(self):
        g = solve(self.split()).geometry
        main = [w for w in g.walls if w.room == 0 and w.wall == 1]
        beside = {w.neighbour: w.gross_area_m2 for w in main}
        self.assertAlmostEqual(beside["u1"], 6 * 1.2)  # 1.8 to 3.0
        self.assertAlmostEqual(beside["l1"], 6 * 0.9)  # 0.6 to 1.5
        self.assertAlmostEqual(sum(w.gross_area_m2 for w in main), 6 * 2.4)

    def test_ceilings_and_floors_of_a_split_level(self):
        g = solve(self.split()).geometry
        self.assertEqual([round(x, 3) for x in g.ceilings_m2["attic"]], [30.0, 0.0, 30.0])
        self.assertAlmostEqual(g.floors_m2["below"][1], 30.0)
        self.assertAlmostEqual(g.floors_m2["slab"][0], 30.0)

    def test_a_room_over_the_garage(self):
        job = two_rooms()
        storeys = (*job.storeys, Storey(id="u", name="Upper", height_m=2.4))
        bonus = Room(id="bonus", name="Bonus", storey="u", outline_m=rect(9, 0, 5, 4))
        garage = Space(id="garage", name="Garage", storey="g", outline_m=rect(9, 0, 4, 4))
        job = changed(job, "", storeys=storeys, rooms=(*job.rooms, bonus), spaces=(garage,))
        r = solve(job)
        self.assertAlmostEqual(r.geometry.floors_m2["garage"][2], 16.0)
        self.assertAlmostEqual(r.geometry.floors_m2["outdoors"][2], 4.0)
        over = {s.kind: s for s in r.factors.surfaces if s.room == 2 and s.component in ("floor", "garage")}
        self.assertLess(over["garage floor"].heat_k, over["open floor"].heat_k)

    def test_a_raised_common_floor_stands_on_a_crawl_space(self):
        job = box(6, 4)
        raised = changed(next(c for c in job.constructions if c.kind == "floor"), id="raised")
        job = changed(job, "", constructions=(*job.constructions, raised), floor_construction="raised")
        g = solve(job).geometry
        self.assertAlmostEqual(g.floors_m2["crawl"][0], 24.0)
        self.assertEqual(g.edge_m, (0.0,))

    def test_a_bay_over_the_outdoors_by_a_patch(self):
        patch = Patch(id="p", name="Bay", storey="g", outline_m=rect(5, 0, 1, 4), face="floor", beyond="outdoors")
        g = solve(changed(box(6, 4), "", patches=(patch,))).geometry
        self.assertAlmostEqual(g.floors_m2["outdoors"][0], 4.0)
        self.assertAlmostEqual(g.floors_m2["slab"][0], 20.0)

    def test_a_part_with_a_room_over_it_by_a_patch(self):
        patch = Patch(id="p", name="Under", storey="g", outline_m=rect(0, 0, 3, 4), face="ceiling", beyond="heated")
        g = solve(changed(box(6, 4), "", patches=(patch,))).geometry
        self.assertAlmostEqual(g.ceilings_m2["attic"][0], 12.0)


class Skylights(unittest.TestCase):
    def skylight(self, slope=None, **more):
        job = sloped(slope) if slope else changed(box(6, 4), "", openings=())
        fields = {"id": "s", "tag": "S1", "kind": "skylight", "room": "a", "wall": 0, "offset_m": 0.0, "width_m": 1.0}
        o = Opening(**{**fields, "height_m": 1.2, "position_m": (3.0, 3.0), "glazing": "glass-034", **more})
        return changed(job, "", openings=(o,))

    def test_it_takes_ceiling_and_brings_sun(self):
        r, without = solve(self.skylight()), solve(changed(box(6, 4), "", openings=()))
        self.assertAlmostEqual(r.geometry.ceilings_m2["attic"][0], 24 - 1.2)
        self.assertGreater(r.loads.sensible_parts[0, COLUMN["glass_sky"]], 150)
        self.assertGreater(r.loads.house_heating_w, without.loads.house_heating_w)

    def test_in_a_roof_it_looks_where_the_roof_does(self):
        slope = Slope(rises="y", low_m=2.0, high_m=6.0, pitch=1.0)
        face = solve(self.skylight(slope)).geometry.openings[0]
        self.assertAlmostEqual(face.facing_deg, 180.0)
        self.assertAlmostEqual(face.tilt_deg, 45.0)
        north = solve(self.skylight(slope, position_m=(3.0, 1.0))).geometry.openings[0]
        self.assertAlmostEqual(north.facing_deg, 0.0)

    def test_without_a_place_it_is_refused(self):
        with self.assertRaisesRegex(ValueError, "place in the ceiling"):
            self.skylight(position_m=None)


class Shade(unittest.TestCase):
    def gain(self, **more):
        job = box(6, 4)
        job = changed(job, "", openings=(changed(job.openings[0], **more),))
        return float(solve(job).loads.sensible_parts[0].sum())

    def test_trees_take_sun_away(self):
        self.assertLess(self.gain(sun_summer=0.3), self.gain(sun_summer=0.8))
        self.assertLess(self.gain(sun_summer=0.8), self.gain())

    def test_a_gap_over_the_glass_makes_an_overhang_shade_less(self):
        self.assertLess(self.gain(overhang_m=0.6), self.gain(overhang_m=0.6, overhang_gap_m=0.4))
        self.assertLess(self.gain(overhang_m=0.6, overhang_gap_m=0.4), self.gain())


if __name__ == "__main__":
    unittest.main()
