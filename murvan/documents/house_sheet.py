"""The house as a sheet: one storey with its dimensions and openings, and a small plan for the cover."""

from __future__ import annotations

from collections.abc import Callable
from math import hypot

from reportlab.lib.colors import HexColor
from reportlab.pdfgen.canvas import Canvas

from murvan.design.explain import MONTH_WORDS
from murvan.design.house import wall_at
from murvan.design.results import Results
from murvan.documents.ink import CHROME, INK, INK2, MARGIN, RULE, fit, heading, width
from murvan.documents.plan_sheet import TOP, Box, Point, StoreySheet, polyline, storey_drawer
from murvan.documents.schedules import Schedule
from murvan.units import Units, number, text

CHAIN, SIDE = 30.0, 46.0
"""Room for a chain of dimensions, and what the plan keeps from the edge for two of them."""
SAME_M = 0.05


def house_drawer(r: Results, storey: str, units: Units) -> Callable[[Canvas, float, float], None]:
    """A function that draws the dimensioned plan of one storey."""
    return lambda c, w, h: _HouseSheet(c, w, h, r, storey, units).draw()


class _HouseSheet(StoreySheet):
    def draw(self) -> None:
        job = self.r.job
        points = [p for q in job.rooms if q.storey == self.storey for p in q.outline_m]
        points += [p for q in job.spaces if q.storey == self.storey for p in q.outline_m]
        if not points:
            return
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        box = (MARGIN + SIDE + 12, 74.0, self.w - MARGIN - 12, self.h - MARGIN - TOP - SIDE)
        plan = storey_drawer(self.c, self.r, self.storey, box, (min(xs), min(ys), max(xs), max(ys)))
        plan.walls_and_openings()
        self._rooms(plan.at)
        for o in job.openings:
            room = next(q for q in job.rooms if q.id == o.room)
            if room.storey == self.storey and o.kind != "skylight":
                self._tag(plan.at, o.tag, room.outline_m, o.wall, o.offset_m + o.width_m / 2)
        self._chains(plan.at, points)
        self.c.setFont("Inter", 8)
        self.c.setFillColor(INK2)
        self.c.drawString(
            MARGIN, 46, "Dimensions from face to face as drawn; openings by their tags in the list of openings."
        )

    def _rooms(self, at: Callable[[float, float], Point]) -> None:
        for i, room in enumerate(self.r.job.rooms):
            if room.storey != self.storey:
                continue
            x, y = at(*self.r.geometry.centre_m[i])
            xs = [at(*p)[0] for p in room.outline_m]
            room_w = max(xs) - min(xs) - 8
            for k, (line, font, size) in enumerate(
                (
                    (room.name, "Inter-Bold", 9.5),
                    (text("area", self.r.geometry.area_m2[i], self.units), "Inter", 8.5),
                    (f"ceiling {text('feet', self.r.geometry.height_m[i], self.units)}", "Inter", 7.5),
                )
            ):
                wide = min(width(line, size, font), room_w)
                fit(self.c, x - wide / 2, y - 11 * k, line, size, font, max(room_w, 20.0), INK if k == 0 else INK2)

    def _tag(
        self, at: Callable[[float, float], Point], tag: str, outline: tuple[Point, ...], wall: int, along: float
    ) -> None:
        x, y = at(*wall_at(outline, wall, along)[0])
        wide = width(tag, 7.5, "Inter-Semi") + 6
        self.c.setFillColor(HexColor("#FFFFFF"))
        self.c.setStrokeColor(RULE)
        self.c.setLineWidth(0.6)
        self.c.rect(x - wide / 2, y - 5, wide, 10, fill=1)
        self.c.setFillColor(INK)
        self.c.setFont("Inter-Semi", 7.5)
        self.c.drawCentredString(x, y - 2.6, tag)

    def _chains(self, at: Callable[[float, float], Point], points: list[Point]) -> None:
        """Overall and by corner, over the plan and at its left."""
        for axis in (0, 1):
            stops = _apart(sorted(p[axis] for p in points))
            low = min(p[1 - axis] for p in points)
            for level, marks in ((1, stops), (2, [stops[0], stops[-1]])):
                if level == 1 and len(stops) <= 2:
                    continue
                for a, b in zip(marks, marks[1:], strict=False):
                    ends = [(a, low), (b, low)] if axis == 0 else [(low, a), (low, b)]
                    p, q = (at(*e) for e in ends)
                    self._dimension(p, q, axis, level * SIDE / 2 - 4, number("feet", b - a, self.units))

    def _dimension(self, p: Point, q: Point, axis: int, off: float, label: str) -> None:
        c = self.c
        dx, dy = (0.0, off) if axis == 0 else (-off, 0.0)
        a, b = (p[0] + dx, p[1] + dy), (q[0] + dx, q[1] + dy)
        polyline(c, [a, b], INK2, 0.7)
        for e in (a, b):
            polyline(c, [(e[0] - 2.5, e[1] - 2.5), (e[0] + 2.5, e[1] + 2.5)], INK, 1.0)
        room = hypot(b[0] - a[0], b[1] - a[1])
        size = 8.0
        while width(label, size) > room - 2 and size > 5:
            size -= 0.5
        c.saveState()
        c.translate((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
        if axis:
            c.rotate(90)
        c.setFont("Inter", size)
        c.setFillColor(INK)
        c.drawCentredString(0, 3, label)
        c.restoreState()


def _apart(values: list[float]) -> list[float]:
    """Sorted values without those that all but repeat the one before."""
    out: list[float] = []
    for v in values:
        if not out or v - out[-1] > SAME_M:
            out.append(v)
    return out


def cover_plans(c: Canvas, r: Results, box: tuple[float, float, float, float]) -> None:
    """Every storey with its rooms, side by side in a box (left, bottom, right, top)."""
    job = r.job
    storeys = [s for s in job.storeys if any(q.storey == s.id for q in job.rooms)]
    if not storeys:
        return
    points = [p for q in job.rooms for p in q.outline_m] + [p for q in job.spaces for p in q.outline_m]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    bounds = (min(xs), min(ys), max(xs), max(ys))
    for s, part in zip(storeys, _parts(box, bounds, len(storeys)), strict=True):
        heading(c, part[0], part[3] - 10, s.name, 11)
        plan = storey_drawer(c, r, s.id, (part[0], part[1], part[2], part[3] - 18), bounds)
        for i, room in enumerate(job.rooms):
            if room.storey == s.id:
                plan.fill(room.outline_m, CHROME)
                across = max(p[0] for p in room.outline_m) - min(p[0] for p in room.outline_m)
                plan.keep_label(room.name, r.geometry.centre_m[i], across)
        plan.walls_and_openings()
        plan.labels()


def _parts(box: Box, bounds: Box, n: int) -> list[Box]:
    """A box cut in n, beside or over each other, whichever lets the plan be larger."""
    wide, tall = box[2] - box[0], box[3] - box[1]
    x, y = max(bounds[2] - bounds[0], 0.1), max(bounds[3] - bounds[1], 0.1)
    beside = min((wide / n - 16) / x, (tall - 18) / y)
    over = min(wide / x, (tall / n - 26) / y)
    if beside >= over:
        return [(box[0] + k * wide / n, box[1], box[0] + (k + 1) * wide / n - 16, box[3]) for k in range(n)]
    return [(box[0], box[3] - (k + 1) * tall / n + 8, box[2], box[3] - k * tall / n) for k in range(n)]


def opening_schedule(r: Results, units: Units) -> Schedule:
    """Windows, doors and skylights with their sizes and glass."""
    rooms = {x.id: x.name for x in r.job.rooms}
    glass = {x.id: x for x in r.job.glazings}
    rows = []
    for o in r.job.openings:
        if o.kind == "archway":
            continue
        g = glass.get(o.glazing or "")
        u = float(r.factors.glass.u[r.job.openings.index(o)]) or None
        rows.append(
            (
                o.tag,
                o.kind,
                rooms[o.room],
                number("feet", o.width_m, units),
                number("feet", o.height_m, units),
                number("feet", o.sill_m, units),
                (g.name if g else "") if not o.inside else "inside",
                u if not o.inside else None,
                g.shgc if g else None,
            )
        )
    columns = (
        *(("Opening", "text"), ("Kind", "text"), ("Room", "text"), ("Width", "text"), ("Height", "text")),
        *(("Sill", "text"), ("Glass", "text"), ("U", "u_factor"), ("SHGC", "decimal")),
    )
    return Schedule("openings", "Openings", columns, tuple(rows))


def zone_schedule(r: Results, units: Units) -> Schedule:
    """Rooms on one thermostat: their peak together, heat and air, and the damper that shuts them."""
    job, ld = r.job, r.loads
    rows = []
    for z, peak in zip(job.design.zones, ld.zones, strict=True):
        mine = [i for i, x in enumerate(job.rooms) if x.id in z.rooms]
        dampers = [run.tag for run in job.design.runs if run.zone_damper == z.id]
        rows.append(
            (
                z.name,
                ", ".join(job.rooms[i].name for i in mine) or "no room",
                sum(r.geometry.area_m2[i] for i in mine),
                peak.sensible_w,
                peak.latent_w,
                f"{peak.hour}:00 {MONTH_WORDS[peak.month - 1][:3]}" if mine else "",
                float(ld.heating_w[mine].sum()),
                float(r.room_m3_s[mine].sum()),
                ", ".join(dampers) or "none drawn",
            )
        )
    columns = (
        *(("Zone", "text"), ("Rooms", "text"), ("Floor", "area"), ("Sensible", "power"), ("Latent", "power")),
        *(("Peak", "text"), ("Heating", "power"), ("Air", "flow"), ("Damper on", "text")),
    )
    return Schedule("zones", "Zones", columns, tuple(rows))
