"""How large a plenum is: across the air by its speed and the unit's own opening, along it by the blower wheel and its holes."""

from __future__ import annotations

from math import ceil, sqrt
from typing import Literal, NamedTuple

from murvan.design.limits import CUSHION_M
from murvan.design.space.plenum_faces import FIRST_M, Hole, Side, goes_in, long_m, rows, side_size
from murvan.model.design import Plenum
from murvan.model.equipment import Unit
from murvan.units import FPM, INCH

School = Literal["central", "fan_coil"]
FACE_VELOCITY: dict[School, float] = {"central": 800 * FPM, "fan_coil": 500 * FPM}
"""Two schools, common practice: 800 fpm at a central air handler, 500 fpm (quieter) at a slim unit."""
SLIM_M = 12 * INCH
"""A unit so flat is a slim one; common practice."""
DEPTH_WHEELS = (2.5, 3.0)
"""Length of a plenum in diameters of the blower wheel; common practice."""
SHORT_M = 24 * INCH
"""Length of a plenum of a small wheel; common practice."""
LONGEST_M = 48 * INCH
"""Longer, its take-offs get a wider box instead; common practice, the length of a sheet's width."""
LEAST_M = 10 * INCH


class Room(NamedTuple):
    """Clear height where a plenum is, m; None: nothing is known to be in its way."""

    across_m: float | None = None
    """Upright, of a box that lies."""
    along_m: float | None = None
    """Over a unit that stands."""


class Section(NamedTuple):
    """A plenum across the air, and what decides on it."""

    width_m: float
    depth_m: float
    by: str
    """'air': its speed; 'outlet': the unit's own opening; 'held': both sides."""


def school_of(unit: Unit | None) -> School:
    """By which speed the plenums of a unit go."""
    slim = unit is not None and min(unit.width_m, unit.depth_m, unit.height_m) <= SLIM_M
    return "fan_coil" if slim else "central"


def opening_m(unit: Unit | None) -> tuple[float, float]:
    """Width and depth of a unit's own opening, 0 where there is no unit."""
    return (unit.outlet_width_m, unit.outlet_depth_m) if unit is not None else (0.0, 0.0)


def section(
    flow_m3_s: float,
    school: School,
    opening: tuple[float, float] = (0.0, 0.0),
    held: tuple[float | None, float | None] = (None, None),
    clear_m: float | None = None,
) -> Section:
    """Width and depth in whole inches, as near to a square as they go.

    Args:
        opening: The unit's own, which the box is never smaller than.
        held: Width and depth where they are held.
        clear_m: Clear height for the depth of a box that lies.
    """
    by_air = max(flow_m3_s, 0.0) / FACE_VELOCITY[school]
    area = max(by_air, opening[0] * opening[1])
    by = "air" if by_air >= opening[0] * opening[1] else "outlet"
    width, depth = held
    if width is not None and depth is not None:
        return Section(width, depth, "held")
    if width is None and depth is None:
        depth = max(sqrt(area), opening[1], LEAST_M)
        depth = _inches(depth) if clear_m is None else min(_inches(depth), _inches_down(clear_m))
        width = _inches(max(area / depth, opening[0], LEAST_M))
        if clear_m is None:
            depth = _inches(max(area / width, opening[1], LEAST_M))
        return Section(width, depth, by)
    if width is None:
        assert depth is not None
        return Section(_inches(max(area / depth, opening[0], LEAST_M)), depth, by)
    depth = _inches(max(area / width, opening[1], LEAST_M))
    return Section(width, depth if clear_m is None else min(depth, _inches_down(clear_m)), by)


def _inches(m: float) -> float:
    return ceil(m / INCH - 1e-6) * INCH


def _inches_down(m: float) -> float:
    return max(int(m / INCH + 1e-6), 2) * INCH


def usual_length_m(unit: Unit | None) -> float:
    """Length along the air before there are holes in it."""
    wheels = DEPTH_WHEELS[0] * unit.wheel_diameter_m if unit is not None else 0.0
    return max(_inches(wheels), SHORT_M)


def sized(
    box: Plenum,
    flow_m3_s: float,
    unit: Unit | None,
    holes: dict[Side, list[Hole]],
    room: Room = Room(),  # noqa: B008  a tuple of numbers
    reach_m: float = 0.0,
) -> Plenum:
    """A plenum as its air, the unit's opening, the room there is and its holes want it; what is held stays.

    Args:
        holes: By the side they are on.
        reach_m: How long it has to be to meet the level of its ducts.
    """
    free = [k for k in ("width_m", "depth_m", "height_m") if k not in box.held]
    held = (None if "width_m" in free else box.width_m, None if "depth_m" in free else box.depth_m)
    across = section(flow_m3_s, box.school, opening_m(unit), held, room.across_m)
    longest = min(LONGEST_M, room.along_m) if room.along_m is not None else LONGEST_M
    long = (
        max(min(usual_length_m(unit), max(longest, LEAST_M)), _inches(reach_m))
        if "height_m" in free
        else box.height_m
    )
    out = box.model_copy(update={"width_m": across.width_m, "depth_m": across.depth_m, "height_m": long})
    return _with_room(out, holes, free, longest if "height_m" in free else None, room.across_m)


def roomy(
    box: Plenum, holes: dict[Side, list[Hole]], longest_m: float | None = LONGEST_M, reach_m: float = 0.0
) -> Plenum:
    """A plenum made as long as it has to reach, then longer and wider until its holes go on it; what is held stays."""
    free = [k for k in ("width_m", "depth_m", "height_m") if k not in box.held]
    if "height_m" in free and reach_m > box.height_m:
        box = box.model_copy(update={"height_m": _inches(reach_m)})
    return _with_room(box, holes, free, longest_m if "height_m" in free else None, None)


def _with_room(
    box: Plenum, holes: dict[Side, list[Hole]], free: list[str], longest_m: float | None, clear_m: float | None
) -> Plenum:
    """The box made larger where its holes don't go in, its length first; up to three times as wide as it is."""
    first = box
    for _ in range(120):
        if longest_m is not None:
            box = _longer(box, holes, longest_m)
        tight = {s for s, own in holes.items() if not goes_in(own, *side_size(box, s), s == "cap")}
        if not tight:
            break
        wider = {}
        if tight & {"front", "back", "cap"} and "width_m" in free and box.width_m < 3 * first.width_m:
            wider["width_m"] = box.width_m + INCH
        room = clear_m is None or box.depth_m + INCH <= clear_m
        if tight & {"left", "right", "cap"} and "depth_m" in free and room and box.depth_m < 3 * first.depth_m:
            wider["depth_m"] = box.depth_m + INCH
        if not wider:
            break
        box = box.model_copy(update=wider)
    return box


def _longer(box: Plenum, holes: dict[Side, list[Hole]], longest_m: float) -> Plenum:
    """As long as the rows on its sides want it, cushion and way to the first hole included."""
    sides = [(s, own) for s, own in holes.items() if s != "cap" and own]
    wants = [FIRST_M + long_m(rows(own, side_size(box, s)[0])) + CUSHION_M for s, own in sides]
    want = min(_inches(max(wants, default=0.0)), longest_m)
    return box.model_copy(update={"height_m": want}) if want > box.height_m + 1e-6 else box
