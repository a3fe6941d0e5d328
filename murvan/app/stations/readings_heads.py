"""Readings of heads: the temperatures of their air, and what they deliver by them."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from murvan.app import paint
from murvan.app.stations.base import Cell, Ledger, Strip, View
from murvan.app.stations.readings_targets import targets
from murvan.app.stations.told import Told, table
from murvan.design.drawing import room_at
from murvan.field.verdict import HeadVerdict

COLOR = {"good": "good", "look": "look", "fails": "fails", "none": "rule"}


def room_lines(view: View, room: str) -> list[tuple[str, str, float, int, str]]:
    """What a head of a room delivers, for the plan."""
    out = []
    for s in view.r.systems.values():
        v, own = view.v.heads.get(s.design.id), s.design.indoor
        here = room_at(view.job, own.storey, own.position_m) if own.storey is not None else None
        if v is None or here is None or here.id != room:
            continue
        words = f"{view.num('difference', abs(v.delta_k))}°" if v.delta_k is not None else "to read"
        out.append((words, "", 16.0, 700, COLOR[v.mark] if v.mark in ("look", "fails") else ""))
    return out


def strip(view: View) -> Strip:
    """What every head delivers against its table."""
    heads = tuple(view.v.heads.values())
    read = [v for v in heads if v.share is not None]

    def draw(p: QPainter, r: QRectF) -> None:
        t, wide = view.theme, r.width() - 260
        for k, v in enumerate(heads[:5]):
            y, left = r.top() + 14 + k * 16, r.left() + 158
            paint.text(p, r.left(), y, v.tag, 12, 600, t("ink"), width=150)
            p.fillRect(QRectF(left, y - 8, wide / 1.3, 8), t("rule"))
            if v.share is not None:
                p.fillRect(QRectF(left, y - 8, wide * min(v.share, 1.3) / 1.3, 8), t(COLOR[v.mark]))
            words = (
                f"{v.share * 100:.0f} % of {view.text('kpower', v.expected_w)}" if v.share is not None else "to read"
            )
            paint.text(p, left + wide + 4, y, words, 12, 500, t("ink2"))

    simulated = ", simulated" if any(v.simulated for v in heads) else ""
    return Strip("Heads read", f"{len(read)}", (f"of {len(heads)}{simulated}", "by the air of each"), draw)


def ledger(view: View) -> Ledger:
    """A row a head: its air, what that carries, against its table."""
    words: dict[str, list[str]] = {}
    for x in targets(view):
        if x.hole is not None:
            words.setdefault(x.place.at.id, []).append("" if x.measured is not None else x.place.word)

    def key(v: HeadVerdict) -> tuple[str, str]:
        unread = next((w for w in words.get(v.unit, ()) if w), None)
        return ("hole", unread) if unread else ("indoor_unit", v.unit)

    def at(v: HeadVerdict, hole: str) -> float | None:
        return next((h.measured for h in view.v.holes_of(v.unit) if h.place.hole == hole), None)

    def share(v: HeadVerdict) -> Cell:
        return Cell() if v.share is None else Cell(centre_bar=v.share - 1, bar_color=COLOR[v.mark])

    columns: tuple[Told[HeadVerdict], ...] = (
        Told("Head", 150, lambda v: v.tag, align="l", bold=True),
        Told("Air", 70, lambda v: v.flow_m3_s, "flow"),
        Told("Draws in", 84, lambda v: at(v, "return"), "temperature1"),
        Told("Blows out", 88, lambda v: at(v, "supply"), "temperature1"),
        Told("Apart", 70, lambda v: abs(v.delta_k) if v.delta_k is not None else None, "difference", bold=True),
        Told("expected", 80, lambda v: v.expected_k, "difference", unit=""),
        Told("Delivers", 86, lambda v: v.delivered_w, "kpower", bold=True),
        Told("of", 66, lambda v: v.expected_w, "kpower", unit=""),
        Told("Against its table", 150, share, align="l"),
        Told("", 76, lambda v: f"{v.share * 100:.0f} %" if v.share is not None else "to read", key="share"),
        Told("", 30, lambda v: Cell(mark=v.mark)),
    )
    return table(view, columns, ((key(v), v) for v in view.v.heads.values()))
