"""The air circuit: doors of both rooms, exhaust ventilation, filter, coil and blower at the site's density, no false answers."""

import unittest
from unittest import mock

import numpy as np

from murvan.catalog import units
from murvan.design import solve
from murvan.design.circuit import network
from murvan.design.circuit.situations import LOADED
from murvan.design.house.passages import rooms_beyond
from murvan.design.units.unit_losses import DRY_COIL, fan_curve, unit_losses
from murvan.field import verdict as verdict_of
from murvan.field.readings import readings_csv
from murvan.model import Filter, IndoorUnit, JobValueError, with_design
from murvan.model.edit import changed, replace
from murvan.physics.constants import STANDARD_DENSITY_KG_M3
from tests.houses import demo, demo_results, doors_of, fan, set_unit
from tests.taken import import_csv

CFM = 0.3048**3 / 60
RHO = STANDARD_DENSITY_KG_M3


class Doors(unittest.TestCase):
    def drawn_from_the_hall(self):
        """A bedroom's door, drawn from the landing's side instead."""
        job = demo()
        rooms = {r.id: r for r in job.rooms}
        landing = next(r for r in job.rooms if r.use == "landing")
        for o in job.openings:
            room = rooms[o.room]
            if not (o.inside and o.kind == "door" and room.use == "bedroom"):
                continue
            for wall in range(len(landing.outline_m)):
                for offset in np.arange(0, 8, 0.05):
                    try:
                        other = changed(o, "", room=landing.id, wall=wall, offset_m=float(offset))
                        if rooms_beyond([other], job) == [room.id]:
                            return room.id, replace(
                                job, "openings", o.id, room=landing.id, wall=wall, offset_m=float(offset)
                            )
                    except (JobValueError, IndexError):
                        break
        raise AssertionError("no door to turn round")

    def test_a_door_shuts_the_room_off_whoever_owns_it(self):
        room, job = self.drawn_from_the_hall()
        was, now = (solve(x).network.room_pressure_pa[room] for x in (demo(), job))
        self.assertGreater(abs(was), 0.3)
        self.assertAlmostEqual(now, was, delta=1e-6)
        self.assertEqual(set(doors_of(job)), set(doors_of(demo())))


class Fans(unittest.TestCase):
    def test_exhaust_ventilation_draws_on_the_house(self):
        job = fan(demo(), kind="exhaust", flow_m3_s=150 * CFM)
        base = fan(demo())
        self.assertLess(solve(job).network.house_pressure_pa, solve(base).network.house_pressure_pa - 0.1)


def unit_of(**fields):
    return IndoorUnit(id="unit1", tag="Unit", system="system1", **fields)


class Unit(unittest.TestCase):
    def with_table(self, *tested):
        unit = next(u for u in units().values() if u.coil_pa > 0 and u.heater_pa > 0)
        return unit.model_copy(update={"blower": unit.blower.model_copy(update={"tested_with": tested})})

    def test_what_the_table_holds_is_not_taken_off_twice(self):
        system = unit_of(heater_kw=8.0)
        none = unit_losses(self.with_table(), system, RHO)
        all_ = unit_losses(self.with_table("wet_coil", "filter", "heater"), system, RHO)
        dry = unit_losses(self.with_table("dry_coil"), system, RHO)
        self.assertEqual((all_.filter_k, all_.coil_k, all_.heater_k), (0.0, 0.0, 0.0))
        self.assertAlmostEqual(all_.inside_k, none.filter_k + none.coil_k + none.heater_k)
        self.assertAlmostEqual(dry.coil_k, (1 - DRY_COIL) * none.coil_k)
        self.assertEqual(none.inside_k, 0.0)

    def test_a_loaded_filter_counts_once(self):
        clean = unit_losses(None, unit_of(), RHO)
        self.assertAlmostEqual(clean.loaded_k, 2 * clean.filter_k)
        black = unit_losses(None, unit_of(filter=Filter(load=3.0)), RHO)
        self.assertEqual(black.filter_k, clean.filter_k)
        self.assertAlmostEqual(black.loaded_k, 3 * clean.filter_k)
        r = solve(set_unit(demo(), filter_load=3.0))
        n, q = r.network, r.network.solution
        k, at = n.layout.at(LOADED), n.layout.units["unit1"]
        for s, wanted in ((0, at.losses.filter_k), (k, at.losses.loaded_k)):
            drop = q.pressure_pa[s, at.return_node] - q.pressure_pa[s, at.after_filter]
            self.assertAlmostEqual(drop / q.flow_m3_s[s, at.filter_branch] ** 2 / wanted, 1, places=5)

    def test_thin_air_takes_and_makes_less_pressure(self):
        unit = demo_results().main.unit
        low, high = unit_losses(unit, unit_of(), RHO), unit_losses(unit, unit_of(), 0.8 * RHO)
        self.assertAlmostEqual(high.filter_k / low.filter_k, 0.8)
        flow = np.array([0.3, 0.4])
        np.testing.assert_allclose(fan_curve(unit, 2, 0.8 * RHO)(flow)[0], 0.8 * fan_curve(unit, 2, RHO)(flow)[0])

    def test_the_blower_works_against_what_is_in_its_table_at_its_own_flow(self):
        b, unit = demo_results().main.blower, demo_results().main.unit
        q = float(b.flow_m3_s[0])
        inside = unit.coil_pa * (q / unit.rated_flow_m3_s) ** 2 * demo_results().conditions.density_kg_m3 / RHO
        by_hand = q * (float(b.external_static_pa[0]) + inside) / unit.blower.efficiency
        self.assertAlmostEqual(b.power_w / by_hand, 1, places=6)


