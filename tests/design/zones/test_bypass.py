"""Bypass dampers, stops and turned-down blowers: by the circuit's own equations, by hand, and by what they do to the coil."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from murvan.design.circuit.zone_branches import BYPASS_LOSS
from murvan.design.solve import solve
from murvan.design.study.leaving import coil_at
from murvan.design.zones.calling import owner, zone_calls
from murvan.model import replace
from murvan.model.design import Bypass
from tests.design.zones.test_calling import zoned
from tests.houses import demo, demo_results

FOUR = (
    ("living", "dining", "kitchen", "hall", "utility"),
    ("bed1", "bed2"),
    ("bed3", "bed4", "bath", "landing"),
    ("study",),
)


def bypassed(job, kind="barometric", diameter_m=0.25, opens_pa=40.0):
    made = Bypass(kind=kind, diameter_m=diameter_m, opens_pa=opens_pa)
    return replace(job, "indoor_units", "unit1", bypass=made)


def across(n):
    """Flow through the bypass of a network and what stands over it, by situation."""
    branch, _, wide = n.layout.bypasses["unit1"]
    p, q = n.solution.pressure_pa, n.solution.flow_m3_s[:, branch]
    return q, p[:, n.circuit.start[branch]] - p[:, n.circuit.end[branch]], wide


class Opens(unittest.TestCase):
    def test_a_blade_takes_its_set_pressure_and_its_own_loss(self):
        r = solve(bypassed(demo()))
        q, over, wide = across(r.alone)
        density = r.conditions.density_kg_m3
        area = np.pi * 0.25**2 / 4
        self.assertAlmostEqual(wide, BYPASS_LOSS * density / 2 / area**2)
        for k, state in enumerate(r.alone.layout.situations):
            self.assertTrue(state.closed)
            self.assertGreater(q[k], 0.01)
            self.assertAlmostEqual(float(over[k]), 40.0 + wide * float(q[k]) ** 2, 4)
        q, over, _ = across(r.network)
        self.assertLess(q.max(), 1e-3)
        self.assertLess(over.max(), 40.0)

    def test_a_motor_holds_the_pressure_until_it_is_wide_open(self):
        q, over, wide = across(solve(bypassed(demo(), "modulating")).alone)
        self.assertAlmostEqual(float(over[0]), 40.0, 1)
        q, over, wide = across(solve(bypassed(demo(), "modulating", 0.15)).alone)
        self.assertGreater(over[0], 45.0)
        self.assertAlmostEqual(float(over[0]), wide * float(q[0]) ** 2, 4)

    def test_what_the_blower_moves_goes_to_registers_leaks_and_back(self):
        """At the supply plenum: what comes from the blower leaves by runs, leaks and the bypass."""
        n = solve(bypassed(demo())).alone
        c, at = n.circuit, n.layout.units["unit1"].supply_node
        for q in n.solution.flow_m3_s:
            inward = q[c.end == at].sum() - q[c.start == at].sum()
            self.assertAlmostEqual(float(inward), 0.0, 9)

    def test_it_eases_the_static_and_takes_air_from_the_zone(self):
        plain, with_it = demo_results().alone, solve(bypassed(demo())).alone
        for k in (0, 1):
            self.assertLess(
                with_it.blowers["unit1"].external_static_pa[k], plain.blowers["unit1"].external_static_pa[k]
            )
            self.assertGreater(with_it.blowers["unit1"].flow_m3_s[k], plain.blowers["unit1"].flow_m3_s[k])

    @given(st.sampled_from(("barometric", "modulating")), st.floats(0.06, 0.6), st.floats(1, 300))
    @settings(max_examples=25, deadline=None)
    def test_any_bypass_is_answered(self, kind, diameter, opens):
        r = solve(bypassed(demo(), kind, diameter, opens), demo_results())
        self.assertIsNotNone(r.network)
        self.assertIsNotNone(r.alone)
        q, over, wide = across(r.alone)
        self.assertTrue(np.isfinite(q).all())
        shut = over <= opens + 1e-6
        self.assertTrue((q[shut & (kind == "barometric")] < 2e-3).all())
        if kind == "barometric":
            self.assertTrue(np.allclose(over[~shut], opens + wide * q[~shut] ** 2, atol=1e-4))


class OnTheCoil(unittest.TestCase):
    def test_air_that_goes_round_enters_colder_by_hand(self):
        """A share b comes straight back: entering = return - b / (1 - b) of the coil's own fall."""
        r = demo_results()
        s = owner(r, r.job.design.zones)
        flow = 0.45
        plain, mixed = coil_at(r.conditions, s, flow, 0.0), coil_at(r.conditions, s, flow, 0.3)
        self.assertLess(mixed.leaving_c, plain.leaving_c)
        self.assertLess(mixed.surface_c, plain.surface_c)
        table = s.equipment.chosen.unit.cooling
        # fall and entering temperature from leaving air and surface, which are the fall over 1 - bypass factor apart
        bf = table.bypass_factor
        fall = (mixed.leaving_c - mixed.surface_c) / (1 / (1 - bf) - 1)
        entering = mixed.leaving_c + fall
        fall0 = (plain.leaving_c - plain.surface_c) / (1 / (1 - bf) - 1)
        returning = plain.leaving_c + fall0
        self.assertAlmostEqual(entering, returning - 0.3 / 0.7 * fall, 2)

    def test_all_of_it_round_and_round_is_still_a_figure(self):
        r = demo_results()
        x = coil_at(r.conditions, owner(r, r.job.design.zones), 0.3, 0.9)
        self.assertTrue(np.isfinite([x.leaving_c, x.surface_c]).all())
        self.assertLess(x.surface_c, coil_at(r.conditions, owner(r, r.job.design.zones), 0.3, 0.3).surface_c)

    def test_a_call_tells_what_goes_back(self):
        calls = {x.zones: x for x in zone_calls(solve(bypassed(demo())))}
        plain = {x.zones: x for x in zone_calls(demo_results())}
        self.assertGreater(calls["1",].bypass_m3_s, 0.05)
        self.assertLess(calls["1", "2"].bypass_m3_s, 1e-3)
        fall = plain["1",].coil.leaving_c - calls["1",].coil.leaving_c
        self.assertGreater(fall, 0.1, "air that has been through the coil comes back to it")


