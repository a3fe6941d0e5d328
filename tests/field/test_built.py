"""The house as it may be built: openings, faults in its circuit, what instruments show."""

import dataclasses
import unittest

import numpy as np

from murvan.field.changes import CHANGES
from murvan.field.places import places
from murvan.field.spots import change, possible_steps, spots
from murvan.field.state import Change
from murvan.field.tracks import tracks
from murvan.field.unlike import causes, drawn, scatter, spread
from murvan.kinds.faults import FAULTS
from murvan.model import AS_FOUND
from murvan.physics.network import branch_loss, solve
from tests.field.fitted import fitted_house
from tests.houses import demo_results


class TestBuilt(unittest.TestCase):
    def setUp(self):
        self.h = fitted_house()
        self.b, every = self.h.built, self.h.tracks.places
        self.places = [p for p in every if p.state.of_air == AS_FOUND and p.state.mode != "cooling"]
        self.at = {p.word: k for k, p in enumerate(self.places)}

    def shown(self, *faults):
        whole = Change()
        for kind, name, amount in faults:
            spot = next(s for s in spots(self.b) if (s.kind.id, s.name) == (kind, name))
            whole = whole + change(self.b, spot, amount)
        return self.b.predicted(self.places, [whole])[0]

    def test_as_designed_it_shows_what_the_design_predicts(self):
        n, base = demo_results().network, self.shown()
        for i, flow in n.register_m3_s.items():
            self.assertAlmostEqual(base[self.at[i]], flow, delta=0.03 * flow + 1e-4)
        statics = n.blowers["unit1"].statics_pa
        for hole, word in (("supply", "static-supply"), ("return", "static-return")):
            self.assertAlmostEqual(base[self.at[word]], statics[hole], delta=0.05 * abs(statics[hole]) + 0.6)

    def test_openings_that_are_shut_let_nothing_through(self):
        branches = [branch for branch, _ in self.b.openings.values()]
        self.assertLess(np.abs(self.b.base[branches]).max(), 2e-4)

    def test_every_kind_of_fault_has_its_change_and_finite_figures(self):
        self.assertEqual(set(CHANGES), set(FAULTS))
        own = list(spots(self.b))
        ends = [(s, a) for s in own if s.kind.id != "swap" for a in (s.kind.low, s.kind.high)]
        ends = [(s, a) for s, a in ends if not s.kind.steps or a in possible_steps(self.b, s)]
        rows = self.b.predicted(self.places, [change(self.b, s, a) for s, a in ends])
        bad = [s.title for (s, _), row in zip(ends, rows, strict=True) if not np.isfinite(row).all()]
        self.assertEqual(bad, [])

    def test_what_no_joint_of_a_house_loses_comes_out_at_its_registers(self):
        """Continuity: an open plenum takes from the supply what the returns still draw."""
        base, leaky = self.shown(), self.shown(("plenum_leak", "Unit", 0.1))
        supply = [k for w, k in self.at.items() if w[0] in "ABP" and w[1:].isdigit()]
        back = [self.at["R1"], self.at["R2"]]
        self.assertLess(leaky[supply].sum(), 0.9 * base[supply].sum())
        self.assertGreater(leaky[back].sum(), base[back].sum())

    def test_a_kink_of_three_times_loses_three_times_at_the_flow_it_had(self):
        """Of its own friction and fittings, and nothing else of the circuit changes."""
        branch = self.b.layout.run_branch["B4"]
        plain = dataclasses.replace(self.b.circuit, junctions=None)
        k = plain.k.copy()
        k[branch] = self.b.series(branch, 3.0)[branch]
        before, after = (branch_loss(plain, self.b.base.copy(), x)[0] for x in (plain.k, k))
        self.assertAlmostEqual(after[branch] / before[branch], 3.0, places=6)
        after[branch] = before[branch]
        self.assertTrue(np.array_equal(before, after))
        found = solve(dataclasses.replace(self.b.circuit, k=k), first_flow=self.b.base, injection=self.b.injection)
        want = found.flow_m3_s[self.b.layout.register_branch["B4"]]
        self.assertAlmostEqual(self.shown(("kink", "B4", 3.0))[self.at["B4"]], want, places=6)

    def test_two_openings_of_one_box_add_up(self):
        both = self.shown(("return_leak", "Unit", 0.04), ("return_leak", "Unit", 0.06))
        self.assertTrue(np.allclose(both, self.shown(("return_leak", "Unit", 0.1)), atol=1e-4))

    def test_two_faults_at_once_are_not_the_sum(self):
        base = self.shown()
        one, two = self.shown(("kink", "B4", 6.0)) - base, self.shown(("filter", "Unit", 5.0)) - base
        both = self.shown(("kink", "B4", 6.0), ("filter", "Unit", 5.0)) - base
        at = self.at["B4"]
        self.assertNotAlmostEqual(both[at], one[at] + two[at], delta=1e-4)
        self.assertLess(both[at], one[at])

    def test_instruments_that_read_off_move_no_air(self):
        base, off = self.shown(), self.shown(("hood_bias", "", 0.92))
        for p, a, b in zip(self.places, base, off, strict=True):
            self.assertAlmostEqual(
                b, a * (0.92 if p.at.kind == "register" and p.quantity == "flow" else 1.0), places=9, msg=p.word
            )

    def test_readings_taken_for_each_other(self):
        base = self.shown()
        pair = next(s for s in spots(self.b) if s.kind.id == "swap" and s.where == "A4+B7")
        swapped = self.b.predicted(self.places, [change(self.b, pair, 1.0)])[0]
        self.assertEqual(swapped[self.at["A4"]], base[self.at["B7"]])
        self.assertEqual(swapped[self.at["B7"]], base[self.at["A4"]])


