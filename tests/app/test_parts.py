"""Parts on their own: commands, theme, labels, solving in the background, larger and odder jobs."""

import itertools
import shlex
import subprocess
import time
import unittest
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QKeySequence, QPolygonF

from murvan.app.commands import BY_ID, COMMANDS, EVERYWHERE
from murvan.app.plan.gestures.base import TOOLS
from murvan.app.plan.labels import Labels, around
from murvan.app.stations.base import Station
from murvan.app.stations.equipment.house import _clear
from murvan.app.stations.line import line
from murvan.app.theme import DARK, LIGHT, ROLES, contrast, font, icon
from murvan.model import Room, insert, replace
from murvan.model.edit import changed
from tests.app.base import WindowTest
from tests.houses import box, demo

LONG = "A room with a name so long that no plan and no ledger was ever drawn for it"


class TestCommands(WindowTest):
    def test_every_command_is_carried_out_by_the_window(self):
        own = {c.id for c in COMMANDS if c.id.partition(".")[0] not in ("tool", "go")}
        self.assertEqual(own, set(self.window.doing.commands))
        tools = {c.id.removeprefix("tool.") for c in COMMANDS if c.id.startswith("tool.")}
        self.assertEqual(tools, set(TOOLS) | {"select", "measure"})
        keys = {s.key for s in self.window.stations}
        self.assertEqual({c.station for c in COMMANDS} - {""} - keys, set())
        goes = [c for c in COMMANDS if c.id.startswith("go.")]
        self.assertEqual([c.name.removeprefix("Go to ") for c in goes], [s.name for s in self.window.stations])

    def test_a_station_takes_its_place_by_itself(self):
        class Ninth(Station):
            number, name = 9, "Ninth"

        try:
            self.assertEqual([s.key for s in line()][-1], "ninth")
            self.assertEqual([s.number for s in line()], list(range(1, 10)))
        finally:
            del Station.stations[9]

    def test_shortcuts_parse_and_are_unique(self):
        seen = {}
        for c in COMMANDS:
            for key in c.keys:
                sequence = QKeySequence(key)
                self.assertFalse(sequence.isEmpty(), key)
                self.assertNotEqual(sequence[0].key(), Qt.Key.Key_unknown, key)
                for other in seen.get(sequence.toString(), []):
                    self.assertTrue(
                        c.station != other.station and c.station and other.station, f"{key}: {c.id}, {other.id}"
                    )
                seen.setdefault(sequence.toString(), []).append(c)

    def test_tools_are_commands_with_icons(self):
        own = (t for s in line() for t in (s.tools, *s.lens_tools.values()))
        for command, picture in itertools.chain(EVERYWHERE, *own):
            self.assertIn(command, BY_ID)
            image = icon(picture, 20, "#000000").toImage()
            self.assertTrue(any(image.pixelColor(x, y).alpha() for x in range(20) for y in range(20)), picture)

    def test_key_sheet(self):
        self.key("?")
        self.assertTrue(self.window.keys.isVisible())
        self.assertFalse(self.window.grab().isNull())
        self.key(Qt.Key.Key_Escape)
        self.assertFalse(self.window.keys.isVisible())

    def test_command_of_another_station_does_nothing(self):
        self.window.go(1)
        self.settle()
        before = self.job
        self.window.command("ducts.size_all")
        self.window.command("readings.next")
        self.settle()
        self.assertIs(self.job, before)


class TestDesktop(WindowTest):
    open_demo = False

    def test_entry_icon_and_file_type(self):
        from murvan.app.desktop import command_of, install, quoted

        self.assertEqual(quoted("/a b/100%/$x"), r'"/a b/100%%/\\$x"')
        self.assertEqual(quoted('c"d\\e`'), r'"c\\"d\\\\e\\`"')
        self.assertEqual(command_of(Path("/opt/my murvan/run")), '"/opt/my murvan/run" murvan')
        started = subprocess.run(
            [*shlex.split(command_of(None)), "--help"], capture_output=True, text=True, check=False
        )
        self.assertEqual((started.returncode, "open" in started.stdout), (0, True))
        paths = install('"/opt/my murvan/run" murvan', self.folder)
        self.assertTrue(all(p.is_file() for p in paths))
        entry = (self.folder / "applications" / "murvan.desktop").read_text()
        self.assertIn('Exec="/opt/my murvan/run" murvan open %f', entry)
        self.assertNotIn("@", entry)
        self.assertIn("*.murvan", (self.folder / "mime" / "packages" / "murvan.xml").read_text())


