"""Stages run again only when what they depend on changed, and the answer never depends on the past."""

import dataclasses
import unittest

import numpy as np

from murvan.design import solve
from murvan.design.drawing.walls import set_wall_length
from murvan.model import Exhaust, replace, replace_part, with_design
from murvan.model.design_edit import with_ventilator
from murvan.model.edit import changed
from tests.houses import INCH, box, demo, demo_results, set_unit

HOUSE = ("geometry", "conditions", "gains", "answers", "balance", "duct_heat", "loads", "network")
UNIT = ("equipment", "airflow", "terminals", "ducts", "plenums", "cuts")
STAGES = HOUSE + UNIT


def stage(r, name):
    """What a stage gave, of the house or of its first unit."""
    return getattr(r if name in HOUSE else r.main, name)


def same(a, b):
    """Deep equality of results with arrays in them."""
    if isinstance(a, np.ndarray):
        # pressures agree to 1e-9 Pa; flow through a duct with next to no resistance follows from them less sharply
        return np.allclose(a, b, rtol=1e-7, atol=5e-9, equal_nan=True)
    if dataclasses.is_dataclass(a) and not isinstance(a, type):
        return all(same(getattr(a, f.name), getattr(b, f.name)) for f in dataclasses.fields(a) if f.compare)
    if isinstance(a, dict):
        return a.keys() == b.keys() and all(same(a[k], b[k]) for k in a)
    if isinstance(a, (tuple, list)):
        return len(a) == len(b) and all(same(x, y) for x, y in zip(a, b, strict=True))
    if isinstance(a, float):
        return a == b or (a != a and b != b) or abs(a - b) < 1e-7 * max(abs(a), 1)
    return callable(a) or a == b


EDITS = {
    "name": lambda j: replace(j, "rooms", "living", name="Parlour"),
    "transfer": lambda j: replace(j, "rooms", "bed1", transfer=None),
    "exhaust": lambda j: replace(j, "rooms", "bath", exhaust=Exhaust(flow_m3_s=0.03, continuous=True)),
    "use": lambda j: replace(j, "rooms", "kitchen", use="other"),
    "door": lambda j: replace(j, "openings", "D6", width_m=0.4),
    "filter": lambda j: set_unit(j, filter_pa=60.0),
    "people": lambda j: replace(j, "rooms", "living", people=5.0),
    "glass": lambda j: replace(j, "openings", "G1", width_m=2.0),
    "diameter": lambda j: replace(j, "runs", "A4", diameter_m=6 * INCH),
    "damper": lambda j: replace(j, "runs", "A4", damper=0.4),
    "winter": lambda j: replace_part(j, "climate", winter_c=-20.0),
    "wall": lambda j: set_wall_length(j, "living", 0, 5.6),
    "unit": lambda j: set_unit(j, unit="orvane-vh-36", flow_m3_s=None),
    "tick": lambda j: with_design(j, ticks=()),
    "storey": lambda j: replace(j, "storeys", "upper", duct_place="inside"),
    "allowance": lambda j: replace_part(j, "air", duct_allowance=0.3),
    "assembly": lambda j: changed(j, "Demo", wall_construction="wall-2x6-r21"),
    "leakage": lambda j: replace_part(j, "leakage", ach50=3.0),
    "register": lambda j: replace(j, "registers", "A4", width_m=0.2),
    "ventilation": lambda j: with_ventilator(j, flow_m3_s=0.03),
    "north": lambda j: replace_part(j, "site", north_deg=30.0),
    "plenum": lambda j: with_design(j, plenums=tuple(changed(p, width_m=0.4) for p in j.design.plenums)),
}


class TestSolve(unittest.TestCase):
    def test_previous_results_never_change_the_answer(self):
        first = solve(demo(), solve(demo(), watch=True).complete(), watch=True).complete()
        for name, edit in EDITS.items():
            with self.subTest(name):
                job = edit(demo())
                fresh, kept = solve(job), solve(job, first, watch=True)
                for name in STAGES:
                    self.assertTrue(name == "answers" or same(stage(fresh, name), stage(kept, name)), name)
                self.assertEqual([f.text("ip") for f in fresh.findings], [f.text("ip") for f in kept.findings])

    def test_a_chain_of_edits(self):
        job, r = demo(), demo_results()
        for k, edit in enumerate(EDITS.values()):
            job = edit(job)
            r = solve(job, r, watch=True)
            if k % 3:  # not every state is judged
                _ = r.findings
        fresh = solve(job)
        self.assertEqual([f.text("ip") for f in fresh.findings], [f.text("ip") for f in r.findings])
        # zones alone are solved to 1e-6 Pa, which flows of registers follow to 1e-7 m3/s
        for i, flow in fresh.alone.register_m3_s.items():
            self.assertAlmostEqual(flow, r.alone.register_m3_s[i], delta=2e-7)
        self.assertTrue(same(fresh.network, r.network))
        self.assertTrue(same(fresh.loads, r.loads))

    def test_untouched_stages_are_kept(self):
        r = solve(EDITS["damper"](demo()), demo_results())
        for name in ("geometry", "conditions", "loads", "equipment", "airflow", "terminals"):
            self.assertIs(stage(r, name), stage(demo_results(), name), name)
        self.assertIsNot(r.network, demo_results().network)

    def test_a_tick_only_touches_the_cut_list(self):
        r = solve(EDITS["tick"](demo()), demo_results())
        for name in STAGES[:-1]:
            self.assertIs(stage(r, name), stage(demo_results(), name), name)
        self.assertEqual(r.cuts.done, 0)

    def test_what_nobody_asks_for_is_not_worked_out(self):
        r = solve(EDITS["filter"](demo()))
        self.assertNotIn("findings", vars(r))
        self.assertIsNone(r.late_alone.known)
        self.assertIsNone(r.main.late_cuts.known)
        whole = r.complete()
        self.assertIs(whole, r)
        self.assertIs(r.findings, r.findings)
        self.assertIs(r.alone, r.late_alone.known)
        self.assertIs(r.main.cuts, r.main.late_cuts.known)

    def test_same_job_keeps_everything(self):
        r = solve(demo(), demo_results())
        self.assertTrue(all(stage(r, s) is stage(demo_results(), s) for s in STAGES))

    def test_smallest_jobs(self):
        for job in (box(), changed(box(), "Box", openings=()), changed(box(), "Box", rooms=(), openings=())):
            self.assertIsNone(solve(job).network)
