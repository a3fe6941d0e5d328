"""What a typed value does to a job, field by field: each gives an edit."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from murvan.catalog.registers import faces
from murvan.design import lay
from murvan.design.ducts import same_area
from murvan.model import Job, replace
from murvan.model.edit import changed, part_named, replace_part
from murvan.model.errors import JobValueError
from murvan.model.limits_set import SHIPPED, SizeLimits

Edit = Callable[[Job, float | str], Job]


Put = Callable[[str, str, str], Edit]


def set_in(collection: str, item: str, field: str) -> Edit:
    """An edit that sets one field of one record."""
    return lambda job, value: replace(job, collection, item, **{field: value})


def set_part(part: str, field: str) -> Edit:
    """An edit that sets one field of a part of the job."""
    return lambda job, value: replace_part(job, part, **{field: value})


def set_whole_job(field: str) -> Edit:
    """An edit that sets one field of the job itself."""
    return lambda job, value: changed(job, job.name, **{field: value})


def set_whole(collection: str, item: str, field: str) -> Edit:
    """An edit that sets a whole number; parts of it are rounded."""
    return lambda job, value: replace(job, collection, item, **{field: round(float(value))})


def set_looked_at(collection: str, item: str, field: str) -> Edit:
    """An edit of an assembly: whoever makes it has looked at it."""
    return lambda job, value: replace(job, collection, item, **{field: value, "assumed": False})


def free_limits_id(limits: SizeLimits) -> str:
    """An id that no set that ships has."""
    return f"own-{limits.id}" if limits.id in {x.id for x in SHIPPED} else limits.id


def set_limit(field: str) -> Edit:
    """An edit of a size limit: a set that ships becomes the job's own under another name."""

    def edit(job: Job, value: float | str) -> Job:
        own = {"id": free_limits_id(job.sizing), "basis": "as typed"}
        if job.sizing.id in {x.id for x in SHIPPED}:
            own["name"] = f"{job.sizing.name}, changed"
        else:
            own = {}
        return replace_part(job, "sizing", **{**own, field: value})

    return edit


def set_size(collection: str, item: str, field: str) -> Edit:
    """A size chosen by hand is held."""
    return lambda job, value: replace(job, collection, item, **{field: float(value), "held": True})


def set_face(collection: str, item: str, field: str) -> Edit:
    """A register or grille of the catalogue with all its figures."""

    def edit(job: Job, value: float | str) -> Job:
        face = faces().get(str(value))
        if face is None:
            raise JobValueError(f"'{value}' is no register of the catalogue.")
        return replace(job, collection, item, **face.fields)

    return edit


def set_yes(collection: str, item: str, field: str) -> Edit:
    """An edit of a field that is yes or no."""
    return lambda job, value: replace(job, collection, item, **{field: value == "yes"})


def set_shape(collection: str, item: str, field: str) -> Edit:
    """Another shape of about the same area; rectangles and ovals half as high as wide."""

    def put(job: Job, value: float | str) -> Job:
        run = record_of(job, collection, item)
        if value == run.shape:
            return job
        size = same_area(run, str(value))
        return replace(job, collection, item, **{field: value, **size})

    return put


def set_way(collection: str, item: str, field: str) -> Edit:
    """A ducted unit that lies or looks another way; plenums and the ducts at them follow."""

    def put(job: Job, value: float | str) -> Job:
        own = record_of(job, collection, item)
        new: Any = int(value) if field == "turn_deg" else value
        if own.storey is None:
            return replace(job, collection, item, **{field: new})
        way, turn = (new, own.turn_deg) if field == "way" else (own.way, new)
        return lay.placed_unit(job, item, own.storey, own.position_m, None, way, turn).job

    return put


def record_of(job: Job, collection: str, item: str) -> Any:
    """A record of the design that is worked on. Raises JobValueError where it has gone meanwhile."""
    found = next((x for x in part_named(job, collection) if x.id == item), None)
    if found is None:
        raise JobValueError(f"There is no '{item}' among the {collection.replace('_', ' ')}.")
    return found


def set_year(collection: str, item: str, field: str) -> Edit:
    """An edit of a year; none when it is emptied."""
    return lambda job, value: replace(
        job, collection, item, **{field: int(value) if str(value).strip().isdigit() else None}
    )


def set_number(collection: str, item: str, field: str) -> Edit:
    """An edit of a figure that is offered as words."""
    return lambda job, value: replace(job, collection, item, **{field: float(value)})


def set_measured(job: Job, value: float | str) -> Job:
    """Whether the air leakage was measured."""
    return replace_part(job, "leakage", measured=value == "yes")


def set_north(job: Job, value: float | str) -> Job:
    """The turn of the plan to north, which is known then."""
    return replace_part(job, "site", north_deg=value, north_known=True)


def set_clock(job: Job, value: float | str) -> Job:
    """Whether clocks go an hour ahead in summer."""
    return replace_part(job, "site", summer_time=value == "ahead")


def set_seismic(job: Job, value: float | str) -> Job:
    """Whether units are braced against earthquakes."""
    return replace_part(job, "site", seismic=value == "yes")


def set_bedrooms(job: Job, value: float | str) -> Job:
    """Bedrooms, a whole number."""
    return changed(job, job.name, bedrooms=round(float(value)))


def set_or_none(collection: str, item: str, field: str) -> Edit:
    """An edit of a field that may be left empty."""
    return lambda job, value: replace(job, collection, item, **{field: None if value == "" else value})


def set_emptied(part: str, field: str) -> Edit:
    """An edit of a part's field that can be emptied."""
    return lambda job, value: replace_part(job, part, **{field: None if value == "" else value})
