"""The hanging plan: a storey's ducts with the numbers of their pieces, a tick at every hanger, and how high each run hangs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from math import atan2, cos, pi, sin

from reportlab.pdfgen.canvas import Canvas

from murvan.design.ducts import hanger_count, hanger_of, places
from murvan.design.parts import as_cut, size_text
from murvan.design.results import Results
from murvan.documents.ink import INK
from murvan.documents.plan_sheet import StoreyPlan, size_of
from murvan.documents.schedules import Schedule
from murvan.model.routes import LaidRun
from murvan.model.shop import Shop
from murvan.units import Units, text, unit

TICK = 5.0
"""Half a hanger beyond the duct, points."""


def hanging_drawer(r: Results, storey: str, units: Units) -> Callable[[Canvas, float, float], None]:
    """A function that draws the sheet of one storey."""
    return lambda c, w, h: HangingPlan(c, w, h, r, storey, units).draw()


def numbers(found: list[int]) -> str:
    """'4-9, 12': piece numbers, those that follow each other drawn together."""
    out: list[list[int]] = []
    for n in sorted(found):
        if out and n == out[-1][-1] + 1:
            out[-1].append(n)
        else:
            out.append([n])
    return ", ".join(str(x[0]) if len(x) == 1 else f"{x[0]}-{x[-1]}" for x in out)


@dataclass
class HangingPlan(StoreyPlan):
    """The duct plan with what a crew needs on the ladder."""

    columns: tuple[float, ...] = (0, 30, 76, 142, 172, 206)
    """pt from the left of the table."""
    legend: str = "bar: hanger, widths to scale"
    of_run: dict[str, list[int]] = field(default_factory=dict)

    def draw(self) -> None:
        for p in self.r.cuts.pieces:
            if p.run is not None and p.section != "Registers":
                self.of_run.setdefault(p.run, []).append(p.number)
        super().draw()

    def _registers(self) -> None:
        """Hangers over the ducts, under the registers."""
        for run in self.own:
            if run.side != "fresh":
                self._hang(run)
        super()._registers()

    def _hang(self, run: LaidRun) -> None:
        c = self.c
        c.setStrokeColor(INK)
        c.setLineWidth(1.4)
        half = (run.diameter_m or run.width_m or 0.1) / 2 * self.k + TICK
        for at in places(run):
            x, y = self.at(*at)
            across = self._across(run, at)
            dx, dy = cos(across) * half, sin(across) * half
            c.line(x - dx, y - dy, x + dx, y + dy)

    def _across(self, run: LaidRun, at: tuple[float, float]) -> float:
        """Direction square to the run at a place on the page."""
        legs = list(zip(run.path_m, run.path_m[1:], strict=False))
        if not legs:
            return 0.0

        def off(leg: tuple[tuple[float, float], tuple[float, float]]) -> float:
            (ax, ay), (bx, by) = leg
            long = max((bx - ax) ** 2 + (by - ay) ** 2, 1e-12)
            t = min(max(((at[0] - ax) * (bx - ax) + (at[1] - ay) * (by - ay)) / long, 0.0), 1.0)
            return (at[0] - ax - t * (bx - ax)) ** 2 + (at[1] - ay - t * (by - ay)) ** 2

        (ax, ay), (bx, by) = min(legs, key=off)
        return atan2(-(by - ay), bx - ax) + pi / 2

    def _run_label(self, run: LaidRun) -> str:
        if run.side == "fresh":
            return ""
        found = numbers(self.of_run.get(run.id, []))
        return f"{run.tag}  {found}" if found else run.tag

    def _heads(self) -> tuple[str, ...]:
        return ("Run", f"Size {unit('size', self.units)}", "Pieces", "Hang", "every", "Under")

    def _cells(self, run: LaidRun) -> tuple[str, ...]:
        high = (run.diameter_m or run.height_m or 0.0) / 2
        return (
            run.tag,
            size_of(run, self.units),
            numbers(self.of_run.get(run.id, [])),
            str(hanger_count(run)),
            text("feet", hanger_of(run).spacing_m, self.units),
            text("feet", run.level_m - high, self.units),
        )


def piece_schedule(r: Results, units: Units, shop: Shop = Shop()) -> Schedule:  # noqa: B008  a record of numbers
    """Every piece in the order in which it goes up, in the gauges of a shop."""
    patterns = _patterns(r)
    rows = tuple(
        (
            str(p.number),
            p.stage,
            p.what,
            size_text(p.size, units),
            f"{p.gauge} ga" if p.gauge else "",
            p.length_m or None,
            p.area_m2 or None,
            p.weight_kg or None,
            patterns.get(p.number, ""),
            p.where,
        )
        for p in as_cut(r.cuts, shop).to_hang
    )
    return Schedule(
        "pieces",
        "Pieces",
        (
            ("No.", "text"),
            ("When", "text"),
            ("What", "text"),
            (f"Size {unit('size', units)}", "text"),
            ("Gauge", "text"),
            ("Length", "length"),
            ("Sheet", "cross"),
            ("Weight", "mass"),
            ("Pattern", "text"),
            ("Where", "text"),
        ),
        rows,
    )


def _patterns(r: Results) -> dict[int, str]:
    """By piece the number that its patterns bear in the shop set: that of the first piece cut by them."""
    from murvan.design.metal import shop_pieces
    from murvan.documents.patterns import named

    out: dict[int, str] = {}
    for x in named(shop_pieces(r, Shop())):
        for n in x.numbers:
            out.setdefault(n, x.file[:3])
    return out
