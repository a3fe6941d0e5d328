"""Whole designs set aside, taken up, copied, renamed and deleted, and the unit in hand, by mouse and by keys."""

from PyQt6.QtCore import QPointF, Qt

from murvan.model import IndoorUnit, insert, replace
from tests.app.base import WindowTest
from tests.design.test_several_units import house

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class Designs(WindowTest):
    def another_unit(self):
        """Set the sample's design aside and choose another unit in the one worked on."""
        self.key(Qt.Key.Key_D, CTRL | SHIFT)
        self.window.edit("Unit", lambda j: replace(j, "indoor_units", "unit1", unit="torrow-cx-42"))
        self.settle()

    def figure(self):
        return self.headline(3).figure

    def test_set_aside_and_taken_up_by_keys(self):
        before = self.figure()
        self.another_unit()
        self.assertEqual([x.name for x in self.job.options], ["Design 2"])
        self.assertNotEqual(self.figure(), before)
        self.key(Qt.Key.Key_D, CTRL)
        self.assertTrue(self.window.designs.isVisible())
        self.key(Qt.Key.Key_Down)
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.job.design.name, "Design 2")
        self.assertEqual([x.name for x in self.job.options], ["Design"])
        self.assertEqual(self.figure(), before)
        self.key(Qt.Key.Key_Escape)
        self.assertFalse(self.window.designs.isVisible())

    def test_each_is_one_named_undo_step(self):
        self.another_unit()
        self.key(Qt.Key.Key_D, CTRL)
        self.key(Qt.Key.Key_Down)
        for key, step in ((Qt.Key.Key_D, "Duplicate Design 2"), (Qt.Key.Key_Delete, "Delete Design 2")):
            count = len(self.job.options)
            self.key(key)
            self.assertNotEqual(len(self.job.options), count)
            self.assertEqual(self.window.document.stack.undoText(), step)
            self.key(Qt.Key.Key_Z, CTRL)
            self.assertEqual(len(self.job.options), count)
        self.key(Qt.Key.Key_Z, CTRL)
        self.key(Qt.Key.Key_Z, CTRL)
        self.assertEqual(self.job.options, ())

    def test_taken_up_from_the_rail_by_mouse(self):
        before = self.figure()
        self.another_unit()
        self.station(3)
        self.assertTrue(self.window.rail.isVisible())
        self.click(self.window.rail, self.window.rail.target("design", "design2").center())
        self.assertEqual(self.job.design.id, "design2")
        self.assertEqual(self.figure(), before)

    def test_the_rail_of_the_house_opens_the_list(self):
        self.click(self.window.rail, self.window.rail.target("design", "").center())
        sheet = self.window.designs
        self.assertTrue(sheet.isVisible())
        self.click(sheet, sheet.target("aside", 0).center())
        self.assertEqual(len(self.job.options), 1)
        self.click(sheet, sheet.target("take_up", 1).center())
        self.assertEqual(self.job.design.name, "Design 2")
        self.click(sheet, sheet.target("delete", 1).center())
        self.assertEqual(self.job.options, ())

    def test_renamed_and_noted(self):
        self.key(Qt.Key.Key_D, CTRL)
        sheet = self.window.designs
        self.key(Qt.Key.Key_R)
        self.assertTrue(sheet.edit.hasFocus())
        for text in ("d n 1 delete", "Two units"):
            self.assertTrue(sheet.edit.isVisible())
            sheet.edit.selectAll()
            self.key(text)
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.job.design.name, "Two units")
        self.assertEqual(self.window.document.stack.undoText(), "Rename Design")
        self.key(Qt.Key.Key_N)
        self.key("Quoted on Tuesday")
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.job.design.note, "Quoted on Tuesday")
        self.assertEqual(self.window.station_number, 1)

    def test_escape_leaves_a_name_as_it_was(self):
        self.key(Qt.Key.Key_D, CTRL)
        self.key(Qt.Key.Key_R)
        self.key("Nothing")
        self.key(Qt.Key.Key_Escape)
        self.assertTrue(self.window.designs.isVisible())
        self.assertEqual(self.job.design.name, "Design")

    def test_they_are_saved_with_the_job(self):
        self.another_unit()
        path = self.folder / "options.murvan"
        self.window.document.save(path)
        self.window.document.open_path(path)
        self.settle()
        self.assertEqual(self.job.options[0].indoor_units[0].unit, "orvane-vh-30")
        self.assertEqual(self.job.design.indoor_units[0].unit, "torrow-cx-42")

    def test_the_house_is_of_all_of_them(self):
        self.another_unit()
        self.window.edit("Away", lambda j: replace(j, "rooms", "living", name="Parlour"))
        self.settle()
        self.station(3)
        self.click(self.window.rail, self.window.rail.target("design", "design2").center())
        self.assertEqual(self.job.rooms[0].name, "Parlour")


