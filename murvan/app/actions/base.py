"""What groups of commands share: the window they act on."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from murvan.app.desk import Desk
from murvan.app.stations.base import View

FILTER = "Murvan jobs (*.murvan *.json)"


class CommandGroup:
    """A group of commands."""

    def __init__(self, window: Desk) -> None:
        self.window = window

    def commands(self) -> dict[str, Callable[[], object]]:
        """What each of its commands runs, by id."""
        raise NotImplementedError

    @property
    def view(self) -> View | None:
        """What the window shows now."""
        return self.window.shown

    def _read_text(self, name: str) -> str | None:
        try:
            return Path(name).read_text("utf-8")
        except (OSError, UnicodeDecodeError):
            self.window.status.say(f"Can't read {Path(name).name} as text")
            return None
