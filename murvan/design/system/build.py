"""The cut and buy list, derived from the design: in the order in which pieces go up."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import ceil

from murvan.design.system.cut_piece import STAGES, STEEL_KG_M2, Draft, Stage, gauge_for
from murvan.design.system.cut_runs import run_drafts
from murvan.design.system.cut_unit import plenum_drafts, unit_drafts
from murvan.design.system.ducts import run_kind, run_length_m, run_perimeter_m
from murvan.design.system.hangers import hanger_of, hangers
from murvan.design.system.unit_design import UnitDesign
from murvan.model.design import piece_id
from murvan.model.equipment import Unit
from murvan.model.job import Ref
from murvan.model.routes import LaidRun
from murvan.model.shop import Shop
from murvan.units import Units, number

FLEX_BOX_M = 7.62
"""Flex comes in boxes of 25 ft; common practice."""
SPARE = 1.1
"""What is bought by the piece or the foot has a tenth to spare; common practice."""
JOINTS_A_GALLON = 40
SCREWS_A_JOINT, SCREW_BOX = 6, 100
"""Common practice."""


@dataclass(frozen=True)
class Piece:
    """One line to cut or buy."""

    at: Ref | None
    """The run, register, plenum or unit it belongs to; none for sundries."""
    part: str
    """Which piece of it; the same as long as the run and its fittings stay."""
    number: int
    what: str
    size: tuple[float, ...]
    """One diameter or width and height, m."""
    section: str
    """One of `SECTIONS`."""
    where: str
    storey: str
    stage: Stage
    """When it goes up."""
    length_m: float
    """Of flex what is cut, not how long it lies."""
    quantity: float
    run: str | None
    gauge: int | None
    area_m2: float
    """Of its sheet or wrap."""
    weight_kg: float
    hung: bool
    day: str
    """When it went up."""

    @property
    def id(self) -> str:
        """What tells it from all other pieces of the design."""
        return piece_id(self.at, self.part) if self.at is not None else self.part


@dataclass(frozen=True)
class CutList:
    """All pieces and the shopping list by section."""

    pieces: tuple[Piece, ...]
    done: int

    @property
    def to_hang(self) -> tuple[Piece, ...]:
        """All but sundries, which are bought and not hung."""
        return tuple(p for p in self.pieces if p.section != "Sundries")


def size_text(size: tuple[float, ...], units: Units) -> str:
    """'7', '14 × 8' or '–'."""
    return " × ".join(number("size", s, units) for s in size) if size else "–"


def cut_list(unit_design: UnitDesign, unit: Unit | None) -> CutList:
    """Pieces of one unit by stage, within it by storey and from the unit outwards."""
    done = {x.id: x.day for x in unit_design.ticks}
    storeys = [s.id for s in unit_design.storeys]

    def when(x: Draft) -> tuple[int, int]:
        return STAGES.index(x.stage), storeys.index(x.storey) if x.storey in storeys else len(storeys)

    of_runs = list(run_drafts(unit_design))
    joints = sum(x.section not in ("Registers", "Framing") for x in of_runs) + len(unit_design.runs)
    drafts = [
        *unit_drafts(unit_design, unit),
        *plenum_drafts(unit_design, unit),
        *of_runs,
        *(_sundries(unit_design.runs, joints) if unit_design.runs else ()),
    ]
    rows = tuple(_numbered(k, x, done) for k, x in enumerate(sorted(drafts, key=when), 1))
    return CutList(rows, sum(p.hung for p in rows if p.section != "Sundries"))


def _numbered(number: int, x: Draft, done: dict[str, str]) -> Piece:
    key = piece_id(x.at, x.part) if x.at is not None else x.part
    return Piece(**x._asdict(), number=number, hung=key in done, day=done.get(key, ""))


def as_cut(cuts: CutList, shop: Shop) -> CutList:
    """The same list in the gauges of a shop."""
    if shop.light_to_m == Shop().light_to_m:
        return cuts
    return replace(cuts, pieces=tuple(_in_gauge(p, shop.light_to_m) for p in cuts.pieces))


def _in_gauge(p: Piece, light_to_m: float) -> Piece:
    if p.gauge is None or not p.size:
        return p
    gauge = gauge_for(max(p.size), light_to_m)
    return replace(p, gauge=gauge, weight_kg=p.area_m2 * STEEL_KG_M2[gauge])


def _sundries(runs: tuple[LaidRun, ...], joints: int) -> Iterator[Draft]:
    """What is bought by the box."""
    kinds: dict[str, tuple[float, int]] = {}
    for run in runs:
        kind = hanger_of(run)
        kinds[kind.what] = (kind.spacing_m, kinds.get(kind.what, (0.0, 0))[1] + hangers(run))
    for k, (what, (spacing, n)) in enumerate(kinds.items()):
        where = f"every {spacing / 0.3048:.0f} ft ({spacing:.1f} m)"
        yield _sundry(f"hanger{k}", what, where, ceil(n * SPARE))
    for key, what, where, quantity in (
        ("mastic", "Mastic, tubs of a gallon (3.8 L)", "all joints", max(1, ceil(joints / JOINTS_A_GALLON))),
        (
            "screws",
            f"Screws, boxes of {SCREW_BOX}",
            "metal joints, three a side",
            ceil(joints * SCREWS_A_JOINT / SCREW_BOX),
        ),
    ):
        yield _sundry(key, what, where, quantity)
    wrap = sum(run_length_m(x) * run_perimeter_m(x) for x in runs if x.insulation_r_m2k_w and run_kind(x) != "flex")
    if wrap:
        area = wrap * SPARE
        yield _sundry("wrap", "Duct wrap", "metal outside the shell", 1)._replace(area_m2=area)


def _sundry(key: str, what: str, where: str, quantity: float) -> Draft:
    return Draft(None, f"sundry-{key}", what, (), "Sundries", where, "", "Sundries", quantity=quantity)


SECTIONS = ("Equipment", "Unit's parts", "Framing", "Sheet metal", "Fittings", "Flex", "Registers", "Sundries")


@dataclass(frozen=True)
class BuyRow:
    """Like pieces summed."""

    section: str
    what: str
    size: tuple[float, ...]
    gauge: int | None
    count: float
    """Pieces; of flex boxes."""
    length_m: float
    area_m2: float
    weight_kg: float


def buy_list(cuts: CutList) -> list[BuyRow]:
    """What to buy, by section of the supply house."""
    sums: dict[tuple[str, str, tuple[float, ...], int | None], list[float]] = {}
    for p in cuts.pieces:
        what = "Duct" if p.what.startswith("Duct,") else p.what
        row = sums.setdefault((p.section, what, p.size, p.gauge), [0.0] * 4)
        for k, value in enumerate((p.quantity, p.length_m, p.area_m2, p.weight_kg)):
            row[k] += value
    rows = [BuyRow(*key, *values) for key, values in sums.items()]
    rows = [_boxed(x) if x.section == "Flex" else x for x in rows]
    return sorted(rows, key=lambda r: (SECTIONS.index(r.section), r.what, r.size))


def _boxed(x: BuyRow) -> BuyRow:
    """Flex by the box."""
    boxes = ceil(x.length_m / FLEX_BOX_M - 1e-9)
    return BuyRow(
        x.section, f"{x.what}, boxes of 25 ft", x.size, x.gauge, boxes, *(x.length_m, x.area_m2, x.weight_kg)
    )
