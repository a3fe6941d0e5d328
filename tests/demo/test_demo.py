"""The shipped demo is what its makers make, and its figures agree with each other."""

import json
import unittest
from math import sqrt
from pathlib import Path

from murvan.demo import SAMPLES, demo_job, demo_path
from murvan.design import solve
from murvan.design.house.geometry import wall_points
from murvan.field import verdict
from murvan.model.routes import laid_runs
from tests.houses import FT, demo, demo_results
from tools.demo.make import MAKERS
from tools.demo.sorrel_lane_readings import FAULT, finished_job


class TestOthers(unittest.TestCase):
    def test_shipped_files_are_what_their_makers_make(self):
        for s in SAMPLES:
            with self.subTest(s.key):
                self.assertEqual(demo_job(s.key), MAKERS[s.key]())
                self.assertEqual(demo_job(s.key).name, s.name)
                self.assertEqual(demo_job(s.key).town, "Brindlewick")

    def test_nothing_fails_on_the_plan(self):
        for s in SAMPLES:
            wrong = [f.text("ip") for f in solve(demo_job(s.key)).findings if f.rule.station == 1]
            self.assertLessEqual(len(wrong), 1, wrong)
            self.assertTrue(all("assumed by age" in w for w in wrong))

    def test_each_carries_a_whole_design_that_gives_every_room_its_air(self):
        for s in SAMPLES:
            job = demo_job(s.key)
            r, d = solve(job), demo_job(s.key).design
            served = {x.register_id for x in d.runs if x.register_id}
            self.assertEqual(served, {x.id for x in d.registers}, s.key)
            self.assertTrue(r.network.converged)
            for k, room in enumerate(job.rooms):
                want = float(r.room_m3_s[k])
                self.assertGreaterEqual(r.predicted_m3_s[room.id], 0.9 * want - 1e-9, (s.key, room.name))
            if s.key != "demo":
                self.assertEqual([f.text("ip") for f in r.findings if f.severity == "fails"], [], s.key)
                self.assertEqual((d.readings, job.options), ((), ()))

    def test_the_bungalow(self):
        job = demo_job("bungalow")
        r = solve(job)
        g = r.geometry
        i = {x.name: k for k, x in enumerate(job.rooms)}
        self.assertAlmostEqual(g.total_area_m2 / FT**2, 42 * 24 + 16 * 14, places=1)
        self.assertAlmostEqual(sum(g.floors_m2["crawl"]), g.total_area_m2, places=3)
        outside = sum(w.length_m for w in g.walls if w.other == "outdoors")
        self.assertAlmostEqual(outside / FT, 2 * (42 + 38), places=1, msg="an L is as long round as its box")
        roof = 16 * 14 * sqrt(1.25) - 2 * 22 * 46 / 144
        self.assertAlmostEqual(g.ceilings_m2["roof"][i["Family"]] / FT**2, roof, places=1)
        small = [k for k, x in enumerate(job.rooms) if g.area_m2[k] / FT**2 < 25]
        self.assertEqual({job.rooms[k].name for k in small}, {"Powder", "Closet 1", "Closet 3"})
        self.assertTrue(all(f.tilt_deg < 30 for f in g.openings if job.openings[f.index].kind == "skylight"))

    def test_the_narrow_house(self):
        job = demo_job("narrow")
        r = solve(job)
        g = r.geometry
        i = {x.name: k for k, x in enumerate(job.rooms)}
        west = [
            w for w in g.walls if abs((w.facing_deg - 285) % 360) < 1 and w.other in ("outdoors", "ground", "attic")
        ]
        self.assertEqual(west, [], "a party wall loses nothing")
        below = sum(g.floors_m2["below"])
        self.assertAlmostEqual(below / FT**2, 18 * 40, places=1)
        garden = [w for w in g.walls if w.room == i["Garden room"] and w.other == "ground"]
        self.assertFalse(
            [w for w in garden if abs((w.facing_deg - 195) % 360) < 1], "the garden side is free of ground"
        )
        self.assertTrue(garden)
        self.assertAlmostEqual(g.floors_m2["outdoors"][i["Dining"]] / FT**2, 12.0, places=1)
        self.assertEqual(g.floors_m2["slab"][i["Dining"]], 0.0)
        knee = {w.room for w in g.walls if w.other == "attic"}
        self.assertEqual(knee, {i["Bedroom 1"], i["Bath"], i["Bedroom 2"]})
        # 18 ft wide, knee 4 ft, 45 degrees up to 7.5 ft: 3.5 ft of slope either side, by hand
        bed = i["Bedroom 1"]
        self.assertAlmostEqual(g.ceilings_m2["roof"][bed] / FT**2, 2 * 3.5 * sqrt(2) * 15, places=1)
        self.assertAlmostEqual(g.volume_m3[bed] / FT**3, 15 * (18 * 7.5 - 3.5 * 3.5), places=0)
        self.assertLess(r.loads.heating_w[i["Workroom"]], r.loads.heating_w[i["Living"]])


