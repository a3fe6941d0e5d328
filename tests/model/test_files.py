"""Opening and saving: nothing is lost, nothing unsafe is read."""

import json
import os
import stat
import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

from murvan.model import JobError, JobFileError, JobValueError, load_job, save_job
from murvan.model.atomic import write_atomic
from murvan.model.files import job_from_raw, job_text
from tests.houses import box, demo


class TestFiles(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def write(self, name, data):
        path = self.folder / name
        path.write_bytes(data if isinstance(data, bytes) else data.encode())
        return path

    def pack(self, name, members):
        path = self.folder / name
        with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as z:
            for member, data in members.items():
                z.writestr(member, data)
        return path

    def test_both_forms_come_back_equal(self):
        for name in ("a.murvan", "a.json"):
            save_job(demo(), self.folder / name)
            self.assertEqual(load_job(self.folder / name), demo())

    def test_previous_copy_is_kept(self):
        path = self.folder / "a.murvan"
        save_job(box(), path)
        save_job(demo(), path)
        self.assertEqual(load_job(path), demo())
        self.assertEqual(load_job(path.with_name("a.murvan.previous")), box())

    def test_photos_survive_a_save(self):
        path = self.pack("a.murvan", {"job.json": job_text(box()), "photos/one.jpg": b"picture"})
        save_job(demo(), path)
        with zipfile.ZipFile(path) as z:
            self.assertEqual(z.read("photos/one.jpg"), b"picture")

    def test_failed_write_leaves_the_old_file(self):
        path = self.folder / "a.murvan"
        save_job(box(), path)
        with mock.patch("murvan.model.files.os.replace", side_effect=OSError(28, "No space left")):
            with self.assertRaisesRegex(JobFileError, "No space left"):
                save_job(demo(), path)
        self.assertEqual(load_job(path), box())
        self.assertEqual([p for p in self.folder.iterdir() if p.name.startswith(".murvan-")], [])

    def test_folder_that_is_not_there(self):
        with self.assertRaises(JobFileError):
            save_job(box(), self.folder / "none" / "a.murvan")

    def test_saved_file_has_ordinary_permissions(self):
        path = self.folder / "a.json"
        write_atomic(path, lambda p: p.write_text("x"))
        mask = os.umask(0)
        os.umask(mask)
        self.assertEqual(stat.S_IMODE(path.stat().st_mode), 0o666 & ~mask)

    def test_wrong_files_are_refused_in_words(self):
        cases = {
            "missing": (self.folder / "none.murvan", "no file"),
            "folder": (self.folder, "is a folder"),
            "empty": (self.write("e.murvan", b""), "empty"),
            "text": (self.write("t.json", "hello"), "not JSON"),
            "other json": (self.write("o.json", '{"a": 1}'), "not a Murvan job"),
            "list": (self.write("l.json", "[1]"), "not a Murvan job"),
            "bytes": (self.write("b.murvan", b"\xff\xfe\x00\x01" * 9), "not a Murvan job"),
            "no job": (self.pack("n.murvan", {"other.txt": "x"}), "no job.json"),
            "oldest": (
                self.write("oldest.json", '{"format_version": 1, "rooms": []}'),
                "format 1, which was never released",
            ),
            "nan": (self.write("x.json", '{"format_version": 2, "rooms": NaN}'), "not a number"),
            "version": (self.write("v.json", '{"format_version": "one", "rooms": []}'), "whole number"),
            "newer": (self.write("w.json", '{"format_version": 99, "rooms": []}'), "newer Murvan"),
        }
        for name, (path, words) in cases.items():
            with self.subTest(name), self.assertRaisesRegex(JobFileError, words):
                load_job(path)

    def test_truncated_anywhere_is_refused(self):
        save_job(demo(), self.folder / "a.murvan")
        whole = (self.folder / "a.murvan").read_bytes()
        for share in (0.02, 0.3, 0.6, 0.9, 0.99):
            with self.subTest(share), self.assertRaises(JobError):
                load_job(self.write("cut.murvan", whole[: int(len(whole) * share)]))

    def test_damaged_member_is_refused(self):
        save_job(demo(), self.folder / "a.murvan")
        whole = bytearray((self.folder / "a.murvan").read_bytes())
        for at in range(200, 260):
            whole[at] ^= 0x5A
        with self.assertRaises(JobFileError):
            load_job(self.write("bad.murvan", bytes(whole)))

    def test_unsafe_member_names_are_refused(self):
        for name in ("../evil.txt", "/etc/evil", "a\\b", "c:evil", "photos/../../x"):
            with self.subTest(name), self.assertRaisesRegex(JobFileError, "unsafe name"):
                load_job(self.pack("u.murvan", {"job.json": job_text(box()), name: "x"}))

    def test_outsized_member_is_refused_before_it_is_read(self):
        path = self.pack("z.murvan", {"job.json": b" " * 80_000_000})
        with self.assertRaisesRegex(JobFileError, "too large|far more"):
            load_job(path)

    def test_bomb_is_refused(self):
        with self.assertRaisesRegex(JobFileError, "far more"):
            load_job(self.pack("z.murvan", {"job.json": job_text(box()), "photos/p": b"\0" * 60_000_000}))

    def test_too_many_members(self):
        with self.assertRaisesRegex(JobFileError, "at most"):
            load_job(self.pack("m.murvan", {f"p{k}": "" for k in range(5002)}))

    def test_deep_nesting_does_not_crash(self):
        with self.assertRaises(JobFileError):
            load_job(self.write("d.json", "[" * 200_000))

    def test_broken_value_names_the_place(self):
        raw = json.loads(job_text(demo()))
        raw["rooms"][7]["outline_m"] = [[0, 0], [1, 1]]
        with self.assertRaisesRegex(JobValueError, "Bedroom 2, outline"):
            job_from_raw(raw)
        raw = json.loads(job_text(demo()))
        raw["glazings"][0]["u_w_m2k"] = -1
        with self.assertRaisesRegex(JobValueError, r"Double, low-e, U-factor must be above 0, not -1"):
            job_from_raw(raw)
        raw = json.loads(job_text(demo()))
        raw["openings"][0]["kind"] = int("1" * 400)
        with self.assertRaisesRegex(JobValueError, r"must be one of .*1111\.\.\."):
            job_from_raw(raw)
        with self.assertRaisesRegex(JobFileError, "a number of thousands of digits"):
            load_job(self.write("long.json", job_text(demo()).replace(": 0.0,", f": {'1' * 5000},", 1)))
        raw = json.loads(job_text(demo()))
        raw["rooms"][0]["colour"] = "red"
        with self.assertRaisesRegex(JobValueError, "Living, colour is not a field Murvan knows"):
            job_from_raw(raw)

    def test_schema_describes_the_saved_job(self):
        import jsonschema

        schema = json.loads((Path(__file__).parents[2] / "docs" / "job.schema.json").read_text("utf-8"))
        jsonschema.validate(json.loads(job_text(demo())), schema)
        from murvan.documents.schemas import job_schema

        self.assertEqual(schema, job_schema())

    def test_schema_describes_the_units_that_are_written(self):
        import jsonschema

        from murvan.catalog import units, units_json
        from murvan.documents.schemas import units_schema

        schema = json.loads((Path(__file__).parents[2] / "docs" / "units.schema.json").read_text("utf-8"))
        self.assertEqual(schema, units_schema())
        jsonschema.validate(json.loads(units_json(tuple(units().values()))), schema)
