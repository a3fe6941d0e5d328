"""A hostile user: every field of every card gets junk and odd but allowed values; nothing may break."""

import json
import random

from PyQt6.QtWidgets import QComboBox

from murvan.app.card import FieldEdit
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
