"""Station 4, Air: room air of both seasons, the return path, fresh air."""

from __future__ import annotations

from types import MappingProxyType

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.document import Wanted
from murvan.app.later import Later
from murvan.app.latest import Latest
from murvan.app.plan.lens import Legend, Lens
from murvan.app.plan.sheet import Sheet
from murvan.app.stations.air import calls as air_calls
from murvan.app.stations.air import heads as air_heads
from murvan.app.stations.air import zones as air_zones
from murvan.app.stations.air.fan import fan_table
from murvan.app.stations.air.room import (
    arithmetic,
    fresh_fields,
    reach,
    register_section,
    room_buttons,
    room_fields,
    room_state,
    way_back,
)
from murvan.app.stations.base import Button, Card, Cell, Fields, Headline, Ledger, Station, Strip, View, room_index
from murvan.app.stations.common import all_heads, on_storey, zone_words
from murvan.app.stations.told import Rooms, Told, named, rooms_table, state
from murvan.design import study
from murvan.design.circuit import DOORS_SHUT, Network
from murvan.design.house import halls
from murvan.design.limits import DOOR_LIMIT_PA
from murvan.design.zones import ZoneCall
from murvan.units import CFM

CALLS, ZONES, HEADS = 3, 4, 5
"""Indexes of the lenses."""


