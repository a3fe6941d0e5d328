"""Arithmetic of a room's load: every wave with amplitude, damping and lag, sun by pane, ducts, moisture, what is left over."""

import unittest
from dataclasses import replace as with_fields

import numpy as np

from murvan.demo import demo_job
from murvan.design import solve
from murvan.design.explain.day import LEAST_WAVE_W, explain_at
from murvan.design.explain.heat import explain_heating_part
from murvan.design.explain.low import keeps_low
from murvan.design.loads.components import COLUMN
from murvan.model import replace_part
from murvan.model.edit import changed
from murvan.model.job import Design
from tests.houses import demo, demo_results


def room(name):
    return [x.name for x in demo().rooms].index(name)


def glass_parts():
    r = demo_results()
    for i in range(len(demo().rooms)):
        for name in (k for k in COLUMN if k.startswith("glass")):
            if abs(float(r.loads.parts_by_hour_w[0, i, COLUMN[name], 15])) > 50:
                yield explain_at(r, i, name, 0, 16)


class Waves(unittest.TestCase):
    def test_no_bare_figure_is_worth_more_than_a_few_watts(self):
        seen = 0
        for a in glass_parts():
            whole = abs(a.lines[-1].result.value)
            for line in a.lines:
                self.assertNotIn("shorter", line.label)
                if line.adds and not line.bold and "smaller waves" in line.label:
                    self.assertLess(abs(line.result.value), max(0.06 * whole, 12 * LEAST_WAVE_W), line.label)
                if "wave of" in line.label:
                    self.assertIn("cos", line.expression)
                    seen += 1
        self.assertGreater(seen, 20)

    def test_half_day_waves_are_cosines_of_thirty_degrees_an_hour(self):
        a = next(x for x in glass_parts() if any("wave of 12 h" in y.label for y in x.lines))
        line = next(y for y in a.lines if "wave of 12 h" in y.label)
        *steady, damping, swing, hour, top, lag = (o.value for o in line.operands)
        by_hand = np.prod(steady) * damping * swing * np.cos(np.radians(30) * (hour - top - lag))
        self.assertAlmostEqual(line.result.value, float(by_hand), 6)

    def test_sun_on_the_faces_is_that_of_the_panes(self):
        for a in glass_parts():
            panes = sum(x.result.value for x in a.lines if x.label.endswith("onto the faces, mean"))
            mean = next(x for x in a.lines if x.label == "sun on the faces, mean")
            self.assertAlmostEqual(panes, mean.operands[0].value, delta=1e-6 * panes)


class Moisture(unittest.TestCase):
    def test_of_the_household_adds_up(self):
        r = demo_results()
        a = explain_at(r, room("Kitchen"), "appliances", 0, 16)
        last = next(x for x in a.lines if x.label == "latent besides")
        self.assertGreater(len(last.operands), 1)
        self.assertAlmostEqual(sum(o.value for o in last.operands), last.result.value, 6)

    def test_return_leaks_by_air_and_moisture(self):
        job = changed(demo_job("bungalow"), "", design=Design())
        job = changed(job, "", storeys=tuple(changed(s, "", duct_place="attic") for s in job.storeys))
        a = explain_at(solve(job), 0, "ducts", 0, 16)
        line = next(x for x in a.lines if x.label == "latent besides")
        k, flow, moisture, need, top = (o.value for o in line.operands)
        self.assertAlmostEqual(k * flow * moisture * need / top, line.result.value, 6)


class Ducts(unittest.TestCase):
    def test_what_reaches_the_room_comes_from_its_air(self):
        r = demo_results()
        for month, hour in ((0, 16), (1, 9)):
            a = explain_at(r, room("Bedroom 1"), "ducts", month, hour)
            line = next(x for x in a.lines if x.label == "reaches the room")
            bring, given = (o.value for o in line.operands)
            self.assertAlmostEqual(bring / given, line.result.value, 6)
            parts = [x.result.value for x in a.lines if x.label.endswith(" brings")]
            self.assertAlmostEqual(sum(parts), bring, 9)

    def test_in_winter_too(self):
        a = explain_heating_part(demo_results(), room("Bedroom 1"), "ducts")
        line = next(x for x in a.lines if x.label == "reaches the room")
        bring, given = (o.value for o in line.operands)
        self.assertAlmostEqual(bring / given, line.result.value, 6)


class NotAccountedFor(unittest.TestCase):
    def test_heating_says_what_its_lines_leave(self):
        r = demo_results()
        for name in ("leakage", "walls", "ducts", "floor", "ceiling"):
            for i in range(len(demo().rooms)):
                lines = explain_heating_part(r, i, name).lines
                self.assertFalse([x for x in lines if x.label == "not accounted for"], f"{name} {i}")

    def test_seven_per_cent_put_into_leakage_are_seen(self):
        r = demo_results()
        more = r.loads.heating_parts.copy()
        more[:, COLUMN["leakage"]] *= 1.07
        cheated = with_fields(r, loads=with_fields(r.loads, heating_parts=more))
        found = [x for x in explain_heating_part(cheated, 0, "leakage").lines if x.label == "not accounted for"]
        self.assertAlmostEqual(found[0].result.value, more[0, COLUMN["leakage"]] * 0.07 / 1.07, 6)


class KeepsLow(unittest.TestCase):
    def bare(self, **air):
        job = changed(demo_job("bungalow"), "", design=Design())
        job = changed(job, "", storeys=tuple(changed(s, "", duct_place="attic") for s in job.storeys))
        return replace_part(job, "air", **air) if air else job

    def test_no_ventilation_and_a_typed_allowance_are_told_with_what_they_hide(self):
        fresh, ducts = keeps_low(solve(self.bare(duct_allowance=0.10)))
        self.assertEqual(fresh.label, "No ventilation entered")
        k, flow, over = (o.value for o in fresh.operands)
        self.assertAlmostEqual(k * flow * over, fresh.result.value, 6)
        before, usual, said = (o.value for o in ducts.operands)
        self.assertEqual(said, 0.10)
        self.assertTrue(0.2 < usual < 0.3)
        # what it hides is what taking the usual one adds at the same hour
        r, low = solve(self.bare()), solve(self.bare(duct_allowance=0.10))
        m, h = low.loads.at(low.loads.house.month), low.loads.house.hour - 1
        more = float((r.loads.parts_by_hour_w[m, :, :, h] - low.loads.parts_by_hour_w[m, :, :, h]).sum())
        self.assertAlmostEqual(ducts.result.value / more, 1.0, delta=0.05)

    def test_the_demo_has_nothing_of_it(self):
        self.assertEqual(keeps_low(demo_results()), ())


if __name__ == "__main__":
    unittest.main()
