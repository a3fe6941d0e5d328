"""Station 5, Ducts: the tree over the plan, static budget, runs, plenums."""

from __future__ import annotations

from collections.abc import Callable
from types import MappingProxyType
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.later import Later
from murvan.app.plan.lens import Legend, Lens
from murvan.app.plan.texts import APART
from murvan.app.solid_eye import Eye
from murvan.app.stations.base import (
    Arith,
    Canvas,
    Card,
    Cell,
    Headline,
    Ledger,
    List_,
    ListRow,
    Picture,
    Station,
    Strip,
    View,
    room_of,
)
from murvan.app.stations.common import all_heads, on_storey, room_mark, step_fill, unjudged
from murvan.app.stations.ducts import ductless
from murvan.app.stations.ducts import section as duct_section
from murvan.app.stations.ducts import space as duct_space
from murvan.app.stations.ducts.cards import Bulk, box_card, ducted_in_hand, run_buttons, run_fields, unit_card
from murvan.app.stations.ducts.section import Cutting
from murvan.app.stations.ducts.unfolded import shown_of, unfolded
from murvan.app.stations.house.things import obstacle_card
from murvan.app.stations.told import Rooms, Says, Told, named, rooms_table, state
from murvan.design import study
from murvan.design.ducts import RunResult, branch_deg, damper_words, run_kind
from murvan.design.explain import explain_rate, explain_run, way_words
from murvan.design.limits import exceeds
from murvan.design.parts import size_text
from murvan.design.space import PLACE_WORDS, lie_in
from murvan.kinds.fittings import FITTINGS
from murvan.model import Job
from murvan.model.design import DuctRun, IndoorUnit
from murvan.model.house import Storey
from murvan.model.routes import parents

if TYPE_CHECKING:
    from murvan.app.stations.ducts.plenum import PlenumHand

PLENUMS, SECTION, SPACE = 3, 4, 5
"""Lenses that have a page of their own."""
FRICTION_STEPS = (0.25, 0.45, 0.65, 0.9)
SPEED_STEPS = (1.5, 2.2, 3.0, 3.8)


WHY_REST_MS = 150


