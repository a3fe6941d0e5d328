"""The window: arranges the parts, shows the station of the moment, runs commands."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QKeyEvent
from PyQt6.QtWidgets import QLineEdit

from murvan.app.actions import Actions
from murvan.app.commands import BY_ID, EVERYWHERE
from murvan.app.desk import Desk
from murvan.app.guard import guard
from murvan.app.keyboard import Keyboard
from murvan.app.overlays import findable
from murvan.app.plan.gestures.base import Stroke
from murvan.app.plan.lens import Lens
from murvan.app.prefs import Prefs
from murvan.app.stations import start
from murvan.app.stations.base import Field_, Headline, Station, Tool, View, room_of
from murvan.app.stations.line import line
from murvan.design import Finding
from murvan.design.drawing import Drawn
from murvan.design.weather import PARSERS
from murvan.model import Job, JobError
from murvan.units import said

NAMED = ("Note what is there",)
"""Strokes after which the card's name field is in hand, as after a new room."""
WEATHER = tuple(PARSERS)
PLANS = (".csv", ".dxf", ".png", ".jpg", ".jpeg", ".pdf")
DROPS = (".murvan", ".json", *PLANS, *WEATHER)


class MainWindow(Desk):
    """One job, eight stations."""

    def __init__(self, prefs: Prefs | None = None) -> None:
        own = prefs or Prefs()
        super().__init__(own, line(), start.draft_job(own.company))
        self._hour_known = False
        """Whether the hour is one of this job: it opens at the house's peak."""
        self.doing = Actions(self)
        self._live_rest = QTimer(self)
        self._live_rest.setSingleShot(True)
        self._live_rest.setInterval(90)
        self._live_rest.timeout.connect(self._rested)
        self._focus_next = self._storey_next = ""
        self._shown: tuple[object, ...] | None = None
        self._shown_parts: tuple[object, ...] = ()
        self.setAcceptDrops(True)
        self._wire()
        self.keyboard = Keyboard(self)
        self.document.changed.connect(self.refresh)
        self.document.selected.connect(self.refresh)
        self.document.message.connect(self.status.say)
        self.document.refused.connect(self.say_refusal)
        self.prefs.changed.connect(self._prefs_changed)
        self.document.opened.connect(self._other_job)
        for station in self.stations:
            station.attach(self.refresh, self.document.opened)
        self.doing.files.refresh_lost()
        self._prefs_changed()

    # ---- parts ----

    def _wire(self) -> None:
        """What the parts ask for."""
        centre = self.centralWidget()
        assert centre is not None
        self.jobline.names = [s.name for s in self.stations]
        self.card.apply = self.apply_field
        self.trouble.closed.connect(self.plan.setFocus)
        guard().told.connect(self._tell_trouble)
        document = self.document
        guard().busy = lambda: not document.settled
        self.pace.keep = lambda name, edit: self.keep_stroke(Stroke(name, edit), naming=False)
        self.pace.says = self.status.say
        for key in ("arrange", "import", "export"):
            self.pace.buttons_by_key[key].clicked.connect(lambda _=False, k=key: self.command(f"house.pace_{k}"))
        self.pace.closed.connect(self.plan.setFocus)
        for key in ("keep", "restart", "forget", "import", "export"):
            self.own_unit.buttons_by_key[key].clicked.connect(
                lambda _=False, k=key: self.command(f"equipment.own_{k}")
            )
        self.own_unit.closed.connect(centre.setFocus)
        offering = self.doing.offering
        self.offers.take.connect(offering.take)
        self.offers.keep.connect(offering.keep)
        self.offers.closed.connect(offering.closed)
        laying = self.doing.laying
        self.layouts.take.connect(laying.take)
        self.layouts.keep.connect(laying.keep)
        self.layouts.closed.connect(laying.closed)
        self.asking.closed.connect(centre.setFocus)
        self.find_box.source = lambda: findable(self.document.job)
        self.jobline.picked.connect(self.go)
        self.jobline.menu_wanted.connect(lambda: self.jobline.open_menu(self.document.job is not None, self.command))
        self.tools.picked.connect(self.command)
        self.rail.storey_picked.connect(self.set_storey)
        self.rail.lens_picked.connect(self.set_lens)
        self.rail.unit_picked.connect(self.set_unit)
        self.rail.design_picked.connect(self.doing.systems.design_picked)
        self.designs.wanted.connect(self.doing.systems.design_do)
        self.designs.closed.connect(centre.setFocus)
        self.plan.picked.connect(self.pick_plan)
        self.plan.sheet.latest = lambda: self.document.job
        self.plan.hand.keep = self.keep_stroke
        self.plan.hand.live.connect(self.document.try_out)
        self.plan.hand.says.connect(self.status.hint)
        self.plan.scaled.connect(self.rail.take_scale)
        self.plan.measured.connect(lambda s: self.status.tell(f"Measured {s}"))
        self.ledger.picked.connect(self.pick_row)
        self.ledger.dropped.connect(self.doing.systems.row_dropped)
        self.ledger.storey_wanted.connect(self.set_storey)
        self.card.picked.connect(self.pick_row)
        self.card.refused.connect(self.status.say)
        self.status.punch_wanted.connect(lambda: self.command("show.punch"))
        self.status.worst_wanted.connect(self._go_worst)
        self.status.keys_wanted.connect(lambda: self.command("show.keys"))
        self.status.undo_wanted.connect(lambda: self.command("edit.undo"))
        self.status.units_wanted.connect(lambda u: self.prefs.set(units=u))
        self.punch.goto.connect(self.go_finding)
        self.punch.fix.connect(self.fix_finding)
        self.punch.closed.connect(centre.setFocus)
        self.keys.closed.connect(centre.setFocus)
        self.guide.closed.connect(centre.setFocus)
        self.find_box.chosen.connect(self._found)

    def keyPressEvent(self, e: QKeyEvent | None) -> None:
        """A digit that is no station's key starts a reading too; Esc drops a search under way."""
        if (
            e is not None
            and e.key() == Qt.Key.Key_Escape
            and (self.page.let_be() or self.doing.laying.stop() or self.doing.beside.stop())
        ):
            return
        if e is not None and e.text() in ("0", "9", "-") and self.keyboard.type_reading(e.text()):
            return
        super().keyPressEvent(e)

    # ---- showing ----

    def view(self) -> View | None:
        """What stations see; None without a job or before its first figures."""
        figures = self.document.figures
        if figures is None or self.document.job is None:
            return None
        job = figures.results.job
        if not self._hour_known and job.rooms:
            self.hour, self._hour_known = int(figures.results.loads.house.hour), True
        if self._storey_next in {s.id for s in job.storeys}:
            self.storey, self._storey_next = self._storey_next, ""
        if self.storey not in {s.id for s in job.storeys}:
            self.storey = job.storeys[0].id if job.storeys else ""
        return View(
            job,
            figures,
            self.document.selection,
            self.storey,
            self.hour,
            self.prefs.units,
            self.prefs.theme,
            self,
            self.document.stale,
            self.unit,
            self.station.lens_name,
            self.doing.training.lesson(),
        )

    def refresh(self) -> None:
        """Show the present state everywhere; only the status line when nothing but the job's edits moved."""
        self._view = view = self.view()
        shown = self._signature(view)
        kept = (view.figures, *(s.made() for s in self.stations)) if view is not None else ()
        same = bool(kept) and [id(x) for x in kept] == [id(x) for x in self._shown_parts]
        if same and shown is not None and shown == self._shown:
            self._show_status(view)
            return
        if view is not None and self.document.trying and self.plan.hand.busy and self._shown is not None:
            self._show_live(view)
            return
        self._shown, self._shown_parts = shown, kept
        if self.document.job is None:
            self._show_start()
        elif view is not None:
            self._show_station(view)
        else:
            self._show_waiting()
        self._show_status(view)
        self.fit_ledger()

    def _show_live(self, view: View) -> None:
        """While a stroke moves: the job line at once, everything else when the hand rests."""
        headlines = [self._headline(s, view) for s in self.stations]
        self._jobline(view, headlines)
        self._live_rest.start()

    def _rested(self) -> None:
        self._shown = None
        view = self.view()
        if view is not None:
            self._show_station(view)

    def _jobline(self, view: View, headlines: list[Headline]) -> None:
        job = view.job
        subtitle = " · ".join(x for x in (job.town, f"job {job.number}" if job.number else "") if x)
        self.jobline.digits_type = bool(self.station.row_fields)
        self.jobline.show_line(job.name, subtitle, headlines, self.station_number, self._reached(view), view.stale)

    def _signature(self, view: View | None) -> tuple[object, ...] | None:
        """What the parts of the window depend on; None when there is no job to show."""
        if view is None or self.document.job is None:
            return None
        station = self.station
        return (
            view.selection,
            view.storey,
            view.indoor.id,
            view.lesson,
            view.hour,
            view.units,
            view.theme.dark,
            self.prefs.glove,
            view.stale,
            self.station_number,
            station.lens_index,
            station.shown(),
            self.plan.tool,
            self.size(),
        )

    def _show_station(self, view: View) -> None:
        station = self.station
        self._jobline(view, [self._headline(s, view) for s in self.stations])
        missing = station.missing(view)
        self._ensure_selection(view)
        view = self.view() or view
        self._view = view
        self.tools.tools = self._tools()
        self.tools.active = f"tool.{self.plan.tool}"
        self.tools.refresh()
        if missing:
            self._show_missing(view, missing)
            return
        self.document.want(station.wants)
        canvas = station.canvas(view)
        lens = station.lens(view)
        self.show_canvas(canvas is None, len(station.lenses) > 1 or self._to_pick(view))
        self._show_rail(view, lens)
        self.page.canvas = canvas
        self.page.update()
        if canvas is None:
            self._show_plan(view, lens)
        self.ledger.stale = self.card.stale = view.stale
        ledger = station.ledger(view)
        self.ledger.show_ledger(ledger, self._row_key(view, [r.key for r in ledger.rows]))
        self.card.show_card(station.card(view))
        self._focus_field()

    def _show_plan(self, view: View, lens: Lens) -> None:
        self.plan.show_job(view.job, view.r, view.storey, lens, view.selection, room_of(view))
        self.strip.strip, self.strip.stale = self.station.strip(view), view.stale
        self.strip.update()

    def _headline(self, station: Station, view: View) -> Headline:
        missing = station.missing(view)
        if missing:
            return Headline("none", "–", "", missing.partition(":")[0].removeprefix(station.name).strip())
        return station.headline(view)

    def _show_missing(self, view: View, missing: str) -> None:
        """A later station opened early: the plan, and the one thing that is missing."""
        early = self.station.lenses_early
        lens = Lens(self.station.lenses[self.station.lens_index] if early else "", dimensions=False, note=(missing,))
        self.show_canvas(True)
        self._show_rail(view, lens)
        self.plan.show_job(view.job, view.r, view.storey, lens, view.selection, None)
        self.strip.strip = None
        self.strip.update()
        self.ledger.show_ledger(None, None)
        self.card.show_card(self.station.missing_card(view, missing))

    def _to_pick(self, view: View) -> bool:
        """Whether the rail has units or designs to pick from at a station that shows a page."""
        units, designs = self._lists(view)
        return len(units) > 1 or len(designs) > 1

    def _lists(self, view: View) -> tuple[tuple[tuple[str, str], ...], tuple[tuple[str, str], ...]]:
        """Units and designs for the rail, by id and name; none where the station picks none."""
        design, options, station = view.job.design, view.job.options, self.station
        several = len(design.indoor_units) > 1 and station.picks_units
        units = tuple((x.id, x.tag) for x in design.indoor_units) if several else ()
        listed = station.picks_designs == "always" or (station.picks_designs == "several" and bool(options))
        return units, tuple((x.id, x.name) for x in (design, *options)) if listed else ()

    def set_unit(self, unit: str) -> None:
        """Take another indoor unit in hand."""
        self.unit = unit
        if self.document.selection is not None and self.document.selection.kind == "unit":
            self.document.selection = None
        self.refresh()

    def _show_rail(self, view: View, lens: Lens) -> None:
        rail = self.rail
        rail.storeys = [(s.id, s.name, lens.storey_figures.get(s.id, "–")) for s in reversed(view.job.storeys)]
        rail.storey, rail.lens, rail.lenses, rail.lens_index = (
            view.storey,
            lens,
            self.station.lenses if lens.name else (),
            self.station.lens_index,
        )
        rail.units, rail.designs = self._lists(view)
        rail.unit = view.indoor.id
        rail.north_deg, rail.si = view.job.site.north_deg, view.units == "si"
        rail.refresh()

    def _show_waiting(self) -> None:
        empty = [Headline("none", "–", "", "") for _ in self.stations]
        name = self.document.job.name if self.document.job else ""
        self.jobline.show_line(name, "", empty, self.station_number, 0, False)

    def _show_start(self) -> None:
        self.jobline.show_line("No job open", "plan to measured verdict", start.headlines(), 0, 0, False)
        self.tools.tools = ()
        self.tools.refresh()
        self.show_canvas(False)
        self.page.canvas = start.canvas(self.prefs.theme, self.prefs.units == "si", self.command)
        self.page.update()
        self.ledger.stale = self.card.stale = False
        self.ledger.show_ledger(start.ledger(self.prefs, self.doing.files.lost), None)
        self.card.show_card(start.card(self.draft, self.prefs, lambda: self.command("file.new"), self.command))

    def _show_status(self, view: View | None) -> None:
        self.status.show_state(view, self.document, self.prefs.units)
        job = self.document.job
        name = job.name if job else "no job"
        self.setWindowTitle(f"{name}{' *' if self.document.modified else ''} – Murvan")
        if self.designs.isVisible() and job is not None:
            self.designs.show_designs(job)
        if self.punch.isVisible() and view is not None:
            self.punch.show_findings(view.r.findings, view.units)
        if self.offers.isVisible():
            self.doing.offering.follow(job)
        if self.pace.isVisible() and job is not None:
            self.pace.show_job(job, self.storey, self.prefs.units)

    def _reached(self, view: View) -> int:
        """How far the job has got: the trunk is solid up to there."""
        return next((k for k, s in enumerate(self.stations) if not s.reached(view)), len(self.stations))

    def _row_key(self, view: View, keys: list[tuple[str, str] | None]) -> tuple[str, str] | None:
        s = view.selection
        if s is None:
            return None
        if (s.kind, s.id) in keys or s.kind == "house":
            return (s.kind, s.id)
        room = s.id.partition(":")[0] if s.kind == "component" else room_of(view)
        return ("room", room) if room else None

    def _ensure_selection(self, view: View) -> None:
        """Select what the station starts with when the selection means nothing there."""
        s = view.selection
        if s is not None and not self.document.settled:
            return  # what a stroke has just made is not in the figures yet
        fits = s is not None and (room_of(view) is not None or s.kind in ("component", "run", "hole", "plenum"))
        if self.station.kinds:
            fits = s is not None and s.kind in self.station.kinds
        fits = fits or (s is not None and self.station.knows(view, s.kind, s.id))
        if not fits:
            chosen = self.station.default_selection(view)
            if chosen:
                self.document.blockSignals(True)
                self.document.select(*chosen)
                self.document.blockSignals(False)

    def _tools(self) -> tuple[Tool, ...]:
        out = [Tool("tool.select", "select", "V", "Select  V"), Tool("tool.measure", "measure", "M", "Measure  M")]
        for command_id, picture in (*self.station.own_tools, *EVERYWHERE):
            c = BY_ID[command_id]
            key = c.keys[0]
            out.append(Tool(command_id, picture, _short(key), f"{c.name}  {key}"))
        return tuple(out)

    def _prefs_changed(self) -> None:
        self.apply_look()
        self.refresh()

    def _tell_trouble(self, line: str, report: str) -> None:
        """After an exception: put the job aside, say so, go on."""
        if not self.isVisible():
            return
        self.plan.hand.drop()
        kept = self.document.autosave()
        said = f"Your job is kept: it was put aside at {kept}." if kept else "Your job is as it was last saved."
        self.trouble.tell(line, report, said)

    # ---- what the user does ----

    def go(self, station: int) -> None:
        """Open a station; the selection stays where it means something there."""
        if self.document.job is None:
            return
        self.keyboard.leave_field()
        self.station_number = station
        self.leave_sheets()
        self.plan.clear_tape()
        if self.plan.tool != "measure":
            self.plan.tool = "select"
        view = self.view()
        if view is not None and not self.station.keeps(view):
            self.document.selection = None
        view = self.view()
        if view is not None:
            before = self.document.selection
            self._ensure_selection(view)
            if self.document.selection is not before:
                self._follow_selection()
        self.refresh()

    def leave_sheets(self) -> None:
        """Hide what lies over the plan and take the keys back, so that letters don't land in a field."""
        self.punch.hide()
        self.designs.hide()
        self.keys.hide()
        self.guide.hide()
        self.pace.hide()
        self.own_unit.hide()
        self.offers.hide()
        self.layouts.hide()
        self.asking.hide()
        self.centralWidget().setFocus()  # type: ignore[union-attr]

    def select(self, kind: str, item_id: str) -> None:
        self.document.select(kind, item_id)
        self._follow_selection()
        self.refresh()

    def go_on(self) -> None:
        """From a field of the table's rows to the next that is to be filled."""
        view, job = self._view, self.document.job
        onto = self.station.onward(view, job) if view is not None and job is not None else None
        if onto is not None:
            self.select(*onto)

    def pick_plan(self, kind: str, item_id: str) -> None:
        """A click on the plan; a call goes the other way, as in the table."""
        view = self.view()
        if view is not None:
            kind, item_id = self.station.clicked(view, kind, item_id)
        if kind == "call":
            self.pick_row(kind, item_id)
        else:
            self.select(kind, item_id)

    def pick_row(self, kind: str, item_id: str) -> None:
        """A click in the ledger or the card; on the start page it opens."""
        if kind == "recent":
            self.doing.files.open_path(item_id)
        elif kind == "recover":
            found = next((x for x in self.doing.files.lost if str(x.file) == item_id), None)
            if found:
                self.doing.files.recover(found)
        elif kind == "command":
            self.command(item_id)
        elif kind == "call":
            self.select(kind, item_id)
            self.command("air.call")
        elif kind == "finding":
            rule, _, where = item_id.partition(":")
            view = self._view
            found_f = next(
                (f for f in (view.r.findings if view else ()) if f.rule.id == rule and f.hit.at.id == where), None
            )
            if found_f:
                self.go_finding(found_f)
        elif kind in self.station.leads_to:
            self.document.select(kind, item_id)
            self._follow_selection()
            self.go(self.number_of(self.station.leads_to[kind]))
        else:
            self.select(kind, item_id)

    def _follow_selection(self) -> None:
        """Show the storey of what is selected, and take its unit in hand."""
        job, s = self.document.job, self.document.selection
        if job is None or s is None:
            return
        owners = {
            "run": {x.id: x.indoor for x in job.design.runs},
            "register": {x.id: x.indoor for x in job.design.registers},
            "indoor_unit": {x.id: x.id for x in job.design.indoor_units},
            "outdoor_unit": {str(x.outdoor): x.id for x in reversed(job.design.indoor_units)},
        }
        self.unit = owners.get(s.kind, {}).get(s.id, self.unit)
        storey = None
        if s.kind == "run":
            storey = next((r.storey for r in job.design.runs if r.id == s.id), None)
        elif s.kind == "indoor_unit":
            storey = next((x.storey for x in job.design.indoor_units if x.id == s.id), None)
        elif s.kind == "piece" and self._view is not None:
            storey = next((p.storey for p in self._view.r.cuts.pieces if p.id == s.id), None)
        else:
            view = self.view()
            room = room_of(view) if view else None
            storey = next((r.storey for r in job.rooms if r.id == room), None)
        if storey and storey in {x.id for x in job.storeys}:
            self.storey = storey

    def set_storey(self, storey: str) -> None:
        self.storey = storey
        view = self.view()
        if view is not None:
            room = room_of(view)
            at = next((r.storey for r in view.job.rooms if r.id == room), None)
            if at is not None and at != storey:
                first = next((r.id for r in view.job.rooms if r.storey == storey), None)
                if first:
                    self.document.select("room", first)
        self.refresh()

    def show_storey_next(self, storey: str) -> None:
        """Show a storey as soon as the figures know it."""
        self._storey_next = storey
        self.refresh()

    def set_lens(self, index: int) -> None:
        self.station.lens_index = index
        self.refresh()

    def set_hour(self, hour: int) -> None:
        """Plan and strip at once, the rest when the hand rests: the hour is scrubbed."""
        self.hour, self._hour_known = (hour - 1) % 24 + 1, True
        view = self.view()
        if view is None or self._shown is None or not self.plan.isVisible() or self.station.missing(view):
            self.refresh()
            return
        self._view = view
        self._show_plan(view, self.station.lens(view))
        self._live_rest.start()

    @property
    def resting(self) -> bool:
        """Whether parts of the window still show what was before a quick move."""
        return (
            self._live_rest.isActive()
            or any(x.searcher.busy for x in (self.doing.laying, self.doing.beside, self.doing.papers))
            or any(x.busy for s in self.stations for x in s.laters)
        )

    def keep_stroke(self, stroke: Stroke, naming: bool = True) -> bool:
        """Keep a stroke of the plan as one step, select what it made, and go on naming a new room."""
        drawn: list[Drawn] = []

        def change(job: Job) -> Job:
            drawn.append(stroke.edit(job))
            return drawn[-1].job

        was = self.document.job
        made = {r.id for r in was.rooms} | {s.id for s in was.spaces} if was else set()
        if not self.edit(stroke.name, change) or not drawn:
            return False
        done = drawn[-1]
        self.document.select(done.kind, done.id)
        if done.kind == "indoor_unit":
            self.unit = done.id
        if done.say:
            QTimer.singleShot(0, lambda: self.status.tell(done.say))
        if naming and ((done.kind in ("room", "space") and done.id not in made) or stroke.name in NAMED):
            self._focus_next = f"{done.id}.name"
        self.refresh()
        return True

    def _focus_field(self) -> None:
        """Go on in the field that was asked for, once the card shows it."""
        field = self.card.field(self._focus_next) if self._focus_next else None
        if field is not None:
            self._focus_next = ""
            field.setFocus(Qt.FocusReason.ShortcutFocusReason)
            if isinstance(field, QLineEdit):
                field.selectAll()

    def say(self, words: str) -> None:
        """What a station has to say."""
        self.status.say(words)

    def _other_job(self) -> None:
        self._hour_known = False

    def say_refusal(self, trouble: Exception) -> None:
        self.status.say(said(trouble, self.prefs.units))

    def leave_field(self) -> bool:
        return self.keyboard.leave_field()

    def edit(self, name: str, change: Callable[[Job], Job]) -> bool:
        done = self.document.edit(name, change)
        if done:
            self.status.settle()
        return done

    def apply_field(self, f: Field_, value: float | str) -> bool:
        """A field of the card was changed."""
        if f.pick is not None:
            f.pick(value)
            return True
        if f.apply is None:
            return False
        apply = f.apply
        if self.document.job is None:
            try:
                self.draft = apply(self.draft, value)
            except JobError as exc:
                self.say_refusal(exc)
                return False
            QTimer.singleShot(0, self.refresh)
            return True
        done = self.edit(f.name or f"Change {f.label.lower()}", lambda job: apply(job, value))
        if done and f.key == "sheet.company":
            self.prefs.set(company=str(value))  # typed once, it stands in the next job too
        return done

    def go_finding(self, f: Finding) -> None:
        """Go to where a finding is."""
        self.leave_sheets()
        if f.hit.at.kind in ("room", "run", "register", "opening", "plenum", "house", "space", "keep"):
            self.document.select(f.hit.at.kind, f.hit.at.id)
            self._follow_selection()
        elif f.hit.at.kind == "storey":
            self.set_storey(f.hit.at.id)
        elif f.hit.at.kind == "indoor_unit" and self.document.job is not None:
            unit = next((x for x in self.document.job.design.indoor_units if x.id == f.hit.at.id), None)
            if unit is not None:
                self.unit = unit.id
                if unit.unit is not None:
                    self.document.select("unit", unit.unit)
        self.go(f.rule.station)

    def fix_finding(self, f: Finding) -> None:
        if f.hit.fix is not None:
            self.edit(f.fix_text(self.prefs.units), f.hit.fix)

    def _go_worst(self) -> None:
        view = self._view
        if view is None:
            return
        findings = view.r.findings
        if findings and (findings[0].severity == "fails" or view.v.worst is None):
            self.go_finding(findings[0])
        elif view.v.worst is not None:
            self.select("register", view.v.worst.register)
            self.go(self.number_of("readings"))

    def _found(self, kind: str, item_id: str) -> None:
        self.plan.setFocus()
        if kind == "command":
            self.command(item_id)
            return
        elsewhere = self.station.elsewhere
        if elsewhere:
            self.station_number = self.number_of(elsewhere.get(kind, elsewhere[""]))
        self.select(kind, item_id)

    # ---- commands ----

    def command(self, command_id: str) -> None:
        """Run a command by its id, if it can run now."""
        c = BY_ID[command_id]
        if c.when != "always" and self.document.job is None:
            return
        if c.station and c.station != self.station.key:
            return
        if c.group == "Job":
            self.keyboard.leave_field()
        if c.group != "View":
            self.plan.hand.drop()
        self.doing.run(command_id)

    # ---- files ----

    def dragEnterEvent(self, e: QDragEnterEvent | None) -> None:
        data = e.mimeData() if e is not None else None
        if e is not None and data is not None and any(u.toLocalFile().lower().endswith(DROPS) for u in data.urls()):
            e.acceptProposedAction()

    def dropEvent(self, e: QDropEvent | None) -> None:
        data = e.mimeData() if e is not None else None
        if data is None:
            return
        for url in data.urls():
            name = url.toLocalFile()
            if name.lower().endswith(".csv") and self.station.row_fields:
                self.doing.readings.import_readings(name)
            elif name.lower().endswith(WEATHER) and self.document.job is not None:
                self.go(self.number_of("loads"))
                self.doing.house.take_weather(name)
            elif name.lower().endswith(PLANS) and self.document.job is not None:
                self.go(self.number_of("house"))
                self.doing.house.take_plan(name)
            elif name.lower().endswith((".murvan", ".json")):
                self.doing.files.open_path(name)
            return

    def closeEvent(self, e: QCloseEvent | None) -> None:
        if e is None:
            return
        if not self.doing.files.may_close():
            e.ignore()
            return
        self.document._drop_autosave()
        self.hide()  # what still runs is waited for out of sight
        for part in (self.doing.offering, self.doing.laying, self.doing.papers, self.doing.beside):
            part.searcher.end()
        for station in self.stations:
            for x in station.laters:
                x.searcher.end()
        self.document.shut_down()
        e.accept()


def _short(key: str) -> str:
    """A key as it goes on a button: '⇧Z', '^0'."""
    return key if len(key) < 3 else f"{'⇧' if key.startswith('Shift+') else '^'}{key[-1]}"
