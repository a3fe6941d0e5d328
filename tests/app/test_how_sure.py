"""The lens How sure in the window: designs side by side, and a measurement that is typed."""

from __future__ import annotations

from murvan.app.stations.equipment.station import SURE_LENS
from murvan.design.propose import as_option, every_way
from murvan.model.edit import changed
from tests.app.base import WindowTest


class HowSure(WindowTest):
    open_demo = False

    def setUp(self):
        super().setUp()
        self.window.doing.files.open_demo("narrow")
        self.settle()
        heads = next(p for p in every_way(self.job) if p.kind == "heads")
        self.window.edit("Keep it", lambda j: as_option(j, heads))
        self.station(3)
        self.own = self.window.stations[2]
        self.own.lens_index = SURE_LENS
        self.window.go(3)
        self.wait()

    def wait(self):
        for _ in range(500):
            self.settle(0.02)
            if self.own.surely(self.view):
                self.settle()
                return
        self.fail("the houses are not drawn")

    def test_designs_stand_side_by_side_and_a_typed_measurement_tells(self):
        one, two = self.own.surely(self.view)
        self.assertIn(f"{one.sure.holds} of 500", self.card.title)
        whole = self.window.ledger.ledger.total
        self.assertEqual([c.text for c in whole.cells][3:5], [str(one.sure.holds), str(two.sure.holds)])
        first = next(m for m in one.sure.measures if m.doubt.id == "leakage")
        self.assertIn("Blower door", first.doubt.how)
        self.window.edit(
            "Blower door", lambda j: changed(j, j.name, leakage=changed(j.leakage, "Leakage", measured=True))
        )
        self.wait()
        again = self.own.surely(self.view)[0]
        self.assertNotIn("leakage", {m.doubt.id for m in again.sure.measures})
        low, high = again.sure.heating_band_w
        before = one.sure.heating_band_w
        self.assertLess(high - low, before[1] - before[0])
