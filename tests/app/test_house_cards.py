"""The House station's cards and survey tools in the real window: assemblies, age and look, slopes, things, undo."""

from __future__ import annotations

import unittest

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QImage

from murvan.app.plan import thing_layers
from murvan.app.stations.base import List_
from murvan.model import load_job
from tests.app.base import WindowTest
from tests.houses import FT, demo_results


class Cards(WindowTest):
    def construction(self, item):
        return next(c for c in self.job.constructions if c.id == item)

    def test_the_house_card_from_the_total_row(self):
        ledger = self.window.ledger
        self.click(ledger, ledger.total_rect().center())
        self.assertEqual(self.card.title, "17 Sorrel Lane")
        self.assertIn("2,288", self.card.hero[0][0])
        self.type_into("house.area", "2600")
        self.assertIn("area-differs", {f.rule.id for f in self.view.r.findings})
        self.type_into("house.north", "90")
        self.assertEqual(self.job.site.north_deg, 90.0)
        self.assertTrue(self.job.site.north_known)

    def test_h_opens_it_too(self):
        self.key("h")
        self.assertEqual(self.card.title, "17 Sorrel Lane")

    def test_a_shell_by_age_and_look_in_one_step_and_back(self):
        before = self.job
        heat = self.headline(2).second
        self.key("h")
        self.choose("house.era", "before-1940")
        self.assertNotEqual(self.headline(2).second, heat)
        self.assertEqual(self.window.document.stack.undoText(), "Assume the shell by age")
        self.assertIn("assumed", self.card.mark_text)
        self.assertIn("shell-assumed", {f.rule.id for f in self.view.r.findings})
        self.choose("house.look", "brick")
        self.assertIn("brick", self.construction(self.job.wall_construction).name)
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, before)

    def test_a_wall_takes_a_make_up_of_the_library(self):
        self.window.select("wall", "living/3")
        self.settle()
        self.choose("living/3.make", "frame-2x6-r21-iso2")
        self.assertIn("frame-2x6-r21-iso2", {c.id for c in self.job.constructions})
        self.assertIn("0.0", self.card.side[0][0])

    def test_layers_are_edited_with_u_live(self):
        self.window.select("construction", "wall-2x4-r13")
        self.settle()
        u = self.card.hero[0][0]
        self.button("construction.add")
        self.assertTrue(self.card.kicker.startswith("Layer 5 of 5"))
        self.choose("wall-2x4-r13/4.material", "xps")
        self.type_into("wall-2x4-r13/4.thick", "2 in")
        self.button("layer.out")
        self.assertEqual(self.construction("wall-2x4-r13").layers[3].name, "XPS board")
        self.window.pick_row("construction", "wall-2x4-r13")
        self.settle()
        self.assertLess(float(self.card.hero[0][0]), float(u))
        self.type_into("wall-2x4-r13.framing", "15")
        self.assertAlmostEqual(self.construction("wall-2x4-r13").framing_fraction, 0.15)

    def test_a_layer_goes_and_the_last_one_can_not(self):
        self.window.select("layer", "door-wood/0")
        self.settle()
        self.button("layer.drop")
        self.assertIn("at least one layer", self.window.status.message)

    def test_a_negative_resistance_is_refused_at_its_place(self):
        before = self.job
        self.window.select("layer", "wall-2x4-r13/0")
        self.settle()
        self.type_into("wall-2x4-r13/0.r", "-3")
        self.assertIn("2×4, R-13 batt, Wood siding", self.window.status.message)
        self.assertIs(self.job, before)

    def test_a_zero_ceiling_height_is_refused(self):
        before = self.job
        self.window.select("room", "living")
        self.settle()
        self.type_into("living.height", "0")
        self.assertIn("Living", self.window.status.message)
        self.assertIs(self.job, before)

    def test_a_vault_and_a_half_storey(self):
        self.window.select("room", "living")
        self.settle()
        volume = self.view.r.geometry.volume_m3[0]
        self.choose("living.form", "vault_both")
        self.assertGreater(self.view.r.geometry.volume_m3[0], volume)
        self.type_into("living.pitch", "0.25")
        self.assertEqual(self.job.rooms[0].slope.pitch, 0.25)
        self.choose("living.form", "half")
        self.type_into("living.low", "4 ft")
        self.assertAlmostEqual(self.job.rooms[0].slope.low_m, 4 * FT)
        self.type_into("living.high", "3 ft")
        self.assertIn("higher than the low side", self.window.status.message)
        self.window.set_lens(2)
        self.settle()
        self.choose("living.form", "flat")
        self.assertIsNone(self.job.rooms[0].slope)

    def test_a_storey_goes_into_the_ground(self):
        self.window.select("storey-card", "ground")
        self.settle()
        self.type_into("ground.z", "-4 ft")
        self.assertTrue([w for w in self.view.r.geometry.walls if w.other == "ground"])
        self.window.select("wall", "living/3")
        self.settle()
        self.type_into("living/3.grade", "0")
        self.assertFalse(
            [w for w in self.view.r.geometry.walls if w.other == "ground" and (w.room, w.wall) == (0, 3)]
        )

    def test_structure_of_a_storey(self):
        self.window.select("storey-card", "ground")
        self.settle()
        self.choose("ground.ceiling.kind", "open_web")
        self.type_into("ground.ceiling.depth", "16 in")
        self.choose("ground.ceiling.runs", "y")
        made = self.job.storeys[0].ceiling_structure
        self.assertEqual((made.kind, made.runs), ("open_web", "y"))
        self.assertAlmostEqual(made.depth_m, 16 * 0.0254)
        self.choose("ground.ceiling.kind", "")
        self.assertIsNone(self.job.storeys[0].ceiling_structure)

    def test_every_card_of_every_thing_draws_in_both_units_and_themes(self):
        for demo in ("bungalow", "narrow"):
            self.window.document.stack.setClean()
            self.window.doing.files.open_demo(demo)
            self.settle()
            things = [("house", "house"), *(("storey-card", s.id) for s in self.job.storeys)]
            things += [("construction", c.id) for c in self.job.constructions[:6]]
            things += [("layer", f"{c.id}/0") for c in self.job.constructions[:6]]
            for kind, collection in (
                ("place", "places"),
                ("keep", "keep_clear"),
                ("furniture", "furniture"),
                ("existing", "existing"),
                ("patch", "patches"),
                ("opening", "openings"),
            ):
                things += [(kind, x.id) for x in getattr(self.job, collection)]
            for units, dark in (("ip", False), ("si", True)):
                self.window.prefs.set(units=units, dark=dark)
                for kind, item in things:
                    self.window.select(kind, item)
                    self.assertTrue(self.card.title, (kind, item))
                    self.assertFalse(self.window.card.grab().isNull())
                    shown = " ".join([self.card.title, self.card.hero_note, *(h[0] for h in self.card.hero)])
                    self.assertNotIn("nan", shown.casefold().replace("finance", ""))

    def test_a_house_is_put_on_an_unheated_basement_and_back(self):
        before = self.job
        self.window.select("house", "house")
        self.settle()
        self.choose("house.ground", "basement")
        self.settle()
        self.assertEqual(self.job.foundation, "basement")
        self.assertGreater(sum(self.view.r.geometry.floors_m2["basement"]), 90)
        self.assertIn("basement", self.view.r.balance.buffer_keys)
        self.assertLess(self.view.r.loads.house_heating_w, 1.05 * demo_results().loads.house_heating_w)
        self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.settle()
        self.assertEqual(self.job, before)

    def test_leakage_by_blower_door_or_class(self):
        before = self.job
        self.window.select("house", "house")
        self.settle()
        self.type_into("house.cfm50", "1500")
        self.settle()
        self.assertAlmostEqual(self.job.leakage.ach50, 1500 * 60 / (self.view.r.geometry.total_volume_m3 / 0.3048**3))
        self.assertTrue(self.job.leakage.measured)
        self.choose("house.leak_class", "loose")
        self.settle()
        self.assertEqual((self.job.leakage.ach50, self.job.leakage.measured), (12.0, False))
        for _ in range(2):
            self.key("z", Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.job, before)

    def test_a_garage_says_how_hot_it_gets_on_the_design_day(self):
        self.window.select("space", self.job.spaces[0].id)
        self.settle()
        rows = next(x for x in self.card.sections if isinstance(x, List_) and x.title == "How warm it gets").rows
        day = self.view.r.balance
        hottest = day.buffer_c(self.job.spaces[0].id).max()
        self.assertRegex(rows[1].label, r"^Hottest, 21 \w{3}, \d+:00$")
        self.assertEqual(rows[1].value, self.view.num("temperature", float(hottest)))

    def test_surveyed_room_rows_and_findings_lead_to_their_cards(self):
        self.window.document.stack.setClean()
        self.window.doing.files.open_demo("bungalow")
        self.settle()
        finding = next(f for f in self.view.r.findings if f.rule.id == "shell-assumed")
        self.window.go_finding(finding)
        self.settle()
        self.assertEqual(self.card.title, "6 Coltsfoot Close")


