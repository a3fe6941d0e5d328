"""Demo houses with all their faults, solved once, and what a visit to them says."""

from functools import lru_cache

from murvan.design import solve
from murvan.field import Built, House, house, parse_fault, visited
from murvan.field.fit import Fitted, Said, fit
from murvan.field.places import key_of
from murvan.model.edit import with_design
from tests.houses import demo_job


@lru_cache(maxsize=4)
def fitted_house(name: str = "demo") -> House:
    r = solve(demo_job(name))
    found = house(solve(with_design(r.job, readings=visited(Built(r), (), 1))))
    assert found is not None
    return found


def said_of(h: House, faults, seed: int, quick: bool = False) -> list[Said]:
    by_key = {p.key: p for p in h.tracks.places}
    readings = visited(h.built, [parse_fault(h.built, x) for x in faults], seed, quick)
    return [Said(by_key[key_of(r)], r.value, r.uncertainty) for r in readings]


def fit_of(h: House, *faults: str, seed: int = 1, quick: bool = False) -> Fitted:
    found = fit(h.built, h.tracks, said_of(h, faults, seed, quick))
    assert found is not None
    return found


def names(f: Fitted, wanted: tuple[str, str]) -> bool:
    """Whether a fault, (kind, name of its place), is the first suspect or can't be told from it."""
    top = f.suspects[0]
    return not f.nothing_wrong and wanted in {(s.kind.id, s.name) for s in (top.spot, *top.group)}
