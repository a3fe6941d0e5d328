"""The cards of what stands or lies about the house: areas, furniture, and what the survey found."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from murvan.app import paint, pictures
from murvan.app.stations.base import Button, Buttons, Card, Field_, Fields, List_, ListRow, Picture, View
from murvan.app.stations.field_choices import CONDITIONS
from murvan.app.stations.field_edits import set_in
from murvan.app.stations.fields import of
from murvan.design.drawing import FURNITURE_M, obstacle_sides_m, set_obstacle_side, standing_area_m2
from murvan.kinds.obstacles import OBSTACLES
from murvan.model import Job, replace
from murvan.model.edit import changed
from murvan.model.job import Existing, MechanicalPlace, Slope, signed_area

STAND_M = 1.68
"""Height to work in, about 5 ft 6 in; common practice, the local code goes before it."""
BEYOND = {
    "floor": (
        ("outdoors", "Outdoors"),
        ("garage", "Garage"),
        ("crawl", "Crawl space"),
        ("basement", "Unheated basement"),
        ("slab", "Slab"),
    ),
    "ceiling": (("attic", "Attic"), ("roof", "Roof"), ("heated", "Heated room")),
}
CAUTIONS = {
    "panel": "Working space before a panel is set by the electrical code; the local code goes before this plan.",
    "flue": "Clearance to a flue is on its label and in the local code; keep what burns away from it.",
}


def _find(view: View, collection: str, item: str) -> Any:
    return next((x for x in getattr(view.job, collection) if x.id == item), None)


def _remove(view: View) -> Buttons:
    return Buttons((Button("thing.remove", "Take it away", "Del", lambda: view.act.command("house.remove")),))


def _area_card(
    view: View, x: Any, kicker: str, fields: list[Field_], note: str, rows: tuple[ListRow, ...] = ()
) -> Card:
    sections: list[Any] = [Fields("Change it", tuple(fields))]
    if rows:
        sections.append(List_("Room to work", "", rows))
    return Card(
        f"{kicker} · {view.storey_name(x.storey)}",
        x.name,
        None,
        "",
        ((view.num("area", abs(signed_area(x.outline_m)), 0), view.unit("area"), "ink"),),
        note,
        (),
        (*sections, _remove(view)),
    )


def patch_card(view: View, item: str) -> Card:
    """A part of a storey with something else under or over it."""
    x = _find(view, "patches", item)
    if x is None:
        return Card("House", "Nothing here")

    def face(job: Job, value: float | str) -> Job:
        first = BEYOND[str(value)][0][0]
        return replace(job, "patches", x.id, face=value, beyond=first)

    fields = [
        of("patches", x, "name"),
        Field_(
            f"{x.id}.face",
            "Concerns",
            "text",
            x.face,
            face,
            "Change part",
            (("floor", "the floor"), ("ceiling", "the ceiling")),
        ),
        Field_(
            f"{x.id}.beyond",
            "Under it" if x.face == "floor" else "Over it",
            "text",
            x.beyond,
            set_in("patches", x.id, "beyond"),
            "Change part",
            BEYOND[x.face],
        ),
    ]
    return _area_card(view, x, "Part of the plan", fields, "counts where rooms lie in it")


def place_card(view: View, item: str) -> Card:
    """A place for equipment: clear height, under the slope too."""
    x: MechanicalPlace | None = _find(view, "places", item)
    if x is None:
        return Card("House", "Nothing here")
    fields = [
        of("places", x, "name"),
        of("places", x, "kind"),
        of("places", x, "clear_m"),
        Field_(
            f"{x.id}.slope",
            "Under a slope",
            "text",
            x.slope.low_side if x.slope else "",
            lambda job, v: replace(job, "places", x.id, slope=_slope(x, str(v))),
            "Change slope of the place",
            (("", "no"), ("start", "low left or top"), ("end", "low right or bottom"), ("both", "low both sides")),
        ),
    ]
    if x.slope is not None:
        fields += _slope_fields(x, x.slope)
    standing = standing_area_m2(x, STAND_M)
    rows = (
        ListRow("Highest", view.num("feet", x.clear_m), "" if view.units == "ip" else "m"),
        ListRow(f"Over {view.text('feet', STAND_M)} to stand", view.num("area", standing, 0), view.unit("area")),
    )
    return _area_card(view, x, "Place for equipment", fields, "drawn on the plan", rows)


def _slope_fields(x: MechanicalPlace, slope: Slope) -> list[Field_]:
    """The roof over a place: which way it rises, from what height, how steeply."""

    def field(name: str, key: str, label: str, kind: str, options: tuple[tuple[str, str], ...] = ()) -> Field_:
        return Field_(
            f"{x.id}.{key}",
            label,
            kind,
            getattr(slope, name),
            lambda job, v: replace(job, "places", x.id, slope=changed(slope, x.name, **{name: v})),
            "Change slope of the place",
            options,
        )

    return [
        field("rises", "rises", "Rises", "text", (("x", "across the plan"), ("y", "up and down it"))),
        field("low_m", "low", "At the low side", "feet"),
        field("pitch", "pitch", "Rise over run", "decimal"),
    ]


def _slope(x: MechanicalPlace, side: str) -> Slope | None:
    if not side:
        return None
    old = x.slope or Slope(low_m=0.5, high_m=max(x.clear_m, 0.6), pitch=0.5)
    return changed(old, x.name, low_side=side)


def keep_card(view: View, item: str) -> Card:
    """Floor that must stay free."""
    x = _find(view, "keep_clear", item)
    if x is None:
        return Card("House", "Nothing here")
    fields = [of("keep_clear", x, "name"), of("keep_clear", x, "reason")]
    if x.reason == "hatch":
        fields += [of("keep_clear", x, "open_wide_m"), of("keep_clear", x, "open_long_m")]
    return _area_card(view, x, "Keep clear", fields, CAUTIONS.get(x.reason, "nothing is put here"))


def obstacle_card(view: View, item: str) -> Card:
    """A beam, post, pipe or drain: what it is, its size, how high it hangs."""
    x = _find(view, "obstacles", item)
    if x is None:
        return Card("House", "Nothing here")
    wide, long = obstacle_sides_m(x)

    def side(key: str, label: str, value: float) -> Field_:
        put = lambda job, v: set_obstacle_side(job, x.id, key, float(v))  # noqa: E731
        return Field_(f"{x.id}.{key}", label, "size" if key == "wide" else "feet", value, put, f"Measure {x.name}")

    fields = (
        of("obstacles", x, "name"),
        of("obstacles", x, "kind"),
        side("wide", "Wide on the plan", wide),
        side("long", "Long", long),
        of("obstacles", x, "high_m"),
        of("obstacles", x, "low_m"),
    )
    return Card(
        f"{OBSTACLES[x.kind].name} · {view.storey_name(x.storey)}",
        x.name,
        None,
        "",
        (),
        "Ducts and units go round it. What carries the house is not cut, nor moved, without an engineer.",
        (),
        (Fields("Change it", fields), _remove(view)),
    )


def furniture_card(view: View, item: str) -> Card:
    """A bed or seat."""
    x = _find(view, "furniture", item)
    if x is None:
        return Card("House", "Nothing here")
    room = next((r.name for r in view.job.rooms if r.id == x.room), "")
    w, d = FURNITURE_M[x.kind]
    fields = (of("furniture", x, "kind"), of("furniture", x, "turn_deg"))
    return Card(
        f"Furniture · {room}",
        x.kind.replace("_", " ").capitalize(),
        None,
        "",
        (),
        f"{view.text('feet', w)} × {view.text('feet', d)}. No air blows on people here.",
        (),
        (Fields("Change it", fields), _remove(view)),
    )


BURNS = ("furnace", "boiler", "water_heater")
SIZED = ("filter", "duct", "register", "grille")


def _found_fields(x: Existing) -> Fields:
    names = ["name", "kind", "condition", "nameplate", "year"]
    if x.kind in SIZED:
        names += ["width_m", "height_m", "diameter_m" if x.kind == "duct" else "depth_m"]
    else:
        names += ["fuel", "output_w", "flow_m3_s"]
    return Fields("What is there", tuple(of("existing", x, name) for name in (*names, "note")))


def existing_card(view: View, item: str) -> Card:
    """A thing the survey found: nameplate, sizes, condition, photographs, notes."""
    x: Existing | None = _find(view, "existing", item)
    if x is None:
        return Card("House", "Nothing here")

    caution = (
        "Something that burns: have draught and carbon monoxide checked by a licensed person before the house is tightened."
        if x.kind in BURNS and x.fuel in ("gas", "oil", "propane", "wood")
        else ""
    )
    sections: list[Any] = [_found_fields(x)]
    if x.photos:
        sections.append(Picture("Photographs", f"{len(x.photos)}", 96, lambda p, r: _photos(p, r, view, x)))
    room = next((r.name for r in view.job.rooms if r.id == x.room), "outside the rooms")
    return Card(
        f"There already · {room}",
        x.name,
        {"good": "good", "worn": "look", "broken": "fails"}.get(x.condition),
        dict(CONDITIONS)[x.condition].lower(),
        (),
        caution or x.nameplate[:120],
        (),
        (
            *sections,
            Buttons(
                (
                    Button("existing.photo", "Add a photo", "", lambda: view.act.command("house.photo"), True),
                    Button("thing.remove", "Take it away", "", lambda: view.act.command("house.remove")),
                )
            ),
        ),
    )


def _photos(p: QPainter, r: QRectF, view: View, x: Existing) -> None:
    left = r.left()
    for name in x.photos[:4]:
        picture = pictures.pixmap(name, 1, False)
        box = QRectF(left, r.top(), 70, 70)
        if picture is None:
            p.setPen(view.theme("outline"))
            p.drawRect(box)
            paint.text(p, box.center().x(), box.center().y(), "missing", 11, 500, view.theme("ink2"), "c")
        else:
            k = min(70 / picture.width(), 70 / picture.height())
            p.drawPixmap(
                QRectF(left, r.top(), picture.width() * k, picture.height() * k), picture, QRectF(picture.rect())
            )
        left += 76


CARDS: dict[str, Callable[[View, str], Card]] = {
    "patch": patch_card,
    "place": place_card,
    "keep": keep_card,
    "obstacle": obstacle_card,
    "furniture": furniture_card,
    "existing": existing_card,
}