class Stops(unittest.TestCase):
    def test_a_stop_lets_air_past_and_eases_the_static(self):
        zones = demo().design.zones
        job = demo()
        for z in zones:
            job = replace(job, "zones", z.id, least=0.4)
        a = {x.zones: x for x in zone_calls(demo_results())}
        b = {x.zones: x for x in zone_calls(solve(job))}
        self.assertLess(b["1",].static_pa, a["1",].static_pa)
        self.assertGreater(sum(b["1",].rooms_m3_s[i] for i in zones[1].rooms), 0.02)
        self.assertAlmostEqual(a["1", "2"].static_pa, b["1", "2"].static_pa, 5)

    def test_a_blower_that_turns_down_takes_the_lowest_tap_that_does(self):
        job = replace(zoned(demo(), *FOUR), "indoor_units", "unit1", turns_down=True)
        r = solve(job)
        taps = {x.zones: x.tap for x in zone_calls(r)}
        usual = job.design.indoor_units[0].tap
        self.assertEqual(taps["1", "2", "3", "4"], usual)
        self.assertEqual(taps["4",], 1)
        self.assertLessEqual(max(taps.values()), usual)
        static = {x.zones: x.static_pa for x in zone_calls(r)}
        plain = {x.zones: x.static_pa for x in zone_calls(solve(zoned(demo(), *FOUR)))}
        self.assertLess(static["4",], plain["4",])


if __name__ == "__main__":
    unittest.main()
