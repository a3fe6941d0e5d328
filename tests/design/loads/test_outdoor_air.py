"""Fans that blow in, draw out or do both: the same flow is the same load, and rooms' own fans count."""

import unittest

import numpy as np

from murvan.design import solve
from murvan.design.loads.components import COLUMN
from murvan.design.loads.outdoor_air import fans_of
from murvan.model import Exhaust
from murvan.model.edit import changed, replace
from tests.houses import box, demo, demo_results, fan

CFM = 0.3048**3 / 60
AIR = [COLUMN["leakage"], COLUMN["fresh_air"]]


def aired(kind, cfm=100.0, **more):
    return solve(fan(demo(), kind=kind, flow_m3_s=cfm * CFM, **more))


class SameFlow(unittest.TestCase):
    def test_sensible_load_by_any_kind_of_fan_but_for_the_leaks(self):
        """Balanced without recovery, exhaust and supply: fresh air alike, leaks lower by half the unbalanced flow."""
        both, out, into = aired("hrv"), aired("exhaust"), aired("supply")
        k = COLUMN["fresh_air"]
        for parts in (
            lambda r: r.loads.parts_by_hour_w[0, :, k].sum(axis=0),
            lambda r: r.loads.heating_parts[:, k].sum(),
        ):
            np.testing.assert_allclose(parts(out), parts(both), rtol=1e-12)
            np.testing.assert_allclose(parts(into), parts(both), rtol=1e-12)
        air = out.factors.air
        self.assertAlmostEqual(air.summer.leaks, max(air.summer.alone - 50 * CFM, 0.0))
        leaks = COLUMN["leakage"]
        lower = (both.loads.parts_by_hour_w - out.loads.parts_by_hour_w)[0, :, leaks].sum(axis=0)
        gone = both.factors.air.summer.leaks - out.factors.air.summer.leaks
        drive = both.conditions.sensible_factor * (both.conditions.days[0].outdoor_c - demo().indoor.cooling_c)
        np.testing.assert_allclose(lower, gone * drive, rtol=1e-9)

    def test_more_exhaust_is_more_cooling_load(self):
        few, many = aired("exhaust", 50.0).loads, aired("exhaust", 150.0).loads
        self.assertGreater(many.house_sensible_w, few.house_sensible_w + 200)

    def test_winter_and_summer_take_the_same_shares(self):
        r = aired("exhaust")
        winter, summer = r.loads.heating_parts[:, AIR].sum(axis=1), r.loads.parts_by_hour_w[0][:, AIR, 14].sum(axis=1)
        np.testing.assert_allclose(winter / winter.sum(), summer / summer.sum(), rtol=1e-9)


class RoomFans(unittest.TestCase):
    def test_a_continuous_fan_counts_as_house_ventilation(self):
        bath = next(r.id for r in demo().rooms if r.use == "bath")
        fan = replace(demo(), "rooms", bath, exhaust=Exhaust(flow_m3_s=100 * CFM, continuous=True))
        r = solve(fan)
        self.assertAlmostEqual(fans_of(fan).drawn_out, 100 * CFM)
        self.assertGreater(r.loads.house_heating_w, demo_results().loads.house_heating_w + 500)
        self.assertGreater(r.loads.house_sensible_w, demo_results().loads.house_sensible_w + 100)
        now_and_then = replace(demo(), "rooms", bath, exhaust=Exhaust(flow_m3_s=100 * CFM))
        self.assertEqual(solve(now_and_then).loads.house_heating_w, demo_results().loads.house_heating_w)

    def test_supply_and_exhaust_of_one_flow_are_balanced(self):
        job = fan(demo(), kind="supply", flow_m3_s=100 * CFM)
        bath = next(r.id for r in job.rooms if r.use == "bath")
        job = replace(job, "rooms", bath, exhaust=Exhaust(flow_m3_s=100 * CFM, continuous=True))
        r = solve(job)
        self.assertAlmostEqual(r.factors.air.summer.leaks, r.factors.air.summer.alone)
        np.testing.assert_allclose(
            r.loads.heating_parts[:, AIR].sum(), aired("hrv").loads.heating_parts[:, AIR].sum()
        )


class Shares(unittest.TestCase):
    def test_a_house_without_outside_walls_shares_leaks_by_floor_in_both_seasons(self):
        from murvan.model import Room, WallOverride

        def rect(x0, x1):
            return ((x0, 0.0), (x1, 0.0), (x1, 4.0), (x0, 4.0))

        rooms = (
            Room(id="a", name="A", storey="g", outline_m=rect(0, 9)),
            Room(id="c", name="Closet", storey="g", outline_m=rect(9, 10)),
        )
        party = tuple(WallOverride(room=r.id, wall=w, other_side="party") for r in rooms for w in range(4))
        r = solve(changed(box(), "", rooms=rooms, openings=(), wall_overrides=party))
        k = COLUMN["leakage"]
        winter, summer = r.loads.heating_parts[:, k], r.loads.parts_by_hour_w[0, :, k, 14]
        np.testing.assert_allclose(winter / winter.sum(), [0.9, 0.1])
        np.testing.assert_allclose(summer / summer.sum(), [0.9, 0.1])


class Stack(unittest.TestCase):
    def test_a_basement_in_the_ground_makes_the_stack_no_taller(self):
        from murvan.demo import demo_job

        r = solve(demo_job("narrow"))
        self.assertEqual(len({x.storey for x in r.job.rooms}), 3)
        self.assertEqual(r.geometry.stack_storeys, 2)
        self.assertAlmostEqual(r.factors.air.winter.alone / CFM, 312, delta=6)


if __name__ == "__main__":
    unittest.main()
