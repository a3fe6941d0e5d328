"""Friction and fittings of duct air flow, vectorised, with analytic derivatives."""

from __future__ import annotations

import numpy as np

from murvan.arrays import Array
from murvan.physics.constants import STANDARD_DENSITY_KG_M3, VISCOSITY_PA_S

RE_LAMINAR, RE_TURBULENT = 2300.0, 4000.0
_TWO_OVER_LN10 = 2 / np.log(10.0)
_HAALAND = 6.9 / 2.51


def rough_terms(relative_roughness: Array) -> tuple[Array, Array]:
    """What of the friction factor goes by roughness alone, for those who ask again and again."""
    e = relative_roughness / 3.7
    return e, e**1.11


def friction_factor(
    reynolds: Array, relative_roughness: Array, rough: tuple[Array, Array] | None = None
) -> tuple[Array, Array]:
    """Darcy friction factor and its derivative to the Reynolds number; `rough`: the `rough_terms`, where they are known.

    Colebrook, solved by one step of fourth order from Haaland (within 1e-9 for 4e3 <= Re <= 1e8). Below Re 2300
    64/Re; between 2300 and 4000 a straight line in Re joins the two. Arrays broadcast.
    """
    slow = float(reynolds.min(initial=RE_TURBULENT)) < RE_TURBULENT
    re = np.maximum(reynolds, 1e-3) if slow else reynolds
    e, by_roughness = rough or rough_terms(relative_roughness)
    b = 2.51 / (np.maximum(re, RE_TURBULENT) if slow else re)
    x = -1.8 * np.log10(by_roughness + _HAALAND * b)
    # g(x) = x + 2 log10(e + b x) = 0; every derivative of g follows from u and w
    inner = e + b * x
    u = b / inner
    w = _TWO_OVER_LN10 * u
    w = w / (1 + w)
    h = (w - 1) * (x + 2 * np.log10(inner))
    y = u * h
    x = x + h * (1 + y * w * (0.5 + y * (0.5 * w - 1 / 3)))
    turbulent = 1 / (x * x)
    k = _TWO_OVER_LN10 * b / (e + b * x)
    falls = turbulent * b * k / (1 + k) * (-2 / 2.51)
    if not slow:
        return turbulent, falls
    laminar_re = np.minimum(re, RE_LAMINAR)
    laminar = 64 / laminar_re
    rise = (turbulent - 64 / RE_LAMINAR) / (RE_TURBULENT - RE_LAMINAR)
    f = laminar + rise * (np.minimum(re, RE_TURBULENT) - laminar_re)
    df = np.where(re < RE_TURBULENT, rise, falls)
    return f, np.where(re < RE_LAMINAR, -laminar / laminar_re, df)


def friction_pa_per_m(
    flow_m3_s: Array,
    area_m2: Array,
    hydraulic_m: Array,
    roughness_m: Array,
    density_kg_m3: float = STANDARD_DENSITY_KG_M3,
    viscosity_pa_s: float = VISCOSITY_PA_S,
) -> Array:
    """Pressure lost per metre of straight duct [Pa/m]: Darcy-Weisbach with Colebrook. Flow >= 0, broadcasts."""
    velocity = flow_m3_s / area_m2
    re = density_kg_m3 * velocity * hydraulic_m / viscosity_pa_s
    f, _ = friction_factor(re, roughness_m / hydraulic_m)
    return f / hydraulic_m * 0.5 * density_kg_m3 * velocity**2


def flex_multiplier(diameter_m: Array, stretched: Array) -> Array:
    """Friction of flex not fully stretched over that of fully stretched, a factor; ASHRAE ch. 21, from memory.

    1 + 0.58 exp(-0.126 D[in]) (100 - stretched %), made for 6-10 in and 70 % and more.
    """
    return 1 + 0.58 * np.exp(-0.126 * diameter_m / 0.0254) * (100 - 100 * stretched)


def rectangular_equivalent_m(width_m: Array, height_m: Array) -> Array:
    """Round diameter of the same friction at the same flow: 1.30 (ab)^.625/(a+b)^.25; Huebscher."""
    return 1.30 * (width_m * height_m) ** 0.625 / (width_m + height_m) ** 0.25


def oval_equivalent_m(major_m: Array, minor_m: Array) -> Array:
    """Flat oval: 1.55 A^.625/P^.25; Heyt and Diaz."""
    area = np.pi * minor_m**2 / 4 + minor_m * (major_m - minor_m)
    perimeter = np.pi * minor_m + 2 * (major_m - minor_m)
    return 1.55 * area**0.625 / perimeter**0.25


DAMPER_DEG = np.array([0.0, 10.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0])
DAMPER_C = np.array([0.2, 0.52, 1.5, 4.5, 11.0, 29.0, 108.0, 620.0, 7000.0, 1e6])
"""Round butterfly damper, blade angle from open; ASHRAE duct fitting data, from memory. Shut: a blade that seals."""


def damper_coefficient(opening: Array) -> Array:
    """Loss coefficient of a butterfly damper, opening 1 = blade in line, 0 = across. Log-interpolated."""
    angle = 90.0 * (1 - opening)
    return np.asarray(np.exp(np.interp(angle, DAMPER_DEG, np.log(DAMPER_C))), float)


def damper_opening(coefficient: float) -> float:
    """The opening that gives a loss coefficient; inverse of `damper_coefficient`, clipped to its table."""
    angle = float(np.interp(np.log(max(coefficient, DAMPER_C[0])), np.log(DAMPER_C), DAMPER_DEG))
    return 1 - angle / 90.0


def orifice_constant(area_m2: float) -> float:
    """Q = constant sqrt(dP), m3/s and Pa; common practice."""
    return 1.07 * area_m2 / 0.0254**2 * 0.3048**3 / 60


def throw_m(flow_m3_s: float, area_m2: float, k: float, ways: int = 1, terminal_m_s: float = 0.254) -> float:
    """Distance at which a jet has slowed to `terminal_m_s` (50 fpm): x = K V0 sqrt(A0)/V_x; ASHRAE space air diffusion.

    Args:
        flow_m3_s: through the face.
        area_m2: free area of the face, > 0.
        k: of the jet.
        ways: jets that part the face among them.
    """
    per_side = area_m2 / ways
    velocity = flow_m3_s / area_m2
    return k * velocity * float(np.sqrt(per_side)) / terminal_m_s
