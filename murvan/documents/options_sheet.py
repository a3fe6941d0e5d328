"""Designs side by side on a page that the customer reads: what serves which room, both seasons, cost, and what each gives up."""

from __future__ import annotations

from collections.abc import Callable

from reportlab.lib.colors import HexColor
from reportlab.pdfgen.canvas import Canvas

from murvan.design.propose import Summary, figures, summary
from murvan.design.results import Results
from murvan.design.solve import solve
from murvan.documents.ink import CHROME, INK, INK2, MARGIN, RULE, fit, heading, paragraph, wrap
from murvan.documents.pages import Page
from murvan.model.edit import changed
from murvan.model.equipment import IN_ROOM
from murvan.model.job import Job
from murvan.units import Units

ON_A_PAGE = 4
MOST_PLAN, LEAST_PLAN = 120.0, 38.0
HEAD, FOOT = 66.0, 92.0
"""Over the plan and round it, and the note below, pt."""
ROW, UNIT, WORDS = 16.5, 11.5, 8 * 1.38
"""Heights of lines, pt."""
FILLS = ("#BFE2DE", "#CFE1F0", "#EBD3EA", "#FDF0D4", "#E2F1E8", "#F6D9CB", "#DAD2F2", "#E8D9C5")
"""One a unit, in turn; light, so that it prints."""
NOTE = (
    "Put in: units, lines, circuits, ducts (in outline until they are laid) and labour by the job's book of prices. A year's cost by the hours of outdoor "
    "temperature and prices as typed, else Murvan default; rooms without a unit are counted as electric heat. Electrical "
    "figures are information only: a licensed electrician and the local code decide."
)


def options_pages(r: Results, units: Units) -> list[Page]:
    """The design worked on and those set aside, four a page; none where there is nothing to compare."""
    designs = [summary(r), *(summary(solve(changed(r.job, design=d, options=()), r)) for d in r.job.options)]
    known = [x for x in designs if x.chosen]
    if len(known) < 2:
        return []
    parts = [known[k : k + ON_A_PAGE] for k in range(0, len(known), ON_A_PAGE)]
    return [Page("Designs side by side", _drawer(r.job, part, units)) for part in parts]


def _drawer(job: Job, part: list[Summary], units: Units) -> Callable[[Canvas, float, float], None]:
    def draw(c: Canvas, w: float, h: float) -> None:
        wide = (w - 2 * MARGIN) / len(part)
        top = h - MARGIN - 58
        below = max(_below(job, x, wide - 14, units) for x in part)
        plan = min(max(top - FOOT - HEAD - below, LEAST_PLAN), MOST_PLAN)
        for k, x in enumerate(part):
            _design(c, job, x, (MARGIN + wide * k, top, wide - 14, plan), units, x.design is job.design)
        paragraph(c, MARGIN, 62, NOTE, 7.5, w - 2 * MARGIN, color=INK2)

    return draw


def _design(
    c: Canvas, job: Job, x: Summary, at: tuple[float, float, float, float], units: Units, worked_on: bool
) -> None:
    left, y, wide, plan = at
    c.setFillColor(INK)
    c.setFont("Inter-Bold", 12)
    for n, words in enumerate(wrap(x.name, 12, wide, "Inter-Bold")[:2]):
        c.drawString(left, y - 14 * n, words)
    fit(c, left, y - 28, "worked on" if worked_on else "set aside", 8.5, "Inter", wide, INK2)
    y = _plan(c, job, x, (left, y - 38, wide, plan))
    for label, value in figures(x, units):
        c.setStrokeColor(RULE)
        c.setLineWidth(0.4)
        c.line(left, y - 4, left + wide, y - 4)
        fit(c, left, y, label, 9, "Inter", wide * 0.58, INK2)
        c.setFont("Inter-Bold", 9.5)
        c.setFillColor(INK)
        c.drawRightString(left + wide, y, value)
        y -= ROW
    heading(c, left, y - 6, "Units", 9.5)
    y -= 20
    for k, (place, one) in enumerate(x.chosen[:9]):
        c.setFillColor(HexColor(FILLS[k % len(FILLS)]))
        c.rect(left, y - 1, 7, 7, stroke=0, fill=1)
        fit(c, left + 11, y, f"{one.unit.maker} {one.unit.name}, {place.role}", 8, "Inter", wide - 11)
        y -= UNIT
    if len(x.chosen) > 9:
        fit(c, left + 11, y, f"and {len(x.chosen) - 9} more", 8, "Inter", wide - 11, INK2)
        y -= UNIT
    for m in x.outdoors:
        fit(c, left + 11, y, f"outdoors {m.maker} {m.name}", 8, "Inter", wide - 11)
        y -= UNIT
    y -= 4
    for words in remarks(job, x):
        y = paragraph(c, left, y, f"•  {words}", 8, wide) - 2


