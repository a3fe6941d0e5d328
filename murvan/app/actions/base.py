"""What groups of commands share: the window they act on."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog

from murvan.app.stations.base import View
from murvan.model.atomic import write_atomic

if TYPE_CHECKING:
    from murvan.app.window import MainWindow

FILTER = "Murvan jobs (*.murvan *.json)"


class Part:
    """A group of commands."""

    def __init__(self, window: MainWindow) -> None:
        self.window = window

    def commands(self) -> dict[str, Callable[[], object]]:
        """What each of its commands runs, by id."""
        raise NotImplementedError

    @property
    def view(self) -> View | None:
        """What the window shows now."""
        return self.window._view

    def _write(self, title: str, suffix: str, write: Callable[[Path], object]) -> None:
        """Ask for a file and have it written beside the window's thread."""
        if self.view is None or not self.window.document.settled:
            self.window.status.say("Wait for the figures to settle")
            return
        stem = "".join(ch if ch.isalnum() or ch in " -" else "" for ch in self.view.job.name).strip() or "job"
        name, _ = QFileDialog.getSaveFileName(
            self.window, title, str(Path.home() / f"{stem}.{suffix}"), f"*.{suffix}"
        )
        if not name:
            return
        path = Path(name if name.lower().endswith(f".{suffix}") else f"{name}.{suffix}")
        self.window.doing.papers.write(path, lambda: write_atomic(path, write))

    def _read_text(self, name: str) -> str | None:
        try:
            return Path(name).read_text("utf-8")
        except (OSError, UnicodeDecodeError):
            self.window.status.say(f"Can't read {Path(name).name} as text")
            return None
