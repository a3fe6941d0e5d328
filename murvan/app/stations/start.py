"""The start page: three ways in, jobs on this machine, what is recoverable, and the new job's card."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.document import Recoverable
from murvan.app.prefs import Prefs
from murvan.app.stations.base import (
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
    List_,
    ListRow,
    Row,
)
from murvan.app.stations.field_choices import GROUNDS
from murvan.app.stations.fields import of_part
from murvan.app.theme import Theme
from murvan.catalog import assemblies, climates
from murvan.demo import SAMPLES, Sample
from murvan.design.house import ground_floor, stand_on
from murvan.design.space import PLACE_WORDS, UNDER, places_offered, run_in, said_place
from murvan.model import Job, Leakage, Site, Storey
from murvan.model.edit import changed
from murvan.units import Units, text

PROMISES = (
    ("House", "draw the shell", "areas, walls, glass"),
    ("Loads", "heat in, heat out", "by room, by cause"),
    ("Equipment", "size it", "capacity, balance"),
    ("Air", "move it", "and bring it back"),
    ("Ducts", "carry it", "sizes and static"),
    ("Build", "cut and hang it", "pieces to hang"),
    ("Readings", "prove it", "hood, suspects"),
    ("Handover", "sign it", "sheets that print"),
)
STOREYS = {"1": ("Ground",), "2": ("Ground", "Upper"), "3": ("Ground", "Upper", "Top")}


def headlines() -> list[Headline]:
    """The hollow job line: what each station will do."""
    return [Headline("none", figure, "", second) for _, figure, second in PROMISES]


def draft_job(company: str = "") -> Job:
    """What a new job starts from; the company typed once stands in each."""
    constructions, glazings = assemblies()
    climate = next(iter(climates().values()))
    job = Job(
        name="New job",
        company=company,
        climate=climate,
        site=Site(place=climate.name),
        leakage=Leakage(),
        constructions=tuple(constructions.values()),
        glazings=tuple(glazings.values()),
        wall_construction="wall-2x4-r13",
        partition_construction="partition-2x4",
        ceiling_construction="ceiling-r31",
        floor_construction="slab-r5",
        door_construction="door-wood",
    )
    return set_storeys(job, "1")


def set_storeys(job: Job, count: str) -> Job:
    """The job with so many storeys; its ducts run where they were said to."""
    names = STOREYS[count]
    place = said_place(job) if job.storeys else "attic"
    made = changed(
        job,
        job.name,
        storeys=tuple(
            Storey(
                id=f"s{k}",
                name=n,
                height_m=2.7432 if k == 1 else 2.4384,
                ceiling_space_m=0.4 if k < len(names) else 0.9,
            )
            for k, n in enumerate(names, 1)
        ),
    )
    return run_in(made, place)


def set_ground(job: Job, ground: str) -> Job:
    """The job on a slab, a crawl space or a basement; its ducts run under the floor where there is room, else in the attic."""
    return run_in(stand_on(job, ground), ground if ground in UNDER else "attic")


def card(job: Job, prefs: Prefs, start: Callable[[], None], command: Callable[[str], None]) -> Card:
    """Where and what: the new job's few fields; guesses are fine."""
    return Card(
        "New job",
        "Where and what",
        hero_note="Guesses are fine; every one can be changed later",
        sections=(
            Fields("New job", _fields(job)),
            List_("The weather there", "typical", _weather(job, prefs.units)),
            List_("Set once on this machine", "", _machine(prefs)),
            Buttons((Button("start", "Start the job", "Ctrl+N", start, True),)),
        ),
    )


def _of_job(name: str) -> Callable[[Job, float | str], Job]:
    """An edit that sets a field of the new job."""
    return lambda j, v: changed(j, "Job", **{name: v})


def _set_climate(job: Job, name: float | str) -> Job:
    return changed(job, "Job", climate=climates()[str(name)], site=changed(job.site, place=str(name)))