class DuctsStation(Station):
    number, name = 5, "Ducts"
    lenses = ("Duct tree", "Friction", "Speed", "Plenums", "Section", "In space")
    tools = (
        ("ducts.lay", "swap"),
        ("tool.unit", "indoor-unit"),
        ("tool.trunk", "trunk"),
        ("tool.branch", "branch"),
        ("tool.riser", "riser"),
        ("tool.damper", "damper"),
        ("tool.zone_damper", "zone"),
        ("tool.level", "level"),
        ("tool.box", "bump-out"),
        ("ducts.size_all", "measure"),
        ("ducts.balance", "flow-hood"),
        ("ducts.cut", "cut"),
    )
    lens_tools = MappingProxyType(
        {
            PLENUMS: (("ducts.plenum_size", "measure"), ("ducts.plenum_place", "trunk"), ("ducts.lay", "swap")),
            SECTION: (
                ("ducts.cut", "cut"),
                ("ducts.look", "zoom"),
                ("ducts.size_all", "measure"),
                ("ducts.lay", "swap"),
            ),
            SPACE: (("ducts.cut", "cut"), ("ducts.look", "zoom"), ("ducts.lay", "swap")),
        }
    )
    picks_units = True

    def __init__(self) -> None:
        super().__init__()
        self.bulk = Bulk()
        """What is to be changed of several runs at once."""
        self.eye = Eye()
        """Where the plenum is looked at from."""
        self._hand: PlenumHand | None = None
        self.whole = Eye()
        """Where the system in space is looked at from."""
        self.cutting: Cutting = Cutting()
        self._instead: Later[tuple[study.Instead, ...]] = Later("murvan-why", WHY_REST_MS)
        self._spots: Later[tuple[IndoorUnit, ...]] = Later("murvan-places")
        self.laters = (self._instead, self._spots)

    def shown(self) -> tuple[object, ...]:
        turned = (self.whole.turn_deg, self.whole.tilt_deg)
        return (*self.bulk.shown(), self.cutting.ends, turned, *(x.answers for x in self.laters))

    @property
    def at_plenums(self) -> bool:
        """Whether the faces of a plenum are shown."""
        return self.lens_index == PLENUMS

    def canvas(self, view: View) -> Canvas | None:
        if self.lens_index == SECTION and view.r.laid:
            return duct_section.canvas(view, self.cutting)
        if self.lens_index == SPACE:
            return duct_space.canvas(view, self.whole)
        if not self.at_plenums or not view.ducted.plenums:
            return None
        from murvan.app.stations.ducts import plenum  # sheet metal: the window starts without it

        self._hand = self._hand or plenum.PlenumHand()
        return plenum.canvas(view, self._hand)

    def reached(self, view: View) -> bool:
        return bool(view.job.design.runs) or all_heads(view)

    def missing(self, view: View) -> str:
        if super().missing(view):
            return super().missing(view)
        return "" if view.ducted.unit else "Ducts needs a unit: press 3 and pick one"

    def headline(self, view: View) -> Headline:
        if all_heads(view):
            return ductless.headline(view)
        b, d = view.ducted.blower, view.ducted.ducts
        leaves = [x for x in view.r.runs.values() if x.ends_in and x.run.side == "supply"]
        if not leaves:
            return Headline("none", "no runs", "", "lay out the tree")
        over = sum(exceeds(x.velocity_m_s, x.velocity_max_m_s) for x in view.r.runs.values())
        static = float(b.external_static_pa[0]) if b else d.total_pa
        return Headline(
            self.mark(view),
            view.num("pressure", static),
            f"of {view.text('pressure', d.limit_pa)}",
            f"{len(leaves)} runs · {over or 'none'} over",
        )

    def knows(self, view: View, kind: str, item: str) -> bool:
        if kind == "indoor_unit":
            return any(x.id == item and (x.kind == "ducted" or all_heads(view)) for x in view.job.design.indoor_units)
        if kind == "obstacle":
            return any(x.id == item for x in view.job.obstacles)
        return kind == "place" and any(x.id == item and x.boxes_ducts for x in view.job.places)

    def default_selection(self, view: View) -> tuple[str, str] | None:
        long = view.ducted.ducts.longest_supply
        return ("run", long[-1]) if long else super().default_selection(view)

    def lens(self, view: View) -> Lens:
        if all_heads(view):
            return ductless.lens(view, self.lenses[self.lens_index])
        a, predicted = view.r.airflow, view.r.predicted_m3_s
        out = Lens(
            self.lenses[self.lens_index], ducts=True, registers=True, throws=self.lens_index == 0, text_at="ducts"
        )
        out.takes_ducts, out.boxes = ducted_in_hand(view), True
        out.storey_figures = {
            s.id: view.num(
                "flow", sum(float(a.design_m3_s[i]) for i, r in enumerate(view.job.rooms) if r.storey == s.id)
            )
            for s in view.job.storeys
        }
        out.storey_unit = f"{view.unit('flow')}, design"
        for i, r in on_storey(view):
            out.room_text[r.id] = [
                (r.name, "", 13, 600, "ink2"),
                (view.num("flow", float(a.design_m3_s[i])), "", 20, 700, "ink"),
            ]
            got = predicted[r.id] if predicted is not None else None
            if got is not None and abs(got - a.design_m3_s[i]) > APART * a.design_m3_s[i]:
                out.room_text[r.id].append((f"gets {view.num('flow', got)}", "", 13, 600, "look"))
        storey = next((s for s in view.job.storeys if s.id == view.storey), None)
        if self.lens_index in (1, 2):
            for x in view.r.runs.values():
                value = x.friction_pa_m if self.lens_index == 1 else x.velocity_m_s
                out.fills[f"run:{x.run.id}"] = step_fill(
                    view.theme, value, FRICTION_STEPS if self.lens_index == 1 else SPEED_STEPS, "load"
                )
            kind = "friction" if self.lens_index == 1 else "velocity"
            steps = [view.num(kind, s) for s in (FRICTION_STEPS if self.lens_index == 1 else SPEED_STEPS)]
            names = [f"over {steps[3]}", f"to {steps[3]}", f"to {steps[2]}", f"to {steps[1]}", f"to {steps[0]}"]
            out.legend_title = view.unit(kind)
            out.legend = tuple(Legend("duct", f"load{4 - k}", name) for k, name in enumerate(names))
        else:
            out.legend_title = "Air"
            out.legend = (
                Legend("duct", "supply", "supply"),
                Legend("duct", "return", "return"),
                Legend("duct", "fresh", "fresh"),
                Legend("line", "supply", "throw"),
            )
        if storey is not None:
            out.note = (_where(view, storey), "Widths to scale", f"size {view.unit('size')} · {view.unit('flow')}")
        return out

    def strip(self, view: View) -> Strip:
        if all_heads(view):
            return ductless.strip(view)
        s, d, b = view.ducted, view.ducted.ducts, view.ducted.blower
        at = float(b.flow_m3_s[0]) if b is not None else s.airflow.total_m3_s
        static = float(b.external_static_pa[0]) if b is not None else d.total_pa
        lines = [f"of {view.text('pressure', d.limit_pa)}", f"at {view.text('flow', at)}"]
        if b is not None:
            lines.append(f"bar at {view.text('flow', s.airflow.total_m3_s)}")
        return Strip(
            f"Static{_whose(view)}, {'predicted' if b is not None else 'longest path'}",
            view.num("pressure", static),
            tuple(lines),
            lambda p, r: _budget(p, r, view),
        )

    def ledger(self, view: View) -> Ledger:
        if self.at_plenums and view.ducted.plenums:
            from murvan.app.stations.ducts import plenum

            return plenum.ledger(view)
        if all_heads(view):
            return ductless.ledger(view)
        return rooms_table(view, _table(view))

    def card(self, view: View) -> Card:
        s, runs = view.selection, view.r.runs
        self.bulk.follow(s)
        if all_heads(view) and not (s and s.kind in ("place", "obstacle")):
            return ductless.card(view)
        if s and s.kind == "place":
            return box_card(view, s.id)
        if s and s.kind == "obstacle":
            return obstacle_card(view, s.id)
        if view.ducted.plenums and (self.at_plenums or (s is not None and s.kind == "plenum")):
            from murvan.app.stations.ducts import plenum

            box = plenum.in_hand(view)
            if box is not None:
                return plenum.card(view, box, self.eye)
        if not runs:
            return unit_card(view, self._spots)
        if s and s.kind == "indoor_unit":
            return unit_card(view, self._spots)
        run_id = None
        if s and s.kind == "run":
            run_id = s.id
        elif s and s.kind == "register":
            run_id = next((x.id for x in view.job.design.runs if x.register_id == s.id), None)
        if run_id is None:
            room = room_of(view)
            ids = {x.id for x in view.job.design.registers if x.room == room}
            longest = view.ducted.ducts.longest_supply
            own = (x.id for x in view.job.design.runs if x.register_id in ids)
            run_id = next(own, longest[-1] if longest else next(iter(runs)))
        x = runs.get(run_id) or next(iter(runs.values()))
        if self.lens_index in (SECTION, SPACE):
            return duct_space.card(
                view, x, self.cutting, self.whole, run_fields(view, x.run, self.bulk), self.lens_index == SECTION
            )
        return self._run(view, x)

    def _run(self, view: View, x: RunResult) -> Card:
        run, n = x.run, view.r.network
        d = view.r.systems[run.indoor].ducts
        register = next((r for r in view.job.design.registers if r.id == x.ends_in), None)
        title = register.tag if register else f"{run.tag} {'trunk' if run.side == 'supply' else run.side}"
        longest = run.id in (d.longest_supply[-1:] + d.longest_return[-1:])
        predicted = n.run_m3_s.get(run.id) if n else None
        bad = [f for f in view.r.findings if f.hit.at.kind == "run" and f.hit.at.id == run.id]
        mark = "fails" if any(f.severity == "fails" for f in bad) else "look" if bad else "good" if n else "none"
        rates = (Arith(explain_rate(d), False),) if d.longest_supply and d.longest_return else ()
        return Card(
            f"Run · {view.storey_name(run.storey)} · {'longest path' if longest else run_kind(run)}",
            title,
            mark,
            "",
            ((view.num("flow", x.flow_m3_s), view.unit("flow"), "ink"),),
            bad[0].text(view.units) if bad else f"predicted {view.text('flow', predicted)}",
            (
                (view.num("velocity", x.velocity_m_s), view.unit("velocity"), "ink"),
                (view.num("friction", x.friction_pa_m), "/100 ft" if view.units == "ip" else "Pa/m", "ink"),
            ),
            (
                run_fields(view, run, self.bulk),
                *_plenum_picture(view, run),
                *_setting(view, run),
                Arith(explain_run(x, d)),
                *rates,
                _pieces(view, x),
                *self._why(view, x),
                run_buttons(view, run, self.bulk),
            ),
        )

    def _why(self, view: View, x: RunResult) -> tuple[List_, ...]:
        """What other fittings would save in this run and bring it in air; kept while nothing changes."""
        found = self._instead.of((view.r, x.run.id), lambda: study.instead(view.r, x)) or ()
        rows = tuple(
            ListRow(
                i.now,
                f"{'saves' if i.saves_pa >= 0 else 'costs'} {view.text('pressure3', abs(i.saves_pa))}",
                second=f"{i.other}: {view.text('flow', abs(i.brings_m3_s), 1)} {'more' if i.brings_m3_s >= 0 else 'less'}",
            )
            for i in found
        )
        return (List_("Why this fitting", "against another one", rows),) if rows else ()


