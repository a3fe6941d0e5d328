"""Select anything in plan, ledger or card; edit its numbers with units typed freely."""

from PyQt6.QtCore import QPoint, Qt

from murvan.model import replace
from murvan.model.record import Ref
from tests.app.base import WindowTest
from tests.houses import FT, INCH

ALT = Qt.KeyboardModifier.AltModifier


class TestSelect(WindowTest):
    def test_room_in_plan_ledger_and_card(self):
        self.station(2)
        self.click(self.window.plan, self.at_room("study", 30, 30))
        self.assertEqual(self.window.document.selection, Ref("room", "study"))
        self.assertEqual(self.window.ledger.selected, ("room", "study"))
        self.assertEqual(self.card.title, "Study")
        self.row("room", "kitchen")
        self.assertEqual(self.window.plan.sheet.selected_room, "kitchen")
        self.assertEqual(self.card.title, "Kitchen")

    def test_wall_and_opening_from_the_card(self):
        self.station(1)
        self.row("room", "dining")
        wanted = [(r, k) for r, k in self.window.card.hits() if k[0] in ("wall", "opening")]
        self.assertTrue(wanted)
        rect, key = wanted[0]
        self.click(self.window.card.body, rect.center())
        self.assertEqual(self.window.document.selection, Ref(*key))
        self.assertEqual(self.window.ledger.selected, ("room", "dining"))

    def test_wall_by_its_line_on_the_plan(self):
        self.station(1)
        self.click(self.window.plan, self.at_m(0.0, 14.0 * FT))
        self.assertEqual(self.window.document.selection, Ref("wall", "living/3"))
        self.assertEqual(self.card.title, "West wall")

    def test_a_tag_selects_what_it_names(self):
        for station, kind in ((1, "opening"), (5, "run"), (7, "register")):
            self.station(station)
            tags = [(r, i) for r, k, i in self.window.plan.sheet.tag_hits if k == kind]
            self.assertGreater(len(tags), 3, kind)
            for _, wanted in tags:
                at = next(r for r, k, i in self.window.plan.sheet.tag_hits if (k, i) == (kind, wanted))
                self.click(self.window.plan, at.center())
                self.assertEqual(self.window.document.selection, Ref(kind, wanted))

    def test_the_plan_tells_what_a_room_gets_once_it_differs(self):
        self.station(5)
        self.assertFalse([x for x in self.window.plan.sheet.lens.room_text["dining"] if x[0].startswith("gets")])
        self.window.edit("Damper", lambda job: replace(job, "runs", "A4", damper=0.1))
        self.settle()
        self.assertTrue([x for x in self.window.plan.sheet.lens.room_text["dining"] if x[0].startswith("gets")])

    def test_run_and_register_on_the_plan(self):
        self.station(5)
        self.click(self.window.plan, self.at_m(13.3 * FT, 8.0 * FT))
        self.assertEqual(self.window.document.selection, Ref("run", "A3"))
        self.assertEqual(self.window.ledger.selected, ("room", "living"))
        self.click(self.window.plan, self.at_m(5.6 * FT, 20.8 * FT))
        self.assertEqual(self.window.document.selection, Ref("register", "A4"))
        self.assertEqual(self.card.title, "A4 Dining")

    def test_selection_follows_to_its_storey(self):
        self.station(5)
        self.window.select("run", "B4")
        self.settle()
        self.assertEqual(self.window.storey, "upper")
        self.station(7)
        self.assertEqual(self.card.title, "B4 Bedroom 2 north")

    def test_arrow_keys_step_through_the_ledger(self):
        self.station(2)
        self.row("room", "living")
        self.key(Qt.Key.Key_Down)
        self.assertEqual(self.window.ledger.selected, ("room", "dining"))
        self.key(Qt.Key.Key_Up)
        self.key(Qt.Key.Key_Up)
        self.assertEqual(self.window.ledger.selected, ("room", "utility"))

    def test_other_storeys_row_goes_there(self):
        self.station(2)
        self.row("storey", "upper")
        self.assertEqual(self.window.storey, "upper")
        self.click(self.window.rail, self.window.rail.target("storey", "ground").center())
        self.assertEqual(self.window.storey, "ground")

    def test_candidate(self):
        self.station(3)
        self.row("unit", "torrow-cx-36")
        self.assertIn("CX-36", self.card.title)
        self.assertEqual(self.job.design.indoor_units[0].unit, "orvane-vh-30")

    def test_find(self):
        self.station(1)
        self.key("/")
        self.assertTrue(self.window.find_box.isVisible())
        self.key("bed 4")
        self.key(Qt.Key.Key_Return)
        self.assertFalse(self.window.find_box.isVisible())
        self.assertEqual(self.window.document.selection, Ref("room", "bed4"))


