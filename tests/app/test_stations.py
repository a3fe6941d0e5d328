"""Stations doing their work: punch list, build ticks, readings, handover, start page, files."""

import gc
import threading
import weakref
from pathlib import Path
from unittest import mock

from PyQt6.QtCore import QCoreApplication, QEvent, QPoint, Qt

from murvan.app.document import recoverable
from murvan.app.stations import start
from murvan.app.window import MainWindow
from murvan.design.punch.rules import RULES
from murvan.field import Built, Visit
from murvan.field.instruments import served
from murvan.field.places import places
from murvan.model import replace, save_job, with_design
from murvan.model.edit import changed
from tests.app.base import WindowTest
from tests.houses import CFM, box, demo

CTRL = Qt.KeyboardModifier.ControlModifier


class TestPunchList(WindowTest):
    def test_open_go_and_fix(self):
        self.key("!")
        punch = self.window.punch
        self.assertTrue(punch.isVisible())
        self.assertEqual(len(punch.findings), 7)
        self.app.processEvents()
        self.click(punch, punch.target("goto", 1).center() - QPoint(200, 0).toPointF())
        self.assertEqual(self.window.station_number, 5)
        self.assertEqual(self.window.document.selection.id, "B4")
        self.assertEqual(self.window.storey, "upper")
        self.key("!")
        self.app.processEvents()
        self.click(punch, punch.target("fix", 0).center())
        bath = next(r for r in self.job.rooms if r.id == "bath")
        self.assertAlmostEqual(bath.exhaust.flow_m3_s / CFM, 50)
        self.assertEqual(len(punch.findings), 6)
        self.assertEqual(self.window.document.stack.undoText(), "Add a 50 cfm fan")
        self.key(Qt.Key.Key_Escape)
        self.assertFalse(punch.isVisible())
        self.key(Qt.Key.Key_Z, CTRL)
        self.assertIsNone(next(r for r in self.job.rooms if r.id == "bath").exhaust)

    def test_keys_within(self):
        self.key("!")
        self.key(Qt.Key.Key_Down)
        self.assertEqual(self.window.punch.index, 1)
        self.key(Qt.Key.Key_Return)
        self.assertFalse(self.window.punch.isVisible())
        self.assertEqual(self.window.document.selection.id, "B4")

    def test_the_key_sheet_scrolls_by_keys(self):
        self.window.resize(1000, 600)
        self.window.command("show.keys")
        self.settle()
        sheet = self.window.keys
        self.assertGreater(sheet.content, sheet.height())
        self.key(Qt.Key.Key_Down)
        self.assertGreater(sheet.offset, 0)
        for _ in range(20):
            self.key(Qt.Key.Key_PageDown)
        self.assertLess(sheet.offset, sheet.content)
        for _ in range(20):
            self.key(Qt.Key.Key_PageUp)
        self.assertEqual(sheet.offset, 0)
        self.assertEqual(self.window.station_number, 1)

    def test_station_shows_its_worst_mark(self):
        marks = {k: self.headline(k).mark for k in range(1, 9)}
        self.assertEqual(
            (marks[1], marks[4], marks[5], marks[6], marks[7]), ("good", "fails", "fails", "half", "fails")
        )
        self.assertTrue({r.station for r in RULES} <= set(range(1, 9)))

    def test_one_count_of_open_points_everywhere(self):
        n = len(self.view.r.findings)
        self.assertEqual(self.window.status.count, f"{n} to settle")
        self.assertEqual(self.headline(8).second, f"{n} to settle")
        self.key("!")
        self.assertEqual(len(self.window.punch.findings), n)

    def test_status_line_names_the_worst(self):
        self.assertIn("Bath has no exhaust fan", self.window.status.worst)
        self.click(self.window.status, self.window.status.target("worst").center())
        self.assertEqual(self.window.station_number, 4)
        self.assertEqual(self.window.document.selection.id, "bath")