class Survey(WindowTest):
    def ft(self, x, y):
        return self.at_m(x * FT, y * FT)

    def tool(self, letter):
        self.window.plan.setFocus()
        self.key(letter)

    def test_a_place_for_equipment_and_floor_to_keep_clear(self):
        self.tool("n")
        self.assertEqual(self.window.station.lens_index, 3)
        self.drag(self.window.plan, self.ft(30, 16), self.ft(36, 20))
        place = self.job.places[0]
        self.assertEqual(self.card.kicker.split(" · ")[0], "Place for equipment")
        self.choose(f"{place.id}.slope", "start")
        self.type_into(f"{place.id}.low", "2 ft")
        self.type_into(f"{place.id}.pitch", "1")
        self.assertAlmostEqual(self.job.places[0].slope.low_m, 2 * FT)
        self.tool("c")
        self.drag(self.window.plan, self.ft(38, 22), self.ft(42, 25))
        self.choose(f"{self.job.keep_clear[0].id}.reason", "panel")
        self.assertIn("electrical code", self.card.hero_note)

    def test_a_bed_is_placed_turned_moved_and_taken_away(self):
        self.window.set_storey("upper")
        self.settle()
        self.tool("f")
        self.drag(self.window.plan, self.ft(6, 19), self.ft(10, 19))
        bed = self.job.furniture[0]
        self.assertEqual((bed.kind, bed.room, bed.turn_deg), ("bed", "bed1", -90.0))
        self.tool("v")
        self.drag(self.window.plan, self.ft(6, 19), self.ft(8, 20))
        self.assertGreater(self.job.furniture[0].position_m[0], bed.position_m[0])
        self.choose(f"{bed.id}.kind", "sofa")
        self.button("thing.remove")
        self.assertEqual(self.job.furniture, ())

    def test_furniture_stands_in_a_room(self):
        self.tool("f")
        self.click(self.window.plan, self.ft(60, 3))
        self.assertEqual(self.job.furniture, ())
        self.assertIn("stands in a room", self.window.status.message)

    def test_what_is_there_with_nameplate_photo_and_caution(self):
        self.tool("e")
        self.click(self.window.plan, self.ft(33, 24))
        item = self.job.existing[0].id
        self.assertEqual(self.app.focusWidget().objectName(), f"field.{item}.name")
        self.type_into(f"{item}.name", "Old furnace")
        self.choose(f"{item}.kind", "furnace")
        self.choose(f"{item}.fuel", "gas")
        self.type_into(f"{item}.nameplate", "Input 80,000")
        self.type_into(f"{item}.year", "1994")
        self.type_into(f"{item}.output_w", "64000")
        thing = self.job.existing[0]
        self.assertEqual((thing.room, thing.year, thing.nameplate), ("utility", 1994, "Input 80,000"))
        self.assertIn("carbon monoxide", self.card.hero_note)
        picture = self.folder / "plate.png"
        QImage(40, 30, QImage.Format.Format_RGB32).save(str(picture))
        self.assertTrue(self.window.doing.house.add_photo(str(picture), item))
        self.settle()
        path = self.folder / "surveyed.murvan"
        self.window.document.save(path)
        again = load_job(path)
        self.assertEqual(again, self.job)
        self.assertEqual(len(again.existing[0].photos), 1)

    def test_a_part_with_the_outdoors_below(self):
        self.tool("o")
        self.drag(self.window.plan, self.ft(0.5, 0.5), self.ft(6, 6))
        self.assertGreater(self.view.r.geometry.floors_m2["outdoors"][0], 2.0)
        self.choose(f"{self.job.patches[0].id}.face", "ceiling")
        self.assertEqual(self.job.patches[0].beyond, "attic")
        self.assertGreater(self.view.r.geometry.ceilings_m2["attic"][0], 2.0)

    def test_a_skylight_is_put_in_and_selected_again(self):
        self.window.set_storey("upper")
        self.settle()
        self.tool("k")
        self.click(self.window.plan, self.ft(22, 20))
        sky = self.job.openings[-1]
        self.assertEqual((sky.kind, sky.tag, sky.room), ("skylight", "S1", "bath"))
        self.type_into(f"{sky.id}.tilt", "30")
        self.assertEqual(self.job.openings[-1].tilt_deg, 30.0)
        self.tool("v")
        self.window.select("room", "bed2")
        self.settle()
        self.click(self.window.plan, self.ft(22, 20))
        self.assertEqual(self.window.document.selection.id, sky.id)

    def test_tags_of_what_is_there_are_hit_where_they_are_drawn(self):
        self.window.document.stack.setClean()
        self.window.doing.files.open_demo("bungalow")
        self.settle()
        self.window.set_lens(3)
        self.settle()
        self.window.plan.repaint()
        for x in self.job.existing:
            rect = thing_layers.TAGS.get(x.id)
            self.assertIsNotNone(rect, x.name)
            at = rect.center().toPoint() + QPoint(0, 0)
            self.click(self.window.plan, at)
            self.assertEqual(self.window.document.selection.id, x.id, x.name)


if __name__ == "__main__":
    unittest.main()