class TestEdit(WindowTest):
    def height(self, room="living"):
        return next(r.height_m for r in self.job.rooms if r.id == room)

    def test_heights_typed_in_many_ways(self):
        self.station(1)
        self.row("room", "living")
        for typed, metres in (("8 ft", 2.4384), ("100 in", 2.54), ("8' 0\"", 2.4384), ("2.60 m", 2.6), ("9", 9 * FT)):
            self.type_into("living.height", typed)
            self.assertAlmostEqual(self.height(), metres, places=6, msg=typed)

    def test_every_figure_follows_at_once(self):
        self.station(2)
        self.row("room", "living")
        before = {k: self.headline(k) for k in range(1, 8)}
        self.type_into("leakage.ach50", "3")
        self.assertLess(float(self.headline(2).second.split()[0]), float(before[2].second.split()[0]))
        self.assertNotEqual(self.headline(3).figure + self.headline(3).unit, before[3].figure + before[3].unit)
        total = self.window.ledger.ledger.total.cells[8].text
        self.assertEqual(total, f"{self.view.r.loads.house_heating_w / 0.29307107:,.0f}")

    def test_nonsense_is_refused_and_nothing_is_lost(self):
        self.station(1)
        self.row("room", "living")
        before = self.job
        for typed in ("tall", "-3", "0", "900 ft", "8 kg"):
            self.type_into("living.height", typed)
            self.assertIs(self.job, before, typed)
            self.assertTrue(self.field("living.height").property("bad"), typed)
            self.assertTrue(self.window.status.message, typed)
        self.key(Qt.Key.Key_Escape)
        self.assertFalse(self.field("living.height").property("bad"))
        self.assertEqual(self.field("living.height").text(), "9′ 0″")

    def test_refusal_names_the_place(self):
        self.station(1)
        self.row("room", "living")
        self.type_into("living.height", "900 ft")
        self.assertIn("Living, height must be at most 12", self.window.status.message)

    def test_leaving_a_field_applies_it(self):
        self.station(2)
        self.row("room", "living")
        self.type_into("living.people", "3", enter=False)
        self.window.plan.setFocus()
        self.settle()
        self.assertEqual(self.job.rooms[0].people, 3.0)

    def test_same_value_is_no_edit(self):
        self.station(1)
        self.row("room", "living")
        count = self.window.document.stack.count()
        self.type_into("living.height", "9′ 0″")
        self.assertEqual(self.window.document.stack.count(), count)

    def test_letters_are_off_inside_fields(self):
        self.station(1)
        self.row("room", "living")
        self.type_into("living.name", "Room VM? 12=5", enter=False)
        self.assertEqual(self.window.station_number, 1)
        self.assertEqual(self.window.plan.tool, "select")
        self.assertFalse(self.window.keys.isVisible())
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.job.rooms[0].name, "Room VM? 12=5")

    def test_enter_goes_to_the_card(self):
        self.station(1)
        self.row("room", "living")
        self.window.plan.setFocus()
        self.key(Qt.Key.Key_Return)
        self.assertTrue(self.field("living.name").hasFocus())

    def test_choices(self):
        self.station(1)
        self.window.select("wall", "living/3")
        self.settle()
        self.choose("living/3.make", "wall-2x6-r21")
        self.assertEqual(self.job.wall_overrides[0].construction, "wall-2x6-r21")
        self.assertIn("2×6", next(x.name for x in self.job.constructions if x.id == "wall-2x6-r21"))
        self.choose("living/3.other", "heated")
        self.assertEqual(self.job.wall_overrides[0].other_side, "heated")

    def test_wall_length_moves_the_neighbour(self):
        self.station(1)
        self.window.select("wall", "living/0")
        self.settle()
        self.type_into("living/0.length", "18 ft")
        hall = next(r for r in self.job.rooms if r.id == "hall")
        self.assertAlmostEqual(min(x for x, _ in hall.outline_m), 18 * FT, places=3)
        self.assertEqual(self.window.document.stack.undoText(), "Change wall length")

    def test_diameter_and_damper_move_all_rooms(self):
        self.station(5)
        self.window.select("run", "A4")
        self.settle()
        before = dict(self.view.r.network.room_m3_s)
        self.choose("A4.size", f"{6 * INCH:.4f}")
        after = dict(self.view.r.network.room_m3_s)
        self.assertTrue(all(abs(before[k] - after[k]) > 1e-7 for k in before))
        self.type_into("A4.damper", "30 %")
        self.assertAlmostEqual(next(r.damper for r in self.job.design.runs if r.id == "A4"), 0.3)
        self.assertIn("short", " ".join(f.rule.name for f in self.view.r.findings))

    def test_unit_pick_resets_its_air(self):
        self.station(3)
        self.choose("system.unit", "torrow-cx-42")
        self.assertEqual(self.job.design.indoor_units[0].unit, "torrow-cx-42")
        self.assertEqual(self.headline(4).figure, "1,400")
        self.assertEqual(self.headline(3).mark, "fails")

    def test_size_all_and_balance(self):
        self.station(5)
        self.window.select("run", "A5")
        self.settle()
        self.button("size_all")
        self.assertEqual(self.window.document.stack.undoText(), "Size all runs")
        self.window.edit("Close it", lambda job: replace(job, "runs", "A5", damper=0.1))
        self.settle()
        self.button("balance")
        self.assertEqual(self.window.document.stack.undoText(), "Balance the dampers")
        got = [
            self.view.r.network.room_m3_s[r.id] / float(self.view.r.room_m3_s[i])
            for i, r in enumerate(self.job.rooms)
        ]
        self.assertLess(max(got) - min(got), 0.05)


