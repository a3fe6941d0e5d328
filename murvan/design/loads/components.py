"""What a room's load is made of, and the gains of a lived-in house."""

from __future__ import annotations

from murvan.design.house.geometry import COMPASS

BTU_H = 0.29307107017
FT2 = 0.3048**2
GAIN_FIXED_W, GAIN_AREA_W_M2, GAIN_PERSON_W = 464 * BTU_H, 0.7 * BTU_H / FT2, 75 * BTU_H
LATENT_FIXED_W, LATENT_AREA_W_M2, LATENT_PERSON_W = 68 * BTU_H, 0.07 * BTU_H / FT2, 41 * BTU_H

COMPONENTS = (
    *(f"glass_{c}" for c in COMPASS),
    "glass_sky",
    "walls",
    "garage",
    "doors",
    "ceiling",
    "floor",
    "leakage",
    "fresh_air",
    "people",
    "appliances",
    "recovery",
    "ducts",
)
COMPONENT_WORDS = {
    **{
        f"glass_{c}": f"Glass, {w}"
        for c, w in zip(
            COMPASS,
            ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"),
            strict=True,
        )
    },
    "glass_sky": "Glass, skylights",
    "walls": "Walls",
    "garage": "Garage side",
    "doors": "Doors",
    "ceiling": "Ceiling",
    "floor": "Floor",
    "leakage": "Leakage",
    "fresh_air": "Fresh air",
    "people": "People",
    "appliances": "Lights, appliances",
    "recovery": "Morning recovery",
    "ducts": "Ducts",
}
COLUMN = {name: i for i, name in enumerate(COMPONENTS)}
