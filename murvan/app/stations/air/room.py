"""The card of a room on Air: its registers, what can be changed, how its air gets back."""

from __future__ import annotations

from collections.abc import Iterator

from murvan.app.stations.base import Arith, Button, Buttons, Field_, Fields, List_, ListRow, Section, View
from murvan.app.stations.common import room_mark, unjudged
from murvan.app.stations.fields import of, of_part, of_sub
from murvan.catalog.registers import faces
from murvan.design.ducts import explain_room, fresh_air_wanted
from murvan.design.explain import explain_door
from murvan.design.house import halls
from murvan.model import Exhaust, Job, Room, Transfer, make, replace
from murvan.model.design_edit import with_ventilator

RATES = {
    "ip": (("standard", ".03 cfm/ft², 62.2"), ("reduced", ".01 cfm/ft²")),
    "si": (("standard", "0.15 L/s·m², 62.2"), ("reduced", "0.05 L/s·m²")),
}


"""Fresh air by floor area, as a choice."""


VENTILATORS = (
    ("none", "None"),
    ("erv", "ERV"),
    ("hrv", "HRV"),
    ("supply", "Supply only"),
    ("exhaust", "Exhaust only"),
)


def register_section(view: View) -> Iterator[Section]:
    """What can be changed of the register that is selected."""
    x = next((x for x in view.job.design.registers if x.id == view.selected("register")), None)
    if x is not None:
        alike = tuple((f.id, f.name) for f in faces().values() if f.side == x.side)
        names = ("tag", "kind", "width_m", "height_m", "free_area", "loss", "noise_nc")
        own = (*names, "throw_k", "share") if x.side == "supply" else names
        yield Fields(x.tag, (of("registers", x, "item", options=alike), *(of("registers", x, k) for k in own)))


def room_buttons(view: View) -> Iterator[Section]:
    """What can be done with the registers of a ducted unit."""
    if view.indoor.kind != "ducted":
        return
    out = [Button("lay", "Lay registers", "L", lambda: view.act.command("air.lay"), not view.s.design.registers)]
    if view.selected("register"):
        out.append(Button("away", "Take away", "Del", lambda: view.act.command("air.remove")))
    yield Buttons(tuple(out))


def room_state(view: View, room: str, station: int) -> str:
    """The worst finding of a room at a station; without an air circuit nothing else was judged."""
    mark = room_mark(view, room, station)
    return unjudged(mark) if view.r.network is None else mark


def room_fields(r: Room) -> tuple[Field_, ...]:
    """How the room's air gets back, and its exhaust fan."""
    return (
        *(of_sub("rooms", r, "transfer", name, Transfer()) for name in ("kind", "area_m2", "undercut_m")),
        Field_(
            f"{r.id}.exhaust",
            "Exhaust fan",
            "flow",
            r.exhaust.flow_m3_s if r.exhaust else 0.0,
            lambda job, v: _exhaust(job, r.id, float(v)),
            f"Change exhaust of {r.name}",
        ),
    )


def fresh_fields(view: View) -> tuple[Field_, ...]:
    """The ventilator of the house."""
    job, found = view.job, view.job.design.ventilators
    return (
        Field_(
            "vent.flow",
            "Fresh air, house",
            "flow",
            view.fresh_m3_s,
            lambda job, v: with_ventilator(job, flow_m3_s=v),
            "Change fresh air",
        ),
        of_part(job, "indoor", "fresh_air", options=RATES[view.units]),
        of_part(job, "air", "returns"),
        Field_(
            "vent.kind",
            "Ventilator",
            "text",
            found[0].kind if found else "none",
            lambda job, v: with_ventilator(job, kind=v),
            "Change ventilator",
            VENTILATORS,
        ),
    )


def arithmetic(view: View, i: int) -> tuple[Arith, ...]:
    """What the shut door does, where the room has one, and how the room's air was shared out."""
    r, n = view.job.rooms[i], view.r.network
    air = explain_room(view.r.serving(i).airflow, view.r.loads, i)
    way = view.ways.home.get(r.id)
    door = way.door if way else None
    if n is None or door is None:
        return (Arith(air, True),)
    return Arith(explain_door(n, r.id, r.transfer or Transfer(), door.width_m)), Arith(air, False)


UNHEARD_NC = 15
"""Lower than any room is quiet; common practice."""


def reach(view: View, r: Room) -> List_:
    """How far the room's registers throw, and the fresh air of the house."""
    rows = []
    for x in view.job.design.registers:
        terminal = view.r.terminals.get(x.id)
        if x.room != r.id or x.side != "supply" or terminal is None:
            continue
        rows += [
            ListRow(
                f"{x.tag.split()[0]} reaches {view.text('length', terminal.throw_m)}",
                f"{terminal.throw_m / terminal.wall_m * 100:.0f} %" if terminal.wall_m else "–",
                f"wall at {view.text('length', terminal.wall_m)}",
                key=("register", x.id),
            ),
            ListRow(
                "Face speed",
                view.num("velocity", terminal.face_velocity_m_s),
                f"limit {view.text('velocity', terminal.limit_m_s)}",
            ),
        ]
        if terminal.noise_nc is not None:
            usual = "Murvan default, editable" if terminal.register.noise_nc is None else ""
            nc = f"NC {terminal.noise_nc:.0f}" if terminal.noise_nc >= UNHEARD_NC else f"under NC {UNHEARD_NC}"
            rows.append(ListRow("Noise", nc, usual))
    want = fresh_air_wanted(view.job, view.r.geometry.total_area_m2)
    has = f"has {view.text('flow', view.fresh_m3_s)}"
    rows.append(ListRow("Fresh air wanted, house", view.num("flow", want), has))
    return List_("Reach and fresh air", "", tuple(rows))


def _exhaust(job: Job, room: str, flow: float) -> Job:
    fan = make(Exhaust, "Exhaust fan", flow_m3_s=flow) if flow != 0 else None
    return replace(job, "rooms", room, exhaust=fan)


def way_back(view: View, room_id: str) -> str:
    """How a room's air gets back, in words."""
    job = view.job
    if any(x.room == room_id and x.side == "return" for x in job.design.registers):
        flow = sum(
            view.r.airflow.register_m3_s.get(x.id, 0)
            for x in job.design.registers
            if x.room == room_id and x.side == "return"
        )
        return f"return, {view.num('flow', flow)}"
    r = next(x for x in job.rooms if x.id == room_id)
    way = view.ways.home.get(room_id)
    if way is None:
        return "hall"
    if way.door is None:
        into = next(x for x in job.rooms if x.id == way.beyond)
        return "open to the hall" if into.id in halls(job).values() else f"open to {into.name}"
    t = r.transfer
    if t is None or t.kind == "undercut":
        return "undercut"
    return f"{view.num('small_area', t.area_m2)} {view.unit('small_area')} {'jump duct' if t.kind == 'jump' else 'grille'}"
