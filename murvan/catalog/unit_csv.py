"""Units as one CSV table: what a maker's sheet says, in SI or in inch-pound columns. See `docs/catalogue.md`."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any, get_args

from pydantic import ValidationError

from murvan.catalog.loader import CatalogError
from murvan.model.equipment import Blower, CoolingTable, HeatingTable, MultiUnit, Unit
from murvan.model.words import first_problem
from murvan.units import BTU_H, CFM, FOOT, INCH, INWC, POUND, Units, short

MAX_LINES = 50000
PARTS: dict[str, type] = {"unit": Unit, "cooling": CoolingTable, "heating": HeatingTable, "blower": Blower}
FIELDS_OF: dict[str, Any] = {
    **{part: kind.model_fields for part, kind in PARTS.items()},  # type: ignore[attr-defined]
    "unit": {**Unit.model_fields, **MultiUnit.model_fields},
}
"""What a line of each part may name."""
AXES = {"cooling": ("outdoor_c", "wet_bulb_c"), "heating": ("outdoor_c",), "blower": ("tap", "static_pa")}
CELLS = {
    "cooling": ("total_w", "sensible_w", "power_w"),
    "heating": ("max_w", "min_w", "power_w"),
    "blower": ("flow_m3_s",),
}
COLUMNS = ("id", "part", "field", "value")
TABLE = tuple(dict.fromkeys(x for part in AXES for x in (*AXES[part], *CELLS[part])))


def _times(factor: float) -> Callable[[float], float]:
    return lambda x: x * factor


MEASURES: tuple[tuple[str, str, Callable[[float], float]], ...] = (
    ("_kbtu_h", "_w", _times(BTU_H * 1000)),
    ("_btu_h", "_w", _times(BTU_H)),
    ("_kw", "_w", _times(1000)),
    ("_f", "_c", lambda x: (x - 32) / 1.8),
    ("_cfm", "_m3_s", _times(CFM)),
    ("_l_s", "_m3_s", _times(1e-3)),
    ("_in_wc", "_pa", _times(INWC)),
    ("_oz_ft", "_kg_m", _times(POUND / 16 / FOOT)),
    ("_lb", "_kg", _times(POUND)),
    ("_in", "_m", _times(INCH)),
    ("_ft", "_m", _times(FOOT)),
)
"""Ends of a column's name that stand for another measure: `total_btu_h` is `total_w` in Btu/h."""
IP = {
    "outdoor_c": "outdoor_f",
    "wet_bulb_c": "wet_bulb_f",
    "total_w": "total_btu_h",
    "sensible_w": "sensible_btu_h",
    "max_w": "max_btu_h",
    "min_w": "min_btu_h",
    "static_pa": "static_in_wc",
    "flow_m3_s": "flow_cfm",
}


@dataclass
class _Found:
    """What the lines of one unit say."""

    line: int
    single: dict[str, dict[str, Any]] = field(default_factory=lambda: {part: {} for part in PARTS})
    rows: dict[str, dict[tuple[float, ...], tuple[float, ...]]] = field(
        default_factory=lambda: {part: {} for part in AXES}
    )


def si_name(name: str, known: Iterable[str]) -> tuple[str, Callable[[float], float]] | None:
    """The field that a name stands for and what makes SI of its figure, such as ('total_w', × 0.293); None for no field."""
    known = set(known)
    if name in known:
        return name, _times(1)
    for end, si, make in MEASURES:
        if name.endswith(end) and name.removesuffix(end) + si in known:
            return name.removesuffix(end) + si, make
    return None


def units_from_csv(text: str) -> tuple[tuple[Unit, ...], tuple[MultiUnit, ...]]:
    """Units from CSV text, and outdoor units with several ports, which name their `ports`: columns `id`, `part`, `field`,
    `value` and those of the tables.

    Raises:
        CatalogError: names the line, or the unit and the cell. Nothing is read then.
    """
    found: dict[str, _Found] = {}
    reader = csv.reader(io.StringIO(text.lstrip("\ufeff")))
    try:
        header = _header(next(reader, []))
        for cells in reader:
            if reader.line_num > MAX_LINES:
                raise CatalogError(f"The file has more than {MAX_LINES} lines.")
            if any(c.strip() for c in cells):
                _take(found, header, cells, reader.line_num)
    except csv.Error as exc:
        raise CatalogError(f"Line {reader.line_num}: the file can't be read as CSV: {exc}.") from None
    if not found:
        raise CatalogError("The file holds no units below its first line.")
    shared = {name for name, x in found.items() if "ports" in x.single["unit"]}
    return (
        tuple(_unit(name, x) for name, x in found.items() if name not in shared),
        tuple(_multi(name, found[name]) for name in found if name in shared),
    )


