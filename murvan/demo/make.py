"""Writes the shipped demo anew: `python -m murvan.demo.make`."""

from murvan.demo import demo_path
from murvan.demo.sorrel_lane_readings import finished_job
from murvan.model.files import job_text


def main() -> None:
    demo_path().write_text(job_text(finished_job()), "utf-8")


if __name__ == "__main__":
    main()
