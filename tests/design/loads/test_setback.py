"""Morning recovery: from the rooms' admittance, checked against a room that is one lump of heat."""

from __future__ import annotations

import unittest

import numpy as np

from murvan.design import solve
from murvan.design.explain.heat import explain_heating_part
from murvan.design.loads.components import COLUMN
from murvan.design.loads.setback import profile, recovery_w
from murvan.model import DesignDay, replace_part
from murvan.physics.periodic import OMEGA
from tests.houses import box, demo, demo_results


class Recovery(unittest.TestCase):
    def test_the_night_goes_down_and_comes_back(self):
        t = profile(DesignDay(setback_k=4.0, recovery_h=2.0))
        self.assertEqual((t[11], t[2], t[5]), (0.0, -4.0, -4.0))  # noon, 3:00, 6:00
        self.assertEqual((t[6], t[7]), (-2.0, 0.0))  # 7:00, 8:00
        self.assertEqual(t[22], -4.0)

    def test_a_lump_of_heat(self):
        """C dT/dt with C = 1 MJ/K raised 4 K in 4 h: 278 W, whatever the shape of the waves between."""
        plan = DesignDay(setback_k=4.0, recovery_h=4.0)
        found = recovery_w(plan, (1j * OMEGA * 1e6)[None])
        self.assertAlmostEqual(float(found[0]), 1e6 * 4 / (4 * 3600), delta=8)

    def test_the_steady_part_is_the_rooms_loss_per_kelvin(self):
        r = solve(box())
        y = r.balance.admittance_w_k[0]
        conduction = [COLUMN[n] for n in ("walls", "ceiling", "glass_S")]
        ua = float(r.loads.heating_parts[0, conduction].sum()) / r.conditions.heating_difference_k
        self.assertAlmostEqual(float(y[0].real), ua, delta=0.15 * ua)
        self.assertGreater(abs(y[1]), 1.5 * abs(y[0]))  # floor, walls and ceiling take heat up

    def test_off_by_default_and_more_with_a_deeper_night(self):
        k = COLUMN["recovery"]
        none = demo_results().loads.heating_parts[:, k]
        self.assertEqual(float(np.abs(none).max()), 0.0)
        some, more = (
            solve(replace_part(demo(), "design_day", setback_k=x)).loads.heating_parts[:, k].sum() for x in (2.0, 4.0)
        )
        self.assertAlmostEqual(float(more), 2 * float(some), places=4)
        self.assertGreater(float(some), 500)

    def test_slower_needs_less(self):
        powers = [
            solve(replace_part(box(), "design_day", setback_k=4.0, recovery_h=h)).loads.house_heating_w
            for h in (1.0, 2.0, 4.0)
        ]
        self.assertEqual(powers, sorted(powers, reverse=True))


class HeatingArithmetic(unittest.TestCase):
    def test_every_component_adds_up(self):
        job = replace_part(demo(), "design_day", setback_k=3.0)
        r = solve(job)
        for i in range(len(job.rooms)):
            for name, k in COLUMN.items():
                a = explain_heating_part(r, i, name)
                total = float(r.loads.heating_parts[i, k])
                self.assertAlmostEqual(a.result.value, total, places=6)
                lines = [x for x in a.lines[:-1] if x.result is not None]
                if name in ("walls", "ceiling", "floor", "doors", "garage") or name.startswith("glass"):
                    self.assertAlmostEqual(sum(x.result.value for x in lines), total, delta=0.6, msg=f"{name} {i}")
                elif lines:
                    self.assertAlmostEqual(lines[-1].result.value, total, places=4, msg=name)
                for line in a.lines:
                    for units in ("ip", "si"):
                        self.assertNotIn("{", line.worked(units))
                        self.assertNotIn("nan", line.worked(units))

    def test_products_are_their_results(self):
        r = demo_results()
        for name in ("walls", "ceiling", "glass_W"):
            for line in explain_heating_part(r, 0, name).lines[:-1]:
                product = float(np.prod([o.value for o in line.operands]))
                self.assertAlmostEqual(product, line.result.value, delta=0.01 * abs(line.result.value) + 0.1)


if __name__ == "__main__":
    unittest.main()
