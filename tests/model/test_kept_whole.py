"""Files are written whole or not at all, sets take the place of sets, and nothing that can't be read is written over."""

import errno
import json
import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from murvan.catalog import keep_limits, own_limits
from murvan.catalog.limit_sets import limits_file
from murvan.catalog.own_shop import keep_shop, own_shop, own_shop_said, shop_file
from murvan.design.metal.pieces import shop_pieces
from murvan.documents import shop_set
from murvan.documents.schedules import all_schedules, write_csv
from murvan.documents.shop_set import write_shop_set
from murvan.field import verdict
from murvan.model.atomic import PREFIX, write_atomic, write_set
from murvan.model.files import load_job, opened, opened_raw
from murvan.model.limits_set import SizeLimits
from murvan.model.shop import Shop
from tests.houses import demo, demo_results

KEPT = Path(__file__).parent / "kept"


class Folder(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        before = os.environ.get("MURVAN_HOME")
        os.environ["MURVAN_HOME"] = str(self.folder / "home")
        self.addCleanup(lambda: os.environ.__setitem__("MURVAN_HOME", before) if before else None)

    def names(self, folder=None):
        return {x.name for x in (folder or self.folder).iterdir() if not x.name.startswith(PREFIX)}


class Sets(Folder):
    def test_the_set_before_goes_and_what_is_not_of_a_set_stays(self):
        (self.folder / "notes.txt").write_text("mine")
        write_set(self.folder, "x", lambda p: [(p / n).write_text(n) for n in ("a", "b", "list")], "list")
        write_set(self.folder, "x", lambda p: [(p / n).write_text("new") for n in ("b", "list")], "list")
        self.assertEqual(self.names(), {"b", "list", "notes.txt"})
        self.assertEqual((self.folder / "b").read_text(), "new")

    def test_a_full_disk_leaves_the_old_set_and_names_the_folder(self):
        write_set(self.folder, "x", lambda p: (p / "a").write_text("old"))

        def full(p):
            (p / "a").write_text("half")
            raise OSError(errno.ENOSPC, "No space left on device", str(p / "a"))

        with self.assertRaises(OSError) as told:
            write_set(self.folder, "x", full)
        self.assertEqual(told.exception.filename, str(self.folder))
        self.assertEqual((self.folder / "a").read_text(), "old")
        self.assertEqual([x for x in self.folder.iterdir() if x.is_dir()], [])

    def test_a_file_that_can_t_be_written_is_named_as_the_user_did(self):
        def full(p):
            raise OSError(errno.ENOSPC, "No space left on device", str(p))

        with self.assertRaises(OSError) as told:
            write_atomic(self.folder / "set.pdf", full)
        self.assertEqual(told.exception.filename, str(self.folder / "set.pdf"))
        self.assertEqual(self.names(), set())

    def test_a_listing_never_leads_out_of_its_folder(self):
        outside = self.folder / "outside.txt"
        outside.write_text("stays")
        inner = self.folder / "set"
        inner.mkdir()
        (inner / f"{PREFIX}set-x").write_text("../outside.txt\n/etc/hostname\n")
        write_set(inner, "x", lambda p: (p / "a").write_text("a"))
        self.assertTrue(outside.exists())

    def test_patterns_of_the_job_before_go_and_pieces_csv_comes_last(self):
        pieces = shop_pieces(demo_results(), Shop())
        few = tuple(x for x in pieces if x.patterns)[:4]
        (self.folder / "mine.dxf").write_text("mine")
        write_shop_set(few, self.folder, frozenset({"dxf"}), "ip")
        first = self.names()
        (self.folder / f"{PREFIX}set-patterns").unlink()  # as an older Murvan left it
        order = []
        real = os.replace
        with mock.patch("murvan.model.atomic.os.replace", lambda a, b: (order.append(Path(b).name), real(a, b))):
            write_shop_set(few[:1], self.folder, frozenset({"dxf"}), "ip")
        last = self.names()
        self.assertLess(len(last), len(first))
        self.assertIn("mine.dxf", last)
        listed = [n for n in order if not n.startswith(PREFIX)]
        self.assertEqual(listed[-1], shop_set.LIST)
        self.assertEqual(
            {n for n in last if n.endswith(".dxf")} - {"mine.dxf"}, {n for n in listed if n.endswith("dxf")}
        )

    def test_schedules_take_the_place_of_schedules(self):
        found = all_schedules(demo_results(), verdict(demo(), demo_results()), "ip")
        write_csv(found, self.folder, "ip")
        write_csv(found[:2], self.folder, "ip")
        self.assertEqual(self.names(), {f"{s.id}.csv" for s in found[:2]})


class Machine(Folder):
    def test_torn_size_limits_are_kept_aside(self):
        keep_limits(SizeLimits(id="mine", name="Mine", basis="shop"))
        limits_file().write_text('[{"id": "mine", "na')
        said = keep_limits(SizeLimits(id="other", name="Other", basis="shop"))
        self.assertIn("it is kept as size_limits.json.unreadable", said)
        self.assertEqual([x.id for x in own_limits()], ["other"])
        self.assertIn('"id": "mine"', (limits_file().parent / "size_limits.json.unreadable").read_text())

    def test_an_unknown_field_of_the_shop_is_said_and_kept(self):
        keep_shop(Shop(hem_m=0.02))
        raw = json.loads(shop_file().read_text())
        shop_file().write_text(json.dumps({**raw, "colour": "red"}))
        self.assertEqual(own_shop(), Shop())
        self.assertTrue(shop_file().exists(), "who only reads it leaves it")
        shop, said = own_shop_said()
        self.assertEqual(shop, Shop())
        self.assertIn("shop.json can't be read (colour", said)
        self.assertIn("colour", (shop_file().parent / "shop.json.unreadable").read_text())
        self.assertEqual(own_shop_said(), (Shop(), ""))


class OlderJobs(unittest.TestCase):
    def test_the_old_duct_default_without_runs_is_not_typed(self):
        for version in (2, 3):
            raw = json.loads((KEPT / f"format{version}_coltsfoot_close.json").read_text("utf-8"))
            holder = raw if version == 2 else raw["design"]
            holder["air"] = {**holder.get("air", {}), "duct_allowance": 0.1}
            holder["runs"] = []
            found = opened_raw(raw)
            self.assertIsNone(found.job.design.air.duct_allowance)
            self.assertIn("10 % of older Murvans", found.notes[0])
            holder["air"]["duct_allowance"] = 0.12
            typed = opened_raw(raw)
            self.assertEqual((typed.job.design.air.duct_allowance, typed.notes), (0.12, ()))

    def test_the_present_format_keeps_ten_percent(self):
        raw = json.loads(demo().model_dump_json())
        raw["design"]["air"]["duct_allowance"] = 0.1
        raw["design"] |= {"runs": [], "joints": [], "ticks": [], "readings": []}
        self.assertEqual(opened_raw(raw).job.design.air.duct_allowance, 0.1)

    def test_a_file_without_a_word_has_none(self):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "demo.json"
            file.write_text(demo().model_dump_json())
            self.assertEqual(opened(file).notes, ())
            self.assertEqual(load_job(file), demo())


if __name__ == "__main__":
    unittest.main()
