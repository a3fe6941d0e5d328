"""What the screen says can be read and is so: tags on leaders, small rooms by number, buttons whole, ticks that are earned."""

import math
from itertools import pairwise

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton

from murvan.app.card_paper import WIDTH
from murvan.app.columns import SmallPlan
from murvan.app.plan import texts
from murvan.app.plan.duct_layers import run_points
from murvan.app.sidebar import tool_tip
from murvan.app.stations.equipment.chart import _Names
from murvan.app.stations.equipment.station import _pct
from murvan.design import solve
from murvan.design.limits import AT_LIMIT
from murvan.design.propose.alternatives import worth_trying
from murvan.model import Reading, Ref, insert, replace, with_design
from murvan.model.edit import changed
from tests.app.base import WindowTest
from tests.app.test_pacesheet import PaceTest
from tests.houses import FT, box, demo, u_house


class Tags(WindowTest):
    """At 1280 px, on the narrow house and on one of 21 rooms."""

    open_demo = False

    def far(self):
        """Tags farther than a leader's least from what they name, with the leader that was drawn for each."""
        v = self.window.plan.sheet
        lines = []
        real = texts._leader

        def spy(p, sheet, r, points, half):
            lines.append((QRectF(r), list(points), half))
            real(p, sheet, r, points, half)

        texts._leader = spy
        try:
            self.window.plan.redraw()
            self.window.plan.grab()
        finally:
            texts._leader = real
        return v, lines

    def check(self):
        v, asked = self.far()
        tagged = [i for _, kind, i in v.tag_hits if kind == "run"]
        self.assertGreaterEqual(len(asked), len(tagged))
        for r, points, _ in asked:
            self.assertTrue(any(abs(q.x() - r.center().x()) < 700 for q in points))

    def test_a_tag_far_from_its_duct_hangs_on_a_leader(self):
        self.window.doing.files.open_demo("narrow")
        self.settle()
        self.station(5)
        self.check()
        v = self.window.plan.sheet
        hit = next(r for r, kind, i in v.tag_hits if kind == "run" and self.tag(i) == "R1")
        run = next(x for x in v.runs() if x.tag == "R1")
        (q, at), _ = min(
            ((texts._nearest(hit, a, b), 0) for a, b in pairwise(run_points(v, run))),
            key=lambda x: math.dist((x[0][0].x(), x[0][0].y()), (x[0][1].x(), x[0][1].y())),
        )
        picture = self.window.plan.grab().toImage()
        half_way = (q + at) / 2
        dark = min(
            picture.pixelColor(int(half_way.x()) + dx, int(half_way.y()) + dy).lightness()
            for dx in (-1, 0, 1)
            for dy in (-1, 0, 1)
        )
        if math.dist((q.x(), q.y()), (at.x(), at.y())) > texts.LEADER_PX:
            self.assertLess(dark, 150, "a line leads from the tag to its duct")

    def tag(self, item):
        return next(x.tag for x in self.job.design.runs if x.id == item)

    def test_small_rooms_get_a_number_and_no_name_is_cut(self):
        self.window.document.open_job(u_house(), None, "U")
        self.settle()
        self.window.plan.fit()
        self.station(2)
        drawn, listed = [], []
        stack, real = texts._draw_stack, texts._listed
        texts._draw_stack = lambda p, v, r, lines, auto: drawn.append(lines[0][0]) or stack(p, v, r, lines, auto)
        texts._listed = lambda p, v, rooms: listed.extend(rooms) or real(p, v, rooms)
        try:
            self.window.plan.redraw()
            self.window.plan.grab()
        finally:
            texts._draw_stack, texts._listed = stack, real
        names = {r.name for r in self.job.rooms}
        self.assertTrue(listed)
        self.assertEqual({n for n in drawn if n.endswith("…")}, set())
        self.assertEqual({x for x in drawn if x in names} | {x for x, _ in listed}, names)

    def test_the_unit_and_its_plenums_are_clear_of_names(self):
        self.window.doing.files.open_demo("narrow")
        self.settle()
        self.station(5)
        v = self.window.plan.sheet
        boxes = list(self.job.design.plenums)
        self.assertTrue(boxes)
        taken = v.labels.texts
        for box_ in boxes:
            c = v.to_px(*box_.position_m)
            inside = [r for r in taken if r.contains(c)]
            self.assertEqual(len(inside), 1, "only the plenum itself stands there")


