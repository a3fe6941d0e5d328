"""An answer kept while what it was made from is the same."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

T = TypeVar("T")


class Latest(Generic[T]):
    """Keeps the latest answer and what it was asked for."""

    def __init__(self) -> None:
        self._kept: tuple[tuple[object, ...], T] | None = None

    def of(self, key: tuple[object, ...], make: Callable[[], T]) -> T:
        """The answer for a key: the kept one where it is alike, else made anew."""
        if self._kept is None or not alike(self._kept[0], key):
            self._kept = (key, make())
        return self._kept[1]

    def forget(self) -> None:
        self._kept = None


def alike(a: tuple[object, ...], b: tuple[object, ...]) -> bool:
    """Whether two keys say the same: records are compared by identity, figures, words and tuples by value."""
    return len(a) == len(b) and all(
        x is y or (isinstance(x, (int, float, str, tuple)) and x == y) for x, y in zip(a, b, strict=True)
    )
