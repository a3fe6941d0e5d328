"""What must hold for any house and any tree of ducts, tried on many made at random."""

import dataclasses
import unittest

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from murvan.design import solve
from murvan.design.ducts.runs import run_area_m2
from murvan.design.house.measuring import measure
from murvan.model import Design, Fitting, IndoorUnit, Job, Opening, Register, Room, Site, replace_part, with_design
from murvan.model.edit import changed
from murvan.physics.network import solve as solve_circuit
from tests.houses import INCH, box, lay

SLOW = settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])


@st.composite
def houses(draw):
    """A block of rooms cut by straight walls, with windows on some outer walls."""
    xs = np.cumsum([0.0, *draw(st.lists(st.floats(2.2, 7.0), min_size=1, max_size=4))])
    ys = np.cumsum([0.0, *draw(st.lists(st.floats(2.2, 6.0), min_size=1, max_size=3))])
    rooms, openings = [], []
    for i, (x0, x1) in enumerate(zip(xs, xs[1:], strict=False)):
        for j, (y0, y1) in enumerate(zip(ys, ys[1:], strict=False)):
            name = f"r{i}{j}"
            rooms.append(
                Room(
                    id=name,
                    name=name,
                    storey="g",
                    outline_m=((x0, y0), (x1, y0), (x1, y1), (x0, y1)),
                    use=draw(st.sampled_from(["other", "kitchen", "bedroom"])),
                )
            )
            if draw(st.booleans()):
                openings.append(
                    Opening(
                        id=f"w{name}",
                        tag=f"W{name}",
                        kind="window",
                        room=name,
                        wall=draw(st.integers(0, 3)),
                        offset_m=0.3,
                        width_m=draw(st.floats(0.4, 1.4)),
                        height_m=1.2,
                        glazing="glass-034",
                    )
                )
    job = changed(
        box(),
        "Any",
        rooms=tuple(rooms),
        openings=tuple(openings),
        site=Site(latitude_deg=draw(st.integers(-550, 600)) / 10, north_deg=draw(st.integers(0, 3590)) / 10),
    )
    return job, float(xs[-1]), float(ys[-1])


def job_with(job, **changes):
    return changed(job, "Any", **changes)


class TestHouses(unittest.TestCase):
    @SLOW
    @given(houses())
    def test_areas_and_walls_close(self, made):
        job, w, d = made
        g = measure(job)
        self.assertAlmostEqual(g.total_area_m2, w * d, places=6)
        outside = sum(p.length_m for p in g.walls if p.other == "outdoors")
        self.assertAlmostEqual(outside, 2 * (w + d), delta=0.03 * len(job.rooms))
        inside = sum(p.length_m for p in g.walls if p.other == "heated")
        total = sum(
            2 * (r.outline_m[1][0] - r.outline_m[0][0] + r.outline_m[2][1] - r.outline_m[1][1]) for r in job.rooms
        )
        self.assertAlmostEqual(inside + outside, total, delta=0.05 * len(job.rooms))
        for p in g.walls:
            self.assertTrue(0 <= p.net_area_m2 <= p.gross_area_m2 + 1e-9)

    @SLOW
    @given(houses())
    def test_loads_are_finite_and_add_up(self, made):
        r = solve(made[0])
        for m in (r.loads.heating_parts, r.loads.sensible_parts, r.loads.latent_parts):
            self.assertTrue(np.isfinite(m).all())
        self.assertTrue((r.loads.heating_w >= 0).all() and (r.loads.latent_w >= 0).all())
        self.assertAlmostEqual(float(r.room_m3_s.sum()), r.main.airflow.total_m3_s, places=9)

    @SLOW
    @given(houses())
    def test_half_a_turn_of_the_plan_and_of_north_changes_nothing(self, made):
        job, w, d = made
        turned = tuple(changed(r, outline_m=tuple((w - x, d - y) for x, y in r.outline_m)) for r in job.rooms)
        back = job_with(job, rooms=turned, site=changed(job.site, north_deg=(job.site.north_deg + 180) % 360))
        a, b = solve(job).loads, solve(back).loads
        np.testing.assert_allclose(a.heating_w, b.heating_w, rtol=1e-6, atol=0.1)
        np.testing.assert_allclose(a.sensible_w, b.sensible_w, rtol=1e-6, atol=0.5)

    @SLOW
    @given(houses(), st.floats(0.2, 30))
    def test_colder_outdoors_never_needs_less_heat(self, made, step):
        job = made[0]
        warm = solve(replace_part(job, "climate", winter_c=0.0)).loads
        cold = solve(replace_part(job, "climate", winter_c=-step)).loads
        self.assertTrue((cold.heating_w >= warm.heating_w - 1e-9).all())

    @SLOW
    @given(houses(), st.floats(0.5, 3.0))
    def test_steady_heat_through_the_shell_is_linear_in_the_difference(self, made, factor):
        job = job_with(made[0], leakage=changed(made[0].leakage, ach50=0.1))
        inside = job.indoor.heating_c
        one = solve(replace_part(job, "climate", winter_c=inside - 10)).loads.heating_parts
        many = solve(replace_part(job, "climate", winter_c=inside - 10 * factor)).loads.heating_parts
        for name in ("walls", "ceiling", "floor", "glass_N", "glass_S", "glass_E", "glass_W"):
            from murvan.design.loads.components import COLUMN

            np.testing.assert_allclose(many[:, COLUMN[name]], factor * one[:, COLUMN[name]], rtol=1e-9, atol=1e-9)

    @SLOW
    @given(houses())
    def test_order_of_the_rooms_does_not_matter(self, made):
        job = made[0]
        a = solve(job)
        b = solve(job_with(job, rooms=tuple(reversed(job.rooms))))
        there = {r.id: float(x) for r, x in zip(b.job.rooms, b.loads.sensible_w, strict=True)}
        for r, x in zip(a.job.rooms, a.loads.sensible_w, strict=True):
            self.assertAlmostEqual(there[r.id], float(x), places=6)