class TestTracks(unittest.TestCase):
    def test_between_rungs_they_are_what_the_circuit_gives(self):
        h = fitted_house()
        t, b = h.tracks, h.built
        sd = scatter(t.places, t.base)
        for kind in ("kink", "damper", "filter", "coil", "plenum_leak", "return_leak", "boot_off", "flex"):
            k = next(k for k, s in enumerate(t.spots) if s.kind.id == kind)
            for i in (3, 8, 13, 18):
                exact = b.predicted(t.places, [change(b, t.spots[k], float(t.amounts[k, i]))])[0]
                self.assertLess(np.abs((t.predicted[k, i] - exact) / sd).max(), 0.3, (kind, i))

    def test_amounts_are_weighed_to_one(self):
        t = fitted_house().tracks
        self.assertTrue(np.allclose(np.exp(t.log_weight).sum(axis=1), 1, atol=1e-6))

    def test_it_stops_between_two_batches_when_nobody_wants_it(self):
        h, asked = fitted_house(), []
        self.assertIsNone(tracks(h.built, h.tracks.places, lambda: bool(asked.append(1) or len(asked) > 2)))
        self.assertEqual(len(asked), 3)

    def test_every_place_is_known_by_the_job(self):
        h = fitted_house()
        known = places(h.built.job)
        self.assertTrue(all(known[p.word].key[:3] == p.key[:3] for p in h.tracks.places))


class TestUnlike(unittest.TestCase):
    def test_it_is_the_spread_of_many_houses_drawn(self):
        """Each cause alone and added up, against 150 houses drawn and solved whole."""
        h = fitted_house()
        b, own = h.built, h.tracks.places
        base = b.predicted(own, [Change()])[0]
        chance = np.random.default_rng(4)
        rows = []
        for _ in range(150):
            house = drawn(b, chance)
            state = house.of(b, Change())
            rows.append(b.predicted(own, [state], house.built)[0])
        seen, told = np.std(rows, axis=0), np.sqrt((spread(b, own, base) ** 2).sum(axis=0))
        for p, s, t in zip(own, seen, told, strict=True):
            if p.quantity in ("flow", "static"):
                self.assertAlmostEqual(s / t, 1, delta=0.25, msg=p.word)

    def test_every_cause_is_a_thing_of_the_house(self):
        b = fitted_house().built
        kinds = {x.of for x in causes(b)}
        self.assertEqual(kinds, {"drag", "leak", "fan", "gain", "capacity", "power", "room"})
