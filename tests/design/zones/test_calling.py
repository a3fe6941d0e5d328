"""Every combination of zones that call: against the same states one by one, sums by hand, what is found, what is refused."""

import json
import unittest
from contextlib import redirect_stderr, redirect_stdout
from io import StringIO

import numpy as np

from murvan.catalog import units
from murvan.cli import main
from murvan.design import solve
from murvan.design.circuit.situations import Situation
from murvan.design.study.calls import answered
from murvan.design.study.leaving import MARGIN_K
from murvan.design.units.capacity import cooling_capacity, entering_air
from murvan.design.zones.calling import HOT, zone_calls
from murvan.model import replace, with_design
from murvan.model.design import Zone
from murvan.model.edit import changed
from murvan.model.errors import JobValueError
from tests.houses import box, demo, demo_results, set_unit


def zoned(job, *rooms):
    """The demo with a zone for each group of rooms, a damper in every branch to them."""
    zones = tuple(Zone(id=str(k), name=f"Zone {k}", rooms=group) for k, group in enumerate(rooms, 1))
    of = {room: z.id for z in zones for room in z.rooms}
    room = {x.id: x.room for x in job.design.registers if x.side == "supply"}
    runs = tuple(changed(r, r.tag, zone_damper=of.get(room.get(r.register_id or "", ""))) for r in job.design.runs)
    return with_design(job, zones=zones, runs=runs)


class OfTheDemo(unittest.TestCase):
    def setUp(self):
        self.calls = {x.zones: x for x in zone_calls(demo_results())}

    def test_three_combinations_and_all_is_as_usual(self):
        self.assertEqual(list(self.calls), [("1", "2"), ("1",), ("2",)])
        usual = demo_results().network
        for room, flow in self.calls["1", "2"].rooms_m3_s.items():
            self.assertAlmostEqual(flow, usual.room_m3_s[room], 7)

    def test_one_by_one_they_are_the_same(self):
        for zones, x in self.calls.items():
            closed = frozenset({"1", "2"} - set(zones))
            alone = answered(demo_results(), Situation("tried", closed=closed))
            self.assertAlmostEqual(x.flow_m3_s, float(alone.blowers["unit1"].flow_m3_s[0]), 7)
            for room, flow in alone.room_m3_s.items():
                self.assertAlmostEqual(x.rooms_m3_s[room], flow, 7)

    def test_a_shut_zone_gets_only_what_comes_past_its_damper(self):
        upper = self.calls["2",]
        self.assertLess(max(upper.rooms_m3_s[i] for i in ("living", "dining", "kitchen", "hall")), 5e-4)
        self.assertGreater(upper.rooms_m3_s["study"], 0.01, "the demo's honest problem")

    def test_fewer_zones_mean_more_static_and_colder_air(self):
        every = self.calls["1", "2"]
        for zones in (("1",), ("2",)):
            one = self.calls[zones]
            self.assertGreater(one.static_pa, every.static_pa)
            self.assertLess(one.flow_m3_s, every.flow_m3_s)
            self.assertLess(one.coil.leaving_c, every.coil.leaving_c)

    def test_air_off_the_coil_by_hand(self):
        r, x = demo_results(), self.calls["1",]
        c, unit = r.conditions, r.main.unit
        air = entering_air(c, r.main.design.ventilators, x.flow_m3_s, r.main.duct_heat.return_rise_k)
        _, sensible, _ = cooling_capacity(unit, c.outdoor_summer.temperature_c, air, x.flow_m3_s, c.density_kg_m3)
        fall = sensible / (c.density_kg_m3 * 1006.0 * x.flow_m3_s)
        self.assertAlmostEqual(x.coil.leaving_c, air.temperature_c - fall, 6)
        through = 1 - unit.cooling.bypass_factor
        self.assertAlmostEqual(x.coil.surface_c, air.temperature_c - fall / through, 6)
        self.assertAlmostEqual(x.coil.leaving_low_c, air.temperature_c - fall * unit.cooling.min_fraction, 6)

    def test_doors_are_those_of_the_combination(self):
        self.assertGreater(self.calls["2",].door_pa["bed1"], self.calls["1", "2"].door_pa["bed1"])
        self.assertLess(abs(self.calls["1",].door_pa["bed1"]), 0.3)


