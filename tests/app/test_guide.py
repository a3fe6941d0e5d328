"""The guide in the window, and what its pages say."""

import re
import unittest
from pathlib import Path

from PyQt6.QtCore import Qt, QUrl

from murvan import guide
from murvan.app.commands import COMMANDS
from tests.app.base import WindowTest

FOLDER = Path(guide.__file__).parent
PAGES = sorted(FOLDER.glob("*.md"))
ELSE = {"Enter", "Esc", "Tab", "Alt", "Ctrl", "Down", "Space", "Delete", "Del", "Ctrl+V", "Ctrl+Enter"}
"""Keys that work within a stroke, a field or a sheet."""


class TestGuide(WindowTest):
    def test_f1_opens_the_stations_page_a_link_turns_it_and_esc_closes(self):
        sheet = self.window.guide
        for n in (1, 5, 8):
            self.station(n)
            self.key(Qt.Key.Key_F1)
            self.assertTrue(sheet.isVisible())
            self.assertTrue(sheet.pages.toPlainText().startswith(f"{n} "), sheet.pages.toPlainText()[:30])
            self.assertIn("￼", sheet.pages.toPlainText())  # its pictures
            self.key(Qt.Key.Key_Escape)
            self.assertFalse(sheet.isVisible())
        self.key(Qt.Key.Key_F1)
        sheet.pages.anchorClicked.emit(QUrl("0-start.md"))
        sheet.pages.setSource(QUrl("0-start.md"))
        self.assertTrue(sheet.pages.toPlainText().startswith("A first walk"))
        self.key(Qt.Key.Key_F1)
        self.assertFalse(sheet.isVisible())

    def test_a_station_key_leaves_the_guide(self):
        self.station(2)
        self.key(Qt.Key.Key_F1)
        self.key("5")
        self.assertFalse(self.window.guide.isVisible())
        self.assertEqual(self.window.station_number, 5)

    def test_a_picture_is_no_wider_than_the_page(self):
        self.window.resize(1000, 700)
        self.station(3)
        self.key(Qt.Key.Key_F1)
        pages = self.window.guide.pages
        self.assertEqual(pages.horizontalScrollBar().maximum(), 0)


class TestPages(unittest.TestCase):
    def test_a_page_for_every_station_and_all_links_and_pictures_are_there(self):
        self.assertEqual([p.name[0] for p in PAGES], list("012345678"))
        for page in PAGES:
            for target in re.findall(r"\]\(([^)]+)\)", page.read_text("utf-8")):
                self.assertTrue((FOLDER / target).resolve().is_file(), f"{page.name}: {target}")

    def test_every_main_view_is_in_the_guide(self):
        shown = set(re.findall(r"screenshots/([\w-]+\.png)", "".join(p.read_text("utf-8") for p in PAGES)))
        there = {p.name for p in (FOLDER.parents[1] / "docs" / "screenshots").glob("*.png")}
        self.assertEqual(there - shown, set())

    def test_the_keys_it_names_are_keys(self):
        known = {k for c in COMMANDS for k in c.keys} | ELSE
        looks_like_a_key = re.compile(
            r"`((?:Ctrl\+|Shift\+|Alt\+)*(?:[A-Z!?/=.,]|F\d|PgUp|PgDn|Enter|Esc|Tab|Delete))`"
        )
        for page in PAGES:
            for key in looks_like_a_key.findall(page.read_text("utf-8")):
                self.assertIn(key.replace("PgDn", "PgDown"), known, page.name)
