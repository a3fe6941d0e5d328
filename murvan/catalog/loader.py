"""Reads the shipped catalogue. The equipment file is open JSON: see `docs/catalogue.md`."""

from __future__ import annotations

import json
from functools import lru_cache
from importlib import resources
from pathlib import Path
from typing import Any, TypeVar

from pydantic import ValidationError

from murvan.model.equipment import MultiUnit, Unit
from murvan.model.house import Look
from murvan.model.job import Appliance, Climate, Construction, Glazing, Layer
from murvan.model.record import Record
from murvan.model.words import first_problem


class CatalogError(Exception):
    """A catalogue file can't be used. The text names the unit and the field."""


def load_units(path: Path | None = None) -> tuple[Unit, ...]:
    """Units from a JSON file, the shipped one when no path is given. Raises CatalogError."""
    return load_equipment(path)[0]


def load_equipment(path: Path | None = None) -> tuple[tuple[Unit, ...], tuple[MultiUnit, ...]]:
    """Units, and outdoor units with several ports, of a JSON file; the shipped one when no path is given. Either list
    may be missing. Raises CatalogError."""
    raw = read_shipped("equipment.json") if path is None else _read_path(path)
    lists = (
        {k: raw[k] for k in ("units", "multi_units") if isinstance(raw.get(k), list)} if isinstance(raw, dict) else {}
    )
    if not lists:
        raise CatalogError("The equipment file has no list of units.")
    return _records(lists.get("units", []), Unit), _records(lists.get("multi_units", []), MultiUnit)


M = TypeVar("M", Unit, MultiUnit)


def _records(items: list[Any], kind: type[M]) -> tuple[M, ...]:
    out: list[M] = []
    for item in items:
        try:
            out.append(kind.model_validate(item))
        except ValidationError as exc:
            label = item.get("name", "A unit") if isinstance(item, dict) else "A unit"
            raise CatalogError(first_problem(exc, item, label)) from None
        if out[-1].id in {u.id for u in out[:-1]}:
            raise CatalogError(f"{out[-1].name}: the id '{out[-1].id}' stands twice in the file.")
    return tuple(out)


@lru_cache(maxsize=1)
def _shipped() -> tuple[tuple[Unit, ...], tuple[MultiUnit, ...]]:
    return load_equipment()


@lru_cache(maxsize=1)
def units() -> dict[str, Unit]:
    """The shipped units by id, in file order."""
    return {u.id: u for u in _shipped()[0]}


@lru_cache(maxsize=1)
def multi_units() -> dict[str, MultiUnit]:
    """The shipped outdoor units with several ports by id, in file order."""
    return {u.id: u for u in _shipped()[1]}


@lru_cache(maxsize=1)
def assemblies() -> tuple[dict[str, Construction], dict[str, Glazing]]:
    """The shipped constructions and glazings by id."""
    raw = read_shipped("assemblies.json")
    return (
        {c["id"]: Construction.model_validate(c) for c in raw["constructions"]},
        {g["id"]: Glazing.model_validate(g) for g in raw["glazings"]},
    )


class Material(Record):
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
    return {m["id"]: Material.model_validate(m) for m in read_shipped("library.json")["materials"]}


@lru_cache(maxsize=1)
def studs() -> dict[str, float]:
    """Resistance of a framing member over its depth by its size, such as '2x4', m2K/W."""
    return {k: float(v) for k, v in read_shipped("library.json")["studs_m2k_w"].items()}


@lru_cache(maxsize=1)
def library() -> tuple[dict[str, Construction], dict[str, Glazing]]:
    """All shipped constructions and glazings by id, those of `assemblies` first."""
    raw = read_shipped("library.json")
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
    return {c["name"]: Climate.model_validate(c) for c in read_shipped("climates.json")["climates"]}


@lru_cache(maxsize=1)
def appliances() -> dict[str, Appliance]:
    """Household things that give off heat or moisture, by name; their id and room are to be filled in."""
    return {x["name"]: Appliance(id="x", room="x", **x) for x in read_shipped("appliances.json")["appliances"]}


def read_shipped(name: str) -> Any:
    """A file of the shipped catalogue as it stands."""
    return json.loads(resources.files("murvan.catalog").joinpath("data", name).read_text("utf-8"))


def _read_path(path: Path) -> Any:
    try:
        return json.loads(path.read_text("utf-8"))
    except (OSError, ValueError, RecursionError) as exc:
        raise CatalogError(f"Can't read the equipment file {path.name}: {exc}.") from None
