"""How a room answers what acts on it: for every wave of the day, what of it reaches the room's air, how damped and how late.

Worked out from the room's surfaces alone, not from its load: sun, people and the temperatures beyond its surfaces times
these figures are the load again.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from murvan.arrays import Index
from murvan.design.loads.answers import Answers, Faces, Groups, sun_shares
from murvan.design.loads.balance import Balance
from murvan.design.loads.balance_rows import Complex
from murvan.design.loads.balance_walls import HR
from murvan.physics.periodic import HARMONICS, harmonics, hourly


@dataclass(frozen=True)
class Swing:
    """One wave of a day through one answer: of 24 h, 12 h, 8 h and shorter.

    It gives `swing` x `damping` x cos(15 deg x `order` x (hour - `top` - `lag`)) times the answer to the mean.
    """

    order: int
    """How often it comes a day."""
    swing: float
    """Amplitude of what acts, K or W."""
    damping: float
    """What of it reaches the air, against what of the mean does."""
    top: float
    """Hour at which what acts is highest, from 0 on."""
    lag: float
    """Hours that the load comes after it, half a period to both sides."""
    gives_w: float
    """At the hour."""


@dataclass(frozen=True)
class Wave:
    """One signal of a day through one answer, at an hour: its mean and its waves, the longest first."""

    mean: float
    """Of what acts, K or W."""
    steady: float
    """What of the mean reaches the air, W/K or W/W."""
    swings: tuple[Swing, ...]
    hour: int

    @property
    def mean_w(self) -> float:
        """Of the day's mean, W."""
        return self.mean * self.steady

    @property
    def total_w(self) -> float:
        """Mean and all waves, W."""
        return self.mean_w + sum(x.gives_w for x in self.swings)


@dataclass(frozen=True)
class Piece:
    """One surface of the room and what it gives at an hour."""

    label: str
    area_m2: float
    wave: Wave


def wave_of(given: Complex, answer: Complex, hour: int) -> Wave:
    """A signal of hours 1..24 as its harmonics through an answer, both (harmonic,)."""
    steady = float(answer[0].real)
    each = hourly(np.diag(given * answer))[:, hour - 1]
    swings = (_swing(n, given[n], answer[n], steady, float(each[n])) for n in range(1, HARMONICS))
    return Wave(float(given[0].real), steady, tuple(swings), hour)


def _swing(order: int, given: complex, answer: complex, steady: float, gives_w: float) -> Swing:
    """Hour 1..24 counts from index 0; a wave is highest where its angle is gone."""
    hours_a_radian, period = 12 / np.pi / order, 24 / order
    sides = 1 if order == HARMONICS - 1 else 2  # the shortest wave has no conjugate beside it
    late = -np.angle(answer if steady >= 0 else -answer) * hours_a_radian
    return Swing(
        order,
        sides * float(abs(given)),
        float(abs(answer)) / abs(steady) if steady else 0.0,
        float((1 - np.angle(given) * hours_a_radian) % period),
        float((late + period / 2) % period - period / 2),
        gives_w,
    )


@lru_cache(maxsize=8)
def response(answers: Answers, room: int) -> Response:
    """Answers of a room, kept while its surfaces stay."""
    return Response(answers, room)


class Response:
    """One room's answers."""

    def __init__(self, a: Answers, room: int) -> None:
        self.place = a.place
        self.rows = list(a.rows.values())[room][1]
        self.f = f = Faces([self.rows])
        self.front: Index = np.flatnonzero(f.zone < 0)
        one = Groups(np.zeros(len(self.front), np.intp), 1)
        mean_mean, mean_air, _ = f.coefficients(one, self.front)
        through = np.divide(mean_air[0], mean_mean[0], out=np.zeros_like(mean_air[0]), where=mean_mean[0] != 0)
        self.radiant: Complex = through
        """Of radiation that gains give off, W/W, (harmonic,)."""
        self.faces: Complex = (f.to_air[self.front] + through * f.to_mean[self.front]) * f.across[self.front]
        """Of a kelvin beyond each face, W/K, (face, harmonic)."""
        share = sun_shares(f, self.front, one)[:, None] / f.bottom[self.front]
        self.sun: Complex = (share * (f.hc[self.front, None] + through * HR)).sum(axis=0)
        """Of sun on the faces, W/W, (harmonic,)."""

    def beyond_k(self, day: Balance, month: int) -> Complex:
        """Temperature beyond each face over the room's, K, (face, harmonic)."""
        f, p = self.f, self.place
        out = np.zeros((len(self.front), HARMONICS), complex)
        for n, k in enumerate(self.front):
            space = int(f.other[k])
            if space >= 0:
                hc = float(f.other_hc[k])
                radiant, air = day.spaces_k[:, month, space]
                out[n] = (hc * air + HR * radiant) / (hc + HR)
            else:
                out[n] = harmonics(p.drives[f.drive[k]][month])
        return out

    def pieces(self, day: Balance, component: int, month: int, hour: int) -> list[Piece]:
        """Every surface of a component through which something comes."""
        beyond = self.beyond_k(day, month)
        labels = [x.label for x in self.rows.faces if x.zone < 0]
        return [
            Piece(labels[n], float(self.f.area[k]), wave_of(beyond[n], self.faces[n], hour))
            for n, k in enumerate(self.front)
            if self.f.component[k] == component and self.faces[n].any()
        ]
