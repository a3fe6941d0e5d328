"""Any circuit closes: trees, loops, leaks, dampers nearly shut, blower tables with sharp knees."""

import unittest
from dataclasses import replace
from unittest import mock

import numpy as np
from fluids.friction import Colebrook
from scipy.optimize import root

from murvan.physics import circuit as circuit_module
from murvan.physics.circuit import Circuit, FanCurve
from murvan.physics.constants import VISCOSITY_PA_S
from murvan.physics.junctions import (
    Junctions,
    converging_branch,
    converging_straight,
    diverging_branch,
    diverging_straight,
)
from murvan.physics.network import solve


def any_circuit(seed: int) -> Circuit:
    """Seeded: a tree of ducts with up to two loops, its leaks, a house that leaks, and a blower with any falling table."""
    chance = np.random.default_rng(seed)
    size = int(chance.integers(4, 14))
    above = [-1] + [int(chance.integers(0, i)) for i in range(1, size)]
    house, back = size, size + 1
    rows: list[tuple[float, ...]] = []

    def duct(a: int, b: int, length: float = 0.0, across: float = 1.0, k: float = 0.0, leak: float = 0.0) -> None:
        rows.append((a, b, length, across, k, leak))

    duct(back, 0)
    for i in range(1, size):
        shut = float(chance.choice([0, chance.uniform(0, 5e3), 10 ** chance.uniform(2, 8)]))
        duct(above[i], i, chance.uniform(0.5, 15), chance.uniform(0.08, 0.5), shut)
    for _ in range(int(chance.integers(0, 3))):
        a, b = chance.choice(size, 2, replace=False)
        duct(int(a), int(b), chance.uniform(1, 9), chance.uniform(0.05, 0.3), 10 ** chance.uniform(1, 5))
    for i in set(range(1, size)) - set(above):
        duct(i, house, k=10 ** chance.uniform(2, 5))
    duct(house, back, chance.uniform(1, 10), chance.uniform(0.15, 0.5), 10 ** chance.uniform(1, 4))
    for i in range(size):
        if chance.random() < 0.3:
            duct(i, -1, leak=10 ** chance.uniform(-5, -2.5))
    duct(house, -1, leak=10 ** chance.uniform(-3, -1))
    points = int(chance.integers(2, 7))
    flow = np.cumsum(10 ** chance.uniform(-3, -0.5, points))
    rise = np.cumsum(10 ** chance.uniform(-1, 2.5, points))[::-1]
    a, b, length, across, k, leak = np.array(rows).T
    return Circuit(
        start=a.astype(np.intp),
        end=b.astype(np.intp),
        nodes=size + 2,
        length_m=length,
        area_m2=np.pi * across**2 / 4,
        hydraulic_m=across,
        roughness_m=np.full(len(a), 1e-4),
        friction_scale=np.ones(len(a)),
        k=k,
        power_c=leak,
        fans=((0, FanCurve.through(flow, rise)),),
    )


def parting(seed: int) -> Circuit:
    """The same with losses by the split of flow wherever ducts part, as a supply or as a return."""
    c, chance = any_circuit(seed), np.random.default_rng((seed, 7))
    supply = chance.random() < 0.5
    beyond: dict[int, list[int]] = {}
    for i in range(1, c.nodes - 2):
        beyond.setdefault(int(c.start[i]), []).append(i)
    rows = []
    for trunk, ducts in beyond.items():
        if trunk == 0:
            continue
        ratio = {i: c.area_m2[i] / c.area_m2[trunk] for i in ducts}
        on = ducts[0] if len(ducts) > 1 else None
        angle = float(chance.choice([45.0, 90.0]))
        others = sum(ratio[i] for i in ducts if i != on)
        for i in ducts:
            if i != on:
                way = (diverging_branch if supply else converging_branch)(angle, ratio[i])
            elif supply:
                way = diverging_straight(ratio[i], others)
            else:
                way = converging_straight(angle, ratio[i], others)
            rows.append((i, trunk, c.area_m2[i], c.area_m2[trunk], way))
    if not rows:
        return c
    own, common, area, whole, ways = zip(*rows, strict=True)
    return replace(
        c,
        junctions=Junctions(np.array(own), np.array(common), np.array(area), np.array(whole), ways, c.density_kg_m3),
    )


