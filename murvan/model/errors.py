"""What can go wrong with a job, in the user's words."""


class JobError(Exception):
    """Base of every refusal that concerns a job. Its text may be shown to the user as it is."""


class JobFileError(JobError):
    """The file can't be opened or saved: missing, empty, truncated, not a job, unsafe."""


class JobValueError(JobError):
    """A value in the job breaks a rule. The text names the place first: 'Bedroom 2, outline: ...'."""


class InUseError(JobError):
    """The element is still used by another one and can't be removed."""
