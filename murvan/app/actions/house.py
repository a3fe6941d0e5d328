"""The house and its weather: rooms, storeys, plans to trace, room lists, weather files."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QFileDialog

from murvan.app import pictures
from murvan.app.actions.working import Working
from murvan.app.plan.gestures.base import Stroke
from murvan.app.stations.base import room_of
from murvan.design.drawing import (
    COLLECTION_OF,
    Drawn,
    add_storey,
    arrange,
    copy_storey_up,
    from_csv,
    import_rows,
    lay_under,
    mirror_house,
    mirror_rooms,
    next_underlay,
    read_dxf,
    remove_opening,
    remove_room,
    rooms_from,
    rotate_house,
    rotate_rooms,
    rows_of,
    to_csv,
)
from murvan.design.weather import PARSERS, read_weather, take_weather
from murvan.model import Job, JobError, Underlay, remove, replace
from murvan.units import said, text

if TYPE_CHECKING:
    pass

FILTER = "Murvan jobs (*.murvan *.json)"


class House(Working):
    """The house and its weather: rooms, storeys, plans to trace, room lists, weather files."""

    def commands(self) -> dict[str, Callable[[], object]]:
        return {
            "loads.weather": self.loads_weather,
            "house.pace": self.house_pace,
            "house.pace_arrange": self.house_pace_arrange,
            "house.pace_import": self.house_pace_import,
            "house.pace_export": self.house_pace_export,
            "house.trace": self.house_trace,
            "house.photo": self.house_photo,
            "house.whole": self.house_whole,
            "house.remove": self.house_remove,
            "house.turn_room": self.house_turn_room,
            "house.mirror_room": self.house_mirror_room,
            "house.turn_house": self.house_turn_house,
            "house.mirror_house": self.house_mirror_house,
            "house.storey_up": self.house_storey_up,
            "house.storey_add": self.house_storey_add,
            "house.storey_below": self.house_storey_below,
        }

    def loads_weather(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self.window, "Take a weather file", str(Path.home()), f"Weather ({' '.join(f'*{x}' for x in PARSERS)})"
        )
        if name:
            self.take_weather(name)

    def take_weather(self, name: str) -> bool:
        """Place and design weather from a weather file as one undo step."""
        try:
            weather = read_weather(name)
        except JobError as exc:
            self.window.status.say(str(exc))
            return False
        done = self.window.edit(f"Take weather of {weather.place}"[:80], lambda job: take_weather(job, weather))
        if done:
            units = self.window.prefs.units
            winter, summer = (text("temperature", t, units) for t in (weather.winter_c["99"], weather.summer_c["1"]))
            self.window.status.hint(f"{weather.place}: {winter} and {summer}; {weather.source.partition(', ')[2]}")
        return done

    def _draw(self, name: str, edit: Callable[[Job], Drawn]) -> None:
        self.window.keep_stroke(Stroke(name, edit))

    def _selected_room(self) -> str | None:
        room = room_of(self.view) if self.view else None
        if room is None:
            self.window.status.say("Select a room first")
        return room

    def house_remove(self) -> None:
        s = self.window.document.selection
        if s is None:
            return
        if s.kind == "room":
            self._draw("Take the room away", lambda job: remove_room(job, s.id))
        elif s.kind == "opening":
            tag = next((o.tag for o in self.window.document.job.openings if o.id == s.id), "")  # type: ignore[union-attr]
            self._draw(f"Take {tag} away", lambda job: remove_opening(job, s.id))
        elif s.kind == "underlay":
            self._draw("Take the picture away", lambda job: Drawn(remove(job, "underlays", s.id), "room", ""))
        elif s.kind in COLLECTION_OF:
            collection = COLLECTION_OF[s.kind]
            self._draw("Take it away", lambda job: Drawn(remove(job, collection, s.id), "room", ""))
        else:
            self.window.status.say("Select a room, a window or a door to take it away")

    def house_photo(self) -> None:
        s = self.window.document.selection
        if s is None or s.kind != "existing":
            self.window.status.say("Select what the survey found first")
            return
        name, _ = QFileDialog.getOpenFileName(
            self.window, "Add a photo", str(Path.home()), "Pictures (*.png *.jpg *.jpeg)"
        )
        if name:
            self.add_photo(name, s.id)

    def add_photo(self, name: str, item: str) -> bool:
        """A photograph for a surveyed thing; it travels in the job file."""
        try:
            file = pictures.take(Path(name), "photos")[0]
        except JobError as exc:
            self.window.status.say(said(exc, self.window.prefs.units))
            return False

        def change(job: Job) -> Job:
            thing = next(x for x in job.existing if x.id == item)
            return replace(job, "existing", item, photos=(*thing.photos, file))

        return self.window.edit("Add a photo", change)

    def house_whole(self) -> None:
        self.window.document.select("house", "house")
        self.window.refresh()

    def house_pace(self) -> None:
        sheet = self.window.pace
        if sheet.isVisible():
            sheet.close_sheet()
            return
        job = self.window.document.job
        if job is not None:
            self.window.plan.tool = "select"
            self.window.leave_sheets()
            sheet.show_job(job, self.window.storey, self.window.prefs.units)
            sheet.open_sheet()
            self.window.refresh()

    def house_pace_arrange(self) -> None:
        storey = self.window.storey
        if self.window.edit("Arrange the boxes", lambda job: arrange(job, storey)):
            self.window.plan.fit()

    def house_pace_import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window, "Take a room list", str(Path.home()), "CSV (*.csv *.txt)")
        if name:
            self.import_rooms(name)

    def import_rooms(self, name: str) -> bool:
        """Rooms from a CSV list as one undo step; all or none."""
        text = self._read_text(name)
        if text is None:
            return False
        storey = self.window.storey
        try:
            rows = from_csv(text, self.window.prefs.units)
        except JobError as exc:
            self.window.status.say(f"{Path(name).name}: {said(exc, self.window.prefs.units)}")
            return False
        done = self.window.edit(f"Take {len(rows)} rooms", lambda job: import_rows(job, storey, rows))
        if done:
            self.window.status.tell(f"Took {len(rows)} rooms from {Path(name).name}")
            self.window.plan.fit_next()
        return done

    def house_trace(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self.window, "Take a plan", str(Path.home()), "Plans (*.png *.jpg *.jpeg *.pdf *.dxf *.csv)"
        )
        if name:
            self.take_plan(name)

    def take_plan(self, name: str) -> bool:
        """A picture or PDF under the plan, a DXF's closed shapes as rooms, or a room list; one undo step."""
        path = Path(name)
        if path.suffix.lower() == ".csv":
            return self.import_rooms(name)
        try:
            if path.suffix.lower() == ".dxf":
                return self._take_dxf(path)
            return self._take_picture(path)
        except JobError as exc:
            self.window.status.say(said(exc, self.window.prefs.units))
            return False

    def _take_picture(self, path: Path) -> bool:
        file, width, height, pages = pictures.take(path)
        job = self.window.document.job
        if job is None:
            return False
        width_m = 15.0  # a house is about so wide; two points and a length make it true
        under = Underlay(
            id=next_underlay(job),
            name=path.name[:200],
            storey=self.window.storey,
            file=file,
            width_px=width,
            height_px=height,
            m_per_px=width_m / width,
        )
        done = self.window.keep_stroke(Stroke(f"Lay {path.name} under the plan", lambda job: lay_under(job, under)))
        if done:
            self.window.plan.fit_next()
            self.window.command("tool.scale")
            more = f", page 1 of {pages}" if pages > 1 else ""
            self.window.status.hint(f"{path.name}{more}: mark two points whose distance you know, and type it")
        return done

    def _take_dxf(self, path: Path) -> bool:
        drawing = read_dxf(path)
        raw, width, height, m_per_px = pictures.drawn(drawing)
        file = pictures.keep(raw, "plans", ".png")
        storey = self.window.storey

        def change(job: Job) -> Drawn:
            under = Underlay(
                id=next_underlay(job),
                name=path.name[:200],
                storey=storey,
                file=file,
                width_px=width,
                height_px=height,
                m_per_px=m_per_px,
                position_m=(-m_per_px, -m_per_px),
                opacity=0.35,
            )
            laid = lay_under(job, under)
            try:
                made = rooms_from(laid.job, storey, drawing)
            except JobError as exc:
                return Drawn(laid.job, "underlay", under.id, f"{path.name}: {exc}")
            return Drawn(made.job, made.kind, made.id, f"{path.name}: {made.say}")

        self.window.plan.fit_next()
        return self.window.keep_stroke(Stroke(f"Trace {path.name}", change), naming=False)

    def house_pace_export(self) -> None:
        job = self.window.document.job
        if job is None:
            return
        rows = rows_of(job, self.window.storey)
        text = to_csv(rows, self.window.prefs.units)
        self._write("Write the room list", "csv", lambda p: p.write_text(text, "utf-8"))

    def house_turn_room(self) -> None:
        room = self._selected_room()
        if room:
            self._draw("Turn room", lambda job: Drawn(rotate_rooms(job, {room}), "room", room))

    def house_mirror_room(self) -> None:
        room = self._selected_room()
        if room:
            self._draw("Mirror room", lambda job: Drawn(mirror_rooms(job, {room}), "room", room))

    def house_turn_house(self) -> None:
        if self.window.edit("Turn the house", rotate_house):
            self.window.plan.fit()

    def house_mirror_house(self) -> None:
        if self.window.edit("Mirror the house", mirror_house):
            self.window.plan.fit()

    def _new_storey(self, name: str, add: Callable[[Job], tuple[Job, str]]) -> None:
        made: list[str] = []

        def change(job: Job) -> Job:
            job, storey = add(job)
            made.append(storey)
            return job

        if self.window.edit(name, change) and made:
            self.window.show_storey_next(made[-1])

    def house_storey_up(self) -> None:
        self._new_storey("Copy the storey up", lambda job: copy_storey_up(job, self.window.storey))

    def house_storey_add(self) -> None:
        self._new_storey("Add a storey", add_storey)

    def house_storey_below(self) -> None:
        self._new_storey("Add a basement", lambda job: add_storey(job, below=True))
