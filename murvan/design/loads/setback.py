"""Power to bring rooms back in the morning after a night set back, from the rooms' own admittance.

Air held at a temperature T(t) that repeats every day takes P = sum Y(w) T(w) exp(jwt) beyond its steady load; Y comes from
the same layers as the heat balance. What has to be added is the mean of P while the air comes up, as a unit at full
output gives it.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array
from murvan.model.job import DesignDay
from murvan.physics.periodic import HOURS, harmonics

Complex = NDArray[np.complex128]

FINE = 20
"""Steps an hour in which the morning is looked at."""
DOWN, UP = 22, 6
"""Hours at which people go to bed and the heating starts to come back; common practice."""


def profile(plan: DesignDay) -> Array:
    """Air temperature against the set point by hour 1..24, K, 0 or negative."""
    hour = np.arange(1, HOURS + 1)
    night = (hour > DOWN) | (hour <= UP)
    back = np.clip(1 - (hour - UP) / plan.recovery_h, 0, 1)
    return np.asarray(-plan.setback_k * np.where(night, 1.0, np.where(hour < DOWN, back, 0.0)))


def recovery_w(plan: DesignDay, admittance_w_k: Complex) -> Array:
    """Power to add to each room's heating, W; `admittance_w_k` is (room, harmonic)."""
    if plan.setback_k <= 0 or not len(admittance_w_k):
        return np.zeros(len(admittance_w_k))
    fine = FINE * HOURS
    power = np.fft.irfft(admittance_w_k * harmonics(profile(plan)) * fine, n=fine, axis=-1)
    first = (UP - 1) * FINE  # the first value is that of 1:00
    coming = power[:, first : first + round(plan.recovery_h * FINE) + 1]
    return np.asarray(np.maximum(coming.mean(axis=1), 0.0))
