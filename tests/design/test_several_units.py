"""A house with two ducted units and two rooms with units of their own, built through the model alone."""

import unittest
from functools import cache

import numpy as np

from murvan import field as fitted
from murvan.design import solve
from murvan.design.loads.components import COLUMN
from murvan.documents.results_json import results_data
from murvan.field import visited
from murvan.field.places import places
from murvan.field.readings import readings_csv
from murvan.field.verdict import verdict
from murvan.field.visit import parse_fault
from murvan.model import Box, IndoorUnit, OutdoorUnit, Ref, System, Tick, insert, remove, replace, with_design
from murvan.model.design_edit import with_line
from murvan.model.edit import changed
from tests.houses import demo, demo_results, set_unit
from tests.taken import import_csv

HEADS = ("study", "utility")


@cache
def house():
    """The demo: below on the first unit, above on a second one, study and utility each with a wall unit."""
    job = with_design(demo(), readings=())
    for x in ("P1", "P2"):
        job = remove(job, "registers", x, with_dependents=True)
    upper = {r.id for r in job.rooms if r.storey == "upper"}
    job = insert(job, "systems", System(id="system2", name="Above"), System(id="system3", name="Rooms"))
    job = insert(job, "outdoor_units", OutdoorUnit(id="outdoor3", system="system3"))
    job = insert(
        job,
        "indoor_units",
        IndoorUnit(id="unit2", tag="Upper unit", system="system2", unit="quellin-c1", tap=3, storey="upper"),
        *(
            IndoorUnit(
                id=f"head-{x}",
                tag=f"{x.capitalize()} unit",
                system="system3",
                outdoor="outdoor3",
                kind="wall",
                unit="wexley-w9",
                rooms=(x,),
                port=k,
            )
            for k, x in enumerate(HEADS, 1)
        ),
    )
    job = insert(job, "boxes", Box(id="box1", outdoor="outdoor3", ports=3))
    for x in HEADS:
        job = with_line(job, f"head-{x}", box="box1")
    d = job.design
    box = tuple(changed(x, "", id=f"{x.id}-2", indoor="unit2") for x in d.plenums)
    above = {x.id for x in d.registers if x.room in upper}
    # the return of the upper storey leaves its trunk
    hub = next(j for j in d.joints if j.id == next(r.start for r in d.runs if r.id == "R2"))
    apart = {hub.id: "upper-return"}
    mine = {r.id for r in d.runs if r.register_id in above or r.id.startswith("SB")}
    runs = tuple(
        changed(r, "", indoor="unit2", start=apart.get(r.start, r.start)) if r.id in mine else r for r in d.runs
    )
    registers = tuple(changed(x, "", indoor="unit2") if x.id in above else x for x in d.registers)
    job = with_design(
        job,
        joints=(*d.joints, changed(hub, "", id="upper-return")),
        runs=runs,
        registers=registers,
        plenums=(*d.plenums, *box),
    )
    return set_unit(job, flow_m3_s=None)


