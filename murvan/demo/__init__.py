"""Demo jobs in our own invented setting. They ship as data; `murvan.demo.sorrel_lane` makes the first one."""

from importlib import resources
from pathlib import Path

from murvan.model.files import job_from_raw
from murvan.model.job import Job

DEMO_FILE = "sorrel_lane.json"


def demo_job() -> Job:
    """17 Sorrel Lane, Brindlewick: the sample house, worked through all eight stations."""
    import json

    raw = json.loads(resources.files("murvan.demo").joinpath(DEMO_FILE).read_text("utf-8"))
    return job_from_raw(raw, "The demo")


def demo_path() -> Path:
    """Where the shipped demo lies."""
    return Path(str(resources.files("murvan.demo").joinpath(DEMO_FILE)))
