"""All layers of the plan in their order."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from murvan.app.plan import duct_layers, ground, layers, texts, thing_layers
from murvan.app.plan.hand import Hand
from murvan.app.plan.labels import Labels
from murvan.app.plan.sheet import Sheet


def draw(p: QPainter, v: Sheet, hand: Hand) -> None:
    """The whole sheet but for the stroke under way."""
    v.tag_hits = []
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.fillRect(QRectF(0, 0, v.width(), v.height()), v.theme("paper"))
    lens = v.lens
    if lens.dimensions:
        layers.underlays(p, v)
    if not v.job.rooms:
        if not v.job.underlays:
            layers.grid(p, v, hand.gesture is None)
        return
    v.labels = Labels(QRectF(4, 4, v.width() - 8, v.height() - 8), v.places)
    texts.reserve_note(v)
    if lens.dimensions:
        texts.reserve_dimensions(v)
    if lens.dimensions or lens.survey:
        _under(p, v, hand)
    else:
        ground.draw(p, v, lambda inner: _under(inner, v, hand))
    layers.sun_bars(p, v)
    duct_layers.throws(p, v)
    for overlay in lens.overlay:
        p.save()
        overlay(p, v)
        p.restore()
    if lens.survey:
        thing_layers.existing(p, v)
    texts.room_texts(p, v)
    if lens.survey:
        thing_layers.area_names(p, v)
    if lens.ducts:
        texts.duct_labels(p, v)
    if lens.dimensions and not hand.busy:
        texts.dimensions(p, v)
    texts.note(p, v)


def _under(p: QPainter, v: Sheet, hand: Hand) -> None:
    """What lies under the overlays and the texts."""
    lens = v.lens
    layers.spaces(p, v)
    if v.editable and not v.rooms() and not hand.busy:
        layers.empty_storey(p, v)
    if v.editable and hand.drawing:
        layers.storey_below(p, v)
    layers.rooms(p, v)
    layers.walls(p, v)
    layers.openings(p, v)
    if lens.dimensions:
        thing_layers.furniture(p, v)
        thing_layers.skylights(p, v)
    if lens.survey:
        thing_layers.areas(p, v)
    if lens.boxes:
        thing_layers.boxings(p, v)
    if lens.survey or lens.ducts:
        thing_layers.obstacles(p, v)
    layers.selection(p, v)
    if lens.ducts or lens.ducts_faint:
        duct_layers.ducts(p, v)
        duct_layers.units(p, v)
        for run in v.runs():
            v.labels.avoid_line(duct_layers.run_points(v, run), duct_layers.run_width_px(v, run))
    if lens.tags:
        texts.tags(p, v)
    duct_layers.registers(p, v)