def _fields(job: Job) -> tuple[Field_, ...]:
    walls = tuple((c.id, c.name) for c in job.constructions if c.kind == "wall")
    raised = ground_floor(job) in UNDER
    role = "raised_construction" if raised else "floor_construction"
    floors = tuple((c.id, c.name) for c in job.constructions if c.kind == ("floor" if raised else "slab"))
    places, counts = tuple((n, n) for n in climates()), tuple((k, k) for k in STOREYS)
    name = "" if job.name == "New job" else job.name
    return (
        Field_("new.name", "Job name", "text", name, lambda j, v: _of_job("name")(j, v or "New job"), width=2),
        Field_("new.climate", "Nearest weather", "text", job.climate.name, _set_climate, options=places),
        of_part(job, "site", "latitude_deg", key="new.latitude"),
        Field_(
            "new.storeys",
            "Storeys",
            "text",
            str(len(job.storeys)),
            lambda j, v: set_storeys(j, str(v)),
            options=counts,
        ),
        of_part(job, "leakage", "ach50", key="new.leaks"),
        Field_(
            "new.ground",
            "House stands on",
            "text",
            ground_floor(job),
            lambda j, v: set_ground(j, str(v)),
            options=GROUNDS,
        ),
        Field_(
            "new.ducts",
            "Ducts run",
            "text",
            said_place(job),
            lambda j, v: run_in(j, str(v)),
            options=tuple((x, PLACE_WORDS[x]) for x in places_offered(job)),
        ),
        Field_("new.walls", "Walls", "text", job.wall_construction, _of_job("wall_construction"), options=walls),
        Field_("new.floor", "Ground floor", "text", getattr(job, role), _of_job(role), options=floors),
    )


def _weather(job: Job, units: Units) -> tuple[ListRow, ...]:
    return (
        ListRow("Summer design", text("temperature", job.climate.summer_c, units)),
        ListRow("Winter design", text("temperature", job.climate.winter_c, units)),
        ListRow("Daily range", text("difference", job.climate.daily_range_k, units)),
    )


def _machine(prefs: Prefs) -> tuple[ListRow, ...]:
    return (
        ListRow("Units", "IP" if prefs.units == "ip" else "SI", "Ctrl+U"),
        ListRow("Light or dark", "dark" if prefs.theme.dark else "light", "Ctrl+T"),
        ListRow("Glove mode", "on" if prefs.glove else "off", "Ctrl+G"),
    )


def ledger(prefs: Prefs, lost: list[Recoverable]) -> Ledger:
    """Jobs on this machine, recoverable first."""
    columns = (
        Column("Jobs on this machine", "", 200, "l"),
        Column("Town", "", 110, "l"),
        Column("Rooms", "", 60),
        Column("State", "", 150, "c"),
        Column("Where", "", 330, "l"),
        Column("Last saved", "", 90),
        Column("", "", 34),
    )
    rows = (*map(_lost_row, lost), *map(_recent_row, prefs.recent))
    count = Cell(f"{len(rows)} job{'s' if len(rows) != 1 else ''}")
    recover = Cell(f"{len(lost)} to recover: Ctrl+R" if lost else "")
    total = Row(None, (count, Cell(), Cell(), Cell(), recover, Cell(), Cell()))
    return Ledger(columns, rows, (*map(_sample_row, SAMPLES), OPEN_ROW), total)


OPEN_ROW = Row(
    ("command", "file.open"), (Cell("Open from a folder…"), Cell(), Cell(), Cell(), Cell(), Cell("Ctrl+O"), Cell("▸"))
)


def _lost_row(x: Recoverable) -> Row:
    """What a crash has left."""
    return Row(
        ("recover", str(x.file)),
        (
            Cell(x.job.name, True),
            Cell(x.job.town),
            Cell(str(len(x.job.rooms))),
            Cell("after a crash, older than its file" if x.outdated else "after a crash"),
            Cell(str(x.path or x.label or "never saved")),
            Cell(_ago(time.time() - x.when)),
            Cell(mark="stale"),
        ),
    )


def _recent_row(name: str) -> Row:
    path = Path(name)
    there = path.is_file()
    return Row(
        ("recent", name),
        (
            Cell(path.stem, True),
            Cell(""),
            Cell(""),
            Cell("" if there else "not there any more"),
            Cell(name),
            Cell(_ago(time.time() - path.stat().st_mtime) if there else ""),
            Cell(mark="good" if there else "look"),
        ),
    )


def _sample_row(s: Sample) -> Row:
    return Row(
        ("command", f"file.{s.key}"),
        (Cell(s.name, True), Cell("Brindlewick"), Cell(), Cell("sample"), Cell(s.about), Cell(), Cell("▸")),
    )


def _ago(seconds: float) -> str:
    if seconds < 90:
        return "just now"
    if seconds < 5400:
        return f"{seconds / 60:.0f} min ago"
    return f"{seconds / 3600:.0f} h ago" if seconds < 172800 else f"{seconds / 86400:.0f} days ago"


WAYS = (
    ("file.demo", "sample-house", "Open the sample house", "Ctrl+E"),
    ("file.new", "room", "Start a new job", "Ctrl+N"),
    ("file.open", "open-job", "Open a job", "Ctrl+O"),
)


