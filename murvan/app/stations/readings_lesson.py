"""A case of training on the card of Readings: the clock, and what is wrong as the learner names it."""

from __future__ import annotations

from murvan.app.stations.base import Button, Buttons, Field_, Fields, Lesson, List_, ListRow, Section
from murvan.model import Job


def lesson_sections(x: Lesson | None) -> list[Section]:
    """Nothing while no case is under way."""
    if x is None:
        return []
    fields = [
        Field_(
            "lesson.kind", "What is wrong?", "text", x.kind, _keep, "", x.kinds, 2, pick=lambda v: x.choose(str(v))
        )
    ]
    if x.wheres:
        fields.append(
            Field_(
                "lesson.where",
                "Where?",
                "text",
                x.where,
                _keep,
                "",
                x.wheres,
                2,
                pick=lambda v: x.choose_where(str(v)),
            )
        )
    rows = (ListRow("On site", f"{x.minutes:.0f} min"), *(ListRow(f"Named: {words}", "") for words in x.named))
    return [
        List_(x.name, "simulated", rows),
        Fields("Name it", tuple(fields)),
        Buttons(
            (
                Button(
                    "name",
                    "That is it" if x.kind else "Nothing more" if x.named else "Nothing is wrong",
                    "",
                    x.name_it,
                    main=True,
                ),
            )
        ),
    ]


def _keep(job: Job, _: float | str) -> Job:
    """What is named changes no job."""
    return job
