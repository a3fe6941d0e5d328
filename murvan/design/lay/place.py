"""Placing a ducted unit: its plenums come along, and the ducts that start there."""

from __future__ import annotations

from murvan.design.drawing.rooms import Drawn
from murvan.design.lay.moving import move_joint
from murvan.design.space.spots import TURNED, best_spot, usual_way
from murvan.design.space.standing import Turn, Way, cabinet, clear_of, fine, flat, misfits, plenum_at, plenums_of
from murvan.model.design import IndoorUnit, Plenum
from murvan.model.edit import changed, replace, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Point

# ---- placing --------------------------------------------------------------------------------------------------


def placed_unit(
    job: Job,
    unit_id: str,
    storey: str,
    at: Point,
    flow_m3_s: float | None = None,
    way: Way | None = None,
    turn: Turn | None = None,
) -> Drawn:
    """The job with a ducted unit at a place, lying as it does there; its plenums come or go along, and the ducts at them.

    Args:
        flow_m3_s: Its air; None: as rated.
        way: None: as it lies, or as usual there when it had no place.
        turn: None: as it looks.

    Raises:
        JobValueError: it is not a ducted unit.
    """
    own = next((x for x in job.design.indoor_units if x.id == unit_id), None)
    if own is None or own.kind != "ducted":
        raise JobValueError("Plenums belong to a ducted unit; take one in hand first.")
    new = own.storey is None
    changes = {
        "storey": storey,
        "position_m": fine(at),
        "way": way or (usual_way(job, storey, at, cabinet(job, own)) if new else own.way),
        "turn_deg": own.turn_deg if turn is None else turn,
    }
    job = replace(job, "indoor_units", unit_id, **changes)
    now = next(x for x in job.design.indoor_units if x.id == unit_id)
    air = usual_air_m3_s(own, job) if flow_m3_s is None else flow_m3_s
    job = _with_plenums(job, own, now, air)
    tight = any(True for _ in misfits(job, now, cabinet(job, own)))
    return Drawn(job, "indoor_unit", unit_id, "It does not go in here (punch list)" if tight else "")


def _with_plenums(job: Job, before: IndoorUnit, now: IndoorUnit, flow_m3_s: float) -> Job:
    """The job with the plenums of a unit where it stands now; the ducts that start there follow."""
    unit = cabinet(job, now)
    have = {p.side: p for p in job.design.plenums if p.indoor == now.id}
    fresh = [p for p in plenums_of(now, unit, flow_m3_s, clear_of(job, now)) if p.side not in have]
    job = with_design(job, plenums=(*job.design.plenums, *fresh))
    as_it_stood = (now.way, now.turn_deg) == (before.way, before.turn_deg) and before.storey is not None
    by = (now.position_m[0] - before.position_m[0], now.position_m[1] - before.position_m[1])
    for _side, box in have.items():
        if as_it_stood:
            to = fine((box.position_m[0] + by[0], box.position_m[1] + by[1]))
        else:
            to = plenum_at(now, unit, box)
        job = _moved_plenum(job, box, to, now.storey or "")
    return job


def _moved_plenum(job: Job, box: Plenum, to: Point, storey: str) -> Job:
    """The job with a plenum elsewhere; joints at it go along."""
    by = (to[0] - box.position_m[0], to[1] - box.position_m[1])
    if by == (0.0, 0.0):
        return job
    ends = {r.end for r in job.design.runs}
    roots = {r.start for r in job.design.runs if r.indoor == box.indoor and r.side == box.side} - ends
    for joint in [j for j in job.design.joints if j.id in roots]:
        x, y = joint.position_m
        job = move_joint(job, joint.id, (x + by[0], y + by[1]))
    moved = tuple(changed(p, "Plenum", position_m=to) if p.id == box.id else p for p in job.design.plenums)
    return with_design(job, plenums=moved)


def turned_unit(job: Job, unit_id: str) -> Drawn:
    """The job with a ducted unit turned by a quarter. Raises JobValueError."""
    own = next((x for x in job.design.indoor_units if x.id == unit_id), None)
    if own is None or own.storey is None:
        raise JobValueError("The unit has no place yet: press U, then on the plan.")
    turn = TURNED[own.turn_deg]
    return placed_unit(job, unit_id, own.storey, own.position_m, None, own.way, turn)


def usual_air_m3_s(indoor: IndoorUnit, job: Job) -> float:
    """The air of a unit before its rooms are worked out: as typed, else as it is rated; 0: not known."""
    unit = cabinet(job, indoor)
    return indoor.flow_m3_s or (unit.rated_flow_m3_s if unit is not None else 0.0)


def place_unit(job: Job, unit_id: str, flow_m3_s: float | None = None) -> Job:
    """The job with a unit that has no place yet where it goes in: in a place that the survey has for equipment, else in a
    utility room or a hall. One without plenums has none either: a design that was offered said but its storey."""
    unit = next(x for x in job.design.indoor_units if x.id == unit_id)
    upright = flat(cabinet(job, unit)) and unit.way in ("upflow", "downflow")
    stands = unit.storey is not None and any(p.indoor == unit_id for p in job.design.plenums)
    if not job.rooms or (stands and not upright):
        return job
    best = best_spot(job, unit_id, unit.storey if unit.rooms else None)
    if best is None:
        best = changed(unit, unit.tag, way=usual_way(job, unit.storey or "", unit.position_m, cabinet(job, unit)))
    turn, way = best.turn_deg, best.way
    return placed_unit(job, unit_id, best.storey or "", best.position_m, flow_m3_s, way, turn).job
