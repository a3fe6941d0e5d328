"""Drawings traced: closed polylines of a DXF turned into rooms, and an underlay put to scale.

DXF y points up, the plan's y down: the drawing is turned over on its way in.
"""

from __future__ import annotations

import time
from collections import Counter
from dataclasses import dataclass
from math import hypot, isfinite
from pathlib import Path
from typing import Any

from shapely.geometry import Point as At
from shapely.geometry import Polygon
from shapely.ops import unary_union

from murvan.design.drawing.outlines import Outline, tidy
from murvan.design.drawing.rooms import Drawn, draw_room, next_room
from murvan.model.edit import changed, free_id, replace
from murvan.model.errors import JobError, JobFileError, JobValueError
from murvan.model.job import Job, Point, Underlay

DXF_UNITS_M = {1: 0.0254, 2: 0.3048, 4: 0.001, 5: 0.01, 6: 1.0, 10: 0.9144, 14: 0.1}
"""$INSUNITS of a DXF file to metres."""
LIKELY_M = (6.0, 80.0)
"""Longest side of a house; a drawing without units takes the unit that brings it here."""
GUESSES_M = (1.0, 0.0254, 0.001, 0.3048, 0.01)
ROOM_AREA_M2 = (0.8, 400.0)
MAX_BYTES = 64 * 1024 * 1024
MAX_SHAPES = 2000
MAX_ENTITIES = 200_000
"""Of a drawing with its blocks taken apart: blocks in blocks multiply."""
MOST_M = 500.0
CHORD_M = 0.02
"""Arcs become chords that stay this close to them."""


@dataclass(frozen=True)
class Drawing:
    """A DXF read: closed shapes and all lines in metres on the plan, texts, and its unit."""

    shapes: tuple[Outline, ...]
    lines: tuple[tuple[Point, ...], ...]
    texts: tuple[tuple[Point, str], ...]
    unit_known: bool

    @property
    def size_m(self) -> tuple[float, float]:
        """Width and height of what is drawn, m, from the origin; 0, 0 of an empty drawing."""
        points = [p for line in self.lines for p in line]
        if not points:
            return (0.0, 0.0)
        return (max(p[0] for p in points), max(p[1] for p in points))


def read_dxf(path: str | Path) -> Drawing:
    """Read a DXF drawing; its upper left corner becomes the plan's origin.

    Raises:
        JobFileError: no such file, too large, not a DXF, or nothing is drawn in it.
    """
    file = Path(path)
    try:
        size = file.stat().st_size
    except OSError as exc:
        raise JobFileError(f"Can't read {file.name}: {exc.strerror}.") from None
    if size > MAX_BYTES:
        raise JobFileError(
            f"{file.name} is {size / 1e6:.0f} MB; drawings up to {MAX_BYTES / 1e6:.0f} MB can be traced."
        )
    closed, lines, texts, code = _parsed(file)
    if not lines:
        raise JobFileError(f"{file.name}: nothing is drawn in it.")
    return _placed(closed, lines, texts, DXF_UNITS_M.get(code), file.name)


def _parsed(file: Path) -> tuple[list[Raw], list[Raw], list[Text], int]:
    """Closed shapes, all lines, texts, and the code of the drawing's unit."""
    from ezdxf import recover

    try:
        document, _ = recover.readfile(file)
        return (*_entities(document, file.name), int(document.header.get("$INSUNITS", 0) or 0))
    except JobFileError:
        raise
    except Exception:  # a damaged file makes the library end in any of a dozen ways, failed assertions among them
        raise JobFileError(f"{file.name} is not a DXF drawing, or it is damaged.") from None


Raw = list[tuple[float, float]]
Text = tuple[tuple[float, float], str]


