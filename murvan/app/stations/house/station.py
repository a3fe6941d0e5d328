"""Station 1, House: rooms, walls, openings and the shell."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from murvan.app import paint
from murvan.app.commands import SURVEY_TOOLS
from murvan.app.plan import thing_layers
from murvan.app.plan.lens import Legend, Lens
from murvan.app.stations.base import Card, Cell, Headline, Ledger, Station, Strip, View, room_index
from murvan.app.stations.common import on_storey, per_kelvin, room_mark
from murvan.app.stations.house import cards, openings, shell, things, walls
from murvan.app.stations.house.cards import room_card
from murvan.app.stations.told import Rooms, Told, named, rooms_table, state
from murvan.app.theme import Theme
from murvan.design.house import ground_floor
from murvan.design.loads import COLUMN, COMPONENTS

SHELL = (
    ("Leakage", ("leakage",), "load1"),
    ("Walls and doors", ("walls", "doors", "garage"), "load2"),
    ("Glass", tuple(c for c in COMPONENTS if c.startswith("glass")), "load3"),
    ("Floor", ("floor",), "inner"),
    ("Roof", ("ceiling",), "cooling"),
    ("Fresh", ("fresh_air",), "ink2"),
)


CARDS: dict[str, Callable[[View, str], Card | None]] = {
    **cards.CARDS,
    **walls.CARDS,
    **openings.CARDS,
    **shell.CARDS,
    **things.CARDS,
}
UNDER_WORDS = {
    "slab": "slab",
    "crawl": "crawl",
    "basement": "basement",
    "outdoors": "outdoors",
    "garage": "garage",
    "below": "ground",
}
SURVEY_LEGEND = (
    Legend("hatch", "fresh", "for equipment"),
    Legend("hatch", "fails", "keep clear"),
    Legend("hatch", "sun", "else below"),
    Legend("fill", "ink3", "beam, pipe"),
    Legend("mark", "good", "in order"),
    Legend("mark", "look", "worn"),
    Legend("mark", "fails", "broken"),
)
OWN = {
    "underlay": "underlays",
    "space": "spaces",
    "patch": "patches",
    "place": "places",
    "keep": "keep_clear",
    "obstacle": "obstacles",
    "furniture": "furniture",
    "existing": "existing",
    "construction": "constructions",
    "storey-card": "storeys",
}
"""Things of the plan that belong to no room, and where they stand in the job."""


SURVEY_LENS = 3


class House(Station):
    number, name = 1, "House"
    lenses = ("Rooms", "Shell", "Heights", "Survey")
    tools = (
        ("tool.room", "room"),
        ("tool.polygon", "polygon"),
        ("tool.split", "wall"),
        ("tool.window", "window"),
        ("tool.door", "door"),
        ("tool.archway", "archway"),
        ("tool.skylight", "skylight"),
        ("tool.bump", "bump-out"),
        ("tool.join", "join"),
        ("tool.garage", "garage"),
        ("house.pace", "sheet"),
    )
    lens_tools = {
        SURVEY_LENS: (
            ("tool.furniture", "bed"),
            ("tool.place", "indoor-unit"),
            ("tool.keep", "hold-point"),
            ("tool.obstacle", "beam"),
            ("tool.existing", "tag"),
            ("tool.patch", "patch"),
            ("tool.scale", "plan-picture"),
            ("tool.underlay", "swap"),
        )
    }
    picks_designs = "always"

    def show_tool(self, tool: str) -> None:
        if tool in SURVEY_TOOLS:
            self.lens_index = SURVEY_LENS

    def reached(self, view: View) -> bool:
        return bool(view.job.rooms)

    def missing(self, view: View) -> str:
        return ""

    def knows(self, view: View, kind: str, item: str) -> bool:
        if kind == "house":
            return True
        if kind == "layer":
            kind, item = "construction", item.rpartition("/")[0]
        collection = OWN.get(kind)
        return collection is not None and any(x.id == item for x in getattr(view.job, collection))

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
            survey=self.lens_index == SURVEY_LENS,
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
        if out.survey:
            out.tags = False
            out.legend_title = "What is there"
            out.legend = SURVEY_LEGEND
        texts = (_size_text, _loss_text, _height_text, _name_text)[self.lens_index]
        for i, r in on_storey(view):
            out.room_text[r.id] = [(r.name, "", 13, 600, ""), *texts(view, i)]
        if texts is _height_text:
            out.overlay = (thing_layers.slopes,)
        return out

    def strip(self, view: View) -> Strip:
        if not view.job.rooms:
            return Strip("Shell, loss per degree", "–", ("no rooms yet",), lambda p, r: None)
        ld, c = view.r.loads, view.r.conditions
        if c.heating_difference_k <= 0.1:
            return Strip("Shell, loss per degree", "–", ("as warm outside as in",), lambda p, r: None)
        parts = [
            (name, float(sum(ld.heating_parts[:, COLUMN[k]].sum() for k in keys)) / c.heating_difference_k, role)
            for name, keys, role in SHELL
        ]
        total = sum(v for _, v, _ in parts)
        notes = (
            f"{view.job.leakage.ach50:g} ACH50",
            f"{view.num('area', sum(w.net_area_m2 for w in view.r.geometry.walls if w.other != 'heated'), 0)} {view.unit('area')} of wall",
            f"{view.num('area', sum(f.area_m2 for f in view.r.geometry.openings if view.job.openings[f.index].kind == 'window'), 0)} {view.unit('area')}",
            _floor_note(view),
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
        return rooms_table(view, _table(view), key=("house", "house"))

    def card(self, view: View) -> Card:
        s = view.selection
        found = CARDS[s.kind](view, s.id) if s and s.kind in CARDS else None
        return found or room_card(view, room_index(view))


TextLine = tuple[str, str, float, int, str]


def _size_text(view: View, i: int) -> list[TextLine]:
    """Area, and both sides where the room is a rectangle."""
    area, points = view.r.geometry.area_m2[i], view.job.rooms[i].outline_m
    w, d = (max(q[k] for q in points) - min(q[k] for q in points) for k in (0, 1))
    places = 0 if view.units == "ip" else 1
    sides = f"{view.num('length', w, places)} × {view.num('length', d, places)} {view.unit('length')}"
    third = sides if abs(w * d - area) < 0.05 else view.unit("area")
    return [(view.num("area", area, 0), "", 26, 700, ""), (third, "", 12, 500, "")]


def _loss_text(view: View, i: int) -> list[TextLine]:
    """Heat lost per degree."""
    ua = per_kelvin(float(view.r.loads.heating_parts[i, :].sum()), view.r.conditions.heating_difference_k)
    return [(view.num("ua", float(ua), 0), "", 26, 700, ""), (view.unit("ua"), "", 12, 500, "")]


def _height_text(view: View, i: int) -> list[TextLine]:
    """Ceiling height, from where to where under a slope."""
    slope = view.job.rooms[i].slope
    tall = view.num("feet", view.r.geometry.height_m[i] if slope is None else slope.high_m)
    below = "ceiling" if slope is None else f"from {view.num('feet', slope.low_m)}"
    return [(tall, "", 22, 700, ""), (below, "", 12, 500, "")]


def _name_text(view: View, i: int) -> list[TextLine]:
    """Nothing but the name: what is there needs the room."""
    return []


def _table(view: View) -> tuple[Told[Rooms], ...]:
    """Rooms by floor, walls and glass."""
    g = view.r.geometry
    glass = [0.0] * len(view.job.rooms)
    faces: list[set[str]] = [set() for _ in view.job.rooms]
    for f in g.openings:
        if view.job.openings[f.index].kind in ("window", "skylight"):
            glass[f.room] += f.area_m2
    for w in g.walls:
        if w.other == "outdoors":
            faces[w.room].add(w.compass[0])

    def share(x: Rooms) -> str:
        floor = x.sum(g.area_m2)
        return f"{(x.sum(glass) or 0) / floor * 100:.0f} %" if floor else "–"

    def below(i: int) -> str:
        under = [(v[i], k) for k, v in g.floors_m2.items() if v[i] > 0]
        return UNDER_WORDS[max(under)[1]] if under else "heated"

    return (
        named(130),
        Told("Floor", 74, lambda x: x.sum(g.area_m2), "area", bold=True, decimals=0),
        Told("Height", 80, lambda x: g.height_m[x.i], "length", alone=True),
        Told("Volume", 82, lambda x: x.sum(g.volume_m3), "volume", decimals=0),
        Told("Outside wall", 124, lambda x: x.sum(g.exposed_wall_m2), "area", decimals=0),
        Told("Glass", 80, lambda x: x.sum(glass), "area", decimals=0),
        Told("Glass of floor", 104, lambda x: Cell(bar=glass[x.i] / g.area_m2[x.i] / 0.4), align="l", alone=True),
        Told("", 42, share),
        Told("Faces", 92, lambda x: Cell(chips=tuple((d, d in faces[x.i]) for d in "NESW")), align="l", alone=True),
        Told("Below", 90, lambda x: below(x.i), align="l", alone=True),
        state(30, lambda x: room_mark(view, x.id, 1)),
    )


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
        last = name == parts[-1][0]
        space = w + (8 if last else -2)
        if paint.text_width(name, 12.5, 600) <= space or w > 26:
            paint.text(p, x, 24, name, 12.5, 600, t("ink"), width=max(space, 0))
        if w > 26:
            paint.text(p, x + 7, 51, view.num(kind, value, 0), 13, 700, t.on(fill))
        if w > paint.text_width(text_, 12, 500) + 4:
            paint.text(p, x, 77, text_, 12, 500, t("ink2"))
        x += w


def _floor_note(view: View) -> str:
    """The edge of the slab, or what a floor without one stands on."""
    edge = sum(view.r.geometry.edge_m)
    return (
        f"{view.num('length', edge, 0)} {view.unit('length')} edge"
        if edge > 0.01
        else f"over {FLOOR_WORDS[ground_floor(view.job)]}"
    )


FLOOR_WORDS = {"slab": "a slab", "crawl": "a crawl space", "basement": "a basement"}
