"""Lifts raw jobs of earlier formats to the present one. What is malformed in them is left for the check on loading."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from murvan.model.routes import joined

Raw = dict[str, Any]


SYSTEM, INDOOR, OUTDOOR, LINE, VENTILATOR = "system1", "unit1", "outdoor1", "line1", "ventilator1"
"""Ids of what a job of format 2 had one of."""


def _to_3(raw: Raw) -> Raw:
    """Format 3 keeps what is designed in designs, with any number of units."""
    taken = ("zones", "ventilation", "system", "air", "plenums", "runs", "registers", "build")
    old = {k: raw[k] for k in taken if k in raw}
    house = {k: v for k, v in raw.items() if k not in taken}
    wanted = {}
    vent, air = (dict(x) if isinstance(x, dict) else x for x in (old.get("ventilation"), old.get("air")))
    if isinstance(vent, dict) and "area_rate" in vent:
        wanted["fresh_air"] = vent.pop("area_rate")
    if isinstance(air, dict) and "moisture_rate" in air:
        wanted["moisture_rate"] = air.pop("moisture_rate")
    if wanted:
        house["indoor"] = {**_dict(house.get("indoor")), **wanted}
    design: Raw = {}
    if "air" in old:
        design["air"] = air
    if "system" in old:
        design |= _units(old["system"])
    if "zones" in old:
        design["zones"] = _each(old["zones"], lambda z: _more(z, rooms=_rooms_of(_dict(z).get("id"), house)))
    house["rooms"] = _each(house.get("rooms"), lambda x: _without(x, "zone"))
    if "ventilation" in old and not _none(vent):
        design["ventilators"] = [{"id": VENTILATOR, "indoor": INDOOR, **vent}] if isinstance(vent, dict) else vent
    for name in ("runs", "registers"):
        if name in old:
            design[name] = _each(old[name], lambda x: _more(x, indoor=INDOOR))
    if design.get("runs"):
        design |= _laid(design["runs"], house, _dict(old.get("system")).get("storey"))
    if "plenums" in old:
        design["plenums"] = _each(
            old["plenums"], lambda x: _more(x, indoor=INDOOR, id=f"plenum-{_dict(x).get('side', '')}")
        )
    if "build" in old:
        design["build"] = _build(old["build"])
    return {**house, "design": design, "format_version": 3}


def _laid(runs: Any, house: Raw, storey: Any) -> Raw:
    """Runs from joint to joint; what can't be laid out stays as it is, to be refused."""
    try:
        joints, laid = joined(runs, _list(house.get("storeys")), storey)
    except (LookupError, TypeError, ValueError, AttributeError, RecursionError):
        return {"runs": runs}
    return {"joints": joints, "runs": laid}


def _none(vent: Any) -> bool:
    """A ventilation that was not there."""
    known = ("kind", "flow_m3_s", "sensible_recovery", "latent_recovery", "position_m", "storey")
    return (
        isinstance(vent, dict)
        and vent.get("kind", "none") == "none"
        and not vent.get("flow_m3_s")
        and set(vent) <= set(known)
    )


FILTER = {"filter_width_m": "width_m", "filter_height_m": "height_m", "filter_pa": "clean_pa", "filter_load": "load"}
OF_LINE = {"line_length_m": "length_m", "line_lift_m": "lift_m"}
OF_SYSTEM = ("candidates", "lockout_c")


def _units(system: Any) -> Raw:
    """The records a format-2 system becomes; what is unknown in it goes to the indoor unit, where it is refused."""
    if not isinstance(system, dict):
        return {"systems": system}
    rest = dict(system)
    sieve, line = ({new: rest.pop(k) for k, new in names.items() if k in rest} for names in (FILTER, OF_LINE))
    above = {k: rest.pop(k) for k in OF_SYSTEM if k in rest}
    outdoor = rest.pop("outdoor_position_m", None)
    indoor = {"id": INDOOR, "tag": "Unit", "system": SYSTEM, **rest, "filter": sieve}
    out: Raw = {"systems": [{"id": SYSTEM, "name": "System", **above}], "indoor_units": [indoor]}
    if line:
        out["lines"] = [{"id": LINE, "indoor": INDOOR, **line}]
    if outdoor is not None:
        out["outdoor_units"] = [{"id": OUTDOOR, "system": SYSTEM, "position_m": outdoor}]
        indoor["outdoor"] = OUTDOOR
    return out


