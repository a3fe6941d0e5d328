"""Each rule of how the air gets along: where it fires, what it says in both measures, where it keeps quiet."""

import unittest

from murvan.design import solve
from murvan.model import Exhaust, replace, replace_part, with_design
from murvan.model.design import Zone
from murvan.model.edit import changed, insert
from murvan.model.house import KeepClear, Structure
from tests.design.lay.test_registers import laid_out
from tests.houses import CFM, box, demo, demo_results

OWN = (
    "no-unit",
    "friction-band",
    "takeoff-fit",
    "plenum-short",
    "throw-short",
    "throw-long",
    "register-loud",
    "storey-return",
    "zone-wet",
    "zone-past",
    "ducts-leak",
    "hood-large",
    "depressurised",
    "duct-clear",
    "duct-across",
    "box-tight",
)
HONEST = {"friction-band", "zone-past"}
"""What the demo has of them."""


def found(job, rule):
    return [f for f in solve(job).findings if f.rule.id == rule]


class Quiet(unittest.TestCase):
    def test_the_demo_has_its_two_and_an_empty_box_none(self):
        self.assertEqual(set(OWN) & {f.rule.id for f in demo_results().findings}, HONEST)
        self.assertEqual(set(OWN) & {f.rule.id for f in solve(box()).findings}, set())

    def test_a_layout_of_murvan_s_own_breaks_none_that_fail(self):
        for which in ("demo", "bungalow", "narrow"):
            for x in laid_out(which):
                bad = {f.rule.id for f in x.results.findings if f.severity == "fails"} & set(OWN)
                self.assertEqual(bad, set(), (which, x.name))


