"""A duct system small enough to work by hand: one trunk, two branches, one return.

Friction and what the take-offs lose by the split of air come from the `fluids` library, other fittings from the table in
Murvan's own notes; the sums are done here in Pascals, run by run, and the network's answer is found again by a plain
bisection on the blower's curve.
"""

import math
import unittest

import fluids
import numpy as np
from scipy.optimize import brentq

from murvan.catalog import units
from murvan.design import solve
from murvan.design.circuit.frame import opening_k
from murvan.design.units.unit_losses import fan_curve
from murvan.model import (
    AirSettings,
    Design,
    Filter,
    Fitting,
    IndoorUnit,
    Job,
    Leakage,
    Plenum,
    Register,
    Room,
    Storey,
)
from tests.houses import CFM, INCH, box, lay

UNIT = "quellin-c1"


def fitting(kind, ratio=1.0):
    return Fitting(kind=kind, ratio=ratio)


def system() -> Job:
    base = box()
    a = Room(id="a", name="A", storey="g", outline_m=((0, 0), (8, 0), (8, 5), (0, 5)), use="hall", people=1)
    b = Room(id="b", name="B", storey="g", outline_m=((8, 0), (16, 0), (16, 5), (8, 5)), people=1)
    trunk = {
        "indoor": "unit1",
        "id": "T",
        "tag": "T",
        "side": "supply",
        "storey": "g",
        "path_m": ((7, 2), (4, 2)),
        "shape": "rectangular",
        "width_m": 12 * INCH,
        "height_m": 8 * INCH,
        "fittings": (fitting("plenum_exit"), fitting("elbow_square")),
    }
    one = {
        "indoor": "unit1",
        "id": "R1",
        "tag": "R1",
        "side": "supply",
        "storey": "g",
        "parent": "T",
        "path_m": ((4, 2), (1, 2)),
        "diameter_m": 8 * INCH,
        "fittings": (fitting("takeoff45"), fitting("elbow", 1.5), fitting("boot")),
        "register_id": "r1",
    }
    two = {
        "indoor": "unit1",
        "id": "R2",
        "tag": "R2",
        "side": "supply",
        "storey": "g",
        "parent": "T",
        "path_m": ((4, 2), (4, 4), (12, 4)),
        "diameter_m": 7 * INCH,
        "material": "flex",
        "stretched": 0.9,
        "fittings": (fitting("takeoff"), fitting("boot")),
        "damper": 0.7,
        "register_id": "r2",
    }
    back = {
        "indoor": "unit1",
        "id": "B",
        "tag": "B",
        "side": "return",
        "storey": "g",
        "path_m": ((7, 2), (7, 4)),
        "shape": "rectangular",
        "width_m": 16 * INCH,
        "height_m": 10 * INCH,
        "fittings": (fitting("plenum_entry"),),
        "register_id": "g1",
    }
    registers = (
        Register(
            indoor="unit1", id="r1", tag="r1", room="a", position_m=(1, 2), width_m=10 * INCH, height_m=10 * INCH
        ),
        Register(
            indoor="unit1", id="r2", tag="r2", room="b", position_m=(12, 4), width_m=10 * INCH, height_m=10 * INCH
        ),
        Register(
            indoor="unit1",
            id="g1",
            tag="g1",
            room="a",
            side="return",
            kind="grille",
            position_m=(7, 4),
            width_m=20 * INCH,
            height_m=14 * INCH,
            free_area=0.75,
        ),
    )
    plenums = (
        Plenum(
            id="plenum-supply",
            indoor="unit1",
            side="supply",
            width_m=0.5,
            depth_m=0.5,
            height_m=0.6,
            position_m=(7.2, 2),
        ),
        Plenum(
            id="plenum-return",
            indoor="unit1",
            side="return",
            width_m=0.5,
            depth_m=0.5,
            height_m=0.6,
            position_m=(7.8, 2),
        ),
    )
    raw = {k: getattr(base, k) for k in Job.model_fields}
    raw.update(
        name="By hand",
        storeys=(Storey(id="g", name="G", height_m=2.5),),
        rooms=(a, b),
        openings=(),
        leakage=Leakage(ach50=4.0),
        design=Design(
            **lay((Storey(id="g", name="G", height_m=2.5),), trunk, one, two, back),
            registers=registers,
            plenums=plenums,
            air=AirSettings(duct_allowance=0.0, duct_leakage=0.0),
            indoor_units=(
                IndoorUnit(
                    id="unit1",
                    tag="Unit",
                    system="system1",
                    unit=UNIT,
                    tap=2,
                    filter=Filter(width_m=0.5, height_m=0.4, clean_pa=25.0),
                    storey="g",
                ),
            ),
        ),
    )
    return Job.model_validate(raw)


