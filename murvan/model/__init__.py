"""The job as data: frozen, validated, versioned. It opens and saves itself and computes nothing."""

from murvan.model.edit import insert, remove, replace, replace_part
from murvan.model.errors import InUseError, JobError, JobFileError, JobValueError
from murvan.model.files import load_job, save_job
from murvan.model.job import (
    Air,
    Build,
    Climate,
    Construction,
    DuctRun,
    Exhaust,
    Fitting,
    Glazing,
    Indoor,
    Job,
    Layer,
    Leakage,
    Opening,
    Plenum,
    Reading,
    Register,
    Room,
    Site,
    Space,
    Storey,
    System,
    Transfer,
    Ventilation,
    WallOverride,
    Zone,
)

__all__ = [
    "Air", "Build", "Climate", "Construction", "DuctRun", "Exhaust", "Fitting", "Glazing", "InUseError",
    "Indoor", "Job", "JobError", "JobFileError", "JobValueError", "Layer", "Leakage", "Opening", "Plenum",
    "Reading", "Register", "Room", "Site", "Space", "Storey", "System", "Transfer", "Ventilation",
    "WallOverride", "Zone", "insert", "load_job", "remove", "replace", "replace_part", "save_job",
]
