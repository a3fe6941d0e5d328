"""Schedules: tables of the design with a kind on every column, shared by CSV, XLSX and PDF."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from murvan.catalog.own_shop import own_shop
from murvan.design.ducts import RunResult, damper_words
from murvan.design.explain import MONTH_WORDS
from murvan.design.loads import COMPONENT_WORDS, COMPONENTS
from murvan.design.parts import as_cut, buy_list, size_text
from murvan.design.results import Results
from murvan.design.study import steps
from murvan.field.verdict import Verdict
from murvan.model.atomic import write_set
from murvan.model.job import Reading
from murvan.model.shop import Shop
from murvan.units import Units, form, number, shown, unit

Cell = str | float | None


@dataclass(frozen=True)
class Schedule:
    """A table in SI: `columns` are (heading, kind or 'text')."""

    id: str
    title: str
    columns: tuple[tuple[str, str], ...]
    rows: tuple[tuple[Cell, ...], ...]
    total: tuple[Cell, ...] | None = None

    def heading(self, units: Units) -> list[str]:
        return [h + (f" {u}" if kind != "text" and (u := unit(kind, units)) else "") for h, kind in self.columns]

    def texts(self, units: Units) -> list[list[str]]:
        """Rows as text in the user's units, the total last."""
        rows = [*self.rows, *([self.total] if self.total else [])]
        return [[_text(c, kind, units) for c, (_, kind) in zip(row, self.columns, strict=True)] for row in rows]


def _text(cell: Cell, kind: str, units: Units) -> str:
    if cell is None:
        return "–"
    if isinstance(cell, str):
        return cell
    return number(kind, cell, units)


def run_size(x: RunResult, units: Units) -> str:
    """'7' or '14 × 8' in the user's units."""
    run = x.run
    return size_text(
        (run.diameter_m or 0.0,) if run.shape == "round" else (run.width_m or 0.0, run.height_m or 0.0), units
    )


def _when(month: int, hour: int) -> str:
    return f"{hour}:00 {MONTH_WORDS[month - 1][:3]}"


def load_schedule(r: Results) -> Schedule:
    g, x = r.geometry, r.loads
    rows = tuple(
        (
            room.name,
            _storey(r, room.storey),
            g.area_m2[i],
            float(x.sensible_w[i]),
            float(x.latent_w[i]),
            float(x.sensible_w[i] + x.latent_w[i]),
            _when(int(x.peak_month[i]), int(x.peak_hour[i])),
            float(x.heating_w[i]),
            float(r.room_m3_s[i]),
        )
        for i, room in enumerate(r.job.rooms)
    )
    total = (
        "House, at its own peak",
        "",
        g.total_area_m2,
        x.house_sensible_w,
        x.house_latent_w,
        x.house_cooling_w,
        _when(x.house.month, x.house.hour),
        x.house_heating_w,
        float(r.room_m3_s.sum()),
    )
    return Schedule(
        "loads",
        "Room loads",
        (
            ("Room", "text"),
            ("Storey", "text"),
            ("Floor", "area"),
            ("Sensible", "power"),
            ("Latent", "power"),
            ("Cooling", "power"),
            ("Peak", "text"),
            ("Heating", "power"),
            ("Air", "flow"),
        ),
        rows,
        total,
    )


def component_schedule(r: Results) -> Schedule:
    """What makes the house's loads."""
    x = r.loads
    rows = []
    for k, name in enumerate(COMPONENTS):
        h, s, lat = float(x.heating_parts[:, k].sum()), float(x.house.parts_w[k]), float(x.house.latent_parts_w[k])
        if max(abs(h), abs(s), abs(lat)) > 0.5:
            rows.append((COMPONENT_WORDS[name], h, s, lat, s + lat))
    total = ("House", x.house_heating_w, x.house_sensible_w, x.house_latent_w, x.house_cooling_w)
    columns = (
        ("Component", "text"),
        ("Heating", "power"),
        ("Sensible", "power"),
        ("Latent", "power"),
        ("Cooling", "power"),
    )
    return Schedule("components", "What makes the loads", columns, tuple(rows), total)


