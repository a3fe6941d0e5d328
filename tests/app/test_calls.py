"""Calls tried in the window: a door, a zone, the blower; the plan, the table and the card say what the air does."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest

from murvan.app.stations.air.station import ZONES
from murvan.design.zones.drawing import join_zone
from murvan.model import replace
from tests.app.base import WindowTest
from tests.design.zones.test_calling import zoned


class Calls(WindowTest):
    def setUp(self):
        super().setUp()
        self.key("4")
        for _ in range(3):
            self.window.command("view.lens")
        self.settle()

    def state(self, key):
        row = next(r for r in self.window.station.ledger(self.view).rows if r.key == ("call", key))
        return row.cells[1].text

    def texts(self, room):
        return [line[0] for line in self.window.plan.sheet.lens.room_text[room]]

    def test_a_zone_is_shut_by_a_click_and_opened_by_space(self):
        before = self.job
        was = self.texts("living")[1]
        self.window.pick_row("call", "zone:1")
        self.settle()
        self.assertEqual(self.state("zone:1"), "shut")
        self.assertEqual(self.texts("living")[1:], ["0", f"was {was}"])
        self.assertIn("living", self.window.plan.sheet.lens.fills)
        self.window.plan.setFocus()
        self.key(" ")
        self.assertEqual(self.state("zone:1"), "calls")
        self.assertEqual(self.texts("living")[1:], [was])
        self.assertIs(self.job, before, "trying changes no job")

    def test_all_back(self):
        for key in ("door:bed1", "filter:filter", "winter:winter"):
            self.window.pick_row("call", key)
        self.settle()
        self.assertEqual(self.window.card.spec.title, "3 calls the other way")
        self.window.plan.setFocus()
        self.key("x")
        self.assertEqual(self.window.card.spec.title, "As usual")

    def test_the_card_has_the_blower_as_tried(self):
        self.window.pick_row("call", "blower:unit1")
        self.settle()
        self.assertLess(float(self.window.card.spec.hero[0][0]), 60)  # what the ventilator drives through it
        self.assertIn("as usual", self.window.card.spec.hero_note)

    def test_without_ducts_it_says_so(self):
        self.open_bare("bungalow")
        self.key("4")
        if self.window.station.missing(self.view):
            return
        self.assertIn("lay ducts", self.window.card.spec.hero_note)

    def click(self, at):
        QTest.mouseClick(self.window.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at.toPoint())
        self.settle()

    def test_a_click_on_a_door_shuts_it_and_one_on_a_thermostat_stops_its_zone(self):
        self.window.set_storey("ground")
        self.settle()
        sheet = self.window.plan.sheet
        door = next(o for o in sheet.openings() if sheet.lens.door_calls.get(o.id) == "door:study")
        a, b = list(sheet.ends(door)[:2])
        self.click((a + b) / 2)
        self.assertEqual(self.state("door:study"), "shut")
        self.click((a + b) / 2)
        self.assertEqual(self.state("door:study"), "open")
        zone = next(z for z in self.job.design.zones if z.id == "1")
        self.click(sheet.to_px(*zone.position_m))
        self.assertEqual(self.state("zone:1"), "shut")
        self.assertEqual(self.window.plan.sheet.lens.calling, frozenset({"2"}))
        self.assertFalse(self.window.document.modified)


class Zones(WindowTest):
    """The lens with every combination of zones that call."""

    def setUp(self):
        super().setUp()
        self.key("4")
        self.window.set_lens(ZONES)
        self.zones_found()

    def test_a_row_for_every_combination_and_the_plan_as_it_calls(self):
        rows = self.window.ledger.ledger.rows
        self.assertEqual([r.cells[0].text for r in rows], ["Ground + Upper", "Ground", "Upper"])
        self.window.set_storey("upper")
        self.window.pick_row("zone_call", "1")
        self.zones_found()
        self.assertEqual(self.window.card.spec.title, "Ground")
        lens = self.window.plan.sheet.lens
        self.assertEqual(lens.room_text["bed1"][1][0], "0")
        self.assertNotIn("bed1", lens.fills)
        self.window.plan.setFocus()
        self.key(Qt.Key.Key_Down)
        self.assertEqual(self.window.card.spec.title, "Upper")
        self.assertIn("bed1", self.window.plan.sheet.lens.fills)
        self.window.set_storey("ground")
        self.zones_found()
        texts = [line[0] for line in self.window.plan.sheet.lens.room_text["study"]]
        self.assertIn("past its damper", texts)

    def test_what_is_wrong_stands_on_the_card(self):
        self.window.edit("Take the blower down", lambda job: replace(job, "indoor_units", "unit1", tap=5))
        rooms = tuple(r.id for r in self.job.rooms if r.id != "bath")
        self.window.edit("Zones", lambda job: zoned(job, ("bath",), rooms))
        self.zones_found()
        self.window.pick_row("zone_call", "1")
        self.zones_found()
        self.assertEqual(self.window.card.spec.mark, "look")
        wrong = next(s for s in self.window.card.spec.sections if getattr(s, "title", "") == "What is wrong")
        self.assertIn("Zone of baths alone", [r.label for r in wrong.rows])

    def test_a_house_without_zone_dampers_is_told_what_to_do(self):
        self.window.edit("No zones", lambda job: zoned(job))
        self.zones_found()
        self.assertEqual(self.window.card.spec.title, "Not judged")
        self.assertIn("press N on Ducts", self.window.card.spec.hero_note)

    def field(self, key):
        return next(f for s in self.window.card.spec.sections for f in getattr(s, "fields", ()) if f.key == key)

    def test_a_click_on_a_thermostat_picks_the_combination_without_its_zone(self):
        self.window.set_storey("ground")
        self.zones_found()
        zone = next(z for z in self.job.design.zones if z.id == "1")
        at = self.window.plan.sheet.to_px(*zone.position_m).toPoint()
        for title in ("Upper", "Ground + Upper"):
            QTest.mouseClick(self.window.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
            self.settle()
            self.assertEqual(self.window.card.spec.title, title)

    def test_a_room_looked_at_keeps_the_combination(self):
        self.window.pick_row("zone_call", "2")
        self.window.set_storey("ground")
        self.zones_found()
        QTest.mouseClick(
            self.window.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, self.middle("kitchen")
        )
        self.settle()
        self.assertEqual(self.window.document.selection.kind, "room")
        self.assertEqual(self.window.card.spec.title, "Upper")

    def test_another_way_to_part_the_house_by_key_and_by_choice(self):
        before = {frozenset(z.rooms) for z in self.job.design.zones}
        self.window.plan.setFocus()
        self.key("p")
        self.zones_found()
        self.assertNotEqual({frozenset(z.rooms) for z in self.job.design.zones}, before)
        self.assertTrue(all(z.position_m for z in self.job.design.zones))
        self.window.card.apply(self.field("zones.parted"), "storey")
        self.zones_found()
        self.assertEqual([z.name for z in self.job.design.zones], ["Ground", "Upper"])
        self.assertEqual(len(self.window.ledger.ledger.rows), 3)

    def test_a_school_is_taken_and_its_bypass_changed(self):
        self.window.card.apply(self.field("zones.school"), "barometric")
        self.zones_found()
        self.assertEqual(self.job.design.indoor_units[0].bypass.kind, "barometric")
        self.assertIn("back by the bypass", self.window.card.spec.hero_note)
        before = self.window.ledger.ledger.rows[1].cells[3].text
        self.window.card.apply(self.field("unit1.bypass.size"), 0.4)
        self.zones_found()
        self.assertNotEqual(self.window.ledger.ledger.rows[1].cells[3].text, before)
        self.assertFalse(self.window.card.apply(self.field("unit1.bypass.size"), 5.0))
        self.window.set_storey("ground")
        self.window.go(5)
        self.settle()
        with_it = self.window.plan.grab().toImage()
        self.window.edit("Without", lambda job: replace(job, "indoor_units", "unit1", bypass=None))
        self.settle()
        self.assertNotEqual(self.window.plan.grab().toImage(), with_it, "it is drawn from plenum to plenum")

    def test_zones_that_no_way_serves_are_not_given_one(self):
        self.window.edit("Zones of baths", lambda job: zoned(job, ("bath", "utility"), ("study", "landing")))
        self.zones_found()
        titles = [s.title for s in self.window.card.spec.sections if hasattr(s, "title")]
        self.assertIn("Do not zone this unit so", titles)
        self.assertIn("What would", titles)
        self.assertNotIn("Air left over", titles)
        self.assertEqual([v for v, _ in self.field("zones.school").options], ["plain"])

    def test_a_zone_is_renamed_and_keeps_open(self):
        self.window.card.apply(self.field("1.name"), "Down below, with a long name that goes on")
        self.zones_found()
        self.assertIn("Down below", self.window.ledger.ledger.rows[0].cells[0].text)
        self.window.card.apply(self.field("1.least"), 0.5)
        self.zones_found()
        self.assertEqual(self.job.design.zones[0].least, 0.5)
        self.assertFalse(self.window.card.apply(self.field("1.least"), 1.5))

    def middle(self, room):
        return self.window.plan.sheet.shape(room).centre.toPoint()

    def drag(self, a, b, modifier=Qt.KeyboardModifier.NoModifier):
        plan = self.window.plan
        QTest.mousePress(plan, Qt.MouseButton.LeftButton, modifier, a)
        for k in range(1, 9):
            at = QPointF(a + (b - a) * k / 8)
            move = QMouseEvent(
                QEvent.Type.MouseMove,
                at,
                plan.mapToGlobal(at),
                Qt.MouseButton.NoButton,
                Qt.MouseButton.LeftButton,
                modifier,
            )
            self.app.sendEvent(plan, move)
        QTest.mouseRelease(plan, Qt.MouseButton.LeftButton, modifier, b)
        self.settle()

    def test_rooms_are_dragged_to_a_zone_of_their_own(self):
        self.window.set_storey("ground")
        self.zones_found()
        self.key("z")
        self.drag(self.middle("dining"), self.middle("kitchen"), Qt.KeyboardModifier.AltModifier)
        self.zones_found()
        zones = {z.name: set(z.rooms) for z in self.job.design.zones}
        self.assertEqual(zones["Dining"], {"dining", "kitchen"})
        texts = [line[0] for line in self.window.plan.sheet.lens.room_text["kitchen"]]
        self.assertIn("Dining", texts)

    def test_a_room_is_dragged_onto_another_zone_and_a_thermostat_moves(self):
        self.window.set_storey("ground")
        self.window.edit("A zone", lambda job: join_zone(job, ("study",), True).job)
        self.settle()
        self.key("v")
        self.drag(self.middle("utility"), self.middle("study"))
        study = next(z for z in self.job.design.zones if "study" in z.rooms)
        self.assertIn("utility", study.rooms)
        a = self.window.plan.sheet.to_px(*study.position_m).toPoint()
        self.drag(a, self.middle("utility"))
        moved = next(z for z in self.job.design.zones if "study" in z.rooms)
        self.assertNotEqual(moved.position_m, study.position_m)
        self.drag(self.window.plan.sheet.to_px(*moved.position_m).toPoint(), self.middle("living"))
        self.assertIn("hangs in its own rooms", self.window.status.message)

    def test_a_thermostat_is_placed_by_tool(self):
        self.window.set_storey("ground")
        self.settle()
        before = self.job.design.zones[0].position_m
        self.key("y")
        at = self.middle("dining")
        QTest.mouseClick(self.window.plan, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
        self.settle()
        self.assertNotEqual(self.job.design.zones[0].position_m, before)