def _where(view: View, storey: Storey) -> str:
    """Where the ducts of a storey lie, and where they are to run before there are any."""
    place = lie_in(storey.id, view.r.laid)
    words = PLACE_WORDS[place or storey.duct_place]
    return f"{words[:1].upper()}{words[1:]}{'' if place else ', as said'}"


def _whose(view: View) -> str:
    """' of Upper unit' where several units have ducts."""
    several = sum(bool(x.ducts.runs) for x in view.r.systems.values()) > 1
    return f" of {view.ducted.design.indoor.tag}" if several else ""


def _table(view: View) -> tuple[Told[Rooms], ...]:
    """Rooms by their runs, a room told by the run with the longest path, several by the worst of each kind."""
    n, air = view.r.network, view.r.airflow.design_m3_s
    room = {x.id: x.room for x in view.job.design.registers if x.side == "supply"}
    ending = sorted((x for x in view.r.runs.values() if x.ends_in in room), key=lambda x: -x.path_pa)
    by_room: dict[str, list[RunResult]] = {}
    for run in ending:
        by_room.setdefault(room[run.ends_in or ""], []).append(run)

    def runs(x: Rooms) -> list[RunResult]:
        return ending if x.whole else [run for i in x.ids for run in by_room.get(i, ())]

    def tags(x: Rooms) -> str:
        mine = runs(x)
        return f"{len(mine)} runs" if x.of != "room" else ", ".join(r.run.tag for r in mine) or "no run"

    def got(x: Rooms) -> float | None:
        """What runs bring by the air circuit."""
        return sum(n.register_m3_s.get(r.ends_in or "", 0.0) for r in runs(x)) if n is not None else None

    def first(says: Callable[[RunResult], Says], none: str = "–") -> Callable[[Rooms], Says]:
        return lambda x: says(runs(x)[0]) if runs(x) else none

    def worst(of: Callable[[RunResult], float]) -> Callable[[Rooms], float | None]:
        return lambda x: max(map(of, runs(x)[:1] if x.of == "room" else runs(x)), default=None)

    def rate(r: RunResult) -> float:
        return view.r.systems[r.run.indoor].ducts.friction_rate_pa_m or 1.0

    def friction_bar(r: RunResult) -> Cell:
        return Cell(bar=r.friction_pa_m / (2.2 * rate(r)), bar_color="supply", tick=1 / 2.2)

    def speed_bar(r: RunResult) -> Cell:
        top = r.velocity_max_m_s * 1.15
        return Cell(bar=r.velocity_m_s / top, bar_color="supply", tick=r.velocity_limit_m_s / top)

    def length(r: RunResult) -> str:
        return f"{view.num('length', r.length_m, 0)} + {view.num('length', r.equivalent_length_m, 0)}"

    def excess(r: RunResult) -> str:
        return view.num("pressure3", r.excess_pa) if r.excess_pa > 0.5 else "longest"

    def mark(x: Rooms) -> str:
        found = room_mark(view, x.id, DuctsStation.number)
        return unjudged(found) if n is None or not runs(x) else found

    per = view.unit("friction").replace("in wc", "")
    return (
        named(124),
        Told("Runs", 72, tags, align="l"),
        Told("Air", 58, lambda x: (x.sum(air) or 0.0) if x.of != "room" or runs(x) else None, "flow", bold=True),
        Told("Gets", 52, lambda x: got(x) if x.of != "room" or runs(x) else None, "flow", unit=""),
        Told("Size", 70, lambda x: _size_of(view, runs(x)) if runs(x) else "–", "size", bold=True, alone=True),
        Told("Length + eq.", 102, first(length), "length", alone=True),
        Told("Friction", 100, worst(lambda r: r.friction_pa_m), "friction", bold=True, unit=per),
        Told("", 24, first(friction_bar, ""), alone=True),
        Told("Speed", 70, worst(lambda r: r.velocity_m_s), "velocity"),
        Told("", 24, first(speed_bar, ""), alone=True),
        Told("Path", 74, worst(lambda r: r.path_pa), "pressure3", bold=True, unit=view.unit("pressure")),
        Told("Excess", 66, first(excess, ""), alone=True),
        Told("Damper", 64, first(lambda r: damper_words(r.run.damper), ""), alone=True),
        state(28, mark),
    )


