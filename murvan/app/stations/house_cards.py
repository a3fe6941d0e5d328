"""The cards of the House station: a room, a wall, an opening, a picture under the plan."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from murvan.app import pictures
from murvan.app.stations.base import (
    Arith,
    Button,
    Buttons,
    Card,
    Field_,
    Fields,
    List_,
    ListRow,
    Picture,
    Section,
    View,
    room_index,
)
from murvan.app.stations.common import per_kelvin, room_mark, zone_words
from murvan.app.stations.fields import of, people_field
from murvan.app.stations.makeup_view import draw_layers
from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.drawing import SIZES, Size, set_shown_offset, set_size, set_slope, set_wall_length, shown_offset
from murvan.design.explain import MONTH_WORDS, explain_u
from murvan.design.house import (
    WallPart,
    choices_of,
    compass,
    glazing_choices,
    sky_plane,
    wall_facing_deg,
    wall_length_m,
    wall_points,
    with_construction,
    with_glazing,
)
from murvan.model import Construction, Job, Opening, Room, Underlay, WallOverride, replace
from murvan.model.design_edit import put_in_zone, zone_of
from murvan.model.edit import changed
from murvan.model.job import signed_area


def room_card(view: View, i: int) -> Card:
    g, job = view.r.geometry, view.job
    if not job.rooms:
        return Card(
            "House",
            "No rooms yet",
            hero_note="R and a drag draw a room; P goes corner by corner. Lengths can be typed while you drag.",
        )
    r = job.rooms[i]
    ua = per_kelvin(float(view.r.loads.heating_parts[i].sum()), view.r.conditions.heating_difference_k)
    return Card(
        f"Room · {view.storey_name(r.storey)} · {zone_words(view, r.id)}",
        r.name,
        room_mark(view, r.id, 1),
        "",
        ((view.num("area", g.area_m2[i], 0), view.unit("area"), "ink"),),
        f"{view.text('volume', g.volume_m3[i], 0)}, ceiling {view.text('feet', g.height_m[i])}",
        (
            (view.num("ua", ua, 0), view.unit("ua"), "ink"),
            (view.num("area", g.exposed_wall_m2[i], 0), f"{view.unit('area')} outside", "ink"),
        ),
        (
            _room_fields(view, r),
            _over_and_under(view, r),
            List_("Outside walls and openings", "", _outside_of(view, i)[:12]),
            Arith(_room_arithmetic(view, i, ua)),
        ),
    )


def _outside_of(view: View, i: int) -> tuple[ListRow, ...]:
    """The walls of a room that do not border rooms, and what is in them."""
    r, unit = view.job.rooms[i], view.unit("area")
    walls: dict[int, list[WallPart]] = {}
    for w in view.r.geometry.walls:
        if w.room == i and w.other != "heated":
            walls.setdefault(w.wall, []).append(w)
    rows = [
        ListRow(
            f"{_side(view, r.outline_m, wall)} wall",
            view.num("area", sum(p.net_area_m2 for p in parts), 0),
            unit,
            key=("wall", f"{r.id}/{wall}"),
        )
        for wall, parts in walls.items()
    ]
    rows += [
        ListRow(
            f"{o.kind.capitalize()} {o.tag}", view.num("area", o.width_m * o.height_m, 1), unit, key=("opening", o.id)
        )
        for o in view.job.openings
        if o.room == r.id and not o.inside
    ]
    return tuple(rows)


def _room_fields(view: View, r: Room) -> Fields:
    height = of("rooms", r, "height_m", value=r.height_m or _storey_height(view, r.storey))
    if r.slope is not None:
        height = dataclasses.replace(height, apply=None)
    zone = Field_(
        f"{r.id}.zone",
        "Zone",
        "text",
        zone_of(view.job.design, r.id) or "",
        lambda job, v: put_in_zone(job, (r.id,), str(v) or None),
        "Change zone",
        (("", "none"), *((z.id, f"{z.id} {z.name}") for z in view.job.design.zones)),
    )
    return Fields("Change it", (of("rooms", r, "name"), of("rooms", r, "use"), height, zone))


def _room_arithmetic(view: View, i: int, ua: float) -> Arithmetic:
    r, g = view.r, view.r.geometry
    loss = Quantity("power", float(r.loads.heating_parts[i].sum()))
    return Arithmetic(
        view.job.rooms[i].name,
        (
            Line(
                "volume",
                "{0} × {1}",
                (Quantity("area", g.area_m2[i]), Quantity("length", g.height_m[i])),
                Quantity("volume", g.volume_m3[i]),
            ),
            Line(
                "loss per degree",
                "{0} ÷ {1}",
                (loss, Quantity("difference", r.conditions.heating_difference_k)),
                Quantity("ua", ua),
                True,
            ),
        ),
        ("Area from the plan's corners; loss from Loads, design difference",),
    )


def _storey_height(view: View, storey: str) -> float:
    return next(s.height_m for s in view.job.storeys if s.id == storey)


def _over_and_under(view: View, r: Room) -> Fields:
    """What lies over and under the room, and the shape of its ceiling."""
    put = "Change ceiling"
    fields = [of("rooms", r, name) for name in ("ceiling", "floor", "slope")]
    s = r.slope
    if s is not None:
        low = "Knee wall" if s.knee else "Low side"
        fields += [
            Field_(
                f"{r.id}.rises",
                "Rises",
                "text",
                s.rises,
                lambda job, v: set_slope(job, r.id, rises=v),
                put,
                (("x", "across the plan"), ("y", "up and down it")),
            ),
            Field_(f"{r.id}.pitch", "Rise over run", "decimal", s.pitch, _slope(r, "pitch"), put),
            Field_(f"{r.id}.low", low, "feet", s.low_m, _slope(r, "low_m"), put),
            Field_(f"{r.id}.high", "Flat part or ridge", "feet", s.high_m, _slope(r, "high_m"), put),
        ]
    fields.append(people_field(view, r))
    return Fields("Over, under, within", tuple(fields))


def _slope(r: Room, name: str) -> Callable[[Job, float | str], Job]:
    return lambda job, value: set_slope(job, r.id, **{name: value})


@dataclass(frozen=True)
class _Wall:
    """One wall of a room as its card needs it: the parts it falls into by what lies beyond."""

    id: str
    i: int
    room: Room
    wall: int
    parts: tuple[WallPart, ...]
    override: WallOverride | None

    @property
    def outside(self) -> tuple[WallPart, ...]:
        return tuple(w for w in self.parts if w.other != "heated")

    @property
    def told(self) -> tuple[WallPart, ...]:
        """The parts outdoors, or all of an inside wall."""
        return self.outside or self.parts

    @property
    def main(self) -> WallPart:
        return max(self.told, key=lambda w: w.length_m)

    @property
    def net_m2(self) -> float:
        return sum(w.net_area_m2 for w in self.told)

    @property
    def gross_m2(self) -> float:
        return sum(w.gross_area_m2 for w in self.told)


def _wall(view: View, wall_id: str) -> _Wall | None:
    job = view.job
    room_id, _, n = wall_id.rpartition("/")
    wall = int(n)
    i = next((k for k, r in enumerate(job.rooms) if r.id == room_id), None)
    if i is None or wall >= len(job.rooms[i].outline_m):
        return None
    parts = tuple(w for w in view.r.geometry.walls if w.room == i and w.wall == wall)
    override = next((o for o in job.wall_overrides if (o.room, o.wall) == (room_id, wall)), None)
    return _Wall(wall_id, i, job.rooms[i], wall, parts, override)


def wall_card(view: View, wall_id: str) -> Card:
    x = _wall(view, wall_id)
    if x is None:
        return room_card(view, room_index(view))
    construction = next((c for c in view.job.constructions if c.id == x.main.construction), None)
    u = view.r.factors.assemblies[construction.id].u_w_m2k if construction else 0.0
    r_value = view.num("r_value", 1 / u if u else None, 1 if view.units == "ip" else 2)
    return Card(
        f"Wall · {view.storey_name(x.room.storey)} · {x.room.name}",
        f"{_side(view, x.room.outline_m, x.wall)} wall",
        "good",
        x.main.other.capitalize(),
        ((view.num("area", x.net_m2, 0), f"{view.unit('area')} net", "ink"),),
        _wall_note(view, x),
        ((view.num("u_factor", u), "U", "ink"), (("R-" if view.units == "ip" else "R ") + r_value, "", "ink")),
        (_wall_fields(view, x), *(_wall_assembly(view, x, construction) if construction else ())),
    )


def _wall_note(view: View, x: _Wall) -> str:
    """The openings taken off its area, or its length where there are none."""
    tags = [
        o.tag
        for o in view.job.openings
        if o.room == x.room.id and o.wall == x.wall and not o.inside and o.kind not in ("skylight", "archway")
    ]
    off = x.gross_m2 - x.net_m2
    if not tags or off <= 0.01:
        return f"{view.text('feet', wall_length_m(x.room.outline_m, x.wall))} long"
    return f"{view.num('area', x.gross_m2, 0)} less {view.num('area', off, 0)} of openings, {' and '.join(tags)}"


def _wall_fields(view: View, x: _Wall) -> Fields:
    room, wall = x.room.id, x.wall
    beyond = (
        ("auto", f"Plan: {x.main.other}"),
        ("outdoors", "Outdoors"),
        ("garage", "Garage"),
        ("heated", "Heated room"),
        ("attic", "Attic, knee wall"),
        ("party", "Neighbour's house"),
    )
    fields = [
        Field_(
            f"{x.id}.length",
            "Length",
            "feet",
            wall_length_m(x.room.outline_m, wall),
            lambda job, v: set_wall_length(job, room, wall, float(v)),
            "Change wall length",
        ),
        of("rooms", x.room, "height_m", key=f"{x.id}.height", label="Height", value=view.r.geometry.height_m[x.i]),
        Field_(
            f"{x.id}.make",
            "Assembly",
            "text",
            x.main.construction or "",
            lambda job, v: _override(with_construction(job, str(v)), room, wall, construction=str(v)),
            "Change wall assembly",
            choices_of(view.job, ("wall", "partition")),
        ),
        Field_(
            f"{x.id}.other",
            "Other side",
            "text",
            x.override.other_side if x.override else "auto",
            lambda job, v: _override(job, room, wall, other_side=str(v)),
            "Change other side",
            beyond,
        ),
    ]
    below = view.r.geometry.below_m[x.i]
    typed = x.override.grade_m if x.override is not None else None
    if below > 0 or typed is not None:
        fields.append(
            Field_(
                f"{x.id}.grade",
                "Ground over its floor",
                "feet",
                typed if typed is not None else below,
                lambda job, v: _override(job, room, wall, grade_m=float(v)),
                "Set the ground at the wall",
            )
        )
    return Fields("Change it", tuple(fields))


def _wall_assembly(view: View, x: _Wall, c: Construction) -> tuple[Section, ...]:
    """What the wall is made of, and what it loses."""
    factors, walls = view.r.factors, view.r.geometry.walls
    mine = [s for s in factors.surfaces if s.part >= 0 and walls[s.part] in x.outside]
    plain = len(mine) <= 1 and x.main.other != "ground"
    sections: list[Section] = [
        Picture("Assembly", "outside to inside", 106, lambda p, r: draw_layers(p, r, view, c)),
        Arith(explain_u(c, (x.net_m2, _colder_k(view, x.main)) if plain and x.outside else None)),
    ]
    if not plain:
        rows = tuple(
            ListRow(
                f"{walls[s.part].other.capitalize()}, {view.text('area', s.area_m2, 0)}",
                view.num("power", s.heating_w),
                view.unit("power"),
                second=f"U {view.num('u_factor', s.u_w_m2k)}, {view.text('difference', s.heat_k, 0)} colder",
            )
            for s in mine
        )
        sections.append(List_("Loses at design, by what lies beyond", "", rows))
    row = ListRow(c.name, "", "assumed" if c.assumed else "", key=("construction", c.id))
    return (*sections, List_("Open it to change its layers", "", (row,)))


def _colder_k(view: View, part: WallPart) -> float:
    """How much colder it is beyond the wall at winter design."""
    c = view.r.conditions
    if part.other != "garage":
        return c.heating_difference_k
    return c.indoor_heating.temperature_c - view.r.factors.spaces.winter(part.neighbour)


SKY_FIELDS = ("size", "width", "height", "glazing", "summer", "blinds")
GLAZED_FIELDS = ("overhang_m", "overhang_gap_m", "sun_summer", "blinds")


def opening_card(view: View, opening_id: str) -> Card:
    job = view.job
    k = next((n for n, o in enumerate(job.openings) if o.id == opening_id), None)
    if k is None:
        return room_card(view, room_index(view))
    o = job.openings[k]
    room = next(r for r in job.rooms if r.id == o.room)
    u = float(view.r.factors.glass.u[k])
    return Card(
        f"{o.kind.capitalize()} · {view.storey_name(room.storey)} · {room.name}",
        f"{o.kind.capitalize()} {o.tag}",
        room_mark(view, room.id, 1),
        _looks(job, room, o),
        ((view.num("area", o.width_m * o.height_m, 1), view.unit("area"), "ink"),),
        f"{view.text('feet', o.width_m)} × {view.text('feet', o.height_m)}",
        ((view.num("u_factor", u, 2), "U", "ink"),) if not o.inside else (),
        (Fields("Change it", _opening_fields(view, room, o)), *(() if o.inside else (_opening_does(view, k),))),
    )


def _looks(job: Job, room: Room, o: Opening) -> str:
    """Where an opening looks, a skylight with its steepness."""
    if o.kind == "skylight":
        facing, tilt = sky_plane(room, o)
        return f"{tilt:.0f}° steep" + (f", faces {compass(facing - job.site.north_deg)}" if tilt > 3 else "")
    return "" if o.inside else f"faces {compass(wall_facing_deg(room.outline_m, o.wall, job.site.north_deg))}"


def _opening_fields(view: View, room: Room, o: Opening) -> tuple[Field_, ...]:
    offset = Field_(
        f"{o.id}.offset",
        "From the left corner" if _level(room, o.wall) else "From the upper corner",
        "feet",
        shown_offset(view.job, o),
        lambda job, v: set_shown_offset(job, o.id, float(v)),
        f"Move {o.tag}",
    )
    fields = [
        _usual_sizes(view, o),
        of("openings", o, "width_m"),
        of("openings", o, "height_m"),
        offset,
        of("openings", o, "sill_m"),
    ]
    glazed = o.kind in ("window", "skylight")
    if not o.inside:
        fields.append(_glazing(view.job, o) if glazed else _door(view.job, o))
    if glazed:
        fields += [of("openings", o, name) for name in GLAZED_FIELDS]
    if o.kind != "skylight":
        return tuple(fields)
    fields = [f for f in fields if f.key.rpartition(".")[2] in SKY_FIELDS]
    return (*fields, of("openings", o, "tilt_deg")) if room.slope is None else tuple(fields)


def _usual_sizes(view: View, o: Opening) -> Field_:
    listed = next((x.key for x in SIZES[o.kind] if _same_size(x, o)), "")
    sizes = tuple((x.key, _size_name(view, x.width_m, x.height_m)) for x in SIZES[o.kind])
    return Field_(
        f"{o.id}.size",
        "Usual sizes",
        "text",
        listed,
        lambda job, v: set_size(job, o.id, str(v)),
        f"Change size of {o.tag}",
        sizes if listed else (("", "its own size"), *sizes),
    )


def _glazing(job: Job, o: Opening) -> Field_:
    return Field_(
        f"{o.id}.glazing",
        "Glazing",
        "text",
        o.glazing or "",
        lambda job, v: replace(with_glazing(job, str(v)), "openings", o.id, glazing=str(v)),
        "Change glazing",
        glazing_choices(job),
    )


def _door(job: Job, o: Opening) -> Field_:
    return Field_(
        f"{o.id}.door",
        "Door",
        "text",
        o.construction or job.door_construction or "",
        lambda job, v: replace(with_construction(job, str(v)), "openings", o.id, construction=str(v)),
        "Change door",
        choices_of(job, ("door",)),
    )


def _opening_does(view: View, k: int) -> List_:
    """What an opening adds to the loads."""
    glass, o = view.r.factors.glass, view.job.openings[k]
    ua = float(glass.u[k]) * o.width_m * o.height_m
    rows = (
        ListRow("Cooling load", view.num("power", float(glass.sensible_w[k])), view.unit("power")),
        ListRow(
            "Heat lost at design", view.num("power", ua * view.r.conditions.heating_difference_k), view.unit("power")
        ),
        ListRow("Sun on it at its peak", view.num("irradiance", float(glass.pxi[k])), view.unit("irradiance")),
    )
    return List_("What it does", "", rows if o.kind in ("window", "skylight") else rows[:2])


def _level(room: Room, wall: int) -> bool:
    """Whether a wall runs across the plan rather than up and down it."""
    (x0, y0), (x1, y1) = wall_points(room.outline_m, wall)
    return abs(x1 - x0) >= abs(y1 - y0)


def _same_size(size: Size, o: Opening) -> bool:
    return abs(size.width_m - o.width_m) < 1e-3 and abs(size.height_m - o.height_m) < 1e-3


def _size_name(view: View, width: float, height: float) -> str:
    if view.units == "ip":
        return f"{view.num('feet', width)} × {view.num('feet', height)}"
    return f"{width:.2f} × {height:.2f} m"


def _side(view: View, outline: tuple[tuple[float, float], ...], wall: int) -> str:
    words = {
        "N": "North",
        "NE": "North-east",
        "E": "East",
        "SE": "South-east",
        "S": "South",
        "SW": "South-west",
        "W": "West",
        "NW": "North-west",
    }
    return words[compass(wall_facing_deg(outline, wall, view.job.site.north_deg))]


def _override(job: Job, room: str, wall: int, **changes: Any) -> Job:
    """Give one wall its own assembly or other side."""
    rest = tuple(o for o in job.wall_overrides if (o.room, o.wall) != (room, wall))
    old = next(
        (o for o in job.wall_overrides if (o.room, o.wall) == (room, wall)), WallOverride(room=room, wall=wall)
    )
    return changed(job, job.name, wall_overrides=(*rest, changed(old, **changes)))


def underlay_card(view: View, underlay_id: str) -> Card:
    """The picture under the plan: its scale, strength, page."""
    job = view.job
    u = next((x for x in job.underlays if x.id == underlay_id), None)
    if u is None:
        return room_card(view, room_index(view))

    width, height = u.width_px * u.m_per_px, u.height_px * u.m_per_px
    fields = [
        *(of("underlays", u, name) for name in ("name", "opacity", "turn_deg")),
        Field_(
            f"{u.id}.shown",
            "On the plan",
            "text",
            "yes" if u.shown else "no",
            lambda job, v: replace(job, "underlays", u.id, shown=v == "yes"),
            "Show the picture" if not u.shown else "Hide the picture",
            (("yes", "shown"), ("no", "hidden")),
        ),
    ]
    pages = pictures.pdf_pages(u.file) if u.file.endswith(".pdf") else 1
    if pages > 1:
        fields.append(
            Field_(
                f"{u.id}.page",
                "Page",
                "text",
                str(u.page),
                lambda job, v: _turn_page(job, u, int(v)),
                "Turn the page",
                tuple((str(k), f"{k} of {pages}") for k in range(1, pages + 1)),
            )
        )
    buttons = Buttons(
        (
            Button("underlay.scale", "Scale it", "L", lambda: view.act.command("tool.scale"), True),
            Button("underlay.move", "Move", "U", lambda: view.act.command("tool.underlay")),
            Button("underlay.drop", "Remove", "", lambda: view.act.command("house.remove")),
        )
    )
    return Card(
        f"Under the plan · {view.storey_name(u.storey)}",
        u.name,
        "look" if abs(width - 15.0) < 1e-9 else "good",
        "not to scale yet" if abs(width - 15.0) < 1e-9 else "to scale",
        ((view.num("feet", width), view.unit("feet") if view.units == "si" else "", "ink"),),
        f"wide, {view.text('feet', height)} high; {u.width_px} × {u.height_px} px",
        (),
        (Fields("Change it", tuple(fields)), buttons),
    )


def _turn_page(job: Job, u: Underlay, page: int) -> Job:
    image = pictures.page_image(u.file, page)
    size = {"width_px": image.width(), "height_px": image.height()} if image is not None else {}
    return replace(job, "underlays", u.id, page=page, **size)


def _hottest(view: View, space: str) -> ListRow:
    """An unheated space's hottest hour of the design days."""
    day = view.r.balance
    values = day.buffer_c(space)
    if values is None or not values.size:
        return ListRow("On the summer design day", "–")
    month, hour = (int(x) for x in np.unravel_index(values.argmax(), values.shape))
    when = f"21 {MONTH_WORDS[day.months[month] - 1][:3]}, {hour + 1}:00"
    return ListRow(f"Hottest, {when}", view.num("temperature", float(values.max())), view.unit("temperature"))


