"""Shipped data and its loader: equipment, assemblies, climates. All makers and models are invented."""

from murvan.catalog.limit_sets import keep_limits, limit_sets, own_limits
from murvan.catalog.loader import (
    CatalogError,
    Material,
    appliances,
    assemblies,
    climates,
    library,
    load_units,
    materials,
    multi_units,
    studs,
    units,
)
from murvan.catalog.own import (
    forget_unit,
    keep_units,
    known_multis,
    known_units,
    own_file,
    own_units,
    readable_own_multis,
    readable_own_units,
    units_in,
    units_json,
)
from murvan.catalog.unit_csv import units_csv, units_from_csv

__all__ = [
    "CatalogError",
    "Material",
    "appliances",
    "assemblies",
    "climates",
    "library",
    "load_units",
    "materials",
    "studs",
    "forget_unit",
    "keep_limits",
    "keep_units",
    "limit_sets",
    "own_limits",
    "known_multis",
    "known_units",
    "own_file",
    "own_units",
    "multi_units",
    "readable_own_multis",
    "readable_own_units",
    "units",
    "units_csv",
    "units_from_csv",
    "units_in",
    "units_json",
]
