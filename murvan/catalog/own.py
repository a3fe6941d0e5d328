"""The user's own units: kept on this machine as JSON of the same form as the shipped ones, and carried by the jobs that use them."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path

from murvan.catalog.loader import CatalogError, load_equipment, multi_units, units
from murvan.catalog.unit_csv import units_from_csv
from murvan.machine import home
from murvan.model.atomic import write_atomic
from murvan.model.equipment import MultiUnit, Unit


def own_file() -> Path:
    """Where the user's own units are kept."""
    return home() / "units.json"


def own_units() -> tuple[Unit, ...]:
    """The user's own units; none while there is no file. The same object as long as the file stays.

    Raises:
        CatalogError: the file can't be read; the text names the unit and the field.
    """
    return _own()[0]


Equipment = tuple[tuple[Unit, ...], tuple[MultiUnit, ...]]
NONE: Equipment = ((), ())


def _own() -> Equipment:
    """The user's own units, and outdoor units with several ports. Raises CatalogError."""
    file = own_file()
    try:
        stamp = file.stat()
    except OSError:
        return NONE
    return _read(file, stamp.st_mtime_ns, stamp.st_size)


@lru_cache(maxsize=2)
def _read(file: Path, _when: int, _size: int) -> Equipment:
    return load_equipment(file)


def readable_own_units() -> tuple[Unit, ...]:
    """The user's own units, none where their file can't be read: a slip in it must not stop a job."""
    return readable_own()[0]


def readable_own_multis() -> tuple[MultiUnit, ...]:
    """The user's own outdoor units with several ports; none where their file can't be read."""
    return readable_own()[1]


def readable_own() -> Equipment:
    """Both, of the file as it is now."""
    try:
        return _own()
    except CatalogError:
        return NONE


def units_in(file: Path) -> Equipment:
    """The units of a JSON or CSV file that someone names, and the outdoor units with several ports.

    Raises:
        CatalogError: names the line, or the unit and the field.
        OSError: it can't be read.
    """
    if file.suffix.lower() != ".csv":
        return load_equipment(file)
    try:
        return units_from_csv(file.read_text("utf-8"))
    except UnicodeDecodeError:
        raise CatalogError(f"{file.name} is not a text file.") from None


def keep_units(new: tuple[Unit, ...], multis: tuple[MultiUnit, ...] = ()) -> tuple[Unit, ...]:
    """Add units to the user's own; one of an id that is there replaces it. Returns all units.

    Raises:
        CatalogError: an id is that of a shipped unit, or the file there can't be read.
        OSError: it can't be written.
    """
    for unit in (*new, *multis):
        if unit.id in units() or unit.id in multi_units():
            raise CatalogError(f"{unit.name}: the id '{unit.id}' is that of a shipped unit; choose another.")
    ids = {x.id for x in (*new, *multis)}
    units_now, multis_now = _own()
    return _write(
        (*(x for x in units_now if x.id not in ids), *new), (*(x for x in multis_now if x.id not in ids), *multis)
    )


def forget_unit(unit_id: str) -> tuple[Unit, ...]:
    """Take a unit out of the user's own; jobs that carry it keep it. Returns those left.

    Raises:
        CatalogError: the file can't be read.
        OSError: it can't be written.
    """
    units_now, multis_now = _own()
    return _write(tuple(x for x in units_now if x.id != unit_id), multis_now)


def _write(every: tuple[Unit, ...], multis: tuple[MultiUnit, ...]) -> tuple[Unit, ...]:
    text = units_json(every, multis)
    own_file().parent.mkdir(parents=True, exist_ok=True)
    write_atomic(own_file(), lambda p: p.write_text(text, "utf-8"))
    return every


def units_json(listed: tuple[Unit, ...], multis: tuple[MultiUnit, ...] = ()) -> str:
    """Units as the text of a JSON file; `load_equipment` reads it back."""
    lists = {"units": listed, "multi_units": multis} if multis else {"units": listed}
    raw = {k: [x.model_dump(mode="json") for x in v] for k, v in lists.items()}
    return json.dumps(raw, indent=1, ensure_ascii=False) + "\n"


def known_multis(of_job: tuple[MultiUnit, ...], own: tuple[MultiUnit, ...]) -> dict[str, MultiUnit]:
    """All outdoor units with several ports by id, as `known_units`."""
    return {**multi_units(), **{x.id: x for x in own if x.id not in multi_units()}, **{x.id: x for x in of_job}}


def known_units(of_job: tuple[Unit, ...], own: tuple[Unit, ...]) -> dict[str, Unit]:
    """All units by id: the shipped ones, the user's own, and those that a job carries, which go first."""
    return {**units(), **{x.id: x for x in own if x.id not in units()}, **{x.id: x for x in of_job}}
