"""Station 2, Loads: what each room needs, and why."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.stations.base import (
    Arith,
    BarRow,
    Bars,
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
    Row,
    Station,
    Strip,
    View,
    room_index,
)
from murvan.app.stations.common import (
    COOL_STEPS,
    HEAT_STEPS,
    on_storey,
    other_rows,
    room_mark,
    room_rows,
    set_in,
    set_part,
    step_fill,
    step_legend,
)
from murvan.design.airflow import explain_room
from murvan.design.explain_loads import explain_component, explain_heating
from murvan.design.loads import COLUMN, COMPONENT_WORDS, COMPONENTS
from murvan.model import Job
from murvan.model.edit import changed


def _second_look(view: View, i: int) -> List_:
    """Both methods beside each other: load factors, and the heat balance at the room's own peak."""
    day, factors = view.r.balance, float(view.r.loads.sensible_w[i])
    mine = day.room_w[i]
    at = int(mine.argmax())
    peak = float(mine[at])
    parts = day.sensible_w[i, :, at]
    driver = COMPONENT_WORDS[COMPONENTS[int(parts.argmax())]] if peak > 1 else "nothing"
    house = day.house_peak_hour
    return List_(
        "Heat balance of the design day",
        "sensible",
        (
            ListRow(
                f"Own peak, {at + 1}:00",
                view.num("power", peak),
                view.unit("power"),
                second=f"most of it {driver.lower()}",
            ),
            ListRow(
                f"At the house's peak, {house}:00", view.num("power", float(mine[house - 1])), view.unit("power")
            ),
            ListRow(
                "By load factors", view.num("power", factors), view.unit("power"), second=_why_apart(peak, factors)
            ),
        ),
    )


def _why_apart(balance: float, factors: float) -> str:
    """The difference of the methods in words."""
    if factors <= 1:
        return ""
    apart = balance / factors - 1
    share = f"{abs(apart):.0%}".replace("%", " %")
    if abs(apart) <= 0.15:
        return f"{share} {'below' if apart > 0 else 'above'} the balance"
    if apart > 0:
        return f"{share} below: factors let the room swing, the balance holds it"
    return f"{share} above: factors take no storage in walls and floors"


