"""Heat through layers under a day that repeats: transfer matrices at the harmonics of 24 hours (ISO 13786).

A signal of 24 hourly values is its mean and twelve harmonics. For each, layers of known thickness, conductivity and
heat capacity are 2x2 complex matrices between temperature and heat flow on both faces; their product is exact.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from murvan.arrays import Array

Complex = NDArray[np.complex128]

HOURS = 24
HARMONICS = HOURS // 2 + 1
OMEGA = 2 * np.pi * np.arange(HARMONICS) / 86400.0
"""Angular frequency of the mean and the twelve harmonics, rad/s."""


@dataclass(frozen=True)
class Slab:
    """A layer with mass: thickness m, conductivity W/mK, density kg/m3, specific heat J/kgK; or a resistance alone."""

    resistance_m2k_w: float
    capacity_j_m2k: float = 0.0
    """Heat stored per m2 and kelvin; 0 for a film, a gap or a layer whose mass is not known."""


@dataclass(frozen=True)
class Wall:
    """What a stack of layers does to a day, seen from both faces; arrays over the harmonics, W/m2K.

    Heat flowing from the room into its face is `inner` times the face's temperature less `across` times that of the
    air (or ground) beyond, the films given to the stack included.
    """

    inner: Complex
    across: Complex
    outer: Complex
    """The same as `inner`, seen from beyond."""


def matrices(layers: tuple[Slab, ...]) -> tuple[Complex, Complex, Complex, Complex, Array]:
    """A, B, C, D of the stack, inside to outside, each (13,), and the power of e that all of them are times: [T, q] inside =
    [A B; C D] e^power [T, q] outside. Waves that thick stacks all but swallow would leave the range of floats without it.
    """
    one, zero = np.ones(HARMONICS, complex), np.zeros(HARMONICS, complex)
    a, b, c, d, power = one, zero, zero, one, np.zeros(HARMONICS)
    for layer in layers:
        la, lb, lc, more = _layer(layer)
        a, b, c, d = a * la + b * lc, a * lb + b * la, c * la + d * lc, c * lb + d * la
        power = power + more
        if len(layers) > MANY:
            size = np.maximum(np.abs(a), np.abs(d))
            a, b, c, d, power = a / size, b / size, c / size, d / size, power + np.log(size)
    return a, b, c, d, power


MANY = 12
"""Layers from which on their product is kept near 1 as it grows."""


def _layer(layer: Slab) -> tuple[Complex, Complex, Complex, Array]:
    """cosh gL, sinh gL / kg, kg sinh gL of one layer, with (gL)^2 = j w R C, and the power of e that they are times."""
    r, capacity = layer.resistance_m2k_w, layer.capacity_j_m2k
    out_b = np.full(HARMONICS, r, complex)
    if capacity <= 0 or r <= 0:
        store = 1j * OMEGA * max(capacity, 0.0)
        return np.ones(HARMONICS, complex), out_b, store.astype(complex), np.zeros(HARMONICS)
    x = np.sqrt(1j * OMEGA[1:] * r * capacity)
    thick = np.where(x.real > THICK, x.real, 0.0)  # e^x itself, where it is not small
    up, down = np.exp(x - thick), np.exp(-x - thick)
    cosh, sinh = (up + down) / 2, (up - down) / 2
    a, b, c = np.ones(HARMONICS, complex), out_b, np.zeros(HARMONICS, complex)
    a[1:], b[1:], c[1:] = cosh, r * sinh / x, x * sinh / r
    return a, b, c, np.concatenate([[0.0], thick])


THICK = 20.0
"""Real part of gL from which on e^gL is kept apart."""


def through(layers: tuple[Slab, ...]) -> Wall:
    """A stack between the room's face and what lies beyond, outside film included.

    Raises:
        ValueError: the stack has no resistance at all.
    """
    a, b, _, d, power = matrices(layers)
    if abs(b[0] * np.exp(min(power[0], 700.0))) < 1e-9:
        raise ValueError("a stack of layers needs some resistance")
    return Wall(d / b, np.exp(-power) / b, a / b)


def sealed(layers: tuple[Slab, ...]) -> Wall:
    """A stack that stores heat but lets none out behind: adiabatic at its far face."""
    a, _, c, _, _ = matrices(layers)
    none = np.zeros(HARMONICS, complex)
    return Wall(c / a, none, none)


def half_of(layers: tuple[Slab, ...]) -> Wall:
    """One face of a partition between two spaces alike: adiabatic at its middle, so nothing goes across."""
    total = sum(x.resistance_m2k_w for x in layers)
    halves, left = [], total / 2
    for x in layers:
        if left <= 1e-12:
            break
        part = min(1.0, left / x.resistance_m2k_w) if x.resistance_m2k_w > 0 else 1.0
        halves.append(Slab(x.resistance_m2k_w * part, x.capacity_j_m2k * part))
        left -= x.resistance_m2k_w * part
    return sealed(tuple(halves))


def massless(resistance_m2k_w: float) -> Wall:
    """Glass, or a layer whose mass does not count."""
    flat = np.full(HARMONICS, 1 / resistance_m2k_w, complex)
    return Wall(flat, flat, flat)


def side_by_side(walls: tuple[Wall, ...], shares: tuple[float, ...]) -> Wall:
    """Paths beside each other, weighted by their share of the face: bay and stud."""
    return Wall(
        np.sum([s * w.inner for w, s in zip(walls, shares, strict=True)], axis=0),
        np.sum([s * w.across for w, s in zip(walls, shares, strict=True)], axis=0),
        np.sum([s * w.outer for w, s in zip(walls, shares, strict=True)], axis=0),
    )


def harmonics(hourly: Array) -> Complex:
    """Mean and harmonics of hourly values along the last axis, (..., 24) to (..., 13)."""
    return np.asarray(np.fft.rfft(hourly, axis=-1) / HOURS)


def hourly(coefficients: Complex) -> Array:
    """Hourly values of harmonics along the last axis, (..., 13) to (..., 24)."""
    return np.asarray(np.fft.irfft(coefficients * HOURS, n=HOURS, axis=-1))


def decrement(wall: Wall) -> tuple[float, float]:
    """(decrement factor, time lag in hours) of the 24-hour wave; ISO 13786."""
    steady = wall.across[0].real
    first = wall.across[1]
    lag = -np.angle(first) / OMEGA[1] / 3600.0
    return float(abs(first) / steady), float(lag % 24.0)
