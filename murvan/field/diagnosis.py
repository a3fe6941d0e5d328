"""Suspects: which single fault would explain the readings best.

Each hypothesis has one strength (a factor on a resistance); the air circuit is solved for a ladder of strengths in
one batch, and the one that leaves the least misfit counts. Weight = exp(-misfit^2/2) x how often such a fault is
met (common practice), normalised over all hypotheses, with 'as designed' among them.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from murvan.arrays import Array
from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.circuit import Layout
from murvan.design.results import Results
from murvan.design.units import fan_curve
from murvan.field.verdict import Verdict
from murvan.model.job import Job
from murvan.physics.circuit import Circuit
from murvan.physics.network import branch_loss, solve
from murvan.units import CFM

Misfit = Callable[[Array], tuple[Array, Array]]

LADDER = np.array([1.5, 2.0, 3.0, 4.5, 7.0, 11.0, 18.0, 30.0])
COMMON = {"kinked_flex": 0.35, "damper_shut": 0.2, "boot": 0.1, "loaded_filter": 0.2, "low_tap": 0.1, "none": 0.05}
SIGMA_SHARE, SIGMA_M3_S = 0.05, 3 * CFM
TRY = {
    "kinked_flex": "Feel for a fold or a tight strap",
    "damper_shut": "Look at its handle at the take-off",
    "boot": "Look into boot and blades",
    "loaded_filter": "Take the filter out and read again",
    "low_tap": "Read the blower's tap at its board",
    "none": "Everything within the instruments' reach",
}


@dataclass(frozen=True)
class Suspect:
    """One explanation. `misfit_m3_s` is root mean square, `factor` the resistance it needs against the design."""

    kind: str
    place: str
    title: str
    what_to_try: str
    weight: float
    """Its part of what all explanations weigh, 0..1."""
    misfit_m3_s: float
    misfit_before_m3_s: float
    factor: float


def suspects(
    job: Job, r: Results, v: Verdict, most: int = 5, cancelled: Callable[[], bool] = lambda: False
) -> tuple[Suspect, ...]:
    """Ranked explanations of the register readings; empty with fewer than three readings, or when cancelled."""
    rows = [x for x in v.registers.values() if x.measured is not None]
    n = r.network
    if n is None or len(rows) < 3:
        return ()
    on_a_run = [x for x in rows if x.register in n.layout.register_branch]
    branches = np.array([n.layout.register_branch[x.register] for x in on_a_run])
    measured = np.array([x.measured for x in on_a_run], float)
    own = np.array([x.reading.uncertainty if x.reading is not None else SIGMA_SHARE for x in on_a_run])
    # what the model leaves out stays, however good the instrument
    sigma = np.maximum(np.maximum(own, SIGMA_SHARE) * measured, SIGMA_M3_S)

    def misfit(flows: Array) -> tuple[Array, Array]:
        off = flows[..., branches] - measured
        return np.sqrt((off**2).mean(-1)), ((off / sigma) ** 2).sum(-1)

    plain = n.solution.flow_m3_s[0]
    before, chi_before = misfit(plain)
    found: list[tuple[str, str, str, float, float, float]] = [
        ("none", "", "As designed", float(before), float(chi_before), 1.0)
    ]
    run_of = {x.register_id: x for x in job.design.runs if x.register_id}
    low = sorted(rows, key=lambda x: (x.measured or 0.0) / max(x.design, 1e-9))[:3]
    for row in low:
        run = run_of.get(row.register)
        if run is None:
            continue
        for kind, title in (
            ("kinked_flex", f"Kinked flex, run {run.tag}"),
            ("damper_shut", f"Hand damper {run.tag} partly shut"),
            ("boot", f"Boot or blades of {run.tag} blocked"),
        ):
            if (kind == "kinked_flex" and not run.made_of.bends) or (kind == "damper_shut" and run.damper is None):
                continue
            if cancelled():
                return ()
            found.append(
                (kind, run.id, title, *_best(n.circuit, plain, n.layout.run_branch[run.id], misfit, n.layout))
            )
    blown = [x for x in r.systems.values() if x.unit is not None and x.blower is not None]
    for x in blown:
        place, indoor = n.layout.units[x.design.id], x.design.indoor
        of = f" of {indoor.tag}" if len(blown) > 1 else ""
        loaded = _best(n.circuit, plain, place.filter_branch, misfit, n.layout)
        found.append(("loaded_filter", indoor.id, f"Loaded filter{of}", *loaded))
        if indoor.tap > 1 and x.unit is not None:
            low_tap = fan_curve(x.unit, indoor.tap - 1, r.conditions.density_kg_m3)
            fans = tuple((b, low_tap if b == place.blower_branch else c) for b, c in n.circuit.fans)
            flows = solve(replace(n.circuit, fans=fans), first_flow=plain, injection=n.layout.injection[0]).flow_m3_s
            rms, chi = misfit(flows)
            found.append(("low_tap", indoor.id, f"Blower{of} one tap low", float(rms), float(chi), 1.0))
    return _rank(found, float(before), most)


def _best(c: Circuit, first: Array, branch: int, misfit: Misfit, layout: Layout) -> tuple[float, float, float]:
    """Least misfit over the ladder of strengths: (rms, chi squared, factor)."""
    k = np.repeat(c.k[None, :], len(LADDER), axis=0)
    # resistance of the branch as a whole at its design flow, put into the quadratic term
    q = max(abs(float(first[branch])), 1e-3)
    own = abs(float(branch_loss(c, first.copy())[0][branch])) / q**2
    k[:, branch] += (LADDER - 1) * own
    flows = solve(c, k=k, first_flow=first, injection=layout.injection[0]).flow_m3_s
    rms, chi = misfit(flows)
    i = int(np.argmin(chi))
    return float(rms[i]), float(chi[i]), float(LADDER[i])


def _rank(found: list[tuple[str, str, str, float, float, float]], before: float, most: int) -> tuple[Suspect, ...]:
    least = min(f[4] for f in found)
    weights = np.array([COMMON[f[0]] * np.exp(-0.5 * (f[4] - least)) for f in found])
    weights /= weights.sum()
    order = np.argsort(-weights)[:most]
    return tuple(
        Suspect(
            found[i][0],
            found[i][1],
            found[i][2],
            TRY[found[i][0]],
            float(weights[i]),
            found[i][3],
            before,
            found[i][5],
        )
        for i in order
    )


def explain(s: Suspect) -> Arithmetic:
    """How well a suspect explains the readings."""
    q = Quantity
    gained = 1 - (s.misfit_m3_s / s.misfit_before_m3_s) ** 2 if s.misfit_before_m3_s > 0 else 0.0
    return Arithmetic(
        s.title,
        (
            Line("misfit as designed", "", (), q("flow", s.misfit_before_m3_s, 1)),
            Line(f"same, with its resistance {s.factor:g} times", "", (), q("flow", s.misfit_m3_s, 1)),
            Line(
                "Explained",
                "1 − ({0} ÷ {1})²",
                (q("flow", s.misfit_m3_s, 1), q("flow", s.misfit_before_m3_s, 1)),
                q("percent", gained),
                True,
            ),
        ),
        (
            "Misfit: root mean square of model less reading",
            "Rank: fit × how often such a fault is met, common practice",
        ),
    )