class Buttons(WindowTest):
    def test_every_word_on_every_card_s_buttons_is_whole(self):
        for number in range(1, 9):
            self.window.go(number)
            for lens in range(max(len(self.window.station.lenses), 1)):
                self.window.set_lens(lens)
                self.settle()
                for b in self.window.card.findChildren(QPushButton):
                    if b.isVisible():
                        words = QFontMetricsF(b.font()).horizontalAdvance(b.text())
                        self.assertLessEqual(words + 25, b.width(), (number, lens, b.text()))
                        at = b.mapTo(self.window.card, b.rect().topRight())
                        self.assertLess(at.x(), WIDTH)

    def test_what_can_be_done_is_in_sight_at_1280_by_720(self):
        self.window.resize(1280, 682)
        for number in (1, 2, 3, 4, 5, 6, 7, 8):
            self.window.go(number)
            self.settle()
            found = [b for b in self.window.card.foot.findChildren(QPushButton) if not b.isHidden()]
            for b in found:
                at = b.mapTo(self.window.card, b.rect().bottomLeft())
                self.assertLessEqual(at.y(), self.window.card.height(), (number, b.text()))
        self.window.go(3)
        self.settle()
        self.assertTrue(found)

    def test_arithmetic_lies_behind_its_key_where_the_card_is_full(self):
        self.window.go(3)
        self.settle()
        kinds = [type(s).__name__ for _, _, s in self.window.card._layout]
        self.assertIn("Fold", kinds)
        self.assertNotIn("Arith", kinds)
        self.window.plan.setFocus()
        self.key("=")
        kinds = [type(s).__name__ for _, _, s in self.window.card._layout]
        self.assertIn("Arith", kinds)
        self.key("=")
        self.assertIn("Fold", [type(s).__name__ for _, _, s in self.window.card._layout])

    def test_a_tool_s_tip_says_its_key_once(self):
        for number in range(1, 9):
            self.window.go(number)
            self.settle()
            for tool in self.window.tools.tools:
                words = tool_tip(tool).replace("<b>", "").replace("</b>", " ").split("<br>")[0].split()
                self.assertNotEqual(words[-1], words[-2], tool_tip(tool))


class Charts(WindowTest):
    def test_names_of_lines_lie_on_no_line_and_on_no_flag(self):
        put = []
        real = _Names.put

        def spy(names, words, along, shares, color):
            before = len(names.labels.texts)
            real(names, words, along, shares, color)
            put.extend((words, r, names) for r in names.labels.texts[before:])

        _Names.put = spy
        try:
            for which, units in (("demo", "ip"), ("demo", "si"), ("bungalow", "si"), ("narrow", "ip")):
                self.window.doing.files.open_demo(which)
                self.window.prefs.set(units=units)
                self.settle()
                self.window.go(3)
                self.settle()
                self.window.grab()
        finally:
            _Names.put = real
        self.assertGreater(len(put), 12)
        for words, r, names in put:
            others = [x for x in names.labels.texts if x != r]
            self.assertFalse([x for x in others if x.intersects(r)], words)

    def test_a_share_far_over_is_said_so(self):
        self.assertEqual((_pct(0.51), _pct(20.83), _pct(float("nan"))), ("51 %", "> 10×", "–"))

    def test_a_small_plan_takes_the_way_that_makes_it_largest(self):
        job = demo()
        for wide, high in ((300, 120), (120, 300)):
            small = SmallPlan(job, QRectF(0, 0, wide, high))
            for n, s in enumerate(small.storeys):
                for room in job.rooms:
                    if room.storey == s.id:
                        r = small.polygon(n, room.outline_m).boundingRect()
                        self.assertTrue(QRectF(-1, -1, wide + 2, high + 2).contains(r))
            self.assertLessEqual(small.height, high + 1)
        self.assertEqual(SmallPlan(job, QRectF(0, 0, 120, 300)).columns, 1)
        self.assertEqual(SmallPlan(job, QRectF(0, 0, 300, 120)).columns, 2)


