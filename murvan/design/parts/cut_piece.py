"""A piece before it has its number."""

from __future__ import annotations

from typing import Literal, NamedTuple

from murvan.design.ducts.straights import Tap
from murvan.kinds.duct_materials import DuctMaterial
from murvan.model.job import Ref
from murvan.model.shop import Shop

Stage = Literal["Rough-in", "Trunk", "Branches", "Boots", "Unit", "Trim", "Sundries"]
STAGES: tuple[Stage, ...] = ("Rough-in", "Trunk", "Branches", "Boots", "Unit", "Trim", "Sundries")
"""In the order in which they go up."""


LIGHT_TO_M = Shop().light_to_m


class Draft(NamedTuple):
    """A piece before it has its number; see `Piece`."""

    at: Ref | None
    part: str
    what: str
    size: tuple[float, ...]
    """m."""
    section: str
    where: str
    storey: str
    stage: Stage
    material: str = ""
    form: str = ""
    length_m: float = 0.0
    quantity: float = 1.0
    run: str | None = None
    gauge: int | None = None
    area_m2: float = 0.0
    weight_kg: float = 0.0
    priced: str = ""
    upright: bool = False
    longer_m: float = 0.0
    taps: tuple[Tap, ...] = ()


def of_material(draft: Draft, material: DuctMaterial, area_m2: float) -> Draft:
    """A piece of a material with its gauge and weight. `area_m2`: of its surface."""
    gauge = material.gauge(max(draft.size), LIGHT_TO_M)
    return draft._replace(
        material=material.id, gauge=gauge, area_m2=area_m2, weight_kg=area_m2 * material.weighs_kg_m2(gauge)
    )
