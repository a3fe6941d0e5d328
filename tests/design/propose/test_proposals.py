"""Designs offered for a house: complete, within their data, finite, and what is taken up solves to the same figures."""

import json
import math
import random
import unittest
from functools import cache

from shapely.geometry import Point as At
from shapely.geometry import Polygon
from shapely.geometry import box as rectangle

from murvan.catalog import units
from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.house.open_rooms import LIVED_IN, open_groups
from murvan.design.house.today import fuel_here
from murvan.design.propose import every_way, proposals, taken_up
from murvan.design.propose.choosing import choose
from murvan.design.propose.offer import _proposal
from murvan.design.propose.schemes import parts_of, schemes
from murvan.design.space import blocks
from murvan.design.units.cost import yearly_cost
from murvan.design.units.siting import surroundings
from murvan.documents.proposals_json import proposals_data
from murvan.model import Opening, Room, Storey, replace_part
from murvan.model.edit import changed
from murvan.model.files import job_from_raw, job_text
from murvan.model.job import Design
from tests.houses import box, demo, many_rooms
from tests.judge.houses import DRAWN, at_random

USES = ("living", "dining", "kitchen", "bedroom", "bath", "powder", "hall", "landing", "study", "utility", "other")


def unserved_lived_in(p, job):
    """Rooms lived in that are neither served nor listed with a remedy."""
    return tuple(r.id for r in job.rooms if r.use in LIVED_IN and p.serving(r.id) is None and r.id not in p.remedies)


@cache
def offered(which):
    return proposals(demo_job(which))


def random_house(seed):
    """Up to three storeys of rooms in a row, some open to the next."""
    chance = random.Random(seed)
    storeys = tuple(
        Storey(id=f"s{k}", name=f"Storey {k}", floor_m=2.8 * k, height_m=2.5) for k in range(chance.randint(1, 3))
    )
    rooms, openings = [], []
    for s in storeys:
        x, depth = 0.0, chance.uniform(2.5, 7)
        for k in range(chance.randint(1, 4)):
            wide = chance.uniform(1.2, 7)
            outline = ((x, 0), (x + wide, 0), (x + wide, depth), (x, depth))
            use = chance.choice(USES)
            rooms.append(Room(id=f"{s.id}r{k}", name=f"{use} {k}", storey=s.id, outline_m=outline, use=use))
            if k and chance.random() < 0.4:
                openings.append(
                    Opening(
                        id=f"{s.id}o{k}",
                        tag=f"W{k}",
                        kind="archway",
                        room=f"{s.id}r{k}",
                        wall=3,
                        offset_m=0.5,
                        width_m=1.0,
                        height_m=2.0,
                        inside=True,
                    )
                )
            x += wide
    job = box(storeys=storeys, rooms=tuple(rooms), openings=tuple(openings))
    job = replace_part(job, "climate", winter_c=chance.uniform(-30, 12), summer_c=chance.uniform(24, 44))
    return replace_part(job, "energy", present=chance.choice(["unknown", "gas", "oil", "propane", "electric"]))


def one_way(job, kind):
    """A way of a kind, whether it is offered or not."""
    site = surroundings(job)
    return _proposal(site, next(s for s in schemes(job, site) if s.kind == kind), solve(job))


