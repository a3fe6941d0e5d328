"""Ducts drawn by hand: a run from a plenum or another run to a face or into the open, a riser, dampers.

A run that starts on another one divides it there: the joint is its take-off or wye. What it is made of, and its size where
the air is known, follow from the house; fittings follow from how the runs lie (`routes`).
"""

from __future__ import annotations

from dataclasses import dataclass
from math import dist
from typing import Any, Literal

from murvan.design.drawing.rooms import Drawn
from murvan.design.ducts.duct_sizes import size_for
from murvan.design.lay.catching import Anchor, leg_at
from murvan.design.lay.pieces import ROUND_M, TRUNK_M, face_towards, level_m, made_of, named, towards_m, usual_level_m
from murvan.design.limits import WORKABLE_PA_M
from murvan.model.design import Design, DuctRun, Joint
from murvan.model.edit import changed, free_id, id_of, make, replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.house import Storey
from murvan.model.job import Job, Point

Shape = Literal["trunk", "branch"]
Path = tuple[Point, ...]
SAME_M = 0.02
"""Corners nearer than this are one; a run shorter than this is none."""


@dataclass(frozen=True)
class Wants:
    """What a run that is drawn has to carry."""

    flow_m3_s: float = 0.0
    """0: not known."""
    rate_pa_m: float = WORKABLE_PA_M
    size_m: float | None = None
    """Typed: diameter of a branch, width of a trunk."""


def draw_duct(
    job: Job, unit: str, storey: str, path: Path, ends: tuple[Anchor, Anchor], shape: Shape, wants: Wants
) -> Drawn:
    """A run along a path whose ends hang on what was caught there; drawn from either end.

    Args:
        path: On the plan, m, with both ends.

    Raises:
        JobValueError: no end is on a plenum or run of the unit, or both are; supply meets return; too short.
    """
    first, last = ends
    if not first.on_duct and last.on_duct:
        path, first, last = path[::-1], last, first
    path = tidied(path)
    side = _side(job, unit, first, last)
    if len(path) < 2 or sum(dist(a, b) for a, b in zip(path, path[1:], strict=False)) < SAME_M:
        raise JobValueError("A run has a length: drag it, or click where it ends.")
    level = next(s for s in job.storeys if s.id == storey)
    job, start = _started(job, unit, level, first, path, side)
    run = _run(job, unit, level, (first, last), shape, side, start)
    job, end = _ended(job, unit, level, last, path[-1], job_joint(job, start), side)
    run |= {"end": end, "corners_m": path[1:-1]}
    made = make(DuctRun, str(run["tag"]), **run)
    made = _sized(job, level, made, wants)
    job = with_design(job, runs=(*job.design.runs, made))
    return Drawn(job, "run", made.id, f"{made.tag} is drawn")


def _side(job: Job, unit: str, first: Anchor, last: Anchor) -> Literal["supply", "return"]:
    """The side of both ends. Raises JobValueError where they don't go together."""
    if not first.on_duct:
        own = next((x for x in job.design.indoor_units if x.id == unit), None)
        if own is not None and not any(p.indoor == unit for p in job.design.plenums):
            raise JobValueError(f"{own.tag} has no plenum yet: place it first (U).")
        raise JobValueError("A run starts or ends at a plenum or on another run of the unit.")
    if last.on_duct:
        raise JobValueError(
            "Both ends are on ducts; air would go round in a ring. End it in a room or at a register."
        )
    d = job.design
    side: Any
    if first.kind == "plenum":
        side = named(d.plenums, first.id, "plenum").side
    else:
        met = next((r for r in d.runs if first.id in (r.id if first.kind == "run" else r.start, r.end)), None)
        side = named(d.runs, met.id if met is not None else first.id, "run").side
    face = next((x for x in d.registers if x.id == last.id), None) if last.kind == "register" else None
    if face is not None and face.side != side:
        raise JobValueError(f"{face.tag} is a {face.side} face and can't hang on a {side} duct.")
    taken = next((r for r in d.runs if face is not None and r.register_id == face.id), None)
    if face is not None and taken is not None:
        raise JobValueError(f"{face.tag} hangs on {taken.tag} already; take that run away first.")
    return side  # type: ignore[no-any-return]


