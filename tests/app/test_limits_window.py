"""Size limits, lock-outs, kept heat and measured power as they are typed on the Equipment card."""

import re
import unittest

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from murvan.catalog import own_limits
from murvan.units import CFM
from tests.app.base import WindowTest


class TestEquipmentCard(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.go(3)
        self.settle()

    @property
    def job(self):
        return self.window.document.job

    def field(self, key):
        return next(f for s in self.window.card.spec.sections for f in getattr(s, "fields", ()) if f.key == key)

    def put(self, key, value):
        done = self.window.apply_field(self.field(key), value)
        self.settle()
        return done

    def words(self):
        rows = [r for s in self.window.card.spec.sections for r in getattr(s, "rows", ())]
        return " ".join(f"{r.label} {r.value} {r.note}" for r in rows)

    def test_a_changed_limit_judges_at_once_and_is_the_jobs_own(self):
        self.assertTrue(self.put("sizing.variable", 1.0))
        self.put("sizing.next", "no")
        self.assertEqual((self.job.sizing.name, self.job.sizing.basis), ("Published standard, changed", "as typed"))
        self.assertIn("unit-size", {f.rule.id for f in self.window.view().r.findings})
        self.assertIn("90 – 100", self.words())
        self.window.command("edit.undo")
        self.window.command("edit.undo")
        self.settle()
        self.assertEqual(self.job.sizing.id, "published")

    def test_kept_and_chosen_in_another_job(self):
        self.put("sizing.variable", 1.1)
        self.put("sizing.name", "Brindlewick")
        self.window.plan.setFocus()
        QTest.keyClick(self.window.centralWidget(), Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
        self.settle()
        self.assertEqual([x.name for x in own_limits()], ["Brindlewick"])
        self.window.document.stack.setClean()
        self.window.doing.files.open_demo("bungalow")
        self.window.go(3)
        self.settle()
        mine = own_limits()[0].id
        self.assertIn((mine, "Brindlewick"), self.field("sizing.set").options)
        self.put("sizing.set", mine)
        self.assertEqual(self.job.sizing.variable, 1.1)

    def test_a_set_that_ships_is_not_kept_and_it_is_said(self):
        self.window.command("equipment.limits")
        self.assertIn("ships", self.window.status.message)
        self.assertEqual(own_limits(), ())

    def test_limits_out_of_order_are_refused_where_typed(self):
        self.assertFalse(self.put("sizing.two", 0.4))
        self.assertIn("lies below the least", self.window.status.message)

    def test_stages_and_lock_outs(self):
        self.assertIn("Backup stage 1, 5 kW below", self.words())
        self.put("system1.heater_lockout", -20.0)
        self.assertIn("Short, backup kept off", self.words())
        self.put("system1.heater_lockout", "")
        self.assertNotIn("Short, backup kept off", self.words())

    def test_all_heat_kept_is_no_pass_and_no_fail(self):
        self.put("system.heat_share", 0.0)
        rows = [r for s in self.window.card.spec.sections for r in getattr(s, "rows", ())]
        kept = next(r for r in rows if r.label.startswith("Heat, kept"))
        self.assertIsNone(kept.mark)
        cells = [c for row in self.window.ledger.ledger.rows for c in row.cells]
        self.assertFalse([c for c in cells if "nan" in c.text or (c.bar is not None and c.bar != c.bar)])
        spec = self.window.card.spec
        self.assertNotIn("nan", " ".join([*(x for part in (*spec.hero, *spec.side) for x in part), self.words()]))

    def test_a_head_without_rooms_shows_no_figures_of_none(self):
        self.window.command("equipment.ducted")
        self.settle()
        for lens in (0, 1, 2):
            self.window.set_lens(lens)
            self.settle()
            self.window.doing.systems.equipment_pick()
            self.settle()
            spec = self.window.card.spec
            said = " ".join([*(x for part in (*spec.hero, *spec.side) for x in part), self.words()])
            self.assertNotIn("nan", said)
            self.assertFalse(self.window.grab().isNull())

    def test_measured_power_against_the_unit(self):
        self.put("energy.volts", 230.0)
        self.put("energy.amps", 43.0)
        titles = [s.arithmetic.title for s in self.window.card.spec.sections if hasattr(s, "arithmetic")]
        self.assertIn("Power while it runs", titles)
        for units in ("si", "ip"):
            self.window.prefs.set(units=units)
            self.settle()
            self.assertFalse(self.window.card.grab().isNull())

    def test_air_until_a_unit_is_picked_is_said(self):
        self.window.document.stack.setClean()
        self.open_bare("bungalow")
        self.window.go(3)
        self.settle()
        # by the sensible load: more than the rule of thumb of 400
        found = re.search(r"Air until one is picked ([\d,]+) cfm (\d+) cfm a ton", self.words())
        self.assertGreater(int(found[2]), 400)
        self.assertAlmostEqual(
            float(found[1].replace(",", "")),
            self.window.document.figures.results.main.airflow.total_m3_s / CFM,
            delta=1,
        )
        self.window.prefs.set(units="si")
        self.settle()
        self.assertIn("66 L/s a kW", self.words())  # 488 cfm a ton


if __name__ == "__main__":
    unittest.main()
