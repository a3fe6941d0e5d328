"""What can be changed in a room's card at Loads: the room's own, and what the whole house shares."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from murvan.app.stations.base import Field_, Fields, View
from murvan.app.stations.field_edits import set_part
from murvan.app.stations.fields import of, of_part, people_field
from murvan.app.stations.loads import climate as loads_climate
from murvan.app.stations.loads import gains as loads_gains
from murvan.model import Job, Room
from murvan.model.edit import changed

GLAZED = ("window", "skylight")


def sections(view: View, i: int) -> tuple[Fields, Fields]:
    """Fields of room `i`, and those of the house."""
    r = view.job.rooms[i]
    room = (*_people(view, i), *_glass(view.job, r), loads_gains.adder(r.id))
    return Fields("This room", room), Fields("The whole house", _house(view))


def _people(view: View, i: int) -> tuple[Field_, ...]:
    r = view.job.rooms[i]
    return (people_field(view, r), *(of("rooms", r, name) for name in ("appliances_w", "people_from", "people_to")))


def _glass(job: Job, r: Room) -> tuple[Field_, ...]:
    """All windows of the room at once."""
    mine = [o for o in job.openings if o.room == r.id and o.kind in GLAZED]
    if not mine:
        return ()
    return (
        Field_(
            f"{r.id}.blinds",
            "Blinds let in",
            "percent",
            mine[0].blinds,
            _windows(r.id, "blinds", float),
            f"Change blinds in {r.name}",
        ),
        Field_(
            f"{r.id}.glass",
            "Glazing",
            "text",
            mine[0].glazing or "",
            _windows(r.id, "glazing", str),
            f"Change glazing in {r.name}",
            tuple((x.id, x.name) for x in job.glazings),
        ),
    )


def _windows(room: str, field: str, kind: Callable[[float | str], float | str]) -> Callable[[Job, float | str], Job]:
    """An edit of every window and skylight of a room."""

    def edit(job: Job, value: float | str) -> Job:
        mine = (
            changed(o, o.tag, **{field: kind(value)}) if o.room == room and o.kind in GLAZED else o
            for o in job.openings
        )
        return changed(job, job.name, openings=tuple(mine))

    return edit


def _usual(view: View) -> float:
    """The most that ducts without runs add at the house's peak by default."""
    ld = view.r.loads
    at = view.r.duct_heat.cooling[ld.at(ld.house.month), :, ld.house.hour - 1]
    return float(np.where(view.r.duct_heat.by_run, 0.0, at).max(initial=0.0))


def _allowance(view: View) -> Field_:
    """What ducts without runs add: as typed, else the most they add by default."""
    if view.job.design.air.duct_allowance is not None:
        return of_part(view.job, "air", "duct_allowance")
    return of_part(view.job, "air", "duct_allowance", label="Ducts, default", value=_usual(view))


def _house(view: View) -> tuple[Field_, ...]:
    job = view.job
    return (
        of_part(job, "indoor", "cooling_c"),
        of_part(job, "indoor", "heating_c"),
        Field_(
            "climate.summer",
            "Summer design",
            "temperature",
            job.climate.summer_c,
            loads_climate.set_summer,
            "Change summer design temperature",
        ),
        Field_(
            "climate.winter",
            "Winter design",
            "temperature",
            job.climate.winter_c,
            loads_climate.set_winter,
            "Change winter design temperature",
        ),
        of_part(job, "leakage", "ach50"),
        of_part(job, "air", "duct_leakage"),
        _allowance(view),
        Field_(
            "day.ground",
            "Ground in summer",
            "text",
            "credit" if job.design_day.ground_credit else "none",
            _set_ground,
            "Change what the ground takes in summer",
            (("none", "Stores the day's heat only"), ("credit", "Takes heat from floor and walls")),
            2,
        ),
        of_part(job, "design_day", "setback_k"),
        of_part(job, "design_day", "recovery_h"),
    )


def _set_ground(job: Job, value: float | str) -> Job:
    return set_part("design_day", "ground_credit")(job, value == "credit")