def _size_of(view: View, runs: list[RunResult]) -> str:
    """'6', '6 each' for several alike, '6, …' for several that differ."""
    run = runs[0].run
    one = size_text(
        (run.diameter_m or 0,) if run.shape == "round" else (run.width_m or 0, run.height_m or 0), view.units
    )
    if len(runs) == 1:
        return one
    return f"{one} each" if all(r.run.diameter_m == run.diameter_m for r in runs) else f"{one}, …"


def _setting(view: View, run: DuctRun) -> tuple[List_, ...]:
    """How the damper of a run to a face is set, and what the face gets then; the order is on the balancing sheet."""
    n, face = view.r.network, run.register_id or ""
    if n is None or run.damper is None or face not in n.register_m3_s:
        return ()
    design = view.r.systems[run.indoor].airflow.register_m3_s.get(face)
    got = ListRow(
        f"Set to {damper_words(run.damper)}, it gets",
        view.text("flow", n.register_m3_s[face]),
        f"design {view.num('flow', design)}",
    )
    return (List_("Balancing on site", "order: Handover", (got,)),)


def _plenum_picture(view: View, run: DuctRun) -> tuple[Picture, ...]:
    """The plenum the run hangs on, unfolded, with the hole it starts from."""
    plenums = view.r.systems[run.indoor].plenums
    plenum = next((p for p in plenums if p.plenum.side == run.side), None)
    if plenum is None:
        return ()
    root = _root(view.job, run.id)
    return (
        Picture(
            f"{run.side.capitalize()} plenum, unfolded",
            f"{view.unit('size')}, from outside",
            150,
            lambda p, r: unfolded(p, r, view, plenum, root),
            (*shown_of(plenum), root),
        ),
    )