class Sides(unittest.TestCase):
    def test_runs_of_two_sides_do_not_join(self):
        supply = next(r for r in demo().design.runs if r.side == "supply" and r.id == "SA1")
        back = next(r for r in demo().design.runs if r.side == "return" and r.register_id)
        with self.assertRaisesRegex(JobValueError, f"run {back.tag} is a return run and can't join {supply.tag}"):
            replace(demo(), "runs", back.id, start=supply.end)

    def test_a_run_ends_in_a_register_of_its_side_and_alone(self):
        grille = next(x for x in demo().design.registers if x.side == "return")
        run = next(r for r in demo().design.runs if r.side == "supply" and r.register_id)
        other = next(r for r in demo().design.runs if r.side == "supply" and r.register_id and r is not run)
        with self.assertRaisesRegex(JobValueError, "can't end in"):
            replace(demo(), "runs", run.id, register_id=grille.id)
        with self.assertRaisesRegex(JobValueError, "can't hang on two runs"):
            replace(demo(), "runs", run.id, register_id=other.register_id)

    def test_random_jobs_that_the_model_takes_are_solved(self):
        """Seeded: trees of any shape the model accepts give finite figures or say that there is no answer."""
        chance, tried = np.random.default_rng(5), 0
        base = demo()
        for _ in range(400):
            runs = list(base.design.runs)
            k = int(chance.integers(len(runs)))
            run = runs[k]
            change = {
                0: {"start": runs[int(chance.integers(len(runs)))].end},
                1: {"end": base.design.joints[int(chance.integers(len(base.design.joints)))].id},
                2: {"register_id": base.design.registers[int(chance.integers(len(base.design.registers)))].id},
                3: {"side": str(chance.choice(["supply", "return", "fresh"]))},
                4: {"damper": float(chance.choice([0.0, 1.0]))},
                5: {"diameter_m": float(chance.choice([0.03, 1.9])), "shape": "round"},
            }[int(chance.integers(6))]
            try:
                job = replace(base, "runs", run.id, **change)
            except JobValueError:
                continue
            tried += 1
            n = solve(job).network
            if n is not None:
                powers = [b.power_w for b in n.blowers.values()]
                self.assertTrue(np.isfinite(n.solution.flow_m3_s).all() and np.isfinite(powers).all())
        self.assertGreater(tried, 100)


class NoAnswer(unittest.TestCase):
    def test_a_circuit_that_does_not_close_shows_no_figure(self):
        real = network.solve

        def open_(*a, **k):
            return real(*a, **{**k, "most_steps": 1})

        with mock.patch.object(network, "solve", open_):
            r = solve(demo())
        self.assertIsNone(r.network)
        self.assertTrue(r.network_open)
        self.assertIn("network-open", [f.rule.id for f in r.findings])
        self.assertFalse(demo_results().network_open)


class Readings(unittest.TestCase):
    def test_a_temperature_at_a_register_is_no_flow(self):
        bare = with_design(demo(), readings=())
        text = "place,quantity,value,unit,phase\nB4,temperature,55,°F,after\nB4,flow,61,cfm,after\nB4,flow,40,cfm,before\n"
        job = with_design(bare, readings=import_csv(bare, text, "ip"))
        v = verdict_of(job, solve(job)).registers["B4"]
        self.assertAlmostEqual(v.measured / CFM, 61)
        self.assertAlmostEqual(v.before.value / CFM, 40)

    def test_simulated_comes_back_from_csv(self):
        text = readings_csv(demo(), "ip")
        again = import_csv(demo(), text, "ip")
        self.assertTrue(all(r.simulated for r in again))
        self.assertIn(",yes,", text)

    def test_one_figure_of_static_everywhere(self):
        r = demo_results()
        x = verdict_of(demo(), r).external_of("unit1")
        self.assertEqual(x.predicted, float(r.main.blower.external_static_pa[0]))
        self.assertTrue(x.simulated)


if __name__ == "__main__":
    unittest.main()