class TestSamples(unittest.TestCase):
    def test_three_to_five_for_each_and_the_best_first(self):
        for which in ("demo", "bungalow", "narrow"):
            found = offered(which)
            self.assertTrue(3 <= len(found) <= 5, which)
            self.assertEqual([p.rank for p in found], sorted(p.rank for p in found))
            self.assertEqual(len({p.name for p in found}), len(found))

    def test_taken_up_it_solves_to_the_same_figures_and_survives_saving(self):
        for which in ("demo", "bungalow", "narrow"):
            job = demo_job(which)
            for p in offered(which):
                new = taken_up(job, p)
                self.assertEqual(new.options[-1], job.design)
                again = job_from_raw(json.loads(job_text(new)))
                r = solve(again)
                chosen = [s.equipment.chosen for s in r.systems.values()]
                self.assertAlmostEqual(sum(x.total_w for x in chosen), p.cooling_w, places=6)
                self.assertAlmostEqual(sum(x.heating_w for x in chosen), p.heating_w, places=6)
                self.assertEqual([x.unit.id for x in chosen], [x.unit.id for _, x in p.chosen])

    def test_every_lived_in_room_is_served_or_listed_and_none_twice(self):
        for which in ("demo", "bungalow", "narrow"):
            for p in offered(which):
                self.assertEqual(unserved_lived_in(p, demo_job(which)), ())
                rooms = [r for place, _ in p.chosen for r in place.rooms]
                self.assertEqual(len(rooms), len(set(rooms)))
                self.assertFalse(set(rooms) & set(p.remedies))

    def test_a_closed_room_is_not_served_through_its_wall(self):
        heads = next(p for p in offered("demo") if p.kind == "heads")
        job = demo()
        self.assertIn("Bath", [r.name for r in job.rooms if r.id in heads.remedies])
        for place, _ in heads.chosen:
            group = next(g for g in open_groups(job) if place.rooms[0] in {r.id for r in g})
            self.assertEqual(set(place.rooms), {r.id for r in group})

    def test_json(self):
        job = demo()
        data = json.loads(json.dumps(proposals_data(job, offered("demo")), allow_nan=False))
        self.assertEqual(len(data["proposals"]), len(offered("demo")))
        for p in data["proposals"]:
            self.assertEqual([r["id"] for r in p["rooms"]], [r.id for r in job.rooms])
            units = {u["unit"] for u in p["units"]}
            for room in p["rooms"]:
                self.assertTrue((room["unit"] is None) != (room["remedy"] is None))
                self.assertTrue(room["unit"] is None or room["unit"] in units)
            self.assertTrue(p["reasons"])
            self.assertEqual(p["fails"], [])
            self.assertGreater(p["cost_in"], p["cost_units"])


