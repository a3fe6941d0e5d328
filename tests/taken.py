"""Readings of a CSV text that is to be whole."""

from murvan.field import read_csv
from murvan.model import JobValueError


def import_csv(job, text, units):
    """All of them; raises JobValueError with every line that can't be read."""
    taken = read_csv(job, text, units)
    if taken.faults:
        raise JobValueError("; ".join(taken.faults))
    return taken.readings
