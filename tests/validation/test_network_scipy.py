"""The demo's air circuit against scipy.optimize.root on a residual written here from the equations alone."""

import unittest

import fluids
import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.optimize import root

from tests.houses import demo_results
from tests.physics.test_network_random import parts_pa


class TestNetwork(unittest.TestCase):
    def setUp(self):
        self.network = demo_results().network
        self.c = self.network.circuit

    def loss(self, j, q):
        """One branch, scalar, with the fluids library's friction factor."""
        c, size = self.c, abs(q)
        total = c.k[j] * size * size
        if c.length_m[j] > 0 and size > 0:
            v = size / c.area_m2[j]
            re = c.density_kg_m3 * v * c.hydraulic_m[j] / 1.82e-5
            f = (
                64 / re
                if re < 2300
                else fluids.friction.Colebrook(max(re, 4000.0), c.roughness_m[j] / c.hydraulic_m[j])
            )
            total += c.friction_scale[j] * f * c.length_m[j] / c.hydraulic_m[j] * 0.5 * c.density_kg_m3 * v * v
        if c.power_c[j] > 0:
            total += (size / c.power_c[j]) ** (1 / c.power_n)
        total = total if q >= 0 else -total
        for index, curve in c.fans:
            if index == j:
                total -= float(PchipInterpolator(curve.flow, curve.rise)(q))
        return total

    def residual(self, x, injection):
        c, m = self.c, len(self.c.start)
        q, p = x[:m], np.append(x[m:], 0.0)
        balance = np.zeros(c.nodes + 1)
        out = np.empty(m)
        for j in range(m):
            balance[c.start[j]] += q[j]
            balance[c.end[j]] -= q[j]
            out[j] = self.loss(j, q[j]) + parts_pa(c, j, q) - (p[c.start[j]] - p[c.end[j]])
        return np.concatenate([out, 100 * (balance[:-1] - injection)])

    def test_our_answer_closes_the_other_residual(self):
        n = self.network
        x = np.concatenate([n.solution.flow_m3_s[0], n.solution.pressure_pa[0]])
        worst = np.abs(self.residual(x, n.layout.injection[0])).max()
        # the two differ in the blower's curve between its points: within 1 Pa
        self.assertLess(worst, 1.0)

    def test_root_finds_the_same_flows(self):
        n = self.network
        start = np.concatenate([n.solution.flow_m3_s[0] * 1.03 + 0.001, n.solution.pressure_pa[0] * 0.97])
        found = root(self.residual, start, args=(n.layout.injection[0],), method="hybr", options={"maxfev": 40000})
        self.assertTrue(found.success, found.message)
        runs = list(n.layout.run_branch.values())
        np.testing.assert_allclose(found.x[runs], n.solution.flow_m3_s[0][runs], rtol=0.005, atol=1e-4)