def _pieces(view: View, x: RunResult) -> List_:
    """Straight length and fittings of a run with the length each acts like."""
    rows = [
        ListRow(
            f"{FITTINGS[f.kind].name}" + (f" × {f.count}" if f.count > 1 else ""),
            view.num("length", x.acts_like_m(f), 0),
        )
        for f in x.run.pieces
    ]
    if x.way is not None and branch_deg(x.run) is None:
        rows.insert(0, ListRow(way_words(x).capitalize(), view.num("length", x.parting_acts_like_m, 0)))
    material = x.run.made_of
    straight = f"{material.name if material.bends else 'Duct'}, {view.text('length', x.length_m)}"
    rows.insert(min(len(rows), 1), ListRow(straight, view.num("length", x.length_m, 0)))
    return List_("Pieces in this run", f"acts like, {view.unit('length')}", tuple(rows))


def _root(job: Job, run_id: str) -> str:
    """The run at the plenum that feeds this one."""
    parent = parents(job.design.runs)
    at = run_id
    while parent.get(at):
        at = str(parent[at])
    return at


BAR_Y, BAR_H = 45.0, 26.0
BUDGET_COLOR = {"return": "return", "unit": "steel", "supply": "supply"}


def _pressure(view: View, pa: float) -> str:
    """A figure on the bar; inches without the nought before the point."""
    shown = view.num("pressure", pa)
    return shown.lstrip("0") if view.units == "ip" else shown


def _budget(p: QPainter, r: QRectF, view: View) -> None:
    """The static bar: return, unit, supply, what is left, and the limit as a post."""
    t, d = view.theme, view.ducted.ducts
    if not d.budget or d.limit_pa <= 0:
        paint.text(p, r.left(), 40, "no supply and return yet", 13, 500, t("ink2"))
        return
    whole, width = max(d.limit_pa, d.total_pa), r.width() - 16
    spans = _budget_parts(p, r, view, width / whole)
    _budget_groups(p, view, spans)
    used = max((b for _, b in spans.values()), default=r.left())
    end = r.left() + width * d.limit_pa / whole
    if end - used > 4:
        _budget_left(p, QRectF(used, BAR_Y, end - used, BAR_H), view)
    p.fillRect(QRectF(end - 1.5, 30, 3, 46), t("ink"))
    paint.text(p, end, 26, f"limit {view.num('pressure', d.limit_pa)}", 12, 600, t("ink"), "r")
    _ends(p, r, view, whole, width)


