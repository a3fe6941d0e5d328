"""What is wrong with a unit's draft, cell by cell, and the unit it makes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from murvan.catalog.draft import FIELDS, HEADINGS, PARTS, Field, TablePart, UnitDraft, plain
from murvan.model.equipment import Unit, cooling_troubles
from murvan.model.words import first_problem
from murvan.units import UnitError, Units, parse
from murvan.units import unit as unit_name

HEATING_NAMES = ("outdoor_c", "max_w", "min_w", "power_w")
COOLING_NAMES = ("outdoor_c", "wet_bulb_c", "total_w", "sensible_w", "power_w")


@dataclass(frozen=True)
class Problem:
    """What is wrong, and where: a cell of a part, or the whole part with row -1."""

    part: TablePart
    row: int
    column: int
    text: str


def problems(draft: UnitDraft) -> tuple[Problem, ...]:
    """Everything that stops the texts from being a unit, cell by cell, in the order of the parts."""
    return tuple(_problems(draft))


def _problems(draft: UnitDraft) -> Iterator[Problem]:
    raw, bad = _raw(draft)
    yield from bad
    if not bad:
        try:
            unit = Unit.model_validate(raw)
        except ValidationError as exc:
            yield _placed(exc, raw, draft)
        else:
            yield from _no_maker_says(unit, draft)


COP = {"cooling": 8.0, "heating": 7.0}
"""More than any air source gives at these temperatures; from memory."""
AIR_M3_S_W = (2.0e-5, 1.1e-4)
"""Air over nominal capacity, least and most: 150 and 820 cfm a ton; common practice."""
COLDER = 1.03
"""By how much heat may rise where it is colder: the speed does too."""


def _no_maker_says(unit: Unit, draft: UnitDraft) -> Iterator[Problem]:
    """What is possible for a machine, and yet a slip of the hand."""
    at = {f.path: k for k, f in enumerate(FIELDS)}
    if unit.mop_a < unit.mca_a:
        text = f"MOP, amps: {unit.mop_a:g} is below the MCA of {unit.mca_a:g}; the breaker would trip."
        yield Problem("data", at["mop_a"], 1, text)
    low, high = AIR_M3_S_W
    if not low <= unit.rated_flow_m3_s / unit.nominal_w <= high:
        shown = plain("flow", unit.rated_flow_m3_s, draft.units, 0)
        text = f"Rated air flow: {shown} {unit_name('flow', draft.units)} is no air for what it cools."
        yield Problem("data", at["rated_flow_m3_s"], 1, text)
    outs, wets = unit.cooling.outdoor_c, unit.cooling.wet_bulb_c
    for i in range(len(outs)):
        for j in range(len(wets)):
            cop = unit.cooling.total_w[i][j] / unit.cooling.power_w[i][j]
            if cop > COP["cooling"]:
                row = _row_at(draft, outs[i], wets[j])
                yield Problem(
                    "cooling", row, 4, f"Cooling, line {row + 1}: a COP of {cop:.1f} is more than any gives."
                )
    if unit.heating is not None:
        yield from _heats(unit, draft)


def _row_at(draft: UnitDraft, outdoor_c: float, wet_c: float) -> int:
    """The line of a cooling table as typed."""
    for k, cells in enumerate(draft.cooling):
        at = [parse("temperature", x, draft.units) for x in cells[:2]]
        if abs(at[0] - outdoor_c) < 1e-2 and abs(at[1] - wet_c) < 1e-2:
            return k
    return 0


def _heats(unit: Unit, draft: UnitDraft) -> Iterator[Problem]:
    assert unit.heating is not None
    typed = [parse("temperature", cells[0], draft.units) for cells in draft.heating]
    line = {round(t, 2): k for k, t in enumerate(typed)}
    x = unit.heating
    for k, (at, most, power) in enumerate(zip(x.outdoor_c, x.max_w, x.power_w, strict=True)):
        row = line.get(round(at, 2), k)
        if power > 0 and most / power > COP["heating"]:
            yield Problem(
                "heating", row, 3, f"Heating, line {row + 1}: a COP of {most / power:.1f} is more than any gives."
            )
        if k + 1 < len(x.max_w) and most > x.max_w[k + 1] * COLDER and x.max_w[k + 1] > 0:
            yield Problem(
                "heating", row, 1, f"Heating, line {row + 1}: the heat rises as it gets colder; are lines mixed up?"
            )


def unit_of(draft: UnitDraft) -> Unit:
    """The unit that the texts make.

    Raises:
        ValidationError: `problems` is not empty.
    """
    return Unit.model_validate(_raw(draft)[0])


def _raw(draft: UnitDraft) -> tuple[dict[str, Any], list[Problem]]:
    bad: list[Problem] = []
    raw = draft.base.model_dump()
    raw["id"] = draft.id
    for k, (f, (_, text)) in enumerate(zip(FIELDS, draft.data, strict=True)):
        try:
            _put(raw, f.path, _value(f, text, draft.units))
        except UnitError as exc:
            bad.append(Problem("data", k, 1, f"{f.label}: {exc}"))
    cooling, heating, blower = (_figures(draft, part, bad) for part in PARTS[1:])
    if not bad:
        bad.extend(_cooling(raw, cooling, draft))
        bad.extend(_lines(raw, heating, blower))
    return raw, bad


def _put(raw: dict[str, Any], path: str, value: Any) -> None:
    *way, last = path.split(".")
    for step in way:
        raw[step] = raw[step] or {}
        raw = raw[step]
    raw[last] = value


def _value(f: Field, text: str, units: Units) -> Any:
    if not text:
        if f.needed:
            raise UnitError("is missing.")
        return () if f.kind in ("numbers", "words") else None
    if f.kind == "text":
        return text
    if f.kind == "choice":
        found = [key for key, words in f.words if words.lower() == text.lower()]
        if not found:
            raise UnitError(f"choose one of {', '.join(words for _, words in f.words)}.")
        return found[0]
    if f.kind == "words":
        return tuple("_".join(w.split()).lower() for w in text.split(",") if w.strip())
    if f.kind == "numbers":
        return tuple(parse("decimal", w, units) for w in text.replace(";", ",").split(",") if w.strip())
    return parse(f.kind, text, units)


def _figures(draft: UnitDraft, part: TablePart, bad: list[Problem]) -> list[list[float]]:
    """SI figures of a table; what can't be read goes to `bad`."""
    out = []
    for i, row in enumerate(draft.cells(part)):
        line = []
        for k, text in enumerate(row):
            name, kind = HEADINGS[part][k]
            try:
                if not text:
                    raise UnitError("is missing.")
                line.append(parse(kind, text, draft.units))
            except UnitError as exc:
                bad.append(Problem(part, i, k, f"{part.capitalize()}, line {i + 1}, {name.lower()}: {exc}"))
        out.append(line)
    return out


