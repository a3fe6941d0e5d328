"""Undo, storeys, lenses, rows, zoom, units, and the sheets over the plan."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt

from murvan.app.actions.base import CommandGroup

if TYPE_CHECKING:
    pass

FILTER = "Murvan jobs (*.murvan *.json)"


class Views(CommandGroup):
    """Undo, storeys, lenses, rows, zoom, units, and the sheets over the plan."""

    def commands(self) -> dict[str, Callable[[], object]]:
        return {
            "edit.undo": self.edit_undo,
            "edit.redo": self.edit_redo,
            "edit.card": self.edit_card,
            "view.up": self.view_up,
            "view.down": self.view_down,
            "view.lens": self.view_lens,
            "view.unit": self.view_unit,
            "view.next": self.view_next,
            "view.previous": self.view_previous,
            "view.fit": self.view_fit,
            "view.zoom_in": self.view_zoom_in,
            "view.zoom_out": self.view_zoom_out,
            "view.hour_back": self.view_hour_back,
            "view.hour_on": self.view_hour_on,
            "view.units": self.view_units,
            "view.theme": self.view_theme,
            "view.glove": self.view_glove,
            "show.arithmetic": self.show_arithmetic,
            "show.punch": self.show_punch,
            "show.find": self.show_find,
            "show.keys": self.show_keys,
            "show.guide": self.show_guide,
        }

    def edit_undo(self) -> None:
        self.window.document.stack.undo()

    def edit_redo(self) -> None:
        self.window.document.stack.redo()

    def edit_card(self) -> None:
        field = self.window.card.first_field()
        if field is not None:
            field.setFocus(Qt.FocusReason.TabFocusReason)

    def _step_storey(self, by: int) -> None:
        if self.view is None:
            return
        ids = [s.id for s in self.view.job.storeys]
        if self.window.storey in ids:
            self.window.set_storey(ids[max(0, min(ids.index(self.window.storey) + by, len(ids) - 1))])

    def view_up(self) -> None:
        self._step_storey(1)

    def view_down(self) -> None:
        self._step_storey(-1)

    def view_lens(self) -> None:
        if self.window.station.lenses:
            self.window.set_lens((self.window.station.lens_index + 1) % len(self.window.station.lenses))

    def _step_row(self, by: int) -> None:
        ledger, view = self.window.ledger.ledger, self.view
        own = self.window.station.steps(view) if view is not None else ()
        keys = list(own) or ([r.key for r in ledger.rows if r.key] if ledger else [])
        s = self.window.document.selection
        here = (s.kind, s.id) if own and s is not None else self.window.ledger.selected
        if keys:
            at = keys.index(here) if here in keys else -1
            kind, item = keys[(at + by) % len(keys)]
            self.window.select(kind, item)

    def view_next(self) -> None:
        self._step_row(1)

    def view_previous(self) -> None:
        self._step_row(-1)

    def view_fit(self) -> None:
        self.window.plan.fit()
        self.window.refresh()

    def view_zoom_in(self) -> None:
        self.window.plan.zoom(1.2, self.window.plan.rect().center().toPointF())

    def view_zoom_out(self) -> None:
        self.window.plan.zoom(1 / 1.2, self.window.plan.rect().center().toPointF())

    def view_hour_back(self) -> None:
        self.window.set_hour(self.window.hour - 1)

    def view_hour_on(self) -> None:
        self.window.set_hour(self.window.hour + 1)

    def view_units(self) -> None:
        self.window.prefs.set(units="si" if self.window.prefs.units == "ip" else "ip")

    def view_theme(self) -> None:
        self.window.prefs.set(dark=not self.window.prefs.theme.dark)

    def view_glove(self) -> None:
        self.window.prefs.set(glove=not self.window.prefs.glove)

    def view_unit(self) -> None:
        view = self.view
        if view is not None:
            ids = [x.id for x in view.job.design.indoor_units]
            self.window.set_unit(ids[(ids.index(view.indoor.id) + 1) % len(ids)])

    def take_tool(self, tool: str) -> None:
        """Take a tool of the plan in hand; the storey must exist to draw on."""
        plan = self.window.plan
        plan.clear_tape()
        if tool == "join" and plan.sheet.selected_room is None:
            self.window.status.say("Select a room first, then J and the room to join to it")
            return
        self.window.station.show_tool(tool)
        plan.tool = tool
        if tool == "measure":
            self.window.status.say("Drag along the plan to measure; Alt for any direction")
        plan.setFocus()
        self.window.refresh()

    def show_arithmetic(self) -> None:
        self.window.card.show_arithmetic()

    def show_punch(self) -> None:
        if self.window.punch.isVisible():
            self.window.punch.close_sheet()
        elif self.view is not None:
            self.window.keys.hide()
            self.window.punch.show_findings(self.view.r.findings, self.window.prefs.units)
            self.window.punch.open_sheet()

    def show_keys(self) -> None:
        if self.window.keys.isVisible():
            self.window.keys.close_sheet()
        else:
            self.window.punch.hide()
            self.window.guide.hide()
            self.window.keys.open_sheet()

    def show_guide(self) -> None:
        guide = self.window.guide
        if guide.isVisible():
            guide.close_sheet()
            return
        self.window.leave_sheets()
        guide.open_page(self.window.station_number if self.view is not None else 0)

    def show_find(self) -> None:
        self.window.find_box.open_box(self.window.prefs.theme)
