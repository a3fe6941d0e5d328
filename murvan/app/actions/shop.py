"""The shop set: flat patterns, nested sheets and their lists, written beside the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog

from murvan.app.actions.base import Part
from murvan.app.searcher import Searcher, Step
from murvan.catalog.own_shop import own_shop

if TYPE_CHECKING:
    from murvan.app.window import MainWindow


class ShopSet(Part):
    """Writes what the shop cuts from."""

    def __init__(self, window: MainWindow) -> None:
        super().__init__(window)
        self.searcher = Searcher("murvan-shop")
        self.searcher.done.connect(self._done)
        self._folder = ""

    def commands(self) -> dict[str, Callable[[], object]]:
        return {"build.patterns": self.write, "file.shop_set": self.write}

    def write(self) -> None:
        """Flat patterns as DXF and PDF, nested sheets, with the list of the pieces."""
        from murvan.design.metal.pieces import shop_pieces  # the window starts without sheet metal
        from murvan.documents.patterns import write_shop_set

        view = self.view
        pieces = shop_pieces(view.r, own_shop()) if view is not None else ()
        if not any(x.patterns for x in pieces):
            self.window.status.say("There is no sheet metal yet: lay the ducts first")
            return
        name = QFileDialog.getExistingDirectory(self.window, "Folder for the shop set", str(Path.home()))
        if not name:
            return
        units = self.window.prefs.units
        self._folder = name

        def work(_: Step) -> object:
            return len(write_shop_set(pieces, Path(name), frozenset({"dxf", "pdf"}), units))

        self.window.status.hint("Writing the shop set …")
        self.searcher.ask(work)

    def _done(self, number: int, found: object) -> None:
        if not self.searcher.wanted(number):
            return
        self.window.status.hint("")
        if isinstance(found, int):
            self.window.status.tell(f"Wrote {found} flat patterns and the list of pieces to {self._folder}")
        elif isinstance(found, OSError):
            self.window.status.say(f"Can't write to {self._folder}: {found.strerror}")
        else:
            self.window.status.say(f"The shop set could not be written: {found}")