def _rooms_of(zone: Any, house: Raw) -> list[Any]:
    """Zones hold their rooms; before, a room named its zone."""
    return [r.get("id") for r in _list(house.get("rooms")) if isinstance(r, dict) and r.get("zone") == zone]


PIECES = {"unit": f"unit-{INDOOR}", "filter": f"filter-{INDOOR}"}


def _build(build: Any) -> Any:
    done = _dict(build).get("done")
    return (
        {**_dict(build), "done": {PIECES.get(k, k): v for k, v in done.items()}} if isinstance(done, dict) else build
    )


def _each(x: Any, change: Callable[[Any], Any]) -> Any:
    """A list changed one by one; what is no list stays for the check."""
    return [change(one) for one in x] if isinstance(x, list) else x


def _dict(x: Any) -> Raw:
    return x if isinstance(x, dict) else {}


def _list(x: Any) -> list[Any]:
    return x if isinstance(x, list) else []


def _more(x: Any, **fields: Any) -> Any:
    return {**x, **fields} if isinstance(x, dict) else x


def _without(x: Any, name: str) -> Any:
    return {k: v for k, v in x.items() if k != name} if isinstance(x, dict) else x


HOLES = {
    "static-return": "return",
    "static-after-filter": "after_filter",
    "static-supply": "supply",
    "temp-return": "return",
    "temp-supply": "supply",
}
"""Places of readings at the unit, up to format 3."""


def _to_4(raw: Raw) -> Raw:
    """Format 4 keeps readings and what is hung with the design, each pointing at what it is of."""
    out = {k: v for k, v in raw.items() if k != "readings"}
    designs = [_ticked(raw.get("design", {})), *(_ticked(x) for x in _list(raw.get("options")))]
    faces = [{_dict(x).get("id") for x in _list(_dict(d).get("registers"))} for d in designs]
    if "readings" in raw:
        sorted_in: list[list[Any]] = [[] for _ in designs]
        for reading in _list(raw["readings"]) if isinstance(raw["readings"], list) else [raw["readings"]]:
            place = _dict(reading).get("place")
            k = next((k for k, ids in enumerate(faces) if _known(place, ids)), 0)
            sorted_in[k].append(_pointing(reading, _unit_of(designs[k]), faces[k]))
        designs = [
            _more(d, readings=found) if found or k == 0 else d
            for k, (d, found) in enumerate(zip(designs, sorted_in, strict=True))
        ]
    designs = [
        _more(d, runs=_each(d["runs"], _placed)) if isinstance(d, dict) and "runs" in d else d for d in designs
    ]
    # no lock-out could be typed and none was read: a job keeps the figures it was saved with
    designs = [
        _more(d, systems=_each(d["systems"], lambda x: _without(x, "lockout_c")))
        if isinstance(d, dict) and "systems" in d
        else d
        for d in designs
    ]
    out["design"] = designs[0]
    if isinstance(raw.get("options"), list):
        out["options"] = designs[1:]
    return {**out, "format_version": 4}


def _placed(run: Any) -> Any:
    """A run that says what it lies in, as it went without saying."""
    return {"place": "inside", **run} if isinstance(run, dict) else run


def _known(place: Any, ids: set[Any]) -> bool:
    return isinstance(place, str) and place in ids


def _unit_of(design: Any) -> Any:
    """The first unit of a design, whose holes the readings of format 3 are of."""
    units = _list(_dict(design).get("indoor_units"))
    return _dict(units[0]).get("id") if units else INDOOR


def _pointing(reading: Any, unit: Any, faces: set[Any]) -> Any:
    """A reading that points at its register or its hole; one of a place that has gone is kept with the unit."""
    place = _dict(reading).get("place")
    if not isinstance(place, str):
        return reading
    out = _without(reading, "place")
    if place in faces:
        return {**out, "at": {"kind": "register", "id": place}}
    at = {"kind": "indoor_unit", "id": unit}
    if place in HOLES:
        return {**out, "at": at, "hole": HOLES[place]}
    return {**out, "at": at, "note": f"{out.get('note', '')} Read at {place}, which has gone.".strip()}


