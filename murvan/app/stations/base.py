"""What a station tells the window: plain specifications, drawn by the shared parts.

A station is one module with a subclass of `Station`. It reads the present `View` and answers; it keeps no state
but its lens.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property
from types import MappingProxyType
from typing import Any, ClassVar, Literal, Protocol

from PyQt6.QtCore import QPointF, QRectF, pyqtBoundSignal
from PyQt6.QtGui import QPainter

from murvan.app.document import Figures, Wanted
from murvan.app.later import Later
from murvan.app.plan.lens import Lens
from murvan.app.theme import Theme
from murvan.design import Arithmetic, Results, SystemResults
from murvan.design.house import Ways, ways
from murvan.field import Verdict
from murvan.model import Job
from murvan.model.design import IndoorUnit
from murvan.model.linesets import LaidLine, laid_line
from murvan.model.record import Ref
from murvan.units import Units, number, text, unit

Paint = Callable[[QPainter, QRectF], None]


class Actions(Protocol):
    """What a station's buttons may ask the window for."""

    def edit(self, name: str, change: Callable[[Job], Job]) -> bool: ...
    def select(self, kind: str, item_id: str) -> None: ...
    def set_hour(self, hour: int) -> None: ...
    def go(self, station: int) -> None: ...
    def command(self, command_id: str) -> None: ...
    def say(self, words: str) -> None: ...


@dataclass(frozen=True)
class Lesson:
    """A case of training that is under way."""

    name: str
    minutes: float
    kinds: tuple[tuple[str, str], ...]
    """What can be named, as choices."""
    wheres: tuple[tuple[str, str], ...]
    kind: str
    where: str
    named: tuple[str, ...]
    """Answers so far, in words."""
    choose: Callable[[str], None]
    choose_where: Callable[[str], None]
    name_it: Callable[[], None]


@dataclass(frozen=True)
class View:
    """Everything a station may look at, and whom it may ask to act."""

    job: Job
    figures: Figures
    selection: Ref | None
    storey: str
    hour: int
    units: Units
    theme: Theme
    act: Actions
    stale: bool = False
    system: str = ""
    """The indoor unit in hand."""
    lens: str = ""
    """Name of what the station shows."""
    lesson: Lesson | None = None

    @property
    def r(self) -> Results:
        return self.figures.results

    @cached_property
    def ways(self) -> Ways:
        """How the rooms are joined."""
        return ways(self.job)

    @property
    def indoor(self) -> IndoorUnit:
        """The unit in hand as the job has it, the first one where it has gone."""
        units = self.job.design.indoor_units
        return next((x for x in units if x.id == self.system), units[0])

    @property
    def line(self) -> LaidLine:
        """Its refrigerant line as it lies."""
        return laid_line(self.job.design, self.indoor, self.job.storeys)

    @property
    def fresh_m3_s(self) -> float:
        """What the ventilators of the house are set to."""
        return sum(x.flow_m3_s for x in self.job.design.ventilators)

    @property
    def s(self) -> SystemResults:
        """The figures of the unit in hand."""
        return self.r.systems.get(self.indoor.id, self.r.main)

    @property
    def ducted(self) -> SystemResults:
        """The figures of the unit in hand, or of the first with ducts where it has none."""
        return self.s if self.s.ducts.runs else next((x for x in self.r.systems.values() if x.ducts.runs), self.s)

    @property
    def v(self) -> Verdict:
        return self.figures.verdict

    def text(self, kind: str, value: float | None, decimals: int | None = None) -> str:
        return text(kind, value, self.units, decimals)

    def num(self, kind: str, value: float | None, decimals: int | None = None) -> str:
        return number(kind, value, self.units, decimals)

    def unit(self, kind: str) -> str:
        return unit(kind, self.units)

    def storey_name(self, storey: str | None = None) -> str:
        return next((s.name for s in self.job.storeys if s.id == (storey or self.storey)), "")

    def selected(self, kind: str) -> str | None:
        return self.selection.id if self.selection and self.selection.kind == kind else None


