"""Rooms, a storey or the whole house moved, turned, mirrored; a storey copied up."""

from __future__ import annotations

from collections.abc import Callable
from math import cos, radians, sin
from typing import Any

from murvan.design.drawing.rooms import next_room
from murvan.model.edit import changed, make
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Opening, Point, Room, Storey

Move = Callable[[Point], Point]
QUARTER = ("north", "east", "south", "west")


def shifted(dx: float, dy: float) -> Move:
    return lambda p: (round(p[0] + dx, 5), round(p[1] + dy, 5))


def turned(about: Point, degrees: float) -> Move:
    """Clockwise on the plan."""
    c, s = cos(radians(degrees)), sin(radians(degrees))

    def move(p: Point) -> Point:
        x, y = p[0] - about[0], p[1] - about[1]
        return (round(about[0] + x * c - y * s, 5), round(about[1] + x * s + y * c, 5))

    return move


def mirrored(about: Point, axis: int) -> Move:
    """Left and right change places (axis 0), or top and bottom (axis 1)."""
    return lambda p: tuple(round(2 * about[k] - p[k], 5) if k == axis else p[k] for k in (0, 1))  # type: ignore[return-value]


def centre(job: Job, rooms: set[str] | None = None) -> Point:
    """Middle of the box round some rooms, or round everything."""
    points = [p for r in job.rooms if rooms is None or r.id in rooms for p in r.outline_m]
    if rooms is None:
        points += [p for s in job.spaces for p in s.outline_m]
    if not points:
        raise JobValueError("There is nothing on the plan to turn.")
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)


def move_rooms(job: Job, rooms: set[str], move: Move) -> Job:
    """Some rooms at another place, with their registers; ends of runs at those registers follow.

    Raises:
        JobValueError: there is no such room, or a corner would leave the sheet.
    """
    known = {r.id for r in job.rooms}
    if not rooms or not rooms <= known:
        raise JobValueError("Pick a room first.")
    registers = {x.id: changed(x, position_m=move(x.position_m)) if x.room in rooms else x for x in job.registers}
    old = {x.id: x.position_m for x in job.registers}

    def followed(run: Any) -> Any:
        x = run.register_id
        if x not in registers or registers[x].position_m == old[x]:
            return run
        return changed(run, path_m=tuple(registers[x].position_m if _near(p, old[x]) else p for p in run.path_m))

    return changed(
        job,
        job.name,
        rooms=tuple(
            changed(r, outline_m=tuple(move(p) for p in r.outline_m)) if r.id in rooms else r for r in job.rooms
        ),
        registers=tuple(registers.values()),
        runs=tuple(followed(run) for run in job.runs),
    )


def _near(a: Point, b: Point) -> bool:
    return abs(a[0] - b[0]) < 0.05 and abs(a[1] - b[1]) < 0.05


def move_house(job: Job, move: Move, faces: dict[str, str] | None = None) -> Job:
    """Everything on the plan at another place: rooms, spaces, ducts, registers, units.

    `faces` renames the plenum faces that runs leave.
    """
    names = faces or {}

    def path(record: Any) -> Any:
        changes: dict[str, Any] = {"path_m": tuple(move(p) for p in record.path_m)}
        if record.face in names:
            changes["face"] = names[record.face]
        return changed(record, **changes)

    def outline(record: Any) -> Any:
        return changed(record, outline_m=tuple(move(p) for p in record.outline_m))

    def position(record: Any, field: str = "position_m") -> Any:
        at = getattr(record, field)
        return record if at is None else changed(record, "", **{field: move(at)})

    system = position(position(job.system), "outdoor_position_m") if job.system.storey else job.system
    return changed(
        job,
        job.name,
        rooms=tuple(outline(r) for r in job.rooms),
        spaces=tuple(outline(s) for s in job.spaces),
        runs=tuple(path(r) for r in job.runs),
        registers=tuple(position(x) for x in job.registers),
        plenums=tuple(position(x) for x in job.plenums),
        system=system,
        ventilation=position(job.ventilation),
    )


def rotate_house(job: Job, quarters: int = 1) -> Job:
    """The whole plan turned clockwise by quarter turns. North turns along: no wall looks elsewhere after it."""
    k = quarters % 4
    faces = {QUARTER[i]: QUARTER[(i + k) % 4] for i in range(4)}
    after = move_house(job, turned(centre(job), 90.0 * k), faces)
    north = (job.site.north_deg + 90.0 * k + 180) % 360 - 180
    return changed(after, job.name, site=changed(job.site, north_deg=north))


