"""The circuit of the demo: what must hold whatever the numbers are."""

import unittest

from murvan.design import solve
from murvan.design.circuit.frame import shut_door_k
from murvan.design.circuit.situations import LOADED
from murvan.design.house.passages import halls
from murvan.model import Exhaust, Transfer, replace, with_design
from murvan.model.edit import changed
from murvan.physics.ductflow import orifice_constant
from tests.houses import CFM, INCH, box, demo, demo_results, set_unit


class TestNetwork(unittest.TestCase):
    def setUp(self):
        self.n = demo_results().network
        self.blower = demo_results().main.blower

    def test_it_closes(self):
        self.assertTrue(self.n.converged)
        self.assertLess(self.n.solution.residual_pa, 1e-6)

    def test_registers_sum_to_the_blower(self):
        supply = sum(self.n.register_m3_s[x.id] for x in demo().design.registers if x.side == "supply")
        leaks = self.n.leaks[demo().design.indoor_units[0].id]
        self.assertAlmostEqual(supply + leaks.supply, float(self.blower.flow_m3_s[0]), places=9)
        back = sum(self.n.register_m3_s[x.id] for x in demo().design.registers if x.side == "return")
        self.assertAlmostEqual(
            back + leaks.back + demo().design.ventilators[0].flow_m3_s, float(self.blower.flow_m3_s[0]), places=9
        )

    def test_blower_point_lies_on_its_curve(self):
        from murvan.design.units.unit_losses import fan_curve

        rise, _ = fan_curve(
            demo_results().main.unit, demo().design.indoor_units[0].tap, demo_results().conditions.density_kg_m3
        )(self.blower.flow_m3_s[0])
        self.assertAlmostEqual(float(rise), float(self.blower.external_static_pa[0]), places=4)

    def test_loaded_filter_takes_air(self):
        k = self.n.layout.at(LOADED)
        self.assertLess(self.blower.flow_m3_s[k], self.blower.flow_m3_s[0])
        self.assertGreater(self.blower.external_static_pa[k], self.blower.external_static_pa[0])

    def test_static_signs(self):
        s = self.blower.statics_pa
        self.assertLess(s["after_filter"], s["return"])
        self.assertLess(s["return"], 0)
        self.assertGreater(s["before_heater"], s["supply"])
        self.assertGreater(s["supply"], 0)

    def test_shut_rooms_with_supply_stand_above_their_hall(self):
        for room in ("bed1", "bed2", "bed3", "bed4", "study"):
            self.assertGreater(self.n.room_pressure_pa[room], 0, room)
        self.assertAlmostEqual(self.n.room_pressure_pa["landing"], 0.0)

    def test_less_transfer_more_pressure(self):
        job = replace(demo(), "rooms", "bed1", transfer=Transfer(kind="undercut", undercut_m=0.005))
        tight = solve(job).network
        self.assertGreater(tight.room_pressure_pa["bed1"], 3 * self.n.room_pressure_pa["bed1"])
        self.assertAlmostEqual(tight.room_m3_s["bed1"] / self.n.room_m3_s["bed1"], 1, delta=0.01)

    def test_continuous_exhaust_pulls_the_house_down(self):
        job = replace(demo(), "rooms", "bath", exhaust=Exhaust(flow_m3_s=80 * CFM, continuous=True))
        self.assertLess(solve(job).network.house_pressure_pa, self.n.house_pressure_pa - 0.2)

    def test_tap_moves_the_air(self):
        slow = solve(set_unit(demo(), tap=2)).main.blower
        self.assertLess(float(slow.flow_m3_s[0]), 0.9 * float(self.blower.flow_m3_s[0]))

    def test_halls(self):
        self.assertEqual(halls(demo()), {"ground": "hall", "upper": "landing"})
        self.assertEqual(halls(box()), {"g": "a"})

    def test_shut_door_law(self):
        k = shut_door_k(0.02, 0.8, 0.04)
        area = 0.02 * 0.8 + 0.04 + 2e-4
        self.assertAlmostEqual(k * orifice_constant(area) ** 2, 1.0)

    def test_no_return_no_network(self):
        job = with_design(demo(), ticks=(), runs=tuple(x for x in demo().design.runs if x.side == "supply"))
        r = solve(job)
        self.assertIsNone(r.network)
        self.assertIn("return-missing", {f.rule.id for f in r.findings})

    def test_extreme_dampers_still_close(self):
        for opening in (0.02, 0.1, 1.0):
            job = with_design(
                demo(),
                runs=tuple(changed(x, damper=opening) if x.damper is not None else x for x in demo().design.runs),
            )
            self.assertTrue(solve(job).network.converged, opening)

    def test_tiny_and_huge_ducts_still_close(self):
        for inches in (2, 40):
            job = with_design(
                demo(),
                runs=tuple(
                    changed(x, diameter_m=inches * INCH) if x.shape == "round" else x for x in demo().design.runs
                ),
            )
            self.assertTrue(solve(job).network.converged, inches)
