"""What heats a house before anything is changed."""

from __future__ import annotations

from murvan.model.job import Job

FUELS = ("gas", "propane", "oil")


def fuel_here(job: Job) -> str | None:
    """The fuel that is burnt in the house today, by what was typed or noted in the survey; None where there is none."""
    noted = [job.energy.present, *(x.fuel for x in job.existing)]
    return next((f for f in noted if f in FUELS), None)
