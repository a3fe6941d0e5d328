"""What readings say: how fast, and how honest the shares are, on houses drawn with faults."""

from __future__ import annotations

from collections import defaultdict

import numpy as np

from bench.timing import line, timed

DRAWS = 6
"""Houses of each kind of fault."""
SOUND = 60
BINS = ((0.5, 0.7), (0.7, 0.8), (0.8, 0.9), (0.9, 1.01))
SEED = 70_000


def bench_fit() -> None:
    """A fit of the demo and of 40 rooms, and the houses that they rest on."""
    from murvan.design.lay import whole_layouts
    from murvan.field import House
    from tests.houses import demo_job
    from tests.judge.houses import forty

    large = whole_layouts(forty())[0].job
    for name, job, most in (("demo", demo_job(), 150), ("40 rooms", large, 2000)):
        h = _read(job)
        said = _said(h, [], 1)
        once = timed(lambda h=h: House(h.built, _tracks(h)), 1, 0)
        ms = timed(lambda h=h, said=said: _fit(h, said), 10)
        line(
            f"fit of all readings, {name}",
            f"{ms:.0f} ms (faults of the house, once: {once:.0f})",
            f"under {most} ms",
            ms < most,
        )


def bench_shares() -> None:
    """Of those said so sure, how many are right."""
    from tests.houses import demo_job

    h = _read(demo_job())
    kinds = defaultdict(list)
    for s in h.tracks.spots:
        kinds[s.kind.id].append(s)
    chance, told = np.random.default_rng(SEED), []
    for own in kinds.values():
        for k in range(DRAWS):
            spot = own[chance.integers(len(own))]
            f = _fit(h, _said(h, [(spot, spot.kind.usual)], SEED + k))
            top = f.suspects[0]
            told.append(
                (
                    top.share_of_group,
                    not f.nothing_wrong and spot.key in {top.spot.key, *(x.key for x in top.group)},
                    f.nothing_wrong,
                )
            )
    shares, right, quiet = (np.array(x) for x in zip(*told, strict=True))
    line(
        "faults named, usual amounts",
        f"{right.mean() * 100:.0f} % of {len(right)}, {quiet.mean() * 100:.0f} % unseen",
        "90 % and more",
        bool(right.mean() >= 0.9),
    )
    for low, high in BINS:
        mine = (shares >= low) & (shares < high) & ~quiet
        if mine.any():
            words = f"{right[mine].mean() * 100:.0f} % right of {mine.sum()}"
            line(
                f"said {low * 100:.0f} to {min(high, 1) * 100:.0f} % sure",
                words,
                "as said",
                bool(right[mine].mean() >= low - 0.1),
            )
    silent = np.mean([_fit(h, _said(h, [], SEED + 500 + k)).nothing_wrong for k in range(SOUND)])
    line("left in peace without a fault", f"{silent * 100:.0f} % of {SOUND}", "95 % and more", bool(silent >= 0.95))


def _read(job):  # type: ignore[no-untyped-def]
    """A house in all states of a whole visit."""
    from murvan.design import solve
    from murvan.field import Built, house, visited
    from murvan.model import with_design

    found = house(solve(with_design(job, readings=visited(Built(solve(job)), (), 1))))
    assert found is not None
    return found


def _said(h, faults, seed):  # type: ignore[no-untyped-def]
    from murvan.field import visited
    from murvan.field.fit import Said
    from murvan.field.places import key_of

    by_key = {p.key: p for p in h.tracks.places}
    return [Said(by_key[key_of(r)], r.value, r.uncertainty) for r in visited(h.built, faults, seed)]


def _fit(h, said):  # type: ignore[no-untyped-def]
    from murvan.field.fit import fit

    return fit(h.built, h.tracks, said)


def _tracks(h):  # type: ignore[no-untyped-def]
    from murvan.field.tracks import tracks

    return tracks(h.built, h.tracks.places)
