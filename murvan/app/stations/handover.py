"""Station 8, Handover: what was promised and proven, and the sheets as they print."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import NamedTuple

from PyQt6.QtCore import QRectF, Qt, pyqtBoundSignal
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.plan.lens import Lens
from murvan.app.preview import Preview
from murvan.app.stations.base import (
    ELSEWHERE,
    Arith,
    Button,
    Buttons,
    Canvas,
    Card,
    Cell,
    Fields,
    Headline,
    Ledger,
    List_,
    ListRow,
    Station,
    Strip,
    View,
)
from murvan.app.stations.fields import of_job
from murvan.app.stations.told import Told, said, table
from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.limits import BALANCE_SHARE, within
from murvan.field import Verdict
from murvan.field.verdict import HEAD_SHARE, judge
from murvan.model.job import IndoorUnit

THUMB_W, NAMES_W = 148.0, 188.0


class HandoverStation(Station):
    number, name = 8, "Handover"
    lenses = ()
    tools = (("file.pdf", "print"), ("file.xlsx", "sheet"))
    kinds = ("sheet",)
    elsewhere = ELSEWHERE
    leads_to = {"register": "readings"}

    def attach(self, refresh: Callable[[], None], opened: pyqtBoundSignal) -> None:
        self.preview.ready.connect(refresh)
        opened.connect(self.preview.forget)

    def made(self) -> object:
        return self.preview.titles

    def __init__(self) -> None:
        super().__init__()
        self.preview = Preview()

    def held(self, view: View) -> list[ListRow]:
        """What keeps the set from being handed over."""
        rows = []
        for f in view.r.findings:
            if f.severity == "fails":
                rows.append(
                    ListRow(
                        f"{f.hit.place.rstrip(':')}: {f.rule.name[0].lower()}{f.rule.name[1:]}",
                        "",
                        str(f.rule.station),
                        "fails",
                        ("finding", f"{f.rule.id}:{f.hit.at.id}"),
                    )
                )
        for x in view.v.registers.values():
            if x.mark in ("fails", "look"):
                rows.append(
                    ListRow(
                        f"{x.tag}, {view.num('flow', x.measured)} of {view.num('flow', x.design)}",
                        "",
                        "7",
                        x.mark,
                        ("register", x.register),
                    )
                )
        unread = [x.tag.split()[0] for x in view.v.registers.values() if x.measured is None]
        if unread:
            rows.append(ListRow(f"{', '.join(unread[:6])} still to read", "", "7", "none"))
        left = len(view.r.cuts.to_hang) - view.r.cuts.done
        if left:
            rows.append(ListRow(f"{left} pieces still to hang", "", "6", "none"))
        return rows

    def mark(self, view: View) -> str:
        return "good" if not self.held(view) and view.v.read else "none"

    def headline(self, view: View) -> Headline:
        n = len(self.preview.pages) or "–"
        held = len(self.held(view))
        return Headline(
            self.mark(view),
            str(n),
            "sheets",
            f"{len(view.r.findings)} to settle"
            if view.r.findings
            else f"{held} to look at"
            if held
            else "ready to hand over",
        )

    def lens(self, view: View) -> Lens:
        return Lens("Sheets")

    def default_selection(self, view: View) -> tuple[str, str] | None:
        return ("sheet", "0")

    def strip(self, view: View) -> Strip:
        return Strip("", "", (), lambda p, r: None)

    def _page(self, view: View) -> int:
        wanted = view.selected("sheet")
        n = len(self.preview.pages)
        return min(int(wanted), max(n - 1, 0)) if wanted and wanted.isdigit() else 0

    def canvas(self, view: View) -> Canvas:
        self.preview.want(view.figures, view.units)

        def draw(p: QPainter, r: QRectF) -> None:
            t = view.theme
            if not self.preview.pages:
                paint.text(
                    p,
                    r.center().x(),
                    r.center().y(),
                    self.preview.trouble or "Drawing the sheets…",
                    15,
                    500,
                    t("ink2"),
                    "c",
                )
                return
            page = self._page(view)
            names = self._names(r)
            for k, box in self._thumbs(r):
                on = k == page
                ink = t("on_select") if on else t("ink")
                name = f"{k + 1}  {self.preview.titles[k]}"
                if names:
                    if on:
                        paint.rounded(p, box, t("select"), t("ink"), 4, 1.4)
                    paint.text(p, box.left() + 7, box.center().y() + 4.5, name, 12, 600, ink, width=box.width() - 12)
                    continue
                if on:
                    paint.rounded(p, box.adjusted(-6, -5, 6, 20), t("select"), t("ink"), 6, 1.6)
                p.drawImage(box, self.preview.picture(k, int(box.width()), paint.device_ratio(p)))
                p.setPen(QPen(t("outline"), 1))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(box)
                paint.text(p, box.left(), box.bottom() + 14, name, 12, 600, ink, width=box.width())
            side = NAMES_W if names else THUMB_W
            area = QRectF(r.left() + side + 44, r.top() + 14, r.width() - side - 60, r.height() - 46)
            ratio = self.preview.ratio(page)
            w = min(area.width(), area.height() * ratio)
            box = QRectF(area.center().x() - w / 2, area.top(), w, w / ratio)
            p.fillRect(box.translated(4, 4), t("rule"))
            p.drawImage(box, self.preview.picture(page, int(w), paint.device_ratio(p)))
            p.setPen(QPen(t("ink"), 1.2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(box)
            paint.text(p, area.center().x(), r.bottom() - 10, "It prints as shown", 12, 500, t("ink2"), "c")

        def click(x: float, y: float, r: QRectF) -> None:
            for k, box in self._thumbs(r):
                if (box if self._names(r) else box.adjusted(-6, -5, 6, 20)).contains(x, y):
                    view.act.select("sheet", str(k))

        return Canvas(draw, click)

    def _names(self, r: QRectF) -> bool:
        """Whether there are too many sheets for pictures: then their names stand in a list."""
        n = len(self.preview.pages)
        return n * (THUMB_W / 1.3 + 30) > r.height() - 20

    def _thumbs(self, r: QRectF) -> list[tuple[int, QRectF]]:
        n = len(self.preview.pages)
        if self._names(r):
            step = min(25.0, (r.height() - 20) / max(n, 1))
            return [(k, QRectF(r.left() + 12, r.top() + 10 + k * step, NAMES_W, step - 2)) for k in range(n)]
        h = THUMB_W / 1.3
        return [(k, QRectF(r.left() + 16, r.top() + 14 + k * (h + 30), THUMB_W, h)) for k in range(n)]

    def ledger(self, view: View) -> Ledger:
        promises = (
            *((_rooms_promise(view.v), _air_promise(view)) if view.v.registers or not view.v.heads else ()),
            *((_heads_promise(view.v),) if view.v.heads else ()),
            *(_static(view, x) for x in view.job.design.indoor_units if x.id in view.v.externals),
            _hung_promise(view),
            _rules_promise(view),
        )
        words = {
            "Promised to the owner": "Job",
            "Promised": f"{len(promises)} to prove",
            "Proven": f"{sum(x.mark == 'good' for x in promises)} proven",
            "How": f"{len(view.r.findings)} to settle",
        }
        return replace(table(view, PROMISES, ((None, x) for x in promises)), total=said(PROMISES, words))

    def card(self, view: View) -> Card:
        held = self.held(view)
        page = self._page(view)
        title = self.preview.titles[page] if self.preview.titles else "Sheets"
        v = view.v
        return Card(
            f"Handover · {view.job.name}",
            title,
            "fails" if any(r.mark == "fails" for r in held) else "none" if held else "good",
            "Held" if held else "Ready",
            ((str(v.good), f"of {v.count} {_read_at(v)} good", "ink"),),
            f"{v.look} to look at, {v.fails} fail, {v.count - v.read} to read",
            (),
            (
                List_("What holds the set", "goes to", tuple(held[:9]) or (ListRow("nothing", "", mark="good"),)),
                List_("Goes out as", "", _ways_out(len(self.preview.pages))),
                Fields("On the sheets", tuple(of_job(view.job, x) for x in SHEET_FIELDS)),
                Arith(_proof(v)),
                Buttons(
                    (
                        Button("pdf", "PDF", "P", lambda: view.act.command("file.pdf"), True),
                        Button("shop", "Shop set", "", lambda: view.act.command("file.shop_set")),
                        Button("xlsx", "XLSX", "X", lambda: view.act.command("file.xlsx")),
                    )
                ),
            ),
        )


def _ways_out(sheets: int) -> tuple[ListRow, ...]:
    return (
        ListRow("PDF set", "", f"{sheets or '–'} sheets"),
        ListRow("Shop set", "", "DXF, PDF, CSV"),
        ListRow("Schedules", "", "CSV, XLSX"),
        ListRow("The job", "", ".murvan"),
    )


def _read_at(v: Verdict) -> str:
    """What is read: registers, heads, or both."""
    return " and ".join(w for w, have in (("registers", v.registers or not v.heads), ("heads", v.heads)) if have)


def _proof(v: Verdict) -> Arithmetic:
    """How much of the air has been read."""
    counts = (Quantity("number", v.read), Quantity("number", v.count))
    share = Quantity("percent", v.read / v.count if v.count else 0.0)
    source = within("A room counts when all its registers read within {0} or {1} of design")
    heads = f"a head, when it delivers its table within {HEAD_SHARE * 100:.0f} %"
    sources = (*((source,) if v.registers or not v.heads else ()), *((heads,) if v.heads else ()))
    return Arithmetic("Proof", (Line(f"{_read_at(v)} read", "{0} ÷ {1}", counts, share, True),), sources)


class Promise(NamedTuple):
    """What the owner was promised, and what readings say of it."""

    what: str
    promised: str
    proven: str
    share: float
    """Of what was promised."""
    mark: str
    how: str


PROOF = {"good": "good", "look": "look", "fails": "fails", "half": "steel", "none": "outline"}
PROMISES: tuple[Told[Promise], ...] = (
    Told("Promised to the owner", 270, lambda x: x.what, align="l", bold=True),
    Told("Promised", 130, lambda x: x.promised),
    Told("Proven", 130, lambda x: x.proven, bold=True),
    Told(
        "Proven against promise",
        190,
        lambda x: Cell(bar=x.share / 1.25, bar_color=PROOF[x.mark], tick=1 / 1.25),
        align="l",
    ),
    Told("How", 180, lambda x: x.how, align="l"),
    Told("", 30, lambda x: Cell(mark=x.mark)),
)


def _rooms_promise(v: Verdict) -> Promise:
    rooms = {x.room for x in v.registers.values()}
    proven = [q for q in rooms if all(x.mark == "good" for x in v.registers.values() if x.room == q)]
    return Promise(
        f"Every room within {BALANCE_SHARE * 100:.0f} % of its air",
        _rooms(len(rooms)),
        _rooms(len(proven)),
        len(proven) / len(rooms) if rooms else 0,
        "none" if not rooms else "fails" if v.fails else "half" if len(proven) < len(rooms) else "good",
        f"hood{', simulated' if v.simulated else ''}, {len(rooms) - len(proven)} to go",
    )


def _air_promise(view: View) -> Promise:
    v = view.v
    read = [x for x in v.registers.values() if x.measured is not None]
    design, got = sum(x.design for x in read), sum(x.measured or 0 for x in read)
    return Promise(
        "Air through the registers",
        view.text("flow", design if read else view.s.airflow.total_m3_s),
        view.text("flow", got) if read else "–",
        got / max(design, 1e-9) if read else 0,
        "none" if not read else judge(design, got) if v.read == v.count else "half",
        f"{v.read} of {v.count} registers{', simulated' if v.simulated else ''}",
    )


def _heads_promise(v: Verdict) -> Promise:
    heads = tuple(v.heads.values())
    good = sum(x.mark == "good" for x in heads)
    bad = any(x.mark == "fails" for x in heads)
    read = sum(x.mark != "none" for x in heads)
    simulated = ", simulated" if any(x.simulated for x in heads) else ""
    return Promise(
        "Every head delivers by its table",
        _heads(len(heads)),
        _heads(good),
        good / len(heads),
        "fails" if bad else "good" if good == len(heads) else "half" if read else "none",
        f"air in and out{simulated}, {len(heads) - read} to read",
    )


def _heads(n: int) -> str:
    return f"{n} head{'s' if n != 1 else ''}"


def _hung_promise(view: View) -> Promise:
    done, every = view.r.cuts.done, len(view.r.cuts.to_hang)
    mark = "none" if not every else "good" if done == every else "half"
    return Promise("Pieces hung", str(every), str(done), done / max(every, 1), mark, "Build")


def _rules_promise(view: View) -> Promise:
    fails = sum(f.severity == "fails" for f in view.r.findings)
    mark = "fails" if fails else "good"
    return Promise("Punch list empty of fails", "0", str(fails), 0.2 if fails else 1.0, mark, "rules")


SHEET_FIELDS = ("company", "client", "number", "town")


def _rooms(n: int) -> str:
    return f"{n} room{'s' if n != 1 else ''}"


def _static(view: View, unit: IndoorUnit) -> Promise:
    """What a blower was to work against, and does."""
    external, limit = view.v.external_of(unit.id), view.r.systems[unit.id].ducts.limit_pa
    of = f" of {unit.tag}" if len(view.v.externals) > 1 else ""
    return Promise(
        f"Static{of}, under {view.text('pressure', limit)}",
        view.text("pressure", external.predicted),
        view.text("pressure", external.measured),
        (external.measured or 0) / limit if limit else 0,
        "none" if external.measured is None else "good" if external.measured <= limit else "fails",
        f"manometer{', simulated' if external.simulated else ''}",
    )
