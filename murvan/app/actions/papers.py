"""Papers and schedules written beside the window's thread: one at a time, the next one after it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from murvan.app.actions.base import CommandGroup
from murvan.app.desk import Desk
from murvan.app.searcher import Searcher
from murvan.model import JobError


class Papers(CommandGroup):
    """Writes what is handed out."""

    def __init__(self, window: Desk) -> None:
        super().__init__(window)
        self.searcher = Searcher("murvan-paper")
        self.searcher.done.connect(self._done)
        self._target = ""
        self._told: Callable[[object], str] = lambda found: ""

    def commands(self) -> dict[str, Callable[[], object]]:
        return {}

    def write(
        self, target: str | Path, work: Callable[[], object], told: Callable[[object], str] | None = None
    ) -> None:
        """Begin to write.

        Args:
            target: What the user named, for what is said.
            work: Writes it; raises OSError or JobError.
            told: What is said of what `work` returned.
        """
        if self.searcher.busy:
            self.window.status.say("A paper is being written; wait a moment")
            return
        self._target, self._told = str(target), told or (lambda found: f"Wrote {target}")
        self.window.status.hint(f"Writing {target} …")
        self.searcher.ask(lambda _: work())

    def _done(self, number: int, found: object) -> None:
        if not self.searcher.wanted(number):
            return
        self.window.status.hint("")
        if isinstance(found, OSError):
            self.window.status.say(f"Can't write {self._target}: {found.strerror or found}")
        elif isinstance(found, JobError):
            self.window.say_refusal(found)
        elif isinstance(found, Exception):
            raise found
        else:
            self.window.status.tell(self._told(found))
