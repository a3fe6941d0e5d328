"""Ducts drawn, moved and taken away in the real window, from a house without any; undone step by step."""

from __future__ import annotations

from math import dist

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from murvan.design.lay.drawing import path_of
from murvan.design.space.spots import suggested
from murvan.design.units.pick import pick_unit
from murvan.model.edit import changed
from murvan.model.job import Design, Ref
from tests.app.base import WindowTest
from tests.design.lay.test_registers import laid

LEFT, NONE, SHIFT = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier


class DuctsByHand(WindowTest):
    which = "bungalow"
    open_demo = False
    levels = (-2.87, -0.2, 0.29)
    """Under the joists of the crawl space, in a soffit, on the joists of the attic; over the ceiling, m."""

    def setUp(self):
        super().setUp()
        self.open_bare(self.which)
        registers = laid(self.which).design.registers
        bare = pick_unit(changed(self.window.document.job, design=Design(), options=()), "unit1", "torrow-cx-30")
        bare = changed(bare, design=changed(bare.design, registers=registers))
        self.window.edit("Bare", lambda job: bare)
        self.settle()
        self.key("5")
        self.window.plan.setFocus()

    @property
    def d(self):
        return self.job.design

    def run_(self, tag):
        return next(r for r in self.d.runs if r.tag == tag)

    def path(self, tag):
        return path_of(self.job, self.run_(tag))

    def plenum(self, side="supply"):
        return next(p.position_m for p in self.d.plenums if p.side == side)

    def letter(self, key, modifier=NONE):
        self.window.plan.setFocus()
        self.key(key, modifier)

    def px(self, at):
        return self.at_m(*at)

    def press(self, at, modifier=NONE):
        QTest.mouseMove(self.window.plan, self.px(at))
        QTest.mouseClick(self.window.plan, LEFT, modifier, self.px(at))
        self.settle()

    def pull(self, a, b, modifier=NONE):
        self.drag(self.window.plan, self.px(a), self.px(b), modifier=modifier)

    def place(self):
        spot = next(suggested(self.job, "unit1"))
        self.window.set_storey(spot.storey)
        self.letter("u")
        self.press(spot.position_m)
        return spot

    def trunk(self, length=4.0):
        x, y = self.plenum()
        self.letter("t")
        self.press((x, y))
        self.press((x - length, y))
        self.key(Qt.Key.Key_Return)

    def test_from_a_placed_unit_to_flows_and_back(self):
        index = self.window.document.stack.index()
        before = self.job
        self.place()
        self.assertEqual({p.side for p in self.d.plenums}, {"supply", "return"})
        self.trunk()
        x, y = self.plenum()
        self.letter("b")
        at = {r.id: r.storey for r in self.job.rooms}
        mine = [f for f in self.d.registers if f.side == "supply" and at[f.room] == self.window.storey]
        faces = [f for f in mine if x - 3.5 < f.position_m[0] < x - 0.5][:4]
        self.assertGreaterEqual(len(faces), 1)
        for f in faces:  # from the register to the trunk
            self.press(f.position_m)
            self.press((f.position_m[0], y))
        back = next(f for f in self.d.registers if f.side == "return")
        self.letter("t")
        self.press(self.plenum("return"))
        self.press((self.plenum("return")[0], back.position_m[1]))
        self.press(back.position_m)
        self.letter("v")
        self.assertEqual({r.register_id for r in self.d.runs} - {None}, {f.id for f in (*faces, back)})
        flows = self.view.r.predicted_m3_s
        for f in faces:
            self.assertGreater(flows[f.room], 0.005, f.tag)
        steps = self.window.document.stack.index() - index
        self.assertEqual(steps, 3 + len(faces))
        for _ in range(steps):
            self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, before)
        for _ in range(steps):
            self.key("y", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(
            len(self.d.runs), 2 * len(faces) + 2 if len(self.d.runs) > 2 * len(faces) + 1 else len(self.d.runs)
        )

    def test_typed_lengths_and_sizes(self):
        self.place()
        x, y = self.plenum()
        self.letter("t")
        self.press((x, y))
        QTest.mouseMove(self.window.plan, self.px((x - 2, y)))
        for key in ("1", "0"):
            QTest.keyClicks(self.window.plan, key)
        QTest.keyClick(self.window.plan, Qt.Key.Key_Tab)
        for key in ("1", "8"):
            QTest.keyClicks(self.window.plan, key)
        QTest.keyClick(self.window.plan, Qt.Key.Key_Return)
        self.settle()
        QTest.keyClick(self.window.plan, Qt.Key.Key_Return)
        self.settle()
        self.assertAlmostEqual(dist(*self.path("T1")), 10 * 0.3048, 3)
        self.assertAlmostEqual(self.run_("T1").width_m, 18 * 0.0254, 4)

    def test_esc_drops_and_nothing_is_lost(self):
        self.place()
        before = self.job
        self.letter("b")
        self.press(self.plenum())
        QTest.mouseMove(self.window.plan, self.px((2.0, 2.0)))
        self.key(Qt.Key.Key_Escape)
        self.assertIs(self.job, before)

    def test_refused_in_words(self):
        self.place()
        before = self.job
        self.letter("b")
        self.press((1.0, 1.0))
        self.press((2.0, 1.0))
        self.key(Qt.Key.Key_Return)
        self.assertIs(self.job, before)
        self.assertIn("starts or ends at a plenum", self.window.status.message)

    def branch(self, along, tag="B1"):
        """A branch up the plan off the trunk, drawn in one drag."""
        x, y = self.plenum()
        self.letter("b")
        self.pull((x - along, y), (x - along, y - 1.5))
        self.letter("v")
        return self.path(tag)

    def middle(self, tag):
        a, b = self.path(tag)[:2]
        return ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)

    def test_a_branch_slides_and_a_trunk_moves_whole(self):
        self.place()
        self.trunk()
        x, y = self.plenum()
        was = self.branch(2)
        self.assertEqual(len(self.d.runs), 3)
        at = self.middle("B1")
        self.pull(at, (at[0] - 0.9, at[1]))
        self.assertAlmostEqual(self.path("B1")[0][0], was[0][0] - 0.9, delta=0.16)
        self.assertEqual(self.window.document.stack.undoText(), "Move B1")
        at = self.middle("T1")
        self.pull(at, (at[0], at[1] - 0.6))
        for tag in [r.tag for r in self.d.runs if r.tag[0] == "T"]:
            self.assertAlmostEqual(self.path(tag)[-1][1], y - 0.6, delta=0.16)
        self.assertEqual(self.path("B1")[0], self.path("T1")[-1])
        self.assertEqual(self.path("B1")[-1][1], was[-1][1])

    def test_a_joint_is_dragged(self):
        self.place()
        self.trunk(3.0)
        x, y = self.plenum()
        self.letter("v")
        self.pull(self.path("T1")[-1], (x - 2, y))
        self.assertEqual(self.window.document.stack.undoText(), "Move the joint")
        self.assertAlmostEqual(self.path("T1")[-1][0], x - 2, delta=0.16)

    def test_dampers_and_taking_away(self):
        self.place()
        self.trunk()
        long = dist(*self.path("T1"))
        self.branch(2)
        self.letter("k")
        self.press(self.middle("B1"))
        self.assertEqual(self.run_("B1").damper, 1.0)
        self.press(self.middle("B1"))
        self.assertIsNone(self.run_("B1").damper)
        self.letter("v")
        self.press(self.middle("B1"))
        self.assertEqual(self.window.document.selection.id, self.run_("B1").id)
        self.key(Qt.Key.Key_Delete)
        self.assertEqual([r.tag for r in self.d.runs], ["T1"])
        self.assertAlmostEqual(dist(*self.path("T1")), long, 3)

    def test_levels_go_round(self):
        self.place()
        self.trunk()
        storey = next(s for s in self.job.storeys if s.id == self.window.storey)
        self.letter("s")
        seen = []
        for _ in range(len(self.levels)):
            self.press(self.middle("T1"))
            end = self.run_("T1").end
            seen.append(next(j.height_m for j in self.d.joints if j.id == end) - storey.height_m)
        self.assertEqual(tuple(sorted(round(x, 2) for x in seen)), self.levels)

    def test_a_run_that_is_gone_is_not_taken_away_again(self):
        self.place()
        self.trunk()
        self.letter("v")
        self.press(self.middle("T1"))
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.key(Qt.Key.Key_Delete)
        self.assertEqual(self.d.runs, ())

    def test_the_unit_is_turned_and_its_ducts_follow(self):
        self.place()
        self.trunk()
        was = self.d.indoor_units[0].turn_deg
        start = self.path("T1")[0]
        self.letter("U", SHIFT)
        self.assertEqual(self.d.indoor_units[0].turn_deg, (was + 90) % 360)
        self.assertEqual(self.path("T1")[0], self.plenum())
        self.letter("v")
        x, y = self.d.indoor_units[0].position_m
        self.pull((x, y), (x + 0.6, y))
        moved = self.d.indoor_units[0].position_m[0] - x
        self.assertAlmostEqual(moved, 0.6, delta=0.16)
        self.assertAlmostEqual(self.path("T1")[0][0], start[0] + moved, 3)

    def test_a_place_found_is_taken_from_the_card(self):
        """With a trunk there, a click on the cabinet still shows the unit; it goes to the place chosen and back."""
        spot = self.place()
        self.trunk()
        self.letter("v")
        self.press(spot.position_m)
        self.assertEqual(self.window.document.selection, Ref("indoor_unit", "unit1"))
        self.assertIn("Unit ·", self.window.card.spec.kicker)
        other = list(suggested(self.job, "unit1"))[1]
        self.choose("unit1.spot", "1")
        own = self.d.indoor_units[0]
        self.assertEqual((own.storey, own.position_m, own.way), (other.storey, other.position_m, other.way))
        self.assertEqual(self.window.document.stack.undoText(), "Place the unit")
        self.assertEqual(self.path("T1")[0], self.plenum())
        self.choose("unit1.spot", "0")
        self.assertEqual(self.d.indoor_units[0].position_m, spot.position_m)
        x, y = spot.position_m
        self.pull((x, y), (x + 0.6, y))
        before = self.job
        self.choose("unit1.spot", "")
        self.assertIs(self.job, before, "elsewhere is where it stands")

    def test_a_unit_dragged_off_the_world_is_refused_in_words(self):
        self.place()
        before = self.job
        for _ in range(30):
            self.window.plan.zoom(1 / 1.2, self.window.plan.rect().center().toPointF())
        self.settle(0.3)
        self.letter("v")
        x, y = self.d.indoor_units[0].position_m
        start = self.px((x, y))
        self.drag(self.window.plan, start, start + self.px((x - 900, y)) - start)
        self.assertIs(self.job, before)
        self.assertTrue(self.window.status.message)

    def test_many_at_once(self):
        self.place()
        self.trunk()
        for k in (1.0, 2.0, 3.0):
            x, y = self.plenum()
            self.letter("b")
            self.pull((x - k, y), (x - k, y - 1.5))
        self.letter("v")
        self.press(self.middle("B1"))
        item = self.window.document.selection.id
        self.choose(f"{item}.scope", "side")
        self.choose(f"{item}.material", "lined")
        self.assertNotIn("lined", {r.material for r in self.d.runs})
        button = self.window.card.findChild(QPushButton, "button.apply")
        self.assertIn(f"Change {len(self.d.runs)} runs", button.text())
        self.button("apply")
        self.assertEqual({r.material for r in self.d.runs}, {"lined"})
        self.assertEqual(self.window.document.stack.undoText(), f"Change material of {len(self.d.runs)} runs")
        self.choose(f"{item}.scope", "side")
        self.press(self.middle("B2"))
        other = self.window.document.selection.id
        self.assertEqual(self.field(f"{other}.scope").currentData(), "run")
        self.choose(f"{other}.material", "galvanised")
        self.assertEqual([r.id for r in self.d.runs if r.material == "galvanised"], [other])
        self.press(self.middle("B1"))
        self.assertEqual(self.field(f"{item}.scope").currentData(), "run")

    def test_shape_and_level(self):
        self.place()
        self.trunk()
        x, y = self.plenum()
        self.letter("v")
        self.press(self.middle("T1"))
        item = self.window.document.selection.id
        self.choose(f"{item}.shape", "round")
        self.assertEqual(self.run_("T1").shape, "round")
        self.assertGreater(self.run_("T1").diameter_m, 0.25)
        self.type_into(f"{item}.level", "7")
        ends = {j.id: j.height_m for j in self.d.joints}
        self.assertAlmostEqual(ends[self.run_("T1").end], 7 * 0.3048, 3)


