"""Plenums as drawn against what their air asks for, with their take-offs where they sit; sizing and placing them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.space.plenum_faces import (
    COMPASS,
    EDGE_M,
    FACES,
    AirWay,
    Hole,
    Side,
    Trouble,
    air_way,
    collar_m,
    on_side,
    plan_size,
    side_of,
    side_size,
    troubles,
)
from murvan.design.space.plenum_size import DEPTH_WHEELS, FACE_VELOCITY, Room, opening_m, roomy, sized
from murvan.design.space.standing import cabinet, clear_of, plenum_at, plenum_span_m
from murvan.design.units.unit_design import UnitDesign
from murvan.model.design import Face, IndoorUnit, Joint
from murvan.model.edit import changed, with_design
from murvan.model.equipment import Unit
from murvan.model.house import floor_heights
from murvan.model.job import Job, Plenum
from murvan.model.routes import LaidRun


@dataclass(frozen=True)
class TakeOff:
    """One opening on a face; along and up from the face's lower left corner as it stands on its inlet, m."""

    run: LaidRun
    face: Face
    side: Side
    along_m: float
    up_m: float
    width_m: float
    height_m: float
    flow_m3_s: float
    from_end_m: float | None
    """Of its edge; None on the end itself."""


@dataclass(frozen=True)
class PlenumDesign:
    """A plenum as drawn against what the flow asks for."""

    plenum: Plenum
    air: AirWay
    """Which way its air goes."""
    flow_m3_s: float
    velocity_m_s: float
    by_air_m2: float
    """Area that its air wants."""
    wanted_depth_m: tuple[float, float]
    opening_m: tuple[float, float]
    """Width and depth of the unit's own opening; 0 of a return, or without a unit."""
    take_offs: tuple[TakeOff, ...]
    troubles: tuple[tuple[Face, Trouble], ...]
    """What is wrong with where its take-offs sit."""
    blind: tuple[str, ...]
    """Runs that leave it where the unit is, by tag."""

    @property
    def area_m2(self) -> float:
        """Cross-section that the air goes through, m2."""
        return self.plenum.width_m * self.plenum.depth_m

    @property
    def outlet_area_m2(self) -> float:
        """Of the unit's own opening, m2."""
        return self.opening_m[0] * self.opening_m[1]

    @property
    def wanted_area_m2(self) -> float:
        """By its air, and no smaller than the unit's opening."""
        return max(self.by_air_m2, self.outlet_area_m2)


def plenums(
    unit_design: UnitDesign, flows_m3_s: tuple[float, ...], total_m3_s: float, unit: Unit | None
) -> tuple[PlenumDesign, ...]:
    """Each plenum of a unit with its take-offs; design flows are those of its runs, in their order."""
    flows = {r.id: q for r, q in zip(unit_design.runs, flows_m3_s, strict=True)}
    return tuple(_designed(box, unit_design, flows, total_m3_s, unit) for box in unit_design.plenums)


def _designed(
    box: Plenum, u: UnitDesign, flows: dict[str, float], total_m3_s: float, unit: Unit | None
) -> PlenumDesign:
    wheel = unit.wheel_diameter_m if unit else 0.25
    air = air_way(u.indoor, box.side)
    opening = opening_m(unit) if box.side == "supply" else (0.0, 0.0)
    own = _own(u.runs, box)
    placed: list[TakeOff] = []
    wrong: list[tuple[Face, Trouble]] = []
    for face in FACES:
        side = side_of(face, air)
        here = [r for r in own if r.face == face]
        if side is None or not here:
            continue
        size = side_size(box, side)
        found = on_side([_hole(r, flows[r.id]) for r in here], *size, side == "cap")
        wrong += [(face, t) for t in troubles(found, *size, side == "cap")]
        for r, x in zip(here, found, strict=True):
            w, h = x.hole.size_m
            from_end = None if side == "cap" else box.height_m - x.up_m - h / 2
            placed.append(TakeOff(r, face, side, x.along_m, x.up_m, w, h, flows[r.id], from_end))
    return PlenumDesign(
        plenum=box,
        air=air,
        flow_m3_s=total_m3_s,
        velocity_m_s=total_m3_s / (box.width_m * box.depth_m),
        by_air_m2=total_m3_s / FACE_VELOCITY[box.school],
        wanted_depth_m=(DEPTH_WHEELS[0] * wheel, DEPTH_WHEELS[1] * wheel),
        opening_m=opening,
        take_offs=tuple(placed),
        troubles=tuple(wrong),
        blind=tuple(r.tag for r in own if r.face is not None and side_of(r.face, air) is None),
    )


def _own(runs: tuple[LaidRun, ...], box: Plenum) -> list[LaidRun]:
    """The runs that leave a plenum by a face."""
    return [r for r in runs if r.indoor == box.indoor and r.side == box.side and r.parent is None and r.face]


def _hole(r: LaidRun, flow_m3_s: float) -> Hole:
    return Hole(r.tag, collar_m(r), flow_m3_s, r.has_damper, r.face_along_m, r.face_from_end_m)


