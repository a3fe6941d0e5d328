"""What if: alternatives of the house side by side, and what to fix first by its true effect."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.stations.base import (
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
    Section,
    View,
)
from murvan.app.stations.fields import of
from murvan.app.stations.told import Rooms, Told, named, rooms_table
from murvan.design import propose
from murvan.model import Alternative, Job, insert, remove, replace
from murvan.model.edit import changed

COLUMNS_SHOWN = 4
FIELDS: tuple[tuple[str, str, str], ...] = (
    ("attic_r_m2k_w", "Ceilings up to", "r_value"),
    ("wall_add_r_m2k_w", "Over the walls", "r_value"),
    ("floor_add_r_m2k_w", "Under floors", "r_value"),
    ("glass_u_w_m2k", "Glass, U", "u_factor"),
    ("glass_shgc", "Glass, SHGC", "decimal"),
    ("blinds", "Blinds let in", "percent"),
    ("overhang_m", "Overhangs", "length"),
    ("ach50", "Leakage, ACH50", "per_hour"),
    ("duct_r_m2k_w", "Ducts outside", "r_value"),
    ("duct_leakage", "Ducts leak", "percent"),
    ("recovery", "Recovery of fresh air", "percent"),
    ("cooling_c", "Indoor, cooling", "temperature"),
    ("heating_c", "Indoor, heating", "temperature"),
)


NOW = "as it is"


def knows(view: View, kind: str, item: str) -> bool:
    if kind == "alternative":
        return item == NOW or any(a.id == item for a in view.job.alternatives)
    return kind == "measure" and any(m.key == item for m in propose.MEASURES)


def _outcome(study: propose.Study | None, item: str | None) -> propose.Outcome | None:
    return (
        next((x for x in study.alternatives if x.alternative and x.alternative.id == item), None) if study else None
    )


# ---- edits ---------------------------------------------------------------------------------------------------------


def new_id(job: Job) -> str:
    taken = {a.id for a in job.alternatives}
    return next(f"alt{k}" for k in range(1, len(taken) + 2) if f"alt{k}" not in taken)


def add(job: Job, like: Alternative | None = None, name: str = "") -> Job:
    """The job with one more alternative. Raises JobValueError after the twelfth."""
    base = like or Alternative(id="x", name="x")
    return insert(job, "alternatives", changed(base, base.name, id=new_id(job), name=name or _free_name(job)))


def _free_name(job: Job) -> str:
    names = {a.name for a in job.alternatives}
    return next(f"Alternative {k}" for k in range(1, 99) if f"Alternative {k}" not in names)


def carry_out(job: Job, item: str) -> Job:
    """The house changed as the alternative says; the alternative is done with."""
    a = next(x for x in job.alternatives if x.id == item)
    return remove(propose.apply(job, a), "alternatives", item)


def _adder(view: View, like: Alternative | None = None, name: str = "") -> Callable[[], None]:
    def run() -> None:
        item = new_id(view.job)
        if view.act.edit(f"Add {name or 'an alternative'}"[:80], lambda job: add(job, like, name)):
            view.act.select("alternative", item)

    return run


# ---- the card ------------------------------------------------------------------------------------------------------


def card(view: View) -> Card:
    item, key = view.selected("alternative"), view.selected("measure")
    a = next((x for x in view.job.alternatives if x.id == item), None)
    if a is not None:
        return _alternative_card(view, a)
    effect = next((e for e in _study(view).ranking if e.measure.key == key), None) if _study_or_none(view) else None
    if effect is not None:
        return _measure_card(view, effect)
    return _overview(view)


def _study_or_none(view: View) -> propose.Study | None:
    return view.figures.study


def _study(view: View) -> propose.Study:
    assert view.figures.study is not None
    return view.figures.study


def _overview(view: View) -> Card:
    study = _study_or_none(view)
    rows = tuple(
        ListRow(
            a.name,
            view.num("kpower", x.cooling_w) if (x := _outcome(study, a.id)) and not x.trouble else "–",
            view.unit("kpower"),
            key=("alternative", a.id),
            second=said(view, a),
        )
        for a in view.job.alternatives
    )
    listed: tuple[Section, ...] = (List_("Alternatives", "cooling", rows),) if rows else ()
    return Card(
        "What if",
        "Alternatives",
        None,
        "",
        (),
        "Name a set of changes and see loads, unit and hours beside the house as it is. Nothing is changed until you carry one out.",
        (),
        (*listed, *_ranking(view), Buttons((Button("add", "New alternative", "", _adder(view), True),))),
    )


def said(view: View, a: Alternative) -> str:
    """What an alternative changes, in a line."""
    r = "R-{}" if view.units == "ip" else "{} m²K/W"
    words = {
        "attic_r_m2k_w": f"ceilings {r}",
        "wall_add_r_m2k_w": f"{r} over walls",
        "floor_add_r_m2k_w": f"{r} under floors",
        "glass_u_w_m2k": "glass U {}",
        "glass_shgc": "SHGC {}",
        "blinds": "blinds let in {} %",
        "overhang_m": f"overhangs {{}} {view.unit('length')}",
        "ach50": "leaks {} per h",
        "duct_r_m2k_w": f"ducts {r}",
        "duct_leakage": "ducts leak {} %",
        "recovery": "recovery {} %",
        "cooling_c": f"cooling to {{}} {view.unit('temperature')}",
        "heating_c": f"heating to {{}} {view.unit('temperature')}",
    }
    kinds = {field: kind for field, _, kind in FIELDS}
    parts = []
    for field, text in words.items():
        value = getattr(a, field)
        if value is not None:
            kind = kinds[field]
            digits = {"r_value": 0 if view.units == "ip" else 1, "u_factor": 2}.get(kind)
            parts.append(text.format(view.num(kind, value, digits)))
    return ", ".join(parts) or "nothing changed yet"


def _ranking(view: View) -> tuple[Section, ...]:
    study = _study_or_none(view)
    if study is None:
        return ()
    rows = tuple(
        ListRow(
            e.measure.words(view.units),
            f"−{view.num('power', max(e.cooling_w, 0))}",
            key=("measure", e.measure.key),
            second=f"and {view.num('power', max(e.heating_w, 0))} {view.unit('power')} less heating{_smaller(study, e)}",
            selected=view.selected("measure") == e.measure.key,
        )
        for e in study.ranking
    )
    return (List_("What to fix first", f"{view.unit('power')} cooling", rows),) if rows else ()


def _smaller(study: propose.Study, e: propose.Effect) -> str:
    """The unit that fits, where the measure makes it another one."""
    if e.outcome.unit is study.now.unit:
        return ""
    if e.outcome.unit is None:
        return "; then no size of its kind fits"
    return f"; then {e.outcome.unit.name} fits"


def _alternative_card(view: View, a: Alternative) -> Card:
    x = _outcome(_study_or_none(view), a.id)
    fields = Fields(
        "What it changes",
        (
            of("alternatives", a, "name"),
            *(
                Field_(
                    f"{a.id}.{f}",
                    label,
                    kind,
                    getattr(a, f),
                    _setter(a.id, f),
                    f"Change {a.name}"[:80],
                    optional=True,
                )
                for f, label, kind in FIELDS
            ),
        ),
    )

    def drop() -> None:
        view.act.edit(f"Remove {a.name}"[:80], lambda job: remove(job, "alternatives", a.id))

    def do() -> None:
        view.act.edit(f"Carry out {a.name}"[:80], lambda job: carry_out(job, a.id))

    buttons = Buttons(
        (
            Button("carry", "Make it the house", "", do, True),
            Button("copy", "Copy", "", _adder(view, a, f"{a.name} 2"[:100])),
            Button("drop", "Remove", "", drop),
        )
    )
    figures = (_figures(view, x),) if x is not None and not x.trouble else ()
    return Card(
        "What if",
        a.name,
        None,
        "",
        ((view.num("kpower", x.cooling_w), f"{view.unit('kpower')} cool", "cooling"),) if x and not x.trouble else (),
        x.trouble if x is not None and x.trouble else said(view, a),
        ((view.num("kpower", x.heating_w), "heat", "heating"),) if x and not x.trouble else (),
        (*figures, fields, buttons),
    )


def _setter(item: str, field: str) -> Callable[[Job, float | str], Job]:
    def take(job: Job, value: float | str) -> Job:
        return replace(job, "alternatives", item, **{field: None if value == "" else value})

    return take


def _figures(view: View, x: propose.Outcome) -> List_:
    """An outcome against the house as it is."""
    now = _study(view).now

    def row(label: str, kind: str, before: float, after: float) -> ListRow:
        less = f"{(after / before - 1) * 100:+.0f} %".replace("-", "−") if before > 1 else ""
        return ListRow(label, view.num(kind, after), view.unit(kind), second=f"{less} from {view.num(kind, before)}")

    unit = x.unit.name if x.unit else "none fits"
    return List_(
        "Against the house as it is",
        "",
        (
            row("Cooling", "kpower", now.cooling_w, x.cooling_w),
            row("Heating", "kpower", now.heating_w, x.heating_w),
            ListRow("Smallest unit that fits", unit, second=f"now {now.unit.name if now.unit else 'none fits'}"),
            row("Hours at full output", "hours", now.run_hours, x.run_hours),
            *((row("Electricity a year", "energy", now.kwh * 3.6e6, x.kwh * 3.6e6),) if x.chosen else ()),
        ),
    )


def _measure_card(view: View, e: propose.Effect) -> Card:
    keep = _adder(view, propose.measure(e.measure.key), e.measure.words(view.units))
    return Card(
        "What to fix first",
        e.measure.words(view.units),
        None,
        "",
        ((f"−{view.num('power', max(e.cooling_w, 0))}", f"{view.unit('power')} cool", "cooling"),),
        "This measure alone, the house solved anew with it",
        ((f"−{view.num('power', max(e.heating_w, 0))}", "heat", "heating"),),
        (
            _figures(view, e.outcome),
            *_ranking(view),
            Buttons((Button("keep", "Keep as an alternative", "", keep, True),)),
        ),
    )


# ---- the ledger ----------------------------------------------------------------------------------------------------


def ledger(view: View) -> Ledger:
    """Every room's loads as it is and in each alternative."""
    study = _study_or_none(view)
    ld = view.r.loads
    shown = [x for x in (study.alternatives if study else ()) if not x.trouble][:COLUMNS_SHOWN]
    n = len(view.job.rooms)
    shown = [x for x in shown if len(x.rooms_cooling_w) == n]

    wide = min(max(664 / max(len(shown), 1) - 62, 92.0), 150.0)

    def other(x: propose.Outcome) -> tuple[Told[Rooms], ...]:
        def cool(q: Rooms) -> Cell:
            whole = x.cooling_w if q.whole else q.sum(x.rooms_cooling_w)
            return Cell(view.num("power", whole), color=None if q.whole else "cooling")

        def heat(q: Rooms) -> Cell:
            return Cell(view.num("power", q.sum(x.rooms_heating_w)), color=None if q.whole else "heating")

        return Told(x.alternative.name if x.alternative else "", wide, cool), Told("heat", 62, heat)

    columns = (
        named(112),
        Told("Cooling", 104, lambda q: ld.house_cooling_w if q.whole else q.sum(ld.cooling_w), "power", bold=True),
        Told("Heating", 70, lambda q: q.sum(ld.heating_w), "power", bold=True, unit=""),
        *(c for x in shown for c in other(x)),
    )
    return rooms_table(view, columns)


