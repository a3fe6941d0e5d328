"""Designs, units, ducts and what is hung of them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import TYPE_CHECKING

from murvan.app.actions.working import Working
from murvan.app.plan.gestures.base import Stroke
from murvan.app.stations.air.station import ZONES, AirStation
from murvan.app.stations.build import BuildStation, toggle
from murvan.app.stations.ducts.station import SECTION, SPACE, DuctsStation
from murvan.app.stations.equipment.station import EquipmentStation
from murvan.catalog import CatalogError, keep_limits
from murvan.design import Results, lay, study
from murvan.design.drawing import Drawn
from murvan.design.ducts import PlenumDesign, placed_anew, sized_plenum
from murvan.design.units import best_spot, pick_unit, surroundings
from murvan.design.zones import next_plan, parted
from murvan.model import Job, remove
from murvan.model.design_edit import delete_option, duplicate_option, free_name, rename_option, set_aside, take_up
from murvan.model.unit_edit import add_unit, give_rooms, release_rooms, served_rooms, take_away_unit

if TYPE_CHECKING:
    pass

FILTER = "Murvan jobs (*.murvan *.json)"


def _left_out(_: Job, job: Job) -> str:
    """Registers that no run leads to, which were not sized or balanced."""
    left = study.unconnected(job)
    if not left:
        return ""
    more = f" and {len(left) - 4} more" if len(left) > 4 else ""
    return f"Without a run, so left out: {', '.join(x.tag for x in left[:4])}{more}"


LOOK_DEG = 30.0


class Systems(Working):
    """Designs, units, ducts and what is hung of them."""

    def commands(self) -> dict[str, Callable[[], object]]:
        return {
            "design.list": self.design_list,
            "design.aside": self.design_aside,
            "equipment.pick": self.equipment_pick,
            "equipment.ducted": self.equipment_ducted,
            "equipment.limits": self.equipment_limits,
            "equipment.serve": self.equipment_serve,
            "equipment.remove": self.equipment_remove,
            "air.lay": self.air_lay,
            "air.call": self.air_call,
            "air.calls_back": self.air_calls_back,
            "air.zone_plan": self.air_zone_plan,
            "air.copy": self.air_copy,
            "air.remove": self.air_remove,
            "ducts.turn": self.ducts_turn,
            "ducts.remove": self.ducts_remove,
            "ducts.size_all": self.ducts_size_all,
            "ducts.plenum_size": self.ducts_plenum_size,
            "ducts.plenum_place": self.ducts_plenum_place,
            "ducts.balance": self.ducts_balance,
            "ducts.cut": self.ducts_cut,
            "ducts.cut_back": lambda: self.ducts_cut_step(-1),
            "ducts.cut_on": lambda: self.ducts_cut_step(1),
            "ducts.look": self.ducts_look,
            "build.hang": self.build_hang,
            "build.next": self.build_next,
        }

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

    def equipment_pick(self) -> None:
        view, station = self.view, self.window.station
        shown = station.shown_unit(view) if view is not None and isinstance(station, EquipmentStation) else None
        if view is not None and shown is not None:
            own = view.indoor.id
            self.window.edit(f"Pick the {shown.unit.name}", lambda job: pick_unit(job, own, shown.unit.id))

    def equipment_ducted(self) -> None:
        """A ducted unit beside the others; it gets the room selected, if one is."""
        view = self.view
        if view is None or not view.job.rooms:
            return
        self._rooms_lens()
        room = next((r for r in view.job.rooms if r.id == view.selected("room")), None)
        first = room or next((r for r in view.job.rooms if r.storey == view.storey), view.job.rooms[0])
        made: list[str] = []

        def add(job: Job) -> Job:
            given = (room.id,) if room is not None else ()
            done, new = add_unit(
                job, "ducted", first.storey, best_spot(surroundings(job), first, "ducted"), given, ""
            )
            made.append(new)
            return done

        if self.window.edit("Another ducted unit", add):
            self.window.select("indoor_unit", made[-1])
            self.window.status.tell("Give it rooms: S, then press or drag over them")

    def equipment_limits(self) -> None:
        """The size limits of this job, kept on this machine for others."""
        job = self.window.document.job
        if job is None:
            return
        try:
            said = keep_limits(job.sizing)
        except CatalogError as exc:
            self.window.status.say(str(exc))
        except OSError as exc:
            self.window.status.say(f"Can't keep them: {exc.strerror or exc}")
        else:
            kept = f"{job.sizing.name} can be chosen in every job on this machine now"
            (self.window.status.say if said else self.window.status.tell)(f"{said}. {kept}" if said else kept)

    def equipment_serve(self) -> None:
        """The selected room goes to the next unit, and after the last one to none."""
        view = self.view
        room = view.selected("room") if view is not None else None
        if view is None or room is None:
            self.window.status.say("Select a room in the lens Rooms first")
            return
        units = view.job.design.indoor_units
        own = next((k for k, x in enumerate(units) if room in served_rooms(view.job, x)), -1)
        if own + 1 < len(units):
            to = units[own + 1].id
            self.window.edit("Give the room to the next unit", lambda job: give_rooms(job, to, (room,)))
        else:
            self.window.edit("Let the room go", lambda job: release_rooms(job, (room,)))

    def row_dropped(self, kind: str, item: str, on_kind: str, on: str) -> None:
        """A room of the table dragged onto another: it goes to the unit that serves that one."""
        view, station = self.view, self.window.station
        if view is None or not isinstance(station, EquipmentStation) or (kind, on_kind) != ("room", "room"):
            return
        unit = next((x for x in view.job.design.indoor_units if on in served_rooms(view.job, x)), None)
        if unit is None:
            self.window.edit("Let the room go", lambda job: release_rooms(job, (item,)))
        elif item not in served_rooms(view.job, unit):
            self.window.edit("Give the room to the unit", lambda job: give_rooms(job, unit.id, (item,)))

    def equipment_remove(self) -> None:
        view = self.view
        if view is not None:
            own = view.indoor
            if self.window.edit(f"Take {own.tag} away"[:80], lambda job: take_away_unit(job, own.id)):
                rest = "; its rooms have no unit now" if view.s.design.serves else ""
                self.window.status.tell(f"{own.tag} is taken away{rest}")

    def _rooms_lens(self) -> None:
        if isinstance(self.window.station, EquipmentStation):
            self.window.station.show_tool("head")

    def air_lay(self) -> None:
        """Registers for every room of the unit in hand that has none."""
        view = self.view
        if view is None:
            return
        unit = view.indoor.id

        def told(before: Job, after: Job) -> str:
            more = len(after.design.registers) - len(before.design.registers)
            return f"{more} registers and grilles laid" if more else "Every room has its register"

        self.beside.edit("Lay the registers", "Laying registers", lambda r: lay.lay_registers(r, unit), told)

    def air_call(self) -> None:
        """The call selected the other way: a door shut, a zone that does not call, a fan on."""
        view, station = self.view, self.window.station
        item = view.selected("call") if view is not None else None
        if not isinstance(station, AirStation):
            return
        if item is None:
            self.window.status.say("Select a call in the lens Calls first")
            return
        station.toggle(item)
        self.window.refresh()

    def air_calls_back(self) -> None:
        station = self.window.station
        if isinstance(station, AirStation):
            station.toggle("")
            self.window.refresh()

    def air_zone_plan(self) -> None:
        """The house parted the next way, the best first."""
        view, station = self.view, self.window.station
        if view is None or not isinstance(station, AirStation):
            return
        station.lens_index = ZONES
        said: list[str] = []

        def part(r: Results) -> Job:
            plan = next_plan(r)
            said.append(f"{plan.name}: {len(plan.zones)} zones, {plan.dampers} dampers")
            return parted(r.job, plan.parts, plan.thermostats)

        self.beside.edit("Part the house", "Parting the house", part, lambda *_: said[-1])
        self.window.refresh()

    def air_copy(self) -> None:
        """Another register like the one selected, beside it."""
        view = self.view
        item = view.selected("register") if view is not None else None
        if view is None or item is None:
            self.window.status.say("Select a register first")
            return
        made: list[str] = []

        def copy(job: Job) -> Job:
            drawn = lay.copy_register(job, item)
            made.append(drawn.id)
            return drawn.job

        if self.window.edit("Copy the register", copy):
            self.window.select("register", made[-1])

    def air_remove(self) -> None:
        view = self.view
        item = view.selected("register") if view is not None else None
        if view is None or item is None:
            self.window.status.say("Select a register first")
            return
        self.window.edit("Take the register away", lambda job: remove(job, "registers", item, with_dependents=True))

    def _stroke(self, name: str, edit: Callable[[Job], Drawn]) -> None:
        self.window.keep_stroke(Stroke(name, edit))

    def ducts_turn(self) -> None:
        """The ducted unit in hand a quarter on."""
        view = self.view
        if view is not None:
            unit = view.indoor.id
            self._stroke("Turn the unit", lambda job: lay.turned_unit(job, unit))

    def ducts_remove(self) -> None:
        """The run selected, or the run of the register selected, with what hangs on it; a soffit, chase, beam or pipe selected."""
        view = self.view
        if view is None:
            return
        place = view.selected("place")
        if place is not None:
            self.window.edit("Take the soffit or chase away", lambda job: remove(job, "places", place))
            return
        obstacle = view.selected("obstacle")
        if obstacle is not None:
            self.window.edit("Take the beam or pipe away", lambda job: remove(job, "obstacles", obstacle))
            return
        register = view.selected("register")
        own = (x.id for x in view.job.design.runs if register is not None and x.register_id == register)
        item = view.selected("run") or next(own, None)
        tag = next((x.tag for x in view.job.design.runs if x.id == item), None)
        if item is None or tag is None:
            self.window.status.say("Select a run first")
            return
        self._stroke(f"Take {tag} away"[:80], lambda job: lay.take_run_away(job, item))

    def ducts_size_all(self) -> None:
        view = self.view
        if view is not None:
            self.beside.edit("Size all runs", "Sizing all runs", lay.size_and_balance, _left_out)

    def ducts_balance(self) -> None:
        view = self.view
        if view is not None:
            self.beside.edit("Balance the dampers", "Balancing", study.balanced, _left_out)

    def _plenum(self) -> PlenumDesign | None:
        """The plenum in hand."""
        from murvan.app.stations.ducts.plenum import in_hand  # sheet metal: the window starts without it

        found = in_hand(self.view) if self.view is not None else None
        if found is None:
            self.window.status.say("No plenum yet: place the unit (U)")
        return found

    def ducts_plenum_size(self) -> None:
        x, view = self._plenum(), self.view
        if x is not None and view is not None:
            laid = view.r.laid
            self.window.edit(f"Size the {x.plenum.side} plenum", lambda job: sized_plenum(job, x, laid))

    def ducts_plenum_place(self) -> None:
        x = self._plenum()
        if x is not None:
            self.window.edit(f"Place take-offs of the {x.plenum.side} plenum", lambda job: placed_anew(job, x))

    def ducts_cut(self) -> None:
        """The section across the run in hand; across all where none is."""
        station, view = self.window.station, self.view
        if view is None or not isinstance(station, DuctsStation):
            return
        run = next((x for x in view.r.laid if x.id == view.selected("run")), None)
        if run is not None:
            station.cutting.across(view, run)
        self.window.set_lens(SECTION)

    def ducts_cut_step(self, by: int) -> None:
        station, view = self.window.station, self.view
        if view is not None and isinstance(station, DuctsStation) and station.lens_index == SECTION:
            station.cutting.step(view, by)
            self.window.refresh()

    def ducts_look(self) -> None:
        """The system in space; there already, from the next side."""
        station = self.window.station
        if isinstance(station, DuctsStation):
            if station.lens_index == SPACE:
                station.whole.turn_deg = (station.whole.turn_deg + LOOK_DEG) % 360
            self.window.set_lens(SPACE)

    def build_hang(self) -> None:
        view, station = self.view, self.window.station
        if view is not None and isinstance(station, BuildStation):
            piece = station.piece(view)
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
