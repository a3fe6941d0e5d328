"""Station 6, Build: the cut and buy list, with ticks as pieces go up."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from murvan.app import paint
from murvan.app.later import Later
from murvan.app.latest import Latest
from murvan.app.plan import unit_layers
from murvan.app.plan.lens import Legend, Lens
from murvan.app.solid_eye import Eye
from murvan.app.stations import prices
from murvan.app.stations.base import (
    Arith,
    Button,
    Buttons,
    Card,
    Cell,
    Field_,
    Fields,
    Headline,
    Ledger,
    List_,
    ListRow,
    Row,
    Station,
    Strip,
    View,
    room_of,
)
from murvan.app.stations.common import all_heads, on_storey
from murvan.app.stations.told import Key, Told, headings, row, said
from murvan.catalog.own_shop import keep_shop, own_shop_said
from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.parts import STAGES, BuyRow, CutList, Piece, as_cut, buy_list, size_text
from murvan.model import Job, make
from murvan.model.edit import changed, with_design
from murvan.model.errors import JobValueError
from murvan.model.job import Tick

if TYPE_CHECKING:
    from murvan.design.metal import ShopPiece  # the window starts without sheet metal

PRICES = 1
"""The lens that shows them."""
SHOP = (
    ("slip_m", "Slip"),
    ("drive_m", "Drive"),
    ("flange_m", "Flange"),
    ("end_m", "Round end"),
    ("lock_pocket_m", "Lock, pocket"),
    ("lock_flange_m", "Lock, flange"),
    ("hem_m", "Hem"),
    ("lining_m", "Lining"),
    ("light_to_m", "26 gauge up to"),
)
"""Habits of the shop that are typed."""


class BuildStation(Station):
    number, name = 6, "Build"
    lenses = ("Pieces", "Prices")
    tools = (("build.hang", "hang"), ("build.next", "next"), ("build.patterns", "flat-pattern"))
    kinds = ("piece", "run", "register", "room", "price")

    def __init__(self) -> None:
        super().__init__()
        self.eye = Eye()
        """Where pieces are looked at from."""
        self.shop, self._shop_said = own_shop_said()
        """How the shop joins sheet."""

        self._cuts: Latest[CutList] = Latest()
        self._piece: Later[ShopPiece | None] = Later("murvan-piece")
        self.laters = (self._piece,)

    def cuts(self, view: View) -> CutList:
        """The list in the gauges of the shop."""
        return self._cuts.of((view.r.cuts, self.shop), lambda: as_cut(view.r.cuts, self.shop))

    def shown(self) -> tuple[object, ...]:
        return (self.shop, self._piece.answers)

    def set_shop(self, name: str, value: float | str, view: View) -> None:
        """Another habit of the shop, kept on this machine. Raises JobValueError."""
        shop = changed(self.shop, "The shop", **{name: value})
        try:
            keep_shop(shop)
        except OSError as exc:
            raise JobValueError(f"The shop's habits can't be kept: {exc.strerror or exc}.") from None
        self.shop = shop
        view.act.select(*(view.selection.kind, view.selection.id) if view.selection else ("house", "house"))

    def _shop_fields(self, view: View) -> Fields:
        """What the shop adds at edges, for all jobs of this machine."""

        def field(name: str, label: str) -> Field_:
            def put(job: Job, value: float | str) -> Job:
                self.set_shop(name, value, view)
                return job

            return Field_(f"shop.{name}", label, "size2", getattr(self.shop, name), put, "Change the shop")

        def choice(name: str, label: str, options: tuple[tuple[str, str], ...]) -> Field_:
            now = getattr(self.shop, name)
            pick = lambda value: self.set_shop(name, value, view)  # noqa: E731
            return Field_(f"shop.{name}", label, "text", now, None, "", options, pick=pick)

        return Fields(
            "The shop, on this machine",
            (
                choice("joint", "Ends joined by", (("slip_drive", "slip and drive"), ("flange", "flange"))),
                choice("painted", "Drawn from", (("outside", "outside"), ("inside", "inside"))),
                *(field(name, label) for name, label in SHOP),
            ),
        )

    def reached(self, view: View) -> bool:
        return self.cuts(view).done > 0

    def mark(self, view: View) -> str:
        n, done = len(self.cuts(view).to_hang), self.cuts(view).done
        return "none" if not done else "good" if done == n else "half"

    def headline(self, view: View) -> Headline:
        n, done = len(self.cuts(view).to_hang), self.cuts(view).done
        if not n:
            return Headline("none", "–", "", "nothing to build")
        left = n - done
        return Headline(self.mark(view), str(done), f"of {n} pieces", f"{left} still to hang" if left else "all hung")

    def lens(self, view: View) -> Lens:
        out = Lens("Pieces", ducts=True, registers=True, pieces=True, text_at="ducts")
        pieces = self.cuts(view).to_hang
        for s in view.job.storeys:
            mine = [p for p in pieces if p.storey == s.id]
            out.storey_figures[s.id] = f"{sum(p.hung for p in mine)}/{len(mine)}"
        out.storey_unit = "pieces up"
        out.legend_title = "Pieces"
        out.legend = (
            Legend("duct", "supply", "up, supply"),
            Legend("duct", "return", "up, return"),
            Legend("duct", "paper", "still to hang"),
        )
        for _, r in on_storey(view):
            out.room_text[r.id] = [(r.name, "", 13, 600, "ink2")]
        left = [p for p in pieces if not p.hung]
        out.note = (f"{len(left)} to hang", *(p.where for p in left[:2])) if left else ("All hung",) if pieces else ()
        if all_heads(view):
            out.overlay = (lambda p, v: unit_layers.units_to_rooms(p, v),)
        return out

    def strip(self, view: View) -> Strip:
        n, done = len(self.cuts(view).to_hang), self.cuts(view).done
        if not n:
            return Strip("Hung so far", "–", ("nothing to build yet",), lambda p, r: None)

        def draw(p: QPainter, r: QRectF) -> None:
            t = view.theme
            groups = [(s, [x for x in self.cuts(view).to_hang if x.stage == s]) for s in STAGES]
            groups = [g for g in groups if g[1]]
            w = r.width() / max(len(groups), 1)
            for k, (name, items) in enumerate(groups):
                x = r.left() + k * w
                up = sum(i.hung for i in items)
                paint.text(p, x, 24, name, 12.5, 600, t("ink"), width=w - 10)
                paint.bar(p, QRectF(x, 34, w - 18, 14), up / len(items), t("steel"), t)
                paint.text(p, x, 67, f"{up} of {len(items)}", 13, 700, t("ink"))
                kg = sum(i.weight_kg for i in items)
                second = view.text("mass", kg, 0) if kg else ""
                paint.text(p, x, 84, second, 12, 500, t("ink2"))

        return Strip("Hung so far", f"{done / n * 100:.0f} %" if n else "–", (f"{done} of {n} pieces", ""), draw)

    def piece(self, view: View) -> Piece | None:
        pieces = self.cuts(view).to_hang
        wanted = view.selected("piece")
        found = next((p for p in pieces if p.id == wanted), None)
        if found:
            return found
        s = view.selection
        if s and s.kind == "run":
            return next((p for p in pieces if p.run == s.id), None)
        if s and s.kind == "register":
            return next((p for p in pieces if p.at == s), None)
        room = room_of(view)
        ids = {x.id for x in view.job.design.registers if x.room == room}
        runs = {x.id for x in view.job.design.runs if x.register_id in ids}
        return next((p for p in pieces if p.run in runs), pieces[0] if pieces else None)

    def default_selection(self, view: View) -> tuple[str, str] | None:
        left = next((p for p in self.cuts(view).to_hang if not p.hung), None)
        return (
            ("piece", left.id)
            if left
            else ("piece", self.cuts(view).to_hang[0].id)
            if self.cuts(view).to_hang
            else None
        )

    def ledger(self, view: View) -> Ledger:
        if self.lens_index == PRICES:
            return prices.ledger(view)
        every = self.cuts(view).to_hang
        here = sorted((p for p in every if p.storey == view.storey), key=lambda p: (p.hung, p.number))
        other = []
        for s in view.job.storeys:
            mine = [p for p in every if p.storey == s.id]
            if s.id != view.storey and mine:
                other.append(_sum_row(view, ("storey", s.id), s.name, mine, "▸"))
        columns = _table(view)
        rows = tuple(row(view, columns, ("piece", p.id), p) for p in here)
        total = _sum_row(view, None, "House", list(every), "")
        return Ledger(headings(view, columns), rows, tuple(other), total)

    def card(self, view: View) -> Card:
        from murvan.app.stations import build_pattern  # sheet metal: the window starts without it

        if self.lens_index == PRICES:
            return prices.card(view)
        p = self.piece(view)
        if p is None:
            return Card("Build", "Nothing to build yet", "none", hero_note="Build needs ducts: press 5")
        rows = tuple(
            ListRow(
                f"{x.what} {size_text(x.size, view.units) if x.size else ''}".strip(),
                f"{x.count:g}",
                _measure(view, x),
            )
            for x in buy_list(self.cuts(view))
            if x.section != "Equipment"
        )
        lines = []
        if p.gauge and p.weight_kg:
            lines.append(
                Line(
                    f"weight, {p.gauge} gauge",
                    "{0} × {1}",
                    (Quantity("cross", p.area_m2), Quantity("sheet", p.kg_m2)),
                    Quantity("mass", p.weight_kg),
                    True,
                )
            )
        arith = (
            (
                Arith(
                    Arithmetic(
                        p.what,
                        tuple(lines),
                        ("Sheet weights by gauge: handbook; joints every 5 ft: common practice",),
                    )
                ),
            )
            if lines
            else ()
        )
        label = "Take it down" if p.hung else "It is up"
        return Card(
            f"Piece {p.number} · {p.stage} · {p.section}",
            p.what,
            "good" if p.hung else "none",
            f"Up, {p.day}".rstrip(", ") if p.hung else "To hang",
            ((size_text(p.size, view.units), view.unit("size") if p.size else "", "ink"),),
            p.where,
            (
                (str(p.gauge) if p.gauge else "–", "ga", "ink"),
                (view.num("mass", p.weight_kg), view.unit("mass"), "ink"),
            ),
            (
                *build_pattern.sections(view, p, self.eye, self.shop, self._piece),
                *arith,
                *_strangers(view, self.cuts(view)),
                *(
                    (
                        List_(
                            "The shop's habits", "", (ListRow("Kept aside", "", mark="look", second=self._shop_said),)
                        ),
                    )
                    if self._shop_said
                    else ()
                ),
                *((self._shop_fields(view),) if p.gauge else ()),
                List_("Buy list", "", rows),
                Buttons(
                    (
                        Button("hang", label, "H", lambda: view.act.command("build.hang"), True),
                        Button("next", "Next to hang", "N", lambda: view.act.command("build.next")),
                    )
                ),
            ),
        )


def _strangers(view: View, cuts: CutList) -> tuple[List_ | Buttons, ...]:
    """Ticks of pieces that are no longer cut so."""
    known = {p.id for p in cuts.pieces}
    gone = tuple(t for t in view.job.design.ticks if t.id not in known)
    if not gone:
        return ()

    def let_go(job: Job) -> Job:
        return with_design(job, ticks=tuple(t for t in job.design.ticks if t.id in known))

    def press() -> None:
        view.act.edit("Let go of old ticks", let_go)

    words = f"{len(gone)} of pieces that are cut otherwise now"
    return (
        List_("Ticks", "", (ListRow("Kept aside", "", mark="look", second=words),)),
        Buttons((Button("strangers", "Let them go", "", press),)),
    )


def _measure(view: View, x: BuyRow) -> str:
    """What a line of the buy list comes to."""
    if x.by_length or (x.section == "Unit's parts" and x.length_m):
        return view.text("length", x.length_m, 0)
    if x.section == "Sundries":
        return view.text("area", x.area_m2, 0) if x.area_m2 else ""
    return view.text("mass", x.weight_kg, 0) if x.weight_kg else x.section


def _table(view: View) -> tuple[Told[Piece], ...]:
    return (
        Told("No.", 44, lambda p: str(p.number), align="l"),
        Told("What", 180, lambda p: p.what, align="l", bold=True),
        Told("Size", 88, lambda p: size_text(p.size, view.units), "size"),
        Told("Gauge", 58, lambda p: str(p.gauge) if p.gauge else "–"),
        Told("Length", 84, lambda p: p.length_m or None, "length"),
        Told("Weight", 80, lambda p: p.weight_kg or None, "mass"),
        Told("Where", 200, lambda p: p.where, align="l"),
        Told("When", 96, lambda p: p.stage, align="l"),
        Told("Up", 70, lambda p: p.day or "up" if p.hung else "to hang"),
        Told("", 30, lambda p: Cell(mark="good" if p.hung else "none")),
    )


def _sum_row(view: View, key: Key, name: str, pieces: list[Piece], last: str) -> Row:
    """Pieces of a storey or the house together."""
    words = {
        "What": f"{name}, {len(pieces)} pieces",
        "Length": view.num("length", sum(p.length_m for p in pieces)),
        "Weight": view.num("mass", sum(p.weight_kg for p in pieces)),
        "Up": f"{sum(p.hung for p in pieces)} up",
        "": last,
    }
    return said(_table(view), words, key)


def toggle(job: Job, piece: Piece, day: str) -> Job:
    """Hang a piece, or take the tick back."""
    ticks = tuple(x for x in job.design.ticks if x.id != piece.id)
    if len(ticks) == len(job.design.ticks):
        ticks = (*ticks, make(Tick, piece.what, at=piece.at, part=piece.part, day=day))
    return with_design(job, ticks=ticks)