def duct_schedule(r: Results, units: Units) -> Schedule:
    rows = tuple(
        (
            x.run.tag,
            x.run.side,
            _storey(r, x.run.storey),
            run_size(x, units),
            x.run.material,
            x.length_m,
            x.run.level_m,
            x.flow_m3_s,
            r.network.run_m3_s.get(x.run.id) if r.network else None,
            x.velocity_m_s,
            x.pressure_drop_pa,
            x.run.damper,
        )
        for x in r.runs.values()
    )
    return Schedule(
        "ducts",
        "Duct schedule",
        (
            ("Run", "text"),
            ("Side", "text"),
            ("Storey", "text"),
            (f"Size {unit('size', units)}", "text"),
            ("Material", "text"),
            ("Length", "length"),
            ("Level", "length"),
            ("Design", "flow"),
            ("Predicted", "flow"),
            ("Speed", "velocity"),
            ("Loss", "pressure3"),
            ("Damper", "percent"),
        ),
        rows,
    )


def balancing_schedule(r: Results) -> Schedule:
    """In which order dampers are set, and the flow to expect at each face; empty where there is nothing to set."""
    tags = {x.id: x.tag for x in r.job.design.registers}
    rows = tuple(
        (
            str(k),
            x.tag,
            tags.get(x.register, ""),
            x.before_m3_s,
            damper_words(x.opening),
            x.expect_m3_s,
            x.end_m3_s,
            x.design_m3_s,
        )
        for k, x in enumerate(steps(r), 1)
    )
    columns = (
        ("Step", "text"),
        ("Damper", "text"),
        ("Measure at", "text"),
        ("Finds", "flow"),
        ("Set to", "text"),
        ("Then", "flow"),
        ("At the end", "flow"),
        ("Design", "flow"),
    )
    return Schedule("balancing", "Balancing order", columns, rows)


def register_schedule(r: Results, units: Units) -> Schedule:
    rooms = {x.id: x.name for x in r.job.rooms}
    rows = tuple(
        (
            t.register.tag,
            rooms[t.register.room],
            t.register.kind.replace("_", " "),
            size_text((t.register.width_m, t.register.height_m), units),
            t.flow_m3_s,
            t.face_velocity_m_s,
            t.pressure_pa,
            t.throw_m or None,
        )
        for t in r.terminals.values()
    )
    return Schedule(
        "registers",
        "Register schedule",
        (
            ("Register", "text"),
            ("Room", "text"),
            ("Kind", "text"),
            (f"Size {unit('size', units)}", "text"),
            ("Design", "flow"),
            ("Face", "velocity"),
            ("Loss", "pressure3"),
            ("Throw", "length"),
        ),
        rows,
    )


def source_words(reading: Reading | None) -> str:
    """How a value was read; simulated ones say so."""
    if reading is None:
        return ""
    if reading.simulated:
        return "simulated"
    return ", ".join(x for x in (reading.instrument or "typed", reading.taken) if x)


def balance_schedule(r: Results, v: Verdict) -> Schedule:
    rooms = {x.id: x.name for x in r.job.rooms}
    words = {"none": "to read", "good": "good", "look": "look", "fails": "fails"}
    rows = tuple(
        (
            *(x.tag, rooms[x.room], x.design, x.predicted, x.before.value if x.before else None),
            *(x.measured, x.share, words[x.mark], source_words(x.reading)),
        )
        for x in v.registers.values()
    )
    read = [x for x in v.registers.values() if x.measured is not None]
    total = (
        f"{v.read} of {v.count} read",
        "",
        sum(x.design for x in v.registers.values()),
        sum(x.predicted or 0.0 for x in v.registers.values()),
        None,
        sum(x.measured or 0.0 for x in read) if read else None,
        sum(x.measured or 0.0 for x in read) / sum(x.design for x in read) if read else None,
        "",
        "simulated" if v.simulated else "",
    )
    return Schedule(
        "balance",
        "Air balance",
        (
            ("Register", "text"),
            ("Room", "text"),
            ("Design", "flow"),
            ("Predicted", "flow"),
            ("Before", "flow"),
            ("Read", "flow"),
            ("Of design", "percent"),
            ("Verdict", "text"),
            ("How read", "text"),
        ),
        rows,
        total,
    )