class LoadsStation(Station):
    number, name = 2, "Loads"
    lenses = ("Cooling", "Heating", "Hour")

    def headline(self, view: View) -> Headline:
        ld = view.r.loads
        return Headline(
            self.mark(view),
            view.num("kpower", ld.house_cooling_w),
            f"{view.unit('kpower')} cool",
            f"{view.num('kpower', ld.house_heating_w)} heat at {view.text('temperature', view.job.climate.winter_c, 0)}",
        )

    def lens(self, view: View) -> Lens:
        ld, g, c = view.r.loads, view.r.geometry, view.r.conditions
        heat = self.lens_index == 1
        values = ld.heating_w if heat else ld.cooling_w
        if self.lens_index == 2:
            values = np.maximum(view.r.balance.room_w[:, view.hour - 1], 0)
        steps, family = (HEAT_STEPS, "heat") if heat else (COOL_STEPS, "load")
        out = Lens(self.lenses[self.lens_index])
        for i, r in on_storey(view):
            density = float(values[i]) / g.area_m2[i]
            out.fills[r.id] = step_fill(view.theme, density, steps, family)
            out.room_text[r.id] = [
                (r.name, "", 13, 600, ""),
                (view.num("power", float(values[i])), "", 27, 700, ""),
                (f"{view.num('flux', density)} /{view.unit('area')}", "", 12, 500, ""),
            ]
        sums = {
            s.id: sum(float(values[i]) for i, r in enumerate(view.job.rooms) if r.storey == s.id)
            for s in view.job.storeys
        }
        out.storey_figures = {k: view.num("kpower", v) for k, v in sums.items()}
        out.storey_unit = view.unit("kpower") + (f" at {view.hour}:00" if self.lens_index == 2 else "")
        out.legend_title = (
            f"{'Heating' if heat else 'At the hour' if self.lens_index == 2 else 'Cooling'}  {view.unit('flux')}"
        )
        out.legend = (*step_legend(view, steps, family), Legend("wall", "sun", "sun on glass"))
        if not heat:
            sun = ld.glass.sun_w_m2[view.hour - 1]
            out.sun = {
                o.id: float(sun[k]) / 900
                for k, o in enumerate(view.job.openings)
                if o.kind == "window" and sun[k] > 30
            }
        if heat:
            out.note = (
                "Winter design",
                f"{view.text('temperature', view.job.climate.winter_c)} outside",
                "no sun, no gains",
            )
        else:
            out.note = (
                f"Design day, {view.hour}:00",
                f"{view.text('temperature', float(c.hourly_outdoor_c[view.hour - 1]))} outside",
                _sun_words(float(c.sun_altitude_deg[view.hour - 1]), float(c.sun_azimuth_deg[view.hour - 1])),
            )
        return out

    def strip(self, view: View) -> Strip:
        day = view.r.balance
        whole = day.house_w
        if not view.job.rooms or float(whole.max(initial=0.0)) <= 0:
            return Strip("Design day", "–", ("nothing to cool",), lambda p, r: None)
        i = room_index(view)
        factors = view.r.loads.house_sensible_w
        peak = float(whole.max())

        def draw(p: QPainter, r: QRectF) -> None:
            _day(p, r, view, i)

        return Strip(
            "Heat balance, peak",
            f"{day.house_peak_hour}:00",
            (f"{view.text('kpower', peak)} sensible", f"factors say {view.num('kpower', factors)}"),
            draw,
            keys=("[", "]"),
            click=lambda x, r: view.act.set_hour(
                min(max(int((x - r.left() - 14) / (r.width() - 14) * 24) + 1, 1), 24)
            ),
        )

    def ledger(self, view: View) -> Ledger:
        ld, g, a = view.r.loads, view.r.geometry, view.r.airflow
        cool, top_c, top_h = ld.cooling_w, float(ld.cooling_w.max(initial=1)), float(ld.heating_w.max(initial=1))

        def cells(i: int, _: object) -> list[Cell]:
            return [
                Cell(view.job.rooms[i].name, True),
                Cell(view.num("area", g.area_m2[i], 0)),
                Cell(view.num("power", float(cool[i])), True),
                Cell(bar=float(cool[i]) / top_c),
                Cell(view.num("flux", float(cool[i]) / g.area_m2[i])),
                Cell(view.num("power", float(ld.sensible_w[i]))),
                Cell(view.num("power", float(ld.latent_w[i]))),
                Cell(f"{view.r.balance.room_peak_hour[i]}:00" if view.r.balance.room_w[i].max() > 1 else "–"),
                Cell(view.num("power", float(ld.heating_w[i])), True),
                Cell(bar=float(ld.heating_w[i]) / top_h, bar_color="heating"),
                Cell(view.num("flow", float(a.design_m3_s[i])), True),
                Cell(mark=room_mark(view, view.job.rooms[i].id, 2)),
            ]

        def other(idx: list[int]) -> list[Cell]:
            area = sum(g.area_m2[i] for i in idx)
            return [
                Cell(view.num("area", area, 0)),
                Cell(view.num("power", float(cool[idx].sum()))),
                Cell(),
                Cell(view.num("flux", float(cool[idx].sum()) / area)),
                Cell(view.num("power", float(ld.sensible_w[idx].sum()))),
                Cell(view.num("power", float(ld.latent_w[idx].sum()))),
                Cell(),
                Cell(view.num("power", float(ld.heating_w[idx].sum()))),
                Cell(),
                Cell(view.num("flow", float(a.design_m3_s[idx].sum()))),
                Cell("▸"),
            ]

        total = Row(
            None,
            (
                Cell("House"),
                Cell(view.num("area", g.total_area_m2, 0)),
                Cell(view.num("power", ld.house_cooling_w)),
                Cell(),
                Cell(view.num("flux", ld.house_cooling_w / max(g.total_area_m2, 0.1))),
                Cell(view.num("power", ld.house_sensible_w)),
                Cell(view.num("power", ld.house_latent_w)),
                Cell(),
                Cell(view.num("power", ld.house_heating_w)),
                Cell(),
                Cell(view.num("flow", float(a.design_m3_s.sum()))),
                Cell(),
            ),
        )
        u = view.unit("power")
        columns = (
            Column("Room", "", 112, "l"),
            Column("Floor", view.unit("area"), 70),
            Column("Cooling", u, 94),
            Column("", "", 84),
            Column(f"per {view.unit('area')}", "", 52),
            Column("Sensible", "", 68),
            Column("Latent", "", 60),
            Column("Peak hour", "", 76),
            Column("Heating", u, 96),
            Column("", "", 74),
            Column("Air", view.unit("flow"), 62),
            Column("", "", 30),
        )
        return Ledger(columns, room_rows(view, cells), other_rows(view, other), total)

    def card(self, view: View) -> Card:
        if not view.job.rooms:
            return Card("Loads", "No rooms yet", hero_note="Loads needs rooms: press 1")
        i = room_index(view)
        job, g, c, ld = view.job, view.r.geometry, view.r.conditions, view.r.loads
        r = job.rooms[i]
        heat = self.lens_index == 1
        parts = ld.heating_parts[i] if heat else ld.sensible_parts[i] + ld.latent_parts[i]
        order = [int(k) for k in np.argsort(-parts) if abs(parts[k]) > 0.5]
        chosen = view.selected("component")
        wanted = chosen.rpartition(":")[2] if chosen and chosen.startswith(r.id + ":") else None
        if wanted not in COMPONENTS:
            wanted = COMPONENTS[order[0]] if order else COMPONENTS[0]
        top = max(float(parts.max(initial=1.0)), 1.0)
        rows = tuple(
            BarRow(
                ("component", f"{r.id}:{COMPONENTS[k]}"),
                COMPONENT_WORDS[COMPONENTS[k]],
                max(float(parts[k] if heat else ld.sensible_parts[i, k]), 0) / top,
                0.0 if heat else max(float(ld.latent_parts[i, k]), 0) / top,
                view.num("power", float(parts[k])),
                COMPONENTS[k] == wanted,
                "heating" if heat else "cooling",
            )
            for k in order[:8]
        )
        rest = float(sum(parts[k] for k in order[8:]))
        if rest:
            rows = (*rows, BarRow(None, "The rest", max(rest, 0) / top, 0, view.num("power", rest)))
        value = float(ld.heating_w[i]) if heat else float(ld.cooling_w[i])
        total = (
            r.name,
            ""
            if heat
            else f"{view.num('power', float(ld.sensible_w[i]))} sens + {view.num('power', float(ld.latent_w[i]))} lat",
            view.num("power", value),
        )
        arith = explain_heating(job, g, c, ld, i) if heat else explain_component(job, g, c, ld, i, wanted)
        whole = ld.house_heating_w if heat else ld.house_cooling_w
        side = (
            (
                view.num("power", float(ld.cooling_w[i] if heat else ld.heating_w[i])),
                "cool" if heat else "heat",
                "cooling" if heat else "heating",
            ),
            (view.num("flow", float(view.r.airflow.design_m3_s[i])), view.unit("flow"), "ink"),
        )
        return Card(
            f"Room · {view.storey_name(r.storey)} · zone {r.zone or '–'}",
            r.name,
            room_mark(view, r.id, 2),
            "",
            ((view.num("power", value), f"{view.unit('power')} {'heat' if heat else 'cool'}", "ink"),),
            f"{value / whole:.0%} of the house".replace("%", " %") if whole else "",
            side,
            (
                Bars("What makes it", view.unit("power"), rows, total),
                *(() if heat else (_second_look(view, i),)),
                self._fields(view, i),
                Arith(arith),
                Arith(explain_room(job, view.r.airflow, ld, i), False),
            ),
        )

    def _fields(self, view: View, i: int) -> Fields:
        job, r = view.job, view.job.rooms[i]
        mine = [o for o in job.openings if o.room == r.id and o.kind in ("window", "skylight")]
        fields = [
            Field_(
                f"{r.id}.people",
                "People at peak",
                "people",
                r.people,
                set_in("rooms", r.id, "people"),
                f"Change people in {r.name}",
            ),
            Field_(
                f"{r.id}.appliances",
                "Own appliances",
                "power",
                r.appliances_w,
                set_in("rooms", r.id, "appliances_w"),
                f"Change appliances in {r.name}",
            ),
        ]
        if mine:

            def blinds(job: Job, value: float | str) -> Job:
                return changed(
                    job,
                    job.name,
                    openings=tuple(
                        changed(o, blinds=float(value)) if o.room == r.id and o.kind == "window" else o
                        for o in job.openings
                    ),
                )

            def glass(job: Job, value: float | str) -> Job:
                return changed(
                    job,
                    job.name,
                    openings=tuple(
                        changed(o, glazing=str(value)) if o.room == r.id and o.kind == "window" else o
                        for o in job.openings
                    ),
                )

            fields += [
                Field_(
                    f"{r.id}.blinds", "Blinds let in", "percent", mine[0].blinds, blinds, f"Change blinds in {r.name}"
                ),
                Field_(
                    f"{r.id}.glass",
                    "Glazing",
                    "text",
                    mine[0].glazing or "",
                    glass,
                    f"Change glazing in {r.name}",
                    tuple((x.id, x.name) for x in job.glazings),
                ),
            ]
        fields += [
            Field_(
                "indoor.cooling",
                "Indoor, cooling",
                "temperature",
                job.indoor.cooling_c,
                set_part("indoor", "cooling_c"),
                "Change indoor cooling temperature",
            ),
            Field_(
                "indoor.heating",
                "Indoor, heating",
                "temperature",
                job.indoor.heating_c,
                set_part("indoor", "heating_c"),
                "Change indoor heating temperature",
            ),
            Field_(
                "climate.summer",
                "Summer design",
                "temperature",
                job.climate.summer_c,
                set_part("climate", "summer_c"),
                "Change summer design temperature",
            ),
            Field_(
                "climate.winter",
                "Winter design",
                "temperature",
                job.climate.winter_c,
                set_part("climate", "winter_c"),
                "Change winter design temperature",
            ),
            Field_(
                "leakage.ach50",
                "Leaks at 50 Pa",
                "per_hour",
                job.leakage.ach50,
                set_part("leakage", "ach50"),
                "Change air leakage",
            ),
            Field_(
                "air.allowance",
                "Duct allowance, attic",
                "percent",
                job.air.duct_allowance,
                set_part("air", "duct_allowance"),
                "Change duct allowance",
            ),
        ]
        return Fields("Change it", tuple(fields))


