"""The weather a house is designed for: its page of charts, its card to enter or choose it, the months as a table."""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Callable, Iterator
from functools import partial

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.stations.base import (
    Arith,
    Button,
    Buttons,
    Canvas,
    Card,
    Cell,
    Field_,
    Fields,
    Ledger,
    List_,
    ListRow,
    View,
)
from murvan.app.stations.fields import of_part
from murvan.app.stations.told import Told, table
from murvan.catalog import climates
from murvan.design.explain import MONTH_WORDS, explain_air
from murvan.design.weather import (
    FACES,
    MONTHS,
    MOST_OUTSIDE,
    MOVED,
    better,
    choose,
    chosen,
    hottest_month,
    hours_outside,
    month_maximum,
    month_means,
    month_sun,
    stretch,
    sun_on,
    wet_bulb_kept,
    with_summer,
    with_winter,
)
from murvan.model import Climate, Job, JobValueError, replace_part
from murvan.model.edit import changed
from murvan.units import parse

TYPED = "typed"


# ---- what is shown ------------------------------------------------------------------------------------------------


def ledger(view: View) -> Ledger:
    """The twelve months: weather, sun on glass, and what the house needs in those looked at."""
    c, ld = view.job.climate, view.r.loads
    hottest = hottest_month(view.job.site.latitude_deg)
    means, ranges, known = month_means(c, hottest)
    sun = month_sun(view.job.site, c)

    house = {m: ld.house_by_hour_w[at] for at, m in enumerate(ld.months)}
    told = house if view.job.rooms else {}
    estimated = "" if known else "≈ "

    def glass(k: int, name: str) -> Told[int]:
        return Told(
            "Level" if name == "level" else f"{name} glass",
            66 if k else 118,
            lambda m: float(sun[m - 1, k]),
            "irradiance",
            unit="" if k else None,
        )

    columns: tuple[Told[int], ...] = (
        Told("Month", 92, lambda m: Cell(MONTH_WORDS[m - 1], m in house), align="l"),
        Told("", 92, lambda m: "looked at" if m in house else "", align="l"),
        Told(
            "Design",
            76,
            lambda m: Cell(view.num("temperature", month_maximum(c, m, hottest)), m == hottest),
            "temperature",
        ),
        Told("Mean", 62, lambda m: f"{estimated}{view.num('temperature', float(means[m - 1]))}"),
        Told("Range", 58, lambda m: float(ranges[m - 1]), "difference", unit=""),
        Told("Noon sun", 70, lambda m: f"{sun[m - 1, -1]:.0f}°"),
        *(glass(k, name) for k, (name, _, _) in enumerate(FACES)),
        Told("House", 92, lambda m: float(told[m].max()) if m in told else "", "power", bold=True),
        Told("at", 56, lambda m: f"{int(told[m].argmax()) + 1}:00" if m in told else ""),
    )
    return table(view, columns, ((("month", str(m)), m) for m in range(1, 13)))


# ---- the card ----------------------------------------------------------------------------------------------------


def card(view: View) -> Card:
    job, c = view.job, view.job.climate
    cold, hot = chosen(c)
    return Card(
        "Weather of the place",
        c.name or "Entered by hand",
        None,
        "",
        (
            (view.text("temperature", c.winter_c, 0), "winter", "heating"),
            (view.text("temperature", c.summer_c, 0), "summer", "cooling"),
        ),
        _source(c),
        (),
        (
            *_fits(view),
            Fields("Place", (_typical(job), *_place_fields(job))),
            Fields("Winter", (_share(job, "winter", ("99", "99.6"), cold), *_winter_fields(job))),
            Fields("Summer", (_share(job, "summer", ("1", "0.4"), hot), *_summer_fields(view))),
            Buttons(
                (Button("weather", "Read a weather file", "Ctrl+I", lambda: view.act.command("loads.weather"), True),)
            ),
            _bins_list(view),
            Arith(explain_air(job, view.r.conditions)),
        ),
    )


