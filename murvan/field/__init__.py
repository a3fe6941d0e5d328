"""Readings, the virtual house, the verdict and the suspects."""

from murvan.field.built import Built, has_ducts
from murvan.field.diagnosing import Diagnosis, House, balanced, diagnose, house
from murvan.field.diagnosis_json import diagnosis_data
from murvan.field.protocol import Protocol, visit_to, visited
from murvan.field.readings import read_csv, readings_csv
from murvan.field.verdict import RegisterVerdict, Verdict, verdict
from murvan.field.visit import Visit, parse_fault, virtual_house

__all__ = [
    "Built",
    "Diagnosis",
    "House",
    "Protocol",
    "RegisterVerdict",
    "Verdict",
    "Visit",
    "balanced",
    "diagnose",
    "diagnosis_data",
    "has_ducts",
    "house",
    "parse_fault",
    "read_csv",
    "readings_csv",
    "verdict",
    "virtual_house",
    "visit_to",
    "visited",
]
