"""Branches that meet their faces square: what a grid line misses a face by is taken by the take-off, which slides along its
trunk, and where there is no trunk to slide along by an elbow before the face."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from math import dist

from murvan.design.lay.routing import Branch
from murvan.model.job import Point

NIL_M = 1e-3
ASLANT_M = 0.12
"""What a branch is off by at its face without an elbow for it: it goes there a little aslant."""
AT_EDGE_M = 0.15
"""What a duct's middle keeps off the edge of its plenum's face."""
ANY_M = 100.0


def square(root: Branch, faces: Mapping[str, Point], slides_m: tuple[float, float] = (ANY_M, ANY_M)) -> None:
    """Move a tree's ends to their faces, m on the plan, and their take-offs with them; every leg goes along x or y.

    Args:
        slides_m: How far what starts at the plenum may start off its middle, along x and y.
    """
    for way in tuple(_ways(root, ())):
        _to_face(way[:-1], way[-1], faces[way[-1].face], slides_m)


def _ways(at: Branch, before: tuple[Branch, ...]) -> Iterator[tuple[Branch, ...]]:
    """Each face's way from the root."""
    here = (*before, at)
    if at.face:
        yield here
    for on in at.onward:
        yield from _ways(on, here)


def _to_face(before: tuple[Branch, ...], end: Branch, goal: Point, slides_m: tuple[float, float]) -> None:
    if end.onward or not before or dist(end.at[1], goal) < NIL_M:
        return
    # take-offs that slid before this one may stand between by now
    way = next(w for w in _ways(before[0], ()) if w[-1] is end)
    at = way[-2]
    along = _axis(way)
    across = goal[1 - along] - at.at[1][1 - along]
    # at a plenum the start itself stands where the leg goes, as far as its face goes
    if len(way) == 2:
        bent = abs(across) > max(slides_m[1 - along] - AT_EDGE_M, 0.0)
    else:
        bent = abs(across) > NIL_M and not _slid(way, 1 - along, across)
    if bent and abs(across) > ASLANT_M:
        corner = Branch((end.at[0], _moved(at.at[1], along, goal[along] - at.at[1][along])), [end])
        at.onward[at.onward.index(end)] = corner
    end.at = (end.at[0], goal)


def _axis(way: tuple[Branch, ...]) -> int:
    """The way the last leg goes, 0 along x, 1 along y; of one without a length, square to what it hangs on."""
    (ax, ay), (bx, by) = way[-2].at[1], way[-1].at[1]
    if max(abs(bx - ax), abs(by - ay)) > NIL_M:
        return 0 if abs(bx - ax) > abs(by - ay) else 1
    if len(way) > 2:
        (ax, ay), (bx, by) = way[-3].at[1], way[-2].at[1]
        return 1 if abs(bx - ax) > abs(by - ay) else 0
    return 0


def _moved(at: Point, axis: int, by: float) -> Point:
    out = [at[0], at[1]]
    out[axis] = round(out[axis] + by, 3)
    return out[0], out[1]


def _slid(way: tuple[Branch, ...], axis: int, by: float) -> bool:
    """Move the start of the last leg along the duct it hangs on, where there is one along that axis with the room."""
    over, at, end = way[-3:]
    if at.at[0] != end.at[0] or not _let_go(over, at, end, axis):
        return False
    new = Branch((at.at[0], _moved(at.at[1], axis, by)), [end])
    back = _room(at, over, axis)
    if back * by > 0:
        return abs(back) > abs(by) and _before(over, at, end, new)
    onward = next((x for x in at.onward if x is not end and _room(at, x, axis) * by > 0), None)
    if onward is not None:
        if abs(_room(at, onward, axis)) <= abs(by):
            return False
        new.onward.insert(0, onward)
        at.onward[at.onward.index(onward)] = new
    elif back:
        at.onward.append(new)
    else:
        return False
    at.onward.remove(end)
    return True


def _let_go(over: Branch, at: Branch, end: Branch, axis: int) -> bool:
    """Whether nothing is left at the start of the last leg once that has slid off: no stub between two joints."""
    rest = [x for x in at.onward if x is not end]
    return not at.face and (not rest or (len(rest) == 1 and _room(over, at, axis) * _room(at, rest[0], axis) > 0))


def _room(at: Branch, to: Branch, axis: int) -> float:
    """How far it goes along an axis from a place to the next of its level; 0 where it goes another way."""
    across = to.at[1][1 - axis] - at.at[1][1 - axis]
    return to.at[1][axis] - at.at[1][axis] if at.at[0] == to.at[0] and abs(across) < NIL_M else 0.0


def _before(over: Branch, at: Branch, end: Branch, new: Branch) -> bool:
    """Let the last leg leave between what is over its start and its start."""
    at.onward.remove(end)
    over.onward[over.onward.index(at)] = new
    if at.onward or at.face:
        new.onward.insert(0, at)
    return True
