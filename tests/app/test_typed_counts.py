"""Every field that can be typed changes a figure, a line of a schedule or the shop's list; or its name is on the list of notes."""

from __future__ import annotations

import json
import unittest
from collections.abc import Callable, Iterator
from itertools import zip_longest
from typing import Any

import numpy as np

from murvan.app.stations.field_table import PARTS, RECORDS, SUBS, WHOLE
from murvan.app.stations.fields import of, of_job, of_part, of_sub
from murvan.catalog.registers import faces
from murvan.demo import BY_KEY, demo_job
from murvan.design import Results, solve
from murvan.design.ducts.airflow import fresh_air_wanted
from murvan.design.house.today import fuel_here
from murvan.design.units.cost import explain_cost, explain_power, yearly_cost
from murvan.design.zones.calling import zone_calls
from murvan.documents.results_json import results_data
from murvan.documents.schedules import all_schedules, csv_text
from murvan.field.verdict import verdict
from murvan.model import Exhaust, Job, JobError, replace
from murvan.model.design import Bypass
from murvan.model.edit import changed, part_named, replace_part

NOTES = frozenset(
    (
        *("client", "company", "climate.name", "alternatives.name", "places.name"),
        # what the survey found, said on its card and on the plan
        *(f"existing.{k}" for k in ("name", "note", "nameplate", "year", "condition", "output_w", "flow_m3_s")),
        *(f"existing.{k}" for k in ("width_m", "depth_m", "height_m", "diameter_m")),
    )
)
"""Said on sheets and shown on the plan, and nothing is worked out from them."""

DRAWN = frozenset(("furniture.turn_deg", "furniture.kind", "existing.kind"))
"""How a bed, a seat or an old furnace is drawn; that cold air falls on one, and that fans draw down the flame of the other,
are findings with tests of their own."""


def answers(r: Results) -> Iterator[str]:
    """All that the job's figures come to, in words and numbers, the cheap ones first."""
    v = verdict(r.job, r)
    yield json.dumps(results_data(r, v), default=str)
    yield repr((r.cuts, fuel_here(r.job), fresh_air_wanted(r.job, r.geometry.total_area_m2)))
    for s in r.systems.values():
        yield repr(s.plenums)
        x = s.equipment.chosen
        if x is not None:
            yield repr((x, x.season, yearly_cost(x, r.job.energy), explain_cost(x, r.job.energy)))
            yield repr(explain_power(x, r.job.energy, r.conditions.density_kg_m3))
    yield "".join(csv_text(s, "si") for s in all_schedules(r, v, "si"))
    if r.damped_zones:
        yield repr([(c.flow_m3_s, c.runs_m3_s) for c in zone_calls(r)])


def differ(r: Results, before: list[str]) -> bool:
    """Whether an answer is another one; what comes after the first that is is not worked out."""
    mine = answers(r)
    return any(a != b for a, b in zip_longest(mine, before))


def rich(job: Job) -> Job:
    """The sample with what makes more of its fields count: a night set back, gas today, readings of it, snow, overhangs."""
    job = replace_part(job, "design_day", setback_k=3.0)
    job = replace_part(job, "services", snow_m=0.4)
    job = replace_part(job, "energy", present="gas", present_cooling=3.0, cost_in=9000.0, rebate=500.0)
    openings = tuple(changed(o, o.tag, overhang_m=0.6) if o.kind == "window" else o for o in job.openings)
    return changed(job, job.name, openings=openings)


def measured(job: Job) -> Job:
    """Resistance heat of today by its reading."""
    today = {"present": "electric", "present_volts": 240.0, "present_amps": 30.0, "power_factor": 0.95}
    return replace_part(job, "energy", **today)


def burning(fuel: str) -> Callable[[Job], Job]:
    """Fuel burnt today beside fans that draw on a tight house."""

    def variant(job: Job) -> Job:
        job = replace_part(replace_part(job, "energy", present=fuel), "leakage", ach50=0.8)
        return replace(job, "rooms", job.rooms[0].id, exhaust=Exhaust(flow_m3_s=0.3))

    return variant


VARIANTS = (lambda job: job, rich, measured, burning("oil"), burning("propane"))


def others(field: Any) -> Iterator[Any]:
    """Values a hand might type instead."""
    if field.key.endswith("item"):
        yield from (x.id for x in faces().values() if x.side == "supply")
    elif field.options:
        yield from (v for v, _ in field.options if v != field.value)
    elif field.key == "vent.rate":
        yield from ("standard", "reduced")
    elif field.kind == "text":
        yield from ("Another word", "", "2", "90")
    else:
        now = float(field.value) if field.value not in (None, "") else 0.0
        yield from (now * 1.3 + 0.05, now * 0.6, 2.0, 1.0, 12.0, round(now) + 1.0)


def changes(r: Results, before: list[str], field: Any) -> bool | None:
    """Whether typing into a field changes an answer; None where nothing that was tried was taken."""
    tried = None
    for value in others(field):
        try:
            after = field.apply(r.job, value)
        except (JobError, ValueError):  # a choice that the card offers as words is no word typed here
            continue
        if after == r.job:
            continue
        tried = tried or False
        if differ(solve(after, r), before):
            return True
    return tried


def fields_of(job: Job) -> Iterator[tuple[str, Any]]:
    for part, names in PARTS.items():
        yield from ((f"{part}.{name}", of_part(job, part, name)) for name in names)
    yield from ((name, of_job(job, name)) for name in WHOLE)
    for collection, names in RECORDS.items():
        for record in part_named(job, collection)[:5]:
            yield from ((f"{collection}.{name}", of(collection, record, name)) for name in names)
    for (collection, part), names in SUBS.items():
        for record in part_named(job, collection)[:3]:
            usual = Bypass(diameter_m=0.25, opens_pa=40.0) if part == "bypass" else None
            if getattr(record, part) is not None or usual is not None:
                yield from (
                    (f"{collection}.{part}.{name}", of_sub(collection, record, part, name, usual)) for name in names
                )


class EveryFieldCounts(unittest.TestCase):
    def setUp(self) -> None:
        self.enterContext(np.printoptions(threshold=100_000, precision=12))

    def test_each_changes_a_figure_or_is_a_note(self) -> None:
        left = {name: False for name, _ in fields_of(demo_job("demo"))}
        for key in BY_KEY:
            for variant in VARIANTS:
                r = solve(variant(demo_job(key)))
                before = list(answers(r))
                for name, field in fields_of(r.job):
                    if left.get(name) is True or name in NOTES | DRAWN:
                        continue
                    left[name] = left.get(name, False) or bool(changes(r, before, field))
        idle = {name for name, found in left.items() if not found} - NOTES - DRAWN
        self.assertEqual(idle, set(), "typed, and nothing comes of it")


if __name__ == "__main__":
    unittest.main()
