"""An arithmetic laid out in rows of label, expression and result, as the card shows it."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.app import paint
from murvan.design.arithmetic import Arithmetic, Line
from murvan.units import Units


@dataclass(frozen=True)
class Laid:
    """An arithmetic laid out: each line with its result and its rows of label and expression, and the sources."""

    lines: tuple[tuple[Line, str, list[tuple[str, str]]], ...]
    sources: tuple[str, ...]


def lay(a: Arithmetic, units: Units, width: float) -> Laid:
    """Rows no wider than `width` px."""
    lines = []
    for line in a.lines:
        result = _result(line, a, units)
        lines.append((line, result, _arith_rows(line.label, line.worked(units), result, width)))
    sources = tuple(part for source in a.source_texts(units) for part in paint.wrap(source, 11, width))
    return Laid(tuple(lines), sources)


def _result(line: Line, whole: Arithmetic, units: Units) -> str:
    """What a line gives, with its unit where that is not plain: in the last line, and where it is of another kind."""
    q = line.result
    if q is None:
        return ""
    last = whole.lines[-1]
    plain = last.result is not None and q.kind == last.result.kind and not line.bold and line is not last
    return q.number(units) if plain and q.kind != "percent" else q.text(units)


def _arith_rows(label: str, body: str, result: str, width: float) -> list[tuple[str, str]]:
    """Label and expression in one row where they fit beside the result, else the expression on rows below."""
    room = width - paint.text_width(result, 12, 700) - 10
    if not body:
        lines = paint.wrap(label, 12, room)
        return [(part, "") for part in lines] or [("", "")]
    if paint.text_width(label, 12, 500) + 8 + paint.text_width(body, 12, 500) <= room:
        return [(label, body)]
    rows = [(part, "") for part in paint.wrap(label, 12, width)]
    return [*rows, *(("", part) for part in paint.wrap(body, 12, room))]