class Several(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.r = solve(house())

    def served(self, unit):
        return {house().rooms[i].id for i in np.flatnonzero(self.r.systems[unit].airflow.design_m3_s > 0)}

    def test_every_unit_serves_its_own_rooms(self):
        upper = {r.id for r in house().rooms if r.storey == "upper"}
        ground = {r.id for r in house().rooms if r.storey == "ground"}
        self.assertEqual(self.served("unit1"), ground - set(HEADS))
        self.assertEqual(self.served("unit2"), upper)
        for x in HEADS:
            self.assertEqual(self.served(f"head-{x}"), {x})

    def test_both_blowers_are_in_one_circuit(self):
        n = self.r.network
        self.assertTrue(n.converged)
        self.assertEqual(set(n.blowers), {"unit1", "unit2"})
        self.assertEqual(len(n.circuit.fans), 2)
        for unit, b in n.blowers.items():
            own = self.r.systems[unit].design.registers
            supply = sum(n.register_m3_s[x.id] for x in own if x.side == "supply")
            self.assertAlmostEqual(supply + n.leaks[unit].supply, float(b.flow_m3_s[0]), places=9)
            self.assertIs(self.r.systems[unit].blower, b)
        self.assertIsNone(self.r.systems["head-study"].blower)

    def test_one_blower_moves_the_other_through_the_house(self):
        """A stronger blower upstairs changes the pressures downstairs, and so its neighbour's air a little."""
        other = solve(replace(house(), "indoor_units", "unit2", tap=1)).network
        mine, was = other.blowers["unit1"].flow_m3_s[0], self.r.network.blowers["unit1"].flow_m3_s[0]
        self.assertNotEqual(float(mine), float(was))
        self.assertAlmostEqual(float(mine / was), 1.0, delta=0.01)
        self.assertLess(other.blowers["unit2"].flow_m3_s[0], self.r.network.blowers["unit2"].flow_m3_s[0])

    def test_a_branch_box_is_hung_once(self):
        found = [p for p in self.r.cuts.pieces if p.at == Ref("box", "box1")]
        self.assertEqual([(p.what, p.hung) for p in found], [("Branch box, 3 ports", False)])
        up = with_design(house(), ticks=(Tick(at=Ref("box", "box1"), day="Mon"),))
        self.assertEqual([p.day for p in solve(up, self.r).cuts.pieces if p.hung], ["Mon"])

    def test_each_blower_has_its_test_holes_and_may_be_the_fault(self):
        at = places(house())
        self.assertEqual(at["unit2.static-supply"].name, "Static, supply plenum, Upper unit")
        self.assertNotIn("head-study.static-supply", at)
        h = fitted.house(self.r)
        lower = parse_fault(h.built, "tap:unit2")
        self.assertEqual((lower[0].where, lower[1]), ("unit2", -1.0))
        readings = visited(h.built, [lower], 5)
        job = with_design(house(), readings=readings)
        again = import_csv(job, readings_csv(job, "si"), "si")
        self.assertEqual([(x.at, x.hole) for x in again], [(x.at, x.hole) for x in readings])
        v = verdict(job, self.r)
        for unit in ("unit1", "unit2"):
            own, b = v.external_of(unit), self.r.systems[unit].blower
            self.assertEqual(own.predicted, float(b.external_static_pa[0]))
            self.assertTrue(own.simulated)
            self.assertEqual(len(v.holes_of(unit)), 7)
        self.assertIsNone(v.external_of("head-study").predicted)
        self.assertLess(v.external_of("unit2").measured, 0.95 * v.external_of("unit2").predicted)
        found = fitted.diagnose(h, job).fitted.suspects[0].spot
        self.assertEqual((found.kind.id, found.where), ("tap", "unit2"))
        self.assertIn("Upper unit", found.title)

    def test_the_units_carry_the_house_between_them(self):
        parts = [s.loads for s in self.r.systems.values()]
        self.assertAlmostEqual(sum(x.house_heating_w for x in parts), self.r.loads.house_heating_w, places=6)
        self.assertAlmostEqual(sum(x.heating_w.sum() for x in parts), self.r.loads.heating_w.sum(), places=6)
        # each at its own peak: together more than the house ever needs
        self.assertGreaterEqual(sum(x.house_sensible_w for x in parts), self.r.loads.house_sensible_w - 1e-6)

    def test_rooms_with_a_unit_of_their_own_lose_nothing_in_ducts(self):
        k = COLUMN["ducts"]
        for i, room in enumerate(house().rooms):
            if room.id in HEADS:
                self.assertEqual(float(self.r.loads.heating_parts[i, k]), 0.0)
                self.assertEqual(float(np.abs(self.r.loads.parts_by_hour_w[:, i, k]).max()), 0.0)

    def test_loads_at_the_rooms_are_those_of_the_house_with_one_unit(self):
        keep = [k for k in range(self.r.loads.heating_parts.shape[1]) if k != COLUMN["ducts"]]
        np.testing.assert_allclose(
            self.r.loads.heating_parts[:, keep], demo_results().loads.heating_parts[:, keep], rtol=1e-12
        )

    def test_a_kept_solve_is_a_fresh_one(self):
        for unit in house().design.indoor_units:
            job = replace(house(), "indoor_units", unit.id, tap=2, flow_m3_s=0.2)
            kept, fresh = solve(job, self.r), solve(job)
            np.testing.assert_allclose(kept.room_m3_s, fresh.room_m3_s, rtol=1e-12)
            np.testing.assert_allclose(
                kept.network.solution.flow_m3_s, fresh.network.solution.flow_m3_s, rtol=1e-6, atol=1e-9
            )
            self.assertEqual([f.text("ip") for f in kept.findings], [f.text("ip") for f in fresh.findings])

    def test_an_edit_of_one_unit_leaves_the_other_alone(self):
        after = solve(replace(house(), "runs", "A4", damper=0.4), self.r)
        self.assertIs(after.systems["unit2"].ducts, self.r.systems["unit2"].ducts)
        self.assertIsNot(after.systems["unit1"].ducts, self.r.systems["unit1"].ducts)

    def test_a_room_of_two_units_is_carried_by_halves(self):
        job = replace(house(), "indoor_units", "head-utility", rooms=("utility", "bed1"))
        r = solve(job)
        place = {x.id: k for k, x in enumerate(job.rooms)}
        alone, shared = (float(r.loads.heating_w[place[x]]) for x in ("utility", "bed1"))
        self.assertAlmostEqual(r.systems["head-utility"].loads.house_heating_w, alone + shared / 2, places=6)

    def test_a_unit_in_the_room_moves_what_it_is_set_to(self):
        place = {x.id: k for k, x in enumerate(house().rooms)}
        for x in HEADS:
            self.assertAlmostEqual(self.r.predicted_m3_s[x], float(self.r.room_m3_s[place[x]]))
            self.assertEqual(float(self.r.fresh_m3_s[place[x]]), 0.0)
        self.assertAlmostEqual(self.r.predicted_m3_s["living"], self.r.network.room_m3_s["living"])
        fresh = sum(v.flow_m3_s for v in house().design.ventilators)
        self.assertAlmostEqual(float(self.r.fresh_m3_s.sum()), fresh)
        self.assertIs(self.r.serving(place["study"]), self.r.systems["head-study"])

    def test_air_of_all_units_together(self):
        a = self.r.airflow
        self.assertAlmostEqual(a.total_m3_s, sum(s.airflow.total_m3_s for s in self.r.systems.values()))
        np.testing.assert_allclose(a.design_m3_s.sum(), a.total_m3_s)
        self.assertEqual(set(a.register_m3_s), {x.id for x in house().design.registers})
        self.assertTrue(a.served.all())

    def test_a_room_of_no_unit_is_found(self):
        job = replace(house(), "indoor_units", "head-utility", rooms=("study",))
        found = [f for f in solve(job).findings if f.rule.id == "room-unserved"]
        self.assertEqual([f.hit.at.id for f in found], ["utility"])

    def test_the_sheets_name_each_unit(self):
        data = results_data(self.r, verdict(house(), self.r))
        self.assertEqual([x["id"] for x in data["systems"]], ["unit1", "unit2", "head-study", "head-utility"])
        self.assertEqual(data["systems"][2]["rooms"], ["study"])
        self.assertIsNone(data["systems"][2]["blower"])


if __name__ == "__main__":
    unittest.main()
