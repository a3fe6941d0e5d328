"""Registers laid all at once and by hand: numbers and sizes by air and face speed (common practice), places by the house."""

import math
import unittest
from functools import cache

from shapely.geometry import Point as At
from shapely.geometry import Polygon

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.lay import add_register, copy_register, lay_registers, layouts, move_register
from murvan.design.lay.registers import FACE_M_S, MOST_M3_S, NO_RETURN, stock_size
from murvan.design.units.pick import pick_unit
from murvan.model import Design, MechanicalPlace, Structure, insert, replace, replace_part
from murvan.model.edit import changed
from murvan.model.errors import JobValueError
from tests.design.propose.test_proposals import random_house
from tests.houses import demo

FPM = 0.3048 / 60


def bare(which):
    """A sample without ducts, with a unit picked."""
    job = demo_job(which)
    rooms = tuple(changed(r, r.name, transfer=None) for r in job.rooms)
    job = changed(job, rooms=rooms, design=Design(), options=())
    return pick_unit(job, "unit1", "torrow-cx-30")


@cache
def laid(which):
    return lay_registers(solve(bare(which)), "unit1")


@cache
def laid_out(which):
    """Every way to lay the ducts of a sample, worked out once for all tests."""
    return layouts(solve(laid(which)), "unit1")


class TestLaid(unittest.TestCase):
    def each(self):
        for which in ("demo", "bungalow", "narrow"):
            yield which, laid(which), solve(laid(which))

    def test_every_room_that_needs_air_has_a_register(self):
        for which, job, r in self.each():
            got = {x.room for x in job.design.registers if x.side == "supply"}
            need = {x.id for k, x in enumerate(job.rooms) if max(r.loads.sensible_w[k], r.loads.heating_w[k]) > 60}
            self.assertEqual(got, need, which)

    def test_all_lie_in_their_rooms(self):
        for _, job, _ in self.each():
            rooms = {r.id: Polygon(r.outline_m) for r in job.rooms}
            for x in job.design.registers:
                self.assertTrue(rooms[x.room].buffer(1e-6).contains(At(x.position_m)), x.tag)

    def test_no_face_is_faster_than_practice_and_none_brings_too_much(self):
        for _, _, r in self.each():
            for x in (t for t in r.terminals.values() if t.register.side == "supply"):
                self.assertLessEqual(x.flow_m3_s, MOST_M3_S * 1.02, x.register.tag)
                self.assertLessEqual(x.face_velocity_m_s, FACE_M_S["balanced"] * 1.02, x.register.tag)

    def test_central_by_storey_or_by_room(self):
        found = {}
        for ways in ("central", "storey", "room"):
            job = replace_part(bare("demo"), "air", returns=ways)
            done = lay_registers(solve(job), "unit1")
            found[ways] = [x.room for x in done.design.registers if x.side == "return"]
            self.assertEqual(lay_registers(solve(done), "unit1").design.registers, done.design.registers, ways)
            uses = {r.id: r.use for r in job.rooms}
            self.assertFalse([i for i in found[ways] if uses[i] in NO_RETURN], ways)
        self.assertEqual(len(found["central"]), 1)
        self.assertEqual(len(found["storey"]), 2)
        self.assertLess(set(found["storey"]), set(found["room"]))
        self.assertLessEqual({"bed1", "bed2", "bed3", "bed4", "study"}, set(found["room"]))

    def test_a_return_a_storey_and_none_where_it_may_not(self):
        for _, job, _ in self.each():
            rooms = {r.id: r for r in job.rooms}
            back = [x for x in job.design.registers if x.side == "return"]
            self.assertEqual({rooms[x.room].storey for x in back}, {r.storey for r in job.rooms})
            self.assertFalse([x for x in back if rooms[x.room].use in NO_RETURN])

    def test_off_beds_where_the_room_has_another_place(self):
        for which, job, _ in self.each():
            for x in (x for x in job.design.registers if x.side == "supply"):
                beds = [f for f in job.furniture if f.room == x.room and f.kind not in ("desk", "table")]
                area = Polygon(next(r.outline_m for r in job.rooms if r.id == x.room)).area
                if beds and area > 12:
                    near = min(math.dist(f.position_m, x.position_m) for f in beds)
                    self.assertGreater(near, 0.9, (which, x.tag))

    def test_again_adds_nothing(self):
        job = laid("bungalow")
        self.assertEqual(lay_registers(solve(job), "unit1").design.registers, job.design.registers)

    def test_a_room_left_out_gets_its_own_and_the_others_stay(self):
        job = laid("bungalow")
        gone = next(x for x in job.design.registers if x.side == "supply")
        less = changed(
            job, design=changed(job.design, registers=tuple(x for x in job.design.registers if x.room != gone.room))
        )
        again = lay_registers(solve(less), "unit1").design.registers
        self.assertIn(gone.room, {x.room for x in again})
        self.assertEqual(again[: len(less.design.registers)], less.design.registers)

    def test_compact_practice_brings_them_nearer_the_unit(self):
        job = replace(bare("bungalow"), "indoor_units", "unit1", position_m=(6.0, 4.0), storey="ground")

        def mean(practice):
            made = lay_registers(solve(replace_part(job, "air", velocity_profile=practice)), "unit1")
            supply = [x for x in made.design.registers if x.side == "supply"]
            return sum(math.dist(x.position_m, (6.0, 4.0)) for x in supply) / len(supply)

        self.assertLess(mean("compact"), mean("balanced"))

    def test_heads_have_none(self):
        job = replace(bare("demo"), "indoor_units", "unit1", kind="wall", unit=None)
        with self.assertRaisesRegex(JobValueError, "ducted unit"):
            lay_registers(solve(job), "unit1")

    def test_sixty_random_houses(self):
        for seed in range(60):
            job = pick_unit(random_house(seed), "unit1", "torrow-cx-30")
            made = lay_registers(solve(job), "unit1")
            rooms = {r.id: Polygon(r.outline_m) for r in made.rooms}
            self.assertTrue(made.design.registers, seed)
            for x in made.design.registers:
                self.assertTrue(rooms[x.room].buffer(1e-6).contains(At(x.position_m)), (seed, x.tag))


