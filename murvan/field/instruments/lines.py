"""One line of the protocol: fields between bars, a check at its end. `docs/instruments.md` tells it to makers of instruments.

    ?7|read|B4|flow*1f2e3d4c
    ?8|read|bed1.pressure|static|doors=shut*9a8b7c6d
    =7|B4|flow|35.1|cfm|Flow hood 1|sim*0a1b2c3d
    !7|there is no place B44*5a5b5c5d

A question, an answer or a refusal, each with the number of its question. The check is the CRC-32 of all before the star.
"""

from __future__ import annotations

import zlib
from dataclasses import dataclass
from typing import Literal

from murvan.model.job import HouseState

Sort = Literal["?", "=", "!"]
LONGEST = 400
SORTS: tuple[Sort, ...] = ("?", "=", "!")


class GarbledError(ValueError):
    """A line that is not what was sent."""


@dataclass(frozen=True)
class Line:
    """A question, answer or refusal."""

    sort: Sort
    number: int
    fields: tuple[str, ...]

    def text(self) -> str:
        """The line without its end."""
        bare = f"{self.sort}{self.number}|{'|'.join(_plain(x) for x in self.fields)}"
        return f"{bare}*{_check(bare)}"


def parsed(text: str) -> Line:
    """Raises GarbledError."""
    bare, star, check = text.strip().rpartition("*")
    if not star or len(text) > LONGEST or _check(bare) != check.lower():
        raise GarbledError("its check does not hold")
    head, _, rest = bare[1:].partition("|")
    sort = next((x for x in SORTS if bare[:1] == x), None)
    if sort is None or not (head.isascii() and head.isdigit() and len(head) <= 9):
        raise GarbledError("it is no question and no answer")
    return Line(sort, int(head), tuple(rest.split("|")))


def said_state(state: HouseState) -> tuple[str, ...]:
    """How the house stands, as fields of a question; nothing as found."""
    outdoor = "" if state.outdoor_c is None else f"{state.outdoor_c:g}"
    every = {
        "doors": state.doors if state.doors != "open" else "",
        "filter": state.filter if state.filter != "in" else "",
        "zones": "+".join(state.calling),
        "mode": state.mode,
        "outdoor": outdoor,
    }
    return tuple(f"{name}={value}" for name, value in every.items() if value)


def state_of(fields: tuple[str, ...]) -> HouseState:
    """The other way. Raises ValueError."""
    parts = dict(x.split("=", 1) for x in fields)
    more = {k: parts[k] for k in ("doors", "filter", "mode") if k in parts}
    calling = tuple(x for x in parts.get("zones", "").split("+") if x)
    outdoor = float(parts["outdoor"]) if "outdoor" in parts else None
    return HouseState.model_validate({**more, "calling": calling, "outdoor_c": outdoor})


def _plain(field: str) -> str:
    return " ".join(field.replace("|", "/").replace("*", "x").split())


def _check(bare: str) -> str:
    return f"{zlib.crc32(bare.encode('utf-8')):08x}"
