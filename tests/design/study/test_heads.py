"""The air of heads and rooms without one, by hand and by another solver."""

import unittest

import numpy as np
from scipy.optimize import fsolve

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.house.between import DOOR_W_M2K, PARTITION_W_M2K
from murvan.design.house.geometry import shape_of
from murvan.design.propose import every_way, taken_up
from murvan.design.study import bare_rooms, blows, line_rows
from murvan.design.study.head_air import way_off
from murvan.design.study.heard import each, together
from murvan.design.units.pick import pick_unit
from murvan.kinds.registers import REGISTERS
from murvan.model import Opening, Slope
from murvan.model.edit import changed, replace, with_design
from murvan.model.job import Furniture
from murvan.model.unit_edit import add_unit
from tests.houses import box


def two(door_m=0.9):
    """A room with a head and one beside it, a door between."""
    job = box(4.0, 4.0)
    first = job.rooms[0]
    other = changed(
        first, "Other", id="other", name="Other", outline_m=tuple((x + 4.0, y) for x, y in first.outline_m)
    )
    door = Opening(
        id="d", tag="D", kind="door", room=first.id, wall=1, offset_m=1.5, width_m=door_m, height_m=2.0, inside=True
    )
    job = changed(job, job.name, rooms=(first, other), openings=(*job.openings, door))
    job, unit = add_unit(job, "wall", first.storey, (0.15, 2.0), (first.id,), "Head")
    job = pick_unit(job, unit, "wexley-w6")
    return with_design(job, indoor_units=tuple(u for u in job.design.indoor_units if u.id == unit)), first.id


def heads(which="bungalow"):
    job = demo_job(which)
    return solve(taken_up(job, next(p for p in every_way(job) if p.kind == "heads")))


class DoorsShut(unittest.TestCase):
    def test_one_room_by_hand_and_by_another_solver(self):
        """Shut: what is lost comes through partition and leaf alone. Open: the doorway's flow by Brown and Solvason 1962, solved
        by SciPy."""
        job, kept = two()
        r = solve(job)
        (b,) = bare_rooms(r)
        self.assertEqual(b.room, "other")
        inside, out = job.indoor.heating_c, job.indoor.heating_c - r.conditions.heating_difference_k
        tall = job.storeys[0].height_m
        between = PARTITION_W_M2K * 4.0 * tall + DOOR_W_M2K * 0.9 * 2.0
        self.assertAlmostEqual(b.between_w_k, between, 6)
        shut = (between * inside + b.loses_w_k * out) / (between + b.loses_w_k)
        self.assertAlmostEqual(b.heating_shut_c, shut, 3)

        def balance(t):
            flow = 0.6 / 3 * 0.9 * 2.0**1.5 * np.sqrt(9.81 * max(inside - t[0], 0) / 293.0)
            carried = r.conditions.density_kg_m3 * 1006.0 * flow + PARTITION_W_M2K * 4.0 * tall
            return carried * (inside - t[0]) - b.loses_w_k * (t[0] - out)

        self.assertAlmostEqual(b.heating_open_c, float(fsolve(balance, [inside - 3])[0]), 2)
        self.assertLess(b.heating_shut_c, b.heating_open_c)
        self.assertLess(b.heating_open_c, inside)
        self.assertGreater(b.cooling_shut_c, b.cooling_open_c)

    def test_a_wider_door_brings_more(self):
        t = [bare_rooms(solve(two(w)[0]))[0].heating_open_c for w in (0.6, 0.9, 1.8)]
        self.assertEqual(t, sorted(t))

    def test_ducted_houses_have_none(self):
        self.assertEqual(bare_rooms(solve(demo_job())), ())

    def test_a_room_that_drifts_off_is_on_the_list(self):
        job = demo_job("bungalow")
        r = solve(taken_up(job, next(p for p in every_way(job) if p.kind == "heads")))
        names = {x.id: x.name for x in job.rooms}
        cold = {names[b.room] for b in bare_rooms(r) if b.heating_open_c < job.indoor.heating_c - 4}
        said = {f.hit.place for f in r.findings if f.rule.id == "room-adrift"}
        self.assertTrue(said <= cold, (said, cold))
        self.assertNotIn("Family", cold, "it has a head of its own: an archway does not carry it")


