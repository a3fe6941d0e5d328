"""A house with heads alone, walked from Air to Handover in the window: no station sends its user back for ducts."""

from __future__ import annotations

from PyQt6.QtCore import Qt

from murvan.app.stations.air.station import HEADS
from murvan.design.propose import every_way, taken_up
from murvan.field.readings import readings_csv
from tests.app.base import WindowTest
from tests.taken import import_csv


class Ductless(WindowTest):
    open_demo = False

    def setUp(self):
        super().setUp()
        self.window.doing.files.open_demo("bungalow")
        self.settle()
        wanted = next(p for p in every_way(self.job) if p.kind == "heads")
        self.window.edit("Take up", lambda j: taken_up(j, wanted))
        self.settle()
        self.n = len(self.job.design.indoor_units)

    def words(self):
        spec = self.card
        ledger = [c.text for row in self.window.ledger.ledger.rows for c in row.cells]
        return " ".join((spec.title, spec.kicker, spec.hero_note, *ledger))

    def test_no_station_asks_for_ducts(self):
        for k in range(4, 9):
            self.station(k)
            self.assertNotIn("press 5", self.words())
            self.assertNotIn("Nothing to read yet", self.words())

    def test_air_tells_where_heads_blow_and_how_warm_the_other_rooms_are(self):
        self.station(4)
        self.window.stations[3].lens_index = HEADS
        self.window.select("room", next(r.id for r in self.job.rooms if r.use == "bath"))
        self.settle()
        self.assertIn("Room without a head", self.card.kicker)
        rows = {row.cells[0].text: [c.text for c in row.cells] for row in self.window.ledger.ledger.rows}
        self.assertEqual(rows["Bath"][1], "nothing of its own")
        open_, shut = float(rows["Bath"][3]), float(rows["Bath"][4])
        self.assertGreater(open_, shut)
        unit = self.job.design.indoor_units[0]
        own = self.window.stations[3].heads(self.view).blows
        self.assertEqual(len(own), self.n)
        self.window.select("room", next(b.room for b in own if b.unit == unit.id))
        self.settle()
        self.assertEqual(self.card.title, unit.tag)

    def test_ducts_shows_the_lines(self):
        self.station(5)
        self.assertEqual(self.headline(5).figure, "no ducts")
        self.assertEqual(len(self.window.ledger.ledger.rows), self.n)
        self.window.select("indoor_unit", self.job.design.indoor_units[1].id)
        self.settle()
        self.assertIn("maker allows", self.card.hero_note)

    def test_readings_are_typed_judged_and_go_into_the_set(self):
        self.station(7)
        first = self.job.design.indoor_units[0]
        for word, value in (("temp-return", "70"), ("temp-supply", "98")):
            self.window.select("hole", word)
            self.settle()
            self.type_into(f"read.{word}", value)
        v = self.view.v.heads[first.id]
        self.assertAlmostEqual(v.delta_k, 28 / 1.8, 2)
        self.assertAlmostEqual(v.delivered_w, v.delta_k * v.per_k_w)
        self.assertEqual(v.mark, "good" if abs(v.share - 1) <= 0.15 else v.mark)
        self.assertEqual(self.headline(7).unit, f"of {self.n} read")
        back = import_csv(self.job, readings_csv(self.job, "ip"), "ip")
        for a, b in zip(back, self.job.design.readings, strict=True):
            self.assertAlmostEqual(a.value, b.value)
            self.assertEqual((a.at, a.hole), (b.at, b.hole))
        self.station(8)
        self.assertIn(f"of {self.n} heads good", str(self.card.hero))
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(len(self.job.design.readings), 1)

    def test_simulated_readings_say_so(self):
        self.station(7)
        self.window.select("hole", "temp-supply")
        self.settle()
        for _ in range(2):
            self.window.plan.setFocus()
            self.key("s")
            self.settle(0.3)
        self.assertTrue(self.job.design.readings and self.job.design.readings[-1].simulated)
        self.assertTrue(self.view.v.simulated)
