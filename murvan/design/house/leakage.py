"""How the leakage of a shell is told: by a blower door's flow or by a class, both as air changes at 50 Pa."""

from __future__ import annotations

from murvan.design.house.geometry import Geometry
from murvan.model.edit import changed, replace_part
from murvan.model.errors import JobValueError
from murvan.model.job import Job

CLASSES = {
    "very-tight": ("Very tight, 1", 1.0),
    "tight": ("Tight, 3", 3.0),
    "average": ("Average, 7", 7.0),
    "loose": ("Loose, 12", 12.0),
    "very-loose": ("Very loose, 20", 20.0),
}
"""Class to its words and air changes an hour at 50 Pa; common practice."""


def class_of(job: Job) -> str:
    """The class a job's leakage was taken from, '' for a figure of its own."""
    if job.leakage.measured:
        return ""
    return next((k for k, (_, value) in CLASSES.items() if abs(value - job.leakage.ach50) < 1e-6), "")


def by_class(job: Job, key: str) -> Job:
    """The job with the leakage of a class, marked as assumed; '' leaves it. Raises JobValueError."""
    if not key:
        return job
    if key not in CLASSES:
        raise JobValueError(f"There is no leakage class '{key}'.")
    return replace_part(job, "leakage", ach50=CLASSES[key][1], measured=False)


def flow50_m3_s(job: Job, geometry: Geometry) -> float:
    """Air through the shell at 50 Pa."""
    return job.leakage.ach50 * geometry.total_volume_m3 / 3600


def by_flow(job: Job, geometry: Geometry, flow_m3_s: float) -> Job:
    """The job with what a blower door read at 50 Pa, marked as measured.

    Raises:
        JobValueError: there are no rooms yet, or the figure can't be of this house.
    """
    volume = geometry.total_volume_m3
    if volume <= 0:
        raise JobValueError("Draw the rooms first: the blower door's flow is set against their volume.")
    ach50 = flow_m3_s * 3600 / volume
    if not 0.1 <= ach50 <= 60:
        raise JobValueError(f"That is {ach50:.2g} air changes an hour at 50 Pa; a house has 0.1 to 60.")
    return changed(job, job.name, leakage=changed(job.leakage, "Leakage", ach50=ach50, measured=True))