def _sun_words(altitude: float, azimuth: float) -> str:
    if altitude <= 0:
        return "sun is down"
    names = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")
    return f"sun in the {names[int(azimuth / 45 + 0.5) % 8]}"


GROUPS: tuple[tuple[str, tuple[str, ...], str], ...] = (
    ("Glass", tuple(c for c in COMPONENTS if c.startswith("glass")), "sun"),
    ("Roof", ("ceiling",), "load4"),
    ("Walls, doors", ("walls", "doors", "garage"), "load3"),
    ("Floor", ("floor",), "garage"),
    ("Outdoor air", ("leakage", "fresh_air"), "load2"),
    ("People, appliances", ("people", "appliances"), "inner"),
)
"""Components of the hour chart, from the ground up."""


def _day(p: QPainter, r: QRectF, view: View, room: int) -> None:
    """24 bars of the house's sensible load by component, its total, and when the selected room peaks."""
    t, day = view.theme, view.r.balance
    r = r.adjusted(14, 0, 0, 0)
    top, bottom = 26.0, r.bottom() - 16
    parts = [(n, day.sensible_w[:, [COLUMN[c] for c in cs]].sum(axis=(0, 1)), role) for n, cs, role in GROUPS]
    highest = max(float(sum(np.maximum(v, 0) for _, v, _ in parts).max()), 1.0)
    step = r.width() / 24
    _key(p, r, view, parts, f"{view.job.rooms[room].name} peaks at {day.room_peak_hour[room]}")
    p.setPen(QPen(t("rule"), 1))
    for share in (0.5, 1.0):
        y = bottom - (bottom - top) * share
        p.drawLine(int(r.left()), int(y), int(r.right()), int(y))
        label = view.num("kpower", highest * share, 0 if view.units == "ip" else 1)
        paint.text(p, r.left() - 4, y + 4, label, 11, 500, t("ink3"), "r")
    line = QPolygonF()
    for h in range(24):
        left = r.left() + h * step
        on = h + 1 == view.hour
        if on:
            p.fillRect(QRectF(left, 22, step, r.height() - 22), t("select"))
        y = bottom
        for _, values, role in parts:
            tall = (bottom - top) * max(float(values[h]), 0.0) / highest
            p.fillRect(QRectF(left + 3, y - tall, step - 6, tall), t(role))
            y -= tall
        total = (bottom - top) * max(float(day.house_w[h]), 0.0) / highest
        line.append(QPointF(left + step / 2, bottom - total))
        if h + 1 == day.room_peak_hour[room]:
            p.setPen(QPen(t("ink"), 2))
            p.drawLine(QPointF(left + 2, bottom + 2), QPointF(left + step - 2, bottom + 2))
        if (h + 1) % 3 == 0 or on:
            color = t("on_select") if on else t("ink2")
            paint.text(p, left + step / 2, r.bottom() - 3, str(h + 1), 11.5, 700 if on else 500, color, "c")
    p.setBrush(Qt.BrushStyle.NoBrush)
    for color, width in ((t("paper"), 4.5), (t("ink"), 2.2)):
        p.setPen(QPen(color, width))
        p.drawPolyline(line)
    p.setPen(QPen(t("ink"), 1))
    p.drawLine(int(r.left()), int(bottom), int(r.right()), int(bottom))


def _key(p: QPainter, r: QRectF, view: View, parts: list[tuple[str, np.ndarray, str]], note: str) -> None:
    """What the colours are, as far as there is room, and a note at the right."""
    t = view.theme
    end = r.right() - paint.text_width(note, 12, 600) - 10
    paint.text(p, r.right(), 18, note, 12, 600, t("ink"), "r")
    x = r.left()
    for name, values, role in parts:
        need = 17 + paint.text_width(name, 12, 500) + 10
        if x + need > end or float(np.maximum(values, 0).max()) <= 0:
            continue
        p.fillRect(QRectF(x, 8, 11, 11), t(role))
        paint.text(p, x + 16, 18, name, 12, 500, t("ink2"))
        x += need
