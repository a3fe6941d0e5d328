"""How the friction rate to size by and the pressure of one run come about."""

from __future__ import annotations

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.system.ducts import DUCT_PARTS, Ducts, RunResult, friction_scale
from murvan.physics import ductflow


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
            "0.9 × {0} − {1}",
            (q("pressure3", have), q("pressure3", fixed)),
            q("pressure3", max(0.9 * have - fixed, 0.0)),
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
        Line(
            "fittings",
            "{0} × {1} speed pressure",
            (q("decimal", result.fitting_c), speed),
            q("pressure3", result.fitting_pa),
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
                (q("rough", ductflow.ROUGHNESS_M[run.material]),),
                None,
            ),
            "Fitting coefficients on this run's own speed pressure: ASHRAE Fundamentals, duct design; editable by the run's fittings",
        ),
    )