class AirStation(Station):
    number, name = 4, "Air"
    lenses = ("Room air", "Return path", "Fresh air", air_calls.NAME, air_zones.NAME, air_heads.NAME)
    picks_units = True
    tools = (
        ("air.lay", "register"),
        ("tool.register", "throw"),
        ("tool.grille", "transfer-grille"),
        ("tool.transfer", "jump-duct"),
    )

    lens_tools = MappingProxyType(
        {4: (("tool.zone", "zone"), ("tool.thermostat", "temperature"), ("air.zone_plan", "swap"))}
    )

    def __init__(self) -> None:
        super().__init__()
        self.tried: air_calls.Tried = frozenset()
        """Calls that are the other way."""
        self._zone_call: str | None = None
        """The combination of zones that was selected last."""
        self._answer: Later[Network | None] = Later("murvan-calls")
        self.laters = (self._answer,)
        self._heads: Latest[air_heads.HeadAir] = Latest()

    @property
    def wants(self) -> Wanted:
        return "zones" if self.zoning else ""

    def shown(self) -> tuple[object, ...]:
        return (self.tried, self._answer.answers, self._answer.busy)

    @property
    def calling(self) -> bool:
        """Whether the calls are shown."""
        return self.lens_index == CALLS

    @property
    def zoning(self) -> bool:
        """Whether the combinations of zones are shown."""
        return self.lens_index == ZONES

    def heads(self, view: View) -> air_heads.HeadAir:
        """The air of heads, and rooms without any."""
        return self._heads.of((view.r,), lambda: air_heads.head_air(view))

    def combinations(self, view: View) -> tuple[ZoneCall, ...] | str:
        """Every combination of zones that call, or why there are none."""
        return air_zones.answer(view)

    def combination(self, view: View) -> ZoneCall | None:
        """The one in hand; it stays while rooms are looked at."""
        self._zone_call = view.selected("zone_call") or self._zone_call
        return air_zones.chosen(self.combinations(view), self._zone_call)

    def answer(self, view: View) -> Network | None:
        """The air circuit as tried; kept while nothing changes."""
        tried = self.tried
        return self._answer.of((view.r, tried), lambda: air_calls.answer(view, tried))

    def clicked(self, view: View, kind: str, item: str) -> tuple[str, str]:
        """What a click on a thermostat selects: its zone's call, or the combination with its zone the other way."""
        if kind != "thermostat":
            return kind, item
        if self.calling:
            return "call", f"zone:{item}"
        return "zone_call", air_zones.toggled(self.combinations(view), self.combination(view), item)

    def toggle(self, key: str) -> None:
        """A call the other way; '' takes all back."""
        self.tried = air_calls.toggled(self.tried, key) if key else frozenset()

    def knows(self, view: View, kind: str, item: str) -> bool:
        if kind == "zone_call":
            calls = self.combinations(view) if self.zoning else ()
            return any(air_zones.key_of(x) == item for x in calls if not isinstance(x, str))
        return kind == "call" and self.calling and any(air_calls.key_of(c) == item for c in study.calls_of(view.r))

    def default_selection(self, view: View) -> tuple[str, str] | None:
        if self.zoning:
            call = self.combination(view)
            return ("zone_call", air_zones.key_of(call)) if call is not None else super().default_selection(view)
        first = next(iter(study.calls_of(view.r)), None) if self.calling else None
        return ("call", air_calls.key_of(first)) if first is not None else super().default_selection(view)

    def show_tool(self, tool: str) -> None:
        if tool in ("register", "grille"):
            self.lens_index = 0
        if tool == "transfer":
            self.lens_index = 1
        if tool in ("zone", "thermostat"):
            self.lens_index = ZONES

    def reached(self, view: View) -> bool:
        return bool(view.job.design.registers) or all_heads(view)

    def missing(self, view: View) -> str:
        return super().missing(view) or ("" if view.s.unit else "Air needs a unit: press 3 and pick one")

    def headline(self, view: View) -> Headline:
        if all_heads(view):
            x = self.heads(view)
            flow = sum(b.flow_m3_s for b in x.blows)
            return Headline(
                self.mark(view),
                view.num("flow", flow),
                view.unit("flow"),
                f"{len(x.blows)} heads, {len(x.bare)} rooms without",
            )
        total = view.s.airflow.total_m3_s
        unit = view.s.unit
        size = (unit.nominal_w / (3516.85 if view.units == "ip" else 1000)) if unit else None
        per = total / size if size else None
        zones = sum(bool(z.rooms) for z in view.job.design.zones)
        second = f"{view.num('flow', per)}/{'ton' if view.units == 'ip' else 'kW'}" if per else "no unit yet"
        return Headline(
            self.mark(view),
            view.num("flow", total),
            view.unit("flow"),
            f"{second} · {zones} zone{'s' if zones != 1 else ''}" if zones else second,
        )

    def lens(self, view: View) -> Lens:
        flows = view.r.airflow.design_m3_s
        out = Lens(self.lenses[self.lens_index], registers=True, throws=self.lens_index == 0)
        if self.lens_index == 0 and view.indoor.kind == "ducted":
            out.takes_registers = view.indoor.id
        for s in view.job.storeys:
            mine = [i for i, r in enumerate(view.job.rooms) if r.storey == s.id]
            out.storey_figures[s.id] = view.num("flow", float(flows[mine].sum()))
        out.storey_unit = f"{view.unit('flow')}, design"
        if self.calling:
            air_calls.look(view, out, self.answer(view), self.tried)
            return out
        if self.zoning:
            air_zones.look(view, out, self.combination(view))
            return out
        if self.lens_index == HEADS:
            air_heads.look(view, out, self.heads(view))
            return out
        out.legend_title = f"{view.storey_name()}, doors shut" if self.lens_index == 1 else "Air"
        texts, dress = ((_need_text, _supply_look), (_pressure_text, _pressure_look), (_fresh_text, _fresh_look))[
            self.lens_index
        ]
        for i, r in on_storey(view):
            out.room_text[r.id] = [(r.name, "", 13, 600, ""), *texts(view, i)]
        dress(view, out)
        return out

    def strip(self, view: View) -> Strip:
        b, unit = view.s.blower, view.s.unit
        if unit is not None and (self.lens_index == HEADS or view.indoor.kind != "ducted"):
            return air_heads.strip(view, self.heads(view))
        if unit is None:
            return Strip("Works here", "–", ("no unit yet",), lambda p, r: None)
        flow = float(b.flow_m3_s[0]) if b else view.s.airflow.total_m3_s
        static = float(b.external_static_pa[0]) if b else None
        return Strip(
            f"{'As usual' if self.calling or self.zoning else 'Works here'}, tap {view.indoor.tap}",
            view.num("flow", flow),
            (
                f"at {view.text('pressure', static)}, clean" if static is not None else "no ducts yet",
                f"{b.power_w:.0f} W" if b else "",
            ),
            lambda p, r: fan_table(p, r, view),
            hero_unit=view.unit("flow"),
        )

    def ledger(self, view: View) -> Ledger:
        if self.calling:
            return air_calls.ledger(view, self.tried)
        if self.zoning:
            return air_zones.ledger(view, self.combinations(view))
        if self.lens_index == HEADS:
            return air_heads.ledger(view, self.heads(view))
        return rooms_table(view, _table(view))

    def card(self, view: View) -> Card:
        if not view.job.rooms:
            return Card("Air", "No rooms yet")
        if self.zoning:
            return air_zones.card(view, self.combinations(view), self.combination(view))
        if self.lens_index == HEADS:
            return air_heads.card(view, self.heads(view))
        if self.calling:
            buttons = (
                Button("call", "Other way", "Space", lambda: view.act.command("air.call"), True),
                Button("calls_back", "As usual", "X", lambda: view.act.command("air.calls_back")),
            )
            now = self.answer(view)
            return air_calls.card(view, self.tried, now, buttons, self._answer.busy)
        i = room_index(view)
        a, n, r = view.r.airflow, view.r.network, view.job.rooms[i]
        predicted = view.r.predicted_m3_s
        got = predicted[r.id] if predicted else None
        mark = room_state(view, r.id, AirStation.number)
        return Card(
            f"Room · {view.storey_name(r.storey)} · {zone_words(view, r.id)}",
            r.name,
            mark,
            {"good": "In balance", "look": "Look", "fails": "Fails", "none": "Not judged"}[mark],
            (
                (view.num("flow", float(a.cooling_m3_s[i])), "", "cooling"),
                (view.num("flow", float(a.heating_m3_s[i])), view.unit("flow"), "heating"),
            ),
            f"design {view.text('flow', float(a.design_m3_s[i]))}, predicted {view.text('flow', got)}",
            (
                (view.num("pascal", n.room_pressure_pa[r.id] if n else None), "Pa shut", "ink"),
                (view.num("flow", float(view.r.fresh_m3_s[i]), 1), "fresh", "fresh"),
            ),
            (
                *register_section(view),
                Fields("Change it", (*room_fields(r), *fresh_fields(view))),
                *arithmetic(view, i),
                reach(view, r),
                *room_buttons(view),
            ),
        )


