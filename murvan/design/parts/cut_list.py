"""The cut and buy list, derived from the design: in the order in which pieces go up."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import ceil
from typing import NamedTuple

from murvan.design.ducts.hangers import hanger_count, hanger_of
from murvan.design.ducts.runs import run_length_m, run_perimeter_m
from murvan.design.ducts.straights import Tap, fits
from murvan.design.parts.cut_piece import LIGHT_TO_M, STAGES, Draft, Stage
from murvan.design.parts.cut_runs import ODD_PIECE, STRAIGHT, run_drafts
from murvan.design.parts.cut_unit import plenum_drafts, unit_drafts
from murvan.design.units.unit_design import UnitDesign
from murvan.kinds.duct_materials import DUCT_MATERIALS, PLAIN
from murvan.kinds.duct_materials import SECTIONS as DUCT_SECTIONS
from murvan.model.design import piece_id
from murvan.model.equipment import Unit
from murvan.model.job import Ref
from murvan.model.routes import LaidRun
from murvan.model.shop import Shop
from murvan.units import FOOT, Units, number

SPARE = 1.1
"""What is bought by the piece or the foot has a tenth to spare; common practice."""
SEALERS = {
    "mastic": ("Mastic, tubs of a gallon (3.8 L)", 40),
    "closure tape": ("Closure tape, rolls of 60 yd (55 m)", 30),
    "solvent cement": ("Solvent cement, tins of a quart (0.95 L)", 40),
}
"""What closes joints, and how many it does; common practice."""
SCREW_BOX = 100


class Piece(NamedTuple):
    """One line to cut or buy."""

    at: Ref | None
    """The run, register, plenum or unit it belongs to; none for sundries."""
    part: str
    """Which piece of it; the same as long as the run and its fittings stay."""
    what: str
    size: tuple[float, ...]
    """One diameter or width and height, m."""
    section: str
    """One of `SECTIONS`."""
    where: str
    storey: str
    stage: Stage
    """When it goes up."""
    material: str
    """Of the kinds of duct material; '' of what is bought ready."""
    form: str
    """'straight', the kind of a fitting, or '' of anything else."""
    length_m: float
    """Of flex what is cut, not how long it lies."""
    quantity: float
    """Pieces, or m of what is cut from length."""
    run: str | None
    gauge: int | None
    area_m2: float
    """Of its sheet or wrap."""
    weight_kg: float
    priced: str
    """What it is paid for as, beside what it is made of; '' for that alone."""
    upright: bool
    """A turn up or down: in the height of its duct."""
    longer_m: float
    """Of a fitting, what it is made longer for want of a straight beside it."""
    taps: tuple[Tap, ...]
    """Holes in it, from its start outwards."""
    number: int
    hung: bool
    day: str
    """When it went up."""

    @property
    def of_sheet(self) -> bool:
        """It is sheet metal, or bought to go with it."""
        bought = not self.material or DUCT_MATERIALS[self.material].sheet is not None
        return bought and self.section in (PLAIN.section, "Fittings")

    @property
    def kg_m2(self) -> float:
        """What its surface weighs; 0 of what is bought ready."""
        return DUCT_MATERIALS[self.material].weighs_kg_m2(self.gauge) if self.material else 0.0

    @property
    def id(self) -> str:
        """What tells it from all other pieces of the design."""
        return piece_id(self.at, self.part) if self.at is not None else self.part


@dataclass(frozen=True)
class CutList:
    """All pieces and the shopping list by section."""

    pieces: tuple[Piece, ...]
    done: int
    lacks_m: tuple[tuple[str, float], ...] = ()
    """Runs whose fittings take more than their legs have, and how much."""

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

    fit = fits(unit_design.runs)
    of_runs = list(run_drafts(unit_design, fit))
    joints = Counter(x.material or PLAIN.id for x in of_runs if x.section not in ("Registers", "Framing"))
    joints.update(r.material for r in unit_design.runs)
    drafts = [
        *unit_drafts(unit_design, unit),
        *plenum_drafts(unit_design, unit),
        *of_runs,
        *(_sundries(unit_design.runs, joints) if unit_design.runs else ()),
    ]
    rows = tuple(_numbered(k, x, done) for k, x in enumerate(sorted(drafts, key=when), 1))
    lacks = tuple((i, x.lacks_m) for i, x in fit.items() if x.lacks_m)
    return CutList(rows, sum(p.hung for p in rows if p.section != "Sundries"), lacks)


def _numbered(number: int, x: Draft, done: dict[str, str]) -> Piece:
    key = piece_id(x.at, x.part) if x.at is not None else x.part
    return Piece(*x, number, key in done, done.get(key, ""))


def as_cut(cuts: CutList, shop: Shop) -> CutList:
    """The same list in the gauges of a shop."""
    if shop.light_to_m == LIGHT_TO_M:
        return cuts
    return replace(cuts, pieces=tuple(_in_gauge(p, shop.light_to_m) for p in cuts.pieces))


def _in_gauge(p: Piece, light_to_m: float) -> Piece:
    if p.gauge is None or not p.size:
        return p
    now = p._replace(gauge=DUCT_MATERIALS[p.material].gauge(max(p.size), light_to_m))
    return now._replace(weight_kg=p.area_m2 * now.kg_m2)


def _sundries(runs: tuple[LaidRun, ...], joints: Counter[str]) -> Iterator[Draft]:
    """What is bought by the box."""
    kinds: dict[str, tuple[float, int]] = {}
    for run in runs:
        kind = hanger_of(run)
        kinds[kind.what] = (kind.spacing_m, kinds.get(kind.what, (0.0, 0))[1] + hanger_count(run))
    for k, (what, (spacing, n)) in enumerate(kinds.items()):
        where = f"every {spacing / 0.3048:.0f} ft ({spacing:.1f} m)"
        yield _sundry(f"hanger{k}", what, where, ceil(n * SPARE), "hanger")
    sealed: Counter[str] = Counter()
    for material, n in joints.items():
        sealed[DUCT_MATERIALS[material].sealed_by] += n
    for by, n in sealed.items():
        what, does = SEALERS[by]
        yield _sundry(
            by, what, "all joints" if len(sealed) == 1 else "its own joints", max(1, ceil(n / does)), "sealer"
        )
    screws = sum(DUCT_MATERIALS[m].screws_a_joint * n for m, n in joints.items())
    if screws:
        boxes = ceil(screws / SCREW_BOX)
        yield _sundry("screws", f"Screws, boxes of {SCREW_BOX}", "metal joints, three a side", boxes, "screws")
    wrap = sum(run_length_m(x) * run_perimeter_m(x) for x in runs if x.insulation_r_m2k_w and not x.made_of.jackets_m)
    if wrap:
        area = wrap * SPARE
        yield _sundry("wrap", "Duct wrap", "metal outside the shell", 1, "wrap")._replace(area_m2=area)


def _sundry(key: str, what: str, where: str, quantity: float, priced: str) -> Draft:
    return Draft(None, f"sundry-{key}", what, (), "Sundries", where, "", "Sundries", quantity=quantity, priced=priced)


SECTIONS = ("Equipment", "Unit's parts", "Framing", *DUCT_SECTIONS, "Fittings", "Registers", "Sundries")


@dataclass(frozen=True)
class BuyRow:
    """Like pieces summed."""

    section: str
    what: str
    size: tuple[float, ...]
    """m."""
    gauge: int | None
    material: str
    form: str
    count: float
    """Pieces; of flex boxes."""
    length_m: float
    area_m2: float
    weight_kg: float

    @property
    def by_length(self) -> bool:
        """It is bought by the length, in boxes."""
        return self.form == STRAIGHT and DUCT_MATERIALS[self.material].bends


def buy_list(cuts: CutList) -> list[BuyRow]:
    """What to buy, by section of the supply house."""
    sums: dict[tuple[str, str, tuple[float, ...], int | None, str, str], list[float]] = {}
    for p in cuts.pieces:
        key = (p.section, p.what.removesuffix(ODD_PIECE), p.size, p.gauge, p.material, p.form)
        row = sums.setdefault(key, [0.0] * 4)
        for k, value in enumerate((p.quantity, p.length_m, p.area_m2, p.weight_kg)):
            row[k] += value
    rows = [BuyRow(*key, *values) for key, values in sums.items()]
    rows = [_boxed(x) if x.by_length else x for x in rows]
    return sorted(rows, key=lambda r: (SECTIONS.index(r.section), r.what, r.size))


def _boxed(x: BuyRow) -> BuyRow:
    """Flex by the box."""
    box = DUCT_MATERIALS[x.material].joint_m
    return replace(x, what=f"{x.what}, boxes of {box / FOOT:.0f} ft", count=ceil(x.length_m / box - 1e-9))
