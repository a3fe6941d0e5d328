"""Alternatives: what they change, that their figures are those of the changed house, and the ranking."""

from __future__ import annotations

import unittest
from functools import cache

import numpy as np

from murvan.design import solve
from murvan.design.house.assemblies import assume
from murvan.design.house.surfaces import assembly
from murvan.design.loads.components import COLUMN
from murvan.design.propose.alternatives import MEASURES, apply, measure, study, worth_trying
from murvan.design.solve import need
from murvan.design.space.duct_spaces import lay
from murvan.model import Alternative, JobValueError, insert, load_job, replace_part, save_job
from murvan.model.edit import changed
from tests import houses
from tests.houses import box, demo_results

R_IP = 0.1761101838


@cache
def demo():
    """The sample house without its own alternatives."""
    return changed(houses.demo(), "", alternatives=())


def alternative(**fields):
    return Alternative(id="a", name="A", **fields)


class Apply(unittest.TestCase):
    def test_floors_over_a_basement_gain_by_insulation_under_them(self):
        base = changed(assume(box(6, 4), "1970s", "frame", "basement"), "", raised_construction=None)
        base = changed(base, "", floor_construction=assume(box(6, 4), "1970s", "frame", "crawl").raised_construction)
        k = COLUMN["floor"]
        before = need(base).loads.heating_parts[0, k]
        after = need(apply(base, alternative(floor_add_r_m2k_w=19 * R_IP))).loads.heating_parts[0, k]
        self.assertGreater(before, 50)
        self.assertLess(after, 0.7 * before)

    def test_ducts_with_more_insulation_keep_it(self):
        thick = max(r.insulation_r_m2k_w for r in lay(demo()) if r.lies_in != "inside")
        after = apply(demo(), alternative(duct_r_m2k_w=thick - 0.5))
        for a, b in zip(after.design.runs, demo().design.runs, strict=True):
            self.assertGreaterEqual(a.insulation_r_m2k_w, b.insulation_r_m2k_w)

    def made(self, job, role):
        wanted = getattr(job, f"{role}_construction")
        return next(c for c in job.constructions if c.id == wanted)

    def test_ceilings_are_brought_up_to_a_resistance(self):
        after = apply(demo(), alternative(attic_r_m2k_w=60 * R_IP))
        self.assertAlmostEqual(1 / assembly(self.made(after, "ceiling")).u_w_m2k, 60 * R_IP, places=4)
        self.assertIs(apply(demo(), alternative(attic_r_m2k_w=10 * R_IP)).constructions, demo().constructions)

    def test_insulation_over_the_walls_adds_its_resistance(self):
        before, after = demo(), apply(demo(), alternative(wall_add_r_m2k_w=1.0))
        u0, u1 = (assembly(self.made(j, "wall")).u_w_m2k for j in (before, after))
        # bay and stud side by side gain a little more than the layer itself
        self.assertTrue(1 / u0 + 1.0 <= 1 / u1 < 1 / u0 + 1.15)
        partition = self.made(before, "partition")
        self.assertEqual(self.made(after, "partition"), partition)

    def test_glass_blinds_and_overhangs(self):
        after = apply(demo(), alternative(glass_u_w_m2k=1.0, glass_shgc=0.2, blinds=0.4, overhang_m=0.5))
        for o in after.openings:
            if o.kind == "window":
                self.assertEqual((o.blinds, o.overhang_m >= 0.5), (0.4, True))
        used = {o.glazing for o in after.openings if o.kind == "window"}
        self.assertEqual({(g.u_w_m2k, g.shgc) for g in after.glazings if g.id in used}, {(1.0, 0.2)})

    def test_air_ducts_setpoints_recovery(self):
        a = alternative(ach50=2.0, duct_r_m2k_w=2.0, duct_leakage=0.01, recovery=0.8, cooling_c=25.0, heating_c=20.0)
        after = apply(demo(), a)
        self.assertEqual((after.leakage.ach50, after.leakage.measured), (2.0, False))
        self.assertEqual({r.insulation_r_m2k_w for r in lay(after) if r.lies_in != "inside"}, {2.0, 2.1133})
        self.assertEqual((after.design.air.duct_leakage, after.design.ventilators[0].sensible_recovery), (0.01, 0.8))
        self.assertEqual((after.indoor.cooling_c, after.indoor.heating_c), (25.0, 20.0))

    def test_nothing_set_changes_nothing(self):
        self.assertEqual(apply(demo(), alternative()), demo())

    def test_an_absurd_one_is_refused_in_words(self):
        with self.assertRaisesRegex(JobValueError, "(?i)blinds"):
            changed(alternative(), "Alternative", blinds=3.0)

    def test_it_is_kept_in_the_job_file(self):
        import tempfile
        from pathlib import Path

        job = insert(demo(), "alternatives", alternative(attic_r_m2k_w=9.0))
        with tempfile.TemporaryDirectory() as folder:
            save_job(job, Path(folder) / "a.murvan")
            self.assertEqual(load_job(Path(folder) / "a.murvan"), job)


