"""What the commands do. The window finds the command; this carries it out."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog

from murvan.app import pictures
from murvan.app.commands import SURVEY_TOOLS
from murvan.app.plan.gestures.base import Stroke
from murvan.app.stations import start
from murvan.app.stations.base import View, room_of
from murvan.app.stations.build import BuildStation, toggle
from murvan.app.stations.equipment import EquipmentStation, pick_unit
from murvan.app.stations.readings import chosen_register, next_to_read
from murvan.design import Results, solve
from murvan.design.house.drawing.openings import remove_opening
from murvan.design.house.drawing.pace import arrange, from_csv, import_rows, rows_of, to_csv
from murvan.design.house.drawing.rooms import Drawn, remove_room
from murvan.design.house.drawing.things import COLLECTION_OF
from murvan.design.house.drawing.trace import lay_under, next_underlay, read_dxf, rooms_from
from murvan.design.house.drawing.turning import (
    add_storey,
    copy_storey_up,
    mirror_house,
    mirror_rooms,
    rotate_house,
    rotate_rooms,
)
from murvan.design.system import ducts
from murvan.design.system.sizing import size_and_balance
from murvan.design.weather.files import PARSERS, read_weather
from murvan.design.weather.place import take_weather
from murvan.documents.schedules import Schedule, all_schedules, write_csv, write_xlsx
from murvan.field import Fault, VirtualHouse, import_csv
from murvan.field.places import register_place
from murvan.field.readings import next_id
from murvan.field.verdict import RegisterVerdict
from murvan.model import Job, JobError, Underlay, insert, remove, replace, with_design
from murvan.model.atomic import write_atomic
from murvan.model.design_edit import delete_option, duplicate_option, free_name, rename_option, set_aside, take_up
from murvan.model.edit import changed
from murvan.units import said, text

if TYPE_CHECKING:
    from murvan.app.window import MainWindow

FILTER = "Murvan jobs (*.murvan *.json)"


class Actions:
    """What each command runs."""

    def __init__(self, window: MainWindow) -> None:
        self.window = window
        self.commands: dict[str, Callable[[], object]] = {
            "file.new": self.file_new,
            "file.open": self.file_open,
            "file.demo": self.file_demo,
            "file.bungalow": self.file_bungalow,
            "file.narrow": self.file_narrow,
            "file.recover": self.file_recover,
            "file.save": self.file_save,
            "file.save_as": self.file_save_as,
            "file.close": self.file_close,
            "file.pdf": self.file_pdf,
            "file.xlsx": self.file_xlsx,
            "file.csv": self.file_csv,
            "file.quit": self.file_quit,
            "edit.undo": self.edit_undo,
            "edit.redo": self.edit_redo,
            "edit.card": self.edit_card,
            "design.list": self.design_list,
            "design.aside": self.design_aside,
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
            "loads.report": self.loads_report,
            "loads.weather": self.loads_weather,
            "view.units": self.view_units,
            "view.theme": self.view_theme,
            "view.glove": self.view_glove,
            "show.arithmetic": self.show_arithmetic,
            "show.punch": self.show_punch,
            "show.find": self.show_find,
            "show.keys": self.show_keys,
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
            "equipment.pick": self.equipment_pick,
            "ducts.size_all": self.ducts_size_all,
            "ducts.balance": self.ducts_balance,
            "build.hang": self.build_hang,
            "build.next": self.build_next,
            "readings.next": self.readings_next,
            "readings.simulate": self.readings_simulate,
            "readings.forget": self.readings_forget,
            "readings.import": self.readings_import,
        }
        self._virtual: VirtualHouse | None = None
        self._asked: tuple[str, str] | None = None

    @property
    def view(self) -> View | None:
        """What the window shows now."""
        return self.window._view

    def file_new(self) -> None:
        if not self.window.may_close():
            return
        job = self.window.draft
        if not job.company:  # typed on a sheet since the draft was begun
            job = changed(job, job.name, company=self.window.prefs.company)
        self.window.draft = start.draft_job(self.window.prefs.company)
        self.window.station_number, self.window.storey = 1, ""
        self.window.document.open_job(job, None)
        self.window.plan.clear()
        self.window.status.hint("Press R and drag the first room; lengths can be typed while you drag")

    def file_open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window, "Open a job", str(Path.home()), FILTER)
        if name:
            self.window.open_path(name)

    def file_demo(self) -> None:
        if self.window.may_close():
            self.window.open_demo()

    def file_bungalow(self) -> None:
        if self.window.may_close():
            self.window.open_demo("bungalow")

    def file_narrow(self) -> None:
        if self.window.may_close():
            self.window.open_demo("narrow")

    def file_recover(self) -> None:
        self.window.refresh_lost()
        if self.window.lost:
            self.window.recover(self.window.lost[0])
        else:
            self.window.status.say("Nothing to recover")

    def file_save(self) -> None:
        self.window.save()

    def file_save_as(self) -> None:
        self.window.save(ask=True)

    def file_close(self) -> None:
        if self.window.may_close():
            self.window.document.close_job()
            self.window.refresh_lost()
            self.window.refresh()

    def file_pdf(self) -> None:
        self._write("Write the PDF set", "pdf", self.write_pdf)

    def loads_report(self) -> None:
        self._write("Write the load report", "pdf", self.write_load_report)

    def file_xlsx(self) -> None:
        self._write(
            "Write the schedules", "xlsx", lambda p: write_xlsx(self._schedules(), p, self.window.prefs.units)
        )

    def file_csv(self) -> None:
        name = QFileDialog.getExistingDirectory(self.window, "Folder for the schedules", str(Path.home()))
        if name:
            try:
                write_csv(self._schedules(), Path(name), self.window.prefs.units)
                self.window.status.tell(f"Wrote the schedules to {name}")
            except OSError as exc:
                self.window.status.say(f"Can't write to {name}: {exc.strerror}")

    def _schedules(self) -> tuple[Schedule, ...]:
        assert self.view is not None
        return all_schedules(self.view.r, self.view.v, self.window.prefs.units)

    def write_pdf(self, path: Path) -> None:
        from murvan.documents.pdf import write_pdf

        assert self.view is not None
        write_pdf(self.view.r, self.view.v, path, self.window.prefs.units)

    def write_load_report(self, path: Path) -> None:
        from murvan.documents.load_report import write_load_report

        assert self.view is not None
        write_load_report(self.view.r, path, self.window.prefs.units)

    def _write(self, title: str, suffix: str, write: Callable[[Path], object]) -> None:
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
        try:
            write_atomic(path, write)
            self.window.status.tell(f"Wrote {path}")
        except OSError as exc:
            self.window.status.say(f"Can't write {path}: {exc.strerror}")

    def file_quit(self) -> None:
        self.window.close()

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

    def run(self, command_id: str) -> None:
        """Carry out a command."""
        area, _, what = command_id.partition(".")
        if area == "go":
            self.window.go(int(what))
        elif area == "tool":
            self.take_tool(what)
        else:
            self.commands[command_id]()

    def take_tool(self, tool: str) -> None:
        """Take a tool of the plan in hand; the storey must exist to draw on."""
        plan = self.window.plan
        plan.clear_tape()
        if tool == "join" and plan.sheet.selected_room is None:
            self.window.status.say("Select a room first, then J and the room to join to it")
            return
        if tool in SURVEY_TOOLS:
            self.window.station.lens_index = 3
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

    def design_list(self) -> None:
        sheet, job = self.window.designs, self.window.document.job
        if sheet.isVisible():
            sheet.close_sheet()
        elif job is not None:
            self.window.punch.hide()
            self.window.keys.hide()
            sheet.show_designs(job)
            sheet.open_sheet()

    def design_picked(self, design_id: str) -> None:
        """A click in the rail: an option is taken up; the design worked on opens the list."""
        job = self.window.document.job
        if job is None:
            return
        if design_id and design_id != job.design.id:
            self.design_do("take_up", design_id, "")
        else:
            self.design_list()

    def design_aside(self) -> None:
        job = self.window.document.job
        if job is not None:
            self.design_do("aside", job.design.id, "")

    def design_do(self, what: str, design_id: str, name: str) -> None:
        """Carry out what the list of designs asks for, as one undo step."""
        job = self.window.document.job
        one = next((x for x in (job.design, *job.options) if x.id == design_id), None) if job is not None else None
        if job is None or one is None:
            return
        free = free_name(job, one.name)
        edits: dict[str, tuple[str, Callable[[Job], Job]]] = {
            "aside": (f"Set {one.name} aside as {free}", lambda j: set_aside(j, free)),
            "take_up": (f"Take up {one.name}", lambda j: take_up(j, design_id)),
            "duplicate": (f"Duplicate {one.name}", lambda j: duplicate_option(j, design_id, free)),
            "delete": (f"Delete {one.name}", lambda j: delete_option(j, design_id)),
            "rename": (f"Rename {one.name}", lambda j: rename_option(j, design_id, name=name)),
            "note": (f"Note on {one.name}", lambda j: rename_option(j, design_id, note=name)),
        }
        title, edit = edits[what]
        if self.window.edit(title[:80], edit):
            self.window.status.tell(title)

    def view_unit(self) -> None:
        view = self.view
        if view is not None:
            ids = [x.id for x in view.job.design.indoor_units]
            self.window.set_unit(ids[(ids.index(view.indoor.id) + 1) % len(ids)])

    def show_keys(self) -> None:
        if self.window.keys.isVisible():
            self.window.keys.close_sheet()
        else:
            self.window.punch.hide()
            self.window.keys.open_sheet()

    def show_find(self) -> None:
        self.window.find_box.open_box(self.window.prefs.theme)

    # ---- the loads ----

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

    # ---- the house ----

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
            self.window._leave_sheets()
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

    def _read_text(self, name: str) -> str | None:
        try:
            return Path(name).read_text("utf-8")
        except (OSError, UnicodeDecodeError):
            self.window.status.say(f"Can't read {Path(name).name} as text")
            return None

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
            self.take_tool("scale")
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

    def equipment_pick(self) -> None:
        view, station = self.view, self.window.station
        shown = station.shown_unit(view) if view is not None and isinstance(station, EquipmentStation) else None
        if view is not None and shown is not None:
            own = view.indoor.id
            self.window.edit(f"Pick the {shown.unit.name}", lambda job: pick_unit(job, own, shown.unit.id))

    def ducts_size_all(self) -> None:
        view = self.view
        if view is not None:
            self.window.edit("Size all runs", lambda job: size_and_balance(solve(job, view.r)))

    def ducts_balance(self) -> None:
        view = self.view
        if view is not None:
            self.window.edit("Balance the dampers", lambda job: ducts.balance_dampers(job, view.r.runs))

    def build_hang(self) -> None:
        view, station = self.view, self.window.station
        if view is not None and isinstance(station, BuildStation):
            piece = station._piece(view)
            if piece is not None:
                day = datetime.now().strftime("%a")
                self.window.document.select("piece", piece.id)
                self.window.edit(
                    f"{'Take down' if piece.hung else 'Hang'} {piece.what.lower()}",
                    lambda job: toggle(job, piece, day),
                )

    def build_next(self) -> None:
        if self.view is not None:
            left = [p for p in self.view.r.cuts.to_hang if not p.hung]
            if left:
                here = next((p for p in left if p.id != self.view.selected("piece")), left[0])
                self.window.select("piece", here.id)
            else:
                self.window.status.say("Everything is hung")

    def _may_invent(self, view: View) -> bool:
        """Whether readings may be invented: asked once a job, by the key pressed twice."""
        job = view.job
        if any(r.simulated for r in job.design.readings) or self._asked == (job.name, job.number):
            return True
        self._asked = (job.name, job.number)
        self.window.status.say(
            "This would invent a reading of a virtual house, marked simulated everywhere. Press again to do it."
        )
        return False

    def _simulate(self, x: RegisterVerdict) -> None:
        view = self.view
        if view is None or not self.window.document.settled or not self._may_invent(view):
            return
        try:
            if self._virtual is None or self._virtual.results.network is not view.r.network:
                self._virtual = virtual_house(view)
            place = register_place(x.register, x.tag)
            reading = self._virtual.take(place, next_id(view.job), datetime.now().strftime("%a %H:%M"))
        except (ValueError, KeyError):
            self.window.status.say("The virtual house needs a unit, a supply and a return")
            return
        self.window.edit(f"Simulated reading of {x.register}", lambda job: insert(job, "readings", reading))

    def readings_next(self) -> None:
        if self.view is None:
            return
        left = next_to_read(self.view)
        if left:
            self.window.select("register", left[0].register)
            self._simulate(left[0])
        else:
            self.readings_simulate()

    def readings_simulate(self) -> None:
        x = chosen_register(self.view) if self.view else None
        if x is not None:
            self._simulate(x)

    def readings_forget(self) -> None:
        x = chosen_register(self.view) if self.view else None
        if x is None or x.reading is None:
            self.window.status.say("There is no reading here to forget")
            return
        last = x.reading.id
        self.window.edit(
            f"Forget reading of {x.register}",
            lambda job: with_design(job, readings=tuple(r for r in job.design.readings if r.id != last)),
        )

    def readings_import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window, "Import readings", str(Path.home()), "CSV (*.csv *.txt)")
        if name:
            self.import_readings(name)

    def import_readings(self, name: str) -> bool:
        """Readings from a CSV file as one undo step; all or none."""
        text = self._read_text(name)
        job = self.window.document.job
        if text is None or job is None:
            return False
        try:
            readings = import_csv(job, text, self.window.prefs.units)
        except JobError as exc:
            self.window.status.say(f"{Path(name).name}: {exc}")
            return False
        done = self.window.edit(f"Import {len(readings)} readings", lambda job: insert(job, "readings", *readings))
        if done:
            self.window.status.tell(f"Took {len(readings)} readings from {Path(name).name}")
        return done


def virtual_house(view: View) -> VirtualHouse:
    """A virtual installed house with one seeded fault: a kinked flex."""
    place = _fault_place(view.r)
    faults = (Fault("kinked_flex", place, 3.0),) if place else ()
    return VirtualHouse(view.r, faults, seed=42)


def _fault_place(r: Results) -> str:
    """The flex run that is hardest to lay: tightest under the roof, then the longest; '' without flex."""
    flex = [x for x in r.runs.values() if x.run.material == "flex" and x.ends_in and x.run.side == "supply"]
    return min(flex, key=lambda x: (x.run.under_roof_m or 9.0, -x.length_m)).run.id if flex else ""
