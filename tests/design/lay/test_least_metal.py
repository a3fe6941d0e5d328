"""Layouts against the least duct that continuous sizes could have: the same tree, the same limits, the same pressure.

The yardstick is SciPy's SLSQP over sizes of any figure; stock sizes may take at most 10 % more sheet.
"""

import unittest

import numpy as np
from scipy.optimize import minimize

from murvan.design.ducts import runs as ducts
from murvan.physics import ductflow
from tests.design.lay.test_registers import laid_out

MOST = 1.10


class Tree:
    """The supply side of a layout as arrays (runs,)."""

    def __init__(self, layout):
        r = layout.results
        self.s = r.systems["unit1"]
        self.density = r.conditions.density_kg_m3
        self.runs = [x for x in self.s.ducts.runs.values() if x.run.side == "supply"]
        self.flow = self.of(lambda x: x.flow_m3_s)
        self.length = self.of(lambda x: x.length_m)
        self.c = self.of(lambda x: x.fitting_c + (0.2 if x.run.damper is not None else 0.0))
        self.round = np.array([x.run.shape == "round" for x in self.runs])
        self.high = self.of(lambda x: x.run.height_m or 0.1)
        self.rough = self.of(lambda x: x.run.made_of.roughness_m)
        self.scale = self.of(lambda x: ducts.friction_scale(x.run))
        self.fastest = self.of(lambda x: x.velocity_limit_m_s)
        self.size = self.of(lambda x: x.run.diameter_m if x.run.shape == "round" else x.run.width_m)
        place = {x.run.id: k for k, x in enumerate(self.runs)}
        parent = [place.get(x.run.parent) for x in self.runs]
        faces = {x.id: x for x in self.s.design.registers}
        self.paths, self.ends = [], []
        for k, x in enumerate(self.runs):
            if x.ends_in:
                path, at = [], k
                while at is not None:
                    path.append(at)
                    at = parent[at]
                self.paths.append(path)
                self.ends.append(ducts.register_k(faces[x.ends_in], self.density) * x.flow_m3_s**2)

    def of(self, what):
        return np.array([what(x) for x in self.runs], float)

    def sheet_m2(self, size):
        return float((np.where(self.round, np.pi * size, 2 * (size + self.high)) * self.length).sum())

    def paths_pa(self, size):
        area = np.where(self.round, np.pi * size**2 / 4, size * self.high)
        eq = np.where(self.round, size, 1.3 * (size * self.high) ** 0.625 / (size + self.high) ** 0.25)
        rate = self.scale * ductflow.friction_pa_per_m(self.flow, np.pi * eq**2 / 4, eq, self.rough, self.density)
        own = rate * self.length + self.c * 0.5 * self.density * (self.flow / area) ** 2
        return np.array([own[p].sum() + e for p, e in zip(self.paths, self.ends, strict=True)])

    def least_m2(self):
        d = self.s.ducts
        budget = 0.9 * min(d.available_pa, d.limit_pa) - sum(b.pressure_pa for b in d.budget if b.group != "supply")
        budget = max(
            budget, float(self.paths_pa(self.size).max())
        )  # what it uses on a low tap, the yardstick may too
        round_low = np.maximum(np.sqrt(4 * self.flow / np.pi / self.fastest), 4 * 0.0254)
        low = np.where(self.round, round_low, np.maximum(self.flow / self.fastest / self.high, 0.99 * self.high))
        found = minimize(
            self.sheet_m2,
            np.maximum(1.2 * self.size, low),
            method="SLSQP",
            bounds=[(x, 3 * max(x, y)) for x, y in zip(low, self.size, strict=True)],
            constraints=[{"type": "ineq", "fun": lambda v: (budget - self.paths_pa(v)) / 10}],
            options={"maxiter": 300},
        )
        assert found.success, found.message
        return found.fun


class TestLeastMetal(unittest.TestCase):
    def test_stock_sizes_take_little_more_sheet_than_any_size_could(self):
        for which in ("demo", "bungalow", "narrow"):
            for x in laid_out(which):
                tree = Tree(x)
                least = tree.least_m2()
                self.assertLess(tree.sheet_m2(tree.size), MOST * least, (which, x.name))
                self.assertGreater(least, 0.5 * tree.sheet_m2(tree.size), "the yardstick is not of another house")
                self.assertEqual(x.short, (), (which, x.name))


if __name__ == "__main__":
    unittest.main()
