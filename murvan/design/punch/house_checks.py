"""Checks of the plan: mistakes of the tape and of the hand that would make every later figure wrong."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache, partial
from typing import Any

import numpy as np
import shapely
from shapely import STRtree
from shapely.geometry import Point as At
from shapely.geometry import Polygon
from shapely.ops import unary_union

from murvan.design.arithmetic import Quantity
from murvan.design.drawing.outlines import outline_of, polygons, with_rooms
from murvan.design.drawing.pace import settle_overrides
from murvan.design.finding import Hit, rule
from murvan.design.house.assemblies import ROLE_WORDS, assumptions
from murvan.design.house.geometry import TOUCH_M, shape_of
from murvan.design.house.walls import all_stretches
from murvan.design.results import Results
from murvan.model.edit import changed
from murvan.model.errors import JobError
from murvan.model.job import Job, Opening, Point
from murvan.model.record import Ref

Outline = tuple[Point, ...]
OVERLAP_M2 = 0.05
GAP_M2 = 0.15


def _q(kind: str, value: float, decimals: int | None = None) -> Quantity:
    return Quantity(kind, value, decimals)


# ---- rooms against each other ---------------------------------------------------------------------------------


@lru_cache(maxsize=256)
def overlaps(outlines: tuple[Outline, ...]) -> tuple[tuple[int, int, float], ...]:
    """(first, second, shared m2) of outlines that lie over each other by more than a sliver."""
    if len(outlines) < 2:
        return ()
    shapes = np.array([shape_of(o) for o in outlines])
    i, j = STRtree(shapes).query(shapes, predicate="intersects")
    i, j = i[i < j], j[i < j]
    shared = shapely.intersection(shapes[i], shapes[j])
    area = shapely.area(shared)
    big = [k for k in np.flatnonzero(area > OVERLAP_M2) if not shared[k].buffer(-0.02).is_empty]
    return tuple(sorted((int(i[k]), int(j[k]), float(area[k])) for k in big))


@lru_cache(maxsize=2048)
def _grown(outline: Outline) -> Polygon:
    """The outline with half a wall round it."""
    return Polygon(outline).buffer(TOUCH_M / 2 + 0.01, join_style="mitre")


@rule("rooms-overlap", 1, "fails")
def rooms_overlap(results: Results) -> Iterator[Hit]:
    """Rooms over each other.

    Basis: geometry
    Why: Floor and walls would count twice.
    Remedy: Cut one back, or drag its wall.
    """
    for storey in results.job.storeys:
        owners = [x for x in results.job.rooms if x.storey == storey.id]
        spaces = [x for x in results.job.spaces if x.storey == storey.id]
        things: list[Any] = [*owners, *spaces]
        for i, j, area in overlaps(tuple(x.outline_m for x in things)):
            a, b = things[i], things[j]
            fixable = j < len(owners)
            yield Hit(
                Ref("room" if fixable else "space", b.id),
                f"{b.name} and {a.name}",
                "lie over each other by {0}",
                (_q("area", area, 1),),
                _q("area", area, 1),
                _q("area", 0),
                partial(_cut_back, room_id=b.id, other_id=a.id) if fixable else None,
                f"Cut {b.name} back",
            )


def _cut_back(job: Job, room_id: str, other_id: str) -> Job:
    """The room without what another one covers. Raises JobError when nothing of it would be left."""
    room = next(r for r in job.rooms if r.id == room_id)
    other = next(r for r in job.rooms if r.id == other_id)
    left = polygons(shape_of(room.outline_m).difference(shape_of(other.outline_m)))
    if not left:
        raise JobError(f"Nothing of {room.name} would be left; take it away instead.")
    smaller = changed(room, outline_m=outline_of(left[0], room.name))
    return with_rooms(job, tuple(smaller if r.id == room_id else r for r in job.rooms)).job


@lru_cache(maxsize=256)
def gaps(outlines: tuple[Outline, ...], widest_m: float) -> tuple[tuple[float, float, float], ...]:
    """(area, x, y) of slits and holes between outlines: wider than what counts as one wall, no wider than `widest_m`."""
    if len(outlines) < 2:
        return ()
    whole = unary_union([_grown(o) for o in outlines])
    half = widest_m / 2
    closed = whole.buffer(half, join_style="mitre").buffer(-half, join_style="mitre")
    left = closed.difference(whole)
    out = [
        (float(p.area), float(p.representative_point().x), float(p.representative_point().y))
        for p in (left.geoms if hasattr(left, "geoms") else [left])
        if p.area > GAP_M2
    ]
    return tuple(sorted(out, reverse=True))


@rule("room-gap", 1, "look", Quantity("length", 0.7))
def gaps_between(results: Results, widest_m: float) -> Iterator[Hit]:
    """Gap between rooms.

    Basis: slits up to {0} are a slip of the hand, wider ones a chase or a court
    Why: A wall that should be shared counts as two outside ones.
    Remedy: Drag the wall until it catches the other room.

    Slits between rooms up to `widest_m` wide.
    """
    for storey in results.job.storeys:
        rooms = [x for x in results.job.rooms if x.storey == storey.id]
        spaces = [x for x in results.job.spaces if x.storey == storey.id]
        things: list[Any] = [*rooms, *spaces]
        for area, x, y in gaps(tuple(t.outline_m for t in things), widest_m):
            near = min(rooms, key=lambda room: shape_of(room.outline_m).distance(At(x, y)), default=None)
            if near is None:
                continue
            yield Hit(
                Ref("room", near.id),
                near.name,
                "has a gap of {0} beside it; drag the wall until it catches",
                (_q("area", area, 1),),
                _q("area", area, 1),
                _q("area", 0),
            )


# ---- openings -------------------------------------------------------------------------------------------------


@rule("openings-collide", 1, "fails")
def openings_collide(results: Results) -> Iterator[Hit]:
    """Openings over each other.

    Basis: geometry
    Why: The wall would lose its area twice.
    Remedy: Slide one along.
    """
    by_wall: dict[tuple[str, int], list[Opening]] = {}
    for o in results.job.openings:
        if o.kind != "skylight":
            by_wall.setdefault((o.room, o.wall), []).append(o)
    names = {x.id: x.name for x in results.job.rooms}
    for (room, _), mine in by_wall.items():
        mine = sorted(mine, key=lambda o: o.offset_m)
        for a, b in zip(mine, mine[1:], strict=False):
            shared = a.offset_m + a.width_m - b.offset_m
            if shared > 0.02 and a.sill_m < b.sill_m + b.height_m and b.sill_m < a.sill_m + a.height_m:
                yield Hit(
                    Ref("opening", b.id),
                    f"{names[room]} {a.tag} and {b.tag}",
                    "lie over each other by {0}",
                    (_q("feet", shared),),
                    _q("feet", shared),
                    _q("feet", 0),
                )


@rule("window-inside", 1, "fails")
def window_inside(results: Results) -> Iterator[Hit]:
    """Window on an inside wall.

    Basis: geometry
    Why: Sun and loss are counted where there are none.
    Remedy: Put it on an outside wall.
    """
    for f in results.geometry.openings:
        o = results.job.openings[f.index]
        if f.other == "heated" and o.kind == "window":
            yield Hit(
                Ref("opening", o.id),
                f"{results.job.rooms[f.room].name} {o.tag}",
                "is a window with a heated room behind it; no sun reaches it",
            )


@rule("glass-share", 1, "look", Quantity("percent", 0.45), Quantity("percent", 0.05), Quantity("percent", 0.35))
def glass_share(results: Results, most: float, house_least: float, house_most: float) -> Iterator[Hit]:
    """Share of glass out of the ordinary.

    Basis: up to {0} of a room's floor, {1} to {2} of the house's; common practice
    Why: A slip in a size hides here; a bedroom's window is a way out too.
    Remedy: Measure the glass again.

    Glass of more than `most` of a room's floor, of less or more than usual of the house's; bedrooms without any.
    """
    glass = [0.0] * len(results.job.rooms)
    for f in results.geometry.openings:
        if results.job.openings[f.index].kind in ("window", "skylight") and f.other != "heated":
            glass[f.room] += f.area_m2
    for room, area, floor in zip(results.job.rooms, glass, results.geometry.area_m2, strict=True):
        if area > most * floor:
            yield Hit(
                Ref("room", room.id),
                room.name,
                "has glass of {0} of its floor",
                (_q("percent", area / floor),),
                _q("percent", area / floor),
                _q("percent", most),
            )
        elif area == 0 and room.use == "bedroom":
            yield Hit(Ref("room", room.id), room.name, "is a bedroom without a window")
    whole, floor = sum(glass), results.geometry.total_area_m2
    if len(results.job.rooms) > 3 and whole > 0 and not house_least <= whole / floor <= house_most:
        yield Hit(
            Ref("house", "house"),
            "The house",
            "has glass of {0} of its floor; {1} to {2} is usual",
            (_q("percent", whole / floor), _q("percent", house_least), _q("percent", house_most)),
            _q("percent", whole / floor),
            _q("percent", house_most),
        )


# ---- the shell ------------------------------------------------------------------------------------------------


@rule("assembly-missing", 1, "fails")
def makeup_missing(results: Results) -> Iterator[Hit]:
    """Surface without an assembly.

    Basis: geometry
    Why: The loads would rest on a stand-in.
    Remedy: Choose an assembly in the house's card (H).
    """
    g, job = results.geometry, results.job
    ids = {c.id for c in job.constructions}
    up = sum(g.ceilings_m2["attic"]) + sum(g.ceilings_m2["roof"])
    needed = {
        "wall": any(w.other in ("outdoors", "garage") and w.construction not in ids for w in g.walls),
        "ceiling": up > 0 and job.ceiling_construction not in ids and job.roof_construction not in ids,
        "floor": any(sum(v) > 0 for v in g.floors_m2.values()) and job.floor_construction not in ids,
    }
    for role, missing in needed.items():
        if not missing:
            continue
        if role == "ceiling":
            for i, room in enumerate(job.rooms):
                own = room.ceiling_construction in ids
                if g.ceilings_m2["attic"][i] + g.ceilings_m2["roof"][i] > 0 and not own:
                    yield Hit(Ref("room", room.id), room.name, "has no ceiling assembly; the loads take R-17 for it")
            continue
        yield Hit(Ref("house", "house"), ROLE_WORDS[role], "have no assembly; choose one in the house's card")
    without = [o for o in job.openings if o.kind in ("window", "skylight") and o.glazing is None]
    if without:
        yield Hit(
            Ref("opening", without[0].id),
            without[0].tag,
            "and others like it have no glazing" if without[1:] else "has no glazing",
        )


@rule("north-unknown", 1, "look")
def north_unknown(results: Results) -> Iterator[Hit]:
    """North not set.

    Basis: common practice
    Why: Sun on the glass decides the cooling load and its hour.
    Remedy: Set north in the house's card (H).
    """
    if results.job.rooms and not results.job.site.north_known:
        yield Hit(
            Ref("house", "house"),
            "North",
            "is not set; the plan's top is taken for it",
            fix=lambda job: changed(job, job.name, site=changed(job.site, north_known=True)),
            fix_label="The top is north",
        )


@rule("area-differs", 1, "look", Quantity("percent", 0.03))
def area_differs(results: Results, most: float) -> Iterator[Hit]:
    """Area unlike the papers.

    Basis: {0}, common practice
    Why: One of the two is wrong by a room.
    Remedy: Measure again, or correct the papers' figure.

    A plan more than the share `most` off the papers.
    """
    typed, plan = results.job.typed_area_m2, results.geometry.total_area_m2
    if typed is None or not plan or abs(plan - typed) <= most * typed:
        return
    yield Hit(
        Ref("house", "house"),
        "The plan",
        "has {0}, the papers say {1}",
        (_q("area", plan), _q("area", typed)),
        _q("area", plan),
        _q("area", typed),
    )


@rule("shell-assumed", 1, "look")
def shell_assumed(results: Results) -> Iterator[Hit]:
    """Shell assumed.

    Basis: common practice
    Why: Assumed assemblies can be off by half.
    Remedy: Look into the attic, behind an outlet, at the rim; then set the assemblies.
    """
    said = [s for s in assumptions(results.job) if not s.startswith("air leakage")]
    if results.job.rooms and said:
        n = len(said)
        yield Hit(
            Ref("house", "house"),
            "The shell",
            f"is assumed by age in {n} part{'s' if n > 1 else ''}; loads rest on that",
        )


@rule("said-otherwise", 1, "look")
def said_otherwise(results: Results) -> Iterator[Hit]:
    """Wall said otherwise than drawn.

    Basis: geometry
    Why: The load follows what was said, not the plan.
    Remedy: Move the room, or take the wall as drawn.
    """
    said = {(w.room, w.wall): w for w in results.job.wall_overrides if w.other_side in ("outdoors", "heated")}
    if not said:
        return
    job = results.job
    for storey in job.storeys:
        rooms = tuple(x for x in job.rooms if x.storey == storey.id)
        mine = {x.id for x in rooms}
        if not any(room in mine for room, _ in said):
            continue
        spaces = tuple(x for x in job.spaces if x.storey == storey.id)
        shown = all_stretches(rooms, (storey.height_m,) * len(rooms), spaces, (storey,))
        for (i, wall), parts in shown.items():
            w = said.get((rooms[i].id, wall))
            if w is None or not parts or any(p.other == w.other_side for p in parts):
                continue
            names = {x.id: x.name for x in rooms}
            beyond = next((names[p.neighbour] for p in parts if p.neighbour in names), "")
            text = (
                "is said to be an outside wall, but a room lies beyond" if beyond else "is said to have a room beyond"
            )
            if not beyond and len(rooms) < 2:
                continue
            room_id = rooms[i].id
            yield Hit(
                Ref("room", room_id),
                f"{rooms[i].name}, wall {wall + 1}{' to ' + beyond if beyond else ''}",
                text if beyond else f"{text}, but none is drawn there",
                fix=partial(_as_drawn, room=room_id, wall=wall),
                fix_label="Take it as drawn",
            )


def _as_drawn(job: Job, room: str, wall: int) -> Job:
    kept = []
    for w in job.wall_overrides:
        if (w.room, w.wall) == (room, wall):
            if w.construction is None and w.grade_m is None:
                continue
            w = changed(w, other_side="auto")
        kept.append(w)
    return settle_overrides(changed(job, job.name, wall_overrides=tuple(kept)), {room})


@rule("register-outside", 1, "look", Quantity("length", 0.3))
def register_outside(results: Results, reach_m: float) -> Iterator[Hit]:
    """Register outside its room.

    Basis: a register in a wall lies up to {0} outside the room's line
    Why: A wall has moved past it: its throw and its run are no longer true.
    Remedy: Move the register, or the wall back.
    """
    rooms = {x.id: x for x in results.job.rooms}
    registers = results.job.design.registers
    if not registers:
        return
    at = shapely.points([x.position_m for x in registers])
    apart = shapely.distance([shape_of(rooms[x.room].outline_m) for x in registers], at)
    for x, distance in zip(registers, apart, strict=True):
        if distance > reach_m:
            name = rooms[x.room].name.replace("{", "{{").replace("}", "}}")
            yield Hit(Ref("register", x.id), x.tag, f"lies outside {name}")


@rule("unit-in-the-way", 1, "fails")
def unit_in_the_way(results: Results) -> Iterator[Hit]:
    """Unit on floor to keep clear.

    Basis: common practice; local code
    Why: Nobody could reach the panel, filter or hatch.
    Remedy: Move the unit, or the floor to keep clear.
    """
    standing = [
        s.design.indoor for s in results.systems.values() if s.unit is not None and s.design.indoor.storey is not None
    ]
    for k in results.job.keep_clear:
        for x in standing:
            if k.storey == x.storey and shape_of(k.outline_m).contains(At(*x.position_m)):
                yield Hit(Ref("keep", k.id), k.name, "must stay free, but the unit stands there")
