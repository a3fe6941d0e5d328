"""The system as it stands in the house, to be turned and picked from; and the card of a duct beside it and beside the section."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter

from murvan.app import paint
from murvan.app.latest import Latest
from murvan.app.solid_eye import Eye
from murvan.app.space_look import Shown, draw, picked
from murvan.app.stations.base import Button, Buttons, Canvas, Card, Fields, List_, ListRow, Picture, View
from murvan.app.stations.ducts.section import Cutting
from murvan.app.stations.ducts.section_page import clear_words, mark_of, size_of
from murvan.design import Finding
from murvan.design.ducts import RunResult, run_kind
from murvan.design.space import DuctCut, Faces, Section, faces

CARD_PX = 208.0
HEAD_PX = 34.0
CLICK_PX = 4.0

_FACES: Latest[Faces] = Latest()


def solid(view: View) -> Faces:
    """The system's facets; kept while nothing moves."""
    r = view.r
    return _FACES.of((r.laid, r.job), lambda: faces(r.job, r.laid))


class TurnHand:
    """Turns the whole; a click takes what is under it."""

    def __init__(self, view: View, eye: Eye) -> None:
        self.view, self.eye = view, eye
        self.at: QPointF | None = None
        self.home = (eye.turn_deg, eye.tilt_deg)
        self.far = 0.0
        self.page = QRectF()

    def press(self, at: QPointF, page: QRectF) -> bool:
        self.at, self.far, self.page = at, 0.0, page
        self.home = (self.eye.turn_deg, self.eye.tilt_deg)
        return True

    def move(self, at: QPointF, page: QRectF) -> None:
        if self.at is not None:
            by = at - self.at
            self.far += by.manhattanLength()
            self.eye.drag(by.x(), by.y())
            self.at = at

    def release(self) -> None:
        at, self.at = self.at, None
        if at is None or self.far > CLICK_PX:
            return
        self.let_back()
        found = picked(at, _inside(self.page), solid(self.view), self.eye)
        if found is not None:
            self.view.act.select(found.kind, found.id)

    def let_be(self) -> bool:
        held, self.at = self.at is not None, None
        if held:
            self.let_back()
        return held

    def let_back(self) -> None:
        self.eye.turn_deg, self.eye.tilt_deg = self.home


def _inside(page: QRectF) -> QRectF:
    return page.adjusted(8, HEAD_PX, -8, -8)


def canvas(view: View, eye: Eye) -> Canvas:
    """The page."""
    x = solid(view)

    def draw_page(p: QPainter, r: QRectF) -> None:
        t = view.theme
        w = paint.text(p, r.left() + 16, r.top() + 24, "The system in space", 14, 700, t("ink"))
        note = "drag to turn, click a duct to take it"
        paint.text(p, r.left() + 28 + w, r.top() + 24, note, 12.5, 500, t("ink2"), width=r.width() - w - 60)
        draw(p, _inside(r), t, x, eye, Shown(view.storey, view.selection))

    return Canvas(draw_page, hand=TurnHand(view, eye))


def card(view: View, x: RunResult, cutting: Cutting, eye: Eye, fields: Fields, cut: bool) -> Card:
    """A run beside its section: what it needs, what is free; and the whole system, to be turned."""
    run = x.run
    s = cutting.cut(view) if cut else None
    d = next((d for d in s.ducts if d.run.id == run.id and d.how != "upright"), None) if s is not None else None
    register = next((r for r in view.job.design.registers if r.id == x.ends_in), None)
    bad = [f for f in view.r.findings if f.hit.at.kind == "run" and f.hit.at.id == run.id]
    mark = "fails" if any(f.severity == "fails" for f in bad) else "look" if bad else "good"
    shown = Shown(view.storey, view.selection, s.ends if s is not None else None)
    look = Picture(
        "The system in space",
        "drag to turn",
        CARD_PX,
        lambda p, r: draw(p, r, view.theme, solid(view), eye, shown),
        (solid(view), eye.turn_deg, eye.tilt_deg, view.selection, shown.cut),
        eye.drag,
    )
    hero, side, note = _figures(view, x, d)
    if not cut:
        note = f"{view.text('length', x.length_m)} long{_rise(view, x)}"
    return Card(
        f"Run · {view.storey_name(run.storey)} · {run.made_of.name.lower()} · {'section' if cut else run_kind(run)}",
        register.tag if register is not None else f"{run.tag} {'trunk' if run.side == 'supply' else run.side}",
        mark,
        "",
        hero,
        bad[0].text(view.units) if bad else note,
        side,
        (
            *((look,) if cut else ()),
            *((_needs(view, s, d),) if d is not None and s is not None else ()),
            fields,
            *_besides(view, bad),
            Buttons(
                (
                    Button("cut", "Cut across it", "C", lambda: view.act.command("ducts.cut"), cut is False),
                    Button(
                        "look",
                        "In space" if cut else "Turn it",
                        "O",
                        lambda: view.act.command("ducts.look"),
                        cut is True,
                    ),
                )
            ),
        ),
    )


Figures = tuple[tuple[str, str, str], ...]


def _figures(view: View, x: RunResult, d: DuctCut | None) -> tuple[Figures, Figures, str]:
    """Free height where it is cut, else its air."""
    if d is None or d.left_m is None or d.free_m is None:
        air = ((view.num("flow", x.flow_m3_s), view.unit("flow"), "ink"),)
        words = "nothing limits its height here" if d is not None else "not cut by the line: C cuts across it"
        return air, (), f"{words}{_rise(view, x)}"
    ink = "fails" if d.left_m < 0 else "ink"
    word = "short" if d.left_m < 0 else "left"
    side = (
        (view.num("size1", d.needs_m), f"{view.unit('size1')} needed", "ink"),
        (view.num("size1", abs(d.left_m)), f"{view.unit('size1')} {word}", ink),
    )
    return (
        ((view.num("size1", d.free_m), f"{view.unit('size1')} free", ink),),
        side,
        f"clear in the {clear_words(d)}" if d.words == "space" else d.words,
    )


def _rise(view: View, x: RunResult) -> str:
    rise = x.run.rise_m
    way = "rises" if rise > 0 else "falls"
    return f", {way} {view.text('length', abs(rise))}" if abs(rise) > LEAST_RISE_M else ""


LEAST_RISE_M = 0.1


def _needs(view: View, s: Section, d: DuctCut) -> List_:
    """How needs and free height come about."""

    def row(label: str, m: float, bold: bool = False) -> ListRow:
        return ListRow(label, view.text("size1", m), bold=bold)

    rows = [row(f"{d.run.tag}, {size_of(view, d.run)}", d.high_m - d.low_m)]
    if d.wrap_m > 0:
        rows.append(row("walls and insulation, both sides", 2 * d.wrap_m))
    rows.append(row("needs", d.needs_m, True))
    if d.free_m is not None and d.left_m is not None:
        rows.append(row(clear_words(d), d.free_m))
        rows.append(row("short" if d.left_m < 0 else "left", abs(d.left_m), True))
    note = "in another duct" if d.run.id in s.in_each_other else "" if mark_of(s, d) != "fails" else "does not go in"
    return List_("What it needs", note, tuple(rows))


def _besides(view: View, bad: list[Finding]) -> tuple[List_, ...]:
    """What the punch list says of it beside the first."""
    rows = tuple(ListRow(f.text(view.units), "", mark=f.severity) for f in bad[1:4])
    return (List_("Besides", "punch list: !", rows),) if rows else ()