def _entities(document: Any, label: str) -> tuple[list[Raw], list[Raw], list[Text]]:
    """Closed shapes, all lines and texts in drawing units, blocks taken apart."""
    closed: list[Raw] = []
    lines: list[Raw] = []
    texts: list[Text] = []
    began = time.monotonic()
    for k, entity in enumerate(_flat(document.modelspace())):
        if time.monotonic() - began > MOST_S:
            raise JobFileError(f"{label} holds blocks in blocks that take too long to take apart; explode it first.")
        if k > MAX_ENTITIES:
            raise JobFileError(f"{label} has more than {MAX_ENTITIES:,} pieces with its blocks taken apart.")
        kind = entity.dxftype()
        if kind in ("LWPOLYLINE", "POLYLINE", "LINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE"):
            points = _points(entity)
            if len(points) < 2:
                continue
            lines.append(points)
            if kind in ("LWPOLYLINE", "POLYLINE") and _closed(entity, points):
                closed.append(points)
        elif kind == "TEXT":
            texts.append(((entity.dxf.insert.x, entity.dxf.insert.y), str(entity.dxf.text)))
        elif kind == "MTEXT":
            texts.append(((entity.dxf.insert.x, entity.dxf.insert.y), str(entity.plain_text())))
    return closed, lines, texts


MOST_S = 3.0
"""What taking blocks apart may take."""


def _flat(entities: Any, depth: int = 0) -> Any:
    for entity in entities:
        if entity.dxftype() == "INSERT" and depth < 8:
            yield entity  # counts, so that nested blocks that hold nothing end too
            yield from _flat(entity.virtual_entities(), depth + 1)
        else:
            yield entity


def _points(entity: Any) -> Raw:
    from ezdxf import path as paths

    try:
        made = paths.make_path(entity)
        extent = max(made.control_vertices(), key=lambda v: abs(v.x) + abs(v.y)).magnitude if len(made) else 1.0
        return [(v.x, v.y) for v in made.flattening(distance=max(extent, 1e-6) * 1e-3, segments=4)]
    except (TypeError, ValueError, ZeroDivisionError):
        return []


def _closed(entity: Any, points: Raw) -> bool:
    flag = bool(getattr(entity, "closed", False) or getattr(entity, "is_closed", False))
    extent = max(hypot(x - points[0][0], y - points[0][1]) for x, y in points)
    gap = hypot(points[-1][0] - points[0][0], points[-1][1] - points[0][1])
    return len(points) > 3 and (flag or gap < 1e-3 * max(extent, 1e-9))


def _placed(
    closed: list[Raw], lines: list[Raw], texts: list[tuple[tuple[float, float], str]], unit: float | None, label: str
) -> Drawing:
    xs = [p[0] for line in lines for p in line]
    ys = [p[1] for line in lines for p in line]
    span = max(max(xs) - min(xs), max(ys) - min(ys))
    if not isfinite(span):
        raise JobFileError(f"{label}: a point of it lies nowhere.")
    scale = unit or next((g for g in GUESSES_M if LIKELY_M[0] <= span * g <= LIKELY_M[1]), 1.0)
    if span * scale > MOST_M:
        raise JobFileError(f"{label} is {span * scale / 1000:,.1f} km wide; a plan has up to {MOST_M:.0f} m.")
    left, top = min(xs), max(ys)

    def at(p: tuple[float, float]) -> Point:
        return (round((p[0] - left) * scale, 5), round((top - p[1]) * scale, 5))

    return Drawing(
        tuple(tuple(at(p) for p in shape) for shape in closed),
        tuple(tuple(at(p) for p in line) for line in lines),
        tuple((at(p), text) for p, text in texts),
        unit is not None,
    )


def rooms_from(job: Job, storey: str, drawing: Drawing) -> Drawn:
    """Every closed shape of a drawing as a room; a text inside names it, an outline round the others is left out.

    Raises:
        JobValueError: there is no closed shape of a room's size.
    """
    shapes = _rooms_of(drawing)
    if not shapes:
        raise JobValueError(
            f"The drawing has {len(drawing.lines)} lines but no closed shape of a room's size; "
            "it lies under the plan to be traced."
            if drawing.lines
            else "The drawing has no closed shapes."
        )
    after, made, refused = job, 0, []
    last = ""
    for outline in shapes:
        name = _name_in(drawing, outline, {r.name for r in after.rooms}) or next_room(after)[1]
        try:
            drawn = draw_room(after, storey, outline, name)
        except JobError as exc:
            refused.append(str(exc))
            continue
        after, made, last = drawn.job, made + 1, drawn.id
    if not made:
        raise JobValueError(f"No shape of the drawing can be a room: {refused[0]}")
    say = f"{made} room{'s' if made != 1 else ''} from the drawing"
    if refused:
        say += f"; {len(refused)} shapes left out: {refused[0]}"
    if not drawing.unit_known:
        say += "; it names no unit, so check a length"
    return Drawn(after, "room", last, say)


