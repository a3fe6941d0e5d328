"""How a room answers what acts on it: for every wave of the day, what of it reaches the room's air, how damped and how late.

Worked out from the room's surfaces alone, not from its load: sun, people and the temperatures beyond its surfaces times
these figures are the load again.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from murvan.design.loads.answers import Answers, Faces, Groups, sun_shares
from murvan.design.loads.balance import Balance
from murvan.design.loads.balance_rows import HR, Array, Complex, Index
from murvan.physics.periodic import HARMONICS, harmonics, hourly


@dataclass(frozen=True)
class Wave:
    """One signal of a day through one answer, at an hour.

    The day's wave gives `swing` x `damping` x cos(15 deg x (hour - `top` - `lag`)) times the answer to its mean.
    """

    mean: float
    """Of what acts, K or W."""
    steady: float
    """What of the mean reaches the air, W/K or W/W."""
    swing: float
    """Amplitude of the 24-hour wave of what acts."""
    damping: float
    """What of it reaches the air, against `steady`."""
    top: float
    """Hour at which what acts is highest, 0..24."""
    lag: float
    """Hours that the load comes after it, -12..12."""
    shorter: tuple[float, float, float]
    """What the waves of 12 h, of 8 h, and all shorter ones give at the hour, W."""
    hour: int

    @property
    def mean_w(self) -> float:
        """Of the day's mean, W."""
        return self.mean * self.steady

    @property
    def swing_w(self) -> float:
        """Of the day's first wave at the hour, damped and late, W."""
        return self.steady * self.swing * self.damping * float(np.cos(np.pi / 12 * (self.hour - self.top - self.lag)))

    @property
    def total_w(self) -> float:
        """Mean, first wave and the shorter ones, W."""
        return self.mean_w + self.swing_w + sum(self.shorter)


@dataclass(frozen=True)
class Piece:
    """One surface of the room and what it gives at an hour."""

    label: str
    area_m2: float
    wave: Wave


def wave_of(given: Complex, answer: Complex, hour: int) -> Wave:
    """A signal of hours 1..24 as its harmonics through an answer, both (harmonic,)."""
    out = given * answer
    steady = float(answer[0].real)
    each = _each(out, hour)
    return Wave(
        mean=float(given[0].real),
        steady=steady,
        swing=2 * float(abs(given[1])),
        damping=float(abs(answer[1])) / abs(steady) if steady else 0.0,
        top=_top(given[1]),
        lag=_lag(answer[1], steady),
        shorter=(float(each[2]), float(each[3]), float(each[4:].sum())),
        hour=hour,
    )


def _each(coefficients: Complex, hour: int) -> Array:
    """What each harmonic gives at an hour, (harmonic,)."""
    alone = np.diag(coefficients)
    return np.asarray(hourly(alone)[:, hour - 1])


def _top(first: complex) -> float:
    """Hour 1..24 counts from index 0; a wave is highest where its angle is gone."""
    return float((1 - np.angle(first) * 12 / np.pi) % 24)


def _lag(first: complex, steady: float) -> float:
    late = -np.angle(first if steady >= 0 else -first) * 12 / np.pi
    return float((late + 12) % 24 - 12)


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