# ---- sizing ---------------------------------------------------------------------------------------------------


def _holes(
    box: Plenum, indoor: IndoorUnit, runs: tuple[LaidRun, ...], flows: dict[str, float]
) -> dict[Side, list[Hole]]:
    """Holes of a plenum by side, without what the unit hides."""
    air = air_way(indoor, box.side)
    out: dict[Side, list[Hole]] = {}
    for r in _own(runs, box):
        side = side_of(r.face, air) if r.face is not None else None
        if side is not None:
            out.setdefault(side, []).append(_hole(r, flows.get(r.id, 0.0)))
    return out


def roomy_plenums(job: Job, runs: tuple[LaidRun, ...], flows: dict[str, float]) -> tuple[Plenum, ...]:
    """Plenums as long and as wide as their take-offs want.

    Args:
        flows: Of the runs, by id, m3/s.
    """
    units = {x.id: x for x in job.design.indoor_units}
    return tuple(
        roomy(b, _holes(b, units[b.indoor], runs, flows), reach_m=_reach_m(job, b, units[b.indoor], runs))
        for b in job.design.plenums
    )


def _reach_m(job: Job, box: Plenum, indoor: IndoorUnit, runs: tuple[LaidRun, ...]) -> float:
    """How long an upright plenum has to be for the runs that leave it at their level: up to the joists, or down under the
    floor."""
    way, floor = air_way(indoor, box.side), floor_heights(job.storeys)
    joints = {j.id: j for j in job.design.joints}
    if way[2] == 0 or indoor.storey is None:
        return 0.0
    foot = plenum_span_m(job, indoor, box)[0 if way[2] > 0 else 1]
    ends = []
    for r in _own(runs, box):
        j = joints[r.start]
        level = floor[j.storey] - floor[indoor.storey] + j.height_m
        ends.append(way[2] * (level - foot) + collar_m(r)[1] / 2 + EDGE_M)
    return min(max(ends, default=0.0), TALLEST_M)


TALLEST_M = 3.6
"""No plenum or return drop is longer; what is longer than a sheet the shop set names."""


def at_faces(job: Job) -> Job:
    """The job with every duct that leaves a plenum by a side starting at that side, as far as its first leg goes that way, and
    at the height of a plenum that lies."""
    units = {x.id: x for x in job.design.indoor_units}
    boxes: dict[tuple[str, str], Plenum] = {(b.indoor, b.side): b for b in job.design.plenums}
    ends, joints = {r.end for r in job.design.runs}, {j.id: j for j in job.design.joints}
    moved = {}
    for r in job.design.runs:
        j, box = joints[r.start], boxes.get((r.indoor, r.side))
        if r.start in ends or box is None or j.face not in COMPASS:
            continue
        way, (x, y) = COMPASS[j.face], box.position_m
        wide, deep = plan_size(box, air_way(units[r.indoor], box.side))
        nx, ny = (*r.corners_m, joints[r.end].position_m)[0]
        leg = way[0] * (nx - x) + way[1] * (ny - y)
        out = min(wide / 2 * abs(way[0]) + deep / 2 * abs(way[1]), leg - LEAST_LEG_M)
        if out > 0:
            moved[j.id] = (round(nx if way[1] else x + way[0] * out, 3), round(ny if way[0] else y + way[1] * out, 3))
    high = dict(_at_lying(job, units, boxes, ends))
    return with_design(
        job,
        joints=tuple(
            changed(j, j.id, position_m=moved.get(j.id, j.position_m), height_m=high.get(j.id, j.height_m))
            if j.id in moved or j.id in high
            else j
            for j in job.design.joints
        ),
    )


def _at_lying(
    job: Job, units: dict[str, IndoorUnit], boxes: Mapping[tuple[str, str], Plenum], ends: set[str]
) -> Iterator[tuple[str, float]]:
    """Joints at plenums that lie, and the height over their storey's floor at which their hole is in one."""
    joints, floor = {j.id: j for j in job.design.joints}, floor_heights(job.storeys)
    for r in job.design.runs:
        box, j = boxes.get((r.indoor, r.side)), joints[r.start]
        unit = units[r.indoor]
        if r.start in ends or box is None or air_way(unit, box.side)[2] or unit.storey is None:
            continue
        low, high = plenum_span_m(job, unit, box)
        half = collar_m(r)[1] / 2
        to = (low + high) / 2 if high - low < 2 * half else min(max(_over(j, floor, unit), low + half), high - half)
        yield j.id, round(to + floor[unit.storey] - floor[j.storey], 3)


def _over(j: Joint, floor: dict[str, float], unit: IndoorUnit) -> float:
    """Height of a joint over the floor of a unit's storey."""
    return floor[j.storey] + j.height_m - floor[unit.storey or j.storey]


LEAST_LEG_M = 0.02


