"""The cards of the House station: a room, a wall, an opening, a picture under the plan."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, cast

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
from murvan.app.stations.common import per_kelvin, room_mark, set_in, zone_words
from murvan.app.stations.makeup_view import draw_layers
from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.house.assemblies import choices_of, glazing_choices, with_construction, with_glazing
from murvan.design.house.drawing.openings import SIZES, Size, set_shown_offset, set_size, set_width, shown_offset
from murvan.design.house.drawing.rooms import rename_room, set_use
from murvan.design.house.drawing.things import CEILINGS, ceiling_form, set_ceiling_form, set_slope
from murvan.design.house.drawing.walls import set_wall_length
from murvan.design.house.explain_assembly import explain_u
from murvan.design.house.geometry import WallPart, compass, wall_facing_deg, wall_length_m, wall_points
from murvan.design.house.levels import sky_plane
from murvan.design.loads.explain_day import MONTH_WORDS
from murvan.model import Job, Opening, Room, Underlay, WallOverride, replace
from murvan.model.design_edit import put_in_zone, zone_of
from murvan.model.edit import changed
from murvan.model.job import RoomUse, signed_area

USES = ("living", "dining", "kitchen", "bedroom", "bath", "powder", "hall", "landing", "study", "utility", "other")


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
    rows = []
    seen: dict[int, list[WallPart]] = {}
    for w in g.walls:
        if w.room == i and w.other != "heated":
            seen.setdefault(w.wall, []).append(w)
    for wall, parts in seen.items():
        rows.append(
            ListRow(
                f"{_side(view, r.outline_m, wall)} wall",
                view.num("area", sum(p.net_area_m2 for p in parts), 0),
                view.unit("area"),
                key=("wall", f"{r.id}/{wall}"),
            )
        )
    for o in job.openings:
        if o.room == r.id and not o.inside:
            rows.append(
                ListRow(
                    f"{o.kind.capitalize()} {o.tag}",
                    view.num("area", o.width_m * o.height_m, 1),
                    view.unit("area"),
                    key=("opening", o.id),
                )
            )
    zones = (("", "none"), *((z.id, f"{z.id} {z.name}") for z in job.design.zones))
    fields = Fields(
        "Change it",
        (
            Field_(
                f"{r.id}.name", "Name", "text", r.name, lambda job, v: rename_room(job, r.id, str(v)), "Rename room"
            ),
            Field_(
                f"{r.id}.use",
                "Use",
                "text",
                r.use,
                lambda job, v: set_use(job, r.id, cast(RoomUse, v)),
                "Change use",
                tuple((u, u.capitalize()) for u in USES),
            ),
            Field_(
                f"{r.id}.height",
                "Ceiling height",
                "feet",
                r.height_m if r.height_m is not None else _storey_height(view, r.storey),
                set_in("rooms", r.id, "height_m") if r.slope is None else None,
                "Change ceiling height",
            ),
            Field_(
                f"{r.id}.zone",
                "Zone",
                "text",
                zone_of(job.design, r.id) or "",
                lambda job, v: put_in_zone(job, (r.id,), str(v) or None),
                "Change zone",
                zones,
            ),
        ),
    )
    arith = Arithmetic(
        r.name,
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
                (
                    Quantity("power", float(view.r.loads.heating_parts[i].sum())),
                    Quantity("difference", view.r.conditions.heating_difference_k),
                ),
                Quantity("ua", ua),
                True,
            ),
        ),
        ("Area from the plan's corners; loss from Loads, design difference",),
    )
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
        (fields, _over_and_under(r), List_("Outside walls and openings", "", tuple(rows[:12])), Arith(arith)),
    )


def _storey_height(view: View, storey: str) -> float:
    return next(s.height_m for s in view.job.storeys if s.id == storey)


OVER = (("auto", "By the plan"), ("attic", "Attic"), ("roof", "Roof itself"), ("heated", "Heated room"))
UNDER = (
    ("auto", "By the plan"),
    ("slab", "Slab"),
    ("crawl", "Crawl space"),
    ("basement", "Unheated basement"),
    ("outdoors", "Outdoors"),
    ("garage", "Garage"),
    ("heated", "Heated room"),
)


def _over_and_under(r: Room) -> Fields:
    """What lies over and under the room, and the shape of its ceiling."""
    put = "Change ceiling"
    fields = [
        Field_(f"{r.id}.over", "Over the ceiling", "text", r.ceiling, set_in("rooms", r.id, "ceiling"), put, OVER),
        Field_(
            f"{r.id}.under", "Under the floor", "text", r.floor, set_in("rooms", r.id, "floor"), "Change floor", UNDER
        ),
        Field_(
            f"{r.id}.form",
            "Shape of the ceiling",
            "text",
            ceiling_form(r),
            lambda job, v: set_ceiling_form(job, r.id, str(v)),
            "Change the ceiling's shape",
            CEILINGS,
            2,
        ),
    ]
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
    fields.append(
        Field_(f"{r.id}.people", "People", "decimal", r.people, set_in("rooms", r.id, "people"), "Change people")
    )
    return Fields("Over, under, within", tuple(fields))


def _slope(r: Room, name: str) -> Callable[[Job, float | str], Job]:
    return lambda job, value: set_slope(job, r.id, **{name: value})


def wall_card(view: View, wall_id: str) -> Card:
    job, g, c = view.job, view.r.geometry, view.r.conditions
    room_id, _, n = wall_id.rpartition("/")
    wall = int(n)
    i = next((k for k, r in enumerate(job.rooms) if r.id == room_id), None)
    if i is None or wall >= len(job.rooms[i].outline_m):
        return room_card(view, room_index(view))
    room = job.rooms[i]
    parts = [w for w in g.walls if w.room == i and w.wall == wall]
    outside = [w for w in parts if w.other != "heated"]
    main = max(outside or parts, key=lambda w: w.length_m)
    net, gross = sum(w.net_area_m2 for w in outside or parts), sum(w.gross_area_m2 for w in outside or parts)
    construction = next((x for x in job.constructions if x.id == main.construction), None)
    u = view.r.factors.assemblies[construction.id].u_w_m2k if construction else 0.0
    tags = [
        o.tag
        for o in job.openings
        if o.room == room_id and o.wall == wall and not o.inside and o.kind not in ("skylight", "archway")
    ]
    kinds = choices_of(job, ("wall", "partition"))
    override = next((o for o in job.wall_overrides if (o.room, o.wall) == (room_id, wall)), None)
    fields = Fields(
        "Change it",
        (
            Field_(
                f"{wall_id}.length",
                "Length",
                "feet",
                wall_length_m(room.outline_m, wall),
                lambda job, v: set_wall_length(job, room_id, wall, float(v)),
                "Change wall length",
            ),
            Field_(
                f"{wall_id}.height",
                "Height",
                "feet",
                g.height_m[i],
                set_in("rooms", room_id, "height_m"),
                "Change ceiling height",
            ),
            Field_(
                f"{wall_id}.make",
                "Assembly",
                "text",
                main.construction or "",
                lambda job, v: _override(with_construction(job, str(v)), room_id, wall, construction=str(v)),
                "Change wall assembly",
                kinds,
            ),
            Field_(
                f"{wall_id}.other",
                "Other side",
                "text",
                override.other_side if override else "auto",
                lambda job, v: _override(job, room_id, wall, other_side=str(v)),
                "Change other side",
                (
                    ("auto", f"Plan: {main.other}"),
                    ("outdoors", "Outdoors"),
                    ("garage", "Garage"),
                    ("heated", "Heated room"),
                    ("attic", "Attic, knee wall"),
                    ("party", "Neighbour's house"),
                ),
            ),
        ),
    )
    if view.r.geometry.below_m[i] > 0 or (override is not None and override.grade_m is not None):
        ground = override.grade_m if override is not None and override.grade_m is not None else g.below_m[i]
        grade = Field_(
            f"{wall_id}.grade",
            "Ground over its floor",
            "feet",
            ground,
            lambda job, v: _override(job, room_id, wall, grade_m=float(v)),
            "Set the ground at the wall",
        )
        fields = Fields(fields.title, (*fields.fields, grade))
    sections: list[Section] = [fields]
    if construction:
        sections.append(
            Picture("Assembly", "outside to inside", 106, lambda p, r: draw_layers(p, r, view, construction))
        )
        difference = (
            c.heating_difference_k
            if main.other != "garage"
            else c.indoor_heating.temperature_c - view.r.factors.spaces.winter(main.neighbour)
        )
        mine = [s for s in view.r.factors.surfaces if s.part >= 0 and g.walls[s.part] in outside]
        plain = len(mine) <= 1 and main.other != "ground"
        sections.append(Arith(explain_u(construction, (net, difference) if plain and outside else None)))
        if not plain:
            rows = tuple(
                ListRow(
                    f"{g.walls[s.part].other.capitalize()}, {view.text('area', s.area_m2, 0)}",
                    view.num("power", s.heating_w),
                    view.unit("power"),
                    second=f"U {view.num('u_factor', s.u_w_m2k)}, {view.text('difference', s.heat_k, 0)} colder",
                )
                for s in mine
            )
            sections.append(List_("Loses at design, by what lies beyond", "", rows))
        note = "assumed" if construction.assumed else ""
        row = ListRow(construction.name, "", note, key=("construction", construction.id))
        sections.append(List_("Open it to change its layers", "", (row,)))
    less = (
        f"{view.num('area', gross, 0)} less {view.num('area', gross - net, 0)} of openings, {' and '.join(tags)}"
        if tags and gross - net > 0.01
        else f"{view.text('feet', wall_length_m(room.outline_m, wall))} long"
    )
    return Card(
        f"Wall · {view.storey_name(room.storey)} · {room.name}",
        f"{_side(view, room.outline_m, wall)} wall",
        "good",
        main.other.capitalize(),
        ((view.num("area", net, 0), f"{view.unit('area')} net", "ink"),),
        less,
        (
            (view.num("u_factor", u), "U", "ink"),
            (
                ("R-" if view.units == "ip" else "R ")
                + view.num("r_value", 1 / u if u else None, 1 if view.units == "ip" else 2),
                "",
                "ink",
            ),
        ),
        tuple(sections),
    )


SKY_FIELDS = ("size", "width", "height", "glazing", "summer", "winter", "blinds")


def opening_card(view: View, opening_id: str) -> Card:
    job = view.job
    k = next((n for n, o in enumerate(job.openings) if o.id == opening_id), None)
    if k is None:
        return room_card(view, room_index(view))
    o = job.openings[k]
    room = next(r for r in job.rooms if r.id == o.room)
    window = o.kind in ("window", "skylight")
    make = (
        Field_(
            f"{o.id}.glazing",
            "Glazing",
            "text",
            o.glazing or "",
            lambda job, v: replace(with_glazing(job, str(v)), "openings", o.id, glazing=str(v)),
            "Change glazing",
            glazing_choices(job),
        )
        if window
        else Field_(
            f"{o.id}.door",
            "Door",
            "text",
            o.construction or job.door_construction or "",
            lambda job, v: replace(with_construction(job, str(v)), "openings", o.id, construction=str(v)),
            "Change door",
            choices_of(job, ("door",)),
        )
    )
    listed = next((x.key for x in SIZES[o.kind] if _same_size(x, o)), "")
    sizes = tuple((x.key, _size_name(view, x.width_m, x.height_m)) for x in SIZES[o.kind])
    fields = [
        Field_(
            f"{o.id}.size",
            "Usual sizes",
            "text",
            listed,
            lambda job, v: set_size(job, o.id, str(v)),
            f"Change size of {o.tag}",
            sizes if listed else (("", "its own size"), *sizes),
        ),
        Field_(
            f"{o.id}.width",
            "Width",
            "feet",
            o.width_m,
            lambda job, v: set_width(job, o.id, float(v)),
            f"Change width of {o.tag}",
        ),
        Field_(
            f"{o.id}.height",
            "Height",
            "feet",
            o.height_m,
            set_in("openings", o.id, "height_m"),
            f"Change height of {o.tag}",
        ),
        Field_(
            f"{o.id}.offset",
            "From the left corner" if _level(room, o.wall) else "From the upper corner",
            "feet",
            shown_offset(job, o),
            lambda job, v: set_shown_offset(job, o.id, float(v)),
            f"Move {o.tag}",
        ),
        Field_(
            f"{o.id}.sill", "Sill", "feet", o.sill_m, set_in("openings", o.id, "sill_m"), f"Change sill of {o.tag}"
        ),
    ]
    if not o.inside:
        fields.append(make)
    if window:
        fields += [
            Field_(
                f"{o.id}.overhang",
                "Overhang",
                "feet",
                o.overhang_m,
                set_in("openings", o.id, "overhang_m"),
                f"Change overhang of {o.tag}",
            ),
            Field_(
                f"{o.id}.gap",
                "Overhang over the head",
                "feet",
                o.overhang_gap_m,
                set_in("openings", o.id, "overhang_gap_m"),
                f"Change overhang of {o.tag}",
            ),
            Field_(
                f"{o.id}.summer",
                "Summer sun past trees",
                "percent",
                o.sun_summer,
                set_in("openings", o.id, "sun_summer"),
                f"Change shade of {o.tag}",
            ),
            Field_(
                f"{o.id}.winter",
                "Winter sun past trees",
                "percent",
                o.sun_winter,
                set_in("openings", o.id, "sun_winter"),
                f"Change shade of {o.tag}",
            ),
            Field_(
                f"{o.id}.blinds",
                "Blinds let in",
                "percent",
                o.blinds,
                set_in("openings", o.id, "blinds"),
                f"Change blinds of {o.tag}",
            ),
        ]
    gain = float(view.r.factors.glass.sensible_w[k])
    u = float(view.r.factors.glass.u[k])
    ua = u * o.width_m * o.height_m
    rows = (
        ListRow("Cooling load", view.num("power", gain), view.unit("power")),
        ListRow(
            "Heat lost at design", view.num("power", ua * view.r.conditions.heating_difference_k), view.unit("power")
        ),
        ListRow(
            "Sun on it at its peak",
            view.num("irradiance", float(view.r.factors.glass.pxi[k])),
            view.unit("irradiance"),
        ),
    )
    face = compass(wall_facing_deg(room.outline_m, o.wall, job.site.north_deg))
    looks = f"faces {face}" if not o.inside else ""
    if o.kind == "skylight":
        facing, tilt = sky_plane(room, o)
        looks = f"{tilt:.0f}° steep" + (f", faces {compass(facing - job.site.north_deg)}" if tilt > 3 else "")
        fields = [f for f in fields if f.key.rpartition(".")[2] in SKY_FIELDS]
        if room.slope is None:
            fields.append(Field_(f"{o.id}.tilt", "Tilt", "angle", o.tilt_deg, set_in("openings", o.id, "tilt_deg")))
    return Card(
        f"{o.kind.capitalize()} · {view.storey_name(room.storey)} · {room.name}",
        f"{o.kind.capitalize()} {o.tag}",
        room_mark(view, room.id, 1),
        looks,
        ((view.num("area", o.width_m * o.height_m, 1), view.unit("area"), "ink"),),
        f"{view.text('feet', o.width_m)} × {view.text('feet', o.height_m)}",
        ((view.num("u_factor", u, 2), "U", "ink"),) if not o.inside else (),
        (
            Fields("Change it", tuple(fields)),
            *((List_("What it does", "", rows if window else rows[:2]),) if not o.inside else ()),
        ),
    )


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

    def put(field: str) -> Callable[[Job, float | str], Job]:
        return set_in("underlays", u.id, field)

    width, height = u.width_px * u.m_per_px, u.height_px * u.m_per_px
    fields = [
        Field_(f"{u.id}.name", "Name", "text", u.name, put("name"), "Rename the picture", width=2),
        Field_(f"{u.id}.opacity", "Strength", "percent", u.opacity, put("opacity"), "Change the picture's strength"),
        Field_(f"{u.id}.turn", "Turned by", "angle", u.turn_deg, put("turn_deg"), "Turn the picture"),
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
            Field_(f"{s.id}.name", "Name", "text", s.name, set_in("spaces", s.id, "name"), "Rename space"),
            Field_(
                f"{s.id}.kind",
                "Kind",
                "text",
                s.kind,
                set_in("spaces", s.id, "kind"),
                "Change kind of space",
                (("garage", "Garage"), ("porch", "Porch")),
            ),
            Field_(
                f"{s.id}.u", "U of its shell", "u_factor", s.u_shell_w_m2k, set_in("spaces", s.id, "u_shell_w_m2k")
            ),
            Field_(
                f"{s.id}.air",
                "Air changes",
                "per_hour",
                s.air_changes_h,
                set_in("spaces", s.id, "air_changes_h"),
                "Change air of the space",
            ),
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