@st.composite
def trees(draw):
    """A trunk of several pieces with a branch at every end, one return, in one row of rooms."""
    n = draw(st.integers(1, 7))
    rooms = tuple(
        Room(
            id=f"r{k}",
            name=f"r{k}",
            storey="g",
            outline_m=((4 * k, 0), (4 * k + 4, 0), (4 * k + 4, 4), (4 * k, 4)),
            use="hall" if k == 0 else "other",
        )
        for k in range(n)
    )
    runs, registers = [], []
    parent = None
    for k in range(n):
        trunk = {
            "indoor": "unit1",
            "id": f"t{k}",
            "tag": f"T{k}",
            "side": "supply",
            "storey": "g",
            "parent": parent,
            "path_m": ((4 * k, 1), (4 * k + 3, 1)),
            "shape": "rectangular",
            "width_m": draw(st.integers(6, 20)) * INCH,
            "height_m": 8 * INCH,
            "fittings": (Fitting(kind="reducer"),),
        }
        branch = {
            "indoor": "unit1",
            "id": f"b{k}",
            "tag": f"B{k}",
            "side": "supply",
            "storey": "g",
            "parent": trunk["id"],
            "path_m": ((4 * k + 3, 1), (4 * k + 3, 3)),
            "diameter_m": draw(st.integers(4, 10)) * INCH,
            "material": draw(st.sampled_from(["flex", "galvanised", "lined"])),
            "damper": draw(st.floats(0.1, 1.0)),
            "fittings": (Fitting(kind="takeoff"), Fitting(kind="boot")),
            "register_id": f"s{k}",
        }
        runs += [trunk, branch]
        registers.append(
            Register(
                indoor="unit1",
                id=f"s{k}",
                tag=f"S{k}",
                room=f"r{k}",
                position_m=(4 * k + 3, 3),
                width_m=0.25,
                height_m=0.25,
            )
        )
        parent = trunk["id"]
    runs.append(
        {
            "indoor": "unit1",
            "id": "ret",
            "tag": "R",
            "side": "return",
            "storey": "g",
            "path_m": ((0, 1), (0, 3)),
            "shape": "rectangular",
            "width_m": 16 * INCH,
            "height_m": 12 * INCH,
            "register_id": "g",
        }
    )
    registers.append(
        Register(
            indoor="unit1",
            id="g",
            tag="G",
            room="r0",
            side="return",
            kind="grille",
            position_m=(0.5, 3),
            width_m=0.5,
            height_m=0.5,
        )
    )
    unit = draw(st.sampled_from(["quellin-c1", "orvane-vh-30", "quellin-c5", "tavvin-d12", "brundel-f60-3"]))
    raw = {k: getattr(box(), k) for k in Job.model_fields} | {
        "rooms": rooms,
        "openings": (),
        "design": Design(
            **lay(box().storeys, *runs),
            registers=tuple(registers),
            indoor_units=(
                IndoorUnit(
                    id="unit1", tag="Unit", system="system1", unit=unit, tap=draw(st.integers(1, 5)), storey="g"
                ),
            ),
        ),
    }
    return Job.model_validate(raw)