class TestDemo(unittest.TestCase):
    def test_shipped_file_is_up_to_date(self):
        self.assertEqual(demo_job(), finished_job())
        self.assertTrue(demo_path().is_file())

    def test_geometry_is_that_of_the_sample_house(self):
        raw = json.loads((Path(__file__).parents[2] / "tools" / "demo" / "sample-house.json").read_text("utf-8"))
        rooms = {r.id: r for r in demo().rooms}
        self.assertEqual(set(rooms), {r["id"] for r in raw["rooms"]})
        for r in raw["rooms"]:
            for (x, y), (fx, fy) in zip(rooms[r["id"]].outline_m, r["polygon_ft"], strict=True):
                self.assertAlmostEqual(x, fx * FT, places=3)
                self.assertAlmostEqual(y, fy * FT, places=3)
        for w in raw["windows"]:
            o = next(x for x in demo().openings if x.tag == w["tag"])
            self.assertAlmostEqual(o.width_m, w["width_ft"] * FT)
            a, b = wall_points(rooms[o.room].outline_m, o.wall)
            axis = 0 if w["side"] in "NS" else 1
            sign = 1 if b[axis] > a[axis] else -1
            low = min(a[axis] + sign * o.offset_m, a[axis] + sign * (o.offset_m + o.width_m))
            self.assertAlmostEqual(low, w["start_ft"] * FT, places=3, msg=w["tag"])

    def test_it_is_a_whole_design(self):
        job, r = demo(), demo_results()
        served = {x.room for x in job.design.registers if x.side == "supply"}
        self.assertEqual(served, {x.id for x in job.rooms})
        for storey in ("ground", "upper"):
            rooms = {x.id for x in job.rooms if x.storey == storey}
            self.assertTrue(any(x.room in rooms and x.side == "return" for x in job.design.registers))
        self.assertEqual({z.id for z in job.design.zones}, {"1", "2"})
        self.assertTrue(any(x.side == "fresh" for x in job.design.runs))
        self.assertEqual(r.main.equipment.chosen.verdict, "fits")
        self.assertIn("baseboard", job.existing_heat)

    def test_registers_hang_in_their_rooms(self):
        from shapely.geometry import Point, Polygon

        rooms = {x.id: Polygon(x.outline_m) for x in demo().rooms}
        for x in demo().design.registers:
            self.assertTrue(rooms[x.room].contains(Point(x.position_m)), x.tag)

    def test_runs_start_where_their_parent_ends_and_end_at_their_register(self):
        runs = {x.id: x for x in laid_runs(demo().design, demo().storeys)}
        faces = {x.id: x.position_m for x in demo().design.registers}
        for x in runs.values():
            if x.parent:
                self.assertEqual(x.path_m[0], runs[x.parent].path_m[-1], x.tag)
            if x.register_id and x.side == "supply":
                self.assertEqual(x.path_m[-1], faces[x.register_id], x.tag)

    def test_stations_agree(self):
        r = demo_results()
        v = verdict(demo(), r)
        self.assertAlmostEqual(sum(x.design for x in v.registers.values()), r.main.airflow.total_m3_s)
        self.assertAlmostEqual(
            sum(x.predicted for x in v.registers.values()) + r.network.leaks["unit1"].supply,
            float(r.main.blower.flow_m3_s[0]),
            places=9,
        )
        self.assertAlmostEqual(
            r.main.equipment.chosen.total_share * r.loads.house_cooling_w, r.main.equipment.chosen.total_w, places=6
        )

    def test_one_seeded_fault(self):
        v = verdict(demo(), demo_results())
        self.assertEqual([x.register for x in v.registers.values() if x.mark == "fails"], [FAULT.split(":")[1]])
        self.assertTrue(all(x.simulated for x in demo().design.readings))

    def test_nearly_all_is_hung(self):
        cuts = demo_results().cuts
        self.assertEqual(len(cuts.to_hang) - cuts.done, 2)
