"""Training: a case is begun on a copy of the job, its house answers, what is wrong is named, and how it went is told."""

from __future__ import annotations

import random
from collections.abc import Callable
from datetime import date
from pathlib import Path

from murvan.app.actions.base import CommandGroup
from murvan.app.desk import Desk
from murvan.app.searcher import Searcher
from murvan.app.stations.base import Lesson
from murvan.field import House, has_ducts, house
from murvan.field.training import Answer, Case, Review, Training, answer_choices, fresh, review


class Train(CommandGroup):
    """One case at a time."""

    def __init__(self, window: Desk, may_close: Callable[[], bool], back: Callable[[Path | None, str], None]) -> None:
        super().__init__(window)
        self.may_close, self.back = may_close, back
        self.under_way: Training | None = None
        self.answers: list[Answer] = []
        self.kind, self.where = "", ""
        self._from: tuple[Path | None, str] = (None, "")
        self.searcher = Searcher("murvan-review")
        self.searcher.done.connect(self._done)
        window.document.opened.connect(self._opened)

    def commands(self) -> dict[str, Callable[[], object]]:
        return {"readings.train": self.train}

    def train(self) -> None:
        if self.under_way is not None:
            self.window.status.say(
                "A case is under way: name what is wrong on the card, or open another job to leave it"
            )
            return
        view = self.view
        if view is None or not self.window.document.settled or not has_ducts(view.r):
            self.window.status.say("Training needs a house with a unit, a supply and a return")
            return
        seed = random.SystemRandom().randrange(1, 100000)
        self.window.training.begin(date.today(), seed, self.begin)

    def begin(self, case: Case) -> None:
        """Have the house of a case built beside the window, to open it in place of the job."""
        view = self.view
        if view is None or self.window.document.job is None or not self.may_close():
            return
        r = view.r
        self.window.status.hint(f"Building the house of {case.name.lower()} …")
        self.searcher.ask(lambda _: Training(r, case))

    def _built(self, training: Training) -> None:
        document, station = self.window.document, self.window.station_number
        self._from, job = (document.path, document.label), fresh(training.built.job)
        document.open_job(job, None, "training")
        document.learning, self.under_way, self.answers = True, training, []
        self.kind, self.where = "", ""
        self.window.go(station)
        self.window.status.hint(f"{training.case.name}: read the house, then name what is wrong on the card")

    def _opened(self) -> None:
        """Another job was opened: the case is left."""
        self.window.document.learning, self.under_way = False, None
        self.window.training.hide()

    # ---- reading and naming -----------------------------------------------------------------------------------------

    def lesson(self) -> Lesson | None:
        """What the card shows of the case; None where there is none."""
        t = self.under_way
        if t is None:
            return None
        own = answer_choices(t.built)
        named = tuple(
            next((s.title for s in own.get(a.kind, ()) if s.where == a.where), "Nothing") for a in self.answers
        )
        wheres = self.wheres()
        return Lesson(
            *(t.case.name, t.minutes, self.choices(), wheres, self.kind, self.where, named),
            *(self.choose, self.choose_where, self.name_it),
        )

    def choices(self) -> tuple[tuple[str, str], ...]:
        """Kinds that can be named."""
        assert self.under_way is not None
        own = answer_choices(self.under_way.built)
        return (("", "Nothing is wrong"), *((k, x[0].kind.name.format("…")) for k, x in own.items()))

    def wheres(self) -> tuple[tuple[str, str], ...]:
        """Where the kind that is chosen may be."""
        assert self.under_way is not None
        return tuple(
            (s.where, s.name or "the instrument") for s in answer_choices(self.under_way.built).get(self.kind, ())
        )

    def choose(self, kind: str) -> None:
        self.kind = kind
        own = self.wheres()
        self.where = own[0][0] if own else ""
        self.window.refresh()

    def choose_where(self, where: str) -> None:
        self.where = where
        self.window.refresh()

    def name_it(self) -> None:
        """What is chosen is one answer; with as many as the grade has faults the case ends."""
        if self.under_way is None:
            return
        answer = Answer(self.kind, self.where)
        if answer not in self.answers:
            self.answers.append(answer)
        if not self.kind or len(self.answers) >= (2 if self.under_way.case.grade == 3 else 1):
            self.finish()
        else:
            self.window.status.tell("One named. Name the other, or that nothing more is wrong")
            self.choose("")

    def finish(self) -> None:
        """Work out beside the window how it went."""
        t, view = self.under_way, self.view
        if t is None or view is None:
            return
        r, answers = view.r, tuple(self.answers)
        self.window.status.hint("Looking back at each reading …")

        def work() -> Review | None:
            h: House | None = house(r)
            return review(t, h, answers) if h is not None else None

        self.searcher.ask(lambda _: work())

    def _done(self, number: int, found: object) -> None:
        if not self.searcher.wanted(number):
            return
        self.window.status.hint("")
        if isinstance(found, Exception):
            raise found
        if isinstance(found, Training):
            self._built(found)
        elif isinstance(found, Review) and self.under_way is not None:
            self.window.training.show_review(found, self._leave)

    def _leave(self) -> None:
        """Back to the job that was open."""
        if self.under_way is not None:
            self.window.document.stack.setClean()
            self.back(*self._from)
