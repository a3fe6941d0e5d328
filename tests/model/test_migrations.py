"""Jobs of earlier formats, kept as they were written, open with the same figures."""

import json
import unittest
from pathlib import Path

import numpy as np

from murvan.demo import BY_KEY, demo_job
from murvan.design import solve
from murvan.design.space.duct_spaces import lay
from murvan.model import JobError, load_job
from murvan.model.edit import changed
from murvan.model.files import job_from_raw, job_text
from murvan.model.job import FORMAT_VERSION, Ref

KEPT = Path(__file__).with_name("kept")
FIGURES = json.loads((KEPT / "format2_figures.json").read_text("utf-8"))
"""What Murvan computed of the files when format 2 was the present one.

The air circuit's were worked out again when rooms came to be joined by the openings that are drawn (a register moved by
0.014 % at most), when ducts came to leak in it, with the findings of the rules of that time, and when what take-offs lose
came to go by the split of air (a register moved by 21 % at most: a slow branch off a fast trunk), and when straight ways came
to regain what their source says (4.4 % at most). Pieces and what of them hangs were when ducts came to be cut between their
fittings, and bends of flex to be no pieces. The loads of the two without runs were when their old default for ducts, 10 %
written into every file, came to count as not typed (a room's heating by 6 % at most), when return leaks came to bring their
moisture, and the air before a unit to go by the sensible load (a quarter more).
"""


def figures(job):
    """A cross-section of a job's results, by name."""
    r = solve(job)
    s, n = r.main, r.network
    out = {
        "heating": r.loads.heating_w.tolist(),
        "sensible": r.loads.sensible_w.tolist(),
        "latent": r.loads.latent_w.tolist(),
        "house": [r.loads.house_heating_w, r.loads.house_sensible_w, r.loads.house_latent_w],
        "zones": [z.sensible_w for z in r.loads.zones],
        "air": s.airflow.design_m3_s.tolist(),
        "total": s.airflow.total_m3_s,
        "available": s.ducts.available_pa,
        "paths": [x.path_pa for x in s.ducts.runs.values()],
        "balance": s.equipment.chosen.balance_c if s.equipment.chosen else None,
        "findings": sorted([f.rule.id, f.text("si")] for f in r.findings),
        "pieces": len(r.cuts.pieces),
        "hung": r.cuts.done,
    }
    if n is not None and s.blower is not None:
        out |= {
            "registers": list(n.register_m3_s.values()),
            "pressures": list(n.room_pressure_pa.values()),
            "blower": s.blower.flow_m3_s.tolist(),
            "static": s.blower.external_static_pa.tolist(),
            "power": s.blower.power_w,
        }
    return out


