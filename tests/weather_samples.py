"""One good weather file of each kind, for tests that break them."""

from __future__ import annotations

from functools import lru_cache
from importlib import resources


@lru_cache(maxsize=3)
def sample(suffix: str) -> bytes:
    from tests.design.weather.test_weather import ALL, STAT, ddy

    if suffix == ".epw":
        return resources.files("murvan.demo").joinpath("brindlewick.epw").read_bytes()
    return (ddy(ALL) if suffix == ".ddy" else STAT).encode()
