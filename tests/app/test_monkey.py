"""A hostile user: every field of every card gets junk and odd but allowed values; nothing may break."""

import json
import random

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QComboBox

from murvan.app.field_edit import FieldEdit
from murvan.app.plan.gestures.base import TOOLS
from murvan.model.files import job_from_raw, job_text
from tests.app.base import WindowTest

JUNK = (
    "",
    " ",
    "abc",
    "-1",
    "0",
    "1e9",
    "nan",
    "inf",
    "999999999999",
    "½",
    "3,4,5",
    "12' 13\" 14",
    "8 ft 8 ft",
    "--",
    "5 °",
    "=1+1",
    "0x10",
    "1/0",
    "٣",
    "8 m²",
    "\\n",
    "7 in\t",
)
ODD = ("0.5", "1", "2.5", "10", "35", "100", "250")
PLACES = {
    1: (
        ("room", "hall"),
        ("wall", "living/3"),
        ("wall", "study/1"),
        ("opening", "G5"),
        ("opening", "D1"),
        ("opening", "D6"),
    ),
    2: (("room", "living"), ("room", "bath")),
    3: (("unit", "quellin-c3"),),
    4: (("room", "bed1"), ("room", "hall")),
    5: (("run", "A5"), ("run", "SB1"), ("run", "RT1"), ("run", "F1"), ("plenum", "supply")),
    7: (("register", "B4"), ("hole", "static-supply")),
}


class TestMonkey(WindowTest):
    def fields(self):
        return [w for w in self.window.card.body.findChildren(FieldEdit) if not w.isHidden() and not w.isReadOnly()]

    def test_junk_in_every_field(self):
        chance = random.Random(7)
        for station, places in PLACES.items():
            self.window.go(station)
            for place in places:
                self.window.select(*place)
                self.settle()
                for edit in self.fields():
                    before = self.job
                    for typed in chance.sample(JUNK, 6):
                        name = edit.objectName()
                        if "name" in name:
                            continue
                        edit.setFocus()
                        edit.selectAll()
                        edit.insert(typed)
                        edit.commit()
                        self.app.processEvents()
                    self.settle()
                    edit.clearFocus()
                    job_from_raw(json.loads(job_text(self.job)))
                    if self.job is not before:
                        self.assertIsNone(self.troubles[0] if self.troubles else None)
        self.window.grab()

    def test_odd_values_everywhere_and_back(self):
        chance = random.Random(11)
        first = self.job
        for station, places in PLACES.items():
            self.window.go(station)
            for place in places:
                self.window.select(*place)
                self.settle()
                for edit in self.fields():
                    edit.setFocus()
                    edit.selectAll()
                    edit.insert(chance.choice(ODD))
                    edit.commit()
                    self.settle()
                for combo in self.window.card.body.findChildren(QComboBox):
                    if combo.isHidden() or combo.count() < 2:
                        continue
                    k = chance.randrange(combo.count())
                    combo.setCurrentIndex(k)
                    combo.activated.emit(k)
                    self.settle()
                self.window.grab()
        self.assertEqual(self.window.document.trouble, "")
        for number in range(1, 9):
            self.window.go(number)
            self.settle()
            self.window.grab()
        while self.window.document.stack.canUndo():
            self.window.document.stack.undo()
        self.settle()
        self.assertIs(self.job, first)


class TestStrokes(WindowTest):
    """A hand that slips: any tool, any drag, any keys in the middle of it, commands in between."""

    KEYS = "1234567890'\" ./-ftmx"
    BETWEEN = (
        "edit.undo",
        "view.theme",
        "view.units",
        "view.up",
        "view.fit",
        "go.5",
        "house.turn_room",
        "house.mirror_house",
        "house.storey_up",
        "house.remove",
    )

    def slip(self, chance):
        window, plan = self.window, self.window.plan
        window.doing.views.take_tool(chance.choice([*sorted(TOOLS), *["select"] * 6]))
        held = chance.choice([Qt.KeyboardModifier.NoModifier] * 4 + [Qt.KeyboardModifier.AltModifier])
        at = [QPoint(chance.randrange(plan.width()), chance.randrange(plan.height())) for _ in range(3)]
        QTest.mousePress(plan, Qt.MouseButton.LeftButton, held, at[0])
        for point in at:
            QTest.mouseMove(plan, point)
            self.app.processEvents()
        if chance.random() < 0.4:
            QTest.keyClicks(plan, "".join(chance.choice(self.KEYS) for _ in range(chance.randint(1, 5))))
        if chance.random() < 0.2:
            QTest.keyClick(plan, chance.choice([Qt.Key.Key_Tab, Qt.Key.Key_Backspace, Qt.Key.Key_Escape]))
        if chance.random() < 0.06:
            window.command(chance.choice(self.BETWEEN))
        QTest.mouseRelease(plan, Qt.MouseButton.LeftButton, held, at[2])
        if chance.random() < 0.3:
            QTest.keyClick(plan, Qt.Key.Key_Return)
        if window.station_number != 1:
            window.go(1)

    def test_no_stroke_breaks_the_job_and_all_of_them_are_undone(self):
        for seed, demo in enumerate(("demo", "bungalow", "narrow")):
            with self.subTest(demo):
                self.window.document.stack.setClean()
                self.window.doing.files.open_demo(demo)
                self.settle()
                before = self.job
                chance = random.Random(seed)
                for _ in range(45):
                    self.slip(chance)
                self.window.plan.hand.drop()
                self.settle()
                self.assertEqual(self.window.document.trouble, "")
                self.assertFalse(self.window.document.trying)
                self.assertEqual(job_from_raw(json.loads(job_text(self.job)), "It"), self.job)
                while self.window.document.stack.canUndo():
                    self.window.document.stack.undo()
                self.assertEqual(self.job, before)
