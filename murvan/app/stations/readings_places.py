"""Where the first suspects and the next hole lie, drawn on the plan."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSizeF
from PyQt6.QtGui import QPainter, QPen

from murvan.app import paint
from murvan.app.plan.sheet import Sheet
from murvan.app.stations.base import View
from murvan.field.places import Place
from murvan.field.spots import Spot
from murvan.kinds.readings import HOLES

PILL = (40.0, 18.0)
ROUND = 18.0
"""px of a number in its circle, and of the hole's name."""


def draw_places(p: QPainter, v: Sheet, view: View) -> None:
    """Numbers of the first group's suspects as on the card, and the hole that would split them."""
    d = view.figures.diagnosis
    if d is None or d.fitted.nothing_wrong:
        return
    for k, at in _suspects(v, view):
        r = v.labels.place(QSizeF(ROUND, ROUND), np.array([(at.x(), at.y()), *_beside(at, ROUND)]))
        paint.numbered(p, r.center() if r is not None else at, k, view.theme)
    for n in (d.splits, d.next):
        if n is not None and n.place is not None and (c := _hole(v, view, n.place)) is not None:
            _pill(p, v, view, n.place, c)
            return


def _suspects(v: Sheet, view: View) -> Iterator[tuple[int, QPointF]]:
    d = view.figures.diagnosis
    found = d.fitted.groups() if d is not None else ()
    for k, s in enumerate(found[0].of if found else (), 1):
        at = _place(v, view, s.spot)
        if at is not None:
            yield k, at


def _place(v: Sheet, view: View, spot: Spot) -> QPointF | None:
    share = spot.kind.along
    if spot.where in view.r.runs and share is not None:
        return _along(v, view, spot.where, share)
    unit = next((u for u in view.job.design.indoor_units if u.id == spot.where and u.storey == v.storey), None)
    return v.to_px(*unit.position_m) + QPointF(0, -18) if unit is not None else None


def _hole(v: Sheet, view: View, place: Place) -> QPointF | None:
    run = next((x.id for x in view.job.design.runs if x.register_id == place.at.id), None)
    if run not in view.r.runs or place.hole is None:
        return None
    return _along(v, view, run, HOLES[place.hole].along)


def _along(v: Sheet, view: View, run_id: str | None, share: float) -> QPointF | None:
    """A place along a run on the storey that is shown."""
    if run_id is None:
        return None
    run = view.r.runs[run_id].run
    path = np.array(run.path_m)
    if run.storey != v.storey or len(path) < 2:
        return None
    far = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))])
    return v.to_px(*(float(np.interp(share * far[-1], far, path[:, k])) for k in (0, 1)))


def _beside(c: QPointF, wide: float) -> list[tuple[float, float]]:
    """Places for a mark of that width left and right of a point, and above and below those."""
    far = wide / 2 + ROUND / 2
    return [(c.x() + x, c.y() + y) for y in (0.0, -ROUND, ROUND) for x in (far, -far)]


def _pill(p: QPainter, v: Sheet, view: View, place: Place, c: QPointF) -> None:
    t = view.theme
    on = view.selection is not None and (view.selection.kind, view.selection.id) == ("hole", place.word)
    p.setPen(QPen(t("ink"), 1.5))
    p.setBrush(t("select"))
    p.drawEllipse(c, 4, 4)
    r = v.labels.place(QSizeF(*PILL), np.array(_beside(c, PILL[0] + 18)))
    if r is None:
        return
    p.drawLine(c, QPointF(min(max(c.x(), r.left()), r.right()), r.center().y()))
    paint.rounded(p, r, t("select"), t("ink"), 9, 2.0 if on else 1.2)
    paint.text(p, r.center().x(), r.center().y() + 4, "hole", 11.5, 700, t("on_select"), "c")
    v.tag_hits.append((r.united(QRectF(c.x() - 6, c.y() - 6, 12, 12)), "hole", place.word))
