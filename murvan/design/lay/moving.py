"""Ducts changed by hand: joints, stretches and whole trunks moved, branches slid along, pieces taken away, levels set."""

from __future__ import annotations

from collections.abc import Iterable
from math import dist, hypot

from murvan.design.drawing.rooms import Drawn
from murvan.design.lay.catching import nearest
from murvan.design.lay.drawing import Path, divided, job_joint, path_of, tidied
from murvan.design.lay.pieces import SAME_LEVEL_M, levels_m, named
from murvan.design.space.plenum_faces import air_way, plan_size
from murvan.model.design import Design, DuctRun
from murvan.model.edit import changed, remove, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Point, Ref

SLIGHT_M = 1e-6


def children(design: Design, run: DuctRun) -> list[DuctRun]:
    """Runs that leave or feed a run at its end."""
    return [r for r in design.runs if r.start == run.end]


def parent(design: Design, run: DuctRun) -> DuctRun | None:
    """The run that a run leaves or feeds; none at a plenum."""
    return next((r for r in design.runs if r.end == run.start), None)


def _in_line(a: Point, b: Point, c: Point, d: Point) -> bool:
    """Whether a stretch goes on straight in another."""
    u, w = (b[0] - a[0], b[1] - a[1]), (d[0] - c[0], d[1] - c[1])
    whole = hypot(*u) * hypot(*w)
    return whole > 1e-9 and u[0] * w[0] + u[1] * w[1] > 0.999 * whole


# ---- a joint --------------------------------------------------------------------------------------------------


def slides(job: Job, joint: str) -> tuple[Point, Point] | None:
    """The straight trunk through a joint, from end to end, on which it slides; none where it turns or ends there."""
    d = job.design
    into = next((r for r in d.runs if r.end == joint), None)
    if into is None:
        return None
    path = path_of(job, into)
    for on in children(d, into):
        after = path_of(job, on)
        if _in_line(path[-2], path[-1], after[0], after[1]):
            return path[-2], after[1]
    return None


def move_joint(job: Job, joint: str, to: Point) -> Job:
    """The job with a joint elsewhere; runs that met it level or upright stay so, by a corner where it has to be.

    Raises:
        JobValueError: there is no such joint, or it is the end of a register's run (move the register).
    """
    d = job.design
    if all(j.id != joint for j in d.joints):
        raise JobValueError(f"There is no joint '{joint}'.")
    if any(r.end == joint and r.register_id for r in d.runs):
        raise JobValueError("A run's end goes with its register: move that.")
    runs = tuple(_followed(job, r, joint, to) if joint in (r.start, r.end) else r for r in d.runs)
    joints = tuple(changed(j, "Joint", position_m=_fine(to)) if j.id == joint else j for j in d.joints)
    return with_design(job, runs=runs, joints=joints)


def _followed(job: Job, run: DuctRun, joint: str, to: Point) -> DuctRun:
    """A run whose start or end goes elsewhere."""
    path = path_of(job, run)
    backwards = run.end == joint
    if backwards:
        path = path[::-1]
    new = _bent(path, to)
    if backwards:
        new = new[::-1]
    return _with_corners(run, new)


def _bent(path: Path, to: Point) -> Path:
    """A path with its first point elsewhere; its first stretch stays level or upright where it was."""
    a, b = path[0], path[1]
    if abs(a[1] - b[1]) < SLIGHT_M:
        corner: Point = (b[0], to[1])
    elif abs(a[0] - b[0]) < SLIGHT_M:
        corner = (to[0], b[1])
    else:
        return (to, *path[1:])
    if len(path) > 2:
        c = path[2]
        # the corner slides along the next stretch where that is square to this one
        square = abs(b[0] - c[0]) < SLIGHT_M if abs(a[1] - b[1]) < SLIGHT_M else abs(b[1] - c[1]) < SLIGHT_M
        return (to, corner, *path[2:]) if square else (to, corner, *path[1:])
    return (to, corner, b)


def _with_corners(run: DuctRun, path: Path) -> DuctRun:
    """A run along another path, with its ends; what was measured or typed of the old way is let go."""
    return changed(run, run.tag, corners_m=tidied(path)[1:-1], length_m=None, fittings=None)


def _fine(at: Point) -> Point:
    return (round(at[0], 4), round(at[1], 4))


