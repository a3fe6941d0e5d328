"""Assemblies: U-values against parallel-path sums worked by hand, the library, age and look, layers edited."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from murvan.catalog import library, materials, studs
from murvan.design import solve
from murvan.design.house.assemblies import (
    ERAS,
    LOOKS,
    ROLES,
    add_layer,
    assume,
    assumptions,
    choices,
    drop_layer,
    material_of,
    own_copy,
    set_all_glazing,
    set_layer,
    set_material,
    set_role,
    set_stud,
    shift_layer,
    stud_of,
    with_construction,
)
from murvan.design.house.surfaces import assembly
from murvan.model import Construction, JobValueError, Layer
from murvan.model.edit import changed
from tests.houses import box, demo

R = 0.1761101838  # m2K/W in one ft2 h F/Btu
U = 5.678263337


def u_ip(construction):
    return assembly(construction).u_w_m2k / U


class Library(unittest.TestCase):
    def test_there_is_enough_to_choose_from(self):
        made, panes = library()
        self.assertGreaterEqual(len(made), 60)
        self.assertGreaterEqual(len(panes), 20)
        for kind, least in (("wall", 30), ("ceiling", 9), ("roof", 7), ("floor", 6), ("slab", 6), ("door", 5)):
            self.assertGreaterEqual(sum(c.kind == kind for c in made.values()), least, kind)

    def test_every_u_value_is_one_a_building_can_have(self):
        for c in library()[0].values():
            with self.subTest(c.id):
                self.assertTrue(0.012 < u_ip(c) < 1.2, u_ip(c))
        for g in library()[1].values():
            with self.subTest(g.id):
                self.assertTrue(0.1 < g.u_w_m2k / U < 1.3)
                self.assertTrue(0.15 < g.shgc < 0.9)

    def test_names_are_different(self):
        for items in library():
            self.assertEqual(len({x.name for x in items.values()}), len(items))
        self.assertEqual(len({m.name for m in materials().values()}), len(materials()))

    def test_more_insulation_is_better(self):
        made = library()[0]
        for better, worse in (
            ("ceiling-r60", "ceiling-r49"),
            ("ceiling-r49", "ceiling-r38-blown"),
            ("frame-2x4-r13-xps1", "wall-2x4-r13"),
            ("roof-2x12-r38", "roof-2x10-r30"),
            ("floor-r30", "floor-r25"),
            ("slab-r10", "slab-bare"),
        ):
            with self.subTest(better):
                a, b = made[better], made[worse]
                if a.kind == "slab":
                    self.assertLess(a.edge_f_w_mk, b.edge_f_w_mk)
                else:
                    self.assertLess(u_ip(a), u_ip(b))


class ByHand(unittest.TestCase):
    """Parallel path as in ASHRAE Fundamentals ch. 27: bay and stud each in series, then side by side by area."""

    def test_wood_frame_wall(self):
        # ch. 27 worked example, from memory: 2x4 at 25 % framing, R-13 batt, 1/2 in gypsum, wood siding, fibreboard
        bay = 0.17 + 0.80 + 1.32 + 13.0 + 0.45 + 0.68
        stud = 0.17 + 0.80 + 1.32 + 4.375 + 0.45 + 0.68
        wanted = 0.75 / bay + 0.25 / stud
        layers = [materials()[m].layer() for m in ("siding-wood", "fibreboard")]
        layers += [materials()["batt-13"].layer(None, studs()["2x4"]), materials()["gypsum"].layer()]
        wall = Construction(id="w", name="Wall", kind="wall", framing_fraction=0.25, layers=tuple(layers))
        self.assertAlmostEqual(u_ip(wall), wanted, places=5)
        self.assertAlmostEqual(u_ip(wall), 0.0777, places=4)

    def test_masonry_without_framing(self):
        # 0.17 + 12 in of common brick at 0.20 an inch + plaster 0.40 + 0.68
        self.assertAlmostEqual(u_ip(library()[0]["brick-12"]), 1 / (0.17 + 2.4 + 0.40 + 0.68), places=4)

    def test_ceiling_with_joists_under_the_blown_part(self):
        # R-38 blown: 5.5 in between 2x6 joists, 9.1 in over them, films 0.61 up both sides
        c = library()[0]["ceiling-r38-blown"]
        bay = 0.61 + 14.6 * 2.6 + 0.45 + 0.61
        joist = 0.61 + 6.875 + 9.1 * 2.6 + 0.45 + 0.61
        self.assertAlmostEqual(u_ip(c), 0.93 / bay + 0.07 / joist, places=4)

    def test_floor_over_a_crawl_space(self):
        c = library()[0]["floor-r25"]
        bay = 0.17 + 25 + 0.94 + 0.68 + 0.92
        joist = 0.17 + 9.25 * 1.25 + 0.94 + 0.68 + 0.92
        self.assertAlmostEqual(u_ip(c), 0.90 / bay + 0.10 / joist, places=4)

    @given(st.just(0.0) | st.floats(1e-6, 0.5), st.floats(0.2, 6.0), st.floats(0.1, 2.5))
    @settings(max_examples=60, deadline=None)
    def test_between_bay_and_stud_and_falling_with_more_wood(self, fraction, bay, stud):
        layer = Layer(name="Bay", thickness_m=0.09, r_m2k_w=bay, framing_r_m2k_w=stud)
        a = assembly(Construction(id="w", name="W", kind="wall", framing_fraction=fraction, layers=(layer,)))
        self.assertTrue(min(1 / a.r_cavity, 1 / a.r_framing) - 1e-9 <= a.u_w_m2k)
        self.assertTrue(a.u_w_m2k <= max(1 / a.r_cavity, 1 / a.r_framing) + 1e-9)


class AgeAndLook(unittest.TestCase):
    def test_every_time_and_look_makes_a_whole_shell(self):
        for era in ERAS:
            for look in LOOKS:
                for ground in ("slab", "crawl", "basement"):
                    with self.subTest(era=era, look=look, ground=ground):
                        job = assume(box(), era, look, ground)
                        self.assertTrue(all(getattr(job, f"{r}_construction") for r in ROLES))
                        self.assertGreater(solve(job).loads.house_heating_w, 100)

    def test_newer_houses_lose_less(self):
        losses = [solve(assume(box(), era, "frame")).loads.house_heating_w for era in ERAS]
        self.assertEqual(losses, sorted(losses, reverse=True))

    def test_all_of_it_is_marked_as_assumed_until_it_is_changed(self):
        job = assume(box(), "1970s", "frame")
        said = assumptions(job)
        self.assertTrue(any("2×4, R-11" in s for s in said))
        self.assertTrue(any("leakage" in s for s in said))
        job = set_role(job, "wall", "frame-2x4-r15")
        self.assertFalse(any(s.startswith("outside walls") for s in assumptions(job)))

    def test_what_was_measured_stays(self):
        job = box(leakage={"ach50": 4.2, "measured": True})
        self.assertEqual(assume(job, "1970s", "frame").leakage.ach50, 4.2)

    def test_a_crawl_space_gets_a_raised_floor(self):
        g = solve(assume(box(), "1970s", "frame", "crawl")).geometry
        self.assertGreater(g.floors_m2["crawl"][0], 0)

    def test_an_unknown_time_is_refused(self):
        with self.assertRaisesRegex(JobValueError, "when it was built"):
            assume(box(), "1066", "frame")


class Layers(unittest.TestCase):
    def setUp(self):
        self.job, self.id = own_copy(box(), "wall-2x4-r13")

    def wall(self, job):
        return next(c for c in job.constructions if c.id == self.id)

    def test_a_copy_leaves_the_other_one(self):
        job = set_material(self.job, self.id, 0, "brick")
        self.assertEqual(self.wall(job).layers[0].name, "Face brick")
        self.assertEqual(
            next(c for c in job.constructions if c.id == "wall-2x4-r13"),
            next(c for c in box().constructions if c.id == "wall-2x4-r13"),
        )

    def test_a_layer_comes_goes_and_moves(self):
        job = add_layer(self.job, self.id, 0, "xps")
        self.assertEqual([x.name for x in self.wall(job).layers][:2], ["Wood siding", "XPS board"])
        self.assertLess(u_ip(self.wall(job)), u_ip(self.wall(self.job)))
        moved = shift_layer(job, self.id, 1, -1)
        self.assertEqual(self.wall(moved).layers[0].name, "XPS board")
        self.assertEqual(self.wall(drop_layer(moved, self.id, 0)), self.wall(self.job))

    def test_thickness_counts_for_what_has_a_conductivity(self):
        job = add_layer(self.job, self.id, 0, "xps")
        thick = set_layer(job, self.id, 1, thickness_m=0.0508)
        self.assertAlmostEqual(self.wall(thick).layers[1].resistance_m2k_w / R, 10.0, places=2)

    def test_studs(self):
        self.assertEqual(stud_of(self.wall(self.job).layers[2]), "2x4")
        job = set_stud(self.job, self.id, 2, "2x6")
        self.assertAlmostEqual(self.wall(job).layers[2].framing_r_m2k_w / R, 6.875, places=3)
        self.assertIsNone(self.wall(set_stud(self.job, self.id, 2, "")).layers[2].framing_r_m2k_w)
        self.assertEqual(material_of(materials()["xps"].layer()), "xps")

    def test_impossible_layers_are_refused_with_their_place(self):
        with self.assertRaisesRegex(JobValueError, "own, Wood siding"):
            set_layer(self.job, self.id, 0, r_m2k_w=-1.0)
        with self.assertRaisesRegex(JobValueError, "resistance"):
            set_layer(self.job, self.id, 0, r_m2k_w=None, conductivity_w_mk=None)
        for tiny in ("r_m2k_w", "framing_r_m2k_w"):
            with self.assertRaisesRegex(JobValueError, "resistance of 1e-07 m²K/W is of no material"):
                set_layer(self.job, self.id, 0, **{tiny: 1e-7})
        with self.assertRaisesRegex(JobValueError, "along its framing a resistance of at least 0.002"):
            bare = next(c for c in self.job.constructions if c.id == self.id)
            changed(bare, "own", layers=tuple(changed(x, x.name, framing_r_m2k_w=0.0) for x in bare.layers))
        job = self.job
        for _ in range(3):
            job = drop_layer(job, self.id, 0)
        with self.assertRaisesRegex(JobValueError, "at least one layer"):
            drop_layer(job, self.id, 0)
        with self.assertRaisesRegex(JobValueError, "no such assembly"):
            drop_layer(job, "nothing", 0)

    def test_roles_take_only_what_fits(self):
        with self.assertRaisesRegex(JobValueError, "can't be made like a door"):
            set_role(box(), "wall", "door-wood")
        with self.assertRaisesRegex(JobValueError, "in the library"):
            with_construction(box(), "gingerbread")
        self.assertIsNone(set_role(box(), "roof", "").roof_construction)

    def test_choices_have_the_jobs_own_first_and_no_doubles(self):
        found = choices(self.job, "wall")
        self.assertEqual(len({i for i, _ in found}), len(found))
        self.assertIn(self.id, [i for i, _ in found[: len(self.job.constructions)]])
        self.assertGreater(len(found), 40)

    def test_one_glazing_for_all_windows(self):
        job = set_all_glazing(demo(), "glass-triple-low")
        self.assertEqual({o.glazing for o in job.openings if o.kind == "window"}, {"glass-triple-low"})
        self.assertLess(solve(job).loads.house_heating_w, solve(demo()).loads.house_heating_w)
        self.assertEqual(changed(job, ""), job)


if __name__ == "__main__":
    unittest.main()