class TestBuild(WindowTest):
    def test_tick_and_untick(self):
        self.station(6)
        self.window.set_storey("ground")
        self.settle()
        self.row("piece", "register-A1")
        self.assertEqual(self.card.mark, "none")
        self.button("hang")
        self.assertIn("register-A1", {x.id for x in self.job.design.ticks})
        self.assertEqual(self.headline(6).figure, str(self.window.view().r.cuts.done))
        self.assertEqual(self.window.view().r.cuts.done, len(self.window.view().r.cuts.to_hang) - 1)
        self.key("h")
        self.assertNotIn("register-A1", {x.id for x in self.job.design.ticks})
        self.assertEqual(self.window.document.stack.count(), 2)

    def test_next_to_hang(self):
        self.station(6)
        self.key("n")
        first = self.window.document.selection.id
        self.key("n")
        self.assertNotEqual(self.window.document.selection.id, first)
        self.assertEqual({first, self.window.document.selection.id}, {"register-A1", "register-P1"})


class TestDucts(WindowTest):
    def test_a_room_that_gets_less_than_its_design_air_says_so_on_the_plan(self):
        self.station(5)

        def said():
            return [t for t, *_ in self.window.plan.sheet.lens.room_text["hall"] if t.startswith("gets")]

        self.assertEqual(said(), [])
        self.window.edit("Shut", lambda job: replace(job, "runs", "A1", damper=0.0))
        self.settle()
        got = self.view.r.network.room_m3_s["hall"]
        self.assertEqual(said(), [f"gets {self.view.num('flow', got)}"])
        self.assertLess(got, 0.2 * float(self.view.r.room_m3_s[3]))

    def test_nought_percent_is_a_shut_damper(self):
        self.station(5)
        self.window.select("run", "A1")
        self.settle()
        self.type_into("A1.damper", "0")
        self.assertEqual(next(r.damper for r in self.job.design.runs if r.id == "A1"), 0.0)
        self.assertLess(self.view.r.network.run_m3_s["A1"], 2e-4)
        self.assertIn("damper, shut", str(self.window.card.spec))


