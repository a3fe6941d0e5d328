"""What can go wrong with a job, in the user's words."""

from __future__ import annotations

SI = {"feet": "{:.2f} m", "area": "{:.2f} m²"}


class JobError(Exception):
    """Base of every refusal that concerns a job. Its text may be shown to the user as it is.

    Args:
        parts: texts, and figures as (kind, SI value), which `murvan.units.said` shows in the user's units.
    """

    def __init__(self, *parts: str | tuple[str, float]) -> None:
        super().__init__("".join(p if isinstance(p, str) else SI[p[0]].format(p[1]) for p in parts))
        self.parts = parts


class JobFileError(JobError):
    """The file can't be opened or saved: missing, empty, truncated, not a job, unsafe."""


class JobValueError(JobError):
    """A value in the job breaks a rule. The text names the place first: 'Bedroom 2, outline: ...'."""


class InUseError(JobError):
    """The element is still used by another one and can't be removed."""
