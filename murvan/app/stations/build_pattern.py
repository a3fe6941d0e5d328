"""The flat pattern of a piece on its card: every sheet as it is cut, with bends, holes and sizes."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from murvan.app import paint
from murvan.app.later import Later
from murvan.app.solid_eye import Eye
from murvan.app.solid_look import draw
from murvan.app.stations.base import List_, ListRow, Picture, Section, View
from murvan.design.metal import Pattern, ShopPiece, Solid, shop_piece
from murvan.design.parts import Piece
from murvan.documents.patterns import corners, drawn_bends
from murvan.model.shop import Shop

EACH_PX, STANDS_PX = 118.0, 190.0
NAME_PX, NAME_GAP_PX = 15.0, 6.0
"""Height that a name of a part takes, and what is left beside it."""


def sections(view: View, piece: Piece, eye: Eye, shop: Shop, kept: Later[ShopPiece | None]) -> tuple[Section, ...]:
    """The picture of its sheets, or why it is bought; nothing of what is not sheet."""
    if not piece.of_sheet:
        return ()
    results = view.r
    found = kept.of((results, piece.id, shop), lambda: shop_piece(results, piece, shop))
    if found is None:
        return (List_("Flat pattern", "", (ListRow("Working out …", ""),)),)
    if not found.patterns:
        return (List_("Flat pattern", "", (ListRow("None", found.bought),)),)
    height = EACH_PX * len(found.patterns)
    picture = Picture(
        "Flat pattern",
        f"{view.unit('size')}, {shop.painted} up",
        height,
        lambda p, r: _draw(p, r, view, found),
        found.patterns,
    )
    holes = tuple(
        ListRow(
            f"Hole {h.name}",
            f"{view.num('size1', h.from_edges_m[0])} from left",
            f"{view.num('size1', h.from_edges_m[1])} from foot",
        )
        for x in found.patterns
        for h in x.holes
    )
    solid = found.solid
    stands = (_stands(view, solid, eye),) if solid is not None else ()
    return (picture, *stands, *((List_("Holes, to the middle", view.unit("size"), holes),) if holes else ()))


def _stands(view: View, solid: Solid, eye: Eye) -> Picture:
    """The piece as it stands, to be turned."""
    return Picture(
        "As it stands",
        f"{view.unit('size')}, drag to turn",
        STANDS_PX,
        lambda p, r: draw(p, r, view.theme, solid, eye, lambda m: view.num("size1", m)),
        (solid, eye.turn_deg, eye.tilt_deg),
        eye.drag,
    )


def _draw(p: QPainter, r: QRectF, view: View, found: ShopPiece) -> None:
    each = r.height() / len(found.patterns)
    for k, x in enumerate(found.patterns):
        _sheet(p, QRectF(r.left(), r.top() + k * each, r.width(), each), view, x)


def _apart(
    names: tuple[tuple[str, tuple[float, float]], ...], at: Callable[[tuple[float, ...]], QPointF]
) -> list[tuple[str, QPointF]]:
    """Names where they go, all of them or none: the list of holes and the printed pattern name what has no room here."""
    found = [(name, at(q), paint.text_width(name, 11, 500) + NAME_GAP_PX) for name, q in names]
    boxes = [QRectF(c.x() - w / 2, c.y() - NAME_PX / 2, w, NAME_PX) for _, c, w in found]
    meet = any(a.intersects(b) for k, a in enumerate(boxes) for b in boxes[:k])
    return [] if meet else [(name, c) for name, c, _ in found]


def _sheet(p: QPainter, r: QRectF, view: View, x: Pattern) -> None:
    """One sheet as large as it goes."""
    t = view.theme
    wide, high = x.size_m
    turned = high > wide  # the card is wider than it is high
    across, up = (high, wide) if turned else (wide, high)
    scale = min((r.width() - 12) / across, (r.height() - 36) / up)
    left, foot = r.left() + (r.width() - across * scale) / 2, r.top() + 6 + up * scale

    def at(q: tuple[float, ...]) -> QPointF:
        h, v = (q[1], wide - q[0]) if turned else (q[0], q[1])
        return QPointF(left + h * scale, foot - v * scale)

    p.setPen(QPen(t("ink"), 1.3))
    p.setBrush(t("panel"))
    p.drawPolygon(QPolygonF([at(q) for q in x.outline.exterior.coords]))
    p.setBrush(t("paper"))
    for h in x.holes:
        if len(h.size_m) == 1:
            p.drawEllipse(at(h.at_m), h.size_m[0] / 2 * scale, h.size_m[0] / 2 * scale)
        else:
            p.drawPolygon(QPolygonF([at(q) for q in corners(h.at_m, h.size_m, h.turn_deg)]))
        paint.text(p, at(h.at_m).x(), at(h.at_m).y() + 4, h.name, 11, 600, t("ink"), "c")
    p.setPen(QPen(t("outline"), 0.5))
    for e in x.edgings:  # hems apart from what joins
        p.setBrush(t("select_soft") if e.kind == "hem" else t("supply_soft"))
        p.drawPolygon(QPolygonF([at(q) for q in e.outline_m]))
    p.setPen(QPen(t("ink2"), 0.9, Qt.PenStyle.DashLine))
    for b in drawn_bends(x):
        p.drawLine(at(b.start_m), at(b.end_m))
    many = f", {x.count} off" if x.count > 1 else ", scribed" if not x.count else ""
    words = f"{x.name}{many}  {view.num('size1', wide)} × {view.num('size1', high)} {view.unit('size')}"
    for name, q in _apart(x.names, at):
        paint.text(p, q.x(), q.y() + 4, name, 11, 500, t("ink2"), "c")
    paint.text(p, r.left() + r.width() / 2, foot + 20, words, 12, 600, t("ink2"), "c")