# ---- the page ------------------------------------------------------------------------------------------------------


def page(view: View) -> Canvas:
    """The alternatives as columns, and the measures as bars."""

    def draw(p: QPainter, r: QRectF) -> None:
        t, study = view.theme, _study_or_none(view)
        paint.text(p, r.left() + 16, r.top() + 26, "What if", 16, 700, t("ink"))
        note = (
            "working it out"
            if study is None or study.job is not view.job
            else "each house solved anew; nothing is changed yet"
        )
        paint.text(p, r.left() + 84, r.top() + 26, note, 12, 500, t("ink2"))
        if study is None:
            return
        _side_by_side(p, r, view, study)
        _bars(p, r, view, study)

    def click(x: float, y: float, r: QRectF) -> None:
        study = _study_or_none(view)
        if study is None:
            return
        for box, kind, item in (*_columns(r, study), *_measure_rows(r, study)):
            if box.contains(x, y) and item:
                view.act.select(kind, item)

    return Canvas(draw, click)


TOP, LABELS, ROW = 40.0, 150.0, 34.0


def _columns(r: QRectF, study: propose.Study) -> list[tuple[QRectF, str, str]]:
    """Where each house's column stands; the first is the house as it is."""
    n = 1 + len(study.alternatives)
    left, wide = r.left() + LABELS, r.width() - LABELS - 16
    w = min(wide / max(n, 3), 170.0)
    boxes = []
    for k in range(n):
        item = study.alternatives[k - 1].alternative if k else None
        boxes.append(
            (QRectF(left + k * w, r.top() + TOP, w - 6, 30 + 5 * ROW), "alternative", item.id if item else NOW)
        )
    return boxes