def sized_plenum(job: Job, x: PlenumDesign, runs: tuple[LaidRun, ...]) -> Job:
    """The job with a plenum sized anew: by its air, the unit's opening, the room there is and its take-offs; what is held
    stays, and it keeps its place at the unit."""
    box = next(p for p in job.design.plenums if p.id == x.plenum.id)
    indoor = next(u for u in job.design.indoor_units if u.id == box.indoor)
    unit = cabinet(job, indoor)
    flows = {t.run.id: t.flow_m3_s for t in x.take_offs}
    holes = _holes(box, indoor, runs, flows)
    lies = x.air[2] == 0
    room = Room(across_m=clear_of(job, indoor)) if lies else Room()
    reach = _reach_m(job, box, indoor, runs)
    made = sized(box, x.flow_m3_s, unit if box.side == "supply" else _without_opening(unit), holes, room, reach)
    return _with_plenum(job, at_unit(job, made))


def _without_opening(unit: Unit | None) -> Unit | None:
    """A unit whose outlet does not matter: its return side."""
    return unit.model_copy(update={"outlet_width_m": 0.0, "outlet_depth_m": 0.0}) if unit is not None else None


def _with_plenum(job: Job, made: Plenum) -> Job:
    return with_design(job, plenums=tuple(made if p.id == made.id else p for p in job.design.plenums))


def held_plenum(job: Job, plenum_id: str, span: str, value_m: float) -> Job:
    """The job with a side of a plenum as chosen, and held from now on.

    Raises:
        JobValueError: no box is so large or so small.
    """
    box = next(p for p in job.design.plenums if p.id == plenum_id)
    held = tuple(dict.fromkeys((*box.held, span)))
    return _with_plenum(job, at_unit(job, changed(box, f"{box.side} plenum", **{span: value_m}, held=held)))


def at_unit(job: Job, box: Plenum) -> Plenum:
    """A plenum of a unit that lies, its inlet at the unit; one that stands stays where it is."""
    indoor = next(u for u in job.design.indoor_units if u.id == box.indoor)
    if air_way(indoor, box.side)[2] != 0:
        return box
    return box.model_copy(update={"position_m": plenum_at(indoor, cabinet(job, indoor), box)})


def freed_plenum(job: Job, plenum_id: str, span: str) -> Job:
    """The job with a side of a plenum no longer held."""
    box = next(p for p in job.design.plenums if p.id == plenum_id)
    return _with_plenum(job, changed(box, f"{box.side} plenum", held=tuple(k for k in box.held if k != span)))


def placed_anew(job: Job, x: PlenumDesign) -> Job:
    """The job with the take-offs of a plenum where they go by themselves."""
    mine = {t.run.start for t in x.take_offs}
    joints = tuple(
        changed(j, j.id, face_from_end_m=None, face_along_m=None) if j.id in mine else j for j in job.design.joints
    )
    return with_design(job, joints=joints)


def moved_take_off(job: Job, joint_id: str, face: Face, along_m: float | None, from_end_m: float | None) -> Job:
    """The job with a take-off held at a place on a face; None: where it goes by itself."""
    joints = tuple(
        changed(j, "Take-off", face=face, face_along_m=_fine(along_m), face_from_end_m=_fine(from_end_m))
        if j.id == joint_id
        else j
        for j in job.design.joints
    )
    return with_design(job, joints=joints)


def _fine(m: float | None) -> float | None:
    return None if m is None else round(m, 4)


# ---- arithmetic -----------------------------------------------------------------------------------------------


def explain_plenum(x: PlenumDesign) -> Arithmetic:
    """Plenum area and length."""
    q = Quantity
    lines = [
        Line(
            "area its air wants",
            "{0} ÷ {1}",
            (q("flow_m3", x.flow_m3_s), q("velocity", FACE_VELOCITY[x.plenum.school])),
            q("cross", x.by_air_m2),
        )
    ]
    if x.outlet_area_m2:
        lines.append(
            Line(
                "the unit's own opening",
                "{0} × {1}",
                (q("side", x.opening_m[0]), q("side", x.opening_m[1])),
                q("small_area", x.outlet_area_m2),
            )
        )
    goes_by = "its air" if x.by_air_m2 >= x.outlet_area_m2 else "the unit's opening"
    lines += [
        Line(
            "as drawn",
            "{0} × {1}",
            (q("side", x.plenum.width_m), q("side", x.plenum.depth_m)),
            q("small_area", x.area_m2),
        ),
        Line(
            "speed in it",
            "{0} ÷ {1}",
            (q("flow_m3", x.flow_m3_s), q("cross", x.area_m2)),
            q("velocity", x.velocity_m_s),
            True,
        ),
        Line(
            "length wanted",
            "2.5 × {0} of blower wheel",
            (q("size1", x.wanted_depth_m[0] / 2.5),),
            q("size", x.wanted_depth_m[0]),
        ),
    ]
    school = "central unit" if x.plenum.school == "central" else "slim unit"
    return Arithmetic(
        "Plenum",
        tuple(lines),
        (
            f"It goes by {goes_by}, the larger of the two; speed of a {school}. Length from the blower wheel, 24 in of a "
            "small one: common practice",
        ),
    )
