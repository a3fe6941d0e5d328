"""A house that stands otherwise while it is read: doors shut, filter out, a zone alone, another season."""

import unittest

import numpy as np

from murvan.design import solve
from murvan.design.circuit import DOORS_SHUT
from murvan.field import Built, diagnose, house, parse_fault, verdict
from murvan.field.diagnosing import said
from murvan.field.gives import sensible_w
from murvan.field.places import key_of, places, standing, state_words
from murvan.field.state import NOTHING
from murvan.field.visit import Visit, read_at, usual
from murvan.model import HouseState, Reading, Ref, insert, with_design
from tests.houses import demo, demo_results

SHUT, OUT = HouseState(doors="shut"), HouseState(filter="out")


def bare():
    return with_design(demo(), readings=())


def read_in(faults, states, seed=3):
    """The demo without readings, read whole in some states."""
    r = demo_results()
    b = Built(r)
    visit = Visit(r, b, [parse_fault(b, x) for x in faults], seed)
    own = [p for s in states for p in read_at(b, s) if usual(p)]
    return with_design(bare(), readings=tuple(visit.take(p, f"m{k}") for k, p in enumerate(own)))


def found(job):
    return diagnose(house(solve(job)), job)


class TestAir(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.r = demo_results()
        cls.b = Built(cls.r)

    def shown(self, state, quantity):
        own = [p for p in read_at(self.b, state) if p.quantity == quantity and usual(p)]
        return dict(zip([p.word for p in own], self.b.as_designed(own, [NOTHING])[0].tolist(), strict=True))

    def test_doors_shut_are_as_the_design_has_them(self):
        n = self.r.network
        at = n.layout.at(DOORS_SHUT)
        flows = self.shown(SHUT, "flow")
        for i, branch in n.layout.register_branch.items():
            self.assertAlmostEqual(flows[i], abs(float(n.solution.flow_m3_s[at, branch])), delta=3e-4, msg=i)

    def test_a_shut_bedroom_stands_above_the_hall_by_its_undercut(self):
        """dp = (Q / (C A sqrt(2/rho)))^2: the orifice of its own way back carries what its registers bring, less its leak."""
        rooms = self.shown(SHUT, "static")
        self.assertGreater(rooms["bed1.pressure"], 0.5)
        self.assertNotIn("bed1.pressure", self.shown(HouseState(), "static"))
        b, door = self.b.of(SHUT), self.b.layout.door_branch["bed1"]
        flow = abs(float(b.base[door]))
        self.assertAlmostEqual(b.layout.shut_k[door] * flow**2, rooms["bed1.pressure"], delta=0.02)

    def test_no_filter_takes_nothing(self):
        out, as_found = self.shown(OUT, "static"), self.shown(HouseState(), "static")
        self.assertAlmostEqual(out["static-return"], out["static-after-filter"], delta=0.3)
        self.assertLess(as_found["static-after-filter"], as_found["static-return"] - 10)
        self.assertGreater(sum(self.shown(OUT, "flow").values()), sum(self.shown(HouseState(), "flow").values()))

    def test_a_zone_alone_gets_the_air(self):
        zone = self.b.job.design.zones[0]
        rooms = set(zone.rooms)
        own = {x.id for x in self.b.job.design.registers if x.side == "supply" and x.room in rooms}
        alone, all_ = self.shown(HouseState(calling=(zone.id,)), "flow"), self.shown(HouseState(), "flow")
        self.assertTrue(all(alone[i] > 1.2 * all_[i] for i in own))

    def test_cooling_takes_out_what_the_table_gives(self):
        state = HouseState(mode="cooling", outdoor_c=30.0)
        t = self.shown(state, "temperature")
        unit = self.b.job.design.indoor_units[0].id
        flow = float(self.b.base[self.b.layout.units[unit].blower_branch])
        drop = -sensible_w(self.r, unit, state) / (self.r.conditions.sensible_factor * flow)
        self.assertAlmostEqual(t["temp-return"] - t["temp-supply"], drop, places=6)
        self.assertGreater(drop, 8)
        fan = self.shown(HouseState(mode="fan"), "temperature")
        self.assertEqual(fan["temp-return"], fan["temp-supply"])

    def test_a_heat_pump_gives_more_on_a_mild_day(self):
        unit = self.b.job.design.indoor_units[0].id
        mild, cold = (sensible_w(self.r, unit, HouseState(mode="heating", outdoor_c=t)) for t in (8.0, -10.0))
        self.assertGreater(mild, 1.3 * cold)

    def test_a_zone_that_has_gone_can_t_be_told(self):
        self.assertFalse(self.b.can_stand(HouseState(calling=("gone",))))
        self.assertTrue(self.b.can_stand(HouseState(calling=("1",))))

    def test_words(self):
        state = HouseState(doors="shut", filter="out", calling=("1",), mode="fan")
        self.assertEqual(state_words(self.b.job, state), "doors shut, filter out, Ground alone, blower alone")
        self.assertEqual(state_words(self.b.job, HouseState()), "")


class TestFaults(unittest.TestCase):
    def test_a_loaded_filter_is_not_in_what_is_read_without_it(self):
        r = demo_results()
        b = Built(r)
        own = [p for p in read_at(b, OUT) if p.quantity == "static"]
        clean, loaded = (Visit(r, b, f, 5) for f in ((), [parse_fault(b, "filter::6")]))
        for p in own:
            self.assertAlmostEqual(clean.shown(p), loaded.shown(p), places=6)
        drop = places(b.job)["static-after-filter"]
        self.assertLess(loaded.shown(drop), clean.shown(drop) - 30)

    def test_sets_are_fitted_together(self):
        """A zone damper that does not shut shows while its zone does not call, and only then."""
        zone = demo().design.zones
        states = (HouseState(), *(HouseState(calling=(z.id,)) for z in zone))
        run = next(x for x in demo().design.runs if x.zone_damper)
        job = read_in([f"zone_open:{run.tag}:0.6"], states)
        d = found(job)
        self.assertEqual(len(d.fitted.residuals), len(job.design.readings))
        top = d.fitted.suspects[0]
        self.assertIn("zone_open", {x.kind.id for x in (top.spot, *top.group)})
        self.assertEqual(top.spot.where, run.id)
        self.assertGreater(top.share_of_group, 0.9)
        as_found = with_design(job, readings=tuple(x for x in job.design.readings if not x.state.calling))
        alone = found(as_found).fitted
        self.assertTrue(alone.nothing_wrong)
        self.assertEqual([x.share for x in alone.suspects if x.spot.kind.id == "zone_open"], [])

    def test_all_as_designed_in_every_state_accuses_nobody(self):
        cold, warm = (HouseState(mode=m, outdoor_c=t) for m, t in (("heating", -10.0), ("cooling", 28.0)))
        states = (cold, SHUT, OUT, warm)
        for seed in (4, 5):
            with self.subTest(seed):
                self.assertTrue(found(read_in([], states, seed)).fitted.nothing_wrong)

    def test_a_mild_day_is_no_low_charge(self):
        mild = HouseState(mode="heating", outdoor_c=9.0)
        noted = read_in([], (mild,))
        self.assertTrue(found(noted).fitted.nothing_wrong)
        forgotten = with_design(
            noted, readings=tuple(r.model_copy(update={"state": HouseState()}) for r in noted.design.readings)
        )
        d = found(forgotten)
        self.assertTrue(d.fitted.nothing_wrong or d.fitted.suspects[0].share < 0.5)
        low = read_in(["charge::0.5"], (mild,))
        self.assertEqual(found(low).fitted.suspects[0].spot.kind.id, "charge")


class TestWhatCounts(unittest.TestCase):
    def reading(self, state, value=0.02, word="B4", id_="m1"):
        return Reading(id=id_, at=Ref("register", word), quantity="flow", value=value, state=state)

    def test_a_reading_with_doors_shut_is_none_of_the_balance(self):
        r = demo_results()
        job = with_design(bare(), readings=(self.reading(SHUT),))
        self.assertIsNone(verdict(job, r).registers["B4"].measured)
        job = insert(job, "readings", self.reading(HouseState(mode="heating", outdoor_c=3.0), 0.025, id_="m2"))
        self.assertEqual(verdict(job, r).registers["B4"].measured, 0.025)
        both = said(job, tuple(standing(places(job)["B4"], s, job) for s in (HouseState(), SHUT)))
        self.assertEqual([x.value for x in both], [0.025, 0.02])

    def test_weather_tells_temperatures_apart_and_no_flows(self):
        a, b = HouseState(mode="heating", outdoor_c=1.0), HouseState(mode="heating", outdoor_c=5.0)
        self.assertEqual(key_of(self.reading(a)), key_of(self.reading(b)))
        warm = Reading(
            id="t", at=Ref("indoor_unit", "unit1"), hole="supply", quantity="temperature", value=40, state=a
        )
        self.assertNotEqual(key_of(warm), key_of(warm.model_copy(update={"state": b})))

    def test_the_visit_is_seeded_in_every_state(self):
        r = demo_results()
        b = Built(r)
        p = [p for p in read_at(b, SHUT) if p.at.kind == "room"][0]
        one, two = (Visit(r, b, (), 9).take(p, "x") for _ in range(2))
        self.assertEqual(one, two)
        self.assertEqual(one.state, SHUT)
        self.assertTrue(np.isfinite(one.value))


if __name__ == "__main__":
    unittest.main()
