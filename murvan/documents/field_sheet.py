"""The field sheet of a visit: what is read, where, in which order, with what, and room to write."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from io import BytesIO
from pathlib import Path

from murvan.design.results import Results
from murvan.documents.pages import sheet_size, table_pages, write_pages
from murvan.documents.schedules import Schedule
from murvan.field.protocol import Protocol, Step
from murvan.kinds.readings import QUANTITIES
from murvan.units import Units, text, unit

NOTE = (
    "Blower at its design speed, heat or cooling at full output for ten minutes before air is read. Predicted: the air circuit as drawn, "
    "filter clean. Plug every hole. The same order stands in the CSV sheet, which takes the figures back."
)
BOX = "_ " * 7


def field_schedule(visit: Protocol, steps: Sequence[Step], units: Units) -> Schedule:
    """Rows of a visit in its order; predicted values where the air circuit knows them."""
    rows = [("", "Date, initials, outdoors, filter, mode", "", "", BOX, "", "")]
    for n, step in enumerate(steps, 1):
        for k, p in enumerate(step.places):
            kind, value = QUANTITIES[p.quantity].shown_as, visit.designed.get(p.key)
            rows.append(
                (
                    f"{n}  {step.name}" if k == 0 else "",
                    step.first if k == 0 else "",
                    p.name,
                    "–" if value is None else text(kind, value, units),
                    BOX,
                    unit(kind, units),
                    step.instrument if k == 0 else "",
                )
            )
    minutes = sum(x.minutes for x in steps)
    columns = ("Step", "First", "Read", "Predicted", "Is", "Unit", "With")
    return Schedule(
        "visit", f"Field sheet, about {minutes:.0f} min", tuple((x, "text") for x in columns), tuple(rows)
    )


def write_field_sheet(
    r: Results,
    visit: Protocol,
    steps: Sequence[Step],
    target: Path | BytesIO,
    units: Units,
    today: date | None = None,
) -> int:
    """Write it as PDF; returns how many pages."""
    pages = table_pages(field_schedule(visit, steps, units), units, sheet_size(units), NOTE)
    return write_pages(r, pages, target, units, today)
