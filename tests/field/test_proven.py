"""Capacity at the air and charge by the lines, against PsychroLib, CoolProp and sums by hand."""

import unittest

import psychrolib
from CoolProp.CoolProp import PropsSI

from murvan.design import solve
from murvan.documents.proof_sheet import capacity_schedule, charge_schedule
from murvan.field import Built, parse_fault
from murvan.field.capacity import explain_proof, proofs
from murvan.field.charge import charges, explain_charge
from murvan.field.places import places, standing
from murvan.field.proven import proven
from murvan.field.visit import Visit, read_at, usual
from murvan.model import HouseState, Reading, insert, replace, with_design
from murvan.model.design import ChargePlate
from tests.arith import misses
from tests.field.test_states import bare
from tests.houses import CFM

WARM, COLD = HouseState(mode="cooling", outdoor_c=29.0), HouseState(mode="heating", outdoor_c=2.0)
UNIT = "unit1"
BULBS = {"temp-return": 24.0, "temp-supply": 13.0, "wet-return": 17.0, "wet-supply": 11.8}


def with_plate(**plate):
    return replace(bare(), "indoor_units", UNIT, plate=ChargePlate(**plate))


def typed(job, words, state, **more):
    """A job with readings typed at places, and air as designed at every register."""
    flows = solve(job).airflow.register_m3_s
    own = [
        Reading(id=f"f{k}", at=p.at, quantity="flow", value=flows[p.at.id] * more.get("air", 1.0))
        for k, p in enumerate(places(job).values())
        if p.at.kind == "register" and p.hole is None and p.at.id.startswith(("A", "B", "P"))
    ]
    for k, (word, value) in enumerate(words.items()):
        p = standing(places(job)[word], state, job)
        own.append(Reading(id=f"w{k}", at=p.at, hole=p.hole, quantity=p.quantity, value=value, state=state))
    return with_design(job, readings=tuple(own))


class TestCapacity(unittest.TestCase):
    def test_all_of_the_heat_by_enthalpies(self):
        """m dry (h1 - h2) by PsychroLib at the site's pressure."""
        job = typed(bare(), BULBS, WARM)
        r = solve(job)
        (x,) = proofs(job, r)
        p = r.conditions.pressure_pa
        w1, w2 = (psychrolib.GetHumRatioFromTWetBulb(t, wet, p) for t, wet in ((24.0, 17.0), (13.0, 11.8)))
        h1, h2 = psychrolib.GetMoistAirEnthalpy(24.0, w1), psychrolib.GetMoistAirEnthalpy(13.0, w2)
        flow = sum(v.value for v in job.design.readings if v.quantity == "flow")
        self.assertAlmostEqual(x.delivered_w, flow * r.conditions.density_kg_m3 / (1 + w1) * (h1 - h2), delta=1)
        self.assertTrue(x.total and x.flow.read)
        self.assertIn("15 registers", x.flow.by)

    def test_sensible_heat_by_the_rule_of_thumb(self):
        """1.08 x cfm x dT in Btu/h at sea level (common practice), within the site's density."""
        job = typed(bare(), {"temp-return": 21.0, "temp-supply": 35.0}, COLD)
        r = solve(job)
        (x,) = proofs(job, r)
        btu_h = 1.08 * (x.flow.m3_s / CFM) * 14.0 * 1.8 * r.conditions.density_kg_m3 / 1.2
        self.assertAlmostEqual(x.delivered_w / 0.29307107 / btu_h, 1, delta=0.01)
        self.assertFalse(x.total)

    def test_a_house_as_built_is_proven_and_a_poor_one_is_not(self):
        job = with_plate(refrigerant="R-454B", subcooling_k=5.5)
        r = solve(job)
        b = Built(r)
        for fault, marks, says in ((None, {"good"}, "as the plate"), ("charge::0.6", {"fails"}, "low charge")):
            with self.subTest(fault):
                v = Visit(r, b, [parse_fault(b, fault)] if fault else [], 4)
                words = (*BULBS, "vapour-pressure", "vapour-line", "liquid-pressure", "liquid-line")
                own = [p for p in read_at(b) if usual(p)] + [standing(places(job)[w], WARM, job) for w in words]
                own += [standing(places(job)[w], COLD, job) for w in ("temp-return", "temp-supply")]
                read = with_design(job, readings=tuple(v.take(p, f"m{k}") for k, p in enumerate(own)))
                found = proven(read, r)
                self.assertEqual([p.cools for p in found.proofs], [False, True])
                self.assertEqual({p.mark for p in found.proofs}, marks)
                self.assertIn(says, found.charges[0].says)
                self.assertTrue(found.simulated)

    def test_every_line_multiplies_out(self):
        for words, state in ((BULBS, WARM), ({"temp-return": 21.0, "temp-supply": 33.0}, COLD)):
            job = typed(bare(), words, state)
            r = solve(job)
            for line in explain_proof(proofs(job, r)[0], r).lines:
                for units in ("ip", "si"):
                    self.assertEqual(misses(line, units), "")

    def test_what_is_not_noted_is_not_judged(self):
        job = typed(bare(), BULBS, HouseState(mode="cooling"))
        (x,) = proofs(job, solve(job))
        self.assertEqual((x.share, x.mark, x.enough), (None, "none", None))
        self.assertEqual(proofs(bare(), solve(bare())), ())
        fan = typed(bare(), BULBS, HouseState(mode="fan"))
        self.assertEqual(proofs(fan, solve(fan)), ())

    def test_its_doubt_grows_where_the_air_is_not_read(self):
        read = typed(bare(), BULBS, WARM)
        r = solve(read)
        guessed = with_design(read, readings=tuple(x for x in read.design.readings if x.quantity != "flow"))
        a, b = proofs(read, r)[0], proofs(guessed, r)[0]
        self.assertFalse(b.flow.read)
        self.assertGreater(b.sd, a.sd)

    def test_on_paper(self):
        job = typed(bare(), BULBS, WARM)
        table = capacity_schedule(proven(job, solve(job)))
        self.assertEqual(table.rows[0][1:3], ("cooling", "total"))
        self.assertTrue(all(len(row) == len(table.columns) for row in table.rows))


