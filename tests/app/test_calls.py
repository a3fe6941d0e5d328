"""Calls tried in the window: a door, a zone, the blower; the plan, the table and the card say what the air does."""

from __future__ import annotations

from PyQt6.QtCore import Qt

from murvan.app.stations.air import ZONES
from murvan.model import replace
from tests.app.base import WindowTest
from tests.design.test_zoning import zoned


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


class Zones(WindowTest):
    """The lens with every combination of zones that call."""

    def setUp(self):
        super().setUp()
        self.key("4")
        self.window.set_lens(ZONES)
        self.settle()

    def test_a_row_for_every_combination_and_the_plan_as_it_calls(self):
        rows = self.window.ledger.ledger.rows
        self.assertEqual([r.cells[0].text for r in rows], ["Ground + Upper", "Ground", "Upper"])
        self.window.set_storey("upper")
        self.window.pick_row("zone_call", "1")
        self.settle()
        self.assertEqual(self.window.card.spec.title, "Ground")
        lens = self.window.plan.sheet.lens
        self.assertEqual(lens.room_text["bed1"][1][0], "0")
        self.assertNotIn("bed1", lens.fills)
        self.window.plan.setFocus()
        self.key(Qt.Key.Key_Down)
        self.assertEqual(self.window.card.spec.title, "Upper")
        self.assertIn("bed1", self.window.plan.sheet.lens.fills)
        self.window.set_storey("ground")
        self.settle()
        texts = [line[0] for line in self.window.plan.sheet.lens.room_text["study"]]
        self.assertIn("past its damper", texts)

    def test_what_is_wrong_stands_on_the_card(self):
        self.window.edit("Take the blower down", lambda job: replace(job, "indoor_units", "unit1", tap=5))
        rooms = tuple(r.id for r in self.job.rooms if r.id != "bath")
        self.window.edit("Zones", lambda job: zoned(job, ("bath",), rooms))
        self.settle()
        self.window.pick_row("zone_call", "1")
        self.settle()
        self.assertEqual(self.window.card.spec.mark, "look")
        wrong = next(s for s in self.window.card.spec.sections if getattr(s, "title", "") == "What is wrong")
        self.assertIn("Zone of baths alone", [r.label for r in wrong.rows])

    def test_a_house_without_zone_dampers_is_told_what_to_do(self):
        self.window.edit("No zones", lambda job: zoned(job))
        self.settle()
        self.assertEqual(self.window.card.spec.title, "Not judged")
        self.assertIn("press N on Ducts", self.window.card.spec.hero_note)