def buy_schedule(r: Results, units: Units, shop: Shop = Shop()) -> Schedule:  # noqa: B008  a record of numbers
    rows = tuple(
        (
            *(x.section, x.what, size_text(x.size, units), f"{x.gauge} ga" if x.gauge else "", x.count),
            *(v or None for v in (x.length_m, x.area_m2, x.weight_kg)),
        )
        for x in buy_list(as_cut(r.cuts, shop))
    )
    return Schedule(
        "buy",
        "Cut and buy list",
        (
            ("Section", "text"),
            ("What", "text"),
            (f"Size {unit('size', units)}", "text"),
            ("Gauge", "text"),
            ("Count", "number"),
            ("Length", "length"),
            ("Sheet", "cross"),
            ("Weight", "mass"),
        ),
        rows,
    )


def finding_schedule(r: Results, units: Units) -> Schedule:
    rows = tuple(
        (f.severity, f.text(units), f.why, f.rule.remedy_text(units), f.rule.basis_text(units)) for f in r.findings
    )
    return Schedule(
        "punch",
        "Punch list",
        (("Mark", "text"), ("Finding", "text"), ("Why", "text"), ("Remedy", "text"), ("Basis", "text")),
        rows,
    )


def all_schedules(r: Results, v: Verdict, units: Units) -> tuple[Schedule, ...]:
    return (
        load_schedule(r),
        component_schedule(r),
        duct_schedule(r, units),
        register_schedule(r, units),
        balancing_schedule(r),
        balance_schedule(r, v),
        buy_schedule(r, units, own_shop()),
        finding_schedule(r, units),
    )


def _storey(r: Results, storey: str) -> str:
    return next((s.name for s in r.job.storeys if s.id == storey), storey)


def csv_text(s: Schedule, units: Units) -> str:
    """One schedule as CSV; numbers plain, in the user's units, unit in the heading."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(s.heading(units))
    for row in s.texts(units):
        writer.writerow([_plain(c) for c in row])
    return out.getvalue()


def _plain(text: str) -> str:
    if text == "–":
        return ""
    body = text.replace(",", "").replace("−", "-")
    try:
        float(body)
        return body
    except ValueError:
        # a spreadsheet would run a text that begins like a formula
        return f"'{text}" if text.startswith(("=", "+", "-", "@")) else text


def write_csv(schedules: Sequence[Schedule], folder: Path, units: Units) -> list[Path]:
    """One file a schedule into `folder`, which is made when missing; they take the place of those there, whole or not at all.
    Raises OSError."""
    texts = {f"{s.id}.csv": csv_text(s, units) for s in schedules}

    def write(made: Path) -> None:
        for name, text in texts.items():
            (made / name).write_text(text, "utf-8")

    write_set(folder, "schedules", write)
    return [folder / name for name in texts]


def write_xlsx(schedules: Sequence[Schedule], path: Path, units: Units) -> None:
    """One sheet a schedule."""
    from openpyxl import Workbook
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    book = Workbook()
    book.remove(book.active)
    for s in schedules:
        sheet = book.create_sheet(s.title)
        sheet.append(s.heading(units))
        for cell in sheet[1]:
            cell.font = Font(bold=True)
        for row in [*s.rows, *([s.total] if s.total else [])]:
            sheet.append([_value(c, kind, units) for c, (_, kind) in zip(row, s.columns, strict=True)])
        for k, (head, texts) in enumerate(
            zip(
                s.heading(units), zip(*s.texts(units), strict=True) if s.rows else [()] * len(s.columns), strict=True
            ),
            1,
        ):
            sheet.column_dimensions[get_column_letter(k)].width = min(
                60, 2 + max([len(head), *(len(t) for t in texts)])
            )
        sheet.freeze_panes = "A2"
    book.save(path)


CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f]")
"""Characters that no worksheet takes."""


def _value(cell: Cell, kind: str, units: Units) -> str | float | None:
    if cell is None:
        return None
    if isinstance(cell, str):
        plain = CONTROL.sub(" ", cell)
        return f"'{plain}" if plain.startswith(("=", "+", "@")) else plain
    return round(shown(kind, cell, units), form(kind, units).decimals)
