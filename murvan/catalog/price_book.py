"""The user's own book of prices: kept on the machine, and as CSV with a line a price. See `docs/catalogue.md`."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

from pydantic import ValidationError

from murvan.catalog.aside import set_aside
from murvan.catalog.loader import CatalogError
from murvan.kinds.prices import INCH_POUND, PRICES, counted_in
from murvan.machine import home
from murvan.model.atomic import write_atomic
from murvan.model.prices import PriceBook, PriceItem
from murvan.model.words import first_problem
from murvan.units import Units

COLUMNS = ("id", "name", "per", "money", "hours")
MAX_LINES = 500
RISE = "rise"
"""The line that says by how much energy rises a year, in percent."""


def prices_file() -> Path:
    """Where it is kept."""
    return home() / "prices.json"


def own_prices() -> PriceBook | None:
    """As kept; None where nothing is kept or it can't be read: a slip in it must not stop a job."""
    try:
        return PriceBook.model_validate_json(prices_file().read_bytes())
    except (OSError, ValidationError):
        return None


def keep_prices(book: PriceBook) -> str:
    """Keep a book for all jobs of this machine. Returns a word where the one kept before can't be read: it is set aside, not
    written over. Raises OSError where it can't be written."""
    said = ""
    file = prices_file()
    try:
        PriceBook.model_validate_json(file.read_bytes())
    except OSError:
        pass
    except ValidationError as trouble:
        said = set_aside(file, trouble)
    file.parent.mkdir(parents=True, exist_ok=True)
    text = json.dumps(book.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"
    write_atomic(file, lambda p: p.write_text(text, "utf-8"))
    return said


def prices_csv(book: PriceBook, units: Units = "si") -> str:
    """A book as CSV, every price that there is; `per` says for one of what."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(COLUMNS)
    for kind in PRICES:
        x = book.of(kind)
        per, one = counted_in(x.per, units)
        rows.writerow((x.id, x.name, per, f"{x.money * one:.6g}", f"{x.hours * one:.6g}"))
    rows.writerow((RISE, "Energy, rise a year", "%", f"{book.rise * 100:g}", ""))
    return out.getvalue()


def prices_from_csv(text: str, name: str) -> PriceBook:
    """A book from CSV with commas or semicolons; what it leaves out is Murvan's default.

    Raises:
        CatalogError: every fault, with its line and column.
    """
    lines = text.lstrip("\ufeff").splitlines()
    if len(lines) > MAX_LINES:
        raise CatalogError(f"The book has {len(lines)} lines; it may have {MAX_LINES}.")
    head = lines[0] if lines else ""
    mark = ";" if head.count(";") > head.count(",") else ","
    rows = list(csv.DictReader(lines, delimiter=mark))
    missing = {"id", "money", "hours"} - set(rows[0] if rows else ())
    if missing:
        raise CatalogError(
            f"Line 1: no column {', '.join(sorted(missing))}. A book of prices has {', '.join(COLUMNS)}."
        )
    faults: list[str] = []
    items: dict[str, PriceItem] = {}
    rise = PriceBook().rise
    for n, row in enumerate(rows, 2):
        kind = (row.get("id") or "").strip()
        money, hours = (_figure(row, k, n, mark, faults) for k in ("money", "hours"))
        if kind == RISE:
            rise = (money or 0.0) / 100
        elif kind not in PRICES:
            faults.append(f"Line {n}, id: '{kind}' is no price; there are {', '.join(PRICES)}")
        elif kind in items:
            faults.append(f"Line {n}, id: '{kind}' stands twice")
        elif money is not None and hours is not None:
            one = _one_of(kind, row, n, faults)
            try:
                items[kind] = PriceItem(id=kind, money=money / one, hours=hours / one)
            except ValidationError as exc:
                faults.append(f"Line {n}: {first_problem(exc, row, 'Price')}")
    if faults:
        raise CatalogError("\n".join(faults))
    try:
        return PriceBook(name=name[:200] or "Own prices", rise=rise, items=tuple(items.values()))
    except ValidationError as exc:
        raise CatalogError(first_problem(exc, {}, "Prices")) from None


def _one_of(kind: str, row: dict[str, str], line: int, faults: list[str]) -> float:
    """How much of a price's own unit the line's is; as the book has it where the line does not say."""
    per, said = PRICES[kind].per, (row.get("per") or "").strip().replace("²", "2")
    known = {per: 1.0, **({INCH_POUND[per][0]: INCH_POUND[per][1]} if per in INCH_POUND else {})}
    if said and said not in known:
        faults.append(
            f"Line {line}, per: '{said[:40]}' is not what {PRICES[kind].name} is counted in: {' or '.join(known)}"
        )
    return known.get(said, 1.0)


def _figure(row: dict[str, str], column: str, line: int, mark: str, faults: list[str]) -> float | None:
    """A cell as a number; 0 where it is empty."""
    said = (row.get(column) or "").strip()
    try:
        return float(said.replace(",", ".") if mark == ";" else said) if said else 0.0
    except ValueError:
        faults.append(f"Line {line}, {column}: '{said[:40]}' is no number")
        return None
