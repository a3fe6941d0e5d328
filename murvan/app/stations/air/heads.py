"""The lens Heads of Air: where heads blow, what they reach, and rooms without one with their doors open and shut."""

from __future__ import annotations

from math import atan2, degrees
from typing import NamedTuple

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QRegion

from murvan.app import paint
from murvan.app.plan.lens import Legend, Lens
from murvan.app.plan.sheet import Sheet
from murvan.app.stations.air.room import room_state
from murvan.app.stations.base import Card, Cell, Ledger, List_, ListRow, Strip, View
from murvan.app.stations.common import on_storey
from murvan.app.stations.told import Rooms, Told, named, rooms_table, state
from murvan.design.study import HALF_DEG, Bare, Blow, bare_rooms, blows

NAME = "Heads"
STATION = 4


class HeadAir(NamedTuple):
    """What the lens shows of a job."""

    blows: tuple[Blow, ...]
    bare: dict[str, Bare]
    """By room."""


def head_air(view: View) -> HeadAir:
    return HeadAir(tuple(blows(view.r)), {b.room: b for b in bare_rooms(view.r)})


def look(view: View, out: Lens, x: HeadAir) -> None:
    """Jets on the plan, temperatures in rooms without a head."""
    hung = {b.room for b in x.blows}
    for _, r in on_storey(view):
        lines = [(r.name, "", 13.0, 600, "")]
        b = x.bare.get(r.id)
        if b is not None:
            lines.append((f"{view.num('temperature', b.heating_open_c, 0)}°", "", 20, 700, "heating"))
            lines.append((f"{view.num('temperature', b.heating_shut_c, 0)}° shut", "", 12, 500, ""))
        elif r.id in hung:
            lines.append(("head", "", 12, 500, ""))
        out.room_text[r.id] = lines
    out.legend_title = "Heads"
    out.legend = (Legend("fill", "cooling", "to 50 fpm"), Legend("line", "heating", "doors open"))
    out.note = ("Rooms without a head", "at winter design", "doors open, doors shut")
    out.overlay = (lambda p, v: _jets(p, v, x),)


def _jets(p: QPainter, v: Sheet, x: HeadAir) -> None:
    t = v.theme
    fill = QColor(t("cooling"))
    fill.setAlpha(38)
    for b in (b for b in x.blows if v.has_room(b.room) and v.room(b.room).storey == v.storey):
        at, far = v.to_px(*b.at), min(b.reach_m, b.across_m) * (v.to_px(1.0, 0.0) - v.to_px(0.0, 0.0)).x()
        box = QRectF(at.x() - far, at.y() - far, 2 * far, 2 * far)
        p.save()
        p.setClipRegion(_inside(v, b.room))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(fill)
        if b.way is None:
            p.drawEllipse(box)
        else:
            middle = -degrees(atan2(b.way[1], b.way[0]))
            p.drawPie(box, int((middle - HALF_DEG) * 16), int(2 * HALF_DEG * 16))
        p.restore()
        p.setPen(QPen(t("ink"), 1.4))
        p.setBrush(t("select"))
        p.drawEllipse(at, 5, 5)
        for f in b.felt:
            to = v.to_px(*f.seat.position_m)
            p.setPen(QPen(t("look"), 1.4, Qt.PenStyle.DashLine))
            p.drawLine(at, to)


def _inside(v: Sheet, room: str) -> QRegion:
    return QRegion(v.polygon(v.room(room).outline_m).toPolygon())


def strip(view: View, x: HeadAir) -> Strip:
    """Every head's reach against its room."""
    own = next((b for b in x.blows if b.unit == view.indoor.id), None)
    crosses = sum(b.reach_m >= b.across_m for b in x.blows)
    flow = view.num("flow", own.flow_m3_s) if own else "–"
    words = (f"{crosses} of {len(x.blows)} cross them", f"{len(x.bare)} rooms without one")

    def draw(p: QPainter, r: QRectF) -> None:
        t = view.theme
        most = max([b.across_m for b in x.blows] + [1.0])
        wide = r.width() - 250
        for k, b in enumerate(x.blows[:5]):
            y = r.top() + 14 + k * 16
            paint.text(p, r.left(), y, b.tag, 12, 600, t("ink"), width=150)
            left = r.left() + 158
            p.fillRect(QRectF(left, y - 8, wide * b.across_m / most, 8), t("rule"))
            p.fillRect(QRectF(left, y - 8, wide * min(b.reach_m, b.across_m) / most, 8), t("cooling"))
            end = left + wide * b.across_m / most + 6
            paint.text(p, end, y, view.text("feet", b.across_m), 12, 500, t("ink2"))

    return Strip(f"{view.indoor.tag}, its air", flow, words, draw, hero_unit=view.unit("flow"))


