"""The jump duct that lets a shut room's air back."""

from __future__ import annotations

from math import pi, sqrt

from murvan.design.circuit.frame import DOOR_CRACKS_M2
from murvan.design.circuit.network import Network
from murvan.design.circuit.situations import CLEAN
from murvan.design.drawing.rooms import Drawn
from murvan.design.house.passages import Passage, ways
from murvan.model.edit import replace
from murvan.model.errors import JobValueError
from murvan.model.house import Transfer
from murvan.model.job import Job
from murvan.physics.ductflow import orifice_constant
from murvan.units import INCH

JUMPS_M = tuple(d * INCH for d in (6, 7, 8, 9, 10, 12, 14, 16, 18, 20))
"""Diameters that are stocked, common practice."""


def jump_for(network: Network, way: Passage, limit_pa: float) -> Transfer | None:
    """A stocked jump duct that keeps a room below `limit_pa` with its door shut; None where none is so large.

    Undercut, cracks and duct side by side at the limit, for the air that comes by with the door open, which is no less
    than comes at the limit: Q = 1.07 A sqrt(dP), cfm and in2, common practice.
    """
    door = way.door
    assert door is not None
    flow = abs(float(network.solution.flow_m3_s[network.layout.at(CLEAN.key), network.layout.door_branch[way.room]]))
    whole = flow / (orifice_constant(1.0) * sqrt(limit_pa))
    extra = whole - way.transfer.undercut_m * door.width_m - DOOR_CRACKS_M2
    area = next((a for d in JUMPS_M if (a := pi * d**2 / 4) >= extra), None)
    return Transfer(kind="jump", area_m2=area, undercut_m=way.transfer.undercut_m) if area is not None else None


def with_jumps(job: Job, network: Network, limit_pa: float) -> tuple[Job, tuple[str, ...]]:
    """The job with a jump duct for every room that stands over `limit_pa` with its door shut, and those rooms' names."""
    home = ways(job).home
    fitted = {
        i: jump
        for i, way in home.items()
        if way.door and abs(network.room_pressure_pa[i]) > limit_pa and (jump := jump_for(network, way, limit_pa))
    }
    for i, jump in fitted.items():
        job = replace(job, "rooms", i, transfer=jump)
    return job, tuple(r.name for r in job.rooms if r.id in fitted)


def next_transfer(job: Job, network: Network | None, opening: str, limit_pa: float) -> Drawn:
    """The job with another way back for the air of a shut door's room: a grille, a jump duct, the undercut alone, in turn.

    They are as large as keeps the room below the limit; without an air circuit as a 10 in duct.

    Raises:
        JobValueError: it is no inside door by which a room's air gets back.
    """
    home = ways(job).home
    room = next((i for i, way in home.items() if way.door is not None and way.door.id == opening), None)
    if room is None:
        raise JobValueError("A transfer stands at an inside door; press on one.")
    name = next(r.name for r in job.rooms if r.id == room)
    now = home[room].transfer
    kind = {"undercut": "grille", "grille": "jump", "jump": "undercut"}[now.kind]
    found = (
        jump_for(network, home[room], limit_pa)
        if network is not None and room in network.layout.door_branch
        else None
    )
    area = 0.0 if kind == "undercut" else found.area_m2 if found is not None else pi * USUAL_M**2 / 4
    new = Transfer(kind=kind, area_m2=area, undercut_m=now.undercut_m)  # type: ignore[arg-type]
    return Drawn(replace(job, "rooms", room, transfer=new), "room", room, f"{name}: {WORDS[kind]}")


USUAL_M = 10 * INCH
WORDS = {"undercut": "undercut alone", "grille": "transfer grille", "jump": "jump duct"}
