"""How a U-factor came about: bay and stud each in series, then side by side by area."""

from __future__ import annotations

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.house.surfaces import assembly
from murvan.model.job import Construction

SOURCES = (
    "Films and layers in series, stud and bay in parallel; ASHRAE Fundamentals ch. 27",
    "Layer values: Murvan default, editable layer by layer",
)


def explain_u(construction: Construction, loss: tuple[float, float] | None = None) -> Arithmetic:
    """The arithmetic of an assembly's U-factor; `loss` (area m2, difference K) adds what a surface of it loses."""
    a, q = assembly(construction), Quantity
    sum_ = " + ".join(f"{{{k}}}" for k in range(len(construction.layers) + 1))
    bay = (q("r_layer", a.films), *(q("r_layer", x.resistance_m2k_w) for x in construction.layers))
    label = "bay" if construction.framing_fraction else ""
    lines = [Line(label, sum_, bay, q("r_layer", a.r_cavity))]
    if construction.framing_fraction:
        wood = tuple(q("r_layer", x.along_framing_m2k_w) for x in construction.layers)
        lines.append(Line("wood", sum_, (bay[0], *wood), q("r_layer", a.r_framing)))
        shares = (
            q("decimal", 1 - construction.framing_fraction),
            q("r_layer", a.r_cavity),
            q("decimal", construction.framing_fraction),
            q("r_layer", a.r_framing),
        )
        lines.append(Line("U side by side", "{0} ÷ {1} + {2} ÷ {3}", shares, q("u_factor", a.u_w_m2k), True))
    else:
        lines.append(Line("U", "1 ÷ {0}", (q("r_layer", a.r_cavity),), q("u_factor", a.u_w_m2k), True))
    if loss is not None:
        area, difference = loss
        lines.append(
            Line(
                "",
                "{0} × {1} × {2}",
                (q("area", area), q("u_factor", a.u_w_m2k), q("difference", difference)),
                q("power", area * a.u_w_m2k * difference),
            )
        )
    sources = SOURCES if not construction.assumed else (*SOURCES, "Assembly assumed by age and look, not looked at")
    return Arithmetic("U-factor", tuple(lines), sources)
