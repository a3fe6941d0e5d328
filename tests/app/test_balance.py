"""Readings: which damper next, set by a key, and the register to read then."""

from murvan.field import visited
from murvan.model import with_design
from tests.app.base import WindowTest
from tests.field.fitted import fitted_house


class TestBalance(WindowTest):
    def setUp(self):
        super().setUp()
        off = {"A4": 1.22, "B8": 1.22, "B2": 1.2}
        made = [
            r.model_copy(update={"value": r.value * off.get(r.at.id, 1.0) if r.quantity == "flow" else r.value})
            for r in visited(fitted_house().built, [], 9)
        ]
        self.window.edit("Read", lambda job: with_design(job, readings=tuple(made)))
        self.key("7")
        self.window.select("register", "B8")
        while self.window.view().figures.diagnosis is None:
            self.settle(0.1)

    def moves(self):
        return self.window.view().figures.diagnosis.balance.moves

    def test_the_card_says_which_damper_and_a_key_sets_it(self):
        rows = next(s.rows for s in self.window.card.spec.sections if getattr(s, "title", "") == "Balance")
        first = self.moves()[0]
        self.assertEqual(rows[0].label, f"{'Close' if first.closes else 'Open'} {first.tag} until it reads")
        self.assertEqual(rows[0].key, ("register", first.register))
        self.window.plan.setFocus()
        self.key("d")
        self.settle()
        run = next(x for x in self.window.document.job.design.runs if x.id == first.run)
        self.assertAlmostEqual(run.damper, first.opening, delta=0.006)
        self.assertEqual(self.window.document.selection.id, first.register)
        self.assertIn("is expected", self.window.status.message)
        self.window.document.stack.undo()
        self.assertNotAlmostEqual(
            next(x for x in self.window.document.job.design.runs if x.id == first.run).damper,
            first.opening,
            delta=0.006,
        )

    def test_with_nothing_to_move_the_key_says_so(self):
        self.window.edit("Forget", lambda job: with_design(job, readings=()))
        self.settle()
        self.window.plan.setFocus()
        self.key("d")
        self.assertIn("Nothing to balance", self.window.status.message)
