"""Every line of arithmetic of the three sample houses multiplies out as printed, in both systems of units, and adds up."""

from __future__ import annotations

import unittest
from collections.abc import Iterator
from functools import lru_cache

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.arithmetic import Arithmetic
from murvan.design.ducts.airflow import explain_room
from murvan.design.ducts.plenums import explain_plenum
from murvan.design.explain import ducts as explain_ducts
from murvan.design.explain.assembly import explain_u
from murvan.design.explain.climate import explain_air
from murvan.design.explain.day import explain_at
from murvan.design.explain.door import explain_door
from murvan.design.explain.heat import explain_heating_part
from murvan.design.explain.loads import explain_factors, explain_heating
from murvan.design.loads.components import COLUMN, COMPONENTS
from murvan.design.units import equipment
from murvan.field import diagnose, house
from murvan.field import verdict as verdict_of
from murvan.field.explained import explain as explain_suspect
from murvan.field.verdict import explain as explain_verdict
from murvan.model import Exhaust, Transfer
from murvan.model.edit import replace, replace_part
from tests.arith import misses
from tests.houses import doors_of, fan

CFM = 0.3048**3 / 60


def jobs():
    """The samples, and the first with other fans, a night set back and credit for the ground."""
    demo = demo_job()
    for key in ("demo", "bungalow", "narrow"):
        yield key, demo_job(key)
    yield "exhaust", fan(demo, kind="exhaust", flow_m3_s=60 * CFM)
    supply = fan(demo, kind="supply", flow_m3_s=60 * CFM)
    bath = next(r.id for r in demo.rooms if r.use == "bath")
    yield "supply", replace(supply, "rooms", bath, exhaust=Exhaust(flow_m3_s=20 * CFM, continuous=True))
    yield "night", replace_part(demo, "design_day", setback_k=3.0, ground_credit=True)
    yield "south", replace_part(demo, "site", latitude_deg=-34.0)


@lru_cache(maxsize=1)
def results():
    return [(key, solve(job)) for key, job in jobs()]


def loads_of(r) -> Iterator[Arithmetic]:
    ld = r.loads
    for i in range(len(r.job.rooms)):
        month, hour = ld.at(int(ld.peak_month[i])), int(ld.peak_hour[i])
        for name in COMPONENTS:
            yield explain_at(r, i, name, month, hour)
            yield explain_at(r, i, name, 0, 7)
            yield explain_heating_part(r, i, name)
            yield explain_factors(r, i, name)
        yield explain_heating(r.job, ld, i)
        yield explain_room(r.main.airflow, ld, i)


def rest_of(r) -> Iterator[Arithmetic]:
    yield explain_air(r.job, r.conditions)
    for c in r.job.constructions:
        yield explain_u(c, (12.3, 30.1))
    if r.job.design.runs:
        yield explain_ducts.explain_rate(r.main.ducts)
        for x in r.runs.values():
            yield explain_ducts.explain_run(x, r.main.ducts)
    for p in r.main.plenums:
        yield explain_plenum(p)
    for room_id, door in doors_of(r.job).items() if r.network else ():
        room = next(x for x in r.job.rooms if x.id == room_id)
        yield explain_door(r.network, room_id, room.transfer or Transfer(), door.width_m)
    x = r.main.equipment.chosen
    if x is not None:
        yield equipment.explain_capacity(x, r.conditions, r.loads)
        yield equipment.explain_balance(x, r.main.equipment, r.conditions, r.loads)
    if r.job.design.readings:
        v = verdict_of(r.job, r)
        for v_ in v.registers.values():
            yield explain_verdict(v_)
        h = house(r)
        found = diagnose(h, r.job) if h is not None else None
        for s in found.fitted.suspects if found is not None else ():
            yield explain_suspect(found.fitted, s)


class EveryLine(unittest.TestCase):
    def check(self, arithmetics, key):
        seen = 0
        for a in arithmetics:
            for line in a.lines:
                seen += 1
                for units in ("ip", "si"):
                    self.assertEqual(misses(line, units), "", f"{key}, {a.title}, {units}")
            self.adds_up(a, key)
        return seen

    def adds_up(self, a, key):
        bold = next((x for x in a.lines if x.bold), None)
        if bold is None or bold.expression or bold.result is None or bold.result.kind != "power":
            return
        parts = [
            x for x in a.lines[: a.lines.index(bold)] if x.adds and x.result and x.result.kind == bold.result.kind
        ]
        total = sum(x.result.value for x in parts)
        self.assertAlmostEqual(total, bold.result.value, delta=2.0, msg=f"{key}, {a.title}")
        if a.title.split(",")[0] in ("Floor", "Walls", "Ceiling", "Garage side", "Doors"):
            self.assertAlmostEqual(total, bold.result.value, delta=0.1, msg=f"{key}, {a.title}")

    def test_loads(self):
        seen = sum(self.check(loads_of(r), key) for key, r in results())
        self.assertGreater(seen, 8000)

    def test_the_rest(self):
        for key, r in results():
            self.check(rest_of(r), key)

    def test_operands_come_from_the_computation(self):
        """Air flows on the lines are those of the stage, not load over factor: a wrong load would show."""
        r = solve(demo_job())
        i = 0
        line = next(x for x in explain_at(r, i, "leakage", 0, 15).lines if x.adds and not x.bold)
        self.assertEqual(line.operands[1].value, float(r.factors.air.leaks_m3_s(r.factors.air.summer)[i]))
        watts = r.loads.parts_by_hour_w[0, i, COLUMN["leakage"], 14]
        self.assertAlmostEqual(line.result.value, float(watts), places=9)


if __name__ == "__main__":
    unittest.main()
