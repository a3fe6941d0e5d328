"""The cut and buy list, derived from the design."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import ceil, pi
from typing import NamedTuple

from murvan.design.system.boxing import frame_m
from murvan.design.system.ducts import order, run_kind, run_length_m, run_perimeter_m
from murvan.design.system.unit_design import UnitDesign
from murvan.model.design import piece_id
from murvan.model.equipment import Unit
from murvan.model.job import Fitting, Ref
from murvan.model.routes import LaidRun
from murvan.model.unit_edit import HEAD_WORDS
from murvan.units import Units, number

JOINT_M = 1.524
"""Sheet metal comes in 5 ft lengths; common practice."""
HANGER_M = {"flex": 1.22, "metal": 2.44}
"""Support spacing: flex every 4 ft, metal every 8 ft; common practice."""
STEEL_KG_M2 = {26: 4.42, 24: 5.64}
"""Galvanised sheet, 26 and 24 gauge; handbook sheet weights, from memory."""

FITTING_WORDS = {
    "takeoff": "Take-off, straight",
    "takeoff45": "Take-off, 45°",
    "elbow": "Elbow, smooth",
    "elbow_gored": "Elbow, 4-piece",
    "elbow_square": "Elbow, square",
    "elbow_vanes": "Elbow with vanes",
    "bend45": "Bend, 45°",
    "reducer": "Transition",
    "boot": "Boot",
    "boot_flex_turn": "Boot, flex bent into it",
    "wye": "Wye",
    "plenum_exit": "Plenum collar",
    "plenum_entry": "Return collar",
    "end_cap": "End cap",
    "riser": "Riser boot",
}


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
    """'Framing', 'Sheet metal', 'Flex', 'Fittings', 'Registers', 'Equipment', 'Sundries'."""
    length_m: float
    quantity: float
    where: str
    storey: str
    run: str | None
    gauge: int | None
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


def gauge_for(largest_m: float) -> int:
    """Sheet gauge for low-pressure house ducts: 26 up to 14 in, 24 beyond; from memory, the local code wins."""
    return 26 if largest_m <= 0.356 else 24


def cut_list(unit_design: UnitDesign, unit: Unit | None) -> CutList:
    """Pieces of one unit, its own end first."""
    done = {x.id: x.day for x in unit_design.ticks}
    drafts = (
        *_unit_end(unit_design, unit),
        *_plenum_pieces(unit_design),
        *_duct_pieces(unit_design),
        *_sundries(unit_design.runs),
    )
    rows = tuple(_numbered(k, x, done) for k, x in enumerate(drafts, 1))
    return CutList(rows, sum(p.hung for p in rows if p.section != "Sundries"))


class _Draft(NamedTuple):
    """A piece before it has its number; see `Piece`."""

    at: Ref | None
    part: str
    what: str
    size: tuple[float, ...]
    section: str
    where: str
    storey: str
    length_m: float = 0.0
    quantity: float = 1.0
    run: str | None = None
    gauge: int | None = None
    weight_kg: float = 0.0


def _numbered(number: int, x: _Draft, done: dict[str, str]) -> Piece:
    key = piece_id(x.at, x.part) if x.at is not None else x.part
    return Piece(**x._asdict(), number=number, hung=key in done, day=done.get(key, ""))


def _storey(u: UnitDesign) -> str:
    return u.indoor.storey or (u.storeys[0].id if u.storeys else "")


def _unit_end(u: UnitDesign, unit: Unit | None) -> Iterator[_Draft]:
    """The unit, its filter, and the boxes on its line."""
    storey, of = _storey(u), Ref("indoor_unit", u.id)
    if unit is not None:
        size = (unit.width_m, unit.depth_m)
        head = u.indoor.kind != "ducted"
        where = HEAD_WORDS[u.indoor.kind] if head else "air handler"
        yield _Draft(of, "", f"{unit.maker} {unit.name}", size, "Equipment", where, storey, weight_kg=unit.weight_kg)
        if not head:  # a head has its own filter in its casing
            size = (u.indoor.filter.width_m, u.indoor.filter.height_m)
            yield _Draft(of, "filter", "Filter", size, "Equipment", "return drop", storey)
    for box in u.boxes:
        what = f"{box.kind.replace('_', ' ').capitalize()}, {box.ports} ports"
        yield _Draft(Ref("box", box.id), "", what, (), "Equipment", "refrigerant line", box.storey or storey)


def _plenum_pieces(u: UnitDesign) -> Iterator[_Draft]:
    for box in u.plenums:
        sheet = 2 * (box.width_m + box.depth_m) * box.height_m + box.width_m * box.depth_m
        gauge = gauge_for(max(box.width_m, box.depth_m))
        yield _Draft(
            Ref("plenum", box.id),
            "",
            f"{box.side.capitalize()} plenum",
            (box.width_m, box.depth_m),
            "Sheet metal",
            "on the air handler",
            _storey(u),
            length_m=box.height_m,
            gauge=gauge,
            weight_kg=sheet * STEEL_KG_M2[gauge],
        )


PLACE_WORDS = {"inside": "", "attic": "attic", "crawl": "crawl space", "basement": "basement", "garage": "garage"}


def _duct_pieces(u: UnitDesign) -> Iterator[_Draft]:
    """Every run from the unit outwards, and the face it ends in."""
    names = {s.id: s.name for s in u.storeys}
    registers, rooms = {x.id: x for x in u.registers}, {r.id: r.name for r in u.rooms}
    for run in order(u.runs):
        where = f"{run.tag} · {PLACE_WORDS[run.lies_in] or names.get(run.storey, '') + ' ceiling'}"
        for k, (what, size, section, length, gauge, weight) in enumerate(_run_pieces(run)):
            at = Ref("run", run.id)
            yield _Draft(
                *(at, str(k), what, size, section, where, run.storey),
                length_m=length,
                run=run.id,
                gauge=gauge,
                weight_kg=weight,
            )
        if run.register_id:
            face = registers[run.register_id]
            what = f"{'Register' if face.side == 'supply' else 'Grille'}, {face.kind.replace('_', ' ')}"
            size, of = (face.width_m, face.height_m), f"{face.tag} · {rooms[face.room]}"
            yield _Draft(Ref("register", face.id), "", what, size, "Registers", of, run.storey, run=run.id)


def _run_pieces(run: LaidRun) -> list[tuple[str, tuple[float, ...], str, float, int | None, float]]:
    length = run_length_m(run)
    size = (run.diameter_m,) if run.diameter_m and run.shape == "round" else (run.width_m or 0.0, run.height_m or 0.0)
    framed = (
        [(f"{run.framed.capitalize()} to frame", frame_m(run), "Framing", length, None, 0.0)] if run.framed else []
    )
    gauge = gauge_for(max(size))
    kg_m = run_perimeter_m(run) * STEEL_KG_M2[gauge]
    out: list[tuple[str, tuple[float, ...], str, float, int | None, float]] = []
    for f in run.pieces:
        if f.kind in ("takeoff", "takeoff45", "plenum_exit", "plenum_entry", "reducer", "riser", "wye"):
            out += _fitting(f, size, gauge, kg_m)
    if run_kind(run) == "flex":
        out.append(
            (
                "Flex" + (f" R-{run.insulation_r_m2k_w * 5.678:.0f}" if run.insulation_r_m2k_w else ""),
                size,
                "Flex",
                length,
                None,
                0.0,
            )
        )
    else:
        # whole joints as they come, and one cut to what is left
        whole = max(0, ceil(length / JOINT_M - 0.05) - 1)
        for long in (*[JOINT_M] * whole, length - whole * JOINT_M):
            out.append(("Duct", size, "Sheet metal", long, gauge, kg_m * long))
    if run.damper is not None:
        out.append(("Hand damper", size, "Fittings", 0.0, None, 0.0))
    if run.zone_damper:
        out.append((f"Zone damper {run.zone_damper}", size, "Fittings", 0.0, None, 0.0))
    for f in run.pieces:
        if f.kind.startswith(("elbow", "bend", "boot", "end")):
            out += _fitting(f, size, gauge, kg_m)
    return [*out, *framed]


def _fitting(
    f: Fitting, size: tuple[float, ...], gauge: int, kg_m: float
) -> list[tuple[str, tuple[float, ...], str, float, int | None, float]]:
    metres = max(size) * f.ratio * pi / 2 if f.kind.startswith("elbow") else 0.3
    return [(FITTING_WORDS[f.kind], size, "Fittings", 0.0, gauge, kg_m * metres)] * f.count


def _sundries(runs: tuple[LaidRun, ...]) -> Iterator[_Draft]:
    """What is bought by the box; nothing without a piece of duct."""
    joints = sum(len(_run_pieces(x)) + 1 - bool(x.framed) for x in runs)
    if not joints:
        return
    hangers = sum(ceil(run_length_m(x) / HANGER_M["flex" if run_kind(x) == "flex" else "metal"]) for x in runs)
    wrap = sum(run_length_m(x) * run_perimeter_m(x) for x in runs if x.insulation_r_m2k_w and run_kind(x) != "flex")
    for key, what, where, quantity in (
        ("hanger", "Hangers and straps", "4 ft flex, 8 ft metal", ceil(hangers * 1.1)),
        ("mastic", "Mastic, gallons", "all joints", max(1, ceil(joints / 40))),
        ("screws", "Screws, three a side", "metal joints", ceil(joints * 6 / 100) * 100),
        ("wrap", "Duct wrap, square feet", "metal outside the shell", ceil(wrap * 1.1 / 0.0929)),
    ):
        if quantity:
            yield _Draft(None, f"sundry-{key}", what, (), "Sundries", where, "", quantity=quantity)


@dataclass(frozen=True)
class BuyRow:
    """Like pieces summed."""

    section: str
    what: str
    size: tuple[float, ...]
    gauge: int | None
    count: float
    length_m: float


def buy_list(cuts: CutList) -> list[BuyRow]:
    """What to buy, by section of the supply house."""
    sums: dict[tuple[str, str, tuple[float, ...], int | None], list[float]] = {}
    for p in cuts.pieces:
        row = sums.setdefault((p.section, p.what, p.size, p.gauge), [0.0, 0.0])
        row[0] += p.quantity
        row[1] += p.length_m
    sections = ("Equipment", "Framing", "Sheet metal", "Fittings", "Flex", "Registers", "Sundries")
    rows = [BuyRow(section, what, size, gauge, n, m) for (section, what, size, gauge), (n, m) in sums.items()]
    return sorted(rows, key=lambda r: (sections.index(r.section), r.what, r.size))
