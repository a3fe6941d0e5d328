"""Ducts of a design without any: the lines and drains of its heads."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from murvan.app import paint
from murvan.app.plan import unit_layers
from murvan.app.plan.lens import Lens
from murvan.app.stations.base import Button, Buttons, Card, Cell, Headline, Ledger, List_, ListRow, Strip, View
from murvan.app.stations.common import on_storey
from murvan.app.stations.told import Told, table
from murvan.design.study import LineRow, line_rows
from murvan.model.linesets import SOURCE_WORDS
from murvan.units import tube


def lens(view: View, name: str) -> Lens:
    """Heads, outdoor units and the lines between them."""
    out = Lens(name)
    for _, r in on_storey(view):
        out.room_text[r.id] = [(r.name, "", 13, 600, "ink2")]
    out.note = ("Lines to the heads", "as placed, along the walls", "")
    out.overlay = (lambda p, v: unit_layers.units_to_rooms(p, v),)
    return out


def headline(view: View) -> Headline:
    rows = tuple(line_rows(view.r))
    mark = "fails" if not all(x.within for x in rows) else "good"
    n = len(rows)
    return Headline(mark, "no ducts", "", f"{n} line{'s' if n != 1 else ''} to the heads")


def strip(view: View) -> Strip:
    """Every line against what the maker allows."""
    rows = tuple(line_rows(view.r))

    def draw(p: QPainter, r: QRectF) -> None:
        t, wide = view.theme, r.width() - 250
        most = max([x.longest_m for x in rows] + [1.0])
        for k, x in enumerate(rows[:5]):
            y, left = r.top() + 14 + k * 16, r.left() + 158
            paint.text(p, r.left(), y, x.tag, 12, 600, t("ink"), width=150)
            p.fillRect(QRectF(left, y - 8, wide * x.longest_m / most, 8), t("rule"))
            p.fillRect(QRectF(left, y - 8, wide * x.length_m / most, 8), t("good" if x.within else "fails"))
            words = f"{view.num('length', x.length_m, 0)} of {view.text('length', x.longest_m, 0)}"
            paint.text(p, left + wide * x.longest_m / most + 6, y, words, 12, 500, t("ink2"))

    whole = sum(x.length_m for x in rows)
    pumps = sum(x.drain == "pump" for x in rows)
    return Strip(
        "Lines together",
        view.num("length", whole, 0),
        (f"{len(rows)} lines", f"{pumps} drain{'s' if pumps != 1 else ''} by a pump"),
        draw,
        hero_unit=view.unit("length"),
    )


def ledger(view: View) -> Ledger:
    columns: tuple[Told[LineRow], ...] = (
        Told("Head", 150, lambda x: x.tag, align="l", bold=True),
        Told("Outdoor unit", 190, lambda x: x.of, align="l"),
        Told("Line", 70, lambda x: x.length_m, "length", bold=True, decimals=0),
        Told("Most", 66, lambda x: x.longest_m, "length", decimals=0),
        Told("Lift", 66, lambda x: x.lift_m, "length", decimals=0),
        Told("Liquid × suction", 150, lambda x: _tubes(view, x), align="l"),
        Told("Charge to add", 110, lambda x: "with the others" if x.charge_kg is None else x.charge_kg, "charge"),
        Told("Drain", 76, lambda x: "falls" if x.drain == "gravity" else "pump", align="l"),
        Told("", 30, lambda x: Cell(mark="good" if x.within else "fails")),
    )
    return table(view, columns, ((("indoor_unit", x.unit), x) for x in line_rows(view.r)))


def _tubes(view: View, x: LineRow) -> str:
    return f"{tube(x.liquid_m, view.units)} × {tube(x.suction_m, view.units)}"


def card(view: View) -> Card:
    """The line of the head in hand."""
    x = next((x for x in line_rows(view.r) if x.unit == view.indoor.id), None)
    if x is None:
        return Card("Lines", "No line yet", None, "", (), "Pick a unit first: press 3")
    over = max(x.length_m - x.factory_m, 0.0)
    charge = "counted once, with all lines of its outdoor unit"
    if x.charge_kg is not None:
        per = f"{view.num('length', over)} × {view.text('line_charge', x.charge_kg_m)}"
        charge = f"{per}, over {view.text('length', x.factory_m)}"
    rows = (
        ListRow("Outdoor unit", "", x.of),
        ListRow("Liquid × suction", _tubes(view, x)),
        ListRow("Lift", view.text("length", x.lift_m), f"of {view.text('length', x.highest_m)}"),
        ListRow("Charge to add", view.text("charge", x.charge_kg) if x.charge_kg is not None else "–", charge),
        ListRow("Drain", "by its own fall" if x.drain == "gravity" else "by a pump"),
    )
    return Card(
        "Line · no ducts in this design",
        x.tag,
        "good" if x.within else "fails",
        "Within its limits" if x.within else "Over its limits",
        ((view.num("length", x.length_m, 0), view.unit("length"), "ink"),),
        f"of {view.text('length', x.longest_m, 0)} that the maker allows{SOURCE_WORDS[x.length_from]}",
        (),
        (
            List_("What is run", "the unit's plate decides", rows),
            Buttons(
                (
                    Button("line", "Change it on Equipment", "3", lambda: view.act.go(3)),
                    Button("next", "On to Build", "6", lambda: view.act.go(6), True),
                )
            ),
        ),
    )
