"""A traverse in the window: points by keys and by mouse, odd ones named, the flow kept and fitted."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from murvan.field.fit import fit
from murvan.field.places import run_place
from tests.app.base import WindowTest
from tests.field.fitted import fitted_house, said_of
from tests.field.profiles import true_profile
from tests.houses import CFM


class TestTraverse(WindowTest):
    def setUp(self):
        super().setUp()
        self.station(7)
        self.sheet = self.window.traverse

    def open(self, run):
        self.window.select("run", run)
        self.settle()
        self.key("x")
        self.assertTrue(self.sheet.isVisible())

    def typed(self, text):
        for ch in text:
            QTest.keyClick(self.sheet, ch)
        QTest.keyClick(self.sheet, Qt.Key.Key_Return)

    def fpm(self, flow, spoil=None):
        for k, v in enumerate(true_profile(self.sheet.section.grid, flow)):
            self.typed(f"{v / 0.00508 * (0.3 if k == spoil else 1.0):.0f}")

    def test_a_flow_by_its_points(self):
        self.open("SA1")
        self.assertEqual(self.sheet.tool.id, "pitot")
        QTest.keyClick(self.sheet, Qt.Key.Key_Tab)
        self.assertEqual(self.sheet.tool.id, "vane")
        self.fpm(0.18)
        self.sheet.repaint()
        QTest.keyClick(self.sheet, Qt.Key.Key_Return)
        self.settle()
        self.assertFalse(self.sheet.isVisible())
        r = self.job.design.readings[-1]
        self.assertEqual((r.at.kind, r.at.id, r.instrument, len(r.points)), ("run", "SA1", "Vane anemometer", 25))
        self.assertAlmostEqual(r.value / 0.18, 1, delta=0.02)
        self.assertTrue(0.02 < r.uncertainty < 0.06)
        self.assertIn("by 25 points", self.window.status.message)
        self.assertEqual(self.card.hero[0][0], self.view.num("flow", r.value))
        self.window.document.stack.undo()
        self.assertFalse(any(x.at.kind == "run" for x in self.job.design.readings))

    def test_an_odd_point_is_named_and_read_again_by_mouse(self):
        self.open("SA1")
        self.sheet.choose_tool("vane")
        self.fpm(0.2, spoil=7)
        self.assertEqual(self.sheet.found.odd, (7,))
        self.sheet.repaint()
        QTest.mouseClick(self.sheet, Qt.MouseButton.LeftButton, pos=self.sheet.spot(7).center().toPoint())
        self.assertEqual(self.sheet.at, 7)
        self.typed(f"{true_profile(self.sheet.section.grid, 0.2)[7] / 0.00508:.0f}")
        self.assertEqual(self.sheet.found.odd, ())

    def test_what_can_t_be_is_refused_in_words(self):
        self.open("SA1")
        self.typed("1-2")
        self.assertIn("Can't read", self.sheet.said)
        self.typed("9999")
        self.assertTrue(all(x is None for x in self.sheet.figures))
        for _ in range(12):
            QTest.keyClick(self.sheet, Qt.Key.Key_Backspace)
        self.sheet.keep()
        self.assertIn("two points", self.sheet.said)
        before = self.job
        QTest.keyClick(self.sheet, Qt.Key.Key_Escape)
        self.assertIs(self.job, before)

    def test_arrows_walk_the_grid_and_digits_reach_no_station(self):
        self.open("SA1")
        QTest.keyClick(self.sheet, Qt.Key.Key_Down)
        self.assertEqual(self.sheet.at, 5)
        QTest.keyClick(self.sheet, Qt.Key.Key_Right)
        self.assertEqual(self.sheet.at, 6)
        self.key("3")
        self.assertEqual((self.window.station_number, self.sheet.typed), (7, "3"))

    def test_a_register_s_own_duct_is_round(self):
        self.window.select("register", "B4")
        self.settle()
        self.key("x")
        self.assertTrue(self.sheet.section.grid.round)
        self.window.prefs.set(units="si")
        self.settle()
        self.sheet.repaint()

    def test_it_tells_a_low_hood_from_little_air(self):
        """All registers 8 % low: the trunks' own flows, by another instrument, say it is the hood."""
        h = fitted_house()
        said = [x for x in said_of(h, ("hood_bias::0.92",), 4) if x.place.quantity == "flow"]
        before = fit(h.built, h.tracks, said)
        own = {p.key: k for k, p in enumerate(h.tracks.places)}
        for run in h.built.runs.values():
            p = run_place(run)
            if not run.parent and p.key in own:
                said.append(said[0]._replace(place=p, value=float(h.tracks.base[own[p.key]]), share=0.03))
        after = fit(h.built, h.tracks, said)
        share = [next((s.share for s in f.suspects if s.spot.kind.id == "hood_bias"), 0.0) for f in (before, after)]
        self.assertGreater(share[1], share[0])
        self.assertGreater(share[1], 0.6)
        self.assertGreater(sum(x.value for x in said) / CFM, 500)