def _ticked(design: Any) -> Any:
    """A design whose ticks point at what they are of."""
    if not isinstance(design, dict) or "build" not in design:
        return design
    out, build = _without(design, "build"), design["build"]
    done = build.get("done", {}) if isinstance(build, dict) and set(build) <= {"done"} else None
    if not isinstance(done, dict):
        return {**out, "ticks": build}
    owners = {k: {_dict(x).get("id") for x in _list(design.get(f"{k}s"))} for k in ("run", "register", "plenum")}
    owners["unit"] = {_dict(x).get("id") for x in _list(design.get("indoor_units"))} or {INDOOR}
    ticks = [{**of, "day": day} for key, day in done.items() for of in _piece(key, owners)]
    return {**out, "ticks": ticks}


def _piece(key: str, owners: dict[str, set[Any]]) -> list[Raw]:
    """What a ticked piece of format 3 is of; nothing where that has gone."""
    first, _, rest = key.partition("-")
    if first == "face" and rest in owners["register"]:
        return [{"at": {"kind": "register", "id": rest}}]
    if first in ("unit", "filter") and rest in owners["unit"]:
        return [{"at": {"kind": "indoor_unit", "id": rest}, "part": "" if first == "unit" else "filter"}]
    if key in owners["plenum"]:
        return [{"at": {"kind": "plenum", "id": key}}]
    run, _, number = key.rpartition("-")
    return [{"at": {"kind": "run", "id": run}, "part": number}] if run in owners["run"] else []


MIGRATIONS: dict[int, Callable[[Raw], Raw]] = {2: _to_3, 3: _to_4}
"""Format version to the step that lifts a raw job to the next one."""
OLDEST = min(MIGRATIONS)

RENAMED = {
    "marlo-f60-3": "brundel-f60-3",
    "sile-d12": "tavvin-d12",
    "sile-d18": "tavvin-d18",
    **{f"istrane-q{size}": f"ostevin-q{size}" for size in (24, 36, 48)},
}
"""Units of the shipped catalogue that have another id now."""


OLD_DUCT_DEFAULT = 0.1
"""What ducts without runs added in formats 2 and 3, written into each job as if it had been typed."""


def without_old_default(raw: Raw) -> tuple[Raw, tuple[str, ...]]:
    """A raw job lifted from formats 2 and 3 without that figure where no runs are drawn, and a word on it."""
    found = []

    def bare(design: Any) -> Any:
        air = _dict(_dict(design).get("air"))
        if not isinstance(design, dict) or design.get("runs") or air.get("duct_allowance") != OLD_DUCT_DEFAULT:
            return design
        found.append(design)
        return {**design, "air": _without(air, "duct_allowance")}

    out = {**raw, "design": bare(raw.get("design"))}
    if isinstance(raw.get("options"), list):
        out["options"] = [bare(x) for x in raw["options"]]
    words = (
        "Ducts without runs: the 10 % of older Murvans is taken as not typed; what they add now goes by their place. Type it on "
        "Loads if it was meant.",
    )
    return out, words if found else ()


NEVER_READ = "sun_winter"
"""A field of openings that no figure came from."""


def renamed(raw: Raw) -> Raw:
    """A raw job of the present format with units of the catalogue by their present ids, without a field that has gone."""
    raw = {**raw, "openings": _each(raw["openings"], lambda x: _without(x, NEVER_READ))} if "openings" in raw else raw
    designs = [raw.get("design"), *_list(raw.get("options"))]
    for design in designs:
        for indoor in _list(_dict(design).get("indoor_units")):
            if isinstance(indoor, dict) and isinstance(indoor.get("unit"), str):
                indoor["unit"] = RENAMED.get(indoor["unit"], indoor["unit"])
        for system in _list(_dict(design).get("systems")):
            if isinstance(system, dict) and isinstance(system.get("candidates"), list):
                system["candidates"] = [RENAMED.get(x, x) if isinstance(x, str) else x for x in system["candidates"]]
    return raw
