"""The shop set: flat patterns, nested sheets and their lists, written beside the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from murvan.app.actions.working import Working
from murvan.catalog.own_shop import own_shop


class ShopSet(Working):
    """Writes what the shop cuts from."""

    def commands(self) -> dict[str, Callable[[], object]]:
        return {"build.patterns": self.write, "file.shop_set": self.write}

    def write(self) -> None:
        """Flat patterns as DXF and PDF, nested sheets, with the list of the pieces."""
        from murvan.design.metal import shop_pieces  # the window starts without sheet metal
        from murvan.documents.shop_set import write_shop_set

        view = self.view
        if view is None or not any(x.of_sheet for x in view.r.cuts.pieces):
            self.window.status.say("There is no sheet metal yet: lay the ducts first")
            return
        name = QFileDialog.getExistingDirectory(self.window, "Folder for the shop set", str(Path.home()))
        if not name:
            return
        results, units = view.r, self.window.prefs.units

        def work() -> object:
            pieces = shop_pieces(results, own_shop())
            return len(write_shop_set(pieces, Path(name), frozenset({"dxf", "pdf"}), units))

        self.papers.write(name, work, lambda found: f"Wrote {found} flat patterns and the list of pieces to {name}")
