"""Ducts from a placed unit to its registers and grilles: a trunk with branches, or a run of its own for each register."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from math import dist
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from shapely import Point as ShapelyPoint
from shapely import Polygon
from shapely.geometry import box as rectangle

from murvan.design.circuit.jump import with_jumps
from murvan.design.ducts.duct_sizes import size_all
from murvan.design.ducts.plenums import at_faces, roomy_plenums
from murvan.design.lay.layout import NAMES, Layout, Scheme, in_the_way, judged, offered, same
from murvan.design.lay.pieces import Side, storey_of
from murvan.design.lay.place import place_unit
from murvan.design.lay.proving import bare_inside, flattened, lowest_tap, opened, sized, with_pressure, wrapped
from murvan.design.lay.registers import lay_registers
from murvan.design.lay.routing import Lain, Terminal, grown, lain, taken
from murvan.design.lay.space import Space, allowed
from murvan.design.lay.squaring import square
from murvan.design.lay.trees import DuctSheet, lay_tree
from murvan.design.limits import DOOR_LIMIT_PA
from murvan.design.results import Results
from murvan.design.solve import solve
from murvan.design.space.clashes import Leg, clashes, legs_of, pierced
from murvan.design.space.duct_spaces import lay as lay_as_they_are
from murvan.design.space.obstacles import prisms, struck
from murvan.design.space.plenum_faces import air_way, plan_size
from murvan.design.space.solids import Block, blocks
from murvan.design.space.standing import cabinet, clear_of, footprint, plenum_span_m, plenums_of, stand
from murvan.design.study.balancing import balanced
from murvan.design.zones.plans import with_dampers
from murvan.kinds.registers import REGISTERS
from murvan.model.design import IndoorUnit, Plenum, Reading, Register
from murvan.model.edit import changed, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Point, Ref
from murvan.model.routes import LaidRun
from murvan.units import INCH

Spaces = dict[tuple[Point, ...], Space]
SIDES: tuple[Side, ...] = ("supply", "return")


def layouts(r: Results, unit_id: str, step: Callable[[int, int], bool] = lambda k, of: True) -> tuple[Layout, ...]:
    """Ducts for a unit in up to five ways, the best first; what was drawn for it before is replaced. It is placed, and its
    registers and grilles are laid, where they are missing.

    Args:
        step: Told how many ways are done, and of how many; False stops the search with what there is.

    Raises:
        JobValueError: the unit is not ducted or not picked, no register can be laid, or its blower has no pressure left.
    """
    unit = _ready(r.job, unit_id)
    stands = place_unit(r.job, unit_id, r.systems[unit_id].airflow.total_m3_s)
    r = solve(stands, r) if stands is not r.job else r
    unit = next(x for x in r.job.design.indoor_units if x.id == unit_id)
    if {x.side for x in r.job.design.registers if x.indoor == unit_id} != {"supply", "return"}:
        r = solve(lay_registers(r, unit_id), r)
    drawn, trouble = _all_drawn(r, unit, step)
    made: list[Layout] = []
    for k, one in enumerate(drawn):
        if one.meeting and any(x.good for x in made):
            break  # nobody is offered what fails who can have what does not
        try:
            way = _clear_of_itself(one, r, unit)
        except JobValueError as exc:  # one way may need more pressure than there is where another does not
            trouble = exc
        else:
            if all(not same(way, x) for x in made):
                made.append(way)
        if not step(k + 1, len(drawn)):
            break
    if not made and trouble is not None:
        raise trouble
    return offered(made)


def _ready(job: Job, unit_id: str) -> IndoorUnit:
    unit = next((x for x in job.design.indoor_units if x.id == unit_id), None)
    if unit is None or unit.kind != "ducted":
        raise JobValueError("Ducts belong to a ducted unit; take one in hand.")
    if unit.unit is None:
        raise JobValueError(f"Pick a unit for {unit.tag} first (Equipment).")
    return unit


AGAIN, PROVED_AGAIN = 3, 1
"""How often a way is drawn anew that has ducts in each other, by their first sizes and once they are proved; one run for
each register has too many to undo."""
Avoid = tuple[tuple[Side, Point], ...]
"""Where ducts of a side go round."""


class _Drawn(NamedTuple):
    """A way as it is drawn, with pressure for its ducts."""

    scheme: Scheme
    results: Results
    """Without an air circuit."""
    missed: tuple[str, ...]
    """Ids of faces that no way leads to."""
    avoid: Avoid
    off_m: float
    """How far the return stands off the unit, so that the trunks beside it go past."""
    meeting: int
    """Ducts that lie in others as they are sized first."""


def _all_drawn(
    r: Results, unit: IndoorUnit, step: Callable[[int, int], bool]
) -> tuple[list[_Drawn], JobValueError | None]:
    """Every way as it is drawn, those first of which no duct lies in another; and what kept one from it."""
    spaces: Spaces = {}
    found, trouble = [], None
    off_m = 0.0
    for scheme in NAMES:
        try:
            found.append(_drawn_clear(r, unit, scheme, spaces, (), off_m))
            off_m = found[-1].off_m
        except JobValueError as exc:
            trouble = exc
        if found and not step(0, len(NAMES)):
            break
    return sorted(found, key=lambda x: x.meeting), trouble


def _clear_of_itself(drawn: _Drawn, r: Results, unit: IndoorUnit) -> Layout:
    """A way proved; drawn anew where its ducts came out so large that they lie in each other, the better of both."""
    best = one = _proved(drawn, unit)
    for _ in range(PROVED_AGAIN if not drawn.meeting else 0):
        if not any(True for _ in _meeting(one.job, one.results.laid)):
            break
        avoid = _round(drawn.avoid, one.job, one.results.laid)
        off = drawn.off_m + _stand_off_m(one.job, unit, one.results.laid)
        one = _proved(_drawn_clear(r, unit, drawn.scheme, {}, avoid, off), unit)
        best = min(best, one, key=lambda x: x.rank)
    return best


def _drawn_clear(
    r: Results, unit: IndoorUnit, scheme: Scheme, spaces: Spaces, avoid: Avoid, off_m: float = 0.0
) -> _Drawn:
    """A way drawn anew until, as it is sized first, no duct lies in another; the fewest of those that were tried."""
    if scheme == "interior":
        r = solve(_with_interior(r, unit.id), r, air=False)
    best: _Drawn | None = None
    for _ in range(AGAIN + 1 if scheme != "radial" else 2):
        one, rough = _drawn(r, unit, scheme, spaces, avoid, off_m)
        laid = lay_as_they_are(rough)
        more_m = _stand_off_m(rough, unit, laid)
        if more_m > NEAR_UNIT_M:  # what is beside the unit is not drawn right yet
            best, off_m = best or one, off_m + more_m
            continue
        best = one if best is None or one.meeting < best.meeting or one.off_m > best.off_m else best
        more = _round(avoid, rough, laid) if one.meeting and scheme != "radial" else avoid
        if more == avoid:
            break
        avoid = more
    assert best is not None
    return best


NEAR_UNIT_M = 0.01


def _drawn(
    r: Results, unit: IndoorUnit, scheme: Scheme, spaces: Spaces, avoid: Avoid, off_m: float
) -> tuple[_Drawn, Job]:
    """A way drawn; and the same with first sizes, its plenums with them."""
    job, missed = draw(r.job, unit.id, scheme, r.systems[unit.id].airflow.total_m3_s, spaces, avoid, off_m)
    if job.design.zones:
        job = with_dampers(job, job.design.zones)
    drawn = solve(job, r, air=False)
    drawn = with_pressure(solve(flattened(bare_inside(drawn), drawn), drawn, air=False), unit.id)
    sized_first = size_all(drawn.job, {unit.id: drawn.systems[unit.id].ducts})
    rough = _with_room(sized_first, drawn)
    meeting = sum(1 for _ in _meeting(rough, lay_as_they_are(rough)))
    return _Drawn(scheme, drawn, missed, avoid, off_m, meeting), rough


def _with_room(job: Job, r: Results) -> Job:
    """The job with plenums as its take-offs want them. `r`: of the same ducts."""
    boxes = roomy_plenums(job, lay_as_they_are(job), {i: x.flow_m3_s for i, x in r.runs.items()})
    return at_faces(with_design(job, plenums=boxes))


def _stand_off_m(job: Job, unit: IndoorUnit, laid: tuple[LaidRun, ...]) -> float:
    """How much further the return beside an upright unit has to stand off it, so that it clears the unit, the supply plenum and
    the trunks that start there and go past."""
    x = stand(unit, cabinet(job, unit))
    boxes = {b.kind: b for b in blocks(job) if b.owner == unit.id}
    beside = boxes.get("return")
    if x.out != (0.0, 0.0) or beside is None:
        return 0.0
    axis = 0 if x.front[0] == 0 else 1  # the return stands to the side of the front
    legs = legs_of(laid, job.design.joints, job.storeys)
    past = [g for g in legs if g.run.indoor == unit.id and g.run.side == "supply" and g.run.parent is None]
    wide = [
        g.half_m + INCH for g in past if g.low_m < beside.high[2] and g.high_m > beside.low[2] and _goes_by(g, axis)
    ]
    wide += [_half(boxes["supply"], axis)] if "supply" in boxes else []
    stands = abs((beside.high[axis] + beside.low[axis]) / 2 - x.at[axis])
    return max(max([*wide, x.half[axis]]) + _half(beside, axis) - stands, 0.0)


def _half(box: Block, axis: int) -> float:
    return (box.high[axis] - box.low[axis]) / 2


def _goes_by(x: Leg, axis: int) -> bool:
    """Whether a leg goes along the side of the unit at which the return stands."""
    return abs(x.b[axis] - x.a[axis]) < abs(x.b[1 - axis] - x.a[1 - axis])


def _meeting(job: Job, laid: tuple[LaidRun, ...]) -> Iterator[tuple[set[str], Point]]:
    """Where a duct wants the place of another, of a unit or a plenum, and the sides that may give way."""
    legs = legs_of(laid, job.design.joints, job.storeys)
    yield from (({str(x.one.side), str(x.other.side)}, x.at) for x in clashes(legs))
    yield from (({str(x.run.side)}, x.at) for x in pierced(legs, blocks(job)))
    yield from (({str(x.run.side)}, x.at) for x in struck(legs, prisms(job)))


def _round(avoid: Avoid, job: Job, laid: tuple[LaidRun, ...]) -> Avoid:
    """Where ducts go round next: supplies where they want one place, returns where that did not help or there are no others."""
    new: list[tuple[Side, Point]] = list(avoid)
    for have, here in _meeting(job, laid):
        tried = {side for side, at in avoid if dist(at, here) < NEAR_M}
        side: Side | None = next((s for s in SIDES if s in have and s not in tried), None)
        if side is not None:
            new.append((side, here))
    return tuple(new)


NEAR_M = 0.3
"""Places nearer than that are one."""


def _proved(x: _Drawn, unit: IndoorUnit) -> Layout:
    """A drawn way sized, balanced and judged."""
    # wrapped before they are sized: what ducts lose on the way decides how much air goes by them
    found = lowest_tap(sized(wrapped(solve(x.results.job, x.results)), unit.id), unit.id)
    job = _with_room(found.job, found)
    if job != found.job:
        found = solve(job, found)
    jumped: tuple[str, ...] = ()
    if found.network is not None:
        job, jumped = with_jumps(job, found.network, DOOR_LIMIT_PA)
        found = solve(job, found) if jumped else found
    insulated = wrapped(found)
    if insulated is not found:
        found = solve(balanced(insulated), insulated)
    found = opened(found, unit.id)
    return judged(found, unit.id, x.scheme, in_the_way(found.job, x.missed), jumped)


def _with_interior(r: Results, unit_id: str) -> Job:
    """The job with the supply registers of a unit laid anew at the inside walls."""
    job = r.job
    kept = tuple(x for x in job.design.registers if x.indoor != unit_id or x.side == "return")
    gone = {x.id for x in job.design.registers} - {x.id for x in kept}
    job = with_design(
        job,
        registers=kept,
        runs=tuple(x for x in job.design.runs if x.register_id not in gone and x.indoor != unit_id),
        readings=_of_gone_faces(job, gone, unit_id),
        ticks=tuple(x for x in job.design.ticks if x.at.kind != "register" or x.at.id not in gone),
    )
    return lay_registers(solve(job, r), unit_id, interior=True)


def _of_gone_faces(job: Job, gone: set[str], unit_id: str) -> tuple[Reading, ...]:
    """All readings; those of registers that have gone are kept with the unit, and say where they were taken."""
    tags = {x.id: x.tag for x in job.design.registers}

    def kept(x: Reading) -> Reading:
        if x.at.kind != "register" or x.at.id not in gone:
            return x
        note = f"{x.note} Read at {tags[x.at.id]}, which has gone.".strip()[-1000:]
        return changed(x, x.id, at=Ref("indoor_unit", unit_id), hole=None, note=note)

    return tuple(kept(x) for x in job.design.readings)


# ---- drawing --------------------------------------------------------------------------------------------------


def draw(
    job: Job,
    unit_id: str,
    scheme: Scheme,
    flow_m3_s: float,
    spaces: Spaces | None = None,
    avoid: Avoid = (),
    off_m: float = 0.0,
) -> tuple[Job, tuple[str, ...]]:
    """The job with plenums and ducts of a unit drawn anew, not sized yet; and the faces that no way leads to, by id.

    Args:
        spaces: The allowed space by the places that it has to have, kept from one scheme to the next.
        avoid: Where ducts of a side go round: two wanted one place there.
        off_m: How far the return of an upright unit stands off what is beside it.
    """
    unit = next(x for x in job.design.indoor_units if x.id == unit_id)
    plenums = tuple(plenums_of(unit, cabinet(job, unit), flow_m3_s, clear_of(job, unit), off_m))
    outlet = {p.side: p.position_m for p in plenums}
    faces = {x.id: x for x in job.design.registers if x.indoor == unit_id}
    sheet = DuctSheet(job, unit)
    missed: list[str] = []
    other = tuple(x for x in lay_as_they_are(job) if x.indoor != unit_id)
    lie = [Lain(x.a, x.b, x.low_m, x.high_m, x.half_m) for x in legs_of(other, job.design.joints, job.storeys)]
    # over one that stands there is room; past one that lies there is none
    lies = unit.way in ("left", "right")
    solid = [
        rectangle(*b.low[:2], *b.high[:2]) for b in blocks(job) if b.owner != unit_id or (lies and b.kind == "unit")
    ]
    body = footprint(stand(unit, cabinet(job, unit)))
    for side in SIDES:
        mine = {i: x for i, x in faces.items() if x.side == side}
        beside = [p for p in plenums if p.side != side]
        through = (outlet[side], *(p.position_m for p in beside), *(x.position_m for x in mine.values()))
        space = spaces.get(through) if spaces is not None else None
        if space is None:
            space = allowed(job, through, outlet[side], unit.storey or "", body)
            if spaces is not None:
                spaces[through] = space
        near = _reached(job, unit, side, space)
        home = [k for k, x in enumerate(space.layers) if x.storey == unit.storey and space.leads_on(k, outlet[side])]
        # where no level that the plenum reaches leads on, one that does is drawn, and judged
        root = [(k, outlet[side]) for k in ([k for k in home if k in near] or home)]
        if not root:
            raise JobValueError(_nowhere(job, unit))
        share = side == "return" or scheme != "radial"
        boxes = [*solid, *(_footprint(unit, p) for p in beside)]
        boxes += [ShapelyPoint(q).buffer(ROUND_M) for of, q in avoid if of == side]
        at_plenum = next(p for p in plenums if p.side == side)
        slides = tuple(v / 2 for v in plan_size(at_plenum, air_way(unit, side)))
        for bank in _banks(job, mine):
            terminals = tuple(Terminal(i, tuple(_spots(job, space, x))) for i, x in bank.items())
            along = _along_trunks(space, scheme, outlet[side], bank)
            routed = grown(space, root, terminals, share, along, taken(space, lie, boxes))
            square(routed.root, {i: x.position_m for i, x in bank.items()}, (slides[0], slides[1]))
            lie += lain(space, routed.root, flow_m3_s * len(bank) / len(mine))
            lay_tree(sheet, space, routed, side, bank)
            missed += routed.unreached
    d = job.design
    keep_runs = tuple(x for x in d.runs if x.indoor != unit_id)
    used = {j for x in keep_runs for j in (x.start, x.end)}
    return (
        with_design(
            job,
            plenums=(*(x for x in d.plenums if x.indoor != unit_id), *plenums),
            joints=(*(j for j in d.joints if j.id in used), *sheet.joints),
            runs=(*keep_runs, *sheet.runs),
            layout=d.layout + (len(keep_runs) < len(d.runs)),
            ticks=tuple(t for t in d.ticks if t.at.kind not in ("run", "plenum")),
        ),
        tuple(missed),
    )


ROUND_M = 0.2
"""How far round a place where ducts would meet they keep off it, with what `taken` adds."""


def _banks(job: Job, faces: dict[str, Register]) -> Iterator[dict[str, Register]]:
    """Faces that share a tree of ducts: supplies by zone, so that a damper at its start holds each; returns all together."""
    zone = {room: z.id for z in job.design.zones for room in z.rooms}
    supplies = {i: zone.get(x.room, "") for i, x in faces.items() if x.side == "supply"}
    for z in dict.fromkeys(supplies.values()):
        yield {i: faces[i] for i, own in supplies.items() if own == z}
    back = {i: x for i, x in faces.items() if x.side == "return"}
    if back:
        yield back


def _reached(job: Job, unit: IndoorUnit, side: Side, space: Space) -> set[int]:
    """The levels at which a duct leaves a plenum: over the ceiling and in soffits where it goes up, under the floor where it
    goes down, and those near the middle of one that lies."""
    way = air_way(unit, side)
    box = next(p for p in plenums_of(unit, cabinet(job, unit), 0.0) if p.side == side)
    middle = sum(plenum_span_m(job, unit, box)) / 2
    own = [(k, x) for k, x in enumerate(space.layers) if x.storey == unit.storey]
    if way[2] == 0:
        return {k for k, x in own if abs(x.height_m - middle) < LYING_REACH_M}
    return {k for k, x in own if (x.level == "under") == (way[2] < 0)}


LYING_REACH_M = 1.0
"""How far over or under the middle of a plenum that lies a level may be."""


def _footprint(unit: IndoorUnit, box: Plenum) -> Polygon:
    """Where a plenum stands on the plan."""
    (x, y), (wide, deep) = box.position_m, plan_size(box, air_way(unit, box.side))
    return rectangle(x - wide / 2, y - deep / 2, x + wide / 2, y + deep / 2)


def _nowhere(job: Job, unit: IndoorUnit) -> str:
    """Why no duct can start at a unit."""
    storey = next((s.name for s in job.storeys if s.id == unit.storey), "no storey")
    if any(r.storey == unit.storey for r in job.rooms):
        return (
            f"No duct gets away from {unit.tag} where it stands on {storey}: nothing over the ceiling or under the floor there is "
            "high enough, and no hall or closet for a soffit is beside it. Place it elsewhere (U)."
        )
    return f"{unit.tag} stands on {storey}, where no room is drawn: draw its rooms (House), or place the unit elsewhere (U)."


LEVELS = {"below": ("under",), "above": ("over",), "wall": ("over", "under")}
"""From where faces are met."""


def _spots(job: Job, space: Space, face: Register) -> Iterator[tuple[int, Point]]:
    """The levels at which a face is met."""
    for level in LEVELS[REGISTERS[face.kind].fed]:
        yield space.layer(storey_of(job, face).id, level), face.position_m


def _along_trunks(space: Space, scheme: Scheme, start: Point, faces: dict[str, Register]) -> NDArray[np.bool_] | None:
    """Nodes along which a scheme wants its trunks: the longer way of the faces through the outlet, or two beside it."""
    if scheme not in ("trunk", "twin", "interior") or not faces:
        return None
    at = np.array([x.position_m for x in faces.values()])
    axis = 0 if np.ptp(at[:, 0]) >= np.ptp(at[:, 1]) else 1
    across, lines = at[:, 1 - axis], space.ys if axis == 0 else space.xs
    if scheme == "twin":
        middle = float(np.median(across))
        wanted = [float(np.median(half)) for half in (across[across <= middle], across[across > middle]) if len(half)]
    else:
        wanted = [start[1 - axis]]
    cheap = np.zeros((len(space.layers), len(space.ys), len(space.xs), 2), bool)
    for value in wanted:
        k = int(np.argmin(np.abs(lines - value)))
        if axis == 0:
            cheap[:, k, :, 0] = True
        else:
            cheap[:, :, k, 1] = True
    return cheap.ravel()