def parts_pa(c: Circuit, j: int, flow: np.ndarray) -> float:
    """What one branch loses where it parts from its trunk, written out anew."""
    if c.junctions is None or j not in c.junctions.own:
        return 0.0
    i = c.junctions.own.tolist().index(j)
    way, q, trunk = c.junctions.ways[i], flow[j], flow[c.junctions.common[i]]
    area, whole = c.junctions.own_m2[i], c.junctions.common_m2[i]
    here = min(max(q, 0.0), max(trunk, 0.0))
    speed, fast = here / area, max(trunk, 0.0) / whole
    split = here / trunk if trunk > 0 else 1.0
    lost = way.factor(split) * (way.a * fast**2 + way.b * fast * speed + way.c * speed**2)
    more = way.backward_c * (q * abs(q) - here**2) / area**2
    return float(c.density_kg_m3 / 2 * (lost + more))


def lost_pa(c: Circuit, j: int, q: float) -> float:
    """Of one branch, written out without the product's arrays or its friction: `fluids` for Colebrook."""
    speed = abs(q) / c.area_m2[j]
    re = max(speed * c.hydraulic_m[j] * c.density_kg_m3 / VISCOSITY_PA_S, 1e-9)
    rough = c.roughness_m[j] / c.hydraulic_m[j]
    if re < 2300:
        f = 64 / re
    elif re > 4000:
        f = Colebrook(re, rough)
    else:
        f = np.interp(re, [2300, 4000], [64 / 2300, Colebrook(4000, rough)])
    duct = f * c.length_m[j] / c.hydraulic_m[j] * c.density_kg_m3 / 2 * speed**2
    leak = (abs(q) / c.power_c[j]) ** (1 / c.power_n) if c.power_c[j] else 0.0
    blown = sum(curve.single(q)[0] for at, curve in c.fans if at == j)
    return float((1 if q > 0 else -1) * (duct + c.k[j] * q * q + leak) - blown)


def unbalanced(c: Circuit, x: np.ndarray) -> np.ndarray:
    """Every branch's mismatch [Pa] and every node's [L/s]: nothing where flows (first) and pressures are right."""
    m = len(c.start)
    q, p = x[:m], np.append(x[m:], 0.0)
    loss = [lost_pa(c, j, q[j]) + parts_pa(c, j, q) - (p[c.start[j]] - p[c.end[j]]) for j in range(m)]
    air = [1000 * (q[c.start == i].sum() - q[c.end == i].sum()) for i in range(c.nodes)]
    return np.array(loss + air)


def astray_m3_s(c: Circuit, flow: np.ndarray) -> float:
    """The most air that some node gets more than leaves it."""
    at = np.zeros(c.nodes + 1)
    np.add.at(at, c.start, flow)
    np.add.at(at, c.end, -flow)
    return float(np.abs(at[:-1]).max())


class Mass(unittest.TestCase):
    def test_what_claims_to_close_loses_no_air_wherever_it_starts(self):
        """Tables with cliffs, starts that are all but right, any tolerance: leaks set by their pressure count too."""
        closed = 0
        for seed in range(300):
            chance, c = np.random.default_rng((seed, 11)), any_circuit(seed)
            if seed % 2:
                points = int(chance.integers(6, 14))
                flow = np.cumsum(10 ** chance.uniform(-6, -1, points))
                c = replace(
                    c, fans=((0, FanCurve.through(flow, np.cumsum(10 ** chance.uniform(-5, 3, points))[::-1])),)
                )
            near = solve(c).flow_m3_s
            k = np.abs(c.k * (1 + 10 ** chance.uniform(-9, -2) * chance.standard_normal(len(c.k))))
            for first in (near, near * (1 + 1e-7), near + 1e-5 * chance.standard_normal(len(near))):
                found = solve(c, k=k, first_flow=first, tolerance_pa=10 ** chance.uniform(-8, -4))
                if found.converged:
                    closed += 1
                    self.assertLess(astray_m3_s(c, found.flow_m3_s), 1e-8, seed)
        self.assertGreater(closed, 895)


class Long(unittest.TestCase):
    def test_a_chain_of_splits_is_as_by_the_dense_way(self):
        c = chain(60)
        with mock.patch.object(circuit_module, "DEEPEST", 1000):
            dense = solve(replace(c, roughness_m=c.roughness_m.copy()))
        self.assertIsInstance(c.incidence, type(replace(c).incidence))
        self.assertNotIsInstance(c.incidence, np.ndarray)
        found = solve(c)
        self.assertTrue(found.converged and dense.converged)
        np.testing.assert_allclose(found.flow_m3_s, dense.flow_m3_s, atol=1e-9)
        np.testing.assert_allclose(found.pressure_pa, dense.pressure_pa, atol=1e-6)

    def test_a_thousand_runs_close_and_fill_hardly_in(self):
        c = chain(1000)
        found = solve(c)
        self.assertTrue(found.converged)
        self.assertLess(astray_m3_s(c, found.flow_m3_s), 1e-8)
        factor = c.together._factor("NATURAL", False)
        self.assertLess(factor.L.nnz + factor.U.nnz, 60 * len(c.start))