def _rooms_of(drawing: Drawing) -> list[Outline]:
    """Shapes of a room's size, largest first, without doubles and without the outline of the house."""
    found: list[tuple[Polygon, Outline]] = []
    for shape in drawing.shapes[:MAX_SHAPES]:
        try:
            outline = tidy(shape, "A shape")
        except JobError:
            continue
        polygon = Polygon(outline)
        if not ROOM_AREA_M2[0] <= polygon.area <= ROOM_AREA_M2[1]:
            continue
        if any(polygon.symmetric_difference(p).area < 0.02 * polygon.area for p, _ in found):
            continue
        found.append((polygon, outline))
    found.sort(key=lambda x: -x[0].area)
    return [
        outline
        for k, (polygon, outline) in enumerate(found)
        if not _is_shell(polygon, [p for p, _ in found[k + 1 :]])
    ]


def _is_shell(polygon: Polygon, smaller: list[Polygon]) -> bool:
    """Whether two or more other shapes fill most of it: the outside of the house and no room."""
    inside = [p for p in smaller if polygon.buffer(0.05).contains(p)]
    return len(inside) > 1 and unary_union(inside).area > 0.7 * polygon.area


def _name_in(drawing: Drawing, outline: Outline, taken: set[str]) -> str:
    polygon = Polygon(outline)
    words = [t.strip().splitlines()[0].strip() for p, t in drawing.texts if t.strip() and polygon.contains(At(p))]
    names = [w for w in words if any(c.isalpha() for c in w) and len(w) <= 60]
    if not names:
        return ""
    name = Counter(names).most_common(1)[0][0]
    name = name.capitalize() if name.isupper() else name
    k, unique = 2, name
    while unique in taken:
        unique, k = f"{name} {k}", k + 1
    return unique


# ---- underlays ------------------------------------------------------------------------------------------------


def lay_under(job: Job, underlay: Underlay) -> Drawn:
    """A picture under the plan; an older one of its storey steps back. Raises JobValueError."""
    older = tuple(
        changed(u, shown=False) if u.storey == underlay.storey else u for u in job.underlays if u.id != underlay.id
    )
    return Drawn(changed(job, job.name, underlays=(*older, underlay)), "underlay", underlay.id)


def next_underlay(job: Job) -> str:
    """A free id."""
    return free_id("under", {u.id for u in job.underlays})


def rescale(job: Job, underlay_id: str, a: Point, b: Point, length_m: float) -> Job:
    """Put an underlay to scale: the plan points a and b lie `length_m` apart in truth; a stays where it is.

    Raises:
        JobValueError: the points are the same, or the length is out of reach.
    """
    u = next((x for x in job.underlays if x.id == underlay_id), None)
    if u is None:
        raise JobValueError("There is no picture under the plan.")
    now = hypot(b[0] - a[0], b[1] - a[1])
    if now < 1e-6:
        raise JobValueError("The two points are one; pick points as far apart as the picture allows.")
    if not 0.1 <= length_m <= 300:
        raise JobValueError("A length of ", ("feet", length_m), " can't be told on a picture of a house.")
    k = length_m / now
    at = (round(a[0] + (u.position_m[0] - a[0]) * k, 5), round(a[1] + (u.position_m[1] - a[1]) * k, 5))
    return replace(job, "underlays", underlay_id, m_per_px=u.m_per_px * k, position_m=at)


def shift_underlay(job: Job, underlay_id: str, dx: float, dy: float) -> Job:
    """Move an underlay. Raises JobValueError."""
    u = next((x for x in job.underlays if x.id == underlay_id), None)
    if u is None:
        raise JobValueError("There is no picture under the plan.")
    return replace(
        job, "underlays", underlay_id, position_m=(round(u.position_m[0] + dx, 5), round(u.position_m[1] + dy, 5))
    )