class Jets(unittest.TestCase):
    def test_it_blows_away_from_its_wall_as_far_as_its_room_goes(self):
        job, room = two()
        (b,) = blows(solve(job))
        self.assertEqual(tuple(round(v, 6) for v in b.way), (1.0, 0.0))
        self.assertAlmostEqual(b.across_m, 4.0 - 0.15, 6)
        self.assertAlmostEqual(b.speed_m_s * b.slot_m2, b.flow_m3_s)
        # x = K V sqrt(A) / V_x; ASHRAE space air diffusion
        self.assertAlmostEqual(b.reach_m, REGISTERS["sidewall"].throw_k * b.speed_m_s * b.slot_m2**0.5 / 0.254, 6)

    def test_a_hall_that_it_does_not_cross_is_on_the_list(self):
        job, room = two()
        self.assertEqual([f for f in solve(job).findings if f.rule.id == "head-short"], [])
        long = replace(job, "rooms", room, outline_m=((-26.0, 0), (4.0, 0), (4.0, 4.0), (-26.0, 4.0)))
        far = replace(long, "indoor_units", job.design.indoor_units[0].id, position_m=(-25.85, 2.0))
        (hit,) = [f for f in solve(far).findings if f.rule.id == "head-short"]
        self.assertIn("to the wall across", hit.text("ip"))

    def test_away_from_every_wall_of_a_crooked_room(self):
        shape = shape_of(((0, 0), (4, 0), (4, 4), (2, 4), (2, 2), (0, 2)))
        for at, way in (((2.1, 3.5), (1, 0)), ((0.1, 1.0), (1, 0)), ((1.0, 1.9), (0, -1)), ((3.9, 3.0), (-1, 0))):
            self.assertEqual(tuple(round(v, 6) + 0.0 for v in way_off(shape, at)), way, at)
        self.assertIsNone(way_off(shape, (3.0, 1.2)))

    def test_who_lies_in_its_stream_feels_it_where_cold_air_has_come_down(self):
        job, room = two()

        def felt(x, y=2.0):
            bed = Furniture(id="b", kind="bed", room=room, position_m=(x, y))
            (b,) = blows(solve(changed(job, job.name, furniture=(bed,))))
            return b.felt[0].speed_m_s if b.felt else None

        near, far = felt(1.0), felt(3.6)
        self.assertLess(near, 0.05, "it still flies over their heads")
        self.assertGreater(far, near)
        self.assertIsNone(felt(1.5, 3.8), "beside the jet")
        low = solve(
            changed(job, job.name, furniture=(Furniture(id="b", kind="bed", room=room, position_m=(3.6, 2.0)),))
        )
        hit = [f for f in low.findings if f.rule.id == "head-draft"]
        self.assertEqual(bool(hit), far > 0.4)


