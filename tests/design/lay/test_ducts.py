"""Ducts laid from the unit: a tree that serves every register, sized and proved by the air circuit."""

import json
import unittest

from shapely.geometry import Polygon

from murvan.design import solve
from murvan.design.lay import lay_registers, layouts, whole_layouts
from murvan.design.lay.place import place_unit
from murvan.design.lay.proving import ENOUGH
from murvan.design.units.pick import pick_unit
from murvan.documents.layouts_json import layouts_data
from murvan.model import replace
from murvan.model.errors import JobValueError
from murvan.model.files import job_from_raw, job_text
from tests.design.lay.test_registers import bare, laid, laid_out
from tests.design.propose.test_proposals import random_house
from tests.houses import box

SAMPLES = ("demo", "bungalow", "narrow")


class TestLaid(unittest.TestCase):
    def each(self):
        for which in SAMPLES:
            for x in laid_out(which):
                yield which, x

    def test_up_to_five_ways_the_best_first(self):
        for which in SAMPLES:
            ways = {x.scheme for x in laid_out(which)}
            self.assertIn(len(ways), range(1, 6))
            if which != "narrow":  # three storeys of 20 ft: little room beside a trunk
                self.assertLessEqual({"trunk", "tree"}, ways)
            self.assertNotEqual(laid_out(which)[0].scheme, "interior", "it moves the registers")
            self.assertEqual(list(laid_out(which)), sorted(laid_out(which), key=lambda x: x.rank))

    def test_no_way_with_ducts_in_each_other_where_there_is_one_without(self):
        for which, x in self.each():
            named = sum(f.rule.id == "duct-clash" for f in x.results.findings)
            self.assertEqual((x.clashes, named), (0, 0), (which, x.scheme))

    def test_every_register_and_grille_hangs_on_one_run(self):
        for which, x in self.each():
            d = x.job.design
            self.assertEqual(
                sorted(r.register_id for r in d.runs if r.register_id), sorted(r.id for r in d.registers), which
            )

    def test_the_best_gives_every_room_its_air_within_the_blower(self):
        for which in SAMPLES:
            x = laid_out(which)[0]
            self.assertIsNotNone(x.results.network, which)
            self.assertEqual(x.short, (), which)
            self.assertLessEqual(x.static_pa, x.limit_pa)
            for k, room in enumerate(x.job.rooms):
                want = float(x.results.room_m3_s[k])
                self.assertGreaterEqual(x.results.predicted_m3_s[room.id], ENOUGH * want - 1e-9, (which, room.name))

    def test_no_shut_room_stands_too_high(self):
        """Where an undercut is not enough a jump duct is fitted, and said."""
        fitted = 0
        for which, x in self.each():
            n = x.results.network
            for room, was in zip(x.job.rooms, laid(which).rooms, strict=True):
                self.assertLess(abs(n.room_pressure_pa[room.id]), 3.0 * 1.005, (which, room.name))
                if room.transfer != was.transfer:
                    fitted += 1
                    self.assertEqual(room.transfer.kind, "jump")
                    self.assertIn(room.name, x.why)
        self.assertGreater(fitted, 5)

    def test_what_is_short_is_named(self):
        for which, x in self.each():
            for name in x.short[:5]:
                self.assertIn(name, x.why, which)

    def test_it_saves_and_solves_to_the_same(self):
        for _, x in self.each():
            again = solve(job_from_raw(json.loads(job_text(x.job))))
            self.assertAlmostEqual(float(again.systems["unit1"].blower.external_static_pa[0]), x.static_pa, 3)

    def test_drawn_again_nothing_is_left_of_the_first(self):
        first = laid_out("bungalow")[0]
        again = layouts(first.results, "unit1")[0]
        self.assertEqual(len(again.job.design.runs), len(first.job.design.runs))
        self.assertEqual(len(again.job.design.plenums), 2)

    def test_no_rectangle_flatter_than_four_to_one(self):
        for which, x in self.each():
            for run in x.job.design.runs:
                if run.shape == "rectangular":
                    self.assertLessEqual(run.width_m, 4.4 * run.height_m, (which, run.tag))

    def test_in_one_go_from_a_bare_house(self):
        for which in SAMPLES:
            x = whole_layouts(bare(which))[0]
            self.assertEqual(x.short, (), which)

    def test_wherever_the_unit_stands_every_room_gets_its_air(self):
        """In a closet, a crawl space, an attic, a boiler room, a basement, on every storey. From the ground floor of the
        narrow house joists of 7 1/4 in hold no return for the whole house: that is said."""
        said = []
        for which in SAMPLES:
            job = bare(which)
            spots = [(p.storey, p.outline_m) for p in job.places]
            spots += [(s.id, next(r.outline_m for r in job.rooms if r.storey == s.id)) for s in job.storeys]
            for storey, outline in spots:
                at = Polygon(outline).representative_point()
                x = whole_layouts(job, ((at.x, at.y), storey))[0]
                self.assertEqual((x.short, x.unreached), ((), ()), (which, storey))
                wrong = {f.rule.id for f in x.results.findings} & {"duct-across", "duct-clear", "duct-depth"}
                if x.tight:
                    self.assertIn("deeper than", x.why)
                    said.append((which, storey, wrong))
                else:
                    self.assertEqual(wrong, set(), (which, storey))
        self.assertEqual(said, [("narrow", "ground", {"duct-depth"})])

    def test_each_is_scored_by_heat_noise_and_room_taken_too(self):
        for which in SAMPLES:
            found = laid_out(which)
            for x in found:
                runs = x.results.systems["unit1"].duct_heat.runs.values()
                outside = [r.heating_w for r in runs if r.place in ("attic", "crawl", "garage")]
                self.assertAlmostEqual(x.heat_w, sum(outside), 6)
                heard = [t.noise_nc for t in x.results.terminals.values() if t.noise_nc is not None]
                self.assertEqual(x.loudest_nc, max(heard))
                self.assertEqual(x.taken_m2 > 0, any(r.framed for r in x.results.laid), (which, x.name))
            ranks = [x.rank for x in found]
            self.assertEqual(ranks, sorted(ranks))
        self.assertTrue(any(x.taken_m2 > 0 for x in laid_out("narrow")))

    def test_json(self):
        job = bare("bungalow")
        made = layouts_data(job, laid_out("bungalow"), 0.4)
        data = json.loads(json.dumps(made, allow_nan=False))
        self.assertEqual([r["id"] for r in data["layouts"][0]["rooms"]], [r.id for r in job.rooms])
        served = {r.room for r in laid_out("bungalow")[0].job.design.registers if r.side == "supply"}
        self.assertEqual({u["room"] for u in data["layouts"][0]["unreached"]}, {r.id for r in job.rooms} - served)

    def test_random_houses(self):
        """A tree to every face, through nothing it may not, and every room that is served within 5 % of its air."""
        for seed in (*range(8), *range(8, 60, 3)):
            job = pick_unit(random_house(seed), "unit1", "torrow-cx-30")
            job = lay_registers(solve(job), "unit1")
            # every way for the first five, the first two for the others
            for x in layouts(solve(job), "unit1", lambda k, of, seed=seed: seed < 5 or k < 2):
                self.assertIsNotNone(x.results.network, (seed, x.scheme))
                runs = x.job.design.runs
                self.assertEqual(len({r.end for r in runs}), len(runs), seed)
                self.assertEqual(sum(r.register_id is not None for r in runs), len(x.job.design.registers), seed)
                wrong = {f.rule.id for f in x.results.findings} & {
                    "duct-across",
                    "duct-clear",
                    "dead-end",
                    "takeoff-fit",
                }
                self.assertEqual((wrong, x.short, x.unreached), (set(), (), ()), (seed, x.scheme))
                want, got = x.results.room_m3_s, x.results.predicted_m3_s
                for room, w in zip(x.job.rooms, want, strict=True):
                    if w > 0:
                        self.assertAlmostEqual(got[room.id] / w, 1.0, delta=0.05, msg=(seed, x.scheme, room.id))

    def test_a_house_gets_ducts_with_the_unit_that_murvan_picks(self):
        """Nothing is refused, and no shut room stands over the limit."""
        for seed in range(6):
            for x in whole_layouts(random_house(seed)):
                n = x.results.network
                self.assertIsNotNone(n, (seed, x.scheme))
                self.assertLess(max(map(abs, n.room_pressure_pa.values())), 3.0 * 1.005, (seed, x.scheme))


