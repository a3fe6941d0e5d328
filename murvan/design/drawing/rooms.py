"""Rooms drawn, split, joined, and the names and uses they start with."""

from __future__ import annotations

import re
from dataclasses import dataclass
from math import hypot
from typing import Any

from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as ShapelyPoint
from shapely.ops import split, unary_union

from murvan.design.drawing.outlines import LEAST_AREA_M2, Outline, outline_of, polygons, tidy, with_rooms
from murvan.design.house.geometry import shape_of
from murvan.model.design import Design
from murvan.model.design_edit import put_in_zone
from murvan.model.edit import changed, free_id, in_designs, make, remove
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Opening, Point, Room, RoomUse, Space, Transfer

NEAR_M = 0.25

USE_WORDS: tuple[tuple[RoomUse, str], ...] = (
    ("powder", r"powder|half bath|cloak|wc|toilet"),
    ("bath", r"bath|shower|ensuite|wash ?room"),
    ("bedroom", r"bed|nursery|guest|master|sleep|bunk"),
    ("kitchen", r"kitchen"),
    ("dining", r"dining|breakfast|nook"),
    (
        "living",
        r"living|family|sitting|lounge|great|sun ?room|parlou?r|den\b|play|snug|bonus|rec\b|recreation|garden room|media|game",
    ),
    ("study", r"study|office|library|work ?room"),
    ("landing", r"landing|stair|loft"),
    ("hall", r"hall|entry|foyer|corridor|passage|vestibule|porch|gallery"),
    (
        "utility",
        r"utility|laundry|mud|mechanical|boiler|furnace|store|storage|closet|cupboard|work ?shop|pantry|scullery|wardrobe|walk[- ]?in|dressing",
    ),
)
"""Words in a room's name that tell its use, looked for in this order."""


def use_from_name(name: str) -> RoomUse | None:
    """The use a name speaks of; None when it tells nothing."""
    lower = name.casefold()
    return next((use for use, words in USE_WORDS if re.search(rf"\b(?:{words})", lower)), None)


DOOR_USES = ("bedroom", "bath", "powder", "study", "utility")
"""Rooms whose door is shut: their air comes back under it until a grille or duct is chosen; common practice."""
UNDERCUT_M = 0.01905
"""3/4 in, common practice."""


def defaults(use: RoomUse) -> dict[str, Any]:
    """What a room of a use starts with; only where it says nothing itself."""
    return {"transfer": Transfer(kind="undercut", undercut_m=UNDERCUT_M)} if use in DOOR_USES else {}


def set_use(job: Job, room_id: str, use: RoomUse) -> Job:
    """Give a room a use with its defaults; bedrooms are counted. Raises JobValueError."""
    room = _room(job, room_id)
    fresh = {k: v for k, v in defaults(use).items() if getattr(room, k) is None}
    if room.transfer == defaults(room.use).get("transfer") and "transfer" not in defaults(use):
        fresh["transfer"] = None
    rooms = tuple(changed(r, use=use, **fresh) if r.id == room_id else r for r in job.rooms)
    return count_bedrooms(job, changed(job, job.name, rooms=rooms))


@dataclass(frozen=True)
class Drawn:
    """A job after a stroke on the plan: what is to be selected, and what to say of it."""

    job: Job
    kind: str
    id: str
    say: str = ""


def next_room(job: Job) -> tuple[str, str]:
    """A free id and name: ('room7', 'Room 7')."""
    ids, names = {r.id for r in job.rooms}, {r.name for r in job.rooms}
    k = len(job.rooms) + 1
    while f"room{k}" in ids or f"Room {k}" in names:
        k += 1
    return f"room{k}", f"Room {k}"


def draw_room(job: Job, storey: str, outline: Outline, name: str | None = None) -> Drawn:
    """A new room. Over other rooms it takes what is free; wholly inside one it is cut out of it.

    Raises:
        JobValueError: nothing is free there, a room would be left with a hole or in two pieces, or the outline
            is no room.
    """
    room_id, free_name = next_room(job)
    name = name or free_name
    shape = Polygon(tidy(outline, name))
    here = [r for r in job.rooms if r.storey == storey]
    host = next((r for r in here if shape_of(r.outline_m).buffer(0.01).contains(shape)), None)
    rooms, say = job.rooms, ""
    if host is not None:
        rest = _rest(host, shape)
        rooms = tuple(changed(r, outline_m=rest) if r.id == host.id else r for r in rooms)
        say = f"{name} is cut out of {host.name}"
        final = outline_of(shape, name)
    else:
        final, say = _free_part(job, storey, shape, name)
    room = make(
        Room,
        name,
        id=room_id,
        name=name,
        storey=storey,
        outline_m=final,
        use=use_from_name(name) or "other",
        **defaults(use_from_name(name) or "other"),
    )
    placed = with_rooms(job, (*rooms, room))
    if placed.lost:
        say = f"{say}; {_tags(placed.lost)} went with {'its wall' if len(placed.lost) == 1 else 'their walls'}"
    after, zone = placed.job, _usual_zone(job, storey)
    if zone is not None:
        after = put_in_zone(after, (room_id,), zone)
    return Drawn(count_bedrooms(job, after), "room", room_id, say)


