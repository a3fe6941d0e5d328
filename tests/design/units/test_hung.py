"""Units on a shared outdoor unit and at the end of a long line. All data are invented; the splits follow from the rule
that each head gets its part by nominal size (common practice)."""

import unittest

import numpy as np

from murvan.catalog import multi_units, units
from murvan.design import solve
from murvan.design.units.hung import at_end_of_line, on_outdoor
from murvan.design.units.outdoor import explain_part
from murvan.model import replace
from murvan.model.unit_edit import add_unit, hang_on
from tests.houses import many_rooms

HEAD, OUT = units()["wexley-w9"], multi_units()["wexley-m24"]


class TestOnOutdoor(unittest.TestCase):
    def test_alone_it_gives_what_its_own_table_says(self):
        x = on_outdoor(HEAD, OUT, HEAD.nominal_w, OUT.line_factory_m)
        self.assertEqual(x.cooling.total_w, HEAD.cooling.total_w)
        self.assertEqual(x.heating.max_w, HEAD.heating.max_w)

    def test_crowded_it_gives_its_part_of_the_outdoor_unit(self):
        connected = 1.3 * OUT.nominal_w
        x = on_outdoor(HEAD, OUT, connected, 0.0)
        part = HEAD.nominal_w / connected
        row, column = OUT.cooling.outdoor_c.index(35.0), OUT.cooling.wet_bulb_c.index(19.4444)
        self.assertAlmostEqual(x.cooling.total_w[row][column], part * OUT.cooling.total_w[row][column])
        self.assertAlmostEqual(x.heating.max_w[0], part * OUT.heating.max_w[0])

    def test_all_together_never_give_more_than_the_outdoor_unit(self):
        for many in (1, 2, 3, 4):
            for one in ("wexley-w6", "wexley-w9", "wexley-w18"):
                head = units()[one]
                x = on_outdoor(head, OUT, many * head.nominal_w, 0.0)
                whole = many * np.array(x.cooling.total_w)
                self.assertTrue((whole <= np.array(OUT.cooling.total_w) + 1e-6).all(), (many, one))
                self.assertTrue((many * np.array(x.heating.max_w) <= np.array(OUT.heating.max_w) + 1e-6).all())

    def test_moisture_share_is_the_heads(self):
        x = on_outdoor(HEAD, OUT, 1.3 * OUT.nominal_w, 0.0)
        np.testing.assert_allclose(
            np.array(x.cooling.sensible_w) / x.cooling.total_w,
            np.array(HEAD.cooling.sensible_w) / HEAD.cooling.total_w,
        )

    def test_alone_it_runs_no_lower_than_the_outdoor_unit(self):
        small = units()["wexley-w6"]
        x = on_outdoor(small, OUT, 3 * small.nominal_w, 0.0)
        lowest = OUT.nominal_w * OUT.cooling.min_fraction
        highest = max(max(row) for row in x.cooling.total_w)
        self.assertAlmostEqual(x.cooling.min_fraction * highest, min(lowest, highest))

    def test_heat_from_neither_is_none(self):
        self.assertIsNone(on_outdoor(HEAD.model_copy(update={"heating": None}), OUT, 9000, 0).heating)
        self.assertIsNone(on_outdoor(HEAD, OUT.model_copy(update={"heating": None}), 9000, 0).heating)


class TestLine(unittest.TestCase):
    def test_within_its_charge_it_loses_nothing(self):
        x = units()["wexley-q12"]
        self.assertIs(at_end_of_line(x, x.line_factory_m), x)

    def test_ten_metres_over_at_three_per_mille(self):
        x = units()["wexley-q12"]
        y = at_end_of_line(x, x.line_factory_m + 10)
        np.testing.assert_allclose(y.cooling.total_w, 0.97 * np.array(x.cooling.total_w))
        np.testing.assert_allclose(y.heating.max_w, 0.97 * np.array(x.heating.max_w))
        self.assertEqual(y.cooling.power_w, x.cooling.power_w)

    def test_a_line_out_of_all_bounds_still_gives_figures(self):
        x = units()["wexley-q12"].model_copy(update={"line_loss_m": 0.02})
        self.assertGreater(at_end_of_line(x, 200).cooling.total_w[0][0], 0)


def three_heads():
    """Three rooms with a head each on one outdoor unit."""
    house = many_rooms(3, 1)
    storey, job = house.storeys[0].id, house
    heads = []
    for room in house.rooms:
        x, y = room.outline_m[0]
        job, head = add_unit(job, "wall", storey, (x + 1.5, y + 0.15), (room.id,), room.name)
        job = replace(job, "indoor_units", head, unit="wexley-w6")
        heads.append(head)
    from murvan.model.unit_edit import take_away_unit

    job = take_away_unit(job, "unit1")
    outdoor = next(x.outdoor for x in job.design.indoor_units)
    for head in heads:
        job = hang_on(job, head, outdoor)
    return replace(job, "outdoor_units", outdoor, unit="wexley-m24"), heads, outdoor


class TestSolved(unittest.TestCase):
    def test_what_they_ask_for_together_is_less_than_their_peaks(self):
        job, heads, outdoor = three_heads()
        r = solve(job)
        x = r.outdoors[outdoor]
        self.assertEqual(len(x.hung), 3)
        self.assertAlmostEqual(x.connected_w, 3 * units()["wexley-w6"].nominal_w)
        self.assertLessEqual(x.coincident_w, x.peaks_w + 1e-6)
        self.assertAlmostEqual(x.heating_load_w, sum(s.loads.house_heating_w for s in r.systems.values()), 3)
        self.assertAlmostEqual(x.cooling_w, sum(s.equipment.chosen.total_w for s in r.systems.values()))

    def test_another_head_takes_from_its_neighbours(self):
        job, heads, outdoor = three_heads()
        before = solve(job)
        crowded = job
        for h in heads[1:]:
            crowded = replace(crowded, "indoor_units", h, unit="wexley-w24")
        after = solve(crowded, before)
        a, b = (r.systems[heads[0]].equipment.chosen for r in (before, after))
        self.assertLess(b.total_w, a.total_w)
        self.assertEqual(solve(crowded).systems[heads[0]].equipment.chosen, b)

    def test_the_part_multiplies_out(self):
        job, heads, outdoor = three_heads()
        for h in heads:
            job = replace(job, "indoor_units", h, unit="wexley-w12")
        r = solve(job)
        for s in r.systems.values():
            a = explain_part(s.equipment.chosen, r.outdoors[outdoor], r.conditions)
            part, table, cools = (line.result.value for line in a.lines)
            self.assertAlmostEqual(part, 1 / 3)
            self.assertAlmostEqual(cools, table * a.lines[2].operands[1].value, 6)
            self.assertAlmostEqual(cools, s.equipment.chosen.total_w)

    def test_heads_are_hung_as_heads_without_a_filter_of_the_return(self):
        job, heads, _ = three_heads()
        pieces = [p for p in solve(job).cuts.pieces if p.section == "Equipment"]
        self.assertEqual([p.where for p in pieces], ["head"] * 3)

    def test_weighed_are_heads_of_the_same_maker(self):
        job, heads, _ = three_heads()
        makers = {x.unit.maker for x in solve(job).systems[heads[0]].equipment.candidates}
        self.assertEqual(makers, {"Wexley"})

    def test_each_heads_part_costs_what_the_head_costs(self):
        job, heads, _ = three_heads()
        self.assertEqual(solve(job).systems[heads[0]].unit.price, units()["wexley-w6"].price_indoor)


if __name__ == "__main__":
    unittest.main()
