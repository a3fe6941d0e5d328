"""The section and the look in space in the window: the line drawn, dragged and stepped, a duct's level dragged, the whole turned
and picked from."""

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtTest import QTest

from murvan.app.space_look import Seen
from murvan.app.stations.ducts import section_page as on_page
from murvan.app.stations.ducts.section import SNAP_M, STEP_M
from murvan.app.stations.ducts.space import solid
from murvan.app.stations.ducts.station import SECTION, SPACE
from murvan.model.edit import replace
from tests.app.base import WindowTest


class OnPage(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.go(5)
        self.window.select("run", "A2")
        self.settle()

    @property
    def cutting(self):
        return self.window.station.cutting

    @property
    def cut(self):
        return self.cutting.cut(self.window.view())

    @property
    def rect(self):
        return QRectF(self.window.page.rect())

    def drag_page(self, a, b, escape=False):
        page = self.window.page
        a, b = (q.toPoint() if isinstance(q, QPointF) else q for q in (a, b))
        QTest.mousePress(page, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, a)
        for k in range(1, 6):
            QTest.mouseMove(page, a + (b - a) * k / 5)
        if escape:
            QTest.keyClick(self.window.centralWidget(), Qt.Key.Key_Escape)
        QTest.mouseRelease(page, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, b)
        self.settle()

    def duct(self, tag):
        return next(d for d in self.cut.ducts if d.run.tag == tag)


class Section(OnPage):
    def setUp(self):
        super().setUp()
        self.key("c")

    def at_duct(self, tag):
        g = on_page.Page.of(self.cut, self.rect, self.window.view().selected("run"))
        return g.duct(self.duct(tag)).center()

    def test_c_cuts_across_the_duct_in_hand_and_the_card_says_what_is_free(self):
        self.assertEqual(self.window.station.lens_index, SECTION)
        d = self.duct("A2")
        self.assertEqual(d.how, "across")
        card = self.card
        self.assertEqual(card.title, "A2 Kitchen")
        self.assertEqual(card.hero[0][:2], ("16.0", "in free"))
        self.assertEqual(card.side[0][:2], ("9.0", "in needed"))
        self.assertEqual(card.side[1][:2], ("7.0", "in left"))
        self.window.command("view.units")
        self.settle()
        self.assertEqual(self.card.hero[0][:2], ("406", "mm free"))

    def test_a_duct_is_dragged_up_and_put_back(self):
        was = self.view.r.runs["A2"].run.level_m
        self.drag_page(self.at_duct("A2"), self.at_duct("A2") + QPointF(0, -18))
        now = self.view.r.runs["A2"].run.level_m
        self.assertGreater(now, was + 0.02)
        steps = (now - was) / SNAP_M  # a joint's height is kept to the mm
        self.assertAlmostEqual(steps, round(steps), delta=0.2)
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertAlmostEqual(self.view.r.runs["A2"].run.level_m, was)

    def test_escape_lets_it_be(self):
        was = self.job
        self.drag_page(self.at_duct("A2"), self.at_duct("A2") + QPointF(0, -18), escape=True)
        self.assertIs(self.job, was)

    def test_a_click_on_a_duct_or_a_row_takes_it(self):
        other = next(d for d in self.cut.ducts if d.run.tag != "A2" and d.how == "across")
        r = on_page.table_rect(self.rect)
        listed, _ = on_page.rows(self.cut, self.rect)
        k = next(k for k, d in enumerate(listed) if d.run.id == other.run.id)
        at = QPoint(round(r.left() + 40), round(r.top() + 42 + (k + 0.5) * on_page.ROW_PX))
        QTest.mouseClick(self.window.page, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        self.settle()
        self.assertEqual(self.view.selected("run"), other.run.id)

    def test_the_line_is_drawn_dragged_and_stepped(self):
        m = on_page.PlanMap.of(self.window.view(), self.rect)
        # nearly level: it is made so
        self.drag_page(m.px((1.0, 1.5)), m.px((12.0, 1.7)))
        (ax, ay), (bx, by) = self.cutting.ends
        self.assertEqual(ay, by)
        self.assertAlmostEqual(ax, 1.0, delta=0.1)
        self.assertAlmostEqual(bx, 12.0, delta=0.1)
        cut = {d.run.tag for d in self.cut.ducts}
        self.drag_page(m.px((6.5, ay)), m.px((6.5, ay + 2.0)))
        self.assertAlmostEqual(self.cutting.ends[0][1], ay + 2.0, delta=0.1)
        self.assertNotEqual({d.run.tag for d in self.cut.ducts}, cut)
        before = self.cutting.ends[0][1]
        self.key(Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
        self.assertAlmostEqual(self.cutting.ends[0][1] - before, STEP_M, 6)
        self.key(Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
        self.assertAlmostEqual(self.cutting.ends[0][1], before, 6)
        # an end alone
        self.drag_page(m.px(self.cutting.ends[1]), m.px((12.0, 8.0)))
        self.assertAlmostEqual(self.cutting.ends[1][1], 8.0, delta=0.1)
        self.assertAlmostEqual(self.cutting.ends[0][1], before, 6)

    def test_what_does_not_go_in_is_red(self):
        self.window.edit("Fat", lambda job: replace(job, "runs", "A2", diameter_m=0.4, insulation_r_m2k_w=1.4))
        self.settle()
        d = self.duct("A2")
        self.assertLess(d.left_m, 0)
        self.assertEqual(on_page.mark_of(self.cut, d), "fails")
        self.assertEqual(self.card.side[1][1], "in short")

    def test_a_job_without_ducts_says_what_to_do(self):
        self.open_bare("bungalow")
        self.window.go(5)
        self.window.set_lens(SECTION)
        self.settle()
        self.window.grab()
        self.key("c")


class Space(OnPage):
    def setUp(self):
        super().setUp()
        self.key("o")

    def test_o_shows_it_and_turns_it_a_step(self):
        self.assertEqual(self.window.station.lens_index, SPACE)
        was = self.window.station.whole.turn_deg
        self.key("o")
        self.assertAlmostEqual((self.window.station.whole.turn_deg - was) % 360, 30.0)

    def test_a_drag_turns_it_and_changes_no_job(self):
        was, job = self.window.station.whole.turn_deg, self.job
        c = self.rect.center()
        self.drag_page(c, c + QPointF(60, 10))
        self.assertNotEqual(self.window.station.whole.turn_deg, was)
        self.assertIs(self.job, job)

    def test_a_click_takes_the_duct_under_it(self):
        x = solid(self.window.view())
        v = Seen(self.rect.adjusted(8, 34, -8, -8), x, self.window.station.whole)
        at, depth = v.px(x.corners.mean(axis=1))
        k = next(k for k, ref in enumerate(x.things) if ref[1].id == "B1")
        mine = [i for i in range(len(x.of)) if x.of[i] == k]
        nearest = min(mine, key=lambda i: depth[i])
        click = QPointF(*at[nearest]).toPoint()
        QTest.mouseClick(self.window.page, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, click)
        self.settle()
        self.assertEqual(self.view.selected("run"), "B1")
        self.assertTrue(self.card.title.startswith("B1 "))
