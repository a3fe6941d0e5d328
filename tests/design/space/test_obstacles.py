"""Beams, posts, pipes and drains: what goes through them is found, and what Murvan lays goes beneath or round."""

import tempfile
import unittest
from pathlib import Path

from murvan.design import solve
from murvan.design.drawing import add_obstacle, obstacle_sides_m, set_obstacle_side
from murvan.design.lay import whole_layouts
from murvan.design.space import section
from murvan.design.space.clashes import legs_of
from murvan.design.space.obstacles import prisms, struck
from murvan.kinds.obstacles import OBSTACLES
from murvan.model import JobValueError, load_job, replace, save_job
from murvan.model.edit import changed
from murvan.model.house import Obstacle, floor_heights
from tests.houses import demo
from tests.judge.houses import DRAWN, box_at
from tests.judge.rules import judged


def beam(outline, low, high, storey="g", kind="beam"):
    return Obstacle(id="o1", name="Girder", storey=storey, outline_m=outline, kind=kind, low_m=low, high_m=high)


def across_crawl(y=5.63):
    """A crawl space with a girder under its joists from side to side."""
    job = DRAWN["crawl"]()
    s = job.storeys[0]
    xs = [q[0] for r in job.rooms for q in r.outline_m]
    low = -s.floor_structure.depth_m - 0.2
    return changed(job, job.name, obstacles=(beam(box_at(min(xs), y - 0.08, max(xs), y + 0.08), low, 0.2),))


def found(r, rule):
    return [f for f in r.findings if f.rule.id == rule]


class Struck(unittest.TestCase):
    def test_a_run_through_a_beam_and_one_beside_it(self):
        job = demo()
        run = next(r for r in solve(job).laid if r.tag == "A2")
        (x, y), level = run.path_m[0], next(j for j in job.design.joints if j.id == run.end).height_m
        storey = next(j for j in job.design.joints if j.id == run.end).storey
        end = run.path_m[1]
        middle = ((x + end[0]) / 2, (y + end[1]) / 2)
        spot = box_at(middle[0] - 0.1, middle[1] - 0.1, middle[0] + 0.1, middle[1] + 0.1)
        for off, hits in ((0.0, True), (-1.0, False), (1.0, False)):
            one = changed(job, job.name, obstacles=(beam(spot, level - 0.1 + off, 0.2, storey),))
            self.assertEqual("A2" in {f.hit.place.split()[-1] for f in found(solve(one), "duct-beam")}, hits, off)
        aside = beam(tuple((px + 3.0, py) for px, py in spot), level - 0.1, 0.2, storey)
        legs = legs_of(solve(job).laid, job.design.joints, job.storeys)
        one = changed(job, job.name, obstacles=(aside,))
        self.assertNotIn("A2", {s.run.tag for s in struck(legs, prisms(one))})

    def test_a_unit_in_a_post(self):
        job = demo()
        unit = job.design.indoor_units[0]
        x, y = unit.position_m
        post = beam(box_at(x - 0.05, y - 0.05, x + 0.05, y + 0.05), 0.0, 2.0, unit.storey, "post")
        hits = found(solve(changed(job, job.name, obstacles=(post,))), "unit-beam")
        self.assertIn("Girder (post)", hits[0].text("ip"))
        self.assertEqual(found(solve(job), "unit-beam"), [])


class Laid(unittest.TestCase):
    def test_ducts_dip_beneath_a_girder_and_every_room_has_air(self):
        job = across_crawl()
        low, foot = min(x.low_m for x in prisms(job)), floor_heights(job.storeys)["g"]
        for way in whole_layouts(job):
            self.assertEqual(judged(way.results), {}, way.scheme)
            self.assertEqual(way.unreached, ())
            joint = {j.id: j for j in way.job.design.joints}
            beneath = [r for r in way.results.laid if joint[r.end].height_m < -0.55]
            self.assertTrue(beneath or way.scheme == "interior", way.scheme)
            for r in beneath:
                top = foot + joint[r.end].height_m + (r.diameter_m or r.height_m) / 2
                self.assertLess(top, low)

    def test_a_unit_is_not_stood_on_a_post(self):
        job = DRAWN["two_storeys"]()
        free = whole_layouts(job)[0].job
        unit = free.design.indoor_units[0]
        x, y = unit.position_m
        post = beam(box_at(x - 0.05, y - 0.05, x + 0.05, y + 0.05), 0.0, 2.2, unit.storey, "post")
        best = whole_layouts(changed(job, job.name, obstacles=(post,)))[0]
        self.assertEqual(found(best.results, "unit-beam"), [])
        self.assertNotEqual(best.job.design.indoor_units[0].position_m, (x, y))


class Drawn(unittest.TestCase):
    def test_what_is_drawn_is_known_by_its_shape(self):
        job = demo()
        for outline, kind in (
            (box_at(1, 1, 1.1, 1.1), "post"),
            (box_at(1, 1, 1.1, 4), "drain"),
            (box_at(1, 1, 1.3, 4), "beam"),
        ):
            done = add_obstacle(job, "ground", outline).job
            x = done.obstacles[-1]
            tall = next(s.height_m for s in job.storeys if s.id == "ground")
            self.assertEqual(x.kind, kind)
            self.assertAlmostEqual(x.low_m + x.high_m, tall)
            self.assertEqual(x.low_m == 0, OBSTACLES[kind].upright)

    def test_a_typed_side_keeps_its_middle(self):
        job = add_obstacle(demo(), "ground", box_at(1, 1, 1.1, 4)).job
        x = set_obstacle_side(job, job.obstacles[0].id, "long", 2.0).obstacles[0]
        self.assertEqual([round(v, 6) for v in obstacle_sides_m(x)], [0.1, 2.0])
        self.assertAlmostEqual(sum(q[1] for q in x.outline_m) / 4, 2.5)
        with self.assertRaises(JobValueError):
            set_obstacle_side(job, job.obstacles[0].id, "wide", 0.0)

    def test_the_model_refuses_what_is_no_obstacle(self):
        job = changed(demo(), "x", obstacles=(beam(box_at(1, 1, 2, 2), 1.0, 0.2, "ground"),))
        for field, value in (("kind", "cloud"), ("high_m", 0.0), ("low_m", float("nan")), ("storey", "none")):
            with self.assertRaises(JobValueError, msg=field):
                replace(job, "obstacles", "o1", **{field: value})

    def test_it_stands_in_the_section_and_goes_with_the_file(self):
        job = changed(demo(), "x", obstacles=(beam(box_at(3, 2, 5, 2.2), 1.9, 0.3, "ground"),))
        cut = section(job, solve(job).laid, ((4.0, 0.0), (4.0, 6.0)))
        (o,) = cut.obstacles
        self.assertEqual([round(v, 6) for v in (*o.span, o.solid.high_m - o.solid.low_m)], [2.0, 2.2, 0.3])
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.murvan"
            save_job(job, path)
            self.assertEqual(load_job(path).obstacles, job.obstacles)


if __name__ == "__main__":
    unittest.main()
