"""What commands act on: the window as they know it, whatever arranges it."""

from __future__ import annotations

from collections.abc import Callable

from murvan.app.document import JobDocument
from murvan.app.frame import Frame
from murvan.app.plan.gestures.base import Stroke
from murvan.app.prefs import Prefs
from murvan.app.stations.base import Station, View
from murvan.model import Job


class Desk(Frame):
    """The parts of the window with the job on it; what changes them is filled in by `MainWindow`."""

    def __init__(self, prefs: Prefs, stations: tuple[Station, ...], draft: Job) -> None:
        super().__init__(prefs)
        self.document = JobDocument()
        self.stations = stations
        self.station_number = 1
        self.storey = ""
        self.unit = ""
        """The indoor unit in hand; the first one where it is not of the job."""
        self.hour = 16
        self.draft = draft
        self._view: View | None = None

    @property
    def station(self) -> Station:
        """The one that is shown."""
        return self.stations[self.station_number - 1]

    @property
    def shown(self) -> View | None:
        """What the window shows now; None without a job."""
        return self._view

    def number_of(self, key: str) -> int:
        """The place of a station in the line."""
        return next(x.number for x in self.stations if x.key == key)

    def edit(self, name: str, change: Callable[[Job], Job]) -> bool:
        """One undo step; refused in words. True when it was done."""
        raise NotImplementedError

    def keep_stroke(self, stroke: Stroke, naming: bool = True) -> bool:
        """What the hand has drawn as one undo step; True when it was done."""
        raise NotImplementedError

    def refresh(self) -> None:
        """Show the present state everywhere."""
        raise NotImplementedError

    def command(self, command_id: str) -> None:
        """Carry out a command by its id."""
        raise NotImplementedError

    def go(self, station: int) -> None:
        """Show a station by its number."""
        raise NotImplementedError

    def go_on(self) -> None:
        """To the next of what is typed in a row."""
        raise NotImplementedError

    def select(self, kind: str, item_id: str) -> None:
        """Take a thing in hand."""
        raise NotImplementedError

    def set_storey(self, storey: str) -> None:
        """Show another storey."""
        raise NotImplementedError

    def show_storey_next(self, storey: str) -> None:
        """Show a storey as soon as the job has it."""
        raise NotImplementedError

    def set_unit(self, unit: str) -> None:
        """Take another indoor unit in hand."""
        raise NotImplementedError

    def set_lens(self, index: int) -> None:
        """Show the plan through another lens of the station."""
        raise NotImplementedError

    def set_hour(self, hour: int) -> None:
        """Show another hour of the day."""
        raise NotImplementedError

    def leave_sheets(self) -> None:
        """Close what lies over the plan."""
        raise NotImplementedError

    def leave_field(self) -> bool:
        """Take what stands in the field in hand; False where it is refused."""
        raise NotImplementedError

    def say_refusal(self, trouble: Exception) -> None:
        """Say in the status line why something was not done."""
        raise NotImplementedError
