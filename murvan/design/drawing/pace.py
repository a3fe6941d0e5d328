"""The house paced out: rooms as a plain table, laid out as boxes that touch, and the same table as CSV.

Length is measured across the plan (x), width up and down it (y). Outside walls are named by the plan's sides:
N its top, E its right, S its bottom, W its left.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass, replace

from murvan.design.drawing.openings import usual_glazing
from murvan.design.drawing.outlines import tidy
from murvan.design.drawing.rooms import Drawn, count_bedrooms, next_room, use_from_name
from murvan.design.drawing.turning import move_rooms, next_tag, shift
from murvan.design.house.geometry import wall_facing_deg, wall_length_m
from murvan.design.house.walls import all_stretches
from murvan.model.edit import changed, free_id, make
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Opening, Point, Room, WallOverride
from murvan.units import UnitError, Units, number, parse, unit

SIDES = "NESW"
GLASS_HEIGHT_M = 1.2192
"""Height of a paced window, 4 ft, until its wall is too short for the area; common practice."""
LEAST_M, MOST_M = 0.3, 60.0
COLUMNS = ("name", "length", "width", "height", "outside", "glass_n", "glass_e", "glass_s", "glass_w")
TITLES = ("Room", "Length", "Width", "Height", "Outside walls", "Glass N", "Glass E", "Glass S", "Glass W")
KINDS = {"length": "feet", "width": "feet", "height": "feet", **dict.fromkeys(COLUMNS[5:], "area")}


@dataclass(frozen=True)
class PaceRow:
    """One room of the table, m and m2."""

    name: str
    length_m: float
    width_m: float
    height_m: float | None = None
    outside: str | None = None
    """Sides with an outside wall; empty: an inner room; None: as the plan shows it."""
    glass_m2: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    id: str = ""
    box: bool = True
    """Whether the room is a box, so that its length and width can be typed."""


# ---- reading the plan -----------------------------------------------------------------------------------------


def rows_of(job: Job, storey: str) -> tuple[PaceRow, ...]:
    """The storey's rooms as rows; of a room that is no box, length and width are those of the box round it."""
    out = []
    rooms = tuple(r for r in job.rooms if r.storey == storey)
    outside = _outside(job, rooms)
    for i, room in enumerate(rooms):
        xs, ys = [p[0] for p in room.outline_m], [p[1] for p in room.outline_m]
        glass = [0.0] * 4
        for o in job.openings:
            if o.room == room.id and o.kind == "window":
                glass[SIDES.index(side_of(room, o.wall))] += o.width_m * o.height_m
        out.append(
            PaceRow(
                room.name,
                max(xs) - min(xs),
                max(ys) - min(ys),
                room.height_m,
                "".join(s for s in SIDES if s in outside[i]),
                (glass[0], glass[1], glass[2], glass[3]),
                room.id,
                is_box(room),
            )
        )
    return tuple(out)


def is_box(room: Room) -> bool:
    """Whether the room is a rectangle along the plan."""
    o = room.outline_m
    return len(o) == 4 and all(
        abs(o[k][0] - o[k - 1][0]) < 1e-3 or abs(o[k][1] - o[k - 1][1]) < 1e-3 for k in range(4)
    )


def side_of(room: Room, wall: int) -> str:
    """The plan's side a wall looks to."""
    return SIDES[int((wall_facing_deg(room.outline_m, wall) % 360) / 90 + 0.5) % 4]


def _outside(job: Job, rooms: tuple[Room, ...]) -> list[set[str]]:
    """Sides on which each room has an outside wall, by the plan and its overrides."""
    own = {(w.room, w.wall): w.other_side for w in job.wall_overrides if w.other_side != "auto"}
    storeys = tuple(s for s in job.storeys if rooms and s.id == rooms[0].storey)
    spaces = tuple(s for s in job.spaces if rooms and s.storey == rooms[0].storey)
    found = all_stretches(rooms, (2.4,) * len(rooms), spaces, storeys)
    out: list[set[str]] = [set() for _ in rooms]
    for (i, wall), stretches in found.items():
        room = rooms[i]
        said = own.get((room.id, wall))
        longest = max(stretches, key=lambda s: s.length_m, default=None)
        other = said or (longest.other if longest else "outdoors")
        if other == "outdoors":
            out[i].add(side_of(room, wall))
    return out