def _header(cells: list[str]) -> list[tuple[str, Callable[[float], float]]]:
    names = [c.strip().lower() for c in cells]
    for needed in ("id", "part"):
        if needed not in names:
            raise CatalogError(f"The CSV file has no column “{needed}”; its first line must name id and part.")
    out: list[tuple[str, Callable[[float], float]]] = []
    for name in names:
        known = si_name(name, (*COLUMNS, *TABLE)) if name else ("", _times(1))
        if known is None:
            raise CatalogError(f"The CSV file has a column “{short(name)}” that Murvan doesn't know.")
        if known[0] and known[0] in (x for x, _ in out):
            raise CatalogError(f"The CSV file gives {known[0]} in two columns.")
        out.append(known)
    return out


def _number(text: str, place: str) -> float:
    try:
        value = float(text.replace(",", "").replace("−", "-"))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise CatalogError(f"{place}: “{short(text)}” is not a number.")
    return value


def _take(
    found: dict[str, _Found], header: list[tuple[str, Callable[[float], float]]], cells: list[str], line: int
) -> None:
    row = {name: (c.strip(), make) for (name, make), c in zip(header, cells, strict=False) if name and c.strip()}
    name, part = (row.get(x, ("",))[0] for x in ("id", "part"))
    if not name or part not in PARTS:
        raise CatalogError(f"Line {line}: each line needs an id and a part, one of {', '.join(PARTS)}.")
    own = found.setdefault(name, _Found(line))
    if "field" in row:
        _take_single(own, part, row, line)
    elif part == "unit":
        raise CatalogError(f"Line {line}: a line of the unit itself needs a field and a value.")
    else:
        _take_cells(own, part, row, line)


def _take_single(own: _Found, part: str, row: dict[str, Any], line: int) -> None:
    name = row["field"][0].lower()
    kinds = FIELDS_OF[part]
    known = si_name(name, kinds)
    if known is None or (part == "unit" and known[0] in (*AXES, "id")) or known[0] in CELLS.get(part, ()):
        raise CatalogError(f"Line {line}: a {part} has no field “{short(name)}”.")
    at, make = known
    if at in own.single[part]:
        raise CatalogError(f"Line {line}: {name} of {row['id'][0]} is given twice.")
    text, place = row.get("value", ("",))[0], f"Line {line}, {name}"
    annotation = kinds[at].annotation
    if _listed(annotation):
        words = text.replace(";", " ").split()
        own.single[part][at] = [_number(w, place) if at in ("heater_kw", "connected") else w for w in words]
    elif at == "ports":
        own.single[part][at] = int(_number(text, place))
    elif float in (annotation, *get_args(annotation)):
        own.single[part][at] = make(_number(text, place))
    else:
        own.single[part][at] = text


def _listed(annotation: Any) -> bool:
    return getattr(annotation, "__origin__", None) is tuple


def _take_cells(own: _Found, part: str, row: dict[str, Any], line: int) -> None:
    values = []
    for name in (*AXES[part], *CELLS[part]):
        if name not in row:
            raise CatalogError(f"Line {line}: a line of the {part} table needs {name}.")
        text, make = row[name]
        values.append(make(_number(text, f"Line {line}, {name}")))
    axes = len(AXES[part])
    key, rest = tuple(round(x, 4) for x in values[:axes]), tuple(values[axes:])
    if key in own.rows[part]:
        raise CatalogError(f"Line {line}: {_at(part, key)} stands twice in the {part} table of {row['id'][0]}.")
    own.rows[part][key] = rest


def _at(part: str, key: tuple[float, ...]) -> str:
    return ", ".join(f"{name} {x:g}" for name, x in zip(AXES[part], key, strict=True))


def _multi(name: str, x: _Found) -> MultiUnit:
    """An outdoor unit that several hang on: no blower of its own."""
    if x.rows["blower"] or x.single["blower"]:
        raise CatalogError(f"{name}: an outdoor unit with ports has no blower; leave its blower lines out.")
    raw = _tables(name, x)
    try:
        return MultiUnit.model_validate(raw)
    except ValidationError as exc:
        raise CatalogError(first_problem(exc, raw, raw.get("name") or name)) from None


