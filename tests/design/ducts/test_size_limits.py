"""Size limits: sets, the next size that is made, cold dry places. Figures of the published set from memory."""

import os
import tempfile
import unittest
from unittest import mock

from murvan.catalog import CatalogError, keep_limits, limit_sets, own_limits, units
from murvan.catalog.limit_sets import limits_file
from murvan.design import solve
from murvan.design.units.equipment import cold_and_dry, size_limits
from murvan.model import replace, replace_part
from murvan.model.edit import changed
from murvan.model.errors import JobValueError
from murvan.model.limits_set import PUBLISHED, TIGHT, SizeLimits
from tests.houses import demo, demo_results


def picked(unit, **sizing):
    job = replace(demo(), "indoor_units", demo().design.indoor_units[0].id, unit=unit)
    return solve(replace_part(job, "sizing", **sizing) if sizing else job)


class TestSets(unittest.TestCase):
    def setUp(self):
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        patch = mock.patch.dict(os.environ, MURVAN_HOME=home.name)
        patch.start()
        self.addCleanup(patch.stop)

    def test_published_by_speeds(self):
        self.assertEqual(
            (PUBLISHED.least, PUBLISHED.single, PUBLISHED.two, PUBLISHED.variable), (0.9, 1.15, 1.2, 1.3)
        )

    def test_a_stricter_set_is_kept_and_chosen_in_another_job(self):
        mine = SizeLimits(id="mine", name="Brindlewick", basis="local code", variable=1.1)
        keep_limits(mine)
        self.assertEqual(own_limits(), (mine,))
        self.assertEqual([x.id for x in limit_sets(PUBLISHED)], ["published", "tight", "mine"])
        other = changed(mine, variable=1.2)
        self.assertEqual(limit_sets(other)[-1], other)

    def test_those_that_ship_stay(self):
        for x in (PUBLISHED, changed(TIGHT, id="x")):
            with self.assertRaisesRegex(CatalogError, "ships"):
                keep_limits(x)

    def test_a_broken_file_stops_nothing(self):
        limits_file().parent.mkdir(parents=True, exist_ok=True)
        limits_file().write_text("{", "utf-8")
        self.assertEqual(own_limits(), ())

    def test_limits_out_of_order_are_refused_in_words(self):
        with self.assertRaisesRegex(JobValueError, "two speed lies below the least"):
            replace_part(demo(), "sizing", two=0.5)
        with self.assertRaisesRegex(JobValueError, "furnace lies below"):
            replace_part(demo(), "sizing", furnace=0.9)


class TestJudged(unittest.TestCase):
    def test_the_jobs_own_set_decides(self):
        x = demo_results().main.equipment.chosen
        self.assertEqual(x.verdict, "fits")
        strict = solve(replace_part(demo(), "sizing", variable=1.0, next_size=False)).main.equipment.chosen
        self.assertEqual((strict.limits[1], strict.verdict), (1.0, "big"))

    def test_the_next_size_made_is_allowed_and_said(self):
        least = demo_results().main.equipment.chosen.total_share + 0.01
        found = picked("orvane-vh-36", least=least, variable=least, next_size=True).main.equipment.chosen
        self.assertTrue(found.next_size)
        self.assertEqual(found.limits[1], found.total_share)
        self.assertNotEqual(found.verdict, "big")
        refused = picked("orvane-vh-36", least=least, variable=least, next_size=False).main.equipment.chosen
        self.assertEqual(refused.verdict, "big")

    def test_not_where_a_smaller_one_does(self):
        found = picked("orvane-vh-48", next_size=True).main.equipment.chosen
        self.assertEqual((found.verdict, found.next_size), ("big", False))

    def test_cold_and_dry(self):
        r = demo_results()
        self.assertFalse(cold_and_dry(r.job.climate, r.main.loads))
        dry = mock.Mock(house_cooling_w=8000.0, house_sensible_w=7900.0)
        self.assertTrue(cold_and_dry(r.job.climate, dry))
        hot = changed(r.job.climate, bin_start_c=20.0)
        self.assertFalse(cold_and_dry(hot, dry))
        self.assertFalse(cold_and_dry(r.job.climate, mock.Mock(house_cooling_w=0.0, house_sensible_w=0.0)))
        heat_pump, cooler = units()["orvane-vh-30"], next(u for u in units().values() if u.kind == "air_conditioner")
        low, high = size_limits(heat_pump, PUBLISHED, r.job.climate, dry)
        self.assertAlmostEqual(high, 1.3 + 4396.07 / 8000)
        self.assertEqual(size_limits(cooler, PUBLISHED, r.job.climate, dry)[1], getattr(PUBLISHED, cooler.stages))

    def test_backup_larger_than_needed(self):
        own = demo().design.indoor_units[0].id
        job = replace(demo(), "indoor_units", own, heater_kw=15.0)
        job = replace_part(job, "sizing", backup=1.1)
        hits = [f for f in solve(job).findings if f.rule.id == "backup-large"]
        self.assertEqual(len(hits), 1)
        mended = hits[0].hit.fix(job)
        self.assertFalse([f for f in solve(mended).findings if f.rule.id == "backup-large"])
        self.assertFalse([f for f in solve(mended).findings if f.rule.id == "heat-short"])


if __name__ == "__main__":
    unittest.main()