class TestTheme(WindowTest):
    def test_text_is_readable_on_its_grounds(self):
        for t in (LIGHT, DARK):
            for ground in ("paper", "panel", "chrome"):
                for ink in ("ink", "ink2"):
                    self.assertGreaterEqual(contrast(t(ink), t(ground)), 4.5, (t.dark, ink, ground))
            self.assertGreaterEqual(contrast(t("on_select"), t("select")), 4.5)
            for step in range(5):
                for family in ("load", "heat"):
                    fill = t(f"{family}{step}")
                    self.assertGreaterEqual(contrast(t.on(fill), fill), 4.5, (t.dark, family, step))

    def test_both_themes_have_all_roles(self):
        for name in ROLES:
            self.assertTrue(LIGHT(name).isValid() and DARK(name).isValid())

    def test_shipped_font_is_used(self):
        from PyQt6.QtGui import QFontInfo

        self.assertEqual(QFontInfo(font(13, 700)).family(), "Inter")


class TestLabels(WindowTest):
    open_demo = False

    def test_texts_never_cover_each_other_while_there_is_room(self):
        labels = Labels(QRectF(0, 0, 400, 300))
        placed = [labels.place(QSizeF(60, 18), around(QPointF(200, 150), QSizeF(60, 18), 4)) for _ in range(8)]
        for a, b in itertools.combinations(placed, 2):
            self.assertTrue(a.intersected(b).isEmpty())

    def test_lines_are_avoided_before_they_are_covered(self):
        labels = Labels(QRectF(0, 0, 400, 300))
        labels.avoid_line([QPointF(0, 150), QPointF(400, 150)], 20)
        r = labels.place(QSizeF(60, 18), np.array([[200.0, 150.0], [200.0, 100.0]]))
        self.assertLess(r.bottom(), 140)

    def test_stays_inside_and_gives_up_when_told(self):
        labels = Labels(QRectF(0, 0, 100, 50))
        self.assertTrue(labels.bounds.contains(labels.place(QSizeF(60, 18), np.array([[0.0, 0.0], [50.0, 25.0]]))))
        self.assertIsNone(labels.place(QSizeF(90, 40), np.array([[50.0, 25.0]]), worst=10.0))
        self.assertIsNone(labels.place(QSizeF(9, 9), np.empty((0, 2))))

    def test_demo_duct_labels_do_not_overlap(self):
        self.window.doing.files.open_demo()
        self.settle()
        for storey in ("ground", "upper"):
            self.window.set_storey(storey)
            self.window.go(5)
            self.settle()
            self.window.plan.grab()
            texts = [r for r in self.window.plan.sheet.labels.texts if r.height() >= 16 and r.width() > 24]
            self.assertGreater(len(texts), 12)
            for a, b in itertools.combinations(texts, 2):
                i = a.intersected(b)
                self.assertLess(max(i.width(), 0) * max(i.height(), 0), 1.0, (storey, a, b))