class TestCharge(unittest.TestCase):
    LINES = {"vapour-pressure": 8.5e5, "vapour-line": 12.0, "liquid-pressure": 23.0e5, "liquid-line": 33.0}

    def charge(self, job, lines=None, state=WARM, **more):
        job = typed(job, {**BULBS, **(lines or self.LINES)}, state, **more)
        return charges(job, solve(job))[0]

    def test_superheat_and_subcooling_by_coolprop(self):
        job = with_plate(refrigerant="R-410A", subcooling_k=5.0)
        x, p = self.charge(job), solve(job).conditions.pressure_pa
        dew = PropsSI("T", "P", 8.5e5 + p, "Q", 1, "R410A") - 273.15
        bubble = PropsSI("T", "P", 23.0e5 + p, "Q", 0, "R410A") - 273.15
        self.assertAlmostEqual(x.superheat_k, 12.0 - dew, places=6)
        self.assertAlmostEqual(x.subcooling_k, bubble - 33.0, places=6)
        self.assertEqual(x.mark, "good")
        for line in explain_charge(x).lines:
            for units in ("ip", "si"):
                self.assertEqual(misses(line, units), "")

    def test_what_a_valve_says(self):
        job = with_plate(refrigerant="R-410A", subcooling_k=5.0)
        for more, words in (
            ({"liquid-line": 37.5}, "low charge"),
            ({"liquid-line": 27.0}, "overcharged"),
            ({"vapour-line": 18.0}, "restricted"),
            ({"vapour-line": 5.0}, "floods"),
        ):
            with self.subTest(words):
                self.assertIn(words, self.charge(job, {**self.LINES, **more}).says)

    def test_a_fixed_orifice_goes_by_wet_bulb_and_weather(self):
        """(3 x 62.6 - 80 - 84.2) / 2 = 11.8 degrees F."""
        job = with_plate(refrigerant="R-22", metering="orifice")
        lines = {"vapour-pressure": 4.8e5, "vapour-line": 10.0}
        x = self.charge(job, lines)
        self.assertAlmostEqual(x.wanted_superheat_k * 1.8, 11.8, delta=0.05)
        self.assertIn("low: overcharged", self.charge(job, {**lines, "vapour-line": 5.5}).says)
        self.assertIn("high: low charge", self.charge(job, {**lines, "vapour-line": 19.0}).says)

    def test_air_comes_first(self):
        job = with_plate(refrigerant="R-410A", subcooling_k=5.0)
        self.assertIn("Air first: 80 %", self.charge(job, air=0.8).says)
        self.assertEqual(self.charge(job, air=0.8).mark, "none")
        unread = typed(job, {**BULBS, **self.LINES}, WARM)
        unread = with_design(unread, readings=tuple(x for x in unread.design.readings if x.quantity != "flow"))
        self.assertIn("read its registers", charges(unread, solve(unread))[0].says)
        self.assertIn("Too cold", self.charge(job, state=HouseState(mode="cooling", outdoor_c=8.0)).says)
        self.assertIn("which refrigerant", self.charge(bare()).says)
        self.assertIn("outdoor temperature", self.charge(job, state=HouseState(mode="cooling")).says)
        self.assertIn("subcooling of its plate", self.charge(with_plate(refrigerant="R-410A")).says)

    def test_a_pressure_beyond_all_sense_is_judged_by_nobody(self):
        job = with_plate(refrigerant="R-410A", subcooling_k=5.0)
        x = self.charge(job, {**self.LINES, "liquid-pressure": 4.3e6})
        self.assertIsNone(x.subcooling_k)
        self.assertIn("Read pressure and temperature", x.says)

    def test_on_paper(self):
        job = typed(with_plate(refrigerant="R-410A", subcooling_k=5.0), {**BULBS, **self.LINES}, WARM)
        table = charge_schedule(proven(job, solve(job)))
        self.assertTrue(all(len(row) == len(table.columns) for row in table.rows))
        self.assertEqual(insert(job, "readings").design.readings, job.design.readings)