class TestWays(unittest.TestCase):
    def test_three_to_five_that_differ(self):
        for which in ("demo", "bungalow", "narrow"):
            found = offered(which)
            self.assertTrue(3 <= len(found) <= 5, which)
            self.assertEqual(len({p.kind for p in found}), len(found))

    def test_ducts_that_are_drawn_stay(self):
        p = next(p for p in offered("demo") if p.kind == "zoned")
        self.assertEqual((p.design.runs, p.design.registers), (demo().design.runs, demo().design.registers))
        self.assertEqual(p.design.ticks, ())
        self.assertTrue(all(x.layout < p.design.layout for x in p.design.readings), "history of the unit before")
        self.assertTrue(any("ducts as drawn stay" in x for x in p.reasons))
        bare = changed(demo_job("bungalow"), design=Design(), options=())
        self.assertFalse([x for p in proposals(bare) for x in p.reasons if "as drawn" in x])

    def test_a_system_with_zones_has_them(self):
        p = next(p for p in offered("narrow") if p.kind == "zoned")
        self.assertEqual([z.name for z in p.design.zones], [z.name for z in demo_job("narrow").design.zones])
        self.assertIn(p.chosen[0][1].unit.stages, ("two", "variable"))
        self.assertTrue(any("thermostat" in x for x in p.reasons))

    def test_shared_outdoor_units_stay_within_their_data(self):
        for which in ("demo", "bungalow"):
            p = one_way(demo_job(which), "shared")
            r = solve(taken_up(demo_job(which), p))
            self.assertEqual(len(r.outdoors), len(p.outdoors))
            for x in r.outdoors.values():
                self.assertLessEqual(len(x.hung), x.ports)
                self.assertTrue(x.unit.connected[0] <= x.connected_share <= x.unit.connected[1])
                self.assertGreaterEqual(x.cooling_w, 0.9 * x.coincident_w)
                self.assertEqual({c.unit.maker for _, c in x.hung}, {x.unit.maker})
            bad = {f.rule.id for f in r.findings if f.rule.id.startswith(("outdoor", "head"))}
            self.assertFalse(bad - {"outdoor-sound", "head-draught"}, bad)

    def test_what_fails_is_not_offered_beside_what_does_not(self):
        """Heads on shared outdoor units are far too large for the demo's bedrooms."""
        self.assertTrue(one_way(demo(), "shared").fails)
        for which in ("demo", "bungalow", "narrow"):
            for p in offered(which):
                self.assertEqual(p.fails, (), (which, p.name))
                r = solve(taken_up(demo_job(which), p))
                wrong = {f.rule.id for f in r.findings if f.severity == "fails" and f.rule.station == 3}
                self.assertEqual(wrong, set(), (which, p.name))

    def test_a_unit_stands_where_it_goes_in_with_room_to_work(self):
        """In the closet of the hall, its front to the hall; two beside each other do not stand in each other."""
        job = at_random(4103)
        for p in proposals(job):
            self.assertEqual([f for f in p.fails if f[0] == "unit-place"], [], p.name)
        long = DRAWN["two_wings"]()
        parts = next(p for p in every_way(long) if p.kind == "parts")
        r = solve(taken_up(long, parts))
        boxes = [b for b in blocks(r.job) if b.kind == "unit"]
        self.assertEqual(len(boxes), 2)
        one, other = (rectangle(*b.low[:2], *b.high[:2]) for b in boxes)
        self.assertEqual(one.intersection(other).area, 0.0)

    def test_rooms_too_small_for_a_head_go_to_the_slim_unit_of_their_storey(self):
        job = DRAWN["crawl"]()
        mixed = next(p for p in every_way(job) if p.kind == "mixed")
        kitchen = next(r.id for r in job.rooms if r.use == "kitchen")
        place, x = mixed.chosen[mixed.serving(kitchen)]
        self.assertEqual(place.kind, "ducted")
        self.assertLess(x.total_share, 1.3)
        heads = next(p for p in every_way(job) if p.kind == "heads")
        alone = heads.chosen[heads.serving(kitchen)][1]
        self.assertGreater(alone.total_share, 2.5, "alone the smallest head is far too large")

    def test_a_unit_far_too_large_for_its_rooms_is_said(self):
        job = at_random(4115)
        every = every_way(job)
        idle = [p for p in every if any(x.total_share > (2.5 if q.kind == "ducted" else 4) for q, x in p.chosen)]
        self.assertTrue(idle)
        for p in every:
            self.assertEqual(any(f[0] == "unit-large" for f in p.fails), p in idle, p.name)
        self.assertFalse({p.name for p in idle} & {p.name for p in proposals(job)})

    def test_an_order_that_prices_turn_is_said_to_be_a_tie(self):
        for which in ("demo", "bungalow", "narrow"):
            found = offered(which)
            for things in (0.9, 1.1):
                for energy in (0.9, 1.1):
                    order = sorted(found, key=lambda p: (*p.rank[:2], p.cost_at(things, energy)))
                    for k, p in enumerate(found):
                        passed = {x.name for x in order[: order.index(p)]} ^ {x.name for x in found[:k]}
                        self.assertLessEqual(passed, set(p.ties), (which, p.name))

    def test_energy_that_rises_weighs_more_against_what_is_put_in(self):
        """2 % a year over 15 years: (1.02^15 - 1) / (0.02 x 15) = 1.1529 of today's price in the mean."""
        p = one_way(demo(), "mixed")
        self.assertAlmostEqual(p.energy_rises, (1.02**15 - 1) / (0.02 * 15))
        flat = one_way(replace_part(demo(), "prices", rise=0.0), "mixed")
        self.assertEqual(flat.energy_rises, 1.0)
        self.assertAlmostEqual(p.rank[2] - flat.rank[2], (p.energy_rises - 1) * p.cost_year)

    def test_what_it_costs_by_hand(self):
        """Units, and by the book of prices: heads hung, outdoor units, circuits, lines."""
        p = one_way(demo(), "shared")
        heads = sum(units()[x.unit.id].price_indoor for _, x in p.chosen)
        self.assertAlmostEqual(p.units_money, heads + sum(m.price for m in p.outdoors))
        self.assertEqual(p.circuits, p.outdoors)
        lines = {x.price.id: x.quantity for x in p.work.lines}
        self.assertEqual((lines["head"], lines["outdoor"]), (len(p.chosen), len(p.outdoors)))
        self.assertEqual(lines["circuit"], len(p.outdoors) + sum(x.heater_w > 0 for _, x in p.chosen))
        self.assertNotIn("register", lines)
        r = solve(taken_up(demo(), p))
        self.assertAlmostEqual(lines["line_set"], sum(s.design.line.length_m for s in r.systems.values()))
        self.assertAlmostEqual(p.cost_in, p.units_money + p.work.money)

    def test_heat_that_a_unit_lacks_is_heaters_in_its_rooms(self):
        cold = replace_part(demo_job("bungalow"), "climate", winter_c=-28.0)
        cold = changed(cold, design=Design(), options=())
        found = [p for p in proposals(cold) if any(u.room_heat_w for u in p.design.indoor_units)]
        self.assertTrue(found)
        for p in found:
            r = solve(taken_up(cold, p))
            for s in r.systems.values():
                x = s.equipment.chosen
                self.assertGreaterEqual(x.heating_w + x.heater_w, 0.995 * s.loads.house_heating_w)
                self.assertEqual(s.design.indoor.room_heat_w % 250, 0)
            self.assertIn("heater", {x.price.id for x in p.work.lines})

    def test_a_large_house_of_one_storey_is_split_side_by_side(self):
        job = many_rooms(8, 5)
        self.assertEqual([len(parts_of(job, n)) for n in (2, 3)], [2, 3])
        p = next(p for p in proposals(job) if p.kind == "parts")
        rooms = [r for place, _ in p.chosen for r in place.rooms]
        self.assertEqual(sorted(rooms), sorted(r.id for r in job.rooms))
        self.assertEqual(parts_of(box(), 2), [])

    def test_outdoor_units_stand_outside_and_apart(self):
        for which in ("demo", "bungalow", "narrow"):
            job = demo_job(which)
            shapes = [Polygon(r.outline_m) for r in job.rooms]
            for p in offered(which):
                spots = [o.position_m for o in p.design.outdoor_units if o.position_m is not None]
                self.assertTrue(spots)
                for at in spots:
                    self.assertFalse(any(s.contains(At(at)) for s in shapes))
                apart = [math.dist(a, b) for k, a in enumerate(spots) for b in spots[:k]]
                self.assertTrue(all(x > 1.0 for x in apart), (which, p.name, apart))

    def test_wall_heads_hang_at_walls_off_glass_and_beds(self):
        for which in ("demo", "bungalow", "narrow"):
            job = demo_job(which)
            for p in offered(which):
                r = solve(taken_up(job, p))
                self.assertFalse([f for f in r.findings if f.rule.id in ("head-wall", "head-closet")])


