"""A newcomer opens the demo and walks its eight stations; edits, undoes, saves, reopens."""

from unittest import mock

from PyQt6.QtCore import Qt

from murvan.model import load_job
from tests.app.base import WindowTest
from tests.houses import FT, demo, demo_results

CTRL = Qt.KeyboardModifier.ControlModifier


class TestWalk(WindowTest):
    def test_every_station_shows_its_figures(self):
        r = demo_results()
        for number in range(1, 9):
            self.station(number)
            h = self.headline(number)
            self.assertTrue(h.figure and h.figure != "–" or number == 8, h)
            self.assertIsNotNone(self.card)
            self.assertTrue(self.window.ledger.ledger.rows)
            self.assertFalse(self.window.grab().isNull())
        self.assertEqual(self.headline(1).figure, "2,288")
        self.assertEqual(self.headline(4).figure, "1,035")
        self.assertEqual(self.headline(2).figure, f"{r.loads.house_cooling_w / 293.0711:.1f}")
        self.assertEqual(self.headline(7).figure, "12")

    def test_figures_agree_across_stations(self):
        loads_air = None
        for number in (2, 4):
            self.station(number)
            rows = {r.key[1]: [c.text for c in r.cells] for r in self.window.ledger.ledger.rows}
            if number == 2:
                loads_air = rows["living"][10]
            else:
                self.assertEqual(rows["living"][3], loads_air)

    def test_ledger_total_is_the_sum_of_what_is_shown(self):
        self.station(1)
        ledger = self.window.ledger.ledger
        rooms = sum(int(r.cells[1].text.replace(",", "")) for r in ledger.rows)
        other = int(ledger.other[0].cells[1].text.replace(",", ""))
        self.assertAlmostEqual(rooms + other, int(ledger.total.cells[1].text.replace(",", "")), delta=3)

    def test_keys_go_to_stations_storeys_lenses(self):
        for number in range(1, 9):
            # at Readings digits start a reading; Alt with a digit always goes
            self.key(str(number), Qt.KeyboardModifier.AltModifier if number == 8 else Qt.KeyboardModifier.NoModifier)
            self.assertEqual(self.window.station_number, number)
        self.key("2")
        self.key(".")
        self.assertEqual(self.window.station.lens_index, 1)
        self.key(Qt.Key.Key_PageUp)
        self.assertEqual(self.window.storey, "upper")
        self.key(Qt.Key.Key_PageDown)
        self.assertEqual(self.window.storey, "ground")

    def test_edit_undo_redo_save_reopen(self):
        self.station(1)
        self.click(self.window.plan, self.at_opening("G1"))
        self.assertEqual(self.card.title, "Window G1")
        before, cool = self.job, self.headline(2).figure
        self.type_into("G1.width", "7' 6\"")
        self.assertAlmostEqual(next(o for o in self.job.openings if o.id == "G1").width_m, 7.5 * FT)
        self.assertNotEqual(self.headline(2).figure, cool)
        self.assertIn("Change width of G1", self.window.status.undo_text)
        self.assertTrue(self.window.windowTitle().endswith("* – Murvan"))
        after = self.job
        self.window.plan.setFocus()
        self.key(Qt.Key.Key_Z, CTRL)
        self.assertIs(self.job, before)
        self.assertEqual(self.headline(2).figure, cool)
        self.key(Qt.Key.Key_Y, CTRL)
        self.assertIs(self.job, after)
        figures = [self.headline(k) for k in range(1, 8)]
        path = self.folder / "mine.murvan"
        with mock.patch.object(self.window.doing.files, "ask_path", return_value=str(path)):
            self.key(Qt.Key.Key_S, CTRL)
        self.assertEqual(load_job(path), after)
        self.assertFalse(self.window.document.modified)
        self.window.document.close_job()
        self.settle()
        self.assertTrue(self.window.doing.files.open_path(path))
        self.settle()
        self.assertEqual(self.job, after)
        self.assertEqual([self.headline(k) for k in range(1, 8)], figures)
        self.assertEqual(self.window.prefs.recent, [str(path)])

    def test_units_switch_everywhere_at_once(self):
        self.station(2)
        self.click(self.window.status, self.window.status.target("si").center())
        self.assertEqual(self.window.prefs.units, "si")
        self.assertEqual(self.headline(1).unit, "m²")
        self.assertIn("kW", self.headline(2).unit)
        self.assertEqual(self.field("indoor.cooling").text(), "23.9")
        self.assertIn("W", [c.unit for c in self.window.ledger.ledger.columns])
        self.key(Qt.Key.Key_U, CTRL)
        self.assertEqual(self.headline(1).unit, "ft²")

    def test_theme_switch(self):
        self.key(Qt.Key.Key_T, CTRL)
        self.assertTrue(self.window.prefs.theme.dark)
        self.assertTrue(self.window.plan.theme.dark)
        image = self.window.grab().toImage()
        self.assertLess(image.pixelColor(600, 450).lightness(), 60)

    def test_settings_are_kept(self):
        from murvan.app.prefs import Prefs

        self.window.prefs.set(units="si", dark=True)
        again = Prefs()
        self.assertEqual((again.units, again.theme.dark), ("si", True))

    def test_glove_mode_makes_rows_and_fields_taller(self):
        self.station(2)
        before = self.field("indoor.cooling").height()
        self.key(Qt.Key.Key_G, CTRL)
        self.assertEqual(self.window.ledger.row_height, 32)
        self.assertGreater(self.field("indoor.cooling").height(), before)

    def test_demo_itself_is_not_touched(self):
        self.station(2)
        self.row("room", "living")
        self.type_into("living.people", "9")
        self.assertEqual(next(r.people for r in demo().rooms if r.id == "living"), 2.0)


class TestWindowSizes(WindowTest):
    def test_from_small_to_large(self):
        for size in ((1100, 700), (1280, 800), (1920, 1080), (2560, 1440)):
            self.window.resize(*size)
            for number in range(1, 9):
                self.window.go(number)
                self.settle()
                self.assertFalse(self.window.grab().isNull())
            self.assertEqual(self.window.card.width(), 330)
            self.assertEqual(self.window.jobline.height(), 86)

    def test_plan_fits_its_canvas_after_a_resize(self):
        self.window.go(1)
        for size in ((1280, 800), (2000, 1200)):
            self.window.resize(*size)
            self.settle()
            plan = self.window.plan
            for outline in plan.sheet.outlines():
                for pt in outline:
                    q = plan.sheet.to_px(*pt)
                    self.assertTrue(0 <= q.x() <= plan.width() and 0 <= q.y() <= plan.height())
