"""Readings typed, dropped, asked about: a figure goes where the yellow card says and nowhere else."""

import random
from unittest import mock

from PyQt6.QtCore import Qt

from murvan.app.stations.readings_targets import after, target
from murvan.field.verdict import counts, verdict
from murvan.model import Reading, Ref, insert, replace, with_design
from tests.app.base import WindowTest
from tests.houses import CFM

ALT = Qt.KeyboardModifier.AltModifier


class ReadingsTest(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.document.open_job(with_design(self.job, readings=()), None, "none read")
        self.settle()
        self.station(7)

    def digits(self, text):
        for ch in text:
            self.key(ch)

    @property
    def readings(self):
        return self.job.design.readings

    def shown(self):
        """The target as the yellow card, the card, the plan, the ledger and the field show it; one name or a failure."""
        here = target(self.view)
        self.assertEqual(self.window.station.typed_into(self.view), f"read.{here.place.word}")
        self.field(f"read.{here.place.word}")
        self.assertIn(here.short, self.card.title)
        if here.register is not None:
            rows = self.window.ledger.ledger.rows
            pointed = [r.cells[1].text for r in rows if "▸" in r.cells[1].text]
            if any(r.key == ("room", here.register.room) for r in rows):
                self.assertEqual(len(pointed), 1)
                self.assertIn(f"▸{here.short}", pointed[0])
        return here


class TestTarget(ReadingsTest):
    def test_twenty_readings_in_a_row_each_go_where_the_card_says(self):
        wanted = []
        for k in range(20):
            here = self.shown()
            if here.measured is not None:
                break
            wanted.append(here.key)
            self.digits(
                "-0.2"
                if here.kind == "pressure3" and ("return" in here.name.lower() or "filter" in here.name)
                else f"{40 + k}"
                if here.kind == "flow"
                else "0.1"
                if here.kind == "pressure3"
                else "60"
            )
            self.assertEqual(self.shown().key, here.key)
            self.key(Qt.Key.Key_Tab if k % 2 else Qt.Key.Key_Return)
        self.assertEqual(len(wanted), len(set(wanted)))
        self.assertEqual(len(wanted), 20)
        last = [(("register", r.at.id) if r.hole is None else ("hole", r.hole)) for r in self.readings]
        self.assertEqual([k for k in last if k[0] == "register"], [k for k in wanted if k[0] == "register"])
        self.assertEqual(self.headline(7).figure, "15")

    def test_readings_in_any_order_by_mouse(self):
        order = list(self.view.v.registers)
        random.Random(3).shuffle(order)
        for k, register in enumerate(order[:6]):
            self.window.select("register", register)
            self.settle()
            self.digits(f"{50 + k}")
            self.key(Qt.Key.Key_Return)
            last = self.readings[-1]
            self.assertEqual((last.at.id, round(last.value / CFM)), (register, 50 + k))
            self.assertNotIn(target(self.view).key[1], order[: k + 1])

    def test_a_register_selected_at_another_station_is_what_the_card_says(self):
        self.station(5)
        self.window.select("register", "A5")
        self.settle()
        self.station(7)
        self.assertEqual(self.shown().key, ("register", "A5"))
        self.digits("44")
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.readings[-1].at, Ref("register", "A5"))

    def test_a_room_is_its_first_unread_register_and_a_room_without_one_takes_nothing(self):
        def without_study(job):
            gone = {x.id for x in job.design.registers if x.room == "study"}
            return with_design(
                job,
                registers=tuple(x for x in job.design.registers if x.id not in gone),
                runs=tuple(r for r in job.design.runs if r.register_id not in gone),
                ticks=(),
            )

        self.window.edit("No register in the study", without_study)
        self.settle()
        rooms = {x.room for x in self.view.v.registers.values()}
        self.window.select("room", "living")
        self.settle()
        first = self.shown()
        self.digits("33")
        self.key(Qt.Key.Key_Return)
        self.window.select("room", "living")
        self.settle()
        self.assertNotEqual(self.shown().key, first.key)
        bare = next(r.id for r in self.job.rooms if r.id not in rooms)
        self.window.select("room", bare)
        self.settle()
        before = self.readings
        self.digits("7")
        self.key(Qt.Key.Key_Return)
        self.assertEqual((self.readings, self.window.station_number), (before, 7))
        self.assertIsNone(target(self.view))

    def test_a_figure_in_place_is_shown_and_asked_before_it_is_replaced(self):
        self.window.select("register", "A1")
        self.settle()
        self.digits("61")
        self.key(Qt.Key.Key_Return)
        self.window.select("register", "A1")
        self.settle()
        self.assertEqual(self.field("read.A1").text(), "61")
        self.digits("70")
        self.key(Qt.Key.Key_Return)
        self.assertEqual(len(self.readings), 1)
        self.assertIn("A1 reads 61 cfm already", self.window.status.message)
        self.key(Qt.Key.Key_Escape)
        self.assertEqual((len(self.readings), self.field("read.A1").text()), (1, "61"))
        self.digits("70")
        self.key(Qt.Key.Key_Return)
        self.key(Qt.Key.Key_Return)
        self.assertEqual([round(r.value / CFM) for r in self.readings], [61, 70])
        self.assertEqual(round(self.view.v.registers["A1"].measured / CFM), 70)

    def test_enter_in_an_untouched_field_changes_nothing(self):
        self.window.select("register", "A1")
        self.settle()
        self.field("read.A1").setFocus()
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.readings, ())
        self.assertNotEqual(target(self.view).key, ("register", "A1"))


