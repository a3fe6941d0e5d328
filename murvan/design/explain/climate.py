"""The air of a place in figures: pressure, density, the trade's air factors, moisture."""

from __future__ import annotations

from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.weather.conditions import Conditions
from murvan.model.job import Job
from murvan.physics.constants import CP_AIR_J_KGK, STANDARD_DENSITY_KG_M3

STANDARD_PA = 101325.0


def explain_air(job: Job, conditions: Conditions) -> Arithmetic:
    """How altitude thins the air, and what a flow of it carries."""
    q = Quantity
    ratio = conditions.pressure_pa / STANDARD_PA
    density = q("density", conditions.density_kg_m3)
    moist = (
        q("moisture", conditions.outdoor_summer.humidity_ratio),
        q("moisture", conditions.indoor_cooling.humidity_ratio),
    )
    lines = (
        Line(
            "pressure",
            "{1} × (1 − 0.0000225577 × {0} m)^5.2559",
            (q("number", job.site.altitude_m), q("barometer", STANDARD_PA)),
            q("barometer", conditions.pressure_pa),
        ),
        Line(
            "density",
            "{0} × {1}",
            (q("density", STANDARD_DENSITY_KG_M3), q("ratio3", ratio)),
            q("density", conditions.density_kg_m3),
        ),
        Line(
            "sensible factor",
            "{0} × {1}",
            (density, q("cp_flow", CP_AIR_J_KGK)),
            q("air_factor", conditions.sensible_factor),
        ),
        Line(
            "latent factor",
            "{0} × {1}",
            (density, q("hfg_flow", conditions.latent_factor / conditions.density_kg_m3)),
            q("latent_factor", conditions.latent_factor),
        ),
        Line("moisture over indoors", "{0} − {1}", moist, q("moisture", conditions.moisture_difference), True),
    )
    return Arithmetic(
        "Air of the place",
        lines,
        (
            "Standard atmosphere; altitude in metres. Moist air by PsychroLib at the place's pressure",
            "Outdoors at the summer design dry bulb and its coincident wet bulb",
        ),
    )
