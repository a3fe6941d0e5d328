"""Station 1, House: rooms, walls, openings and the shell."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.paint import wrap
from murvan.app.stations.base import (
    Arith,
    Card,
    Cell,
    Column,
    Field_,
    Fields,
    Headline,
    Ledger,
    Legend,
    Lens,
    List_,
    ListRow,
    Picture,
    Row,
    Section,
    Station,
    Strip,
    View,
    room_index,
)
from murvan.app.stations.common import on_storey, other_rows, room_mark, room_rows, set_in, total_of
from murvan.app.theme import Theme
from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.drawing.openings import SIZES, Size, set_offset, set_size, set_width
from murvan.design.drawing.rooms import rename_room
from murvan.design.geometry import WallPart, compass, wall_facing_deg, wall_length_m
from murvan.design.loads import COLUMN, COMPONENTS
from murvan.design.surfaces import assembly_films, layer_r
from murvan.model import Construction, Job, Opening, WallOverride, replace
from murvan.model.edit import changed
from murvan.model.shape import set_wall_length

USES = ("living", "dining", "kitchen", "bedroom", "bath", "powder", "hall", "landing", "study", "utility", "other")
SHELL = (
    ("Air leakage", ("leakage",), "load1"),
    ("Walls and doors", ("walls", "doors", "garage"), "load2"),
    ("Glass", tuple(c for c in COMPONENTS if c.startswith("glass")), "load3"),
    ("Floor", ("floor",), "inner"),
    ("Roof", ("ceiling",), "cooling"),
    ("Fresh", ("fresh_air",), "ink2"),
)
LOOKS = {
    "siding": "#8FA3AB",
    "wood": "#C9A15E",
    "batt": "#F0D778",
    "gypsum": "#DDE1DF",
    "gap": "#FFFFFF",
    "concrete": "#A8AEB0",
    "foam": "#F2C6C0",
    "blown": "#F3E3A6",
    "masonry": "#B5694C",
}


class House(Station):
    number, name = 1, "House"
    lenses = ("Rooms", "Shell", "Heights")

    def missing(self, view: View) -> str:
        return ""

    def headline(self, view: View) -> Headline:
        if not view.job.rooms:
            return Headline("none", "–", "", "no rooms yet")
        n, s = len(view.job.rooms), len({r.storey for r in view.job.rooms})
        return Headline(
            self.mark(view),
            view.num("area", view.r.geometry.total_area_m2, 0),
            view.unit("area"),
            f"{n} room{'s' if n != 1 else ''}, {s} storey{'s' if s != 1 else ''}",
        )

    def lens(self, view: View) -> Lens:
        g = view.r.geometry
        storeys = {
            s.id: view.num(
                "area", sum(g.area_m2[i] for i, r in enumerate(view.job.rooms) if r.storey == s.id) or None, 0
            )
            for s in view.job.storeys
        }
        out = Lens(
            self.lenses[self.lens_index],
            dimensions=True,
            tags=True,
            garage_walls=True,
            storey_figures=storeys,
            storey_unit=f"{view.unit('area')} heated",
        )
        out.legend_title = "Walls"
        out.legend = (
            Legend("wall", "wall", "outside"),
            Legend("wall", "inner", "inside"),
            Legend("wall", "garage", "to garage"),
            Legend("wall", "glass", "glass"),
            Legend("wall", "select", "selected"),
        )
        for i, r in on_storey(view):
            if self.lens_index == 0:
                pts = r.outline_m
                w, d = (
                    max(x for x, _ in pts) - min(x for x, _ in pts),
                    max(y for _, y in pts) - min(y for _, y in pts),
                )
                box = abs(w * d - g.area_m2[i]) < 0.05
                third = (
                    f"{view.num('length', w, 0 if view.units == 'ip' else 1)} × {view.num('length', d, 0 if view.units == 'ip' else 1)} {view.unit('length')}"
                    if box
                    else view.unit("area")
                )
                out.room_text[r.id] = [
                    (r.name, "", 13, 600, ""),
                    (view.num("area", g.area_m2[i], 0), "", 26, 700, ""),
                    (third, "", 12, 500, ""),
                ]
            elif self.lens_index == 1:
                ua = view.r.loads.heating_parts[i, :].sum() / view.r.conditions.heating_difference_k
                out.room_text[r.id] = [
                    (r.name, "", 13, 600, ""),
                    (view.num("ua", float(ua), 0), "", 26, 700, ""),
                    (view.unit("ua"), "", 12, 500, ""),
                ]
            else:
                out.room_text[r.id] = [
                    (r.name, "", 13, 600, ""),
                    (view.num("feet", g.height_m[i]), "", 22, 700, ""),
                    ("ceiling", "", 12, 500, ""),
                ]
        return out

    def strip(self, view: View) -> Strip:
        if not view.job.rooms:
            return Strip("Shell, loss per degree", "–", ("no rooms yet",), lambda p, r: None)
        ld, c = view.r.loads, view.r.conditions
        parts = [
            (name, float(sum(ld.heating_parts[:, COLUMN[k]].sum() for k in keys)) / c.heating_difference_k, role)
            for name, keys, role in SHELL
        ]
        total = sum(v for _, v, _ in parts)
        notes = (
            f"{view.job.leakage.ach50:g} changes at 50 Pa",
            f"{view.num('area', sum(w.net_area_m2 for w in view.r.geometry.walls if w.other != 'heated'), 0)} {view.unit('area')} of wall",
            f"{view.num('area', sum(f.area_m2 for f in view.r.geometry.openings if view.job.openings[f.index].kind == 'window'), 0)} {view.unit('area')}",
            f"{view.num('length', sum(view.r.geometry.edge_m), 0)} {view.unit('length')} edge",
            "",
            "",
        )

        def draw(p: QPainter, r: QRectF) -> None:
            _stacked(p, r, view, parts, notes, "ua")

        return Strip(
            "Shell, loss per degree",
            view.num("ua", total, 0),
            (
                view.unit("ua"),
                f"{view.text('difference', c.heating_difference_k, 0)}: {view.text('kpower', total * c.heating_difference_k)}",
            ),
            draw,
        )

    def ledger(self, view: View) -> Ledger:
        g = view.r.geometry
        glass = [0.0] * len(view.job.rooms)
        faces: list[set[str]] = [set() for _ in view.job.rooms]
        for f in g.openings:
            if view.job.openings[f.index].kind == "window":
                glass[f.room] += f.area_m2
        for w in g.walls:
            if w.other == "outdoors":
                faces[w.room].add(w.compass[0])

        def below(i: int) -> str:
            return (
                "slab"
                if g.floor_slab_m2[i]
                else "crawl space"
                if g.floor_crawl_m2[i]
                else "outdoors"
                if g.floor_outdoors_m2[i]
                else "heated"
            )

        def cells(i: int, r: object) -> list[Cell]:
            share = glass[i] / g.area_m2[i]
            return [
                Cell(view.job.rooms[i].name, True),
                Cell(view.num("area", g.area_m2[i], 0), True),
                Cell(view.num("length", g.height_m[i])),
                Cell(view.num("volume", g.volume_m3[i], 0)),
                Cell(view.num("area", g.exposed_wall_m2[i], 0)),
                Cell(view.num("area", glass[i], 0)),
                Cell(bar=share / 0.4, bar_color="cooling"),
                Cell(f"{share:.0%}".replace("%", " %")),
                Cell(chips=tuple((d, d in faces[i]) for d in "NESW")),
                Cell(below(i)),
                Cell(mark=room_mark(view, view.job.rooms[i].id, 1)),
            ]

        def other(idx: list[int]) -> list[Cell]:
            a = total_of(g.area_m2, idx)
            return [
                Cell(view.num("area", a, 0)),
                Cell(),
                Cell(view.num("volume", total_of(g.volume_m3, idx), 0)),
                Cell(view.num("area", total_of(g.exposed_wall_m2, idx), 0)),
                Cell(view.num("area", total_of(glass, idx), 0)),
                Cell(),
                Cell(f"{total_of(glass, idx) / a:.0%}".replace("%", " %") if a else ""),
                Cell(),
                Cell(),
                Cell("▸"),
            ]

        total = Row(
            None,
            (
                Cell("House"),
                Cell(view.num("area", g.total_area_m2 or None, 0)),
                Cell(),
                Cell(view.num("volume", g.total_volume_m3 or None, 0)),
                Cell(view.num("area", sum(g.exposed_wall_m2) or None, 0)),
                Cell(view.num("area", sum(glass) or None, 0)),
                Cell(),
                Cell(f"{sum(glass) / g.total_area_m2:.0%}".replace("%", " %") if g.total_area_m2 else "–"),
                Cell(),
                Cell(),
                Cell(),
            ),
        )
        columns = (
            Column("Room", "", 120, "l"),
            Column("Floor", view.unit("area"), 74),
            Column("Height", view.unit("length"), 80),
            Column("Volume", view.unit("volume"), 92),
            Column("Outside wall", view.unit("area"), 124),
            Column("Glass", view.unit("area"), 80),
            Column("Glass of floor", "", 104, "l"),
            Column("", "", 42),
            Column("Faces", "", 92, "l"),
            Column("Below", "", 90, "l"),
            Column("", "", 30),
        )
        return Ledger(columns, room_rows(view, cells), other_rows(view, other), total)

    def card(self, view: View) -> Card:
        s = view.selection
        if s and s.kind == "wall":
            return self._wall(view, s.id)
        if s and s.kind == "opening":
            return self._opening(view, s.id)
        return self._room(view, room_index(view))

    def _room(self, view: View, i: int) -> Card:
        g, job = view.r.geometry, view.job
        if not job.rooms:
            return Card(
                "House",
                "No rooms yet",
                hero_note="R and a drag draw a room; P goes corner by corner. Lengths can be typed while you drag.",
            )
        r = job.rooms[i]
        ua = float(view.r.loads.heating_parts[i].sum()) / view.r.conditions.heating_difference_k
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
                        f"{'Window' if o.kind == 'window' else 'Door'} {o.tag}",
                        view.num("area", o.width_m * o.height_m, 1),
                        view.unit("area"),
                        key=("opening", o.id),
                    )
                )
        zones = (("", "none"), *((z.id, f"{z.id} {z.name}") for z in job.zones))
        fields = Fields(
            "Change it",
            (
                Field_(
                    f"{r.id}.name",
                    "Name",
                    "text",
                    r.name,
                    lambda job, v: rename_room(job, r.id, str(v)),
                    "Rename room",
                ),
                Field_(
                    f"{r.id}.use",
                    "Use",
                    "text",
                    r.use,
                    set_in("rooms", r.id, "use"),
                    "Change use",
                    tuple((u, u.capitalize()) for u in USES),
                ),
                Field_(
                    f"{r.id}.height",
                    "Ceiling height",
                    "feet",
                    g.height_m[i],
                    set_in("rooms", r.id, "height_m"),
                    "Change ceiling height",
                ),
                Field_(
                    f"{r.id}.zone",
                    "Zone",
                    "text",
                    r.zone or "",
                    lambda job, v: replace(job, "rooms", r.id, zone=v or None),
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
            f"Room · {view.storey_name(r.storey)} · zone {r.zone or '–'}",
            r.name,
            room_mark(view, r.id, 1),
            "",
            ((view.num("area", g.area_m2[i], 0), view.unit("area"), "ink"),),
            f"{view.text('volume', g.volume_m3[i], 0)}, ceiling {view.text('feet', g.height_m[i])}",
            (
                (view.num("ua", ua, 0), view.unit("ua"), "ink"),
                (view.num("area", g.exposed_wall_m2[i], 0), f"{view.unit('area')} outside", "ink"),
            ),
            (fields, List_("Outside walls and openings", "", tuple(rows[:8])), Arith(arith)),
        )

    def _wall(self, view: View, wall_id: str) -> Card:
        job, g, c = view.job, view.r.geometry, view.r.conditions
        room_id, _, n = wall_id.rpartition("/")
        wall = int(n)
        i = next((k for k, r in enumerate(job.rooms) if r.id == room_id), None)
        if i is None or wall >= len(job.rooms[i].outline_m):
            return self._room(view, room_index(view))
        room = job.rooms[i]
        parts = [w for w in g.walls if w.room == i and w.wall == wall]
        outside = [w for w in parts if w.other != "heated"]
        main = max(outside or parts, key=lambda w: w.length_m)
        net, gross = sum(w.net_area_m2 for w in outside or parts), sum(w.gross_area_m2 for w in outside or parts)
        construction = next((x for x in job.constructions if x.id == main.construction), None)
        u = view.r.loads.assemblies[construction.id].u_w_m2k if construction else 0.0
        tags = [o.tag for o in job.openings if o.room == room_id and o.wall == wall and not o.inside]
        kinds = tuple((x.id, x.name) for x in job.constructions if x.kind in ("wall", "partition"))
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
                    "Make-up",
                    "text",
                    main.construction or "",
                    lambda job, v: _override(job, room_id, wall, construction=str(v)),
                    "Change wall make-up",
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
                    ),
                ),
            ),
        )
        sections: list[Section] = [fields]
        if construction:
            sections.append(
                Picture("Make-up", "outside to inside", 106, lambda p, r: _layers(p, r, view, construction))
            )
            sections.append(
                Arith(
                    _explain_u(
                        view,
                        construction,
                        net,
                        u,
                        c.heating_difference_k
                        if main.other == "outdoors"
                        else c.indoor_heating.temperature_c - view.r.loads.garage_winter_c,
                    )
                )
            )
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

    def _opening(self, view: View, opening_id: str) -> Card:
        job = view.job
        k = next((n for n, o in enumerate(job.openings) if o.id == opening_id), None)
        if k is None:
            return self._room(view, room_index(view))
        o = job.openings[k]
        room = next(r for r in job.rooms if r.id == o.room)
        window = o.kind == "window"
        make = (
            Field_(
                f"{o.id}.glazing",
                "Glazing",
                "text",
                o.glazing or "",
                set_in("openings", o.id, "glazing"),
                "Change glazing",
                tuple((x.id, x.name) for x in job.glazings),
            )
            if window
            else Field_(
                f"{o.id}.door",
                "Door",
                "text",
                o.construction or job.door_construction or "",
                set_in("openings", o.id, "construction"),
                "Change door",
                tuple((x.id, x.name) for x in job.constructions if x.kind == "door"),
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
                "From the corner",
                "feet",
                o.offset_m,
                lambda job, v: set_offset(job, o.id, float(v)),
                f"Move {o.tag}",
            ),
            Field_(
                f"{o.id}.sill",
                "Sill",
                "feet",
                o.sill_m,
                set_in("openings", o.id, "sill_m"),
                f"Change sill of {o.tag}",
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
                    f"{o.id}.blinds",
                    "Blinds let in",
                    "percent",
                    o.blinds,
                    set_in("openings", o.id, "blinds"),
                    f"Change blinds of {o.tag}",
                ),
            ]
        gain = float(view.r.loads.glass.sensible_w[k])
        u = float(view.r.loads.glass.u[k])
        ua = u * o.width_m * o.height_m
        rows = (
            ListRow("Cooling load", view.num("power", gain), view.unit("power")),
            ListRow(
                "Heat lost at design",
                view.num("power", ua * view.r.conditions.heating_difference_k),
                view.unit("power"),
            ),
            ListRow(
                "Sun on it at its peak",
                view.num("irradiance", float(view.r.loads.glass.pxi[k])),
                view.unit("irradiance"),
            ),
        )
        face = compass(wall_facing_deg(room.outline_m, o.wall, job.site.north_deg))
        return Card(
            f"{o.kind.capitalize()} · {view.storey_name(room.storey)} · {room.name}",
            f"{o.kind.capitalize()} {o.tag}",
            room_mark(view, room.id, 1),
            f"faces {face}" if not o.inside else "",
            ((view.num("area", o.width_m * o.height_m, 1), view.unit("area"), "ink"),),
            f"{view.text('feet', o.width_m)} × {view.text('feet', o.height_m)}",
            ((view.num("u_factor", u, 2), "U", "ink"),) if not o.inside else (),
            (
                Fields("Change it", tuple(fields)),
                *((List_("What it does", "", rows if window else rows[:2]),) if not o.inside else ()),
            ),
        )


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


def _override(job: Job, room: str, wall: int, **changes: str) -> Job:
    """Give one wall its own make-up or other side."""
    rest = tuple(o for o in job.wall_overrides if (o.room, o.wall) != (room, wall))
    old = next(
        (o for o in job.wall_overrides if (o.room, o.wall) == (room, wall)), WallOverride(room=room, wall=wall)
    )
    return changed(job, job.name, wall_overrides=(*rest, changed(old, **changes)))


def _explain_u(view: View, c: Construction, area: float, u: float, difference: float) -> Arithmetic:
    a = view.r.loads.assemblies[c.id]
    q = Quantity
    body = " + ".join(f"{{{k}}}" for k in range(len(c.layers) + 1))
    lines = [
        Line(
            "", body, (q("r_value", a.films), *(q("r_value", layer_r(x)) for x in c.layers)), q("r_value", a.r_cavity)
        )
    ]
    if c.framing_fraction:
        lines.append(
            Line(
                "at the wood",
                f"{c.framing_fraction:.0%} of the face".replace("%", " %"),
                (),
                q("r_value", a.r_framing),
            )
        )
    lines.append(Line("U, both side by side", "", (), q("u_factor", u), True))
    lines.append(
        Line(
            "",
            "{0} × {1} × {2}",
            (q("area", area), q("u_factor", u), q("difference", difference)),
            q("power", area * u * difference),
        )
    )
    return Arithmetic(
        "U-factor",
        tuple(lines),
        (
            "Films and layers in series, stud and bay in parallel; ASHRAE Fundamentals ch. 27",
            "Layer values: make-up table, from memory",
        ),
    )


def _layers(p: QPainter, r: QRectF, view: View, c: Construction) -> None:
    """The make-up in section, widths by thickness."""
    from PyQt6.QtGui import QColor

    t = view.theme
    thick = [max(x.thickness_m, 0.008) ** 0.62 for x in c.layers]
    left, width = r.left() + 34, r.width() - 68
    x = left
    for layer, w in zip(c.layers, thick, strict=True):
        box = QRectF(x, r.top(), width * w / sum(thick), 46)
        p.setPen(QPen(t("ink"), 1.3))
        p.setBrush(QColor(LOOKS[layer.look]))
        p.drawRect(box)
        if layer.look in ("batt", "blown"):
            p.setPen(QPen(QColor("#B08E2A"), 1.2))
            k = box.left() + 10
            while k < box.right() - 6:
                p.drawLine(int(k), int(box.top() + 4), int(k + 5), int(box.bottom() - 4))
                k += 14
        if layer.framing_r_m2k_w is not None and box.width() > 34:
            stud = QRectF(box.center().x() - 13, box.top(), 26, 46)
            p.setPen(QPen(t("ink"), 1.1))
            p.setBrush(QColor("#A8743A"))
            p.drawRect(stud)
            p.drawLine(stud.topLeft(), stud.bottomRight())
            p.drawLine(stud.topRight(), stud.bottomLeft())
        label = view.num("r_value", layer_r(layer))
        paint.text(p, box.center().x(), r.top() + 62, label, 12, 600, t("ink"), "c")
        x += box.width()
    inside = assembly_films(c)
    for x_, align, word, value in ((r.left(), "l", "out", inside[0]), (r.right(), "r", "in", inside[1])):
        paint.text(p, x_, r.top() + 16, word, 12, 500, t("ink2"), align)
        paint.text(p, x_, r.top() + 32, view.num("r_value", value), 12, 600, t("ink"), align)
    for k, line in enumerate(wrap(", ".join(x.name for x in c.layers), 12, r.width())[:2]):
        paint.text(p, r.left(), r.top() + 80 + 15 * k, line, 12, 500, t("ink2"), width=r.width())
    p.setBrush(Qt.BrushStyle.NoBrush)


def _stacked(
    p: QPainter, r: QRectF, view: View, parts: list[tuple[str, float, str]], notes: tuple[str, ...], kind: str
) -> None:
    """One stacked bar with a name above and a note below each part."""
    t: Theme = view.theme
    total = sum(max(v, 0) for _, v, _ in parts) or 1.0
    x = r.left()
    for (name, value, role), text_ in zip(parts, notes, strict=True):
        w = r.width() * max(value, 0) / total
        box = QRectF(x, 32, max(w - 1, 0), 28)
        fill = t(role)
        p.fillRect(box, fill)
        paint.text(
            p, x, 24, name, 12.5, 600, t("ink"), width=max(w - 4, paint.text_width(name, 12.5, 600) if w > 26 else 0)
        )
        if w > 26:
            paint.text(p, x + 7, 51, view.num(kind, value, 0), 13, 700, t.on(fill))
        if w > paint.text_width(text_, 12, 500) + 4:
            paint.text(p, x, 77, text_, 12, 500, t("ink2"))
        x += w
