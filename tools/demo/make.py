"""Writes the shipped demos anew: `python -m tools.demo.make`."""

from collections.abc import Callable

from murvan.demo import demo_path
from murvan.model.files import job_text
from murvan.model.job import Job
from tools.demo.coltsfoot_close import bungalow
from tools.demo.complete import designed
from tools.demo.sorrel_lane_readings import finished_job
from tools.demo.weir_steps import narrow_house


def _bungalow() -> Job:
    return designed(bungalow(), 70, {"Kitchen": 100, "Powder": 50})


def _narrow() -> Job:
    return designed(narrow_house(), 90, {"Kitchen": 100, "Powder": 50})


MAKERS: dict[str, Callable[[], Job]] = {"demo": finished_job, "bungalow": _bungalow, "narrow": _narrow}


def main() -> None:
    for key, make in MAKERS.items():
        demo_path(key).write_text(job_text(make()), "utf-8")


if __name__ == "__main__":
    main()
