"""What can be changed in a room's card at Loads: the room's own, and what the whole house shares."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from murvan.app.stations import loads_climate, loads_gains
from murvan.app.stations.base import Field_, Fields, View
from murvan.app.stations.common import set_in, set_part
from murvan.design.loads.gains import people_said
from murvan.model import Job, Room, replace
from murvan.model.edit import changed

GLAZED = ("window", "skylight")


def sections(view: View, i: int) -> tuple[Fields, Fields]:
    """Fields of room `i`, and those of the house."""
    r = view.job.rooms[i]
    room = (*_people(view, i), *_glass(view.job, r), loads_gains.adder(r.id))
    return Fields("This room", room), Fields("The whole house", _house(view))


def _people(view: View, i: int) -> tuple[Field_, ...]:
    r = view.job.rooms[i]
    said = people_said(view.job)
    return (
        Field_(
            f"{r.id}.people",
            "People at peak" if said else "People, default",
            "people",
            r.people if said else float(view.r.gains.people[i].max()),
            set_in("rooms", r.id, "people"),
            f"Change people in {r.name}",
        ),
        Field_(
            f"{r.id}.appliances",
            "Own appliances",
            "power",
            r.appliances_w,
            set_in("rooms", r.id, "appliances_w"),
            f"Change appliances in {r.name}",
        ),
        Field_(
            f"{r.id}.from",
            "People there from",
            "hour",
            float(r.people_from),
            set_hour_in(r.id, "people_from"),
            f"Change hours in {r.name}",
        ),
        Field_(
            f"{r.id}.to",
            "to",
            "hour",
            float(r.people_to),
            set_hour_in(r.id, "people_to"),
            f"Change hours in {r.name}",
        ),
    )


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


def _house(view: View) -> tuple[Field_, ...]:
    job = view.job
    return (
        Field_(
            "indoor.cooling",
            "Indoor, cooling",
            "temperature",
            job.indoor.cooling_c,
            set_part("indoor", "cooling_c"),
            "Change indoor cooling temperature",
        ),
        Field_(
            "indoor.heating",
            "Indoor, heating",
            "temperature",
            job.indoor.heating_c,
            set_part("indoor", "heating_c"),
            "Change indoor heating temperature",
        ),
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
        Field_(
            "leakage.ach50",
            "Leakage, ACH50",
            "per_hour",
            job.leakage.ach50,
            set_part("leakage", "ach50"),
            "Change air leakage",
        ),
        Field_(
            "air.leakage",
            "Ducts leak, all",
            "percent",
            job.design.air.duct_leakage,
            set_part("air", "duct_leakage"),
            "Change duct leakage",
        ),
        Field_(
            "air.allowance",
            "Ducts, without runs" if job.design.air.duct_allowance is not None else "Ducts, default",
            "percent",
            job.design.air.duct_allowance if job.design.air.duct_allowance is not None else _usual(view),
            set_part("air", "duct_allowance"),
            "Change duct allowance",
        ),
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
        Field_(
            "day.setback",
            "Night setback",
            "difference",
            job.design_day.setback_k,
            set_part("design_day", "setback_k"),
            "Change night setback",
        ),
        Field_(
            "day.recovery",
            "Back within",
            "hours",
            job.design_day.recovery_h,
            set_part("design_day", "recovery_h"),
            "Change recovery time",
        ),
    )


def _set_ground(job: Job, value: float | str) -> Job:
    return set_part("design_day", "ground_credit")(job, value == "credit")


def set_hour_in(room: str, field: str) -> Callable[[Job, float | str], Job]:
    """An edit of a room's hour; parts of an hour are rounded."""
    return lambda job, value: replace(job, "rooms", room, **{field: round(float(value))})