class TestRules(unittest.TestCase):
    def test_the_fuel_of_the_house_decides_the_furnace(self):
        oil = replace_part(demo(), "energy", present="oil")
        self.assertEqual(fuel_here(oil), "oil")
        p = one_way(oil, "furnace")
        self.assertEqual(p.chosen[0][1].unit.fuel, "oil")
        bare = changed(replace_part(demo(), "energy", present="unknown"), existing=())
        self.assertNotIn("furnace", [s.kind for s in schemes(bare)])

    def test_what_is_saved_against_today(self):
        job = replace_part(demo(), "energy", present="oil")
        for p in proposals(job):
            if p.remedies:
                self.assertIsNone(p.saves_year)
            else:
                today = sum(yearly_cost(x, job.energy).present_year for _, x in p.chosen)
                self.assertAlmostEqual(p.saves_year, today - p.cost_year)
        self.assertEqual({p.saves_year for p in proposals(replace_part(demo(), "energy", present="unknown"))}, {None})

    def test_more_load_never_gives_a_smaller_unit(self):
        sizes = []
        for people in (1, 4, 8, 16, 30, 60):  # none typed counts as bedrooms + 1
            job = changed(demo(), rooms=tuple(changed(r, people=people / len(demo().rooms)) for r in demo().rooms))
            one = next(p for p in proposals(job) if p.kind == "zoned")
            sizes.append(one.chosen[0][1].unit.nominal_w)
        self.assertEqual(sizes, sorted(sizes))
        self.assertGreater(sizes[-1], sizes[0])

    def test_nothing_for_a_house_without_rooms(self):
        self.assertEqual(proposals(changed(demo(), rooms=(), openings=(), design=type(demo().design)())), ())

    def test_no_unit_of_a_kind_no_proposal(self):
        place = schemes(demo())[0].places[0]
        s = next(iter(solve(demo()).systems.values()))
        self.assertIsNone(choose(place, s, {}, demo()))

    def test_many_houses(self):
        """`./run judge` takes up and judges as many as it is told."""
        for seed in range(0, 200, 3):
            job = random_house(seed)
            found = proposals(job)
            self.assertTrue(found, seed)
            for p in found:
                self.assertEqual(unserved_lived_in(p, job), (), seed)
                figures = (p.cooling_w, p.sensible_w, p.heating_w, p.backup_w, p.kwh_year, p.cost_year, p.cost_in)
                self.assertTrue(all(math.isfinite(x) and x >= 0 for x in figures), (seed, p.name, figures))
                for place, x in p.chosen:
                    self.assertIn(x.unit.kind, place.of)
                    self.assertTrue(place.rooms)
