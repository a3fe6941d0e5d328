"""A unit while it is typed: its texts in the user's measures. See `draft_paste` and `draft_check`."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal, get_args

from murvan.model.equipment import KIND_WORDS, STAGE_WORDS, Unit
from murvan.units import FORMS, Units, number
from murvan.units import unit as unit_name

TablePart = Literal["data", "cooling", "heating", "blower"]
PARTS: tuple[TablePart, ...] = get_args(TablePart)
MOST_TAPS = 9
BLOWER_WORDS = {"fixed_torque": "fixed torque", "constant_airflow": "constant air", "psc": "PSC"}
HEADINGS: dict[TablePart, tuple[tuple[str, str], ...]] = {
    "data": (("", ""), ("", "")),
    "cooling": (
        ("Outdoors", "temperature"),
        ("Wet bulb", "temperature"),
        ("Total", "power"),
        ("Sensible", "power"),
        ("Power", "watts"),
    ),
    "heating": (("Outdoors", "temperature"), ("Highest", "power"), ("Lowest", "power"), ("Power", "watts")),
    "blower": (("Static", "pressure"), *((f"Tap {k}", "flow") for k in range(1, MOST_TAPS + 1))),
}
"""Name and kind of each column."""


@dataclass(frozen=True)
class Field:
    """One line of the data: path in the unit, what it is called, what kind of figure or which words it takes."""

    path: str
    label: str
    kind: str = "text"
    needed: bool = True
    words: tuple[tuple[str, str], ...] = ()


FIELDS: tuple[Field, ...] = (
    Field("maker", "Maker"),
    Field("name", "Model"),
    Field("kind", "Kind", "choice", words=tuple(KIND_WORDS.items())),
    Field("stages", "Speeds", "choice", words=tuple(STAGE_WORDS.items())),
    Field("nominal_w", "Nominal cooling", "power"),
    Field("rated_flow_m3_s", "Rated air flow", "flow"),
    Field("cooling.dry_bulb_c", "Table at dry bulb", "temperature"),
    Field("cooling.min_fraction", "Lowest speed, cooling", "percent"),
    Field("cooling.min_power_fraction", "Its power, of full", "percent", False),
    Field("heating.min_power_fraction", "Power at lowest, heating", "percent", False),
    Field("heating.defrost_share", "Left while it frosts", "percent", False),
    Field("low_ambient_c", "Heats down to", "temperature"),
    Field("heater_kw", "Heat kits, kW", "numbers", False),
    Field("furnace_output_w", "Furnace output", "power", False),
    Field("furnace_efficiency", "Furnace AFUE", "percent", False),
    Field("blower.kind", "Blower", "choice", words=tuple(BLOWER_WORDS.items())),
    Field("blower.limit_pa", "Highest static", "pressure"),
    Field("blower.tested_with", "Blower tested with", "words", False),
    Field("coil_pa", "Coil takes", "pressure"),
    Field("heater_pa", "Heat kit takes", "pressure"),
    Field("mca_a", "MCA, amps", "decimal"),
    Field("mop_a", "MOP, amps", "decimal"),
    Field("line_liquid_m", "Liquid line", "gap"),
    Field("line_suction_m", "Suction line", "gap"),
    Field("line_factory_m", "Line charged for", "length"),
    Field("line_loss_m", "Lost on line beyond", "line_loss"),
    Field("line_max_m", "Longest line", "length"),
    Field("line_max_lift_m", "Highest lift", "length"),
    Field("width_m", "Width", "size1"),
    Field("depth_m", "Depth", "size1"),
    Field("height_m", "Height", "size1"),
    Field("outlet_width_m", "Outlet width", "size1"),
    Field("outlet_depth_m", "Outlet depth", "size1"),
    Field("wheel_diameter_m", "Blower wheel", "size1"),
    Field("weight_kg", "Weight", "mass"),
    Field("sound_dba", "Sound outdoors, dBA", "number"),
    Field("price", "Price", "number"),
    Field("price_indoor", "Price without outdoor unit", "number", False),
)

FINER = {"gap": 3, "size1": 2, "pressure": 3}
"""Decimals of what a sheet gives closer than it is shown elsewhere."""
Cells = tuple[tuple[str, ...], ...]


@dataclass(frozen=True)
class UnitDraft:
    """Texts of a unit. `data` holds one value a line of FIELDS; the tables hold rows of cells."""

    id: str
    units: Units
    base: Unit
    """What it began as; it lends what is not asked for."""
    data: Cells
    cooling: Cells
    heating: Cells
    blower: Cells
    said: str = ""
    """What the last paste was taken for."""

    def cells(self, part: TablePart) -> Cells:
        """The rows of a part."""
        return getattr(self, part)  # type: ignore[no-any-return]

    def with_cells(self, part: TablePart, rows: Cells, said: str = "") -> UnitDraft:
        """With other rows in a part."""
        return replace(self, said=said, **{part: rows})  # type: ignore[arg-type]

    def with_cell(self, part: TablePart, row: int, column: int, text: str) -> UnitDraft:
        """With one cell typed; the row below the last makes a new one."""
        rows = [list(r) for r in self.cells(part)]
        if row == len(rows):
            rows.append([""] * width_of(self, part))
        rows[row][column] = text.strip()
        kept = (r for k, r in enumerate(rows) if part == "data" or any(r) or k == row and row < len(rows) - 1)
        return self.with_cells(part, tuple(tuple(r) for r in kept))


def width_of(draft: UnitDraft, part: TablePart) -> int:
    rows = draft.cells(part)
    return len(rows[0]) if rows else len(HEADINGS[part]) - (0 if part != "blower" else MOST_TAPS - 5)


def headings(draft: UnitDraft, part: TablePart) -> list[str]:
    """What stands over the columns, with the measure."""
    if part == "data":
        return ["", ""]
    out = []
    for name, kind in HEADINGS[part][: width_of(draft, part)]:
        out.append(f"{name}, {unit_name(kind, draft.units)}")
    return out


def draft_of(unit: Unit, units: Units, taken: frozenset[str]) -> UnitDraft:
    """A unit of the user's own to edit, or a copy of a shipped one under a free id.

    Args:
        taken: Ids that are not free; an own unit's id is not among them.
    """
    own, name = unit.id, unit.name
    if own in taken:
        stem = f"own-{unit.id}".removeprefix("own-own-")
        own = next(i for i in (stem, *(f"{stem}-{k}" for k in range(2, 10000))) if i not in taken)
        name = f"{unit.name} copy"
    data = tuple(
        (_label(f, units), name if f.path == "name" else _field_text(f, _at(unit, f.path), units)) for f in FIELDS
    )
    c, h, b = unit.cooling, unit.heating, unit.blower
    cooling = [
        (out, wet, c.total_w[i][j], c.sensible_w[i][j], c.power_w[i][j])
        for i, out in enumerate(c.outdoor_c)
        for j, wet in enumerate(c.wet_bulb_c)
    ]
    heating = list(zip(h.outdoor_c, h.max_w, h.min_w, h.power_w, strict=True)) if h is not None else []
    blower = list(zip(b.static_pa, *b.taps_m3_s, strict=True))
    return UnitDraft(
        own,
        units,
        unit,
        data,
        _texts("cooling", cooling, units),
        _texts("heating", heating, units),
        _texts("blower", blower, units),
    )


def _label(f: Field, units: Units) -> str:
    measure = unit_name(f.kind, units) if f.kind in FORMS else ""
    return f"{f.label}, {measure}" if measure else f.label


def _at(unit: Unit, path: str) -> Any:
    at: Any = unit
    for step in path.split("."):
        at = getattr(at, step) if at is not None else None
    return at


def plain(kind: str, value: float, units: Units, decimals: int | None = None) -> str:
    return number(kind, value, units, decimals).replace("−", "-").replace(",", "")


def _field_text(f: Field, value: Any, units: Units) -> str:
    if value is None:
        return ""
    if f.kind == "choice":
        return dict(f.words)[value]
    if f.kind in ("numbers", "words"):
        return ", ".join(f"{x:g}" if isinstance(x, float) else str(x).replace("_", " ") for x in value)
    if f.kind == "text":
        return str(value)
    return plain(f.kind, value, units, FINER.get(f.kind))


def _texts(part: TablePart, rows: Iterable[Sequence[float]], units: Units) -> Cells:
    kinds = [kind for _, kind in HEADINGS[part]]
    return tuple(tuple(plain(kinds[k], v, units) for k, v in enumerate(row)) for row in rows)
