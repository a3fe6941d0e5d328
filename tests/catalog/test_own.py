"""The user's own units: kept on the machine, joined with the shipped ones, carried by a job."""

import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from murvan.catalog import (
    CatalogError,
    keep_units,
    known_units,
    own_file,
    own_units,
    readable_own_units,
    units,
    units_in,
    units_json,
)
from murvan.design import solve
from murvan.design.units.pick import pick_unit
from murvan.model import load_job, save_job
from tests.houses import demo


class TestOwn(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        moved = mock.patch.dict(os.environ, MURVAN_HOME=str(self.folder / "home"))
        moved.start()
        self.addCleanup(moved.stop)
        base = units()["quellin-c3"]
        self.mine = base.model_copy(update={"id": "mine-36", "maker": "Own", "name": "Shed 36"})

    def test_none_at_first(self):
        self.assertEqual(own_units(), ())

    def test_kept_and_read_once(self):
        keep_units((self.mine,))
        self.assertEqual(own_units(), (self.mine,))
        self.assertIs(own_units(), own_units())
        louder = self.mine.model_copy(update={"sound_dba": 71.0})
        keep_units((louder,))
        self.assertEqual(own_units(), (louder,))

    def test_a_shipped_id_is_refused(self):
        with self.assertRaisesRegex(CatalogError, "Quellin|C3: the id 'quellin-c3' is that of a shipped unit"):
            keep_units((units()["quellin-c3"],))
        self.assertEqual(own_units(), ())

    def test_a_spoilt_file_stops_no_job_and_is_not_overwritten(self):
        own_file().parent.mkdir(parents=True)
        own_file().write_text('{"units": [', "utf-8")
        self.assertEqual(readable_own_units(), ())
        with self.assertRaises(CatalogError):
            keep_units((self.mine,))
        self.assertEqual(own_file().read_text("utf-8"), '{"units": [')
        self.assertTrue(solve(demo()).main.equipment.candidates)

    def test_the_same_id_twice_in_a_file(self):
        file = self.folder / "two.json"
        file.write_text(units_json((self.mine, self.mine)), "utf-8")
        with self.assertRaisesRegex(CatalogError, "'mine-36' stands twice"):
            units_in(file)

    def test_a_job_goes_first(self):
        other = self.mine.model_copy(update={"price": 1.0})
        self.assertEqual(known_units((other,), (self.mine,))["mine-36"].price, 1.0)
        self.assertEqual(known_units((), (self.mine,))["mine-36"].price, self.mine.price)

    def test_picked_saved_and_opened_on_a_machine_without_it(self):
        keep_units((self.mine,))
        job = pick_unit(demo(), demo().design.indoor_units[0].id, "mine-36")
        self.assertEqual(job.units, (self.mine,))
        self.assertEqual(pick_unit(job, job.design.indoor_units[0].id, "mine-36").units, (self.mine,))
        here = solve(job)
        save_job(job, self.folder / "a.murvan")
        own_file().unlink()
        there = solve(load_job(self.folder / "a.murvan"))
        self.assertEqual(there.main.equipment.chosen.unit.name, "Shed 36")
        self.assertEqual(there.main.equipment.chosen.total_w, here.main.equipment.chosen.total_w)
        # it is the twin of a shipped unit, so it must give the shipped one's figures
        twin = solve(pick_unit(demo(), job.design.indoor_units[0].id, "quellin-c3"))
        self.assertEqual(there.main.equipment.chosen.total_w, twin.main.equipment.chosen.total_w)

    def test_an_edit_of_a_carried_unit_is_seen_by_the_next_solve(self):
        keep_units((self.mine,))
        job = pick_unit(demo(), demo().design.indoor_units[0].id, "mine-36")
        first = solve(job)
        table = self.mine.cooling
        weak = table.model_copy(update={"total_w": tuple(tuple(x * 0.9 for x in row) for row in table.total_w)})
        weaker = self.mine.model_copy(update={"cooling": weak})
        second = solve(job.model_copy(update={"units": (weaker,)}), first)
        self.assertLess(second.main.equipment.chosen.total_w, first.main.equipment.chosen.total_w * 0.91)
