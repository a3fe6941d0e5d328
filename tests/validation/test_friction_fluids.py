"""Colebrook friction against the `fluids` library, and friction-chart spot values.

Chart: round galvanised duct at 0.1 in wc per 100 ft (handbook air-friction chart, from memory).
"""

import unittest

import fluids
import numpy as np

from murvan.physics import ductflow

INCH, CFM = 0.0254, 0.3048**3 / 60
RATE = 0.1 * 249.08891 / 30.48
CHART_CFM = {5: 68, 6: 111, 7: 168, 8: 240, 9: 329, 10: 436, 12: 709, 14: 1068, 16: 1524, 18: 2083, 20: 2754}


class TestFriction(unittest.TestCase):
    def test_colebrook(self):
        for re in (4e3, 1e4, 5e4, 2e5, 1e6, 1e8):
            for rough in (1e-6, 1e-4, 1e-3, 5e-3, 3e-2):
                ours = float(ductflow.friction_factor(np.array(re), np.array(rough))[0])
                self.assertAlmostEqual(
                    ours, fluids.friction.Colebrook(re, rough), delta=2e-9, msg=f"{re:g} {rough:g}"
                )

    def test_pressure_per_metre(self):
        for size, flow in ((0.2, 0.1), (0.5, 1.2)):
            area = np.pi * size**2 / 4
            v = flow / area
            re = 1.2014 * v * size / 1.82e-5
            expected = fluids.friction.Colebrook(re, 9e-5 / size) / size * 0.5 * 1.2014 * v**2
            ours = ductflow.friction_pa_per_m(np.asarray(flow), np.asarray(area), np.asarray(size), np.asarray(9e-5))
            self.assertAlmostEqual(float(ours), expected, places=8)

    def test_chart(self):
        for inches, cfm in CHART_CFM.items():
            low, high = 1e-3, 5.0
            size = inches * INCH
            for _ in range(60):
                mid = (low + high) / 2
                p = ductflow.friction_pa_per_m(
                    np.asarray(mid), np.asarray(np.pi * size**2 / 4), np.asarray(size), np.asarray(9e-5)
                )
                low, high = (low, mid) if p > RATE else (mid, high)
            self.assertAlmostEqual(high / CFM, cfm, delta=0.003 * cfm, msg=f"{inches} in")

    def test_viscosity_of_air(self):
        from CoolProp.CoolProp import PropsSI

        self.assertAlmostEqual(PropsSI("V", "T", 293.15, "P", 101325, "Air"), ductflow.VISCOSITY_PA_S, delta=2e-7)
