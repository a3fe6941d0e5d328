"""What lies under the plan's texts, kept from one drawing to the next: most edits change figures alone."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPixmap

from murvan.app import paint
from murvan.app.painters import drawing
from murvan.app.plan.sheet import Sheet


@dataclass(frozen=True)
class Ground:
    """A kept picture, and what it leaves to the texts above."""

    picture: QPixmap
    taken: NDArray[np.float64]
    """Places of its own texts (n, 4)."""
    lines: NDArray[np.float64]
    """What labels stay off where they can (n, 4)."""
    hits: list[tuple[QRectF, str, str]]


def draw(p: QPainter, v: Sheet, under: Callable[[QPainter], None]) -> None:
    """Draw what `under` draws, from the kept picture while nothing in it has changed."""
    ratio = paint.device_ratio(p)
    key = (*_job_key(v), *_lens_key(v), v.width(), v.height(), ratio)
    fresh: list[Ground] = []

    def make() -> Ground:
        fresh.append(_drawn(v, under, ratio))
        return fresh[0]

    kept: Ground = v.kept["ground"].of(key, make)
    if not fresh:  # drawing it left its places on the sheet already
        v.labels.extend(kept.taken, kept.lines)
        v.tag_hits += kept.hits
    p.drawPixmap(0, 0, kept.picture)


def _drawn(v: Sheet, under: Callable[[QPainter], None], ratio: float) -> Ground:
    taken, lines, hits = v.labels.hard_count, v.labels.soft_count, len(v.tag_hits)
    picture = QPixmap(round(v.width() * ratio), round(v.height() * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(v.theme("paper"))
    with drawing(picture) as inner:
        under(inner)
    return Ground(picture, v.labels.hard_rows(taken), v.labels.soft_rows(lines), v.tag_hits[hits:])


def _job_key(v: Sheet) -> tuple[object, ...]:
    job = v.job
    rooms = tuple((r.id, r.storey, r.outline_m) for r in job.rooms)
    d = job.design
    placed = (job.places, job.openings, job.spaces, job.storeys, d.runs, d.joints, d.registers, d.plenums)
    system = (job.design.indoor_units, job.design.ventilators)
    return (v.measures, rooms, placed, system, v.storey, v.scale, v.origin.x(), v.origin.y(), v.theme, v.units)


def _lens_key(v: Sheet) -> tuple[object, ...]:
    lens, chosen = v.lens, v.selection
    flags = (lens.ducts, lens.ducts_faint, lens.registers, lens.tags, lens.boxes, lens.garage_walls, lens.text_at)
    fills = tuple((k, color.rgba()) for k, color in lens.fills.items())
    hanging = tuple(sorted((x.kind, x.id) for x in v.hanging))
    selection = (chosen.kind, chosen.id) if chosen is not None else ()
    return (flags, fills, hanging, selection, v.selected_room or "")