def ledger(view: View, x: HeadAir) -> Ledger:
    """Rooms: what serves each, and how warm those without a head are."""
    by = {i: s.design.indoor.tag for s in view.r.systems.values() for i in s.design.serves}
    hung = {b.room: b for b in x.blows}

    def at(y: Rooms, name: str) -> float | None:
        b = x.bare.get(y.id)
        return float(getattr(b, name)) if b is not None else None

    def served(y: Rooms) -> str:
        tag = by.get(y.id)
        return f"{tag}" if tag else "nothing of its own"

    def reach(y: Rooms) -> Cell:
        b = hung.get(y.id)
        return Cell(bar=min(b.reach_m / b.across_m, 1.0)) if b is not None else Cell()

    columns: tuple[Told[Rooms], ...] = (
        named(118),
        Told("Served by", 150, served, align="l", alone=True),
        Told("Reach", 110, reach, align="l", alone=True),
        Told("Winter, open", 110, lambda y: at(y, "heating_open_c"), "temperature", bold=True, alone=True),
        Told("shut", 70, lambda y: at(y, "heating_shut_c"), "temperature", alone=True),
        Told("Summer, open", 110, lambda y: at(y, "cooling_open_c"), "temperature", bold=True, alone=True),
        Told("shut", 70, lambda y: at(y, "cooling_shut_c"), "temperature", alone=True, key="summer shut"),
        Told("Loses", 90, lambda y: at(y, "loses_w_k"), "ua", alone=True, decimals=0),
        state(30, lambda y: room_state(view, y.id, STATION)),
    )
    return rooms_table(view, columns)


def card(view: View, x: HeadAir) -> Card:
    """The room in hand without a head, else the head in hand."""
    room = next((r for r in view.job.rooms if r.id == view.selected("room")), None)
    bare = x.bare.get(room.id) if room is not None else None
    if room is not None and bare is not None:
        return _bare_card(view, room.name, room.storey, bare)
    hung = room.id if room is not None else None
    own = next((b for b in x.blows if b.room == hung or (hung is None and b.unit == view.indoor.id)), None)
    if own is None:
        return Card("Heads", room.name if room is not None else "No heads", None, "", (), _none(view, x))
    return _head_card(view, own)


def _none(view: View, x: HeadAir) -> str:
    if not x.blows:
        return "No head hangs in this design: rooms have their air from ducts"
    return "It has its air from a unit with ducts"


def _bare_card(view: View, name: str, storey: str, b: Bare) -> Card:
    set_heat, set_cool = view.job.indoor.heating_c, view.job.indoor.cooling_c
    return Card(
        f"Room without a head · {view.storey_name(storey)}",
        name,
        None,
        "",
        (
            (view.num("temperature", b.heating_open_c), "", "heating"),
            (view.num("temperature", b.cooling_open_c), view.unit("temperature"), "cooling"),
        ),
        f"at design with its doors open; set {view.text('temperature', set_heat)} and {view.text('temperature', set_cool)}",
        (),
        (
            List_(
                "Doors shut",
                "",
                (
                    ListRow("Winter", view.text("temperature", b.heating_shut_c)),
                    ListRow("Summer", view.text("temperature", b.cooling_shut_c)),
                ),
            ),
            List_(
                "What decides it",
                "balance",
                (
                    ListRow("To the outdoors", view.text("ua", b.loses_w_k)),
                    ListRow("Walls, floors, shut doors", view.text("ua", b.between_w_k)),
                    ListRow("Sun, people, outdoors in summer", view.text("power", b.gains_w)),
                ),
            ),
        ),
    )


def _head_card(view: View, b: Blow) -> Card:
    crosses = b.reach_m >= b.across_m
    seats = tuple(
        ListRow(
            f.seat.kind.replace("_", " ").capitalize(),
            view.text("velocity", f.speed_m_s),
            f"{view.text('feet', f.away_m)} away",
        )
        for f in b.felt
    )
    return Card(
        f"Head · {next((r.name for r in view.job.rooms if r.id == b.room), '')}",
        b.tag,
        "good" if crosses else "look",
        "Crosses the room" if crosses else "Falls short",
        ((view.num("feet", min(b.reach_m, b.across_m)), "", "cooling"),),
        f"of {view.text('feet', b.across_m)} to the wall across, to 50 fpm ({view.text('velocity', 0.254)})",
        ((view.num("flow", b.flow_m3_s), view.unit("flow"), "ink"),),
        (
            List_(
                "Its jet",
                "rated flow",
                (
                    ListRow("Leaves at", view.text("velocity", b.speed_m_s)),
                    ListRow("Gap it blows from", view.text("small_area", b.slot_m2)),
                    ListRow("Free reach", view.text("feet", b.reach_m)),
                ),
            ),
            List_("Who sits or lies in it", "", seats or (ListRow("Nobody", ""),)),
        ),
    )