# ---- changing it ----------------------------------------------------------------------------------------------


def add_row(job: Job, storey: str, row: PaceRow) -> Drawn:
    """A room from a row, put where it fits by its outside walls.

    Raises:
        JobValueError: a length is missing or out of reach, or the glass does not go into its wall.
    """
    _check(row)
    room_id, _ = next_room(job)
    before = rows_of(job, storey)
    after = _with_box(job, storey, row, _free_place(job, storey), room_id)
    after = _with_outside(_with_glass(after, room_id, row.glass_m2), room_id, row.outside)
    return Drawn(count_bedrooms(job, _as_before(after, storey, before)), "room", room_id)


def _with_box(job: Job, storey: str, row: PaceRow, at: Point, room_id: str) -> Job:
    room = make(
        Room,
        row.name,
        id=room_id,
        name=row.name,
        storey=storey,
        outline_m=_box(at, row.length_m, row.width_m),
        height_m=row.height_m,
        use=use_from_name(row.name) or "other",
    )
    return changed(job, job.name, rooms=(*job.rooms, room))


def _as_before(job: Job, storey: str, before: Sequence[PaceRow]) -> Job:
    """Rooms that have been laid against others keep the outside walls they had."""
    now = {r.id: r.outside for r in rows_of(job, storey)}
    for row in before:
        if row.box and now.get(row.id) != row.outside:
            job = _with_outside(job, row.id, row.outside)
    return job


def set_row(job: Job, row: PaceRow) -> Drawn:
    """The room of a row made to agree with it; only what differs is touched.

    Raises:
        JobValueError: as for `add_row`, or the room is no box and its length or width was changed.
    """
    _check(row)
    room = next((r for r in job.rooms if r.id == row.id), None)
    if room is None:
        raise JobValueError(f"{row.name} is not on the plan any more.")
    old = next(x for x in rows_of(job, room.storey) if x.id == row.id)
    after = job
    if (row.name, row.height_m) != (old.name, old.height_m):
        use = use_from_name(row.name) if room.use == "other" else None
        after = _swap(after, changed(room, name=row.name, height_m=row.height_m, use=use or room.use))
    if abs(row.length_m - old.length_m) > 1e-6 or abs(row.width_m - old.width_m) > 1e-6:
        after = _resized(after, row)
    if row.outside != old.outside:
        after = _with_outside(after, row.id, row.outside)
    if row.glass_m2 != old.glass_m2:
        after = _with_glass(after, row.id, row.glass_m2, old.glass_m2)
    return Drawn(count_bedrooms(job, after), "room", row.id)


def _swap(job: Job, room: Room) -> Job:
    return changed(job, job.name, rooms=tuple(room if r.id == room.id else r for r in job.rooms))


def _resized(job: Job, row: PaceRow) -> Job:
    room = next(r for r in job.rooms if r.id == row.id)
    if not row.box:
        raise JobValueError(f"{row.name} is no box; change its walls on the plan.")
    x, y = min(p[0] for p in room.outline_m), min(p[1] for p in room.outline_m)
    bigger = changed(room, outline_m=_box((x, y), row.length_m, row.width_m))
    openings = tuple(_on_its_side(o, room, bigger) if o.room == row.id else o for o in job.openings)
    overrides = tuple(
        changed(w, wall=_same_side(room, w.wall, bigger)) if w.room == row.id else w for w in job.wall_overrides
    )
    rooms = tuple(bigger if r.id == row.id else r for r in job.rooms)
    return changed(job, job.name, rooms=rooms, openings=openings, wall_overrides=overrides)


