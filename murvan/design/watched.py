"""Answers that hold as long as everything they asked for is the same: what was asked is their key, and nobody says it.

A check gets the results through `Watched`. Records of the kinds in `opens` are looked into; of all others the object itself is
remembered. Asked again with results in which those are the same, it has nothing new to say.
"""

from __future__ import annotations

from collections.abc import Callable
from types import FunctionType, MethodType
from typing import Any

from murvan.design.sameness import same

Step = tuple[str, ...]
KEYS = "\0keys"
"""Step to the keys of a mapping whose values are looked into."""


class _Root:
    """What all parts of one watched record share."""

    def __init__(self, value: Any, opens: tuple[type, ...]) -> None:
        self.value, self.opens = value, opens
        self.parts: list[Watched] = []
        self.asked: dict[Step, Any] = {}
        self.open = True
        """Whether what is asked counts: while a check runs."""

    def remember(self, path: Step, value: Any) -> None:
        """What was asked for, while that counts."""
        if self.open:
            self.asked[path] = value

    def at(self, path: Step) -> Any:
        """What stands there now. Raises KeyError, AttributeError where there is nothing any more."""
        found = self.value
        for step in path:
            if step == KEYS:
                return tuple(found)
            found = found[step] if isinstance(found, dict) else getattr(found, step)
        return found


class Watched:
    """A record seen through what is asked of it; what was asked once stands in its dictionary."""

    __slots__ = ("_root", "_path", "__dict__")

    def __init__(self, root: _Root, path: Step) -> None:
        self._root, self._path = root, path
        root.parts.append(self)

    def __getattr__(self, name: str) -> Any:
        value = self._root.at(self._path)
        kind = getattr(type(value), name, None)
        found: Any
        if isinstance(kind, FunctionType):
            found = MethodType(kind, self)
        elif isinstance(kind, property) and kind.fget is not None:
            found = kind.fget(self)
        else:
            found = self._seen((*self._path, name), getattr(value, name))
        self.__dict__[name] = found
        return found

    def _seen(self, path: Step, value: Any) -> Any:
        root = self._root
        if isinstance(value, root.opens):
            return Watched(root, path)
        if isinstance(value, dict) and value and isinstance(next(iter(value.values())), root.opens):
            root.remember((*path, KEYS), tuple(value))
            return {k: Watched(root, (*path, k)) for k in value}
        root.remember(path, value)
        return value


class Kept:
    """Answers by name, each with what it asked for."""

    def __init__(self, opens: tuple[type, ...], old: Kept | None = None) -> None:
        self.opens, self._first = opens, old is None
        self._old = old._new if old is not None else {}
        self._new: dict[str, tuple[_Root | None, tuple[Any, ...]]] = {}

    def __call__(self, name: str, value: Any, ask: Callable[[Any], Any]) -> tuple[Any, ...]:
        """What `ask` yields of a record; kept from before where all that it asked for is the same."""
        if self._first:  # a house seen for the first time is not watched: most are never asked about again
            answer = tuple(ask(value))
            self._new[name] = (None, answer)
            return answer
        before = self._old.get(name)
        if before is not None and before[0] is not None and _holds(before[0], value):
            root, answer = before[0], before[1]
            for part in root.parts:  # a remedy asks again, of what is there by then
                part.__dict__.clear()
        else:
            root = _Root(value, self.opens)
            answer = tuple(ask(Watched(root, ())))
            root.open = False
        self._new[name] = (root, answer)
        return answer


def _holds(root: _Root, value: Any) -> bool:
    old, root.value = root.value, value
    try:
        if all(same(x, root.at(path)) for path, x in root.asked.items()):
            return True
    except (KeyError, AttributeError):
        pass
    root.value = old
    return False
