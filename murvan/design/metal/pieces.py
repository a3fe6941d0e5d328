"""What of a design is cut from sheet: for every piece of the cut list its solid, or why it is bought."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

from murvan.design.ducts.plenums import PlenumDesign
from murvan.design.ducts.straights import THROAT_LEG_M, long_m
from murvan.design.metal.develop import Pattern, patterns, template
from murvan.design.metal.inner import rack, saddle, saddle_hole, vaned
from murvan.design.metal.solids import (
    Hole,
    Solid,
    box,
    cap,
    elbow,
    gored,
    halved,
    lying_duct,
    pipe,
    square_to_round,
    transition,
)
from murvan.design.parts.cut_list import Piece, as_cut
from murvan.design.parts.cut_runs import STRAIGHT
from murvan.design.results import Results
from murvan.design.space.plenum_faces import FACES, side_of
from murvan.kinds.fittings import FITTINGS, FittingKind, Form
from murvan.model.job import DuctRun, Register
from murvan.model.routes import LaidRun
from murvan.model.shop import Shop
from murvan.units import FOOT


@dataclass(frozen=True)
class ShopPiece:
    """A piece of the cut list with its patterns, or the reason why it has none."""

    piece: Piece
    patterns: tuple[Pattern, ...]
    bought: str = ""
    solid: Solid | None = None
    """As it stands; None of what is bought."""


def shop_pieces(results: Results, shop: Shop) -> tuple[ShopPiece, ...]:
    """Every piece of the design that is sheet, in the order of the cut list."""
    known = _Known.of(results, shop)
    return tuple(_shop_piece(x, known, shop) for x in as_cut(results.cuts, shop).pieces if x.of_sheet)


def shop_piece(results: Results, piece: Piece, shop: Shop) -> ShopPiece | None:
    """One piece of the cut list; None where it is not of sheet."""
    return _shop_piece(piece, _Known.of(results, shop), shop) if piece.of_sheet else None


def _shop_piece(piece: Piece, known: _Known, shop: Shop) -> ShopPiece:
    try:
        found = _solid(piece, known)
        if isinstance(found, str):
            return ShopPiece(piece, (), found)
        return ShopPiece(piece, _patterns(found, shop), "", _stands(found))
    except Exception as trouble:  # one piece that can't be laid flat must not end the set of all others
        return ShopPiece(
            piece, (), f"no pattern: it could not be laid flat ({type(trouble).__name__}: {trouble})"[:200]
        )


@dataclass(frozen=True)
class _Made:
    """How a solid is made: pieces made alike share their patterns."""

    make: Callable[..., Solid]
    sizes: tuple[object, ...]
    called: tuple[tuple[str, str], ...] = ()
    """What sides are called instead: by the compass on a plenum, top and bottom on a duct."""
    hole_in: tuple[float, float, float] | None = None
    """Of a saddle, its own size, its trunk's, and the angle: the hole that is cut into the trunk."""


@lru_cache(maxsize=512)
def _stands(made: _Made) -> Solid:
    solid, called = made.make(*made.sizes), dict(made.called)
    return replace(solid, names={k: called.get(name, name) for k, name in solid.names.items()}) if called else solid


@lru_cache(maxsize=512)
def _patterns(made: _Made, shop: Shop) -> tuple[Pattern, ...]:
    solid = _stands(made)
    whole = patterns(solid, shop)
    found = whole if all(goes_on_stock(x) for x in whole) else patterns(halved(solid), shop)
    return (*found, template(saddle_hole(*made.hole_in))) if made.hole_in is not None else found


LYING = (("front", "bottom"), ("back", "top"), ("right", "left"), ("left", "right"))
"""Sides of a duct that lies, as one looks along it away from the unit."""
LEAST_THROAT = 0.1
"""Of a bend's size, the radius of its throat at least; what is sharper is a square elbow."""


STOCK_M = ((8 * FOOT, 4 * FOOT), (10 * FOOT, 4 * FOOT))
"""Sheets that are stocked, length and width; common practice."""


def goes_on_stock(x: Pattern) -> bool:
    """Whether a pattern is cut from one stocked sheet."""
    long, wide = max(x.size_m), min(x.size_m)
    return any(long <= size[0] and wide <= size[1] for size in STOCK_M)