def _same_side(room: Room, wall: int, other: Room) -> int:
    """The wall of another box that looks to the same side."""
    side = side_of(room, wall)
    return next(k for k in range(len(other.outline_m)) if side_of(other, k) == side)


def _on_its_side(o: Opening, room: Room, bigger: Room) -> Opening:
    """An opening on the same side of the box at its new size, as far along as before.

    Raises:
        JobValueError: the wall has become too short for it.
    """
    if o.kind == "skylight":
        return o
    wall = _same_side(room, o.wall, bigger)
    was, now = wall_length_m(room.outline_m, o.wall), wall_length_m(bigger.outline_m, wall)
    if o.width_m > now + 1e-9:
        raise JobValueError(
            f"{room.name} {o.tag} is wider than the wall of ", ("feet", now), "; make it smaller first."
        )
    middle = (o.offset_m + o.width_m / 2) * now / was
    return changed(o, wall=wall, offset_m=round(min(max(middle - o.width_m / 2, 0.0), now - o.width_m), 5))


def _check(row: PaceRow) -> None:
    if not row.name.strip():
        raise JobValueError("Give the room a name.")
    for word, value in (("length", row.length_m), ("width", row.width_m)):
        if not LEAST_M <= value <= MOST_M:
            raise JobValueError(
                f"{row.name}: a {word} of ",
                ("feet", value),
                " can't be; from ",
                ("feet", LEAST_M),
                " to ",
                ("feet", MOST_M),
                ".",
            )
    wrong = sorted(set(row.outside or "") - set(SIDES))
    if wrong:
        raise JobValueError(f"{row.name}: outside walls are named N, E, S and W; “{''.join(wrong)}” is none of them.")


def _box(at: Point, length: float, width: float) -> tuple[Point, ...]:
    x, y = at
    return tidy(((x, y), (x + length, y), (x + length, y + width), (x, y + width)))


def _with_glass(
    job: Job, room_id: str, glass: tuple[float, ...], old: tuple[float, ...] = (0.0, 0.0, 0.0, 0.0)
) -> Job:
    """One window a side of the area typed; a side that did not change keeps its windows."""
    room = next(r for r in job.rooms if r.id == room_id)
    openings = list(job.openings)
    for side, area, before in zip(SIDES, glass, old, strict=True):
        if abs(area - before) < 1e-6:
            continue
        openings = [
            o for o in openings if not (o.room == room_id and o.kind == "window" and side_of(room, o.wall) == side)
        ]
        if area > 0:
            openings.append(_window(job, room, side, area, openings))
    return changed(job, job.name, openings=tuple(openings))


def _window(job: Job, room: Room, side: str, area: float, openings: list[Opening]) -> Opening:
    walls = [k for k in range(len(room.outline_m)) if side_of(room, k) == side]
    wall = max(walls, key=lambda k: wall_length_m(room.outline_m, k), default=None)
    if wall is None:
        raise JobValueError(f"{room.name} has no wall to the {_word(side)}.")
    length = wall_length_m(room.outline_m, wall)
    storey = next(s for s in job.storeys if s.id == room.storey)
    tall = (room.height_m or storey.height_m) - 0.1
    width = min(area / GLASS_HEIGHT_M, 0.95 * length)
    height = area / width
    if height > tall:
        raise JobValueError(
            f"{room.name}: ",
            ("area", area),
            f" of glass does not go into its {_word(side)} wall of ",
            ("feet", length),
            ".",
        )
    return make(
        Opening,
        room.name,
        id=free_id("op", {o.id for o in openings}),
        tag=next_tag(openings, "window"),
        kind="window",
        room=room.id,
        wall=wall,
        offset_m=round((length - width) / 2, 5),
        width_m=round(width, 6),
        height_m=round(height, 6),
        sill_m=round(max(min(0.9, tall - height), 0.0), 4),
        glazing=usual_glazing(job, None),
    )