class TestReadings(WindowTest):
    def test_typed_reading(self):
        self.station(7)
        self.window.select("register", "A1")
        self.settle()
        self.type_into("read.A1", "57")
        self.assertIn("19 readings here are simulated", self.window.status.message)
        self.key(Qt.Key.Key_Return)
        last = self.job.design.readings[-1]
        self.assertEqual((last.at.id, last.instrument, last.simulated), ("A1", "typed", False))
        self.assertAlmostEqual(last.value / CFM, 57)
        self.assertEqual(self.headline(7).figure, "1")  # simulated ones count no longer
        self.assertNotEqual(self.window.document.selection.id, "A1")  # Enter steps on to the next
        self.window.select("register", "A1")
        self.settle()
        self.assertEqual(self.card.mark, "good")

    def test_digits_start_a_reading_and_enter_steps_on(self):
        self.station(7)
        self.window.select("register", "A1")
        self.settle()
        for k, figure in enumerate(("61", "97")):
            here = self.window.document.selection.id
            for digit in figure:
                self.key(digit)
            self.assertEqual(self.window.station_number, 7)
            self.key(Qt.Key.Key_Return)
            if not k:  # the first real one asks
                self.key(Qt.Key.Key_Return)
            last = self.job.design.readings[-1]
            self.assertEqual((last.at.id, round(last.value / CFM)), (here, int(figure)), k)
        self.key(Qt.Key.Key_Down)
        self.key(Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.window.station_number, 2)

    def test_nothing_is_invented_before_it_was_asked(self):
        self.window.document.open_job(with_design(self.job, readings=()), None, "none read")
        self.settle()
        self.station(7)
        self.key("s")
        self.assertEqual(self.job.design.readings, ())
        self.assertIn("virtual house", self.window.status.message)
        self.key("s")
        self.assertEqual([r.simulated for r in self.job.design.readings], [True])

    def test_space_simulates_the_next_register(self):
        self.station(7)
        for k in range(3):
            self.key(Qt.Key.Key_Space)
            self.assertEqual(self.headline(7).figure, str(13 + k))
        self.assertTrue(all(r.simulated for r in self.job.design.readings))
        self.assertIn("Simulated reading", self.window.document.stack.undoText())
        self.assertTrue(all(x.mark in ("good", "look") for x in self.view.v.registers.values() if x.register != "B4"))

    def test_verdict_and_suspects_of_the_fault(self):
        self.station(7)
        self.window.select("register", "B4")
        while self.view.figures.diagnosis is None:
            self.settle(0.1)
        self.assertEqual(self.card.mark, "fails")
        titles = [r.label for s in self.card.sections if hasattr(s, "rows") for r in s.rows if hasattr(r, "second")]
        self.assertIn("B4, one of these", titles)
        self.assertIn("1  kinked flex", titles)

    def test_the_hole_that_splits_suspects_takes_a_figure_and_they_part(self):
        self.station(7)
        self.window.select("register", "B4")
        while self.view.figures.diagnosis is None:
            self.settle(0.1)
        place = self.view.figures.diagnosis.splits.place
        self.window.select("hole", place.word)
        self.settle()
        self.assertEqual(self.card.mark_text, "to read")
        before = len(self.view.figures.diagnosis.fitted.residuals)
        self.key("s")
        while self.view.figures.diagnosis is None or len(self.view.figures.diagnosis.fitted.residuals) == before:
            self.settle(0.1)
        self.assertEqual(self.view.figures.diagnosis.fitted.suspects[0].spot.kind.id, "kink")
        said = self.job.design.readings[-1]
        self.assertEqual((said.at.kind, said.at.id, said.hole), ("register", "B4", place.hole))
        self.window.document.stack.undo()
        self.settle()
        self.assertEqual(
            len(self.view.figures.diagnosis.fitted.residuals) if self.view.figures.diagnosis else before, before
        )

    def test_an_instrument_gives_the_figure_and_a_missing_one_is_said(self):
        self.station(7)
        self.window.select("register", "A1")
        self.settle()
        b = Built(self.view.r)
        with served(Visit(b.r, b, (), 3), places(self.job)) as port:
            self.window.prefs.set(instruments=f"127.0.0.1:{port}")
            before = len(self.job.design.readings)
            self.window.plan.setFocus()
            self.key("t")
            while len(self.job.design.readings) == before:
                self.settle(0.05)
        got = self.job.design.readings[-1]
        self.assertEqual(
            (got.at.id, got.quantity, got.instrument, got.simulated), ("A1", "flow", "Flow hood 1", True)
        )
        self.key("t")
        while "No instrument answers" not in self.window.status.message:
            self.settle(0.05)
        self.assertEqual(len(self.job.design.readings), before + 1)

    def test_forget(self):
        self.station(7)
        self.window.select("register", "B4")
        self.settle()
        self.button("forget")
        self.assertEqual(self.headline(7).figure, "11")

    def test_csv(self):
        self.station(7)
        good, bad = self.folder / "r.csv", self.folder / "b.csv"
        good.write_text("place,value,unit\nA1,57,cfm\nA2,61,cfm\n")
        bad.write_text("place,value\nA1,57\nZ1,3\n")
        before = self.job
        self.assertFalse(self.window.doing.readings.import_readings(str(bad)))
        self.assertIs(self.job, before)
        asking = self.window.asking
        self.assertTrue(asking.isVisible())
        self.assertIn("Line 3", asking.lines[0])
        self.assertEqual(asking.does, "Leave it out, take the other 1")
        self.key(Qt.Key.Key_Escape)
        self.assertIs(self.job, before)
        self.window.doing.readings.import_readings(str(bad))
        self.key(Qt.Key.Key_Return)
        self.settle()
        self.assertEqual([r.at.id for r in self.job.design.readings if not r.simulated], ["A1"])
        self.window.document.stack.undo()
        self.assertTrue(self.window.doing.readings.import_readings(str(good)))
        self.settle()
        self.assertEqual(self.headline(7).figure, "2")  # two real ones: the simulated count no longer
        self.window.document.stack.undo()
        self.assertIs(self.job, before)
        (self.folder / "x.csv").write_bytes(b"\xff\xfe\x00")
        self.assertFalse(self.window.doing.readings.import_readings(str(self.folder / "x.csv")))

    def test_static_lens(self):
        self.station(7)
        self.window.set_storey("ground")
        self.window.set_lens(1)
        self.settle()
        self.assertFalse(self.window.grab().isNull())


