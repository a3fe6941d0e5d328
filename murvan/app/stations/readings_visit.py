"""The visit, step by step: a chip for each, what is read in it, and how the house stands."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.stations.base import Field_, Fields, List_, ListRow, Strip, View
from murvan.app.stations.readings_keys import place_key
from murvan.app.theme import Theme
from murvan.design.limits import DOOR_LIMIT_PA
from murvan.field.places import BY_HEAT, Place
from murvan.field.protocol import Step, now_at, read_of, stands_for
from murvan.kinds.readings import QUANTITIES
from murvan.model import Job, with_design
from murvan.model.edit import changed

VISIT = "Visit"
State = Literal["done", "skipped", "next", "ahead"]
GAP, LEAST_W, NEXT_W, FOLDED = 8.0, 96.0, 214.0, 8


@dataclass(frozen=True)
class Stage:
    """A step of the visit and how far it is."""

    step: Step
    read: int
    state: State

    @property
    def left(self) -> int:
        return len(self.step.places) - self.read


def stages(view: View) -> tuple[Stage, ...]:
    """All steps; nothing until they are worked out."""
    visit, out, found = view.figures.visit, [], False
    for step in visit.steps if visit is not None else ():
        read = len(read_of(step, view.job))
        state: State = (
            "done" if read == len(step.places) else "skipped" if step.id in view.job.design.skipped else "ahead"
        )
        if state == "ahead" and not found:
            state, found = "next", True
        out.append(Stage(step, read, state))
    return tuple(out)


def now(view: View) -> Stage | None:
    """The step that is next; None once all are done or left out."""
    return next((x for x in stages(view) if x.state == "next"), None)


def in_order(view: View) -> Iterator[Place]:
    """What is read while the house stands as it does, in the order of the steps; those left out last."""
    stands = view.job.design.stands
    mine = sorted((x for x in stages(view) if stands_for(x.step, stands)), key=lambda x: x.state == "skipped")
    for x in mine:
        state = now_at(x.step, stands)
        yield from (replace(p, state=state) for p in x.step.places)


def set_up(job: Job, step: Step) -> Job:
    """The house stands as a step wants it."""
    return with_design(job, stands=now_at(step, job.design.stands))


def skip(job: Job, step: Step) -> Job:
    return with_design(job, skipped=(*job.design.skipped, step.id))


def unskip(job: Job) -> Job:
    """The last one left out comes back."""
    return with_design(job, skipped=job.design.skipped[:-1])


# ---- how the house stands ---------------------------------------------------------------------------------------------

DOORS = (("open", "Open"), ("shut", "Shut"))
FILTERS = (("in", "In place"), ("out", "Taken out"))
MODES = (("", "not noted"), ("heating", "Heating"), ("cooling", "Cooling"), ("fan", "Blower alone"))


def state_fields(view: View) -> Fields:
    """What is noted with every reading to come."""
    now_, job = view.job.design.stands, view.job
    zones = {run.zone_damper for run in job.design.runs if run.zone_damper}
    fields = [
        Field_("stands.mode", "Units", "text", now_.mode, _put("mode"), "Note what the units do", MODES),
        Field_(
            "stands.outdoor",
            "Outdoors",
            "temperature",
            now_.outdoor_c,
            _put("outdoor_c"),
            "Note the weather",
            optional=True,
        ),
        Field_("stands.doors", "Inside doors", "text", now_.doors, _put("doors"), "Note the doors", DOORS),
        Field_("stands.filter", "Filter", "text", now_.filter, _put("filter"), "Note the filter", FILTERS),
    ]
    if len(zones) > 1:
        calls = (("", "All"), *((z.id, f"{z.name} alone") for z in job.design.zones if z.id in zones))
        one = now_.calling[0] if len(now_.calling) == 1 else ""
        fields.append(Field_("stands.zones", "Zones that call", "text", one, _call, "Note the zones", calls, width=2))
    return Fields("The house stands", tuple(fields))


def _put(name: str) -> Callable[[Job, float | str], Job]:
    def put(job: Job, value: float | str) -> Job:
        given = None if name == "outdoor_c" and value == "" else value
        return with_design(job, stands=changed(job.design.stands, "The house stands", **{name: given}))

    return put


def _call(job: Job, value: float | str) -> Job:
    calling = (str(value),) if value else ()
    return with_design(job, stands=changed(job.design.stands, "The house stands", calling=calling))


# ---- on the card ------------------------------------------------------------------------------------------------------


def _label(p: Place) -> str:
    """Where it is, and of what where the step reads several things there."""
    if p.at.kind == "room":
        return f"{p.short}, over the hall"
    if p.quantity in BY_HEAT:
        return f"{p.short[:1].upper()}{p.short[1:]}, {QUANTITIES[p.quantity].name.lower()}"
    return p.short


def pressure_mark(p: Place, value: float | None) -> str | None:
    """Of a room with its doors shut; None of anything else, or while it is not read."""
    if p.at.kind != "room" or value is None:
        return None
    return "good" if abs(value) <= DOOR_LIMIT_PA else "look"


def room_pressures(view: View) -> dict[str, tuple[str, str]]:
    """By room, its pressure over the hall in words and its mark, while doors are shut."""
    if view.lens != VISIT or view.job.design.stands.doors != "shut":
        return {}
    out = {}
    for x in (x for x in stages(view) if x.step.state.doors == "shut"):
        read = read_of(x.step, view.job)
        for p in (p for p in x.step.places if p.at.kind == "room"):
            r = read.get(p.word)
            said = view.text("pressure3", r.value) if r is not None else "to read"
            out[p.at.id] = (said, pressure_mark(p, r.value if r is not None else None) or "none")
    return out


def step_list(view: View, place: Place | None) -> List_ | None:
    """The step in hand: what it reads, what has been read."""
    stands = view.job.design.stands
    mine = (
        s
        for s in stages(view)
        if place is not None and stands_for(s.step, stands) and place.key[:3] in {p.key[:3] for p in s.step.places}
    )
    x = next(mine, None) or now(view)
    if x is None:
        return None
    read = read_of(x.step, view.job)
    rows = []
    for p in x.step.places:
        kind, r = QUANTITIES[p.quantity].shown_as, read.get(p.word)
        designed = view.figures.visit.designed.get(p.key) if view.figures.visit is not None else None
        said = view.text(kind, r.value) if r is not None else "–"
        rows.append(
            ListRow(
                _label(p),
                said,
                key=place_key(p),
                mark=pressure_mark(p, r.value if r is not None else None),
                second=f"designed {view.text(kind, designed)}" if designed is not None else "",
                selected=place is not None and p.key[:3] == place.key[:3],
            )
        )
    return List_(x.step.name, f"{x.read} of {len(x.step.places)} · {x.step.minutes:.0f} min", tuple(rows))


# ---- the strip --------------------------------------------------------------------------------------------------------


def strip(view: View) -> Strip:
    own, visit = stages(view), view.figures.visit
    if visit is None:
        return Strip("The visit", "–", ("being worked out",), lambda p, r: None)
    gone = sum(x.step.minutes * x.read / len(x.step.places) for x in own)
    left = sum(x.step.minutes * x.left / len(x.step.places) for x in own if x.state != "skipped")
    kept = sum(x.read for x in own)
    return Strip(
        "The visit",
        f"{gone:.0f}",
        (f"{kept} reading{'' if kept == 1 else 's'} kept", f"{left:.0f} min to go"),
        lambda p, r: _chips(p, r, view, own),
        f"of {gone + left:.0f} min",
        click=lambda x, y, r: _click(x, r, view, own),
    )


def _shown(own: tuple[Stage, ...], wide: float) -> list[tuple[float, float, Stage | int]]:
    """Left end, width and stage of each chip that finds room; a number stands for so many done ones that are folded into one."""
    first = next((k for k, x in enumerate(own) if x.state in ("next", "ahead")), len(own))
    done = list(own[:first])
    rest = list(own[first:])
    fits = max(int((wide - NEXT_W - GAP) // (LEAST_W + GAP)), 1)
    chips: list[Stage | int] = [*done, *rest]
    if len(own) > fits + 1 and len(done) > 1:
        keep = min(max(fits - len(rest), 0), len(done) - 2)
        chips = [len(done) - keep, *(done[-keep:] if keep else []), *rest]
    out: list[tuple[float, float, Stage | int]] = []
    x = 0.0
    narrow = [c for c in chips if isinstance(c, int) or c.state != "next"]
    has_next = len(narrow) < len(chips)
    room = wide - (NEXT_W if has_next else 0.0) - GAP * (len(chips) - 1)
    each = max(min(room / max(len(narrow), 1), 132.0), LEAST_W)
    for c in chips:
        w = NEXT_W if not isinstance(c, int) and c.state == "next" else each
        if x + w > wide + 1:
            break
        out.append((x, w, c))
        x += w + GAP
    return out


def _chips(p: QPainter, r: QRectF, view: View, own: tuple[Stage, ...]) -> None:
    t, number = view.theme, {x.step.id: k for k, x in enumerate(own, 1)}
    shown = _shown(own, r.width())
    for x, w, stage in shown:
        box = QRectF(r.left() + x, 9, w, 62)
        if isinstance(stage, int):
            paint.rounded(p, box, t("paper"), t("outline"), 4)
            paint.mark(p, "good", box.left() + 14, box.top() + 15, t, 6)
            paint.text(p, box.left() + 10, box.top() + 37, f"{stage} steps", 12.5, 700, t("ink"), width=w - 16)
            paint.text(p, box.left() + 10, box.top() + 53, "done", 11.5, 500, t("ink2"))
        elif stage.state == "next":
            _next_chip(p, box, stage, number[stage.step.id], view)
        else:
            _chip(p, box, stage, number[stage.step.id], t)
    after = len(own) - sum(x if isinstance(x, int) else 1 for _, _, x in shown)
    more = f" · {after} more step{'s' if after > 1 else ''} after these" if after else ""
    skips = any(x.state == "skipped" for x in own)
    words = (
        "K leaves the step out"
        + (", Shift+K brings the last one back" if skips else "")
        + " · P prints the field sheet"
        + more
    )
    paint.text(p, r.left(), 88, words, 11.5, 500, t("ink2"), width=r.width())


def _chip(p: QPainter, box: QRectF, x: Stage, n: int, t: Theme) -> None:
    paint.rounded(
        p, box, t("paper") if x.state != "skipped" else None, None if x.state == "skipped" else t("outline"), 4
    )
    ink = t("ink3") if x.state == "skipped" else t("ink")
    if x.state == "skipped":
        p.setPen(QPen(t("outline"), 1.4, Qt.PenStyle.DashLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRoundedRect(box, 4, 4)
        paint.text(p, box.left() + 10, box.top() + 19, "left out", 11.5, 500, ink)
    else:
        paint.mark(
            p, "good" if x.state == "done" else "half" if x.read else "none", box.left() + 14, box.top() + 15, t, 6
        )
    paint.text(p, box.right() - 9, box.top() + 19, f"{x.step.minutes:.0f} min", 11.5, 500, ink, "r")
    paint.text(p, box.left() + 10, box.top() + 38, f"{n} {x.step.short}", 12.5, 700, ink, width=box.width() - 16)
    rest = x.step.name.removeprefix(x.step.short).removeprefix(", ")
    words = rest if x.state != "ahead" or not x.read else f"{x.read} of {len(x.step.places)}"
    paint.text(
        p,
        box.left() + 10,
        box.top() + 54,
        words or _count(len(x.step.places)),
        11.5,
        500,
        ink,
        width=box.width() - 16,
    )
    if x.state == "skipped":
        p.setPen(QPen(ink, 1.2))
        y = int(box.top() + 34)
        p.drawLine(
            int(box.left() + 10),
            y,
            int(box.left() + 10 + min(paint.text_width(f"{n} {x.step.short}", 12.5, 700), box.width() - 16)),
            y,
        )


def _count(n: int) -> str:
    return f"{n} reading{'s' if n > 1 else ''}"


def _next_chip(p: QPainter, box: QRectF, x: Stage, n: int, view: View) -> None:
    t = view.theme
    paint.rounded(p, box, t("select"), t("ink"), 5, 1.8)
    paint.text(
        p, box.left() + 10, box.top() + 19, f"{n} {x.step.name}", 13, 700, t("on_select"), width=box.width() - 64
    )
    paint.text(p, box.right() - 9, box.top() + 19, f"{x.step.minutes:.0f} min", 12, 700, t("on_select"), "r")
    ready = stands_for(x.step, view.job.design.stands)
    words = (
        f"{x.read} of {len(x.step.places)} read, {x.step.instrument.rstrip(' 1').lower()}"
        if ready
        else x.step.first or "House as found"
    )
    paint.text(p, box.left() + 10, box.top() + 36, words, 11.5, 500, t("on_select"), width=box.width() - 18)
    w = paint.key_cap(p, box.left() + 10, box.top() + 42, "Space", t)
    does = "simulates, or type it" if ready else "it stands so"
    paint.text(p, box.left() + 17 + w, box.top() + 54.5, does, 11.5, 500, t("on_select"), width=box.width() - 24 - w)


def _click(x: float, r: QRectF, view: View, own: tuple[Stage, ...]) -> None:
    for left, w, stage in _shown(own, r.width()):
        if not isinstance(stage, int) and left <= x - r.left() <= left + w:
            go_to(view, stage)


def go_to(view: View, stage: Stage) -> None:
    """A step is taken in hand: the house is noted to stand so, and its first reading that lacks is selected."""
    step = stage.step
    if not stands_for(step, view.job.design.stands) and not view.act.edit(
        f"The house stands: {step.name.lower()}", lambda job: set_up(job, step)
    ):
        return
    read = read_of(step, view.job)
    first = next((p for p in step.places if p.word not in read), step.places[0])
    view.act.select(*place_key(first))
