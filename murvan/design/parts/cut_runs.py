"""Pieces of runs as they are cut and carried: whole joints and the odd one, fittings, flex, dampers, faces."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, pi

from murvan.design.ducts.boxing import frame_m
from murvan.design.ducts.runs import order, run_length_m, run_perimeter_m
from murvan.design.parts.cut_piece import Draft, Stage, of_material
from murvan.design.sameness import Once
from murvan.design.units.unit_design import UnitDesign
from murvan.kinds.duct_materials import DUCT_MATERIALS
from murvan.kinds.fittings import FITTINGS, FittingKind
from murvan.model.job import Fitting, Ref
from murvan.model.routes import LaidRun
from murvan.units import R_IP

STRAIGHT, ODD_PIECE = "straight", ", odd piece"
ODD = 0.05
"""Of a joint, what is left over it without a piece of its own."""
SHORT_M = 0.3
"""Length of a fitting that is no elbow, for its sheet; common practice."""
PLACE_WORDS = {"inside": "", "attic": "attic", "crawl": "crawl space", "basement": "basement", "garage": "garage"}


def run_drafts(u: UnitDesign) -> Iterator[Draft]:
    """Every run from the unit outwards, and the face it ends in."""
    names = {s.id: s.name for s in u.storeys}
    registers, rooms = {x.id: x for x in u.registers}, {r.id: r.name for r in u.rooms}
    carries = {r.parent for r in u.runs}
    for run in order(u.runs):
        where = f"{run.tag} · {PLACE_WORDS[run.lies_in] or names.get(run.storey, '') + ' ceiling'}"
        yield from CUT.of(run.id, (run, run.id in carries, where), _placed)
        if run.register_id:
            face = registers[run.register_id]
            what = f"{'Register' if face.side == 'supply' else 'Grille'}, {face.kind.replace('_', ' ')}"
            size, of = (face.width_m, face.height_m), f"{face.tag} · {rooms[face.room]}"
            yield Draft(
                Ref("register", face.id),
                "",
                what,
                size,
                "Registers",
                of,
                run.storey,
                "Trim",
                run=run.id,
                priced="register",
            )


CUT = Once()


def _placed(run: LaidRun, carries: bool, where: str) -> list[Draft]:
    return [x._replace(part=str(k), where=where) for k, x in enumerate(run_cuts(run, carries))]


def run_cuts(run: LaidRun, carries: bool) -> list[Draft]:
    """Pieces of one run from its start; `carries`: other runs leave it."""
    stage: Stage = "Trunk" if carries else "Branches"
    kinds = [(f, FITTINGS[f.kind]) for f in run.pieces]
    out = [x for f, kind in kinds if kind.first for x in _fitting(run, f, kind, stage)]
    out += _straight(run, stage)
    if run.has_damper:
        out.append(_piece(run, "Hand damper", "Fittings", stage)._replace(priced="damper"))
    if run.zone_damper:
        zone = _piece(run, f"Zone damper {run.zone_damper}", "Fittings", stage)
        out.append(zone._replace(priced="zone_damper"))
    out += [x for f, kind in kinds if kind.at_end for x in _fitting(run, f, kind, stage)]
    if run.framed:
        framed = _piece(run, f"{run.framed.capitalize()} to frame", "Framing", "Rough-in", run_length_m(run))
        out.append(framed._replace(size=frame_m(run), priced="framing"))
    return out


def _piece(run: LaidRun, what: str, section: str, stage: Stage, length_m: float = 0.0, form: str = "") -> Draft:
    size = (run.diameter_m,) if run.diameter_m and run.shape == "round" else (run.width_m or 0.0, run.height_m or 0.0)
    at = Ref("run", run.id)
    return Draft(at, "", what, size, section, "", run.storey, stage, form=form, length_m=length_m, run=run.id)


def _fitting(run: LaidRun, f: Fitting, kind: FittingKind, stage: Stage) -> list[Draft]:
    made = _piece(run, kind.name, "Fittings", "Boots" if kind.form == "boot" else stage, form=kind.id)._replace(
        priced="fitting"
    )
    metres = max(made.size) * f.ratio * pi / 2 if kind.turns else SHORT_M
    material = DUCT_MATERIALS[run.made_of.fittings or run.material]
    return [of_material(made, material, run_perimeter_m(run) * metres)] * f.count


def _straight(run: LaidRun, stage: Stage) -> Iterator[Draft]:
    """Whole lengths of its material and what is left."""
    m, length = run.made_of, run_length_m(run)
    if m.bends:
        # cut longer than it lies, by what it is not stretched
        r = f" R-{run.insulation_r_m2k_w / R_IP:.0f}" if run.insulation_r_m2k_w else ""
        made = _piece(run, f"{m.piece}{r}", m.section, stage, length / run.stretched, STRAIGHT)
        yield made._replace(material=m.id)
        return
    whole = max(0, ceil(length / m.joint_m - ODD) - 1)
    left = length - whole * m.joint_m
    odd = "" if abs(left - m.joint_m) <= ODD * m.joint_m else ODD_PIECE
    for long, name in (*[(m.joint_m, m.piece)] * whole, (left, m.piece + odd)):
        yield of_material(_piece(run, name, m.section, stage, long, STRAIGHT), m, run_perimeter_m(run) * long)
