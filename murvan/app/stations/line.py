"""The line of stations: each module registers its own."""

from __future__ import annotations

from murvan.app.stations import build, ducts, handover, readings
from murvan.app.stations.air import station as air
from murvan.app.stations.base import Station
from murvan.app.stations.equipment import station as equipment
from murvan.app.stations.house import station as house
from murvan.app.stations.loads import station as loads

MODULES = (house, loads, equipment, air, ducts, build, readings, handover)
"""Imported so that they register; their order is that of their numbers."""


def line() -> tuple[Station, ...]:
    """The stations in their order."""
    return tuple(kind() for _, kind in sorted(Station.stations.items()))
