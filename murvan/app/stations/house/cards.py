"""The cards of the House station: a room, a wall, an opening, a picture under the plan."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable

import numpy as np

from murvan.app import pictures
from murvan.app.stations.base import Arith, Button, Buttons, Card, Field_, Fields, List_, ListRow, View
from murvan.app.stations.common import per_kelvin, room_mark, zone_words
from murvan.app.stations.fields import of, people_field
from murvan.app.stations.house.walls import side
from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.drawing import set_slope
from murvan.design.explain import MONTH_WORDS
from murvan.design.house import WallPart
from murvan.model import Job, Room, Underlay, replace
from murvan.model.design_edit import put_in_zone, zone_of
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
            f"{side(view, r.outline_m, wall)} wall",
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


def underlay_card(view: View, underlay_id: str) -> Card | None:
    """The picture under the plan: its scale, strength, page."""
    job = view.job
    u = next((x for x in job.underlays if x.id == underlay_id), None)
    if u is None:
        return None

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


def space_card(view: View, space_id: str) -> Card | None:
    """A garage or porch: what it is, how warm it gets."""
    s = next((x for x in view.job.spaces if x.id == space_id), None)
    if s is None:
        return None
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


CARDS: dict[str, Callable[[View, str], Card | None]] = {"underlay": underlay_card, "space": space_card}