def _side_by_side(p: QPainter, r: QRectF, view: View, study: propose.Study) -> None:
    t = view.theme
    houses = [study.now, *study.alternatives]
    rows: tuple[tuple[str, str, Callable[[propose.Outcome], float], str], ...] = (
        ("Cooling", "kpower", lambda x: x.cooling_w, "cooling"),
        ("Heating", "kpower", lambda x: x.heating_w, "heating"),
        ("Unit that fits", "", lambda x: 0.0, ""),
        ("Hours at full output", "hours", lambda x: x.run_hours, "load2"),
        ("Electricity a year", "energy", lambda x: x.kwh * 3.6e6, "load2"),
    )
    top = r.top() + TOP + 30
    for k, (label, kind, _, _) in enumerate(rows):
        y = top + k * ROW
        p.setPen(QPen(t("rule"), 1))
        p.drawLine(QPointF(r.left() + 16, y), QPointF(r.right() - 16, y))
        paint.text(p, r.left() + 16, y + 22, label, 12.5, 600, t("ink"))
        if kind:
            paint.text(p, r.left() + LABELS - 10, y + 22, view.unit(kind), 11, 500, t("ink3"), "r")
    for (box, _, item), x in zip(_columns(r, study), houses, strict=True):
        on = item != NOW and view.selected("alternative") == item
        if on:
            p.fillRect(box, t("select"))
        ink = t("on_select") if on else t("ink")
        name = x.alternative.name if x.alternative else "As it is"
        paint.text(p, box.left() + 6, box.top() + 20, name, 13, 700, ink, width=box.width() - 10)
        if x.trouble:
            for k, part in enumerate(paint.wrap(x.trouble, 11.5, box.width() - 12)[:6]):
                paint.text(p, box.left() + 6, top + 18 + 15 * k, part, 11.5, 500, t("fails"))
            continue
        for k, (_, kind, value, role) in enumerate(rows):
            y = top + k * ROW
            if not kind:
                paint.text(
                    p,
                    box.left() + 6,
                    y + 22,
                    x.unit.name if x.unit else "none fits",
                    13,
                    600,
                    ink,
                    width=box.width() - 10,
                )
                continue
            v, most = value(x), max((value(h) for h in houses if not h.trouble and value(h) == value(h)), default=0.0)
            if v != v:
                paint.text(p, box.left() + 6, y + 22, "–", 13, 600, ink)
                continue
            paint.text(p, box.left() + 6, y + 17, view.num(kind, v), 14, 700, ink)
            if most > 0:
                track = QRectF(box.left() + 6, y + 23, box.width() - 14, 6)
                p.fillRect(track, t("rule"))
                p.fillRect(QRectF(track.left(), track.top(), track.width() * max(v, 0) / most, 6), t(role))


