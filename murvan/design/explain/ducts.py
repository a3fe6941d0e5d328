"""How the friction rate to size by and the pressure of one run come about."""

from __future__ import annotations

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.ducts.parting import branch_deg
from murvan.design.ducts.runs import DUCT_PARTS, SPARE, Ducts, RunResult, friction_scale


def explain_rate(ducts: Ducts) -> Arithmetic:
    """The friction rate to size by: what is left for ducts over the longest effective length."""
    q = Quantity
    fixed = sum(b.pressure_pa for b in ducts.budget if b.name not in DUCT_PARTS)
    chain = [ducts.runs[i] for i in (*ducts.longest_supply, *ducts.longest_return)]
    length, fittings = sum(x.length_m for x in chain), sum(x.equivalent_length_m for x in chain)
    have = min(ducts.available_pa, ducts.limit_pa)
    lines = [
        Line("blower gives", "at the design air, within its limit", (), q("pressure3", have)),
        Line(
            "for ducts",
            f"{SPARE:g} × {{0}} − {{1}}",
            (q("pressure3", have), q("pressure3", fixed)),
            q("pressure3", max(SPARE * have - fixed, 0.0)),
        ),
        Line(
            "longest way",
            "{0} + {1} of fittings",
            (q("length", length, 0), q("length", fittings, 0)),
            q("length", length + fittings, 0),
        ),
        Line("Friction rate to size by", "", (), q("friction", ducts.friction_rate_pa_m), True),
    ]
    return Arithmetic(
        "Friction rate",
        tuple(lines),
        ("Less filter, heater, grille, outlet and zone damper; 10 % kept for what is not drawn",),
    )


def explain_run(result: RunResult, ducts: Ducts) -> Arithmetic:
    """One run's pressure."""
    q = Quantity
    run = result.run
    speed = q("pressure4", result.velocity_pa)
    lines = [
        Line(
            "speed",
            "{0} ÷ {1}",
            (q("flow_m3", result.flow_m3_s), q("cross", result.area_m2)),
            q("velocity", result.velocity_m_s),
        ),
        Line(
            "friction",
            "{0} × {1} ÷ {2}",
            (q("friction", result.friction_pa_m), q("length", result.length_m), q("per_100", 1.0)),
            q("pressure3", result.friction_pa),
        ),
        *_parting(result, ducts, speed),
        Line(
            "fittings",
            "{0} × {1} speed pressure",
            (q("decimal", result.fitting_c - result.parting_c), speed),
            q("pressure3", result.fitting_pa - result.parting_c * result.velocity_pa),
        ),
    ]
    if run.damper is not None:
        c = q("decimal", result.damper_c)
        label = f"damper, {round(run.damper * 100)} % open" if run.damper > 0 else "damper, shut"
        lines.append(Line(label, "{0} × {1} speed pressure", (c, speed), q("pressure3", result.damper_pa)))
    lines.append(Line(f"Run {run.tag}", "", (), q("pressure3", result.pressure_drop_pa), True))
    if result.ends_in:
        lines.append(Line("whole path", "plenum to room, damper open", (), q("pressure3", result.path_pa)))
    flex = (
        f"; flex {run.stretched * 100:.0f} % stretched × {friction_scale(run):.2f}" if run.material == "flex" else ""
    )
    return Arithmetic(
        "Pressure of this run",
        tuple(lines),
        (
            Line(
                "",
                f"Darcy-Weisbach with Colebrook, roughness {{0}}{flex}",
                (q("rough", run.made_of.roughness_m),),
                None,
            ),
            "Fitting coefficients on this run's own speed pressure: ASHRAE Fundamentals, duct design; editable by the run's fittings",
            *(("Where ducts part and join: Crane TP 410, by the split",) if result.way is not None else ()),
        ),
    )


def way_words(result: RunResult) -> str:
    """What the way through its first joint is called."""
    branch = branch_deg(result.run) is not None
    if result.run.side == "supply":
        return "off its trunk" if branch else "on past a branch"
    return "into its trunk" if branch else "where a branch joins"


def _parting(result: RunResult, ducts: Ducts, speed: Quantity) -> tuple[Line, ...]:
    """What the way through the first joint loses: speed of the trunk over its own, r, and the share of its air."""
    q, way, run = Quantity, result.way, result.run
    if way is None or run.parent is None or result.flow_m3_s <= 0:
        return ()
    trunk = ducts.runs[run.parent]
    share, ratio = result.flow_m3_s / trunk.flow_m3_s, trunk.velocity_m_s / result.velocity_m_s
    factor = way.factor(share)
    signs = ["−" if x < 0 else "+" for x in (way.b, way.c)]
    return (
        Line(
            "split",
            "{0} ÷ {1}",
            (q("flow_m3", result.flow_m3_s), q("flow_m3", trunk.flow_m3_s)),
            q("percent", share),
            adds=False,
        ),
        Line(
            "speed of trunk",
            "{0} ÷ {1}",
            (q("velocity", trunk.velocity_m_s), q("velocity", result.velocity_m_s)),
            q("decimal", ratio),
            adds=False,
        ),
        Line(
            "coefficient",
            f"{{0}} × ({{1}} × {{2}}² {signs[0]} {{3}} × {{2}} {signs[1]} {{4}})",
            (
                q("decimal", factor),
                q("decimal", way.a),
                q("decimal", ratio),
                q("decimal", abs(way.b)),
                q("decimal", abs(way.c)),
            ),
            q("decimal", result.parting_c),
            adds=False,
        ),
        Line(
            way_words(result),
            "{0} × {1} speed pressure",
            (q("decimal", result.parting_c), speed),
            q("pressure3", result.parting_c * result.velocity_pa),
        ),
    )