@dataclass(frozen=True)
class _Known:
    runs: dict[str, LaidRun]
    faces: dict[str, Register]
    plenums: dict[str, PlenumDesign]

    @staticmethod
    def of(r: Results, shop: Shop) -> _Known:
        """Runs that are lined come as large as they are cut."""
        plenums = {x.plenum.id: x for s in r.systems.values() for x in s.plenums}
        runs = {x.id: _lined(x, shop.lining_m) for x in r.laid}
        return _Known(runs, {x.id: x for x in r.job.design.registers}, plenums)


def _lined(run: LaidRun, lining_m: float) -> LaidRun:
    """A lined run with the sizes of its sheet."""
    if not run.made_of.lined or not lining_m:
        return run
    sizes = ("diameter_m", "width_m", "height_m")
    larger = {k: getattr(run, k) + 2 * lining_m for k in sizes if getattr(run, k) is not None}
    return run.model_copy(update=larger)


def _solid(piece: Piece, known: _Known) -> _Made | str:
    """How a piece is made, or why it is bought."""
    if piece.at is not None and piece.at.kind == "plenum":
        x = known.plenums[piece.at.id]
        return _at_plenum(piece, x) if piece.part else _plenum(x, piece.length_m)
    run = known.runs.get(piece.run or "")
    if run is None:
        return "no run"
    if piece.form == STRAIGHT:
        return _straight(run, piece)
    return _fitting(FITTINGS[piece.form], run, piece, known) if piece.form else "bought: damper"


def plenum_solid(x: PlenumDesign) -> Solid:
    """A plenum as it stands."""
    return _stands(_plenum(x, x.plenum.height_m))


def _plenum(x: PlenumDesign, length_m: float) -> _Made:
    """A plenum, or of one in two lengths that with the take-offs."""
    below = x.plenum.height_m - length_m
    holes = tuple(
        (
            t.side,
            Hole(
                0,
                t.along_m,
                t.up_m - below,
                (t.width_m,) if t.run.shape == "round" else (t.width_m, t.height_m),
                t.run.tag,
            ),
        )
        for t in x.take_offs
    )
    called = tuple((side, str(face)) for face in FACES if (side := side_of(face, x.air)) is not None)
    return _Made(box, (x.plenum.width_m, x.plenum.depth_m, length_m, holes), called)


def _at_plenum(piece: Piece, x: PlenumDesign) -> _Made | str:
    """What is between a plenum and its unit."""
    size = (x.plenum.width_m, x.plenum.depth_m)
    if piece.part == "drop":
        return _Made(transition, (size, size, piece.length_m))
    if piece.part == "foot":
        return _Made(vaned, piece.size)
    if piece.part == "rack":
        return _Made(rack, piece.size)
    if piece.part == "transition":
        return _Made(transition, (x.opening_m, size, piece.length_m), ())
    return "bought"


def _size(run: DuctRun) -> tuple[float, float]:
    return run.width_m or 0.0, run.height_m or 0.0


def _straight(run: LaidRun, piece: Piece) -> _Made | str:
    if run.shape == "round":
        return _Made(pipe, (run.diameter_m, piece.length_m))
    if run.shape == "oval":
        return "bought: flat oval"
    wide, high = _size(run)
    holes = tuple(
        (t.side, Hole(0, (wide if t.side in ("top", "bottom") else high) / 2, t.at_m, t.size_m, t.tag))
        for t in piece.taps
    )
    return _Made(lying_duct, (wide, high, piece.length_m, holes), LYING)


def _fitting(kind: FittingKind, run: LaidRun, piece: Piece, known: _Known) -> _Made | str:
    """Of a run; what is stamped or spun is bought."""
    if run.shape == "oval":
        return "bought: flat oval"
    round_ = run.shape == "round"
    if round_ and kind.bought_round:
        over = known.runs.get(run.parent or "")
        if kind.form != "transition" or over is None or over.shape != "rectangular":
            return f"bought: {kind.bought_round}"
    return FORMS[kind.form](kind, run, piece, known)


def _turning(run: LaidRun, piece: Piece) -> tuple[float, float]:
    """What an elbow turns in, and what lies across its turn."""
    wide, high = _size(run)
    return (high, wide) if piece.upright else (wide, high)


def _ratio(kind: FittingKind, run: LaidRun) -> float:
    return next((f.ratio for f in run.pieces if f.kind == kind.id), 1.5)


