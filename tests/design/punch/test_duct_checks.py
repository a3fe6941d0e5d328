"""Each rule of how ducts are put together: where it fires, what it says, where it keeps quiet."""

import unittest
from math import pi

from murvan.design import solve
from murvan.design.lay.registers import kind_here
from murvan.model import Transfer, replace, with_design
from murvan.model.edit import changed
from tests.houses import INCH, box, demo, demo_results

OWN = {"duct-place", "register-run", "unit-unducted", "duct-dead-end", "duct-wider", "duct-flat", "room-over"}


def found(job, rule):
    return [f for f in solve(job).findings if f.rule.id == rule]


class Quiet(unittest.TestCase):
    def test_the_demo_and_an_empty_box_have_none(self):
        for r in (demo_results(), solve(box())):
            self.assertEqual(OWN & {f.rule.id for f in r.findings}, set())


class OnePlace(unittest.TestCase):
    """Where ducts run as said, where they lie, and which side their registers are on are one fact."""

    def test_said_under_a_slab(self):
        job = replace(demo(), "storeys", "ground", duct_place="crawl")
        (hit,) = found(job, "duct-place")
        self.assertIn("in the crawl space, and Ground stands on a slab", hit.text("ip"))
        self.assertEqual(found(hit.hit.fix(job), "duct-place"), [])

    def test_they_lie_elsewhere(self):
        job = replace(demo(), "storeys", "upper", duct_place="inside")
        (hit,) = found(job, "duct-place")
        self.assertIn("lie in the attic for the most part", hit.text("ip"))
        mended = hit.hit.fix(job)
        self.assertEqual(mended.storeys, demo().storeys)

    def test_a_floor_register_on_a_run_over_the_ceiling(self):
        face = next(x for x in demo().design.registers if x.kind == "ceiling")
        (hit,) = found(replace(demo(), "registers", face.id, kind="floor"), "register-run")
        self.assertEqual(hit.hit.at.id, face.id)
        self.assertIn("ends over the ceiling", hit.text("ip"))

    def test_registers_go_by_what_the_floor_stands_on_not_by_what_was_typed(self):
        """A raised floor on 'auto' is a crawl space; registers of ducts under it stand in the floor."""
        for foundation, floor, place, kind in (
            ("auto", "floor-r19", "crawl", "floor"),
            ("crawl", "slab-r5", "crawl", "floor"),
            ("auto", "slab-r5", "crawl", "sidewall"),
            ("crawl", "slab-r5", "attic", "ceiling"),
        ):
            job = changed(box(), "box", foundation=foundation, floor_construction=floor)
            job = replace(job, "storeys", "g", duct_place=place)
            self.assertEqual(kind_here(job, job.rooms[0]), kind, (foundation, floor, place))


class Fires(unittest.TestCase):
    def one(self, job, rule):
        hits = found(job, rule)
        self.assertEqual(len(hits), 1, [f.text("ip") for f in hits])
        return hits[0]

    def test_a_unit_without_ducts(self):
        job = with_design(demo(), runs=(), ticks=(), readings=())
        f = self.one(job, "unit-unducted")
        self.assertEqual((f.severity, f.hit.at.kind), ("fails", "indoor_unit"))

    def test_a_run_without_its_register(self):
        job = replace(demo(), "runs", "A1", register_id=None)
        f = self.one(job, "duct-dead-end")
        self.assertEqual(f.hit.at.id, "A1")
        self.assertIn("supply register", f.text("ip"))

    def test_a_branch_larger_than_its_trunk(self):
        (run,) = (x for x in demo_results().runs.values() if x.run.id == "A1")
        self.assertIsNotNone(run.run.parent)
        job = replace(demo(), "runs", "A1", diameter_m=40 * INCH)
        f = self.one(job, "duct-wider")
        self.assertIn(" that feeds it", f.text("ip"))
        self.assertNotEqual(f.text("ip"), f.text("si"))

    def test_thirty_by_three(self):
        trunk = next(x for x in demo().design.runs if x.shape == "rectangular")
        f = self.one(replace(demo(), "runs", trunk.id, width_m=30 * INCH, height_m=3 * INCH), "duct-flat")
        self.assertIn("30 in by 3 in, 10.0 to 1", f.text("ip"))
        self.assertEqual(
            found(replace(demo(), "runs", trunk.id, width_m=24 * INCH, height_m=6 * INCH), "duct-flat"), []
        )

    def test_a_room_that_gets_what_others_should_and_balancing_mends_it(self):
        dampers = [x.id for x in demo().design.runs if x.damper is not None and x.side == "supply"]
        most = dampers[1:]
        job = with_design(
            demo(), runs=tuple(changed(x, damper=0.0) if x.id in most else x for x in demo().design.runs)
        )
        hits = found(job, "room-over")
        self.assertTrue(hits)
        r = solve(job)
        for f in hits:
            i = next(k for k, x in enumerate(job.rooms) if x.id == f.hit.at.id)
            self.assertGreater(r.predicted_m3_s[f.hit.at.id], 1.2 * float(r.room_m3_s[i]))
        self.assertEqual(found(hits[0].hit.fix(job), "room-over"), [])

    def test_a_jump_duct_that_keeps_the_door_below_its_limit(self):
        """Three bedrooms without a gap under their doors; a stocked duct is taken; it is enough, and three tenths of it would not be."""
        job = demo()
        for room in ("bed1", "bed2", "bed4"):
            job = replace(job, "rooms", room, transfer=Transfer(undercut_m=0.002))
        hits = found(job, "door-pressure")
        self.assertEqual({f.hit.at.id for f in hits}, {"bed1", "bed2", "bed4"})
        self.assertIn("Fit a jump duct, ", hits[0].fix_text("ip"))
        for f in hits:
            job = f.hit.fix(job)
        self.assertEqual(found(job, "door-pressure"), [])
        for room in ("bed1", "bed2", "bed4"):
            fitted = next(r.transfer for r in job.rooms if r.id == room)
            round_in = (4 * fitted.area_m2 / pi) ** 0.5 / INCH
            self.assertAlmostEqual(round_in, round(round_in), places=9)
            smaller = changed(fitted, area_m2=0.3 * fitted.area_m2)
            again = solve(replace(job, "rooms", room, transfer=smaller)).network.room_pressure_pa[room]
            self.assertGreater(again, 3.0)


if __name__ == "__main__":
    unittest.main()