def _fits(view: View) -> Iterator[List_ | Buttons]:
    """Where typed values stretch another place's hours: how far, and the climate that fits."""
    c = view.job.climate
    found = better(c)
    if not c.moved:
        return
    rows = [ListRow("Hours spread by", f"{stretch(c) * 100:+.0f} %", c.name, "look" if found else "none")]
    unit = view.s.equipment.chosen
    if unit is not None and unit.backup_range_kwh is not None:
        low, high = (view.num("number", x) for x in unit.backup_range_kwh)
        rows.append(
            ListRow("Backup a year", f"{low} to {high}", "kWh", second="by the hours of every typical climate")
        )
    if found is not None:
        rows.append(ListRow(f"{found.name} fits", f"{stretch(found) * 100:+.0f} %", "", "good"))
    yield List_("Typed design values", "", tuple(rows))
    if found is not None:
        yield Buttons((Button("fits", f"Take {found.name}", "", partial(_take, view, found)),))


def _take(view: View, climate: Climate) -> None:
    """Another climate, moved to the typed values."""
    view.act.edit(f"Take the hours of {climate.name}"[:80], lambda job: changed(job, job.name, climate=climate))


def _source(c: Climate) -> str:
    parts = [c.source, MOVED.capitalize() if c.moved else "", "The local code's table goes first"]
    return "".join(f"{x.rstrip('.')}. " for x in parts if x).strip()


def _typical(job: Job) -> Field_:
    options = tuple((name, name) for name in climates())
    now = job.climate.name if job.climate.name in climates() else TYPED

    def take(job: Job, value: float | str) -> Job:
        if str(value) == TYPED:
            return job
        return changed(job, job.name, climate=climates()[str(value)])

    shown = options if now != TYPED else ((TYPED, job.climate.name or "Entered by hand"), *options)
    return Field_(
        "climate.typical", "Climate, typical ones to start with", "text", now, take, "Take a climate", shown, 2
    )


def _place_fields(job: Job) -> tuple[Field_, ...]:
    return (
        of_part(job, "climate", "name"),
        of_part(job, "site", "latitude_deg"),
        of_part(job, "site", "longitude_deg"),
        of_part(job, "site", "time_zone_h"),
        of_part(job, "site", "summer_time"),
        of_part(job, "site", "altitude_m"),
        of_part(job, "site", "seismic"),
        of_part(job, "climate", "ground_c"),
        of_part(job, "climate", "ground_swing_k"),
    )


def _share(job: Job, season: str, shares: tuple[str, ...], now: str) -> Field_:
    """Which of the place's design values is taken."""
    offered = [s for s in shares if any(p.share == s for p in job.climate.points)]
    side = "warmer" if season == "winter" else "hotter"
    options = tuple((s, f"{s} % of the hours are {side}") for s in offered)

    def take(job: Job, value: float | str) -> Job:
        if str(value) == TYPED:
            return job
        return changed(job, job.name, climate=choose(job.climate, str(value)))

    shown = options if now else ((TYPED, "as typed"), *options)
    return Field_(
        f"climate.{season}_share", "Design value", "text", now or TYPED, take, f"Choose the {season} value", shown, 2
    )


def _winter_fields(job: Job) -> tuple[Field_, ...]:
    return (
        Field_(
            "climate.winter",
            "Dry bulb",
            "temperature",
            job.climate.winter_c,
            set_winter,
            "Change winter design temperature",
        ),
        of_part(job, "climate", "wind_winter_m_s"),
    )


def set_winter(job: Job, value: float | str) -> Job:
    """Another winter design dry bulb; hours and ground move along."""
    return changed(job, job.name, climate=with_winter(job.climate, float(value)))


def set_summer(job: Job, value: float | str) -> Job:
    """Another summer design dry bulb; a day given hour by hour moves along."""
    return changed(job, job.name, climate=with_summer(job.climate, float(value)))