def _budget_parts(p: QPainter, r: QRectF, view: View, px_per_pa: float) -> dict[str, tuple[float, float]]:
    """Each part with its name and figure where they fit; returns from where to where each group goes."""
    t, x, label_end = view.theme, r.left(), -1e9
    spans: dict[str, tuple[float, float]] = {}
    for b in view.ducted.ducts.budget:
        w = max(px_per_pa * b.pressure_pa, 0.0)
        box = QRectF(x, BAR_Y, max(w - 1.2, 1), BAR_H)
        fill = t(BUDGET_COLOR[b.group])
        p.fillRect(box, fill)
        figure = _pressure(view, b.pressure_pa)
        if w > paint.text_width(figure, 13, 700) + 4:
            paint.text(p, box.center().x(), 63, figure, 13, 700, t.on(fill), "c")
        nw = paint.text_width(b.name, 11.5, 500)
        left = max(box.center().x() - nw / 2, r.left())
        if left > label_end + 6:
            paint.text(p, left, 38, b.name, 11.5, 500, t("ink2"))
            label_end = left + nw
        spans[b.group] = (spans.get(b.group, (x, x))[0], x + w)
        x += w
    return spans


def _budget_groups(p: QPainter, view: View, spans: dict[str, tuple[float, float]]) -> None:
    """Return, unit and supply with their sums, between lines where there is room."""
    t, free = view.theme, 0.0
    for group, (a, b) in spans.items():
        total = sum(k.pressure_pa for k in view.ducted.ducts.budget if k.group == group)
        word = f"{group.capitalize()} {_pressure(view, total)}"
        w = paint.text_width(word, 12.5, 700)
        ink = t("ink") if group == "unit" else t(BUDGET_COLOR[group])
        p.setPen(QPen(ink, 2.4))
        a = max(a, free)
        if b - a > w + 20:
            c = (a + b) / 2
            p.drawLine(QPointF(a + 1, 15), QPointF(c - w / 2 - 5, 15))
            p.drawLine(QPointF(c + w / 2 + 5, 15), QPointF(b - 2, 15))
            paint.text(p, c, 19.5, word, 12.5, 700, ink, "c")
        else:
            free = a + w + 8
            paint.text(p, a, 19.5, word, 12.5, 700, ink)


def _budget_left(p: QPainter, box: QRectF, view: View) -> None:
    """What the limit leaves."""
    t, d = view.theme, view.ducted.ducts
    paint.hatch(p, box, t("outline"), 7, 1)
    p.setPen(QPen(t("outline"), 1))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(box)
    rest = f"{_pressure(view, d.limit_pa - d.total_pa)} left"
    w = paint.text_width(rest, 13, 700) + 10
    if w < box.width():
        p.fillRect(QRectF(box.center().x() - w / 2, 48, w, 20), t("panel"))
        paint.text(p, box.center().x(), 63, rest, 13, 700, t("ink"), "c")


def _ends(p: QPainter, r: QRectF, view: View, whole: float, width: float) -> None:
    """Where each run's path ends on the bar."""
    t, d = view.theme, view.ducted.ducts
    fixed = sum(b.pressure_pa for b in d.budget if b.group != "supply")
    leaves = sorted((x for x in d.runs.values() if x.ends_in and x.run.side == "supply"), key=lambda x: x.path_pa)
    last = r.left() + 170
    chosen_span = (0.0, 0.0)
    for x in leaves:
        if view.selected("run") == x.run.id:
            px = r.left() + width * (fixed + x.path_pa) / whole
            chosen_span = (px - 16, px + 16)
    paint.text(p, r.left(), 89, "Where each run's path ends", 11.5, 500, t("ink2"), width=260)
    for x in leaves:
        px = r.left() + width * (fixed + x.path_pa) / whole
        chosen = view.selected("run") == x.run.id
        p.setPen(QPen(t("ink"), 1))
        p.setBrush(t("select") if chosen else t("ink"))
        p.drawPolygon(QPolygonF([QPointF(px, 72), QPointF(px + 4, 79), QPointF(px - 4, 79)]))
        w = paint.text_width(x.run.tag, 11, 600)
        clear = px + w / 2 < chosen_span[0] or px - w / 2 > chosen_span[1]
        if chosen or (px - w / 2 > last + 4 and clear):
            paint.text(p, px, 90, x.run.tag, 11, 700 if chosen else 600, t("ink"), "c")
            last = max(last, px + w / 2)