def _tables(name: str, x: _Found) -> dict[str, Any]:
    raw: dict[str, Any] = {"id": name, **x.single["unit"]}
    raw["cooling"] = {**x.single["cooling"], **_grid(name, "cooling", x.rows["cooling"], AXES["cooling"])}
    if x.rows["heating"] or x.single["heating"]:
        lines = sorted(x.rows["heating"].items())
        raw["heating"] = {**x.single["heating"], "outdoor_c": [k[0] for k, _ in lines]}
        raw["heating"] |= {c: [v[i] for _, v in lines] for i, c in enumerate(CELLS["heating"])}
    return raw


def _unit(name: str, x: _Found) -> Unit:
    raw = _tables(name, x)
    blower = _grid(name, "blower", x.rows["blower"], ("tap", "static_pa"))
    raw["blower"] = {**x.single["blower"], "static_pa": blower["static_pa"], "taps_m3_s": blower["flow_m3_s"]}
    try:
        return Unit.model_validate(raw)
    except ValidationError as exc:
        raise CatalogError(first_problem(exc, raw, raw.get("name") or name)) from None


def _grid(
    name: str, part: str, rows: dict[tuple[float, ...], tuple[float, ...]], axes: tuple[str, ...]
) -> dict[str, Any]:
    """A table of two axes from its lines; every pair has to be there."""
    first, second = (sorted({k[i] for k in rows}) for i in (0, 1))
    for a in first:
        for b in second:
            if (a, b) not in rows:
                raise CatalogError(f"{name}: the {part} table has no line at {_at(part, (a, b))}.")
    cells = {c: [[rows[a, b][i] for b in second] for a in first] for i, c in enumerate(CELLS[part])}
    return {axes[0]: first, axes[1]: second, **cells}


def units_csv(listed: Iterable[Unit | MultiUnit], units: Units = "si") -> str:
    """Units as CSV with the table columns in the user's measures; `units_from_csv` reads it back."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    columns = [_column(name, units) for name in TABLE]
    writer.writerow((*COLUMNS, *(name for name, _ in columns)))
    for unit in listed:
        for part in PARTS:
            whole = unit if part == "unit" else getattr(unit, part, None)
            if whole is not None:
                writer.writerows(_single_lines(unit.id, part, whole))
                writer.writerows(_table_lines(unit.id, part, whole, columns))
    return out.getvalue()


PLACES = {"_f": 2, "_btu_h": 1, "_cfm": 1, "_in_wc": 4}


def _column(name: str, units: Units) -> tuple[str, Callable[[float], float]]:
    """A table column's name in the user's measures, and what makes its figure of SI."""
    if units == "si" or name not in IP:
        return name, lambda x: x
    shown = IP[name]
    known = si_name(shown, (name,))
    assert known is not None
    zero, one = known[1](0.0), known[1](1.0)
    places = next(k for end, k in PLACES.items() if shown.endswith(end))
    return shown, lambda x: round((x - zero) / (one - zero), places)


def _single_lines(unit_id: str, part: str, whole: Any) -> Iterable[tuple[str, ...]]:
    skip = {"id", *AXES} if part == "unit" else {*AXES[part], *CELLS[part], "taps_m3_s"}
    for name, value in whole:
        if name in skip or value is None or value == ():
            continue
        shown = " ".join(str(x) for x in value) if isinstance(value, tuple) else str(value)
        yield unit_id, part, name, shown


def _table_lines(
    unit_id: str, part: str, whole: Any, columns: list[tuple[str, Callable[[float], float]]]
) -> Iterable[tuple[str, ...]]:
    for line in _lines_of(part, whole):
        cells = (
            str(show(line[name])) if name in line else "" for name, (_, show) in zip(TABLE, columns, strict=True)
        )
        yield unit_id, part, "", "", *cells


def _lines_of(part: str, x: Any) -> Iterable[dict[str, float]]:
    if part == "cooling":
        for i, outdoor in enumerate(x.outdoor_c):
            for j, wet in enumerate(x.wet_bulb_c):
                yield {"outdoor_c": outdoor, "wet_bulb_c": wet, **{c: getattr(x, c)[i][j] for c in CELLS[part]}}
    elif part == "heating":
        for i, outdoor in enumerate(x.outdoor_c):
            yield {"outdoor_c": outdoor, **{c: getattr(x, c)[i] for c in CELLS[part]}}
    elif part == "blower":
        for tap, flows in enumerate(x.taps_m3_s, 1):
            for static, flow in zip(x.static_pa, flows, strict=True):
                yield {"tap": tap, "static_pa": static, "flow_m3_s": flow}