class TestHandover(WindowTest):
    def wait_for_sheets(self):
        preview = self.window.stations[7].preview
        for _ in range(400):
            self.settle(0.02)
            if preview.pages:
                return preview
        self.fail("no sheets")

    def test_preview_and_files(self):
        self.station(8)
        preview = self.wait_for_sheets()
        self.assertGreaterEqual(len(preview.pages), 8)
        self.assertEqual(len(preview.titles), len(preview.pages))
        picture = preview.picture(0, 400, 1.0)
        self.assertEqual(picture.width(), 400)
        self.assertNotEqual(
            len({picture.pixel(x, y) for x in range(0, 400, 3) for y in range(0, picture.height(), 3)}), 1
        )
        thumbs = self.window.stations[7]._thumbs(self.window.page.rect().toRectF())
        self.click(self.window.page, thumbs[3][1].center())
        self.assertEqual(self.window.document.selection.id, "3")
        self.assertEqual(self.card.title, preview.titles[3])
        for command, suffix in (("file.pdf", "pdf"), ("file.xlsx", "xlsx")):
            path = self.folder / f"out.{suffix}"
            with mock.patch("murvan.app.actions.working.QFileDialog.getSaveFileName", return_value=(str(path), "")):
                self.window.command(command)
                self.settle()
            self.assertGreater(path.stat().st_size, 3000)
        with mock.patch(
            "murvan.app.actions.files.QFileDialog.getExistingDirectory", return_value=str(self.folder / "csv")
        ):
            self.window.command("file.csv")
            self.settle()
        self.assertEqual(len(list((self.folder / "csv").glob("*.csv"))), 8)

    def test_the_company_typed_once_stands_in_the_next_job(self):
        self.station(8)
        self.type_into("sheet.company", "Weir Lane Heating")
        self.assertEqual(self.job.company, "Weir Lane Heating")
        self.window.document.stack.setClean()
        self.window.command("file.new")
        self.settle()
        self.assertEqual(self.job.company, "Weir Lane Heating")

    def test_what_holds_leads_there(self):
        self.station(8)
        held = next(s for s in self.card.sections if getattr(s, "title", "") == "What holds the set")
        self.assertTrue(any("B4" in r.label for r in held.rows))
        rect = next(r for r, k in self.window.card.hits() if k == ("register", "B4"))
        self.click(self.window.card.body, rect.center())
        self.assertEqual(self.window.station_number, 7)
        self.assertEqual(self.card.title, "B4 Bedroom 2 north")

    def test_a_window_closed_while_its_sheets_are_made_is_no_trouble(self):
        going, gone = threading.Event(), threading.Event()

        def slow(*_):
            going.set()
            gone.wait(10)
            return 0

        with mock.patch("murvan.documents.pdf.write_pdf", slow):
            other = MainWindow()
            other.doing.files.open_demo()
            other.show()
            other.go(8)
            while not going.is_set():
                self.app.processEvents()
            thread = next(t for t in threading.enumerate() if t.name == "murvan-preview")
            preview = weakref.ref(other.stations[7].preview)
            other.document.stack.setClean()
            other.close()
            other.deleteLater()
            other = None
            QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
            self.settle()
            gc.collect()
            self.assertIsNone(preview(), "the thread must not be the last to hold an object of Qt's")
            gone.set()
            thread.join(10)
            self.settle()
        self.assertEqual(self.troubles, [])

    def test_preview_thread_ends(self):
        self.station(8)
        self.wait_for_sheets()
        self.settle(0.1)
        self.assertFalse([t for t in threading.enumerate() if t.name == "murvan-preview"])


