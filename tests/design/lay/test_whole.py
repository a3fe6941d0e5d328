"""Whole houses laid in one go: zones of their own, several units, wings of unlike height, what a layout says and costs."""

import unittest
from functools import lru_cache

from murvan.design import solve
from murvan.design.lay import whole_layouts
from murvan.design.parts import duct_cost
from murvan.design.propose import every_way, proposals, taken_up
from murvan.design.propose.installing import PER_FACE
from murvan.design.space import blocks
from murvan.documents.layouts_json import layouts_data
from murvan.model.design import Zone
from murvan.model.edit import changed, with_design
from murvan.model.prices import PriceBook, PriceItem
from tests.judge.houses import DRAWN
from tests.judge.rules import judged


@lru_cache
def crawl_laid():
    return whole_layouts(DRAWN["crawl"]())


class Zones(unittest.TestCase):
    def test_each_zone_has_ducts_and_a_damper_of_its_own(self):
        job = DRAWN["crawl"]()
        sleep = tuple(r.id for r in job.rooms if r.use == "bedroom")
        live = tuple(r.id for r in job.rooms if r.id not in sleep)
        zones = (Zone(id="1", name="Living", rooms=live), Zone(id="2", name="Sleeping", rooms=sleep))
        x = whole_layouts(with_design(job, zones=zones))[0]
        self.assertEqual([(z.name, z.rooms) for z in x.job.design.zones], [(z.name, z.rooms) for z in zones])
        self.assertNotIn(
            "zone-static", {f.rule.id for f in x.results.findings}, "held by a stop, or a turned-down blower"
        )
        self.assertEqual({r.zone_damper for r in x.job.design.runs} - {None}, {"1", "2"})
        self.assertNotIn("zone-past", {f.rule.id for f in x.results.findings})
        over = {r.id: r.parent for r in x.results.laid}
        zone_of = {room: z.id for z in zones for room in z.rooms}
        faces = {f.id: zone_of[f.room] for f in x.job.design.registers if f.side == "supply"}
        roots: dict[str, set[str]] = {}
        for r in x.results.laid:
            if r.register_id in faces:
                at = r.id
                while over[at] is not None:
                    at = over[at]
                roots.setdefault(at, set()).add(faces[r.register_id])
        self.assertTrue(all(len(z) == 1 for z in roots.values()), roots)

    def test_tags_are_given_once(self):
        for x in crawl_laid():
            tags = [r.tag for r in x.job.design.runs]
            self.assertEqual(len(tags), len(set(tags)))


class SeveralUnits(unittest.TestCase):
    def test_a_unit_each_storey_hangs_flat_and_is_laid_round_the_others(self):
        job = DRAWN["half_storey"]()
        two = next(p for p in proposals(job) if p.kind == "storeys")
        found = whole_layouts(taken_up(job, two))
        best = found[0]
        self.assertEqual(judged(best.results), {})
        data = layouts_data(job, found, 0.0)["layouts"][0]
        units = [u for u in best.job.design.indoor_units if u.kind == "ducted"]
        self.assertEqual([s["id"] for s in data["systems"]], [u.id for u in units])
        self.assertGreater(len(units), 1)
        for s in data["systems"]:
            self.assertGreaterEqual(s["dampers_open"], 1, s)
            self.assertLessEqual(s["static_pa"], s["limit_pa"])
        tags = [r.tag for r in best.job.design.runs]
        self.assertEqual(len(tags), len(set(tags)))
        floors = {s.id: s for s in best.job.storeys}
        for b in blocks(best.job):
            unit = next(u for u in units if u.id == b.owner)
            if b.kind == "unit" and unit.way in ("left", "right"):
                self.assertLess(b.high[2] - b.low[2], 0.35)
                self.assertAlmostEqual(
                    b.high[2], _floor(best.job, unit.storey) + floors[unit.storey].height_m - 0.02, 2
                )

    def test_its_price_is_that_of_all_units(self):
        job = DRAWN["half_storey"]()
        two = next(p for p in proposals(job) if p.kind == "storeys")
        x = whole_layouts(taken_up(job, two))[0]
        self.assertAlmostEqual(x.price.money, duct_cost(x.results.cuts.pieces, job.prices).money, 3)


def _floor(job, storey):
    from murvan.model.house import floor_heights

    return floor_heights(job.storeys)[storey]


class Said(unittest.TestCase):
    def test_price_and_what_it_is_made_of(self):
        x = crawl_laid()[0]
        data = layouts_data(x.job, crawl_laid(), 0.0)["layouts"][0]
        priced = data["priced"]
        by_hand = sum(p["material"] + priced["money_per_hour"] * p["hours"] for p in priced["lines"])
        self.assertAlmostEqual(data["price"], by_hand)
        self.assertEqual(data["clashes"], 0)
        self.assertGreaterEqual(data["dampers_open"], 1)

    def test_ways_rank_by_the_prices_of_the_job(self):
        job = DRAWN["crawl"]()
        dear = PriceBook(items=(PriceItem(id="galvanised", money=400.0, hours=0.0),))
        found = whole_layouts(changed(job, job.name, prices=dear))
        for x in found:
            self.assertGreater(x.price.money, 20000, x.scheme)
        self.assertEqual(list(found), sorted(found, key=lambda x: x.rank))


class Outline(unittest.TestCase):
    def test_a_proposal_prices_its_ducts_about_as_they_are_laid(self):
        """The outline is a mean of seven houses: within a third of what each one's layout comes to."""
        for name in ("crawl", "low_attic"):
            job = DRAWN[name]()
            p = every_way(job, kinds=("ducted",))[0]
            outline = sum(x.material + 95.0 * x.hours for x in p.work.lines if x.price.id in PER_FACE)
            laid = (crawl_laid() if name == "crawl" else whole_layouts(job))[0].price.money
            self.assertLess(abs(outline / laid - 1), 0.4, (name, outline, laid))


class Wings(unittest.TestCase):
    def test_the_low_wing_has_its_air_by_a_chase_at_the_wall_they_share(self):
        job = DRAWN["split_level"]()
        x = whole_layouts(job)[0]
        self.assertEqual((x.short, x.unreached), ((), ()))
        wall = max(q[0] for r in job.rooms if r.storey == "l" for q in r.outline_m)
        joints = {j.id: j for j in x.job.design.joints}
        down = [r for r in x.results.laid if {joints[r.start].storey, joints[r.end].storey} == {"l", "h"}]
        self.assertTrue(down)
        for r in down:
            self.assertLess(abs(joints[r.start].position_m[0] - wall), 0.35, r.tag)


class Vaults(unittest.TestCase):
    def test_no_duct_stands_out_of_the_wall_of_a_vault(self):
        for x in whole_layouts(DRAWN["vaulted"]()):
            self.assertEqual(judged(x.results), {}, x.scheme)
            self.assertTrue(solve(x.job).network.converged)


if __name__ == "__main__":
    unittest.main()