# ---- a stretch, a trunk ---------------------------------------------------------------------------------------


def trunk_line(job: Job, run_id: str, leg: int) -> list[tuple[str, int]]:
    """All stretches that go on straight from one, through joints and both ways, in the order of the air's way out."""
    d = job.design
    by_id = {r.id: r for r in d.runs}
    line = [(run_id, leg)]
    while True:  # towards the unit
        run = by_id[line[0][0]]
        over = parent(d, run)
        if line[0][1] > 0 or over is None:
            break
        path, mine = path_of(job, over), path_of(job, run)
        if not _in_line(path[-2], path[-1], mine[0], mine[1]):
            break
        line.insert(0, (over.id, len(path) - 2))
    while True:  # outwards
        run = by_id[line[-1][0]]
        path = path_of(job, run)
        if line[-1][1] < len(path) - 2:
            break
        on = next((x for x in children(d, run) if _in_line(path[-2], path[-1], *path_of(job, x)[:2])), None)
        if on is None:
            break
        line.append((on.id, 0))
    return line


def move_stretch(job: Job, run_id: str, leg: int, by: Point) -> Drawn:
    """The job with a straight stretch moved sideways, and all of the trunk that it is part of; branches stretch with it.

    A branch's first stretch slides along its trunk. What is at a plenum or a register stays, by a corner.

    Args:
        leg: Which stretch of the run, from its start.
        by: Where to, m; what is along the stretch is left out.
    """
    run = named(job.design.runs, run_id, "run")
    path = path_of(job, run)
    a, b = path[leg], path[leg + 1]
    length = max(dist(a, b), 1e-9)
    u = ((b[0] - a[0]) / length, (b[1] - a[1]) / length)
    off = by[1] * u[0] - by[0] * u[1]
    v = (-u[1] * off, u[0] * off)
    if abs(off) < SLIGHT_M:
        return Drawn(job, "run", run_id)
    line = trunk_line(job, run_id, leg)
    first = next(r for r in job.design.runs if r.id == line[0][0])
    if line[0][1] == 0 and parent(job.design, first) is not None and _slides_on(job, first, v):
        # a branch that leaves its trunk here slides along it
        start = job_joint(job, first.start).position_m
        job = slide_takeoff(job, first.id, (start[0] + v[0], start[1] + v[1]))
        line = line if line[0][1] == 0 else trunk_line(job, run_id, leg)
        return Drawn(_shifted(job, line, v, moved_start=True), "run", run_id)
    return Drawn(_shifted(job, line, v, moved_start=False), "run", run_id)


def _slides_on(job: Job, run: DuctRun, v: Point) -> bool:
    """Whether the start of a run can slide by `v` on the straight of what it leaves."""
    over = parent(job.design, run)
    if over is None:
        return False
    at = job_joint(job, run.start).position_m
    to = (at[0] + v[0], at[1] + v[1])
    return any(nearest(path_of(job, r), to)[1] < 1e-3 for r in _beside(job, run))


def _beside(job: Job, run: DuctRun) -> list[DuctRun]:
    """The trunk that a branch leaves: the run before it, those in line with that, and those that go on from them."""
    over = parent(job.design, run)
    if over is None:
        return []
    path = path_of(job, over)
    ids = dict.fromkeys(i for i, _ in trunk_line(job, over.id, len(path) - 2))
    return [r for r in job.design.runs if r.id in ids and r.id != run.id]


def slide_takeoff(job: Job, run_id: str, to: Point) -> Job:
    """The job with a branch leaving its trunk elsewhere on it; the trunk is divided there and mended where it was.

    Raises:
        JobValueError: the place is not on the trunk.
    """
    run = named(job.design.runs, run_id, "run")
    trunk = min(_beside(job, run), key=lambda r: nearest(path_of(job, r), to)[1], default=None)
    if trunk is None or nearest(path_of(job, trunk), to)[1] > 1e-3:
        raise JobValueError(f"{run.tag} leaves its trunk; that is not on it.")
    old = run.start
    job, new = divided(job, trunk.id, _fine(to))
    if new == old:
        return job
    runs = tuple(changed(r, r.tag, start=new) if r.id == run_id else r for r in job.design.runs)
    return mended(with_design(job, runs=runs), old)


