"""Pieces of runs as they are cut and carried: whole joints and the odd one, fittings, flex, dampers, faces."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, pi
from typing import NamedTuple

from murvan.design.system.boxing import frame_m
from murvan.design.system.cut_piece import STEEL_KG_M2, Draft, Stage, gauge_for
from murvan.design.system.ducts import order, run_kind, run_length_m, run_perimeter_m
from murvan.design.system.unit_design import UnitDesign
from murvan.model.job import Fitting, Ref
from murvan.model.routes import LaidRun

JOINT_M = 1.524
"""Sheet metal comes in 5 ft lengths; common practice."""
ODD = 0.05
"""Of a joint, what is left over it without a piece of its own."""

FITTING_WORDS = {
    "takeoff": "Take-off, straight",
    "takeoff45": "Take-off, 45°",
    "elbow": "Elbow, smooth",
    "elbow_gored": "Elbow, 4-piece",
    "elbow_square": "Elbow, square",
    "elbow_vanes": "Elbow with vanes",
    "bend45": "Bend, 45°",
    "reducer": "Transition",
    "boot": "Boot",
    "boot_flex_turn": "Boot, flex bent into it",
    "wye": "Wye",
    "plenum_exit": "Plenum collar",
    "plenum_entry": "Return collar",
    "end_cap": "End cap",
    "riser": "Riser boot",
}
FIRST = ("takeoff", "takeoff45", "plenum_exit", "plenum_entry", "reducer", "riser", "wye")
"""Fittings at the start of a run."""
SHORT_M = 0.3
"""Length of a fitting that is no elbow, for its sheet; common practice."""
PLACE_WORDS = {"inside": "", "attic": "attic", "crawl": "crawl space", "basement": "basement", "garage": "garage"}


class Cut(NamedTuple):
    """A piece of a run."""

    what: str
    size: tuple[float, ...]
    section: str
    stage: Stage
    length_m: float = 0.0
    gauge: int | None = None
    area_m2: float = 0.0


def run_drafts(u: UnitDesign) -> Iterator[Draft]:
    """Every run from the unit outwards, and the face it ends in."""
    names = {s.id: s.name for s in u.storeys}
    registers, rooms = {x.id: x for x in u.registers}, {r.id: r.name for r in u.rooms}
    carries = {r.parent for r in u.runs}
    for run in order(u.runs):
        where = f"{run.tag} · {PLACE_WORDS[run.lies_in] or names.get(run.storey, '') + ' ceiling'}"
        for k, x in enumerate(run_cuts(run, run.id in carries)):
            yield Draft(
                Ref("run", run.id),
                str(k),
                x.what,
                x.size,
                x.section,
                where,
                run.storey,
                x.stage,
                length_m=x.length_m,
                run=run.id,
                gauge=x.gauge,
                area_m2=x.area_m2,
                weight_kg=x.area_m2 * STEEL_KG_M2[x.gauge] if x.gauge else 0.0,
            )
        if run.register_id:
            face = registers[run.register_id]
            what = f"{'Register' if face.side == 'supply' else 'Grille'}, {face.kind.replace('_', ' ')}"
            size, of = (face.width_m, face.height_m), f"{face.tag} · {rooms[face.room]}"
            yield Draft(Ref("register", face.id), "", what, size, "Registers", of, run.storey, "Trim", run=run.id)


def run_cuts(run: LaidRun, carries: bool) -> list[Cut]:
    """Pieces of one run from its start; `carries`: other runs leave it."""
    size = (run.diameter_m,) if run.diameter_m and run.shape == "round" else (run.width_m or 0.0, run.height_m or 0.0)
    gauge, around = gauge_for(max(size)), run_perimeter_m(run)
    stage: Stage = "Trunk" if carries else "Branches"
    length = run_length_m(run)

    def fitting(f: Fitting) -> list[Cut]:
        boot = f.kind.startswith("boot")
        metres = max(size) * f.ratio * pi / 2 if f.kind.startswith("elbow") else SHORT_M
        made = Cut(FITTING_WORDS[f.kind], size, "Fittings", "Boots" if boot else stage, 0.0, gauge, around * metres)
        return [made] * f.count

    out = [x for f in run.pieces if f.kind in FIRST for x in fitting(f)]
    if run_kind(run) == "flex":
        # cut longer than it lies, by what it is not stretched
        r = f" R-{run.insulation_r_m2k_w * 5.678:.0f}" if run.insulation_r_m2k_w else ""
        out.append(Cut(f"Flex{r}", size, "Flex", stage, length / run.stretched))
    else:
        whole = max(0, ceil(length / JOINT_M - ODD) - 1)
        out += [Cut("Duct", size, "Sheet metal", stage, JOINT_M, gauge, around * JOINT_M)] * whole
        left = length - whole * JOINT_M
        odd = "Duct" if abs(left - JOINT_M) <= ODD * JOINT_M else "Duct, odd piece"
        out.append(Cut(odd, size, "Sheet metal", stage, left, gauge, around * left))
    if run.damper is not None:
        out.append(Cut("Hand damper", size, "Fittings", stage))
    if run.zone_damper:
        out.append(Cut(f"Zone damper {run.zone_damper}", size, "Fittings", stage))
    out += [x for f in run.pieces if f.kind.startswith(("elbow", "bend", "boot", "end")) for x in fitting(f)]
    if run.framed:
        out.append(Cut(f"{run.framed.capitalize()} to frame", frame_m(run), "Framing", "Rough-in", length))
    return out