class TestBackground(WindowTest):
    def test_the_latest_edit_wins(self):
        for k in range(1, 30):
            self.window.edit("People", lambda job, k=k: replace(job, "rooms", "living", people=float(k)))
        self.settle()
        self.assertEqual(self.view.job.rooms[0].people, 29.0)
        self.assertIs(self.window.document.figures.results.job, self.job)

    def test_the_window_is_free_while_it_solves(self):
        self.window.edit("Leak", lambda job: changed(job, "Demo", leakage=changed(job.leakage, ach50=5.0)))
        started = time.perf_counter()
        self.app.processEvents()
        self.assertLess(time.perf_counter() - started, 0.5)
        self.settle()

    def test_a_job_that_can_not_be_computed_says_so_and_the_next_one_works(self):
        from unittest import mock

        with mock.patch("murvan.app.document.solve", side_effect=ZeroDivisionError("by hand")):
            self.window.edit("People", lambda job: replace(job, "rooms", "living", people=3.0))
            self.settle()
        self.assertIn("could not compute", self.window.status.message)
        self.window.edit("People", lambda job: replace(job, "rooms", "living", people=4.0))
        self.settle()
        self.assertEqual(self.view.job.rooms[0].people, 4.0)

    def test_undo_far_back(self):
        first = self.job
        for k in range(60):
            self.window.edit("People", lambda job, k=k: replace(job, "rooms", "living", people=float(k + 3)))
        for _ in range(60):
            self.window.document.stack.undo()
        self.settle()
        self.assertIs(self.job, first)
        self.assertFalse(self.window.document.modified)


class TestOddJobs(WindowTest):
    open_demo = False

    def walk(self, job):
        self.window.document.open_job(job, None)
        self.settle()
        for units, dark in (("ip", False), ("si", True)):
            self.window.prefs.set(units=units, dark=dark)
            for number in range(1, 9):
                self.window.go(number)
                self.settle()
                for k in range(max(len(self.window.station.lenses), 1)):
                    self.window.set_lens(k)
                    self.settle()
                    self.window.grab()
        self.window.document.stack.setClean()

    def test_one_bare_room(self):
        self.walk(box())

    def test_no_window_no_unit_no_climate_bins(self):
        self.walk(changed(box(), "Box", openings=(), climate=changed(box().climate, bin_hours=())))

    def test_forty_rooms(self):
        rooms = tuple(
            Room(
                id=f"r{k}",
                name=f"Room {k + 1}",
                storey="g",
                outline_m=tuple((4.0 * (k % 8) + x, 3.0 * (k // 8) + y) for x, y in ((0, 0), (4, 0), (4, 3), (0, 3))),
            )
            for k in range(40)
        )
        job = changed(box(), "Forty", rooms=rooms, openings=())
        self.walk(job)
        ledger = self.window.ledger
        self.window.go(2)
        self.window.set_lens(0)
        self.window.select("room", "r39")
        self.settle()
        self.assertFalse(ledger.row_rect(("room", "r39")).isEmpty())

    def test_long_names(self):
        job = demo()
        for r in job.rooms:
            job = replace(job, "rooms", r.id, name=f"{r.name} {LONG}")
        self.walk(changed(job, "Demo", name=LONG, town=LONG, number="1234567890123456789"))

    def test_tiny_and_huge_rooms(self):
        job = insert(
            box(), "rooms", Room(id="t", name="Tiny", storey="g", outline_m=((6, 0), (6.4, 0), (6.4, 0.4), (6, 0.4)))
        )
        job = insert(
            job, "rooms", Room(id="h", name="Huge", storey="g", outline_m=((0, 4), (90, 4), (90, 70), (0, 70)))
        )
        self.walk(job)

    def test_no_storey_at_all(self):
        job = changed(box(), "Box", storeys=(), rooms=(), openings=())
        self.walk(job)


class ClearOfTheUnit(unittest.TestCase):
    def test_a_name_moves_beside_what_covers_it_and_stays_in_its_room(self):
        room = QPolygonF([QPointF(0, 0), QPointF(90, 0), QPointF(90, 60), QPointF(0, 60)])
        size, unit = QSizeF(40, 30), QRectF(20, 10, 20, 30)
        at = _clear(QPointF(45, 30), size, room, [unit])
        text = QRectF(at - QPointF(20, 15), size)
        self.assertFalse(text.intersects(unit))
        self.assertTrue(room.boundingRect().contains(text))
        self.assertEqual(_clear(QPointF(45, 30), size, room, []), QPointF(45, 30))
        self.assertIsNone(_clear(QPointF(45, 30), size, room, [QRectF(0, 25, 90, 10)]))