class Fires(unittest.TestCase):
    def one(self, job, rule, count=1):
        hits = found(job, rule)
        self.assertEqual(len(hits), count, [f.text("ip") for f in hits])
        for f in hits:
            self.assertNotIn("{", f.text("ip") + f.text("si") + f.rule.basis_text("ip") + f.rule.remedy_text("si"))
        return hits[0]

    def test_no_unit(self):
        f = self.one(replace(demo(), "indoor_units", "unit1", unit=None), "no-unit")
        self.assertEqual(f.severity, "fails")

    def test_friction_out_of_band(self):
        f = self.one(demo(), "friction-band")
        self.assertIn("0.060 in wc/100 ft and more", f.text("ip"))
        wide = replace(
            demo(), "indoor_units", "unit1", tap=5, filter=changed(demo().design.indoor_units[0].filter, clean_pa=0.0)
        )
        rate = solve(wide).systems["unit1"].ducts.friction_rate_pa_m
        self.assertEqual(bool(found(wide, "friction-band")), rate < 0.06 * 249.09 / 30.48)

    def test_take_offs_that_meet(self):
        box_ = next(p for p in demo().design.plenums if p.side == "supply")
        small = replace(demo(), "plenums", box_.id, width_m=0.3, depth_m=0.3)
        hits = found(small, "takeoff-fit")
        self.assertTrue(hits)
        self.assertIn("SA1 sticks out over the edge of its face by 1.1 in", hits[0].text("ip"))

    def test_a_plenum_shorter_than_its_wheel_wants(self):
        box_ = next(p for p in demo().design.plenums if p.side == "supply")
        self.one(replace(demo(), "plenums", box_.id, height_m=0.3), "plenum-short")

    def test_a_large_face_throws_short(self):
        x = next(r for r in demo().design.registers if r.side == "supply")
        f = self.one(replace(demo(), "registers", x.id, width_m=0.6, height_m=0.6), "throw-short")
        self.assertEqual(f.hit.at.id, x.id)

    def test_a_small_face_in_the_wall_blows_across(self):
        x = next(r for r in demo().design.registers if r.side == "supply")
        job = replace(demo(), "registers", x.id, kind="sidewall", width_m=0.15, height_m=0.1)
        self.one(job, "throw-long")

    def test_a_small_grille_hisses(self):
        x = next(r for r in demo().design.registers if r.side == "supply" and r.room == "bed1")
        f = self.one(replace(demo(), "registers", x.id, noise_nc=75.0), "register-loud")
        self.assertIn("NC 30 is quiet there", f.text("ip"))
        self.assertEqual(found(replace(demo(), "registers", x.id, noise_nc=20.0), "register-loud"), [])

    def test_a_storey_whose_return_is_elsewhere(self):
        rooms = {r.id: r.storey for r in demo().rooms}
        gone = {x.id for x in demo().design.registers if x.side == "return" and rooms[x.room] == "upper"}
        job = with_design(
            demo(),
            runs=tuple(r for r in demo().design.runs if r.register_id not in gone),
            registers=tuple(x for x in demo().design.registers if x.id not in gone),
            readings=tuple(x for x in demo().design.readings if x.at.id not in gone),
            ticks=tuple(x for x in demo().design.ticks if x.at.kind == "plenum"),
        )
        hits = found(job, "storey-return")
        self.assertEqual({f.hit.at.id for f in hits}, {"ground", "upper"})

    def test_a_zone_of_baths(self):
        zones = tuple(changed(z, z.name, rooms=tuple(i for i in z.rooms if i != "bath")) for z in demo().design.zones)
        job = with_design(demo(), zones=(*zones, Zone(id="3", name="Wet", rooms=("bath",))))
        self.one(job, "zone-wet")

    def test_rooms_past_their_damper(self):
        f = self.one(demo(), "zone-past")
        self.assertIn("Study and Utility get air past its damper", f.text("ip"))
        zones = tuple(
            changed(z, z.name, rooms=tuple(i for i in z.rooms if i not in ("study", "utility")))
            for z in demo().design.zones
        )
        self.assertEqual(found(with_design(demo(), zones=zones), "zone-past"), [])

    def test_leaky_ducts_outside(self):
        f = self.one(replace_part(demo(), "air", duct_leakage=0.15), "ducts-leak")
        self.assertIn("tested at 25 Pa", f.text("si"))
        self.assertEqual(found(replace_part(demo(), "air", duct_leakage=0.05), "ducts-leak"), [])

    def test_a_large_hood_and_a_furnace_beside_it(self):
        strong = replace(demo(), "rooms", "kitchen", exhaust=Exhaust(flow_m3_s=600 * CFM))
        self.one(strong, "hood-large")
        self.assertEqual(found(strong, "depressurised"), [], "nothing burns in it")
        burning = replace(strong, "indoor_units", "unit1", unit=self.furnace())
        f = self.one(burning, "depressurised")
        self.assertEqual(f.severity, "fails")
        self.assertIn("licensed person", f.rule.why)
        self.assertEqual(found(replace(burning, "rooms", "kitchen", exhaust=None), "depressurised"), [])

    def furnace(self):
        from murvan.catalog import units

        return next(i for i, u in units().items() if u.fuel == "gas" and u.rated_flow_m3_s > 0.4)

    def test_a_run_through_a_flue(self):
        run = next(r for r in demo_results().laid if r.register_id and r.storey == "upper" and r.side == "supply")
        (x0, y0), (x1, y1) = run.path_m[:2]
        x, y = (x0 + x1) / 2, (y0 + y1) / 2
        outline = ((x - 0.2, y - 0.2), (x + 0.2, y - 0.2), (x + 0.2, y + 0.2), (x - 0.2, y + 0.2))
        flue = KeepClear(id="k", name="Flue", storey="upper", outline_m=outline, reason="flue")
        hits = found(insert(demo(), "keep_clear", flue), "duct-clear")
        self.assertIn(run.id, {f.hit.at.id for f in hits})
        filter_ = changed(flue, "Flue", reason="filter")
        self.assertEqual(found(insert(demo(), "keep_clear", filter_), "duct-clear"), [])

    def test_a_run_across_joists(self):
        storeys = tuple(
            changed(s, s.name, ceiling_space_m=0.0, ceiling_structure=Structure(kind="joists", runs="x"))
            if s.id == "ground"
            else s
            for s in demo().storeys
        )
        hits = found(changed(demo(), storeys=storeys), "duct-across")
        self.assertTrue(hits)
        for f in hits:
            run = next(r for r in demo_results().laid if r.id == f.hit.at.id)
            self.assertEqual(run.storey, "ground")
            self.assertGreater(max(abs(b[1] - a[1]) for a, b in zip(run.path_m, run.path_m[1:], strict=False)), 0.6)