def draw_space(job: Job, storey: str, outline: Outline, name: str = "Garage") -> Drawn:
    """A garage or porch: what is free of the outline. Raises JobValueError."""
    new = free_id("space", {s.id for s in job.spaces})
    final, say = _free_part(job, storey, Polygon(tidy(outline, name)), name)
    space = make(Space, name, id=new, name=name, storey=storey, outline_m=final)
    return Drawn(changed(job, job.name, spaces=(*job.spaces, space)), "space", space.id, say)


def _rest(host: Room, shape: Polygon) -> Outline:
    """What a room keeps when a part is cut out of it."""
    left = polygons(shape_of(host.outline_m).difference(shape))
    if not left or left[0].area < LEAST_AREA_M2:
        raise JobValueError(f"{host.name} is here already; nothing of it would be left.")
    if len(left) > 1:
        raise JobValueError(f"That would cut {host.name} in two; split it first, then draw inside one part.")
    if left[0].interiors:
        raise JobValueError(f"A room inside {host.name} must reach one of its walls.")
    return outline_of(left[0], host.name)


def _free_part(job: Job, storey: str, shape: Polygon, name: str) -> tuple[Outline, str]:
    taken = [(r.name, shape_of(r.outline_m)) for r in job.rooms if r.storey == storey]
    taken += [(s.name, shape_of(s.outline_m)) for s in job.spaces if s.storey == storey]
    over = [(n, p) for n, p in taken if p.intersection(shape).area > 1e-3]
    if not over:
        return outline_of(shape, name), ""
    free = polygons(shape.difference(unary_union([p for _, p in over])))
    free = [p for p in free if p.area >= LEAST_AREA_M2]
    if not free:
        raise JobValueError(f"{over[0][0]} is here already; draw where the plan is free.")
    names = over[0][0] if len(over) == 1 else f"{len(over)} rooms"
    return outline_of(free[0], name), f"{name} takes what {names} left free"


def _usual_zone(job: Job, storey: str) -> str | None:
    """The zone most rooms of the storey are in."""
    here = {r.id for r in job.rooms if r.storey == storey}
    zones = job.design.zones
    most = max(zones, key=lambda z: len(here & set(z.rooms)), default=None)
    if most is not None and here & set(most.rooms):
        return most.id
    return zones[0].id if len(zones) == 1 else None


def _tags(openings: tuple[Opening, ...]) -> str:
    return ", ".join(o.tag for o in openings)


def rename_room(job: Job, room_id: str, name: str) -> Job:
    """Name a room; while its use is still open the name decides it, and bedrooms are counted.

    Raises:
        JobValueError: the name is empty or too long.
    """
    room = _room(job, room_id)
    use = use_from_name(name) if room.use == "other" else None
    named = tuple(changed(r, name=name.strip()) if r.id == room_id else r for r in job.rooms)
    after = changed(job, job.name, rooms=named)
    return set_use(after, room_id, use) if use else after


def count_bedrooms(before: Job, after: Job) -> Job:
    """Let the number of bedrooms follow the plan as long as it agreed with it before."""

    def on_plan(job: Job) -> int:
        return sum(r.use == "bedroom" for r in job.rooms)

    was = on_plan(before)
    untouched = was == 0 and before.bedrooms == Job.model_fields["bedrooms"].default
    if on_plan(after) != was and (before.bedrooms == was or untouched):
        return changed(after, after.name, bedrooms=on_plan(after))
    return after


def _room(job: Job, room_id: str) -> Room:
    room = next((r for r in job.rooms if r.id == room_id), None)
    if room is None:
        raise JobValueError(f"There is no room '{room_id}' on the plan.")
    return room


