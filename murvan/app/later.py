"""An answer worked out beside the window's thread, kept while what it was made from is the same."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

from PyQt6.QtCore import QTimer

from murvan.app.latest import alike
from murvan.app.searcher import Searcher

T = TypeVar("T")


class Later(Generic[T]):
    """Keeps the latest answer; asked for another, it says None until that one is there, and then has the window drawn."""

    def __init__(self, name: str, rest_ms: int = 0) -> None:
        """`rest_ms`: how long nothing else has to be asked before it is begun, so that edits that follow each other don't
        share the machine with it."""
        self.searcher = Searcher(name)
        self._rest = QTimer(self.searcher)
        self._rest.setSingleShot(True)
        self._rest.setInterval(rest_ms)
        self._rest.timeout.connect(self._begin)
        self._make: Callable[[], T] | None = None
        self.searcher.done.connect(self._done)
        self.refresh: Callable[[], None] = lambda: None
        self.answers = 0
        """How many there have been: what is shown changes with it."""
        self._asked: tuple[object, ...] = ()
        self._kept: tuple[tuple[object, ...], T] | None = None

    @property
    def busy(self) -> bool:
        return self.searcher.busy or self._rest.isActive()

    def of(self, key: tuple[object, ...], make: Callable[[], T]) -> T | None:
        """The answer for a key, or None while it is worked out."""
        if self._kept is not None and alike(self._kept[0], key):
            return self._kept[1]
        if not (self.busy and alike(self._asked, key)):
            self._asked, self._make = key, make
            if self._rest.interval():
                self._rest.start()
            else:
                self._begin()
        return None

    def _begin(self) -> None:
        make, self._make = self._make, None
        if make is not None:
            self.searcher.ask(lambda _: make())

    def _done(self, number: int, found: object) -> None:
        if not self.searcher.wanted(number):
            return
        if isinstance(found, Exception):
            raise found  # reported as any other; it is not asked again until something changes
        self._kept = (self._asked, found)  # type: ignore[assignment]
        self.answers += 1
        self.refresh()