class Found(unittest.TestCase):
    def one(self, job, zones):
        return next(x for x in zone_calls(solve(job)) if x.zones == zones)

    def test_a_small_zone_and_one_of_baths(self):
        rooms = tuple(r.id for r in demo().rooms if r.id != "bath")
        job = zoned(demo(), ("bath",), rooms)
        alone = self.one(job, ("1",))
        self.assertIn("zone of baths alone", alone.findings)
        self.assertIn("zones smaller than the unit's lowest stage: it runs in short bursts", alone.findings)
        self.assertIn("static over the blower's limit", alone.findings)
        self.assertTrue(any(w.startswith("coil ices") for w in alone.findings))
        self.assertLess(alone.coil.surface_c, MARGIN_K)
        self.assertEqual(self.one(job, ("1", "2")).findings, ())

    def test_a_furnace_gets_hot_where_little_air_goes_through(self):
        job = zoned(set_unit(demo(), unit=furnace()), ("bath", "landing"), ("living", "dining"))
        x = self.one(job, ("1",))
        unit = solve(job).main.unit
        rise = unit.furnace_output_w * unit.furnace_min_fraction / (1.2 * 1006 * x.flow_m3_s)
        (own,) = x.rises
        self.assertEqual((own.what, own.most_k), ("furnace", 39.0))
        self.assertAlmostEqual(own.rise_k / rise, 1.0, delta=0.06)
        self.assertEqual(HOT in x.findings, own.rise_k > 39.0)

    def test_five_zones_have_thirty_one_combinations(self):
        groups = (("living",), ("dining", "kitchen"), ("bed1",), ("bed2",), ("bed3", "bed4"))
        calls = zone_calls(solve(zoned(demo(), *groups)))
        self.assertEqual(len(calls), 31)
        self.assertEqual(len(calls[0].zones), 5)
        for x in calls:
            self.assertTrue(np.isfinite([x.flow_m3_s, x.static_pa, *x.rooms_m3_s.values()]).all())


def furnace():
    return next(k for k, u in units().items() if u.furnace_output_w and u.fuel == "gas")


class Refused(unittest.TestCase):
    def test_in_words(self):
        with self.assertRaisesRegex(JobValueError, "No zone has a damper"):
            zone_calls(solve(box()))
        many = zoned(demo(), *((r.id,) for r in demo().rooms))
        with self.assertRaisesRegex(JobValueError, "up to 8"):
            zone_calls(solve(many))
        bare = replace(demo(), "indoor_units", "unit1", unit=None)
        with self.assertRaisesRegex(JobValueError, "supply and return"):
            zone_calls(solve(bare))


class CommandLine(unittest.TestCase):
    def test_json_and_words(self):
        out = StringIO()
        with redirect_stdout(out):
            self.assertEqual(main(["zones", "demo", "--json", "-"]), 0)
        data = json.loads(out.getvalue())
        self.assertEqual([c["zones"] for c in data["calls"]], [["1", "2"], ["1"], ["2"]])
        self.assertLessEqual(
            {"zones", "static_pa", "flow_m3_s", "bypass_m3_s", "rooms", "coil_leaving_c", "findings"},
            set(data["calls"][0]),
        )
        self.assertEqual({r["id"] for r in data["calls"][0]["rooms"]}, {r.id for r in demo().rooms})
        out, err = StringIO(), StringIO()
        with redirect_stdout(out):
            main(["zones", "demo", "--units", "si"])
        self.assertIn("Ground + Upper", out.getvalue())
        with redirect_stderr(err):
            self.assertEqual(main(["zones", "bungalow"]), 2)
        self.assertIn("press N on Ducts", err.getvalue())


if __name__ == "__main__":
    unittest.main()