def _cooling(raw: dict[str, Any], rows: list[list[float]], draft: UnitDraft) -> Iterator[Problem]:
    at = {(round(r[0], 3), round(r[1], 3)): i for i, r in enumerate(rows)}
    for i, r in enumerate(rows):
        if at[round(r[0], 3), round(r[1], 3)] != i:
            yield Problem("cooling", i, 0, f"Cooling, line {i + 1}: {_pair(draft, i)} stands twice.")
    outs, wets = (sorted({k[n] for k in at}) for n in (0, 1))
    if len(outs) < 2 or len(wets) < 2:
        yield Problem("cooling", -1, 0, "Cooling: at least two outdoor and two wet-bulb temperatures are needed.")
        return
    for out in outs:
        for wet in wets:
            if (out, wet) not in at:
                shown = [plain("temperature", x, draft.units, 0) for x in (out, wet)]
                place = f"{shown[0]} outdoors and {shown[1]} {unit_name('temperature', draft.units)} wet bulb"
                yield Problem("cooling", -1, 0, f"Cooling: there is no line at {place}.")
                return
    grids = [[[rows[at[o, w]][c] for w in wets] for o in outs] for c in (2, 3, 4)]
    for trouble in cooling_troubles(outs, wets, *grids):
        row = at[outs[trouble.row], wets[trouble.column]]
        yield Problem("cooling", row, trouble.of + 2, f"Cooling, line {row + 1}: {trouble.text}.")
    raw["cooling"] |= dict(zip(COOLING_NAMES, (outs, wets, *grids), strict=True))


def _pair(draft: UnitDraft, row: int) -> str:
    return " and ".join(draft.cooling[row][:2])


def _lines(raw: dict[str, Any], heating: list[list[float]], blower: list[list[float]]) -> Iterator[Problem]:
    for i, (outdoor, most, least, _) in enumerate(heating):
        if outdoor in [r[0] for r in heating[:i]]:
            yield Problem("heating", i, 0, f"Heating, line {i + 1}: its temperature stands twice.")
        elif least > most:
            yield Problem("heating", i, 2, f"Heating, line {i + 1}: the lowest is above the highest.")
    heating = sorted(heating)
    more = {k: v for k, v in (raw["heating"] or {}).items() if v is not None and k not in HEATING_NAMES}
    raw["heating"] = (
        {**more, **dict(zip(HEATING_NAMES, zip(*heating, strict=True), strict=True))} if heating else None
    )
    if len(blower) < 3:
        yield Problem("blower", -1, 0, "Blower: at least three lines of static pressure are needed.")
        return
    for i, (a, b) in enumerate(zip(blower, blower[1:], strict=False), 1):
        if b[0] <= a[0]:
            yield Problem("blower", i, 0, f"Blower, line {i + 1}: the static pressure must rise from line to line.")
        for k in range(1, len(a)):
            if b[k] >= a[k]:
                yield Problem(
                    "blower", i, k, f"Blower, line {i + 1}, tap {k}: the air must fall as the static rises."
                )
    columns = list(zip(*blower, strict=True))
    raw["blower"] |= {"static_pa": columns[0], "taps_m3_s": columns[1:]}


def _placed(exc: ValidationError, raw: dict[str, Any], draft: UnitDraft) -> Problem:
    """The place of what the unit itself refuses."""
    where = [str(x) for x in exc.errors(include_url=False)[0]["loc"]]
    text = first_problem(exc, raw, raw.get("name") or draft.id)
    path = ".".join(where[:2]) if where and where[0] in ("cooling", "blower") else "".join(where[:1])
    for k, f in enumerate(FIELDS):
        if path == f.path or (where and where[0] == f.path):
            return Problem("data", k, 1, text)
    part: TablePart = where[0] if where and where[0] in PARTS else "data"  # type: ignore[assignment]
    return Problem(part, -1, 0, text)