class TestStart(WindowTest):
    open_demo = False

    def test_first_run(self):
        self.assertIsNone(self.job)
        self.assertTrue(self.window.page.isVisible())
        self.assertEqual([h.mark for h in self.window.jobline.headlines], ["none"] * 8)
        self.assertEqual(self.card.title, "Where and what")
        self.assertEqual(self.window.ledger.ledger.rows, ())

    def test_demo_by_its_button(self):
        rect = self.window.page.rect().toRectF()
        box_ = start._ways(rect)[0][4]
        self.click(self.window.page, box_.center())
        self.assertEqual(self.job.name, "17 Sorrel Lane")

    def test_new_job_grows_from_an_empty_plan(self):
        self.type_into("new.name", "Barrow Street 4")
        self.choose("new.climate", "Cold, dry")
        self.choose("new.storeys", "2")
        self.type_into("new.leaks", "4")
        self.button("start")
        self.assertEqual((self.job.name, len(self.job.storeys), self.job.leakage.ach50), ("Barrow Street 4", 2, 4.0))
        self.assertEqual(self.job.climate.name, "Cold, dry")
        self.assertEqual(self.job.rooms, ())
        self.assertIn("needs rooms", self.headline(2).second)
        for number in range(1, 9):
            self.window.go(number)
            self.settle()
            self.assertFalse(self.window.grab().isNull())
        self.window.go(1)
        self.window.plan.setFocus()
        self.key("r")
        self.drag(self.window.plan, self.at_m(0, 0), self.at_m(4, 4))
        self.drag(self.window.plan, self.at_m(4, 0), self.at_m(8, 4))
        self.assertEqual(len(self.job.rooms), 2)
        self.assertNotEqual(self.headline(2).figure, "–")
        for number in range(1, 9):
            self.window.go(number)
            self.settle()
            self.assertFalse(self.window.grab().isNull())

    def test_bad_entry_on_the_start_page(self):
        self.type_into("new.latitude", "500")
        self.assertIn("latitude must be at most", self.window.status.message)

    def test_recent_jobs(self):
        save_job(demo(), self.folder / "a.murvan")
        self.assertTrue(self.window.doing.files.open_path(self.folder / "a.murvan"))
        self.settle()
        self.key(Qt.Key.Key_W, CTRL)
        self.assertIsNone(self.job)
        row = self.window.ledger.ledger.rows[0]
        self.assertEqual(row.cells[0].text, "a")
        self.row(*row.key)
        self.assertEqual(self.job, demo())

    def test_recent_that_is_gone(self):
        save_job(demo(), self.folder / "a.murvan")
        self.window.doing.files.open_path(self.folder / "a.murvan")
        self.settle()
        self.key(Qt.Key.Key_W, CTRL)
        (self.folder / "a.murvan").unlink()
        self.row(*self.window.ledger.ledger.rows[0].key)
        self.assertIsNone(self.job)
        self.assertIn("no file", self.window.status.message)


