"""Shipped data and its loader: equipment, assemblies, climates. All makers and models are invented."""

from murvan.catalog.loader import (
    Blower,
    CatalogError,
    CoolingTable,
    HeatingTable,
    Material,
    Unit,
    appliances,
    assemblies,
    climates,
    library,
    load_units,
    materials,
    studs,
    unit,
    units,
)

__all__ = [
    "Blower",
    "CatalogError",
    "CoolingTable",
    "HeatingTable",
    "Material",
    "Unit",
    "appliances",
    "assemblies",
    "climates",
    "library",
    "load_units",
    "materials",
    "studs",
    "unit",
    "units",
]