def _summer_fields(view: View) -> tuple[Field_, ...]:
    job, c = view.job, view.job.climate
    hours = ", ".join(view.num("temperature", x) for x in c.hourly_c) if c.hourly_c else "by range"
    months = ", ".join(str(m) for m in job.design_day.months) if job.design_day.months else "hottest and 3 after"
    unit = view.unit("temperature")
    daily, wet = of_part(job, "climate", "daily_range_k"), of_part(job, "climate", "summer_wet_bulb_c")
    return (
        Field_(
            "climate.summer", "Dry bulb", "temperature", c.summer_c, set_summer, "Change summer design temperature"
        ),
        dataclasses.replace(wet, label="Wet bulb: type the local one" if wet_bulb_kept(c) else wet.label),
        dataclasses.replace(daily, apply=None) if c.hourly_c else daily,
        of_part(job, "climate", "wind_summer_m_s"),
        of_part(job, "climate", "taub"),
        of_part(job, "climate", "taud"),
        Field_("climate.months", "Months looked at", "text", months, set_months, "Choose the months", (), 2),
        Field_(
            "climate.hours",
            f"24 hourly values, {unit}",
            "text",
            hours,
            lambda job, v: set_hours(job, v, view),
            "Type the design day",
            (),
            2,
        ),
    )


def set_months(job: Job, value: float | str) -> Job:
    """Months as typed: numbers or names; empty or 'hottest…' for the usual ones."""
    text = str(value).strip().lower()
    if not text or text.startswith(("hottest", "auto", "–")):
        return replace_part(job, "design_day", months=())
    months = []
    for word in re.split(r"[\s,;]+", text):
        named = next((k for k, m in enumerate(MONTHS, 1) if len(word) >= 3 and word.startswith(m.lower())), None)
        if named is None and not (word.isdigit() and 1 <= int(word) <= 12):
            raise JobValueError(f"Months looked at: '{word}' is no month; write numbers or names, 7, 8, 9, 10.")
        months.append(named or int(word))
    return replace_part(job, "design_day", months=tuple(dict.fromkeys(months)))


def set_hours(job: Job, value: float | str, view: View) -> Job:
    """The design day as 24 typed temperatures; empty goes back to maximum and range."""
    text = str(value).strip()
    if not text or text.lower().startswith(("by range", "–")):
        return replace_part(job, "climate", hourly_c=())
    words = re.split(r"[\s,;]+", text.strip(" ,;"))
    if len(words) != 24:
        raise JobValueError(f"A design day has 24 hourly temperatures, here are {len(words)}.")
    try:
        hours = tuple(parse("temperature", w, view.units) for w in words)
    except ValueError as exc:
        raise JobValueError(f"24 hourly values: {exc}") from None
    c = job.climate
    top = max(hours)
    return replace_part(job, "climate", hourly_c=hours, summer_c=top, summer_wet_bulb_c=min(c.summer_wet_bulb_c, top))


def _bins_list(view: View) -> List_:
    """Hours of the year the equipment meets."""
    c = view.job.climate
    if not c.bin_hours:
        return List_(
            "Hours of the year", "", (ListRow("No hours by temperature yet", "–", second="read a weather file"),)
        )
    centres = c.bin_start_c + c.bin_step_k * (np.arange(len(c.bin_hours)) + 0.5)
    hours = np.array(c.bin_hours)
    mean = float((centres * hours).sum() / hours.sum()) if hours.sum() else 0.0
    off = view.s.equipment.no_load_c

    def below(limit: float) -> str:
        return f"{float(hours[centres < limit].sum()):,.0f}"

    cold, hot = (x * hours.sum() for x in hours_outside(c))
    over = MOST_OUTSIDE * hours.sum()

    return List_(
        "Hours of the year",
        f"{hours.sum():,.0f} h",
        (
            ListRow("Mean of the year", view.num("temperature", mean), view.unit("temperature")),
            ListRow(
                f"Colder than winter design, {view.text('temperature', c.winter_c)}",
                f"{cold:,.0f}",
                "h",
                mark="look" if cold > over else "",
            ),
            ListRow(f"House needs heat, below {view.text('temperature', off)}", below(off), "h"),
            ListRow(
                f"Hotter than summer design, {view.text('temperature', c.summer_c)}",
                f"{hot:,.0f}",
                "h",
                mark="look" if hot > over else "",
            ),
        ),
    )