class Hung(unittest.TestCase):
    def found(self, job, rule):
        return [f for f in solve(job).findings if f.rule.id == rule]

    def window(self, job, room, offset, sill, high=1.2):
        glazing = job.glazings[0].id if job.glazings else None
        w = Opening(
            id="w9",
            tag="W9",
            kind="window",
            room=room,
            wall=3,
            offset_m=offset,
            width_m=1.0,
            height_m=high,
            sill_m=sill,
            glazing=glazing,
        )
        return changed(job, job.name, openings=(*job.openings, w))

    def test_over_a_window_and_beside_it(self):
        job, room = two()  # the head hangs at x = 0, y = 2; wall 3 goes from (0, 4) up to (0, 0)
        (hit,) = self.found(self.window(job, room, 1.5, 0.9), "head-glass")
        self.assertIn("W9", hit.text("ip"))
        self.assertEqual(self.found(self.window(job, room, 0.1, 0.9), "head-glass"), [])
        self.assertEqual(self.found(self.window(job, room, 1.5, 0.3), "head-glass"), [], "a low one is under it")

    def test_under_a_slope(self):
        job, room = two()
        self.assertEqual(self.found(job, "head-low"), [])
        slope = Slope(rises="x", low_side="start", low_m=1.4, high_m=2.6, pitch=1.0, knee=True)
        (hit,) = self.found(replace(job, "rooms", room, slope=slope), "head-low")
        self.assertIn("at least", hit.text("si"))

    def test_a_floor_unit_under_a_low_sill(self):
        job, room = two()
        unit = job.design.indoor_units[0].id
        job = replace(job, "indoor_units", unit, kind="floor", unit=None)
        job = pick_unit(job, unit, "wexley-f6")
        tall = solve(job).systems[unit].unit.height_m
        self.assertEqual(self.found(self.window(job, room, 1.5, tall + 0.2), "floor-sill"), [])
        (hit,) = self.found(self.window(job, room, 1.5, tall - 0.2), "floor-sill")
        self.assertIn("its sill", hit.text("ip"))

    def test_quiet_alone_and_heard_together(self):
        """Two alike are 3 dB louder than one: 10 log 2."""
        r = heads()
        two_at = r.job.design.outdoor_units[:2]
        alone = {o.id: h for o, h in each(r.job, r)}
        every = together(r.job, r)
        self.assertGreaterEqual(every.sound_dba, max(h.sound_dba for h in alone.values()) - 1e-9)
        units = tuple(changed(o, o.id, position_m=two_at[0].position_m) for o in r.job.design.outdoor_units[:2])
        inner = tuple(u for u in r.job.design.indoor_units if u.outdoor in {o.id for o in units})
        same = tuple(changed(u, u.tag, unit="wexley-w6") for u in inner)
        job = with_design(r.job, outdoor_units=units, indoor_units=same, lines=(), boxes=(), zones=())
        pair = solve(job)
        one = max(h.sound_dba for _, h in each(job, pair))
        self.assertAlmostEqual(together(job, pair).sound_dba, one + 10 * np.log10(2), 6)
        self.assertTrue(all(f.rule.id != "outdoor-chorus" for f in pair.findings) or one + 3 > 45)


class Lines(unittest.TestCase):
    def test_charge_multiplies_out_and_shared_lines_count_once(self):
        r = heads()
        for x in line_rows(r):
            self.assertAlmostEqual(x.charge_kg, max(x.length_m - x.factory_m, 0) * x.charge_kg_m)
            self.assertTrue(x.within)
        job = demo_job("bungalow")
        p = next(p for p in every_way(job) if p.kind == "shared")
        for x in line_rows(solve(taken_up(job, p))):
            self.assertIsNone(x.charge_kg)

    def test_the_cut_list_has_what_hangs_a_head(self):
        r = heads()
        what = [p.what for p in r.cuts.pieces]
        n = len(r.job.design.indoor_units)
        for word in ("Line set, insulated", "Drain, trap", "Wall sleeve with seal", "Outdoor unit", "Disconnect"):
            self.assertEqual(what.count(word), n, word)
        length = sum(p.length_m for p in r.cuts.pieces if p.what == "Line set, insulated")
        self.assertAlmostEqual(length, sum(x.length_m for x in line_rows(r)))
        job = demo_job("bungalow")
        shared = solve(taken_up(job, next(p for p in every_way(job) if p.kind == "shared")))
        outdoor = [p for p in shared.cuts.pieces if p.what.startswith("Outdoor unit")]
        self.assertEqual(len(outdoor), len(shared.job.design.outdoor_units))


if __name__ == "__main__":
    unittest.main()