def _shifted(job: Job, line: list[tuple[str, int]], v: Point, moved_start: bool) -> Job:
    """The job with the stretches of a line shifted by `v`; ends that have to stay get a corner."""
    d = job.design
    legs = dict(line)
    goes = _joints_that_go(job, line, v)
    moved = {j: _fine((q[0] + v[0], q[1] + v[1])) for j in goes for q in (job_joint(job, j).position_m,)}
    runs = []
    for r in d.runs:
        if r.id in legs:
            points = list(path_of(job, r))
            k = legs[r.id]
            a, b = points[k], points[k + 1]
            if moved_start and r.id == line[0][0] and k == 0:
                a2 = a  # its start has slid there already
            else:
                a2 = (a[0] + v[0], a[1] + v[1])
            b2 = (b[0] + v[0], b[1] + v[1])
            head = points[:k] if k > 0 else ([] if r.start in goes or moved_start else [a])
            tail = points[k + 2 :] if k + 1 < len(points) - 1 else ([] if r.end in goes else [b])
            runs.append(_with_corners(r, (*head, a2, b2, *tail)))
        elif r.start in moved or r.end in moved:
            points = list(path_of(job, r))
            points[0], points[-1] = moved.get(r.start, points[0]), moved.get(r.end, points[-1])
            runs.append(_with_corners(r, tuple(points)))
        else:
            runs.append(r)
    joints = tuple(changed(j, "Joint", position_m=moved[j.id]) if j.id in moved else j for j in d.joints)
    return with_design(job, runs=tuple(runs), joints=joints)


def _joints_that_go(job: Job, line: list[tuple[str, int]], v: Point) -> set[str]:
    """Joints of a line that move with it: those within, and an open or turning end; not plenums, faces or the trunk that it
    leaves."""
    d = job.design
    by_id = {r.id: r for r in d.runs}
    out: set[str] = set()
    for n, (i, k) in enumerate(line):
        run = by_id[i]
        last = len(run.corners_m)
        if k == 0 and n > 0:
            out.add(run.start)
        if k == last and run.register_id is None:
            out.add(run.end)
        if k == 0 and n == 0 and parent(d, run) is None and _on_plenum(job, run, v):
            out.add(run.start)
    return out


def _on_plenum(job: Job, run: DuctRun, v: Point) -> bool:
    """Whether the start of a run is still at its plenum once moved."""
    box = next((p for p in job.design.plenums if p.indoor == run.indoor and p.side == run.side), None)
    if box is None:
        return False
    x, y = job_joint(job, run.start).position_m
    c = box.position_m
    unit = next(u for u in job.design.indoor_units if u.id == box.indoor)
    wide, deep = plan_size(box, air_way(unit, box.side))
    return abs(x + v[0] - c[0]) <= wide / 2 and abs(y + v[1] - c[1]) <= deep / 2


# ---- taking away, levels --------------------------------------------------------------------------------------


def take_run_away(job: Job, run_id: str) -> Drawn:
    """The job without a run and what hangs on it; the trunk that it left is mended. Raises JobValueError."""
    run = next((r for r in job.design.runs if r.id == run_id), None)
    if run is None:
        raise JobValueError("Select a run first.")
    before = len(job.design.runs)
    rest = remove(job, "runs", run_id, with_dependents=True)
    more = before - len(rest.design.runs) - 1
    over = parent(job.design, run)
    rest = _without_loose_joints(mended(rest, run.start))
    say = f"{run.tag} is taken away" + (f", and {more} run{'s' if more > 1 else ''} beyond it" if more else "")
    if over is None:
        return Drawn(rest, "indoor_unit", run.indoor, say)
    left = next((r for r in rest.design.runs if r.id == over.id), None)
    if left is None:
        at = job_joint(job, run.start).position_m
        left = min(rest.design.runs, key=lambda r: nearest(path_of(rest, r), at)[1], default=None)
    return Drawn(rest, "run", left.id if left is not None else "", say)


