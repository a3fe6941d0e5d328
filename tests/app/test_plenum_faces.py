"""The faces of a plenum in the window: take-offs dragged, typed, placed and sized; a piece turned with the mouse."""

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest

from murvan.app.plan import duct_layers
from murvan.app.stations.ducts import plenum
from murvan.app.stations.ducts.unfolded import Spread
from murvan.model.design import Plenum
from tests.app.base import WindowTest


class TestPlenumFaces(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.go(5)
        self.window.station.lens_index = 3
        self.window.refresh()
        self.settle()

    def box(self):
        return plenum.in_hand(self.window.view())

    def take_off(self, tag):
        return next(t for t in self.box().take_offs if t.run.tag == tag)

    def rows(self):
        return self.window.station.ledger(self.window.view()).rows

    def spread(self):
        return Spread.of(self.box(), QRectF(self.window.page.rect()), plenum.MARGINS)

    def drag(self, a: QPoint, b: QPoint, escape: bool = False):
        page = self.window.page
        QTest.mousePress(page, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, a)
        for k in range(1, 6):
            QTest.mouseMove(page, a + (b - a) * k / 5)
        if escape:
            QTest.keyClick(self.window.centralWidget(), Qt.Key.Key_Escape)
        QTest.mouseRelease(page, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, b)
        self.settle()

    def test_a_take_off_goes_to_another_face_and_catches_the_cushion(self):
        s = self.spread()
        tall = s.size["left"][1]
        t = self.take_off("P2")
        wanted = s.px("left", 0.3, tall - 0.1524 - t.height_m / 2).toPoint() + QPoint(0, 3)
        self.drag(s.hole(t).center().toPoint(), wanted)
        now = self.take_off("P2")
        self.assertEqual(now.face, "west")
        self.assertAlmostEqual(now.from_end_m, 0.1524, 3)
        row = next(r for r in self.rows() if r.key == ("run", now.run.id))
        self.assertEqual(row.cells[2].text, "West")
        self.assertEqual(row.cells[7].text, "by hand")
        self.press("edit.undo")
        self.assertEqual(self.take_off("P2").face, "east")

    def press(self, command):
        self.window.command(command)
        self.settle()

    def test_escape_puts_it_back(self):
        s, t = self.spread(), self.take_off("P2")
        self.drag(s.hole(t).center().toPoint(), s.px("left", 0.3, 0.4).toPoint(), escape=True)
        self.assertEqual(self.take_off("P2").face, "east")
        self.assertFalse(self.window.document.modified)

    def test_the_bottom_or_off_the_faces_is_no_place(self):
        s, t = self.spread(), self.take_off("P2")
        self.drag(s.hole(t).center().toPoint(), QPoint(5, 5))
        self.assertEqual(self.take_off("P2").face, "east")

    def test_typed_sides_are_held_and_emptied_ones_free(self):
        box = self.box().plenum
        card = self.window.card
        card.apply(next(f for f in card.spec.sections[0].fields if f.key == f"{box.id}.width_m"), 0.6)
        self.settle()
        made: Plenum = self.box().plenum
        self.assertEqual((made.width_m, made.held), (0.6, ("width_m",)))
        self.assertGreaterEqual(made.width_m * made.depth_m, self.box().wanted_area_m2 - 1e-9)
        self.assertLess(made.depth_m, box.depth_m, "the others follow")
        self.assertIn("Width, held", [f.label for f in card.spec.sections[0].fields])
        card.apply(next(f for f in card.spec.sections[0].fields if f.key == f"{box.id}.width_m"), "")
        self.settle()
        self.assertEqual(self.box().plenum.held, ())

    def test_place_and_size_by_key(self):
        QTest.keyClick(self.window.centralWidget(), Qt.Key.Key_T, Qt.KeyboardModifier.ShiftModifier)
        self.settle()
        self.assertTrue(all(r.cells[7].text == "by Murvan" for r in self.rows() if r.cells[1].text == "supply"))
        QTest.keyClick(self.window.centralWidget(), Qt.Key.Key_Z, Qt.KeyboardModifier.ShiftModifier)
        self.settle()
        x = self.box()
        self.assertGreaterEqual(x.area_m2, x.wanted_area_m2 - 1e-9)

    def test_the_return_is_a_click_away(self):
        page = self.window.page
        tab = dict(plenum.tabs(self.window.view(), QRectF(page.rect())))["return"]
        QTest.mouseClick(page, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, tab.center().toPoint())
        self.settle()
        self.assertEqual(self.window.card.spec.title, "Return plenum")

    def test_a_take_off_off_its_face_is_refused_in_words(self):
        self.window.select("run", self.take_off("P2").run.id)
        self.settle()
        field = next(
            f
            for s in self.window.card.spec.sections[:2]
            for f in getattr(s, "fields", ())
            if f.label == "Middle from left"
        )
        self.assertFalse(self.window.card.apply(field, 3.0))
        self.assertIn("has to lie on its face", self.window.status.message)

    def test_the_piece_turns_with_the_mouse(self):
        card = self.window.card
        y = next(y for y, _, s in card._layout if getattr(s, "drag", None))
        before = (self.window.station.eye.turn_deg, card.grab().toImage())
        at = QPoint(150, int(y) + 90)
        QTest.mousePress(card.body, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        QTest.mouseMove(card.body, at + QPoint(60, 5))
        QTest.mouseRelease(card.body, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at + QPoint(60, 5))
        self.settle()
        self.assertNotEqual(self.window.station.eye.turn_deg, before[0])
        self.assertNotEqual(card.grab().toImage(), before[1])
        # it stays turned when the card is shown anew
        self.window.refresh()
        self.assertNotEqual(card.grab().toImage(), before[1])


class TestZoneDampers(WindowTest):
    """A zone damper dragged along the tree on Ducts."""

    def setUp(self):
        super().setUp()
        self.window.go(5)
        self.window.set_storey("ground")
        self.settle()

    def damper(self, tag):
        return next(r.zone_damper for r in self.window.document.job.design.runs if r.tag == tag)

    def take(self, tag, to):
        plan = self.window.plan
        run = {r.tag: r for r in self.window.document.job.design.runs}
        a = duct_layers.zone_damper_at(plan.sheet, run[tag]).toPoint()
        path = duct_layers.run_path(duct_layers.run_points(plan.sheet, run[to]), 0)
        b = path.pointAtPercent(0.6).toPoint()
        QTest.mousePress(plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, a)
        for k in range(1, 7):
            at = QPointF(a + (b - a) * k / 6)
            none, left = Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton
            move = QMouseEvent(
                QEvent.Type.MouseMove, at, plan.mapToGlobal(at), none, left, Qt.KeyboardModifier.NoModifier
            )
            self.app.sendEvent(plan, move)
        QTest.mouseRelease(plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, b)
        self.settle()

    def test_to_a_branch_of_its_zone_and_back(self):
        self.take("SA1", "A1")
        self.assertEqual((self.damper("SA1"), self.damper("A1")), (None, "1"))
        self.window.command("edit.undo")
        self.settle()
        self.assertEqual((self.damper("SA1"), self.damper("A1")), ("1", None))
