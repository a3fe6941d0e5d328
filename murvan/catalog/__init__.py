"""Shipped data and its loader: equipment, assemblies, climates. All makers and models are invented."""

from murvan.catalog.loader import (
    Blower,
    CatalogError,
    CoolingTable,
    HeatingTable,
    Unit,
    assemblies,
    climates,
    load_units,
    unit,
    units,
)

__all__ = [
    "Blower",
    "CatalogError",
    "CoolingTable",
    "HeatingTable",
    "Unit",
    "assemblies",
    "climates",
    "load_units",
    "unit",
    "units",
]
