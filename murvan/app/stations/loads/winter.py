"""The strip below the Heating lens: what each room loses on the coldest hour, by component."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.stations.base import Strip, View, room_index
from murvan.design.loads import COLUMN, COMPONENTS

GROUPS: tuple[tuple[str, tuple[str, ...], str], ...] = (
    ("Outdoor air", ("leakage", "fresh_air"), "heat2"),
    ("Glass", tuple(c for c in COMPONENTS if c.startswith("glass")), "heat3"),
    ("Walls, doors", ("walls", "doors", "garage"), "heat4"),
    ("Roof", ("ceiling",), "inner"),
    ("Floor", ("floor",), "garage"),
    ("Ducts, recovery", ("ducts", "recovery"), "sun"),
)
"""Components of the columns, from the ground up."""
NAMED = 34.0
"""Width of a column from which on it has its room's name, px."""


def winter_strip(view: View) -> Strip:
    """Rooms side by side on the winter design hour, stacked by component; a click selects the room."""
    ld, job = view.r.loads, view.job
    if not job.rooms or ld.house_heating_w <= 0:
        return Strip("Winter design", "–", ("nothing to heat",), lambda p, r: None)
    drop = view.r.conditions.heating_difference_k
    per_k = view.text("ua", ld.house_heating_w / drop, 0) if drop > 0 else ""
    area = view.r.geometry.total_area_m2

    def click(x: float, _: float, r: QRectF) -> None:
        i = int((x - _plot(r).left()) // (_plot(r).width() / len(job.rooms)))
        if 0 <= i < len(job.rooms):
            view.act.select("room", job.rooms[i].id)

    i = room_index(view)
    return Strip(
        f"House at {view.text('temperature', job.climate.winter_c)}",
        view.num("kpower", ld.house_heating_w),
        (per_k, f"{view.text('flux', ld.house_heating_w / area)} of floor" if area > 0 else ""),
        lambda p, r: _chosen(p, r, view, i),
        hero_unit=view.unit("kpower"),
        click=click,
        still=lambda p, r: _columns(p, r, view, i),
        still_key=(ld, "winter", i, view.units),
    )


def _plot(r: QRectF) -> QRectF:
    return r.adjusted(14, 0, 0, 0)


def _groups(view: View) -> list[tuple[str, np.ndarray, str]]:
    """(name, W by room, colour role) of the stacked parts that are there."""
    parts = view.r.loads.heating_parts
    found = [(n, parts[:, [COLUMN[c] for c in cs]].sum(axis=1), role) for n, cs, role in GROUPS]
    return [x for x in found if float(np.maximum(x[1], 0).max()) > 1]


def _chosen(p: QPainter, r: QRectF, view: View, room: int) -> None:
    r = _plot(r)
    step = r.width() / len(view.job.rooms)
    p.fillRect(QRectF(r.left() + room * step, 27, step, r.height() - 27), view.theme("select"))


def _columns(p: QPainter, r: QRectF, view: View, room: int) -> None:
    t, rooms, groups = view.theme, view.job.rooms, _groups(view)
    r = _plot(r)
    top, bottom = 32.0, r.bottom() - 16
    highest = max(float(sum(np.maximum(v, 0) for _, v, _ in groups).max()), 1.0)
    step = r.width() / len(rooms)
    p.setPen(QPen(t("rule"), 1))
    for share in (0.5, 1.0):
        y = bottom - (bottom - top) * share
        p.drawLine(int(r.left()), int(y), int(r.right()), int(y))
        paint.text(p, r.left() - 4, y + 4, view.num("kpower", highest * share, 1), 11, 500, t("ink3"), "r")
    side = min(max(step * 0.16, 1.0), 12.0)
    for i, spot in enumerate(rooms):
        left, y = r.left() + i * step, bottom
        for _, values, role in groups:
            tall = (bottom - top) * max(float(values[i]), 0.0) / highest
            p.fillRect(QRectF(left + side, y - tall, step - 2 * side, tall), t(role))
            y -= tall
        if step >= NAMED:
            color = t("on_select") if i == room else t("ink2")
            weight = 600 if i == room else 500
            name = paint.elided(spot.name, 11, weight, step - 2)
            paint.text(p, left + step / 2, r.bottom() - 3, name, 11, weight, color, "c")
    p.setPen(QPen(t("ink"), 1))
    p.drawLine(int(r.left()), int(bottom), int(r.right()), int(bottom))
    x = r.left()
    for name, _, role in groups:
        p.fillRect(QRectF(x, 8, 11, 11), t(role))
        x += 16 + paint.text(p, x + 16, 18, name, 12, 500, t("ink2")) + 12