def _unit_words(x: propose.Outcome) -> str:
    return x.unit.name if x.unit is not None else "none fits"


UNIT_W = 84.0


def _measure_rows(r: QRectF, study: propose.Study) -> list[tuple[QRectF, str, str]]:
    top = r.top() + TOP + 30 + 5 * ROW + 44
    step = min(24.0, max((r.bottom() - top - 6) / max(len(study.ranking), 1), 14.0))
    return [
        (QRectF(r.left() + 10, top + k * step, r.width() - 26, step - 1), "measure", e.measure.key)
        for k, e in enumerate(study.ranking)
    ]


def _bars(p: QPainter, r: QRectF, view: View, study: propose.Study) -> None:
    """Each measure alone: how much less cooling and heating the house needs."""
    t = view.theme
    y = r.top() + TOP + 30 + 5 * ROW + 24
    w = paint.text(p, r.left() + 16, y, "What to fix first", 13, 700, t("ink"))
    paint.text(p, r.left() + w + 26, y, f"each measure alone, {view.unit('power')} less", 12, 500, t("ink2"))
    if not study.ranking:
        paint.text(
            p, r.left() + 16, y + 26, "None of the usual measures makes this house need less.", 12.5, 500, t("ink2")
        )
        return
    most = max(max(e.cooling_w, e.heating_w) for e in study.ranking)
    half = (r.width() - 16 - 190 - 90 - UNIT_W) / 2
    right = r.right() - 16.0
    paint.text(p, right, y + 16, "unit that fits", 12, 600, t("ink2"), "r")
    for k, word in enumerate(("cooling", "heating")):
        paint.text(p, r.left() + 196 + k * (half + 40), y + 16, word, 12, 600, t(word))
    for (box, _, item), e in zip(_measure_rows(r, study), study.ranking, strict=True):
        on = view.selected("measure") == item
        if on:
            p.fillRect(box, t("select"))
        ink = t("on_select") if on else t("ink")
        base = box.center().y() + 4
        paint.text(p, r.left() + 16, base, e.measure.words(view.units), 12.5, 600, ink, width=176)
        for k, (watts, role) in enumerate(((e.cooling_w, "cooling"), (e.heating_w, "heating"))):
            left = r.left() + 196 + k * (half + 40)
            long = max(watts, 0) / most * (half - 40)
            p.fillRect(QRectF(left, box.center().y() - 5, max(long, 1), 10), t(role))
            paint.text(p, left + long + 5, base, view.num("power", max(watts, 0)), 12, 600, ink)
        unit, now = _unit_words(e.outcome), _unit_words(study.now)
        color = ink if unit != now or on else t("ink3")
        paint.text(p, right, base, unit, 12, 700 if unit != now else 500, color, "r", UNIT_W)