def _ways(r: QRectF) -> list[tuple[str, str, str, str, QRectF]]:
    left = r.left() + r.width() * 0.48
    return [(*way, QRectF(left, r.top() + 176 + 56 * k, r.width() * 0.46, 46)) for k, way in enumerate(WAYS)]


def canvas(theme: Theme, metric: bool, command: Callable[[str], None]) -> Canvas:
    """A first wall, and three ways in."""

    def draw(p: QPainter, r: QRectF) -> None:
        _dots(p, r, theme)
        left = r.left() + r.width() * 0.48
        p.fillRect(QRectF(left - 14, r.top() + 40, r.width() * 0.5, 340), theme("paper"))
        _first_wall(p, QRectF(r.left() + 70, r.top() + 96, r.width() * 0.3, 190), theme, metric)
        _promise(p, r, left, theme)
        for k, (_, icon, label, key, box) in enumerate(_ways(r)):
            _way(p, box, icon, label, key, k == 0, theme)

    def click(x: float, y: float, r: QRectF) -> None:
        for way, _, _, _, box in _ways(r):
            if box.contains(x, y):
                command(way)

    return Canvas(draw, click)


def _dots(p: QPainter, r: QRectF, t: Theme) -> None:
    """The paper of an empty sheet."""
    p.setPen(QPen(t("rule"), 2))
    x = r.left() + 20
    while x < r.right():
        y = r.top() + 20
        while y < r.bottom():
            p.drawPoint(QPointF(x, y))
            y += 36
        x += 36


def _promise(p: QPainter, r: QRectF, left: float, t: Theme) -> None:
    """What Murvan is for, above and below the ways in."""
    size, width = min(27.0, r.width() / 34), r.width() * 0.48
    paint.text(p, left, r.top() + 92, "From a house plan", size, 700, t("ink"))
    paint.text(p, left, r.top() + 126, "to a measured verdict.", size, 700, t("ink"))
    new = "New here? Open the sample house and walk its eight stations."
    paint.text(p, left, r.top() + 154, new, 13, 500, t("ink2"), width=width)
    for y, line in (
        (372, "One drawing carries through: a wall you draw here is still"),
        (389, "the wall on the signed balancing sheet."),
    ):
        paint.text(p, left, r.top() + y, line, 12.5, 500, t("ink2"), width=width)


def _way(p: QPainter, box: QRectF, icon: str, label: str, key: str, first: bool, t: Theme) -> None:
    paint.rounded(p, box, t("select") if first else t("paper"), t("ink") if first else t("outline"), 5, 1.6)
    color = t("on_select") if first else t("ink")
    paint.draw_icon(p, icon, box.left() + 14, box.center().y() - 10, 20, color)
    paint.text(p, box.left() + 46, box.center().y() + 5, label, 14, 600, color)
    paint.key_cap(p, box.right() - 12, box.center().y() - 10, key, t, "r", 20)


def _first_wall(p: QPainter, r: QRectF, t: Theme, metric: bool) -> None:
    p.setPen(QPen(t("outline"), 1.4, Qt.PenStyle.DashLine))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(r)
    a, b, c = r.topLeft(), r.topRight(), QPointF(r.right(), r.top() + r.height() * 0.5)
    for width, color in ((12.0, t("on_select")), (8.0, t("select"))):
        p.setPen(QPen(color, width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        p.drawLine(a, b)
    p.setPen(QPen(t("on_select"), 8, Qt.PenStyle.DotLine, Qt.PenCapStyle.FlatCap))
    p.drawLine(b, c)
    for q in (a, b):
        p.setPen(QPen(t("ink"), 2))
        p.setBrush(t("paper"))
        p.drawRect(QRectF(q.x() - 8, q.y() - 8, 16, 16))
    label = "5.20 m" if metric else "17′ 0″"
    y = r.top() - 24
    w = paint.text_width(label, 13, 700) + 12
    p.setPen(QPen(t("ink2"), 1.2))
    p.drawLine(QPointF(a.x(), y), QPointF(b.x(), y))
    p.fillRect(QRectF(r.center().x() - w / 2, y - 9, w, 18), t("paper"))
    paint.text(p, r.center().x(), y + 5, label, 13, 700, t("ink"), "c")
    paint.text(p, r.center().x(), r.center().y(), "Living", 14, 600, t("ink3"), "c")
    paint.text(
        p,
        r.center().x(),
        r.center().y() + 18,
        "every figure follows from here",
        12.5,
        500,
        t("ink3"),
        "c",
        r.width() - 12,
    )
