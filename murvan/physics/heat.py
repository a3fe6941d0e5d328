"""Heat through the shell: layers, framing, slab edge, below grade, air leakage."""

from __future__ import annotations

import numpy as np

from murvan.arrays import Array

R_INSIDE_WALL = 0.68 * 0.1761101838  # m2K/W, still air, vertical (ASHRAE Fundamentals ch. 26)
R_OUTSIDE_WINTER = 0.17 * 0.1761101838  # 15 mph wind, same
R_INSIDE_CEILING_UP = 0.61 * 0.1761101838  # heat flowing up, same
R_INSIDE_FLOOR_DOWN = 0.92 * 0.1761101838  # heat flowing down, same


def parallel_path_u(r_cavity: float, r_framing: float, framing_fraction: float) -> float:
    """U-factor [W/m2K] of two paths side by side, resistances with films [m2K/W]; ASHRAE ch. 27."""
    return (1 - framing_fraction) / r_cavity + framing_fraction / r_framing


def below_grade_wall_u(depth_top_m: float, depth_bottom_m: float, r_wall: float, k_soil: float = 1.4) -> float:
    """Average U [W/m2K] of a basement wall between two depths; Latta-Boileau, ASHRAE ch. 18 eq. 39.

    U = 2k/(pi (z2 - z1)) [ln(z2 + 2kR/pi) - ln(z1 + 2kR/pi)], R without the outside film.
    """
    offset = 2 * k_soil * r_wall / np.pi
    span = depth_bottom_m - depth_top_m
    return float(2 * k_soil / (np.pi * span) * (np.log(depth_bottom_m + offset) - np.log(depth_top_m + offset)))


def below_grade_floor_u(width_m: float, depth_m: float, r_floor: float, k_soil: float = 1.4) -> float:
    """Average U [W/m2K] of a basement floor; ASHRAE ch. 18 eq. 38, width is the shorter side."""
    offset = k_soil * r_floor / np.pi
    return float(
        2 * k_soil / (np.pi * width_m) * (np.log(width_m / 2 + depth_m / 2 + offset) - np.log(depth_m / 2 + offset))
    )


STACK = np.array([0.000145, 0.000290, 0.000435])
"""Stack coefficient for 1, 2, 3 storeys, (L/s)2/(cm4 K); ASHRAE ch. 16, from memory."""
WIND = {
    "exposed": np.array([0.000319, 0.000420, 0.000494]),
    "typical": np.array([0.000174, 0.000231, 0.000271]),
    "sheltered": np.array([0.000104, 0.000137, 0.000161]),
}
"""Wind coefficient, (L/s)2/(cm4 (m/s)2), shelter class 1, 3 and 4; ASHRAE ch. 16, from memory."""
LEAK_EXPONENT = 0.65


def leakage_area_cm2(flow50_m3_s: float, density_kg_m3: float = 1.2) -> float:
    """Effective leakage area at 4 Pa from the flow at 50 Pa: Q = C dP^0.65, A = Q4 sqrt(rho/8)."""
    flow4 = flow50_m3_s * (4.0 / 50.0) ** LEAK_EXPONENT
    return float(1e4 * flow4 * np.sqrt(density_kg_m3 / 8.0))


def leak_coefficients(storeys: int, shielding: str) -> tuple[float, float]:
    """Stack and wind coefficient of a house."""
    i = min(max(storeys, 1), 3) - 1
    return float(STACK[i]), float(WIND[shielding][i])


def leakage_flow_m3_s(area_cm2: float, difference_k: float, wind_m_s: float, storeys: int, shielding: str) -> float:
    """Air through the leaks: Q[L/s] = A sqrt(Cs dT + Cw V2); ASHRAE ch. 16, basic model."""
    stack, gusts = leak_coefficients(storeys, shielding)
    return float(area_cm2 * np.sqrt(stack * abs(difference_k) + gusts * wind_m_s**2) / 1000.0)


BURNER_FROM_M, BURNER_PER_M = 2000 * 0.3048, 0.04 / (1000 * 0.3048)


def burner_share(altitude_m: float) -> float:
    """What is left of a gas or oil burner's output at altitude: from 2,000 ft up 4 % less for every 1,000 ft above the sea;
    fuel-gas code, from memory. The maker's plate goes before it."""
    return max(1 - BURNER_PER_M * altitude_m, 0.3) if altitude_m > BURNER_FROM_M else 1.0


def combined_air_m3_s(infiltration: float, unbalanced: float, balanced: float) -> float:
    """Outdoor air with ventilation: max(Qu, Qi + Qu/2) + Qb; ASHRAE ch. 17."""
    return max(unbalanced, infiltration + 0.5 * unbalanced) + balanced


def whole_house_ventilation_m3_s(floor_area_m2: float, bedrooms: int, per_area_cfm_ft2: float = 0.03) -> float:
    """ASHRAE 62.2 section 4: 0.03 cfm/ft2 plus 7.5 cfm for each bedroom and one more."""
    cfm = per_area_cfm_ft2 * floor_area_m2 / 0.3048**2 + 7.5 * (bedrooms + 1)
    return cfm * 0.3048**3 / 60


def sweat_resistance(air_c: float, ambient_c: float, dew_point_c: float, r_outside: float) -> float:
    """Least insulation [m2K/W] that keeps a jacket at the dew point: R_so (Tdew - Tair)/(Tamb - Tdew).

    Zero when the duct's air is warmer than the dew point; infinite when the ambient air is saturated.
    """
    if dew_point_c <= air_c:
        return 0.0
    if ambient_c <= dew_point_c:
        return float("inf")
    return r_outside * (dew_point_c - air_c) / (ambient_c - dew_point_c)


def temperature_kept(ua_w_k: Array | float, capacity_w_k: Array | float) -> Array:
    """Share of the difference to its surroundings that air still has at the end of a duct: exp(-UA / C); ASHRAE 152.

    `ua_w_k` is U times perimeter times length, `capacity_w_k` the flow's heat per kelvin, above 0. Broadcasts.
    """
    return np.asarray(np.exp(-np.asarray(ua_w_k) / capacity_w_k))
