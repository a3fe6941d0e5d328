"""Calls: doors, zones, fans, filter, blower and weather tried the other way, and what the air then does in every room."""

from __future__ import annotations

from murvan.app.plan.air_layers import moving, shut_doors
from murvan.app.plan.lens import Legend, Lens
from murvan.app.plan.zone_layers import thermostats
from murvan.app.stations.base import Button, Buttons, Card, Cell, Ledger, List_, ListRow, View
from murvan.app.stations.common import on_storey
from murvan.app.stations.told import Told, table
from murvan.design import study
from murvan.design.circuit import Network
from murvan.design.house import ways

Tried = frozenset[tuple[str, str]]
NAME = "Calls"
MOVED = 0.05
"""Share of its air from which on a room is said to get more or less."""


def answer(view: View, tried: Tried) -> Network | None:
    """The air circuit as tried."""
    return study.answered(view.r, study.situation(view.r, tried))


def key_of(call: study.Call) -> str:
    return f"{call.kind}:{call.id}"


def toggled(tried: Tried, key: str) -> Tried:
    """A call the other way."""
    kind, _, item = key.partition(":")
    return tried ^ {(kind, item)}


def look(view: View, out: Lens, now: Network | None, tried: Tried) -> None:
    """Every room's air as it would be, and what it gets as usual where that differs; thermostats and doors to be clicked."""
    usual = view.r.network
    dampers = {x.zone_damper for x in view.job.design.runs}
    out.calling = frozenset(z.id for z in view.job.design.zones if z.id in dampers and ("zone", z.id) not in tried)
    out.door_calls = {w.door.id: f"door:{i}" for i, w in ways(view.job).home.items() if w.door is not None}
    if now is not None and usual is not None:
        out.overlay = (*out.overlay, moving(now.run_m3_s, usual.run_m3_s))
    shut = frozenset(door for door, key in out.door_calls.items() if ("door", key.removeprefix("door:")) in tried)
    out.overlay = (*out.overlay, shut_doors(shut), thermostats)
    out.legend = (
        Legend("fill", "supply_soft", "more air"),
        Legend("fill", "fails_soft", "less air"),
        Legend("fill", "paper", "as usual"),
    )
    out.legend_title = "Against usual"
    out.note = ("Calls", "air as tried", view.unit("flow"))
    out.plates = frozenset(r.id for _, r in on_storey(view))
    for _, r in on_storey(view):
        lines: list[tuple[str, str, float, int, str]] = [(r.name, "", 13, 600, "")]
        if now is not None and usual is not None:
            got, was = now.room_m3_s[r.id], usual.room_m3_s[r.id]
            lines.append((view.num("flow", got), "", 22, 700, "ink"))
            if abs(got - was) > MOVED * max(was, 1e-6):
                lines.append((f"was {view.num('flow', was)}", "", 12.5, 500, "ink2"))
                out.fills[r.id] = view.theme("supply_soft" if got > was else "fails_soft")
        out.room_text[r.id] = lines


def ledger(view: View, tried: Tried) -> Ledger:
    """Everything that can be tried."""

    def on(c: study.Call) -> bool:
        return (c.kind, c.id) in tried

    columns: tuple[Told[study.Call], ...] = (
        Told("Call", 190, lambda c: c.name, align="l", bold=True),
        Told("Now", 110, lambda c: Cell(c.on if on(c) else c.off, on(c)), align="l"),
        Told("", 40, lambda c: "●" if on(c) else ""),
        Told("As usual", 110, lambda c: Cell(c.off, color="ink2"), align="l"),
    )
    return table(view, columns, ((("call", key_of(c)), c) for c in study.calls_of(view.r)))


def card(view: View, tried: Tried, now: Network | None, act: tuple[Button, ...], waits: bool) -> Card:
    """What the calls do: blower, static, house pressure, and the rooms that get more or less.

    Args:
        waits: The answer is still being worked out.
    """
    usual = view.r.network
    if waits:
        return Card("Calls", "Working out …", "none", sections=(Buttons(act),))
    if now is None or usual is None:
        why = (
            "This state does not close; take a call back"
            if usual is not None
            else "No air circuit yet: lay ducts with a supply and a return"
        )
        return Card("Calls", "Not judged", "none", hero_note=why, sections=(Buttons(act),))
    n = len(tried)
    title = "As usual" if not n else f"{n} call{'s' if n > 1 else ''} the other way"
    flow = sum(float(b.flow_m3_s[0]) for b in now.blowers.values())
    was = sum(float(b.flow_m3_s[0]) for b in usual.blowers.values())
    over = study.over_outdoors_pa(now)
    return Card(
        "Calls",
        title,
        None,
        hero=((view.num("flow", flow), view.unit("flow"), "ink"),),
        hero_note=f"through the blower, as usual {view.text('flow', was)}",
        side=((view.num("pascal", now.house_pressure_pa), "Pa house", "ink"),),
        sections=(_blowers(view, now, usual), List_("Over the outdoors", "Pa", _rooms(view, over)), Buttons(act)),
    )


def _blowers(view: View, now: Network, usual: Network) -> List_:
    rows = []
    for i, b in now.blowers.items():
        tag = view.r.systems[i].design.indoor.tag
        before, leaks = usual.blowers[i], now.leaks[i]
        rows += [
            ListRow(
                f"Static of {tag}",
                view.text("pressure", float(b.external_static_pa[0])),
                f"usual {view.num('pressure', float(before.external_static_pa[0]))}",
            ),
            ListRow(
                "Ducts leak",
                view.text("flow", leaks.supply + leaks.back, 1),
                f"{view.num('flow', leaks.outside, 1)} outside",
            ),
        ]
    return List_("Units", "", tuple(rows))


def _rooms(view: View, over: dict[str, float]) -> tuple[ListRow, ...]:
    ends = sorted(view.job.rooms, key=lambda r: -abs(over.get(r.id, 0.0)))[:8]
    return tuple(ListRow(r.name, view.num("pascal", over[r.id]), key=("room", r.id)) for r in ends if r.id in over)
