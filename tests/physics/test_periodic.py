"""Periodic heat flow: against the ISO 13786 definitions worked independently, and against an implicit time-march."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from murvan.physics.periodic import (
    HARMONICS,
    OMEGA,
    Slab,
    decrement,
    half_of,
    harmonics,
    hourly,
    massless,
    matrices,
    side_by_side,
    through,
)

BRICK = (0.1016 / 0.9, 0.1016 * 1900 * 800)
"""Resistance and capacity of 4 in of brick."""
BATT = (2.29, 0.0889 * 14 * 840)
GYPSUM = (0.0793, 0.0127 * 640 * 1150)
FILM = (0.044, 0.0)


def slabs(*pairs):
    return tuple(Slab(r, c) for r, c in pairs)


def march(layers, outside, inside_film, days=40, step_s=60.0, cells=24):
    """Heat into the room from its inner face, W/m2 by hour, by an implicit march through the layers.

    Room air at 0; `outside` is the air beyond the last layer, hourly; between the hours it is the sum of its harmonics,
    as in the method under test.
    """
    resist, store = [], []
    for r, c in layers:
        n = cells if c > 0 else 1
        resist += [r / n] * n
        store += [c / n] * n
    # nodes between the pieces, node 0 the inner face, the last one the outdoor air
    n = len(resist)
    capacity = np.zeros(n)
    for k, c in enumerate(store):
        capacity[k] += c / 2
        if k + 1 < n:
            capacity[k + 1] += c / 2
    g = 1 / np.array(resist)
    matrix = np.zeros((n, n))
    for k in range(n):
        matrix[k, k] += g[k]
        if k + 1 < n:
            matrix[k, k + 1] -= g[k]
            matrix[k + 1, k] -= g[k]
            matrix[k + 1, k + 1] += g[k]
    matrix[0, 0] += 1 / inside_film
    dt = step_s
    left = np.diag(capacity / dt) + 0.5 * matrix
    right = np.diag(capacity / dt) - 0.5 * matrix
    inverse = np.linalg.inv(left)
    per_day = int(86400 / dt)
    spectrum = harmonics(np.asarray(outside, float))
    times = np.arange(per_day + 1) * dt
    beyond = np.real(spectrum[0]) + sum(
        (2 if k < 12 else 1) * np.real(spectrum[k] * np.exp(1j * OMEGA[k] * times)) for k in range(1, HARMONICS)
    )
    t = np.full(n, np.mean(outside) / 2)
    out = np.zeros(24)
    for day in range(days):
        for s in range(per_day):
            if day == days - 1 and s % int(3600 / dt) == 0:
                out[s // int(3600 / dt)] = t[0] / inside_film
            drive = np.zeros(n)
            drive[-1] = g[-1] * 0.5 * (beyond[s] + beyond[s + 1])
            t = inverse @ (right @ t + drive)
    return out


class Iso13786(unittest.TestCase):
    def test_one_layer_against_its_definition(self):
        # k, rho, c of concrete; penetration depth delta = sqrt(k P / (pi rho c)); xi = d / delta
        d, k, rho, c = 0.2, 1.8, 2400.0, 1000.0
        delta = (k * 86400 / (np.pi * rho * c)) ** 0.5
        xi = d / delta
        z11 = np.cosh(xi) * np.cos(xi) + 1j * np.sinh(xi) * np.sin(xi)
        z12 = (delta / (2 * k)) * (
            np.sinh(xi) * np.cos(xi)
            + np.cosh(xi) * np.sin(xi)
            + 1j * (np.cosh(xi) * np.sin(xi) - np.sinh(xi) * np.cos(xi))
        )
        a, b, c_, dd, power = matrices((Slab(d / k, d * rho * c),))
        self.assertEqual(power.tolist(), [0.0] * 13)
        self.assertAlmostEqual(a[1], z11, places=9)
        self.assertAlmostEqual(b[1], z12, places=9)
        self.assertAlmostEqual(dd[1], z11, places=9)
        self.assertAlmostEqual(a[1] * dd[1] - b[1] * c_[1], 1.0, places=9)

    def test_the_mean_is_the_steady_u(self):
        wall = through(slabs(GYPSUM, BATT, BRICK, FILM))
        r = sum(x[0] for x in (GYPSUM, BATT, BRICK, FILM))
        for value in (wall.inner[0], wall.across[0], wall.outer[0]):
            self.assertAlmostEqual(value.real, 1 / r, places=12)
            self.assertAlmostEqual(value.imag, 0.0, places=12)

    def test_heavier_walls_damp_and_delay_more(self):
        light = decrement(through(slabs(GYPSUM, BATT, FILM)))
        heavy = decrement(through(slabs(GYPSUM, BRICK, BRICK, BRICK, FILM)))
        self.assertGreater(light[0], 0.9)
        self.assertLess(heavy[0], 0.5)
        self.assertGreater(heavy[1], light[1] + 4)

    def test_a_layer_in_two_halves_is_the_same_layer(self):
        whole = through(slabs(BRICK, FILM))
        halves = through(slabs((BRICK[0] / 2, BRICK[1] / 2), (BRICK[0] / 2, BRICK[1] / 2), FILM))
        np.testing.assert_allclose(whole.inner, halves.inner, rtol=1e-10)
        np.testing.assert_allclose(whole.across, halves.across, rtol=1e-10)

    def test_seen_from_the_other_side_it_is_the_stack_turned_round(self):
        wall, turned = through(slabs(GYPSUM, BATT, BRICK)), through(slabs(BRICK, BATT, GYPSUM))
        np.testing.assert_allclose(wall.outer, turned.inner, rtol=1e-10)
        np.testing.assert_allclose(wall.across, turned.across, rtol=1e-10)

    def test_a_partition_stores_and_lets_nothing_across(self):
        half = half_of(slabs(GYPSUM, (0.16, 0.0), GYPSUM))
        self.assertEqual(abs(half.across).max(), 0.0)
        self.assertAlmostEqual(abs(half.inner[0]), 0.0)
        # slow enough, the face takes up all the heat of its half: C dT/dt
        self.assertAlmostEqual(abs(half.inner[1]), OMEGA[1] * GYPSUM[1], delta=0.02 * OMEGA[1] * GYPSUM[1])

    def test_massless_is_the_same_at_every_harmonic(self):
        np.testing.assert_allclose(massless(0.5).inner, 2.0)
        np.testing.assert_allclose(through(slabs((0.4, 0.0), (0.1, 0.0))).inner, 2.0)

    def test_bay_and_stud(self):
        both = side_by_side((massless(2.0), massless(1.0)), (0.75, 0.25))
        self.assertAlmostEqual(both.across[3].real, 0.75 / 2 + 0.25)

    def test_no_resistance_is_refused(self):
        with self.assertRaisesRegex(ValueError, "resistance"):
            through(())


class Signals(unittest.TestCase):
    @given(st.lists(st.floats(-50, 150), min_size=24, max_size=24))
    @settings(max_examples=50, deadline=None)
    def test_there_and_back(self, values):
        np.testing.assert_allclose(hourly(harmonics(np.array(values))), values, atol=1e-9)

    def test_the_first_is_the_mean(self):
        self.assertAlmostEqual(harmonics(np.arange(24.0))[0].real, 11.5)


class TimeMarch(unittest.TestCase):
    """A wall between a room at 0 and a day of 24 hourly values, marched minute by minute until it repeats."""

    DAY = 15 + 12 * np.cos(2 * np.pi * (np.arange(24) - 15) / 24) + 4 * np.cos(4 * np.pi * (np.arange(24) - 3) / 24)

    def agree(self, layers, days):
        inside = 0.12
        wall = through(slabs(*layers))
        # face: inner T = across To - T / Rsi  ->  T = across To / (inner + 1 / Rsi)
        spectrum = harmonics(self.DAY)
        flow = hourly(wall.across * spectrum / (wall.inner + 1 / inside)) / inside
        marched = march(layers, self.DAY, inside, days)
        self.assertLess(np.abs(flow - marched).max(), 1e-3 * np.abs(flow).max())

    def test_frame_wall(self):
        self.agree((GYPSUM, BATT, (0.11, 0.0127 * 540 * 1210), FILM), 6)

    def test_brick_wall(self):
        self.agree((GYPSUM, BRICK, FILM), 12)

    def test_heavy_wall(self):
        self.agree((GYPSUM, (0.28, 0.2032 * 1900 * 800), FILM), 25)


if __name__ == "__main__":
    unittest.main()