def _elbow(kind: FittingKind, run: LaidRun, piece: Piece, _: _Known) -> _Made | str:
    turns, across = _turning(run, piece)
    throat = max(_ratio(kind, run) - 0.5, LEAST_THROAT) * turns
    return _Made(elbow, (turns, across, throat, 90.0 if kind.turns else 45.0, (0.0, piece.longer_m)))


def _square(_: FittingKind, run: LaidRun, piece: Piece, __: _Known) -> _Made | str:
    legs = (THROAT_LEG_M, THROAT_LEG_M + piece.longer_m)
    return _Made(elbow, (*_turning(run, piece), 0.0, 90.0, legs))


def _vaned(_: FittingKind, run: LaidRun, piece: Piece, __: _Known) -> _Made | str:
    return _Made(vaned, (*_turning(run, piece), (THROAT_LEG_M, THROAT_LEG_M + piece.longer_m)))


def _gored(kind: FittingKind, run: LaidRun, piece: Piece, known: _Known) -> _Made | str:
    if run.shape != "round":
        return _elbow(kind, run, piece, known)
    ratio, d = _ratio(kind, run), run.diameter_m or 0.0
    return _Made(gored, (d, ratio * d, 4))


def _cap(_: FittingKind, run: LaidRun, __: Piece, ___: _Known) -> _Made | str:
    return _Made(cap, _size(run))


def _collar(kind: FittingKind, run: LaidRun, piece: Piece, _: _Known) -> _Made | str:
    return _Made(transition, (_size(run), _size(run), kind.neck_m + piece.longer_m))


WYE_DEG = 45.0


def _wye(kind: FittingKind, run: LaidRun, piece: Piece, known: _Known) -> _Made | str:
    """A saddle on a round trunk, with the hole under it; on a flat one a tap that begins longer."""
    over = known.runs.get(run.parent or "")
    if over is not None and over.shape == "rectangular":
        return _take_off(kind, run, piece, known)
    if over is None or over.shape != "round" or run.shape != "round":
        return "bought: wye"
    d, trunk = run.diameter_m or 0.0, over.diameter_m or 0.0
    return _Made(saddle, (d, trunk, WYE_DEG, d + kind.neck_m), (), (d, trunk, WYE_DEG))


def _take_off(kind: FittingKind, run: LaidRun, piece: Piece, _: _Known) -> _Made | str:
    """Off a flat trunk; at 45 degrees it begins longer, on the side that the air comes from."""
    neck, out = kind.neck_m, kind.neck_m + piece.longer_m
    if run.shape == "round":
        d = run.diameter_m or 0.0
        return _Made(square_to_round, ((d + neck, d), d, out, (neck / 2, 0.0)))
    w, h = _size(run)
    return _Made(transition, ((w + neck, h), (w, h), out, (neck / 2, 0.0)))


def _reducer(kind: FittingKind, run: LaidRun, piece: Piece, known: _Known) -> _Made | str:
    """From the size of the run it goes on from."""
    over = known.runs.get(run.parent or "")
    if over is None or over.shape != "rectangular":
        return f"bought: {kind.bought_round}"
    inlet, long = _size(over), long_m(over, run) + piece.longer_m
    if run.shape == "round":
        return _Made(square_to_round, (inlet, run.diameter_m or 0.0, long))
    return _Made(transition, (inlet, _size(run), long), LYING)


def _boot(kind: FittingKind, run: LaidRun, piece: Piece, known: _Known) -> _Made | str:
    face, high = known.faces.get(run.register_id or ""), kind.neck_m + piece.longer_m
    if face is None:
        return "bought: boot"
    opening = (face.width_m, face.height_m)
    if run.shape == "round":
        return _Made(square_to_round, (opening, run.diameter_m, high))
    return _Made(transition, (opening, _size(run), high))


def _bought(_: FittingKind, __: LaidRun, ___: Piece, ____: _Known) -> _Made | str:
    return "bought"


FORMS: dict[Form, Callable[[FittingKind, LaidRun, Piece, _Known], _Made | str]] = {
    "square": _square,
    "vanes": _vaned,
    "gored": _gored,
    "bend": _elbow,
    "cap": _cap,
    "collar": _collar,
    "transition": _reducer,
    "boot": _boot,
    "wye": _wye,
    "takeoff": _take_off,
    "riser": _bought,
}
"""How each form of a fitting is made of sheet."""
