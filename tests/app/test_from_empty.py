"""A house drawn from empty in the window walks to Equipment, in IP and in SI, and so do the two bare sample houses."""

import re

from PyQt6.QtCore import Qt

from murvan.demo import demo_job
from murvan.model.edit import changed
from murvan.model.job import Design
from tests.app.base import WindowTest
from tests.app.test_drawing import DrawTest
from tests.houses import FT

CTRL = Qt.KeyboardModifier.ControlModifier
NONSENSE = re.compile(r"\b(nan|inf|None(?! listed)|True|False)\b|\{|\}")


class Walk(WindowTest):
    """What every station on the way must bear."""

    def texts(self):
        """All that stands on the ledger, the card, the job line and the status line."""
        ledger, card = self.window.ledger.ledger, self.card
        rows = [*ledger.rows, *ledger.other, *([ledger.total] if ledger.total else [])]
        yield from (c.text for r in rows for c in r.cells)
        yield from (card.kicker, card.title, card.hero_note, *(x for h in (*card.hero, *card.side) for x in h[:2]))
        for s in card.sections:
            for r in getattr(s, "rows", ()):
                yield from (r.label, r.value, getattr(r, "note", ""), getattr(r, "second", ""))
            if hasattr(s, "arithmetic"):
                units = self.window.prefs.units
                yield from (f"{line.label} {line.worked(units)}" for line in s.arithmetic.lines)
        for h in self.window.jobline.headlines:
            yield from (h.figure, h.second)
        yield self.window.status.worst

    def bears(self, number):
        self.window.go(number)
        self.settle()
        self.assertEqual(self.window.document.trouble, "")
        for text in self.texts():
            self.assertIsNone(NONSENSE.search(text), f"station {number}: {text}")

    def to_equipment(self):
        """Loads that belong to this house, then the first candidate that fits taken by a click."""
        self.bears(2)
        loads = self.view.r.loads
        self.assertGreater(loads.house_cooling_w, 300)
        self.assertGreater(loads.house_heating_w, 300)
        rows = self.window.ledger.ledger.rows
        self.assertEqual({r.key[1] for r in rows}, {r.id for r in self.job.rooms if r.storey == self.window.storey})
        self.bears(3)
        ledger = self.window.ledger.ledger
        self.assertGreater(len(ledger.rows), 2, "candidates stand there at once")
        title = self.card.title
        second = ledger.rows[1]
        self.row(*second.key)
        self.assertNotEqual(self.card.title, title)
        self.button("pick")
        self.assertEqual(self.view.r.main.unit.id, second.key[1])
        self.assertIn(self.headline(3).mark, ("good", "look", "fails"))
        self.bears(3)
        for number in (4, 5, 6, 7, 8, 1):
            self.bears(number)


class FromEmpty(DrawTest, Walk):
    def draw(self, across):
        """Four rooms and a hall by mouse and typed lengths; `across` are (width, depth) texts of a bedroom."""
        self.tool("r")
        self.room(2, 2, 14, 13, "Bedroom 1", *across)
        self.room(14, 2, 26, 13, "Bath", *across)
        self.room(2, 13, 26, 17, "Hall", "", "")
        self.room(2, 17, 26, 30, "Living", "", "")
        self.tool("w")
        for x, y in ((8, 2), (10, 30), (20, 30)):
            self.press(x, y)
            self.release(x, y)
        self.tool("d")
        for x, y in ((8, 13), (20, 13)):
            self.press(x, y)
            self.release(x, y)
        self.hit(Qt.Key.Key_Escape)

    def walk(self):
        self.assertEqual([r.name for r in self.job.rooms], ["Bedroom 1", "Bath", "Hall", "Living"])
        self.assertEqual([o.kind for o in self.job.openings].count("window"), 3)
        self.bears(1)
        self.to_equipment()
        steps = self.window.document.stack.count()
        for _ in range(steps):
            self.window.plan.setFocus()
            self.key(Qt.Key.Key_Z, CTRL)
        self.assertEqual(self.job.rooms, ())
        for _ in range(steps):
            self.key(Qt.Key.Key_Y, CTRL)
        self.assertEqual(len(self.job.rooms), 4)

    def test_in_ip(self):
        self.draw(("12", "11"))
        self.assertAlmostEqual(self.view.r.geometry.area_m2[0], 132 * FT * FT, places=3)
        self.walk()

    def test_in_si(self):
        self.window.prefs.set(units="si")
        self.settle()
        self.draw(("3.66", "3.35"))
        self.assertAlmostEqual(self.view.r.geometry.area_m2[0], 3.66 * 3.35, places=6)
        self.walk()

    def test_by_keys_alone_from_the_drawn_plan(self):
        self.draw(("12", "11"))
        for key in ("2", "3"):
            self.key(key)
            self.assertEqual(self.window.station_number, int(key))
        self.assertIsNone(self.job.design.indoor_units[0].unit)
        wanted = self.window.ledger.ledger.rows[1].key[1]
        self.key(Qt.Key.Key_Down)
        self.key("k")
        self.assertEqual(self.view.r.main.unit.id, wanted)
        for key in ("4", "5", "6"):
            self.key(key)
            self.bears(int(key))


class BareHouses(Walk):
    open_demo = False

    def test_bungalow_and_narrow_house_in_both_units(self):
        for name in ("bungalow", "narrow"):
            for units in ("ip", "si"):
                with self.subTest(f"{name}, {units}"):
                    bare = changed(demo_job(name), design=Design(), options=())
                    self.window.document.open_job(bare, None, name)
                    self.window.prefs.set(units=units)
                    self.settle()
                    self.bears(1)
                    self.to_equipment()
                    self.window.document.stack.setClean()


if __name__ == "__main__":
    import unittest

    unittest.main()
