"""The user's own units: typed, pasted, taken from files, kept, forgotten."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from murvan.app.actions.working import Working
from murvan.app.stations.equipment.station import EquipmentStation
from murvan.catalog import CatalogError, forget_unit, keep_units, readable_own_units, units, units_csv, units_in
from murvan.design.units import weigh_own
from murvan.model.equipment import MultiUnit, Unit

FIRST = "quellin-c3"
"""What a unit starts from where none is shown."""


class OwnUnits(Working):
    """The user's own units."""

    def commands(self) -> dict[str, Callable[[], object]]:
        return {
            "equipment.own": self.own,
            "equipment.own_keep": self.keep,
            "equipment.own_restart": self.restart,
            "equipment.own_forget": self.forget,
            "equipment.own_import": self.take,
            "equipment.own_export": self.export,
        }

    def own(self) -> None:
        sheet = self.window.own_unit
        if sheet.isVisible():
            sheet.close_sheet()
            return
        if self.view is None:
            return
        self.window.leave_sheets()
        if not sheet.unkept:
            self._start()
        sheet.open_sheet()
        sheet.refill()

    def _start(self) -> None:
        view, station = self.view, self.window.station
        shown = station.shown_unit(view) if view is not None and isinstance(station, EquipmentStation) else None
        unit = shown.unit if shown is not None else units()[FIRST]
        self.window.own_unit.start(unit, self.window.prefs.units, frozenset(units()))

    def restart(self) -> None:
        if self.window.own_unit.isVisible():
            self._start()

    def keep(self) -> None:
        """Keep what is typed, on this computer and in the job that weighs it."""
        sheet = self.window.own_unit
        if not sheet.isVisible():
            return
        unit = sheet.unit()
        if unit is None:
            sheet.go_wrong()
            self.window.status.say(sheet.wrong[0].text)
        elif self._keep((unit,)):
            sheet.kept()
            self.window.select("unit", unit.id)
            self.window.status.tell(f"Kept {unit.maker} {unit.name} with your own units")

    def _keep(self, new: tuple[Unit, ...], multis: tuple[MultiUnit, ...] = ()) -> bool:
        try:
            keep_units(new, multis)
        except CatalogError as exc:
            self.window.status.say(str(exc))
            return False
        except OSError as exc:
            self.window.status.say(f"Can't keep it: {exc.strerror or exc}")
            return False
        job, view = self.window.document.job, self.view
        if job is None or view is None:
            return True
        system, changed = view.indoor.system, job
        for unit in new:
            changed = weigh_own(changed, system, unit)
        if changed is job:
            self.window.document.work_out_again()
            return True
        return self.window.edit(f"Weigh the {new[0].name}"[:80], lambda _: changed)

    def forget(self) -> None:
        """Take the unit that is edited out of the user's own."""
        sheet = self.window.own_unit
        draft = sheet.draft
        if not sheet.isVisible() or draft is None:
            return
        if draft.id not in {x.id for x in readable_own_units()}:
            self.window.status.say("It is not among your own units")
            return
        try:
            forget_unit(draft.id)
        except OSError as exc:
            self.window.status.say(f"Can't write your units: {exc.strerror or exc}")
            return
        self.window.document.work_out_again()
        self.window.status.tell(f"{draft.data[1][1]} is no longer among your own units; jobs that carry it keep it")

    def take(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self.window, "Take units", str(Path.home()), "Units (*.csv *.json);;All files (*)"
        )
        if name:
            self.take_file(name)

    def take_file(self, name: str) -> bool:
        """Units of a CSV or JSON file to the user's own; all or none."""
        try:
            new, multis = units_in(Path(name))
        except CatalogError as exc:
            self.window.status.say(f"{Path(name).name}: {exc}")
            return False
        except OSError as exc:
            self.window.status.say(f"Can't read {Path(name).name}: {exc.strerror or exc}")
            return False
        if not self._keep(new, multis):
            return False
        if new:
            self.window.select("unit", new[0].id)
        many = len(new) + len(multis)
        self.window.status.tell(f"Took {many} unit{'s' if many != 1 else ''} from {Path(name).name}")
        return True

    def export(self) -> None:
        sheet = self.window.own_unit
        unit = sheet.unit() if sheet.isVisible() else None
        if unit is None:
            self.window.status.say("Mend the unit first" if sheet.isVisible() else "Open your own unit first: T")
            return
        text = units_csv((unit,), self.window.prefs.units)
        self._write("Write your own unit", "csv", lambda p: p.write_text(text, "utf-8"))