@dataclass(frozen=True)
class Headline:
    """A station's cell in the job line."""

    mark: str
    figure: str
    unit: str
    second: str


@dataclass(frozen=True)
class Cell:
    """One ledger cell."""

    text: str = ""
    bold: bool = False
    color: str | None = None
    bar: float | None = None
    """Part of the cell that is filled, 0..1."""
    bar_color: str = "cooling"
    tick: float | None = None
    """Where a mark stands on the bar, 0..1."""
    band: tuple[float, float] | None = None
    """From and to on the bar, 0..1."""
    mark: str | None = None
    chips: tuple[tuple[str, bool], ...] = ()
    centre_bar: float | None = None
    """-1..1 from the middle of the cell."""


@dataclass(frozen=True)
class Column:
    """A ledger column: heading, unit, width in px at 950, alignment l r c."""

    title: str
    unit: str
    width: float
    align: str = "r"


@dataclass(frozen=True)
class Row:
    """A ledger row; `key` is what a click selects."""

    key: tuple[str, str] | None
    cells: tuple[Cell, ...]


@dataclass(frozen=True)
class Ledger:
    """The table: this storey's rows, one row for the others, the total."""

    columns: tuple[Column, ...]
    rows: tuple[Row, ...]
    other: tuple[Row, ...] = ()
    total: Row | None = None


@dataclass(frozen=True)
class Field_:
    """An editable figure of the card."""

    key: str
    label: str
    kind: str
    value: float | str | None
    apply: Callable[[Job, float | str], Job] | None
    name: str = ""
    options: tuple[tuple[str, str], ...] = ()
    """(value, shown) pairs make it a choice."""
    width: int = 1
    """Columns of two it spans."""
    optional: bool = False
    """Whether it may be left empty; `apply` then gets ''."""
    pick: Callable[[float | str], None] | None = None
    """What changes no job, such as a choice of what is shown: called in place of an edit."""
    entry: bool = False
    """Kept by Enter or Tab alone: what is typed is dropped when the field is left otherwise."""
    ask: str = ""
    """What is said before a figure in place is replaced; Enter once more does it."""
    doubts: Callable[[float], str] | None = None
    """What is odd about a figure, said before it is kept; '' where nothing is."""


@dataclass(frozen=True)
class BarRow:
    key: tuple[str, str] | None
    label: str
    fraction: float
    """Of the bar's full width, 0..1."""
    hatched: float
    """Of the bar's full width, 0..1."""
    value: str
    selected: bool = False
    color: str = "cooling"


@dataclass(frozen=True)
class Bars:
    title: str
    note: str
    rows: tuple[BarRow, ...]
    total: tuple[str, str, str] | None = None


@dataclass(frozen=True)
class Fields:
    title: str
    fields: tuple[Field_, ...]
    behind: bool = False
    """Whether it may lie behind `=` where the card is full: no decision needs it."""


@dataclass(frozen=True)
class Arith:
    arithmetic: Arithmetic
    main: bool = True
    behind: bool = True


@dataclass(frozen=True)
class ListRow:
    label: str
    value: str
    note: str = ""
    mark: str | None = None
    key: tuple[str, str] | None = None
    selected: bool = False
    second: str = ""
    bar: float | None = None
    """0..1."""
    bold: bool = False


@dataclass(frozen=True)
class List_:
    title: str
    note: str
    rows: tuple[ListRow, ...]
    behind: bool = False
    """As of fields."""


@dataclass(frozen=True)
class Picture:
    title: str
    note: str
    height: float
    """px."""
    paint: Paint
    shows: object = None
    """What decides how it looks, besides theme and units; None: it is painted anew each time."""
    drag: Callable[[float, float], None] | None = None
    """What a drag of so many px over it does; it is painted anew then."""


@dataclass(frozen=True)
class Button:
    key: str
    label: str
    letter: str
    run: Callable[[], None]
    main: bool = False


@dataclass(frozen=True)
class Buttons:
    buttons: tuple[Button, ...]