class TestByHand(unittest.TestCase):
    def room(self, job, use):
        return next(r for r in job.rooms if r.use == use)

    def at(self, room):
        p = Polygon(room.outline_m).representative_point()
        return (p.x, p.y)

    def test_placed_moved_copied(self):
        job = bare("demo")
        bed = self.room(job, "bedroom")
        one = add_register(job, bed.storey, self.at(bed), "supply", "unit1", 0.04)
        self.assertEqual(one.job.design.registers[-1].room, bed.id)
        two = copy_register(one.job, one.id)
        self.assertEqual(len({x.tag for x in two.job.design.registers}), 2)
        hall = self.room(job, "landing")
        moved = move_register(two.job, one.id, hall.storey, self.at(hall))
        self.assertEqual(moved.design.registers[0].room, hall.id)

    def test_refused_in_words(self):
        job = bare("demo")
        bath = self.room(job, "bath")
        with self.assertRaisesRegex(JobValueError, "No return in Bath"):
            add_register(job, bath.storey, self.at(bath), "return", "unit1")
        with self.assertRaisesRegex(JobValueError, "press inside one"):
            add_register(job, bath.storey, (-9, -9), "supply", "unit1")
        hall = self.room(job, "hall")
        back = add_register(job, hall.storey, self.at(hall), "return", "unit1")
        with self.assertRaisesRegex(JobValueError, "No return in Bath"):
            move_register(back.job, back.id, bath.storey, self.at(bath))

    def test_the_end_of_its_run_goes_with_it(self):
        job = demo()
        run = next(x for x in job.design.runs if x.register_id)
        register = next(x for x in job.design.registers if x.id == run.register_id)
        x, y = register.position_m
        storey = next(r.storey for r in job.rooms if r.id == register.room)
        moved = move_register(job, register.id, storey, (x + 0.3, y))
        end = next(j for j in moved.design.joints if j.id == run.end)
        self.assertEqual(end.position_m, (x + 0.3, y))
        self.assertTrue(solve(moved).network is not None)

    def test_between_the_joists(self):
        job = bare("demo")
        bed = self.room(job, "bedroom")
        job = replace(job, "storeys", bed.storey, ceiling_structure=Structure(runs="x", spacing_m=0.6, depth_m=0.24))
        job = replace(job, "storeys", bed.storey, duct_place="attic")
        made = add_register(job, bed.storey, self.at(bed), "supply", "unit1").job.design.registers[-1]
        top = min(y for r in job.rooms if r.storey == bed.storey for _, y in r.outline_m)
        bay = (made.position_m[1] - top) / 0.6 - 0.5
        self.assertAlmostEqual(bay, round(bay), 2)

    def test_sizes_step_up_with_the_air(self):
        for kind in ("floor", "ceiling", "sidewall", "grille"):
            areas = [math.prod(stock_size(kind, q, "balanced")) for q in (0.005, 0.02, 0.04, 0.06, 0.3)]
            self.assertEqual(areas, sorted(areas))
        wide, high = stock_size("ceiling", 0.04, "balanced")
        self.assertLessEqual(0.04 / (wide * high), 500 * FPM)

    def test_a_unit_in_a_closet_is_no_obstacle(self):
        job = bare("demo")
        room = job.rooms[0]
        x, y = self.at(room)
        place = MechanicalPlace(
            id="p", name="P", storey=room.storey, outline_m=((x, y), (x + 0.5, y), (x + 0.5, y + 0.5), (x, y + 0.5))
        )
        self.assertTrue(lay_registers(solve(insert(job, "places", place)), "unit1").design.registers)


if __name__ == "__main__":
    unittest.main()
