"""The base of all records and the kinds of values in them. SI throughout, the unit at the end of every name."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator
from pydantic_core import PydanticCustomError

Id = Annotated[str, Field(min_length=1, max_length=64, pattern=r"^[A-Za-z0-9_.-]+$")]
Name = Annotated[str, Field(min_length=1, max_length=200)]
Point = tuple[
    Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)],
    Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)],
]
LEAST = 1e-30
"""No figure of a house is smaller but for 0, nor what rounding leaves of one."""
Fraction = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class Record(BaseModel):
    """Base of all records: frozen, refuses unknown fields and not-a-number."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, defer_build=True)

    @model_validator(mode="after")
    def _not_next_to_nothing(self) -> Self:
        """A number so small that dividing by it leaves the range of floats was meant by nobody."""
        for name, value in self.__dict__.items():
            if type(value) is float and 0 < abs(value) < LEAST:
                raise PydanticCustomError("next_to_nothing", "too small", {"field": name, "given": value})
        return self


@dataclass(frozen=True, slots=True)
class Ref:
    """Points at one thing by its kind, such as 'register' or 'room', and its id."""

    __pydantic_config__: ClassVar[ConfigDict] = ConfigDict(extra="forbid")

    kind: Annotated[str, Field(min_length=1, max_length=40)]
    id: Id


def signed_area(outline: tuple[Point, ...]) -> float:
    """Shoelace area of an outline, m2, positive when it runs clockwise on the screen (y down)."""
    total = 0.0
    for (x0, y0), (x1, y1) in zip(outline, outline[1:] + outline[:1], strict=True):
        total += x0 * y1 - x1 * y0
    return total / 2


def outline_crosses_itself(outline: tuple[Point, ...]) -> bool:
    """Whether two walls that are not neighbours cut or touch each other, or one runs back over its neighbour."""
    outline = tuple(p for k, p in enumerate(outline) if p != outline[k - 1])
    n = len(outline)
    walls = [(outline[i], outline[(i + 1) % n]) for i in range(n)]
    for i, wall in enumerate(walls):
        if any(_cut(*wall, *walls[j]) for j in range(i + 2, n) if (i, j) != (0, n - 1)):
            return True
        if any(_on(outline[k], *wall) for k in range(n) if k not in (i, (i + 1) % n)):
            return True
    return False


def _side(p: Point, q: Point, r: Point) -> float:
    return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])


def _cut(a: Point, b: Point, c: Point, d: Point) -> bool:
    return _side(a, b, c) * _side(a, b, d) < -1e-12 and _side(c, d, a) * _side(c, d, b) < -1e-12


def _on(p: Point, a: Point, b: Point) -> bool:
    """Whether a corner lies on a wall, its ends included, to a tenth of a micrometre."""
    x, y = b[0] - a[0], b[1] - a[1]
    length2 = x * x + y * y
    if length2 <= 0:
        return p == a
    along = ((p[0] - a[0]) * x + (p[1] - a[1]) * y) / length2
    return 0 <= along <= 1 and abs(_side(a, b, p)) <= 1e-7 * length2**0.5
