"""A block of cells from a spreadsheet or a maker's sheet, put into a unit's draft."""

from __future__ import annotations

import csv
import io

from murvan.catalog.draft import HEADINGS, TablePart, UnitDraft, width_of

MOST_ROWS = 400
WORDS_OF = {
    "Outdoors": ("out", "odb", "ambient"),
    "Wet bulb": ("wb", "wet"),
    "Sensible": ("sens", "shc"),
    "Total": ("tot", "mbh", "cap"),
    "Power": ("kw", "pow", "watt", "input"),
    "Highest": ("high", "max"),
    "Lowest": ("low", "min"),
    "Static": ("stat", "esp", "wc"),
}
"""How makers head the columns of their tables."""
BELOW_THIS = {"power": 300.0, "watts": 30.0}
"""A table of nothing higher is in thousands: kBtu/h or kW."""


def block_of(text: str) -> list[list[str]]:
    """Cells of what a spreadsheet or a CSV file puts on the clipboard."""
    lines = [line for line in text.replace("\r\n", "\n").replace("\r", "\n").split("\n") if line.strip()]
    if any("\t" in line for line in lines):
        return [[c.strip() for c in line.split("\t")] for line in lines][:MOST_ROWS]
    mark = ";" if any(";" in line for line in lines) else ","
    try:
        return [[c.strip() for c in row] for row in csv.reader(io.StringIO("\n".join(lines)), delimiter=mark)][
            :MOST_ROWS
        ]
    except csv.Error:
        return [[line.strip()] for line in lines][:MOST_ROWS]


def _figure(text: str) -> float | None:
    try:
        return float(text.replace(",", "").replace("−", "-"))
    except ValueError:
        return None


def pasted(draft: UnitDraft, part: TablePart, row: int, column: int, text: str) -> UnitDraft:
    """With a block of cells put in at a place.

    A maker's cross table (wet bulbs along the top, outdoor temperatures down the side) fills the column in hand; a list
    with headings goes to the columns they name; a list that starts in the first column takes the place of the table.
    """
    block = block_of(text)
    if not block:
        return draft
    if part == "data":
        return _pasted_data(draft, row, block)
    if part == "cooling" and _is_cross(block):
        return _pasted_cross(draft, column if column >= 2 else 2, block)
    named = _named_columns(part, block[0])
    if named is not None:
        return _pasted_list(draft, part, 0, named, block[1:], True)
    if all(_figure(c) is None for c in block[0] if c):
        block = block[1:]
    if not block:
        return draft
    columns = [column + k for k in range(len(block[0]))]
    whole = column == 0 and row == 0 and len(columns) >= 3
    return _pasted_list(draft, part, 0 if whole else row, columns, block, whole)


def _pasted_data(draft: UnitDraft, row: int, block: list[list[str]]) -> UnitDraft:
    data = list(draft.data)
    for k, cells in enumerate(block):
        if row + k < len(data):
            data[row + k] = (data[row + k][0], cells[-1])
    return draft.with_cells("data", tuple(data))


def _is_cross(block: list[list[str]]) -> bool:
    """Its corner is no figure and all else are."""
    if len(block) < 2 or len(block[0]) < 2 or _figure(block[0][0]) is not None:
        return False
    width = len(block[0])
    rest = [c for k, row in enumerate(block) for c in (row[1:] if k == 0 else row)]
    return all(len(row) == width for row in block) and all(_figure(c) is not None for c in rest)


def _pasted_cross(draft: UnitDraft, column: int, block: list[list[str]]) -> UnitDraft:
    pairs = [(row[0], wet) for row in block[1:] for wet in block[0][1:]]
    values = [c for row in block[1:] for c in row[1:]]
    values, said = _whole_measure("cooling", column, values)
    before = {(_figure(r[0]), _figure(r[1])): r for r in draft.cooling}
    if set(before) != {(_figure(out), _figure(wet)) for out, wet in pairs}:
        before = {}  # of another table: its figures must not stand beside the new ones
    rows = []
    for (out, wet), value in zip(pairs, values, strict=True):
        own = list(before.get((_figure(out), _figure(wet)), ("", "", "", "", "")))
        own[0], own[1], own[column] = out, wet, value
        rows.append(tuple(own))
    names = [name.lower() for name, _ in HEADINGS["cooling"]]
    rest = " and ".join(n for k, n in enumerate(names) if k >= 2 and k != column)
    words = f"Taken as a table of {names[column]} by wet bulb; {rest} go in the same way.{said}"
    return draft.with_cells("cooling", tuple(rows), words)


def _named_columns(part: TablePart, cells: list[str]) -> list[int] | None:
    """The column each heading names, -1 for one that is of none; None where no two are known."""
    if any(_figure(c) is not None for c in cells):
        return None
    names = [name for name, _ in HEADINGS[part]]
    if part == "blower":
        return [0, *range(1, len(cells))] if len(cells) > 1 and _means(cells[0], "Static") else None
    out: list[int] = []
    for c in cells:
        found = [names.index(n) for n in WORDS_OF if n in names and _means(c, n) and names.index(n) not in out]
        out.append(found[0] if found else -1)
    return out if sum(k >= 0 for k in out) >= 2 else None


def _means(heading: str, name: str) -> bool:
    return any(word in heading.lower() for word in WORDS_OF[name])


def _pasted_list(
    draft: UnitDraft, part: TablePart, row: int, columns: list[int], block: list[list[str]], whole: bool
) -> UnitDraft:
    width = max(width_of(draft, part), max(columns, default=0) + 1) if part == "blower" else len(HEADINGS[part])
    if part == "blower" and whole:
        width = max(columns) + 1
    width = min(width, len(HEADINGS[part]))
    rows = [] if whole else [[*r, *[""] * (width - len(r))] for r in draft.cells(part)]
    said = ""
    for k, column in enumerate(columns):
        if not 0 <= column < width:
            continue
        values, more = _whole_measure(part, column, [line[k] if k < len(line) else "" for line in block])
        said = more or said
        for i, value in enumerate(values):
            while len(rows) <= row + i:
                rows.append([""] * width)
            rows[row + i][column] = value
    return draft.with_cells(part, tuple(tuple(r) for r in rows), f"Took {len(block)} lines.{said}")


def _whole_measure(part: TablePart, column: int, values: list[str]) -> tuple[list[str], str]:
    """Figures of kBtu/h or kW in whole ones, and what was done; others as they are."""
    kind = HEADINGS[part][column][1]
    figures = [x for x in map(_figure, values) if x is not None]
    if kind not in BELOW_THIS or len(figures) < 2 or not 0 < max(figures) < BELOW_THIS[kind]:
        return values, ""
    out = []
    for v in values:
        x = _figure(v)
        out.append(v if x is None else f"{x * 1000:g}" if x < 999 else f"{x * 1000:.0f}")
    return out, f" {HEADINGS[part][column][0]} was in thousands: times 1000."