@dataclass(frozen=True)
class Fold:
    """Stands for the sections behind `=`."""

    words: str


Section = Bars | Fields | Arith | List_ | Picture | Buttons | Fold


@dataclass(frozen=True)
class Card:
    """The card at the right."""

    kicker: str
    title: str
    mark: str | None = None
    mark_text: str = ""
    hero: tuple[tuple[str, str, str], ...] = ()
    """(value, unit, colour role) of the large figures."""
    hero_note: str = ""
    side: tuple[tuple[str, str, str], ...] = ()
    sections: tuple[Section, ...] = ()
    unpicked: bool = False
    """Something has to be selected before figures can be typed."""


@dataclass(frozen=True)
class Strip:
    """The station's chart: a figure at the left and a painted part."""

    label: str
    hero: str
    lines: tuple[str, ...]
    paint: Paint
    hero_unit: str = ""
    keys: tuple[str, ...] = ()
    click: Callable[[float, float, QRectF], None] | None = None
    still: Paint | None = None
    """Part that stays the same as long as `still_key` does; drawn over `paint` from a kept picture."""
    still_key: tuple[object, ...] = ()


@dataclass(frozen=True)
class Canvas:
    """A painted page in place of the plan; `click` and `hand` get the position and the page's rectangle."""

    paint: Paint
    click: Callable[[float, float, QRectF], None] | None = None
    hand: Hand | None = None


class Hand(Protocol):
    """What takes hold of things on a page."""

    def press(self, at: QPointF, page: QRectF) -> bool:
        """Take hold of what is there; whether there is something."""

    def move(self, at: QPointF, page: QRectF) -> None:
        """Carry it along."""

    def release(self) -> None:
        """Let go of it."""

    def let_be(self) -> bool:
        """Put it back where it was; whether something was held."""


@dataclass(frozen=True)
class Tool:
    """A button of the tool column: an icon, a letter, and what it does."""

    key: str
    icon: str
    letter: str
    name: str
    run: Callable[[], None] | None = None


Tools = tuple[tuple[str, str], ...]
ELSEWHERE = MappingProxyType({"register": "readings", "run": "ducts", "": "house"})
"""From a station without a plan."""


