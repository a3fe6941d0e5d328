"""The circuit against pandapipes, where that is installed: a general library for pipe networks, not among Murvan's own."""

from __future__ import annotations

import importlib.util
import statistics
import time
import warnings

import numpy as np

from bench.timing import line, timed

BRANCHES = 40


def bench_pipes() -> None:
    """A comb of 40 ducts between two pressures, solved by both; flows have to agree."""
    if importlib.util.find_spec("pandapipes") is None:
        print("  against pandapipes: not installed here (pip install pandapipes numba)")
        return
    import pandapipes

    from murvan.physics.network import solve

    circuit, net = _comb(), _net()

    def ours() -> object:
        return solve(circuit, head=_head(circuit))

    def theirs() -> None:
        pandapipes.pipeflow(net, friction_model="colebrook", tol_p=1e-8, tol_m=1e-8, max_iter_hyd=100)

    theirs()
    flows, turbulent = ours().flow_m3_s, np.asarray(net.res_pipe.reynolds) > 4000
    found = np.asarray(net.res_pipe.mdot_from_kg_per_s) / RHO
    off = float(np.abs(found / flows - 1)[turbulent].max())
    ratios = []
    for _ in range(9):  # in turn: the machine's clock changes
        mine, t0 = timed(ours, 15, 2), time.perf_counter()
        theirs()
        ratios.append(1000 * (time.perf_counter() - t0) / mine)
    ratio = statistics.median(ratios)
    line(f"  against pandapipes, {BRANCHES} branches, flows within {off:.1%}", f"{ratio:.0f}x", ">= 30x", ratio >= 30)


RHO, PRESSURE_PA = 1.2, 60.0
N = BRANCHES // 2
TRUNK_M, BRANCH_M = (1.0, 0.35), (4.0, 0.15)
ROUGH_M, LOSS = 9e-5, 2.0


def _comb() -> object:
    """A trunk of N pieces with a branch out of the end of each; the trunk starts at node -1 behind a head."""
    from murvan.physics.circuit import Circuit

    start, end, length, size = [], [], [], []
    for j in range(N):
        start += [j - 1, j]
        end += [j, -1]
        length += [TRUNK_M[0], BRANCH_M[0]]
        size += [TRUNK_M[1], BRANCH_M[1]]
    d = np.array(size)
    area = np.pi * d**2 / 4
    m = len(start)
    return Circuit(
        start=np.array(start),
        end=np.array(end),
        nodes=N,
        length_m=np.array(length),
        area_m2=area,
        hydraulic_m=d,
        roughness_m=np.full(m, ROUGH_M),
        friction_scale=np.ones(m),
        k=LOSS * 0.5 * RHO / area**2,
        power_c=np.zeros(m),
        density_kg_m3=RHO,
    )


def _head(circuit: object) -> np.ndarray:
    head = np.zeros(len(circuit.start))
    head[0] = PRESSURE_PA
    return head


def _net() -> object:
    import pandapipes as pp

    warnings.simplefilter("ignore")
    net = pp.create_empty_network(
        fluid=pp.create_constant_fluid("air", "liquid", density=RHO, viscosity=1.82e-5, heat_capacity=1006.0)
    )
    first = pp.create_junction(net, pn_bar=1.0, tfluid_k=293.15)
    out = pp.create_junction(net, pn_bar=1.0, tfluid_k=293.15)
    pp.create_ext_grid(net, first, p_bar=1.0 + PRESSURE_PA / 1e5, t_k=293.15)
    pp.create_ext_grid(net, out, p_bar=1.0, t_k=293.15)
    before = first
    for _ in range(N):
        here = pp.create_junction(net, pn_bar=1.0, tfluid_k=293.15)
        for a, b, (length, size) in ((before, here, TRUNK_M), (here, out, BRANCH_M)):
            pp.create_pipe_from_parameters(
                net, a, b, length / 1000, inner_diameter_mm=size * 1000, k_mm=ROUGH_M * 1000, loss_coefficient=LOSS
            )
        before = here
    return net
