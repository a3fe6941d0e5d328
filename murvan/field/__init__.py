"""Readings, the virtual house, the verdict and the suspects."""

from murvan.field.diagnosis import Suspect, suspects
from murvan.field.readings import import_csv, readings_csv
from murvan.field.verdict import RegisterVerdict, Verdict, verdict
from murvan.field.virtual_house import Fault, VirtualHouse

__all__ = [
    "Fault",
    "RegisterVerdict",
    "Suspect",
    "Verdict",
    "VirtualHouse",
    "import_csv",
    "readings_csv",
    "suspects",
    "verdict",
]
