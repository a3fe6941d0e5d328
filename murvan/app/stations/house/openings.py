"""The cards of windows, doors and skylights."""

from __future__ import annotations

from collections.abc import Callable

from murvan.app.stations.base import Card, Field_, Fields, List_, ListRow, View
from murvan.app.stations.common import room_mark
from murvan.app.stations.fields import of
from murvan.app.stations.house.walls import level
from murvan.design.drawing import SIZES, Size, set_shown_offset, set_size, shown_offset
from murvan.design.house import (
    choices_of,
    compass,
    glazing_choices,
    sky_plane,
    wall_facing_deg,
    with_construction,
    with_glazing,
)
from murvan.model import Job, Opening, Room, replace

SKY_FIELDS = ("size", "width", "height", "glazing", "summer", "blinds")
GLAZED_FIELDS = ("overhang_m", "overhang_gap_m", "sun_summer", "blinds")


def opening_card(view: View, opening_id: str) -> Card | None:
    job = view.job
    k = next((n for n, o in enumerate(job.openings) if o.id == opening_id), None)
    if k is None:
        return None
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
        "From the left corner" if level(room, o.wall) else "From the upper corner",
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


def _same_size(size: Size, o: Opening) -> bool:
    return abs(size.width_m - o.width_m) < 1e-3 and abs(size.height_m - o.height_m) < 1e-3


def _size_name(view: View, width: float, height: float) -> str:
    if view.units == "ip":
        return f"{view.num('feet', width)} × {view.num('feet', height)}"
    return f"{width:.2f} × {height:.2f} m"


CARDS: dict[str, Callable[[View, str], Card | None]] = {"opening": opening_card}