def mirror_house(job: Job, axis: int = 0) -> Job:
    """The whole plan mirrored: what was left is right (axis 0). North stays where it is."""
    pair = ("east", "west") if axis == 0 else ("north", "south")
    faces = {pair[0]: pair[1], pair[1]: pair[0]}
    return move_house(job, mirrored(centre(job), axis), faces)


def rotate_rooms(job: Job, rooms: set[str], quarters: int = 1) -> Job:
    """Some rooms turned about their middle by quarter turns clockwise. Raises JobValueError."""
    return move_rooms(job, rooms, turned(centre(job, rooms), 90.0 * quarters))


def mirror_rooms(job: Job, rooms: set[str], axis: int = 0) -> Job:
    """Some rooms mirrored about their middle. Raises JobValueError."""
    return move_rooms(job, rooms, mirrored(centre(job, rooms), axis))


UPPER_NAMES = ("Ground", "Upper", "Top")


def copy_storey_up(job: Job, storey: str) -> tuple[Job, str]:
    """A new storey above with the same rooms, windows and inside doors; doors to the outside stay below.

    Returns the job and the new storey's id.

    Raises:
        JobValueError: the storey has no rooms.
    """
    below = next((s for s in job.storeys if s.id == storey), None)
    rooms = [r for r in job.rooms if r.storey == storey]
    if below is None or not rooms:
        raise JobValueError("There are no rooms on this storey to copy.")
    at = job.storeys.index(below)
    names = {s.name for s in job.storeys}
    name = next((n for n in UPPER_NAMES[1:] if n not in names), f"{below.name} copy")
    above = changed(below, id=_free_id("storey", {s.id for s in job.storeys}), name=name)
    storeys = (*job.storeys[: at + 1], above, *job.storeys[at + 1 :])
    after = changed(job, job.name, storeys=storeys)
    renamed: dict[str, str] = {}
    for r in rooms:
        room_id, _ = next_room(after)
        renamed[r.id] = room_id
        copy = make(
            Room,
            r.name,
            id=room_id,
            name=_copied_name(after, r.name),
            storey=above.id,
            outline_m=r.outline_m,
            use="other" if r.use in ("kitchen",) else r.use,
        )
        after = changed(after, job.name, rooms=(*after.rooms, copy))
    openings = list(after.openings)
    for o in job.openings:
        if o.room in renamed and (o.kind == "window" or o.inside or o.kind == "archway"):
            openings.append(
                changed(
                    o,
                    id=_free_id("op", {x.id for x in openings}),
                    tag=next_tag(openings, o.kind),
                    room=renamed[o.room],
                )
            )
    return changed(after, job.name, openings=tuple(openings)), above.id


def add_storey(job: Job, name: str = "", below: bool = False) -> tuple[Job, str]:
    """An empty storey at the top, or at the bottom (a basement)."""
    names = {s.name for s in job.storeys}
    wanted = name or ("Basement" if below else next((n for n in UPPER_NAMES if n not in names), "Storey"))
    k, unique = 2, wanted
    while unique in names:
        unique, k = f"{wanted} {k}", k + 1
    new = Storey(id=_free_id("storey", {s.id for s in job.storeys}), name=unique, height_m=2.4384)
    storeys = (new, *job.storeys) if below else (*job.storeys, new)
    return changed(job, job.name, storeys=storeys), new.id


def _free_id(stem: str, taken: set[str]) -> str:
    k = 1
    while f"{stem}{k}" in taken:
        k += 1
    return f"{stem}{k}"


def _copied_name(job: Job, name: str) -> str:
    names = {r.name for r in job.rooms}
    if f"{name}, up" not in names:
        return f"{name}, up"
    k = 2
    while f"{name}, up {k}" in names:
        k += 1
    return f"{name}, up {k}"


def next_tag(openings: list[Opening], kind: str) -> str:
    """The next free tag of the kind: G for glass, D for doors, W for archways, S for skylights."""
    letter = {"window": "G", "door": "D", "archway": "W", "skylight": "S"}[kind]
    tags = {o.tag for o in openings}
    k = 1
    while f"{letter}{k}" in tags:
        k += 1
    return f"{letter}{k}"