class Said(WindowTest):
    def test_people_are_the_same_on_both_cards(self):
        job = changed(self.job, self.job.name, rooms=tuple(changed(r, r.name, people=0.0) for r in self.job.rooms))
        self.window.document.open_job(job, None, "nobody said")
        self.settle()
        figures = []
        for number in (1, 2):
            self.station(number)
            self.window.select("room", "living")
            self.settle()
            figures.append((self.field("living.people").text(), self.field("living.people").accessibleName()))
        self.assertEqual(figures[0], figures[1])
        self.assertGreater(float(figures[0][0]), 0)

    def test_the_hour_opens_at_the_house_s_peak(self):
        for which in ("demo", "bungalow", "narrow"):
            self.window.doing.files.open_demo(which)
            self.settle()
            self.assertEqual(self.window.hour, self.view.r.loads.house.hour)

    def test_insulation_that_is_there_is_not_offered_again(self):
        on_crawl = changed(box(), "box", floor_construction="floor-r19")
        self.assertFalse(worth_trying(on_crawl, "floors"))
        made = next(c for c in on_crawl.constructions if c.id == "floor-r19")
        thin = tuple(
            changed(x, x.name, thickness_m=x.thickness_m / 4, r_m2k_w=x.r_m2k_w and x.r_m2k_w / 4)
            for x in made.layers
        )
        self.assertTrue(worth_trying(replace(on_crawl, "constructions", "floor-r19", layers=thin), "floors"))
        self.assertFalse(worth_trying(box(), "floors"), "a slab has no floor to fill")

    def test_a_crawl_space_has_no_edge(self):
        self.window.doing.files.open_demo("bungalow")
        self.settle()
        self.station(1)
        words = str(
            self.window.strip.strip.paint.__closure__
            and [c.cell_contents for c in self.window.strip.strip.paint.__closure__]
        )
        self.assertNotIn("0 ft edge", words)
        self.assertIn("over a crawl space", words)

    def test_air_off_by_more_than_its_tolerance_gets_no_tick(self):
        design = self.view.r.main.airflow.register_m3_s
        readings = tuple(
            Reading(id=f"q{k}", at=Ref("register", x.id), quantity="flow", value=0.894 * design[x.id])
            for k, x in enumerate(self.job.design.registers)
            if x.side == "supply"
        )
        self.window.edit("Read", lambda job: insert(with_design(job, readings=()), "readings", *readings))
        self.settle()
        self.window.go(8)
        self.settle()
        row = next(r for r in self.window.ledger.ledger.rows if r.cells[0].text == "Air through the registers")
        self.assertNotIn("good", [c.mark for c in row.cells])

    def test_a_share_that_ducts_alone_moved_over_its_limit_by_a_hair_is_no_fail(self):
        x = self.view.r.main.equipment.chosen
        for beyond, severity in ((AT_LIMIT / 2, "look"), (2 * AT_LIMIT, "fails")):
            limit = x.total_share - beyond
            sizing = changed(self.job.sizing, "limits", variable=limit, next_size=False)
            job = changed(demo(), "demo", sizing=sizing)
            found = [f for f in solve(job).findings if f.rule.id == "unit-size"]
            self.assertEqual([f.severity for f in found], [severity])

    def test_a_proposal_taken_up_is_selected_with_its_card(self):
        self.station(3)
        self.key(Qt.Key.Key_Down)
        self.window.command("equipment.propose")
        for _ in range(600):
            self.settle(0.02)
            if self.window.offers.found:
                break
        self.window.offers.index = 1
        QTest.keyClick(self.window.offers, Qt.Key.Key_Return)
        self.settle()
        own = self.job.design.indoor_units[0].unit
        self.assertEqual(self.window.document.selection, Ref("unit", own))
        self.assertEqual(self.card.mark_text, "Picked")


class RoomList(PaceTest):
    def test_enter_goes_on_and_three_figures_make_a_room(self):
        table = self.sheet.table
        table.setFocus()
        table.setCurrentIndex(self.sheet.cell(0, "name"))
        for words in ("Study", "12", "11"):
            QTest.keyClicks(table, words[0])
            editor = QApplication.focusWidget()
            QTest.keyClicks(editor, words[1:])
            QTest.keyClick(editor, Qt.Key.Key_Return)
            self.settle()
        self.assertEqual([r.name for r in self.job.rooms], ["Study"])
        self.assertAlmostEqual(self.view.r.geometry.area_m2[0], 132 * FT * FT, places=3)
        self.assertEqual(self.job.openings, ())

    def test_delete_clears_a_cell(self):
        self.cell(0, "name", "Study")
        self.cell(0, "length", "12")
        self.cell(0, "width", "11")
        self.cell(0, "outside", "n")
        self.cell(0, "glass_n", "20")
        self.assertEqual(len(self.job.openings), 1)
        table = self.sheet.table
        table.setFocus()
        table.setCurrentIndex(self.sheet.cell(0, "glass_n"))
        QTest.keyClick(table, Qt.Key.Key_Delete)
        self.settle()
        self.assertEqual(self.job.openings, ())


if __name__ == "__main__":
    import unittest

    unittest.main()
