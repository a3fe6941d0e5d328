"""The Heating lens: its strip of rooms by component, and figures that are never cut however small the rooms are."""

from __future__ import annotations

import re
import unittest
from unittest import mock

from PyQt6.QtCore import QPointF, Qt

from murvan.app import paint
from murvan.app.stations.loads.winter import _groups, _plot
from murvan.model.edit import changed
from tests.app.base import WindowTest
from tests.houses import many_rooms


class WinterStrip(WindowTest):
    def setUp(self):
        super().setUp()
        self.station(2)
        self.window.set_lens(1)
        self.settle()

    def test_it_tells_the_house_and_its_loss_per_degree(self):
        strip, ld = self.window.strip.strip, self.view.r.loads
        self.assertEqual(strip.hero, f"{ld.house_heating_w / 0.29307107 / 1000:.1f}")
        drop = (21.1111 - self.job.climate.winter_c) * 1.8
        self.assertEqual(strip.lines[0], f"{ld.house_heating_w / 0.29307107 / drop:.0f} Btu/h·°F")

    def test_the_columns_are_the_rooms_heating(self):
        whole = sum(v for _, v, _ in _groups(self.view))
        for got, wanted in zip(whole, self.view.r.loads.heating_w, strict=True):
            self.assertAlmostEqual(got, wanted, places=6)

    def test_a_click_on_a_column_selects_its_room(self):
        r = _plot(self.window.strip.chart_rect())
        k = [x.id for x in self.job.rooms].index("study")
        at = QPointF(r.left() + (k + 0.5) * r.width() / len(self.job.rooms), 60)
        self.click(self.window.strip, at.toPoint())
        self.settle()
        self.assertEqual(self.card.title, "Study")

    def test_nothing_to_heat(self):
        self.window.edit(
            "Warm", lambda job: changed(job, "", climate=changed(job.climate, "", winter_c=21.5, summer_c=34.0))
        )
        self.settle()
        self.assertEqual(self.window.strip.strip.lines, ("nothing to heat",))
        self.window.grab()


class Report(WindowTest):
    def test_the_load_report_is_written_by_its_keys(self):
        self.station(2)
        path = self.folder / "loads.pdf"
        with mock.patch("murvan.app.actions.working.QFileDialog.getSaveFileName", return_value=(str(path), "")):
            self.key("l", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(path.read_bytes()[:5], b"%PDF-")


class NeverCut(WindowTest):
    open_demo = False

    def test_forty_rooms_with_long_names(self):
        job = many_rooms(8, 5)
        names = (changed(r, "", name=f"Guest bedroom with bay {k}") for k, r in enumerate(job.rooms))
        self.window.document.open_job(changed(job, "", rooms=tuple(names)), None)
        self.settle()
        self.station(2)
        seen, real = [], paint._laid_out

        def laid_out(s, size, weight):
            seen.append(s)
            return real(s, size, weight)

        for lens in range(3):
            self.window.set_lens(lens)
            self.settle()
            with mock.patch.object(paint, "_laid_out", laid_out):
                self.window.plan.redraw()
                self.window.plan.grab()
        self.assertEqual([s for s in seen if re.search(r"^[−\d.,]+…", s)], [])
        self.assertTrue(any(re.search(r"… 39$", s) for s in seen), seen[:20])

    def test_a_number_at_the_end_of_a_cut_name_stays(self):
        self.assertRegex(paint.elided("Bedroom 12", 11.5, 500, 50), r"^Be.*… 12$")
        self.assertEqual(paint.elided("Bedroom 12", 11.5, 500, 500), "Bedroom 12")
        self.assertTrue(paint.elided("Bedroom 12", 11.5, 500, 12).endswith("…"))

    def test_a_long_finding_stands_in_lines_none_wider_than_its_place(self):
        """Bold is wider than plain: words that are wrapped as plain ran into the station beside them."""
        words = "The blower leaves 0.032 in wc/100 ft for its longest path, workable is 0.060 in wc/100 ft and more"
        lines = paint.wrap(words, 14, 400, 700)
        self.assertEqual(" ".join(lines), words)
        self.assertTrue(all(paint.text_width(x, 14, 700) <= 400 for x in lines))


if __name__ == "__main__":
    unittest.main()