class Whole(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        new = Alternative(id="new", name="New windows", glass_u_w_m2k=1.4, glass_shgc=0.25)
        cls.job = insert(demo(), "alternatives", new, Alternative(id="same", name="Nothing"))
        cls.r = solve(cls.job)
        cls.study = study(cls.r)

    def test_figures_are_those_of_the_house_solved_by_itself(self):
        new, same = self.study.alternatives
        after = solve(apply(self.job, self.job.alternatives[0]))
        self.assertAlmostEqual(new.cooling_w, after.loads.house_cooling_w, places=6)
        np.testing.assert_allclose(new.rooms_heating_w, after.loads.heating_w)
        self.assertAlmostEqual(same.cooling_w, self.r.loads.house_cooling_w, places=6)
        self.assertAlmostEqual(same.run_hours, self.study.now.run_hours, places=6)

    def test_demand_is_the_loads_of_a_whole_solve(self):
        np.testing.assert_allclose(need(demo()).loads.sensible_w, demo_results().loads.sensible_w)

    def test_the_chosen_unit_is_the_jobs_own(self):
        now, chosen = self.study.now, self.r.main.equipment.chosen
        self.assertAlmostEqual(now.chosen.season.year("power_kwh"), chosen.season.year("power_kwh"))
        self.assertAlmostEqual(now.kwh, chosen.season.electric_kwh)
        self.assertEqual(now.unit.id, chosen.unit.id)

    def test_the_ranking_is_by_effect_and_every_one_helps(self):
        scores = [
            max(e.cooling_w, 0) / self.study.now.cooling_w + max(e.heating_w, 0) / self.study.now.heating_w
            for e in self.study.ranking
        ]
        self.assertEqual(scores, sorted(scores, reverse=True))
        self.assertEqual(self.study.ranking[0].measure.key, "air")  # 7.5 ACH50
        for e in self.study.ranking:
            self.assertGreater(max(e.cooling_w, e.heating_w), 5)

    def test_what_is_done_already_is_not_offered(self):
        tight = replace_part(demo(), "leakage", ach50=2.0)
        self.assertFalse(worth_trying(tight, "air"))
        self.assertFalse(worth_trying(box(), "duct-wrap"))
        self.assertTrue(all(worth_trying(demo(), m.key) for m in MEASURES if m.key in ("air", "glass", "blinds")))

    def test_cancelling_and_houses_without_rooms(self):
        self.assertIsNone(study(self.r, cancelled=lambda: True))
        empty = changed(box(), "", rooms=(), openings=())
        found = study(solve(empty))
        self.assertEqual((found.ranking, found.now.cooling_w), ((), 0.0))

    def test_unknown_measures_are_named(self):
        with self.assertRaisesRegex(JobValueError, "magic"):
            measure("magic")
        self.assertIn("m²K/W", measure("attic", "si").name)


if __name__ == "__main__":
    unittest.main()
