"""Readings in and out as CSV, with any unit in the header or beside the value."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from murvan.design.results import Results
from murvan.field.doubts import doubts
from murvan.field.places import Place, places
from murvan.field.protocol import Step, now_at
from murvan.kinds.readings import INSTRUMENTS, QUANTITIES, READS
from murvan.model.edit import free_id, make
from murvan.model.errors import JobError, JobValueError
from murvan.model.job import HouseState, Job, Reading, Ref
from murvan.units import UnitError, Units, number, parse, short, unit

COLUMNS = (
    "place",
    "quantity",
    "value",
    "unit",
    "phase",
    "instrument",
    "simulated",
    "taken",
    "person",
    "layout",
    "note",
    "doors",
    "filter",
    "zones",
    "mode",
    "outdoor",
)
NEEDED = ("place", "value")
SURE = "sure"
"""The column that says yes of a figure that would be asked about."""
MAX_ROWS = 20000
MOST_FAULTS = 20
"""Faults of a file that are told at once."""
OTHERWISE = 0.05
"""Standard uncertainty, a share, of what no instrument of ours reads."""


@dataclass(frozen=True)
class Taken:
    """What a file holds: readings, lines that can't be read, and figures that are asked about."""

    readings: tuple[Reading, ...]
    faults: tuple[str, ...]
    """By line, in words."""
    asked: tuple[tuple[str, str], ...]
    """Id of a reading and what is odd about it, with its line."""

    @property
    def told(self) -> tuple[str, ...]:
        """All that has to be settled, or left out."""
        every = (*self.faults, *(words for _, words in self.asked))
        more = (f"and {len(every) - MOST_FAULTS} more",) if len(every) > MOST_FAULTS else ()
        return (*every[:MOST_FAULTS], *more)

    @property
    def plain(self) -> tuple[Reading, ...]:
        """Without those that are asked about."""
        odd = {i for i, _ in self.asked}
        return tuple(r for r in self.readings if r.id not in odd)


def read_csv(job: Job, text: str, units: Units, r: Results | None = None) -> Taken:
    """Readings from CSV text.

    Columns `place` (a register's or hole's id or name) and `value` are needed; `quantity`, `unit`, `phase`,
    `instrument`, `simulated` (yes or no), `taken`, `person`, `layout`, `note`, how the house stands (`doors` open or shut, `filter` in
    or out, `zones` that call with a + between, `mode` heating, cooling or fan, `outdoor` temperature), and `sure` may follow. Cells are
    parted by commas, or by semicolons with commas in the figures. A line without a value was not read. A reading is as sure as its
    instrument, else as what reads its quantity. A value without a unit is taken in `units`, a reading without a layout is of the ducts as
    they are laid now.

    Args:
        r: the job's figures, against which a file in another unit is seen.

    Raises:
        JobValueError: it is no such file, or there is nothing in it.
    """
    rows, comma = _opened(text)
    known = places(job)
    by_name = {x.name.lower(): x for x in known.values()} | {k.lower(): x for k, x in known.items()}
    reader = _Rows(job, by_name, units, comma)
    out: list[Reading] = []
    faults: list[str] = []
    lines: dict[str, int] = {}
    sure: set[str] = set()
    taken_ids = {x.id for x in job.design.readings}
    for line, row in enumerate(_lines(rows), 2):
        if line > MAX_ROWS:
            raise JobValueError(f"The CSV file has more than {MAX_ROWS} lines.")
        if not (row.get("value") or "").strip() or not (row.get("place") or row.get("value") or "").strip():
            continue
        new_id = free_id("m", taken_ids, len(taken_ids) + 1)
        taken_ids.add(new_id)
        try:
            out.append(reader.reading(row, line, new_id))
        except JobError as exc:
            faults.append(str(exc))
            continue
        lines[new_id] = line
        if (row.get(SURE) or "").strip().lower() in YES:
            sure.add(new_id)
    if not out and not faults:
        raise JobValueError("The CSV file has no readings below its first line.")
    asked = tuple(
        (i, f"Line {lines[i]}, {words}") for i, words in doubts(job, out, r, units).items() if i not in sure
    )
    return Taken(tuple(out), tuple(faults), asked)


def _opened(text: str) -> tuple[csv.DictReader[str], bool]:
    """Rows by column, and whether figures have a decimal comma."""
    text = text.lstrip("\ufeff")
    first = text.partition("\n")[0]
    parted = ";" if first.count(";") > first.count(",") else ","
    rows = csv.DictReader(io.StringIO(text), delimiter=parted)
    try:
        header = [h.strip().lower() for h in rows.fieldnames or []]
    except csv.Error as exc:
        raise JobValueError(f"The file can't be read as CSV: {exc}.") from None
    for name in NEEDED:
        if name not in header:
            raise JobValueError(f"The CSV file has no column “{name}”; its first line must name place and value.")
    rows.fieldnames = header
    return rows, parted == ";"


def _lines(rows: csv.DictReader[str]) -> Iterator[dict[str, str]]:
    try:
        yield from rows
    except csv.Error as exc:
        raise JobValueError(f"Line {rows.line_num}: the file can't be read as CSV: {exc}.") from None


YES = ("yes", "true", "1", "simulated")


