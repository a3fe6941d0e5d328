"""The rules about heads and shared outdoor units: each fires where it should and not elsewhere."""

import unittest

from murvan.catalog import units
from murvan.design import solve
from murvan.model import Furniture, MechanicalPlace, Opening, Structure, insert, replace, replace_part
from murvan.model.design_edit import with_line
from murvan.model.edit import changed
from murvan.model.unit_edit import add_unit, give_rooms, release_rooms
from tests.design.units.test_hung import three_heads


def found(job, rule):
    return [f for f in solve(job).findings if f.rule.id == rule]


NEW = (
    "room-no-unit",
    "head-wall",
    "unit-idle",
    "head-closet",
    "head-draught",
    "cassette-fits",
    "outdoor-several",
    "slim-fits",
    "cassette-access",
    "unit-place",
    "head-way",
    "outdoor-ports",
    "outdoor-connected",
    "outdoor-short",
    "outdoor-lines",
    "outdoor-loud",
    "outdoor-inside",
    "outdoor-neighbour",
    "outdoor-stand",
    "outdoor-near",
    "drain-up",
    "panel-full",
)


class TestEach(unittest.TestCase):
    def setUp(self):
        self.job, self.heads, self.outdoor = three_heads()

    def fires(self, job, rule, count=1):
        hits = found(job, rule)
        self.assertEqual(len(hits), count, rule)
        for f in hits:
            self.assertNotIn("{", f.text("ip") + f.text("si") + f.rule.basis_text("ip"))
        return hits[0]

    def put(self, collection, item, **fields):
        return replace(self.job, collection, item, **fields)

    def test_quiet_where_all_is_well(self):
        rules = {f.rule.id for f in solve(self.put("outdoor_units", self.outdoor, unit="wexley-m18")).findings}
        self.assertFalse(rules & set(NEW) - {"outdoor-ports"})

    def test_room_that_no_unit_serves(self):
        job = replace(self.job, "rooms", self.job.rooms[0].id, use="bedroom")
        f = self.fires(release_rooms(job, (job.rooms[0].id,)), "room-no-unit")
        self.assertIn("a head of its own", f.why)

    def test_not_said_of_a_hall(self):
        job = replace(self.job, "rooms", self.job.rooms[0].id, use="hall")
        self.assertFalse(found(release_rooms(job, (job.rooms[0].id,)), "room-no-unit"))

    def test_unit_without_rooms(self):
        f = self.fires(release_rooms(self.job, (self.job.rooms[0].id,)), "unit-idle")
        self.assertEqual(f.hit.at.id, self.heads[0])

    def test_room_behind_a_wall(self):
        job = give_rooms(self.job, self.heads[0], (self.job.rooms[1].id,))
        f = self.fires(job, "head-wall")
        self.assertEqual(f.hit.at.id, self.job.rooms[1].id)
        self.assertFalse(found(f.hit.fix(job), "head-wall"))

    def test_head_outside_the_house(self):
        f = self.fires(self.put("indoor_units", self.heads[0], position_m=(-9, -9)), "head-wall")
        self.assertIn("hangs in none", f.text("ip"))

    def test_head_in_a_closet(self):
        own = next(x for x in self.job.design.indoor_units if x.id == self.heads[0])
        x, y = own.position_m
        place = MechanicalPlace(
            id="p",
            name="Linen closet",
            storey=own.storey,
            kind="closet",
            outline_m=((x - 0.3, y - 0.3), (x + 0.3, y - 0.3), (x + 0.3, y + 0.3), (x - 0.3, y + 0.3)),
        )
        self.assertIn("Linen closet", self.fires(insert(self.job, "places", place), "head-closet").text("ip"))

    def test_head_over_a_bed(self):
        own = next(x for x in self.job.design.indoor_units if x.id == self.heads[0])
        x, y = own.position_m
        bed = Furniture(id="f", kind="bed", room=self.job.rooms[0].id, position_m=(x + 0.9, y))
        self.assertIn("bed", self.fires(insert(self.job, "furniture", bed), "head-draught").text("ip"))
        desk = Furniture(id="f", kind="desk", room=self.job.rooms[0].id, position_m=(x + 0.9, y))
        self.assertFalse(found(insert(self.job, "furniture", desk), "head-draught"))

    def test_cassette_between_joists(self):
        job = self.put("indoor_units", self.heads[0], kind="ceiling", unit="wexley-q12")
        storey = job.storeys[0].id
        joists = replace(job, "storeys", storey, ceiling_structure=Structure(depth_m=0.2, spacing_m=0.4064))
        self.fires(joists, "cassette-fits", 2)  # too deep for 2x8 and too wide
        trusses = replace(
            job, "storeys", storey, ceiling_structure=Structure(kind="open_web", depth_m=0.4, spacing_m=0.6)
        )
        self.assertFalse(found(trusses, "cassette-fits"))
        one_way = replace(joists, "indoor_units", self.heads[0], unit="wexley-c9")
        self.assertFalse(found(one_way, "cassette-fits"))

    def test_slim_unit_in_too_low_a_ceiling(self):
        job = self.put("indoor_units", self.heads[0], kind="ducted", unit="tavvin-d9")
        low = replace(job, "storeys", job.storeys[0].id, ceiling_space_m=0.15)
        self.fires(low, "slim-fits")
        self.assertFalse(found(replace(job, "storeys", job.storeys[0].id, ceiling_space_m=0.4), "slim-fits"))
        own = next(x for x in job.design.indoor_units if x.id == self.heads[0])
        x, y = own.position_m
        soffit = MechanicalPlace(
            id="p",
            name="Soffit",
            storey=own.storey,
            clear_m=0.3,
            kind="room",
            outline_m=((x - 0.4, y - 0.4), (x + 0.4, y - 0.4), (x + 0.4, y + 0.4), (x - 0.4, y + 0.4)),
        )
        self.assertFalse(found(insert(low, "places", soffit), "slim-fits"))

    def test_cassette_under_a_heated_room(self):
        job = self.put("indoor_units", self.heads[0], kind="ceiling", unit="wexley-c9")
        self.assertFalse(found(job, "cassette-access"))
        rooms = tuple(changed(r, ceiling="heated") if r.id == job.rooms[0].id else r for r in job.rooms)
        self.fires(changed(job, rooms=rooms), "cassette-access")

    def test_unit_in_its_place(self):
        own = self.heads[0]
        unit = units()["orvane-vh-24"]
        at = (1.0 + (unit.width_m + 0.1) / 2, 0.12 + unit.depth_m / 2)
        job = self.put("indoor_units", own, kind="ducted", unit="orvane-vh-24", position_m=at, outdoor=None)

        def place(wide, deep, clear=2.4, kind="garage"):
            outline = ((1.0, 0.1), (1.0 + wide, 0.1), (1.0 + wide, 0.1 + deep), (1.0, 0.1 + deep))
            new = MechanicalPlace(
                id="p", name="Closet", storey=job.storeys[0].id, clear_m=clear, outline_m=outline, kind=kind
            )
            return insert(job, "places", new)

        roomy = place(unit.width_m + 0.1, unit.depth_m + 0.65)
        self.assertFalse(found(roomy, "unit-place"))
        self.assertIn(
            "to work before it", self.fires(place(unit.width_m + 0.1, unit.depth_m + 0.3), "unit-place").text("ip")
        )
        closet = place(unit.width_m + 0.1, unit.depth_m + 0.3, kind="closet")
        self.assertFalse(found(closet, "unit-place"), "it opens to its room: whoever works on it stands there")
        low = place(unit.width_m + 0.1, unit.depth_m + 0.65, unit.height_m - 0.1)
        self.assertIn("high", self.fires(low, "unit-place").text("si"))

    def test_head_on_an_inside_wall(self):
        room = self.job.rooms[1]
        xs, ys = zip(*room.outline_m, strict=True)
        inner = self.put("indoor_units", self.heads[1], position_m=(min(xs) + 0.15, (min(ys) + max(ys)) / 2))
        f = self.fires(inner, "head-way")
        self.assertFalse(found(f.hit.fix(inner), "head-way"))
        outer = self.put("indoor_units", self.heads[1], position_m=((min(xs) + max(xs)) / 2, min(ys) + 0.15))
        self.assertFalse(found(outer, "head-way"))

    def test_several_without_ports_and_another_makers_head(self):
        self.assertIn(
            "carries 3 units",
            self.fires(self.put("outdoor_units", self.outdoor, unit=None), "outdoor-several").text("ip"),
        )
        other = self.put("indoor_units", self.heads[0], unit="tavvin-t7")
        self.assertIn("does not go on", self.fires(other, "outdoor-several").text("ip"))

    def test_ports(self):
        self.assertIn(
            "3 units on 2 ports",
            self.fires(self.put("outdoor_units", self.outdoor, unit="wexley-m18"), "outdoor-ports").text("ip"),
        )
        f = self.fires(self.put("outdoor_units", self.outdoor, unit="wexley-m48"), "outdoor-ports")
        self.assertEqual(f.severity, "look")
        self.assertFalse(
            found(f.hit.fix(self.put("outdoor_units", self.outdoor, unit="wexley-m48")), "outdoor-ports")
        )

    def test_connected_size(self):
        self.fires(self.put("outdoor_units", self.outdoor, unit="wexley-m48"), "outdoor-connected")
        big = self.job
        for h in self.heads:
            big = replace(big, "indoor_units", h, unit="wexley-w18")
        self.assertIn("130", self.fires(big, "outdoor-connected").text("ip"))

    def test_short_when_all_call(self):
        cold = self.job.climate.model_copy(update={"winter_c": -24.0})
        job = self.job.model_copy(update={"climate": cold})
        leaky = replace(job, "rooms", job.rooms[0].id, people=90.0)
        self.assertTrue(found(leaky, "outdoor-short"))

    def test_outdoor_unit_by_a_bedroom_window(self):
        job = replace(self.job, "rooms", self.job.rooms[0].id, use="bedroom")
        x, y = job.rooms[0].outline_m[0]
        window = Opening(
            id="g",
            tag="G",
            kind="window",
            room=job.rooms[0].id,
            wall=0,
            offset_m=0.3,
            width_m=0.9,
            height_m=1.0,
            sill_m=0.9,
        )
        job = insert(job, "openings", window)
        near = replace(job, "outdoor_units", self.outdoor, position_m=(x + 0.7, y - 1.0))
        f = self.fires(near, "outdoor-loud")
        self.assertIn("dBA", f.text("ip"))
        self.assertFalse(found(replace(near, "outdoor_units", self.outdoor, position_m=(x, y - 9.0)), "outdoor-loud"))

    def test_outdoor_unit_in_a_room(self):
        x, y = self.job.rooms[0].outline_m[0]
        job = replace(self.job, "outdoor_units", self.outdoor, position_m=(x + 1.0, y + 1.0))
        self.assertIn(self.job.rooms[0].name, self.fires(job, "outdoor-inside").text("ip"))

    def test_stand_in_the_snow(self):
        job = replace_part(self.put("outdoor_units", self.outdoor, stand_m=0.1), "services", snow_m=0.5)
        f = self.fires(job, "outdoor-stand")
        self.assertFalse(found(f.hit.fix(job), "outdoor-stand"))

    def test_no_air_between_unit_and_wall(self):
        x, y = self.job.rooms[0].outline_m[0]
        self.fires(self.put("outdoor_units", self.outdoor, position_m=(x + 0.5, y - 0.2)), "outdoor-near")
        self.assertFalse(
            found(self.put("outdoor_units", self.outdoor, position_m=(x + 0.5, y - 0.75)), "outdoor-near")
        )

    def test_the_neighbour_hears_it(self):
        self.fires(self.put("outdoor_units", self.outdoor, neighbour_m=1.0), "outdoor-neighbour")
        self.assertFalse(found(self.put("outdoor_units", self.outdoor, neighbour_m=40.0), "outdoor-neighbour"))

    def test_drain_below_the_ground(self):
        job = replace(self.job, "storeys", self.job.storeys[0].id, floor_m=-2.0)
        f = self.fires(job, "drain-up", 3)
        self.assertEqual(len(found(f.hit.fix(job), "drain-up")), 2)

    def test_panel_without_a_space(self):
        self.fires(replace_part(self.job, "services", panel_spaces=0), "panel-full")
        self.assertFalse(found(replace_part(self.job, "services", panel_spaces=1), "panel-full"))
        self.assertFalse(found(self.job, "panel-full"))

    def test_lines_together(self):
        job = self.job
        for h in self.heads:
            job = with_line(job, h, length_m=20.0)
        self.fires(job, "outdoor-lines")

    def test_too_large_says_what_it_does(self):
        job = self.put("indoor_units", self.heads[0], unit="wexley-w24")
        job = replace(job, "outdoor_units", self.outdoor, unit="wexley-m36")
        whys = [f.why for f in found(job, "unit-size")]
        self.assertTrue(any("on and off" in w for w in whys), whys)

    def test_a_unit_can_be_added_with_no_room(self):
        job, _ = add_unit(self.job, "ducted", self.job.storeys[0].id, (1, 1), (), "")
        self.assertTrue(solve(job).systems)


if __name__ == "__main__":
    unittest.main()
