"""A case of training in the window: begun by a key, read, named, looked back at, and back to the job."""

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from murvan.app.trainsheet import truth_words, verdict_words
from murvan.field.training import Case
from tests.app.base import WindowTest
from tests.houses import box


class TestTraining(WindowTest):
    def setUp(self):
        super().setUp()
        self.station(7)

    def wait(self, done, seconds=20.0):
        for _ in range(int(seconds / 0.05)):
            if done():
                return
            self.settle(0.05)
        self.fail("it did not come")

    @property
    def train(self):
        return self.window.doing.training

    def begin(self, case=None):
        self.train.begin(case or Case(1, 12))
        self.wait(lambda: self.train.under_way is not None)
        self.settle()

    def space(self, times):
        for _ in range(times):
            n = len(self.job.design.readings)
            self.key(Qt.Key.Key_Space)
            self.wait(lambda n=n: len(self.job.design.readings) > n)

    def test_the_sheet_offers_today_and_every_grade(self):
        before = self.job
        self.key("g")
        sheet = self.window.training
        self.assertTrue(sheet.isVisible())
        self.assertEqual(len(sheet.cases), 4)
        sheet.repaint()
        self.assertFalse(sheet.target(3).isEmpty())
        self.key(Qt.Key.Key_Escape)
        self.assertIs(self.job, before)
        self.key("g")
        QTest.mouseClick(sheet, Qt.MouseButton.LeftButton, pos=QPointF(sheet.target(1).center()).toPoint())
        self.wait(lambda: self.train.under_way is not None)
        self.assertEqual(self.train.under_way.case.grade, 1)
        self.assertEqual(self.window.document.label, "training")

    def test_a_case_from_key_to_review_and_back(self):
        kept = len(self.job.design.readings)
        self.begin()
        self.assertEqual(self.job.design.readings, ())
        self.assertEqual(self.window.station_number, 7)
        self.space(5)
        self.assertEqual(len(self.job.design.readings), 5)
        self.assertTrue(all(r.simulated for r in self.job.design.readings))
        self.assertIn("min on site", self.window.status.message)
        self.assertIsNone(self.view.figures.diagnosis)  # the learner is to find it
        titles = [s.title for s in self.card.sections if hasattr(s, "title")]
        self.assertIn("Name it", titles)
        spot = self.train.under_way.truth[0][0]
        self.train.choose(spot.kind.id)
        self.train.choose_where(spot.where)
        self.settle()
        self.button("name")
        self.wait(self.window.training.isVisible)
        review = self.window.training.review
        self.assertTrue(review.solved)
        self.assertEqual(len(review.read), 5)
        self.assertIn(spot.title, truth_words(review))
        self.window.training.repaint()
        self.key(Qt.Key.Key_Return)
        self.settle()
        self.assertEqual((self.window.document.label, len(self.job.design.readings)), ("demo", kept))
        self.assertIsNone(self.train.under_way)
        self.wait(lambda: self.view.figures.diagnosis is not None)

    def test_what_is_wrongly_named_is_said(self):
        self.begin()
        self.space(4)
        self.button("name")  # nothing is wrong
        self.wait(self.window.training.isVisible)
        review = self.window.training.review
        self.assertFalse(review.solved)
        self.assertIn("not found", verdict_words(review))

    def test_a_case_with_two_takes_two_answers(self):
        self.begin(Case(3, 2))
        self.space(3)
        self.train.choose("filter")
        self.settle()
        self.button("name")
        self.assertIn("One named", self.window.status.message)
        self.assertEqual(len(self.view.lesson.named), 1)
        self.assertFalse(self.window.training.isVisible())

    def test_another_job_leaves_the_case(self):
        self.begin()
        self.window.document.stack.setClean()
        self.window.doing.files.open_demo("bungalow")
        self.settle()
        self.assertIsNone(self.train.under_way)
        self.assertFalse(self.window.document.learning)

    def test_a_house_without_ducts_has_no_case(self):
        self.window.document.open_job(box(), None, "bare")
        self.settle()
        self.window.command("readings.train")
        self.assertFalse(self.window.training.isVisible())
        self.assertIn("Training needs", self.window.status.message)