class UnitInHand(WindowTest):
    def setUp(self):
        super().setUp()
        self.window.document.open_job(house(), None, "Several")
        self.settle()

    def test_the_rail_picks_the_unit_whose_figures_show(self):
        self.station(3)
        self.assertIn("Orvane VH-30", self.card.title)
        self.click(self.window.rail, self.window.rail.target("unit", "unit2").center())
        self.assertIn("Quellin C1", self.card.title)
        self.station(4)
        self.assertEqual(self.window.strip.strip.label, "Works here, tap 3")
        self.key(",")
        self.assertEqual(self.window.view().indoor.id, "head-study")

    def test_an_edit_is_of_the_unit_in_hand(self):
        self.station(3)
        self.click(self.window.rail, self.window.rail.target("unit", "unit2").center())
        self.choose("system.tap", "2")
        taps = {x.id: x.tap for x in self.job.design.indoor_units}
        self.assertEqual((taps["unit1"], taps["unit2"]), (4, 2))

    def test_ducts_are_of_the_unit_they_hang_on(self):
        """Whatever unit is in hand, a run tells of its own, and takes it in hand."""
        self.window.set_unit("head-study")
        self.station(5)
        self.window.set_storey("upper")
        self.settle()
        cells = [c.text for row in self.window.ledger.ledger.rows for c in row.cells]
        self.assertNotIn("no run", cells)
        self.assertNotIn("lay out the tree", self.window.jobline.headlines[4].second)
        self.window.select("run", "B3")
        self.settle()
        self.assertEqual(self.window.view().indoor.id, "unit2")
        self.assertIn("B3", self.card.title)
        self.assertEqual(self.window.strip.strip.label, "Static of Upper unit, predicted")
        self.window.select("register", "A4")
        self.settle()
        self.assertEqual(self.window.view().indoor.id, "unit1")
        self.assertIn("A4", self.card.title)

    def test_a_long_list_of_units_shows_the_one_in_hand_and_leads_on(self):
        more = (IndoorUnit(id=f"h{k}", tag=f"Head {k}", kind="wall", system="system3") for k in range(20))
        self.window.document.open_job(insert(house(), "indoor_units", *more), None, "Many")
        self.settle()
        self.station(4)
        rail = self.window.rail
        seen = []
        for _ in range(24):
            rail.repaint()
            own = rail.target("unit", self.window.view().indoor.id)
            self.assertLess(own.bottom(), rail.height() - 50)
            seen.append(self.window.view().indoor.id)
            last = max((r for r, kind, _ in rail._hits if kind == "unit"), key=lambda r: r.top())
            self.assertLessEqual(last.bottom(), rail.height() - 44)
            self.key(",")
        self.assertEqual(len(set(seen)), 24)
        self.window.set_unit("unit1")
        self.settle()
        rail.repaint()
        last = max((r for r, kind, _ in rail._hits if kind == "unit"), key=lambda r: r.top())
        self.click(rail, last.center())  # 'n more'
        self.assertNotEqual(self.window.view().indoor.id, "unit1")

    def test_every_station_shows_every_unit(self):
        for unit in self.job.design.indoor_units:
            self.window.set_unit(unit.id)
            for number in range(1, 9):
                self.station(number)
                self.settle()
        self.assertEqual(self.troubles, [])

    def test_without_a_list_of_units_the_rail_takes_none(self):
        self.station(1)
        self.assertTrue(self.window.rail.target("unit", "unit2").isEmpty())
        self.click(self.window.rail, QPointF(60, 300))
        self.assertEqual(self.window.view().indoor.id, "unit1")
