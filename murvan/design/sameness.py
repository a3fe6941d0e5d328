"""Whether two things say the same, as far as that is quickly seen."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

T = TypeVar("T")


class Values:
    """Some fields of records, compared by value: a new name moves no wall. The same records need no comparing."""

    __slots__ = ("records", "names")

    def __init__(self, value: Any, names: tuple[str, ...]) -> None:
        self.records = value if isinstance(value, tuple) else (value,)
        self.names = names

    def same_as(self, other: Values) -> bool:
        """Whether these records say the same in the fields that are read."""
        a, b = self.records, other.records
        return len(a) == len(b) and all(
            x is y or self._picked(x) == self._picked(y) for x, y in zip(a, b, strict=True)
        )

    def _picked(self, record: Any) -> tuple[Any, ...]:
        return tuple(getattr(record, n) for n in self.names)


def same(a: Any, b: Any) -> bool:
    """Whether two values are the same object, or say the same as far as that is quickly seen."""
    if a is b:
        return True
    if isinstance(a, Values) and isinstance(b, Values):
        return a.same_as(b)
    if isinstance(a, tuple) and isinstance(b, tuple):  # validation makes new tuples of the same records
        return len(a) == len(b) and all(x is y or _equal(x, y) for x, y in zip(a, b, strict=True))
    return _equal(a, b)


def _equal(a: Any, b: Any) -> bool:
    return isinstance(a, (int, float, str)) and type(a) is type(b) and a == b


class Once:
    """The last answer for each of some things by name, kept as long as it is asked with the same."""

    def __init__(self, most: int = 4096) -> None:
        self._most = most
        self._kept: dict[str, tuple[tuple[Any, ...], Any]] = {}

    def of(self, name: str, asked: tuple[Any, ...], make: Callable[..., T]) -> T:
        """What `make` says of what is asked."""
        before = self._kept.get(name)
        if before is not None and len(before[0]) == len(asked) and all(map(same, before[0], asked)):
            return cast(T, before[1])
        found = make(*asked)
        if len(self._kept) >= self._most:
            self._kept.clear()
        self._kept[name] = (asked, found)
        return found