class Station:
    """Base of the stations. One with a number takes its place in the line by itself."""

    number = 0
    name = ""
    lenses: tuple[str, ...] = ()
    lenses_early = False
    """Whether some lens has something to show while the others still miss something."""

    def steps(self, view: View) -> tuple[tuple[str, str], ...]:
        """Things that Down and Tab step through; none: the rows of the table."""
        return ()

    tools: Tools = ()
    """Its commands in the tool column, each with an icon."""
    lens_tools: Mapping[int, Tools] = MappingProxyType({})
    """The same for a lens that has tools of its own."""
    kinds: tuple[str, ...] = ()
    """Kinds of things it has cards for; none: whatever is of a room, and what it `knows`."""
    picks_units = False
    """Shows one indoor unit at a time."""
    picks_designs: Literal["", "several", "always"] = ""
    """Whether its rail lists the designs."""
    elsewhere: Mapping[str, str] = MappingProxyType({})
    """Where things that were found go from here, station by kind; '' for all others."""
    leads_to: Mapping[str, str] = MappingProxyType({})
    """Where a click on a thing of another station leads."""
    row_fields = ""
    """What the names of fields begin with that digits fill; where there are such, Alt with a digit goes to a station."""
    stations: ClassVar[dict[int, type[Station]]] = {}
    """Every station by its place in the line: a class with a number is one."""

    def __init_subclass__(cls) -> None:
        if cls.number:
            Station.stations[cls.number] = cls

    def __init__(self) -> None:
        self.lens_index = 0
        self.laters: tuple[Later[Any], ...] = ()
        """Answers it has worked out beside the window's thread."""

    @property
    def key(self) -> str:
        """'house', as commands name it."""
        return self.name.lower()

    @property
    def own_tools(self) -> Tools:
        """Tools at the lens shown."""
        return self.lens_tools.get(self.lens_index, self.tools)

    def attach(self, refresh: Callable[[], None], opened: pyqtBoundSignal) -> None:
        """Take what it needs of the window once there is one."""
        for x in self.laters:
            x.refresh = refresh

    def made(self) -> object:
        """What it makes aside; another object each time that is made anew."""
        return None

    def reached(self, view: View) -> bool:
        """Whether the job has got past it."""
        return False

    def typed_into(self, view: View) -> str:
        """The field that a digit begins to fill; '' where there is none."""
        return ""

    def onward(self, view: View, job: Job) -> tuple[str, str] | None:
        """What Enter and Tab go on to from a field of `row_fields`, in a job newer than the figures; None: it stays."""
        return None

    def clicked(self, view: View, kind: str, item: str) -> tuple[str, str]:
        """What a click on a thing of the plan selects."""
        return kind, item

    def keeps(self, view: View) -> bool:
        """Whether the selection stays when it is opened."""
        return True

    @property
    def lens_name(self) -> str:
        """What it shows now."""
        return self.lenses[self.lens_index] if self.lens_index < len(self.lenses) else ""

    @property
    def wants(self) -> Wanted:
        """What it shows besides figures, worked out only then."""
        return ""

    def shown(self) -> tuple[object, ...]:
        """What it shows besides its lens, to know when to draw anew."""
        return ()

    def mark(self, view: View) -> str:
        """The worst finding of this station, or good."""
        severities = {f.severity for f in view.r.findings if f.rule.station == self.number}
        return "fails" if "fails" in severities else "look" if "look" in severities else "good"

    def missing_card(self, view: View, missing: str) -> Card:
        """The card while something is missing."""
        return Card(self.name, "Not yet", "none", hero_note=missing)

    def show_tool(self, tool: str) -> None:
        """Another tool is taken in hand: the lens in which it draws, where that is a certain one."""

    def missing(self, view: View) -> str:
        """What has to be done elsewhere first; empty when the station can work."""
        if not view.job.rooms:
            return f"{self.name} needs rooms: press 1, then draw or open a house"
        return ""

    def headline(self, view: View) -> Headline:
        raise NotImplementedError

    def lens(self, view: View) -> Lens:
        raise NotImplementedError

    def strip(self, view: View) -> Strip:
        raise NotImplementedError

    def canvas(self, view: View) -> Canvas | None:
        """A page of its own in place of plan and strip; None for the plan."""
        return None

    def ledger(self, view: View) -> Ledger:
        raise NotImplementedError

    def card(self, view: View) -> Card:
        raise NotImplementedError

    def knows(self, view: View, kind: str, item: str) -> bool:
        """Whether the station has a card for a thing that belongs to no room."""
        return False

    def default_selection(self, view: View) -> tuple[str, str] | None:
        """What is selected when nothing fitting is."""
        room = next((x.id for x in view.job.rooms if x.storey == view.storey), None)
        return ("room", room) if room else None


def room_of(view: View) -> str | None:
    """The room the selection belongs to."""
    s = view.selection
    if s is None:
        return None
    job = view.job
    if s.kind == "room":
        return s.id if any(r.id == s.id for r in job.rooms) else None
    if s.kind == "opening":
        return next((o.room for o in job.openings if o.id == s.id), None)
    if s.kind == "wall":
        return s.id.rpartition("/")[0]
    if s.kind == "appliance":
        return next((x.room for x in job.appliances if x.id == s.id), None)
    if s.kind == "register":
        return next((x.room for x in job.design.registers if x.id == s.id), None)
    if s.kind == "run":
        register = next((x.register_id for x in job.design.runs if x.id == s.id), None)
        return next((x.room for x in job.design.registers if x.id == register), None)
    return None


def room_index(view: View, room_id: str | None = None) -> int:
    """Index of the selected room, or the first of the storey."""
    wanted = room_id or room_of(view)
    ids = [r.id for r in view.job.rooms]
    if wanted in ids:
        return ids.index(wanted)
    return next((i for i, r in enumerate(view.job.rooms) if r.storey == view.storey), 0)