class TestByHand(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.job = system()
        cls.r = solve(cls.job)
        cls.rho = cls.r.conditions.density_kg_m3

    def friction(self, q, diameter, rough, length, scale=1.0):
        """Pa of a round duct by the fluids library."""
        v = q / (math.pi * diameter**2 / 4)
        f = fluids.friction.Colebrook(self.rho * v * diameter / 1.82e-5, rough / diameter)
        return scale * f * length / diameter * 0.5 * self.rho * v * v

    def takeoff(self, q, trunk, inches, angle):
        """Pa of a round branch off the 12 x 8 trunk with its share of the air; Crane TP 410."""
        across = math.sqrt(math.pi / 4 * inches**2 / (12 * 8))
        k = fluids.fittings.K_branch_diverging_Crane(1.0, across, trunk - q, q, angle)
        return k * 0.5 * self.rho * (trunk / (12 * 8 * INCH**2)) ** 2

    def loss(self, run_id, q, trunk=0.0, damper=True):
        """Friction, fittings and damper of a run, Pa; `trunk` is what flows before it parts."""
        if run_id == "T":
            equivalent = 1.30 * (12 * 8) ** 0.625 / (12 + 8) ** 0.25 * INCH
            v = q / (12 * 8 * INCH**2)
            return self.friction(q, equivalent, 9e-5, 3.0) + (0.35 + 1.2) * 0.5 * self.rho * v * v
        if run_id == "R1":
            v = q / (math.pi * (8 * INCH) ** 2 / 4)
            fittings = (0.15 + 0.75) * 0.5 * self.rho * v * v
            return self.friction(q, 8 * INCH, 9e-5, 3.0) + fittings + self.takeoff(q, trunk, 8, 45.0)
        if run_id == "R2":
            v = q / (math.pi * (7 * INCH) ** 2 / 4)
            scale = 1 + 0.58 * math.exp(-0.126 * 7) * 10
            # 70 % open: blade at 27 degrees, between 1.5 and 4.5 on the logarithm
            c = math.exp(np.interp(27.0, [20.0, 30.0], [math.log(1.5), math.log(4.5)])) if damper else 0.2
            fittings = (0.75 + c) * 0.5 * self.rho * v * v
            return self.friction(q, 7 * INCH, 9e-4, 10.0, scale) + fittings + self.takeoff(q, trunk, 7, 90.0)
        equivalent = 1.30 * (16 * 10) ** 0.625 / (16 + 10) ** 0.25 * INCH
        v = q / (16 * 10 * INCH**2)
        return self.friction(q, equivalent, 9e-5, 2.0) + 0.9 * 0.5 * self.rho * v * v

    def face(self, q, width, height, free, c):
        return c * 0.5 * self.rho * (q / (width * height * INCH**2 * free)) ** 2

    def test_runs_at_design_flow(self):
        for i in ("T", "R1", "R2", "B"):
            x = self.r.runs[i]
            self.assertAlmostEqual(
                x.pressure_drop_pa,
                self.loss(i, x.flow_m3_s, self.r.runs["T"].flow_m3_s),
                delta=0.01 * x.pressure_drop_pa,
                msg=i,
            )

    def test_path_to_the_far_register(self):
        flows = {i: x.flow_m3_s for i, x in self.r.runs.items()}
        expected = (
            self.loss("T", flows["T"])
            + self.loss("R2", flows["R2"], flows["T"], damper=False)
            + self.face(flows["R2"], 10, 10, 0.7, 1.0)
        )
        self.assertAlmostEqual(self.r.runs["R2"].path_pa, expected, delta=0.01 * expected)

    def test_budget(self):
        q = self.r.main.airflow.total_m3_s
        parts = {b.name: b.pressure_pa for b in self.r.main.ducts.budget}
        self.assertAlmostEqual(parts["filter"], 25.0 * (q / (0.5 * 0.4 * 1.5)) ** 2, places=6)
        self.assertAlmostEqual(parts["return duct"], self.loss("B", q), delta=0.01 * parts["return duct"])
        self.assertAlmostEqual(parts["grille"], self.face(q, 20, 14, 0.75, 0.9), places=6)

    def supply_flows(self, p):
        """Flows of both branches when `p` Pa stand between the supply plenum and the rooms."""

        def split(total):
            """Flow of each branch for a trunk flow; both see the same pressure at the trunk's end."""

            def gap(q1):
                one = self.loss("R1", q1, total) + self.face(q1, 10, 10, 0.7, 1.0)
                q2 = total - q1
                two = self.loss("R2", q2, total) + self.face(q2, 10, 10, 0.7, 1.0) + opening_k(2.5, self.rho) * q2**2
                return one - two

            q1 = brentq(gap, 1e-4, total - 1e-4, xtol=1e-12)
            return q1, total - q1

        def miss(total):
            q1, _ = split(total)
            return self.loss("T", total) + self.loss("R1", q1, total) + self.face(q1, 10, 10, 0.7, 1.0) - p

        return split(brentq(miss, 0.02, 1.0, xtol=1e-12))

    def test_network_by_bisection(self):
        """The blower's pressure equals all losses round the loop; the house is tight enough that leaks hardly count."""
        curve = fan_curve(units()[UNIT], 2, self.rho)

        def miss(p):
            q1, q2 = self.supply_flows(p)
            q = q1 + q2
            back = self.loss("B", q) + self.face(q, 20, 14, 0.75, 0.9)
            filter_ = self.rho / 1.2014 * 25.0 * (q / (0.5 * 0.4 * 1.5)) ** 2
            return float(curve(np.asarray(q))[0]) - (p + back + filter_)

        p = brentq(miss, 3.0, 150.0, xtol=1e-9)
        q1, q2 = self.supply_flows(p)
        n = self.r.network
        self.assertTrue(n.converged)
        self.assertAlmostEqual(n.register_m3_s["r1"] / q1, 1, delta=0.005)
        self.assertAlmostEqual(n.register_m3_s["r2"] / q2, 1, delta=0.005)
        self.assertAlmostEqual(float(self.r.main.blower.flow_m3_s[0]) / (q1 + q2), 1, delta=0.005)

    def test_it_is_a_plausible_system(self):
        self.assertTrue(300 < float(self.r.main.blower.flow_m3_s[0]) / CFM < 900)
