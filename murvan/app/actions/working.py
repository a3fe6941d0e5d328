"""Groups of commands that have something worked out, or a paper written, beside the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from murvan.app.actions.base import CommandGroup
from murvan.app.actions.beside import Beside
from murvan.app.actions.papers import Papers
from murvan.app.desk import Desk
from murvan.model.atomic import write_atomic


class Working(CommandGroup):
    """A group of commands with who works for it."""

    def __init__(self, window: Desk, beside: Beside, papers: Papers) -> None:
        super().__init__(window)
        self.beside, self.papers = beside, papers

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
        self.papers.write(path, lambda: write_atomic(path, write))