class _Rows:
    """Reads one line after the other."""

    def __init__(self, job: Job, by_name: dict[str, Place], units: Units, comma: bool) -> None:
        self.by_name, self.units, self.comma, self.layout = by_name, units, comma, job.design.layout
        self.zones = {z.name.lower(): z.id for z in job.design.zones} | {z.id.lower(): z.id for z in job.design.zones}

    def reading(self, row: dict[str, str], line: int, new_id: str) -> Reading:
        """Raises JobError: names the line and the column."""

        def cell(name: str) -> str:
            return (row.get(name) or "").strip()

        def one_of(name: str, first: str, *others: str) -> str:
            said = cell(name).lower() or first
            if said not in (first, *others):
                *some, last = sorted(x for x in (first, *others) if x)
                raise JobValueError(
                    f"Line {line}: the {name} is “{short(said)}”; {', '.join(some)} or {last} is meant."
                )
            return said

        place = self.by_name.get(cell("place").lower())
        if place is None:
            raise JobValueError(f"Line {line}: there is no register or test hole “{short(cell('place'))}”.")
        quantity = cell("quantity").lower() or place.quantity
        if quantity not in QUANTITIES:
            raise JobValueError(
                f"Line {line}: the quantity “{short(quantity)}” is not one of {', '.join(QUANTITIES)}."
            )
        of = cell("layout") or str(self.layout)
        if not of.isdigit() or int(of) > self.layout:
            raise JobValueError(f"Line {line}: the layout is “{short(of)}”; a number up to {self.layout} is meant.")
        state = make(
            HouseState,
            f"Line {line}",
            doors=one_of("doors", "open", "shut"),
            filter=one_of("filter", "in", "out"),
            calling=tuple(self._zone(x, line) for x in cell("zones").split("+") if x.strip()),
            mode=one_of("mode", "", "heating", "cooling", "fan"),
            outdoor_c=self._figure("temperature1", cell("outdoor"), "", line, "outdoor") if cell("outdoor") else None,
        )
        return make(
            Reading,
            f"Line {line}, value",
            id=new_id,
            at=place.at,
            hole=place.hole,
            quantity=quantity,
            value=self._figure(QUANTITIES[quantity].shown_as, cell("value"), cell("unit"), line, "value"),
            phase=one_of("phase", "after", "before"),
            instrument=cell("instrument")[:200],
            simulated=cell("simulated").lower() in YES,
            taken=cell("taken")[:40],
            person=cell("person")[:40],
            layout=int(of),
            note=cell("note")[:1000],
            uncertainty=_uncertainty(cell("instrument"), quantity),
            state=state,
        )

    def _zone(self, name: str, line: int) -> str:
        found = self.zones.get(name.strip().lower())
        if found is None:
            raise JobValueError(f"Line {line}: there is no zone “{short(name.strip())}”.")
        return found

    def _figure(self, kind: str, typed: str, unit_: str, line: int, column: str) -> float:
        plain = typed.replace(",", ".") if self.comma else typed
        try:
            return parse(kind, f"{plain} {unit_}".strip(), self.units)
        except UnitError as exc:
            raise JobValueError(f"Line {line}, {column}: {exc}") from None


def _uncertainty(instrument: str, quantity: str) -> float:
    known = next((x for x in INSTRUMENTS.values() if x.name == instrument), READS.get(quantity))
    return known.uncertainty if known is not None else OTHERWISE


def next_id(job: Job) -> str:
    """A reading id not used yet."""
    return free_id("m", {r.id for r in job.design.readings})


def _word(r: Reading, words: dict[tuple[Ref, str | None, str], str]) -> str:
    """What a file calls the place of a reading; what was read at no hole stands with the unit's id."""
    return words.get((r.at, r.hole, r.quantity)) or words.get((r.at, r.hole, "")) or r.at.id


def readings_csv(job: Job, units: Units) -> str:
    """All readings as CSV in the user's units; `read_csv` reads it back."""
    words = {(x.at, x.hole, x.quantity): x.word for x in reversed(places(job).values())}
    words |= {(x.at, x.hole, ""): x.word for x in reversed(places(job).values())}
    return _csv(COLUMNS, (_cells(r, _word(r, words), units) for r in job.design.readings))


def sheet_csv(steps: Sequence[Step], stands: HouseState, units: Units) -> str:
    """A field sheet to be filled: every reading of a visit in its order, the value left empty; `read_csv` reads it back."""
    rows = []
    for n, step in enumerate(steps, 1):
        state = state_cells(now_at(step, stands), units)
        for p in step.places:
            kind = QUANTITIES[p.quantity].shown_as
            own = (p.word, p.quantity, "", unit(kind, units), "after", READS[p.quantity].name)
            rows.append((n, p.name, *own, "no", "", "", "", "", *state))
    return _csv(("step", "name", *COLUMNS), rows)


def _cells(r: Reading, word: str, units: Units) -> tuple[object, ...]:
    kind = QUANTITIES[r.quantity].shown_as
    return (
        *(word, r.quantity, figure(kind, r.value, units), unit(kind, units), r.phase, r.instrument),
        *("yes" if r.simulated else "no", r.taken, r.person, r.layout, r.note),
        *state_cells(r.state, units),
    )


def state_cells(state: HouseState, units: Units) -> tuple[str, ...]:
    """How the house stands, as a file says it: doors, filter, zones, mode, outdoor temperature."""
    kind, at = "temperature1", state.outdoor_c
    outdoor = "" if at is None else f"{figure(kind, at, units)} {unit(kind, units)}"
    return (state.doors, state.filter, "+".join(state.calling), state.mode, outdoor)


def figure(kind: str, value: float, units: Units) -> str:
    """A figure without its unit as files have it."""
    return number(kind, value, units, 4).replace("−", "-").replace(",", "")


def _csv(header: tuple[str, ...], rows: Iterable[tuple[object, ...]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(header)
    writer.writerows(rows)
    return out.getvalue()
