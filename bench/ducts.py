"""Layouts, situations in one batch, and a joint that is dragged."""

from __future__ import annotations

from itertools import combinations

from bench.timing import line, timed


def bench_layouts() -> None:
    from murvan.demo import demo_job
    from murvan.design import solve
    from murvan.design.lay import layouts

    for which in ("demo", "bungalow", "narrow"):
        r = solve(demo_job(which))
        ms = timed(lambda r=r: layouts(r, "unit1"), 3, 1)
        line(f"layouts for {which}, {len(r.job.rooms)} rooms", f"{ms / 1000:.2f} s", "under 1 s", ms < 1000)


def bench_situations() -> None:
    from murvan.demo import demo_job
    from murvan.design import solve
    from murvan.design.circuit.frame import AirSystem, build
    from murvan.design.circuit.network import situation_k
    from murvan.design.study.calls import calls_of, situation
    from murvan.physics.network import solve as solve_circuit

    r = solve(demo_job())
    calls = [(c.kind, c.id) for c in calls_of(r) if c.kind in ("door", "zone", "filter")]
    states = tuple(situation(r, frozenset(two)) for two in list(combinations(calls, 2))[:16])
    s = r.systems["unit1"]
    part = AirSystem(s.design, s.unit, {}, {}, s.airflow.total_m3_s)
    circuit, layout = build(r.job, r.geometry, [part], r.conditions.density_kg_m3, states)
    k = situation_k(circuit, layout)

    def batch() -> None:
        found = solve_circuit(circuit, k=k, injection=layout.injection, tolerance_pa=1e-10)
        assert found.converged

    ms = timed(batch, 20)
    line(f"{len(states)} situations of the demo in one batch", f"{ms:.1f} ms", "under 25 ms", ms < 25)


def bench_drag() -> None:
    """A take-off dragged along its trunk: the edit and the figures it moves, as the window works them out."""
    from murvan.demo import demo_job
    from murvan.design import solve
    from murvan.design.lay.drawing import path_of
    from murvan.design.lay.moving import move_stretch

    job = demo_job("bungalow")
    base = solve(job)
    run = next(x for x in job.design.runs if x.register_id and x.side == "supply" and len(path_of(job, x)) > 2)
    state = {"k": 0, "r": base}

    def step() -> None:
        state["k"] += 1
        by = 0.02 * (1 + state["k"] % 2)
        state["r"] = solve(move_stretch(job, run.id, 1, (by, by)).job, state["r"])

    ms = timed(step, 30)
    line("a stretch of run moved and solved anew", f"{ms:.1f} ms", "under 33 ms", ms < 33)


def bench_zones() -> None:
    """Five zones of the demo, each with a damper in its branches: 31 combinations, doors open and shut."""
    from murvan.design import solve
    from murvan.design.circuit.frame import AirSystem
    from murvan.design.circuit.network import in_states
    from murvan.design.circuit.situations import Situation
    from murvan.design.zones.calling import zone_calls
    from tests.design.zones.test_calling import zoned
    from tests.houses import demo

    groups = (("living",), ("dining", "kitchen"), ("bed1",), ("bed2",), ("bed3", "bed4"))
    r = solve(zoned(demo(), *groups))
    zones = [z.id for z in r.job.design.zones]
    every = frozenset(zones)
    calls = [c for n in range(1, len(zones) + 1) for c in combinations(zones, n)]
    states = tuple(Situation(str(k), closed=every - frozenset(c)) for k, c in enumerate(calls))
    parts = [AirSystem.of(s.design, s.unit, s.ducts, s.airflow) for s in r.systems.values() if s.unit is not None]
    network = r.network
    assert network is not None
    ms = timed(lambda: in_states(r.job, parts, network, states), 10)
    line(f"air of {len(states)} combinations of five zones in one batch", f"{ms:.0f} ms", "under 25 ms", ms < 25)
    ms = timed(lambda: zone_calls(r), 10)
    line("  with doors open and shut, coil, noise and findings", f"{ms:.0f} ms", "under 25 ms", ms < 25)


def bench_patterns() -> None:
    """All sheet metal of the demo laid flat, no pattern known before."""
    from murvan.design.metal import pieces
    from murvan.model.shop import Shop
    from tests.houses import demo_results

    r = demo_results()

    def all_of_it() -> None:
        pieces._patterns.cache_clear()
        pieces.shop_pieces(r, Shop())

    ms = timed(all_of_it, 5)
    line("flat patterns of the demo", f"{ms:.0f} ms", "under 1 s", ms < 1000)
