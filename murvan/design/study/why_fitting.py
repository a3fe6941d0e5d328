"""Why this fitting: what another one at the same place would save in pressure and bring in air, by the circuit."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from murvan.design.circuit.network import NEAR_PA, Network
from murvan.design.ducts.parting import branch_deg, junctions_of
from murvan.design.ducts.runs import RunResult, fitting_coefficient, run_area_m2
from murvan.design.results import Results
from murvan.kinds.fittings import FITTINGS
from murvan.model.design import Fitting
from murvan.model.routes import LaidRun
from murvan.physics.junctions import diverging_branch
from murvan.physics.network import solve

ROUND_RATIO = 1.5
"""Centre-line radius over diameter of a long bend; common practice."""


@dataclass(frozen=True)
class Instead:
    """One fitting of a run, and another in its place."""

    now: str
    """In words."""
    other: str
    saves_pa: float
    """At the run's design air; below 0 it costs so much."""
    brings_m3_s: float
    """More air through the run by the circuit, all else as it is."""


def instead(r: Results, x: RunResult) -> tuple[Instead, ...]:
    """Every fitting of a run against another that does the same, what saves most first; empty without a circuit."""
    n = r.network
    if n is None or x.run.id not in n.layout.run_branch:
        return ()
    before, out = n.run_m3_s[x.run.id], []
    for k, (words, other) in _others(x.run):
        pieces = (*x.run.pieces[:k], *other, *x.run.pieces[k + 1 :])
        made = x.run.model_copy(update={"pieces": pieces})
        less = fitting_coefficient(x.run) - fitting_coefficient(made)
        saves = less * x.velocity_pa + _off_trunk_pa(r, x, x.run) - _off_trunk_pa(r, x, made)
        after = _flow(r, n, made, -less)
        if after is not None:
            now = FITTINGS[x.run.pieces[k].kind].name
            out.append(Instead(now, words, saves, after - before))
    return tuple(sorted(out, key=lambda i: -i.saves_pa))


def _off_trunk_pa(r: Results, x: RunResult, made: LaidRun) -> float:
    """What a supply run loses on its way off the trunk, with other pieces."""
    deg, trunk = branch_deg(made), r.runs.get(x.run.parent or "")
    if deg is None or trunk is None or x.run.side != "supply" or trunk.flow_m3_s <= 0:
        return 0.0
    way = diverging_branch(deg, x.area_m2 / trunk.area_m2)
    speeds = way.a * trunk.velocity_m_s**2 + way.b * trunk.velocity_m_s * x.velocity_m_s + way.c * x.velocity_m_s**2
    return way.factor(x.flow_m3_s / trunk.flow_m3_s) * 0.5 * r.conditions.density_kg_m3 * speeds


def _others(run: LaidRun) -> Iterator[tuple[int, tuple[str, tuple[Fitting, ...]]]]:
    """Place of a fitting in its run, with what could be there instead."""
    for k, f in enumerate(run.pieces):
        for words, kinds in OTHERS.get(f.kind, ()):
            if f.kind == "elbow" and kinds == (("elbow", ROUND_RATIO),) and f.ratio >= ROUND_RATIO:
                continue
            made = tuple(Fitting(kind=kind, ratio=ratio, count=f.count) for kind, ratio in kinds)  # type: ignore[arg-type]
            yield k, (words, made)


OTHERS: dict[str, tuple[tuple[str, tuple[tuple[str, float], ...]], ...]] = {
    "boot_flex_turn": (("hard elbow, straight boot", (("elbow", 1.0), ("boot", 1.0))),),
    "boot": (("flex bent into it", (("boot_flex_turn", 1.0),)),),
    "takeoff": (("at 45°", (("takeoff45", 1.0),)),),
    "takeoff45": (("straight off", (("takeoff", 1.0),)),),
    "elbow": (("long bend", (("elbow", ROUND_RATIO),)),),
    "elbow_gored": (("smooth bend", (("elbow", ROUND_RATIO),)),),
    "elbow_square": (("with vanes", (("elbow_vanes", 1.0),)),),
    "elbow_vanes": (("without vanes", (("elbow_square", 1.0),)),),
}
"""By kind, what does the same in words and as fittings."""


def _flow(r: Results, n: Network, made: LaidRun, coefficient: float) -> float | None:
    """Air through a run with other pieces, doors open and filters clean; None where the circuit does not close.

    Args:
        coefficient: What its pieces lose more than those it has, on its own speed.
    """
    c, branch = n.circuit, n.layout.run_branch
    k = c.k.copy()
    k[branch[made.id]] += coefficient * 0.5 * c.density_kg_m3 / run_area_m2(made) ** 2
    runs = tuple(made if x.id == made.id else x for s in r.systems.values() for x in s.design.runs)
    parting = junctions_of(runs, [run_area_m2(x) for x in runs], branch, c.density_kg_m3)
    found = solve(
        replace(c, junctions=parting if parting.ways else None),
        k=k,
        first_flow=n.solution.flow_m3_s[0],
        injection=n.layout.injection[0],
        tolerance_pa=NEAR_PA,
    )
    return float(found.flow_m3_s[branch[made.id]]) if found.converged else None
