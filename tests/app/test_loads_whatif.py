"""What-if at Loads: make an alternative, change it, see it beside the house, carry it out, undo."""

from __future__ import annotations

import dataclasses
import time
import unittest

from PyQt6.QtCore import QPointF, QRectF, Qt

from murvan.app.stations.base import List_
from murvan.app.stations.loads.whatif import _columns, _measure_rows, _smaller
from murvan.catalog import units as catalog_units
from murvan.model.edit import changed
from tests.app.base import WindowTest
from tests.houses import demo


class WhatIf(WindowTest):
    def setUp(self):
        super().setUp()
        self.before = changed(demo(), "", alternatives=())
        self.window.document.open_job(self.before, None)
        self.settle()
        self.station(2)
        self.window.set_lens(4)
        self.studied()

    def studied(self):
        """Wait until the alternatives belong to the present job."""
        limit = time.monotonic() + 15
        while True:
            self.settle(0.05)
            figures = self.window.document.figures
            if figures and figures.study and figures.study.job is self.job:
                self.settle()
                return figures.study
            self.assertLess(time.monotonic(), limit, "no study")

    def listed(self, title):
        return next(s for s in self.card.sections if isinstance(s, List_) and s.title == title).rows

    def add(self):
        self.click(self.window.page, _columns(QRectF(self.window.page.rect()), self.studied())[0][0].center())
        self.settle()
        self.button("add")
        return self.job.alternatives[-1].id

    def test_a_new_alternative_is_made_changed_and_undone(self):
        item = self.add()
        self.assertEqual(self.view.selected("alternative"), item)
        self.type_into(f"{item}.name", "Attic and sealing")
        self.type_into(f"{item}.attic_r_m2k_w", "49")
        self.type_into(f"{item}.ach50", "3")
        study = self.studied()
        self.assertLess(study.alternatives[0].heating_w, study.now.heating_w - 2000)
        rows = {r.label: r for r in self.listed("Against the house as it is")}
        self.assertEqual(rows["Cooling"].value, self.view.num("kpower", study.alternatives[0].cooling_w))
        self.assertIn("−", rows["Heating"].second)
        for _ in range(4):
            self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, self.before)

    def test_the_ranking_names_the_unit_where_it_becomes_another(self):
        study = self.studied()
        units = [u for u in catalog_units().values() if u.kind == study.now.unit.kind and u is not study.now.unit]
        effect = study.ranking[0]
        self.assertEqual(_smaller(study, effect), "")
        other = dataclasses.replace(effect, outcome=dataclasses.replace(effect.outcome, unit=units[0]))
        self.assertEqual(_smaller(study, other), f"; then {units[0].name} fits")
        none = dataclasses.replace(effect, outcome=dataclasses.replace(effect.outcome, unit=None))
        self.assertEqual(_smaller(study, none), "; then no size of its kind fits")

    def test_the_ledger_has_every_room_as_it_is_and_changed(self):
        item = self.add()
        self.type_into(f"{item}.blinds", "30")
        study = self.studied()
        row = next(r for r in self.window.ledger.ledger.rows if r.key == ("room", "living"))
        self.assertEqual(row.cells[3].text, self.view.num("power", float(study.alternatives[0].rooms_cooling_w[0])))
        total = self.window.ledger.ledger.total
        self.assertEqual(total.cells[3].text, self.view.num("power", study.alternatives[0].cooling_w))

    def test_a_field_left_empty_changes_nothing_again(self):
        item = self.add()
        self.type_into(f"{item}.ach50", "3")
        self.assertEqual(self.job.alternatives[0].ach50, 3.0)
        self.type_into(f"{item}.ach50", "")
        self.assertIsNone(self.job.alternatives[0].ach50)

    def test_it_is_carried_out_in_one_step(self):
        item = self.add()
        self.type_into(f"{item}.ach50", "3")
        cooling = self.studied().alternatives[0].cooling_w
        self.button("carry")
        self.settle()
        self.assertEqual((self.job.leakage.ach50, self.job.alternatives), (3.0, ()))
        self.assertAlmostEqual(self.view.r.loads.house_cooling_w, cooling, places=6)
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job.leakage.ach50, demo().leakage.ach50)

    def test_a_measure_is_picked_on_the_page_and_kept(self):
        study = self.studied()
        box, _, key = _measure_rows(QRectF(self.window.page.rect()), study)[0]
        self.click(self.window.page, box.center())
        self.settle()
        self.assertEqual(self.view.selected("measure"), key)
        self.button("keep")
        self.assertEqual(self.job.alternatives[0].ach50, 3.0)
        self.assertIn("Air sealing", self.window.document.stack.undoText())

    def test_a_column_is_picked_on_the_page_copied_and_removed(self):
        self.add()
        self.add()
        study = self.studied()
        self.click(self.window.page, _columns(QRectF(self.window.page.rect()), study)[1][0].center())
        self.settle()
        first = self.job.alternatives[0].id
        self.assertEqual(self.view.selected("alternative"), first)
        self.button("copy")
        self.assertEqual(len(self.job.alternatives), 3)
        self.button("drop")
        self.assertEqual(len(self.job.alternatives), 2)

    def test_wrong_input_is_refused_in_words(self):
        item = self.add()
        self.type_into(f"{item}.blinds", "300")
        self.assertIn("1", self.window.status.message)
        self.assertIsNone(self.job.alternatives[0].blinds)

    def test_pictures_in_both_themes_and_units(self):
        self.add()
        self.studied()
        for command in ("view.units", "view.theme"):
            self.window.command(command)
            self.settle()
            self.assertFalse(self.window.page.grab().isNull())

    def test_other_lenses_do_not_work_it_out(self):
        self.window.set_lens(0)
        self.settle()
        self.type_into("leakage.ach50", "5")
        self.settle(0.5)
        study = self.window.document.figures.study
        self.assertTrue(study is None or study.job is not self.job)
        self.click(self.window.rail, self.window.rail.target("lens", "4").center() + QPointF(0, 0))
        self.studied()


if __name__ == "__main__":
    unittest.main()
