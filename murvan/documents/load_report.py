"""The load report: what the loads are worked out for, and every line of them, to lay before an inspector."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date
from io import BytesIO
from pathlib import Path

from murvan.design.arithmetic import Arithmetic
from murvan.design.explain import day_words, explain_at, explain_heating_part, house_apart, keeps_low
from murvan.design.loads import COLUMN, COMPONENT_WORDS
from murvan.design.results import Results
from murvan.documents.pages import Page, conditions, sheet_size, table_pages, write_pages
from murvan.documents.schedules import Cell, Schedule, component_schedule, load_schedule
from murvan.units import Units, text

LINES = (("Room", "text"), ("Passage", "text"), ("Piece", "text"), ("Arithmetic", "text"), ("Gives", "text"))
LEAST_W = 0.5
"""Parts smaller than this are left out."""


def write_load_report(r: Results, target: Path | BytesIO, units: Units, today: date | None = None) -> int:
    """Write the report as a PDF; returns the number of pages. `target` is a path or a buffer."""
    return write_pages(r, report_pages(r, units), target, units, today)


def report_pages(r: Results, units: Units) -> list[Page]:
    size = sheet_size(units)
    pages = table_pages(load_schedule(r), units, size, conditions(r, units))
    pages += table_pages(component_schedule(r), units, size, methods_words(r, units))
    pages += table_pages(heating_lines(r, units), units, size)
    pages += table_pages(cooling_lines(r, units), units, size)
    pages += table_pages(source_schedule(r, units), units, size, CAUTION)
    return pages


CAUTION = "Figures in brackets lead to the next line and do not add. The local code and licensed trades decide. Values marked default or common practice are to be held against the local code's own."


def methods_words(r: Results, units: Units) -> str:
    """How far the second opinion lies from the design load, and by what."""
    found = house_apart(r)
    sensible = text("kpower", r.loads.house_sensible_w, units)
    low = "".join(f" {x.label}: {x.worked(units)} = {x.result.text(units)} more." for x in keeps_low(r) if x.result)
    if found is None:
        return f"Sensible cooling {sensible} by the heat balance.{low}"
    share = f"{abs(found.share):.0%}".replace("%", " %")
    return (
        f"Sensible cooling {sensible} by the heat balance, which is the design load. Residential load factors give "
        f"{text('kpower', r.factors.house_sensible_w, units)}, {share} {found.side}; most of the difference is "
        f"{COMPONENT_WORDS[found.component].lower()}: {found.why}{low}"
    )


Passage = tuple[str, Arithmetic, tuple[Cell, ...]]
"""Component, how it came about, what it comes to."""


def heating_lines(r: Results, units: Units) -> Schedule:
    """Every room's steady heat loss, piece by piece; the last column sums parts and rooms."""
    ld = r.loads

    def parts(i: int) -> Iterator[Passage]:
        for name, k in COLUMN.items():
            watts = float(ld.heating_parts[i, k])
            if abs(watts) > LEAST_W:
                yield name, explain_heating_part(r, i, name), (watts,)

    rows = _rows(r, units, parts, lambda i: ("", (float(ld.heating_w[i]),)))
    total = ("House", "", "", "sum of the rooms", "", ld.house_heating_w)
    return Schedule("heating_lines", "Heating, line by line", (*LINES, ("Loss", "power")), tuple(rows), total)


def cooling_lines(r: Results, units: Units) -> Schedule:
    """Every room's cooling at its own highest hour, piece by piece; the last columns sum parts and rooms."""
    ld = r.loads

    def parts(i: int) -> Iterator[Passage]:
        month, hour = ld.at(int(ld.peak_month[i])), int(ld.peak_hour[i])
        for name, k in COLUMN.items():
            sensible, latent = float(ld.sensible_parts[i, k]), float(ld.latent_parts[i, k])
            if max(abs(sensible), abs(latent)) > LEAST_W:
                yield name, explain_at(r, i, name, month, hour), (sensible, latent)

    def whole(i: int) -> tuple[str, tuple[Cell, ...]]:
        when = day_words(int(ld.peak_month[i]), int(ld.peak_hour[i]))
        return when, (float(ld.sensible_w[i]), float(ld.latent_w[i]))

    peak = f"{day_words(ld.house.month, ld.house.hour)}; rooms do not peak together"
    total = ("House", "", "", peak, "", ld.house_sensible_w, ld.house_latent_w)
    columns = (*LINES, ("Sensible", "power"), ("Latent", "power"))
    return Schedule("cooling_lines", "Cooling, line by line", columns, tuple(_rows(r, units, parts, whole)), total)


def _rows(
    r: Results,
    units: Units,
    parts: Callable[[int], Iterator[Passage]],
    whole: Callable[[int], tuple[str, tuple[Cell, ...]]],
) -> Iterator[tuple[Cell, ...]]:
    """A row for each room, then one for each piece; a part's sum stands on its first."""
    for i, room in enumerate(r.job.rooms):
        note, sums = whole(i)
        yield room.name, "", "", note, "", *sums
        for name, arithmetic, sums in parts(i):
            part = COMPONENT_WORDS[name]
            for line in arithmetic.lines:
                if line.bold:
                    continue
                gives = line.result.text(units) if line.result is not None else ""
                gives = gives if line.adds or not gives else f"({gives})"
                yield "", part, line.label, line.worked_with_units(units), gives, *sums
                part, sums = "", ("",) * len(sums)


def source_schedule(r: Results, units: Units) -> Schedule:
    """Where the methods and values of the lines come from, each once."""
    found: dict[str, None] = {}
    for i in range(len(r.job.rooms)):
        month, hour = r.loads.at(int(r.loads.peak_month[i])), int(r.loads.peak_hour[i])
        for name, k in COLUMN.items():
            if abs(float(r.loads.heating_parts[i, k])) > LEAST_W:
                found.update(dict.fromkeys(explain_heating_part(r, i, name).source_texts(units)))
            if abs(float(r.loads.sensible_parts[i, k])) > LEAST_W:
                found.update(dict.fromkeys(explain_at(r, i, name, month, hour).source_texts(units)))
    return Schedule("sources", "Where it comes from", (("Source", "text"),), tuple((x,) for x in found))