class FormatTwo(unittest.TestCase):
    def test_the_kept_files_give_the_figures_of_their_time(self):
        for name, wanted in FIGURES.items():
            found = figures(load_job(KEPT / f"format2_{name}.json"))
            self.assertEqual(found.keys(), wanted.keys())
            for key, value in wanted.items():
                with self.subTest(f"{name}: {key}"):
                    if key in ("findings", "pieces", "hung") or value is None:
                        self.assertEqual(found[key], sorted(value) if key == "findings" else value)
                    else:
                        np.testing.assert_allclose(found[key], value, rtol=1e-9, atol=1e-9)

    def test_they_are_the_shipped_demos(self):
        """But for the place of runs, which follows now, and how its dampers are set; the other two carried no design then."""
        for key, demo in BY_KEY.items():
            old = load_job(KEPT / f"format2_{Path(demo.file).name}")
            self.assertEqual([r.outline_m for r in old.rooms], [r.outline_m for r in demo_job(key).rooms])
            if not old.design.runs:
                continue
            self.assertEqual(old.rooms, demo_job(key).rooms)
            dampers = {x.id: x.damper for x in demo_job(key).design.runs}
            runs = tuple(changed(x, "", place=None, damper=dampers[x.id]) for x in old.design.runs)
            # one lay in its own trunk; the file keeps what it said
            moved = {"B7": {"corners_m"}}
            for kept, now in zip(runs, demo_job(key).design.runs, strict=True):
                differs = {k for k in type(kept).model_fields if getattr(kept, k) != getattr(now, k)}
                self.assertEqual(differs, moved.get(kept.tag.split()[0], set()), kept.tag)
            self.assertEqual([x.lies_in for x in lay(old)], [x.lies_in for x in lay(demo_job(key))])
            # thermostats had no place then
            zones = tuple(changed(z, "", storey=None, position_m=None) for z in demo_job(key).design.zones)
            self.assertEqual(old.design.zones, zones)
            # plenums reach their ducts since
            tall = {x.id: x.height_m for x in demo_job(key).design.plenums}
            plenums = tuple(changed(x, "", height_m=tall[x.id]) for x in old.design.plenums)
            self.assertEqual(plenums, demo_job(key).design.plenums)
            for name in ("registers", "indoor_units", "outdoor_units", "ventilators"):
                self.assertEqual(getattr(old.design, name), getattr(demo_job(key).design, name), f"{key} {name}")

    def test_readings_and_ticks_point_at_what_they_are_of(self):
        """Format 3 had readings beside the designs and ticks by a word."""
        for version in (2, 3):
            for key, demo in BY_KEY.items():
                with self.subTest(f"{key} of format {version}"):
                    old = load_job(KEPT / f"format{version}_{Path(demo.file).name}")
                    raw = json.loads((KEPT / f"format{version}_{Path(demo.file).name}").read_text("utf-8"))
                    self.assertEqual(
                        [(x.id, x.value, x.taken) for x in old.design.readings],
                        [(x["id"], x["value"], x["taken"]) for x in raw["readings"]],
                    )
                    # the demo's are simulated, so their values go with the circuit, and more holes are read since
                    today = {(x.at, x.hole, x.quantity): x for x in demo_job(key).design.readings}
                    for x in old.design.readings:
                        like = today[x.at, x.hole, x.quantity]
                        same = ("phase", "instrument", "simulated", "person", "layout", "note")
                        self.assertEqual([getattr(x, f) for f in same], [getattr(like, f) for f in same])
                    now = {x.id: x.day for x in demo_job(key).design.ticks}
                    # runs that are all fitting, or part of a straight that begins before them, are said to be cut otherwise
                    gone = {"R1-s0", "R2-s0", "SA2-s0", "SB2-s0", "SB2-s1"} if key == "demo" else set()
                    gone = {f"run-{x}" for x in gone}
                    self.assertEqual({x.id for x in old.design.ticks} - now.keys(), gone)
                    self.assertLessEqual({x.day for x in old.design.ticks}, {*now.values(), ""})

    def test_a_reading_of_a_place_that_has_gone_is_kept(self):
        raw = json.loads((KEPT / "format3_sorrel_lane.json").read_text("utf-8"))
        raw["readings"] = [{**raw["readings"][0], "place": "Z9"}]
        (kept,) = job_from_raw(raw).design.readings
        self.assertEqual((kept.at, kept.hole), (Ref("indoor_unit", "unit1"), None))
        self.assertIn("Z9", kept.note)

    def test_a_reading_goes_to_the_design_that_has_its_register(self):
        raw = json.loads((KEPT / "format3_sorrel_lane.json").read_text("utf-8"))
        bare = {**raw["design"], "id": "d2", "runs": [], "joints": [], "registers": [], "build": {}}
        job = job_from_raw({**raw, "design": bare, "options": [raw["design"]]})
        self.assertEqual(len(job.options[0].readings), 12)
        self.assertEqual({x.at.kind for x in job.design.readings}, {"indoor_unit"})

    def test_what_is_saved_is_of_the_present_format(self):
        job = load_job(KEPT / "format2_sorrel_lane.json")
        raw = json.loads(job_text(job))
        self.assertEqual(raw["format_version"], FORMAT_VERSION)
        self.assertEqual(job_from_raw(raw), job)

    def test_malformed_readings_and_ticks_are_refused_in_words(self):
        raw = json.loads((KEPT / "format3_sorrel_lane.json").read_text("utf-8"))
        for nonsense in (5, "x", [1], {"a": 1}, None, [{"place": 5}]):
            for broken in ({**raw, "readings": nonsense}, {**raw, "design": {**raw["design"], "build": nonsense}}):
                with self.subTest(str(nonsense)), self.assertRaises(JobError):
                    job_from_raw(broken)

    def test_malformed_parts_are_refused_in_words(self):
        raw = json.loads((KEPT / "format2_sorrel_lane.json").read_text("utf-8"))
        for part in ("system", "zones", "runs", "registers", "plenums", "ventilation", "air", "build", "rooms"):
            for nonsense in (5, "x", [1], {"a": 1}, None):
                with self.subTest(f"{part}: {nonsense}"), self.assertRaises(JobError):
                    job_from_raw({**raw, part: nonsense})


if __name__ == "__main__":
    unittest.main()