def split_room(job: Job, storey: str, a: Point, b: Point) -> Drawn:
    """Cut the room under the stroke a-b in two along its line; the smaller part becomes a new room.

    Raises:
        JobValueError: the stroke crosses no room from wall to wall.
    """
    length = hypot(b[0] - a[0], b[1] - a[1])
    if length < 0.05:
        raise JobValueError("Draw the new wall from one wall of the room to another.")
    room = _under_stroke(job, storey, a, b)
    shape = shape_of(room.outline_m)
    reach = NEAR_M / length
    line = LineString(
        [
            (a[0] + (a[0] - b[0]) * reach, a[1] + (a[1] - b[1]) * reach),
            (b[0] + (b[0] - a[0]) * reach, b[1] + (b[1] - a[1]) * reach),
        ]
    )
    parts = polygons(split(shape, line))
    if len(parts) < 2:
        raise JobValueError(f"Draw the new wall right across {room.name}, from one wall to another.")
    if len(parts) > 2:
        raise JobValueError(f"That stroke cuts {room.name} into {len(parts)} parts; cut off one at a time.")
    room_id, _ = next_room(job)
    name = _second_name(job, room.name)
    kept = changed(room, outline_m=outline_of(parts[0], room.name))
    new = make(
        Room,
        name,
        **{
            **{k: getattr(room, k) for k in Room.model_fields},
            "id": room_id,
            "name": name,
            "outline_m": outline_of(parts[1], name),
            "people": 0.0,
            "appliances_w": 0.0,
            "exhaust": None,
            "transfer": None,
        },
    )
    rooms = tuple(kept if r.id == room.id else r for r in job.rooms)
    placed = with_rooms(job, (*rooms, new))
    after = _into(placed.job, room.id, room_id, parts[1])
    say = f"{_tags(placed.lost)} stood in the way and went" if placed.lost else ""
    return Drawn(count_bedrooms(job, after), "room", room_id, say)


def _into(job: Job, old: str, new: str, part: Polygon) -> Job:
    """Registers, furniture and survey of the old room that lie in the part cut off belong to the new one."""

    def moved(x: Any) -> Any:
        lies = x.room == old and x.position_m is not None and part.covers(ShapelyPoint(x.position_m))
        return changed(x, room=new) if lies else x

    def along(record: Any) -> Any:
        return changed(record, "", rooms=(*record.rooms, new)) if old in record.rooms else record

    def design(d: Design) -> Design:
        return changed(
            d,
            d.name,
            registers=tuple(moved(x) for x in d.registers),
            zones=tuple(along(x) for x in d.zones),
            indoor_units=tuple(along(x) for x in d.indoor_units),
        )

    return changed(
        job,
        job.name,
        **{n: tuple(moved(x) for x in getattr(job, n)) for n in ("furniture", "existing")},
        **in_designs(job, design),
    )


def _under_stroke(job: Job, storey: str, a: Point, b: Point) -> Room:
    """The room the stroke runs through for the longest way."""
    line = LineString([a, b])
    best, longest = None, 0.05
    for r in job.rooms:
        if r.storey == storey:
            inside = float(line.intersection(shape_of(r.outline_m).buffer(-0.02)).length)
            if inside > longest:
                best, longest = r, inside
    if best is None:
        raise JobValueError("Draw the new wall across a room.")
    return best


def _second_name(job: Job, name: str) -> str:
    names = {r.name for r in job.rooms}
    stem, k = re.sub(r" \d+$", "", name), 2
    while f"{stem} {k}" in names:
        k += 1
    return f"{stem} {k}"


def join_rooms(job: Job, keep: str, other: str) -> Drawn:
    """Make one room of two that share a wall; it keeps the first one's name and use.

    Raises:
        JobValueError: they share no wall, or stand on two storeys.
    """
    a, b = _room(job, keep), _room(job, other)
    if a.id == b.id:
        raise JobValueError(f"{a.name} can't be joined to itself; pick the room beside it.")
    if a.storey != b.storey:
        raise JobValueError(f"{a.name} and {b.name} are on two storeys.")
    pa, pb = shape_of(a.outline_m), shape_of(b.outline_m)
    both = unary_union([pa, pb])
    if len(polygons(both)) != 1 or both.area < pa.area + 1e-6:
        both = pa.buffer(NEAR_M / 2, join_style="mitre").union(pb.buffer(NEAR_M / 2, join_style="mitre"))
        both = both.buffer(-NEAR_M / 2, join_style="mitre")
    shared = pa.buffer(NEAR_M / 2 + 0.01).intersection(pb.buffer(NEAR_M / 2 + 0.01)).area
    if len(polygons(both)) != 1 or shared < 0.3 * NEAR_M:
        raise JobValueError(f"{a.name} and {b.name} share no wall.")
    joined = changed(
        a,
        outline_m=outline_of(polygons(both)[0], a.name),
        people=a.people + b.people,
        appliances_w=a.appliances_w + b.appliances_w,
        exhaust=a.exhaust or b.exhaust,
    )
    rooms = tuple(joined if r.id == a.id else r for r in job.rooms if r.id != b.id)
    placed = with_rooms(job, rooms)
    return Drawn(count_bedrooms(job, placed.job), "room", a.id, f"{a.name} and {b.name} are one room now")


def remove_room(job: Job, room_id: str) -> Drawn:
    """The plan without a room, its openings, registers and their runs. Raises JobValueError."""
    room = _room(job, room_id)
    after = count_bedrooms(job, remove(job, "rooms", room_id, with_dependents=True))
    left = next((r.id for r in after.rooms if r.storey == room.storey), "")
    return Drawn(after, "room", left, f"{room.name} is gone with what belonged to it")
