"""Tables of the ledger, declared by column: its heading, its width, and what it tells of a row."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Generic, Literal, TypeVar

from murvan.app.stations.base import Cell, Column, Ledger, Row, View
from murvan.app.stations.common import on_storey
from murvan.arrays import Array

X = TypeVar("X")
Says = Cell | str | float | None
"""A whole cell, words, or a figure in SI; None is a dash."""


@dataclass(frozen=True)
class Told(Generic[X]):
    """One column of a table of X."""

    title: str
    width: float
    """px at a table of 950."""
    of: Callable[[X], Says]
    kind: str = ""
    """Of its figure: how it is written, and the unit under the heading."""
    align: str = "r"
    bold: bool = False
    decimals: int | None = None
    unit: str | None = None
    """Stands under the heading in place of the kind's unit."""
    alone: bool = False
    """Only of what is one thing: empty where a row sums several."""
    key: str = ""
    """What a column without a title is asked for by."""

    def heading(self, view: View) -> Column:
        unit = view.unit(self.kind) if self.unit is None and self.kind else self.unit or ""
        return Column(self.title, unit, self.width, self.align)

    def cell(self, view: View, x: X, summed: bool) -> Cell:
        if summed and self.alone:
            return Cell()
        says = self.of(x)
        if isinstance(says, Cell):
            return says
        words = says if isinstance(says, str) else view.num(self.kind or "number", says, self.decimals)
        return Cell(words, self.bold and not summed)


Key = tuple[str, str] | None


def row(view: View, columns: Sequence[Told[X]], key: Key, x: X, summed: bool = False) -> Row:
    return Row(key, tuple(c.cell(view, x, summed) for c in columns))


def said(columns: Sequence[Told[X]], words: dict[str, str], key: Key = None) -> Row:
    """A row of words by the titles of their columns."""
    return Row(key, tuple(Cell(words.get(c.key or c.title, "")) for c in columns))


def headings(view: View, columns: Sequence[Told[X]]) -> tuple[Column, ...]:
    return tuple(c.heading(view) for c in columns)


def table(view: View, columns: Sequence[Told[X]], rows: Iterable[tuple[Key, X]]) -> Ledger:
    """A row for each of some things."""
    return Ledger(headings(view, columns), tuple(row(view, columns, k, x) for k, x in rows))


@dataclass(frozen=True)
class Rooms:
    """What a row is of: one room, those of a storey, or all."""

    view: View
    at: list[int]
    """Indices of the job's rooms."""
    name: str
    of: Literal["room", "storey", "house"]

    @property
    def i(self) -> int:
        """Index of the one room."""
        return self.at[0]

    @property
    def id(self) -> str:
        return self.view.job.rooms[self.i].id

    @property
    def whole(self) -> bool:
        return self.of == "house"

    @cached_property
    def ids(self) -> frozenset[str]:
        return frozenset(self.view.job.rooms[i].id for i in self.at)

    def sum(self, values: Sequence[float] | Array) -> float | None:
        """Of what each room of the job has; None without rooms."""
        return float(sum(values[i] for i in self.at)) if self.at else None


def named(width: float) -> Told[Rooms]:
    return Told("Room", width, lambda x: x.name, align="l", bold=True)


def state(width: float, mark: Callable[[Rooms], str]) -> Told[Rooms]:
    """The last column: how it stands with a room, the way to another storey."""

    def end(x: Rooms) -> Cell:
        return Cell(mark=mark(x)) if x.of == "room" else Cell("▸" if x.of == "storey" else "")

    return Told("", width, end)


def rooms_table(
    view: View, columns: Sequence[Told[Rooms]], total: str = "House", key: Key = None, extra: tuple[Row, ...] = ()
) -> Ledger:
    """The storey's rooms, a row for each other storey, and all together.

    Args:
        total: What the last row is called, `key` what it selects.
        extra: Rows under the rooms.
    """
    job = view.job
    mine = tuple(row(view, columns, ("room", r.id), Rooms(view, [i], r.name, "room")) for i, r in on_storey(view))
    other = []
    for s in job.storeys:
        at = [i for i, r in enumerate(job.rooms) if r.storey == s.id]
        if s.id != view.storey and at:
            x = Rooms(view, at, f"{s.name}, {len(at)} room{'s' if len(at) != 1 else ''}", "storey")
            other.append(row(view, columns, ("storey", s.id), x, True))
    every = Rooms(view, list(range(len(job.rooms))), total, "house")
    return Ledger(headings(view, columns), (*mine, *extra), tuple(other), row(view, columns, key, every, True))