def _word(side: str) -> str:
    return {"N": "north", "E": "east", "S": "south", "W": "west"}[side]


def _with_outside(job: Job, room_id: str, outside: str | None) -> Job:
    """Say of each wall whether it is an outside one, where the plan says otherwise."""
    room = next(r for r in job.rooms if r.id == room_id)
    kept = {(w.room, w.wall): w for w in job.wall_overrides if not (w.room == room_id and _paced(w))}
    if outside is None:
        return changed(job, job.name, wall_overrides=tuple(kept.values()))
    for wall in range(len(room.outline_m)):
        side = "outdoors" if side_of(room, wall) in outside else "heated"
        old = kept.get((room_id, wall), WallOverride(room=room_id, wall=wall))
        kept[(room_id, wall)] = changed(old, other_side=side)
    return settle_overrides(changed(job, job.name, wall_overrides=tuple(kept.values())), {room_id})


def _paced(w: WallOverride) -> bool:
    """Whether an override only tells what lies beyond."""
    return w.construction is None and w.grade_m is None


def settle_overrides(job: Job, rooms: set[str]) -> Job:
    """The job without overrides of these rooms that say what the plan shows by itself."""
    bare = changed(job, job.name, wall_overrides=tuple(w for w in job.wall_overrides if w.room not in rooms))
    storeys = {r.storey for r in job.rooms if r.id in rooms}
    shown: dict[tuple[str, int], set[str]] = {}
    for storey in storeys:
        here = tuple(r for r in job.rooms if r.storey == storey)
        spaces = tuple(s for s in job.spaces if s.storey == storey)
        level = tuple(s for s in job.storeys if s.id == storey)
        for (i, wall), parts in all_stretches(here, (2.4,) * len(here), spaces, level).items():
            shown[(here[i].id, wall)] = {p.other for p in parts}
    kept = []
    for w in job.wall_overrides:
        if w.room not in rooms:
            kept.append(w)
        elif _paced(w) and shown.get((w.room, w.wall)) == {w.other_side}:
            continue
        else:
            kept.append(w)
    return changed(bare, job.name, wall_overrides=tuple(kept))


# ---- laying it out --------------------------------------------------------------------------------------------


def _rank(sides: str | None) -> tuple[int, int]:
    """(row, column) of a room by its outside walls: top 0, middle 1, bottom 2; left 0, middle 1, right 2."""
    outside = sides or ""
    row = 0 if "N" in outside and "S" not in outside else 2 if "S" in outside and "N" not in outside else 1
    column = 0 if "W" in outside and "E" not in outside else 2 if "E" in outside and "W" not in outside else 1
    return row, column


def layout(rows: Sequence[PaceRow]) -> list[Point]:
    """Upper left corners of the boxes: rows by north and south, in them from west to east, each pushed up to touch."""
    order = sorted(range(len(rows)), key=lambda i: (_rank(rows[i].outside), i))
    at: list[Point] = [(0.0, 0.0)] * len(rows)
    placed: list[int] = []
    for band in (0, 1, 2):
        x = level = 0.0
        for i in order:
            if _rank(rows[i].outside)[0] != band:
                continue
            y = max(
                (
                    at[j][1] + rows[j].width_m
                    for j in placed
                    if at[j][0] < x + rows[i].length_m - 1e-6 and at[j][0] + rows[j].length_m > x + 1e-6
                ),
                default=level,
            )
            level = y
            at[i] = (round(x, 5), round(y, 5))
            x += rows[i].length_m
            placed.append(i)
    return at


def _free_place(job: Job, storey: str) -> Point:
    """Where a new box goes: right of everything."""
    here = [r for r in job.rooms if r.storey == storey]
    if not here:
        return (0.0, 0.0)
    return (max(p[0] for r in here for p in r.outline_m), min(p[1] for r in here for p in r.outline_m))