class TestDropped(ReadingsTest):
    def start(self, digit="8"):
        self.window.select("register", "A1")
        self.settle()
        self.digits(digit)
        self.assertEqual(self.field("read.A1").text(), digit)

    def dropped(self):
        self.settle()
        self.assertEqual(self.readings, ())
        self.assertIn("was dropped, Enter or Tab keeps a reading", self.window.status.message)

    def test_a_command_of_the_job_drops_it(self):
        self.start()
        with mock.patch("murvan.app.actions.files.QFileDialog.getSaveFileName", return_value=("", "")):
            self.key(Qt.Key.Key_P, Qt.KeyboardModifier.ControlModifier)
        self.dropped()

    def test_a_click_elsewhere_drops_it(self):
        self.start("5")
        self.click(self.window.plan, self.at_room("kitchen", 10, 10))
        self.dropped()

    def test_a_row_of_the_table_drops_it(self):
        self.start("5")
        self.row("room", "kitchen")
        self.dropped()

    def test_another_station_by_its_key_drops_it(self):
        self.start()
        self.key(Qt.Key.Key_2, ALT)
        self.assertEqual(self.window.station_number, 2)
        self.dropped()

    def test_down_drops_it_and_the_window_left_does(self):
        self.start()
        self.key(Qt.Key.Key_Down)
        self.dropped()
        self.start("4")
        self.field("read.A1").clearFocus()
        self.dropped()

    def test_every_station_has_a_key_here_and_the_line_says_which(self):
        self.assertTrue(self.window.jobline.digits_type)
        for number in (1, 3, 8):
            self.station(7)
            self.start()
            self.key(str(number), ALT)
            self.assertEqual(self.window.station_number, number)
            self.assertFalse(self.window.jobline.digits_type)


class TestSimulated(ReadingsTest):
    def real(self, register, cfm):
        self.window.edit(
            "Real",
            lambda job: insert(
                job,
                "readings",
                Reading(id=f"r{register}", at=Ref("register", register), quantity="flow", value=cfm * CFM),
            ),
        )
        self.settle()

    def test_a_simulated_reading_never_counts_beside_real_ones(self):
        self.real("A1", 60)
        self.window.select("register", "A1")
        self.settle()
        for register in ("A1", "A2"):
            self.window.select("register", register)
            self.settle()
            n = len(self.readings)
            self.key("s")
            self.assertEqual(len(self.readings), n)
            self.assertIn("not count", self.window.status.message)
            self.key("s")
            self.assertEqual(len(self.readings), n + 1)  # asked each time
        v = self.view.v
        self.assertEqual(v.read, 1)
        self.assertEqual(round(v.registers["A1"].measured / CFM), 60)
        self.assertIsNone(v.registers["A2"].measured)
        self.assertFalse(v.simulated)

    def test_the_first_real_one_ends_what_was_simulated(self):
        self.key("s")
        for _ in range(4):
            self.key(Qt.Key.Key_Space)
        self.assertGreater(self.view.v.read, 3)
        read = [k for k, x in self.view.v.registers.items() if x.measured is not None]
        self.window.select("register", read[0])
        self.settle()
        self.digits("66")
        self.key(Qt.Key.Key_Return)
        self.assertIn("simulated", self.window.status.message)
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.view.v.read, 1)
        left = len(self.view.v.registers) + len(self.view.v.holes) - 2  # the one read, and the one in hand
        self.assertEqual(len(after(self.view, self.job)), left)


class TestOfADesign(ReadingsTest):
    def test_ducts_laid_anew_leave_readings_as_history(self):
        self.window.select("register", "A1")
        self.settle()
        self.digits("61")
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.view.v.read, 1)
        reading = self.readings[0]
        self.station(5)
        before = self.job
        self.key("l")
        sheet = self.window.asking
        self.assertTrue(sheet.isVisible())
        self.assertTrue(any("1 reading: kept as history" in x for x in sheet.lines), sheet.lines)
        self.assertTrue(any("zone dampers" in x for x in sheet.lines), sheet.lines)
        self.key(Qt.Key.Key_Escape)
        self.assertFalse(sheet.isVisible())
        self.assertIs(self.job, before)
        dampers = {r.zone_damper for r in before.design.runs} - {None}
        self.key("l")
        self.key(Qt.Key.Key_Return)
        self.assertEqual({r.zone_damper for r in self.job.design.runs} - {None}, dampers)
        self.assertEqual(self.job.design.layout, 1)
        self.assertIn(reading.id, {r.id for r in self.readings})
        self.assertEqual(self.view.v.read, 0)
        self.assertFalse(counts(self.job, self.readings[0]))
        self.station(7)
        self.window.select("register", "A1")
        self.settle()
        self.assertIn("of earlier ducts", str(self.card))

    def test_a_hand_edit_keeps_them(self):
        self.window.select("register", "A1")
        self.settle()
        self.digits("61")
        self.key(Qt.Key.Key_Return)
        self.window.edit("Damper", lambda job: replace(job, "runs", "A4", damper=0.4))
        self.settle()
        self.assertEqual(verdict(self.job, self.view.r).read, 1)
