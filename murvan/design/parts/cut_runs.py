"""Pieces of runs as they are cut and carried: whole joints and the odd one, fittings, flex, dampers, faces."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from math import pi

from murvan.design.ducts.boxing import frame_m
from murvan.design.ducts.runs import order, run_length_m, run_perimeter_m
from murvan.design.ducts.straights import NIPPLE_M, PAST_TAP_M, PIPE_NIPPLE_M, Fit, Standing, Straight, sides_m
from murvan.design.parts.cut_piece import Draft, Stage, of_material
from murvan.design.sameness import Once
from murvan.design.units.unit_design import UnitDesign
from murvan.kinds.duct_materials import DUCT_MATERIALS
from murvan.kinds.fittings import FITTINGS, FittingKind
from murvan.model.job import Ref
from murvan.model.routes import LaidRun
from murvan.units import R_IP

STRAIGHT, ODD_PIECE = "straight", ", odd piece"
ODD = 0.05
"""Of a joint, what is left over it without a piece of its own."""
SHORT_M = 0.3
"""Length of a fitting that is no elbow, for its sheet; common practice."""
PLACE_WORDS = {"inside": "", "attic": "attic", "crawl": "crawl space", "basement": "basement", "garage": "garage"}


def run_drafts(u: UnitDesign, fit: dict[str, Fit]) -> Iterator[Draft]:
    """Every run from the unit outwards, and the face it ends in. `fit`: its straights and fittings, by run."""
    names = {s.id: s.name for s in u.storeys}
    registers, rooms = {x.id: x for x in u.registers}, {r.id: r.name for r in u.rooms}
    carries = {r.parent for r in u.runs}
    for run in order(u.runs):
        where = f"{run.tag} · {PLACE_WORDS[run.lies_in] or names.get(run.storey, '') + ' ceiling'}"
        yield from CUT.of(run.id, (run, fit[run.id], run.id in carries, where), _placed)
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


def _placed(run: LaidRun, fit: Fit, carries: bool, where: str) -> list[Draft]:
    return [x._replace(where=where) for x in run_cuts(run, fit, carries)]


def run_cuts(run: LaidRun, fit: Fit, carries: bool) -> list[Draft]:
    """Pieces of one run from its start; `carries`: other runs leave it."""
    stage: Stage = "Trunk" if carries else "Branches"
    made = [(f, FITTINGS[f.kind]) for f in fit.fittings]
    out = [_fitting(run, f, kind, stage) for f, kind in made if kind.first]
    straights = [x for straight in fit.straights for x in _straight(run, straight, stage)]
    out += [x._replace(part=f"s{k}") for k, x in enumerate(straights)]
    if run.has_damper:
        out.append(_piece(run, "Hand damper", "Fittings", stage)._replace(part="damper", priced="damper"))
    if run.zone_damper:
        zone = _piece(run, f"Zone damper {run.zone_damper}", "Fittings", stage)
        out.append(zone._replace(part="zone", priced="zone_damper"))
    out += [_fitting(run, f, kind, stage) for f, kind in made if kind.at_end]
    if run.framed:
        framed = _piece(run, f"{run.framed.capitalize()} to frame", "Framing", "Rough-in", run_length_m(run))
        out.append(framed._replace(size=frame_m(run), part="frame", priced="framing"))
    return _told_apart(out)


def _told_apart(drafts: list[Draft]) -> list[Draft]:
    """Fittings of one kind by their turn: a piece keeps its name whatever else changes on its run."""
    seen: Counter[str] = Counter()
    out = []
    for x in drafts:
        n = seen[x.part]
        seen[x.part] += 1
        out.append(x._replace(part=f"{x.part}.{n}") if n else x)
    return out


def _piece(run: LaidRun, what: str, section: str, stage: Stage, length_m: float = 0.0, form: str = "") -> Draft:
    size = (run.diameter_m,) if run.diameter_m and run.shape == "round" else (run.width_m or 0.0, run.height_m or 0.0)
    at = Ref("run", run.id)
    return Draft(at, form, what, size, section, "", run.storey, stage, form=form, length_m=length_m, run=run.id)


def _fitting(run: LaidRun, f: Standing, kind: FittingKind, stage: Stage) -> Draft:
    flat = run.shape != "round" and (kind.turns or kind.id == "bend45")
    name = kind.name + (", up" if flat and f.upright else "")
    made = _piece(run, name, "Fittings", "Boots" if kind.form == "boot" else stage, form=kind.id)
    made = made._replace(priced="fitting", upright=f.upright, longer_m=f.longer_m)
    metres = sides_m(run)[1 if f.upright else 0] * f.ratio * pi / 2 if kind.turns else SHORT_M
    material = DUCT_MATERIALS[run.made_of.fittings or run.material]
    return of_material(made, material, run_perimeter_m(run) * (metres + f.longer_m))


def _straight(run: LaidRun, straight: Straight, stage: Stage) -> Iterator[Draft]:
    """Whole lengths of its material and what is left."""
    m, length = run.made_of, straight.length_m
    if m.bends:
        # cut longer than it lies, by what it is not stretched
        r = f" R-{run.insulation_r_m2k_w / R_IP:.0f}" if run.insulation_r_m2k_w else ""
        made = _piece(run, f"{m.piece}{r}", m.section, stage, length / run.stretched, STRAIGHT)
        yield made._replace(material=m.id)
        return
    least = PIPE_NIPPLE_M if run.shape == "round" else NIPPLE_M
    start = 0.0
    for end in (*seams(straight, m.joint_m, least), length):
        long = end - start
        odd = "" if abs(long - m.joint_m) <= ODD * m.joint_m else ODD_PIECE
        taps = tuple(t._replace(at_m=t.at_m - start) for t in straight.taps if start < t.at_m <= end)
        made = _piece(run, m.piece + odd, m.section, stage, long, STRAIGHT)._replace(taps=taps)
        yield of_material(made, m, run_perimeter_m(run) * long)
        start = end


def seams(straight: Straight, joint_m: float, least_m: float) -> list[float]:
    """Where a straight is joined, from its start: as many whole joints as go in, none in the hole of a tap, and no piece
    shorter than is one.

    Args:
        joint_m: the length that its material comes in.
        least_m: the shortest piece.
    """
    out: list[float] = []
    at, end = 0.0, straight.length_m
    while end - at > joint_m * (1 + ODD):
        seam = at + joint_m
        for t in sorted(straight.taps, key=lambda t: -t.at_m):
            if abs(seam - t.at_m) < t.half_m + PAST_TAP_M:
                seam = t.at_m - t.half_m - PAST_TAP_M
        if seam - at < least_m:  # taps stand so close that there is no room between them
            seam = at + joint_m
        if end - seam < least_m:
            seam = end - least_m
        out.append(seam)
        at = seam
    return out