def space_card(view: View, space_id: str) -> Card:
    """A garage or porch: what it is, how warm it gets."""
    s = next((x for x in view.job.spaces if x.id == space_id), None)
    if s is None:
        return room_card(view, room_index(view))
    shared = sum(w.length_m for w in view.r.geometry.walls if w.neighbour == s.id)
    fields = Fields(
        "Change it",
        (
            of("spaces", s, "name"),
            of("spaces", s, "kind"),
            of("spaces", s, "u_shell_w_m2k"),
            of("spaces", s, "air_changes_h"),
        ),
    )
    rows = (
        ListRow(
            "On the winter design night",
            view.num("temperature", view.r.factors.spaces.winter(s.id)),
            view.unit("temperature"),
        ),
        _hottest(view, s.id),
        ListRow("Wall shared with rooms", view.num("feet", shared), "" if view.units == "ip" else "m"),
    )
    return Card(
        f"Not heated · {view.storey_name(s.storey)}",
        s.name,
        "good",
        s.kind.capitalize(),
        ((view.num("area", abs(signed_area(s.outline_m)), 0), view.unit("area"), "ink"),),
        "between its shell and the house by its own heat balance",
        (),
        (fields, List_("How warm it gets", "", rows)),
    )


CARDS: dict[str, Callable[[View, str], Card]] = {
    "wall": wall_card,
    "opening": opening_card,
    "underlay": underlay_card,
    "space": space_card,
}
