"""Which unit serves which room: the plan with the units on it, its table and its cards."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.plan.lens import Legend, Lens
from murvan.app.plan.unit_layers import units_to_rooms
from murvan.app.stations.base import (
    Arith,
    Button,
    Buttons,
    Card,
    Cell,
    Field_,
    Fields,
    Ledger,
    List_,
    ListRow,
    Section,
    Strip,
    View,
)
from murvan.app.stations.common import on_storey
from murvan.app.stations.fields import of, of_part
from murvan.app.stations.told import Rooms, Told, named, rooms_table, state
from murvan.catalog import known_multis, readable_own_multis
from murvan.design.finding import Hit
from murvan.design.house import LIVED_IN, remedy
from murvan.design.limits import carries
from murvan.design.results import SystemResults
from murvan.design.units import Candidate, Shared, explain_part, pick_outdoor, pick_unit
from murvan.model import Job, Room
from murvan.model.design import IndoorUnit
from murvan.model.equipment import MultiUnit
from murvan.model.linesets import SOURCE_WORDS
from murvan.model.record import Ref
from murvan.model.unit_edit import OWN, give_rooms, hang_on, release_rooms, set_kind

KINDS = (("ducted", "Ducted"), ("wall", "Wall"), ("floor", "Floor"), ("ceiling", "Ceiling cassette"))
NONE = "none"
TOOLS = (
    ("tool.head", "indoor-unit"),
    ("tool.serve", "zone"),
    ("tool.outdoor", "outdoor-unit"),
    ("equipment.propose", "compare"),
)


def unit_of(view: View, room: str) -> IndoorUnit | None:
    """The unit that serves a room; the first where two do."""
    return next((s.design.indoor for s in view.r.systems.values() if room in s.design.serves), None)


def number_of(view: View, unit: IndoorUnit) -> int:
    """Its number on the plan."""
    return [x.id for x in view.job.design.indoor_units].index(unit.id) + 1


def lens(view: View, name: str) -> Lens:
    """Rooms by the unit that serves them, and the units."""
    t, ld = view.theme, view.r.loads
    out = Lens(name, unit=view.indoor.id, legend_title="Served by")
    for i, room in on_storey(view):
        unit = unit_of(view, room.id)
        which = f"{number_of(view, unit)} {unit.tag}" if unit is not None else "no unit"
        bad = unit is None and room.use in LIVED_IN
        out.fills[room.id] = (
            t("select_soft")
            if unit is not None and unit.id == view.indoor.id
            else t("paper" if unit else "look_soft")
        )
        heat, cold = view.num("kpower", float(ld.heating_w[i])), view.num("kpower", float(ld.cooling_w[i]))
        out.room_text[room.id] = [
            (room.name, "", 13, 600, ""),
            (which, "", 12.5, 500, "fails" if bad else ""),
            (cold, "cool", 13, 700, "cooling"),
            (heat, "heat", 13, 700, "heating"),
        ]
    for s in view.job.storeys:
        mine = [k for k, x in enumerate(view.job.design.indoor_units) if x.storey == s.id]
        out.storey_figures[s.id] = str(len(mine))
    out.storey_unit = "units"
    out.legend = (Legend("fill", "select_soft", view.indoor.tag), Legend("fill", "look_soft", "no unit"))
    loose = sum(unit_of(view, r.id) is None for r in view.job.rooms)
    out.note = (f"{view.unit('kpower')} a room", "cool and heat", f"{loose} without unit" if loose else "all served")
    out.overlay = (units_to_rooms,)
    return out


def ledger(view: View) -> Ledger:
    """The rooms with their unit and what they need."""
    ld = view.r.loads

    def served(x: Rooms) -> Cell:
        unit = unit_of(view, x.id)
        return Cell(f"{number_of(view, unit)}  {unit.tag}" if unit is not None else "no unit", unit is not None)

    def lowest(x: Rooms) -> float | None:
        unit = unit_of(view, x.id)
        s = view.r.systems.get(unit.id) if unit is not None and unit.kind != "ducted" else None
        return s.unit.cooling.min_fraction * _highest(s) if s is not None and s.unit is not None else None

    def says(x: Rooms) -> tuple[str, str]:
        return _says(view, view.job.rooms[x.i], unit_of(view, x.id))

    columns: tuple[Told[Rooms], ...] = (
        named(150),
        Told("Served by", 190, served, align="l", alone=True),
        Told("Cooling", 100, lambda x: x.sum(ld.cooling_w) or 0.0, "kpower"),
        Told("Sensible", 100, lambda x: x.sum(ld.sensible_w) or 0.0, "kpower"),
        Told("Heating", 100, lambda x: x.sum(ld.heating_w) or 0.0, "kpower"),
        Told("Lowest speed", 130, lowest, "kpower", alone=True),
        Told("Says", 160, lambda x: says(x)[1], align="l", alone=True),
        state(24, lambda x: says(x)[0]),
    )
    return rooms_table(view, columns, "Rooms added up")


def _highest(s: SystemResults) -> float:
    return s.equipment.chosen.total_w if s.equipment.chosen is not None else 0.0


def _says(view: View, room: Room, unit: IndoorUnit | None) -> tuple[str, str]:
    hit = next((f for f in view.r.findings if f.rule.station == 3 and f.hit.at == Ref("room", room.id)), None)
    if hit is not None:
        return ("fails" if hit.severity == "fails" else "look", hit.hit.why or hit.rule.name)
    if unit is None:
        return "look", f"none; {remedy(room)}"
    s = view.r.systems.get(unit.id)
    if s is None or s.unit is None:
        return "none", "its unit is not picked yet"
    mark = mark_of(view, s)
    return mark, "" if mark == "good" else f"see {unit.tag}"


# ---- the cards ----


def card(view: View) -> Card:
    """Of the room selected, else of the unit in hand."""
    wanted = view.selected("room")
    for i, room in enumerate(view.job.rooms):
        if room.id == wanted:
            return _room_card(view, i, room)
    return _unit_card(view, view.indoor)


def _room_card(view: View, i: int, room: Room) -> Card:
    unit, ld = unit_of(view, room.id), view.r.loads
    mark, says = _says(view, room, unit)
    units = tuple((x.id, f"{k}  {x.tag}") for k, x in enumerate(view.job.design.indoor_units, 1))
    served = Field_(
        "room.unit",
        "Served by",
        "text",
        unit.id if unit is not None else NONE,
        partial(_serve, room=room.id),
        "Give the room to a unit",
        (*units, (NONE, "no unit")),
        2,
    )
    return Card(
        f"Room · {view.storey_name(room.storey)}",
        room.name,
        mark,
        unit.tag if unit is not None else "No unit",
        (
            (view.num("kpower", float(ld.cooling_w[i])), "cool", "cooling"),
            (view.num("kpower", float(ld.heating_w[i])), f"{view.unit('kpower')} heat", "heating"),
        ),
        says or "at its own design hour",
        (),
        (Fields("Change it", (served,)), List_("Units", "", tuple(_unit_rows(view))), _more(view)),
    )


def _serve(job: Job, value: float | str, room: str) -> Job:
    return release_rooms(job, (room,)) if value == NONE else give_rooms(job, str(value), (room,))


def _unit_rows(view: View) -> Iterator[ListRow]:
    for k, s in enumerate(view.r.systems.values(), 1):
        x = s.equipment.chosen
        share = f"{x.total_share * 100:.0f} %" if x is not None and x.total_share == x.total_share else "–"
        yield ListRow(
            f"{k}  {s.design.indoor.tag}",
            share,
            s.unit.name if s.unit else "not picked",
            mark_of(view, s),
            ("indoor_unit", s.design.id),
            s.design.id == view.indoor.id,
        )


def mark_of(view: View, s: SystemResults) -> str:
    """The worst that is found of a unit; none before it is picked."""
    if s.unit is None:
        return "none"
    bad = {f.severity for f in view.r.findings if f.rule.station == 3 and f.hit.at == Ref("indoor_unit", s.design.id)}
    return "fails" if "fails" in bad else "look" if "look" in bad else "good"


def _unit_card(view: View, own: IndoorUnit) -> Card:
    s = view.s
    x, ld = s.equipment.chosen, s.loads
    mark = mark_of(view, s)
    rooms = [r for r in view.job.rooms if r.id in s.design.serves]
    serves = tuple(
        ListRow(
            r.name, view.num("kpower", float(view.r.loads.cooling_w[i])), view.unit("kpower"), None, ("room", r.id)
        )
        for i, r in enumerate(view.job.rooms)
        if r in rooms
    )
    troubles = tuple(
        ListRow(f.rule.name, *_figures(view, f.hit), "fails" if f.severity == "fails" else "look")
        for f in view.r.findings
        if f.rule.station == 3 and f.hit.at == Ref("indoor_unit", own.id)
    )
    hero = (view.num("kpower", x.total_w if x else ld.house_cooling_w), view.unit("kpower"), "cooling")
    note = f"{'of' if x else 'needs'} {view.text('kpower', ld.house_cooling_w)} at its rooms' own peak"
    sections: list[Section] = []
    if troubles:
        sections.append(List_("To settle", "", troubles))
    sections += [
        Fields("Change it", tuple(_unit_fields(view, own))),
        Fields("Where it stands", tuple(_place_fields(view, own))),
        List_("Serves", f"{len(serves)} rooms" if len(serves) != 1 else "1 room", serves),
    ]
    shared = view.r.outdoors.get(own.outdoor or "")
    if shared is not None:
        sections.append(_shared(view, shared))
        if x is not None:
            sections.append(Arith(explain_part(x, shared, view.r.conditions)))
    sections += [_of_unit(view), _more(view)]
    return Card(
        f"Unit {number_of(view, own)} of {len(view.job.design.indoor_units)} · {dict(KINDS)[own.kind].lower()}",
        own.tag,
        mark,
        f"{s.unit.maker} {s.unit.name}" if s.unit else "Not picked",
        (hero,),
        note,
        (
            (f"{x.total_share * 100:.0f} %" if x and x.total_share == x.total_share else "–", "of cooling", "ink"),
            (f"{x.heating_share * 100:.0f} %" if x and x.heating_share == x.heating_share else "–", "of heat", "ink"),
        ),
        tuple(sections),
    )


def _figures(view: View, hit: Hit) -> tuple[str, str]:
    """What was measured and its limit, where it is a figure."""
    if hit.measured is None or hit.limit is None:
        return "", ""
    return hit.measured.text(view.units), f"limit {hit.limit.text(view.units)}"


def _unit_fields(view: View, own: IndoorUnit) -> Iterator[Field_]:
    d = view.job.design
    yield of("indoor_units", own, "tag")
    yield Field_(
        "unit.kind",
        "Kind",
        "text",
        own.kind,
        lambda j, v: set_kind(j, own.id, str(v)),
        "Change the unit's kind",
        KINDS,
    )
    units = tuple((k.unit.id, _unit_words(k)) for k in view.s.equipment.candidates)
    now = own.unit or ""
    yield Field_(
        "unit.unit",
        "Unit",
        "text",
        now,
        lambda j, v: pick_unit(j, own.id, str(v)) if v else j,
        "Pick unit",
        units if now else (("", "not picked"), *units),
        2,
    )
    multis = known_multis(view.job.multi_units, readable_own_multis())
    alone = all(x.outdoor != own.outdoor for x in d.indoor_units if x.id != own.id)
    shared_with = {
        o.id: [x.tag for x in d.indoor_units if x.outdoor == o.id and x.id != own.id] for o in d.outdoor_units
    }
    others = tuple((o, f"with {', '.join(tags)}"[:60]) for o, tags in shared_with.items() if tags)
    yield Field_(
        "unit.outdoor",
        "Outdoor unit",
        "text",
        str(own.outdoor) if not alone else OWN,
        lambda j, v: hang_on(j, own.id, str(v)),
        "Hang the unit elsewhere",
        ((OWN, "its own"), *others),
        2,
    )
    outdoor = next((x for x in d.outdoor_units if x.id == own.outdoor), None)
    if outdoor is not None:
        yield Field_(
            "unit.multi",
            "Outdoors",
            "text",
            outdoor.unit or NONE,
            partial(_pick_outdoor, outdoor=outdoor.id),
            "Pick the outdoor unit",
            ((NONE, "comes with its indoor unit"), *((m.id, _multi_words(view, m)) for m in multis.values())),
            2,
        )


def _unit_words(x: Candidate) -> str:
    share = f", cools {x.total_share * 100:.0f} %" if x.total_share == x.total_share else ""
    return f"{x.unit.maker} {x.unit.name}{share}"


def _place_fields(view: View, own: IndoorUnit) -> Iterator[Field_]:
    yield of("indoor_units", own, "heat_share")
    yield of("indoor_units", own, "drain")
    outdoor = next((x for x in view.job.design.outdoor_units if x.id == own.outdoor), None)
    if outdoor is not None:
        yield of("outdoor_units", outdoor, "stand_m")
        yield of("outdoor_units", outdoor, "neighbour_m")
    yield of_part(view.job, "services", "snow_m")
    yield of_part(view.job, "services", "panel_spaces")


def _pick_outdoor(job: Job, value: float | str, outdoor: str) -> Job:
    return pick_outdoor(job, outdoor, None if value == NONE else str(value))


def _multi_words(view: View, m: MultiUnit) -> str:
    return f"{m.maker} {m.name}, {view.text('kpower', m.nominal_w)}"


def _shared(view: View, x: Shared) -> List_:
    """The outdoor unit that others hang on too."""
    low, high = x.unit.connected
    most = x.unit.line_total_m
    rows = [
        ListRow("Ports", f"{len(x.hung)} of {x.ports}", "", "good" if len(x.hung) <= x.ports else "fails"),
        ListRow(
            "Connected",
            f"{x.connected_share * 100:.0f} %",
            f"{low * 100:.0f} – {high * 100:.0f}",
            "good" if low <= x.connected_share <= high else "fails",
        ),
        ListRow(
            "Cools when all call",
            view.num("kpower", x.cooling_w),
            f"of {view.num('kpower', x.coincident_w)}",
            "good" if x.cooling_w >= 0.9 * x.coincident_w else "fails",
        ),
        ListRow("Peaks added up", view.num("kpower", x.peaks_w), view.unit("kpower")),
        ListRow(
            "Heats when all call",
            view.num("kpower", x.heating_w),
            f"of {view.num('kpower', x.heating_load_w)}",
            "good" if carries(x.heating_w, x.heating_load_w) else "look",
        ),
        ListRow(
            "Lines together"
            + SOURCE_WORDS[next((u.line.length_from for u, _ in x.hung if u.line.length_from == "usual"), "drawn")],
            view.num("length", x.line_m, 0),
            f"of {view.text('length', most, 0)}",
            "good" if x.line_m <= most else "fails",
        ),
        ListRow("Charge to add", view.text("charge", x.extra_charge_kg), ""),
    ]
    return List_(f"{x.unit.maker} {x.unit.name}", "limit", tuple(rows))


def _more(view: View) -> Buttons:
    act = view.act.command
    return Buttons(
        (
            Button("head", "Hang a head", "H", lambda: act("tool.head")),
            Button("ducted", "Add ducted", "D", lambda: act("equipment.ducted")),
        )
    )


def _of_unit(view: View) -> Buttons:
    act = view.act.command
    out = [Button("serve", "Give rooms", "S", lambda: act("tool.serve"), True)]
    if len(view.job.design.indoor_units) > 1:
        out.append(Button("away", "Take away", "Del", lambda: act("equipment.remove")))
    return Buttons(tuple(out))


# ---- the strip ----


def strip(view: View) -> Strip:
    """What each unit gives against what its rooms need."""
    systems = list(view.r.systems.values())
    picked = sum(s.unit is not None for s in systems)
    return Strip(
        "Units",
        str(len(systems)),
        (f"{picked} picked", "capacity over load"),
        lambda p, r: _bars(p, r, view),
        click=lambda x, y, r: _pick(view, x, r),
    )


LEAST_WIDE, MOST_WIDE = 124.0, 190.0


def _shown(view: View, r: QRectF) -> tuple[list[tuple[int, SystemResults]], float]:
    """The units that the strip has room for, about the one in hand, with their numbers, and the width of each."""
    every = list(enumerate(view.r.systems.values(), 1))
    fits = max(int(r.width() // LEAST_WIDE), 1)
    at = next((k for k, s in every if s.design.id == view.indoor.id), 1) - 1
    first = min(max(at - fits // 2, 0), max(len(every) - fits, 0))
    few = every[first : first + fits]
    return few, min(r.width() / max(len(few), 1), MOST_WIDE)


def _pick(view: View, x: float, r: QRectF) -> None:
    few, wide = _shown(view, r)
    k = int((x - r.left()) // wide)
    if 0 <= k < len(few):
        view.act.select("indoor_unit", few[k][1].design.id)


MOST = 1.6


def _bars(p: QPainter, r: QRectF, view: View) -> None:
    t, (few, wide) = view.theme, _shown(view, r)
    for k, (n, s) in enumerate(few):
        x, on = r.left() + k * wide, s.design.id == view.indoor.id
        if on:
            p.fillRect(QRectF(x, 4, wide - 8, r.height() - 8), t("select_soft"))
        name = f"{n}  {s.design.indoor.tag}"
        paint.text(p, x + 6, 20, name, 12.5, 700 if on else 600, t("ink"), width=wide - 20)
        c = s.equipment.chosen
        if c is None:
            paint.text(p, x + 6, 44, "not picked", 12, 500, t("ink2"), width=wide - 20)
            continue
        for y, share, role in ((32.0, c.total_share, "cooling"), (58.0, c.heating_share, "heating")):
            bar = QRectF(x + 6, y, wide - 66, 12)
            p.fillRect(bar, t("track"))
            if np.isfinite(share):
                p.fillRect(QRectF(bar.left(), y, bar.width() * min(share / MOST, 1), 12), t(role))
            p.setPen(QPen(t("ink"), 1.6))
            at = bar.left() + bar.width() / MOST
            p.drawLine(QPointF(at, y - 3), QPointF(at, y + 15))
            said = f"{share * 100:.0f} %" if np.isfinite(share) else "–"
            paint.text(p, x + wide - 14, y + 11, said, 12.5, 700, t("ink"), "r")
        paint.text(p, x + 6, r.height() - 10, s.unit.name if s.unit else "", 12, 500, t("ink2"), width=wide - 20)