class TestPlan(WindowTest):
    def test_zoom_pan_fit(self):
        plan = self.window.plan
        scale, origin = plan.sheet.scale, plan.sheet.origin
        self.key(Qt.Key.Key_Plus, Qt.KeyboardModifier.ControlModifier)
        self.assertGreater(plan.sheet.scale, scale)
        self.drag(plan, QPoint(300, 200), QPoint(360, 230), Qt.MouseButton.MiddleButton)
        self.assertNotEqual(plan.sheet.origin, origin)
        self.key(Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual((plan.sheet.scale, plan.sheet.origin), (scale, origin))

    def test_zoom_keeps_the_point_under_the_pointer(self):
        plan = self.window.plan
        at = self.at_room("study")
        before = plan.sheet.to_m(at.toPointF())
        plan.zoom(2.0, at.toPointF())
        after = plan.sheet.to_m(at.toPointF())
        self.assertAlmostEqual(before[0], after[0], places=9)
        self.assertAlmostEqual(before[1], after[1], places=9)

    def test_tape(self):
        self.key("m")
        self.assertEqual(self.window.plan.tool, "measure")
        self.drag(self.window.plan, self.at_m(0, 1), self.at_m(17 * FT, 1))
        self.assertRegex(self.window.status.message, r"Measured 1[67]′")
        self.key("v")
        self.assertEqual(self.window.plan.tool, "select")

    def test_plan_does_not_move_between_lenses_and_stations(self):
        plan = self.window.plan
        self.station(2)
        where = (plan.sheet.scale, plan.sheet.origin)
        for number in (1, 4, 5, 6, 7, 2):
            self.station(number)
            for k in range(len(self.window.station.lenses)):
                self.window.set_lens(k)
                self.settle()
                self.assertEqual((plan.sheet.scale, plan.sheet.origin), where, (number, k))

    def test_hour_steps_and_strip_click(self):
        self.station(2)
        self.key("]")
        peak = self.view.r.loads.house.hour
        self.assertEqual(self.window.hour, peak + 1)
        self.key("[")
        self.key("[")
        self.assertEqual(self.window.hour, peak - 1)
        strip = self.window.strip
        r = strip.chart_rect()
        self.click(strip, QPoint(int(r.left() + 14 + (r.width() - 14) * 8.5 / 24), 50))
        self.assertEqual(self.window.hour, 9)

    def test_arithmetic_of_the_west_glass(self):
        self.station(2)
        self.row("room", "living")
        self.assertEqual(self.card.sections[0].rows[0].label, "Glass, west")
        arith = next(s.arithmetic for s in self.card.sections if hasattr(s, "arithmetic"))
        self.assertTrue(any("×" in line.worked("ip") for line in arith.lines))
        self.key("=")
        self.assertGreater(self.window.card.verticalScrollBar().value(), 100)


class TestLineSet(WindowTest):
    def test_typed_it_is_measured_and_emptied_it_goes_as_placed(self):
        self.station(3)
        self.assertEqual(self.field("line.length_m").accessibleName(), "Line set")
        self.type_into("line.length_m", "40")
        self.assertAlmostEqual(self.job.design.lines[0].length_m, 40 * FT)
        self.type_into("line.length_m", "")
        self.assertIsNone(self.job.design.lines[0].length_m)
        self.assertEqual(self.field("line.length_m").accessibleName(), "Line set, as placed")
        self.type_into("line.lift_m", "")
        self.assertEqual(self.field("line.lift_m").accessibleName(), "Line lift, as placed")
        self.type_into("line.length_m", "250 m")
        self.assertIn("length must be at most 200", self.window.status.message)
        for _ in range(2):
            self.window.command("edit.undo")
            self.settle()
        self.assertAlmostEqual(self.job.design.lines[0].length_m, 40 * FT)