TextLine = tuple[str, str, float, int, str]


def _need_text(view: View, i: int) -> list[TextLine]:
    """Air for the summer and for the winter."""
    a = view.r.airflow
    return [
        (view.num("flow", float(a.cooling_m3_s[i])), "", 22, 700, "cooling"),
        (view.num("flow", float(a.heating_m3_s[i])), "", 22, 700, "heating"),
    ]


def _pressure_text(view: View, i: int) -> list[TextLine]:
    """Pressure over what is beyond the door when it is shut."""
    n = view.r.network
    p = n.room_pressure_pa[view.job.rooms[i].id] if n else None
    shown = f"{view.num('pascal', p)} Pa" if p is not None else "–"
    return [(shown, "", 20, 700, "fails" if p is not None and abs(p) > DOOR_LIMIT_PA else "")]


def _fresh_text(view: View, i: int) -> list[TextLine]:
    """Its share of the outdoor air."""
    return [(view.num("flow", float(view.r.fresh_m3_s[i]), 1), view.unit("flow"), 20, 700, "fresh")]


def _supply_look(view: View, out: Lens) -> None:
    out.text_at = "row"
    out.legend = (
        Legend("line", "supply", f"to {view.text('velocity', 0.254, 0 if view.units == 'ip' else 2)}"),
        Legend("line", "cooling", "summer need"),
        Legend("line", "heating", "winter need"),
    )
    both = f"both at {view.text('flow', view.r.airflow.total_m3_s)}"
    out.note = (f"{view.unit('flow')} per room", "summer  winter", both)


def _pressure_look(view: View, out: Lens) -> None:
    out.legend = (Legend("line", "return", "return path"), Legend("line", "fails", f"over {DOOR_LIMIT_PA:g} Pa"))
    out.note = ("Doors shut", "room over what is beyond", f"limit {DOOR_LIMIT_PA:g} Pa")
    out.overlay = (lambda p, v: _way_back(p, v, view),)


def _fresh_look(view: View, out: Lens) -> None:
    kinds = dict.fromkeys(x.kind.upper() for x in view.job.design.ventilators)
    out.legend = (Legend("line", "fresh", "fresh air"), Legend("line", "ink", "exhaust"))
    out.note = ("Fresh air", f"{view.text('flow', view.fresh_m3_s)} in all", " and ".join(kinds) or "NONE")
    out.overlay = (lambda p, v: _exhausts(p, v, view),)