class TestRefused(unittest.TestCase):
    def test_in_words(self):
        job = bare("demo")
        with self.assertRaisesRegex(JobValueError, "Pick a unit"):
            layouts(solve(replace(job, "indoor_units", "unit1", unit=None)), "unit1")
        with self.assertRaisesRegex(JobValueError, "ducted unit"):
            layouts(solve(replace(job, "indoor_units", "unit1", kind="wall", unit=None)), "unit1")
        with self.assertRaisesRegex(JobValueError, "no storey 'attic'"):
            whole_layouts(job, ((1.0, 1.0), "attic"))

    def test_a_unit_without_a_place_takes_one(self):
        job = place_unit(replace(bare("bungalow"), "indoor_units", "unit1", storey=None), "unit1")
        self.assertIsNotNone(job.design.indoor_units[0].storey)

    def test_what_is_missing_is_laid_along(self):
        """Neither place nor registers: one call gives both, and every room its air."""
        job = replace(bare("bungalow"), "indoor_units", "unit1", storey=None)
        self.assertEqual(job.design.registers, ())
        x = layouts(solve(job), "unit1", lambda k, of: k < 1)[0]
        self.assertIsNotNone(x.job.design.indoor_units[0].storey)
        self.assertEqual({r.side for r in x.job.design.registers}, {"supply", "return"})
        self.assertEqual((x.short, x.unreached), ((), ()))

    def test_one_room(self):
        self.assertEqual(
            whole_layouts(pick_unit(box(), "unit1", "torrow-cx-24"))[0].job.design.indoor_units[0].id, "unit1"
        )


if __name__ == "__main__":
    unittest.main()
