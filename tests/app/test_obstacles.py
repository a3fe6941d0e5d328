"""A beam, a post and a drain drawn, typed and dragged in the window; what they do to ducts there."""

from __future__ import annotations

from PyQt6.QtCore import Qt

from murvan.app.stations.house.station import SURVEY_LENS
from murvan.design.drawing import obstacle_sides_m
from murvan.units import INCH
from tests.app.base import WindowTest


class Obstacles(WindowTest):
    which = "bungalow"
    open_demo = False

    def setUp(self):
        super().setUp()
        self.open_bare(self.which)
        self.key("1")
        self.window.stations[0].lens_index = SURVEY_LENS
        self.window.plan.setFocus()
        self.settle()

    def draw(self, a, b):
        self.window.plan.setFocus()
        self.key("i")
        self.drag(self.window.plan, self.at_m(*a), self.at_m(*b))
        self.key(Qt.Key.Key_Escape)
        return self.job.obstacles[-1]

    def test_drawn_typed_dragged_and_undone(self):
        kinds = [self.draw(*ends).kind for ends in (((1, 2), (6, 2.3)), ((1, 4), (6, 4)), ((7, 4), (7.3, 4.3)))]
        self.assertEqual(kinds, ["beam", "drain", "post"])
        names = [x.name for x in self.job.obstacles]
        self.assertEqual(names, ["Beam", "Drain", "Post"])
        self.window.select("obstacle", self.job.obstacles[0].id)
        self.settle()
        self.assertEqual(self.card.title, "Beam")
        before = self.job.obstacles[0]
        self.type_into(f"{before.id}.low", "2.0 m")
        self.assertAlmostEqual(self.job.obstacles[0].low_m, 2.0)
        self.window.plan.setFocus()
        self.drag(self.window.plan, self.at_m(3, 2.1), self.at_m(3, 3.1))
        moved = self.job.obstacles[0]
        self.assertGreater(moved.outline_m[0][1], before.outline_m[0][1] + 0.8)
        self.type_into(f"{before.id}.wide", "8")
        self.assertAlmostEqual(obstacle_sides_m(self.job.obstacles[0])[0], 8 * INCH, 4)
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job.obstacles[0].outline_m, before.outline_m)
        self.key(Qt.Key.Key_Delete)
        self.assertEqual(len(self.job.obstacles), 2)

    def test_a_beam_that_a_duct_meets_is_found_and_seen_on_ducts(self):
        self.window.doing.files.open_demo("demo")
        self.settle()
        run = next(r for r in self.view.r.laid if r.tag == "A2")
        end = next(j for j in self.job.design.joints if j.id == run.end)
        (ax, ay), (bx, by) = run.path_m[-2:]
        x, y = (ax + bx) / 2, (ay + by) / 2
        self.window.set_storey(end.storey)
        self.draw((x - 0.5, y - 0.5), (x + 0.5, y + 0.5))
        made = self.job.obstacles[0]
        self.window.select("obstacle", made.id)
        self.type_into(f"{made.id}.low", f"{end.height_m - 0.1:.3f} m")
        hits = [f for f in self.view.r.findings if f.rule.id == "duct-beam"]
        self.assertIn("A2", " ".join(f.text("ip") for f in hits))
        self.key("5")
        self.window.set_storey(end.storey)
        self.click(self.window.plan, self.at_m(x - 0.45, y - 0.45))
        self.assertEqual((self.view.selection.kind, self.card.title), ("obstacle", made.name))
        self.window.plan.setFocus()
        self.key(Qt.Key.Key_Delete)
        self.assertEqual(self.job.obstacles, ())
        self.assertEqual([f for f in self.view.r.findings if f.rule.id == "duct-beam"], [])
