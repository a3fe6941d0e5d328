"""Where ducts lie: through units, in narrow bays, up through rooms, under heads, in garages."""

import unittest

from murvan.design import solve
from murvan.design.punch.space_checks import DRYWALL_M
from murvan.design.space import blocks
from murvan.model import replace
from murvan.model.edit import changed, insert
from murvan.model.house import MechanicalPlace, Structure
from murvan.units import FOOT, INCH
from tests.houses import demo


def found(job, rule):
    return [f for f in solve(job).findings if f.rule.id == rule]


class Through(unittest.TestCase):
    def test_a_return_through_the_supply_plenum(self):
        self.assertEqual(found(demo(), "duct-unit"), [])
        box = next(b for b in blocks(demo()) if b.kind == "supply")
        middle = tuple((a + b) / 2 for a, b in zip(box.low[:2], box.high[:2], strict=True))
        run = next(r for r in demo().design.runs if r.id == "R1")
        level = next(j for j in demo().design.joints if j.id == run.end).height_m
        self.assertTrue(box.low[2] < level < box.high[2], "the demo's plenum reaches its ducts")
        (hit,) = found(replace(demo(), "runs", "R1", corners_m=(middle,)), "duct-unit")
        self.assertIn("R1 goes through Unit, supply plenum", hit.text("ip"))

    def test_a_duct_that_passes_beside_it_is_none(self):
        box = next(b for b in blocks(demo()) if b.kind == "supply")
        beside = (box.low[0] - 1.5, box.low[1] - 1.5)
        self.assertEqual(found(replace(demo(), "runs", "R1", corners_m=(beside,)), "duct-unit"), [])


class Reach(unittest.TestCase):
    def test_a_duct_over_its_plenum_and_the_plenum_made_to_reach_it(self):
        self.assertEqual(found(demo(), "plenum-reach"), [])
        short = replace(demo(), "plenums", "plenum-supply", height_m=0.7)
        (hit,) = found(short, "plenum-reach")
        self.assertIn("SA1 starts", hit.text("ip"))
        self.assertEqual(found(hit.hit.fix(short), "plenum-reach"), [])


class Bays(unittest.TestCase):
    def test_a_duct_wider_than_its_bay(self):
        """A2 goes up and down the plan; joists 16 in apart leave 14.5 in."""
        job = replace(
            demo(), "storeys", "ground", ceiling_structure=Structure(runs="y", depth_m=0.3), ceiling_space_m=0.0
        )
        self.assertEqual([f for f in found(job, "bay-narrow") if f.hit.at.id == "A2"], [])
        wide = replace(
            job,
            "runs",
            "A2",
            shape="rectangular",
            diameter_m=None,
            width_m=16 * INCH,
            height_m=6 * INCH,
            material="galvanised",
        )
        (hit,) = (f for f in found(wide, "bay-narrow") if f.hit.at.id == "A2")
        self.assertAlmostEqual(hit.hit.limit.value, 16 * INCH - 1.5 * INCH)


class Risers(unittest.TestCase):
    def riser(self, at):
        """A3 goes up into the upper storey from a place."""
        job = demo()
        run = next(r for r in job.design.runs if r.id == "A3")
        changes = {run.start: {"position_m": at}, run.end: {"position_m": at, "storey": "upper", "height_m": 1.5}}
        joints = tuple(changed(j, j.id, **changes.get(j.id, {})) for j in job.design.joints)
        return changed(job, job.name, design=changed(job.design, "Design", joints=joints))

    def test_in_the_middle_of_a_room_and_at_its_wall(self):
        job = demo()
        living = next(r for r in job.rooms if r.name == "Living")
        xs, ys = zip(*living.outline_m, strict=True)
        middle = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
        (hit,) = found(self.riser(middle), "riser-room")
        self.assertIn("goes up through Living", hit.text("ip"))
        self.assertEqual(found(self.riser((min(xs) + 0.2, middle[1])), "riser-room"), [])


class Soffits(unittest.TestCase):
    def soffit(self, deep_m):
        job = demo()
        outline = ((1.0, 1.0), (3.0, 1.0), (3.0, 1.6), (1.0, 1.6))
        new = MechanicalPlace(
            id="low", name="Soffit 1", storey="ground", outline_m=outline, kind="soffit", clear_m=deep_m
        )
        return insert(job, "places", new)

    def test_what_is_left_to_walk_under(self):
        """9 ft less 2 ft and an inch of board are 6'11"; less 3 ft 5'11"."""
        self.assertEqual(found(self.soffit(2 * FOOT), "soffit-low"), [])
        (hit,) = found(self.soffit(3 * FOOT), "soffit-low")
        self.assertAlmostEqual(hit.hit.measured.value, 6 * FOOT - DRYWALL_M, 3)


class Garages(unittest.TestCase):
    def test_a_duct_over_the_garage_is_a_caution_once(self):
        job = demo()
        garage = next(s for s in job.spaces if s.kind == "garage")
        xs, ys = zip(*garage.outline_m, strict=True)
        middle = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
        self.assertEqual(found(job, "duct-garage"), [])
        ends = {r.end for r in job.design.runs if r.tag in ("P1", "P2")}
        joints = tuple(changed(j, j.id, position_m=middle) if j.id in ends else j for j in job.design.joints)
        moved = changed(job, job.name, design=changed(job.design, "Design", joints=joints))
        (hit,) = found(moved, "duct-garage")
        self.assertIn("P1", hit.text("ip"))
        self.assertIn("the local code decides", hit.rule.basis)


if __name__ == "__main__":
    unittest.main()