class TestFiles(WindowTest):
    def test_broken_file_leaves_the_open_job_alone(self):
        before, figures = self.job, self.window.document.figures
        (self.folder / "cut.murvan").write_bytes(b"PK\x03\x04 rubbish")
        (self.folder / "empty.json").write_bytes(b"")
        for name in ("cut.murvan", "empty.json", "none.murvan"):
            self.assertFalse(self.window.doing.files.open_path(self.folder / name))
            self.assertIs(self.job, before)
            self.assertIs(self.window.document.figures, figures)
            self.assertTrue(self.window.status.message)
        self.assertEqual(self.window.prefs.recent, [])

    def test_close_guard(self):
        self.station(2)
        self.row("room", "living")
        self.type_into("living.people", "7")
        job = self.job
        with mock.patch.object(self.window.doing.files, "ask_save", return_value="stay"):
            self.assertFalse(self.window.close())
            self.key(Qt.Key.Key_W, CTRL)
            self.assertIs(self.job, job)
        with (
            mock.patch.object(self.window.doing.files, "ask_save", return_value="save"),
            mock.patch.object(self.window.doing.files, "ask_path", return_value=""),
        ):
            self.assertFalse(self.window.doing.files.may_close())
        path = self.folder / "kept"
        with (
            mock.patch.object(self.window.doing.files, "ask_save", return_value="save"),
            mock.patch.object(self.window.doing.files, "ask_path", return_value=str(path)),
        ):
            self.assertTrue(self.window.doing.files.may_close())
        self.assertTrue(Path(f"{path}.murvan").is_file())
        self.assertFalse(self.window.document.modified)

    def test_save_that_fails_says_so(self):
        with mock.patch.object(
            self.window.doing.files, "ask_path", return_value=str(self.folder / "no" / "x.murvan")
        ):
            self.assertFalse(self.window.doing.files.save())
        self.assertIn("Can't save", self.window.status.message)

    def test_autosave_and_recovery(self):
        self.station(2)
        self.row("room", "living")
        self.type_into("living.people", "6")
        self.window.document.autosave()
        self.assertEqual(recoverable(), [])  # the window lives: it is not lost
        self.crash()
        lost = recoverable()
        self.assertEqual(len(lost), 1)
        self.assertEqual(lost[0].job.rooms[0].people, 6.0)
        self.assertEqual(lost[0].file.stat().st_mode & 0o777, 0o600)
        lost[0].drop()
        self.window.document.stack.undo()
        self.window.document.open_job(box(), None)
        self.settle()
        self.assertEqual(recoverable(), [])

    def crash(self):
        """What a window leaves that ends without closing."""
        folder = self.folder / "home" / "autosave"
        for p in folder.glob("*.json"):
            (folder / f"crash-{p.name}").write_bytes(p.read_bytes())
            (folder / f"crash-{p.name}").chmod(0o600)

    def test_an_older_autosave_outlives_other_work_on_the_file(self):
        """After a crash the file is opened as usual, edited and saved: what was put aside before is still offered."""
        path = self.folder / "a.murvan"
        self.window.document.save(path)
        self.station(2)
        self.row("room", "living")
        self.type_into("living.people", "6")
        self.window.document.autosave()
        self.crash()
        self.window.document.stack.setClean()
        self.window.doing.files.open_path(str(path))
        self.settle()
        self.station(2)
        self.row("room", "living")
        self.type_into("living.people", "3")
        self.window.document.autosave()
        self.window.document.save(path)
        (lost,) = recoverable()
        self.assertEqual(lost.job.rooms[0].people, 6.0)
        self.assertTrue(lost.outdated)
        self.window.document.close_job()
        self.window.doing.files.refresh_lost()
        self.window.refresh()
        self.assertIn("after a crash", str(self.window.ledger.ledger.rows[0].cells[3].text))

    def test_two_windows_with_new_jobs_keep_apart(self):
        from murvan.app.document import JobDocument

        other = JobDocument()
        self.addCleanup(other.shut_down)
        for document, name in ((self.window.document, "One"), (other, "Two")):
            document.open_job(box(), None)
            document.edit("Name it", lambda j, name=name: changed(j, name, name=name))
            document.autosave()
        self.settle()
        self.crash()
        self.assertEqual(sorted(x.job.name for x in recoverable()), ["One", "Two"])
        other.edit("Name it", lambda j: changed(j, "", name="Another name"))
        other.autosave()
        other.save(self.folder / "two.murvan")
        self.assertEqual(len(recoverable()), 2)  # only its own goes

    def test_recover_after_a_crash(self):
        self.station(2)
        self.row("room", "living")
        self.type_into("living.people", "6")
        self.window.document.autosave()
        copy = {p.name: p.read_bytes() for p in (self.folder / "home" / "autosave").iterdir()}
        self.window.document.close_job()
        for name, data in copy.items():
            (self.folder / "home" / "autosave" / f"left-{name}").write_bytes(data)
        (self.folder / "home" / "autosave" / "broken.json").write_text("{")
        self.window.doing.files.refresh_lost()
        self.window.refresh()
        self.assertEqual(len(self.window.doing.files.lost), 1)
        self.key(Qt.Key.Key_R, CTRL)
        self.assertEqual(self.job.rooms[0].people, 6.0)
        self.assertTrue(self.window.document.modified)

    def test_saving_drops_the_autosave(self):
        self.station(2)
        self.row("room", "living")
        self.type_into("living.people", "6")
        self.window.document.autosave()
        self.window.document.save(self.folder / "a.murvan")
        self.assertEqual(recoverable(), [])

    def test_broken_settings_file_is_no_obstacle(self):
        from murvan.app.prefs import Prefs

        (self.folder / "home").mkdir(exist_ok=True)
        (self.folder / "home" / "settings.json").write_text('{"units": 5, "recent": "x", "dark": tru')
        self.assertEqual(Prefs().units, "ip")
        (self.folder / "home" / "settings.json").write_text('{"units": 5, "recent": "x", "dark": true}')
        self.assertEqual((Prefs().units, Prefs().recent, Prefs().theme.dark), ("ip", [], True))
