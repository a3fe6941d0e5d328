"""The pressure in a room whose door is shut, in figures."""

from __future__ import annotations

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.circuit.frame import DOOR_CRACKS_M2
from murvan.design.circuit.network import Network
from murvan.design.circuit.situations import DOORS_SHUT
from murvan.model.job import Transfer
from murvan.physics.ductflow import orifice_constant


def explain_door(network: Network, room_id: str, transfer: Transfer, width_m: float) -> Arithmetic:
    """From the ways back past the shut door, and the air that takes them, to the pressure."""
    q = Quantity
    under = transfer.undercut_m * width_m
    extra = transfer.area_m2 if transfer.kind != "undercut" else 0.0
    at_1_pa = orifice_constant(under + extra + DOOR_CRACKS_M2)
    flow = float(abs(network.solution.flow_m3_s[network.layout.at(DOORS_SHUT), network.layout.door_branch[room_id]]))
    lines = [
        Line(
            "undercut", "{0} × {1}", (q("side", width_m), q("side2", transfer.undercut_m)), q("small_area", under, 1)
        )
    ]
    if extra:
        lines.append(Line("jump duct" if transfer.kind == "jump" else "grille", "", (), q("small_area", extra)))
    lines.append(Line("cracks about the door", "", (), q("small_area", DOOR_CRACKS_M2, 1)))
    lines.append(Line("back through them", "", (), q("flow", flow, 1)))
    lines.append(Line("they let through at 1 Pa", "", (), q("flow", at_1_pa, 1)))
    shut = (q("flow", flow, 1), q("flow", at_1_pa, 1), q("pascal", 1.0))
    lines.append(Line("Shut", "({0} ÷ {1})² × {2}", shut, q("pascal", (flow / at_1_pa) ** 2), True))
    sources = ("Q = 1.07 A √dP, cfm, in², Pa: common practice; limit 3 Pa; flow by the network solve",)
    return Arithmetic("Door shut", tuple(lines), sources)
