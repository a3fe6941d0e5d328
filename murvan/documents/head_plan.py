"""Heads as a sheet: one storey with its heads, lines and outdoor units, their schedule, and the record of their start-up."""

from __future__ import annotations

from collections.abc import Callable

from reportlab.lib.colors import HexColor
from reportlab.pdfgen.canvas import Canvas

from murvan.design.results import Results
from murvan.design.study import line_rows
from murvan.documents.ink import INK, INK2, MARGIN
from murvan.documents.plan_sheet import TOP, StoreySheet, polyline, storey_drawer
from murvan.documents.schedules import Schedule
from murvan.field.verdict import Verdict
from murvan.model.linesets import laid_line
from murvan.units import Units, tube

COOL = HexColor("#1665A8")
HALF = 7.0
"""Of a badge, pt."""


def head_drawer(r: Results, storey: str, units: Units) -> Callable[[Canvas, float, float], None]:
    """A function that draws the heads of one storey."""
    return lambda c, w, h: _HeadPlan(c, w, h, r, storey, units).draw()


class _HeadPlan(StoreySheet):
    def draw(self) -> None:
        job, c = self.r.job, self.c
        outdoors = [o.position_m for o in job.design.outdoor_units if o.position_m is not None]
        points = [p for q in job.rooms if q.storey == self.storey for p in q.outline_m] + outdoors
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        box = (MARGIN + 12, 74.0, self.w - MARGIN - 12, self.h - MARGIN - TOP)
        plan = storey_drawer(c, self.r, self.storey, box, (min(xs), min(ys), max(xs), max(ys)))
        plan.walls_and_openings()
        for room in (q for q in job.rooms if q.storey == self.storey):
            rx = [p[0] for p in room.outline_m]
            i = job.rooms.index(room)
            plan.keep_label(room.name, self.r.geometry.centre_m[i], max(rx) - min(rx))
        plan.labels()
        lowest = job.storeys[0].id == self.storey
        for k, u in enumerate(job.design.indoor_units, 1):
            if u.storey != self.storey:
                continue
            path = [(x, y) for x, y, _ in laid_line(job.design, u, job.storeys).path_m]
            if len(path) == 2:
                path.insert(1, (path[1][0], path[0][1]))
            if path:
                polyline(c, plan.page(path), COOL, 1.6)
            self._badge(*plan.at(*u.position_m), str(k), False)
        for k, o in enumerate(job.design.outdoor_units):
            if o.position_m is not None and lowest:
                self._badge(*plan.at(*o.position_m), chr(ord("A") + k % 26), True)
        c.setFont("Inter", 8)
        c.setFillColor(INK2)
        c.drawString(MARGIN, 46, "Numbers are heads, letters outdoor units; lines as placed, sizes in the schedule.")

    def _badge(self, x: float, y: float, words: str, outdoors: bool) -> None:
        c = self.c
        c.setFillColor(COOL if outdoors else INK)
        if outdoors:
            c.circle(x, y, HALF, stroke=0, fill=1)
        else:
            c.rect(x - HALF, y - HALF, 2 * HALF, 2 * HALF, stroke=0, fill=1)
        c.setFillColor(HexColor("#FFFFFF"))
        c.setFont("Inter-Bold", 9)
        c.drawCentredString(x, y - 3.2, words)


def head_schedule(r: Results, units: Units) -> Schedule:
    """Every indoor unit with its line and drain; electricity once, at the outdoor unit that it is the first on."""
    number = {u.id: str(k) for k, u in enumerate(r.job.design.indoor_units, 1)}
    rows = []
    for x in line_rows(r):
        s = r.systems[x.unit]
        unit, machine = s.unit, r.outdoors.get(s.design.indoor.outdoor or "")
        supply = machine.unit if machine is not None else unit
        power = f"{supply.mca_a:g} / {supply.mop_a:g}" if supply is not None and s.design.first_on_outdoor else ""
        rows.append(
            (
                number[x.unit],
                x.tag,
                f"{unit.maker} {unit.name}" if unit is not None else "",
                x.of,
                f"{tube(x.liquid_m, units)} × {tube(x.suction_m, units)}",
                x.length_m,
                x.lift_m,
                "with the others" if x.charge_kg is None else x.charge_kg,
                "by its fall" if x.drain == "gravity" else "pump",
                power,
            )
        )
    columns = (
        *(
            ("No.", "text"),
            ("Head", "text"),
            ("Unit", "text"),
            ("Outdoor unit", "text"),
            ("Liquid × suction", "text"),
        ),
        *(("Line", "length"), ("Lift", "length"), ("Charge to add", "charge"), ("Drain", "text")),
        ("MCA / MOP, A", "text"),
    )
    return Schedule("heads", "Heads, lines, outdoor units", columns, tuple(rows))


HEAD_NOTE = "Charge by the unit's plate; refrigerant is for certified hands. MCA and MOP are information only: the electrician and the local code decide."


def start_up_schedule(r: Results, v: Verdict) -> Schedule:
    """What is recorded at each head when it is started; what was read stands in it, the rest is written by hand."""
    holes = {(h.place.at.id, h.place.hole): h for h in v.holes}
    rows = []
    for unit, x in v.heads.items():
        drawn, blown = holes[unit, "return"].measured, holes[unit, "supply"].measured
        note = "simulated" if x.simulated else ""
        rows.append((x.tag, "", "", "", drawn, blown, x.delivered_w, x.expected_w, note, ""))
    columns = (
        *(("Head", "text"), ("Pressure held", "text"), ("Vacuum held", "text"), ("Charge added", "text")),
        *(
            ("Draws in", "temperature1"),
            ("Blows out", "temperature1"),
            ("Delivers", "power"),
            ("by its table", "power"),
        ),
        *(("Read", "text"), ("Initials, date", "text")),
    )
    return Schedule("start-up", "Start-up of the heads", columns, tuple(rows))


START_NOTE = (
    "Temperatures at full output, a quarter of an hour after the start; what it delivers is by its rated air."
)
