"""How rooms hold with one thermostat a zone: two rooms by hand, a day that repeats, what zones mend on known houses."""

import unittest

import numpy as np

from murvan.design.propose import proposals, taken_up
from murvan.design.solve import solve
from murvan.design.zones.holding import HOLDS_K, House, Season, held, house_of
from murvan.design.zones.plans import NONE, next_plan, zone_plans
from murvan.model import with_design
from tests.houses import demo, demo_job
from tests.judge.houses import DRAWN


def season(name, gains, air, loses, between, store=0.0):
    """Two rooms: gains at the set temperature (24 or one, 2), W; W/K to the outdoors and between them."""
    balance = np.diag(np.array(loses) + between + store) - between * np.array([[0, 1], [1, 0]])
    hours = np.broadcast_to(np.asarray(gains, float), (24, 2))
    return Season(name, np.linalg.inv(balance), np.full(2, store), np.array(hours), np.array(air, float))


def one(house, zone, thermostats):
    return held(house, np.array([zone]), np.array([thermostats]))[0]


class ByHand(unittest.TestCase):
    def test_a_room_with_too_little_air_drifts_by_what_it_lacks(self):
        """Steady: room 0 is held; room 1 wants 1,000 W and gets 600. (1000 - 600) / (30 + 20) = 8 K."""
        s = season("cooling", [600, 1000], [600, 600], [30, 30], 20)
        cold = season("heating", [0, 0], [0, 0], [30, 30], 20)
        x = one(House((s, cold)), [0, 0], [0])
        # room 0 gets 20 W/K of the warmth: its air is called more, u = (600 + 20 t) / 600, and room 1 with it
        # 1000 - 600 u = 30 t + 20 t -> 1000 - 600 - 20 t = 50 t -> t = 400 / 70
        self.assertAlmostEqual(x.most_k[0, 1], 400 / 70, 3)
        self.assertAlmostEqual(x.most_k[0, 0], 0.0, 6)
        self.assertAlmostEqual(x.out_kh, 24 * (400 / 70 - HOLDS_K["cooling"]), 2)
        self.assertEqual(x.out.tolist(), [False, True])

    def test_two_thermostats_hold_both(self):
        s = season("cooling", [600, 1000], [600, 900], [30, 30], 20)
        cold = season("heating", [-500, -900], [-800, -700], [30, 30], 20)
        x = one(House((s, cold)), [0, 1], [0, 1])
        np.testing.assert_allclose(x.most_k, 0.0, atol=1e-3)

    def test_a_zone_gets_no_more_than_there_is(self):
        s = season("cooling", [600, 2000], [600, 600], [30, 30], 0.0)
        cold = season("heating", [0, 0], [0, 0], [30, 30], 0.0)
        # 1.5 x 600 of 2,000 W: 1,100 / 30 K
        self.assertAlmostEqual(one(House((s, cold)), [0, 1], [0, 1]).most_k[0, 1], 1100 / 30, 3)

    def test_what_stores_evens_the_day(self):
        gains = np.zeros((24, 2))
        gains[12:18, 1] = 1200
        gains[:, 0] = 300
        cold = season("heating", [0, 0], [0, 0], [30, 30], 10)
        light, heavy = (season("cooling", gains, [600, 600], [30, 30], 10, c) for c in (1.0, 400.0))
        a, b = (one(House((x, cold)), [0, 0], [0]) for x in (light, heavy))
        self.assertGreater(a.most_k[0, 1], 2 * b.most_k[0, 1])

    def test_ways_are_judged_together_as_alone(self):
        h = house_of(solve(demo()))
        n = len(demo().rooms)
        zones = np.array([np.arange(n) % 2, (np.arange(n) > 5).astype(int)])
        stats = np.array([[0, 1], [2, 8]])
        both = held(h, zones, stats)
        for k in (0, 1):
            alone = one(h, zones[k], stats[k])
            np.testing.assert_allclose(alone.most_k, both[k].most_k, atol=1e-9)
            self.assertAlmostEqual(alone.out_kh, both[k].out_kh)


class Plans(unittest.TestCase):
    def test_a_house_that_holds_with_one_thermostat_is_not_parted_first(self):
        p = zone_plans(solve(DRAWN["ranch"]()))[0]
        self.assertEqual((p.key, p.zones, p.out), (NONE, (), ()))

    def test_storeys_that_lose_unlike_are_parted(self):
        for name in ("half_storey", "two_storeys"):
            plans = {p.key: p for p in zone_plans(solve(DRAWN[name]()))}
            self.assertGreater(plans[NONE].out_kh, 50.0)
            self.assertEqual(plans["storey"].out, ())
            self.assertEqual(next(iter(plans)), "storey")

    def test_rooms_that_change_their_zone_hold_better_or_are_not_offered(self):
        job = demo_job("narrow")
        plans = {p.key: p for p in zone_plans(solve(job))}
        fit = plans["holds"]
        self.assertLess(fit.out_kh, 0.9 * min(p.out_kh for k, p in plans.items() if k != "holds"))
        self.assertEqual(sorted(i for z in fit.zones for i in z.rooms), sorted(x.id for x in job.rooms))

    def test_a_thermostat_hangs_where_its_rooms_hold_best(self):
        r = solve(demo_job("narrow"))
        plan = next(p for p in zone_plans(r) if p.zones)
        h, index = house_of(r), {x.id: k for k, x in enumerate(r.job.rooms)}
        zone = np.full(len(index), -1)
        for k, z in enumerate(plan.zones):
            zone[[index[i] for i in z.rooms]] = k
        largest = [max(z.rooms, key=lambda i: r.loads.sensible_w[index[i]]) for z in plan.zones]
        other = one(h, zone, [index[i] for i in largest])
        self.assertLessEqual(plan.out_kh, other.out_kh + 0.1)

    def test_two_units_zone_apart(self):
        job = DRAWN["row_house"]()
        found = next(p for p in proposals(job) if p.kind == "storeys")
        r = solve(taken_up(job, found))
        for p in zone_plans(r):
            for z in p.zones:
                units = {s.design.id for s in r.systems.values() if set(s.design.serves) & set(z.rooms)}
                self.assertEqual(len(units), 1, (p.name, z.name))
            self.assertNotEqual(p.key, "storey", "each storey has its thermostat already")

    def test_the_next_one_parts_a_house_that_is_not(self):
        r = solve(with_design(DRAWN["ranch"](), zones=()))
        self.assertTrue(next_plan(r).zones)