def _table(view: View) -> tuple[Told[Rooms], ...]:
    """Rooms by the air they need, are to get and get, and what stands on a shut door."""
    a, n, predicted = view.r.airflow, view.r.network, view.r.predicted_m3_s

    def got(x: Rooms) -> float | None:
        return sum(predicted[i] for i in x.ids) if predicted else None

    def share(x: Rooms) -> str:
        have, want = got(x), x.sum(a.design_m3_s)
        return f"{have / want * 100:.0f} %" if have and want else "–"

    def shut(x: Rooms) -> float | None:
        """Of the room, or of the worst one."""
        return max((n.room_pressure_pa[i] for i in x.ids), key=abs, default=0.0) if n else None

    def against(x: Rooms) -> Cell:
        if x.of != "room":
            return Cell("worst door" if x.whole else "")
        p = shut(x)
        return Cell(bar=abs(p) / (1.5 * DOOR_LIMIT_PA) if p is not None else None, bar_color="return", tick=1 / 1.5)

    def fresh(x: Rooms) -> float | None:
        return view.fresh_m3_s if x.whole else x.sum(view.r.fresh_m3_s)

    return (
        named(118),
        Told("Cooling", 86, lambda x: x.sum(a.cooling_m3_s) or 0.0, "flow"),
        Told("Heating", 90, lambda x: x.sum(a.heating_m3_s) or 0.0, "flow"),
        Told("Design", 82, lambda x: x.sum(a.design_m3_s) or 0.0, "flow", bold=True),
        Told("Predicted", 96, got, "flow", bold=True),
        Told("of design", 64, share),
        Told("Return path", 168, lambda x: way_back(view, x.id), align="l", alone=True),
        Told("Fresh", 72, fresh, "flow", decimals=1),
        Told("Shut", 64, lambda x: "" if x.of == "storey" else shut(x), "pascal", unit="Pa"),
        Told(f"limit {DOOR_LIMIT_PA:g}", 110, against, align="l"),
        state(30, lambda x: room_state(view, x.id, AirStation.number)),
    )


def _way_back(p: QPainter, v: Sheet, view: View) -> None:
    """Streams from each closed room through its door, on to the hall's return where it opens on the hall."""
    t, n = view.theme, view.r.network
    if n is None:
        return
    hub = halls(view.job).get(v.storey)
    grille = next(
        (
            x
            for x in view.job.design.registers
            if x.side == "return" and v.has_room(x.room) and v.room(x.room).storey == v.storey
        ),
        None,
    )
    to = v.to_px(*grille.position_m) if grille else v.shape(hub).centre if hub else None
    if to is None:
        return
    here = {o.id for o in v.openings()}
    for room_id, way in view.ways.home.items():
        o = way.door
        if o is None or o.id not in here or room_id not in n.layout.door_branch:
            continue
        flow = float(n.solution.flow_m3_s[n.layout.at(DOORS_SHUT), n.layout.door_branch[room_id]])
        a, b, inward = v.ends(o)
        door, inward = (a + b) / 2, inward if o.room == room_id else -inward
        start, inside = door + inward * 26, door - inward * 12
        # from a room behind another one the air is on its way in there, not yet in the hall
        stream = QPolygonF([start, inside, to] if way.beyond == hub else [start, inside])
        width = max(3.0, flow / CFM * 0.13)
        p.setPen(
            QPen(t("return_soft"), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin)
        )
        p.drawPolyline(stream)
        p.setPen(QPen(t("return"), 1.2))
        p.drawPolyline(stream)
        label = f"{view.num('flow', abs(flow))}"
        w = paint.text_width(label, 12, 700) + 10
        box = QRectF(start.x() - w / 2, start.y() - 8, w, 16)
        paint.rounded(p, box, t("paper"), t("return"), 3)
        paint.text(p, box.center().x(), box.center().y() + 4.3, label, 12, 700, t("return"), "c")
        v.labels.block(box)


def _exhausts(p: QPainter, v: Sheet, view: View) -> None:
    t = view.theme
    for r in v.rooms():
        if r.exhaust is None and r.use not in ("bath", "powder", "kitchen"):
            continue
        c = v.shape(r.id).centre
        at = QPointF(c.x(), c.y() + 34)
        label = f"fan {view.text('flow', r.exhaust.flow_m3_s)} out" if r.exhaust else "no fan"
        w = paint.text_width(label, 12, 600) + 12
        box = QRectF(at.x() - w / 2, at.y() - 9, w, 18)
        paint.rounded(
            p,
            box,
            t("paper") if r.exhaust else t("fails_soft") if r.use != "kitchen" else t("paper"),
            t("ink") if r.exhaust else t("outline"),
            3,
        )
        paint.text(p, box.center().x(), box.center().y() + 4.3, label, 12, 600, t("ink"), "c")
        v.labels.block(box)
