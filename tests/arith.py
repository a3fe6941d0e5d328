"""Reads a printed line of arithmetic back: numbers as they stand, within the rounding of each."""

from __future__ import annotations

import math
import re

from murvan.design.arithmetic import Line
from murvan.units import form, unit

OPERATORS = "×÷√−+²^"
EXACT = ("number", "per_100", "kw_of", "hour_of_flow")
"""Kinds that are counts or fixed by the units."""


class Span:
    """All that a rounded number may stand for."""

    def __init__(self, low: float, high: float) -> None:
        self.low, self.high = min(low, high), max(low, high)

    @staticmethod
    def of(x: object) -> Span:
        return x if isinstance(x, Span) else Span(float(x), float(x))  # type: ignore[arg-type]

    def _with(self, other: object, f) -> Span:
        b = Span.of(other)
        found = [f(p, q) for p in (self.low, self.high) for q in (b.low, b.high)]
        return Span(min(found), max(found))

    def __add__(self, x):
        return self._with(x, lambda p, q: p + q)

    def __sub__(self, x):
        return self._with(x, lambda p, q: p - q)

    def __mul__(self, x):
        return self._with(x, lambda p, q: p * q)

    def __truediv__(self, x):
        b = Span.of(x)
        if b.low <= 0 <= b.high:
            return Span(-math.inf, math.inf)
        return self._with(b, lambda p, q: p / q)

    def __pow__(self, n):
        ends = [self.low, self.high] + ([0.0] if n == 2 and self.low < 0 < self.high else [])
        return Span(min(x**n for x in ends), max(x**n for x in ends))

    def __neg__(self):
        return Span(-self.high, -self.low)

    def __rsub__(self, x):
        return Span.of(x) - self

    __radd__, __rmul__ = __add__, __mul__

    def __rtruediv__(self, x):
        return Span.of(x) / self


def sqrt(x) -> Span:
    x = Span.of(x)
    return Span(math.sqrt(max(x.low, 0)), math.sqrt(max(x.high, 0)))


def cos_of(degrees: int):
    """Cosine of so many degrees times x."""

    def cos(x) -> Span:
        x = Span.of(x)
        at = [math.cos(math.radians(degrees) * (x.low + (x.high - x.low) * k / 50)) for k in range(51)]
        return Span(min(at), max(at))

    return cos


COSINES = {f"cos{15 * n}": cos_of(15 * n) for n in range(1, 13)}


def read(text: str, kind: str, units: str) -> Span:
    """A printed number with half of its last place on both sides."""
    whole = text.removeprefix("R-").replace(",", "").replace("−", "-").replace("\u2009", "").strip()
    share = whole.endswith("%")
    name = "" if share else unit(kind, units)
    bare = whole.removesuffix("%").strip().removesuffix(name).strip()
    value = float(bare)
    half = 0.0 if kind in EXACT else 0.5 * 10.0 ** -(len(bare.partition(".")[2]))
    scale = 0.01 if share else 1.0
    return Span((value - half) * scale, (value + half) * scale)


def has_sum(line: Line) -> bool:
    """Whether the line says that its result comes from its numbers."""
    return line.result is not None and any(c in line.expression for c in OPERATORS)


def worked(line: Line, units: str) -> Span:
    """What the printed expression gives."""
    text = line.expression
    names = {}
    for k, o in enumerate(line.operands):
        names[f"v{k}"] = read(o.text(units) if o.kind == "percent" else o.number(units), o.kind, units)
        text = text.replace(f"{{{k}}}", f"v{k}")
    text = (
        re.sub(r"cos (\d+)°", r"cos\1", text)
        .replace("½", "0.5")
        .replace("√", "sqrt")
        .replace("²", "**2")
        .replace("^", "**")
    )
    text = text.replace("×", "*").replace("÷", "/").replace("−", "-")
    text = re.sub(r"(?<![\w.])(?!v\d|sqrt|cos\d)[A-Za-z]+,?", " ", text)
    return Span.of(eval(text, {"__builtins__": {}}, {**names, "sqrt": sqrt, **COSINES}))


def misses(line: Line, units: str) -> str:
    """How a line fails to multiply out, '' when it does."""
    if not has_sum(line):
        return ""
    said = f"{line.label}: {line.worked(units)} = {line.result.text(units)}"
    try:
        found = worked(line, units)
    except Exception as trouble:
        return f"{said} can't be worked out ({trouble})"
    q = line.result
    shown = read(q.text(units) if q.kind == "percent" else q.number(units), q.kind, units)
    slack = 1e-6 * max(abs(shown.low), abs(shown.high), 1e-9)
    if found.high < shown.low - slack or found.low > shown.high + slack:
        return f"{said}, its numbers give {found.low:g} to {found.high:g}"
    if (
        "cos" in line.expression
        or form(q.kind, units).unit == "%"
        or found.high - found.low <= max(abs(shown.high) * 0.25, 40 * (shown.high - shown.low))
    ):
        return ""
    return f"{said}: its numbers are rounded too far to tell ({found.low:g} to {found.high:g})"
