"""Station 3, Equipment: capacity against load, balance point, size limits, candidates."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from murvan.app import paint
from murvan.app.stations.base import (
    Arith,
    Button,
    Buttons,
    Canvas,
    Card,
    Cell,
    Column,
    Field_,
    Fields,
    Headline,
    Ledger,
    Lens,
    List_,
    ListRow,
    Row,
    Section,
    Station,
    Strip,
    View,
)
from murvan.app.stations.common import COOL_STEPS, set_part, step_fill
from murvan.catalog import units as catalogue
from murvan.design.equipment import (
    SIZE_LIMITS,
    Candidate,
    cooling_capacity,
    explain_balance,
    explain_capacity,
    heating_capacity,
    load_line,
)
from murvan.design.terminals import FACE_LIMIT, filter_velocity_m_s
from murvan.model import Job, replace_part

SAYS = {"fits": "fits", "small": "too small", "big": "too big", "latent": "latent short", "heat": "heat short"}
MARK = {"fits": "good", "small": "fails", "big": "fails", "latent": "look", "heat": "look"}
KIND = {"heat_pump": "heat pump", "furnace_coil": "furnace, coil", "slim_ducted": "slim ducted", "wall": "wall unit"}


class EquipmentStation(Station):
    number, name = 3, "Equipment"
    lenses = ("Room share",)

    def headline(self, view: View) -> Headline:
        x = view.r.equipment.chosen
        if x is None:
            return Headline("none", "no unit", "", "pick a candidate")
        second = f"balance {view.text('temperature', x.balance_c, 0)}" if x.balance_c is not None else x.unit.name
        return Headline(
            self.mark(view),
            view.num("tons", x.unit.nominal_w),
            f"{view.unit('tons')} · {x.total_share:.0%}".replace("%", " %"),
            second,
        )

    def lens(self, view: View) -> Lens:
        ld = view.r.loads
        sums = {
            s.id: view.num(
                "kpower", sum(float(ld.cooling_w[i]) for i, r in enumerate(view.job.rooms) if r.storey == s.id)
            )
            for s in view.job.storeys
        }
        return Lens("Room share", storey_figures=sums, storey_unit=view.unit("kpower"))

    def default_selection(self, view: View) -> tuple[str, str] | None:
        if view.job.system.unit:
            return ("unit", view.job.system.unit)
        best = view.r.equipment.candidates if view.job.rooms else ()
        return ("unit", best[0].unit.id) if best else None

    def strip(self, view: View) -> Strip:
        return Strip("", "", (), lambda p, r: None)

    def shown_unit(self, view: View) -> Candidate | None:
        """The unit that card and chart are of."""
        wanted = view.selected("unit")
        e = view.r.equipment
        return next((x for x in e.candidates if x.unit.id == wanted), None) or e.chosen

    def canvas(self, view: View) -> Canvas:
        def draw(p: QPainter, r: QRectF) -> None:
            split = min(r.width() * 0.4, 420.0)
            _houses(p, QRectF(r.left(), r.top(), split, r.height()), view)
            p.setPen(QPen(view.theme("outline"), 1))
            p.drawLine(QPointF(split, r.top()), QPointF(split, r.bottom()))
            x = self.shown_unit(view)
            if x is not None:
                box = QRectF(split + 16, r.top(), r.width() - split - 30, r.height())
                _capacity(p, box.adjusted(0, _say_none(p, box, view), 0, 0), view, x)

        return Canvas(draw)

    def ledger(self, view: View) -> Ledger:
        rows = []
        for k, x in enumerate(view.r.equipment.candidates, 1):
            picked = x.unit.id == view.job.system.unit
            low, high = x.limits
            says = "picked" if picked and x.verdict == "fits" else reason(view, x)
            rows.append(
                Row(
                    ("unit", x.unit.id),
                    (
                        Cell(str(k), True),
                        Cell(f"{x.unit.maker} {x.unit.name}", True),
                        Cell(view.num("tons", x.unit.nominal_w)),
                        Cell(f"{x.unit.stages}"),
                        Cell(bar=x.total_share / 1.6, tick=1 / 1.6, band=(low / 1.6, high / 1.6)),
                        Cell(_pct(x.total_share), True),
                        Cell(_pct(x.sensible_share)),
                        Cell(_pct(x.latent_share)),
                        Cell(bar=x.heating_share / 1.2, bar_color="heating", tick=1 / 1.2),
                        Cell(_pct(x.heating_share), True),
                        Cell(view.num("temperature", x.balance_c, 0)),
                        Cell(_pct(x.unit.cooling.min_fraction)),
                        Cell(says),
                        Cell(mark=MARK[x.verdict]),
                    ),
                )
            )
        ld = view.r.loads
        total = Row(
            None,
            (
                Cell(),
                Cell("House"),
                Cell(),
                Cell(),
                Cell(),
                Cell(view.num("kpower", ld.house_cooling_w)),
                Cell(view.num("kpower", ld.house_sensible_w)),
                Cell(view.num("kpower", ld.house_latent_w)),
                Cell(),
                Cell(view.num("kpower", ld.house_heating_w)),
                Cell(),
                Cell(),
                Cell(view.unit("kpower")),
                Cell(),
            ),
        )
        wanted = Row(
            None,
            (
                Cell(),
                Cell("Wanted"),
                Cell(),
                Cell(),
                Cell(),
                Cell("by kind"),
                Cell("over 90"),
                Cell("100"),
                Cell(),
                Cell("–"),
                Cell(),
                Cell(),
                Cell("with backup"),
                Cell(),
            ),
        )
        columns = (
            Column("", "", 20, "l"),
            Column("Candidate", "", 128, "l"),
            Column("Size", view.unit("tons"), 58),
            Column("Kind", "", 66, "c"),
            Column("Cooling", "", 78, "l"),
            Column("of load", "", 56),
            Column("Sensible", "", 66),
            Column("Latent", "", 54),
            Column("Heat", f"at {view.text('temperature', view.job.climate.winter_c, 0)}", 84, "l"),
            Column("", "", 52),
            Column("Balance", view.unit("temperature"), 72),
            Column("Low", "", 54),
            Column("Says", "", 160, "l"),
            Column("", "", 24),
        )
        return Ledger(columns, tuple(rows), (wanted,), total)

    def card(self, view: View) -> Card:
        x = self.shown_unit(view)
        if x is None:
            return Card("Equipment", "No unit to weigh", "none", hero_note="Draw the rooms first: press 1")
        job, c, ld, e = view.job, view.r.conditions, view.r.loads, view.r.equipment
        picked = x.unit.id == job.system.unit
        place = [k.unit.id for k in e.candidates].index(x.unit.id) + 1
        kicker = f"Candidate {place} of {len(e.candidates)} · {KIND[x.unit.kind]}, {x.unit.stages} speed"
        checks = self._checks(view, x, picked)
        heaters = tuple((str(float(k)), f"{k:g} kW") for k in (0.0, *x.unit.heater_kw))
        own = [
            Field_(
                "system.unit",
                "Unit",
                "text",
                x.unit.id,
                lambda j, v: pick_unit(j, str(v)),
                "Pick unit",
                tuple((k.unit.id, f"{k.unit.maker} {k.unit.name}, {reason(view, k)}") for k in e.candidates),
                2,
            ),
            Field_(
                "system.heater",
                "Backup heater",
                "text",
                str(float(job.system.heater_kw)),
                lambda j, v: set_part("system", "heater_kw")(j, float(v)),
                "Change backup heater",
                heaters,
            ),
            Field_(
                "system.flow",
                "Air, design",
                "flow",
                view.r.airflow.total_m3_s,
                set_part("system", "flow_m3_s"),
                "Change design air",
            ),
            Field_(
                "system.tap",
                "Blower tap",
                "text",
                str(job.system.tap),
                lambda j, v: set_part("system", "tap")(j, int(v)),
                "Change blower tap",
                tuple((str(k + 1), f"tap {k + 1}") for k in range(len(x.unit.blower.taps_m3_s))),
            ),
            Field_(
                "system.line",
                "Line set",
                "length",
                job.system.line_length_m,
                set_part("system", "line_length_m"),
                "Change line set length",
            ),
            Field_(
                "filter.width",
                "Filter width",
                "size",
                job.system.filter_width_m,
                set_part("system", "filter_width_m"),
                "Change filter width",
            ),
            Field_(
                "filter.height",
                "Filter height",
                "size",
                job.system.filter_height_m,
                set_part("system", "filter_height_m"),
                "Change filter height",
            ),
        ]
        pick = Button("pick", f"Pick the {x.unit.name}", "K", lambda: view.act.command("equipment.pick"), True)
        sections: list[Section] = [
            List_("Checks", "limit", checks),
            Fields("Change it" if picked else "Weigh another", tuple(own if picked else own[:1])),
            Arith(explain_capacity(x, c, ld)),
            Arith(explain_balance(x, e, c, ld), False),
            *(() if picked else (Buttons((pick,)),)),
        ]
        return Card(
            kicker,
            f"{x.unit.maker} {x.unit.name}",
            MARK[x.verdict],
            "Picked" if picked else "Not picked",
            ((f"{x.total_share * 100:.0f}", "% of cooling", "ink"),),
            f"{view.num('kpower', x.total_w)} of {view.num('kpower', ld.house_cooling_w)} {view.unit('kpower')} at {view.text('temperature', job.climate.summer_c, 0)}",
            (
                (f"{x.heating_share * 100:.0f} %", "of heat", "ink"),
                (view.num("kpower", x.heating_w), f"of {view.num('kpower', ld.house_heating_w)}", "ink"),
            ),
            tuple(sections),
        )

    def _checks(self, view: View, x: Candidate, picked: bool) -> tuple[ListRow, ...]:
        job, ld = view.job, view.r.loads
        low, high = x.limits
        backup = job.system.heater_kw if x.unit.kind == "heat_pump" else 0.0
        heat = (x.heating_w + backup * 1000) / max(ld.house_heating_w, 1)
        rows = [
            ListRow(
                "Cooling, total",
                _pct(x.total_share),
                f"{low * 100:.0f} – {high * 100:.0f}",
                _mark(low <= x.total_share <= high),
            ),
            ListRow("Cooling, sensible", _pct(x.sensible_share), "over 90", _mark(x.sensible_share >= 0.9)),
            ListRow("Cooling, latent", _pct(x.latent_share), "over 100", _mark(x.latent_share >= 1, "look")),
            ListRow(
                f"Heat with {backup:g} kW backup" if backup else "Heat", _pct(heat), "over 100", _mark(heat >= 0.999)
            ),
        ]
        n = view.r.network
        if picked and n is not None:
            static = float(n.external_static_pa[0])
            rows.append(
                ListRow(
                    f"Blower, {view.text('flow', float(n.blower_m3_s[0]))} at",
                    view.num("pressure", static),
                    f"{view.text('pressure', x.unit.blower.limit_pa)}",
                    _mark(static <= x.unit.blower.limit_pa),
                )
            )
            speed = filter_velocity_m_s(job.system, view.r.airflow.total_m3_s)
            rows.append(
                ListRow(
                    "Filter face",
                    view.num("velocity", speed),
                    f"under {view.text('velocity', FACE_LIMIT['filter'])}",
                    _mark(speed <= FACE_LIMIT["filter"] * 1.005, "look"),
                )
            )
        rows.append(
            ListRow(
                "Backup, hours a year", view.num("hours", x.backup_hours), f"{view.num('number', x.backup_kwh)} kWh"
            )
        )
        rows.append(ListRow("Cycles on and off", view.num("hours", x.cycling_hours), "h a year"))
        return tuple(rows)


def reason(view: View, x: Candidate) -> str:
    """Why a unit does or does not do, in a few words."""
    low, high = x.limits
    if x.unit.kind == "wall":
        return "one room only"
    if x.verdict == "small":
        return f"under {_pct(low)}{'' if x.total_share < low else ' sensible'}"
    if x.verdict == "big":
        return f"over {_pct(high)}"
    if x.verdict == "heat":
        short = view.r.loads.house_heating_w - x.heating_w
        kit = next((k for k in x.unit.heater_kw if k * 1000 >= short), None)
        if x.unit.kind == "furnace_coil":
            return f"heat {_pct(x.heating_share)}"
        return f"needs a {kit:g} kW heater" if kit is not None else f"heat short by {view.text('kpower', short)}"
    return SAYS[x.verdict]


def none_fits(view: View) -> tuple[str, ...]:
    """What a unit of this house would have to do, where none that is known does; empty when one fits."""
    e, ld = view.r.equipment, view.r.loads
    if e.fitting or not view.job.rooms or ld.house_cooling_w <= 0:
        return ()
    low, high = SIZE_LIMITS["variable"]
    if e.candidates and e.candidates[0].verdict == "heat":
        return (f"None heats the house alone: {e.candidates[0].unit.name} {reason(view, e.candidates[0])}.",)
    return (
        f"None of {len(e.candidates)} fits this house. What would:",
        f"cooling {view.num('kpower', low * ld.house_cooling_w)} to {view.text('kpower', high * ld.house_cooling_w)} at "
        f"{view.text('temperature', view.job.climate.summer_c, 0)}, sensible {view.text('kpower', 0.9 * ld.house_sensible_w)} "
        f"and more, heat {view.text('kpower', ld.house_heating_w)} with its backup; or two units, or less load (Loads, What if).",
    )


def pick_unit(job: Job, unit: str) -> Job:
    """Choose a unit; air and tap go back to what it is rated for."""
    known = (
        job.system.candidates
        if unit in job.system.candidates or not job.system.candidates
        else (*job.system.candidates, unit)
    )
    return replace_part(
        job,
        "system",
        unit=unit,
        candidates=known,
        flow_m3_s=None,
        tap=min(job.system.tap, len(catalogue()[unit].blower.taps_m3_s)),
    )


def _pct(v: float) -> str:
    return f"{v * 100:.0f} %" if v == v else "–"


def _mark(ok: bool, bad: str = "fails") -> str:
    return "good" if ok else bad


def _houses(p: QPainter, r: QRectF, view: View) -> None:
    """Every storey small, rooms with their share of the cooling load; units where they stand."""
    t, job = view.theme, view.job
    ld = view.r.loads
    if not job.rooms:
        return
    outlines = [*(q.outline_m for q in job.rooms), *(q.outline_m for q in job.spaces)]
    xs = [x for o in outlines for x, _ in o]
    ys = [y for o in outlines for _, y in o]
    n = len(job.storeys)
    each = (r.height() - 70) / n
    scale = min((r.width() - 30) / (max(xs) - min(xs)), (each - 34) / (max(ys) - min(ys)))
    total = max(ld.house_cooling_w, 1.0)
    for k, s in enumerate(reversed(job.storeys)):
        top = r.top() + k * each + 30
        ox, oy = r.left() + 14 - min(xs) * scale, top - min(ys) * scale
        cool = sum(float(ld.cooling_w[i]) for i, q in enumerate(job.rooms) if q.storey == s.id)
        heat = sum(float(ld.heating_w[i]) for i, q in enumerate(job.rooms) if q.storey == s.id)
        x = r.left() + 14
        x += paint.text(p, x, top - 9, s.name, 13, 700, t("ink")) + 12
        x += paint.value_unit(p, x, top - 9, view.num("kpower", cool), "cool", 13, 700, t("cooling"), t("ink2")) + 10
        paint.value_unit(
            p, x, top - 9, view.num("kpower", heat), f"heat {view.unit('kpower')}", 13, 700, t("heating"), t("ink2")
        )
        for space in job.spaces:
            if space.storey == s.id:
                p.setPen(QPen(t("outline"), 1))
                p.setBrush(t("panel"))
                p.drawPolygon(QPolygonF([QPointF(ox + a * scale, oy + b * scale) for a, b in space.outline_m]))
        for i, room in enumerate(job.rooms):
            if room.storey != s.id:
                continue
            shape = QPolygonF([QPointF(ox + a * scale, oy + b * scale) for a, b in room.outline_m])
            fill = step_fill(t, float(ld.cooling_w[i]) / view.r.geometry.area_m2[i], COOL_STEPS, "load")
            p.setPen(QPen(t("wall"), 1.6))
            p.setBrush(fill)
            p.drawPolygon(shape)
            cx, cy = view.r.geometry.centre_m[i]
            c = QPointF(ox + cx * scale, oy + cy * scale)
            width = shape.boundingRect().width() - 6
            paint.text(p, c.x(), c.y() - 2, room.name, 12, 600, t.on(fill), "c", width)
            paint.text(
                p, c.x(), c.y() + 14, f"{float(ld.cooling_w[i]) / total * 100:.0f} %", 14, 700, t.on(fill), "c"
            )
        if job.system.storey == s.id:
            a = QPointF(ox + job.system.position_m[0] * scale, oy + job.system.position_m[1] * scale)
            if job.system.outdoor_position_m:
                b = QPointF(
                    ox + job.system.outdoor_position_m[0] * scale, oy + job.system.outdoor_position_m[1] * scale
                )
                p.setPen(QPen(t("on_select"), 5))
                p.drawLine(a, b)
                p.setPen(QPen(t("select"), 3))
                p.drawLine(a, b)
                _badge(p, view, b, "O")
            _badge(p, view, a, "I")
    y = r.bottom() - 34
    x0 = r.left() + 14
    chosen = view.r.equipment.chosen
    if chosen is not None:
        ok = (
            job.system.line_length_m <= chosen.unit.line_max_m
            and job.system.line_lift_m <= chosen.unit.line_max_lift_m
        )
        paint.mark(p, "good" if ok else "fails", x0 + 8, y - 4, t, 6.5)
        paint.text(
            p,
            x0 + 22,
            y,
            f"Line set {view.num('length', job.system.line_length_m, 0)} of {view.text('length', chosen.unit.line_max_m, 0)}, rises {view.text('length', job.system.line_lift_m, 0)}",
            12.5,
            500,
            t("ink"),
            width=r.width() - 40,
        )
    paint.text(p, x0, y + 20, "Rooms show their share of the cooling load", 12, 500, t("ink2"), width=r.width() - 20)


def _badge(p: QPainter, view: View, c: QPointF, letter: str) -> None:
    t = view.theme
    box = QRectF(c.x() - 9, c.y() - 9, 18, 18)
    paint.rounded(p, box, t("on_select") if not t.dark else t("ink"), t("paper"), 3)
    paint.text(p, c.x(), c.y() + 4.5, letter, 12, 700, t("select") if not t.dark else t("on_ink"), "c")


def _capacity(p: QPainter, r: QRectF, view: View, x: Candidate) -> None:
    """Capacity and load over outdoor temperature, balance point, and the hours of the year."""
    t, c, ld, e, job = view.theme, view.r.conditions, view.r.loads, view.r.equipment, view.job
    paint.text(
        p,
        r.left(),
        r.top() + 22,
        f"{x.unit.maker} {x.unit.name} against the house",
        16,
        700,
        t("ink"),
        width=r.width(),
    )
    paint.text(
        p,
        r.left(),
        r.top() + 42,
        f"Capacity and load by outdoor temperature, {view.unit('kpower')}",
        12,
        500,
        t("ink2"),
        width=r.width(),
    )
    _legend(p, r, view)
    plot = QRectF(r.left() + 34, r.top() + 92, r.width() - 40, r.height() - 92 - 110)
    low_c = min(job.climate.winter_c - 8, -18.0)
    high_c = max(job.climate.summer_c + 5, 38.0)
    cool_t = np.linspace(e.no_load_c, high_c, 40)
    heat_t = np.linspace(low_c, e.no_load_c, 60)
    hi, lo, _ = heating_capacity(x.unit, heat_t, c.density_kg_m3, c.burner_share)
    cool_rows = np.array(
        [cooling_capacity(x.unit, float(v), x.entering, x.flow_m3_s, c.density_kg_m3)[0] for v in cool_t]
    )
    need_h, _ = load_line(c, ld, e.no_load_c, heat_t)
    _, need_c = load_line(c, ld, e.no_load_c, cool_t)
    top = (
        max(float(hi.max(initial=0)), float(cool_rows.max(initial=0)), ld.house_heating_w, ld.house_cooling_w) * 1.12
    )

    def at(temp: float, watts: float) -> QPointF:
        return QPointF(
            plot.left() + (temp - low_c) / (high_c - low_c) * plot.width(),
            plot.bottom() - watts / top * plot.height(),
        )

    _grid(p, plot, view, top)
    p.save()
    p.setClipRect(plot.adjusted(-1, -20, 1, 2))
    _area(
        p,
        [at(a, b) for a, b in zip(heat_t, hi, strict=True)],
        [at(a, b) for a, b in zip(heat_t, lo, strict=True)],
        t("heat1"),
    )
    _area(
        p,
        [at(a, b) for a, b in zip(cool_t, cool_rows, strict=True)],
        [at(a, b * x.unit.cooling.min_fraction) for a, b in zip(cool_t, cool_rows, strict=True)],
        t("load1"),
    )
    _shortfall(p, view, heat_t, need_h, hi, at)
    _line(p, [at(a, b) for a, b in zip(heat_t, hi, strict=True)], QPen(t("heating"), 3))
    _line(p, [at(a, b) for a, b in zip(heat_t, lo, strict=True)], QPen(t("heating"), 1.8, Qt.PenStyle.DashLine))
    _line(p, [at(a, b) for a, b in zip(cool_t, cool_rows, strict=True)], QPen(t("cooling"), 3))
    _line(
        p,
        [at(a, b * x.unit.cooling.min_fraction) for a, b in zip(cool_t, cool_rows, strict=True)],
        QPen(t("cooling"), 1.8, Qt.PenStyle.DashLine),
    )
    inside = heat_t >= job.climate.winter_c
    _line(p, [at(a, b) for a, b, k in zip(heat_t, need_h, inside, strict=True) if k], QPen(t("ink"), 3))
    inside_c = cool_t <= job.climate.summer_c
    _line(p, [at(a, b) for a, b, k in zip(cool_t, need_c, inside_c, strict=True) if k], QPen(t("ink"), 3))
    p.restore()
    for temp, word, load in (
        (job.climate.winter_c, "design", ld.house_heating_w),
        (job.climate.summer_c, "design", ld.house_cooling_w),
    ):
        a, b = at(temp, top), at(temp, 0)
        p.setPen(QPen(t("ink"), 1.4, Qt.PenStyle.DotLine))
        p.drawLine(QPointF(a.x(), plot.top() - 4), b)
        _flag(p, view, QPointF(a.x(), plot.top() - 13), f"{word} {view.text('temperature', temp, 0)}", False, plot)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t("ink"))
        p.drawEllipse(at(temp, load), 5, 5)
    if x.balance_c is not None and low_c < x.balance_c < e.no_load_c:
        m = at(x.balance_c, float(np.interp(x.balance_c, heat_t, need_h)))
        p.setPen(QPen(t("ink"), 1.4))
        p.drawLine(m, QPointF(m.x(), plot.bottom()))
        p.setBrush(t("select"))
        p.setPen(QPen(t("ink"), 1.8))
        p.drawEllipse(m, 8, 8)
        _flag(
            p,
            view,
            QPointF(m.x() + 66, m.y() - 14),
            f"balance {view.text('temperature', x.balance_c, 0)}",
            True,
            plot,
        )
    _words(p, view, plot, at, heat_t, hi, lo, cool_t, cool_rows, x)
    _bins(p, QRectF(plot.left(), plot.bottom() + 26, plot.width(), 46), view, x, low_c, high_c)
    _axis(p, plot, view, low_c, high_c, r)


def _say_none(p: QPainter, box: QRectF, view: View) -> float:
    """Tell over the chart that no unit fits; returns the height it took."""
    lines = [part for text in none_fits(view) for part in paint.wrap(text, 12.5, box.width() - 26)]
    if not lines:
        return 0.0
    tall = 17.0 * len(lines) + 12
    p.fillRect(QRectF(box.left(), box.top() + 6, box.width(), tall), view.theme("look_soft"))
    paint.mark(p, "look", box.left() + 12, box.top() + 20, view.theme, 6)
    for k, line in enumerate(lines):
        paint.text(p, box.left() + 24, box.top() + 24 + 17 * k, line, 12.5, 600 if k == 0 else 500, view.theme("ink"))
    return tall + 6


def _legend(p: QPainter, r: QRectF, view: View) -> None:
    t = view.theme
    y, xx = r.top() + 52, r.left()
    for fill, word, hatched in (
        ("heat1", "can heat", None),
        ("load1", "can cool", None),
        ("paper", "electric backup", "heating"),
    ):
        box = QRectF(xx, y, 15, 12)
        p.setPen(QPen(t("outline"), 1))
        p.setBrush(t(fill))
        p.drawRect(box)
        if hatched:
            paint.hatch(p, box, t(hatched), 4, 1.3)
        xx += 21 + paint.text(p, xx + 21, y + 10.5, word, 12, 500, t("ink")) + 16


def _grid(p: QPainter, plot: QRectF, view: View, top_w: float) -> None:
    t = view.theme
    top = top_w / (1000 if view.units == "si" else 293.0711)
    if top <= 0 or not np.isfinite(top):
        return
    step = next(s * 10.0**k for k in range(12) for s in (1, 2, 5) if top / (s * 10.0**k) <= 6)
    v = 0.0
    while v <= top:
        y = plot.bottom() - v / top * plot.height()
        p.setPen(QPen(t("rule") if v else t("ink"), 1))
        p.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))
        paint.text(p, plot.left() - 8, y + 4.5, f"{v:,.0f}", 12, 500, t("ink2"), "r")
        v += step


def _area(p: QPainter, upper: list[QPointF], lower: list[QPointF], color: QColor) -> None:
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(color)
    p.drawPolygon(QPolygonF([*upper, *reversed(lower)]))


def _line(p: QPainter, points: list[QPointF], pen: QPen) -> None:
    p.setPen(pen)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPolyline(QPolygonF(points))


def _shortfall(
    p: QPainter,
    view: View,
    temps: np.ndarray,
    need: np.ndarray,
    hi: np.ndarray,
    at: Callable[[float, float], QPointF],
) -> None:
    """Hatch between the load and what the unit can do, down to the design temperature."""
    keep = (need > hi) & (temps >= view.job.climate.winter_c)
    if not keep.any():
        return
    a, b, c = temps[keep], need[keep], hi[keep]
    path = QPainterPath()
    path.addPolygon(
        QPolygonF(
            [
                *(at(x, y) for x, y in zip(a, b, strict=True)),
                *(at(x, y) for x, y in zip(a[::-1], c[::-1], strict=True)),
            ]
        )
    )
    p.save()
    p.setClipPath(path, Qt.ClipOperation.IntersectClip)
    paint.hatch(p, path.boundingRect(), view.theme("heating"), 6, 1.4)
    p.restore()


def _flag(p: QPainter, view: View, c: QPointF, text: str, answer: bool, within: QRectF) -> None:
    t = view.theme
    w = paint.text_width(text, 12, 600) + 14
    x = min(max(c.x() - w / 2, within.left() - 20), within.right() - w + 6)
    box = QRectF(x, c.y() - 9, w, 18)
    paint.rounded(p, box, t("select") if answer else t("paper"), t("ink") if answer else t("outline"), 3, 1.2)
    paint.text(
        p,
        box.center().x(),
        box.center().y() + 4.4,
        text,
        12,
        700 if answer else 600,
        t("on_select") if answer else t("ink"),
        "c",
    )


def _words(
    p: QPainter,
    view: View,
    plot: QRectF,
    at: Callable[[float, float], QPointF],
    heat_t: np.ndarray,
    hi: np.ndarray,
    lo: np.ndarray,
    cool_t: np.ndarray,
    cool: np.ndarray,
    x: Candidate,
) -> None:
    """Lines named where they run."""
    t = view.theme
    k = int(len(heat_t) * 0.72)
    a = at(heat_t[k], hi[k])
    paint.text(p, a.x(), a.y() - 10, "heating, flat out", 12.5, 600, t("heating"), "c")
    a = at(heat_t[int(len(heat_t) * 0.5)], lo[int(len(heat_t) * 0.5)])
    if x.unit.stages != "single":
        paint.text(p, a.x(), a.y() + 16, "turned down", 12.5, 600, t("heating"), "c")
    a = at(cool_t[14], cool[14])
    paint.text(p, min(a.x(), plot.right() - 60), a.y() - 10, "cooling, flat out", 12.5, 600, t("cooling"), "c")
    winter, summer = view.job.climate.winter_c, view.job.climate.summer_c
    off = view.r.equipment.no_load_c
    a = at(winter + 0.42 * (off - winter), 0.58 * view.r.loads.house_heating_w)
    paint.text(p, a.x() - 10, a.y() + 12, "house", 12.5, 600, t("ink"), "r")
    a = at(off + 0.6 * (summer - off), 0.6 * view.r.loads.house_cooling_w)
    paint.text(p, a.x() - 8, a.y(), "house", 12.5, 600, t("ink"), "r")
    if x.backup_w > 100:
        a = at(winter, (x.heating_w + view.r.loads.house_heating_w) / 2)
        paint.text(p, a.x() - 6, a.y() - 4, "backup", 12.5, 600, t("heating"), "r")
        paint.text(p, a.x() - 6, a.y() + 11, view.num("kpower", x.backup_w), 12.5, 700, t("heating"), "r")


def _bins(p: QPainter, r: QRectF, view: View, x: Candidate, low_c: float, high_c: float) -> None:
    """Hours of the year by outdoor temperature; deep where backup helps."""
    t, cl = view.theme, view.job.climate
    hours = np.array(cl.bin_hours)
    if len(hours) == 0:
        paint.text(p, r.left(), r.bottom(), "no hours by temperature in this climate", 12, 500, t("ink2"))
        return
    top = float(hours.max())
    off = view.r.equipment.no_load_c
    for k, h in enumerate(hours):
        a = cl.bin_start_c + k * cl.bin_step_k
        mid = a + cl.bin_step_k / 2
        if not low_c <= a < high_c - 0.1:
            continue
        x0 = r.left() + (a - low_c) / (high_c - low_c) * r.width()
        w = cl.bin_step_k / (high_c - low_c) * r.width()
        hgt = (r.height() - 4) * h / top
        short = x.balance_c is not None and mid < x.balance_c
        p.fillRect(
            QRectF(x0, r.bottom() - hgt, w - 1.5, hgt),
            t("heating") if short else t("heat2") if mid < off else t("load2"),
        )
    p.setPen(QPen(t("ink"), 1))
    p.drawLine(QPointF(r.left(), r.bottom()), QPointF(r.right(), r.bottom()))


def _axis(p: QPainter, plot: QRectF, view: View, low_c: float, high_c: float, r: QRectF) -> None:
    t = view.theme
    y = plot.bottom() + 16
    ip = view.units == "ip"
    step = 10 if ip else 5
    v = -60
    while v <= 130:
        c = (v - 32) / 1.8 if ip else float(v)
        if low_c <= c <= high_c:
            paint.text(
                p, plot.left() + (c - low_c) / (high_c - low_c) * plot.width(), y, str(v), 12, 500, t("ink2"), "c"
            )
        v += step
    x = view.r.equipment
    shown = next((k for k in x.candidates if k.unit.id == view.selected("unit")), x.chosen)
    yy = plot.bottom() + 92
    xx = r.left()
    xx += paint.text(p, xx, yy, "Hours a year:", 12.5, 700, t("ink")) + 12
    if shown is not None:
        xx += (
            paint.value_unit(
                p, xx, yy, view.num("hours", shown.backup_hours), "backup helps", 12.5, 700, t("heating"), t("ink")
            )
            + 16
        )
        paint.value_unit(
            p, xx, yy, view.num("hours", shown.cycling_hours), "cycles on and off", 12.5, 700, t("ink"), t("ink")
        )
    paint.text(p, r.right() + 8, yy, f"{view.unit('temperature')} outdoors", 12, 500, t("ink2"), "r")
