"""Plenum size from flow, face velocity, clear height and wheel diameter, and how its take-offs sit on its faces."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.system.ducts import Ducts
from murvan.design.system.unit_design import UnitDesign
from murvan.model.equipment import Unit
from murvan.model.job import DuctRun, Plenum
from murvan.model.routes import LaidRun
from murvan.units import FPM, INCH

FACE_VELOCITY = {"central": 800 * FPM, "fan_coil": 500 * FPM}
"""Two schools, common practice: 800 fpm at a central air handler, 500 fpm (quieter) at a fan coil."""
"""Blank plenum past the last take-off, 6 to 12 in; common practice."""
DEPTH_WHEELS = (2.5, 3.0)
FACES = ("west", "north", "east", "south", "top")


@dataclass(frozen=True)
class TakeOff:
    """One opening on a face; along and up from the face's lower left corner, m."""

    run: LaidRun
    face: str
    along_m: float
    up_m: float
    width_m: float
    height_m: float
    flow_m3_s: float
    from_end_m: float | None


@dataclass(frozen=True)
class PlenumDesign:
    """A plenum as drawn against what the flow asks for."""

    plenum: Plenum
    flow_m3_s: float
    velocity_m_s: float
    wanted_area_m2: float
    wanted_depth_m: tuple[float, float]
    outlet_area_m2: float
    take_offs: tuple[TakeOff, ...]

    @property
    def area_m2(self) -> float:
        """Cross-section that the air goes through, m2."""
        return self.plenum.width_m * self.plenum.depth_m


def face_width_m(plenum: Plenum, face: str) -> float:
    """Width of a face: west and east show the depth, north, south and top the width."""
    return plenum.depth_m if face in ("west", "east") else plenum.width_m


def plenums(unit_design: UnitDesign, ducts: Ducts, total_m3_s: float, unit: Unit | None) -> tuple[PlenumDesign, ...]:
    """Each plenum of a unit with its take-offs."""
    out = []
    for box in unit_design.plenums:
        velocity = FACE_VELOCITY[box.school]
        wheel = unit.wheel_diameter_m if unit else 0.25
        own = [r for r in unit_design.runs if r.side == box.side and r.parent is None and r.face]
        out.append(
            PlenumDesign(
                plenum=box,
                flow_m3_s=total_m3_s,
                velocity_m_s=total_m3_s / (box.width_m * box.depth_m),
                wanted_area_m2=total_m3_s / velocity,
                wanted_depth_m=(DEPTH_WHEELS[0] * wheel, DEPTH_WHEELS[1] * wheel),
                outlet_area_m2=unit.outlet_width_m * unit.outlet_depth_m if unit else 0.0,
                take_offs=tuple(_place(box, own, ducts)),
            )
        )
    return tuple(out)


def _place(box: Plenum, runs: list[LaidRun], d: Ducts) -> list[TakeOff]:
    out = []
    for face in FACES:
        here = [r for r in runs if r.face == face]
        sizes = [collar_m(r) for r in here]
        wide, tall = face_width_m(box, face), box.depth_m if face == "top" else box.height_m
        for r, (w, h), (along, up) in zip(here, sizes, on_face(sizes, wide, tall), strict=True):
            if r.face_from_end_m is not None and face != "top":
                up = box.height_m - r.face_from_end_m - h / 2
            out.append(TakeOff(r, face, along, up, w, h, d.runs[r.id].flow_m3_s, r.face_from_end_m))
    return out


def collar_m(run: DuctRun) -> tuple[float, float]:
    """Width and height of the hole for a run."""
    return run.diameter_m or run.width_m or 0.1, run.diameter_m or run.height_m or 0.1


GAP_M = 1.5 * INCH
"""Metal between two holes, and to the edge; common practice."""


def on_face(sizes: list[tuple[float, float]], wide_m: float, tall_m: float) -> list[tuple[float, float]]:
    """Middles of holes on a face, from its left and from its foot: side by side in as few rows as they go into, the rows one
    over the other about the middle. Holes that don't go in lie over each other or over the edge."""
    rows: list[list[int]] = []
    for k, (w, _) in enumerate(sizes):
        used = sum(sizes[i][0] + GAP_M for i in rows[-1]) if rows else 0.0
        if rows and used + w + 2 * GAP_M <= wide_m + GAP_M:
            rows[-1].append(k)
        else:
            rows.append([k])
    heights = [max(sizes[i][1] for i in row) for row in rows]
    up = (tall_m - sum(heights) - GAP_M * (len(rows) - 1)) / 2 if rows else 0.0
    out = [(0.0, 0.0)] * len(sizes)
    for row, high in zip(rows, heights, strict=True):
        taken = sum(sizes[i][0] for i in row)
        gap = (wide_m - taken) / (len(row) + 1)
        along = gap
        for i in row:
            out[i] = (along + sizes[i][0] / 2, up + high / 2)
            along += sizes[i][0] + gap
        up += high + GAP_M
    return out


EDGE_M = 0.5 * INCH
"""Least metal beside a hole; common practice."""


def goes_on_face(sizes: list[tuple[float, float]], wide_m: float, tall_m: float, edge_m: float = GAP_M / 2) -> bool:
    """Whether holes lie on a face with metal between them and to its edges."""
    edge = edge_m - 1e-6
    return all(
        w / 2 + edge <= x <= wide_m - w / 2 - edge and h / 2 <= y <= tall_m - h / 2
        for (w, h), (x, y) in zip(sizes, on_face(sizes, wide_m, tall_m), strict=True)
    )


def roomy_plenums(plenums: tuple[Plenum, ...], runs: tuple[LaidRun, ...]) -> tuple[Plenum, ...]:
    """Plenums as wide as their take-offs want, square on the plan; up to three times as wide as they are."""
    out = []
    for box in plenums:
        own = [r for r in runs if r.indoor == box.indoor and r.side == box.side and r.parent is None and r.face]
        by_face = [[collar_m(r) for r in own if r.face == face] for face in FACES if face != "top"]
        side = max(box.width_m, box.depth_m)
        for _ in range(60):
            if all(goes_on_face(sizes, side, box.height_m) for sizes in by_face) or side > 3 * box.width_m:
                break
            side += INCH
        out.append(box.model_copy(update={"width_m": side, "depth_m": side}) if side > box.width_m + 1e-6 else box)
    return tuple(out)


def explain_plenum(plenum: PlenumDesign) -> Arithmetic:
    """Plenum area and depth."""
    q = Quantity
    velocity = FACE_VELOCITY[plenum.plenum.school]
    return Arithmetic(
        "Plenum",
        (
            Line(
                "area wanted",
                "{0} ÷ {1}",
                (q("flow_m3", plenum.flow_m3_s), q("velocity", velocity)),
                q("cross", plenum.wanted_area_m2),
            ),
            Line(
                "as drawn",
                "{0} × {1}",
                (q("side", plenum.plenum.width_m), q("side", plenum.plenum.depth_m)),
                q("small_area", plenum.area_m2),
            ),
            Line(
                "speed in it",
                "{0} ÷ {1}",
                (q("flow_m3", plenum.flow_m3_s), q("cross", plenum.area_m2)),
                q("velocity", plenum.velocity_m_s),
                True,
            ),
            Line(
                "length wanted",
                "2.5 × {0} of blower wheel",
                (q("size1", plenum.wanted_depth_m[0] / 2.5),),
                q("size", plenum.wanted_depth_m[0]),
            ),
        ),
        ("Area = air ÷ face speed; length from the blower wheel: common practice",),
    )