def job_joint(job: Job, joint: str) -> Joint:
    """A joint of the design that is worked on."""
    return named(job.design.joints, joint, "joint")


def _new_joint(job: Job, **fields: Any) -> tuple[Job, str]:
    new = free_id("j", {j.id for j in job.design.joints})
    joint = make(Joint, "Joint", id=new, **fields)
    return with_design(job, joints=(*job.design.joints, joint)), new


def _started(job: Job, unit: str, storey: Storey, first: Anchor, path: Path, side: str) -> tuple[Job, str]:
    """The joint that a run starts in."""
    if first.kind == "joint":
        return job, first.id
    if first.kind == "run":
        return divided(job, first.id, path[0])
    own = named(job.design.indoor_units, unit, "unit")
    home = next((s for s in job.storeys if s.id == own.storey), storey)
    way = usual_level_m(job, unit, storey, side)
    height = way if home.id == storey.id else towards_m(job, home, storey)
    face = face_towards(path[0], path[1])
    return _new_joint(job, storey=home.id, position_m=path[0], height_m=height, face=face)


def _ended(job: Job, unit: str, storey: Storey, last: Anchor, at: Point, start: Joint, side: str) -> tuple[Job, str]:
    """The joint that a run ends in: at the level of its face, else at the level it comes from."""
    face = next((x for x in job.design.registers if x.id == last.id), None) if last.kind == "register" else None
    if face is not None:
        height = level_m(job, face, storey)
    elif start.storey == storey.id:
        height = start.height_m
    else:
        height = usual_level_m(job, unit, storey, side)
    return _new_joint(job, storey=storey.id, position_m=at, height_m=round(height, 3))


def _run(
    job: Job, unit: str, storey: Storey, ends: tuple[Anchor, Anchor], shape: Shape, side: str, start: str
) -> dict[str, Any]:
    """The fields of a new run but for its end."""
    face = ends[1].id if ends[1].kind == "register" else None
    first = {"supply": "T", "return": "RT"}[side] if shape == "trunk" else {"supply": "B", "return": "RB"}[side]
    tag = free_tag(job.design, face_word(job, face) if shape == "branch" and face else first)
    made = made_of(storey)
    if shape == "trunk":
        made |= {"material": "galvanised", "shape": "rectangular", "width_m": TRUNK_M[0], "height_m": TRUNK_M[1]}
    else:
        made |= {"shape": "round", "diameter_m": ROUND_M}
    return {
        "id": free_id(f"{unit}-{id_of(tag)}-", {r.id for r in job.design.runs}),
        "tag": tag,
        "indoor": unit,
        "side": side,
        "start": start,
        "storey": storey.id,
        "register_id": face,
        "damper": 1.0 if side == "supply" and face is not None else None,
        **made,
    }


def face_word(job: Job, face: str) -> str:
    """What a register's run is called after."""
    return next(x.tag for x in job.design.registers if x.id == face).split()[0][:20]


def free_tag(design: Design, stem: str) -> str:
    """The stem where no run has it, and else with the first number that is free; a bare letter always gets one."""
    tags = {r.tag for r in design.runs}
    if len(stem.rstrip("0123456789")) < len(stem) and stem not in tags:
        return stem
    root = stem if not stem[-1].isdigit() else f"{stem}."
    return free_id(root, tags)


def _sized(job: Job, storey: Storey, run: DuctRun, wants: Wants) -> DuctRun:
    """The run as large as its air wants, or as typed."""
    if wants.size_m is not None:
        size = "diameter_m" if run.shape == "round" else "width_m"
        return changed(run, run.tag, held=True, **{size: wants.size_m})
    if wants.flow_m3_s <= 0 or wants.rate_pa_m <= 0:
        return run
    air = job.design.air
    return size_for(
        run, wants.flow_m3_s, air.friction_rate_pa_m or wants.rate_pa_m, air.velocity_profile, storey.ceiling_space_m
    )


