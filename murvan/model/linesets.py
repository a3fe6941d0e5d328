"""How refrigerant lines lie: from the outdoor unit or a branch box to an indoor unit, with the rises between."""

from __future__ import annotations

from math import dist
from typing import Literal, NamedTuple

from murvan.model.design import Design, IndoorUnit, RefrigerantLine
from murvan.model.house import Storey, floor_heights
from murvan.model.record import Point

Spot = tuple[float, float, float]
"""On the plan, and over the ground outside, m."""
VALVES_M = 0.3
"""Height of an outdoor unit's valves over the ground; common practice."""
PORT_M = {"ducted": 1.0, "wall": 2.1, "floor": 0.3}
"""Height of an indoor unit's connections over its floor; that of a ceiling unit is its storey's; common practice."""
USUAL_LENGTH_M, USUAL_LIFT_M = 8.0, 1.0
"""Of a line whose outdoor unit has no place yet."""
Source = Literal["measured", "drawn", "usual"]
SOURCE_WORDS: dict[Source, str] = {"measured": "", "drawn": ", as placed", "usual": ", Murvan default"}
"""What stands behind a length or a lift."""


class LaidLine(NamedTuple):
    """A refrigerant line with what follows from where it goes."""

    length_m: float
    lift_m: float
    """Between its highest and its lowest place."""
    length_from: Source
    lift_from: Source
    path_m: tuple[Spot, ...] = ()
    """From the outdoor unit or box to the indoor unit; none while either has no place."""


def laid_line(design: Design, indoor: IndoorUnit, storeys: tuple[Storey, ...]) -> LaidLine:
    """The line of an indoor unit: as measured where it was, else as drawn, else as it usually is.

    A line without bends goes along the walls: east to west, north to south, and up.
    """
    line = next((x for x in design.lines if x.indoor == indoor.id), None)
    path = _path(design, indoor, line, storeys)
    drawn: Source = "drawn" if path else "usual"
    length, lift = USUAL_LENGTH_M, USUAL_LIFT_M
    if path:
        length = sum(map(dist, path, path[1:])) if line is not None and line.route_m else _square(path[0], path[-1])
        lift = max(z for *_, z in path) - min(z for *_, z in path)
    length_from = lift_from = drawn
    if line is not None and line.length_m is not None:
        length, length_from = line.length_m, "measured"
    if line is not None and line.lift_m is not None:
        lift, lift_from = line.lift_m, "measured"
    return LaidLine(length, lift, length_from, lift_from, path)


def _path(
    design: Design, indoor: IndoorUnit, line: RefrigerantLine | None, storeys: tuple[Storey, ...]
) -> tuple[Spot, ...]:
    floor, height = floor_heights(storeys), {s.id: s.height_m for s in storeys}
    start = _start(design, indoor, line, floor)
    if start is None or indoor.storey not in floor:
        return ()
    port = PORT_M.get(indoor.kind, height[indoor.storey])
    end = (*indoor.position_m, floor[indoor.storey] + port)
    return (start, *(line.route_m if line is not None else ()), end)


def _start(design: Design, indoor: IndoorUnit, line: RefrigerantLine | None, floor: dict[str, float]) -> Spot | None:
    box = next((b for b in design.boxes if line is not None and b.id == line.box), None)
    if box is not None:
        at: Point | None = box.position_m
        z = floor.get(box.storey or "", 0.0) + box.height_m
    else:
        at = next((x.position_m for x in design.outdoor_units if x.id == indoor.outdoor), None)
        z = VALVES_M
    return (*at, z) if at is not None else None


def _square(a: Spot, b: Spot) -> float:
    return sum(abs(q - p) for p, q in zip(a, b, strict=True))