class DuctsByHandNarrow(DuctsByHand):
    which = "narrow"
    levels = (-0.2,)

    def test_a_basement_over_a_slab_has_one_level_and_says_so(self):
        self.place()
        self.trunk()
        self.letter("s")
        self.press(self.middle("T1"))
        before = self.job
        self.press(self.middle("T1"))
        self.assertEqual(self.job, before)
        self.assertIn("no other level on Basement", self.window.status.message)

    def test_a_riser_goes_up_and_a_branch_on_from_there(self):
        spot = self.place()
        x, y = self.plenum()
        self.letter("r")
        self.press((x, y))
        riser = self.run_("V1")
        order = [s.id for s in self.job.storeys]
        self.assertEqual(order.index(riser.storey), order.index(spot.storey) + 1)
        self.window.set_storey(riser.storey)
        self.letter("b")
        self.pull((x, y), (x + 1.2, y))
        self.assertEqual(self.run_("B1").start, riser.end)
        self.assertEqual(self.run_("B1").storey, riser.storey)


class Boxes(WindowTest):
    """A soffit and a chase drawn, chosen, made narrower than their ducts, moved and taken away."""

    def setUp(self):
        super().setUp()
        self.key("5")
        self.window.set_storey("ground")
        self.settle()

    def places(self):
        return [p for p in self.job.places if p.boxes_ducts]

    def box(self, a, b):
        self.window.plan.setFocus()
        self.key("x")
        self.drag(self.window.plan, self.at_m(*a), self.at_m(*b))
        self.settle()

    def test_a_soffit_from_drawing_to_taking_away(self):
        before = self.job
        self.box((1.0, 5.6), (5.0, 6.2))
        (soffit,) = self.places()
        self.assertEqual(soffit.kind, "soffit")
        self.assertEqual((self.window.card.spec.title, self.window.card.spec.mark), ("Soffit", "none"))
        self.key("v")
        self.click(self.window.plan, self.at_m(1.4, 5.9))
        self.settle()
        self.assertEqual(self.window.document.selection, Ref("place", soffit.id))
        self.drag(self.window.plan, self.at_m(1.4, 5.9), self.at_m(1.4, 7.1))
        self.settle()
        moved = self.places()[0].outline_m
        self.assertGreater(min(y for _, y in moved), min(y for _, y in soffit.outline_m) + 0.5)
        self.key(Qt.Key.Key_Delete)
        self.settle()
        self.assertEqual(self.places(), [])
        for _ in range(3):
            self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, before)

    def test_beside_the_house_it_is_refused_in_words(self):
        self.box((-3.0, -3.0), (-1.0, -2.0))
        self.assertEqual(self.places(), [])
        self.assertIn("lies in a room", self.window.status.message)

    def test_both_are_drawn_in_every_lens_and_measure(self):
        self.box((1.0, 5.6), (5.0, 6.2))
        self.box((6.0, 2.0), (6.5, 2.6))
        self.assertEqual([p.kind for p in self.places()], ["soffit", "chase"])
        for _ in range(3):
            self.window.command("view.lens")
            self.window.command("view.units")
            self.settle()
            self.assertIn("inside", self.window.card.spec.hero_note)