# ---- dividing and tidying -------------------------------------------------------------------------------------


def tidied(path: Path) -> Path:
    """A path without corners that are none: doubled ones, and those on the straight way."""
    return _single(_straight(tuple((round(x, 4), round(y, 4)) for x, y in path)))


def _straight(path: Path) -> Path:
    """A path without corners on the straight way."""
    out = list(path)
    k = 1
    while k < len(out) - 1:
        a, b, c = out[k - 1], out[k], out[k + 1]
        cross = (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0])
        on = (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1])
        if a == b or b == c or (on > 0 and abs(cross) < 1e-4):
            del out[k]
        else:
            k += 1
    return tuple(out)


def _single(path: Path) -> Path:
    """A path without corners nearer than a joint to the one before; its ends stay."""
    out: list[Point] = []
    for q in path:
        if not out or dist(out[-1], q) >= SAME_M:
            out.append(q)
        elif len(out) > 1 and q is path[-1]:
            out[-1] = q
    return _straight(tuple(out))


def path_of(job: Job, run: DuctRun) -> Path:
    """Where a run goes on the plan, from its start to its end."""
    return (job_joint(job, run.start).position_m, *run.corners_m, job_joint(job, run.end).position_m)


def divided(job: Job, run_id: str, at: Point) -> tuple[Job, str]:
    """The job with a run divided at a place on it, and the joint there; the joint at its end where the place is that.

    The part with the register keeps the name and the damper, so that each face can still be balanced alone; of a run that
    ends in no face the first part keeps it. A length that was measured is shared out.
    """
    run = named(job.design.runs, run_id, "run")
    path = path_of(job, run)
    for joint, place in ((run.start, path[0]), (run.end, path[-1])):
        root = joint == run.start and all(r.end != joint for r in job.design.runs)
        if dist(place, at) < SAME_M and not root and not (joint == run.end and run.register_id):
            return job, joint
    k = leg_at(path, at)
    here = job_joint(job, run.end)
    job, new = _new_joint(job, storey=here.storey, position_m=at, height_m=here.height_m)
    before, after = tidied((*path[: k + 1], at)), tidied((at, *path[k + 1 :]))
    first: dict[str, Any] = {"end": new, "corners_m": before[1:-1], "register_id": None, "fittings": None}
    second: dict[str, Any] = {"start": new, "corners_m": after[1:-1], "fittings": None}
    if run.length_m is not None:
        share = _length(before) / max(_length(path), 1e-9)
        first["length_m"], second["length_m"] = run.length_m * share, run.length_m * (1 - share)
    tags = {r.tag for r in job.design.runs}
    stem = run.tag.rstrip("0123456789.") or "T"
    other = free_id(f"{run.tag}." if run.register_id else stem, tags)
    fresh = {"id": free_id(f"{run.indoor}-{other}-", {r.id for r in job.design.runs}), "tag": other, "damper": None}
    if run.register_id:
        first |= {**fresh, "zone_damper": run.zone_damper}
        second |= {"zone_damper": None}
    else:
        second |= {**fresh, "zone_damper": None}
    parts = (changed(run, run.tag, **first), changed(run, run.tag, **second))
    runs = tuple(p for r in job.design.runs for p in (parts if r.id == run_id else (r,)))
    return with_design(job, runs=runs), new


def _length(path: Path) -> float:
    return sum(dist(a, b) for a, b in zip(path, path[1:], strict=False))


# ---- risers and dampers ---------------------------------------------------------------------------------------