def arrange(job: Job, storey: str) -> Job:
    """Lay the storey's boxes out anew by their outside walls; what is no box stays to their right.

    Raises:
        JobValueError: there is no box on the storey.
    """
    rows = rows_of(job, storey)
    boxes = [r for r in rows if r.box]
    if not boxes:
        raise JobValueError("There is no box on this storey to arrange.")
    places = dict(zip((b.id for b in boxes), layout(boxes), strict=True))
    fixed = changed(job, job.name)
    for row in boxes:
        fixed = _with_outside(fixed, row.id, row.outside)
    after = fixed
    for room in fixed.rooms:
        if room.id in places:
            x, y = min(p[0] for p in room.outline_m), min(p[1] for p in room.outline_m)
            after = move_rooms(after, {room.id}, shift(places[room.id][0] - x, places[room.id][1] - y))
    for row in boxes:
        after = _with_outside(after, row.id, row.outside)
    return after


def import_rows(job: Job, storey: str, rows: Sequence[PaceRow]) -> Job:
    """All rooms of a list on a storey, laid out. Raises JobValueError; nothing is taken then."""
    if not rows:
        raise JobValueError("The list has no rooms.")
    for row in rows:
        _check(row)
    x, y = _free_place(job, storey)
    before = rows_of(job, storey)
    after, ids = job, []
    for row, at in zip(rows, layout(rows), strict=True):
        room_id, _ = next_room(after)
        ids.append(room_id)
        after = _with_box(after, storey, row, (round(x + at[0], 5), round(y + at[1], 5)), room_id)
    for row, room_id in zip(rows, ids, strict=True):
        after = _with_outside(_with_glass(after, room_id, row.glass_m2), room_id, row.outside)
    return count_bedrooms(job, _as_before(after, storey, before))


# ---- CSV ------------------------------------------------------------------------------------------------------