def chain(runs: int) -> Circuit:
    """A trunk of so many runs, a branch out of the end of each."""
    start, end, size, own, common, ways = [], [], [], [], [], []
    for j in range(runs):
        start, end = [*start, j - 1, j], [*end, j, -1]
        size += [0.6 if j < 0.6 * runs else 0.4, 0.1]
        if j:
            own, common = [*own, 2 * j, 2 * j - 1], [*common, 2 * j - 2, 2 * j - 2]
            ways += [
                diverging_straight((size[-2] / size[-4]) ** 2, 0.03),
                diverging_branch(90, (0.1 / size[-4]) ** 2),
            ]
    across = np.array(size)
    area = np.pi * across**2 / 4
    at, over = np.array(own), np.array(common)
    k = 1.2 / area**2
    k[0::2] *= 0.05
    blows = FanCurve.through(np.array([0.0, 0.02, 0.05]) * runs, np.array([300.0, 150.0, 1.0]))
    return Circuit(
        start=np.array(start),
        end=np.array(end),
        nodes=runs,
        length_m=np.tile([1.0, 3.0], runs),
        area_m2=area,
        hydraulic_m=across,
        roughness_m=np.full(2 * runs, 9e-5),
        friction_scale=np.ones(2 * runs),
        k=k,
        power_c=np.zeros(2 * runs),
        fans=((0, blows),),
        junctions=Junctions(at, over, area[at], area[over], tuple(ways), 1.2),
    )


class AnyCircuit(unittest.TestCase):
    def test_every_one_closes(self):
        for seed in range(5000):
            found = solve(any_circuit(seed))
            self.assertTrue(found.converged, seed)
            self.assertLess(found.iterations, 40, seed)

    def test_every_one_closes_where_losses_go_by_the_split(self):
        for seed in range(700):
            self.assertTrue(solve(parting(seed)).converged, seed)

    def test_what_closes_is_right(self):
        for c in [any_circuit(seed) for seed in range(80)] + [parting(seed) for seed in range(80)]:
            found = solve(c)
            x = np.concatenate([found.flow_m3_s, found.pressure_pa])
            self.assertLess(np.abs(unbalanced(c, x)).max(), 1e-5 * max(1.0, np.abs(found.pressure_pa).max()))

    def test_a_general_solver_finds_the_same(self):
        """SciPy's hybrid method, from flows a little off, wherever it comes to an end."""
        ended = 0
        for seed in range(40):
            c = parting(seed) if seed % 2 else any_circuit(seed)
            found = solve(c)
            x = np.concatenate([found.flow_m3_s, found.pressure_pa])
            other = root(lambda y, c=c: unbalanced(c, y), x * 1.02 + 1e-5, method="hybr")
            if other.success and np.abs(other.fun).max() < 1e-4:
                ended += 1
                np.testing.assert_allclose(other.x[: len(c.start)], found.flow_m3_s, atol=2e-5, err_msg=str(seed))
        self.assertGreater(ended, 15)

    def test_a_band_gives_what_the_whole_matrix_gives(self):
        for seed in range(60):
            c = replace(any_circuit(seed), junctions=None)
            with mock.patch.object(circuit_module, "FEW", 1):
                banded = replace(c)
                self.assertIsNotNone(banded.banded)
                one = solve(banded)
            with mock.patch.object(circuit_module, "WIDEST", -1):
                other = solve(replace(c))
            if one.converged and other.converged:
                np.testing.assert_allclose(one.flow_m3_s, other.flow_m3_s, rtol=1e-6, atol=1e-7, err_msg=str(seed))
            self.assertEqual(one.converged, other.converged, seed)

    def test_many_at_once_are_as_one_by_one(self):
        """A batch goes each its own share of a step: dampers from open to all but shut, behind a sharp knee."""
        for seed in (205, 272, 284, 365):
            c = any_circuit(seed)
            k = np.stack([c.k * share for share in (1.0, 10.0, 1e4)])
            batch = solve(c, k=k)
            self.assertTrue(batch.converged)
            for row, flow in zip(k, batch.flow_m3_s, strict=True):
                np.testing.assert_allclose(flow, solve(c, k=row).flow_m3_s, atol=1e-7)


if __name__ == "__main__":
    unittest.main()