def drawn_along(job, n, run):
    """Whether the air in a run's trunk is so fast that its static pressure lies below that of the run's room."""
    over = next(x for x in job.design.runs if x.end == run.start)
    branch = n.layout.run_branch[over.id]
    total = n.solution.pressure_pa[0][n.circuit.end[branch]]
    speed = n.solution.flow_m3_s[0][branch] / run_area_m2(over)
    room = next(x.room for x in job.design.registers if x.id == run.register_id)
    static = total - 0.5 * n.circuit.density_kg_m3 * speed**2
    return static < n.solution.pressure_pa[0][n.layout.room[room]]


def unparted_m3_s(n):
    """Air of the blower where nothing is lost or regained as ducts part."""
    plain = dataclasses.replace(n.circuit, junctions=None)
    found = solve_circuit(plain, first_flow=n.solution.flow_m3_s[0], injection=n.layout.injection[0])
    return float(found.flow_m3_s[n.layout.units["unit1"].blower_branch])


class TestTrees(unittest.TestCase):
    @SLOW
    @given(trees())
    def test_any_tree_closes_and_keeps_its_air(self, job):
        n = solve(job).network
        self.assertTrue(n.converged)
        supply = sum(n.register_m3_s[x.id] for x in job.design.registers if x.side == "supply")
        leaks, flow = n.leaks["unit1"], float(n.blowers["unit1"].flow_m3_s[0])
        self.assertAlmostEqual(supply + leaks.supply, flow, places=6)
        self.assertAlmostEqual(n.register_m3_s["g"] + leaks.back, flow, places=6)
        for x in job.design.runs:
            if x.register_id and n.register_m3_s[x.register_id] < -1e-6:
                self.assertTrue(drawn_along(job, n, x), x.id)

    @SLOW
    @given(trees(), st.data())
    def test_closing_one_damper_never_gives_that_register_more(self, job, data):
        k = data.draw(st.integers(0, sum(x.side == "supply" for x in job.design.registers) - 1))
        before = solve(job).network
        runs = tuple(changed(x, damper=max(x.damper * 0.5, 0.05)) if x.id == f"b{k}" else x for x in job.design.runs)
        after = solve(with_design(job, runs=runs)).network
        # a register that is drawn along draws less, too
        self.assertLessEqual(abs(after.register_m3_s[f"s{k}"]), abs(before.register_m3_s[f"s{k}"]) + 1e-6)
        # the way straight on past a branch with less air loses less (Crane), which may be more than the damper takes: 1.8 % of
        # the blower's air at most over 160 seeded trees of this kind, each damper of each. Without it more resistance
        # never gives more air.
        self.assertLessEqual(
            float(after.blowers["unit1"].flow_m3_s[0]), float(before.blowers["unit1"].flow_m3_s[0]) * 1.025
        )
        old, new = (unparted_m3_s(n) for n in (before, after))
        self.assertLessEqual(new, old * (1 + 1e-9))

    @SLOW
    @given(trees())
    def test_paths_shrink_away_from_the_plenum_by_no_more_than_is_regained(self, job):
        """Straight past wide branches g (1 - x)^2 of the trunk's velocity pressure is lost, -.073 at the least (Crane)."""
        r = solve(job)
        d = r.main.ducts
        for x in d.runs.values():
            if x.run.parent:
                before = d.runs[x.run.parent]
                regained = 0.075 * 0.5 * r.conditions.density_kg_m3 * before.velocity_m_s**2
                self.assertGreaterEqual(x.path_pa, before.path_pa - regained - 1e-9)
        self.assertTrue(all(np.isfinite(x.pressure_drop_pa) for x in d.runs.values()))