# ---- the page -----------------------------------------------------------------------------------------------------


def page(view: View, shown: int, take_month: Callable[[View, int], None]) -> Canvas:
    """Charts of the year, of its hours by temperature and of the design day."""

    def draw(p: QPainter, r: QRectF) -> None:
        t = view.theme
        year, bins, day = _boxes(r)
        paint.text(
            p,
            r.left() + 16,
            r.top() + 26,
            view.job.climate.name or "Entered by hand",
            16,
            700,
            t("ink"),
            width=r.width() - 32,
        )
        where = f"{abs(view.job.site.latitude_deg):.1f}° {'north' if view.job.site.latitude_deg >= 0 else 'south'}"
        air_ = f"{view.text('length', view.job.site.altitude_m, 0)} up, air at {view.r.conditions.density_share:.0%} of standard density".replace(
            "%", " %"
        )
        paint.text(p, r.left() + 16, r.top() + 45, f"{where}, {air_}", 12, 500, t("ink2"), width=r.width() - 32)
        _year(p, year, view, shown)
        _bins(p, bins, view)
        _design_day(p, day, view, shown)

    def click(x: float, y: float, r: QRectF) -> None:
        year, _, day = _boxes(r)
        plot = _plot(year)
        if plot.adjusted(0, -10, 0, 24).contains(x, y):
            take_month(view, int((x - plot.left()) / plot.width() * 12) + 1)
            view.act.select("month", str(int((x - plot.left()) / plot.width() * 12) + 1))
        plot = _plot(day)
        if plot.adjusted(0, -10, 0, 24).contains(x, y):
            view.act.set_hour(min(max(int((x - plot.left()) / plot.width() * 24) + 1, 1), 24))

    return Canvas(draw, click)


def _boxes(r: QRectF) -> tuple[QRectF, QRectF, QRectF]:
    """Where the year stands, and below it the bins and the day."""
    top = QRectF(r.left() + 16, r.top() + 58, r.width() - 32, (r.height() - 66) * 0.52)
    low = QRectF(top.left(), top.bottom() + 4, top.width(), r.bottom() - top.bottom() - 8)
    half = low.width() / 2 - 12
    return (
        top,
        QRectF(low.left(), low.top(), half, low.height()),
        QRectF(low.right() - half, low.top(), half, low.height()),
    )


def _plot(box: QRectF) -> QRectF:
    return box.adjusted(34, 26, -4, -22)


def _scale(view: View) -> tuple[float, float, list[float]]:
    """Lowest and highest temperature of the page, and its grid, degC."""
    c = view.job.climate
    means, ranges, _ = month_means(c, hottest_month(view.job.site.latitude_deg))
    low = min(c.winter_c, float((means - ranges / 2).min())) - 3
    high = max(c.summer_c, float((means + ranges / 2).max())) + 3
    step = 20 / 1.8 if view.units == "ip" else 10.0
    zero = -32 / 1.8 if view.units == "ip" else 0.0
    first = int(np.ceil((low - zero) / step))
    return low, high, [zero + step * k for k in range(first, int((high - zero) / step) + 1)]


def _title(p: QPainter, view: View, box: QRectF, words: str, note: str = "") -> None:
    t = view.theme
    w = paint.text(p, box.left(), box.top() + 15, words, 13, 700, t("ink"))
    paint.text(p, box.left() + w + 10, box.top() + 15, note, 12, 500, t("ink2"), width=box.width() - w - 12)


