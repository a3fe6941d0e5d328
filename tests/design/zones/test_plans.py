"""Ways to part a house: peaks by hand, dampers in the tree, thermostats, edits; and the schools for air left over."""

import unittest

import numpy as np

from murvan.design.drawing.things import room_at
from murvan.design.propose.schools import bypass_for, schools, take_up, why
from murvan.design.propose.zoned import zone_study
from murvan.design.solve import solve
from murvan.design.zones.calling import zone_calls
from murvan.design.zones.drawing import join_zone, parted, placed_by_rule, thermostat_at
from murvan.design.zones.plans import FROM_REGISTER_M, damper_places, peaks, with_zones, zone_plans
from murvan.model import replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import Job
from tests.design.zones.test_calling import furnace, zoned
from tests.houses import box, demo, demo_job, demo_results, set_unit

SAMPLES = ("demo", "bungalow", "narrow")


class Plans(unittest.TestCase):
    def test_peaks_are_the_rooms_own_hours_summed(self):
        r = demo_results()
        parts = tuple((z.name, z.rooms) for z in r.job.design.zones)
        by_hour = r.loads.parts_by_hour_w.sum(axis=2)
        for z in peaks(r, parts):
            rows = [k for k, x in enumerate(r.job.rooms) if x.id in z.rooms]
            own = by_hour[:, rows].sum(axis=1)
            self.assertAlmostEqual(z.peak_w, own.max())
            self.assertAlmostEqual(own[r.loads.months.index(z.month), z.hour - 1], z.peak_w)
        self.assertAlmostEqual(sum(z.coincident for z in peaks(r, parts)), 1.0)

    def test_every_room_is_in_one_zone_and_no_way_stands_twice(self):
        for name in SAMPLES:
            r = solve(demo_job(name))
            every = zone_plans(r)
            plans = [p for p in every if p.zones]
            self.assertEqual(len(every), len(plans) + 1, "not parted is a way too")
            self.assertTrue(plans, name)
            seen = [frozenset(frozenset(z.rooms) for z in p.zones) for p in plans]
            self.assertEqual(len(seen), len(set(seen)))
            for p in plans:
                rooms = sorted(i for z in p.zones for i in z.rooms)
                self.assertEqual(rooms, sorted(x.id for x in r.job.rooms))
                self.assertGreaterEqual(p.over, 1 - 1e-9)

    def test_a_box_of_one_room_is_not_parted(self):
        self.assertEqual(zone_plans(solve(box())), ())

    def test_an_empty_job_has_none(self):
        self.assertEqual(zone_plans(solve(Job(name="Empty"))), ())
        self.assertEqual(len(list(zone_study(solve(Job(name="Empty"))))), 1)

    def test_dampers_shut_just_their_zone(self):
        for name in SAMPLES:
            r = solve(demo_job(name))
            for p in (x for x in zone_plans(r) if x.zones):
                with self.subTest(f"{name}: {p.name}"):
                    job = with_zones(r.job, p.parts)
                    self.assertTrue(placed_by_rule(job))
                    made = solve(job)
                    for call in zone_calls(made):
                        calling = {i for z in job.design.zones if z.id in call.zones for i in z.rooms}
                        for room, flow in call.rooms_m3_s.items():
                            if room not in calling:
                                self.assertLess(flow, 2e-3, room)

    def test_the_demo_by_storey_counts_its_pantry_runs(self):
        at, passed = damper_places(demo(), (("a", demo().design.zones[0].rooms), ("b", demo().design.zones[1].rooms)))
        tags = {r.id: r.tag for r in demo().design.runs}
        self.assertEqual({tags[i]: z for i, z in at.items()}, {"SA1": "a", "SB1": "b", "P1": "a", "P2": "a"})
        self.assertEqual(passed, ())

    def test_thermostats_hang_in_their_zone_off_glass_and_registers(self):
        for name in SAMPLES:
            r = solve(demo_job(name))
            p = next(x for x in zone_plans(r) if x.zones)
            job = with_zones(r.job, p.parts)
            for z in job.design.zones:
                room = room_at(job, z.storey, z.position_m)
                self.assertIn(room.id, z.rooms)
                faces = [x for x in job.design.registers if x.room == room.id and x.side == "supply"]
                apart = [
                    np.hypot(x.position_m[0] - z.position_m[0], x.position_m[1] - z.position_m[1]) for x in faces
                ]
                self.assertGreater(min(apart, default=9.0), 1.0, f"{name} {z.name}")
            rules = {f.rule.id for f in solve(job).findings}
            self.assertNotIn("thermostat-none", rules)


