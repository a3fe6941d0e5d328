"""Things that warm a room: picked from the list, changed, removed, undone; people by the hour; night setback."""

from __future__ import annotations

import unittest

from PyQt6.QtCore import Qt

from murvan.app.stations.base import Arith, List_
from murvan.app.worked import _result
from murvan.catalog import appliances
from murvan.design.loads.components import COLUMN
from murvan.model import replace_part
from tests.app.base import WindowTest
from tests.houses import demo


class Things(WindowTest):
    def setUp(self):
        super().setUp()
        self.station(2)
        self.window.set_lens(0)
        self.window.select("room", "living")
        self.settle()

    def things(self):
        return next(s for s in self.card.sections if isinstance(s, List_) and s.title == "Things that warm it").rows

    def test_a_thing_is_added_changed_removed_and_undone(self):
        before = self.view.r.loads.latent_w[0]
        self.assertEqual(self.things()[0].label, "None listed")
        self.choose("living.add_thing", "Aquarium, 50 gal")
        self.assertEqual(self.things()[0].label, "Aquarium, 50 gal")
        self.assertAlmostEqual(self.view.r.loads.latent_w[0] - before, appliances()["Aquarium, 50 gal"].latent_w)
        self.window.select("appliance", "thing1")
        self.settle()
        self.type_into("thing1.count", "2")
        self.assertAlmostEqual(self.view.r.loads.latent_w[0] - before, 120.0)
        self.type_into("thing1.from", "8")
        self.assertEqual(self.job.appliances[0].from_hour, 8)
        self.button("room")
        self.settle()
        self.assertEqual(self.things()[0].label, "2 × Aquarium, 50 gal")
        self.window.select("appliance", "thing1")
        self.settle()
        self.button("drop")
        self.settle()
        self.assertEqual(self.job.appliances, ())
        self.assertEqual(self.card.title, "Living")
        for _ in range(4):
            self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, demo())

    def test_wrong_hours_are_refused(self):
        self.choose("living.add_thing", "Television")
        self.window.select("appliance", "thing1")
        self.settle()
        self.type_into("thing1.to", "25")
        self.assertEqual(self.job.appliances[0].to_hour, 23)
        self.assertIn("24", self.window.status.message)

    def test_it_goes_with_its_room(self):
        self.choose("living.add_thing", "Television")
        self.window.select("room", "living")
        self.settle()
        from murvan.model import remove

        self.window.edit("Remove", lambda job: remove(job, "rooms", "living", with_dependents=True))
        self.settle()
        self.assertEqual(self.job.appliances, ())

    def test_people_who_come_home_in_the_evening(self):
        self.type_into("living.from", "17")
        self.type_into("living.to", "23")
        self.assertEqual((self.job.rooms[0].people_from, self.job.rooms[0].people_to), (17, 23))
        self.assertEqual(float(self.view.r.gains.people_w[0, 11]), 0.0)

    def test_night_setback_in_the_heating_lens(self):
        self.window.set_lens(1)
        self.settle()
        self.type_into("day.setback", "6 °F")
        k = COLUMN["recovery"]
        self.assertGreater(self.view.r.loads.heating_parts[0, k], 50)
        self.window.select("component", "living:recovery")
        self.settle()
        titles = [s.arithmetic.title for s in self.card.sections if isinstance(s, Arith)]
        self.assertIn("Morning recovery, heating", titles)

    def test_the_west_glass_at_17_is_opened(self):
        self.window.set_lens(2)
        self.window.set_hour(17)
        self.settle()
        self.window.select("component", "living:glass_W")
        self.settle()
        a = next(s.arithmetic for s in self.card.sections if isinstance(s, Arith) and s.main)
        self.assertEqual(a.title, "Glass, west, 17:00")
        self.assertIn("G1 sun now", [line.label for line in a.lines])
        m = self.window.station.month_index(self.view)
        total = next(x for x in a.lines if x.bold).result.value
        self.assertAlmostEqual(total, float(self.view.r.loads.parts_by_hour_w[m, 0, COLUMN["glass_W"], 16]))


class Fields(WindowTest):
    def setUp(self):
        super().setUp()
        self.station(2)
        self.window.select("room", "living")
        self.settle()

    def test_the_rooms_own_and_the_houses_stand_apart(self):
        titles = [s.title for s in self.card.sections if hasattr(s, "fields")]
        self.assertEqual(titles, ["This room", "The whole house"])
        self.type_into("living.blinds", "40")
        changed_rooms = {
            a.room for a, b in zip(self.job.openings, demo().openings, strict=True) if a.blinds != b.blinds
        }
        self.assertEqual(changed_rooms, {"living"})

    def test_summer_design_moves_typed_hours_along(self):
        hours = tuple(25.0 + k % 8 for k in range(24))
        self.window.edit("Hours", lambda job: replace_part(job, "climate", hourly_c=hours))
        self.settle()
        before = self.job.climate
        self.type_into("climate.summer", "95")
        after = self.job.climate
        step = after.summer_c - before.summer_c
        self.assertGreater(step, 1.0)
        for a, b in zip(after.hourly_c, before.hourly_c, strict=True):
            self.assertAlmostEqual(a - b, step)

    def test_the_arithmetic_names_units_that_differ(self):
        self.window.set_lens(1)
        self.window.select("component", "living:leakage")
        self.settle()
        arithmetic = next(s.arithmetic for s in self.card.sections if isinstance(s, Arith) and s.main)
        shown = [_result(x, arithmetic, "ip") for x in arithmetic.lines]
        self.assertTrue(shown[0].endswith("cfm"), shown)
        self.assertTrue(shown[1].endswith("in²"), shown)
        self.assertTrue(shown[-1].endswith("Btu/h"), shown)
        self.assertRegex(shown[-2], r"^[\d,]+$")


if __name__ == "__main__":
    unittest.main()
