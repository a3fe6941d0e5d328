"""Reads the shipped catalogue. The equipment file is open JSON: see `docs/catalogue.md`."""

from __future__ import annotations

import json
from functools import lru_cache
from importlib import resources
from pathlib import Path
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from murvan.model.house import Look
from murvan.model.job import Appliance, Climate, Construction, Glazing, Layer
from murvan.model.words import first_problem


class CatalogError(Exception):
    """A catalogue file can't be used. The text names the unit and the field."""


class _Entry(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class CoolingTable(_Entry):
    """Full-speed cooling by outdoor dry bulb (rows) and entering wet bulb (columns), at rated air flow.

    Sensible capacity is given at an entering dry bulb of `dry_bulb_c` and moves with the difference to it.
    """

    outdoor_c: tuple[float, ...] = Field(min_length=2)
    wet_bulb_c: tuple[float, ...] = Field(min_length=2)
    dry_bulb_c: float = 26.6667
    total_w: tuple[tuple[float, ...], ...]
    sensible_w: tuple[tuple[float, ...], ...]
    power_w: tuple[tuple[float, ...], ...]
    min_fraction: float = Field(1.0, gt=0, le=1)
    bypass_factor: float = Field(0.12, ge=0, lt=1)
    flow_exponent_total: float = 0.12
    flow_exponent_sensible: float = 0.35

    @model_validator(mode="after")
    def _rectangular(self) -> CoolingTable:
        for table in (self.total_w, self.sensible_w, self.power_w):
            if len(table) != len(self.outdoor_c) or any(len(r) != len(self.wet_bulb_c) for r in table):
                raise ValueError("a cooling table needs one row an outdoor and one column a wet-bulb temperature")
        if list(self.outdoor_c) != sorted(self.outdoor_c) or list(self.wet_bulb_c) != sorted(self.wet_bulb_c):
            raise ValueError("the temperatures of a cooling table must rise")
        return self


class HeatingTable(_Entry):
    """Heating over outdoor dry bulb at highest and lowest speed, and power at the highest."""

    outdoor_c: tuple[float, ...] = Field(min_length=2)
    max_w: tuple[float, ...]
    min_w: tuple[float, ...]
    power_w: tuple[float, ...]

    @model_validator(mode="after")
    def _same_length(self) -> HeatingTable:
        if len({len(self.outdoor_c), len(self.max_w), len(self.min_w), len(self.power_w)}) != 1:
            raise ValueError("a heating table needs as many capacities and powers as temperatures")
        if list(self.outdoor_c) != sorted(self.outdoor_c):
            raise ValueError("the temperatures of a heating table must rise")
        return self


class Blower(_Entry):
    """Flow [m3/s] by external static [Pa], one row a tap. `tested_with` is already inside the table."""

    kind: Literal["fixed_torque", "constant_airflow", "psc"]
    static_pa: tuple[float, ...] = Field(min_length=3)
    taps_m3_s: tuple[tuple[float, ...], ...] = Field(min_length=1)
    limit_pa: float = Field(gt=0)
    tested_with: tuple[Literal["wet_coil", "dry_coil", "filter", "heater"], ...] = ()
    efficiency: float = Field(0.45, gt=0, le=0.9)

    @model_validator(mode="after")
    def _falls(self) -> Blower:
        for row in self.taps_m3_s:
            if len(row) != len(self.static_pa) or any(b >= a for a, b in zip(row, row[1:], strict=False)):
                raise ValueError("every blower tap needs one falling flow a static pressure")
        return self


class Unit(_Entry):
    """One piece of equipment with its maker's data."""

    id: str
    maker: str
    name: str
    kind: Literal["heat_pump", "furnace_coil", "slim_ducted", "wall"]
    stages: Literal["single", "two", "variable"]
    nominal_w: float = Field(gt=0)
    rated_flow_m3_s: float = Field(gt=0)
    cooling: CoolingTable
    heating: HeatingTable | None = None
    furnace_output_w: float | None = None
    furnace_efficiency: float | None = None
    blower: Blower
    coil_pa: float = 0.0
    heater_pa: float = 0.0
    heater_kw: tuple[float, ...] = ()
    low_ambient_c: float = -20.0
    mca_a: float
    mop_a: float
    line_liquid_m: float = 0.009525
    line_suction_m: float = 0.01905
    line_factory_m: float = 4.572
    line_charge_kg_m: float = 0.0558
    line_max_m: float = 30.0
    line_max_lift_m: float = 15.0
    width_m: float
    depth_m: float
    height_m: float
    outlet_width_m: float
    outlet_depth_m: float
    wheel_diameter_m: float
    weight_kg: float
    sound_dba: float
    price: float


def load_units(path: Path | None = None) -> tuple[Unit, ...]:
    """Units from a JSON file, the shipped one when no path is given. Raises CatalogError."""
    raw = _read("equipment.json") if path is None else _read_path(path)
    items = raw.get("units") if isinstance(raw, dict) else None
    if not isinstance(items, list):
        raise CatalogError("The equipment file has no list of units.")
    out = []
    for item in items:
        try:
            out.append(Unit.model_validate(item))
        except ValidationError as exc:
            label = item.get("name", "A unit") if isinstance(item, dict) else "A unit"
            raise CatalogError(first_problem(exc, item, label)) from None
    return tuple(out)


@lru_cache(maxsize=1)
def units() -> dict[str, Unit]:
    """The shipped units by id, in file order."""
    return {u.id: u for u in load_units()}


def unit(unit_id: str | None) -> Unit | None:
    """One shipped unit, or None."""
    return units().get(unit_id) if unit_id else None


@lru_cache(maxsize=1)
def assemblies() -> tuple[dict[str, Construction], dict[str, Glazing]]:
    """The shipped constructions and glazings by id."""
    raw = _read("assemblies.json")
    return (
        {c["id"]: Construction.model_validate(c) for c in raw["constructions"]},
        {g["id"]: Glazing.model_validate(g) for g in raw["glazings"]},
    )


class Material(_Entry):
    """A building material of the library: a conductivity, or a resistance at its usual thickness."""

    id: str
    name: str
    look: Look
    thickness_m: float
    conductivity_w_mk: float | None = None
    r_m2k_w: float | None = None
    density_kg_m3: float = 0.0
    specific_heat_j_kgk: float = 0.0

    def layer(self, thickness_m: float | None = None, framing_r_m2k_w: float | None = None) -> Layer:
        """A layer of it; a fixed resistance stays what it is, whatever the thickness."""
        return Layer(
            name=self.name,
            thickness_m=self.thickness_m if thickness_m is None else thickness_m,
            conductivity_w_mk=self.conductivity_w_mk,
            r_m2k_w=self.r_m2k_w,
            density_kg_m3=self.density_kg_m3,
            specific_heat_j_kgk=self.specific_heat_j_kgk,
            framing_r_m2k_w=framing_r_m2k_w,
            look=self.look,
        )


@lru_cache(maxsize=1)
def materials() -> dict[str, Material]:
    """The shipped materials by id."""
    return {m["id"]: Material.model_validate(m) for m in _read("library.json")["materials"]}


@lru_cache(maxsize=1)
def studs() -> dict[str, float]:
    """Resistance of a framing member over its depth by its size, such as '2x4', m2K/W."""
    return {k: float(v) for k, v in _read("library.json")["studs_m2k_w"].items()}


@lru_cache(maxsize=1)
def library() -> tuple[dict[str, Construction], dict[str, Glazing]]:
    """All shipped constructions and glazings by id, those of `assemblies` first."""
    raw = _read("library.json")
    made, panes = dict(assemblies()[0]), dict(assemblies()[1])
    for c in raw["constructions"]:
        made[c["id"]] = Construction.model_validate({**c, "layers": [_layer(x) for x in c["layers"]]})
    for g in raw["glazings"]:
        panes[g["id"]] = Glazing.model_validate(g)
    return made, panes


def _layer(spec: dict[str, Any]) -> Layer:
    stud = studs()[spec["stud"]] if "stud" in spec else None
    return materials()[spec["material"]].layer(spec.get("thickness_m"), stud)


@lru_cache(maxsize=1)
def climates() -> dict[str, Climate]:
    """The shipped climates by name, all typical and to be replaced by local design data."""
    return {c["name"]: Climate.model_validate(c) for c in _read("climates.json")["climates"]}


@lru_cache(maxsize=1)
def appliances() -> dict[str, Appliance]:
    """Household things that give off heat or moisture, by name; their id and room are to be filled in."""
    return {x["name"]: Appliance(id="x", room="x", **x) for x in _read("appliances.json")["appliances"]}


def _read(name: str) -> Any:
    return json.loads(resources.files("murvan.catalog").joinpath("data", name).read_text("utf-8"))


def _read_path(path: Path) -> Any:
    try:
        return json.loads(path.read_text("utf-8"))
    except (OSError, ValueError) as exc:
        raise CatalogError(f"Can't read the equipment file {path.name}: {exc}.") from None
