"""Demo jobs in our own invented setting. They ship as data; `tools.demo` makes them."""

from __future__ import annotations

import json
from dataclasses import dataclass
from importlib import resources
from pathlib import Path

from murvan.model.files import job_from_raw
from murvan.model.job import Job


@dataclass(frozen=True)
class Sample:
    """A demo job: the word that opens it, its file, what it shows."""

    key: str
    file: str
    name: str
    about: str


SAMPLES = (
    Sample("demo", "sorrel_lane.json", "17 Sorrel Lane", "two storeys, designed, built and measured"),
    Sample(
        "bungalow", "coltsfoot_close.json", "6 Coltsfoot Close", "L-shaped bungalow on a crawl space, small rooms"
    ),
    Sample("narrow", "weir_steps.json", "31 Weir Steps", "narrow house, basement in the ground, half storey"),
)
BY_KEY = {s.key: s for s in SAMPLES}


def demo_job(key: str = "demo") -> Job:
    """A demo job by its word; without one, 17 Sorrel Lane, worked through all eight stations.

    Raises:
        KeyError: there is no such demo.
    """
    file = BY_KEY[key].file
    raw = json.loads(resources.files("murvan.demo").joinpath(file).read_text("utf-8"))
    return job_from_raw(raw, "The demo")


def demo_path(key: str = "demo") -> Path:
    """Where a shipped demo lies."""
    return Path(str(resources.files("murvan.demo").joinpath(BY_KEY[key].file)))