class Drawn(unittest.TestCase):
    def test_rooms_join_the_first_ones_zone(self):
        made = join_zone(demo(), ("bed1", "living"), False)
        zones = {z.id: z.rooms for z in made.job.design.zones}
        self.assertIn("living", zones["2"])
        self.assertNotIn("living", zones["1"])

    def test_alone_they_make_one_and_empty_zones_go(self):
        job = demo()
        made = join_zone(job, job.design.zones[1].rooms, True).job
        self.assertEqual(len(made.design.zones), 2)
        new = next(z for z in made.design.zones if "bed1" in z.rooms)
        self.assertEqual(set(new.rooms), set(job.design.zones[1].rooms))
        self.assertIsNotNone(new.position_m)

    def test_dampers_placed_by_hand_stay(self):
        self.assertFalse(placed_by_rule(demo()), "the demo's honest problem: two runs past the damper")
        before = {r.id: r.zone_damper for r in demo().design.runs}
        self.assertEqual(
            {r.id: r.zone_damper for r in join_zone(demo(), ("bed1", "study"), False).job.design.runs}, before
        )

    def test_a_thermostat_that_loses_its_room_moves(self):
        job = demo()
        made = join_zone(job, ("bed1", "living"), False).job
        ground = made.design.zones[0]
        self.assertIn(room_at(made, ground.storey, ground.position_m).id, ground.rooms)

    def test_refused_in_words(self):
        with self.assertRaisesRegex(JobValueError, "hangs in a room"):
            thermostat_at(demo(), "ground", (-50, -50))
        with self.assertRaisesRegex(JobValueError, "hangs in its own rooms"):
            thermostat_at(demo(), "ground", (2.0, 2.0), "2")
        bare = with_design(zoned(demo()), zones=())
        with self.assertRaisesRegex(JobValueError, "in no zone yet"):
            thermostat_at(bare, "ground", (2.0, 2.0))

    def test_taken_back_there_is_no_zone_and_no_damper(self):
        job = parted(demo(), ())
        self.assertEqual((job.design.zones, {x.zone_damper for x in job.design.runs}), ((), {None}))


class Found(unittest.TestCase):
    """Each rule on a job that breaks it."""

    def rules(self, job):
        return {f.rule.id for f in solve(job).findings}

    def small(self):
        return zoned(
            demo(),
            ("living", "dining", "kitchen", "hall", "utility"),
            ("bed1", "bed2", "bed3", "bed4", "bath", "landing"),
            ("study",),
        )

    def test_a_small_zone(self):
        found = self.rules(self.small())
        self.assertIn("zone-small", found)
        self.assertIn("zone-static", found)
        self.assertIn("thermostat-none", found)
        self.assertNotIn("zone-small", self.rules(demo()))

    def test_a_bypass_too_large_and_a_coil_that_ices(self):
        r = solve(self.small())
        own = bypass_for(r, r.systems["unit1"])
        job = replace(self.small(), "indoor_units", "unit1", bypass=own)
        self.assertIn("zone-bypass", self.rules(job))
        rest = tuple(r.id for r in demo().rooms if r.id != "bath")
        self.assertIn("zone-ices", self.rules(zoned(set_unit(demo(), unit=furnace()), ("bath",), rest)))

    def test_a_thermostat_that_is_fooled(self):
        x = next(r for r in demo().design.registers if r.room == "living" and r.side == "supply")
        near = (x.position_m[0] + FROM_REGISTER_M / 3, x.position_m[1])
        self.assertIn("thermostat-fooled", self.rules(replace(demo(), "zones", "1", position_m=near)))
        self.assertIn("thermostat-fooled", self.rules(replace(demo(), "zones", "1", storey="upper")))
        self.assertNotIn("thermostat-fooled", self.rules(demo()))

    def test_a_damper_over_a_closed_ceiling(self):
        far = next(r for r in demo().design.runs if r.tag == "SA3")
        self.assertIn("damper-access", self.rules(replace(demo(), "runs", far.id, zone_damper="1")))
        self.assertNotIn("damper-access", self.rules(demo()))


class Schools(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.r = solve(
            zoned(
                demo(),
                *(
                    ("living", "dining", "kitchen", "hall", "utility"),
                    ("bed1", "bed2", "bed3", "bed4", "bath", "landing"),
                    ("study",),
                ),
            )
        )
        cls.found = schools(cls.r)

    def test_each_once_and_the_first_has_the_least_wrong(self):
        self.assertEqual(len({x.key for x in self.found}), 7)
        plain = next(x for x in self.found if x.key == "plain")
        self.assertLessEqual(
            sum(len(c.findings) for c in self.found[0].calls), sum(len(c.findings) for c in plain.calls)
        )
        self.assertTrue(list(why(self.found[0], plain)))

    def test_a_bypass_is_shut_while_all_call_and_open_for_the_smallest(self):
        for key in ("barometric", "modulating"):
            x = next(s for s in self.found if s.key == key)
            calls = {c.zones: c for c in x.calls}
            self.assertLess(calls["1", "2", "3"].bypass_m3_s, 2e-3)
            self.assertGreater(calls["3",].bypass_m3_s, 0.1)
            plain = next(s for s in self.found if s.key == "plain")
            before = {c.zones: c for c in plain.calls}
            self.assertLess(calls["3",].static_pa, before["3",].static_pa)

    def test_taking_one_up_gives_what_it_promised(self):
        for x in self.found:
            if x.trouble:
                with self.assertRaisesRegex(JobValueError, x.trouble):
                    take_up(self.r.job, x)
                continue
            again = zone_calls(solve(take_up(self.r.job, x)))
            for a, b in zip(x.calls, again, strict=True):
                self.assertAlmostEqual(a.static_pa, b.static_pa, 5)
                self.assertEqual(a.findings, b.findings)

    def test_one_stage_does_not_turn_down(self):
        r = solve(demo_job("narrow"))
        p = zone_plans(r)[0]
        r = solve(with_zones(r.job, p.parts))
        x = next(s for s in schools(r) if s.key == "turns_down")
        self.assertEqual(x.trouble, "its unit has one stage")

    def test_the_study_tells_calls_first_and_stops_when_told(self):
        found = list(zone_study(demo_results()))
        self.assertEqual([x.schools is None for x in found], [True, False])
        self.assertEqual(len(list(zone_study(demo_results(), lambda: True))), 1)
        none = list(zone_study(solve(zoned(demo()))))
        self.assertEqual(len(none), 1)
        self.assertIn("No zone has a damper", none[0].trouble)


if __name__ == "__main__":
    unittest.main()