def to_csv(rows: Sequence[PaceRow], units: Units) -> str:
    """The table as CSV; units stand in the headings."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    plain = {"feet": "ft" if units == "ip" else "m", "area": "ft2" if units == "ip" else "m2"}
    writer.writerow([f"{c} [{plain[KINDS[c]]}]" if c in KINDS else c for c in COLUMNS])
    for r in rows:
        values = (r.length_m, r.width_m, r.height_m, *r.glass_m2)
        shown = [_plain(k, v, units) for k, v in zip((*("feet",) * 3, *("area",) * 4), values, strict=True)]
        outside = "" if r.outside is None else r.outside or "none"
        writer.writerow([r.name, *shown[:3], outside, *shown[3:]])
    return out.getvalue()


def _plain(kind: str, value: float | None, units: Units) -> str:
    if value is None:
        return ""
    factor = {"feet": 1 / 0.3048, "area": 1 / 0.3048**2}[kind] if units == "ip" else 1.0
    return f"{value * factor:.4f}".rstrip("0").rstrip(".")


def from_csv(text: str, units: Units) -> tuple[PaceRow, ...]:
    """Rooms from CSV. Columns may stand in any order; a heading may name its unit: `length [m]`.

    Raises:
        JobValueError: a column is missing, or a value can't be read; the text names the line and the column.
    """
    try:
        lines = [r for r in csv.reader(io.StringIO(text.lstrip("\ufeff")), strict=True) if any(c.strip() for c in r)]
    except csv.Error as exc:
        raise JobValueError(f"The list can't be read as CSV: {exc}.") from None
    if not lines:
        raise JobValueError("The list is empty.")
    where, scale = _heading(lines[0], units)
    missing = [c for c in ("name", "length", "width") if c not in where]
    if missing:
        raise JobValueError(
            f"The list has no column “{missing[0]}”; it needs name, length and width, "
            "and may have height, outside and glass_n, glass_e, glass_s, glass_w."
        )
    rows = []
    for k, line in enumerate(lines[1:], 2):
        rows.append(_row(line, k, where, scale))
    if not rows:
        raise JobValueError("The list has headings but no rooms.")
    return tuple(rows)


def _heading(cells: list[str], units: Units) -> tuple[dict[str, int], dict[str, Units]]:
    where: dict[str, int] = {}
    scale: dict[str, Units] = {}
    for i, cell in enumerate(cells):
        name, _, rest = cell.strip().lower().partition("[")
        key = name.strip().replace(" ", "_")
        key = {"room": "name", "outside_walls": "outside"}.get(key, key)
        if key in COLUMNS:
            where[key] = i
            named = rest.rstrip("] ").strip()
            scale[key] = "si" if named.startswith("m") else "ip" if named.startswith("f") else units
    return where, scale


def _row(line: list[str], number_: int, where: dict[str, int], scale: dict[str, Units]) -> PaceRow:
    def text(key: str) -> str:
        i = where.get(key)
        return line[i].strip() if i is not None and i < len(line) else ""

    def value(key: str) -> float | None:
        typed = text(key)
        if not typed:
            return None
        try:
            return parse(KINDS[key], typed, scale[key])
        except UnitError as exc:
            raise JobValueError(f"Line {number_}, {key}: {exc}") from None

    length, width = value("length"), value("width")
    if length is None or width is None:
        raise JobValueError(f"Line {number_}, {text('name') or 'no name'}: length and width are needed.")
    row = PaceRow(
        text("name"),
        length,
        width,
        value("height"),
        clean_sides(text("outside")),
        (value("glass_n") or 0.0, value("glass_e") or 0.0, value("glass_s") or 0.0, value("glass_w") or 0.0),
    )
    try:
        _check(row)
    except JobValueError as exc:
        raise JobValueError(f"Line {number_}: ", *exc.parts) from None
    return row


def clean_sides(typed: str) -> str | None:
    """Outside walls as typed, `n, west` or `NW`, in the order N E S W; `none` for an inner room."""
    if not typed.strip():
        return None
    words = typed.upper().replace(",", " ").replace("/", " ").replace("+", " ").split()
    named = {"NORTH": "N", "EAST": "E", "SOUTH": "S", "WEST": "W", "NONE": "", "-": "", "–": ""}
    letters = "".join(named.get(w, w) for w in words)
    return "".join(sorted(set(letters), key=lambda c: (SIDES + c).index(c)))


def cell_text(row: PaceRow, column: str, units: Units) -> str:
    """A cell as it is shown."""
    if column == "name":
        return row.name
    if column == "outside":
        return "" if row.outside is None else " ".join(row.outside) or "none"
    if column in ("length", "width", "height"):
        v = getattr(row, f"{column}_m")
        return "" if v is None else number("feet", v, units)
    v = row.glass_m2[COLUMNS.index(column) - 5]
    return number("area", v, units, 1) if v else ""


def with_cell(row: PaceRow, column: str, typed: str, units: Units) -> PaceRow:
    """The row with one cell typed anew.

    Raises:
        JobValueError: it can't be read; the text names the room and the column.
    """
    typed = typed.strip()
    if column == "name":
        return replace(row, name=typed)
    if column == "outside":
        return replace(row, outside=clean_sides(typed))
    try:
        value = parse(KINDS[column], typed, units) if typed else None
    except UnitError as exc:
        raise JobValueError(f"{row.name or 'New room'}, {TITLES[COLUMNS.index(column)].lower()}: {exc}") from None
    if column == "height":
        return replace(row, height_m=value)
    if column in ("length", "width"):
        return replace(row, length_m=value or 0.0) if column == "length" else replace(row, width_m=value or 0.0)
    if value is not None and value < 0:
        raise JobValueError(f"{row.name}: glass can't be less than nothing.")
    glass = list(row.glass_m2)
    glass[COLUMNS.index(column) - 5] = value or 0.0
    return replace(row, glass_m2=(glass[0], glass[1], glass[2], glass[3]))


def heading(column: str, units: Units) -> str:
    """Title of a column with its unit."""
    title = TITLES[COLUMNS.index(column)]
    return f"{title} {unit(KINDS[column], units)}" if column in KINDS else title