def mended(job: Job, joint: str) -> Job:
    """The job with two runs made one again where nothing else meets between them: straight on, alike, no damper there."""
    d = job.design
    into = next((r for r in d.runs if r.end == joint), None)
    out = [r for r in d.runs if r.start == joint]
    if into is None or len(out) != 1:
        return job
    on = out[0]
    a, b = path_of(job, into), path_of(job, on)
    alike = all(getattr(into, k) == getattr(on, k) for k in ALIKE)
    if not alike or not _in_line(a[-2], a[-1], b[0], b[1]) or on.zone_damper or into.zone_damper:
        return job
    keep = on if on.register_id else into
    length = into.length_m + on.length_m if into.length_m is not None and on.length_m is not None else None
    whole = changed(
        keep,
        keep.tag,
        start=into.start,
        end=on.end,
        corners_m=tidied((*a, *b[1:]))[1:-1],
        register_id=on.register_id,
        damper=on.damper if on.damper is not None else into.damper,
        length_m=length,
        fittings=None,
    )
    gone = into if keep is on else on
    runs = tuple(whole if r.id == keep.id else r for r in d.runs if r.id != gone.id)
    ticks = tuple(t for t in d.ticks if t.at != Ref("run", gone.id))
    return _without_loose_joints(with_design(job, runs=runs, ticks=ticks))


ALIKE = ("storey", "place", "shape", "diameter_m", "width_m", "height_m", "material", "insulation_r_m2k_w")


def _without_loose_joints(job: Job) -> Job:
    used = {j for r in job.design.runs for j in (r.start, r.end)}
    if all(j.id in used for j in job.design.joints):
        return job
    return with_design(job, joints=tuple(j for j in job.design.joints if j.id in used))


def set_level(job: Job, runs: Iterable[str], height_m: float) -> Job:
    """The job with runs at a height over their storey's floor: their ends, and the start of one at a plenum of its storey.

    Raises:
        JobValueError: the height is none that a joint may have.
    """
    d = job.design
    ids = set(runs)
    own = [r for r in d.runs if r.id in ids]
    ends = {r.end for r in own} | {r.start for r in own if parent(d, r) is None}
    storey = {r.end: r.storey for r in own} | {r.start: r.storey for r in own}
    joints = tuple(
        changed(j, "Joint", height_m=height_m) if j.id in ends and j.storey == storey[j.id] else j for j in d.joints
    )
    return with_design(job, joints=joints)


def next_level(job: Job, run_id: str) -> Drawn:
    """The job with a run at the next of the usual levels of its storey: over the ceiling, in a soffit, under the floor.

    Raises:
        JobValueError: there is no such run, it is fresh air, or its storey has no other level.
    """
    run = named(job.design.runs, run_id, "run")
    if run.side == "fresh":
        raise JobValueError("Fresh air goes as its ventilator is drawn.")
    storey = next(s for s in job.storeys if s.id == run.storey)
    now = job_joint(job, run.end).height_m
    usual = list(levels_m(job, storey).items())
    at = min(range(len(usual)), key=lambda k: abs(usual[k][1] - now))
    name, height = usual[(at + 1) % len(usual)]
    if len(usual) == 1 and abs(height - now) < SAME_LEVEL_M:
        raise JobValueError(f"{run.tag} lies {name}, and there is no other level on {storey.name}.")
    return Drawn(set_level(job, [run_id], round(height, 3)), "run", run_id, f"{run.tag} lies {name}")


def alike_in(design: Design, run_id: str, scope: str) -> tuple[str, ...]:
    """Ids of the runs that a change of one is meant for.

    Args:
        scope: 'run' alone; its 'trunk', runs of its shape in line with it; all 'beyond' it; 'branches' of its unit and side
            that end in a face; or the whole 'side' of its unit.
    """
    run = named(design.runs, run_id, "run")
    of_side = [r for r in design.runs if r.indoor == run.indoor and r.side == run.side]
    if scope == "beyond":
        out, todo = [], [run]
        while todo:
            at = todo.pop()
            out.append(at.id)
            todo += children(design, at)
        return tuple(out)
    if scope == "trunk":
        return tuple(_trunk(design, run))
    if scope == "branches":
        return tuple(r.id for r in of_side if r.register_id)
    return tuple(r.id for r in of_side) if scope == "side" else (run_id,)


def _trunk(design: Design, run: DuctRun) -> list[str]:
    """A run and those before and after it that end in no face."""
    out, at = [run.id], parent(design, run)
    while at is not None:
        out.append(at.id)
        at = parent(design, at)
    todo = [x for x in children(design, run) if not x.register_id]
    while todo:
        at = todo.pop()
        out.append(at.id)
        todo += [x for x in children(design, at) if not x.register_id]
    return out
