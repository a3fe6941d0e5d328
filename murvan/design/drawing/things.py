"""What stands in or lies about the house: patches, mechanical places, floor to keep clear, furniture, what is there
already; ceilings that slope."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

import numpy as np
import shapely
from shapely.geometry import Polygon

from murvan.design.drawing.openings import SIZES, last_like, usual_glazing
from murvan.design.drawing.outlines import LEAST_AREA_M2, Outline, tidy
from murvan.design.drawing.rooms import Drawn
from murvan.design.drawing.turning import next_tag
from murvan.design.house.geometry import shape_of
from murvan.design.house.levels import headroom_m, in_room
from murvan.design.space.duct_levels import JOISTS_M
from murvan.design.space.duct_places import run_below
from murvan.kinds.obstacles import OBSTACLES, PIPE_M, UPRIGHT_M, ObstacleKind
from murvan.model.edit import changed, free_id, make, replace
from murvan.model.errors import JobValueError
from murvan.model.job import (
    Existing,
    Furniture,
    Job,
    KeepClear,
    MechanicalPlace,
    Obstacle,
    Opening,
    Patch,
    Point,
    Room,
    Slope,
)

AREAS: dict[str, tuple[str, type, str]] = {
    "patch": ("patches", Patch, "Bay"),
    "place": ("places", MechanicalPlace, "Equipment"),
    "keep": ("keep_clear", KeepClear, "Clear"),
    "obstacle": ("obstacles", Obstacle, "Beam"),
}
"""Kind of area to (collection, record, first name)."""
FURNITURE_M = {
    "bed": (1.53, 2.03),
    "single_bed": (0.97, 1.91),
    "crib": (0.76, 1.37),
    "sofa": (2.13, 0.91),
    "chair": (0.85, 0.85),
    "desk": (1.5, 0.75),
    "table": (1.8, 1.0),
}
"""Width and depth, usual sizes; common practice."""
SEATS = ("bed", "single_bed", "crib", "sofa", "chair", "desk", "table")
CLEAR_M = {"panel": 0.91, "filter": 0.61, "hatch": 0.76, "flue": 0.46}
"""How far a thing of a kind is usually kept clear; common practice, the local code goes before it."""


LEAST_M2 = {"obstacle": 4e-4}
"""Of what may be smaller than a cupboard: a pipe of ¾ in."""
SOFFIT_M = 0.36
"""Clear height inside a soffit as it is first drawn, about 14 in; common practice."""
CHASE_M = 1.2
"""What is no longer than this is a chase, about 4 ft."""


def add_boxing(job: Job, storey: str, outline: Outline) -> Drawn:
    """A soffit where the outline is long, a chase where it is not.

    Raises:
        JobValueError: no room is there.
    """
    if not any(r.storey == storey and shape_of(r.outline_m).intersects(Polygon(outline)) for r in job.rooms):
        raise JobValueError("A soffit or chase lies in a room; drag inside one.")
    xs, ys = zip(*outline, strict=True)
    long = max(max(xs) - min(xs), max(ys) - min(ys)) > CHASE_M
    level = next(s for s in job.storeys if s.id == storey)
    if long:
        return add_area(job, "place", storey, outline, "Soffit", {"kind": "soffit", "clear_m": SOFFIT_M})
    return add_area(job, "place", storey, outline, "Chase", {"kind": "chase", "clear_m": level.height_m})


def add_area(
    job: Job,
    kind: str,
    storey: str,
    outline: Outline,
    name: str = "",
    more: Mapping[str, object] = MappingProxyType({}),
) -> Drawn:
    """A patch, mechanical place or floor to keep clear, from its outline, with other fields of it. Raises JobValueError."""
    collection, record, usual = AREAS[kind]
    name = name or usual
    items = getattr(job, collection)
    final = tidy(outline, name, LEAST_M2.get(kind, LEAST_AREA_M2))
    names = {x.name for x in items}
    k, unique = 2, name
    while unique in names:
        unique, k = f"{name} {k}", k + 1
    new: Any = make(
        record, unique, id=free_id(kind, {x.id for x in items}), name=unique, storey=storey, outline_m=final, **more
    )
    return Drawn(changed(job, job.name, **{collection: (*items, new)}), kind, new.id)


def add_obstacle(job: Job, storey: str, outline: Outline) -> Drawn:
    """A post where the outline is short both ways, a drain where it is thin, else a beam; hung under the ceiling, or from floor to
    ceiling. Raises JobValueError."""
    xs, ys = zip(*outline, strict=True)
    sides = sorted((max(xs) - min(xs), max(ys) - min(ys)))
    kind = OBSTACLES["post" if sides[1] <= UPRIGHT_M else "drain" if sides[0] <= PIPE_M else "beam"]
    low, high = usual_height(job, storey, kind)
    return add_area(job, "obstacle", storey, outline, kind.name, {"kind": kind.id, "low_m": low, "high_m": high})


def usual_height(job: Job, storey: str, kind: ObstacleKind) -> tuple[float, float]:
    """Underside over the floor, and height, of an obstacle as it is first drawn, m: under the joists where ducts hang there, else
    under the ceiling."""
    level = next(s for s in job.storeys if s.id == storey)
    if kind.upright:
        return 0.0, level.height_m
    top = level.height_m
    if level.duct_place == "crawl" and run_below(job, level):
        top = -(level.floor_structure.depth_m if level.floor_structure is not None else JOISTS_M)
    return round(top - kind.high_m, 4), kind.high_m


def set_obstacle_side(job: Job, item: str, side: str, value_m: float) -> Job:
    """An obstacle as wide or as long on the plan as typed, its middle where it was; the shorter side is its width.

    Raises:
        JobValueError: it would have no area.
    """
    x = next(o for o in job.obstacles if o.id == item)
    xs, ys = zip(*x.outline_m, strict=True)
    have = (max(xs) - min(xs), max(ys) - min(ys))
    short = 0 if have[0] < have[1] else 1
    axis = short if side == "wide" else 1 - short
    middle, by = (min((xs, ys)[axis]) + max((xs, ys)[axis])) / 2, value_m / have[axis]
    outline = tuple(
        tuple(round(middle + (q[k] - middle) * by, 5) if k == axis else q[k] for k in (0, 1)) for q in x.outline_m
    )
    return replace(job, "obstacles", item, outline_m=outline)


def obstacle_sides_m(x: Obstacle) -> tuple[float, float]:
    """Width and length on the plan, the shorter side first."""
    xs, ys = zip(*x.outline_m, strict=True)
    wide, long = sorted((max(xs) - min(xs), max(ys) - min(ys)))
    return wide, long


def add_furniture(job: Job, storey: str, at: Point, kind: str = "bed", turn_deg: float = 0.0) -> Drawn:
    """A bed or seat in the room under a point. Raises JobValueError outside all rooms."""
    room = room_at(job, storey, at)
    if room is None:
        raise JobValueError("Furniture stands in a room; press inside one.")
    new = make(
        Furniture,
        kind,
        id=free_id("seat", {x.id for x in job.furniture}),
        kind=kind,
        room=room.id,
        position_m=at,
        turn_deg=turn_deg,
    )
    return Drawn(changed(job, job.name, furniture=(*job.furniture, new)), "furniture", new.id)


def add_existing(job: Job, storey: str, at: Point, kind: str = "other") -> Drawn:
    """A thing the survey found, at a point of the plan."""
    room = room_at(job, storey, at)
    words = kind.replace("_", " ").capitalize() if kind != "other" else "Thing"
    new = make(
        Existing,
        words,
        id=free_id("old", {x.id for x in job.existing}),
        kind=kind,
        name=words,
        room=room.id if room else None,
        storey=storey,
        position_m=at,
    )
    return Drawn(changed(job, job.name, existing=(*job.existing, new)), "existing", new.id)


def add_skylight(job: Job, storey: str, at: Point) -> Drawn:
    """A skylight in the ceiling of the room under a point.

    Raises:
        JobValueError: no room is there.
    """
    room = room_at(job, storey, at)
    if room is None:
        raise JobValueError("A skylight lies in a room's ceiling; press inside a room.")
    like = last_like(job, "skylight")
    size = SIZES["skylight"][1]
    new = make(
        Opening,
        "new skylight",
        id=free_id("op", {o.id for o in job.openings}),
        tag=next_tag(list(job.openings), "skylight"),
        kind="skylight",
        room=room.id,
        wall=0,
        offset_m=0.0,
        width_m=like.width_m if like else size.width_m,
        height_m=like.height_m if like else size.height_m,
        glazing=like.glazing if like else usual_glazing(job, None),
        position_m=at,
    )
    return Drawn(changed(job, job.name, openings=(*job.openings, new)), "opening", new.id)


def room_at(job: Job, storey: str, at: Point) -> Room | None:
    """The room a point of a storey lies in, else one at whose wall it is."""
    near = [r for r in job.rooms if r.storey == storey and in_room(r, at)]
    return next((r for r in near if shapely.contains_xy(shape_of(r.outline_m), *at)), near[0] if near else None)


COLLECTION_OF = {
    "furniture": "furniture",
    "existing": "existing",
    "patch": "patches",
    "place": "places",
    "keep": "keep_clear",
    "obstacle": "obstacles",
    "space": "spaces",
    "skylight": "openings",
    "underlay": "underlays",
}


def move_thing(job: Job, kind: str, item: str, dx: float, dy: float) -> Job:
    """A thing of the plan moved; furniture takes the room it comes to lie in.

    Raises:
        JobValueError: furniture would stand outside all rooms.
    """
    collection = COLLECTION_OF[kind]
    things = getattr(job, collection)
    thing = next((x for x in things if x.id == item), None)
    if thing is None:
        raise JobValueError("It is not on the plan any more.")
    changes: dict[str, Any] = {}
    if hasattr(thing, "outline_m"):
        changes["outline_m"] = tuple((round(x + dx, 5), round(y + dy, 5)) for x, y in thing.outline_m)
    elif thing.position_m is not None:
        at = (round(thing.position_m[0] + dx, 5), round(thing.position_m[1] + dy, 5))
        changes["position_m"] = at
        if kind in ("furniture", "existing", "skylight"):
            changes |= _home(job, thing, at, kind)
    new = tuple(changed(x, **changes) if x.id == item else x for x in things)
    return changed(job, job.name, **{collection: new})


def _home(job: Job, thing: Any, at: Point, kind: str) -> dict[str, Any]:
    storey = thing.storey if kind == "existing" else next(r.storey for r in job.rooms if r.id == thing.room)
    room = room_at(job, storey, at) if storey else None
    if room is None and kind != "existing":
        what = "Furniture stands" if kind == "furniture" else "A skylight lies"
        raise JobValueError(f"{what} in a room; let it go inside one.")
    return {"room": room.id if room else None}


# ---- ceilings -------------------------------------------------------------------------------------------------

CEILINGS = (
    ("flat", "Flat"),
    ("vault_start", "Vault, low left or top"),
    ("vault_end", "Vault, low right or bottom"),
    ("vault_both", "Vault, ridge in the middle"),
    ("half", "Half storey, knee walls"),
)


def ceiling_form(room: Room) -> str:
    """Which of CEILINGS a room has."""
    s = room.slope
    if s is None:
        return "flat"
    return "half" if s.knee else f"vault_{s.low_side}"


def set_ceiling_form(job: Job, room_id: str, form: str) -> Job:
    """Give a room a flat or sloped ceiling; a new slope starts from usual measures."""
    room = next(r for r in job.rooms if r.id == room_id)
    storey = next(s for s in job.storeys if s.id == room.storey)
    tall = room.height_m or storey.height_m
    slope: Slope | None
    if form == "flat":
        slope = None
    elif form == "half":
        slope = Slope(
            rises=_short_axis(room), low_side="both", low_m=1.2, high_m=max(tall, 1.3), pitch=1.0, knee=True
        )
    else:
        side: Any = form.removeprefix("vault_")
        slope = Slope(rises=_short_axis(room), low_side=side, low_m=tall, high_m=tall + 1.5, pitch=0.5)
    return changed(
        job,
        job.name,
        rooms=tuple(changed(r, slope=slope, ceiling="auto") if r.id == room_id else r for r in job.rooms),
    )


def _short_axis(room: Room) -> Any:
    xs, ys = [p[0] for p in room.outline_m], [p[1] for p in room.outline_m]
    return "x" if max(xs) - min(xs) < max(ys) - min(ys) else "y"


def set_slope(job: Job, room_id: str, **changes: Any) -> Job:
    """Other measures for a room's slope. Raises JobValueError; the text names the room."""
    room = next(r for r in job.rooms if r.id == room_id)
    if room.slope is None:
        raise JobValueError(f"{room.name} has a flat ceiling.")
    slope = changed(room.slope, f"{room.name}, ceiling", **changes)
    return changed(job, job.name, rooms=tuple(changed(r, slope=slope) if r.id == room_id else r for r in job.rooms))


def standing_area_m2(place: MechanicalPlace, height_m: float) -> float:
    """Floor of a mechanical place over which at least `height_m` is clear, by a grid of 5 cm."""
    shape = shape_of(place.outline_m)
    if place.slope is None:
        return float(shape.area) if place.clear_m >= height_m else 0.0
    x0, y0, x1, y1 = shape.bounds
    xs, ys = np.meshgrid(np.arange(x0 + 0.025, x1, 0.05), np.arange(y0 + 0.025, y1, 0.05))
    inside = shapely.contains_xy(shape, xs.ravel(), ys.ravel())
    tall = np.array([headroom_m(place, (float(x), float(y))) for x, y in zip(xs.ravel(), ys.ravel(), strict=True)])
    return float((inside & (tall >= height_m)).sum() * 0.0025)
