"""Readings in and out as CSV, with any unit in the header or beside the value."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator

from murvan.field.places import Place, places
from murvan.kinds.readings import INSTRUMENTS, QUANTITIES, READS
from murvan.model.edit import free_id, make
from murvan.model.errors import JobValueError
from murvan.model.job import Job, Reading, Ref
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
)
NEEDED = ("place", "value")
MAX_ROWS = 20000
OTHERWISE = 0.05
"""Standard uncertainty, a share, of what no instrument of ours reads."""


def import_csv(job: Job, text: str, units: Units) -> tuple[Reading, ...]:
    """Readings from CSV text.

    Columns `place` (a register's or hole's id or name) and `value` are needed; `quantity`, `unit`, `phase`,
    `instrument`, `simulated` (yes or no), `taken`, `person`, `layout`, `note` may follow. Cells are parted by commas, or by
    semicolons with commas in the figures. A reading is as sure as its instrument, else as what reads its quantity. A value without a unit is taken in
    `units`, a reading without a layout is of the ducts as they are laid now.

    Raises:
        JobValueError: names the line and the column. Nothing is imported then.
    """
    text = text.lstrip("﻿")
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
    known = places(job)
    by_name = {x.name.lower(): x for x in known.values()} | {k.lower(): x for k, x in known.items()}
    out: list[Reading] = []
    taken_ids = {r.id for r in job.design.readings}
    for line, row in enumerate(_lines(rows), 2):
        if line > MAX_ROWS:
            raise JobValueError(f"The CSV file has more than {MAX_ROWS} lines.")
        if not any((v or "").strip() for v in row.values() if isinstance(v, str)):
            continue
        new_id = free_id("m", taken_ids, len(taken_ids) + 1)
        taken_ids.add(new_id)
        out.append(_row(row, line, by_name, units, new_id, job.design.layout, parted == ";"))
    if not out:
        raise JobValueError("The CSV file has no readings below its first line.")
    return tuple(out)


def _lines(rows: csv.DictReader[str]) -> Iterator[dict[str, str]]:
    try:
        yield from rows
    except csv.Error as exc:
        raise JobValueError(f"Line {rows.line_num}: the file can't be read as CSV: {exc}.") from None


def _row(
    row: dict[str, str], line: int, by_name: dict[str, Place], units: Units, new_id: str, layout: int, comma: bool
) -> Reading:
    def cell(name: str) -> str:
        return (row.get(name) or "").strip()

    place = by_name.get(cell("place").lower())
    if place is None:
        raise JobValueError(f"Line {line}: there is no register or test hole “{short(cell('place'))}”.")
    quantity = cell("quantity").lower() or place.quantity
    if quantity not in QUANTITIES:
        raise JobValueError(f"Line {line}: the quantity “{short(quantity)}” is not one of {', '.join(QUANTITIES)}.")
    phase = cell("phase").lower() or "after"
    if phase not in ("before", "after"):
        raise JobValueError(f"Line {line}: the phase is “{short(phase)}”; before or after is meant.")
    try:
        typed = cell("value").replace(",", ".") if comma else cell("value")
        value = parse(QUANTITIES[quantity].shown_as, f"{typed} {cell('unit')}".strip(), units)
    except UnitError as exc:
        raise JobValueError(f"Line {line}, value: {exc}") from None
    of = cell("layout") or str(layout)
    if not of.isdigit() or int(of) > layout:
        raise JobValueError(f"Line {line}: the layout is “{short(of)}”; a number up to {layout} is meant.")
    return make(
        Reading,
        f"Line {line}, value",
        id=new_id,
        at=place.at,
        hole=place.hole,
        quantity=quantity,
        value=value,
        phase=phase,
        instrument=cell("instrument")[:200],
        simulated=cell("simulated").lower() in ("yes", "true", "1", "simulated"),
        taken=cell("taken")[:40],
        person=cell("person")[:40],
        layout=int(of),
        note=cell("note")[:1000],
        uncertainty=_uncertainty(cell("instrument"), quantity),
    )


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
    """All readings as CSV in the user's units; `import_csv` reads it back."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    words = {(x.at, x.hole, x.quantity): x.word for x in reversed(places(job).values())}
    words |= {(x.at, x.hole, ""): x.word for x in reversed(places(job).values())}
    for r in job.design.readings:
        kind = QUANTITIES[r.quantity].shown_as
        value = number(kind, r.value, units, 4).replace("−", "-").replace(",", "")
        writer.writerow(
            (
                *(_word(r, words), r.quantity, value, unit(kind, units), r.phase, r.instrument),
                *("yes" if r.simulated else "no", r.taken, r.person, r.layout, r.note),
            )
        )
    return out.getvalue()
