"""The visit in the window: steps by keys and by mouse, the state of the house with every reading, odd figures, the field sheet."""

from unittest import mock

from PyQt6.QtCore import Qt

from murvan.app.stations.readings_targets import target
from murvan.app.stations.readings_visit import VISIT, _shown, now, room_pressures, stages
from murvan.model import HouseState, with_design
from murvan.units import unit
from tests.app.base import WindowTest

SHIFT = Qt.KeyboardModifier.ShiftModifier


class VisitTest(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.document.open_job(with_design(self.job, readings=(), stands=HouseState()), None, "none read")
        self.settle()
        self.station(7)
        self.window.set_lens(self.window.station.lenses.index(VISIT))
        self.wait(lambda: self.view.figures.visit is not None)

    def wait(self, done, seconds=10.0):
        for _ in range(int(seconds / 0.05)):
            if done():
                return
            self.settle(0.05)
        self.fail("it did not come")

    def typed(self, text):
        for ch in text:
            self.key(ch)
        self.key(Qt.Key.Key_Return)
        self.settle()

    def skip_to(self, short):
        while now(self.view).step.short != short:
            self.key("k")
            self.settle()


class TestVisit(VisitTest):
    def test_figures_go_down_the_steps(self):
        words = [p.word for x in stages(self.view)[:3] for p in x.step.places]
        self.window.select("hole", words[0])
        self.settle()
        for figure in ("-0.04", "-0.13", "0.11", "0.07", "70", "95", "120"):
            self.typed(figure)
        self.assertEqual([(r.hole, r.quantity) for r in self.job.design.readings][0], ("return", "static"))
        self.assertEqual(len(self.job.design.readings), 7)
        own = stages(self.view)
        self.assertEqual([x.state for x in own[:4]], ["done", "done", "done", "next"])
        self.assertEqual(now(self.view).step.short, "Lines")

    def test_a_step_left_out_comes_back(self):
        first = now(self.view).step
        self.key("k")
        self.settle()
        self.assertEqual(self.job.design.skipped, (first.id,))
        self.assertEqual(stages(self.view)[0].state, "skipped")
        self.key("K", SHIFT)
        self.settle()
        self.assertEqual(now(self.view).step, first)
        self.key("K", SHIFT)
        self.assertIn("No step", self.window.status.message)

    def test_space_notes_that_doors_are_shut_and_readings_keep_it(self):
        self.skip_to("Rooms")
        self.assertEqual(self.job.design.stands, HouseState())
        self.key(Qt.Key.Key_Space)
        self.settle()
        self.assertEqual(self.job.design.stands.doors, "shut")
        self.assertEqual(target(self.view).place.at.kind, "room")
        self.assertIn("doors shut", self.card.sections[0].fields[0].label)
        self.typed("0.02")
        r = self.job.design.readings[-1]
        self.assertEqual((r.at.kind, r.state.doors, r.simulated), ("room", "shut", False))
        self.assertEqual(room_pressures(self.view)[r.at.id][1], "look")  # 5 Pa, over the limit of 3
        self.window.document.stack.undo()
        self.window.document.stack.undo()
        self.assertEqual(self.job.design.stands, HouseState())

    def test_a_click_on_a_step_takes_it_in_hand(self):
        strip = self.window.strip
        self.wait(lambda: strip.strip is not None and strip.strip.click is not None)
        own = stages(self.view)
        left, wide, stage = next(x for x in _shown(own, strip.chart_rect().width()) if x[2] is own[3])
        r = strip.chart_rect()
        strip.strip.click(r.left() + left + wide / 2, 40.0, r)
        self.settle()
        self.assertEqual(target(self.view).place.word, stage.step.places[0].word)

    def test_the_state_is_typed_on_the_card(self):
        self.window.select("hole", "temp-supply")
        self.settle()
        self.type_into("stands.outdoor", "47")
        self.settle()
        self.assertAlmostEqual(self.job.design.stands.outdoor_c, (47 - 32) / 1.8)
        self.typed("95")
        self.assertEqual(self.job.design.readings[-1].state, self.job.design.stands)

    def test_an_odd_figure_is_asked_about_and_kept_by_another_enter(self):
        self.window.select("hole", "static-supply")
        self.settle()
        self.typed("-0.07")
        self.assertEqual(self.job.design.readings, ())
        self.assertIn("tube on the other port", self.window.status.message)
        self.key(Qt.Key.Key_Return)
        self.settle()
        self.assertEqual([round(r.value, 1) for r in self.job.design.readings], [-17.4])

    def test_the_sheet_is_written_and_read_back(self):
        for name in ("sheet.pdf", "sheet.csv"):
            path = self.folder / name
            with mock.patch("murvan.app.actions.readings.QFileDialog.getSaveFileName", return_value=(str(path), "")):
                self.key("p")
            self.wait(lambda p=path: "Wrote" in self.window.status.message and p.exists())
            self.window.status.tell("")
        self.assertTrue((self.folder / "sheet.pdf").read_bytes().startswith(b"%PDF"))
        text = (self.folder / "sheet.csv").read_text("utf-8")
        text = text.replace("static-return,static,,", "static-return,static,-0.04,", 1).replace(
            "A1,flow,,", "A1,flow,55,"
        )
        (self.folder / "filled.csv").write_text(text, "utf-8")
        self.assertTrue(self.window.doing.readings.import_readings(str(self.folder / "filled.csv")))
        self.assertEqual([r.quantity for r in self.job.design.readings], ["static", "flow"])

    def test_both_units_and_no_word_is_cut(self):
        for units in ("ip", "si"):
            self.window.prefs.set(units=units)
            self.settle()
            strip = self.window.station.strip(self.view)
            self.assertEqual(strip.label, "The visit")
            self.assertIn("min to go", strip.lines[1])
            field = self.card.sections[0].fields[0]
            self.assertEqual(unit(field.kind, units), unit(target(self.view).kind, units))


class TestSimulated(VisitTest):
    def test_space_walks_the_steps_and_the_house_answers_as_it_stands(self):
        self.skip_to("Rooms")
        self.key(Qt.Key.Key_Space)
        self.settle()
        for _ in range(3):  # the first one asks whether to invent
            self.key(Qt.Key.Key_Space)
            self.settle()
        got = self.job.design.readings
        self.assertGreaterEqual(len(got), 2)
        self.assertTrue(all(r.simulated and r.state.doors == "shut" and abs(r.value) < 6 for r in got))