def draw_riser(job: Job, unit: str, storey: str, first: Anchor, down: bool = False) -> Drawn:
    """A riser from what was caught to the storey above, or below; ducts go on from its end there.

    Raises:
        JobValueError: it starts on no duct, or there is no storey that way.
    """
    if not first.on_duct:
        raise JobValueError("A riser starts at a plenum or on a run of the unit.")
    order = [s.id for s in job.storeys]
    k = order.index(storey) + (-1 if down else 1)
    if not 0 <= k < len(order):
        raise JobValueError(f"There is no storey {'below' if down else 'above'}.")
    to = job.storeys[k]
    side = _side(job, unit, first, Anchor(first.at))
    here = next(s for s in job.storeys if s.id == storey)
    beyond = (first.at[0] + 0.1, first.at[1])
    job, start = _started(job, unit, to if first.kind == "plenum" else here, first, (first.at, beyond), side)
    level = usual_level_m(job, unit, to, side)
    job, end = _new_joint(job, storey=to.id, position_m=first.at, height_m=level)
    run = _run(job, unit, to, (first, Anchor(first.at)), "trunk", side, start)
    tag = free_tag(job.design, "V")
    run |= {"end": end, "tag": tag, "id": free_id(f"{unit}-{id_of(tag)}-", {r.id for r in job.design.runs})}
    made = make(DuctRun, tag, **run)
    job = with_design(job, runs=(*job.design.runs, made))
    return Drawn(job, "run", made.id, f"{tag} goes to {to.name}; go on there from its end")


def damper_in(job: Job, run_id: str) -> Drawn:
    """A balancing damper put into a run, open; or the one that is there taken out. Raises JobValueError."""
    run = next((r for r in job.design.runs if r.id == run_id), None)
    if run is None:
        raise JobValueError("A damper sits in a run; press on one.")
    if run.side == "fresh":
        raise JobValueError("Fresh air is set at its ventilator.")
    new = 1.0 if run.damper is None else None
    say = f"A damper is in {run.tag}, open" if new is not None else f"The damper of {run.tag} is out"
    return Drawn(replace(job, "runs", run_id, damper=new), "run", run_id, say)


def zone_damper_moved(job: Job, run_id: str, to: str, rooms: set[str]) -> Drawn:
    """A zone damper taken from one run to another, where it shuts the zone of the rooms beyond.

    Args:
        rooms: Ids of the rooms whose air goes through the run it is taken to.

    Raises:
        JobValueError: as of `zone_damper_in`, or a damper is there already.
    """
    if run_id == to:
        return Drawn(job, "run", run_id)
    if any(r.id == to and r.zone_damper for r in job.design.runs):
        raise JobValueError("A zone damper is there already.")
    out = replace(job, "runs", run_id, zone_damper=None)
    return zone_damper_in(out, to, rooms)


def zone_damper_in(job: Job, run_id: str, rooms: set[str]) -> Drawn:
    """A zone damper put into a run, for the zone of the rooms beyond it; or the one that is there taken out.

    Args:
        rooms: Ids of the rooms whose air goes through the run.

    Raises:
        JobValueError: no run, or the rooms beyond are in no zone, or in several.
    """
    run = next((r for r in job.design.runs if r.id == run_id), None)
    if run is None:
        raise JobValueError("A zone damper sits in a run; press on one.")
    if run.zone_damper is not None:
        return Drawn(
            replace(job, "runs", run_id, zone_damper=None), "run", run_id, f"The zone damper of {run.tag} is out"
        )
    zones = [z for z in job.design.zones if rooms & set(z.rooms)]
    if not zones:
        raise JobValueError(f"No room beyond {run.tag} is in a zone yet: give its rooms a zone on their card first.")
    if len(zones) > 1:
        names = " and ".join(z.name for z in zones[:3])
        raise JobValueError(f"Rooms beyond {run.tag} are in {names}; put the damper where one zone's air goes alone.")
    done = replace(job, "runs", run_id, zone_damper=zones[0].id)
    return Drawn(done, "run", run_id, f"A damper of {zones[0].name} is in {run.tag}")