def _year(p: QPainter, box: QRectF, view: View, shown: int) -> None:
    """Mean daily span of each month, the design temperatures, and the highest of each month looked at."""
    t, c, ld = view.theme, view.job.climate, view.r.loads
    hottest = hottest_month(view.job.site.latitude_deg)
    means, ranges, known = month_means(c, hottest)
    low, high, grid = _scale(view)
    plot = _plot(box)
    note = (
        "mean day of each month, and design values"
        if known
        else "estimated from the ground's swing; read a weather file for the real ones"
    )
    _title(p, view, box, f"The year, {view.unit('temperature')}", note)

    def y(v: float) -> float:
        return plot.bottom() - (v - low) / (high - low) * plot.height()

    p.setPen(QPen(t("rule"), 1))
    for v in grid:
        p.drawLine(QPointF(plot.left(), y(v)), QPointF(plot.right(), y(v)))
        paint.text(p, plot.left() - 5, y(v) + 4, view.num("temperature", v, 0), 11, 500, t("ink3"), "r")
    step = plot.width() / 12
    for m in range(1, 13):
        left = plot.left() + (m - 1) * step
        looked = m in ld.months
        if looked and ld.months[shown] == m:
            p.fillRect(QRectF(left + 2, plot.top() - 6, step - 4, plot.height() + 26), t("select"))
        a, b = float(means[m - 1] + ranges[m - 1] / 2), float(means[m - 1] - ranges[m - 1] / 2)
        span = QRectF(left + step * 0.28, y(a), step * 0.44, max(y(b) - y(a), 2))
        warm = float(means[m - 1]) > view.s.equipment.no_load_c
        p.fillRect(span, t("load2" if warm else "heat2"))
        if not known:
            paint.hatch(p, span, t("paper"))
        top = month_maximum(c, m, hottest)
        p.setPen(QPen(t("cooling"), 3 if looked else 1.4))
        p.drawLine(QPointF(left + step * 0.18, y(top)), QPointF(left + step * 0.82, y(top)))
        if looked:
            paint.text(
                p,
                left + step / 2,
                y(top) - 5,
                view.num("temperature", top, 0),
                12,
                700,
                t("on_select") if ld.months[shown] == m else t("ink"),
                "c",
            )
        ink = t("on_select") if looked and ld.months[shown] == m else t("ink") if looked else t("ink2")
        paint.text(p, left + step / 2, plot.bottom() + 16, MONTHS[m - 1], 12, 700 if looked else 500, ink, "c")
    for value, role, words in ((c.winter_c, "heating", "winter design"),):
        p.setPen(QPen(t(role), 2, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(plot.left(), y(value)), QPointF(plot.right(), y(value)))
        label = f"{words} {view.text('temperature', value)}"
        wide = paint.text_width(label, 12, 700) + 10
        spot = QRectF(plot.center().x() - wide / 2, y(value) - 17, wide, 15)
        p.fillRect(spot, t("paper"))
        paint.text(p, spot.center().x(), spot.bottom() - 3, label, 12, 700, t(role), "c")


def _bins(p: QPainter, box: QRectF, view: View) -> None:
    """Hours of the year by outdoor temperature."""
    t, c = view.theme, view.job.climate
    plot = _plot(box)
    if not c.bin_hours or not max(c.bin_hours):
        _title(p, view, box, "Hours of the year by temperature", "none yet: read a weather file")
        return
    low, high, grid = _scale(view)
    _title(p, view, box, "Hours of the year by temperature", f"{sum(c.bin_hours):,.0f} h")
    most = max(c.bin_hours)
    edges = c.bin_start_c + c.bin_step_k * np.arange(len(c.bin_hours) + 1)
    used = [k for k, h in enumerate(c.bin_hours) if h > 0]
    low, high = min(low, edges[used[0]]), max(high, edges[used[-1] + 1])

    def x(v: float) -> float:
        return float(plot.left() + (v - low) / (high - low) * plot.width())

    for k in used:
        tall = plot.height() * c.bin_hours[k] / most
        warm = edges[k] + c.bin_step_k / 2 > view.s.equipment.no_load_c
        p.fillRect(
            QRectF(x(edges[k]) + 0.8, plot.bottom() - tall, x(edges[k + 1]) - x(edges[k]) - 1.6, tall),
            t("load2" if warm else "heat2"),
        )
    for share in (0.5, 1.0):
        yy = plot.bottom() - plot.height() * share
        p.setPen(QPen(t("rule"), 1))
        p.drawLine(QPointF(plot.left(), yy), QPointF(plot.right(), yy))
        paint.text(p, plot.left() - 5, yy + 4, f"{most * share:,.0f}", 11, 500, t("ink3"), "r")
    for value, role in ((c.winter_c, "heating"), (c.summer_c, "cooling")):
        p.setPen(QPen(t(role), 2, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(x(value), plot.top() - 4), QPointF(x(value), plot.bottom()))
    p.setPen(QPen(t("ink"), 1))
    p.drawLine(QPointF(plot.left(), plot.bottom()), QPointF(plot.right(), plot.bottom()))
    for v in grid:
        paint.text(p, x(v), plot.bottom() + 16, view.num("temperature", v, 0), 12, 500, t("ink2"), "c")


def _design_day(p: QPainter, box: QRectF, view: View, shown: int) -> None:
    """Dry bulb and level sun of the design day shown."""
    t, day = view.theme, view.r.conditions.days[shown]
    plot = _plot(box)
    _title(p, view, box, f"The day, 21 {MONTH_WORDS[day.month - 1]}", "clear sky; sun on level ground")
    sun = sun_on(day, np.array([0.0]), np.array([0.0]))
    level = (sun.beam + sun.diffuse)[:, 0]
    low, high = float(day.outdoor_c.min()) - 2, float(day.outdoor_c.max()) + 3
    step = plot.width() / 24
    at = plot.left() + (view.hour - 1) * step
    p.fillRect(QRectF(at, plot.top() - 6, step, plot.height() + 26), t("select"))
    for h in range(24):
        tall = plot.height() * 0.9 * float(level[h]) / 1000
        p.fillRect(QRectF(plot.left() + h * step + 1, plot.bottom() - tall, step - 2, tall), t("sun"))
        if h + 1 == view.hour or ((h + 1) % 6 == 0 and abs(h + 1 - view.hour) > 1):
            ink = t("on_select") if h + 1 == view.hour else t("ink2")
            paint.text(
                p,
                plot.left() + (h + 0.5) * step,
                plot.bottom() + 16,
                str(h + 1),
                12,
                700 if h + 1 == view.hour else 500,
                ink,
                "c",
            )

    def y(v: float) -> float:
        return plot.bottom() - (v - low) / (high - low) * plot.height()

    for v in (float(day.outdoor_c.min()), float(day.outdoor_c.max())):
        p.setPen(QPen(t("rule"), 1))
        p.drawLine(QPointF(plot.left(), y(v)), QPointF(plot.right(), y(v)))
        paint.text(p, plot.left() - 5, y(v) + 4, view.num("temperature", v, 0), 11, 600, t("ink2"), "r")
    line = QPolygonF([QPointF(plot.left() + (h + 0.5) * step, y(float(day.outdoor_c[h]))) for h in range(24)])
    p.setBrush(Qt.BrushStyle.NoBrush)
    for color, width in ((t("paper"), 5.0), (t("ink"), 2.4)):
        p.setPen(QPen(color, width))
        p.drawPolyline(line)
    here = QPointF(at + step / 2, y(float(day.outdoor_c[view.hour - 1])))
    p.setBrush(t("ink"))
    p.drawEllipse(here, 4, 4)
    p.setPen(QPen(t("ink"), 1))
    p.drawLine(QPointF(plot.left(), plot.bottom()), QPointF(plot.right(), plot.bottom()))