def _below(job: Job, x: Summary, wide: float, units: Units) -> float:
    """What stands under the plan, pt."""
    lines = sum(len(wrap(f"•  {words}", 8, wide, "Inter")) for words in remarks(job, x))
    units_ = min(len(x.chosen), 9) + (len(x.chosen) > 9) + len(x.outdoors)
    return len(figures(x, units)) * ROW + 24 + units_ * UNIT + lines * WORDS + 2 * len(remarks(job, x))


def remarks(job: Job, x: Summary) -> list[str]:
    """What a customer asks about first."""
    out = []
    if any(one.unit.kind not in IN_ROOM for _, one in x.chosen) and not x.design.runs:
        out.append("Needs ducts and a way for them.")
    if len(x.design.zones) > 1:
        names = ", ".join(z.name for z in x.design.zones)
        out.append(f"Zones: {names}; dampers, panel and thermostats come on top.")
    left = [r.name for r in job.rooms if r.id in x.remedies]
    if left:
        names = ", ".join(left[:6]) + (" …" if len(left) > 6 else "")
        out.append(f"No unit for {names}: electric heat, or through the doors that stand open.")
    small = [place.role for place, one in x.chosen if one.verdict == "small"]
    if small:
        out.append(f"Too small on the design day: {', '.join(small[:5])}.")
    short = [place.role for place, one in x.chosen if one.verdict == "latent"]
    if short:
        out.append(f"Dries less than the moisture load: {', '.join(short[:5])}.")
    big = [place.role for place, one in x.chosen if one.total_share > one.limits[1]]
    if big:
        out.append(f"Larger than needed, goes on and off: {', '.join(big[:5])}.")
    if x.design.note:
        out.append(x.design.note)
    return out


def _plan(c: Canvas, job: Job, x: Summary, at: tuple[float, float, float, float]) -> float:
    """Every storey small, each room in the colour of its unit; returns where it ends."""
    left, top, wide, tall = at
    storeys = [s for s in job.storeys if any(room.storey == s.id for room in job.rooms)]
    xs, ys = (
        [q[0] for room in job.rooms for q in room.outline_m],
        [q[1] for room in job.rooms for q in room.outline_m],
    )
    each = wide / max(len(storeys), 1)
    scale = min((each - 5) / max(max(xs) - min(xs), 0.1), tall / max(max(ys) - min(ys), 0.1))
    deep = (max(ys) - min(ys)) * scale
    for n, s in enumerate(storeys):
        start = left + each * n
        for room in (q for q in job.rooms if q.storey == s.id):
            path = c.beginPath()
            for k, (a, b) in enumerate(room.outline_m):
                point = start + (a - min(xs)) * scale, top - (b - min(ys)) * scale
                path.moveTo(*point) if k == 0 else path.lineTo(*point)
            path.close()
            k_unit = x.serving(room.id)
            c.setFillColor(CHROME if k_unit is None else HexColor(FILLS[k_unit % len(FILLS)]))
            c.setStrokeColor(INK2)
            c.setLineWidth(0.6)
            c.drawPath(path, stroke=1, fill=1)
        fit(c, start, top - deep - 10, s.name, 7.5, "Inter", each - 6, INK2)
    return top - deep - 28
