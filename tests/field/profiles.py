"""Developed flow in a duct, to be traversed."""

import numpy as np


def true_profile(grid, flow_m3_s, exponent=7.0):
    """Velocities of a developed flow at the points, m/s: the 1/n power law (Prandtl, from memory), for simulated instruments."""
    mean = flow_m3_s / grid.area_m2
    pts = np.array(grid.points)
    if grid.round:
        r = np.hypot(*(pts - grid.width_m / 2).T) / (grid.width_m / 2)
        n = exponent
        peak = mean * (n + 1) * (2 * n + 1) / (2 * n * n)
        return np.asarray(peak * np.maximum(1 - r, 1e-6) ** (1 / n))
    x, y = np.abs(2 * pts / (grid.width_m, grid.height_m) - 1).T
    n = exponent
    peak = mean * ((n + 1) / n) ** 2
    return np.asarray(peak * (np.maximum(1 - x, 1e-6) * np.maximum(1 - y, 1e-6)) ** (1 / n))
